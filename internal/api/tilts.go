package api

import (
	"context"
	"net/http"

	"bathyform/core/bench"
)

// VisitSearchTiltsResponse streams the answer.
func (st stream) VisitSearchTiltsResponse(w http.ResponseWriter) error { return st.run(w) }

// SearchTilts stands the mould of the kept design out of level by more and more.
func (s *Server) SearchTilts(ctx context.Context, r SearchTiltsRequestObject) (SearchTiltsResponseObject, error) {
	o, q, err := s.asked(ctx, r.JobId, nil)
	if err != nil {
		return nil, err
	}
	return s.stream(ctx, "tilts "+r.JobId.String()+o.rubberKey(q), func(ctx context.Context, tell func(any)) error {
		if err := o.master.CompareTilts(ctx, q, func(c bench.TiltCase) {
			l := newLedger()
			row := TiltRow{Vents: append([]Vent{}, c.Vents...), First: l.number(c.First)}
			if c.Tilt != nil {
				row.Tilt = &Tilt{Degrees: c.Tilt.Degrees, High: point(c.Tilt.High.Vec())}
			}
			row.Numbers = l.rows
			tell(TiltSearch{Stage: "tilting it", Row: &row})
		}); err != nil {
			return unusable("The tilts cannot be compared", err)
		}
		tell(TiltSearch{Stage: "done", Finished: true})
		return nil
	}), nil
}
