package api_test

import (
	"bufio"
	"context"
	"encoding/json"
	"net"
	"net/http"
	"strings"
	"testing"
	"time"

	"bathyform/internal/api"
	"bathyform/internal/device/standin"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A scale of the house practice is heard for as long as somebody listens, told
// what to do, and what it does not do is said; a pattern that reads no number is
// refused.
func TestAScaleOfTheHouseIsHeard(t *testing.T) {
	s := open(t)
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	ctx, stop := context.WithCancel(context.Background())
	t.Cleanup(stop)
	go func() { _ = standin.Serve(ctx, l, standin.NewScale()) }()

	var shop api.Shop
	s.send("GET", "/api/shop", -1, nil).into(&shop)
	keep := func(in api.Instrument) answer {
		all := []api.Instrument{in}
		shop.Practice.Instruments = &all
		return s.send("PUT", "/api/shop/practice", shop.Version, shop.Practice)
	}
	pattern := `(\d+)`
	keep(
		api.Instrument{Kind: "scale", Address: l.Addr().String(), Pattern: &pattern},
	).problem(http.StatusUnprocessableEntity, "name the number")
	keep(api.Instrument{Kind: "scale"}).problem(http.StatusUnprocessableEntity, "Say where instrument 1 is")
	digit := 0.1
	keep(api.Instrument{Kind: "scale", Address: l.Addr().String(), Digit: &digit}).into(&shop)

	s.send("POST", "/api/instruments/0/say", -1, map[string]any{"line": "put 104.6"})
	s.send("POST", "/api/instruments/0/say", -1, map[string]any{"line": "sing"}).
		problem(http.StatusUnprocessableEntity, "tare, take, put")
	s.send("GET", "/api/instruments/7/live", -1, nil).problem(http.StatusNotFound, "House practice lists")

	asked, leave := context.WithTimeout(t.Context(), 20*time.Second)
	defer leave()
	r, err := http.NewRequestWithContext(asked, http.MethodGet, s.base+"/api/instruments/0/live", nil)
	require.NoError(t, err)
	heard, err := http.DefaultClient.Do(r)
	require.NoError(t, err)
	defer heard.Body.Close()
	lines := bufio.NewScanner(heard.Body)
	for lines.Scan() {
		data, ok := strings.CutPrefix(lines.Text(), "data: ")
		if !ok {
			continue
		}
		var line api.InstrumentLine
		require.NoError(t, json.Unmarshal([]byte(data), &line))
		if line.Settled != nil && *line.Settled > 100 {
			assert.InDelta(t, 104.6, *line.Settled, 0.11)
			return
		}
	}
	require.Fail(t, "it never stood still")
}

// A set becomes a job of its own, once, whose castings are sets.
func TestASetBecomesAJob(t *testing.T) {
	s := open(t)
	var jobs []api.Job
	s.send("GET", "/api/jobs", -1, nil).into(&jobs)
	for _, j := range jobs {
		if j.Order.Name != "Drogue hub" {
			continue
		}
		var made api.Job
		s.send("POST", s.path(j, "/set/mould"), -1, map[string]any{"sets": 1}).into(&made)
		assert.Equal(t, "Drifter kit, in one mould", made.Order.Name)
		assert.Equal(t, 5, made.Master.Mesh.Bodies)
		assert.Equal(t, 60, made.Order.Quantity, "as many as hubs are short")
		s.send("POST", s.path(j, "/set/mould"), -1, map[string]any{"sets": 0}).
			problem(http.StatusUnprocessableEntity, "one set at least")
	}
	alone := s.newJob()
	s.send("POST", s.path(alone, "/set/mould"), -1, map[string]any{"sets": 1})
}
