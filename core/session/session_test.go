package session_test

import (
	"math"
	"testing"
	"time"

	"bathyform/core/derive"
	"bathyform/core/kinds"
	"bathyform/core/mix"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/session"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var (
	urethane = mix.Material{Name: "rigid urethane", Ratio: mix.Ratio{A: 1, B: 1}, Density: 1.05,
		Traits: mix.Traits{PotLife: 6, Demould: 20, Celsius: 22}}
	tin = mix.Material{Name: "tin-cure", Ratio: mix.Ratio{A: 10, B: 1}, Density: 1.1,
		Traits: mix.Traits{Family: "tin", PotLife: 30, Demould: 960, Celsius: 22}}
	byVolume = mix.Material{Name: "by volume", Ratio: mix.Ratio{A: 2, B: 1, ByVolume: true}, Density: 1.1, DensityA: 1.2, DensityB: 0.9}
	closing  = []kinds.Step{
		{Do: "Release, close and band it.", Pour: -1},
		{Act: kinds.Mixes, Let: "Into the well until every vent weeps.", Pour: -1},
		{Act: kinds.Pots, Pour: -1}, {Act: kinds.Cures, Pour: -1},
		{Act: kinds.Degates, Do: "Snip the sprue.", Pour: -1}, {Act: kinds.Pulls, Pour: -1},
	}
)

func bench() session.Bench {
	h := practice.Usual()
	h.ScaleStep, h.Bucket = 0.1, 1000
	return session.Bench{House: h, InPot: 3, Pots: 1}
}

func volume(v float64) derive.Number { return derive.Of(quantity.Volume, v, "given") }

func shot(t *testing.T, m mix.Material, mL float64) session.Shot {
	t.Helper()
	b, err := mix.Split(m, volume(mL))
	require.NoError(t, err)
	return session.Shot{Batch: b, Area: 800, Minutes: 0.5, Steps: closing}
}

// at work: a plan, what has happened, and a clock.
type work struct {
	t      *testing.T
	plan   session.Plan
	events []session.Event
	now    float64
}

func cast(t *testing.T, b session.Bench, m mix.Material, mL float64, moulds ...session.Mould) *work {
	t.Helper()
	p, err := session.Cast(b, "cleats", m, shot(t, m, mL), moulds)
	require.NoError(t, err)
	return &work{t: t, plan: p, now: 1000}
}

func (w *work) state() session.State { return session.Play(w.plan, w.events, w.now) }

func (w *work) take(e session.Event) (bool, error) {
	e.At = w.now
	news, err := w.state().Take(e)
	if err == nil && news {
		w.events = append(w.events, e)
	}
	return news, err
}

func (w *work) must(e session.Event) session.State {
	w.t.Helper()
	news, err := w.take(e)
	require.NoError(w.t, err)
	require.True(w.t, news)
	return w.state()
}

// done does the step that is on as a careful caster does.
func (w *work) done(with ...float64) session.State {
	w.t.Helper()
	s := w.state()
	e := session.Event{What: session.Done, Step: s.Steps[s.At].Key, From: "scale", Meant: true, Good: true}
	if s.Weighing != nil {
		e.Figure = math.Round(s.Weighing.Target*10) / 10
	}
	if len(with) > 0 {
		e.Figure = with[0]
	}
	return w.must(e)
}

// to goes on until a step is on.
func (w *work) to(act session.Act) session.State {
	w.t.Helper()
	for s := w.state(); ; s = w.done() {
		require.Less(w.t, s.At, len(s.Steps), "there is no %s", act)
		if s.Steps[s.At].Act == act {
			return s
		}
		w.now += 10
	}
}

func old(number string) session.Mould { return session.Mould{Number: number, Cavities: 1, Pulls: 5} }

func TestWhatIsWeighedDecidesTheRest(t *testing.T) {
	for name, c := range map[string]struct {
		m           mix.Material
		first, want float64
	}{
		"A 104.6 at ten to one":  {tin, 104.6, 10.460},
		"173 g of base":          {tin, 173, 17.3},
		"one to one":             {urethane, 98.4, 98.4},
		"by volume, two to one":  {byVolume, 240, 90},
		"a little is overshot":   {urethane, 60.1, 60.1},
		"less than was planned":  {tin, 90, 9},
		"three to one by weight": {mix.Material{Name: "w", Ratio: mix.Ratio{A: 3, B: 1}, Density: 1}, 100, 100.0 / 3},
	} {
		w := cast(t, bench(), c.m, c.first/1.05, old("C-1"))
		w.to(session.Weigh)
		s := w.done(c.first)
		require.NotNil(t, s.Weighing, name)
		assert.InDelta(t, c.want, s.Weighing.Target, 1e-9, name)
		assert.InDelta(t, c.first, s.Weighing.Zero, 1e-9, "%s: that is in the cup already", name)
		assert.Equal(t, s.Weighing.Target, s.Weighing.Wants.Value, name)
		assert.NotEmpty(t, s.Weighing.Wants.Inputs, "%s: it says where it comes from", name)
		s = w.done(c.want)
		assert.InDelta(t, c.first+c.want, s.Mixed(0), 1e-9)
	}
}

// Common practice: 20 g at one to one with 2 g too much is 20 % of a part, and
// wants 2 g more of the other.
func TestAnOvershotLastPartWantsMoreOfTheFirst(t *testing.T) {
	w := cast(t, bench(), urethane, 20/1.05, old("C-1"))
	w.to(session.Weigh)
	w.done(10)
	_, err := w.take(session.Event{What: session.Done, Step: w.state().Steps[w.state().At].Key, Figure: 15})
	var unlikely session.Unlikely
	require.ErrorAs(t, err, &unlikely, "so far off it is asked about")
	s := w.done(12)
	require.NotNil(t, s.Short)
	assert.InDelta(t, 0.20, s.Short.Off, 1e-9)
	assert.InDelta(t, 2, s.Short.Add.Value, 1e-9)
	assert.InDelta(t, 2.0/22, s.Short.Grows, 1e-9)
	assert.Contains(t, codes(s), "off-ratio")

	s = w.must(session.Event{What: session.More})
	assert.Equal(t, session.Weigh, s.Steps[s.At].Act)
	assert.InDelta(t, 2, s.Weighing.Target, 1e-9)
	s = w.done(2)
	assert.Nil(t, s.Short)
	assert.NotContains(t, codes(s), "off-ratio")
	assert.InDelta(t, 24, s.Mixed(0), 1e-9)
	_, over := s.Order(0)
	assert.InDelta(t, 4, over, 1e-9, "the mould takes 20 g")
}

func TestColourFollowsTheFirstPart(t *testing.T) {
	sh := shot(t, urethane, 100)
	sh.Doses = []mix.Dose{{Name: "red paste", Amount: derive.Of(quantity.Mass, 0.4, "recipe")},
		{Name: "black", Amount: derive.Of(quantity.Number, 6, "recipe"), ByDrops: true}}
	sh.TintB = true
	p, err := session.Cast(bench(), "cleats", urethane, sh, []session.Mould{old("C-1")})
	require.NoError(t, err)
	w := &work{t: t, plan: p, now: 0}
	s := w.to(session.Weigh)
	assert.Equal(t, "part B", s.Weighing.What, "the colour goes into part B, so that it is first")
	s = w.done(2 * s.Weighing.Target)
	assert.InDelta(t, 0.8, s.Weighing.Target, 1e-9, "twice as much is to be coloured")
	s = w.done(0.8)
	assert.True(t, s.Weighing.Drops)
	assert.InDelta(t, 12, s.Weighing.Target, 1e-9)
	s = w.done(12)
	assert.Equal(t, "part A", s.Weighing.What)
	assert.InDelta(t, s.Cups[0].Weighed[0], s.Weighing.Target, 1e-9)
}

func codes(s session.State) (out []string) {
	for _, f := range s.Notices {
		out = append(out, f.Code)
	}
	return out
}

// The pot life begins when A meets B, on the scale or, typed in, no later than the
// step was on; it goes on whoever looks, and with the shop's warmth.
func TestThePotLifeRuns(t *testing.T) {
	w := cast(t, bench(), urethane, 95, old("C-1"))
	w.to(session.Weigh)
	w.done()
	w.now = 5000
	assert.Empty(t, w.state().Clocks, "nothing has met yet")
	w.must(session.Event{What: session.Contact})
	w.now = 5030
	s := w.done()
	pot := s.Clocks[0]
	assert.True(t, pot.PotLife)
	assert.Equal(t, 5000.0, pot.From)
	assert.InEpsilon(t, 5000+6*60, pot.Until, 0.01, "100 g, as the sheet's cup")
	later := session.Play(w.plan, w.events, 5200)
	assert.Equal(t, pot, later.Clocks[0], "after a restart it stands where it stood")
	w.now = 5060
	warm := w.must(session.Event{What: session.Warmth, Figure: 32})
	assert.InDelta(t, 5060+(pot.Until-5060)/2, warm.Clocks[0].Until, 1e-6, "ten degrees warmer, the rest in half the time")

	quick := urethane
	quick.Traits.Q10 = 4
	own := cast(t, bench(), quick, 95, old("C-1"))
	own.to(session.Weigh)
	own.done()
	own.now = 5000
	own.must(session.Event{What: session.Contact})
	own.now = 5030
	pot = own.done().Clocks[0]
	own.now = 5060
	assert.InDelta(t, 5060+(pot.Until-5060)/4, own.must(session.Event{What: session.Warmth, Figure: 32}).Clocks[0].Until, 1e-6,
		"by the sheet's own warmth")

	hand := cast(t, bench(), urethane, 95, old("C-1"))
	hand.to(session.Weigh)
	hand.now = 6000
	hand.done()
	hand.now = 6100
	assert.Equal(t, 6000.0, hand.done().Clocks[0].From, "typed in: since the step was on")
}

// A cure of 16 h at 23 °C of which 2 h have passed takes 3.5 h more at 43 °C (Q10
// of 2; the form of ASTM F1980).
func TestACureFollowsTheShopsWarmth(t *testing.T) {
	slow := tin
	slow.Traits.Demould, slow.Traits.Celsius = 960, 23
	b := bench()
	b.Celsius = 23
	steps := []kinds.Step{{Act: kinds.Mixes, Pour: 0}, {Act: kinds.Fills, Do: "Brush.", Pour: -1},
		{Act: kinds.Cures, Do: "It cures.", Minutes: 960, Wait: true, Pour: -1}}
	batch, err := mix.Split(slow, volume(300))
	require.NoError(t, err)
	p, err := session.Make(
		b,
		"cleats",
		slow,
		steps,
		[]session.Filling{{Pour: kinds.Pour{Name: "The block", Batch: &batch}, Area: 4000}},
		[]session.Mould{{Number: "C-1", Cavities: 1}},
	)
	require.NoError(t, err)
	w := &work{t: t, plan: p, now: 0}
	s := w.to(session.Wait)
	from := w.now
	assert.InDelta(t, from+16*3600, s.Clocks[0].Until, 1e-6)
	w.now += 2 * 3600
	s = w.must(session.Event{What: session.Warmth, Figure: 43})
	assert.InDelta(t, w.now+3.5*3600, s.Clocks[0].Until, 1e-6)
	_, err = w.take(session.Event{What: session.Done, Step: s.Steps[s.At].Key})
	require.ErrorAs(t, err, new(session.Unlikely), "opened too early, it asks")
}

// Midnight and the change to summer time are nothing to a clock that counts
// seconds: a cure begun on the evening before ends twelve hours later.
func TestClocksCrossTheNight(t *testing.T) {
	place, err := time.LoadLocation("Europe/Berlin")
	require.NoError(t, err)
	for _, evening := range []time.Time{time.Date(2026, 3, 28, 20, 0, 0, 0, place), time.Date(2026, 10, 24, 20, 0, 0, 0, place)} {
		slow := urethane
		slow.Traits.Demould = 12 * 60
		w := cast(t, bench(), slow, 95, old("C-1"))
		w.now = float64(evening.Unix())
		s := w.to(session.Wait)
		began := time.Unix(int64(w.now), 0)
		assert.Equal(t, began.Add(12*time.Hour).Unix(), int64(s.Clocks[len(s.Clocks)-1].Until))
	}
}

// What no longer fits is said before it is begun: a rubber of three minutes that
// takes three to mix is stopped before it is degassed.
func TestWhatNoLongerFitsIsSaidBefore(t *testing.T) {
	b := bench()
	b.House.MixMinutes, b.House.DegasMinutes = 3, 4
	fast := tin
	fast.Traits.PotLife = 3
	batch, err := mix.Split(fast, volume(90))
	require.NoError(t, err)
	steps := []kinds.Step{{Act: kinds.Mixes, Pour: 0}, {Act: kinds.Fills, Do: "Brush.", Pour: -1}}
	p, err := session.Make(b, "x", fast, steps, []session.Filling{{Pour: kinds.Pour{Name: "The block", Batch: &batch}}},
		[]session.Mould{{Number: "C-1"}})
	require.NoError(t, err)
	w := &work{t: t, plan: p, now: 0}
	s := w.to(session.Tare)
	assert.Contains(t, codes(s), "pot-life-tight", "already at the tare")
	w.to(session.Stir)
	w.now += 100
	s = w.to(session.Degas)
	var stopped bool
	for _, f := range s.Notices {
		stopped = stopped || f.Code == "pot-life-tight" && f.Severity == "stop"
	}
	assert.True(t, stopped, "%v", s.Notices)
	s = w.must(session.Event{What: session.Skipped, Step: s.Steps[s.At].Key})
	assert.NotEqual(t, session.Degas, s.Steps[s.At].Act)
	w.now += 600
	assert.Contains(t, codes(w.state()), "pot-life-over")
}

// A shop that measures by marks fills to them; one that weighs has none, whatever
// the sheet says.
func TestMarksAreForWhoMeasuresByThem(t *testing.T) {
	sh := shot(t, byVolume, 90)
	p, err := session.Cast(bench(), "x", byVolume, sh, []session.Mould{old("1")})
	require.NoError(t, err)
	weighed := (&work{t: t, plan: p.Measured(bench().House)}).to(session.Weigh)
	assert.Zero(t, weighed.Weighing.Marks)
	assert.Equal(t, "Weigh part A.", weighed.Steps[weighed.At].Do)
	h := bench().House
	h.Schools = map[string]string{practice.Measure: practice.ByMarks}
	w := &work{t: t, plan: p.Measured(h)}
	filled := w.to(session.Weigh)
	assert.InDelta(t, sh.Batch.VolumeA.Value, filled.Weighing.Marks, 1e-9)
	assert.Contains(t, filled.Steps[filled.At].Do, "to its mark")
	filled = w.done(filled.Weighing.Target * 1.1)
	assert.InDelta(t, sh.Batch.VolumeB.Value*1.1, filled.Weighing.Marks, 0.1, "what was filled decides the rest")
}

// A scale that was off comes back at nothing with the cup on it: what it shows is
// counted as nothing, and the part is weighed from there.
func TestAScaleIsSetToNothingInBetween(t *testing.T) {
	w := cast(t, bench(), urethane, 95, old("C-1"))
	w.to(session.Tare)
	_, err := w.take(session.Event{What: session.Zeroed, Figure: 3})
	require.ErrorIs(t, err, session.ErrElsehow, "nothing is weighed yet")
	s := w.done(37.2)
	assert.InDelta(t, 37.2, s.Cups[0].Tare, 1e-9, "with the cup on it, not tared")
	s = w.done(50)
	shows := 0 - s.Cups[0].Tare - s.Weighing.Zero
	s = w.must(session.Event{What: session.Zeroed, Figure: shows})
	assert.InDelta(t, 0, 0-s.Cups[0].Tare-s.Weighing.Zero, 1e-9)
	_, err = w.take(session.Event{What: session.Zeroed, Figure: math.NaN()})
	require.ErrorIs(t, err, session.ErrFigure)
}

func TestTwoHandsDoOneStepOnce(t *testing.T) {
	w := cast(t, bench(), urethane, 95, old("C-1"))
	first := w.state().Steps[0].Key
	w.done()
	news, err := w.take(session.Event{What: session.Done, Step: first})
	require.NoError(t, err, "who was slower is told nothing bad")
	assert.False(t, news)
	_, err = w.take(session.Event{What: session.Done, Step: w.state().Steps[3].Key})
	require.ErrorIs(t, err, session.ErrElsehow)
	_, err = w.take(session.Event{What: session.Done, Step: "nothing"})
	require.ErrorIs(t, err, session.ErrNoStep)
	for _, g := range []float64{0, -3, math.NaN(), math.Inf(1), 2e5} {
		w.to(session.Weigh)
		_, err = w.take(session.Event{What: session.Done, Step: w.state().Steps[w.state().At].Key, Figure: g, Meant: true})
		assert.ErrorIs(t, err, session.ErrWeight, "%g", g)
	}
}

func TestAStepIsGoneBackFrom(t *testing.T) {
	w := cast(t, bench(), urethane, 95, old("C-1"), old("C-2"))
	_, err := w.take(session.Event{What: session.Back})
	require.ErrorIs(t, err, session.ErrNothing)
	w.to(session.Weigh)
	before := w.state()
	w.done(before.Weighing.Target * 1.1)
	w.must(session.Event{What: session.Out, Mould: 1, Text: "torn"})
	s := w.must(session.Event{What: session.Back})
	assert.Equal(t, before.Steps[before.At].Key, s.Steps[s.At].Key)
	assert.True(t, math.IsNaN(s.Cups[0].Weighed[0]), "it is weighed anew")
	assert.Equal(t, "torn", s.Moulds[1].Out, "what else happened stays")
	s = w.done(before.Weighing.Target)
	assert.InDelta(t, before.Weighing.Target, s.Weighing.Target, 1e-9)
}

func TestANewMouldIsProvedFirst(t *testing.T) {
	w := cast(t, bench(), urethane, 60, old("C-1"), session.Mould{Number: "C-2", Cavities: 1}, old("C-3"))
	s := w.to(session.Look)
	assert.Contains(t, s.Steps[s.At].Do, "C-2")
	s = w.must(session.Event{What: session.Done, Step: s.Steps[s.At].Key, Text: "void at the tip"})
	assert.Contains(t, codes(s), "first-casting-scrap", "before the rest is poured")
	_, err := w.take(session.Event{What: session.Done, Step: w.to(session.Look).Steps[w.state().At].Key})
	require.ErrorIs(t, err, session.ErrDefect)
	for !w.state().Over {
		w.done()
	}
	poured := 0
	for _, m := range w.state().Moulds {
		if m.Filled > 0 && len(m.Results) == 1 {
			poured++
		}
	}
	assert.Equal(t, 3, poured)
}

// What a cup has no room for, and what cannot be poured in its pot life, is
// another cup.
func TestMixesAreDivided(t *testing.T) {
	count := func(b session.Bench, mL float64, n int) int {
		var moulds []session.Mould
		for range n {
			moulds = append(moulds, old("C"))
		}
		return len(cast(t, b, urethane, mL, moulds...).plan.Mixes)
	}
	b := bench()
	b.Pots, b.InPot = 1, 20
	assert.Equal(t, 1, count(b, 60, 3))
	assert.Equal(t, 2, count(b, 300, 3), "two thirds of a litre")
	assert.Equal(t, 3, count(b, 10, 20), "a minute of stirring and half a minute a mould in 0.8 of six minutes")
	b.House.ScaleMost = 50
	assert.Equal(t, 2, count(b, 90, 1), "the scale takes 50 g")
}

func TestPotsAreNotOverfilled(t *testing.T) {
	w := cast(t, bench(), urethane, 20, old("1"), old("2"), old("3"), old("4"))
	assert.Contains(t, codes(w.state()), "pots-too-few")
	b := bench()
	b.Pots = 2
	w = cast(t, b, urethane, 20, old("1"), old("2"), old("3"), old("4"))
	assert.NotContains(t, codes(w.state()), "pots-too-few")
	assert.Equal(t, 2, w.plan.Moulds[3].Pot)
	_, err := session.Cast(b, "x", urethane, shot(t, urethane, 20), nil)
	assert.ErrorIs(t, err, session.ErrNoMoulds)
}

// Thin castings wait longer than the cup, which heats itself.
func TestThinSectionsWaitLonger(t *testing.T) {
	wait := func(section float64) float64 {
		sh := shot(t, urethane, 50)
		sh.Section = section
		p, err := session.Cast(bench(), "x", urethane, sh, []session.Mould{old("1")})
		require.NoError(t, err)
		for _, s := range p.Steps {
			if s.Act == session.Wait {
				return s.Minutes
			}
		}
		return 0
	}
	assert.InDelta(t, 20, wait(0), 1e-9, "nobody knows")
	assert.Greater(t, wait(1.5), wait(12))
	assert.LessOrEqual(t, wait(0.5), 40.0, "never more than twice")
}
