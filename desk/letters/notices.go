package letters

import (
	"context"
	"time"

	"github.com/google/uuid"

	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Notice is a letter of a directory.
type Notice struct {
	ID          string
	Number      int64
	At          time.Time
	Sender      string
	Subject     string
	Body        string
	DirectoryID *string    // that it comes from; nil: not known
	LocationID  *uuid.UUID // that it is about; nil: not known
	PutAside    bool
}

// LooseNotices are letters of directories of which it could not be told which listing
// they are about, the newest first.
func (d *Desk) LooseNotices(ctx context.Context) ([]Notice, error) {
	return store.Each(func(row db.Notice) Notice { return Notice(row) })(d.store.LooseNotices(ctx))
}

// PutNoticeAside says that a letter needs nothing, or takes that back.
func (d *Desk) PutNoticeAside(ctx context.Context, id string, aside bool) error {
	n, err := d.store.PutNoticeAside(ctx, db.PutNoticeAsideParams{ID: id, PutAside: aside})
	if err == nil && n == 0 {
		return &problem.Problem{Kind: problem.NotFound, Detail: "There is no such letter."}
	}
	return err
}
