package mix

import (
	"fmt"
	"math"

	"bathyform/core/finding"
	"bathyform/core/practice"
	"bathyform/core/quantity"
)

// CheckScale looks at whether a scale can weigh a batch: what names it, as
// in "the shot". It returns nil when the ratio is certain enough.
func CheckScale(stage finding.Stage, what string, m Material, a, b float64, h practice.House) *finding.Finding {
	tolerance := h.RatioTolerance / 100
	err := RatioError(h.ScaleStep, a, b)
	if err <= tolerance {
		return nil
	}
	least := SmallestBatch(h.ScaleStep, m.ByWeight(), tolerance)
	f := finding.Finding{
		Severity: finding.Watch, Stage: stage,
		Figure: finding.Of(quantity.Mass, a+b), Limit: finding.Of(quantity.Mass, least),
		Why: fmt.Sprintf(
			"Tare and reading may each be half a digit of %g g out. From %.4g g on, the ratio stays within %g %%: mix "+
				"that much, or weigh on a finer scale.",
			h.ScaleStep,
			least,
			h.RatioTolerance,
		),
		Source:   "worst-case propagation after JCGM 100:2008; tolerance from House practice",
		Remedies: []finding.Remedy{{Label: "Scale in House practice", Action: finding.OpenPractice}},
	}
	if math.IsInf(err, 1) {
		f.Severity = finding.Stop
		f.Code, f.What = "scale-cannot-show", fmt.Sprintf(
			"The scale cannot show part B of %s: %.2g g on a scale that reads %g g.",
			what,
			b,
			h.ScaleStep,
		)
	} else {
		f.Code, f.What = "scale-coarse", fmt.Sprintf("On a scale that reads %g g the ratio of %s may be off by %.2g %%.",
			h.ScaleStep, what, 100*err)
	}
	return &f
}
