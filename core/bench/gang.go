package bench

import (
	"context"
	"errors"
	"fmt"
	"math"

	"bathyform/core/box"
	"bathyform/core/channel"
	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/gang"
	"bathyform/core/gate"
	"bathyform/core/grid"
	"bathyform/core/kinds"
	"bathyform/core/mesh"
	"bathyform/core/mould"
	"bathyform/core/plane"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/shot"
)

// Gang is a layout with what it costs.
type Gang struct {
	gang.Layout
	Shape  gang.Shape
	In     mould.InPlan
	Rubber derive.Number // mL, of the whole mould
	Each   derive.Number // mL, for each cavity
	Short  bool          // fewer than were asked for
}

// laid is a layout, and whether it has fewer cavities than were asked for.
type laid struct {
	gang.Layout
	short bool
}

// GangCase is one number of cavities in the comparison.
type GangCase struct {
	Count      int
	Kind       string
	Wide, Deep float64 // mm
	Each       float64 // mL of rubber for each cavity
	Waste      float64 // mL of resin in channels and margin for each casting
	Pulls      int     // that the rest of the order takes
	FitsPot    bool
	Loads      int           // of the pot, for the rest of the order; 0 where it does not fit
	Pour       derive.Number // min from mixing to the last cavity filled
	InLife     bool          // Pour keeps within the resin's pot life
	Work       derive.Number // h of hands for the rest of the order
}

// mostCompared is how many cavities the comparison goes up to.
const mostCompared = 12

// Minutes at the bench; common practice, no source, from memory.
const (
	fillCavity = 0.5 // each cavity, at the least
	closeMould = 2.0 // close, clamp, release
	demoulding = 1.5 // each casting
)

// upright tells whether the parting stands upright when the resin is poured,
// and then whether cavities side by side lie along y of the draw's frame.
func upright(d design.Design, frame grid.Frame) (stands, alongY bool) {
	if d.ResinUp.Along(d.Draw) {
		return false, false
	}
	return true, math.Abs(frame.In(d.ResinUp.Dir()).X) > 0.5
}

// room is the box that a gang is laid into, for one kind.
type room struct {
	shape  gang.Shape
	frame  grid.Frame
	stands bool
	alongY bool
	thick  float64 // mm of the mould along the draw
	most   int     // rows over one another
	rung   float64 // mm between rows, for the runner of the upper one, or for one in a level parting
	level  bool    // runners lie in a level parting
	pass   float64 // mm between cavities side by side, for the vents of those below
}

func (m *Master) room(ctx context.Context, q Question) (room, error) {
	one := q
	one.Design = q.Design.Single()
	p, err := m.Lay(ctx, one)
	if err != nil {
		return room{}, err
	}
	r := room{shape: p.Cavities.Shape, frame: p.Frame()}
	r.stands, r.alongY = upright(p.Design, r.frame)
	low, high := q.Design.Draw.Span(p.Box.Bounds)
	r.thick, r.most = high-low, mostRows
	c := m.choices(q)
	r.rung, r.pass = c.Rung(m.Part.Volume()), c.Pass(q.Design.VentBore)
	r.level = !r.stands && p.Parted() && m.Known() && p.Kind.Resin == kinds.Sprued && q.Design.Feed == practice.FeedLow
	if c.System != channel.Each {
		return r, nil
	}
	r.level, r.most = false, 1 // the well of a lower row would stand under the upper one
	into, err := m.into(ctx, one, p)
	if err != nil {
		return room{}, err
	}
	fed, err := m.led(ctx, into, p, c)
	if err != nil {
		return room{}, err
	}
	var beside [][]plane.Point // a neighbour keeps off the sprue as it does off the part
	for _, b := range fed.Takes() {
		var corners []plane.Point
		for _, v := range mesh.Block(b).Vertices {
			at := r.frame.In(v)
			corners = append(corners, plane.Point{at.X - r.shape.At[0], at.Y - r.shape.At[1]})
		}
		beside = append(beside, plane.Hull(corners))
	}
	r.shape = r.shape.With(beside)
	return r, nil
}

// Gang lays cavities in the plane across the draw. Where the parting stands
// upright for the resin they stand in rows, each the same way up.
func (m *Master) Gang(ctx context.Context, q Question, a gang.Ask) (Gang, error) {
	r, err := m.room(ctx, q)
	if err != nil {
		return Gang{}, err
	}
	if !r.stands {
		if r.level && a.Count != 1 && a.Count != 2 { // those two are reached from outside
			a.Gap = max(a.Gap, r.rung)
		}
		l, err := m.laid.Get(ctx, encoded(q.Design.Single(), q.Kind, q.Brief.Kind, q.House, a), func(context.Context) (laid, error) {
			l, err := gang.Lay(r.shape, a)
			if errors.Is(err, gang.ErrFewer) {
				return laid{l, true}, nil
			}
			return laid{l, false}, err
		})
		if err != nil {
			return Gang{}, err
		}
		return m.costed(ctx, q, r, l.Layout, a.Edge, l.short)
	}
	if err := a.Check(); err != nil {
		return Gang{}, err
	}
	most := a.Count
	if most == 0 {
		most = mostRow
	}
	if a.Pot == 0 && a.Count == 0 {
		return Gang{}, errors.New("say how many cavities, or how much room there is")
	}
	pot := q.House
	pot.PotWide = a.Pot
	for n := most; n >= 1; n-- {
		l, ok, err := r.block(n, a.Gap, a.Edge, func(l gang.Layout) bool {
			low := q.House.PotTall == 0 || r.tall(l) <= q.House.PotTall
			if a.Pot == 0 || !low || math.Hypot(rowLong(l, r.alongY), r.thick) > a.Pot {
				return a.Pot == 0
			}
			p, err := m.Lay(ctx, q.with(l, a.Edge)) // with the sprue, and what it wants beside it
			return err == nil && Study{Plan: p}.FitsPot(pot)
		})
		if err != nil {
			return Gang{}, err
		}
		if ok {
			return m.costed(ctx, q, r, l, a.Edge, n < a.Count)
		}
	}
	return Gang{}, gang.ErrNoRoom
}

// mostRows is how many rows are looked for over one another.
const mostRows = 8

// block stands so many cavities upright in the rows that take the least
// rubber of those that fit, and are not much longer one way than the other; not
// ok where none do.
func (r room) block(n int, gap, edge float64, fits func(gang.Layout) bool) (best gang.Layout, ok bool, err error) {
	for rows := 1; rows <= min(n, r.most); rows++ {
		beside := gap
		if rows > 1 {
			beside = max(gap, r.pass)
		}
		l, err := gang.Upright(r.shape, n, rows, beside, r.rung, edge, r.alongY)
		if err != nil {
			return best, false, err
		}
		if fits(l) && (!ok || gate.Unwieldy(l.Wide, l.Deep) < gate.Unwieldy(best.Wide, best.Deep)*(1-1e-9)) {
			best, ok = l, true
		}
	}
	return best, ok, nil
}

// tall is how high a block of cavities stands.
func (r room) tall(l gang.Layout) float64 { return l.Wide + l.Deep - rowLong(l, r.alongY) }

// mostRow is the longest row that is looked for.
const mostRow = 40

func rowLong(l gang.Layout, alongY bool) float64 {
	if alongY {
		return l.Deep
	}
	return l.Wide
}

// Place measures cavities that were moved by hand; with a [gang.OverlapError]
// comes the layout that has it.
func (m *Master) Place(ctx context.Context, q Question, poses []gang.Pose, gap, edge float64) (Gang, error) {
	r, err := m.room(ctx, q)
	if err != nil {
		return Gang{}, err
	}
	l, overlap := gang.Place(r.shape, poses, gap, edge)
	if over := (gang.OverlapError{}); overlap != nil && !errors.As(overlap, &over) {
		return Gang{}, overlap
	}
	out, err := m.costed(ctx, q, r, l, edge, false)
	if err != nil {
		return out, err
	}
	return out, overlap
}

// with is the question about a gang that is laid so far from the wall.
func (q Question) with(l gang.Layout, edge float64) Question {
	q.Design.Gang = nil
	for _, p := range l.Poses {
		q.Design.Gang = append(q.Design.Gang, design.Pose{p.X, p.Y, p.Turn})
	}
	q.Design.Clearance.Beside = edge
	switch round := q.Design.Box.Form == string(box.Round); {
	case l.Diameter > 0:
		q.Design.Box = design.Box{Form: string(box.Round)}
	case round && len(l.Poses) > 1: // a round box is one part's, or one that was asked for
		q.Design.Box = design.Box{}
	}
	return q
}

// FitsPot is whether the mould stands in the shop's pressure pot as the resin
// sets; a shop without one has room for any.
func (s Study) FitsPot(h practice.House) bool {
	across, tall := s.Plan.Box.Footprint(s.Plan.Design.ResinUp)
	return h.PotWide <= 0 || across <= h.PotWide && (h.PotTall <= 0 || tall <= h.PotTall)
}

// inPot is how many of the mould stand in the shop's pot at once.
func (s Study) inPot(h practice.House) int {
	if h.PotWide <= 0 {
		return 0
	}
	across, tall := s.Plan.Box.Footprint(s.Plan.Design.ResinUp)
	return gang.Potful(h.PotWide, h.PotTall, across, tall)
}

// pour is how long it takes from mixing until the last cavity is full, min.
func (s Study) pour() derive.Number {
	n := derive.From("cavities", quantity.Number, float64(len(s.Plan.Cavities.Poses)), "the layout")
	each := derive.From("each cavity", quantity.Number, fillCavity, finding.CommonPractice)
	mixing := derive.From("mixing", quantity.Number, shot.Mixing, finding.CommonPractice)
	byHand := derive.Of(quantity.Number, shot.Mixing+each.Value*n.Value, "mixing + each cavity × cavities, minutes", mixing, each, n)
	if s.Run != nil && s.Run.Full != nil && s.Run.Full.Value > byHand.Value {
		return *s.Run.Full
	}
	return byHand
}

// costed plans the mould that a layout would be, and reads its rubber there.
func (m *Master) costed(ctx context.Context, q Question, r room, l gang.Layout, edge float64, short bool) (Gang, error) {
	out := Gang{Layout: l, Shape: r.shape, Short: short}
	p, err := m.Lay(ctx, q.with(l, edge))
	if err != nil {
		return out, err
	}
	out.Rubber, out.Wide, out.Deep, out.In = p.Rubber, p.Box.Wide, p.Box.Deep, p.InPlan()
	n := derive.From("cavities", quantity.Number, float64(len(l.Poses)), "the layout")
	out.Each = derive.Of(quantity.Volume, out.Rubber.Value/n.Value, "rubber / cavities", out.Rubber.As("rubber"), n)
	return out, nil
}

// CompareGangs lays 1, 2, 3 … cavities into the smallest boxes.
func (m *Master) CompareGangs(ctx context.Context, q Question, gap, edge float64) ([]GangCase, error) {
	r, err := m.room(ctx, q)
	if err != nil {
		return nil, err
	}
	most := min(mostCompared, q.wanted())
	var all []gang.Layout
	if r.stands {
		for n := 1; n <= most; n++ {
			l, _, err := r.block(n, gap, edge, func(gang.Layout) bool { return true })
			if err != nil {
				return nil, err
			}
			all = append(all, l)
		}
	} else {
		all = sure(&m.smallest, encoded(q.Design.Single(), q.Kind, q.Brief.Kind, q.House, gap, edge, most), func() []gang.Layout {
			return gang.Smallest(r.shape, gang.Ask{Gap: gap, Edge: edge}, most)
		})
	}
	var out []GangCase
	for _, l := range all {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		n := len(l.Poses)
		laid, err := m.costed(ctx, q, r, l, edge, false)
		if err != nil {
			return nil, err
		}
		s, err := m.poured(ctx, q.with(l, edge))
		if err != nil {
			return nil, err
		}
		g := GangCase{
			Count:   n,
			Kind:    l.Kind,
			Wide:    laid.Wide,
			Deep:    laid.Deep,
			Each:    laid.Each.Value,
			Waste:   (s.Shot.Channels.Value + s.Shot.Margin.Value) / float64(n),
			Pulls:   (q.wanted() + n - 1) / n,
			FitsPot: s.FitsPot(q.House),
			Pour:    s.pour(),
		}
		if g.FitsPot {
			g.Loads = g.Pulls
		}
		g.InLife = true
		if q.Resin != nil && q.Resin.Traits.PotLife > 0 {
			life := q.Resin.Traits.In(q.House.Celsius).PotLife
			g.InLife = g.Pour.Value <= life
			g.Pour.Note = fmt.Sprintf("%s has a pot life of %.2g min in this shop.", q.Resin.Name, life)
		}
		g.Work = derive.Of(
			quantity.Time,
			float64(g.Pulls)*(g.Pour.Value+closeMould+demoulding*float64(n))/60,
			"pulls × (pouring + closing + demoulding × cavities) / 60",
			derive.From(
				"pulls",
				quantity.Number,
				float64(g.Pulls),
				"the rest of the order",
			),
			g.Pour.As("pouring (min)"),
			derive.From("closing (min)", quantity.Number, closeMould, finding.CommonPractice),
			derive.From(
				"demoulding (min)",
				quantity.Number,
				demoulding,
				finding.CommonPractice,
			),
			derive.From("cavities", quantity.Number, float64(n), "the layout"),
		)
		out = append(out, g)
	}
	return out, nil
}
