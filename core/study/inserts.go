package study

import (
	"fmt"

	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/mould"
	"bathyform/core/prep"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Insert is an insert at its place on the part.
type Insert struct {
	prep.Insert
	At *r3.Vec `json:",omitempty"` // mesh coordinates
}

// named is how casters speak of an insert.
func (in Insert) named() string {
	name := map[prep.InsertKind]string{prep.Thread: "threaded insert", prep.Hole: "through hole", prep.Core: "metal core", prep.Magnet: "magnet"}[in.Kind]
	if in.Note != "" {
		name += " (" + in.Note + ")"
	}
	return name
}

// laidIn is the resin that inserts take the place of, in mL; a hole is in the mesh already.
func laidIn(all []Insert) []derive.Input {
	var out []derive.Input
	for _, in := range all {
		if in.Kind != prep.Hole && in.Volume > 0 {
			out = append(out, derive.From(in.named(), quantity.Volume, in.Volume/1000, "the brief"))
		}
	}
	return out
}

// insertFindings tells what each insert asks of the mould: which half holds
// it, and how it is plugged, covered or placed.
func insertFindings(all []Insert, d Design, plan mould.Plan) []finding.Finding {
	var out []finding.Finding
	for _, in := range all {
		f := finding.Finding{Severity: finding.Note, Stage: finding.Mould, Where: in.At, Source: finding.CommonPractice}
		if in.At == nil {
			f.Severity = finding.Watch
			f.What = fmt.Sprintf("Nobody has said where the %s sits.", in.named())
			f.Why = "The half that holds it, and the vent it needs, depend on the place: mark it on the part in the brief."
			f.Remedies = []finding.Remedy{{Label: "Mark it on the part", Action: finding.OpenMaster}}
			out = append(out, f)
			continue
		}
		half := holds(*in.At, d, plan)
		switch in.Kind {
		case prep.Thread:
			f.What = fmt.Sprintf("Half %s holds the %s on a pin.", half, in.named())
			f.Why = "Covered while the rubber is poured, the screw that covers it leaves the seat for the pin; the insert is set on the pin before every pull."
		case prep.Hole:
			f.What = fmt.Sprintf("The %s is plugged from half %s.", in.named(), half)
			f.Why = "Rubber of both halves meets in a hole. A plug half way, or flush with one face, decides where the seam lies; without one the halves grip one another."
		case prep.Core:
			f.What = fmt.Sprintf("The %s lies in the parting, its ends in prints on half %s.", in.named(), half)
			f.Why = "Ends that stand out of the master make their own prints. Lay it in dry and warm: a cold core chills the resin and draws bubbles."
			if off := offParting(*in.At, d, plan); off > coreOff {
				f.Severity = finding.Watch
				f.What = fmt.Sprintf("The %s sits away from the parting.", in.named())
				f.Figure, f.Limit = finding.Of(quantity.Length, off), finding.Of(quantity.Length, coreOff)
				f.Why = "A core is laid in where the mould opens. Here it would have to be pushed into a closed print: move the parting, or hold it on a pin."
			}
		case prep.Magnet:
			f.What = fmt.Sprintf("The %s is laid into half %s before gel.", in.named(), half)
			f.Why = "Pour to its depth, lay it in with the marked pole up, fill up before the first part gels. Keep magnets away from pacemakers."
		}
		out = append(out, f)
	}
	return out
}

// coreOff is how far from the parting a core may sit and still be laid in, mm.
const coreOff = 2

func offParting(at r3.Vec, d Design, plan mould.Plan) float64 {
	dir, err := d.Mould.Draw.Dir()
	if err != nil {
		return 0
	}
	off := r3.Dot(at, dir) - plan.Parting
	return max(off, -off)
}

// holds is the half that a place lies in.
func holds(at r3.Vec, d Design, plan mould.Plan) string {
	dir, err := d.Mould.Draw.Dir()
	if err == nil && r3.Dot(at, dir) < plan.Parting {
		return plan.Halves[1].Name
	}
	return plan.Halves[0].Name
}
