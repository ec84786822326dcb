package httpapi

import (
	"bytes"
	"context"
	"io"
	"net/http"

	"github.com/google/uuid"

	"uvent/core/fact/photo"
	"uvent/desk/files"
	"uvent/httpapi/api"
)

func photoOf(p files.Photo) api.Photo {
	out := api.Photo{
		Id:          p.ID,
		Shared:      p.LocationID == nil,
		Group:       p.Kind,
		Caption:     p.Caption,
		Alternative: p.Alternative,
		Focus:       p.Focus,
		FileName:    p.FileName,
		Format:      p.Format,
		Width:       int(p.Width),
		Height:      int(p.Height),
		Bytes:       int(p.Bytes),
		Sharpness:   p.Sharpness,
		Blurred:     p.Sharpness < photo.Blurred,
		Fits:        []api.PhotoFit{},
		AddedBy:     p.AddedBy,
		AddedAt:     p.AddedAt,
	}
	if p.Like != uuid.Nil {
		out.Like = &p.Like
	}
	for _, d := range p.Fits {
		for _, f := range d.Fits {
			out.Fits = append(out.Fits, api.PhotoFit{
				Directory: d.Book.ID, Name: d.Book.Name, Label: f.Rule.Label, Width: f.Rule.Crop.Width, Height: f.Rule.Crop.Height, Circle: f.Rule.Crop.Circle,
				TinyWidth: f.Rule.TinyWidth, Window: p.WindowOf(f.Window), Faults: append([]string{}, f.Faults...),
			})
		}
	}
	return out
}

// GetPhotos lists photos.
func (s *Server) GetPhotos(ctx context.Context, in api.GetPhotosRequestObject) (api.GetPhotosResponseObject, error) {
	list, err := s.Desk.Files.Photos(ctx, within(ctx, in.Params.Client, in.Params.Location))
	if err != nil {
		return nil, err
	}
	out := api.GetPhotos200JSONResponse{}
	for _, p := range list {
		out = append(out, photoOf(p))
	}
	return out, nil
}

// AddPhoto takes a photo in.
func (s *Server) AddPhoto(ctx context.Context, in api.AddPhotoRequestObject) (api.AddPhotoResponseObject, error) {
	up, err := readUpload(in.Body, photo.MostBytes)
	if err != nil {
		return nil, err
	}
	p, err := s.Desk.Files.AddPhoto(
		ctx,
		person(ctx).Actor(),
		within(ctx, in.Params.Client, in.Params.Location),
		files.PhotoFacts{Group: up.fields["group"], Focus: photo.Middle},
		up.name,
		up.data,
	)
	if err != nil {
		return nil, err
	}
	return api.AddPhoto201JSONResponse(photoOf(p)), nil
}

// SavePhoto changes what is said of a photo.
func (s *Server) SavePhoto(ctx context.Context, in api.SavePhotoRequestObject) (api.SavePhotoResponseObject, error) {
	b := in.Body
	p, err := s.Desk.Files.SavePhoto(
		ctx,
		person(ctx).Actor(),
		in.Photo,
		files.PhotoFacts{Group: b.Group, Caption: b.Caption, Alternative: b.Alternative, Focus: b.Focus},
	)
	if err != nil {
		return nil, err
	}
	return api.SavePhoto200JSONResponse(photoOf(p)), nil
}

// OrderPhotos puts photos into an order.
func (s *Server) OrderPhotos(ctx context.Context, in api.OrderPhotosRequestObject) (api.OrderPhotosResponseObject, error) {
	if err := s.Desk.Files.OrderPhotos(ctx, person(ctx).Actor(), within(ctx, in.Params.Client, in.Params.Location), *in.Body); err != nil {
		return nil, err
	}
	return api.OrderPhotos204Response{}, nil
}

// RemovePhoto takes a photo out.
func (s *Server) RemovePhoto(ctx context.Context, in api.RemovePhotoRequestObject) (api.RemovePhotoResponseObject, error) {
	if err := s.Desk.Files.RemovePhoto(ctx, person(ctx).Actor(), in.Photo, false); err != nil {
		return nil, err
	}
	return api.RemovePhoto204Response{}, nil
}

// RestorePhoto brings a photo back.
func (s *Server) RestorePhoto(ctx context.Context, in api.RestorePhotoRequestObject) (api.RestorePhotoResponseObject, error) {
	if err := s.Desk.Files.RemovePhoto(ctx, person(ctx).Actor(), in.Photo, true); err != nil {
		return nil, err
	}
	return api.RestorePhoto204Response{}, nil
}

// GetPhotoFile sends a photo's picture. It is the same for ever, and only for
// whoever is signed in.
func (s *Server) GetPhotoFile(ctx context.Context, in api.GetPhotoFileRequestObject) (api.GetPhotoFileResponseObject, error) {
	data, err := s.Desk.Files.PhotoFile(ctx, in.Photo, in.Copy)
	if err != nil {
		return nil, err
	}
	kept := "private, max-age=31536000, immutable"
	return api.GetPhotoFile200ImageResponse{
		Body: bytes.NewReader(data), ContentLength: int64(len(data)), ContentType: http.DetectContentType(data),
		Headers: api.GetPhotoFile200ResponseHeaders{CacheControl: &kept},
	}, nil
}

// GetPhotosZip sends all photos of a location.
func (s *Server) GetPhotosZip(ctx context.Context, in api.GetPhotosZipRequestObject) (api.GetPhotosZipResponseObject, error) {
	r, w := io.Pipe()
	begun := make(chan error, 1)
	go func() {
		first := &firstWrite{w: w, begun: begun}
		err := s.Desk.Files.PhotosZip(ctx, in.Location, first)
		first.tell(err)
		w.CloseWithError(err)
	}()
	if err := <-begun; err != nil {
		return nil, err
	}
	return api.GetPhotosZip200ApplicationzipResponse{Body: r}, nil
}

// firstWrite tells when something is written, or that nothing will be and why.
type firstWrite struct {
	w     io.Writer
	begun chan error
	told  bool
}

func (f *firstWrite) tell(err error) {
	if !f.told {
		f.told = true
		f.begun <- err
	}
}

func (f *firstWrite) Write(b []byte) (int, error) {
	f.tell(nil)
	return f.w.Write(b)
}
