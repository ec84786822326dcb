package outside

import (
	"slices"
	"time"

	"uvent/core/fact/calendar"
)

// directory is one stand-in and how it behaves.
type directory struct {
	slug, name string
	place      calendar.Place
	publish    calendar.Rule
	methods    map[string]method
	look       look
	connected  bool          // it has an interface for programs
	pages      bool          // it has a form for people
	files      bool          // it takes files of many locations
	staff      string        // the email at which its people take what is to be changed
	review     calendar.Rule // how long they take for it
	pageNames  bool          // its pages' addresses are made from the name alone, and each is given once
	noCreating bool          // it makes its listings by itself
	noVisits   bool          // it lists no business that only goes to its customers
	wants      []string      // facts that it wants before a claim, besides the usual ones
	wantsPlace bool          // it wants a street and a town; a professional network does not
	atOnce     bool          // whoever adds a listing is believed
	showSwitch bool          // profiles show only where the switch is ticked
	fails      int           // of a hundred requests to its interface, the first try of so many comes to nothing
	together   bool          // tries to verify run beside each other
	secondLook int           // of a hundred listings whose code was right, so many are looked into all the same
	photos     photoWays
	copies     []copying
	form       []field

	access      calendar.Rule   // how long a holder may take to answer who asks for access
	roles       bool            // accounts besides the holder may do some things
	attests     bool            // whoever signs attests that they may
	withdrawn   bool            // a new listing stays out of public view until somebody shows it
	marks       map[string]bool // of closed or moved locations that it knows; and whether they are for good
	suggested   bool            // nothing is changed; changes are suggested
	edits       []edit
	suspends    map[string]int // by cause, how many of a hundred
	appeals     calendar.Rule
	mostAppeals int
	speaks      speaking
}

// method is a way to verify that a directory offers.
type method struct {
	digits, tries      int
	works              time.Duration
	window             calendar.Rule // for what goes by post
	always             bool          // to every listing
	onlyKnown, onlyNew bool          // by whether the directory had the listing before
}

// copying is what a directory takes over from another.
type copying struct {
	from       string
	onRequest  bool
	window     calendar.Rule
	carries    []string // keys of Facts; none: all
	omits      []string
	overwrites bool
}

// field is one of a form for people.
type field struct {
	key, label string
	long       bool   // more than a line
	tick       string // a switch beside it
	most       int    // characters
	parts      int    // of a list
	needed     bool
}

var pacific = func() *time.Location {
	zone, err := time.LoadLocation("America/Los_Angeles")
	if err != nil {
		panic(err)
	}
	return zone
}()

func in(region string, cutOff int) calendar.Place {
	return calendar.Place{Zone: pacific, Holidays: calendar.HolidaysOf("US", region), CutOffHour: cutOff}
}

func business(from, to int) calendar.Rule {
	return calendar.Rule{Min: from, Max: to, Unit: calendar.BusinessDays}
}
func days(from, to int) calendar.Rule { return calendar.Rule{Min: from, Max: to, Unit: calendar.Days} }

const minutes = time.Minute

var directories = []directory{
	{
		slug: "fernlook", name: "Fernlook", place: in("", 17), publish: business(1, 3), connected: true, together: true, wantsPlace: true,
		access: business(3, 7), appeals: business(3, 10), mostAppeals: 2,
		edits: []edit{{keys: []string{"name", "street", "locality", "postal_code"}, sets: "verification"},
			{keys: []string{"category", "other_categories", "phone", "website"}, sets: "review", window: business(0, 3)}},
		marks:    map[string]bool{"closed_for_a_time": false, "closed_for_good": false, "moved": false},
		suspends: map[string]int{"extra_words": 70, "post_office_box": 80, "round_the_clock": 25, "name_and_address": 70, "second_edit": 35, "unsaid": 2},
		speaks:   speaking{posts: 30, events: 60, buttons: []string{"visit", "call", "book", "directions"}, reviews: true},
		look:     look{`"Trebuchet MS", Verdana, sans-serif`, "#1d2a1d", "#fff", "#4a6b2f", false, "jsonld", true},
		methods: map[string]method{
			"postcard": {digits: 6, tries: 3, works: 30 * 24 * time.Hour, window: business(6, 12), always: true},
			"call": {
				digits: 6,
				tries:  3,
				works:  30 * minutes,
			},
			"text":  {digits: 6, tries: 3, works: 30 * minutes},
			"email": {digits: 8, tries: 5, works: 72 * time.Hour},
			"video": {window: business(2, 5)},
		},
	},
	{
		slug:       "fernlook-facts",
		name:       "Fernlook Facts",
		place:      in("", 17),
		publish:    business(0, 2),
		connected:  true,
		noCreating: true,
		suggested:  true,
		review:     business(1, 6),
		access:     business(3, 7),
		look:       look{`"Trebuchet MS", Verdana, sans-serif`, "#1d2a1d", "#f4f7f0", "#4a6b2f", true, "jsonld", false},
		methods:    map[string]method{"email": {digits: 8, tries: 5, works: 72 * time.Hour, always: true}, "staff": {window: business(2, 8), always: true}},
		copies: []copying{
			{
				from:       "fernlook",
				window:     days(3, 21),
				carries:    []string{"name", "phone", "street", "locality", "region", "postal_code", "website", "hours"},
				overwrites: true,
			},
		},
	},
	{
		slug: "waywren", name: "Waywren", place: in("", 16), publish: business(1, 9), connected: true, noVisits: true, wantsPlace: true,
		roles: true, access: days(3, 7), appeals: business(2, 7), mostAppeals: 2,
		edits:    []edit{{keys: []string{"name", "street", "locality", "postal_code", "latitude", "longitude"}, sets: "review", window: days(1, 6)}},
		marks:    map[string]bool{"closed_for_a_time": false, "closed_for_good": true},
		suspends: map[string]int{"post_office_box": 60, "extra_words": 40},
		look:     look{"Verdana, sans-serif", "#142433", "#fdfdfd", "#0f5a78", true, "microdata", false},
		methods: map[string]method{
			"call":     {digits: 4, tries: 3, works: 15 * minutes, onlyKnown: true},
			"postcard": {digits: 5, tries: 3, works: 40 * 24 * time.Hour, window: business(5, 10), onlyNew: true},
			"papers":   {window: days(1, 6), onlyNew: true},
		},
	},
	{
		slug:        "skerry",
		name:        "Skerry",
		place:       in("", 15),
		publish:     business(2, 5),
		connected:   true,
		wants:       []string{"legal name", "registration number"},
		wantsPlace:  true,
		photos:      photoWays{tagged: map[string]bool{"logo": true}},
		access:      business(5, 10),
		appeals:     business(4, 9),
		mostAppeals: 2,
		edits:       []edit{{keys: []string{"name", "street", "locality", "postal_code", "legal_name"}, sets: "review", window: business(2, 6)}},
		marks:       map[string]bool{"closed_for_good": true},
		suspends:    map[string]int{"name_and_address": 40},
		speaks:      speaking{events: 21, reviews: true},
		look:        look{"Tahoma, sans-serif", "#222", "#fff", "#7a3e12", false, "jsonld", false},
		methods: map[string]method{
			"email":    {digits: 6, tries: 4, works: 48 * time.Hour, always: true},
			"postcard": {digits: 6, tries: 3, works: 60 * 24 * time.Hour, window: business(8, 15), always: true},
		},
		copies: []copying{
			{from: "fernlook", onRequest: true, window: business(0, 2), omits: []string{"website", "category", "other_categories", "socials", "areas"}},
		},
	},
	{
		slug:       "hithermap",
		name:       "Hithermap",
		place:      in("WA", 0),
		publish:    business(1, 4),
		connected:  true,
		wantsPlace: true,
		fails:      30,
		photos:     photoWays{loses: 25, blurs: 25},
		access:     days(2, 5),
		look:       look{"Helvetica, Arial, sans-serif", "#20301f", "#f7faf4", "#23663a", false, "microdata", false},
		methods:    map[string]method{"call": {digits: 5, tries: 3, works: 20 * minutes, always: true}, "card": {always: true}},
		copies: []copying{
			{from: "plotline", window: days(5, 14), carries: []string{"name", "street", "locality", "region", "postal_code", "phone", "website"}, overwrites: true},
		},
	},
	{
		slug: "murmurhall", name: "Murmurhall", place: in("", 0), publish: days(0, 1), connected: true, pageNames: true, secondLook: 25,
		marks:  map[string]bool{"closed_for_a_time": false, "closed_for_good": true},
		access: days(3, 10), appeals: days(3, 14), mostAppeals: 2,
		suspends: map[string]int{"extra_words": 30, "unsaid": 3},
		speaks:   speaking{posts: 3, radius: 50, buttons: []string{"visit", "call", "book", "write"}, reviews: true},
		look:     look{`"Segoe UI", Verdana, sans-serif`, "#2b2340", "#fbf9ff", "#6a3fa0", false, "jsonld", true},
		methods: map[string]method{
			"text": {
				digits: 6,
				tries:  3,
				works:  10 * minutes,
				always: true,
			},
			"email":  {digits: 6, tries: 3, works: 60 * minutes, always: true},
			"papers": {window: business(2, 7), always: true},
		},
	},
	{
		slug: "lanefolk", name: "Lanefolk", place: in("WA", 0), publish: days(0, 2), pages: true,
		withdrawn: true,
		look:      look{"Georgia, serif", "#2a2a20", "#fbfaf4", "#9a5a00", false, "plain", false},
		methods: map[string]method{
			"postcard": {
				digits: 6,
				tries:  3,
				works:  21 * 24 * time.Hour,
				window: business(4, 9),
				always: true,
			},
			"text": {digits: 6, tries: 3, works: 10 * minutes, always: true},
		},
		form: []field{
			{
				key:    "name",
				label:  "Business name",
				most:   60,
				needed: true,
			},
			{key: "category", label: "What kind of business", needed: true},
			{key: "address", label: "Address", needed: true},
			{
				key:   "keywords",
				label: "Topics",
				parts: 4,
			},
			{key: "areas", label: "Neighbourhoods", parts: 8},
			{key: "licence", label: "Licence number"},
			{key: "phone", label: "Phone", needed: true},
			{key: "email", label: "Email", needed: true},
			{
				key:   "website",
				label: "Website",
				most:  150,
			},
			{key: "hours", label: "Opening times", needed: true},
			{key: "text.medium", label: "Tell the neighbours", long: true, most: 500, needed: true},
			{key: "gift_card", label: "Gift cards", most: 150},
		},
	},
	{
		slug: "guildbench", name: "Guildbench", place: in("", 0), publish: days(0, 1), connected: true, pageNames: true,
		attests: true, access: days(2, 7),
		speaks:  speaking{posts: 20, buttons: []string{"visit", "contact", "join"}},
		look:    look{"Arial, sans-serif", "#1a2433", "#fff", "#1b4f9c", true, "jsonld", false},
		methods: map[string]method{"email": {digits: 6, tries: 5, works: 24 * time.Hour, always: true}, "papers": {window: business(3, 8), always: true}},
	},
	{
		slug: "candourbox", name: "Candourbox", place: in("", 0), publish: business(0, 2), connected: true, noVisits: true, wantsPlace: true,
		access: business(2, 5),
		edits:  []edit{{keys: []string{"name", "street", "locality", "postal_code"}, sets: "review", window: business(1, 5)}},
		speaks: speaking{percent: 30, buttons: []string{"call", "visit", "directions"}, reviews: true},
		look:   look{"Verdana, sans-serif", "#331c1c", "#fffdfb", "#a03030", false, "microdata", false},
		methods: map[string]method{
			"text": {digits: 4, tries: 3, works: 30 * minutes, always: true}, "email": {digits: 6, tries: 3, works: 24 * time.Hour, always: true},
		},
	},
	{
		slug:    "brasswire",
		name:    "Brasswire",
		place:   in("", 12),
		publish: business(0, 2),
		pages:   true,
		staff:   "listings@brasswire.example",
		review:  business(4, 6),
		look:    look{`"Courier New", monospace`, "#222", "#fffbe8", "#7a6000", false, "plain", false},
		methods: map[string]method{"email": {digits: 4, tries: 3, works: 7 * 24 * time.Hour, always: true}},
		copies: []copying{
			{from: "plotline", window: days(7, 14), carries: []string{"name", "street", "locality", "region", "postal_code", "phone"}, overwrites: true},
		},
	},
	{
		slug: "plotline", name: "Plotline", place: in("", 0), publish: business(1, 3), pages: true, files: true,
		look: look{`"Lucida Console", monospace`, "#102a2a", "#f2f7f7", "#0a5a5a", true, "plain", false},
	},
	{
		slug: "roadwhistle", name: "Roadwhistle", place: in("", 0), publish: days(5, 14), pages: true,
		look:   look{"Arial, sans-serif", "#eee", "#1c1f24", "#ffb300", true, "plain", false},
		copies: []copying{{from: "plotline", window: days(5, 14), overwrites: true}},
	},
	{
		slug:       "sound-chamber",
		name:       "Sound Chamber",
		place:      in("WA", 0),
		publish:    days(0, 0),
		pages:      true,
		atOnce:     true,
		showSwitch: true,
		look:       look{`"Times New Roman", serif`, "#1c1c2c", "#fff", "#203a7a", false, "microdata", false},
		copies: []copying{
			{from: "plotline", window: days(10, 30), carries: []string{"name", "street", "locality", "region", "postal_code", "phone"}, overwrites: true},
		},
		form: []field{
			{
				key:    "name",
				label:  "Member",
				most:   50,
				needed: true,
			},
			{key: "address", label: "Address"},
			{key: "phone", label: "Phone", needed: true},
			{key: "email", label: "Email"},
			{key: "website", label: "Website", most: 100},
			{
				key:   "text.short",
				label: "In brief",
				most:  100,
			},
			{key: "keywords", label: "Keywords", needed: true},
			{key: "socials", label: "Social profiles", long: true, tick: "Show on profile"},
			{key: "keep", label: "Member file", tick: "Keep my own entry"},
		},
	},
	{
		slug:    "old-wharf-merchants",
		name:    "Old Wharf Merchants",
		place:   in("WA", 0),
		publish: business(0, 3),
		pages:   true,
		staff:   "hello@oldwharf.example",
		review:  business(2, 10),
		atOnce:  true,
		look:    look{"Palatino, Georgia, serif", "#26221c", "#faf6ee", "#8a3d1e", true, "plain", false},
	},
	{
		slug: "spanner-register", name: "Spanner Register", place: in("WA", 0), publish: business(0, 2), pages: true,
		look:    look{"Arial, sans-serif", "#1f2326", "#f5f6f7", "#b03a00", true, "microdata", false},
		methods: map[string]method{"call": {digits: 4, tries: 2, works: 10 * minutes, always: true}, "papers": {window: business(2, 5), always: true}},
		form: []field{
			{
				key:    "name",
				label:  "Workshop",
				most:   60,
				needed: true,
			},
			{key: "licence", label: "Licence", needed: true},
			{key: "category", label: "Works on", needed: true},
			{key: "address", label: "Address", needed: true},
			{
				key:    "phone",
				label:  "Workshop phone",
				needed: true,
			},
			{key: "website", label: "Website", most: 100},
			{key: "hours", label: "Hours"},
			{key: "specialities", label: "Skills", most: 200},
			{key: "offerings", label: "Jobs and prices", long: true},
		},
	},
}

// directoryAt finds a stand-in; nil for none.
func directoryAt(slug string) *directory {
	i := slices.IndexFunc(directories, func(d directory) bool { return d.slug == slug })
	if i < 0 {
		return nil
	}
	return &directories[i]
}

// lacks says what a directory misses in the facts that it is given with a claim, or
// with a listing that is to be created.
func (d *directory) lacks(f Facts, creating bool) string {
	have := map[string]string{
		"name":                f.Name,
		"street":              f.Street,
		"town":                f.Locality,
		"category":            f.Category,
		"legal name":          f.LegalName,
		"registration number": f.Registration,
	}
	want := slices.Clone(d.wants)
	if creating {
		want = append(want, "name")
		if d.wantsPlace {
			want = append(want, "town", "category")
			if len(f.Areas) == 0 { // who goes to people's homes has no place where they come
				want = append(want, "street")
			}
		}
	}
	for _, what := range want {
		if have[what] == "" {
			return "We need the " + what + "."
		}
	}
	return ""
}
