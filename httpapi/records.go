package httpapi

import (
	"bytes"
	"context"

	"github.com/google/uuid"

	"uvent/core/fact/category"
	"uvent/core/fact/hours"
	"uvent/core/fact/photo"
	"uvent/core/fact/prose"
	"uvent/core/listing/verification"
	"uvent/core/record/paper"
	"uvent/core/record/record"
	"uvent/core/record/sheet"
	"uvent/core/rule/fit"
	"uvent/desk/imports"
	"uvent/desk/ledger"
	"uvent/desk/records"
	"uvent/httpapi/api"
)

func clientRow(c ledger.Client, followed int) api.ClientRow {
	shared, _ := record.NormalShared(ledger.Shared(c)) // so that nothing in it is null
	return api.ClientRow{
		Id:         c.ID,
		Version:    c.Version,
		Name:       c.Name,
		LegalName:  c.LegalName,
		OwnerName:  c.OwnerName,
		OwnerEmail: c.OwnerEmail,
		Language:   api.ClientRowLanguage(c.Language),
		Shared:     shared,
		Followed:   followed,
		PutAwayAt:  c.PutAwayAt,
		EraseAt:    records.EraseAt(c.PutAwayAt, c.ErasedAt),
		ErasedAt:   c.ErasedAt,
	}
}

func clientFacts(f api.ClientFacts) records.ClientFacts {
	out := records.ClientFacts{Name: f.Name, LegalName: f.LegalName, OwnerName: f.OwnerName, OwnerEmail: f.OwnerEmail}
	if f.Language != nil {
		out.Language = string(*f.Language)
	}
	if f.Shared != nil {
		out.Shared = *f.Shared
	}
	return out
}

// GetClients lists the clients with their locations, each with the strand of
// its weightiest directory.
func (s *Server) GetClients(ctx context.Context, _ api.GetClientsRequestObject) (api.GetClientsResponseObject, error) {
	clients, err := s.Desk.Records.Clients(ctx)
	if err != nil {
		return nil, err
	}
	locations, err := s.Desk.Records.Locations(ctx, within(ctx, nil, nil))
	if err != nil {
		return nil, err
	}
	states, err := s.Desk.Boards.StatesOnWeightiest(ctx)
	if err != nil {
		return nil, err
	}
	missing, err := s.Desk.Records.MissingCounts(ctx, within(ctx, nil, nil))
	if err != nil {
		return nil, err
	}
	rows := map[uuid.UUID][]api.LocationRow{}
	for _, l := range locations {
		st, begun := states[l.ID]
		if !begun {
			st = verification.Start()
		}
		rows[l.ClientID] = append(
			rows[l.ClientID],
			api.LocationRow{Id: l.ID, Label: l.Label, Kind: string(l.Record.Kind), Locality: l.Record.Address.Locality, Missing: missing[l.ID], Strand: strand(st)},
		)
	}
	out := api.GetClients200JSONResponse{}
	who := person(ctx)
	for _, c := range clients {
		if c.PutAwayAt == nil && who.Sees(c.ID) {
			out = append(out, api.Client{Id: c.ID, Name: c.Name, OwnerName: c.OwnerName, Locations: append([]api.LocationRow{}, rows[c.ID]...)})
		}
	}
	return out, nil
}

// AddClient adds a client.
func (s *Server) AddClient(ctx context.Context, in api.AddClientRequestObject) (api.AddClientResponseObject, error) {
	c, err := s.Desk.Records.AddClient(ctx, person(ctx).Actor(), clientFacts(*in.Body))
	if err != nil {
		return nil, err
	}
	return api.AddClient201JSONResponse(clientRow(c, 0)), nil
}

// GetClient finds a client.
func (s *Server) GetClient(ctx context.Context, in api.GetClientRequestObject) (api.GetClientResponseObject, error) {
	c, err := s.Desk.Ledger.Client(ctx, in.Client)
	if err != nil {
		return nil, err
	}
	return api.GetClient200JSONResponse(clientRow(c, 0)), nil
}

// SaveClient changes a client.
func (s *Server) SaveClient(ctx context.Context, in api.SaveClientRequestObject) (api.SaveClientResponseObject, error) {
	c, followed, err := s.Desk.Records.SaveClient(ctx, person(ctx).Actor(), in.Client, in.Params.Version, clientFacts(*in.Body))
	if err != nil {
		return nil, err
	}
	return api.SaveClient200JSONResponse(clientRow(c, followed)), nil
}

func (s *Server) location(ctx context.Context, l ledger.Location) (api.Location, error) {
	c, err := s.Desk.Ledger.Client(ctx, l.ClientID)
	if err != nil {
		return api.Location{}, err
	}
	out := api.Location{
		Id:         l.ID,
		Client:     l.ClientID,
		ClientName: c.Name,
		Version:    l.Version,
		Record:     l.Record,
		Shared:     clientRow(c, 0).Shared,
		Read:       []api.DirectoryFit{},
		PutAwayAt:  l.PutAwayAt,
	}
	if zone, ok := l.Record.Location(); ok {
		out.Zone = zone.String()
	}
	held, err := s.Desk.Records.HeldByAll(ctx, l)
	for _, h := range held {
		out.Read = append(out.Read, directoryFit(h))
	}
	return out, err
}

// AddLocation adds a location.
func (s *Server) AddLocation(ctx context.Context, in api.AddLocationRequestObject) (api.AddLocationResponseObject, error) {
	l, err := s.Desk.Records.AddLocation(ctx, person(ctx).Actor(), in.Client, *in.Body)
	if err != nil {
		return nil, err
	}
	out, err := s.location(ctx, l)
	return api.AddLocation201JSONResponse(out), err
}

// GetLocation finds a location.
func (s *Server) GetLocation(ctx context.Context, in api.GetLocationRequestObject) (api.GetLocationResponseObject, error) {
	l, err := s.Desk.Ledger.Location(ctx, in.Location)
	if err != nil {
		return nil, err
	}
	out, err := s.location(ctx, l)
	return api.GetLocation200JSONResponse(out), err
}

// SaveLocation changes a record.
func (s *Server) SaveLocation(ctx context.Context, in api.SaveLocationRequestObject) (api.SaveLocationResponseObject, error) {
	l, err := s.Desk.Records.SaveLocation(ctx, person(ctx).Actor(), in.Location, in.Params.Version, *in.Body)
	if err != nil {
		return nil, err
	}
	out, err := s.location(ctx, l)
	return api.SaveLocation200JSONResponse(out), err
}

// ExportLocations writes locations as CSV.
func (s *Server) ExportLocations(ctx context.Context, in api.ExportLocationsRequestObject) (api.ExportLocationsResponseObject, error) {
	var b bytes.Buffer
	if err := s.Desk.Records.Export(ctx, within(ctx, in.Params.Client, in.Params.Location), sheet.Write, &b); err != nil {
		return nil, err
	}
	return api.ExportLocations200TextcsvResponse{Body: &b, ContentLength: int64(b.Len())}, nil
}

// ExportSpreadsheet writes locations as XLSX.
func (s *Server) ExportSpreadsheet(ctx context.Context, in api.ExportSpreadsheetRequestObject) (api.ExportSpreadsheetResponseObject, error) {
	var b bytes.Buffer
	if err := s.Desk.Records.Export(ctx, within(ctx, in.Params.Client, in.Params.Location), sheet.WriteXLSX, &b); err != nil {
		return nil, err
	}
	return api.ExportSpreadsheet200ApplicationvndOpenxmlformatsOfficedocumentSpreadsheetmlSheetResponse{Body: &b, ContentLength: int64(b.Len())}, nil
}

// GetFacts lists what a record's facts may be.
func (s *Server) GetFacts(context.Context, api.GetFactsRequestObject) (api.GetFactsResponseObject, error) {
	out := api.GetFacts200JSONResponse{Categories: category.All(), Attributes: category.AllAttributes(), Limits: map[string]int{
		"tagline": record.MostTagline, "short": record.MostShort, "medium": record.MostMedium, "long": record.MostLong, "story": record.MostStory,
		"directions": record.MostDirections, "parking": record.MostDirections,
	}}
	out.Inheritable, out.CompanySizes, out.CompanyKinds = record.Inheritable(), record.CompanySizes, record.CompanyKinds
	for _, kind := range record.PaymentKinds {
		out.Payments = append(out.Payments, api.Column{Key: kind.ID, Title: kind.Name})
	}
	for _, g := range fit.PhotoGroups {
		out.PhotoGroups = append(out.PhotoGroups, api.Column{Key: g.ID, Title: g.Name})
	}
	for _, k := range paper.Kinds {
		out.PaperKinds = append(out.PaperKinds, api.Column{Key: k.ID, Title: k.Name})
	}
	out.PhotoBytes, out.PaperBytes = photo.MostBytes, paper.MostBytes
	for _, f := range imports.Columns() {
		out.Columns = append(out.Columns, api.Column{Key: f.Key, Title: f.Title})
	}
	return out, nil
}

// CheckProse finds what is to be mended in a text.
func (s *Server) CheckProse(_ context.Context, in api.CheckProseRequestObject) (api.CheckProseResponseObject, error) {
	return api.CheckProse200JSONResponse(append([]prose.Finding{}, s.Desk.Records.CheckProse(in.Body.Text)...)), nil
}

// ReadPhone reads a phone number.
func (s *Server) ReadPhone(_ context.Context, in api.ReadPhoneRequestObject) (api.ReadPhoneResponseObject, error) {
	return api.ReadPhone200JSONResponse(s.Desk.Records.ReadPhone(in.Body.Phone, in.Body.Country)), nil
}

// ReadHours reads hours, typed or drawn, and says what they come to.
func (s *Server) ReadHours(_ context.Context, in api.ReadHoursRequestObject) (api.ReadHoursResponseObject, error) {
	q := records.TypedHours{Text: in.Body.Text, Country: in.Body.Country, Region: in.Body.Region, Zone: in.Body.Zone, Lay: in.Body.Lay, Drop: in.Body.Drop}
	if in.Body.Week != nil {
		q.Drawn = *in.Body.Week
	}
	h, err := s.Desk.Records.ReadHours(q)
	if err != nil {
		return nil, err
	}
	out := api.ReadHours200JSONResponse{
		Text:           h.Text,
		Words:          h.Words,
		Week:           make(api.Week, len(h.Week)),
		MinutesPerWeek: h.MinutesPerWeek,
		OpenNow:        h.OpenNow,
		NextChange:     h.NextChange,
		CallFrom:       h.CallFrom,
		CallTo:         h.CallTo,
		Errors:         append([]hours.Error{}, h.Errors...),
		Warnings:       append([]hours.Error{}, h.Warnings...),
		Said:           h.Said,
		HolidaysKnown:  h.HolidaysKnown,
	}
	out.Specials, out.Holidays = append([]hours.Special{}, h.Specials...), []api.HolidayHours{}
	for _, day := range h.Holidays {
		out.Holidays = append(
			out.Holidays,
			api.HolidayHours{Date: dateOf(day.Date), Name: day.Name, Decided: day.Decided, Sittings: append([]hours.Sitting{}, day.Sittings...)},
		)
	}
	out.Fits = []api.HoursFit{}
	for _, f := range h.Fits {
		out.Fits = append(out.Fits, api.HoursFit{Directory: f.Book.ID, Name: f.Book.Name, Mark: api.HoursFitMark(f.Mark), Says: f.Says})
	}
	for i, day := range h.Week {
		out.Week[i] = append([]hours.Sitting{}, day...)
	}
	if h.Zone != "" {
		out.Zone = &h.Zone
	}
	return out, nil
}

// RemoveLocation deletes a location for which nothing was begun.
func (s *Server) RemoveLocation(ctx context.Context, in api.RemoveLocationRequestObject) (api.RemoveLocationResponseObject, error) {
	r, err := s.Desk.Records.RemoveLocation(ctx, person(ctx).Actor(), in.Location)
	return api.RemoveLocation200JSONResponse(r), err
}

// RemoveClient deletes a client that has nothing.
func (s *Server) RemoveClient(ctx context.Context, in api.RemoveClientRequestObject) (api.RemoveClientResponseObject, error) {
	return api.RemoveClient204Response{}, s.Desk.Records.RemoveClient(ctx, person(ctx).Actor(), in.Client)
}
