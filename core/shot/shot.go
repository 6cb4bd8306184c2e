// Package shot works out how much resin a pull takes.
package shot

import (
	"errors"
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/gate"
	"bathyform/core/mix"
	"bathyform/core/practice"
	"bathyform/core/quantity"
)

// Line is one item of the sum.
type Line struct {
	Name   string
	Volume derive.Number // mL
}

// Plan is the shot as a visible sum.
type Plan struct {
	Lines []Line
	Total derive.Number // mL, with allowance
	Batch *mix.Batch    // nil until a resin is chosen
}

// Make sums up a shot: cavity less what is laid into it, channels filled to
// the top of the mould, the same again for every further cavity, and an
// allowance in per cent for the cup, flash and margin.
func Make(cavity derive.Number, laidIn []derive.Input, l gate.Layout, cavities int, allowance float64, resin *mix.Material) (Plan, error) {
	if err := practice.Within("shot allowance (%)", allowance, 0, 100); err != nil {
		return Plan{}, err
	}
	p := Plan{Lines: []Line{{"Cavity", cavity}}}
	if len(laidIn) > 0 {
		var metal float64
		for _, in := range laidIn {
			metal += in.Value
		}
		if metal >= cavity.Value {
			return Plan{}, errors.New("what is laid in is as large as the cavity: check the volumes of the inserts in the brief")
		}
		p.Lines = append(p.Lines, Line{"Laid in", derive.Of(quantity.Volume, -metal, "less what the inserts take up", laidIn...)})
	}
	var vents []derive.Input
	var ventSum float64
	for _, c := range l.Channels {
		switch c.Kind {
		case gate.Sprue:
			p.Lines = append(p.Lines, Line{"Sprue", c.Volume})
		case gate.WellKind:
			p.Lines = append(p.Lines, Line{"Well", c.Volume})
		case gate.VentKind:
			vents = append(vents, c.Volume.As(fmt.Sprintf("vent %d", c.Vent+1)))
			ventSum += c.Volume.Value
		}
	}
	if len(vents) > 0 {
		p.Lines = append(p.Lines, Line{"Vents", derive.Of(quantity.Volume, ventSum, "sum of the vents", vents...)})
	}
	if cavities > 1 {
		var one float64
		var in []derive.Input
		for _, line := range p.Lines {
			one += line.Volume.Value
			in = append(in, line.Volume.As(line.Name))
		}
		each := derive.Of(quantity.Volume, one, "sum of one cavity with its channels", in...)
		p.Lines = append(p.Lines, Line{alike(cavities - 1), derive.Of(quantity.Volume, one*float64(cavities-1), "cavity with its channels × cavities beside the first",
			each.As("cavity with its channels"), derive.From("beside the first", quantity.Number, float64(cavities-1), "the gang"))})
	}
	var sum float64
	var inputs []derive.Input
	for _, line := range p.Lines {
		sum += line.Volume.Value
		inputs = append(inputs, line.Volume.As(line.Name))
	}
	filled := derive.Of(quantity.Volume, sum, "sum of what is filled", inputs...)
	share := derive.From("allowance (%)", quantity.Number, allowance, "this design")
	over := derive.Of(quantity.Volume, sum*allowance/100, "sum × allowance", filled.As("sum"), share)
	p.Lines = append(p.Lines, Line{"Cup, flash and margin", over})
	p.Total = derive.Of(quantity.Volume, sum+over.Value, "sum + allowance", filled.As("sum"), over.As("allowance"))
	if resin != nil {
		b, err := mix.Split(*resin, p.Total)
		if err != nil {
			return p, err
		}
		p.Batch = &b
	}
	return p, nil
}

// CheckScale looks at whether a scale can weigh a batch: what names it, as
// in "the shot". It returns nil when the ratio is certain enough.
func CheckScale(stage finding.Stage, what string, m mix.Material, b mix.Batch, h practice.House) *finding.Finding {
	tolerance := h.RatioTolerance / 100
	err := mix.RatioError(h.ScaleStep, b.A.Value, b.B.Value)
	if err <= tolerance {
		return nil
	}
	least := mix.SmallestBatch(h.ScaleStep, m.ByWeight(), tolerance)
	f := finding.Finding{
		Severity: finding.Watch, Stage: stage,
		Figure: finding.Of(quantity.Mass, b.Mass.Value), Limit: finding.Of(quantity.Mass, least),
		Why: fmt.Sprintf("Tare and reading may each be half a digit of %g g out. From %.4g g on, the ratio stays within %g %%: mix that much, or weigh on a finer scale.",
			h.ScaleStep, least, h.RatioTolerance),
		Source:   "worst-case propagation after JCGM 100:2008; tolerance from House practice",
		Remedies: []finding.Remedy{{Label: "Scale in House practice", Action: finding.OpenPractice}},
	}
	if math.IsInf(err, 1) {
		f.Severity = finding.Stop
		f.What = fmt.Sprintf("The scale cannot show part B of %s: %.2g g on a scale that reads %g g.", what, b.B.Value, h.ScaleStep)
	} else {
		f.What = fmt.Sprintf("On a scale that reads %g g the ratio of %s may be off by %.2g %%.", h.ScaleStep, what, 100*err)
	}
	return &f
}

func alike(n int) string {
	if n == 1 {
		return "1 more cavity"
	}
	return fmt.Sprintf("%d more cavities", n)
}
