package hold

import (
	"fmt"
	"math"

	"bathyform/core/finding"
	"bathyform/core/quantity"
)

// heavyLift is the lift from which a master pulls its supports out, g; common
// practice, no source.
const heavyLift = 5.0

// Findings says what stands against the way that a master is held.
func (s Standing) Findings() (out []finding.Finding) {
	add := func(f finding.Finding) {
		f.Stage = finding.Mould
		if f.Source == "" {
			f.Source = finding.CommonPractice
		}
		out = append(out, f)
	}
	if !s.Stands() {
		f := finding.Finding{Severity: finding.Watch, Code: "master-topples", Where: &s.Middle,
			What: "The master does not keep its place on its supports.",
			Why:  "Nothing holds it round its middle. Three pins under it, far apart, or a second wire on the other side."}
		switch {
		case len(s.Points) == 0:
			f.What = "Nothing holds the master in its box."
		case !math.IsInf(s.Margin, -1):
			f.Figure, f.Limit = finding.Of(quantity.Length, s.Margin), finding.Of(quantity.Length, 0)
			f.Why = "Its middle lies outside what it stands on, by the figure. " + f.Why
		}
		if s.Own {
			f.Remedies = []finding.Remedy{{Label: "Take the proposal", Action: finding.ClearSupports}}
		}
		add(f)
	}
	if s.Lift.Value > heavyLift && s.Down == 0 {
		what := "The rubber lifts the master, and nothing holds it down."
		if !s.Known {
			what = "If it is a hollow print, the rubber lifts the master, and nothing holds it down."
		}
		add(finding.Finding{Severity: finding.Watch, Code: "master-floats", What: what,
			Figure: finding.Of(quantity.Mass, s.Lift.Value), Limit: finding.Of(quantity.Mass, heavyLift),
			Why: "Wires pull and do not push. Glue it to its pins, hold it with a stick from above, or fill the print with sand or " +
				"plaster.",
			Source: "its weight against that of the rubber it takes the place of (Archimedes)"})
	}
	stray := 0
	for i, p := range s.Points {
		if p.Blind {
			at := p.At
			add(finding.Finding{Severity: finding.Watch, Code: "support-through-part", Where: &at,
				What: fmt.Sprintf("Support %d runs through the part on its way out.", i+1),
				Why:  "From there it has no straight way to the box. Move it to a place that is free above or below."})
		}
		if !p.Rod {
			stray++
		}
	}
	if stray > 0 {
		add(finding.Finding{Severity: finding.Note, Code: "supports-leave-holes",
			What: quantity.Plural(stray, "support leaves a hole", "supports leave holes") + " in the rubber where no sprue or vent is.",
			Why: "Plug each with a pin of its own bore before a pull, or put it where an opening is wanted: a vent's wire, the " +
				"sprue's rod. Its mark on the casting is dressed off like a gate."})
	}
	return out
}
