package mix

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestARecipeIsReadAsTheLogHasIt(t *testing.T) {
	for text, want := range map[string]Recipe{
		"grey 1 g in 80 g": {Batch: 80, Pigments: []Pigment{{Name: "grey", Grams: 1}}},
		"Ocean blue 1.25 g, black 3 drops in 120.5 g": {Batch: 120.5,
			Pigments: []Pigment{{Name: "Ocean blue", Grams: 1.25}, {Name: "black", Drops: 3}}},
		"weiß 0,5g + ocker 1 drop in 90g": {Batch: 90, Pigments: []Pigment{{Name: "weiß", Grams: 0.5}, {Name: "ocker", Drops: 1}}},
	} {
		got, ok := ParseRecipe(text)
		assert.True(t, ok, text)
		assert.Equal(t, want, got, text)
	}
	for _, text := range []string{"", "grey", "a pinch of grey", "grey 1 g", "1 g in 80 g", "grey 0 g in 80 g", "grey 90 g in 80 g",
		"grey 1 g, a little black in 80 g", "grey -1 g in 80 g in 80 g of"} {
		_, ok := ParseRecipe(text)
		assert.False(t, ok, text)
	}
}

func FuzzParseRecipe(f *testing.F) {
	f.Add("Ocean blue 1.25 g, black 3 drops in 120.5 g")
	f.Fuzz(func(t *testing.T, text string) {
		if r, ok := ParseRecipe(text); ok {
			assert.NoError(t, r.Check())
			assert.NotEmpty(t, r.Pigments)
		}
	})
}

func TestRecipesOfAResin(t *testing.T) {
	grey := Recipe{Batch: 80, Pigments: []Pigment{{Name: "grey", Grams: 1}}}
	ok := Traits{Recipes: []NamedRecipe{{"hull grey", grey}, {"light grey", grey}}}
	assert.NoError(t, ok.Check())
	for says, bad := range map[string][]NamedRecipe{
		"has a name": {{" ", grey}}, "are called": {{"a", grey}, {"a", grey}}, "no pigment": {{"a", Recipe{Batch: 80}}},
		"at most": make([]NamedRecipe, mostRecipes+1), "a batch of more": {{"a", Recipe{Pigments: grey.Pigments}}},
	} {
		assert.ErrorContains(t, Traits{Recipes: bad}.Check(), says)
	}
}
