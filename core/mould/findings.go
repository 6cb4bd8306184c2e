package mould

import (
	"errors"
	"fmt"
	"math"

	"bathyform/core/box"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/gang"
	"bathyform/core/kinds"
	"bathyform/core/prep"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Limits of judgement; common practice, no source, from memory.
const (
	thinWall    = 6.0  // mm of rubber beside a small part
	lockedShare = 0.01 // of the part's volume, from which rubber that holds it is worth a word
	steepest    = 70   // degrees, from which the two sides of a parting lie on one another like walls
	coreOff     = 2.0  // mm from the parting that a core may sit and still be laid in
	sideHours   = 0.4  // h of work that a side piece takes
)

// Findings says what stands against a plan: of its box at once, of its pieces
// when the rubber is divided.
func (p Plan) Findings() (out []finding.Finding) {
	add := func(f finding.Finding) {
		f.Stage = finding.Mould
		if f.Source == "" {
			f.Source = finding.CommonPractice
		}
		out = append(out, f)
	}
	p.boxFindings(add)
	if p.Division != nil && !p.Kind.Shelled {
		if err := p.Division.Handed(); err != nil {
			add(finding.Finding{
				Severity: finding.Stop,
				Code:     "walls-thinner-than-pieces",
				What:     "Walls of the part are thinner than the pieces are shaped to.",
				Figure:   finding.Of(quantity.Length, p.Division.Cell),
				Why:      quantity.Sentence(err.Error()) + ".",
				Source:   "the lattice that pieces are shaped on",
			})
		}
		p.pieceFindings(add)
	}
	return out
}

func (p Plan) boxFindings(add func(finding.Finding)) {
	c, h := p.Design.Clearance, p.house
	if c.Beside < thinWall && !p.Kind.Shelled {
		add(finding.Finding{
			Severity: finding.Watch,
			Code:     "little-rubber-beside",
			What:     fmt.Sprintf("Only %.3g mm of rubber stand beside the part.", c.Beside),
			Figure:   finding.Of(quantity.Length, c.Beside),
			Limit:    finding.Of(quantity.Length, thinWall),
			Why:      "A thin wall flexes, tears and bulges when the cavity is full.",
			Remedies: []finding.Remedy{
				{
					Label:  fmt.Sprintf("House clearance, %.3g mm", h.Clearance.Beside),
					Action: finding.SetBeside,
					Value:  h.Clearance.Beside,
				},
			},
		})
	}
	if f := p.crowded(); f != nil {
		add(*f)
	}
	if over := p.over(); over > 0 {
		add(finding.Finding{
			Severity: finding.Watch,
			Code:     "rows-over-one-another",
			What:     "Cavities stand over one another: sprue and vents of the lower ones pass the upper ones.",
			Figure:   finding.Of(quantity.Length, over),
			Why: "So much longer they are than counted. Lead them along the parting between the columns, or lay the cavities in one row, " +
				"each with a free way up.",
		})
	}
	if f := p.measuredOff(); f != nil {
		add(*f)
	}
	if p.Kind.Resin == kinds.Sprued && p.Design.WellDepth > c.Below && !p.Kind.OnBoard &&
		p.Design.ResinUp == p.Design.RubberUpA.Opposite() {
		add(finding.Finding{
			Severity: finding.Watch,
			Code:     "no-room-under-for-well",
			What:     "There is less rubber under the part than the well is deep.",
			Figure:   finding.Of(quantity.Length, c.Below),
			Limit:    finding.Of(quantity.Length, p.Design.WellDepth),
			Why: "It is turned over for the resin: the well lies on the side that stands on the board. Set the master on " +
				"higher spacers.",
			Remedies: []finding.Remedy{
				{
					Label:  fmt.Sprintf("Spacers of %.3g mm", p.Design.WellDepth+8),
					Action: finding.SetBelow,
					Value:  p.Design.WellDepth + 8,
				},
			},
		})
	}
	if p.Kind.Resin == kinds.Sprued && p.Design.WellDepth > c.Above && p.Design.ResinUp == p.Design.RubberUpA {
		add(finding.Finding{
			Severity: finding.Watch,
			Code:     "well-deeper-than-rubber",
			What:     "There is less rubber over the part than the well is deep.",
			Figure:   finding.Of(quantity.Length, c.Above),
			Limit:    finding.Of(quantity.Length, p.Design.WellDepth),
			Why:      "A well that reaches down beside the part leaves a thin wall and little head of resin.",
			Remedies: []finding.Remedy{
				{
					Label:  fmt.Sprintf("Clear %.3g mm above", p.Design.WellDepth+8),
					Action: finding.SetHeadroom,
					Value:  p.Design.WellDepth + 8,
				},
			},
		})
	}
	if p.Parted() && p.Known {
		low, high := p.Design.Draw.Span(p.Body)
		if p.Parting.Height <= low || p.Parting.Height >= high {
			add(finding.Finding{
				Severity: finding.Watch,
				Code:     "parting-misses",
				What:     "The parting misses the part, which then lies wholly in one half.",
				Why:      "That is right for a part with a flat back on the parting, and wrong for any other.",
				Remedies: []finding.Remedy{
					{Label: "Part where it is proposed", Action: finding.SetParting, Value: p.Parting.Proposed},
				},
			})
		}
	}
	if p.Kind.Halves && p.Box.Form != box.Rectangle && p.Box.Form != box.Own && !p.Box.Stands.Along(p.Design.Draw) {
		add(finding.Finding{
			Severity: finding.Watch,
			Code:     "upright-parting-in-bent-box",
			What:     "The parting stands upright in a box with bent walls.",
			Why: "Clay or board has to be fitted to the bend on both sides. Pour half A along the draw, take a " +
				"rectangle, or build it as a cut block.",
		})
	}
}

// over is how far the lowest row of cavities lies under the highest, as the
// mould stands for the resin with its parting upright, mm.
func (p Plan) over() float64 {
	up := p.Design.ResinUp
	if p.Kind.Resin != kinds.Sprued || up.Along(p.Design.Draw) {
		return 0
	}
	low, high := math.Inf(1), math.Inf(-1)
	for _, pose := range p.Cavities.Poses {
		at := up.Of(p.Cavities.Frame.Out(r3.Vec{X: pose.X, Y: pose.Y}))
		low, high = min(low, at), max(high, at)
	}
	if off := high - low; off > 1 {
		return off
	}
	return 0
}

// boxOff is the share by which a box may hold more or less than its sides
// say: walls bow, corners are filled; common practice, no source.
const boxOff = 0.05

// measuredOff holds a box that was filled with water against its sides.
func (p Plan) measuredOff() *finding.Finding {
	filled, sized := p.Box.Volume.Value, p.Box.Sized.Value
	switch {
	case p.Design.Box.Filled == 0 || p.Kind.Shelled:
		return nil
	case filled <= p.Parts.Value:
		return &finding.Finding{
			Severity: finding.Stop,
			Code:     "box-holds-less-than-part",
			What:     "What fills the empty box is less than the parts take up.",
			Figure:   finding.Of(quantity.Volume, filled),
			Limit:    finding.Of(quantity.Volume, p.Parts.Value),
			Why:      "Was it filled with the master in it, or read in another unit? Measure again.",
			Source:   "the box as it was filled",
		}
	case math.Abs(filled/sized-1) <= boxOff:
		return nil
	}
	return &finding.Finding{
		Severity: finding.Watch,
		Code:     "box-measured-off",
		What: fmt.Sprintf("The box takes %.0f %% %s than its sides "+
			"say.", 100*math.Abs(filled/sized-1), map[bool]string{true: "more", false: "less"}[filled > sized]),
		Figure: finding.Of(quantity.Volume, filled),
		Limit:  finding.Of(quantity.Volume, sized),
		Why: "The measured volume is used. Look at the level that it was filled to, at walls that bow, and whether the " +
			"master stood in it. Box and cups must be bone dry before the pour.",
		Source: "the box as it was filled",
	}
}

// crowded says which cavities lie over one another or too near.
func (p Plan) crowded() *finding.Finding {
	_, err := gang.Place(p.Cavities.Shape, p.Cavities.Poses, thinWall, p.Design.Clearance.Beside)
	near := gang.OverlapError{}
	if !errors.As(err, &near) {
		return nil
	}
	f := finding.Finding{
		Severity: finding.Watch,
		Code:     "little-rubber-between",
		What:     fmt.Sprintf("Only %.3g mm of rubber stand between cavities %d and %d.", near.Apart, near.One, near.Other),
		Figure: finding.Of(
			quantity.Length,
			near.Apart,
		),
		Limit: finding.Of(quantity.Length, thinWall),
		Why:   "A thin web flexes, tears and lets resin through. Lay them apart under Gang.",
	}
	if near.Apart <= 0 {
		f.Severity, f.Code, f.What = finding.Stop, "cavities-overlap", fmt.Sprintf(
			"Cavities %d and %d lie over one another.",
			near.One,
			near.Other,
		)
		f.Why = "Two masters cannot stand in one place: no figure of this mould is right before they are laid apart, under Gang."
	}
	return &f
}

// Parted reports whether the mould has a parting at all.
func (p Plan) Parted() bool { return !p.Kind.OnBoard && !p.Kind.Peeled }

func (p Plan) pieceFindings(add func(finding.Finding)) {
	d := p.Division
	if p.Kind.Keyed && d.Keys.Short != "" {
		add(finding.Finding{
			Severity: finding.Watch,
			Code:     "keys-short",
			What:     d.Keys.Short,
			Why:      "Halves that shift leave a step at the seam of every casting. Clear more beside the part, or take a bevel.",
			Remedies: []finding.Remedy{{Label: "Clear 8 mm more beside", Action: finding.SetBeside, Value: p.Box.Nearest + 8}},
		})
	}
	for _, piece := range d.Pieces {
		if piece.Catches > 1 {
			add(finding.Finding{
				Severity: finding.Stop,
				Code:     "piece-catches",
				What:     piece.Name + " does not come away.",
				Figure:   finding.Of(quantity.Volume, piece.Catches/1000),
				Why:      "Moved out along its draw, with the pieces that leave after it in place, this much of it meets them or the part.",
				Source:   "every piece moved on the lattice",
			})
		}
		if p.Parted() && piece.Stripped > lockedShare*d.Part {
			add(finding.Finding{
				Severity: finding.Watch,
				Code:     "piece-stripped",
				What:     fmt.Sprintf("%s holds the part until it is stripped off.", piece.Name),
				Figure:   finding.Of(quantity.Volume, piece.Stripped/1000),
				Limit:    finding.Of(quantity.Volume, lockedShare*d.Part/1000),
				Why:      "So much of it lies behind the part along its draw and has to stretch over it.",
			})
		}
	}
	for _, at := range d.Missing {
		add(finding.Finding{
			Severity: finding.Watch,
			Code:     "line-not-led",
			What:     "The parting line cannot be led through a place that was marked.",
			Where:    &at,
			Why: "It runs where the part turns away from the draw, and climbs or falls on walls along it only. Mark a place " +
				"on such a wall.",
			Source: "the outline on the lattice",
		})
	}
	for _, at := range d.Left {
		add(finding.Finding{
			Severity: finding.Watch,
			Code:     "undercut-not-freed",
			What:     "No side piece frees this undercut.",
			Where:    &at,
			Why:      "From every way out part of it is in the way: strip it, fill it on the master, or draw the part another way.",
			Source:   "every way out tried on the lattice",
		})
	}
	if d.Steep > steepest {
		add(finding.Finding{
			Severity: finding.Watch,
			Code:     "parting-steep",
			What:     "The parting climbs like a wall.",
			Figure:   finding.Of(quantity.Number, d.Steep),
			Limit:    finding.Of(quantity.Number, steepest),
			Why: "Degrees of its steepest place. The halves still come apart, but they rub there and the bed is " +
				"hard to build: another draw has a flatter line.",
		})
	}
	if n := len(p.Sides()); n > 0 {
		add(finding.Finding{
			Severity: finding.Note,
			Code:     "side-pieces-spare-rubber",
			What: fmt.Sprintf(
				"%s the rubber: one more pour than two halves that are stripped.",
				quantity.Plural(n, "side piece spares", "side pieces spare"),
			),
			Figure: finding.Of(
				quantity.Time,
				sideHours*float64(n),
			),
			Why: fmt.Sprintf(
				"They cure together once more, with %.2g h of work each; and each is taken out and put back at every pull.",
				sideHours,
			),
		})
	}
}

// InsertFindings tells what each insert asks of a mould: which half holds it,
// and how it is plugged, covered or placed.
func (p Plan) InsertFindings(all []design.Insert) (out []finding.Finding) {
	for _, in := range all {
		f := finding.Finding{Severity: finding.Note, Stage: finding.Mould, Source: finding.CommonPractice}
		if in.At == nil {
			f.Severity = finding.Watch
			f.Code, f.What = "insert-unplaced", fmt.Sprintf("Nobody has said where the %s sits.", in.Named())
			f.Why = "The half that holds it, and the vent it needs, depend on the place: mark it on the part in the brief."
			f.Remedies = []finding.Remedy{{Label: "Mark it on the part", Action: finding.OpenMaster}}
			out = append(out, f)
			continue
		}
		at := in.At.Vec()
		f.Where = &at
		holder := p.holds(at)
		switch in.Kind {
		case prep.Thread:
			f.Code, f.What = "insert-on-a-pin", fmt.Sprintf("%s holds the %s on a pin.", holder, in.Named())
			f.Why = "Covered while the rubber is poured, the screw that covers it leaves the seat for the pin; the " +
				"insert is set on the pin before every pull."
		case prep.Hole:
			f.Code, f.What = "insert-plugged", fmt.Sprintf("The %s is plugged from %s.", in.Named(), kinds.Small(holder))
			f.Why = "Rubber of both halves meets in a hole. A plug half way, or flush with one face, decides where the " +
				"seam lies; without one the halves grip one another."
		case prep.Core:
			f.Code, f.What = "insert-in-the-parting", fmt.Sprintf(
				"The %s lies in the parting, its ends in prints on %s.",
				in.Named(),
				kinds.Small(holder),
			)
			f.Why = "Ends that stand out of the master make their own prints. Lay it in dry and warm: a cold core " +
				"chills the resin and draws bubbles."
			if off := math.Abs(p.Design.Draw.Of(at) - p.Parting.Height); p.Parted() && off > coreOff {
				f.Severity = finding.Watch
				f.Code, f.What = "insert-off-the-parting", fmt.Sprintf("The %s sits away from the parting.", in.Named())
				f.Figure, f.Limit = finding.Of(quantity.Length, off), finding.Of(quantity.Length, coreOff)
				f.Why = "A core is laid in where the mould opens. Here it would have to be pushed into a closed print: " +
					"move the parting, or hold it on a pin."
			}
		case prep.Magnet:
			f.Code, f.What = "insert-laid-in", fmt.Sprintf("The %s is laid into %s before gel.", in.Named(), kinds.Small(holder))
			f.Why = "Pour to its depth, lay it in with the marked pole up, fill up before the first part gels. Keep " +
				"magnets away from pacemakers."
		}
		out = append(out, f)
	}
	return out
}

// holds is the piece that a place lies in.
func (p Plan) holds(at r3.Vec) string {
	switch {
	case !p.Parted():
		return "The block"
	case p.Design.Draw.Of(at) < p.Parting.Height:
		return "Half B"
	}
	return "Half A"
}
