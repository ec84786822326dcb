package sightings

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"uvent/core/listing/shown"
	"uvent/core/listing/verification"
	"uvent/core/reckon/looking"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/cost"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/problem"
)

// plan is when the pages of a directory are looked at, as it was reckoned last.
type plan struct {
	at    time.Time
	pages map[uuid.UUID]planned
}

type planned struct {
	days float64
	why  looking.Fact
}

// planFor is how long a plan holds: what is learned in a day changes little of it.
const planFor = 24 * time.Hour

// changesADay is how often a fact of a page is changed by others, on average, before looks have told.
const changesADay = 1.0 / 400

// weekly is how many days lie between looks at a page on average, where the rulebook allows them.
const weekly = 7

// known are the facts by which pages are planned: those that mislead people.
var known = func() (out []string) {
	for key := range compare.Titles {
		if cost.Of(key).Fact != "" {
			out = append(out, key)
		}
	}
	slices.Sort(out)
	return out
}()

// planOf is the plan for a directory, reckoned anew when it is a day old.
func (d *Desk) planOf(ctx context.Context, book rulebook.Rulebook, now time.Time) (map[uuid.UUID]planned, error) {
	d.plans.Lock()
	defer d.plans.Unlock()
	if p, ok := d.plans.of[book.ID]; ok && now.Sub(p.at) < planFor && !now.Before(p.at) {
		return p.pages, nil
	}
	rows, err := d.store.Reading(ctx).ShownOn(ctx, book.ID)
	if err != nil {
		return nil, err
	}
	facts := make([]map[string]shown.Fact, len(rows))
	seen := map[string][]shown.Seen{}
	for i, r := range rows {
		if err := json.Unmarshal(r.Shown, &facts[i]); err != nil {
			return nil, err
		}
		for key, f := range facts[i] {
			seen[key] = append(seen[key], f.Seen)
		}
	}
	thought := map[string]looking.Belief{}
	for _, key := range known {
		thought[key] = looking.Learned(changesADay, seen[key])
	}
	pages := make([]looking.Page, len(rows))
	for i, r := range rows {
		for _, key := range known {
			f, shows := facts[i][key]
			if !shows {
				continue
			}
			pages[i].Facts = append(pages[i].Facts, looking.Fact{
				Key: key, Belief: thought[key].After(f.Seen), Seen: f.Seen, Cost: cost.Acting(book.Weight) / 7 * cost.Of(key).For(record.Kind(r.Kind)),
			})
		}
	}
	budget := float64(len(rows)) / weekly
	if most := float64(book.Publishing.LooksPerDay); most > 0 {
		budget = min(budget, most)
	}
	p := plan{now, make(map[uuid.UUID]planned, len(rows))}
	for i, days := range looking.Intervals(pages, budget) {
		why, _ := pages[i].Why(days)
		p.pages[rows[i].LocationID] = planned{days, why}
	}
	d.plans.of[book.ID] = p
	return p.pages, nil
}

// Every says how often a listing's page is looked at, and why, in words; empty where it is not planned yet.
func (d *Desk) Every(ctx context.Context, at ledger.Place) (string, error) {
	book, st, err := d.ledger.Begun(ctx, at)
	var p *problem.Problem
	switch {
	case errors.As(err, &p): // it was not begun there
		return "", nil
	case err != nil || st.Visibility != verification.Public || st.LookedAt == nil:
		return "", err
	}
	pages, err := d.planOf(ctx, book, d.clock.Now())
	if page, ok := pages[at.Location]; ok && err == nil {
		return interval(page.days) + because(page.why), nil
	}
	return "", err
}

func interval(days float64) string {
	switch {
	case days < 0.75:
		return "Looked at twice a day"
	case days < 1.5:
		return "Looked at daily"
	case days < 6:
		return fmt.Sprintf("Looked at every %.0f days", days)
	case days < 9:
		return "Looked at weekly"
	}
	return fmt.Sprintf("Looked at every %.0f days", days)
}

func because(f looking.Fact) string {
	changed := len(f.Seen.Changed)
	days := f.Seen.Quiet
	for _, c := range f.Seen.Changed {
		days += c
	}
	title := strings.ToLower(compare.Titles[f.Key])
	switch {
	case title == "" || days < 1:
		return "; not much is known of how it changes yet."
	case changed == 0:
		return fmt.Sprintf("; its %s did not change in %.0f days.", title, days)
	case changed == 1:
		return fmt.Sprintf(", because its %s changed once in %.0f days.", title, days)
	}
	return fmt.Sprintf(", because its %s changed %d times in %.0f days.", title, changed, days)
}
