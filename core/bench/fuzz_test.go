package bench_test

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"
	"testing"
	"time"

	"bathyform/core/bench"
	"bathyform/core/derive/derivetest"
	"bathyform/core/design"
	"bathyform/core/gang"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/part"
	"bathyform/core/sheet"
	"bathyform/core/survey"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/spatial/r3"
)

// odd builds a mesh as nobody would: of solids that overlap, touch, are turned
// inside out or lie in one another, of plates without thickness and of loose
// facets, as the bytes say.
func odd(data []byte) (m *mesh.Mesh, rest []byte) {
	m = &mesh.Mesh{}
	next := func() float64 {
		if len(data) == 0 {
			return 3
		}
		b := data[0]
		data = data[1:]
		return float64(int8(b)) / 2 //nolint:gosec // any number will do
	}
	add := func(o *mesh.Mesh, flip bool) {
		first := int32(len(m.Vertices)) //nolint:gosec // a handful
		m.Vertices = append(m.Vertices, o.Vertices...)
		for _, t := range o.Triangles {
			if flip {
				t[1], t[2] = t[2], t[1]
			}
			m.Triangles = append(m.Triangles, [3]int32{first + t[0], first + t[1], first + t[2]})
		}
	}
	const mostBodies, mostFacets = 6, 24
	bodies, facets := 0, 0
	for len(data) > 0 && bodies < mostBodies && facets < mostFacets {
		kind := data[0]
		data = data[1:]
		at, size := r3.Vec{X: next(), Y: next(), Z: next()}, r3.Vec{X: math.Abs(next()), Y: math.Abs(next()), Z: math.Abs(next())}
		flip := kind&0x80 != 0
		bodies++
		switch kind % 7 {
		case 0, 1:
			add(meshtest.Box(at, r3.Add(at, size)), flip)
		case 2:
			add(meshtest.Moved(meshtest.Cylinder(size.X, size.Y, 4+int(size.Z)%24), r3.NewRotation(size.Z, at), at), flip)
		case 3:
			add(meshtest.Moved(meshtest.Sphere(size.X, 4+int(size.Y)%16), r3.NewRotation(size.Z, at), at), flip)
		case 4: // a cup, perhaps without a wall
			add(meshtest.Moved(meshtest.Turned(24, [2]float64{0, size.Z}, [2]float64{size.X, size.Z}, [2]float64{size.X, 0},
				[2]float64{size.X + size.Y, 0}, [2]float64{size.X + size.Y, size.Z + size.Y}, [2]float64{0, size.Z + size.Y}),
				r3.NewRotation(at.X, r3.Vec{X: 1, Y: at.Y}), at), flip)
		default: // a loose facet
			bodies--
			facets++
			add(
				&mesh.Mesh{Vertices: []r3.Vec{at, r3.Add(at, size), {X: next(), Y: next(), Z: next()}}, Triangles: [][3]int32{{0, 1, 2}}},
				flip,
			)
		}
	}
	return m, data
}

// takenOdd takes an odd mesh in hand, as a file; not ok where it is told to be wrong.
func takenOdd(ctx context.Context, data []byte) (b *bench.Master, q bench.Question, ok bool) {
	m, rest := odd(data)
	m, r, err := mesh.Load(m.WriteSTL(), 1)
	if err != nil {
		return nil, q, false
	}
	b = bench.Take(part.Master{Name: "odd", Mesh: m.Filled(r.Hollows), Report: r})
	d, err := b.Start(ctx, house)
	q = bench.Question{Design: d, Rubber: &tin, Resin: &quick, Wanted: 60, House: house}
	q.Kind = []design.Kind{design.Clay, design.Pieces, design.Cut, design.Stretch, design.Shell}[len(rest)%5]
	return b, q, err == nil
}

// sound tells that every figure in what was worked out is a number.
func sound(t *testing.T, what string, v any) {
	t.Helper()
	for _, n := range derivetest.All(v) {
		if math.IsNaN(n.Value) || math.IsInf(n.Value, 0) {
			t.Errorf("%s: %q is %g", what, n.Formula, n.Value)
		}
	}
}

// An odd mesh is surveyed, studied and laid in a gang, or is told to be wrong;
// no figure on the way is no number.
func FuzzOddMeshes(f *testing.F) {
	for _, data := range oddities {
		f.Add(data)
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		b, q, ok := takenOdd(t.Context(), data)
		if !ok {
			return
		}
		if len(data)%2 == 0 { // a fuzzer waits ten seconds for an answer
			asked := survey.Question{Draw: q.Design.Draw.Dir(), Rubber: &tin, Resin: &quick, Wanted: 60}
			if seen, _, err := b.Survey(t.Context(), asked, house); err == nil {
				sound(t, "survey", seen)
			}
			return
		}
		if study, err := b.Study(t.Context(), q); err == nil {
			sound(t, "study", study)
		}
		if laid, err := b.Gang(t.Context(), q, gang.Ask{Count: 3, Gap: 8, Edge: 12}); err == nil {
			sound(t, "gang", laid)
		}
	})
}

// Odd meshes are built down to their templates within a minute each, or told
// to be wrong. ODD_MESHES says how many are made up beside those that are
// known: make fuzz asks for many, others each time.
func TestOddMeshesGoTheWholeWay(t *testing.T) {
	t.Parallel()
	all := slices.Clone(oddities)
	if n, err := strconv.Atoi(os.Getenv("ODD_MESHES")); err == nil {
		seed := uint64(time.Now().UnixNano()) //nolint:gosec // any will do
		t.Logf("seed %d", seed)
		random := rand.New(rand.NewPCG(seed, 1))
		for range n {
			data := make([]byte, 7+random.IntN(60))
			for i := range data {
				data[i] = byte(random.Uint32()) //nolint:gosec // likewise
			}
			all = append(all, data)
		}
	}
	for _, data := range all {
		ctx, cancel := context.WithTimeout(t.Context(), time.Minute)
		b, q, ok := takenOdd(t.Context(), data)
		if !ok {
			cancel()
			continue
		}
		built, err := b.Build(ctx, q, nil)
		cancel()
		if err != nil {
			assert.NotErrorIs(t, err, context.DeadlineExceeded, "%v takes for ever", data)
			continue
		}
		sound(t, fmt.Sprint(data), built)
		for _, s := range built.Plan.Sheets() {
			if drawn, err := sheet.Of(built.Plan, s.Key, b.Solid, house.PanelThick); err == nil {
				drawn.SVG()
				drawn.DXF()
			}
		}
	}
}

var oddities = [][]byte{
	{0, 0, 0, 0, 40, 30, 20},                                                                  // a block
	{4, 0, 0, 0, 30, 0, 40, 1, 60, 0, 0, 20, 20, 20},                                          // a cup without a wall, and a block
	{0, 0, 0, 0, 40, 40, 40, 0x80, 10, 10, 10, 10, 10, 10, 0, 20, 20, 20, 60, 20, 20},         // a hollow, and an overlap
	{0, 0, 0, 0, 40, 40, 1, 5, 0, 0, 0, 9, 0, 0, 0, 9, 0, 5, 1, 1, 1, 0, 0, 0, 1, 1, 1},       // a plate with loose facets
	{3, 0, 0, 0, 30, 20, 0, 2, 20, 0, 0, 10, 90, 3, 0x84, 0, 0, 30, 20, 2, 30, 200, 201, 202}, // a knob with a stem
}
