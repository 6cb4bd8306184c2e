// Package bench has a master in hand: it puts questions about its mould to
// the packages that answer them, and remembers the answers, so that a dragged
// vent does not begin again at the mesh. It works nothing out itself.
package bench

import (
	"cmp"
	"context"
	"encoding/json"

	"bathyform/core/axis"
	"bathyform/core/box"
	"bathyform/core/channel"
	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/draw"
	"bathyform/core/fill"
	"bathyform/core/gang"
	"bathyform/core/gate"
	"bathyform/core/grid"
	"bathyform/core/hold"
	"bathyform/core/kinds"
	"bathyform/core/life"
	"bathyform/core/memo"
	"bathyform/core/mesh"
	"bathyform/core/mix"
	"bathyform/core/mould"
	"bathyform/core/part"
	"bathyform/core/pieces"
	"bathyform/core/practice"
	"bathyform/core/rise"
	"bathyform/core/shell"
	"bathyform/core/thick"

	"gonum.org/v1/gonum/spatial/r3"
)

// Master is a part in hand. It may be used from several goroutines.
type Master struct {
	Part  part.Master
	Solid *mesh.Mesh // closed; the block of its measures where its shape is not known

	fine      memo.Memo[struct{}, *mesh.Mesh]
	thickness memo.Memo[struct{}, thick.Map]
	gaps      memo.Memo[struct{}, thick.Map]
	draws     memo.Memo[drawKey, draw.Analysis]
	stands    memo.Memo[axis.Axis, *fill.Stood]
	spaces    memo.Memo[spaceKey, *fill.Space]
	shapes    memo.Memo[axis.Axis, gang.Shape]
	profiles  memo.Memo[axis.Axis, pieces.Profile]
	stood     memo.Memo[stoodKey, mould.Outline]
	divisions memo.Memo[string, pieces.Plan]
	grounds   memo.Memo[axis.Axis, hold.Ground]
	blankets  memo.Memo[blanketKey, shell.Blanket]
	tilts     memo.Memo[string, *derive.Number]
	lives     memo.Memo[string, derive.Number]
	starts    memo.Memo[string, design.Design]
	laid      memo.Memo[string, laid]
	feeds     memo.Memo[string, gate.Fed]
	layouts   memo.Memo[string, gate.Layout]
	turned    memo.Memo[r3.Vec, *fill.Space]
	ends      gate.Ends
	marked    memo.Memo[string, *gate.Faces]

	channelled memo.Memo[struct{}, *channel.Master]

	smallest memo.Memo[string, []gang.Layout]
}

type (
	drawKey struct {
		dir      r3.Vec
		oneSided bool
	}
	spaceKey struct {
		up              axis.Axis
		around          bool
		floor, headroom float64
	}
	stoodKey struct {
		up       axis.Axis // of the frame
		draw     axis.Axis
		turn     float64
		followed bool
	}
	blanketKey struct {
		draw  axis.Axis
		thick float64
	}
)

// A space takes so much memory a triangle of the part, and all that are kept
// so much together: of a fine mesh fewer are kept.
const (
	spaceBytes     = 60
	mostSpaceBytes = 300 << 20
)

// Take takes a master in hand. How much is remembered is bounded: directions
// that were looked along, six ways up and rubber pours against a parting that
// is being dragged, divisions enough to compare all kinds.
func Take(m part.Master) *Master {
	out := &Master{Part: m, Solid: mould.Solid(m)}
	out.fine.Most, out.thickness.Most, out.gaps.Most = 1, 1, 1
	out.grounds.Most, out.stands.Most = 6, 3
	out.draws.Most, out.spaces.Most, out.shapes.Most, out.profiles.Most, out.stood.Most = 24, 16, 6, 6, 24
	out.divisions.Most, out.blankets.Most, out.tilts.Most, out.lives.Most = 5, 2, 8, 24
	out.spaces.Weigh = func(*fill.Space) int64 { return spaceBytes * int64(len(out.Solid.Triangles)) }
	out.spaces.Budget = mostSpaceBytes
	out.starts.Most, out.laid.Most, out.smallest.Most = 2, 8, 4
	out.marked.Most, out.ends.Most, out.feeds.Most, out.layouts.Most, out.turned.Most, out.channelled.Most = 4, 12, 24, 12, 6, 1
	return out
}

// Known reports whether the master's shape is known.
func (m *Master) Known() bool { return m.Part.Mesh != nil }

// Question is what a mould is asked about.
type Question struct {
	Design        design.Design
	Kind          design.Kind // empty for the design's, then the brief's
	Brief         design.Brief
	Rubber, Resin *mix.Material
	Wanted        int           // castings still to make
	Log           []life.Record // moulds of this rubber
	House         practice.House
}

// KindOf is the kind that a question is about: the one that is asked for,
// the design's, the brief's, or the usual.
func (q Question) KindOf() (*kinds.Kind, error) {
	for _, key := range []design.Kind{q.Kind, q.Design.Kind} {
		if key != "" {
			return kinds.Of(key)
		}
	}
	if k, err := kinds.Of(q.Brief.Kind); err == nil {
		return k, nil
	}
	switch {
	case q.House.Does(practice.Inlet) == practice.Squeezed:
		return kinds.Squeeze, nil
	case q.House.Does(practice.Parting) == practice.Cut:
		return kinds.Cut, nil
	}
	return kinds.Usual, nil
}

// life is how long a mould of a kind is expected to last, by the shop's log.
func (m *Master) life(q Question, k *kinds.Kind) derive.Number {
	prior := life.PriorOf(Wears(q.Rubber))
	return sure(
		&m.lives,
		encoded(prior, q.Log, k.Wear),
		func() derive.Number { return life.Learn(prior, q.Log).Wearing(k.Wear).NewMould() },
	)
}

// Wears is what of a rubber tells how long its moulds last; nil for one that
// nobody has chosen.
func Wears(rubber *mix.Material) life.Rubber {
	if rubber == nil {
		return life.Rubber{}
	}
	t := rubber.Traits
	return life.Rubber{Family: t.Family, Shore: t.Shore, Clear: t.Clear}
}

// sure remembers what cannot fail and takes no time worth leaving.
func sure[K comparable, V any](m *memo.Memo[K, V], key K, work func() V) V {
	v, _ := m.Get(context.Background(), key, func(context.Context) (V, error) { return work(), nil })
	return v
}

// Fine is the master's surface in triangles small enough to colour one by one.
func (m *Master) Fine() *mesh.Mesh {
	return sure(&m.fine, struct{}{}, func() *mesh.Mesh { return thick.Fine(m.Part.Mesh) })
}

// Thickness is the thickness of the fine mesh's triangles.
func (m *Master) Thickness(ctx context.Context) (thick.Map, error) {
	return m.thickness.Get(ctx, struct{}{}, func(ctx context.Context) (thick.Map, error) { return thick.Measure(ctx, m.Fine()) })
}

// widestGap is the widest recess in mm that is looked for.
const widestGap = 6

// recesses is the width of narrow free places over the fine mesh's triangles.
func (m *Master) recesses(ctx context.Context) (thick.Map, error) {
	return m.gaps.Get(ctx, struct{}{}, func(ctx context.Context) (thick.Map, error) { return thick.Gaps(ctx, m.Fine(), widestGap) })
}

// Draw looks at the fine mesh along a direction.
func (m *Master) Draw(ctx context.Context, dir r3.Vec, oneSided bool) (draw.Analysis, error) {
	return m.draws.Get(ctx, drawKey{dir, oneSided}, func(ctx context.Context) (draw.Analysis, error) {
		return draw.Analyse(ctx, m.Fine(), dir, draw.Options{OneSided: oneSided})
	})
}

// Cavity is the space inside the part for a way up; nil where its shape is not known.
func (m *Master) Cavity(ctx context.Context, up axis.Axis) (*fill.Space, error) {
	if !m.Known() {
		return nil, nil
	}
	return m.space(ctx, spaceKey{up: up}, fill.Options{Sound: m.Part.Report.Sound})
}

// spacesFor is where rises look for a space.
func (m *Master) spacesFor(ctx context.Context) rise.Spaces {
	return rise.Spaces{
		Inside: func(up axis.Axis) (*fill.Space, error) { return m.Cavity(ctx, up) },
		Round: func(up axis.Axis, floor, headroom float64) (*fill.Space, error) {
			return m.round(ctx, up, floor, headroom)
		},
	}
}

// round is the space round the part over a floor.
func (m *Master) round(ctx context.Context, up axis.Axis, floor, headroom float64) (*fill.Space, error) {
	return m.space(
		ctx,
		spaceKey{up, true, floor, headroom},
		fill.Options{Sound: m.Part.Report.Sound, Around: true, Floor: &floor, Headroom: headroom},
	)
}

func (m *Master) space(ctx context.Context, key spaceKey, opt fill.Options) (*fill.Space, error) {
	return m.spaces.Get(ctx, key, func(ctx context.Context) (*fill.Space, error) {
		stood, err := m.stands.Get(ctx, key.up, func(context.Context) (*fill.Stood, error) {
			return fill.Stand(m.Part.Mesh, key.up.Dir(), 0)
		})
		if err != nil {
			return nil, err
		}
		return stood.Space(opt)
	})
}

// Shape is the part seen along a draw.
func (m *Master) Shape(ctx context.Context, along axis.Axis) (gang.Shape, error) {
	return m.shapes.Get(ctx, along, func(context.Context) (gang.Shape, error) { return gang.Seen(m.Solid, along.Dir()) })
}

// profile is what the part shows along a draw; nil where its shape is not known.
func (m *Master) profile(ctx context.Context, along axis.Axis) (*pieces.Profile, error) {
	if !m.Known() {
		return nil, nil
	}
	p, err := m.profiles.Get(ctx, along, func(context.Context) (pieces.Profile, error) { return pieces.Look(m.Solid, along.Dir()) })
	return &p, err
}

// standing is the outline of the master, turned about the draw, in the frame
// that a design's box is seen in.
func (m *Master) standing(d design.Design, c mould.Cavities, frame grid.Frame, turn float64) mould.Outline {
	up := d.RubberUpA
	if up.Along(d.Draw) {
		up = d.Draw
	}
	follow := d.Box.Form == string(box.Follow)
	return sure(&m.stood, stoodKey{up, d.Draw, turn, follow}, func() mould.Outline {
		one := c
		one.Poses = []gang.Pose{{Turn: turn}}
		if whole := one.Whole(m.Solid); follow {
			if out, err := mould.Followed(whole, frame); err == nil {
				return out
			}
		}
		return mould.Stood(one.Whole(m.Solid), frame)
	})
}

// Lay plans a mould as far as it is known without dividing the rubber.
func (m *Master) Lay(ctx context.Context, q Question) (mould.Plan, error) {
	k, err := q.KindOf()
	if err != nil {
		return mould.Plan{}, err
	}
	d := k.Takes(q.Design)
	a := mould.Ask{Master: m.Part, Design: d, Kind: k, House: q.House, Rubber: q.Rubber, Life: m.life(q, k)}
	if a.Master.Volume() <= 0 {
		return mould.Plan{}, part.ErrNoMaster
	}
	if a.Shape, err = m.Shape(ctx, d.Draw); err != nil {
		return mould.Plan{}, err
	}
	if a.Profile, err = m.profile(ctx, d.Draw); err != nil {
		return mould.Plan{}, err
	}
	cavities, err := mould.Laid(d, a.Shape)
	if err != nil {
		return mould.Plan{}, err
	}
	frame, err := mould.Standing(d)
	if err != nil {
		return mould.Plan{}, err
	}
	a.Stood = func(turn float64) mould.Outline { return m.standing(d, cavities, frame, turn) }
	p, err := mould.Lay(a)
	if err != nil {
		return p, err
	}
	into, err := m.into(ctx, q, p)
	if err != nil {
		return p, err
	}
	fed, err := m.led(ctx, into, p, m.choices(q))
	if err != nil {
		return p, err
	}
	if d.Box.Form != string(box.Own) {
		a.Holds = fed.Holds()
	}
	if len(a.Holds) > 0 {
		if p, err = mould.Lay(a); err != nil {
			return p, err
		}
	}
	l, err := m.layout(ctx, q, p)
	if err != nil {
		return p, err
	}
	if a.Rods = l.Rods(); len(a.Rods) == 0 {
		return p, nil
	}
	return mould.Lay(a)
}

// encoded is a value as a key: equal values have equal keys, whatever is
// added to their type.
func encoded(parts ...any) string {
	doc, err := json.Marshal(parts)
	if err != nil { // a number that is no number
		return ""
	}
	return string(doc)
}

// wanted is the castings still to make, one at least.
func (q Question) wanted() int { return max(1, q.Wanted) }

// pulls is how often the mould is poured for the castings still to make.
func (q Question) pulls() int {
	n := q.Design.Cavities()
	return (q.wanted() + n - 1) / n
}

func (q Question) quality() string { return cmp.Or(q.Brief.Quality, "good") }
