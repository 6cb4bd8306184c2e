package pattern

import (
	"fmt"
	"slices"

	"gonum.org/v1/gonum/mathext"
	"gonum.org/v1/gonum/spatial/r3"
)

// Marked is a defect that was shown on the part.
type Marked struct {
	At     r3.Vec // mm, as the master lies
	Mould  string
	Cavity int // from 1
	Defect string
}

// Place is a spot of the part at which more defects lie than chance puts there.
type Place struct {
	At      r3.Vec
	Radius  float64 // mm
	Defects int     // within it
	Of      int     // that were shown
	Share   float64 // of the surface, that it is
	Chance  float64 // that it is none, corrected for how many were tried
	Tried   int
	Says    string
	Suggest string
}

// Places are the spots at which defects gather, the surest first: for each defect, how
// likely as many of the others lie within a radius of it if they lay anywhere on the
// surface (binomial, exact), corrected for how many were tried. Share is which part
// of the surface lies in a ball. What one spot explains is set aside before the next
// is looked for.
func Places(all []Marked, radius float64, share func(at r3.Vec, radius float64) float64) (out []Place) {
	gang := len(cavitiesOf(all)) > 1
	shares := make(map[r3.Vec]float64, len(all))
	for _, m := range all {
		if _, ok := shares[m.At]; !ok {
			shares[m.At] = min(1, share(m.At, radius))
		}
	}
	for len(all) >= least && len(out) < mostCauses {
		best, inside := Place{Chance: 2}, []Marked(nil)
		chances := make([]float64, len(all))
		for i, m := range all {
			near := nearOf(all, m.At, radius)
			s := shares[m.At]
			chances[i] = 1
			if k := len(near) - 1; k > 0 && s < 1 { // beside the one that it is looked for from
				chances[i] = mathext.RegIncBeta(float64(k), float64(len(all)-k), s)
			}
			if chances[i] < best.Chance {
				best, inside = Place{At: middle(near), Radius: radius, Defects: len(near), Of: len(all), Share: s, Chance: chances[i]}, near
			}
		}
		best.Tried = len(all)
		best.Chance = min(1, best.Chance*float64(len(all)))
		if best.Chance > FalseAlarm || best.Defects < least {
			return out
		}
		best.words(inside, gang)
		out = append(out, best)
		all = slices.DeleteFunc(slices.Clone(all), func(m Marked) bool { return slices.Contains(inside, m) })
	}
	return out
}

func nearOf(all []Marked, at r3.Vec, radius float64) (out []Marked) {
	for _, m := range all {
		if r3.Norm(r3.Sub(m.At, at)) <= radius {
			out = append(out, m)
		}
	}
	return out
}

func middle(all []Marked) (at r3.Vec) {
	for _, m := range all {
		at = r3.Add(at, r3.Scale(1/float64(len(all)), m.At))
	}
	return at
}

// cavitiesOf are those that marks are of.
func cavitiesOf(all []Marked) map[string]bool {
	out := map[string]bool{}
	for _, m := range all {
		out[fmt.Sprintf("%s, cavity %d", m.Mould, m.Cavity)] = true
	}
	return out
}

// words says what a spot speaks for; gang is whether marks of several cavities are known.
// Common practice, no source.
func (p *Place) words(inside []Marked, gang bool) {
	g := group{defects: map[string]int{}}
	for _, m := range inside {
		g.add(Casting{Defect: m.Defect})
	}
	cavities := cavitiesOf(inside)
	where := "in one cavity alone"
	if len(cavities) > 1 {
		where = fmt.Sprintf("in %d cavities", len(cavities))
	}
	p.Says = fmt.Sprintf("It is this spot: %d of %d marked defects lie within %.0f mm of one another, %s, mostly \"%s\".",
		p.Defects, p.Of, 2*p.Radius, where, g.commonest())
	p.Suggest = "The same spot in all cavities is the layout: a vent there, or another way up."
	switch {
	case len(cavities) == 1 && !gang:
		p.Suggest = "It may be the layout, a vent there or another way up, or a flaw in the wall: from one cavity nobody can tell which. " +
			"Look at the mould there first."
	case len(cavities) == 1:
		p.Suggest = "The same spot in one cavity is its own vent, gate or a flaw in its wall: look at it there."
	}
}
