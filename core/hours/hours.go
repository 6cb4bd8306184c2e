// Package hours lays tasks into a shop's day: hands work while the shop is
// open, rubber cures through the night.
//
// Times are minutes from midnight before the first day.
package hours

import (
	"errors"
	"fmt"
	"math"
)

const day = 24 * 60

// Shop is when hands are there.
type Shop struct {
	Open, Close float64 // minutes of the day
	Days        [7]bool // from Monday
}

// Check refuses hours in which nothing gets done.
func (s Shop) Check() error {
	if !(s.Open >= 0 && s.Close <= day && s.Close-s.Open >= 60) {
		return errors.New("the shop must be open for an hour at least, between 0:00 and 24:00")
	}
	if s.Days == [7]bool{} {
		return errors.New("the shop must be open on one day of the week at least")
	}
	return nil
}

// Task is one thing to do or to wait for.
type Task struct {
	Name    string
	Minutes float64
	Hands   bool // by a person, in one go
	With    bool // begins straight after the one before, on the same day: a mix does not wait
}

// Slot is a task in its time.
type Slot struct {
	Task
	From, To float64
}

// mostDays bounds the search for a day on which a task has room.
const mostDays = 400

// Lay puts tasks one after another from a moment on. Weekday is the first
// day's, 0 for Monday. A run of tasks joined by With is laid as one.
func (s Shop) Lay(tasks []Task, from float64, weekday int) ([]Slot, error) {
	if err := s.Check(); err != nil {
		return nil, err
	}
	var out []Slot
	for i := 0; i < len(tasks); {
		n, hands := i+1, tasks[i].Minutes
		for n < len(tasks) && tasks[n].With {
			hands += tasks[n].Minutes
			n++
		}
		at := from
		if tasks[i].Hands {
			var err error
			if at, err = s.room(from, hands, weekday, tasks[i].Name); err != nil {
				return nil, err
			}
		}
		for _, t := range tasks[i:n] {
			if math.IsNaN(t.Minutes) || t.Minutes < 0 {
				return nil, fmt.Errorf("%s takes %g minutes, which cannot be", t.Name, t.Minutes)
			}
			out = append(out, Slot{t, at, at + t.Minutes})
			at += t.Minutes
		}
		from, i = at, n
	}
	return out, nil
}

// room is the first moment from which a shop is open for so long. What takes
// longer than a day is begun in the morning.
func (s Shop) room(from, minutes float64, weekday int, name string) (float64, error) {
	minutes = min(minutes, s.Close-s.Open)
	first := math.Floor(from / day)
	for n := range mostDays {
		d := first + float64(n)
		if !s.Days[((int(d)+weekday)%7+7)%7] {
			continue
		}
		at := max(from, d*day+s.Open)
		if at+minutes <= d*day+s.Close+1e-9 {
			return at, nil
		}
	}
	return 0, fmt.Errorf("no day has room for %s", name)
}
