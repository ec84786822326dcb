package httpapi

import (
	"context"

	"uvent/core/record/record"
	"uvent/desk/records"
	"uvent/httpapi/api"
)

// CheckLinks asks web addresses whether they answer.
func (s *Server) CheckLinks(ctx context.Context, in api.CheckLinksRequestObject) (api.CheckLinksResponseObject, error) {
	answers, err := s.Desk.Records.CheckLinks(ctx, *in.Body)
	if err != nil {
		return nil, err
	}
	out := api.CheckLinks200JSONResponse{}
	for _, a := range answers {
		out = append(out, api.LinkAnswer{Address: a.Address, Good: a.Good, Says: a.Says})
	}
	return out, nil
}

// TagLinks writes a web address for each directory.
func (s *Server) TagLinks(_ context.Context, in api.TagLinksRequestObject) (api.TagLinksResponseObject, error) {
	out := api.TagLinks200JSONResponse{}
	for _, l := range s.Desk.Records.TaggedLinks(in.Body.Address, in.Body.Tags) {
		out = append(out, api.TaggedLink{Directory: l.Book.ID, Name: l.Book.Name, Address: l.Address})
	}
	return out, nil
}

// ReckonArea reckons a service area.
func (s *Server) ReckonArea(ctx context.Context, in api.ReckonAreaRequestObject) (api.ReckonAreaResponseObject, error) {
	a, err := s.Desk.Records.ReckonArea(
		ctx,
		records.AreaQuestion{Pin: in.Body.Pin, Town: in.Body.Town, Minutes: in.Body.Minutes, With: in.Body.With, Without: in.Body.Without},
	)
	if err != nil {
		return nil, err
	}
	out := api.ReckonArea200JSONResponse{
		ByRoad:   a.ByRoad,
		SpeedKmh: a.SpeedKMH,
		Area:     a.Area,
		Others:   append([]record.Town{}, a.Others...),
		Outline:  [][][]float64{},
		Geojson:  a.GeoJSON,
		Warnings: append([]string{}, a.Warnings...),
	}
	for _, ring := range a.Outline {
		line := make([][]float64, len(ring))
		for i, p := range ring {
			line[i] = []float64{p.Longitude, p.Latitude}
		}
		out.Outline = append(out.Outline, line)
	}
	return out, nil
}

// ReadArea reads a service area from GeoJSON.
func (s *Server) ReadArea(ctx context.Context, in api.ReadAreaRequestObject) (api.ReadAreaResponseObject, error) {
	a, err := s.Desk.Records.ReadArea(ctx, in.Body.Text)
	if err != nil {
		return nil, err
	}
	return api.ReadArea200JSONResponse(a), nil
}

// GetMap draws all regions.
func (s *Server) GetMap(ctx context.Context, _ api.GetMapRequestObject) (api.GetMapResponseObject, error) {
	features, err := s.Desk.Records.Map(ctx)
	if err != nil {
		return nil, err
	}
	return api.GetMap200JSONResponse{Type: api.FeatureCollectionTypeFeatureCollection, Features: features}, nil
}

func region(r records.Region) api.Region {
	return api.Region{
		Id: r.ID, Name: r.Name, Towns: int(r.Towns), Roads: int(r.Roads), State: api.RegionState(r.State), Trouble: r.Trouble, Unknown: int(r.Unknown),
	}
}

// GetRegions lists the regions.
func (s *Server) GetRegions(ctx context.Context, _ api.GetRegionsRequestObject) (api.GetRegionsResponseObject, error) {
	list, err := s.Desk.Records.Regions(ctx)
	if err != nil {
		return nil, err
	}
	out := api.GetRegions200JSONResponse{}
	for _, r := range list {
		out = append(out, region(r))
	}
	return out, nil
}

// AddRegion brings a region in.
func (s *Server) AddRegion(ctx context.Context, in api.AddRegionRequestObject) (api.AddRegionResponseObject, error) {
	r, err := s.Desk.Records.AddRegion(ctx, person(ctx).Actor(), in.Body.Name, in.Body.Text)
	if err != nil {
		return nil, err
	}
	return api.AddRegion201JSONResponse(region(r)), nil
}

// AddExtract keeps an extract of which a region is made.
func (s *Server) AddExtract(ctx context.Context, in api.AddExtractRequestObject) (api.AddExtractResponseObject, error) {
	up, err := readUpload(in.Body, records.MostExtractBytes)
	if err != nil {
		return nil, err
	}
	r, err := s.Desk.Records.AddExtract(ctx, person(ctx).Actor(), up.fields["name"], up.data)
	if err != nil {
		return nil, err
	}
	return api.AddExtract201JSONResponse(region(r)), nil
}

// DropRegion takes a region out.
func (s *Server) DropRegion(ctx context.Context, in api.DropRegionRequestObject) (api.DropRegionResponseObject, error) {
	if err := s.Desk.Records.DropRegion(ctx, person(ctx).Actor(), in.Region); err != nil {
		return nil, err
	}
	return api.DropRegion204Response{}, nil
}
