package people_test

import (
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"uvent/core/fact/calendar"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/desk/rounds"
	"uvent/e2e/rig"
)

var secretPattern = regexp.MustCompile(`/invitation/(\S+)`)

func TestInviting(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	r.Desk.People.ServeAt("https://uvent.example")
	here := r.Add(t, rig.Shop("Minnow Bay"))
	l, err := r.Desk.Ledger.Location(ctx, here.Location)
	rig.Must(t, err)
	there, some := here.Location, []uuid.UUID{l.ClientID}
	for _, c := range []struct {
		email string
		b     people.Bounds
		says  string
	}{
		{"nobody", people.Bounds{Role: people.Helper}, "email: "},
		{r.Who.Email, people.Bounds{Role: people.Helper}, "signs in with it already"},
		{"a@b.example", people.Bounds{Role: "captain"}, "role: choose"},
		{"a@b.example", people.Bounds{Role: people.OfClient}, "client: say of which"},
		{"a@b.example", people.Bounds{Role: people.Helper, Client: &l.ClientID}, "client: only the role of client"},
		{"a@b.example", people.Bounds{Role: people.OfClient, Client: &there}, "client: there is no such client"},
		{"a@b.example", people.Bounds{Role: people.Administrator, Clients: some}, "clients: only a specialist or a helper"},
		{"a@b.example", people.Bounds{Role: people.OfClient, Client: &l.ClientID, Clients: some}, "clients: only a specialist or a helper"},
		{"a@b.example", people.Bounds{Role: people.Helper, Clients: []uuid.UUID{}}, "clients: choose at least one"},
		{"a@b.example", people.Bounds{Role: people.Helper, Clients: []uuid.UUID{l.ClientID, there}}, "clients: there is no such client"},
	} {
		_, _, err := r.Desk.People.Invite(ctx, r.Who, c.email, c.b)
		rig.Refused(t, err, problem.Invalid, c.says)
	}
	i, address, err := r.Desk.People.Invite(ctx, r.Who, " Oda@Spokeshave.example", people.Bounds{Role: people.OfClient, Client: &l.ClientID})
	rig.Must(t, err)
	secret := strings.TrimPrefix(address, "https://uvent.example/invitation/")
	r.Eventually(t, func() bool {
		list, err := r.World.Arrivals(ctx, "oda@spokeshave.example")
		return err == nil && len(list) == 1 && secretPattern.FindStringSubmatch(list[0].Body)[1] == secret
	})
	if open, err := r.Desk.People.Invitations(ctx); err != nil || len(open) != 1 || open[0].ID != i.ID {
		t.Errorf("%+v, %v", open, err)
	}
	var kept int
	rig.Must(
		t,
		r.Store.Pool.QueryRow(
			ctx,
			"select count(*) from invitation where encode(hash, 'escape') like '%' || $1 || '%' or invitation::text like '%' || $1 || '%'",
			secret,
		).Scan(&kept),
	)
	if kept > 0 {
		t.Error("the secret itself is kept")
	}
	_, err = r.Desk.People.Join(ctx, "guessed", people.Newcomer{Name: "Oda", Password: "harbour-lantern-thimble", Zone: "America/Los_Angeles"})
	rig.Refused(t, err, problem.NotFound, "cannot be used any more")
	_, err = r.Desk.People.Join(ctx, secret, people.Newcomer{Name: "Oda", Password: "short", Zone: "America/Los_Angeles"})
	rig.Refused(t, err, problem.Invalid, "password: ")
	p, err := r.Desk.People.Join(ctx, secret, people.Newcomer{Name: "Oda Kettering", Password: "harbour-lantern-thimble", Zone: "America/Los_Angeles"})
	if err != nil || p.Role != people.OfClient || *p.Client != l.ClientID || p.Email != "oda@spokeshave.example" {
		t.Fatalf("%+v, %v", p, err)
	}
	_, err = r.Desk.People.Join(ctx, secret, people.Newcomer{Name: "Oda", Password: "harbour-lantern-thimble", Zone: "America/Los_Angeles"})
	rig.Refused(t, err, problem.NotFound, "cannot be used any more")

	// One that is old, and one that was taken back.
	_, address, err = r.Desk.People.Invite(ctx, r.Who, "old@b.example", people.Bounds{Role: people.Helper})
	rig.Must(t, err)
	again, second, err := r.Desk.People.Invite(ctx, r.Who, "back@b.example", people.Bounds{Role: people.Helper})
	rig.Must(t, err)
	rig.Must(t, r.Desk.People.Uninvite(ctx, r.Who.Actor(), again.ID))
	rig.Refused(t, r.Desk.People.Uninvite(ctx, r.Who.Actor(), again.ID), problem.NotFound, "no such open invitation")
	_, err = r.Desk.People.InvitedWith(ctx, strings.TrimPrefix(second, "https://uvent.example/invitation/"))
	rig.Refused(t, err, problem.NotFound, "cannot be used any more")
	r.Move(t, 15*24*time.Hour)
	_, err = r.Desk.People.InvitedWith(ctx, strings.TrimPrefix(address, "https://uvent.example/invitation/"))
	rig.Refused(t, err, problem.NotFound, "cannot be used any more")
}

func TestTakingOver(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	leaves, err := r.Desk.People.AddPerson(
		ctx,
		people.Person{Name: "Tobias Finch", Email: "tobias@agency.example", Zone: "America/New_York", Role: people.Specialist},
		rig.Password,
	)
	rig.Must(t, err)
	_, err = r.Desk.Records.SaveAccount(
		ctx,
		who,
		nil,
		records.AccountFacts{Directory: "fernlook", Email: "a@agency.example", Holder: leaves.Name, Person: &leaves.ID},
	)
	rig.Must(t, err)
	_, _, err = r.Desk.People.TakeOver(ctx, who, leaves.ID, leaves.ID)
	rig.Refused(t, err, problem.Conflict, "Name somebody else")
	_, _, err = r.Desk.People.TakeOver(ctx, who, leaves.ID, uuid.New())
	rig.Refused(t, err, problem.NotFound, "to take it over")
	_, _, err = r.Desk.People.TakeOver(ctx, who, r.Who.ID, leaves.ID)
	rig.Refused(t, err, problem.Conflict, "Somebody has to administer")
	_, err = r.Desk.People.ChangeRole(ctx, who, r.Who.ID, people.Bounds{Role: people.Helper})
	rig.Refused(t, err, problem.Conflict, "Somebody has to administer")
	accounts, _, err := r.Desk.People.TakeOver(ctx, who, leaves.ID, r.Who.ID)
	if err != nil || accounts != 1 {
		t.Errorf("%d accounts, %v", accounts, err)
	}
	_, _, err = r.Desk.People.SignIn(ctx, people.Credentials{Email: "tobias@agency.example", Password: rig.Password, Address: "192.0.2.1"})
	rig.Refused(t, err, problem.Denied, "do not belong together")
	if _, err = r.Desk.People.AddPerson(
		ctx,
		people.Person{Name: "Another Tobias", Email: "tobias@agency.example", Zone: "America/New_York", Role: people.Helper},
		rig.Password,
	); err != nil {
		t.Errorf("the address is not free again: %v", err)
	}
}

// Whoever works for some clients alone sees those, and none where none is left; and nothing that was done to those of
// others with them.
func TestLimitsByClient(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	r.Desk.People.ServeAt("https://uvent.example")
	mine, theirs := r.Add(t, rig.Shop("Minnow Bay")), r.Add(t, rig.Shop("Fennick"))
	clientOf := func(at ledger.Place) uuid.UUID {
		l, err := r.Desk.Ledger.Location(ctx, at.Location)
		rig.Must(t, err)
		return l.ClientID
	}
	some := []uuid.UUID{clientOf(mine)}
	_, address, err := r.Desk.People.Invite(ctx, r.Who, "lim@agency.example", people.Bounds{Role: people.Specialist, Clients: some})
	rig.Must(t, err)
	p, err := r.Desk.People.Join(
		ctx,
		strings.TrimPrefix(address, "https://uvent.example/invitation/"),
		people.Newcomer{Name: "Lim Ardwell", Password: rig.Password, Zone: "America/Los_Angeles"},
	)
	rig.Must(t, err)
	p, err = r.Desk.People.Person(ctx, p.ID)
	rig.Must(t, err)
	if !slices.Equal(p.Clients, some) || !p.May(people.SendOut) {
		t.Fatalf("%+v", p)
	}

	round := func(at ...ledger.Place) uuid.UUID {
		items := make([]rounds.RoundItem, len(at))
		for i, p := range at {
			items[i].Place = p
		}
		id, err := r.Desk.Rounds.StartRound(ctx, r.Who.Actor(), rounds.ToSearch, items)
		rig.Must(t, err)
		return id
	}
	closed := func(ids ...uuid.UUID) uuid.UUID {
		day := calendar.Date{Year: 2031, Month: time.March, Day: 4}
		change, _, err := r.Desk.Records.DecideDates(ctx, r.Who.Actor(), records.DateDecision{Locations: ids, Dates: []records.Span{{From: day, To: day}}})
		rig.Must(t, err)
		return change
	}
	for name, at := range map[string]struct {
		clients, things []uuid.UUID
		reached         bool
	}{
		"nothing":                     {nil, nil, true},
		"a client":                    {some, nil, true},
		"another client":              {[]uuid.UUID{clientOf(theirs)}, nil, false},
		"a location":                  {nil, []uuid.UUID{mine.Location}, true},
		"another's location":          {nil, []uuid.UUID{mine.Location, theirs.Location}, false},
		"what there is not":           {nil, []uuid.UUID{mine.Location, uuid.New()}, false},
		"a round":                     {nil, []uuid.UUID{round(mine)}, true},
		"a round with another's":      {nil, []uuid.UUID{round(mine, theirs)}, false},
		"a change":                    {nil, []uuid.UUID{closed(mine.Location)}, true},
		"a change that has another's": {nil, []uuid.UUID{closed(mine.Location, theirs.Location)}, false},
	} {
		if got, err := r.Desk.People.Reaches(ctx, p, at.clients, at.things); err != nil || got != at.reached {
			t.Errorf("%s: %v, %v", name, got, err)
		}
		if got, err := r.Desk.People.Reaches(ctx, r.Who, at.clients, at.things); err != nil || !got {
			t.Errorf("%s, by who sees all: %v, %v", name, got, err)
		}
	}

	_, _, err = r.Desk.People.TakeOver(ctx, r.Who.Actor(), uuid.New(), p.ID)
	rig.Refused(t, err, problem.Conflict, "works for some clients only")

	_, err = r.Desk.Records.PutClientAway(ctx, r.Who.Actor(), some[0])
	rig.Must(t, err)
	r.Move(t, records.EraseAfter+24*time.Hour)
	r.Eventually(t, func() bool {
		p, err = r.Desk.People.Person(ctx, p.ID)
		return err == nil && len(p.Clients) == 0
	})
	if ok, err := r.Desk.People.Reaches(ctx, p, []uuid.UUID{clientOf(theirs)}, nil); err != nil || ok || !p.Limited() {
		t.Errorf("with no client left, all are theirs: %v, %v", p.Clients, err)
	}
	p, err = r.Desk.People.ChangeRole(ctx, r.Who.Actor(), p.ID, people.Bounds{Role: people.Specialist})
	if err != nil || p.Limited() {
		t.Errorf("%+v, %v", p, err)
	}
}
