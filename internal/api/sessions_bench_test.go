package api_test

import (
	"bufio"
	"fmt"
	"net"
	"net/http"
	"strings"
	"testing"

	"bathyform/internal/api"

	"github.com/stretchr/testify/require"
)

// A line of the scale until it is at a bench that follows it.
func BenchmarkAReadingReachesTheBench(b *testing.B) {
	s := open(b)
	url := s.base
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(b, err)
	defer l.Close()
	lines := make(chan string)
	go func() {
		c, err := l.Accept()
		if err != nil {
			return
		}
		defer c.Close()
		for line := range lines {
			fmt.Fprintln(c, line)
		}
	}()
	digit := 0.1
	var shop api.Shop
	s.send("GET", "/api/shop", -1, nil).into(&shop)
	shop.Practice.Instruments = &[]api.Instrument{{Kind: "scale", Address: l.Addr().String(), Digit: &digit}}
	s.send("PUT", "/api/shop/practice", shop.Version, shop.Practice).into(&shop)
	r, err := http.NewRequestWithContext(b.Context(), http.MethodGet, url+"/api/instruments/0/live", nil)
	require.NoError(b, err)
	stream, err := http.DefaultClient.Do(r)
	require.NoError(b, err)
	defer stream.Body.Close()
	heard := bufio.NewScanner(stream.Body)
	n := 0
	for b.Loop() {
		n++
		lines <- fmt.Sprintf("scale %d.5 g", n)
		for heard.Scan() && !strings.Contains(heard.Text(), fmt.Sprintf("scale %d.5 g", n)) {
		}
	}
}

// A step that is done, until the next one is answered.
func BenchmarkAStepIsDone(b *testing.B) {
	s := open(b)
	at := s.begin(map[string]any{"kind": "casting", "lesson": "casting"})
	at.done()
	for b.Loop() {
		at.done()
		require.Equal(b, http.StatusOK, at.tell(map[string]any{"what": "back"}).Status)
	}
	b.ReportMetric(float64(b.Elapsed().Milliseconds())/float64(2*b.N), "ms/event")
}
