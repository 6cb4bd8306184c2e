// Package picture draws a mesh as a small shaded picture, where a drawing in
// three dimensions would be too much: beside an offer, or on paper.
package picture

import (
	"image"
	"image/color"
	"math"

	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// View is how a mesh is looked at, from far away.
type View struct {
	Up   r3.Vec  // upwards in the picture
	Side r3.Vec  // roughly where the eye stands; the zero vector for the broadest side
	Tilt float64 // degrees that the eye is raised over the side
}

// Size is that of a picture in pixels.
type Size struct{ Wide, Tall int }

// fine is how many samples go into a pixel each way.
const fine = 3

// margin is the share of a picture left free round the mesh.
const margin = 0.06

// Shaded draws a mesh on a clear ground, each triangle in its colour under a
// light from the upper left. It fills the picture as far as its shape allows.
func Shaded(m *mesh.Mesh, v View, s Size, colour func(tri int) color.NRGBA) *image.NRGBA {
	right, up, eye := v.axes(m)
	at := make([]r3.Vec, len(m.Vertices))
	low, high := r3.Vec{X: math.Inf(1), Y: math.Inf(1)}, r3.Vec{X: math.Inf(-1), Y: math.Inf(-1)}
	for i, p := range m.Vertices {
		q := r3.Vec{X: r3.Dot(p, right), Y: r3.Dot(p, up), Z: r3.Dot(p, eye)}
		at[i] = q
		low.X, high.X = min(low.X, q.X), max(high.X, q.X)
		low.Y, high.Y = min(low.Y, q.Y), max(high.Y, q.Y)
	}
	wide, tall := s.Wide*fine, s.Tall*fine
	scale := min(float64(wide)/(high.X-low.X), float64(tall)/(high.Y-low.Y)) * (1 - 2*margin)
	for i, q := range at {
		at[i].X = (q.X-(low.X+high.X)/2)*scale + float64(wide)/2
		at[i].Y = float64(tall)/2 - (q.Y-(low.Y+high.Y)/2)*scale
	}
	depth := make([]float64, wide*tall)
	for i := range depth {
		depth[i] = math.Inf(-1)
	}
	shade := make([]color.NRGBA, wide*tall)
	light := r3.Unit(r3.Vec{X: -0.45, Y: 0.75, Z: 0.9})
	for t, tri := range m.Triangles {
		p, q, r := m.Corners(t)
		n := r3.Cross(r3.Sub(q, p), r3.Sub(r, p))
		l := r3.Norm(n)
		if l == 0 {
			continue
		}
		n = r3.Scale(1/l, r3.Vec{X: r3.Dot(n, right), Y: r3.Dot(n, up), Z: r3.Dot(n, eye)})
		if n.Z <= 0 {
			continue
		}
		bright := 0.42 + 0.58*max(0, r3.Dot(n, light))
		c := colour(t)
		c = color.NRGBA{dim(c.R, bright), dim(c.G, bright), dim(c.B, bright), c.A}
		sweep(at[tri[0]], at[tri[1]], at[tri[2]], wide, tall, func(i int, z float64) {
			if z > depth[i] {
				depth[i], shade[i] = z, c
			}
		})
	}
	return shrink(shade, s)
}

// axes are the picture's own: to the right, upwards and towards the eye.
func (v View) axes(m *mesh.Mesh) (right, up, eye r3.Vec) {
	up = r3.Unit(v.Up)
	side := r3.Sub(v.Side, r3.Scale(r3.Dot(v.Side, up), up))
	if r3.Norm(side) < 1e-9 {
		side = broadest(m, up)
	}
	side = r3.Unit(side)
	sin, cos := math.Sincos(v.Tilt * math.Pi / 180)
	eye = r3.Add(r3.Scale(cos, side), r3.Scale(sin, up))
	up = r3.Sub(r3.Scale(cos, up), r3.Scale(sin, side))
	return r3.Cross(up, eye), up, eye
}

// broadest is the level direction from which a mesh looks widest.
func broadest(m *mesh.Mesh, up r3.Vec) r3.Vec {
	a := r3.Vec{X: 1}
	if math.Abs(up.X) > 0.7 {
		a = r3.Vec{Y: 1}
	}
	a = r3.Unit(r3.Cross(up, a))
	b := r3.Cross(up, a)
	const turns = 12
	best, side := -1.0, a
	for i := range turns {
		sin, cos := math.Sincos(math.Pi * float64(i) / turns)
		across := r3.Add(r3.Scale(cos, a), r3.Scale(sin, b))
		low, high := math.Inf(1), math.Inf(-1)
		for _, p := range m.Vertices {
			x := r3.Dot(p, across)
			low, high = min(low, x), max(high, x)
		}
		if high-low > best+1e-9 {
			best, side = high-low, r3.Cross(across, up)
		}
	}
	return side
}

// sweep calls at for every sample that a triangle covers.
func sweep(a, b, c r3.Vec, wide, tall int, at func(i int, z float64)) {
	area := (b.X-a.X)*(c.Y-a.Y) - (c.X-a.X)*(b.Y-a.Y)
	if area == 0 {
		return
	}
	x0, x1 := int(max(0, math.Floor(min(a.X, b.X, c.X)))), int(min(float64(wide-1), math.Ceil(max(a.X, b.X, c.X))))
	y0, y1 := int(max(0, math.Floor(min(a.Y, b.Y, c.Y)))), int(min(float64(tall-1), math.Ceil(max(a.Y, b.Y, c.Y))))
	for y := y0; y <= y1; y++ {
		for x := x0; x <= x1; x++ {
			px, py := float64(x)+0.5, float64(y)+0.5
			u := ((b.X-px)*(c.Y-py) - (c.X-px)*(b.Y-py)) / area
			v := ((c.X-px)*(a.Y-py) - (a.X-px)*(c.Y-py)) / area
			if w := 1 - u - v; u >= 0 && v >= 0 && w >= 0 {
				at(y*wide+x, u*a.Z+v*b.Z+w*c.Z)
			}
		}
	}
}

func dim(c uint8, by float64) uint8 { return uint8(math.Round(float64(c) * min(1, by))) }

// shrink averages the samples of each pixel.
func shrink(shade []color.NRGBA, s Size) *image.NRGBA {
	out := image.NewNRGBA(image.Rect(0, 0, s.Wide, s.Tall))
	for y := range s.Tall {
		for x := range s.Wide {
			var r, g, b, a int
			for dy := range fine {
				for dx := range fine {
					c := shade[(y*fine+dy)*s.Wide*fine+x*fine+dx]
					r, g, b, a = r+int(c.R)*int(c.A), g+int(c.G)*int(c.A), b+int(c.B)*int(c.A), a+int(c.A)
				}
			}
			if a > 0 {
				out.SetNRGBA(x, y, color.NRGBA{uint8(r / a), uint8(g / a), uint8(b / a), uint8(a / (fine * fine))})
			}
		}
	}
	return out
}
