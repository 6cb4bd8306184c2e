package study

import (
	"errors"
	"math"

	"bathyform/core/derive"
	"bathyform/core/gang"
	"bathyform/core/practice"
	"bathyform/core/quantity"
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
	Pulls      int     // that the rest of the order takes
	FitsPot    bool
}

// mostCompared is how many cavities the comparison goes up to.
const mostCompared = 12

// Lay lays cavities by the design's way up for the resin.
func (p *Prepared) Lay(d Design, a gang.Ask) (Gang, error) {
	shape, err := p.seen(d)
	if err != nil {
		return Gang{}, err
	}
	l, err := gang.Lay(shape, a)
	if err != nil && !errors.Is(err, gang.ErrFewer) {
		return Gang{}, err
	}
	out := Gang{Layout: l, Shape: shape, Short: err != nil}
	n := float64(len(l.Poses))
	c := d.Mould.Clearance
	height := shape.Height + c.Below + c.Above
	plan := derive.From("box seen from above", quantity.Area, l.Wide*l.Deep/100, "length × width of the layout with its edges")
	if l.Diameter > 0 {
		plan = derive.From("round box seen from above", quantity.Area, math.Pi/4*l.Diameter*l.Diameter/100, "the circle round the layout with its edges")
	}
	out.Rubber = derive.Of(quantity.Volume, l.Rubber(height, p.Master.Volume())/1000, "seen from above × height − cavities × part", plan,
		derive.From("height", quantity.Length, height, "the part this way up with the clearances below and above"),
		derive.From("cavities", quantity.Number, n, "the layout"), derive.From("part", quantity.Volume, p.Master.Volume()/1000, p.Master.VolumeSource()))
	out.Each = derive.Of(quantity.Volume, out.Rubber.Value/n, "rubber / cavities", out.Rubber.As("rubber"), derive.From("cavities", quantity.Number, n, "the layout"))
	return out, nil
}

func (p *Prepared) seen(d Design) (gang.Shape, error) {
	if p.Master.Mesh == nil {
		return gang.Shape{}, ErrNoShape
	}
	up, err := d.Mould.Attitudes.Resin.Dir()
	if err != nil {
		return gang.Shape{}, err
	}
	return gang.Seen(p.Master.Mesh, up)
}

// CompareGangs lays 1, 2, 3 … cavities into the smallest boxes.
func (p *Prepared) CompareGangs(d Design, gap, edge float64, wanted int, h practice.House) ([]GangCase, error) {
	shape, err := p.seen(d)
	if err != nil {
		return nil, err
	}
	c := d.Mould.Clearance
	var out []GangCase
	for _, l := range gang.Smallest(shape, gang.Ask{Gap: gap, Edge: edge}, min(mostCompared, max(1, wanted))) {
		n := len(l.Poses)
		out = append(out, GangCase{Count: n, Kind: l.Kind, Wide: l.Wide, Deep: l.Deep, Each: l.Rubber(shape.Height+c.Below+c.Above, p.Master.Volume()) / 1000 / float64(n),
			Pulls: (max(1, wanted) + n - 1) / n, FitsPot: h.PotWide <= 0 || math.Hypot(l.Wide, l.Deep) <= h.PotWide})
	}
	return out, nil
}
