// Package study puts a job's whole design together: from the master and the
// caster's choices to mould, rubber, gates and shot, with everything that
// should be said about them.
package study

import (
	"errors"

	"bathyform/core/box"
	"bathyform/core/build"
	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/gang"
	"bathyform/core/gate"
	"bathyform/core/key"
	"bathyform/core/kind"
	"bathyform/core/mix"
	"bathyform/core/mould"
	"bathyform/core/part"
	"bathyform/core/pieces"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/shot"
)

// Design is all that the caster decides about a mould and its shot.
type Design struct {
	Mould      mould.Choices
	RubberOver float64 // per cent
	Gates      gate.Choices
	VentBore   float64 // of vents that are proposed, mm
	ShotOver   float64 // per cent

	Kind  kind.Kind     `json:",omitempty"` // of mould; empty for what the brief says
	Box   BoxChoice     `json:",omitzero"`
	Keys  key.Choices   `json:",omitzero"`
	Seam  pieces.Seam   `json:",omitempty"`
	Holes pieces.Seam   `json:",omitempty"` // where plugs in holes end
	Sides []pieces.Told `json:",omitempty"`
	Gang  []gang.Pose   `json:",omitempty"` // of its cavities seen along the draw; none for one
	Gap   float64       `json:",omitempty"` // mm between cavities
	Skin  float64       `json:",omitempty"` // mm of rubber in a shell; 0 for the usual
}

// BoxChoice is the form of a box.
type BoxChoice struct {
	Form       box.Form `json:",omitempty"` // empty for a rectangle
	Wide, Deep float64  `json:",omitempty"` // of the shop's own, mm
}

// Cavities is how many a design has.
func (d Design) Cavities() int { return max(1, len(d.Gang)) }

// Given is what a design is worked with beside the master: materials from
// the shelf, nil where nothing is chosen, and what is laid into the mould.
type Given struct {
	Rubber, Resin *mix.Material
	Inserts       []Insert
}

// Study is what follows from a design.
type Study struct {
	Mould    mould.Plan
	Rubber   [2]*mix.Batch // for halves A and B
	Pours    [2]Rise       // of the rubber of halves A and B
	Gates    gate.Layout
	Resin    Rise
	Shot     shot.Plan
	Findings []finding.Finding
}

// Work studies a design.
func (p *Prepared) Work(d Design, m Given, h practice.House) (Study, error) {
	var s Study
	var err error
	if s.Mould, err = mould.Make(p.Master, d.Mould, h); err != nil {
		return s, err
	}
	if err := practice.Within("rubber allowance (%)", d.RubberOver, 0, 100); err != nil {
		return s, err
	}
	s.Findings = append(s.Findings, p.masterFindings()...)
	mouldFindings, err := p.mouldFindings(d, s.Mould, h)
	if err != nil {
		return s, err
	}
	s.Findings = append(s.Findings, mouldFindings...)
	s.Findings = append(s.Findings, insertFindings(m.Inserts, d, s.Mould)...)
	for i := range s.Pours {
		var found []finding.Finding
		if s.Pours[i], found, err = p.rubberPour(d, s.Mould, i); err != nil {
			return s, err
		}
		s.Findings = append(s.Findings, found...)
	}
	if m.Rubber != nil {
		for i, half := range s.Mould.Halves {
			b, err := pour(half, d.RubberOver, *m.Rubber)
			if err != nil {
				if errors.Is(err, mix.ErrNothing) {
					continue
				}
				return s, err
			}
			s.Rubber[i] = &b
			if f := shot.CheckScale(finding.Rubber, "the rubber for half "+half.Name, *m.Rubber, b, h); f != nil {
				s.Findings = append(s.Findings, *f)
			}
		}
	}
	if err := p.gates(&s, d); err != nil {
		return s, err
	}
	if s.Shot, err = shot.Make(s.Mould.PartVolume, laidIn(m.Inserts), s.Gates, d.Cavities(), d.ShotOver, m.Resin); err != nil {
		return s, err
	}
	if s.Shot.Batch != nil {
		if f := shot.CheckScale(finding.Shot, "the shot", *m.Resin, *s.Shot.Batch, h); f != nil {
			s.Findings = append(s.Findings, *f)
		}
	}
	if m.Rubber == nil {
		s.Findings = append(s.Findings, finding.Finding{Severity: finding.Watch, Stage: finding.Rubber,
			What: "No rubber is chosen yet, so nothing can be weighed.", Why: "Density and ratio come from the rubber's data sheet."})
	}
	if m.Resin == nil {
		s.Findings = append(s.Findings, finding.Finding{Severity: finding.Watch, Stage: finding.Shot,
			What: "No resin is chosen yet, so the shot is known by volume only.", Why: "Density and ratio come from the resin's data sheet."})
	}
	return s, nil
}

// pour is the batch for one half, with what stays in the bucket.
func pour(half mould.Half, over float64, rubber mix.Material) (mix.Batch, error) {
	return mix.Split(rubber, withOver(half.Volume, over, &rubber))
}

// withOver adds the allowance for what stays in the bucket.
func withOver(volume derive.Number, over float64, rubber *mix.Material) derive.Number {
	share := build.Allowance(over, rubber)
	return derive.Of(quantity.Volume, volume.Value*(1+share.Value/100), "rubber × (1 + allowance / 100)", volume.As("rubber"), share.As("allowance (%)"))
}

// gates lays the channels and draws up the rail.
func (p *Prepared) gates(s *Study, d Design) error {
	up, err := d.Mould.Attitudes.Resin.Dir()
	if err != nil {
		return err
	}
	draw, err := d.Mould.Draw.Dir()
	if err != nil {
		return err
	}
	if p.Master.Mesh == nil {
		s.Gates, err = gate.LayByMeasure(p.Master.Bounds(), s.Mould.Box, up, d.Gates)
		if err != nil {
			return err
		}
		s.Findings = append(s.Findings, finding.Finding{Severity: finding.Watch, Stage: finding.Gates,
			What: "The shape is not known, so nobody can say where air is caught.",
			Why:  "The master was entered by size and volume. Box, rubber and shot are worked out; vents are left to your eye.", Source: "no mesh",
			Remedies: []finding.Remedy{{Label: "Add a mesh", Action: finding.OpenMaster}}})
	} else {
		cavity, err := p.Cavity(d.Mould.Attitudes.Resin)
		if err != nil {
			return err
		}
		if s.Gates, err = gate.Lay(cavity, s.Mould.Box, draw, s.Mould.Parting, d.Gates); err != nil {
			return err
		}
		s.Findings = append(s.Findings, gateFindings(s.Gates, cavity, s.Mould.Box, d)...)
	}
	return p.resinRise(s, d)
}

// DrawnUp returns a design drawn along +z, the way a master was just turned.
func (p *Prepared) DrawnUp(d Design) (Design, error) {
	d.Mould.Draw, d.Mould.Parting = "+z", nil
	d.Mould.Attitudes = mould.Attitudes{RubberA: "+z", RubberB: "-z", Resin: "+z"}
	d.Gates.Vents = nil
	var err error
	d.Gates.Vents, err = p.ProposeVents(d)
	return d, err
}

// Start proposes a design for a master from House practice: drawn where the
// rubber is locked least, poured as the mesh stands, vented at every high spot.
func (p *Prepared) Start(h practice.House) (Design, error) {
	d := Design{
		Mould:      mould.Choices{Draw: "+z", Clearance: h.Clearance},
		RubberOver: h.RubberOver,
		Gates:      gate.Choices{Feed: h.Feed, SprueBore: h.SprueBore, WellWidth: h.WellWidth, WellDepth: h.WellDepth},
		VentBore:   h.VentBore,
		ShotOver:   h.ShotOver,
	}
	if h.Feed == practice.FeedTop {
		d.Gates.SprueBore = h.TopBore
	}
	d.Mould.Attitudes = mould.Attitudes{RubberA: "+z", RubberB: "-z", Resin: "+z"}
	if p.Master.Mesh == nil {
		return d, nil
	}
	best := -1.0
	for _, draw := range []part.Axis{"+z", "+x", "+y"} {
		c := d.Mould
		c.Draw = draw
		c.Attitudes = mould.Attitudes{RubberA: draw, RubberB: draw.Opposite(), Resin: "+z"}
		plan, err := mould.Make(p.Master, c, h)
		if err != nil {
			return d, err
		}
		upper, lower, err := p.locked(draw, plan.Parting)
		if err != nil {
			return d, err
		}
		// a way must be clearly better to be preferred to the one before it
		if total := upper + lower; best < 0 || total < 0.8*best-0.005*p.Master.Volume() {
			best, d.Mould = total, c
		}
	}
	var err error
	d.Gates.Vents, err = p.ProposeVents(d)
	return d, err
}
