package api

import (
	"context"
	"crypto/sha256"
	"fmt"
	"sync"

	"bathyform/core/bench"
	"bathyform/core/life"
	"bathyform/internal/store"

	openapi_types "github.com/oapi-codegen/runtime/types"
)

// lives keeps what the log says of each rubber's moulds: one forecast a
// rubber and what it leaves each number of pulls, worked out once for as long
// as the log stays the same.
type lives struct {
	mu      sync.Mutex
	rubbers map[string]*lifeOf
	orders  map[string][]float64
}

// chances are an order's, worked out once for as long as nothing of it changes.
func (l *lives) chances(key string, work func() ([]float64, error)) ([]float64, error) {
	l.mu.Lock()
	known, ok := l.orders[key]
	l.mu.Unlock()
	if ok {
		return known, nil
	}
	out, err := work()
	if err != nil {
		return nil, err
	}
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.orders == nil || len(l.orders) >= mostLives {
		l.orders = make(map[string][]float64)
	}
	l.orders[key] = out
	return out, nil
}

// lifeOf is the forecast for the moulds of one rubber.
type lifeOf struct {
	log      [sha256.Size]byte // that it was learnt from
	forecast life.Forecast
	worn     int

	mu   sync.Mutex
	left map[lived]life.Remaining
}

// lived is what tells moulds of one rubber apart.
type lived struct {
	wear  float64
	pulls int
}

// of is the forecast for a rubber's moulds with what they have done.
func (l *lives) of(rubber string, prior life.Prior, log []store.Logged) *lifeOf {
	h := sha256.New()
	fmt.Fprintln(h, prior)
	for _, m := range log {
		fmt.Fprintln(h, m.Kind, m.Pulls, m.WornOut, m.Moulds)
	}
	sum := [sha256.Size]byte(h.Sum(nil))
	l.mu.Lock()
	defer l.mu.Unlock()
	if known := l.rubbers[rubber]; known != nil && known.log == sum {
		return known
	}
	out := &lifeOf{log: sum, left: make(map[lived]life.Remaining)}
	for _, m := range log {
		if m.WornOut {
			out.worn += m.Moulds
		}
	}
	out.forecast = life.Learn(prior, records(log))
	if l.rubbers == nil || len(l.rubbers) >= mostLives {
		l.rubbers = make(map[string]*lifeOf)
	}
	l.rubbers[rubber] = out
	return out
}

// mostLives is how many rubbers are remembered; a shop has a handful.
const mostLives = 100

func (l *lifeOf) remaining(kind string, pulls int) life.Remaining {
	is := lived{wear(kind), pulls}
	l.mu.Lock()
	defer l.mu.Unlock()
	r, ok := l.left[is]
	if !ok {
		r = l.forecast.Wearing(is.wear).Remaining(pulls)
		l.left[is] = r
	}
	return r
}

// priors are what the trade expects of each rubber on the shelf.
func (s *Server) priors(ctx context.Context) (func(rubber string) life.Prior, error) {
	shelf, err := s.store.Materials(ctx)
	known := make(map[string]life.Prior)
	for _, m := range shelf {
		sheet := m.Mix()
		known[m.Name] = life.PriorOf(bench.Wears(&sheet))
	}
	return func(rubber string) life.Prior {
		if p, ok := known[rubber]; ok {
			return p
		}
		return life.TradePrior
	}, err
}

// mould puts a mould together with what is left in it.
func (l *lifeOf) mould(m store.Mould) Mould {
	left := l.remaining(m.Kind, m.Pulls)
	return Mould{Id: m.ID, Version: m.Version, JobId: m.JobID, JobName: m.JobName, Number: m.Number, Rubber: m.Rubber,
		Poured: openapi_types.Date{
			Time: m.Poured,
		}, Cavities: m.Cavities, Pulls: m.Pulls, Good: m.Good, Scrap: m.Scrap, Seconds: optional(m.Seconds),
		Remaining: Remaining{Low: left.Low, Middle: left.Middle, High: left.High}, WornMoulds: l.worn,
		Retired: date(m.Retired), Ended: optional(Ended(m.Ended)), Session: m.SessionID,
		Birth: (*[]string)(m.Birth), Place: optional(m.Place), Pieces: optional(m.Pieces), Lot: optional(m.Lot),
		DesignVersion: optional(m.DesignVersion)}
}

// forecasts puts moulds together with what each rubber's log says of them.
func (s *Server) forecasts(ctx context.Context, all []store.Mould) ([]Mould, error) {
	logs, err := s.store.Logs(ctx)
	if err != nil {
		return nil, err
	}
	prior, err := s.priors(ctx)
	if err != nil {
		return nil, err
	}
	known := make(map[string]*lifeOf)
	out := make([]Mould, len(all))
	for i, m := range all {
		if known[m.Rubber] == nil {
			known[m.Rubber] = s.lives.of(m.Rubber, prior(m.Rubber), logs[m.Rubber])
		}
		out[i] = known[m.Rubber].mould(m)
	}
	return out, nil
}

// records are what moulds have done, as a forecast learns from it.
func records(log []store.Logged) (out []life.Record) {
	for _, m := range log {
		for range m.Moulds {
			out = append(out, life.Record{Pulls: m.Pulls, WornOut: m.WornOut, Wear: wear(m.Kind)})
		}
	}
	return out
}
