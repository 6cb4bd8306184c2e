package hold_test

import (
	"math"
	"testing"

	"bathyform/core/design"
	"bathyform/core/hold"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var up = r3.Vec{Z: 1}

func body(t *testing.T, m *mesh.Mesh, along r3.Vec) hold.Body {
	t.Helper()
	g, err := hold.On(m, along)
	require.NoError(t, err)
	b := hold.Body{Ground: g, Volume: m.Volume(), Floor: math.Inf(1), Top: math.Inf(-1)}
	for _, v := range m.Vertices {
		b.Floor, b.Top = min(b.Floor, r3.Dot(v, along)-10), max(b.Top, r3.Dot(v, along)+20)
	}
	return b
}

func rod(at r3.Vec, way float64, bore float64) hold.Point {
	kind := design.Bar
	if bore < 2.5 {
		kind = design.Wire
	}
	return hold.Point{Kind: kind, At: at, To: r3.Add(at, r3.Vec{Z: way}), Bore: bore, Rod: true}
}

var slab = meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 40, Z: 10})

// A slab that hangs from a rod over its middle hangs still; one that hangs by
// its end swings, and is given three pins between which its middle lies.
func TestARodOverTheMiddleIsEnough(t *testing.T) {
	b := body(t, slab, up)
	assert.InDelta(t, 30, b.Middle.X, 1e-9)
	assert.InDelta(t, 5, b.Middle.Z, 1e-9)
	s := b.Stand([]hold.Point{rod(r3.Vec{X: 30, Y: 20, Z: 10}, 20, 8)}, nil, 1.1)
	assert.True(t, s.Stands())
	assert.Len(t, s.Points, 1)
	assert.Equal(t, "1 rod", s.Told())
	assert.Empty(t, s.Added())

	s = b.Stand([]hold.Point{rod(r3.Vec{X: 5, Y: 20, Z: 10}, 20, 4)}, nil, 1.1)
	assert.True(t, s.Stands())
	assert.Equal(t, "1 rod and 3 pins of 2 mm", s.Told())
	assert.Greater(t, s.Margin, 8.0, "the middle lies well inside")
	for _, p := range s.Points[1:] {
		assert.InDelta(t, 0, p.At.Z, 1e-9, "under it")
		assert.InDelta(t, -10, p.To.Z, 1e-9, "down to the base board")
		assert.False(t, p.Blind)
	}
}

// A rod through a side wall carries a light master like a bracket: 20 mL of
// 1.2 g/mL, 25 mm out, on a rod of 8 mm are 5.9 mN·m where the joint stands
// 0.5 MPa · π · (8 mm)³ / 32 = 25 mN·m; on a rod of 3 mm they are too much.
func TestARodThroughAWallIsABracket(t *testing.T) {
	b := body(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 50, Y: 20, Z: 20}), up)
	side := func(bore float64) hold.Standing {
		p := hold.Point{Kind: design.Bar, At: r3.Vec{Y: 10, Z: 10}, To: r3.Vec{X: -12, Y: 10, Z: 10}, Bore: bore, Rod: true}
		return b.Stand([]hold.Point{p}, nil, 1.1)
	}
	assert.True(t, side(8).Borne)
	assert.Len(t, side(8).Points, 1)
	assert.False(t, side(3).Borne)
	assert.Len(t, side(3).Points, 4)
}

// Two wires hold a slab along their line only: beside it the slab swings.
func TestWiresHoldAlongTheirLine(t *testing.T) {
	b := body(t, slab, up)
	wires := func(y float64) []hold.Point {
		return []hold.Point{rod(r3.Vec{X: 10, Y: y, Z: 10}, 20, 1.5), rod(r3.Vec{X: 50, Y: y, Z: 10}, 20, 1.5)}
	}
	assert.Len(t, b.Stand(wires(20), nil, 1.1).Points, 2)
	s := b.Stand(wires(35), nil, 1.1)
	assert.Len(t, s.Points, 5, "atan(15/5) is no plumb")
	own := b.Stand(wires(35), []design.Support{{Kind: design.Wire, At: design.Place{30, 5, 10}, Bore: 1.5}}, 1.1)
	assert.True(t, own.Stands(), "a third on the other side")
	assert.InDelta(t, 300/math.Hypot(20, 30), own.Margin, 1e-6, "from the legs of a triangle of 40 by 30")
}

// The lift by Archimedes: 50 mL of 0.6 g/mL in rubber of 1.1 are 25 g, which
// is 0.24517 N (the models' section on squeeze moulds). Wires do not push.
func TestWhatIsLighterThanTheRubberIsHeldDown(t *testing.T) {
	m := meshtest.Box(r3.Vec{}, r3.Vec{X: 50, Y: 50, Z: 20})
	b := body(t, m, up)
	middle := r3.Vec{X: 25, Y: 25, Z: 20}
	codes := func(s hold.Standing) (out []string) {
		for _, f := range s.Findings() {
			out = append(out, f.Code)
		}
		return out
	}
	s := b.Stand([]hold.Point{rod(middle, 20, 2)}, nil, 1.1)
	assert.InDelta(t, 25, s.Lift.Value, 1e-9)
	assert.Contains(t, codes(s), "master-floats")
	assert.NotContains(t, codes(b.Stand([]hold.Point{rod(middle, 20, 6)}, nil, 1.1)), "master-floats", "a stiff rod holds it down")
	b.Density = 1.2
	heavy := b.Stand([]hold.Point{rod(middle, 20, 2)}, nil, 1.1)
	assert.Zero(t, heavy.Lift.Value)
	assert.Empty(t, codes(heavy))
}

func TestSupportsThatDoNotHold(t *testing.T) {
	b := body(t, slab, up)
	pin := func(x, y float64) design.Support {
		return design.Support{Kind: design.Pin, At: design.Place{x, y, 0}, Bore: 2}
	}
	s := b.Stand(nil, []design.Support{pin(2, 2), pin(20, 2), pin(2, 20)}, 1.1)
	assert.False(t, s.Stands())
	found := s.Findings()
	require.NotEmpty(t, found)
	assert.Equal(t, "master-topples", found[0].Code)
	assert.Less(t, found[0].Figure.Value, 0.0, "its middle lies outside them")
	assert.NotEmpty(t, found[0].Remedies)
	assert.True(t, b.Stand(nil, []design.Support{pin(2, 2), pin(58, 2), pin(30, 38)}, 1.1).Stands())

	through := b.Stand(nil, []design.Support{{Kind: design.Wire, At: design.Place{30, 20, 0}, Bore: 2}}, 1.1)
	assert.True(t, through.Points[0].Blind, "a wire from the underside runs up through the slab")
}

// However a part is turned together with its way up, it stands as well; and
// three pins are found for whatever has an underside.
func TestStandingDoesNotDependOnTheAxes(t *testing.T) {
	for name, m := range map[string]*mesh.Mesh{
		"slab":    slab,
		"frustum": meshtest.Turned(48, [2]float64{0, 0}, [2]float64{12, 0}, [2]float64{25, 30}, [2]float64{0, 30}),
		"ball":    meshtest.Sphere(20, 48),
	} {
		upright := body(t, m, up).Stand(nil, nil, 1.1)
		require.True(t, upright.Stands(), name)
		turn := r3.NewRotation(1.1, r3.Vec{X: 0.3, Y: -0.8, Z: 0.5})
		turned := body(t, meshtest.Moved(m, turn, r3.Vec{X: 40, Y: -9, Z: 3}), turn.Rotate(up)).Stand(nil, nil, 1.1)
		assert.InEpsilon(t, upright.Margin, turned.Margin, 0.12, name)
		assert.InEpsilon(t, upright.Lift.Value, turned.Lift.Value, 1e-6, name)
	}
}
