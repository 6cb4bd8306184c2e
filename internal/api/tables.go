package api

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"math"
	"mime"
	"net/http"
	"strconv"
	"strings"
	"time"

	"bathyform/core/quantity"

	"github.com/google/uuid"
)

// GetTable writes a table for a spreadsheet.
func (s *Server) GetTable(ctx context.Context, r GetTableRequestObject) (GetTableResponseObject, error) {
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	t := table{in: shop.Practice.In()}
	name := r.Table
	switch r.Table {
	case "jobs":
		err = s.jobsTable(ctx, &t)
	case "rack":
		err = s.rackTable(ctx, &t)
	case "stock":
		err = s.stockTable(ctx, &t)
	default:
		if r.Params.Job == nil {
			return nil, problem(http.StatusUnprocessableEntity, "Which job's log?", "Name the job.")
		}
		j, failed := s.store.Job(ctx, *r.Params.Job)
		if failed != nil {
			return nil, failed
		}
		name = fileName(j.Order.Name) + "-log"
		err = s.logTable(ctx, &t, j.ID)
	}
	if err != nil {
		return nil, err
	}
	data := t.csv()
	disposition := mime.FormatMediaType("attachment", map[string]string{"filename": name + ".csv"})
	return GetTable200TextcsvResponse{
		Body:          bytes.NewReader(data),
		ContentLength: int64(len(data)),
		Headers:       GetTable200ResponseHeaders{ContentDisposition: &disposition},
	}, nil
}

func (s *Server) jobsTable(ctx context.Context, t *table) error {
	jobs, err := s.store.Jobs(ctx)
	t.row("Job", "Wanted", "Good", "Scrap", "Due", "Set", "In every set", "Notes")
	for _, j := range jobs {
		o := j.Order
		t.row(o.Name, o.Quantity, j.Good, j.Scrap, o.Due, o.Set, o.PerSet, o.Notes)
	}
	return err
}

func (s *Server) rackTable(ctx context.Context, t *table) error {
	all, err := s.store.Moulds(ctx)
	if err != nil {
		return err
	}
	moulds, err := s.forecasts(ctx, all)
	t.row("Mould", "Job", "Rubber", "Kind", "Poured", "Cavities", "Pulls", "Good", "Scrap", "Retired", "How it ended",
		"Place",
		"Left, low", "Left, middle", "Left, high")
	for i, m := range moulds {
		left := []any{"", "", ""}
		if all[i].Retired == nil {
			left = []any{m.Remaining.Low, m.Remaining.Middle, m.Remaining.High}
		}
		t.row(append([]any{m.Number, m.JobName, m.Rubber, all[i].Kind, all[i].Poured, m.Cavities, m.Pulls, m.Good, m.Scrap,
			all[i].Retired, all[i].Ended, all[i].Place}, left...)...)
	}
	return err
}

func (s *Server) stockTable(ctx context.Context, t *table) error {
	all, err := s.store.Materials(ctx)
	t.row("Material", "Kind", "Parts A", "Parts B", "Parts by", "Density mixed, g/mL", "Source")
	for _, m := range all {
		by := "weight"
		if m.ByVolume {
			by = "volume"
		}
		t.row(m.Name, m.Kind, m.PartsA, m.PartsB, by, m.Density, m.Source)
	}
	return err
}

// atOnce is how many pulls are read from the log at a time.
const atOnce = 500

func (s *Server) logTable(ctx context.Context, t *table, job uuid.UUID) error {
	unit := t.in.Unit(quantity.Mass)
	t.row("Day", "Mould", "A, "+unit, "B, "+unit, "Cavity", "Casting", "Defect", "Struck", "Notes")
	for skip := 0; ; skip += atOnce {
		pulls, total, err := s.store.Pulls(ctx, job, atOnce, skip)
		if err != nil {
			return err
		}
		for _, p := range pulls {
			for _, r := range p.Results {
				casting := "scrap"
				if r.Second {
					casting = "second"
				}
				if r.Good {
					casting = "good"
				}
				t.row(p.Pulled, p.MouldNumber, t.mass(p.MassA), t.mass(p.MassB), r.Cavity, casting, r.Defect, p.Struck, p.Notes)
			}
		}
		if skip+len(pulls) >= total || len(pulls) == 0 {
			return nil
		}
	}
}

// table is rows in the shop's hand.
type table struct {
	in   quantity.Units
	rows [][]string
}

// mass is a mass in g in the shop's unit; empty where nobody weighed.
func (t *table) mass(g *float64) any {
	if g == nil {
		return ""
	}
	v, err := quantity.In(*g, t.in.Unit(quantity.Mass))
	if err != nil {
		return ""
	}
	return math.Round(v*1000) / 1000
}

func (t *table) row(cells ...any) {
	out := make([]string, len(cells))
	for i, c := range cells {
		out[i] = t.cell(c)
	}
	t.rows = append(t.rows, out)
}

func (t *table) cell(c any) string {
	switch v := c.(type) {
	case string:
		if strings.ContainsAny(v[:min(1, len(v))], "=+-@\t\r") { // a spreadsheet would take it for a sum
			return "'" + v
		}
		return v
	case float64:
		return t.in.Decimal(strconv.FormatFloat(v, 'f', -1, 64))
	case bool:
		if v {
			return "yes"
		}
		return ""
	case time.Time:
		return v.Format(time.DateOnly)
	case *time.Time:
		if v == nil {
			return ""
		}
		return v.Format(time.DateOnly)
	}
	return fmt.Sprint(c)
}

// csv is the table as RFC 4180 has it, with a mark that tells a spreadsheet
// that it is Unicode.
func (t *table) csv() []byte {
	var out bytes.Buffer
	out.WriteString("\ufeff")
	w := csv.NewWriter(&out)
	w.UseCRLF = true
	if t.in.Comma {
		w.Comma = ';'
	}
	_ = w.WriteAll(t.rows) // a buffer takes everything
	return out.Bytes()
}
