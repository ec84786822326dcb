package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"

	"uvent/core/listing/verification"
	"uvent/core/reckon/agenda"
	"uvent/core/record/record"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/records"
	"uvent/e2e/rig"
)

// hands are a specialist's, whose keys and presses are counted.
type hands struct {
	*screen
	n int
}

func (h *hands) key(keys ...string) {
	h.t.Helper()
	for _, k := range keys {
		h.n++
		h.do(h.Key(k))
	}
}

func (h *hands) types(label, text string) {
	h.t.Helper()
	h.n += len(text)
	h.do(h.Type(label, text))
}

func (h *hands) press(text string) {
	h.t.Helper()
	h.n++
	h.do(h.Press(text))
}

// to moves the focus to the row that is called so, up or down from where it is.
func (h *hands) to(title string) {
	h.t.Helper()
	h.do(h.See(title))
	for range 40 {
		switch way := now[int](h.screen, fmt.Sprintf(`(() => {
			const rows = [...document.querySelectorAll("#view [data-row]")]
			return Math.sign(rows.findIndex(r => r.innerText === %q) - rows.indexOf(document.activeElement))
		})()`, title)); way {
		case 0:
			return
		case 1:
			h.key("j")
		default:
			h.key("k")
		}
	}
	h.t.Fatalf("there is no row %q", title)
}

// A specialist's day: sixty matters at forty places are dealt with by fewer than a hundred and twenty keys and presses.
func TestASpecialistsDay(t *testing.T) {
	s := open(t, "fernlook", "plotline")
	ctx, who, r := t.Context(), s.rig.Who.Actor(), s.rig
	const places = 40
	var held []ledger.Place
	for i := range places / 10 {
		c, err := r.Desk.Records.AddClient(
			ctx,
			who,
			records.ClientFacts{Name: fmt.Sprint("Client ", i), OwnerName: "Dov Marsh", OwnerEmail: fmt.Sprintf("dov%d@client.example", i)},
		)
		rig.Must(t, err)
		for j := range 10 {
			rec := rig.Workshop(fmt.Sprintf("Shop %d", 10*i+j))
			rec.Name, rec.StoreCode = fmt.Sprintf("Spokeshave %d", 10*i+j), fmt.Sprintf("S-%02d", 10*i+j)
			rec.Address = record.Record{}.Address
			rec.Address.Street, rec.Address.Locality, rec.Address.Region, rec.Address.PostalCode, rec.Address.Country = fmt.Sprintf(
				"%d Tern Street",
				10*i+j,
			), "Minnow Bay", "WA", "98990", "US"
			rec.Phones[0].E164 = fmt.Sprintf("+136055501%02d", 10*i+j)
			l, err := r.Desk.Records.AddLocation(ctx, who, c.ID, rec)
			rig.Must(t, err)
			if i == 0 {
				held = append(held, ledger.Place{Location: l.ID, Directory: "fernlook"})
			}
		}
	}
	for _, at := range held[:3] { // three are suspended, and argued in vain
		r.Held(t, at)
		rig.Must(t, r.Desk.Listings.SuspendedThere(ctx, who, at, "It does not follow our rules."))
		rig.Must(t, r.Desk.Listings.DropCase(ctx, who, at, "1", "The shop closes."))
	}
	ended := func() (n int) {
		_, err := r.Desk.Boards.Folds(ctx, boards.FoldFilter{Group: agenda.Mine}, nil) // what is so by now is known by that
		rig.Must(t, err)
		rig.Must(t, r.Store.Pool.QueryRow(ctx, "select count(*) from matter where ended_at is not null").Scan(&n))
		return n
	}
	before := ended()
	h := &hands{screen: s}
	s.do(s.Open(s.at("/today")), s.See("Look for 37 places: one round"))

	// One file for all places.
	h.to("Hand 40 places in to Plotline: one file")
	h.key(kb.Enter)
	s.do(s.See("Make the file"))
	h.key(kb.Enter)
	s.do(s.Until(`location.pathname === "/directories"`), s.See("It was handed in"))
	h.press("It was handed in")
	s.do(s.See("Kept: 40 locations handed in to Plotline."))

	// One round for all that nobody has looked for.
	h.key("1")
	s.do(s.See("Look for 37 places: one round"))
	h.to("Look for 37 places: one round")
	h.key(kb.Enter)
	s.do(s.See("Search them"))
	h.key(kb.Enter)
	s.do(s.See("Search 37"))
	h.press("Search 37")
	s.do(s.eventually(func() bool {
		for _, at := range held[3:] {
			if r.State(t, at).SearchedAt == nil {
				return false
			}
		}
		return true
	}))

	// Three decisions with one reason, and the rest is handed over with a word, and put off.
	h.key("1")
	s.do(s.See("stays suspended on Fernlook"))
	for i := range 3 {
		h.to(fmt.Sprintf("Shop %d stays suspended on Fernlook", i))
		h.key(" ")
	}
	s.do(s.See("3 rows chosen: 3 matters"))
	h.key("d")
	h.types("Why nothing more is done", "They close")
	h.key(kb.Enter)
	s.do(s.See("3 matters are decided."), s.See("Claim or create where 37 places were looked for"))
	h.to("Claim or create where 37 places were looked for")
	h.key(" ", "m")
	h.types("Say it for whoever looks next", "All new")
	h.key(kb.Enter)
	s.do(s.See("37 matters are noted."))
	h.key(" ", "p")
	h.key(kb.Tab, kb.Enter)
	s.do(s.See("37 matters are put off"))

	if r.State(t, held[0]).Visibility != verification.Suspended || !r.State(t, held[0]).HasDecided(string(agenda.SuspendedYet), "1") {
		t.Errorf("%+v", r.State(t, held[0]).Decisions)
	}
	done := ended() - before
	t.Logf("%d matters at %d places are dealt with, and 37 put off, by %d keys and presses", done, places, h.n)
	if done < 60 || h.n >= 120 {
		t.Errorf("%d matters, by %d keys and presses", done, h.n)
	}
	if strings.TrimSpace(now[string](s, `document.querySelector("h1").innerText`)) != "Today" {
		t.Error("it does not end where it began")
	}
}
