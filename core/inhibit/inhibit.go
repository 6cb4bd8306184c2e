// Package inhibit knows which surfaces keep which rubbers from curing. All of
// it is common practice from memory; a dab on the very surface is the proof.
package inhibit

// Family is how a rubber cures.
type Family string

// The families on the shelf.
const (
	Tin      Family = "tin"      // condensation cure
	Platinum Family = "platinum" // addition cure
	Urethane Family = "urethane"
)

// Surface is what the rubber will touch.
type Surface string

// Surfaces of masters and of what stands about them.
const (
	Unknown    Surface = "unknown"
	PrintPLA   Surface = "filament print"
	PrintResin Surface = "resin print"
	Wood       Surface = "wood"
	Plaster    Surface = "plaster"
	Metal      Surface = "metal"
	Acrylic    Surface = "acrylic"
	Wax        Surface = "wax"
	CastPU     Surface = "urethane casting"
	Epoxy      Surface = "epoxy"
	Clay       Surface = "sulphur clay"
	ClayFree   Surface = "sulphur-free clay"
	Primer     Surface = "spray primer"
	HotGlue    Surface = "hot glue"
	InstantG   Surface = "instant glue"
	Latex      Surface = "latex gloves"
	TinCured   Surface = "tin-cured rubber"
)

// Surfaces lists what can be chosen, masters first.
var Surfaces = []Surface{Unknown, PrintPLA, PrintResin, Wood, Plaster, Metal, Acrylic, Wax, CastPU, Epoxy,
	Primer, Clay, ClayFree, HotGlue, InstantG, Latex, TinCured}

// Severity of an inhibition.
type Severity int

// From nothing known to rubber that stays liquid.
const (
	None Severity = iota
	Mild
	Severe
)

// Effect is what a surface does to a rubber.
type Effect struct {
	Severity   Severity
	Throughout bool // the whole pour suffers, not the touching skin alone
	Why        string
	Remedy     string
}

// Source of the table.
const Source = "common practice, from memory; a test on the very surface decides"

// Of returns what a surface does to a family of rubber.
func Of(f Family, s Surface) Effect {
	if s == Unknown {
		return Effect{
			Severity: Mild,
			Why:      "nobody has said what the surface is",
			Remedy:   "say what the master is made of, or dab some rubber on it",
		}
	}
	switch f {
	case Platinum:
		return platinum[s]
	case Tin:
		return tin[s]
	case Urethane:
		return urethane[s]
	}
	return Effect{}
}

var platinum = map[Surface]Effect{
	PrintResin: {
		Severe,
		false,
		"uncured resin and its initiators stop the platinum",
		"cure it on under light, bake it out, seal it, and test; or use a tin-cure rubber",
	},
	Clay:     {Severe, true, "sulphur stops the platinum and creeps into the pour", "bed it in sulphur-free clay"},
	Latex:    {Severe, false, "sulphur from latex stops the platinum wherever a finger touched", "wear nitrile gloves"},
	TinCured: {Severe, false, "tin stops the platinum", "keep tools and cups apart; a tin-cured half must not meet it"},
	Epoxy:    {Mild, false, "amines at the surface slow the platinum", "cure it on warm, wash it, seal it and test"},
	Primer:   {Mild, false, "some primers and nitro lacquers slow the platinum", "let it dry for days, seal with acrylic, and test"},
	HotGlue:  {Mild, false, "some hot glues slow the platinum", "fix with tape, wax or instant glue"},
	InstantG: {Mild, false, "fresh instant glue slows the platinum at the joint", "let it set for an hour and wipe it"},
	CastPU:   {Mild, false, "a fresh urethane casting gives off amines and moisture", "let it stand for a day, seal it and test"},
	Wood:     {Mild, false, "resins and moisture in the wood slow it at the surface", "seal it with shellac or acrylic"},
	PrintPLA: {None, false, "plain filament prints do not hinder it; some dyes do", ""},
}

var tin = map[Surface]Effect{
	Clay:       {Mild, false, "sulphur clay can leave the skin tacky", "seal it or use sulphur-free clay"},
	PrintResin: {Mild, false, "uncured print resin can leave the skin tacky", "cure it on under light and wash it"},
}

var urethane = map[Surface]Effect{
	Plaster:  {Severe, false, "moisture foams urethane rubber", "dry and seal it, and use release"},
	Wood:     {Severe, false, "moisture foams urethane rubber", "dry and seal it, and use release"},
	CastPU:   {Mild, false, "urethane sticks to urethane", "use plenty of release"},
	PrintPLA: {Mild, false, "urethane rubber sticks to most surfaces", "use release"},
}
