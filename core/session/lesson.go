package session

import (
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/kinds"
	"bathyform/core/mix"
	"bathyform/core/quantity"
)

// Lesson is a session that teaches the bench on stand-ins: it touches no stock,
// no log and no mould.
type Lesson struct {
	Key  string
	Name string
	What string
	Slip []Slip
}

// Slip is something that goes wrong in a lesson when a part is weighed.
type Slip struct {
	Act  Act
	Nth  int    // of its kind, from 1
	Line string // said to the stand-in scale
	Says string
}

// Lessons are those that ship.
var Lessons = []Lesson{
	{Key: "rubber", Name: "A first rubber pour", What: "One mould in one pour: tin-cured rubber, ten to one, degassed."},
	{
		Key:  "casting",
		Name: "A first casting run",
		What: "Two moulds, a fast urethane, one to one, into the pot. The first mould is proved alone.",
	},
	{
		Key:  "wrong",
		Name: "A run that goes wrong",
		What: "The scale loses its plug, part B is overshot, and a mould comes out short.",
		Slip: []Slip{
			{Weigh, 1, "unplug 12", "The plug is pulled: type the weight in, or wait until the scale is back."},
			{Weigh, 2, "put 6", "Too much of it fell in. Keep what the scale shows and see what the bench says."},
			{Pour, 1, "", "It is short by 2 mm: say so under \"It goes wrong\", and top it up."},
		},
	},
}

// LessonOf finds a lesson.
func LessonOf(key string) (Lesson, error) {
	for _, l := range Lessons {
		if l.Key == key {
			return l, nil
		}
	}
	return Lesson{}, fmt.Errorf("there is no lesson %q", key)
}

// What the lessons are made with; invented.
var (
	lessonRubber = mix.Material{Name: "tin-cure 30 A (training)", Ratio: mix.Ratio{A: 10, B: 1}, Density: 1.1,
		Traits: mix.Traits{Family: "tin", Shore: 30, PotLife: 30, Demould: 960, Celsius: 22}}
	lessonResin = mix.Material{Name: "rigid urethane, 6 min (training)", Ratio: mix.Ratio{A: 1, B: 1}, Density: 1.05,
		Traits: mix.Traits{Viscosity: 0.1, PotLife: 6, Demould: 20, Celsius: 22}}
)

// lesson amounts, mL and mm².
const (
	lessonShot, lessonMould, lessonTop = 90.0, 280.0, 900.0
	quick                              = 0.2 // min that a wait lasts in a lesson
)

// Plan is the session of a lesson.
func (l Lesson) Plan(b Bench) (Plan, error) {
	volume := func(v float64) derive.Number { return derive.Of(quantity.Volume, v, "of the lesson") }
	var p Plan
	if l.Key == "rubber" {
		batch, err := mix.Split(lessonRubber, volume(lessonMould))
		if err != nil {
			return p, err
		}
		pour := Filling{
			Pour: kinds.Pour{Name: "The block", Batch: &batch, Spot: "In the low corner.", Mixed: batch.Volume},
			Area: lessonTop * 4,
			Side: 90,
		}
		steps := []kinds.Step{
			{Do: "Set up the box, seal the corners, check it level both ways.", Why: "Leaks are the commonest accident.", Pour: -1},
			{Act: kinds.Mixes, Pour: 0}, {Act: kinds.Fills, Do: "Brush a thin coat over the detail.", Pour: -1},
			{Act: kinds.Cures, Do: "The rubber cures: in the lesson it takes seconds.", Minutes: quick, Wait: true, Pour: -1},
			{Do: "Open the box and trim the flash.", Pour: -1},
		}
		p, err = Make(b, l.Name, lessonRubber, steps, []Filling{pour}, []Mould{{Number: "T-1", Cavities: 1}})
		if err != nil {
			return p, err
		}
	} else {
		batch, err := mix.Split(lessonResin, volume(lessonShot))
		if err != nil {
			return p, err
		}
		shot := Shot{Batch: batch, Area: lessonTop, Minutes: 0.5, Steps: []kinds.Step{
			{Do: "Release and let it dry, close and band the mould; sprue up.", Pour: -1},
			{Act: kinds.Mixes, Let: "Into the well in a thin stream until every vent weeps.", Pour: -1},
			{Act: kinds.Degates, Do: "Snip sprue and vents while it is soft.", Pour: -1},
		}}
		moulds := []Mould{{Number: "T-1", Cavities: 1}, {Number: "T-2", Cavities: 1}}
		if l.Key == "wrong" {
			moulds = []Mould{{Number: "T-1", Cavities: 1, Pulls: 3}}
		}
		if p, err = Cast(b, l.Name, lessonResin, shot, moulds); err != nil {
			return p, err
		}
		for i, s := range p.Steps {
			if s.Act == Wait {
				p.Steps[i].Minutes, p.Steps[i].Do = quick, s.Do+" In the lesson it takes seconds."
			}
		}
	}
	p.Lesson = l.Key
	return p, nil
}

// Slipped is what goes wrong at the step that is on, if anything does.
func (l Lesson) Slipped(s State) (Slip, bool) {
	if s.At >= len(s.Steps) {
		return Slip{}, false
	}
	now := s.Steps[s.At]
	nth := 0
	for _, st := range s.Steps[:s.At+1] {
		if st.Act == now.Act {
			nth++
		}
	}
	for _, slip := range l.Slip {
		if slip.Act == now.Act && slip.Nth == nth {
			return slip, true
		}
	}
	return Slip{}, false
}

// Mark is one thing that a lesson is scored by.
type Mark struct {
	Name string
	Got  int // of ten
	Says string
}

// Score is how a lesson went.
type Score []Mark

// Marked scores a session: weights, order, time against pot life, and what a slip
// would have cost.
func (s State) Marked() Score {
	var out Score
	for i, m := range s.plan.Mixes {
		if mark, ok := s.ratioMark(i, m); ok {
			out = append(out, mark)
		}
	}
	left := 0
	for _, e := range s.Records {
		if len(e.Says) > 8 && e.Says[:9] == "Left out:" {
			left++
		}
	}
	order := Mark{"Order", 10, "Every step in its place."}
	if left > 0 {
		order = Mark{"Order", max(0, 10-2*left), fmt.Sprintf("%s left out.", quantity.Plural(left, "step", "steps"))}
	}
	out = append(out, order)
	for i, c := range s.Cups {
		if c.Poured == 0 || c.Gel <= c.Contact {
			continue
		}
		share := (c.Poured - c.Contact) / (c.Gel - c.Contact)
		mark := Mark{"Time, " + s.plan.Mixes[i].Name, 10, fmt.Sprintf("Poured after %.0f %% of the pot life.", 100*share)}
		if share > inTime {
			mark.Got = max(0, int(math.Round(10*(1.5-share)/(1.5-inTime))))
		}
		if share > 1 {
			mark.Says += " It would have gelled in the gates: the moulds of this cup were lost."
		}
		out = append(out, mark)
	}
	return out
}

func (s State) ratioMark(at int, m Mix) (Mark, bool) {
	cup := s.Cups[at]
	first, last := m.first(), m.last()
	if last < 0 || math.IsNaN(cup.Weighed[first]) || math.IsNaN(cup.Weighed[last]) {
		return Mark{}, false
	}
	ratio := m.Ratio
	if m.Parts[first].Role == PartB {
		ratio = 1 / m.Ratio
	}
	off := math.Abs(cup.Weighed[last]*ratio/cup.Weighed[first] - 1)
	bears := s.plan.Tolerance / 100
	mark := Mark{"Weights, " + m.Name, 10, fmt.Sprintf("The ratio is off by %.1f %%.", 100*off)}
	if off > bears/2 {
		mark.Got = max(0, int(math.Round(10*(2*bears-off)/(1.5*bears))))
	}
	if off > bears {
		grams := 0.0
		for _, f := range m.Fills {
			grams += f.Grams
		}
		mark.Says += fmt.Sprintf(
			" It would have stayed soft: %.0f g of material and %s lost.",
			grams,
			quantity.Plural(len(m.Fills), "casting", "castings"),
		)
	}
	return mark, true
}
