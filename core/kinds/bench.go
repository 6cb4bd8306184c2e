package kinds

import (
	"cmp"
	"fmt"
	"strings"

	"bathyform/core/axis"
	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/mix"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/slit"
	"bathyform/core/strip"
)

// Bench is a planned mould as its steps are written from.
type Bench struct {
	Kind     *Kind
	Cavities int
	Wanted   int
	Life     derive.Number // pulls of a mould
	Pours    []Pour

	Bed     float64 // mm over the floor, of the parting as half A is poured
	Off     float64 // mm that the parting leaves its level
	Line    float64 // mm of parting line, all cavities
	Ceiling float64 // mm³ of room over the upper half's ceiling, all cavities
	Under   float64 // mm of rubber under the parts
	Stands  Stands
	Sides   []string // side pieces
	Alike   int      // of them that are one shape, poured from one little box; the first ones
	Opening []string // pieces in the order they leave
	Keys    int
	KeyKind string
	KeySize float64 // mm
	Cut     *slit.Guide
	Skin    float64 // mm
	Bridged float64 // mm³ of undercut that the blanket fills
	Shell   float64 // mm² of the skin's outside
	Lattice float64 // mm, cell of what was measured on a lattice
	Brush   []int   // places that rubber shuts air into, pour by pour
	Part    float64 // mm³ of all cavities
	Cavity  float64 // mL that one shot fills, all cavities
	Shot    float64 // mL of a pull
	Half    float64 // mm³ of the upper half

	Rods     Rods
	Tilt     string        // how the mould is stood out of level for the resin; empty for level
	Reliefs  []strip.Lock  // that slits inside the halves free
	Push     derive.Number // N by which the resin pushes the halves apart
	Long     float64       // mm, the mould's longest side
	Supports string        // beside the rods, as "3 pins of 2 mm"; empty for none
	Powder   string        // dusted in before the shot; empty for none
	Rubber   *mix.Material
	Resin    *mix.Material
	House    practice.House

	steps []Step
}

// Stands is how the master is held while rubber is poured.
type Stands int

// The ways: by the sprue rod over it, on the sprue's former on the board, by
// the rod through a wall, or with nothing cast in.
const (
	Hung Stands = iota
	OnSprue
	Sideways
	Bare
)

// StandsBy tells how a master is held by a sprue that opens where the resin's
// way up points.
func StandsBy(rubber, resin axis.Axis) Stands {
	switch resin {
	case rubber:
		return Hung
	case rubber.Opposite():
		return OnSprue
	}
	return Sideways
}

// Pour is one filling with rubber.
type Pour struct {
	Name   string
	Pieces []string
	Up     axis.Axis
	Volume derive.Number // mL
	Known  bool          // the rubber has been shared out; else Volume is nothing yet
	Mixed  derive.Number // mL, with what stays in the bucket
	Mixes  derive.Number
	Batch  *mix.Batch // of all mixes together; nil until a rubber is chosen
	Bed    float64    // mm over the floor, to which clay, board or the first half stands; 0 for none
	Level  float64    // mm over the floor, to pour to; 0 where there is no box
	Spot   string     // where to pour
}

// Act is what a step does with rubber or resin.
type Act string

// The acts; a step that is none of them handles the mould.
const (
	Mixes   Act = "mixes" // weighs and mixes; of a casting, it lets the resin in as well
	Degases Act = "degases"
	Fills   Act = "fills"
	Pots    Act = "pots" // into the pressure pot
	Cures   Act = "cures"
	Degates Act = "degates"
	Pulls   Act = "pulls" // the casting out of the mould
)

// Step is one thing to do, or a wait.
type Step struct {
	Act     Act
	Do      string
	Let     string // how resin is let in, where it is mixed in the same step
	Why     string
	Caution string
	Minutes float64
	Wait    bool // rubber, resin or release does it by itself
	With    bool // straight after the step before
	Pour    int  // whose quantities belong here; -1 for none
	Casting bool // of the first casting, when the mould is made
}

// Minutes of the steps; common practice, no source, from memory.
const (
	boxMinutes    = 30.0
	bedMinutes    = 60.0
	boardMinutes  = 35.0
	tapeMinutes   = 60.0
	hangMinutes   = 20.0
	rodMinutes    = 5.0 // a sprue rod
	gateMinutes   = 2.0 // a gate and the runner to it
	ventMinutes   = 2.0 // each vent
	sideMinutes   = 24.0
	keyMinutes    = 2.0
	blanketMins   = 120.0
	shellHalf     = 60.0
	shellSets     = 45.0
	turnMinutes   = 30.0
	releaseMins   = 5.0
	driesMinutes  = 15.0
	fillerMins    = 6.0
	powderMins    = 4.0
	reliefMins    = 4.0
	degateMins    = 2.0
	overnight     = 16 * 60.0 // min
	openMinutes   = 20.0
	cutMinutes    = 40.0
	trimMinutes   = 15.0
	reservoirMins = 15.0
	closeMinutes  = 5.0
	shotMinutes   = 3.0
	syringeMins   = 1.5
	pullMinutes   = 3.0
	repourHours   = 1.0 // of a worn skin
)

// Curing. Common practice, no source: 10 °C warmer halves a cure.
const (
	usualDemould = 30.0 // min, of a resin whose sheet does not say
)

// Cautions of the steps. The data sheet, local rules and licensed practice go first.
const (
	gloves     = "Nitrile gloves, goggles, fresh air; latex stops platinum rubber. The data sheet goes first."
	chamber    = "A vacuum chamber can implode: a rated lid without scratches, and goggles."
	blade      = "The blade away from you and from the hand that holds; a cut-proof glove on that hand."
	sprays     = "Release sprays and solvents: no flame, fresh air."
	plaster    = "Setting plaster grows hot: never round skin; dust mask when mixing it."
	isocyanate = "The isocyanate part sensitises for life: respirator as its data sheet says, nitrile gloves, glasses, " +
		"fresh air. Never leave a full cup."
	melt = "Melted wax and metal burn, and spit at the least moisture: dry mould, dry ladle, gloves, face shield, no flame near wax. " +
		"The data sheet goes first."
	pressure = "Pressure pot: never above its rating, relief valve working, all bolts, vent before opening."
)

// Cure is how long the rubber takes in this shop, min.
func (b *Bench) Cure() float64 {
	t := mix.UsualRubber
	if b.Rubber != nil && b.Rubber.Traits.Demould > 0 {
		t = b.Rubber.Traits
	}
	cure := t.In(b.House.Celsius).Demould
	if b.House.Does(practice.Opening) == practice.Overnight {
		return max(cure, overnight)
	}
	return cure
}

// opens says why the rubber is left so long.
func (b *Bench) opens() string {
	if b.House.Does(practice.Opening) == practice.Overnight {
		return "The house opens moulds the next day, and not before the sheet's time."
	}
	return fmt.Sprintf("By the sheet's time, at %.0f °C in the shop.", b.House.Celsius)
}

func (b *Bench) do(do, why, caution string, minutes float64) { b.act("", do, why, caution, minutes) }

func (b *Bench) act(a Act, do, why, caution string, minutes float64) {
	b.steps = append(b.steps, Step{Act: a, Do: do, Why: why, Caution: caution, Minutes: minutes, Pour: -1})
}

func (b *Bench) wait(do, why string, minutes float64) {
	b.steps = append(b.steps, Step{Do: do, Why: why, Minutes: minutes, Wait: true, Pour: -1})
}

// Steps writes the work in its order, down to the first casting.
func (b *Bench) Steps() []Step {
	b.steps = nil
	b.Kind.Begin(b)
	if b.Kind.Halves {
		b.keys()
		b.rods()
	}
	if !b.Kind.Shelled {
		b.do(
			"Fix what stands on the base board "+b.fixed()+"; set up the box, seal the corners, check it level both ways.",
			"Leaks are the commonest accident; level in the pot is level of the mould.",
			"",
			boxMinutes,
		)
	}
	for i := range b.Pours {
		if i > 0 {
			b.between(b.Pours[i])
		}
		b.pour(i)
	}
	b.Kind.Open(b)
	b.do(
		"Trim flash"+b.cleared()+", number every piece and every side with an arrow for this way up.",
		"Look for bubbles and torn edges now: what is wrong at birth every casting copies.",
		"",
		trimMinutes,
	)
	if n := len(b.Rods.Cuts); n > 0 {
		b.do(
			fmt.Sprintf(
				"Cut %s of %.3g mm out of the rubber, from the place in the cavity up.",
				quantity.Plural(n, "vent", "vents"),
				b.Rods.Cuts[0],
			),
			"A bored tube, turned as it goes in, cuts a clean hole; a blade leaves one that closes under the bands.",
			"Cut away from your hand: rubber lets a blade go all at once.",
			ventMinutes*float64(n),
		)
	}
	b.cast()
	return b.steps
}

func (b *Bench) parts() string {
	if b.Cavities > 1 {
		return fmt.Sprintf("the %d masters", b.Cavities)
	}
	return "the master"
}

// more is the work that further cavities add, min.
func (b *Bench) more(each float64) float64 { return each * float64(b.Cavities-1) }

// keys presses them in.
func (b *Bench) keys() {
	if b.Keys == 0 || !b.Kind.Keyed {
		return
	}
	what := fmt.Sprintf("Press in %s, one of them larger.", quantity.Plural(b.Keys, "key", "keys"))
	why := "Straight in the draw, clear of sprue and walls; the odd one lets the mould close only one way."
	if b.KeyKind == "strip" {
		what = fmt.Sprintf("Set %s, wider at the top than at the foot, one of them larger.",
			quantity.Plural(b.Keys, "length of locking strip", "lengths of locking strip"))
		why = "The halves snap together and hold without slipping; they are pulled apart, not slid."
	}
	if b.KeyKind == "bevel" {
		what = fmt.Sprintf("Bevel the rim, %.1f mm deep.", b.KeySize)
	}
	b.do(
		what,
		why,
		"",
		keyMinutes*float64(b.Keys),
	)
}

// Rods are what leaves the channels of a mould in its rubber, of all cavities.
type Rods struct {
	Sprue, Runner, Gate float64 // bores, mm
	Sprues, Gates       int
	Runs                float64   // mm of runner
	Blind, Round        float64   // bore of a blind channel, and how long it is round one part, mm
	Vents               []float64 // bores of those whose wires are cast in, mm
	Cuts                []float64 // bores of those that are cut out of the rubber, mm
	Weeps, Plugged      []int     // vents, from 1, that are plugged once they weep, and before the pour
}

// rods sets what leaves sprue and vents in the rubber of a mould in halves.
func (b *Bench) rods() {
	r := b.Rods
	if b.Kind.Resin != Sprued || r.Sprues == 0 {
		return
	}
	where := map[Stands]string{Hung: "up to the top of the box", OnSprue: "down to the floor, where the well's former stands",
		Sideways: "out to the wall that will be on top"}[b.Stands]
	what := fmt.Sprintf("Lay %s of %.3g mm %s", quantity.Plural(r.Sprues, "sprue rod", "sprue rods"), r.Sprue, where)
	if r.Runs > 0 {
		what += fmt.Sprintf(", %.0f mm of runner of %.3g mm, %s of %.3g mm up to the parts", r.Runs, r.Runner,
			quantity.Plural(r.Gates, "gate", "gates"), r.Gate)
	}
	if n := len(r.Vents); n > 0 {
		what += fmt.Sprintf(", and %s of %.3g mm", quantity.Plural(n, "vent wire", "vent wires"), r.Vents[0])
	}
	b.do(
		what+".",
		"What stands in the rubber now need not be cut later. Rods that lie in the parting leave half in each half.",
		"",
		rodMinutes*float64(r.Sprues)+gateMinutes*float64(r.Gates)+ventMinutes*float64(len(r.Vents)),
	)
}

// fixed is how the house fixes masters to their board.
func (b *Bench) fixed() string {
	return map[string]string{practice.Wax: "with drops of wax, under its middle", practice.WhiteGlue: "with white glue, under its middle",
		practice.HotGlue: "with hot glue, under its middle and not on a print's skin",
		practice.Instant: "with instant glue, under its middle"}[b.House.Does(practice.Fixing)]
}

// cups is what the house mixes in, as a reason.
func (b *Bench) cups() string {
	return map[string]string{practice.ThinCups: " Not in a thin cup before a drop of the resin has stood in one for its pot life.",
		practice.PaperCups: " The paper cup unwaxed and bone dry."}[b.House.Does(practice.Cups)]
}

// cleared names the channels that the trimming opens.
func (b *Bench) cleared() string {
	switch {
	case b.Kind.Resin != Sprued || b.Rods.Sprues == 0:
		return ""
	case len(b.Rods.Vents) > 0:
		return ", pull the rods, clear the sprue and the vents"
	}
	return ", pull the rod, clear the sprue"
}

// held is how masters stand in a block that is poured round them.
func (b *Bench) held() {
	vents := ""
	if len(b.Rods.Vents) > 0 {
		vents = "; vent wires where the vents will be"
	}
	minutes := hangMinutes + 6*float64(b.Cavities)
	why := "Every support leaves a hole, so it stands where an opening is wanted anyway. Spacers as high as the room under it " +
		"set the height."
	if b.Supports != "" {
		vents = "; besides on " + b.Supports + vents
		why += " Drill and pin the master, or let feet into holes of the base board; glue it to them if it is lighter than the rubber."
	}
	switch b.Stands {
	case Hung:
		b.do(fmt.Sprintf("Hang %s from the sprue rod, %.0f mm over the floor%s.", b.parts(), b.Under, vents), why, "", minutes)
	case OnSprue:
		b.do(
			fmt.Sprintf(
				"Stand %s on the sprue's former, fixed to the base board, %.0f mm over the floor%s.",
				b.parts(),
				b.Under,
				vents,
			),
			why,
			"Hot glue and wax burn.",
			minutes,
		)
	case Sideways:
		b.do(
			fmt.Sprintf(
				"Hold %s by the sprue rod through the wall that will be on top, %.0f mm over the floor%s.",
				b.parts(),
				b.Under,
				vents,
			),
			why,
			"",
			minutes,
		)
	default:
		on := cmp.Or(b.Supports, "pins")
		b.do(fmt.Sprintf("Hold %s on %s, %.0f mm over the floor.", b.parts(), on, b.Under), why, "", minutes)
	}
}

// between is what happens from one pour to the next.
func (b *Bench) between(next Pour) {
	turned := "Turn the box over, take the " + b.Kind.Bed + " off"
	if b.Kind.Sided && next.Name == halfA {
		turned = "Trim the side pieces, put them back"
	}
	b.do(
		turned+"; leave the part in the rubber, clean it, close gaps along the wall.",
		"Clay left behind copies as roughness; a part that lifts must go fully down again.",
		"",
		turnMinutes,
	)
	how, dries := map[string]string{practice.Jelly: "Petroleum jelly, thinned, wiped thin", practice.Aerosol: "Release from the can",
		practice.Brushed: "Two thin coats of brushed release"}[b.House.Does(practice.Release)], driesMinutes
	if b.House.Does(practice.Release) == practice.Brushed {
		dries *= 2
	}
	b.do(
		how+" on all rubber, none on the part.",
		"Rubber bonds to bare rubber. On the part it only blurs detail.",
		sprays,
		releaseMins,
	)
	b.wait("Release dries.", b.airing(), dries)
}

// airing is what a platinum rubber asks of a release.
func (b *Bench) airing() string {
	if b.Rubber != nil && b.Rubber.Traits.Family == "platinum" {
		return "Under platinum rubber a release without silicone, aired until it no longer smells: what is still in it stops the cure."
	}
	return ""
}

// measured is how the house measures, as a step begins.
func (b *Bench) measured(what string) string {
	return map[string]string{practice.ByWeight: "Weigh and mix ", practice.ByMarks: "Fill A and B to their marks and mix ",
		practice.ByEye: "Judge A and B by eye and mix "}[b.House.Does(practice.Measure)] + what
}

// stirred is how the house mixes, as a reason.
func (b *Bench) stirred() string {
	if b.House.Does(practice.Stirring) == practice.Hard {
		return "Hard and thoroughly; the vacuum takes the air out again."
	}
	return "Slowly, the stick on the bottom: what air is not stirred in need not come out."
}

// pour is mixing, degassing and pouring without a pause, and the cure.
func (b *Bench) pour(i int) {
	p := b.Pours[i]
	mixes := max(1, p.Mixes.Value)
	times := ""
	if mixes > 1 {
		times = fmt.Sprintf(", %.0f mixes", mixes)
	}
	mixing, degas, pouring := b.Mixing(p)
	b.steps = append(b.steps, Step{Act: Mixes, Do: b.measured(fmt.Sprintf("the rubber for %s%s.", Small(p.Name), times)),
		Why:     "Stir the parts in their cans, scrape sides and bottom, pour into a second cup and mix again. " + b.stirred() + b.cups(),
		Caution: gloves,
		Minutes: mixing * mixes, Pour: i})
	if degas > 0 {
		b.steps = append(
			b.steps,
			Step{
				Act:     Degases,
				Do:      "Degas until it has risen and fallen back, then two minutes more.",
				Why:     "It takes its time out of the pot life.",
				Caution: chamber,
				Minutes: degas * mixes,
				With:    true,
				Pour:    -1,
			},
		)
	}
	level := ""
	if p.Level > 0 {
		level = fmt.Sprintf(" to %.1f mm over the floor", p.Level)
	}
	brush := "Brush a thin coat over the detail"
	if i < len(b.Brush) && b.Brush[i] > 0 {
		brush = fmt.Sprintf("Brush rubber into the %s where it would shut in air", quantity.Plural(b.Brush[i], "place", "places"))
	}
	if b.House.Does(practice.Filler) == practice.Scrap {
		b.do(
			"Lay washed chunks of cured rubber of the same family into the outer room, a finger from part and wall.",
			"They save fresh rubber. Degassed with it, or not at all in a mould for pressure: air in them is squeezed and prints as bumps.",
			"",
			fillerMins,
		)
	}
	b.steps = append(
		b.steps,
		Step{
			Act:     Fills,
			Do:      fmt.Sprintf("%s, then pour %s, %s up%s.", brush, Small(p.Name), p.Up, level),
			Why:     p.Spot,
			Minutes: pouring * mixes,
			With:    true,
			Pour:    -1,
		},
	)
	if b.House.Does(practice.Curing) == practice.Pot {
		b.steps = append(b.steps, Step{
			Act:     Pots,
			Do:      "Into the pressure pot with it, level, before it gels; bolts crosswise, up to pressure until it has cured.",
			Why:     "Bubbles are pressed too small to see. Castings at this pressure or less: above it they print as bumps.",
			Caution: pressure,
			Minutes: closeMinutes,
			With:    true,
			Pour:    -1,
		})
	}
	b.steps = append(
		b.steps,
		Step{
			Act:     Cures,
			Do:      p.cures(),
			Why:     b.opens(),
			Minutes: b.Cure(),
			Wait:    true,
			Pour:    -1,
		},
	)
}

// Mixing is how long one mix of a pour takes, min.
func (b *Bench) Mixing(p Pour) (mixing, degas, pouring float64) {
	density := 1.1 // where no rubber is chosen; common, from memory
	if b.Rubber != nil {
		density = b.Rubber.Density
	}
	return b.House.Mixing(p.Mixed.Value * density / max(1, p.Mixes.Value))
}

// halved is how moulds in halves are opened.
func halved(b *Bench) {
	b.do(
		"Open: "+opening(b.Opening)+".",
		"Not before the left-over in the cup is hard and dry.",
		"",
		openMinutes+4*float64(len(b.Sides)),
	)
}

// opening lists pieces as they leave.
func opening(names []string) string {
	var out []string
	for _, n := range names {
		out = append(out, Small(n))
	}
	if n := len(out); n > 4 {
		out = append([]string{out[0], "…", out[n-3]}, out[n-2:]...)
	}
	return strings.Join(out, ", then ")
}

// uneven tells of a bed that follows the part.
func (b *Bench) uneven() string {
	if b.Off < 1 {
		return ""
	}
	return fmt.Sprintf(", following it up and down by %.0f mm", b.Off)
}

// bedded is a bed of clay up to the parting.
func bedded(b *Bench) {
	b.do(fmt.Sprintf("Bed %s in sulphur-free clay up to the parting, %.1f mm over the floor%s.", b.parts(), b.Bed, b.uneven()),
		"The seam is exactly where the clay meets the part: press it on and cut it sharp.", "", bedMinutes+b.more(20))
}

// Small begins a name with a small letter, and leaves half A its letter.
func Small(name string) string {
	if name == "" {
		return name
	}
	return strings.ToLower(name[:1]) + name[1:]
}

// Common findings of a bench.
func (b *Bench) clear() []finding.Finding {
	if b.Rubber != nil && b.Rubber.Traits.Clear {
		return nil
	}
	f := note(
		"fins-unseen",
		finding.Watch,
		"The fins cannot be seen through this rubber.",
		"A tape-parted block is cut by eye down to the inked fins: it wants a clear rubber.",
	)
	f.Remedies = []finding.Remedy{{Label: "Choose a rubber", Action: finding.OpenStock}}
	return []finding.Finding{f}
}

// cures says that a pour cures by itself, one piece or several.
func (p Pour) cures() string {
	if len(p.Pieces) > 1 {
		return p.Name + " cure."
	}
	return p.Name + " cures."
}
