package survey

import (
	"cmp"
	"context"
	"math"
	"slices"

	"bathyform/core/draw"
	"bathyform/core/grid"
	"bathyform/core/mesh"
	"bathyform/core/parallel"
	"bathyform/core/strip"

	"gonum.org/v1/gonum/spatial/r3"
)

// What other draws are looked at when one holds the part for good.
const (
	elsewhereTried = 60                 // spread over half the sphere, beside the mesh's axes
	elsewhereCells = 48                 // columns along the longest side
	elsewhereFine  = 4                  // of them that are judged
	elsewhereApart = 20 * math.Pi / 180 // nearer ones are the draw at hand
)

// Elsewhere looks for another draw along which all that is locked strips.
func Elsewhere(ctx context.Context, m *mesh.Mesh, but r3.Vec, r strip.Rubber, wanted int) (dir r3.Vec, found bool, err error) {
	but, ok := grid.Unit(but)
	if !ok {
		return r3.Vec{}, false, nil
	}
	dirs := slices.DeleteFunc(append([]r3.Vec{{Z: 1}, {X: 1}, {Y: 1}}, draw.HalfSphere(elsewhereTried)...), func(d r3.Vec) bool {
		return math.Abs(r3.Dot(d, but)) > math.Cos(elsewhereApart)
	})
	locked := make([]float64, len(dirs))
	box := m.Bounds()
	size := r3.Sub(box.Max, box.Min)
	cell := max(size.X, size.Y, size.Z) / elsewhereCells
	if err := parallel.Each(ctx, len(dirs), len(dirs), func(i int) (err error) {
		locked[i], err = draw.Undercut(ctx, m, dirs[i], cell)
		return err
	}, nil); err != nil {
		return dir, false, err
	}
	order := make([]int, len(dirs))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(locked[a], locked[b]) })
	for _, i := range order[:min(elsewhereFine, len(order))] {
		a, err := draw.Analyse(ctx, m, dirs[i], draw.Options{})
		if err != nil {
			return dir, false, err
		}
		if !slices.ContainsFunc(JudgeBy(a, r, wanted), func(j Judged) bool { return j.Verdict.Answer != strip.Strips }) {
			return dirs[i], true, nil
		}
	}
	return dir, false, nil
}
