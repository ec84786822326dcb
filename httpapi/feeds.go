package httpapi

import (
	"bytes"
	"context"

	"uvent/core/reckon/agenda"
	"uvent/desk/clockwork"
	"uvent/desk/ledger"
	"uvent/httpapi/api"
)

// notTheirs is what a feed is of that its maker does not see any more: it tells nothing.
const notTheirs = "What is not yours any more"

// feed is a feed with what it is of in words.
func (s *Server) feed(ctx context.Context, f clockwork.Feed) (api.Feed, error) {
	out := api.Feed{Id: f.ID, At: f.At, Name: "All clients"}
	if person(ctx).Limited() {
		out.Name = "All your clients"
	}
	if f.LocationID != nil {
		l, err := s.Desk.Ledger.Location(ctx, *f.LocationID)
		if out.Name = l.Label; !person(ctx).Sees(l.ClientID) {
			out.Name = notTheirs
		}
		return out, err
	}
	if f.ClientID != nil {
		names, err := s.clientNames(ctx)
		if out.Name = names.of(f.ClientID); !person(ctx).Sees(*f.ClientID) {
			out.Name = notTheirs
		}
		return out, err
	}
	return out, nil
}

// GetFeeds lists one's feeds.
func (s *Server) GetFeeds(ctx context.Context, _ api.GetFeedsRequestObject) (api.GetFeedsResponseObject, error) {
	list, err := s.Desk.Feeds(ctx, person(ctx))
	out := make(api.GetFeeds200JSONResponse, len(list))
	for i, f := range list {
		if out[i], err = s.feed(ctx, f); err != nil {
			return nil, err
		}
	}
	return out, err
}

// MakeFeed makes a feed.
func (s *Server) MakeFeed(ctx context.Context, in api.MakeFeedRequestObject) (api.MakeFeedResponseObject, error) {
	f, address, err := s.Desk.MakeFeed(ctx, person(ctx), in.Body.Client, in.Body.Location)
	if err != nil {
		return nil, err
	}
	one, err := s.feed(ctx, f)
	return api.MakeFeed201JSONResponse{Feed: one, Address: address}, err
}

// EndFeed ends a feed.
func (s *Server) EndFeed(ctx context.Context, in api.EndFeedRequestObject) (api.EndFeedResponseObject, error) {
	return api.EndFeed204Response{}, s.Desk.EndFeed(ctx, person(ctx), in.Feed)
}

// ReadFeed writes the deadlines of a feed.
func (s *Server) ReadFeed(ctx context.Context, in api.ReadFeedRequestObject) (api.ReadFeedResponseObject, error) {
	b, err := s.Desk.ReadFeed(ctx, in.Secret)
	return api.ReadFeed200TextcalendarResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, err
}

// SetDigest says when one is written to.
func (s *Server) SetDigest(ctx context.Context, in api.SetDigestRequestObject) (api.SetDigestResponseObject, error) {
	return api.SetDigest204Response{}, s.Desk.People.SetDigest(ctx, person(ctx), in.Body.Minute)
}

// PutOff puts a task off.
func (s *Server) PutOff(ctx context.Context, in api.PutOffRequestObject) (api.PutOffResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	return api.PutOff204Response{}, s.Desk.Matters.PutOff(ctx, person(ctx).Actor(), at, agenda.Act(in.Body.Act), in.Body.Until, deref(in.Body.Reason))
}

// TakeUp brings a task back.
func (s *Server) TakeUp(ctx context.Context, in api.TakeUpRequestObject) (api.TakeUpResponseObject, error) {
	return api.TakeUp204Response{}, s.Desk.Matters.TakeUp(ctx, person(ctx).Actor(), ledger.Place{Location: in.Location, Directory: in.Directory})
}

// GetTodayRest tells what is put off, and what was done today.
func (s *Server) GetTodayRest(ctx context.Context, in api.GetTodayRestRequestObject) (api.GetTodayRestResponseObject, error) {
	scope := within(ctx, in.Params.Client, in.Params.Location)
	snoozed, err := s.Desk.Boards.Snoozed(ctx, scope)
	if err != nil {
		return nil, err
	}
	done, err := s.Desk.Boards.Done(ctx, person(ctx), scope)
	if err != nil {
		return nil, err
	}
	out := api.GetTodayRest200JSONResponse{Snoozed: []api.Snoozed{}, Done: logLines(done)}
	for _, z := range snoozed {
		l, err := s.Desk.Ledger.Location(ctx, z.LocationID)
		if err != nil {
			return nil, err
		}
		out.Snoozed = append(
			out.Snoozed,
			api.Snoozed{
				Location:      z.LocationID,
				Directory:     z.DirectoryID,
				Label:         l.Label,
				DirectoryName: s.Desk.Shelf.DirectoryName(z.DirectoryID),
				Until:         z.Until,
				Reason:        z.Reason,
				By:            z.By,
			},
		)
	}
	return out, nil
}
