package api_test

import (
	"net/http"
	"net/http/httptest"
	"slices"
	"testing"
	"testing/fstest"
	"time"

	"bathyform/core/life"
	"bathyform/demo/crowd"
	"bathyform/internal/api"
	"bathyform/internal/store"
	"bathyform/internal/testkit"

	"github.com/stretchr/testify/require"
)

// What a shop has after years.
const (
	crowdMoulds = 2000
	crowdPulls  = 50_000
)

// crowded is a server on a shop of years, with one of its jobs and moulds.
func crowded(b *testing.B) (s shop, job, mould string) {
	b.Helper()
	url := testkit.DemoURL(b)
	require.NoError(b, crowd.Fill(b.Context(), url, crowdMoulds, crowdPulls))
	kept, err := store.Open(b.Context(), url)
	require.NoError(b, err)
	b.Cleanup(kept.Close)
	h, err := api.NewHandler(kept, fstest.MapFS{"index.html": {Data: []byte("<title>Bathyform</title>")}})
	require.NoError(b, err)
	server := httptest.NewServer(h)
	b.Cleanup(server.Close)
	s = shop{t: b, base: server.URL}
	one := s.rack("?text=C-7-")[0]
	return s, one.JobId.String(), one.Id.String()
}

// Every list and chart of a crowded shop, with the time that 95 of 100 take at the most.
func BenchmarkAListOfACrowdedShop(b *testing.B) {
	s, job, mould := crowded(b)
	for name, path := range map[string]string{
		"jobs": "/api/jobs", "bench": "/api/bench", "stock": "/api/stock", "learnt": "/api/learnt", "forecasts": "/api/forecasts",
		"rack": "/api/moulds?limit=60", "rack, further": "/api/moulds?limit=60&skip=1500", "rack, found": "/api/moulds?limit=60&text=C-11-",
		"log": "/api/pulls?limit=100&job=" + job, "log, older": "/api/pulls?limit=100&skip=1000&job=" + job,
		"taught": "/api/jobs/" + job + "/taught", "mould": "/api/moulds/" + mould + "/page", "moulds of a job": "/api/moulds?job=" + job,
	} {
		b.Run(name, func(b *testing.B) {
			var took []time.Duration
			bytes := 0
			for b.Loop() {
				from := time.Now()
				a := s.send("GET", path, -1, nil)
				took = append(took, time.Since(from))
				require.Equal(b, http.StatusOK, a.Status)
				bytes = len(a.Body)
			}
			slices.Sort(took)
			b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "p95-ms")
			b.ReportMetric(float64(took[len(took)-1].Microseconds())/1000, "most-ms")
			b.ReportMetric(float64(bytes)/1024, "kB")
		})
	}
}

// The life of two thousand moulds of twenty kinds, worked out afresh.
func BenchmarkTheLivesOfACrowdedRack(b *testing.B) {
	for b.Loop() {
		for kind := range 20 {
			var records []life.Record
			for m := range crowdMoulds / 20 {
				records = append(records, life.Record{Pulls: 10 + (7*m+kind)%60, WornOut: m%3 == 0})
			}
			f := life.Learn(life.TradePrior, records)
			for _, r := range records {
				if !r.WornOut {
					f.Remaining(r.Pulls)
				}
			}
		}
	}
}
