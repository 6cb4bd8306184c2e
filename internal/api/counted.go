package api

import (
	"cmp"
	"fmt"
	"slices"

	"bathyform/core/derive"
	"bathyform/core/enough"
	"bathyform/core/learnt"
	"bathyform/core/mix"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// How many castings of all jobs there are before the house is offered their yield.
const leastYield = 30

// leaning is how shares are leant on one another.
const leaning = "partial pooling of the arcsine of the root of each share, Efron & Morris 1975, with the variance between them after " +
	"DerSimonian & Laird 1986. The span is the exact one of 95 in 100 (Clopper & Pearson 1934)."

// counts writes down what a share has come to.
func (t school) counts(row LearntRow, c learnt.Counted, s learnt.Share, well, not string) LearntRow {
	good := derive.From(well, quantity.Number, float64(c.Good), "the log")
	bad := derive.From(not, quantity.Number, float64(c.Bad), "the log")
	of := func(v float64, n int, formula string, in ...derive.Input) *Number {
		d := derive.Of(quantity.Number, digits(100*v, n), formula, in...)
		return t.some(&d)
	}
	own := derive.From("own share", quantity.Number, digits(s.Own, 3), "variance between them / (that + own)")
	row.Count = s.N
	row.Mean = of(s.Mean, 3, "100 × "+well+" / all", good, bad)
	row.Low = of(s.Low, 2, "the share at which so many come out "+well+" once in forty times, per cent", good, bad)
	row.High = of(s.High, 2, "the share at which so few come out "+well+" once in forty times, per cent", good, bad)
	row.Pooled = of(s.Pooled, 3, "sine squared of (own share × own + the rest × that of all), × 100", good, bad, own)
	row.Error = of(s.Error, 1, "100 × its standard error on the arcsine × the sine of twice that", good, bad, own)
	return row
}

// yield leans each cavity's yield on the others of its job, and each job's on the others.
func (t school) yield(all []store.CavityYield) LearntLesson {
	out := LearntLesson{Key: "yield", Title: "Good castings by cavity", Unit: "%", Rows: []LearntRow{},
		Why: "Good of all castings that count. Each cavity leans on the others of its job, and each job on the others: " + leaning +
			" The worst stand first."}
	jobs := map[uuid.UUID][]store.CavityYield{}
	var order []uuid.UUID
	for _, y := range all {
		if jobs[y.JobID] == nil {
			order = append(order, y.JobID)
		}
		jobs[y.JobID] = append(jobs[y.JobID], y)
	}
	type cavity struct {
		store.CavityYield
		counted learnt.Counted
		share   learnt.Share
	}
	var cavities []cavity
	var whole []learnt.Counted
	for _, id := range order {
		var of []learnt.Counted
		job := learnt.Counted{}
		for _, y := range jobs[id] {
			of = append(of, learnt.Counted{Good: y.Good, Bad: y.Bad})
			job.Good, job.Bad = job.Good+y.Good, job.Bad+y.Bad
		}
		whole = append(whole, job)
		for i, s := range learnt.PoolShares(of).Groups {
			cavities = append(cavities, cavity{jobs[id][i], of[i], s})
		}
	}
	slices.SortFunc(cavities, func(a, b cavity) int {
		return cmp.Or(cmp.Compare(a.share.Pooled, b.share.Pooled), cmp.Compare(a.Mould, b.Mould), cmp.Compare(a.Cavity, b.Cavity))
	})
	for _, c := range cavities[:min(mostRows, len(cavities))] {
		row := LearntRow{Of: fmt.Sprintf("%s, %s, cavity %d", c.Job, c.Mould, c.Cavity), JobId: &c.JobID}
		out.Rows = append(out.Rows, t.counts(row, c.counted, c.share, "good", "bad"))
	}
	shop := learnt.PoolShares(whole)
	out.Count = shop.N
	if shop.N >= leastYield {
		out.House = instead(
			"goodOf100",
			t.house.GoodOf100,
			practice.Usual().GoodOf100,
			min(99, max(1, 100*shop.Mean)),
			shop.N,
			fmt.Sprintf(
				"castings of a hundred are good, ± %.2g, the mean of %d jobs; a job is taken to be so for %d castings, beside its own",
				100*shop.Error,
				len(whole),
				enough.UsualCastings,
			),
		)
	}
	return out
}

// colour leans the recipes on one another, and offers the sheet of their resin those that
// matched.
func (t school) colour(all []store.ColourUsed) LearntLesson {
	out := LearntLesson{Key: "colour", Title: "Colour recipes that matched", Unit: "%", Rows: []LearntRow{},
		Why: "As they were weighed or counted, with how often the colour matched where somebody said so. Each leans on the others: " +
			leaning + " The surest stand first. One that is written as “grey 1.2 g, black 3 drops in 80 g” is offered to the sheet of " +
			"the resin, from three pulls on of which most matched."}
	var counted []learnt.Counted
	for _, c := range all {
		counted = append(counted, learnt.Counted{Good: c.Matched, Bad: c.Missed})
	}
	pooled := learnt.PoolShares(counted)
	out.Count = pooled.N
	for i, c := range all[:min(mostRows, len(all))] {
		id := c.JobID
		row := t.counts(
			LearntRow{Of: c.Colour, JobId: &id, Says: optional(c.Job)},
			counted[i],
			pooled.Groups[i],
			"matched",
			"did not match",
		)
		if offer := t.recipe(c); offer != nil {
			row.Offers = &[]LearntOffer{*offer}
		}
		out.Rows = append(out.Rows, row)
	}
	return out
}

// recipe offers a recipe that matched to the sheet of its resin.
func (t school) recipe(c store.ColourUsed) *LearntOffer {
	resin, known := t.material(c.Resin)
	recipe, read := mix.ParseRecipe(c.Colour)
	if !known || !read || c.Matched+c.Missed < leastOffered || c.Matched <= c.Missed {
		return nil
	}
	out := &LearntOffer{Of: "material", MaterialId: &resin.ID, Field: "recipes", Value: 1, Label: resin.Name,
		Recipe: &mix.NamedRecipe{Name: c.Job, Recipe: recipe}}
	for _, r := range resin.Traits.Recipes {
		if r.Name != c.Job {
			continue
		}
		if slices.Equal(r.Recipe.Pigments, recipe.Pigments) && r.Recipe.Batch == recipe.Batch {
			out.Has = 1
		} else {
			out.Replaces = optional(true)
		}
	}
	return out
}
