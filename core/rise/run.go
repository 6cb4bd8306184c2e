package rise

import (
	"fmt"
	"math"

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

	"gonum.org/v1/gonum/spatial/r3"
)

// Run is how resin runs into one cavity through its sprue, out of a well that
// is kept full.
type Run struct {
	Full      *derive.Number // min from when A meets B until the cavity is full; nil where it never is
	Narrowest *derive.Number // bore of a sprue through which it is full as the pot life ends, mm; nil where none is wide enough
	Brim      derive.Number  // mL/s that keep the sprue full
	Reynolds  derive.Number  // as the pour begins
	Push      *derive.Number // N on a syringe that fills the cavity within a minute; nil fed from the top, or where a hand feels none
	Opens     *derive.Number // N by which that pushes the halves apart once nothing flows
	Findings  []finding.Finding
}

// roomier is by how much a sprue that is proposed is wider than it must be: its
// way is the longer, the wider it is.
const roomier = 1.05

// laminar is the Reynolds number up to which the flow is taken to be smooth.
const laminar = 2000

// Running works out how the resin of a rise runs in. It is nil where nobody
// can know: without a sprue, a shape, a viscosity or a pot life.
func Running(p mould.Plan, l gate.Layout, r Rise, resin *mix.Material, house practice.House) *Run {
	sprue, ok := sprueOf(l)
	if !ok || resin == nil || len(r.Volumes) == 0 || p.Kind.Resin != kinds.Sprued {
		return nil
	}
	sheet := resin.Traits.In(house.Celsius)
	if sheet.Viscosity <= 0 || sheet.PotLife <= 0 {
		return nil
	}
	density, growth := resin.Density*1000, mix.Thickening(sheet.PotLife*60)
	length, bore := along(sprue.Path)/1000, sprue.Bore/1000
	resistance := flow.Tube(sheet.Viscosity, bore, length)
	head := (r.Top - r.PartLow) / 1000
	steps := r.cavity(l, float64(p.Design.Cavities()))

	thin := flow.RiseTime(steps, head, resistance, density)
	if p.Design.Feed == practice.FeedTop {
		thin = flow.PourTime(steps[len(steps)-1].Volume, resistance, density, (r.Top-sprue.Foot)/1000)
	}
	mixed := growth.Effective(shot.Mixing * 60)
	left := growth.Effective(growth.PotLife) - mixed

	viscosity := derive.From("viscosity (Pa s)", quantity.Number, sheet.Viscosity, "data sheet of "+resin.Name)
	pot := derive.From(
		"pot life (min)",
		quantity.Number,
		sheet.PotLife,
		"data sheet of "+resin.Name+", in this shop",
	)
	ends := derive.Of(quantity.Number, resistance, "128 × viscosity × length / (π × bore⁴)", viscosity,
		derive.From("length", quantity.Length, length*1000, "of the sprue, from the part to the well"),
		derive.From("bore", quantity.Length, sprue.Bore, "this design"))
	fresh := derive.Of(
		quantity.Number,
		thin,
		"resistance / (density × 9.80665) × sum of the cavity's slices, each over the head that is left",
		ends.As("resistance (Pa s/m³)"),
		derive.From("density", quantity.Density, resin.Density, "data sheet of "+resin.Name),
		derive.From("head", quantity.Length, head*1000, "from the part's lowest place to the rim of the well, which is kept full"),
	)
	out := &Run{
		Brim: derive.Of(quantity.Number, flow.SelfWeight(density, sheet.Viscosity, bore)*1e6,
			"π × density × 9.80665 × bore⁴ / (128 × viscosity)",
			viscosity, derive.From("bore", quantity.Length, sprue.Bore, "this design")).
			Noted("Poured slower than this the sprue runs part empty and draws air along."),
		Reynolds: derive.Of(quantity.Number, flow.Reynolds(density, sheet.Viscosity, bore, flow.Head(density, head)/resistance),
			"4 × density × flow / (π × bore × viscosity), as the pour begins", viscosity,
			ends.As("resistance (Pa s/m³)")).Noted("Under 2000 the resin comes in smoothly."),
	}
	done, fills := growth.Takes(mixed + thin)
	if fills {
		full := derive.Of(quantity.Number, done/60,
			"−ln(1 − k × (fresh + mixing as fresh)) / k, with k = ln 2 / pot life: it is twice as thick then",
			fresh.As("fresh (s)"), derive.From("mixing (min)", quantity.Number, shot.Mixing, finding.CommonPractice), pot).
			Noted("From when A meets B. A sprue that runs full of a plain liquid: Hagen and Poiseuille, from memory.")
		out.Full = &full
	}
	if left > 0 && !math.IsInf(thin, 1) {
		narrow := derive.Of(
			quantity.Length,
			sprue.Bore*math.Pow(thin/left, 0.25),
			"bore × (fresh / what the pot life is worth after mixing)^¼",
			derive.From("bore", quantity.Length, sprue.Bore, "this design"),
			fresh.As("fresh (s)"),
			derive.From(
				"what the pot life is worth after mixing (s)",
				quantity.Number,
				left,
				"as if the resin stayed as thin as it is fresh",
			),
		)
		out.Narrowest = &narrow
	}
	if p.Design.Feed == practice.FeedLow && p.Kind.Halves {
		out.push(p, ends, steps[len(steps)-1].Volume)
	}
	out.Findings = out.found(done/60, fills, sheet.PotLife, resin.Name)
	return out
}

// A syringe as it lies on most benches, and how long a hand pushes it evenly.
// Common practice, no source.
const (
	syringe = 30.0 // mm
	pushed  = 60.0 // s
	felt    = 1.0  // N below which a hand feels no more than the piston
)

// push is what a hand does with a syringe in the sprue, and what that does to
// the mould: once the cavity is full nothing flows, and all of its pressure
// stands against the halves.
func (r *Run) push(p mould.Plan, resistance derive.Number, volume float64) {
	pressure := resistance.Value * volume / pushed
	piston := math.Pi / 4 * syringe * syringe / 1e6
	if pressure*piston < felt {
		return
	}
	under := derive.Of(quantity.Number, pressure/1000, "resistance × cavity / time / 1000, kPa", resistance.As("resistance (Pa s/m³)"),
		derive.From("cavity", quantity.Volume, volume*1e6, "one of them, without its channels"),
		derive.From("time (s)", quantity.Number, pushed, finding.CommonPractice))
	push := derive.Of(quantity.Number, pressure*piston, "pressure × π/4 × bore² of the syringe", under.As("pressure (kPa)"),
		derive.From("bore of the syringe", quantity.Length, syringe, finding.CommonPractice)).
		Noted("Within a minute, with the resin fresh; its piston rubs by 5 to 20 N besides, from memory. A hand manages some 50 N.")
	seen := p.Shadow() / float64(p.Design.Cavities())
	opens := derive.Of(quantity.Number, pressure*seen/1e6, "pressure × area of the cavity across the draw", under.As("pressure (kPa)"),
		derive.From("area of the cavity across the draw", quantity.Area, seen/100, "the part seen along the draw")).
		Noted("As much as bands and weight must hold once the cavity is full and the hand still pushes: thick resin opens a mould " +
			"so, and every parting has flash.")
	r.Push, r.Opens = &push, &opens
}

// cavity is what of a rise lies in one cavity, by height over its lowest place, in SI.
func (r Rise) cavity(l gate.Layout, cavities float64) []flow.Step {
	var out []flow.Step
	for i, h := range r.Heights {
		v := r.Volumes[i] / cavities
		for _, c := range l.Channels {
			v -= c.VolumeBelow(h)
		}
		if h > r.PartLow {
			out = append(out, flow.Step{Height: (min(h, r.PartHigh) - r.PartLow) / 1000, Volume: v * 1e-9})
		}
		if h >= r.PartHigh {
			break
		}
	}
	return out
}

func sprueOf(l gate.Layout) (gate.Channel, bool) {
	for _, c := range l.Channels {
		if c.Kind == gate.Sprue && len(c.Path) > 1 {
			return c, true
		}
	}
	return gate.Channel{}, false
}

func along(path []r3.Vec) float64 {
	sum := 0.0
	for i := 1; i < len(path); i++ {
		sum += r3.Norm(r3.Sub(path[i], path[i-1]))
	}
	return sum
}

// found says what stands against a run that takes so many minutes.
func (r *Run) found(minutes float64, fills bool, pot float64, name string) []finding.Finding {
	f := finding.Finding{Severity: finding.Stop, Stage: finding.Gates, Limit: finding.Of(quantity.Number, pot),
		Source:   "flow through a round bore as the resin thickens; mixing takes a minute and a half, common practice",
		Remedies: []finding.Remedy{{Label: "Another resin", Action: finding.OpenStock}}}
	switch {
	case r.Narrowest == nil:
		f.Code, f.What = "pot-life-gone", fmt.Sprintf("The pot life of %s is over before it is poured.", name)
		f.Figure = finding.Of(quantity.Number, shot.Mixing)
		f.Why = "Minutes, from when A meets B. Take a slower resin, or a cooler shop."
		return []finding.Finding{f}
	case !fills:
		f.Code, f.What = "sets-before-full", "The resin sets before the cavity is full."
		f.Why = "It thickens faster than it runs in. A sprue half as wide again lets five times as much through."
	case minutes > pot:
		f.Code, f.What, f.Figure = "full-too-late", "The cavity is full only after the pot life.", finding.Of(quantity.Number, minutes)
		f.Severity = finding.Watch
		f.Why = "Minutes, from when A meets B. What comes late is thick: it keeps its bubbles and may not reach the last places."
	case r.Reynolds.Value > laminar:
		f.Code, f.What, f.Figure = "rushes-in", "The resin rushes in and takes air along.", finding.Of(quantity.Number, r.Reynolds.Value)
		f.Limit, f.Severity = finding.Of(quantity.Number, laminar), finding.Note
		f.Why, f.Remedies = "Over a Reynolds number of 2000 the stream breaks up. Pour gently, or narrow the sprue.", nil
		return []finding.Finding{f}
	default:
		return nil
	}
	wide := math.Ceil(2*roomier*r.Narrowest.Value) / 2
	f.Remedies = append(
		[]finding.Remedy{{Label: fmt.Sprintf("Sprue of %.3g mm", wide), Action: finding.SetSprue, Value: wide}},
		f.Remedies...)
	return []finding.Finding{f}
}
