package api

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"time"

	"bathyform/core/bench"
	"bathyform/core/build"
	"bathyform/core/design"
	"bathyform/core/hours"
	"bathyform/core/kinds"
	"bathyform/core/practice"
)

// ListKinds lists the kinds of mould that are built.
func (s *Server) ListKinds(context.Context, ListKindsRequestObject) (ListKindsResponseObject, error) {
	out := ListKinds200JSONResponse{}
	feeds := map[kinds.Resin]MouldKindFeed{
		kinds.Sprued:  MouldKindFeedSprued,
		kinds.Pressed: MouldKindFeedPressed,
		kinds.Poured:  MouldKindFeedPoured,
	}
	for _, k := range kinds.Built {
		kind := MouldKind{Kind: string(k.Key), Name: k.Name, What: k.What, Halves: k.Halves, Sided: k.Sided, Feed: feeds[k.Resin]}
		if k.Shelled {
			skin := kinds.UsualSkin
			kind.Skin = &skin
		}
		out = append(out, kind)
	}
	return out, nil
}

// rubberKey names what the rubber of a question falls into: it changes
// whenever that may.
func (o opened) rubberKey(q bench.Question) string {
	k, err := q.KindOf()
	if err != nil {
		return ""
	}
	return fmt.Sprintf("%s-%d-%d-%s", shapeKey(o.job), o.job.DesignVersion, o.job.Version, k.Key)
}

// VisitSearchBuildResponse streams the answer.
func (st stream) VisitSearchBuildResponse(w http.ResponseWriter) error { return st.run(w) }

// SearchBuild works the kept design out down to the bench.
func (s *Server) SearchBuild(ctx context.Context, r SearchBuildRequestObject) (SearchBuildResponseObject, error) {
	o, q, err := s.asked(ctx, r.JobId, r.Params.Kind)
	if err != nil {
		return nil, err
	}
	key := o.rubberKey(q)
	return s.stream(ctx, "build "+r.JobId.String()+key, func(ctx context.Context, tell func(any)) error {
		b, err := o.master.Build(ctx, q, func(stage string) { tell(BuildSearch{Stage: stage}) })
		if err != nil {
			return buildProblem(err)
		}
		out, err := fromBuild(b, q, time.Now())
		if err != nil {
			return buildProblem(err)
		}
		out.Key = key
		tell(BuildSearch{Stage: "done", Finished: true, Build: &out})
		return nil
	}), nil
}

func buildProblem(err error) error {
	if errors.Is(err, bench.ErrNoShape) {
		return noShape(err)
	}
	return unusable("The mould cannot be built", err)
}

// VisitSearchKindsResponse streams the answer.
func (st stream) VisitSearchKindsResponse(w http.ResponseWriter) error { return st.run(w) }

// SearchKinds builds the kept design as every kind.
func (s *Server) SearchKinds(ctx context.Context, r SearchKindsRequestObject) (SearchKindsResponseObject, error) {
	o, q, err := s.asked(ctx, r.JobId, nil)
	if err != nil {
		return nil, err
	}
	now := time.Now()
	return s.stream(ctx, "kinds "+r.JobId.String()+o.rubberKey(q), func(ctx context.Context, tell func(any)) error {
		_, err := o.master.Rank(ctx, q, func(stage string, row *build.Row) {
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
	}), nil
}

func fromKindRow(row build.Row, q bench.Question, now time.Time) KindRow {
	l := newLedger()
	out := KindRow{
		Kind:    string(row.Kind.Key),
		Name:    row.Kind.Name,
		What:    row.Kind.What,
		Fits:    row.Fits,
		Why:     append([]string{}, row.Why...),
		Numbers: l.rows,
	}
	b := row.Build
	if b == nil {
		return out
	}
	out.Rubber, out.Mixed, out.Hands, out.Waits, out.First = l.some(
		&b.Plan.Rubber,
	), l.some(
		&b.Plan.Mixed,
	), l.some(
		&b.Hands,
	), l.some(
		&b.Waits,
	), l.some(
		&b.First,
	)
	out.Finish, out.Moulds, out.Effort, out.Score = l.some(&b.Finish), l.some(&b.Moulds), l.some(&b.Effort), l.some(&b.Score)
	if n := len(b.Plan.Bodies()); n > 0 {
		out.Pieces = &n
	}
	if slots, start, err := scheduled(*b, q.House, now); err == nil && len(slots) > 0 {
		t := moment(start, slots[len(slots)-1].To)
		out.FirstPull = &t
	}
	out.Numbers = l.rows
	return out
}

// VisitSearchPartingsResponse streams the answer.
func (st stream) VisitSearchPartingsResponse(w http.ResponseWriter) error { return st.run(w) }

// SearchPartings compares the parting along the edges of walls.
func (s *Server) SearchPartings(ctx context.Context, r SearchPartingsRequestObject) (SearchPartingsResponseObject, error) {
	o, q, err := s.asked(ctx, r.JobId, nil)
	if err != nil {
		return nil, err
	}
	if !o.master.Known() {
		return nil, noShape(bench.ErrNoShape)
	}
	return s.stream(ctx, "partings "+r.JobId.String()+o.rubberKey(q), func(ctx context.Context, tell func(any)) error {
		err := o.master.Seams(ctx, q, func(stage string, row *bench.Seam) {
			out := PartingSearch{Stage: stage}
			if row != nil {
				l := newLedger()
				f := row.Figures
				out.Row = &PartingRow{Seam: PartingRowSeam(row.Seam), Name: seamNames[row.Seam], Level: row.Level,
					Line: l.number(
						f.Line,
					), Off: l.number(f.Off), Open: l.number(f.Open), Steep: l.number(f.Steep), Finish: l.number(row.Finish)}
				out.Row.Numbers = l.rows
			}
			tell(out)
		})
		if err != nil {
			return buildProblem(err)
		}
		tell(PartingSearch{Stage: "done", Finished: true})
		return nil
	}), nil
}

var seamNames = map[design.Seam]string{design.Middle: "flattest", design.Top: "upper edges", design.Bottom: "lower edges"}

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

func fromBuild(b bench.Built, q bench.Question, now time.Time) (Build, error) {
	l := newLedger()
	p := b.Plan
	out := Build{
		Mould:     l.plan(p, b.Study.Pours),
		Pieces:    []RubberPiece{},
		Undercuts: []LockedSpace{},
		Keys:      []PlacedKey{},
		Steps:     []BuildStep{},
		Attitudes: []Drawing{},
		Plan:      fromPicture(b.Lay),
		Hands: l.number(
			b.Hands,
		),
		Waits:  l.number(b.Waits),
		First:  l.number(b.First),
		Finish: l.number(b.Finish),
		Moulds: l.number(b.Moulds),
		Effort: l.number(b.Effort),
		Score:  l.number(b.Score),
		Weight: l.some(b.Weight),
		Why: append(
			[]string{},
			b.Why()...),
		Fits:     len(b.Stops()) == 0,
		Extras:   []Named{},
		Across:   b.Across,
		Tall:     b.Tall,
		Findings: fromFindings(b.Findings, q.House.In()),
	}
	for _, body := range p.Bodies() {
		out.Pieces = append(
			out.Pieces,
			RubberPiece{
				Name:     body.Name,
				Draw:     point(body.Draw),
				Order:    body.Order,
				Volume:   l.number(body.Volume),
				Catches:  body.Catches / 1000,
				Stripped: body.Stripped / 1000,
			},
		)
	}
	if d := p.Division; d != nil {
		out.Error = d.Error()
		if p.Parted() {
			f := p.Seam()
			out.Seam = &Seam{Level: d.Level, Line: l.number(f.Line), Off: l.number(f.Off), Open: l.number(f.Open), Steep: l.number(f.Steep)}
		}
		for _, u := range d.Locked {
			out.Undercuts = append(
				out.Undercuts,
				LockedSpace{At: point(u.At), Volume: u.Volume / 1000, Mode: string(u.Verdict.Mode), Answer: string(u.Answer), By: u.By,
					Strain: l.number(u.Verdict.Strain), Allowed: l.number(u.Verdict.Allowed), Freed: u.Sided(), Decided: u.Decided},
			)
		}
		if p.Kind.Keyed {
			out.KeysShort = d.Keys.Short
			for _, k := range d.Keys.Keys {
				out.Keys = append(out.Keys, PlacedKey{Kind: string(k.Kind), X: k.X, Y: k.Y, Radius: k.Radius, Odd: k.Odd})
			}
		}
	}
	slots, midnight, err := scheduled(b.Build, q.House, now)
	if err != nil {
		return out, err
	}
	for i, st := range b.Steps {
		out.Steps = append(
			out.Steps,
			BuildStep{
				Do:      q.House.In().Told(st.Do),
				Why:     q.House.In().Told(st.Why),
				Caution: st.Caution,
				Minutes: st.Minutes,
				Wait:    st.Wait,
				Pour:    st.Pour,
				Casting: st.Casting,
				From:    moment(midnight, slots[i].From),
				To:      moment(midnight, slots[i].To),
			},
		)
		out.FirstPull = moment(midnight, slots[i].To)
	}
	for _, d := range b.Attitudes {
		out.Attitudes = append(out.Attitudes, fromPicture(d))
	}
	for _, e := range b.Extras {
		out.Extras = append(out.Extras, Named{Name: e.Name, Number: l.number(e.Number)})
	}
	for _, sh := range p.Sheets() {
		out.Sheets = append(out.Sheets, struct {
			Label string `json:"label"`
			Sheet string `json:"sheet"`
		}{sh.Label, sh.Key})
	}
	for _, body := range p.Prints() {
		out.Bodies = append(out.Bodies, struct {
			Body  string `json:"body"`
			Label string `json:"label"`
		}{body.Key, body.Label})
	}
	out.Numbers = l.rows
	return out, nil
}
