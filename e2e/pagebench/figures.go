package main

import (
	"fmt"
	"slices"
)

// figures are times in ms, one an event.
type figures []float64

// at is the time that a share of all events stays within.
func (f figures) at(share float64) float64 {
	if len(f) == 0 {
		return 0
	}
	s := slices.Sorted(slices.Values(f))
	return s[min(len(s)-1, int(share*float64(len(s))))]
}

func head(what, of string) {
	fmt.Printf("\n| %s | %s | p50, ms | p95, ms |\n|---|--:|--:|--:|\n", what, of)
}

func (f figures) row(name string) {
	fmt.Printf("| %s | %d | %.0f | %.0f |\n", name, len(f), f.at(0.5), f.at(0.95))
}
