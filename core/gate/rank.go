package gate

import (
	"bathyform/core/derive"
	"bathyform/core/fill"
	"bathyform/core/kinds"
	"bathyform/core/quantity"
)

// Ranked is a vent, and the air that is left once it and those before it are
// open.
type Ranked struct {
	Vent
	Left   float64 // mm³
	Spares float64 // mm³ that those before it leave and it lets out
}

// Told is the air that a vent spares as a sum, mL.
func (r Ranked) Told() derive.Number {
	return derive.Of(quantity.Volume, r.Spares/1000, "air that is left without it − air that is left with it",
		derive.From("air that is left without it", quantity.Volume, (r.Left+r.Spares)/1000, "trapped air with the vents before it"),
		derive.From("air that is left with it", quantity.Volume, r.Left/1000, "the same with it")).
		Noted("The vents before it are those that spare more.")
}

// Ranking is the vents that a cavity needs, the one first that spares the most
// air. Who wants few takes the first of them; the rest are the places to cut
// later, should a pull show a void.
type Ranking struct {
	Bare  float64 // mm³ of air left without any of them
	Vents []Ranked
}

// Rank puts the vents of a proposal in order: each is the one that spares the
// most of the air that those before it leave. Vents of the choices are left
// aside. A vent never lets more out beside others than it does alone, or
// nearly so; it is looked at again only while it may be the best.
func Rank(space *fill.Space, c Choices, bore float64) (Ranking, error) {
	c.Vents = nil
	c = c.stood(space, kinds.Sprued)
	air := func(vents []Vent) (float64, error) {
		found, err := space.Trap(openedBy(space, c, vents))
		return found.Volume, err
	}
	left, err := air(nil)
	if err != nil {
		return Ranking{}, err
	}
	out := Ranking{Bare: left}
	type candidate struct {
		Vent
		spares float64 // at most
		after  int     // how many vents were open when that was found out
	}
	var rest []candidate
	for _, v := range proposeVents(space, c, bore) {
		rest = append(rest, candidate{v, left, -1})
	}
	var chosen []Vent
	for len(rest) > 0 {
		best := 0
		for i, r := range rest {
			if r.spares > rest[best].spares {
				best = i
			}
		}
		if b := &rest[best]; b.after < len(chosen) {
			then, err := air(append(chosen[:len(chosen):len(chosen)], b.Vent))
			if err != nil {
				return Ranking{}, err
			}
			b.spares, b.after = left-then, len(chosen)
			continue
		}
		chosen = append(chosen, rest[best].Vent)
		left -= rest[best].spares
		out.Vents = append(out.Vents, Ranked{rest[best].Vent, max(0, left), rest[best].spares})
		rest = append(rest[:best], rest[best+1:]...)
	}
	return out, nil
}
