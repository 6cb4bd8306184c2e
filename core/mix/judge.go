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
	if m.OnePart() {
		return nil // no ratio to keep
	}
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

// densityOff is the share by which a sheet's mixed density may differ from
// what its parts make: mixing contracts by less than one per cent; from memory.
const densityOff = 0.01

// CheckDensity holds a sheet's mixed density against those of its parts. It
// returns nil where they agree or the parts' are not known.
func CheckDensity(stage finding.Stage, m Material) *finding.Finding {
	made := m.Mixed()
	if made == 0 || math.Abs(m.Density/made-1) <= densityOff {
		return nil
	}
	return &finding.Finding{
		Severity: finding.Watch, Stage: stage, Code: "densities-disagree",
		What:   fmt.Sprintf("The densities of %s do not agree: its parts make %.3g g/mL together.", m.Name, made),
		Figure: finding.Of(quantity.Density, m.Density), Limit: finding.Of(quantity.Density, made),
		Why: fmt.Sprintf("Weighed by one and filled by the other, a batch is %.2g %% off. Look at the data sheet again.",
			100*math.Abs(m.Density/made-1)),
		Source:   "volumes of the parts add; data sheet of " + m.Name,
		Remedies: []finding.Remedy{{Label: "To the stock", Action: finding.OpenStock}},
	}
}

// CheckKits says how many kits of a material a job takes, where it is sold in
// kits: what names the job's need, as in "the rubber".
func CheckKits(stage finding.Stage, what string, m Material, mass float64) *finding.Finding {
	if m.Traits.Kit <= 0 || mass <= 0 {
		return nil
	}
	kits := math.Ceil(mass/m.Traits.Kit - 1e-9)
	left := kits*m.Traits.Kit - mass
	f := finding.Finding{Severity: finding.Note, Stage: stage, Code: "kits",
		What:   fmt.Sprintf("%s takes %s of %s.", what, quantity.Plural(int(kits), "kit", "kits"), m.Name),
		Figure: finding.Of(quantity.Mass, mass), Limit: finding.Of(quantity.Mass, kits*m.Traits.Kit),
		Why:    fmt.Sprintf("%.3g g are left over. An opened kit takes damp: use it up, or close it under dry gas.", left),
		Source: "data sheet of " + m.Name}
	if kits == 1 {
		f.What = fmt.Sprintf("%s fits into one kit of %s.", what, m.Name)
	}
	return &f
}

// CheckHeat holds what is poured hot against what the rubber stands.
func CheckHeat(resin, rubber Material) *finding.Finding {
	hot := max(resin.Traits.PourFrom, resin.Traits.PourTo)
	if hot <= 0 || rubber.Traits.Heat <= 0 || hot <= rubber.Traits.Heat {
		return nil
	}
	return &finding.Finding{Severity: finding.Stop, Stage: finding.Shot, Code: "too-hot-for-rubber",
		What: fmt.Sprintf("%s is poured hotter than %s stands.", resin.Name, rubber.Name),
		Why: fmt.Sprintf("Up to %.0f °C against %.0f °C: the cavity's skin would crack within a few pulls. Take a rubber for hot pours.",
			hot, rubber.Traits.Heat),
		Source: "data sheets", Remedies: []finding.Remedy{{Label: "To the stock", Action: finding.OpenStock}}}
}
