package practice

import (
	"fmt"
	"slices"
)

// School is a question on which casters differ, and the answers to it. The
// first is what a new shop starts with. All are common practice, no source.
type School struct {
	Key      string
	Question string
	Choices  []Choice
}

// Choice is one school's answer and its reason.
type Choice struct{ Key, Name, Why string }

// The schools that are a choice of words; those that are a measure or a yes
// or no stand in [House] itself: clearance, feed, cut, degassing, pressure.
const (
	Parting  = "parting"
	Vents    = "vents"
	Measure  = "measure"
	Release  = "release"
	Releases = "releases"
	Filler   = "filler"
	Opening  = "opening"
	Rubber   = "rubber"
	Cavities = "cavities"
	Stirring = "stirring"
	Tint     = "tint"
	Degate   = "degate"
	Closing  = "closing"
	Plugs    = "plugs"
	Filling  = "filling"
	Cups     = "cups"
	Blade    = "blade"
	Fixing   = "fixing"
	Curing   = "curing"
	Inlet    = "inlet"
)

// Answers that the program asks for by name.
const (
	Clay       = "clay"
	Cut        = "cut"
	Beforehand = "beforehand"
	Later      = "later"
	ByWeight   = "weight"
	ByMarks    = "marks"
	ByEye      = "eye"
	Jelly      = "jelly"
	Aerosol    = "aerosol"
	Brushed    = "brushed"
	Always     = "always"
	Seldom     = "seldom"
	Never      = "never"
	Scrap      = "scrap"
	Sheet      = "sheet"
	Overnight  = "overnight"
	Many       = "many"
	Gently     = "gently"
	Hard       = "hard"
	Soft       = "soft"
	Handle     = "handle"
	Bands      = "bands"
	Plates     = "plates"
	Tape       = "tape"
	OneBand    = "one band"
	Open       = "open"
	Plugged    = "plugged"
	Before     = "before"
	After      = "after"
	PartA      = "part A"
	PartB      = "part B"
	Any        = "any"
	Tin        = "tin"
	Platinum   = "platinum"
	Single     = "single"
	Round      = "round"
	Smallest   = "smallest"
	ClearCups  = "clear"
	ThinCups   = "thin"
	PaperCups  = "paper"
	Wax        = "wax"
	WhiteGlue  = "white glue"
	HotGlue    = "hot glue"
	Instant    = "instant glue"
	Pot        = "pot"
	Gravity    = "gravity"
	Injected   = "injected"
	Squeezed   = "squeezed"
)

// Schools are all of them, in the order of the work.
var Schools = []School{
	{Parting, "Where no kind of mould is chosen", []Choice{
		{Clay, "clay up and key both halves", "The seam lies where the caster puts it, and the halves register."},
		{Cut, "pour a block and cut it", "One pour and one cure; the cut finds its own way back."},
	}},
	{Rubber, "Rubber of the house", []Choice{
		{Any, "by the job", "Each family has its masters that it will not cure on."},
		{Tin, "tin for all", "Cheap, and nothing inhibits it but damp that is missing."},
		{Platinum, "platinum for all", "Hardly shrinks, lasts longer; sulphur, tin and latex stop it."},
	}},
	{Cavities, "For an order of some size", []Choice{
		{Single, "many single moulds", "One that tears costs one; they are poured as they come free."},
		{Many, "many cavities in a mould", "One shot and one closing for several castings."},
	}},
	{Vents, "Vents", []Choice{
		{Beforehand, "at every high spot beforehand", "The first casting is a good one."},
		{Later, "none until a pull shows the need", "Every vent is a scar; most high spots clear by themselves. Cut where a void shows."},
	}},
	{Fixing, "Masters are fixed to their board", []Choice{
		{Wax, "with drops of wax or tape", "Comes off with a knock; for light parts that stand."},
		{WhiteGlue, "with white glue", "Holds well, and water takes it off again."},
		{HotGlue, "with hot glue", "Strong and quick; it can pull a print's surface off, and some of it stops platinum rubber."},
		{Instant, "with instant glue", "For small parts and metal; the joint is broken, and the rest scraped off."},
	}},
	{Cups, "Mixing cups", []Choice{
		{ClearCups, "clear measuring cups", "They stand resin, show the mark and the last streak, and last."},
		{ThinCups, "thin throw-away cups", "Cheap; some resins soften and dissolve them while they are stirred."},
		{PaperCups, "paper cups", "Cheap; unwaxed and bone dry, since wax and damp both go into the mix."},
	}},
	{Measure, "Materials are measured", []Choice{
		{ByWeight, "to the gram", "The ratio is what the sheet says, whatever the cup."},
		{ByMarks, "by volume marks on the cup", "Quick, and right where the ratio is by volume."},
		{ByEye, "by eye", "For small fills; the ratio drifts, and nobody knows by how much."},
	}},
	{Stirring, "Mixing", []Choice{
		{Gently, "gently, no air in", "What is not stirred in need not be drawn out."},
		{Hard, "hard, then degassed", "Thoroughly mixed comes first; the vacuum takes the air."},
	}},
	{Curing, "Rubber cures", []Choice{
		{Open, "in the open", "What the vacuum, or a thin high stream, left in it rises and bursts."},
		{
			Pot,
			"in the pressure pot",
			"What air is left is pressed too small to see: right for castings made at that pressure, never above it.",
		},
	}},
	{Filler, "Scrap rubber", []Choice{
		{Never, "never in a mould", "Old rubber holds air, which a pot squeezes: castings come out with bumps."},
		{Scrap, "as filler away from the part", "Cured chunks of the same family save fresh rubber. Not for pressure."},
	}},
	{Release, "Between rubber and rubber", []Choice{
		{Jelly, "petroleum jelly, thinned", "Thin and even, wiped off with a rag; never on the part."},
		{Aerosol, "release from the can", "Quick on fine keys; let it flash off."},
		{Brushed, "liquid release, brushed", "Goes where it is wanted; two thin coats, dried."},
	}},
	{Opening, "A mould is opened", []Choice{
		{Sheet, "at the sheet's time", "The left-over in the cup tells."},
		{Overnight, "always the next day", "Rubber that is torn young tears for good."},
	}},
	{Blade, "A block that was poured whole is cut", []Choice{
		{Round, "round, to a hinge", "It opens like a book: the part is seen, lies free and is cleaned easily."},
		{Smallest, "by the smallest slit that lets the part out", "The smaller the slit, the better the copy and the less seam; " +
			"the part comes hard, and suction " +
			"has to be broken."},
	}},
	{Closing, "A mould is held closed", []Choice{
		{Bands, "by many light bands", "Even pressure; over-tight distorts the part."},
		{Plates, "between plates with ties", "For large faces that bands would bow."},
		{Tape, "with stretch tape", "Follows any block, seals the seam."},
		{OneBand, "by one band", "Quick; for small blocks that register well."},
	}},
	{Releases, "Release in the cavity", []Choice{
		{Always, "before every pull", "The rubber keeps its skin longest."},
		{Seldom, "now and then", "For life; every coat takes a little detail."},
		{Never, "never", "For painting and glueing without washing; the rubber wears sooner."},
	}},
	{Inlet, "Resin goes in", []Choice{
		{Gravity, "by its own weight", "It rises slowly and takes no air along."},
		{
			Injected,
			"from a syringe, through the sprue",
			"It reaches thin walls and long ways; pushed fast it takes air along and opens the halves.",
		},
		{
			Squeezed,
			"laid into one half, pressed by the other",
			"No sprue and no vents to cut; flash all round. Where no kind of mould is chosen.",
		},
	}},
	{Tint, "Colour goes into", []Choice{
		{PartA, "the resin part", "Thicker, so that the colour stays up."},
		{PartB, "the hardener part", "Shows when both are mixed to one colour."},
	}},
	{Plugs, "Vents while pouring", []Choice{
		{Open, "open until they weep, then plugged", "Air leaves until resin comes."},
		{Plugged, "plugged before, opened one by one", "Resin is not lost through the low ones."},
	}},
	{Filling, "In a mould that is pressed, the resin comes", []Choice{
		{Before, "before the halves close", "Laid on from one side, it drives the air before it."},
		{After, "after they have closed", "Through a gate; no flash to speak of."},
	}},
	{Degate, "Sprue and vents are", []Choice{
		{Soft, "taken off while the casting is soft", "They cut like cheese; a clean scar."},
		{Handle, "left on as a handle", "For painting and filing; sawn off last."},
	}},
}

// Does is a house's answer to a school's question: its own, or the usual.
func (h House) Does(key string) string {
	for _, s := range Schools {
		if s.Key != key {
			continue
		}
		if own := h.Schools[key]; slices.ContainsFunc(s.Choices, func(c Choice) bool { return c.Key == own }) {
			return own
		}
		return s.Choices[0].Key
	}
	return ""
}

// checkSchools refuses answers that no school gives.
func (h House) checkSchools() error {
	for key, answer := range h.Schools {
		at := slices.IndexFunc(Schools, func(s School) bool { return s.Key == key })
		if at < 0 {
			return fmt.Errorf("nobody asks about %q", key)
		}
		if !slices.ContainsFunc(Schools[at].Choices, func(c Choice) bool { return c.Key == answer }) {
			return fmt.Errorf("%q is no answer to %q", answer, Schools[at].Question)
		}
	}
	return nil
}
