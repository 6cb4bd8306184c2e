package kinds

import (
	"bathyform/core/axis"
	"bathyform/core/derive"
	"bathyform/core/quantity"
)

// Names of pours that are spoken of.
const (
	halfA = "Half A"
	halfB = "Half B"
)

// Rubber is what a mould takes, ready to be shared out into pours.
type Rubber struct {
	UpA, UpB axis.Axis
	Whole    derive.Number // mL, all of it
	Skin     *derive.Number
	Pieces   []Piece                    // in the order of opening, the halves last; none until the rubber is divided
	Depth    func(up axis.Axis) float64 // mm of the box along a way up
	Bed      func(up axis.Axis) float64 // mm over the floor of the parting, 0 where it stands upright
}

// Piece is one piece of rubber and its share of the whole.
type Piece struct {
	Name   string
	Volume derive.Number // mL
}

// What the rubber is poured like; common practice, no source.
const (
	corner = "A thin, high stream into one low corner, never on the part; slower as it goes round and over it."
	fins   = "A thin, slow stream into a corner away from the fins: it bends tape that it meets."
	spout  = "Through the spout at the low end, slowly, until it stands in every vent of the shell."
	walled = "Into the places walled off round the part; they cure together."
)

// Share lays the pours of a kind in their order.
func (k *Kind) Share(r Rubber) []Pour {
	spot := corner
	if k == Tape {
		spot = fins
	}
	switch {
	case k.Shelled:
		p := Pour{Name: "Skin", Pieces: []string{"Skin"}, Up: r.UpA, Spot: spout}
		if r.Skin != nil {
			p.Volume, p.Known = *r.Skin, true
		}
		return []Pour{p}
	case !k.Halves:
		return []Pour{
			{Name: "Block", Pieces: []string{"Block"}, Up: r.UpA, Volume: r.Whole, Known: true, Level: r.Depth(r.UpA), Spot: spot},
		}
	}
	a := Pour{Name: halfA, Pieces: []string{halfA}, Up: r.UpA, Bed: r.Bed(r.UpA), Level: r.Depth(r.UpA), Spot: spot}
	b := Pour{Name: halfB, Pieces: []string{halfB}, Up: r.UpB, Bed: r.Bed(r.UpB), Level: r.Depth(r.UpB), Spot: spot}
	n := len(r.Pieces) - 2
	if n < 0 {
		return []Pour{a, b}
	}
	a.Volume, a.Known = r.Pieces[n].Volume, true
	b.Volume, b.Known = r.Pieces[n+1].Volume, true
	if n == 0 {
		return []Pour{a, b}
	}
	side := Pour{Name: quantity.Plural(n, "side piece", "side pieces"), Up: r.UpA, Spot: walled, Known: true}
	sum := 0.0
	var in []derive.Input
	for _, p := range r.Pieces[:n] {
		side.Pieces = append(side.Pieces, p.Name)
		sum += p.Volume.Value
		in = append(in, p.Volume.As(p.Name))
	}
	side.Volume = derive.Of(quantity.Volume, sum, "sum of the side pieces", in...)
	return []Pour{side, a, b}
}
