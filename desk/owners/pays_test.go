package owners_test

import (
	"testing"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/owners"
	"uvent/desk/problem"
	"uvent/e2e/rig"
)

// Whoever pays confirms it: an owner on a page of theirs, which tells how much it is; nobody else can.
func TestTheOwnerPays(t *testing.T) {
	r, ctx := rig.Start(t, "hithermap", "fernlook"), t.Context()
	at := ownedShop(t, r, "hithermap", rig.Shop("Minnow Bay"))
	elsewhere := at
	elsewhere.Directory = "fernlook"
	r.Held(t, elsewhere)
	_, err := r.Desk.Owners.MakeLink(ctx, r.Who, elsewhere, owners.LinkFor{Task: verification.PayByCard, Mail: true})
	rig.Refused(t, err, problem.Conflict, "Fernlook does not verify by a card payment that is asked for from here.")
	_, err = r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Card)
	rig.Refused(t, err, problem.Conflict, "Whoever pays has to confirm that: say whose card it is, or ask the owner.")
	made, err := r.Desk.Owners.MakeLink(ctx, r.Who, at, owners.LinkFor{Task: verification.PayByCard, Mail: true})
	rig.Must(t, err)
	secret := secretOf(made.Address)
	p, err := thing(r, secret)
	if err != nil || p.Amount != "USD 1.00" ||
		p.Words.What != "Hithermap charges USD 1.00 to a card in the business’s name, to see that it is really yours. It is paid back once that is proved." {
		t.Fatalf("%+v, %v", p, err)
	}
	rig.Refused(t, r.Desk.Owners.OwnerCode(ctx, through(secret, made), "123456"), problem.Conflict, "This page is for something else.")
	rig.Must(t, r.Desk.Owners.OwnerPays(ctx, through(secret, made)))
	r.Eventually(t, func() bool { return r.State(t, at).VerifiedAt != nil })
	if a := r.State(t, at).Attempts; len(a) != 1 || a[0].To != "the card of Dov Marsh (USD 1.00)" || a[0].AskedBy != "The owner" {
		t.Errorf("%+v", a)
	}
	if p, err := thing(r, secret); err != nil || p.State != owners.LinkDone {
		t.Errorf("%+v, %v", p, err)
	}
	if err := r.Desk.Owners.OwnerPays(ctx, through(secret, made)); err == nil {
		t.Error("it is charged twice")
	}
}
