package mix

import (
	"errors"
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/quantity"
)

// Recipe is a colour as it was matched once: pigments in a batch of known
// mass. Another batch takes them in the same proportion.
type Recipe struct {
	Batch    float64   `json:"batch"`          // g of both parts that it was matched in
	Step     float64   `json:"step,omitempty"` // g, one digit of the scale for pigments; 0 for the shop's scale
	Pigments []Pigment `json:"pigments"`
}

// Pigment is one colour of a recipe: so many grams, or so many drops.
type Pigment struct {
	Name  string  `json:"name"`
	Grams float64 `json:"grams,omitempty"`
	Drops float64 `json:"drops,omitempty"`
}

// Dose is a pigment for one batch.
type Dose struct {
	Name    string
	ByDrops bool
	Amount  derive.Number // g, or drops
	Order   derive.Number // of all batches of the order, to be tinted in one pot
	// Low and High are the shares by which what was matched may have been off:
	// by the reading alone, and by tare and reading together.
	Low, High derive.Number
}

const mostPigments = 12

// Check refuses a recipe that cannot be scaled.
func (r Recipe) Check() error {
	positive := func(x, most float64) bool { return x > 0 && x <= most }
	switch {
	case !positive(r.Batch, 1e6):
		return fmt.Errorf("a colour is matched in a batch of more than 0 g, not %g", r.Batch)
	case r.Step != 0 && !positive(r.Step, 100):
		return fmt.Errorf("one digit of the scale for pigments lies between 0 and 100 g, not %g", r.Step)
	case len(r.Pigments) > mostPigments:
		return fmt.Errorf("a colour has %d pigments at most", mostPigments)
	}
	for _, p := range r.Pigments {
		switch grams, drops := positive(p.Grams, r.Batch), positive(p.Drops, 1e5); {
		case p.Name == "":
			return errors.New("every pigment has a name, so that the next batch finds it")
		case grams == drops || p.Grams != 0 && p.Drops != 0:
			return fmt.Errorf("say of %s how many grams or how many drops, one of the two, and no more than the batch", p.Name)
		}
	}
	return nil
}

// Doses scale a recipe to a batch of some mass in g, of which the order takes
// so many.
func (r Recipe) Doses(mass derive.Number, batches int, scaleStep float64) ([]Dose, error) {
	if err := r.Check(); err != nil {
		return nil, err
	}
	step := derive.From("digit of the scale", quantity.Mass, scaleStep, "House practice")
	if r.Step > 0 {
		step = derive.From("digit of the scale", quantity.Mass, r.Step, "this recipe")
	}
	matched := derive.From("batch it was matched in", quantity.Mass, r.Batch, "this recipe")
	n := derive.From("batches", quantity.Number, float64(max(1, batches)), "the order")
	var out []Dose
	for _, p := range r.Pigments {
		kind, amount, d := quantity.Mass, p.Grams, Dose{Name: p.Name}
		if p.Drops > 0 {
			kind, amount, d.ByDrops = quantity.Number, p.Drops, true
		}
		was := derive.From("of it then", kind, amount, "this recipe")
		d.Amount = derive.Of(kind, amount*mass.Value/r.Batch, "of it then × batch / batch it was matched "+
			"in", was, mass.As("batch"), matched)
		d.Order = derive.Of(kind, d.Amount.Value*n.Value, "dose × batches", d.Amount.As("dose"), n)
		if d.ByDrops {
			half := derive.From("half a drop", quantity.Number, 0.5, "drops are counted whole")
			d.Low = derive.Of(quantity.Number, 50/amount, "100 × half a drop / of it then, per cent", half, was)
			d.High = d.Low.Noted("Drops differ from bottle to bottle besides.")
		} else {
			d.Low = derive.Of(quantity.Number, 50*step.Value/amount, "50 × digit of the scale / of it then, per cent", step, was).
				Noted("The reading is half a digit out.")
			d.High = derive.Of(quantity.Number, 100*step.Value/amount, "100 × digit of the scale / of it then, per cent", step, was).
				Noted("Tare and reading are half a digit out each.")
		}
		out = append(out, d)
	}
	return out, nil
}

// unsure is the share in per cent from which a colour comes out visibly
// different; common practice, no source.
const unsure = 10.0

// CheckColour says which pigments nobody can match by, the worst of them.
func CheckColour(doses []Dose) *finding.Finding {
	var worst *Dose
	for i, d := range doses {
		if d.High.Value > unsure && (worst == nil || d.High.Value > worst.High.Value) {
			worst = &doses[i]
		}
	}
	if worst == nil {
		return nil
	}
	how := fmt.Sprintf("%.0f to %.0f %%", worst.Low.Value, worst.High.Value)
	if worst.ByDrops {
		how = fmt.Sprintf("%.0f %%", worst.Low.Value)
	}
	return &finding.Finding{
		Severity: finding.Watch, Stage: finding.Shot, Code: "colour-unsure",
		What:   fmt.Sprintf("%s was matched to within %s: the next batch may not look like it.", worst.Name, how),
		Figure: finding.Of(quantity.Number, worst.High.Value), Limit: finding.Of(quantity.Number, unsure),
		Why: "Match in a larger batch or on a finer scale, thin the pigment in some of the part that it goes into, and tint that part " +
			"for the whole order in one pot.",
		Source: "half a digit for tare and reading each, JCGM 100:2008; half a drop",
	}
}

// Over is how much more a batch is than what a job takes in g, less than
// nothing where it is short.
func (b Batch) Over(needed float64) derive.Number {
	return derive.Of(quantity.Mass, b.Mass.Value-needed, "in all − needed", b.Mass.As("in all"),
		derive.From("needed", quantity.Mass, needed, "this job"))
}

// Weighed is the batch that an amount of one part in g makes, which is what
// is asked at the scale: so much is in the cup, how much of the other?
func Weighed(m Material, grams float64, partB bool) (Batch, error) {
	if err := m.Validate(); err != nil {
		return Batch{}, err
	}
	switch {
	case m.OnePart():
		return Batch{}, fmt.Errorf("%s has one part: nothing goes with it", m.Name)
	case !(grams > 0) || math.IsInf(grams, 0):
		return Batch{}, ErrNothing
	case grams < leastWeighed:
		return Batch{}, fmt.Errorf("%.3g g are less than any scale shows", grams)
	}
	sheet := "data sheet of " + m.Name
	r := derive.From("A for 1 of B", quantity.Number, m.ByWeight(), sheet+", by weight")
	cup := derive.Of(quantity.Mass, grams, "as weighed", derive.From("in the cup", quantity.Mass, grams, "the scale"))
	b := Batch{A: cup}
	b.B = derive.Of(quantity.Mass, grams/r.Value, "in the cup / A for 1 of B", cup.As("in the cup"), r)
	if partB {
		b.A, b.B = derive.Of(quantity.Mass, grams*r.Value, "in the cup × A for 1 of B", cup.As("in the cup"), r), cup
	}
	b.Mass = derive.Of(quantity.Mass, b.A.Value+b.B.Value, "A + B", b.A.As("A"), b.B.As("B"))
	b.Volume = derive.Of(quantity.Volume, b.Mass.Value/m.Density, "mass / density",
		b.Mass.As("mass"), derive.From("density", quantity.Density, m.Density, sheet))
	return b, nil
}
