package api

import (
	"context"
	"strings"

	"bathyform/core/pattern"
	"bathyform/core/watch"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// How far the log is looked at.
const (
	mostNewMoulds = 12  // that are tried beside those on the rack
	suspectFor    = 10  // pulls after an alarm
	leastCurve    = 5   // moulds of which a survival curve is shown: fewer say nothing
	storyPulls    = 200 // of a mould that its story tells
)

// GetTaught tells what a job's log teaches.
func (s *Server) GetTaught(ctx context.Context, r GetTaughtRequestObject) (GetTaughtResponseObject, error) {
	j, err := s.store.Job(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	castings, err := s.store.CastingsOfJob(ctx, j.ID)
	if err != nil {
		return nil, err
	}
	moulds, err := s.store.MouldsOf(ctx, j.ID)
	if err != nil {
		return nil, err
	}
	l := newLedger()
	out := Taught{Wanted: max(0, j.Order.Quantity-j.Good), Causes: []Cause{}, Alarms: []CavityAlarm{}}
	var all []pattern.Casting
	for _, c := range castings {
		if c.Good {
			out.Good++
		} else {
			out.Bad++
		}
		all = append(all, patternOf(c))
	}
	for _, c := range pattern.Causes(all) {
		t := c.Table
		var mould *uuid.UUID
		number, _, _ := strings.Cut(c.Of, ", cavity")
		for i, m := range moulds {
			if m.Number == number && (c.Kind == pattern.Age || c.Kind == pattern.Mould || c.Kind == pattern.Cavity) {
				mould = &moulds[i].ID
			}
		}
		out.Causes = append(
			out.Causes,
			Cause{Kind: CauseKind(c.Kind), Of: c.Of, MouldId: mould, Says: c.Says, Suggest: c.Suggest, Chance: digits(c.Chance, 2),
				Tried: c.Tried, Bad: t.Bad, Castings: t.Bad + t.Good, ElsewhereBad: t.OtherBad, Elsewhere: t.OtherBad + t.OtherGood},
		)
	}
	for _, m := range moulds {
		if m.Retired != nil {
			continue
		}
		for i, w := range chartsOf(m, castings) {
			if n := len(w.Alarms); alarmed(w) {
				out.Alarms = append(
					out.Alarms,
					CavityAlarm{Mould: m.Number, MouldId: &m.ID, Cavity: i + 1, Pulls: w.Pulls - w.Alarms[n-1]},
				)
			}
		}
	}
	if err := s.shown(ctx, l, j, castings, &out); err != nil {
		return nil, err
	}
	if out.Wanted > 0 {
		if out.Finishing, err = s.finishingOf(ctx, l, j, out.Wanted); err != nil {
			return nil, err
		}
		if out.Enough, err = s.enough(ctx, l, j, moulds, out.Good, out.Bad); err != nil {
			return nil, err
		}
	}
	out.Numbers = l.rows
	return GetTaught200JSONResponse(out), nil
}

func patternOf(c store.Casting) pattern.Casting {
	out := pattern.Casting{Mould: c.Number, Cavity: c.Cavity, Age: c.Age, Run: c.Pulled.Format("2 January 2006"), Lot: c.Under.Lot,
		Celsius: given(c.Under.Celsius), Humid: given(c.Under.Humidity)}
	if !c.Good {
		out.Defect = c.Defect
		if out.Defect == "" {
			out.Defect = "scrap"
		}
	}
	return out
}

// chartsOf are the charts of a mould's cavities.
func chartsOf(m store.Mould, castings []store.Casting) (out []watch.Watched) {
	chart := watch.For(m.Cavities)
	for _, b := range badOf(m, castings) {
		out = append(out, chart.Run(b))
	}
	return out
}

// badOf is which castings of each of a mould's cavities were no good ones.
func badOf(m store.Mould, castings []store.Casting) [][]bool {
	bad := make([][]bool, m.Cavities)
	for _, c := range castings {
		if c.MouldID == m.ID && c.Cavity <= m.Cavities {
			bad[c.Cavity-1] = append(bad[c.Cavity-1], !c.Good)
		}
	}
	return bad
}
