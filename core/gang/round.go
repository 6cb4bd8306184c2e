package gang

import (
	"math"
	"slices"
)

// round fills the pot.
func (t *table) round() []Layout {
	room := t.ask.Pot/2 - t.ask.Edge - t.shape.Slack
	if room <= 0 {
		return nil
	}
	room = min(room, t.ample())
	if t.shape.Round {
		return t.discs(room)
	}
	outlined := t.outlined(roundRoom(room))
	out := []Layout{t.potted("one in the middle", []Pose{{}})}
	for _, p := range t.patterns() {
		if poses := t.potFill(p, room); len(poses) > 0 {
			out = append(out, t.potted(p.kind, t.nearest(poses)))
		}
	}
	out = append(out, t.rings(room, t.have(out))...)
	return append(out, outlined()...)
}

// ample is the radius of a circle that holds all that are wanted, laid in
// squares with room to spare: what a pot has beyond it need not be searched.
func (t *table) ample() float64 {
	return 3*t.shape.Radius + 1.2*math.Sqrt(float64(t.wanted()))*(t.shape.Radius+t.gap/2)
}

// have is the most cavities of the layouts that are known to be sound.
func (t *table) have(known []Layout) (most int) {
	for _, l := range known {
		if len(l.Poses) > most && t.sound(l.Poses) {
			most = len(l.Poses)
		}
	}
	return most
}

// discs fills the pot with discs.
func (t *table) discs(room float64) []Layout {
	out := []Layout{t.potted("one in the middle", []Pose{{}})}
	for _, p := range t.patterns() {
		if poses := t.potFill(p, room); len(poses) > 0 {
			out = append(out, t.potted(p.kind, t.nearest(poses)))
		}
	}
	out = append(out, t.rings(room, t.have(out))...)
	return append(out, t.pushed(room, out)...)
}

func roundRoom(radius float64) room { return room{2 * radius, 2 * radius, radius} }

// nearest keeps as many poses as are wanted, those nearest to the middle.
func (t *table) nearest(poses []Pose) []Pose {
	if len(poses) <= t.wanted() {
		return poses
	}
	slices.SortStableFunc(poses, func(a, b Pose) int {
		if math.Hypot(a.X, a.Y) < math.Hypot(b.X, b.Y) {
			return -1
		}
		return 1
	})
	return poses[:t.wanted()]
}

// potFill lays a pattern over a circle, trying where its middle falls best.
func (t *table) potFill(p pattern, room float64) []Pose {
	const tries = 6
	var best []Pose
	rows := int(math.Ceil(2*room/p.rise)) + 2
	per := int(math.Ceil(2*room/p.period)) + 2
	if rows*per*len(p.cells) > 40*Most {
		return nil
	}
	for a := range tries {
		for b := range tries {
			x0, y0 := p.period*float64(a)/tries, 2*p.rise*float64(b)/tries
			var poses []Pose
			for r := -rows; r <= rows; r++ {
				for k := -per; k <= per; k++ {
					for _, c := range p.cells {
						n := r
						if n < 0 {
							n += 2 * rows
						}
						pose := Pose{x0 + c.X + p.row(n) + float64(k)*p.period, y0 + c.Y + float64(r)*p.rise, c.Turn}
						if t.within(pose, room) {
							poses = append(poses, pose)
						}
					}
				}
			}
			if len(poses) > len(best) {
				best = poses
			}
		}
	}
	return best
}

func (t *table) within(p Pose, room float64) bool {
	d := math.Hypot(p.X, p.Y)
	if d+t.shape.Radius <= room+t.tol {
		return true
	}
	if d > room || t.shape.Round {
		return false
	}
	for _, q := range t.shape.Laid(p) {
		if math.Hypot(q[0], q[1]) > room+t.tol {
			return false
		}
	}
	return true
}

// ring lays n poses evenly on a circle, all looking out the same way.
func ring(n int, radius, turn, start float64) []Pose {
	out := make([]Pose, n)
	for i := range out {
		a := start + 2*math.Pi*float64(i)/float64(n)
		sin, cos := math.Sincos(a)
		out[i] = Pose{radius * cos, radius * sin, turn + a*180/math.Pi}
	}
	return out
}

// tightest is the least radius of a ring of n.
func (t *table) tightest(n int, turn float64) float64 {
	if n == 1 {
		return 0
	}
	free := func(radius float64) bool {
		poses := ring(n, radius, turn, 0)
		for k := 1; k <= n/2; k++ {
			if !t.clear(poses[0], poses[k], t.shape.Laid(poses[0]), t.shape.Laid(poses[k])) {
				return false
			}
		}
		return true
	}
	low, high := 0.0, (2*t.shape.Radius+t.gap)/(2*math.Sin(math.Pi/float64(n)))
	for range 40 {
		if mid := (low + high) / 2; free(mid) {
			high = mid
		} else {
			low = mid
		}
	}
	return high
}

// rings lays a ring at the wall and another inside it while there is room;
// less than have cavities are of no use.
func (t *table) rings(room float64, have int) []Layout {
	var out []Layout
	turns := []float64{0, 90, 180, 270, 45}
	if t.shape.Round {
		turns = turns[:1]
	}
	for _, turn := range turns {
		for n := max(2, have/2); n <= min(60, t.wanted()); n++ {
			least := t.tightest(n, turn)
			poses := ring(n, least, turn, 0)
			if !t.within(poses[0], room) {
				break
			}
			out = append(out, t.potted("ring", poses))
			// out to the wall, and another ring inside
			low, high := least, room
			for range 40 {
				if mid := (low + high) / 2; t.within(ring(1, mid, turn, 0)[0], room) {
					low = mid
				} else {
					high = mid
				}
			}
			for m := max(1, have-n); m <= n && n+m <= t.wanted(); m++ {
				inner := t.tightest(m, turn)
				fits := false
				for step := range 6 {
					both := func(outer float64) []Pose {
						return append(ring(n, outer, turn, 0), ring(m, inner, turn, math.Pi*float64(step)/float64(3*n*max(1, m)))...)
					}
					if !t.sound(both(low)) {
						continue
					}
					near, wide := least, low
					for range 20 {
						if mid := (near + wide) / 2; t.sound(both(mid)) {
							wide = mid
						} else {
							near = mid
						}
					}
					out = append(out, t.potted("ring", both(wide)))
					fits = true
					break
				}
				if !fits {
					break
				}
			}
		}
	}
	return out
}

// Search of pushed: steps are counted, not seconds, so that every machine
// finds the same.
const (
	starts = 24 // of up to twenty discs, fewer of more
	shakes = 300
)

// pushed packs discs: from many starts each is pushed off its neighbours and
// off the wall of a circle that is drawn tighter and tighter. It goes on
// from the best that is known to one cavity more, until it finds no way.
func (t *table) pushed(room float64, known []Layout) []Layout {
	most := t.have(known)
	r := t.shape.Radius + t.gap/2
	hold := room + t.gap/2 // for discs grown by half the gap
	var out []Layout
	from := max(2, most)
	if t.ask.Count > 0 {
		from = min(from, t.ask.Count)
	}
	for n := from; n <= min(t.wanted(), 80); n++ {
		at, radius := pack(n, r)
		if radius > hold+t.tol {
			if n > most {
				break
			}
			continue
		}
		poses := make([]Pose, n)
		for i, p := range at {
			poses[i] = Pose{p[0], p[1], 0}
		}
		out = append(out, t.potted("pushed together", poses))
	}
	return out
}

// pack puts n discs of radius r into a circle as small as it finds.
func pack(n int, r float64) (best [][2]float64, radius float64) {
	radius = math.Inf(1)
	loose := r * (1 + 1.25*math.Sqrt(float64(n)))
	for start := range max(3, min(starts, 20*starts/n-4)) {
		at := make([][2]float64, n)
		for i := range at {
			a, d := scattered(start, i)
			a, d = 2*math.Pi*a, loose*math.Sqrt(d)
			at[i] = [2]float64{d * math.Cos(a), d * math.Sin(a)}
		}
		wall := loose
		for _, tighter := range []float64{0.97, 0.99, 0.997, 0.999} {
			for {
				next := slices.Clone(at)
				if !settle(next, r, wall*tighter-r) {
					break
				}
				at, wall = next, wall*tighter
			}
		}
		if got := spread(at, r); got < radius {
			radius, best = got, at
		}
	}
	return best, radius
}

// scattered gives numbers from 0 to 1 that are spread evenly and differently
// for every start (a Kronecker sequence on the plastic number).
func scattered(start, i int) (a, b float64) {
	const p = 1.32471795724474602596
	k := float64(i + 1 + 53*start)
	_, a = math.Modf(0.5 + k/p)
	_, b = math.Modf(0.5 + k/(p*p))
	return a, b
}

// settle pushes until hardly anything overlaps any more.
func settle(at [][2]float64, r, room float64) bool {
	if room < 0 {
		return false
	}
	for range shakes {
		if push(at, r, room) < 2e-4*r {
			return true
		}
	}
	return false
}

// push moves discs off one another and inside a circle for their middles. It
// returns the greatest overlap that it met.
func push(at [][2]float64, r, room float64) (most float64) {
	for i := range at {
		for j := range i {
			dx, dy := at[i][0]-at[j][0], at[i][1]-at[j][1]
			d := math.Hypot(dx, dy)
			if d >= 2*r {
				continue
			}
			most = max(most, 2*r-d)
			if d < 1e-9*r {
				dx, dy, d = 1e-3*r, float64(i)*1e-4*r, 1e-3*r
			}
			half := (2*r - d) / (2 * d)
			at[i][0] += dx * half
			at[i][1] += dy * half
			at[j][0] -= dx * half
			at[j][1] -= dy * half
		}
	}
	for i := range at {
		if d := math.Hypot(at[i][0], at[i][1]); d > room && d > 0 {
			most = max(most, d-room)
			f := room / d
			at[i][0] *= f
			at[i][1] *= f
		}
	}
	return most
}

// spread scales middles until no two discs overlap and returns the radius of
// the circle that holds them.
func spread(at [][2]float64, r float64) float64 {
	near, far := math.Inf(1), 0.0
	for i := range at {
		for j := range i {
			near = min(near, math.Hypot(at[i][0]-at[j][0], at[i][1]-at[j][1]))
		}
	}
	f := 1.0
	if len(at) > 1 {
		f = 2 * r / max(near, 1e-12)
	}
	for i := range at {
		at[i][0] *= f
		at[i][1] *= f
		far = max(far, math.Hypot(at[i][0], at[i][1]))
	}
	return far + r
}
