package fill

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
	c := Curve{Height: make([]float64, n+1), Volume: make([]float64, n+1)}
	step := (high - low) / float64(n)
	for i := range c.Height {
		c.Height[i] = low + step*float64(i)
	}
	c.Height[n] = high
	for i := range s.grid.spans {
		span := &s.grid.spans[i]
		if keep != nil {
			if x, y := s.grid.Centre(int(span.column)); !keep(x, y) {
				continue
			}
		}
		for k := max(0, int((span.lo-low)/step)); k <= n; k++ {
			if level := c.Height[k]; level > span.lo {
				c.Volume[k] += min(level, span.hi) - span.lo
			}
		}
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
