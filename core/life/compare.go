package life

import (
	"maps"
	"math"
	"slices"

	"gonum.org/v1/gonum/mathext"
)

// Treated is a mould that had something done to it, or had not.
type Treated struct {
	Pulls   int
	WornOut bool
	From    int // pulls that it had given when it had it for the first time
	Never   bool
}

// Side is what moulds did while they had something, or while they had not: how many
// pulls they gave, and how many wore out.
type Side struct{ Moulds, Worn, Pulls int }

// Compared is how much oftener a mould wears out at a pull on one side than one that has
// given as many pulls on the other.
type Compared struct {
	With, Without Side
	Odds          float64 // their ratio, with to without; NaN where nothing can be compared, infinite where all wore out with
	Low, High     float64 // 95 per cent interval; High may be infinite
	Tells         bool    // whether the log tells anything of it yet
}

// LeastWorn is how many moulds of a kind must have worn out before a difference is told.
const LeastWorn = 30

// unsure is the chance outside of the interval.
const unsure = 0.05

// Compare holds moulds that had something against those that had not. Whoever lasts long
// is treated sooner or later, and wears more at every pull: so a mould counts as
// treated from then on only, and is held, whenever one wears out, against those that
// gave as many pulls. Given how many wore out at each number of pulls, how many of them
// were treated is hypergeometric, and their sum has an exact distribution for every
// common ratio of the odds (Gart, Biometrika 57, 1970): its interval is exact, its middle
// the likeliest. It is a comparison, no proof: who rests a mould may also treat it better.
func Compare(all []Treated) Compared {
	out := Compared{Odds: math.NaN(), High: math.Inf(1)}
	ends := make(map[int]bool)
	for _, m := range all {
		had := m.Pulls // without it
		if !m.Never {
			had = min(m.From, m.Pulls)
		}
		out.Without.Pulls += had
		out.With.Pulls += m.Pulls - had
		side := &out.Without
		if had < m.Pulls {
			side = &out.With
		}
		side.Moulds++
		if m.WornOut {
			side.Worn++
			ends[m.Pulls] = true
		}
	}
	s := sum{logs: []float64{0}}
	for _, at := range slices.Sorted(maps.Keys(ends)) {
		s.add(tableAt(all, at))
	}
	if len(s.logs) > 1 { // else all that wore out could only be on one side
		out.Odds, out.Low, out.High = s.likeliest(), s.below(1-unsure/2), s.above(1-unsure/2)
	}
	out.Tells = out.With.Worn+out.Without.Worn >= LeastWorn
	return out
}

// table is who wore out at a number of pulls, of those that had come so far.
type table struct{ with, worn, without, wornWithout int }

func tableAt(all []Treated, at int) (t table) {
	for _, m := range all {
		if m.Pulls < at {
			continue
		}
		n, worn := &t.without, &t.wornWithout
		if !m.Never && m.From < at {
			n, worn = &t.with, &t.worn
		}
		*n++
		if m.WornOut && m.Pulls == at {
			*worn++
		}
	}
	return t
}

// sum is how many of those that wore out had been treated, over all tables: the
// logarithms of the ways in which there are least, and one more each.
type sum struct {
	logs  []float64
	least int
	saw   int
}

// add takes a table in: it multiplies what there is by its ways.
func (s *sum) add(t table) {
	worn := t.worn + t.wornWithout
	low, high := max(0, worn-t.without), min(worn, t.with)
	s.saw += t.worn
	s.least += low
	ways := make([]float64, high-low+1)
	for i := range ways {
		ways[i] = lchoose(t.with, low+i) + lchoose(t.without, worn-low-i)
	}
	next := make([]float64, len(s.logs)+len(ways)-1)
	for i := range next {
		next[i] = math.Inf(-1)
	}
	for i, a := range s.logs {
		for k, b := range ways {
			next[i+k] = plus(next[i+k], a+b)
		}
	}
	s.logs = next
}

// plus adds two numbers by their logarithms.
func plus(a, b float64) float64 {
	if a < b {
		a, b = b, a
	}
	if math.IsInf(b, -1) {
		return a
	}
	return a + math.Log1p(math.Exp(b-a))
}

func lchoose(n, k int) float64 {
	return -math.Log(float64(n)+1) - mathext.Lbeta(float64(n-k)+1, float64(k)+1)
}

// at are the chances of each sum for a logarithm of the ratio of the odds.
func (s *sum) at(odds float64) []float64 {
	most := math.Inf(-1)
	out := make([]float64, len(s.logs))
	for i, l := range s.logs {
		out[i] = l + odds*float64(i)
		most = max(most, out[i])
	}
	whole := 0.0
	for i := range out {
		out[i] = math.Exp(out[i] - most)
		whole += out[i]
	}
	for i := range out {
		out[i] /= whole
	}
	return out
}

// widest is how far logarithms of a ratio of odds are looked for.
const widest = 30.0

// solve is the ratio of the odds at which a figure that grows with it is what is wanted.
func solve(want float64, of func(odds float64) float64) float64 {
	low, high := -widest, widest
	for range 80 {
		if mid := (low + high) / 2; of(mid) < want {
			low = mid
		} else {
			high = mid
		}
	}
	return math.Exp((low + high) / 2)
}

// likeliest is the ratio of the odds under which what was seen is likeliest: that whose
// mean it is.
func (s *sum) likeliest() float64 {
	seen := s.saw - s.least
	switch seen {
	case 0:
		return 0
	case len(s.logs) - 1:
		return math.Inf(1)
	}
	return solve(float64(seen), func(odds float64) (mean float64) {
		for i, p := range s.at(odds) {
			mean += float64(i) * p
		}
		return mean
	})
}

// below is the ratio under which as many as were seen, or more, come with the chance
// that is left.
func (s *sum) below(sure float64) float64 {
	seen := s.saw - s.least
	if seen == 0 {
		return 0
	}
	return solve(1-sure, func(odds float64) (chance float64) {
		for _, p := range s.at(odds)[seen:] {
			chance += p
		}
		return chance
	})
}

// above is the ratio over which as few as were seen, or fewer, come with the chance that
// is left.
func (s *sum) above(sure float64) float64 {
	seen := s.saw - s.least
	if seen == len(s.logs)-1 {
		return math.Inf(1)
	}
	return solve(-(1 - sure), func(odds float64) (chance float64) {
		for _, p := range s.at(odds)[:seen+1] {
			chance -= p
		}
		return chance
	})
}
