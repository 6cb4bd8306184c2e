package channel

import (
	"errors"
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// ErrNoBlind says that a blind channel cannot be laid.
var ErrNoBlind = errors.New("nothing leaves room for the blind channel at the end of a runner or at the sprue's foot: " +
	"make it shorter, or leave more room round the cavities")

// ErrNoSump says that a foot cannot be laid.
var ErrNoSump = errors.New("there is no room for the foot under the sprue: make it less deep, or move the sprue")

// Sumped adds the foot under every sprue that stands beside the parts: a pocket
// as wide as the sprue ends, into which the first resin falls with its froth and
// dust.
func (r *Room) Sumped(bodies []Body, deep float64) (out []Body, err error) {
	for _, b := range bodies {
		if b.Kind != Sprue || b.Cavity != Shared {
			continue
		}
		wide := b.Wide(b.Length())
		at := b.Path[len(b.Path)-1]
		sump := Body{Kind: Sump, Cavity: Shared, Bore: wide, Path: []r3.Vec{at, r3.Sub(at, r3.Vec{Z: deep})}}
		if !r.opens(sump, bodies) {
			err = ErrNoSump
			continue
		}
		out = append(out, sump)
	}
	return out, err
}

// turns are the ways in a level plane that are tried for a blind channel.
const turns = 16

// Blinded adds a blind channel of a length for every sprue: where a runner ends,
// straight on, so that the first resin runs past the gate into it; else at the
// foot of the sprue.
func (r *Room) Blinded(bodies []Body, long float64) (out []Body, err error) {
	for _, sprue := range bodies {
		if sprue.Kind != Sprue || sprue.Cavity != Shared {
			continue
		}
		found, ok := r.blindAt(bodies, sprue, long)
		if !ok {
			err = ErrNoBlind
			continue
		}
		out = append(out, found)
	}
	return out, err
}

// blindAt is the blind channel of one sprue.
func (r *Room) blindAt(bodies []Body, sprue Body, long float64) (Body, bool) {
	type start struct{ at, way r3.Vec }
	foot := sprue.Path[len(sprue.Path)-1]
	bore := 0.0
	var starts []start
	for _, b := range bodies {
		if b.Kind != Runner {
			continue
		}
		bore = max(bore, b.Bore)
		if last := len(b.Path) - 1; b.Path[last].Z == b.Path[last-1].Z && ends(b.Path[last], bodies) {
			starts = append(starts, start{b.Path[last], r3.Unit(r3.Sub(b.Path[last], b.Path[last-1]))})
		}
	}
	if bore == 0 { // the gate leaves the sprue itself
		bore = sprue.Wide(sprue.Length()) * runnerOfSprue
	}
	for turn := range turns {
		sin, cos := math.Sincos(2 * math.Pi * float64(turn) / turns)
		way := r3.Vec{X: cos, Y: sin}
		if r.Sheet == nil || r.Sheet.Off(r3.Add(foot, way)) < 1e-6 {
			starts = append(starts, start{foot, way})
		}
	}
	for _, s := range starts {
		b := Body{Kind: Blind, Cavity: Shared, Bore: bore, Path: []r3.Vec{s.at, r3.Add(s.at, r3.Scale(long, s.way))}}
		if r.opens(b, bodies) {
			return b, true
		}
	}
	return Body{}, false
}

// runnerOfSprue is how wide a blind channel is against a sprue that feeds a gate
// by itself. Common practice, no source.
const runnerOfSprue = 0.75

// ends is whether no runner goes on from a place.
func ends(at r3.Vec, bodies []Body) bool {
	met := 0
	for _, b := range bodies {
		if (b.Kind == Runner || b.Kind == Sprue) && b.away(at) < 1e-6 {
			met++
		}
	}
	return met == 1
}

// opens is whether a pocket off a channel is clear of all parts, and of all
// channels that it does not grow out of.
func (r *Room) opens(b Body, bodies []Body) bool {
	start := b.Path[0]
	if !r.Grows && !r.walled(b.Path[len(b.Path)-1], b.Bore/2) {
		return false
	}
	return b.steps(b.Bore/4, func(at r3.Vec, along, radius float64) bool {
		for place := range r.Places {
			if r.near(place, at, radius+r.Clear-1e-6) {
				return false
			}
		}
		for _, o := range bodies {
			if o.away(start) < 1e-6 && along <= jointed*(o.Bore+b.Bore) {
				continue // they grow out of one another
			}
			if o.beyond(at) < radius+r.Between {
				return false
			}
		}
		return true
	})
}
