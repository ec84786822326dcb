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
	if n := len(All()); n < 250 {
		t.Errorf("the list holds %d categories; 250 are wanted", n)
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

func TestAttributesDependOnTheCategory(t *testing.T) {
	has := func(attribute string, categories ...string) bool {
		for _, a := range Attributes(categories...) {
			if a.ID == attribute {
				return true
			}
		}
		return false
	}
	if !has("wheelchair_entrance") || !has("loan_bicycle", "bicycle_repair") || has("loan_bicycle", "laundromat") || !has("exotic_animals", "veterinary_clinic") ||
		has("exotic_animals", "pet_shop") {
		t.Error("the wrong attributes are offered")
	}
	if !has("outdoor_seating", "bicycle_shop", "cafe") {
		t.Error("a further category offers its own")
	}
	if a, ok := FindAttribute("delivery"); !ok || a.Asks != "an ordering link" {
		t.Errorf("%+v", a)
	}
	if a, ok := FindAttribute("By Appointment Only"); !ok || a.ID != "appointment_only" {
		t.Errorf("%+v", a)
	}
	seen := map[string]bool{}
	for _, a := range attributes {
		if seen[a.ID] || seen[a.Name] {
			t.Errorf("%s stands twice", a.ID)
		}
		seen[a.ID], seen[a.Name] = true, true
	}
	if GroupName("animals") != "Animals" || GroupName("x") != "" {
		t.Error("group names are wrong")
	}
}
