package boards

import (
	"context"
	"strings"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/reckon/agenda"
	"uvent/core/rule/rulebook"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/rounds"
)

// proposeSends lists the listings of a scope to which something is to be sent, with what that
// is likely to set off.
func (d *Desk) proposeSends(ctx context.Context, s ledger.Scope) ([]Proposed, error) {
	locations, clients := map[uuid.UUID]*ledger.Location{}, map[uuid.UUID]*ledger.Client{}
	rows, err := d.records.Locations(ctx, s)
	if err != nil {
		return nil, err
	}
	steps, err := d.rounds.StepsNow(ctx, d.store.Reading(ctx), rows)
	if err != nil {
		return nil, err
	}
	for i := range rows {
		locations[rows[i].ID] = &rows[i]
	}
	all, err := d.records.Clients(ctx)
	if err != nil {
		return nil, err
	}
	for i := range all {
		clients[all[i].ID] = &all[i]
	}
	if err := d.rounds.Warn(ctx, steps, func(id uuid.UUID) ledger.Location { return *locations[id] }); err != nil {
		return nil, err
	}
	seen := map[ledger.Place]bool{}
	out := []Proposed{}
	for _, step := range steps {
		if seen[step.Place] {
			continue // a listing takes one step at a time
		}
		seen[step.Place] = true
		l := locations[step.Place.Location]
		p := Proposed{Cell: Cell{Place: step.Place, Book: step.Book, Location: l, Client: clients[l.ClientID]}, Says: step.Says}
		switch {
		case step.Busy:
			p.Why = "It is being asked just now."
		case !step.Act.ByProgram():
			p.Why = "A person has to do it. " + step.Says
		case step.Final:
			p.Why = "It cannot be taken back there; do it from the location’s plan."
		case !step.Now:
			p.Why = strings.ToUpper(step.After[:min(1, len(step.After))]) + step.After[min(1, len(step.After)):] + "."
		}
		out = append(out, p)
	}
	return out, nil
}

// Proposed is a listing that a round could take up, or an exception.
type Proposed struct {
	Cell
	Way  verification.Way // of verification; none for another round
	Says string           // what would be done, and what that is likely to set off; none for another than ToSend
	Why  string           // why it cannot be taken up; empty where it can
}

// ProposeRound lists what a round would do in a scope, and the exceptions that somebody
// has to look at.
func (d *Desk) ProposeRound(ctx context.Context, s ledger.Scope, what rounds.RoundOf) ([]Proposed, error) {
	if what == rounds.ToSend {
		return d.proposeSends(ctx, s)
	}
	cells, err := d.cells(ctx, s, inWork)
	if err != nil {
		return nil, err
	}
	past, err := d.ledger.Past(ctx)
	if err != nil {
		return nil, err
	}
	papers, err := d.files.AllPapers(ctx)
	if err != nil {
		return nil, err
	}
	out, now := []Proposed{}, d.clock.Now()
	for _, c := range cells {
		if c.NotFor != "" || c.State.Busy != "" {
			continue
		}
		p, byProgram := Proposed{Cell: c}, c.Book.Connector.URL != ""
		switch what {
		case rounds.ToSearch:
			if c.State.Control != verification.NoControl || c.State.SearchedAt != nil || c.Book.Worked == rulebook.File {
				continue
			}
			if !byProgram {
				p.Why = "It is searched by hand; its page says how."
			}
		case rounds.ToVerify:
			if !byProgram || c.State.Control != verification.Held || c.State.VerifiedAt != nil || c.State.UnderWay() != nil {
				continue
			}
			ways := verification.Ways(
				verification.Question{
					Book:   *c.Book,
					Record: c.Location.Record,
					State:  c.State,
					Now:    now,
					Papers: files.PapersFor(papers.Of(c.Location), c.Location.Record, now),
					Past:   past[c.Book.ID],
				},
			)
			if p.Way, p.Why = verification.BestUnattended(ways, c.Client.OwnerEmail != ""); c.Task != nil && c.Task.Kind == agenda.OwnerAsked {
				p.Why = c.Task.Title + "."
			}
		default:
			return nil, rounds.NoSuchRound()
		}
		out = append(out, p)
	}
	return out, nil
}
