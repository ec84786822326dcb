// Package people is who may do what: people with roles, invitations, sign-ins, keys for
// programs.
package people

import (
	"context"
	"sync/atomic"

	"github.com/jackc/pgx/v5"

	"uvent/reach"
	"uvent/sealing"
	"uvent/store"
	"uvent/store/db"
)

// Log keeps what was done.
type Log interface {
	// NoteAbout adds an event that is about no client, in somebody's transaction.
	NoteAbout(ctx context.Context, q *db.Queries, actor Actor, kind string, data any) error
}

// Post sends letters.
type Post interface {
	// Send has a letter sent once the transaction is committed.
	Send(ctx context.Context, tx pgx.Tx, m reach.Mail) error
	// SendSecret is Send for a letter in which a secret is told, which stands nowhere before.
	SendSecret(ctx context.Context, tx pgx.Tx, m reach.Mail, s Secret) error
}

// Desk knows the people. It is safe for concurrent use.
type Desk struct {
	store   *store.Store
	clock   reach.Clock
	ledger  Log
	letters Post
	cost    Cost          // of new passwords
	hashing chan struct{} // taken by those whose password is being hashed
	key     sealing.Key
	address atomic.Pointer[string] // where people reach this server
}

// New makes a desk that notes what is done in a log, and invites by post. cost is what guessing a
// new password is to cost; key seals what only this server may read.
func New(s *store.Store, clock reach.Clock, log Log, post Post, cost Cost, key sealing.Key) *Desk {
	return &Desk{store: s, clock: clock, ledger: log, letters: post, cost: cost, hashing: make(chan struct{}, mostHashing), key: key}
}
