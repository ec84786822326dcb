package people

import (
	"context"

	"uvent/core/record/record"
	"uvent/desk/problem"
	"uvent/store/db"
)

// SetDigest says at which minute of the day somebody is written to, by the clock of their
// zone; nil: never.
func (d *Desk) SetDigest(ctx context.Context, who Person, minute *int32) error {
	if minute != nil && (*minute < 0 || *minute > 1439) {
		return problem.Fields([]record.Problem{{Path: "minute", Message: "a day has the minutes 0 to 1439"}})
	}
	return d.store.SetDigest(ctx, db.SetDigestParams{ID: who.ID, DigestMinute: minute})
}
