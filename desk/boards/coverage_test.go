package boards_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"

	"uvent/core/fact/photo"
	"uvent/core/rule/fit"
	"uvent/desk/boards"
	"uvent/desk/clockwork"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/e2e/rig"
)

// covered is a row of the coverage, read.
type covered struct {
	boards.CoverageRow
	Cells map[string]records.Fitted
	Lack  *fit.Lack
}

func read(t *testing.T, r boards.CoverageRow) covered {
	t.Helper()
	out := covered{CoverageRow: r}
	rig.Must(t, json.Unmarshal(r.Fits, &out.Cells))
	if r.Next != nil {
		rig.Must(t, json.Unmarshal(r.Next, &out.Lack))
	}
	return out
}

func row(t *testing.T, r *rig.Rig, s ledger.Scope) covered {
	t.Helper()
	c, err := r.Desk.Boards.Coverage(t.Context(), s, boards.ByPlace, 0, 10)
	rig.Must(t, err)
	if len(c.Rows) != 1 {
		t.Fatalf("%d rows", len(c.Rows))
	}
	return read(t, c.Rows[0])
}

// What is shown of the fit is what the record, the photos, the choices and the rulebooks
// say now, whoever changed them and by whichever way.
func TestCoverageIsNeverStale(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "murmurhall", "sound-chamber", "old-wharf-merchants"), t.Context()
	who := r.Who.Actor()
	rec := rig.Shop("Minnow Bay")
	place := r.Add(t, rec)
	here := ledger.Scope{Location: &place.Location}
	a := row(t, r, here)
	if c := a.Cells["old-wharf-merchants"]; !strings.Contains(c.Not, "in Port Sable only") || c.Wanted {
		t.Errorf("%+v", c)
	}
	if c := a.Cells["sound-chamber"]; c.Blocks != 1 || !c.Wanted || c.Percent <= 0 || c.Percent >= 100 { // keywords
		t.Errorf("%+v", c)
	}
	if a.Lack == nil || len(a.Wanted) != 3 || len(a.States) != 0 {
		t.Errorf("%+v", a)
	}

	rec.Words.Keywords = []string{"bicycles"}
	_, err := r.Desk.Records.SaveLocation(ctx, who, place.Location, 1, rec)
	rig.Must(t, err)
	b := row(t, r, here)
	if b.Cells["sound-chamber"].Blocks != 0 || b.Cells["sound-chamber"].Percent <= a.Cells["sound-chamber"].Percent {
		t.Errorf("the record was saved: %+v", b.Cells["sound-chamber"])
	}

	client := b.Client
	_, err = r.Desk.Files.AddPhoto(
		ctx,
		who,
		ledger.OfClient(client),
		files.PhotoFacts{Group: "logo", Focus: photo.Middle},
		"logo.jpg",
		rig.Boxes(t, 900, 900, 7),
	)
	rig.Must(t, err)
	c := row(t, r, here)
	if c.Cells["murmurhall"].Percent <= b.Cells["murmurhall"].Percent {
		t.Errorf("the client’s logo was added: %v, %v before", c.Cells["murmurhall"].Percent, b.Cells["murmurhall"].Percent)
	}

	no := false
	before, err := r.Desk.Records.Choose(ctx, who, []records.Wish{{Place: ledger.Place{Location: place.Location, Directory: "sound-chamber"}, Wanted: &no}})
	rig.Must(t, err)
	if d := row(t, r, here); d.Cells["sound-chamber"].Wanted || len(d.Wanted) != 2 {
		t.Errorf("it was decided against: %+v", d)
	}
	_, err = r.Desk.Records.Choose(ctx, who, before)
	rig.Must(t, err)
	if d := row(t, r, here); !d.Cells["sound-chamber"].Wanted || len(d.Wanted) != 3 {
		t.Errorf("that was taken back: %+v", d)
	}

	// A rulebook that is changed counts at once.
	book, err := r.Desk.Shelf.Book("murmurhall")
	rig.Must(t, err)
	_, err = r.Desk.SaveRulebook(
		ctx,
		r.Who,
		"murmurhall",
		strings.Replace(book.Source, "{fact: phone, weight: 5}", "{fact: phone, weight: 5}\n  - {fact: industry, required: true, weight: 30}", 1),
	)
	rig.Must(t, err)
	if d := row(t, r, here); d.Cells["murmurhall"].Percent >= c.Cells["murmurhall"].Percent || d.Cells["murmurhall"].Blocks != 1 {
		t.Errorf("the rulebook asks for more: %+v", d.Cells["murmurhall"])
	}
}

func TestPagesOfCoverage(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	var file strings.Builder
	file.WriteString("client,label,name,street,locality,region,country,phone\n")
	for i := range 30 {
		phone := ""
		if i%2 == 0 {
			phone = fmt.Sprintf("(360) 555-01%02d", i)
		}
		fmt.Fprintf(&file, "Client %d,Shop %02d,Spokeshave,%d Tern Street,Minnow Bay,WA,US,%s\n", i/10, i, i+1, phone)
	}
	r.BringIn(t, []byte(file.String()))
	for _, order := range []boards.CoverageOrder{boards.ByPlace, boards.ByGain} {
		var labels []string
		seen := map[uuid.UUID]bool{}
		gain := 1e9
		for past := 0; ; past += 7 {
			c, err := r.Desk.Boards.Coverage(ctx, ledger.Scope{}, order, past, 7)
			rig.Must(t, err)
			if c.Locations != 30 || c.Wanted != 30 || c.Public != 0 || c.UnderWay != 0 {
				t.Fatalf("%+v", c)
			}
			if len(c.Rows) == 0 {
				break
			}
			for _, row := range c.Rows {
				labels, seen[row.Location] = append(labels, row.Label), true
				if order == boards.ByGain {
					if g := read(t, row).Lack.PerMinute(); g > gain+1e-9 {
						t.Errorf("%s gains %v a minute, after %v", row.Label, g, gain)
					} else {
						gain = g
					}
				}
			}
		}
		if len(seen) != 30 || order == boards.ByPlace && !slices.IsSorted(labels) {
			t.Errorf("%s: %v", order, labels)
		}
	}
}

func TestChoosingForMany(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	place := r.Add(t, rig.Shop("Minnow Bay"))
	_, err := r.Desk.Records.Choose(ctx, r.Who.Actor(), nil)
	rig.Refused(t, err, problem.Invalid, "1 to 20000")
	_, err = r.Desk.Records.Choose(ctx, r.Who.Actor(), []records.Wish{{Place: ledger.Place{Location: place.Location, Directory: "nowhere"}}})
	rig.Refused(t, err, problem.NotFound, "nowhere")
	_, err = r.Desk.Records.Choose(ctx, r.Who.Actor(), []records.Wish{{Place: place}, {Place: ledger.Place{Location: uuid.New(), Directory: "fernlook"}}})
	rig.Refused(t, err, problem.NotFound, "not there any more")
	// What is not wanted asks for nothing, unless it was begun.
	no := false
	_, err = r.Desk.Records.Choose(ctx, r.Who.Actor(), []records.Wish{{Place: place, Wanted: &no}})
	rig.Must(t, err)
	if today, err := rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{})); err != nil || len(today) != 0 {
		t.Errorf("%v, %+v", err, today)
	}
	r.Answered(t, place)(r.Desk.Listings.Search(ctx, r.Who.Actor(), place))
	if today, err := rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{})); err != nil || len(today) != 1 {
		t.Errorf("%v, %+v", err, today)
	}
}

// Listings of which nothing is known are one task of their location.
func TestFreshListingsAreOneTask(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "waywren", "skerry", "murmurhall", "candourbox"), t.Context()
	place := r.Add(t, rig.Shop("Minnow Bay"))
	today, err := rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{}))
	rig.Must(t, err)
	if len(today) != 1 || today[0].Task.Act != "begin" || today[0].Task.Title != "Begin 5 listings of Minnow Bay" ||
		today[0].Task.Says != "Fernlook, Waywren, Murmurhall and 2 more. Nothing is known of them yet." {
		t.Fatalf("%+v", today[0].Task)
	}
	r.Answered(t, place)(r.Desk.Listings.Search(ctx, r.Who.Actor(), place))
	if today, err = rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{})); err != nil || len(today) != 2 {
		t.Errorf("%v, %d tasks", err, len(today))
	}
}

func TestAccounts(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "murmurhall"), t.Context()
	who := r.Who.Actor()
	_, err := r.Desk.Records.SaveAccount(ctx, who, nil, records.AccountFacts{Directory: "fernlook"})
	rig.Refused(t, err, problem.Invalid, "email: Give the email")
	a, err := r.Desk.Records.SaveAccount(
		ctx,
		who,
		nil,
		records.AccountFacts{Directory: "murmurhall", Email: "Pages@agency.example", Holder: "Juno Abara", Gone: true},
	)
	rig.Must(t, err)
	all := strings.Join(a.Warnings, " ")
	for _, want := range []string{"Juno Abara is nobody here any more", "email is not confirmed", "No person’s own account"} {
		if !strings.Contains(all, want) {
			t.Errorf("no %q in %q", want, all)
		}
	}
	_, err = r.Desk.Records.SaveAccount(ctx, who, nil, records.AccountFacts{Directory: "murmurhall", Email: "pages@agency.example", Holder: "Ines"})
	rig.Refused(t, err, problem.Invalid, "in the list for this directory already")
	_, err = r.Desk.Records.SaveAccount(ctx, who, &a.ID, records.AccountFacts{Directory: "fernlook", Email: "pages@agency.example", Holder: "Ines"})
	rig.Refused(t, err, problem.Conflict, "stays with its directory")
	a, err = r.Desk.Records.SaveAccount(
		ctx,
		who,
		&a.ID,
		records.AccountFacts{Directory: "murmurhall", Email: "pages@agency.example", Holder: "Ines", Confirmed: true, Personal: true},
	)
	if rig.Must(t, err); len(a.Warnings) != 0 {
		t.Errorf("%q", a.Warnings)
	}
	// The number of locations calls for a class.
	_, err = r.Desk.Records.SaveAccount(
		ctx,
		who,
		nil,
		records.AccountFacts{Directory: "fernlook", Email: "a@agency.example", Holder: "Ines", Confirmed: true, Class: "Many places"},
	)
	rig.Must(t, err)
	r.Held(t, r.Add(t, rig.Shop("Minnow Bay")))
	list, err := r.Desk.Records.Accounts(ctx)
	rig.Must(t, err)
	if len(list) != 2 || len(list[0].Warnings) != 1 || !strings.Contains(list[0].Warnings[0], "1 locations call for the class Single") {
		t.Errorf("%+v", list)
	}
	rig.Must(t, r.Desk.Records.DropAccount(ctx, a.ID))
	rig.Refused(t, r.Desk.Records.DropAccount(ctx, a.ID), problem.NotFound, "no such account")
}

func TestRulebooksAreWrittenHere(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	place := r.Add(t, rig.Shop("Minnow Bay"))
	old, err := r.Desk.Shelf.Book("fernlook")
	rig.Must(t, err)
	c, err := r.Desk.Boards.CheckRulebook(ctx, strings.Replace(old.Source, "weight: 100", "weight: 101", 1), nil)
	if rig.Must(t, err); len(c.Problems) != 1 || c.Problems[0].Path != "weight" {
		t.Errorf("%+v", c.Problems)
	}
	_, err = r.Desk.SaveRulebook(ctx, r.Who, "fernlook", "id: fernlook\n")
	rig.Refused(t, err, problem.Invalid, "has mistakes")
	_, err = r.Desk.SaveRulebook(ctx, r.Who, "fernlook", strings.Replace(old.Source, "id: fernlook", "id: otherlook", 1))
	rig.Refused(t, err, problem.Conflict, "The id must stay fernlook")
	_, err = r.Desk.SaveRulebook(ctx, r.Who, "", old.Source)
	rig.Refused(t, err, problem.Conflict, "There is a directory \"fernlook\" already")

	// It is tried before it is saved, and each save is a version.
	text := strings.Replace(old.Source, "most_characters: 80,", "most_characters: 10,", 1)
	c, err = r.Desk.Boards.CheckRulebook(ctx, text, &place.Location)
	rig.Must(t, err)
	if c.Trial == nil || c.Trial.Before == nil || c.Trial.Fit.Percent >= c.Trial.Before.Percent || len(c.Trial.Fit.Blocks()) != 1 || c.New {
		t.Errorf("%+v", c.Trial)
	}
	_, err = r.Desk.SaveRulebook(ctx, r.Who, "fernlook", text)
	rig.Must(t, err)
	if b, _ := r.Desk.Shelf.Book("fernlook"); b.Facts[0].MostCharacters != 10 {
		t.Errorf("%+v", b.Facts[0])
	}
	_, err = r.Desk.SaveRulebook(ctx, r.Who, "fernlook", old.Source)
	rig.Must(t, err)
	versions, err := r.Desk.Shelf.RulebookVersions(ctx, "fernlook")
	rig.Must(t, err)
	if len(versions) != 3 || versions[0].Version != 2 || versions[0].Source != old.Source || versions[1].SavedBy != "Ines Roake" || versions[2].Version != 0 {
		t.Errorf("%+v", versions)
	}

	// Another server takes it up by itself.
	other, err := clockwork.New(clockwork.Parts{Store: r.Store, Reach: r.Reach, Clock: r.Clock, Log: r.Quiet})
	rig.Must(t, err)
	if len(other.Shelf.Books()) != 1 {
		t.Errorf("another server knows %d directories", len(other.Shelf.Books()))
	}
	pier := strings.NewReplacer("id: fernlook", "id: pierbook", "name: Fernlook", "name: Pierbook").Replace(old.Source)
	_, err = r.Desk.SaveRulebook(ctx, r.Who, "", pier)
	rig.Must(t, err)
	rig.Must(t, other.Shelf.Reshelve(ctx))
	if _, err := other.Shelf.Book("pierbook"); err != nil {
		t.Error(err)
	}
	if _, err := r.Desk.Boards.Listing(ctx, ledger.Place{Location: place.Location, Directory: "pierbook"}); err != nil {
		t.Error(err)
	}
}
