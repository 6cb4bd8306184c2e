package part

import (
	"bathyform/core/grid"
	"errors"

	"gonum.org/v1/gonum/num/quat"
	"gonum.org/v1/gonum/spatial/r3"
)

// Turn is how a mesh was turned after reading, as a unit quaternion. The zero
// Turn leaves it as it was drawn.
type Turn struct{ W, X, Y, Z float64 }

func (t Turn) number() quat.Number {
	if t == (Turn{}) {
		return quat.Number{Real: 1}
	}
	return quat.Number{Real: t.W, Imag: t.X, Jmag: t.Y, Kmag: t.Z}
}

// Rotation is the turn as it acts on vectors.
func (t Turn) Rotation() r3.Rotation { return r3.Rotation(t.number()) }

// Upright is the turn after which a direction of the mesh as it stands now
// points up, the shortest way there.
func (t Turn) Upright(up r3.Vec) (Turn, error) {
	up, ok := grid.Unit(up)
	if !ok {
		return t, errors.New("a direction needs three finite numbers that are not all zero")
	}
	q := quat.Number{Imag: 1} // upside down: half a turn about x
	if up.Z > -1+1e-12 {
		q = quat.Number{Real: 1 + up.Z, Imag: up.Y, Jmag: -up.X}
	}
	q = quat.Mul(q, t.number())
	q = quat.Scale(1/quat.Abs(q), q)
	return Turn{q.Real, q.Imag, q.Jmag, q.Kmag}, nil
}

// Since is how something is turned that was carried along from an earlier
// turn to this one.
func (t Turn) Since(earlier Turn) r3.Rotation {
	return r3.Rotation(quat.Mul(t.number(), quat.Conj(earlier.number())))
}
