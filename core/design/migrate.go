package design

import (
	"encoding/json"
	"fmt"

	"bathyform/core/axis"
	"bathyform/core/inhibit"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/core/prep"
	"bathyform/core/suit"
)

// Version 0 had no format: it was the database's own form of a design, under
// the names that the program's types had then. Its types stand here as they
// were and are never changed.

type place0 struct{ X, Y, Z float64 }

func (p place0) now() Place { return Place{p.X, p.Y, p.Z} }

type design0 struct {
	Mould struct {
		Draw      axis.Axis
		Attitudes struct{ RubberA, RubberB, Resin axis.Axis }
		Parting   *float64
		Clearance struct{ Beside, Below, Above float64 }
	}
	RubberOver float64
	Gates      struct {
		Feed                            practice.Feed
		SprueBore, WellWidth, WellDepth float64
		Vents                           []struct {
			At   place0
			Bore float64
		}
	}
	VentBore, ShotOver float64
	Kind               Kind
	Box                Box
	Keys               Keys
	Seam, Holes        Seam
	Sides              []struct {
		At    place0
		Strip bool
		Draw  place0
	}
	Gang          []struct{ X, Y, Turn float64 }
	Gap, Skin     float64
	Rubber, Resin string
}

func upgradeDesign(data []byte) ([]byte, error) {
	var old design0
	if err := json.Unmarshal(data, &old); err != nil {
		return nil, fmt.Errorf("%w: %w", ErrFormat, err)
	}
	if old.Gates.Feed == "" {
		return nil, fmt.Errorf("%w: it says neither its format nor how resin is fed", ErrFormat)
	}
	m, g := old.Mould, old.Gates
	d := Design{
		Draw:       m.Draw,
		RubberUpA:  m.Attitudes.RubberA,
		RubberUpB:  m.Attitudes.RubberB,
		ResinUp:    m.Attitudes.Resin,
		Parting:    m.Parting,
		Clearance:  practice.Clearance(m.Clearance),
		Rubber:     old.Rubber,
		Resin:      old.Resin,
		RubberOver: old.RubberOver,
		Feed:       g.Feed,
		SprueBore:  g.SprueBore,
		VentBore:   old.VentBore,
		WellWidth:  g.WellWidth,
		WellDepth:  g.WellDepth,
		ShotOver:   old.ShotOver,
		Kind:       old.Kind,
		Box:        old.Box,
		Keys:       old.Keys,
		Seam:       old.Seam,
		Holes:      old.Holes,
		Gap:        old.Gap,
		Skin:       old.Skin,
	}
	if d.Box != (Box{}) && d.Box.Form == "" {
		d.Box.Form = "rectangle"
	}
	if d.Keys != (Keys{}) && d.Keys.Kind == "" {
		d.Keys.Kind = "domes"
	}
	for _, v := range g.Vents {
		d.Vents = append(d.Vents, Vent{At: v.At.now(), Bore: v.Bore})
	}
	for _, s := range old.Sides {
		side := Side{At: s.At.now(), Strip: s.Strip}
		if s.Draw != (place0{}) {
			way := s.Draw.now()
			side.Draw = &way
		}
		d.Sides = append(d.Sides, side)
	}
	for _, p := range old.Gang {
		d.Gang = append(d.Gang, Pose{p.X, p.Y, p.Turn})
	}
	return Of(d).Encode()
}

type brief0 struct {
	Quality    string
	Surface    inhibit.Surface
	Generation int
	Inserts    []struct {
		Kind   prep.InsertKind
		Note   string
		Volume float64 // mm³
		At     *place0
	}
	Check *struct {
		Kind           string
		Value, Density float64
	}
	Kind  Kind
	Wants []suit.Want
	Day   *struct{ Celsius, Humidity float64 }
	Done  []string
}

func upgradeBrief(data []byte) ([]byte, error) {
	var old brief0
	if err := json.Unmarshal(data, &old); err != nil {
		return nil, fmt.Errorf("%w: %w", ErrFormat, err)
	}
	b := Brief{Quality: old.Quality, Surface: old.Surface, Generation: old.Generation, Kind: old.Kind, Wants: old.Wants, Done: old.Done}
	for _, in := range old.Inserts {
		now := Insert{Kind: in.Kind, Note: in.Note, Volume: in.Volume / 1000}
		if in.At != nil {
			at := in.At.now()
			now.At = &at
		}
		b.Inserts = append(b.Inserts, now)
	}
	if c := old.Check; c != nil {
		b.Check = &part.Check{Kind: c.Kind, Value: c.Value, Density: c.Density}
	}
	if day := old.Day; day != nil {
		b.Day = &prep.Day{Celsius: day.Celsius, Humidity: day.Humidity}
	}
	return EncodeBrief(b)
}
