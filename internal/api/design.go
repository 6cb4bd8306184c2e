package api

import (
	"context"

	"gonum.org/v1/gonum/spatial/r3"

	"bathyform/core/axis"
	"bathyform/core/bench"
	"bathyform/core/design"
	"bathyform/core/hold"
	"bathyform/core/kinds"
	"bathyform/core/quantity"
	"bathyform/core/rise"

	"github.com/google/uuid"
)

// GetDesign returns the kept design or a proposal.
func (s *Server) GetDesign(ctx context.Context, r GetDesignRequestObject) (GetDesignResponseObject, error) {
	o, err := s.open(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	d, err := o.kept(ctx)
	return GetDesign200JSONResponse{Design: d, Version: o.job.DesignVersion}, err
}

// PutDesign keeps a design that can be worked out.
func (s *Server) PutDesign(ctx context.Context, r PutDesignRequestObject) (PutDesignResponseObject, error) {
	from, err := from(r.Params.IfMatch, r.Params.IdempotencyKey)
	if err != nil {
		return nil, err
	}
	if _, _, err := s.study(ctx, r.JobId, *r.Body); err != nil {
		return nil, err
	}
	if err := s.stillThere(ctx, r.JobId, s.store.WriteDesign(ctx, r.JobId, *r.Body, from)); err != nil {
		return nil, err
	}
	return PutDesign200JSONResponse{Design: *r.Body, Version: from.Version + 1}, nil
}

// StudyDesign works out what follows from a design.
func (s *Server) StudyDesign(ctx context.Context, r StudyDesignRequestObject) (StudyDesignResponseObject, error) {
	st, in, err := s.study(ctx, r.JobId, *r.Body)
	if err != nil {
		return nil, err
	}
	return StudyDesign200JSONResponse(fromStudy(st, in)), nil
}

func (s *Server) study(ctx context.Context, id uuid.UUID, d Design) (bench.Study, quantity.Units, error) {
	o, err := s.open(ctx, id)
	if err != nil {
		return bench.Study{}, quantity.Units{}, err
	}
	q, err := o.question(ctx, d)
	if err != nil {
		return bench.Study{}, quantity.Units{}, err
	}
	st, err := o.master.Study(ctx, q)
	if err != nil {
		return st, quantity.Units{}, unusable("This cannot be built", err)
	}
	return st, o.house.In(), nil
}

func fromStudy(st bench.Study, in quantity.Units) Study {
	l := newLedger()
	out := Study{Mould: l.plan(st.Plan, st.Pours), Gates: l.gates(st), Shot: l.shot(st), Findings: fromFindings(st.Findings, in)}
	if h := st.Hold; h != nil {
		out.Hold = l.hold(*h)
	}
	out.Cautions.Rubber, out.Cautions.Shot = kinds.RubberCautions, kinds.ShotCautions
	out.Numbers = l.rows
	return out
}

func (l *ledger) hold(s hold.Standing) *Hold {
	out := &Hold{Told: s.Told(), Own: s.Own, Lift: l.number(s.Lift)}
	for _, p := range s.Points {
		held := HoldPoint{Kind: HoldPointKind(p.Kind), At: point(p.At), To: point(p.To), Bore: p.Bore, Rod: p.Rod}
		out.Points = append(out.Points, held)
	}
	return out
}

func (l *ledger) gates(st bench.Study) Gates {
	g := st.Gates
	out := Gates{Known: g.Known, System: design.Runners(g.System), Ignored: g.Trapped().Ignored / 1000, Channels: []Channel{}}
	out.Rise, out.Scar, out.Dress = fromRise(st.Resin), l.number(g.Scar()), l.number(st.Dress)
	for _, c := range g.Channels {
		ch := Channel{
			Kind:    ChannelKind(c.Kind),
			Cavity:  c.Cavity,
			Bore:    c.Bore,
			Rim:     c.Rim,
			Section: ChannelSection(c.Sectioned()),
			Thick:   c.Thick,
			Cut:     c.Cut,
			Volume:  l.number(c.Volume),
			Length:  c.Length(),
			Foot:    c.Foot,
			Top:     c.Top,
			Vent:    c.Vent,
		}
		if side := r3.Add(c.Half, c.Flat); side != (r3.Vec{}) { // it has one of them at most
			at := point(side)
			ch.Side = &at
		}
		for _, p := range c.Path {
			ch.Path = append(ch.Path, point(p))
		}
		out.Channels = append(out.Channels, ch)
	}
	if st.Run != nil {
		for _, c := range st.Run.Channels {
			ch := &out.Channels[c.Channel]
			resistance := l.number(c.Resistance)
			ch.Share, ch.Flow, ch.Resistance = &c.Share, &c.Flow, &resistance
		}
	}
	out.Trapped = l.number(g.Air())
	out.Run = l.run(st.Run)
	return out
}

// run is how the resin runs in, in the order in which it is asked.
func (l *ledger) run(r *rise.Run) *[]Named {
	if r == nil {
		return nil
	}
	out := []Named{}
	if r.Full != nil {
		out = append(out, Named{"Full after, min", l.number(*r.Full)})
	}
	if r.Spread != nil {
		out = append(out, Named{"Last cavity over the first", l.number(*r.Spread)})
	}
	out = append(out, Named{"Head at the highest place", l.number(r.Head)})
	if r.Narrowest != nil {
		out = append(out, Named{"Narrowest sprue", l.number(*r.Narrowest)})
	}
	out = append(out, Named{"Keeps the sprue full, mL/s", l.number(r.Brim)}, Named{"Reynolds number", l.number(r.Reynolds)})
	if r.Push != nil {
		out = append(out, Named{"By a syringe, push in N", l.number(*r.Push)}, Named{"It opens the halves by, N", l.number(*r.Opens)})
	}
	return &out
}

func (l *ledger) shot(st bench.Study) Shot {
	s := st.Shot
	out := Shot{
		Lines:    []ShotLine{},
		Cavity:   l.number(s.Cavity),
		Channels: l.number(s.Channels),
		Margin:   l.number(s.Margin),
		Total:    l.number(s.Total),
	}
	for _, line := range s.Lines {
		out.Lines = append(out.Lines, ShotLine{Name: line.Name, Volume: l.number(line.Volume)})
	}
	if s.Batch != nil {
		out.Batch = l.batch(*s.Batch)
	}
	out.Cup, out.Vessel, out.Mixes = l.number(s.Cup), l.number(s.Vessel), l.number(s.Mixes)
	out.Potful = l.some(s.Potful)
	if len(s.Chain) > 0 {
		steps := []ChainStep{}
		for _, c := range s.Chain {
			steps = append(steps, ChainStep{What: c.What, Drops: c.Drops, Add: l.number(c.Add), Reads: l.number(c.Reads)})
		}
		out.Chain = &steps
	}
	if len(s.Doses) > 0 {
		doses := []Dose{}
		for _, d := range s.Doses {
			doses = append(doses, Dose{Name: d.Name, ByDrops: d.ByDrops, Amount: l.number(d.Amount), Order: l.number(d.Order),
				Low: l.number(d.Low), High: l.number(d.High)})
		}
		out.Doses = &doses
	}
	if p := s.Powder; p != nil {
		out.Powder = &struct {
			Name  string `json:"name"`
			Order Number `json:"order"`
			Stays Number `json:"stays"`
		}{p.Name, l.number(p.Order), l.number(p.Stays)}
	}
	return out
}

// ProposeVents puts a vent at every high spot.
func (s *Server) ProposeVents(ctx context.Context, r ProposeVentsRequestObject) (ProposeVentsResponseObject, error) {
	o, err := s.open(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	vents, err := o.master.ProposeVents(ctx, bench.Question{Design: *r.Body, Brief: o.job.Brief})
	if err != nil {
		return nil, unusable("No vents can be proposed", err)
	}
	return append(ProposeVents200JSONResponse{}, vents...), nil
}

// RankVents puts the vents that a design needs in the order of the air that they spare.
func (s *Server) RankVents(ctx context.Context, r RankVentsRequestObject) (RankVentsResponseObject, error) {
	o, err := s.open(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	ranking, err := o.master.RankVents(ctx, bench.Question{Design: *r.Body, Brief: o.job.Brief})
	if err != nil {
		return nil, unusable("No vents can be proposed", err)
	}
	l, out := newLedger(), RankVents200JSONResponse{}
	out.Vents = make([]struct {
		Spares Number `json:"spares"`
		Vent   Vent   `json:"vent"`
	}, len(ranking.Vents))
	for i, v := range ranking.Vents {
		out.Vents[i].Spares, out.Vents[i].Vent = l.number(v.Told()), Vent{At: design.At(v.At), Bore: v.Bore}
	}
	out.Numbers = l.rows
	return out, nil
}

// GetSection cuts the mould of the kept design for drawing: cavities, box
// and, when asked for, the rubber in its pieces.
func (s *Server) GetSection(ctx context.Context, r GetSectionRequestObject) (GetSectionResponseObject, error) {
	o, q, err := s.asked(ctx, r.JobId, nil)
	if err != nil {
		return nil, err
	}
	along, err := axis.Parse(string(r.Params.Axis))
	if err != nil {
		return nil, unusable("There is no such plane", err)
	}
	cut, err := o.master.Section(ctx, q, along.Dir(), r.Params.Offset, given(r.Params.Divided))
	if err != nil {
		return nil, unusable("The mould cannot be cut", err)
	}
	out := GetSection200JSONResponse{Loops: flat(cut.Cavities), Block: flat(cut.Block)}
	out.Pieces = make([]struct {
		Loops [][]float32       `json:"loops"`
		Name  string            `json:"name"`
		Tone  SectionPiecesTone `json:"tone"`
	}, len(cut.Pieces))
	for i, p := range cut.Pieces {
		out.Pieces[i].Name, out.Pieces[i].Tone, out.Pieces[i].Loops = p.Name, SectionPiecesTone(p.Tone), flat(p.Loops)
	}
	return out, nil
}
