package build

import (
	"fmt"
	"math"

	"bathyform/core/bulge"
	"bathyform/core/exotherm"
	"bathyform/core/finding"
	"bathyform/core/kinds"
	"bathyform/core/mix"
	"bathyform/core/practice"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Limits of judgement; common practice, no source.
const (
	mostBulge   = 0.2  // mm that a wall of the cavity may give
	pourShare   = 0.8  // of the pot life that mixing, degassing and pouring may take
	levelEnough = 2.0  // degrees that a bench is out of level before anybody sees it
	hairThin    = 2.5  // mm of bore, under which a rod is bent by the rubber that streams past
	coldest     = 18.0 // °C, under which platinum rubber stops
)

// findings says what stands against a build: against its plan, its kind, and
// how it is poured.
func (c Case) findings(b *Build, bench *kinds.Bench) []finding.Finding {
	out := append(c.Plan.Findings(), c.Suit.Against...)
	add := func(f finding.Finding) {
		if f.Stage == "" {
			f.Stage = finding.Mould
		}
		if f.Source == "" {
			f.Source = finding.CommonPractice
		}
		out = append(out, f)
	}
	c.thinJoints(add)
	c.bulging(add)
	c.potted(b, add)
	c.mixing(bench, add)
	c.heat(add)
	for _, f := range bench.ClosingFindings() {
		add(f)
	}
	if c.Tilt != nil && c.Tilt.Value < levelEnough {
		severity, what := finding.Note, "The least tilt shuts in another pocket: this mould has to stand level."
		var figure *finding.Figure
		if c.Tilt.Value > 0 {
			severity, what = finding.Watch, fmt.Sprintf("Beyond %.2g° out of level a new pocket forms or the well spills.", c.Tilt.Value)
			figure = finding.Of(quantity.Number, c.Tilt.Value)
		}
		add(finding.Finding{
			Severity: severity,
			Code:     "tilt-frees-bubbles",
			What:     what,
			Figure:   figure,
			Limit:    finding.Of(quantity.Number, levelEnough),
			Why:      "A bench is seldom more level than that without a spirit level: shim the mould, and the pot's floor.",
		})
	}
	return out
}

// thinJoints looks for what the stream of rubber would bend.
func (c Case) thinJoints(add func(finding.Finding)) {
	if k := c.Plan.Kind; k.Halves || k.Shelled || k.Resin != kinds.Sprued {
		return
	}
	thin := 0
	for _, d := range append([]float64{c.Rods.Gate}, c.Rods.Vents...) {
		if d > 0 && d < hairThin {
			thin++
		}
	}
	if thin > 0 {
		add(finding.Finding{
			Severity: finding.Note,
			Code:     "wires-bend",
			What: fmt.Sprintf(
				"%s so thin that the stream of rubber bends %s.",
				quantity.Plural(thin, "wire is", "wires are"),
				map[bool]string{true: "it", false: "them"}[thin == 1],
			),
			Limit: finding.Of(quantity.Length, hairThin),
			Why: "Cast in as sprue or vent: pour into the corner that is farthest from them, in a thin stream, and " +
				"slower as it rises past.",
		})
	}
}

// bulging looks how far the cavity's walls give under the head of resin.
func (c Case) bulging(add func(finding.Finding)) {
	k := c.Plan.Kind
	if c.Rubber == nil || c.Rubber.Traits.Shore == 0 || k.Shelled || k.Resin == kinds.Poured {
		return
	}
	up := c.Plan.Design.ResinUp.Dir()
	size := r3.Sub(c.Plan.One.Max, c.Plan.One.Min) // one cavity's wall, not the gang's
	tall := math.Abs(r3.Dot(size, up))
	long := 0.0
	for _, v := range [3][2]float64{{up.X, size.X}, {up.Y, size.Y}, {up.Z, size.Z}} {
		if v[0] == 0 {
			long = max(long, v[1])
		}
	}
	density := kinds.ResinDensity
	if c.Resin != nil {
		density = c.Resin.Density
	}
	mean := density * 1000 * quantity.Gravity * (tall/2 + c.House.Clearance.Above) / 1000
	e := bulge.Young(c.Rubber.Traits.Shore)
	w := bulge.Wall{Short: min(tall, long), Long: max(tall, long), Thick: c.Plan.Box.Nearest}
	gives := w.Deflection(mean, e)
	if gives <= mostBulge {
		return
	}
	f := finding.Finding{
		Severity: finding.Watch,
		Code:     "wall-bulges",
		What:     "A wall of the mould bulges under the resin, and every casting comes out so much thicker.",
		Figure:   finding.Of(quantity.Length, gives),
		Limit:    finding.Of(quantity.Length, mostBulge),
		Why: fmt.Sprintf(
			"A clamped plate %.0f × %.0f mm of %.0f A rubber (about %.1f MPa), %.0f mm thick, under %.0f Pa. Pour with "+
				"the block back in its box, or make the wall thicker.",
			w.Short,
			w.Long,
			c.Rubber.Traits.Shore,
			e,
			w.Thick,
			mean,
		),
		Source: "plate with shear, Poisson's ratio 0.5; Gent 1958 for the stiffness; from memory",
	}
	if t := w.Thickness(mostBulge, mean, e); !math.IsInf(t, 1) {
		f.Remedies = []finding.Remedy{
			{Label: fmt.Sprintf("Clear %.0f mm beside", math.Ceil(t)), Action: finding.SetBeside, Value: math.Ceil(t)},
		}
	}
	add(f)
}

// potted looks whether the mould goes into the pressure pot as it is poured.
func (c Case) potted(b *Build, add func(finding.Finding)) {
	h := c.House
	switch {
	case h.PotWide <= 0 || c.Plan.Kind.Resin == kinds.Poured:
	case b.Across > h.PotWide:
		add(finding.Finding{
			Severity: finding.Watch,
			Code:     "pot-too-narrow",
			What:     "The mould does not go into the pressure pot.",
			Figure:   finding.Of(quantity.Length, b.Across),
			Limit:    finding.Of(quantity.Length, h.PotWide),
			Why: "Across its corners as it stands for the resin. Fewer cavities, a round box, less clearance, or " +
				"cast it without pressure.",
			Source: "House practice",
		})
	case h.PotTall > 0 && b.Tall > h.PotTall:
		add(finding.Finding{
			Severity: finding.Watch,
			Code:     "pot-too-low",
			What:     "The mould is too tall for the pressure pot.",
			Figure:   finding.Of(quantity.Length, b.Tall),
			Limit:    finding.Of(quantity.Length, h.PotTall),
			Why:      "As it stands for the resin.",
			Source:   "House practice",
		})
	}
}

// cured looks whether the box goes into the pressure pot while its rubber
// cures, where the house cures it there.
func (c Case) cured(say func(code string, severity finding.Severity, what, why string)) {
	h := c.House
	if h.Does(practice.Curing) != practice.Pot {
		return
	}
	if h.PotWide <= 0 || h.Pressure <= 0 {
		say("no-pot-for-rubber", finding.Watch, "The house cures rubber in a pressure pot, and has none.",
			"Enter the pot and its pressure, or degas the rubber and let it cure in the open.")
		return
	}
	across, tall := 0.0, 0.0
	for _, p := range c.Plan.Pours {
		a, t := c.Plan.Box.Footprint(p.Up)
		across, tall = max(across, a+2*math.Sqrt2*h.PanelThick), max(tall, t+h.PanelThick+h.Freeboard)
	}
	if across > h.PotWide || h.PotTall > 0 && tall > h.PotTall {
		say(
			"rubber-pot-too-small",
			finding.Watch,
			"The box does not go into the pressure pot while its rubber cures.",
			fmt.Sprintf(
				"With its boards it is %.0f mm across the corners and %.0f mm tall; the pot takes %.0f and %.0f mm. Degas this one "+
					"and let it cure in the open.",
				across,
				tall,
				h.PotWide,
				h.PotTall,
			),
		)
	}
}

// schooled holds the house's own ways against one another and the job.
func (c Case) schooled(add func(finding.Finding)) {
	h := c.House
	say := func(code string, severity finding.Severity, what, why string) {
		add(finding.Finding{Severity: severity, Stage: finding.Rubber, Code: code, What: what, Why: why, Source: "House practice",
			Remedies: []finding.Remedy{{Label: "House practice", Action: finding.OpenPractice}}})
	}
	pressed := h.Pressure > 0 && h.PotWide > 0 && c.Plan.Kind.Resin != kinds.Poured
	if h.Does(practice.Filler) == practice.Scrap && pressed && h.NoDegas {
		say("filler-under-pressure", finding.Watch, "Scrap rubber as filler, in a mould that is cast under pressure.",
			"Air in the chunks and under them is squeezed, and prints on every casting as bumps. Degas the rubber with them, or "+
				"leave them out.")
	}
	c.cured(say)
	if h.Does(practice.Inlet) == practice.Injected && c.Plan.Design.Feed == practice.FeedTop && c.Plan.Kind.Resin == kinds.Sprued {
		say("syringe-at-the-top", finding.Watch, "Resin is injected, and this mould is fed from the top.",
			"A syringe wants a bore that it closes, and air that leaves elsewhere: feed it low, with a vent at every high spot.")
	}
	if h.Does(practice.Stirring) == practice.Hard && h.NoDegas && h.Does(practice.Curing) != practice.Pot {
		say("stirred-hard-not-degassed", finding.Watch, "Rubber is mixed hard and not degassed.",
			"What air is beaten in stays in: mix gently, degas, or pour a high thin stream.")
	}
	if want := h.Does(practice.Rubber); want != practice.Any && c.Rubber != nil && c.Rubber.Traits.Family != "" &&
		c.Rubber.Traits.Family != want {
		say("not-the-houses-rubber", finding.Note, fmt.Sprintf("%s is no %s rubber, as the house uses.", c.Rubber.Name, want),
			"Cups, sticks and gloves that were used with the other family may stop the cure.")
	}
	if h.Does(practice.Cavities) == practice.Many && c.Plan.Design.Cavities() == 1 && c.Wanted >= manyWanted {
		say("one-cavity-for-many", finding.Note, fmt.Sprintf("%d are to be made from one cavity.", c.Wanted),
			"The house lays many cavities in a mould: the Gang tab compares what each number costs.")
	}
	if h.Does(practice.Filling) == practice.After && c.Plan.Kind.Resin == kinds.Pressed {
		say("pressed-after-closing", finding.Watch, "The house fills moulds after they have closed; this one is pressed onto its resin.",
			"It has no gate: fill the lower half first, or take a kind with a sprue.")
	}
}

// heat looks how hot the thickest place becomes, and how much slower it
// cures than the left-over in the cup that it is judged by.
func (c Case) heat(add func(finding.Finding)) {
	if c.Resin == nil || c.Resin.OnePart() || c.Thickest == 0 || c.Resin.Traits.Demould == 0 {
		return
	}
	section := exotherm.Slab{Thick: c.Thickest, Density: c.Resin.Density,
		Demould: c.Resin.Traits.In(c.House.Celsius).Demould, Rubber: c.Plan.Box.Nearest}
	cup := section
	cup.Thick, cup.Rubber = cupWide, 0
	peak := section.Peak()
	stands, by := usualHeat, finding.CommonPractice
	if c.Rubber != nil && c.Rubber.Traits.Heat > 0 {
		stands, by = c.Rubber.Traits.Heat, "data sheet of "+c.Rubber.Name
	}
	if hot := c.House.Celsius + peak; hot > stands {
		add(finding.Finding{
			Severity: finding.Watch,
			Stage:    finding.Shot,
			Code:     "section-runs-hot",
			What:     fmt.Sprintf("The thickest place, %.3g mm, heats itself to about %.0f °C.", c.Thickest, hot),
			Figure:   finding.Of(quantity.Number, hot),
			Limit:    finding.Of(quantity.Number, stands),
			Why: fmt.Sprintf("Degrees Celsius. %s: the rubber ages, the casting foams, shrinks or cracks. A slower resin, two "+
				"fills, or a core "+
				"in the thick place. %.0f J/g are taken to be set free; its data sheet goes first.", by, exotherm.Reaction),
			Source: "first-order reaction with feedback, Castro and Macosko 1980; what the rubber takes up is counted",
		})
	}
	if slower := exotherm.Slower(cup.Peak(), peak); slower > slowerFrom {
		add(finding.Finding{
			Severity: finding.Note,
			Stage:    finding.Shot,
			Code:     "slower-than-cup",
			What: fmt.Sprintf("Its thickest place, %.3g mm, cures about %.2g times slower than the left-over in the "+
				"cup.", c.Thickest, slower),
			Figure: finding.Of(quantity.Number, slower),
			Limit:  finding.Of(quantity.Number, slowerFrom),
			Why: "The cup is thick and heats itself; a thin casting stays cool. Do not demould by the cup alone: wait " +
				"longer, or keep the mould warm.",
			Source: "twice as fast for every ten degrees; common practice, no source",
		})
	}
}

// What a casting's heat is held against; common practice, no source.
const (
	usualHeat  = 150.0 // °C that silicone rubber stands for a while
	cupWide    = 60.0  // mm, a mixing cup with a left-over
	slowerFrom = 1.5   // times, from which the cup misleads
)

// goods looks at what touches rubber and resin beside the part: cups, glue and powder.
func (c Case) goods(add func(finding.Finding)) {
	h := c.House
	house := []finding.Remedy{{Label: "House practice", Action: finding.OpenPractice}}
	if h.Does(practice.Cups) == practice.ThinCups && c.Resin != nil && !c.Resin.OnePart() {
		add(finding.Finding{Severity: finding.Watch, Stage: finding.Shot, Code: "cups-dissolve",
			What: "Thin throw-away cups dissolve in some resins.",
			Why: "A cup that softens while it is stirred goes into the mould or over the bench. Try a drop for its pot " +
				"life, or take clear measuring cups.",
			Remedies: house})
	}
	platinum := c.Rubber != nil && c.Rubber.Traits.Family == "platinum"
	if h.Does(practice.Fixing) == practice.HotGlue && platinum {
		add(finding.Finding{Severity: finding.Watch, Stage: finding.Rubber, Code: "glue-inhibits",
			What: "Some hot glues stop platinum rubber from curing.",
			Why: "It stays wet where it touches the bead. Dab the rubber on a bead of this glue first, or fix the master " +
				"with wax or white glue.",
			Remedies: house})
	}
	if c.powder() != "" && c.Plan.Parted() {
		add(finding.Finding{Severity: finding.Note, Stage: finding.Mould, Code: "powder-and-seam",
			What: "A seam that is sanded shows plain resin under the powder.",
			Why: "Trim it with a blade and burnish it, or peel the casting out of a one-piece stretch block, which has no seam. Soft " +
				"rubber holds powder better.",
			Remedies: []finding.Remedy{{Label: "Build it as a stretch block", Action: finding.SetKind, Text: string(kinds.Stretch.Key)}}})
	}
}

// manyWanted is an order of some size; common practice, no source.
const manyWanted = 20

// mixing looks at buckets, scale, pot life and the cold, mix by mix as they
// are poured.
func (c Case) mixing(bench *kinds.Bench, add func(finding.Finding)) {
	pot := 0.0
	if c.Rubber != nil {
		pot = c.Rubber.Traits.In(c.House.Celsius).PotLife
	}
	c.schooled(add)
	c.goods(add)
	if c.Rubber != nil {
		if f := mix.CheckDensity(finding.Rubber, *c.Rubber); f != nil {
			add(*f)
		}
		if f := mix.CheckKits(finding.Rubber, "The rubber for one mould", *c.Rubber, c.Plan.Mixed.Value*c.Rubber.Density); f != nil {
			add(*f)
		}
	}
	for _, p := range c.Plan.Pours {
		if !p.Known {
			continue
		}
		n := max(1, p.Mixes.Value)
		if n > 1 {
			add(finding.Finding{
				Severity: finding.Note,
				Stage:    finding.Rubber,
				Code:     "several-mixes",
				What:     fmt.Sprintf("%s takes %.0f mixes.", p.Name, n),
				Figure:   finding.Of(quantity.Volume, p.Mixed.Value),
				Limit:    finding.Of(quantity.Volume, p.Mixed.Value/n),
				Why:      "The largest bucket or the scale takes no more at once. Pour each as it is ready, the next before it gels.",
				Source:   "House practice",
			})
		}
		mixing, degas, pouring := bench.Mixing(p)
		if minutes := mixing + degas + pouring; pot > 0 && minutes > pourShare*pot {
			add(finding.Finding{
				Severity: finding.Watch,
				Stage:    finding.Rubber,
				Code:     "pot-life-short",
				What:     fmt.Sprintf("Mixing, degassing and pouring %s leave little of the pot life.", kinds.Small(p.Name)),
				Figure:   finding.Of(quantity.Number, minutes),
				Limit:    finding.Of(quantity.Number, pourShare*pot),
				Why:      "Minutes, for one mix. A slower rubber, a smaller mix, or no second degassing.",
				Source:   "House practice; the rubber's sheet",
			})
		}
		if p.Batch != nil {
			if f := mix.CheckScale(finding.Rubber, "the rubber for "+kinds.Small(p.Name), *c.Rubber, p.Batch.A.Value/n,
				p.Batch.B.Value/n, c.House); f != nil {
				add(*f)
			}
		}
	}
	if c.Rubber != nil && c.Rubber.Traits.Family == "platinum" && c.House.Celsius > 0 && c.House.Celsius < coldest {
		add(finding.Finding{
			Severity: finding.Stop,
			Stage:    finding.Rubber,
			Code:     "too-cold",
			What:     "It is too cold in the shop for platinum-cure rubber.",
			Figure:   finding.Of(quantity.Number, c.House.Celsius),
			Limit:    finding.Of(quantity.Number, coldest),
			Why:      "Degrees Celsius. Under about 18 °C it stops curing. Warm room, rubber and box.",
			Remedies: []finding.Remedy{{Label: "House practice", Action: finding.OpenPractice}},
		})
	}
}
