// Package suit chooses back from the end product: what the casting must be
// tells which resins on the shelf will do, what they and the master ask of
// the rubber tells which rubbers will. Data sheets go first.
package suit

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"bathyform/core/inhibit"
	"bathyform/core/mix"
)

// Want is a property that the casting must have.
type Want string

// What can be asked of a casting.
const (
	Rigid    Want = "rigid"
	Flexible Want = "flexible"
	Clear    Want = "clear"
	Outdoor  Want = "outdoor"
	Heat     Want = "heat"     // 80 °C, a closed car in summer
	Skin     Want = "skin"     // food or skin contact
	Strong   Want = "strong"   // carries a load
	Tinted   Want = "tinted"   // of a colour of its own, all through
	Dark     Want = "dark"     // of a dark or full colour, all through
	Pressure Want = "pressure" // clear or bubble-free, cured under pressure
)

// hot is the temperature in °C that Heat asks for. Common practice, no source.
const hot = 80

// strong is the tensile strength in MPa that Strong asks for, about that of
// an injection-moulded ABS. From memory.
const strong = 40

// Match is one material held against what is asked.
type Match struct {
	Index   int // on the shelf
	Name    string
	Fits    bool
	For     []string
	Against []string
	Test    string // what to try first; empty where nothing is to be feared
}

// Part is what the resin has to fill.
type Part struct {
	Thinnest, Thickest float64 // mm; 0 where not known
	Shore              float64 // A, that a flexible casting shall have; 0 for any
}

// near is by how much a casting's hardness may differ from what is asked,
// Shore A; common practice, no source.
const near = 5

// Resins holds the resins of a shelf against what is wanted; those that fit come first.
func Resins(shelf []mix.Material, wants []Want, p Part) []Match {
	var out []Match
	for i, m := range shelf {
		t := m.Traits
		match := Match{Index: i, Name: m.Name, Fits: true}
		ask := func(ok bool, good, bad string) {
			if ok {
				match.For = append(match.For, good)
			} else {
				match.Fits = false
				match.Against = append(match.Against, bad)
			}
		}
		for _, w := range wants {
			switch w {
			case Rigid:
				ask(!t.Flexible, "Rigid.", "Cures flexible.")
			case Flexible:
				ask(t.Flexible, "Flexible.", "Cures rigid.")
				switch {
				case p.Shore == 0 || !t.Flexible:
				case t.Shore == 0:
					match.Test = "Its hardness is not said in Stock: cast a chip and press it against one that is known."
				default:
					ask(math.Abs(t.Shore-p.Shore) <= near, fmt.Sprintf("%.0f A, as asked.", t.Shore),
						fmt.Sprintf("%.0f A, where %.0f A is asked.", t.Shore, p.Shore))
				}
			case Clear:
				ask(t.Clear, "Cures clear.", "Not clear.")
			case Outdoor:
				ask(t.Outdoor, "Stands light and weather.", "Its sheet does not promise light and weather: paint it, or take another.")
			case Heat:
				ask(t.Heat >= hot, fmt.Sprintf("Stands %.0f °C.", t.Heat), fmt.Sprintf("Its sheet does not promise %d °C.", hot))
			case Strong:
				ask(
					t.Strength >= strong,
					fmt.Sprintf("Tensile strength %.0f MPa.", t.Strength),
					fmt.Sprintf("Its sheet does not promise %d MPa.", strong),
				)
			case Tinted:
				switch {
				case t.Colour == "white" || t.Colour == "clear" || t.Clear:
					match.For = append(match.For, "Takes pigment; colour all batches of an order from one pot of it.")
				case t.Colour == "":
					match.Test = "Its colour is not said in Stock: cast a chip with pigment first."
				default:
					match.Fits = false
					match.Against = append(match.Against, "Cures "+t.Colour+": pigment cannot lighten it.")
				}
			case Dark:
				switch {
				case t.Colour == "white":
					match.Fits = false
					match.Against = append(match.Against, "Cures white, which lightens every pigment: a dark or full colour "+
						"starts from a clear base.")
				case t.Colour == "clear" || t.Clear:
					match.For = append(match.For, "Clear: pigment comes out as dark and full as it is.")
				case t.Colour == "amber":
					match.For = append(match.For, "Amber: dark colours come out, blues turn green.")
				case t.Colour == "black":
					match.For = append(match.For, "Cures black by itself; no other colour comes out.")
				default:
					match.Test = "Its colour is not said in Stock: cast a chip with pigment first."
				}
			case Skin:
				match.Against = append(
					match.Against,
					"Food or skin contact: only a resin whose maker certifies it, fully cured, and by local rules.",
				)
			}
		}
		if p.Thinnest > 0 && t.MinSection > p.Thinnest {
			match.Fits = false
			match.Against = append(
				match.Against,
				fmt.Sprintf("Wants sections of %.2g mm; this part goes down to %.2g mm.", t.MinSection, p.Thinnest),
			)
		}
		if p.Thickest > 0 && t.MaxSection > 0 {
			ask(
				t.MaxSection >= p.Thickest,
				fmt.Sprintf("Takes sections up to %.3g mm.", t.MaxSection),
				fmt.Sprintf("Overheats over %.3g mm; this part is %.3g mm thick.", t.MaxSection, p.Thickest),
			)
		}
		out = append(out, match)
	}
	return fitting(out)
}

// Tested tells of a rubber on the master's surface: whether it was tried, and whether it cured.
type Tested func(rubber string) (tried, cured bool)

// Rubbers holds the rubbers of a shelf against the master's surface and what
// the resin asks; those that fit come first.
func Rubbers(shelf []mix.Material, wants []Want, surface inhibit.Surface, tested Tested) []Match {
	var out []Match
	for i, m := range shelf {
		t := m.Traits
		match := Match{Index: i, Name: m.Name, Fits: true}
		tried, cured := tested(m.Name)
		e := inhibit.Of(inhibit.Family(t.Family), surface)
		switch {
		case tried && cured:
			match.For = append(match.For, "Your test on this surface cured.")
		case tried:
			match.Fits = false
			match.Against = append(match.Against, "Your test on this surface stayed tacky.")
		case t.Family == "":
			match.Test = "Its family is not said in Stock: dab it on the master first."
		case e.Severity == inhibit.Severe:
			match.Fits = false
			match.Against = append(match.Against, "Does not cure on it: "+e.Why+".")
			match.Test = e.Remedy
		case e.Severity == inhibit.Mild:
			match.Test = e.Why + ": " + e.Remedy
		default:
			match.For = append(match.For, "Cures on this surface.")
		}
		if slices.Contains(wants, Clear) {
			if inhibit.Family(t.Family) == inhibit.Platinum {
				match.For = append(match.For, "Platinum-cured rubber gives clear castings a clean gloss.")
			} else {
				match.Against = append(match.Against, "Tin-cured rubber can leave clear castings tacky or dull.")
			}
		}
		if slices.Contains(wants, Pressure) || slices.Contains(wants, Clear) {
			match.For = append(match.For, "Degas it: under pressure the cavity is pushed into any bubble.")
		}
		if inhibit.Family(t.Family) == inhibit.Tin && t.Shrink >= 0.3 {
			match.Against = append(match.Against, fmt.Sprintf("Shrinks %.2g %%, more with age.", t.Shrink))
		}
		out = append(out, match)
	}
	return fitting(out)
}

func fitting(all []Match) []Match {
	slices.SortStableFunc(all, func(a, b Match) int {
		if a.Fits != b.Fits {
			if a.Fits {
				return -1
			}
			return 1
		}
		return cmp.Compare(len(a.Against), len(b.Against))
	})
	return all
}
