package clockwork

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store"
)

// Move is how far a demo's clock is to go.
type Move struct {
	Day       bool       // by 24 hours
	NextEvent bool       // to whatever falls due next, here or outside
	To        *time.Time // to a moment
}

// mostMove bounds how far the clock goes at once.
const mostMove = 400 * 24 * time.Hour

// MoveClock moves the clock that a demo shares with the outside. It stops at
// each thing that falls due on the way, here or there, and lets it be done, so
// that a week that is jumped over is a week in which the same things happened.
func (d *Desk) MoveClock(ctx context.Context, m Move) error {
	shared, ok := d.clock.(*reach.SharedClock)
	if !ok {
		return problem.Conflictf("Only a demo’s clock can be moved; this one is the real one.")
	}
	outside, err := shared.Sync(ctx)
	if err != nil {
		return err
	}
	next, err := d.nextDue(ctx, outside)
	if err != nil {
		return err
	}
	var target time.Time
	switch {
	case m.Day:
		target = d.clock.Now().Add(24 * time.Hour)
	case m.NextEvent && next == nil:
		return problem.Conflictf("Nothing is due, so there is no next event to move to.")
	case m.NextEvent:
		target = *next
	case m.To != nil:
		target = *m.To
	default:
		return &problem.Problem{Kind: problem.Invalid, Detail: "Say how far: by a day, to the next event, or to a moment."}
	}
	switch ahead := target.Sub(d.clock.Now()); {
	case ahead < -time.Second && !m.NextEvent:
		return &problem.Problem{Kind: problem.Invalid, Detail: "The clock only goes forward."}
	case ahead > mostMove:
		return &problem.Problem{Kind: problem.Invalid, Detail: "The clock goes at most 400 days at once."}
	}
	for {
		stop := target
		if next != nil && next.Before(target) {
			stop = *next
		}
		if outside, err = shared.Move(ctx, stop); err != nil {
			return err
		}
		if err := d.settle(ctx); err != nil {
			return err
		}
		if !stop.Before(target) {
			break
		}
		if next, err = d.nextDue(ctx, outside); err != nil {
			return err
		}
	}
	d.Wake()
	return store.Notify(ctx, d.store.Queries, store.Change{Clock: true})
}

// nextDue is the earlier of what falls due here and outside.
func (d *Desk) nextDue(ctx context.Context, outside *time.Time) (*time.Time, error) {
	if digest, err := d.store.NextDigest(ctx, d.clock.Now()); err == nil && (outside == nil || digest.Before(*outside)) {
		outside = &digest
	}
	ours, err := d.store.NextDeadline(ctx)
	switch {
	case err == pgx.ErrNoRows:
		return outside, nil
	case err != nil:
		return nil, err
	case outside == nil || ours.Before(*outside):
		return &ours, nil
	}
	return outside, nil
}

// patience is how long the clock waits for what is under way while none of it gets done.
const patience = 10 * time.Second

// settle does what is due and waits until it is done, though not for a
// directory that does not answer.
func (d *Desk) settle(ctx context.Context) error {
	left := int32(0)
	for deadline := time.Now().Add(patience); ; {
		if err := d.tick(ctx); err != nil {
			return err
		}
		now, err := d.store.UnderWay(ctx, d.clock.Now())
		if err != nil {
			return err
		}
		if now.Busy == 0 && !now.Due {
			// What was answered is written about, and leads to more.
			if read, err := d.Listings.ReadMail(ctx, d.Owners.Wrote); err != nil || read == 0 {
				return err
			}
		}
		switch {
		case now.Busy != left:
			left, deadline = now.Busy, time.Now().Add(patience)
		case time.Now().After(deadline):
			return nil
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(2 * time.Millisecond):
		}
	}
}

// Demo reports whether the clock is a demo's, which can be moved.
func (d *Desk) Demo() bool {
	_, shared := d.clock.(*reach.SharedClock)
	return shared
}

// Watch tells of every change that any server commits, as JSON, while the desk runs. leave ends it.
func (d *Desk) Watch() (changes <-chan string, leave func()) { return d.store.Watch() }
