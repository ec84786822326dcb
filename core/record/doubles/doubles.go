// Package doubles tells which rows of a file are locations that are kept already, or that another row of
// the file is about, and what to call those that are new.
package doubles

import (
	"cmp"
	"fmt"
	"math"
	"runtime"
	"slices"
	"strings"
	"sync"

	"uvent/core/fact/address"
	"uvent/core/record/match"
	"uvent/core/record/record"
)

// Entry is a location: one that is kept, or one that a row would make.
type Entry struct {
	Client string // whose it is, by name; empty where that is not known
	Record record.Record
	Named  bool // its label was given to it, not made from its town
	Out    bool // of a row: it is left out, and nothing is a double of it
}

// Verdict is what is thought of a row.
type Verdict string

const (
	New      Verdict = "new"
	Same     Verdict = "same"     // it is about the location that is named
	Probably Verdict = "probably" // it may be; somebody has to say
)

// Finding is what a row is about.
type Finding struct {
	Verdict Verdict
	Kept    int      // index of the location that is kept; -1 for none
	Row     int      // index of the row before it that says the same; -1 for none
	Reasons []string // sentences, weightiest first
}

// none is the finding of a row that is about nothing else.
var none = Finding{Verdict: New, Kept: -1, Row: -1}

// Find holds each row against what is kept, and against the rows before it. A store code, or a label that
// was given, tells within a client; otherwise what both say of the business.
func Find(kept, rows []Entry) []Finding {
	byKey := map[string]int{}
	for i := len(kept) - 1; i >= 0; i-- {
		for _, key := range keys(kept[i]) {
			byKey[key] = i
		}
	}
	there, here := match.NewIndex(businesses(kept)), match.NewIndex(businesses(rows))
	out := make([]Finding, len(rows))
	parts := runtime.GOMAXPROCS(0)
	var all sync.WaitGroup
	for part := range parts {
		all.Go(func() {
			for i := part; i < len(rows); i += parts {
				if rows[i].Out {
					out[i] = none
					continue
				}
				out[i] = *cmp.Or(held(kept, there, byKey, rows[i]), before(rows, here, i), &none)
			}
		})
	}
	all.Wait()
	twice(out, rows)
	return out
}

// twice lets the second row about one kept location be about the first.
func twice(all []Finding, rows []Entry) {
	first := map[int]int{}
	for i, f := range all {
		if f.Verdict != Same || f.Kept < 0 {
			continue
		}
		if at, seen := first[f.Kept]; seen {
			all[i] = Finding{Same, -1, at, []string{"Both rows are about one location."}}
			if coded(rows[at], rows[i]) {
				all[i].Verdict = Probably
				all[i].Reasons = append(all[i].Reasons, fmt.Sprintf("The store code is another, %s, not %s.", rows[i].Record.StoreCode, rows[at].Record.StoreCode))
			}
			continue
		}
		first[f.Kept] = i
	}
}

func businesses(of []Entry) []match.Business {
	out := make([]match.Business, len(of))
	for i, e := range of {
		if !e.Out {
			out[i] = match.Of(e.Record)
		}
	}
	return out
}

// keys are what tells a location within its client.
func keys(e Entry) (out []string) {
	if e.Client == "" {
		return nil
	}
	if e.Record.StoreCode != "" {
		out = append(out, "c\x00"+strings.ToLower(e.Client+"\x00"+e.Record.StoreCode))
	}
	if e.Record.Label != "" {
		out = append(out, "l\x00"+strings.ToLower(e.Client+"\x00"+e.Record.Label))
	}
	return out
}

// held finds the kept location that a row is about; nil for none.
func held(kept []Entry, x *match.Index, byKey map[string]int, row Entry) *Finding {
	for _, key := range keys(row) {
		i, ok := byKey[key]
		if !ok || key[0] == 'l' && !row.Named {
			continue
		}
		says := fmt.Sprintf("The store code is the same, %s.", row.Record.StoreCode)
		if key[0] == 'l' {
			if coded(kept[i], row) {
				continue
			}
			says = fmt.Sprintf("The label is the same, %s.", kept[i].Record.Label)
			if match.Compare(match.Of(kept[i].Record), match.Of(row.Record)).Verdict == match.Different {
				continue // another place under a name that is taken
			}
		}
		return &Finding{Same, i, -1, []string{says}}
	}
	for _, f := range x.Find(match.Of(row.Record)) {
		if finding, ok := judge(kept[f.At], row, f.Result); ok {
			finding.Kept = f.At
			return &finding
		}
	}
	return nil
}

// before finds the row before one that says the same; nil for none.
func before(rows []Entry, x *match.Index, i int) *Finding {
	for _, f := range x.Find(match.Of(rows[i].Record)) {
		if f.At >= i {
			continue
		}
		if finding, ok := judge(rows[f.At], rows[i], f.Result); ok {
			finding.Row = f.At
			return &finding
		}
	}
	return nil
}

// What speaks against two being one, as evidence is weighed in match: whoever keeps a list tells its places apart
// by codes and labels, and a number in a street may be another house.
const (
	anotherCode   = 2.0
	anotherLabel  = 3.0
	anotherNumber = 2.0
	anotherClient = 1.0
	most          = 5.0 // of what speaks for it
)

// judge says what to think of two that are alike; false when that is nothing. What speaks against it has somebody
// decide, where it does not weigh more.
func judge(one, row Entry, r match.Result) (Finding, bool) {
	f := Finding{Verdict: Same, Kept: -1, Row: -1, Reasons: r.Reasons}
	left := min(most, math.Log(r.Score/(1-r.Score)))
	if r.Verdict != match.SameBusiness {
		f.Verdict = Probably
	}
	doubt := func(weight float64, format string, a ...any) {
		f.Verdict = Probably
		left -= weight
		if format != "" {
			f.Reasons = slices.Insert(slices.Clone(f.Reasons), min(1, len(f.Reasons)), fmt.Sprintf(format, a...))
		}
	}
	if address.Compare(one.Record.Address, row.Record.Address).Street == address.Different {
		doubt(anotherNumber, "")
	}
	if coded(one, row) {
		doubt(anotherCode, "The store code is another, %s, not %s.", row.Record.StoreCode, one.Record.StoreCode)
	}
	sameClient := strings.EqualFold(one.Client, row.Client)
	if one.Named && row.Named && !strings.EqualFold(one.Record.Label, row.Record.Label) {
		doubt(anotherLabel, "The label is another, %s, not %s.", row.Record.Label, one.Record.Label)
	}
	if one.Client != "" && row.Client != "" && !sameClient {
		doubt(anotherClient, "It stands under another client, %s.", one.Client)
	}
	return f, left >= 0
}

// coded reports whether two have store codes of their own.
func coded(a, b Entry) bool {
	return a.Record.StoreCode != "" && b.Record.StoreCode != "" && !strings.EqualFold(a.Record.StoreCode, b.Record.StoreCode)
}

// Label is what to call a location among others of its client: as it is called, or by its town; where that
// is taken, with its street, or its store code, or a number.
func Label(r record.Record, taken func(string) bool) string {
	base := cmp.Or(r.Label, r.Address.Locality)
	for _, label := range []string{base, base + ", " + r.Address.Street, base + ", " + r.StoreCode, base + ", " + r.Address.Street + ", " + r.Address.Unit} {
		if !strings.HasSuffix(label, ", ") && !taken(label) {
			return label
		}
	}
	for n := 2; ; n++ {
		if label := fmt.Sprintf("%s %d", base, n); !taken(label) {
			return label
		}
	}
}
