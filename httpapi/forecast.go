package httpapi

import (
	"context"
	"slices"

	"uvent/core/reckon/forecast"
	"uvent/desk/boards"
	"uvent/httpapi/api"
)

// mostForecast is how many listings a forecast names.
const mostForecast = 200

// GetForecast tells when the listings of a scope will be public.
func (s *Server) GetForecast(ctx context.Context, in api.GetForecastRequestObject) (api.GetForecastResponseObject, error) {
	p := in.Params
	f, err := s.Desk.Boards.Forecast(ctx, within(ctx, p.Client, p.Location), p.Fee != nil && *p.Fee)
	if err != nil {
		return nil, err
	}
	out := api.Forecast{
		Left:     len(f.Left),
		Fee:      f.Fee,
		FeeFor:   f.FeeFor,
		Days:     []api.ForecastDay{},
		Listings: []api.ForecastListing{},
		Never:    []api.ForecastListing{},
		Holds:    []api.ForecastHold{},
	}
	if len(f.Left) > 0 {
		half, all := odds(f.Half), odds(f.All)
		out.Half, out.All = &half, &all
	}
	for _, d := range f.Days {
		out.Days = append(out.Days, api.ForecastDay{Date: dateOf(d.Date), Low: d.Low, Likely: d.Likely, High: d.High})
	}
	order := make([]int, len(f.Left))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return f.Listings[b].Sure.Compare(f.Listings[a].Sure) })
	for _, i := range order[:min(len(order), mostForecast)] {
		l, span := forecastListing(f.Left[i]), odds(f.Listings[i])
		l.Span = &span
		out.Listings = append(out.Listings, l)
	}
	for i, c := range f.Never[:min(len(f.Never), mostForecast)] {
		l := forecastListing(c)
		l.Why = &f.Why[i]
		out.Never = append(out.Never, l)
	}
	for _, h := range f.Holds[:min(len(f.Holds), 5)] {
		out.Holds = append(out.Holds, api.ForecastHold{Name: h.Name, Listing: forecastListing(f.Left[h.Listing]), Waiting: h.Waiting, Share: h.Share})
	}
	return api.GetForecast200JSONResponse(out), nil
}

func odds(s forecast.Span) api.Odds {
	return api.Odds{Likely: dateOf(s.Likely), Sure: dateOf(s.Sure)}
}

func forecastListing(c boards.Cell) api.ForecastListing {
	return api.ForecastListing{Location: c.Place.Location, Label: c.Location.Label, ClientName: c.Client.Name, Directory: c.Book.ID, DirectoryName: c.Book.Name}
}
