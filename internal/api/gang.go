package api

import (
	"context"
	"errors"

	"bathyform/core/bench"
	"bathyform/core/gang"
)

// LayGang lays several cavities.
func (s *Server) LayGang(ctx context.Context, r LayGangRequestObject) (LayGangResponseObject, error) {
	o, q, err := s.asked(ctx, r.JobId, nil)
	if err != nil {
		return nil, err
	}
	g, err := o.master.Gang(ctx, q, toAsk(*r.Body))
	if err != nil {
		return nil, unusable("No gang can be laid", err)
	}
	return LayGang200JSONResponse(fromGang(g)), nil
}

// PlaceGang measures cavities that were moved by hand.
func (s *Server) PlaceGang(ctx context.Context, r PlaceGangRequestObject) (PlaceGangResponseObject, error) {
	o, q, err := s.asked(ctx, r.JobId, nil)
	if err != nil {
		return nil, err
	}
	g, err := o.master.Place(ctx, q, toPoses(r.Body.Poses), r.Body.Gap, r.Body.Edge)
	var over gang.OverlapError
	if err != nil && !errors.As(err, &over) {
		return nil, unusable("No gang can be laid", err)
	}
	out := fromGang(g)
	if err != nil {
		out.Overlap = optional(sentence(err.Error()))
	}
	return PlaceGang200JSONResponse(out), nil
}

// CompareGangs lays one, two, three and more cavities.
func (s *Server) CompareGangs(ctx context.Context, r CompareGangsRequestObject) (CompareGangsResponseObject, error) {
	o, q, err := s.asked(ctx, r.JobId, nil)
	if err != nil {
		return nil, err
	}
	ask := toAsk(*r.Body)
	if err := ask.Check(); err != nil {
		return nil, unusable("No gang can be laid", err)
	}
	all, err := o.master.CompareGangs(ctx, q, ask.Gap, ask.Edge)
	if err != nil {
		return nil, unusable("No gang can be laid", err)
	}
	l := newLedger()
	out := GangCases{Cases: []GangCase{}}
	for _, c := range all {
		out.Cases = append(
			out.Cases,
			GangCase{Count: c.Count, Kind: c.Kind, Wide: c.Wide, Deep: c.Deep, Each: c.Each, Pulls: c.Pulls, FitsPot: c.FitsPot,
				Waste: c.Waste, Loads: c.Loads, Pour: l.number(c.Pour), InLife: c.InLife, Work: l.number(c.Work)},
		)
	}
	out.Numbers = l.rows
	return CompareGangs200JSONResponse(out), nil
}

func toPoses(all []Point) []gang.Pose {
	var out []gang.Pose
	for _, p := range all {
		v := vec(p)
		out = append(out, gang.Pose{X: v.X, Y: v.Y, Turn: v.Z})
	}
	return out
}

func fromGang(g bench.Gang) Gang {
	l := newLedger()
	out := Gang{
		Kind:     g.Kind,
		Short:    g.Short,
		Poses:    []Point{},
		Ring:     [][]float64{},
		Ways:     []GangWay{},
		Wide:     g.Wide,
		Deep:     g.Deep,
		Diameter: g.Diameter,
		Rubber:   l.number(g.Rubber),
		Each:     l.number(g.Each),
	}
	for _, pose := range g.Poses {
		out.Poses = append(out.Poses, Point{pose.X, pose.Y, pose.Turn})
	}
	out.Low, out.High = []float64{g.In.Low[0], g.In.Low[1]}, []float64{g.In.High[0], g.In.High[1]}
	for _, w := range g.In.Ways {
		way := GangWay{Name: w.Name, Outlines: [][]float64{}}
		for _, edge := range w.Edges() {
			var ring []float64
			for _, p := range edge {
				ring = append(ring, p[0], p[1])
			}
			way.Outlines = append(way.Outlines, ring)
		}
		out.Ways = append(out.Ways, way)
	}
	for _, c := range g.Shape.Ring {
		out.Ring = append(out.Ring, []float64{c[0], c[1]})
	}
	out.Numbers = l.rows
	return out
}

func toAsk(q GangQuestion) gang.Ask {
	return gang.Ask{Pot: given(q.Pot), Wide: given(q.Wide), Deep: given(q.Deep), Gap: q.Gap, Edge: q.Edge, Count: given(q.Count)}
}
