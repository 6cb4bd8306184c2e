package kinds

import (
	"fmt"

	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/mix"
	"bathyform/core/quantity"
	"bathyform/core/strip"
)

// Number is a figure with how it was worked out.
type Number = derive.Number

// Case is what the choice of a kind depends on.
type Case struct {
	Known  bool    // the master's shape
	Wanted int     // castings still to make
	Long   float64 // mm, the longest side
	Height float64 // mm along the draw
	Median float64 // mm, thickness; 0 where not known
	Back   float64 // share of the plan that is flat on the side away from the draw
	Off    float64 // mm that the parting leaves its level
	Rough  bool    // decorative: an unfinished back may stay

	Cut      bool         // the kind is opened with a blade, which reaches into the halves as well
	Locked   []strip.Lock // what locks two halves
	Overhang []strip.Lock // what holds the part in an open face
	Rubber   *mix.Material
}

// Limits of judgement; common practice, no source, from memory.
const (
	peelLong    = 80.0 // mm, up to which rubber is peeled off like a sock
	peelSoft    = 15.0 // Shore A, up to which it can be
	leastBack   = 0.35 // share of the plan that is flat, for a part to stand on its back
	mostThin    = 4.0  // mm of median thickness that is squeezed
	wideAndThin = 0.25 // of its length, up to which a part's height makes it wide
	unevenShare = 0.03 // of the height, and
	unevenLeast = 0.5  // mm, that a parting may leave its level to be bedded on a board
	shellFrom   = 100  // castings
)

func note(code string, severity finding.Severity, what, why string) finding.Finding {
	return finding.Finding{Code: code, Severity: severity, Stage: finding.Mould, What: what, Why: why, Source: finding.CommonPractice}
}

// measured adds a figure and its limit.
func measured(f finding.Finding, kind quantity.Kind, figure, limit float64) finding.Finding {
	f.Figure, f.Limit = finding.Of(kind, figure), finding.Of(kind, limit)
	return f
}

// blindly says what nobody can know of a master without a shape.
func blindly(c Case, s *Suit) bool {
	if !c.Known {
		s.Against = append(
			s.Against,
			note(
				"undercuts-unknown",
				finding.Watch,
				"The shape is not known: nobody can say what is undercut.",
				"The master was entered by size and volume. Look it over by eye, or add a mesh.",
			),
		)
	}
	return !c.Known
}

// twoParts is what every mould in two parts asks for.
func twoParts(c Case) (s Suit) {
	if blindly(c, &s) {
		return s
	}
	byAnswer := map[strip.Answer][]strip.Lock{}
	for _, l := range c.Locked {
		answer := l.Answer
		switch {
		case (l.Said || c.Cut) && l.Mode != strip.Threaded && holds(l):
			answer = strip.Slit
		case holds(l):
			answer = strip.SidePiece
		}
		byAnswer[answer] = append(byAnswer[answer], l)
	}
	volume := func(all []strip.Lock) (sum float64) {
		for _, l := range all {
			sum += l.Volume
		}
		return sum
	}
	if hard := byAnswer[strip.SidePiece]; len(hard) > 0 {
		f := note(
			"undercut-locks",
			finding.Stop,
			quantity.Plural(len(hard), "undercut is there that", "undercuts are there that")+" the rubber cannot be stripped out of.",
			"It would tear the rubber within a few pulls: give them side pieces, another draw, or fill them on the master.",
		)
		f.Figure, f.Where = finding.Of(quantity.Volume, volume(hard)/1000), &hard[0].At
		f.Remedies = []finding.Remedy{{Label: "Build it in pieces", Action: finding.SetKind, Text: string(design.Pieces)}}
		s.Against = append(s.Against, f)
	}
	for _, way := range []struct {
		answer    strip.Answer
		code      string
		one, many string
	}{
		{strip.Slit, "undercut-wants-a-slit", "undercut wants a slit in the rubber.", "undercuts want slits in the rubber."},
		{strip.Plug, "undercut-wants-filling", "undercut is to be filled on the master first.", "undercuts are to be " +
			"filled on the master first."},
	} {
		if all := byAnswer[way.answer]; len(all) > 0 {
			f := note(
				way.code,
				finding.Watch,
				quantity.Plural(len(all), way.one, way.many),
				"A slit closes again under clamping; a place too small for a piece of its own is filled.",
			)
			f.Figure, f.Where = finding.Of(quantity.Volume, volume(all)/1000), &all[0].At
			s.Against = append(s.Against, f)
		}
	}
	switch {
	case len(c.Locked) == 0:
		s.For = append(s.For, "It draws: nothing is undercut.")
	case len(s.Against) == 0:
		s.For = append(s.For, "What is undercut strips out of this rubber.")
	}
	return s
}

// Reliefs are the undercuts of a block that is cut open which a slit inside
// one half frees: a limb, a neck or a pocket, never what is threaded.
func (c Case) Reliefs() (out []strip.Lock) {
	for _, l := range c.Locked {
		if c.Cut && l.Mode != strip.Threaded && l.Answer != strip.Strips && (l.Answer != strip.Plug || l.Volume > strip.Small) {
			out = append(out, l)
		}
	}
	return out
}

// holds reports whether a lock keeps two halves shut: neither stripping nor a
// slit nor a little filling opens it.
func holds(l strip.Lock) bool {
	return l.Answer != strip.Strips && l.Answer != strip.Slit && (l.Answer != strip.Plug || l.Volume > strip.Small)
}

// sprued adds what speaks against filling thin, wide parts through a sprue.
func sprued(c Case, s Suit) Suit {
	if c.Thin() {
		s.Against = append(
			s.Against,
			measured(
				note(
					"thin-and-wide",
					finding.Watch,
					"Thin and wide: filled through a sprue it keeps bubbles and runs short.",
					"Half of it is thinner than that. A squeeze mould fills it from all over at once.",
				),
				quantity.Length,
				c.Median,
				mostThin,
			),
		)
	}
	return s
}

// Thin reports whether a part is thin and wide, and so hard to fill through a sprue.
func (c Case) Thin() bool {
	return c.Median > 0 && c.Median <= mostThin && c.Height < wideAndThin*c.Long
}

// uneven is how far a parting leaves its level more than a board can follow; 0 where it can.
func (c Case) uneven() float64 {
	if c.Off <= max(unevenLeast, unevenShare*c.Height) {
		return 0
	}
	return c.Off
}

func few(n int) string { return fmt.Sprintf("Pays from about %d; %d are to be made.", shellFrom, n) }
