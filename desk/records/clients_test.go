package records_test

import (
	"slices"
	"testing"

	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/e2e/rig"
)

func TestLocationsFollowTheirClient(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	facts := records.ClientFacts{
		Name:   "Spokeshave Cycle Works",
		Shared: record.Record{Words: record.Words{Long: "We mend."}, Links: record.Links{GiftCard: "https://spokeshave.example/gift"}, Hours: "24/7"},
	}
	c, err := r.Desk.Records.AddClient(ctx, who, facts)
	rig.Must(t, err)
	shop := rig.Shop("Minnow Bay")
	shop.Name, shop.LegalName = c.Name, ""
	own := rig.Shop("Quillcote")
	own.Name, own.Words.Long = c.Name, "Quillcote has its own words."
	first, err := r.Desk.Records.AddLocation(ctx, who, c.ID, shop)
	rig.Must(t, err)
	second, err := r.Desk.Records.AddLocation(ctx, who, c.ID, own)
	rig.Must(t, err)
	if first.Record.Words.Long != "We mend." || first.Record.Hours == "24/7" || !slices.Equal(second.Record.Own, []string{"words.long"}) {
		t.Fatalf("%+v\n%+v", first.Record, second.Record)
	}

	before := facts
	facts.LegalName, facts.Shared.Words.Long, facts.Shared.Links.GiftCard = "Spokeshave LLC", "We mend more.", ""
	c, followed, err := r.Desk.Records.SaveClient(ctx, who, c.ID, c.Version, facts)
	rig.Must(t, err)
	now, err := r.Desk.Ledger.Location(ctx, first.ID)
	rig.Must(t, err)
	other, err := r.Desk.Ledger.Location(ctx, second.ID)
	rig.Must(t, err)
	if followed != 2 || now.Record.LegalName != "Spokeshave LLC" || now.Record.Words.Long != "We mend more." || now.Record.Links.GiftCard != "" ||
		other.Record.Words.Long != own.Words.Long ||
		other.Record.LegalName != "Spokeshave LLC" {
		t.Errorf("%d followed: %+v", followed, now.Record)
	}
	history, err := r.Desk.Records.RecordHistory(ctx, first.ID)
	if err != nil || len(history) != 2 || len(history[0].Changes) != 3 {
		t.Errorf("the history says %+v, %v", history, err)
	}
	// Taking the client's change back takes it back everywhere.
	if _, followed, err = r.Desk.Records.SaveClient(ctx, who, c.ID, c.Version, before); err != nil || followed != 2 {
		t.Errorf("%d followed back, %v", followed, err)
	}
	if back, _ := r.Desk.Ledger.Location(ctx, first.ID); len(record.Changes(back.Record, first.Record)) != 0 {
		t.Errorf("%+v", record.Changes(back.Record, first.Record))
	}

	// A location goes its own way, and back.
	other.Record.Own, other.Record.Words.Long = nil, ""
	now, err = r.Desk.Ledger.Location(ctx, second.ID)
	rig.Must(t, err)
	saved, err := r.Desk.Records.SaveLocation(ctx, who, second.ID, now.Version, other.Record)
	if err != nil || saved.Record.Words.Long != "We mend." || len(saved.Record.Own) != 0 {
		t.Errorf("%+v, %v", saved.Record, err)
	}
	bad := before
	bad.Shared.Website = "spokeshave"
	_, err = r.Desk.Records.AddClient(ctx, who, bad)
	rig.Refused(t, err, problem.Invalid, "shared.website")
}

// A file that comes in says only what it says: the rest is the client's, and what
// differs from the client becomes the location's own.
func TestImportedLocationsInherit(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	c, err := r.Desk.Records.AddClient(
		ctx,
		who,
		records.ClientFacts{
			Name:   "Nettlewick Yarns",
			Shared: record.Record{Category: "yarn_shop", Website: "https://nettlewick.example", Payments: []string{"cash"}},
		},
	)
	rig.Must(t, err)
	file := "Client,Label,Street,Town,State,Country,Website\nNettlewick Yarns,Old Wharf,9 Old Wharf,Port Sable,WA,US,\nNettlewick Yarns,Fennick,118 Fennick Road,Fennick,BC,CA,https://nettlewick.example/fennick\n"
	if in := r.BringIn(t, []byte(file)); in.Counts.In != 2 {
		t.Fatalf("%+v", in.Counts)
	}
	list, err := r.Desk.Records.Locations(ctx, ledger.OfClient(c.ID))
	rig.Must(t, err)
	fennick, wharf := list[0].Record, list[1].Record
	if wharf.Name != "Nettlewick Yarns" || wharf.Category != "yarn_shop" || wharf.Website != "https://nettlewick.example" ||
		!slices.Equal(wharf.Payments, []string{"cash"}) ||
		len(wharf.Own) != 0 {
		t.Errorf("%+v", wharf)
	}
	if fennick.Website != "https://nettlewick.example/fennick" || !slices.Equal(fennick.Own, []string{"website"}) {
		t.Errorf("%+v", fennick)
	}
	// The client changes between two readings of one file: the second sees it.
	in, err := r.Desk.Imports.Start(
		ctx,
		r.Who,
		nil,
		"more.csv",
		[]byte("Client,Label,Street,Town,State,Country\nNettlewick Yarns,Moraine,1 High Street,Upper Moraine,BC,CA\n"),
	)
	rig.Must(t, err)
	_, followed, err := r.Desk.Records.SaveClient(
		ctx,
		who,
		c.ID,
		c.Version,
		records.ClientFacts{Name: "Nettlewick Yarns", Shared: record.Record{Category: "craft_shop"}},
	)
	if err != nil || followed != 2 {
		t.Fatalf("%d followed, %v", followed, err)
	}
	_, err = r.Desk.Imports.BringIn(ctx, who, in.ID)
	rig.Must(t, err)
	list, err = r.Desk.Records.Locations(ctx, ledger.OfClient(c.ID))
	rig.Must(t, err)
	for _, l := range list {
		if l.Record.Category != "craft_shop" {
			t.Errorf("%s is a %s", l.Label, l.Record.Category)
		}
	}
}
