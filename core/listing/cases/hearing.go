package cases

import (
	"cmp"
	"math"
	"slices"

	"uvent/core/rule/rulebook"
)

// Heard is something of ours that was decided about.
type Heard struct {
	Cause   string   // the likeliest of its case, of an appeal
	Kinds   []string // of the papers, or of the page, that went with it
	Granted bool
}

// What is thought of a hearing of which the rulebook says nothing, and how many hearings of our own its word is worth.
const (
	unknownHearing = 0.4
	priorHearings  = 4
)

// Hearing is how likely something is to be granted, and by how many of our own that was learnt.
type Hearing struct {
	Chance    float64
	Won, Lost int // of ours for this cause, with such evidence
}

// Bench is those who decide about something of ours: how likely they are to grant it by itself, and what evidence adds.
type Bench struct {
	bare     float64
	evidence []rulebook.Evidence
}

// Appeals are heard by those who have suspended a listing.
func Appeals(b *rulebook.Rulebook) Bench { return benchOf(b.Appeal.Chance, b.Appeal.Evidence) }

// Suggestions are heard by those who change a directory's panels.
func Suggestions(b *rulebook.Rulebook) Bench {
	return benchOf(b.Suggesting.Chance, b.Suggesting.Evidence)
}

// Holders are asked to hand over a listing of theirs.
func Holders(b *rulebook.Rulebook) Bench { return benchOf(b.Access.Chance, nil) }

// Deciders decide between us and a holder who did not.
func Deciders(b *rulebook.Rulebook) Bench { return benchOf(b.Access.Decided, b.Access.Evidence) }

func benchOf(bare float64, evidence []rulebook.Evidence) Bench {
	return Bench{cmp.Or(bare, unknownHearing), evidence}
}

// ChanceOf is how likely something is to be granted for a cause with evidence of some kinds. It begins at the rulebook's word, as if
// that stood for four hearings, and learns twice: how these people hear us at all, and how they hear this cause with this evidence.
func (b Bench) ChanceOf(cause string, kinds []string, past []Heard) Hearing {
	said, counts := b.saidOf(cause, kinds)
	// How often they grant, against how often their rulebook would have it.
	won, expected := 0.0, 0.0
	for _, h := range past {
		e, _ := b.saidOf(h.Cause, h.Kinds)
		expected += e
		if h.Granted {
			won++
		}
	}
	mean := (priorHearings*b.bare + won) / (priorHearings*b.bare + expected)
	prior := math.Min(0.98, said*mean)
	out := Hearing{}
	for _, h := range past {
		if _, with := b.saidOf(cause, h.Kinds); h.Cause == cause && with == counts {
			if h.Granted {
				out.Won++
			} else {
				out.Lost++
			}
		}
	}
	out.Chance = (priorHearings*prior + float64(out.Won)) / (priorHearings + float64(out.Won+out.Lost))
	return out
}

// saidOf is what the rulebook says of such a hearing, and the evidence that counts most in it; empty where none counts. Where nobody
// knows the cause, what counts for some counts half.
func (b Bench) saidOf(cause string, kinds []string) (chance float64, counts string) {
	chance = b.bare
	for _, e := range b.evidence {
		with := e.Chance
		switch {
		case !slices.Contains(kinds, e.What()):
			continue
		case len(e.Causes) == 0 || slices.Contains(e.Causes, cause):
		case cause == "":
			with = (b.bare + e.Chance) / 2
		default:
			continue
		}
		if with > chance {
			chance, counts = with, e.What()
		}
	}
	return chance, counts
}

// Adds is by how much evidence of a kind makes it likelier, beside what goes with it anyhow.
func (b Bench) Adds(cause, kind string, beside []string, past []Heard) float64 {
	with := b.ChanceOf(cause, append(slices.Clone(beside), kind), past).Chance
	return math.Max(0, with-b.ChanceOf(cause, beside, past).Chance)
}

// InOrder are kinds of evidence, those first that add most; of equals, in the order in which they were.
func (b Bench) InOrder(kinds []string, past []Heard) []string {
	out := slices.Clone(kinds)
	slices.SortStableFunc(out, func(x, y string) int { return cmp.Compare(b.Adds("", y, nil, past), b.Adds("", x, nil, past)) })
	return out
}
