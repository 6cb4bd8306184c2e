// Package learnt makes of what a shop has measured the figures that it reckons with:
// how much stays in a cup, how long a pour takes, how long a resin can be poured.
// Where a kind has been measured a few times only, it leans on the others.
package learnt

import (
	"math"

	"gonum.org/v1/gonum/stat"
)

// Group is what was measured of one kind.
type Group struct {
	Of     string
	Values []float64
}

// Learnt is what a group has come to.
type Learnt struct {
	Of     string
	N      int
	Mean   float64
	Spread float64 // standard deviation; NaN of a single one
	Pooled float64 // the mean, leant on the other groups
	Error  float64 // its standard error; NaN where nothing is known of it
	Own    float64 // share of it that is the group's own
}

// Pooled is what all groups have come to together.
type Pooled struct {
	N       int
	Mean    float64 // of the groups
	Error   float64
	Within  float64 // standard deviation of one measurement in its group
	Between float64 // standard deviation of the groups' own means; 0 where they do not differ more than chance
	Groups  []Learnt
}

// Pool takes groups together: each mean is leant on the others by as much as its own
// scatter is larger than what the groups differ by (partial pooling, with the
// variance between groups after DerSimonian & Laird, Control. Clin. Trials 7, 1986,
// and every group's mean shrunk towards the common one as Lindley & Smith, J. R. Stat.
// Soc. B 34, 1972, do). The scatter of one measurement is taken to be the same in all.
func Pool(groups []Group) (out Pooled) {
	var squares float64
	var free int
	var means, variances []float64
	for _, g := range groups {
		n := len(g.Values)
		if n == 0 {
			continue
		}
		one := Learnt{Of: g.Of, N: n, Spread: math.NaN(), Own: 1}
		if n > 1 {
			one.Mean, one.Spread = stat.MeanStdDev(g.Values, nil)
			squares += one.Spread * one.Spread * float64(n-1)
			free += n - 1
		} else {
			one.Mean = g.Values[0]
		}
		out.N += n
		out.Groups = append(out.Groups, one)
		means = append(means, one.Mean)
	}
	out.Within, out.Error = math.NaN(), math.NaN()
	if out.N == 0 {
		return out
	}
	if free == 0 { // nothing was measured twice: nobody knows how it scatters
		out.Mean = stat.Mean(means, nil)
		for i := range out.Groups {
			out.Groups[i].Pooled, out.Groups[i].Error = out.Groups[i].Mean, math.NaN()
		}
		return out
	}
	out.Within = math.Sqrt(squares / float64(free))
	for _, g := range out.Groups {
		variances = append(variances, max(out.Within*out.Within, tiny)/float64(g.N))
	}
	mean, err, between := Combine(means, variances)
	out.Mean, out.Error, out.Between = mean, err, math.Sqrt(between)
	for i := range out.Groups {
		g := &out.Groups[i]
		g.Own = 1
		if len(out.Groups) > 1 {
			g.Own = between / (between + variances[i])
		}
		g.Pooled = g.Own*g.Mean + (1-g.Own)*mean
		g.Error = math.Sqrt(g.Own*variances[i] + (1-g.Own)*(1-g.Own)*err*err)
	}
	return out
}

// tiny keeps measurements that were all the same from being taken for certain.
const tiny = 1e-12

// Combine is the common mean of some means with their variances, its standard error
// and the variance between them, after DerSimonian and Laird.
func Combine(means, variances []float64) (mean, err, between float64) {
	var w, ww, wm float64
	for i, v := range variances {
		w += 1 / v
		ww += 1 / (v * v)
		wm += means[i] / v
	}
	q := 0.0
	for i, v := range variances {
		q += (means[i] - wm/w) * (means[i] - wm/w) / v
	}
	if k := float64(len(means)); k > 1 {
		between = max(0, (q-(k-1))/(w-ww/w))
	}
	var s, sm float64
	for i, v := range variances {
		s += 1 / (v + between)
		sm += means[i] / (v + between)
	}
	return sm / s, math.Sqrt(1 / s), between
}
