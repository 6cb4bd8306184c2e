package hours

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whatever the work: it is done in order, hands work only while the shop is
// open, and what must not wait follows at once.
func TestNoScheduleBreaksTheShopsHours(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 9))
	for n := range 300 {
		s := Shop{Open: float64(6 * 60), Close: float64(14*60 + 60*rng.IntN(8))}
		for d := range s.Days {
			s.Days[d] = rng.Float64() < 0.7
		}
		s.Days[rng.IntN(7)] = true
		var tasks []Task
		for i := range 1 + rng.IntN(12) {
			task := Task{Name: fmt.Sprint("task ", i), Minutes: float64(5 + rng.IntN(90)), Hands: rng.Float64() < 0.7}
			if !task.Hands {
				task.Minutes *= 15
			}
			task.With = task.Hands && i > 0 && tasks[i-1].Hands && rng.Float64() < 0.3
			tasks = append(tasks, task)
		}
		weekday, from := rng.IntN(7), float64(rng.IntN(3*day))
		slots, err := s.Lay(tasks, from, weekday)
		require.NoError(t, err)
		require.Len(t, slots, len(tasks))
		last := from
		for i, slot := range slots {
			require.GreaterOrEqual(t, slot.From, last-1e-9, "schedule %d", n)
			assert.InDelta(t, tasks[i].Minutes, slot.To-slot.From, 1e-9)
			if slot.With {
				assert.InDelta(t, last, slot.From, 1e-9, "straight after the one before")
			}
			last = slot.To
			if !slot.Hands {
				continue
			}
			d := math.Floor(slot.From / day)
			assert.True(t, s.Days[(int(d)+weekday)%7], "open that day")
			assert.GreaterOrEqual(t, slot.From-d*day, s.Open-1e-9)
			if run := runOf(tasks, i); run <= s.Close-s.Open {
				assert.LessOrEqual(t, slot.To-d*day, s.Close+1e-9, "done before it closes")
			}
		}
	}
}

// runOf is how long the run takes that a task belongs to.
func runOf(tasks []Task, i int) (minutes float64) {
	from := i
	for tasks[from].With {
		from--
	}
	minutes = tasks[from].Minutes
	for k := from + 1; k < len(tasks) && tasks[k].With; k++ {
		minutes += tasks[k].Minutes
	}
	return minutes
}

func TestALaterStartIsNeverDoneSooner(t *testing.T) {
	tasks := []Task{{Name: "box", Minutes: 90, Hands: true}, {Name: "cure", Minutes: 700}, {Name: "open", Minutes: 30, Hands: true}}
	last := 0.0
	for from := 0.0; from < 5*day; from += 37 {
		s := laid(t, from, 2, tasks...)
		assert.GreaterOrEqual(t, s[2].To, last)
		last = s[2].To
	}
}
