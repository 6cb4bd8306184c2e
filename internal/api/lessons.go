package api

import (
	"fmt"
	"maps"
	"math"
	"slices"

	"bathyform/core/derive"
	"bathyform/core/learnt"
	"bathyform/core/mix"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/internal/store"
)

func (t school) residue() LearntLesson {
	p := learnt.Pool(t.groups(store.Residue, asItIs))
	out := t.lesson(
		"residue",
		"What stays in a cup of resin",
		"g",
		"What the empty cup weighs over its tare. "+pooling,
		quantity.Mass,
		p,
	)
	mL := learnt.Pool(t.groups(store.Residue, func(m store.Measured) (float64, bool) {
		d, ok := t.density(m.Material)
		return m.Value / d, ok
	}))
	out.House = instead("cupKeeps", t.house.CupKeeps, practice.Usual().CupKeeps, mL.Mean, mL.N,
		fmt.Sprintf("mL stay in the cup, beside the %.3g %% on top of every shot", t.house.ShotOver))
	return out
}

func (t school) density(material string) (float64, bool) {
	m, ok := t.material(material)
	return m.Density, ok
}

func (t school) material(name string) (store.Material, bool) {
	at := slices.IndexFunc(t.shelf, func(m store.Material) bool { return m.Name == name })
	if at < 0 {
		return store.Material{}, false
	}
	return t.shelf[at], true
}

func (t school) bucket() LearntLesson {
	p := learnt.Pool(t.groups(store.Bucket, func(m store.Measured) (float64, bool) {
		return 100 * m.Value / given(m.Grams), given(m.Grams) > 0
	}))
	out := t.lesson(
		"bucket",
		"What stays in a bucket of rubber",
		"% of the batch",
		"What the empty bucket weighs over its tare, as a share "+
			"of the batch. "+pooling,
		quantity.Number,
		p,
	)
	out.House = instead(
		"rubberOver",
		t.house.RubberOver,
		practice.Usual().RubberOver,
		p.Mean,
		p.N,
		"% more rubber than the box takes",
	)
	return out
}

func (t school) pour() LearntLesson {
	p := learnt.Pool(t.groups(store.Poured, func(m store.Measured) (float64, bool) {
		minutes := m.Value - t.house.PourPerKilo*given(m.Grams)/1000
		return max(0, minutes), given(m.Grams) > 0
	}))
	out := t.lesson(
		"pour",
		"Minutes to pour a mould of rubber",
		"min",
		fmt.Sprintf("Beside %.3g min for each kilogram, which the house has. %s",
			t.house.PourPerKilo, pooling),
		quantity.Number,
		p,
	)
	out.House = instead(
		"pourMinutes",
		t.house.PourMinutes,
		practice.Usual().PourMinutes,
		p.Mean,
		p.N,
		"min a pour, beside those by the kilogram",
	)
	return out
}

func (t school) demould(pulls []store.Demoulded) LearntLesson {
	all := t
	all.measured = slices.Clone(t.measured)
	for _, d := range pulls {
		all.measured = append(all.measured, store.Measured{What: store.Demould, Material: d.Material, Value: d.Minutes})
	}
	p := learnt.Pool(all.groups(store.Demould, asItIs))
	out := t.lesson(
		"demould",
		"Minutes until castings came out well",
		"min",
		"From the fill to a good casting in the hand, by the pulls that say it: it may have gone sooner. "+pooling,
		quantity.Number,
		p,
	)
	for i, row := range out.Rows {
		if m, ok := t.material(row.Of); ok && row.Count >= leastOffered {
			out.Rows[i].Offers = &[]LearntOffer{
				ofSheet(m, "demould", m.Traits.Demould, p.Groups[i].Pooled, "min until it is demoulded"),
			}
		}
	}
	return out
}

// ofSheet offers what was learnt in place of a figure of a material's sheet.
func ofSheet(m store.Material, field LearntOfferField, has, value float64, label string) LearntOffer {
	return LearntOffer{
		Of:         "material",
		MaterialId: &m.ID,
		Field:      field,
		Has:        has,
		Value:      digits(value, 2),
		Usual:      has == 0,
		Label:      label,
	}
}

func (t school) gel() LearntLesson {
	out := LearntLesson{Key: "gel", Title: "Pot life against the warmth", Unit: "min", Rows: []LearntRow{},
		Why: "From first contact until a cup could not be poured any more. The logarithm of the minutes goes straight " +
			"with the temperature " +
			"(least squares); from fewer than four cups, or within 4 °C, twice as fast for every 10 °C (common practice)."}
	cups := map[string][]learnt.Gelled{}
	for _, m := range t.measured {
		if m.What == store.Gel && m.Value > 0 {
			sheet, _ := t.material(m.Material)
			at := mix.Traits(sheet.Traits).Reference()
			if m.Celsius != nil {
				at = *m.Celsius
			}
			cups[m.Material] = append(cups[m.Material], learnt.Gelled{Celsius: at, Minutes: m.Value})
		}
	}
	for _, name := range slices.Sorted(maps.Keys(cups)) {
		sheet, known := t.material(name)
		w, ok := learnt.OfWarmth(cups[name], mix.Traits(sheet.Traits).Reference(), mix.Traits(sheet.Traits).Faster())
		if !ok {
			continue
		}
		out.Count += w.N
		pooled := derive.Of(quantity.Number, digits(w.Minutes, 3), "the cups' minutes, taken to the temperature of the sheet",
			derive.From("cups", quantity.Number, float64(w.N), "the bench"),
			derive.From("temperature of the sheet (°C)", quantity.Number, w.Celsius, "the sheet"),
			derive.From("times as fast 10 °C warmer", quantity.Number, digits(w.Q10, 3), map[bool]string{true: "the cups",
				false: "common practice, no source"}[w.Fitted]))
		row := LearntRow{
			Of:     name,
			Count:  w.N,
			Pooled: t.some(&pooled),
			Says: optional(fmt.Sprintf("at %.3g °C; %.2g times as fast 10 °C warmer%s",
				w.Celsius, w.Q10, map[bool]string{true: "", false: ", as is usual"}[w.Fitted])),
		}
		if !math.IsNaN(w.Spread) {
			spread := derive.Of(quantity.Number, digits(w.Spread, 3), "e to the scatter of the cups' logarithms about the line: "+
				"two of three last within so many times longer or shorter",
				derive.From("cups", quantity.Number, float64(w.N), "the bench"), pooled.As("minutes at the sheet's temperature"))
			row.Spread = t.some(&spread)
		}
		if known && w.N >= leastOffered {
			offers := []LearntOffer{
				ofSheet(sheet, "potLife", sheet.Traits.PotLife, w.Minutes, fmt.Sprintf("min of pot life at %.3g °C", w.Celsius)),
			}
			if w.Fitted {
				has := mix.Traits(sheet.Traits)
				faster := ofSheet(sheet, "q10", has.Faster(), w.Q10, "times as fast 10 °C warmer")
				faster.Usual = has.Q10 == 0
				offers = append(offers, faster)
			}
			row.Offers = &offers
		}
		out.Rows = append(out.Rows, row)
	}
	return out
}
