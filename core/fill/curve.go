package fill

import "sort"

// Curve is how much liquid stands below each level: Volume[i] mm³ below
// Height[i] mm along up. Both rise.
type Curve struct {
	Height []float64
	Volume []float64
}

// Levels returns the curve of the cavity at n+1 evenly spaced levels from
// low to high. Between the ends it is good to a cell; its top is exact. With
// keep, only the columns at plan positions (in the frame) for which it is
// true count.
func (s *Space) Levels(low, high float64, n int, keep func(x, y float64) bool) Curve {
	return s.levels(low, high, n, keep, nil)
}

// levels is the same where stretches are reached only once the level stands at
// their passes; none for at their floors.
func (s *Space) levels(low, high float64, n int, keep func(x, y float64) bool, pass []float64) Curve {
	c := Curve{Height: make([]float64, n+1), Volume: make([]float64, n+1)}
	step := (high - low) / float64(n)
	for i := range c.Height {
		c.Height[i] = low + step*float64(i)
	}
	c.Height[n] = high
	// A span gives what of it lies below a level: nothing up to its foot, all of
	// it from its head on. What changes at a level is noted there and summed up
	// afterwards, so that a span costs the same however many levels it reaches.
	begun, feet, whole := make([]float64, n+2), make([]float64, n+2), make([]float64, n+2)
	above := func(z float64) int { return sort.Search(n+1, func(k int) bool { return c.Height[k] > z }) }
	for i := range s.grid.spans {
		span := &s.grid.spans[i]
		if keep != nil {
			if x, y := s.grid.Centre(int(span.column)); !keep(x, y) {
				continue
			}
		}
		from := span.lo
		if pass != nil {
			from = pass[i]
		}
		in, out := above(max(span.lo, from)), above(max(span.hi, from))
		begun[in]++
		begun[out]--
		feet[in] += span.lo
		feet[out] -= span.lo
		whole[out] += span.hi - span.lo
	}
	var partly, foot, full float64
	for k, h := range c.Height {
		partly, foot, full = partly+begun[k], foot+feet[k], full+whole[k]
		c.Volume[k] = max(partly*h-foot+full, c.Volume[max(k-1, 0)]) // rounding takes nothing back
	}
	scale := s.grid.Cell * s.grid.Cell
	if total := s.spanVolume(); total > 0 && !s.around {
		scale = s.grid.Cell * s.grid.Cell * s.volume / total
	}
	for k := range c.Volume {
		c.Volume[k] *= scale
	}
	return c
}
