package gate

import (
	"math"
	"slices"

	"bathyform/core/channel"
	"bathyform/core/fill"

	"gonum.org/v1/gonum/spatial/r3"
)

// How a gate is looked for beside a part. All common practice, no source.
const (
	outline    = 48   // places that are looked at round an outline
	deepGate   = 0.55 // bores into the part at which it must still be part: the gate feeds something
	tallGate   = 0.3  // bores over and under the gate's middle, the same
	offParting = 0.4  // bores that a mouth lies off the parting at most
	aslant     = 0.5  // of a bore's way from the part that a gate must be clear of it
	breathing  = 0.2  // mm more than the runner's clearance
)

// beside are where gates may come from the side, in a level parting: round its outline there, or as near over
// or under as the mouth still opens in it, where the most of a gate's mouth is of
// the part; each with where it leaves its runner. It is empty for a space that
// does not reach the parting.
func beside(m *channel.Master, space *fill.Space, e End, f channel.Feed, faces *Faces) [][]channel.Mouth {
	up := space.Frame.Up
	rooms := space.Rooms(plateau)
	out := make([][]channel.Mouth, len(rooms))
	most := make([]int, len(rooms))
	offs := []float64{0, -offParting, offParting}
	if e.Flat {
		offs = offs[:1]
	}
	for _, off := range offs {
		if !slices.ContainsFunc(most, func(fed int) bool { return fed < 3 }) {
			break // no mouth is more of the part than all of it
		}
		z := e.Parting + off*f.Gate
		for _, loop := range m.Section(up, z) {
			for _, s := range spaced(loop, outline) {
				away := r3.Unit(r3.Cross(s.along, up))
				from, ok := leave(m, s.at, away, f, e.Clear)
				if !ok {
					continue
				}
				room := roomOf(rooms, space.Frame.In(r3.Sub(s.at, r3.Scale(f.Gate/8, away))))
				if room < 0 {
					continue
				}
				fed := 0
				for _, by := range []float64{-tallGate, 0, tallGate} {
					if m.Holds(r3.Add(s.at, r3.Add(r3.Scale(-deepGate*f.Gate, away), r3.Scale(by*f.Gate, up)))) {
						fed++
					}
				}
				if fed > most[room] {
					out[room], most[room] = nil, fed
				}
				if fed > 0 && fed == most[room] && (len(out[room]) == 0 || level(out[room][0].At, s.at, up)) {
					out[room] = append(out[room], channel.Mouth{At: s.at, From: from})
				}
			}
		}
	}
	for i := range out {
		out[i] = spared(out[i], faces)
	}
	return out
}

// level is whether two places stand equally high.
func level(a, b, up r3.Vec) bool { return math.Abs(r3.Dot(up, r3.Sub(a, b))) < 1e-6 }

// roomOf is the room that holds a place of the frame, -1 for none.
func roomOf(rooms []fill.Room, p r3.Vec) int {
	for i, r := range rooms {
		if len(rooms) == 1 || r.Holds(p) {
			return i
		}
	}
	return -1
}

// leave is where a gate that leaves a part at a place straight out is clear of
// it as a runner must be; not ok where the part stands in its way.
func leave(m *channel.Master, at, away r3.Vec, f channel.Feed, clear float64) (r3.Vec, bool) {
	if out := r3.Add(at, r3.Scale(f.Gate, away)); m.Near(out, aslant*f.Gate) || m.Holds(out) {
		return at, false
	}
	keep := clear + f.Runner/2 + breathing
	for far := keep; far < 2*keep; far += keep / 8 {
		from := r3.Add(at, r3.Scale(far, away))
		if !m.Near(from, keep-1e-6) {
			return from, !m.Holds(from)
		}
	}
	return at, false
}

// spared are the mouths on faces to spare, or off those that show, as far as
// there are such.
func spared(of []channel.Mouth, faces *Faces) (out []channel.Mouth) {
	if faces == nil || len(of) == 0 {
		return of
	}
	places := make([]r3.Vec, len(of))
	at := map[r3.Vec]channel.Mouth{}
	for i, m := range of {
		places[i], at[m.At] = m.At, m
	}
	for _, p := range faces.best(places, func(p r3.Vec) r3.Vec { return p }) {
		out = append(out, at[p])
	}
	return out
}

// stop is a place on an outline, and the way on.
type stop struct{ at, along r3.Vec }

// spaced are so many places along an outline, evenly from the one that lies
// farthest out, so that they turn with the part; none along one that does not
// close.
func spaced(loop []r3.Vec, n int) (out []stop) {
	if len(loop) < 4 || loop[0] != loop[len(loop)-1] {
		return nil
	}
	loop = fromFarthest(loop[1:])
	length := 0.0
	for i := 1; i < len(loop); i++ {
		length += r3.Norm(r3.Sub(loop[i], loop[i-1]))
	}
	pitch := length / float64(n)
	gone, next := 0.0, 0.0
	for i := 1; i < len(loop); i++ {
		v := r3.Sub(loop[i], loop[i-1])
		run := r3.Norm(v)
		for ; next < gone+run && len(out) < n; next += pitch {
			out = append(out, stop{r3.Add(loop[i-1], r3.Scale((next-gone)/run, v)), r3.Scale(1/run, v)})
		}
		gone += run
	}
	return out
}

// fromFarthest is a closed outline from its corner that lies farthest from their
// middle, and back to it.
func fromFarthest(corners []r3.Vec) []r3.Vec {
	var middle r3.Vec
	for _, p := range corners {
		middle = r3.Add(middle, r3.Scale(1/float64(len(corners)), p))
	}
	first, far := 0, 0.0
	for i, p := range corners {
		if d := r3.Norm(r3.Sub(p, middle)); d > far*(1+1e-9) {
			first, far = i, d
		}
	}
	out := append([]r3.Vec(nil), corners[first:]...)
	out = append(out, corners[:first]...)
	return append(out, corners[first])
}
