package httpapi_test

import (
	"bufio"
	"bytes"
	"strings"
	"testing"
	"time"

	"uvent/core/record/bring"
	"uvent/core/record/record"
	"uvent/desk/imports"
	"uvent/e2e/rig"
	"uvent/httpapi/api"
	"uvent/outside/visit"
)

func TestTheWholeStoryOverHTTP(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	ctx := t.Context()

	var added api.ClientRow
	c.want(201, "POST", "/api/clients", api.ClientFacts{Name: "Spokeshave Cycle Works", OwnerName: "Dov Marsh"}, &added)
	if p := c.problem(422, "POST", "/api/clients", api.ClientFacts{Name: "spokeshave cycle works"}); (*p.Fields)[0].Path != "name" {
		t.Errorf("%+v", p)
	}
	path := "/api/clients/" + added.Id.String()
	c.want(200, "PUT", path+"?version=1", api.ClientFacts{Name: "Spokeshave Cycle Works", OwnerName: "Dov A. Marsh"}, &added)
	c.problem(409, "PUT", path+"?version=1", api.ClientFacts{Name: "Spokeshave"})
	c.want(200, "GET", path, nil, &added)
	if added.OwnerName != "Dov A. Marsh" || added.Version != 2 {
		t.Errorf("%+v", added)
	}

	bad := rig.Shop("Minnow Bay")
	bad.Hours, bad.Email = "Mo 9-5", "x"
	p := c.problem(422, "POST", path+"/locations", bad)
	var paths []string
	for _, f := range *p.Fields {
		paths = append(paths, f.Path)
	}
	if strings.Join(paths, " ") != "email hours" {
		t.Errorf("at fault: %v", paths)
	}
	var loc api.Location
	c.want(201, "POST", path+"/locations", rig.Shop("Minnow Bay"), &loc)
	c.want(200, "GET", "/api/locations/"+loc.Id.String(), nil, &loc)
	if loc.Zone != "America/Los_Angeles" || len(loc.Read) != 1 || len(loc.Read[0].Missing) != 0 {
		t.Errorf("%+v", loc)
	}
	loc.Record.StoreCode = "SCW-03"
	c.want(200, "PUT", "/api/locations/"+loc.Id.String()+"?version=1", loc.Record, &loc)
	c.problem(409, "PUT", "/api/locations/"+loc.Id.String()+"?version=1", loc.Record)

	at := "/api/listings/" + loc.Id.String() + "/fernlook"
	var l api.Listing
	c.want(200, "GET", at, nil, &l)
	if l.Row.Task == nil || l.Row.Task.Act != "search" {
		t.Errorf("it asks for %+v", l.Row.Task)
	}
	c.problem(409, "POST", at+"/create", nil)
	c.want(200, "POST", at+"/search", nil, &l)
	c.problem(409, "POST", at+"/claim", map[string]string{"ref": "none"})
	c.want(200, "POST", at+"/create", nil, &l)
	c.problem(409, "POST", at+"/codes", map[string]string{"method": "carrier pigeon"})
	c.want(200, "POST", at+"/codes", map[string]string{"method": "email"}, &l)
	r.Move(t, 2*time.Minute)
	code, err := r.World.Code(ctx, "shop@spokeshave.example")
	rig.Must(t, err)
	attempt := at + "/codes/" + l.Attempts[0].Id
	c.want(200, "POST", attempt+"/arrived", nil, &l)
	if p := c.problem(422, "PUT", attempt, map[string]string{"code": "12"}); (*p.Fields)[0].Path != "code" {
		t.Errorf("%+v", p)
	}
	c.want(200, "PUT", attempt, map[string]string{"code": code}, &l)
	if l.Row.Strand.Verification != "verified" || l.Row.Strand.Visibility != "publishing" || l.PublicBy == nil {
		t.Errorf("%+v", l.Row.Strand)
	}
	c.want(200, "POST", at+"/looks", nil, &l)
	var moved api.Clock
	c.want(200, "POST", "/api/clock/moves", map[string]string{"by": "day"}, &moved)
	to := moved.Now.Add(7 * 24 * time.Hour)
	c.want(200, "POST", "/api/clock/moves", map[string]time.Time{"to": to}, nil)
	c.want(200, "GET", at, nil, &l)
	if l.Row.Strand.Visibility != "public" || len(l.History) < 8 || l.Facts[0].Mark != "=" {
		t.Errorf("%+v", l)
	}
	for _, view := range []string{"/api/clients", "/api/today", "/api/listings", "/api/today?location=" + loc.Id.String(), "/api/listings?client=" + added.Id.String(), "/api/directories", "/api/facts"} {
		c.want(200, "GET", view, nil, nil)
	}
	if csv := c.want(200, "GET", "/api/export.csv", nil, nil); !strings.Contains(string(csv), "SCW-03") {
		t.Errorf("taken out: %s", csv)
	}
}

func TestAFileComesInOverHTTP(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	var client api.ClientRow
	c.want(201, "POST", "/api/clients", api.ClientFacts{Name: "Nettlewick Yarns"}, &client)
	file := "Location;Name;Street;Town;State;Country;Phone\nOld Wharf;Nettlewick Yarns;9 Old Wharf;Port Sable;WA;US;360 555 0109\nBad;Nettlewick Yarns;1 Road;Port Sable;WA;US;12\n"
	var in api.Import
	c.upload(201, "/api/imports", "locations.csv", []byte(file), map[string]string{"client": client.Id.String()}, &in)
	if in.Rows != 2 || in.State != api.ImportStateReady || in.Counts.By[bring.New] != 2 || in.Counts.Without != 1 || in.Encoding != "UTF-8" ||
		in.Delimiter != ";" {
		t.Fatalf("%+v", in)
	}
	path := "/api/imports/" + in.Id.String()
	var alike []api.Alike
	c.want(200, "GET", path+"/alike", nil, &alike)
	if a := alike[0]; a.Key != "phone" || a.Column != "Phone" || a.Says != "12" || a.Line != 3 || a.Cells != 1 || a.Why == "" || a.Waits {
		t.Errorf("%+v", alike)
	}
	columns := []string{"label", "name", "street", "locality", "region", "country", ""}
	c.problem(422, "POST", path+"/edits", imports.Edit{Kind: imports.EditColumns, Columns: columns[:1]})
	c.want(200, "POST", path+"/edits", imports.Edit{Kind: imports.EditColumns, Columns: columns}, &in)
	if in.Counts.Without != 0 || in.Edits != 1 || in.Last.Kind != imports.EditColumns {
		t.Errorf("without the phones: %+v", in)
	}
	c.want(200, "DELETE", path+"/edits/last", nil, &in)
	if in.Counts.Without != 1 || in.Edits != 0 {
		t.Errorf("undone: %+v", in)
	}
	if rest := string(c.want(200, "GET", path+"/rest.csv", nil, nil)); !strings.HasPrefix(rest, "Location;") || !strings.Contains(rest, "Bad;") ||
		strings.Contains(rest, "Old Wharf;") {
		t.Errorf("to mend: %s", rest)
	}
	if rest := c.want(200, "GET", path+"/rest.xlsx", nil, nil); !bytes.HasPrefix(rest, []byte("PK")) {
		t.Errorf("as a spreadsheet: %.40q", rest)
	}
	var page api.ImportPage
	c.want(200, "GET", path+"/rows?show=without", nil, &page)
	if len(page.Rows) != 1 || page.Rows[0].Says["label"] != "Bad" || page.Rows[0].Says["phone"] != "" || page.Next != "" {
		t.Errorf("%+v", page)
	}
	c.want(200, "POST", path+"/apply", nil, &in)
	if in.State != api.ImportStateIn || in.Counts.In != 2 {
		t.Errorf("%+v", in)
	}
	c.want(200, "GET", path+"/rows?search=bad", nil, &page)
	if len(page.Rows) != 1 || !page.Rows[0].In {
		t.Fatalf("%+v", page)
	}
	var remarks []api.Remark
	at := "/api/locations/" + page.Rows[0].Location.String() + "/remarks"
	c.want(200, "GET", at, nil, &remarks)
	if len(remarks) != 1 || remarks[0].Says != "12" || remarks[0].File != "locations.csv" {
		t.Fatalf("%+v", remarks)
	}
	c.want(204, "DELETE", at+"/"+remarks[0].Id.String(), nil, nil)
	c.problem(404, "DELETE", at+"/"+remarks[0].Id.String(), nil)
	if sheet := c.want(200, "GET", "/api/export.xlsx", nil, nil); !bytes.HasPrefix(sheet, []byte("PK")) {
		t.Errorf("taken out as a spreadsheet: %.40q", sheet)
	}
	c.want(200, "POST", path+"/take-back", nil, &in)
	var list []api.ImportLine
	c.want(200, "GET", "/api/imports?client="+client.Id.String(), nil, &list)
	if in.State != api.ImportStateReady || len(list) != 1 || list[0].Person != "Ines Roake" {
		t.Errorf("%+v %+v", in, list)
	}
	var p api.Problem
	c.upload(422, "/api/imports", "locations.csv", []byte("PK\x03\x04"), nil, &p)
	if !strings.Contains(p.Detail, "cannot be read as one") {
		t.Errorf("it says %q", p.Detail)
	}
	c.upload(422, "/api/imports", "locations.csv", []byte(file), map[string]string{"client": "none"}, &p)
	c.upload(413, "/api/imports", "locations.csv", bytes.Repeat([]byte("x"), 33<<20), nil, &p)
	if !strings.Contains(p.Detail, "larger than 32 MB") {
		t.Errorf("it says %q", p.Detail)
	}
}

func TestHoursAndPhonesAreReadAsTheyAreTyped(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	ask := func(q api.HoursQuestion) (h api.Hours) {
		t.Helper()
		q.Country, q.Region = "US", "WA"
		c.want(200, "POST", "/api/hours", q, &h)
		return h
	}
	h := ask(api.HoursQuestion{Text: "tu-fr 9:00-12:00,13:00-18:00; PH off"})
	if h.Text != "Tu-Fr 09:00-12:00,13:00-18:00; PH off" || h.MinutesPerWeek != 4*8*60 || !h.OpenNow || h.NextChange.In(rig.Pacific).Hour() != 12 ||
		len(h.Week[1]) != 2 {
		t.Errorf("%+v", h)
	}
	drawn := h.Week
	drawn[0] = drawn[1]
	if h = ask(api.HoursQuestion{Text: h.Text, Week: &drawn}); h.Text != "Mo-Fr 09:00-12:00,13:00-18:00; PH off" {
		t.Errorf("drawn: %s", h.Text)
	}
	if h = ask(api.HoursQuestion{Text: "Mo 9-xyz"}); len(h.Errors) != 1 || h.Errors[0].Column != 4 || h.Text != "Mo 9-xyz" {
		t.Errorf("%+v", h)
	}
	if h = ask(api.HoursQuestion{Text: "Mo 09:00-13:00,12:00-18:00"}); len(h.Warnings) != 1 {
		t.Errorf("%+v", h)
	}
	short := api.Week{}
	c.problem(422, "POST", "/api/hours", api.HoursQuestion{Week: &short})
	backwards := api.Week{{{Start: 900, End: 600}}, {}, {}, {}, {}, {}, {}}
	c.problem(422, "POST", "/api/hours", api.HoursQuestion{Week: &backwards})

	var phone struct {
		E164, Reason string
		Valid        bool
	}
	c.want(200, "POST", "/api/phones", map[string]string{"phone": "(360) 555-0142", "country": "US"}, &phone)
	if phone.E164 != "+13605550142" || !phone.Valid {
		t.Errorf("%+v", phone)
	}
	c.want(200, "POST", "/api/phones", map[string]string{"phone": "12", "country": "US"}, &phone)
	if phone.Valid || phone.Reason == "" {
		t.Errorf("%+v", phone)
	}
}

var failing = visit.Faults{FailPercent: 100}

func TestADirectoryThatIsSlowAnswersLater(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	at := r.Add(t, rig.Shop("Minnow Bay"))
	rig.Must(t, r.World.Misbehave(t.Context(), failing))
	var l api.Listing
	c.want(202, "POST", "/api/listings/"+at.Location.String()+"/fernlook/search", nil, &l)
	if l.Busy != "search_asked" {
		t.Errorf("%+v", l)
	}
	c.problem(409, "POST", "/api/listings/"+at.Location.String()+"/fernlook/search", nil)
}

func TestChangesAreHeard(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	resp, err := c.http.Get(c.base + "/api/changes")
	rig.Must(t, err)
	defer resp.Body.Close()
	if resp.Header.Get("Content-Type") != "text/event-stream" {
		t.Fatalf("the stream is %q", resp.Header.Get("Content-Type"))
	}
	lines := make(chan string)
	go func() {
		s := bufio.NewScanner(resp.Body)
		for s.Scan() {
			lines <- s.Text()
		}
		close(lines)
	}()
	<-lines // retry: it listens
	at := r.Add(t, record.Record(rig.Shop("Minnow Bay")))
	for deadline := time.After(60 * time.Second); ; {
		select {
		case line := <-lines:
			if strings.HasPrefix(line, "data:") && strings.Contains(line, at.Location.String()) {
				return
			}
		case <-deadline:
			t.Fatal("nothing is heard of a new location")
		}
	}
}

func TestARecordGoesOutAndComesBackInEveryFormat(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	shop := rig.Shop("Minnow Bay")
	shop.Hours += "; 2026 Nov 26 off"
	at := r.Add(t, shop)
	path := "/api/locations/" + at.Location.String() + "/copies"
	var now api.Location
	c.want(200, "GET", "/api/locations/"+at.Location.String(), nil, &now)
	var copies []api.Copy
	c.want(200, "GET", path+"?whole=true", nil, &copies)
	if len(copies) != 6 {
		t.Fatalf("%d formats", len(copies))
	}
	for _, f := range copies {
		var back record.Record
		c.want(200, "POST", path+"/"+f.Format, map[string]string{"text": f.Text}, &back)
		if changes := record.Changes(now.Record, back); len(changes) != 0 {
			t.Errorf("%s comes back with %+v", f.Format, changes)
		}
		if (len(f.Lost) == 0) != (f.Format == "geojson") || f.Extension == "" || f.MediaType == "" {
			t.Errorf("%s: %+v", f.Format, f)
		}
		if p := c.problem(422, "POST", path+"/"+f.Format, map[string]string{"text": "nonsense"}); (*p.Fields)[0].Path != "text" {
			t.Errorf("%s: %+v", f.Format, p)
		}
	}
	c.problem(404, "POST", path+"/fax", map[string]string{"text": "x"})
}
