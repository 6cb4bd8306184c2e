package api

import (
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/mix"
	"bathyform/core/mould"
	"bathyform/core/plane"
	"bathyform/core/quantity"
	"bathyform/core/rise"
	"bathyform/core/sheet"

	"github.com/google/uuid"
	"gonum.org/v1/gonum/spatial/r3"
)

// ledger gathers the numbers of a document, each once however often it is
// shown or goes into another.
type ledger struct {
	rows  []NumberRow
	known map[string]int
}

func newLedger() *ledger { return &ledger{rows: []NumberRow{}, known: make(map[string]int)} }

// number writes a figure down and returns where it stands.
func (l *ledger) number(n derive.Number) Number {
	row := NumberRow{
		Value:   digits(n.Value, 8),
		Kind:    Kind(n.Kind),
		Formula: n.Formula,
		Note:    optional(n.Note),
		Inputs:  make([]NumberInput, len(n.Inputs)),
	}
	for i, in := range n.Inputs {
		row.Inputs[i] = NumberInput{Name: in.Name, Value: digits(in.Value, 8), Kind: Kind(in.Kind), Source: in.Source}
		if in.Number != nil {
			deeper := l.number(*in.Number).N
			row.Inputs[i].Number = &deeper
		}
	}
	key := fmt.Sprintf("%v|%s|%s|%s", row.Value, row.Kind, row.Formula, n.Note)
	for _, in := range row.Inputs {
		key += fmt.Sprintf("|%s|%v|%s|%d", in.Name, in.Value, in.Source, given(in.Number))
	}
	at, ok := l.known[key]
	if !ok {
		at = len(l.rows)
		l.known[key] = at
		l.rows = append(l.rows, row)
	}
	return Number{N: at}
}

// some writes a figure down that there may be.
func (l *ledger) some(n *derive.Number) *Number {
	if n == nil {
		return nil
	}
	out := l.number(*n)
	return &out
}

// digits keeps so many significant digits of a figure: more than anybody
// reads, and fewer than a float prints.
func digits(v float64, n int) float64 {
	if v == 0 || math.IsNaN(v) || math.IsInf(v, 0) {
		return v
	}
	scale := math.Pow(10, float64(n-1)-math.Floor(math.Log10(math.Abs(v))))
	if out := math.Round(v*scale) / scale; !math.IsNaN(out) {
		return out
	}
	return v // next to nothing, or beyond all
}

// fixed keeps so many places after the point.
func fixed(v float64, places int) float64 {
	scale := math.Pow10(places)
	return math.Round(v*scale) / scale
}

func fixedAll(all []float64, factor float64, places int) []float64 {
	out := make([]float64, len(all))
	for i, v := range all {
		out[i] = fixed(v*factor, places)
	}
	return out
}

func (l *ledger) batch(b mix.Batch) *Batch {
	return &Batch{
		Volume:  l.number(b.Volume),
		Mass:    l.number(b.Mass),
		A:       l.number(b.A),
		B:       l.number(b.B),
		VolumeA: l.some(b.VolumeA),
		VolumeB: l.some(b.VolumeB),
	}
}

// plan is a mould as far as it is planned, with its rubber rising.
func (l *ledger) plan(p mould.Plan, rises []rise.Rise) MouldPlan {
	out := MouldPlan{
		Kind:            string(p.Kind.Key),
		Name:            p.Kind.Name,
		Known:           p.Known,
		Cavities:        p.Design.Cavities(),
		Box:             l.box(p),
		Places:          [][]float64{},
		Parting:         p.Parting.Height,
		ProposedParting: p.Parting.Proposed,
		ProposalWhy:     p.Parting.Why,
		Parted:          p.Parted(),
		Halves:          p.Kind.Halves,
		Part: l.number(
			p.Part,
		),
		Parts:    l.number(p.Parts),
		Life:     l.number(p.Life),
		Divided:  p.Divided,
		Clay:     l.some(p.Clay),
		ClayMass: l.some(p.ClayMass()),
		Pours:    []Pour{},
		Rises:    []Rise{},
	}
	if p.Rubber.Value > 0 {
		out.Rubber = l.some(&p.Rubber)
	}
	if p.Divided {
		out.Mixed = l.some(&p.Mixed)
	}
	for _, m := range p.Cavities.Carried() {
		out.Places = append(out.Places, m[:])
	}
	for _, q := range p.Pours {
		pour := Pour{Name: q.Name, Up: Axis(q.Up.String()), Bed: q.Bed, Level: q.Level, Spot: q.Spot}
		if q.Known {
			pour.Volume, pour.Mixed, pour.Mixes = l.some(&q.Volume), l.some(&q.Mixed), l.some(&q.Mixes)
		}
		if q.Batch != nil {
			pour.Batch = l.batch(*q.Batch)
		}
		out.Pours = append(out.Pours, pour)
	}
	for _, r := range rises {
		out.Rises = append(out.Rises, fromRise(r))
	}
	return out
}

func (l *ledger) box(p mould.Plan) BoxPlan {
	b := p.Box
	out := BoxPlan{
		Form:    string(b.Form),
		Stands:  Axis(b.Stands.String()),
		Low:     point(b.Bounds.Min),
		High:    point(b.Bounds.Max),
		Ring:    pairs(b.Ring),
		Seen:    [][][]float64{},
		Wide:    b.Wide,
		Deep:    b.Deep,
		Nearest: b.Nearest,
		Height:  l.number(b.Height),
		Volume:  l.number(b.Volume),
		Saved:   l.number(b.Saved),
		Strip:   l.number(b.Strip),
		Panels:  []Panel{},
	}
	for _, ring := range p.Above() {
		out.Seen = append(out.Seen, pairs(ring))
	}
	for _, panel := range b.Panels {
		out.Panels = append(out.Panels, Panel{Name: panel.Name, Count: panel.Count, A: l.number(panel.A), B: l.number(panel.B)})
	}
	return out
}

func pairs(ring []plane.Point) [][]float64 {
	out := make([][]float64, len(ring))
	for i, p := range ring {
		out[i] = []float64{fixed(p[0], 2), fixed(p[1], 2)}
	}
	return out
}

func fromRise(r rise.Rise) Rise {
	out := Rise{Name: r.Name, Up: Axis(r.Up.String()), Floor: r.Floor, Top: r.Top, PartLow: r.PartLow, PartHigh: r.PartHigh,
		Marks: []Mark{}, Heights: fixedAll(r.Heights, 1, 3), Shut: []float64{}, Pockets: []Pocket{}, Air: Air{Cell: r.AirCell,
			Stretches: []float32{}}, Dry: Air{Stretches: []float32{}}}
	if r.Volumes != nil {
		volumes := fixedAll(r.Volumes, 1e-3, 3)
		out.Volumes = &volumes
	}
	if r.Lifts != nil {
		out.Lifts = &r.Lifts
	}
	for _, p := range r.Pockets {
		out.Pockets = append(
			out.Pockets,
			Pocket{
				Cavity:     p.Cavity,
				Volume:     p.Volume / 1000,
				Apex:       point(p.Apex),
				ApexHeight: p.ApexHeight,
				SealHeight: p.SealHeight,
				Isolated:   p.Isolated,
			},
		)
	}
	for _, m := range r.Marks {
		out.Marks = append(out.Marks, Mark{Kind: MarkKind(m.Kind), Label: m.Label, Height: m.Height, Index: m.Index})
	}
	for _, h := range r.Heights {
		out.Shut = append(out.Shut, fixed(r.AirBelow(h)/1000, 4))
	}
	for _, d := range r.Dry {
		out.Dry.Cell = r.DryCell
		for _, v := range []float64{d.Low.X, d.Low.Y, d.Low.Z, d.Tall, d.Sill} {
			out.Dry.Stretches = append(out.Dry.Stretches, float32(fixed(v, 2)))
		}
	}
	r.Places(func(low r3.Vec, tall float64, pocket int) {
		out.Air.Stretches = append(
			out.Air.Stretches,
			float32(fixed(low.X, 2)),
			float32(fixed(low.Y, 2)),
			float32(fixed(low.Z, 2)),
			float32(fixed(tall, 2)),
			float32(pocket),
		)
	})
	return out
}

// fromFindings tells findings in the shop's units.
func fromFindings(all []finding.Finding, in quantity.Units) []Finding {
	out := make([]Finding, len(all))
	for i, f := range all {
		out[i] = fromFinding(f, in)
	}
	return out
}

func fromFinding(f finding.Finding, in quantity.Units) Finding {
	out := Finding{Severity: FindingSeverity(f.Severity), Stage: string(f.Stage), What: in.Told(f.What), Height: f.Height,
		Why: in.Told(f.Why), Source: f.Source, Remedies: []Remedy{}}
	if f.Where != nil {
		p := point(*f.Where)
		out.Where = &p
	}
	figure := func(f *finding.Figure) *Figure {
		if f == nil {
			return nil
		}
		return &Figure{Value: f.Value, Kind: Kind(f.Kind)}
	}
	out.Figure, out.Limit = figure(f.Figure), figure(f.Limit)
	for _, r := range f.Remedies {
		remedy := Remedy{Label: in.Told(r.Label), Action: RemedyAction(r.Action), Value: r.Value, Text: optional(r.Text)}
		if r.At != nil {
			p := point(*r.At)
			remedy.At = &p
		}
		out.Remedies = append(out.Remedies, remedy)
	}
	return out
}

func fromPicture(d sheet.Drawing) Drawing {
	out := Drawing{
		Name:  d.Name,
		Arrow: d.Arrow,
		Wide:  d.High[0] - d.Low[0],
		Tall:  d.High[1] - d.Low[1],
		Areas: []DrawnPath{},
		Lines: []DrawnPath{},
	}
	out.Words = make([]struct {
		Words string  `json:"words"`
		X     float64 `json:"x"`
		Y     float64 `json:"y"`
	}, len(d.Texts))
	for _, a := range d.Areas {
		out.Areas = append(out.Areas, DrawnPath{Tone: string(a.Tone), Path: d.Path(a.Rings, true)})
	}
	for _, l := range d.Lines {
		out.Lines = append(out.Lines, DrawnPath{Tone: string(l.Tone), Path: d.Path([][]plane.Point{l.Points}, l.Closed)})
	}
	for i, w := range d.Texts {
		out.Words[i].X, out.Words[i].Y, out.Words[i].Words = w.At[0]-d.Low[0], d.High[1]-w.At[1], w.Words
	}
	return out
}

// flat lays loops out as the contract says.
func flat(loops [][]r3.Vec) [][]float32 {
	out := [][]float32{}
	for _, loop := range loops {
		row := make([]float32, 0, 3*len(loop))
		for _, v := range loop {
			row = append(row, float32(v.X), float32(v.Y), float32(v.Z))
		}
		out = append(out, row)
	}
	return out
}

func point(v r3.Vec) Point { return Point{v.X, v.Y, v.Z} }

func vec(p Point) r3.Vec { return r3.Vec{X: p[0], Y: p[1], Z: p[2]} }

// optional is nil for what was left out.
func optional[T comparable](v T) *T {
	if v == *new(T) {
		return nil
	}
	return &v
}

func given[T any](v *T) (out T) {
	if v != nil {
		out = *v
	}
	return out
}

// newID is that of what is to be added: its key, so that one request sent
// twice adds one thing, or a new one.
func newID(key *IdempotencyKey) uuid.UUID {
	if key != nil {
		return *key
	}
	return uuid.New()
}
