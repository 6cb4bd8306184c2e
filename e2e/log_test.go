package e2e

import (
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"
)

// The three things that went wrong in the demo's log are found with their causes;
// a mould's page says why it is suspect, and the cleats' answers whether the rack is
// enough.
func TestTheLogTeachesWhatWentWrong(t *testing.T) {
	p, _ := serve(t)
	steps(
		t,
		p.Go("/"),
		p.Click("link", "Collar half"),
		p.Click("link", "Pulls"),
		p.See("WHAT THE SCRAP HAS IN COMMON"),
		p.See(
			"It is the mix: of what was poured together on",
		),
		p.See("It is the layout: FL-12, cavity 2"),
		p.See("It is wear: late in the life of FL-13"),
		p.See("IS IT ENOUGH?"),
		p.Click("button", "Chance that it is enough"),
		p.See("accidents a pull"),
	)
	steps(
		t,
		p.Go("/rack"),
		p.Click("link", "FL-12"),
		p.See("suspect"),
		p.See("Cavity 2 gives more scrap than it should"),
		p.See("STORY"),
		p.See("Pull 24"),
		p.Choose("It was", "a cavity plugged"),
		p.Choose("Cavity", "2"),
		p.Fill("With what, and why", "its vent is torn"),
		p.Click("button", "Write it down"),
		p.See("Cavity 2 plugged: its vent is torn."),
		p.Gone("suspect"),
		p.Click("link", "Collar half"),
		p.See("LOG A PULL"),
	)
	openCleat(t, p, "Pulls")
	steps(t, p.See("152 are still wanted"), p.See("more moulds to be sure"))
	named(t, p, "pulls")
	quiet(t, p)
}

// A season is pasted from a spreadsheet: what becomes of every line is said, what is
// taken counts, and the same again adds nothing.
func TestASeasonIsPastedIntoTheLog(t *testing.T) {
	p, url := serve(t)
	rows := "Day;Mould;A, g;Cavity;Casting;Defect\n" +
		"2026-01-02;FL-14;44,5;1;good;\n" // before it was poured
	steps(
		t,
		p.Go("/rack"),
		p.See("FL-14"),
		p.Click("button", "Bring in a season"),
		p.Fill("Or paste the cells of a spreadsheet", rows),
		p.Click("button", "Look at what was pasted"),
		p.See("0 are added"),
		p.See("FL-14 was not poured by then"),
	)
	var rack struct {
		Moulds []struct{ Number, Poured string }
	}
	ask(t, "GET", url+"/api/moulds", "", &rack)
	poured := ""
	for _, m := range rack.Moulds {
		if m.Number == "FL-14" {
			poured = m.Poured
		}
	}
	require.NotEmpty(t, poured)
	rows = "Day;Mould;A, g;Cavity;Casting;Defect\n" + poured + ";FL-14;44,5;1;good;\n" + poured + ";FL-14;44,5;2;scrap;short fill\n" +
		poured + ";FL-77;;1;good;\n"
	steps(
		t,
		p.Fill("Or paste the cells of a spreadsheet", rows),
		p.Click("button", "Look at what was pasted"),
		p.See("There is no mould FL-77"),
		p.Click("button", "Take 1 pull into the log"),
		p.See("1 pull was added"),
		p.Click("button", "Look at what was pasted"),
		p.See("1 are in the log already"),
	)
	quiet(t, p)
}

// Yesterday's pulls from paper, by the keyboard alone.
func TestPullsFromPaperByKeysAlone(t *testing.T) {
	p, _ := serve(t)
	steps(
		t,
		p.Go("/rack"),
		p.See("FL-14"),
		p.Enter("button", "Bring in a season"),
		p.See("CSV from"),
		p.Enter("disclosure", "Or write them down"),
		p.See(
			"Enter begins the next pull",
		),
		p.Write("Mould of pull 1", "FL-14"),
		p.Write("A of pull 1", "44"),
		p.TabTo("field", "Cavity 2 of pull 1"),
		p.Key("5"+kb.Enter),
		p.Key("45"),
		p.Enter("button", "Look at these pulls"),
		p.See("2 are added"),
		p.Enter("button", "Take 2 pulls"),
		p.See("2 pulls were added"),
	)
	quiet(t, p)
}
