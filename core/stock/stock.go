// Package stock tells what is left of the materials on the shelf, from what was
// bought, what was weighed since and what was counted, and whether it is enough.
package stock

import (
	"cmp"
	"math"
	"slices"
)

// Day is one of the calendar, counted from any; 0 is none.
type Day int

// Amount is so much of both parts of a material, in g.
type Amount struct{ A, B float64 }

// Plus is two amounts together.
func (a Amount) Plus(b Amount) Amount { return Amount{a.A + b.A, a.B + b.B} }

// Minus is what is left of an amount.
func (a Amount) Minus(b Amount) Amount { return Amount{a.A - b.A, a.B - b.B} }

// Total is both parts together, g.
func (a Amount) Total() float64 { return a.A + a.B }

// Usable is how much mixed material an amount makes in the ratio of whole by weight:
// what is short of one part is left over of the other, g.
func (a Amount) Usable(whole Amount) float64 {
	share := math.Inf(1)
	if whole.A > 0 {
		share = min(share, a.A/whole.A)
	}
	if whole.B > 0 {
		share = min(share, a.B/whole.B)
	}
	return max(0, share) * whole.Total()
}

// Lot is what was bought of a material at once.
type Lot struct {
	Name    string
	Bought  Day
	Opened  Day    // 0 for not yet
	Expires Day    // 0 where the label does not say
	Keeps   int    // days once it is open; 0 where the sheet does not say
	Has     Amount // as bought
}

// Ends is the day by which a lot is to be used, the earlier of its label and of what
// it keeps once it is open; false where nobody has said.
func (l Lot) Ends() (Day, bool) {
	end := l.Expires
	if l.Keeps > 0 && l.Opened != 0 {
		if by := l.Opened + Day(l.Keeps); end == 0 || by < end {
			end = by
		}
	}
	return end, end != 0
}

// Drawn is what went out on a day.
type Drawn struct {
	Day Day
	Lot string // empty where nobody wrote it down
	Amount
}

// Counted is what stood on the shelf at the end of a day.
type Counted struct {
	Day Day
	Lot string
	Amount
}

// Shelf is all of one material.
type Shelf struct {
	Lots    []Lot
	Drawn   []Drawn
	Counted []Counted
	Ratio   Amount // A to B by weight
}

// Left is what there is of a lot.
type Left struct {
	Lot
	Amount          // less than 0 where more was weighed than there was
	Since   Day     // it was counted; 0 where it never was
	Drawn   Amount  // since then, or since it was bought
	Assumed float64 // g of that, of which nobody wrote down the lot
}

// Level is what there is of a material.
type Level struct {
	Lots    []Left
	Usable  float64  // g that can be mixed of the lots that are not past their day
	Past    float64  // g that are
	Strange []string // lots in the log that are not on the shelf
	Loose   float64  // g that were drawn when the shelf was empty
}

// nothing is less than a scale tells, g.
const nothing = 0.05

// Level works out what is left on a day. What was weighed without a lot is taken off
// the lot that was opened first, or bought first where none is open.
func (s Shelf) Level(today Day) (out Level) {
	lots := slices.Clone(s.Lots)
	slices.SortStableFunc(lots, func(a, b Lot) int {
		return cmp.Or(cmp.Compare(opening(a), opening(b)), cmp.Compare(a.Bought, b.Bought), cmp.Compare(a.Name, b.Name))
	})
	at := make(map[string]int, len(lots))
	for i, l := range lots {
		at[l.Name] = i
		out.Lots = append(out.Lots, Left{Lot: l, Amount: l.Has})
	}
	counts := slices.Clone(s.Counted)
	slices.SortStableFunc(counts, func(a, b Counted) int { return cmp.Compare(a.Day, b.Day) })
	for _, c := range counts {
		if i, ok := at[c.Lot]; ok {
			out.Lots[i].Amount, out.Lots[i].Since = c.Amount, c.Day
		}
	}
	drawn := slices.Clone(s.Drawn)
	slices.SortStableFunc(drawn, func(a, b Drawn) int { return cmp.Compare(a.Day, b.Day) })
	var loose []Drawn
	for _, d := range drawn {
		i, ok := at[d.Lot]
		if !ok && d.Lot != "" && !slices.Contains(out.Strange, d.Lot) {
			out.Strange = append(out.Strange, d.Lot)
		}
		if ok {
			out.Lots[i].take(d)
		} else {
			loose = append(loose, d)
		}
	}
	for _, d := range loose { // what has its lot comes first
		out.loose(d)
	}
	for _, l := range out.Lots {
		g := l.Usable(s.Ratio)
		if end, ok := l.Ends(); ok && end < today {
			out.Past += g
		} else {
			out.Usable += g
		}
	}
	return out
}

// unopened comes behind whatever is open.
const unopened = 1 << 30

// opening orders lots: those that are open by their day, the others behind them.
func opening(l Lot) Day {
	if l.Opened == 0 {
		return l.Bought + unopened
	}
	return l.Opened
}

// take draws from a lot, unless it was counted afterwards.
func (l *Left) take(d Drawn) {
	if l.Since != 0 && d.Day <= l.Since {
		return
	}
	l.Amount, l.Drawn = l.Minus(d.Amount), l.Drawn.Plus(d.Amount)
}

// loose draws what has no lot from those that have something left, the first one
// first.
func (out *Level) loose(d Drawn) {
	left := d.Amount
	for i := range out.Lots {
		l := &out.Lots[i]
		if d.Day < l.Bought || l.Total() < nothing {
			continue
		}
		if l.Since != 0 && d.Day <= l.Since {
			return // it is in what was counted
		}
		part := Amount{min(left.A, max(0, l.A)), min(left.B, max(0, l.B))}
		l.Amount, l.Drawn = l.Minus(part), l.Drawn.Plus(part)
		l.Assumed += part.Total()
		if left = left.Minus(part); left.Total() < nothing {
			return
		}
	}
	out.Loose += left.Total()
}
