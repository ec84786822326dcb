package intake

import (
	"slices"

	"uvent/core/fact/calendar"
	"uvent/core/fact/contact"
	"uvent/core/record/record"
)

// want is one thing that may be missing.
type want struct {
	id, title string
	from      Who
	part      string
	fact      string // a rulebook's key of it; empty where none names it
	opens     string // what it does besides, as a phrase
	ask       string
	takes     Takes
	missing   func(s Subject) bool
}

func at(minutes int) Takes { return Takes{Minutes: minutes} }

// wants are all that is looked for, in the order in which people ask for it.
var wants = []want{
	{
		"name",
		"Trading name",
		Owner,
		"identity",
		"name",
		"",
		"The name on the sign, letter for letter.",
		at(1),
		func(s Subject) bool { return s.Record.Name == "" },
	},
	{
		"address",
		"Address",
		Owner,
		"contact",
		"address",
		"",
		"The full address with unit or suite, as the post knows it.",
		at(1),
		func(s Subject) bool { return s.Record.Address.Street == "" },
	},
	{
		"category",
		"Main category",
		Us,
		"categories",
		"category",
		"",
		"In a few words: what do most people come for?",
		at(2),
		func(s Subject) bool { return s.Record.Category == "" },
	},
	{
		"registration",
		"Registration number",
		Owner,
		"identity",
		"registration",
		"opens claims where a directory wants it before anything else",
		"The company’s registration number. If it has none yet, please apply now: it takes weeks, or days for a fee.",
		Takes{5, calendar.Rule{Min: 7, Max: 30, Unit: calendar.Days}, calendar.Rule{Min: 1, Max: 5, Unit: calendar.BusinessDays}},
		func(s Subject) bool { return s.Record.Company.Registration == "" },
	},
	{
		"licence",
		"Licence",
		Owner,
		"papers",
		"licence",
		"opens directories of a trade, and proves the trade where no code can come",
		"A photo of your licence to trade, if your trade has one.",
		Takes{5, calendar.Rule{Min: 5, Max: 20, Unit: calendar.BusinessDays}, calendar.Rule{}},
		func(s Subject) bool { return len(s.Record.Licences) == 0 && s.Held.Papers["licence"] == 0 },
	},
	{
		"utility_bill",
		"A bill that shows the address",
		Owner,
		"papers",
		"",
		"proves the address where a postcard gets lost",
		"A bill for electricity, water or the phone, not older than three months, on which the business’s name and address stand as on the sign.",
		Takes{5, calendar.Rule{Min: 0, Max: 10, Unit: calendar.BusinessDays}, calendar.Rule{}},
		func(s Subject) bool { return s.Held.Papers["utility_bill"]+s.Held.Papers["phone_bill"] == 0 },
	},
	{
		"legal_name",
		"Legal name",
		Owner,
		"identity",
		"legal_name",
		"has to match the papers that are sent",
		"The name that stands on the company’s papers.",
		at(1),
		func(s Subject) bool { return s.Record.LegalName == "" },
	},
	{
		"phone",
		"Phone",
		Owner,
		"contact",
		"phone",
		"opens codes by call, within minutes",
		"The phone number that customers should call.",
		at(1),
		func(s Subject) bool { return len(s.Record.Phones) == 0 },
	},
	{
		"text_phone",
		"A phone that takes texts",
		Owner,
		"contact",
		"",
		"opens codes by text, within minutes",
		"A mobile number that can receive a code by text message. It need not be shown to anybody.",
		at(2),
		func(s Subject) bool {
			return len(s.Record.Phones) > 0 && !slices.ContainsFunc(s.Record.Phones, func(p record.Phone) bool { return p.Text })
		},
	},
	{
		"website",
		"Website",
		Owner,
		"contact",
		"website",
		"",
		"The address of your website, if there is one.",
		at(1),
		func(s Subject) bool { return s.Record.Website == "" },
	},
	{
		"domain_email",
		"An email on the website’s domain",
		Owner,
		"contact",
		"",
		"opens codes by email, within minutes",
		"An email address that ends like your website’s, such as hello@ and its name. Your web host can set one up.",
		Takes{20, calendar.Rule{Min: 0, Max: 2, Unit: calendar.BusinessDays}, calendar.Rule{}},
		func(s Subject) bool {
			return s.Record.Website != "" && !contact.SameDomain(s.Record.Email, s.Record.Website)
		},
	},
	{
		"envelope",
		"A name for the envelope",
		Owner,
		"contact",
		"",
		"has a postcard reach somebody",
		"Who opens the post? A postcard with a code will carry that name.",
		at(1),
		func(s Subject) bool { return s.Record.Mailing.Contact == "" },
	},
	{
		"hours",
		"Opening hours",
		Owner,
		"hours",
		"hours",
		"opens codes by call while somebody is there",
		"Opening hours for each day, with lunch breaks.",
		at(3),
		func(s Subject) bool { return s.Record.Hours == "" },
	},
	{
		"holidays",
		"Hours on the next holidays",
		Owner,
		"hours",
		"",
		"so that nobody stands before a locked door",
		"Are you open on the public holidays to come?",
		at(3),
		undecided,
	},
	{"pin", "Pin", Us, "contact", "", "", "Where exactly is the door?", at(2), func(s Subject) bool { return s.Record.Pin == nil }},
	{
		"area",
		"Service area",
		Owner,
		"area",
		"",
		"",
		"How far do you go, and to which towns?",
		at(3),
		func(s Subject) bool { return s.Record.Kind != record.Premises && len(s.Record.Area.Towns) == 0 },
	},
	{
		"description",
		"Description",
		Us,
		"words",
		"",
		"",
		"What should people know before they come? Three sentences are enough.",
		at(15),
		func(s Subject) bool { return s.Record.Words.Medium == "" },
	},
	{
		"keywords",
		"Keywords",
		Us,
		"words",
		"",
		"decides who finds it where words are searched",
		"What would customers type to find you?",
		at(5),
		func(s Subject) bool { return len(s.Record.Words.Keywords) == 0 },
	},
	{"logo", "Logo", Owner, "photos", "", "", "Your logo as a file, as large as you have it.", at(5), func(s Subject) bool { return s.Held.Photos["logo"] == 0 }},
	{
		"cover",
		"Cover photo",
		Owner,
		"photos",
		"",
		"",
		"One wide photo that shows the business at its best.",
		at(10),
		func(s Subject) bool { return s.Held.Photos["cover"] == 0 },
	},
	{
		"exterior",
		"Photo of the front",
		Owner,
		"photos",
		"",
		"proves that the place is there",
		"A photo of the front from across the street, with the sign and the street number in it.",
		at(10),
		func(s Subject) bool { return s.Record.Kind != record.GoesToCustomers && s.Held.Photos["exterior"] == 0 },
	},
	{"interior", "Photo of the inside", Owner, "photos", "", "", "Two or three photos of the inside.", at(10),
		func(s Subject) bool { return s.Record.Kind != record.GoesToCustomers && s.Held.Photos["interior"] == 0 }},
	{"payments", "Ways to pay", Owner, "offerings", "", "", "How can customers pay?", at(1), func(s Subject) bool { return len(s.Record.Payments) == 0 }},
	{
		"offerings",
		"Offerings with prices",
		Owner,
		"offerings",
		"",
		"",
		"A price list or menu, as you have it.",
		at(20),
		func(s Subject) bool { return len(s.Record.Offerings) == 0 },
	},
}
