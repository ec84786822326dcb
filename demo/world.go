package demo

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"regexp"
	"strings"
)

// world is the outside as a person there would use it.
type world struct{ base string }

// fact is a set of named values, as the outside's levers take them.
type fact map[string]any

// furnish puts into the world what was there before the agency came: old
// listings, and phones that are not what the records say.
func (l *layer) furnish(ctx context.Context) error {
	us, ca := fact{"region": "WA", "country": "US"}, fact{"region": "BC", "country": "CA"}
	listings := []struct {
		holder string
		facts  fact
	}{
		// Two digits of the phone swapped, and no lunch break.
		{"", with(us, fact{"name": "Spokeshave Cycle Works", "street": "7 Heronry Rd, Ste B", "locality": "Three Herons", "postal_code": "98993", "phone": "+13605550164",
			"website": "https://spokeshave.example/three-herons?utm_source=fernlook", "category": "Bike store", "hours": "Tu-Fr 09:00-18:00; Sa 09:00-16:00"})},
		{"maps@northlightmedia.example", with(us, fact{"name": "Sablecote Vet", "street": "15 Orchard St", "locality": "Quillcote", "postal_code": "98992", "phone": "+13605550182",
			"website": "https://sablecote.example", "category": "Animal clinic", "hours": "Mo-Fr 08:00-18:00"})},
		{"", with(ca, fact{"name": "Saltgrass Laundry", "street": "56 Glacier St", "locality": "Upper Moraine", "postal_code": "V0O 1H6", "phone": "+12505550192",
			"category": "Self-service laundry", "hours": "Mo-Su 06:00-24:00"})},
		{"", with(us, fact{"name": "Nettlewick Wool Room", "street": "31 Chandlery Lane", "locality": "Port Sable", "postal_code": "98991", "phone": "+13605550109",
			"category": "Wool and yarn store"})},
		{"", with(us, fact{"name": "Nettlewick Yarns", "street": "9 Old Wharf", "locality": "Port Sable", "postal_code": "98991", "phone": "+13605550109",
			"website": "https://nettlewick.example/old-wharf", "category": "Wool and yarn store", "hours": "Tu-Sa 10:00-17:30"})},
		{"owner@gullandspoke.example", with(us, fact{"name": "Gull and Spoke Bicycles", "street": "12 Breakwater Street", "locality": "Port Sable", "postal_code": "98991",
			"phone": "+13605550173", "category": "Bike store", "hours": "Mo-Sa 09:00-18:00"})},
		{"owner@quaywash.example", with(ca, fact{"name": "Quay Wash", "street": "90 Fennick Road", "locality": "Fennick", "postal_code": "V0O 1F2", "phone": "+12505550171",
			"category": "Self-service laundry", "hours": "24/7"})},
	}
	for _, p := range listings {
		if err := l.world.send(ctx, http.MethodPost, "/listings", fact{"directory": "fernlook", "holder": p.holder, "facts": p.facts}, nil); err != nil {
			return err
		}
	}
	// The clinic's number is a landline: a text to it is lost.
	return l.world.put(ctx, "/phones", fact{"number": "+12505550184", "landline": true, "zone": pacific.String()})
}

func with(a, b fact) fact {
	out := fact{}
	for _, f := range []fact{a, b} {
		for k, v := range f {
			out[k] = v
		}
	}
	return out
}

func (w world) put(ctx context.Context, path string, body any) error {
	return w.send(ctx, http.MethodPut, path, body, nil)
}

func (w world) send(ctx context.Context, method, path string, body, into any) error {
	b, err := json.Marshal(body)
	if err != nil {
		return err
	}
	req, err := http.NewRequestWithContext(ctx, method, w.base+path, bytes.NewReader(b))
	if err != nil {
		return err
	}
	resp, err := http.DefaultClient.Do(req)
	if err != nil {
		return err
	}
	defer resp.Body.Close()
	data, err := io.ReadAll(resp.Body)
	if err != nil {
		return err
	}
	if resp.StatusCode >= 300 {
		return fmt.Errorf("the outside answers %s to %s: %s", resp.Status, path, data)
	}
	if into == nil {
		return nil
	}
	return json.Unmarshal(data, into)
}

var codePattern = regexp.MustCompile(`\b\d{3}\x{a0}\d{3}(\x{a0}\d{2})?\b`)

// code is the newest one that reached any of the places.
func (w world) code(ctx context.Context, places ...string) (string, error) {
	for _, place := range places {
		if place == "" {
			continue
		}
		var list []struct{ Kind, Body string }
		if err := w.send(ctx, http.MethodGet, "/arrivals?at="+url.QueryEscape(place), nil, &list); err != nil {
			return "", err
		}
		for _, a := range list {
			if code := codePattern.FindString(a.Body); code != "" {
				return strings.ReplaceAll(code, "\u00a0", ""), nil
			}
		}
	}
	return "", fmt.Errorf("no code has reached %s", strings.Join(places, " or "))
}
