package gate

import (
	"context"
	"errors"
	"fmt"
	"math"

	"bathyform/core/channel"
	"bathyform/core/fill"
	"bathyform/core/gang"
	"bathyform/core/mesh"
	"bathyform/core/parallel"
	"bathyform/core/practice"

	"gonum.org/v1/gonum/spatial/r3"
)

// How many vents a block has.
const (
	AllVents = -1 // one for every pocket that matters
	FewVents = -2 // for those alone that make scrap of a casting
)

// Block asks for a block of rubber with cavities side by side, all the same
// way up, and for what leads resin in and air out.
type Block struct {
	Up         r3.Vec
	Feed       practice.Feed
	Count      int     // cavities; 0 for as many as have room
	Pot        float64 // diameter of a round block at most, mm; 0 for none
	Wide, Deep float64 // of the block at most, mm; 0 for none
	Clear      float64 // mm of rubber between a channel and a part
	Vents      int     // how many a cavity, or AllVents or FewVents
	Fault      Fault
	House      practice.House
}

// Air is a pocket that stays in one of the cavities of a block.
type Air struct {
	Cavity int
	fill.Pocket
}

// Laid is a block as it is proposed. Places are in mm over its lower corner,
// as it stands for the resin.
type Laid struct {
	Size    r3.Vec
	Round   bool
	Stand   *channel.Stand
	Bodies  []channel.Body
	Volumes []float64 // mm³, by body
	Cavity  float64   // mm³, of all cavities
	Air     []Air
	Left    float64 // mm³ of air
	Short   bool    // fewer cavities than were asked for
	clear   float64 // that was asked for
	Lost    int     // vents that no way was found for
}

// Widths of the channels against the sprue's and the part. All common
// practice, no source.
const (
	runnerShare   = 0.75  // of the sprue's bore
	gateShare     = 0.625 // of the sprue's bore: it is cut off
	gateOfPart    = 0.25  // of the side of a cube as large as the part, at most
	leastGate     = 1.0   // mm
	ventOfGate    = 0.5   // at most
	openingOfGate = 3.0   // of an opening at the top, at most
	between       = 1.5   // mm of rubber between two channels
	usualGap      = 8.0   // mm between two cavities
)

// feedOf is the bores for parts of a volume.
func feedOf(h practice.House, volume float64) channel.Feed {
	gate := min(gateShare*h.SprueBore, max(leastGate, gateOfPart*math.Cbrt(volume)))
	return channel.Feed{
		Gate:   gate,
		Runner: min(runnerShare*h.SprueBore, 1.5*gate),
		Sprue:  min(h.SprueBore, 2*gate),
		Rim:    h.WellWidth,
		Depth:  h.WellDepth,
	}
}

// Check refuses what no block can be laid by.
func (a Block) Check() error {
	if a.Feed != practice.FeedLow && a.Feed != practice.FeedTop {
		return fmt.Errorf("the feed must be low or top, not %q", a.Feed)
	}
	if err := practice.Within("clearance of the channels (mm)", a.Clear, 0.5, 100); err != nil {
		return err
	}
	if a.Vents < FewVents || a.Vents > MostVents {
		return fmt.Errorf("from 0 to %d vents can be laid, not %d", MostVents, a.Vents)
	}
	if a.Count > mostInBlock {
		return fmt.Errorf("from 1 to %d cavities can be laid, not %d", mostInBlock, a.Count)
	}
	return nil
}

// mostInBlock bounds the cavities of a block.
const mostInBlock = 200

// LayBlock lays a block for a closed mesh of a volume in mm³. Sound says that
// the mesh closes, as found by [mesh.Examine].
func LayBlock(ctx context.Context, m *mesh.Mesh, sound bool, volume float64, a Block) (Laid, error) {
	if err := a.Check(); err != nil {
		return Laid{}, err
	}
	space, err := fill.Prepare(m, a.Up, fill.Options{Sound: sound})
	if err != nil {
		return Laid{}, err
	}
	stand, err := channel.NewStand(m, a.Up)
	if err != nil {
		return Laid{}, err
	}
	l := laying{Block: a, ctx: ctx, space: space, stand: stand, feed: feedOf(a.House, volume), volume: volume}
	if a.Feed == practice.FeedTop {
		l.open = l.tops()
	} else {
		l.low = l.feet()
	}
	l.vents = l.ventsOf()
	room, err := l.room()
	if err != nil {
		return Laid{}, err
	}
	return l.finish(room)
}

// laying is a block at work.
type laying struct {
	Block
	ctx    context.Context
	space  *fill.Space
	stand  *channel.Stand
	feed   channel.Feed
	volume float64
	vents  []Vent
	low    []r3.Vec       // where gates meet the part, fed from below
	open   []fill.Opening // where resin is poured in, fed from the top
	short  bool
}

// choices are those by which a cavity's air is looked at: what it is open by
// from the top stands among them.
func (l *laying) choices() Choices {
	return Choices{Feed: practice.FeedLow, Fault: l.Fault, also: l.open}
}

// ventsOf are the vents of one cavity, the one first that spares the most.
func (l *laying) ventsOf() (out []Vent) {
	if l.Vents == 0 {
		return nil
	}
	ranking, err := Rank(l.space, l.choices(), min(l.House.VentBore, max(0.5, ventOfGate*l.feed.Gate)))
	if err != nil {
		return nil
	}
	for _, v := range ranking.Vents {
		if l.Vents > 0 && len(out) == l.Vents || l.Vents == FewVents && !l.Fault.Spoils(v.Spares) {
			break
		}
		out = append(out, v.Vent)
	}
	return out
}

// feet are where gates meet the part: at the low end of each space of its own.
func (l *laying) feet() (out []r3.Vec) {
	for _, room := range l.space.Rooms(plateau) {
		out = append(out, l.space.Frame.Out(l.middleOf(room.Floor)))
	}
	return out
}

// tops are where the part is opened from the top: at the high end of each
// space of its own.
func (l *laying) tops() (out []fill.Opening) {
	for _, room := range l.space.Rooms(plateau) {
		at := l.space.Frame.Out(l.middleOf(room.Ceiling))
		out = append(out, fill.Opening{At: at, Bore: min(l.House.TopBore, openingOfGate*l.feed.Gate)})
	}
	return out
}

// middleOf is the place of a floor or a ceiling where the most of a gate's mouth
// is of it.
func (l *laying) middleOf(lows []r3.Vec) r3.Vec {
	var middle r3.Vec
	for _, p := range lows {
		middle = r3.Add(middle, r3.Scale(1/float64(len(lows)), p))
	}
	best, most, off := lows[0], -1, 0.0
	thin := max(1, len(lows)/500) // a broad floor is looked at here and there
	for i := 0; i < len(lows); i += thin {
		p := lows[i]
		near := 0
		for _, q := range lows {
			if math.Hypot(q.X-p.X, q.Y-p.Y) <= l.feed.Gate/2 {
				near++
			}
		}
		d := math.Hypot(p.X-middle.X, p.Y-middle.Y)
		if near > most || near == most && d < off {
			best, most, off = p, near, d
		}
	}
	return best
}

// heights are those of the parts' low ends and of the block's top, over its
// floor.
func (l *laying) heights() (low, top float64) {
	c := l.House.Clearance
	low = c.Below
	if l.Feed == practice.FeedLow {
		low = max(low, Wall+l.feed.Runner+l.Clear)
	}
	return low, low + l.space.High() - l.space.Low() + max(c.Above, l.Clear+l.feed.Depth)
}

// room is the block with its feed, of the layouts that come into question the
// one with the most cavities that takes the least.
func (l *laying) room() (best *channel.Room, err error) {
	count := l.Count
	if count == 0 && !l.bounded() {
		count = 1
	}
	gaps := []float64{usualGap}
	if l.Feed == practice.FeedLow && count != 1 {
		gaps = append(gaps, 2*l.Clear+l.feed.Sprue+0.5)
	}
	laid, errs := make([][][]gang.Pose, len(gaps)), make([]error, len(gaps))
	if err := parallel.Each(l.ctx, len(gaps), len(gaps), func(i int) error {
		laid[i], errs[i] = l.layouts(count, gaps[i])
		return nil
	}, nil); err != nil {
		return nil, err
	}
	least := math.Inf(1)
	for i, layouts := range laid {
		if errs[i] != nil {
			err = errs[i]
		}
		for _, poses := range layouts {
			if err := l.ctx.Err(); err != nil {
				return nil, err
			}
			room, fed := l.fed(poses)
			if fed != nil {
				err = fed
				continue
			}
			if best == nil || len(room.Places) > len(best.Places) || len(room.Places) == len(best.Places) && l.takes(room) < least {
				best, least = room, l.takes(room)
			}
		}
	}
	if best == nil {
		return nil, err
	}
	l.short = len(best.Places) < count
	return best, nil
}

// layouts are ways to lay cavities: into the room there is, or else into the
// smallest box and into one that is not much longer than wide.
func (l *laying) layouts(count int, gap float64) (out [][]gang.Pose, err error) {
	ask := gang.Ask{Count: count, Pot: l.Pot, Wide: l.Wide, Deep: l.Deep, Gap: max(gap, usualGap), Edge: l.House.Clearance.Beside}
	best, err := gang.Lay(l.stand.Shape(), ask)
	if err != nil && !errors.Is(err, gang.ErrFewer) {
		return nil, err
	}
	out = append(out, best.Poses)
	if count < 3 || l.bounded() || max(best.Wide, best.Deep) < longest*min(best.Wide, best.Deep) {
		return out, nil
	}
	side := math.Sqrt(best.Wide * best.Deep)
	for _, more := range []float64{1.15, 1.4} { // until a shorter box has room for all
		ask.Wide, ask.Deep = more*side*math.Sqrt(longest), more*side/math.Sqrt(longest)
		if short, err := gang.Lay(l.stand.Shape(), ask); err == nil {
			return append(out, short.Poses), nil
		}
	}
	return out, nil
}

// A block is better not longer than this against its width: it bends, and its
// runners are long. What it is longer counts against it. Common practice, no
// source.
const (
	longest = 2.0
	bends   = 0.2
)

// takes is what a room costs: its rubber, and the resin of its channels.
func (l *laying) takes(r *channel.Room) float64 {
	low, high := l.outline(r)
	wide, deep := high.X-low.X, high.Y-low.Y
	sum := channel.Rubber * wide * deep * (high.Z - low.Z)
	for _, b := range r.Bodies {
		sum += b.Full()
	}
	return sum * (1 + bends*max(0, max(wide, deep)/min(wide, deep)-longest))
}

// bounded is whether the block may not grow.
func (l *laying) bounded() bool { return l.Pot > 0 || l.Wide > 0 }

// fed lays the way in for cavities in their poses. In a block that cannot grow
// a cavity makes room for the sprue where nothing else does.
func (l *laying) fed(poses []gang.Pose) (*channel.Room, error) {
	for {
		r, err := l.feedInto(poses)
		if err == nil || !l.bounded() || len(poses) < 2 {
			return r, err
		}
		var last error
		for _, out := range nearestFirst(poses) {
			rest := append(append([]gang.Pose(nil), poses[:out]...), poses[out+1:]...)
			if r, last = l.feedInto(rest); last == nil {
				return r, nil
			}
		}
		poses = poses[:len(poses)-1]
	}
}

// nearestFirst are the poses by their distance from the middle.
func nearestFirst(poses []gang.Pose) []int {
	out := make([]int, len(poses))
	for i := range out {
		out[i] = i
		for k := i; k > 0 && math.Hypot(poses[out[k]].X, poses[out[k]].Y) < math.Hypot(poses[out[k-1]].X, poses[out[k-1]].Y); k-- {
			out[k], out[k-1] = out[k-1], out[k]
		}
	}
	return out
}

// feedInto lays the way in for cavities in their poses.
func (l *laying) feedInto(poses []gang.Pose) (*channel.Room, error) {
	low, top := l.heights()
	l.stand.Lay(poses, low)
	stand := *l.stand // its own places
	r := &channel.Room{Stand: &stand, Clear: l.Clear, Wall: Wall, Between: between}
	beside := l.House.Clearance.Beside
	from, to := stand.Plan()
	r.Low, r.High = r3.Vec{X: from[0] - beside, Y: from[1] - beside}, r3.Vec{X: to[0] + beside, Y: to[1] + beside, Z: top}
	switch {
	case l.Pot > 0:
		r.Round = l.Pot
		r.Low, r.High = r3.Vec{X: -l.Pot / 2, Y: -l.Pot / 2}, r3.Vec{X: l.Pot / 2, Y: l.Pot / 2, Z: top}
	case l.Wide > 0:
		r.Low, r.High = r3.Vec{X: -l.Wide / 2, Y: -l.Deep / 2}, r3.Vec{X: l.Wide / 2, Y: l.Deep / 2, Z: top}
	}
	if l.Feed == practice.FeedTop {
		return r, l.feedFromTop(r)
	}
	var feet []channel.Foot
	for i := range r.Places {
		for _, foot := range l.low {
			feet = append(feet, channel.Foot{Cavity: i, At: r.Box(i, foot)})
		}
	}
	bodies, err := r.Under(l.feed, feet, !l.bounded())
	if err != nil {
		return nil, err
	}
	r.Bodies = bodies
	if !l.bounded() {
		r.Low, r.High = l.outline(r)
	}
	return r, nil
}

// feedFromTop gives each cavity an opening at its highest place.
func (l *laying) feedFromTop(r *channel.Room) error {
	for i := range r.Places {
		for _, o := range l.open {
			if err := l.openTop(r, i, o); err != nil {
				return err
			}
		}
	}
	return nil
}

// openTop leads an opening of a cavity up into a well of its own.
func (l *laying) openTop(r *channel.Room, i int, o fill.Opening) error {
	b, err := r.Rise(channel.Sprue, i, r.Box(i, o.At), o.Bore)
	if err != nil {
		return err
	}
	last := len(b.Path) - 1
	neck, mouth, before := b.Path[last], b.Path[last], b.Path[last-1]
	neck.Z -= l.feed.Depth
	if upright := math.Hypot(before.X-mouth.X, before.Y-mouth.Y) < 1e-6; upright && before.Z < neck.Z-1 {
		well := channel.Body{Kind: channel.Well, Cavity: i, Bore: o.Bore, Rim: max(o.Bore, l.feed.Rim), Path: []r3.Vec{neck, mouth}}
		b.Path[last] = neck
		r.Bodies = append(r.Bodies, well)
	}
	r.Bodies = append(r.Bodies, b)
	return nil
}

// outline is the box that parts and channels need.
func (l *laying) outline(r *channel.Room) (low, high r3.Vec) {
	from, to := r.Plan()
	beside := l.House.Clearance.Beside
	low, high = r3.Vec{X: from[0] - beside, Y: from[1] - beside}, r3.Vec{X: to[0] + beside, Y: to[1] + beside, Z: r.High.Z}
	for _, b := range r.Bodies {
		from, to := b.Bounds()
		low = r3.Vec{X: min(low.X, from.X-Wall), Y: min(low.Y, from.Y-Wall)}
		high = r3.Vec{X: max(high.X, to.X+Wall), Y: max(high.Y, to.Y+Wall), Z: high.Z}
	}
	return low, high
}

// finish adds the vents and looks at what the block does.
func (l *laying) finish(r *channel.Room) (Laid, error) {
	out := Laid{Stand: r.Stand, Short: l.short, clear: l.Clear, Cavity: l.volume * float64(len(r.Places))}
	type opened struct {
		found fill.Trapped
		err   error
	}
	seen := map[string]opened{}
	for i := range r.Places {
		if err := l.ctx.Err(); err != nil {
			return Laid{}, err
		}
		var open []Vent
		key := make([]byte, len(l.vents))
		for k, v := range l.vents {
			b, err := r.Rise(channel.Vent, i, r.Box(i, v.At), v.Bore)
			if err != nil {
				out.Lost++
				continue
			}
			r.Bodies = append(r.Bodies, b)
			open, key[k] = append(open, v), 1
		}
		now, ok := seen[string(key)]
		if !ok {
			now.found, now.err = l.space.Trap(openedBy(l.space, l.choices(), open))
			seen[string(key)] = now
		}
		if now.err != nil {
			return Laid{}, now.err
		}
		out.Left += now.found.Volume
		for _, p := range now.found.Pockets {
			height := r.Box(i, p.Apex).Z - p.ApexHeight
			p.Apex, p.SealHeight, p.ApexHeight = r.Box(i, p.Apex), p.SealHeight+height, p.ApexHeight+height
			out.Air = append(out.Air, Air{i, p})
		}
	}
	low, high := l.outline(r)
	out.Size = r3.Sub(high, low)
	if l.Pot > 0 {
		out.Round = true
		reach := r.Reach() + l.House.Clearance.Beside
		for _, b := range r.Bodies {
			from, to := b.Bounds()
			reach = max(reach, math.Hypot(max(-from.X, to.X), max(-from.Y, to.Y))+Wall)
		}
		across := min(l.Pot, 2*reach)
		low, out.Size = r3.Vec{X: -across / 2, Y: -across / 2}, r3.Vec{X: across, Y: across, Z: high.Z}
	}
	r.Move(r3.Scale(-1, low))
	for _, b := range r.Bodies {
		for i := range b.Path {
			b.Path[i] = r3.Sub(b.Path[i], low)
		}
	}
	for i := range out.Air {
		out.Air[i].Apex = r3.Sub(out.Air[i].Apex, low)
	}
	out.Bodies, out.Volumes = r.Bodies, channel.Volumes(r.Bodies)
	return out, nil
}

// Sums of a block.
type Sums struct {
	Channels  float64 // mm³
	Shot      float64 // mm³: cavities and channels, without what stays in the cup
	Scar      float64 // mm² that are cut off all castings
	Overlap   float64 // mm³ of channels inside parts or one another, beyond their joints
	Clearance float64 // mm between a channel and a part that it does not lead to
}

// mostClearance is how far a channel's neighbours are looked for, mm.
const mostClearance = 50

// Sums adds a block up, and measures how its channels keep clear.
func (l Laid) Sums() Sums {
	s := Sums{Overlap: l.Stand.Overlap(l.Bodies), Clearance: l.Stand.Clearance(l.Bodies, mostClearance, l.clear)}
	for _, v := range l.Volumes {
		s.Channels += v
	}
	s.Shot = l.Cavity + s.Channels
	for _, b := range l.Bodies {
		s.Scar += b.Scar()
	}
	return s
}
