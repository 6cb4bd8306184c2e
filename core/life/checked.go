package life

import (
	"cmp"
	"slices"
	"sort"

	"gonum.org/v1/gonum/mathext"
)

// Lived is what a mould has gone through, by days that are counted from any one.
type Lived struct {
	Poured  int
	Pulled  []int // the day of each pull, in order
	Retired bool
	Ended   int // the day it was retired, where it was
	WornOut bool
	Wear    float64 // of its kind, see [Forecast.Wearing]; 0 for 1
}

// Fate is what came of a forecast.
type Fate int

// What can come of a forecast: the mould may go on, or have gone for another reason,
// while both were still possible.
const (
	Open   Fate = iota
	Less        // it wore out sooner than was said
	Inside      // the span that was said
	More        // it gives more than was said, whether it still lives or not
)

// Came is a forecast of long ago held against what came.
type Came struct {
	Mould    int // which of them
	At       int // pulls that it had given
	Day      int // it was said on
	Forecast Remaining
	Gave     int  // further pulls
	WornOut  bool // that was all it gave
	Fate     Fate

	by float64 // share of such moulds that are worn out by then
}

// CheckedEvery is after how many pulls each forecast is gone back to: in between it
// says nearly the same.
const CheckedEvery = 10

// Checked makes the forecast of every mould anew as it stood when it was poured, and
// after each [CheckedEvery] of its pulls, from what all of them had done until the day
// before, and holds it against what came. It comes in the order of the days.
func Checked(p Prior, moulds []Lived) []Came {
	return checked(p, moulds, func(int) bool { return true })
}

// CheckedOf are the forecasts of one of the moulds, as [Checked] has them.
func CheckedOf(p Prior, moulds []Lived, mould int) []Came {
	return checked(p, moulds, func(i int) bool { return i == mould })
}

func checked(p Prior, moulds []Lived, wanted func(mould int) bool) []Came {
	var out []Came
	for i, m := range moulds {
		if !wanted(i) {
			continue
		}
		for at := 0; at < len(m.Pulled); at += CheckedEvery { // one that gave nothing since tells nothing
			day := m.Poured
			if at > 0 {
				day = m.Pulled[at-1]
			}
			out = append(out, Came{Mould: i, At: at, Day: day, Gave: len(m.Pulled) - at, WornOut: m.WornOut})
		}
	}
	slices.SortStableFunc(out, func(a, b Came) int { return cmp.Or(a.Day-b.Day, a.Mould-b.Mould, a.At-b.At) })

	ended := byEnd(moulds)
	seen := believe(p)
	var gone [gridBeta]float64 // what those have gone through that ended otherwise
	for c := range out {
		for ; len(ended) > 0 && moulds[ended[0]].Ended < out[c].Day; ended = ended[1:] {
			m := moulds[ended[0]]
			r := Record{Pulls: len(m.Pulled), WornOut: m.WornOut, Wear: m.Wear}.plain()
			if r.WornOut {
				seen.wearOut(r, 1)
			} else {
				seen.live(&gone, r, 1)
			}
		}
		out[c].hold(seen, gone, moulds)
	}
	return out
}

// byEnd are the moulds that ended, in the order of the days.
func byEnd(moulds []Lived) (out []int) {
	for i, m := range moulds {
		if m.Retired {
			out = append(out, i)
		}
	}
	slices.SortStableFunc(out, func(a, b int) int { return moulds[a].Ended - moulds[b].Ended })
	return out
}

// hold makes the forecast from what was seen of the moulds that had ended, and of those
// that lived that day, and says what came of it.
func (c *Came) hold(seen *belief, through [gridBeta]float64, moulds []Lived) {
	wear := 1.0
	for i, m := range moulds {
		had := sort.SearchInts(m.Pulled, c.Day)
		if i == c.Mould {
			had = c.At
		} else if m.Retired && m.Ended < c.Day {
			continue
		}
		r := Record{Pulls: had, Wear: m.Wear}.plain()
		if i == c.Mould {
			wear = r.Wear
		}
		if had > 0 {
			seen.live(&through, r, 1)
		}
	}
	f := seen.forecast(&through).Wearing(wear)
	c.Forecast = f.Remaining(c.At)
	c.by = 1 - f.Outlasts(c.At, c.Gave)
	switch {
	case c.WornOut && c.Gave < c.Forecast.Low:
		c.Fate = Less
	case c.WornOut && c.Gave <= c.Forecast.High:
		c.Fate = Inside
	case c.Gave > c.Forecast.High || !c.WornOut && c.Gave == c.Forecast.High:
		c.Fate = More
	}
}

// Tally is how good the forecasts were that were made at one age.
type Tally struct {
	At                       int // pulls that the moulds had given
	Less, Inside, More, Open int
	// Share that comes inside; those that are open count as far as they came, by
	// Kaplan and Meier on the share of such moulds that are worn out by then.
	Share float64
	// Low, High are the exact 95 per cent interval of as many as are decided.
	Low, High float64
}

// Decided are the forecasts of which it is known what came.
func (t Tally) Decided() int { return t.Less + t.Inside + t.More }

// Tallied puts forecasts together by the age at which they were made: at one age each
// mould has one, so that none counts twice. Eight in ten are to come inside.
func Tallied(came []Came) (out []Tally) {
	ages := make(map[int][]Came)
	last := 0
	for _, c := range came {
		ages[c.At] = append(ages[c.At], c)
		last = max(last, c.At)
	}
	for at := 0; at <= last && len(came) > 0; at += CheckedEvery {
		out = append(out, tally(at, ages[at]))
	}
	return out
}

func tally(at int, came []Came) Tally {
	t := Tally{At: at}
	const fine = 1e6 // steps within a fate, to put them in order
	var ways []Record
	for _, c := range came {
		fate := c.Fate
		switch c.Fate {
		case Open:
			t.Open++
			if fate = Inside; c.Gave < c.Forecast.Low {
				fate = Less
			}
		case Less:
			t.Less++
		case Inside:
			t.Inside++
		case More:
			t.More++
		}
		ways = append(ways, Record{Pulls: int((2*float64(fate) + c.by) * fine), WornOut: c.Fate != Open})
	}
	n := float64(t.Decided())
	if n == 0 {
		return t
	}
	beyond := func(fate Fate) float64 {
		share := 1.0
		for _, s := range Survival(ways) {
			if s.Pulls < int(2*float64(fate+1)*fine) {
				share = s.Share
			}
		}
		return share
	}
	t.Share = max(0, beyond(Less)-beyond(Inside))
	inside := t.Share * n
	if t.High = 1; inside < n {
		t.High = mathext.InvRegIncBeta(inside+1, n-inside, 1-unsure/2)
	}
	if inside > 0 {
		t.Low = mathext.InvRegIncBeta(inside, n-inside+1, unsure/2)
	}
	return t
}
