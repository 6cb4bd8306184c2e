package session

import (
	"fmt"
	"math"
	"slices"

	"bathyform/core/derive"
	"bathyform/core/finding"
)

// State is where a session stands.
type State struct {
	Now      float64 // s, for which it was worked out
	Steps    []Step  // the plan's, and those that came in on the way
	At       int     // the step that is on; as many as there are when all are done
	Over     bool
	Stopped  string // why it was broken off
	Celsius  float64
	Cups     []Cup
	Moulds   []Shown
	Clocks   []Clock
	Weighing *Weighing // of the step that is on, where something is weighed or counted
	Short    *Short    // of the first part, where the last was overshot
	Rises    int       // counted in the step that is on
	Notices  []finding.Finding
	Records  []Entry
	Timed    []Timed

	plan Plan
	heat []heat
	from float64 // since when the step is on
}

// Cup is what is in one.
type Cup struct {
	Weighed []float64 // g by part; NaN is not weighed
	Hands   []bool    // typed in by hand
	Holds   float64   // mL of the cup at hand; 0 where nobody has said
	Tare    float64   // g that the scale shows with the empty cup and its stick on it
	Met     bool
	Contact float64 // s
	Gel     float64 // s, by when it is to be poured
	Gone    bool    // it gelled in the cup
	Rises   int
	Poured  float64 // s of the last fill; 0 for none
}

// Shown is a mould as the session has it.
type Shown struct {
	Mould
	Out     string // why it is out; empty for in
	Poured  float64
	Filled  float64 // s; 0 for not yet
	Pressed float64 // kPa that it set under
	Looked  float64 // s, from which its castings were looked at; 0 for not yet
	Results []Result
	Flaw    string // of its birth
	Born    bool   // looked at
}

// Result is what came out of a cavity.
type Result struct {
	Cavity int
	Good   bool
	Second bool // it can be used, though it is not good
	Defect string
}

// Timed is how long something took that a shop learns from.
type Timed struct {
	What    Took
	Minutes float64
	Celsius float64 // in the shop then
	Grams   float64 // of the batch, or of what was poured
}

// Took is what lasted.
type Took string

// What is timed.
const (
	PouredIn Took = "pour"    // one mould filled with rubber
	CameOut  Took = "demould" // from the fill to a casting that came out well
	TookGel  Took = "gel"     // from first contact until it could not be poured any more
)

// took writes down how long something lasted, where that can be: what took no time was
// entered afterwards.
func (s *State) took(what Took, from, to, grams float64) {
	if minutes := (to - from) / 60; minutes > 0.05 && from > 0 {
		s.Timed = append(s.Timed, Timed{what, minutes, s.Celsius, grams})
	}
}

// Entry is a line of the record: what was done when, by whom.
type Entry struct {
	At     float64
	Who    string
	Says   string
	Figure *derive.Number
}

// Play is where a session stands after what has happened, at a time.
func Play(p Plan, events []Event, now float64) State {
	s := State{Now: now, Steps: slices.Clone(p.Steps), Celsius: p.Celsius, plan: p, heat: []heat{{0, p.Celsius}}}
	for _, m := range p.Mixes {
		c := Cup{Weighed: make([]float64, len(m.Parts)), Hands: make([]bool, len(m.Parts))}
		for i := range c.Weighed {
			c.Weighed[i] = math.NaN()
		}
		s.Cups = append(s.Cups, c)
	}
	for _, m := range p.Moulds {
		s.Moulds = append(s.Moulds, Shown{Mould: m})
	}
	if len(events) > 0 {
		s.from = events[0].At
	}
	for _, e := range standing(events) {
		s.apply(e)
	}
	s.Over = s.Over || s.At >= len(s.Steps)
	s.weighing()
	s.clocks()
	s.notice()
	return s
}

// standing are the events without the steps that were gone back from.
func standing(events []Event) (out []Event) {
	for _, e := range events {
		if e.What == Back {
			for i := len(out) - 1; i >= 0; i-- {
				if out[i].What == Done || out[i].What == Skipped {
					e.Text = out[i].Step
					out = slices.Delete(out, i, i+1)
					break
				}
			}
		}
		out = append(out, e)
	}
	return out
}

func (s *State) write(e Event, says string, n *derive.Number) {
	s.Records = append(s.Records, Entry{At: e.At, Who: e.Who, Says: says, Figure: n})
}

// apply is what an event does.
func (s *State) apply(e Event) {
	switch e.What {
	case Done:
		if s.At < len(s.Steps) && s.Steps[s.At].Key == e.Step {
			s.done(e)
		}
	case Skipped:
		if s.At < len(s.Steps) && s.Steps[s.At].Key == e.Step {
			s.write(e, "Left out: "+s.Steps[s.At].Do, nil)
			s.on(e.At)
		}
	case Contact:
		if m := s.mix(); m >= 0 && !s.Cups[m].Met {
			s.meet(m, e.At)
		}
	case Back:
		s.from, s.Rises = e.At, 0
		s.write(e, "Back to: "+s.Steps[min(s.At, len(s.Steps)-1)].Do, nil)
	case Zeroed:
		if m := s.mix(); m >= 0 {
			s.Cups[m].Tare += e.Figure
		}
	case Rose:
		s.Rises++
		if m := s.mix(); m >= 0 {
			s.Cups[m].Rises++
		}
	case Warmth:
		s.Celsius = e.Figure
		s.heat = append(s.heat, heat{e.At, e.Figure})
	case Out:
		s.out(e)
	case AtHand:
		if m := s.mix(); m >= 0 {
			s.Cups[m].Holds = e.Figure
		}
	case Divided:
		s.divide(e)
	case Gelled:
		s.gelled(e)
	case Topped:
		s.Moulds[e.Mould].Poured += e.Figure
		s.write(e, s.Moulds[e.Mould].Number+" topped up", grams(e.Figure, "as said"))
	case More:
		s.more(e)
	case Noted:
		s.write(e, e.Text, nil)
	case Stopped:
		s.Over, s.Stopped = true, e.Text
		s.write(e, "Broken off: "+e.Text, nil)
	}
}

// Since is when the step that is on began.
func (s State) Since() float64 { return s.from }

// Mix is the one that the step that is on is about; -1 for none.
func (s State) Mix() int { return s.mix() }

// mix is the one that the step that is on is about; -1 for none.
func (s *State) mix() int {
	if s.At >= len(s.Steps) {
		return -1
	}
	return s.Steps[s.At].Mix
}

// on goes to the next step.
func (s *State) on(at float64) { s.At, s.from, s.Rises = s.At+1, at, 0 }

func (s *State) meet(mix int, at float64) {
	s.Cups[mix].Met, s.Cups[mix].Contact = true, at
}

// done is what a step that is done leaves behind.
func (s *State) done(e Event) {
	step := s.Steps[s.At]
	says, n := step.Do, (*derive.Number)(nil)
	switch step.Act {
	case Weigh, Count:
		cup, m := &s.Cups[step.Mix], s.plan.Mixes[step.Mix]
		if step.Part == m.last() && !cup.Met { // it was typed in: no later than since when it was on
			s.meet(step.Mix, s.from)
		}
		if was := cup.Weighed[step.Part]; !math.IsNaN(was) { // more of it
			e.Figure += was
		}
		cup.Weighed[step.Part], cup.Hands[step.Part] = e.Figure, e.From != "scale"
		says = m.Name + ", " + m.Parts[step.Part].Name
		if !m.Parts[step.Part].Drops {
			n = grams(e.Figure, map[bool]string{true: "by hand", false: "the scale"}[cup.Hands[step.Part]])
		} else {
			says += fmt.Sprintf(", %.0f drops", e.Figure)
		}
	case Tare:
		s.Cups[step.Mix].Tare = e.Figure
	case Pour:
		f := s.plan.Mixes[step.Mix].Fills[step.Fill]
		if s.plan.Kind == Rubber {
			s.took(PouredIn, s.from, e.At, f.Grams)
		}
		s.Moulds[f.Mould].Poured += f.Grams
		s.Moulds[f.Mould].Filled, s.Cups[step.Mix].Poured = e.At, e.At
		n = grams(f.Grams, "this session's plan")
	case Pressure:
		for i := range s.Moulds {
			if s.Moulds[i].Out == "" && s.Moulds[i].Filled > 0 && s.Moulds[i].Pressed == 0 {
				s.Moulds[i].Pressed = e.Figure
			}
		}
	case Look:
		if m := &s.Moulds[step.Mould]; len(m.Results) == 0 {
			m.Looked = s.from
			if e.Good {
				s.took(CameOut, m.Filled, s.from, m.Poured)
			}
		}
		s.Moulds[step.Mould].Results = append(s.Moulds[step.Mould].Results, Result{step.Cavity, e.Good, e.Second && !e.Good, e.Text})
		says = fmt.Sprintf("%s, cavity %d: %s", s.Moulds[step.Mould].Number, step.Cavity+1, verdict(e))
	case Birth:
		s.Moulds[step.Mould].Born = true
		if !e.Good {
			s.Moulds[step.Mould].Flaw = e.Text
		}
		says = s.Moulds[step.Mould].Number + ": " + verdict(e)
	}
	s.write(e, says, n)
	s.on(e.At)
}

func verdict(e Event) string {
	switch {
	case e.Good:
		return "good"
	case e.Second:
		return "a second: " + e.Text
	}
	return e.Text
}

// out takes a mould out: what is still to be done with it is left out.
func (s *State) out(e Event) {
	s.Moulds[e.Mould].Out = e.Text
	s.write(e, s.Moulds[e.Mould].Number+" is out: "+e.Text, nil)
	s.drop(func(st Step) bool {
		return st.Mould == e.Mould || st.Act == Pour && s.plan.Mixes[st.Mix].Fills[st.Fill].Mould == e.Mould
	})
}

// drop leaves out what is not done yet, the step that is on as well.
func (s *State) drop(gone func(Step) bool) {
	ahead := slices.DeleteFunc(slices.Clone(s.Steps[s.At:]), gone)
	s.Steps = append(s.Steps[:s.At:s.At], ahead...)
}

// gelled throws a cup away: what it was not poured into gets a new one.
func (s *State) gelled(e Event) {
	m := s.mix()
	if m < 0 {
		return
	}
	s.Cups[m].Gone = true
	if s.Cups[m].Met {
		s.took(TookGel, s.Cups[m].Contact, e.At, s.plan.Mixes[m].Planned())
	}
	s.write(e, s.plan.Mixes[m].Name+" gelled in the cup", nil)
	var left []Fill
	for _, st := range s.Steps[s.At:] {
		if st.Act == Pour && st.Mix == m {
			left = append(left, s.plan.Mixes[m].Fills[st.Fill])
		}
	}
	s.drop(func(st Step) bool { return st.Mix == m })
	if len(left) == 0 {
		return
	}
	at := s.another(m, left, s.plan.Mixes[m].Name+", once more")
	s.insert(s.cupful(m, at))
}

// another adds a mix for some of the fills of one, and gives its number.
func (s *State) another(m int, fills []Fill, name string) int {
	again := s.plan.Mixes[m].again(fills)
	again.Name = name
	s.plan.Mixes = append(slices.Clone(s.plan.Mixes), again)
	c := Cup{Weighed: make([]float64, len(again.Parts)), Hands: make([]bool, len(again.Parts))}
	for i := range c.Weighed {
		c.Weighed[i] = math.NaN()
	}
	s.Cups = append(s.Cups, c)
	return len(s.plan.Mixes) - 1
}

// cupful are the steps of another mix, from its tare to its pours, in the minutes
// of the one that it comes from.
func (s *State) cupful(of, at int) []Step {
	var stir, degas float64
	for _, st := range s.plan.Steps {
		if st.Mix == of && st.Act == Stir {
			stir = st.Minutes
		}
		if st.Mix == of && st.Act == Degas {
			degas = st.Minutes
		}
	}
	out := mixing(s.plan.Mixes[at], at, s.plan, stir, degas)
	for k := range s.plan.Mixes[at].Fills {
		out = append(out, pouring(s.plan, at, k))
	}
	return out
}

// divides is into how many mixes one falls so that the cup at hand holds each with
// room to stir.
func (s *State) divides(m int) int {
	if s.Cups[m].Holds <= 0 {
		return 1
	}
	return int(math.Ceil(s.plan.Mixes[m].Cup/s.Cups[m].Holds - 1e-9))
}

// Divides is into how many cups the mix that is to be begun is to be divided.
func (s State) Divides() int {
	if m := s.mix(); m >= 0 && s.Steps[s.At].Act == Tare {
		return s.divides(m)
	}
	return 1
}

// divide makes several mixes of the one that is to be begun. What comes after its
// pours, plugs and pots, comes after the last of them.
func (s *State) divide(e Event) {
	m := s.mix()
	if m < 0 || s.Steps[s.At].Act != Tare {
		return
	}
	old, n := s.plan.Mixes[m], s.divides(m)
	if n < 2 {
		return
	}
	each := 0.0
	for _, f := range old.Fills {
		each += f.Grams / float64(n)
	}
	var steps []Step
	last, left := m, slices.Clone(old.Fills)
	for i := range n {
		var fills []Fill
		for room := each; room > 1e-9 && len(left) > 0; {
			f := left[0]
			f.Grams = min(f.Grams, room)
			room -= f.Grams
			if left[0].Grams -= f.Grams; left[0].Grams < 1e-9 {
				left = left[1:]
			}
			fills = append(fills, f)
		}
		last = s.another(m, fills, fmt.Sprintf("%s, cup %d of %d", old.Name, i+1, n))
		s.Cups[last].Holds = s.Cups[m].Holds
		steps = append(steps, s.cupful(m, last)...)
	}
	s.drop(func(st Step) bool {
		return st.Mix == m && (st.Act == Tare || st.Act == Weigh || st.Act == Count || st.Act == Stir || st.Act == Degas || st.Act == Pour)
	})
	for i := s.At; i < len(s.Steps); i++ {
		if s.Steps[i].Mix == m {
			s.Steps[i].Mix = last
		}
	}
	s.insert(steps)
	s.write(e, fmt.Sprintf("%s is mixed in %d cups", old.Name, n), nil)
}

// again is a mix for some of its fills, in the same proportions.
func (m Mix) again(fills []Fill) Mix {
	planned, wants := 0.0, 0.0
	for _, f := range m.Fills {
		planned += f.Grams
	}
	for _, f := range fills {
		wants += f.Grams
	}
	out, share := m, wants/planned
	out.Fills, out.Parts = fills, slices.Clone(m.Parts)
	for i := range out.Parts {
		out.Parts[i].Grams *= share
		out.Parts[i].Marks *= share
	}
	out.Cup, out.Foams = m.Cup*share, m.Foams*share
	return out
}

// insert puts steps before the one that is on.
func (s *State) insert(steps []Step) {
	for i := range steps {
		steps[i].Key = fmt.Sprintf("%s+%d.%d", steps[i].Key, len(s.Steps), i)
	}
	s.Steps = slices.Concat(s.Steps[:s.At], steps, s.Steps[s.At:])
}

// more adds a weighing of the first part.
func (s *State) more(e Event) {
	short := s.shortOf()
	if short == nil {
		return
	}
	st := blank(Weigh, "Add more of "+s.plan.Mixes[short.Mix].Parts[short.Part].Name+", the ratio is right again then.")
	st.Key, st.Mix, st.Part = fmt.Sprintf("more-%d", short.Mix), short.Mix, short.Part
	s.insert([]Step{st})
	s.write(e, "More of "+s.plan.Mixes[short.Mix].Parts[short.Part].Name, &short.Add)
}
