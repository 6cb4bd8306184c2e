package api

import (
	"bytes"
	"context"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"image/color"
	"image/png"
	"math"
	"net/http"
	"slices"

	"bathyform/core/attitude"
	"bathyform/core/draw"
	"bathyform/core/fill"
	"bathyform/core/inhibit"
	"bathyform/core/picture"
	"bathyform/core/study"
	"bathyform/core/suit"
	"bathyform/core/thick"
	"bathyform/internal/store"

	"github.com/google/uuid"
	"gonum.org/v1/gonum/spatial/r3"
)

// shapeOf takes a master with a mesh in hand.
func (s *Server) shapeOf(ctx context.Context, id uuid.UUID) (store.Job, *study.Prepared, error) {
	j, err := s.store.Job(ctx, id)
	if err != nil {
		return j, nil, err
	}
	p, err := s.hand.take(ctx, j)
	if err == nil && p.Master.Mesh == nil {
		err = problem(http.StatusConflict, "The shape is not known", sentence(errNoShape.Error()))
	}
	return j, p, err
}

// SurveyMaster looks a master over.
func (s *Server) SurveyMaster(ctx context.Context, r SurveyMasterRequestObject) (SurveyMasterResponseObject, error) {
	j, p, err := s.shapeOf(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	mats, err := s.materials(ctx, Design{Rubber: r.Body.Rubber, Resin: r.Body.Resin})
	if err != nil {
		return nil, err
	}
	q := study.Question{Draw: vec(r.Body.Draw), Rubber: mats.Rubber, Resin: mats.Resin, Brief: j.Brief, Wanted: max(0, j.Order.Quantity-j.Good)}
	tests, err := s.store.InhibitionTests(ctx)
	if err != nil {
		return nil, err
	}
	q.Tests = func(rubber string) (tried, cured bool) {
		for _, t := range tests { // the newest counts
			if t.Rubber == rubber && t.Surface == string(j.Brief.Surface) {
				return true, t.Cured
			}
		}
		return false, false
	}
	if mats.Rubber != nil {
		tried, cured := q.Tests(mats.Rubber.Name)
		q.Tested, q.Failed = tried && cured, tried && !cured
	}
	shelf, err := s.store.Materials(ctx)
	if err != nil {
		return nil, err
	}
	var resins, rubbers []uuid.UUID
	for _, m := range shelf {
		if m.Kind == "resin" {
			q.Resins, resins = append(q.Resins, m.Mix()), append(resins, m.ID)
		} else {
			q.Rubbers, rubbers = append(q.Rubbers, m.Mix()), append(rubbers, m.ID)
		}
	}
	sv, err := p.Survey(q, shop.Practice)
	if err != nil {
		return nil, unusable("The master cannot be looked over", err)
	}
	out := fromSurvey(sv)
	out.Resins, out.Rubbers = suited(sv.Resins, resins), suited(sv.Rubbers, rubbers)
	for _, st := range sv.Prep {
		step := PrepStep{Key: st.Key, Do: st.Do, Why: st.Why, Done: slices.Contains(j.Brief.Done, st.Key)}
		if st.Caution != "" {
			step.Caution = &st.Caution
		}
		out.Prep = append(out.Prep, step)
	}
	for _, f := range p.SurveyFindings(sv, q, shop.Practice) {
		out.Findings = append(out.Findings, fromFinding(f))
	}
	return SurveyMaster200JSONResponse(out), nil
}

func fromSurvey(sv study.Survey) Survey {
	d, t := sv.Draw, sv.Thickness
	f := sv.Figures
	out := Survey{Draw: point(d.Dir), Height: d.Height, Undercuts: []Undercut{},
		Figures: SurveyFigures{Locked: fromNumber(f.Locked), Seam: fromNumber(f.Seam), SeamOff: fromNumber(f.SeamOff), Steep: fromNumber(f.Steep),
			Thinnest: fromNumber(f.Thinnest), Median: fromNumber(f.Median), Thickest: fromNumber(f.Thickest),
			DrawnUp: fromNumber(f.DrawnUp), DrawnDown: fromNumber(f.DrawnDown), LockedArea: fromNumber(f.LockedFor)},
		Thinnest: spot(t.Thinnest), Thickest: spot(t.Thickest), Shares: []Share{}, Thin: spots(sv.Thin), Recesses: spots(sv.Recesses),
		FlatBack: sv.FlatBack, NotWorth: append([]string{}, sv.Kinds.NotWorth...), Kinds: []MouldKind{}, Prep: []PrepStep{}, Surfaces: []string{}, Findings: []Finding{}}
	for _, u := range sv.Undercuts {
		out.Undercuts = append(out.Undercuts, Undercut{Volume: u.Volume / 1000, Depth: u.Depth, Opening: u.Opening, Height: u.Height,
			Centre: point(u.Centre), Out: point(u.Out), Answer: string(u.Verdict.Answer), Strain: fromNumber(u.Verdict.Strain), Allowed: fromNumber(u.Verdict.Allowed)})
	}
	for _, b := range sv.Bins {
		out.Shares = append(out.Shares, Share{Low: b.Low, High: b.High, Share: b.Share})
	}
	for _, e := range sv.Kinds.Entries {
		out.Kinds = append(out.Kinds, MouldKind{Kind: string(e.Kind), Name: e.Name, What: e.What, For: append([]string{}, e.For...), Against: append([]string{}, e.Against...),
			Possible: e.Possible, Rubber: fromNumber(e.Rubber), Hours: fromNumber(e.Hours), Pieces: e.Pieces, Seam: e.Seam, Moulds: e.Remakes, Pot: e.Pot})
	}
	for _, surface := range inhibit.Surfaces {
		out.Surfaces = append(out.Surfaces, string(surface))
	}
	return out
}

func suited(all []suit.Match, ids []uuid.UUID) []Suited {
	out := make([]Suited, len(all))
	for i, m := range all {
		out[i] = Suited{Id: ids[m.Index], Name: m.Name, Fits: m.Fits, For: append([]string{}, m.For...), Against: append([]string{}, m.Against...)}
		if m.Test != "" {
			out[i].Test = &m.Test
		}
	}
	return out
}

func spot(p thick.Place) Spot {
	return Spot{Thickness: p.Thickness, At: point(p.At), AreaCm2: p.Area / 100}
}

func spots(all []thick.Place) []Spot {
	out := make([]Spot, len(all))
	for i, p := range all {
		out[i] = spot(p)
	}
	return out
}

// GetDrawMap tells triangle by triangle how the surface comes away.
func (s *Server) GetDrawMap(ctx context.Context, r GetDrawMapRequestObject) (GetDrawMapResponseObject, error) {
	_, p, err := s.shapeOf(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	a, err := p.Draw(r3.Vec{X: r.Params.X, Y: r.Params.Y, Z: r.Params.Z}, false)
	if err != nil {
		return nil, unusable("That is no direction to draw along", err)
	}
	data := make([]byte, len(a.Classes))
	for i, c := range a.Classes {
		data[i] = byte(c)
	}
	return GetDrawMap200ApplicationoctetStreamResponse{Body: bytes.NewReader(data), ContentLength: int64(len(data))}, nil
}

// Colours of a picture, for day and night alike: drawn up, drawn down, wall, locked.
var classColours = [4]color.NRGBA{{0x74, 0xae, 0xc4, 255}, {0xd2, 0xb4, 0x74, 255}, {0xb8, 0xb1, 0xa4, 255}, {0xc2, 0x3a, 0x82, 255}}

// pictureSize is that of a picture beside an offer, for sharp screens.
var pictureSize = picture.Size{Wide: 240, Tall: 180}

// GetDrawPicture draws the part standing along a draw.
func (s *Server) GetDrawPicture(ctx context.Context, r GetDrawPictureRequestObject) (GetDrawPictureResponseObject, error) {
	_, p, err := s.shapeOf(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	a, err := p.Draw(r3.Vec{X: r.Params.X, Y: r.Params.Y, Z: r.Params.Z}, false)
	if err != nil {
		return nil, unusable("That is no direction to draw along", err)
	}
	drawn := picture.Shaded(p.Fine(), picture.View{Up: a.Dir, Tilt: 24}, pictureSize, func(t int) color.NRGBA { return classColours[a.Classes[t]] })
	var out bytes.Buffer
	if err := png.Encode(&out, drawn); err != nil {
		return nil, err
	}
	return GetDrawPicture200ImagepngResponse{Body: &out, ContentLength: int64(out.Len())}, nil
}

// GetThicknessMap tells triangle by triangle how thick the part is.
func (s *Server) GetThicknessMap(ctx context.Context, r GetThicknessMapRequestObject) (GetThicknessMapResponseObject, error) {
	_, p, err := s.shapeOf(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	t := p.Thickness()
	data := make([]byte, 0, 4*len(t.Face))
	for _, h := range t.Face {
		data = binary.LittleEndian.AppendUint32(data, math.Float32bits(float32(h)))
	}
	return GetThicknessMap200ApplicationoctetStreamResponse{Body: bytes.NewReader(data), ContentLength: int64(len(data))}, nil
}

// LookAtAttitude weighs one way up.
func (s *Server) LookAtAttitude(ctx context.Context, r LookAtAttitudeRequestObject) (LookAtAttitudeResponseObject, error) {
	_, p, err := s.shapeOf(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	cells := float64(attitude.CoarseCells)
	if r.Body.Fine {
		cells = attitude.FineCells
	}
	w, pockets, err := attitude.Look(p.Master.Mesh, p.Master.Report.Sound, vec(r.Body.Up), cells)
	if err != nil {
		return nil, unusable("That is no way up", err)
	}
	out := fromWay(w, pockets)
	out.Sums = &struct {
		Air       Number `json:"air"`
		Floor     Number `json:"floor"`
		RubberAir Number `json:"rubberAir"`
	}{fromNumber(w.AirNumber(pockets)), fromNumber(w.FloorNumber()), fromNumber(w.RubberNumber())}
	return LookAtAttitude200JSONResponse(out), nil
}

func fromWay(w attitude.Way, pockets []fill.Pocket) Attitude {
	out := Attitude{Up: point(w.Up), Vents: w.Vents, Air: w.Air / 1000, Under: w.Under, RubberAir: w.Rubber / 1000,
		Height: w.Height, FloorCm2: w.Floor / 100, Front: w.Front, Pockets: []Pocket{}}
	for _, p := range pockets {
		out.Pockets = append(out.Pockets, Pocket{Volume: p.Volume / 1000, Apex: point(p.Apex), ApexHeight: p.ApexHeight, SealHeight: p.SealHeight, Isolated: p.Isolated})
	}
	return out
}

// Directions that the searches weigh.
const (
	drawDirections     = 400
	attitudeDirections = 200
)

// stream answers with server-sent events while work goes on. The work stops
// when the caster leaves.
type stream struct {
	ctx  context.Context
	work func(ctx context.Context, tell func(v any)) error
}

func (st stream) run(w http.ResponseWriter) error {
	w.Header().Set("Content-Type", "text/event-stream")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(http.StatusOK)
	out := http.NewResponseController(w)
	send := func(kind string, v any) {
		doc, err := json.Marshal(v)
		if err != nil {
			return
		}
		if _, err := fmt.Fprintf(w, "event: %s\ndata: %s\n\n", kind, doc); err == nil {
			_ = out.Flush()
		}
	}
	err := st.work(st.ctx, func(v any) { send("progress", v) })
	if err != nil && st.ctx.Err() == nil {
		send("problem", toProblem(err))
	}
	return nil
}

// VisitSearchDrawsResponse streams the answer.
func (st stream) VisitSearchDrawsResponse(w http.ResponseWriter) error { return st.run(w) }

// VisitSearchAttitudesResponse streams the answer.
func (st stream) VisitSearchAttitudesResponse(w http.ResponseWriter) error { return st.run(w) }

// SearchDraws looks for the best draws.
func (s *Server) SearchDraws(ctx context.Context, r SearchDrawsRequestObject) (SearchDrawsResponseObject, error) {
	_, p, err := s.shapeOf(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	return stream{ctx, func(ctx context.Context, tell func(any)) error {
		answer := func(done, total int, finished bool, best []draw.Offer) DrawSearch {
			out := DrawSearch{Done: done, Total: total, Finished: finished, Best: []DrawOffer{}}
			for _, o := range best {
				out.Best = append(out.Best, DrawOffer{Dir: point(o.Dir), Undercut: o.Undercut / 1000, Height: o.Height, Seam: o.Outline.Length, SeamOff: o.Outline.Off})
			}
			return out
		}
		total := 0
		best, err := draw.Search(ctx, p.Master.Mesh, drawDirections, func(pr draw.Progress) {
			total = pr.Total
			tell(answer(pr.Done, pr.Total, false, pr.Best))
		})
		if err == nil {
			tell(answer(total, total, true, best))
		}
		return err
	}}, nil
}

// SearchAttitudes weighs ways up.
func (s *Server) SearchAttitudes(ctx context.Context, r SearchAttitudesRequestObject) (SearchAttitudesResponseObject, error) {
	_, p, err := s.shapeOf(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	return stream{ctx, func(ctx context.Context, tell func(any)) error {
		answer := func(done, total int, finished bool, ways []attitude.Way) AttitudeSearch {
			out := AttitudeSearch{Done: done, Total: total, Finished: finished, Ways: []Attitude{}}
			for _, w := range ways {
				out.Ways = append(out.Ways, fromWay(w, nil))
			}
			return out
		}
		total := 0
		ways, err := attitude.Search(ctx, p.Master.Mesh, p.Master.Report.Sound, attitudeDirections, func(pr attitude.Progress) {
			total = pr.Total
			tell(answer(pr.Done, pr.Total, false, pr.Ways))
		})
		if err == nil {
			tell(answer(total, total, true, ways))
		}
		return err
	}}, nil
}
