package flow

import (
	"math"

	"gonum.org/v1/gonum/mat"
)

// web is how the nodes of a network hang together: what runs out of each is
// its row times the pressures.
type web struct {
	at   map[string]int
	rows [][]float64
}

func (n Network) web() *web {
	w := &web{at: map[string]int{}}
	for i, name := range n.Nodes {
		w.at[name] = i
		w.rows = append(w.rows, make([]float64, len(n.Nodes)))
	}
	for _, c := range n.Channels {
		a, b, g := w.at[c.From], w.at[c.To], 1/c.Resistance(n.Viscosity)
		w.rows[a][a] += g
		w.rows[b][b] += g
		w.rows[a][b] -= g
		w.rows[b][a] -= g
	}
	return w
}

// without leaves a node out that nothing runs out of, but through it: the
// others see each other through it.
func without(rows [][]float64, node int) {
	own := rows[node][node]
	if own == 0 {
		return
	}
	for i, row := range rows {
		if share := row[node] / own; i != node && share != 0 {
			for j, v := range rows[node] {
				row[j] -= share * v
			}
			row[node] = 0
		}
	}
	for j := range rows[node] {
		rows[node][j] = 0
	}
}

// pressures at all nodes where the well has its own and every basin its own.
func (w *web) pressures(well float64, basins []basin) []float64 {
	rows := clone(w.rows)
	known := make([]bool, len(rows))
	p := make([]float64, len(rows))
	known[0], p[0] = true, well
	for _, b := range basins {
		known[b.node], p[b.node] = true, b.pressure
	}
	type step struct {
		node int
		row  []float64
	}
	var left []step
	for i := range rows {
		if !known[i] && rows[i][i] != 0 {
			left = append(left, step{i, append([]float64(nil), rows[i]...)})
			without(rows, i)
		}
	}
	for k := len(left) - 1; k >= 0; k-- {
		s, sum := left[k], 0.0
		for j, g := range s.row {
			if j != s.node {
				sum += g * p[j]
			}
		}
		p[s.node] = -sum / s.row[s.node]
	}
	return p
}

func clone(rows [][]float64) [][]float64 {
	out := make([][]float64, len(rows))
	for i, r := range rows {
		out[i] = append([]float64(nil), r...)
	}
	return out
}

// basin is a cavity as it fills: its pressure grows by what runs in over its
// capacity, up to full.
type basin struct {
	which, node    int
	full, capacity float64 // Pa, m³/Pa
	pressure       float64
	empty          bool // nothing has come up to it yet
}

// fill says when each basin is full that ever is, by its index.
//
// Between two fillings the pressures follow C p' = −S (p − P): with x = √C (p −
// P) that is x' = −B x with B symmetric, whose modes die away each at its own
// rate.
func (w *web) fill(well float64, filling []basin) map[int]float64 {
	rows := w.between(filling)
	done, now := map[int]float64{}, 0.0
	for {
		through, basins, waiting := awake(rows, well, filling)
		modes := newModes(through, well, basins)
		next := math.Inf(1)
		for i, b := range basins {
			if b.full < well {
				next = min(next, modes.reaches(i, b))
			}
		}
		if math.IsInf(next, 1) {
			return done
		}
		now += next
		var rest []basin
		for i, b := range basins {
			b.empty = false
			b.pressure += modes.gain(i, next)
			if b.full < well && b.pressure >= b.full*(1-1e-9) {
				done[b.which] = now
				without(rows, b.node)
				continue
			}
			rest = append(rest, b)
		}
		if len(rest) == len(basins) {
			return done // the figures are beyond what can be told apart
		}
		filling = append(rest, waiting...)
	}
}

// between is how the well and the basins see each other, through all that lies
// between them.
func (w *web) between(basins []basin) [][]float64 {
	rows := clone(w.rows)
	stays := map[int]bool{0: true}
	for _, b := range basins {
		stays[b.node] = true
	}
	for i := range rows {
		if !stays[i] {
			without(rows, i)
		}
	}
	return rows
}

// awake are the basins that resin comes up to as they stand. The others are
// empty and give none: it runs past them.
func awake(rows [][]float64, well float64, basins []basin) (through [][]float64, awake, waiting []basin) {
	through, awake = rows, basins
	for {
		lowest, at := 0.0, -1
		for i, b := range awake {
			in := -through[b.node][0] * well
			for _, o := range awake {
				in -= through[b.node][o.node] * o.pressure
			}
			if b.empty && in < lowest {
				lowest, at = in, i
			}
		}
		if at < 0 {
			return through, awake, waiting
		}
		through = clone(through)
		without(through, awake[at].node)
		waiting = append(waiting, awake[at])
		awake = append(append([]basin(nil), awake[:at]...), awake[at+1:]...)
	}
}

// modes are the ways in which the pressures of basins settle.
type modes struct {
	rates []float64 // 1/s
	share [][]float64
}

func newModes(rows [][]float64, well float64, basins []basin) modes {
	m := len(basins)
	if m == 0 {
		return modes{}
	}
	b := mat.NewSymDense(m, nil)
	for i, x := range basins {
		for j, y := range basins[i:] {
			b.SetSym(i, i+j, rows[x.node][y.node]/math.Sqrt(x.capacity*y.capacity))
		}
	}
	var eig mat.EigenSym
	eig.Factorize(b, true)
	var v mat.Dense
	eig.VectorsTo(&v)
	out := modes{rates: eig.Values(nil), share: make([][]float64, m)}
	for i := range out.share {
		out.share[i] = make([]float64, m)
	}
	for k := range m {
		c := 0.0
		for i, x := range basins {
			c += v.At(i, k) * math.Sqrt(x.capacity) * (x.pressure - well)
		}
		for i, x := range basins {
			out.share[i][k] = c * v.At(i, k) / math.Sqrt(x.capacity)
		}
	}
	return out
}

// gain is by how much the pressure of a basin has grown after a time.
func (m modes) gain(i int, t float64) float64 {
	sum := 0.0
	for k, c := range m.share[i] {
		sum += c * math.Expm1(-m.rates[k]*t)
	}
	return sum
}

// reaches is when a basin is full if none is before it. It is looked for in
// steps from the fastest mode on, and then between two of them.
func (m modes) reaches(i int, b basin) float64 {
	fastest := m.rates[len(m.rates)-1]
	if !(fastest > 0) || math.IsInf(fastest, 1) {
		return math.Inf(1)
	}
	wanted := b.full - b.pressure
	low, high := 0.0, max(1e-9/fastest, 1e-300)
	for m.gain(i, high) < wanted {
		if low, high = high, 1.3*high; high > 1e30 {
			return math.Inf(1)
		}
	}
	for range 100 {
		if mid := (low + high) / 2; m.gain(i, mid) < wanted {
			low = mid
		} else {
			high = mid
		}
	}
	return high
}
