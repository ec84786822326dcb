package people_test

import (
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/e2e/rig"
)

var secretPattern = regexp.MustCompile(`/invitation/(\S+)`)

func TestInviting(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	r.Desk.People.ServeAt("https://uvent.example")
	here := r.Add(t, rig.Shop("Minnow Bay"))
	l, err := r.Desk.Ledger.Location(ctx, here.Location)
	rig.Must(t, err)
	for _, c := range []struct {
		email  string
		role   people.Role
		client *uuid.UUID
		says   string
	}{{"nobody", people.Helper, nil, "email: "}, {r.Who.Email, people.Helper, nil, "signs in with it already"}, {"a@b.example", "captain", nil, "role: choose"}, {"a@b.example", people.OfClient, nil, "client: say of which"},
		{"a@b.example", people.Helper, &l.ClientID, "client: only the role of client"}, {"a@b.example", people.OfClient, &here.Location, "client: there is no such client"}} {
		_, _, err := r.Desk.People.Invite(ctx, r.Who, c.email, c.role, c.client)
		rig.Refused(t, err, problem.Invalid, c.says)
	}
	i, address, err := r.Desk.People.Invite(ctx, r.Who, " Oda@Spokeshave.example", people.OfClient, &l.ClientID)
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
	_, err = r.Desk.People.Join(ctx, "guessed", "Oda", "harbour-lantern-thimble", "America/Los_Angeles")
	rig.Refused(t, err, problem.NotFound, "cannot be used any more")
	_, err = r.Desk.People.Join(ctx, secret, "Oda", "short", "America/Los_Angeles")
	rig.Refused(t, err, problem.Invalid, "password: ")
	p, err := r.Desk.People.Join(ctx, secret, "Oda Kettering", "harbour-lantern-thimble", "America/Los_Angeles")
	if err != nil || p.Role != people.OfClient || *p.Client != l.ClientID || p.Email != "oda@spokeshave.example" {
		t.Fatalf("%+v, %v", p, err)
	}
	_, err = r.Desk.People.Join(ctx, secret, "Oda", "harbour-lantern-thimble", "America/Los_Angeles")
	rig.Refused(t, err, problem.NotFound, "cannot be used any more")

	// One that is old, and one that was taken back.
	_, address, err = r.Desk.People.Invite(ctx, r.Who, "old@b.example", people.Helper, nil)
	rig.Must(t, err)
	again, second, err := r.Desk.People.Invite(ctx, r.Who, "back@b.example", people.Helper, nil)
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
	_, err = r.Desk.People.ChangeRole(ctx, who, r.Who.ID, people.Helper, nil)
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
