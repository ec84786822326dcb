package listings_test

import (
	"bytes"
	"io"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"uvent/core/fact/photo"
	"uvent/core/listing/verification"
	"uvent/demo/paint"
	"uvent/desk/boards"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/problem"
	"uvent/e2e/rig"
	"uvent/outside/visit"
)

// A directory that people work on: looked for, brought there with a worksheet that is
// resumed, changed later, and what is new since then is shown.
func TestByHand(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "sound-chamber"), t.Context()
	who := r.Who.Actor()
	rec := rig.Shop("Minnow Bay")
	rec.Words.Keywords = []string{"bicycles", "repair"}
	place := r.Add(t, rec)
	here := rig.On(place, "sound-chamber")

	rig.Refused(t, r.Desk.Listings.Give(ctx, who, here, "", ""), problem.Conflict, "Look for it on Sound Chamber first")
	_, err := r.Desk.Listings.Search(ctx, who, here)
	rig.Refused(t, err, problem.Conflict, "Sound Chamber has no interface: it is worked by hand.")
	_, err = r.Desk.Listings.Create(ctx, who, here, "")
	rig.Refused(t, err, problem.Conflict, "has no interface")
	rig.Must(t, r.Desk.Listings.Found(ctx, who, here, listings.NothingThere, "", ""))

	w, err := r.Desk.Listings.Worksheet(ctx, who, here)
	rig.Must(t, err)
	if w.Lines[0].Key != "name" || w.Lines[0].Label != "Member" || w.GivenAt != nil || w.Letter != nil || w.Page != r.World.Base+"/sound-chamber" {
		t.Fatalf("%+v", w)
	}
	window, name := uuid.New(), w.Lines[0].Text
	tick := func(number int64, page *string, values ...listings.Tick) error {
		return r.Desk.Listings.TickValues(ctx, who, here, listings.Ticks{Window: window, Number: number, Values: values, Page: page})
	}
	rig.Must(t, tick(1, nil, listings.Tick{Key: "name", Text: name, Given: true}))
	rig.Must(t, tick(2, nil, listings.Tick{Key: "phone", Text: "another number", Given: true}))
	page := "/sound-chamber/place/spokeshave-cycle-works-minnow-bay"
	rig.Must(t, tick(4, &page, listings.Tick{Key: "name", Text: name, Given: true}))
	rig.Must(t, tick(3, nil, listings.Tick{Key: "name", Text: name})) // given up by the page, and late
	if w, err = r.Desk.Listings.Worksheet(ctx, who, here); err != nil || !w.Lines[0].Given || w.Lines[2].Given || w.At != page {
		t.Errorf("%v; what was given then and is another now counts as given, or what came late: %+v", err, w.Lines)
	}
	bad := "javascript:alert(1)"
	rig.Refused(t, tick(5, &bad), problem.Invalid, "no address of a page")

	form := visit.Form{}
	for _, line := range w.Lines {
		form[line.Key] = line.Text
	}
	page, err = r.World.Fill(ctx, "sound-chamber", form)
	rig.Must(t, err)
	rig.Must(t, r.Desk.Listings.Give(ctx, who, here, page, ""))
	s := r.State(t, here)
	// Nobody asks for proof there: it is verified, and shows when it is looked at.
	if s.Control != verification.Held || s.VerifiedAt == nil || s.Page != page {
		t.Fatalf("%+v", s)
	}
	rig.Must(t, r.Desk.Sightings.Look(ctx, who, here))
	v, err := r.Desk.Boards.Listing(ctx, here)
	rig.Must(t, err)
	if v.State.Visibility != verification.Public || v.State.Sighting.Name != rec.Name || v.State.Sighting.Phone != "+13605550142" {
		t.Errorf("%+v", v.State)
	}

	rec.Words.Keywords = append(rec.Words.Keywords, "wheels")
	rec.Words.Short = "Bicycles, mended by the ferry."
	rec.Website = ""
	_, err = r.Desk.Records.SaveLocation(ctx, who, here.Location, 1, rec)
	rig.Must(t, err)
	w, err = r.Desk.Listings.Worksheet(ctx, who, here)
	rig.Must(t, err)
	for _, line := range w.Lines {
		if line.Given || line.New != (line.Key == "text.short") || (line.Before == "bicycles, repair") != (line.Key == "keywords") {
			t.Errorf("%+v", line)
		}
	}
	// What was given is kept as it was.
	for _, e := range v.History {
		if given, there := e.What.(verification.Given); there {
			if k, ok := given.Values.Find("keywords"); !ok || k.Text != "bicycles, repair" {
				t.Errorf("kept: %+v", given.Values)
			}
		}
	}
}

// A directory whose staff enter everything: written to, waited for, answered.
func TestWritten(t *testing.T) {
	r, ctx := rig.Start(t, "brasswire"), t.Context()
	who := r.Who.Actor()
	here := rig.On(r.Add(t, rig.Shop("Minnow Bay")), "brasswire")
	rig.Must(t, r.Desk.Listings.Found(ctx, who, here, listings.NothingThere, "", ""))
	w, err := r.Desk.Listings.Worksheet(ctx, who, here)
	rig.Must(t, err)
	for _, want := range []string{"Listed as: Spokeshave Cycle Works\n", "Heading: Bicycles, repairing\n", "Telephone: (360) 555-0142\n", "Hours as printed: Tue–Fri 9–12, 13–18; Sat 9–16\n", "Ines Roake"} {
		if !strings.Contains(w.Letter.Body, want) {
			t.Errorf("no %q in:\n%s", want, w.Letter.Body)
		}
	}
	rig.Refused(t, r.Desk.Listings.Give(ctx, who, here, "", " "), problem.Invalid, "letter is empty")
	rig.Must(t, r.Desk.Listings.Give(ctx, who, here, "", w.Letter.Body))
	s := r.State(t, here)
	if s.Control != verification.AskedFor || s.AnswerBy == nil || s.VerifiedAt != nil {
		t.Fatalf("%+v", s)
	}
	today, err := rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{}))
	if rig.Must(t, err); len(today) != 1 || today[0].Task.Group != "directory" || !strings.Contains(today[0].Task.Says, "they answer by Thu 3 Dec") {
		t.Errorf("%+v", today[0].Task)
	}
	r.Eventually(t, func() bool {
		list, err := r.World.Arrivals(ctx, "listings@brasswire.example")
		return err == nil && len(list) == 1 && list[0].Title == w.Letter.Subject
	})
	// Somebody writes in their name that it is elsewhere; then one of them asks back, which a person reads.
	r.Writes(t, rig.Written{From: "listings@brasswire.example", Text: "We are out for lunch.", Auto: true})
	r.Writes(
		t,
		rig.Written{From: "listings@brasswire.example", Text: "About Spokeshave Cycle Works, Minnow Bay: under which heading? And we could not read the hours."},
	)
	r.Eventually(t, func() bool { return len(r.State(t, here).Trouble) > 0 })
	if s = r.State(t, here); s.Control != verification.NoControl || s.AnswerBy != nil {
		t.Errorf("they could not read it: %+v", s)
	}
	rig.Must(t, r.Desk.Listings.Give(ctx, who, here, "", w.Letter.Body))
	r.Writes(t, rig.Written{From: "listings@brasswire.example", Text: "Spokeshave Cycle Works in Minnow Bay: under which heading?"})
	r.Eventually(t, func() bool { return r.State(t, here).FromStaff != nil })
	if today, err = rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{})); err != nil || len(today) != 1 || today[0].Task.Group != "mine" ||
		today[0].Task.Title != "Brasswire has written about Minnow Bay" || !strings.Contains(today[0].Task.Says, "under which heading?") {
		t.Errorf("%v, %+v", err, today[0].Task)
	}
	rig.Must(t, r.Desk.Listings.ReadFromStaff(ctx, who, here))
	rig.Must(t, r.Desk.Listings.ReadFromStaff(ctx, who, here))
	if s = r.State(t, here); s.FromStaff != nil || s.AnswerBy == nil {
		t.Errorf("once it is read: %+v", s)
	}
	rig.Refused(t, r.Desk.Listings.Answered(ctx, who, here, listings.Verified, "", ""), problem.Conflict, "not held yet")
	// Their answer is read, with the page that it names.
	r.Move(t, 12*24*time.Hour)
	r.Eventually(t, func() bool { return r.State(t, here).Control == verification.Held })
	if s = r.State(t, here); s.AnswerBy != nil || s.Verification != verification.NotBegun || s.Page != "/brasswire/place/spokeshave-cycle-works-minnow-bay" {
		t.Errorf("%+v", s)
	}
	// Its code is asked for and entered on its own pages.
	_, err = r.Desk.Listings.AskCode(ctx, who, here, "email")
	rig.Must(t, err)
	s = r.State(t, here)
	if a := s.Attempt(); a == nil || !a.Live() || a.Digits != 4 || a.Window == nil {
		t.Fatalf("%+v", s)
	}
	_, err = r.Desk.Listings.EnterCode(ctx, who, here, s.Attempt().ID, "1234")
	rig.Refused(t, err, problem.Conflict, "on its own pages")
	rig.Must(t, r.Desk.Listings.Answered(ctx, who, here, listings.Refused, "", "They have no such code."))
	if s = r.State(t, here); s.Verification != verification.Refused || s.Trouble != "They have no such code." {
		t.Errorf("%+v", s)
	}
	rig.Must(t, r.World.Prove(ctx, "/brasswire/place/spokeshave-cycle-works-minnow-bay", "email", rig.Account))
	rig.Must(t, r.Desk.Listings.Answered(ctx, who, here, listings.Verified, "", ""))
	r.Move(t, 4*24*time.Hour)
	rig.Must(t, r.Desk.Sightings.Look(ctx, who, here))
	if s = r.State(t, here); s.Visibility != verification.Public || s.Sighting.Hours != "Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00" {
		t.Errorf("%+v", s.Sighting)
	}
}

func TestWhatAPersonFinds(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "lanefolk"), t.Context()
	who := r.Who.Actor()
	for what, want := range map[listings.FoundThere]verification.Control{
		listings.NothingThere: verification.NoControl, listings.FreeThere: verification.NoControl, listings.OursThere: verification.Held, listings.ElseThere: verification.HeldByAnother,
	} {
		here := rig.On(r.Add(t, rig.Shop(string(what))), "lanefolk")
		rig.Must(t, r.Desk.Listings.Found(ctx, who, here, what, "lanefolk.example/b/spoke", "a former agency"))
		if s := r.State(t, here); s.Control != want || s.SearchedAt == nil || (what == listings.FreeThere) != (len(s.Candidates) == 1) ||
			(what == listings.ElseThere) != (s.HeldBy == "a former agency") {
			t.Errorf("%s: %+v", what, s)
		}
	}
	here := rig.On(r.Add(t, rig.Shop("Another")), "lanefolk")
	rig.Refused(t, r.Desk.Listings.Found(ctx, who, here, "something", "", ""), problem.Invalid, "Say what was found")
	rig.Refused(t, r.Desk.Listings.Answered(ctx, who, here, listings.TookIn, "", ""), problem.Conflict, "Nothing was given")
	v, err := r.Desk.Boards.FitOf(ctx, here)
	rig.Must(t, err)
	if h, _ := v.Values.Find("hours"); !slices.Equal(h.Says, []string{"They must be the same as on Fernlook."}) {
		t.Errorf("%q", h.Says)
	}
	// Photos are required there, and there are none.
	rig.Must(t, r.Desk.Listings.Found(ctx, who, here, listings.NothingThere, "", ""))
	rig.Refused(t, r.Desk.Listings.Give(ctx, who, here, "", ""), problem.Conflict, "There is no photo for “Logo”")
}

// What was had to be known first, and what copying carries.
func TestCopying(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "skerry"), t.Context()
	who := r.Who.Actor()
	rec := rig.Shop("Minnow Bay")
	first := r.Add(t, rec)
	here := rig.On(first, "skerry")
	r.Answered(t, here)(r.Desk.Listings.Search(ctx, who, here))
	_, err := r.Desk.Listings.Create(ctx, who, here, "")
	rig.Refused(t, err, problem.Conflict, "The record has no legal name.")
	_, err = r.Desk.Listings.CopyFrom(ctx, who, here, "fernlook")
	rig.Refused(t, err, problem.Conflict, "Skerry copies a verified listing, and that on Fernlook is not.")
	rec.LegalName, rec.Company.Registration = "Spokeshave Cycle Works LLC", "604 117 220"
	_, err = r.Desk.Records.SaveLocation(ctx, who, here.Location, 1, rec)
	rig.Must(t, err)
	r.Held(t, first)
	r.Verified(t, first)
	offer, err := r.Desk.Boards.Listing(ctx, here)
	rig.Must(t, err)
	if o := offer.Copies[0]; o.Not != "" || strings.Join(o.Left.Labels(), ", ") != "Website, Category" || len(o.Brought) < 4 {
		t.Errorf("%s: %v comes along, %v does not", o.Not, o.Brought.Labels(), o.Left.Labels())
	}
	s := r.Answered(t, here)(r.Desk.Listings.CopyFrom(ctx, who, here, "fernlook"))
	if s.Control != verification.Held || s.Page == "" {
		t.Fatalf("%+v", s)
	}
	v, err := r.Desk.Boards.Listing(ctx, here)
	rig.Must(t, err)
	// What came along counts as given: only the rest is to be sent.
	if keys := v.Changed.Keys(); !slices.Equal(keys, []string{"website", "category"}) || v.Copies != nil {
		t.Errorf("%v is to be sent, and it could be copied again: %+v", keys, v.Copies)
	}
	_, err = r.Desk.Listings.CopyFrom(ctx, who, first, "skerry")
	rig.Refused(t, err, problem.Conflict, "We hold this listing already")
}

func TestHandingInAFile(t *testing.T) {
	r, ctx := rig.Start(t, "plotline", "roadwhistle", "brasswire"), t.Context()
	who := r.Who.Actor()
	rec := rig.Shop("Minnow Bay")
	rec.StoreCode = "SCW-03"
	here := rig.On(r.Add(t, rec), "plotline")
	r.Add(t, rig.Shop("Quillcote")) // has no store code, which is required
	var file bytes.Buffer
	n, err := r.Desk.Listings.HandInFile(ctx, ledger.Scope{}, "plotline", &file)
	rig.Must(t, err)
	if want := "SCW-03,Spokeshave Cycle Works,18 Tern Street,Minnow Bay,WA,98990,US,48.610000,-124.950000,+13605550142,https://spokeshave.example/shop,7699 Repair shops,\"Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00\"\n"; n != 1 ||
		!strings.HasSuffix(file.String(), want) {
		t.Errorf("%d: %s", n, file.String())
	}
	n, err = r.Desk.Listings.HandedIn(ctx, who, ledger.Scope{}, "plotline")
	if s := r.State(t, here); err != nil || n != 1 || s.Control != verification.Held || s.VerifiedAt != nil {
		t.Errorf("%d, %v, %+v", n, err, s)
	}
	_, err = r.Desk.Listings.HandInFile(ctx, ledger.Scope{}, "brasswire", &file)
	rig.Refused(t, err, problem.Conflict, "Brasswire takes no file: it is worked by hand, written request.")
	// What the supplier feeds comes by itself.
	list, err := r.Desk.Records.Worth(ctx, here.Location)
	rig.Must(t, err)
	for _, w := range list {
		if w.Directory == "roadwhistle" && (w.FedBy != "plotline" || w.Wanted) {
			t.Errorf("%+v", w)
		}
	}
}

// The photos that fit a directory are given, each cut to its place there.
func TestGivingPhotos(t *testing.T) {
	r, ctx := rig.Start(t, "skerry"), t.Context()
	who := r.Who.Actor()
	rec := rig.Shop("Minnow Bay")
	rec.LegalName, rec.Company.Registration = "Spokeshave Cycle Works LLC", "604 117 220"
	here := rig.On(r.Add(t, rec), "skerry")
	_, err := r.Desk.Listings.GivePhotos(ctx, who, here)
	rig.Refused(t, err, problem.Conflict, "Claim or create the listing first")
	s := r.Held(t, here)
	_, err = r.Desk.Listings.GivePhotos(ctx, who, here)
	rig.Refused(t, err, problem.Conflict, "No photo fits Skerry")
	scope := ledger.Scope{Location: &here.Location}
	for i, f := range []files.PhotoFacts{{Group: "logo", Focus: photo.Middle}, {Group: "exterior", Focus: photo.Middle, Caption: "From across the street"}, {Group: "interior", Focus: photo.Middle}} {
		size := []int{900, 1400, 200}[i] // the last is too small
		_, err := r.Desk.Files.AddPhoto(ctx, who, scope, f, "photo.jpg", rig.Boxes(t, size, size, uint64(i)))
		rig.Must(t, err)
	}
	s = r.Answered(t, here)(r.Desk.Listings.GivePhotos(ctx, who, here))
	if s.PhotosAt == nil || s.Photos != 2 {
		t.Fatalf("%+v", s)
	}
	s = r.Answered(t, here)(r.Desk.Listings.AskCode(ctx, who, here, "email"))
	var code string
	r.Eventually(t, func() bool { code, err = r.World.Code(ctx, rec.Email); return err == nil })
	r.Answered(t, here)(r.Desk.Listings.EnterCode(ctx, who, here, s.Attempt().ID, code))
	r.Move(t, 14*24*time.Hour)
	v, err := r.Desk.Boards.Listing(ctx, here)
	rig.Must(t, err)
	resp, err := http.Get(v.PageURL)
	rig.Must(t, err)
	defer resp.Body.Close()
	page, err := io.ReadAll(resp.Body)
	rig.Must(t, err)
	if text := string(page); strings.Count(text, "data-place") != 2 || !strings.Contains(text, "From across the street") {
		t.Errorf("%s", text)
	}
}

// A way without a code: somebody there decides, and is asked until they have.
func TestReviews(t *testing.T) {
	r, ctx := rig.Start(t, "waywren", "hithermap", "guildbench"), t.Context()
	who := r.Who.Actor()
	here := rig.On(r.Add(t, rig.Shop("Minnow Bay")), "waywren")
	r.Held(t, here)
	_, err := r.Desk.Listings.AskCode(ctx, who, here, "papers")
	rig.Refused(t, err, problem.Conflict, "It takes one of these, and there is none yet: company registration, licence, utility bill.")
	rig.Refused(t, r.Desk.Listings.AskStatus(ctx, who, here), problem.Conflict, "Nothing is in review there")
	scope := ledger.Scope{Location: &here.Location}
	bill := func(street string) {
		_, err := r.Desk.Files.AddPaper(
			ctx,
			who,
			scope,
			street+".pdf",
			paint.Letter("Sound County Electric", "Utility bill, October 2026", "Spokeshave Cycle Works", street),
		)
		rig.Must(t, err)
	}
	bill("81 Tern Street")
	_, err = r.Desk.Listings.AskCode(ctx, who, here, "papers")
	rig.Refused(t, err, problem.Conflict, "Waywren is likely to refuse it. It shows another address, “81 Tern Street”.")
	s := r.Answered(t, here)(r.Desk.Listings.AskInsisting(ctx, who, here, "papers", listings.Insisting{Despite: true}))
	if s.Verification != verification.InReview || s.Attempt().Window == nil || s.Attempt().To != "the utility bill" {
		t.Fatalf("%+v", s.Attempt())
	}
	today, err := rig.Tasks(r.Desk.Boards.Today(ctx, scope, boards.TodayPage{}))
	rig.Must(t, err)
	if !slices.ContainsFunc(today, func(c boards.Cell) bool {
		return c.Task.Group == "directory" && strings.Contains(c.Task.Says, "In review by Waywren; they answer by Mon 30 Nov")
	}) {
		t.Errorf("%d tasks, none waits for the review", len(today))
	}
	// The clock goes on, and they are asked by themselves.
	r.Move(t, 8*24*time.Hour)
	if s = r.State(t, here); s.Verification != verification.Refused || s.Trouble != "The paper shows another address." {
		t.Fatalf("%+v", s)
	}
	bill("18 Tern Street")
	s = r.Answered(t, here)(r.Desk.Listings.AskCode(ctx, who, here, "papers"))
	if s.Verification != verification.InReview {
		t.Fatalf("%+v", s)
	}
	rig.Must(t, r.Desk.Listings.AskStatus(ctx, who, here))
	if s = r.State(t, here); s.Verification != verification.InReview || s.Attempt().CheckedAt == nil {
		t.Errorf("%+v", s)
	}
	r.Move(t, 24*24*time.Hour)
	if s = r.State(t, here); s.Verification != verification.Verified || s.Visibility != verification.Public {
		t.Errorf("%+v", s)
	}

	// A card is decided on at once.
	card := rig.On(here, "hithermap")
	r.Held(t, card)
	_, err = r.Desk.Listings.AskCode(ctx, who, card, "card")
	rig.Refused(t, err, problem.Conflict, "USD 1.00 is charged to a card. Whoever pays has to confirm that")
	paid := listings.Insisting{Payer: "Dov Marsh"}
	if s := r.Answered(
		t,
		card,
	)(
		r.Desk.Listings.AskInsisting(ctx, who, card, "card", paid),
	); s.Attempt().To != "the card of Dov Marsh (USD 1.00)" || s.VerifiedAt == nil ||
		s.Attempt().State != verification.AttemptAccepted {
		t.Errorf("%+v", s)
	}
}

// A page's address is made from a name that another may have: the next best is taken then.
func TestNamesOfPages(t *testing.T) {
	r, ctx := rig.Start(t, "murmurhall"), t.Context()
	who := r.Who.Actor()
	one, two := rig.On(r.Add(t, rig.Shop("Minnow Bay")), "murmurhall"), rig.On(r.Add(t, rig.Shop("Quillcote")), "murmurhall")
	if s := r.Held(t, one); s.Page != "/murmurhall/place/spokeshave-cycle-works" {
		t.Errorf("%+v", s)
	}
	r.Answered(t, two)(r.Desk.Listings.Search(ctx, who, two))
	s := r.Answered(t, two)(r.Desk.Listings.Create(ctx, who, two, ""))
	if s.Control != verification.NoControl || !slices.Equal(s.Taken, []string{"spokeshave-cycle-works"}) || !strings.Contains(s.Trouble, "is taken") {
		t.Fatalf("%+v", s)
	}
	_, err := r.Desk.Listings.Create(ctx, who, two, strings.Repeat("x", 41))
	rig.Refused(t, err, problem.Invalid, "The page’s name has 41 characters; Murmurhall takes 40.")
	_, err = r.Desk.Listings.Create(ctx, who, two, "!!!")
	rig.Refused(t, err, problem.Invalid, "letters, digits and hyphens")
	if s = r.Answered(t, two)(r.Desk.Listings.Create(ctx, who, two, "")); s.Page != "/murmurhall/place/spokeshave-cycle-works-quillcote" {
		t.Errorf("%+v", s)
	}
}
