// Package practice holds the choices on which casters differ: how a shop does
// it, unless a job says otherwise. Every default is common practice, no
// source, and is there to be changed.
package practice

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"bathyform/core/quantity"
)

// Feed is the way resin comes into the cavity.
type Feed string

// The two schools: in at the low end with a vent at every high spot, or from
// the top through one broad opening that lets resin down and air up at once.
const (
	FeedLow Feed = "low"
	FeedTop Feed = "top"
)

// Clearance is the rubber left round a part in its box, in mm.
type Clearance struct {
	Beside float64 `json:"beside"`
	Below  float64 `json:"below"`
	Above  float64 `json:"above"`
}

// Webs is the rubber that is left between a channel and what is beside it, in mm.
type Webs struct {
	Part  float64 `json:"part"`  // a part
	Apart float64 `json:"apart"` // another channel
	Wall  float64 `json:"wall"`  // the wall of the box
}

// Instrument is a scale, a gauge or a thermometer that says a line for every
// reading.
type Instrument struct {
	Kind    string  // scale, pot, vacuum or air
	Address string  // HOST:PORT, or a serial line
	Pattern string  `json:",omitempty"` // by which its lines are read; empty for the usual
	Unit    string  `json:",omitempty"` // of lines that say none; empty for its kind's own
	Digit   float64 `json:",omitempty"` // its smallest step, in the unit of its kind; 0 where nobody has said
}

// mostInstruments bounds those of a shop.
const mostInstruments = 12

func (h House) checkInstruments() error {
	if len(h.Instruments) > mostInstruments {
		return fmt.Errorf("%d instruments are more than the %d that can be heard", len(h.Instruments), mostInstruments)
	}
	for i, in := range h.Instruments {
		switch {
		case !slices.Contains([]string{"scale", "pot", "vacuum", "air"}, in.Kind):
			return fmt.Errorf("instrument %d is a scale, a pot, a vacuum or the air, not %q", i+1, in.Kind)
		case in.Address == "" || len(in.Address) > 200:
			return fmt.Errorf("say where instrument %d is: HOST:PORT, or a serial line as /dev/ttyUSB0", i+1)
		}
		if err := Within(fmt.Sprintf("step of instrument %d", i+1), in.Digit, 0, 1000); err != nil {
			return err
		}
	}
	return nil
}

// House is one shop's practice.
type House struct {
	Units        quantity.System
	Each         map[string]string `json:",omitempty"` // units of single kinds that are not those: length, volume, mass, pressure, temperature
	DecimalComma bool

	Clearance  Clearance
	PanelThick float64 // of the box boards, mm
	Freeboard  float64 // of the box over the rubber, mm
	RubberOver float64 // per cent on top of the rubber's volume, for what stays in the bucket

	Feed         Feed
	SprueBore    float64 // mm, feeding low
	TopBore      float64 // mm, feeding from the top
	VentBore     float64 // mm
	WellWidth    float64 // mm at the rim
	WellDepth    float64 // mm
	ShotOver     float64 // per cent on top of the shot, for cup, flash and margin
	Webs         Webs
	Stream       float64 // mm across, as resin is poured from a cup
	CupKeeps     float64 // mL of a shot that stay in the cup, beside the share for cup, flash and margin
	SyringeKeeps float64 // mL that stay in a syringe

	GoodOf100  float64 // castings of a hundred that come out good, before a job's own log says better
	FinishPace float64 // times as long as reckoned that finishing a casting takes

	ScaleStep      float64 // g, one digit of the scale
	RatioTolerance float64 // per cent

	// What the shop has; 0 for none.
	ScaleMost   float64 // g, the heaviest the scale takes
	PotWide     float64 // inner diameter of the pressure pot, mm
	PotTall     float64 // inner height, mm
	ChamberWide float64 // inner diameter of the vacuum chamber, mm
	Detail      float64 // mm; features finer than this are brushed first
	Pressure    float64 // kPa over the atmosphere that castings cure under
	Bucket      float64 // the largest mixing bucket, mL

	// How and when it works.
	Straight bool    // blocks are cut straight instead of jagged
	NoDegas  bool    // rubber is not degassed
	Opens    float64 // hour of the day
	Closes   float64
	Weekends bool    // worked as well
	Celsius  float64 // in the shop; rubber cures by it

	Instruments []Instrument `json:",omitempty"` // of the bench that say what they measure

	Schools map[string]string `json:",omitempty"` // answers to [Schools], where they are not the usual

	// Minutes with rubber: for any batch, and more for each kilogram of it.
	MixMinutes, MixPerKilo     float64
	DegasMinutes, DegasPerKilo float64
	PourMinutes, PourPerKilo   float64
}

// Mixing is how long a batch of rubber of a mass in g takes to be mixed,
// degassed and poured, in minutes.
func (h House) Mixing(mass float64) (mix, degas, pour float64) {
	kilos := mass / 1000
	mix, pour = h.MixMinutes+h.MixPerKilo*kilos, h.PourMinutes+h.PourPerKilo*kilos
	if !h.NoDegas {
		degas = h.DegasMinutes + h.DegasPerKilo*kilos
	}
	return mix, degas, pour
}

// Usual is the practice that a new shop starts with.
func Usual() House {
	return House{
		Units:      quantity.Metric,
		Clearance:  Clearance{Beside: 12, Below: 13, Above: 20},
		PanelThick: 5, Freeboard: 10, RubberOver: 5,
		Feed: FeedLow, SprueBore: 8, TopBore: 14, VentBore: 2,
		WellWidth: 16, WellDepth: 12, ShotOver: 8, Webs: Webs{Part: 5, Apart: 1.5, Wall: 4}, Stream: 6, SyringeKeeps: 3,
		GoodOf100: 90, FinishPace: 1,
		ScaleStep: 1, RatioTolerance: 5,
		ScaleMost: 3000, PotWide: 240, PotTall: 250, ChamberWide: 220, Detail: 2, Pressure: 340,
		Bucket: 5000, Opens: 9, Closes: 17, Celsius: 22,
		MixMinutes: 1, MixPerKilo: 1.5, DegasMinutes: 2, DegasPerKilo: 1.5, PourMinutes: 0.5, PourPerKilo: 2,
	}
}

// Injects is how much resin stays in the syringe, mL; 0 where none is used.
func (h House) Injects() float64 {
	if h.Does(Inlet) == Injected {
		return h.SyringeKeeps
	}
	return 0
}

// Check refuses values that no mould can be made with.
func (h House) Check() error {
	if h.Units != quantity.Metric && h.Units != quantity.US {
		return fmt.Errorf("the units must be metric or us, not %q", h.Units)
	}
	if err := h.checkUnits(); err != nil {
		return err
	}
	if err := h.checkSchools(); err != nil {
		return err
	}
	if err := h.checkInstruments(); err != nil {
		return err
	}
	if h.Feed != FeedLow && h.Feed != FeedTop {
		return fmt.Errorf("the feed must be low or top, not %q", h.Feed)
	}
	for _, v := range []struct {
		name      string
		value     float64
		low, high float64
	}{
		{"clearance beside (mm)", h.Clearance.Beside, 1, 500}, {"clearance below (mm)", h.Clearance.Below, 1, 500},
		{"clearance above (mm)", h.Clearance.Above, 1, 500}, {"board thickness (mm)", h.PanelThick, 0, 100},
		{"freeboard (mm)", h.Freeboard, 0, 200},
		{"rubber allowance (%)", h.RubberOver, 0, 100}, {"sprue bore (mm)", h.SprueBore, 0.5, 100},
		{"top opening (mm)", h.TopBore, 0.5, 200},
		{"vent bore (mm)", h.VentBore, 0.2, 50}, {"well width (mm)", h.WellWidth, 1, 300},
		{"well depth (mm)", h.WellDepth, 0, 200},
		{"rubber between a channel and a part (mm)", h.Webs.Part, 0.5, 100},
		{"rubber between two channels (mm)", h.Webs.Apart, 0.2, 100},
		{"rubber between a channel and the wall (mm)", h.Webs.Wall, 0.5, 100},
		{"width of the poured stream (mm)", h.Stream, 0.5, 50},
		{"rest in the cup (mL)", h.CupKeeps, 0, 1000}, {"rest in the syringe (mL)", h.SyringeKeeps, 0, 1000},
		{"shot allowance (%)", h.ShotOver, 0, 100}, {"scale step (g)", h.ScaleStep, 0.0001, 1000},
		{"ratio tolerance (%)", h.RatioTolerance, 0.1, 50},
		{"scale's capacity (g)", h.ScaleMost, 0, 1e6}, {"pot's width (mm)", h.PotWide, 0, 3000}, {"pot's height (mm)", h.PotTall, 0, 3000},
		{"chamber's width (mm)", h.ChamberWide, 0, 3000},
		{"size of fine detail (mm)", h.Detail, 0, 20}, {"pot's pressure (kPa)", h.Pressure, 0, 1000},
		{"bucket's size (mL)", h.Bucket, 0, 1e6}, {"opening hour", h.Opens, 0, 23}, {"closing hour", h.Closes, 1, 24},
		{"shop's temperature (°C)", h.Celsius, 0, 45},
		{"mixing time (min)", h.MixMinutes, 0, 60}, {"mixing time a kilogram (min)", h.MixPerKilo, 0, 60},
		{"degassing time (min)", h.DegasMinutes, 0, 120},
		{"degassing time a kilogram (min)", h.DegasPerKilo, 0, 120}, {"pouring time (min)", h.PourMinutes, 0, 60},
		{"pouring time a kilogram (min)", h.PourPerKilo, 0, 60},
		{"good castings of a hundred", h.GoodOf100, 1, 99.9}, {"times as long as reckoned that finishing takes", h.FinishPace, 0.05, 20},
	} {
		if err := Within(v.name, v.value, v.low, v.high); err != nil {
			return err
		}
	}
	if h.Closes-h.Opens < 1 {
		return fmt.Errorf("the shop must be open for an hour at least, not from %g to %g", h.Opens, h.Closes)
	}
	return nil
}

// Within refuses a value outside its range, saying which it is. A name may end
// in its unit: "well depth (mm)".
func Within(name string, value, low, high float64) error {
	if !math.IsNaN(value) && value >= low && value <= high {
		return nil
	}
	name, unit, _ := strings.Cut(strings.TrimSuffix(name, ")"), " (")
	if unit != "" {
		unit = " " + unit
	}
	return fmt.Errorf("the %[1]s must lie between %[2]g%[5]s and %[3]g%[5]s, not %[4]g%[5]s", name, low, high, value, unit)
}

// eachUnits are the kinds whose units may be set by themselves, and what to.
var eachUnits = map[string][]string{
	"length": {"metric", "us"}, "volume": {"metric", "us"}, "mass": {"metric", "us"},
	"pressure": {"kPa", "psi", "bar"}, "temperature": {"°C", "°F"},
}

// In are the units that the shop measures in, each by itself.
func (h House) In() quantity.Units {
	of := func(key string) quantity.System {
		if own := h.Each[key]; own != "" {
			return quantity.System(own)
		}
		return h.Units
	}
	u := quantity.Units{Length: of("length"), Volume: of("volume"), Mass: of("mass"), Pressure: h.Each["pressure"],
		Fahrenheit: h.Each["temperature"] == "°F", Comma: h.DecimalComma}
	if h.Units == quantity.US { // as it usually goes with inches
		if u.Pressure == "" {
			u.Pressure = "psi"
		}
		u.Fahrenheit = h.Each["temperature"] != "°C"
	}
	return u
}

func (h House) checkUnits() error {
	for key, unit := range h.Each {
		of, ok := eachUnits[key]
		if !ok {
			return fmt.Errorf("there is no unit to choose for %q", key)
		}
		if !slices.Contains(of, unit) {
			return fmt.Errorf("the %s is measured in %s, not in %q", key, strings.Join(of, " or "), unit)
		}
	}
	return nil
}
