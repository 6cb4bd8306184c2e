package serve_test

import (
	"context"
	"io"
	"net/http"
	"testing"
	"time"

	"bathyform/internal/serve"
	"bathyform/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestMain(m *testing.M) { testkit.Main(m) }

func TestServerAnswersUntilItIsToldToStop(t *testing.T) {
	l, err := serve.Listen("127.0.0.1:0")
	require.NoError(t, err)
	_, err = serve.Listen(l.Addr().String())
	assert.ErrorContains(t, err, "in use by another program")
	_, err = serve.Listen("nowhere at all")
	assert.ErrorContains(t, err, "BATHYFORM_ADDR")

	for _, addr := range []string{":8440", "0.0.0.0:8440", "[::]:8440", "192.0.2.7:8440", "workshop.example:8440"} {
		_, err = serve.Listen(addr)
		assert.ErrorContains(t, err, "no accounts", addr)
	}

	ctx, stop := context.WithCancel(t.Context())
	ended := make(chan error, 1)
	s := testkit.Store(t)
	go func() { ended <- serve.Run(ctx, l, s) }()
	resp, err := http.Get("http://" + l.Addr().String() + "/api/demo-parts")
	require.NoError(t, err)
	body, err := io.ReadAll(resp.Body)
	require.NoError(t, err)
	resp.Body.Close()
	assert.Contains(t, string(body), "Deck cleat")
	stop()
	select {
	case err := <-ended:
		assert.NoError(t, err)
	case <-time.After(5 * time.Second):
		t.Fatal("the server did not stop")
	}
	_, err = http.Get("http://" + l.Addr().String() + "/")
	assert.Error(t, err)
}
