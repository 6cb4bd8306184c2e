package bench_test

import (
	"context"
	"testing"

	"bathyform/core/bench"
	"bathyform/core/gang"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/survey"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// Who has left is not worked for any longer, and who asks next is answered.
func TestQuestionsCanBeLeft(t *testing.T) {
	m := meshtest.Sphere(20, 96)
	d, err := taken(t, m).Start(t.Context(), house)
	require.NoError(t, err)
	q := bench.Question{Design: d, Rubber: &tin, Resin: &quick, Wanted: 40, House: house}
	for name, ask := range map[string]func(ctx context.Context, b *bench.Master) error{
		"start": func(ctx context.Context, b *bench.Master) error { _, err := b.Start(ctx, house); return err },
		"study": func(ctx context.Context, b *bench.Master) error { _, err := b.Study(ctx, q); return err },
		"build": func(ctx context.Context, b *bench.Master) error { _, err := b.Build(ctx, q, nil); return err },
		"walls": func(ctx context.Context, b *bench.Master) error { _, err := b.Thickness(ctx); return err },
		"gang": func(ctx context.Context, b *bench.Master) error {
			_, err := b.Gang(ctx, q, gang.Ask{Count: 4, Gap: 8, Edge: 8})
			return err
		},
		"survey": func(ctx context.Context, b *bench.Master) error {
			_, _, err := b.Survey(ctx, survey.Question{Draw: r3.Vec{Z: 1}, Rubber: &tin, Resin: &quick, Wanted: 40}, house)
			return err
		},
	} {
		t.Run(name, func(t *testing.T) {
			b := taken(t, m)
			gone, leave := context.WithCancel(t.Context())
			leave()
			assert.ErrorIs(t, ask(gone, b), context.Canceled)
			assert.NoError(t, ask(t.Context(), b), "nothing of it is remembered")
		})
	}
}
