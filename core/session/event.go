package session

import (
	"errors"
	"fmt"
	"math"
)

// What says what happened.
type What string

// What happens at a bench.
const (
	Done    What = "done"    // with what was weighed, counted or seen
	Skipped What = "skipped" // the step was left out
	Back    What = "back"    // to the step before
	Contact What = "contact" // A meets B
	Zeroed  What = "zeroed"  // what the scale shows for the part counts as nothing, g: it was off, or tared by hand
	Rose    What = "rose"    // under vacuum, and fell back
	Warmth  What = "warmth"  // of the shop, °C
	Out     What = "out"     // a mould is taken out of the session
	Gelled  What = "gelled"  // what is in the cup
	Topped  What = "topped"  // a mould gets so many g more
	More    What = "more"    // of the first part, since the last was overshot
	AtHand  What = "athand"  // a cup that holds so many mL
	Divided What = "divided" // the mix, so that the cup at hand holds each of its parts
	Noted   What = "noted"
	Stopped What = "stopped"
)

// Event is one of them, as it was kept.
type Event struct {
	At      float64 // s
	What    What
	Step    string  `json:",omitempty"` // its key
	Who     string  `json:",omitempty"`
	Figure  float64 `json:",omitempty"` // g, drops, kPa, °C
	From    string  `json:",omitempty"` // the scale, or by hand
	Mould   int     `json:",omitempty"`
	Good    bool    `json:",omitempty"`
	Second  bool    `json:",omitempty"` // it can be used, though it is not good
	Text    string  `json:",omitempty"` // defect, flaw, reason or note
	Meant   bool    `json:",omitempty"` // whoever sent it was asked
	Version int     `json:",omitempty"` // of the session that it was sent from
}

// Why an event is not taken.
var (
	ErrOver    = errors.New("this session is over: what it made is in the log and on the rack")
	ErrElsehow = errors.New("the session has gone on meanwhile: look at the step that is on now")
	ErrNoStep  = errors.New("this session has no such step")
	ErrNothing = errors.New("there is nothing before this step")
	ErrWeight  = errors.New("a weight is more than 0 and less than 100 kg: weigh again, or type it in")
	ErrDefect  = errors.New("say what is wrong with it: a scrapped casting without its defect teaches nothing")
	ErrMould   = errors.New("this session has no such mould, or it is out already")
	ErrFigure  = errors.New("this figure cannot be right")
)

// Unlikely asks whether a figure is meant.
type Unlikely struct{ Says string }

func (u Unlikely) Error() string { return u.Says }

// heaviest is what no bench weighs, g.
const heaviest = 1e5

// farOff is the share of its target beyond which a weight is asked about.
const farOff = 0.2

// Take is whether an event fits where the session stands. What was done already
// and is sent again is not news: no error, and nothing to keep.
func (s State) Take(e Event) (news bool, err error) {
	if s.Over {
		if e.What == Done && s.knows(e.Step) {
			return false, nil
		}
		return false, ErrOver
	}
	switch e.What {
	case Done, Skipped:
		at := s.indexOf(e.Step)
		switch {
		case at < 0:
			return false, ErrNoStep
		case at < s.At:
			return false, nil // somebody was faster
		case at > s.At:
			return false, ErrElsehow
		case e.What == Done:
			return true, s.fits(e)
		}
		return true, nil
	case Back:
		if s.At == 0 {
			return false, ErrNothing
		}
		if e.Step != "" && e.Step != s.Steps[s.At].Key {
			return false, ErrElsehow
		}
		return true, nil
	case Contact:
		step := s.Steps[s.At]
		if step.Mix < 0 || step.Part != s.plan.Mixes[step.Mix].last() || s.Cups[step.Mix].Met {
			return false, nil
		}
		return true, nil
	case Zeroed:
		if s.Weighing == nil || s.Weighing.Drops {
			return false, ErrElsehow
		}
		if !(math.Abs(e.Figure) < heaviest) {
			return false, ErrFigure
		}
		return e.Figure != 0, nil
	case Rose:
		return s.Steps[s.At].Act == Degas, nil
	case Warmth:
		if !(e.Figure > -20 && e.Figure < 60) {
			return false, fmt.Errorf("%w: a shop has between -20 and 60 °C", ErrFigure)
		}
		return e.Figure != s.Celsius, nil
	case Out:
		if e.Mould < 0 || e.Mould >= len(s.Moulds) || s.Moulds[e.Mould].Out != "" {
			return false, ErrMould
		}
		return true, nil
	case Topped:
		if e.Mould < 0 || e.Mould >= len(s.Moulds) || s.Moulds[e.Mould].Out != "" {
			return false, ErrMould
		}
		return true, weight(e.Figure)
	case More:
		if s.Short == nil {
			return false, ErrElsehow
		}
		return true, nil
	case AtHand:
		if s.mix() < 0 {
			return false, ErrElsehow
		}
		if !(e.Figure > 0 && e.Figure < heaviest) {
			return false, fmt.Errorf("%w: read what the cup holds, in millilitres", ErrFigure)
		}
		return true, nil
	case Divided:
		if m := s.mix(); m < 0 || s.Steps[s.At].Act != Tare || s.divides(m) < 2 {
			return false, ErrElsehow
		}
		return true, nil
	case Gelled:
		if s.mix() < 0 {
			return false, ErrElsehow
		}
		return true, nil
	case Noted, Stopped:
		return true, nil
	}
	return false, ErrNoStep
}

// fits is whether what is said of the step that is on can be right.
func (s State) fits(e Event) error {
	switch step := s.Steps[s.At]; step.Act {
	case Weigh:
		if err := weight(e.Figure); err != nil {
			return err
		}
		if t := s.Weighing.Target; !e.Meant && t > 0 && math.Abs(e.Figure-t) > max(farOff*t, 2*s.plan.Digit) {
			return Unlikely{fmt.Sprintf("%.4g g where %.4g g were wanted: is it the net weight of this part alone?", e.Figure, t)}
		}
	case Count:
		if !(e.Figure >= 0 && e.Figure < 1e4) {
			return fmt.Errorf("%w: count the drops", ErrFigure)
		}
	case Look, Birth:
		if !e.Good && e.Text == "" {
			return ErrDefect
		}
	case Wait:
		if left := s.left(); !e.Meant && left > 60 {
			return Unlikely{fmt.Sprintf("It is %.0f minutes too early. The cup's left-over is thick and hot: a thin casting sets later "+
				"than it.", math.Ceil(left/60))}
		}
	}
	return nil
}

func weight(g float64) error {
	if !(g > 0 && g < heaviest) {
		return ErrWeight
	}
	return nil
}

// left is how long what is counted down goes on, s.
func (s State) left() float64 {
	for _, c := range s.Clocks {
		if c.Step == s.Steps[s.At].Key {
			return c.Until - s.Now
		}
	}
	return 0
}

func (s State) indexOf(key string) int {
	for i, st := range s.Steps {
		if st.Key == key {
			return i
		}
	}
	return -1
}

func (s State) knows(key string) bool { return s.indexOf(key) >= 0 }
