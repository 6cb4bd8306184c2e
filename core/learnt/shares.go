package learnt

import (
	"math"

	"gonum.org/v1/gonum/mathext"
)

// Counted is how often something came out well, and how often not.
type Counted struct{ Good, Bad int }

// Share is what the share of a group that comes out well has come to.
type Share struct {
	N         int
	Mean      float64 // as counted
	Low, High float64 // of it, the exact 95 per cent interval (Clopper & Pearson, Biometrika 26, 1934)
	Pooled    float64 // leant on the other groups
	Error     float64 // its standard error
	Own       float64 // share of it that is the group's own
}

// Shares is what all groups have come to together.
type Shares struct {
	N      int
	Mean   float64 // of the groups
	Error  float64
	Groups []Share
}

// PoolShares leans shares on one another as [Pool] does means: on the arcsine of their
// root, where the scatter of all shares is the same (Efron & Morris, J. Am. Stat. Assoc.
// 70, 1975; the three eighths are Anscombe's, Biometrika 35, 1948). Groups of which
// nothing was counted are an error of whoever asks: they come out as half and half.
func PoolShares(groups []Counted) (out Shares) {
	means, variances := make([]float64, len(groups)), make([]float64, len(groups))
	for i, g := range groups {
		n := float64(g.Good + g.Bad)
		means[i] = math.Asin(math.Sqrt((float64(g.Good) + 3.0/8) / (n + 3.0/4)))
		variances[i] = 1 / (4*n + 2)
		out.N += g.Good + g.Bad
	}
	if len(groups) == 0 {
		return out
	}
	mean, err, between := Combine(means, variances)
	out.Mean, out.Error = back(mean, err)
	for i, g := range groups {
		one := Share{N: g.Good + g.Bad, Own: 1}
		one.Mean = float64(g.Good) / math.Max(1, float64(one.N))
		one.Low, one.High = exact(g)
		if len(groups) > 1 {
			one.Own = between / (between + variances[i])
		}
		angle := one.Own*means[i] + (1-one.Own)*mean
		one.Pooled, one.Error = back(angle, math.Sqrt(one.Own*variances[i]+(1-one.Own)*(1-one.Own)*err*err))
		out.Groups = append(out.Groups, one)
	}
	return out
}

// back is the share of an angle, with its standard error.
func back(angle, err float64) (share, shareErr float64) {
	s, c := math.Sincos(angle)
	return s * s, 2 * math.Abs(s*c) * err
}

// exact is the interval that no counting of the share is outside of more often than
// one time in twenty.
func exact(g Counted) (low, high float64) {
	good, bad := float64(g.Good), float64(g.Bad)
	high = 1
	if good > 0 {
		low = mathext.InvRegIncBeta(good, bad+1, 0.025)
	}
	if bad > 0 {
		high = mathext.InvRegIncBeta(good+1, bad, 0.975)
	}
	return low, high
}
