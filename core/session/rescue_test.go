package session_test

import (
	"math"
	"testing"

	"bathyform/core/session"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func figures(t *testing.T, w session.Way) map[string]float64 {
	t.Helper()
	out := map[string]float64{}
	for _, f := range w.Figures {
		out[f.Name] = f.Number.Value
		assert.NotEmpty(t, f.Number.Formula, f.Name)
	}
	return out
}

// Closed forms of the box: a surface of 800 mm² that is 3 mm short takes 2.4 mL.
func TestAShortPourIsToppedUp(t *testing.T) {
	w := cast(t, bench(), urethane, 95, old("C-1"))
	ways, err := w.state().Ways(session.TooShort, 0, 3)
	require.NoError(t, err)
	assert.Nil(t, ways[0].Event, "it is not poured yet")
	w.to(session.Pour)
	w.done()
	ways, err = w.state().Ways(session.TooShort, 0, 3)
	require.NoError(t, err)
	got := figures(t, ways[0])
	assert.InDelta(t, 2.4*1.05, got["Topper"], 1e-9)
	assert.InDelta(t, 1.2*1.05, got["of A"], 1e-9)
	assert.InDelta(t, 1.2*1.05, got["of B"], 1e-9)
	assert.Positive(t, got["Left until it gels"])
	before := w.state().Moulds[0].Poured
	s := w.must(*ways[0].Event)
	assert.InDelta(t, before+2.4*1.05, s.Moulds[0].Poured, 1e-9)

	w.now += 3600
	ways, err = w.state().Ways(session.TooShort, 0, 3)
	require.NoError(t, err)
	assert.Nil(t, ways[0].Event, "resin that has set is not topped up")
	for _, wrong := range []float64{0, -1, math.NaN(), 1e9} {
		_, err = w.state().Ways(session.TooShort, 0, wrong)
		assert.Error(t, err, "%g", wrong)
	}
	_, err = w.state().Ways(session.TooShort, 7, 3)
	assert.ErrorIs(t, err, session.ErrMould)
}

// Rubber may also be raised by what is pushed in: as much volume as is missing,
// which is surface times height whatever its shape.
func TestRubberIsRaisedByWhatIsPushedIn(t *testing.T) {
	lesson, err := session.LessonOf("rubber")
	require.NoError(t, err)
	p, err := lesson.Plan(bench())
	require.NoError(t, err)
	w := &work{t: t, plan: p}
	w.to(session.Pour)
	w.done()
	ways, err := w.state().Ways(session.TooShort, 0, 2)
	require.NoError(t, err)
	require.Len(t, ways, 2)
	got := figures(t, ways[1])
	assert.InDelta(t, 7.2, got["Volume to push in"], 1e-9, "3600 mm² by 2 mm")
	assert.InDelta(t, 7200/(math.Pi*100), got["A rod of 20 mm goes in"], 1e-9)
	w.must(*ways[1].Event)
	w.now += 5 * 3600
	ways, err = w.state().Ways(session.TooShort, 0, 2)
	require.NoError(t, err)
	assert.NotNil(t, ways[0].Event, "cured rubber takes fresh rubber of its kind")
}

func TestEveryTroubleHasAWayOn(t *testing.T) {
	for _, trouble := range []session.Trouble{session.TooShort, session.TooMuch, session.Gel, session.Leak, session.Aslant, session.Torn,
		session.FarLess} {
		w := cast(t, bench(), urethane, 95, old("C-1"), old("C-2"))
		w.to(session.Pour)
		w.done()
		ways, err := w.state().Ways(trouble, 0, 4)
		require.NoError(t, err, trouble)
		require.NotEmpty(t, ways, trouble)
		taken := false
		for _, way := range ways {
			figures(t, way)
			if way.Event != nil {
				w.must(*way.Event)
				taken = true
				break
			}
		}
		assert.True(t, taken, "%s: one of them is taken at a press", trouble)
		for !w.state().Over {
			w.done()
		}
	}
	_, err := cast(t, bench(), urethane, 95, old("C-1")).state().Ways("flood", 0, 1)
	assert.Error(t, err)
}

// What was not poured when the cup gelled gets a mix of its own, in proportion.
func TestAGelledCupIsMixedAgainForTheRest(t *testing.T) {
	w := cast(t, bench(), urethane, 95, old("C-1"), old("C-2"), old("C-3"))
	w.to(session.Pour)
	w.done()
	s := w.must(session.Event{What: session.Gelled})
	assert.True(t, s.Cups[0].Gone)
	assert.Equal(t, session.Tare, s.Steps[s.At].Act)
	s = w.to(session.Weigh)
	assert.InDelta(t, 95*1.05, s.Weighing.Target, 1e-9, "half of two shots")
	for !w.state().Over {
		w.done()
	}
	for _, m := range w.state().Moulds {
		assert.InDelta(t, 95*1.05, m.Poured, 1e-9, m.Number)
	}
}

func TestATornMouldIsLeftOut(t *testing.T) {
	w := cast(t, bench(), urethane, 95, old("C-1"), old("C-2"))
	w.to(session.Weigh)
	s := w.must(session.Event{What: session.Out, Mould: 0, Text: "torn"})
	for _, st := range s.Steps[s.At:] {
		assert.NotEqual(t, 0, st.Mould, st.Do)
	}
	fills, over := s.Order(0)
	assert.Len(t, fills, 1)
	assert.InDelta(t, 95*1.05, over, 1e-9)
	_, err := w.take(session.Event{What: session.Out, Mould: 0, Text: "again"})
	assert.ErrorIs(t, err, session.ErrMould)
}

// The three lessons run to their end, with their slips, and are scored.
func TestTheLessonsRun(t *testing.T) {
	for _, l := range session.Lessons {
		p, err := l.Plan(bench())
		require.NoError(t, err)
		assert.Equal(t, l.Key, p.Lesson)
		w := &work{t: t, plan: p}
		slips := 0
		for s := w.state(); !s.Over; s = w.state() {
			if _, ok := l.Slipped(s); ok {
				slips++
			}
			w.now += 5
			w.done()
		}
		assert.Equal(t, len(l.Slip), slips, l.Key)
		for _, m := range w.state().Marked() {
			assert.Equal(t, 10, m.Got, "%s: %s, %s", l.Key, m.Name, m.Says)
		}

		bad := &work{t: t, plan: p}
		for s := bad.state(); !s.Over; s = bad.state() {
			bad.now += 900
			switch {
			case s.Steps[s.At].Act == session.Protect:
				bad.must(session.Event{What: session.Skipped, Step: s.Steps[s.At].Key})
			case s.Weighing != nil && s.Weighing.Zero > 0:
				bad.done(s.Weighing.Target * 1.19)
			default:
				bad.done()
			}
		}
		for _, m := range bad.state().Marked() {
			assert.Less(t, m.Got, 10, "%s: %s, %s", l.Key, m.Name, m.Says)
		}
	}
	_, err := session.LessonOf("none")
	assert.Error(t, err)
}

// A cup that is too small is told at the tare, and the mix divided so that each
// cup has room to stir; the pots come after the last.
func TestACupThatIsTooSmall(t *testing.T) {
	w := cast(t, bench(), urethane, 95, old("C-1"), old("C-2"))
	w.to(session.Tare)
	_, err := w.take(session.Event{What: session.Divided})
	require.ErrorIs(t, err, session.ErrElsehow, "nobody has said how large it is")
	for _, wrong := range []float64{0, -5, math.NaN(), 1e7} {
		_, err = w.take(session.Event{What: session.AtHand, Figure: wrong})
		assert.ErrorIs(t, err, session.ErrFigure, "%g", wrong)
	}
	s := w.must(session.Event{What: session.AtHand, Figure: 400})
	assert.NotContains(t, codes(s), "cup-at-hand-too-small")
	s = w.must(session.Event{What: session.AtHand, Figure: 120})
	assert.Contains(t, codes(s), "cup-at-hand-too-small", "190 mL and a half as much again")
	s = w.must(session.Event{What: session.Divided})
	assert.Len(t, s.Cups, 4, "the one that was, and three of 95 mL")
	assert.NotContains(t, codes(s), "cup-at-hand-too-small")
	pours, potted := 0, false
	for _, st := range s.Steps[s.At:] {
		if st.Act == session.Pour {
			assert.False(t, potted, "before the pot")
			pours++
		}
		potted = potted || st.Act == session.Pot
	}
	assert.Equal(t, 4, pours, "one of the cups goes into both moulds")
	for !w.state().Over {
		w.done()
	}
	for i, m := range w.state().Moulds {
		assert.InDelta(t, 95*1.05, m.Poured, 1e-6)
		a, b, ok := w.state().Share(i)
		require.True(t, ok)
		assert.InDelta(t, 95*1.05, a+b, 0.3)
	}
}
