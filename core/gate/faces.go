package gate

import (
	"math"

	"bathyform/core/channel"
	"bathyform/core/finding"

	"gonum.org/v1/gonum/spatial/r3"
)

// Mark is a face of the part that shows, so that no scar may be on it, or that
// may be spared for one.
type Mark struct {
	At   r3.Vec // mesh coordinates
	Show bool
}

// Faces are the marked faces of a part. Nil faces are none.
type Faces struct {
	master *channel.Master
	of     map[int32]bool // by triangle: whether it shows
}

// How far a face goes on from where it is marked: over bends of so much, and
// turned by so much, radians. Common practice, no source.
const (
	bend   = 25 * math.Pi / 180
	turned = 60 * math.Pi / 180
)

// Marked are the faces of a part with marks; what shows goes before what may be
// spared.
func Marked(m *channel.Master, marks []Mark) *Faces {
	if len(marks) == 0 {
		return nil
	}
	f := &Faces{m, map[int32]bool{}}
	for _, mark := range marks {
		for _, t := range m.Face(mark.At, bend, turned) {
			f.of[t] = f.of[t] || mark.Show
		}
	}
	return f
}

// shows and spares say whether a place of the surface lies on such a face.
func (f *Faces) shows(p r3.Vec) bool {
	show, marked := f.on(p)
	return marked && show
}

func (f *Faces) spares(p r3.Vec) bool {
	show, marked := f.on(p)
	return marked && !show
}

func (f *Faces) on(p r3.Vec) (show, marked bool) {
	if f == nil {
		return false, false
	}
	show, marked = f.of[f.master.Nearest(p)]
	return show, marked
}

// best are the places on faces to spare; where there are none those off the
// faces that show, and where all of them show all of them.
func (f *Faces) best(of []r3.Vec, place func(r3.Vec) r3.Vec) []r3.Vec {
	if f == nil {
		return of
	}
	var spare, off []r3.Vec
	for _, p := range of {
		switch at := place(p); {
		case f.spares(at):
			spare = append(spare, p)
		case !f.shows(at):
			off = append(off, p)
		}
	}
	switch {
	case len(spare) > 0:
		return spare
	case len(off) > 0:
		return off
	}
	return of
}

// onShow says which channels leave their scar on a face that shows.
func (l Layout) onShow(c Choices) (out []finding.Finding) {
	for _, ch := range l.Channels {
		if ch.Cavity != 0 || ch.Scar() == 0 {
			continue
		}
		at := ch.Mouth()
		if c.faces == nil || !c.faces.shows(l.home(at)) {
			continue
		}
		f := finding.Finding{Severity: finding.Watch, Stage: finding.Gates, Code: "scar-on-show-face",
			What:  "The " + ch.Named(1) + " leaves its scar on a face that shows.",
			Where: place(at),
			Why: "It is cut off and dressed there on every casting. Move it to a face to spare, or turn the part so that its " +
				"lowest or highest place is elsewhere.", Source: "your marks on the part"}
		if ch.Vent >= 0 {
			f.Remedies = []finding.Remedy{{Label: "Remove it", Action: finding.RemoveVent, Value: float64(ch.Vent)}}
		}
		out = append(out, f)
	}
	return out
}
