package gang

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"

	"bathyform/core/plane"
)

// SetLayout is a gang of several parts of one set.
type SetLayout struct {
	Sets       int // complete ones
	Poses      []Placed
	Wide, Deep float64 // of the box, mm, edges included
	Diameter   float64 // of a round box, mm, edges included; 0 where none was asked for
}

// LaySet lays as many complete sets as there is room for, or Count of them
// into the smallest box it finds; ratio says how many of each shape a set has.
// Cavities are packed by their outlines, the largest first.
func LaySet(shapes []Shape, ratio []int, a Ask) (SetLayout, error) {
	if err := a.Check(); err != nil {
		return SetLayout{}, err
	}
	if len(shapes) == 0 || len(ratio) != len(shapes) {
		return SetLayout{}, fmt.Errorf("the ratio needs a number for each of the %d parts", len(shapes))
	}
	each := 0
	for _, n := range ratio {
		if n < 1 || n > Most {
			return SetLayout{}, fmt.Errorf("a set has from 1 to %d of a part, not %d", Most, n)
		}
		each += n
	}
	if a.Pot == 0 && a.Wide == 0 && a.Count == 0 {
		return SetLayout{}, errors.New("say how many sets, or how much room there is")
	}
	s := &sets{shapes: shapes, ratio: ratio, ask: a}
	most := Most / each
	if a.Count > 0 {
		most = min(most, a.Count)
	}
	if a.Pot == 0 && a.Wide == 0 {
		return s.smallest(a.Count)
	}
	r := room{wide: a.Wide - 2*a.Edge, deep: a.Deep - 2*a.Edge}
	if a.Pot > 0 {
		r = roundRoom(a.Pot/2 - a.Edge)
	}
	var best SetLayout
	for k := 1; k <= most; k++ {
		l, ok := s.lay(r, k)
		if !ok {
			break
		}
		best = l
	}
	switch {
	case best.Sets == 0:
		return best, ErrNoRoom
	case a.Count > 0 && best.Sets < a.Count:
		return best, fmt.Errorf("%w: %d sets instead of %d", ErrFewer, best.Sets, a.Count)
	}
	return best, nil
}

type sets struct {
	shapes []Shape
	ratio  []int
	ask    Ask
}

// lay packs k sets into a room; not ok where it finds no way.
func (s *sets) lay(r room, k int) (SetLayout, bool) {
	order := make([]int, len(s.shapes))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(i, j int) int { return cmp.Compare(s.shapes[j].Radius, s.shapes[i].Radius) })
	for _, turns := range turnings {
		for _, upward := range []bool{false, true} {
			if l, ok := s.packed(newPacking(s.shapes, turns, r, s.ask.Gap, upward), turns, order, k); ok {
				return l, true
			}
		}
	}
	return SetLayout{}, false
}

func (s *sets) packed(p *packing, turns []float64, order []int, k int) (SetLayout, bool) {
	l := SetLayout{Sets: k}
	for _, i := range order {
		for range k * s.ratio[i] {
			at, turn, ok := p.place(i)
			if !ok {
				return l, false
			}
			at.Turn = turns[turn]
			l.Poses = append(l.Poses, at)
		}
	}
	return s.measured(l, p.room.radius > 0), s.sound(l.Poses)
}

func (s *sets) rings(poses []Placed) [][]plane.Point {
	rings := make([][]plane.Point, len(poses))
	for i, p := range poses {
		rings[i] = s.shapes[p.Shape].Laid(p.Pose)
	}
	return rings
}

// measured is the box round a layout, which is moved into its middle.
func (s *sets) measured(l SetLayout, pot bool) SetLayout {
	rings := s.rings(l.Poses)
	b := extent(rings)
	slack := 0.0
	for _, sh := range s.shapes {
		slack = max(slack, sh.Slack)
	}
	l.Wide, l.Deep = b[1]-b[0]+2*(s.ask.Edge+slack), b[3]-b[2]+2*(s.ask.Edge+slack)
	if pot {
		far := 0.0
		for _, r := range rings {
			for _, q := range r {
				far = max(far, math.Hypot(q[0], q[1]))
			}
		}
		l.Diameter = 2 * (far + s.ask.Edge + slack)
		return l
	}
	for i := range l.Poses {
		l.Poses[i].X -= (b[0] + b[1]) / 2
		l.Poses[i].Y -= (b[2] + b[3]) / 2
	}
	return l
}

// sound checks every cavity against every other by their outlines.
func (s *sets) sound(poses []Placed) bool {
	rings := s.rings(poses)
	for i, p := range poses {
		for j := range i {
			a, b := s.shapes[p.Shape], s.shapes[poses[j].Shape]
			if d := math.Hypot(p.X-poses[j].X, p.Y-poses[j].Y); d >= a.Radius+b.Radius+s.ask.Gap {
				continue
			}
			if apart(rings[i], rings[j], s.ask.Gap) < s.ask.Gap-eps*max(a.Radius, b.Radius, 1) {
				return false
			}
		}
	}
	return true
}

// smallest tries boxes of several widths, as deep as they need to be.
func (s *sets) smallest(k int) (best SetLayout, err error) {
	area, widest := 0.0, 0.0
	for i, sh := range s.shapes {
		b := bounds(sh.Ring)
		area += float64(k*s.ratio[i]) * (b[1] - b[0] + s.ask.Gap) * (b[3] - b[2] + s.ask.Gap)
		widest = max(widest, 2*sh.Radius)
	}
	for _, f := range []float64{0.7, 0.85, 1, 1.2, 1.5} {
		wide := max(widest, f*math.Sqrt(area))
		l, ok := s.lay(room{wide: wide, deep: 2*area/wide + 2*widest}, k)
		if ok && (best.Sets == 0 || l.Wide*l.Deep < best.Wide*best.Deep) {
			best = l
		}
	}
	if best.Sets == 0 {
		return best, ErrNoRoom
	}
	return best, nil
}

// Rubber is what a box of the layout's size takes, less its cavities, in mm³:
// height is the box's, parts the volume of one of each part.
func (l SetLayout) Rubber(height float64, parts []float64) float64 {
	v := l.Wide * l.Deep * height
	if l.Diameter > 0 {
		v = math.Pi / 4 * l.Diameter * l.Diameter * height
	}
	for _, p := range l.Poses {
		v -= parts[p.Shape]
	}
	return max(0, v)
}
