package api

import (
	"context"
	"errors"
	"fmt"
	"math"
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
