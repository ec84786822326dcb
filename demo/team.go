package demo

import (
	"context"

	"uvent/core/record/record"
)

// teams are the people whom the public may see.
var teams = map[string][]record.Member{
	sablecote + "/Port Sable": {
		{Name: "Noor Castellan", Role: "Veterinarian, owner", Email: "noor@sablecote.example"}, {Name: "Emrys Vane", Role: "Veterinarian"},
		{Name: "Lotte Brandvold", Role: "Nurse"}, {Name: "Tam Okonjo", Role: "Front desk", Phone: "+13605550181"},
	},
	sablecote + "/Saltgrass":     {{Name: "Ravi Thorne", Role: "Veterinarian"}, {Name: "Mirela Dusk", Role: "Nurse"}},
	sablecote + "/Cinder Point":  {{Name: "Hollis Grain", Role: "Emergency veterinarian"}},
	spokeshave + "/Minnow Bay":   {{Name: "Dov Marsh", Role: "Owner and mechanic", Email: "dov@spokeshave.example"}, {Name: "Pim Larkin", Role: "Apprentice"}},
	nettlewick + "/Old Wharf":    {{Name: "Perpetua Hale", Role: "Owner, teaches Thursdays"}},
	mossback + "/Alder Landing":  {{Name: "Ida Renn", Role: "Sweep"}},
	saltgrass + "/Upper Moraine": {{Name: "Bram Ottley", Role: "Owner"}},
}

// introduce says who works where.
func (l *layer) introduce(ctx context.Context) error {
	for place, team := range teams {
		at, err := l.desk.Ledger.Location(ctx, l.places[place].Location)
		if err != nil {
			return err
		}
		r := at.Record
		r.Team = team
		if err := l.rewrite(ctx, at, r); err != nil {
			return err
		}
	}
	return nil
}
