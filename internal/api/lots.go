package api

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strings"

	"bathyform/internal/store"

	openapi_types "github.com/oapi-codegen/runtime/types"
)

func fromLot(l store.Lot) Lot {
	return Lot{Id: l.ID, Version: l.Version, MaterialId: l.MaterialID, Name: l.Name, Bought: openapi_types.Date{Time: l.Bought},
		Opened: date(l.Opened), Expires: date(l.Expires), Keeps: l.Keeps, GramsA: l.GramsA, GramsB: l.GramsB, Price: l.Price}
}

// AddLot puts a lot on the shelf.
func (s *Server) AddLot(ctx context.Context, r AddLotRequestObject) (AddLotResponseObject, error) {
	m, err := s.store.Material(ctx, r.MaterialId)
	if err != nil {
		return nil, err
	}
	lot, err := s.toLot(*r.Body, m)
	if err != nil {
		return nil, err
	}
	lot.ID, lot.Version = newID(r.Params.IdempotencyKey), 1
	if err := lotTaken(s.store.AddLot(ctx, lot), lot.Name); err != nil {
		return nil, err
	}
	return AddLot201JSONResponse(fromLot(lot)), nil
}

// CorrectLot puts right what was entered of a lot.
func (s *Server) CorrectLot(ctx context.Context, r CorrectLotRequestObject) (CorrectLotResponseObject, error) {
	from, err := from(r.Params.IfMatch, r.Params.IdempotencyKey)
	if err != nil {
		return nil, err
	}
	was, err := s.store.Lot(ctx, r.LotId)
	if err != nil {
		return nil, err
	}
	m, err := s.store.Material(ctx, was.MaterialID)
	if err != nil {
		return nil, err
	}
	lot, err := s.toLot(*r.Body, m)
	if err != nil {
		return nil, err
	}
	lot.ID = was.ID
	return CorrectLot204Response{}, lotTaken(s.store.WriteLot(ctx, lot, from), lot.Name)
}

func lotTaken(err error, name string) error {
	if errors.Is(err, store.ErrTaken) {
		return problem(http.StatusConflict, fmt.Sprintf("There is a lot %s of it already", name),
			"Put that one right, or give this one another number.")
	}
	return err
}

// mostGrams is more than any shop buys of a lot.
const mostGrams = 1e7

// toLot reads a lot, as far as it can be right.
func (s *Server) toLot(b NewLot, m store.Material) (store.Lot, error) {
	lot := store.Lot{MaterialID: m.ID, Name: strings.TrimSpace(b.Name), Bought: b.Bought.Time, Keeps: b.Keeps,
		GramsA: b.GramsA, GramsB: b.GramsB, Price: b.Price}
	if b.Opened != nil {
		lot.Opened = &b.Opened.Time
	}
	if b.Expires != nil {
		lot.Expires = &b.Expires.Time
	}
	refuse := func(title, detail string) (store.Lot, error) {
		return lot, problem(http.StatusUnprocessableEntity, title, detail)
	}
	switch two := m.PartsB > 0; {
	case lot.Name == "":
		return refuse("The lot needs its number", "It stands on the label. Without one call it by the day it was bought.")
	case !(b.GramsA > 0 && b.GramsA < mostGrams) || !(b.GramsB >= 0 && b.GramsB < mostGrams):
		return refuse("That weight cannot be right", "Give what stood on the label when it was bought, both parts apart.")
	case two && b.GramsB == 0:
		return refuse("How much of B?", "It is mixed of two parts: give both, for they do not run out together.")
	case !two && b.GramsB > 0:
		return refuse("There is no part B", "This material has one part.")
	case b.Price != nil && *b.Price < 0:
		return refuse("That price cannot be right", "Leave it empty where nobody knows.")
	case lot.Bought.After(s.now().AddDate(0, 0, 1)):
		return refuse("That day has not come yet", "Enter a lot when it has come.")
	case lot.Opened != nil && (lot.Opened.Before(lot.Bought) || lot.Opened.After(s.now().AddDate(0, 0, 1))):
		return refuse("It cannot have been opened then", "It was bought on "+lot.Bought.Format("2 January 2006")+".")
	}
	return lot, nil
}

// MoveLot keeps what was counted on the shelf, or thrown away.
func (s *Server) MoveLot(ctx context.Context, r MoveLotRequestObject) (MoveLotResponseObject, error) {
	lot, err := s.store.Lot(ctx, r.LotId)
	if err != nil {
		return nil, err
	}
	b := r.Body
	switch {
	case !(b.GramsA >= 0 && b.GramsA < mostGrams) || !(b.GramsB >= 0 && b.GramsB < mostGrams):
		return nil, problem(
			http.StatusUnprocessableEntity,
			"That weight cannot be right",
			"What stands there weighs nothing or more.",
		)
	case b.What == NewMoveWhatThrown && b.GramsA+b.GramsB == 0:
		return nil, problem(http.StatusUnprocessableEntity, "Nothing was thrown away", "Give what it weighed.")
	case b.Day.Before(lot.Bought):
		return nil, problem(http.StatusUnprocessableEntity, "It was not there by then",
			"Lot "+lot.Name+" was bought on "+lot.Bought.Format("2 January 2006")+".")
	case b.Day.After(s.now().AddDate(0, 0, 1)):
		return nil, problem(http.StatusUnprocessableEntity, "That day has not come yet", "Count it when it has.")
	}
	return MoveLot204Response{}, s.store.AddMove(ctx, store.Move{ID: newID(r.Params.IdempotencyKey), MaterialID: lot.MaterialID,
		Lot: lot.Name, Day: b.Day.Time, What: string(b.What), GramsA: b.GramsA, GramsB: b.GramsB, Says: strings.TrimSpace(given(b.Says))})
}
