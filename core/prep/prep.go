// Package prep makes the list of what a master needs before rubber touches
// it, from what was found out about it: nothing that this part does not need.
package prep

import (
	"fmt"
	"strings"

	"bathyform/core/inhibit"
)

// Step is one thing to do.
type Step struct {
	Key     string // stays the same while the reason does, so that a tick stays
	Do      string
	Why     string
	Caution string
}

// InsertKind is what an insert is and does.
type InsertKind string

// Inserts and cores.
const (
	Thread InsertKind = "thread" // a threaded insert that stays in the casting
	Hole   InsertKind = "hole"   // a hole through the part
	Core   InsertKind = "core"   // a metal core held by its ends
	Magnet InsertKind = "magnet" // laid in before gel
)

// Insert is one of them on the part.
type Insert struct {
	Kind   InsertKind
	Note   string
	Volume float64 // mm³ of resin that it takes the place of; 0 where not known
}

// Case is what the list is made from.
type Case struct {
	Surface    inhibit.Surface
	Family     inhibit.Family
	RubberName string
	Tested     bool // an inhibition test of this rubber on this surface went well
	TestFailed bool
	Fill       int // small undercuts to be filled
	Recesses   int // narrow places that bubbles sit in
	Inserts    []Insert
	Quality    string // decorative, good or precision
	Generation int    // 1 is the original, 2 a casting from it
	Shrink     float64
	FlatBack   bool
	OpenMesh   bool
	Day        *Day   // nil where nobody has looked at the thermometer
	MeasuredAs string // what the caster's own measure says of the scale; empty when it agrees
}

// Day is the weather in the shop.
type Day struct {
	Celsius  float64 `json:"celsius"`
	Humidity float64 `json:"humidity"` // per cent, relative
}

// Check refuses what no thermometer shows.
func (d Day) Check() error {
	if !(d.Celsius >= -30 && d.Celsius <= 60) {
		return fmt.Errorf("a shop is between -30 and 60 °C, not %g", d.Celsius)
	}
	if !(d.Humidity >= 0 && d.Humidity <= 100) {
		return fmt.Errorf("the humidity lies between 0 and 100 %%, not %g", d.Humidity)
	}
	return nil
}

// Limits for spraying primer and paint. Common practice, no source, from
// memory; the tin says its own.
const (
	tooCold = 10.0 // °C
	tooHot  = 32.0
	tooDamp = 70.0 // per cent
)

// spraying warns of the day; without a reading it says what to look at.
func spraying(d *Day) string {
	switch {
	case d == nil:
		return fmt.Sprintf(
			"Spray only with ventilation, between %.0f and %.0f °C and under %.0f %% humidity: else primer blushes and stays soft.",
			tooCold,
			tooHot,
			tooDamp,
		)
	case d.Humidity > tooDamp:
		return fmt.Sprintf(
			"Not today: at %.0f %% humidity primer blushes and stays soft; wait for less than %.0f %%, or warm the room.",
			d.Humidity,
			tooDamp,
		)
	case d.Celsius < tooCold:
		return fmt.Sprintf("Not today: at %.0f °C primer stays soft; warm master, tin and room over %.0f °C.", d.Celsius, tooCold)
	case d.Celsius > tooHot:
		return fmt.Sprintf("Not now: at %.0f °C spray dries in the air and lies on as dust; wait for less than %.0f °C.", d.Celsius, tooHot)
	}
	return fmt.Sprintf("At %.0f °C and %.0f %% humidity primer dries well; spray with ventilation.", d.Celsius, d.Humidity)
}

// List makes the list in working order.
func List(c Case) []Step {
	var out []Step
	add := func(key, do, why, caution string) { out = append(out, Step{key, do, why, caution}) }
	if c.MeasuredAs != "" {
		add("scale", "Measure the master again.", c.MeasuredAs, "")
	}
	if c.Generation > 1 {
		add(
			"generation",
			fmt.Sprintf("Allow for shrink %d times over.", c.Generation),
			fmt.Sprintf(
				"The master is itself a casting: at %.2g %% a time the new castings come out %.2g %% small.",
				c.Shrink,
				c.Shrink*float64(c.Generation),
			),
			"",
		)
	}
	if c.Fill > 0 {
		add(
			"fill",
			fmt.Sprintf("Fill %s with wax or putty.", count(c.Fill, "small undercut", "small undercuts")),
			"No rubber lasts there, and nobody will miss it.",
			"",
		)
	}
	for i, in := range c.Inserts {
		key := fmt.Sprintf("insert-%d-%s", i, in.Kind)
		note := ""
		if in.Note != "" {
			note = " (" + in.Note + ")"
		}
		switch in.Kind {
		case Thread:
			add(
				key,
				"Cover the thread"+note+" with a greased screw or a plug.",
				"Rubber in a thread does not come out; the insert is fitted in the mould or afterwards.",
				"",
			)
		case Hole:
			add(key, "Plug the hole"+note+" half way or flush with one face.", "The plug decides where the seam in the hole lies.", "")
		case Core:
			add(
				key,
				"Let the core's ends"+note+" stand out of the master.",
				"The mould holds the core by its ends; leave resin a way round or through it.",
				"",
			)
		case Magnet:
			add(
				key,
				"Mark the magnet's place and its pole"+note+".",
				"It is laid in before gel; one turned the wrong way spoils the casting.",
				"Keep magnets away from pacemakers.",
			)
		}
	}
	switch c.Surface {
	case inhibit.PrintPLA, inhibit.PrintResin:
		if c.Quality == "precision" || c.Quality == "good" {
			add(
				"sand",
				"Sand, prime and sand again, wet.",
				"Rubber copies everything, print layers too.",
				"Sanding dust: mask. "+spraying(c.Day),
			)
		} else {
			add("sand", "Knock off the worst of the print layers.", "Rubber copies everything; for a decorative part "+
				"the rest may stay.", "Sanding dust: mask.")
		}
	case inhibit.Wood, inhibit.Plaster:
		add(
			"seal",
			"Seal it with shellac or acrylic, two thin coats.",
			"It is porous: rubber would key into it and air would come out of it.",
			"Solvents: no flame, ventilation.",
		)
	}
	if c.Recesses > 0 {
		add(
			"brush",
			fmt.Sprintf("Brush rubber into %s first.", count(c.Recesses, "narrow place", "narrow places")),
			"Bubbles sit there and print on every casting.",
			"",
		)
	}
	fix := map[inhibit.Surface]string{
		inhibit.PrintPLA:   "Fix it to the board with double tape or white glue.",
		inhibit.PrintResin: "Fix it to the board with wax drops; hot glue can pull its surface off.",
		inhibit.Metal:      "Fix it to the board with hot glue or instant glue.",
		inhibit.Wax:        "Fix it to the board with a drop of its own wax.",
	}[c.Surface]
	if fix == "" {
		fix = "Fix it to the board with wax drops."
	}
	burns := ""
	if strings.Contains(fix, "hot glue") || strings.Contains(fix, "wax") {
		burns = "Hot glue and wax burn."
	}
	if c.FlatBack {
		add("fix", fix, "A part that comes loose floats up in the rubber. It must come off again without harm.", burns)
	} else {
		add("hang", "Give it feet or a wire where an opening is wanted anyway.", "It has no flat back to stand on; "+
			"each support leaves a hole in the rubber.", "")
	}
	switch e := inhibit.Of(c.Family, c.Surface); {
	case c.Family == "":
	case c.TestFailed:
		add("inhibit", "Change the surface or the rubber.", fmt.Sprintf("A test of %s on it stayed tacky.", c.RubberName), "")
	case e.Severity > inhibit.None && !c.Tested:
		add(
			"inhibit",
			fmt.Sprintf("Dab %s on the master where it does not show and let it cure.", c.RubberName),
			upper(e.Why)+": "+e.Remedy+".",
			"",
		)
	}
	add("wipe", "Wipe it with alcohol.", "Grease and fingerprints print on every casting.", "Alcohol: no flame.")
	if c.OpenMesh {
		add("holes", "Look for gaps in the master where the mesh has holes.", "Rubber runs in through a gap and locks.", "")
	}
	return out
}

func count(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

func upper(s string) string {
	if s == "" || s[0] < 'a' || s[0] > 'z' {
		return s
	}
	return string(s[0]-32) + s[1:]
}
