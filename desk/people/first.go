package people

import (
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/store"
	"uvent/store/db"
)

// firstFor is how long the first administrator has to come in.
const firstFor = 24 * time.Hour

// InviteFirst makes a private address at which the first administrator says who they are; empty where there is somebody
// already. It is told to whoever started the server, and can be used until somebody is there.
func (d *Desk) InviteFirst(ctx context.Context) (address string, err error) {
	nobody, err := d.NobodyYet(ctx)
	if err != nil || !nobody {
		return "", err
	}
	id := uuid.New()
	secret := d.SecretOf(Secret{ForInvitation, id.String()})
	now := d.clock.Now()
	_, err = d.store.AddInvitation(ctx, db.AddInvitationParams{
		ID: id, Hash: HashOf(secret), Role: string(Administrator), InvitedBy: "Uvent", At: now, Expires: now.Add(firstFor),
	})
	return d.Address() + "/invitation/" + secret, err
}

// stillNobody refuses a second first administrator.
func (d *Desk) stillNobody(ctx context.Context, q *db.Queries, tx pgx.Tx) error {
	if err := store.LockFirst(ctx, tx); err != nil {
		return err
	}
	if nobody, err := q.NobodyYet(ctx); err != nil || !nobody {
		if err == nil {
			err = errNoInvitation
		}
		return err
	}
	return nil
}
