package gate

import (
	"fmt"
	"math"

	"bathyform/core/fill"
	"bathyform/core/finding"
	"bathyform/core/kinds"
	"bathyform/core/practice"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Limits of judgement, all common practice, no source, and from memory.
const (
	Visible   = 0.5  // mm³ in the rubber, a bubble of a millimetre
	Spoils    = 20.0 // mm³ that a tilt may shut in at most, a bubble of three and a half millimetres
	levelArea = 100  // mm² of level ceiling on which bubbles hang
	mostNamed = 8    // pockets that get a finding of their own
)

func place(v r3.Vec) *r3.Vec { return &v }

// wellFinding looks whether the well has a wall of rubber all round.
func (l Layout) wellFinding(m Mould, up r3.Vec, c Choices) []finding.Finding {
	box := m.Box
	for _, ch := range l.Channels {
		if ch.Kind != WellKind {
			continue
		}
		at, room := ch.Path[1], math.Inf(1) // from the well's axis to the nearest wall of the box
		for _, v := range [3][4]float64{{at.X, box.Min.X, box.Max.X, up.X}, {at.Y, box.Min.Y, box.Max.Y, up.Y},
			{at.Z, box.Min.Z, box.Max.Z, up.Z}} {
			if v[3] == 0 {
				room = min(room, v[0]-v[1], v[2]-v[0])
			}
		}
		if ch.Rim/2+WellWall <= room {
			continue
		}
		f := finding.Finding{Severity: finding.Watch, Stage: finding.Gates,
			Code: "well-does-not-fit", What: "The well does not fit between the part and the wall of the box.",
			Where:  place(ch.Path[1]),
			Figure: finding.Of(quantity.Length, ch.Rim), Limit: finding.Of(quantity.Length, max(0, 2*(room-WellWall))),
			Why:    "It needs a few millimetres of rubber all round. Leave more room beside the part, or make the well narrower.",
			Source: finding.CommonPractice}
		if c.Feed == practice.FeedLow { // the sprue rises in the middle of the clearance
			wide := math.Ceil(ch.Rim + 2*WellWall)
			f.Remedies = append(
				f.Remedies,
				finding.Remedy{Label: fmt.Sprintf("Clear %.3g mm beside", wide), Action: finding.SetBeside, Value: wide},
			)
		}
		if narrow := math.Floor(2 * (room - WellWall)); narrow > ch.Bore {
			f.Remedies = append(
				f.Remedies,
				finding.Remedy{Label: fmt.Sprintf("Well of %.3g mm", narrow), Action: finding.SetWell, Value: narrow},
			)
		}
		return []finding.Finding{f}
	}
	return nil
}

// swallowed says which vents run into the sprue: they open nothing more.
func (l Layout) swallowed() (out []finding.Finding) {
	for _, sprue := range l.Channels {
		if sprue.Kind != Sprue {
			continue
		}
		for _, v := range l.Channels {
			if v.Kind != VentKind {
				continue
			}
			foot, top := v.Path[0], v.Path[len(v.Path)-1]
			near := math.Inf(1)
			for i := 1; i < len(sprue.Path); i++ {
				near = min(near, runsApart(foot, top, sprue.Path[i-1], sprue.Path[i]))
			}
			if near >= (sprue.Bore+v.Bore)/2 {
				continue
			}
			out = append(out, finding.Finding{Severity: finding.Watch, Stage: finding.Gates, Code: "vent-in-sprue",
				What: fmt.Sprintf("Vent %d runs into the sprue: it lets no air out that the sprue does not.", v.Vent+1), Where: place(foot),
				Figure: finding.Of(quantity.Length, near), Limit: finding.Of(quantity.Length, (sprue.Bore+v.Bore)/2),
				Why: "Take it away, or move it to a high spot of its own.", Source: "geometry",
				Remedies: []finding.Remedy{{Label: "Remove it", Action: finding.RemoveVent, Value: float64(v.Vent)}}})
		}
	}
	return out
}

// bridging says which vents run into the part again over their foot.
func (l Layout) bridging(cavity *fill.Space) (out []finding.Finding) {
	for _, v := range l.Channels {
		if v.Kind != VentKind {
			continue
		}
		low, ok := cavity.Over(v.Path[0])
		if !ok {
			continue
		}
		gap := low - l.Floor - v.Foot
		out = append(out, finding.Finding{Severity: finding.Watch, Stage: finding.Gates, Code: "vent-through-part",
			What:   fmt.Sprintf("Vent %d runs into the part again over its foot: a rod will join two places of the casting.", v.Vent+1),
			Where:  place(v.Path[0]),
			Figure: finding.Of(quantity.Length, gap),
			Why: "Straight up is the part itself. Lead the wire round it by hand, as far as it always rises, or turn the part; else the " +
				"rod is cut out of every casting.",
			Source:   "geometry",
			Remedies: []finding.Remedy{{Label: "Remove it", Action: finding.RemoveVent, Value: float64(v.Vent)}}})
	}
	return out
}

// runsApart is the distance between two runs, to half a percent of the first.
func runsApart(a, b, from, to r3.Vec) float64 {
	least := math.Inf(1)
	v := r3.Sub(to, from)
	const steps = 200
	for k := range steps + 1 {
		p := r3.Add(a, r3.Scale(float64(k)/steps, r3.Sub(b, a)))
		t := 0.0
		if n := r3.Norm2(v); n > 0 {
			t = max(0, min(1, r3.Dot(r3.Sub(p, from), v)/n))
		}
		least = min(least, r3.Norm(r3.Sub(p, r3.Add(from, r3.Scale(t, v)))))
	}
	return least
}

// Findings says what stands against the gates of a cavity. A nil cavity is
// one whose shape is not known.
func (l Layout) Findings(cavity *fill.Space, m Mould, up r3.Vec, c Choices) []finding.Finding {
	c = c.of(m.Resin)
	if cavity == nil {
		return []finding.Finding{{Severity: finding.Watch, Stage: finding.Gates,
			Code: "air-unknown", What: "The shape is not known, so nobody can say where air is caught.",
			Why:      "The master was entered by size and volume. Box, rubber and shot are worked out; vents are left to your eye.",
			Source:   "no mesh",
			Remedies: []finding.Remedy{{Label: "Add a mesh", Action: finding.OpenMaster}}}}
	}
	out := l.wellFinding(m, up, c)
	for _, problem := range l.Problems {
		out = append(out, finding.Finding{Severity: finding.Stop, Stage: finding.Gates,
			Code: "vent-opens-nothing", What: fmt.Sprintf("Vent %d opens nothing: %s.", problem.Vent+1,
				problem.Err), Where: place(c.Vents[problem.Vent].At),
			Why: "A vent lets air out only from the place where it meets the cavity.", Source: "geometry",
			Remedies: []finding.Remedy{{Label: "Remove it", Action: finding.RemoveVent, Value: float64(problem.Vent)}}})
	}
	out = append(out, l.swallowed()...)
	out = append(out, l.bridging(cavity)...)
	noVent := m.Resin == kinds.Sprued && len(c.Vents) == 0 && c.Feed == practice.FeedLow
	var rest float64
	more := 0
	for i, pocket := range l.Trapped.Pockets {
		if !c.Fault.Matters(pocket.Volume) {
			continue
		}
		if i >= mostNamed {
			rest += pocket.Volume
			more++
			continue
		}
		height := pocket.SealHeight - l.Floor
		f := finding.Finding{Stage: finding.Gates, Where: place(pocket.Apex), Height: &height,
			Figure: finding.Of(quantity.Volume, pocket.Volume/1000), Limit: finding.Of(quantity.Volume, c.Fault.Least()/1000),
			Why:    "The level closes the last way out before this place is full. " + c.Fault.why(pocket.Volume, c.Pressure),
			Source: "trapped-air analysis; what an order bears is common practice",
			Remedies: []finding.Remedy{
				{Label: "Vent here", Action: finding.AddVent, At: place(VentSpot(cavity, l.Trapped, i))},
				{Label: "Vent every high spot", Action: finding.ProposeVents},
			}}
		if m.Resin != kinds.Sprued {
			f.Remedies = nil
			f.Why = "Nothing higher is open to the air. Turn the part, pour a little and roll the mould, or take a " +
				"mould with a sprue and vents."
		}
		switch {
		case noVent:
			f.Code, f.What = "no-vent", "There is no vent: all the air stays in."
			f.Remedies = f.Remedies[1:]
		case pocket.Isolated:
			f.Code, f.What = "cavity-unreached", "This part of the cavity has no way in or out."
		default:
			f.Code, f.What = "air-trapped", "Air stays in a high spot, shut in as the resin passes this level."
		}
		f.Severity = finding.Watch
		if c.Fault.Spoils(pocket.Volume) {
			f.Severity = finding.Stop
		}
		out = append(out, f)
	}
	if rest > 0 {
		f := finding.Finding{Severity: finding.Stop, Stage: finding.Gates,
			Code: "air-trapped-more", What: fmt.Sprintf("Air stays in %d more places.",
				more), Figure: finding.Of(quantity.Volume, rest/1000),
			Why: "Many high spots are moved together by turning the part.", Source: finding.CommonPractice}
		if m.Resin == kinds.Sprued {
			f.Remedies = []finding.Remedy{{Label: "Vent every high spot", Action: finding.ProposeVents}}
		}
		out = append(out, f)
	}
	for _, c := range l.Channels {
		if c.Kind != VentKind {
			continue
		}
		if area := cavity.LevelCeiling(c.Foot + l.Floor); area >= levelArea {
			height := c.Foot
			out = append(out, finding.Finding{Severity: finding.Note, Stage: finding.Gates,
				Code: "level-ceiling", What: fmt.Sprintf("The ceiling at vent %d is level over %.3g cm².", c.Vent+1, area/100),
				Where: place(c.Path[0]), Height: &height,
				Why: "It counts as vented, but bubbles hang under a level ceiling: stand the mould a few degrees out " +
					"of level, this vent highest.", Source: finding.CommonPractice})
		}
	}
	return out
}
