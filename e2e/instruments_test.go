package e2e

import (
	"context"
	"net"
	"testing"

	"bathyform/internal/device/standin"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"
)

// A scale is set up by its address, heard, played with, unplugged, and its figure
// is taken where a shot is weighed.
func TestAScaleIsHeardAndItsFigureTaken(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	ctx, stop := context.WithCancel(context.Background())
	t.Cleanup(stop)
	go func() { _ = standin.Serve(ctx, l, standin.NewScale()) }()

	p, _ := serve(t)
	steps(t, p.Go("/practice"), p.See("INSTRUMENTS"), p.Fill("Address of instrument 1", l.Addr().String()), p.Key(kb.Tab),
		p.See("House practice kept"), p.Click("button", "Hear instrument 1"), p.See("it stands"),
		p.Fill("Say to instrument 1", "put 22.8"), p.Click("button", "Say it to 1"), p.See("scale 22.8 g steady"),
		p.Fill("Say to instrument 1", "unplug 3"), p.Click("button", "Say it to 1"), p.See("The instrument does not answer"),
		p.See("it stands"), p.Click("button", "Stop hearing 1"))
	openCleat(t, p, "Shot")
	steps(t, p.See("ON THE SCALE"), p.Click("disclosure", "What is in the cup decides"), p.See("The scale shows"),
		p.Click("button", "Take it from the scale"), p.See("Weigh in of part B"))
}
