package device_test

import (
	"testing"

	"bathyform/internal/device"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What stand-ins and ordinary instruments say, in the unit of their kind (factors
// of NIST SP 811, from memory).
func TestLinesAreRead(t *testing.T) {
	for _, c := range []struct {
		kind device.Kind
		line string
		want device.Measure
	}{
		{device.Scale, "scale 104.6 g steady", device.Measure{Value: 104.6, Steady: true}},
		{device.Scale, "scale -0.1 g", device.Measure{Value: -0.1}},
		{device.Scale, "  +  12,34 g ", device.Measure{Value: 12.34}},
		{device.Scale, "1.5 kg", device.Measure{Value: 1500}},
		{device.Scale, "scale 3.690 oz steady", device.Measure{Value: 3.69 * 28.349523125, Steady: true}},
		{device.Scale, "scale overload", device.Measure{Over: true}},
		{device.Scale, "42", device.Measure{Value: 42}},
		{device.Pot, "pot 340.0 kPa", device.Measure{Value: 340}},
		{device.Pot, "50 psi", device.Measure{Value: 344.73785}},
		{device.Vacuum, "vacuum 98.2 kPa 120 mm", device.Measure{Value: 98.2, Second: 120}},
		{device.Vacuum, "29 inHg", device.Measure{Value: 98.205281}},
		{device.Air, "air 22.4 °C 45 %", device.Measure{Value: 22.4, Second: 45}},
		{device.Air, "72 °F", device.Measure{Value: 200.0 / 9}},
	} {
		got, err := device.Usual.Read(c.kind, c.line)
		require.NoError(t, err, c.line)
		assert.InDelta(t, c.want.Value, got.Value, 1e-6, c.line)
		assert.InDelta(t, c.want.Second, got.Second, 1e-9, c.line)
		assert.Equal(t, c.want.Steady, got.Steady, c.line)
		assert.Equal(t, c.want.Over, got.Over, c.line)
	}
	for _, rubbish := range []string{"", "hello", "\x15#\x02?~~", "g", "--"} {
		_, err := device.Usual.Read(device.Scale, rubbish)
		require.ErrorIs(t, err, device.ErrRubbish, "%q", rubbish)
	}
	_, err := device.Usual.Read(device.Scale, "12 parsec")
	require.ErrorIs(t, err, device.ErrUnit)
	_, err = device.Usual.Read(device.Pot, "12 g")
	require.ErrorIs(t, err, device.ErrUnit)
}

// A shop sets its own pattern and unit; one without a number is refused in words.
func TestAPatternIsTheShops(t *testing.T) {
	p, err := device.NewPattern(`^W(?P<steady>S|U)(?P<value>[-\d.]+)$`, "oz")
	require.NoError(t, err)
	got, err := p.Read(device.Scale, "WS2.0")
	require.NoError(t, err)
	assert.InDelta(t, 56.69904625, got.Value, 1e-9)
	for _, wrong := range []string{`(\d+)`, `(?P<value>`, string(make([]byte, 500))} {
		_, err := device.NewPattern(wrong, "")
		assert.Error(t, err, "%.20q", wrong)
	}
	usual, err := device.NewPattern("", "")
	require.NoError(t, err)
	assert.Equal(t, device.Usual.Line, usual.Line)
}

func FuzzLines(f *testing.F) {
	for _, line := range []string{"scale 104.6 g steady", "overload", "-  3,5 kg", "1e9 g", "\xff\xfe 12 g"} {
		f.Add(line)
	}
	f.Fuzz(func(t *testing.T, line string) {
		for _, k := range device.Kinds {
			if m, err := device.Usual.Read(k, line); err == nil && !m.Over {
				assert.False(t, m.Value != m.Value, "%q is no number", line)
			}
		}
	})
}
