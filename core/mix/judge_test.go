package mix

import (
	"testing"

	"bathyform/core/finding"
	"bathyform/core/practice"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTheScaleIsJudgedByTheBatch(t *testing.T) {
	h := practice.Usual()
	h.ScaleStep, h.RatioTolerance = 1, 5
	even := Material{Name: "even", Ratio: Ratio{A: 1, B: 1}, Density: 1.05}
	// half a digit at tare and reading on each part: 1/20.5 + 1/20.5 of 41 g and no less
	f := CheckScale(finding.Shot, "the shot", even, 20, 20, h)
	require.NotNil(t, f)
	assert.Equal(t, finding.Watch, f.Severity)
	assert.Equal(t, "scale-coarse", f.Code)
	assert.InDelta(t, 40, f.Figure.Value, 1e-9)
	assert.Greater(t, f.Limit.Value, 40.0)
	assert.Nil(
		t,
		CheckScale(finding.Shot, "the shot", even, 0.501*f.Limit.Value, 0.501*f.Limit.Value, h),
		"the batch that it names is large enough",
	)

	ten := Material{Name: "ten", Ratio: Ratio{A: 10, B: 1}, Density: 1.1}
	f = CheckScale(finding.Rubber, "half A", ten, 9.1, 0.4, h)
	require.NotNil(t, f)
	assert.Equal(t, finding.Stop, f.Severity)
	assert.Equal(t, "scale-cannot-show", f.Code)
	assert.Contains(t, f.What, "half A")
	h.ScaleStep = 0.01
	assert.Nil(t, CheckScale(finding.Rubber, "half A", ten, 9.1, 0.91, h))
}
