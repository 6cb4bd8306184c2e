package study

import (
	"cmp"
	"errors"

	"bathyform/core/box"
	"bathyform/core/derive"
	"bathyform/core/mould"
	"bathyform/core/practice"
	"bathyform/core/quantity"
)

// BoxOf lays the box round all cavities of a design.
func (p *Prepared) BoxOf(d Design, h practice.House) (BoxPlan, error) {
	var out BoxPlan
	shape, err := p.seen(d)
	if err != nil {
		return out, err
	}
	form := cmp.Or(d.Box.Form, box.Rectangle)
	if form != box.Rectangle && !d.Mould.Attitudes.RubberA.Along(d.Mould.Draw) {
		return out, errors.New("a box of that form stands with the draw upwards: pour half A along the draw, or take a rectangle")
	}
	ask := d.around(shape)
	if out.Box, err = box.Of(form, ask); err != nil {
		return out, err
	}
	rect, err := box.Of(box.Rectangle, ask)
	if err != nil {
		return out, err
	}
	c := d.Mould.Clearance
	gap := func(name string, v float64) derive.Input {
		return derive.From(name, quantity.Length, v, "this mould's clearances")
	}
	out.Height = derive.Of(quantity.Length, shape.Height+c.Below+c.Above, "part along the draw + below + above",
		derive.From("part along the draw", quantity.Length, shape.Height, "the master"), gap("below", c.Below), gap("above", c.Above))
	formula := map[box.Form]string{box.Rectangle: "length × width", box.Own: "length × width of the shop's box", box.Round: "π × radius²", box.Sleeve: "π × radius² + 2 × radius × straight", box.Contour: "outline's hull, widened: A + P d + π d² (Steiner)"}[form]
	area := derive.Of(quantity.Area, out.Area/100, formula, derive.From("clearance beside", quantity.Length, ask.Beside, "this mould's clearances"),
		derive.From("cavities", quantity.Number, float64(d.Cavities()), "this design"))
	out.Volume = derive.Of(quantity.Volume, out.Area*out.Height.Value/1000, "box seen along the draw × height", area.As("box seen along the draw"), out.Height.As("height"))
	out.Saved = derive.Of(quantity.Volume, (rect.Area-out.Area)*out.Height.Value/1000, "(rectangle − this form) × height",
		derive.From("rectangle", quantity.Area, rect.Area/100, "the same clearance all round"), area.As("this form"), out.Height.As("height"))
	out.Freeboard = h.Freeboard
	wall := derive.Of(quantity.Length, out.Height.Value+h.Freeboard, "height + freeboard", out.Height.As("height"), derive.From("freeboard", quantity.Length, h.Freeboard, "House practice"))
	length := func(v float64, formula string, in ...derive.Input) derive.Number {
		return derive.Of(quantity.Length, v, formula, in...)
	}
	inside := derive.From("once round, inside", quantity.Length, out.Wall, "the form")
	switch form {
	case box.Rectangle, box.Own:
		out.Strip = length(out.Wall, "once round, inside", inside)
		board := derive.From("board", quantity.Length, h.PanelThick, "House practice")
		long, wide := length(out.Wide, "inside, one way"), length(out.Deep, "inside, the other way")
		outerL, outerW := length(out.Wide+2*h.PanelThick, "inside + 2 × board", long.As("inside"), board), length(out.Deep+2*h.PanelThick, "inside + 2 × board", wide.As("inside"), board)
		if form == box.Rectangle {
			out.Panels = []mould.Panel{{Name: "long walls", Count: 2, A: long, B: wall}, {Name: "end walls, outside", Count: 2, A: outerW, B: wall}, {Name: "base", Count: 1, A: outerL, B: outerW}}
		}
	default:
		out.Strip = length(out.Wall+lap, "once round, inside + lap", inside, derive.From("lap", quantity.Length, lap, "common practice, no source"))
		out.Panels = []mould.Panel{{Name: "wall, bent", Count: 1, A: out.Strip, B: wall}, {Name: "base", Count: 1, A: length(out.Wide+2*lap, "widest + room to glue"), B: length(out.Deep+2*lap, "deepest + room to glue")}}
	}
	return out, nil
}
