package category

import "testing"

func TestCategories(t *testing.T) {
	seen := map[string]bool{}
	for _, c := range All() {
		if seen[c.ID] || seen[c.Name] || c.Name == "" || len(c.Words) == 0 {
			t.Errorf("%+v stands twice or says too little", c)
		}
		seen[c.ID], seen[c.Name] = true, true
		if got, ok := Find(c.Name); !ok || got.ID != c.ID {
			t.Errorf("%s is not found by its name", c.ID)
		}
	}
	if _, ok := Find("bicycle REPAIR "); !ok {
		t.Error("case and spaces matter")
	}
	if _, ok := Find("unheard of"); ok {
		t.Error("an unknown category is found")
	}
	if Name("bicycle_repair") != "Bicycle repair" || Name("x") != "x" {
		t.Error("names are wrong")
	}
}
