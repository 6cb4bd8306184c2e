package mix

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

// NamedRecipe is a colour recipe that a shop goes back to, on the sheet of the resin that
// it was matched in.
type NamedRecipe struct {
	Name   string `json:"name"`
	Recipe Recipe `json:"recipe"`
}

// mostRecipes bounds those of a resin.
const mostRecipes = 40

// checkRecipes refuses those that nobody could go back to.
func checkRecipes(all []NamedRecipe) error {
	if len(all) > mostRecipes {
		return fmt.Errorf("a resin has %d colour recipes at most", mostRecipes)
	}
	named := make(map[string]bool, len(all))
	for _, r := range all {
		switch name := strings.TrimSpace(r.Name); {
		case name == "":
			return fmt.Errorf("every colour recipe has a name")
		case named[name]:
			return fmt.Errorf("two colour recipes are called %q", name)
		case len(r.Recipe.Pigments) == 0:
			return fmt.Errorf("the colour recipe %q has no pigment", name)
		default:
			named[name] = true
		}
		if err := r.Recipe.Check(); err != nil {
			return err
		}
	}
	return nil
}

var (
	wholeRecipe = regexp.MustCompile(`(?i)^(.+?)\s+in\s+([0-9]+(?:[.,][0-9]+)?)\s*g$`)
	onePigment  = regexp.MustCompile(`(?i)^(.*\S)\s+([0-9]+(?:[.,][0-9]+)?)\s*(g|drops?)$`)
	amongThem   = regexp.MustCompile(`,\s+|;\s*|\s+\+\s+`)
)

// ParseRecipe reads a recipe as the log has it: "grey 1.2 g, black 3 drops in 80 g". It
// is false for what is put in other words.
func ParseRecipe(text string) (Recipe, bool) {
	m := wholeRecipe.FindStringSubmatch(strings.TrimSpace(text))
	if m == nil {
		return Recipe{}, false
	}
	out := Recipe{Batch: decimal(m[2])}
	for _, part := range amongThem.Split(m[1], -1) {
		p := onePigment.FindStringSubmatch(strings.TrimSpace(part))
		if p == nil {
			return Recipe{}, false
		}
		pigment := Pigment{Name: p[1]}
		if strings.EqualFold(p[3], "g") {
			pigment.Grams = decimal(p[2])
		} else {
			pigment.Drops = decimal(p[2])
		}
		out.Pigments = append(out.Pigments, pigment)
	}
	return out, out.Check() == nil
}

// decimal reads a number that has been found to be one, with a point or a comma.
func decimal(s string) float64 {
	v, _ := strconv.ParseFloat(strings.Replace(s, ",", ".", 1), 64)
	return v
}
