package gate

import (
	"errors"
	"fmt"
	"math"

	"bathyform/core/channel"
	"bathyform/core/fill"
	"bathyform/core/finding"
	"bathyform/core/kinds"
	"bathyform/core/practice"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Limits of judgement, all common practice, no source, and from memory.
const (
	Visible    = 0.5  // mm³ in the rubber, a bubble of a millimetre
	Spoils     = 20.0 // mm³ that a tilt may shut in at most, a bubble of three and a half millimetres
	levelArea  = 100  // mm² of level ceiling on which bubbles hang
	mostNamed  = 8    // pockets that get a finding of their own
	thinRubber = 2.0  // mm between a channel and a part
)

func place(v r3.Vec) *r3.Vec { return &v }

// Findings says what stands against the gates of a mould.
func (l Layout) Findings(m Mould, c Choices) []finding.Finding {
	c = c.of(m.Resin)
	out := append(l.wayIn(c), l.greedy(m)...)
	out = append(out, l.shallow(c)...)
	if !l.Known {
		return append(out, finding.Finding{Severity: finding.Watch, Stage: finding.Gates,
			Code: "air-unknown", What: "The shape is not known, so nobody can say where air is caught.",
			Why:      "The master was entered by size and volume. Box, rubber and shot are worked out; vents are left to your eye.",
			Source:   "no mesh",
			Remedies: []finding.Remedy{{Label: "Add a mesh", Action: finding.OpenMaster}}})
	}
	for _, problem := range l.Problems {
		if errors.Is(problem.Err, errNoRim) || errors.Is(problem.Err, errNoCup) {
			out = append(out, finding.Finding{Severity: finding.Watch, Stage: finding.Gates, Code: "vent-ends-otherwise",
				What:  fmt.Sprintf("Vent %d does not end as you want it.", problem.Vent+1),
				Where: place(c.Vents[problem.Vent].At), Why: sentence(problem.Err), Source: "geometry"})
			continue
		}
		out = append(out, finding.Finding{Severity: finding.Stop, Stage: finding.Gates,
			Code: "vent-opens-nothing", What: fmt.Sprintf("Vent %d opens nothing: %s.", problem.Vent+1,
				problem.Err), Where: place(c.Vents[problem.Vent].At),
			Why: "A vent lets air out only from the place where it meets the cavity.", Source: "geometry",
			Remedies: []finding.Remedy{{Label: "Remove it", Action: finding.RemoveVent, Value: float64(problem.Vent)}}})
	}
	out = append(out, l.withoutAWay(c)...)
	out = append(out, l.bent(m)...)
	out = append(out, l.onShow(c)...)
	out = append(out, l.mouths(m, c)...)
	out = append(out, l.runsOver(c)...)
	for i, cavity := range l.Cavities {
		if cavity.Like == i { // the others are as one before
			out = append(out, l.caught(i, m, c)...)
		}
	}
	out = append(out, l.sills()...)
	return append(out, l.ceilings()...)
}

// A basin that fills over a sill is told of from such a fall, mm, and such a
// share of its cavity. Common practice, no source.
const (
	leastFall  = 6.0
	leastBasin = 0.03
)

// leastBasin is the volume from which one is told of, mm³.
func (c Cavity) leastBasin() float64 {
	return leastBasin * c.Space.Levels(c.Space.Low(), c.Space.High(), 1, nil).Volume[1]
}

// Dry are the stretches of the cavity that stay dry until the level stands at a
// sill, as far as they are told of.
func (c Cavity) Dry() []fill.Later {
	if !c.Course.Known() {
		return nil
	}
	return c.Course.Dry(leastFall, c.leastBasin())
}

// sills says what fills over an edge: resin falls into it and takes air along.
func (l Layout) sills() (out []finding.Finding) {
	if len(l.Cavities) == 0 {
		return nil
	}
	c := l.Cavities[0] // the others are like it
	for _, b := range c.Course.Basins(leastFall, c.leastBasin()) {
		height := b.Sill - c.Space.Low() + c.Low
		out = append(out, finding.Finding{Severity: finding.Note, Stage: finding.Gates, Code: "fills-over-a-sill",
			What:  fmt.Sprintf("A part of the cavity fills only over a sill: %.3g mL.", b.Volume/1000),
			Where: place(b.At), Height: &height,
			Figure: finding.Of(quantity.Length, b.Fall), Limit: finding.Of(quantity.Length, leastFall),
			Why: "There the resin falls so far and takes bubbles along. Lead the gate into the lowest part, or turn or tilt the mould " +
				"so that it " +
				"fills in one.", Source: "the course of the level from the gates"})
	}
	return out
}

// wayIn says what stands against the way in as it was asked for.
func (l Layout) wayIn(c Choices) (out []finding.Finding) {
	for _, t := range l.Faults {
		f := finding.Finding{Severity: finding.Stop, Stage: finding.Gates, Source: "geometry"}
		if t.Err != nil {
			f.Code, f.What, f.Why = "no-room-for-sprue", "The sprue has no room as it was asked for.", sentence(
				t.Err,
			)+" Another way in is shown."
			switch {
			case errors.Is(t.Err, errOffParting):
				f.Code, f.Severity, f.What, f.Why = "section-off-parting", finding.Watch,
					"Not all channels have the section that you want.",
					sentence(
						t.Err,
					)
			case errors.Is(t.Err, channel.ErrNoBlind), errors.Is(t.Err, channel.ErrNoSump):
				f.Code, f.Severity, f.What, f.Why = "no-room-for-pocket", finding.Watch,
					"What shall take the first resin has no room.", sentence(t.Err)
			case errors.Is(t.Err, channel.ErrSystem):
				f.Code, f.What = "no-such-runners", fmt.Sprintf("These cavities cannot be fed by a %s.", c.System)
				f.Remedies = []finding.Remedy{{Label: "As proposed", Action: finding.SetRunners}}
			case c.Feed == practice.FeedTop:
				f.Code, f.What, f.Why, f.Where = "opening-has-no-way", "An opening has no way up.", sentence(t.Err), place(t.At)
			case c.Foot != nil:
				f.Code, f.What = "foot-beside-part", "The foot of the sprue lies beside the part."
				f.Remedies = []finding.Remedy{{Label: "As proposed", Action: finding.ResetSprue}}
			}
			out = append(out, f)
			continue
		}
		name := l.Channels[t.Body].Named(len(l.Cavities))
		f.Code, f.Where = "channel-near-part", place(t.At)
		f.Figure, f.Limit = finding.Of(quantity.Length, max(0, t.Gap)), finding.Of(quantity.Length, thinRubber)
		f.What = fmt.Sprintf("The %s leaves little rubber to the part.", name)
		f.Why, f.Source = "A thin web tears, and resin finds its way through.", finding.CommonPractice
		f.Severity = finding.Watch
		if t.Gap < 0 {
			f.Severity, f.Code = finding.Stop, "channel-through-part"
			f.What = fmt.Sprintf("The %s runs through the part.", name)
			f.Why, f.Source = "Resin and air would go through the part, and the rod is cut out of every casting.", "geometry"
		}
		if len(l.Cavities) > 1 {
			f.What = fmt.Sprintf("%s of cavity %d.", f.What[:len(f.What)-1], t.Part+1)
		}
		f.Remedies = []finding.Remedy{{Label: "As proposed", Action: finding.ResetSprue}}
		out = append(out, f)
	}
	return out
}

// sentence is an error as a sentence.
func sentence(err error) string {
	text := []rune(err.Error())
	if text[0] >= 'a' && text[0] <= 'z' {
		text[0] += 'A' - 'a'
	}
	return string(text) + "."
}

// withoutAWay says which vents cannot be led out, vent by vent.
func (l Layout) withoutAWay(c Choices) (out []finding.Finding) {
	lost := make([]int, len(c.Vents))
	first := make([]int, len(c.Vents))
	for i, cavity := range l.Cavities {
		for _, v := range cavity.Lost {
			if lost[v]++; lost[v] == 1 {
				first[v] = i
			}
		}
	}
	for v, n := range lost {
		if n == 0 {
			continue
		}
		f := finding.Finding{Severity: finding.Stop, Stage: finding.Gates, Code: "vent-has-no-way",
			What: fmt.Sprintf("Vent %d has no way out.", v+1), Where: place(c.Vents[v].At),
			Why: sentence(channel.ErrNoWay), Source: "geometry",
			Remedies: []finding.Remedy{{Label: "Remove it", Action: finding.RemoveVent, Value: float64(v)}}}
		if len(l.Cavities) > 1 {
			f.What = fmt.Sprintf("Vent %d has no way out of %s.", v+1, quantity.Plural(n, "cavity", "cavities"))
		}
		if name, ok := l.holds(c.Vents[v].At, first[v]); ok {
			f.Code, f.Severity = "vent-in-channel", finding.Watch
			f.What = fmt.Sprintf("Vent %d stands in the %s: it lets no air out that this does not.", v+1, name)
			f.Why = "Take it away, or move it to a high spot of its own."
		}
		out = append(out, f)
	}
	return out
}

// holds is the channel to a cavity whose mouth lies round a place of the part.
func (l Layout) holds(at r3.Vec, cavity int) (string, bool) {
	for _, c := range l.Channels {
		if c.Cavity == cavity && c.Vent < 0 && cavity == 0 && r3.Norm(r3.Sub(c.Mouth(), at)) < c.Bore/2 {
			return c.Named(1), true
		}
	}
	return "", false
}

// caught says what air a cavity shuts in.
func (l Layout) caught(i int, m Mould, c Choices) (out []finding.Finding) {
	cavity := l.Cavities[i]
	noVent := m.Resin == kinds.Sprued && len(c.Vents) == 0 && c.Feed == practice.FeedLow
	var rest float64
	more := 0
	where := ""
	if i > 0 {
		where = fmt.Sprintf(" of cavity %d", i+1)
	}
	for k, pocket := range cavity.Trapped.Pockets {
		if !c.Fault.Matters(pocket.Volume) {
			continue
		}
		if k >= mostNamed {
			rest += pocket.Volume
			more++
			continue
		}
		height := cavity.Over(pocket).SealHeight
		f := finding.Finding{Stage: finding.Gates, Where: place(pocket.Apex), Height: &height,
			Figure: finding.Of(quantity.Volume, pocket.Volume/1000), Limit: finding.Of(quantity.Volume, c.Fault.Least()/1000),
			Why:    "The level closes the last way out before this place is full. " + c.Fault.why(pocket.Volume, c.Pressure),
			Source: "trapped-air analysis; what an order bears is common practice",
			Remedies: []finding.Remedy{
				{Label: "Vent here", Action: finding.AddVent, At: place(VentSpot(cavity.Air, cavity.Trapped, k, c.faces))},
				{Label: "Vent every high spot", Action: finding.ProposeVents},
			}}
		if m.Resin != kinds.Sprued {
			f.Remedies = nil
			f.Why = "Nothing higher is open to the air. Turn the part, pour a little and roll the mould, or take a " +
				"mould with a sprue and vents."
		}
		switch {
		case noVent:
			f.Code, f.What = "no-vent", "There is no vent: all the air stays in."
			f.Remedies = f.Remedies[1:]
		case pocket.Isolated:
			f.Code, f.What = "cavity-unreached", "This part of the cavity has no way in or out."
		default:
			f.Code, f.What = "air-trapped", "Air stays in a high spot"+where+", shut in as the resin passes this level."
		}
		f.Severity = finding.Watch
		if c.Fault.Spoils(pocket.Volume) {
			f.Severity = finding.Stop
		}
		out = append(out, f)
	}
	if rest > 0 {
		f := finding.Finding{Severity: finding.Stop, Stage: finding.Gates,
			Code: "air-trapped-more", What: fmt.Sprintf("Air stays in %d more places%s.", more, where),
			Figure: finding.Of(quantity.Volume, rest/1000),
			Why:    "Many high spots are moved together by turning the part.", Source: finding.CommonPractice}
		if m.Resin == kinds.Sprued {
			f.Remedies = []finding.Remedy{{Label: "Vent every high spot", Action: finding.ProposeVents}}
		}
		out = append(out, f)
	}
	return out
}

// greedy says where more resin is cut off than is cast.
func (l Layout) greedy(m Mould) []finding.Finding {
	held, cast := 0.0, m.Cavity.Value*float64(len(l.Cavities))
	for _, c := range l.Channels {
		if c.Fills {
			held += c.Volume.Value
		}
	}
	if held <= cast {
		return nil
	}
	return []finding.Finding{{Severity: finding.Note, Stage: finding.Gates, Code: "channels-hold-more",
		What:   "The channels take more resin than the castings.",
		Figure: finding.Of(quantity.Volume, held), Limit: finding.Of(quantity.Volume, cast),
		Why:    "All of it is cut off at every pull. Hang more cavities on the well, or take a narrower sprue and a smaller well.",
		Source: "the sum of the bodies"}}
}

// shallow says that the well was cut short by what it stands over.
func (l Layout) shallow(c Choices) []finding.Finding {
	for _, w := range l.Channels {
		if w.Kind != channel.Well || w.Top-w.Foot >= c.WellDepth-0.1 {
			continue
		}
		return []finding.Finding{{Severity: finding.Note, Stage: finding.Gates, Code: "well-cut-short",
			What: "The well is not as deep as you want it.", Where: place(w.Path[0]),
			Figure: finding.Of(quantity.Length, w.Top-w.Foot), Limit: finding.Of(quantity.Length, c.WellDepth),
			Why:    "Under it there is no more height: it ends at the runner, or a little over the part. More rubber above makes room.",
			Source: "geometry"}}
	}
	return nil
}

// bent says which vents are led round something outside the parting: a wire that
// was cast in there does not come out as it went in.
func (l Layout) bent(m Mould) (out []finding.Finding) {
	n, first := 0, Channel{}
	for _, c := range l.Channels {
		if c.Kind != channel.Vent || len(c.Path) < 3 || inParting(m, c) {
			continue
		}
		if n++; n == 1 {
			first = c
		}
	}
	if n == 0 {
		return nil
	}
	return []finding.Finding{{Severity: finding.Note, Stage: finding.Gates, Code: "vent-is-bent",
		What:  fmt.Sprintf("%s led round the part in the rubber.", quantity.Plural(n, "vent is", "vents are")),
		Where: place(first.Path[0]),
		Why: "A bent wire does not pull out. Cast in a cord or a soft wire that pulls straight, or cut the rubber down to it from " +
			"the parting.", Source: finding.CommonPractice}}
}

// inParting is whether all of a channel beyond its foot lies in the parting.
func inParting(m Mould, c Channel) bool {
	for _, p := range c.Path[1:] {
		if !m.Parted || math.Abs(r3.Dot(m.Draw, p)-m.Parting) > c.Bore/2 {
			return false
		}
	}
	return true
}

// mouths says where an opening at the top leaves the air less room than the
// resin takes that comes down through it.
func (l Layout) mouths(m Mould, c Choices) (out []finding.Finding) {
	if c.Feed != practice.FeedTop || m.Resin != kinds.Sprued {
		return nil
	}
	left := 0.0
	for _, v := range l.Channels {
		if v.Cavity == 0 && v.Fills && (v.Kind == channel.Vent || v.Kind == channel.Sprue) {
			left += math.Pi / 4 * v.Bore * v.Bore
		}
	}
	taken := math.Pi / 4 * c.Stream * c.Stream
	if left -= taken; left >= taken {
		return nil
	}
	wide := math.Ceil(math.Sqrt2 * c.Stream)
	f := finding.Finding{Severity: finding.Watch, Stage: finding.Gates, Code: "opening-chokes",
		What:   "The opening lets resin down and hardly any air up.",
		Figure: finding.Of(quantity.Area, max(0, left)/100), Limit: finding.Of(quantity.Area, taken/100),
		Why: fmt.Sprintf(
			"A stream of %g mm takes its share of the opening; as much must be left for the air, there or in vents, or it "+
				"gulps and carries bubbles down.",
			c.Stream,
		), Source: "house practice",
		Remedies: []finding.Remedy{{Label: fmt.Sprintf("Opening of %g mm", wide), Action: finding.SetSprue, Value: wide}}}
	return append(out, f)
}

// runsOver says out of which vents the resin runs before the well is full, since
// they end lower than its rim in a mould that stands out of level.
func (l Layout) runsOver(c Choices) (out []finding.Finding) {
	if c.Tilt == (r3.Vec{}) {
		return nil
	}
	brim := math.Inf(1) // how high the resin can stand in the wells
	for _, w := range l.Channels {
		if w.Kind == channel.Well {
			aside := math.Sqrt(max(0, 1-math.Pow(r3.Dot(c.Tilt, w.up), 2)))
			brim = min(brim, r3.Dot(c.Tilt, w.Path[len(w.Path)-1])-w.Rim/2*aside)
		}
	}
	for _, v := range l.Channels {
		if v.Kind != channel.Vent || c.Vents[v.Vent].State != "" || c.Vents[v.Vent].Cup > 0 || c.Vents[v.Vent].Rim {
			continue
		}
		mouth := v.Path[len(v.Path)-1]
		if low := brim - r3.Dot(c.Tilt, mouth); low > levelOf && !math.IsInf(low, 1) {
			out = append(out, finding.Finding{Severity: finding.Note, Stage: finding.Gates, Code: "vent-runs-over",
				What:  fmt.Sprintf("The resin runs out of %s before the well is full.", v.Named(len(l.Cavities))),
				Where: place(mouth), Figure: finding.Of(quantity.Length, low), Limit: finding.Of(quantity.Length, levelOf),
				Why: "It ends lower than the rim of the well as the mould is tilted. Plug it once resin weeps out of it, " +
					"give it a cup, or " +
					"raise the other side.", Source: "geometry"})
		}
	}
	if n := len(out); n > fewAlike {
		out = out[:1]
		out[0].What = fmt.Sprintf("The resin runs out of %d vents before the well is full.", n)
	}
	return out
}

// levelOf is how much lower than a well a vent may end, mm: resin stands over its
// edge.
const levelOf = 1.0

// ceilings says where vents stand in a level ceiling; of many it says so once.
func (l Layout) ceilings() (out []finding.Finding) {
	for _, c := range l.Channels {
		if c.Kind != channel.Vent || c.Cavity > 0 || l.Cavities[0].Air != l.Cavities[0].Space {
			continue
		}
		cavity := l.Cavities[c.Cavity]
		if area := cavity.Space.LevelCeiling(c.Foot - cavity.Low + cavity.Space.Low()); area >= levelArea {
			height := c.Foot
			out = append(out, finding.Finding{Severity: finding.Note, Stage: finding.Gates,
				Code: "level-ceiling", What: fmt.Sprintf("The ceiling at vent %d is level over %.3g cm².", c.Vent+1, area/100),
				Where: place(c.Path[0]), Height: &height,
				Why: "It counts as vented, but bubbles hang under a level ceiling: stand the mould a few degrees out " +
					"of level, this vent highest.", Source: finding.CommonPractice})
		}
	}
	if n := len(out); n > fewAlike {
		out = out[:1]
		out[0].What = fmt.Sprintf("The ceilings at %d vents are level.", n)
	}
	return out
}

// fewAlike are told of one by one.
const fewAlike = 3
