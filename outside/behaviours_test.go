package outside_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"maps"
	"net"
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/wneessen/go-mail"

	"uvent/core/fact/photo"
	"uvent/core/rule/reading"
	"uvent/outside/visit"
)

func (w *world) has(got, want any, what string) {
	w.t.Helper()
	if got != want {
		w.t.Errorf("%s: %v, want %v", what, got, want)
	}
}

func and(f visit.Facts, more visit.Facts) visit.Facts {
	out := maps.Clone(f)
	maps.Copy(out, more)
	return out
}

// held is a new listing on a directory, held by us.
func (w *world) held(directory string, f visit.Facts) answer {
	w.t.Helper()
	for i := range 2 { // a form may fail once
		status, a := w.askOf(directory, "POST", "/listings", fmt.Sprint("make ", f["name"], f["locality"]), f)
		if status == http.StatusCreated {
			return a
		}
		if status != http.StatusServiceUnavailable || i > 0 {
			w.t.Fatalf("%s answers %d, %+v", directory, status, a)
		}
	}
	return answer{}
}

// verified proves a listing by a code, and lets the directory publish it.
func (w *world) verified(directory string, l answer, method, to string) {
	w.t.Helper()
	status, sent := w.askOf(directory, "POST", "/listings/"+l.Ref+"/verifications", "", map[string]string{"method": method, "to": to})
	if status != http.StatusCreated {
		w.t.Fatalf("%s answers %d, %+v", directory, status, sent)
	}
	w.move(w.now()) // lets what is due now arrive
	code, err := w.Code(w.t.Context(), to)
	must(w.t, err)
	if status, a := w.askOf(directory, "POST", "/verifications/"+sent.ID+"/code", "", map[string]string{"code": code}); status != http.StatusOK {
		w.t.Fatalf("%s answers %d, %+v", directory, status, a)
	}
}

// business is a shop with all that some directory asks for.
var business = and(
	shop,
	visit.Facts{"legal_name": "Spokeshave Cycle Works LLC", "registration": "604 117 220", "texts": map[string]string{"long": "We mend bicycles."},
		"socials": []map[string]any{{"name": "Murmurhall", "url": "https://murmurhall.example/spokeshave", "show": true}}},
)

func TestBehavioursOfFernlook(t *testing.T) {
	behave(t, []behaviour{
		{"fernlook", "offers not every way for every listing", func(w *world) {
			different := map[int]bool{}
			for _, town := range []string{"Port Sable", "Quillcote", "Minnow Bay", "Three Herons", "Larkspur Falls", "Cinder Point", "Fennick", "Saltgrass", "Alder Landing", "Upper Moraine", "Tern Street Flats", "A", "B", "C", "D", "E"} {
				_, l := w.ask("POST", "/listings", "", and(shop, visit.Facts{"locality": town}))
				_, offers := w.ask("GET", "/listings/"+l.Ref+"/offers", "", nil)
				different[len(offers.Methods)] = true
			}
			w.has(len(different) > 1, true, "different numbers of ways")
		}},
		{"fernlook", "shows nothing until it is verified", func(w *world) {
			l := w.held("fernlook", shop)
			w.move(w.now().AddDate(0, 1, 0))
			status, _ := w.page(l.Page)
			w.has(status, http.StatusNotFound, "the page of one that is not verified")
		}},
		{"fernlook", "shows a logo in a circle", func(w *world) {
			l := w.held("fernlook", shop)
			w.verified("fernlook", l, "text", "+13605550142")
			w.photo("fernlook", l.Ref, "a", "logo", "")
			w.move(w.now().AddDate(0, 0, 14))
			_, page := w.page(l.Page)
			w.has(strings.Contains(page, `data-place="logo" class="round"`), true, "a round logo")
		}},
	})
}

func TestBehavioursOfWaywren(t *testing.T) {
	behave(t, []behaviour{
		{"waywren", "calls where it knows the place, writes or asks for papers where it does not", func(w *world) {
			l := w.held("waywren", shop)
			_, offers := w.askOf("waywren", "GET", "/listings/"+l.Ref+"/offers", "", nil)
			w.has(strings.Join(offers.Methods, " "), "papers postcard", "ways for a new place")
			known, err := w.Place(w.t.Context(), "waywren", "", and(shop, visit.Facts{"locality": "Quillcote"}))
			must(w.t, err)
			w.askOf("waywren", "POST", "/listings/"+known+"/claim", "", nil)
			_, offers = w.askOf("waywren", "GET", "/listings/"+known+"/offers", "", nil)
			w.has(strings.Join(offers.Methods, " "), "call", "ways for a known place")
		}},
		{"waywren", "lists nobody who only goes to customers", func(w *world) {
			status, a := w.askOf("waywren", "POST", "/listings", "", and(shop, visit.Facts{"hide_street": true}))
			w.has(status, http.StatusUnprocessableEntity, "creating it")
			w.has(a.Code, "not_listed", "creating it")
		}},
		{"waywren", "takes up to nine business days from the code to the public", func(w *world) {
			known, err := w.Place(w.t.Context(), "waywren", "", shop)
			must(w.t, err)
			_, l := w.askOf("waywren", "POST", "/listings/"+known+"/claim", "", nil)
			w.verified("waywren", l, "call", "+13605550142")
			w.move(w.now().Add(12 * time.Hour))
			status, _ := w.page(l.Page)
			w.has(status, http.StatusNotFound, "the page on the evening")
			w.move(w.now().AddDate(0, 0, 16))
			status, page := w.page(l.Page)
			w.has(status, http.StatusOK, "the page after nine business days")
			seen := reading.Read([]byte(page), reading.In{}).Sighting // microdata
			w.has(seen.Name+seen.Address.Street+seen.Phone, "Spokeshave Cycle Works18 Tern Street+13605550142", "what is read")
		}},
		{"waywren", "takes papers for a new place, and looks at them for up to six days", func(w *world) {
			l := w.held("waywren", shop)
			paper := map[string]any{
				"method": "papers",
				"paper":  map[string]string{"kind": "utility_bill", "text": "Sound County Electric. Spokeshave Cycle Works, 81 Tern Street"},
			}
			ask := func() string {
				status, a := w.askOf("waywren", "POST", "/listings/"+l.Ref+"/verifications", "", paper)
				w.has(status, http.StatusCreated, a.Detail)
				return a.ID
			}
			id := ask()
			w.has(w.stands("waywren", id), "in_review ", "at first")
			w.move(w.now().AddDate(0, 0, 7))
			w.has(w.stands("waywren", id), "refused The paper shows another address.", "after six days")
			paper["paper"] = map[string]string{"kind": "utility_bill", "text": "Sound County Electric\nSpokeshave Cycle Works\n18 Tern Street"}
			id = ask()
			w.move(w.now().AddDate(0, 0, 7))
			w.has(w.stands("waywren", id), "accepted ", "a good paper after six days")
			w.move(w.now().AddDate(0, 0, 16))
			status, _ := w.page(l.Page)
			w.has(status, http.StatusOK, "its page")
		}},
	})
}

func TestBehavioursOfSkerry(t *testing.T) {
	behave(t, []behaviour{
		{"skerry", "wants the legal name and the registration number first", func(w *world) {
			status, a := w.askOf("skerry", "POST", "/listings", "", shop)
			w.has(status, http.StatusUnprocessableEntity, "creating it without")
			w.has(strings.Contains(a.Detail, "legal name"), true, a.Detail)
			known, err := w.Place(w.t.Context(), "skerry", "", shop)
			must(w.t, err)
			status, _ = w.askOf("skerry", "POST", "/listings/"+known+"/claim", "", visit.Facts{"legal_name": "Spokeshave LLC"})
			w.has(status, http.StatusUnprocessableEntity, "claiming it without the number")
			status, _ = w.askOf("skerry", "POST", "/listings/"+known+"/claim", "", visit.Facts{"legal_name": "Spokeshave LLC", "registration": "1"})
			w.has(status, http.StatusOK, "claiming it with both")
		}},
		{"skerry", "copies from Fernlook, and only part", func(w *world) {
			l := w.held("fernlook", business)
			copyIt := func() (int, answer) {
				return w.askOf("skerry", "POST", "/copies", "", map[string]any{"from": "fernlook", "page": l.Page, "facts": business})
			}
			_, a := copyIt()
			w.has(a.Code, "not_yours", "copying what is not verified")
			w.verified("fernlook", l, "text", "+13605550142")
			status, a := copyIt()
			w.has(status, http.StatusCreated, "copying")
			raw := w.factsOf("skerry", a.Ref)
			w.has(raw["name"], "Spokeshave Cycle Works", "the name")
			for _, lost := range []string{"website", "category"} {
				w.has(raw[lost], "", lost+" that is left behind")
			}
			w.has(raw["socials"], nil, "socials that are left behind")
			status, _ = w.askOf("murmurhall", "POST", "/copies", "", map[string]any{"from": "fernlook", "page": l.Page})
			w.has(status, http.StatusConflict, "copying to one that does not")
		}},
		{"skerry", "counts a logo only when it is marked as one", func(w *world) {
			l := w.held("skerry", business)
			w.verified("skerry", l, "email", "shop@spokeshave.example")
			w.photo("skerry", l.Ref, "a", "logo", "")
			w.photo("skerry", l.Ref, "b", "cover", "")
			w.move(w.now().AddDate(0, 0, 14))
			_, page := w.page(l.Page)
			w.has(strings.Count(page, "data-place"), 1, "photos with a logo that is not marked")
			w.photo("skerry", l.Ref, "a", "logo", "Logo")
			_, page = w.page(l.Page)
			w.has(strings.Count(page, "data-place"), 2, "photos with one that is")
		}},
	})
}

func TestBehavioursOfHithermap(t *testing.T) {
	behave(t, []behaviour{
		{"hithermap", "verifies by a card at once", func(w *world) {
			l := w.held("hithermap", shop)
			status, a := w.askOf("hithermap", "POST", "/listings/"+l.Ref+"/verifications", "", map[string]string{"method": "card"})
			w.has(status, http.StatusCreated, a.Detail)
			w.has(w.stands("hithermap", a.ID), "accepted ", "a card")
		}},
		{"hithermap", "loses some photos and blurs others, and says nothing", func(w *world) {
			l := w.held("hithermap", shop)
			w.verified("hithermap", l, "call", "+13605550142")
			for i := range 24 {
				w.photo("hithermap", l.Ref, fmt.Sprint(i), "interior", "")
			}
			w.move(w.now().AddDate(0, 0, 14))
			_, page := w.page(l.Page)
			shown := regexp.MustCompile(`/hithermap/photo/[^"]+`).FindAllString(page, -1)
			blurred := 0
			for _, at := range shown {
				_, data := w.page(at)
				img, err := jpeg.Decode(strings.NewReader(data))
				must(w.t, err)
				if photo.Sharpness(img) < photo.Blurred {
					blurred++
				}
			}
			w.has(len(shown) > 8 && len(shown) < 24, true, fmt.Sprint("some stick: ", len(shown)))
			w.has(blurred > 1 && blurred < len(shown), true, fmt.Sprint("some are blurred: ", blurred))
		}},
		{"hithermap", "fails now and then, and goes on when it is sent again", func(w *world) {
			failed := 0
			for i := range 40 {
				key := fmt.Sprint("hike ", i)
				status, _ := w.askOf("hithermap", "POST", "/listings", key, and(shop, visit.Facts{"name": "Spokeshave " + key}))
				if status == http.StatusServiceUnavailable {
					failed++
					status, _ = w.askOf("hithermap", "POST", "/listings", key, and(shop, visit.Facts{"name": "Spokeshave " + key}))
				}
				w.has(status, http.StatusCreated, "creating")
			}
			w.has(failed > 3 && failed < 25, true, "some first tries fail")
		}},
	})
}

func TestBehavioursOfFernlookFacts(t *testing.T) {
	behave(t, []behaviour{
		{"fernlook-facts", "has somebody look into a claim", func(w *world) {
			said := map[string]bool{}
			for i := range 12 {
				ref, err := w.Place(w.t.Context(), "fernlook-facts", "", and(shop, visit.Facts{"locality": fmt.Sprint("Town ", i)}))
				must(w.t, err)
				_, l := w.askOf("fernlook-facts", "POST", "/listings/"+ref+"/claim", "", nil)
				_, a := w.askOf("fernlook-facts", "POST", "/listings/"+l.Ref+"/verifications", "", map[string]string{"method": "staff"})
				w.move(w.now().AddDate(0, 0, 14))
				said[strings.Fields(w.stands("fernlook-facts", a.ID))[0]] = true
			}
			w.has(said["accepted"] && said["refused"], true, fmt.Sprint("some yes, some no: ", said))
		}},
		{"fernlook-facts", "makes a panel by itself of what Fernlook shows", func(w *world) {
			status, _ := w.askOf("fernlook-facts", "POST", "/listings", "", shop)
			w.has(status, http.StatusConflict, "creating a panel")
			l := w.held("fernlook", shop)
			w.verified("fernlook", l, "text", "+13605550142")
			w.move(w.now().AddDate(0, 0, 30))
			_, found := w.askOf("fernlook-facts", "POST", "/search", "", map[string]string{"phone": "+13605550142"})
			w.has(len(found.Listings), 1, "panels after three weeks")
		}},
		{"fernlook-facts", "claims by an email", func(w *world) {
			ref, err := w.Place(w.t.Context(), "fernlook-facts", "", shop)
			must(w.t, err)
			_, l := w.askOf("fernlook-facts", "POST", "/listings/"+ref+"/claim", "", nil)
			w.verified("fernlook-facts", l, "email", "shop@spokeshave.example")
		}},
	})
}

func TestBehavioursOfMurmurhall(t *testing.T) {
	behave(t, []behaviour{
		{"murmurhall", "takes a second look now and then", func(w *world) {
			looked, all := 0, 16
			for i := range all {
				l := w.held("murmurhall", and(business, visit.Facts{"locality": fmt.Sprint("Town ", i), "page_name": fmt.Sprint("spokeshave ", i)}))
				_, sent := w.askOf("murmurhall", "POST", "/listings/"+l.Ref+"/verifications", "", map[string]string{"method": "text", "to": "+13605550142"})
				code, err := w.Code(w.t.Context(), "+13605550142")
				must(w.t, err)
				w.askOf("murmurhall", "POST", "/verifications/"+sent.ID+"/code", "", map[string]string{"code": code})
				if w.stands("murmurhall", sent.ID) == "in_review " {
					looked++
					w.move(w.now().AddDate(0, 0, 15))
				}
				w.has(w.stands("murmurhall", sent.ID), "accepted ", "in the end")
				w.move(w.now().Add(time.Minute))
			}
			w.has(looked > 0 && looked < all/2, true, fmt.Sprint("second looks: ", looked))
		}},
		{"murmurhall", "is public within a day of a text, and hides the street", func(w *world) {
			l := w.held("murmurhall", and(business, visit.Facts{"hide_street": true}))
			w.verified("murmurhall", l, "text", "+13605550142")
			w.move(w.now().AddDate(0, 0, 2))
			status, page := w.page(l.Page)
			w.has(status, http.StatusOK, "the page")
			w.has(strings.Contains(page, "Tern Street") || !strings.Contains(page, "Minnow Bay"), false, "the town without the street")
		}},
	})
}

func TestBehavioursOfGuildbench(t *testing.T) {
	behave(t, []behaviour{
		{"guildbench", "asks for no place, and for somebody who attests", func(w *world) {
			firm := visit.Facts{"name": "Spokeshave Cycle Works", "website": "https://spokeshave.example", "industry": "Bicycles"}
			status, a := w.askOf("guildbench", "POST", "/listings", "", firm)
			w.has(status, http.StatusUnprocessableEntity, "a page for which nobody signs")
			w.has(a.Code, "not_attested", a.Detail)
			l := w.held("guildbench", and(firm, visit.Facts{"attested_by": "Ines Okafor"}))
			w.has(l.Holder, "you", "holder")
		}},
		{"guildbench", "gives each page address once", func(w *world) {
			firm := visit.Facts{"name": "Spokeshave Cycle Works", "page_name": "spokeshave", "attested_by": "Ines Okafor"}
			l := w.held("guildbench", firm)
			w.has(l.Page, "/guildbench/place/spokeshave", "its page")
			status, a := w.askOf("guildbench", "POST", "/listings", "another", and(firm, visit.Facts{"locality": "Quillcote"}))
			w.has(status, http.StatusConflict, "the same name for another")
			w.has(a.Code+": "+a.Detail, "taken: The page address spokeshave is taken. Choose another.", "what it says")
		}},
	})
}

func TestBehavioursOfCandourbox(t *testing.T) {
	behave(t, []behaviour{
		{"candourbox", "is held by a former agency", func(w *world) {
			ref, err := w.Place(w.t.Context(), "candourbox", "maps@northlightmedia.example", shop)
			must(w.t, err)
			status, a := w.askOf("candourbox", "POST", "/listings/"+ref+"/claim", "", nil)
			w.has(status, http.StatusConflict, "claiming it")
			w.has(a.HeldBy, "ma…@northlightmedia.example", "held by")
		}},
	})
}

func TestBehavioursOfLanefolk(t *testing.T) {
	behave(t, []behaviour{
		{"lanefolk", "is worked on its own pages, which say what is missing", func(w *world) {
			form := visit.Form{
				"name":     "Spokeshave Cycle Works",
				"category": "Bikes",
				"address":  "18 Tern Street, Minnow Bay, WA 98990",
				"phone":    "(360) 555-0142",
				"email":    "shop@spokeshave.example",
				"hours":    "Tue–Fri 9–18",
			}
			_, err := w.Fill(w.t.Context(), "lanefolk", form)
			w.has(err != nil && strings.Contains(err.Error(), "Tell the neighbours is missing"), true, "what it says")
			form["text.medium"] = strings.Repeat("x", 501)
			_, err = w.Fill(w.t.Context(), "lanefolk", form)
			w.has(err != nil && strings.Contains(err.Error(), "has 501 characters; we take 500"), true, "what it says")
			form["text.medium"] = "We mend bicycles."
			form["keywords"] = "bicycles, repairs, children, winter, tools"
			_, err = w.Fill(w.t.Context(), "lanefolk", form)
			w.has(err != nil && strings.Contains(err.Error(), "Topics: we take 4"), true, "what it says of five topics")
			form["keywords"] = "bicycles, repairs, children, winter"
			page, err := w.Fill(w.t.Context(), "lanefolk", form)
			must(w.t, err)
			must(w.t, w.Prove(w.t.Context(), page, "text", "+13605550142"))
			w.move(w.now().AddDate(0, 0, 3))
			status, _ := w.page(page)
			w.has(status, http.StatusNotFound, "its page before it is said to be ready")
			must(w.t, w.Show(w.t.Context(), page))
			status, text := w.page(page)
			w.has(status, http.StatusOK, "its page")
			seen := reading.Read([]byte(text), reading.In{}).Sighting // marked up in no way
			w.has(
				seen.Name+"|"+seen.Address.Line()+"|"+seen.Phone+"|"+seen.Category+"|"+seen.Hours,
				"Spokeshave Cycle Works|18 Tern Street, Minnow Bay, WA 98990|+13605550142|Bikes|Tu-Fr 09:00-18:00",
				"what is read",
			)
		}},
	})
}

func TestBehavioursOfSoundChamber(t *testing.T) {
	behave(t, []behaviour{
		{"sound-chamber", "is live at once, and shows profiles only where the switch is ticked", func(w *world) {
			form := visit.Form{
				"name":     "Spokeshave",
				"address":  "18 Tern Street, Minnow Bay, WA 98990",
				"phone":    "(360) 555-0142",
				"keywords": "bicycles, repair",
				"socials":  "https://murmurhall.example/spokeshave",
			}
			page, err := w.Fill(w.t.Context(), "sound-chamber", form)
			must(w.t, err)
			status, text := w.page(page)
			w.has(status, http.StatusOK, "its page at once")
			w.has(strings.Contains(text, "murmurhall.example"), false, "a profile without the tick")
			form["name"], form["show socials"] = "Spokeshave Two", "on"
			page, err = w.Fill(w.t.Context(), "sound-chamber", form)
			must(w.t, err)
			_, text = w.page(page)
			w.has(strings.Contains(text, "murmurhall.example"), true, "a profile with the tick")
		}},
		{"sound-chamber", "takes the member file unless it is told otherwise", func(w *world) {
			phones := ""
			for _, keep := range []string{"", "on"} {
				form := visit.Form{
					"name":      "Spokeshave " + keep,
					"address":   "18 Tern Street, Minnow Bay, WA 98990",
					"phone":     "(360) 555-0142",
					"keywords":  "bicycles",
					"show keep": keep,
				}
				page, err := w.Fill(w.t.Context(), "sound-chamber", form)
				must(w.t, err)
				w.handIn(
					"store_code,name,street,locality,region,postal_code,country,phone\nSCW-" + keep + ",Spokeshave " + keep + ",18 Tern Street,Minnow Bay,WA,98990,US,(360) 555-0124\n",
				)
				w.move(w.now().AddDate(0, 0, 34))
				_, text := w.page(page)
				seen := reading.Read([]byte(text), reading.In{}).Sighting
				phones += seen.Phone + " "
			}
			w.has(phones, "+13605550124 +13605550142 ", "the phone without and with the tick")
		}},
	})
}

func TestBehavioursOfSpannerRegister(t *testing.T) {
	behave(t, []behaviour{
		{"spanner-register", "checks a licence, calls with four digits, or takes a phone bill", func(w *world) {
			form := visit.Form{
				"name":      "Spokeshave",
				"category":  "All repairs",
				"address":   "18 Tern Street, Minnow Bay, WA 98990",
				"phone":     "(360) 555-0142",
				"offerings": "Puncture: 18",
			}
			_, err := w.Fill(w.t.Context(), "spanner-register", form)
			w.has(err != nil && strings.Contains(err.Error(), "Licence is missing"), true, "what it says")
			form["licence"] = "SCBT-40712"
			page, err := w.Fill(w.t.Context(), "spanner-register", form)
			must(w.t, err)
			must(w.t, w.Prove(w.t.Context(), page, "call", "+13605550142"))
			calls, err := w.Arrivals(w.t.Context(), "+13605550142")
			must(w.t, err)
			w.has(len(visit.CodeIn(calls[0].Body)), 4, "digits")
			form["name"] = "Spokeshave Two"
			page, err = w.Fill(w.t.Context(), "spanner-register", form)
			must(w.t, err)
			must(w.t, w.SendPaper(w.t.Context(), page, "Sound Telephone. Spokeshave Two, 18 Tern Street, (360) 555-0142"))
			w.move(w.now().AddDate(0, 0, 16))
			status, _ := w.page(page)
			w.has(status, http.StatusOK, "the page of one that sent its phone bill")
		}},
	})
}

func TestBehavioursOfBrasswire(t *testing.T) {
	behave(t, []behaviour{
		{"brasswire", "is changed by its staff, who answer days later by email", func(w *world) {
			w.write(
				"listings@brasswire.example",
				"Dear colleagues,\n\nListed as: Spokeshave Cycle Works\nHeading: Bicycles, repairing\nAddress: 18 Tern Street, Minnow Bay, WA 98990\nTelephone: (360) 555-0142\nHours as printed: Tue to Fri, nine to six\n\nKind regards\nInes",
			)
			w.move(w.now().AddDate(0, 0, 5)) // three business days and a holiday
			answers, err := w.Arrivals(w.t.Context(), "us@agency.example")
			must(w.t, err)
			w.has(len(answers), 0, "answers after three business days")
			w.move(w.now().AddDate(0, 0, 6))
			answers, err = w.Arrivals(w.t.Context(), "us@agency.example")
			must(w.t, err)
			if len(answers) != 1 || !strings.Contains(answers[0].Body, "/brasswire/place/spokeshave-cycle-works-minnow-bay") {
				w.t.Fatalf("%+v", answers)
			}
			status, _ := w.page("/brasswire/place/spokeshave-cycle-works-minnow-bay")
			w.has(status, http.StatusNotFound, "its page before it is confirmed by email")
			w.confirm("/brasswire/place/spokeshave-cycle-works-minnow-bay", "us@agency.example")
			w.move(w.now().AddDate(0, 0, 4))
			status, text := w.page("/brasswire/place/spokeshave-cycle-works-minnow-bay")
			w.has(status, http.StatusOK, "its page")
			w.has(strings.Contains(text, "nine to six"), true, "hours in words")
			w.write("listings@brasswire.example", "please put us in")
			w.move(w.now().AddDate(0, 0, 12))
			answers, err = w.Arrivals(w.t.Context(), "could not read")
			must(w.t, err)
			w.has(len(answers), 1, "answers to a letter that says nothing")
		}},
	})
}

func TestBehavioursOfOldWharfMerchants(t *testing.T) {
	behave(t, []behaviour{
		{"old-wharf-merchants", "is written to as well", func(w *world) {
			w.write(
				"hello@oldwharf.example",
				"Title: Nettlewick Yarns\nSlogan under the title: Wool, by the water\nCategory: Makers\nAddress: 9 Old Wharf, Port Sable, WA 98991\nTeam: Perpetua Hale, owner\n  Rue Adair, dyer",
			)
			w.move(w.now().AddDate(0, 0, 30))
			_, text := w.page("/old-wharf-merchants/place/nettlewick-yarns-port-sable")
			w.has(strings.Contains(text, "Wool, by the water") && strings.Contains(text, "Rue Adair, dyer"), true, "what it shows")
		}},
	})
}

func TestBehavioursOfPlotline(t *testing.T) {
	behave(t, []behaviour{
		{"plotline", "feeds others within fourteen days, and overwrites them", func(w *world) {
			hike := w.held("hithermap", shop)
			w.verified("hithermap", hike, "call", "+13605550142")
			w.handIn(
				"store_code,name,street,locality,region,postal_code,country,phone\nSCW-03,Spokeshave Cycle Works,18 Tern Street,Minnow Bay,WA,98990,US,(360) 555-0124\n",
			)
			w.move(w.now().AddDate(0, 0, 4))
			w.has(w.factsOf("hithermap", hike.Ref)["phone"], "+13605550142", "the phone after four days")
			w.move(w.now().AddDate(0, 0, 12))
			w.has(w.factsOf("hithermap", hike.Ref)["phone"], "+13605550124", "the phone after fourteen days")
			status, text := w.page("/roadwhistle/place/spokeshave-cycle-works-minnow-bay")
			w.has(status, http.StatusOK, "roadwhistle’s page")
			w.has(strings.Contains(text, "13605550124"), true, "the same phone there")
		}},
	})
}

func TestBehavioursOfRoadwhistle(t *testing.T) {
	behave(t, []behaviour{
		{"roadwhistle", "cannot be asked or worked on", func(w *world) {
			for _, path := range []string{"/roadwhistle/api/listings", "/roadwhistle/add", "/roadwhistle/file"} {
				resp, err := http.Post(w.Base+path, "application/json", strings.NewReader("{}"))
				must(w.t, err)
				resp.Body.Close()
				w.has(resp.StatusCode, http.StatusNotFound, path)
			}
		}},
	})
}

// behaviour is one thing that a directory does.
type behaviour struct {
	directory, does string
	try             func(w *world)
}

func behave(t *testing.T, all []behaviour) {
	for _, c := range all {
		t.Run(c.directory+" "+c.does, func(t *testing.T) { c.try(start(t)) })
	}
}

// confirm has a code sent by email, and enters it on the directory's own pages.
func (w *world) confirm(page, email string) {
	w.t.Helper()
	done := make(chan error, 1)
	go func() { done <- w.Prove(w.t.Context(), page, "email", email) }()
	for range 50 {
		select {
		case err := <-done:
			must(w.t, err)
			return
		case <-time.After(20 * time.Millisecond):
			w.move(w.now()) // lets the email arrive
		}
	}
	w.t.Fatal("no code came")
}

// stands is how a verification stands, and what is said of it.
func (w *world) stands(directory, id string) string {
	w.t.Helper()
	status, a := w.askOf(directory, "GET", "/verifications/"+id, "", nil)
	if status != http.StatusOK {
		w.t.Fatalf("%s answers %d, %+v", directory, status, a)
	}
	return a.State + " " + a.Says
}

// photo gives a listing a sharp picture of squares.
func (w *world) photo(directory, ref, id, place, tag string) {
	w.t.Helper()
	img := image.NewGray(image.Rect(0, 0, 480, 320))
	for y := range 320 {
		for x := range 480 {
			if (x/8+y/8)%2 == 0 {
				img.SetGray(x, y, color.Gray{230})
			}
		}
	}
	var b bytes.Buffer
	must(w.t, jpeg.Encode(&b, img, nil))
	body := map[string]any{"place": place, "id": id, "tag": tag, "data": b.Bytes()}
	status, a := w.askOf(directory, "POST", "/listings/"+ref+"/photos", "photo "+id+tag, body)
	if status == http.StatusServiceUnavailable {
		status, a = w.askOf(directory, "POST", "/listings/"+ref+"/photos", "photo "+id+tag, body)
	}
	if status != http.StatusOK {
		w.t.Fatalf("giving a photo answers %d, %+v", status, a)
	}
}

// factsOf are a listing's facts as its directory tells them.
func (w *world) factsOf(directory, ref string) map[string]any {
	w.t.Helper()
	req, err := http.NewRequest("GET", w.Base+"/"+directory+"/api/listings/"+ref, nil)
	must(w.t, err)
	req.Header.Set("Authorization", "Bearer "+w.account)
	resp, err := http.DefaultClient.Do(req)
	must(w.t, err)
	defer resp.Body.Close()
	var out struct{ Facts map[string]any }
	must(w.t, json.NewDecoder(resp.Body).Decode(&out))
	return out.Facts
}

// write sends a letter by email.
func (w *world) write(to, body string) {
	w.t.Helper()
	host, port := splitAddr(w.t, w.MailAddr())
	m := mail.NewMsg()
	must(w.t, m.From(w.account))
	must(w.t, m.To(to))
	m.Subject("An entry")
	m.SetMessageID()
	m.SetBodyString(mail.TypeTextPlain, body)
	c, err := mail.NewClient(host, mail.WithPort(port), mail.WithTLSPolicy(mail.NoTLS))
	must(w.t, err)
	must(w.t, c.DialAndSendWithContext(w.t.Context(), m))
}

// handIn uploads a file on Plotline's page.
func (w *world) handIn(csv string) {
	w.t.Helper()
	must(w.t, w.HandIn(w.t.Context(), "plotline", []byte(csv)))
}

func splitAddr(t *testing.T, addr string) (host string, port int) {
	t.Helper()
	host, text, err := net.SplitHostPort(addr)
	must(t, err)
	port, err = strconv.Atoi(text)
	must(t, err)
	return host, port
}
