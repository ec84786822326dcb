package rounds

import (
	"context"
	"slices"

	"github.com/google/uuid"

	"uvent/core/listing/course"
	"uvent/core/listing/verification"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/problem"
)

// nextStep does the first step of a listing that can be done by now; where facts are named, the first that gives any of them,
// and of it those.
func (d *Desk) nextStep(ctx context.Context, l *ledger.Listing, final bool, facts []string) (call uuid.UUID, err error) {
	if err := listings.MayWork(l); err != nil {
		return call, err
	}
	steps, err := d.StepsNow(ctx, l.Q, []ledger.Location{l.Where})
	if err != nil {
		return call, err
	}
	var here []course.Step
	for _, s := range steps {
		if s.Directory != l.Directory {
			continue
		}
		if len(facts) > 0 {
			if s.Step.Facts = slices.DeleteFunc(slices.Clone(s.Step.Facts), func(key string) bool { return !slices.Contains(facts, key) }); len(s.Step.Facts) == 0 {
				continue
			}
		}
		here = append(here, s.Step)
	}
	step, ok := course.Next(here, d.about(l.Where), final)
	switch {
	case len(here) == 0:
		return call, problem.Conflictf("%s says what the record says already.", l.Book.Name)
	case !ok && here[0].Final:
		return call, problem.Conflictf("It cannot be taken back there. Do it by itself, from the plan.")
	case !ok && here[0].After != "":
		return call, problem.Conflictf("It waits: %s.", here[0].After)
	case !ok:
		return call, problem.Conflictf("A person has to do it: %s", here[0].Says)
	}
	switch step.Act {
	case course.Mark:
		return d.listings.Mark(ctx, l, step.To)
	case course.Hide:
		return d.listings.Hide(ctx, l, "The location is "+verification.StateWord(step.To)+".", step.To, nil)
	case course.Show:
		return d.listings.Show(ctx, l)
	}
	return d.listings.SendTo(ctx, l, step.Facts)
}
