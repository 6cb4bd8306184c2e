package api

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"strings"
	"time"

	"bathyform/core/practice"
	"bathyform/core/weigh"
	"bathyform/internal/device"
)

// instrument is one of the house practice.
func (s *Server) instrument(ctx context.Context, n int) (practice.Instrument, error) {
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return practice.Instrument{}, err
	}
	if n < 0 || n >= len(shop.Practice.Instruments) {
		return practice.Instrument{}, problem(
			http.StatusNotFound,
			"There is no such instrument",
			"House practice lists those that there are.",
		)
	}
	return shop.Practice.Instruments[n], nil
}

// usualDigit is the step of an instrument where nobody has said one, in the unit of
// its kind.
const usualDigit = 0.1

// kept is how many readings of an instrument are looked back on.
const keptReadings = 400

// HearInstrument hears an instrument for as long as somebody listens.
func (s *Server) HearInstrument(ctx context.Context, r HearInstrumentRequestObject) (HearInstrumentResponseObject, error) {
	in, err := s.instrument(ctx, r.Which)
	if err != nil {
		return nil, err
	}
	if _, err := heard(in); err != nil {
		return nil, err
	}
	return events{ctx, func(ctx context.Context, send func(string, any)) {
		_ = s.follow(ctx, in, func(line InstrumentLine) { send("progress", line) })
	}}, nil
}

// ear has what was heard of an instrument.
type ear struct {
	began    time.Time
	readings []weigh.Reading
}

// line is what is told of a line; a scale's figure is watched until it stands.
func (e *ear) line(watch weigh.Watch, k device.Kind, h device.Heard) InstrumentLine {
	out := InstrumentLine{Line: strings.ToValidUTF8(h.Line, "?"), Steady: h.Read.Steady, Over: h.Read.Over}
	if h.Err != nil {
		e.readings = nil
		out.Trouble = optional(sentence(first(h.Err)))
		return out
	}
	at := h.At.Sub(e.began).Seconds()
	e.readings = append(e.readings, weigh.Reading{At: at, Grams: h.Read.Value, Over: h.Read.Over})
	if len(e.readings) > keptReadings {
		e.readings = e.readings[len(e.readings)-keptReadings:]
	}
	if !h.Read.Over {
		out.Value, out.Second = &h.Read.Value, &h.Read.Second
	}
	if k != device.Scale {
		return out
	}
	if grams, ok := watch.Settled(e.readings); ok {
		out.Settled = &grams
	}
	if t := watch.Trouble(e.readings, at); t != weigh.None {
		out.Trouble, out.Settled = optional(t.Says()), nil
	}
	return out
}

// first is what a joined error begins with: what to do about it.
func first(err error) string {
	line, _, _ := strings.Cut(err.Error(), "\n")
	return line
}

// patience is how long an instrument has to answer what is said to it.
const patience = 400 * time.Millisecond

// TellInstrument says a line to an instrument.
func (s *Server) TellInstrument(ctx context.Context, r TellInstrumentRequestObject) (TellInstrumentResponseObject, error) {
	in, err := s.instrument(ctx, r.Which)
	if err != nil {
		return nil, err
	}
	if strings.HasPrefix(in.Address, "/") {
		return nil, problem(http.StatusConflict, "Nothing can be said to it", "Only stand-ins are told what to do.")
	}
	if err := say(ctx, in, r.Body.Line); err != nil {
		return nil, err
	}
	return TellInstrument204Response{}, nil
}

// say says a line to a stand-in, and hears whether it does so.
func say(ctx context.Context, in practice.Instrument, line string) error {
	d := net.Dialer{Timeout: patience}
	c, err := d.DialContext(ctx, "tcp", in.Address)
	if err != nil {
		return unusable("The instrument was not told", device.ErrGone)
	}
	defer c.Close()
	if err := errors.Join(c.SetDeadline(time.Now().Add(patience)), tellLine(c, line)); err != nil {
		return unusable("The instrument was not told", device.ErrGone)
	}
	answer := bufio.NewScanner(c)
	for answer.Scan() {
		if no, refused := strings.CutPrefix(answer.Text(), "no: "); refused {
			return unusable("It does not do that", errors.New(no))
		}
	}
	return nil
}

func tellLine(c net.Conn, line string) error {
	line = strings.Map(func(r rune) rune {
		if r < ' ' {
			return ' '
		}
		return r
	}, line)
	_, err := fmt.Fprintln(c, line)
	return err
}

func fromInstruments(all []practice.Instrument) *[]Instrument {
	out := []Instrument{}
	for _, in := range all {
		one := Instrument{Kind: InstrumentKind(in.Kind), Address: in.Address}
		if in.Pattern != "" {
			one.Pattern = &in.Pattern
		}
		if in.Unit != "" {
			one.Unit = &in.Unit
		}
		if in.Digit != 0 {
			one.Digit = &in.Digit
		}
		out = append(out, one)
	}
	return &out
}

func toInstruments(all []Instrument) (out []practice.Instrument) {
	for _, in := range all {
		out = append(
			out,
			practice.Instrument{Kind: string(in.Kind), Address: in.Address, Pattern: given(in.Pattern), Unit: given(in.Unit),
				Digit: given(in.Digit)},
		)
	}
	return out
}
