package api

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"math"
	"net/http"
	"slices"
	"strings"
	"time"

	"bathyform/core/derive"
	"bathyform/core/learnt"
	"bathyform/core/mix"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/internal/store"

	"github.com/google/uuid"
	openapi_types "github.com/oapi-codegen/runtime/types"
)

// How much of what was measured is looked at and shown.
const (
	mostMeasured = 50
	mostRows     = 40
	leastOffered = 3 // measurements before a figure is offered in place of the house's
)

// school is everything that the shop's log is learnt from.
type school struct {
	*ledger
	house    practice.House
	shelf    []store.Material
	measured []store.Measured
}

// GetLearnt tells what the log teaches of the figures that the shop reckons with.
func (s *Server) GetLearnt(ctx context.Context, _ GetLearntRequestObject) (GetLearntResponseObject, error) {
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	shelf, err := s.store.Materials(ctx)
	if err != nil {
		return nil, err
	}
	measured, err := s.store.Measured(ctx)
	if err != nil {
		return nil, err
	}
	yields, err := s.store.Yields(ctx)
	if err != nil {
		return nil, err
	}
	colours, err := s.store.Colours(ctx)
	if err != nil {
		return nil, err
	}
	finishing, err := s.store.Finishing(ctx)
	if err != nil {
		return nil, err
	}
	demoulded, err := s.store.Demoulded(ctx)
	if err != nil {
		return nil, err
	}
	t := school{newLedger(), shop.Practice, shelf, measured}
	out := Learnt{
		Lessons: []LearntLesson{t.residue(), t.bucket(), t.pour(), t.demould(demoulded), t.gel(), t.yield(yields), t.colour(colours),
			t.finishing(finishing)},
		Measured: []Measurement{},
	}
	for _, m := range measured[:min(mostMeasured, len(measured))] {
		out.Measured = append(
			out.Measured,
			Measurement{Id: m.ID, Day: openapi_types.Date{Time: m.Day}, What: MeasurementWhat(m.What),
				Material: m.Material, Value: m.Value, Celsius: m.Celsius, Grams: m.Grams, Says: optional(m.Says), Session: m.SessionID},
		)
	}
	out.Numbers = t.rows
	return GetLearnt200JSONResponse(out), nil
}

// pooling is how groups are leant on one another.
const pooling = "Leant on one another by partial pooling (DerSimonian & Laird 1986, Lindley & Smith 1972)."

// groups are measurements of a kind by their material, as f has them.
func (t school) groups(what string, f func(store.Measured) (float64, bool)) (out []learnt.Group) {
	at := map[string]int{}
	for _, m := range t.measured {
		v, ok := f(m)
		if m.What != what || !ok {
			continue
		}
		i, known := at[m.Material]
		if !known {
			i = len(out)
			at[m.Material] = i
			out = append(out, learnt.Group{Of: m.Material})
		}
		out[i].Values = append(out[i].Values, v)
	}
	slices.SortFunc(out, func(a, b learnt.Group) int { return cmp.Compare(a.Of, b.Of) })
	return out
}

func asItIs(m store.Measured) (float64, bool) { return m.Value, true }

// lesson puts what groups have come to together.
func (t school) lesson(key LearntLessonKey, title, unit, why string, kind quantity.Kind, p learnt.Pooled) LearntLesson {
	out := LearntLesson{Key: key, Title: title, Unit: unit, Count: p.N, Why: why, Rows: []LearntRow{}}
	for _, g := range p.Groups {
		mean := digits(g.Mean, 3)
		row := LearntRow{Of: g.Of, Count: g.N, Mean: &mean, Spread: number(g.Spread, 2), Error: number(g.Error, 1)}
		pooled := derive.Of(
			kind,
			digits(g.Pooled, 3),
			"own share × own mean + the rest × the mean of all",
			derive.From("own mean", kind, mean, fmt.Sprintf("%d measured", g.N)),
			derive.From(
				"own share",
				quantity.Number,
				digits(g.Own, 3),
				"variance between the materials / (that + own variance of the mean)",
			),
			derive.From("mean of all", kind, digits(p.Mean, 3), fmt.Sprintf("%d measured of %d materials", p.N, len(p.Groups))),
		)
		row.Pooled = t.some(&pooled)
		out.Rows = append(out.Rows, row)
	}
	return out
}

// number is one that may not be known.
func number(v float64, n int) *float64 {
	if math.IsNaN(v) || math.IsInf(v, 0) {
		return nil
	}
	v = digits(v, n)
	return &v
}

// instead offers what was learnt in place of a figure of the house.
func instead(field LearntOfferField, has, usual, value float64, n int, label string) *LearntOffer {
	if n < leastOffered || math.IsNaN(value) {
		return nil
	}
	return &LearntOffer{
		Of:    "practice",
		Field: field,
		Has:   digits(has, 4),
		Value: digits(value, 2),
		Usual: has == usual,
		Label: label,
	}
}

func (t school) residue() LearntLesson {
	p := learnt.Pool(t.groups(store.Residue, asItIs))
	out := t.lesson(
		"residue",
		"What stays in a cup of resin",
		"g",
		"What the empty cup weighs over its tare. "+pooling,
		quantity.Mass,
		p,
	)
	mL := learnt.Pool(t.groups(store.Residue, func(m store.Measured) (float64, bool) {
		d, ok := t.density(m.Material)
		return m.Value / d, ok
	}))
	out.House = instead("cupKeeps", t.house.CupKeeps, practice.Usual().CupKeeps, mL.Mean, mL.N,
		fmt.Sprintf("mL stay in the cup, beside the %.3g %% on top of every shot", t.house.ShotOver))
	return out
}

func (t school) density(material string) (float64, bool) {
	m, ok := t.material(material)
	return m.Density, ok
}

func (t school) material(name string) (store.Material, bool) {
	at := slices.IndexFunc(t.shelf, func(m store.Material) bool { return m.Name == name })
	if at < 0 {
		return store.Material{}, false
	}
	return t.shelf[at], true
}

func (t school) bucket() LearntLesson {
	p := learnt.Pool(t.groups(store.Bucket, func(m store.Measured) (float64, bool) {
		return 100 * m.Value / given(m.Grams), given(m.Grams) > 0
	}))
	out := t.lesson(
		"bucket",
		"What stays in a bucket of rubber",
		"% of the batch",
		"What the empty bucket weighs over its tare, as a share "+
			"of the batch. "+pooling,
		quantity.Number,
		p,
	)
	out.House = instead(
		"rubberOver",
		t.house.RubberOver,
		practice.Usual().RubberOver,
		p.Mean,
		p.N,
		"% more rubber than the box takes",
	)
	return out
}

func (t school) pour() LearntLesson {
	p := learnt.Pool(t.groups(store.Poured, func(m store.Measured) (float64, bool) {
		minutes := m.Value - t.house.PourPerKilo*given(m.Grams)/1000
		return max(0, minutes), given(m.Grams) > 0
	}))
	out := t.lesson(
		"pour",
		"Minutes to pour a mould of rubber",
		"min",
		fmt.Sprintf("Beside %.3g min for each kilogram, which the house has. %s",
			t.house.PourPerKilo, pooling),
		quantity.Number,
		p,
	)
	out.House = instead(
		"pourMinutes",
		t.house.PourMinutes,
		practice.Usual().PourMinutes,
		p.Mean,
		p.N,
		"min a pour, beside those by the kilogram",
	)
	return out
}

func (t school) demould(pulls []store.Demoulded) LearntLesson {
	all := t
	all.measured = slices.Clone(t.measured)
	for _, d := range pulls {
		all.measured = append(all.measured, store.Measured{What: store.Demould, Material: d.Material, Value: d.Minutes})
	}
	p := learnt.Pool(all.groups(store.Demould, asItIs))
	out := t.lesson(
		"demould",
		"Minutes until castings came out well",
		"min",
		"From the fill to a good casting in the hand, by the pulls that say it: it may have gone sooner. "+pooling,
		quantity.Number,
		p,
	)
	for i, row := range out.Rows {
		if m, ok := t.material(row.Of); ok && row.Count >= leastOffered {
			out.Rows[i].Offer = &LearntOffer{Of: "material", MaterialId: &m.ID, Field: "demould", Has: m.Traits.Demould,
				Value: digits(p.Groups[i].Pooled, 2), Usual: m.Traits.Demould == 0, Label: "min until it is demoulded"}
		}
	}
	return out
}

func (t school) gel() LearntLesson {
	out := LearntLesson{Key: "gel", Title: "Pot life against the warmth", Unit: "min", Rows: []LearntRow{},
		Why: "From first contact until a cup could not be poured any more. The logarithm of the minutes goes straight " +
			"with the temperature " +
			"(least squares); from fewer than four cups, or within 4 °C, twice as fast for every 10 °C (common practice)."}
	cups := map[string][]learnt.Gelled{}
	for _, m := range t.measured {
		if m.What == store.Gel && m.Value > 0 {
			sheet, _ := t.material(m.Material)
			at := mix.Traits(sheet.Traits).Reference()
			if m.Celsius != nil {
				at = *m.Celsius
			}
			cups[m.Material] = append(cups[m.Material], learnt.Gelled{Celsius: at, Minutes: m.Value})
		}
	}
	for _, name := range slices.Sorted(maps.Keys(cups)) {
		sheet, known := t.material(name)
		w, ok := learnt.OfWarmth(cups[name], mix.Traits(sheet.Traits).Reference(), usualQ10)
		if !ok {
			continue
		}
		out.Count += w.N
		pooled := derive.Of(quantity.Number, digits(w.Minutes, 3), "the cups' minutes, taken to the temperature of the sheet",
			derive.From("cups", quantity.Number, float64(w.N), "the bench"),
			derive.From("temperature of the sheet (°C)", quantity.Number, w.Celsius, "the sheet"),
			derive.From("times as fast 10 °C warmer", quantity.Number, digits(w.Q10, 3), map[bool]string{true: "the cups",
				false: "common practice, no source"}[w.Fitted]))
		row := LearntRow{
			Of:     name,
			Count:  w.N,
			Pooled: t.some(&pooled),
			Says: optional(fmt.Sprintf("at %.3g °C; %.2g times as fast 10 °C warmer%s",
				w.Celsius, w.Q10, map[bool]string{true: "", false: ", as is usual"}[w.Fitted])),
		}
		if known && w.N >= leastOffered {
			row.Offer = &LearntOffer{Of: "material", MaterialId: &sheet.ID, Field: "potLife", Has: sheet.Traits.PotLife,
				Value: digits(
					w.Minutes,
					2,
				), Usual: sheet.Traits.PotLife == 0, Label: fmt.Sprintf("min of pot life at %.3g °C", w.Celsius)}
		}
		out.Rows = append(out.Rows, row)
	}
	return out
}

// usualQ10 is by how much faster a mix reacts 10 °C warmer; common practice, no source.
const usualQ10 = 2.0

// yield leans each cavity's yield on the others of its job: on the arcsine of its root,
// where the scatter is the same for all shares (Efron & Morris, J. Am. Stat. Assoc. 70,
// 1975).
func (t school) yield(all []store.CavityYield) LearntLesson {
	out := LearntLesson{Key: "yield", Title: "Good castings by cavity", Unit: "%", Rows: []LearntRow{},
		Why: "Good of all castings that count. Each cavity leans on the others of its job: partial pooling of the arcsine of the root of " +
			"its share, Efron & Morris 1975, with the variance between them after DerSimonian & Laird 1986. The worst stand first."}
	of := map[uuid.UUID][]store.CavityYield{}
	for _, y := range all {
		of[y.JobID] = append(of[y.JobID], y)
		out.Count += y.Good + y.Bad
	}
	var shares []cavityShare
	for _, cavities := range of {
		shares = append(shares, leant(cavities)...)
	}
	slices.SortFunc(shares, func(a, b cavityShare) int {
		return cmp.Or(cmp.Compare(a.share, b.share), cmp.Compare(a.Mould, b.Mould), cmp.Compare(a.Cavity, b.Cavity))
	})
	for _, c := range shares[:min(mostRows, len(shares))] {
		pooled := derive.Of(
			quantity.Number,
			digits(100*c.share, 3),
			"sine squared of (own share × own + the rest × all of the job), ×100",
			derive.From(
				"good",
				quantity.Number,
				float64(c.Good),
				"the log",
			),
			derive.From("bad", quantity.Number, float64(c.Bad), "the log"),
			derive.From("own share", quantity.Number, digits(c.own, 3), "variance between the cavities / (that + own)"),
		)
		raw := digits(100*float64(c.Good)/float64(c.Good+c.Bad), 3)
		out.Rows = append(out.Rows, LearntRow{Of: fmt.Sprintf("%s, %s, cavity %d", c.Job, c.Mould, c.Cavity), Count: c.Good + c.Bad,
			Mean: &raw, Pooled: t.some(&pooled), JobId: &c.JobID})
	}
	return out
}

// cavityShare is the yield of a cavity, leant on the others of its job.
type cavityShare struct {
	store.CavityYield
	own   float64 // share of it that is its own
	share float64
}

// leant leans the cavities of a job on one another.
func leant(all []store.CavityYield) []cavityShare {
	means, variances := make([]float64, len(all)), make([]float64, len(all))
	for i, y := range all {
		n := float64(y.Good + y.Bad)
		means[i] = math.Asin(math.Sqrt((float64(y.Good) + 3.0/8) / (n + 3.0/4))) // Anscombe 1948
		variances[i] = 1 / (4*n + 2)
	}
	mean, _, between := learnt.Combine(means, variances)
	out := make([]cavityShare, len(all))
	for i, y := range all {
		own := 1.0
		if len(all) > 1 {
			own = between / (between + variances[i])
		}
		root := math.Sin(own*means[i] + (1-own)*mean)
		out[i] = cavityShare{y, own, root * root}
	}
	return out
}

func (t school) colour(all []store.ColourUsed) LearntLesson {
	out := LearntLesson{Key: "colour", Title: "Colour recipes that matched", Unit: "of their pulls", Rows: []LearntRow{},
		Why: "As they were weighed or counted, with how often the colour matched where somebody said so. The surest stand first."}
	for _, c := range all {
		out.Count += c.Matched + c.Missed
		id := c.JobID
		share := digits(float64(c.Matched)/float64(max(1, c.Matched+c.Missed)), 2)
		out.Rows = append(out.Rows, LearntRow{Of: c.Colour, Count: c.Matched + c.Missed, Mean: &share, JobId: &id,
			Says: optional(fmt.Sprintf("%s: matched %d of %d", c.Job, c.Matched, c.Matched+c.Missed))})
	}
	out.Rows = out.Rows[:min(mostRows, len(out.Rows))]
	return out
}

func (t school) finishing(all []store.Finished) LearntLesson {
	at := map[string]int{}
	var groups []learnt.Group
	ids := map[string]uuid.UUID{}
	for _, f := range all {
		i, ok := at[f.Job]
		if !ok {
			i = len(groups)
			at[f.Job], ids[f.Job] = i, f.JobID
			groups = append(groups, learnt.Group{Of: f.Job})
		}
		groups[i].Values = append(groups[i].Values, f.Minutes)
	}
	out := t.lesson("finishing", "Minutes of finishing a casting", "min", "What was written down of a pull, by its castings. "+
		pooling, quantity.Number, learnt.Pool(groups))
	for i, row := range out.Rows {
		id := ids[row.Of]
		out.Rows[i].JobId = &id
	}
	return out
}

// AddMeasured keeps what was measured.
func (s *Server) AddMeasured(ctx context.Context, r AddMeasuredRequestObject) (AddMeasuredResponseObject, error) {
	b := r.Body
	m := store.Measured{
		ID:       newID(r.Params.IdempotencyKey),
		Day:      b.Day.Time,
		What:     string(b.What),
		Material: strings.TrimSpace(b.Material),
		Value:    b.Value,
		Celsius:  b.Celsius,
		Grams:    b.Grams,
		Says:     strings.TrimSpace(given(b.Says)),
	}
	refuse := func(title, detail string) (AddMeasuredResponseObject, error) {
		return nil, problem(http.StatusUnprocessableEntity, title, detail)
	}
	stays := m.What == store.Residue || m.What == store.Bucket
	switch {
	case m.Material == "":
		return refuse("Of which material?", "Materials learn apart, and lean on one another.")
	case !(m.Value >= 0) || m.Value > 1e5 || m.Value == 0 && !stays:
		return refuse("That cannot be right", "What stays weighs nothing or more; what lasts takes more than no time.")
	case m.Celsius != nil && (*m.Celsius < coldestShop || *m.Celsius > warmestShop):
		return refuse("That temperature cannot be right", fmt.Sprintf("It lies between %g and %g.", coldestShop, warmestShop))
	case m.Grams != nil && !(*m.Grams > 0 && *m.Grams < mostGrams):
		return refuse("That batch cannot be right", "It weighs more than nothing; leave it empty where nobody knows.")
	case m.What == store.Bucket && m.Grams == nil, m.What == store.Poured && m.Grams == nil:
		return refuse("How large was the batch?", "What stays in a bucket, and how long a pour takes, go by its weight.")
	case stays && m.Grams != nil && m.Value >= *m.Grams:
		return refuse("More cannot stay than was mixed", "Take the cup's own weight off.")
	case m.Day.After(s.now().AddDate(0, 0, 1)) || m.Day.Before(time.Date(1990, 1, 1, 0, 0, 0, 0, time.UTC)):
		return refuse("That day cannot be right", "Write down what was measured on the day it was.")
	}
	return AddMeasured204Response{}, s.store.AddMeasured(ctx, m)
}

// StrikeMeasured takes a measurement out of what is learnt from.
func (s *Server) StrikeMeasured(ctx context.Context, r StrikeMeasuredRequestObject) (StrikeMeasuredResponseObject, error) {
	return StrikeMeasured204Response{}, s.store.StrikeMeasured(ctx, r.MeasuredId, true)
}

// UnstrikeMeasured takes it in again.
func (s *Server) UnstrikeMeasured(ctx context.Context, r UnstrikeMeasuredRequestObject) (UnstrikeMeasuredResponseObject, error) {
	return UnstrikeMeasured204Response{}, s.store.StrikeMeasured(ctx, r.MeasuredId, false)
}
