package giving

import (
	"encoding/json"
	"maps"
	"slices"
	"strings"

	"uvent/core/fact/address"
	"uvent/core/record/record"
	"uvent/core/record/sighting"
	"uvent/core/rule/fit"
)

// Ticked is what a page would show that shows what it was given: for directories that people work on, where nobody has
// looked at the page. It speaks of the facts that were given.
func Ticked(given fit.Values) sighting.Sighting {
	var s sighting.Sighting
	var data struct {
		Name, Phone, Email, Website, Category, Hours                         string
		Street, Locality, Region, Country, Directions, Parking, Opened       string
		PostalCode                                                           string   `json:"postal_code"`
		OtherCategories                                                      []string `json:"other_categories"`
		OtherPhones                                                          []string `json:"other_phones"`
		Latitude, Longitude                                                  *float64
		Texts                                                                map[string]string
		Attributes                                                           map[string]bool
		Areas, Keywords, Specialities, Payments, Videos, Team, Licence       []string
		Booking, Ordering, Quote, Menu, App, Founded, Industry, Registration string
		GiftCard                                                             string `json:"gift_card"`
		LegalName                                                            string `json:"legal_name"`
		Socials                                                              []struct{ Name, URL string }
	}
	facts := map[string]any{}
	for _, v := range given {
		if strings.HasPrefix(v.Key, "photos.") || v.Key == "offerings" || v.Key == "button" {
			continue
		}
		s.Only = append(s.Only, v.Key)
		if v.Key == "hours" { // which are given with their dates
			s.Only = append(s.Only, "special_dates")
		}
		for k, one := range v.Data {
			if group, ok := one.(map[string]any); ok {
				if have, ok := facts[k].(map[string]any); ok {
					group = maps.Clone(group)
					maps.Copy(group, have)
				}
				facts[k] = group
				continue
			}
			facts[k] = one
		}
	}
	text, err := json.Marshal(facts)
	if err != nil || json.Unmarshal(text, &data) != nil {
		return sighting.Sighting{More: sighting.More{Only: []string{"nothing"}}}
	}
	s.Name, s.Phone, s.Email, s.Website, s.Category, s.Hours = data.Name, data.Phone, data.Email, data.Website, data.Category, data.Hours
	s.Address = address.Address{Street: data.Street, Locality: data.Locality, Region: data.Region, PostalCode: data.PostalCode, Country: data.Country}
	s.OtherCategories, s.OtherPhones, s.Texts, s.Attributes = data.OtherCategories, data.OtherPhones, data.Texts, data.Attributes
	s.Areas, s.Keywords, s.Specialities, s.Payments, s.Videos = data.Areas, data.Keywords, data.Specialities, data.Payments, data.Videos
	s.Team, s.Licence, s.Directions, s.Parking, s.Opened = data.Team, data.Licence, data.Directions, data.Parking, data.Opened
	s.Founded, s.Industry, s.Registration, s.LegalName = data.Founded, data.Industry, data.Registration, data.LegalName
	s.Links = map[string]string{
		"booking": data.Booking, "ordering": data.Ordering, "quote": data.Quote, "menu": data.Menu, "gift_card": data.GiftCard, "app": data.App,
	}
	maps.DeleteFunc(s.Links, func(_, to string) bool { return to == "" })
	for _, p := range data.Socials {
		s.Socials = append(s.Socials, sighting.Social{Name: p.Name, URL: p.URL})
	}
	if data.Latitude != nil && data.Longitude != nil {
		s.Pin = &record.Pin{Latitude: *data.Latitude, Longitude: *data.Longitude}
	}
	slices.Sort(s.Only)
	s.Only = slices.Compact(s.Only)
	if len(s.Only) == 0 {
		s.Only = []string{"nothing"} // which no fact is called
	}
	return s
}
