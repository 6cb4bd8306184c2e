package api

import (
	"context"
	"net/http"

	"bathyform/core/bench"
	"bathyform/core/design"
)

// VisitSearchFeedsResponse streams the answer.
func (st stream) VisitSearchFeedsResponse(w http.ResponseWriter) error { return st.run(w) }

// SearchFeeds feeds the cavities of the kept design in one way after another.
func (s *Server) SearchFeeds(ctx context.Context, r SearchFeedsRequestObject) (SearchFeedsResponseObject, error) {
	o, q, err := s.asked(ctx, r.JobId, nil)
	if err != nil {
		return nil, err
	}
	return s.stream(ctx, "feeds "+r.JobId.String()+o.rubberKey(q), func(ctx context.Context, tell func(any)) error {
		if err := o.master.CompareFeeds(ctx, q, func(c bench.FeedCase) {
			row := fromFeedCase(c)
			tell(FeedSearch{Stage: string(c.System), Row: &row})
		}); err != nil {
			return unusable("The ways to feed cannot be compared", err)
		}
		tell(FeedSearch{Stage: "done", Finished: true})
		return nil
	}), nil
}

func fromFeedCase(c bench.FeedCase) FeedRow {
	l := newLedger()
	out := FeedRow{System: design.Runners(c.System), FitsPot: c.FitsPot, Stops: c.Stops}
	if c.Why != "" {
		out.Why = &c.Why
	} else {
		channels, rubber, cut := l.number(c.Channels), l.number(c.Rubber), l.number(c.Cut)
		out.Channels, out.Rubber, out.Cut = &channels, &rubber, &cut
		out.Full, out.Spread = l.some(c.Full), l.some(c.Spread)
	}
	out.Numbers = l.rows
	return out
}
