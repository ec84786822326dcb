// Package vcard writes a record as a vCard 4 of an organisation (RFC 6350) and
// reads it back.
package vcard

import (
	"bytes"
	"errors"
	"fmt"
	"reflect"
	"strconv"
	"strings"

	"github.com/emersion/go-vcard"

	"uvent/core/fact/address"
	"uvent/core/fact/category"
	"uvent/core/record/record"
)

// Write writes a record. lost names what of it the format has no place for.
func Write(r record.Record) (data []byte, lost []string) {
	var c card
	c.line("BEGIN:VCARD")
	c.line("VERSION:4.0")
	c.line("KIND:org")
	c.text("FN", r.Name)
	if r.LegalName != "" {
		c.parts("ORG", r.LegalName)
	}
	for _, n := range r.FormerNames {
		c.text("NICKNAME", n)
	}
	if a := r.Address; !a.Empty() {
		c.parts("ADR", "", a.Unit, a.Street, a.Locality, a.Region, a.PostalCode, a.Country)
	}
	if r.Pin != nil {
		c.line(fmt.Sprintf("GEO:geo:%s,%s", degrees(r.Pin.Latitude), degrees(r.Pin.Longitude)))
	}
	for i, p := range r.Phones {
		name := "TEL;PREF=" + strconv.Itoa(i+1)
		if p.Voice {
			name += ";TYPE=voice"
		}
		if p.Text {
			name += ";TYPE=text"
		}
		c.text(name, p.E164)
	}
	c.text("EMAIL", r.Email)
	c.text("URL", r.Website)
	c.text("TZ", r.Zone)
	c.text("NOTE", r.Words.Medium)
	if r.Category != "" {
		c.text("CATEGORIES", category.Name(r.Category))
	}
	c.line("END:VCARD")
	return c.Bytes(), noPlace(r)
}

func degrees(d float64) string { return strconv.FormatFloat(d, 'f', -1, 64) }

func noPlace(r record.Record) (lost []string) {
	for _, f := range []struct {
		said bool
		what string
	}{
		{r.Label != "", "what we call the location"}, {r.StoreCode != "", "the store code"}, {r.Kind != record.Premises,
			"the kind of location"}, {r.State.Kind != record.Open, "the state of business"},
		{r.Opened != "", "when it opened"}, {len(r.Former) > 0, "former addresses"},
		{!r.Mailing.Address.Empty() || r.Mailing.Contact != "", "where post goes"}, {r.Hours != "",
			"the hours"}, {len(r.Others) > 0, "the other categories"},
		{len(r.Attributes) > 0, "the " +
			"attributes"}, {r.Words.Tagline+r.Words.Short+r.Words.Long+r.Words.Story != "" || len(r.Words.Keywords)+len(r.Words.Specialities) > 0, "the other words"},
		{r.Directions+r.Parking != "", "directions and parking"}, {len(r.Area.Towns) > 0, "the service area"}, {r.Links != record.Links{}, "the other links"},
		{len(r.Socials)+len(r.Videos) > 0, "social profiles and videos"}, {r.Tags != record.Tags{}, "the campaign tags"}, {len(r.Payments) > 0,
			"ways to pay"}, {len(r.Licences) > 0, "the licences"},
		{len(r.Team) > 0, "the team"}, {len(r.Offerings) > 0, "the offerings"}, {!reflect.DeepEqual(r.Company, record.Company{Domains: []string{}}),
			"the company behind the location"},
		{len(r.Own) > 0, "which facts are the location’s own"},
	} {
		if f.said {
			lost = append(lost, f.what)
		}
	}
	return lost
}

// ErrNoName means that a card names nobody.
var ErrNoName = errors.New("the card has no name (FN)")

// Read lays a card over a record; what it does not say stays as it is.
func Read(data []byte, over record.Record) (record.Record, error) {
	c, err := vcard.NewDecoder(bytes.NewReader(data)).Decode()
	if err != nil {
		return over, fmt.Errorf("the document cannot be read as a vCard: %w", err)
	}
	if strings.TrimSpace(c.Value(vcard.FieldFormattedName)) == "" {
		return over, ErrNoName
	}
	r := over
	for into, field := range map[*string]string{
		&r.Name: vcard.FieldFormattedName, &r.Email: vcard.FieldEmail, &r.Website: vcard.FieldURL,
		&r.Zone: vcard.FieldTimezone, &r.Words.Medium: vcard.FieldNote, &r.Category: vcard.FieldCategories,
	} {
		if v := c.Value(field); v != "" {
			*into = v
		}
	}
	if found, ok := category.Find(r.Category); ok {
		r.Category = found.ID
	}
	if names := c.Values(vcard.FieldNickname); names != nil {
		r.FormerNames = names
	}
	if v := c.Value(vcard.FieldOrganization); v != "" {
		r.LegalName = components(v)[0]
	}
	if v := c.Value(vcard.FieldAddress); v != "" {
		a := append(components(v), make([]string, 7)...)
		r.Address = address.Address{Unit: a[1], Street: a[2], Locality: a[3], Region: a[4], PostalCode: a[5], Country: a[6]}
	}
	if p, ok := pin(c.Value(vcard.FieldGeolocation)); ok {
		r.Pin = &p
	}
	if list := c[vcard.FieldTelephone]; list != nil {
		r.Phones = nil
		for _, f := range list {
			p := record.Phone{E164: strings.TrimPrefix(f.Value, "tel:"), Voice: f.Params.HasType("voice"), Text: f.Params.HasType("text")}
			if len(f.Params.Types()) == 0 {
				p.Voice = true
			}
			r.Phones = append(r.Phones, p)
		}
	}
	return r, nil
}

// pin reads a geo URI (RFC 5870).
func pin(uri string) (record.Pin, bool) {
	rest, ok := strings.CutPrefix(uri, "geo:")
	lat, lng, two := strings.Cut(rest, ",")
	lng, _, _ = strings.Cut(lng, ";")
	a, errA := strconv.ParseFloat(lat, 64)
	b, errB := strconv.ParseFloat(lng, 64)
	return record.Pin{Latitude: a, Longitude: b}, ok && two && errA == nil && errB == nil
}
