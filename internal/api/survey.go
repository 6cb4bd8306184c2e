package api

import (
	"bytes"
	"context"
	"encoding/binary"
	"image"
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
	"bathyform/core/sketch"
	"bathyform/core/suit"
	"bathyform/core/survey"
	"bathyform/core/thick"
	"bathyform/internal/search"

	"github.com/google/uuid"
	"gonum.org/v1/gonum/spatial/r3"
)

// SurveyMaster looks a master over.
func (s *Server) SurveyMaster(ctx context.Context, r SurveyMasterRequestObject) (SurveyMasterResponseObject, error) {
	o, err := s.open(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	j := o.job
	q := survey.Question{Draw: vec(r.Body.Draw), Brief: j.Brief, Wanted: max(0, j.Order.Quantity-j.Good)}
	if q.Rubber, err = o.material("rubber", idOf(r.Body.Rubber)); err != nil {
		return nil, err
	}
	if q.Resin, err = o.material("resin", idOf(r.Body.Resin)); err != nil {
		return nil, err
	}
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
	if q.Rubber != nil {
		tried, cured := q.Tests(q.Rubber.Name)
		q.Tested, q.Failed = tried && cured, tried && !cured
	}
	var resins, rubbers []uuid.UUID
	for _, m := range o.shelf {
		if m.Kind == "resin" {
			q.Resins, resins = append(q.Resins, m.Mix()), append(resins, m.ID)
		} else {
			q.Rubbers, rubbers = append(q.Rubbers, m.Mix()), append(rubbers, m.ID)
		}
	}
	if d, err := o.kept(ctx); err == nil { // as it is planned, as far as that can be
		if bq, err := o.question(ctx, d); err == nil {
			if p, err := o.master.Lay(ctx, bq); err == nil {
				q.Across, _ = p.Box.Footprint(d.ResinUp)
			}
		}
	}
	sv, findings, err := o.master.Survey(ctx, q, o.house)
	if err != nil {
		return nil, unusable("The master cannot be looked over", err)
	}
	out, in := fromSurvey(sv), o.house.In()
	out.Resins, out.Rubbers = suited(sv.Resins, resins), suited(sv.Rubbers, rubbers)
	for _, st := range sv.Prep {
		out.Prep = append(
			out.Prep,
			PrepStep{
				Key:     st.Key,
				Do:      in.Told(st.Do),
				Why:     in.Told(st.Why),
				Done:    slices.Contains(j.Brief.Done, st.Key),
				Caution: optional(st.Caution),
			},
		)
	}
	out.Findings = fromFindings(findings, in)
	return SurveyMaster200JSONResponse(out), nil
}

func idOf(id *uuid.UUID) string {
	if id == nil {
		return ""
	}
	return id.String()
}

func fromSurvey(sv survey.Survey) Survey {
	l := newLedger()
	out := Survey{Known: sv.Known, Undercuts: []Undercut{}, Shares: []Share{}, Thin: spots(sv.Thin), Recesses: spots(sv.Recesses),
		NotWorth: append([]string{}, sv.NotWorth...), Prep: []PrepStep{}, Surfaces: []string{}, Findings: []Finding{}}
	for _, surface := range inhibit.Surfaces {
		out.Surfaces = append(out.Surfaces, string(surface))
	}
	if sv.Known {
		d, t, f := sv.Draw, sv.Thickness, sv.Figures
		draw, thinnest, thickest := point(d.Dir), spot(t.Thinnest), spot(t.Thickest)
		out.Draw, out.Height, out.Thinnest, out.Thickest = &draw, &d.Height, &thinnest, &thickest
		out.Figures = &SurveyFigures{
			Locked:     l.number(f.Locked),
			Seam:       l.number(f.Seam),
			SeamOff:    l.number(f.SeamOff),
			Steep:      l.number(f.Steep),
			Thinnest:   l.number(f.Thinnest),
			Median:     l.number(f.Median),
			Thickest:   l.number(f.Thickest),
			DrawnUp:    l.number(f.DrawnUp),
			DrawnDown:  l.number(f.DrawnDown),
			LockedArea: l.number(f.LockedFor),
		}
	}
	for _, u := range sv.Undercuts {
		out.Undercuts = append(out.Undercuts, Undercut{Volume: u.Volume / 1000, Depth: u.Depth, Opening: u.Opening, Height: u.Height,
			Centre: point(
				u.Centre,
			), Out: point(u.Out), Mode: string(u.Verdict.Mode), Answer: string(u.Verdict.Answer), Strain: l.number(u.Verdict.Strain),
			Allowed: l.number(u.Verdict.Allowed)})
	}
	for _, b := range sv.Bins {
		out.Shares = append(out.Shares, Share{Low: b.Low, High: b.High, Share: b.Share})
	}
	out.Numbers = l.rows
	return out
}

func suited(all []suit.Match, ids []uuid.UUID) []Suited {
	out := make([]Suited, len(all))
	for i, m := range all {
		out[i] = Suited{
			Id:      ids[m.Index],
			Name:    m.Name,
			Fits:    m.Fits,
			For:     append([]string{}, m.For...),
			Against: append([]string{}, m.Against...),
		}
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
	o, err := s.openShape(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	a, err := o.master.Draw(ctx, r3.Vec{X: r.Params.X, Y: r.Params.Y, Z: r.Params.Z}, false)
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
	along := r3.Vec{X: r.Params.X, Y: r.Params.Y, Z: r.Params.Z}
	paint := s.classPicture
	if given(r.Params.Plain) {
		paint = s.plainPicture
	}
	drawn, err := paint(ctx, r.JobId, along)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	if err := png.Encode(&out, drawn); err != nil {
		return nil, err
	}
	return GetDrawPicture200ImagepngResponse{Body: &out, ContentLength: int64(out.Len())}, nil
}

func (s *Server) classPicture(ctx context.Context, id uuid.UUID, along r3.Vec) (image.Image, error) {
	o, err := s.openShape(ctx, id)
	if err != nil {
		return nil, err
	}
	a, err := o.master.Draw(ctx, along, false)
	if err != nil {
		return nil, unusable("That is no direction to draw along", err)
	}
	of := func(t int) color.NRGBA { return classColours[a.Classes[t]] }
	return picture.Shaded(o.master.Fine(), picture.View{Up: a.Dir, Tilt: tilted}, pictureSize, of), nil
}

// plainPicture draws the master, or the block of its measures, in one colour.
func (s *Server) plainPicture(ctx context.Context, id uuid.UUID, along r3.Vec) (image.Image, error) {
	o, err := s.open(ctx, id)
	if err != nil {
		return nil, err
	}
	if !(r3.Norm(along) > 0) {
		return nil, problem(http.StatusUnprocessableEntity, "That is no direction", "Give one that is not 0, 0, 0.")
	}
	m := sketch.Draw(o.master.Solid, mostPictured, sketch.Near{}, sharpEdge).Mesh
	stone := func(int) color.NRGBA { return classColours[2] }
	return picture.Shaded(m, picture.View{Up: r3.Unit(along), Tilt: tilted}, pictureSize, stone), nil
}

// How a small picture is drawn: its eye raised by so many degrees, of a mesh
// with so many triangles at most.
const (
	tilted       = 24
	mostPictured = 20_000
)

// GetThicknessMap tells triangle by triangle how thick the part is.
func (s *Server) GetThicknessMap(ctx context.Context, r GetThicknessMapRequestObject) (GetThicknessMapResponseObject, error) {
	o, err := s.openShape(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	t, err := o.master.Thickness(ctx)
	if err != nil {
		return nil, err
	}
	data := make([]byte, 0, 4*len(t.Face))
	for _, h := range t.Face {
		data = binary.LittleEndian.AppendUint32(data, math.Float32bits(float32(h)))
	}
	return GetThicknessMap200ApplicationoctetStreamResponse{Body: bytes.NewReader(data), ContentLength: int64(len(data))}, nil
}

// LookAtAttitude weighs one way up.
func (s *Server) LookAtAttitude(ctx context.Context, r LookAtAttitudeRequestObject) (LookAtAttitudeResponseObject, error) {
	o, err := s.openShape(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	cells := float64(attitude.CoarseCells)
	if r.Body.Fine {
		cells = attitude.FineCells
	}
	w, pockets, err := attitude.Look(o.master.Part.Mesh, o.master.Part.Report.Sound, vec(r.Body.Up), cells)
	if err != nil {
		return nil, unusable("That is no way up", err)
	}
	out := fromWay(w, pockets)
	l := newLedger()
	out.Sums = &struct {
		Air       Number `json:"air"`
		Floor     Number `json:"floor"`
		RubberAir Number `json:"rubberAir"`
	}{l.number(w.AirNumber(pockets)), l.number(w.FloorNumber()), l.number(w.RubberNumber())}
	out.Numbers = &l.rows
	return LookAtAttitude200JSONResponse(out), nil
}

func fromWay(w attitude.Way, pockets []fill.Pocket) Attitude {
	out := Attitude{Up: point(w.Up), Vents: w.Vents, Air: w.Air / 1000, Under: w.Under, RubberAir: w.Rubber / 1000,
		Height: w.Height, FloorCm2: w.Floor / 100, Front: w.Front, Pockets: []Pocket{}}
	for _, p := range pockets {
		out.Pockets = append(
			out.Pockets,
			Pocket{Volume: p.Volume / 1000, Apex: point(p.Apex), ApexHeight: p.ApexHeight, SealHeight: p.SealHeight, Isolated: p.Isolated},
		)
	}
	return out
}

// Directions that the searches weigh.
const (
	drawDirections     = 400
	attitudeDirections = 200
)

// stream answers with server-sent events while work goes on. The work stops
// when everybody who waits for it has left.
type stream struct {
	ctx  context.Context
	desk *search.Desk
	key  string
	work search.Work
}

// stream is a search by its key; equal keys share one worker.
func (s *Server) stream(ctx context.Context, key string, work search.Work) stream {
	return stream{ctx, s.desk, key, work}
}

func (st stream) run(w http.ResponseWriter) error {
	st.desk.Stream(st.ctx, w, st.key, st.work, func(err error) any { return toProblem(err) })
	return nil
}

// VisitSearchDrawsResponse streams the answer.
func (st stream) VisitSearchDrawsResponse(w http.ResponseWriter) error { return st.run(w) }

// VisitSearchAttitudesResponse streams the answer.
func (st stream) VisitSearchAttitudesResponse(w http.ResponseWriter) error { return st.run(w) }

// SearchDraws looks for the best draws.
func (s *Server) SearchDraws(ctx context.Context, r SearchDrawsRequestObject) (SearchDrawsResponseObject, error) {
	o, err := s.openShape(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	return s.stream(ctx, "draws "+shapeKey(o.job), func(ctx context.Context, tell func(any)) error {
		answer := func(done, total int, finished bool, best []draw.Offer) DrawSearch {
			out := DrawSearch{Done: done, Total: total, Finished: finished, Best: []DrawOffer{}}
			for _, o := range best {
				out.Best = append(
					out.Best,
					DrawOffer{
						Dir:      point(o.Dir),
						Undercut: o.Undercut / 1000,
						Height:   o.Height,
						Seam:     o.Outline.Length,
						SeamOff:  o.Outline.Off,
					},
				)
			}
			return out
		}
		total := 0
		best, err := draw.Search(ctx, o.master.Part.Mesh, drawDirections, func(pr draw.Progress) {
			total = pr.Total
			tell(answer(pr.Done, pr.Total, false, pr.Best))
		})
		if err == nil {
			tell(answer(total, total, true, best))
		}
		return err
	}), nil
}

// SearchAttitudes weighs ways up.
func (s *Server) SearchAttitudes(ctx context.Context, r SearchAttitudesRequestObject) (SearchAttitudesResponseObject, error) {
	o, err := s.openShape(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	return s.stream(ctx, "attitudes "+shapeKey(o.job), func(ctx context.Context, tell func(any)) error {
		answer := func(done, total int, finished bool, ways []attitude.Way) AttitudeSearch {
			out := AttitudeSearch{Done: done, Total: total, Finished: finished, Ways: []Attitude{}}
			for _, w := range ways {
				out.Ways = append(out.Ways, fromWay(w, nil))
			}
			return out
		}
		total := 0
		ways, err := attitude.Search(ctx, o.master.Part.Mesh, o.master.Part.Report.Sound, attitudeDirections, func(pr attitude.Progress) {
			total = pr.Total
			tell(answer(pr.Done, pr.Total, false, pr.Ways))
		})
		if err == nil {
			tell(answer(total, total, true, ways))
		}
		return err
	}), nil
}
