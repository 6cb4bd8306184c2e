// Package build turns a planned mould into work on the bench: the steps in
// their order with their minutes, when the first casting can be pulled, what
// the order costs in hours, and what stands against building it so. Asked for
// every kind, it ranks them.
package build

import (
	"fmt"

	"cmp"
	"math"
	"slices"

	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/finish"
	"bathyform/core/hold"
	"bathyform/core/hours"
	"bathyform/core/kinds"
	"bathyform/core/mix"
	"bathyform/core/mould"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/sheet"
	"bathyform/core/strip"

	"gonum.org/v1/gonum/spatial/r3"
)

// Case is what a mould is built from.
type Case struct {
	Plan     mould.Plan // as far as it is divided
	Suit     kinds.Suit
	Thin     bool           // and wide, so that it fills badly through a sprue
	Hold     *hold.Standing // nil where nothing has to be held
	Reliefs  []strip.Lock   // what slits inside the halves free
	Thickest float64        // mm of section; 0 where not known
	Wanted   int            // castings
	Quality  string
	Rough    bool

	Rods   kinds.Rods
	Scars  []float64     // bores of what is cut off one casting, mm
	Cavity derive.Number // mL that a shot fills of cavities
	Shot   derive.Number // mL of a pull
	Tilt   *derive.Number
	Brush  []int // places that rubber shuts air into, pour by pour

	Rubber *mix.Material
	Resin  *mix.Material
	House  practice.House

	View    sheet.View // with the draw upwards
	Section [][]r3.Vec // of all cavities
	Sleeve  [][]r3.Vec // of a skin's outside
}

// Build is a mould on the bench.
type Build struct {
	Plan      mould.Plan
	Steps     []kinds.Step
	Attitudes []sheet.Drawing
	Lay       sheet.Drawing  // seen along the draw
	Hands     derive.Number  // h of work on the mould
	Waits     derive.Number  // h of curing and drying
	First     derive.Number  // h until the first casting is out
	Finish    derive.Number  // min for each casting
	Weight    *derive.Number // g, of the finished mould with a shot in it
	Moulds    derive.Number  // for the order
	Effort    derive.Number  // h for the whole order: making, trimming, and rubber as work
	Score     derive.Number  // h that rank kinds, less is better
	Extras    []kinds.Extra
	Findings  []finding.Finding
	Suit      kinds.Suit
	Across    float64 // mm, the circle that the mould takes as it stands for the resin
	Tall      float64 // mm, then
}

// Make builds a mould.
func Make(c Case) Build {
	b := Build{Plan: c.Plan, Suit: c.Suit}
	bench := c.bench()
	b.Steps = bench.Steps()
	b.Across, b.Tall = c.Plan.Box.Footprint(c.Plan.Design.ResinUp)
	if c.Plan.Kind.Extras != nil {
		b.Extras = c.Plan.Kind.Extras(bench)
	}
	if c.Plan.Parted() && c.Plan.Kind.Resin == kinds.Sprued && !c.Plan.Kind.Shelled {
		what, n := bench.Closing()
		b.Extras = append(b.Extras, kinds.Extra{Name: "Resin pushes the halves apart by, N", Number: bench.Push},
			kinds.Extra{Name: quantity.Sentence(what) + " to close it", Number: n})
	}
	if c.Plan.Kind.Shelled && c.Plan.Divided {
		block := c.Plan.Box.Volume.Value - c.Plan.Parts.Value
		if pays := kinds.ShellPays(block, c.Plan.Rubber.Value, c.Plan.Life.Value*float64(c.cavities())); pays.Value > 0 {
			b.Extras = append(b.Extras, kinds.Extra{Name: "Pays from so many castings", Number: pays})
		}
	}
	c.costs(&b)
	c.weigh(&b)
	b.Attitudes, b.Lay = c.attitudes(), c.plan()
	b.Findings = c.findings(&b, bench)
	return b
}

func (c Case) cavities() int { return c.Plan.Design.Cavities() }

// bench is the mould as its steps are written from.
func (c Case) bench() *kinds.Bench {
	p := c.Plan
	b := &kinds.Bench{
		Kind:     p.Kind,
		Cavities: c.cavities(),
		Wanted:   c.Wanted,
		Life:     p.Life,
		Pours:    p.Pours,
		Bed:      p.Level(),
		Under:    p.Under(),
		Stands: kinds.StandsBy(
			p.Design.RubberUpA,
			p.Design.ResinUp,
		),
		Sides:  p.Sides(),
		Alike:  p.Alike(),
		Cut:    p.Cut,
		Skin:   p.Skin,
		Brush:  c.Brush,
		Part:   p.Parts.Value * 1000,
		Cavity: c.Cavity.Value,
		Shot:   c.Shot.Value,
		Rods:   c.Rods,
		Powder: c.powder(),
		Rubber: c.Rubber,
		Resin:  c.Resin,
		House:  c.House,
	}
	if c.Hold != nil {
		b.Supports = c.Hold.Added()
	}
	b.Reliefs, b.Push = c.Reliefs, c.push()
	if t := p.Design.Tilt; t != nil && t.Degrees > 0 {
		b.Tilt = fmt.Sprintf("stand the mould %g° out of level, its %s raised", t.Degrees, t.Side())
	}
	size := r3.Sub(p.Box.Bounds.Max, p.Box.Bounds.Min)
	b.Long = max(size.X, size.Y, size.Z)
	if c.Rods.Sprues == 0 {
		b.Stands = kinds.Bare
	}
	if d := p.Division; d != nil {
		b.Off, b.Line, b.Lattice, b.Ceiling = d.Off, d.Line, d.Cell, d.Ceiling()
		b.Keys = len(d.Keys.Keys)
		if b.Keys > 0 {
			b.KeyKind, b.KeySize = string(d.Keys.Keys[0].Kind), d.Keys.Keys[0].Radius
		}
	}
	for _, body := range p.Bodies() {
		b.Opening = append(b.Opening, body.Name)
		if body.Name == "Half A" {
			b.Half = body.Volume.Value * 1000
		}
	}
	if len(b.Opening) == 0 && p.Kind.Halves {
		b.Opening = []string{"Half A", "Half B"}
	}
	if s := p.Blanket; s != nil {
		b.Bridged, b.Shell, b.Lattice = s.Bridged, s.Area, s.Cell
	}
	return b
}

// powder is what is dusted in; empty for nothing.
func (c Case) powder() string {
	if p := c.Plan.Design.Powder; p != nil {
		return p.Name
	}
	return ""
}

// push is the force by which resin pushes the halves apart: its mean pressure
// on what is seen of the cavities along the draw.
func (c Case) push() derive.Number {
	p := c.Plan
	_, top := p.Design.ResinUp.Span(p.Box.Bounds)
	low, high := p.Design.ResinUp.Span(p.Body)
	d, source := kinds.ResinDensity, "common, from memory"
	if c.Resin != nil {
		d, source = c.Resin.Density, "data sheet of "+c.Resin.Name
	}
	head, area := top-(low+high)/2, p.Shadow()
	return derive.Of(quantity.Number, d*1000*quantity.Gravity*head/1000*area/1e6,
		"density × 1000 × 9.80665 × mean head / 1000 × area / 10 000, newtons",
		derive.From("density", quantity.Density, d, source),
		derive.From("mean head", quantity.Length, head, "from the middle of the cavities to the top of the mould"),
		derive.From("area", quantity.Area, area/100, "of all cavities, seen along the draw"))
}

// Schedule lays the steps into a shop's hours from a moment on.
func (b Build) Schedule(s hours.Shop, from float64, weekday int) ([]hours.Slot, error) {
	tasks := make([]hours.Task, len(b.Steps))
	for i, st := range b.Steps {
		tasks[i] = hours.Task{Name: st.Do, Minutes: st.Minutes, Hands: !st.Wait, With: st.With}
	}
	return s.Lay(tasks, from, weekday)
}

// What the ranking reckons with; common practice, no source, from memory.
const (
	waitWorth  = 0.1 // h of work that an hour of waiting is worth
	shortFills = 0.1 // h that scrap costs on each casting of a thin, wide part fed through a sprue
)

// costs sums up hands, waits, trimming and the order.
func (c Case) costs(b *Build) {
	var hands, waits, first float64 // min
	for _, s := range b.Steps {
		first += s.Minutes
		switch {
		case s.Casting:
		case s.Wait:
			waits += s.Minutes
		default:
			hands += s.Minutes
		}
	}
	const source = "the steps; minutes are common practice, no source"
	hour := derive.From("minutes an hour", quantity.Number, 60, "the clock")
	b.Hands = derive.Of(
		quantity.Time,
		hands/60,
		"steps that a person does / 60",
		derive.From("steps that a person does (min)", quantity.Number, hands, source),
		hour,
	)
	b.Waits = derive.Of(
		quantity.Time,
		waits/60,
		"cures and drying / 60",
		derive.From("cures and drying (min)", quantity.Number, waits, "the rubber's sheet, by the temperature of the shop"),
		hour,
	)
	cast := derive.Of(
		quantity.Time,
		(first-hands-waits)/60,
		"steps of the first casting / 60",
		derive.From("steps of the first casting (min)", quantity.Number, first-hands-waits, "the steps and the resin's sheet"),
		hour,
	)
	b.First = derive.Of(quantity.Time, first/60, "work + curing + first casting", b.Hands.As("work"), b.Waits.As("curing"),
		cast.As("first casting")).
		Noted("Nights and closing hours come on top: the steps show when.")
	b.Finish = c.casting().Minutes()
	p := c.Plan
	n := float64(c.cavities())
	castings := derive.From("castings wanted", quantity.Number, float64(c.Wanted), "the order")
	moulds := max(1, math.Ceil(float64(c.Wanted)/(n*max(1, p.Life.Value))-1e-9))
	b.Moulds = derive.Of(
		quantity.Number,
		moulds,
		"castings wanted / (cavities × pulls of a mould), rounded up",
		castings,
		derive.From("cavities", quantity.Number, n, "this design"),
		p.Life.As("pulls of a mould"),
	)
	once, again := 0.0, b.Hands.Value
	if p.Kind.Again > 0 { // the shell stays
		once, again = b.Hands.Value-p.Kind.Again, p.Kind.Again
	}
	rubber := p.Mixed
	if !p.Divided {
		rubber = p.Rubber
	}
	litre := derive.From("work that a litre of rubber is worth (h)", quantity.Time, kinds.RubberHours, "common practice, no source")
	b.Effort = derive.Of(
		quantity.Time,
		once+moulds*(again+kinds.RubberHours*rubber.Value/1000)+float64(c.Wanted)*b.Finish.Value/60,
		"once + moulds × (work of each mould + work that a litre of rubber is worth × rubber / 1 L) + castings wanted × "+
			"finishing of a casting / 60",
		derive.From(
			"once, for a shell",
			quantity.Time,
			once,
			"the steps",
		),
		b.Moulds.As("moulds"),
		derive.From("work of each mould", quantity.Time, again, "the steps"),
		litre,
		rubber.As("rubber"),
		castings,
		b.Finish.As("finishing of a casting (min)"),
	).
		Noted("Rubber is counted as work so that one figure ranks them.")
	scrap := 0.0
	if c.Thin && p.Kind.Resin == kinds.Sprued {
		scrap = shortFills
	}
	b.Score = derive.Of(
		quantity.Time,
		b.Effort.Value+waitWorth*b.Waits.Value+scrap*float64(c.Wanted),
		"order + worth of waiting × curing + scrap of each casting × castings wanted",
		b.Effort.As(
			"order",
		),
		derive.From("worth of waiting", quantity.Number, waitWorth, "common practice, no source"),
		b.Waits.As("curing"),
		derive.From("scrap of each casting (h)", quantity.Time, scrap, "short fills of thin, wide parts; common practice, no source"),
		castings,
	)
}

// casting is what is finished on each.
func (c Case) casting() finish.Casting {
	p, n := c.Plan, float64(c.cavities())
	f := finish.Casting{Quality: c.Quality, Pace: c.House.FinishPace}
	f.Scars = c.Scars
	if p.Division != nil {
		f.Seam, f.Across = p.Division.Line/n, p.Division.Open
	} else if !p.Known {
		f.Seam = c.byMeasure()
	}
	if p.Kind.Finish != nil {
		p.Kind.Finish(&f, kinds.Casting{Free: p.Shadow() / n, Sides: float64(len(p.Sides())) / n})
	}
	return f
}

// byMeasure is the seam of a part without a shape: once round its measures.
func (c Case) byMeasure() float64 {
	around := 0.0
	ring := c.Plan.Cavities.Shape.Ring
	for i, p := range ring {
		q := ring[(i+1)%len(ring)]
		around += math.Hypot(q[0]-p[0], q[1]-p[1])
	}
	return around
}

// weigh adds up the finished mould with a shot in it.
func (c Case) weigh(b *Build) {
	p := c.Plan
	if c.Rubber == nil || !p.Divided {
		return
	}
	d, source := kinds.ResinDensity, "common, from memory"
	if c.Resin != nil {
		d, source = c.Resin.Density, "data sheet of "+c.Resin.Name
	}
	w := derive.Of(
		quantity.Mass,
		p.Rubber.Value*c.Rubber.Density+c.Shot.Value*d,
		"rubber × density of the rubber + shot × density of the resin",
		p.Rubber.As("rubber"),
		derive.From("density of the rubber", quantity.Density, c.Rubber.Density, "data sheet of "+c.Rubber.Name),
		c.Shot.As("shot"),
		derive.From("density of the resin", quantity.Density, d, source),
	)
	b.Weight = &w
}

// Stops are the findings that rule a build out.
func (b Build) Stops() (out []finding.Finding) {
	for _, f := range b.Findings {
		if f.Severity == finding.Stop && f.Stage == finding.Mould {
			out = append(out, f)
		}
	}
	return out
}

// Why is what rules a build out, then what speaks against it and for it.
func (b Build) Why() (out []string) {
	for _, f := range b.Stops() {
		out = append(out, f.What)
	}
	for _, w := range b.Suit.Why() {
		if !slices.Contains(out, w) {
			out = append(out, w)
		}
	}
	return out
}

// Row is one kind in the ranking.
type Row struct {
	Kind  *kinds.Kind
	Build *Build // nil where it cannot be built
	Why   []string
	Fits  bool
}

// RowOf is a kind as it ranks; err says why it cannot be built.
func RowOf(k *kinds.Kind, b Build, err error) Row {
	if err != nil {
		return Row{Kind: k, Why: []string{quantity.Sentence(err.Error()) + "."}}
	}
	return Row{Kind: k, Build: &b, Why: b.Why(), Fits: len(b.Stops()) == 0}
}

// Rank puts kinds in order: those that fit first, the least score first.
func Rank(rows []Row) {
	score := func(r Row) float64 {
		if r.Build == nil {
			return math.Inf(1)
		}
		return r.Build.Score.Value
	}
	slices.SortStableFunc(rows, func(a, b Row) int {
		if a.Fits != b.Fits {
			if a.Fits {
				return -1
			}
			return 1
		}
		return cmp.Compare(score(a), score(b))
	})
}
