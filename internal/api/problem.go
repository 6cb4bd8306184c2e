package api

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"math"
	"net/http"
	"strconv"
	"strings"

	"bathyform/core/part"
	"bathyform/internal/store"

	"github.com/labstack/echo/v5"
)

// problemError is a problem on its way to the caster.
type problemError struct{ Problem }

func (p problemError) Error() string { return p.Title }

func problem(status int, title, detail string) error {
	return problemError{Problem{Status: status, Title: title, Detail: &detail}}
}

// unlikely asks about what can be right, though it hardly is.
func unlikely(title, detail string) error {
	meant := true
	return problemError{Problem{Status: http.StatusUnprocessableEntity, Title: title, Detail: &detail, Meant: &meant}}
}

// unusable says that what was sent is understood but cannot be worked with.
func unusable(title string, err error) error {
	if errors.Is(err, context.Canceled) || errors.Is(err, context.DeadlineExceeded) { // nobody has looked at it
		return err
	}
	return problem(http.StatusUnprocessableEntity, title, sentence(err.Error()))
}

// sentence begins with a capital and ends with a full stop.
func sentence(s string) string {
	if s == "" {
		return s
	}
	s = strings.ToUpper(s[:1]) + s[1:]
	if !strings.HasSuffix(s, ".") && !strings.HasSuffix(s, "!") {
		s += "."
	}
	return s
}

// toProblem puts any error into words for people.
func toProblem(err error) Problem {
	var p problemError
	var httpErr *echo.HTTPError
	var coder echo.HTTPStatusCoder
	var tooLarge *http.MaxBytesError
	detail := func(status int, title, text string) Problem {
		return Problem{Status: status, Title: title, Detail: &text}
	}
	switch {
	case errors.As(err, &p):
		return p.Problem
	case errors.Is(err, store.ErrNotFound):
		return detail(
			http.StatusNotFound,
			"That is not here any more",
			"It may have been put into the bin in another window. Go back to the list and look again.",
		)
	case errors.Is(err, store.ErrChanged):
		return detail(http.StatusPreconditionFailed, "This was changed in another window",
			"Nothing was overwritten. Load the newest version, then make your change again.")
	case errors.Is(err, store.ErrReused):
		return detail(http.StatusConflict, "That was sent already, and was something else",
			"Reload the page: an Idempotency-Key names one thing only.")
	case errors.Is(err, part.ErrNoMaster):
		return detail(http.StatusConflict, "There is no master yet", "Drop in a mesh or enter its size and volume on the master stage.")
	case errors.As(err, &tooLarge):
		return detail(http.StatusRequestEntityTooLarge, "That is too large",
			fmt.Sprintf("At most %d MB can be taken. Export the mesh with fewer triangles, or as a binary file.", tooLarge.Limit>>20))
	case errors.As(err, &httpErr):
		return detail(httpErr.Code, http.StatusText(httpErr.Code), sentence(httpErr.Message))
	case errors.As(err, &coder):
		return detail(coder.StatusCode(), http.StatusText(coder.StatusCode()), sentence(err.Error()))
	}
	slog.Error("request failed", "error", err)
	switch {
	case store.Away(err):
		return detail(http.StatusServiceUnavailable, "The workshop's records are being opened again",
			"Try again in a moment. Whether the last change was kept is not known: look before you make it again.")
	case errors.Is(err, context.DeadlineExceeded):
		return detail(http.StatusServiceUnavailable, "That took too long and was called off",
			"Try again when less is going on, or with a simpler mesh. "+
				"Whether a change was kept is not known: look before you make it again.")
	}
	return detail(
		http.StatusInternalServerError,
		"Something went wrong on the server",
		"Whether anything was changed is not known: reload the page and look. If it stays like this, look at the server's log.",
	)
}

// told is a refusal in the shop's own units. What is quoted was written by the
// caster, and stays.
func (s *Server) told(ctx context.Context, p Problem) Problem {
	if p.Status != http.StatusUnprocessableEntity || p.Detail == nil || strings.Contains(*p.Detail, `"`) {
		return p
	}
	if shop, err := s.store.ReadShop(ctx); err == nil {
		p.Detail = optional(shop.Practice.In().Told(*p.Detail))
	}
	return p
}

func writeProblem(w http.ResponseWriter, p Problem) {
	w.Header().Set("Content-Type", "application/problem+json")
	if p.Status == http.StatusRequestTimeout { // the rest of what was sent is not waited for
		w.Header().Set("Connection", "close")
	}
	w.WriteHeader(p.Status)
	_ = json.NewEncoder(w).Encode(p) // the caller has gone if this fails
}

// from is what a change starts from, and its key.
func from(ifMatch string, key *IdempotencyKey) (store.From, error) {
	v, err := version(ifMatch)
	return store.From{Version: v, Key: given(key)}, err
}

// version reads an If-Match header.
func version(header string) (int, error) {
	n, err := strconv.Atoi(strings.Trim(strings.TrimPrefix(header, "W/"), `" `))
	if err != nil || n < 0 {
		return 0, problem(
			http.StatusPreconditionRequired,
			"The version is missing",
			"Say in If-Match which version the change starts from.",
		)
	}
	return min(n, math.MaxInt32), nil // no version is as large, so that such a one was never read here
}
