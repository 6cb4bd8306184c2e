package life_test

import (
	"fmt"

	"bathyform/core/life"
)

// What the shop has logged corrects what the trade expects.
func ExampleLearn() {
	prior := life.PriorOf(life.Rubber{Family: "tin", Shore: 30})
	log := []life.Record{{Pulls: 12, WornOut: true}, {Pulls: 14, WornOut: true}, {Pulls: 11, WornOut: true}}
	before, after := life.Learn(prior, nil), life.Learn(prior, log)
	fmt.Println(before.NewMould().Value > 25, after.NewMould().Value < 20)
	fmt.Println("a mould with 12 pulls is likely to give ten more:", after.Outlasts(12, 10) > 0.5)
	// Output:
	// true true
	// a mould with 12 pulls is likely to give ten more: false
}
