package people

import (
	"context"
	"fmt"
	"math"
	"time"

	"uvent/desk/problem"
	"uvent/store/db"
)

// try is something that is tried, and how often it may be got wrong. Guards against guessing run on real time, whatever a
// demo's clock says.
type try struct {
	key  string
	free int32         // wrong ones before there is a wait
	most time.Duration // the longest wait; each is twice as long as the one before it
}

func tryAt(email, address string) try {
	return try{"at " + email + " from " + address, 4, 15 * time.Minute}
}
func tryFrom(address string) try { return try{"from " + address, 50, 15 * time.Minute} }

// tryAnywhere slows those down who try at one email from many addresses. Its waits are short, since it could be used to keep
// somebody out; whose browser is known is not kept out by it.
func tryAnywhere(email string) try { return try{"at " + email, 50, 30 * time.Second} }
func tryInBrowser(hash []byte) try { return try{fmt.Sprintf("browser %x", hash), 4, 15 * time.Minute} }
func tryOf(what string, who Person) try {
	return try{what + " " + who.ID.String(), 4, 15 * time.Minute}
}
func tryReset(email string) try       { return try{"reset " + email, 2, 6 * time.Hour} }
func tryResetFrom(address string) try { return try{"reset from " + address, 20, time.Hour} }

// reserve counts a try as failed before it is known whether it is, so that many at once are not more than so many. The
// problem is TooMany while none may be made.
func (d *Desk) reserve(ctx context.Context, tries ...try) error {
	now := time.Now()
	for i, t := range tries {
		_, err := d.store.ReserveTry(ctx, db.ReserveTryParams{Key: t.key, Now: now, Free: t.free, MostSeconds: int32(t.most.Seconds())})
		if err == nil {
			continue
		}
		if problem.IgnoreNoRows(err) != nil {
			return err
		}
		if err := d.takeBack(ctx, tries[:i]...); err != nil { // they were not made
			return err
		}
		tried, err := d.store.Tried(ctx, t.key)
		if err != nil {
			return problem.IgnoreNoRows(err)
		}
		wait := time.Duration(math.Pow(2, float64(min(tried.Failed-t.free, 20)))) * time.Second
		wait = max(time.Second, tried.Last.Add(min(wait, t.most)).Sub(now))
		return &problem.Problem{Kind: problem.TooMany, After: wait, Detail: "That was tried too often. Wait " + waiting(wait) + ", then try again."}
	}
	return nil
}

// takeBack counts a try no longer.
func (d *Desk) takeBack(ctx context.Context, tries ...try) error {
	for _, t := range tries {
		if err := d.store.TakeBackTry(ctx, t.key); err != nil {
			return err
		}
	}
	return nil
}

// succeeded forgets what was got wrong before; but what others got wrong from the same place stays.
func (d *Desk) succeeded(ctx context.Context, tries ...try) error {
	if len(tries) == 0 {
		return nil
	}
	keys := make([]string, len(tries))
	for i, t := range tries {
		keys[i] = t.key
	}
	return d.store.ForgetTries(ctx, keys)
}

func waiting(d time.Duration) string {
	switch s := int(math.Ceil(d.Seconds())); {
	case s == 1:
		return "1 second"
	case s < 100:
		return fmt.Sprintf("%d seconds", s)
	}
	return fmt.Sprintf("%d minutes", int(math.Ceil(d.Minutes())))
}
