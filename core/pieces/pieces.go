// Package pieces divides the rubber round a part into the pieces that it
// leaves the mould by: two halves that come apart along the draw, and side
// pieces for what would lock them, each with its own draw and its turn in the
// opening. Every piece is a closed body, and every piece is moved out in its
// turn to see whether it catches.
package pieces

import (
	"context"
	"errors"
	"fmt"
	"math"
	"runtime"
	"slices"

	"bathyform/core/draw"
	"bathyform/core/grid"
	"bathyform/core/key"
	"bathyform/core/mesh"
	"bathyform/core/parallel"
	"bathyform/core/plane"
	"bathyform/core/practice"
	"bathyform/core/strip"

	"gonum.org/v1/gonum/spatial/r3"
)

// Choices are what the caster decides.
type Choices struct {
	Draw       r3.Vec // half A comes off this way
	Clearance  practice.Clearance
	Room       *Room    // the box, in the frame of the draw; nil for a block with the clearances
	Whole      bool     // one piece, never parted: the block of an open face, or one that is peeled off
	Part       float64  // mm³ that the part takes up; 0 for the mesh's own volume
	Parting    *float64 // height along the draw, mm; nil for where [Profile.Rest] puts it
	HalvesOnly bool     // no side pieces: what is undercut is stripped
	Rubber     strip.Rubber
	Wanted     int // castings
	Cells      int // of the lattice along the longest side; 0 for DefaultCells
	Seam       Seam
	Holes      Seam // in holes through the part: where the plug ends; Flattest for as outside
	Keys       key.Choices
	Spots      []key.Spot // places across the draw that no key may take: sprue, well and vents
	Sides      []Told     // what the caster says of single undercuts
	Line       []Pull     // places that the parting line is led through
	Bores      []Bore     // channels that are cast into the rubber
}

// Pull leads the parting line through a place on a wall.
type Pull struct {
	At    r3.Vec  // mesh coordinates
	Reach float64 // mm along the outline to either side, within which it comes back
}

// Told is what the caster says of the undercut nearest to a place.
type Told struct {
	At    r3.Vec // mesh coordinates
	Strip bool   // no side piece there: the rubber is stripped
	Draw  r3.Vec // the way its side piece leaves; nil for the proposal's
}

// Undercut is one locked space and what becomes of it.
type Undercut struct {
	At      r3.Vec  // its middle, mesh coordinates
	Volume  float64 // mm³
	Verdict strip.Verdict
	Answer  strip.Answer // what is done about it here
	By      string       // the piece that holds it
	Decided bool         // by the caster
}

// Opens reports whether the rubber lets go of it: it strips, or pieces that
// leave fill it.
func (u Undercut) Opens() bool {
	return u.Answer == strip.Strips || u.Answer == strip.SidePiece || u.Answer == strip.Split
}

// Sided reports whether a side piece fills it.
func (u Undercut) Sided() bool { return u.Answer == strip.SidePiece }

// Opens reports whether the mould opens: every undercut strips or is filled
// by pieces that leave, and no piece catches.
func (p Plan) Opens() bool {
	return !slices.ContainsFunc(p.Locked, func(u Undercut) bool { return !u.Opens() })
}

// DefaultCells is the resolution when none is asked for.
const DefaultCells = 120

// Piece is one piece of rubber.
type Piece struct {
	Name     string
	Draw     r3.Vec     // mesh coordinates
	Order    int        // of opening, from 1
	Mesh     *mesh.Mesh // closed, mesh coordinates
	Volume   float64    // mm³, of Mesh
	Catches  float64    // mm³ of it that meets the part or a piece still in place when it is drawn, but for what is stripped
	Stripped float64    // mm³ of it that is undercut and has to stretch over the part
	Like     string     // the piece that this one is, turned: both are poured from one little box; empty for none
}

// Plan is the mould in pieces.
type Plan struct {
	Box     r3.Box // in the frame of the draw
	Frame   grid.Frame
	Volume  float64 // of the box, mm³
	Part    float64 // mm³
	Bored   float64 // mm³ of channels that the pieces are without
	Pieces  []Piece // in the order of opening
	Level   float64 // height of the parting along the draw where it is level, mm
	Off     float64 // greatest distance of the parting line from that, mm
	Steep   float64 // greatest slope of the parting outside the part, degrees
	Line    float64 // length of the parting line, mm
	Cell    float64 // of the lattice, mm
	Round   float64 // diameter of a round box, mm; 0 for another
	Missed  float64 // share of the part in walls thinner than the lattice sees
	Holes   bool    // the part has holes through it, whose plugs end at the parting
	Open    float64 // share of the parting line that crosses walls instead of following edges
	Keys    key.Placed
	Locked  []Undercut // all of any size, the largest first
	sheet   *sheet
	Missing []r3.Vec // places that the line was to be led through and cannot reach, mesh coordinates
	Left    []r3.Vec // middles of undercuts that no side piece frees, mesh coordinates
}

// What a lattice may miss of a part, and how it is made finer until it does
// not, as far as memory goes.
const (
	mayMiss = 0.003 // share of the part from which a finer lattice is tried
	refused = 0.01  // from which the pieces are not handed out
	finerBy = 1.5
	finest  = 300.0 // cells along the longest side
)

// Handed refuses pieces that are not true to the part, in words.
func (p Plan) Handed() error {
	if p.Missed <= refused {
		return nil
	}
	return fmt.Errorf("the part has walls thinner than the %.2g mm that pieces are shaped to: %.0f %% of it would be missing from them. "+
		"Thicken the walls on the master, or mould it by hand without printed pieces", p.Cell, 100*p.Missed)
}

// ErrPlan says that there is nothing to part.
var ErrPlan = errors.New("the mesh encloses no volume, so there is nothing to part")

// owners on the lattice; side piece n is sideFirst + n.
const (
	outside   int16 = -1
	part      int16 = 0
	upper     int16 = 1
	lower     int16 = 2
	sideFirst int16 = 3
)

// Make divides the rubber. Told is called with the name of every stage.
func Make(ctx context.Context, m *mesh.Mesh, c Choices, told func(stage string)) (Plan, error) {
	if told == nil {
		told = func(string) {}
	}
	frame, err := grid.NewFrame(c.Draw)
	if err != nil {
		return Plan{}, fmt.Errorf("draw: %w", err)
	}
	volume := c.Part
	if volume == 0 {
		volume = math.Abs(m.Volume())
	}
	if !(volume > 0) {
		return Plan{}, ErrPlan
	}
	told("laying the part on a lattice")
	at := make([]r3.Vec, len(m.Vertices))
	low, high := r3.Vec{X: math.Inf(1), Y: math.Inf(1), Z: math.Inf(1)}, r3.Vec{X: math.Inf(-1), Y: math.Inf(-1), Z: math.Inf(-1)}
	for i, p := range m.Vertices {
		q := frame.In(p)
		at[i] = q
		low = r3.Vec{X: min(low.X, q.X), Y: min(low.Y, q.Y), Z: min(low.Z, q.Z)}
		high = r3.Vec{X: max(high.X, q.X), Y: max(high.Y, q.Y), Z: max(high.Z, q.Z)}
	}
	var locked draw.Analysis
	repeats := fold{order: 1}
	if _, err := roomOf(c, low, high); err != nil {
		return Plan{}, err
	}
	if !c.Whole {
		told("looking for what is locked")
		if locked, err = draw.Analyse(ctx, m, c.Draw, draw.Options{}); err != nil {
			return Plan{}, err
		}
		if repeats = foldOf(m, frame, locked, c); repeats.order >= roundFrom && c.Room == nil {
			c.Room = repeats.roundRoom(c.Clearance, at, low, high)
		}
	}
	room, err := roomOf(c, low, high)
	if err != nil {
		return Plan{}, err
	}
	box := room.Box
	if c.Parting != nil && (*c.Parting <= box.Min.Z || *c.Parting >= box.Max.Z || math.IsNaN(*c.Parting)) {
		return Plan{}, fmt.Errorf(
			"the parting at %.4g mm lies outside the box, which reaches from %.4g to %.4g mm along the draw",
			*c.Parting,
			box.Min.Z,
			box.Max.Z,
		)
	}
	level := box.Min.Z // of a block that is never parted
	switch {
	case c.Whole:
	case c.Parting != nil:
		level = *c.Parting
	default:
		seen, err := Look(m, c.Draw)
		if err != nil {
			return Plan{}, err
		}
		level = seen.Rest(c.Seam, box.Min.Z, box.Max.Z, room.Volume/(box.Max.Z-box.Min.Z)).Height
	}
	cells := c.Cells
	if cells == 0 {
		cells = DefaultCells
	}
	b, err := lay(ctx, m, at, box, float64(cells))
	if err != nil {
		return Plan{}, err
	}
	missed := b.missed()
	for finer := float64(cells) * finerBy; missed > mayMiss && c.Cells == 0 && finer <= finest; finer *= finerBy {
		told("walls are thin: laying a finer lattice")
		if b, err = lay(ctx, m, at, box, finer); err != nil {
			return Plan{}, err
		}
		missed = b.missed()
	}
	b.within(room)
	plan := Plan{Box: box, Frame: frame, Volume: room.Volume, Part: volume, Cell: b.Cell, Missed: missed}
	if c.Whole {
		told("shaping the block")
		return b.undivided(plan, level, c.Bores), ctx.Err()
	}
	told("stretching the parting through the outline")
	pulls := slices.Clone(c.Line)
	for i, p := range pulls {
		pulls[i].At = frame.In(p.At)
	}
	s := stretch(b, level, c.Seam, c.Holes, pulls)
	plan = Plan{
		Box:    box,
		Frame:  frame,
		Volume: room.Volume,
		Part:   volume,
		Level:  s.Level,
		Off:    s.Off,
		Steep:  math.Atan(s.Steep) * 180 / math.Pi,
		Line:   s.Line,
		Cell:   b.Cell,
		Missed: missed,
	}
	for _, i := range s.missing {
		plan.Missing = append(plan.Missing, c.Line[i].At)
	}
	if err := ctx.Err(); err != nil {
		return plan, err
	}
	d := &division{block: b, sheet: s}
	plan.Open, plan.Holes = s.Open, s.Holes
	told("looking for side pieces")
	w, err := wanting(locked, b, s, frame, c)
	if err != nil {
		return plan, err
	}
	if !c.HalvesOnly {
		same, left := b.orbits(w, repeats)
		d.sides = append(append(same, w.forced...), b.sides(left, w.hints)...)
	}
	if err := ctx.Err(); err != nil {
		return plan, err
	}
	told("placing keys")
	if plan.Keys, err = key.Place(d.room(c.Spots), c.Keys); err != nil {
		return plan, err
	}
	s.keys, plan.sheet = plan.Keys.Keys, s
	for _, sp := range w.whose {
		d.keep(sp)
	}
	d.divide()
	for range 6 {
		if !d.gather() { // a crumb may have touched another
			break
		}
	}
	plan.Bored = d.bore(c.Bores, frame)
	d.unlike(max(1, repeats.order))
	if err := ctx.Err(); err != nil {
		return plan, err
	}
	type turn struct {
		who  int16
		name string
		dir  r3.Vec
	}
	turns := []turn{}
	for n := range d.sides {
		turns = append(turns, turn{sideFirst + int16(n), fmt.Sprintf("Side %d", n+1), d.sides[n].dir})
	}
	turns = append(turns, turn{upper, "Half A", r3.Vec{Z: 1}}, turn{lower, "Half B", r3.Vec{Z: -1}})
	plan.Pieces = make([]Piece, len(turns))
	boxFolds := b.folds(repeats)
	copied := func(i int) bool { return boxFolds && i < len(d.sides) && d.sides[i].like > 0 }
	told("shaping the pieces")
	if err := parallel.Each(ctx, len(turns), runtime.GOMAXPROCS(0), func(i int) error {
		if copied(i) {
			plan.Pieces[i] = d.copy(turns[i].who, turns[i].name, turns[i].dir, frame, i+1)
		} else {
			plan.Pieces[i] = d.piece(turns[i].who, turns[i].name, turns[i].dir, frame, i+1)
		}
		return nil
	}, func(_, to int) { told(fmt.Sprintf("%d of %d pieces are shaped", to, len(turns))) }); err != nil {
		plan.Pieces = nil
		return plan, err
	}
	for i := range plan.Pieces { // one shape, so many times
		if !copied(i) {
			continue
		}
		s := &d.sides[i]
		q, of := &plan.Pieces[i], plan.Pieces[s.like-1]
		q.Mesh = &mesh.Mesh{Vertices: make([]r3.Vec, len(of.Mesh.Vertices)), Triangles: of.Mesh.Triangles}
		for k, p := range of.Mesh.Vertices {
			q.Mesh.Vertices[k] = frame.Out(repeats.turned(frame.In(p), s.steps))
		}
		q.Volume, q.Like = of.Volume, of.Name
	}
	if boxFolds && len(b.walls) == roundSides {
		plan.Round = 2 * b.exit(repeats.centre, b.walls[0].Out)
	}
	plan.Locked = w.all
	for i, sp := range w.whose {
		d.settle(&plan, &plan.Locked[i], sp)
	}
	return plan, ctx.Err()
}

// undivided is the block as it was poured, in one piece.
func (b *block) undivided(plan Plan, floor float64, bores []Bore) Plan {
	s := &sheet{block: b, height: make([]float64, b.NX*b.NY), Level: floor}
	for i := range s.height {
		s.height[i] = floor - b.Cell
	}
	d := &division{block: b, sheet: s}
	d.divide()
	for range 6 {
		if !d.gather() {
			break
		}
	}
	plan.Bored = d.bore(bores, plan.Frame)
	plan.Level, plan.sheet = floor, s
	plan.Pieces = []Piece{d.piece(upper, "Block", r3.Vec{Z: 1}, plan.Frame, 1)}
	return plan
}

// wants is what the locked spaces call for.
type wants struct {
	spaces []space  // that the rubber cannot be stripped out of
	hints  []r3.Vec // ways out that the draw analysis found
	forced []side   // pieces that the caster asked for
	all    []Undercut
	whose  []space // of all
}

// least is how many lattice points make an undercut worth a word.
const least = 8

// wanting judges every locked space by the rubber, unless the caster has said.
func wanting(a draw.Analysis, b *block, sheet *sheet, frame grid.Frame, c Choices) (wants, error) {
	var out wants
	locked := b.lockedBy(a)
	said := make(map[int]Told)
	for _, t := range c.Sides {
		best, far := -1, math.Inf(1)
		for i, known := range a.Spaces {
			if d := r3.Norm(r3.Sub(t.At, known.Centre)); d < far && len(locked[i].points) >= least {
				best, far = i, d
			}
		}
		if best >= 0 {
			said[best] = t
		}
	}
	for i, known := range a.Spaces {
		sp := locked[i]
		if len(sp.points) < least {
			continue
		}
		v := strip.Judge(a, known, sheet.held, c.Rubber, c.Wanted)
		other, both := strip.In(1-v.Half, a, known, sheet.held, c.Rubber, c.Wanted)
		if !both || v.Answer != strip.Strips || other.Answer != strip.Strips { // where both let go, the sheet may cut it anywhere
			sp.whole(v.Half)
		}
		split := v.Answer == strip.Split && sp.shared(known, frame, sheet)
		t, decided := said[i]
		out.all = append(out.all, Undercut{At: known.Centre, Volume: known.Volume, Verdict: v, Answer: v.Answer, Decided: decided})
		out.whose = append(out.whose, sp)
		switch {
		case decided && t.Strip:
			continue
		case decided && t.Draw != (r3.Vec{}):
			dir, ok := grid.Unit(frame.In(t.Draw))
			if !ok {
				return out, errors.New("the draw of a side piece needs three finite numbers that are not all zero")
			}
			solid := b.eroded(func(p int) bool { return b.part[p] })
			free := slices.DeleteFunc(slices.Clone(sp.points), func(p int) bool { return !b.leaves(b.point(p), dir, solid) })
			if float64(len(free)) < leastFreed*float64(len(sp.points)) {
				return out, fmt.Errorf(
					"a side piece drawn that way cannot leave: the part is in the way of %.0f %% of that undercut; "+
						"turn its draw, or let the proposal find one",
					100*(1-float64(len(free))/float64(len(sp.points))),
				)
			}
			out.forced = append(out.forced, b.shape(free, dir, nil))
			continue
		case !decided && (v.Answer == strip.Strips || split || v.Answer == strip.Plug && known.Volume <= strip.Small):
			continue
		}
		out.spaces = append(out.spaces, sp)
		for _, hint := range []r3.Vec{known.Out, known.Side} {
			if hint = frame.In(hint); math.Abs(hint.Z) < 0.9 && r3.Norm(hint) > 0.5 {
				hint.Z = 0
				out.hints = append(out.hints, r3.Unit(hint))
			}
		}
		// straight out from the middle of the part as well
		middle := r3.Scale(0.5, r3.Add(b.box.Min, b.box.Max))
		radial := r3.Sub(sp.centre, middle)
		radial.Z = 0
		if r3.Norm(radial) > b.Cell {
			out.hints = append(out.hints, r3.Unit(radial))
		}
	}
	return out, nil
}

// held tells which half's rubber a mouth opens to, now that the parting is laid.
func (s *sheet) held(m draw.Mouth) (upper, lower bool) {
	over, under := m.Above, m.Below
	beside := m.Area - over - under
	var high, low float64
	for _, r := range m.Beside {
		z := s.at(r3.Vec{X: r.X, Y: r.Y})
		high += max(0, r.Hi-max(r.Lo, z))
		low += max(0, min(r.Hi, z)-r.Lo)
	}
	if high+low > 0 {
		over += beside * high / (high + low)
		under += beside * low / (high + low)
	}
	const some = 0.02 // of a mouth
	return over > some*m.Area, under > some*m.Area
}

// settle says what becomes of an undercut in the finished division.
func (d *division) settle(plan *Plan, u *Undercut, sp space) {
	u.By = u.Verdict.Half.String()
	by, share := d.filled(sp)
	if u.Answer == strip.Strips && share == 0 {
		return
	}
	if u.Answer == strip.Split && sp.split {
		u.By = strip.Upper.String() + " and " + strip.Lower.String()
		return
	}
	if share >= mostlyFreed && !d.threadedStill(sp) {
		u.By = plan.Pieces[by-sideFirst].Name
		if plan.Pieces[by-sideFirst].Catches <= catchesLess*plan.Pieces[by-sideFirst].Volume {
			u.Answer = strip.SidePiece
			return
		}
	}
	if share > 0 && share < mostlyFreed {
		plan.Left = append(plan.Left, u.At)
	}
	if u.Answer == strip.SidePiece || u.Answer == strip.Split { // none was made that leaves
		u.Answer = strip.Plug
		if u.Verdict.Mode == strip.Threaded {
			u.Answer = strip.Slit
		}
	}
}

// catchesLess is the share of a side piece that may meet something as it
// leaves: the lattice's own roughness.
const catchesLess = 0.01

// leastFreed is the share of an undercut that a side piece of the caster's
// own must free to be of use.
const leastFreed = 0.3

// Sheet is the height of the parting along the draw over a place across it,
// both in the frame, keys included.
func (p Plan) Sheet(x, y float64) float64 { return p.sheet.at(r3.Vec{X: x, Y: y}) }

// Depth is how far the part lies behind a place on the wall, straight along a
// direction across the draw, on the parting: where a blade finds it. It is
// infinite where it goes by the part.
func (p Plan) Depth(x, y, dx, dy float64) float64 {
	b := p.sheet.block
	step := b.Cell / 2
	for n := 0.0; ; n += step {
		at := r3.Vec{X: x + n*dx, Y: y + n*dy}
		at.Z = max(b.box.Min.Z, min(b.box.Max.Z, p.sheet.at(at)))
		if n > step && b.beyond(at) > 1e-9 {
			return math.Inf(1)
		}
		if q := b.near(at); q >= 0 && b.part[q] {
			return n
		}
	}
}

// Shadow is the part's outline seen along the draw, holes included, in the
// frame, to a thirtieth of a cell.
func (p Plan) Shadow() (rings [][]plane.Point) {
	b := p.sheet.block
	mask := make([]bool, b.NX*b.NY)
	for c := range mask {
		mask[c] = len(b.lines[2][c]) > 0
	}
	var hits []grid.Crossing
	covered := func(x, y float64) bool {
		hits = b.cols.Crossings(b.Low.X+x*b.Cell, b.Low.Y+y*b.Cell, hits[:0])
		return len(hits) > 0
	}
	for _, ring := range plane.Outlines(mask, b.NX, b.NY, covered) {
		for i, q := range ring {
			ring[i] = plane.Point{b.Low.X + q[0]*b.Cell, b.Low.Y + q[1]*b.Cell}
		}
		if ring = plane.Simplified(ring, b.Cell/30); len(ring) > 2 {
			rings = append(rings, ring)
		}
	}
	return rings
}

// Ceiling is the room between the part's upper side and the plane through its
// highest point, over all that is seen along the draw, in mm³: the liquid that
// would stand over the upper half's ceiling if it were level with the highest.
func (p Plan) Ceiling() (volume float64) {
	b := p.sheet.block
	top := math.Inf(-1)
	for _, line := range b.lines[2] {
		if n := len(line); n > 0 {
			top = max(top, line[n-1].at)
		}
	}
	for _, line := range b.lines[2] {
		if n := len(line); n > 0 {
			volume += (top - line[n-1].at) * b.Cell * b.Cell
		}
	}
	return volume
}

// Error is the share of the part by which pieces, part and channels do not fill
// the box.
func (p Plan) Error() float64 {
	sum := p.Part + p.Bored
	for _, q := range p.Pieces {
		sum += q.Volume
	}
	return math.Abs(sum-p.Volume) / p.Part
}
