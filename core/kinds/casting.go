package kinds

import (
	"fmt"
	"strconv"
	"strings"

	"bathyform/core/mix"
	"bathyform/core/practice"
	"bathyform/core/quantity"
)

// cast is the first pull: what tells whether the mould is any good.
func (b *Bench) cast() {
	from := len(b.steps)
	shot := "the shot"
	if b.Shot > 0 {
		shot = fmt.Sprintf("the shot of %.3g mL", b.Shot)
	}
	mixed, harm := b.measured(shot), isocyanate
	if b.Resin != nil && b.Resin.OnePart() {
		mixed, harm = b.melted(shot), melt
	}
	switch b.Kind.Resin {
	case Poured:
		b.do(
			"Release into the cavity and let it dry; stand the mould level, face up.",
			"An open face is as level as its bench.",
			sprays,
			closeMinutes,
		)
		b.dusted()
		b.shoots(
			mixed, "fill the cavity to its brim, slowly, from one end.",
			"Scrape sides and bottom; surface bubbles are popped while it is thin."+b.cups(),
			harm,
			shotMinutes,
		)
	case Pressed:
		b.do(b.released()+", both halves; lower half level.", "", sprays, closeMinutes)
		b.dusted()
		b.shoots(
			mixed, "fill the lower half, lay the upper half on from one side and load it with its weight.",
			"From one side, so that air leaves at the other."+b.cups(),
			harm,
			shotMinutes,
		)
	default:
		closed, why := b.closed()
		if !b.Kind.Halves && !b.Kind.Cut {
			closed = "stand the mould up"
		}
		if b.Powder == "" {
			b.do(b.released()+", "+closed+"; sprue up.", why, sprays, closeMinutes)
		} else {
			b.do(b.released()+".", "Powder sticks to a trace of it.", sprays, closeMinutes/2)
			b.dusted()
			b.do(quantity.Sentence(closed)+"; sprue up.", why, "", closeMinutes/2)
		}
		if b.Tilt != "" {
			b.do(
				quantity.Sentence(b.Tilt)+"; wedge it so that it stays.",
				"The high spots run together so, and fewer vents let all the air out.",
				"",
				closeMinutes/2,
			)
		}
		stream, why, takes := b.let()
		b.shoots(
			mixed, stream,
			why+" Colour goes into "+b.House.Does(practice.Tint)+" before A meets B."+b.cups(),
			harm,
			takes,
		)
	}
	if b.House.PotWide > 0 && b.House.Pressure > 0 && b.Kind.Resin != Poured {
		b.act(
			Pots,
			"Into the pressure pot before it gels, bolts crosswise, up to pressure.",
			"Only with rubber that was degassed, or cured at this pressure.",
			pressure,
			closeMinutes,
		)
	}
	cures := mix.Traits{Demould: usualDemould}
	why := "No resin is chosen: a usual one."
	if b.Resin != nil && b.Resin.Traits.Demould > 0 {
		cures, why = b.Resin.Traits, "By the data sheet of "+b.Resin.Name+"; thin parts longer."
	}
	b.wait("The resin cures.", why, cures.In(b.House.Celsius).Demould)
	b.steps[len(b.steps)-1].Act = Cures
	if b.Kind.Resin == Sprued {
		if b.House.Does(practice.Degate) == practice.Handle {
			b.act(
				Degates,
				"Leave the sprue on as a handle; snip the vents.",
				"It holds the casting for filing and paint, and is sawn off "+
					"last.",
				"",
				degateMins,
			)
		} else {
			b.act(Degates, "Snip sprue and vents while the casting is still soft.", "They cut like cheese now, and "+
				"break later.", "", degateMins)
		}
	}
	b.act(
		Pulls,
		"Demould the first casting and look it over before any other is poured.",
		"It proves the mould: bubbles in the rubber, a vent that is missing, a seam that steps.",
		"",
		pullMinutes*float64(b.Cavities),
	)
	for i := from; i < len(b.steps); i++ {
		b.steps[i].Casting = true
	}
}

// shoots mixes a shot and lets it in.
func (b *Bench) shoots(mixed, let, why, caution string, minutes float64) {
	b.act(Mixes, mixed+" and "+let, why, caution, minutes)
	b.steps[len(b.steps)-1].Let = quantity.Sentence(let)
}

// let is how resin is let in through a sprue, why so, and how long it takes
// from the cup, min.
func (b *Bench) let() (how, why string, minutes float64) {
	how, why, minutes = "pour it into the well in a thin stream", "Keep the well topped up: it feeds the shrink.", shotMinutes
	if b.House.Does(practice.Inlet) == practice.Injected && !(b.Resin != nil && b.Resin.OnePart()) {
		how = "draw it into a syringe, its tip up to let the air out, and press it slowly into the sprue"
		why = "Slowly: pushed fast it takes air along and opens the halves. Leave the syringe in until it gels: it feeds the shrink."
		minutes += syringeMins
	}
	if b.House.Does(practice.Plugs) == practice.Plugged {
		how += ", the vents plugged; open them one by one, the lowest first, until each weeps."
	} else {
		how += " until every vent weeps, then plug them."
	}
	if n := b.Rods.Plugged; len(n) > 0 {
		how += fmt.Sprintf(" %s stays shut from the beginning.", numbered(n))
	}
	if n := b.Rods.Weeps; len(n) > 0 {
		how += fmt.Sprintf(" %s is plugged as soon as it weeps, while the others still fill.", numbered(n))
	}
	return how, why, minutes
}

// numbered names vents by their numbers: vent 2; each of vents 1, 3.
func numbered(vents []int) string {
	if len(vents) == 1 {
		return fmt.Sprintf("Vent %d", vents[0])
	}
	names := make([]string, len(vents))
	for i, n := range vents {
		names[i] = strconv.Itoa(n)
	}
	return "Each of vents " + strings.Join(names, ", ")
}

// melted is how what has one part is made ready.
func (b *Bench) melted(what string) string {
	t := b.Resin.Traits
	switch {
	case t.PourFrom > 0 && t.PourTo > t.PourFrom:
		return fmt.Sprintf("Melt %s, pour between %.0f °C and %.0f °C, the mould warm and dry", what, t.PourFrom, t.PourTo)
	case t.PourFrom > 0:
		return fmt.Sprintf("Melt %s, pour at %.0f °C, the mould warm and dry", what, t.PourFrom)
	}
	return "Melt " + what + ", pour as its data sheet says, the mould warm and dry"
}

// dusted brushes powder into the cavity.
func (b *Bench) dusted() {
	if b.Powder == "" {
		return
	}
	b.do(
		fmt.Sprintf(
			"Brush %s sparingly over the whole cavity, every piece of it, pour the rest back out and weigh it.",
			b.Powder,
		),
		"Both halves, so that the seam has the same finish; pour the resin in away from the dusted places, or it washes them bare.",
		"Dust mask: fine metal and stone stay in the lungs. No flame near metal dust.",
		powderMins,
	)
}

// released is the release in the cavity before a pull.
func (b *Bench) released() string {
	switch b.House.Does(practice.Releases) {
	case practice.Seldom:
		return "Release the new mould once and let it dry"
	case practice.Never:
		return "No release: wipe the cavity clean"
	}
	return "Release and let it dry"
}
