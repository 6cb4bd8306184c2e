package grid

import (
	"errors"
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// Frame is a set of axes with the third one up. For an up along one of the
// mesh's axes the other two are mesh axes as well.
type Frame struct{ U, V, Up r3.Vec }

// NewFrame returns a right-handed frame for an up direction of any length.
func NewFrame(up r3.Vec) (Frame, error) {
	up, ok := Unit(up)
	if !ok {
		return Frame{}, errors.New("the way up needs three finite numbers that are not all zero")
	}
	helper := r3.Vec{X: 1}
	if ax, ay, az := math.Abs(up.X), math.Abs(up.Y), math.Abs(up.Z); ax > ay && ax >= az {
		helper = r3.Vec{Y: 1}
	} else if ay >= ax && ay >= az {
		helper = r3.Vec{Z: 1}
	}
	v := r3.Unit(r3.Cross(up, helper))
	return Frame{U: r3.Cross(v, up), V: v, Up: up}, nil
}

// Unit returns a direction of any length, however small or large, at length 1;
// it is not ok when it points nowhere.
func Unit(v r3.Vec) (unit r3.Vec, ok bool) {
	most := max(math.Abs(v.X), math.Abs(v.Y), math.Abs(v.Z))
	if most == 0 || math.IsNaN(most) || math.IsInf(most, 0) {
		return v, false
	}
	return r3.Unit(r3.Vec{X: v.X / most, Y: v.Y / most, Z: v.Z / most}), true
}

// In returns the coordinates of p in the frame; the third is the height.
func (f Frame) In(p r3.Vec) r3.Vec {
	return r3.Vec{X: r3.Dot(f.U, p), Y: r3.Dot(f.V, p), Z: r3.Dot(f.Up, p)}
}

// Out returns the mesh coordinates of a point given in the frame.
func (f Frame) Out(q r3.Vec) r3.Vec {
	return r3.Add(r3.Scale(q.X, f.U), r3.Add(r3.Scale(q.Y, f.V), r3.Scale(q.Z, f.Up)))
}
