package clockwork

import (
	"context"

	"uvent/core/rule/rulebook"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store/db"
)

// SaveRulebook puts a rulebook in force, as a new version of a directory's or, where id is empty, as a new directory. Where
// the directory's own interface is, to which records and our account's secret are sent, only an administrator says.
func (d *Desk) SaveRulebook(ctx context.Context, who people.Person, id, text string) (rulebook.Rulebook, error) {
	return d.Shelf.SaveRulebook(ctx, who.Name, id, text, func(q *db.Queries, from, to string) error {
		if !who.May(people.Administer) {
			return &problem.Problem{
				Kind:   problem.Forbidden,
				Detail: "Where a directory’s own interface is only an administrator says, since records are sent there. Leave connector.url as it was, or ask one.",
			}
		}
		return d.Ledger.NoteAbout(ctx, q, who.Actor(), "connector_changed", map[string]string{"directory": id, "from": from, "to": to})
	})
}
