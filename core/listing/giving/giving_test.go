package giving_test

import (
	"encoding/json"
	"strings"
	"testing"
	"time"
	"uvent/core/record/sighting"

	"uvent/core/fact/address"
	"uvent/core/listing/giving"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/rulebooks"
)

var now = time.Date(2026, 11, 24, 17, 0, 0, 0, time.UTC)

func shop(phone string) *fit.Subject {
	return fit.Read(record.Record{
		Label: "Minnow Bay", Name: "Spokeshave Cycle Works", Kind: record.Premises, Category: "bicycle_repair", Hours: "Tu-Fr 09:00-18:00",
		Address: address.Address{Street: "18 Tern Street", Locality: "Minnow Bay", Region: "WA", PostalCode: "98990", Country: "US"},
		Phones:  []record.Phone{{E164: phone, Voice: true}}, Website: "https://spokeshave.example",
	}, nil, now)
}

func book(t *testing.T, id string) *rulebook.Rulebook {
	t.Helper()
	b, err := rulebooks.Read(id)
	if err != nil {
		t.Fatal(err)
	}
	return &b
}

// What was given is not due, nor what shows; what has changed since is, with what it meets there.
func TestWhatIsDue(t *testing.T) {
	fernlook := book(t, "fernlook")
	held := verification.State{Control: verification.Held}
	old, changed := shop("+13605550142"), shop("+13605550199")
	all := fit.Of(old, fernlook).Values()
	var kept fit.Values // as it is read again
	data, err := json.Marshal(all)
	if err == nil {
		err = json.Unmarshal(data, &kept)
	}
	if err != nil {
		t.Fatal(err)
	}
	seen := held
	seen.Sighting = &sighting.Sighting{Name: "Spokeshave Cycle Works", Phone: "+13605550142"}
	// What it was seen to show since, of name and phone alone.
	since := func(phone string, sent time.Time, change *verification.Change) verification.State {
		s, at := held, now
		s.SeenAt, s.SentAt, s.Change = &at, &sent, change
		s.Sighting = &sighting.Sighting{Name: "Spokeshave Cycle Works", Phone: phone, More: sighting.More{Only: []string{"name", "phone"}}}
		return s
	}
	before, after := now.Add(-48*time.Hour), now.Add(time.Hour)
	without := func(keys ...string) (out fit.Values) {
		for _, v := range kept {
			if v.Key != keys[0] {
				out = append(out, v)
			}
		}
		return out
	}
	for _, c := range []struct {
		name string
		of   giving.Listing
		is   *fit.Subject
		want []string
	}{
		{"all given", giving.Listing{fernlook, held, kept}, old, nil},
		{"another phone", giving.Listing{fernlook, held, kept}, changed, []string{"phone"}},
		{"a phone that was never given", giving.Listing{fernlook, held, without("phone")}, old, []string{"phone"}},
		{"and that shows", giving.Listing{fernlook, seen, without("phone")}, old, nil},
		{"and that shows otherwise", giving.Listing{fernlook, seen, without("phone")}, changed, []string{"phone"}},
		{"all given, and somebody there changed it", giving.Listing{fernlook, since("+13605550177", before, nil), kept}, old, []string{"phone"}},
		{"all given, and it shows", giving.Listing{fernlook, since("+13605550142", before, nil), kept}, old, nil},
		{"sent since it was looked at", giving.Listing{fernlook, since("+13605550177", after, nil), kept}, old, nil},
		{"they look at it still", giving.Listing{fernlook, since("+13605550177", before, &verification.Change{}), kept}, old, nil},
		{"by hand, nobody knows what", giving.Listing{book(t, "lanefolk"), held, nil}, old, nil},
		{"a panel of its own", giving.Listing{book(t, "fernlook-facts"), held, kept}, changed, nil},
		{"not for such a location", giving.Listing{book(t, "spanner-register"), held, kept}, fit.Read(record.Record{Kind: record.Premises, Category: "veterinarian", Address: changed.Record.Address}, nil, now), nil},
	} {
		due := c.of.Due(c.is)
		keys := due.Keys()
		if len(keys) != len(c.want) || len(keys) > 0 && keys[0] != c.want[0] {
			t.Errorf("%s: %v is due, want %v", c.name, keys, c.want)
		}
		for _, d := range due {
			if c.name == "another phone" && (d.Before != "(360) 555-0142" || !strings.HasPrefix(d.Meets, "looked at first")) {
				t.Errorf("%s: %+v", c.name, d)
			}
		}
	}
	if claimed := (giving.Listing{fernlook, held, nil}).Due(old); len(claimed) < 5 {
		t.Errorf("of a listing that was claimed and given nothing, %v is due", claimed.Keys())
	}
	// A name is looked at there, which is said.
	renamed := *old
	renamed.Record.Name = "Spokeshave & Daughters"
	if due := (giving.Listing{fernlook, held, kept}).Due(fit.Read(renamed.Record, nil, now)); len(due) == 0 || due[0].Key != "name" || due[0].Meets == "" ||
		due[0].Before != "Spokeshave Cycle Works" {
		t.Errorf("%+v", due)
	}
}
