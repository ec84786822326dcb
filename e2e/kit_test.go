package e2e

import (
	"fmt"
	"strings"
	"testing"

	"uvent/e2e/rig"
)

// A table is put in order by its heads: numbers the most first, words from the beginning, and a third
// press puts it back as it came.
func TestATableIsPutInOrderByItsHeads(t *testing.T) {
	s := open(t, "brasswire", "fernlook", "waywren")
	shown := func(names ...string) error {
		return s.Until(fmt.Sprintf(`[...document.querySelectorAll("table.directories tbody th")].map(e => e.innerText).join() === %q`, strings.Join(names, ",")))
	}
	sorted := func(way string) error {
		return s.Until(fmt.Sprintf(`document.querySelector("th[aria-sort]")?.ariaSort === %q`, way))
	}
	s.do(s.Open(s.at("/directories")), shown("Fernlook", "Waywren", "Brasswire"))
	s.do(s.Press("Directory"), sorted("ascending"), shown("Brasswire", "Fernlook", "Waywren"))
	s.do(s.Press("Directory"), sorted("descending"), shown("Waywren", "Fernlook", "Brasswire"))
	s.do(s.Press("Directory"), s.Until(`!document.querySelector("th[aria-sort]")`), shown("Fernlook", "Waywren", "Brasswire"))
	s.do(s.Press("Weight"), sorted("descending"), s.Press("Weight"), sorted("ascending"), shown("Brasswire", "Waywren", "Fernlook"))
}

// Of many rows only those that are looked at are drawn, and all of them can be reached.
func TestManyRowsAreDrawnInPart(t *testing.T) {
	s := open(t)
	s.rig.BringIn(t, rig.ManyRows(600))
	s.do(s.Open(s.at("/record")), s.See("600 locations"))
	drawn := `document.querySelectorAll("table[aria-rowcount] tbody tr:not([aria-hidden])").length`
	s.do(s.Until(drawn+` > 20`), s.Until(drawn+` < 120`))
	s.do(
		s.Until(
			`(document.querySelector("table[aria-rowcount]").scrollIntoView({block: "end"}), [...document.querySelectorAll("tbody tr:not([aria-hidden])")].at(-1).innerText.includes("Shop "))`,
		),
		s.Until(`[...document.querySelectorAll("table[aria-rowcount] tbody tr:not([aria-hidden])")].at(-1).getBoundingClientRect().bottom < innerHeight + 60`),
		s.Until(drawn+` < 120`),
	)
}

// What is wrong with a field stands at it, before anything is asked of the server, and goes once it
// is put right.
func TestAFormSaysWhatIsWrongAtItsFields(t *testing.T) {
	s := open(t)
	wrong := "Give an email address, such as ada@office.example."
	s.do(s.Open(s.at("/people")), s.Type("Email", "oda"), s.Press("Send invitation"), s.See(wrong))
	s.do(s.Until(`document.activeElement.name === "email" && document.activeElement.matches(".is-invalid")`))
	s.do(s.Choose("Role", "client"), s.Type("Email", "oda@spokeshave.example"), s.NotSee(wrong), s.Press("Send invitation"))
	s.do(s.See("Choose whose locations they may see."), s.See("1 person may sign in."))
	// What only the server knows stands at its field too, and what was typed is kept.
	s.do(s.Choose("Role", "helper"), s.Type("Email", s.rig.Who.Email), s.Press("Send invitation"), s.See("signs in"))
	s.do(s.Until(fmt.Sprintf(`document.querySelector("[name=email]").value === %q`, s.rig.Who.Email)))
}
