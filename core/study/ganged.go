package study

import (
	"errors"
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/gang"
	"bathyform/core/grid"
	"bathyform/core/mesh"
	"bathyform/core/mix"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Gang is a layout with what it costs.
type Gang struct {
	gang.Layout
	Shape  gang.Shape
	Rubber derive.Number // mL, of the whole mould
	Each   derive.Number // mL, for each cavity
	Short  bool          // fewer than were asked for
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
	mixShot    = 1.5 // a shot
	fillCavity = 0.5 // each cavity
	closeMould = 2.0 // close, clamp, release
	demoulding = 1.5 // each casting
)

// upright tells whether the parting stands upright when the resin is poured,
// and then whether cavities side by side lie along y of the draw's frame.
func upright(d Design) (stands, alongY bool, err error) {
	if d.Mould.Attitudes.Resin.Along(d.Mould.Draw) {
		return false, false, nil
	}
	up, err := d.Mould.Attitudes.Resin.Dir()
	if err != nil {
		return false, false, err
	}
	frame, err := d.frame()
	if err != nil {
		return false, false, err
	}
	return true, math.Abs(frame.In(up).X) > 0.5, nil
}

// frame is that of the draw: what is laid in plan lies across it.
func (d Design) frame() (grid.Frame, error) {
	dir, err := d.Mould.Draw.Dir()
	if err != nil {
		return grid.Frame{}, err
	}
	return grid.NewFrame(dir)
}

// seen is the part along the draw.
func (p *Prepared) seen(d Design) (gang.Shape, error) {
	if p.Master.Mesh == nil {
		return gang.Shape{}, ErrNoShape
	}
	dir, err := d.Mould.Draw.Dir()
	if err != nil {
		return gang.Shape{}, err
	}
	f := &p.finer
	f.mu.Lock()
	defer f.mu.Unlock()
	if s, ok := f.shapes[d.Mould.Draw]; ok {
		return s, nil
	}
	s, err := gang.Seen(p.Master.Mesh, dir)
	if err == nil {
		if f.shapes == nil {
			f.shapes = make(map[part.Axis]gang.Shape)
		}
		f.shapes[d.Mould.Draw] = s
	}
	return s, err
}

// Lay lays cavities in the plane across the draw. Where the parting stands
// upright for the resin they stand in one row, each the same way up.
func (p *Prepared) Lay(d Design, a gang.Ask) (Gang, error) {
	shape, err := p.seen(d)
	if err != nil {
		return Gang{}, err
	}
	stands, alongY, err := upright(d)
	if err != nil {
		return Gang{}, err
	}
	if !stands {
		l, err := gang.Lay(shape, a)
		if err != nil && !errors.Is(err, gang.ErrFewer) {
			return Gang{}, err
		}
		return p.costed(d, shape, l, err != nil), nil
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
	thick := shape.Height + d.Mould.Clearance.Below + d.Mould.Clearance.Above
	for n := most; n >= 1; n-- {
		l, err := gang.Row(shape, n, a.Gap, a.Edge, alongY)
		if err != nil {
			return Gang{}, err
		}
		if a.Pot == 0 || math.Hypot(rowLong(l, alongY), thick) <= a.Pot {
			return p.costed(d, shape, l, n < a.Count), nil
		}
	}
	return Gang{}, gang.ErrNoRoom
}

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
func (p *Prepared) Place(d Design, poses []gang.Pose, gap, edge float64) (Gang, error) {
	shape, err := p.seen(d)
	if err != nil {
		return Gang{}, err
	}
	l, err := gang.Place(shape, poses, gap, edge)
	if over := (gang.OverlapError{}); err != nil && !errors.As(err, &over) {
		return Gang{}, err
	}
	return p.costed(d, shape, l, false), err
}

// costed says what a layout takes in rubber.
func (p *Prepared) costed(d Design, shape gang.Shape, l gang.Layout, short bool) Gang {
	out := Gang{Layout: l, Shape: shape, Short: short}
	n := float64(len(l.Poses))
	c := d.Mould.Clearance
	height := shape.Height + c.Below + c.Above
	plan := derive.From("box seen along the draw", quantity.Area, l.Wide*l.Deep/100, "length × width of the layout with its edges")
	if l.Diameter > 0 {
		plan = derive.From("round box seen along the draw", quantity.Area, math.Pi/4*l.Diameter*l.Diameter/100, "the circle round the layout with its edges")
	}
	out.Rubber = derive.Of(quantity.Volume, l.Rubber(height, p.Master.Volume())/1000, "seen along the draw × height − cavities × part", plan,
		derive.From("height", quantity.Length, height, "the part along the draw with the clearances below and above"),
		derive.From("cavities", quantity.Number, n, "the layout"), derive.From("part", quantity.Volume, p.Master.Volume()/1000, p.Master.VolumeSource()))
	out.Each = derive.Of(quantity.Volume, out.Rubber.Value/n, "rubber / cavities", out.Rubber.As("rubber"), derive.From("cavities", quantity.Number, n, "the layout"))
	return out
}

// CompareGangs lays 1, 2, 3 … cavities into the smallest boxes.
func (p *Prepared) CompareGangs(d Design, gap, edge float64, wanted int, resin *mix.Material, h practice.House) ([]GangCase, error) {
	shape, err := p.seen(d)
	if err != nil {
		return nil, err
	}
	stands, alongY, err := upright(d)
	if err != nil {
		return nil, err
	}
	most := min(mostCompared, max(1, wanted))
	var all []gang.Layout
	if stands {
		for n := 1; n <= most; n++ {
			l, err := gang.Row(shape, n, gap, edge, alongY)
			if err != nil {
				return nil, err
			}
			all = append(all, l)
		}
	} else {
		all = gang.Smallest(shape, gang.Ask{Gap: gap, Edge: edge}, most)
	}
	one := d
	one.Gang = nil
	study, err := p.Work(one, Given{}, h)
	if err != nil {
		return nil, err
	}
	waste := study.Shot.Total.Value - study.Mould.PartVolume.Value
	c := d.Mould.Clearance
	thick := shape.Height + c.Below + c.Above
	var out []GangCase
	for _, l := range all {
		n := len(l.Poses)
		g := GangCase{Count: n, Kind: l.Kind, Wide: l.Wide, Deep: l.Deep, Each: l.Rubber(thick, p.Master.Volume()) / 1000 / float64(n), Waste: waste,
			Pulls: (max(1, wanted) + n - 1) / n}
		across := math.Hypot(l.Wide, l.Deep)
		if stands {
			across = math.Hypot(rowLong(l, alongY), thick)
		}
		if g.FitsPot = h.PotWide <= 0 || across <= h.PotWide; g.FitsPot {
			g.Loads = g.Pulls
		}
		g.Pour = derive.Of(quantity.Number, mixShot+fillCavity*float64(n), "minutes: mixing + each cavity × cavities",
			derive.From("mixing", quantity.Number, mixShot, finding.CommonPractice), derive.From("each cavity", quantity.Number, fillCavity, finding.CommonPractice), derive.From("cavities", quantity.Number, float64(n), "the layout"))
		g.InLife = true
		if resin != nil && resin.Traits.PotLife > 0 {
			g.InLife = g.Pour.Value <= resin.Traits.PotLife
			g.Pour.Note = fmt.Sprintf("%s has a pot life of %g min.", resin.Name, resin.Traits.PotLife)
		}
		g.Work = derive.Of(quantity.Time, float64(g.Pulls)*(g.Pour.Value+closeMould+demoulding*float64(n))/60, "pulls × (pouring + closing + demoulding × cavities)",
			derive.From("pulls", quantity.Number, float64(g.Pulls), "the rest of the order"), g.Pour.As("pouring (min)"), derive.From("closing (min)", quantity.Number, closeMould, finding.CommonPractice),
			derive.From("demoulding (min)", quantity.Number, demoulding, finding.CommonPractice))
		out = append(out, g)
	}
	return out, nil
}

// whole is the mesh of all cavities of a design, each where it lies: the
// master's own where there is one cavity.
func (p *Prepared) whole(d Design, shape gang.Shape) (*mesh.Mesh, error) {
	m := p.Master.Mesh
	if p.Master.Report.VolumeError > 0 {
		m, _ = m.Capped()
	}
	if len(d.Gang) == 0 {
		return m, nil
	}
	frame, err := d.frame()
	if err != nil {
		return nil, err
	}
	all := &mesh.Mesh{}
	for _, pose := range d.Gang {
		copied := &mesh.Mesh{Vertices: make([]r3.Vec, len(m.Vertices)), Triangles: m.Triangles}
		for i, v := range m.Vertices {
			copied.Vertices[i] = placed(v, frame, shape, pose)
		}
		all.Append(copied)
	}
	return all, nil
}

// placed is where a point of the master lies in one of the cavities.
func placed(v r3.Vec, frame grid.Frame, shape gang.Shape, pose gang.Pose) r3.Vec {
	sin, cos := math.Sincos(pose.Turn * math.Pi / 180)
	q := frame.In(v)
	x, y := q.X-shape.At[0], q.Y-shape.At[1]
	return frame.Out(r3.Vec{X: shape.At[0] + pose.X + cos*x - sin*y, Y: shape.At[1] + pose.Y + sin*x + cos*y, Z: q.Z})
}

// Carried is how the master is carried into each cavity of a gang: the rows
// of an affine map of mesh coordinates, three by four. None for one cavity.
func (p *Prepared) Carried(d Design) ([][12]float64, error) {
	if len(d.Gang) == 0 {
		return nil, nil
	}
	shape, err := p.seen(d)
	if err != nil {
		return nil, err
	}
	frame, err := d.frame()
	if err != nil {
		return nil, err
	}
	var out [][12]float64
	for _, pose := range d.Gang {
		at := func(v r3.Vec) r3.Vec { return placed(v, frame, shape, pose) }
		o := at(r3.Vec{})
		x, y, z := r3.Sub(at(r3.Vec{X: 1}), o), r3.Sub(at(r3.Vec{Y: 1}), o), r3.Sub(at(r3.Vec{Z: 1}), o)
		out = append(out, [12]float64{x.X, y.X, z.X, o.X, x.Y, y.Y, z.Y, o.Y, x.Z, y.Z, z.Z, o.Z})
	}
	return out, nil
}
