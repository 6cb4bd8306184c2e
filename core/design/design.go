// Package design holds what the caster has decided about a mould and its
// shot, and what the caster has said of the master: plain data, written and
// read in one form, whether it is kept in the database, sent to the page or
// handed on as a file.
//
// Lengths are in mm, directions and places in the master's mesh coordinates.
package design

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"strings"

	"bathyform/core/axis"
	"bathyform/core/mix"
	"bathyform/core/practice"

	"gonum.org/v1/gonum/spatial/r3"
)

// Kind of mould; the kinds and what they mean are in package kinds.
type Kind string

// The kinds of the trade.
const (
	Board    Kind = "parting-board"
	Clay     Kind = "clayed-up"
	Cut      Kind = "cut"
	Tape     Kind = "tape-parted"
	Pieces   Kind = "three-piece"
	Squeeze  Kind = "squeeze"
	OpenFace Kind = "open-face"
	Stretch  Kind = "stretch"
	Shell    Kind = "shell"
	Pressed  Kind = "sheet-pressed"
)

// Place is a point or a direction, as x, y and z.
type Place [3]float64

// At makes a place of a vector.
func At(v r3.Vec) Place { return Place{v.X, v.Y, v.Z} }

// Vec is the place as a vector.
func (p Place) Vec() r3.Vec { return r3.Vec{X: p[0], Y: p[1], Z: p[2]} }

// Design is all that the caster decides about a mould and its shot. What is
// left out follows the proposal.
type Design struct {
	Draw      axis.Axis          `json:"draw"` // half A comes off this way
	RubberUpA axis.Axis          `json:"rubberUpA"`
	RubberUpB axis.Axis          `json:"rubberUpB"`
	ResinUp   axis.Axis          `json:"resinUp"`
	Parting   *float64           `json:"parting,omitempty"` // height along the draw, mm; nil for the proposal
	Clearance practice.Clearance `json:"clearance"`

	Rubber     string  `json:"rubber,omitempty"` // of the shelf, by its id; empty for none
	Resin      string  `json:"resin,omitempty"`
	RubberOver float64 `json:"rubberOver"` // per cent that stays in the bucket

	Feed      practice.Feed `json:"feed"`
	SprueBore float64       `json:"sprueBore"` // mm; of the opening, feeding from the top
	VentBore  float64       `json:"ventBore"`  // mm, of vents that are proposed
	WellWidth float64       `json:"wellWidth"` // mm at the rim
	WellDepth float64       `json:"wellDepth"` // mm
	Vents     []Vent        `json:"vents"`
	Runners   Runners       `json:"runners,omitempty"`  // none for the proposal
	SprueTop  float64       `json:"sprueTop,omitempty"` // mm under the well at most, where the sprue is a cone; 0 for a straight one
	Section   Section       `json:"section,omitempty"`  // of runners and gates
	Strip     float64       `json:"strip,omitempty"`    // mm thick, where they are strips
	Tilt      *Tilt         `json:"tilt,omitempty"`     // as the resin is poured; nil for level
	Sump      float64       `json:"sump,omitempty"`     // mm deep, of the foot under the sprue; 0 for none
	Blind     float64       `json:"blind,omitempty"`    // mm long, of a blind channel off the runners; 0 for none
	Within    float64       `json:"within,omitempty"`   // min from when A meets B in which the mould shall be full; 0 for the pot life
	Faces     []Face        `json:"faces,omitempty"`    // that show, or may be spared for scars
	Foot      *Place        `json:"foot,omitempty"`     // where resin enters the part; nil for the proposal
	Shaft     *Place        `json:"shaft,omitempty"`    // where the first sprue stands; nil for the proposal
	ShotOver  float64       `json:"shotOver"`           // per cent for cup, flash and margin

	Kind  Kind    `json:"kind,omitempty"` // empty for what the brief says
	Box   Box     `json:"box,omitzero"`
	Keys  Keys    `json:"keys,omitzero"`
	Seam  Seam    `json:"seam,omitempty"`  // on walls along the draw
	Holes Seam    `json:"holes,omitempty"` // where plugs in holes end
	Line  []Pull  `json:"line,omitempty"`  // places that the parting line is led through
	Sides []Side  `json:"sides,omitempty"`
	Gang  []Pose  `json:"gang,omitempty"` // the cavities seen along the draw; none for one
	Gap   float64 `json:"gap,omitempty"`  // mm between cavities
	Skin  float64 `json:"skin,omitempty"` // mm of rubber in a shell; 0 for the usual

	Supports []Support `json:"supports,omitempty"` // of a master in a block poured all round; none for the proposal

	Colour *mix.Recipe `json:"colour,omitempty"` // nil for none
	Powder *Powder     `json:"powder,omitempty"` // nil for none
}

// Powder is metal or stone that is dusted into the mould before the shot.
type Powder struct {
	Name   string  `json:"name"`
	Dusted float64 `json:"dusted,omitempty"` // g brushed in for one pull; 0 where not weighed yet
	Back   float64 `json:"back,omitempty"`   // g of it that are poured back out
}

// Check refuses more poured back than was dusted.
func (p Powder) Check() error {
	switch {
	case p.Name == "":
		return errors.New("say what the powder is, so that the next pull finds it")
	case p.Back > p.Dusted:
		return fmt.Errorf("%g g of powder were poured back, more than the %g g that were dusted in", p.Back, p.Dusted)
	}
	if err := practice.Within("powder dusted in (g)", p.Dusted, 0, 1e5); err != nil {
		return err
	}
	return practice.Within("powder poured back (g)", p.Back, 0, 1e5)
}

// Vent is a thin channel from the part to the top of the mould.
type Vent struct {
	At    Place     `json:"at"`   // on the part
	Bore  float64   `json:"bore"` // mm
	State VentState `json:"state,omitempty"`
	Rim   bool      `json:"rim,omitempty"` // led to the rim of the well, where what weeps runs back
	Cup   float64   `json:"cup,omitempty"` // mm across the cup that it overflows into; 0 for none
	Cut   bool      `json:"cut,omitempty"` // out of the rubber afterwards; else a wire is cast in
}

// Section is that of a channel.
type Section string

// The sections of channels that lie in the parting; elsewhere they are round.
const (
	Round     Section = ""
	HalfRound Section = "half"  // in one half of the mould
	Strip     Section = "strip" // thin as paper, for a part as thin
)

func (s Section) check() error {
	switch s {
	case Round, HalfRound, Strip:
		return nil
	}
	return fmt.Errorf("a channel is round, half round or a strip, not %q", string(s))
}

// Tilt is how far out of level the mould stands as the resin is poured.
type Tilt struct {
	Degrees float64 `json:"degrees"`
	High    Place   `json:"high"` // the way across to the side that is raised
}

// MostTilt is how far a mould is stood out of level, degrees: beyond it lies on
// its side.
const MostTilt = 30

// Up is the way up of the resin where the mould would have one if it stood
// level.
func (t *Tilt) Up(level r3.Vec) r3.Vec {
	if t == nil {
		return level
	}
	high := r3.Sub(t.High.Vec(), r3.Scale(r3.Dot(t.High.Vec(), level), level))
	if r3.Norm(high) < 1e-9 {
		return level
	}
	sin, cos := math.Sincos(t.Degrees * math.Pi / 180)
	return r3.Add(r3.Scale(cos, level), r3.Scale(sin, r3.Unit(high)))
}

// Side names the side that is raised by the axes of the mesh: +x side, +x −y corner.
func (t *Tilt) Side() string {
	var names []string
	for k, v := range t.High {
		if sign := "+"; math.Abs(v) > 0.3 {
			if v < 0 {
				sign = "−"
			}
			names = append(names, sign+"xyz"[k:k+1])
		}
	}
	if len(names) > 1 {
		return strings.Join(names, " ") + " corner"
	}
	return strings.Join(names, " ") + " side"
}

func (t *Tilt) check(up axis.Axis) error {
	if t == nil {
		return nil
	}
	if err := practice.Within("tilt of the mould (°)", t.Degrees, 0, MostTilt); err != nil {
		return err
	}
	if err := near("the side that is raised", t.High[:]); err != nil {
		return err
	}
	if across := r3.Cross(t.High.Vec(), up.Dir()); r3.Norm(across) < 1e-6*r3.Norm(t.High.Vec()) || r3.Norm(across) == 0 {
		return errors.New("say which side of the mould is raised: a way across, not up")
	}
	return nil
}

// Face is a face of the part at a place: one that shows, or one to spare.
type Face struct {
	At   Place `json:"at"`
	Show bool  `json:"show"`
}

// VentState is what becomes of a vent.
type VentState string

// The states of a vent; an open one is none of the others.
const (
	Weeps   VentState = "weeps"   // plugged once resin weeps out of it
	Plugged VentState = "plugged" // before the pour: it lets nothing out
	Later   VentState = "later"   // kept for when a pull shows a void there
)

// Opens is whether the vent lets air out.
func (s VentState) Opens() bool { return s == "" || s == Weeps }

// There is whether the mould has the vent.
func (s VentState) There() bool { return s != Later }

func (s VentState) check() error {
	switch s {
	case "", Weeps, Plugged, Later:
		return nil
	}
	return fmt.Errorf("a vent is open, weeps, is plugged or is cut later, not %q", s)
}

// Runners is how a gang is fed: each cavity by itself, or from one well by a
// ring, a comb, a tree or a ladder of runners.
type Runners string

func (r Runners) check() error {
	switch r {
	case "", "each", "ring", "comb", "tree", "ladder":
		return nil
	}
	return fmt.Errorf("a gang is fed each, or by a ring, comb, tree or ladder, not by %q", r)
}

// SupportKind is what holds a master while rubber is poured round it.
type SupportKind string

// The supports of the trade: from below, then from above.
const (
	Pin   SupportKind = "pin"
	Foot  SupportKind = "foot"  // of the part's own, let into a hole of the base board
	Stick SupportKind = "stick" // from below, stiff
	Wire  SupportKind = "wire"  // from above; it pulls and does not push
	Bar   SupportKind = "bar"   // from above, stiff
)

// Support is one of them.
type Support struct {
	Kind SupportKind `json:"kind"`
	At   Place       `json:"at"`   // on the part
	Bore float64     `json:"bore"` // mm
}

// Box is the form of a box; the zero Box is a rectangle.
type Box struct {
	Form string  `json:"form"` // rectangle, sleeve, contour, follow, round or own
	Wide float64 `json:"wide,omitempty"`
	Deep float64 `json:"deep,omitempty"` // of the shop's own, mm inside
	// Filled is what the box takes, mL, as the caster measured it with water
	// or rice up to the rubber's level; 0 where it is reckoned.
	Filled float64 `json:"filled,omitempty"`
	Empty  bool    `json:"empty,omitempty"` // it was filled without the master in it
}

// Keys are what locates the halves; the zero Keys are domes.
type Keys struct {
	Kind string  `json:"kind"`           // domes, bars, pins, strip, bevel or none
	Size float64 `json:"size,omitempty"` // mm; 0 for what has room
}

// Seam is where the parting line runs on walls, or a plug in a hole ends.
type Seam string

// The seams: the first and the last follow the level of the parting.
const (
	Middle  Seam = "middle"  // nearest to one level
	Top     Seam = "top"     // along upper edges, flush with half A's face in a hole
	Half    Seam = "half"    // half way through a hole
	Bottom  Seam = "bottom"  // along lower edges
	Outside Seam = "outside" // in a hole as outside it
)

// Pull leads the parting line through a place on a wall, and back to where it
// would run within a reach along the outline.
type Pull struct {
	At    Place   `json:"at"`
	Reach float64 `json:"reach"` // mm to either side
}

// Side is what the caster says of the undercut nearest to a place.
type Side struct {
	At    Place  `json:"at"`
	Strip bool   `json:"strip"`          // no side piece there: the rubber is stripped
	Draw  *Place `json:"draw,omitempty"` // the way its side piece leaves; nil for the proposal's
}

// Pose is where a cavity lies: x and y in mm about the middle of the first
// one, and its turn in degrees, seen along the draw.
type Pose [3]float64

// Cavities is how many a design has.
func (d Design) Cavities() int { return max(1, len(d.Gang)) }

// Poses are the cavities, one where there is no gang.
func (d Design) Poses() []Pose {
	if len(d.Gang) == 0 {
		return []Pose{{}}
	}
	return d.Gang
}

// Single is the design with its first cavity alone.
func (d Design) Single() Design {
	d.Gang, d.Gap = nil, 0
	return d
}

// Bounds of what a design may hold.
const (
	MostCavities = 60
	MostVents    = 60
	mostSides    = 60
	mostSupports = 60
	mostPulls    = 60
	mostFaces    = 40
	farthest     = 1e5 // mm from the origin
	thinnest     = 0.1 // mm of a strip: a sheet of paper
)

// Check refuses what no mould can be made with, in words.
func (d Design) Check() error {
	for _, v := range []struct {
		name            string
		value, low, top float64
	}{
		{"clearance beside (mm)", d.Clearance.Beside, 0.5, 500}, {"clearance below (mm)", d.Clearance.Below, 0.5, 500},
		{"clearance above (mm)", d.Clearance.Above, 0.5, 500},
		{"rubber allowance (%)", d.RubberOver, 0, 100}, {"shot allowance (%)", d.ShotOver, 0, 100},
		{"sprue bore (mm)", d.SprueBore, 0.5, 200}, {"vent bore (mm)", d.VentBore, 0.1, 50},
		{"well width (mm)", d.WellWidth, 1, 300}, {"well depth (mm)", d.WellDepth, 0, 200},
		{"gap between cavities (mm)", d.Gap, 0, 500}, {"skin (mm)", d.Skin, 0, 60}, {"key size (mm)", d.Keys.Size, 0, 60},
		{"box's width (mm)", d.Box.Wide, 0, 1e4}, {"box's depth (mm)", d.Box.Deep, 0, 1e4},
		{"what fills the box (mL)", d.Box.Filled, 0, 1e6}, {"sprue's top (mm)", d.SprueTop, 0, 300}, {"strip (mm)", d.Strip, 0, 50},
		{"time to fill (min)", d.Within, 0, 1e4}, {"depth of the sprue's foot (mm)", d.Sump, 0, 100},
		{"blind channel (mm)", d.Blind, 0, 300},
	} {
		if err := practice.Within(v.name, v.value, v.low, v.top); err != nil {
			return err
		}
	}
	if d.Feed != practice.FeedLow && d.Feed != practice.FeedTop {
		return fmt.Errorf("the feed must be low or top, not %q", d.Feed)
	}
	for _, v := range []struct {
		what      string
		have, top int
	}{{"cavities", len(d.Gang), MostCavities}, {"vents", len(d.Vents), MostVents}, {"words on undercuts", len(d.Sides), mostSides},
		{"supports", len(d.Supports), mostSupports}, {"places of the line", len(d.Line), mostPulls},
		{"marked faces", len(d.Faces), mostFaces}} {
		if v.have > v.top {
			return fmt.Errorf("%d %s are more than the %d that can be handled", v.have, v.what, v.top)
		}
	}
	for i, v := range d.Vents {
		if err := practice.Within(fmt.Sprintf("bore of vent %d (mm)", i+1), v.Bore, 0.1, 50); err != nil {
			return err
		}
		if err := near(fmt.Sprintf("vent %d", i+1), v.At[:]); err != nil {
			return err
		}
		if err := v.State.check(); err != nil {
			return err
		}
		if err := practice.Within(fmt.Sprintf("cup on vent %d (mm)", i+1), v.Cup, 0, 100); err != nil {
			return err
		}
	}
	for i, f := range d.Faces {
		if err := near(fmt.Sprintf("marked face %d", i+1), f.At[:]); err != nil {
			return err
		}
	}
	if err := d.Runners.check(); err != nil {
		return err
	}
	if err := d.Section.check(); err != nil {
		return err
	}
	if d.Section == Strip && d.Strip < thinnest {
		return fmt.Errorf("say how thick the strips are, %g mm or more", thinnest)
	}
	if err := d.Tilt.check(d.ResinUp); err != nil {
		return err
	}
	if d.Foot != nil {
		if err := near("the foot of the sprue", d.Foot[:]); err != nil {
			return err
		}
	}
	if d.Shaft != nil {
		if err := near("the sprue", d.Shaft[:]); err != nil {
			return err
		}
	}
	for i, p := range d.Gang {
		if err := near(fmt.Sprintf("cavity %d", i+1), p[:]); err != nil {
			return err
		}
	}
	for i, p := range d.Line {
		if err := practice.Within(fmt.Sprintf("reach of place %d of the line (mm)", i+1), p.Reach, 0.5, 500); err != nil {
			return err
		}
		if err := near(fmt.Sprintf("place %d of the line", i+1), p.At[:]); err != nil {
			return err
		}
	}
	for i, s := range d.Supports {
		switch s.Kind {
		case Pin, Foot, Stick, Wire, Bar:
		default:
			return fmt.Errorf("a master is held by pins, feet, sticks, wires or a bar, not by %q", s.Kind)
		}
		if err := practice.Within(fmt.Sprintf("bore of support %d (mm)", i+1), s.Bore, 0.2, 50); err != nil {
			return err
		}
		if err := near(fmt.Sprintf("support %d", i+1), s.At[:]); err != nil {
			return err
		}
	}
	for _, s := range d.Sides {
		if err := near("an undercut", s.At[:]); err != nil {
			return err
		}
	}
	if d.Colour != nil {
		if err := d.Colour.Check(); err != nil {
			return err
		}
	}
	if d.Powder != nil {
		if err := d.Powder.Check(); err != nil {
			return err
		}
	}
	if d.Parting != nil {
		return near("the parting", []float64{*d.Parting})
	}
	return nil
}

// near refuses places that are no numbers or lie beyond any part.
func near(what string, at []float64) error {
	for _, x := range at {
		if math.IsNaN(x) || math.Abs(x) > farthest {
			return fmt.Errorf("%s lies at %g, which is beyond any mould", what, x)
		}
	}
	return nil
}

// MarshalJSON writes the design; no vents are an empty list.
func (d Design) MarshalJSON() ([]byte, error) {
	type plain Design
	if d.Vents == nil {
		d.Vents = []Vent{}
	}
	return json.Marshal(plain(d))
}
