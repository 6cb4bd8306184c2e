package study

import (
	"fmt"
	"math"

	"bathyform/core/fill"
	"bathyform/core/finding"
	"bathyform/core/gate"
	"bathyform/core/kind"
	"bathyform/core/mould"
	"bathyform/core/practice"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Limits of judgement, all common practice, no source, and from memory.
const (
	thinWall     = 6.0  // mm of rubber beside a small part
	lockedShare  = 0.01 // of the part's volume, from which locked rubber is worth a word
	lockedHard   = 0.10 // from which it is a stop: soft rubber gives way only so far
	visiblePoint = 0.5  // mm³, a bubble of a millimetre
	spoils       = 20.0 // mm³, a bubble of three and a half millimetres
	levelArea    = 100  // mm² of level ceiling on which bubbles hang
	wellWall     = 3.0  // mm of rubber round a well
)

func place(v r3.Vec) *r3.Vec { return &v }

func (p *Prepared) masterFindings() []finding.Finding {
	r := p.Master.Report
	var out []finding.Finding
	if p.Master.Mesh == nil {
		return out
	}
	if r.VolumeError > 0 {
		f := finding.Finding{Severity: finding.Watch, Stage: finding.Master,
			What:   fmt.Sprintf("The mesh has holes: %d open edges.", r.Edges.Open),
			Figure: finding.Of(quantity.Volume, r.Volume/1000), Limit: finding.Of(quantity.Volume, r.VolumeError/1000),
			Why:    fmt.Sprintf("The holes were closed flat. The volume is right to within %.2g %%; mend the mesh where it was made if that is too coarse.", 100*r.VolumeError/r.Volume),
			Source: "generalised winding number, Jacobson et al. 2013"}
		if r.VolumeError > 0.1*r.Volume {
			f.Severity = finding.Stop
		}
		out = append(out, f)
	}
	for _, w := range r.Warnings {
		out = append(out, finding.Finding{Severity: finding.Note, Stage: finding.Master,
			What: upperFirst(w) + ".", Why: "Found while reading the mesh.", Source: "the file"})
	}
	if !r.Sound {
		out = append(out, finding.Finding{Severity: finding.Watch, Stage: finding.Master,
			What: "The surface does not close cleanly, so air is traced on a grid.",
			Why:  "Pockets and their heights are good to a cell of the grid, about a hundredth of the part, instead of exact.", Source: "the mesh"})
	}
	return out
}

func upperFirst(s string) string {
	if s == "" || s[0] < 'a' || s[0] > 'z' {
		return s
	}
	return string(s[0]-32) + s[1:]
}

func (p *Prepared) mouldFindings(d Design, plan mould.Plan, h practice.House) ([]finding.Finding, error) {
	var out []finding.Finding
	c := d.Mould.Clearance
	if c.Beside < thinWall {
		out = append(out, finding.Finding{Severity: finding.Watch, Stage: finding.Mould,
			What:   fmt.Sprintf("Only %.3g mm of rubber stand beside the part.", c.Beside),
			Figure: finding.Of(quantity.Length, c.Beside), Limit: finding.Of(quantity.Length, thinWall),
			Why: "A thin wall flexes, tears and bulges when the cavity is full.", Source: finding.CommonPractice,
			Remedies: []finding.Remedy{{Label: fmt.Sprintf("House clearance, %.3g mm", h.Clearance.Beside), Action: finding.SetBeside, Value: h.Clearance.Beside}}})
	}
	if d.Gates.WellDepth > c.Above && d.Mould.Attitudes.Resin == d.Mould.Attitudes.RubberA {
		out = append(out, finding.Finding{Severity: finding.Watch, Stage: finding.Mould,
			What:   "There is less rubber over the part than the well is deep.",
			Figure: finding.Of(quantity.Length, c.Above), Limit: finding.Of(quantity.Length, d.Gates.WellDepth),
			Why: "A well that reaches down beside the part leaves a thin wall and little head of resin.", Source: finding.CommonPractice,
			Remedies: []finding.Remedy{{Label: fmt.Sprintf("Clear %.3g mm above", d.Gates.WellDepth+8), Action: finding.SetHeadroom, Value: d.Gates.WellDepth + 8}}})
	}
	if p.Master.Mesh == nil {
		return out, nil
	}
	draw, err := d.Mould.Draw.Dir()
	if err != nil {
		return nil, err
	}
	low, high := p.Master.Span(draw)
	if plan.Parting <= low || plan.Parting >= high {
		out = append(out, finding.Finding{Severity: finding.Watch, Stage: finding.Mould,
			What: "The parting misses the part, which then lies wholly in one half.",
			Why:  "That is right for a part with a flat back on the parting, and wrong for any other.", Source: finding.CommonPractice,
			Remedies: []finding.Remedy{{Label: "Part at the widest outline", Action: finding.SetParting, Value: plan.Proposal.Height}}})
	}
	if d.Kind == kind.Pieces {
		return out, nil // side pieces take what is locked; the build says what they leave
	}
	locked, err := p.lockedFindings(d, plan)
	return append(out, locked...), err
}

func (p *Prepared) lockedFindings(d Design, plan mould.Plan) ([]finding.Finding, error) {
	upper, lower, err := p.locked(d.Mould.Draw, plan.Parting)
	if err != nil {
		return nil, err
	}
	var out []finding.Finding
	for i, volume := range [2]float64{upper, lower} {
		share := volume / p.Master.Volume()
		if share < lockedShare {
			continue
		}
		f := finding.Finding{Severity: finding.Watch, Stage: finding.Mould,
			What:   fmt.Sprintf("Half %s reaches under the part: rubber there must stretch over it to come off.", plan.Halves[i].Name),
			Figure: finding.Of(quantity.Volume, volume/1000), Limit: finding.Of(quantity.Volume, lockedShare*p.Master.Volume()/1000),
			Why: "Shallow undercuts strip from soft rubber; deep ones want another draw, another parting height or a side piece.", Source: finding.CommonPractice}
		if share > lockedHard {
			f.Severity = finding.Stop
		}
		if math.Abs(plan.Parting-plan.Proposal.Height) > 1e-9 {
			f.Remedies = append(f.Remedies, finding.Remedy{Label: "Part at the widest outline", Action: finding.SetParting, Value: plan.Proposal.Height})
		}
		f.Remedies = append(f.Remedies, finding.Remedy{Label: "Divide it into pieces", Action: finding.Divide})
		out = append(out, f)
	}
	return out, nil
}

// rubberFindings says where the rubber of a half shuts in air as it rises.
func rubberFindings(half string, r Rise) []finding.Finding {
	var out []finding.Finding
	var rest float64
	for i, pocket := range r.Pockets {
		if pocket.Volume < visiblePoint {
			continue
		}
		if i >= mostNamed {
			rest += pocket.Volume
			continue
		}
		out = append(out, finding.Finding{Severity: finding.Watch, Stage: finding.Mould,
			What:   fmt.Sprintf("The rubber of half %s shuts in air under the part.", half),
			Where:  place(pocket.Apex),
			Figure: finding.Of(quantity.Volume, pocket.Volume/1000), Limit: finding.Of(quantity.Volume, visiblePoint/1000),
			Why: "A bubble in the rubber becomes a lump on every casting. Brush rubber in there before pouring, or turn the master.", Source: finding.CommonPractice})
	}
	if rest > 0 {
		out = append(out, finding.Finding{Severity: finding.Watch, Stage: finding.Mould,
			What:   fmt.Sprintf("The rubber of half %s shuts in air in %d smaller places as well.", half, len(r.Pockets)-mostNamed),
			Figure: finding.Of(quantity.Volume, rest/1000), Why: "Brush undersides and recesses with rubber first.", Source: finding.CommonPractice})
	}
	return out
}

// mostNamed is how many pockets get a finding of their own.
const mostNamed = 8

// wellFinding looks whether the well has a wall of rubber all round.
func wellFinding(l gate.Layout, box r3.Box, d Design) []finding.Finding {
	for _, c := range l.Channels {
		if c.Kind != gate.WellKind {
			continue
		}
		up, _ := d.Mould.Attitudes.Resin.Dir()
		at, room := c.Path[1], math.Inf(1) // from the well's axis to the nearest wall of the box
		for _, v := range [3][4]float64{{at.X, box.Min.X, box.Max.X, up.X}, {at.Y, box.Min.Y, box.Max.Y, up.Y}, {at.Z, box.Min.Z, box.Max.Z, up.Z}} {
			if v[3] == 0 {
				room = min(room, v[0]-v[1], v[2]-v[0])
			}
		}
		if c.Rim/2+wellWall <= room {
			continue
		}
		f := finding.Finding{Severity: finding.Watch, Stage: finding.Gates,
			What:   "The well does not fit between the part and the wall of the box.",
			Where:  place(c.Path[1]),
			Figure: finding.Of(quantity.Length, c.Rim), Limit: finding.Of(quantity.Length, max(0, 2*(room-wellWall))),
			Why: "It needs a few millimetres of rubber all round. Leave more room beside the part, or make the well narrower.", Source: finding.CommonPractice}
		if d.Gates.Feed == practice.FeedLow { // the sprue rises in the middle of the clearance
			wide := math.Ceil(c.Rim + 2*wellWall)
			f.Remedies = append(f.Remedies, finding.Remedy{Label: fmt.Sprintf("Clear %.3g mm beside", wide), Action: finding.SetBeside, Value: wide})
		}
		if narrow := math.Floor(2 * (room - wellWall)); narrow > c.Bore {
			f.Remedies = append(f.Remedies, finding.Remedy{Label: fmt.Sprintf("Well of %.3g mm", narrow), Action: finding.SetWell, Value: narrow})
		}
		return []finding.Finding{f}
	}
	return nil
}

func gateFindings(l gate.Layout, cavity *fill.Space, box r3.Box, d Design) []finding.Finding {
	out := wellFinding(l, box, d)
	for _, problem := range l.Problems {
		out = append(out, finding.Finding{Severity: finding.Stop, Stage: finding.Gates,
			What: fmt.Sprintf("Vent %d opens nothing: %s.", problem.Vent+1, problem.Err), Where: place(d.Gates.Vents[problem.Vent].At),
			Why: "A vent lets air out only from the place where it meets the cavity.", Source: "geometry",
			Remedies: []finding.Remedy{{Label: "Remove it", Action: finding.RemoveVent, Value: float64(problem.Vent)}}})
	}
	noVent := len(d.Gates.Vents) == 0 && d.Gates.Feed == practice.FeedLow
	var rest float64
	more := 0
	for i, pocket := range l.Trapped.Pockets {
		if pocket.Volume < visiblePoint {
			continue
		}
		if i >= mostNamed {
			rest += pocket.Volume
			more++
			continue
		}
		height := pocket.SealHeight - l.Floor
		f := finding.Finding{Stage: finding.Gates, Where: place(pocket.Apex), Height: &height,
			Figure: finding.Of(quantity.Volume, pocket.Volume/1000), Limit: finding.Of(quantity.Volume, visiblePoint/1000),
			Why:    "The level closes the last way out before this place is full. Pressure makes a pocket smaller; it does not remove it.",
			Source: "trapped-air analysis; visible from about a millimetre, common practice",
			Remedies: []finding.Remedy{
				{Label: "Vent here", Action: finding.AddVent, At: place(gate.VentSpot(cavity, l.Trapped, i))},
				{Label: "Vent every high spot", Action: finding.ProposeVents},
			}}
		switch {
		case noVent:
			f.What = "There is no vent: all the air stays in."
			f.Remedies = f.Remedies[1:]
		case pocket.Isolated:
			f.What = "This part of the cavity has no way in or out."
		default:
			f.What = "Air stays in a high spot, shut in as the resin passes this level."
		}
		f.Severity = finding.Watch
		if pocket.Volume >= spoils {
			f.Severity = finding.Stop
		}
		out = append(out, f)
	}
	if rest > 0 {
		out = append(out, finding.Finding{Severity: finding.Stop, Stage: finding.Gates,
			What: fmt.Sprintf("Air stays in %d more places.", more), Figure: finding.Of(quantity.Volume, rest/1000),
			Why: "Many high spots are moved together by turning the part.", Source: finding.CommonPractice,
			Remedies: []finding.Remedy{{Label: "Vent every high spot", Action: finding.ProposeVents}}})
	}
	for _, c := range l.Channels {
		if c.Kind != gate.VentKind {
			continue
		}
		if area := cavity.LevelCeiling(c.Foot + l.Floor); area >= levelArea {
			height := c.Foot
			out = append(out, finding.Finding{Severity: finding.Note, Stage: finding.Gates,
				What:  fmt.Sprintf("The ceiling at vent %d is level over %.3g cm².", c.Vent+1, area/100),
				Where: place(c.Path[0]), Height: &height,
				Why: "It counts as vented, but bubbles hang under a level ceiling: stand the mould a few degrees out of level, this vent highest.", Source: finding.CommonPractice})
		}
	}
	return out
}
