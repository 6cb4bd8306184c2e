package gang

import (
	"errors"
	"fmt"
	"math"

	"bathyform/core/plane"
)

// OverlapError says which cavities come too near to one another, counted from 1.
type OverlapError struct {
	One, Other int
	Apart      float64 // mm between them; negative where they overlap
}

func (e OverlapError) Error() string {
	if e.Apart <= 0 {
		return fmt.Sprintf("cavities %d and %d lie over one another: move one away", e.One, e.Other)
	}
	return fmt.Sprintf("cavities %d and %d stand only %.1f mm apart: move one away, or allow less between them", e.One, e.Other, e.Apart)
}

// Place measures a layout that was made by hand: every cavity against every
// other, and the box round them all. With an [OverlapError] comes the layout
// that has it.
func Place(s Shape, poses []Pose, gap, edge float64) (Layout, error) {
	if err := (Ask{Gap: gap, Edge: edge}).Check(); err != nil {
		return Layout{}, err
	}
	if len(poses) == 0 || len(poses) > Most {
		return Layout{}, fmt.Errorf("from 1 to %d cavities can be laid, not %d", Most, len(poses))
	}
	for _, p := range poses {
		if v := p.X + p.Y + p.Turn; math.IsNaN(v) || math.IsInf(v, 0) || math.Abs(p.X)+math.Abs(p.Y) > 1e5 {
			return Layout{}, errors.New("a cavity needs a place and a turn that are numbers")
		}
	}
	t := &table{shape: s, ask: Ask{Gap: gap, Edge: edge}, gap: gap + 2*s.Slack, tol: eps * max(s.Radius, 1)}
	out := t.boxed("by hand", poses)
	rings := make([][]plane.Point, len(poses))
	for i, p := range poses {
		rings[i] = s.Laid(p)
		for j := range i {
			if !t.clear(p, poses[j], rings[i], rings[j]) {
				return out, OverlapError{j + 1, i + 1, apart(rings[i], rings[j], math.Inf(1)) - 2*s.Slack}
			}
		}
	}
	return out, nil
}

// Upright lays cavities side by side in rows over one another, none turned, the
// rows along y or else along x: as a mould takes them whose parting stands
// upright, so that each has its own way up. The topmost row is the full one.
// Over is what is left free between rows from side to side, mm; 0 where they may
// reach into one another.
func Upright(s Shape, count, rows int, gap, over, edge float64, alongY bool) (Layout, error) {
	a := Ask{Count: count, Gap: gap, Edge: edge}
	if err := a.Check(); err != nil {
		return Layout{}, err
	}
	if count < 1 || rows < 1 || rows > count {
		return Layout{}, errors.New("say how many cavities stand in the row")
	}
	t := &table{shape: s, ask: a, gap: gap + 2*s.Slack, tol: eps * max(s.Radius, 1)}
	pitch := t.slide(0, 0, 0, alongY)
	each := (count + rows - 1) / rows
	rise := 0.0
	if ring := bounds(s.Laid(Pose{})); over > 0 { // what runs between rows runs level
		if rise = ring[1] - ring[0] + over + 2*s.Slack; !alongY {
			rise = ring[3] - ring[2] + over + 2*s.Slack
		}
	}
	for n := 1 - each; n < each; n++ { // over its neighbours as well
		if d := t.slide(0, 0, float64(n)*pitch, !alongY); !math.IsInf(d, -1) {
			rise = max(rise, d)
		}
	}
	poses := make([]Pose, count)
	for i := range poses {
		row := i / each
		inRow := min(each, count-row*each)
		along := (float64(i%each) - float64(inRow-1)/2) * pitch
		up := (float64(rows-1)/2 - float64(row)) * rise
		if poses[i] = (Pose{X: along, Y: up}); alongY {
			poses[i] = Pose{X: up, Y: along}
		}
	}
	kind := "row"
	if rows > 1 {
		kind = "rows over one another"
	}
	return t.boxed(kind, poses), nil
}

// Hull is the convex outline of all cavities of a layout, exact to the mesh,
// where the shape was seen.
func (s Shape) Hull(poses []Pose) []plane.Point {
	var all []plane.Point
	for _, p := range poses {
		for _, q := range laid(s.Convex, p) {
			all = append(all, plane.Point{q[0] + s.At[0], q[1] + s.At[1]})
		}
	}
	return plane.Hull(all)
}
