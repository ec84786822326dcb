package listings

import (
	"context"

	"uvent/core/listing/cases"
	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/store/db"
)

// Heard is how what we asked a directory for was decided.
type Heard struct {
	Holders, Deciders, Suggestions []cases.Heard
}

// HeardOf is that of one directory, as far as it is kept.
func HeardOf(ctx context.Context, q *db.Queries, book *rulebook.Rulebook) (out Heard, err error) {
	rows, err := q.Decided(ctx, &book.ID)
	for _, r := range rows {
		h := cases.Heard{Granted: r.Granted}
		if r.Evidence != "" {
			h.Kinds = []string{r.Evidence}
		}
		switch verification.Kind(r.Asked) {
		case verification.AccessAsked{}.Kind():
			out.Holders = append(out.Holders, h)
		case verification.EscalateAsked{}.Kind():
			out.Deciders = append(out.Deciders, h)
		case verification.SuggestAsked{}.Kind():
			out.Suggestions = append(out.Suggestions, h)
		}
	}
	return out, err
}
