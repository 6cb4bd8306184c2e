package gate

import (
	"context"
	"fmt"
	"math"

	"bathyform/core/channel"
	"bathyform/core/derive"
	"bathyform/core/mould"
	"bathyform/core/pieces"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Lay adds the vents of every cavity to a way in, and finds the air that is
// left in each.
func (m Mould) Lay(ctx context.Context, c Choices, fed Fed) (Layout, error) {
	r, _, err := m.room()
	if err != nil {
		return Layout{}, err
	}
	return m.into(ctx, r, c, fed)
}

// into lays the channels into a room, which has them afterwards.
func (m Mould) into(ctx context.Context, r *channel.Room, c Choices, fed Fed) (Layout, error) {
	c = c.of(m.Resin)
	var err error
	l := Layout{System: fed.System, Known: m.Known, Fault: c.Fault, Floor: r.Low.Z, Top: r.High.Z - r.Low.Z, Faults: fed.Trouble,
		PartLow: math.Inf(1), PartHigh: math.Inf(-1)}
	r.Bodies = append(r.Bodies, fed.Bodies...)
	if len(r.Places) > 0 {
		l.home = func(p r3.Vec) r3.Vec { return r.Mesh(0, fed.Frame.In(p)) }
	}
	vents := make([]int, len(r.Bodies))
	for i := range vents {
		vents[i] = -1
	}
	type class struct {
		up, air r3.Vec
		lost    string
	}
	first := map[class]int{}
	for i := range r.Places {
		place := &r.Places[i]
		l.PartLow, l.PartHigh = min(l.PartLow, place.Low()-l.Floor), max(l.PartHigh, place.High()-l.Floor)
		cavity := Cavity{Low: place.Low() - l.Floor, Like: i}
		if cavity.Space, err = m.Standing(ctx, place.Up()); err != nil {
			return l, err
		}
		cavity.Air = cavity.Space
		air := place.Up()
		if c.Tilt != (r3.Vec{}) {
			air = r.Way(i, fed.Frame.In(c.Tilt))
			if cavity.Air, err = m.Standing(ctx, air); err != nil {
				return l, err
			}
		}
		here := c.stood(cavity.Space, m.Resin)
		if !m.Known {
			l.Cavities = append(l.Cavities, cavity)
			continue
		}
		_, feet, problems := openings(cavity.Space, here)
		l.Problems = problems // the same for all
		var open []Vent
		for k, foot := range feet {
			if math.IsNaN(foot.X) || !here.Vents[k].State.There() {
				continue
			}
			b, err := r.Rise(channel.Vent, i, r.Box(i, foot), here.Vents[k].Bore)
			if err != nil {
				cavity.Lost = append(cavity.Lost, k)
				continue
			}
			var more []channel.Body
			b, more, err = m.mouth(r, b, here.Vents[k])
			if err != nil {
				l.Problems = append(l.Problems, VentProblem{k, err})
			}
			r.Bodies, vents = append(r.Bodies, b), append(vents, k)
			for _, o := range more {
				r.Bodies, vents = append(r.Bodies, o), append(vents, k)
			}
			if here.Vents[k].State.Opens() {
				open = append(open, here.Vents[k])
			}
		}
		key := class{place.Up(), air, fmt.Sprint(cavity.Lost)}
		if k, ok := first[key]; ok {
			cavity.Like, cavity.Trapped, cavity.Course = k, l.Cavities[k].Trapped, l.Cavities[k].Course
		} else {
			first[key] = i
			if inlets := mouthsOf(r, fed.Bodies, i); len(inlets) > 0 {
				cavity.Course = cavity.Space.Course(inlets)
			}
			if cavity.Trapped, err = cavity.Air.Trap(openedBy(cavity.Air, here, open)); err != nil {
				return l, err
			}
		}
		l.Cavities = append(l.Cavities, cavity)
		if err := ctx.Err(); err != nil {
			return l, err
		}
	}
	l.take(fed, r.Bodies, vents, c.Vents)
	return l, nil
}

// mouthsOf are where the gates of a cavity meet its part, mesh coordinates.
func mouthsOf(r *channel.Room, bodies []channel.Body, cavity int) (out []r3.Vec) {
	for _, b := range bodies {
		if b.Kind == channel.Gate && b.Cavity == cavity {
			out = append(out, r.Mesh(cavity, b.Mouth()))
		}
	}
	return out
}

// take makes the channels of the bodies.
func (l *Layout) take(fed Fed, bodies []channel.Body, vents []int, of []Vent) {
	frame := fed.Frame
	for i, b := range bodies {
		volume := b.Full()
		switch {
		case i < len(fed.Volumes):
			volume = fed.Volumes[i]
		case of[vents[i]].Rim: // it joins a well, as other vents join nothing
			all := channel.Volumes(bodies[:i+1])
			volume = all[i]
		}
		c := Channel{Body: b, Vent: vents[i], up: frame.Up, Fills: vents[i] < 0 || of[vents[i]].State.Opens(),
			Foot: b.Path[0].Z - l.Floor, Top: b.Path[len(b.Path)-1].Z - l.Floor, Volume: held(b, volume)}
		c.Path = make([]r3.Vec, len(b.Path))
		for k, p := range b.Path {
			c.Path[k] = frame.Out(p)
		}
		c.Half, c.Flat = frame.Out(b.Half), frame.Out(b.Flat)
		c.Cut = vents[i] >= 0 && of[vents[i]].Cut
		l.Channels = append(l.Channels, c)
	}
}

// held is what a body holds besides what others hold at its joints, mL.
func held(b channel.Body, volume float64) derive.Number {
	length := derive.From("length", quantity.Length, b.Length(), "of its way")
	inputs := []derive.Input{derive.From("bore", quantity.Length, b.Bore, "this design"), length}
	formula := "π/4 × bore² × length"
	if b.Half != (r3.Vec{}) {
		formula = "π/8 × bore² × length, half round"
	}
	if b.Flat != (r3.Vec{}) {
		formula = "length × the strip of its thickness out of π/4 × bore²"
		inputs = append(inputs, derive.From("thick", quantity.Length, b.Thick, "this design"))
	}
	if b.Rim > 0 {
		formula = "π × length × (bore² + bore × rim + rim²) / 12"
		inputs = append(inputs, derive.From("rim", quantity.Length, b.Rim, "this design"))
	}
	if shared := b.Full() - volume; shared > 1e-9*volume {
		formula += " − at the joint"
		inputs = append(
			inputs,
			derive.From("at the joint", quantity.Volume, shared/1000, "counted with the other, out of whose middle it grows"),
		)
	}
	return derive.Of(quantity.Volume, volume/1000, formula, inputs...)
}

// Rods are what leaves the channels in the rubber; vents that are cut out of it
// afterwards have none.
func (l Layout) Rods() (out []mould.Rod) {
	for _, c := range l.Channels {
		if c.Cut {
			continue
		}
		out = append(out, mould.Rod{Name: c.Named(len(l.Cavities)), Volume: c.Volume,
			Bore: pieces.Bore{
				Path:   c.Path,
				Wide:   c.Bore,
				Rim:    c.Rim,
				Half:   c.Half,
				Flat:   c.Flat,
				Thick:  c.Thick,
				Volume: c.Volume.Value * 1000,
			}})
	}
	return out
}
