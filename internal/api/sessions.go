package api

import (
	"context"
	"errors"
	"fmt"
	"math"
	"net/http"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"bathyform/core/bench"
	"bathyform/core/session"
	"bathyform/internal/device"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// Benches hold no more at once than hands can.
const (
	mostPots     = 20
	latestOver   = 8
	mostToBegin  = 40
	coldestShop  = -10.0
	warmestShop  = 50.0
	mostHumidity = 100.0
)

// GetBench tells what is due now.
func (s *Server) GetBench(ctx context.Context, _ GetBenchRequestObject) (GetBenchResponseObject, error) {
	open, err := s.store.OpenSessions(ctx)
	if err != nil {
		return nil, err
	}
	over, err := s.store.LatestSessions(ctx, latestOver)
	if err != nil {
		return nil, err
	}
	now := s.now()
	out := BenchToday{Due: []Due{}, Sessions: []SessionRow{}, Over: []SessionRow{}, Lessons: []Lesson{}, Numbers: []NumberRow{}}
	var at []session.Open
	busy := map[string]bool{}
	for _, o := range open {
		st := o.At(now)
		if st.Over { // the server went away before it was written down
			if _, err := s.over(ctx, o); err != nil {
				return nil, err
			}
			continue
		}
		if o.Lesson == "" {
			at = append(at, session.Open{ID: o.ID.String(), Plan: o.Plan, State: st})
		}
		for _, m := range o.Plan.Moulds {
			busy[m.ID] = true
		}
		out.Sessions = append(out.Sessions, sessionRow(o, st))
	}
	for _, o := range over {
		out.Over = append(out.Over, sessionRow(o, o.At(now)))
	}
	jobs, err := s.benchJobs(ctx, busy)
	if err != nil {
		return nil, err
	}
	for _, d := range session.Today(store.Seconds(now), at, jobs) {
		out.Due = append(out.Due, fromDue(d))
	}
	for _, l := range session.Lessons {
		out.Lessons = append(out.Lessons, Lesson{Key: l.Key, Name: l.Name, What: l.What})
	}
	return GetBench200JSONResponse(out), nil
}

func sessionRow(b store.Session, st session.State) SessionRow {
	row := SessionRow{
		Id:     b.ID,
		Kind:   SessionKind(b.Kind),
		Job:    b.Plan.Job,
		Begun:  b.Begun,
		At:     st.At,
		Of:     len(st.Steps),
		Over:   st.Over,
		Lesson: optional(b.Lesson),
	}
	if st.At < len(st.Steps) {
		row.Step = st.Steps[st.At].Do
	}
	for _, c := range st.Clocks {
		if row.Until == nil || c.Until < *row.Until {
			row.Until = &c.Until
		}
	}
	return row
}

func fromDue(d session.Due) Due {
	out := Due{Kind: DueKind(d.Kind), What: d.What, Why: d.Why, At: optional(d.At), Number: optional(d.Number)}
	if id, err := uuid.Parse(d.Session); err == nil {
		out.Session = &id
	}
	if id, err := uuid.Parse(d.Job); err == nil {
		out.Job = &id
	}
	if len(d.Moulds) > 0 {
		all := []DueMould{}
		for _, m := range d.Moulds {
			all = append(all, DueMould{Id: uuid.MustParse(m.ID), Number: m.Number, Pulls: m.Pulls, Cavities: m.Cavities})
		}
		out.Moulds = &all
	}
	return out
}

// benchJobs are the orders as the bench looks at them.
func (s *Server) benchJobs(ctx context.Context, busy map[string]bool) ([]session.Job, error) {
	jobs, err := s.store.Jobs(ctx)
	if err != nil {
		return nil, err
	}
	moulds, err := s.store.Moulds(ctx)
	if err != nil {
		return nil, err
	}
	letters, next := numbered(moulds)
	of := map[uuid.UUID][]store.Mould{}
	for _, m := range moulds {
		if m.Retired == nil {
			of[m.JobID] = append(of[m.JobID], m)
		}
	}
	var out []session.Job
	for _, j := range jobs {
		b := session.Job{ID: j.ID.String(), Name: j.Order.Name, Wanted: j.Order.Quantity - j.Good, Letters: letters, Next: next}
		if j.Design != nil {
			b.Resin, b.Rubber = j.Design.Resin != "", j.Design.Rubber != ""
		}
		for _, m := range of[j.ID] {
			if busy[m.ID.String()] {
				b.Busy++
				continue
			}
			b.Moulds = append(b.Moulds, onBench(m))
		}
		out = append(out, b)
	}
	return out, nil
}

func onBench(m store.Mould) session.Mould {
	return session.Mould{ID: m.ID.String(), Number: m.Number, Cavities: m.Cavities, Pulls: m.Pulls}
}

// numberedSo is how a shop numbers its moulds: letters, a dash and a number.
var numberedSo = regexp.MustCompile(`^(.*?)-?(\d{1,6})$`)

// numbered is what the shop's moulds are numbered by, and the next number.
func numbered(all []store.Mould) (letters string, next int) {
	letters, next = "M", 1
	latest := time.Time{}
	for _, m := range all {
		f := numberedSo.FindStringSubmatch(m.Number)
		if f != nil && f[1] != "" && !m.Poured.Before(latest) {
			letters, latest = f[1], m.Poured
		}
	}
	for _, m := range all {
		if f := numberedSo.FindStringSubmatch(m.Number); f != nil && f[1] == letters {
			if n, err := strconv.Atoi(f[2]); err == nil {
				next = max(next, n+1)
			}
		}
	}
	return letters, next
}

// BeginSession plans a session and begins it.
func (s *Server) BeginSession(ctx context.Context, r BeginSessionRequestObject) (BeginSessionResponseObject, error) {
	id := newID(r.Params.IdempotencyKey)
	if was, err := s.store.Session(ctx, id); err == nil { // sent again
		return BeginSession201JSONResponse(s.fromSession(ctx, was)), nil
	}
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	b := r.Body
	at := session.Bench{House: shop.Practice, Celsius: given(b.Celsius), Humid: given(b.Humidity), Lot: strings.TrimSpace(given(b.Lot)),
		Pots: given(b.Pots)}
	switch {
	case b.Pots != nil && (*b.Pots < 1 || *b.Pots > mostPots):
		return nil, problem(http.StatusUnprocessableEntity, "That many pots cannot be", fmt.Sprintf("From 1 to %d.", mostPots))
	case b.Celsius != nil && (at.Celsius < coldestShop || at.Celsius > warmestShop), at.Humid < 0 || at.Humid > mostHumidity:
		return nil, problem(http.StatusUnprocessableEntity, "No shop is like that", "Read the thermometer and the humidity again.")
	}
	begun := store.Session{ID: id, Kind: string(b.Kind), Begun: s.now(), JobID: b.Job}
	var moulds []uuid.UUID
	switch {
	case b.Lesson != nil:
		lesson, err := session.LessonOf(*b.Lesson)
		if err != nil {
			return nil, unusable("There is no such lesson", err)
		}
		begun.Lesson, begun.JobID = lesson.Key, nil
		if begun.Plan, err = lesson.Plan(at); err != nil {
			return nil, unusable("The lesson cannot be begun", err)
		}
		begun.Kind = string(begun.Plan.Kind)
	case b.Job == nil:
		return nil, problem(http.StatusUnprocessableEntity, "Which order is it for?", "Choose one of the jobs.")
	default:
		if begun.Plan, moulds, err = s.planned(ctx, *b, at); err != nil {
			return nil, err
		}
	}
	switch err := s.store.BeginSession(ctx, begun, moulds); {
	case errors.Is(err, store.ErrInUse):
		return nil, problem(http.StatusConflict, "A mould stands in another session", "End that one first, or cast in another mould.")
	case errors.Is(err, store.ErrRetired):
		return nil, problem(http.StatusConflict, "A mould is retired", "Take it back into use on the rack first, if "+
			"it still gives good castings.")
	case err != nil:
		return nil, err
	}
	begun, err = s.store.Session(ctx, id)
	return BeginSession201JSONResponse(s.fromSession(ctx, begun)), err
}

// planned is the session of a job, with the moulds that it is cast in.
func (s *Server) planned(ctx context.Context, b NewSession, at session.Bench) (session.Plan, []uuid.UUID, error) {
	o, q, err := s.asked(ctx, *b.Job, nil)
	if err != nil {
		return session.Plan{}, nil, err
	}
	var moulds []session.Mould
	var ids []uuid.UUID
	if b.Kind == SessionKindCasting {
		for _, id := range given(b.Moulds) {
			m, err := s.store.Mould(ctx, id)
			if err != nil {
				return session.Plan{}, nil, err
			}
			switch {
			case m.JobID != o.job.ID:
				return session.Plan{}, nil, problem(
					http.StatusUnprocessableEntity,
					m.Number+" is a mould of another order",
					"Choose "+
						"moulds of this one.",
				)
			case m.Retired != nil:
				return session.Plan{}, nil, problem(
					http.StatusConflict,
					m.Number+" is retired",
					"Take it back into use on the rack first.",
				)
			case slices.Contains(ids, id):
				return session.Plan{}, nil, problem(http.StatusUnprocessableEntity, m.Number+" is named twice", "A "+
					"mould stands in one place at a time.")
			}
			moulds, ids = append(moulds, onBench(m)), append(ids, id)
		}
	} else if moulds, err = s.newMoulds(ctx, given(b.Numbers), o); err != nil {
		return session.Plan{}, nil, err
	}
	switch {
	case len(moulds) > 0:
	case b.Kind == SessionKindRubber:
		return session.Plan{}, nil, problem(
			http.StatusUnprocessableEntity,
			"There is nothing to begin with",
			"Give the mould a number: "+
				"written on every side it tells it from its sisters.",
		)
	default:
		return session.Plan{}, nil, unusable("There is nothing to begin with", session.ErrNoMoulds)
	}
	built, err := o.master.Build(ctx, q, nil)
	if err != nil {
		return session.Plan{}, nil, buildProblem(err)
	}
	var p session.Plan
	if b.Kind == SessionKindCasting {
		p, err = o.master.Casting(ctx, o.job.Order.Name, built, q, at, moulds)
		p.Spares = s.spares(ctx, o)
	} else {
		p, err = built.Making(o.job.Order.Name, q, at, moulds)
	}
	switch {
	case errors.Is(err, bench.ErrNoResin), errors.Is(err, bench.ErrNoRubber), errors.Is(err, session.ErrNoMix):
		return p, nil, problem(http.StatusConflict, "There is nothing to weigh yet", sentence(err.Error()))
	case err != nil:
		return p, nil, unusable("The session cannot be begun", err)
	}
	return p, ids, nil
}

// newMoulds are moulds that are going to be poured, by their numbers.
func (s *Server) newMoulds(ctx context.Context, numbers []string, o opened) (out []session.Mould, err error) {
	all, err := s.store.Moulds(ctx)
	if err != nil {
		return nil, err
	}
	cavities := 1
	if o.job.Design != nil {
		cavities = o.job.Design.Cavities()
	}
	taken := map[string]bool{}
	for _, m := range all {
		taken[m.Number] = true
	}
	for _, n := range numbers {
		n = strings.TrimSpace(n)
		if n == "" {
			continue
		}
		if taken[n] {
			return nil, problem(http.StatusUnprocessableEntity, "There is a mould "+n+" already", "Give the new one another number.")
		}
		taken[n] = true
		out = append(out, session.Mould{Number: n, Cavities: cavities})
	}
	return out, nil
}

// spares are small open moulds of other orders that take what is left over.
func (s *Server) spares(ctx context.Context, o opened) (out []session.Spare) {
	all, err := s.store.Moulds(ctx)
	if err != nil {
		return nil
	}
	for _, m := range all {
		if m.Retired != nil || m.JobID == o.job.ID || !bench.OpenFaced(m.Kind) {
			continue
		}
		j, err := s.store.Job(ctx, m.JobID)
		if err != nil || j.Master == nil || j.Design == nil || o.job.Design == nil || j.Design.Resin != o.job.Design.Resin {
			continue
		}
		if hand, err := s.hand.take(ctx, j); err == nil {
			for _, material := range o.shelf {
				if material.ID.String() == j.Design.Resin {
					grams := hand.Solid.Volume() / 1000 * material.Density * float64(m.Cavities)
					out = append(out, session.Spare{Name: m.Number + ", " + j.Order.Name, Grams: grams})
				}
			}
		}
	}
	return out
}

// GetSession tells where a session stands.
func (s *Server) GetSession(ctx context.Context, r GetSessionRequestObject) (GetSessionResponseObject, error) {
	b, err := s.store.Session(ctx, r.SessionId)
	if err != nil {
		return nil, err
	}
	if b.Ended == nil && b.At(s.now()).Over { // the server went away before it was written down
		if b, err = s.over(ctx, b); err != nil {
			return nil, err
		}
	}
	return GetSession200JSONResponse(s.fromSession(ctx, b)), nil
}

// TellSession keeps what happened.
func (s *Server) TellSession(ctx context.Context, r TellSessionRequestObject) (TellSessionResponseObject, error) {
	key := uuid.Nil
	if r.Params.IdempotencyKey != nil {
		key = *r.Params.IdempotencyKey
	}
	b := r.Body
	e := session.Event{
		What:   session.What(b.What),
		Step:   given(b.Step),
		Figure: given(b.Figure),
		Mould:  given(b.Mould),
		Good:   given(b.Good),
		Text:   strings.TrimSpace(given(b.Text)),
		Who:    strings.TrimSpace(given(b.Who)),
		Meant:  given(b.Meant),
	}
	if b.From != nil {
		e.From = string(*b.From)
	}
	was, err := s.store.Happened(ctx, r.SessionId, e, key, s.now())
	if err != nil {
		return nil, notTaken(err)
	}
	if was.Ended == nil && was.At(s.now()).Over {
		if was, err = s.over(ctx, was); err != nil {
			return nil, err
		}
	}
	s.benches.changed(r.SessionId)
	s.slips(ctx, was)
	return TellSession200JSONResponse(s.fromSession(ctx, was)), nil
}

// notTaken says why an event is not taken.
func notTaken(err error) error {
	var unlikely session.Unlikely
	switch {
	case errors.As(err, &unlikely):
		return unlikelyProblem(unlikely)
	case errors.Is(err, session.ErrElsehow), errors.Is(err, session.ErrOver):
		return problem(http.StatusConflict, "The session has gone on", sentence(err.Error()))
	case errors.Is(err, session.ErrWeight), errors.Is(err, session.ErrDefect), errors.Is(err, session.ErrFigure),
		errors.Is(err, session.ErrMould), errors.Is(err, session.ErrNoStep), errors.Is(err, session.ErrNothing):
		return unusable("That was not kept", err)
	}
	return err
}

func unlikelyProblem(u session.Unlikely) error { return unlikely("Is that meant?", sentence(u.Says)) }

// ListWays lists the ways on from what went wrong.
func (s *Server) ListWays(ctx context.Context, r ListWaysRequestObject) (ListWaysResponseObject, error) {
	b, err := s.store.Session(ctx, r.SessionId)
	if err != nil {
		return nil, err
	}
	all, err := b.At(s.now()).Ways(session.Trouble(r.Params.Trouble), given(r.Params.Mould), given(r.Params.Figure))
	if err != nil {
		return nil, unusable("There is no way to tell yet", err)
	}
	l := newLedger()
	out := Ways{Ways: []Way{}}
	for _, w := range all {
		way := Way{Do: w.Do, Why: w.Why, Figures: []Named{}}
		for _, f := range w.Figures {
			way.Figures = append(way.Figures, Named{Name: f.Name, Number: l.number(f.Number)})
		}
		if e := w.Event; e != nil {
			way.Event = &SessionEvent{
				What:   SessionEventWhat(e.What),
				Figure: optional(e.Figure),
				Mould:  &e.Mould,
				Text:   optional(e.Text),
			}
		}
		out.Ways = append(out.Ways, way)
	}
	out.Numbers = l.rows
	return ListWays200JSONResponse(out), nil
}

// fromSession is a session as the page has it.
func (s *Server) fromSession(ctx context.Context, b store.Session) Session {
	now := s.now()
	st := b.At(now)
	l := newLedger()
	out := Session{Id: b.ID, Kind: SessionKind(b.Kind), Job: b.Plan.Job, JobId: b.JobID, Lesson: b.Lesson, Material: b.Plan.Material,
		Begun: b.Begun, Now: store.Seconds(now), Version: len(b.Events), At: st.At, Over: st.Over, Stopped: optional(st.Stopped),
		Digit: b.Plan.Digit, Celsius: st.Celsius, Steps: []SessionStep{}, Clocks: []SessionClock{}, Moulds: []SessionMould{},
		Cups: []SessionCup{}, Records: []SessionRecord{}, Rises: optional(st.Rises)}
	for _, p := range st.Steps {
		shown := SessionStep{Key: p.Key, Act: SessionStepAct(p.Act), Do: p.Do, Why: optional(p.Why),
			Caution: optional(p.Caution), Minutes: optional(p.Minutes), Mould: p.Mould, Cavity: p.Cavity}
		if len(p.Items) > 0 {
			shown.Items = &p.Items
		}
		out.Steps = append(out.Steps, shown)
	}
	if w := st.Weighing; w != nil {
		out.Weighing = &Weighing{What: w.What, Drops: w.Drops, Wants: l.number(w.Wants), Target: w.Target, Low: w.Low, High: w.High,
			Zero: w.Zero, Marks: optional(w.Marks), Meets: optional(w.Meets)}
	}
	if m := st.Mix(); m >= 0 {
		out.Tare, out.Holds = optional(st.Cups[m].Tare), optional(st.Cups[m].Holds)
		if n := st.Divides(); n > 1 {
			out.Divides = &n
		}
	}
	if sh := st.Short; sh != nil {
		out.Short = &struct {
			Add  Number `json:"add"`
			What string `json:"what"`
		}{l.number(sh.Add), st.PartName(sh.Mix, sh.Part)}
	}
	for _, c := range st.Clocks {
		out.Clocks = append(
			out.Clocks,
			SessionClock{Name: c.Name, PotLife: c.PotLife, Step: optional(c.Step), From: c.From, Until: c.Until},
		)
	}
	shop, err := s.store.ReadShop(ctx)
	if err == nil {
		out.Findings = fromFindings(st.Notices, shop.Practice.In())
		out.Pressure = optional(shop.Practice.Pressure)
		scale, hasScale := s.instrumentAt(b, shop.Practice, device.Scale)
		_, hasGauge := s.instrumentAt(b, shop.Practice, device.Pot)
		standIn := hasScale && standsIn(scale)
		out.Scale, out.Gauge, out.StandIn = optional(hasScale), optional(hasGauge), optional(standIn)
	}
	for _, m := range st.Moulds {
		shown := SessionMould{
			Number:   m.Number,
			Cavities: m.Cavities,
			Pot:      optional(m.Pot),
			Out:      optional(m.Out),
			Poured:   digits(m.Poured, 6),
			Filled:   m.Filled > 0,
			Flaw:     optional(m.Flaw),
			Results:  []CavityResult{},
		}
		if id, err := uuid.Parse(m.ID); err == nil {
			shown.Id = &id
		}
		for _, r := range m.Results {
			shown.Results = append(shown.Results, CavityResult{Cavity: r.Cavity + 1, Good: r.Good, Defect: optional(r.Defect)})
		}
		out.Moulds = append(out.Moulds, shown)
	}
	for i := range st.Cups {
		out.Cups = append(out.Cups, fromCup(st, i))
	}
	for _, e := range st.Records {
		rec := SessionRecord{At: e.At, Says: e.Says, Who: optional(e.Who)}
		if e.Figure != nil {
			n := l.number(*e.Figure)
			rec.Figure = &n
		}
		out.Records = append(out.Records, rec)
	}
	if b.Lesson != "" {
		if lesson, err := session.LessonOf(b.Lesson); err == nil {
			if slip, ok := lesson.Slipped(st); ok {
				out.Slip = &slip.Says
			}
		}
		if st.Over {
			marks := []LessonMark{}
			for _, m := range st.Marked() {
				marks = append(marks, LessonMark{Name: m.Name, Got: m.Got, Says: m.Says})
			}
			out.Marks = &marks
		}
	}
	out.Numbers = l.rows
	return out
}

func fromCup(st session.State, i int) SessionCup {
	name, parts := st.CupName(i)
	out := SessionCup{Name: name, Gone: st.Cups[i].Gone, Now: optional(!st.Over && st.Mix() == i)}
	for k, p := range parts {
		part := struct {
			ByHand  *bool    `json:"byHand,omitempty"`
			Drops   *bool    `json:"drops,omitempty"`
			Name    string   `json:"name"`
			Weighed *float64 `json:"weighed,omitempty"`
		}{Name: p.Name, Drops: optional(p.Drops)}
		if w := st.Cups[i].Weighed[k]; !math.IsNaN(w) {
			w = digits(w, 7)
			part.Weighed, part.ByHand = &w, &st.Cups[i].Hands[k]
		}
		out.Parts = append(out.Parts, part)
	}
	if off, ok := st.Sure(i); ok && !math.IsInf(off, 1) {
		off = digits(100*off, 3)
		out.Unsure = &off
		fills, over := st.Order(i)
		order := []CupFill{}
		for _, f := range fills {
			order = append(order, CupFill{Mould: st.Moulds[f.Mould].Number, Grams: digits(f.Grams, 6)})
		}
		out.Order = &order
		over = digits(over, 6)
		out.Over = &over
	}
	return out
}

// over writes down what a session has made that is over.
func (s *Server) over(ctx context.Context, b store.Session) (store.Session, error) {
	now := s.now()
	st := b.At(now)
	var pulls []store.Pull
	var moulds []store.Mould
	if b.Lesson == "" {
		pulls, moulds = s.made(ctx, b, st)
	}
	err := s.store.EndSession(ctx, b, now, pulls, moulds)
	if errors.Is(err, store.ErrTaken) { // somebody has given the number to another meanwhile
		for i := range moulds {
			moulds[i].Number += " (" + now.Format("2 Jan 15:04") + ")"
		}
		err = s.store.EndSession(ctx, b, now, pulls, moulds)
	}
	if err != nil {
		return b, err
	}
	return s.store.Session(ctx, b.ID)
}

// made is what a session writes into the log and onto the rack. Its IDs follow
// from the session's, so that nothing is written twice.
func (s *Server) made(ctx context.Context, b store.Session, st session.State) (pulls []store.Pull, moulds []store.Mould) {
	for i, m := range st.Moulds {
		id := uuid.NewSHA1(b.ID, fmt.Appendf(nil, "mould %d", i))
		switch {
		case session.Kind(b.Kind) == session.Rubber:
			if !m.Born || b.JobID == nil {
				continue
			}
			made := store.Mould{
				ID:       id,
				JobID:    *b.JobID,
				Number:   m.Number,
				Rubber:   b.Plan.Material,
				Poured:   day(m.Filled),
				Cavities: m.Cavities,
			}
			if j, err := s.store.Job(ctx, *b.JobID); err == nil && j.Design != nil {
				if kind, err := (bench.Question{Design: *j.Design, Brief: j.Brief}).KindOf(); err == nil {
					made.Kind = string(kind.Key)
				}
			}
			moulds = append(moulds, made)
		case len(m.Results) > 0:
			of, err := uuid.Parse(m.ID)
			if err != nil {
				continue
			}
			p := store.Pull{ID: id, MouldID: of, Pulled: day(st.Now), Notes: st.Note(),
				Conditions: store.Conditions{Celsius: &st.Celsius, Humidity: positive(b.Plan.Humid), Pressure: positive(m.Pressed),
					Who: st.By(), Lot: b.Plan.Lot}}
			if a, hard, ok := st.Share(i); ok {
				p.MassA = weighedOf(a)
				p.MassB = weighedOf(hard)
			}
			for _, r := range m.Results {
				p.Results = append(p.Results, store.Result{Cavity: r.Cavity + 1, Good: r.Good, Defect: r.Defect})
			}
			pulls = append(pulls, p)
		}
	}
	return pulls, moulds
}

func positive(v float64) *float64 {
	if v <= 0 {
		return nil
	}
	return &v
}

func weighedOf(g float64) *float64 {
	if g <= 0 {
		return nil
	}
	g = math.Round(g*100) / 100
	return &g
}

// day is the day of a moment, as it is in the shop.
func day(seconds float64) time.Time {
	t := store.Moment(seconds).Local()
	return time.Date(t.Year(), t.Month(), t.Day(), 0, 0, 0, 0, time.UTC)
}
