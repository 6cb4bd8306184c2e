package order

import (
	"fmt"
	"slices"
	"strings"
)

// Member is one part of a set: an order of its own that is sold with others.
type Member struct {
	Name          string
	PerSet        int // how many go into a set
	Good, Ordered int // castings
	Resin         string
	Flexible      bool // its resin cures flexible
}

// SetCount is how far a set has come.
type SetCount struct {
	Complete int    // sets that the good castings make up
	Short    []bool // for each member, whether it holds the next set up
	Notes    []string
}

// CountSet counts complete sets and says what does not fit together.
func CountSet(all []Member) SetCount {
	out := SetCount{Short: make([]bool, len(all))}
	if len(all) == 0 {
		return out
	}
	out.Complete = -1
	for _, m := range all {
		if n := m.Good / max(1, m.PerSet); out.Complete < 0 || n < out.Complete {
			out.Complete = n
		}
	}
	ordered := make([]int, len(all))
	resins := map[string][]string{}
	for i, m := range all {
		out.Short[i] = m.Good/max(1, m.PerSet) == out.Complete && m.Good < m.Ordered
		ordered[i] = m.Ordered / max(1, m.PerSet)
		if m.Resin != "" {
			resins[m.Resin] = append(resins[m.Resin], m.Name)
		}
	}
	if low, high := slices.Min(ordered), slices.Max(ordered); low != high {
		out.Notes = append(
			out.Notes,
			fmt.Sprintf("The orders do not match: enough for %d sets of one part and for %d of another.", low, high),
		)
	}
	if len(resins) > 1 {
		var groups []string
		for resin, names := range resins {
			slices.Sort(names)
			groups = append(groups, strings.Join(names, ", ")+" in "+resin)
		}
		slices.Sort(groups)
		out.Notes = append(out.Notes, "More than one resin: they are cast apart, "+strings.Join(groups, "; ")+".")
	}
	rigid := slices.ContainsFunc(all, func(m Member) bool { return m.Resin != "" && !m.Flexible })
	flexible := slices.ContainsFunc(all, func(m Member) bool { return m.Resin != "" && m.Flexible })
	if rigid && flexible {
		out.Notes = append(out.Notes, "Rigid and flexible parts never share a mould: their shots and demould times differ.")
	}
	return out
}
