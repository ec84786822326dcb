package rulebook

import (
	"fmt"
	"slices"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/record/record"
)

// MethodName is a way to verify.
type MethodName string

// The ways to verify. The first four send a code; the others are decided on by the
// directory.
const (
	Postcard MethodName = "postcard"
	Call     MethodName = "call"
	Text     MethodName = "text"
	Email    MethodName = "email"
	Papers   MethodName = "papers"
	Video    MethodName = "video"
	Card     MethodName = "card"    // a small payment
	Instant  MethodName = "instant" // the account is trusted already
	StaffSay MethodName = "staff"   // somebody there looks into it
)

// Method is one way to verify and its conditions.
type Method struct {
	Method MethodName      `yaml:"method"`
	Kinds  []record.Kind   `yaml:"kinds"`  // that it is offered to; none means all
	Window calendar.Rule   `yaml:"window"` // from asking until the code is there, or the answer; none means at once
	Code   Code            `yaml:"code"`   // none where no code is sent
	Again  Again           `yaml:"again"`
	Needs  MethodCondition `yaml:"needs"`
	Chance float64         `yaml:"chance"` // of success in one try, as far as is known; 0: not known
	Charge Charge          `yaml:"charge"` // what is charged to the card; none where none is
	Film   Film            `yaml:"film"`   // what a video must be like; none where none is sent
	Papers []string        `yaml:"papers"` // kinds of papers that are taken
	Note   string          `yaml:"note"`
}

// Charge is what is charged to a card in the business's name.
type Charge struct {
	Amount   float64 `yaml:"amount"`    // in the currency's own unit
	Currency string  `yaml:"currency"`  // ISO 4217
	PaidBack bool    `yaml:"paid_back"` // once it is proved
}

// Words writes it: "USD 1.00".
func (c Charge) Words() string { return fmt.Sprintf("%s %.2f", c.Currency, c.Amount) }

// Film is what a video must be like: one take.
type Film struct {
	MostSeconds  int      `yaml:"most_seconds"`
	LeastSeconds int      `yaml:"least_seconds"` // 0: however short
	LeastPixels  int      `yaml:"least_pixels"`  // of its picture's shorter side; 0: however small
	Sound        bool     `yaml:"sound"`         // it must have sound
	Shows        []string `yaml:"shows"`         // ids of FilmParts
}

// FilmParts are what a video may have to show.
var FilmParts = []struct{ ID, Says string }{
	{"street", "the street and its number"}, {"sign", "the sign"}, {"inside", "a door that only staff can open, and what is behind it"},
}

// Shown are the parts in words.
func (f Film) Shown() (out []string) {
	for _, p := range FilmParts {
		if slices.Contains(f.Shows, p.ID) {
			out = append(out, p.Says)
		}
	}
	return out
}

// SendsCode reports whether the method is one that sends a code.
func (n MethodName) SendsCode() bool {
	return slices.Contains([]MethodName{Postcard, Call, Text, Email}, n)
}

// AtOnce reports whether the code comes within minutes.
func (m Method) AtOnce() bool { return m.Window.Unit == "" }

// MethodCondition is what a location must have for a method to be open.
type MethodCondition struct {
	EmailOnDomain bool `yaml:"email_on_domain"` // the email lies on the website's domain
	OpenMinutes   int  `yaml:"open_minutes"`    // at least so long open from now on, for a call
}

// Code says what the code is like.
type Code struct {
	Digits       int       `yaml:"digits"`
	WorksDays    int       `yaml:"works_days"` // 0 when WorksMinutes is given
	WorksMinutes int       `yaml:"works_minutes"`
	WorksFrom    WorksFrom `yaml:"works_from"` // empty: from asking
	Tries        int       `yaml:"tries"`
}

// WorksFrom is what a code's life counts from.
type WorksFrom string

// What a code's life counts from.
const (
	FromAsking  WorksFrom = "asking"
	FromArrival WorksFrom = "arrival" // when somebody has it in hand
)

// Works is how long the code can be entered, from what WorksFrom says.
func (c Code) Works() time.Duration {
	return time.Duration(c.WorksDays)*24*time.Hour + time.Duration(c.WorksMinutes)*time.Minute
}

// Lapses is when a code that is asked for works no more; where its life counts from its arrival, the
// latest that this can be, as long as nobody says that it is there.
func (m Method) Lapses(asked time.Time, place calendar.Place) time.Time {
	if m.Code.WorksFrom == FromArrival && !m.AtOnce() {
		asked = place.EndOf(place.Window(m.Window, asked))
	}
	return asked.Add(m.Code.Works())
}

// Again says when another code may be asked for.
type Again struct {
	AfterDays    int `yaml:"after_days"`
	AfterMinutes int `yaml:"after_minutes"`
	Most         int `yaml:"most"` // codes by this method in all; 0 for no limit
}

// After is how long after asking another code may be asked for.
func (a Again) After() time.Duration {
	return time.Duration(a.AfterDays)*24*time.Hour + time.Duration(a.AfterMinutes)*time.Minute
}

// Way finds a method's rule.
func (r Rulebook) Way(name MethodName) (Method, bool) {
	i := slices.IndexFunc(r.Methods, func(m Method) bool { return m.Method == name })
	if i < 0 {
		return Method{}, false
	}
	return r.Methods[i], true
}
