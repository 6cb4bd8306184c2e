package survey

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"bathyform/core/finding"
	"bathyform/core/gap"
	"bathyform/core/inhibit"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/strip"
	"bathyform/core/suit"
)

// Limits of judgement on a master; common practice, no source, from memory.
const (
	bubbleFresh = 0.5  // mm, a bubble that stirring leaves in resin
	usualHead   = 50.0 // mm of resin over the part
	deepCavity  = 1.5  // times as deep as wide, from which suction holds a casting
)

// Findings says what stands against a master.
func (s Survey) Findings(q Question, h practice.House) []finding.Finding {
	var out []finding.Finding
	add := func(f finding.Finding) {
		f.Stage = finding.Master
		out = append(out, f)
	}
	if said := scaleSays(q.Master, q.Brief); said != "" {
		add(finding.Finding{
			Severity: finding.Stop,
			Code:     "measure-disagrees",
			What:     "The mesh and your own measure do not agree.",
			Why:      said,
			Source:   "your measure",
		})
	}
	s.undercutFindings(q, add)
	s.sectionFindings(q, h, add)
	if n := len(s.Recesses); n > 0 {
		f := finding.Finding{
			Severity: finding.Note,
			Code:     "recess-narrow",
			What: fmt.Sprintf(
				"%s narrower than the shop's fine detail: brush rubber in first.",
				quantity.Plural(n, "recess is", "recesses are"),
			),
			Figure: finding.Of(quantity.Length, s.Recesses[0].Thickness),
			Limit:  finding.Of(quantity.Length, h.Detail),
			Why:    "Bubbles in the rubber sit in narrow grooves and blind holes and print on every casting.",
			Source: finding.CommonPractice,
		}
		f.Where = at(s.Recesses[0].At)
		add(f)
	}
	s.sizeFindings(q, h, add)
	if q.Rubber != nil {
		surface := q.Brief.On()
		switch e := inhibit.Of(inhibit.Family(q.Rubber.Traits.Family), surface); {
		case q.Failed:
			add(finding.Finding{
				Severity: finding.Stop,
				Code:     "surface-inhibits-tested",
				What:     q.Rubber.Name + " did not cure on this surface.",
				Why:      "Your own test says so. Seal the surface or take another rubber.",
				Source:   "inhibition test",
				Remedies: []finding.Remedy{{Label: "To the stock", Action: finding.OpenStock}},
			})
		case q.Tested || q.Rubber.Traits.Family == "":
		case e.Severity == inhibit.Severe:
			extent := "at the surface"
			if e.Throughout {
				extent = "throughout"
			}
			add(finding.Finding{
				Severity: finding.Stop,
				Code:     "surface-inhibits",
				What:     fmt.Sprintf("%s stays uncured on a %s, %s.", q.Rubber.Name, surface, extent),
				Why:      quantity.Sentence(e.Why) + ": " + e.Remedy + ". A test that cures clears this.",
				Source:   inhibit.Source,
			})
		case e.Severity == inhibit.Mild && surface != inhibit.Unknown:
			add(finding.Finding{
				Severity: finding.Watch,
				Code:     "surface-may-inhibit",
				What:     fmt.Sprintf("%s may stay tacky on a %s.", q.Rubber.Name, surface),
				Why:      quantity.Sentence(e.Why) + ": " + e.Remedy + ".",
				Source:   inhibit.Source,
			})
		}
	}
	for _, why := range s.NotWorth {
		add(finding.Finding{
			Severity: finding.Watch,
			Code:     "not-worth-casting",
			What:     "It may not be worth casting.",
			Why:      why,
			Source:   finding.CommonPractice,
		})
	}
	return out
}

func (s Survey) undercutFindings(q Question, add func(finding.Finding)) {
	rubber := "a usual rubber of 300 % elongation"
	if q.Rubber != nil {
		rubber = strings.ToLower(q.Rubber.Name[:1]) + q.Rubber.Name[1:]
	}
	for _, answer := range []strip.Answer{strip.SidePiece, strip.Split, strip.Plug, strip.Slit, strip.Strips} {
		var alike []Judged
		var volume float64
		for _, j := range s.Undercuts {
			if j.Verdict.Answer == answer {
				alike = append(alike, j)
				volume += j.Volume
			}
		}
		if len(alike) == 0 {
			continue
		}
		worst := alike[0]
		for _, j := range alike {
			if j.Depth > worst.Depth {
				worst = j
			}
		}
		f := finding.Finding{
			Where:  at(worst.Centre),
			Figure: finding.Of(quantity.Length, worst.Depth),
			Source: "how the rubber hangs together; elongation at break with a safety factor, from memory",
			Why:    hold(rubber, worst),
		}
		what := fmt.Sprintf("An undercut of %.3g mL", volume/1000)
		verb := "s"
		if n := len(alike); n > 1 {
			what, verb = fmt.Sprintf("%d undercuts, %.3g mL together,", n, volume/1000), ""
		}
		say := func(code string, severity finding.Severity, what, why string) {
			f.Code, f.Severity, f.What = code, severity, what
			f.Why += why
		}
		switch answer {
		case strip.Strips:
			say("undercut-strips", finding.Note, fmt.Sprintf("%s strip%s out of the rubber.", what, verb), "")
		case strip.Slit:
			say("undercut-wants-a-slit", finding.Watch, fmt.Sprintf("%s strip%s only if the rubber is slit beside.", what, verb),
				" A slit closes again under clamping.")
		case strip.Plug:
			severity, why := finding.Watch, " Too small for a piece of its own."
			if worst.Volume > strip.Small {
				severity, why = finding.Stop, " No way straight out of it leads past the part, so no side piece leaves: fill it on the "+
					"master and drill the castings, draw it another way, or cut the rubber there."
			}
			say("undercut-wants-filling", severity, fmt.Sprintf("%s want%s filling on the master.", what, verb), why)
		case strip.Split:
			say("undercut-wants-a-split", finding.Stop, fmt.Sprintf("%s want%s the parting carried through, a side piece or "+
				"another draw.", what, verb),
				" Each half can keep its own end of the hole, if the parting passes it on either side.")
		default:
			say("undercut-wants-a-side-piece", finding.Stop, fmt.Sprintf("%s want%s a side piece or another draw.", what, verb), "")
		}
		add(f)
	}
	if r := q.Master.Report; r.Hollow > 0.001*q.Master.Volume() {
		add(finding.Finding{
			Severity: finding.Watch,
			Code:     "sealed-hollow",
			What:     "There is a hollow inside that no rubber reaches.",
			Figure:   finding.Of(quantity.Volume, r.Hollow/1000),
			Why: "Castings come out solid there and heavier than the master; resin is counted for it. A casting as light " +
				"wants a hole in the master's wall and a core.",
			Source: "the mesh",
		})
	}
	if wide := math.Sqrt(s.Draw.Plan); wide > 0 && s.Draw.Height > deepCavity*wide && s.Draw.Draft.Under1 > 0.3*q.Master.Report.Area {
		add(finding.Finding{
			Severity: finding.Note,
			Code:     "deep-cavity-suction",
			What:     "Suction will hold castings in the deep cavity.",
			Figure:   finding.Of(quantity.Length, s.Draw.Height),
			Limit:    finding.Of(quantity.Length, deepCavity*wide),
			Why:      "Deeper than wide, with upright walls: break the rim, slit further, or let air in at the bottom.",
			Source:   finding.CommonPractice,
		})
	}
}

// hold says in a sentence how a place holds the rubber.
func hold(rubber string, j Judged) string {
	v := j.Verdict
	if v.Mode == strip.Threaded {
		return "The rubber runs through the part and closes on itself there, as through a handle: no stretching frees it, only a cut, " +
			"a piece that leaves another way, or another draw."
	}
	how := map[strip.Mode]string{
		strip.Collar: "as a collar that has to pass what is wider",
		strip.Core:   "as a core that has to swing out across itself",
		strip.Lip:    "as a lip that has to bend away",
	}[v.Mode]
	if v.Strain.Value >= strip.Hopeless && v.Answer != strip.Strips {
		return fmt.Sprintf("%s would be strained beyond its own length, %s: hopeless, whatever rubber is "+
			"taken.", quantity.Sentence(rubber), how)
	}
	return fmt.Sprintf("%s would be strained by %.0f %% of the %.0f %% that it may be, "+
		"%s.", quantity.Sentence(rubber), v.Strain.Value, v.Allowed.Value, how)
}

func (s Survey) sectionFindings(q Question, h practice.House, add func(finding.Finding)) {
	t := s.Thickness
	if t.Median == 0 {
		return
	}
	thin := t.Thinnest
	if q.Resin != nil {
		r := q.Resin.Traits
		if r.MinSection > 0 && thin.Thickness < r.MinSection {
			f := finding.Finding{
				Severity: finding.Watch,
				Code:     "thinner-than-resin-wants",
				What: fmt.Sprintf(
					"%s thinner than %s wants to be.",
					quantity.Plural(max(1, len(s.Thin)), "place is", "places are"),
					q.Resin.Name,
				),
				Where:  at(thin.At),
				Figure: finding.Of(quantity.Length, thin.Thickness),
				Limit:  finding.Of(quantity.Length, r.MinSection),
				Why: "Thin sections stay cool, cure slowly and come out soft: wait longer, warm the mould, or take " +
					"a resin for thin sections.",
				Source: "data sheet of " + q.Resin.Name,
			}
			add(f)
		}
		if r.MaxSection > 0 && t.Thickest.Thickness > r.MaxSection {
			add(finding.Finding{
				Severity: finding.Watch,
				Code:     "thicker-than-resin-wants",
				What:     "Thicker than " + q.Resin.Name + " is made for: heat, shrink, sunk faces.",
				Where: at(
					t.Thickest.At,
				),
				Figure: finding.Of(quantity.Length, t.Thickest.Thickness),
				Limit:  finding.Of(quantity.Length, r.MaxSection),
				Why: "The heat of reaction cannot get out. A slower resin, a filler, a core or two pours keep it " +
					"down; a generous well feeds the shrink.",
				Source: "data sheet of " + q.Resin.Name,
			})
		}
		s.flowFinding(q, h, add)
	}
	if thin.Thickness < bubbleFresh {
		left := gap.BubbleLeft(bubbleFresh/1000, h.Pressure*1000) * 1000
		f := finding.Finding{
			Severity: finding.Watch,
			Code:     "thin-keeps-bubbles",
			What:     "Sections this thin keep bubbles.",
			Where:    at(thin.At),
			Figure:   finding.Of(quantity.Length, thin.Thickness),
			Limit:    finding.Of(quantity.Length, left),
			Why: fmt.Sprintf(
				"A bubble wider than the gap cannot leave it. Under the shop's pressure one of %.2g mm keeps %.2g mm: "+
					"degas the resin and draw a vacuum on the mould first; pressure hardly helps.",
				bubbleFresh,
				left,
			),
			Source: "Boyle's law; common practice",
		}
		if thin.Thickness >= left {
			f.Severity = finding.Note
		}
		add(f)
	}
}

// flowFinding asks whether resin gets into the thinnest place under a usual
// head before it gels.
func (s Survey) flowFinding(q Question, h practice.House, add func(finding.Finding)) {
	r, thin := q.Resin.Traits.In(h.Celsius), s.Thickness.Thinnest
	if r.Viscosity <= 0 || r.PotLife <= 0 || thin.Thickness <= 0 {
		return
	}
	resin := gap.Resin{Viscosity: r.Viscosity, Density: q.Resin.Density * 1000, Tension: 0.037, PotLife: r.PotLife * 60}
	head := gap.Head(resin.Density, usualHead/1000)
	length := math.Sqrt(thin.Area/2) / 1000 // both walls of the place were counted
	into := resin.Into(thin.Thickness/1000, length, head)
	reach, vacuum := into.Poured, into.Vacuum
	if reach >= length {
		return
	}
	helped := "vacuum on the mould and then the atmosphere would"
	if vacuum < length {
		helped = "vacuum does not help enough either"
	}
	add(finding.Finding{
		Severity: finding.Watch,
		Code:     "gels-before-full",
		What:     "Resin gels before it has run through the thinnest section.",
		Where:    at(thin.At),
		Figure:   finding.Of(quantity.Length, reach*1000),
		Limit:    finding.Of(quantity.Length, length*1000),
		Why: fmt.Sprintf(
			"Under %.0f mm of head it comes %.3g mm far into a gap of %.2g mm within the pot life, and the place is "+
				"about %.3g mm long; %s.",
			usualHead,
			reach*1000,
			thin.Thickness,
			length*1000,
			helped,
		),
		Source: "flow between walls, Lucas 1918, Washburn 1921",
	})
}

func (s Survey) sizeFindings(q Question, h practice.House, add func(finding.Finding)) {
	side := q.Across
	bubbles := slices.Contains(q.Brief.Wants, suit.Clear) || slices.Contains(q.Brief.Wants, suit.Pressure) || len(s.Thin) > 0
	if bubbles && h.ChamberWide > 0 && side > h.ChamberWide {
		add(finding.Finding{
			Severity: finding.Note,
			Code:     "vacuum-chamber-small",
			What:     "The mould does not go into the vacuum chamber.",
			Figure:   finding.Of(quantity.Length, side),
			Limit:    finding.Of(quantity.Length, h.ChamberWide),
			Why:      "Air cannot be drawn out of the filled mould. Degas rubber and resin in their cups, and pour slowly.",
			Source:   "House practice",
			Remedies: []finding.Remedy{{Label: "House practice", Action: finding.OpenPractice}},
		})
	}
	if q.Resin != nil && h.ScaleMost > 0 {
		if mass := q.Master.Volume() / 1000 * q.Resin.Density; mass > h.ScaleMost {
			add(finding.Finding{
				Severity: finding.Watch,
				Code:     "scale-too-small",
				What:     "One casting weighs more than the shop's scale takes.",
				Figure:   finding.Of(quantity.Mass, mass),
				Limit:    finding.Of(quantity.Mass, h.ScaleMost),
				Why:      "Weigh it in several cups.",
				Source:   "House practice",
			})
		}
	}
}
