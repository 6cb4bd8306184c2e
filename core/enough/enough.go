// Package enough answers whether an order will be finished: how many pulls are to
// be planned for so many good castings, and whether the moulds on the rack last for
// them.
package enough

import (
	"errors"
	"math"

	"bathyform/core/life"
)

// Sure is how sure a plan is to be.
const Sure = 0.95

// Errors of an order.
var (
	ErrWanted = errors.New("the order must want a number of castings that can be made: from 0 to a million")
	ErrYield  = errors.New("the yield must lie between 0 and 1: the share of castings that come out good")
	ErrNone   = errors.New("with a yield of 0 no number of pulls is enough: find out first why none comes out good")
	ErrGang   = errors.New("a mould has from 1 to 1000 cavities")
)

// Yield is what is known of how many castings come out good.
type Yield struct {
	Share     float64 // fixed; used where nothing was counted
	Good, Bad int     // counted
	Counted   bool
	Usual     float64 // share that the shop is used to: it counts as [UsualCastings] more; 0 for none
}

// UsualCastings is for how many castings of its own a job's yield is taken to be what the
// shop is used to; common practice, no source.
const UsualCastings = 10

// Check refuses a yield that cannot be.
func (y Yield) Check() error {
	switch {
	case y.Counted && (y.Good < 0 || y.Bad < 0):
		return ErrYield
	case y.Usual < 0 || y.Usual >= 1:
		return ErrYield
	case y.Counted && y.Usual == 0 && y.Good == 0 && y.Bad > 0, !y.Counted && y.Share == 0:
		return ErrNone
	case !y.Counted && !(y.Share > 0 && y.Share <= 1):
		return ErrYield
	}
	return nil
}

// mostWanted bounds an order.
const mostWanted = 1_000_000

// few is under how many counted castings a uniform belief is added, so that a
// first good casting is not taken for a yield of one.
const few = 1

// atLeast is the chance that of n castings at least wanted are good: binomial where
// the yield is fixed, beta-binomial where it was counted.
func (y Yield) atLeast(wanted, n int) float64 {
	if wanted <= 0 {
		return 1
	}
	if n < wanted {
		return 0
	}
	sum := 0.0
	for k := wanted; k <= n; k++ {
		sum += math.Exp(y.logExactly(k, n))
	}
	return min(1, sum)
}

// logExactly is the logarithm of the chance of k good ones among n.
func (y Yield) logExactly(k, n int) float64 {
	choose := lchoose(n, k)
	if !y.Counted {
		if y.Share >= 1 {
			if k == n {
				return 0
			}
			return math.Inf(-1)
		}
		return choose + float64(k)*math.Log(y.Share) + float64(n-k)*math.Log1p(-y.Share)
	}
	a, b := y.beta()
	return choose + lbeta(a+float64(k), b+float64(n-k)) - lbeta(a, b)
}

// beta are the parameters of the belief about a counted yield.
func (y Yield) beta() (a, b float64) {
	a, b = float64(y.Good), float64(y.Bad)
	if y.Usual > 0 {
		return a + UsualCastings*y.Usual, b + UsualCastings*(1-y.Usual)
	}
	if y.Good < few || y.Bad < few {
		a, b = a+1, b+1
	}
	return a, b
}

func lgamma(x float64) float64 {
	v, _ := math.Lgamma(x)
	return v
}

func lchoose(n, k int) float64 {
	return lgamma(float64(n)+1) - lgamma(float64(k)+1) - lgamma(float64(n-k)+1)
}

func lbeta(a, b float64) float64 { return lgamma(a) + lgamma(b) - lgamma(a+b) }

// Castings is the least number of castings of which, with a chance, at least so
// many come out good.
func (y Yield) Castings(wanted int, sure float64) (int, error) {
	if wanted < 0 || wanted > mostWanted {
		return 0, ErrWanted
	}
	if err := y.Check(); err != nil {
		return 0, err
	}
	if wanted == 0 {
		return 0, nil
	}
	low, high := wanted-1, wanted
	for y.atLeast(wanted, high) < sure {
		low, high = high, 2*high
		if high > 100*mostWanted {
			return 0, ErrNone
		}
	}
	for high-low > 1 {
		if mid := (low + high) / 2; y.atLeast(wanted, mid) >= sure {
			high = mid
		} else {
			low = mid
		}
	}
	return high, nil
}

// Order is what is to be finished, with what.
type Order struct {
	Wanted    int
	Yield     Yield
	Cavities  int   // of a mould
	Together  bool  // what spoils one casting of a pull spoils them all
	Moulds    []int // pulls that those on the rack have done
	Forecast  life.Forecast
	Fresh     *life.Forecast // of new moulds, where they are of another rubber; nil for the same
	Accidents float64        // a pull, see [life.Accidents]; 0 for none
}

// Pulls is how many pulls are to be planned.
func (o Order) Pulls() (int, error) {
	if o.Cavities < 1 || o.Cavities > 1000 {
		return 0, ErrGang
	}
	wanted := o.Wanted
	if o.Together {
		wanted = (o.Wanted + o.Cavities - 1) / o.Cavities
		return o.Yield.Castings(wanted, Sure)
	}
	n, err := o.Yield.Castings(wanted, Sure)
	return (n + o.Cavities - 1) / o.Cavities, err
}

// enoughBy is the chance that the order is finished by so many pulls in all.
func (o Order) enoughBy(pulls int) float64 {
	if o.Together {
		return o.Yield.atLeast((o.Wanted+o.Cavities-1)/o.Cavities, pulls)
	}
	return o.Yield.atLeast(o.Wanted, pulls*o.Cavities)
}

// grid is over how many steps a sum of lives is taken at the most; longer orders
// are taken in larger steps.
const grid = 240

// faint is the weight of a future that no answer needs, as a share of the
// heaviest.
const faint = 3e-3

// Chances is the chance that the order is finished with the moulds on the rack,
// and with so many new ones beside them, up to the first that is sure or most.
// Lives of moulds of one rubber depend on the same unknown: every future is gone
// through by itself, and mixed afterwards.
func (o Order) Chances(most int) ([]float64, error) {
	need, err := o.Pulls()
	if err != nil {
		return nil, err
	}
	if need == 0 {
		return []float64{1}, nil
	}
	last := need
	for o.enoughBy(last) < 1-1e-6 && last < 40*need+40 {
		last += 1 + last/20
	}
	step, n := steps(last)
	done := make([]float64, n) // by pulls up to i steps
	for i := range done {
		done[i] = o.enoughBy(i * step)
	}
	out := make([]float64, most+1)
	more := func(w float64, sum, fresh []float64) {
		for k := range out {
			if k > 0 {
				sum = added(sum, fresh)
			}
			chance := 0.0
			for i, p := range sum {
				chance += p * done[i]
			}
			out[k] += w * chance
		}
	}
	if o.Fresh == nil {
		futures(o.Forecast, func(w float64, outlasts outlasts) {
			more(w, o.onRack(n, step, outlasts), o.lives(0, n, step, outlasts))
		})
	} else { // what is learnt of one rubber says nothing of the other
		rack := o.rack(n, step)
		futures(*o.Fresh, func(w float64, outlasts outlasts) { more(w, rack, o.lives(0, n, step, outlasts)) })
	}
	for k := range out {
		if out[k] >= Sure {
			return out[:k+1], nil
		}
	}
	return out, nil
}

// Lasts is how many pulls the moulds on the rack give with a chance, up to most.
func (o Order) Lasts(sure float64, most int) int {
	step, n := steps(most)
	rack := o.rack(n, step)
	chance := 0.0
	for i := n - 1; i > 0; i-- {
		if chance += rack[i]; chance >= sure {
			return min(most, i*step)
		}
	}
	return 0
}

// outlasts is the chance that a mould with so many pulls gives more than further ones.
type outlasts func(pulls, further int) float64

// steps are how large they are and how many, up to a number of pulls.
func steps(last int) (step, n int) {
	step = max(1, int(math.Ceil(float64(last)/grid)))
	return step, last/step + 2
}

// futures calls use for every way in which moulds may wear that an answer needs, with
// its weight among them.
func futures(f life.Forecast, use func(weight float64, outlasts outlasts)) {
	heaviest, total := 0.0, 0.0
	f.Futures(func(w float64, _ func(int, int) float64) { heaviest = max(heaviest, w) })
	f.Futures(func(w float64, _ func(int, int) float64) {
		if w >= faint*heaviest {
			total += w
		}
	})
	f.Futures(func(w float64, outlasts func(int, int) float64) {
		if w >= faint*heaviest {
			use(w/total, outlasts)
		}
	})
}

// onRack is how the pulls of the moulds on the rack together are distributed in one
// future, in steps.
func (o Order) onRack(n, step int, outlasts outlasts) []float64 {
	sum := make([]float64, n)
	sum[0] = 1
	for _, pulls := range o.Moulds {
		sum = added(sum, o.lives(pulls, n, step, outlasts))
	}
	return sum
}

// rack is that of all futures together.
func (o Order) rack(n, step int) []float64 {
	out := make([]float64, n)
	futures(o.Forecast, func(w float64, outlasts outlasts) {
		for i, p := range o.onRack(n, step, outlasts) {
			out[i] += w * p
		}
	})
	return out
}

// lives is how the further pulls of a mould are distributed, in steps; the last
// takes all that is beyond.
func (o Order) lives(pulls, n, step int, outlasts outlasts) []float64 {
	out := make([]float64, n)
	before := 1.0
	for i := 1; i < n; i++ {
		after := outlasts(pulls, i*step)
		if o.Accidents > 0 {
			after *= math.Exp(-o.Accidents * float64(i*step))
		}
		mass := before - after // it gives up to i steps, and more than one less
		if step == 1 {
			out[i] += mass
		} else { // somewhere in between
			out[i-1] += mass / 2
			out[i] += mass / 2
		}
		before = after
	}
	out[n-1] += before
	return out
}

// added is the distribution of a sum; what is beyond the last step stays there.
func added(a, b []float64) []float64 {
	n := len(a)
	out := make([]float64, n)
	beyond := 0.0
	for i, p := range a {
		if p < 1e-12 {
			continue
		}
		within := 0.0
		for k, q := range b[:n-1-min(i, n-1)] {
			out[i+k] += p * q
			within += q
		}
		beyond += p * (1 - within)
	}
	out[n-1] += beyond
	return out
}
