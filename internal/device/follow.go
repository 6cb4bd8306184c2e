package device

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"strconv"
	"strings"
	"time"

	"go.bug.st/serial"
)

// Heard is what came from an instrument.
type Heard struct {
	At   time.Time
	Line string  // as it came; empty where none did
	Read Measure // of the line
	Err  error   // the line could not be read, or there is no instrument; what to do is in it
}

// How an instrument is followed.
const (
	answers  = 3 * time.Second // until it has to be there
	again    = time.Second     // between two tries
	goneWith = 5 * time.Second // without a line it has gone
)

// ErrGone says that an instrument cannot be heard.
var ErrGone = errors.New("the instrument does not answer: look at its plug and its address; until then type the figure in")

// Follow hears an instrument at an address until ctx ends, and tells of every line,
// and once whenever it cannot be heard; it tries again on its own. An address is
// HOST:PORT, or a serial line as /dev/ttyUSB0 or /dev/ttyUSB0@9600.
func Follow(ctx context.Context, k Kind, address string, p Pattern, told func(Heard)) {
	for ctx.Err() == nil {
		err := hear(ctx, k, address, p, told)
		if ctx.Err() != nil {
			return
		}
		told(Heard{At: time.Now(), Err: errors.Join(ErrGone, err)})
		select {
		case <-ctx.Done():
		case <-time.After(again):
		}
	}
}

// hear reads lines until the instrument goes.
func hear(ctx context.Context, k Kind, address string, p Pattern, told func(Heard)) error {
	line, err := open(ctx, address)
	if err != nil {
		return err
	}
	defer line.Close()
	over := context.AfterFunc(ctx, func() { line.Close() })
	defer over()
	lines := bufio.NewReaderSize(line, 2*longestLine)
	for {
		if d, ok := line.(interface{ SetReadDeadline(time.Time) error }); ok {
			if err := d.SetReadDeadline(time.Now().Add(goneWith)); err != nil {
				return err
			}
		}
		text, err := lines.ReadSlice('\n')
		switch {
		case errors.Is(err, bufio.ErrBufferFull): // rubbish without an end
			told(Heard{At: time.Now(), Line: string(text[:longestLine]), Err: ErrRubbish})
			continue
		case err != nil:
			return err
		}
		h := Heard{At: time.Now(), Line: strings.TrimSpace(strings.ToValidUTF8(string(text), "?"))}
		h.Read, h.Err = p.Read(k, h.Line)
		told(h)
	}
}

// open opens the line to an instrument.
func open(ctx context.Context, address string) (io.ReadCloser, error) {
	if strings.HasPrefix(address, "/") || strings.HasPrefix(strings.ToUpper(address), "COM") {
		name, speed, _ := strings.Cut(address, "@")
		baud := 9600
		if speed != "" {
			var err error
			if baud, err = strconv.Atoi(speed); err != nil || baud <= 0 {
				return nil, fmt.Errorf("the speed of a serial line is a number as in /dev/ttyUSB0@9600, not %q", speed)
			}
		}
		port, err := serial.Open(name, &serial.Mode{BaudRate: baud})
		if err != nil {
			return nil, err
		}
		if err := port.SetReadTimeout(goneWith); err != nil {
			return nil, errors.Join(err, port.Close())
		}
		return silent{port}, nil
	}
	d := net.Dialer{Timeout: answers}
	return d.DialContext(ctx, "tcp", address)
}

// silent makes an error of a serial line's silence, which reads nothing.
type silent struct{ serial.Port }

func (s silent) Read(p []byte) (int, error) {
	n, err := s.Port.Read(p)
	if n == 0 && err == nil {
		return 0, ErrGone
	}
	return n, err
}
