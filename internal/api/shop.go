package api

import (
	"context"
	"errors"
	"net/http"

	"bathyform/core/mix"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/demo/parts"
	"bathyform/internal/device"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// GetShop returns the shop and its house practice.
func (s *Server) GetShop(ctx context.Context, _ GetShopRequestObject) (GetShopResponseObject, error) {
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	return GetShop200JSONResponse(fromShop(shop)), nil
}

// PutPractice changes the house practice.
func (s *Server) PutPractice(ctx context.Context, r PutPracticeRequestObject) (PutPracticeResponseObject, error) {
	from, err := from(r.Params.IfMatch, r.Params.IdempotencyKey)
	if err != nil {
		return nil, err
	}
	h := toHouse(*r.Body)
	if err := h.Check(); err != nil {
		return nil, unusable("House practice was not changed", err)
	}
	for _, in := range h.Instruments {
		if _, err := device.NewPattern(in.Pattern, in.Unit); err != nil {
			return nil, unusable("The instrument was not changed", err)
		}
	}
	if err := s.store.WritePractice(ctx, h, from); err != nil {
		return nil, err
	}
	shop, err := s.store.ReadShop(ctx)
	return PutPractice200JSONResponse(fromShop(shop)), err
}

func fromShop(shop store.Shop) Shop {
	h := shop.Practice
	return Shop{Name: shop.Name, Version: shop.Version, Practice: Practice{
		Units: PracticeUnits(h.Units), Each: schools(h.Each), DecimalComma: h.DecimalComma,
		Clearance:  Clearance{Beside: h.Clearance.Beside, Below: h.Clearance.Below, Above: h.Clearance.Above},
		PanelThick: h.PanelThick, Freeboard: h.Freeboard, RubberOver: h.RubberOver,
		Feed: Feed(h.Feed), SprueBore: h.SprueBore, TopBore: h.TopBore, VentBore: h.VentBore,
		WellWidth: h.WellWidth, WellDepth: h.WellDepth, ShotOver: h.ShotOver,
		Webs: Webs{Part: h.Webs.Part, Apart: h.Webs.Apart, Wall: h.Webs.Wall}, Stream: h.Stream,
		Instruments: fromInstruments(h.Instruments), CupKeeps: h.CupKeeps,
		GoodOf100: h.GoodOf100, FinishPace: h.FinishPace, SyringeKeeps: h.SyringeKeeps,
		ScaleStep: h.ScaleStep, RatioTolerance: h.RatioTolerance,
		ScaleMost: h.ScaleMost, PotWide: h.PotWide, PotTall: h.PotTall, ChamberWide: h.ChamberWide, Detail: h.Detail, Pressure: h.Pressure,
		Bucket: h.Bucket, Straight: h.Straight, NoDegas: h.NoDegas, Schools: schools(h.Schools),
		Opens: h.Opens, Closes: h.Closes, Weekends: h.Weekends,
		Celsius:    h.Celsius,
		MixMinutes: h.MixMinutes, MixPerKilo: h.MixPerKilo, DegasMinutes: h.DegasMinutes, DegasPerKilo: h.DegasPerKilo,
		PourMinutes: h.PourMinutes, PourPerKilo: h.PourPerKilo,
	}}
}

func toHouse(p Practice) practice.House {
	return practice.House{
		Units: quantity.System(p.Units), Each: given(p.Each), DecimalComma: p.DecimalComma,
		Clearance:  practice.Clearance{Beside: p.Clearance.Beside, Below: p.Clearance.Below, Above: p.Clearance.Above},
		PanelThick: p.PanelThick, Freeboard: p.Freeboard, RubberOver: p.RubberOver,
		Feed: practice.Feed(p.Feed), SprueBore: p.SprueBore, TopBore: p.TopBore, VentBore: p.VentBore,
		WellWidth: p.WellWidth, WellDepth: p.WellDepth, ShotOver: p.ShotOver,
		Webs: practice.Webs{Part: p.Webs.Part, Apart: p.Webs.Apart, Wall: p.Webs.Wall}, Stream: p.Stream,
		Instruments: toInstruments(given(p.Instruments)), CupKeeps: p.CupKeeps,
		GoodOf100: p.GoodOf100, FinishPace: p.FinishPace, SyringeKeeps: p.SyringeKeeps,
		ScaleStep: p.ScaleStep, RatioTolerance: p.RatioTolerance,
		ScaleMost: p.ScaleMost, PotWide: p.PotWide, PotTall: p.PotTall, ChamberWide: p.ChamberWide, Detail: p.Detail, Pressure: p.Pressure,
		Bucket: p.Bucket, Straight: p.Straight, NoDegas: p.NoDegas, Schools: given(p.Schools),
		Opens: p.Opens, Closes: p.Closes, Weekends: p.Weekends,
		Celsius:    p.Celsius,
		MixMinutes: p.MixMinutes, MixPerKilo: p.MixPerKilo, DegasMinutes: p.DegasMinutes, DegasPerKilo: p.DegasPerKilo,
		PourMinutes: p.PourMinutes, PourPerKilo: p.PourPerKilo,
	}
}

// ListMaterials lists the shelf.
func (s *Server) ListMaterials(ctx context.Context, _ ListMaterialsRequestObject) (ListMaterialsResponseObject, error) {
	all, err := s.store.Materials(ctx)
	if err != nil {
		return nil, err
	}
	out := make(ListMaterials200JSONResponse, len(all))
	for i, m := range all {
		out[i] = fromMaterial(m)
	}
	return out, nil
}

// AddMaterial puts a material on the shelf.
func (s *Server) AddMaterial(ctx context.Context, r AddMaterialRequestObject) (AddMaterialResponseObject, error) {
	m, err := toMaterial(newID(r.Params.IdempotencyKey), 1, *r.Body)
	if err != nil {
		return nil, err
	}
	if err := s.store.AddMaterial(ctx, m); err != nil {
		return nil, nameTaken(err, m.Name)
	}
	return AddMaterial201JSONResponse(fromMaterial(m)), nil
}

// PutMaterial changes a material's sheet.
func (s *Server) PutMaterial(ctx context.Context, r PutMaterialRequestObject) (PutMaterialResponseObject, error) {
	from, err := from(r.Params.IfMatch, r.Params.IdempotencyKey)
	if err != nil {
		return nil, err
	}
	m, err := toMaterial(r.MaterialId, from.Version, *r.Body)
	if err != nil {
		return nil, err
	}
	if err := s.store.WriteMaterial(ctx, m, from); err != nil {
		return nil, nameTaken(err, m.Name)
	}
	m.Version++
	return PutMaterial200JSONResponse(fromMaterial(m)), nil
}

// AnswerWeighed tells how much of the other part goes with what was weighed.
func (s *Server) AnswerWeighed(ctx context.Context, r AnswerWeighedRequestObject) (AnswerWeighedResponseObject, error) {
	m, err := s.store.Material(ctx, r.MaterialId)
	if err != nil {
		return nil, err
	}
	b, err := mix.Weighed(m.Mix(), r.Body.Grams, r.Body.Part == WeighedPartB)
	if err != nil {
		return nil, unusable("Nothing goes with this", err)
	}
	l := newLedger()
	out := Counterpart{Batch: *l.batch(b)}
	if n := given(r.Body.Needed); n > 0 {
		over := b.Over(n)
		out.Over = l.some(&over)
	}
	out.Numbers = l.rows
	return AnswerWeighed200JSONResponse(out), nil
}

func nameTaken(err error, name string) error {
	if errors.Is(err, store.ErrTaken) {
		return problem(
			http.StatusConflict,
			"That name is on the shelf already",
			"There is a material called "+name+". Choose another name, or change that one.",
		)
	}
	return err
}

func fromMaterial(m store.Material) Material {
	return Material{Id: m.ID, Version: m.Version, Kind: MaterialKind(m.Kind), Name: m.Name, PartsA: m.PartsA, PartsB: m.PartsB,
		ByVolume: m.ByVolume, Density: m.Density, DensityA: m.DensityA, DensityB: m.DensityB, Source: &m.Source,
		Ratio: m.Mix().Ratio.String(), Traits: fromTraits(m.Traits)}
}

func toMaterial(id uuid.UUID, v int, b MaterialSheet) (store.Material, error) {
	m := store.Material{ID: id, Version: v, Kind: string(b.Kind), Name: b.Name, PartsA: b.PartsA, PartsB: b.PartsB,
		ByVolume: b.ByVolume, Density: b.Density, DensityA: b.DensityA, DensityB: b.DensityB, Source: text(b.Source),
		Traits: toTraits(b.Traits)}
	if err := m.Mix().Validate(); err != nil {
		return m, unusable("The material was not kept", err)
	}
	return m, nil
}

func text(s *string) string {
	if s == nil {
		return ""
	}
	return *s
}

// ReadMeasure reads what a caster typed, in the shop's units.
func (s *Server) ReadMeasure(ctx context.Context, r ReadMeasureRequestObject) (ReadMeasureResponseObject, error) {
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	reader := quantity.Reader{System: shop.Practice.In().Of(quantity.Kind(r.Body.Kind)), DecimalComma: shop.Practice.DecimalComma}
	value, err := reader.Parse(quantity.Kind(r.Body.Kind), r.Body.Text)
	if err != nil {
		return nil, unusable("That cannot be read", err)
	}
	return ReadMeasure200JSONResponse{Value: value}, nil
}

// ListDemoParts lists the parts that can be tried as masters.
func (s *Server) ListDemoParts(context.Context, ListDemoPartsRequestObject) (ListDemoPartsResponseObject, error) {
	out := ListDemoParts200JSONResponse{}
	for _, p := range parts.All() {
		out = append(out, DemoPart{Key: p.Key, Name: p.Name, Difficulty: p.Difficulty})
	}
	return out, nil
}

func some(x float64) *float64 {
	if x == 0 {
		return nil
	}
	return &x
}

func fromTraits(t store.Traits) *Traits {
	family, colour := TraitsFamily(t.Family), TraitsColour(t.Colour)
	return &Traits{
		Family:     &family,
		Colour:     &colour,
		Shore:      some(t.Shore),
		Elongation: some(t.Elongation),
		Viscosity:  some(t.Viscosity),
		Celsius:    some(t.Celsius),
		PotLife:    some(t.PotLife),
		Demould:    some(t.Demould),
		Q10:        some(t.Q10),
		MinSection: some(
			t.MinSection,
		),
		MaxSection: some(t.MaxSection),
		Shrink:     some(t.Shrink),
		Heat:       some(t.Heat),
		Strength:   some(t.Strength),
		PourFrom:   some(t.PourFrom),
		PourTo:     some(t.PourTo),
		Kit:        some(t.Kit),
		Recipes:    recipes(t.Recipes),
		Clear:      &t.Clear,
		Flexible:   &t.Flexible,
		Outdoor:    &t.Outdoor,
	}
}

// recipes are those of a resin, left out where it has none.
func recipes(all []mix.NamedRecipe) *[]mix.NamedRecipe {
	if len(all) == 0 {
		return nil
	}
	return &all
}

func toTraits(t *Traits) store.Traits {
	if t == nil {
		return store.Traits{}
	}
	number := func(x *float64) float64 {
		if x == nil {
			return 0
		}
		return *x
	}
	yes := func(b *bool) bool { return b != nil && *b }
	out := store.Traits{
		Shore:      number(t.Shore),
		Elongation: number(t.Elongation),
		Viscosity:  number(t.Viscosity),
		Celsius:    number(t.Celsius),
		PotLife:    number(t.PotLife),
		Demould:    number(t.Demould),
		Q10:        number(t.Q10),
		MinSection: number(
			t.MinSection,
		),
		MaxSection: number(t.MaxSection),
		Shrink:     number(t.Shrink),
		Heat:       number(t.Heat),
		Strength:   number(t.Strength),
		PourFrom:   number(t.PourFrom),
		PourTo:     number(t.PourTo),
		Kit:        number(t.Kit),
		Clear:      yes(t.Clear),
		Flexible:   yes(t.Flexible),
		Outdoor:    yes(t.Outdoor),
	}
	if t.Recipes != nil {
		out.Recipes = *t.Recipes
	}
	if t.Family != nil {
		out.Family = string(*t.Family)
	}
	if t.Colour != nil {
		out.Colour = string(*t.Colour)
	}
	return out
}

func schools(own map[string]string) *map[string]string {
	if own == nil {
		own = map[string]string{}
	}
	return &own
}

// ListSchools lists what casters differ on.
func (s *Server) ListSchools(context.Context, ListSchoolsRequestObject) (ListSchoolsResponseObject, error) {
	out := ListSchools200JSONResponse{}
	for _, q := range practice.Schools {
		row := School{Key: q.Key, Question: q.Question}
		for _, c := range q.Choices {
			row.Choices = append(row.Choices, struct {
				Key  string `json:"key"`
				Name string `json:"name"`
				Why  string `json:"why"`
			}{c.Key, c.Name, c.Why})
		}
		out = append(out, row)
	}
	return out, nil
}
