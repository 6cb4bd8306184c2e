// Package full says whether castings come out full: what runs into thin places
// before the resin gels, whether the well feeds what shrinks, and what pressure
// and vacuum do to the air in resin and rubber.
package full

import (
	"fmt"
	"math"

	"bathyform/core/channel"
	"bathyform/core/finding"
	"bathyform/core/gap"
	"bathyform/core/gate"
	"bathyform/core/kinds"
	"bathyform/core/mix"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/shot"
	"bathyform/core/thick"
)

// Case is a mould about to be filled.
type Case struct {
	Thin     []thick.Place // in the axes of the master's mesh, the largest first
	Thickest thick.Place
	Gates    gate.Layout
	Shot     shot.Plan
	Resin    *mix.Material // nil for none chosen
	Rubber   *mix.Material
	Kind     *kinds.Kind
	House    practice.House
}

// Limits of judgement; common practice, no source, and from memory.
const (
	Thin       = 2.0   // mm under which a place is looked at
	mostNamed  = 4     // places that get a finding of their own
	tension    = 0.037 // N/m of a liquid resin
	thickBy    = 4.0   // times the gate's bore from which a place outlasts what feeds it
	sinkLeast  = 20.0  // mm of section under which nothing is seen of it
	spare      = 1.1   // of what the resin shrinks by that a well is to hold
	widestRim  = 80.0  // mm of a well that is proposed
	bumpBubble = 2.0   // mm, a bubble that rubber keeps that was not degassed
)

// Dragged are the findings that need no thickness, so that they keep up with a
// hand that drags.
func (c Case) Dragged() (out []finding.Finding) {
	for _, f := range []*finding.Finding{c.drawsDry(), c.bumps()} {
		if f != nil {
			out = append(out, *f)
		}
	}
	return out
}

// Measured are those that rest on the part's thickness.
func (c Case) Measured() []finding.Finding {
	out := c.short()
	if f := c.sinks(); f != nil {
		out = append(out, *f)
	}
	return out
}

// short names the thin places that stay short, the honest answer among the
// remedies where nothing fills them.
func (c Case) short() (out []finding.Finding) {
	if c.Resin == nil || len(c.Gates.Cavities) == 0 {
		return nil
	}
	t := c.Resin.Traits.In(c.House.Celsius)
	if t.Viscosity <= 0 || t.PotLife <= 0 {
		return nil
	}
	resin := gap.Resin{Viscosity: t.Viscosity, Density: c.Resin.Density * 1000, Tension: tension, PotLife: t.PotLife * 60}
	for _, p := range c.Thin {
		if len(out) == mostNamed || p.Thickness <= 0 {
			break
		}
		head := c.Gates.Top - c.Gates.HeightOf(p.At)
		if c.Kind.Resin != kinds.Sprued {
			head = p.Thickness // it lies in the cavity: next to nothing presses it in
		}
		length := math.Sqrt(p.Area/2) / 1000 // both walls were counted
		into := resin.Into(p.Thickness/1000, length, gap.Head(resin.Density, max(0, head)/1000))
		if into.Poured >= length {
			continue
		}
		at := p.At
		f := finding.Finding{Severity: finding.Watch, Stage: finding.Gates, Code: "stays-short", Where: &at,
			What:   fmt.Sprintf("A place of %.2g mm stays short when the resin is only poured.", p.Thickness),
			Figure: finding.Of(quantity.Length, into.Poured*1000), Limit: finding.Of(quantity.Length, length*1000),
			Why: fmt.Sprintf(
				"Under %.0f mm of head %s runs %.2g mm far in before it gels, of about %.2g mm. Draw a vacuum on the filled mould and let "+
					"the air back on: that fills it. A pot does not: its pressure stands at the vents as well.",
				max(0, head),
				c.Resin.Name,
				into.Poured*1000,
				length*1000,
			),
			Source: "flow between walls, Lucas 1918, Washburn 1921"}
		if into.Vacuum < length {
			f.Severity, f.What = finding.Stop, fmt.Sprintf("A place of %.2g mm stays short whatever is done.", p.Thickness)
			f.Why = fmt.Sprintf(
				"Even with a vacuum %s runs %.2g mm far in before it gels, of about %.2g mm. Do not cast it so: "+
					"make it %.2g mm thick on the "+
					"master, take a thinner or slower resin, or lay it in as a piece of sheet or wire.",
				c.Resin.Name,
				into.Vacuum*1000,
				length*1000,
				into.LeastVacuum*1000,
			)
		}
		out = append(out, f)
	}
	return out
}

// sinks says where a thick place outlasts what feeds it.
func (c Case) sinks() *finding.Finding {
	gate, name := 0.0, "gate"
	for _, ch := range c.Gates.Channels {
		if ch.Cavity == 0 && (ch.Kind == channel.Gate || ch.Kind == channel.Sprue) {
			if ch.Kind == channel.Sprue {
				name = "opening"
			}
			gate = max(gate, ch.Bore)
		}
	}
	section := c.Thickest.Thickness
	if gate == 0 || section < sinkLeast || section < thickBy*gate || c.Resin == nil || c.Resin.Traits.Shrink <= 0 {
		return nil
	}
	drawn := math.Pi / 6 * math.Pow(section, 3) / 1000 * (math.Pow(1-c.Resin.Traits.Shrink/100, -3) - 1)
	at, wide := c.Thickest.At, math.Ceil(section/thickBy)
	return &finding.Finding{Severity: finding.Note, Stage: finding.Gates, Code: "thick-place-sinks", Where: &at,
		What:   fmt.Sprintf("The thickest place, %.3g mm, is fed through a %s of %.2g mm: it may sink.", section, name, gate),
		Figure: finding.Of(quantity.Length, gate), Limit: finding.Of(quantity.Length, section/thickBy),
		Why: fmt.Sprintf(
			"It shrinks by some %.2g mL as it gels, hot and last, when what feeds it has set. Let the gate meet the part there, "+
				"about %.0f mm wide, or a generous well stand over it; a filler shrinks less.",
			drawn,
			wide,
		),
		Source: finding.CommonPractice}
}

// drawsDry says that what feeds the shrink holds less than it takes.
func (c Case) drawsDry() *finding.Finding {
	if c.Shot.Shrink.Value <= 0 || c.Kind.Resin == kinds.Poured {
		return nil
	}
	held, what := 0.0, "well"
	var wells []gate.Channel
	for _, ch := range c.Gates.Channels {
		if ch.Kind == channel.Well {
			wells = append(wells, ch)
		}
		squeezed := ch.Kind == channel.Blind && ch.Cavity != channel.Shared
		if ch.Kind == channel.Well || squeezed { // no air stands over a blind channel that is full, so that nothing comes back
			held += ch.Volume.Value
		}
		if squeezed {
			what = "blind channel"
		}
	}
	if held >= c.Shot.Shrink.Value {
		return nil
	}
	f := &finding.Finding{Severity: finding.Watch, Stage: finding.Gates, Code: "well-draws-dry",
		What:   fmt.Sprintf("The %s holds less than the resin shrinks by.", what),
		Figure: finding.Of(quantity.Volume, held), Limit: finding.Of(quantity.Volume, c.Shot.Shrink.Value),
		Why: "It draws down as the resin shrinks before it gels; once it is dry, air is drawn in after it, or the casting " +
			"sinks. Top it up " +
			"before gel, never after.", Source: "data sheet of " + c.Resin.Name + ", linear shrink"}
	if what == "well" {
		f.Why += " A deeper well, or a wider one, feeds it by itself."
		if wants, ok := rimFor(wells, spare*c.Shot.Shrink.Value*1000); ok {
			f.Remedies = []finding.Remedy{{Label: fmt.Sprintf("Well rim of %g mm", wants), Action: finding.SetWell, Value: wants}}
		}
	}
	return f
}

// rimFor is the rim, in whole mm, with which wells as deep as they are hold so
// much, mm³: cones cut off, π depth (bore² + bore rim + rim²) / 12.
func rimFor(wells []gate.Channel, volume float64) (float64, bool) {
	if len(wells) == 0 || wells[0].Top <= wells[0].Foot {
		return 0, false
	}
	w := wells[0]
	most := 12 * volume / float64(len(wells)) / (math.Pi * (w.Top - w.Foot))
	rim := math.Ceil((-w.Bore + math.Sqrt(4*most-3*w.Bore*w.Bore)) / 2)
	return rim, rim > w.Rim && rim <= widestRim
}

// bumps says what the pot does to bubbles in rubber that was not degassed.
func (c Case) bumps() *finding.Finding {
	h := c.House
	if !h.NoDegas || h.PotWide <= 0 || h.Pressure <= 0 || c.Kind.Resin == kinds.Poured ||
		h.Does(practice.Curing) == practice.Pot {
		return nil
	}
	left := gap.BubbleLeft(bumpBubble, h.Pressure*1000)
	return &finding.Finding{Severity: finding.Watch, Stage: finding.Gates, Code: "rubber-gives-under-pressure",
		What:   "Castings come out with bumps: the rubber was not degassed, and they set under pressure.",
		Figure: finding.Of(quantity.Length, bumpBubble-left),
		Why: fmt.Sprintf(
			"The pot presses a bubble of %g mm in the rubber, near the cavity, to %.2g mm, and the resin follows. "+
				"Degas the rubber, or let it "+
				"cure in the pot at the same pressure.",
			bumpBubble,
			left,
		),
		Source: "Boyle's law; common practice", Remedies: []finding.Remedy{{Label: "House practice", Action: finding.OpenPractice}}}
}
