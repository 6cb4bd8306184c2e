package session

import (
	"cmp"
	"fmt"
	"slices"

	"bathyform/core/quantity"
)

// Open is a session that is not over, by its ID.
type Open struct {
	ID    string
	Plan  Plan
	State State
}

// Job is an order as the bench looks at it.
type Job struct {
	ID      string
	Name    string
	Wanted  int // castings that are still to be made
	Resin   bool
	Rubber  bool
	Moulds  []Mould // in use, and in no session
	Busy    int     // in use, and in one
	Letters string  // that its moulds are numbered by
	Next    int     // number of the next one
}

// DueKind is what is due.
type DueKind string

// What may be due.
const (
	StepDue  DueKind = "step"  // a session waits for somebody
	CuredDue DueKind = "cured" // a wait is over, or will be
	RunDue   DueKind = "run"   // moulds are free, and castings are wanted
	MouldDue DueKind = "mould" // an order has no mould
)

// Due is one thing to do.
type Due struct {
	Kind    DueKind
	What    string
	Why     string
	At      float64 // s, from which it is due; 0 for any time
	Session string
	Job     string
	Moulds  []Mould
	Number  string // for the next mould
}

// Today is what is due now, the most urgent first: what gels, what waits for
// somebody, what has cured, what can be begun, and what is still curing.
func Today(now float64, open []Open, jobs []Job) []Due {
	var out []Due
	rank := map[*Due]int{}
	var all []*Due
	add := func(r int, d Due) {
		all = append(all, &d)
		rank[&d] = r
	}
	for _, o := range open {
		if o.State.Over || o.State.At >= len(o.State.Steps) {
			continue
		}
		step := o.State.Steps[o.State.At]
		d := Due{Kind: StepDue, Session: o.ID, What: step.Do, Why: o.Plan.Job}
		r := 1
		for _, c := range o.State.Clocks {
			if c.PotLife {
				r, d.At, d.Why = 0, c.Until, o.Plan.Job+": its pot life runs"
			}
		}
		if step.Act == Wait {
			d.Kind, d.At = CuredDue, o.State.from+step.Minutes*60
			for _, c := range o.State.Clocks {
				if c.Step == step.Key {
					d.At = c.Until
				}
			}
			d.What, r = after(o.State), 4
			if d.At <= now {
				r = 1
			}
		}
		add(r, d)
	}
	for _, j := range jobs {
		switch {
		case j.Wanted <= 0:
		case len(j.Moulds) > 0 && j.Resin:
			add(2, Due{Kind: RunDue, Job: j.ID, Moulds: j.Moulds, What: "Cast " + j.Name,
				Why: fmt.Sprintf("%s still wanted; %s free", quantity.Plural(j.Wanted, "casting is", "castings are"),
					quantity.Plural(len(j.Moulds), "mould is", "moulds are"))})
		case len(j.Moulds) == 0 && j.Busy == 0 && j.Rubber:
			add(3, Due{Kind: MouldDue, Job: j.ID, Number: Numbers(j.Letters, j.Next, 1)[0], What: "Pour a mould for " + j.Name,
				Why: fmt.Sprintf("%s wanted, and no mould is in use", quantity.Plural(j.Wanted, "casting is", "castings are"))})
		}
		if n := len(j.Moulds) + j.Busy; n > 0 && j.Wanted > 0 && j.Rubber {
			add(5, Due{Kind: MouldDue, Job: j.ID, Number: Numbers(j.Letters, j.Next, 1)[0], What: "Pour another mould for " + j.Name,
				Why: quantity.Plural(n, "mould is", "moulds are") + " in use"})
		}
	}
	slices.SortStableFunc(all, func(a, b *Due) int {
		return cmp.Or(cmp.Compare(rank[a], rank[b]), cmp.Compare(a.At, b.At))
	})
	for _, d := range all {
		out = append(out, *d)
	}
	return out
}

// after is what comes when a wait is over.
func after(s State) string {
	for _, st := range s.Steps[s.At+1:] {
		if st.Act != Record {
			return st.Do
		}
	}
	return s.Steps[s.At].Do
}
