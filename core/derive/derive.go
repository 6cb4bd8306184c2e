// Package derive carries with every computed number how it was worked out,
// so that a caster can check it by hand.
package derive

import "bathyform/core/quantity"

// Number is a value with the sum it came from.
type Number struct {
	Value   float64
	Kind    quantity.Kind // what Value measures, in the unit that kind is kept in
	Formula string        // in words and the names of Inputs
	Inputs  []Input
	Note    string // assumptions, or how far the figure can be trusted
}

// Input is one value that went into a sum.
type Input struct {
	Name   string
	Value  float64
	Kind   quantity.Kind
	Source string  // where the value comes from: the mesh, House practice, the caster, a material's sheet
	Number *Number // how the input itself was worked out, if it was
}

// Of makes a number.
func Of(kind quantity.Kind, value float64, formula string, inputs ...Input) Number {
	return Number{Value: value, Kind: kind, Formula: formula, Inputs: inputs}
}

// From makes a plain input.
func From(name string, kind quantity.Kind, value float64, source string) Input {
	return Input{Name: name, Value: value, Kind: kind, Source: source}
}

// As makes an input out of a number that was worked out before.
func (n Number) As(name string) Input {
	return Input{Name: name, Value: n.Value, Kind: n.Kind, Source: "worked out", Number: &n}
}

// Noted returns the number with a remark.
func (n Number) Noted(note string) Number {
	n.Note = note
	return n
}
