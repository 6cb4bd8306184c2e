package picture

import (
	"image"
	"image/color"
	"testing"

	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var grey = color.NRGBA{200, 200, 200, 255}

// inked is the rectangle that is drawn on, and how many pixels are solid.
func inked(p *image.NRGBA) (image.Rectangle, int) {
	r, solid := image.Rectangle{}, 0
	for y := range p.Rect.Dy() {
		for x := range p.Rect.Dx() {
			if p.NRGBAAt(x, y).A > 127 {
				r = r.Union(image.Rect(x, y, x+1, y+1))
				solid++
			}
		}
	}
	return r, solid
}

func TestABoxLooksAsWideAsItsBroadestSide(t *testing.T) {
	box := meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 10, Z: 20})
	r, solid := inked(Shaded(box, View{Up: r3.Vec{Z: 1}}, Size{200, 100}, func(int) color.NRGBA { return grey }))
	assert.InDelta(t, 2, float64(r.Dx())/float64(r.Dy()), 0.08, "40 by 20")
	assert.InDelta(t, r.Dx()*r.Dy(), solid, 30, "and is filled")
	assert.InDelta(t, 100, (r.Min.X+r.Max.X)/2, 1, "in the middle")
}

func TestABallIsRoundWhereverTheEyeIs(t *testing.T) {
	ball := meshtest.Sphere(10, 64)
	for _, v := range []View{{Up: r3.Vec{Z: 1}}, {Up: r3.Vec{X: 1, Y: 1}, Tilt: 35},
		{Up: r3.Vec{Y: -1}, Side: r3.Vec{Z: 3, Y: 1}, Tilt: 20}} {
		r, solid := inked(Shaded(ball, v, Size{90, 90}, func(int) color.NRGBA { return grey }))
		assert.InDelta(t, r.Dx(), r.Dy(), 1)
		assert.InEpsilon(t, 3.14159/4*float64(r.Dx()*r.Dy()), solid, 0.03)
	}
}

func TestTheNearerThingHidesTheFartherOne(t *testing.T) {
	m := meshtest.Box(r3.Vec{X: -10, Y: -1, Z: -10}, r3.Vec{X: 10, Y: 1, Z: 10})
	near := len(m.Triangles)
	front := meshtest.Box(r3.Vec{X: -4, Y: -9, Z: -4}, r3.Vec{X: 4, Y: -7, Z: 4})
	m.Vertices = append(m.Vertices, front.Vertices...)
	for _, tri := range front.Triangles {
		m.Triangles = append(m.Triangles, [3]int32{tri[0] + 8, tri[1] + 8, tri[2] + 8})
	}
	require.Len(t, m.Vertices, 16)
	red, blue := color.NRGBA{220, 0, 0, 255}, color.NRGBA{0, 0, 220, 255}
	p := Shaded(m, View{Up: r3.Vec{Z: 1}, Side: r3.Vec{Y: -1}}, Size{80, 80}, func(t int) color.NRGBA {
		if t < near {
			return red
		}
		return blue
	})
	assert.Greater(t, p.NRGBAAt(40, 40).B, p.NRGBAAt(40, 40).R)
	assert.Greater(t, p.NRGBAAt(10, 10).R, p.NRGBAAt(10, 10).B)
}

func TestLightFallsFromAbove(t *testing.T) {
	box := meshtest.Box(r3.Vec{}, r3.Vec{X: 10, Y: 10, Z: 10})
	p := Shaded(box, View{Up: r3.Vec{Z: 1}, Side: r3.Vec{Y: -1}, Tilt: 45}, Size{60, 60}, func(int) color.NRGBA { return grey })
	assert.Greater(t, p.NRGBAAt(30, 15).R, p.NRGBAAt(30, 45).R, "the lid is lighter than the front")
}
