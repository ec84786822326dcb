package letters_test

import (
	"strings"
	"testing"

	"github.com/jackc/pgx/v5"

	"uvent/desk/boards"
	"uvent/desk/letters"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/e2e/rig"
	"uvent/reach"
	"uvent/store/db"
)

// write writes a letter about a location.
func write(t *testing.T, r *rig.Rig, id, to string, about *reach.Mail) {
	t.Helper()
	m := reach.Mail{ID: id, From: r.Who.Email, As: r.Who.Name, To: to, Subject: "About " + id, Body: "Hello."}
	if about != nil {
		m.Client, m.Location = about.Client, about.Location
	}
	rig.Must(t, r.Store.Tx(t.Context(), func(_ *db.Queries, tx pgx.Tx) error { return r.Desk.Letters.Send(t.Context(), tx, m) }))
}

// came is what came of a letter.
func came(t *testing.T, r *rig.Rig, id string) (out letters.Written) {
	t.Helper()
	list, _, err := r.Desk.Letters.Letters(t.Context(), nil, false, nil)
	rig.Must(t, err)
	for _, l := range list {
		if l.ID == id {
			return l
		}
	}
	t.Fatalf("there is no letter %s", id)
	return out
}

// What came of each letter is known: taken, refused with the mail server's word, or come back later; and the last two stand
// in the log and wait for somebody.
func TestWhatCameOfALetter(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	at := r.Add(t, rig.Shop("Minnow Bay"))
	about := &reach.Mail{Location: &at.Location}
	write(t, r, "arrives", "dov@spokeshave.example", about)
	write(t, r, "refused", "gone@spokeshave.example", about)
	write(t, r, "returned", "returned@spokeshave.example", nil)
	for id, want := range map[string]letters.State{"arrives": letters.Taken, "refused": letters.Refused, "returned": letters.Bounced} {
		r.Eventually(t, func() bool { return came(t, r, id).State == want })
	}
	if l := came(t, r, "refused"); l.Tries != 1 || !strings.Contains(l.Says, "550 5.1.1 nobody of that name") || l.Label != "Minnow Bay" || l.Client == "" {
		t.Errorf("the refused one stands as %+v", l)
	}
	if l := came(t, r, "returned"); !strings.Contains(l.Says, "550 5.1.1 nobody reads there any more") || l.Client != "" {
		t.Errorf("the one that came back stands as %+v", l)
	}
	troubled := func() (ids []string) {
		t.Helper()
		list, _, err := r.Desk.Letters.Letters(ctx, nil, true, nil)
		rig.Must(t, err)
		for _, l := range list {
			ids = append(ids, l.ID)
		}
		return ids
	}
	if ids := troubled(); len(ids) != 2 {
		t.Errorf("%q did not arrive", ids)
	}
	for _, kind := range []string{"letter_refused", "letter_bounced"} {
		lines, err := r.Desk.Boards.Log(ctx, boards.LogFilter{Kind: &kind, Most: 10})
		if rig.Must(t, err); len(lines) != 1 || !strings.Contains(lines[0].Says, "nobody") {
			t.Errorf("%s stands in the log as %+v", kind, lines)
		}
	}

	// It is sent again to where somebody is, or put aside.
	who := r.Who.Actor()
	rig.Refused(t, r.Desk.Letters.Again(ctx, who, "refused", "nowhere"), problem.Invalid, "to: ")
	if len(troubled()) != 2 {
		t.Error("what was not sent again is gone")
	}
	rig.Must(t, r.Desk.Letters.Again(ctx, who, "refused", "dov@spokeshave.example"))
	rig.Refused(t, r.Desk.Letters.Again(ctx, who, "arrives", ""), problem.Conflict, "not sent twice")
	rig.Refused(t, r.Desk.Letters.Again(ctx, who, "nowhere", ""), problem.NotFound, "no such letter")
	rig.Must(t, r.Desk.Letters.Aside(ctx, "returned", true))
	r.Eventually(t, func() bool {
		arrived, err := r.World.Arrivals(ctx, "dov@spokeshave.example")
		return err == nil && len(arrived) == 2 && len(troubled()) == 0
	})
	rig.Refused(t, r.Desk.Letters.Aside(ctx, "arrives", true), problem.NotFound, "no such letter")
}

// A secret that a letter tells is kept nowhere, and told again when it is sent again.
func TestASecretInALetter(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	_, address, err := r.Desk.People.Invite(ctx, r.Who, "gone@agency.example", people.Bounds{Role: people.Helper})
	rig.Must(t, err)
	secret := address[strings.LastIndex(address, "/")+1:]
	var id, kept string
	rig.Must(t, r.Store.Pool.QueryRow(ctx, "select id, l::text from letter l").Scan(&id, &kept))
	if strings.Contains(kept, secret) {
		t.Error("a secret is kept")
	}
	r.Eventually(t, func() bool { return came(t, r, id).State == letters.Refused })
	rig.Must(t, r.Desk.Letters.Again(ctx, r.Who.Actor(), id, "hob@agency.example"))
	r.Eventually(t, func() bool { // the same secret is told
		arrived, err := r.World.Arrivals(ctx, "hob@agency.example")
		return err == nil && len(arrived) == 1 && strings.Contains(arrived[0].Body, secret)
	})
}
