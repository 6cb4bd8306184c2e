// Package watch tells when a cavity gives more scrap than it should: a chart for
// each, with a known rate of false alarms.
//
// The chart is a Bernoulli CUSUM in whole numbers (Page, Biometrika 41, 1954;
// Reynolds and Stoumbos, J. Qual. Technol. 31, 1999): a bad casting adds, a good
// one takes one off, never under nothing, and at a height it alarms and begins
// anew.
package watch

import "math"

// Chart is how a cavity is watched.
type Chart struct {
	Adds   int     // for a bad casting
	Height int     // at which it alarms
	Usual  float64 // share of scrap that is borne
	Caught float64 // share that it is made to catch
}

// The charts that are kept. Five per cent of scrap is borne, twenty is caught; in
// a gang of four and more, where several charts run at once, a higher one alarms
// less often for nothing.
var (
	One  = Chart{Adds: 8, Height: 18, Usual: 0.05, Caught: 0.20}
	Many = Chart{Adds: 8, Height: 27, Usual: 0.05, Caught: 0.20}
)

// manyCavities is from how many cavities on [Many] is used.
const manyCavities = 4

// For is the chart of each cavity of a mould.
func For(cavities int) Chart {
	if cavities >= manyCavities {
		return Many
	}
	return One
}

// Watched is what a chart has seen.
type Watched struct {
	Pulls, Bad int
	States     []int // after each pull
	Alarms     []int // pulls, from 1, at which it alarmed
}

// Run runs a chart over castings in their order, true for a bad one.
func (c Chart) Run(bad []bool) (out Watched) {
	s := 0
	for i, b := range bad {
		out.Pulls++
		if b {
			out.Bad++
			s += c.Adds
		} else {
			s = max(0, s-1)
		}
		out.States = append(out.States, s)
		if s >= c.Height {
			out.Alarms = append(out.Alarms, i+1)
			s = 0
		}
	}
	return out
}

// Scrap is the share of scrap that is to be expected of what was seen, drawn
// towards five per cent where little was: Beta(1, 19) beforehand.
func (w Watched) Scrap() float64 { return (float64(w.Bad) + 1) / (float64(w.Pulls) + 20) }

// RunLength is how many pulls pass on average until the chart alarms where a share
// of castings is bad: exact, by the chain of its states (Brook and Evans 1972).
func (c Chart) RunLength(share float64) float64 {
	// E[s] = 1 + p E[s+adds] + (1−p) E[max(0, s−1)], 0 from the height on
	n := c.Height
	a := make([][]float64, n)
	for s := range a {
		a[s] = make([]float64, n+1)
		a[s][s], a[s][n] = 1, 1
		if up := s + c.Adds; up < n {
			a[s][up] -= share
		}
		a[s][max(0, s-1)] -= 1 - share
	}
	return solved(a)[0]
}

// solved solves a square system whose right side is the last column, by
// elimination with pivots.
func solved(a [][]float64) []float64 {
	n := len(a)
	for k := range n {
		best := k
		for i := k + 1; i < n; i++ {
			if math.Abs(a[i][k]) > math.Abs(a[best][k]) {
				best = i
			}
		}
		a[k], a[best] = a[best], a[k]
		for i := k + 1; i < n; i++ {
			f := a[i][k] / a[k][k]
			for j := k; j <= n; j++ {
				a[i][j] -= f * a[k][j]
			}
		}
	}
	x := make([]float64, n)
	for i := n - 1; i >= 0; i-- {
		x[i] = a[i][n]
		for j := i + 1; j < n; j++ {
			x[i] -= a[i][j] * x[j]
		}
		x[i] /= a[i][i]
	}
	return x
}

// FalseAlarm is the chance that a chart alarms for nothing within so many pulls:
// exact, by the chain of its states.
func (c Chart) FalseAlarm(pulls int) float64 {
	at := make([]float64, c.Height)
	at[0] = 1
	alarmed := 0.0
	for range pulls {
		next := make([]float64, c.Height)
		for s, p := range at {
			if up := s + c.Adds; up >= c.Height {
				alarmed += p * c.Usual
			} else {
				next[up] += p * c.Usual
			}
			next[max(0, s-1)] += p * (1 - c.Usual)
		}
		at = next
	}
	return alarmed
}

// Together are the pulls, from 1, at which all cavities of a mould were bad at
// once: that is the mix, not the mould. There are none where there is one cavity.
func Together(cavities [][]bool) (out []int) {
	if len(cavities) < 2 {
		return nil
	}
	for i := range cavities[0] {
		all := true
		for _, c := range cavities {
			all = all && i < len(c) && c[i]
		}
		if all {
			out = append(out, i+1)
		}
	}
	return out
}
