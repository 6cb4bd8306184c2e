package order

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestNextThingToDo(t *testing.T) {
	f := Facts{Ordered: 240}
	step := func(want string, change func()) {
		t.Helper()
		change()
		_, next := Progress(f)
		assert.Equal(t, want, next.What)
	}
	step("Add the master", func() {})
	step("Confirm the unit of the mesh", func() { f.HasMaster = true })
	step("Settle the mould", func() { f.UnitConfirmed = true })
	step("Choose a rubber", func() { f.DesignKept, f.Vented = true, true })
	step("Choose a resin", func() { f.HasRubber = true })
	step("Pour the mould", func() { f.HasResin = true })
	step("Pull: 240 to go", func() { f.MouldsInUse = 1 })
	step("Pull: 152 to go", func() { f.Good, f.Scrap = 88, 9 })
	stages, _ := Progress(f)
	assert.Len(t, stages, 7)
	assert.Equal(t, "88 good", stages[6].Note)
	step("All castings are made", func() { f.Good = 240 })
}
