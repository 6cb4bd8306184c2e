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
	Humid   float64 // per cent; 0 as well
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
	Damp   Kind = "damp"   // damp ones
)

// Days that are hot or cold in a shop, °C, or damp, per cent. Common practice, no source.
const (
	hotFrom  = 27.0
	coldTo   = 18.0
	dampFrom = 65.0
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

// common is what some castings have in common.
type common struct {
	kind Kind
	of   string
}

// group counts the castings that have something in common.
type group struct {
	bad, good int
	defects   map[string]int
}

func (g *group) add(c Casting) {
	if c.Defect == "" {
		g.good++
		return
	}
	g.bad++
	g.defects[c.Defect]++
}

// commonest is the defect that is; of two that are as common the first by name.
func (g *group) commonest() (defect string) {
	for d, n := range g.defects {
		if defect == "" || n > g.defects[defect] || n == g.defects[defect] && d < defect {
			defect = d
		}
	}
	return defect
}

// book has the groups of a log in the order in which they came.
type book struct {
	groups map[common]*group
	order  []common
	oldest map[string]int // by mould
	whole  group
}

func bookOf(all []Casting) *book {
	b := &book{groups: map[common]*group{}, oldest: map[string]int{}, whole: group{defects: map[string]int{}}}
	for _, c := range all {
		b.oldest[c.Mould] = max(b.oldest[c.Mould], c.Age)
	}
	for _, c := range all {
		b.whole.add(c)
		for _, k := range b.of(c) {
			g, ok := b.groups[k]
			if !ok {
				g = &group{defects: map[string]int{}}
				b.groups[k] = g
				b.order = append(b.order, k)
			}
			g.add(c)
		}
	}
	return b
}

// tooYoung is of how many pulls a mould is, so that nothing late can be told of it.
const tooYoung = 10

// of is all that a casting may have in common with others.
func (b *book) of(c Casting) []common {
	out := []common{{Cavity, fmt.Sprintf("%s, cavity %d", c.Mould, c.Cavity)}, {Mould, c.Mould}}
	if c.Run != "" {
		out = append(out, common{Run, c.Run})
	}
	if c.Lot != "" {
		out = append(out, common{Lot, c.Lot})
	}
	switch {
	case c.Celsius >= hotFrom:
		out = append(out, common{Heat, "hot days"})
	case c.Celsius > 0 && c.Celsius <= coldTo:
		out = append(out, common{Cold, "cold days"})
	}
	if c.Humid >= dampFrom {
		out = append(out, common{Damp, "damp days"})
	}
	if oldest := b.oldest[c.Mould]; oldest >= tooYoung && float64(c.Age) > float64(oldest)*(1-late) {
		out = append(out, common{Age, c.Mould})
	}
	return out
}

// surest is the pattern that is the least likely to be chance; nil for none.
func surest(all []Casting) *Cause {
	b := bookOf(all)
	if b.whole.bad < least {
		return nil
	}
	var found []Cause
	for _, k := range b.order {
		g, in := b.groups[k], &b.whole
		if k.kind == Age { // against the same mould when it was young
			in = b.groups[common{Mould, k.of}]
		}
		t := Table{g.bad, g.good, in.bad - g.bad, in.good - g.good}
		if t.Bad+t.Good >= least && t.OtherBad+t.OtherGood > 0 { // fewer could never be told, and are not tried
			found = append(found, Cause{Kind: k.kind, Of: k.of, Defect: g.commonest(), Table: t, Chance: t.Exact(),
				has: func(c Casting) bool { return slices.Contains(b.of(c), k) }})
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
	case Damp:
		c.Says = fmt.Sprintf("It is the damp: from %.0f %% on %s, mostly \"%s\".", dampFrom, held, c.Defect)
		c.Suggest = "Water foams in urethanes: close the cans at once, dry the moulds, fillers and sticks, and cast on a drier day."
	case Age:
		c.Says = fmt.Sprintf("It is wear: late in the life of %s %s, mostly \"%s\".", c.Of, held, c.Defect)
		c.Suggest = "It grows with the pulls: let the mould rest, release it, or pour the next one in time."
	case Mould:
		c.Says = fmt.Sprintf("It is this mould: %s has %s, mostly \"%s\".", c.Of, held, c.Defect)
		c.Suggest = "One of several is how it was made: look for bubbles, flash and torn edges, and at its bands."
	}
}
