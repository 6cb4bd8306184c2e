// Package kinds holds the kinds of mould of the trade, a file each: when one
// is right, what is poured for it, what is done at the bench, what is cut and
// printed for it, how resin comes in, and how long it lasts. Whatever differs
// from kind to kind is told here, and nowhere else.
package kinds

import (
	"fmt"

	"bathyform/core/axis"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/finish"
	"bathyform/core/tone"
)

// Resin is how resin comes into a mould.
type Resin int

// The ways in.
const (
	Sprued  Resin = iota // through a sprue or an opening, with vents
	Pressed              // between the halves; a blind channel takes what is squeezed out
	Poured               // into the open face
)

// Kind is a kind of mould.
type Kind struct {
	Key  design.Kind
	Name string
	What string // in a line

	Halves    bool // in two halves, poured one after the other; else in one pour
	Sided     bool // with side pieces for what no rubber strips out of
	Keyed     bool // halves are located by keys
	Cut       bool // poured whole and cut open along the parting
	Held      bool // poured all round, so that the master stands or hangs in it
	Peeled    bool // poured whole and peeled off; there is no parting
	OnBoard   bool // the part stands on its flat back, with no rubber under it
	Shelled   bool // a skin between the part and a rigid shell, with no box
	Resin     Resin
	Wear      float64 // share of a plain block's life
	Again     float64 // h of work that each mould after the first takes; 0 for as much as the first
	Blind     bool    // can be planned for a master whose shape is not known
	Elsewhere string  // why it is not built here; empty for the others

	Suits  func(Case) Suit
	Begin  func(*Bench)                        // what is done before the box stands
	Open   func(*Bench)                        // and after the last cure
	Bed    string                              // what comes off when the box is turned over between halves
	Scenes func(a, b, resin axis.Axis) []Scene // by the ways up of the rubber pours and of the resin
	Finish func(f *finish.Casting, c Casting)
	Extras func(*Bench) []Extra
	Sheets []Sheet
	Bodies []Sheet
}

// Takes is a design as a kind takes it: an open face looks up while resin is
// poured into it.
func (k *Kind) Takes(d design.Design) design.Design {
	if k.Resin == Poured {
		d.ResinUp = d.RubberUpA.Opposite()
	}
	return d
}

// Suit is what speaks for a kind and what against; a stop rules it out.
type Suit struct {
	For     []string
	Against []finding.Finding
}

// Fits reports whether nothing rules the kind out.
func (s Suit) Fits() bool {
	for _, f := range s.Against {
		if f.Severity == finding.Stop {
			return false
		}
	}
	return true
}

// Why is the reasons in words, what rules it out first.
func (s Suit) Why() (out []string) {
	for _, severity := range []finding.Severity{finding.Stop, finding.Watch} {
		for _, f := range s.Against {
			if f.Severity == severity {
				out = append(out, f.What)
			}
		}
	}
	return append(out, s.For...)
}

// Scene is a picture of the mould at one pour: what lies on half A's side of
// the parting, on half B's, and in the cavity.
type Scene struct {
	Name               string
	Up                 axis.Axis
	Upper, Lower, Fill tone.Tone
}

// Casting is what is known of one casting as it leaves the mould.
type Casting struct {
	Free  float64 // mm² that lay open to the air
	Sides float64 // side pieces for each cavity
}

// Extra is a quantity that only this kind has.
type Extra struct {
	Name   string
	Number Number
}

// Sheet is something to cut or print, by its key.
type Sheet struct{ Key, Label string }

// All kinds, in the order they are offered.
var All = []*Kind{Board, Clay, Cut, Tape, Pieces, Squeeze, OpenFace, Stretch, Shell, Hot}

// Built are the kinds that are planned and built here.
var Built = All[:len(All)-1]

// Usual is the kind that is built where nobody has said.
var Usual = Clay

// Of finds a kind by its key.
func Of(key design.Kind) (*Kind, error) {
	for _, k := range All {
		if k.Key == key {
			if k.Elsewhere != "" {
				return nil, fmt.Errorf("a %s mould is not built here: %s", key, k.Elsewhere)
			}
			return k, nil
		}
	}
	return nil, fmt.Errorf("there is no kind of mould %q", key)
}
