package kinds

import (
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/practice"
	"bathyform/core/quantity"
)

// What closes a mould; common practice, no source.
const (
	safely    = 1.5  // by how much more than the resin pushes
	bandPulls = 10.0 // N in each strand of a light band
	bandEvery = 40.0 // mm along the mould
	tiePulls  = 40.0 // N of a tie, hand-tight
	tieEvery  = 80.0 // mm along the plates
	tapeWide  = 48.0 // mm
	tapeLayer = 2.0  // times over the seam
)

// parted reports whether there are pieces to be held together.
func (b *Bench) parted() bool { return b.Kind.Resin == Sprued && (b.Kind.Halves || b.Kind.Cut) }

// Closing is how many bands, ties or turns of tape hold the mould against the
// resin, by the house's way.
func (b *Bench) Closing() (what string, n derive.Number) {
	push := b.Push.As("resin pushes (N)")
	factor := derive.From("safety factor", quantity.Number, safely, finding.CommonPractice)
	long := derive.From("longest side", quantity.Length, b.Long, "the box")
	count := func(pulls, every float64, least float64) derive.Number {
		return derive.Of(quantity.Number, max(least, math.Ceil(safely*b.Push.Value/pulls), math.Ceil(b.Long/every)),
			"the more of push × safety factor / each holds, and longest side / one every, rounded up", push, factor,
			derive.From("each holds (N)", quantity.Number, pulls, finding.CommonPractice), long,
			derive.From("one every", quantity.Length, every, finding.CommonPractice))
	}
	switch b.House.Does(practice.Closing) {
	case practice.Plates:
		return "ties", count(tiePulls, tieEvery, 4)
	case practice.Tape:
		return "turns of stretch tape", derive.Of(quantity.Number, math.Ceil(tapeLayer*max(1, b.Long/tapeWide)),
			"layers × longest side / width of the tape, rounded up",
			derive.From("layers", quantity.Number, tapeLayer, finding.CommonPractice), long,
			derive.From("width of the tape", quantity.Length, tapeWide, finding.CommonPractice))
	case practice.OneBand:
		return "band", derive.Of(quantity.Number, 1, "one, as the house does")
	}
	return "bands", count(2*bandPulls, bandEvery, 2)
}

// closed is how the house holds a mould closed.
func (b *Bench) closed() (do, why string) {
	_, n := b.Closing()
	switch b.House.Does(practice.Closing) {
	case practice.Plates:
		return fmt.Sprintf("close the mould between plates and tie them, %.0f ties", n.Value), "Plates spread the ties' pull; tighten " +
			"crosswise, no more than the parting needs."
	case practice.Tape:
		return fmt.Sprintf("close the mould and wind it with %.0f turns of stretch tape", n.Value),
			"Over the parting first; stretched, not tight: over-tight distorts the part."
	case practice.OneBand:
		return "close the mould with one band", "Over the middle; look at the parting from outside."
	}
	return fmt.Sprintf("close and band the mould, %.0f light bands", n.Value), "Many light bands, evenly: over-tight distorts the part. " +
		"Look at the parting from outside."
}

// ClosingFindings says what one band does not hold.
func (b *Bench) ClosingFindings() []finding.Finding {
	if !b.parted() || b.House.Does(practice.Closing) != practice.OneBand || safely*b.Push.Value <= 2*bandPulls {
		return nil
	}
	f := note("one-band-too-few", finding.Watch, "One band does not hold this mould closed.",
		"Newtons: what the resin pushes the halves apart by against what a light band holds. They part, and every parting has flash.")
	f.Remedies = []finding.Remedy{{Label: "House practice", Action: finding.OpenPractice}}
	return []finding.Finding{measured(f, quantity.Number, safely*b.Push.Value, 2*bandPulls)}
}
