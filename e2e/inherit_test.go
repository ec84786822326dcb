package e2e

import (
	"slices"
	"testing"

	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/records"
	"uvent/e2e/rig"
)

// What a client says holds for its locations, but where one says its own; both
// can be seen, and one goes back with a press.
func TestClientAndLocationFacts(t *testing.T) {
	s := open(t)
	who := s.rig.Who.Actor()
	c, err := s.rig.Desk.Records.AddClient(
		t.Context(),
		who,
		records.ClientFacts{
			Name:      "Spokeshave Cycle Works",
			LegalName: "Spokeshave LLC",
			Shared:    record.Record{Links: record.Links{GiftCard: "https://spokeshave.example/gift"}},
		},
	)
	s.do(err)
	bay, herons := rig.Shop("Minnow Bay"), rig.Shop("Three Herons")
	bay.LegalName, herons.LegalName = "", ""
	first, err := s.rig.Desk.Records.AddLocation(t.Context(), who, c.ID, bay)
	s.do(err)
	second, err := s.rig.Desk.Records.AddLocation(t.Context(), who, c.ID, herons)
	s.do(err)
	record := func(l ledger.Location) record.Record {
		now, err := s.rig.Desk.Ledger.Location(t.Context(), l.ID)
		s.do(err)
		return now.Record
	}

	// A location says its own.
	s.do(s.Open(s.at("/record/l/"+first.ID.String()+"#links")), s.Until(holds("https://spokeshave.example/gift")), s.See("from the client"))
	s.do(s.Type("Gift card", "https://spokeshave.example/bay-gift"), s.See("its own"), s.Press("Save record"), s.See("The record is saved."))
	if r := record(first); r.Links.GiftCard != "https://spokeshave.example/bay-gift" || !slices.Contains(r.Own, "links.gift_card") {
		t.Errorf("it says %q, its own are %q", r.Links.GiftCard, r.Own)
	}

	// The client says something else: the other location follows, this one does not.
	s.do(s.Open(s.at("/record/c/"+c.ID.String()+"/facts#links")), s.Until(holds("https://spokeshave.example/gift")), s.NotSee("from the client"))
	s.do(
		s.Type("Gift card", "https://spokeshave.example/vouchers"),
		s.Press("Identity"),
		s.Type("Legal name", "Spokeshave Cycle Works LLC"),
		s.Press("Save client"),
		s.See("The client is saved. 2 locations follow."),
	)
	if a, b := record(first), record(
		second,
	); a.Links.GiftCard != "https://spokeshave.example/bay-gift" || b.Links.GiftCard != "https://spokeshave.example/vouchers" || a.LegalName != b.LegalName ||
		b.LegalName != "Spokeshave Cycle Works LLC" {
		t.Errorf("%q, %q", a.Links.GiftCard, b.Links.GiftCard)
	}
	s.do(s.Press("Undo"), s.See("The client and its locations are as they were before."))
	if b := record(second); b.Links.GiftCard != "https://spokeshave.example/gift" || b.LegalName != "Spokeshave LLC" {
		t.Errorf("undone, it says %q, %q", b.Links.GiftCard, b.LegalName)
	}

	// Back to the client's.
	s.do(
		s.Open(s.at("/record/l/"+first.ID.String()+"#links")),
		s.Until(holds("https://spokeshave.example/bay-gift")),
		s.Press("take the client’s"),
		s.Until(holds("https://spokeshave.example/gift")),
		s.Press("Save record"),
		s.See("The record is saved."),
	)
	if r := record(first); r.Links.GiftCard != "https://spokeshave.example/gift" || slices.Contains(r.Own, "links.gift_card") {
		t.Errorf("it says %q, its own are %q", r.Links.GiftCard, r.Own)
	}

	// What is wrong with a client's fact is shown where it stands.
	s.do(
		s.Open(s.at("/record/c/"+c.ID.String()+"/facts#links")),
		s.Type("Quote", "quote.html"),
		s.Press("Identity"),
		s.Press("Save client"),
		s.See("One fact cannot be kept as it is."),
		s.See("It does not start with https:// or http://."),
	)
}
