package owners_test

import (
	"context"
	"strings"
	"testing"
	"time"

	"uvent/core/listing/verification"
	"uvent/core/reckon/agenda"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/demo/paint"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/owners"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/e2e/rig"
	"uvent/outside/visit"
)

// secretOf is what stands at the end of a private page's address.
func secretOf(address string) string { return address[strings.LastIndex(address, "/")+1:] }

// ownedShop is a shop with an owner who reads email, held on a directory.
func ownedShop(t *testing.T, r *rig.Rig, directory string, rec record.Record) ledger.Place {
	t.Helper()
	c, err := r.Desk.Records.AddClient(
		t.Context(),
		r.Who.Actor(),
		records.ClientFacts{Name: "Spokeshave", OwnerName: "Dov Marsh", OwnerEmail: "dov@spokeshave.example"},
	)
	rig.Must(t, err)
	l, err := r.Desk.Records.AddLocation(t.Context(), r.Who.Actor(), c.ID, rec)
	rig.Must(t, err)
	at := ledger.Place{Location: l.ID, Directory: directory}
	r.Held(t, at)
	return at
}

// mailsTo waits until so many mails have reached somebody.
func mailsTo(t *testing.T, r *rig.Rig, to string, n int) (mails []visit.Arrival) {
	t.Helper()
	for range 60 {
		var err error
		if mails, err = r.World.Arrivals(t.Context(), to); err != nil || len(mails) >= n {
			rig.Must(t, err)
			break
		}
		time.Sleep(50 * time.Millisecond)
	}
	return mails
}

// through is what an owner answers through: the page of a link that was made.
func through(secret string, made owners.MadeLink) owners.Through {
	return owners.Through{Secret: secret, Thing: made.ID}
}

// thing is what stands first on a page.
func thing(r *rig.Rig, secret string) (owners.Thing, error) {
	p, err := r.Desk.Owners.OwnerPage(context.Background(), secret, "")
	if err != nil || len(p.Things) == 0 {
		return owners.Thing{}, err
	}
	return p.Things[0], nil
}

func TestTheOwnerTypesTheCode(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who
	at := ownedShop(t, r, "fernlook", rig.Shop("Minnow Bay"))
	_, err := r.Desk.Owners.MakeLink(ctx, who, at, owners.LinkFor{Task: verification.TypeCode})
	rig.Refused(t, err, problem.Conflict, "No code is on its way")
	r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, who.Actor(), at, rulebook.Postcard))
	made, err := r.Desk.Owners.MakeLink(ctx, who, at, owners.LinkFor{Task: verification.TypeCode, Mail: true})
	rig.Must(t, err)
	secret := secretOf(made.Address)
	// The mail tells what will come; the reminder comes with the postcard's window, and with the same address.
	mails := mailsTo(t, r, "dov@spokeshave.example", 1)
	if len(mails) != 1 || !strings.Contains(mails[0].Body, made.Address) || !strings.Contains(mails[0].Body, "between Thu 3 Dec and Fri 11 Dec") {
		t.Fatalf("%+v", mails)
	}
	p, err := thing(r, secret)
	rig.Must(t, err)
	if p.State != owners.LinkOpen || p.Digits != 6 || p.Times != nil {
		t.Errorf("%+v", p)
	}
	r.Move(t, 9*24*time.Hour+2*time.Hour) // 3 December, past ten
	if mails = mailsTo(t, r, "dov@spokeshave.example", 2); len(mails) != 2 || !strings.HasPrefix(mails[0].Title, "Reminder: Type the code") {
		t.Fatalf("%d mails", len(mails))
	}
	i := strings.Index(mails[0].Body, "/o/")
	second := strings.Fields(mails[0].Body[i+3:])[0]
	if second != secret {
		t.Errorf("the reminder's address ends in %q", second)
	}
	r.Move(t, 8*24*time.Hour)
	code, err := r.World.Code(ctx, "18 Tern Street")
	rig.Must(t, err)
	wrong := []byte(code)
	wrong[0] = '0' + (wrong[0]-'0'+1)%10
	rig.Must(t, r.Desk.Owners.OwnerCode(ctx, through(second, made), string(wrong)))
	if p, err = thing(r, second); err != nil || p.State != owners.LinkOpen || p.Tries != 2 || !strings.Contains(p.Said, "not the code") {
		t.Errorf("after a wrong code: %+v, %v", p, err)
	}
	rig.Must(t, r.Desk.Owners.OwnerCode(ctx, through(secret, made), code))
	if p, err = thing(r, secret); err != nil || p.State != owners.LinkDone || p.Digits != 0 {
		t.Errorf("after the right one: %+v, %v", p, err)
	}
	rig.Refused(t, r.Desk.Owners.OwnerCode(ctx, through(secret, made), code), problem.Conflict, "Answered today at")
	v, err := r.Desk.Boards.Listing(ctx, at)
	rig.Must(t, err)
	if v.State.VerifiedAt == nil || len(v.Links) != 1 || v.Links[0].OpenedAt == nil || v.Links[0].DoneAt == nil {
		t.Errorf("%+v", v.Links)
	}
	// No more reminders, and the database knows no secret.
	var remind, kept int
	rig.Must(t, r.Store.Pool.QueryRow(ctx, "select count(*) from owner_link where remind_at is not null").Scan(&remind))
	if remind != 0 {
		t.Error("it is still reminded of")
	}
	rig.Must(t, r.Store.Pool.QueryRow(ctx, "select count(*) from owner_token where encode(hash, 'escape') like '%' || $1 || '%'", secret).Scan(&kept))
	if kept != 0 {
		t.Error("the secret itself is kept")
	}
}

// A page does its one task and nothing else, and not once it is over.
func TestWhatAnOwnerPageCannotDo(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "waywren", "skerry"), t.Context()
	at := ownedShop(t, r, "fernlook", rig.Shop("Minnow Bay"))
	r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Postcard))
	made, err := r.Desk.Owners.MakeLink(ctx, r.Who, at, owners.LinkFor{Task: verification.TypeCode})
	rig.Must(t, err)
	secret := secretOf(made.Address)
	rig.Refused(t, r.Desk.Owners.OwnerPaper(ctx, through(secret, made), "bill.pdf", paint.Letter("x", "y")), problem.Conflict, "This page is for something else.")
	rig.Refused(t, r.Desk.Owners.OwnerTime(ctx, through(secret, made), r.Desk.Now()), problem.Conflict, "This page is for something else.")
	rig.Refused(t, r.Desk.Owners.OwnerCode(ctx, through(secret+"x", made), "123456"), problem.NotFound, "This address opens nothing.")
	_, err = thing(r, "")
	rig.Refused(t, err, problem.NotFound, "This address opens nothing.")
	rig.Must(t, r.Desk.Owners.WithdrawLink(ctx, r.Who.Actor(), made.ID))
	rig.Must(t, r.Desk.Owners.WithdrawLink(ctx, r.Who.Actor(), made.ID)) // twice does no harm
	if p, err := thing(r, secret); err != nil || p.State != owners.LinkShut || p.Digits != 0 {
		t.Errorf("%+v, %v", p, err)
	}
	rig.Refused(t, r.Desk.Owners.OwnerCode(ctx, through(secret, made), "123456"), problem.Conflict, "Ines Roake does not need it any more.")
	// Another code takes the place of the one that the page was for.
	first := at
	at = ledger.Place{Location: r.Add(t, rig.Shop("Port Sable")).Location, Directory: "waywren"}
	r.Held(t, at)
	s := r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Postcard))
	made, err = r.Desk.Owners.MakeLink(ctx, r.Who, at, owners.LinkFor{Task: verification.TypeCode})
	rig.Must(t, err)
	card := s.Attempt().ID
	_, err = r.Desk.Owners.MakeLink(ctx, r.Who, at, owners.LinkFor{Task: verification.TakeCall})
	rig.Refused(t, err, problem.Conflict, "A call would end what is under way there (postcard).")
	_, err = r.Desk.Owners.MakeLink(ctx, r.Who, at, owners.LinkFor{Task: verification.TakeCall, Instead: card})
	rig.Must(t, err)
	at = ledger.Place{Location: r.Add(t, rig.Workshop("Quillcote")).Location, Directory: "skerry"}
	r.Held(t, at)
	s = r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Postcard))
	made, err = r.Desk.Owners.MakeLink(ctx, r.Who, at, owners.LinkFor{Task: verification.TypeCode})
	rig.Must(t, err)
	r.Answered(t, at)(r.Desk.Listings.AskInsisting(ctx, r.Who.Actor(), at, rulebook.Email, listings.Insisting{Instead: s.Attempt().ID}))
	if p, err := thing(r, secretOf(made.Address)); err != nil || p.State != owners.LinkNotNeeded {
		t.Errorf("%+v, %v", p, err)
	}
	// Its time passes: that of the text, which is typed before the card that runs beside it.
	at = first
	r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Text))
	made, err = r.Desk.Owners.MakeLink(ctx, r.Who, at, owners.LinkFor{Task: verification.TypeCode})
	rig.Must(t, err)
	r.Move(t, time.Hour)
	if p, err := thing(r, secretOf(made.Address)); err != nil || p.State == owners.LinkOpen {
		t.Errorf("%+v, %v", p, err)
	}
	_, err = r.Desk.Owners.MakeLink(ctx, r.Who, at, owners.LinkFor{Task: "more"})
	rig.Refused(t, err, problem.Invalid, "for a code, a paper, a video, a call or a card payment")
	// Nothing is asked for that is of no use there.
	_, err = r.Desk.Owners.MakeLink(ctx, r.Who, at, owners.LinkFor{Task: verification.SendPaper, Mail: true})
	rig.Refused(t, err, problem.Conflict, "Fernlook takes no papers for this listing as it stands.")
}

func TestTheOwnerSendsAPaper(t *testing.T) {
	r, ctx := rig.Start(t, "waywren"), t.Context()
	at := ownedShop(t, r, "waywren", rig.Shop("Minnow Bay"))
	made, err := r.Desk.Owners.MakeLink(ctx, r.Who, at, owners.LinkFor{Task: verification.SendPaper})
	rig.Must(t, err)
	rig.Refused(t, r.Desk.Owners.OwnerPaper(ctx, through(secretOf(made.Address), made), "bill.pdf", []byte("no paper")), problem.Invalid, "")
	rig.Must(
		t,
		r.Desk.Owners.OwnerPaper(
			ctx,
			through(secretOf(made.Address), made),
			"bill.pdf",
			paint.Letter("Sound County Electric", "Utility bill, October 2026", "Spokeshave Cycle Works", "18 Tern Street"),
		),
	)
	v, err := r.Desk.Boards.Listing(ctx, at)
	rig.Must(t, err)
	sent(t, r, "The owner has sent the utility bill for Minnow Bay on Waywren", "Nothing that we can read speaks against it.")
	rig.Must(t, r.Desk.Listings.SeeFromOwner(ctx, r.Who.Actor(), at))
	if s := r.State(t, at); s.FromOwner != nil {
		t.Errorf("%+v", s.FromOwner)
	}
	if len(v.Papers) != 1 || v.Papers[0].AddedBy != "The owner" || v.Links[0].DoneAt == nil {
		t.Errorf("%+v", v.Papers)
	}
	if s := r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Papers)); s.Verification != verification.InReview {
		t.Errorf("%+v", s)
	}
}

// sent checks that what an owner has sent stands on Today, and in the listing's history.
func sent(t *testing.T, r *rig.Rig, title, says string) {
	t.Helper()
	today, err := rig.Tasks(r.Desk.Boards.Today(t.Context(), ledger.Scope{}, boards.TodayPage{}))
	rig.Must(t, err)
	for _, cell := range today {
		if task := cell.Task; task.Title == title && task.Group == agenda.Mine && strings.Contains(task.Says, says) {
			return
		}
	}
	t.Errorf("there is nothing of %q with %q among %+v", title, says, today)
}

// told counts how often a history tells something.
func told(events []verification.Event, what string) (n int) {
	for _, e := range events {
		if strings.Contains(e.Tell(rulebook.Rulebook{}), what) {
			n++
		}
	}
	return n
}

// A paper that will not do is said to be so at once, to the owner, who may send another, and to whoever asked for it.
func TestAPaperThatWillNotDo(t *testing.T) {
	r, ctx := rig.Start(t, "waywren"), t.Context()
	at := ownedShop(t, r, "waywren", rig.Shop("Minnow Bay"))
	made, err := r.Desk.Owners.MakeLink(ctx, r.Who, at, owners.LinkFor{Task: verification.SendPaper})
	rig.Must(t, err)
	page := func() owners.Thing {
		t.Helper()
		p, err := thing(r, secretOf(made.Address))
		rig.Must(t, err)
		return p
	}
	if p := page(); p.Sent != nil {
		t.Errorf("before: %+v", p.Sent)
	}
	send := func(lines ...string) {
		t.Helper()
		rig.Must(t, r.Desk.Owners.OwnerPaper(ctx, through(secretOf(made.Address), made), "bill.pdf", paint.Letter(lines[0], lines[1:]...)))
	}
	send("Sound County Electric", "Utility bill, October 2026", "Spokeshave Cycle Works", "81 Tern Street")
	if p := page(); p.State != owners.LinkOpen || p.Sent == nil || p.Sent.What != "the utility bill" || len(p.Sent.Doubts) != 1 ||
		p.Sent.Doubts[0] != "It shows another address, “81 Tern Street”. Send a paper with 18 Tern Street." {
		t.Errorf("%+v", p.Sent)
	}
	sent(t, r, "The owner has sent the utility bill for Minnow Bay on Waywren", "It shows another address")
	send("Sound County Electric", "Utility bill, October 2026", "Spokeshave Cycle Works", "18 Tern Street, Suite B")
	if p := page(); len(p.Sent.Told) != 1 ||
		p.Sent.Told[0] != "It names Suite B, and the listing does not. Send one without it, or tell us that you are in Suite B." {
		t.Errorf("%+v", p.Sent)
	}
	// They may say that it is the listing that is wrong: that opens a matter, and changes nothing.
	by := through(secretOf(made.Address), made)
	rig.Refused(t, r.Desk.Owners.OwnerSays(ctx, by, "We are in Suite C"), problem.Invalid, "That cannot be said here.")
	rig.Refused(t, r.Desk.Owners.OwnerSays(ctx, by, owners.NoCard), problem.Invalid, "That cannot be said here.")
	rig.Must(t, r.Desk.Owners.OwnerSays(ctx, by, "We are in Suite B"))
	rig.Must(t, r.Desk.Owners.OwnerSays(ctx, by, "We are in Suite B")) // twice does no harm
	sent(t, r, "The owner has answered about Minnow Bay on Waywren", "They say: “We are in Suite B.” It names Suite B, and the record names no unit.")
	if p := page(); p.State != owners.LinkOpen || p.Sent.Says != "We are in Suite B." || len(p.Sent.Told) != 1 {
		t.Errorf("%+v", p.Sent)
	}
	if l, err := r.Desk.Ledger.Location(ctx, at.Location); err != nil || l.Record.Address.Unit != "" {
		t.Errorf("the record says %+v, %v", l.Record.Address, err)
	}
	by.In = "fr"
	rig.Must(
		t,
		r.Desk.Owners.OwnerPaper(
			ctx,
			by,
			"facture.pdf",
			paint.Letter("Sound County Electric", "Utility bill, October 2026", "Spokeshave Cycle Works", "18 Tern Street, Suite B"),
		),
	)
	if p := page(); len(p.Sent.Told) != 1 || p.Sent.Says != "" || p.Sent.Claims[0] != "Nous sommes au Suite B" ||
		p.Sent.Doubts[0] != "It names Suite B, and the record names no unit. Put it into the record, or send a paper without it." {
		t.Errorf("%+v", p.Sent)
	}
	send("A menu", "Soup of the day")
	if p := page(); p.State != owners.LinkOpen || len(p.Sent.Doubts) != 1 || p.Sent.Doubts[0] != "It is none of the papers that Waywren takes." {
		t.Errorf("%+v", p)
	}
	send("Sound County Electric", "Utility bill, October 2026", "Spokeshave Cycle Works", "18 Tern Street")
	if p := page(); p.State != owners.LinkDone || p.Sent != nil {
		t.Errorf("%+v", p)
	}
	v, err := r.Desk.Boards.Listing(ctx, at)
	rig.Must(t, err)
	if n := told(v.History, "Sent what was asked for: the utility bill."); n != 4 {
		t.Errorf("the history tells it %d times: %v", n, v.History)
	}
	if s := r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Papers)); s.FromOwner != nil {
		t.Errorf("it is asked with it, and still not seen: %+v", s.FromOwner)
	}
}

// The owner chooses a time; at that time the call is asked for, and its code is typed on
// the same page.
func TestTheOwnerTakesACall(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	rec := rig.Shop("Minnow Bay")
	at := ownedShop(t, r, "fernlook", rec)
	for _, town := range []string{"Quillcote", "Fennick", "Three Herons"} { // not every listing is offered a call
		v, err := r.Desk.Boards.Listing(ctx, at)
		rig.Must(t, err)
		i := 0
		for i < len(v.Ways) && !(v.Ways[i].Method == rulebook.Call && v.Ways[i].Open) {
			i++
		}
		if i < len(v.Ways) {
			break
		}
		at = ownedShop(t, r, "fernlook", rig.Shop(town))
	}
	made, err := r.Desk.Owners.MakeLink(ctx, r.Who, at, owners.LinkFor{Task: verification.TakeCall})
	rig.Must(t, err)
	secret := secretOf(made.Address)
	p, err := thing(r, secret)
	rig.Must(t, err)
	if p.State != owners.LinkOpen || len(p.Times) < 10 {
		t.Fatalf("%+v", p)
	}
	rig.Refused(t, r.Desk.Owners.OwnerTime(ctx, through(secret, made), r.Desk.Now().Add(3*time.Hour+48*time.Minute)), problem.Conflict, "not open any more")
	rig.Must(t, r.Desk.Owners.OwnerTime(ctx, through(secret, made), p.Times[1]))
	if p, err = thing(r, secret); err != nil || p.State != owners.LinkWaiting || !strings.Contains(p.Words.How, "The call comes") {
		t.Fatalf("%+v, %v", p, err)
	}
	rig.Refused(t, r.Desk.Owners.OwnerCode(ctx, through(secret, made), "123456"), problem.NotFound, "no such attempt")
	r.Move(t, p.Times[1].Sub(r.Desk.Now())+time.Second)
	if p, err = thing(r, secret); err != nil || p.State != owners.LinkOpen || p.Digits != 6 {
		t.Fatalf("once called: %+v, %v", p, err)
	}
	code, err := r.World.Code(ctx, rec.MainPhone())
	rig.Must(t, err)
	rig.Must(t, r.Desk.Owners.OwnerCode(ctx, through(secret, made), code))
	if s := r.State(t, at); s.VerifiedAt == nil {
		t.Errorf("%+v", s)
	}
}
