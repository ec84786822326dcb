package fit

import (
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/fact/category"
	"uvent/core/fact/hours"
	"uvent/core/record/link"
	"uvent/core/record/match"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/rulebook"
)

// What is said of a value holds of what was composed: whoever reads back what a directory is given,
// and holds it against the record, comes to the mark that was said, and to its cost.
func TestReadingBackGivesTheMarksThatWereSaid(t *testing.T) { readBack(t, 1000, 13) }

func readBack(t *testing.T, pairs int, seed uint64) {
	t.Helper()
	marks := map[compare.Mark]int{}
	var book *rulebook.Rulebook
	for n := range uint64(pairs) {
		r := random{rand.New(rand.NewPCG(n, seed))}
		if n%10 == 0 { // reading one costs more than all else
			book = r.rulebook(t)
		}
		s := Read(r.record(), r.photos(), now)
		if n%3 == 0 {
			s = r.owning(s, book)
		}
		f := Of(s, book)
		back := reader{s, book, f.Values()}
		for _, i := range f.Items {
			want := compare.Missing
			if v, given := back.values.Find(i.Key); given {
				want = back.mark(v)
			}
			if marks[i.Mark]++; i.Mark != want {
				t.Errorf("pair %d, seed %d: %s is said to go %s (%s), and read back it is %s: %+v", n, seed, i.Key, i.Mark, i.Says, want, i.Value.Data)
			}
			if (i.Mark == compare.Unequal) != (i.Cost.People > 0) && book.Weight > 0 || (len(i.Lost) > 0) != (i.State == Changed) {
				t.Errorf("pair %d, seed %d: %+v", n, seed, i)
			}
		}
		if i, taken := s.Hours(book); taken && i.there() {
			open, shut, days := back.wrong(i.Value)
			if i.Cost.OpenWhileShut != open || i.Cost.ShutWhileOpen != shut || len(i.Cost.Days) != days {
				t.Errorf("pair %d, seed %d: hours cost %+v, and read back %d and %d minutes, %d days", n, seed, i.Cost, open, shut, days)
			}
		}
	}
	t.Logf("%d pairs, read back: %v", pairs, marks)
	for _, m := range []compare.Mark{compare.Equal, compare.Alike, compare.Unequal, compare.Missing} {
		if marks[m] < pairs/10 {
			t.Errorf("%s was said %d times only", m, marks[m])
		}
	}
}

// owning gives a listing values of its own, wherever it may have them.
func (r random) owning(s *Subject, book *rulebook.Rulebook) *Subject {
	other := Read(r.record(), s.Photos, now)
	own := map[string][]Own{}
	for _, rule := range s.OwnRules(book) {
		text := ""
		switch which, isText := strings.CutPrefix(rule.Key, "text."); {
		case r.IntN(3) == 0:
		case isText:
			text = other.words(which)
		case rule.Kind == OwnPhotos && len(s.Photos) > 0:
			text = s.Photos[r.IntN(len(s.Photos))].ID
		case rule.Kind == OwnHours:
			text = other.schedule.Usual().String()
		case rule.Kind == OwnCategory && len(rule.Choices) > 0:
			text = rule.Choices[r.IntN(len(rule.Choices))]
		case lines[rule.Key] != nil:
			text = *lines[rule.Key](&other.Record)
		}
		if o, wrong := s.MakeOwn(book, rule.Key, text); wrong == "" {
			own[book.ID] = append(own[book.ID], o)
		}
	}
	return s.With(own)
}

// reader is a visitor who learns what a directory was given, and nothing else.
type reader struct {
	*Subject
	book   *rulebook.Rulebook
	values Values
}

// mark is what a visitor learns of a field beside the record.
func (b reader) mark(v Value) compare.Mark {
	all := func(is bool) compare.Mark {
		if is {
			return compare.Equal
		}
		return compare.Alike
	}
	r := &b.Record
	switch which, isText := strings.CutPrefix(v.Key, "text."); {
	case isText:
		return all(b.text(which, v.Data["texts"].(map[string]any)[which].(string)))
	case strings.HasPrefix(v.Key, "photos."):
		return all(b.photos(v.Key))
	}
	switch v.Key {
	case "address":
		return all(v.Data["hide_street"] == false || r.Kind == record.GoesToCustomers)
	case "pin":
		return all(v.Data["latitude"] == r.Pin.Latitude)
	case "category":
		return b.category(v)
	case "attributes":
		return all(len(v.Data["attributes"].(map[string]any)) == len(r.Attributes))
	case "hours":
		open, shut, days := b.wrong(v)
		if _, dated := b.book.Takes("special_dates"); dated {
			if _, there := b.values.Find("special_dates"); there {
				days = 0 // they stand beside the dates
			}
		}
		if open+shut+days > 0 {
			return compare.Unequal
		}
		return compare.Equal
	case "special_dates":
		v, given := b.values.Find("hours")
		if !given {
			v = Value{Data: map[string]any{"hours": b.On(b.book.ID).shownBy(b.book).String()}}
		}
		if _, _, days := b.wrong(v); days > 0 {
			return compare.Unequal
		}
		return compare.Equal
	case "website", "booking", "ordering", "quote", "menu", "gift_card", "app":
		// A visitor lands where the record says, on the same page by another road, or elsewhere.
		said := facts[v.Key].parts(b.Subject)[0]
		switch {
		case said == "" || v.Text == said || v.Text == link.Tagged(said, b.book.ID, r.Tags):
			return compare.Equal
		case match.SameSite(said, v.Text):
			return compare.Alike
		}
		return compare.Unequal
	case "name", "phone":
		said, given := facts[v.Key].parts(b.Subject)[0], v.Data[v.Key].(string)
		switch {
		case said == "" || said == given:
			return compare.Equal
		case address.Fold(said) == address.Fold(given):
			return compare.Alike
		}
		return compare.Unequal
	case "areas":
		return all(len(v.Parts) == len(r.Area.Towns))
	case "offerings":
		items := 0
		for _, section := range v.Data["offerings"].([]any) {
			items += len(section.(map[string]any)["items"].([]any))
		}
		return all(items == len(facts["offerings"].parts(b.Subject)))
	case "button":
		return compare.Equal
	}
	if facts[v.Key].list {
		return all(len(v.Parts) == len(facts[v.Key].parts(b.Subject)))
	}
	said := facts[v.Key].parts(b.Subject)[0]
	return all(said == "" || v.Data[v.Key] == said)
}

// text reports whether a visitor reads all of a text, and of the towns that have no other field.
func (b reader) text(which, shown string) bool {
	rule := b.book.Texts[slices.IndexFunc(b.book.Texts, func(p rulebook.Prose) bool { return p.Text == which })]
	words := b.words(which)
	rest, whole := strings.CutPrefix(shown, words)
	// A town may be called as another is, or by a word of the text: they are read where they are listed.
	var names []string
	if (composer{Subject: b.Subject, book: b.book}).namesTowns(rule) {
		for _, t := range b.Record.Area.Towns {
			names = append(names, t.Name)
		}
	}
	listed := strings.Join(names, ", ")
	if last := len(names) - 1; last > 0 {
		listed = strings.Join(names[:last], ", ") + " and " + names[last]
	}
	switch {
	case listed != "":
		return whole && strings.HasSuffix(rest, "Serving "+listed+".")
	case words == "":
		return true // the record says nothing that could be lost
	}
	return whole && rest == ""
}

// photos reports whether a visitor sees all photos for which a place is the first to ask.
func (b reader) photos(key string) bool {
	seen := map[any]bool{}
	for _, v := range b.values {
		groups, _ := v.Data["photos"].(map[string]any)
		for _, list := range groups {
			for _, p := range list.([]any) {
				seen[p.(map[string]any)["id"]] = true
			}
		}
	}
	for _, p := range b.Photos {
		for _, rule := range b.book.Photos {
			if slices.Contains(rule.Groups, p.Group) {
				if rule.Key() == key && !seen[p.ID] {
					return false
				}
				break
			}
		}
	}
	return true
}

func (b reader) category(v Value) compare.Mark {
	main, exact := v.Data["category"].(string), b.book.Categories.Map[b.Record.Category]
	if b.Record.Category != "" && main != exact && (exact != "" || main != b.book.Categories.Other) {
		return compare.Unequal // of another kind of business
	}
	if b.Record.Category != "" && (exact == "" || !strings.EqualFold(main, category.Name(b.Record.Category))) {
		return compare.Alike
	}
	for _, id := range b.Record.Others {
		if theirs := b.book.Categories.Map[id]; theirs == "" || !slices.Contains(v.Parts, theirs) {
			return compare.Alike
		}
	}
	return compare.Equal
}

// wrong counts, minute by minute, how long a week a page shows the place open while it is shut, and
// shut while it is open; and the days of a year on which it is wrong otherwise.
func (b reader) wrong(v Value) (open, shut, days int) {
	if !b.readable {
		return 0, 0, 0 // nothing beside which it is wrong
	}
	shown, _, err := hours.Parse(v.Data["hours"].(string))
	if err != nil {
		return -1, -1, -1
	}
	week := func(w hours.Week) (out [hours.WeekMinutes]bool) {
		for d, day := range w {
			for _, s := range day {
				for m := s.Start; m < s.End; m++ {
					out[(d*hours.DayMinutes+m)%hours.WeekMinutes] = true
				}
			}
		}
		return out
	}
	theirs, ours := week(shown.Week()), week(b.schedule.Week())
	for m := range ours {
		switch {
		case theirs[m] && !ours[m]:
			open++
		case ours[m] && !theirs[m]:
			shut++
		}
	}
	day := func(s hours.Schedule, d calendar.Date) (out [hours.DayMinutes]bool) {
		for _, o := range s.On(d.Add(-1), b.holidays) {
			for m := hours.DayMinutes; m < o.End; m++ {
				out[m-hours.DayMinutes] = true
			}
		}
		for _, o := range s.On(d, b.holidays) {
			for m := o.Start; m < min(o.End, hours.DayMinutes); m++ {
				out[m] = true
			}
		}
		return out
	}
	usual := func(w [hours.WeekMinutes]bool, d calendar.Date) (out [hours.DayMinutes]bool) {
		copy(out[:], w[(int(d.Weekday())+6)%7*hours.DayMinutes:])
		return out
	}
	night := func(d calendar.Date) (until int) { // of the sittings that begin on the day before
		for _, o := range slices.Concat(shown.On(d.Add(-1), b.holidays), b.schedule.On(d.Add(-1), b.holidays)) {
			until = max(until, o.End-hours.DayMinutes)
		}
		return until
	}
	last := -2
	for n := range 365 {
		d := b.Today.Add(n)
		x, y := day(shown, d), day(b.schedule, d)
		usualX, usualY := usual(theirs, d), usual(ours, d)
		if last == n-1 { // a night is counted on the date on which it begins
			for _, of := range []*[hours.DayMinutes]bool{&x, &y, &usualX, &usualY} {
				clear(of[:night(d)])
			}
		}
		if x != y && (x != usualX || y != usualY) {
			days++
			last = n
		}
	}
	return open, shut, days
}
