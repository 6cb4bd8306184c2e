package sketch

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// cluster is the corners that become one.
type cluster struct {
	sum, middle r3.Vec
	count       float64
	reach       float64 // how far from the middle it may be set, mm
	// The sum of the squared distances from the planes met, about the middle:
	// x'Ax + 2b'x + c, A as its upper half xx xy xz yy yz zz.
	a [6]float64
	b r3.Vec
}

// meet adds the plane through p with a normal as long as it weighs.
func (c *cluster) meet(n, p r3.Vec) {
	c.a[0] += n.X * n.X
	c.a[1] += n.X * n.Y
	c.a[2] += n.X * n.Z
	c.a[3] += n.Y * n.Y
	c.a[4] += n.Y * n.Z
	c.a[5] += n.Z * n.Z
	c.b = r3.Sub(c.b, r3.Scale(r3.Dot(n, r3.Sub(p, c.middle)), n))
}

// stiff is how strongly the middle holds, as a share of the planes' weight:
// where they leave a direction open, as a flat face does two, it decides.
const stiff = 1e-3

// place is where the planes come closest to meeting, or the middle where that
// is far away.
func (c *cluster) place() r3.Vec {
	hold := stiff * (c.a[0] + c.a[3] + c.a[5])
	xx, xy, xz, yy, yz, zz := c.a[0]+hold, c.a[1], c.a[2], c.a[3]+hold, c.a[4], c.a[5]+hold
	// cofactors of the symmetric matrix
	p, q, r := yy*zz-yz*yz, xz*yz-xy*zz, xy*yz-xz*yy
	det := xx*p + xy*q + xz*r
	if det <= 0 || math.IsInf(det, 0) {
		return c.middle
	}
	s, t, u := xx*zz-xz*xz, xy*xz-xx*yz, xx*yy-xy*xy
	b := r3.Scale(-1/det, c.b)
	x := r3.Vec{X: p*b.X + q*b.Y + r*b.Z, Y: q*b.X + s*b.Y + t*b.Z, Z: r*b.X + t*b.Y + u*b.Z}
	if far := r3.Norm(x); !(far <= c.reach) {
		return c.middle
	}
	return r3.Add(c.middle, x)
}
