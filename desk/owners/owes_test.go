package owners_test

import (
	"strings"
	"testing"
	"time"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/owners"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/e2e/rig"
)

// shops adds places of one client, and takes one of their listings each.
func shops(t *testing.T, r *rig.Rig, language string, towns map[string]string) (at map[string]ledger.Place) {
	t.Helper()
	c, err := r.Desk.Records.AddClient(t.Context(), r.Who.Actor(), records.ClientFacts{
		Name: "Spokeshave Cycle Works", OwnerName: "Dov Marsh", OwnerEmail: "dov@spokeshave.example", Language: language,
	})
	rig.Must(t, err)
	at = map[string]ledger.Place{}
	for town, directory := range towns {
		l, err := r.Desk.Records.AddLocation(t.Context(), r.Who.Actor(), c.ID, rig.Shop(town))
		rig.Must(t, err)
		at[town] = ledger.Place{Location: l.ID, Directory: directory}
		r.Held(t, at[town])
	}
	return at
}

// What one owner owes, over places and directories, is asked for in one letter and done on one page; what was handed on to
// somebody, or is another owner's, is not on it.
func TestOnePageForAllThatAnOwnerOwes(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "waywren"), t.Context()
	at := shops(t, r, "", map[string]string{"Minnow Bay": "fernlook", "Quillcote": "waywren", "Fennick": "fernlook"})
	theirs := ownedShop(t, r, "waywren", rig.Shop("Old Wharf"))
	for _, town := range []string{"Minnow Bay", "Fennick"} {
		r.Answered(t, at[town])(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at[town], rulebook.Postcard))
	}
	items := []owners.Asked{
		{Place: at["Minnow Bay"], Task: verification.TypeCode}, {Place: at["Fennick"], Task: verification.TypeCode},
		{Place: at["Quillcote"], Task: verification.SendPaper}, {Place: at["Fennick"], Task: verification.SendPaper},
	}
	asked, refused, err := r.Desk.Owners.AskMany(ctx, r.Who, items)
	if err != nil || asked != 3 || len(refused) != 1 || refused[items[3]] != "Fernlook takes no papers for this listing as it stands." {
		t.Fatalf("%d asked, %v, %v", asked, refused, err)
	}
	mails := mailsTo(t, r, "dov@spokeshave.example", 1)
	if len(mails) != 1 || mails[0].Title != "Three things, Dov" {
		t.Fatalf("%d letters: %+v", len(mails), mails)
	}
	body := mails[0].Body
	for _, says := range []string{"Hello Dov,", "Three things are open", "Minnow Bay: the code on the card", "Fennick: the code on the card", "Quillcote: a paper", "You need no account"} {
		if !strings.Contains(body, says) {
			t.Errorf("it does not say %q:\n%s", says, body)
		}
	}
	if n := strings.Count(body, "/o/"); n != 1 {
		t.Errorf("%d addresses", n)
	}
	secret := strings.Fields(body[strings.Index(body, "/o/")+3:])[0]
	alone, err := r.Desk.Owners.MakeLink(ctx, r.Who, at["Quillcote"], owners.LinkFor{Task: verification.SendPaper})
	rig.Must(t, err)
	other, err := r.Desk.Owners.MakeLink(ctx, r.Who, theirs, owners.LinkFor{Task: verification.SendPaper, Mail: true})
	rig.Must(t, err)
	for name, c := range map[string]struct {
		secret string
		things int
		head   string
	}{"the owner's": {secret, 3, "Three things, Dov"}, "handed on": {secretOf(alone.Address), 1, "One thing, Dov"}, "another's": {secretOf(other.Address), 1, "One thing, Dov"}} {
		p, err := r.Desk.Owners.OwnerPage(ctx, c.secret, "")
		if err != nil || len(p.Things) != c.things || p.Heading != c.head {
			t.Errorf("%s: %d things, %q, %v", name, len(p.Things), p.Heading, err)
		}
	}
	p, err := r.Desk.Owners.OwnerPage(ctx, secret, "fr")
	rig.Must(t, err)
	if p.Heading != "Trois choses, Dov" || p.In.Texts("page")["send_code"] != "Envoyer le code" {
		t.Errorf("in French: %q", p.Heading)
	}
	for _, thing := range p.Things {
		err := r.Desk.Owners.OwnerPaper(ctx, owners.Through{Secret: secretOf(alone.Address), Thing: thing.ID}, "bill.pdf", nil)
		rig.Refused(t, err, problem.NotFound, "This address opens nothing.")
	}
	// A card that cannot be found is told to whoever asked, and to nobody twice.
	r.Move(t, 20*24*time.Hour)
	if p, err = r.Desk.Owners.OwnerPage(ctx, secret, ""); err != nil || p.Things[0].Instead != owners.NoCard {
		t.Fatalf("%+v, %v", p, err)
	}
	by := owners.Through{Secret: secret, Thing: p.Things[0].ID}
	rig.Must(t, r.Desk.Owners.OwnerSays(ctx, by, owners.NoCard))
	rig.Refused(t, r.Desk.Owners.OwnerSays(ctx, by, owners.NoCard), problem.Invalid, "That cannot be said here.")
	place := strings.TrimSuffix(p.Things[0].Heading, ": the code on the card")
	sent(t, r, "The postcard for "+place+" on Fernlook is late", "The owner says: “I cannot find the card.”")
}

// An owner is reminded with growing pauses, of all at once, and not for ever: then they are to be rung.
func TestRemindersGrowAndEnd(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook"), t.Context()
	at := shops(t, r, "fr", map[string]string{"Minnow Bay": "fernlook", "Fennick": "fernlook"})
	for _, a := range at {
		r.Answered(t, a)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), a, rulebook.Postcard))
		_, err := r.Desk.Owners.MakeLink(ctx, r.Who, a, owners.LinkFor{Task: verification.TypeCode, Mail: true})
		rig.Must(t, err)
		mailsTo(t, r, "dov@spokeshave.example", 1)
	}
	start := r.Desk.Now()
	var days []int
	for n := len(mailsTo(t, r, "dov@spokeshave.example", 2)); r.Desk.Now().Sub(start) < 28*24*time.Hour; {
		r.Move(t, 24*time.Hour)
		if now := len(mailsTo(t, r, "dov@spokeshave.example", 0)); now != n {
			days, n = append(days, int(r.Desk.Now().Sub(start).Hours()/24)), now
		}
	}
	// The card is due from the ninth day on; until then there is nothing to remind of.
	if len(days) != 3 || days[1]-days[0] != 5 || days[2]-days[1] != 8 || days[0] < 9 {
		t.Errorf("letters on days %v", days)
	}
	mails := mailsTo(t, r, "dov@spokeshave.example", 5)
	if mails[0].Title != "Rappel : Deux choses, Dov" || !strings.Contains(mails[0].Body, "Minnow Bay : le code de la carte") ||
		!strings.Contains(mails[0].Body, "Bonjour Dov,") {
		t.Errorf("%q: %s", mails[0].Title, mails[0].Body)
	}
}

// What is asked for at a directory that is no more, or ended long ago, is not written about, and keeps nothing else waiting.
func TestWhatNobodyIsRemindedOf(t *testing.T) {
	r, ctx := rig.Start(t, "waywren"), t.Context()
	at := ownedShop(t, r, "waywren", rig.Shop("Minnow Bay"))
	made, err := r.Desk.Owners.MakeLink(ctx, r.Who, at, owners.LinkFor{Task: verification.SendPaper, Mail: true})
	rig.Must(t, err)
	mailsTo(t, r, "dov@spokeshave.example", 1)
	for _, spoil := range []string{
		"update owner_link set directory_id = 'gone', remind_at = $2 where id = $1",
		"update owner_link set directory_id = 'waywren', expires = $2::timestamptz - interval '40 days', remind_at = $2 where id = $1",
	} {
		_, err := r.Store.Pool.Exec(ctx, spoil, made.ID, r.Desk.Now())
		rig.Must(t, err)
		r.Eventually(t, func() bool {
			var due int
			err := r.Store.Pool.QueryRow(ctx, "select count(*) from owner_link where remind_at is not null").Scan(&due)
			return err == nil && due == 0
		})
	}
	if n := len(mailsTo(t, r, "dov@spokeshave.example", 1)); n != 1 {
		t.Errorf("%d letters", n)
	}
}

// A first letter that waits a moment for others is not lost where something else falls due meanwhile that has nothing to be told.
func TestAFirstLetterIsNotLost(t *testing.T) {
	r, ctx := rig.Start(t, "waywren"), t.Context()
	at := shops(t, r, "", map[string]string{"Minnow Bay": "waywren", "Quillcote": "waywren"})
	done, err := r.Desk.Owners.MakeLink(ctx, r.Who, at["Minnow Bay"], owners.LinkFor{Task: verification.SendPaper, Mail: true})
	rig.Must(t, err)
	mailsTo(t, r, "dov@spokeshave.example", 1)
	made, err := r.Desk.Owners.MakeLink(ctx, r.Who, at["Quillcote"], owners.LinkFor{Task: verification.SendPaper})
	rig.Must(t, err)
	// One is over and falls due; the other was asked for with more to come.
	tx, err := r.Store.Pool.Begin(ctx)
	rig.Must(t, err)
	_, err = tx.Exec(ctx, "update owner_link set done_at = $2, remind_at = $2 where id = $1", done.ID, r.Desk.Now())
	rig.Must(t, err)
	_, err = tx.Exec(ctx, "update owner_link set sent_to = 'dov@spokeshave.example', remind_at = $2 where id = $1", made.ID, r.Desk.Now().Add(time.Minute))
	rig.Must(t, err)
	rig.Must(t, tx.Commit(ctx))
	due := func(id any) (n int) {
		rig.Must(
			t,
			r.Store.Pool.QueryRow(
				ctx,
				"select count(*) from owner_link where id = $1 and reminded = 0 and remind_at is not null or id = $1 and done_at is not null and remind_at is not null",
				id,
			).Scan(
				&n,
			),
		)
		return n
	}
	r.Eventually(t, func() bool { return due(done.ID) == 0 })
	if due(made.ID) != 1 || len(mailsTo(t, r, "dov@spokeshave.example", 1)) != 1 {
		t.Fatal("the other is taken for told, or told alone")
	}
	r.Move(t, 2*time.Minute)
	if mails := mailsTo(t, r, "dov@spokeshave.example", 2); len(mails) != 2 || !strings.Contains(mails[0].Body, "One of these will do") {
		t.Errorf("%d letters", len(mails))
	}
}
