package api

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/life"
	"bathyform/core/quantity"
	"bathyform/core/watch"
	"bathyform/internal/store"

	"github.com/google/uuid"
	openapi_types "github.com/oapi-codegen/runtime/types"
)

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
	care, err := s.store.CareOf(ctx, []uuid.UUID{m.ID})
	if err != nil {
		return nil, err
	}
	states, err := s.states(ctx, []store.Mould{m})
	if err != nil {
		return nil, err
	}
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	design, err := s.store.DesignOf(ctx, m.ID)
	if err != nil {
		return nil, err
	}
	mishaps, err := s.accidents(ctx)
	if err != nil {
		return nil, err
	}
	l := newLedger()
	out := MouldPage{Mould: shown, State: states[m.ID], Cavities: []CavityChart{}, Together: []int{}, Survival: []SurvivalStep{},
		Story: storyOf(m, castings, care), Accidents: l.some(&mishaps)}
	if design != nil {
		out.Up = optional(design.ResinUp.String())
	}
	out.Cared = optional(cared(care))
	found := append(born(m), l.charts(&out, m, castings, care)...)
	if err := s.lived(ctx, l, &out, m); err != nil {
		return nil, err
	}
	out.Findings = fromFindings(found, shop.Practice.In())
	out.Numbers = l.rows
	return GetMouldPage200JSONResponse(out), nil
}

// cared is how often a mould was released, rested and repaired.
func cared(care []store.Care) string {
	n := map[string]int{}
	for _, c := range care {
		n[c.What]++
	}
	var says []string
	for _, what := range []string{store.Released, store.Rested, store.Repaired} {
		switch n[what] {
		case 0:
		case 1:
			says = append(says, what+" once")
		default:
			says = append(says, fmt.Sprintf("%s %d times", what, n[what]))
		}
	}
	return strings.Join(says, ", ")
}

// born is what stands against a mould since it was poured.
func born(m store.Mould) []finding.Finding {
	switch {
	case m.Birth == nil && m.Pulls == 0:
		return []finding.Finding{{Severity: finding.Note, Stage: finding.Pulls, Code: "not-looked-at",
			What: "Nobody has looked at it since it was opened.",
			Why: "Look for bubbles, flash over the part and torn edges, and take one pull as a proof before others of its series are " +
				"poured: what a mould is born with all its castings have.", Source: finding.CommonPractice}}
	case m.Birth == nil || len(*m.Birth) == 0:
		return nil
	}
	return []finding.Finding{{Severity: finding.Watch, Stage: finding.Pulls, Code: "born-with-flaws",
		What: "Born with " + strings.Join(*m.Birth, ", ") + ".",
		Why: "It counts against the making of the mould, not against its wear: degas the rubber or pour it thinner and higher, seal the " +
			"master, loosen the edges before it is opened. Glue a torn edge, or pour it anew.", Source: finding.CommonPractice}}
}

// charts watches the cavities of a mould, and says what they alarm for.
func (l *ledger) charts(out *MouldPage, m store.Mould, castings []store.Casting, care []store.Care) (found []finding.Finding) {
	_, plugged := caredFor(care)
	chart := watch.For(m.Cavities)
	out.FalseAlarm = l.number(derive.Of(quantity.Number, digits(100*chart.FalseAlarm(40), 3),
		"chance of an alarm for nothing in forty pulls of a cavity, per cent: exact, by the chart's states",
		derive.From("scrap that is borne (%)", quantity.Number, 100*chart.Usual, finding.CommonPractice),
		derive.From("scrap that is to be caught (%)", quantity.Number, 100*chart.Caught, finding.CommonPractice)))
	for i, w := range chartsOf(m, castings) {
		shut := plugged[m.ID][i+1]
		scrap := derive.Of(
			quantity.Number,
			digits(100*w.Scrap(), 3),
			"(bad + 1) / (pulls + 20) × 100",
			derive.From("bad", quantity.Number, float64(w.Bad), "the log"),
			derive.From(
				"pulls",
				quantity.Number,
				float64(w.Pulls),
				"the log",
			),
		).Noted("Drawn towards five per cent where little was seen.")
		out.Cavities = append(out.Cavities, CavityChart{Cavity: i + 1, Pulls: w.Pulls, Bad: w.Bad, States: nonNil(w.States),
			Alarms: nonNil(
				w.Alarms,
			), Height: chart.Height, Scrap: l.number(scrap), Plugged: shut,
			Left: goodLeft(out.Mould.Remaining, w.Scrap(), shut || m.Retired != nil)})
		if alarmed(w) && m.Retired == nil && !shut {
			found = append(found, finding.Finding{Severity: finding.Watch, Stage: finding.Pulls, Code: "cavity-alarms",
				What: fmt.Sprintf("Cavity %d gives more scrap than it should: its chart alarmed at pull %d.", i+1,
					w.Alarms[len(w.Alarms)-1]),
				Figure: finding.Of(quantity.Number, 100*w.Scrap()), Limit: finding.Of(quantity.Number, 100*chart.Usual),
				Why: "Look at it in good light: a blocked vent is cleared, a tear at the sprue glued. Plug the cavity and go on with the " +
					"others, or retire the mould when its next pull is not worth its shot.",
				Source: "Bernoulli CUSUM, Page 1954, Reynolds and Stoumbos 1999"})
		}
	}
	out.Together = append(out.Together, watch.Together(badOf(m, castings))...)
	if n := len(out.Together); n > 0 {
		found = append(found, finding.Finding{Severity: finding.Note, Stage: finding.Pulls, Code: "all-cavities-at-once",
			What: fmt.Sprintf("At pull %d all cavities were bad at once: that was the mix, not the mould.", out.Together[n-1]),
			Why:  "Ratio, mixing, damp, a lot or heat. Look at what was weighed then.", Source: finding.CommonPractice})
	}
	return found
}

// goodLeft is how many good castings a cavity still gives, of the pulls that are left in
// its mould.
func goodLeft(r Remaining, scrap float64, shut bool) *Remaining {
	if shut {
		return nil
	}
	good := func(pulls int) int { return int(math.Round(float64(pulls) * (1 - scrap))) }
	return &Remaining{Low: good(r.Low), Middle: good(r.Middle), High: good(r.High)}
}

// lived is what moulds of its rubber have lived through.
func (s *Server) lived(ctx context.Context, l *ledger, out *MouldPage, m store.Mould) error {
	log, err := s.store.Log(ctx, m.Rubber)
	if err != nil {
		return err
	}
	if m.Retired == nil {
		prior, err := s.priors(ctx)
		if err != nil {
			return err
		}
		left := s.lives.of(m.Rubber, prior(m.Rubber), log).forecast.Wearing(wear(m.Kind)).Left(m.Pulls)
		out.Left = l.some(&left)
	}
	came, err := s.cameOf(ctx, m)
	if err != nil {
		return err
	}
	out.Came = &came
	kind := records(log)
	out.KindMoulds = len(kind)
	if len(kind) < leastCurve {
		kind = nil
	}
	for _, st := range life.Survival(kind) {
		out.Survival = append(out.Survival, SurvivalStep{Pulls: st.Pulls, Share: digits(st.Share, 4), Low: digits(st.Low, 4),
			High: digits(st.High, 4), AtRisk: st.AtRisk})
	}
	treated, err := s.store.Treated(ctx, m.Rubber)
	if err != nil {
		return err
	}
	compared := l.compared(treated)
	out.Compared = &compared
	return nil
}

func nonNil(all []int) []int { return append([]int{}, all...) }

// storyOf is what has happened to a mould, the latest first.
func storyOf(m store.Mould, castings []store.Casting, care []store.Care) (out []StoryLine) {
	date := func(t time.Time) openapi_types.Date { return openapi_types.Date{Time: t} }
	if m.Retired != nil {
		out = append(out, StoryLine{Day: date(*m.Retired), Says: endings[m.Ended]})
	}
	told := 0
	for i := len(castings) - 1; i >= 0; {
		if told++; told > storyPulls {
			out = append(
				out,
				StoryLine{
					Day:  date(castings[i].Pulled),
					Says: fmt.Sprintf("%d earlier pulls stand in the log.", castings[i].Age+1),
				},
			)
			break
		}
		c := castings[i]
		says := ""
		for ; i >= 0 && castings[i].Age == c.Age; i-- {
			one := "good"
			switch {
			case castings[i].Second:
				one = "a second, " + castings[i].Defect
			case !castings[i].Good:
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
	says := "Poured of " + m.Rubber
	if m.Lot != "" {
		says += ", lot " + m.Lot
	}
	switch {
	case m.Birth == nil:
	case len(*m.Birth) == 0:
		says += ". At the first look it was clean"
	default:
		says += ". At the first look: " + strings.Join(*m.Birth, ", ")
	}
	return append(out, StoryLine{Day: date(m.Poured), Says: says + ".", Session: m.SessionID})
}

// endings is how the end of a mould is said.
var endings = map[string]string{"": "Retired.", store.Worn: "Worn out, and retired.", store.Torn: "Torn by hand, and retired.",
	store.Spoilt: "Spoilt by a bad mix, and retired.", store.Lost: "Lost.", store.Spare: "No longer wanted, and retired."}
