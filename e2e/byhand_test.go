package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"

	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/e2e/rig"
	"uvent/outside/visit"
	"uvent/rulebooks"
)

// Every value for a directory that is worked by hand, by keyboard alone: copied one
// after the other, resumed after the page was loaded anew, and brought there.
func TestAWorksheetByKeyboard(t *testing.T) {
	s := open(t, "fernlook", "sound-chamber")
	rec := rig.Shop("Minnow Bay")
	rec.Words = record.Words{Short: "Bicycles, mended by the ferry.", Keywords: []string{"bicycles", "repair"}}
	rec.Socials = []record.Social{{Name: "Lanefolk", URL: "https://lanefolk.example/b/spoke", Show: true}}
	at := s.rig.Add(t, rec)
	here := ledger.Place{Location: at.Location, Directory: "sound-chamber"}
	page := s.at("/verification/l/" + at.Location.String() + "/sound-chamber")
	s.do(
		s.Open(page),
		s.See("Look for it first"),
		s.Press("Keep what I found"),
		s.See("Bring it to Sound Chamber"),
		s.Press("Open the worksheet"),
		s.See("0 of 9 values given."),
	)

	// What c copies is typed into the directory's form.
	form := visit.Form{}
	copied := func(field string) {
		s.do(s.Leave(), s.Key("c"), s.See(field+" is on the clipboard."))
	}
	for i, field := range []string{"Member", "Address", "Phone", "Email"} {
		copied(field)
		s.do(s.See(fmt.Sprintf("%d of 9 values given.", i+1)))
	}
	given := 0 // that the server has, once it does
	kept := func() bool {
		w, err := s.rig.Desk.Listings.Worksheet(t.Context(), s.rig.Who.Actor(), here)
		n := 0
		for _, l := range w.Lines {
			form[l.Key] = l.Text
			if l.Given {
				n++
			}
		}
		return err == nil && n == given
	}
	given = 3
	s.do(s.Key("k"), s.Key("x"), s.See("3 of 9 values given."), s.eventually(kept))
	// Ticks reach the directory's worksheet also when the page is left at once.
	given = 4
	s.do(
		s.Key("x"),
		s.Open(page+"?look=worksheet"),
		s.See("4 of 9 values given."),
		s.eventually(kept),
		s.Until(`document.querySelector("tr.marked th").innerText === "Website"`),
	)
	// A page that ends before it has sent them leaves them to the next one.
	given = 5
	s.do(
		s.Until(`(window.addEventListener("pagehide", e => e.stopImmediatePropagation(), true), window.dispatchEvent(new Event("offline")))`),
		s.Key("x"),
		s.See("5 of 9 values given."),
		s.Open(page+"?look=worksheet"),
		s.See("5 of 9 values given."),
		s.eventually(kept),
		s.Until(`document.querySelector("tr.marked th").innerText === "In brief"`),
	)
	for _, field := range []string{"In brief", "Keywords", "Social profiles", "Section"} {
		copied(field)
	}
	form["show socials"] = "on"
	there, err := s.rig.World.Fill(t.Context(), "sound-chamber", form)
	s.do(
		err,
		s.See("9 of 9 values given."),
		s.See("Tick “Show on profile”, or nobody sees it."),
		s.Type("Address of its page there, as far as you know it", there),
		s.Key(kb.Enter),
	)
	s.do(s.See("Gave 9 values by hand."), s.Press("Look again"), s.See("Looked: it is public."))
	if st := s.rig.State(t, here); st.Visibility != verification.Public || st.Sighting.Name != rec.Name {
		t.Errorf("%+v", st)
	}
	// What is given is told, with what was changed; the preview stands beside what shows.
	s.do(
		s.Press("What it is given"),
		s.See("of a complete listing"),
		s.See("They list under it also"),
		s.Press("Preview"),
		s.See("As it would be"),
		s.See("As it is, seen"),
	)
}

// A directory that nobody has heard of: its rulebook is dropped into a folder, and it is
// worked from the search to the page that shows, by what the screen says.
func TestADirectoryThatIsDroppedIn(t *testing.T) {
	s := open(t)
	ctx := t.Context()
	rec := rig.Shop("Minnow Bay")
	rec.Directions = "Up Tern Street from the pier, on the left."
	rec.Words = record.Words{Short: "Bicycles, mended while you wait for the ferry.", Keywords: []string{"punctures", "hire", "maps", "tea"}}
	at := s.rig.Add(t, rec)
	here := ledger.Place{Location: at.Location, Directory: "pierbook"}
	s.do(s.Open(s.at("/coverage")), s.See("1 listing wanted"))
	folder := t.TempDir()
	text, err := os.ReadFile("../docs/examples/pierbook.yaml")
	s.do(
		err,
		os.WriteFile(filepath.Join(folder, "broken.yaml"), []byte("id: broken\n"), 0o600),
		s.rig.Desk.Shelf.WithBooks(ctx, rulebooks.Folder{FS: os.DirFS(folder)}),
	)
	s.do(
		os.WriteFile(filepath.Join(folder, "pierbook.yaml"), text, 0o600),
		s.eventually(func() bool { _, err := s.rig.Desk.Shelf.Book("pierbook"); return err == nil }),
	)
	if bad := s.rig.Desk.Shelf.BadRulebooks(); len(bad) != 1 || !strings.Contains(bad[0], "broken.yaml:1") {
		t.Errorf("%q", bad)
	}

	s.do(s.Open(s.at("/directories")), s.See("2 directories"), s.See("Not in force: broken.yaml:1"))
	s.do(s.Open(s.at("/coverage/l/"+at.Location.String())), s.See("2 listings wanted"), s.Press("Pierbook", "ferry timetable"), s.See("Look for it first"))
	s.do(s.Press("Keep what I found"), s.See("Write to their staff"), s.Press("Read the letter"), s.See("Good for"))
	letter := now[string](s, `document.querySelector('[aria-label="The letter"]').value`)
	for _, line := range []string{"Shop: Spokeshave Cycle Works", "Line: Bicycles, mended while you wait for the ferry.", "Page: Wheels", "From the pier: Up Tern Street", "Open: Tue–Fri 9–18; Sat 9–16", "Good for: punctures, hire, maps"} {
		if !strings.Contains(letter, line+"\n") && !strings.Contains(letter, line) {
			t.Errorf("no %q in:\n%s", line, letter)
		}
	}
	s.do(s.Press("Send to Pierbook"), s.See("With their staff"), s.See("They answer by"))
	s.do(s.eventually(func() bool {
		list, err := s.rig.World.Arrivals(ctx, "pages@pierbook.example")
		return err == nil && len(list) == 1 && strings.Contains(list[0].Body, "Page: Wheels")
	}))
	s.rig.Move(t, 35*24*time.Hour)
	s.do(
		s.Open(s.at("/today")),
		s.See("Pierbook has not answered about Minnow Bay"),
		s.Press("Pierbook has not answered about Minnow Bay"),
		s.Press("The listing’s page"),
		s.See("They should have answered"),
	)
	s.do(
		s.Press("They have taken it in"),
		s.Press("Keep it"),
		s.See("Once verified"),
		s.Press("It shows"),
		s.eventually(func() bool { return s.rig.State(t, here).Visibility == verification.Public }),
	)
}

// A rulebook is changed as text: a mistake stands at its line, it is tried on a location,
// and saved as a version that counts at once.
func TestARulebookIsChanged(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	book, err := s.rig.Desk.Shelf.Book("fernlook")
	s.do(err, s.Open(s.at("/directories?directory=fernlook")), s.See("Fernlook’s rulebook"))
	s.do(s.paste("The rulebook", strings.Replace(book.Source, "weight: 100", "weight: 101", 1)), s.See("101 is too large; write 100 or less"), s.See("line "))
	s.do(s.paste("The rulebook", strings.Replace(book.Source, "most_characters: 80,", "most_characters: 12,", 1)), s.NotSee("is too large"))
	s.do(s.Choose("Try it on", at.Location.String()), s.See("Name has 22 characters; Fernlook takes 12."), s.See("By the rulebook in force"))
	s.do(s.Press("Save a new version"), s.See("is in force"), s.See("2 versions"))
	s.do(s.Open(s.at("/coverage?show=fit")), s.See("∅1"))
}

// paste puts a text of many lines into a field, in place of what is there.
func (s *screen) paste(label, text string) error {
	return s.Until(fmt.Sprintf(`(() => {
		const el = document.querySelector('[aria-label=' + JSON.stringify(%q) + ']')
		if (!el) return false
		Object.getOwnPropertyDescriptor(HTMLTextAreaElement.prototype, "value").set.call(el, %q)
		el.dispatchEvent(new Event("input", {bubbles: true}))
		return true
	})()`, label, text))
}

// What a directory's staff answer is read where it is plain, and laid before a person where it is not.
func TestTheirStaffWriteOnTheScreen(t *testing.T) {
	s := open(t, "brasswire")
	at := rig.On(s.rig.Add(t, rig.Shop("Minnow Bay")), "brasswire")
	who := s.rig.Who.Actor()
	rig.Must(t, s.rig.Desk.Listings.Found(t.Context(), who, at, listings.NothingThere, "", ""))
	w, err := s.rig.Desk.Listings.Worksheet(t.Context(), who, at)
	rig.Must(t, err)
	rig.Must(t, s.rig.Desk.Listings.Give(t.Context(), who, at, "", w.Letter.Body))
	page := s.at("/verification/l/" + at.Location.String() + "/brasswire")
	s.rig.Writes(t, rig.Written{From: "listings@brasswire.example", Text: "Spokeshave Cycle Works in Minnow Bay:\nunder which heading?"})
	s.do(s.Open(page), s.See("Brasswire has written"), s.See("under which heading?"), s.Press("It is no answer yet"), s.See("With their staff"))
	s.do(s.NotSee("Brasswire has written"), s.See("Has read what they wrote."))
	s.rig.Move(t, 12*24*time.Hour)
	s.do(s.Open(page), s.See("Its staff have taken it in."), s.See("Choose a way below."))
}
