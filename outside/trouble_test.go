package outside_test

import (
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"testing"
	"time"

	"uvent/demo/paint"
	"uvent/outside/visit"
)

// bill is a paper that shows the shop where it is.
var bill = map[string]string{"kind": "utility_bill", "text": "Sound County Electric\nSpokeshave Cycle Works\n18 Tern Street"}

// request asks for something that somebody decides, and tells how it stood when they had.
func (w *world) request(directory, path string, body any, days int) (id, state, says string) {
	w.t.Helper()
	status, a := w.askOf(directory, "POST", path, strconv.Quote(fmt.Sprint(path, body)), body)
	if status != http.StatusCreated {
		w.t.Fatalf("%s %s answers %d, %+v", directory, path, status, a)
	}
	_, now := w.askOf(directory, "GET", "/requests/"+a.ID, "", nil)
	w.has(now.State, "in_review", "at first")
	w.move(w.now().AddDate(0, 0, days))
	_, now = w.askOf(directory, "GET", "/requests/"+a.ID, "", nil)
	return a.ID, now.State, now.Says
}

// letter is the newest email that reached an account with some words in it.
func (w *world) letter(words string) string {
	w.t.Helper()
	for range 50 {
		list, err := w.Arrivals(w.t.Context(), w.account)
		must(w.t, err)
		for _, a := range list {
			if strings.Contains(a.Title+a.Body, words) {
				return a.Title + "\n" + a.Body
			}
		}
		w.move(w.now())
	}
	return ""
}

// What becomes of changes, and of who asks, argues or proves.
func TestTrouble(t *testing.T) {
	behave(t, []behaviour{
		{"fernlook", "takes some changes at once, and looks at others first", func(w *world) {
			l := w.held("fernlook", shop)
			status, a := w.askOf(
				"fernlook",
				"PUT",
				"/listings/"+l.Ref,
				"edit",
				visit.Facts{"hours": "Mo-Fr 09:00-17:00", "category": "Bike shop", "name": "Spokeshave Cycle Works"},
			)
			w.has(status, http.StatusOK, a.Detail)
			w.has(fmt.Sprint(a.Taken, a.Reviewed), "[hours] [category]", "what is taken and what is looked at")
			w.has(w.factsOf("fernlook", l.Ref)["category"], "Bike repair service", "the category meanwhile")
			w.move(w.now().AddDate(0, 0, 12))
			w.has(w.factsOf("fernlook", l.Ref)["category"], "Bike shop", "the category after three business days")
		}},
		{"fernlook", "suspends for an address that is no place, and hears an appeal on its merits", func(w *world) {
			town, l := "", answer{}
			for i := 0; town == ""; i++ { // four of five meet it
				at := fmt.Sprint("Town ", i)
				l = w.held("fernlook", and(shop, visit.Facts{"street": "PO Box 12", "locality": at}))
				if _, a := w.ask("GET", "/listings/"+l.Ref, "", nil); a.Suspended != "" {
					town = at
				}
			}
			w.has(strings.Contains(w.letter("Town"), "not a place of business"), true, "the email says why")
			status, a := w.ask("POST", "/listings/"+l.Ref+"/appeals", "none", map[string]any{"text": ""})
			w.has(status, http.StatusUnprocessableEntity, a.Detail)
			argue := map[string]any{"text": "We are at 18 Tern Street.", "papers": []any{bill}}
			_, state, says := w.request("fernlook", "/listings/"+l.Ref+"/appeals", argue, 21)
			w.has(state, "refused", says)
			w.has(strings.Contains(says, "still there"), true, says)
			w.askOf("fernlook", "PUT", "/listings/"+l.Ref, "mend", visit.Facts{"street": "18 Tern Street"})
			w.move(w.now().AddDate(0, 0, 12))
			argue["text"] = "The address is the shop’s now."
			_, state, says = w.request("fernlook", "/listings/"+l.Ref+"/appeals", argue, 21)
			w.has(state, "accepted", says)
			_, a = w.ask("GET", "/listings/"+l.Ref, "", nil)
			w.has(a.Suspended, "", "suspended after it was granted")
		}},
		{"fernlook", "hears two appeals and no more, and lifts nothing that is final", func(w *world) {
			l := w.held("fernlook", shop)
			w.verified("fernlook", l, "text", "+13605550142")
			w.move(w.now().AddDate(0, 0, 14))
			must(w.t, w.Suspend(w.t.Context(), l.Ref, "unsaid", true, time.Time{}))
			status, _ := w.page(l.Page)
			w.has(status, http.StatusNotFound, "the page of one that is suspended")
			for _, text := range []string{"Why?", "Please look again."} {
				_, state, says := w.request("fernlook", "/listings/"+l.Ref+"/appeals", map[string]any{"text": text, "papers": []any{bill}}, 21)
				w.has(state, "refused", says)
				w.has(strings.Contains(says, "final"), true, says)
			}
			_, a := w.ask("POST", "/listings/"+l.Ref+"/appeals", "third", map[string]any{"text": "Once more."})
			w.has(a.Code, "no_appeals_left", a.Detail)
		}},
		{"waywren", "lets accounts act by their role", func(w *world) {
			l := w.held("waywren", shop)
			give := func(role string) {
				status, a := w.askOf("waywren", "POST", "/listings/"+l.Ref+"/people", "give "+role, map[string]string{"account": "helper@agency.example", "role": role})
				w.has(status, http.StatusOK, a.Detail)
			}
			try := func(method, path string, body any) int {
				w.account = "helper@agency.example"
				defer func() { w.account = "us@agency.example" }()
				status, _ := w.askOf("waywren", method, "/listings/"+l.Ref+path, "", body)
				return status
			}
			card := map[string]string{"method": "postcard", "to": "18 Tern Street"}
			w.has(try("PUT", "", visit.Facts{"phone": "+13605550199"}), http.StatusForbidden, "a stranger changes it")
			give("editor")
			w.has(try("PUT", "", visit.Facts{"phone": "+13605550199"}), http.StatusOK, "an editor changes it")
			w.has(try("POST", "/verifications", card), http.StatusForbidden, "an editor verifies")
			give("manager")
			w.has(try("POST", "/verifications", card), http.StatusCreated, "a manager verifies")
			w.has(try("POST", "/people", map[string]string{"account": "x@agency.example", "role": "editor"}), http.StatusForbidden, "a manager gives roles")
			_, a := w.askOf("waywren", "GET", "/listings/"+l.Ref+"/people", "", nil)
			w.has(fmt.Sprint(a.Roles), "[{helper@agency.example manager}]", "who has a role")
		}},
		{"candourbox", "has a former agency asked, and its own people decide where that does not answer", func(w *world) {
			said := map[string]string{}
			for i := range 10 {
				ref, err := w.Place(w.t.Context(), "candourbox", "maps@northlightmedia.example", and(shop, visit.Facts{"locality": fmt.Sprint("Town ", i)}))
				must(w.t, err)
				id, state, says := w.request("candourbox", "/listings/"+ref+"/access", nil, 14)
				said[state] = says
				if state == "accepted" {
					_, l := w.askOf("candourbox", "GET", "/listings/"+ref, "", nil)
					w.has(l.Holder, "you", "holder after it was handed over")
					continue
				}
				_, state, says = w.request("candourbox", "/requests/"+id+"/escalate", map[string]any{"paper": bill}, 14)
				w.has(state, "accepted", says)
			}
			w.has(len(said), 3, fmt.Sprint("some hand over, some say no, some never answer: ", said))
		}},
		{"fernlook-facts", "takes suggestions with public evidence, and a reviewer answers by email", func(w *world) {
			ref, err := w.Place(w.t.Context(), "fernlook-facts", "", shop)
			must(w.t, err)
			w.askOf("fernlook-facts", "POST", "/listings/"+ref+"/claim", "", nil)
			status, _ := w.askOf("fernlook-facts", "PUT", "/listings/"+ref, "edit", visit.Facts{"phone": "+13605550199"})
			w.has(status, http.StatusConflict, "changing it")
			wish := map[string]any{"facts": map[string]string{"founded": "1998"}, "evidence": "https://blog.example/history"}
			_, state, says := w.request("fernlook-facts", "/listings/"+ref+"/suggestions", wish, 14)
			w.has(state, "refused", says)
			w.has(strings.Contains(w.letter("Your suggestion"), "does not show it"), true, "the reviewer’s email")
			wish["evidence"] = "https://spokeshave.example/about"
			_, state, says = w.request("fernlook-facts", "/listings/"+ref+"/suggestions", wish, 14)
			w.has(state, "accepted", says)
			w.has(w.factsOf("fernlook-facts", ref)["founded"], "1998", "what the panel shows")
		}},
		{"fernlook", "merges a second listing of the same business into the first", func(w *world) {
			l := w.held("fernlook", shop)
			alike, err := w.Place(w.t.Context(), "fernlook", "", and(shop, visit.Facts{"name": "Spokeshave Cycles", "street": "2 Old Quay"}))
			must(w.t, err)
			stranger, err := w.Place(w.t.Context(), "fernlook", "", visit.Facts{"name": "Quay Wash", "street": "3 Kelp Lane", "locality": "Minnow Bay"})
			must(w.t, err)
			_, state, says := w.request("fernlook", "/listings/"+l.Ref+"/duplicates", map[string]string{"other": stranger}, 12)
			w.has(state, "refused", says)
			_, state, says = w.request("fernlook", "/listings/"+l.Ref+"/duplicates", map[string]string{"other": alike}, 12)
			w.has(state, "accepted", says)
			_, found := w.ask("POST", "/search", "", map[string]string{"phone": "+13605550142"})
			w.has(len(found.Listings), 1, "listings after they were merged")
		}},
		{"fernlook", "takes a video, and refuses one that is too long or shows too little", func(w *world) {
			for _, c := range []struct {
				seconds uint32
				shows   []string
				says    string
			}{
				{50, []string{"The street and its number", "The sign", "Inside, past the staff door"}, "accepted "},
				{200, []string{"street", "sign", "inside"}, "refused The video takes 200 seconds; we look at 120."},
				{50, []string{"street", "inside"}, "refused The video does not show the sign."},
			} {
				l := w.offering("fernlook", "video")
				status, a := w.ask(
					"POST",
					"/listings/"+l.Ref+"/verifications",
					"",
					map[string]any{"method": "video", "video": map[string]any{"name": "take.mp4", "data": paint.Film(c.seconds), "shows": c.shows}},
				)
				w.has(status, http.StatusCreated, a.Detail)
				w.move(w.now().AddDate(0, 0, 12))
				w.has(w.stands("fernlook", a.ID), c.says, "what is said")
			}
		}},
	})
}

// offering is a new listing to which a way to verify is offered.
func (w *world) offering(directory, method string) answer {
	w.t.Helper()
	for i := range 40 {
		l := w.held(directory, and(shop, visit.Facts{"locality": fmt.Sprint("Town ", i, w.now())}))
		_, offers := w.askOf(directory, "GET", "/listings/"+l.Ref+"/offers", "", nil)
		if strings.Contains(strings.Join(offers.Methods, " "), method) {
			return l
		}
	}
	w.t.Fatal("nobody is offered it")
	return answer{}
}

// What businesses say through their listings.
func TestSpeaking(t *testing.T) {
	say := func(w *world, directory, ref string, body map[string]any) (int, answer) {
		return w.askOf(directory, "POST", "/listings/"+ref+"/posts", fmt.Sprint(time.Now(), body), body)
	}
	behave(t, []behaviour{
		{"murmurhall", "takes three posts a month within a radius, and counts the people", func(w *world) {
			must(
				w.t,
				w.People(
					w.t.Context(),
					[]visit.Town{
						{Town: "Minnow Bay", Latitude: 48.10, Longitude: -122.60, People: 5200},
						{Town: "Quillcote", Latitude: 48.20, Longitude: -122.60, People: 11000},
						{Town: "Far Away", Latitude: 49.90, Longitude: -122.60, People: 90000},
					},
				),
			)
			l := w.held("murmurhall", and(shop, visit.Facts{"page_name": "spokeshave"}))
			post := map[string]any{"kind": "post", "title": "Winter check", "radius_kilometres": 5, "button": "call"}
			for left := 2; left >= 0; left-- {
				status, a := say(w, "murmurhall", l.Ref, post)
				w.has(status, http.StatusCreated, a.Detail)
				w.has(a.Left, left, "posts left")
				w.has(a.People, 5200, "people within 5 km")
			}
			_, a := say(w, "murmurhall", l.Ref, post)
			w.has(a.Code, "quota", a.Detail)
			post["radius_kilometres"] = 60
			_, a = say(w, "murmurhall", l.Ref, post)
			w.has(a.Code, "too_far", a.Detail)
			w.move(w.now().AddDate(0, 0, 8)) // December
			post["radius_kilometres"] = 20
			_, a = say(w, "murmurhall", l.Ref, post)
			w.has(a.People, 16200, "people within 20 km")
			post["button"] = "order"
			_, a = say(w, "murmurhall", l.Ref, post)
			w.has(a.Code, "no_button", a.Detail)
		}},
		{"fernlook", "shows posts on the listing’s page", func(w *world) {
			l := w.held("fernlook", shop)
			w.verified("fernlook", l, "text", "+13605550142")
			w.move(w.now().AddDate(0, 0, 14))
			say(w, "fernlook", l.Ref, map[string]any{"kind": "post", "title": "Winter check", "text": "Lights and brakes, while you wait."})
			_, page := w.page(l.Page)
			w.has(strings.Contains(page, "Winter check") && strings.Contains(page, "while you wait"), true, "the post")
		}},
		{"skerry", "takes events up to three weeks ahead", func(w *world) {
			l := w.held("skerry", and(shop, visit.Facts{"legal_name": "Spokeshave Cycle Works LLC", "registration": "604 117 220"}))
			event := map[string]any{"kind": "event", "title": "Repair evening", "until": "2026-12-15"}
			status, a := say(w, "skerry", l.Ref, event)
			w.has(status, http.StatusCreated, a.Detail)
			event["until"] = "2026-12-16"
			_, a = say(w, "skerry", l.Ref, event)
			w.has(a.Code+" "+a.Detail, "too_long An event ends within 21 days.", "one of 22 days")
			_, a = say(w, "skerry", l.Ref, map[string]any{"kind": "offer", "title": "Half price", "percent": 50})
			w.has(a.Code, "not_offered", "an offer")
		}},
		{"candourbox", "takes offers up to a ceiling, and has reviews to read", func(w *world) {
			l := w.held("candourbox", shop)
			status, a := say(w, "candourbox", l.Ref, map[string]any{"kind": "offer", "title": "Chains", "percent": 30})
			w.has(status, http.StatusCreated, a.Detail)
			_, a = say(w, "candourbox", l.Ref, map[string]any{"kind": "offer", "title": "Chains", "percent": 31})
			w.has(a.Code, "too_much", a.Detail)
			must(w.t, w.Opinion(w.t.Context(), l.Ref, "Rue A.", 4, "Mended while I waited.", w.now()))
			_, a = w.askOf("candourbox", "GET", "/listings/"+l.Ref+"/reviews", "", nil)
			w.has(fmt.Sprint(a.Reviews), "[{Rue A. Mended while I waited.}]", "what is read")
			w.verified("candourbox", l, "text", "+13605550142")
			w.move(w.now().AddDate(0, 0, 12))
			_, page := w.page(l.Page)
			w.has(strings.Contains(page, "Mended while I waited."), true, "the review on the page")
		}},
		{"guildbench", "shows one chosen button", func(w *world) {
			firm := visit.Facts{"name": "Spokeshave Cycle Works", "attested_by": "Ines Okafor", "button": "call"}
			_, a := w.askOf("guildbench", "POST", "/listings", "", firm)
			w.has(a.Code+" "+a.Detail, "no_button Our buttons are: visit, contact, join.", "a button that it has not")
			l := w.held("guildbench", and(firm, visit.Facts{"button": "contact"}))
			w.verified("guildbench", l, "email", "shop@spokeshave.example")
			w.move(w.now().AddDate(0, 0, 3))
			_, page := w.page(l.Page)
			w.has(strings.Count(page, "data-button="), 1, "buttons")
		}},
	})
}
