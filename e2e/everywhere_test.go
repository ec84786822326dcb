package e2e

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"slices"
	"testing"
	"time"

	"github.com/google/uuid"

	"uvent/core/record/record"
	"uvent/demo/paint"
	"uvent/e2e/rig"
	"uvent/httpapi/api"
	"uvent/outside/visit"
)

// traveller takes one location through one directory of a running demo: by Uvent's
// interface over HTTP, and where a person must, on the directory's own pages.
type traveller struct {
	*running
	t         *testing.T
	world     visit.World
	rec       record.Record
	location  uuid.UUID
	directory string
	used      map[string]bool // codes that were entered
}

func (w *traveller) must(err error) {
	w.t.Helper()
	rig.Must(w.t, err)
}

// send sends a request and decodes what it is answered with.
func (d *running) send(t *testing.T, method, path, kind string, body io.Reader, into any) {
	t.Helper()
	req, err := http.NewRequest(method, d.base+path, body)
	rig.Must(t, err)
	req.Header.Set("Content-Type", kind)
	resp, err := d.http.Do(req)
	rig.Must(t, err)
	defer resp.Body.Close()
	data, err := io.ReadAll(resp.Body)
	rig.Must(t, err)
	if resp.StatusCode >= 300 {
		t.Fatalf("%s %s answers %s: %s", method, path, resp.Status, data)
	}
	if into != nil {
		rig.Must(t, json.Unmarshal(data, into))
	}
}

func (d *running) ask(t *testing.T, method, path string, body, into any) {
	t.Helper()
	b, err := rig.AsWritten(body)
	rig.Must(t, err)
	d.send(t, method, path, "application/json", bytes.NewReader(b), into)
}

// takes asks for something, and tells whether it can be done as things stand.
func (d *running) takes(path string, body any) bool {
	d.t.Helper()
	b, err := rig.AsWritten(body)
	rig.Must(d.t, err)
	resp, err := d.http.Post(d.base+path, "application/json", bytes.NewReader(b))
	rig.Must(d.t, err)
	defer resp.Body.Close()
	if resp.StatusCode >= 300 && resp.StatusCode != http.StatusConflict {
		d.t.Fatalf("POST %s answers %s", path, resp.Status)
	}
	return resp.StatusCode != http.StatusConflict
}

func (d *running) post(t *testing.T, path string, body, into any) {
	t.Helper()
	d.ask(t, http.MethodPost, path, body, into)
}

// upload sends a file in a form.
func (d *running) upload(t *testing.T, path, name string, data []byte, fields map[string]string) {
	t.Helper()
	var b bytes.Buffer
	form := multipart.NewWriter(&b)
	for k, v := range fields {
		rig.Must(t, form.WriteField(k, v))
	}
	part, err := form.CreateFormFile("file", name)
	rig.Must(t, err)
	_, err = part.Write(data)
	rig.Must(t, err)
	rig.Must(t, form.Close())
	d.send(t, http.MethodPost, path, form.FormDataContentType(), &b, nil)
}

func (w *traveller) path() string {
	return "/api/listings/" + w.location.String() + "/" + w.directory
}

// listing is where it stands, once the directory has answered what it was asked.
func (w *traveller) listing() (l api.Listing) {
	w.t.Helper()
	for range 1200 {
		if w.send(w.t, http.MethodGet, w.path(), "", nil, &l); l.Busy == "" {
			return l
		}
		time.Sleep(50 * time.Millisecond)
	}
	w.t.Fatalf("%s never answers %s", w.directory, l.Busy)
	return l
}

func (w *traveller) do(verb string, body any) api.Listing {
	w.t.Helper()
	w.post(w.t, w.path()+"/"+verb, body, nil)
	return w.listing()
}

func (w *traveller) move(days int) {
	w.t.Helper()
	w.post(w.t, "/api/clock/moves", map[string]any{"to": w.now().AddDate(0, 0, days)}, nil)
}

// connected searches, claims what is there or else creates, and verifies in each way that
// is open until one works.
func (w *traveller) connected() {
	w.t.Helper()
	l := w.do("search", nil)
	for i := 0; l.Row.Strand.Control != "held"; i++ {
		if i == 4 {
			w.t.Fatalf("it is never held: %s", l.Trouble)
		}
		if j := slices.IndexFunc(l.Candidates, func(c api.Candidate) bool { return c.Verdict == "same" }); j >= 0 {
			l = w.do("claim", map[string]string{"ref": l.Candidates[j].Ref})
		} else {
			l = w.do("create", map[string]any{})
		}
	}
	// A page waits only shortly to hear what a directory offers today; who asks for a code is told then.
	refused := map[string]bool{}
	for tries := 0; l.VerifiedAt == nil; tries++ {
		i := slices.IndexFunc(l.Ways, func(x api.Way) bool { return x.Open && !refused[x.Method] })
		if i < 0 || tries == 6 {
			w.t.Fatalf("it is never verified: %s; %+v", l.Trouble, l.Ways)
		}
		method := l.Ways[i].Method
		if !w.takes(w.path()+"/codes", map[string]any{"method": method}) {
			refused[method] = true
			continue
		}
		if l = w.listing(); l.VerifiedAt != nil {
			return
		}
		a := l.Attempts[len(l.Attempts)-1]
		if !a.Live {
			w.move(14) // somebody there decides
			l = w.listing()
			continue
		}
		if a.Window != nil {
			w.move(17)
		}
		code := ""
		for i := 0; len(code) != a.Digits || w.used[code]; i++ { // it takes a moment to arrive
			if i == 500 {
				w.t.Fatalf("no code of %s comes by %s", w.directory, a.Method)
			}
			time.Sleep(20 * time.Millisecond)
			code, _ = w.world.Code(w.t.Context(), w.rec.MainPhone(), w.rec.Email, w.rec.Address.Street)
		}
		w.used[code] = true
		w.ask(w.t, http.MethodPut, w.path()+"/codes/"+a.Id, map[string]string{"code": code}, nil)
		if l = w.listing(); l.Row.Strand.Verification == "in_review" {
			w.move(14) // a second look
			l = w.listing()
		}
	}
}

// byHand fills in the directory's own form from the worksheet, and proves it there.
func (w *traveller) byHand(prove func(page string) error) {
	w.t.Helper()
	w.do("found", map[string]string{"what": "nothing"})
	var sheet api.Worksheet
	w.get(w.path()+"/worksheet", &sheet)
	form := visit.Form{}
	for _, line := range sheet.Lines {
		form[line.Value.Key] = line.Value.Text
	}
	page, err := w.world.Fill(w.t.Context(), w.directory, form)
	w.must(err)
	w.do("given", map[string]string{"page": page})
	if prove != nil {
		w.must(prove(page))
		w.do("answers", map[string]string{"what": "verified"})
	}
}

// written writes to the directory's staff and waits for them.
func (w *traveller) written(prove func(page string) error) {
	w.t.Helper()
	w.do("found", map[string]string{"what": "nothing"})
	var sheet api.Worksheet
	w.get(w.path()+"/worksheet", &sheet)
	if sheet.Letter == nil {
		w.t.Fatal("there is no letter")
	}
	l := w.do("given", map[string]string{"letter": sheet.Letter.Body})
	w.move(21)
	page := w.page()
	w.do("answers", map[string]string{"what": "taken_in", "page": page})
	if prove != nil && l.VerifiedAt == nil {
		w.must(prove(page))
		w.do("answers", map[string]string{"what": "verified"})
	}
}

// page is the public page that a directory makes for the location.
func (w *traveller) page() string { return "/" + w.directory + "/place/gannet-cycle-yard-port-sable" }

// travel takes a location from nothing to public on each of the fifteen directories of a
// running demo, by its proper way.
func travel(t *testing.T, d *running) {
	world := visit.World{Base: d.outside}

	rec := rig.Workshop("Port Sable")
	rec.Name, rec.LegalName, rec.Phones[0].E164, rec.Email, rec.Website = "Gannet Cycle Yard", "Gannet Cycle Yard LLC", "+13605550177", "hello@gannetyard.example", "https://gannetyard.example"
	var client struct{ ID uuid.UUID }
	d.post(
		t,
		"/api/clients",
		map[string]any{"name": rec.Name, "legal_name": rec.LegalName, "owner_name": "Oda Kettering", "owner_email": "oda@gannetyard.example"},
		&client,
	)
	var location struct{ ID uuid.UUID }
	d.post(t, "/api/clients/"+client.ID.String()+"/locations", rec, &location)
	d.upload(
		t,
		"/api/papers?location="+location.ID.String(),
		"bill.pdf",
		paint.Letter("Sound County Electric", "Utility bill, November 2026", rec.LegalName, rec.Address.Street),
		nil,
	)
	for i, group := range []string{"logo", "cover"} {
		d.upload(t, "/api/photos?location="+location.ID.String(), group+".jpg", encodedFront(t, uint64(i)), map[string]string{"group": group})
	}

	used := map[string]bool{}
	var been []*traveller
	connected := func(w *traveller) { w.connected() }
	proof := func(w *traveller, method string, places ...string) func(page string) error {
		return func(page string) error { return w.world.Prove(t.Context(), page, method, places...) }
	}
	for _, trip := range []struct {
		directory string
		take      func(w *traveller)
	}{
		{"fernlook", connected}, {"waywren", connected}, {"skerry", connected}, {"hithermap", connected}, {"murmurhall", connected}, {"guildbench", connected}, {"candourbox", connected},
		{"lanefolk", func(w *traveller) {
			w.byHand(proof(w, "text", w.rec.MainPhone(), w.rec.Email))
			w.must(w.world.Show(t.Context(), w.page()))
		}},
		{"sound-chamber", func(w *traveller) { w.byHand(nil) }},
		{"spanner-register", func(w *traveller) { w.byHand(proof(w, "call", w.rec.MainPhone(), w.rec.Email)) }},
		{"brasswire", func(w *traveller) { w.written(proof(w, "email", w.rec.Email)) }},
		{"old-wharf-merchants", func(w *traveller) { w.written(nil) }},
		{"plotline", func(w *traveller) {
			resp, err := w.http.Get(w.base + "/api/directories/plotline/file.csv?location=" + w.location.String())
			w.must(err)
			defer resp.Body.Close()
			file, err := io.ReadAll(resp.Body)
			w.must(err)
			w.must(w.world.HandIn(t.Context(), "plotline", file))
			w.post(t, "/api/directories/plotline/handed-in?location="+w.location.String(), nil, nil)
			w.do("answers", map[string]string{"what": "verified", "page": w.page()})
		}},
		{"roadwhistle", func(w *traveller) { // fed by Plotline
			w.move(21)
			w.do("answers", map[string]string{"what": "public", "page": w.page()})
		}},
		{"fernlook-facts", connected}, // by now it has made a panel of what Fernlook shows
	} {
		w := &traveller{d, t, world, rec, location.ID, trip.directory, used}
		trip.take(w)
		been = append(been, w)
	}
	been[0].move(16)
	for _, w := range been {
		l := w.listing()
		if l.Row.Strand.Visibility != "public" {
			l = w.do("looks", nil)
		}
		if s := l.Row.Strand; s.Control != "held" && w.directory != "roadwhistle" || s.Visibility != "public" {
			t.Errorf("on %s it ends %s, %s, %s: %s", w.directory, s.Control, s.Verification, s.Visibility, l.Trouble)
		}
		if resp, err := http.Get(l.Page); err != nil || resp.StatusCode != http.StatusOK {
			t.Errorf("on %s its public page %q: %v", w.directory, l.Page, fmt.Sprint(resp, err))
		} else {
			resp.Body.Close()
		}
	}
}
