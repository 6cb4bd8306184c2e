package session

import (
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/quantity"
)

// Trouble is what goes wrong at a bench.
type Trouble string

// The troubles that there is a way on from.
const (
	TooShort Trouble = "short"  // a mould is not full, by so many mm
	TooMuch  Trouble = "over"   // more is mixed than the moulds take
	Gel      Trouble = "gelled" // in the cup, too early
	Leak     Trouble = "leak"   // of so many g
	Aslant   Trouble = "aslant" // a mould stands out of level, by so many mm over its side
	Torn     Trouble = "torn"   // a mould
	FarLess  Trouble = "less"   // less is mixed than the moulds take
)

// Way is a way on, with its figures.
type Way struct {
	Do      string
	Why     string
	Figures []Named
	Event   *Event // that takes it; nil where there is only something to do
}

// Named is a figure with its name.
type Named struct {
	Name   string
	Number derive.Number
}

// rod is what is pushed into a mould to raise its level, mm across.
const rod = 20.0

// Ways are the ways on from a trouble with a mould, by a figure: mm or g as the
// trouble says.
func (s State) Ways(t Trouble, mould int, figure float64) ([]Way, error) {
	if mould < 0 || mould >= len(s.Moulds) {
		return nil, ErrMould
	}
	if math.IsNaN(figure) || figure < 0 || figure > heaviest {
		return nil, ErrFigure
	}
	m := s.Moulds[mould]
	at, fill, ok := s.fillOf(mould)
	switch t {
	case TooShort, Leak:
		if !ok {
			return first(m.Number), nil
		}
		if figure == 0 {
			return nil, ErrFigure
		}
		return s.top(t, mould, at, fill, figure), nil
	case Aslant:
		if !ok {
			return first(m.Number), nil
		}
		return s.level(mould, at, fill, figure), nil
	case TooMuch, FarLess, Gel:
		if s.mix() < 0 {
			return []Way{{Do: "Nothing is mixed just now.", Why: "Go on to the next mix; what is left of the one before has set."}}, nil
		}
		if t == Gel {
			return s.gels(), nil
		}
		return s.over(), nil
	case Torn:
		return s.torn(mould), nil
	}
	return nil, fmt.Errorf("nobody knows a way on from %q", string(t))
}

// first is what there is to do with a mould that has had nothing yet.
func first(number string) []Way {
	return []Way{{Do: fmt.Sprintf("%s was not poured in this session yet.", number),
		Why: "Level it, close what leaks, and pour it when its turn comes: nothing is lost."}}
}

// fillOf is the last fill that a mould has had.
func (s State) fillOf(mould int) (at int, f Fill, ok bool) {
	if s.Moulds[mould].Filled == 0 {
		return 0, Fill{}, false
	}
	done := s.Steps[:min(s.At, len(s.Steps))]
	for i := len(done) - 1; i >= 0; i-- {
		if st := done[i]; st.Act == Pour && s.plan.Mixes[st.Mix].Fills[st.Fill].Mould == mould {
			return st.Mix, s.plan.Mixes[st.Mix].Fills[st.Fill], true
		}
	}
	return 0, Fill{}, false
}

// gelLeft is how long a mix can still be poured, min.
func (s State) gelLeft(at int) derive.Number {
	c := s.Cups[at]
	left := max(0, c.Gel-s.Now) / 60
	return derive.Of(
		quantity.Time,
		left/60,
		"until its pot life is over",
		derive.From(
			"pot life",
			quantity.Time,
			s.plan.Mixes[at].PotLife/3600,
			"data sheet of "+s.plan.Material+", at this temperature and mass",
		),
	)
}

// top fills a mould up that is short of so many mm, or has lost so many g.
func (s State) top(t Trouble, mould, at int, f Fill, figure float64) (out []Way) {
	m, number := s.plan.Mixes[at], s.Moulds[mould].Number
	area := derive.From("surface", quantity.Area, f.Area/100, "the box, or well and vents, as nearly full")
	short := derive.From("short by", quantity.Length, figure, "as said")
	lacks := derive.Of(quantity.Volume, f.Area*figure/1000, "surface × short by / 10", area, short).
		Noted("The surface in square centimetres, the height in millimetres.")
	if t == Leak {
		lacks = derive.Of(quantity.Volume, figure/m.Density, "lost / density", derive.From("lost", quantity.Mass, figure, "as said"),
			derive.From("density", quantity.Density, m.Density, "data sheet of "+s.plan.Material))
	}
	mass := derive.Of(quantity.Mass, lacks.Value*m.Density, "volume × density", lacks.As("volume"),
		derive.From("density", quantity.Density, m.Density, "data sheet of "+s.plan.Material))
	figures := []Named{{"Topper", mass}}
	figures = append(figures, parts(mass, m, s.plan.Material)...)
	left := s.gelLeft(at)
	figures = append(figures, Named{"Left until it gels", left})
	take := &Event{What: Topped, Mould: mould, Figure: mass.Value}
	if t == Leak {
		out = append(
			out,
			Way{Do: "Stop the leak: warm clay or tape pressed on from outside, a board behind it; a tray under the mould.",
				Why: "What runs out of the parting pulls air in after it.", Figures: []Named{{"Lost", lacks}}},
		)
	}
	switch {
	case left.Value > 0:
		out = append(out, Way{Do: fmt.Sprintf("Top %s up before it gels.", number),
			Why: "From the cup where there is some left; else a small mix of its own, weighed.", Figures: figures, Event: take})
	case s.plan.Kind == Rubber:
		out = append(out, Way{Do: fmt.Sprintf("Top %s up with fresh rubber of the same kind, on the clean cured face.", number),
			Why: "Rubber bonds to bare rubber of its own kind: no release, no dust, no grease between " +
				"them.", Figures: figures, Event: take})
	default:
		out = append(out, Way{Do: fmt.Sprintf("Leave %s: it has set. Nothing is filled up now.", number),
			Why: "What is poured on after gel runs down the shrink gap and spoils the sides. Log it as scrap, with a " +
				"larger well next time."})
	}
	if t == TooShort && s.plan.Kind == Rubber && left.Value > 0 {
		deep := derive.Of(quantity.Length, lacks.Value*1000/(math.Pi/4*rod*rod), "volume × 4000 / (π × rod²)", lacks.As("volume"),
			derive.From("rod", quantity.Length, rod, "a clean one, say"))
		out = append(
			out,
			Way{
				Do: "Or push something clean and dry into the rubber, in a corner away from the part: so much volume " +
					"under the surface raises it.",
				Why: "A capped rod, a block of cured rubber of the same family. It stays in, or leaves a hole that does not matter.",
				Figures: []Named{
					{"Volume to push in", lacks},
					{fmt.Sprintf("A rod of %g mm goes in", rod), deep},
				},
				Event: &Event{What: Noted,
					Text: fmt.Sprintf("%s: %.3g mL pushed in to raise the level", number, lacks.Value)},
			},
		)
	}
	return out
}

// parts are what a mass takes of both parts.
func parts(mass derive.Number, m Mix, material string) []Named {
	if m.Ratio <= 0 {
		return nil
	}
	ratio := derive.From("ratio", quantity.Number, m.Ratio, "data sheet of "+material+", A to B by weight")
	return []Named{
		{"of A", derive.Of(quantity.Mass, mass.Value*m.Ratio/(m.Ratio+1), "mass × ratio / (ratio + 1)", mass.As("mass"), ratio)},
		{"of B", derive.Of(quantity.Mass, mass.Value/(m.Ratio+1), "mass / (ratio + 1)", mass.As("mass"), ratio)},
	}
}

// level sets a mould right that stands out of level by so many mm over its side.
func (s State) level(mould, at int, f Fill, figure float64) []Way {
	number := s.Moulds[mould].Number
	out := derive.From("out of level", quantity.Length, figure, "as said, over its longest side")
	lacks := derive.Of(quantity.Length, figure/2, "out of level / 2", out)
	wedge := derive.Of(quantity.Length, figure, "out of level", out)
	left := s.gelLeft(at)
	note := &Event{What: Noted, Text: fmt.Sprintf("%s stood out of level by %.3g mm", number, figure)}
	if left.Value > 0 {
		return []Way{{Do: fmt.Sprintf("Push a wedge under the low side of %s now, slowly, and look at the level again.", number),
			Why: "It runs level again while it is thin. Do not lift and turn it: what stands in the vents runs back.", Event: note,
			Figures: []Named{{"Wedge, high", wedge}, {"One side lacks", lacks}, {"Left until it gels", left}}}}
	}
	return []Way{{Do: fmt.Sprintf("Leave %s as it has set; measure it before it is used.", number),
		Why: "The rubber is thinner on one side by so much: where that is less than half its wall it serves. Log " +
			"a casting by its level.",
		Figures: []Named{{"One side lacks", lacks}}, Event: note}}
}

// over says what takes what is left in the cup, and what it does not reach.
func (s State) over() (out []Way) {
	at := s.mix()
	fills, over := s.Order(at)
	mass := derive.Of(
		quantity.Mass,
		over,
		"in the cup − what the moulds take",
		derive.From("in the cup", quantity.Mass, s.Mixed(at), "as weighed"),
		derive.From("what the moulds take", quantity.Mass, s.Mixed(at)-over, "this session's plan, with what stays in the cup"),
	)
	for _, spare := range s.plan.Spares {
		if spare.Grams <= over {
			out = append(
				out,
				Way{
					Do:  fmt.Sprintf("Pour %s full, %.4g g.", spare.Name, spare.Grams),
					Why: "A small open mould of the same material.",
					Figures: []Named{
						{"Left over", mass},
					},
					Event: &Event{What: Noted, Text: fmt.Sprintf("%.4g g left over went into %s", spare.Grams, spare.Name)},
				},
			)
		}
	}
	kept := "Spread it thin on a sheet to set: a full cup left standing overheats and smokes."
	if s.plan.Kind == Rubber {
		kept = "Pour it into the chunk tray, marked whether it was degassed: as filler away from the part, never for " +
			"pressure if it was not."
	}
	out = append(out, Way{Do: kept, Why: "Cured it may go into the waste, by local rules.", Figures: []Named{{"Left over", mass}},
		Event: &Event{What: Noted, Text: fmt.Sprintf("%.4g g were left over", over)}})
	for _, f := range fills {
		for _, planned := range s.plan.Mixes[at].Fills {
			if planned.Mould == f.Mould && f.Grams < planned.Grams-s.plan.Digit && s.Moulds[f.Mould].Filled == 0 {
				lacks := derive.Of(quantity.Mass, planned.Grams-f.Grams, "planned − what is left for it",
					derive.From("planned", quantity.Mass, planned.Grams, "the shot of this design"),
					derive.From("what is left for it", quantity.Mass, f.Grams, "as weighed"))
				out = append(out, Way{Do: fmt.Sprintf("Leave %s for another mix.", s.Moulds[f.Mould].Number),
					Why: "A mould that is begun and not filled is scrap.", Figures: []Named{{"It lacks", lacks}},
					Event: &Event{What: Out, Mould: f.Mould, Text: "not enough was mixed"}})
			}
		}
	}
	return out
}

// gels says what is saved when a mix gels in the cup.
func (s State) gels() []Way {
	at := s.mix()
	var left []Fill
	for _, st := range s.Steps[s.At:] {
		if st.Act == Pour && st.Mix == at {
			left = append(left, s.plan.Mixes[at].Fills[st.Fill])
		}
	}
	hot := Way{Do: "Put the cup down on a tile in the open air, and keep away from it.",
		Why: "A gelling mass grows hot and smokes: the more of it, the hotter. Never into a bin."}
	if len(left) == 0 {
		return []Way{hot}
	}
	grams := 0.0
	names := ""
	for _, f := range left {
		grams += f.Grams
		names += ", " + s.Moulds[f.Mould].Number
	}
	mass := derive.Of(
		quantity.Mass,
		grams,
		"sum of what was not poured",
		derive.From("not poured", quantity.Mass, grams, "this session's plan"),
	)
	figures := append([]Named{{"A new mix", mass}}, parts(mass, s.plan.Mixes[at], s.plan.Material)...)
	return []Way{
		hot,
		{
			Do:      "Mix again for" + names[1:] + ".",
			Why:     "Moulds that are full stay as they are; one that was begun is emptied and wiped before it sets.",
			Figures: figures,
			Event:   &Event{What: Gelled},
		},
	}
}

// torn takes a mould out.
func (s State) torn(mould int) []Way {
	m := s.Moulds[mould]
	free := 0.0
	for at := range s.plan.Mixes {
		for _, f := range s.plan.Mixes[at].Fills {
			if f.Mould == mould && m.Filled == 0 {
				free += f.Grams
			}
		}
	}
	lost := derive.Of(
		quantity.Number,
		float64(m.Cavities),
		"its cavities",
		derive.From("its cavities", quantity.Number, float64(m.Cavities), "the rack"),
	)
	spared := derive.Of(
		quantity.Mass,
		free,
		"what it would have taken",
		derive.From("what it would have taken", quantity.Mass, free, "this session's plan"),
	)
	return []Way{
		{
			Do: fmt.Sprintf("Take %s out of this run.", m.Number),
			Why: "The tear copies onto every casting and grows at each. Look at it in " +
				"good light afterwards: a tear at the sprue can be glued with rubber of its kind, one at the part retires it.",
			Figures: []Named{
				{"Castings fewer", lost},
				{"Not to be mixed", spared},
			},
			Event: &Event{What: Out, Mould: mould, Text: "torn"},
		},
		{
			Do:    "Cast in it all the same, and look at every casting.",
			Why:   "A tear on a face that is dressed anyway costs a minute a casting.",
			Event: &Event{What: Noted, Text: m.Number + " is torn and is used all the same"},
		},
	}
}
