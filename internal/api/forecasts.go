package api

import (
	"cmp"
	"context"
	"crypto/sha256"
	"fmt"
	"maps"
	"slices"
	"sync"
	"time"

	"bathyform/core/derive"
	"bathyform/core/life"
	"bathyform/core/quantity"
	"bathyform/internal/store"

	openapi_types "github.com/oapi-codegen/runtime/types"
)

// past keeps the forecasts of long ago of each rubber's moulds, for as long as their
// days stay the same.
type past struct {
	mu      sync.Mutex
	rubbers map[string]said
}

// said is what was said of a rubber's moulds, and what came.
type said struct {
	log    [sha256.Size]byte
	moulds []store.Lived
	came   []life.Came
}

// gone is what a rubber's moulds have gone through, with nothing said of it yet, and
// what the trade expects of them.
func (s *Server) gone(ctx context.Context, rubber string) (said, life.Prior, error) {
	moulds, err := s.store.Lives(ctx, rubber)
	if err != nil {
		return said{}, life.Prior{}, err
	}
	priors, err := s.priors(ctx)
	if err != nil {
		return said{}, life.Prior{}, err
	}
	prior := priors(rubber)
	h := sha256.New()
	fmt.Fprintln(h, prior, moulds)
	return said{log: [sha256.Size]byte(h.Sum(nil)), moulds: moulds}, prior, nil
}

// said makes the forecasts of a rubber's moulds as they stood then.
func (s *Server) said(ctx context.Context, rubber string) (said, error) {
	out, prior, err := s.gone(ctx, rubber)
	if err != nil {
		return said{}, err
	}
	s.past.mu.Lock()
	known, ok := s.past.rubbers[rubber]
	s.past.mu.Unlock()
	if ok && known.log == out.log {
		return known, nil
	}
	out.came = life.Checked(prior, livesOf(out.moulds))
	s.past.mu.Lock()
	defer s.past.mu.Unlock()
	if s.past.rubbers == nil || len(s.past.rubbers) >= mostLives {
		s.past.rubbers = make(map[string]said)
	}
	s.past.rubbers[rubber] = out
	return out, nil
}

func livesOf(moulds []store.Lived) []life.Lived {
	day := func(t time.Time) int { return int(dayOf(&t)) }
	out := make([]life.Lived, len(moulds))
	for i, m := range moulds {
		l := life.Lived{Poured: day(m.Poured), WornOut: m.WornOut && m.Retired != nil, Wear: wear(m.Kind)}
		for _, p := range m.Pulled {
			l.Pulled = append(l.Pulled, day(p))
		}
		if m.Retired != nil {
			l.Retired, l.Ended = true, day(*m.Retired)
		}
		out[i] = l
	}
	return out
}

// shown is a forecast as the page has it.
func (p said) shown(c life.Came) ForecastCame {
	m := p.moulds[c.Mould]
	return ForecastCame{MouldId: m.ID, Mould: m.Number, Job: m.JobName,
		Day: openapi_types.Date{Time: time.Unix(int64(c.Day)*86400, 0).UTC()}, At: c.At, Low: c.Forecast.Low, Middle: c.Forecast.Middle,
		High: c.Forecast.High, Gave: c.Gave, WornOut: c.WornOut, Fate: fates[c.Fate]}
}

var fates = map[life.Fate]ForecastCameFate{life.Open: ForecastCameFateOpen, life.Less: ForecastCameFateLess,
	life.Inside: ForecastCameFateInside, life.More: ForecastCameFateMore}

// cameOf are the forecasts of one mould as they stood then, in the order of the days.
func (s *Server) cameOf(ctx context.Context, m store.Mould) ([]ForecastCame, error) {
	p, prior, err := s.gone(ctx, m.Rubber)
	if err != nil {
		return nil, err
	}
	out := []ForecastCame{}
	at := slices.IndexFunc(p.moulds, func(l store.Lived) bool { return l.ID == m.ID })
	for _, c := range life.CheckedOf(prior, livesOf(p.moulds), at) {
		out = append(out, p.shown(c))
	}
	return out, nil
}

// GetForecasts tells how good the forecasts were that were made of a rubber's moulds.
func (s *Server) GetForecasts(ctx context.Context, r GetForecastsRequestObject) (GetForecastsResponseObject, error) {
	logs, err := s.store.Logs(ctx)
	if err != nil {
		return nil, err
	}
	count := func(rubber string) (n int) {
		for _, m := range logs[rubber] {
			n += m.Moulds
		}
		return n
	}
	out := Forecasts{Rubbers: slices.SortedFunc(maps.Keys(logs), func(a, b string) int {
		return cmp.Or(count(b)-count(a), cmp.Compare(a, b))
	}), Ages: []ForecastAge{}, Forecasts: []ForecastCame{}, Numbers: []NumberRow{}}
	if len(out.Rubbers) == 0 {
		out.Rubbers = []string{}
		return GetForecasts200JSONResponse(out), nil
	}
	out.Rubber = cmp.Or(given(r.Params.Rubber), out.Rubbers[0])
	p, err := s.said(ctx, out.Rubber)
	if err != nil {
		return nil, err
	}
	l := newLedger()
	for _, t := range life.Tallied(p.came) {
		age := ForecastAge{At: t.At, Less: t.Less, Inside: t.Inside, More: t.More, Open: t.Open}
		if t.Decided() > 0 {
			share := derive.Of(quantity.Number, digits(100*t.Share, 3), "moulds that came inside their span, the open ones as far as they "+
				"came (Kaplan & Meier 1958), per cent",
				derive.From("inside", quantity.Number, float64(t.Inside), "the log"),
				derive.From("less", quantity.Number, float64(t.Less), "the log"),
				derive.From("more", quantity.Number, float64(t.More), "the log"),
				derive.From("open", quantity.Number, float64(t.Open), "they live, or went for another reason")).
				Noted("Each forecast is made anew from what was known the day before. Eighty are to come inside.")
			age.Share = l.some(&share)
			age.Low, age.High = number(100*t.Low, 3), number(100*t.High, 3)
		}
		out.Ages = append(out.Ages, age)
	}
	out.Total = len(p.came)
	skip := min(given(r.Params.Skip), len(p.came))
	last := min(skip+cmp.Or(given(r.Params.Limit), usualPage), len(p.came))
	for k := skip; k < last; k++ {
		out.Forecasts = append(out.Forecasts, p.shown(p.came[len(p.came)-1-k]))
	}
	out.Numbers = l.rows
	return GetForecasts200JSONResponse(out), nil
}
