package sheet

import (
	"fmt"
	"math"
	"strings"

	"bathyform/core/mould"
	"bathyform/core/pieces"
	"bathyform/core/plane"
	"bathyform/core/tone"

	"gonum.org/v1/gonum/spatial/r3"
)

// Rods are the rods and wires that leave the channels of a mould, stretched out
// at their true size: cut to length, a mark where one is bent. Those that are
// alike are drawn once.
func Rods(all []mould.Rod) Sheet {
	s := Sheet{Name: "Rods and wires"}
	type alike struct {
		bore, rim, long float64
		section         string
	}
	grain := func(v float64) float64 { return math.Round(v*10) / 10 }
	var order []alike
	names := map[alike][]mould.Rod{}
	for _, r := range all {
		k := alike{grain(r.Bore.Wide), grain(r.Bore.Rim), grain(r.Bore.Length()), sectioned(r.Bore)}
		if _, ok := names[k]; !ok {
			order = append(order, k)
		}
		names[k] = append(names[k], r)
	}
	y := 0.0
	for _, k := range order {
		rods := names[k]
		a, b := k.bore, k.bore
		if k.rim > 0 {
			b = k.rim
		}
		wide := max(a, b)
		middle := y + wide/2
		s.Lines = append(
			s.Lines,
			line(tone.Cut, []plane.Point{{0, middle - a/2}, {k.long, middle - b/2}, {k.long, middle + b/2}, {0, middle + a/2}}, true),
		)
		along := 0.0
		path := rods[0].Bore.Path
		for i := 1; i < len(path)-1; i++ { // where it bends
			along += r3.Norm(r3.Sub(path[i], path[i-1]))
			s.Lines = append(s.Lines, line(tone.Mark, []plane.Point{{along, middle - a/2}, {along, middle + a/2}}, false))
		}
		s.write(0, y+wide+1.5, 3, label(rods, k.bore, k.rim, k.long, k.section))
		y += wide + 9
	}
	s.ruled()
	return s
}

// label says how many rods, of which channels, how wide and how long.
func label(rods []mould.Rod, bore, rim, long float64, section string) string {
	var names []string
	for _, r := range rods {
		names = append(names, r.Name)
	}
	const most = 4
	if len(names) > most {
		names = append(names[:most-1], fmt.Sprintf("%d more", len(rods)-most+1))
	}
	wide := fmt.Sprintf("%.1f mm", bore)
	if rim > 0 {
		wide += fmt.Sprintf(" to %.1f mm", rim)
	}
	return fmt.Sprintf("%d × %s%s, %.1f mm: %s", len(rods), wide, section, long, strings.Join(names, ", "))
}

func sectioned(b pieces.Bore) string {
	switch {
	case b.Half != (r3.Vec{}):
		return ", half round"
	case b.Flat != (r3.Vec{}):
		return fmt.Sprintf(" wide, %.2g mm thick", b.Thick)
	}
	return ""
}
