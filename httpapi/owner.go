package httpapi

import (
	"context"
	"sync"
	"time"

	"golang.org/x/time/rate"

	"uvent/core/listing/verification"
	"uvent/core/record/paper"
	"uvent/desk/ledger"
	"uvent/desk/owners"
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

func (s *Server) ownerPage(ctx context.Context, secret string) (api.OwnerPage, error) {
	p, err := s.Desk.Owners.OwnerPage(ctx, secret)
	return api.OwnerPage{
		Task:     api.OwnerPageTask(p.Task),
		State:    api.OwnerPageState(p.State),
		Words:    ownerWords(p.Words),
		Business: p.Business,
		Zone:     p.Zone,
		Digits:   p.Digits,
		Tries:    p.Tries,
		Said:     p.Said,
		Shots:    shots(p.Shots),
		Times:    append([]time.Time{}, p.Times...),
		CallAt:   p.CallAt,
		Sent:     sentThrough(p.Sent),
	}, err
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
	return &api.FromOwner{What: f.What, Doubts: append([]string{}, f.Doubts...), At: f.At}
}

func ownerWords(w verification.OwnerWords) api.OwnerWords {
	return api.OwnerWords{Title: w.Title, Why: w.Why, What: w.What, How: w.How, Until: w.Until}
}

// GetOwnerPage opens a private page.
func (s *Server) GetOwnerPage(ctx context.Context, in api.GetOwnerPageRequestObject) (api.GetOwnerPageResponseObject, error) {
	out, err := s.ownerPage(ctx, in.Secret)
	return api.GetOwnerPage200JSONResponse(out), err
}

// TypeOwnerCode takes the code that an owner has typed.
func (s *Server) TypeOwnerCode(ctx context.Context, in api.TypeOwnerCodeRequestObject) (api.TypeOwnerCodeResponseObject, error) {
	if err := s.Desk.Owners.OwnerCode(ctx, in.Secret, in.Body.Code); err != nil {
		return nil, err
	}
	out, err := s.ownerPage(ctx, in.Secret)
	return api.TypeOwnerCode200JSONResponse(out), err
}

// SendOwnerPaper takes in a paper that an owner sends.
func (s *Server) SendOwnerPaper(ctx context.Context, in api.SendOwnerPaperRequestObject) (api.SendOwnerPaperResponseObject, error) {
	up, err := readUpload(in.Body, paper.MostBytes)
	if err != nil {
		return nil, err
	}
	if err := s.Desk.Owners.OwnerPaper(ctx, in.Secret, up.name, up.data); err != nil {
		return nil, err
	}
	out, err := s.ownerPage(ctx, in.Secret)
	return api.SendOwnerPaper201JSONResponse(out), err
}

// ChooseOwnerTime notes when an owner wants to be called.
func (s *Server) ChooseOwnerTime(ctx context.Context, in api.ChooseOwnerTimeRequestObject) (api.ChooseOwnerTimeResponseObject, error) {
	if err := s.Desk.Owners.OwnerTime(ctx, in.Secret, in.Body.At); err != nil {
		return nil, err
	}
	out, err := s.ownerPage(ctx, in.Secret)
	return api.ChooseOwnerTime200JSONResponse(out), err
}

// MakeOwnerLink makes a private page.
func (s *Server) MakeOwnerLink(ctx context.Context, in api.MakeOwnerLinkRequestObject) (api.MakeOwnerLinkResponseObject, error) {
	made, err := s.Desk.Owners.MakeLink(
		ctx,
		person(ctx),
		ledger.Place{Location: in.Location, Directory: in.Directory},
		owners.LinkFor{Task: verification.OwnerTask(in.Body.Task), Mail: in.Body.Mail, Instead: text(in.Body.Instead)},
	)
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
