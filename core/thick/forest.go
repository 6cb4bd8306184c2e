package thick

// forest joins things by number: those of one tree have one root.
type forest []int32

func newForest(n int) forest {
	f := make(forest, n)
	for i := range f {
		f[i] = int32(i) //nolint:gosec // vertices are counted in 32 bits
	}
	return f
}

func (f forest) root(i int32) int32 {
	for f[i] != i {
		f[i] = f[f[i]]
		i = f[i]
	}
	return i
}

func (f forest) join(i, j int32) { f[f.root(i)] = f.root(j) }
