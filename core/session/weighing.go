package session

import (
	"fmt"
	"math"
	"strings"

	"bathyform/core/derive"
	"bathyform/core/mix"
	"bathyform/core/quantity"
)

// Weighing is the figure that is wanted at the scale.
type Weighing struct {
	What   string
	Drops  bool
	Target float64       // g, or drops
	Wants  derive.Number // the same, with how it was worked out
	Low    float64
	High   float64
	Zero   float64 // g that the cup holds already
	Meets  bool    // A meets B with it, and has not yet
	Marks  float64 // mL to fill to, where the shop measures by volume
}

// Short is what is missing of the first part, since the last was overshot.
type Short struct {
	Mix, Part int
	Add       derive.Number // g
	Off       float64       // of the ratio, as a share
	Grows     float64       // of the mix, as a share
}

// even is the share of a pigment within which nobody sees it. Common practice, no
// source.
const even = 0.05

func grams(g float64, from string) *derive.Number {
	n := derive.Of(quantity.Mass, g, "as weighed", derive.From("weighed", quantity.Mass, g, from))
	return &n
}

// factor is by how much the part that was weighed first is more than was planned.
func (s *State) factor(mix int) float64 {
	m := s.plan.Mixes[mix]
	first := m.first()
	if w := s.Cups[mix].Weighed[first]; !math.IsNaN(w) && m.Parts[first].Grams > 0 {
		return w / m.Parts[first].Grams
	}
	return 1
}

// target is what is wanted of a part, by what was weighed before.
func (s *State) target(at, part int) derive.Number {
	m := s.plan.Mixes[at]
	p, first := m.Parts[part], m.first()
	kind := quantity.Mass
	if p.Drops {
		kind = quantity.Number
	}
	was := s.Cups[at].Weighed[first]
	if part == first || math.IsNaN(was) {
		return derive.Of(kind, p.Grams, "as planned", derive.From("planned", kind, p.Grams, "the shot of this design"))
	}
	of := derive.From("weighed of "+m.Parts[first].Name, quantity.Mass, was, "this session")
	if p.Role == Colour {
		return derive.Of(kind, p.Grams*s.factor(at), "planned × weighed / planned first",
			derive.From("planned", kind, p.Grams, "the recipe"), derive.From("weighed", quantity.Mass, was, "this session"),
			derive.From("planned first", quantity.Mass, m.Parts[first].Grams, "the shot of this design"))
	}
	ratio := derive.From("ratio", quantity.Number, m.Ratio, "data sheet of "+s.plan.Material+", A to B by weight")
	if p.Role == PartB {
		return derive.Of(kind, was/m.Ratio, "weighed / ratio", derive.From("weighed", of.Kind, was, of.Name), ratio)
	}
	return derive.Of(kind, was*m.Ratio, "weighed × ratio", derive.From("weighed", of.Kind, was, of.Name), ratio)
}

// weighing sets what is wanted now.
func (s *State) weighing() {
	s.Short = s.shortOf()
	if s.At >= len(s.Steps) {
		return
	}
	step := s.Steps[s.At]
	if step.Act != Weigh && step.Act != Count {
		return
	}
	m, cup := s.plan.Mixes[step.Mix], s.Cups[step.Mix]
	p := m.Parts[step.Part]
	w := &Weighing{What: p.Name, Drops: p.Drops, Wants: s.target(step.Mix, step.Part)}
	for i, g := range cup.Weighed {
		if !math.IsNaN(g) && !m.Parts[i].Drops {
			w.Zero += g
		}
	}
	if !math.IsNaN(cup.Weighed[step.Part]) && s.Short != nil { // more of what is in it already
		w.Wants = s.Short.Add
	}
	w.Target = w.Wants.Value
	w.Meets = step.Part == m.last() && !cup.Met
	wide := max(s.plan.Digit, s.plan.Tolerance/200*w.Target)
	if p.Role == Colour {
		wide = max(s.plan.Digit, even*w.Target)
	}
	w.Low, w.High = max(0, w.Target-wide), w.Target+wide
	if p.Grams > 0 {
		w.Marks = p.Marks * w.Target / p.Grams
	}
	s.Weighing = w
}

// shortOf is what the first part of the mix that is on lacks, where its last was
// overshot by more than the ratio bears and nothing is poured yet.
func (s *State) shortOf() *Short {
	at := s.mix()
	if at < 0 {
		return nil
	}
	m, cup := s.plan.Mixes[at], s.Cups[at]
	first, last := m.first(), m.last()
	if last < 0 || cup.Poured > 0 || math.IsNaN(cup.Weighed[first]) || math.IsNaN(cup.Weighed[last]) {
		return nil
	}
	a, b := cup.Weighed[first], cup.Weighed[last]
	ratio := m.Ratio // of the first to the last
	if m.Parts[first].Role == PartB {
		ratio = 1 / m.Ratio
	}
	off := b*ratio/a - 1
	if off <= s.plan.Tolerance/100 || b*ratio-a < s.plan.Digit {
		return nil
	}
	add := derive.Of(quantity.Mass, b*ratio-a, "weighed last × ratio − weighed first",
		derive.From("weighed last", quantity.Mass, b, "this session"),
		derive.From("ratio", quantity.Number, ratio, "data sheet of "+s.plan.Material),
		derive.From("weighed first", quantity.Mass, a, "this session"))
	return &Short{Mix: at, Part: first, Add: add, Off: off, Grows: (b*ratio - a) / (a + b)}
}

// Sure is how far the ratio of what was weighed may be off by the scale's digit
// alone, as a share; not ok before both parts are weighed.
func (s State) Sure(at int) (share float64, ok bool) {
	m, cup := s.plan.Mixes[at], s.Cups[at]
	first, last := m.first(), m.last()
	if last < 0 || math.IsNaN(cup.Weighed[first]) || math.IsNaN(cup.Weighed[last]) {
		return 0, false
	}
	return mix.RatioError(s.plan.Digit, cup.Weighed[first], cup.Weighed[last]), true
}

// Mixed is what is in a cup, g.
func (s State) Mixed(at int) (sum float64) {
	for i, g := range s.Cups[at].Weighed {
		if !math.IsNaN(g) && !s.plan.Mixes[at].Parts[i].Drops {
			sum += g
		}
	}
	return sum
}

// Order is what each mould gets of a cup: in the order of the pours, as far as it
// goes; what is left over comes last.
func (s State) Order(at int) (fills []Fill, over float64) {
	m := s.plan.Mixes[at]
	left := s.Mixed(at)
	if left == 0 {
		left = m.Planned()
	}
	left -= m.Keeps
	for _, f := range m.Fills {
		if s.Moulds[f.Mould].Out != "" {
			continue
		}
		f.Grams = min(f.Grams, max(0, left))
		left -= f.Grams
		fills = append(fills, f)
	}
	return fills, max(0, left)
}

// PartName is what a part of a mix is called.
func (s State) PartName(at, part int) string { return s.plan.Mixes[at].Parts[part].Name }

// CupName is what a mix is called, and its parts.
func (s State) CupName(at int) (string, []Part) { return s.plan.Mixes[at].Name, s.plan.Mixes[at].Parts }

// Share is what a mould has had of A and of B, g, of all cups as they were
// weighed; not ok where nothing was.
func (s State) Share(mould int) (a, b float64, ok bool) {
	for i := range s.plan.Mixes {
		fills, _ := s.Order(i)
		all, own := 0.0, 0.0
		for _, f := range fills {
			all += f.Grams
			if f.Mould == mould {
				own += f.Grams
			}
		}
		if s.Cups[i].Poured == 0 || all == 0 || own == 0 {
			continue
		}
		for k, p := range s.plan.Mixes[i].Parts {
			if w := s.Cups[i].Weighed[k]; !math.IsNaN(w) && p.Role != Colour {
				ok = true
				if p.Role == PartA {
					a += w * own / all
				} else {
					b += w * own / all
				}
			}
		}
	}
	return a, b, ok
}

// Drawn is what was weighed in all cups together, g: of the part that the ratio names
// first, and of the other; what was thrown away as well.
func (s State) Drawn() (a, b float64) {
	for i, c := range s.Cups {
		for k, p := range s.plan.Mixes[i].Parts {
			switch w := c.Weighed[k]; {
			case math.IsNaN(w) || p.Drops:
			case p.Role == PartA:
				a += w
			case p.Role == PartB:
				b += w
			}
		}
	}
	return a, b
}

// Recipe is how the castings were coloured; empty where they were not.
func (s State) Recipe() string {
	for i, c := range s.Cups {
		if colours := s.coloured(i); c.Poured > 0 && len(colours) > 0 {
			whole := 0.0
			for k, p := range s.plan.Mixes[i].Parts {
				if w := c.Weighed[k]; !math.IsNaN(w) && p.Role != Colour {
					whole += w
				}
			}
			return fmt.Sprintf("%s in %.4g g", strings.Join(colours, ", "), whole)
		}
	}
	return ""
}

// coloured is what of colour went into a cup.
func (s State) coloured(cup int) (says []string) {
	for k, p := range s.plan.Mixes[cup].Parts {
		if w := s.Cups[cup].Weighed[k]; p.Role == Colour && !math.IsNaN(w) {
			unit := "g"
			if p.Drops {
				unit = "drops"
			}
			says = append(says, fmt.Sprintf("%s %.4g %s", p.Name, w, unit))
		}
	}
	return says
}

// Note is what a line in the log says besides weights and conditions: what was
// mixed, and its colour.
func (s State) Note() string {
	says := []string{s.plan.Material}
	for i := range s.plan.Mixes {
		for _, c := range s.coloured(i) {
			says = append(says, c+" a cup")
		}
	}
	return strings.Join(says, "; ")
}

// By is who did the most of it; empty where nobody has said.
func (s State) By() (who string) {
	n := map[string]int{}
	for _, e := range s.Records {
		if n[e.Who]++; e.Who != "" && (who == "" || n[e.Who] > n[who]) {
			who = e.Who
		}
	}
	return who
}
