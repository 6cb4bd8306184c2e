package sheet

import (
	"fmt"
	"math"

	"bathyform/core/box"
	"bathyform/core/plane"
	"bathyform/core/tone"
)

// What boxes are cut by; common practice, no source.
const (
	fingers   = 3.0  // lengths of a board's thickness that a finger is long
	flap      = 15.0 // mm, glued behind the next wall
	kerfEvery = 4.0  // mm between scores where card is bent round
)

// Jointed is a rectangular box whose walls lock into one another with
// fingers as deep as the board is thick; the base stands under all of them.
func Jointed(wide, deep, tall, thick float64, marks ...float64) Sheet {
	s := Sheet{Name: "Boards with finger joints"}
	n := max(3, int(tall/(fingers*max(thick, 1)))|1)
	x := 0.0
	for i, w := range []float64{wide + 2*thick, wide + 2*thick, deep + 2*thick, deep + 2*thick} {
		ring := fingered(w, tall, thick, n, i < 2)
		for k := range ring {
			ring[k][0] += x
		}
		s.Lines = append(s.Lines, line(tone.Cut, ring, true))
		s.write(x+thick+3, 3, 4, fmt.Sprintf("wall %d, this way up for half A", i+1))
		s.arrow(x+thick+2, 10, min(20, tall/3))
		for _, m := range marks {
			if m > 0 && m < tall {
				s.Lines = append(s.Lines, line(tone.Mark, []plane.Point{{x + thick, m}, {x + w - thick, m}}, false))
				s.write(x+w/2, m+1, 3, fmt.Sprintf("%.1f mm", m))
			}
		}
		x += w + between
	}
	s.Lines = append(
		s.Lines,
		rectangle(tone.Cut, 0, tall+between, wide+2*thick, deep+2*thick),
		rectangle(tone.Mark, thick, tall+between+thick, wide, deep),
	)
	s.write(thick+3, tall+between+thick+3, 4, "base")
	s.ruled()
	return s
}

// arrow marks which way is up.
func (s *Sheet) arrow(x, y, long float64) {
	s.Lines = append(
		s.Lines,
		line(tone.Mark, []plane.Point{{x, y}, {x, y + long}}, false),
		line(tone.Mark, []plane.Point{{x - 2, y + long - 4}, {x, y + long}, {x + 2, y + long - 4}}, false),
	)
}

// fingered is a wall whose upright edges carry n fingers in turn; out begins
// with a finger that stands out.
func fingered(w, h, t float64, n int, out bool) []plane.Point {
	var right, left []plane.Point
	for i := range n {
		in := 0.0
		if (i%2 == 0) != out {
			in = t
		}
		lo, hi := h*float64(i)/float64(n), h*float64(i+1)/float64(n)
		right = append(right, plane.Point{w - in, lo}, plane.Point{w - in, hi})
		left = append(left, plane.Point{in, lo}, plane.Point{in, hi})
	}
	for i := len(left) - 1; i >= 0; i-- {
		right = append(right, left[i])
	}
	return right
}

// Folded is a box from one scored sheet: the base with four walls folded up,
// each long wall with flaps that are glued behind the end walls.
func Folded(wide, deep, tall float64) Sheet {
	s := Sheet{Name: "Box folded from one sheet"}
	f := min(flap, deep*0.4)
	c := min(f, tall) * 0.3 // flaps are cut slanting, so that they slip in
	// the flaps stand beside the front and back walls
	ring := []plane.Point{
		{0, -tall}, {wide, -tall}, {wide + f, -tall + c}, {wide + f, -c}, {wide, 0},
		{wide + tall, 0}, {wide + tall, deep}, {wide, deep},
		{
			wide + f,
			deep + c,
		}, {wide + f, deep + tall - c}, {wide, deep + tall}, {0, deep + tall}, {-f, deep + tall - c}, {-f, deep + c}, {0, deep},
		{-tall, deep}, {-tall, 0}, {0, 0}, {-f, -c}, {-f, -tall + c},
	}
	s.Lines = append(s.Lines, line(tone.Cut, ring, true))
	for _, l := range [][]plane.Point{{{0, 0}, {wide, 0}}, {{0, deep}, {wide, deep}}, {{0, 0}, {0, deep}}, {{wide, 0}, {wide, deep}},
		{{0, -tall}, {0, 0}}, {{wide, -tall}, {wide, 0}}, {{0, deep}, {0, deep + tall}}, {{wide, deep}, {wide, deep + tall}}} {
		s.Lines = append(s.Lines, line(tone.Score, l, false))
	}
	s.write(3, 3, 4, "base; fold up along the scores")
	s.ruled()
	return s
}

// Bent is the strip of a wall that is bent round, with its lap, folds where
// it changes direction and scores where it runs in a curve.
func Bent(b box.Box, tall, lap float64) Sheet {
	s := Sheet{Name: "Wall, bent from a strip"}
	s.Lines = append(s.Lines, rectangle(tone.Cut, 0, 0, b.Wall+lap, tall))
	x := 0.0
	for _, bend := range b.Bends {
		if bend.Radius > 0 && bend.Length > kerfEvery {
			n := int(math.Ceil(bend.Length / kerfEvery))
			for i := range n + 1 {
				at := x + bend.Length*float64(i)/float64(n)
				s.Lines = append(s.Lines, line(tone.Score, []plane.Point{{at, 0}, {at, tall}}, false))
			}
			s.write(x+2, tall+2, 3, fmt.Sprintf("R %.0f", bend.Radius))
		} else if bend.Radius > 0 {
			s.Lines = append(s.Lines, line(tone.Score, []plane.Point{{x, 0}, {x, tall}}, false))
		}
		x += bend.Length
	}
	s.Lines = append(s.Lines, line(tone.Mark, []plane.Point{{b.Wall, 0}, {b.Wall, tall}}, false))
	s.write(b.Wall+2, 3, 3, "lap")
	ring := make([]plane.Point, len(b.Ring)) // where it stands on its base
	for i, p := range b.Ring {
		ring[i] = plane.Point{p[0] - b.Ring[0][0] + b.Wide, p[1] - b.Ring[0][1] - b.Deep - 3*between}
	}
	s.Lines = append(s.Lines, line(tone.Mark, ring, true))
	s.ruled()
	return s
}

// BlankingEnd closes a box of the shop that is used in part.
func BlankingEnd(b box.Box, used, tall float64) Sheet {
	s := Sheet{Name: "Blanking end"}
	s.Lines = append(s.Lines, rectangle(tone.Cut, 0, 0, min(b.Wide, b.Deep), tall))
	s.write(3, 3, 4, fmt.Sprintf("stands at %.0f mm", used))
	s.ruled()
	return s
}

// Plates are the stiff boards under and over a mould, with holes for ties at
// their corners.
func Plates(b box.Box, rim float64) Sheet {
	s := Sheet{Name: "Clamping plates"}
	w, d := b.Wide+2*rim, b.Deep+2*rim
	for n := range 2 {
		x := float64(n) * (w + between)
		s.Lines = append(s.Lines, rectangle(tone.Cut, x, 0, w, d), rectangle(tone.Mark, x+rim, rim, b.Wide, b.Deep))
		for _, p := range []plane.Point{{rim / 2, rim / 2}, {w - rim/2, rim / 2}, {w - rim/2, d - rim/2}, {rim / 2, d - rim/2}} {
			s.Lines = append(s.Lines, line(tone.Cut, shifted(circle(min(3, rim/4)), x+p[0], p[1]), true))
		}
		s.write(x+rim+3, rim+3, 4, []string{"under", "over"}[n])
	}
	s.ruled()
	return s
}

func shifted(ring []plane.Point, x, y float64) []plane.Point {
	for i := range ring {
		ring[i][0] += x
		ring[i][1] += y
	}
	return ring
}
