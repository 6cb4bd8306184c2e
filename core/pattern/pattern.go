package pattern

import (
	"cmp"
	"fmt"
	"slices"
)

// Casting is one out of the log.
type Casting struct {
	Mould  string
	Cavity int    // from 1
	Run    string // what was poured together: a session, or a day
	Age    int    // pulls that the mould had given before
	Defect string // empty for a good one

	Lot     string  // of the resin; empty where nobody wrote it down
	Celsius float64 // in the shop; 0 where nobody did
}

// Kind is what castings have in common.
type Kind string

// What is looked for.
const (
	Cavity Kind = "cavity" // the same place in the same mould: the layout
	Run    Kind = "run"    // all of one run: the mix
	Age    Kind = "age"    // late in a mould's life: wear
	Mould  Kind = "mould"  // one of several: how it was made
	Lot    Kind = "lot"    // one lot of resin
	Heat   Kind = "heat"   // hot days
	Cold   Kind = "cold"   // cold ones
)

// Days that are hot or cold in a shop, °C. Common practice, no source.
const (
	hotFrom = 27.0
	coldTo  = 18.0
)

// Cause is what a pattern speaks for.
type Cause struct {
	Kind    Kind
	Of      string // which cavity, run or mould
	Defect  string // the commonest of them; empty for any
	Table   Table
	Chance  float64 // that it is none, corrected for how many were tried
	Tried   int
	Says    string
	Suggest string

	has func(Casting) bool
}

// FalseAlarm is the share of logs in which something is told though there is
// nothing.
const FalseAlarm = 0.05

// least is how many bad castings there must be before anything is looked for.
const least = 3

// late is the share of a mould's pulls, from the latest back, that count as late.
const late = 0.4

// mostCauses bounds what is told of one log.
const mostCauses = 6

// Causes are the patterns of a log that are no chance, the surest first. Castings
// that one explains are set aside before the next is looked for, or the strongest
// would hide the others.
func Causes(all []Casting) (out []Cause) {
	for len(out) < mostCauses {
		found := surest(all)
		if found == nil {
			return out
		}
		out = append(out, *found)
		all = slices.DeleteFunc(slices.Clone(all), found.has)
	}
	return out
}

// surest is the pattern that is the least likely to be chance; nil for none.
func surest(all []Casting) *Cause {
	bad := 0
	for _, c := range all {
		if c.Defect != "" {
			bad++
		}
	}
	if bad < least {
		return nil
	}
	oldest := map[string]int{}
	moulds, runs, cavities, lots := set(), set(), set(), set()
	for _, c := range all {
		oldest[c.Mould] = max(oldest[c.Mould], c.Age)
		moulds.add(c.Mould)
		runs.add(c.Run)
		cavities.add(place(c))
		lots.add(c.Lot)
	}
	var found []Cause
	look := func(kind Kind, of string, has func(Casting) bool) {
		t, defect := table(all, has)
		if t.Bad+t.Good >= least && t.OtherBad+t.OtherGood > 0 { // fewer could never be told, and are not tried
			found = append(found, Cause{Kind: kind, Of: of, Defect: defect, Table: t, Chance: t.Exact(), has: has})
		}
	}
	for _, p := range cavities.names {
		look(Cavity, p, func(c Casting) bool { return place(c) == p })
	}
	for _, r := range runs.names {
		look(Run, r, func(c Casting) bool { return c.Run == r })
	}
	for _, l := range lots.names {
		look(Lot, l, func(c Casting) bool { return c.Lot == l })
	}
	look(Heat, "hot days", func(c Casting) bool { return c.Celsius >= hotFrom })
	look(Cold, "cold days", func(c Casting) bool { return c.Celsius > 0 && c.Celsius <= coldTo })
	if len(moulds.names) > 1 {
		for _, m := range moulds.names {
			look(Mould, m, func(c Casting) bool { return c.Mould == m })
		}
	}
	for _, m := range moulds.names {
		if oldest[m] < 10 { // too young to tell
			continue
		}
		from := float64(oldest[m]) * (1 - late)
		own := func(c Casting) bool { return c.Mould == m }
		var mine []Casting
		for _, c := range all {
			if own(c) {
				mine = append(mine, c)
			}
		}
		late := func(c Casting) bool { return own(c) && float64(c.Age) > from }
		t, defect := table(mine, late)
		if t.Bad+t.Good >= least && t.OtherBad+t.OtherGood > 0 {
			found = append(found, Cause{Kind: Age, Of: m, Defect: defect, Table: t, Chance: t.Exact(), has: late})
		}
	}
	chances := make([]float64, len(found))
	for i, f := range found {
		chances[i] = f.Chance
	}
	for i, p := range Holm(chances) {
		found[i].Chance, found[i].Tried = p, len(found)
	}
	found = slices.DeleteFunc(found, func(c Cause) bool { return c.Chance > FalseAlarm || c.Table.Bad < least })
	if len(found) == 0 {
		return nil
	}
	// of two that are as sure the one that says more: a cavity before its mould
	best := slices.MinFunc(found, func(a, b Cause) int { return cmp.Compare(a.Chance, b.Chance) })
	best.words()
	return &best
}

func place(c Casting) string { return fmt.Sprintf("%s, cavity %d", c.Mould, c.Cavity) }

// table counts castings, and gives the defect that is the commonest among those
// that have it in common.
func table(all []Casting, has func(Casting) bool) (t Table, defect string) {
	n := map[string]int{}
	for _, c := range all {
		switch {
		case has(c) && c.Defect != "":
			t.Bad++
			n[c.Defect]++
			if n[c.Defect] > n[defect] || n[c.Defect] == n[defect] && c.Defect < defect {
				defect = c.Defect
			}
		case has(c):
			t.Good++
		case c.Defect != "":
			t.OtherBad++
		default:
			t.OtherGood++
		}
	}
	return t, defect
}

// words says what a pattern speaks for, and what is to be changed. Common practice,
// no source.
func (c *Cause) words() {
	share := func(bad, good int) string { return fmt.Sprintf("%d of %d", bad, bad+good) }
	held := fmt.Sprintf("%s bad, elsewhere %s", share(c.Table.Bad, c.Table.Good), share(c.Table.OtherBad, c.Table.OtherGood))
	switch c.Kind {
	case Cavity:
		c.Says = fmt.Sprintf("It is the layout: %s has %s, mostly \"%s\".", c.Of, held, c.Defect)
		c.Suggest = "The same place in the same cavity is a vent that is missing or blocked, a gate that is narrow, a web that is thin. " +
			"Look at the vent there."
	case Run:
		c.Says = fmt.Sprintf("It is the mix: of what was poured together on %s %s, mostly \"%s\".", c.Of, held, c.Defect)
		c.Suggest = "All cavities at once is the ratio, the mixing, damp, a lot, or heat: look at what was weighed then."
	case Lot:
		c.Says = fmt.Sprintf("It is the lot: of lot %s %s, mostly \"%s\".", c.Of, held, c.Defect)
		c.Suggest = "Old or damp material: look at its date and its lid, try a small cup of another lot beside it."
	case Heat:
		c.Says = fmt.Sprintf("It is the heat: from %.0f °C on %s, mostly \"%s\".", hotFrom, held, c.Defect)
		c.Suggest = "It gels before it has risen: chill both parts, mix less at a time, take a slower resin on such days."
	case Cold:
		c.Says = fmt.Sprintf("It is the cold: up to %.0f °C %s, mostly \"%s\".", coldTo, held, c.Defect)
		c.Suggest = "Cold resin is thick and cures slowly: warm the parts and the moulds, wait longer."
	case Age:
		c.Says = fmt.Sprintf("It is wear: late in the life of %s %s, mostly \"%s\".", c.Of, held, c.Defect)
		c.Suggest = "It grows with the pulls: let the mould rest, release it, or pour the next one in time."
	case Mould:
		c.Says = fmt.Sprintf("It is this mould: %s has %s, mostly \"%s\".", c.Of, held, c.Defect)
		c.Suggest = "One of several is how it was made: look for bubbles, flash and torn edges, and at its bands."
	}
}

// names are different ones in the order in which they came.
type names struct {
	names []string
	known map[string]bool
}

func set() *names { return &names{known: map[string]bool{}} }

func (s *names) add(n string) {
	if n != "" && !s.known[n] {
		s.known[n] = true
		s.names = append(s.names, n)
	}
}
