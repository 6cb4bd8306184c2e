package api_test

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"bathyform/internal/api"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// atBench is a session as a caster has it before them.
type atBench struct {
	shop
	api.Session
}

func (s shop) begin(body map[string]any) *atBench {
	s.t.Helper()
	b := &atBench{shop: s}
	s.send("POST", "/api/sessions", -1, body).into(&b.Session)
	return b
}

func (b *atBench) path() string { return "/api/sessions/" + b.Id.String() }

func (b *atBench) tell(body map[string]any) answer {
	b.t.Helper()
	a := b.send("POST", b.path()+"/events", -1, body)
	if a.Status == http.StatusOK {
		b.Session = api.Session{}
		a.into(&b.Session)
	}
	return a
}

// done does the step that is on.
func (b *atBench) done() {
	b.t.Helper()
	step := b.Steps[b.At]
	body := map[string]any{"what": "done", "step": step.Key, "meant": true, "good": true, "from": "hand"}
	if b.Weighing != nil {
		body["figure"] = math.Round(b.Weighing.Target*10) / 10
	}
	if step.Act == "pressure" {
		body["figure"] = 340
	}
	require.Equal(b.t, http.StatusOK, b.tell(body).Status, step.Do)
}

func (b *atBench) to(act string) {
	b.t.Helper()
	for !b.Over && string(b.Steps[b.At].Act) != act {
		b.done()
	}
	require.False(b.t, b.Over, "there is no %s", act)
}

// cleats are a job with everything chosen, and moulds on the rack.
func (s shop) cleats(moulds ...string) (j api.Job, ids []string) {
	s.t.Helper()
	j = s.take("deck-cleat")
	rubber, resin := s.rubber("Tin-cure silicone 30 A, 10:1"), s.rubber("Rigid urethane, 3 min")
	s.redesign(j, func(d map[string]any) { d["rubber"], d["resin"] = rubber, resin })
	for _, n := range moulds {
		var m api.Mould
		s.send("POST", s.path(j, "/moulds"), -1, map[string]any{"number": n, "rubber": "Tin-cure silicone 30 A, 10:1",
			"poured": "2026-01-05", "cavities": 1}).into(&m)
		ids = append(ids, m.Id.String())
	}
	return j, ids
}

// A casting run from the first check to the log: what is weighed is what is
// written down, one mould proved before the others.
func TestACastingRunIsWrittenDownAsWeighed(t *testing.T) {
	s := open(t)
	j, ids := s.cleats("C-1", "C-2")
	b := s.begin(map[string]any{"kind": "casting", "job": j.Id, "moulds": ids, "pots": 2, "celsius": 24.5, "lot": "U-9"})
	require.NotEmpty(t, b.Steps)
	s.send("POST", "/api/sessions", -1, map[string]any{"kind": "casting", "job": j.Id, "moulds": ids}).
		problem(http.StatusConflict, "stands in another session")
	b.to("weigh")
	wanted := b.Weighing.Target
	b.tell(map[string]any{"what": "done", "step": b.Steps[b.At].Key, "figure": wanted * 1.5}).
		problem(http.StatusUnprocessableEntity, "net weight of this part alone")
	require.Equal(
		t,
		200,
		b.tell(map[string]any{"what": "done", "step": b.Steps[b.At].Key, "figure": wanted + 1.2, "from": "scale"}).Status,
	)
	second := b.Weighing.Target
	assert.InEpsilon(t, second/(wanted+1.2), figures(b.Numbers)[b.Weighing.Wants.N].Value/(wanted+1.2), 1e-6)
	b.tell(map[string]any{"what": "done", "step": "nothing"}).problem(http.StatusUnprocessableEntity, "no such step")
	b.to("look")
	b.tell(map[string]any{"what": "done", "step": b.Steps[b.At].Key, "good": false}).
		problem(http.StatusUnprocessableEntity, "what is wrong")
	require.Equal(
		t,
		200,
		b.tell(map[string]any{"what": "done", "step": b.Steps[b.At].Key, "good": false, "text": "short fill"}).Status,
	)
	for !b.Over {
		b.done()
	}
	var page api.PullPage
	s.send("GET", "/api/pulls?job="+j.Id.String(), -1, nil).into(&page)
	require.Len(t, page.Pulls, 2)
	bad := 0
	for _, p := range page.Pulls {
		assert.Equal(t, b.Id, *p.Session)
		require.NotNil(t, p.MassA)
		require.NotNil(t, p.MassB)
		assert.InDelta(t, 340, *p.Pressure, 1e-9)
		assert.InDelta(t, 24.5, *p.Celsius, 1e-9)
		assert.Equal(t, "U-9", *p.Lot)
		if !p.Results[0].Good {
			bad++
			assert.Equal(t, "short fill", *p.Results[0].Defect)
			assert.InDelta(t, wanted+1.2, *p.MassA, 0.01, "as weighed, not as planned")
		}
	}
	assert.Equal(t, 1, bad)
	b.tell(map[string]any{"what": "back"}).problem(http.StatusConflict, "over")
	var bench api.BenchToday
	s.send("GET", "/api/bench", -1, nil).into(&bench)
	assert.Empty(t, bench.Sessions)
	require.NotEmpty(t, bench.Over)
	assert.Equal(t, b.Id, bench.Over[0].Id)
}

// A rubber pour puts its moulds onto the rack, with their birth looked at.
func TestARubberPourPutsMouldsOnTheRack(t *testing.T) {
	s := open(t)
	j, _ := s.cleats("C-1")
	s.send("POST", "/api/sessions", -1, map[string]any{"kind": "rubber", "job": j.Id, "numbers": []string{"C-1"}}).
		problem(http.StatusUnprocessableEntity, "There is a mould C-1 already")
	s.send("POST", "/api/sessions", -1, map[string]any{"kind": "rubber", "job": j.Id}).
		problem(http.StatusUnprocessableEntity, "Give the mould a number")
	b := s.begin(map[string]any{"kind": "rubber", "job": j.Id, "numbers": []string{"C-7", "C-8"}})
	b.to("weigh")
	assert.Equal(t, "base", b.Weighing.What)
	for !b.Over {
		b.done()
	}
	moulds := s.rack("?job=" + j.Id.String())
	numbers := map[string]*uuid.UUID{}
	for _, m := range moulds {
		numbers[m.Number] = m.Session
	}
	assert.Equal(t, b.Id, *numbers["C-7"])
	assert.Equal(t, b.Id, *numbers["C-8"])
	assert.Nil(t, numbers["C-1"])
}

// Two hands do a step at once: it is done once, and both are told the same. Sent
// again after an answer was lost, it is kept once.
func TestTwoHandsAtOneBench(t *testing.T) {
	s := open(t)
	b := s.begin(map[string]any{"kind": "casting", "lesson": "casting"})
	step := b.Steps[0].Key
	var all sync.WaitGroup
	for range 8 {
		all.Go(func() { s.send("POST", b.path()+"/events", -1, map[string]any{"what": "done", "step": step}) })
	}
	all.Wait()
	var now api.Session
	s.send("GET", b.path(), -1, nil).into(&now)
	assert.Equal(t, 1, now.At)
	assert.Equal(t, 1, now.Version)
	s.key = uuid.NewString()
	for range 2 {
		s.send("POST", b.path()+"/events", -1, map[string]any{"what": "noted", "text": "wet day"}).into(&now)
	}
	assert.Equal(t, 2, now.Version)
	s.key = ""
	s.send("POST", b.path()+"/events", -1, map[string]any{"what": "done", "step": now.Steps[4].Key}).
		problem(http.StatusConflict, "gone on meanwhile")
}

// A retired mould is cast in by nobody, nor one of another order, nor one twice.
func TestWhatCannotBeCastIn(t *testing.T) {
	s := open(t)
	j, ids := s.cleats("C-1", "C-2")
	s.send("PUT", "/api/moulds/"+ids[0]+"/retirement", -1, map[string]any{"retired": "2026-02-01", "ended": "worn"})
	ask := func(moulds ...string) answer {
		return s.send("POST", "/api/sessions", -1, map[string]any{"kind": "casting", "job": j.Id, "moulds": moulds})
	}
	ask(ids[0]).problem(http.StatusConflict, "retired")
	ask(ids[1], ids[1]).problem(http.StatusUnprocessableEntity, "twice")
	s.send("POST", "/api/sessions", -1, map[string]any{"kind": "casting", "job": j.Id, "moulds": []string{}}).
		problem(422, "at least one mould")
	s.send("POST", "/api/sessions", -1, map[string]any{"kind": "casting"}).problem(http.StatusUnprocessableEntity, "Which order")
	s.send("POST", "/api/sessions", -1, map[string]any{"kind": "casting", "lesson": "none"}).problem(422, "no lesson")
	for _, wrong := range []map[string]any{{"pots": 0}, {"celsius": 80}, {"humidity": 130}} {
		wrong["kind"], wrong["lesson"] = "casting", "casting"
		assert.Equal(t, 422, s.send("POST", "/api/sessions", -1, wrong).Status, "%v", wrong)
	}
	other := s.take("collar-half")
	s.send("POST", "/api/sessions", -1, map[string]any{"kind": "casting", "job": other.Id, "moulds": ids[1:]}).
		problem(422, "another order")
	s.send("POST", "/api/sessions", -1, map[string]any{"kind": "rubber", "job": other.Id, "numbers": []string{"K-1"}}).
		problem(http.StatusConflict, "No rubber is chosen")
}

// A lesson touches nothing.
func TestALessonTouchesNothing(t *testing.T) {
	s := open(t)
	for _, lesson := range []string{"rubber", "casting", "wrong"} {
		b := s.begin(map[string]any{"kind": "casting", "lesson": lesson})
		slips := 0
		for !b.Over {
			if b.Slip != nil {
				slips++
			}
			b.done()
		}
		require.NotNil(t, b.Marks, lesson)
		assert.NotEmpty(t, *b.Marks)
		assert.Equal(t, lesson == "wrong", slips > 0)
	}
	moulds := s.rack("")
	for _, m := range moulds {
		assert.False(t, strings.HasPrefix(m.Number, "T-"), m.Number)
	}
}

// Ways on have figures that open, and an event that takes them.
func TestWaysOnAreTakenAtAPress(t *testing.T) {
	s := open(t)
	b := s.begin(map[string]any{"kind": "casting", "lesson": "casting"})
	b.to("pour")
	ways := func(trouble string, figure float64) answer {
		return s.send("GET", fmt.Sprintf("%s/ways?trouble=%s&mould=0&figure=%g", b.path(), trouble, figure), -1, nil)
	}
	var all api.Ways
	ways("short", 2).into(&all)
	assert.Contains(t, all.Ways[0].Do, "not poured")
	b.done()
	ways("short", -2).problem(http.StatusUnprocessableEntity, "cannot be right")
	ways("short", 2).into(&all)
	require.NotEmpty(t, all.Ways)
	assert.NotEmpty(t, figures(all.Numbers)[all.Ways[0].Figures[0].Number.N].Formula)
	doc, err := json.Marshal(all.Ways[0].Event)
	require.NoError(t, err)
	var event map[string]any
	require.NoError(t, json.Unmarshal(doc, &event))
	before := b.Moulds[0].Poured
	require.Equal(t, 200, b.tell(event).Status)
	assert.Greater(t, b.Moulds[0].Poured, before)
}

// The scale is read into the session: the part alone, against its band, and that A
// meets B; a second device follows live.
func TestTheScaleIsReadIntoTheSession(t *testing.T) {
	s := open(t)
	b := s.begin(map[string]any{"kind": "casting", "lesson": "casting"})
	require.True(t, *b.StandIn)
	asked, leave := context.WithTimeout(t.Context(), 60*time.Second)
	defer leave()
	r, err := http.NewRequestWithContext(asked, http.MethodGet, s.base+b.path()+"/live", nil)
	require.NoError(t, err)
	stream, err := http.DefaultClient.Do(r)
	require.NoError(t, err)
	defer stream.Body.Close()
	lines := bufio.NewScanner(stream.Body)
	lines.Buffer(nil, 1<<20)
	kind := ""
	next := func(of string, into any) bool {
		for lines.Scan() {
			if k, ok := strings.CutPrefix(lines.Text(), "event: "); ok {
				kind = k
			}
			if data, ok := strings.CutPrefix(lines.Text(), "data: "); ok && kind == of {
				return assert.NoError(t, json.Unmarshal([]byte(data), into))
			}
		}
		return false
	}
	say := func(line string) {
		a := s.send("POST", b.path()+"/say", -1, map[string]any{"instrument": "scale", "line": line})
		require.Equal(t, http.StatusNoContent, a.Status, string(a.Body))
	}
	settled := func(want float64) (shows api.ScaleShows) {
		t.Helper()
		for next("scale", &shows) {
			if shows.Settled != nil && math.Abs(*shows.Settled-want) < 0.15 {
				return shows
			}
			shows = api.ScaleShows{}
		}
		t.Fatalf("the scale never came to %g", want)
		return shows
	}
	say("put 37")
	b.to("tare")
	settled(37)
	require.Equal(t, 200, b.tell(map[string]any{"what": "done", "step": b.Steps[b.At].Key, "figure": 37}).Status, "it is not tared")
	a := b.Weighing.Target
	say(fmt.Sprintf("put %g", a))
	shows := settled(a)
	assert.Equal(t, api.ScaleShowsInBand, shows.In, "the part alone, whatever the cup weighs")
	assert.InDelta(t, 1, shows.Share, 0.01)
	require.Equal(
		t,
		200,
		b.tell(map[string]any{"what": "done", "step": b.Steps[b.At].Key, "figure": *shows.Settled, "from": "scale"}).Status,
	)
	say("put 20")
	shows = settled(20)
	assert.Equal(t, api.ScaleShowsInUnder, shows.In)
	var now api.Session
	s.send("GET", b.path(), -1, nil).into(&now)
	require.NotEmpty(t, now.Clocks, "the pot life runs since it was poured, before anything was kept")
	assert.True(t, now.Clocks[0].PotLife)
	say("put 200")
	assert.Equal(t, api.ScaleShowsInOver, settled(220).In)
	say("unplug 30")
	for next("scale", &shows) && shows.Trouble == nil {
		shows = api.ScaleShows{}
	}
	require.NotNil(t, shows.Trouble)
	b.done()
	assert.True(t, *b.Cups[0].Parts[1].ByHand, "typed in, it goes on")
}
