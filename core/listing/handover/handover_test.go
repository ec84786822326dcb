package handover

import (
	"strings"
	"testing"
	"time"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/rulebooks"
)

// Of every directory something of ours goes back in some way, which is done once it has been, and not before.
func TestEachDirectoryHasAWayBack(t *testing.T) {
	at := time.Date(2026, 12, 1, 12, 0, 0, 0, time.UTC)
	programs := 0
	books, err := rulebooks.All()
	if err != nil {
		t.Fatal(err)
	}
	for _, b := range books {
		id := b.ID
		start := verification.Start()
		if _, ours := Of(Listing{Book: &b, State: start, Owner: "dov@spokeshave.example"}); ours {
			t.Errorf("%s: nothing of ours is there, and it goes back", id)
		}
		held := start
		held.Control = verification.Held
		step, ours := Of(Listing{Book: &b, State: held, Owner: "dov@spokeshave.example"})
		if b.Worked == rulebook.Fed {
			if ours {
				t.Errorf("%s holds nothing of ours, and it goes back", id)
			}
			continue
		}
		if !ours || step.Done || step.Busy || step.Not != "" || !strings.Contains(step.Says, "dov@spokeshave.example") {
			t.Errorf("%s: %+v, %v", id, step, ours)
		}
		if unknown, _ := Of(Listing{Book: &b, State: held}); (unknown.Not != "") != (step.Role != "") || !strings.Contains(unknown.Says, "the owner") {
			t.Errorf("%s, whose owner nobody knows: %+v", id, unknown)
		}
		var what verification.What = verification.HandedBack{To: "dov@spokeshave.example"}
		if step.Role != "" {
			programs++
			what = verification.RoleGiven{To: "dov@spokeshave.example", Role: step.Role, Owner: true}
			asked := held.After(b, verification.Event{At: at, What: verification.RoleAsked{To: "dov@spokeshave.example", Says: step.Role}})
			if busy, _ := Of(Listing{Book: &b, State: asked, Owner: "dov@spokeshave.example"}); !busy.Busy || busy.Done {
				t.Errorf("%s: asked for, it is %+v", id, busy)
			}
			other := held.After(b, verification.Event{At: at, What: verification.RoleGiven{To: "oda@quay.example", Role: step.Role}})
			if still, _ := Of(Listing{Book: &b, State: other, Owner: "dov@spokeshave.example"}); still.Done {
				t.Errorf("%s: somebody else was given a role, and it is back", id)
			}
		}
		back := held.After(b, verification.Event{At: at, What: what})
		if done, _ := Of(Listing{Book: &b, State: back}); !done.Done || !strings.Contains(done.Says, "dov@spokeshave.example") {
			t.Errorf("%s: handed back it is %+v", id, done)
		}
		kept := back.After(b, verification.Event{At: at, What: verification.KeptYet{}})
		if again, _ := Of(Listing{Book: &b, State: kept}); again.Done {
			t.Errorf("%s: kept after all, it is %+v", id, again)
		}
	}
	if programs == 0 {
		t.Errorf("of %d directories a program can", programs)
	}
}

// An owner is told what to do there by what the directory knows: a role, or one holder.
func TestWhatAnOwnerIsAsked(t *testing.T) {
	for id, want := range map[string]string{"waywren": "give us@agency.example the role of manager", "candourbox": "or make us@agency.example the one who holds it"} {
		b, err := rulebooks.Read(id)
		if err != nil {
			t.Fatal(err)
		}
		if got := AskOwner(
			"Dov",
			"Spokeshave",
			&b,
			"do…@spokeshave.example",
			"us@agency.example",
			"Ines",
		); !strings.Contains(got, want) ||
			!strings.HasPrefix(got, "Hello Dov,") {
			t.Errorf("%s: %s", id, got)
		}
	}
}

func TestTheLetter(t *testing.T) {
	got := Letter(
		"Dov",
		"Spokeshave",
		"Ines Roake",
		[]Place{
			{"Minnow Bay", "Fernlook", "https://f.example/p", Step{Says: "Yours.", Done: true}}, {"Minnow Bay", "Skerry", "", Step{Says: "Give it."}},
		},
		[]string{"Fernlook: us@agency.example"},
	)
	for _, want := range []string{"Hello Dov,", "\nMinnow Bay\n  Fernlook: Yours. https://f.example/p\n  Skerry: still with us; it follows.\n", "  Fernlook: us@agency.example\n", "\nIne"} {
		if !strings.Contains(got, want) {
			t.Errorf("no %q in\n%s", want, got)
		}
	}
	if none := Letter("", "Spokeshave", "Ines", nil, nil); !strings.HasPrefix(none, "Hello all,") || strings.Contains(none, "accounts") {
		t.Error(none)
	}
}
