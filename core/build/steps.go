package build

import (
	"fmt"
	"math"
	"strings"

	"bathyform/core/kind"
	"bathyform/core/mix"
	"bathyform/core/pieces"
)

// Minutes of the steps; common practice, no source, from memory.
const (
	boxMinutes    = 30.0
	bedMinutes    = 60.0
	boardMinutes  = 35.0
	tapeMinutes   = 60.0
	hangMinutes   = 20.0
	sideMinutes   = 24.0
	keyMinutes    = 2.0
	blanketMins   = 120.0
	shellHalf     = 60.0
	shellSets     = 45.0
	mixMinutes    = 4.0
	degasMinutes  = 6.0
	pourMinutes   = 5.0
	pourLitre     = 3.0
	turnMinutes   = 30.0
	releaseMins   = 5.0
	driesMinutes  = 15.0
	openMinutes   = 20.0
	cutMinutes    = 40.0
	trimMinutes   = 15.0
	reservoirMins = 15.0
	repourHours   = 1.0 // of a worn skin
	q10           = 2.0 // 10 °C warmer halves a cure
	sheetCelsius  = 25.0
	coldest       = 18.0 // °C, under which platinum rubber stops
)

// Cautions of the steps.
const (
	gloves  = "Nitrile gloves, goggles, fresh air; latex stops platinum rubber. The data sheet goes first."
	chamber = "A vacuum chamber can implode: a rated lid without scratches, and goggles."
	blade   = "The blade away from you and from the hand that holds; a cut-proof glove on that hand."
	sprays  = "Release sprays and solvents: no flame, fresh air."
	plaster = "Setting plaster grows hot: never round skin; dust mask when mixing it."
)

// cure is how long the rubber takes in this shop, minutes.
func (c Case) cure() float64 {
	d := 960.0
	if c.Rubber != nil && c.Rubber.Traits.Demould > 0 {
		d = c.Rubber.Traits.Demould
	}
	t := c.House.Celsius
	if t == 0 {
		t = sheetCelsius
	}
	return d * math.Pow(q10, -(t-sheetCelsius)/10)
}

// steps lists the work in order for this kind of mould.
func (c Case) steps(b *Build) {
	do := func(do, why, caution string, minutes float64) {
		b.Steps = append(b.Steps, Step{Do: do, Why: why, Caution: caution, Minutes: minutes, Pour: -1})
	}
	wait := func(do, why string, minutes float64) {
		b.Steps = append(b.Steps, Step{Do: do, Why: why, Minutes: minutes, Wait: true, Pour: -1})
	}
	n := max(1, c.Cavities)
	parts := "the master"
	if n > 1 {
		parts = fmt.Sprintf("the %d masters", n)
	}
	switch c.Kind {
	case kind.OpenFace:
		do("Fix "+parts+" by the flat back to a level board, detail up.", "Rubber lifts whatever it can get under.", "Hot glue and wax burn.", 10+2*float64(n))
	case kind.Cut, kind.Tape, kind.Stretch:
		do(fmt.Sprintf("Hang %s from the sprue rod, %.0f mm over the floor; vent wires where the vents will be.", parts, c.under()),
			"Every support leaves a hole, so it stands where an opening is wanted anyway.", "", hangMinutes+6*float64(n))
	case kind.Clay, kind.Squeeze, kind.Pieces:
		do(fmt.Sprintf("Bed %s in sulphur-free clay up to the parting, %.1f mm over the floor%s.", parts, b.pour("Half A").Bed, c.uneven()),
			"The seam is exactly where the clay meets the part: press it on and cut it sharp.", "", bedMinutes+20*float64(n-1))
	case kind.Board:
		do(fmt.Sprintf("Set %s into the parting board at %.1f mm over the floor, close the gaps with clay.", parts, b.pour("Half A").Bed),
			"The template has the part's outline cut out of it.", "", boardMinutes+8*float64(n-1))
	case kind.Shell:
		do("Set "+parts+" on the base board and mark its place; cover with film.", "The shell has to come back to the same marks.", "", 30)
		do(fmt.Sprintf("Lay clay %.0f mm thick all over, undercuts filled so that the shell draws; a bead along the parting, a spout at the low end, vents at the high ones.", c.Skin),
			"The clay's place is the rubber's place.", "", blanketMins)
		do("Build the first half of the shell over it, with a flange along the parting.", "Jute and plaster, or laminate, 10 to 15 mm.", plaster, shellHalf)
		wait("It sets.", "", shellSets)
		do("Release on the flange; build the second half and drill both through for bolts.", "", plaster, shellHalf)
		wait("It sets.", "", shellSets)
		do("Open the shell, take the clay out, clean part and shell; release on the shell; close it over the part on its marks.", "", sprays, 60)
	}
	if c.Kind == kind.Tape {
		do(fmt.Sprintf("Set the tape fins along the parting, %.0f mm in all, edges inked.", c.Plan.Line), "The cutter sees them through the rubber; each fin vents the parting as well.", "", tapeMinutes)
	}
	if c.Kind == kind.Pieces {
		for i, p := range c.Plan.Pieces[:len(c.Plan.Pieces)-2] {
			do(fmt.Sprintf("Wall off the place of %s.", small(p.Name)), "", "", sideMinutes)
			if i == 0 {
				b.Steps[len(b.Steps)-1].Why = "With its step at the wall, which locates it in the block; draft outwards, or it locks."
			}
		}
	}
	if keys := len(c.Plan.Keys.Keys); keys > 0 && c.keyed() {
		k := c.Plan.Keys.Keys[0]
		what := fmt.Sprintf("Press in %s, one of them larger.", plural(keys, "key", "keys"))
		if k.Kind == "bevel" {
			what = fmt.Sprintf("Bevel the rim, %.1f mm deep.", k.Radius)
		}
		do(what, "Straight in the draw, clear of sprue and walls; the odd one lets the mould close only one way.", "", keyMinutes*float64(keys))
	}
	if c.Kind == kind.Squeeze {
		do("Lay the blind channel outside the land.", "It takes what is squeezed out and feeds it back as the resin shrinks.", "", reservoirMins)
	}
	if c.Kind != kind.Shell {
		do("Set up the box, seal the corners, check it level both ways.", "Leaks are the commonest accident; level in the pot is level of the mould.", "", boxMinutes)
	}
	first := true
	for i, p := range b.Pours {
		if !first {
			c.between(b, p)
		}
		first = false
		c.pour(b, i)
	}
	switch c.Kind {
	case kind.Cut, kind.Tape:
		do(c.cutWords(b), "The first pass makes the register, the second finds the part; stop at the hinge.", blade, cutMinutes*math.Sqrt(float64(n)))
	case kind.Stretch:
		do("Peel the rubber off like a sock, from the sprue on.", "Talc or soapy water helps.", "", openMinutes)
	case kind.OpenFace:
		do("Take the box off, turn the block over, lift the part out.", "The open face is up from now on.", "", openMinutes)
	default:
		do("Open: "+opening(c.Plan, c.Kind)+".", "Not before the left-over in the cup is hard and dry.", "", openMinutes+4*float64(len(c.Plan.Pieces)-2))
	}
	if c.Kind == kind.Cut || c.Kind == kind.Tape {
		do("Push the block back into its own box or sleeve: that is its clamp.", "A slit carries no tension; held all round it closes without bands.", "", 5)
	}
	do("Trim flash, clean the sprue and the vents, number every piece and every side with an arrow for this way up.", "Look for bubbles and torn edges now: what is wrong at birth every casting copies.", "", trimMinutes)
}

// keyed tells whether this kind has halves that need keys.
func (c Case) keyed() bool {
	switch c.Kind {
	case kind.Clay, kind.Board, kind.Squeeze, kind.Pieces:
		return true
	}
	return false
}

func (c Case) uneven() string {
	if c.Plan.Off < 1 {
		return ""
	}
	return fmt.Sprintf(", following it up and down by %.0f mm", c.Plan.Off)
}

func (b *Build) pour(name string) Pour {
	for _, p := range b.Pours {
		if p.Name == name {
			return p
		}
	}
	return Pour{}
}

// between is what happens from one pour to the next.
func (c Case) between(b *Build, next Pour) {
	turned := "Turn the box over, take the clay off"
	switch {
	case c.Kind == kind.Board:
		turned = "Turn the box over, take the board off"
	case next.Name == "Half A":
		turned = "Trim the side pieces, put them back"
	}
	b.Steps = append(b.Steps,
		Step{Do: turned + "; leave the part in the rubber, clean it, close gaps along the wall.", Why: "Clay left behind copies as roughness; a part that lifts must go fully down again.", Minutes: turnMinutes, Pour: -1},
		Step{Do: "Release on all rubber, none on the part.", Why: "Rubber bonds to bare rubber. On the part it only blurs detail.", Caution: sprays, Minutes: releaseMins, Pour: -1},
		Step{Do: "Release dries.", Minutes: driesMinutes, Wait: true, Pour: -1})
}

// pour is mixing, degassing and pouring without a pause, and the cure.
func (c Case) pour(b *Build, i int) {
	p := b.Pours[i]
	mixes := p.Mixes.Value
	times := ""
	if mixes > 1 {
		times = fmt.Sprintf(", %.0f mixes", mixes)
	}
	b.Steps = append(b.Steps, Step{Do: fmt.Sprintf("Mix the rubber for %s%s.", small(p.Name), times),
		Why: "Stir the parts in their cans, scrape sides and bottom, pour into a second cup and mix again.", Caution: gloves, Minutes: mixMinutes * mixes, Pour: i})
	if !c.House.NoDegas {
		b.Steps = append(b.Steps, Step{Do: "Degas until it has risen and fallen back, then two minutes more.", Why: "It takes its time out of the pot life.", Caution: chamber, Minutes: degasMinutes * mixes, With: true, Pour: -1})
	}
	level := ""
	if p.Level > 0 {
		level = fmt.Sprintf(" to %.1f mm over the floor", p.Level)
	}
	b.Steps = append(b.Steps,
		Step{Do: fmt.Sprintf("%s, then pour %s, %s up%s.", c.brushed(p.Name), small(p.Name), p.Up, level), Why: p.Spot, Minutes: pourMinutes + pourLitre*p.Mixed.Value/1000, With: true, Pour: -1},
		Step{Do: p.Name + " cures.", Why: fmt.Sprintf("By the sheet's time, at %.0f °C in the shop.", c.House.Celsius), Minutes: c.cure(), Wait: true, Pour: -1})
}

// brushed says what is painted with rubber before a pour.
func (c Case) brushed(pour string) string {
	n := 0
	switch {
	case pour == "Half A" && len(c.Brush) > 0:
		n = c.Brush[0]
	case pour == "Half B" && len(c.Brush) > 1:
		n = c.Brush[1]
	case pour == "Block":
		for _, b := range c.Brush {
			n += b
		}
	}
	if n == 0 {
		return "Brush a thin coat over the detail"
	}
	return fmt.Sprintf("Brush rubber into the %s where it would shut in air", plural(n, "place", "places"))
}

// cutWords tells how the block is cut.
func (c Case) cutWords(b *Build) string {
	if b.Cut == nil {
		return "Cut the block open along the parting."
	}
	how := "wavering"
	if c.House.Straight {
		how = "straight"
	}
	return fmt.Sprintf("Wrap the guide round, prick the line through and cut %s: %.0f mm deep once round, then to the part, %.0f mm at the nearest.", how, b.Cut.First, b.Cut.Nearest)
}

// opening is the order in which pieces leave.
func opening(p pieces.Plan, k kind.Kind) string {
	var names []string
	for _, q := range p.Pieces {
		names = append(names, small(q.Name))
	}
	if k == kind.Shell {
		return "the shell's halves, then the skin"
	}
	if n := len(names); n > 4 {
		names = append([]string{names[0], "…", names[n-3]}, names[n-2:]...)
	}
	return strings.Join(names, ", then ")
}

// small begins a name with a small letter, and leaves half A its letter.
func small(name string) string {
	if name == "" {
		return name
	}
	return strings.ToLower(name[:1]) + name[1:]
}

// life is the pot life that a pour has to keep to, minutes; 0 where not known.
func life(m *mix.Material) float64 {
	if m == nil {
		return 0
	}
	return m.Traits.PotLife
}
