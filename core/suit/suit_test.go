package suit

import (
	"testing"

	"bathyform/core/inhibit"
	"bathyform/core/mix"

	"github.com/stretchr/testify/assert"
)

var resins = []mix.Material{
	{Name: "fast", Traits: mix.Traits{MinSection: 2, MaxSection: 15}},
	{Name: "clear", Traits: mix.Traits{MinSection: 1, MaxSection: 60, Clear: true, Outdoor: true, Heat: 90}},
	{Name: "soft", Traits: mix.Traits{MinSection: 1, MaxSection: 30, Flexible: true}},
}

var rubbers = []mix.Material{
	{Name: "tin", Traits: mix.Traits{Family: "tin", Shrink: 0.4}},
	{Name: "platinum", Traits: mix.Traits{Family: "platinum", Shrink: 0.1}},
}

func never(string) (bool, bool) { return false, false }

func TestResinsForWhatIsWanted(t *testing.T) {
	for _, c := range []struct {
		name  string
		wants []Want
		part  Part
		fits  []string
	}{
		{"anything", nil, Part{}, []string{"fast", "clear", "soft"}},
		{"a window", []Want{Clear}, Part{Thickest: 40}, []string{"clear"}},
		{"a bumper", []Want{Flexible}, Part{Thickest: 20}, []string{"soft"}},
		{"a badge", []Want{Rigid}, Part{Thinnest: 3, Thickest: 8}, []string{"fast", "clear"}},
		{"a thin fin", []Want{Rigid}, Part{Thinnest: 1.2, Thickest: 8}, []string{"clear"}},
		{"by the stove", []Want{Heat}, Part{}, []string{"clear"}},
		{"a clear bumper", []Want{Clear, Flexible}, Part{}, nil},
	} {
		var fits []string
		for _, m := range Resins(resins, c.wants, c.part) {
			if m.Fits {
				fits = append(fits, m.Name)
			} else {
				assert.NotEmpty(t, m.Against, "%s: %s must say why not", c.name, m.Name)
			}
		}
		assert.ElementsMatch(t, c.fits, fits, c.name)
	}
	for _, m := range Resins(resins, []Want{Skin}, Part{}) {
		assert.Contains(t, m.Against[0], "certifies", "a caution, not a promise")
	}
}

func TestRubbersForTheSurfaceOfTheMaster(t *testing.T) {
	on := Rubbers(rubbers, nil, inhibit.PrintResin, never)
	assert.Equal(t, "tin", on[0].Name)
	assert.False(t, on[1].Fits)
	assert.NotEmpty(t, on[1].Test)

	cured := Rubbers(rubbers, nil, inhibit.PrintResin, func(r string) (bool, bool) { return r == "platinum", true })
	assert.Equal(t, "platinum", cured[0].Name, "a test that cured goes before the table")
	assert.True(t, cured[0].Fits)

	glossy := Rubbers(rubbers, []Want{Clear}, inhibit.Metal, never)
	assert.Equal(t, "platinum", glossy[0].Name)
}

func TestStrengthAndColour(t *testing.T) {
	shelf := []mix.Material{
		{Name: "white", Traits: mix.Traits{Strength: 30, Colour: "white"}},
		{Name: "amber", Traits: mix.Traits{Strength: 55, Colour: "amber"}},
		{Name: "unsaid", Traits: mix.Traits{Strength: 60}},
		{Name: "glass", Traits: mix.Traits{Strength: 50, Clear: true, Colour: "clear"}},
	}
	fits := func(wants ...Want) (out []string) {
		for _, m := range Resins(shelf, wants, Part{}) {
			if m.Fits {
				out = append(out, m.Name)
			}
		}
		return out
	}
	assert.ElementsMatch(t, []string{"amber", "unsaid", "glass"}, fits(Strong), "40 MPa and more")
	assert.ElementsMatch(t, []string{"white", "unsaid", "glass"}, fits(Tinted), "pigment cannot lighten amber")
	assert.ElementsMatch(t, []string{"unsaid", "glass"}, fits(Strong, Tinted))
	for _, m := range Resins(shelf, []Want{Tinted}, Part{}) {
		switch m.Name {
		case "unsaid":
			assert.Contains(t, m.Test, "cast a chip")
		case "amber":
			assert.Contains(t, m.Against[0], "pigment cannot lighten it")
		}
	}
	assert.ErrorContains(t, mix.Traits{Colour: "mauve"}.Check(), "colour must be")
	assert.Error(t, mix.Traits{Strength: -1}.Check())
	assert.NoError(t, mix.Traits{Colour: "white", Strength: 60}.Check())
}

// A dark colour starts from a clear base; a flexible casting is chosen by its
// own hardness.
func TestDarkColoursAndSoftCastings(t *testing.T) {
	shelf := []mix.Material{
		{Name: "white", Traits: mix.Traits{Colour: "white"}},
		{Name: "amber", Traits: mix.Traits{Colour: "amber"}},
		{Name: "glass", Traits: mix.Traits{Clear: true}},
		{Name: "coal", Traits: mix.Traits{Colour: "black"}},
		{Name: "grip 60", Traits: mix.Traits{Flexible: true, Shore: 60, Colour: "clear"}},
		{Name: "grip 35", Traits: mix.Traits{Flexible: true, Shore: 35, Colour: "white"}},
		{Name: "grip", Traits: mix.Traits{Flexible: true}},
	}
	fits := func(p Part, wants ...Want) (out []string) {
		for _, m := range Resins(shelf, wants, p) {
			if m.Fits {
				out = append(out, m.Name)
			}
		}
		return out
	}
	assert.ElementsMatch(t, []string{"amber", "glass", "coal"}, fits(Part{}, Dark, Rigid))
	assert.ElementsMatch(t, []string{"grip 60", "grip"}, fits(Part{}, Dark, Flexible), "one that does not say its colour is tried first")
	assert.ElementsMatch(t, []string{"grip 60", "grip 35", "grip"}, fits(Part{}, Flexible))
	assert.ElementsMatch(t, []string{"grip 60", "grip"}, fits(Part{Shore: 58}, Flexible), "one that does not say is tried first")
	assert.ElementsMatch(t, []string{"grip 35", "grip"}, fits(Part{Shore: 40}, Flexible))
	assert.ElementsMatch(t, []string{"white", "amber", "glass", "coal"}, fits(Part{Shore: 40}, Rigid), "a rigid casting has none")
}

// Every limit of a resin's sheet, from both sides.
func TestTheLimitsOfAResin(t *testing.T) {
	fits := func(traits mix.Traits, p Part, wants ...Want) bool {
		m := Resins([]mix.Material{{Name: "r", Traits: traits}}, wants, p)[0]
		if !m.Fits {
			assert.NotEmpty(t, m.Against)
		}
		return m.Fits
	}
	assert.True(t, fits(mix.Traits{MinSection: 2}, Part{Thinnest: 2}))
	assert.False(t, fits(mix.Traits{MinSection: 2}, Part{Thinnest: 1.99}))
	assert.True(t, fits(mix.Traits{MinSection: 2}, Part{}), "a part that nobody measured rules nothing out")
	assert.True(t, fits(mix.Traits{MaxSection: 20}, Part{Thickest: 20}))
	assert.False(t, fits(mix.Traits{MaxSection: 20}, Part{Thickest: 20.1}))
	assert.True(t, fits(mix.Traits{}, Part{Thickest: 80}), "a sheet that says nothing of thick sections")
	assert.True(t, fits(mix.Traits{Heat: hot}, Part{}, Heat))
	assert.False(t, fits(mix.Traits{Heat: hot - 1}, Part{}, Heat))
	assert.True(t, fits(mix.Traits{Strength: strong}, Part{}, Strong))
	assert.False(t, fits(mix.Traits{Strength: strong - 1}, Part{}, Strong))
	assert.False(t, fits(mix.Traits{}, Part{}, Outdoor))
	assert.True(t, fits(mix.Traits{Outdoor: true}, Part{}, Outdoor))
	assert.False(t, fits(mix.Traits{Flexible: true}, Part{}, Rigid))
	assert.False(t, fits(mix.Traits{Clear: true}, Part{}, Clear, Flexible), "one wish that fails is enough")
}

// Those that fit come first, and none is lost or named twice.
func TestAShelfIsPutInOrder(t *testing.T) {
	got := Resins(resins, []Want{Flexible}, Part{})
	assert.Len(t, got, len(resins))
	assert.Equal(t, "soft", got[0].Name)
	seen := map[int]bool{}
	for i, m := range got {
		assert.Equal(t, resins[m.Index].Name, m.Name, "the place on the shelf goes along")
		assert.False(t, seen[m.Index])
		seen[m.Index] = true
		if i > 0 {
			assert.False(t, m.Fits && !got[i-1].Fits)
		}
	}
	failed := Rubbers(rubbers, nil, inhibit.Metal, func(r string) (bool, bool) { return r == "tin", false })
	for _, m := range failed {
		assert.Equal(t, m.Name != "tin", m.Fits, "a test that did not cure rules it out, whatever the table says")
	}
}
