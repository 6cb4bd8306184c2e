package session

import (
	"fmt"

	"bathyform/core/derive"
	"bathyform/core/exotherm"
	"bathyform/core/kinds"
	"bathyform/core/mix"
	"bathyform/core/shot"
)

// Filling is one filling of a mould with rubber, as it was planned.
type Filling struct {
	kinds.Pour
	Area float64 // mm² of the surface as it is nearly full
	Side float64 // mm, the longest of the box
}

// slowRubber is the heat of reaction of a silicone, J/g; from memory.
const slowRubber = 25.0

// Make plans the making of moulds that are alike: all steps from the box to the
// trimmed rubber, one cup after another.
func Make(b Bench, job string, rubber mix.Material, steps []kinds.Step, pours []Filling, moulds []Mould) (Plan, error) {
	if len(moulds) == 0 {
		return Plan{}, ErrNoMoulds
	}
	p := b.plan(Rubber, job, rubber)
	p.Moulds = append([]Mould(nil), moulds...)
	p.Before = b.climate(rubber)
	w := writer{&p, ""}
	w.begins(b, rubber, true)
	each := ""
	if len(moulds) > 1 {
		each = fmt.Sprintf(" For each of %d moulds.", len(moulds))
	}
	poured, fills := 0, []int{}
	for _, st := range steps {
		if st.Casting {
			break
		}
		switch st.Act {
		case kinds.Mixes:
			if poured >= len(pours) || pours[poured].Batch == nil {
				return p, ErrNoMix
			}
			fills = b.rubberMixes(&p, rubber, pours[poured])
			poured++
		case kinds.Degases: // with its mix
		case kinds.Fills:
			b.pourRubber(w, st, fills)
			fills = nil
		case kinds.Pots:
			s := blank(Pot, st.Do)
			s.Caution, s.Minutes = st.Caution, st.Minutes
			w.add(s)
		case kinds.Cures:
			w.do(Wait, st.Do, st.Why+" Not before the left-over in the cup is hard and dry.", st.Caution, st.Minutes)
		default:
			act := Do
			if st.Wait {
				act = Wait
			}
			w.do(act, st.Do+each, st.Why, st.Caution, st.Minutes)
		}
	}
	for i, m := range moulds {
		s := blank(Birth, fmt.Sprintf("Look at %s: bubbles, flash over the part, torn edges?", m.Number))
		s.Mould, s.Why = i, "What is wrong at birth every casting copies, and is no wear."
		w.add(s)
	}
	w.do(
		Record,
		"Write it down: the moulds go onto the rack as they were weighed and poured.",
		"One of a series is proved by a casting first.",
		"",
		0,
	)
	return p, nil
}

// rubberMixes are the cups of one pour of all moulds: their numbers.
func (b Bench) rubberMixes(p *Plan, rubber mix.Material, pour Filling) (out []int) {
	whole := pour.Batch.Mass.Value
	fill := Fill{Grams: whole, Area: pour.Area, Side: pour.Side, Where: pour.Spot}
	var all []Fill
	for i := range p.Moulds {
		fill.Mould = i
		_, _, minutes := b.House.Mixing(whole)
		fill.Minutes = minutes
		all = append(all, fill)
	}
	times := rubber.Traits.In(b.celsius())
	p.Q10 = times.Q10
	takes := func(_ int, grams float64) float64 {
		mixing, degas, _ := b.House.Mixing(grams)
		return mixing + degas
	}
	groups := cups(all, b.most(rubber.Density), takes, times.PotLife)
	for i, fills := range groups {
		grams := 0.0
		for _, f := range fills {
			grams += f.Grams
		}
		share := grams / whole
		name := "Rubber for " + kinds.Small(pour.Name)
		if len(groups) > 1 {
			name += fmt.Sprintf(", mix %d of %d", i+1, len(groups))
		}
		m := Mix{Name: name, Fills: fills, Density: rubber.Density, Ratio: rubber.ByWeight(),
			Cup:   shot.Cup(mL(grams / rubber.Density)).Value,
			Foams: shot.Vessel(mL(grams / rubber.Density)).Value,
			Parts: []Part{{Name: "base", Role: PartA, Grams: pour.Batch.A.Value * share},
				{Name: "catalyst", Role: PartB, Grams: pour.Batch.B.Value * share}}}
		if rubber.OnePart() {
			m.Ratio, m.Parts = 0, []Part{{Name: rubber.Name, Role: PartA, Grams: grams}}
		}
		for k, v := range []*float64{volume(pour.Batch.VolumeA), volume(pour.Batch.VolumeB)} {
			if v != nil && k < len(m.Parts) {
				m.Parts[k].Marks = *v * share
			}
		}
		m.PotLife = exotherm.PotLife(times.PotLife, grams, rubber.Density, slowRubber) * 60
		p.Mixes = append(p.Mixes, m)
		out = append(out, len(p.Mixes)-1)
	}
	return out
}

// pourRubber writes the steps of cups, one after another.
func (b Bench) pourRubber(w writer, st kinds.Step, which []int) {
	for _, n := range which {
		m := w.p.Mixes[n]
		mixing1, degas, _ := b.House.Mixing(m.Planned())
		for _, s := range mixing(m, n, *w.p, mixing1, degas) {
			w.add(s)
		}
		brush := blank(Do, st.Do)
		brush.Mix, brush.Why = n, "Thin and high, in a low corner, never on the part; slower as it goes round and over it."
		w.add(brush)
		for k := range m.Fills {
			w.add(pouring(*w.p, n, k))
		}
	}
}

// Numbers are what new moulds of a job may be called: the letters, and numbers
// from one on.
func Numbers(letters string, from, n int) (out []string) {
	for i := range n {
		out = append(out, fmt.Sprintf("%s-%d", letters, from+i))
	}
	return out
}

func volume(n *derive.Number) *float64 {
	if n == nil {
		return nil
	}
	return &n.Value
}
