package letters

import (
	"context"

	"uvent/desk/problem"
	"uvent/store/db"
)

// Notice is a letter of a directory.
type Notice = db.Notice

// LooseNotices are letters of directories of which it could not be told which listing
// they are about, the newest first.
func (d *Desk) LooseNotices(ctx context.Context) ([]Notice, error) { return d.store.LooseNotices(ctx) }

// PutNoticeAside says that a letter needs nothing, or takes that back.
func (d *Desk) PutNoticeAside(ctx context.Context, id string, aside bool) error {
	n, err := d.store.PutNoticeAside(ctx, db.PutNoticeAsideParams{ID: id, PutAside: aside})
	if err == nil && n == 0 {
		return &problem.Problem{Kind: problem.NotFound, Detail: "There is no such letter."}
	}
	return err
}
