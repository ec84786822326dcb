package owners

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"uvent/core/fact/language"
	"uvent/core/listing/verification"
	"uvent/core/record/paper"
	"uvent/core/rule/film"
	"uvent/core/rule/rulebook"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/problem"
	"uvent/store/db"
)

// Through is what an owner answers through: a page, one of the things on it, and the language that they read it in.
type Through struct {
	Secret string
	Thing  uuid.UUID
	In     string
}

// OwnerCode gives the code that an owner has typed to the directory.
func (d *Desk) OwnerCode(ctx context.Context, by Through, code string) error {
	t, err := d.openLink(ctx, by, verification.TypeCode, verification.TakeCall)
	if err != nil {
		return err
	}
	link := t.link
	at := ledger.Place{Location: link.LocationID, Directory: link.DirectoryID}
	call, err := d.listings.EnterCode(ctx, ownerActor, at, link.Attempt, code)
	if err != nil {
		return err
	}
	if done, err := d.ledger.Await(ctx, call); err != nil || !done {
		return err // its answer is shown when it comes
	}
	_, st, err := d.ledger.Begun(ctx, at)
	if err != nil || st.VerifiedAt == nil && st.Verification != verification.InReview {
		return err
	}
	return d.finishLink(ctx, link)
}

func (d *Desk) finishLink(ctx context.Context, link OwnerLink) error {
	return d.ledger.Change(ctx, ownerActor, ledger.Place{Location: link.LocationID, Directory: link.DirectoryID}, func(l *ledger.Listing) error {
		_, err := l.Q.FinishOwnerLink(ctx, db.FinishOwnerLinkParams{ID: link.ID, DoneAt: &l.Now})
		return err
	})
}

// OwnerPaper takes in the paper that an owner has sent.
func (d *Desk) OwnerPaper(ctx context.Context, by Through, name string, data []byte) error {
	t, err := d.openLink(ctx, by, verification.SendPaper)
	if err != nil {
		return err
	}
	done, err := d.reads(t.ID)
	if err != nil {
		return err
	}
	defer done()
	in, err := d.files.ReadPaper(ctx, name, data)
	if err != nil {
		return err
	}
	return d.ledger.Change(ctx, ownerActor, t.at(), func(l *ledger.Listing) error {
		_, err := d.takePaper(ctx, l, t, in, "")
		return err
	})
}

// takePaper keeps a paper that an owner has sent, judges it and has it be noticed; way is how it came, where that is not by their page.
func (d *Desk) takePaper(ctx context.Context, l *ledger.Listing, t thing, in files.Incoming, way string) (verification.OwnerSent, error) {
	return d.sent(ctx, l, t.link, in, func(sent files.Paper) verification.OwnerSent {
		what := "a paper"
		if title := paper.Title(sent.Kind); title != "" {
			what = "the " + strings.ToLower(title)
		}
		e := verification.OwnerSent{Paper: sent.ID.String(), What: what + way}
		e.Doubts, e.Told, e.Claims = minded(l, sent, t.about.In)
		return e
	})
}

// minded is what a directory is likely to mind in a paper that an owner has sent, in sentences for us and for the owner, and
// what the owner may say to it.
func minded(l *ledger.Listing, sent files.Paper, in language.Language) (doubts, told, claims []string) {
	if kinds := l.State.PapersTaken(l.Book); sent.Words != "" && !slices.Contains(kinds, sent.Kind) {
		return []string{"It is none of the papers that " + l.Book.Name + " takes."}, []string{in.Say("minded.kind", "directory", l.Book.Name)}, nil
	}
	for _, f := range files.Minded(sent, l.Where.Record, l.Now) {
		doubts, told = append(doubts, f.Says), append(told, f.ToOwner(in))
		if claim := f.Claim(in); claim != "" {
			claims = append(claims, claim)
		}
	}
	return doubts, told, claims
}

// What an owner may say instead of doing a thing, as it is told to us.
const (
	NoCard = "no_card" // the card cannot be found
	NoCall = "no_call" // the call has not come
)

// OwnerSays takes what an owner says instead of doing a thing: that what was to come did not, or one of the claims that they
// were offered about a paper. It changes nothing by itself: somebody looks at it.
func (d *Desk) OwnerSays(ctx context.Context, by Through, what string) error {
	t, err := d.openLink(ctx, by, verification.TypeCode, verification.TakeCall, verification.SendPaper)
	if err != nil {
		return err
	}
	says := ""
	switch {
	case what == t.Instead && what == NoCard:
		says = "I cannot find the card."
	case what == t.Instead && what == NoCall:
		says = "The call has not come."
	case t.Sent != nil && slices.Contains(t.Sent.Claims, what):
		says = what + "."
	default:
		return &problem.Problem{Kind: problem.Invalid, Detail: "That cannot be said here."}
	}
	return d.ledger.Change(ctx, ownerActor, t.at(), func(l *ledger.Listing) error {
		if f := l.State.FromOwner; f != nil && f.Says == says && f.Task == t.Task {
			return nil // it was said already
		}
		return l.Add(ctx, verification.OwnerSaid{Task: t.Task, Says: says})
	})
}

// sent keeps what an owner has sent, has it be noticed, and ends the page where nothing speaks against it: else the owner may
// send something better.
func (d *Desk) sent(
	ctx context.Context, l *ledger.Listing, link OwnerLink, in files.Incoming, what func(sent files.Paper) verification.OwnerSent,
) (e verification.OwnerSent, err error) {
	kept, err := d.files.Keep(ctx, l.Q, ownerActor, files.Owner{Client: l.Where.ClientID, Location: &link.LocationID}, in)
	if err != nil {
		return e, err
	}
	e = what(kept)
	if e.Task = verification.OwnerTask(link.Kind); len(e.Doubts) == 0 {
		if _, err := l.Q.FinishOwnerLink(ctx, db.FinishOwnerLinkParams{ID: link.ID, DoneAt: &l.Now}); err != nil {
			return e, err
		}
	}
	return e, l.Add(ctx, e)
}

// reads lets one file at a time be read for a link, and tells how to end that.
func (d *Desk) reads(link uuid.UUID) (done func(), err error) {
	if _, read := d.reading.LoadOrStore(link, true); read {
		return nil, &problem.Problem{
			Kind:   problem.TooMany,
			After:  5 * time.Second,
			Detail: "Another file that you sent is still being read. Wait a moment, then send this one.",
		}
	}
	return func() { d.reading.Delete(link) }, nil
}

// OwnerVideo takes in the video that an owner has sent.
func (d *Desk) OwnerVideo(ctx context.Context, by Through, name string, data []byte, seen film.Seen) error {
	t, err := d.openLink(ctx, by, verification.FilmIt)
	if err != nil {
		return err
	}
	done, err := d.reads(t.ID)
	if err != nil {
		return err
	}
	defer done()
	in, err := d.files.ReadVideo(ctx, name, data, seen)
	if err != nil {
		return err
	}
	return d.ledger.Change(ctx, ownerActor, t.at(), func(l *ledger.Listing) error {
		_, err := d.sent(ctx, l, t.link, in, func(sent files.Paper) verification.OwnerSent {
			e := verification.OwnerSent{Paper: sent.ID.String(), What: fmt.Sprintf("a video of %.0f seconds", sent.Film.Seconds)}
			if m, ok := l.Book.Way(rulebook.Video); ok {
				e.Doubts, e.Told = sent.Film.Doubts(m.Film, language.English), sent.Film.Doubts(m.Film, t.about.In)
			}
			return e
		})
		return err
	})
}

// OwnerPays has a directory charge the card of an owner who has confirmed that.
func (d *Desk) OwnerPays(ctx context.Context, by Through) error {
	t, err := d.openLink(ctx, by, verification.PayByCard)
	if err != nil {
		return err
	}
	offered, err := d.listings.Offered(ctx, t.at(), offersWithin)
	if err != nil {
		return err
	}
	return d.ledger.Change(ctx, ownerActor, t.at(), func(l *ledger.Listing) error {
		payer := listings.Insisting{Payer: cmp.Or(l.Client.OwnerName, "the owner")}
		if _, err := d.listings.AskIn(ctx, l, rulebook.Card, offered, payer); err != nil {
			return err
		}
		_, err := l.Q.FinishOwnerLink(ctx, db.FinishOwnerLinkParams{ID: t.ID, DoneAt: &l.Now})
		return err
	})
}

// OwnerTime notes when an owner wants to be called. It can be changed until the call.
func (d *Desk) OwnerTime(ctx context.Context, by Through, at time.Time) error {
	t, err := d.openLink(ctx, by, verification.TakeCall)
	if err != nil {
		return err
	}
	return d.ledger.Change(ctx, ownerActor, t.at(), func(l *ledger.Listing) error {
		if !verification.CallTime(l.Where.Record, at, l.Now) {
			return problem.Conflictf("That time is not open any more. Choose another.")
		}
		if err := l.Q.SetOwnerCall(ctx, db.SetOwnerCallParams{ID: t.ID, CallAt: &at}); err != nil {
			return err
		}
		zone := verification.ZoneOf(l.Where.Record, l.Book)
		return l.Add(
			ctx,
			verification.CallChosen{Says: fmt.Sprintf("Wants to be called %s at %s.", verification.When(at, l.Now, zone), verification.Clock(at, zone))},
		)
	})
}
