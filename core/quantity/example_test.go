package quantity_test

import (
	"fmt"

	"bathyform/core/quantity"
)

// A caster writes a length as it stands on the rule.
func ExampleReader() {
	mm, err := quantity.Reader{System: quantity.US}.Parse(quantity.Length, "3 7/8 in")
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("%.3f mm\n", mm)
	// Output: 98.425 mm
}
