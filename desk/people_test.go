package desk_test

import (
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/pquerna/otp/totp"

	"uvent/desk"
	"uvent/e2e/rig"
)

var secretPattern = regexp.MustCompile(`/invitation/(\S+)`)

func TestInviting(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	r.Desk.ServeAt("https://uvent.example")
	here := r.Add(t, rig.Shop("Minnow Bay"))
	l, err := r.Desk.Location(ctx, here.Location)
	rig.Must(t, err)
	for _, c := range []struct {
		email  string
		role   desk.Role
		client *uuid.UUID
		says   string
	}{{"nobody", desk.Helper, nil, "email: "}, {r.Who.Email, desk.Helper, nil, "signs in with it already"}, {"a@b.example", "captain", nil, "role: choose"}, {"a@b.example", desk.OfClient, nil, "client: say of which"},
		{"a@b.example", desk.Helper, &l.ClientID, "client: only the role of client"}, {"a@b.example", desk.OfClient, &here.Location, "client: there is no such client"}} {
		_, _, err := r.Desk.Invite(ctx, r.Who, c.email, c.role, c.client)
		rig.Refused(t, err, desk.Invalid, c.says)
	}
	i, address, err := r.Desk.Invite(ctx, r.Who, " Oda@Spokeshave.example", desk.OfClient, &l.ClientID)
	rig.Must(t, err)
	secret := strings.TrimPrefix(address, "https://uvent.example/invitation/")
	rig.Eventually(t, func() bool {
		list, err := r.World.Arrivals(ctx, "oda@spokeshave.example")
		return err == nil && len(list) == 1 && secretPattern.FindStringSubmatch(list[0].Body)[1] == secret
	})
	if open, err := r.Desk.Invitations(ctx); err != nil || len(open) != 1 || open[0].ID != i.ID {
		t.Errorf("%+v, %v", open, err)
	}
	var kept int
	rig.Must(t, r.Store.Pool.QueryRow(ctx, "select count(*) from invitation where encode(hash, 'escape') like '%' || $1 || '%' or invitation::text like '%' || $1 || '%'", secret).Scan(&kept))
	if kept > 0 {
		t.Error("the secret itself is kept")
	}
	_, err = r.Desk.Join(ctx, "guessed", "Oda", "harbour-lantern", "America/Los_Angeles")
	rig.Refused(t, err, desk.NotFound, "cannot be used any more")
	_, err = r.Desk.Join(ctx, secret, "Oda", "short", "America/Los_Angeles")
	rig.Refused(t, err, desk.Invalid, "password: ")
	p, err := r.Desk.Join(ctx, secret, "Oda Kettering", "harbour-lantern", "America/Los_Angeles")
	if err != nil || p.Role != desk.OfClient || *p.Client != l.ClientID || p.Email != "oda@spokeshave.example" {
		t.Fatalf("%+v, %v", p, err)
	}
	_, err = r.Desk.Join(ctx, secret, "Oda", "harbour-lantern", "America/Los_Angeles")
	rig.Refused(t, err, desk.NotFound, "cannot be used any more")

	// One that is old, and one that was taken back.
	_, address, err = r.Desk.Invite(ctx, r.Who, "old@b.example", desk.Helper, nil)
	rig.Must(t, err)
	again, second, err := r.Desk.Invite(ctx, r.Who, "back@b.example", desk.Helper, nil)
	rig.Must(t, err)
	rig.Must(t, r.Desk.Uninvite(ctx, r.Who.Actor(), again.ID))
	rig.Refused(t, r.Desk.Uninvite(ctx, r.Who.Actor(), again.ID), desk.NotFound, "no such open invitation")
	_, err = r.Desk.InvitedWith(ctx, strings.TrimPrefix(second, "https://uvent.example/invitation/"))
	rig.Refused(t, err, desk.NotFound, "cannot be used any more")
	r.Move(t, 15*24*time.Hour)
	_, err = r.Desk.InvitedWith(ctx, strings.TrimPrefix(address, "https://uvent.example/invitation/"))
	rig.Refused(t, err, desk.NotFound, "cannot be used any more")
}

func TestTakingOver(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	leaves, err := r.Desk.AddPerson(ctx, desk.Person{Name: "Tobias Finch", Email: "tobias@agency.example", Zone: "America/New_York", Role: desk.Specialist}, rig.Password)
	rig.Must(t, err)
	_, err = r.Desk.SaveAccount(ctx, who, nil, desk.AccountFacts{Directory: "fernlook", Email: "a@agency.example", Holder: leaves.Name, Person: &leaves.ID})
	rig.Must(t, err)
	_, _, err = r.Desk.TakeOver(ctx, who, leaves.ID, leaves.ID)
	rig.Refused(t, err, desk.Conflict, "Name somebody else")
	_, _, err = r.Desk.TakeOver(ctx, who, leaves.ID, uuid.New())
	rig.Refused(t, err, desk.NotFound, "to take it over")
	_, _, err = r.Desk.TakeOver(ctx, who, r.Who.ID, leaves.ID)
	rig.Refused(t, err, desk.Conflict, "Somebody has to administer")
	_, err = r.Desk.ChangeRole(ctx, who, r.Who.ID, desk.Helper, nil)
	rig.Refused(t, err, desk.Conflict, "Somebody has to administer")
	accounts, _, err := r.Desk.TakeOver(ctx, who, leaves.ID, r.Who.ID)
	if err != nil || accounts != 1 {
		t.Errorf("%d accounts, %v", accounts, err)
	}
	_, err = r.Desk.SignIn(ctx, "tobias@agency.example", rig.Password, "", "192.0.2.1")
	rig.Refused(t, err, desk.Denied, "do not belong together")
	if _, err = r.Desk.AddPerson(ctx, desk.Person{Name: "Another Tobias", Email: "tobias@agency.example", Zone: "America/New_York", Role: desk.Helper}, rig.Password); err != nil {
		t.Errorf("the address is not free again: %v", err)
	}
}

func TestKeysForPrograms(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	_, _, err := r.Desk.MakeKey(ctx, r.Who, " ", "all")
	rig.Refused(t, err, desk.Invalid, "name: say what it is for")
	k, secret, err := r.Desk.MakeKey(ctx, r.Who, "Nightly export", "see")
	rig.Must(t, err)
	p, err := r.Desk.WithKey(ctx, secret)
	if err != nil || p.ID != r.Who.ID || !p.May(desk.See) || p.May(desk.Edit) || p.May(desk.Administer) || p.May(desk.Oneself) {
		t.Errorf("%+v, %v", p, err)
	}
	if list, err := r.Desk.Keys(ctx, r.Who); err != nil || len(list) != 1 || list[0].UsedAt == nil {
		t.Errorf("%+v, %v", list, err)
	}
	rig.Must(t, r.Desk.EndKey(ctx, r.Who, k.ID))
	_, err = r.Desk.WithKey(ctx, secret)
	rig.Refused(t, err, desk.Denied, "not known, or has ended")
}

func TestASecondFactor(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	secret, address, err := r.Desk.SecondFactor(r.Who)
	if err != nil || !strings.HasPrefix(address, "otpauth://totp/Uvent:") {
		t.Fatalf("%q, %v", address, err)
	}
	rig.Refused(t, r.Desk.KeepSecondFactor(ctx, r.Who, secret, "000"), desk.Invalid, "code: it is not the code")
	code, err := totp.GenerateCode(secret, time.Now())
	rig.Must(t, err)
	rig.Must(t, r.Desk.KeepSecondFactor(ctx, r.Who, secret, code))
	_, err = r.Desk.SignIn(ctx, r.Who.Email, rig.Password, "", "192.0.2.1")
	rig.Refused(t, err, desk.Denied, "code of your second factor")
	_, err = r.Desk.SignIn(ctx, r.Who.Email, rig.Password, "12345", "192.0.2.1")
	rig.Refused(t, err, desk.Denied, "not the code that your app shows")
	_, err = r.Desk.SignIn(ctx, r.Who.Email, "wrong-password", code, "192.0.2.1")
	rig.Refused(t, err, desk.Denied, "do not belong together")
	p, err := r.Desk.SignIn(ctx, r.Who.Email, rig.Password, " "+code, "192.0.2.1")
	if err != nil || !p.SecondFactor {
		t.Errorf("%+v, %v", p, err)
	}
	rig.Must(t, r.Desk.DropSecondFactor(ctx, r.Who, code))
	rig.Must(t, r.Desk.KeepSecondFactor(ctx, r.Who, secret, code))
	for range 5 {
		rig.Refused(t, r.Desk.DropSecondFactor(ctx, r.Who, "000"), desk.Invalid, "code: it is not the code")
	}
	rig.Refused(t, r.Desk.DropSecondFactor(ctx, r.Who, code), desk.TooMany, "Too many tries")
	_, err = r.Store.Pool.Exec(ctx, "delete from sign_in_failure")
	rig.Must(t, err)
	rig.Must(t, r.Desk.DropSecondFactor(ctx, r.Who, code))
	if _, err = r.Desk.SignIn(ctx, r.Who.Email, rig.Password, "", "192.0.2.1"); err != nil {
		t.Error(err)
	}
}
