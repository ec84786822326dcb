package e2e

import (
	"context"
	"net/url"
	"testing"

	"uvent/demo"
	"uvent/e2e/browser"
	"uvent/e2e/rig"
)

// What a visitor of the demo can do, one after the other in one demo.
func TestAtWorkInTheDemo(t *testing.T) {
	t.Parallel()
	binary := program(t)
	d := startDemo(t, binary, demoFolder(t, binary))
	t.Run("every task leads to where it is done", func(t *testing.T) { lead(t, d) })
	t.Run("a case is won, and another is not", func(t *testing.T) { argue(t, d) })
	t.Run("from nothing to public everywhere", func(t *testing.T) { travel(t, d) })
}

// tasks of each sort: the button that does it, on the page to which the row leads.
var tasks = map[string]string{
	"enter_code": "Submit", "ask_again": "Ask", "begin": "Search", "decide": "Create", "verify": "Ask", "open": "Ask for access", "give": "Make the file",
	"argue": "Send the appeal", "follow": "Do it",
}

// lead follows a task of each sort by its own button to where it is done.
func lead(t *testing.T, d *running) {
	tab, stop, err := browser.Start(context.Background())
	rig.Must(t, err)
	t.Cleanup(stop)
	rig.Must(t, tab.SignIn(d.base, demo.People[0].Email, demo.Password))
	var today struct {
		Rows []struct {
			Location string
			Task     struct{ Group, Act, Title string }
		}
	}
	d.get("/api/today", &today)
	followed := map[string]bool{}
	for _, row := range today.Rows {
		task := row.Task
		if task.Group == "directory" || task.Act == "look_again" || followed[task.Act] {
			continue // nothing to do, or done on the spot
		}
		followed[task.Act] = true
		rig.Must(t, tab.Open(d.base+"/today/l/"+row.Location+"?group="+task.Group+"&search="+url.QueryEscape(task.Title)))
		rig.Must(t, tab.Press(task.Title)) // opens it, and once more does it
		rig.Must(t, tab.Until(`!!document.querySelector(".opened h3")`))
		rig.Must(t, tab.Press(task.Title))
		rig.Must(t, tab.Until(`[...document.querySelectorAll("#view button, #view a.btn")].some((b) => b.innerText.startsWith("`+tasks[task.Act]+`"))`))
	}
	if len(followed) != len(tasks) {
		t.Errorf("the demo has tasks of the sorts %v", followed)
	}
	rig.Must(t, tab.Open(d.base+"/today?search=isn’t+public+on+Fernlook"))
	rig.Must(t, tab.PressOne("what"))
	rig.Must(t, tab.Press("Look again"))
	rig.Must(t, tab.See("still does not show on Fernlook"))
}

// argue follows a listing that is suspended on its own while the clock moves on. The letter
// opens the case, the likely cause is named, and the appeal is won; another case ends
// clearly.
func argue(t *testing.T, d *running) {
	tab, stop, err := browser.Start(context.Background())
	rig.Must(t, err)
	t.Cleanup(stop)
	do := func(errs ...error) {
		t.Helper()
		for _, err := range errs {
			rig.Must(t, err)
		}
	}
	days := func(n int) {
		d.post(t, "/api/clock/moves", map[string]any{"to": d.now().AddDate(0, 0, n)}, nil)
	}
	do(
		tab.SignIn(d.base, demo.People[0].Email, demo.Password),
		tab.Open(d.base+"/suspensions"),
		tab.See("Port Sable on Murmurhall: suspended"),
		tab.NotSee("Saltgrass on Fernlook"),
	)
	days(1)
	do(
		tab.See("Saltgrass on Fernlook: suspended"),
		tab.Open(d.base+"/today"),
		tab.See("Saltgrass on Fernlook is suspended"),
		tab.Press("Saltgrass on Fernlook is suspended"),
		tab.Press("See the case"),
	)
	do(tab.See("The hours could not be confirmed."), tab.Until(`document.querySelector(".causes .likeliest b").innerText === "Hours round the clock"`))
	do(tab.Press("Send the appeal with 1 paper"), tab.See("They answer by"), tab.See("Before their people."))
	days(20)
	do(tab.See("Won"), tab.See("The listing shows again."), tab.Open(d.base+"/suspensions"), tab.See("Saltgrass on Fernlook"), tab.See("How long it took"))

	// The other is final: it is argued once, and ends.
	do(
		tab.Press("Port Sable on Murmurhall: suspended"),
		tab.See("is a cause that Murmurhall is known for"),
		tab.Press("Send the appeal with 1 paper"),
		tab.See("Before their people."),
	)
	days(15)
	do(tab.See("Nothing more can be argued there; the listing stays suspended."), tab.See("Not won"))
}
