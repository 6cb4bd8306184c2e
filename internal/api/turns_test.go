package api

import (
	"context"
	"net/http"
	"net/http/httptest"
	"sync"
	"testing"

	"github.com/labstack/echo/v5"
	"github.com/stretchr/testify/assert"
)

// However many ask for what is costly, two are worked on; what a hand drags
// is answered meanwhile, and who leaves waits no longer.
func TestWhatIsCostlyWaitsForItsTurn(t *testing.T) {
	turn := inTurn(2)
	working, release := make(chan struct{}, 40), make(chan struct{})
	costly := turn(func(*echo.Context, any) (any, error) {
		working <- struct{}{}
		<-release
		return "done", nil
	}, "LayGang")
	asked := func(ctx context.Context) *echo.Context {
		return echo.New().NewContext(httptest.NewRequestWithContext(ctx, http.MethodPost, "/", nil), httptest.NewRecorder())
	}
	var all sync.WaitGroup
	for range 40 {
		all.Go(func() {
			said, err := costly(asked(t.Context()), nil)
			assert.NoError(t, err)
			assert.Equal(t, "done", said)
		})
	}
	<-working
	<-working
	study := turn(func(*echo.Context, any) (any, error) { return "studied", nil }, "StudyDesign")
	said, err := study(asked(t.Context()), nil)
	assert.NoError(t, err)
	assert.Equal(t, "studied", said)
	gone, leave := context.WithCancel(t.Context())
	leave()
	_, err = costly(asked(gone), nil)
	assert.ErrorIs(t, err, context.Canceled)
	assert.Empty(t, working, "the third has not begun")
	close(release)
	all.Wait()
}
