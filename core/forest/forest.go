// Package forest joins things by number.
package forest

// Forest tells which things belong together: those of one tree have one root
// (Galler & Fischer 1964; paths are halved on the way up).
type Forest []int32

// New is so many things, each by itself.
func New(n int) Forest {
	f := make(Forest, n)
	for i := range f {
		f[i] = int32(i) //nolint:gosec // things are counted in 32 bits
	}
	return f
}

// Root stands for all that belong with a thing.
func (f Forest) Root(i int32) int32 {
	for f[i] != i {
		f[i] = f[f[i]]
		i = f[i]
	}
	return i
}

// Join makes two trees one; the root of the second stands for both.
func (f Forest) Join(i, j int32) { f[f.Root(i)] = f.Root(j) }

// Roots gives every thing the one that stands for it.
func (f Forest) Roots() []int32 {
	for i := range f {
		f[i] = f.Root(int32(i)) //nolint:gosec // things are counted in 32 bits
	}
	return f
}
