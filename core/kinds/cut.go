package kinds

import (
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/quantity"
	"bathyform/core/slit"
)

// Cut is a block that is poured whole and cut open.
var Cut = &Kind{
	Key: design.Cut, Name: "Cut block", What: "one pour all round, cut open along the parting",
	Held: true, Cut: true, Wear: 1, Blind: true,
	Suits: func(c Case) Suit {
		s := sprued(c, twoParts(c))
		s.For = append(s.For, "One pour and one cure, no clay.")
		s.Against = append(
			s.Against,
			note("cut-by-hand", finding.Note, "The cut takes a practised hand.", "A blade that wanders into the part marks every casting."),
		)
		return s
	},
	Begin:  func(b *Bench) { b.held() },
	Open:   cutOpen,
	Scenes: cut, Extras: cutExtras,
	Sheets: append([]Sheet{{"wrap", "Cut guide to wrap round"}}, boxed...), Bodies: box,
}

// cutOpen opens a block with the blade.
func cutOpen(b *Bench) {
	words := "Cut the block open along the parting."
	if b.Cut != nil {
		how := "wavering"
		if b.House.Straight {
			how = "straight"
		}
		round := "once round"
		if b.Cut.Short {
			round = fmt.Sprintf("from the start mark on, %.0f mm long", b.Cut.Hinge)
		}
		words = fmt.Sprintf(
			"Wrap the guide round, prick the line through and cut %s: %.0f mm deep %s, then to the part, %.0f mm at the nearest.",
			how,
			b.Cut.First,
			round,
			b.Cut.Nearest,
		)
	}
	b.do(
		words,
		"The first pass makes the register, the second finds the part; stop at the hinge.",
		blade,
		cutMinutes*math.Sqrt(float64(b.Cavities)),
	)
	b.reliefs()
	b.do(
		"Push the block back into its own box or sleeve: that is its clamp.",
		"A slit carries no tension; held all round it closes without bands.",
		"",
		5,
	)
}

// reliefs frees what stands off the block inside the halves.
func (b *Bench) reliefs() {
	if len(b.Reliefs) == 0 {
		return
	}
	deep := 0.0
	for _, l := range b.Reliefs {
		deep = max(deep, l.Deep)
	}
	b.do(
		fmt.Sprintf("Cut %s inside the halves, up to %.0f mm deep: look where the part catches, and cut there, just enough for "+
			"it to pop out.",
			quantity.Plural(len(b.Reliefs), "relief slit", "relief slits"), deep),
		"They close again under clamping without flash. The smaller the slit, the better the copy; break the suction before pulling.",
		blade,
		reliefMins*float64(len(b.Reliefs)*b.Cavities),
	)
}

// cutExtras are what a cut is laid by.
func cutExtras(b *Bench) []Extra {
	out := floats(b)
	if b.Cut == nil {
		return out
	}
	g := *b.Cut
	return append(
		out,
		Extra{
			"First pass of the blade",
			derive.Of(
				quantity.Length,
				g.First,
				"0.6 × nearest depth, 15 mm at most",
				derive.From("nearest depth", quantity.Length, g.Nearest, "from the wall to the part along the parting"),
			),
		},
		Extra{
			"Part at its nearest",
			derive.Of(
				quantity.Length,
				g.Nearest,
				"least way from the wall to the part along the parting",
				derive.From("once round the block", quantity.Length, g.Round, "the box"),
			),
		},
	)
}

// CutFor lays the cut of kinds that are opened with a blade.
func (k *Kind) CutFor(lay func() slit.Guide) *slit.Guide {
	if !k.Cut {
		return nil
	}
	g := lay()
	return &g
}
