package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/demo/paint"
	"uvent/desk/ledger"
	"uvent/desk/records"
	"uvent/e2e/rig"
	"uvent/outside/visit"
)

// Each way of verifying is gone on the screen, to the public page.
func TestEveryWayOnTheScreen(t *testing.T) {
	s := open(t, "fernlook", "waywren", "hithermap", "murmurhall", "guildbench", "fernlook-facts")
	r, ctx := s.rig, t.Context()
	offered := func(at ledger.Place, m rulebook.MethodName) bool {
		v, err := r.Desk.Boards.Listing(ctx, at)
		s.do(err)
		for _, w := range v.Ways {
			if w.Method == m && w.Open {
				return true
			}
		}
		return false
	}
	public := map[rulebook.MethodName]bool{}
	type way struct {
		directory string
		method    rulebook.MethodName
	}
	ways := []way{
		{"fernlook", rulebook.Text},
		{"fernlook", rulebook.Call},
		{"guildbench", rulebook.Email},
		{"hithermap", rulebook.Card},
		{"waywren", rulebook.Papers},
		{"fernlook-facts", rulebook.StaffSay},
	}
	for i := 0; i < len(ways) && i < 12; i++ {
		c := ways[i]
		rec := rig.Shop("")
		at := ledger.Place{}
		for town := 0; ; town++ { // not every listing is offered every way
			rec = rig.Shop(fmt.Sprintf("Town %d %d", i, town))
			rec.Name = fmt.Sprintf("Spokeshave %c%c Cycles", 'A'+i, 'A'+town) // not the town, for which Fernlook suspends
			rec.Phones[0].E164 = fmt.Sprintf("+1360555%02d%02d", 20+i, town)
			rec.Company.Size, rec.Company.Kind, rec.Company.Industry, rec.Words.Tagline = "2-10", "limited company", "Repair", "Wheels"
			at = ledger.Place{Location: r.Add(t, rec).Location, Directory: c.directory}
			if c.directory == "fernlook-facts" {
				_, err := r.World.Place(
					ctx,
					c.directory,
					"",
					visit.Facts{
						"name":        rec.Name,
						"street":      "18 Tern Street",
						"locality":    rec.Label,
						"region":      "WA",
						"postal_code": "98990",
						"country":     "US",
						"phone":       rec.MainPhone(),
						"website":     rec.Website,
					},
				)
				s.do(err)
				st := r.Answered(t, at)(r.Desk.Listings.Search(ctx, r.Who.Actor(), at))
				r.Answered(t, at)(r.Desk.Listings.Claim(ctx, r.Who.Actor(), at, st.Candidates[0].Ref))
			} else {
				r.Held(t, at)
			}
			if c.method == rulebook.Papers {
				_, err := r.Desk.Files.AddPaper(
					ctx,
					r.Who.Actor(),
					ledger.Scope{Location: &at.Location},
					"bill.pdf",
					paint.Letter("Sound County Electric", "Utility bill, November 2026", rec.Name, "18 Tern Street"),
				)
				s.do(err)
			}
			if offered(at, c.method) {
				break
			}
			if town == 12 {
				t.Fatalf("%s offers nobody %s", c.directory, c.method)
			}
		}
		s.do(s.Open(s.at("/verification/l/"+at.Location.String()+"/"+c.directory)), s.See("Ways to verify"), s.Press("Ask", verification.Title(c.method)))
		switch {
		case c.method == rulebook.Card:
			// Nothing is charged before somebody has said whose card it is.
			s.do(s.See("USD 1.00 for "+rec.Label+" on Hithermap: whose card?"), s.Until(`document.querySelector(".guard .btn-primary").disabled`))
			s.do(s.Tick("USD 1.00 may be charged to it"), s.Press("Charge USD 1.00"), s.See("Once verified"))
		case c.method.SendsCode():
			s.do(s.See("Enter the code"))
			var code string
			s.do(s.eventually(func() bool {
				var err error
				code, err = r.World.Code(ctx, rec.MainPhone(), rec.Email)
				return err == nil
			}))
			s.do(s.Type(fmt.Sprintf("Code of %d digits", len(code)), code), s.Press("Submit"), s.See("Verified, and not public yet."))
		default:
			s.do(s.See("In review"))
			r.Move(t, 14*24*time.Hour)
			if st := r.State(t, at); st.VerifiedAt == nil && c.method == rulebook.StaffSay { // they say no now and then; another way works
				s.do(s.See("Choose another way"), s.Press("Ask", "Email"), s.See("Enter the code"))
				ways = append(ways, c)
				continue
			}
			s.do(s.See("Verified"))
		}
		r.Move(t, 16*24*time.Hour)
		s.do(s.See("Public"))
		s.do(s.Until(`document.querySelector("#view h1") !== null`))
		r.Move(t, nextMorning(r))
		public[c.method] = true
	}
	if len(public) != 6 {
		t.Errorf("public by %v", public)
	}
}

// nextMorning is how long it is until ten o'clock on a Tuesday, when the shop is open.
func nextMorning(r *rig.Rig) time.Duration {
	now := r.Desk.Now().In(rig.Pacific)
	days := (int(time.Tuesday) - int(now.Weekday()) + 7) % 7
	if days == 0 {
		days = 7
	}
	return time.Date(now.Year(), now.Month(), now.Day()+days, 10, 0, 0, 0, rig.Pacific).Sub(now)
}

// What was searched in one round is decided by keys alone.
func TestDecidingByKeys(t *testing.T) {
	s := open(t)
	r, ctx := s.rig, t.Context()
	for i, town := range []string{"Minnow Bay", "Quillcote", "Fennick"} {
		rec := rig.Shop(town)
		rec.Phones[0].E164 = fmt.Sprintf("+136055501%02d", 40+i)
		rec.Name = []string{"Spokeshave Cycle Works", "Nettlewick Yarns", "Quay Wash"}[i]
		r.Add(t, rec)
	}
	_, err := r.World.Place(
		ctx,
		"fernlook",
		"",
		visit.Facts{
			"name":        "Spokeshave Cycles",
			"street":      "18 Tern St",
			"locality":    "Minnow Bay",
			"region":      "WA",
			"postal_code": "98990",
			"country":     "US",
			"phone":       "+13605550140",
			"category":    "Bike store",
		},
	)
	s.do(err)
	s.do(s.Open(s.at("/verification")), s.Press("Search 3"), s.See("Nothing is created or claimed."), s.Press("Search 3"))
	s.do(s.See("3 listings: 3 done"), s.Press("Close"), s.See("Found, to be decided"), s.See("the same business"))
	s.do(s.Key("j"), s.Until(`document.activeElement.innerText === "Minnow Bay on Fernlook"`), s.Key("x"), s.Key("c"), s.See("Held, to be verified"))
	s.do(
		s.Until(`document.querySelectorAll(".finds li").length === 2`),
		s.Key("jxjx"), // no key waits for what the last one did
		s.NotSee("Found, to be decided"),
		s.NotSee("Not held yet"),
	)
	var held int
	s.do(r.Store.Pool.QueryRow(ctx, "select count(*) from listing where control = 'held'").Scan(&held))
	if listings, _, err := r.World.Count(ctx); err != nil || held != 3 || listings != 3 {
		t.Errorf("%d are held of %d, %v", held, listings, err)
	}
}

// A video is brought in on the screen and sent.
func TestAVideoOnTheScreen(t *testing.T) {
	s := open(t)
	r, ctx := s.rig, t.Context()
	var at ledger.Place
	for i := range 12 {
		at = r.Add(t, rig.Shop(fmt.Sprint("Town ", i)))
		r.Held(t, at)
		v, err := r.Desk.Boards.Listing(ctx, at)
		s.do(err)
		asked := false
		for _, w := range v.Ways {
			asked = asked || w.Method == rulebook.Video && w.Says != "" && w.Says[0] == 'T'
		}
		if asked {
			break
		}
	}
	file := filepath.Join(t.TempDir(), "take.mp4")
	s.do(os.WriteFile(file, rig.Take(t, 45), 0o600))
	s.do(s.Open(s.at("/verification/l/"+at.Location.String()+"/fernlook")), s.See("Begin outside."), s.Press("Bring in the video"), s.Upload("film-file", file))
	// While it plays, each part is ticked when it is seen.
	s.do(s.Until(`document.querySelector(".film-player").readyState >= 2`))
	for i, second := range []int{2, 9, 30} {
		now[float64](s, fmt.Sprintf(`document.querySelector(".film-player").currentTime = %d + 0.5`, second))
		s.do(s.Until(`!document.querySelector(".film-player").seeking`))
		s.do(s.Until(fmt.Sprintf(`(document.querySelectorAll(".film-part button")[%d].click(), true)`, i)), s.See(fmt.Sprintf("at second %d", second)))
	}
	s.do(
		s.Tick("Nothing private is in it: no customers, no papers, no screens"),
		s.Press("Send the video"),
	)
	s.do(s.See("ready to be sent"), s.Press("Ask", "Video"), s.See("In review"))
	r.Move(t, 10*24*time.Hour)
	if st := r.State(t, at); st.VerifiedAt == nil {
		t.Errorf("%+v", st)
	}
	r.Move(t, 8*24*time.Hour)
	s.do(s.See("Public"), s.See("Open public page"))
}

// Nothing that is under way is ended by a click: what would be lost is said first, and leaving it is what Esc and the filled
// button do.
func TestWhatIsUnderWayIsGuarded(t *testing.T) {
	s := open(t, "skerry")
	ctx, at := t.Context(), s.rig.Add(t, rig.Workshop("Minnow Bay"))
	at.Directory = "skerry"
	s.rig.Held(t, at)
	card := s.rig.Answered(t, at)(s.rig.Desk.Listings.AskCode(ctx, s.rig.Who.Actor(), at, rulebook.Postcard))
	s.rig.Move(t, 10*time.Minute)
	still := func() {
		t.Helper()
		if st := s.rig.State(t, at); st.Attempt().ID != card.Attempt().ID || !st.Attempt().Live() {
			t.Fatalf("it is %+v", st.Attempt())
		}
	}
	s.do(s.Open(s.at("/verification/l/"+at.Location.String()+"/skerry")), s.See("Other ways to verify"), s.Press("Ask"))
	s.do(s.See("The postcard is on its way. Have"), s.See("it comes all the same, and its code is refused"), s.See("Skerry lets one run at a time"))
	s.do(s.Until(`document.activeElement.innerText === "Leave it as it is"`), s.Key(kb.Escape), s.NotSee("The postcard is on its way. Have"))
	still()
	s.do(s.Press("Ask"), s.Until(`document.activeElement.innerText === "Leave it as it is"`), s.Key(kb.Enter), s.NotSee("The postcard is on its way. Have"))
	still()
	s.do(s.Press("Ask", "Email"), s.Press("End it: email instead"), s.NotSee("The postcard is on its way. Have"))
	s.do(s.eventually(func() bool { st := s.rig.State(t, at); return st.Attempt().ID != card.Attempt().ID }))
}

// Where a directory lets tries run beside each other, asking in another way loses nothing: both are typed on one page, and the
// one that comes too late is told from the other.
func TestBothRun(t *testing.T) {
	s := open(t)
	ctx, at := t.Context(), s.rig.Add(t, rig.Shop("Minnow Bay"))
	s.rig.Held(t, at)
	card := s.rig.Answered(t, at)(s.rig.Desk.Listings.AskCode(ctx, s.rig.Who.Actor(), at, rulebook.Postcard))
	s.do(s.Open(s.at("/verification/l/"+at.Location.String()+"/fernlook")), s.See("Another way goes on beside"), s.Press("Ask", "Text message"))
	s.do(s.See("The postcard is on its way. Have the text message as well?"), s.See("Fernlook lets both run, so nothing need be lost."))
	s.do(s.Until(`document.activeElement.innerText === "Text message as well"`), s.Key(kb.Enter), s.See("Postcard, on its way too"))
	st := s.rig.State(t, at)
	if len(st.Attempts) != 2 || st.Attempts[0].State != verification.AttemptSent || st.Attempt().Method != rulebook.Text {
		t.Fatalf("%+v", st.Attempts)
	}
	code, err := s.rig.World.Code(ctx, rig.Shop("Minnow Bay").Phones[0].E164)
	rig.Must(t, err)
	wrong := fmt.Sprintf("%c%s", '0'+(code[0]-'0'+1)%10, code[1:])
	s.do(s.Type("Code of 6 digits", wrong), s.Key(kb.Enter), s.See("Or is it the code of the postcard asked for on Tue 24 Nov?"))
	s.do(s.Type("Code of 6 digits", code), s.Key(kb.Enter), s.See("Its code is not needed: the listing was verified on Tue 24 Nov."))
	s.do(s.Press("It has come"), s.See("It can be thrown away."))
	st = s.rig.State(t, at)
	if a := st.Named(card.Attempt().ID); a.State != verification.AttemptNeedless || a.ArrivedAt == nil {
		t.Errorf("%+v", a)
	}
}

// A call beside what is under way is booked for a good time, of which the owner is told before.
func TestACallIsBookedInTheGuard(t *testing.T) {
	s := open(t)
	r, ctx := s.rig, t.Context()
	c, err := r.Desk.Records.AddClient(ctx, r.Who.Actor(), records.ClientFacts{Name: "Spokeshave", OwnerName: "Dov Marsh", OwnerEmail: "dov@spokeshave.example"})
	rig.Must(t, err)
	l, err := r.Desk.Records.AddLocation(ctx, r.Who.Actor(), c.ID, rig.Workshop("Minnow Bay"))
	rig.Must(t, err)
	at := ledger.Place{Location: l.ID, Directory: "fernlook"}
	r.Held(t, at)
	card := r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Postcard))
	s.do(s.Open(s.at("/verification/l/"+l.ID.String()+"/fernlook")), s.See("Another way goes on beside"), s.Press("Ask", "Call"))
	s.do(
		s.See("The first that leaves a day to tell them."),
		s.See("An hour after they open and an hour before they close."),
		s.Press("Book it as well"),
		s.See("A call is booked; dov@spokeshave.example is told, and may choose another time."),
	)
	if st := r.State(t, at); st.Attempt().ID != card.Attempt().ID || !st.Attempt().Live() {
		t.Errorf("booking has ended what was under way: %+v", st.Attempts)
	}
	r.Eventually(t, func() bool {
		mails, err := r.World.Arrivals(ctx, "dov@spokeshave.example")
		return err == nil && len(mails) == 1 && strings.Contains(mails[0].Body, "The call comes tomorrow at 09:00.")
	})
	r.Move(t, 28*time.Hour)
	s.do(s.eventually(func() bool { st := r.State(t, at); return st.Latest().Method == rulebook.Call }))
}
