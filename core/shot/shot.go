// Package shot works out how much resin a pull takes.
package shot

import (
	"errors"
	"math"
	"strings"

	"bathyform/core/channel"
	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/gate"
	"bathyform/core/mix"
	"bathyform/core/practice"
	"bathyform/core/prep"
	"bathyform/core/quantity"
)

// Mixing is how long a shot takes from when A meets B until it is poured, in
// minutes. Common practice, no source.
const Mixing = 1.5

// Line is one item of the sum.
type Line struct {
	Name   string
	Volume derive.Number // mL
}

// Plan is the shot as a visible sum.
type Plan struct {
	Lines    []Line
	Cavity   derive.Number  // mL, all cavities less what is laid into them
	Channels derive.Number  // mL, of all cavities
	Shrink   derive.Number  // mL more, as the resin shrinks
	Margin   derive.Number  // mL
	Total    derive.Number  // mL
	Batch    *mix.Batch     // nil until a resin is chosen
	Doses    []mix.Dose     // of the colour; none without a recipe or a batch
	Powder   *Powder        // nil for none
	Chain    []Weighed      // at the scale; none until a resin of two parts is chosen
	Cup      derive.Number  // mL, that it is mixed in
	Vessel   derive.Number  // mL, that it is degassed in
	Mixes    derive.Number  // into how many it is divided
	Potful   *derive.Number // mL of all moulds that stand in the pot at once; nil where none does
}

// Powder is what stays of it on the castings.
type Powder struct {
	Name  string
	Stays derive.Number // g a pull
	Order derive.Number // g of all pulls
}

// Ask is what a shot is worked out from.
type Ask struct {
	Part     derive.Number  // mL, one casting
	LaidIn   []derive.Input // mL of one casting that inserts take the place of
	Gates    gate.Layout
	Cavities int
	Over     float64 // per cent for cup, flash and margin
	Cup      float64 // mL that stay in the cup beside those
	Syringe  float64 // mL that stay in the syringe; 0 where none is used
	TintB    bool    // colour goes into part B
	Bucket   float64 // mL, the largest cup; 0 for no limit
	Scale    float64 // g, the most that the scale takes; 0 for no limit
	InPot    int     // moulds that stand in the pot at once
	Resin    *mix.Material

	Colour    *mix.Recipe
	Powder    *design.Powder
	Pulls     int     // that the order still takes
	ScaleStep float64 // g
}

// LaidIn is the resin that inserts take the place of; a hole is in the mesh already.
func LaidIn(all []design.Insert) []derive.Input {
	var out []derive.Input
	for _, in := range all {
		if in.Kind != prep.Hole && in.Volume > 0 {
			out = append(out, derive.From(in.Named(), quantity.Volume, in.Volume, "the brief"))
		}
	}
	return out
}

// Make sums up a shot: cavities less what is laid into them, channels filled to
// the top of the mould, what the
// resin shrinks by, and an allowance for the cup, flash and margin.
func Make(a Ask) (Plan, error) {
	if err := practice.Within("shot allowance (%)", a.Over, 0, 100); err != nil {
		return Plan{}, err
	}
	n := derive.From("cavities", quantity.Number, float64(max(1, a.Cavities)), "this design")
	p := Plan{Lines: []Line{{"Cavity", a.Part}}}
	one := a.Part
	if len(a.LaidIn) > 0 {
		var metal float64
		for _, in := range a.LaidIn {
			metal += in.Value
		}
		if metal >= a.Part.Value {
			return Plan{}, errors.New("what is laid in is as large as the cavity: check the volumes of the inserts in the brief")
		}
		laid := derive.Of(quantity.Volume, -metal, "less what the inserts take up", a.LaidIn...)
		p.Lines = append(p.Lines, Line{"Laid in", laid})
		one = derive.Of(
			quantity.Volume,
			a.Part.Value-metal,
			"cavity − what the inserts take up",
			a.Part.As("cavity"),
			derive.From("inserts", quantity.Volume, metal, "the brief"),
		)
	}
	if a.Cavities > 1 {
		p.Lines = append(p.Lines, Line{quantity.Plural(a.Cavities-1, "more cavity", "more cavities"), derive.Of(
			quantity.Volume, one.Value*float64(a.Cavities-1), "cavity × cavities beside the first", one.As("cavity"),
			derive.From("cavities beside the first", quantity.Number, float64(a.Cavities-1), "the gang"))})
	}
	p.Cavity = derive.Of(quantity.Volume, one.Value*n.Value, "cavity × cavities", one.As("cavity"), n)
	p.Channels = p.channels(a.Gates)
	filled := derive.Of(
		quantity.Volume,
		p.Cavity.Value+p.Channels.Value,
		"all cavities + all channels",
		p.Cavity.As("all cavities"),
		p.Channels.As("all channels"),
	)
	if a.Resin != nil && a.Resin.Traits.Shrink > 0 {
		shrink := derive.From("shrink (%)", quantity.Number, a.Resin.Traits.Shrink, "data sheet of "+a.Resin.Name+", linear")
		p.Shrink = derive.Of(
			quantity.Volume,
			filled.Value*(math.Pow(1-shrink.Value/100, -3)-1),
			"what is filled / (1 − shrink / 100)³ − what is filled",
			filled.As("what is filled"),
			shrink,
		).Noted("All of the shrink is taken to come before gel, fed from the well: the safe figure.")
		p.Lines = append(p.Lines, Line{"Shrink", p.Shrink})
		filled = derive.Of(quantity.Volume, filled.Value+p.Shrink.Value, "what is filled + shrink",
			filled.As("what is filled"), p.Shrink.As("shrink"))
	}
	p.Margin = derive.Of(
		quantity.Volume,
		filled.Value*a.Over/100,
		"what is filled × allowance / 100",
		filled.As("what is filled"),
		derive.From("allowance (%)", quantity.Number, a.Over, "this design"),
	)
	p.Lines = append(p.Lines, Line{"Cup, flash and margin", p.Margin})
	total, formula, parts := filled.Value+p.Margin.Value, "what is filled + margin",
		[]derive.Input{filled.As("what is filled"), p.Margin.As("margin")}
	for _, kept := range []struct {
		name   string
		volume float64
	}{{"Stays in the cup", a.Cup}, {"Stays in the syringe", a.Syringe}} {
		if kept.volume <= 0 {
			continue
		}
		n := derive.Of(quantity.Volume, kept.volume, "as the shop has found it",
			derive.From(strings.ToLower(kept.name), quantity.Volume, kept.volume, "House practice"))
		p.Lines = append(p.Lines, Line{kept.name, n})
		total, formula, parts = total+kept.volume, formula+" + "+strings.ToLower(
			kept.name,
		), append(
			parts,
			n.As(strings.ToLower(kept.name)),
		)
	}
	p.Total = derive.Of(quantity.Volume, total, formula, parts...)
	p.Cup, p.Vessel, p.Mixes = Cup(p.Total), Vessel(p.Total), mixesOf(p.Total, a)
	if a.InPot > 0 {
		load := derive.Of(quantity.Volume, p.Total.Value*float64(a.InPot), "shot × moulds", p.Total.As("shot"),
			derive.From("moulds", quantity.Number, float64(a.InPot), "that stand in the shop's pot at once, beside and over one another"))
		p.Potful = &load
	}
	if a.Resin != nil {
		b, err := mix.Split(*a.Resin, p.Total)
		if err != nil {
			return p, err
		}
		p.Batch = &b
	}
	p.Powder = dusted(a)
	if a.Colour != nil && p.Batch != nil {
		var err error
		if p.Doses, err = a.Colour.Doses(p.Batch.Mass, a.Pulls, a.ScaleStep); err != nil {
			return p, err
		}
	}
	if p.Batch != nil {
		p.Chain = chain(*p.Batch, p.Doses, a.TintB)
	}
	return p, nil
}

// dusted is what stays of a powder once it was weighed.
func dusted(a Ask) *Powder {
	if a.Powder == nil || a.Powder.Dusted == 0 {
		return nil
	}
	in := derive.From("dusted in", quantity.Mass, a.Powder.Dusted, "this design")
	back := derive.From("poured back", quantity.Mass, a.Powder.Back, "this design")
	stays := derive.Of(quantity.Mass, a.Powder.Dusted-a.Powder.Back, "dusted in − poured back", in, back)
	n := derive.From("pulls", quantity.Number, float64(max(1, a.Pulls)), "the order")
	return &Powder{a.Powder.Name, stays, derive.Of(quantity.Mass, stays.Value*n.Value, "stays × pulls", stays.As("stays"), n)}
}

// groups are the lines in which channels are listed.
var groups = []struct {
	kind      channel.Kind
	one, more string
}{
	{channel.Well, "Well", "Wells"}, {channel.Sprue, "Sprue", "Sprues"}, {channel.Runner, "Runner", "Runners"},
	{channel.Gate, "Gate", "Gates"}, {channel.Vent, "Vent", "Vents"}, {channel.Blind, "Blind channel", "Blind channels"},
	{channel.Overflow, "Cup on a vent", "Cups on vents"}, {channel.Sump, "Foot of the sprue", "Feet of the sprues"},
}

// channels lists those that fill and sums them up.
func (p *Plan) channels(l gate.Layout) derive.Number {
	var all []derive.Input
	var sum float64
	add := func(name string, v derive.Number) {
		p.Lines = append(p.Lines, Line{name, v})
		all = append(all, v.As(strings.ToLower(name)))
		sum += v.Value
	}
	for _, g := range groups {
		var of []derive.Input
		var held float64
		var last derive.Number
		for _, c := range l.Channels {
			if c.Kind == g.kind && c.Fills {
				of, last = append(of, c.Volume.As(c.Named(len(l.Cavities)))), c.Volume
				held += c.Volume.Value
			}
		}
		switch len(of) {
		case 0:
		case 1:
			add(g.one, last)
		default:
			add(g.more, derive.Of(quantity.Volume, held, "sum of them", of...))
		}
	}
	return derive.Of(quantity.Volume, sum, "sum of the channels", all...)
}
