package api

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/quantity"
	"bathyform/core/stock"
	"bathyform/internal/store"

	"github.com/google/uuid"
	openapi_types "github.com/oapi-codegen/runtime/types"
)

// How the stock is shown.
const (
	mostMoves = 30
	soonDays  = 30   // before a lot's day it is told; common practice, no source
	unevenBy  = 0.1  // of one part more than the other needs
	smallUsed = 50.0 // g; less is not told as left over
)

// dayOf is a day as the stock counts them.
func dayOf(t *time.Time) stock.Day {
	if t == nil {
		return 0
	}
	return stock.Day(t.Unix() / 86400)
}

func fromDay(d stock.Day) openapi_types.Date {
	return openapi_types.Date{Time: time.Unix(int64(d)*86400, 0).UTC()}
}

// GetStock tells what is left, how long it lasts and what stands against it.
func (s *Server) GetStock(ctx context.Context, _ GetStockRequestObject) (GetStockResponseObject, error) {
	shelf, err := s.store.Materials(ctx)
	if err != nil {
		return nil, err
	}
	lots, err := s.store.Lots(ctx)
	if err != nil {
		return nil, err
	}
	moves, err := s.store.Moves(ctx)
	if err != nil {
		return nil, err
	}
	needs, err := s.needs(ctx, shelf)
	if err != nil {
		return nil, err
	}
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	l := newLedger()
	today := day(store.Seconds(s.now()))
	var found []finding.Finding
	out := Stock{Materials: []StockOf{}}
	for _, m := range shelf {
		k := kept{material: m, lots: lotsOf(lots, m.ID), moves: movesOf(moves, m.ID), needs: needs[m.ID], today: dayOf(&today)}
		one, told := k.stock(l)
		found = append(found, told...)
		out.Materials = append(out.Materials, one)
	}
	out.Findings = fromFindings(found, shop.Practice.In())
	out.Numbers = l.rows
	return GetStock200JSONResponse(out), nil
}

func lotsOf(all []store.Lot, material uuid.UUID) []store.Lot {
	return slices.DeleteFunc(slices.Clone(all), func(l store.Lot) bool { return l.MaterialID != material })
}

func movesOf(all []store.Move, material uuid.UUID) []store.Move {
	return slices.DeleteFunc(slices.Clone(all), func(m store.Move) bool { return m.MaterialID != material })
}

// kept is all of one material.
type kept struct {
	material store.Material
	lots     []store.Lot
	moves    []store.Move
	needs    []need
	today    stock.Day
}

func (k kept) shelf() stock.Shelf {
	out := stock.Shelf{Ratio: stock.Amount{A: 1}}
	if m := k.material.Mix(); !m.OnePart() {
		out.Ratio = stock.Amount{A: m.ByWeight(), B: 1}
	}
	for _, l := range k.lots {
		out.Lots = append(
			out.Lots,
			stock.Lot{Name: l.Name, Bought: dayOf(&l.Bought), Opened: dayOf(l.Opened), Expires: dayOf(l.Expires),
				Keeps: given(l.Keeps), Has: stock.Amount{A: l.GramsA, B: l.GramsB}},
		)
	}
	for _, m := range k.moves {
		amount := stock.Amount{A: m.GramsA, B: m.GramsB}
		if m.What == store.Counted {
			out.Counted = append(out.Counted, stock.Counted{Day: dayOf(&m.Day), Lot: m.Lot, Amount: amount})
		} else {
			out.Drawn = append(out.Drawn, stock.Drawn{Day: dayOf(&m.Day), Lot: m.Lot, Amount: amount})
		}
	}
	return out
}

// stock is a material as the page has it, with what stands against it.
func (k kept) stock(l *ledger) (out StockOf, found []finding.Finding) {
	out = StockOf{MaterialId: k.material.ID, Lots: []Lot{}, Moves: []Move{}}
	for i := len(k.moves) - 1; i >= 0 && len(out.Moves) < mostMoves; i-- {
		m := k.moves[i]
		out.Moves = append(out.Moves, Move{Day: openapi_types.Date{Time: m.Day}, What: MoveWhat(m.What), Lot: optional(m.Lot),
			GramsA: m.GramsA, GramsB: m.GramsB, Says: optional(m.Says), Session: m.SessionID})
	}
	shelf := k.shelf()
	level := shelf.Level(k.today)
	needs := make([]stock.Need, len(k.needs))
	wants := []derive.Input{}
	for i, n := range k.needs {
		needs[i] = n.Need
		wants = append(wants, n.grams.As(n.Order))
	}
	look := shelf.Outlook(level, needs, k.today)
	if look.Need > 0 {
		n := derive.Of(quantity.Mass, digits(look.Need, 3), "what the orders still take", wants...)
		out.Need = l.some(&n)
	}
	if len(k.lots) == 0 {
		return out, nil // nobody keeps count of it
	}
	usable := k.usable(level)
	out.Usable = l.some(&usable)
	for _, lot := range level.Lots {
		at := slices.IndexFunc(k.lots, func(x store.Lot) bool { return x.Name == lot.Name })
		shown := fromLot(k.lots[at])
		shown.LeftA, shown.LeftB = l.left(lot, lot.A, lot.Drawn.A), l.left(lot, lot.B, lot.Drawn.B)
		if end, ok := lot.Ends(); ok {
			day := fromDay(end)
			shown.Ends, shown.Past = &day, optional(end < k.today)
		}
		if lot.Since != 0 {
			day := fromDay(lot.Since)
			shown.Counted = &day
		}
		if shown.Price != nil && out.Price == nil && lot.Total() > 0 {
			out.Price = shown.Price
		}
		out.Lots = append(out.Lots, shown)
		found = append(found, k.ofLot(lot)...)
	}
	if look.RunsTo != 0 {
		day := fromDay(look.RunsTo)
		out.RunsOut = &day
		found = append(found, k.runsOut(look, level))
	}
	return out, append(found, k.strange(level)...)
}

// left is what there is of one part of a lot.
func (l *ledger) left(lot stock.Left, grams, drawn float64) *Number {
	was := "bought on " + fromDay(lot.Bought).Format("2 January 2006")
	if lot.Since != 0 {
		was = "counted on " + fromDay(lot.Since).Format("2 January 2006")
	}
	n := derive.Of(quantity.Mass, digits(grams, 6), was+" − weighed or thrown away since",
		derive.From(was, quantity.Mass, digits(grams+drawn, 6), "the shelf"),
		derive.From("weighed or thrown away since", quantity.Mass, digits(drawn, 6), "the bench, the log and the shelf"))
	if lot.Assumed > 0 {
		n = n.Noted(fmt.Sprintf("Of %.0f g of both parts nobody wrote down the lot: it is taken to be the one that was open.", lot.Assumed))
	}
	return l.some(&n)
}

func (k kept) usable(level stock.Level) derive.Number {
	inputs := []derive.Input{}
	for _, lot := range level.Lots {
		if end, ok := lot.Ends(); ok && end < k.today {
			continue
		}
		from := "bought, less what was weighed since"
		if lot.Since != 0 {
			from = "counted on " + fromDay(lot.Since).Format("2 January") + ", less what was weighed since"
		}
		inputs = append(inputs, derive.From("A of lot "+lot.Name, quantity.Mass, digits(lot.A, 5), from),
			derive.From("B of lot "+lot.Name, quantity.Mass, digits(lot.B, 5), from))
	}
	return derive.Of(
		quantity.Mass,
		digits(level.Usable, 4),
		"what can be mixed of each lot in the ratio of the sheet, together",
		inputs...)
}

// about puts a finding of the stock together.
func (k kept) about(severity finding.Severity, code, what, why string) finding.Finding {
	return finding.Finding{Severity: severity, Stage: finding.Shot, Code: code, What: k.material.Name + ": " + what, Why: why,
		Source: finding.CommonPractice}
}

// ofLot is what stands against a lot.
func (k kept) ofLot(lot stock.Left) (found []finding.Finding) {
	if end, ok := lot.Ends(); ok && lot.Total() > smallUsed && end < k.today+soonDays {
		day := fromDay(end).Format("2 January 2006")
		if end < k.today {
			found = append(
				found,
				k.about(
					finding.Watch,
					"lot-past",
					fmt.Sprintf("lot %s was to be used by %s, and is not counted.", lot.Name, day),
					"Try a small cup: part A that has drawn water foams, one that has set in the can is done. If it "+
						"is good, put its day right; "+
						"if not, let it cure and throw it away as the local rules say.",
				),
			)
		} else {
			found = append(found, k.about(finding.Note, "lot-ends", fmt.Sprintf("lot %s is to be used by "+
				"%s.", lot.Name, day), "Use it first."))
		}
	}
	if lot.A < -smallUsed || lot.B < -smallUsed {
		found = append(found, k.about(
			finding.Watch,
			"lot-overdrawn",
			fmt.Sprintf(
				"more of lot %s was weighed than there was.",
				lot.Name,
			),
			"Count what stands on the shelf, or put the lots in the log right.",
		))
	}
	whole := k.shelf().Ratio
	usable := lot.Usable(whole)
	if over := lot.Total() - usable; whole.B > 0 && over > unevenBy*lot.Total() && over > smallUsed {
		part, left := "A", lot.A-usable*whole.A/whole.Total()
		if b := lot.B - usable*whole.B/whole.Total(); b > left {
			part, left = "B", b
		}
		found = append(found, k.about(finding.Note, "lot-uneven",
			fmt.Sprintf("of lot %s %.0f g of %s will be left over.", lot.Name, left, part),
			"One part goes faster than the ratio says: look at the scale, or at what stays in the can."))
	}
	return found
}

// runsOut says when a material is at its end before the orders are.
func (k kept) runsOut(look stock.Outlook, level stock.Level) finding.Finding {
	before := ""
	if len(look.Cuts) > 0 {
		verb := " is done"
		if len(look.Cuts) > 1 {
			verb = " are done"
		}
		before = ", before " + strings.Join(look.Cuts, " and ") + verb
	}
	pace := fmt.Sprintf("at %.3g g a day, as in the last %d days", look.Pace, look.Over)
	if !look.Paced {
		pace = fmt.Sprintf("at the %.3g g a day that the orders ask for by their days", look.Pace)
	}
	f := k.about(
		finding.Watch,
		"runs-out",
		fmt.Sprintf("runs out on %s%s.", fromDay(look.RunsTo).Format("Monday, 2 January"), before),
		fmt.Sprintf(
			"%g g are wanted, %g g are left: %g g are missing, %s. Order it now.",
			digits(look.Need, 3),
			digits(level.Usable, 3),
			digits(look.Short, 3),
			pace,
		),
	)
	f.Figure, f.Limit = finding.Of(quantity.Mass, level.Usable), finding.Of(quantity.Mass, look.Need)
	return f
}

// strange is what in the log does not fit the shelf.
func (k kept) strange(level stock.Level) (found []finding.Finding) {
	if n := len(level.Strange); n > 0 {
		found = append(found, k.about(finding.Note, "lot-unknown", fmt.Sprintf(
			"lot %s is in the log and not on the shelf.",
			strings.Join(
				level.Strange,
				", ",
			),
		), "Enter it, or put the log right: until then it is taken off the lot that was opened first."))
	}
	if level.Loose > smallUsed {
		found = append(
			found,
			k.about(finding.Note, "drawn-from-nothing", fmt.Sprintf("%.0f g were weighed that no lot had.", level.Loose),
				"Count what stands on the shelf, and enter what was bought."),
		)
	}
	return found
}
