package logbook

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

// Date is a day of the calendar.
type Date struct{ Year, Month, Day int }

func (d Date) String() string { return fmt.Sprintf("%04d-%02d-%02d", d.Year, d.Month, d.Day) }

// The ways to write a day: 2026-03-04, 4.3.2026, 3/4/2026, 4 Mar 2026.
var (
	iso    = regexp.MustCompile(`^(\d{4})-(\d{1,2})-(\d{1,2})(?:[T ].*)?$`)
	dotted = regexp.MustCompile(`^(\d{1,2})\.(\d{1,2})\.(\d{4})$`)
	slash  = regexp.MustCompile(`^(\d{1,2})/(\d{1,2})/(\d{4})$`)
	worded = regexp.MustCompile(`^(\d{1,2})\.? ([A-Za-z]{3,9}) (\d{4})$`)
)

var months = []string{"jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"}

// ParseDate reads a day. In 3/4/2026 the day comes first or the month, as the file
// has it; where one of them can only be the day, that one is.
func ParseDate(s string, dayFirst bool) (Date, error) {
	s = strings.TrimSpace(s)
	n := func(t string) int { v, _ := strconv.Atoi(t); return v }
	var d Date
	switch {
	case iso.MatchString(s):
		f := iso.FindStringSubmatch(s)
		d = Date{n(f[1]), n(f[2]), n(f[3])}
	case dotted.MatchString(s):
		f := dotted.FindStringSubmatch(s)
		d = Date{n(f[3]), n(f[2]), n(f[1])}
	case slash.MatchString(s):
		f := slash.FindStringSubmatch(s)
		a, b := n(f[1]), n(f[2])
		if a > 12 || dayFirst && b <= 12 {
			a, b = b, a
		}
		d = Date{n(f[3]), a, b}
	case worded.MatchString(s):
		f := worded.FindStringSubmatch(s)
		for i, m := range months {
			if strings.HasPrefix(strings.ToLower(f[2]), m) {
				d = Date{n(f[3]), i + 1, n(f[1])}
			}
		}
	}
	if !d.there() {
		return d, fmt.Errorf("%q is no day: write 2026-03-04", s)
	}
	return d, nil
}

// there is whether the calendar has the day.
func (d Date) there() bool {
	if d.Year < 1990 || d.Year > 2200 || d.Month < 1 || d.Month > 12 || d.Day < 1 {
		return false
	}
	long := []int{31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31}[d.Month-1]
	if d.Month == 2 && (d.Year%4 == 0 && d.Year%100 != 0 || d.Year%400 == 0) {
		long = 29
	}
	return d.Day <= long
}
