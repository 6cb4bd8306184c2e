package api

import (
	"bytes"
	"context"
	"errors"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"strings"
	"time"

	"github.com/labstack/echo/v5"
)

// What is expected of whoever sends something.
const (
	mostStalled  = 10 * time.Second // without a byte
	lenient      = 10 * time.Second // until the rate counts
	leastRate    = 32 << 10         // bytes a second
	mostArriving = 16               // files on their way at once
)

var errTooSlow = problem(http.StatusRequestTimeout, "It came too slowly",
	"The connection was closed so that others are served. Try again; a file in a binary form is smaller.")

// steady is a body that has to keep coming: one that drips holds nobody up.
type steady struct {
	io.ReadCloser
	conn  *http.ResponseController
	since time.Time
	bytes int64
}

func (b *steady) Read(p []byte) (int, error) {
	if b.since.IsZero() {
		b.since = time.Now()
	}
	_ = b.conn.SetReadDeadline(time.Now().Add(mostStalled)) // a recorder in a test has none
	n, err := b.ReadCloser.Read(p)
	b.bytes += int64(n)
	took := time.Since(b.since)
	var late net.Error
	switch {
	case errors.As(err, &late) && late.Timeout(),
		err == nil && took > lenient && float64(b.bytes) < leastRate*took.Seconds():
		_ = b.conn.SetReadDeadline(time.Unix(1, 0)) // nobody waits for the rest of it either
		return n, errTooSlow
	case err != nil: // it is there; what is done with it has its own time
		_ = b.conn.SetReadDeadline(time.Time{})
	}
	return n, err
}

// noNUL refuses the one character that no record can hold, in a question's
// address and in its words.
func noNUL(next echo.HandlerFunc) echo.HandlerFunc {
	refused := problem(http.StatusUnprocessableEntity, "A text holds a character that cannot be kept",
		"It was probably copied along with something else: type the text anew.")
	return func(c *echo.Context) error {
		r := c.Request()
		if strings.ContainsRune(r.URL.Path, 0) || strings.Contains(r.URL.RawQuery, "%00") {
			return refused
		}
		if isUpload(r) || !strings.HasPrefix(r.Header.Get("Content-Type"), "application/json") {
			return next(c)
		}
		words, err := io.ReadAll(r.Body)
		if err != nil {
			return err
		}
		for rest := words; ; {
			at := bytes.Index(rest, []byte(`\u0000`))
			if at < 0 {
				break
			}
			slashes := at
			for slashes > 0 && rest[slashes-1] == '\\' {
				slashes--
			}
			if (at-slashes)%2 == 0 { // else the slash itself is what was typed
				return refused
			}
			rest = rest[at+1:]
		}
		r.Body = io.NopCloser(bytes.NewReader(words))
		return next(c)
	}
}

// received takes a file in, however long that lasts, before it waits for its
// turn to be worked on; done ends the turn.
func (s *Server) received(ctx context.Context, body io.Reader) (data []byte, done func(), err error) {
	select {
	case s.arriving <- struct{}{}:
		defer func() { <-s.arriving }()
	default:
		return nil, nil, problem(http.StatusServiceUnavailable, "Too many files arrive at once", "Wait for the others, then send it again.")
	}
	file, err := os.CreateTemp("", "bathyform-arriving-*")
	if err != nil {
		return nil, nil, full(err)
	}
	defer file.Close()           //nolint:errcheck // it is thrown away
	defer os.Remove(file.Name()) //nolint:errcheck // likewise
	from := &source{Reader: body}
	size, err := io.Copy(file, from)
	var tooLarge *http.MaxBytesError
	switch {
	case errors.As(from.failed, &tooLarge) || errors.Is(from.failed, errTooSlow):
		return nil, nil, from.failed
	case from.failed != nil:
		return nil, nil, problem(
			http.StatusBadRequest,
			"The file did not arrive whole",
			"The connection was lost on the way. Drop it in again.",
		)
	case err != nil:
		return nil, nil, full(err)
	}
	select { // a large one takes memory
	case s.uploads <- struct{}{}:
		done = func() { <-s.uploads }
	case <-ctx.Done():
		return nil, nil, ctx.Err()
	}
	data = make([]byte, size)
	if _, err := file.ReadAt(data, 0); err != nil && !errors.Is(err, io.EOF) {
		done()
		return nil, nil, full(err)
	}
	return data, done, nil
}

// source remembers how reading ended, so that it is told from writing.
type source struct {
	io.Reader
	failed error
}

func (s *source) Read(p []byte) (int, error) {
	n, err := s.Reader.Read(p)
	if err != nil && !errors.Is(err, io.EOF) {
		s.failed = err
	}
	return n, err
}

func full(err error) error {
	slog.Error("a file that arrives cannot be put aside", "error", err)
	return problem(http.StatusInsufficientStorage, "There is no room to take the file in",
		"The disk for temporary files is full or cannot be written. Make room there, then send it again.")
}
