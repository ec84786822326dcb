package risk_test

import (
	"testing"

	"uvent/core/rule/risk"
)

// Each step of the gentlest order tells what it may lead to by itself: the first as well as those after it, and no more than
// all of it at once.
func TestEachStepTellsItsOwnRisk(t *testing.T) {
	b := book(t, "fernlook")
	r := sound()
	r.Name = "Best Cheap " + r.Name
	s := risk.Subject{Record: r, Changed: []string{"name", "address", "hours"}}
	_, together := risk.Expect(risk.Find(b, s))
	steps := risk.Weighed(b, s, risk.Order(b, s.Changed, nil))
	if len(steps) < 3 {
		t.Fatalf("%+v", steps)
	}
	for i, step := range steps {
		one := s
		one.Changed, one.Before = step.Facts, nil
		worst, chance := risk.Expect(risk.Find(b, one))
		if step.Worst != worst || step.Chance != chance || step.Chance > together {
			t.Errorf("step %d, %v: %s, %g; by itself it is %s, %g, and all at once %g", i, step.Facts, step.Worst, step.Chance, worst, chance, together)
		}
		if step.Facts[0] == "name" && step.Chance < 0.5 {
			t.Errorf("the name may be minded, and the step with it tells %g", step.Chance)
		}
	}
}
