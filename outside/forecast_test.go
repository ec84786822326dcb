//go:build proofs

package outside_test

import (
	"fmt"
	"math"
	"net/http"
	"strings"
	"testing"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/reckon/forecast"
	"uvent/core/rule/rulebook"
	"uvent/e2e/proof"
	"uvent/outside/visit"
	"uvent/rulebooks"
)

// shown is a listing of one of the simulated worlds.
type shown struct {
	directory, ref, attempt string
	state                   verification.State
	due                     calendar.Window // of the postcard that was asked for last
	verified                bool
	public                  *time.Time
}

// The forecast is made when all has been asked for, and 500 worlds then run in the
// outside: in about nine of ten of them everything is public by the day that was said to
// be met nine times in ten.
func TestTheForecastIsCalibrated(t *testing.T) {
	w := start(t)
	must(t, w.Misbehave(t.Context(), visit.Faults{LostPost: 20}))
	worlds := proof.Size(t, 500)
	ways := []struct {
		directory string
		method    rulebook.MethodName
	}{{"fernlook", rulebook.Postcard}, {"murmurhall", rulebook.Text}, {"waywren", rulebook.Postcard}, {"skerry", rulebook.Postcard}, {"guildbench", rulebook.Email}, {"candourbox", rulebook.Text}}
	books := map[string]rulebook.Rulebook{}
	for _, way := range ways {
		book, err := rulebooks.Read(way.directory)
		must(t, err)
		books[way.directory] = book
	}
	pace := forecast.Usual(calendar.Place{Zone: time.UTC})
	pace.Enter = calendar.Rule{Unit: calendar.Days} // as this test does
	byName := map[string]*shown{}
	said := make([]forecast.Forecast, worlds)
	all := make([][]*shown, worlds)
	for i := range worlds {
		var listings []forecast.Listing
		for j := range 3 {
			way := ways[(i+j)%len(ways)]
			s := w.asked(way.directory, way.method, fmt.Sprintf("Shop %d", 10*i+j), books[way.directory])
			byName[fmt.Sprintf("Shop %d", 10*i+j)] = s
			all[i] = append(all[i], s)
			book := books[way.directory]
			l, done, why := forecast.Of(forecast.Subject{Book: &book, State: s.state}, pace)
			if done || why != "" {
				t.Fatalf("%s: done %v, %s", way.directory, done, why)
			}
			listings = append(listings, l)
		}
		said[i] = forecast.Run(w.now(), listings, 1000, uint64(i))
	}
	read := map[string]bool{}
	for day := 1; day <= 110; day++ { // at half past twelve
		w.move(calendar.DateOf(begins).Add(day).At(12*60+30, begins.Location()).Add(8 * time.Hour))
		letters, err := w.Arrivals(t.Context(), "your code for Shop")
		must(t, err)
		for _, a := range letters {
			key := a.At.String() + a.Body
			name := a.Body[strings.Index(a.Body, "Shop "):strings.Index(a.Body, ", Town")]
			if s := byName[name]; !read[key] && !s.verified {
				w.enters(s, visit.CodeIn(a.Body))
			}
			read[key] = true
		}
		today := calendar.DateOf(w.now().In(books["fernlook"].Calendar.Place().Zone))
		for _, s := range byName {
			if !s.verified && s.due.Latest != (calendar.Date{}) && s.due.Latest.Before(today) {
				w.again(s, books[s.directory])
			}
		}
	}
	met := 0
	for i, group := range all {
		last := time.Time{}
		for _, s := range group {
			if s.public = w.publicAt(s); s.public == nil {
				last = w.now() // it never was
			} else if s.public.After(last) {
				last = *s.public
			}
		}
		if on := calendar.DateOf(last.In(books["fernlook"].Calendar.Place().Zone)); !said[i].All.Sure.Before(on) {
			met++
		}
	}
	share := 100 * float64(met) / float64(worlds)
	proof.Count(t, "of %d worlds, %.1f %% met the date that is met nine times in ten", worlds, share)
	// In fewer worlds chance moves the share more: four standard deviations of it.
	room := max(5, 400*math.Sqrt(.9*.1/float64(worlds)))
	if share < 90-room || share > min(99.9, 90+room) && worlds > 100 {
		t.Errorf("%.1f %% of the worlds met the date; %.0f give or take %.1f are wanted", share, 90.0, room)
	}
}

// asked is a new listing for which a proof was asked.
func (w *world) asked(directory string, method rulebook.MethodName, name string, book rulebook.Rulebook) *shown {
	w.t.Helper()
	facts := and(
		shop,
		visit.Facts{
			"name":         name,
			"locality":     "Town",
			"legal_name":   name,
			"registration": "1",
			"page_name":    name,
			"attested_by":  "Ines",
			"phone":        "+1360555" + fmt.Sprintf("%04d", len(name)),
			"email":        strings.ReplaceAll(name, " ", "") + "@x.example",
		},
	)
	l := w.held(directory, facts)
	s := &shown{directory: directory, ref: l.Ref, state: verification.Start()}
	now := w.now()
	s.state = s.state.After(book, verification.Event{At: now, What: verification.Created{Ref: l.Ref, Page: l.Page}})
	s.state = s.state.After(book, verification.Event{At: now, What: verification.CodeAsked{Attempt: "a", Method: method}})
	to := strings.ToLower(strings.ReplaceAll(name, " ", "")) + "@x.example"
	status, sent := w.askOf(directory, "POST", "/listings/"+l.Ref+"/verifications", "", map[string]string{"method": string(method), "to": to})
	if status != http.StatusCreated {
		w.t.Fatalf("%s answers %d, %+v", directory, status, sent)
	}
	s.attempt = sent.ID
	s.state = s.state.After(
		book,
		verification.Event{
			At:   now,
			What: verification.CodeSent{Attempt: "a", Terms: &verification.Terms{Digits: sent.Digits, Tries: sent.Tries, Expires: sent.Expires}},
		},
	)
	if method == rulebook.Postcard {
		s.due = *s.state.Attempt().Window
		return s
	}
	w.move(w.now())
	code, err := w.Code(w.t.Context(), to)
	must(w.t, err)
	w.enters(s, code)
	return s
}

func (w *world) enters(s *shown, code string) {
	w.t.Helper()
	if status, a := w.askOf(s.directory, "POST", "/verifications/"+s.attempt+"/code", "", map[string]string{"code": code}); status != http.StatusOK {
		w.t.Fatalf("%s answers %d, %+v", s.directory, status, a)
	}
	s.verified = true
}

// again asks for another postcard, where the last one did not come.
func (w *world) again(s *shown, book rulebook.Rulebook) {
	w.t.Helper()
	status, sent := w.askOf(s.directory, "POST", "/listings/"+s.ref+"/verifications", "", map[string]string{"method": "postcard", "to": "18 Tern Street"})
	if status != http.StatusCreated {
		w.t.Fatalf("%s answers %d, %+v", s.directory, status, sent)
	}
	m, _ := book.Way(rulebook.Postcard)
	s.attempt, s.due = sent.ID, book.Calendar.Place().Window(m.Window, w.now())
}

// publicAt is when the public could see a listing; nil while it cannot.
func (w *world) publicAt(s *shown) *time.Time {
	w.t.Helper()
	_, a := w.askOf(s.directory, "GET", "/listings/"+s.ref, "", nil)
	return a.PublicAt
}
