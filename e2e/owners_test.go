package e2e

import (
	"cmp"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/demo/paint"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/owners"
	"uvent/desk/records"
	"uvent/e2e/browser"
	"uvent/e2e/rig"
)

// errand is what one owner does on a phone, over some days, and what is then to be done on both sides.
type errand struct {
	name      string
	directory string
	task      verification.OwnerTask
	first     func(p *browser.Tab, e *errand) error // on the first day
	soon      func(p *browser.Tab, e *errand) error // two days on
	later     func(p *browser.Tab, e *errand) error // once the card is there
	last      func(p *browser.Tab, e *errand) error // once it has lapsed
	ours      string                                // what we are told to do then, of the place

	at      ledger.Place
	street  string
	address string
	made    owners.MadeLink
}

// all does one thing after another until one does not work.
func all(steps ...error) error { return cmp.Or(steps...) }

// Ten owners at once on phones, each with something that goes wrong: each ends in a next step for them, and in one for us.
func TestTenOwners(t *testing.T) {
	s := open(t, "fernlook", "waywren")
	r, ctx := s.rig, t.Context()
	folder := t.TempDir()
	dark := filepath.Join(folder, "dark.mp4")
	s.do(os.WriteFile(dark, rig.Shoot(t, "color=c=0x080808:size=640x360:rate=1:duration=30", "sine=frequency=300:duration=30"), 0o600))
	wrong := func(p *browser.Tab, e *errand, says string) error {
		code, err := r.World.Code(ctx, e.street)
		if err != nil {
			return err
		}
		return all(p.Type("The code, 6 digits", fmt.Sprintf("%c%s", '0'+(code[0]-'0'+1)%10, code[1:])), p.Press("Send the code"), p.See(says))
	}
	right := func(p *browser.Tab, e *errand) error {
		code, err := r.World.Code(ctx, e.street)
		if err != nil {
			return err
		}
		return all(p.Type("The code, 6 digits", code), p.Press("Send the code"), p.See("Thank you, that is all"), p.See("Answered today at"))
	}
	paper := func(p *browser.Tab, e *errand) error {
		file := filepath.Join(folder, e.made.ID.String()+".pdf")
		return all(
			os.WriteFile(file, paint.Letter("Sound County Electric", "Utility bill, November 2026", "Spokeshave Cycle Works", e.street+", Suite B"), 0o600),
			p.Upload("owner-paper-"+e.made.ID.String(), file), p.Press("Send the paper"),
			p.See("It names Suite B, and the listing does not."), p.See("Waywren would refuse it."), p.Press("We are in Suite B"), p.See("has been told"),
		)
	}
	film := func(p *browser.Tab, _ *errand) error {
		steps := []error{p.Upload("film-file", dark), p.Until(`document.querySelector(".film-player").readyState >= 2`)}
		steps = append(steps, p.Until(`[...document.querySelectorAll(".film-part button")].map(b => b.click()).length === 3`), p.See("at second 0"))
		return all(append(steps, p.Tick("Nothing private is in it: no customers, no papers, no screens"), p.Press("Send the video"),
			p.See("It is too dark to see what it shows. Film it by day, or with the lights on."))...)
	}
	call := func(p *browser.Tab, e *errand) error {
		first := `document.querySelector(".owner-times button")`
		return all(p.Until(`(`+first+`?.click(), !!`+first+` || document.body.innerText.includes("The call comes"))`), p.See("The call comes"))
	}
	errands := []*errand{
		{name: "another suite", directory: "waywren", task: verification.SendPaper, first: paper, ours: "They say: “We are in Suite B.”"},
		{name: "another suite too", directory: "waywren", task: verification.SendPaper, first: paper, ours: "They say: “We are in Suite B.”"},
		{name: "a dark film", task: verification.FilmIt, first: film, ours: "It is too dark to see what it shows."},
		{name: "a dark film too", task: verification.FilmIt, first: film, ours: "It is too dark to see what it shows."},
		{name: "a code too late", task: verification.TypeCode, ours: "The code by postcard stopped working on", last: func(p *browser.Tab, e *errand) error {
			return all(p.Open(e.address), p.See("This code stopped working on"), p.See("Ines Roake has been told, and asks for another."))
		}},
		{name: "a wrong code thrice", task: verification.TypeCode, ours: "No tries are left for the code by postcard.", later: func(p *browser.Tab, e *errand) error {
			return all(
				p.Open(e.address),
				wrong(p, e, "2 tries are left"),
				wrong(p, e, "One try is left"),
				wrong(p, e, "No tries are left for this code. Ines Roake has been told"),
			)
		}},
		{name: "a second person", task: verification.TypeCode, ours: "", later: func(p *browser.Tab, e *errand) error {
			second, stop, err := browser.Start(ctx)
			if err != nil {
				return err
			}
			defer stop()
			return all(second.Resize(360, 740), second.Open(e.address), second.See("The code, 6 digits"), p.Open(e.address), right(p, e),
				second.Type("The code, 6 digits", "123456"), second.Press("Send the code"), second.See("Answered today at"))
		}},
		{
			name:  "a call that is missed",
			task:  verification.TakeCall,
			first: call,
			ours:  "the page was opened, and nothing came yet",
			soon: func(p *browser.Tab, e *errand) error {
				return all(p.Open(e.address), p.See("Nobody typed its code in time. Choose another time."), p.See("More times"))
			},
		},
		{name: "a card that is lost", task: verification.TypeCode, ours: "I cannot find the card.", later: func(p *browser.Tab, e *errand) error {
			return all(p.Open(e.address), p.Press("I cannot find the card"), p.See("“I cannot find the card.” Ines Roake has been told."))
		}},
		{name: "all well", task: verification.TypeCode, ours: "", later: func(p *browser.Tab, e *errand) error {
			return all(p.Open(e.address), p.See("please do not throw it away"), right(p, e))
		}},
	}
	for i, e := range errands {
		e.directory = cmp.Or(e.directory, "fernlook")
		rec := rig.Shop(fmt.Sprint("Town ", i))
		e.street = fmt.Sprint(18+i, " Tern Street")
		rec.Address.Street, rec.Phones[0].E164 = e.street, fmt.Sprintf("+1360555%04d", 142+i)
		c, err := r.Desk.Records.AddClient(ctx, r.Who.Actor(), records.ClientFacts{
			Name: "Client " + e.name, OwnerName: fmt.Sprintf("Owner%d Marsh", i), OwnerEmail: fmt.Sprintf("owner%d@spokeshave.example", i),
		})
		s.do(err)
		l, err := r.Desk.Records.AddLocation(ctx, r.Who.Actor(), c.ID, rec)
		s.do(err)
		e.at = ledger.Place{Location: l.ID, Directory: e.directory}
		r.Held(t, e.at)
		if e.task == verification.TypeCode {
			r.Answered(t, e.at)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), e.at, rulebook.Postcard))
		}
		e.made, err = r.Desk.Owners.MakeLink(ctx, r.Who, e.at, owners.LinkFor{Task: e.task, Mail: true})
		s.do(err)
		e.address = e.made.Address
	}
	phones := make([]*browser.Tab, len(errands))
	for i := range phones {
		phones[i] = s.phone()
	}
	together := func(day string, part func(e *errand) func(p *browser.Tab, e *errand) error) {
		t.Helper()
		var wait sync.WaitGroup
		failed := make([]error, len(errands))
		for i, e := range errands {
			if do := part(e); do != nil {
				wait.Go(func() {
					if failed[i] = do(phones[i], e); failed[i] != nil {
						failed[i] = fmt.Errorf("%s, %s: %w", e.name, day, failed[i])
						return
					}
					wide, err := browser.Ask[bool](phones[i], `document.documentElement.scrollWidth > 360`)
					if err == nil && wide {
						err = fmt.Errorf("%s: the page is wider than a phone", e.name)
					}
					failed[i] = err
				})
			}
		}
		wait.Wait()
		s.do(errors.Join(failed...))
	}
	together("the first day", func(e *errand) func(*browser.Tab, *errand) error {
		if e.first == nil {
			return nil
		}
		return func(p *browser.Tab, e *errand) error { return all(p.Open(e.address), e.first(p, e)) }
	})
	ours := func(e *errand) (says []string) {
		today, err := rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{Location: &e.at.Location}, boards.TodayPage{}))
		s.do(err)
		for _, c := range today {
			if c.Task != nil && c.Place == e.at {
				says = append(says, c.Task.Title+". "+c.Task.Says)
			}
		}
		return says
	}
	r.Move(t, 48*time.Hour) // the call comes, and is missed
	together("two days on", func(e *errand) func(*browser.Tab, *errand) error { return e.soon })
	for _, e := range errands {
		if e.first != nil && !strings.Contains(strings.Join(ours(e), " "), e.ours) {
			t.Errorf("%s: we are told %q, want %q", e.name, ours(e), e.ours)
		}
	}
	r.Move(t, 15*24*time.Hour)
	together("once the card is there", func(e *errand) func(*browser.Tab, *errand) error { return e.later })
	for _, e := range errands {
		if e.later != nil && e.task == verification.TypeCode && e.last == nil && !strings.Contains(strings.Join(ours(e), " "), e.ours) {
			t.Errorf("%s: we are told %q, want %q", e.name, ours(e), e.ours)
		}
	}
	r.Move(t, 15*24*time.Hour)
	together("once it has lapsed", func(e *errand) func(*browser.Tab, *errand) error { return e.last })
	for _, e := range errands {
		if e.last != nil && !strings.Contains(strings.Join(ours(e), " "), e.ours) {
			t.Errorf("%s: we are told %q, want %q", e.name, ours(e), e.ours)
		}
	}
}
