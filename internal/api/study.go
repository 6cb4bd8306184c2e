package api

import (
	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/mix"
	"bathyform/core/mould"
	"bathyform/core/quantity"
	"bathyform/core/shot"
	"bathyform/core/study"

	"gonum.org/v1/gonum/spatial/r3"
)

// fromStudy turns the core's answer into the contract's.
func fromStudy(st study.Study) Study {
	var out Study
	out.Mould = fromPlan(st)
	out.Gates = fromGates(st)
	out.Shot = fromShot(st.Shot)
	out.Findings = make([]Finding, len(st.Findings))
	for i, f := range st.Findings {
		out.Findings[i] = fromFinding(f)
	}
	out.Cautions.Rubber, out.Cautions.Shot = study.RubberCautions, study.ShotCautions
	return out
}

func fromNumber(n derive.Number) Number {
	out := Number{Value: n.Value, Kind: Kind(n.Kind), Formula: n.Formula, Inputs: make([]NumberInput, len(n.Inputs))}
	if n.Note != "" {
		out.Note = &n.Note
	}
	for i, in := range n.Inputs {
		out.Inputs[i] = NumberInput{Name: in.Name, Value: in.Value, Kind: Kind(in.Kind), Source: in.Source}
		if in.Number != nil {
			deeper := fromNumber(*in.Number)
			out.Inputs[i].Number = &deeper
		}
	}
	return out
}

func fromPlan(st study.Study) MouldPlan {
	p := st.Mould
	out := MouldPlan{BoxLow: point(p.Box.Min), BoxHigh: point(p.Box.Max),
		Length: fromNumber(p.Length), Width: fromNumber(p.Width), Height: fromNumber(p.Height),
		Parting: p.Parting, ProposedParting: p.Proposal.Height, ProposalWhy: p.Proposal.Why,
		PartVolume: fromNumber(p.PartVolume), BoxVolume: fromNumber(p.BoxVolume)}
	for _, panel := range p.Panels {
		out.Panels = append(out.Panels, fromPanel(panel))
	}
	for i, h := range p.Halves {
		half := Half{Name: h.Name, Up: Axis(h.Up), Volume: fromNumber(h.Volume)}
		if b := st.Rubber[i]; b != nil {
			batch := fromBatch(*b)
			half.Batch = &batch
		}
		out.Halves = append(out.Halves, half)
		out.Pours = append(out.Pours, fromRise(st.Pours[i]))
	}
	return out
}

func fromPanel(p mould.Panel) Panel {
	return Panel{Name: p.Name, Count: p.Count, A: fromNumber(p.A), B: fromNumber(p.B)}
}

func fromBatch(b mix.Batch) Batch {
	out := Batch{Volume: fromNumber(b.Volume), Mass: fromNumber(b.Mass), A: fromNumber(b.A), B: fromNumber(b.B)}
	if b.VolumeA != nil && b.VolumeB != nil {
		va, vb := fromNumber(*b.VolumeA), fromNumber(*b.VolumeB)
		out.VolumeA, out.VolumeB = &va, &vb
	}
	return out
}

func fromShot(s shot.Plan) Shot {
	out := Shot{Total: fromNumber(s.Total)}
	for _, line := range s.Lines {
		out.Lines = append(out.Lines, ShotLine{Name: line.Name, Volume: fromNumber(line.Volume)})
	}
	if s.Batch != nil {
		b := fromBatch(*s.Batch)
		out.Batch = &b
	}
	return out
}

func fromGates(st study.Study) Gates {
	l := st.Gates
	out := Gates{Known: l.Known, Ignored: l.Trapped.Ignored / 1000, Channels: []Channel{}, Rise: fromRise(st.Resin)}
	for _, c := range l.Channels {
		ch := Channel{Kind: ChannelKind(c.Kind), Bore: c.Bore, Rim: c.Rim, Volume: fromNumber(c.Volume), Foot: c.Foot, Top: c.Top, Vent: c.Vent}
		for _, p := range c.Path {
			ch.Path = append(ch.Path, point(p))
		}
		out.Channels = append(out.Channels, ch)
	}
	var inputs []derive.Input
	for _, p := range l.Trapped.Pockets {
		inputs = append(inputs, derive.From("pocket", quantity.Volume, p.Volume/1000, "the part's surface above the height where its last way out is closed"))
	}
	out.Trapped = fromNumber(derive.Of(quantity.Volume, l.Trapped.Volume/1000, "sum of the pockets", inputs...))
	return out
}

func fromRise(r study.Rise) Rise {
	out := Rise{Up: Axis(r.Up), Floor: r.Floor, Top: r.Top, PartLow: r.PartLow, PartHigh: r.PartHigh,
		Marks: []Mark{}, Levels: []Level{}, Pockets: []Pocket{}, Air: Air{Cell: r.AirCell, Stretches: []float32{}}}
	for _, p := range r.Pockets {
		out.Pockets = append(out.Pockets, Pocket{Volume: p.Volume / 1000, Apex: point(p.Apex),
			ApexHeight: p.ApexHeight, SealHeight: p.SealHeight, Isolated: p.Isolated})
	}
	for _, m := range r.Marks {
		out.Marks = append(out.Marks, Mark{Kind: MarkKind(m.Kind), Label: m.Label, Height: m.Height, Index: m.Index})
	}
	for i, h := range r.Curve.Height {
		level := Level{Height: h, Volume: r.Curve.Volume[i] / 1000}
		for _, p := range r.Pockets {
			if p.SealHeight < h {
				level.AirShut += p.Volume / 1000
			}
		}
		out.Levels = append(out.Levels, level)
	}
	for _, a := range r.Air {
		low := r.AirFrame.Out(r3.Vec{X: a.X, Y: a.Y, Z: a.Lo})
		out.Air.Stretches = append(out.Air.Stretches, float32(low.X), float32(low.Y), float32(low.Z), float32(a.Hi-a.Lo), float32(a.Pocket))
	}
	return out
}

func fromFinding(f finding.Finding) Finding {
	out := Finding{Severity: FindingSeverity(f.Severity), Stage: string(f.Stage), What: f.What, Height: f.Height,
		Why: f.Why, Source: f.Source, Remedies: []Remedy{}}
	if f.Where != nil {
		p := point(*f.Where)
		out.Where = &p
	}
	figure := func(f *finding.Figure) *Figure {
		if f == nil {
			return nil
		}
		return &Figure{Value: f.Value, Kind: Kind(f.Kind)}
	}
	out.Figure, out.Limit = figure(f.Figure), figure(f.Limit)
	for _, r := range f.Remedies {
		remedy := Remedy{Label: r.Label, Action: RemedyAction(r.Action), Value: r.Value}
		if r.At != nil {
			p := point(*r.At)
			remedy.At = &p
		}
		out.Remedies = append(out.Remedies, remedy)
	}
	return out
}
