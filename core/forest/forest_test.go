package forest_test

import (
	"testing"

	"bathyform/core/forest"

	"github.com/stretchr/testify/assert"
)

func TestWhatIsJoinedHasOneRoot(t *testing.T) {
	f := forest.New(6)
	f.Join(0, 1)
	f.Join(2, 3)
	assert.NotEqual(t, f.Root(0), f.Root(2))
	f.Join(1, 2)
	roots := f.Roots()
	assert.Equal(t, []int32{3, 3, 3, 3, 4, 5}, roots, "the root of the second stands for both")
}
