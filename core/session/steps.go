package session

import (
	"fmt"
	"math"

	"bathyform/core/finding"
	"bathyform/core/mix"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/shot"
)

// Stirred is how long a shot is stirred, min. Common practice, no source.
const Stirred = 1.0

// Minutes and shares of the bench. Common practice, no source, and from memory.
const (
	oneFill     = 1.0  // min for a mould that nobody knows the time of
	inTime      = 0.8  // of a pot life that a mix is planned to take
	coldest     = 18.0 // °C under which platinum rubber hardly cures
	coolest     = 15.0 // and anything else
	warmest     = 35.0 // °C over which pot lives are short
	farOffSheet = 4.0  // °C by which the shop may be off the sheet's temperature
	potMinutes  = 3.0  // to close a pot and bring it up to pressure
	lookWhy     = "Write it down now, while it lies in your hand: which cavity, and what is wrong with it."
	gloves      = "Nitrile gloves, glasses, fresh air. The data sheet goes first."
	sensitises  = "The isocyanate part sensitises for life: respirator as its data sheet says, nitrile gloves, glasses, fresh air. " +
		"Never leave a full cup standing."
	rated = "Never above the pot's rating; relief valve and gauge working; all bolts. A note on the pot that it is in use."
)

// Bench is what the shop has, and how it works.
type Bench struct {
	House   practice.House
	Celsius float64 // in the shop now; 0 for what the house says
	Humid   float64 // per cent; 0 where nobody knows
	Lot     string  // of the material; empty where nobody has said
	Pots    int     // how many there are; 1 where there is one
	InPot   int     // moulds that stand in one at once; 0 for none
}

func (b Bench) celsius() float64 {
	if b.Celsius > 0 {
		return b.Celsius
	}
	return b.House.Celsius
}

// plan begins one.
func (b Bench) plan(kind Kind, job string, m mix.Material) Plan {
	p := Plan{
		Kind: kind, Job: job, Material: m.Name, Celsius: b.celsius(), Humid: b.Humid, Lot: b.Lot, Digit: b.House.ScaleStep,
		Tolerance: b.House.RatioTolerance,
	}
	for _, in := range b.House.Instruments {
		if in.Kind == "scale" && in.Digit > 0 {
			p.Digit = in.Digit
		}
	}
	return p
}

// writer writes steps with their keys.
type writer struct {
	p   *Plan
	run string
}

func (w writer) add(s Step) {
	s.Key = fmt.Sprintf("%s%s-%d", w.run, s.Act, len(w.p.Steps)+1)
	w.p.Steps = append(w.p.Steps, s)
}

func (w writer) do(act Act, do, why, caution string, minutes float64) {
	s := blank(act, do)
	s.Why, s.Caution, s.Minutes = why, caution, minutes
	w.add(s)
}

// begins are the first steps of a session.
func (w writer) begins(b Bench, m mix.Material, rubber bool) {
	says := []string{fmt.Sprintf("Read the data sheet of %s.", m.Name),
		fmt.Sprintf("%.0f °C in the shop%s.", b.celsius(), humid(b.Humid)), "Bench level both ways; cups, sticks and scale within reach."}
	why := "What is missing now is missed when the clock runs."
	if b.InPot > 0 && !rubber {
		says = append(says, "Compressor drained, pot empty, its seal clean.")
		why += " Water in the air line foams the resin."
	}
	check := blank(Check, "Is everything ready?")
	check.Items, check.Why = says, why
	w.add(check)
	if off := b.celsius() - m.Traits.Reference(); math.Abs(off) > farOffSheet {
		how := map[bool]string{true: "Chill", false: "Warm"}[off > 0]
		w.do(Do, fmt.Sprintf("%s both parts to about %.0f °C.", how, m.Traits.Reference()),
			"The sheet's times are for that; warm it is thin and gels early, cold it is thick and slow.", "", 0)
	}
	if rubber {
		w.do(Protect, "Put on nitrile gloves and glasses; air the room.", "Latex stops platinum rubber from curing.", gloves, 0)
		return
	}
	caution := sensitises
	if m.OnePart() {
		caution = "Melts burn and spit at the least moisture: dry mould, dry ladle, gloves, face shield. The data sheet goes first."
	}
	w.do(Protect, "Put on gloves, glasses and what the data sheet asks for; air the room.", "", caution, 0)
	w.do(Do, "Shake and stir each part in its own can; lids back on after.", "What has settled in the can is not in the cup. "+
		"Damp air foams the isocyanate part.", "", 0)
}

func humid(percent float64) string {
	if percent <= 0 {
		return ""
	}
	return fmt.Sprintf(", %.0f %% humidity", percent)
}

// climate says what the shop's air does to a material.
func (b Bench) climate(m mix.Material) (out []finding.Finding) {
	at := b.celsius()
	least := coolest
	if m.Traits.Family == "platinum" {
		least = coldest
	}
	switch {
	case at < least:
		out = append(out, finding.Finding{Severity: finding.Stop, Stage: finding.Shot, Code: "too-cold",
			What:   fmt.Sprintf("%s hardly cures at %.0f °C.", m.Name, at),
			Figure: finding.Of(quantity.Number, at), Limit: finding.Of(quantity.Number, least),
			Why: "Warm the room, the mould and the cans first; a cold batch stays sticky.", Source: finding.CommonPractice})
	case at > warmest:
		out = append(out, finding.Finding{Severity: finding.Watch, Stage: finding.Shot, Code: "too-warm",
			What:   fmt.Sprintf("At %.0f °C it gels early.", at),
			Figure: finding.Of(quantity.Number, at), Limit: finding.Of(quantity.Number, warmest),
			Why: "Chill both parts, mix less at a time.", Source: finding.CommonPractice})
	}
	const damp = 60.0
	if b.Humid > damp && m.Traits.Family == "" && !m.OnePart() {
		out = append(out, finding.Finding{Severity: finding.Watch, Stage: finding.Shot, Code: "too-damp",
			What:   fmt.Sprintf("At %.0f %% humidity urethane foams.", b.Humid),
			Figure: finding.Of(quantity.Number, b.Humid), Limit: finding.Of(quantity.Number, damp),
			Why: "Bone-dry cups and moulds, lids back on at once, dry air over what stays in the cans.", Source: finding.CommonPractice})
	}
	return out
}

// measured is how a part is measured, as a step.
func (p Part) measured() string {
	if p.Marks > 0 {
		return fmt.Sprintf("Fill %s to its mark.", p.Name)
	}
	return "Weigh " + p.Name + "."
}

// mixing are the steps of one cup, from the tare until it is ready to be poured.
func mixing(m Mix, at int, p Plan, stir, degas float64) (out []Step) {
	add := func(act Act, part int, do, why, caution string, minutes float64) {
		s := blank(act, do)
		s.Key, s.Mix, s.Part = fmt.Sprintf("mix%d-%s-%d", at, act, part), at, part
		s.Why, s.Caution, s.Minutes = why, caution, minutes
		out = append(out, s)
	}
	add(Tare, -1, fmt.Sprintf("%s: an empty cup of %.0f mL at least and its stick on the scale; tare both.", m.Name, math.Ceil(m.Cup)),
		"A third of it stays empty, so that it can be stirred.", "", 0)
	last := m.last()
	for i, part := range m.Parts {
		do, why, caution := part.measured(), "", ""
		act := Weigh
		switch {
		case part.Drops:
			act, do = Count, "Count the drops of "+part.Name+"."
			why = "Drops differ: the same bottle, upright, one by one."
		case part.Role == Colour:
			why = "Into this part before A meets B: it cannot be evened out later."
		case i == last:
			why, caution = "With its first drop the pot life begins.", gloves
		case m.Ratio > 0:
			why = "What it comes to decides the rest: the other part follows what was weighed, not what was planned."
		}
		add(act, i, do, why, caution, 0)
	}
	if last >= 0 {
		add(Stir, -1, "Stir; scrape sides, bottom and stick, then into a second cup and stir again.",
			"Streaks that are not mixed stay sticky for ever.", "", stir)
	} else {
		add(Do, -1, "Melt it, and stir.", "Not above what its sheet says.", "", 0)
	}
	if degas > 0 {
		add(Degas, -1, fmt.Sprintf("Degas in a vessel of %.0f mL at least until it has risen and fallen back; then a minute or two more.",
			math.Ceil(m.Foams)), "It climbs to several times its height. Count the rises: two or three.",
			"A vacuum chamber can implode: a rated lid without scratches, glasses, nobody leans over it.", degas)
	}
	return out
}

// pouring is the step of one fill.
func pouring(p Plan, at, fill int) Step {
	f := p.Mixes[at].Fills[fill]
	s := blank(Pour, fmt.Sprintf("Pour %s: %.4g g. %s", p.Moulds[f.Mould].Number, f.Grams, f.Where))
	s.Key, s.Mix, s.Fill, s.Mould, s.Minutes = fmt.Sprintf("mix%d-pour-%d", at, fill), at, fill, f.Mould, f.Minutes
	return s
}

// cups divides fills into mixes: by the largest cup, by the scale, and by what can
// be poured in the pot life. A mould that is more than a cup gets several.
func cups(fills []Fill, most float64, takes func(n int, grams float64) float64, potLife float64) (out [][]Fill) {
	var now []Fill
	sum, minutes := 0.0, 0.0
	end := func() {
		if len(now) > 0 {
			out = append(out, now)
		}
		now, sum, minutes = nil, 0, 0
	}
	for _, f := range fills {
		parts := 1
		if most > 0 {
			parts = int(math.Ceil(f.Grams/most - 1e-9))
		}
		f.Grams /= float64(max(1, parts))
		for range max(1, parts) {
			late := potLife > 0 && len(now) > 0 && takes(len(now)+1, sum+f.Grams)+minutes+f.Minutes > inTime*potLife
			if most > 0 && sum+f.Grams > most*(1+1e-9) || late {
				end()
			}
			now, sum, minutes = append(now, f), sum+f.Grams, minutes+f.Minutes
		}
	}
	end()
	return out
}

// most is the heaviest mix, g: what a cup holds with room to stir, and what the
// scale takes; 0 for no limit.
func (b Bench) most(density float64) float64 {
	out := math.Inf(1)
	if b.House.Bucket > 0 {
		out = min(out, b.House.Bucket*shot.Filled*density)
	}
	if b.House.ScaleMost > 0 {
		out = min(out, b.House.ScaleMost)
	}
	if math.IsInf(out, 1) {
		return 0
	}
	return out
}
