// Package vcard writes a record as a vCard 4 of an organisation (RFC 6350) and
// reads it back.
package vcard

import (
	"bytes"
	"errors"
	"fmt"
	"strconv"
	"strings"

	"github.com/emersion/go-vcard"

	"uvent/core/address"
	"uvent/core/category"
	"uvent/core/record"
)

// Write writes a record. lost names what of it the format has no place for.
func Write(r record.Record) (data []byte, lost []string, err error) {
	c := vcard.Card{}
	c.SetValue(vcard.FieldVersion, "4.0")
	c.SetValue(vcard.FieldKind, string(vcard.KindOrganization))
	c.SetValue(vcard.FieldFormattedName, r.Name)
	if r.LegalName != "" {
		c.SetValue(vcard.FieldOrganization, r.LegalName)
	}
	for _, n := range r.FormerNames {
		c.AddValue(vcard.FieldNickname, n)
	}
	if a := r.Address; !a.Empty() {
		c.AddAddress(&vcard.Address{ExtendedAddress: a.Unit, StreetAddress: a.Street, Locality: a.Locality, Region: a.Region, PostalCode: a.PostalCode, Country: a.Country})
	}
	if r.Pin != nil {
		c.SetValue(vcard.FieldGeolocation, fmt.Sprintf("geo:%s,%s", degrees(r.Pin.Latitude), degrees(r.Pin.Longitude)))
	}
	for i, p := range r.Phones {
		f := &vcard.Field{Value: p.E164, Params: vcard.Params{"PREF": {strconv.Itoa(i + 1)}}}
		if p.Voice {
			f.Params.Add(vcard.ParamType, "voice")
		}
		if p.Text {
			f.Params.Add(vcard.ParamType, "text")
		}
		c.Add(vcard.FieldTelephone, f)
	}
	for field, value := range map[string]string{vcard.FieldEmail: r.Email, vcard.FieldURL: r.Website, vcard.FieldTimezone: r.Zone, vcard.FieldNote: r.Words.Medium} {
		if value != "" {
			c.SetValue(field, value)
		}
	}
	if r.Category != "" {
		c.SetValue(vcard.FieldCategories, category.Name(r.Category))
	}
	var b bytes.Buffer
	err = vcard.NewEncoder(&b).Encode(c)
	return b.Bytes(), noPlace(r), err
}

func degrees(d float64) string { return strconv.FormatFloat(d, 'f', -1, 64) }

func noPlace(r record.Record) (lost []string) {
	for _, f := range []struct {
		said bool
		what string
	}{
		{r.Label != "", "what we call the location"}, {r.StoreCode != "", "the store code"}, {r.Kind != record.Premises, "the kind of location"}, {r.State.Kind != record.Open, "the state of business"},
		{r.Opened != "", "when it opened"}, {!r.Mailing.Address.Empty() || r.Mailing.Contact != "", "where post goes"}, {r.Hours != "", "the hours"}, {len(r.Others) > 0, "the other categories"},
		{len(r.Attributes) > 0, "the attributes"}, {r.Words.Tagline+r.Words.Short+r.Words.Long+r.Words.Story != "" || len(r.Words.Keywords)+len(r.Words.Specialities) > 0, "the other words"},
		{r.Directions+r.Parking != "", "directions and parking"},
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
		&r.Name: vcard.FieldFormattedName, &r.LegalName: vcard.FieldOrganization, &r.Email: vcard.FieldEmail, &r.Website: vcard.FieldURL,
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
	if a := c.Address(); a != nil {
		r.Address = address.Address{Street: a.StreetAddress, Unit: a.ExtendedAddress, Locality: a.Locality, Region: a.Region, PostalCode: a.PostalCode, Country: a.Country}
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
