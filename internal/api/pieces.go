package api

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"net/http"
	"strings"

	"bathyform/core/gang"
	"bathyform/core/mesh"
	"bathyform/core/pieces"
	"bathyform/core/practice"
	"bathyform/core/study"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// asDesigned takes a master with a mesh in hand together with its design, as
// kept or as it would be proposed.
func (s *Server) asDesigned(ctx context.Context, id uuid.UUID) (store.Job, *study.Prepared, study.PieceQuestion, practice.House, error) {
	var q study.PieceQuestion
	j, p, err := s.shapeOf(ctx, id)
	if err != nil {
		return j, nil, q, practice.House{}, err
	}
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return j, nil, q, practice.House{}, err
	}
	q.Wanted = max(0, j.Order.Quantity-j.Good)
	if j.Design == nil {
		q.Design, err = p.Start(shop.Practice)
		return j, p, q, shop.Practice, err
	}
	q.Design = j.Design.Design
	given, err := s.materials(ctx, Design{Rubber: j.Design.Rubber})
	q.Rubber = given.Rubber
	return j, p, q, shop.Practice, err
}

// VisitDividePiecesResponse streams the answer.
func (st stream) VisitDividePiecesResponse(w http.ResponseWriter) error { return st.run(w) }

// DividePieces divides the rubber of the kept design.
func (s *Server) DividePieces(ctx context.Context, r DividePiecesRequestObject) (DividePiecesResponseObject, error) {
	j, p, q, _, err := s.asDesigned(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	q.HalvesOnly = r.Params.HalvesOnly != nil && *r.Params.HalvesOnly
	return stream{ctx, func(ctx context.Context, tell func(any)) error {
		plan, err := p.Pieces(ctx, q, func(stage string) { tell(PieceSearch{Stage: stage}) })
		if err != nil {
			return unusable("The mould cannot be divided", err)
		}
		m, err := fromPieces(plan, q)
		if err != nil {
			return unusable("The rubber cannot be worked out", err)
		}
		places, err := p.Carried(q.Design)
		if err != nil {
			return unusable("The mould cannot be divided", err)
		}
		for _, place := range places {
			m.Places = append(m.Places, place[:])
		}
		m.Key = fmt.Sprintf("%s-%d-%v", shapeKey(j), j.DesignVersion, q.HalvesOnly)
		tell(PieceSearch{Stage: "done", Finished: true, Mould: &m})
		return nil
	}}, nil
}

func fromPieces(plan pieces.Plan, q study.PieceQuestion) (PiecedMould, error) {
	f := study.Parting(plan)
	out := PiecedMould{Level: plan.Level, Off: fromNumber(f.Off), Steep: fromNumber(f.Steep), Line: fromNumber(f.Line), Open: fromNumber(f.Open), Error: plan.Error(), Pieces: []Piece{}, Findings: []Finding{},
		Keys: fromKeys(plan), KeysShort: plan.Keys.Short, Undercuts: []LockedSpace{}, Places: [][]float64{}}
	out.Low, out.High = bounds(plan)
	for _, u := range plan.Locked {
		out.Undercuts = append(out.Undercuts, LockedSpace{At: point(u.At), Volume: u.Volume / 1000, Answer: string(u.Answer), Freed: u.Freed, Decided: u.Decided})
	}
	batches, err := study.Batches(plan, q)
	if err != nil {
		return out, err
	}
	for i, piece := range plan.Pieces {
		p := Piece{Name: piece.Name, Draw: point(piece.Draw), Order: piece.Order, Volume: fromNumber(batches[i].Volume), Catches: piece.Catches / 1000, Stripped: piece.Stripped / 1000}
		if batches[i].Batch != nil {
			b := fromBatch(*batches[i].Batch)
			p.Batch = &b
		}
		out.Pieces = append(out.Pieces, p)
	}
	for _, f := range study.PieceFindings(plan, q) {
		out.Findings = append(out.Findings, fromFinding(f))
	}
	return out, nil
}

// bounds is the box of a mould in mesh coordinates.
func bounds(plan pieces.Plan) (low, high Point) {
	a, b := plan.Frame.Out(plan.Box.Min), plan.Frame.Out(plan.Box.Max)
	return Point{min(a.X, b.X), min(a.Y, b.Y), min(a.Z, b.Z)}, Point{max(a.X, b.X), max(a.Y, b.Y), max(a.Z, b.Z)}
}

// GetPiece returns one piece of the mould that was divided last.
func (s *Server) GetPiece(ctx context.Context, r GetPieceRequestObject) (GetPieceResponseObject, error) {
	j, p, q, _, err := s.asDesigned(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	q.HalvesOnly = r.Params.HalvesOnly != nil && *r.Params.HalvesOnly
	plan, err := p.Pieces(ctx, q, nil) // at hand, unless the server was started since
	if err != nil {
		return nil, unusable("The mould cannot be divided", err)
	}
	if r.Piece >= len(plan.Pieces) {
		return nil, problem(http.StatusNotFound, "There is no such piece", "The design was changed: divide the mould again.")
	}
	piece := plan.Pieces[r.Piece]
	data := packMesh(piece.Mesh)
	name := "inline"
	if r.Form == "stl" {
		data = piece.Mesh.WriteSTL()
		name = fmt.Sprintf(`attachment; filename="%s.stl"`, fileName(j.Order.Name+" "+piece.Name))
	}
	return GetPiece200ApplicationoctetStreamResponse{Body: bytes.NewReader(data), ContentLength: int64(len(data)), Headers: GetPiece200ResponseHeaders{ContentDisposition: &name}}, nil
}

// GetPiecesFile packs all pieces into one file.
func (s *Server) GetPiecesFile(ctx context.Context, r GetPiecesFileRequestObject) (GetPiecesFileResponseObject, error) {
	j, p, q, _, err := s.asDesigned(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	q.HalvesOnly = r.Params.HalvesOnly != nil && *r.Params.HalvesOnly
	plan, err := p.Pieces(ctx, q, nil)
	if err != nil {
		return nil, unusable("The mould cannot be divided", err)
	}
	var all []mesh.Named
	for _, piece := range plan.Pieces {
		all = append(all, mesh.Named{Name: piece.Name, Mesh: piece.Mesh})
	}
	data, err := mesh.Write3MF(all)
	if err != nil {
		return nil, err
	}
	name := fmt.Sprintf(`attachment; filename="%s.3mf"`, fileName(j.Order.Name+" mould"))
	return GetPiecesFile200ApplicationoctetStreamResponse{Body: bytes.NewReader(data), ContentLength: int64(len(data)), Headers: GetPiecesFile200ResponseHeaders{ContentDisposition: &name}}, nil
}

// fileName keeps letters and figures of a name.
func fileName(name string) string {
	return strings.Trim(strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z', r >= '0' && r <= '9':
			return r
		case r >= 'A' && r <= 'Z':
			return r + 'a' - 'A'
		}
		return '-'
	}, name), "-")
}

// LayGang lays several cavities.
func (s *Server) LayGang(ctx context.Context, r LayGangRequestObject) (LayGangResponseObject, error) {
	_, p, q, _, err := s.asDesigned(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	g, err := p.Lay(q.Design, toAsk(*r.Body))
	if err != nil {
		return nil, gangProblem(err)
	}
	return LayGang200JSONResponse(fromGang(g)), nil
}

// PlaceGang measures cavities that were moved by hand.
func (s *Server) PlaceGang(ctx context.Context, r PlaceGangRequestObject) (PlaceGangResponseObject, error) {
	_, p, q, _, err := s.asDesigned(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	g, err := p.Place(q.Design, toPoses(r.Body.Poses), r.Body.Gap, r.Body.Edge)
	var over gang.OverlapError
	if err != nil && !errors.As(err, &over) {
		return nil, gangProblem(err)
	}
	out := fromGang(g)
	if err != nil {
		out.Overlap = optional(sentence(err.Error()))
	}
	return PlaceGang200JSONResponse(out), nil
}

func toPoses(all []Point) []gang.Pose {
	var out []gang.Pose
	for _, p := range all {
		v := vec(p)
		out = append(out, gang.Pose{X: v.X, Y: v.Y, Turn: v.Z})
	}
	return out
}

func fromGang(g study.Gang) Gang {
	out := Gang{Kind: g.Kind, Short: g.Short, Poses: []Point{}, Ring: [][]float64{}, Wide: g.Wide, Deep: g.Deep, Diameter: g.Diameter, Rubber: fromNumber(g.Rubber), Each: fromNumber(g.Each)}
	for _, pose := range g.Poses {
		out.Poses = append(out.Poses, Point{pose.X, pose.Y, pose.Turn})
	}
	for _, c := range g.Shape.Ring {
		out.Ring = append(out.Ring, []float64{c[0], c[1]})
	}
	return out
}

// CompareGangs lays one, two, three and more cavities.
func (s *Server) CompareGangs(ctx context.Context, r CompareGangsRequestObject) (CompareGangsResponseObject, error) {
	j, p, q, house, err := s.asDesigned(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	ask := toAsk(*r.Body)
	if err := ask.Check(); err != nil {
		return nil, gangProblem(err)
	}
	var given study.Given
	if j.Design != nil {
		if given, err = s.materials(ctx, Design{Resin: j.Design.Resin}); err != nil {
			return nil, err
		}
	}
	all, err := p.CompareGangs(q.Design, ask.Gap, ask.Edge, q.Wanted, given.Resin, house)
	if err != nil {
		return nil, gangProblem(err)
	}
	out := CompareGangs200JSONResponse{}
	for _, c := range all {
		out = append(out, GangCase{Count: c.Count, Kind: c.Kind, Wide: c.Wide, Deep: c.Deep, Each: c.Each, Pulls: c.Pulls, FitsPot: c.FitsPot,
			Waste: c.Waste, Loads: c.Loads, Pour: fromNumber(c.Pour), InLife: c.InLife, Work: fromNumber(c.Work)})
	}
	return out, nil
}

func toAsk(q GangQuestion) gang.Ask {
	number := func(x *float64) float64 {
		if x == nil {
			return 0
		}
		return *x
	}
	out := gang.Ask{Pot: number(q.Pot), Wide: number(q.Wide), Deep: number(q.Deep), Gap: q.Gap, Edge: q.Edge}
	if q.Count != nil {
		out.Count = *q.Count
	}
	return out
}

func gangProblem(err error) error {
	if errors.Is(err, study.ErrNoShape) {
		return problem(http.StatusConflict, "The shape is not known", sentence(err.Error()))
	}
	return unusable("No gang can be laid", err)
}
