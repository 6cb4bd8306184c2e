package sheet

import (
	"fmt"
	"math"

	"bathyform/core/gang"
	"bathyform/core/grid"
	"bathyform/core/mould"
	"bathyform/core/plane"
	"bathyform/core/tone"

	"gonum.org/v1/gonum/spatial/r3"
)

// between is the room between boards on a sheet, mm.
const between = 6

// Boards are the walls and the base of a mould's box, butted: the long walls
// stand between the end walls, all of them on the base. Marked are the
// boards' own thickness where others meet them, and how high to pour: bed and
// first half, then the whole.
func Boards(panels []mould.Panel, thick, first, whole float64) Sheet {
	s := Sheet{Name: "Boards of the box"}
	y := 0.0
	for _, panel := range panels {
		x := 0.0
		for n := range panel.Count {
			w, h := panel.A.Value, panel.B.Value
			s.Lines = append(s.Lines, rectangle(tone.Cut, x, y, w, h))
			label := panel.Name
			if panel.Count > 1 {
				label = fmt.Sprintf("%s %d", panel.Name, n+1)
			}
			s.write(x+thick+3, y+3, 4, label)
			if panel.Name == "base" {
				s.Lines = append(s.Lines, rectangle(tone.Mark, x+thick, y+thick, w-2*thick, h-2*thick))
			} else {
				s.arrow(x+thick+6, y+10, min(20, h/3))
				s.pourMarks(x, y, w, first, whole)
				if panel.Name != "long walls" {
					for _, at := range []float64{x + thick, x + w - thick} {
						s.Lines = append(s.Lines, line(tone.Mark, []plane.Point{{at, y}, {at, y + h}}, false))
					}
				}
			}
			x += w + between
		}
		y += panel.B.Value + between
	}
	s.ruled()
	return s
}

func (s *Sheet) pourMarks(x, y, w, first, whole float64) {
	for _, at := range []float64{first, whole} {
		if at <= 0 {
			continue
		}
		s.Lines = append(s.Lines, line(tone.Mark, []plane.Point{{x, y + at}, {x + w, y + at}}, false))
		s.write(x+w/2, y+at+1, 3, fmt.Sprintf("%.1f mm", at))
	}
}

// PartingBoard is the board that the part is set into up to the parting: the
// inside of the box seen along the draw, in its frame, with the outline of
// every part cut out.
func PartingBoard(walls []plane.Point, frame grid.Frame, section [][]r3.Vec) Sheet {
	s := Sheet{Name: "Parting board", Lines: []Line{line(tone.Cut, walls, true)}}
	for _, loop := range section {
		ring := make([]plane.Point, len(loop))
		for i, q := range loop {
			in := frame.In(q)
			ring[i] = plane.Point{in.X, in.Y}
		}
		if len(ring) >= 3 {
			s.Lines = append(s.Lines, line(tone.Cut, ring, true))
		}
	}
	low, high := s.bounds()
	s.write(low[0], high[1]+2, 4, "half A upwards")
	s.ruled()
	return s
}

// GangPlan is a gang seen along the draw, to set the masters and the rods out by.
func GangPlan(l gang.Layout, shape gang.Shape, in mould.InPlan) Sheet {
	s := Sheet{Name: fmt.Sprintf("Gang of %d", len(l.Poses))}
	if l.Diameter > 0 {
		s.Lines = append(s.Lines, line(tone.Cut, circle(l.Diameter/2), true))
	} else {
		s.Lines = append(s.Lines, rectangle(tone.Cut, in.Low[0], in.Low[1], in.High[0]-in.Low[0], in.High[1]-in.Low[1]))
	}
	for _, w := range in.Ways {
		for _, side := range w.Edges() {
			s.Lines = append(s.Lines, line(tone.Score, side, true))
		}
	}
	for i, p := range l.Poses {
		s.Lines = append(s.Lines, line(tone.Mark, shape.Laid(p), true))
		s.write(p.X-2, p.Y-2, 4, fmt.Sprint(i+1))
	}
	s.ruled()
	return s
}

// circle is a ring of straight stretches, closer to the circle than a saw.
func circle(radius float64) []plane.Point {
	const n = 180
	out := make([]plane.Point, n)
	for i := range out {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / n)
		out[i] = plane.Point{radius * cos, radius * sin}
	}
	return out
}
