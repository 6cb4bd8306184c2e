package api

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"bathyform/core/derive"
	"bathyform/core/learnt"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// mostReckoned is how many jobs' designs are worked out to hold their finishing against.
const mostReckoned = 6

// GetFinishing tells how long finishing takes by the log, and by how much longer or shorter
// that is than what is reckoned for the design of each job.
func (s *Server) GetFinishing(ctx context.Context, _ GetFinishingRequestObject) (GetFinishingResponseObject, error) {
	all, err := s.store.Finishing(ctx, nil)
	if err != nil {
		return nil, err
	}
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	t := school{ledger: newLedger(), house: shop.Practice}
	lesson, err := t.finishing(all, func(job uuid.UUID) (float64, error) { return s.reckoned(ctx, job) })
	if err != nil {
		return nil, err
	}
	return GetFinishing200JSONResponse{Lesson: lesson, Numbers: t.rows}, nil
}

// reckoned is how many minutes finishing a casting of a job takes by the rates alone; 0
// where its mould cannot be worked out.
func (s *Server) reckoned(ctx context.Context, job uuid.UUID) (float64, error) {
	o, q, err := s.asked(ctx, job, nil)
	if err != nil {
		return 0, ctx.Err()
	}
	q.House.FinishPace = practice.Usual().FinishPace
	b, err := o.master.Build(ctx, q, func(string) {})
	if err != nil {
		return 0, ctx.Err()
	}
	return b.Finish.Value, nil
}

// finishing leans the jobs' minutes on one another, and what they are of the reckoned ones.
func (t school) finishing(all []store.Finished, reckoned func(job uuid.UUID) (float64, error)) (LearntLesson, error) {
	at := map[uuid.UUID]int{}
	var groups []learnt.Group
	var jobs []uuid.UUID
	for _, f := range all {
		i, ok := at[f.JobID]
		if !ok {
			i = len(groups)
			at[f.JobID] = i
			groups, jobs = append(groups, learnt.Group{Of: f.Job}), append(jobs, f.JobID)
		}
		groups[i].Values = append(groups[i].Values, f.Minutes)
	}
	out := t.lesson("finishing", "Minutes of finishing a casting", "min", "What was written down of a pull, by its castings, and what is "+
		"reckoned for the design. "+pooling, quantity.Number, learnt.Pool(groups))
	order := make([]int, len(groups)) // those that were measured most often are reckoned first
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(len(groups[b].Values), len(groups[a].Values)) })
	var paces []learnt.Group
	for _, i := range order[:min(mostReckoned, len(order))] {
		minutes, err := reckoned(jobs[i])
		if err != nil {
			return out, err
		}
		if minutes <= 0 {
			continue
		}
		pace := learnt.Group{Of: groups[i].Of}
		for _, v := range groups[i].Values {
			pace.Values = append(pace.Values, v/minutes)
		}
		paces = append(paces, pace)
		out.Rows[i].Says = optional(fmt.Sprintf("reckoned %.3g min", minutes))
	}
	for i := range out.Rows {
		out.Rows[i].JobId = &jobs[i]
	}
	if p := learnt.Pool(paces); p.N > 0 {
		out.House = instead("finishPace", t.house.FinishPace, practice.Usual().FinishPace, p.Mean, p.N,
			"times as long as reckoned takes finishing a casting")
	}
	return out, nil
}

// finishingOf is how long it takes to finish the castings that a job still wants, by its own
// log; nil where that says too little.
func (s *Server) finishingOf(ctx context.Context, l *ledger, j store.Job, wanted int) (*Number, error) {
	all, err := s.store.Finishing(ctx, &j.ID)
	if err != nil || len(all) < leastOffered {
		return nil, err
	}
	g := learnt.Group{}
	for _, f := range all {
		g.Values = append(g.Values, f.Minutes)
	}
	mean := digits(learnt.Pool([]learnt.Group{g}).Mean, 3)
	n := derive.Of(quantity.Time, digits(float64(wanted)*mean/60, 3), "castings still wanted × min a casting / 60",
		derive.From("castings still wanted", quantity.Number, float64(wanted), "the order, less the good ones in the log"),
		derive.From("min a casting", quantity.Number, mean, fmt.Sprintf("the mean of %d pulls of this job", len(all))))
	return l.some(&n), nil
}
