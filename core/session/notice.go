package session

import (
	"fmt"
	"math"

	"bathyform/core/finding"
	"bathyform/core/quantity"
)

// clocks are what runs: pot lives until all is poured, and the wait that is on.
func (s *State) clocks() {
	for i := range s.Cups {
		cup, m := &s.Cups[i], s.plan.Mixes[i]
		if !cup.Met || m.PotLife <= 0 {
			continue
		}
		cup.Gel = s.plan.ends(cup.Contact, m.PotLife, s.heat)
		if !cup.Gone && s.pouring(i) {
			s.Clocks = append(s.Clocks, Clock{Name: m.Name, PotLife: true, Mix: i, From: cup.Contact, Until: cup.Gel})
		}
	}
	if s.At >= len(s.Steps) || s.Over {
		return
	}
	step := s.Steps[s.At]
	if !step.Timed() {
		return
	}
	until := s.from + step.Minutes*60
	if step.Act == Wait {
		until = s.plan.ends(s.from, step.Minutes*60, s.heat)
	}
	s.Clocks = append(s.Clocks, Clock{Name: timed[step.Act], Step: step.Key, Mix: step.Mix, From: s.from, Until: until})
}

// timed is what a clock is called that runs in a step.
var timed = map[Act]string{Stir: "stirring", Degas: "degassing", Wait: "until it is over"}

// pouring is whether anything is still to be done with a mix.
func (s *State) pouring(at int) bool {
	if s.Over {
		return false
	}
	for _, st := range s.Steps[min(s.At, len(s.Steps)):] {
		if st.Mix == at {
			return true
		}
	}
	return false
}

// notice says what the caster has to know now.
func (s *State) notice() {
	if s.At >= len(s.Steps) || s.Over {
		return
	}
	add := func(f finding.Finding) { s.Notices = append(s.Notices, f) }
	if m := s.mix(); m >= 0 {
		s.inCup(m, add)
		s.inTime(m, add)
		s.inRatio(m, add)
		s.enough(m, add)
	}
	if step := s.Steps[s.At]; step.Act == Check {
		for _, f := range s.plan.Before {
			add(f)
		}
	}
	s.proved(add)
}

// inCup says that the cup at hand does not hold the mix with room to stir.
func (s *State) inCup(m int, add func(finding.Finding)) {
	holds, wants := s.Cups[m].Holds, s.plan.Mixes[m].Cup
	if holds == 0 || holds >= wants-0.5 || s.Steps[s.At].Act != Tare {
		return
	}
	add(finding.Finding{Severity: finding.Stop, Stage: finding.Shot, Code: "cup-at-hand-too-small",
		What:   fmt.Sprintf("This cup does not hold it: mix it in %d cups, or take a larger one.", s.divides(m)),
		Figure: finding.Of(quantity.Volume, holds), Limit: finding.Of(quantity.Volume, wants),
		Why:    "A and B together, and a third of the cup empty so that it can be stirred. A cup that runs over has lost its ratio.",
		Source: finding.CommonPractice})
}

// inTime says what no longer fits the pot life, before it is begun.
func (s *State) inTime(m int, add func(finding.Finding)) {
	takes, left, known := s.fitsIn(m)
	if !known || takes == 0 {
		return
	}
	step := s.Steps[s.At]
	switch {
	case left <= 0:
		add(finding.Finding{Severity: finding.Stop, Stage: finding.Shot, Code: "pot-life-over",
			What:   "Its pot life is over: pour nothing more of it.",
			Figure: finding.Of(quantity.Time, -left/3600), Limit: finding.Of(quantity.Time, 0),
			Why: "What gels as it runs stops in the gates and will not fill. Say that it gelled: what was not " +
				"poured gets a mix of its own.",
			Source: "data sheet of " + s.plan.Material + ", at this temperature and mass"})
	case takes > left+1:
		f := finding.Finding{Severity: finding.Watch, Stage: finding.Shot, Code: "pot-life-tight",
			What: "What is still to be done takes longer than it can be poured.", Figure: finding.Of(quantity.Time, takes/3600),
			Limit:  finding.Of(quantity.Time, left/3600),
			Why:    "Pour fewer moulds from it, leave the degassing out, chill the parts, or take a slower material.",
			Source: "data sheet of " + s.plan.Material + ", at this temperature and mass; minutes of the steps: common practice"}
		if step.Timed() && step.Minutes*60 >= left {
			f.Severity, f.What = finding.Stop, fmt.Sprintf(
				"Do not begin this: it takes %.2g min, and %.2g min are left.",
				step.Minutes,
				left/60,
			)
			f.Why = "A mix that stands longer than its pot life is lost. Leave this step out and pour now."
		}
		add(f)
	}
}

// inRatio says what an overshot last part has done, and how sure a ratio is.
func (s *State) inRatio(m int, add func(finding.Finding)) {
	if short := s.Short; short != nil {
		add(finding.Finding{Severity: finding.Stop, Stage: finding.Shot, Code: "off-ratio",
			What: fmt.Sprintf("The ratio is off by %.0f %%: add %.4g g of %s.", 100*short.Off, short.Add.Value,
				s.plan.Mixes[m].Parts[short.Part].Name),
			Figure: finding.Of(quantity.Number, 100*short.Off), Limit: finding.Of(quantity.Number, s.plan.Tolerance),
			Why: fmt.Sprintf(
				"Errors are not averaged: what is too much of the one wants more of the other. The mix grows by %.0f %%.",
				100*short.Grows,
			),
			Source: "data sheet of " + s.plan.Material})
		return
	}
	if off, ok := s.Sure(m); ok && off > s.plan.Tolerance/100 {
		add(finding.Finding{Severity: finding.Watch, Stage: finding.Shot, Code: "ratio-unsure",
			What:   "The scale does not know this ratio well enough.",
			Figure: finding.Of(quantity.Number, 100*off), Limit: finding.Of(quantity.Number, s.plan.Tolerance),
			Why: fmt.Sprintf(
				"With a digit of %g g the ratio may be off by so many per cent. Mix more at a time, or take a finer scale.",
				s.plan.Digit,
			),
			Source: "worst case of tare and reading, JCGM 100:2008"})
	}
}

// enough says which moulds a cup does not reach.
func (s *State) enough(m int, add func(finding.Finding)) {
	cup := s.Cups[m]
	if last := s.plan.Mixes[m].last(); last >= 0 && math.IsNaN(cup.Weighed[last]) {
		return
	}
	fills, _ := s.Order(m)
	for _, f := range fills {
		for _, planned := range s.plan.Mixes[m].Fills {
			if planned.Mould != f.Mould || f.Grams >= planned.Grams-s.plan.Digit || s.Moulds[f.Mould].Filled > 0 {
				continue
			}
			add(finding.Finding{Severity: finding.Watch, Stage: finding.Shot, Code: "cup-too-small",
				What:   fmt.Sprintf("It does not fill %s: pour that one last.", s.Moulds[f.Mould].Number),
				Figure: finding.Of(quantity.Mass, f.Grams), Limit: finding.Of(quantity.Mass, planned.Grams),
				Why: "A mould that is begun and not filled is scrap. Leave it for the next mix.", Source: "what was weighed"})
		}
	}
}

// proved says that the first casting of a new mould was scrap, before the rest is
// poured.
func (s *State) proved(add func(finding.Finding)) {
	for _, m := range s.Moulds {
		if m.Pulls > 0 || len(m.Results) < m.Cavities || m.Out != "" {
			continue
		}
		for _, r := range m.Results {
			if !r.Good && s.unpoured() {
				add(finding.Finding{Severity: finding.Watch, Stage: finding.Shot, Code: "first-casting-scrap",
					What: fmt.Sprintf("The first casting of %s is scrap: %s.", m.Number, r.Defect),
					Why: "What is wrong with it will be wrong with all of them. Put the cause right before the " +
						"rest is poured: a vent, a clean cavity, the ratio.",
					Source: finding.CommonPractice})
				return
			}
		}
	}
}

func (s *State) unpoured() bool {
	for _, st := range s.Steps[s.At:] {
		if st.Act == Pour {
			return true
		}
	}
	return false
}
