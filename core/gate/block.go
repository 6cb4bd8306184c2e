package gate

import (
	"context"
	"errors"
	"fmt"
	"math"

	"bathyform/core/channel"
	"bathyform/core/derive"
	"bathyform/core/fill"
	"bathyform/core/gang"
	"bathyform/core/kinds"
	"bathyform/core/mesh"
	"bathyform/core/parallel"
	"bathyform/core/practice"
	"bathyform/core/quantity"

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
	Count      int            // cavities; 0 for as many as have room
	Pot        float64        // diameter of a round block at most, mm; 0 for none
	Wide, Deep float64        // of the block at most, mm; 0 for none
	Clear      float64        // mm of rubber between a channel and a part
	Vents      int            // how many a cavity, or AllVents or FewVents
	System     channel.System // none for the one that takes the least
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
	System  channel.System
	Bodies  []channel.Body
	Volumes []float64 // mm³, by body
	Cavity  float64   // mm³, of all cavities
	Air     []Air
	Left    float64 // mm³ of air
	Short   bool    // fewer cavities than were asked for
	clear   float64 // that was asked for
	Lost    int     // vents that no way was found for
}

// What is laid by. All common practice, no source.
const (
	ventOfGate    = 0.5 // at most
	openingOfGate = 3.0 // of an opening at the top, at most
	usualGap      = 8.0 // mm between two cavities
)

// OpeningOf is the bore of an opening at the top of a part of a volume in mm³,
// and VentOf that of its vents, by the house's.
func OpeningOf(h practice.House, volume float64) float64 {
	return min(h.TopBore, openingOfGate*gateOf(h.SprueBore, volume))
}

func VentOf(h practice.House, volume float64) float64 {
	return min(h.VentBore, max(0.5, ventOfGate*gateOf(h.SprueBore, volume)))
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
	l := laying{Block: a, ctx: ctx, space: space}
	h := a.House
	l.choices = Choices{
		Feed:      a.Feed,
		SprueBore: SprueOf(h, volume),
		WellWidth: h.WellWidth,
		WellDepth: h.WellDepth,
		Fault:     a.Fault,
		System:    a.System,
	}
	if a.Feed == practice.FeedTop {
		l.choices.SprueBore = OpeningOf(h, volume)
	}
	l.mould = Mould{
		Master:   channel.NewMaster(m),
		Known:    true,
		Up:       a.Up,
		Resin:    kinds.Sprued,
		Clear:    a.Clear,
		Between:  h.Webs.Apart,
		Wall:     h.Webs.Wall,
		Cavity:   derive.Of(quantity.Volume, volume/1000, "volume of the mesh"),
		Standing: func(context.Context, r3.Vec) (*fill.Space, error) { return space, nil },
		Ends:     &Ends{Most: 4},
	}
	stand, err := channel.NewStand(l.mould.Master, a.Up)
	if err != nil {
		return Laid{}, err
	}
	if l.shape, err = stand.Shape(); err != nil {
		return Laid{}, err
	}
	l.choices.Vents = l.ventsOf(volume)
	into, fed, err := l.room()
	if err != nil {
		return Laid{}, err
	}
	return l.finish(into, fed)
}

// laying is a block at work.
type laying struct {
	Block
	ctx     context.Context
	space   *fill.Space
	shape   gang.Shape
	mould   Mould
	choices Choices
	short   bool
}

// ventsOf are the vents of one cavity, the one first that spares the most.
func (l *laying) ventsOf(volume float64) (out []Vent) {
	if l.Vents == 0 {
		return nil
	}
	ranking, err := Rank(l.space, l.choices, VentOf(l.House, volume))
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

// heights are those of the parts' low ends and of the block's top, over its
// floor.
func (l *laying) heights() (low, top float64) {
	c := l.House.Clearance
	low = c.Below
	if l.Feed == practice.FeedLow {
		low = max(low, l.House.Webs.Wall+l.choices.feed(l.mould.Cavity.Value*1000).Runner+l.Clear)
	}
	return low, low + l.space.High() - l.space.Low() + max(c.Above, l.Clear+l.choices.WellDepth)
}

// room is the block with its feed, of the layouts that come into question the
// one with the most cavities that takes the least.
func (l *laying) room() (best Mould, way Fed, err error) {
	count := l.Count
	if count == 0 && !l.bounded() {
		count = 1
	}
	gaps := []float64{usualGap}
	switch {
	case count == 1:
	case l.Feed == practice.FeedLow: // a sprue between them
		gaps = append(gaps, 2*l.Clear+l.choices.SprueBore+0.5)
	default: // openings that are wider than the parts
		gaps = append(gaps, l.Clear+max(l.choices.SprueBore, l.choices.WellWidth)/2+0.5)
	}
	laid, errs := make([][][]gang.Pose, len(gaps)), make([]error, len(gaps))
	if err := parallel.Each(l.ctx, len(gaps), len(gaps), func(i int) error {
		laid[i], errs[i] = l.layouts(count, gaps[i])
		return nil
	}, nil); err != nil {
		return best, way, err
	}
	least, most := math.Inf(1), 0
	for i, layouts := range laid {
		if errs[i] != nil {
			err = errs[i]
		}
		for _, poses := range layouts {
			if err := l.ctx.Err(); err != nil {
				return best, way, err
			}
			into, fed, failed := l.fed(poses)
			if failed != nil {
				err = failed
				continue
			}
			takes := l.takes(into, fed)
			if n := len(into.stand.Places); n > most || n == most && takes < least {
				best, way, least, most = into, fed, takes, n
			}
		}
	}
	if most == 0 {
		return best, way, err
	}
	l.short = most < count
	return best, way, nil
}

// layouts are ways to lay cavities: into the room there is, or else into the
// smallest box and into one that is not much longer than wide.
func (l *laying) layouts(count int, gap float64) (out [][]gang.Pose, err error) {
	ask := gang.Ask{Count: count, Pot: l.Pot, Wide: l.Wide, Deep: l.Deep, Gap: max(gap, usualGap), Edge: l.House.Clearance.Beside}
	best, err := gang.Lay(l.shape, ask)
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
		if short, err := gang.Lay(l.shape, ask); err == nil {
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

// takes is what a block costs: its rubber, and the resin of its channels.
func (l *laying) takes(m Mould, fed Fed) float64 {
	size := r3.Sub(m.High, m.Low)
	sum := channel.Rubber * size.X * size.Y * size.Z
	for _, b := range fed.Bodies {
		sum += b.Full()
	}
	return sum * Unwieldy(size.X, size.Y) / (size.X * size.Y)
}

// Unwieldy is how much of a bench a block takes, the more the longer it is one
// way than the other, mm².
func Unwieldy(wide, deep float64) float64 {
	return wide * deep * (1 + bends*max(0, max(wide, deep)/min(wide, deep)-longest))
}

// bounded is whether the block may not grow.
func (l *laying) bounded() bool { return l.Pot > 0 || l.Wide > 0 }

// fed lays the way in for cavities in their poses. In a block that cannot grow
// a cavity makes room for the sprue where nothing else does.
func (l *laying) fed(poses []gang.Pose) (Mould, Fed, error) {
	for {
		m, f, err := l.feedInto(poses)
		if err == nil || !l.bounded() || len(poses) < 2 {
			return m, f, err
		}
		var last error
		for _, out := range nearestFirst(poses) {
			rest := append(append([]gang.Pose(nil), poses[:out]...), poses[out+1:]...)
			if m, f, last = l.feedInto(rest); last == nil {
				return m, f, nil
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
func (l *laying) feedInto(poses []gang.Pose) (Mould, Fed, error) {
	low, top := l.heights()
	m := l.mould
	stand, err := channel.NewStand(m.Master, l.Up)
	if err != nil {
		return m, Fed{}, err
	}
	if err := stand.Lay(poses, low); err != nil {
		return m, Fed{}, err
	}
	m.stand = stand
	beside := l.House.Clearance.Beside
	from, to := stand.Plan()
	m.Low, m.High = r3.Vec{X: from[0] - beside, Y: from[1] - beside}, r3.Vec{X: to[0] + beside, Y: to[1] + beside, Z: top}
	switch {
	case l.Pot > 0:
		m.Round = l.Pot
		m.Low, m.High = r3.Vec{X: -l.Pot / 2, Y: -l.Pot / 2}, r3.Vec{X: l.Pot / 2, Y: l.Pot / 2, Z: top}
	case l.Wide > 0:
		m.Low, m.High = r3.Vec{X: -l.Wide / 2, Y: -l.Deep / 2}, r3.Vec{X: l.Wide / 2, Y: l.Deep / 2, Z: top}
	}
	m.Grows = !l.bounded()
	fed, err := m.Lead(l.ctx, l.choices)
	if err == nil && len(fed.Trouble) > 0 {
		err = fed.Trouble[0].Err
	}
	if err == nil && m.Grows {
		m.Low, m.High = l.outline(m, fed)
	}
	return m, fed, err
}

// outline is the box that parts and channels need.
func (l *laying) outline(m Mould, fed Fed) (low, high r3.Vec) {
	from, to := m.stand.Plan()
	beside := l.House.Clearance.Beside
	low, high = r3.Vec{
		X: from[0] - beside,
		Y: from[1] - beside,
		Z: m.Low.Z,
	}, r3.Vec{
		X: to[0] + beside,
		Y: to[1] + beside,
		Z: m.High.Z,
	}
	for _, b := range fed.Bodies {
		from, to := b.Bounds()
		low = r3.Vec{X: min(low.X, from.X-m.Wall), Y: min(low.Y, from.Y-m.Wall), Z: min(low.Z, from.Z-m.Wall)}
		high = r3.Vec{X: max(high.X, to.X+m.Wall), Y: max(high.Y, to.Y+m.Wall), Z: high.Z}
	}
	return low, high
}

// finish adds the vents and looks at what the block does.
func (l *laying) finish(m Mould, fed Fed) (Laid, error) {
	r, _, err := m.room()
	if err != nil {
		return Laid{}, err
	}
	laid, err := m.into(l.ctx, r, l.choices, fed)
	if err != nil {
		return Laid{}, err
	}
	out := Laid{Stand: r.Stand, System: laid.System, Short: l.short, clear: l.Clear,
		Cavity: m.Cavity.Value * 1000 * float64(len(r.Places))}
	for i, c := range laid.Cavities {
		out.Lost += len(c.Lost)
		out.Left += c.Trapped.Volume
		for _, p := range c.Trapped.Pockets {
			height := r.Box(i, p.Apex).Z - p.ApexHeight
			p.Apex, p.SealHeight, p.ApexHeight = r.Box(i, p.Apex), p.SealHeight+height, p.ApexHeight+height
			out.Air = append(out.Air, Air{i, p})
		}
	}
	low, high := l.outline(m, Fed{Bodies: r.Bodies})
	out.Size = r3.Sub(high, low)
	if l.Pot > 0 {
		out.Round = true
		reach := r.Reach() + l.House.Clearance.Beside
		for _, b := range r.Bodies {
			from, to := b.Bounds()
			reach = max(reach, math.Hypot(max(-from.X, to.X), max(-from.Y, to.Y))+m.Wall)
		}
		across := min(l.Pot, 2*reach)
		low, out.Size = r3.Vec{X: -across / 2, Y: -across / 2, Z: low.Z}, r3.Vec{X: across, Y: across, Z: high.Z - low.Z}
	}
	r.Move(r3.Scale(-1, low))
	for _, b := range r.Bodies {
		path := make([]r3.Vec, len(b.Path))
		for i, p := range b.Path {
			path[i] = r3.Sub(p, low)
		}
		b.Path = path
		out.Bodies = append(out.Bodies, b)
	}
	for i := range out.Air {
		out.Air[i].Apex = r3.Sub(out.Air[i].Apex, low)
		out.Air[i].SealHeight -= low.Z
		out.Air[i].ApexHeight -= low.Z
	}
	out.Volumes = channel.Volumes(out.Bodies)
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
