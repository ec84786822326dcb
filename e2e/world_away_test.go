package e2e

import (
	"io"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"syscall"

	"uvent/demo"
	"uvent/e2e/browser"
	"uvent/e2e/rig"
)

// outlasted takes the demo's database away for a while: requests are answered 503 and not 401 or 500, a bar says so on the
// screen, what was typed stays, and what is pressed meanwhile is done once it is back.
func (d *running) outlasted(data string) {
	t := d.t
	t.Helper()
	tab, stop, err := browser.Start(t.Context())
	rig.Must(t, err)
	defer stop()
	do := func(errs ...error) {
		t.Helper()
		for _, err := range errs {
			rig.Must(t, err)
		}
	}
	do(
		tab.SignIn(d.base, demo.People[0].Email, demo.Password),
		tab.Open(d.base+"/record/new-client"),
		tab.Type("Trading name", "Harbour Bakery"),
	)
	settings := filepath.Join(data, "data", "postgresql.auto.conf")
	before, err := os.ReadFile(settings)
	rig.Must(t, err)
	rig.Must(t, os.WriteFile(settings, []byte("no such setting = 1\n"), 0o600)) // it does not start with that
	said, err := os.ReadFile(filepath.Join(data, "data", "postmaster.pid"))
	rig.Must(t, err)
	pid, err := strconv.Atoi(strings.Split(string(said), "\n")[0])
	rig.Must(t, err)
	rig.Must(t, syscall.Kill(pid, syscall.SIGKILL))
	ask := func() (int, string, string) {
		resp, err := d.http.Get(d.base + "/api/clients")
		rig.Must(t, err)
		defer resp.Body.Close()
		body, err := io.ReadAll(resp.Body)
		rig.Must(t, err)
		return resp.StatusCode, resp.Header.Get("Retry-After"), string(body)
	}
	do(tab.Press("Add client"), tab.See("Uvent’s database does not answer"))
	for range 5 {
		if status, after, body := ask(); status != http.StatusServiceUnavailable || after == "" || !strings.Contains(body, "urn:uvent:not-begun") {
			t.Errorf("without its database it answers %d, Retry-After %q, %s", status, after, body)
		}
	}
	rig.Must(t, os.WriteFile(settings, before, 0o600))
	do(tab.NotSee("does not answer"), tab.See("Record, Harbour Bakery"))
	var clients []struct{ ID, Name string }
	d.get("/api/clients", &clients)
	added := slices.IndexFunc(clients, func(c struct{ ID, Name string }) bool { return c.Name == "Harbour Bakery" })
	if len(clients) != 6 || added < 0 {
		t.Fatalf("%+v", clients)
	}
	req, err := http.NewRequest(http.MethodDelete, d.base+"/api/clients/"+clients[added].ID, nil)
	rig.Must(t, err)
	resp, err := d.http.Do(req)
	rig.Must(t, err)
	resp.Body.Close()
}
