// Package kind holds every kind of mould against one part, its quantity and
// the shop: what each would take in rubber, hours, pieces, seam and remakes,
// what speaks for it and what against. The caster chooses.
package kind

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"bathyform/core/derive"
	"bathyform/core/finish"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/strip"
)

// Kind of mould.
type Kind string

// The kinds of the trade.
const (
	OpenFace Kind = "open-face"
	Stretch  Kind = "stretch"
	Cut      Kind = "cut"
	Tape     Kind = "tape-parted"
	Clay     Kind = "clayed-up"
	Board    Kind = "parting-board"
	Squeeze  Kind = "squeeze"
	Pieces   Kind = "three-piece"
	Shell    Kind = "shell"
	Pressed  Kind = "sheet-pressed"
)

// Case is what the choice depends on.
type Case struct {
	Quantity  int     // castings still to make
	Length    float64 // mm, across the draw
	Width     float64
	Height    float64 // along the draw
	Volume    float64 // mm³
	Area      float64 // mm², surface
	Clearance practice.Clearance

	Seam     float64      // mm, outline along the draw
	SeamOff  float64      // mm, how far it is from a plane
	Worst    strip.Answer // of the undercuts that a two-part draw locks; empty for none
	Locked   int          // how many
	OneSided strip.Answer // of what a one-way release locks; empty for none
	Rough    bool         // decorative: an unfinished back may stay
	FlatBack float64      // share of the plan that a flat face on the leaving side covers
	Median   float64      // mm, thickness
	Thinnest float64      // mm

	CureHours float64 // of the rubber
	CureFrom  string  // where that comes from
	LifeFrom  string  // where Life comes from
	Clear     bool    // the rubber is clear
	Soft      bool    // Shore 15 A and softer
	Life      float64 // pulls expected of a mould
	Pot       float64 // inner diameter of the shop's pressure pot, mm; 0 for none
}

// Entry is one kind held against the case.
type Entry struct {
	Kind     Kind
	Name     string
	What     string
	For      []string
	Against  []string
	Possible bool

	Rubber  derive.Number // mL for the moulds of the order
	Hours   derive.Number // until the first pull can be made, cure and hands
	Pieces  int
	Seam    float64 // mm on every casting
	Remakes int     // moulds that the order wears out
	Pot     bool    // fits the pot
	Score   float64 // hours that the order costs, less is better
}

// Choice is the ranking, and first of all whether casting is worth it.
type Choice struct {
	NotWorth []string // reasons against casting this part at all
	Entries  []Entry  // possible ones first, the best first
}

// RubberHours is the hours of work that a litre of rubber is worth. Common
// practice, no source, from memory.
const RubberHours = 1.4

// What the ranking reckons with; common practice, no source, from memory.
const (
	paperThin     = 0.6  // mm
	thin          = 4.0  // mm of median thickness, up to which a squeeze mould comes in
	flatWide      = 0.25 // of its length, up to which a part's height makes it wide
	shortFills    = 0.1  // hours that scrap costs on each casting of a thin, wide part fed through a sprue
	backHours     = 0.12 // hours that a free back takes to be made good on each casting
	small         = 80.0 // mm, up to which rubber can be peeled off like a sock
	shellFrom     = 100  // castings
	shellHours    = 6.0  // hours of work for the shell itself, once
	blanket       = 11.0 // mm of rubber in a shell
	sock          = 6.0  // mm of rubber peeled off
	flatEnough    = 0.35 // share of the plan
	nearlyLevel   = 0.03 // of the height, that a seam may be off a plane to be bedded on a board
	hardestPeeled = 0.55 // of the usual life
)

// Rank holds all kinds against a case.
func Rank(c Case) Choice {
	var out Choice
	if c.Quantity <= 2 {
		out.NotWorth = append(out.NotWorth, fmt.Sprintf("Only %d to make: a print or a machined part is done before the rubber has cured.", c.Quantity))
	}
	if c.Median > 0 && c.Median < paperThin {
		out.NotWorth = append(out.NotWorth, fmt.Sprintf("Half of it is thinner than %.2g mm: made for injection, hardly castable by hand.", c.Median))
	}
	plan := derive.From("box, length × width", quantity.Area, (c.Length+2*c.Clearance.Beside)*(c.Width+2*c.Clearance.Beside)/100, "the part along the draw with the House clearance beside")
	inBox := func(tall float64, formula string) derive.Number {
		return derive.Of(quantity.Volume, plan.Value*tall/10-c.Volume/1000, formula, plan,
			derive.From("box, height", quantity.Length, tall, "the part with the House clearance"),
			derive.From("part", quantity.Volume, c.Volume/1000, "the mesh"))
	}
	whole := inBox(c.Height+c.Clearance.Below+c.Clearance.Above, "length × width × height of the box, less the part")
	open := inBox(c.Height+c.Clearance.Below, "length × width × height of the box, less the part; nothing over its open side")
	skin := func(thickness float64, what string) derive.Number {
		return derive.Of(quantity.Volume, c.Area*thickness/1000, "surface × thickness",
			derive.From("surface", quantity.Area, c.Area/100, "the mesh"), derive.From(what, quantity.Length, thickness, "common practice, no source"))
	}
	side := math.Max(c.Length, c.Width) + 2*c.Clearance.Beside
	longest := max(c.Length, c.Width, c.Height)

	add := func(e Entry, rubber derive.Number, life, cures, hands float64, body float64) {
		once := 0.0
		if e.Kind == Shell {
			once = shellHours
		}
		e.Remakes = max(1, int(math.Ceil(float64(c.Quantity)/math.Max(life, 1)-1e-9)))
		moulds := derive.Of(quantity.Number, float64(e.Remakes), "castings wanted / pulls of a mould, rounded up",
			derive.From("castings wanted", quantity.Number, float64(c.Quantity), "the order"), derive.From("pulls of a mould", quantity.Number, life, c.LifeFrom+"; this kind's share of it is common practice"))
		e.Rubber = derive.Of(quantity.Volume, rubber.Value*float64(e.Remakes), "rubber of a mould × moulds", rubber.As("rubber of a mould"), moulds.As("moulds"))
		e.Hours = derive.Of(quantity.Time, cures*c.CureHours+hands+once, "cures one after the other × cure + work of the hands",
			derive.From("cures", quantity.Number, cures, "this kind of mould"), derive.From("cure", quantity.Time, c.CureHours, c.CureFrom),
			derive.From("work", quantity.Time, hands+once, "common practice, no source, from memory"))
		e.Pot = c.Pot <= 0 || math.Hypot(body, body*math.Min(c.Width, c.Length)/math.Max(math.Max(c.Width, c.Length), 1e-9)) <= c.Pot
		if !e.Pot {
			e.Against = append(e.Against, fmt.Sprintf("Does not fit the pot of %.0f mm.", c.Pot))
		}
		if wide := c.Median > 0 && c.Median <= thin && c.Height < flatWide*longest; wide && e.Kind != Squeeze && e.Kind != OpenFace {
			e.Against = append(e.Against, "Thin and wide: filled through a sprue it keeps bubbles and runs short.")
			e.Score += shortFills * float64(c.Quantity)
		}
		// hands for each mould made, rubber, and trimming every casting; waiting for cures counts a little
		e.Score += once + hands*float64(e.Remakes) + RubberHours*e.Rubber.Value/1000 + finish.Seam(e.Seam, 0)/60*float64(c.Quantity) + 0.1*cures*c.CureHours
		if e.Remakes > 1 {
			e.Against = append(e.Against, fmt.Sprintf("%d moulds for the order, at about %.0f pulls each.", e.Remakes, life))
		}
		out.Entries = append(out.Entries, e)
	}

	two := func(e *Entry) {
		e.Possible, e.Pieces, e.Seam = true, 2, c.Seam
		switch c.Worst {
		case strip.SidePiece:
			e.Possible = false
			e.Against = append(e.Against, fmt.Sprintf("%d undercuts lock two pieces; the rubber cannot be stripped out of them.", c.Locked))
		case strip.Slit:
			e.Against = append(e.Against, "An undercut wants a slit in the rubber.")
		case strip.Fill:
			e.Against = append(e.Against, "A small undercut is to be filled on the master first.")
		case strip.Strips:
			e.For = append(e.For, "What is undercut strips out of this rubber.")
		default:
			e.For = append(e.For, "It draws: nothing is undercut.")
		}
	}

	e := Entry{Kind: OpenFace, Name: "Open-face block", What: "fixed by its flat back to a board, rubber over it; castings have one free face", Pieces: 1, Possible: true}
	if c.FlatBack < flatEnough {
		e.Possible = false
		e.Against = append(e.Against, fmt.Sprintf("No flat back: %.0f %% of the plan.", 100*c.FlatBack))
	} else {
		e.For = append(e.For, fmt.Sprintf("A flat back over %.0f %% of the plan.", 100*c.FlatBack), "One pour, one cure, no seam.")
		e.Against = append(e.Against, "The back is not controlled; overfill is trimmed.")
	}
	if c.OneSided == strip.SidePiece || c.OneSided == strip.Slit {
		e.Possible = false
		e.Against = append(e.Against, "Leaving one way only, the part is held by what stands over it.")
	}
	add(e, open, c.Life, 1, 0.7, side)
	if !c.Rough {
		out.Entries[len(out.Entries)-1].Score += backHours * float64(c.Quantity)
	}

	e = Entry{Kind: Stretch, Name: "Soft stretch block", What: "very soft rubber peeled off like a sock, no cut", Pieces: 1, Possible: longest <= small && c.Soft}
	if longest <= small {
		e.For = append(e.For, "Seamless; deep undercuts come out.")
	} else {
		e.Against = append(e.Against, fmt.Sprintf("%.0f mm is too long to peel.", longest))
	}
	if !c.Soft {
		e.Against = append(e.Against, "Wants a rubber of about 10 A; this one is firmer.")
	}
	e.Against = append(e.Against, "Soft rubber wears fast.")
	add(e, skin(sock, "rubber peeled off"), c.Life*hardestPeeled, 1, 1, side)

	e = Entry{Kind: Cut, Name: "Cut block", What: "one pour all round, cut open along the parting"}
	two(&e)
	e.For = append(e.For, "One pour and one cure, no clay.")
	e.Against = append(e.Against, "The cut takes a practised hand.")
	add(e, whole, c.Life, 1, 1.2, side)

	e = Entry{Kind: Tape, Name: "Tape-parted clear block", What: "clear rubber with tape fins along the parting, cut through to them"}
	two(&e)
	if c.SeamOff > nearlyLevel*c.Height {
		e.For = append(e.For, "The parting is not level; the tape follows it.")
	}
	if !c.Clear {
		e.Against = append(e.Against, "Wants a clear rubber, to see the fins.")
	}
	add(e, whole, c.Life*0.8, 1, 2, side)

	e = Entry{Kind: Clay, Name: "Two parts, clayed up", What: "bedded in clay to the parting, two pours"}
	two(&e)
	e.For = append(e.For, "The seam is exactly where the clay puts it.")
	e.Against = append(e.Against, "Two cures, one after the other.")
	add(e, whole, c.Life, 2, 2.2+c.SeamOff/20, side)

	e = Entry{Kind: Board, Name: "Two parts on a parting board", What: "set in a board cut to its outline, two pours"}
	two(&e)
	if c.SeamOff <= nearlyLevel*c.Height {
		e.For = append(e.For, "The parting is level: the board is cut once and used again.")
	} else {
		e.Possible = false
		e.Against = append(e.Against, fmt.Sprintf("The parting is %.2g mm off level.", c.SeamOff))
	}
	add(e, whole, c.Life, 2, 1.6, side)

	e = Entry{Kind: Squeeze, Name: "Squeeze mould", What: "lower half filled, upper half pressed down, the excess runs out over the land"}
	two(&e)
	if c.Median > 0 && c.Median <= thin {
		e.For = append(e.For, fmt.Sprintf("Thin: half of it under %.2g mm. No sprue to fill it through.", c.Median))
	} else {
		e.Possible = false
		e.Against = append(e.Against, "Thick enough to be filled through a sprue.")
	}
	e.Against = append(e.Against, "Flash all round; the upper half must be weighted.")
	add(e, whole, c.Life, 2, 2.4, side)

	e = Entry{Kind: Pieces, Name: "Three pieces and more", What: "side pieces fill the undercuts and slide out sideways before the halves open", Pieces: 2 + max(1, c.Locked), Seam: 1.6 * c.Seam, Possible: c.Worst != ""}
	switch c.Worst {
	case strip.SidePiece:
		e.For = append(e.For, fmt.Sprintf("%d undercuts that no rubber strips out of.", c.Locked))
	case "":
		e.Against = append(e.Against, "Nothing is undercut: side pieces have nothing to do.")
	default:
		e.For = append(e.For, "Spares the rubber at the undercuts.")
		e.Against = append(e.Against, "The rubber would strip without them.")
	}
	e.Against = append(e.Against, "Every piece is a pour and a cure of its own.")
	add(e, whole, c.Life*1.2, 3, 3+0.4*float64(c.Locked), side)

	e = Entry{Kind: Shell, Name: "Rubber skin in a rigid shell", What: "a clay blanket, a shell over it, rubber poured into the gap; a worn skin is poured again"}
	two(&e)
	if c.Quantity >= shellFrom {
		e.For = append(e.For, fmt.Sprintf("%d to make: worn skins are poured again with little rubber.", c.Quantity))
	} else {
		e.Against = append(e.Against, fmt.Sprintf("Pays from about %d; %d are to be made.", shellFrom, c.Quantity))
	}
	add(e, skin(blanket, "blanket"), c.Life, 2, 1, side)

	e = Entry{Kind: Pressed, Name: "Sheet rubber, pressed hot and cut", What: "sheets packed round a metal pattern and cured in a heated press", Pieces: 2, Seam: c.Seam}
	e.Against = append(e.Against, "Wants a press and a master that stands 155 °C.")
	add(e, whole, c.Life*3, 0, 2.5, side)

	slices.SortStableFunc(out.Entries, func(a, b Entry) int {
		if a.Possible != b.Possible {
			if a.Possible {
				return -1
			}
			return 1
		}
		return cmp.Compare(a.Score, b.Score)
	})
	return out
}
