package build

import (
	"fmt"
	"math"

	"bathyform/core/bulge"
	"bathyform/core/finding"
	"bathyform/core/kind"
	"bathyform/core/quantity"
	"bathyform/core/squeeze"

	"gonum.org/v1/gonum/spatial/r3"
)

// Limits of judgement; common practice, no source.
const (
	mostBulge   = 0.2  // mm that a wall of the cavity may give
	softest     = 15.0 // Shore A, up to which rubber peels like a sock
	pourShare   = 0.8  // of the pot life that mixing, degassing and pouring may take
	leaveThin   = 3.0  // mm of rubber that thick rubber still runs into
	levelEnough = 2.0  // degrees that a bench is out of level before anybody sees it
)

// findings says what stands against a build.
func (c Case) findings(b *Build) (out []finding.Finding) {
	add := func(f finding.Finding) {
		if f.Stage == "" {
			f.Stage = finding.Mould
		}
		if f.Source == "" {
			f.Source = finding.CommonPractice
		}
		out = append(out, f)
	}
	if c.keyed() && c.Plan.Keys.Short != "" {
		add(finding.Finding{Severity: finding.Watch, What: c.Plan.Keys.Short, Why: "Halves that shift leave a step at the seam of every casting. Clear more beside the part, or take a bevel.",
			Remedies: []finding.Remedy{{Label: "Clear 8 mm more beside", Action: finding.SetBeside, Value: c.Box.Nearest + 8}}})
	}
	c.thinJoints(add)
	c.bulging(add)
	c.potted(b, add)
	c.mixing(b, add)
	if c.Kind == kind.Stretch && (c.Rubber == nil || c.Rubber.Traits.Shore == 0 || c.Rubber.Traits.Shore > softest) {
		f := finding.Finding{Severity: finding.Stop, What: "This rubber does not peel like a sock, or its sheet does not say how soft it is.", Limit: finding.Of(quantity.Number, softest), Why: "A block without a cut wants a rubber of 15 A or softer.", Remedies: []finding.Remedy{{Label: "Choose a rubber", Action: finding.OpenStock}}}
		if c.Rubber != nil && c.Rubber.Traits.Shore > 0 {
			f.Figure = finding.Of(quantity.Number, c.Rubber.Traits.Shore)
		} else {
			f.Severity = finding.Watch
		}
		add(f)
	}
	if c.Kind == kind.Tape && (c.Rubber == nil || !c.Rubber.Traits.Clear) {
		add(finding.Finding{Severity: finding.Watch, What: "The fins cannot be seen through this rubber.", Why: "A tape-parted block is cut by eye down to the inked fins: it wants a clear rubber.", Remedies: []finding.Remedy{{Label: "Choose a rubber", Action: finding.OpenStock}}})
	}
	if c.Kind == kind.Pieces && len(c.Plan.Pieces) == 2 {
		add(finding.Finding{Severity: finding.Note, What: "No undercut wants a side piece here.", Why: "What there is strips out of this rubber: two parts do the same with less work."})
	}
	if c.Kind != kind.Stretch && c.Kind != kind.Pieces {
		locked := 0.0
		for _, u := range c.Plan.Locked {
			locked += u.Volume
		}
		hard := 0
		for _, u := range c.Plan.Locked {
			if u.Answer == "side piece" && !u.Decided {
				hard++
			}
		}
		if hard > 0 {
			add(finding.Finding{Severity: finding.Stop, What: fmt.Sprintf("%s the rubber cannot be stripped out of.", plural(hard, "undercut is there that", "undercuts are there that")), Figure: finding.Of(quantity.Volume, locked/1000),
				Where: &c.Plan.Locked[0].At, Why: "It would tear the rubber within a few pulls: give them side pieces, another draw, or fill them on the master.", Remedies: []finding.Remedy{{Label: "Build it in pieces", Action: finding.Divide}}})
		}
	}
	if c.Kind == kind.Board && c.Plan.Off > 0.5 {
		add(finding.Finding{Severity: finding.Watch, What: "The parting is not level: a flat board leaves a wedge to close with clay.", Figure: finding.Of(quantity.Length, c.Plan.Off), Limit: finding.Of(quantity.Length, 0.5), Why: "So far the line leaves the board's plane. Clay it up, or choose another edge for the seam."})
	}
	if c.Tilt != nil && c.Tilt.Value < levelEnough {
		add(finding.Finding{Severity: finding.Watch, What: outOfLevel(c.Tilt.Value), Figure: finding.Of(quantity.Number, c.Tilt.Value), Limit: finding.Of(quantity.Number, levelEnough), Why: "A bench is seldom more level than that without a spirit level: shim the mould, and the pot's floor."})
	}
	return out
}

// hairThin is the bore in mm under which a rod that the rubber streams past is
// bent by it.
const hairThin = 2.5

// thinJoints looks for what the stream of rubber would bend.
func (c Case) thinJoints(add func(finding.Finding)) {
	switch c.Kind {
	case kind.Cut, kind.Tape, kind.Stretch:
	default:
		return
	}
	thin := 0
	for _, d := range c.Scars {
		if d < hairThin {
			thin++
		}
	}
	if thin > 0 {
		add(finding.Finding{Severity: finding.Note, What: fmt.Sprintf("%s so thin that the stream of rubber bends %s.", plural(thin, "wire is", "wires are"), map[bool]string{true: "it", false: "them"}[thin == 1]), Limit: finding.Of(quantity.Length, hairThin),
			Why: "Cast in as sprue or vent: pour into the corner that is farthest from them, in a thin stream, and slower as it rises past."})
	}
}

func outOfLevel(safe float64) string {
	if safe <= 0 {
		return "The least tilt shuts in another pocket: this mould has to stand level."
	}
	return fmt.Sprintf("Beyond %.2g° out of level a new pocket forms or the well spills.", safe)
}

// bulging looks how far the cavity's walls give under the head of resin.
func (c Case) bulging(add func(finding.Finding)) {
	if c.Rubber == nil || c.Rubber.Traits.Shore == 0 || c.Kind == kind.Shell || c.Kind == kind.OpenFace {
		return
	}
	up, err := c.Ups.Resin.Dir()
	if err != nil {
		return
	}
	size := r3.Sub(c.Body.Max, c.Body.Min)
	if n := max(1, c.Cavities); n > 1 { // one cavity's wall, not the row's
		size = r3.Scale(1/math.Sqrt(float64(n)), size)
	}
	tall := math.Abs(r3.Dot(size, up))
	long := 0.0
	for _, v := range [3][2]float64{{up.X, size.X}, {up.Y, size.Y}, {up.Z, size.Z}} {
		if v[0] == 0 {
			long = max(long, v[1])
		}
	}
	density := resinDensity
	if c.Resin != nil {
		density = c.Resin.Density
	}
	mean := density * 1000 * squeeze.Gravity * (tall/2 + c.House.Clearance.Above) / 1000
	e := bulge.Young(c.Rubber.Traits.Shore)
	w := bulge.Wall{Short: min(tall, long), Long: max(tall, long), Thick: c.Box.Nearest}
	gives := w.Deflection(mean, e)
	if gives <= mostBulge {
		return
	}
	f := finding.Finding{Severity: finding.Watch, What: "A wall of the mould bulges under the resin, and every casting comes out so much thicker.", Figure: finding.Of(quantity.Length, gives), Limit: finding.Of(quantity.Length, mostBulge),
		Why:    fmt.Sprintf("A clamped plate %.0f × %.0f mm of %.0f A rubber (about %.1f MPa), %.0f mm thick, under %.0f Pa. Pour with the block back in its box, or make the wall thicker.", w.Short, w.Long, c.Rubber.Traits.Shore, e, w.Thick, mean),
		Source: "plate with shear, Poisson's ratio 0.5; Gent 1958 for the stiffness; from memory"}
	if t := w.Thickness(mostBulge, mean, e); !math.IsInf(t, 1) {
		f.Remedies = []finding.Remedy{{Label: fmt.Sprintf("Clear %.0f mm beside", math.Ceil(t)), Action: finding.SetBeside, Value: math.Ceil(t)}}
	}
	add(f)
}

// potted looks whether the mould goes into the pressure pot as it is poured.
func (c Case) potted(b *Build, add func(finding.Finding)) {
	if c.House.PotWide <= 0 {
		return
	}
	wide, tall := c.Footprint()
	switch {
	case wide > c.House.PotWide:
		add(finding.Finding{Severity: finding.Watch, What: "The mould does not go into the pressure pot.", Figure: finding.Of(quantity.Length, wide), Limit: finding.Of(quantity.Length, c.House.PotWide), Why: "Across its corners as it stands for the resin. Fewer cavities, a round box, less clearance, or cast it without pressure.", Source: "House practice"})
	case c.House.PotTall > 0 && tall > c.House.PotTall:
		add(finding.Finding{Severity: finding.Watch, What: "The mould is too tall for the pressure pot.", Figure: finding.Of(quantity.Length, tall), Limit: finding.Of(quantity.Length, c.House.PotTall), Why: "As it stands for the resin.", Source: "House practice"})
	}
}

// Footprint is the circle that the mould takes as it stands for the resin,
// and its height, mm.
func (c Case) Footprint() (across, tall float64) {
	deep := c.Plan.Box.Max.Z - c.Plan.Box.Min.Z
	if c.Ups.Resin.Along(c.Draw) {
		if c.Box.Form == "round" {
			return c.Box.Wide, deep
		}
		return math.Hypot(c.Box.Wide, c.Box.Deep), deep
	}
	up, _ := c.Ups.Resin.Dir()
	in := c.Plan.Frame.In(up)
	long, high := c.Box.Wide, c.Box.Deep
	if math.Abs(in.X) > math.Abs(in.Y) {
		long, high = high, long
	}
	return math.Hypot(long, deep), high
}

// mixing looks at buckets, chamber, pot life and the cold.
func (c Case) mixing(b *Build, add func(finding.Finding)) {
	pot := life(c.Rubber)
	for _, p := range b.Pours {
		n := p.Mixes.Value
		minutes := mixMinutes + pourMinutes + pourLitre*p.Mixed.Value/1000/n
		if !c.House.NoDegas {
			minutes += degasMinutes
		}
		if n > 1 {
			add(finding.Finding{Severity: finding.Note, Stage: finding.Rubber, What: fmt.Sprintf("%s takes %.0f mixes.", p.Name, n), Figure: finding.Of(quantity.Volume, p.Mixed.Value), Limit: finding.Of(quantity.Volume, p.Mixed.Value/n),
				Why: "The largest bucket or the scale takes no more at once. Pour each as it is ready, the next before it gels.", Source: "House practice"})
		}
		if pot > 0 && minutes > pourShare*pot {
			add(finding.Finding{Severity: finding.Watch, Stage: finding.Rubber, What: fmt.Sprintf("Mixing, degassing and pouring %s leave little of the pot life.", p.Name), Figure: finding.Of(quantity.Number, minutes), Limit: finding.Of(quantity.Number, pourShare*pot),
				Why: "Minutes, for one mix. A slower rubber, a smaller mix, or no second degassing."})
		}
	}
	if c.Rubber != nil && c.Rubber.Traits.Family == "platinum" && c.House.Celsius > 0 && c.House.Celsius < coldest {
		add(finding.Finding{Severity: finding.Stop, Stage: finding.Rubber, What: "It is too cold in the shop for platinum-cure rubber.", Figure: finding.Of(quantity.Number, c.House.Celsius), Limit: finding.Of(quantity.Number, coldest), Why: "Degrees Celsius. Under about 18 °C it stops curing. Warm room, rubber and box.", Remedies: []finding.Remedy{{Label: "House practice", Action: finding.OpenPractice}}})
	}
}
