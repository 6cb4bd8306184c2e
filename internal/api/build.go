package api

import (
	"context"
	"errors"
	"net/http"
	"slices"
	"time"

	"bathyform/core/box"
	"bathyform/core/build"
	"bathyform/core/derive"
	"bathyform/core/drawing"
	"bathyform/core/finding"
	"bathyform/core/hours"
	"bathyform/core/kind"
	"bathyform/core/outline"
	"bathyform/core/pieces"
	"bathyform/core/practice"
	"bathyform/core/study"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// toBuild takes what a mould is built from: the kept design, the materials,
// and the kind that is asked for, chosen in the design or in the brief.
func (s *Server) toBuild(ctx context.Context, id uuid.UUID, k *BuiltKind) (store.Job, *study.Prepared, study.BuildQuestion, error) {
	var q study.BuildQuestion
	j, p, piece, house, err := s.asDesigned(ctx, id)
	if err != nil {
		return j, p, q, err
	}
	q = study.BuildQuestion{Design: piece.Design, Wanted: piece.Wanted, Quality: j.Brief.Quality, House: house}
	if j.Design != nil {
		if q.Given, err = s.materials(ctx, Design{Rubber: j.Design.Rubber, Resin: j.Design.Resin}); err != nil {
			return j, p, q, err
		}
	}
	q.Given.Inserts = j.Brief.Inserts
	switch {
	case k != nil:
		q.Kind = kind.Kind(*k)
	case q.Design.Kind == "" && slices.Contains(build.Kinds, j.Brief.Kind):
		q.Kind = j.Brief.Kind
	}
	return j, p, q, nil
}

// VisitSearchBuildResponse streams the answer.
func (st stream) VisitSearchBuildResponse(w http.ResponseWriter) error { return st.run(w) }

// SearchBuild works the kept design out down to the bench.
func (s *Server) SearchBuild(ctx context.Context, r SearchBuildRequestObject) (SearchBuildResponseObject, error) {
	_, p, q, err := s.toBuild(ctx, r.JobId, r.Params.Kind)
	if err != nil {
		return nil, err
	}
	return stream{ctx, func(ctx context.Context, tell func(any)) error {
		b, err := p.Build(ctx, q, func(stage string) { tell(BuildSearch{Stage: stage}) })
		if err != nil {
			return buildProblem(err)
		}
		out, err := fromBuild(b, q, time.Now())
		if err != nil {
			return buildProblem(err)
		}
		tell(BuildSearch{Stage: "done", Finished: true, Build: &out})
		return nil
	}}, nil
}

func buildProblem(err error) error {
	if errors.Is(err, study.ErrNoShape) {
		return problem(http.StatusConflict, "The shape is not known", "A mould is built from a mesh; this master is known by its measures.")
	}
	return unusable("The mould cannot be built", err)
}

// VisitSearchKindsResponse streams the answer.
func (st stream) VisitSearchKindsResponse(w http.ResponseWriter) error { return st.run(w) }

// SearchKinds builds the kept design as every kind.
func (s *Server) SearchKinds(ctx context.Context, r SearchKindsRequestObject) (SearchKindsResponseObject, error) {
	_, p, q, err := s.toBuild(ctx, r.JobId, nil)
	if err != nil {
		return nil, err
	}
	now := time.Now()
	return stream{ctx, func(ctx context.Context, tell func(any)) error {
		err := p.CompareKinds(ctx, q, build.Kinds, func(stage string, row *study.KindRow) {
			out := KindSearch{Stage: stage}
			if row != nil {
				r := fromKindRow(*row, q, now)
				out.Row = &r
			}
			tell(out)
		})
		if err != nil {
			return buildProblem(err)
		}
		tell(KindSearch{Stage: "done", Finished: true})
		return nil
	}}, nil
}

func fromKindRow(row study.KindRow, q study.BuildQuestion, now time.Time) KindRow {
	out := KindRow{Kind: BuiltKind(row.Kind), Name: build.NameOf(row.Kind), Error: row.Err}
	b := row.Built
	if b == nil {
		return out
	}
	for _, f := range b.Findings {
		if f.Severity == finding.Stop {
			if out.Stops == 0 {
				out.Why = f.What
			}
			out.Stops++
		}
	}
	number := func(n Number) *Number { return &n }
	out.Rubber, out.Hands, out.Waits = number(fromNumber(b.Rubber)), number(fromNumber(b.Hands)), number(fromNumber(b.Waits))
	out.Finish, out.Moulds, out.Effort = number(fromNumber(b.Finish)), number(fromNumber(b.Moulds)), number(fromNumber(b.Effort))
	n := len(b.Plan.Pieces)
	if len(b.Pours) == 1 {
		n = 1
	}
	out.Pieces = &n
	if slots, start, err := scheduled(b.Build, q.House, now); err == nil && len(slots) > 0 {
		t := moment(start, slots[len(slots)-1].To)
		out.FirstPull = &t
	}
	return out
}

// VisitSearchPartingsResponse streams the answer.
func (st stream) VisitSearchPartingsResponse(w http.ResponseWriter) error { return st.run(w) }

// SearchPartings compares the parting along the edges of walls.
func (s *Server) SearchPartings(ctx context.Context, r SearchPartingsRequestObject) (SearchPartingsResponseObject, error) {
	_, p, q, err := s.toBuild(ctx, r.JobId, nil)
	if err != nil {
		return nil, err
	}
	return stream{ctx, func(ctx context.Context, tell func(any)) error {
		err := p.ComparePartings(ctx, q, func(stage string, row *study.PartingRow) {
			out := PartingSearch{Stage: stage}
			if row != nil {
				f := study.Parting(row.Plan)
				out.Row = &PartingRow{Seam: PartingRowSeam(fromSeam(row.Seam)), Name: seamNames[row.Seam], Level: row.Plan.Level,
					Line: fromNumber(f.Line), Off: fromNumber(f.Off), Open: fromNumber(f.Open), Steep: fromNumber(f.Steep), Finish: fromNumber(row.Finish)}
			}
			tell(out)
		})
		if err != nil {
			return buildProblem(err)
		}
		tell(PartingSearch{Stage: "done", Finished: true})
		return nil
	}}, nil
}

var seamNames = map[pieces.Seam]string{pieces.Flattest: "flattest", pieces.TopEdge: "upper edges", pieces.LowEdge: "lower edges"}

// scheduled lays a build into the shop's hours from now on. Slots count from
// the midnight before.
func scheduled(b build.Build, h practice.House, now time.Time) ([]hours.Slot, time.Time, error) {
	shop := hours.Shop{Open: h.Opens * 60, Close: h.Closes * 60, Days: [7]bool{true, true, true, true, true, h.Weekends, h.Weekends}}
	midnight := time.Date(now.Year(), now.Month(), now.Day(), 0, 0, 0, 0, now.Location())
	slots, err := b.Schedule(shop, now.Sub(midnight).Minutes(), (int(now.Weekday())+6)%7)
	return slots, midnight, err
}

func moment(midnight time.Time, minutes float64) time.Time {
	return midnight.Add(time.Duration(minutes * float64(time.Minute))).Round(time.Minute)
}

func fromBuild(b study.Built, q study.BuildQuestion, now time.Time) (Build, error) {
	out := Build{Kind: BuiltKind(b.Kind), Name: b.Name, Cavities: b.Cavities, Rubber: fromNumber(b.Rubber), Hands: fromNumber(b.Hands), Waits: fromNumber(b.Waits),
		Finish: fromNumber(b.Finish), Moulds: fromNumber(b.Moulds), Effort: fromNumber(b.Effort), Across: b.Across, Tall: b.Tall, Pieces: len(b.Plan.Pieces),
		Pours: []BuildPour{}, Steps: []BuildStep{}, Attitudes: []Drawing{}, Extras: []Named{}, Findings: []Finding{}, Cautions: study.RubberCautions,
		Keys: fromKeys(b.Plan), KeysShort: b.Plan.Keys.Short, Plan: fromPicture(b.Lay)}
	for _, n := range []struct {
		from *derive.Number
		to   **Number
	}{{b.Clay, &out.Clay}, {b.ClayMass, &out.ClayMass}, {b.Weight, &out.Weight}, {b.Tilt, &out.Tilt}} {
		if n.from != nil {
			v := fromNumber(*n.from)
			*n.to = &v
		}
	}
	for _, p := range b.Pours {
		pour := BuildPour{Name: p.Name, Up: Axis(p.Up), Volume: fromNumber(p.Volume), Mixed: fromNumber(p.Mixed), Mixes: fromNumber(p.Mixes), Bed: p.Bed, Level: p.Level, Spot: p.Spot}
		if p.Batch != nil {
			batch := fromBatch(*p.Batch)
			pour.Batch = &batch
		}
		out.Pours = append(out.Pours, pour)
	}
	slots, midnight, err := scheduled(b.Build, q.House, now)
	if err != nil {
		return out, err
	}
	for i, st := range b.Steps {
		out.Steps = append(out.Steps, BuildStep{Do: st.Do, Why: st.Why, Caution: st.Caution, Minutes: st.Minutes, Wait: st.Wait, Pour: st.Pour,
			From: moment(midnight, slots[i].From), To: moment(midnight, slots[i].To)})
		out.FirstPull = moment(midnight, slots[i].To)
	}
	for _, d := range b.Attitudes {
		out.Attitudes = append(out.Attitudes, fromPicture(d))
	}
	for _, e := range b.Extras {
		out.Extras = append(out.Extras, Named{Name: e.Name, Number: fromNumber(e.Number)})
	}
	for _, f := range b.Findings {
		out.Findings = append(out.Findings, fromFinding(f))
	}
	for _, sh := range sheetsOf(b) {
		out.Sheets = append(out.Sheets, struct {
			Label string `json:"label"`
			Sheet string `json:"sheet"`
		}{sh[1], sh[0]})
	}
	for _, body := range bodiesOf(b) {
		out.Bodies = append(out.Bodies, struct {
			Body  string `json:"body"`
			Label string `json:"label"`
		}{body[0], body[1]})
	}
	return out, nil
}

// sheetsOf are the templates that a build wants: address and name.
func sheetsOf(b study.Built) [][2]string {
	var out [][2]string
	if b.Kind != kind.Shell {
		switch b.Box.Form {
		case box.Rectangle:
			out = append(out, [2]string{"boards", "Boards, butted"}, [2]string{"jointed", "Boards, finger-jointed"}, [2]string{"folded", "Box from one sheet"})
		case box.Own:
			out = append(out, [2]string{"blanking", "Blanking end"})
		default:
			out = append(out, [2]string{"bent", "Wall, bent from a strip"})
		}
	}
	switch b.Kind {
	case kind.Board, kind.Clay, kind.Pieces:
		out = append(out, [2]string{"parting-board", "Parting board"}, [2]string{"plates", "Clamping plates"})
	case kind.Squeeze:
		out = append(out, [2]string{"parting-board", "Parting board"}, [2]string{"plates", "Squeeze plates"})
	case kind.Cut:
		out = append(out, [2]string{"wrap", "Cut guide to wrap round"})
	case kind.Tape:
		out = append(out, [2]string{"wrap", "Cut guide to wrap round"}, [2]string{"fins", "Tape fins"})
	case kind.Shell:
		out = append(out, [2]string{"flange", "Shell flange"})
	}
	if b.Cavities > 1 {
		out = append(out, [2]string{"gang", "Plan of the gang"})
	}
	return out
}

// bodiesOf are what can be printed for a build.
func bodiesOf(b study.Built) [][2]string {
	var out [][2]string
	if b.Kind == kind.Shell {
		return [][2]string{{"blanket", "Blanket"}, {"core", "What the shell is built over"}}
	}
	out = append(out, [2]string{"box", "Box"})
	if len(b.Plan.Keys.Keys) > 0 {
		out = append(out, [2]string{"keys", "Keys"})
	}
	return out
}

func fromKeys(p pieces.Plan) []PlacedKey {
	out := []PlacedKey{}
	for _, k := range p.Keys.Keys {
		out = append(out, PlacedKey{Kind: string(k.Kind), X: k.X, Y: k.Y, Radius: k.Radius, Odd: k.Odd})
	}
	return out
}

func fromPicture(d drawing.Drawing) Drawing {
	out := Drawing{Name: d.Name, Arrow: d.Arrow, Wide: d.High[0] - d.Low[0], Tall: d.High[1] - d.Low[1], Areas: []DrawnPath{}, Lines: []DrawnPath{}}
	out.Words = make([]struct {
		Words string  `json:"words"`
		X     float64 `json:"x"`
		Y     float64 `json:"y"`
	}, len(d.Words))
	for _, a := range d.Areas {
		out.Areas = append(out.Areas, DrawnPath{Tone: string(a.Tone), Path: d.Path(a.Rings, true)})
	}
	for _, l := range d.Lines {
		out.Lines = append(out.Lines, DrawnPath{Tone: string(l.Tone), Path: d.Path([][]outline.Point{l.Points}, l.Closed)})
	}
	for i, w := range d.Words {
		out.Words[i].X, out.Words[i].Y, out.Words[i].Words = w.At[0]-d.Low[0], d.High[1]-w.At[1], w.Words
	}
	return out
}
