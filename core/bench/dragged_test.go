package bench_test

import (
	"testing"

	"bathyform/core/bench"
	"bathyform/core/design"
	"bathyform/core/gang"
	"bathyform/core/part"
	"bathyform/core/rise"

	"github.com/stretchr/testify/require"
)

// What the server works out while a hand drags a vent, the foot or the sprue, of
// one cavity and of a gang of six: asked within 50 ms for one, 100 ms for six.
func BenchmarkDragged(b *testing.B) {
	for _, c := range []struct {
		key      string
		cavities int
	}{{"deck-cleat", 1}, {"drogue-hub", 1}, {"deck-cleat", 6}} {
		m, r := loaded(b, c.key)
		p := bench.Take(part.Master{Mesh: m, Report: r})
		q := asked(b, p)
		q.Kind = design.Clay
		if c.cavities > 1 {
			l, err := p.Gang(b.Context(), q, gang.Ask{Count: c.cavities, Gap: 8, Edge: 12})
			require.NoError(b, err)
			for _, at := range l.Poses {
				q.Design.Gang = append(q.Design.Gang, design.Pose{at.X, at.Y, at.Turn})
			}
		}
		s, err := p.Study(b.Context(), q)
		require.NoError(b, err)
		var foot, shaft design.Place
		for _, ch := range s.Gates.Channels {
			switch {
			case ch.Kind == "gate" && ch.Cavity == 0:
				foot = design.At(ch.Path[len(ch.Path)-1])
				if c.cavities > 1 { // back on the master
					foot = design.At(p.Part.Bounds().Center())
					foot[2] = p.Part.Bounds().Min.Z
				}
			case ch.Kind == "sprue":
				shaft = design.At(ch.Path[0])
			}
		}
		name := map[bool]string{true: c.key, false: "six of " + c.key}[c.cavities == 1]
		whole, err := p.Study(b.Context(), q)
		if err != nil {
			b.Fatal(err)
		}
		b.Run(name+"/quick_fill", func(b *testing.B) { // asked within 250 ms for a gang of six
			for b.Loop() {
				if r := rise.Resin(whole.Plan, whole.Gates); len(r.Volumes) == 0 {
					b.Fatal("it does not fill")
				}
			}
		})
		for what, drag := range map[string]func(d *design.Design, by float64){
			"vent": func(d *design.Design, by float64) {
				d.Vents = append([]design.Vent(nil), d.Vents...)
				d.Vents[0].At[0] += by
			},
			"foot": func(d *design.Design, by float64) {
				at := foot
				at[0] += by
				d.Foot = &at
			},
			"sprue": func(d *design.Design, by float64) {
				at := shaft
				at[0] += by
				d.Shaft = &at
			},
		} {
			b.Run(name+"/"+what, func(b *testing.B) {
				i := 0
				for b.Loop() {
					i++
					dragged := q
					drag(&dragged.Design, 0.013*float64(i%97))
					if _, err := p.Study(b.Context(), dragged); err != nil {
						b.Fatal(err)
					}
				}
			})
		}
	}
}
