package reach

import (
	"context"
	"math"
	"net/http"
	"sync/atomic"
	"time"
)

// Clock tells the time.
type Clock interface{ Now() time.Time }

// RealClock is the machine's.
type RealClock struct{}

// Now is the machine's time.
func (RealClock) Now() time.Time { return time.Now() }

// SharedClock follows the clock of the outside, which a demo moves by hand.
type SharedClock struct {
	reach *Reach
	ahead atomic.Int64 // nanoseconds; it only grows
}

// Follow reads the outside's clock and returns one that keeps with it from
// then on by its own running, and by Sync.
func (r *Reach) Follow(ctx context.Context) (*SharedClock, error) {
	c := &SharedClock{reach: r}
	c.ahead.Store(math.MinInt64)
	_, err := c.Sync(ctx)
	return c, err
}

// Now is the shared time, to the microsecond that the database keeps.
func (c *SharedClock) Now() time.Time {
	return time.Now().Add(time.Duration(c.ahead.Load())).Truncate(time.Microsecond)
}

// forward sets the clock to what the outside's showed, never back: an answer that was under way while the
// clock was moved tells an hour that has passed.
func (c *SharedClock) forward(to time.Time) {
	for {
		ahead, was := int64(time.Until(to)), c.ahead.Load()
		if ahead <= was || c.ahead.CompareAndSwap(was, ahead) {
			return
		}
	}
}

type clockJSON struct {
	Now  time.Time  `json:"now"`
	Next *time.Time `json:"next"`
}

// Sync reads the outside's clock again and tells when something falls due
// there next; nil when nothing does.
func (c *SharedClock) Sync(ctx context.Context) (next *time.Time, err error) {
	var out clockJSON
	if err := c.reach.Ask(ctx, http.MethodGet, c.reach.outside+"/clock", "", nil, &out); err != nil {
		return nil, err
	}
	c.forward(out.Now)
	return out.Next, nil
}

// Move sets the outside's clock forward. What falls due there by then has
// happened when it returns.
func (c *SharedClock) Move(ctx context.Context, to time.Time) (next *time.Time, err error) {
	var out clockJSON
	if err := c.reach.Ask(ctx, http.MethodPost, c.reach.outside+"/clock", "", map[string]time.Time{"to": to}, &out); err != nil {
		return nil, err
	}
	c.forward(out.Now)
	return out.Next, nil
}
