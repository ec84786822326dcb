package reach

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"

	"golang.org/x/net/html"

	"uvent/core/address"
	"uvent/core/compare"
	"uvent/core/hours"
)

// Look reads a listing's public page. The sighting is nil when the directory
// shows no such page.
func (r *Reach) Look(ctx context.Context, connector, page string) (*compare.Sighting, error) {
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, r.PageURL(connector, page), nil)
	if err != nil {
		return nil, err
	}
	resp, err := r.http.Do(req)
	if err != nil {
		return nil, &Unanswered{err}
	}
	defer resp.Body.Close()
	switch {
	case resp.StatusCode == http.StatusNotFound || resp.StatusCode == http.StatusGone:
		return nil, nil
	case resp.StatusCode != http.StatusOK:
		return nil, &Unanswered{fmt.Errorf("the page answers %s", resp.Status)}
	}
	data, err := io.ReadAll(io.LimitReader(resp.Body, mostBytes))
	if err != nil {
		return nil, &Unanswered{err}
	}
	s, err := ReadPage(data)
	return &s, err
}

// ErrNoFacts means that a page shows no business that could be read.
var ErrNoFacts = errors.New("the page holds no description of a business in JSON-LD")

// ReadPage reads the description of a business in a page's JSON-LD, in
// schema.org's words (https://schema.org/LocalBusiness).
func ReadPage(page []byte) (compare.Sighting, error) {
	z := html.NewTokenizer(bytes.NewReader(page))
	inside := false
	for {
		switch z.Next() {
		case html.ErrorToken:
			return compare.Sighting{}, ErrNoFacts
		case html.StartTagToken:
			t := z.Token()
			inside = false
			if t.Data == "script" {
				for _, a := range t.Attr {
					inside = inside || a.Key == "type" && a.Val == "application/ld+json"
				}
			}
		case html.TextToken:
			if !inside {
				continue
			}
			var b businessLD
			if json.Unmarshal(z.Raw(), &b) == nil && b.Name != "" {
				return b.sighting(), nil
			}
		}
	}
}

// businessLD is the part of LocalBusiness that is read.
type businessLD struct {
	Name      string `json:"name"`
	Telephone string `json:"telephone"`
	Email     string `json:"email"`
	URL       string `json:"url"`
	Category  string `json:"additionalType"`
	Address   struct {
		Street     string `json:"streetAddress"`
		Locality   string `json:"addressLocality"`
		Region     string `json:"addressRegion"`
		PostalCode string `json:"postalCode"`
		Country    string `json:"addressCountry"`
	} `json:"address"`
	Hours []hours.Specification `json:"openingHoursSpecification"`
	Dates []hours.Specification `json:"specialOpeningHoursSpecification"`
}

func (b businessLD) sighting() compare.Sighting {
	return compare.Sighting{
		Name: b.Name, Phone: b.Telephone, Email: b.Email, Website: b.URL, Category: b.Category, Hours: hours.FromSpecifications(append(b.Hours, b.Dates...)).String(),
		Address: address.Address{Street: b.Address.Street, Locality: b.Address.Locality, Region: b.Address.Region, PostalCode: b.Address.PostalCode, Country: b.Address.Country},
	}
}
