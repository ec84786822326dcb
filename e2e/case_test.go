package e2e

import (
	"context"
	"os"
	"testing"

	"uvent/demo"
	"uvent/e2e/browser"
	"uvent/e2e/rig"
)

// What a visitor of the demo can do, one after the other in one demo.
func TestAtWorkInTheDemo(t *testing.T) {
	t.Parallel()
	data, err := os.MkdirTemp("", "uvent-work-")
	rig.Must(t, err)
	t.Cleanup(func() { os.RemoveAll(data) })
	d := startDemo(t, program(t), data)
	t.Run("a case is won, and another is not", func(t *testing.T) { argue(t, d) })
	t.Run("from nothing to public everywhere", func(t *testing.T) { travel(t, d) })
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
	do(tab.SignIn(d.base, demo.People[0].Email, demo.Password), tab.Open(d.base+"/suspensions"), tab.See("Port Sable on Murmurhall: suspended"), tab.NotSee("Saltgrass on Fernlook"))
	days(1)
	do(tab.See("Saltgrass on Fernlook: suspended"), tab.Open(d.base+"/today"), tab.See("Saltgrass on Fernlook is suspended"), tab.Press("See the case", "Saltgrass on Fernlook is suspended"))
	do(tab.See("The hours could not be confirmed."), tab.Until(`document.querySelector(".causes .likeliest b").innerText === "Hours round the clock"`))
	do(tab.Press("Send the appeal with 1 paper"), tab.See("They answer by"), tab.See("Before their people."))
	days(20)
	do(tab.See("Won"), tab.See("The listing shows again."), tab.Open(d.base+"/suspensions"), tab.See("Saltgrass on Fernlook"), tab.See("How long it took"))

	// The other is final: it is argued twice, and ends.
	do(tab.Press("Port Sable on Murmurhall: suspended"), tab.See("is a cause that Murmurhall is known for"), tab.Press("Send the appeal with 1 paper"), tab.See("Before their people."))
	days(15)
	do(tab.See("Appeal again"), tab.Press("Send the appeal with 1 paper"), tab.See("Before their people."))
	days(15)
	do(tab.See("Nothing more can be argued there; the listing stays suspended."), tab.See("Not won"))
}
