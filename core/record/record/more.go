package record

import (
	"strings"

	"golang.org/x/text/currency"
	"golang.org/x/text/language"

	"uvent/core/fact/geo"
)

// Area is where a business goes to its customers.
type Area struct {
	Minutes int      `json:"minutes"` // most travel time from the pin; 0: towns were chosen by hand alone
	Towns   []Town   `json:"towns"`   // the largest first
	Without []string `json:"without"` // names of towns within reach that are left out by hand
}

// Town is one of an area.
type Town struct {
	Name       string  `json:"name"`
	Population int     `json:"population"`
	Latitude   float64 `json:"latitude"`
	Longitude  float64 `json:"longitude"`
	Minutes    float64 `json:"minutes"` // travel time from the pin
	ByHand     bool    `json:"by_hand"` // it lies beyond the travel time
}

// At is where the town lies.
func (t Town) At() geo.Point { return geo.Point{Longitude: t.Longitude, Latitude: t.Latitude} }

// Links are web addresses for one purpose each.
type Links struct {
	Booking  string `json:"booking"`
	Ordering string `json:"ordering"`
	Quote    string `json:"quote"`
	Menu     string `json:"menu"`
	GiftCard string `json:"gift_card"`
	App      string `json:"app"`
}

// Social is a profile of the business elsewhere.
type Social struct {
	Name string `json:"name"` // of the network
	URL  string `json:"url"`
	Show bool   `json:"show"` // directories are asked to show it
}

// Tags say how links are marked so that a site's analytics can tell the visits
// from each directory apart.
type Tags struct {
	On       bool   `json:"on"`
	Medium   string `json:"medium"`   // utm_medium
	Campaign string `json:"campaign"` // utm_campaign
}

// Licence is a permission to trade.
type Licence struct {
	Name      string `json:"name"`
	Number    string `json:"number"`
	Authority string `json:"authority"` // who gave it
	Until     string `json:"until"`     // last date: 2026-12-31; empty: without end
}

// Member is one of the team, as the public may see them.
type Member struct {
	Name  string `json:"name"`
	Role  string `json:"role"`
	Email string `json:"email"`
	Phone string `json:"phone"` // E.164
	Photo string `json:"photo"` // id of one of the location's photos
}

// Section is a part of a menu, a price list or a list of services.
type Section struct {
	Title string `json:"title"`
	Items []Item `json:"items"`
}

// Item is one thing offered.
type Item struct {
	Name  string `json:"name"`
	Price string `json:"price"` // in the location's currency: 12 or 12.50; empty: not said
	Per   string `json:"per"`   // what the price is for or how it is meant: an hour, from
	About string `json:"about"`
	Photo string `json:"photo"` // id of one of the location's photos
}

// Company is the firm behind the location.
type Company struct {
	Registration string   `json:"registration"` // the number it is registered under
	Size         string   `json:"size"`         // people: one of CompanySizes
	Kind         string   `json:"kind"`         // one of CompanyKinds
	Industry     string   `json:"industry"`
	Founded      string   `json:"founded"` // 2026, 2026-12 or 2026-12-01
	Domains      []string `json:"domains"` // of its websites and mail: spokeshave.example
}

// CompanySizes are ranges of how many people work for a firm.
var CompanySizes = []string{"1", "2-10", "11-50", "51-200", "201-500", "501-1000", "over 1000"}

// CompanyKinds are kinds of firms.
var CompanyKinds = []string{"sole trader", "partnership", "limited company", "corporation", "cooperative", "charity", "public body"}

// PaymentKinds are ways to pay.
var PaymentKinds = []struct{ ID, Name string }{
	{"cash", "Cash"}, {"debit_card", "Debit card"}, {"credit_card", "Credit card"}, {"contactless", "Contactless"}, {"mobile", "By phone"},
	{"cheque", "Cheque"}, {"bank_transfer", "Bank transfer"}, {"invoice", "Invoice"}, {"instalments", "Instalments"}, {"gift_card", "Gift card"},
}

// Limits of a record's longer lists.
const (
	MostTowns    = 200
	MostSocials  = 20
	MostTeam     = 40
	MostSections = 40
	MostItems    = 200 // in a section
	MostAbout    = 300
	MostMinutes  = 240
)

// Currency is the ISO 4217 code of what is paid with in a country; false where
// that is not known.
func Currency(country string) (string, bool) {
	region, err := language.ParseRegion(country)
	if err != nil {
		return "", false
	}
	unit, ok := currency.FromRegion(region)
	return strings.ToUpper(unit.String()), ok
}
