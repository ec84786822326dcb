package boards

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"uvent/core/fact/calendar"
	"uvent/core/listing/cases"
	"uvent/core/listing/giving"
	"uvent/core/listing/verification"
	"uvent/core/record/paper"
	"uvent/core/record/record"
	"uvent/core/rule/risk"
	"uvent/core/rule/rulebook"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/store"
	"uvent/store/db"
)

// CaseRow is a case among others.
type CaseRow struct {
	ledger.Place
	Case     verification.Case
	State    verification.State
	Book     *rulebook.Rulebook
	Location *ledger.Location
	Client   *ledger.Client
	Next     *cases.Step // what is to be done or waited for; nil for nothing
}

// Cases lists the cases of a scope: the open ones by weight, then those that ended, the
// latest first.
func (d *Desk) Cases(ctx context.Context, s ledger.Scope) ([]CaseRow, error) {
	rows, err := d.store.Reading(ctx).Troubled(ctx, db.TroubledParams{Clients: s.Clients, LocationID: s.Location})
	if err != nil {
		return nil, err
	}
	clients, err := d.records.Clients(ctx)
	if err != nil {
		return nil, err
	}
	locations, err := d.records.Locations(ctx, s)
	if err != nil {
		return nil, err
	}
	of := make(map[uuid.UUID]*ledger.Location, len(locations))
	for i := range locations {
		of[locations[i].ID] = &locations[i]
	}
	var out []CaseRow
	for _, r := range rows {
		book, err := d.shelf.Book(r.DirectoryID)
		if err != nil {
			continue // its rulebook is gone
		}
		l := of[r.LocationID]
		c := slices.IndexFunc(clients, func(c ledger.Client) bool { return l != nil && c.ID == l.ClientID })
		if c < 0 {
			continue
		}
		for _, one := range r.State.Cases {
			row := CaseRow{
				Place:    ledger.Place{Location: r.LocationID, Directory: r.DirectoryID},
				Case:     one,
				State:    r.State,
				Book:     &book,
				Location: l,
				Client:   &clients[c],
			}
			if one.Open() {
				row.Next = cases.First(cases.Steps(cases.Facts{Case: one, State: r.State, Book: &book, Paper: true}))
			}
			out = append(out, row)
		}
	}
	slices.SortStableFunc(out, func(a, b CaseRow) int {
		switch {
		case a.Case.Open() != b.Case.Open():
			if a.Case.Open() {
				return -1
			}
			return 1
		case a.Case.Open():
			return b.Book.Weight - a.Book.Weight
		}
		return b.Case.ClosedAt.Compare(*a.Case.ClosedAt)
	})
	return out, nil
}

// CaseView is all that a case's page shows.
type CaseView struct {
	CaseRow
	Causes  []cases.Known // as they were when the case was opened, and what has become of them
	Unnamed float64       // how likely it is something that no rule names
	Steps   []cases.Step
	Papers  []Evidence     // that may go with an appeal, what adds most first
	Hearing cases.Hearing  // how likely an appeal is to be granted with the papers that are proposed
	Learnt  []string       // of one that has ended: what it has taught
	Changed giving.Changes // what the record says otherwise than the directory was given
	Caution listings.Caution
	Draft   string
	Fresh   bool            // something is new since it was argued last, or it was not yet
	Since   []record.Change // what was changed in the record since the case was opened
}

// Case is one case of a listing, with everything about it.
func (d *Desk) Case(ctx context.Context, at ledger.Place, id string) (v CaseView, err error) {
	l, err := d.Listing(ctx, at)
	if err != nil {
		return v, err
	}
	i := slices.IndexFunc(l.State.Cases, func(c verification.Case) bool { return c.ID == id })
	if i < 0 {
		return v, &problem.Problem{Kind: problem.NotFound, Detail: "There is no such case."}
	}
	c := l.State.Cases[i]
	v.CaseRow = CaseRow{Place: at, Case: c, State: l.State, Book: l.Book, Location: l.Location, Client: l.Client}
	s, err := records.RiskSubject(ctx, d.store.Reading(ctx), *l.Location)
	if err != nil {
		return v, err
	}
	zone := verification.ZoneOf(l.Location.Record, *l.Book)
	if c.Kind == verification.CaseSuspended {
		now, unnamed := risk.Suspects(l.Book, s, cases.Edits(l.History, zone), c.Notice, c.OpenedAt)
		v.Causes, v.Unnamed = cases.Causes(c, now, unnamed)
	}
	v.Changed, v.Caution = l.Changed, l.Caution
	saves, err := d.records.RecordHistory(ctx, at.Location)
	if err != nil {
		return v, err
	}
	for _, save := range saves {
		if while(c, save.At) {
			v.Since = append(v.Since, save.Changes...)
		}
	}
	if err := d.evidence(ctx, l, c, &v); err != nil {
		return v, err
	}
	live := cases.Live(v.Causes)
	v.Steps = cases.Steps(cases.Facts{
		Case: c, State: l.State, Book: l.Book, Suspects: live, Unsent: len(l.Changed), Paper: slices.ContainsFunc(v.Papers, v.enough),
		Mended: slices.ContainsFunc(v.Since, c.Mends),
		Sent:   slices.ContainsFunc(l.History, func(e verification.Event) bool { return e.Kind() == (verification.Sent{}).Kind() && while(c, e.At) }),
	})
	if c.Open() {
		v.Next = cases.First(v.Steps)
	}
	v.Fresh = fresh(c, saves, v.Papers)
	said := cases.Said{Record: l.Location.Record, Case: c, Suspects: live, Mended: mended(v.Since), Most: l.Book.Appeal.MostCharacters}
	if t := l.State.VerifiedAt; t != nil {
		day := calendar.DateOf(t.In(zone))
		said.Since = &day
	}
	for _, p := range v.Papers {
		if p.Proposed {
			list := &said.Papers
			if paper.ShowsAddress(p.Kind) {
				list = &said.Shows
			}
			*list = append(*list, "the "+strings.ToLower(paper.Title(p.Kind)))
		}
	}
	v.Draft = cases.Draft(said)
	return v, nil
}

// while reports whether something was while a case was open.
func while(c verification.Case, at time.Time) bool {
	return at.After(c.OpenedAt) && (c.Open() || !at.After(*c.ClosedAt))
}

// Evidence is a paper that may go with an appeal.
type Evidence struct {
	files.Compared
	Adds     float64 // by how much it makes it likelier that the appeal is granted, beside those before it; 0 to 1
	Proposed bool    // it bears on the cause, and nothing speaks against it
}

// good reports whether nothing speaks against a paper.
func good(p files.Compared) bool { return len(paper.Faults(p.Findings)) == 0 }

// enough reports whether a paper is one without which an appeal is not well argued: one that shows the address, where the
// directory takes such.
func (v CaseView) enough(p Evidence) bool {
	wanted := slices.ContainsFunc(v.Book.Appeal.Papers, paper.ShowsAddress)
	return good(p.Compared) && (!wanted || paper.ShowsAddress(p.Kind))
}

// evidence fills in the papers of a kind that the directory takes, in the order of what each adds to the case's cause.
func (d *Desk) evidence(ctx context.Context, l ListingView, c verification.Case, v *CaseView) error {
	papers, err := store.Each(files.PaperOf)(d.store.Reading(ctx).Papers(ctx, db.PapersParams{ClientID: l.Location.ClientID, LocationID: &v.Location.ID}))
	if err != nil {
		return err
	}
	rows, err := d.store.Reading(ctx).AppealsHeard(ctx, l.Book.ID)
	if err != nil {
		return err
	}
	var past []cases.Heard
	for _, r := range rows {
		h := cases.Heard{Cause: r.Cause, Granted: r.Granted}
		if err := json.Unmarshal(r.Kinds, &h.Kinds); err != nil {
			return err
		}
		past = append(past, h)
	}
	var beside []string
	for _, p := range files.CompareAll(papers, l.Book.Appeal.Papers, l.Location.Record, d.clock.Now()) {
		v.Papers = append(v.Papers, Evidence{Compared: p, Adds: cases.Appeals(l.Book).Adds(c.Cause, p.Kind, nil, past)})
	}
	slices.SortStableFunc(v.Papers, func(a, b Evidence) int {
		return cmp.Or(cmp.Compare(len(paper.Faults(a.Findings)), len(paper.Faults(b.Findings))), cmp.Compare(b.Adds, a.Adds))
	})
	for i := range v.Papers {
		p := &v.Papers[i]
		if !good(p.Compared) || slices.Contains(beside, p.Kind) {
			continue
		}
		if p.Proposed = p.Adds > 0 || len(l.Book.Appeal.Evidence) == 0; p.Proposed {
			beside = append(beside, p.Kind)
		}
	}
	v.Hearing = cases.Appeals(l.Book).ChanceOf(c.Cause, beside, past)
	v.Learnt = cases.Learnt(c, l.Book, past)
	return nil
}

// fresh reports whether something has come since a case was argued last that speaks for it: a change of the record, or a paper.
func fresh(c verification.Case, saves []records.Saved, papers []Evidence) bool {
	if len(c.Appeals) == 0 {
		return true
	}
	last := c.Appeals[len(c.Appeals)-1].AskedAt
	return slices.ContainsFunc(saves, func(s records.Saved) bool { return s.At.After(last) && len(s.Changes) > 0 }) ||
		slices.ContainsFunc(papers, func(p Evidence) bool { return p.AddedAt.After(last) })
}

// mended says what was changed in a record, as an appeal tells it.
func mended(changes []record.Change) (out []string) {
	for _, c := range changes {
		if c.Before != "" && c.After != "" {
			out = append(out, fmt.Sprintf("%s, from “%s” to “%s”", strings.ToLower(c.Title), c.Before, c.After))
		}
	}
	return out
}
