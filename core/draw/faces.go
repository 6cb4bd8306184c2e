package draw

import (
	"context"
	"math"
	"runtime"
	"sync"

	"bathyform/core/grid"

	"gonum.org/v1/gonum/spatial/r3"
)

// wallSine is the sine of the angle to the draw below which a face counts as
// a wall: half a degree, about what facets of a round wall are off.
const wallSine = 0.0087

// classify looks at every face from a point or more just off it. It leaves
// off when ctx ends.
func (v *view) classify(ctx context.Context, a *Analysis) {
	tris := v.mesh.Triangles
	v.boxes = make([]r3.Box, len(tris))
	for t, tri := range tris {
		p, q, r := v.at[tri[0]], v.at[tri[1]], v.at[tri[2]]
		v.boxes[t] = r3.Box{
			Min: r3.Vec{X: min(p.X, q.X, r.X), Y: min(p.Y, q.Y, r.Y), Z: min(p.Z, q.Z, r.Z)},
			Max: r3.Vec{X: max(p.X, q.X, r.X), Y: max(p.Y, q.Y, r.Y), Z: max(p.Z, q.Z, r.Z)}}
	}
	a.Classes = make([]Class, len(tris))
	workers := max(1, min(runtime.GOMAXPROCS(0), 8))
	parts := make([]struct {
		area  [4]float64
		draft Draft
	}, workers)
	var wg sync.WaitGroup
	for w := range workers {
		wg.Go(func() {
			p := &parts[w]
			var buf []grid.Crossing
			for t := len(tris) * w / workers; t < len(tris)*(w+1)/workers && ctx.Err() == nil; t++ {
				buf = v.classifyFace(t, a.Classes, &p.area, &p.draft, buf)
			}
		})
	}
	wg.Wait()
	for _, p := range parts {
		a.Faces.Up += p.area[Up]
		a.Faces.Down += p.area[Down]
		a.Faces.Wall += p.area[Wall]
		a.Faces.Locked += p.area[Locked]
		a.Draft.Under1 += p.draft.Under1
		a.Draft.Under3 += p.draft.Under3
		a.Draft.Under5 += p.draft.Under5
		a.Draft.Over += p.draft.Over
	}
}

// sides of the lattice of sample points on a large face, at most.
const mostSides = 6

func (v *view) classifyFace(t int, classes []Class, area *[4]float64, draft *Draft, buf []grid.Crossing) []grid.Crossing {
	tri := v.mesh.Triangles[t]
	a, b, c := v.at[tri[0]], v.at[tri[1]], v.at[tri[2]]
	n := r3.Cross(r3.Sub(b, a), r3.Sub(c, a))
	double := r3.Norm(n)
	if double == 0 {
		return buf
	}
	n = r3.Scale(1/double, n)
	off := r3.Scale(v.tolerance(), n)
	sides := 1 + int(math.Sqrt(double/2)/(2*v.cols.Cell))
	sides = min(sides, mostSides)
	share := double / 2 / float64(sides*sides)
	var votes [4]int
	see := func(u, w float64) { // barycentric
		p := r3.Add(r3.Add(r3.Scale(1-u-w, a), r3.Add(r3.Scale(u, b), r3.Scale(w, c))), off)
		var cl Class
		cl, buf = v.classAt(p, n.Z, buf)
		votes[cl]++
		area[cl] += share
		if cl != Locked {
			switch deg := math.Asin(min(1, math.Abs(n.Z))) * 180 / math.Pi; {
			case deg < 1:
				draft.Under1 += share
			case deg < 3:
				draft.Under3 += share
			case deg < 5:
				draft.Under5 += share
			default:
				draft.Over += share
			}
		}
	}
	s := float64(sides)
	for i := range sides { // middles of the small triangles that the face falls into
		for j := range sides - i {
			see((float64(i)+1.0/3)/s, (float64(j)+1.0/3)/s)
			if i+j < sides-1 {
				see((float64(i)+2.0/3)/s, (float64(j)+2.0/3)/s)
			}
		}
	}
	best := Up
	for cl := Up; cl <= Locked; cl++ {
		if votes[cl] > votes[best] {
			best = cl
		}
	}
	classes[t] = best
	return buf
}

// classAt tells how the surface just under p, sloping by sine, comes away.
func (v *view) classAt(p r3.Vec, sine float64, buf []grid.Crossing) (Class, []grid.Crossing) {
	var above, below bool
	if v.oneSided {
		// the part leaves upwards: only what stands over something is held
		if below, buf = v.meets(p, false, buf); below && p.Z < v.high-v.tolerance() {
			return Locked, buf
		}
		below = false
	} else {
		if sine > -wallSine {
			above, buf = v.meets(p, true, buf)
		}
		if sine < wallSine || above {
			below, buf = v.meets(p, false, buf)
		}
		if sine <= -wallSine && below {
			above, buf = v.meets(p, true, buf)
		}
	}
	switch {
	case math.Abs(sine) <= wallSine && !above && !below:
		return Wall, buf
	case above && below:
		return Locked, buf
	case above || sine <= -wallSine && !below:
		return Down, buf
	}
	return Up, buf
}

// meets tells whether the vertical line from p meets the part, up or down.
func (v *view) meets(p r3.Vec, up bool, buf []grid.Crossing) (bool, []grid.Crossing) {
	for _, t := range v.cols.Over(v.cols.ColumnAt(p.X, p.Y)) {
		b := &v.boxes[t]
		if p.X < b.Min.X || p.X > b.Max.X || p.Y < b.Min.Y || p.Y > b.Max.Y || up && b.Max.Z <= p.Z || !up && b.Min.Z > p.Z {
			continue
		}
		if buf = v.cols.Meet(t, p.X, p.Y, buf[:0]); len(buf) > 0 && (buf[0].Z > p.Z) == up {
			return true, buf
		}
	}
	return false, buf
}
