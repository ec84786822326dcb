package httpapi

import (
	"context"
	"sync"
	"time"

	"github.com/google/uuid"
	"golang.org/x/time/rate"

	"uvent/core/fact/language"
	"uvent/core/listing/verification"
	"uvent/core/record/paper"
	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/owners"
	"uvent/desk/problem"
	"uvent/httpapi/api"
)

// pace keeps whoever guesses at secrets slow: a request a second from one address,
// with some at once.
type pace struct {
	mu   sync.Mutex
	from map[string]*rate.Limiter
}

const (
	perSecond = 1
	atOnce    = 30
	mostFrom  = 10_000 // addresses that are remembered
)

func (p *pace) allow(from string) bool {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.from == nil || len(p.from) > mostFrom {
		p.from = map[string]*rate.Limiter{}
	}
	l := p.from[from]
	if l == nil {
		l = rate.NewLimiter(perSecond, atOnce)
		p.from[from] = l
	}
	return l.AllowN(time.Now(), 1)
}

// through is what an owner answers through.
func through[L ~string](secret string, thing uuid.UUID, in *L) owners.Through {
	return owners.Through{Secret: secret, Thing: thing, In: spoken(in)}
}

func spoken[L ~string](in *L) string {
	if in == nil {
		return ""
	}
	return string(*in)
}

func (s *Server) ownerPage(ctx context.Context, secret, in string) (api.OwnerPage, error) {
	p, err := s.Desk.Owners.OwnerPage(ctx, secret, in)
	if err != nil {
		return api.OwnerPage{}, err
	}
	out := api.OwnerPage{
		Business: p.Business,
		Heading:  p.Heading, Says: p.Says,
		From:      p.From,
		FromEmail: p.FromEmail,
		Language:  string(p.In),
		Labels:    p.In.Texts("page"),
		Things:    []api.OwnerThing{},
	}
	for _, l := range language.All() {
		out.Languages = append(out.Languages, struct {
			Id   string `json:"id"`
			Name string `json:"name"`
		}{string(l), l.Name()})
	}
	for _, t := range p.Things {
		out.Things = append(out.Things, ownerThing(t))
	}
	return out, nil
}

func ownerThing(t owners.Thing) api.OwnerThing {
	return api.OwnerThing{
		Id: t.ID, Task: api.OwnerThingTask(t.Task), State: api.OwnerThingState(t.State), Heading: t.Heading, Words: ownerWords(t.Words),
		Directory: t.Directory, Zone: t.Zone, Until: t.Until, Soon: t.Soon, Digits: t.Digits, Tries: t.Tries, Said: t.Said, To: t.To, Amount: t.Amount,
		Ended: t.Ended, Instead: api.OwnerThingInstead(t.Instead),
		Shots: shots(t.Shots), Times: append([]time.Time{}, t.Times...), CallAt: t.CallAt, Sent: sentThrough(t.Sent),
	}
}

// sentThrough is what an owner has sent, in words for the owner.
func sentThrough(f *verification.FromOwner) *api.FromOwner {
	out := fromOwner(f)
	if out != nil {
		out.Doubts = append([]string{}, f.Told...)
	}
	return out
}

func fromOwner(f *verification.FromOwner) *api.FromOwner {
	if f == nil {
		return nil
	}
	out := &api.FromOwner{What: f.What, Doubts: append([]string{}, f.Doubts...), At: f.At, Says: unlessEmpty(f.Says)}
	if len(f.Claims) > 0 {
		out.Claims = &f.Claims
	}
	return out
}

func ownerWords(w verification.OwnerWords) api.OwnerWords {
	return api.OwnerWords{Title: w.Title, Why: w.Why, What: w.What, How: w.How, Until: w.Until}
}

// GetOwnerPage opens a private page.
func (s *Server) GetOwnerPage(ctx context.Context, in api.GetOwnerPageRequestObject) (api.GetOwnerPageResponseObject, error) {
	out, err := s.ownerPage(ctx, in.Secret, spoken(in.Params.In))
	return api.GetOwnerPage200JSONResponse(out), err
}

// TypeOwnerCode takes the code that an owner has typed.
func (s *Server) TypeOwnerCode(ctx context.Context, in api.TypeOwnerCodeRequestObject) (api.TypeOwnerCodeResponseObject, error) {
	if err := s.Desk.Owners.OwnerCode(ctx, through(in.Secret, in.Thing, in.Params.In), in.Body.Code); err != nil {
		return nil, err
	}
	out, err := s.ownerPage(ctx, in.Secret, spoken(in.Params.In))
	return api.TypeOwnerCode200JSONResponse(out), err
}

// SendOwnerPaper takes in a paper that an owner sends.
func (s *Server) SendOwnerPaper(ctx context.Context, in api.SendOwnerPaperRequestObject) (api.SendOwnerPaperResponseObject, error) {
	up, err := readUpload(in.Body, paper.MostBytes)
	if err != nil {
		return nil, err
	}
	if err := s.Desk.Owners.OwnerPaper(ctx, through(in.Secret, in.Thing, in.Params.In), up.name, up.data); err != nil {
		return nil, err
	}
	out, err := s.ownerPage(ctx, in.Secret, spoken(in.Params.In))
	return api.SendOwnerPaper201JSONResponse(out), err
}

// ChooseOwnerTime notes when an owner wants to be called.
func (s *Server) ChooseOwnerTime(ctx context.Context, in api.ChooseOwnerTimeRequestObject) (api.ChooseOwnerTimeResponseObject, error) {
	if err := s.Desk.Owners.OwnerTime(ctx, through(in.Secret, in.Thing, in.Params.In), in.Body.At); err != nil {
		return nil, err
	}
	out, err := s.ownerPage(ctx, in.Secret, spoken(in.Params.In))
	return api.ChooseOwnerTime200JSONResponse(out), err
}

// SayAsOwner takes what an owner says instead of doing a thing.
func (s *Server) SayAsOwner(ctx context.Context, in api.SayAsOwnerRequestObject) (api.SayAsOwnerResponseObject, error) {
	if err := s.Desk.Owners.OwnerSays(ctx, through(in.Secret, in.Thing, in.Params.In), in.Body.What); err != nil {
		return nil, err
	}
	out, err := s.ownerPage(ctx, in.Secret, spoken(in.Params.In))
	return api.SayAsOwner200JSONResponse(out), err
}

// PayAsOwner takes an owner's word that a card of theirs may be charged.
func (s *Server) PayAsOwner(ctx context.Context, in api.PayAsOwnerRequestObject) (api.PayAsOwnerResponseObject, error) {
	if err := s.Desk.Owners.OwnerPays(ctx, through(in.Secret, in.Thing, in.Params.In)); err != nil {
		return nil, err
	}
	out, err := s.ownerPage(ctx, in.Secret, spoken(in.Params.In))
	return api.PayAsOwner200JSONResponse(out), err
}

// AskOwners asks the owners of many listings, each in one letter.
func (s *Server) AskOwners(ctx context.Context, in api.AskOwnersRequestObject) (api.AskOwnersResponseObject, error) {
	items := make([]owners.Asked, len(in.Body.Items))
	for i, a := range in.Body.Items {
		items[i] = owners.Asked{Place: ledger.Place{Location: a.Location, Directory: a.Directory}, Task: verification.OwnerTask(a.Task)}
	}
	asked, refused, err := s.Desk.Owners.AskMany(ctx, person(ctx), items)
	if err != nil {
		return nil, err
	}
	out := api.AskOwners200JSONResponse{Asked: asked, Refused: []api.RefusedOfMany{}}
	for _, a := range items {
		if says, no := refused[a]; no {
			out.Refused = append(out.Refused, api.RefusedOfMany{Location: a.Location, Directory: a.Directory, Task: new(string(a.Task)), Says: says})
		}
	}
	return out, nil
}

// MakeOwnerLink makes a private page.
func (s *Server) MakeOwnerLink(ctx context.Context, in api.MakeOwnerLinkRequestObject) (api.MakeOwnerLinkResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	of := owners.LinkFor{Task: verification.OwnerTask(in.Body.Task), Mail: in.Body.Mail, Instead: text(in.Body.Instead)}
	var made owners.MadeLink
	var err error
	switch {
	case in.Body.At == nil:
		made, err = s.Desk.Owners.MakeLink(ctx, person(ctx), at, of)
	case of.Task != verification.TakeCall || !of.Mail:
		err = problem.Fields(
			[]record.Problem{{Path: "at", Message: "a time is that of a call of which the owner is told; leave it out, or make task call and mail true"}},
		)
	default:
		made, err = s.Desk.Owners.BookAt(ctx, person(ctx), at, of, *in.Body.At)
	}
	if err != nil {
		return nil, err
	}
	picture, err := qrCode(made.Address)
	return api.MakeOwnerLink201JSONResponse{
		Id:      made.ID,
		Address: made.Address,
		Qr:      "data:image/png;base64," + picture,
		Words:   ownerWords(made.Words),
		Mailed:  made.Mailed,
	}, err
}

// WithdrawOwnerLink shuts a private page.
func (s *Server) WithdrawOwnerLink(ctx context.Context, in api.WithdrawOwnerLinkRequestObject) (api.WithdrawOwnerLinkResponseObject, error) {
	return api.WithdrawOwnerLink204Response{}, s.Desk.Owners.WithdrawLink(ctx, person(ctx).Actor(), in.Link)
}

func ownerLink(l owners.OwnerLink, s verification.State, now time.Time) api.OwnerLink {
	return api.OwnerLink{
		Id:       l.ID,
		Task:     api.OwnerLinkTask(l.Kind),
		MadeAt:   l.MadeAt,
		MadeBy:   l.MadeBy,
		SentTo:   l.SentTo,
		Expires:  l.Expires,
		OpenedAt: l.OpenedAt,
		DoneAt:   l.DoneAt,
		CallAt:   l.CallAt,
		State:    api.OwnerLinkState(owners.StateOfLink(l, s, now)),
	}
}
