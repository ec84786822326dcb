package cases

import (
	"cmp"
	"slices"

	"uvent/core/listing/verification"
)

// Ended is a case on a directory; one that is open is left out.
type Ended struct {
	Case      verification.Case
	Directory string
}

// Took is how the cases of one directory, kind and cause have ended.
type Took struct {
	Directory          string
	Kind               verification.CaseKind
	Cause              string
	Won, Lost, GivenUp int
	MedianDays         float64 // from opening to the end
}

// TookOf counts how cases have ended and how long they took, the most frequent first.
func TookOf(all []Ended) (out []Took) {
	days := map[Took][]float64{}
	for _, e := range all {
		if e.Case.Open() {
			continue
		}
		key := Took{Directory: e.Directory, Kind: e.Case.Kind, Cause: e.Case.Cause}
		i := slices.IndexFunc(out, func(t Took) bool { return t.Directory == key.Directory && t.Kind == key.Kind && t.Cause == key.Cause })
		if i < 0 {
			i, out = len(out), append(out, key)
		}
		switch e.Case.Outcome {
		case verification.Won:
			out[i].Won++
		case verification.LostIt:
			out[i].Lost++
		case verification.GivenUp:
			out[i].GivenUp++
		}
		days[key] = append(days[key], e.Case.ClosedAt.Sub(e.Case.OpenedAt).Hours()/24)
	}
	for i := range out {
		d := days[Took{Directory: out[i].Directory, Kind: out[i].Kind, Cause: out[i].Cause}]
		slices.Sort(d)
		out[i].MedianDays = (d[(len(d)-1)/2] + d[len(d)/2]) / 2
	}
	slices.SortStableFunc(out, func(a, b Took) int {
		return cmp.Or((b.Won+b.Lost+b.GivenUp)-(a.Won+a.Lost+a.GivenUp), cmp.Compare(a.Directory, b.Directory), cmp.Compare(a.Cause, b.Cause))
	})
	return out
}
