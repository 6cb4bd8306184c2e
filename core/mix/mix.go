// Package mix splits two-part materials, and knows those of one part. Which bottle a maker calls A or B
// differs; here A stands before the colon of the ratio.
package mix

import (
	"errors"
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/quantity"
)

// Ratio is how much of part A goes with how much of part B.
type Ratio struct {
	A, B     float64 // B is 0 for what has one part and is melted
	ByVolume bool    // else by weight
}

func (r Ratio) String() string {
	if r.B == 0 {
		return "one part"
	}
	how := "by weight"
	if r.ByVolume {
		how = "by volume"
	}
	return fmt.Sprintf("%g:%g %s", r.A, r.B, how)
}

// Material is a rubber or a resin as its data sheet gives it.
type Material struct {
	Name     string
	Ratio    Ratio
	Density  float64 // mixed, g/mL
	DensityA float64 // g/mL, needed to weigh a volume ratio
	DensityB float64
	Traits   Traits
}

// OnePart reports whether it is melted and poured, as wax and metal are.
func (m Material) OnePart() bool { return m.Ratio.B == 0 && m.Ratio.A > 0 }

// Validate says what is missing or impossible, in words for the sheet.
func (m Material) Validate() error {
	positive := func(x float64) bool { return x > 0 && !math.IsInf(x, 0) }
	if err := m.Traits.Check(); err != nil {
		return fmt.Errorf("%s: %w", m.Name, err)
	}
	switch {
	case m.OnePart() && m.Ratio.ByVolume:
		return fmt.Errorf("%s: what has one part has no ratio by volume", m.Name)
	case m.OnePart():
	case !positive(m.Ratio.A) || !positive(m.Ratio.B):
		return fmt.Errorf("%s: both sides of the ratio must be more than 0, not %g:%g", m.Name, m.Ratio.A, m.Ratio.B)
	case min(m.Ratio.A, m.Ratio.B) < 1/mostParts || max(m.Ratio.A, m.Ratio.B) > mostParts*min(m.Ratio.A, m.Ratio.B):
		return fmt.Errorf("%s: nothing is mixed %g:%g; a ratio is written in parts, as 10:1 or 100:45", m.Name, m.Ratio.A, m.Ratio.B)
	}
	switch {
	case !positive(m.Density):
		return fmt.Errorf("%s: the density must be more than 0, not %g g/mL", m.Name, m.Density)
	case m.Density < lightest || m.Density > heaviest:
		return fmt.Errorf("%s: a density of %g g/mL is no rubber or resin; check the unit", m.Name, m.Density)
	case m.Ratio.ByVolume && (!positive(m.DensityA) || !positive(m.DensityB)):
		return fmt.Errorf("%s: a ratio by volume can only be weighed when the densities of both parts are known", m.Name)
	case m.Ratio.ByVolume && (min(m.DensityA, m.DensityB) < lightest || max(m.DensityA, m.DensityB) > heaviest):
		return fmt.Errorf("%s: densities of %g and %g g/mL are those of no rubber or resin; check the unit", m.Name, m.DensityA, m.DensityB)
	}
	return nil
}

// ByWeight returns the ratio A/B by weight: r = (vA·ρA)/(vB·ρB) for a ratio by volume.
func (m Material) ByWeight() float64 {
	if m.Ratio.ByVolume {
		return m.Ratio.A * m.DensityA / (m.Ratio.B * m.DensityB)
	}
	return m.Ratio.A / m.Ratio.B
}

// Mixed is the density that the parts make together, g/mL: their volumes add.
// It is 0 where the density of a part is not known.
func (m Material) Mixed() float64 {
	if m.DensityA <= 0 || m.DensityB <= 0 || m.OnePart() {
		return 0
	}
	r := m.ByWeight()
	return (r + 1) / (r/m.DensityA + 1/m.DensityB)
}

// Batch is an amount of mixed material and its two parts.
type Batch struct {
	Volume derive.Number // mL, with allowance
	Mass   derive.Number // g
	A, B   derive.Number // g
	// VolumeA and VolumeB are the parts in mL, for measuring instead of
	// weighing; nil unless the ratio is by volume.
	VolumeA, VolumeB *derive.Number
}

// What a ratio and a scale can be at all; common practice, no source.
const (
	mostParts    = 1000.0 // of one to the other
	leastWeighed = 1e-4   // g
	lightest     = 0.2    // g/mL, foaming
	heaviest     = 12.0   // g/mL, metal that melts low
)

// ErrNothing marks a batch of no size.
var ErrNothing = errors.New("there is nothing to mix: the volume is 0")

// Split works out a batch that fills volume (mL).
func Split(m Material, volume derive.Number) (Batch, error) {
	if err := m.Validate(); err != nil {
		return Batch{}, err
	}
	if !(volume.Value > 0) || math.IsInf(volume.Value, 0) {
		return Batch{}, ErrNothing
	}
	sheet := "data sheet of " + m.Name
	mass := derive.Of(quantity.Mass, volume.Value*m.Density, "volume × density",
		volume.As("volume"), derive.From("density", quantity.Density, m.Density, sheet))
	if m.OnePart() {
		none := derive.Of(quantity.Mass, 0, "it has one part")
		return Batch{Volume: volume, Mass: mass, A: mass, B: none}, nil
	}
	r := m.ByWeight()
	b := Batch{Volume: volume, Mass: mass}
	partA, partB := derive.From("parts A", quantity.Number, m.Ratio.A, sheet), derive.From("parts B", quantity.Number, m.Ratio.B, sheet)
	if m.Ratio.ByVolume {
		inputs := []derive.Input{mass.As("mass"), partA, partB,
			derive.From("density A", quantity.Density, m.DensityA, sheet), derive.From("density B", quantity.Density, m.DensityB, sheet)}
		b.A = derive.Of(
			quantity.Mass,
			mass.Value*r/(r+1),
			"mass × parts A × density A / (parts A × density A + parts B × density B)",
			inputs...)
		b.B = derive.Of(
			quantity.Mass,
			mass.Value/(r+1),
			"mass × parts B × density B / (parts A × density A + parts B × density B)",
			inputs...)
		va := derive.Of(quantity.Volume, b.A.Value/m.DensityA, "mass A / density A", b.A.As("mass A"), inputs[3])
		vb := derive.Of(quantity.Volume, b.B.Value/m.DensityB, "mass B / density B", b.B.As("mass B"), inputs[4])
		b.VolumeA, b.VolumeB = &va, &vb
		return b, nil
	}
	b.A = derive.Of(quantity.Mass, mass.Value*r/(r+1), "mass × parts A / (parts A + parts B)", mass.As("mass"), partA, partB)
	b.B = derive.Of(quantity.Mass, mass.Value/(r+1), "mass × parts B / (parts A + parts B)", mass.As("mass"), partA, partB)
	return b, nil
}
