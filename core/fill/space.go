package fill

import (
	"fmt"

	"bathyform/core/grid"
	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// Options say which space is asked about and how finely.
type Options struct {
	// Cell is the side of a column in mm; 0 takes the longest side of the
	// part over [DefaultCells].
	Cell float64
	// Around asks about rubber rising round the part in an open-topped box,
	// instead of resin rising inside the part's surface.
	Around bool
	// Floor is the height of the box floor (or of a clay bed) along up, in
	// mm; nil stands the part on it. Only with Around.
	Floor *float64
	// Headroom is how far the box reaches over the part, in mm. Only with Around.
	Headroom float64
	// Sound says that the mesh closes, as found by [mesh.Examine].
	Sound bool
}

// DefaultCells is the number of columns along the part's longest side.
const DefaultCells = 128

// Space is the free space of one part for one way up, prepared so that
// openings can be moved at the cost of a walk through the tree.
type Space struct {
	Frame  grid.Frame
	stood  *Stood
	mesh   *mesh.Mesh
	tris   [][3]int32
	at     []r3.Vec // vertices in the frame
	plans  []float64
	around bool
	floor  float64 // height below which there is no space (Around)
	top    float64 // open top of the box (Around)
	// contact is how near a point must be to the floor to stand on it, mm.
	contact float64
	grid    columns
	exact   bool // the mesh closes: passes and volumes come from its surface
	tree    *passTree
	ceiling []int32   // highest corner of each triangle (exact)
	always  []opening // open whatever the caster does
	volume  float64   // of the part, mm³
}

// opening is a place that breathes: place and all that is higher on its
// branch drain through it down to height z.
type opening struct {
	place int32
	z     float64
}

// Prepare stands the mesh the given way up and finds the passes between its
// high spots.
func Prepare(m *mesh.Mesh, up r3.Vec, opt Options) (*Space, error) {
	s, err := Stand(m, up, opt.Cell)
	if err != nil {
		return nil, err
	}
	return s.Space(opt)
}

// Space finds the passes between the high spots of a space. The cell is the
// one that the mesh was stood with.
func (st *Stood) Space(opt Options) (*Space, error) {
	if opt.Around && opt.Headroom <= 0 {
		return nil, fmt.Errorf("the clearance over the part must be more than 0, not %g mm", opt.Headroom)
	}
	s := &Space{Frame: st.Frame, stood: st, mesh: st.mesh, tris: st.mesh.Triangles, at: st.at, contact: st.contact, around: opt.Around}
	s.floor, s.top = st.low, st.high+opt.Headroom
	if opt.Floor != nil {
		s.floor = max(st.low, *opt.Floor)
	}
	s.grid.Columns = st.columns
	s.cutColumns()
	s.measurePlans()
	s.exact = opt.Sound && !s.grid.overlapped
	if s.exact {
		s.surfaceTree()
	} else {
		s.columnTree()
	}
	return s, nil
}

// Cell returns the side of a column in mm.
func (s *Space) Cell() float64 { return s.grid.Cell }

// Exact reports whether passes and volumes come from the surface itself; if
// not, they are good to a cell.
func (s *Space) Exact() bool { return s.exact }

// Low and High are the lowest and the highest height of the part along up, in mm.
func (s *Space) Low() float64  { return s.stood.low }
func (s *Space) High() float64 { return s.stood.high }

// measurePlans takes each triangle's signed area in plan, positive where it
// is a ceiling of the space, and the volume of the part.
func (s *Space) measurePlans() {
	s.plans = make([]float64, len(s.tris))
	var volume mesh.Sum
	for t, tri := range s.tris {
		a, b, c := &s.at[tri[0]], &s.at[tri[1]], &s.at[tri[2]]
		plan := ((b.X-a.X)*(c.Y-a.Y) - (b.Y-a.Y)*(c.X-a.X)) / 2
		volume.Add(plan * (a.Z + b.Z + c.Z - 3*s.floor) / 3)
		if s.around {
			plan = -plan
		}
		s.plans[t] = plan
	}
	s.volume = volume.Value()
	if s.grid.overlapped && !s.around {
		s.volume = s.spanVolume()
	}
}

// spanVolume is the volume of all stretches, good to a cell.
func (s *Space) spanVolume() float64 {
	var sum float64
	for i := range s.grid.spans {
		sum += s.grid.spans[i].hi - s.grid.spans[i].lo
	}
	return sum * s.grid.Cell * s.grid.Cell
}

// Bounds returns the part's box in mesh coordinates.
func (s *Space) Bounds() r3.Box { return s.mesh.Bounds() }
