package mould

import (
	"bathyform/core/box"
	"bathyform/core/kinds"
)

// Sheets are the templates of a plan: those of its kind that go with the form
// of its box and with what is known, and the plan of a gang.
func (p Plan) Sheets() []kinds.Sheet {
	var out []kinds.Sheet
	for _, s := range p.Kind.Sheets {
		if p.takes(s.Key) {
			out = append(out, s)
		}
	}
	if p.Design.Cavities() > 1 {
		out = append(out, kinds.Sheet{Key: "gang", Label: "Plan of the gang"})
	}
	if len(p.Rods) > 0 {
		out = append(out, kinds.Sheet{Key: "rods", Label: "Rods and wires"})
	}
	return out
}

func (p Plan) takes(sheet string) bool {
	rectangle := p.Box.Form == box.Rectangle
	switch sheet {
	case "boards", "jointed", "folded":
		return rectangle
	case "blanking":
		return p.Box.Form == box.Own
	case "bent":
		return !rectangle && p.Box.Form != box.Own
	case "wrap", "fins":
		return p.Cut != nil && (rectangle || p.Box.Form == box.Own || p.Box.Stands.Along(p.Design.Draw))
	case "flange":
		return p.Blanket != nil
	case "parting-board":
		return p.Known && (rectangle || p.Box.Form == box.Own || p.Box.Stands.Along(p.Design.Draw))
	}
	return true
}

// Prints are the bodies of a plan that can be printed.
func (p Plan) Prints() []kinds.Sheet {
	var out []kinds.Sheet
	for _, b := range p.Kind.Bodies {
		if b.Key != "keys" || p.Division != nil && len(p.Division.Keys.Keys) > 0 {
			out = append(out, b)
		}
	}
	for _, r := range p.Rods {
		if r.Body() != nil {
			return append(out, kinds.Sheet{Key: "rods", Label: "Rods"})
		}
	}
	return out
}
