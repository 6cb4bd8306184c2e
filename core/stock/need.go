package stock

import (
	"cmp"
	"slices"
)

// Need is what an order still takes of a material.
type Need struct {
	Order string
	Grams float64
	Due   Day // 0 for none
}

// Outlook is how long a material lasts.
type Outlook struct {
	Need   float64  // g, of all orders together
	Short  float64  // g that are missing; 0 for none
	Pace   float64  // g a day
	Paced  bool     // by what was drawn, else by the days that the orders leave
	Over   int      // days that the pace was taken over
	RunsTo Day      // the day on which it runs out; 0 where it is enough or nobody knows
	Cuts   []string // the orders that it ends before, the latest due first
}

// How far back a pace is looked for, in days. Common practice, no source.
const (
	lookBack  = 28
	leastBack = 7
)

// Outlook tells whether a material is enough for orders, and when it runs out if not:
// at the pace of the last four weeks, or of the orders themselves where nothing was
// drawn in them.
func (s Shelf) Outlook(l Level, needs []Need, today Day) (out Outlook) {
	first := today - leastBack
	sum := 0.0
	for _, d := range s.Drawn {
		if d.Day > today-lookBack && d.Day <= today {
			sum += d.Total()
			first = min(first, d.Day)
		}
	}
	out.Over = int(today - first)
	if sum > 0 {
		out.Pace, out.Paced = sum/float64(out.Over), true
	}
	byDue := 0.0
	for _, n := range needs {
		out.Need += n.Grams
		if n.Due != 0 {
			byDue += n.Grams / float64(max(1, n.Due-today))
		}
	}
	if !out.Paced {
		out.Pace = byDue
	}
	out.Short = max(0, out.Need-l.Usable)
	if out.Short < nothing || out.Pace <= 0 {
		return out
	}
	out.RunsTo = today + Day(l.Usable/out.Pace+1e-6)
	sorted := slices.Clone(needs)
	slices.SortStableFunc(sorted, func(a, b Need) int { // what is due first is poured first
		return cmp.Compare(due(a), due(b))
	})
	left := l.Usable
	for _, n := range sorted {
		if left -= n.Grams; left < -nothing && n.Grams > 0 {
			out.Cuts = append(out.Cuts, n.Order)
		}
	}
	return out
}

// due orders needs: those without a day come last.
func due(n Need) Day {
	if n.Due == 0 {
		return unopened
	}
	return n.Due
}
