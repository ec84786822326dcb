package cases

import (
	"math"
	"slices"

	"uvent/core/rule/rulebook"
)

// Heard is an appeal that was answered.
type Heard struct {
	Cause   string   // the likeliest of its case
	Kinds   []string // of the papers that went with it
	Granted bool
}

// What is thought of a hearing of which the rulebook says nothing, and how many hearings of our own its word is worth.
const (
	unknownHearing = 0.4
	priorHearings  = 4
)

// Hearing is how likely an appeal is to be granted, and by how many of our own that was learnt.
type Hearing struct {
	Chance    float64
	Won, Lost int // of ours for this cause, with such a paper
}

// ChanceOf is how likely an appeal for a cause is to be granted with papers of some kinds. It begins at the rulebook's word, as if
// that stood for four hearings, and learns twice: how this directory hears us at all, and how it hears this cause with this
// paper.
func ChanceOf(b *rulebook.Rulebook, cause string, kinds []string, past []Heard) Hearing {
	said, paper := saidOf(b, cause, kinds)
	bare := b.Appeal.Chance
	if bare == 0 {
		bare = unknownHearing
	}
	// How often they grant, against how often their rulebook would have it.
	won, expected := 0.0, 0.0
	for _, h := range past {
		e, _ := saidOf(b, h.Cause, h.Kinds)
		expected += e
		if h.Granted {
			won++
		}
	}
	mean := (priorHearings*bare + won) / (priorHearings*bare + expected)
	prior := math.Min(0.98, said*mean)
	out := Hearing{}
	for _, h := range past {
		if _, with := saidOf(b, cause, h.Kinds); h.Cause == cause && with == paper {
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

// saidOf is what the rulebook says of an appeal, and the paper that counts most in it; empty where none counts. Where nobody knows
// the cause, a paper that counts for some counts half.
func saidOf(b *rulebook.Rulebook, cause string, kinds []string) (chance float64, paper string) {
	if chance = b.Appeal.Chance; chance == 0 {
		chance = unknownHearing
	}
	bare := chance
	for _, e := range b.Appeal.Evidence {
		with := e.Chance
		switch {
		case !slices.Contains(kinds, e.Paper):
			continue
		case len(e.Causes) == 0 || slices.Contains(e.Causes, cause):
		case cause == "":
			with = (bare + e.Chance) / 2
		default:
			continue
		}
		if with > chance {
			chance, paper = with, e.Paper
		}
	}
	return chance, paper
}

// Adds is by how much a paper of a kind makes it likelier that an appeal is granted, beside papers that go with it anyhow.
func Adds(b *rulebook.Rulebook, cause, kind string, beside []string, past []Heard) float64 {
	with := ChanceOf(b, cause, append(slices.Clone(beside), kind), past).Chance
	return math.Max(0, with-ChanceOf(b, cause, beside, past).Chance)
}
