// Package rig sets up all of Uvent for a test: a database of its own, the
// outside as a server, a desk at work and, where it is asked for, the
// application as a browser reaches it.
package rig

import (
	"context"

	"log/slog"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"

	"uvent/core/fact/address"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/desk/clockwork"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/records"
	"uvent/httpapi"
	"uvent/outside"
	"uvent/outside/visit"
	"uvent/reach"
	"uvent/rulebooks"
	"uvent/sealing"
	"uvent/store"
	"uvent/store/storetest"
	"uvent/web"
)

// Account is the one by which directories know the rig's agency.
const Account = "listings@agency.example"

// Password opens the account of Who.
const Password = "lantern-harbour-thimble"

// Pacific is where the rig's locations are.
var Pacific = func() *time.Location {
	zone, err := time.LoadLocation("America/Los_Angeles")
	if err != nil {
		panic(err)
	}
	return zone
}()

// Begins is when a rig's clock starts: a Tuesday morning, two days before a
// public holiday.
var Begins = time.Date(2026, time.November, 24, 9, 12, 0, 0, Pacific)

// cheap is a cost that a test can afford.
var cheap = people.Cost{Time: 1, Memory: 8, Threads: 1}

// Rig is a Uvent at work.
type Rig struct {
	Store *store.Store
	World visit.World
	Reach *reach.Reach
	Clock *reach.SharedClock
	Desk  *clockwork.Desk
	Who   people.Person
	Quiet *slog.Logger
	Key   sealing.Key
	Post  string // where the mail server of the outside listens
}

// Start makes a rig with some of the directories that ship, by their ids; Fernlook
// alone where none is named. It ends with its test, which runs beside others.
func Start(t testing.TB, directories ...string) *Rig {
	t.Helper()
	if t, ok := t.(*testing.T); ok {
		t.Parallel() // what it does is waiting, for the most part
	}
	return Alone(t, directories...)
}

// Alone is Start for a test that measures what others would disturb: it runs by itself.
func Alone(t testing.TB, directories ...string) *Rig {
	t.Helper()
	if directories == nil {
		directories = []string{"fernlook"}
	}
	ctx := t.Context()
	url := storetest.URL(t)
	log := &faults{}
	quiet := slog.New(slog.NewTextHandler(log, &slog.HandlerOptions{Level: slog.LevelError}))
	o, err := outside.Open(ctx, url, "127.0.0.1:0", Begins, quiet)
	Must(t, err)
	server := httptest.NewServer(o.Handler())
	running, stop := context.WithCancel(context.Background())
	ran := make(chan struct{}, 2)
	go func() { o.Run(running); ran <- struct{}{} }()

	s, err := store.Open(ctx, url)
	Must(t, err)
	r := &Rig{
		Store: s,
		World: visit.World{Base: server.URL},
		Reach: reach.New(server.URL, Account).WithMail(reach.MailServer{Address: o.MailAddr()}),
		Quiet: quiet,
		Key:   sealing.New(),
		Post:  o.MailAddr(),
	}
	r.Clock, err = r.Reach.Follow(ctx)
	Must(t, err)
	var books []rulebook.Rulebook
	for _, id := range directories {
		b, err := rulebooks.Read(id)
		Must(t, err)
		books = append(books, b)
	}
	r.Desk, err = clockwork.New(clockwork.Parts{Store: s, Reach: r.Reach, Clock: r.Clock, Books: books, Log: quiet, Cost: cheap, Key: r.Key})
	Must(t, err)
	go func() { _ = r.Desk.Run(running); ran <- struct{}{} }()
	r.Who, err = r.Desk.People.AddPerson(ctx, people.Person{Email: "ines@agency.example", Name: "Ines Roake", Zone: "America/Los_Angeles"}, Password)
	Must(t, err)
	t.Cleanup(func() {
		if t.Failed() {
			t.Logf("what went wrong meanwhile:\n%s", log)
		}
		stop()
		<-ran
		<-ran
		if _, test := t.(*testing.T); test {
			r.replays(t)
		}
		server.CloseClientConnections()
		server.Close()
		s.Close()
		o.Close()
	})
	return r
}

// faults keeps what was logged as an error, to be told where a test fails.
type faults struct {
	sync.Mutex
	strings.Builder
}

// Write keeps it.
func (f *faults) Write(p []byte) (int, error) {
	f.Lock()
	defer f.Unlock()
	return f.Builder.Write(p)
}

// String is all that was kept.
func (f *faults) String() string {
	f.Lock()
	defer f.Unlock()
	return f.Builder.String()
}

// replays checks that what is kept of each listing is what all that happened to it leads to.
func (r *Rig) replays(t testing.TB) {
	t.Helper()
	done, err := r.Desk.Ledger.Replay(context.Background(), false)
	if err != nil {
		t.Errorf("the log cannot be replayed: %v", err)
	}
	for _, d := range done.Differ {
		t.Errorf("%s on %s is kept as\n%s\nand its events lead to\n%s", d.Location, d.Directory, d.Kept, d.Replayed)
	}
}

// Second is another server on the same database, at work beside the first.
func (r *Rig) Second(t testing.TB) *Rig {
	t.Helper()
	return r.WithHeads(t, clockwork.Heads{})
}

// WithHeads is Second for a server that sends the heads of the log out.
func (r *Rig) WithHeads(t testing.TB, heads clockwork.Heads) *Rig {
	t.Helper()
	s, err := store.Open(t.Context(), r.Store.Pool.Config().ConnString())
	Must(t, err)
	d, err := clockwork.New(
		clockwork.Parts{Store: s, Reach: r.Reach, Clock: r.Clock, Books: r.Desk.Shelf.Books(), Log: r.Quiet, Cost: cheap, Key: r.Key, Heads: heads},
	)
	Must(t, err)
	running, stop := context.WithCancel(context.Background())
	ran := make(chan struct{})
	go func() { _ = d.Run(running); close(ran) }()
	t.Cleanup(func() { stop(); <-ran; s.Close() })
	two := *r
	two.Store, two.Desk = s, d
	return &two
}

// Serve serves the application and returns its address.
func (r *Rig) Serve(t testing.TB) string {
	t.Helper()
	ctx, cancel := context.WithCancel(context.Background())
	handler, err := httpapi.New(ctx, httpapi.Options{Desk: r.Desk, Sessions: r.Store.Sessions(), Files: web.Files(), Outside: r.World.Base, Log: r.Quiet})
	Must(t, err)
	t.Cleanup(cancel)
	base := Serving(t, handler)
	r.Desk.People.ServeAt(base)
	return base
}

// Serving serves a handler as the program does, and returns its address.
func Serving(t testing.TB, h http.Handler) string {
	t.Helper()
	server := httptest.NewUnstartedServer(nil)
	server.Config, server.Listener = httpapi.Listen(server.Listener, h)
	server.Start()
	t.Cleanup(func() { server.CloseClientConnections(); server.Close() })
	return strings.Replace(server.URL, "127.0.0.1", "localhost", 1) // passkeys need a name
}

// Shop is a record in good order: a shop that is open on Tuesdays from 9 to 12
// and 13 to 18, with a phone that takes calls and texts, and an email on its
// website's domain.
func Shop(label string) record.Record {
	return record.Record{
		Label: label, Name: "Spokeshave Cycle Works", Kind: record.Premises,
		Address: address.Address{Street: "18 Tern Street", Locality: label, Region: "WA", PostalCode: "98990", Country: "US"},
		Mailing: record.Mailing{Contact: "Dov Marsh"}, Pin: &record.Pin{Latitude: 48.61, Longitude: -124.95},
		Phones: []record.Phone{{E164: "+13605550142", Voice: true, Text: true}}, Email: "shop@spokeshave.example", Website: "https://spokeshave.example/shop",
		Category: "bicycle_repair", Hours: "Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00",
	}
}

// Workshop is a shop that every directory that ships takes, as far as words go.
func Workshop(label string) record.Record {
	rec := Shop(label)
	rec.StoreCode, rec.LegalName, rec.Address.Street, rec.Address.PostalCode = "SCW-01", "Spokeshave Cycle Works LLC", "12 Harbour Street", "98991"
	rec.Company = record.Company{Registration: "604 117 220", Size: "2-10", Kind: "limited company", Industry: "Repair", Founded: "1998"}
	rec.Licences = []record.Licence{{Name: "Trade", Number: "SCBT-40712"}}
	rec.Words = record.Words{
		Tagline:      "Wheels, by the water",
		Short:        "We mend bicycles.",
		Medium:       "We mend bicycles, by the water.",
		Long:         "We mend bicycles, by the water.",
		Story:        "It began with a bell.",
		Keywords:     []string{"bicycles", "repair"},
		Specialities: []string{"wheels"},
	}
	rec.Offerings = []record.Section{{Title: "Repairs", Items: []record.Item{{Name: "Puncture", Price: "18"}}}}
	return rec
}

// Add adds a location, under a client of its own, and returns its place on
// Fernlook.
func (r *Rig) Add(t testing.TB, rec record.Record) ledger.Place {
	t.Helper()
	c, err := r.Desk.Records.AddClient(t.Context(), r.Who.Actor(), records.ClientFacts{Name: "Client of " + rec.Label, OwnerName: "Dov Marsh"})
	Must(t, err)
	l, err := r.Desk.Records.AddLocation(t.Context(), r.Who.Actor(), c.ID, rec)
	Must(t, err)
	return ledger.Place{Location: l.ID, Directory: "fernlook"}
}

// Answered waits for a directory's answer to a verb, and tells where the
// listing stands then.
func (r *Rig) Answered(t testing.TB, at ledger.Place) func(call uuid.UUID, err error) verification.State {
	return func(call uuid.UUID, err error) verification.State {
		t.Helper()
		Must(t, err)
		for range 10 { // for as long as a busy machine takes
			done, err := r.Desk.Ledger.Await(t.Context(), call)
			Must(t, err)
			if done {
				return r.State(t, at)
			}
		}
		t.Fatal("no answer")
		return verification.State{}
	}
}

// State is where a listing stands.
func (r *Rig) State(t testing.TB, at ledger.Place) verification.State {
	t.Helper()
	v, err := r.Desk.Boards.Listing(t.Context(), at)
	Must(t, err)
	return v.State
}

// Held searches and creates a listing.
func (r *Rig) Held(t testing.TB, at ledger.Place) verification.State {
	t.Helper()
	r.Answered(t, at)(r.Desk.Listings.Search(t.Context(), r.Who.Actor(), at))
	s := r.Answered(t, at)(r.Desk.Listings.Create(t.Context(), r.Who.Actor(), at, ""))
	if s.Control != verification.Held {
		t.Fatalf("not held: %+v", s)
	}
	return s
}

// Verified proves a held listing ours by a text to its phone.
func (r *Rig) Verified(t testing.TB, at ledger.Place) verification.State {
	t.Helper()
	l, err := r.Desk.Ledger.Location(t.Context(), at.Location)
	Must(t, err)
	s := r.Answered(t, at)(r.Desk.Listings.AskCode(t.Context(), r.Who.Actor(), at, "text"))
	code, err := r.World.Code(t.Context(), l.Record.MainPhone())
	Must(t, err)
	return r.Answered(t, at)(r.Desk.Listings.EnterCode(t.Context(), r.Who.Actor(), at, s.Attempt().ID, code))
}

// Move moves the clock on.
func (r *Rig) Move(t testing.TB, by time.Duration) {
	t.Helper()
	to := r.Desk.Now().Add(by)
	Must(t, r.Desk.MoveClock(t.Context(), clockwork.Move{To: &to}))
}

// Must ends the test on an error.
func Must(t testing.TB, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}
