package session

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"bathyform/core/derive"
	"bathyform/core/exotherm"
	"bathyform/core/finding"
	"bathyform/core/kinds"
	"bathyform/core/mix"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/shot"
)

// Shot is what one mould takes at a pull.
type Shot struct {
	Batch   mix.Batch
	Doses   []mix.Dose
	TintB   bool
	Area    float64 // mm² of the surface in well and vents
	Minutes float64 // until it is full; 0 where nobody knows
	Section float64 // mm, the thinnest; 0 where nobody knows
	Keeps   float64 // g of a mix that stay in the cup
	Steps   []kinds.Step
}

// Why a session cannot be planned.
var (
	ErrNoMoulds = errors.New("choose at least one mould that is in use: a casting run needs something to cast in")
	ErrNoMix    = errors.New("there is nothing to mix: choose a material, and a design whose volume is known")
)

// Cast plans a casting run. Where a mould was never cast in, it is proved by one
// casting before the rest are poured.
func Cast(b Bench, job string, resin mix.Material, one Shot, moulds []Mould) (Plan, error) {
	if len(moulds) == 0 {
		return Plan{}, ErrNoMoulds
	}
	if !(one.Batch.Mass.Value > 0) {
		return Plan{}, ErrNoMix
	}
	p := b.plan(Casting, job, resin)
	p.Moulds = append([]Mould(nil), moulds...)
	p.Before = b.climate(resin)
	p.Pots = b.stand(&p)
	w := writer{&p, ""}
	w.begins(b, resin, false)
	all := make([]int, len(moulds))
	first := -1
	for i, m := range moulds {
		all[i] = i
		if first < 0 && m.Pulls == 0 {
			first = i
		}
	}
	if first >= 0 && len(moulds) > 1 {
		all[0], all[first] = all[first], all[0]
		w.run = "first-"
		b.run(w, resin, one, all[:1])
		all, w.run = all[1:], "rest-"
	}
	b.run(w, resin, one, all)
	w.do(Record, "Write it down: weights, times and results go into the log as they were.", "", "", 0)
	return p, nil
}

// stand puts moulds into pots, and says how many are used.
func (b Bench) stand(p *Plan) int {
	if b.InPot <= 0 || b.House.Pressure <= 0 {
		return 0
	}
	pots := max(1, b.Pots)
	used := 0
	for i := range p.Moulds {
		p.Moulds[i].Pot = i/b.InPot + 1
		used = max(used, p.Moulds[i].Pot)
	}
	if used > pots {
		p.Before = append(p.Before, finding.Finding{Severity: finding.Stop, Stage: finding.Shot, Code: "pots-too-few",
			What: fmt.Sprintf("%s stand in %s, and there %s %d.", quantity.Plural(len(p.Moulds), "mould", "moulds"),
				quantity.Plural(used, "pot", "pots"), map[bool]string{true: "is", false: "are"}[pots == 1], pots),
			Figure: finding.Of(quantity.Number, float64(used)), Limit: finding.Of(quantity.Number, float64(pots)),
			Why: "What waits outside the pot sets without pressure. Cast fewer moulds in this run.", Source: "pot and " +
				"mould, House practice"})
		for i := range p.Moulds {
			p.Moulds[i].Pot = min(p.Moulds[i].Pot, pots)
		}
	}
	return min(used, pots)
}

// run writes the steps of moulds that are poured together.
func (b Bench) run(w writer, resin mix.Material, one Shot, which []int) {
	p := w.p
	names := make([]string, len(which))
	for i, m := range which {
		names[i] = p.Moulds[m].Number
	}
	list := strings.Join(names, ", ")
	at := 0
	var let string
	for ; at < len(one.Steps); at++ {
		st := one.Steps[at]
		if st.Act == kinds.Mixes {
			let = st.Let
			at++
			break
		}
		w.do(Do, st.Do+" "+list+".", st.Why, st.Caution, st.Minutes)
	}
	minutes := one.Minutes
	if minutes <= 0 {
		minutes = oneFill
	}
	var fills []Fill
	for _, m := range which {
		fills = append(fills, Fill{Mould: m, Grams: one.Batch.Mass.Value, Area: one.Area, Where: let, Minutes: minutes})
	}
	times := resin.Traits.In(b.celsius())
	p.Q10 = times.Q10
	group := cups(fills, b.most(resin.Density), func(int, float64) float64 { return Stirred }, times.PotLife)
	for i, fills := range group {
		name := "Shot"
		if len(group) > 1 {
			name = fmt.Sprintf("Shot %d of %d", i+1, len(group))
		}
		if w.run == "first-" {
			name = "First shot"
		}
		m := one.mix(name, resin, fills)
		m.PotLife = exotherm.PotLife(times.PotLife, m.Planned(), resin.Density, exotherm.Reaction) * 60
		p.Mixes = append(p.Mixes, m)
		n := len(p.Mixes) - 1
		for _, st := range mixing(m, n, *p, Stirred, 0) {
			w.add(st)
		}
		for k := range fills {
			w.add(pouring(*p, n, k))
		}
		if len(let) > 0 && strings.Contains(let, "weep") {
			s := blank(Plug, "Plug every vent as it weeps, the lowest first; keep the wells topped up.")
			s.Mix, s.Why = n, "The well feeds the shrink before it gels, never after."
			w.add(s)
		}
		b.potted(w, fills, n)
	}
	cure := times.Demould
	if cure <= 0 {
		cure = mix.Traits{Demould: 30}.In(b.celsius()).Demould
	}
	why := fmt.Sprintf("By the sheet at %.0f °C.", b.celsius())
	if slower := b.slower(resin, one); slower > 1.05 {
		cure *= slower
		why += fmt.Sprintf(
			" %.1f times as long: %.2g mm stay cooler than the %.0f mm that a sheet speaks of; the cup's left-over is "+
				"thick and sets early.",
			slower,
			one.Section,
			sheetSection,
		)
	}
	w.do(Wait, "The resin cures: "+list+".", why, "", cure)
	if p.Pots > 0 {
		w.do(Do, "Vent the pot, slowly, until the gauge stands at nothing; then the bolts.", "", "Vent before opening. "+rated, 1)
	}
	for _, m := range which {
		b.pull(w, m, one.Steps[at:])
	}
}

// potted closes the pots round what a mix has filled.
func (b Bench) potted(w writer, fills []Fill, n int) {
	if w.p.Pots == 0 {
		return
	}
	var in []string
	for _, f := range fills {
		m := w.p.Moulds[f.Mould]
		in = append(in, fmt.Sprintf("%s into pot %d", m.Number, m.Pot))
	}
	s := blank(Pot, strings.Join(in, ", ")+", level; lid on, bolts crosswise.")
	s.Mix, s.Caution, s.Minutes = n, rated, potMinutes
	s.Why = "Before it gels. Release or card under the moulds catches what is squeezed out."
	w.add(s)
	up := blank(Pressure, fmt.Sprintf("Bring it up to %.0f kPa and keep it there.", b.House.Pressure))
	up.Mix, up.Caution = n, rated
	up.Why = "Bubbles are pressed too small to see; what is cut off already stays a void."
	w.add(up)
}

// pull demoulds one, and looks at each cavity.
func (b Bench) pull(w writer, m int, after []kinds.Step) {
	mould := w.p.Moulds[m]
	pulled := func() {
		s := blank(Do, "Demould "+mould.Number+".")
		s.Mould, s.Minutes = m, 2
		s.Why = "Suction holds a casting in a deep mould: break the rim first and let air in. Thin parts while they are firm."
		w.add(s)
	}
	degated := false
	for _, st := range after {
		if st.Act != kinds.Degates {
			continue
		}
		s := blank(Do, mould.Number+": "+st.Do)
		s.Mould, s.Why, s.Caution, s.Minutes = m, st.Why, st.Caution, st.Minutes
		pulled()
		w.add(s)
		degated = true
	}
	if !degated {
		pulled()
	}
	for c := range max(1, mould.Cavities) {
		s := blank(Look, fmt.Sprintf("%s, cavity %d: how is it?", mould.Number, c+1))
		s.Mould, s.Cavity, s.Why = m, c, lookWhy
		w.add(s)
	}
}

// slower is how many times longer the thinnest section takes than the sheet says.
func (b Bench) slower(resin mix.Material, one Shot) float64 {
	t := resin.Traits.In(b.celsius())
	if one.Section <= 0 || t.Demould <= 0 {
		return 1
	}
	peak := func(thick float64) float64 {
		return exotherm.Slab{Thick: thick, Density: resin.Density, Demould: t.Demould, Rubber: b.House.Clearance.Beside}.Peak()
	}
	return min(exotherm.Slower(peak(sheetSection), peak(one.Section)), slowest)
}

// sheetSection is the section that a sheet's demould time is taken for, mm; from
// memory.
const sheetSection = 6.0

// slowest is how many times a sheet's time is waited at the most: more is never
// asked for. Common practice, no source.
const slowest = 2.0

// mix is a cup for some fills of a shot.
func (one Shot) mix(name string, resin mix.Material, fills []Fill) Mix {
	grams := 0.0
	for _, f := range fills {
		grams += f.Grams
	}
	share := (grams + one.Keeps) / one.Batch.Mass.Value
	m := Mix{Name: name, Fills: fills, Density: resin.Density, Ratio: resin.ByWeight(), Keeps: one.Keeps,
		Cup: shot.Cup(mL(grams / resin.Density)).Value}
	if resin.OnePart() {
		m.Ratio = 0
	}
	marks := func(v float64) float64 { return v * share }
	a := Part{Name: "part A", Role: PartA, Grams: one.Batch.A.Value * share}
	if v := one.Batch.VolumeA; v != nil {
		a.Marks = marks(v.Value)
	}
	if m.Ratio == 0 {
		a.Name = resin.Name
		m.Parts = []Part{a}
		return m
	}
	b := Part{Name: "part B", Role: PartB, Grams: one.Batch.B.Value * share}
	if v := one.Batch.VolumeB; v != nil {
		b.Marks = marks(v.Value)
	}
	first, last := a, b
	if one.TintB && len(one.Doses) > 0 {
		first, last = b, a
	}
	m.Parts = append(m.Parts, first)
	for _, d := range one.Doses {
		m.Parts = append(m.Parts, Part{Name: d.Name, Role: Colour, Grams: d.Amount.Value * share, Drops: d.ByDrops})
	}
	m.Parts = append(m.Parts, last)
	return m
}

// mL is a volume of this session.
func mL(v float64) derive.Number { return derive.Of(quantity.Volume, v, "this session") }

// byMarks is whether the house measures by marks on the cup.
func byMarks(h practice.House) bool { return h.Does(practice.Measure) == practice.ByMarks }

// Measured is the plan as the house measures: by weight, or to marks on the cup.
func (p Plan) Measured(h practice.House) Plan {
	p.Mixes, p.Steps = slices.Clone(p.Mixes), slices.Clone(p.Steps)
	for i := range p.Mixes {
		p.Mixes[i].Parts = slices.Clone(p.Mixes[i].Parts)
	}
	for i := range p.Mixes {
		for k := range p.Mixes[i].Parts {
			part := &p.Mixes[i].Parts[k]
			switch {
			case !byMarks(h):
				part.Marks = 0
			case part.Marks == 0 && part.Role != Colour:
				part.Marks = math.Round(part.Grams/p.Mixes[i].Density*10) / 10
			}
		}
	}
	for i, s := range p.Steps {
		if s.Act == Weigh {
			p.Steps[i].Do = p.Mixes[s.Mix].Parts[s.Part].measured()
		}
	}
	return p
}
