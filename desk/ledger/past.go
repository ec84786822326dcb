package ledger

import (
	"context"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
)

// Past counts our own tries by directory and method.
func (d *Desk) Past(ctx context.Context) (map[string]map[rulebook.MethodName]verification.Past, error) {
	rows, err := d.store.EndedAttempts(ctx)
	if err != nil {
		return nil, err
	}
	out := map[string]map[rulebook.MethodName]verification.Past{}
	for _, r := range rows {
		if out[r.DirectoryID] == nil {
			out[r.DirectoryID] = map[rulebook.MethodName]verification.Past{}
		}
		p := out[r.DirectoryID][rulebook.MethodName(r.Method)]
		ended, won := verification.Attempt{State: verification.AttemptState(r.State)}.Ended()
		switch {
		case ended && won:
			p.Won += int(r.Count)
		case ended:
			p.Lost += int(r.Count)
		}
		out[r.DirectoryID][rulebook.MethodName(r.Method)] = p
	}
	return out, nil
}
