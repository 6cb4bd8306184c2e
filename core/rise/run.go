package rise

import (
	"fmt"
	"math"

	"bathyform/core/channel"
	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/flow"
	"bathyform/core/gate"
	"bathyform/core/kinds"
	"bathyform/core/mix"
	"bathyform/core/mould"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/shot"
)

// Run is how resin runs into the cavities through their channels, out of a
// well that is kept full.
type Run struct {
	Full      *derive.Number   // min from when A meets B until the last cavity is full; nil where one never is
	Cavities  []*derive.Number // the same, by cavity
	Spread    *derive.Number   // of their times without the mixing, the last over the first; nil for one
	Narrowest *derive.Number   // bore of a sprue through which all are full as the pot life ends, mm; nil where none is wide enough
	Head      derive.Number    // mm of resin over the highest place of the parts, the well full
	Brim      derive.Number    // mL/s that keep the sprue full
	Reynolds  derive.Number    // in the sprue as the pour begins
	Push      *derive.Number   // N on a syringe that fills the mould within a minute; nil fed from the top, or where a hand feels none
	Opens     *derive.Number   // N by which that pushes the halves apart once nothing flows
	Channels  []Carries        // by the layout's channel; none for vents
	Findings  []finding.Finding
}

// Carries is what a channel does as the pour begins.
type Carries struct {
	Channel    int           // of the layout
	Resistance derive.Number // Pa s/mL
	Share      float64       // of what leaves the well
	Flow       float64       // mL/s
}

const (
	// roomier is by how much a sprue that is proposed is wider than it must be:
	// its way is the longer, the wider it is.
	roomier = 1.05
	// laminar is the Reynolds number up to which the flow is taken to be smooth.
	laminar = 2000
	// balanced is how much longer than the first the last cavity may take.
	// Common practice, no source.
	balanced = 1.5
)

// running is a run being worked out.
type running struct {
	p              mould.Plan
	l              gate.Layout
	r              Rise
	resin          *mix.Material
	sheet          mix.Traits
	growth         mix.Growth
	web            web
	found          flow.Solution
	thin           []float64 // s, by cavity, with the resin as thin as it is fresh
	last           int       // the cavity that is full last
	viscosity, pot derive.Input
}

// Running works out how the resin of a rise runs in. It is nil where nobody
// can know: without a sprue, a shape, a viscosity or a pot life.
func Running(p mould.Plan, l gate.Layout, r Rise, resin *mix.Material, house practice.House) *Run {
	if resin == nil || len(r.Volumes) == 0 || p.Kind.Resin != kinds.Sprued {
		return nil
	}
	n := running{p: p, l: l, r: r, resin: resin, sheet: resin.Traits.In(house.Celsius)}
	if n.sheet.Viscosity <= 0 || n.sheet.PotLife <= 0 {
		return nil
	}
	var ok bool
	if n.web, ok = webOf(l); !ok || !n.solve() {
		return nil
	}
	n.growth = mix.Thickening(n.sheet.PotLife * 60)
	n.viscosity = derive.From("viscosity (Pa s)", quantity.Number, n.sheet.Viscosity, "data sheet of "+resin.Name)
	n.pot = derive.From("pot life (min)", quantity.Number, n.sheet.PotLife, "data sheet of "+resin.Name+", in this shop")
	out := &Run{Channels: n.carries()}
	n.times(out)
	out.Head = derive.Of(quantity.Length, n.l.Top-n.l.PartHigh, "top of the mould − highest place of the parts",
		derive.From("top of the mould", quantity.Length, n.l.Top, "over the floor; the well is full to it"),
		derive.From("highest place of the parts", quantity.Length, n.l.PartHigh, "over the floor")).
		Noted("This much presses resin into the highest places; slender ends want more, or a cone for a sprue.")
	n.narrowest(out)
	n.sprue(out)
	if p.Design.Feed == practice.FeedLow && p.Kind.Halves {
		n.push(out)
	}
	out.Findings = n.findings(out)
	return out
}

// solve works the network out, the resin as thin as it is fresh. Each cavity
// fills as its own shape lets it: what the network takes for as wide below as
// above is stretched by what its slices take, each over the head that is left.
func (n *running) solve() bool {
	low := n.l.PartLow
	n.web.Viscosity, n.web.Density = n.sheet.Viscosity, n.resin.Density*1000
	n.web.Pressure = flow.Head(n.web.Density, (n.r.Top-low)/1000)
	stretch := make([]float64, len(n.l.Cavities))
	for i, c := range n.l.Cavities {
		gate := n.gate(i)
		steps := n.r.one(n.l, gate)
		whole := steps[len(steps)-1].Volume
		f := flow.Cavity{Node: cavityNode(i), Volume: whole, Base: (c.Low + gate - low) / 1000, Height: steps[len(steps)-1].Height}
		stretch[i] = 1
		if n.p.Design.Feed == practice.FeedTop {
			f.Base, f.Height = 0, 0
			n.web.Pressure = flow.Head(n.web.Density, (n.r.Top-n.l.Channels[n.web.of[n.web.gates[i][0]]].Foot)/1000)
		} else if head := (n.r.Top - c.Low - gate) / 1000; head > f.Height {
			stretch[i] = flow.RiseTime(steps, head, 1, 1) / flow.RiseTime([]flow.Step{{Height: f.Height, Volume: whole}}, head, 1, 1)
		}
		n.web.Cavities = append(n.web.Cavities, f)
	}
	var err error
	if n.found, err = n.web.Solve(); err != nil {
		return false
	}
	for i, c := range n.found.Cavities {
		n.thin = append(n.thin, c.At*stretch[i])
		if n.thin[i] > n.thin[n.last] {
			n.last = i
		}
	}
	return true
}

// gate is how high over a cavity's lowest place resin comes in, mm: below it
// the cavity fills without pressing back.
func (n *running) gate(cavity int) float64 {
	least := math.Inf(1)
	for _, k := range n.web.gates[cavity] {
		c := n.l.Channels[n.web.of[k]]
		height := c.Top
		if c.Kind != channel.Gate {
			height = c.Foot
		}
		least = min(least, height-n.l.Cavities[cavity].Low)
	}
	return max(0, least)
}

// resistance is that of a network's channel, as a sum.
func (n *running) resistance(i int) derive.Number {
	c := n.web.Channels[i]
	length := derive.From("length", quantity.Length, c.Length*1000, "of its way")
	if c.Rim > 0 {
		return derive.Of(
			quantity.Number,
			n.found.Runs[i].Resistance,
			"128 × viscosity × length / (3π × (rim − bore)) × (1 / bore³ − 1 / rim³)",
			n.viscosity,
			length,
			derive.From("bore", quantity.Length, c.Bore*1000, "this design"),
			derive.From("rim", quantity.Length, c.Rim*1000, "this design"),
		)
	}
	formula, inputs := "128 × viscosity × length / (π × bore⁴)", []derive.Input{n.viscosity, length,
		derive.From("bore", quantity.Length, max(c.Bore, c.Width)*1000, "this design")}
	switch {
	case c.Half:
		formula = "5.279 × 128 × viscosity × length / (π × bore⁴), half round"
	case c.Height > 0:
		formula = "12 × viscosity × length / (bore × thick³), less what its sides hold back"
		inputs = append(inputs, derive.From("thick", quantity.Length, c.Height*1000, "this design"))
	}
	return derive.Of(quantity.Number, n.found.Runs[i].Resistance, formula, inputs...)
}

// carries is what the layout's channels do, each where it begins.
func (n *running) carries() (out []Carries) {
	for i, of := range n.web.of {
		run, resists := n.found.Runs[i], perML(n.resistance(i))
		if len(out) > 0 && out[len(out)-1].Channel == of { // in parts, one behind the other
			last := &out[len(out)-1]
			last.Resistance = derive.Of(quantity.Number, last.Resistance.Value+resists.Value, "sum of its parts between joints",
				last.Resistance.As("before the joint"), resists.As("behind it"))
			last.Share, last.Flow = max(last.Share, run.Share), max(last.Flow, math.Abs(run.Flow)*1e6)
			continue
		}
		out = append(out, Carries{of, resists, run.Share, math.Abs(run.Flow) * 1e6})
	}
	return out
}

// perML is a resistance in Pa s/mL, which are figures that a caster can read.
func perML(r derive.Number) derive.Number {
	return derive.Of(quantity.Number, r.Value/1e6, "resistance / 1000000, Pa s/mL", r.As("resistance (Pa s/m³)"))
}

// way is what stands between the well and a cavity, as a sum.
func (n *running) way(cavity int) derive.Number {
	sum := 0.0
	var inputs []derive.Input
	way := n.web.way(cavity)
	for k := len(way) - 1; k >= 0; k-- {
		r := n.resistance(way[k])
		sum += r.Value
		inputs = append(inputs, r.As(n.l.Channels[n.web.of[way[k]]].Named(len(n.l.Cavities))))
	}
	return derive.Of(quantity.Number, sum, "sum of what its channels resist, one behind the other", inputs...)
}

// times are when the cavities are full.
func (n *running) times(out *Run) {
	for i := range n.thin {
		fresh := n.fresh(i)
		done, fills := n.growth.Takes(n.mixed() + n.thin[i])
		if !fills || math.IsInf(n.thin[i], 1) {
			out.Cavities = append(out.Cavities, nil)
			continue
		}
		full := derive.Of(quantity.Number, done/60,
			"−ln(1 − k × (fresh + mixing as fresh)) / k, with k = ln 2 / pot life: it is twice as thick then",
			fresh.As("fresh (s)"), derive.From("mixing (min)", quantity.Number, shot.Mixing, finding.CommonPractice), n.pot).
			Noted("From when A meets B. Channels that run full of a plain liquid: Hagen and Poiseuille, from memory.")
		out.Cavities = append(out.Cavities, &full)
	}
	out.Full = out.Cavities[n.last]
	if len(n.thin) > 1 {
		first := 0
		for i, t := range n.thin {
			if t < n.thin[first] {
				first = i
			}
		}
		spread := derive.Of(quantity.Number, n.thin[n.last]/n.thin[first], "the last / the first, without mixing",
			n.fresh(n.last).As(fmt.Sprintf("cavity %d (s)", n.last+1)), n.fresh(first).As(fmt.Sprintf("cavity %d (s)", first+1))).
			Noted("1 is in balance.")
		out.Spread = &spread
	}
}

// fresh is how long a cavity takes to fill, the resin as thin as it is fresh, s.
func (n *running) fresh(i int) derive.Number {
	c := n.web.Cavities[i]
	density := derive.From("density", quantity.Density, n.resin.Density, "data sheet of "+n.resin.Name)
	head := derive.From("head", quantity.Length, n.web.Pressure/(n.web.Density*quantity.Gravity)*1000-c.Base*1000,
		"from where the resin comes in, or the part's lowest place, to the rim of the well, which is kept full")
	volume := derive.From("cavity", quantity.Volume, c.Volume*1e6, "the part")
	formula := "resistance / (density × 9.80665) × sum of the cavity's slices, each over the head that is left"
	if n.p.Design.Feed == practice.FeedTop {
		formula = "resistance × cavity / (density × 9.80665 × head)"
	}
	out := derive.Of(quantity.Number, n.thin[i], formula, n.way(i).As("resistance (Pa s/m³)"), density, head, volume)
	if len(n.thin) > 1 {
		out = out.Noted(
			"What flows to the others takes its share of the channels they have in common: the network is solved as a whole, " +
				"levels press back, and what is full drops out.",
		)
	}
	return out
}

func (n *running) mixed() float64 { return n.growth.Effective(shot.Mixing * 60) }

// narrowest is the sprue through which the last cavity is full as the pot life
// ends, or within the time that is wanted: the runner and the gate behind it
// change with it.
func (n *running) narrowest(out *Run) {
	within, worth := n.growth.PotLife, "what the pot life is worth"
	if w := n.p.Design.Within * 60; w > 0 && w < within {
		within, worth = w, "what the wanted time is worth"
	}
	left := n.growth.Effective(within) - n.mixed()
	thin := n.thin[n.last]
	if left <= 0 || math.IsInf(thin, 1) {
		return
	}
	now := n.p.Design.SprueBore
	volume := n.p.Part.Value * 1000
	resists := func(bore float64) (sum float64) {
		for _, i := range n.web.way(n.last) {
			c := n.web.Channels[i]
			by := gate.Scaled(n.l.Channels[n.web.of[i]].Kind, now, bore, volume)
			c.Bore *= by
			c.Width *= by
			if c.Rim > 0 {
				c.Rim = max(c.Rim, c.Bore)
			}
			sum += c.Resistance(n.sheet.Viscosity)
		}
		return sum
	}
	wanted := resists(now) * left / thin
	low, high := 0.1, 200.0
	if resists(high) > wanted {
		return
	}
	for range 60 {
		if mid := (low + high) / 2; resists(mid) > wanted {
			low = mid
		} else {
			high = mid
		}
	}
	narrow := derive.Of(quantity.Length, high, "the sprue with which resistance × fresh / resistance as it is = "+worth,
		n.way(n.last).As("resistance as it is (Pa s/m³)"), n.fresh(n.last).As("fresh (s)"),
		derive.From(worth+" after mixing (s)", quantity.Number, left, "as if the resin stayed as thin as it is fresh"),
	).
		Noted("Runners and gates change with the sprue, up to the gate that the part bears.")
	out.Narrowest = &narrow
}

// sprue is what is told of the sprue itself.
func (n *running) sprue(out *Run) {
	bore := n.p.Design.SprueBore / 1000
	flowing := 0.0
	for i, c := range n.web.Channels {
		if n.l.Channels[n.web.of[i]].Kind == channel.Sprue {
			flowing = max(flowing, math.Abs(n.found.Runs[i].Flow))
			bore = c.Bore
			if c.Rim > 0 {
				bore = min(c.Bore, c.Rim) // where a cone is narrowest
			}
		}
	}
	wide := derive.From("bore", quantity.Length, bore*1000, "this design")
	out.Brim = derive.Of(quantity.Number, flow.SelfWeight(n.web.Density, n.sheet.Viscosity, bore)*1e6,
		"π × density × 9.80665 × bore⁴ / (128 × viscosity)", n.viscosity, wide).
		Noted("Poured slower than this the sprue runs part empty and draws air along.")
	out.Reynolds = derive.Of(
		quantity.Number,
		flow.Reynolds(n.web.Density, n.sheet.Viscosity, bore, flowing),
		"4 × density × flow / (π × bore × viscosity), as the pour begins",
		n.viscosity,
		wide,
		derive.From(
			"flow (mL/s)",
			quantity.Number,
			flowing*1e6,
			"the network of channels",
		),
	).Noted("Under 2000 the resin comes in smoothly.")
}

// A syringe as it lies on most benches, and how long a hand pushes it evenly.
// Common practice, no source.
const (
	syringe = 30.0 // mm
	pushed  = 60.0 // s
	felt    = 1.0  // N below which a hand feels no more than the piston
)

// push is what a hand does with a syringe in the sprue, and what that does to
// the mould: once the cavities are full nothing flows, and all of its pressure
// stands against the halves.
func (n *running) push(out *Run) {
	leaves, volume := 0.0, 0.0
	for i, c := range n.web.Channels {
		if c.From == well || c.To == well {
			leaves += math.Abs(n.found.Runs[i].Flow)
		}
	}
	for _, c := range n.web.Cavities {
		volume += c.Volume
	}
	resists := n.way(n.last)
	if len(n.web.Cavities) > 1 {
		resists = derive.Of(quantity.Number, n.web.Pressure/leaves, "head's pressure / what leaves the well as the pour begins",
			derive.From("pressure (Pa)", quantity.Number, n.web.Pressure, "of the well over the lowest part"),
			derive.From("flow (mL/s)", quantity.Number, leaves*1e6, "the network of channels"))
	}
	pressure := resists.Value * volume / pushed
	piston := math.Pi / 4 * syringe * syringe / 1e6
	if pressure*piston < felt {
		return
	}
	under := derive.Of(quantity.Number, pressure/1000, "resistance × cavities / time / 1000, kPa", resists.As("resistance (Pa s/m³)"),
		derive.From("cavities", quantity.Volume, volume*1e6, "without their channels"),
		derive.From("time (s)", quantity.Number, pushed, finding.CommonPractice))
	push := derive.Of(quantity.Number, pressure*piston, "pressure × π/4 × bore² of the syringe", under.As("pressure (kPa)"),
		derive.From("bore of the syringe", quantity.Length, syringe, finding.CommonPractice)).
		Noted("Within a minute, with the resin fresh; its piston rubs by 5 to 20 N besides, from memory. A hand manages some 50 N.")
	seen := n.p.Shadow()
	opens := derive.Of(quantity.Number, pressure*seen/1e6, "pressure × area of the cavities across the draw", under.As("pressure (kPa)"),
		derive.From("area of the cavities across the draw", quantity.Area, seen/100, "the parts seen along the draw")).
		Noted("As much as bands and weight must hold once the mould is full and the hand still pushes: thick resin opens a mould " +
			"so, and every parting has flash.")
	out.Push, out.Opens = &push, &opens
}

// one is what a rise leaves in the first cavity, by height over where resin
// comes in so many mm over its lowest place, in SI.
func (r Rise) one(l gate.Layout, from float64) []flow.Step {
	low := l.Cavities[0].Low
	high := low + l.Cavities[0].Space.High() - l.Cavities[0].Space.Low()
	var out []flow.Step
	for i, h := range r.Heights {
		if h > low {
			out = append(out, flow.Step{Height: max(0, min(h, high)-low-from) / 1000, Volume: r.first[i] * 1e-9})
		}
		if h >= high {
			break
		}
	}
	return out
}

// findings says what stands against a run.
func (n *running) findings(r *Run) (out []finding.Finding) {
	pot, name := n.sheet.PotLife, n.resin.Name
	the := "cavity is"
	if len(n.thin) > 1 {
		the = "cavities are"
	}
	if r.Spread != nil && r.Spread.Value > balanced {
		out = append(out, n.unbalanced(r))
	}
	f := finding.Finding{Severity: finding.Stop, Stage: finding.Gates, Limit: finding.Of(quantity.Number, pot),
		Source:   "flow through a round bore as the resin thickens; mixing takes a minute and a half, common practice",
		Remedies: []finding.Remedy{{Label: "Another resin", Action: finding.OpenStock}}}
	switch {
	case n.growth.Effective(n.growth.PotLife) <= n.mixed():
		f.Code, f.What = "pot-life-gone", fmt.Sprintf("The pot life of %s is over before it is poured.", name)
		f.Figure = finding.Of(quantity.Number, shot.Mixing)
		f.Why = "Minutes, from when A meets B. Take a slower resin, or a cooler shop."
		return append(out, f)
	case n.p.Design.Within > 0 && n.p.Design.Within < shot.Mixing:
		f.Code, f.What, f.Severity = "not-full-in-time", "Mixing alone takes longer than the time that you want.", finding.Watch
		f.Figure, f.Limit = finding.Of(quantity.Number, shot.Mixing), finding.Of(quantity.Number, n.p.Design.Within)
		f.Why, f.Remedies = "Minutes, from when A meets B.", nil
		return append(out, f)
	case r.Full == nil:
		f.Code, f.What = "sets-before-full", fmt.Sprintf("The resin sets before the %s full.", the)
		f.Why = "It thickens faster than it runs in. A sprue half as wide again lets five times as much through."
	case r.Full.Value > pot:
		f.Code, f.What = "full-too-late", fmt.Sprintf("The %s full only after the pot life.", the)
		f.Figure = finding.Of(quantity.Number, r.Full.Value)
		f.Severity = finding.Watch
		f.Why = "Minutes, from when A meets B. What comes late is thick: it keeps its bubbles and may not reach the last places."
	case n.p.Design.Within > 0 && r.Full.Value > n.p.Design.Within:
		f.Code, f.What = "not-full-in-time", fmt.Sprintf("The %s full later than you want.", the)
		f.Figure, f.Limit = finding.Of(quantity.Number, r.Full.Value), finding.Of(quantity.Number, n.p.Design.Within)
		f.Severity = finding.Watch
		f.Why = "Minutes, from when A meets B, mixing included. A wider sprue lets it in sooner."
	case r.Reynolds.Value > laminar:
		f.Code, f.What, f.Figure = "rushes-in", "The resin rushes in and takes air along.", finding.Of(quantity.Number, r.Reynolds.Value)
		f.Limit, f.Severity = finding.Of(quantity.Number, laminar), finding.Note
		f.Why, f.Remedies = "Over a Reynolds number of 2000 the stream breaks up. Pour gently, or narrow the sprue.", nil
		return append(out, f)
	default:
		return out
	}
	if r.Narrowest == nil { // no sprue is wide enough: strips hold it back
		f.Why += " No sprue makes up for it: runners and gates are too thin."
		return append(out, f)
	}
	wide := math.Ceil(2*roomier*r.Narrowest.Value) / 2
	f.Remedies = append(
		[]finding.Remedy{{Label: fmt.Sprintf("Sprue of %.3g mm", wide), Action: finding.SetSprue, Value: wide}},
		f.Remedies...)
	return append(out, f)
}

// unbalanced says that some cavities are full long before others.
func (n *running) unbalanced(r *Run) finding.Finding {
	f := finding.Finding{Severity: finding.Note, Stage: finding.Gates, Code: "gang-out-of-balance",
		What:   fmt.Sprintf("Cavity %d is full long after the first.", n.last+1),
		Figure: finding.Of(quantity.Number, r.Spread.Value), Limit: finding.Of(quantity.Number, balanced),
		Why:    "Times as long. Keep the well full until the last vent weeps; wider runners even it out, or a tree whose ways are as long.",
		Source: finding.CommonPractice}
	if n.l.System == channel.Comb || n.l.System == channel.Ring {
		f.Remedies = []finding.Remedy{{Label: "Feed by a tree", Action: finding.SetRunners, Text: string(channel.Tree)}}
	}
	return f
}
