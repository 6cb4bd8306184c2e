// Package build turns a mould that has been designed into work on the bench:
// for its kind the pours in their order, what stands in the box at each, the
// steps with their minutes, the quantities, when the first casting can be
// pulled, and what each casting costs afterwards.
package build

import (
	"errors"
	"fmt"
	"math"

	"bathyform/core/box"
	"bathyform/core/derive"
	"bathyform/core/drawing"
	"bathyform/core/finding"
	"bathyform/core/finish"
	"bathyform/core/hours"
	"bathyform/core/kind"
	"bathyform/core/mix"
	"bathyform/core/mould"
	"bathyform/core/outline"
	"bathyform/core/part"
	"bathyform/core/pieces"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/shell"
	"bathyform/core/slit"

	"gonum.org/v1/gonum/spatial/r3"
)

// Case is what a mould is built from.
type Case struct {
	Kind     kind.Kind
	Name     string // of the part
	Wanted   int    // castings
	Life     float64
	LifeFrom string
	Cavities int

	Draw    part.Axis
	Ups     mould.Attitudes
	Plan    pieces.Plan // in the pieces of this kind
	Box     box.Box     // seen along the draw, in the frame of the draw
	Blanket *shell.Blanket
	Skin    float64 // mm, of Blanket
	Body    r3.Box  // of all cavities, mesh coordinates
	Part    float64 // mm³ of all cavities
	Section [][]r3.Vec
	Sleeve  [][]r3.Vec        // the section of Blanket's outside
	Seen    [][]outline.Point // cavities along the draw, in its frame, without their holes
	View    drawing.View      // with the draw upwards
	Scars   []float64         // bores of gates and vents on one casting, mm
	Shot    float64           // mL for a pull
	Tilt    *derive.Number
	Brush   []int // places that rubber shuts air into, of halves A and B

	Rubber  *mix.Material
	Resin   *mix.Material
	Over    float64 // per cent
	Quality string
	House   practice.House
}

// Pour is one filling of the box with rubber.
type Pour struct {
	Name   string
	Pieces []string
	Up     part.Axis
	Volume derive.Number // mL
	Mixed  derive.Number // mL, with what stays in the bucket
	Batch  *mix.Batch    // of all mixes together; nil until a rubber is chosen
	Mixes  derive.Number
	Bed    float64 // mm over the floor: up to where clay, board or the first half stands; 0 for none
	Level  float64 // mm over the floor, to pour to
	Spot   string  // where to pour
}

// Step is one thing to do, or a wait.
type Step struct {
	Do      string
	Why     string
	Caution string
	Minutes float64
	Wait    bool // rubber or release does it by itself
	With    bool // straight after the step before
	Pour    int  // whose quantities belong here; -1 for none
}

// Build is a mould on the bench.
type Build struct {
	Kind      kind.Kind
	Name      string
	Pours     []Pour
	Steps     []Step
	Attitudes []drawing.Drawing
	Lay       drawing.Drawing // seen along the draw
	Rubber    derive.Number   // mL, with allowances
	Clay      *derive.Number  // mL of clay
	ClayMass  *derive.Number  // g
	Hands     derive.Number   // h of work until the first pull
	Waits     derive.Number   // h of curing and drying
	Finish    derive.Number   // min for each casting
	Weight    *derive.Number  // g, of the finished mould
	Moulds    derive.Number   // for the order
	Effort    derive.Number   // h for the whole order: making, trimming, and rubber as work
	Extras    []Extra
	Cut       *slit.Guide
	Findings  []finding.Finding
}

// Extra is a quantity that only this kind of mould has.
type Extra struct {
	Name   string
	Number derive.Number
}

// ErrKind says that a kind is not built here.
var ErrKind = errors.New("a pressed mould is built by the press's own sheet; choose another kind for the bench")

// names of the kinds that are built.
var names = map[kind.Kind]string{
	kind.OpenFace: "Open-face block", kind.Stretch: "Soft stretch block", kind.Cut: "Cut block", kind.Tape: "Tape-parted clear block",
	kind.Clay: "Two parts, clayed up", kind.Board: "Two parts on a parting board", kind.Squeeze: "Squeeze mould",
	kind.Pieces: "Three pieces and more", kind.Shell: "Rubber skin in a rigid shell",
}

// NameOf is what a kind is called.
func NameOf(k kind.Kind) string { return names[k] }

// Kinds that can be built, in the order they are offered.
var Kinds = []kind.Kind{kind.Board, kind.Clay, kind.Cut, kind.Tape, kind.Pieces, kind.Squeeze, kind.OpenFace, kind.Stretch, kind.Shell}

// Sided tells whether a kind has side pieces.
func Sided(k kind.Kind) bool { return k == kind.Pieces }

// Make builds a mould.
func Make(c Case) (Build, error) {
	name, ok := names[c.Kind]
	if !ok {
		return Build{}, ErrKind
	}
	if len(c.Plan.Pieces) < 2 {
		return Build{}, errors.New("the mould has not been divided yet")
	}
	if c.Kind == kind.Shell && c.Blanket == nil {
		return Build{}, errors.New("the blanket has not been laid yet")
	}
	b := Build{Kind: c.Kind, Name: name}
	if err := c.pours(&b); err != nil {
		return b, err
	}
	c.clay(&b)
	c.extras(&b)
	c.steps(&b)
	c.costs(&b)
	c.weigh(&b)
	b.Attitudes, b.Lay = c.attitudes(), c.plan()
	b.Findings = c.findings(&b)
	return b, nil
}

// Schedule lays the steps into a shop's hours from a moment on.
func (b Build) Schedule(s hours.Shop, from float64, weekday int) ([]hours.Slot, error) {
	tasks := make([]hours.Task, len(b.Steps))
	for i, st := range b.Steps {
		tasks[i] = hours.Task{Name: st.Do, Minutes: st.Minutes, Hands: !st.Wait, With: st.With}
	}
	return s.Lay(tasks, from, weekday)
}

// costs sums up hands, waits, trimming and the order.
func (c Case) costs(b *Build) {
	hands, waits := 0.0, 0.0
	for _, s := range b.Steps {
		if s.Wait {
			waits += s.Minutes
		} else {
			hands += s.Minutes
		}
	}
	const source = "the steps; minutes are common practice, no source"
	b.Hands = derive.Of(quantity.Time, hands/60, "sum of the steps that a person does", derive.From("steps (min)", quantity.Number, hands, source))
	b.Waits = derive.Of(quantity.Time, waits/60, "sum of cures and drying", derive.From("waits (min)", quantity.Number, waits, "the rubber's sheet, by the temperature of the shop"))
	b.Finish = c.casting().Minutes()
	var inputs []derive.Input
	total := 0.0
	for _, p := range b.Pours {
		total += p.Mixed.Value
		inputs = append(inputs, p.Mixed.As(p.Name))
	}
	b.Rubber = derive.Of(quantity.Volume, total, "sum of the pours", inputs...)
	n := float64(max(1, c.Cavities))
	castings := derive.From("castings wanted", quantity.Number, float64(c.Wanted), "the order")
	life := derive.From("pulls of a mould", quantity.Number, c.Life, c.LifeFrom)
	moulds := max(1, math.Ceil(float64(c.Wanted)/(n*max(1, c.Life))-1e-9))
	b.Moulds = derive.Of(quantity.Number, moulds, "castings / (cavities × pulls of a mould), rounded up", castings, derive.From("cavities", quantity.Number, n, "this design"), life)
	again := b.Hands.Value
	once := 0.0
	if c.Kind == kind.Shell { // the shell stays
		once, again = b.Hands.Value-repourHours, repourHours
	}
	b.Effort = derive.Of(quantity.Time, once+moulds*(again+kind.RubberHours*total/1000)+float64(c.Wanted)*b.Finish.Value/60,
		"once + moulds × (work of each + 1.4 h × litres of rubber) + castings × finishing",
		derive.From("once, for a shell", quantity.Time, once, "the steps"), b.Moulds.As("moulds"), derive.From("work of each mould", quantity.Time, again, "the steps"),
		b.Rubber.As("rubber"), castings, b.Finish.As("finishing of a casting (min)")).
		Noted("Rubber is counted as work so that one figure ranks them: a litre as 1.4 h. Common practice, no source.")
}

// casting is what is finished on each.
func (c Case) casting() finish.Casting {
	n := float64(max(1, c.Cavities))
	f := finish.Casting{Seam: c.Plan.Line / n, Across: c.Plan.Open, Scars: c.Scars, Quality: c.Quality}
	switch c.Kind {
	case kind.Stretch:
		f.Seam = 0
	case kind.OpenFace:
		f.Seam, f.Scars, f.FreeFace = 0, nil, c.shadow()/n
	case kind.Squeeze:
		f.Land, f.Scars = f.Seam, nil
	case kind.Pieces:
		f.Seam *= 1 + 0.1*float64(len(c.Plan.Pieces)-2)/n
	}
	return f
}

// shadow is what of the parts is seen along the draw, roughly, mm².
func (c Case) shadow() float64 {
	size := r3.Sub(c.Body.Max, c.Body.Min)
	dir, _ := c.Draw.Dir()
	along := math.Abs(r3.Dot(size, dir))
	if along <= 0 {
		return 0
	}
	return min(size.X*size.Y*size.Z/along, c.Box.Area)
}

// densities of what is worked with beside rubber, g/mL; from memory.
const (
	clayDensity  = 1.7 // sulphur-free modelling clay
	resinDensity = 1.1
)

// clay is the bed or the blanket.
func (c Case) clay(b *Build) {
	var v derive.Number
	switch c.Kind {
	case kind.Clay, kind.Squeeze, kind.Pieces:
		low := c.Plan.Pieces[len(c.Plan.Pieces)-1]
		v = derive.Of(quantity.Volume, low.Volume/1000, "what the other half will take: the bed fills its place", derive.From(low.Name, quantity.Volume, low.Volume/1000, "its closed surface"))
	case kind.Shell:
		v = derive.Of(quantity.Volume, c.Blanket.Volume/1000, "the clay's place is the rubber's place", derive.From("blanket", quantity.Volume, c.Blanket.Volume/1000, "its closed surface"))
	default:
		return
	}
	m := derive.Of(quantity.Mass, v.Value*clayDensity, "volume × density of clay", v.As("volume"), derive.From("density of clay (g/mL)", quantity.Number, clayDensity, "sulphur-free modelling clay, from memory; weigh a measured block of yours"))
	b.Clay, b.ClayMass = &v, &m
}

// weigh adds up the finished mould with a shot in it.
func (c Case) weigh(b *Build) {
	if c.Rubber == nil {
		return
	}
	rubber := 0.0
	for _, p := range b.Pours {
		rubber += p.Volume.Value
	}
	d := resinDensity
	source := "common, from memory"
	if c.Resin != nil {
		d, source = c.Resin.Density, "data sheet of "+c.Resin.Name
	}
	w := derive.Of(quantity.Mass, rubber*c.Rubber.Density+c.Shot*d, "rubber × its density + shot × its density",
		derive.From("rubber", quantity.Volume, rubber, "the pours"), derive.From("density of the rubber (g/mL)", quantity.Number, c.Rubber.Density, "data sheet of "+c.Rubber.Name),
		derive.From("shot", quantity.Volume, c.Shot, "the shot"), derive.From("density of the resin (g/mL)", quantity.Number, d, source))
	b.Weight = &w
}

// half is a piece by its name's letter.
func (c Case) half(last int) pieces.Piece { return c.Plan.Pieces[len(c.Plan.Pieces)-last] }

// depth is the box along a way up, mm.
func (c Case) depth(up part.Axis) float64 {
	if up.Along(c.Draw) {
		return c.Plan.Box.Max.Z - c.Plan.Box.Min.Z
	}
	return max(c.Box.Wide, c.Box.Deep)
}

func plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}
