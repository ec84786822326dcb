package httpapi

import (
	"context"
	"strings"
	"time"

	"uvent/core/fact/prose"
	"uvent/core/listing/cases"
	"uvent/core/listing/handover"
	"uvent/core/listing/verification"
	"uvent/core/record/paper"
	"uvent/desk/boards"
	"uvent/httpapi/api"
)

// tellHearings tells how likely what can be asked for is to be granted, with what, and when an owner is well called.
func (s *Server) tellHearings(ctx context.Context, out *api.Listing, v boards.ListingView) error {
	heard, err := s.Desk.Boards.Hearings(ctx, v)
	if err != nil {
		return err
	}
	if v.State.Control == verification.HeldByAnother {
		out.Access = access(v, heard, s.Desk.Now())
		owner, _, _ := strings.Cut(v.Client.OwnerName, " ")
		out.Access.AskOwner = handover.AskOwner(owner, v.Location.Record.Name, v.Book, v.State.HeldBy, v.Account, person(ctx).Name)
	}
	out.Evidence = evidence(heard.Pages)
	times, err := s.Desk.Boards.CallTimes(ctx, v)
	out.CallTimes = goodTimes(times)
	return err
}

// access is what can be done about a listing that somebody else holds.
func access(v boards.ListingView, heard boards.Hearings, now time.Time) *api.Access {
	rule, a := v.Book.Access, v.State.Access
	out := &api.Access{CanAsk: a == nil && rule.Window.Unit != "" && v.Book.Connector.URL != ""}
	if a == nil {
		if out.CanAsk {
			out.Hearing = new(hearingOf(heard.Holder))
		}
		return out
	}
	step := api.AccessStep(a.Step)
	out.Step, out.AskedAt, out.Says, out.Window = &step, &a.AskedAt, a.Says, window(a.Window, *v.Book, now, nil)
	if out.CanEscalate = !a.Waiting() && rule.Escalate.Unit != ""; out.CanEscalate {
		papers := make([]struct {
			Hearing api.Hearing `json:"hearing"`
			Title   string      `json:"title"`
		}, len(heard.Papers))
		for i, p := range heard.Papers {
			papers[i].Title, papers[i].Hearing = paper.Title(p.Kind), hearingOf(p.Hearing)
		}
		out.Papers = &papers
	}
	return out
}

func hearingOf(h cases.Hearing) api.Hearing {
	return api.Hearing{Chance: float32(h.Chance), Says: prose.Times(h.Chance), Won: h.Won, Lost: h.Lost}
}

// evidence is what can go with a suggestion; nil where none is made.
func evidence(pages []boards.PageHearing) *[]struct {
	Address string      `json:"address"`
	Hearing api.Hearing `json:"hearing"`
	Name    string      `json:"name"`
	Shows   []string    `json:"shows"`
} {
	if pages == nil {
		return nil
	}
	out := make([]struct {
		Address string      `json:"address"`
		Hearing api.Hearing `json:"hearing"`
		Name    string      `json:"name"`
		Shows   []string    `json:"shows"`
	}, len(pages))
	for i, p := range pages {
		out[i].Address, out[i].Hearing, out[i].Name, out[i].Shows = p.Address, hearingOf(p.Hearing), p.Name, append([]string{}, p.Shows...)
	}
	return &out
}

// goodTimes are when an owner is well called; nil where nobody is.
func goodTimes(times []verification.GoodTime) *[]api.GoodTime {
	if len(times) == 0 {
		return nil
	}
	out := make([]api.GoodTime, len(times))
	for i, t := range times {
		out[i] = api.GoodTime{At: t.At, Why: t.Why}
	}
	return &out
}
