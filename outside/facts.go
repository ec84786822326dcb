package outside

// Facts are what a directory knows of a business.
type Facts struct {
	Name       string  `json:"name"`
	Street     string  `json:"street"` // with the unit
	Locality   string  `json:"locality"`
	Region     string  `json:"region"`
	PostalCode string  `json:"postal_code"`
	Country    string  `json:"country"`
	HideStreet bool    `json:"hide_street"`
	Phone      string  `json:"phone"` // E.164
	Website    string  `json:"website"`
	Category   string  `json:"category"`
	Hours      string  `json:"hours"` // opening_hours, or in words
	Latitude   float64 `json:"latitude"`
	Longitude  float64 `json:"longitude"`

	LegalName       string            `json:"legal_name,omitempty"`
	Registration    string            `json:"registration,omitempty"`
	Email           string            `json:"email,omitempty"`
	OtherCategories []string          `json:"other_categories,omitempty"`
	Texts           map[string]string `json:"texts,omitempty"` // tagline, short, medium, long, story
	Areas           []string          `json:"areas,omitempty"`
	Attributes      map[string]bool   `json:"attributes,omitempty"`
	Directions      string            `json:"directions,omitempty"`
	Parking         string            `json:"parking,omitempty"`
	Opened          string            `json:"opened,omitempty"`
	OtherPhones     []string          `json:"other_phones,omitempty"`
	Keywords        []string          `json:"keywords,omitempty"`
	Specialities    []string          `json:"specialities,omitempty"`
	Industry        string            `json:"industry,omitempty"`
	CompanySize     string            `json:"company_size,omitempty"`
	CompanyKind     string            `json:"company_kind,omitempty"`
	Founded         string            `json:"founded,omitempty"`
	Licence         []string          `json:"licence,omitempty"`
	Booking         string            `json:"booking,omitempty"`
	Ordering        string            `json:"ordering,omitempty"`
	Menu            string            `json:"menu,omitempty"`
	GiftCard        string            `json:"gift_card,omitempty"`
	Socials         []Social          `json:"socials,omitempty"`
	Videos          []string          `json:"videos,omitempty"`
	Offerings       []Section         `json:"offerings,omitempty"`
	Payments        []string          `json:"payments,omitempty"`
	Team            []string          `json:"team,omitempty"`
	Button          string            `json:"button,omitempty"` // the chosen one
	AttestedBy      string            `json:"attested_by,omitempty"`
	PageName        string            `json:"page_name,omitempty"` // wished for its page's address
	KeepOwn         bool              `json:"keep_own,omitempty"`  // nothing is taken over from others
}

// Social is a profile elsewhere.
type Social struct {
	Name string `json:"name"`
	URL  string `json:"url"`
	Show bool   `json:"show"`
}

// Section is a part of a price list.
type Section struct {
	Title string `json:"title"`
	Items []Item `json:"items"`
}

// Item is one thing offered.
type Item struct {
	Name     string `json:"name"`
	Price    string `json:"price"`
	Currency string `json:"currency"`
	Per      string `json:"per"`
	About    string `json:"about"`
}
