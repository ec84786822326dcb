package e2e

import (
	"io"
	"log"
	"net/http"
	"net/http/httptest"
	"net/http/httputil"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"sync/atomic"
	"testing"

	"uvent/core/record/record"
	"uvent/demo/paint"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/records"
	"uvent/e2e/rig"
)

// What is missing is asked of the owner: chosen, read, sent, and it arrives.
func TestTheOwnerIsAsked(t *testing.T) {
	s := open(t)
	who := s.rig.Who.Actor()
	c, err := s.rig.Desk.Records.AddClient(
		t.Context(),
		who,
		records.ClientFacts{Name: "Spokeshave Cycle Works", OwnerName: "Dov Marsh", OwnerEmail: "dov@spokeshave.example"},
	)
	s.do(err)
	shop := rig.Shop("Minnow Bay")
	shop.Phones = []record.Phone{{E164: "+13605550142", Voice: true}}
	l, err := s.rig.Desk.Records.AddLocation(t.Context(), who, c.ID, shop)
	s.do(err)
	// From the list of records to what one of them lacks.
	s.do(
		s.Open(s.at("/record/c/"+c.ID.String())),
		s.Until(`/^\d+ things$/.test(document.querySelector("tbody td a").innerText)`),
		s.Until(`(document.querySelector("tbody td a").click(), true)`),
	)
	s.do(
		s.See("Dov Marsh has these"),
		s.See("We can fill these in"),
		s.See("Registration number"),
		s.See("for a fee"),
		s.See("opens codes by text, within minutes"),
	)
	s.do(s.See("Fernlook: text message"), s.See("Not open. No phone in the record takes text messages."))
	owners := now[int](s, `document.querySelectorAll(".wants input").length`)
	s.do(
		s.Until(`(document.querySelector("#want-licence").click(), true)`),
		s.Press("Ask for "+itoa(owners-1)),
		s.See("Hello Dov,"),
		s.See("A mobile number that can receive a code"),
	)
	if says := now[string](s, `document.querySelector(".letter").innerText`); strings.Contains(says, "licence to trade") ||
		!strings.Contains(says, "dov@spokeshave.example") {
		t.Errorf("the letter is\n%s", says)
	}
	s.do(s.Press("Send to Dov Marsh"), s.See("The list is on its way to dov@spokeshave.example."), s.See("asked by Ines Roake on Tue 24 Nov"))
	s.do(s.eventually(func() bool {
		list, err := s.rig.World.Arrivals(t.Context(), "dov@spokeshave.example")
		return err == nil && len(list) == 1 && strings.Contains(list[0].Body, "Hello Dov,") && !strings.Contains(list[0].Body, "licence to trade")
	}))
	// What is filled in is no longer missing.
	s.do(
		s.Press("Legal name"),
		s.Type("Legal name", "Spokeshave LLC"),
		s.Press("Save record"),
		s.See("The record is saved."),
		s.Press("Still missing"),
		s.NotSee("Legal name"),
	)
	if now, err := s.rig.Desk.Ledger.Location(t.Context(), l.ID); err != nil || now.Record.LegalName != "Spokeshave LLC" {
		t.Errorf("%+v, %v", now.Record, err)
	}
}

// Papers come in by the screen; what a PDF says can be read there.
func TestPapersOnTheScreen(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	dir := t.TempDir()
	bill, notes := filepath.Join(dir, "water.pdf"), filepath.Join(dir, "notes.pdf")
	s.do(os.WriteFile(bill, paint.Letter("Herons Water Service", "Utility bill", "18 Tern Street, Suite B"), 0o600), os.WriteFile(notes, []byte("notes"), 0o600))
	s.do(
		s.Open(s.at("/record/l/"+at.Location.String()+"#papers")),
		s.See("Bring in papers"),
		s.Upload("papers", bill, notes),
		s.See("Papers are PDF, JPEG, PNG, WebP, HEIC or AVIF."),
		s.See("PDF, 1 page · 10 words read"),
		s.Press("Dismiss notes.pdf"),
	)
	s.do(s.Press("PDF, 1 page · 10 words read"), s.See("18 Tern Street, Suite B"), s.Choose("It is", "phone_bill"))
	papers := func() []files.Paper {
		list, err := s.rig.Desk.Files.Papers(t.Context(), ledger.Scope{Location: &at.Location})
		s.do(err)
		return list
	}
	s.do(
		s.eventually(func() bool { return papers()[0].Kind == "phone_bill" }),
		s.Type("Issued", "10312026"),
		s.Press("Papers"),
		s.Until(`(document.activeElement.blur(), true)`),
	)
	s.do(s.eventually(func() bool { return papers()[0].Issued == "2026-10-31" }))
	s.do(
		s.Press("Remove water.pdf"),
		s.See("water.pdf is taken out."),
		s.eventually(func() bool { return len(papers()) == 0 }),
		s.Press("Undo"),
		s.See("10 words read"),
	)
	// Licences are facts of the record.
	s.do(s.Type("Licence 1, name", "Trade"), s.Type("Licence 1, until", "12312027"), s.Press("Save record"), s.See("The record is saved."))
	if l, err := s.rig.Desk.Ledger.Location(t.Context(), at.Location); err != nil || l.Record.Licences[0] != (record.Licence{Name: "Trade", Until: "2027-12-31"}) {
		t.Errorf("%+v, %v", l.Record.Licences, err)
	}
}

// A server that does not answer loses nothing of what is typed: the browser has it,
// and hands it on when there is an answer again.
func TestTypingWhileTheServerIsGone(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	// A line to the server that can be cut.
	to, err := url.Parse(s.base)
	s.do(err)
	var cut atomic.Bool
	proxy := &httputil.ReverseProxy{Rewrite: func(r *httputil.ProxyRequest) { r.SetURL(to); r.Out.Host = r.In.Host }, ErrorLog: log.New(io.Discard, "", 0)}
	line := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if cut.Load() {
			panic(http.ErrAbortHandler)
		}
		proxy.ServeHTTP(w, r)
	}))
	t.Cleanup(func() { line.CloseClientConnections(); line.Close() })
	page := strings.Replace(line.URL, "127.0.0.1", "localhost", 1) + "/record/l/" + at.Location.String()
	kept := func() string {
		body, err := s.rig.Desk.Records.Draft(t.Context(), s.rig.Who.Actor(), "location "+at.Location.String())
		s.do(err)
		return body
	}
	s.do(s.Open(page), s.See("Trading name"))
	cut.Store(true)
	s.do(s.Type("Legal name", "Typed into the void LLC"), s.Press("Save record"), s.See("Uvent does not answer. Check that it runs; nothing you typed is lost."))
	if kept() != "" {
		t.Errorf("the server has %s", kept())
	}
	cut.Store(false)
	s.do(
		s.Open(page),
		s.Until(holds("Typed into the void LLC")),
		s.See("not saved yet"),
		s.eventually(func() bool { return strings.Contains(kept(), "Typed into the void LLC") }),
	)
	s.do(s.Press("Save record"), s.See("The record is saved."), s.eventually(func() bool { return kept() == "" }))
}

// Photos are put into another order by dragging and by keys, also into another
// group; their shapes and the archive follow.
func TestPhotosInOrder(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	add := func(group, name string, seed uint64) {
		data := encodedFront(t, seed)
		_, err := s.rig.Desk.Files.AddPhoto(
			t.Context(),
			s.rig.Who.Actor(),
			ledger.Scope{Location: &at.Location},
			files.PhotoFacts{Group: group, Caption: name},
			name+".jpg",
			data,
		)
		s.do(err)
	}
	add("exterior", "first", 1)
	add("exterior", "second", 2)
	add("exterior", "third", 3)
	order := func() string {
		list, err := s.rig.Desk.Files.Photos(t.Context(), ledger.Scope{Location: &at.Location})
		s.do(err)
		var names []string
		for _, p := range list {
			names = append(names, p.Caption)
		}
		return strings.Join(names, " ")
	}
	s.do(s.Open(s.at("/record/l/"+at.Location.String()+"#photos")), s.Until(`document.querySelectorAll(".thumbs li").length === 3`))
	press := func(photo int, key string) error {
		return s.Until(
			`(() => { const b = document.querySelectorAll(".thumbs button")[` + itoa(
				photo,
			) + `]; b.focus(); b.dispatchEvent(new KeyboardEvent("keydown", {key: "` + key + `", altKey: true, bubbles: true})); return true })()`,
		)
	}
	s.do(press(2, "ArrowLeft"), s.eventually(func() bool { return order() == "first third second" }))
	s.do(
		s.Until(`document.querySelectorAll(".thumbs button")[1].title.startsWith("third")`),
		press(0, "ArrowRight"),
		s.eventually(func() bool { return order() == "third first second" }),
	)
	s.do(
		s.Until(`document.querySelectorAll(".thumbs button")[0].title.startsWith("third")`),
		s.Until(`([...document.querySelectorAll(".thumbs button")].find(b => b.title.startsWith("third")).click(), true)`),
		s.Until(holds("third")),
		s.Choose("It shows", "cover"),
	)
	s.do(s.See("cover 1200 × 675"), s.eventually(func() bool {
		list, err := s.rig.Desk.Files.Photos(t.Context(), ledger.Scope{Location: &at.Location})
		return err == nil && list[0].Kind == "cover"
	}), s.See("3 photos."))
}
