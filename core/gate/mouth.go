package gate

import (
	"errors"
	"math"

	"bathyform/core/channel"

	"gonum.org/v1/gonum/spatial/r3"
)

// How vents end. All common practice, no source.
const (
	underRim = 1.0 // bores of a vent under the rim of the well at which it opens into it
	climbs   = 0.2 // of a vent's way across to the well that it rises at least: air goes on
	deepCup  = 0.5 // of a cup's width
)

// Why a vent does not end as it was asked to.
var (
	errNoRim = errors.New(
		"no rising way leads from it to the rim of a well: it goes straight up instead. Lead it by hand, or leave it open",
	)
	errNoCup = errors.New("there is no room for its cup between the part and the top of the mould, or beside it: it goes without")
)

// mouth is how a vent that was led to the top ends there: as it does, at the rim
// of the well, or in a cup. With an error it ends as it does.
func (m Mould) mouth(r *channel.Room, b channel.Body, v Vent) (channel.Body, []channel.Body, error) {
	if v.Rim {
		if led, ok := m.toRim(r, b); ok {
			return led, nil, nil
		}
		return b, nil, errNoRim
	}
	if v.Cup <= v.Bore {
		return b, nil, nil
	}
	last := len(b.Path) - 1
	neck, top, before := b.Path[last], b.Path[last], b.Path[last-1]
	neck.Z -= deepCup * v.Cup
	cup := channel.Body{Kind: channel.Overflow, Cavity: b.Cavity, Bore: b.Bore, Rim: v.Cup, Path: []r3.Vec{neck, top}}
	if upright := math.Hypot(before.X-top.X, before.Y-top.Y) < 1e-6; !upright || neck.Z <= before.Z || !r.Free(cup) {
		return b, nil, errNoCup
	}
	b.Path = append(append([]r3.Vec(nil), b.Path[:last]...), neck)
	return b, []channel.Body{cup}, nil
}

// toRim leads a vent that goes up beside a well into it, a little under its rim
// and never at its floor, rising all the way; of all wells into the nearest.
func (m Mould) toRim(r *channel.Room, b channel.Body) (best channel.Body, ok bool) {
	least := math.Inf(1)
	for _, well := range r.Bodies {
		if well.Kind != channel.Well || well.Cavity != channel.Shared && well.Cavity != b.Cavity {
			continue
		}
		to := well.Path[len(well.Path)-1]
		to.Z -= underRim * b.Bore
		if to.Z <= well.Path[0].Z {
			continue
		}
		for i := len(b.Path) - 1; i > 0; i-- { // from as high up its way as may be
			at, low := b.Path[i], b.Path[i-1]
			far := math.Hypot(at.X-to.X, at.Y-to.Y)
			turn := to.Z - climbs*far
			if at.Z < turn {
				turn = at.Z
			}
			if far < 1e-6 || turn < low.Z || at.Z <= low.Z {
				continue
			}
			share := (turn - low.Z) / (at.Z - low.Z)
			led := b
			led.Path = append(append([]r3.Vec(nil), b.Path[:i]...), r3.Add(low, r3.Scale(share, r3.Sub(at, low))), to)
			if share == 0 {
				led.Path = append(led.Path[:i], to)
			}
			if long := led.Length(); long < least && r.Free(led) {
				best, least, ok = led, long, true
			}
		}
	}
	return best, ok
}
