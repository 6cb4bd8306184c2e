package api

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"

	"bathyform/core/bench"
	"bathyform/core/derive"
	"bathyform/core/enough"
	"bathyform/core/finding"
	"bathyform/core/life"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/internal/store"

	"github.com/google/uuid"
	openapi_types "github.com/oapi-codegen/runtime/types"
)

// enough is whether the rack finishes what is still wanted of a job; nil where its
// yield tells nothing yet.
func (s *Server) enough(ctx context.Context, l *ledger, j store.Job, moulds []store.Mould, good, bad int) (*Enough, error) {
	if good == 0 && bad > 0 {
		return nil, nil
	}
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	o := enough.Order{Wanted: max(0, j.Order.Quantity-j.Good), Yield: yieldOf(shop.Practice, good, bad), Cavities: 1}
	rubber, kind, cavities, n := "", "", 0, 0
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
	mishaps, err := s.accidents(ctx)
	if err != nil {
		return nil, err
	}
	o.Accidents = mishaps.Value
	need, err := o.Pulls()
	if err != nil {
		return nil, unusable("Nobody can tell whether it is enough", err)
	}
	key := fmt.Sprint(o.Wanted, o.Yield, o.Cavities, o.Moulds, o.Accidents, rubber, prior(rubber), kind, log)
	chances, err := s.lives.chances(key, func() ([]float64, error) { return o.Chances(mostNewMoulds) })
	if err != nil {
		return nil, unusable("Nobody can tell whether it is enough", err)
	}
	wanted := derive.From("still wanted", quantity.Number, float64(o.Wanted), "the order, less the good ones in the log")
	was := []derive.Input{derive.From("good so far", quantity.Number, float64(good), "the log"),
		derive.From("bad so far", quantity.Number, float64(bad), "the log"),
		derive.From("good of a hundred before that", quantity.Number, shop.Practice.GoodOf100,
			fmt.Sprintf("House practice; it counts as %d castings", enough.UsualCastings))}
	out := &Enough{Chances: []float64{}, Moulds: -1}
	out.Pulls = l.number(
		derive.Of(quantity.Number, float64(need), "pulls by which enough are good, 95 times in 100: beta-binomial of the yield "+
			"so far", append([]derive.Input{wanted, derive.From("cavities of a "+
			"mould", quantity.Number, float64(o.Cavities), "the rack")}, was...)...),
	)
	out.Finish = l.number(
		derive.Of(quantity.Number, digits(100*chances[0], 3), "chance that the moulds in use give so many pulls before they "+
			"wear out or are torn, per cent", derive.From("moulds in use", quantity.Number, float64(n), "the rack"), wanted,
			o.Forecast.NewMould().As("a new mould gives"), mishaps.As("accidents a pull")),
	)
	for _, p := range chances {
		out.Chances = append(out.Chances, digits(p, 3))
	}
	if last := len(chances) - 1; chances[last] >= enough.Sure {
		out.Moulds = last
	}
	if out.Moulds != 0 {
		if n > 0 {
			if out.Next, err = s.pourNext(ctx, l, j, o, need, rubber); err != nil {
				return nil, err
			}
		}
		out.Rubbers, err = s.firmer(ctx, l, o, rubber, kind, key)
	}
	return out, err
}

// yieldOf is what is known of a job's yield: its own log, beside what the house is used to.
func yieldOf(h practice.House, good, bad int) enough.Yield {
	return enough.Yield{Good: good, Bad: bad, Counted: true, Usual: h.GoodOf100 / 100}
}

// accidents is how often a pull ends a mould by hand, by a bad mix or by being lost, from
// all moulds of the shop.
func (s *Server) accidents(ctx context.Context) (derive.Number, error) {
	logs, err := s.store.Logs(ctx)
	n, pulls := 0, 0
	for _, of := range logs {
		for _, m := range of {
			pulls += m.Pulls * m.Moulds
			if m.Accident {
				n += m.Moulds
			}
		}
	}
	return derive.Of(quantity.Number, digits(life.Accidents(n, pulls), 3), "(accidents + 0.5) / (pulls + 50)",
		derive.From("accidents", quantity.Number, float64(n), "the rack: torn by hand, spoilt by a mix, lost"),
		derive.From("pulls", quantity.Number, float64(pulls), "the log, of all moulds")).
		Noted("Apart from wear. Half an accident in fifty pulls is taken beforehand, from memory."), err
}

// How a day is found on which the next mould is to be poured.
const (
	paceDays  = 28   // that are looked back over
	leastPace = 3    // of them, so that one busy day is no pace
	usualCure = 16.0 // h, of a rubber whose sheet does not say; common practice, no source
	proofDays = 1    // for the look at its birth and the first pull, before others are counted on it
	perDay    = 24.0 // h
	perHour   = 60.0 // min
)

// pourNext is when the next mould is to be poured so that it is ready before those on
// the rack are at their end; nil where nobody knows how fast it goes.
func (s *Server) pourNext(ctx context.Context, l *ledger, j store.Job, o enough.Order, need int, rubber string) (*PourNext, error) {
	today := s.now()
	pulls, days, err := s.store.Pace(ctx, j.ID, today, paceDays)
	if err != nil || pulls == 0 {
		return nil, err
	}
	days = max(days, leastPace)
	pace := derive.Of(quantity.Number, digits(float64(pulls)/float64(days), 3), "pulls / days",
		derive.From("pulls", quantity.Number, float64(pulls), fmt.Sprintf("the log of the last %d days", paceDays)),
		derive.From("days", quantity.Number, float64(days), "from the first of them until today, no fewer than three"))
	lasts := derive.Of(
		quantity.Number,
		float64(o.Lasts(enough.Sure, need)),
		"pulls that the moulds in use give in 95 of 100 cases",
		derive.From(
			"moulds in use",
			quantity.Number,
			float64(len(o.Moulds)),
			"the rack",
		),
		o.Forecast.NewMould().As("a new mould gives"),
	)
	cure, source := usualCure, finding.CommonPractice
	shelf, err := s.store.Materials(ctx)
	if err != nil {
		return nil, err
	}
	for _, m := range shelf {
		if m.Name == rubber && m.Traits.Demould > 0 {
			cure, source = m.Traits.Demould/perHour, "the rubber's sheet"
		}
	}
	ready := math.Ceil(cure/perDay) + proofDays
	left := math.Floor(lasts.Value / pace.Value)
	ahead := derive.Of(
		quantity.Number,
		max(0, left-ready),
		"pulls that they give / pace − days until a mould is ready, no less than none",
		lasts.As("pulls that they give"),
		pace.As("pace"),
		derive.From("days until a mould is ready", quantity.Number, ready,
			fmt.Sprintf("%.3g h of curing (%s), and a day for its first look and pull", cure, source)),
	)
	by := today.AddDate(0, 0, int(ahead.Value))
	says := fmt.Sprintf("Pour it by %s: at %.2g pulls a day the rack lasts until about %s.", by.Format("Monday, 2 January"),
		pace.Value, today.AddDate(0, 0, int(left)).Format("2 January"))
	if left <= ready {
		says = "Pour it today: at this pace the rack may be at its end before it is ready."
	}
	return &PourNext{
		Lasts: l.number(lasts),
		Pace:  l.number(pace),
		Days:  l.some(&ahead),
		By:    openapi_types.Date{Time: by},
		Says:  says,
	}, nil
}

// mostRubbers are compared.
const mostRubbers = 3

// firmer is what rubbers of the shelf that are firmer would change: new moulds of them
// beside those on the rack.
func (s *Server) firmer(ctx context.Context, l *ledger, o enough.Order, rubber, kind, key string) (*[]OtherRubber, error) {
	shelf, err := s.store.Materials(ctx)
	if err != nil {
		return nil, err
	}
	at := slices.IndexFunc(shelf, func(m store.Material) bool { return m.Name == rubber })
	if at < 0 || shelf[at].Traits.Shore == 0 {
		return nil, nil
	}
	all := slices.DeleteFunc(slices.Clone(shelf), func(m store.Material) bool {
		return m.Kind != shelf[at].Kind || m.Traits.Shore <= shelf[at].Traits.Shore
	})
	slices.SortStableFunc(all, func(a, b store.Material) int { return cmp.Compare(a.Traits.Shore, b.Traits.Shore) })
	logs, err := s.store.Logs(ctx)
	if err != nil {
		return nil, err
	}
	out := []OtherRubber{}
	for _, m := range all[:min(mostRubbers, len(all))] {
		sheet := m.Mix()
		prior := life.PriorOf(bench.Wears(&sheet))
		fresh := s.lives.of(m.Name, prior, logs[m.Name]).forecast.Wearing(wear(kind))
		o.Fresh = &fresh
		chances, err := s.lives.chances(
			fmt.Sprint(key, m.Name, prior, logs[m.Name]),
			func() ([]float64, error) { return o.Chances(mostNewMoulds) },
		)
		if err != nil {
			return nil, unusable("Nobody can tell whether it is enough", err)
		}
		one := OtherRubber{Rubber: m.Name, Shore: m.Traits.Shore, Moulds: -1}
		if last := len(chances) - 1; chances[last] >= enough.Sure {
			one.Moulds = last
		}
		middle := fresh.NewMould()
		one.Life = l.some(&middle)
		out = append(out, one)
	}
	return &out, nil
}
