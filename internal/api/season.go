package api

import (
	"bytes"
	"context"
	"errors"
	"io"
	"mime"
	"net/http"
	"slices"
	"sync"

	"bathyform/core/logbook"
	"bathyform/internal/season"

	"github.com/google/uuid"
)

// seasons are files of pulls that were looked at, and are taken when the caster
// says so.
type seasons struct {
	mu   sync.Mutex
	all  map[uuid.UUID]*looked
	last []uuid.UUID
}

type looked struct {
	plan season.Plan

	mu          sync.Mutex
	done, added int
	taking      bool
}

// mostSeasons are remembered at once; the oldest are looked at again.
const mostSeasons = 8

// shownSteps of a file are sent to the page.
const shownSteps = 400

func newSeasons() *seasons { return &seasons{all: make(map[uuid.UUID]*looked)} }

func (s *seasons) keep(p season.Plan) uuid.UUID {
	s.mu.Lock()
	defer s.mu.Unlock()
	id := uuid.New()
	s.all[id], s.last = &looked{plan: p}, append(s.last, id)
	if len(s.last) > mostSeasons {
		delete(s.all, s.last[0])
		s.last = s.last[1:]
	}
	return id
}

func (s *seasons) of(id uuid.UUID) (*looked, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if l, ok := s.all[id]; ok {
		return l, nil
	}
	return nil, problem(http.StatusNotFound, "This file is not looked at any more", "Choose it again.")
}

// PreviewLog says what becomes of a file of pulls.
func (s *Server) PreviewLog(ctx context.Context, r PreviewLogRequestObject) (PreviewLogResponseObject, error) {
	data, err := io.ReadAll(r.Body)
	if err != nil {
		return nil, err
	}
	p, err := season.Look(ctx, s.store, data, given(r.Params.DayFirst), s.now())
	switch {
	case errors.Is(err, logbook.ErrEmpty),
		errors.Is(err, logbook.ErrHeader),
		errors.Is(err, logbook.ErrLong),
		errors.Is(err, season.ErrFormat):
		return nil, unusable("This file cannot be read", err)
	case err != nil:
		return nil, unusable("This file cannot be read", err)
	}
	out := LogPlan{
		Id:       s.seasons.keep(p),
		Says:     append([]string{}, p.Says...),
		Pulls:    len(p.Steps),
		Castings: p.Castings,
		Adds:     p.Adds,
		Known:    p.Known,
		Refused:  p.Refused,
		Steps:    []LogStep{},
	}
	rank := map[season.Does]int{season.Refused: 0, season.Known: 1, season.Adds: 2}
	steps := slices.Clone(p.Steps)
	slices.SortStableFunc(steps, func(a, b season.Step) int { return rank[a.Does] - rank[b.Does] })
	for _, st := range steps[:min(shownSteps, len(steps))] {
		out.Steps = append(
			out.Steps,
			LogStep{Line: st.Line, Castings: st.Lines, Day: st.Day, Mould: st.Mould, Does: LogStepDoes(st.Does),
				Why: optional(st.Why)},
		)
	}
	return PreviewLog200JSONResponse(out), nil
}

// TakeLog takes a file that was looked at into the log.
func (s *Server) TakeLog(ctx context.Context, r TakeLogRequestObject) (TakeLogResponseObject, error) {
	l, err := s.seasons.of(r.ImportId)
	if err != nil {
		return nil, err
	}
	l.mu.Lock()
	if l.taking {
		l.mu.Unlock()
		return nil, problem(http.StatusConflict, "It is being taken already", "Wait until it is through.")
	}
	l.taking = true
	l.mu.Unlock()
	added, err := l.plan.Take(ctx, s.store, func(done int) {
		l.mu.Lock()
		l.done = done
		l.mu.Unlock()
	})
	l.mu.Lock()
	defer l.mu.Unlock()
	l.taking = false
	if err != nil {
		l.done = 0
		return nil, err
	}
	l.added = added
	return TakeLog200JSONResponse(l.taken()), nil
}

func (l *looked) taken() LogTaken { return LogTaken{Added: l.added, Done: l.done, Of: l.plan.Adds} }

// GetLogImport tells how far it is.
func (s *Server) GetLogImport(_ context.Context, r GetLogImportRequestObject) (GetLogImportResponseObject, error) {
	l, err := s.seasons.of(r.ImportId)
	if err != nil {
		return nil, err
	}
	l.mu.Lock()
	defer l.mu.Unlock()
	return GetLogImport200JSONResponse(l.taken()), nil
}

// ExportLog writes the whole log.
func (s *Server) ExportLog(ctx context.Context, r ExportLogRequestObject) (ExportLogResponseObject, error) {
	write := season.CSV
	if r.Form == "json" {
		write = season.JSON
	}
	data, err := write(ctx, s.store)
	if err != nil {
		return nil, err
	}
	disposition := mime.FormatMediaType("attachment", map[string]string{"filename": "log." + string(r.Form)})
	return ExportLog200ApplicationoctetStreamResponse{Body: bytes.NewReader(data), ContentLength: int64(len(data)),
		Headers: ExportLog200ResponseHeaders{ContentDisposition: &disposition}}, nil
}
