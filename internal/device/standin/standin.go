// Package standin has simulated instruments for a bench without real ones: each
// says a line for every reading to whoever listens, and takes plain commands, one
// a line, from whoever wants to play with it. See docs/devices.md.
package standin

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"net"
	"strconv"
	"strings"
	"sync"
	"time"

	"bathyform/internal/device"
)

// Instrument is a simulated one. It knows no clock: it is told how much time has
// gone.
type Instrument interface {
	// Says is the line of a reading, after so much time since the last; not ok
	// while it is unplugged.
	Says(gone time.Duration) (line string, ok bool)
	// Does takes a command in words.
	Does(words []string) error
}

// New is a stand-in for an instrument of a kind.
func New(k device.Kind) (Instrument, error) {
	switch k {
	case device.Scale:
		return NewScale(), nil
	case device.Pot:
		return &gauge{name: "pot", most: 690, relief: 450}, nil
	case device.Vacuum:
		return &gauge{name: "vacuum", most: 101.325, foams: true}, nil
	case device.Air:
		return &room{celsius: 22, humid: 45}, nil
	}
	return nil, fmt.Errorf("there is a stand-in for a scale, a pot, a vacuum and the air, not for %q", string(k))
}

// every is how often an instrument says a line.
const every = 100 * time.Millisecond

// server speaks for one instrument.
type server struct {
	mu   sync.Mutex
	is   Instrument
	last time.Time
}

// Serve speaks for an instrument to all who connect, until ctx ends.
func Serve(ctx context.Context, l net.Listener, is Instrument) error {
	s := &server{is: is, last: time.Now()}
	stop := context.AfterFunc(ctx, func() { l.Close() })
	defer stop()
	var all sync.WaitGroup
	defer all.Wait()
	for {
		c, err := l.Accept()
		if err != nil {
			if ctx.Err() != nil {
				return nil
			}
			return err
		}
		all.Go(func() { s.speak(ctx, c) })
	}
}

// speak says lines to one listener and does what it asks.
func (s *server) speak(ctx context.Context, c net.Conn) {
	ctx, gone := context.WithCancel(ctx)
	defer gone()
	defer c.Close()
	go func() {
		defer gone()
		lines := bufio.NewScanner(c)
		for lines.Scan() {
			if words := strings.Fields(lines.Text()); len(words) > 0 {
				if err := s.does(words); err != nil {
					fmt.Fprintf(c, "no: %s\n", err)
				}
			}
		}
	}()
	tick := time.NewTicker(every)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
		line, ok := s.says()
		if !ok {
			return // unplugged: the line is cut
		}
		if _, err := fmt.Fprintln(c, line); err != nil {
			return
		}
	}
}

func (s *server) says() (string, bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	now := time.Now()
	gone := now.Sub(s.last)
	s.last = now
	return s.is.Says(gone)
}

func (s *server) does(words []string) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.is.Does(words)
}

// figure is the number of a command.
func figure(words []string, at int, low, high float64) (float64, error) {
	if at >= len(words) {
		return 0, errors.New("a number is missing")
	}
	v, err := strconv.ParseFloat(strings.ReplaceAll(words[at], ",", "."), 64)
	if err != nil || !(v >= low && v <= high) {
		return 0, fmt.Errorf("a number from %g to %g is meant, not %q", low, high, words[at])
	}
	return v, nil
}

// faults are what may be wrong with any instrument.
type faults struct {
	unplugged, rubbish, stuck time.Duration // left
	was                       string
}

// fault takes the commands that make an instrument fail: unplug, rubbish and stuck,
// each for so many seconds; not ok for others.
func (f *faults) fault(words []string) (ok bool, err error) {
	which := map[string]*time.Duration{"unplug": &f.unplugged, "rubbish": &f.rubbish, "stuck": &f.stuck}[words[0]]
	if which == nil {
		return false, nil
	}
	seconds, err := figure(words, 1, 0, 3600)
	*which = time.Duration(seconds * float64(time.Second))
	return true, err
}

// said is a line as the faults let it through.
func (f *faults) said(line string, gone time.Duration) (string, bool) {
	defer func() {
		for _, d := range []*time.Duration{&f.unplugged, &f.rubbish, &f.stuck} {
			*d = max(0, *d-gone)
		}
	}()
	switch {
	case f.unplugged > 0:
		return "", false
	case f.rubbish > 0:
		return "\x15#\x02?~~", true
	case f.stuck > 0 && f.was != "":
		return f.was, true
	}
	f.was = line
	return line, true
}
