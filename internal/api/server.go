package api

import (
	"context"
	"errors"
	"io/fs"
	"log/slog"
	"net/http"
	"regexp"
	"runtime"
	"strconv"
	"strings"
	"time"

	"bathyform/core/memo"
	"bathyform/core/quantity"
	"bathyform/internal/photo"
	"bathyform/internal/search"
	"bathyform/internal/store"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"
	validator "github.com/oapi-codegen/nethttp-middleware"
)

// Limits on what is taken in.
const (
	largestMesh = 100 << 20 // bytes of a mesh file
	largestScan = 30 << 20  // bytes of a scan
	largestLog  = 100 << 20 // bytes of a file of pulls, with their pictures
	largestBody = 1 << 20   // bytes of anything else
)

// Server answers the API for one shop.
type Server struct {
	store    *store.Store
	hand     *inHand
	arriving chan struct{} // bounds how many files are on their way
	uploads  chan struct{} // bounds how many are read at once
	desk     *search.Desk
	lives    lives
	past     past
	benches  *benches
	trainers *trainers
	seasons  *seasons
	shares   *memo.Memo[string, float64] // of surfaces round the defects that were shown on them
	now      func() time.Time
}

var _ StrictServerInterface = (*Server)(nil)

// NewHandler serves the API under /api and the page everywhere else.
func NewHandler(s *store.Store, page fs.FS) (http.Handler, error) {
	spec, err := GetSpec()
	if err != nil {
		return nil, err
	}
	server := &Server{
		store:    s,
		hand:     newInHand(s),
		arriving: make(chan struct{}, mostArriving),
		uploads:  make(chan struct{}, 2),
		desk:     search.NewDesk(),
		benches:  newBenches(),
		trainers: newTrainers(),
		seasons:  newSeasons(),
		shares:   &memo.Memo[string, float64]{Most: mostShares},
		now:      time.Now,
	}
	e := echo.New()
	e.HTTPErrorHandler = func(c *echo.Context, err error) {
		if sent, _ := echo.UnwrapResponse(c.Response()); sent != nil && sent.Committed {
			return // it broke off in the middle of an answer
		}
		if c.Request().Context().Err() == nil || errors.Is(err, errTooSlow) { // else whoever asked has gone
			writeProblem(c.Response(), server.told(c.Request().Context(), toProblem(err)))
		}
	}
	e.Use(middleware.Recover())
	e.Use(guard)
	e.Use(tellPage(pageVersion(page)))
	e.Use(inTime)
	e.Use(middleware.GzipWithConfig(middleware.GzipConfig{MinLength: 1024, Level: 4, Skipper: func(c *echo.Context) bool {
		return strings.HasPrefix(c.Request().URL.Path, "/assets/") // compressed when they were built
	}}))
	e.Use(limitBody)
	e.Use(noNUL)
	e.Use(validate(spec, true))
	e.Use(validate(spec, false))
	RegisterHandlersWithBaseURL(e, NewStrictHandler(server, []StrictMiddlewareFunc{inTurn(max(2, runtime.GOMAXPROCS(0)))}), "/api")
	e.Any("/api/*", func(*echo.Context) error {
		return problem(http.StatusNotFound, "There is no such address", "The page may be older than the server: reload it.")
	})
	files := pageHandler(page)
	serve := func(c *echo.Context) error { files.ServeHTTP(c.Response(), c.Request()); return nil }
	e.GET("/*", serve)
	e.HEAD("/*", serve)
	return e, nil
}

// How long an answer may take: a search tells how far it is and lasts, a file
// arrives as slowly as it may.
const (
	anAnswer = time.Minute
	anUpload = time.Hour
)

// calledKey is under what the server was called in a context: its host.
type calledKey struct{}

func inTime(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r := c.Request()
		limit := anAnswer
		switch {
		case strings.Contains(r.URL.Path, "/searches/"), strings.HasSuffix(r.URL.Path, "/live"):
			return next(c)
		case isUpload(r):
			limit = anUpload
		}
		ctx, cancel := context.WithTimeout(context.WithValue(r.Context(), calledKey{}, r.Host), limit)
		defer cancel()
		c.SetRequest(r.WithContext(ctx))
		defer c.SetRequest(r) // who asked is still there to be told
		return next(c)
	}
}

// isUpload tells requests whose body is a file.
func isUpload(r *http.Request) bool {
	for _, path := range []string{"/master/mesh", "/scans", "/log/preview", "/photos"} {
		if strings.HasSuffix(r.URL.Path, path) {
			return true
		}
	}
	return false
}

// limitBody refuses what is too large before it is read, and stops reading
// when a sender goes on for longer than it said, or hardly sends at all.
func limitBody(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r := c.Request()
		limit := int64(largestBody)
		if isUpload(r) {
			limit = largestMesh
			switch {
			case strings.HasSuffix(r.URL.Path, "/scans"):
				limit = largestScan
			case strings.HasSuffix(r.URL.Path, "/log/preview"):
				limit = largestLog
			case strings.HasSuffix(r.URL.Path, "/photos"):
				limit = photo.MostBytes
			}
		}
		if r.ContentLength > limit {
			return &http.MaxBytesError{Limit: limit}
		}
		if r.Body != http.NoBody {
			r.Body = &steady{ReadCloser: r.Body, conn: http.NewResponseController(c.Response())}
		}
		r.Body = http.MaxBytesReader(c.Response(), r.Body, limit)
		return next(c)
	}
}

// validate holds requests against the contract. Uploads are told apart, since
// the validator would read their bodies into memory.
func validate(spec *openapi3.T, uploads bool) echo.MiddlewareFunc {
	check := validator.OapiRequestValidatorWithOptions(spec, &validator.Options{
		SilenceServersWarning: true,
		DoNotValidateServers:  true,
		Prefix:                "/api",
		Options:               openapi3filter.Options{ExcludeRequestBody: uploads},
		ErrorHandler: func(w http.ResponseWriter, message string, status int) {
			writeProblem(w, invalid(message, status))
		},
	})
	wrapped := echo.WrapMiddleware(check)
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		checked := wrapped(next)
		return func(c *echo.Context) error {
			r := c.Request()
			if !strings.HasPrefix(r.URL.Path, "/api/") || isUpload(r) != uploads {
				return next(c)
			}
			return checked(c)
		}
	}
}

// invalid puts the validator's words into ours.
func invalid(message string, status int) Problem {
	slog.Debug("request does not fit the contract", "message", message)
	title, detail := "That could not be understood", "A value is missing or has the wrong form. Reload the page and try again."
	switch {
	case status == http.StatusNotFound:
		title, detail = "There is no such address", "The page may be older than the server: reload it."
	case strings.Contains(message, "If-Match"):
		status = http.StatusPreconditionRequired
		title, detail = "The version is missing", "Say in If-Match which version the change starts from."
	case strings.Contains(message, errTooSlow.Error()):
		return toProblem(errTooSlow)
	case strings.Contains(message, "too large"):
		status = http.StatusRequestEntityTooLarge
		title, detail = "That is too large", "Send less at once."
	case strings.Contains(message, `Error at "/`):
		_, at, _ := strings.Cut(message, `Error at "/`)
		field, why, _ := strings.Cut(at, `"`)
		why, _, _ = strings.Cut(strings.TrimPrefix(why, ": "), "\n")
		why, outside := outOfBounds(why)
		if outside {
			status, title = http.StatusUnprocessableEntity, "That is beyond what can be kept"
		}
		detail = quantity.Sentence(fieldInWords(field) + " " + why + ".")
	case unknownField.MatchString(message):
		detail = "This server does not know " + unknownField.FindStringSubmatch(message)[1] + ". The page may be older: reload it."
	case strings.HasSuffix(strings.TrimSpace(message), "at most 1 properties"):
		status, detail = http.StatusUnprocessableEntity, "Exactly one is meant: choose one and leave the others out."
	}
	return Problem{Status: status, Title: title, Detail: &detail}
}

// unknownField is how the validator speaks of a field that the contract has not.
var unknownField = regexp.MustCompile(`property ("[^"]*") is unsupported`)

// outOfBounds puts the validator's reason into our words, and tells whether
// the value is of the right form and only too large or too small.
func outOfBounds(why string) (words string, outside bool) {
	switch {
	case strings.Contains(why, `format "date"`):
		return "is not a date", false
	case strings.HasPrefix(why, "value is not one of the allowed values ["):
		list := strings.TrimSuffix(why[strings.IndexByte(why, '[')+1:], "]")
		list = strings.TrimPrefix(list, `"",`) // what may be left out has no name
		return "is none of " + strings.ReplaceAll(strings.ReplaceAll(list, `"`, ""), ",", ", "), false
	case strings.HasPrefix(why, "number must"):
		words = strings.TrimPrefix(why, "number ")
		if at := strings.LastIndexByte(words, ' '); at > 0 {
			if bound, err := strconv.ParseFloat(words[at+1:], 64); err == nil {
				words = words[:at+1] + strconv.FormatFloat(bound, 'f', -1, 64)
			}
		}
		return words, true
	case strings.Contains(why, " number of items is "), strings.Contains(why, " string length is "):
		kind := map[bool]string{true: "items", false: "characters"}[strings.Contains(why, "items")]
		bound := map[bool]string{true: "at least", false: "at most"}[strings.HasPrefix(why, "minimum")]
		return "takes " + bound + why[strings.LastIndexByte(why, ' '):] + " " + kind, true
	case strings.Contains(why, "regular expression"):
		return "must not be blank", true
	case unknownField.MatchString(why):
		return "holds " + unknownField.FindStringSubmatch(why)[1] + ", which this server does not know", false
	}
	return "cannot be read: " + why, false
}

// fieldInWords is a place in a document for people: /vents/0/ventBore is the
// vent bore of vents 1.
func fieldInWords(path string) string {
	var words []string
	for step := range strings.SplitSeq(path, "/") {
		if n, err := strconv.Atoi(step); err == nil {
			step = strconv.Itoa(n + 1)
		}
		for i := len(step) - 1; i > 0; i-- {
			if 'A' <= step[i] && step[i] <= 'Z' {
				step = step[:i] + " " + strings.ToLower(step[i:i+1]) + step[i+1:]
			}
		}
		words = append(words, step)
	}
	return strings.Join(words, " ")
}
