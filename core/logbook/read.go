// Package logbook reads a season of pulls out of a spreadsheet, however that was
// written: with commas, semicolons or tabs between, decimal commas, three ways to
// write a day, and characters of another set. What cannot be read is said line by
// line; nothing is guessed that could be meant otherwise.
package logbook

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"regexp"
	"strconv"
	"strings"
	"unicode/utf16"
	"unicode/utf8"
)

// Line is one line of a file: a casting, as it was written down.
type Line struct {
	Number int    // of the file, from 1
	Pull   string // its own mark, where the file has one: castings with the same belong together
	Day    Date
	Mould  string
	A, B   float64 // g; 0 where nobody weighed
	Cavity int     // from 1
	Good   bool
	Second bool // it can be used, though it is not good
	Defect string
	Struck bool
	Notes  string
	Weight float64     // of the casting, g; 0 where nobody weighed it
	Place  *[3]float64 // of the defect on the part, mm; nil where nobody has shown it
	Remark string      // of the casting
	Air    Air
	Wrong  string // why it cannot be read; empty where it can
}

// Air is what a pull was made under; 0 and empty where nobody wrote it down.
type Air struct {
	Celsius, Humidity, Pressure float64 // °C, per cent, kPa
	Who, Lot                    string
	Resin                       string // its material's name; empty for what the job had chosen

	Poured string  // time of day, 14:05
	Out    float64 // minutes from the fill until it was demoulded

	Colour    string  // the recipe
	Matched   *bool   // the colour; nil where nobody has said
	Finishing float64 // minutes on all castings of the pull
}

// Read is what was read of a file.
type Read struct {
	Lines []Line
	Says  []string // about the file as a whole: how it was read
}

// Errors of a file as a whole.
var (
	ErrEmpty  = errors.New("there is nothing in this file: export the sheet as CSV, with its header line")
	ErrHeader = errors.New("the header must name the columns day, mould, and cavity with casting (good, second or scrap): add " +
		"the header line to the sheet")
	ErrLong = fmt.Errorf("more than %d lines: divide the file", MostLines)
)

// MostLines bounds a file.
const MostLines = 100_000

// File reads a file of pulls. DayFirst is how 3/4/2026 is meant.
func File(data []byte, dayFirst bool) (Read, error) {
	text, set := decoded(data)
	var out Read
	if set != "" {
		out.Says = append(out.Says, "Read as "+set+".")
	}
	if strings.TrimSpace(text) == "" {
		return out, ErrEmpty
	}
	sep := separator(text)
	if name, ok := map[rune]string{';': "semicolons", '\t': "tabs"}[sep]; ok {
		out.Says = append(out.Says, "Cells are parted by "+name+".")
	}
	in := csv.NewReader(strings.NewReader(text))
	in.Comma, in.FieldsPerRecord, in.LazyQuotes, in.TrimLeadingSpace = sep, -1, true, sep != '\t'
	head, err := in.Read()
	if err != nil {
		return out, ErrEmpty
	}
	columns, units, says := named(head)
	out.Says = append(out.Says, says...)
	has := map[column]bool{}
	for _, c := range columns {
		has[c] = true
	}
	if !has[day] || !has[mould] || !has[casting] && !has[defect] {
		return out, ErrHeader
	}
	comma := sep == ';' || sep == '\t' && decimalCommas(text)
	if comma {
		out.Says = append(out.Says, "Commas are decimal.")
	}
	for {
		cells, err := in.Read()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		at, _ := in.FieldPos(0)
		if err != nil {
			out.Lines = append(out.Lines, Line{Number: at, Wrong: "This line cannot be read: look at its quotation marks."})
			continue
		}
		if strings.TrimSpace(strings.Join(cells, "")) == "" {
			continue
		}
		if len(out.Lines) >= MostLines {
			return out, ErrLong
		}
		out.Lines = append(out.Lines, line(at, cells, columns, units, comma, dayFirst))
	}
}

// decoded is a file as text, and the set of characters where it is no UTF-8.
func decoded(data []byte) (text, set string) {
	wide := func(low, high int) string {
		units := make([]uint16, 0, len(data)/2)
		for i := 2; i+1 < len(data); i += 2 {
			units = append(units, uint16(data[i+low])|uint16(data[i+high])<<8)
		}
		return string(utf16.Decode(units))
	}
	switch {
	case len(data) >= 2 && data[0] == 0xff && data[1] == 0xfe:
		return wide(0, 1), "UTF-16"
	case len(data) >= 2 && data[0] == 0xfe && data[1] == 0xff:
		return wide(1, 0), "UTF-16"
	case utf8.Valid(data):
		return strings.TrimPrefix(string(data), "\ufeff"), ""
	}
	var out strings.Builder
	for _, b := range data {
		if r, ok := windows[b]; ok {
			out.WriteRune(r)
		} else {
			out.WriteRune(rune(b))
		}
	}
	return out.String(), "Windows-1252"
}

// windows are the characters of Windows-1252 that Latin-1 has not.
var windows = map[byte]rune{
	0x80: '€', 0x82: '‚', 0x84: '„', 0x85: '…', 0x91: '‘', 0x92: '’', 0x93: '“', 0x94: '”', 0x96: '–', 0x97: '—',
}

// separator is what parts the cells of the header.
func separator(text string) rune {
	head, _, _ := strings.Cut(text, "\n")
	best, most := ',', strings.Count(head, ",")
	for _, sep := range []rune{';', '\t'} {
		if n := strings.Count(head, string(sep)); n > most {
			best, most = sep, n
		}
	}
	return best
}

func line(at int, cells []string, columns []column, units []unit, comma, dayFirst bool) Line {
	l := Line{Number: at, Cavity: 1, Good: true}
	wrong := func(format string, args ...any) {
		if l.Wrong == "" {
			l.Wrong = fmt.Sprintf(format, args...)
		}
	}
	judged := false
	var place [3]string
	for i, cell := range cells {
		if i >= len(columns) {
			break
		}
		v := plain(cell)
		switch columns[i] {
		case pull:
			l.Pull = v
		case day:
			d, err := ParseDate(v, dayFirst)
			if err != nil {
				wrong("%s", err)
			}
			l.Day = d
		case mould:
			if l.Mould = v; v == "" {
				wrong("Which mould?")
			}
		case massA, massB, weighs:
			g, err := weight(v, comma)
			if err != nil {
				wrong("%s", err)
			}
			*map[column]*float64{massA: &l.A, massB: &l.B, weighs: &l.Weight}[columns[i]] = units[i].of(g)
		case cavity:
			n, err := strconv.Atoi(v)
			if v != "" && (err != nil || n < 1 || n > 1000) {
				wrong("%q is no cavity: they are numbered from 1.", v)
			}
			l.Cavity = max(1, n)
		case casting:
			switch strings.ToLower(v) {
			case "good", "ok", "yes", "1", "y":
				judged = true
			case "scrap", "bad", "no", "0", "n":
				l.Good, judged = false, true
			case "second", "seconds":
				l.Good, l.Second, judged = false, true, true
			case "":
			default:
				wrong("%q is neither good, second nor scrap.", v)
			}
		case defect:
			l.Defect = v
		case struck:
			l.Struck = strings.EqualFold(v, "yes") || v == "1"
		case notes:
			l.Notes = v
		case remark:
			l.Remark = v
		case who:
			l.Air.Who = v
		case resin:
			l.Air.Resin = v
		case lot:
			l.Air.Lot = v
		case colour:
			l.Air.Colour = v
		case pouredAt:
			at, ok := clock(v)
			if !ok {
				wrong("%q is no time of day: write 14:05.", v)
			}
			l.Air.Poured = at
		case matched:
			l.Air.Matched = truth(v)
		case placeX, placeY, placeZ:
			place[columns[i]-placeX] = v
		case celsius, humidity, pressure, finishing, out:
			if v == "" {
				continue
			}
			n, err := figure(v, comma)
			if err != nil {
				wrong("%s", err)
			}
			*map[column]*float64{celsius: &l.Air.Celsius, humidity: &l.Air.Humidity, pressure: &l.Air.Pressure,
				finishing: &l.Air.Finishing, out: &l.Air.Out}[columns[i]] = units[i].of(n)
		}
	}
	var err error
	if l.Place, err = placed(place, comma); err != nil {
		wrong("%s", err)
	}
	if !judged && l.Defect != "" {
		l.Good = false
	}
	if !l.Good && l.Defect == "" {
		wrong("What was wrong with it? A scrapped casting without its defect teaches nothing.")
	}
	if l.Good {
		l.Defect, l.Place = "", nil
	}
	return l
}

// hands are those of a clock: 9:05, 14:05, 14:05:30, 2:05 pm.
var hands = regexp.MustCompile(`(?i)^(\d{1,2}):([0-5]\d)(?::[0-5]\d)? ?(am|pm)?$`)

// clock is a time of day as 14:05; empty for none, false for what is no time.
func clock(v string) (string, bool) {
	if v == "" {
		return "", true
	}
	m := hands.FindStringSubmatch(v)
	if m == nil {
		return "", false
	}
	hour, _ := strconv.Atoi(m[1])
	if half := strings.ToLower(m[3]); half != "" {
		if hour < 1 || hour > 12 {
			return "", false
		}
		if hour %= 12; half == "pm" {
			hour += 12
		}
	}
	return fmt.Sprintf("%02d:%s", hour, m[2]), hour < 24
}

// truth is what a cell says of yes and no; nil for nothing.
func truth(v string) *bool {
	var is bool
	switch strings.ToLower(v) {
	case "yes", "y", "1", "true":
		is = true
	case "no", "n", "0", "false":
	default:
		return nil
	}
	return &is
}

// placed is a point of the part; nil where nothing is given of it.
func placed(cells [3]string, comma bool) (*[3]float64, error) {
	if cells == [3]string{} {
		return nil, nil
	}
	var at [3]float64
	for i, v := range cells {
		n, err := figure(v, comma)
		if v == "" || err != nil {
			return nil, errors.New("a place is given by x, y and z, in mm")
		}
		at[i] = n
	}
	return &at, nil
}

// plain is a cell without the mark that keeps a spreadsheet from taking it for a
// sum.
func plain(cell string) string {
	v := strings.TrimSpace(cell)
	if len(v) > 1 && v[0] == '\'' && strings.ContainsRune("=+-@", rune(v[1])) {
		return v[1:]
	}
	return v
}

// figure reads a temperature, a humidity or a pressure.
func figure(v string, comma bool) (float64, error) {
	if v == "" {
		return 0, nil
	}
	if comma {
		v = strings.Replace(v, ",", ".", 1)
	}
	n, err := strconv.ParseFloat(v, 64)
	if err != nil || math.IsNaN(n) || math.Abs(n) > 2000 {
		return 0, fmt.Errorf("%q is no figure", v)
	}
	return n, nil
}

// weight reads one, with a decimal comma where the file has those.
func weight(v string, comma bool) (float64, error) {
	if v == "" {
		return 0, nil
	}
	number := v
	switch {
	case comma && strings.Count(v, ",") == 1 && !strings.Contains(v, "."):
		number = strings.Replace(v, ",", ".", 1)
	case strings.Contains(v, ","):
		return 0, fmt.Errorf("%q may be meant in two ways: write weights without commas, or part the cells by semicolons", v)
	}
	g, err := strconv.ParseFloat(number, 64)
	if err != nil || !(g > 0) || math.IsInf(g, 0) || g > 1e6 {
		return 0, fmt.Errorf("%q is no weight", v)
	}
	return g, nil
}
