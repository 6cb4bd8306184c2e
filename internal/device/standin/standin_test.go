package standin_test

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"net"
	"strings"
	"testing"
	"time"

	"bathyform/internal/device"
	"bathyform/internal/device/standin"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// says is what an instrument says after so much time, step by step.
func says(t *testing.T, is standin.Instrument, gone time.Duration) (line string) {
	t.Helper()
	const step = 100 * time.Millisecond
	for ; gone > 0; gone -= step {
		var ok bool
		line, ok = is.Says(step)
		require.True(t, ok)
	}
	return line
}

func does(t *testing.T, is standin.Instrument, command string) {
	t.Helper()
	require.NoError(t, is.Does(strings.Fields(command)), command)
}

func grams(t *testing.T, line string) float64 {
	t.Helper()
	m, err := device.Usual.Read(device.Scale, line)
	require.NoError(t, err, line)
	return m.Value
}

// A cup is put on, tared, and filled; it settles, and says so.
func TestAScaleIsTaredAndFilled(t *testing.T) {
	s := standin.NewScale()
	does(t, s, "put 12.4")
	assert.NotContains(t, says(t, s, 100*time.Millisecond), "steady", "it moves at first")
	assert.Equal(t, "scale 12.4 g steady", says(t, s, 3*time.Second))
	does(t, s, "tare")
	assert.Equal(t, "scale 0.0 g steady", says(t, s, time.Second))
	does(t, s, "pour 104.6 20")
	assert.NotContains(t, says(t, s, 2*time.Second), "steady")
	assert.InDelta(t, 104.6, grams(t, says(t, s, 6*time.Second)), 0.11)
	does(t, s, "unit oz")
	assert.InDelta(t, 104.6, grams(t, says(t, s, time.Second)), 0.11, "in ounces it is as much")
	does(t, s, "capacity 100")
	assert.Equal(t, "scale overload", says(t, s, time.Second))
}

// It drifts, sticks, talks rubbish and is unplugged as it is told to.
func TestAScaleFailsAsItIsTold(t *testing.T) {
	s := standin.NewScale()
	does(t, s, "noise 0")
	does(t, s, "drift 6")
	assert.InDelta(t, 3, grams(t, says(t, s, 30*time.Second)), 0.11, "six grams a minute")
	does(t, s, "drift 0")
	does(t, s, "stuck 2")
	was := says(t, s, 100*time.Millisecond)
	does(t, s, "put 500")
	assert.Equal(t, was, says(t, s, 1800*time.Millisecond))
	assert.NotEqual(t, was, says(t, s, 2*time.Second))
	does(t, s, "rubbish 1")
	_, err := device.Usual.Read(device.Scale, says(t, s, 500*time.Millisecond))
	require.ErrorIs(t, err, device.ErrRubbish)
	says(t, s, time.Second)
	does(t, s, "unplug 1")
	_, ok := s.Says(100 * time.Millisecond)
	assert.False(t, ok)
	for _, wrong := range []string{"dance", "put", "put much", "unit stone", "capacity -3", "unplug x"} {
		assert.Error(t, s.Does(strings.Fields(wrong)), wrong)
	}
}

// Under 29 inches of mercury 100 mm of a mix with 5 % of air stand 257 mm high
// (Boyle, the worked table of foam heights); a pot's relief valve opens.
func TestGaugesShowFoamAndRelief(t *testing.T) {
	v, err := standin.New(device.Vacuum)
	require.NoError(t, err)
	does(t, v, "fill 100 0.05")
	does(t, v, "to 98.205 50")
	m, err := device.Usual.Read(device.Vacuum, says(t, v, 4*time.Second))
	require.NoError(t, err)
	assert.InDelta(t, 98.2, m.Value, 0.06)
	assert.InDelta(t, 257.4, m.Second, 1)
	p, err := standin.New(device.Pot)
	require.NoError(t, err)
	does(t, p, "to 600 100")
	m, err = device.Usual.Read(device.Pot, says(t, p, 10*time.Second))
	require.NoError(t, err)
	assert.InDelta(t, 450, m.Value, 0.1, "the valve")
	does(t, p, "vent")
	does(t, p, "leak 1")
	m, err = device.Usual.Read(device.Pot, says(t, p, 10*time.Second))
	require.NoError(t, err)
	assert.Zero(t, m.Value)
	a, err := standin.New(device.Air)
	require.NoError(t, err)
	does(t, a, "warms 3")
	m, err = device.Usual.Read(device.Air, says(t, a, time.Minute))
	require.NoError(t, err)
	assert.InDelta(t, 25, m.Value, 0.11)
	_, err = standin.New("clock")
	require.Error(t, err)
}

// A scale is followed over TCP: its lines come within 150 ms, an unplugged one is
// told and comes back by itself, two listen at once.
func TestAScaleIsFollowedOverTheWire(t *testing.T) {
	ctx, stop := context.WithCancel(t.Context())
	defer stop()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	is := standin.NewScale()
	served := make(chan error, 1)
	go func() { served <- standin.Serve(ctx, l, is) }()
	heard := [2]chan device.Heard{make(chan device.Heard, 1000), make(chan device.Heard, 1000)}
	for _, h := range heard {
		go device.Follow(ctx, device.Scale, l.Addr().String(), device.Usual, func(said device.Heard) { h <- said })
	}
	until := func(h chan device.Heard, what string, ok func(device.Heard) bool) (took time.Duration) {
		t.Helper()
		began := time.Now()
		for {
			select {
			case said := <-h:
				if ok(said) {
					return time.Since(began)
				}
			case <-time.After(10 * time.Second):
				require.Fail(t, "nothing was heard", what)
			}
		}
	}
	for _, h := range heard {
		until(h, "a reading", func(s device.Heard) bool { return s.Err == nil })
	}
	c, err := net.Dial("tcp", l.Addr().String())
	require.NoError(t, err)
	defer c.Close()
	fmt.Fprintln(c, "put 50")
	took := until(heard[0], "the cup", func(s device.Heard) bool { return s.Err == nil && s.Read.Value > 1 })
	assert.Less(t, took, time.Second)
	fmt.Fprintln(c, "sing")
	answer := bufio.NewScanner(c)
	for answer.Scan() && !strings.HasPrefix(answer.Text(), "no: ") {
	}
	assert.Contains(t, answer.Text(), "tare, take, put G")
	fmt.Fprintln(c, "unplug 1")
	for _, h := range heard {
		until(h, "that it has gone", func(s device.Heard) bool { return errors.Is(s.Err, device.ErrGone) })
		until(h, "that it is back", func(s device.Heard) bool { return s.Err == nil })
	}
	stop()
	require.NoError(t, <-served)
}

func TestAnAddressThatIsNoneIsTold(t *testing.T) {
	for _, address := range []string{"127.0.0.1:1", "nowhere", "/dev/none@fast", "/dev/none"} {
		ctx, stop := context.WithCancel(t.Context())
		device.Follow(ctx, device.Scale, address, device.Usual, func(s device.Heard) {
			assert.ErrorIs(t, s.Err, device.ErrGone, address)
			stop()
		})
		stop()
	}
}
