package api

import (
	"context"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"bathyform/core/derive"
	"bathyform/core/enough"
	"bathyform/core/finding"
	"bathyform/core/life"
	"bathyform/core/pattern"
	"bathyform/core/quantity"
	"bathyform/core/session"
	"bathyform/core/watch"
	"bathyform/internal/store"

	"github.com/google/uuid"
	openapi_types "github.com/oapi-codegen/runtime/types"
)

// How far the log is looked at.
const (
	mostNewMoulds = 12 // that are tried beside those on the rack
	suspectFor    = 10 // pulls after an alarm
	leastCurve    = 5  // moulds of which a survival curve is shown: fewer say nothing
	usualGood     = 9  // castings of ten that come out good, where nothing is logged yet; common practice, no source
	usualBad      = 1
	storyPulls    = 200 // of a mould that its story tells
)

// GetTaught tells what a job's log teaches.
func (s *Server) GetTaught(ctx context.Context, r GetTaughtRequestObject) (GetTaughtResponseObject, error) {
	j, err := s.store.Job(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	castings, err := s.store.CastingsOfJob(ctx, j.ID)
	if err != nil {
		return nil, err
	}
	moulds, err := s.store.MouldsOf(ctx, j.ID)
	if err != nil {
		return nil, err
	}
	l := newLedger()
	out := Taught{Wanted: max(0, j.Order.Quantity-j.Good), Causes: []Cause{}, Alarms: []CavityAlarm{}}
	var all []pattern.Casting
	for _, c := range castings {
		if c.Good {
			out.Good++
		} else {
			out.Bad++
		}
		all = append(all, patternOf(c))
	}
	for _, c := range pattern.Causes(all) {
		t := c.Table
		out.Causes = append(
			out.Causes,
			Cause{Kind: CauseKind(c.Kind), Of: c.Of, Says: c.Says, Suggest: c.Suggest, Chance: digits(c.Chance, 2),
				Tried: c.Tried, Bad: t.Bad, Castings: t.Bad + t.Good, ElsewhereBad: t.OtherBad, Elsewhere: t.OtherBad + t.OtherGood},
		)
	}
	for _, m := range moulds {
		if m.Retired != nil {
			continue
		}
		for i, w := range chartsOf(m, castings) {
			if n := len(w.Alarms); n > 0 && w.Pulls-w.Alarms[n-1] < suspectFor {
				out.Alarms = append(
					out.Alarms,
					CavityAlarm{Mould: m.Number, MouldId: &m.ID, Cavity: i + 1, Pulls: w.Pulls - w.Alarms[n-1]},
				)
			}
		}
	}
	if out.Wanted > 0 {
		if out.Enough, err = s.enough(ctx, l, j, moulds, out.Good, out.Bad); err != nil {
			return nil, err
		}
	}
	out.Numbers = l.rows
	return GetTaught200JSONResponse(out), nil
}

func patternOf(c store.Casting) pattern.Casting {
	out := pattern.Casting{Mould: c.Number, Cavity: c.Cavity, Age: c.Age, Run: c.Pulled.Format("2 January 2006"), Lot: c.Under.Lot,
		Celsius: given(c.Under.Celsius)}
	if !c.Good {
		out.Defect = c.Defect
		if out.Defect == "" {
			out.Defect = "scrap"
		}
	}
	return out
}

// chartsOf are the charts of a mould's cavities.
func chartsOf(m store.Mould, castings []store.Casting) (out []watch.Watched) {
	bad := make([][]bool, m.Cavities)
	for _, c := range castings {
		if c.MouldID == m.ID && c.Cavity <= m.Cavities {
			bad[c.Cavity-1] = append(bad[c.Cavity-1], !c.Good)
		}
	}
	chart := watch.For(m.Cavities)
	for _, b := range bad {
		out = append(out, chart.Run(b))
	}
	return out
}

// enough is whether the rack finishes what is still wanted of a job; nil where its
// yield tells nothing yet.
func (s *Server) enough(ctx context.Context, l *ledger, j store.Job, moulds []store.Mould, good, bad int) (*Enough, error) {
	o := enough.Order{
		Wanted:   max(0, j.Order.Quantity-j.Good),
		Yield:    enough.Yield{Good: good, Bad: bad, Counted: true},
		Cavities: 1,
	}
	counted := "the log"
	switch {
	case good == 0 && bad > 0:
		return nil, nil
	case good == 0:
		o.Yield.Good, o.Yield.Bad = usualGood, usualBad
		counted = "nothing is logged yet: nine of ten, common practice"
	}
	rubber, kind, cavities, n, pulls := "", "", 0, 0, 0
	ids := make([]uuid.UUID, len(moulds))
	for i, m := range moulds {
		ids[i] = m.ID
	}
	care, err := s.store.CareOf(ctx, ids)
	if err != nil {
		return nil, err
	}
	_, plugged := caredFor(care)
	for _, m := range moulds {
		pulls += m.Pulls
		usable := m.Cavities
		for _, shut := range plugged[m.ID] {
			if shut {
				usable--
			}
		}
		if m.Retired == nil && usable > 0 {
			o.Moulds = append(o.Moulds, m.Pulls)
			cavities, n = cavities+usable, n+1
		}
		rubber, kind = m.Rubber, m.Kind
	}
	switch {
	case n > 0:
		o.Cavities = max(1, (cavities+n/2)/n)
	case j.Design != nil:
		o.Cavities = max(1, j.Design.Cavities())
	}
	if rubber == "" && j.Design != nil {
		if id, err := uuid.Parse(j.Design.Rubber); err == nil {
			if m, err := s.store.Material(ctx, id); err == nil {
				rubber = m.Name
			}
		}
	}
	log, err := s.store.Log(ctx, rubber)
	if err != nil {
		return nil, err
	}
	prior, err := s.priors(ctx)
	if err != nil {
		return nil, err
	}
	o.Forecast = s.lives.of(rubber, prior(rubber), log).forecast.Wearing(wear(kind))
	o.Accidents = life.Accidents(0, pulls)
	need, err := o.Pulls()
	if err != nil {
		return nil, unusable("Nobody can tell whether it is enough", err)
	}
	key := fmt.Sprint(o.Wanted, o.Yield, o.Cavities, o.Moulds, rubber, kind, log)
	chances, err := s.lives.chances(key, func() ([]float64, error) { return o.Chances(mostNewMoulds) })
	if err != nil {
		return nil, unusable("Nobody can tell whether it is enough", err)
	}
	wanted := derive.From("still wanted", quantity.Number, float64(o.Wanted), "the order, less the good ones in the log")
	was := []derive.Input{derive.From("good so far", quantity.Number, float64(o.Yield.Good), counted),
		derive.From("bad so far", quantity.Number, float64(o.Yield.Bad), counted)}
	out := &Enough{Chances: []float64{}, Moulds: -1}
	out.Pulls = l.number(
		derive.Of(quantity.Number, float64(need), "pulls by which enough are good, 95 times in 100: beta-binomial of the yield "+
			"so far", append([]derive.Input{wanted, derive.From("cavities of a "+
			"mould", quantity.Number, float64(o.Cavities), "the rack")}, was...)...),
	)
	out.Finish = l.number(
		derive.Of(quantity.Number, digits(100*chances[0], 3), "chance that the moulds in use give so many pulls before they "+
			"wear out or are torn, per cent", derive.From("moulds in use", quantity.Number, float64(n), "the rack"), wanted,
			o.Forecast.NewMould().As("a new mould gives"), derive.From("accidents a pull", quantity.Number, digits(o.Accidents, 3),
				"half an accident in fifty pulls beforehand, from memory")),
	)
	for _, p := range chances {
		out.Chances = append(out.Chances, digits(p, 3))
	}
	if last := len(chances) - 1; chances[last] >= enough.Sure {
		out.Moulds = last
	}
	return out, nil
}

// GetMouldPage tells all of a mould.
func (s *Server) GetMouldPage(ctx context.Context, r GetMouldPageRequestObject) (GetMouldPageResponseObject, error) {
	m, err := s.store.Mould(ctx, r.MouldId)
	if err != nil {
		return nil, err
	}
	castings, err := s.store.CastingsOfMould(ctx, m.ID)
	if err != nil {
		return nil, err
	}
	shown, err := s.mould(ctx, m.ID)
	if err != nil {
		return nil, err
	}
	log, err := s.store.Log(ctx, m.Rubber)
	if err != nil {
		return nil, err
	}
	open, err := s.store.OpenSessions(ctx)
	if err != nil {
		return nil, err
	}
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	l := newLedger()
	care, err := s.store.CareOf(ctx, []uuid.UUID{m.ID})
	if err != nil {
		return nil, err
	}
	resting, plugged := caredFor(care)
	chart := watch.For(m.Cavities)
	out := MouldPage{
		Mould:    shown,
		State:    "use",
		Cavities: []CavityChart{},
		Together: []int{},
		Survival: []SurvivalStep{},
		Story:    []StoryLine{},
	}
	out.FalseAlarm = l.number(
		derive.Of(quantity.Number, digits(100*chart.FalseAlarm(40), 3), "chance of an alarm for nothing in forty pulls of a "+
			"cavity, per cent: exact, by the chart's states", derive.From("scrap that is borne "+
			"(%)", quantity.Number, 100*chart.Usual, finding.CommonPractice),
			derive.From("scrap that is to be caught (%)", quantity.Number, 100*chart.Caught, finding.CommonPractice)),
	)
	var found []finding.Finding
	bad := make([][]bool, m.Cavities)
	for _, c := range castings {
		if c.Cavity <= m.Cavities {
			bad[c.Cavity-1] = append(bad[c.Cavity-1], !c.Good)
		}
	}
	for i, w := range chartsOf(m, castings) {
		out.Cavities = append(
			out.Cavities,
			CavityChart{Cavity: i + 1, Pulls: w.Pulls, Bad: w.Bad, States: nonNil(w.States), Alarms: nonNil(w.Alarms),
				Height: chart.Height, Scrap: l.number(derive.Of(
					quantity.Number,
					digits(100*w.Scrap(), 3),
					"(bad + 1) / (pulls + 20) × 100",
					derive.From(
						"bad",
						quantity.Number,
						float64(w.Bad),
						"the log",
					),
					derive.From("pulls", quantity.Number, float64(w.Pulls), "the log"),
				).
					Noted("Drawn towards five per cent where little was seen."))},
		)
		out.Cavities[i].Plugged = plugged[m.ID][i+1]
		if n := len(w.Alarms); n > 0 && w.Pulls-w.Alarms[n-1] < suspectFor && m.Retired == nil && !out.Cavities[i].Plugged {
			out.State = "suspect"
			found = append(found, finding.Finding{Severity: finding.Watch, Stage: finding.Pulls, Code: "cavity-alarms",
				What:   fmt.Sprintf("Cavity %d gives more scrap than it should: its chart alarmed at pull %d.", i+1, w.Alarms[n-1]),
				Figure: finding.Of(quantity.Number, 100*w.Scrap()), Limit: finding.Of(quantity.Number, 100*chart.Usual),
				Why: "Look at it in good light: a blocked vent is cleared, a tear at the sprue glued. Plug the cavity " +
					"and go on with the others, or " +
					"retire the mould when its next pull is not worth its shot.",
				Source: "Bernoulli CUSUM, Page 1954, Reynolds and Stoumbos 1999"})
		}
	}
	out.Together = append(out.Together, watch.Together(bad)...)
	if n := len(out.Together); n > 0 {
		found = append(found, finding.Finding{Severity: finding.Note, Stage: finding.Pulls, Code: "all-cavities-at-once",
			What: fmt.Sprintf("At pull %d all cavities were bad at once: that was the mix, not the mould.", out.Together[n-1]),
			Why:  "Ratio, mixing, damp, a lot or heat. Look at what was weighed then.", Source: finding.CommonPractice})
	}
	if resting[m.ID] {
		out.State = "resting"
	}
	for _, b := range open {
		if slices.ContainsFunc(b.Plan.Moulds, func(x session.Mould) bool { return x.ID == m.ID.String() }) {
			out.State = "bench"
		}
	}
	if m.Retired != nil {
		out.State = "retired"
	}
	kind := records(log)
	prior, err := s.priors(ctx)
	if err != nil {
		return nil, err
	}
	came := []ForecastCame{}
	for _, c := range s.lives.of(m.Rubber, prior(m.Rubber), log).checked(prior(m.Rubber), log) {
		came = append(came, ForecastCame{At: c.At, Low: c.Forecast.Low, High: c.Forecast.High, Gave: c.Gave, Inside: c.Inside})
	}
	out.Came = &came
	out.KindMoulds = len(kind)
	if len(kind) < leastCurve {
		kind = nil
	}
	for _, st := range life.Survival(kind) {
		out.Survival = append(
			out.Survival,
			SurvivalStep{Pulls: st.Pulls, Share: digits(st.Share, 4), Low: digits(st.Low, 4), High: digits(st.High, 4),
				AtRisk: st.AtRisk},
		)
	}
	out.Story = storyOf(m, castings, care)
	out.Findings = fromFindings(found, shop.Practice.In())
	out.Numbers = l.rows
	return GetMouldPage200JSONResponse(out), nil
}

func nonNil(all []int) []int { return append([]int{}, all...) }

// cares is how what was done is said.
var cares = map[string]string{store.Repaired: "repaired", store.Rested: "put aside to rest", store.Back: "taken back into use",
	store.Released: "released", store.Plugged: "plugged", store.Opened: "opened again", store.Noted: "noted"}

// caredFor is which moulds rest, and which of their cavities are plugged.
func caredFor(all []store.Care) (resting map[uuid.UUID]bool, plugged map[uuid.UUID]map[int]bool) {
	resting, plugged = map[uuid.UUID]bool{}, map[uuid.UUID]map[int]bool{}
	for _, c := range all {
		switch c.What {
		case store.Rested, store.Back:
			resting[c.MouldID] = c.What == store.Rested
		case store.Plugged, store.Opened:
			if plugged[c.MouldID] == nil {
				plugged[c.MouldID] = map[int]bool{}
			}
			plugged[c.MouldID][c.Cavity] = c.What == store.Plugged
		}
	}
	return resting, plugged
}

// CareForMould keeps what was done to a mould.
func (s *Server) CareForMould(ctx context.Context, r CareForMouldRequestObject) (CareForMouldResponseObject, error) {
	m, err := s.store.Mould(ctx, r.MouldId)
	if err != nil {
		return nil, err
	}
	b := r.Body
	c := store.Care{
		ID:      newID(r.Params.IdempotencyKey),
		MouldID: m.ID,
		Day:     b.Day.Time,
		What:    string(b.What),
		Cavity:  given(b.Cavity),
		Says:    strings.TrimSpace(given(b.Says)),
	}
	switch {
	case (c.What == store.Plugged || c.What == store.Opened) && c.Cavity == 0:
		return nil, problem(http.StatusUnprocessableEntity, "Which cavity?", "Only a cavity is plugged, or opened again.")
	case c.What == store.Noted && c.Says == "":
		return nil, problem(http.StatusUnprocessableEntity, "There is nothing to note", "Write what was done to it.")
	case c.Day.After(s.now().AddDate(0, 0, 1)):
		return nil, problem(http.StatusUnprocessableEntity, "That day has not come yet", "Write it down when it has been done.")
	}
	if err := inLog(s.store.AddCare(ctx, c), m); err != nil {
		return nil, err
	}
	return CareForMould204Response{}, nil
}

// storyOf is what has happened to a mould, the latest first.
func storyOf(m store.Mould, castings []store.Casting, care []store.Care) (out []StoryLine) {
	date := func(t time.Time) openapi_types.Date { return openapi_types.Date{Time: t} }
	if m.Retired != nil {
		says := "Retired."
		if m.WornOut {
			says = "Worn out, and retired."
		}
		out = append(out, StoryLine{Day: date(*m.Retired), Says: says})
	}
	for i := len(castings) - 1; i >= 0 && len(out) < storyPulls; {
		c := castings[i]
		says := ""
		for ; i >= 0 && castings[i].Age == c.Age; i-- {
			one := "good"
			if !castings[i].Good {
				one = castings[i].Defect
			}
			if m.Cavities > 1 {
				one = fmt.Sprintf("cavity %d %s", castings[i].Cavity, one)
			}
			if says != "" {
				one += ", " + says
			}
			says = one
		}
		out = append(out, StoryLine{Day: date(c.Pulled), Says: fmt.Sprintf("Pull %d: %s.", c.Age+1, says), Session: c.SessionID})
	}
	for _, c := range care {
		says := cares[c.What]
		if c.Cavity > 0 {
			says = fmt.Sprintf("Cavity %d %s", c.Cavity, says)
		}
		if c.Says != "" {
			says += ": " + c.Says
		}
		out = append(out, StoryLine{Day: date(c.Day), Says: sentence(says)})
	}
	slices.SortStableFunc(out, func(a, b StoryLine) int { return b.Day.Compare(a.Day.Time) })
	return append(out, StoryLine{Day: date(m.Poured), Says: "Poured of " + m.Rubber + ".", Session: m.SessionID})
}
