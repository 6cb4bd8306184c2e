// Package seed fills an empty shop with the demo scenario: an invented
// workshop, invented parts, generic materials with values from memory.
package seed

import (
	"context"
	"errors"
	"fmt"
	"time"

	"bathyform/core/bench"
	"bathyform/core/design"
	"bathyform/core/inhibit"
	"bathyform/core/mesh"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/demo/parts"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// Workshop is the name of the demo shop.
const Workshop = "Fathom Lane Workshop"

// kit is what cleats and hubs are sold in.
const kit = "Drifter kit"

const fromMemory = "generic class, values from memory; the data sheet goes first"

func f(x float64) *float64 { return &x }

func materials() []store.Material {
	return []store.Material{
		{
			Kind:    "rubber",
			Name:    "Tin-cure silicone 30 A, 10:1",
			PartsA:  10,
			PartsB:  1,
			Density: 1.18,
			Traits:  store.Traits{Family: "tin", Shore: 30, Elongation: 300, Viscosity: 20, PotLife: 40, Demould: 960, Shrink: 0.3},
			Source:  fromMemory,
		},
		{
			Kind:     "rubber",
			Name:     "Platinum-cure silicone 20 A, 1:1",
			PartsA:   1,
			PartsB:   1,
			ByVolume: true,
			Density:  1.1,
			DensityA: f(1.1),
			DensityB: f(1.1),
			Traits:   store.Traits{Family: "platinum", Shore: 20, Elongation: 400, Viscosity: 8, PotLife: 25, Demould: 240, Shrink: 0.1},
			Source:   fromMemory,
		},
		{
			Kind:    "rubber",
			Name:    "Clear platinum-cure silicone 40 A, 10:1",
			PartsA:  10,
			PartsB:  1,
			Density: 1.06,
			Traits: store.Traits{
				Family:     "platinum",
				Shore:      40,
				Elongation: 220,
				Viscosity:  30,
				PotLife:    60,
				Demould:    960,
				Shrink:     0.1,
				Clear:      true,
			},
			Source: fromMemory,
		},
		{
			Kind:     "resin",
			Name:     "Rigid urethane, 3 min",
			PartsA:   1,
			PartsB:   1,
			ByVolume: true,
			Density:  1.06,
			DensityA: f(1.12),
			DensityB: f(1.0),
			Traits: store.Traits{
				Viscosity:  0.1,
				PotLife:    3,
				Demould:    15,
				MinSection: 2,
				MaxSection: 20,
				Shrink:     0.5,
				Strength:   32,
				Colour:     "white",
				Heat:       65,
			},
			Source: fromMemory,
		},
		{
			Kind:    "resin",
			Name:    "Rigid urethane, 7 min",
			PartsA:  100,
			PartsB:  90,
			Density: 1.07,
			Traits: store.Traits{
				Viscosity:  0.12,
				PotLife:    7,
				Demould:    60,
				MinSection: 3,
				MaxSection: 35,
				Shrink:     0.4,
				Strength:   45,
				Colour:     "amber",
				Heat:       85,
			},
			Source: fromMemory,
		},
		{
			Kind:     "resin",
			Name:     "Slow clear epoxy, 40 min",
			PartsA:   2,
			PartsB:   1,
			ByVolume: true,
			Density:  1.09,
			DensityA: f(1.15),
			DensityB: f(0.97),
			Traits: store.Traits{
				Viscosity:  0.6,
				PotLife:    40,
				Demould:    1440,
				MinSection: 1,
				MaxSection: 60,
				Shrink:     0.2,
				Clear:      true,
				Strength:   55,
				Colour:     "clear",
				Heat:       55,
			},
			Source: fromMemory,
		},
	}
}

// IfEmpty sets the demo shop up unless there is one. Dates are counted from today.
func IfEmpty(ctx context.Context, s *store.Store, today time.Time) error {
	if _, err := s.ReadShop(ctx); !errors.Is(err, store.ErrNotFound) {
		return err
	}
	house := practice.Usual()
	house.Instruments = Instruments()
	if err := s.SetUpShop(ctx, Workshop, house); err != nil {
		return err
	}
	shelf := make(map[string]uuid.UUID)
	for _, m := range materials() {
		m.ID = uuid.New()
		shelf[m.Name] = m.ID
		if err := s.AddMaterial(ctx, m); err != nil {
			return fmt.Errorf("seed %s: %w", m.Name, err)
		}
	}
	rubber, resin := shelf[SampleRubber], shelf[SampleResin]
	cleat := uuid.New()
	if err := Sample(ctx, s, cleat, today, rubber.String(), resin.String()); err != nil {
		return err
	}
	if err := logCleats(ctx, s, cleat, today); err != nil {
		return err
	}
	if err := fillShelf(ctx, s, shelf, today); err != nil {
		return err
	}
	soon, later, last := today.AddDate(0, 0, 26), today.AddDate(0, 0, 33), today.AddDate(0, 0, 47)
	collar := uuid.New()
	if err := addJob(ctx, s, collar, "collar-half", store.Order{Name: "Collar half", Quantity: 160, Due: &soon,
		Notes: "Two to a collar; the bolt ears must be full."},
		func(d *design.Design) { d.Rubber, d.Resin = rubber.String(), resin.String() }); err != nil {
		return err
	}
	if err := logCollars(ctx, s, collar, today); err != nil {
		return err
	}
	if err := addJob(ctx, s, uuid.New(), "drogue-hub", store.Order{Name: "Drogue hub", Quantity: 60, Due: &last, Set: kit, PerSet: 1,
		Notes: "Six sockets for the vanes: no two-part mould will let go of them."}, nil); err != nil {
		return err
	}
	return addJob(ctx, s, uuid.New(), "ballast-bulb", store.Order{Name: "Ballast bulb", Quantity: 12, Due: &later,
		Notes: "Solid, thick all through: a slow resin, and mind the heat."}, nil)
}

// What the sample job is poured of, where the shelf has it.
const (
	SampleRubber = "Tin-cure silicone 30 A, 10:1"
	SampleResin  = "Rigid urethane, 3 min"
)

// Sample adds the sample job as it was at first, without moulds and pulls, of
// a rubber and a resin of the shelf; empty for none.
func Sample(ctx context.Context, s *store.Store, id uuid.UUID, today time.Time, rubber, resin string) error {
	due := today.AddDate(0, 0, 19)
	err := addJob(ctx, s, id, "deck-cleat", store.Order{Name: "Deck cleat", Quantity: 240, Due: &due, Set: kit, PerSet: 4,
		Notes: "For the Lantern Bay School drifter kits. Grey, decorative; both horns must be full."},
		func(d *design.Design) {
			d.Rubber, d.Resin = rubber, resin
			d.Vents = d.Vents[1:] // the shop has not seen yet why one horn keeps failing
		})
	if err != nil {
		return err
	}
	return s.WriteBrief(ctx, id, design.Brief{Quality: "good", Surface: inhibit.PrintPLA, Generation: 1}, store.From{Version: 2})
}

// addJob takes on an order with a demo part as its master, and with a design
// if there is something to decide.
func addJob(ctx context.Context, s *store.Store, id uuid.UUID, key string, o store.Order, decide func(*design.Design)) error {
	if err := s.AddJob(ctx, id, o); err != nil {
		return err
	}
	p, ok := parts.ByKey(key)
	if !ok {
		return fmt.Errorf("there is no demo part %s", key)
	}
	data := p.Mesh().WriteSTL()
	m, report, err := mesh.Load(data, 1)
	if err != nil {
		return err
	}
	file, err := store.PackMesh(data)
	if err != nil {
		return err
	}
	master := store.Master{Name: p.Name, Unit: mesh.Millimetre, Confirmed: true, Report: &report,
		Guess: mesh.UnitGuess{Unit: mesh.Millimetre, Why: "made in millimetres"}}
	if err := s.WriteMaster(ctx, id, master, file, file.SHA, true, store.From{Version: 1}); err != nil {
		return err
	}
	if decide == nil {
		return nil
	}
	d, err := bench.Take(part.Master{Name: p.Name, Mesh: m, Report: report}).Start(ctx, practice.Usual())
	if err != nil {
		return err
	}
	decide(&d)
	return s.WriteDesign(ctx, id, d, store.From{})
}

// logCleats writes the history of the cleats: one mould worn out, one at
// work, 88 good castings between them.
func logCleats(ctx context.Context, s *store.Store, job uuid.UUID, today time.Time) error {
	const rubber = "Tin-cure silicone 30 A, 10:1"
	first, second := uuid.New(), uuid.New()
	for _, m := range []store.Mould{
		{ID: first, JobID: job, Number: "FL-11", Rubber: rubber, Poured: today.AddDate(0, 0, -24), Cavities: 2, Pieces: 2,
			Birth: &store.Flaws{}, Place: "shelf 2"},
		{ID: second, JobID: job, Number: "FL-14", Rubber: rubber, Poured: today.AddDate(0, 0, -9), Cavities: 2, Pieces: 2,
			Birth: &store.Flaws{"bubbles in the rubber"}, Place: "bench", Lot: "R-311"},
	} {
		if err := s.AddMould(ctx, m); err != nil {
			return err
		}
	}
	pull := func(mould uuid.UUID, daysAgo, n int) error {
		p := store.Pull{ID: uuid.New(), MouldID: mould, Pulled: today.AddDate(0, 0, -daysAgo), MassA: f(44), MassB: f(39)}
		p.Conditions.Lot, p.Conditions.Colour, p.Conditions.Matched = "U-2041", "grey 0.8 g in 83 g", yes(n != 1)
		if mould == second {
			p.Conditions.Finishing = f(float64(5 + n%3))
		}
		for cavity := 1; cavity <= 2; cavity++ {
			r := store.Result{Cavity: cavity, Good: true}
			if cavity == 2 && n%8 == 4 {
				tip := store.Place{42.8 - float64(n%5)/3, float64(n%3) - 1, 40.2 - float64(n%4)/4} // of the horn without a vent
				r = store.Result{Cavity: cavity, Defect: "void in a horn", Place: &tip}
			} else if mould == second {
				r.Weight = f(33.3 + float64((7*n+cavity)%5)/10)
				if n == 9 && cavity == 1 { // a void that nobody has seen
					r.Weight = f(31.2)
				}
			}
			p.Results = append(p.Results, r)
		}
		return s.LogPull(ctx, p)
	}
	for n := range 31 {
		if err := pull(first, 22-n/3, n); err != nil {
			return err
		}
	}
	worn := today.AddDate(0, 0, -11)
	if err := s.RetireMould(ctx, first, &worn, store.Worn); err != nil {
		return err
	}
	for n := range 16 {
		if err := pull(second, 7-n/3, n); err != nil {
			return err
		}
	}
	return nil
}

// logCollars writes a log in which three things went wrong, each in its own way: a
// cavity lacks a vent, one day's mix was off, and a mould wears.
func logCollars(ctx context.Context, s *store.Store, job uuid.UUID, today time.Time) error {
	const pulls, aDay, offDay = 24, 3, 3
	for k, number := range []string{"FL-12", "FL-13"} {
		m := store.Mould{ID: uuid.New(), JobID: job, Number: number, Rubber: SampleRubber, Poured: today.AddDate(0, 0, -20), Cavities: 2}
		if err := s.AddMould(ctx, m); err != nil {
			return err
		}
		for n := range pulls {
			p := store.Pull{ID: uuid.New(), MouldID: m.ID, Pulled: today.AddDate(0, 0, n/aDay-14), MassA: f(31), MassB: f(28)}
			for cavity := 1; cavity <= 2; cavity++ {
				r := store.Result{Cavity: cavity, Good: true}
				switch {
				case n/aDay == offDay:
					r = store.Result{Cavity: cavity, Defect: "soft or sticky"}
				case k == 0 && cavity == 2 && n%2 == 1:
					r = store.Result{Cavity: cavity, Defect: "void at a high spot"}
				case k == 1 && n >= 17 && (n+cavity)%2 == 0:
					r = store.Result{Cavity: cavity, Defect: "torn detail"}
				}
				p.Results = append(p.Results, r)
			}
			if err := s.LogPull(ctx, p); err != nil {
				return err
			}
		}
	}
	return nil
}
