package rulebook

import (
	"strings"
	"testing"

	"uvent/core/fact/calendar"
	"uvent/core/fact/photo"
	"uvent/core/record/record"
)

func span(from, to int) calendar.Rule { return calendar.Rule{Min: from, Max: to, Unit: calendar.Days} }

func working(from, to int) calendar.Rule {
	return calendar.Rule{Min: from, Max: to, Unit: calendar.BusinessDays}
}

// full is a directory that has a rule on everything.
var full = Rulebook{
	ID:       "full",
	Name:     "Pierbook",
	Worked:   Written,
	Staff:    "staff@pierbook.example",
	Calendar: Calendar{Country: "CA", Region: "BC", Zone: "America/Vancouver", CutOffHour: 15},
	Account: Account{Personal: true, EmailConfirmed: true, Attests: true, Classes: []Class{{1, "harbour"}, {31, "fleet"}},
		First: []First{{"legal_name", "the legal name."}, {"", "a stamp."}}},
	Listing: Listing{Kinds: []record.Kind{record.Premises, record.GoesToCustomers, record.Both}, Countries: []string{"CA", "US"}, Regions: []string{"BC"},
		Towns: []string{"Minnow Bay", "Tern Point"}, Streets: []string{"Quay Street"}, Trades: []string{"bakery"}, HideAddress: []record.Kind{record.Both}},
	Facts: []Fact{{Fact: "name", Required: true, MostCharacters: 40, Note: "As on the sign."}, {Fact: "team", Label: "Crew", Most: 3, MostCharacters: 20},
		{Fact: "videos", Most: 2, Show: "Show films"}, {Fact: "hours"}, {Fact: "category"}},
	Texts: []Prose{
		{Text: "short", Label: "Summary", Required: true, MostCharacters: 80, Note: "No links."},
		{Text: "long", Label: "Story", MostCharacters: 900},
	},
	Areas:      Areas{Most: 1, Label: "Waters"},
	Hours:      Hours{SittingsPerDay: 1, PastMidnight: true, AgreeWith: "skerry"},
	Categories: Categories{Most: 2, Map: map[string]string{"bakery": "Bakers"}, Other: "Sundries", StaffOnly: true},
	Photos: []Photos{
		{Groups: []string{"logo"}, Label: "Mark", Most: 1, Crop: photo.Crop{Width: 300, Height: 200, Circle: true}, Least: photo.Size{Width: 90, Height: 60},
			Formats: []photo.Format{photo.JPEG, photo.PNG}, MostKilobytes: 500, Tag: "Mark", With: "Front", Note: "On white."},
		{Groups: []string{"cover"}, Label: "Front", Most: 4, Crop: photo.Crop{Width: 800, Height: 400}, Least: photo.Size{Width: 400, Height: 200},
			Formats: []photo.Format{photo.PNG}, MostKilobytes: 900},
	},
	PageAddress: PageAddress{Begins: "pierbook.example/", MostCharacters: 30, Note: "For good."},
	Methods: []Method{
		{
			Method: Postcard,
			Window: working(6, 12),
			Code:   Code{Digits: 6, WorksDays: 30, Tries: 3},
			Again:  Again{AfterDays: 14, Most: 3},
			Kinds:  []record.Kind{record.Premises},
		},
		{Method: Call, Code: Code{Digits: 4, WorksMinutes: 15, Tries: 1}, Again: Again{AfterMinutes: 1}, Needs: MethodCondition{OpenMinutes: 10}, Note: "Be near."},
		{Method: Email, Code: Code{Digits: 5, WorksDays: 1, Tries: 2}, Needs: MethodCondition{EmailOnDomain: true}},
		{Method: Papers, Window: span(0, 4), Papers: []string{"licence", "lease"}},
		{Method: Video, Window: working(1, 1), Film: Film{MostSeconds: 60, Shows: []string{"street", "sign"}}},
		{Method: Card, Charge: Charge{Amount: 2.5, Currency: "EUR", PaidBack: true}},
	},
	Review:     Review{Window: span(2, 2), Answers: "They answer by mail."},
	Together:   true,
	SecondLook: SecondLook{Chance: 0.25, Window: working(2, 6)},
	Publishing: Publishing{Window: working(1, 3), LookEveryHours: 12, Withdrawn: true},
	Access:     Access{Window: span(3, 7), Escalate: working(5, 15), Papers: []string{"licence"}, Roles: []string{"reader", "editor"}},
	Edits: []Edit{{[]string{"name", "text.short"}, OffReview, working(2, 5)}, {[]string{"photos.cover"}, OffVerification, calendar.Rule{}},
		{[]string{"areas"}, OffWriting, calendar.Rule{}}, {[]string{"hours"}, OffRefusal, calendar.Rule{}}},
	Closing: Closing{ForATime: Turn{By: ByView}, ForGood: Turn{By: ByMark, Final: true, Note: "Think twice."}, Moved: Turn{By: InWord}},
	Risks: []Risk{{Cause: "town_in_name", Weight: 0.286, SetsOff: OffSuspension}, {Cause: "second_edit", Weight: 0.1, SetsOff: OffReview},
		{Cause: "round_the_clock", Weight: 1, SetsOff: OffVerification}, {Cause: "other_domain", Weight: 0.5, SetsOff: OffRefusal}},
	Appeal: Appeal{
		How:      "by a form",
		Window:   working(10, 20),
		Most:     2,
		Chance:   0.5,
		Evidence: []Evidence{{Paper: "lease", Causes: []string{"shared_phone", "extra_words"}, Chance: 0.75}, {Paper: "tax", Chance: 0.6}},
	},
	Copies: []Copying{
		{From: "skerry", OnRequest: true, Window: span(1, 2), Overwrites: true, Omits: []string{"team", "hours"}, OptOut: "Ask them not to."},
		{From: "plotline", Window: span(7, 30)},
	},
	Speaks: Speaks{
		PostsPerMonth:  1,
		PostRadius:     5,
		EventsMostDays: 1,
		OffersMost:     50,
		Buttons:        []string{"Call", "Book"},
		ReviewsToRead:  true,
		AnswersByVoice: true,
	},
}

const fullSays = `Who may be listed
Locations that are premises, going to customers or both.
In CA or US.
In the region BC.
In the town of Minnow Bay or Tern Point.
On its streets: Quay Street.
Of one trade: Bakery.
The street is not shown for those that are both.
How it is worked
In writing: its staff enter what is written to staff@pierbook.example.
A person’s own account stands behind the business’s.
The account’s email has to be confirmed first.
Whoever claims or creates a listing attests that they may speak for the business.
From 1 location on: an account of the class harbour.
From 31 locations on: an account of the class fleet.
First: the legal name.
First: a stamp.
The page’s address is made from the name: pierbook.example/…, up to 30 characters of it. For good.
What it takes
Name, required, up to 40 characters. As on the sign.
Crew, up to 3, up to 20 characters each.
Films, up to 2, shown only where “Show films” is ticked.
Hours.
Category.
Summary, required, up to 80 characters. No links.
Story, up to 900 characters.
Waters of up to 1 town.
Hours with up to 1 sitting a day, also past midnight; they must agree with those on skerry.
2 categories of its own; 1 of ours have a place there, the rest goes under Sundries; only its staff change them.
Photos
Mark: up to 1, cut to 300 by 200 pixels, from at least 90 by 60, shown in a circle; JPEG, PNG of up to 500 KB; counts only when marked as “Mark”; comes together with Front. On white.
Front: up to 4, cut to 800 by 400 pixels, from at least 400 by 200; PNG of up to 900 KB.
Ways to verify
Postcard: in 6 to 12 business days; a code of 6 digits that works for 30 days, 3 tries; for premises; another after 14 days, 3 in all.
Call: at once; a code of 4 digits that works for 15 minutes, 1 try; only while the shop is open for 10 more minutes; another after 1 minute. Be near.
Email: at once; a code of 5 digits that works for 1 day, 2 tries; the email must be on the website's domain.
Papers: in up to 4 days; licence or lease.
Video: in 1 business day; one take of up to 60 seconds that shows the street and its number; the sign.
Card payment: at once; EUR 2.50 is charged to a card in the business’s name and paid back.
Tries run beside each other: asking in another way ends none of them.
Until it shows
What is given is looked at by its people for 2 days. They answer by mail.
Once it is proved, its people take a second look at about 1 in 4, for 2 to 6 business days.
A new listing stays out of public view until somebody shows it there.
Public in 1 to 3 business days. Uvent looks every 12 hours until it shows.
Held by somebody else
Whoever holds a listing is asked for it, and should answer in 3 to 7 days.
Where they do not hand it over, its people decide in 5 to 15 business days, by one of these: licence.
Other accounts may have a role: reader or editor.
What a change sets off
Name, Summary: a review, 2 to 5 business days.
Front: a new verification.
Waters: taken in writing only.
Hours: refused.
When a location closes
Closed for a time: it has no mark for it; the listing is taken out of public view.
Closed for good: it is marked so, which cannot be taken back. Think twice.
Moved away: its people are told.
For what it suspends
The town in the name: a suspension, about 3 in 10.
A second change before the last is settled: a review, about 1 in 10.
Hours round the clock: a new verification, always.
A website on another domain: a refusal, about 1 in 2.
Appeals: by a form, 10 to 20 business days, 2 in all.
Without a paper an appeal is granted about 1 in 2.
With the lease about 3 in 4, where the cause is a phone that is used elsewhere or words in the name that are not on the sign.
With the tax letter about 3 in 5, whatever the cause.
What it copies
From SKERRY, once, when it is asked to, 1 to 2 days; it overwrites what was put right there; it leaves behind: Crew, Hours. Ask them not to.
From PLOTLINE, 7 to 30 days.
What can be said there
1 post a month.
A post reaches people within 5 kilometres at most.
Events that end within 1 day.
Offers of up to 50 per cent.
One button, of Call or Book.
Reviews can be read there.
It answers voice questions.
How it counts days
By the public holidays of CA-BC, in the time zone America/Vancouver. What is asked from 15:00 on counts from the next business day.
`

const bareSays = `Who may be listed
Locations that are premises.
How it is worked
By a file that is handed in.
What it takes
Hours.
Hours with up to 2 sittings a day.
Ways to verify
None: whoever adds a listing is believed.
Until it shows
Public in 1 day. Uvent looks every 24 hours until it shows.
How it counts days
By the public holidays of US, in the time zone UTC.
`

func said(r Rulebook) string {
	var b strings.Builder
	for _, s := range r.Sayings(strings.ToUpper) {
		b.WriteString(s.About + "\n" + strings.Join(s.Says, "\n") + "\n")
	}
	return b.String()
}

// Every rule is said in words, and none that a directory does not have.
func TestEveryRuleIsSaid(t *testing.T) {
	bare := Rulebook{
		Name: "Bare", Worked: File, Calendar: Calendar{Country: "US", Zone: "UTC"}, Listing: Listing{Kinds: []record.Kind{record.Premises}},
		Facts: []Fact{{Fact: "hours"}}, Hours: Hours{SittingsPerDay: 2}, Publishing: Publishing{Window: span(1, 1), LookEveryHours: 24},
	}
	for want, r := range map[string]Rulebook{fullSays: full, bareSays: bare} {
		got := strings.Split(said(r), "\n")
		for i, line := range strings.Split(want, "\n") {
			if i >= len(got) || got[i] != line {
				t.Fatalf("%s, line %d: got\n%s\nwant\n%s", r.Name, i+1, strings.Join(got[i:min(len(got), i+1)], ""), line)
			}
		}
	}
	for worked, says := range map[Worked]string{
		Connected: "Connected: Uvent asks it", ByHand: "By hand, on its own pages", Fed: "Not at all: it takes everything from others.", Suggestions: "By suggesting changes",
	} {
		if bare.Worked = worked; !strings.Contains(said(bare), says) {
			t.Errorf("%s is not said to be worked so", worked)
		}
	}
	if bare.Worked = Fed; strings.Contains(said(bare), "Ways to verify") {
		t.Error("what is fed has ways to verify")
	}
	if bare.Hours = (Hours{FreeText: true}); !strings.Contains(said(bare), "Hours in words, so that all can be said.") {
		t.Error("hours in words are not said")
	}
	if got := full.FieldTitle("elsewhere"); got != "elsewhere" {
		t.Errorf("a field that it does not take is called %q", got)
	}
}

// What a change meets, and what has to be over before the next.
func TestWhatAChangeMeets(t *testing.T) {
	for _, c := range []struct {
		edit           Edit
		meets, settles string
	}{
		{Edit{SetsOff: OffReview, Window: working(2, 5)}, "looked at first, 2 to 5 business days", "once it is settled, 2 to 5 business days"},
		{Edit{SetsOff: OffVerification, Window: span(1, 2)}, "needs a new verification", "once it is verified again"},
		{Edit{SetsOff: OffWriting}, "only in writing", "once it is settled"},
		{Edit{SetsOff: OffRefusal}, "not changed any more", "once it is settled"},
	} {
		if meets, settles := c.edit.Meets(), c.edit.Settles(); meets != c.meets || settles != c.settles {
			t.Errorf("%s: %q, %q", c.edit.SetsOff, meets, settles)
		}
	}
	for state, want := range map[record.StateKind]TurnBy{record.ClosedForATime: ByView, record.ClosedForGood: ByMark, record.Moved: InWord, record.Open: ""} {
		if got := full.Turn(state); got.By != want {
			t.Errorf("%s is made known by %q, want %q", state, got.By, want)
		}
	}
	if got := (Rulebook{}).Turn(record.Moved); got.By != InWord {
		t.Errorf("what is not said is made known by %q", got.By)
	}
}

// Who may be listed, and why not; what the record does not hold speaks against nothing.
func TestWhoMayBeListed(t *testing.T) {
	good := record.Record{Kind: record.Premises, Category: "bakery"}
	good.Address.Country, good.Address.Region, good.Address.Locality, good.Address.Street = "CA", "BC", "minnow bay", "12 Quay St"
	for _, c := range []struct {
		change func(*record.Record)
		why    string
	}{
		{func(*record.Record) {}, ""},
		{func(r *record.Record) { r.Kind = "afloat" }, "Pierbook does not list this kind of location"},
		{func(r *record.Record) { r.Address.Country = "FR" }, "Pierbook does not list locations in FR."},
		{func(r *record.Record) { r.Address.Region = "AB" }, "Pierbook lists locations in BC only, and this one is in AB."},
		{func(r *record.Record) { r.Address.Region = "" }, ""},
		{func(r *record.Record) { r.Address.Locality = "Elsewhere" }, "Pierbook lists locations in Minnow Bay or Tern Point only."},
		{func(r *record.Record) { r.Address.Locality = "" }, ""},
		{func(r *record.Record) { r.Address.Street = "12 Hill Street" }, "Pierbook lists locations on its own streets only: Quay Street."},
		{func(r *record.Record) { r.Address.Street = "" }, ""},
		{func(r *record.Record) { r.Category = "florist" }, "Pierbook lists one trade only: Bakery."},
		{func(r *record.Record) { r.Category, r.Others = "florist", []string{"bakery"} }, ""},
		{func(r *record.Record) { r.Category = "" }, ""},
	} {
		r := good
		c.change(&r)
		if got := full.MayList(r); c.why == "" && got != "" || !strings.HasPrefix(got, c.why) {
			t.Errorf("%+v: %q, want %q", r.Address, got, c.why)
		}
	}
	group := full
	group.Listing.Trades = []string{"food"}
	if why := group.MayList(good); why != "" {
		t.Errorf("a bakery is not food: %s", why)
	}
}
