package desk_test

import (
	"bytes"
	"fmt"
	"slices"
	"testing"
	"time"

	"uvent/core/record"
	"uvent/core/verification"
	"uvent/demo/paint"
	"uvent/desk"
	"uvent/e2e/rig"
	"uvent/outside/visit"
)

// workshop is a location that every directory takes.
func workshop() record.Record {
	rec := rig.Shop("Port Sable")
	rec.StoreCode, rec.LegalName, rec.Address.Street, rec.Address.PostalCode = "SCW-01", "Spokeshave Cycle Works LLC", "12 Harbour Street", "98991"
	rec.Company = record.Company{Registration: "604 117 220", Size: "2-10", Kind: "limited company", Industry: "Repair", Founded: "1998"}
	rec.Licences = []record.Licence{{Name: "Trade", Number: "SCBT-40712"}}
	rec.Words = record.Words{Tagline: "Wheels, by the water", Short: "We mend bicycles.", Medium: "We mend bicycles, by the water.", Long: "We mend bicycles, by the water.", Story: "It began with a bell.", Keywords: []string{"bicycles", "repair"}, Specialities: []string{"wheels"}}
	rec.Offerings = []record.Section{{Title: "Repairs", Items: []record.Item{{Name: "Puncture", Price: "18"}}}}
	return rec
}

// traveller takes one location through one directory, as a specialist would.
type traveller struct {
	*testing.T
	*rig.Rig
	at  desk.Place
	rec record.Record
}

func (w *traveller) who() desk.Actor { return w.Who.Actor() }

func (w *traveller) must(err error) {
	w.Helper()
	rig.Must(w.T, err)
}

// connected searches, claims what is there or else creates, and verifies in each way that
// is open until one works.
func (w *traveller) connected() {
	ctx := w.Context()
	s := w.Answered(w.T, w.at)(w.Desk.Search(ctx, w.who(), w.at))
	for i := 0; s.Control != verification.Held; i++ {
		if i == 4 {
			w.Fatalf("it is never held: %s", s.Trouble)
		}
		if len(s.Candidates) > 0 {
			s = w.Answered(w.T, w.at)(w.Desk.Claim(ctx, w.who(), w.at, s.Candidates[0].Ref))
		} else {
			s = w.Answered(w.T, w.at)(w.Desk.Create(ctx, w.who(), w.at, ""))
		}
	}
	for tries := 0; s.VerifiedAt == nil; tries++ {
		if tries == 6 {
			w.Fatalf("it is never verified: %s", s.Trouble)
		}
		v, err := w.Desk.Listing(ctx, w.at)
		w.must(err)
		i := slices.IndexFunc(v.Ways, func(x verification.Way) bool { return x.Open })
		if i < 0 {
			w.Fatalf("no way is open: %+v", v.Ways)
		}
		if s = w.Answered(w.T, w.at)(w.Desk.AskCode(ctx, w.who(), w.at, v.Ways[i].Method)); s.VerifiedAt != nil {
			return
		}
		if a := s.Attempt(); !a.Live() {
			w.Move(w.T, 14*24*time.Hour) // somebody there decides
			s = w.State(w.T, w.at)
			continue
		}
		if s.Attempt().Window != nil {
			w.Move(w.T, 17*24*time.Hour)
		}
		var code string
		eventually(w.T, func() bool {
			code, err = w.World.Code(ctx, w.rec.MainPhone(), w.rec.Email, w.rec.Address.Street)
			return err == nil
		})
		if s = w.Answered(w.T, w.at)(w.Desk.EnterCode(ctx, w.who(), w.at, s.Attempt().ID, code)); s.Verification == verification.InReview {
			w.Move(w.T, 14*24*time.Hour) // a second look
			s = w.State(w.T, w.at)
		}
	}
}

// byHand fills in the directory's own form from the worksheet, and proves it there.
func (w *traveller) byHand(prove func(page string) error) {
	ctx := w.Context()
	w.must(w.Desk.Found(ctx, w.who(), w.at, desk.NothingThere, "", ""))
	sheet, err := w.Desk.Worksheet(ctx, w.who(), w.at)
	w.must(err)
	form := visit.Form{}
	for _, line := range sheet.Lines {
		form[line.Key] = line.Text
	}
	page, err := w.World.Fill(ctx, w.at.Directory, form)
	w.must(err)
	w.must(w.Desk.Give(ctx, w.who(), w.at, page, ""))
	if prove != nil {
		w.must(prove(page))
		w.must(w.Desk.Answered(ctx, w.who(), w.at, desk.Verified, "", ""))
	}
}

// written writes to the directory's staff and waits for them.
func (w *traveller) written(page string, prove func(page string) error) {
	ctx := w.Context()
	w.must(w.Desk.Found(ctx, w.who(), w.at, desk.NothingThere, "", ""))
	sheet, err := w.Desk.Worksheet(ctx, w.who(), w.at)
	w.must(err)
	w.must(w.Desk.Give(ctx, w.who(), w.at, "", sheet.Letter.Body))
	eventually(w.T, func() bool {
		list, err := w.World.Arrivals(ctx, sheet.Letter.To)
		return err == nil && len(list) > 0
	})
	w.Move(w.T, 21*24*time.Hour)
	w.must(w.Desk.Answered(ctx, w.who(), w.at, desk.TookIn, page, ""))
	if prove != nil {
		w.must(prove(page))
		w.must(w.Desk.Answered(ctx, w.who(), w.at, desk.Verified, "", ""))
	}
}

// A location is taken from nothing to public on each of the directories, by its proper way.
func TestFromNothingToPublicEverywhere(t *testing.T) {
	const page = "spokeshave-cycle-works-port-sable"
	connected := func(w *traveller) { w.connected() }
	for directory, travel := range map[string]func(w *traveller){
		"fernlook": connected, "waywren": connected, "skerry": connected, "hithermap": connected, "murmurhall": connected, "guildbench": connected, "candourbox": connected,
		"fernlook-facts": func(w *traveller) {
			// It makes its panels by itself.
			_, err := w.World.Place(w.Context(), "fernlook-facts", "", visit.Facts{"name": w.rec.Name, "street": w.rec.Address.Street, "locality": "Port Sable", "region": "WA", "postal_code": "98991", "country": "US", "phone": w.rec.MainPhone(), "website": w.rec.Website})
			w.must(err)
			w.connected()
		},
		"lanefolk": func(w *traveller) {
			scope := desk.Scope{Location: &w.at.Location}
			for i, group := range []string{"logo", "cover"} {
				_, err := w.Desk.AddPhoto(w.Context(), w.who(), scope, desk.PhotoFacts{Group: group}, group+".jpg", boxes(w.T, 1400, 1400, uint64(i)))
				w.must(err)
			}
			w.byHand(func(page string) error {
				return w.World.Prove(w.Context(), page, "text", w.rec.MainPhone(), w.rec.Email)
			})
			w.must(w.World.Show(w.Context(), "/lanefolk/place/"+page))
		},
		"sound-chamber": func(w *traveller) { w.byHand(nil) },
		"spanner-register": func(w *traveller) {
			w.byHand(func(page string) error {
				return w.World.Prove(w.Context(), page, "call", w.rec.MainPhone(), w.rec.Email)
			})
		},
		"brasswire": func(w *traveller) {
			w.written("/brasswire/place/"+page, func(page string) error { return w.World.Prove(w.Context(), page, "email", w.rec.Email) })
		},
		"old-wharf-merchants": func(w *traveller) { w.written("/old-wharf-merchants/place/"+page, nil) },
		"plotline": func(w *traveller) {
			var file bytes.Buffer
			_, err := w.Desk.HandInFile(w.Context(), desk.Scope{}, "plotline", &file)
			w.must(err)
			w.must(w.World.HandIn(w.Context(), "plotline", file.Bytes()))
			_, err = w.Desk.HandedIn(w.Context(), w.who(), desk.Scope{}, "plotline")
			w.must(err)
			w.must(w.Desk.Answered(w.Context(), w.who(), w.at, desk.Verified, "/plotline/place/"+page, ""))
		},
		"roadwhistle": func(w *traveller) {
			w.must(w.World.HandIn(w.Context(), "plotline", []byte(fmt.Sprintf("store_code,name,street,locality,region,postal_code,country,phone\nSCW-01,%s,%s,Port Sable,WA,98991,US,%s\n", w.rec.Name, w.rec.Address.Street, w.rec.MainPhone()))))
			w.Move(w.T, 21*24*time.Hour)
			w.must(w.Desk.Answered(w.Context(), w.who(), w.at, desk.Shows, "/roadwhistle/place/"+page, ""))
		},
	} {
		t.Run(directory, func(t *testing.T) {
			t.Parallel()
			r := rig.Start(t, directory)
			rec := workshop()
			w := &traveller{t, r, at(r.Add(t, rec), directory), rec}
			scope := desk.Scope{Location: &w.at.Location}
			_, err := r.Desk.AddPaper(t.Context(), w.who(), scope, "bill.pdf", paint.Letter("Sound County Electric", "Utility bill, November 2026", rec.LegalName, rec.Address.Street))
			w.must(err)
			travel(w)
			w.Move(t, 16*24*time.Hour)
			if s := r.State(t, w.at); s.Visibility != verification.Public {
				w.must(r.Desk.Look(t.Context(), w.who(), w.at))
			}
			if s := r.State(t, w.at); s.Visibility != verification.Public {
				t.Errorf("it ends %s, %s, %s: %s", s.Control, s.Verification, s.Visibility, s.Trouble)
			}
			if v, err := r.Desk.Listing(t.Context(), w.at); err != nil || v.Task != nil && v.Task.Act == "" {
				t.Errorf("%+v, %v", v.Task, err)
			}
		})
	}
}
