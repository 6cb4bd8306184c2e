package study

import (
	"sync"

	"bathyform/core/fill"
	"bathyform/core/gate"
	"bathyform/core/part"

	"gonum.org/v1/gonum/spatial/r3"
)

// Prepared is a master together with the fill spaces worked out for it so
// far, so that moving a vent does not begin again at the mesh. It may be used
// from several goroutines.
type Prepared struct {
	Master part.Master

	mu     sync.Mutex
	spaces map[spaceKey]*prepared
	finer  finer
}

type spaceKey struct {
	up     part.Axis
	around bool
	floor  float64
}

type prepared struct {
	once  sync.Once
	space *fill.Space
	err   error
}

// mostSpaces bounds what is kept for one master: six ways up, and rubber
// pours against a parting that is being dragged.
const mostSpaces = 16

// Prepare takes a master in hand.
func Prepare(m part.Master) *Prepared {
	return &Prepared{Master: m, spaces: make(map[spaceKey]*prepared)}
}

// Cavity returns the space inside the part for a way up.
func (p *Prepared) Cavity(up part.Axis) (*fill.Space, error) {
	return p.space(spaceKey{up: up}, fill.Options{Sound: p.Master.Report.Sound})
}

// round returns the space round the part above a floor at a height along up.
func (p *Prepared) round(up part.Axis, floor, headroom float64) (*fill.Space, error) {
	return p.space(spaceKey{up, true, floor}, fill.Options{
		Sound: p.Master.Report.Sound, Around: true, Floor: &floor, Headroom: headroom})
}

func (p *Prepared) space(key spaceKey, opt fill.Options) (*fill.Space, error) {
	dir, err := key.up.Dir()
	if err != nil {
		return nil, err
	}
	p.mu.Lock()
	entry, ok := p.spaces[key]
	if !ok {
		if len(p.spaces) >= mostSpaces {
			clear(p.spaces)
		}
		entry = &prepared{}
		p.spaces[key] = entry
	}
	p.mu.Unlock()
	entry.once.Do(func() { entry.space, entry.err = fill.Prepare(p.Master.Mesh, dir, opt) })
	return entry.space, entry.err
}

// locked is the rubber that a parting across the draw shuts under the part, mm³.
func (p *Prepared) locked(draw part.Axis, parting float64) (upper, lower float64, err error) {
	space, err := p.Cavity(draw)
	if err != nil {
		return 0, 0, err
	}
	upper, lower = space.Locked(parting)
	return upper, lower, nil
}

// ProposeVents puts a vent at every high spot of a design that has none.
func (p *Prepared) ProposeVents(d Design) ([]gate.Vent, error) {
	if p.Master.Mesh == nil {
		return nil, nil
	}
	cavity, err := p.Cavity(d.Mould.Attitudes.Resin)
	if err != nil {
		return nil, err
	}
	return gate.ProposeVents(cavity, d.Gates, d.VentBore), nil
}

// Section cuts the part across an axis of the mesh; nil when its shape is not known.
func (p *Prepared) Section(normal part.Axis, offset float64) ([][]r3.Vec, error) {
	dir, err := normal.Dir()
	if err != nil || p.Master.Mesh == nil {
		return nil, err
	}
	return p.Master.Mesh.Section(dir, offset), nil
}
