package api

import (
	"bytes"
	"context"
	"errors"
	"net/http"

	"bathyform/internal/photo"
	"bathyform/internal/store"
)

// AddPhoto keeps a picture of a pull.
func (s *Server) AddPhoto(ctx context.Context, r AddPhotoRequestObject) (AddPhotoResponseObject, error) {
	m, err := s.store.MouldOf(ctx, r.PullId)
	if err != nil {
		return nil, err
	}
	data, done, err := s.received(ctx, r.Body)
	if err != nil {
		return nil, err
	}
	defer done()
	made, err := photo.Make(data)
	if err != nil {
		return nil, unusable("This picture cannot be used", err)
	}
	kept := store.Photo{ID: newID(r.Params.IdempotencyKey), PullID: r.PullId, Cavity: given(r.Params.Cavity),
		Wide: made.Wide, Tall: made.Tall, JPEG: made.JPEG, Small: made.Small}
	switch err := s.store.AddPhoto(ctx, kept); {
	case errors.Is(err, store.ErrManyPhotos):
		return nil, problem(http.StatusConflict, "This pull has pictures enough", "Take one of them away first.")
	case err != nil:
		return nil, inLog(err, m)
	}
	return AddPhoto201JSONResponse(fromPhoto(kept)), nil
}

func fromPhoto(p store.Photo) Photo {
	return Photo{Id: p.ID, Cavity: p.Cavity, Wide: p.Wide, Tall: p.Tall}
}

// GetPhoto is a picture.
func (s *Server) GetPhoto(ctx context.Context, r GetPhotoRequestObject) (GetPhotoResponseObject, error) {
	jpeg, err := s.store.Picture(ctx, r.PhotoId, given(r.Params.Small))
	return GetPhoto200ImagejpegResponse{Body: bytes.NewReader(jpeg), ContentLength: int64(len(jpeg))}, err
}

// StrikePhoto takes a picture away.
func (s *Server) StrikePhoto(ctx context.Context, r StrikePhotoRequestObject) (StrikePhotoResponseObject, error) {
	return StrikePhoto204Response{}, s.store.StrikePhoto(ctx, r.PhotoId, true)
}

// UnstrikePhoto brings a picture back.
func (s *Server) UnstrikePhoto(ctx context.Context, r UnstrikePhotoRequestObject) (UnstrikePhotoResponseObject, error) {
	return UnstrikePhoto204Response{}, s.store.StrikePhoto(ctx, r.PhotoId, false)
}
