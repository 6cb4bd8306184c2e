package pieces

import (
	"math/rand/v2"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/spatial/r3"
)

// within tells whether a point is inside a closed mesh by the parity of a ray
// that runs along no axis: another way than the lattice the pieces come from.
func within(t *mesh.Tree, p r3.Vec) bool {
	dir := r3.Unit(r3.Vec{X: 0.5131, Y: 0.3217, Z: 0.7953})
	in := false
	for range 200 {
		d, tri := t.Ray(p, dir, func(int32) bool { return true })
		if tri < 0 {
			return in
		}
		in = !in
		p = r3.Add(p, r3.Scale(d+1e-7, dir))
	}
	return in
}

// distance from a point to a mesh.
func distance(t *mesh.Tree, p r3.Vec) float64 {
	at, tri := t.Nearest(p, 1e9, func(int32) bool { return true })
	if tri < 0 {
		return 1e9
	}
	return r3.Norm(r3.Sub(at, p))
}

// Every place in the box belongs to the part or to just one piece.
func TestEveryPlaceBelongsToOne(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 5))
	for key, m := range map[string]*mesh.Mesh{"hub": demo(t, "drogue-hub"), "bezel": demo(t, "instrument-bezel"),
		"ball": meshtest.Sphere(18, 48)} {
		c := usual
		c.Cells = 90
		p := made(t, m, c)
		trees := []*mesh.Tree{mesh.NewTree(m)}
		for _, q := range p.Pieces {
			trees = append(trees, mesh.NewTree(q.Mesh))
		}
		size := r3.Sub(p.Box.Max, p.Box.Min)
		none, twice, all := 0, 0, 0
		for range 3000 {
			in := r3.Add(p.Box.Min, r3.Vec{X: rng.Float64() * size.X, Y: rng.Float64() * size.Y, Z: rng.Float64() * size.Z})
			if p.sheet.block.beyond(in) > 0 { // of a round box
				continue
			}
			at := p.Frame.Out(in)
			owners := 0
			near := false
			for _, tree := range trees {
				if within(tree, at) {
					owners++
				}
				near = near || distance(tree, at) < 0.6*p.Cell
			}
			if near { // facets of two surfaces never lie quite on one another
				continue
			}
			all++
			if owners == 0 {
				none++
			} else if owners > 1 {
				twice++
			}
		}
		assert.Greater(t, all, 1500, key)
		assert.LessOrEqual(t, float64(none), 0.003*float64(all), "%s: no man's land", key)
		assert.LessOrEqual(t, float64(twice), 0.003*float64(all), "%s: owned twice", key)
	}
}

// A piece moved out along its draw in its turn meets neither the part nor a
// piece that is still in place: asked of the meshes themselves, from outside.
func TestPiecesMoveOutFreely(t *testing.T) {
	m := demo(t, "drogue-hub")
	p := made(t, m, usual)
	part := mesh.NewTree(m)
	trees := make([]*mesh.Tree, len(p.Pieces))
	for i, q := range p.Pieces {
		trees[i] = mesh.NewTree(q.Mesh)
	}
	rng := rand.New(rand.NewPCG(3, 1))
	for i, q := range p.Pieces {
		box := q.Mesh.Bounds()
		size := r3.Sub(box.Max, box.Min)
		met, asked := 0, 0
		for asked < 150 {
			at := r3.Add(box.Min, r3.Vec{X: rng.Float64() * size.X, Y: rng.Float64() * size.Y, Z: rng.Float64() * size.Z})
			if !within(trees[i], at) || distance(trees[i], at) < p.Cell {
				continue
			}
			asked++
			for step := 1.0; step < 110; step += 3 {
				now := r3.Add(at, r3.Scale(step, q.Draw))
				hit := within(part, now) && distance(part, now) > p.Cell
				for j := i + 1; j < len(p.Pieces) && !hit; j++ {
					hit = within(trees[j], now) && distance(trees[j], now) > p.Cell
				}
				if hit {
					met++
					break
				}
			}
		}
		assert.LessOrEqual(t, met, 1, "%s", q.Name)
	}
}

func TestMirroringMirrorsTheMould(t *testing.T) {
	m := demo(t, "collar-half")
	mirrored := &mesh.Mesh{}
	for _, v := range m.Vertices {
		mirrored.Vertices = append(mirrored.Vertices, r3.Vec{X: -v.X, Y: v.Y, Z: v.Z})
	}
	for _, tri := range m.Triangles {
		mirrored.Triangles = append(mirrored.Triangles, [3]int32{tri[0], tri[2], tri[1]})
	}
	c := usual
	c.Cells = 80
	want, got := made(t, m, c), made(t, mirrored, c)
	assert.Len(t, got.Pieces, len(want.Pieces))
	assert.InEpsilon(t, want.Volume, got.Volume, 1e-9)
	assert.InDelta(t, want.Level, got.Level, 0.2)
	for i, q := range want.Pieces {
		within := 0.01
		if i < len(want.Pieces)-2 { // a little piece begins at a point of the lattice, which is not mirrored
			within = 0.1
		}
		assert.InEpsilon(t, q.Volume, got.Pieces[i].Volume, within, q.Name)
	}
}

func TestTheSheetFollowsATiltedOutline(t *testing.T) {
	// a disc that leans against the draw: its outline climbs from one side to the other
	lean := meshtest.Moved(meshtest.Cylinder(20, 6, 96), r3.NewRotation(0.35, r3.Vec{X: 1}), r3.Vec{})
	p := made(t, lean, usual)
	lawful(t, p, 0.002)
	assert.Greater(t, p.Off, 2.0, "the parting leaves its level")
	assert.Less(t, p.Steep, 60.0)
	for _, q := range p.Pieces {
		assert.Less(t, q.Stripped, 0.03*p.Part, "%s hardly holds", q.Name)
	}
	flat := usual
	level := p.Level
	flat.Parting = &level
	assert.InDelta(t, p.Off, made(t, lean, flat).Off, 0.5, "and so it does from the same level, given by hand")
}
