package demo

import (
	"context"
	"errors"
	"time"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/core/rule/saying"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/outside/visit"
)

// elsewhere is what was done so far on directories other than the first.
var elsewhere = []step{
	{when: "12 Oct 13:20", client: spokeshave, label: "Port Sable", does: []act{search, create, ask(rulebook.Postcard)}, on: "waywren"},
	{when: "13 Oct 10:15", client: spokeshave, label: "Port Sable", does: []act{search, create, ask(rulebook.Email), enter}, on: "skerry"},
	{when: "13 Oct 11:00", client: spokeshave, label: "Port Sable", does: []act{search, create, ask(rulebook.Text), enter}, on: "murmurhall"},
	{when: "14 Oct 10:40", client: spokeshave, label: "Port Sable", does: []act{search, create, ask(rulebook.Call), enter}, on: "hithermap"},
	{when: "15 Oct 09:30", client: spokeshave, label: "Quillcote", does: []act{search, create, ask(rulebook.Email), enter}, on: "guildbench"},
	{when: "19 Oct 14:00", client: spokeshave, label: "Port Sable", does: []act{foundNothing, byHand, tellsVerified(rulebook.Call)}, on: "spanner-register"},
	{when: "21 Oct 11:30", client: nettlewick, label: "Old Wharf", does: []act{foundNothing, byLetter}, on: "old-wharf-merchants"},
	{when: "22 Oct 10:00", client: nettlewick, label: "Old Wharf", does: []act{search, create, ask(rulebook.Email), enter}, on: "murmurhall"},
	{when: "26 Oct 09:45", client: spokeshave, label: "Port Sable", does: []act{foundNothing, byHand}, on: "sound-chamber"},
	{when: "26 Oct 10:30", client: nettlewick, label: "Old Wharf", does: []act{foundNothing, byHand}, on: "sound-chamber"},
	{when: "27 Oct 15:10", client: sablecote, label: "Port Sable", does: []act{search, claim, ask(rulebook.Call), enter}, on: "waywren"},
	{when: "29 Oct 11:20", client: spokeshave, label: "Three Herons", does: []act{search, claim, ask(rulebook.Email), enter}, on: "candourbox"},
	{when: "30 Oct 10:10", client: sablecote, label: "Quillcote", does: []act{search, claimRefused}, on: "candourbox"},
	{when: "30 Oct 11:40", client: sablecote, label: "Cinder Point", does: []act{search, create, lost(ask(rulebook.Postcard))}, on: "waywren"},
	{when: "2 Nov 10:20", client: saltgrass, label: "Saltgrass", does: []act{search, create, ask(rulebook.Text), enter}, on: "murmurhall"},
	{when: "5 Nov 09:15", client: spokeshave, label: "Port Sable", does: []act{foundNothing, byLetter}, on: "brasswire"},
	{when: "6 Nov 13:30", client: nettlewick, label: "Fennick", does: []act{search, create, ask(rulebook.Postcard)}, on: "waywren"},
	{when: "9 Nov 16:05", client: spokeshave, label: "Port Sable", does: []act{
		visited("Aino P.", 5, "They found the rattle in five minutes. The bench by the window has tea."),
		said(
			saying.Draft{
				Kind:   saying.Post,
				Title:  "Lights before the clocks change",
				Text:   "Bring yours in and we test it while you wait.",
				Radius: 20,
				Button: "visit",
				Link:   "https://spokeshave.example/lights",
			},
		),
	}, on: "murmurhall"},
	{
		when:   "11 Nov 12:30",
		client: spokeshave,
		label:  "Three Herons",
		does:   []act{visited("J. Okafor-Lind", 2, "Good work, but the door was locked at half past twelve and the page said open.")},
		on:     "candourbox",
	},
	{when: "12 Nov 14:20", client: mossback, label: "Alder Landing", does: []act{search, create, ask(rulebook.Postcard)}, on: "skerry"},
	{when: "17 Nov 09:50", client: saltgrass, label: "Saltgrass", does: []act{search, create, ask(rulebook.Postcard)}, on: "waywren"},
	{when: "18 Nov 10:45", client: spokeshave, label: "Three Herons", does: []act{search, copied("fernlook"), ask(rulebook.Email), enter}, on: "skerry"},
	{when: "19 Nov 13:15", client: sablecote, label: "Port Sable", does: []act{search, create, ask(rulebook.Text)}, on: "murmurhall"},
	{when: "20 Nov 10:10", client: spokeshave, label: "Minnow Bay", does: []act{foundNothing, byLetter}, on: "brasswire"},
	{when: "20 Nov 16:30", client: spokeshave, label: "Port Sable", does: []act{suspended("unsaid", true, 0)}, on: "murmurhall"},
	{when: "23 Nov 09:30", client: saltgrass, label: "Saltgrass", does: []act{suspended("round_the_clock", false, 47*time.Hour)}, on: "fernlook"},
	{when: "23 Nov 13:20", client: spokeshave, label: "Quillcote", does: []act{search, create, ask(rulebook.Papers)}, on: "waywren"},
	{when: "23 Nov 14:10", client: spokeshave, label: "Quillcote", does: []act{search, create}, on: "murmurhall"},
}

// copied has the directory copy the listing from another.
func copied(from string) act {
	return func(ctx context.Context, l *layer, at ledger.Place) error {
		call, err := l.desk.Listings.CopyFrom(ctx, l.who.Actor(), at, from)
		s, err := l.settled(ctx, at, call, err)
		if err == nil && s.Control != verification.Held {
			err = errors.New("copying: " + s.Trouble)
		}
		return err
	}
}

// suspended has the directory suspend the listing after some time.
func suspended(cause string, final bool, after time.Duration) act {
	return func(ctx context.Context, l *layer, at ledger.Place) error {
		v, err := l.desk.Boards.Listing(ctx, at)
		if err != nil {
			return err
		}
		return l.world.Suspend(ctx, v.State.Ref, cause, final, l.desk.Now().Add(after))
	}
}

// lost has the post lose what is sent meanwhile.
func lost(do act) act {
	return func(ctx context.Context, l *layer, at ledger.Place) error {
		if err := l.world.Misbehave(ctx, visit.Faults{LostPost: 100}); err != nil {
			return err
		}
		return errors.Join(do(ctx, l, at), l.world.Misbehave(ctx, visit.Faults{}))
	}
}

// visited has a visitor write about the listing.
func visited(by string, stars int, text string) act {
	return func(ctx context.Context, l *layer, at ledger.Place) error {
		v, err := l.desk.Boards.Listing(ctx, at)
		if err != nil {
			return err
		}
		return l.world.Opinion(ctx, v.State.Ref, by, stars, text, l.desk.Now())
	}
}

// said says something through the listing.
func said(draft saying.Draft) act {
	return func(ctx context.Context, l *layer, at ledger.Place) error {
		call, err := l.desk.Listings.Say(ctx, l.who.Actor(), at, draft)
		s, err := l.settled(ctx, at, call, err)
		if err == nil && s.Trouble != "" {
			err = errors.New("posting: " + s.Trouble)
		}
		return err
	}
}

func foundNothing(ctx context.Context, l *layer, at ledger.Place) error {
	return l.desk.Listings.Found(ctx, l.who.Actor(), at, listings.NothingThere, "", "")
}

// byHand types the worksheet into the directory's own form, as a person would.
func byHand(ctx context.Context, l *layer, at ledger.Place) error {
	w, err := l.desk.Listings.Worksheet(ctx, l.who.Actor(), at)
	if err != nil {
		return err
	}
	form := visit.Form{}
	for _, line := range w.Lines {
		form[line.Key] = line.Text
		if line.Tick != "" {
			form["show "+line.Key] = "on"
		}
	}
	page, err := l.world.Fill(ctx, at.Directory, form)
	if err != nil {
		return err
	}
	return l.desk.Listings.Give(ctx, l.who.Actor(), at, page, "")
}

func byLetter(ctx context.Context, l *layer, at ledger.Place) error {
	w, err := l.desk.Listings.Worksheet(ctx, l.who.Actor(), at)
	if err == nil && w.Letter == nil {
		err = errors.New("there is no letter to write")
	}
	if err != nil {
		return err
	}
	return l.desk.Listings.Give(ctx, l.who.Actor(), at, "", w.Letter.Body)
}

// tellsVerified proves the listing on the directory's own pages, and tells so.
func tellsVerified(method rulebook.MethodName) act {
	return func(ctx context.Context, l *layer, at ledger.Place) error {
		v, err := l.desk.Boards.Listing(ctx, at)
		if err != nil {
			return err
		}
		if err := l.world.Prove(ctx, v.State.Page, string(method), v.Location.Record.MainPhone(), v.Location.Record.Email); err != nil {
			return err
		}
		return l.desk.Listings.Answered(ctx, l.who.Actor(), at, listings.Verified, "", "")
	}
}
