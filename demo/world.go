package demo

import (
	"context"
	"maps"

	"uvent/desk/records"
	"uvent/outside/visit"
)

// furnish puts into the world what was there before the agency came: old
// listings, and phones that are not what the records say.
func (l *layer) furnish(ctx context.Context) error {
	for _, p := range before {
		if p.on == "" {
			p.on = "fernlook"
		}
		if _, err := l.world.Place(ctx, p.on, p.holder, p.facts); err != nil {
			return err
		}
	}
	// Pages that were moved or taken down since the records were written.
	for _, page := range []struct {
		address string
		status  int
		leads   string
	}{{"spokeshave.example/gift-cards", 404, ""}, {"saltgrasslaundry.example/upper-moraine", 301, "https://saltgrasslaundry.example/"}} {
		if err := l.world.Site(ctx, page.address, page.status, page.leads); err != nil {
			return err
		}
	}
	// The clinic's number is a landline: a text to it is lost.
	return l.world.Phone(ctx, "+12505550184", true, "", pacific.String())
}

func with(a, b visit.Facts) visit.Facts {
	out := maps.Clone(a)
	maps.Copy(out, b)
	return out
}

// enrol fills the register of accounts, with what is wrong with some of them.
func (l *layer) enrol(ctx context.Context) error {
	for _, f := range []records.AccountFacts{
		{Directory: "fernlook", Email: Account, Holder: "Ines Roake", Person: &l.who.ID, Class: "Single", Confirmed: true},
		{Directory: "waywren", Email: Account, Holder: "Ines Roake", Person: &l.who.ID, Class: "Owner", Confirmed: true},
		{Directory: "skerry", Email: Account, Holder: "Ines Roake", Person: &l.who.ID, Confirmed: true},
		{Directory: "hithermap", Email: Account, Holder: "Tobias Finch"},
		{Directory: "murmurhall", Email: "pages@halyardstreet.example", Holder: "Juno Abara", Confirmed: true, Personal: true, Gone: true,
			Note: "Juno left in September; her own account is still behind the pages."},
		{Directory: "lanefolk", Email: "ida.renn@tidemail.example", Holder: "Ida Renn, the owner", Confirmed: true, Personal: true},
		{Directory: "guildbench", Email: Account, Holder: "Ines Roake", Person: &l.who.ID, Confirmed: true, Personal: true},
		{Directory: "candourbox", Email: Account, Holder: "Tobias Finch", Confirmed: false},
		{Directory: "plotline", Email: "data@halyardstreet.example", Holder: "Tobias Finch", Class: "Starter", Confirmed: true},
	} {
		if _, err := l.desk.Records.SaveAccount(ctx, l.who.Actor(), nil, f); err != nil {
			return err
		}
	}
	return nil
}
