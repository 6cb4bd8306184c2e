package api

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"time"

	"bathyform/core/bench"
	"bathyform/core/session"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// over writes down what a session has made that is over.
func (s *Server) over(ctx context.Context, b store.Session) (store.Session, error) {
	now := s.now()
	st := b.At(now)
	var left store.Made
	if b.Lesson == "" {
		left = s.made(ctx, b, st)
	}
	err := s.store.EndSession(ctx, b, now, left)
	if errors.Is(err, store.ErrTaken) { // somebody has given the number to another meanwhile
		for i := range left.Moulds {
			left.Moulds[i].Number += " (" + now.Format("2 Jan 15:04") + ")"
		}
		err = s.store.EndSession(ctx, b, now, left)
	}
	if err != nil {
		return b, err
	}
	return s.store.Session(ctx, b.ID)
}

// made is what a session leaves in the log, on the rack and in the stock. Its IDs
// follow from the session's, so that nothing is written twice.
func (s *Server) made(ctx context.Context, b store.Session, st session.State) (left store.Made) {
	for i, m := range st.Moulds {
		switch {
		case session.Kind(b.Kind) == session.Rubber:
			if m.Born && b.JobID != nil {
				left.Moulds = append(left.Moulds, s.poured(ctx, b, m, idFrom(b, "mould", i)))
			}
		case len(m.Results) > 0:
			if of, err := uuid.Parse(m.ID); err == nil {
				p := pulled(b, st, i)
				p.ID, p.MouldID = idFrom(b, "mould", i), of
				left.Pulls = append(left.Pulls, p)
			}
		}
	}
	for i, t := range st.Timed {
		if t.What == session.CameOut { // it stands with its pull
			continue
		}
		left.Measured = append(left.Measured, store.Measured{ID: idFrom(b, "timed", i), Day: day(st.Now), What: string(t.What),
			Material: b.Plan.Material, Value: digits(t.Minutes, 3), Celsius: &t.Celsius, Grams: positive(digits(t.Grams, 4)),
			Says: b.Plan.Job})
	}
	if a, hard := st.Drawn(); a+hard > 0 {
		shelf, err := s.store.Materials(ctx)
		at := slices.IndexFunc(shelf, func(m store.Material) bool { return m.Name == b.Plan.Material })
		if err == nil && at >= 0 {
			left.Moves = append(left.Moves, store.Move{ID: idFrom(b, "drawn", 0), MaterialID: shelf[at].ID, Lot: b.Plan.Lot,
				Day: day(st.Now), What: store.Drawn, GramsA: digits(a, 6), GramsB: digits(hard, 6), Says: b.Plan.Job})
		}
	}
	return left
}

// idFrom is the same for the same thing of a session.
func idFrom(b store.Session, what string, i int) uuid.UUID {
	return uuid.NewSHA1(b.ID, fmt.Appendf(nil, "%s %d", what, i))
}

// poured is a mould that a session made.
func (s *Server) poured(ctx context.Context, b store.Session, m session.Shown, id uuid.UUID) store.Mould {
	made := store.Mould{
		ID:       id,
		JobID:    *b.JobID,
		Number:   m.Number,
		Rubber:   b.Plan.Material,
		Poured:   day(m.Filled),
		Cavities: m.Cavities,
		Lot:      b.Plan.Lot,
		Birth:    &store.Flaws{},
	}
	if m.Flaw != "" {
		*made.Birth = append(*made.Birth, m.Flaw)
	}
	if j, err := s.store.Job(ctx, *b.JobID); err == nil && j.Design != nil {
		if kind, err := (bench.Question{Design: *j.Design, Brief: j.Brief}).KindOf(); err == nil {
			made.Kind = string(kind.Key)
		}
	}
	return made
}

// pulled is a pull that a session made.
func pulled(b store.Session, st session.State, i int) store.Pull {
	m := st.Moulds[i]
	p := store.Pull{Pulled: day(st.Now), Notes: st.Note(),
		Conditions: store.Conditions{Celsius: &st.Celsius, Humidity: positive(b.Plan.Humid), Pressure: positive(m.Pressed),
			Who: st.By(), Lot: b.Plan.Lot, Colour: st.Recipe()}}
	if m.Filled > 0 {
		p.Conditions.Poured = store.Moment(m.Filled).Local().Format("15:04")
	}
	if m.Looked > m.Filled && m.Filled > 0 {
		p.Conditions.Out = positive(math.Round((m.Looked - m.Filled) / 60))
	}
	if a, hard, ok := st.Share(i); ok {
		p.MassA, p.MassB = weighedOf(a), weighedOf(hard)
	}
	for _, r := range m.Results {
		p.Results = append(p.Results, store.Result{Cavity: r.Cavity + 1, Good: r.Good, Second: r.Second, Defect: r.Defect})
	}
	return p
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
