package api

import (
	"context"
	"math"

	"bathyform/core/session"
	"bathyform/internal/device"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

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
			shown.Results = append(shown.Results, CavityResult{Cavity: r.Cavity + 1, Good: r.Good, Second: optional(r.Second),
				Defect: optional(r.Defect)})
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
