// Package season takes the shop's log out to a file and reads one back in: for a
// spreadsheet as CSV, whole as JSON. What a line of a file is going to do is said
// before anything is done.
package season

import (
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"
	"time"

	"bathyform/core/logbook"
	"bathyform/internal/photo"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// Does is what a pull of a file is going to do.
type Does string

// What it may do.
const (
	Adds    Does = "adds"
	Known   Does = "known" // the log has it already
	Refused Does = "refused"
)

// Step is what becomes of one pull of a file.
type Step struct {
	Line  int // of the file, of its first casting
	Lines int // castings
	Day   string
	Mould string
	Does  Does
	Why   string // it is refused
}

// Plan is what becomes of a file.
type Plan struct {
	Says                 []string // how it was read
	Steps                []Step
	Adds, Known, Refused int
	Castings             int
	pulls                []store.Pull
}

// document is the whole log as JSON.
type document struct {
	Format string      `json:"format"`
	Pulls  []documentP `json:"pulls"`
}

type documentP struct {
	ID    uuid.UUID `json:"id"`
	Mould string    `json:"mould"`
	Day   string    `json:"day"`
	A     *float64  `json:"a_g,omitempty"`
	B     *float64  `json:"b_g,omitempty"`
	Notes string    `json:"notes,omitempty"`
	Resin string    `json:"resin,omitempty"`
	store.Conditions
	Struck  bool        `json:"struck,omitempty"`
	Results []documentR `json:"results"`
	Photos  []documentF `json:"photos,omitempty"`
}

type documentR struct {
	Cavity int          `json:"cavity"`
	Good   bool         `json:"good"`
	Second bool         `json:"second,omitempty"`
	Defect string       `json:"defect,omitempty"`
	Weight *float64     `json:"weight_g,omitempty"`
	Place  *store.Place `json:"place_mm,omitempty"`
	Note   string       `json:"note,omitempty"`
}

// documentF is a picture.
type documentF struct {
	ID     uuid.UUID `json:"id"`
	Cavity int       `json:"cavity,omitempty"`
	JPEG   []byte    `json:"jpeg"`
}

// format is what the JSON calls itself.
const format = "bathyform log 1"

// ErrFormat says that a JSON file is no log.
var ErrFormat = errors.New("this JSON is no log: it begins with \"format\": \"" + format + "\"")

// JSON is the whole log with its pictures.
func JSON(ctx context.Context, s *store.Store) ([]byte, error) {
	all, err := s.WholeLog(ctx)
	if err == nil {
		err = s.AddPictures(ctx, all)
	}
	if err != nil {
		return nil, err
	}
	doc := document{Format: format, Pulls: []documentP{}}
	for _, p := range all {
		one := documentP{
			ID:         p.ID,
			Mould:      p.MouldNumber,
			Day:        p.Pulled.Format(time.DateOnly),
			A:          p.MassA,
			B:          p.MassB,
			Notes:      p.Notes,
			Resin:      p.Resin,
			Conditions: p.Conditions,
			Struck:     p.Struck,
			Results:    []documentR{},
		}
		for _, r := range p.Results {
			one.Results = append(one.Results, documentR{r.Cavity, r.Good, r.Second, r.Defect, r.Weight, r.Place, r.Note})
		}
		for _, f := range p.Photos {
			one.Photos = append(one.Photos, documentF{f.ID, f.Cavity, f.JPEG})
		}
		doc.Pulls = append(doc.Pulls, one)
	}
	return json.MarshalIndent(doc, "", " ")
}

// CSV is the whole log as RFC 4180 has it, in g and mm, a line a casting. It has no
// pictures.
func CSV(ctx context.Context, s *store.Store) ([]byte, error) {
	all, err := s.WholeLog(ctx)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	out.WriteString("\ufeff")
	w := csv.NewWriter(&out)
	w.UseCRLF = true
	_ = w.Write([]string{"Day", "Mould", "A, g", "B, g", "Cavity", "Casting", "Defect", "Struck", "Notes", "°C", "Humidity", "kPa",
		"Who", "Lot", "Weight, g", "X", "Y", "Z", "Remark", "Colour", "Matched", "Finishing", "Poured at", "Out after",
		"Resin", "Pull"})
	for _, p := range all {
		for _, r := range p.Results {
			casting, struck := "scrap", ""
			switch {
			case r.Good:
				casting = "good"
			case r.Second:
				casting = "second"
			}
			if p.Struck {
				struck = "yes"
			}
			var place [3]string
			if r.Place != nil {
				for i := range place {
					place[i] = figure(&r.Place[i])
				}
			}
			_ = w.Write(
				[]string{
					p.Pulled.Format(time.DateOnly),
					Harmless(p.MouldNumber),
					figure(p.MassA),
					figure(p.MassB),
					strconv.Itoa(r.Cavity),
					casting,
					Harmless(r.Defect),
					struck,
					Harmless(p.Notes),
					figure(p.Conditions.Celsius),
					figure(p.Conditions.Humidity),
					figure(p.Conditions.Pressure),
					Harmless(p.Conditions.Who),
					Harmless(p.Conditions.Lot),
					figure(r.Weight),
					place[0], place[1], place[2],
					Harmless(r.Note),
					Harmless(p.Conditions.Colour),
					yes(p.Conditions.Matched),
					figure(p.Conditions.Finishing),
					p.Conditions.Poured,
					figure(p.Conditions.Out),
					Harmless(p.Resin),
					p.ID.String(),
				},
			)
		}
	}
	w.Flush()
	return out.Bytes(), w.Error()
}

// figure is one as a cell has it; empty for none.
func figure(v *float64) string {
	if v == nil {
		return ""
	}
	return strconv.FormatFloat(*v, 'f', -1, 64)
}

// yes is an answer as a cell has it; empty for none.
func yes(is *bool) string {
	switch {
	case is == nil:
		return ""
	case *is:
		return "yes"
	}
	return "no"
}

// Harmless is a text that no spreadsheet takes for a sum.
func Harmless(v string) string {
	if strings.ContainsAny(v[:min(1, len(v))], "=+-@\t\r") {
		return "'" + v
	}
	return v
}

// Look reads a file and says what becomes of it; nothing is done yet.
func Look(ctx context.Context, s *store.Store, data []byte, dayFirst bool, today time.Time) (Plan, error) {
	var plan Plan
	var pulls []logbook.Pull
	var pictures map[string][]documentF
	if text := bytes.TrimSpace(bytes.TrimPrefix(data, []byte("\ufeff"))); len(text) > 0 && text[0] == '{' {
		var err error
		if pulls, pictures, err = fromJSON(text); err != nil {
			return plan, err
		}
	} else {
		read, err := logbook.File(data, dayFirst)
		if err != nil {
			return plan, err
		}
		plan.Says, pulls = read.Says, logbook.Pulls(read.Lines)
	}
	strange, err := strangeResins(ctx, s, pulls)
	if err != nil {
		return plan, err
	}
	plan.Says = append(plan.Says, strange...)
	moulds, err := s.Moulds(ctx)
	if err != nil {
		return plan, err
	}
	by := make(map[string]store.Mould, len(moulds))
	for _, m := range moulds {
		by[strings.ToLower(m.Number)] = m
	}
	known := make([]uuid.UUID, len(pulls))
	for i, p := range pulls {
		known[i] = idOf(s.Shop, p.Key)
	}
	there, err := s.KnownPulls(ctx, known)
	if err != nil {
		return plan, err
	}
	seen := map[uuid.UUID]bool{}
	for i, p := range pulls {
		first := p.Lines[0]
		step := Step{Line: first.Number, Lines: len(p.Lines), Day: first.Day.String(), Mould: first.Mould, Does: Adds}
		plan.Castings += len(p.Lines)
		m, ok := by[strings.ToLower(first.Mould)]
		switch why := against(p, m, ok, today); {
		case why != "":
			step.Does, step.Why = Refused, why
			plan.Refused++
		case there[known[i]], seen[known[i]]:
			step.Does = Known
			plan.Known++
		default:
			taken, err := pictured(pullOf(known[i], m, p), m, pictures[p.Key])
			if err != nil {
				step.Does, step.Why = Refused, err.Error()
				plan.Refused++
				break
			}
			plan.Adds++
			plan.pulls = append(plan.pulls, taken)
		}
		seen[known[i]] = true
		plan.Steps = append(plan.Steps, step)
	}
	return plan, nil
}

// strangeResins says which resins of a file are not on the shelf.
func strangeResins(ctx context.Context, s *store.Store, pulls []logbook.Pull) (says []string, err error) {
	shelf, err := s.Materials(ctx)
	known := map[string]bool{"": true}
	for _, m := range shelf {
		known[m.Name] = true
	}
	for _, p := range pulls {
		if resin := p.Lines[0].Air.Resin; !known[resin] {
			known[resin] = true
			says = append(says, fmt.Sprintf("%s is not on the shelf: its pulls are written down without a resin.", resin))
		}
	}
	return says, err
}

// idOf is the ID of a pull by its key: its own where it is one.
func idOf(shop uuid.UUID, key string) uuid.UUID {
	if id, err := uuid.Parse(key); err == nil {
		return id
	}
	return uuid.NewSHA1(shop, []byte("season "+key))
}

// against is why a pull cannot be taken.
func against(p logbook.Pull, m store.Mould, known bool, today time.Time) string {
	first := p.Lines[0]
	day := dayOf(first.Day)
	switch {
	case p.Wrong != "":
		return p.Wrong
	case !known:
		return fmt.Sprintf("There is no mould %s on the rack: enter it first, or put its number right.", first.Mould)
	case day.Before(m.Poured):
		return fmt.Sprintf("%s was not poured by then: it was on %s.", m.Number, m.Poured.Format("2 January 2006"))
	case m.Retired != nil && day.After(*m.Retired):
		return fmt.Sprintf("%s was retired by then, on %s.", m.Number, m.Retired.Format("2 January 2006"))
	case day.After(today.AddDate(0, 0, 1)):
		return "That day has not come yet."
	}
	for _, l := range p.Lines {
		if l.Cavity > m.Cavities {
			return fmt.Sprintf("%s has no cavity %d.", m.Number, l.Cavity)
		}
	}
	return ""
}

func dayOf(d logbook.Date) time.Time {
	return time.Date(d.Year, time.Month(d.Month), d.Day, 0, 0, 0, 0, time.UTC)
}

func pullOf(id uuid.UUID, m store.Mould, p logbook.Pull) store.Pull {
	first := p.Lines[0]
	out := store.Pull{ID: id, MouldID: m.ID, Pulled: dayOf(first.Day), Notes: first.Notes, Struck: first.Struck, Resin: first.Air.Resin}
	air := first.Air
	out.Conditions = store.Conditions{
		Celsius:  some(air.Celsius),
		Humidity: some(air.Humidity),
		Pressure: some(air.Pressure),
		Who:      air.Who,
		Lot:      air.Lot,
		Poured:   air.Poured,
		Out:      some(air.Out),

		Colour:    air.Colour,
		Matched:   air.Matched,
		Finishing: some(air.Finishing),
	}
	if first.A > 0 {
		out.MassA = &first.A
	}
	if first.B > 0 {
		out.MassB = &first.B
	}
	for _, l := range p.Lines {
		out.Results = append(out.Results, store.Result{Cavity: l.Cavity, Good: l.Good, Second: l.Second, Defect: l.Defect,
			Weight: some(l.Weight), Place: (*store.Place)(l.Place), Note: l.Remark})
	}
	return out
}

func some(v float64) *float64 {
	if v == 0 {
		return nil
	}
	return &v
}

// pictured is a pull with its pictures, each of them looked at.
func pictured(p store.Pull, m store.Mould, all []documentF) (store.Pull, error) {
	if len(all) > store.MostPhotos {
		return p, store.ErrManyPhotos
	}
	for _, f := range all {
		if f.Cavity < 0 || f.Cavity > m.Cavities {
			return p, fmt.Errorf("%s has no cavity %d", m.Number, f.Cavity)
		}
		made, err := photo.Make(f.JPEG)
		if err != nil {
			return p, err
		}
		p.Photos = append(p.Photos, store.Photo{ID: f.ID, PullID: p.ID, Cavity: f.Cavity, Wide: made.Wide, Tall: made.Tall,
			JPEG: made.JPEG, Small: made.Small})
	}
	return p, nil
}

// fromJSON reads the whole log, and its pictures by the keys of their pulls.
func fromJSON(data []byte) (out []logbook.Pull, pictures map[string][]documentF, err error) {
	var doc document
	if err := json.Unmarshal(data, &doc); err != nil {
		return nil, nil, fmt.Errorf("this JSON cannot be read: %w", err)
	}
	if doc.Format != format {
		return nil, nil, ErrFormat
	}
	pictures = map[string][]documentF{}
	lines := 0
	for i, p := range doc.Pulls {
		pull := logbook.Pull{Key: p.ID.String()}
		day, err := logbook.ParseDate(p.Day, true)
		if err != nil {
			pull.Wrong = err.Error()
		}
		for _, r := range p.Results {
			lines++
			l := logbook.Line{
				Number: i + 1,
				Pull:   pull.Key,
				Day:    day,
				Mould:  p.Mould,
				Cavity: r.Cavity,
				Good:   r.Good,
				Second: r.Second,
				Defect: r.Defect,
				Struck: p.Struck,
				Notes:  p.Notes,
				Air: logbook.Air{
					Celsius:  plain(p.Celsius),
					Humidity: plain(p.Humidity),
					Pressure: plain(p.Pressure),
					Who:      p.Who,
					Lot:      p.Lot,
					Resin:    p.Resin,
					Poured:   p.Poured,
					Out:      plain(p.Out),

					Colour:    p.Colour,
					Matched:   p.Matched,
					Finishing: plain(p.Finishing),
				},
				Place:  (*[3]float64)(r.Place),
				Remark: r.Note,
			}
			if l.Weight = given(r.Weight); l.Weight < 0 {
				pull.Wrong = "A weight is more than 0."
			}
			if l.A, l.B = given(p.A), given(p.B); l.A < 0 || l.B < 0 {
				pull.Wrong = "A weight is more than 0."
			}
			if r.Good && r.Second {
				pull.Wrong = "A casting is good or a second, not both."
			}
			if !r.Good && r.Defect == "" {
				pull.Wrong = "A scrapped casting without its defect teaches nothing."
			}
			pull.Lines = append(pull.Lines, l)
		}
		if lines > logbook.MostLines {
			return nil, nil, logbook.ErrLong
		}
		if len(pull.Lines) == 0 {
			pull.Lines = []logbook.Line{{Number: i + 1, Day: day, Mould: p.Mould}}
			pull.Wrong = "A pull has at least one casting."
		}
		out = append(out, pull)
		if len(p.Photos) > 0 {
			pictures[pull.Key] = p.Photos
		}
	}
	return out, pictures, nil
}

func plain(v *float64) float64 {
	if v == nil {
		return 0
	}
	return *v
}

func given(g *float64) float64 {
	switch {
	case g == nil:
		return 0
	case !(*g > 0) || math.IsInf(*g, 0):
		return -1
	}
	return *g
}

// Take does what a plan says.
func (p Plan) Take(ctx context.Context, s *store.Store, told func(done int)) (int, error) {
	return s.ImportPulls(ctx, p.pulls, told)
}
