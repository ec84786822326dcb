package httpapi

import (
	"context"

	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/httpapi/api"
)

// SearchDirectory looks for a location.
func (s *Server) SearchDirectory(ctx context.Context, in api.SearchDirectoryRequestObject) (api.SearchDirectoryResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	out, err := s.asked(ctx, at)(s.Desk.Listings.Search(ctx, person(ctx).Actor(), at))
	return api.SearchDirectory200JSONResponse(out), err
}

// ClaimListing claims a listing that was found.
func (s *Server) ClaimListing(ctx context.Context, in api.ClaimListingRequestObject) (api.ClaimListingResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	out, err := s.asked(ctx, at)(s.Desk.Listings.Claim(ctx, person(ctx).Actor(), at, in.Body.Ref))
	return api.ClaimListing200JSONResponse(out), err
}

// CreateListing creates a listing.
func (s *Server) CreateListing(ctx context.Context, in api.CreateListingRequestObject) (api.CreateListingResponseObject, error) {
	name := ""
	if in.Body != nil {
		name = text(in.Body.PageName)
	}
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	out, err := s.asked(ctx, at)(s.Desk.Listings.Create(ctx, person(ctx).Actor(), at, name))
	return api.CreateListing200JSONResponse(out), err
}

// AskCode asks for a code.
func (s *Server) AskCode(ctx context.Context, in api.AskCodeRequestObject) (api.AskCodeResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	seen := listings.Insisting{Despite: in.Body.Despite != nil && *in.Body.Despite, Instead: text(in.Body.Instead), Payer: text(in.Body.Payer)}
	out, err := s.asked(ctx, at)(s.Desk.Listings.AskInsisting(ctx, person(ctx).Actor(), at, rulebook.MethodName(in.Body.Method), seen))
	return api.AskCode200JSONResponse(out), err
}

// EnterCode enters a code.
func (s *Server) EnterCode(ctx context.Context, in api.EnterCodeRequestObject) (api.EnterCodeResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	out, err := s.asked(ctx, at)(s.Desk.Listings.EnterCode(ctx, person(ctx).Actor(), at, in.Attempt, in.Body.Code))
	return api.EnterCode200JSONResponse(out), err
}

// CodeArrived records that a code is in hand.
func (s *Server) CodeArrived(ctx context.Context, in api.CodeArrivedRequestObject) (api.CodeArrivedResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	if err := s.Desk.Listings.Arrived(ctx, person(ctx).Actor(), at, in.Attempt); err != nil {
		return nil, err
	}
	out, err := s.listing(ctx, at)
	return api.CodeArrived200JSONResponse(out), err
}

// SendChanges gives a directory what has changed.
func (s *Server) SendChanges(ctx context.Context, in api.SendChangesRequestObject) (api.SendChangesResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	var keys []string
	if in.Body != nil && in.Body.Facts != nil {
		keys = *in.Body.Facts
	}
	out, err := s.asked(ctx, at)(s.Desk.Listings.Send(ctx, person(ctx).Actor(), at, keys))
	return api.SendChanges200JSONResponse(out), err
}

// ReportDuplicate reports a second listing.
func (s *Server) ReportDuplicate(ctx context.Context, in api.ReportDuplicateRequestObject) (api.ReportDuplicateResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	out, err := s.asked(ctx, at)(s.Desk.Listings.ReportDuplicate(ctx, person(ctx).Actor(), at, in.Body.Ref))
	return api.ReportDuplicate200JSONResponse(out), err
}

// AskAccess asks a holder for a listing.
func (s *Server) AskAccess(ctx context.Context, in api.AskAccessRequestObject) (api.AskAccessResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	out, err := s.asked(ctx, at)(s.Desk.Listings.AskAccess(ctx, person(ctx).Actor(), at))
	return api.AskAccess200JSONResponse(out), err
}

// EscalateAccess puts a request for a listing before the directory's people.
func (s *Server) EscalateAccess(ctx context.Context, in api.EscalateAccessRequestObject) (api.EscalateAccessResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	out, err := s.asked(ctx, at)(s.Desk.Listings.Escalate(ctx, person(ctx).Actor(), at))
	return api.EscalateAccess200JSONResponse(out), err
}

// LookAgain looks at the public page.
func (s *Server) LookAgain(ctx context.Context, in api.LookAgainRequestObject) (api.LookAgainResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	if err := s.Desk.Sightings.Look(ctx, person(ctx).Actor(), at); err != nil {
		return nil, err
	}
	out, err := s.listing(ctx, at)
	return api.LookAgain200JSONResponse(out), err
}

// StopAsking gives up what a directory is being asked.
func (s *Server) StopAsking(ctx context.Context, in api.StopAskingRequestObject) (api.StopAskingResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	if err := s.Desk.Ledger.StopAsking(ctx, person(ctx).Actor(), at); err != nil {
		return nil, err
	}
	out, err := s.listing(ctx, at)
	return api.StopAsking200JSONResponse(out), err
}

// SeeFromOwner notes that what the owner sent has been seen.
func (s *Server) SeeFromOwner(ctx context.Context, in api.SeeFromOwnerRequestObject) (api.SeeFromOwnerResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	if err := s.Desk.Listings.SeeFromOwner(ctx, person(ctx).Actor(), at); err != nil {
		return nil, err
	}
	out, err := s.listing(ctx, at)
	return api.SeeFromOwner200JSONResponse(out), err
}

// ReadFromStaff notes that what a directory's staff have written was read.
func (s *Server) ReadFromStaff(ctx context.Context, in api.ReadFromStaffRequestObject) (api.ReadFromStaffResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	if err := s.Desk.Listings.ReadFromStaff(ctx, person(ctx).Actor(), at); err != nil {
		return nil, err
	}
	out, err := s.listing(ctx, at)
	return api.ReadFromStaff200JSONResponse(out), err
}

// SettlePlace says what becomes of a listing whose location has moved, for its directory.
func (s *Server) SettlePlace(ctx context.Context, in api.SettlePlaceRequestObject) (api.SettlePlaceResponseObject, error) {
	at, actor := ledger.Place{Location: in.Location, Directory: in.Directory}, person(ctx).Actor()
	var err error
	switch in.Body.Is {
	case api.SettlePlaceJSONBodyIsLeft:
		err = s.Desk.Listings.LeaveThere(ctx, actor, at)
	case api.SettlePlaceJSONBodyIsSame:
		err = s.Desk.Listings.SamePlace(ctx, actor, at)
	case api.SettlePlaceJSONBodyIsTakenUp:
		ref := ""
		if in.Body.Ref != nil {
			ref = *in.Body.Ref
		}
		err = s.Desk.Listings.TakeUpLeft(ctx, actor, at, ref)
	}
	if err != nil {
		return nil, err
	}
	out, err := s.listing(ctx, at)
	return api.SettlePlace200JSONResponse(out), err
}

// AskStatus asks how a review stands.
func (s *Server) AskStatus(ctx context.Context, in api.AskStatusRequestObject) (api.AskStatusResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	if err := s.Desk.Listings.AskStatus(ctx, person(ctx).Actor(), at); err != nil {
		return nil, err
	}
	out, err := s.listing(ctx, at)
	return api.AskStatus200JSONResponse(out), err
}
