package logbook_test

import (
	"strings"
	"testing"

	"bathyform/core/logbook"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func read(t *testing.T, text string) logbook.Read {
	t.Helper()
	got, err := logbook.File([]byte(text), true)
	require.NoError(t, err)
	return got
}

// The same season as several programs write it.
func TestASeasonHoweverItWasWritten(t *testing.T) {
	plain := "Day,Mould,A,B,Cavity,Casting,Defect,Notes\r\n2026-03-04,FL-1,44.5,39,1,good,,\r\n2026-03-04,FL-1,44.5,39,2,scrap,void " +
		"in a horn,\"a \"\"wet\"\" day, cold\"\r\n"
	want := read(t, plain).Lines
	require.Len(t, want, 2)
	assert.Equal(
		t,
		logbook.Line{Number: 3, Day: logbook.Date{Year: 2026, Month: 3, Day: 4}, Mould: "FL-1", A: 44.5, B: 39, Cavity: 2,
			Defect: "void in a horn", Notes: `a "wet" day, cold`},
		want[1],
	)
	semi := strings.NewReplacer("a \"\"wet\"\" day, cold", "a \"\"wet\"\" day, cold", "2026-03-04", "4.3.2026", "44.5", "44,5").
		Replace(plain)
	semi = strings.ReplaceAll(strings.ReplaceAll(semi, "day, cold", "day@ cold"), ",", ";")
	semi = strings.ReplaceAll(strings.ReplaceAll(semi, "44;5", "44,5"), "@", ",")
	wide := []byte{0xff, 0xfe}
	for _, r := range plain {
		wide = append(wide, byte(r), byte(r>>8))
	}
	for name, data := range map[string][]byte{
		"with a byte order mark":       []byte("\ufeff" + plain),
		"semicolons, decimal commas":   []byte(semi),
		"tabs":                         []byte(strings.NewReplacer("day, cold", "day, cold", ",", "\t").Replace(plain)),
		"two bytes a character":        wide,
		"days with slashes":            []byte(strings.ReplaceAll(plain, "2026-03-04", "4/3/2026")),
		"days in words":                []byte(strings.ReplaceAll(plain, "2026-03-04", "4 March 2026")),
		"other names, another order":   []byte(strings.Replace(plain, "Day,Mould,A,B", "Date,Mold,Part A (g),\"B, g\"", 1)),
		"only the defect tells":        []byte(strings.NewReplacer(",good,", ",,", ",scrap,", ",,").Replace(plain)),
		"lines end as elsewhere":       []byte(strings.ReplaceAll(plain, "\r\n", "\n")),
		"empty lines between":          []byte(strings.Replace(plain, "\r\n2026-03-04,FL-1", "\r\n,,,,,,,\r\n2026-03-04,FL-1", 1)),
		"a column that nobody asks of": []byte("Weather," + strings.ReplaceAll(plain, "\r\n2", "\r\nrain,2")),
	} {
		got, err := logbook.File(data, true)
		require.NoError(t, err, name)
		require.Len(t, got.Lines, 2, name)
		for i := range want {
			got.Lines[i].Number = want[i].Number
			assert.Equal(t, want[i], got.Lines[i], name)
		}
	}
	latin, err := logbook.File([]byte("Day,Mould,Casting,Defect,Notes\n2026-03-04,M,scrap,void,Gie\xdfharz \x96 kalt\n"), true)
	require.NoError(t, err)
	assert.Equal(t, "Gießharz – kalt", latin.Lines[0].Notes)
	assert.Contains(t, latin.Says[0], "Windows-1252")
	oz := read(t, "Day,Mould,\"A, oz\",Casting\n2026-03-04,M,2,good\n")
	assert.InDelta(t, 2*28.349523125, oz.Lines[0].A, 1e-9)
}

// A sum in a cell is text, and comes out as it went in.
// Columns that name their units, and those that nobody can read.
func TestColumnsNameTheirUnits(t *testing.T) {
	got := read(t, "Day,Mould,A (oz),Casting,Temperature (°F),Pressure (psi),Out after (h)\n2026-03-04,FL-1,1.5,good,72.5,50,0.5\n")
	l := got.Lines[0]
	assert.InDelta(t, 42.524, l.A, 1e-3)
	assert.InDelta(t, 22.5, l.Air.Celsius, 1e-9)
	assert.InDelta(t, 344.74, l.Air.Pressure, 0.01)
	assert.InDelta(t, 30, l.Air.Out, 1e-9)
	assert.Empty(t, got.Says)
	assert.InDelta(t, 22.5, read(t, "Day,Mould,Casting,°F\n2026-03-04,FL-1,good,72.5\n").Lines[0].Air.Celsius, 1e-9)
	assert.Zero(t, read(t, "Day,Mould,Casting,°F\n2026-03-04,FL-1,good,\n").Lines[0].Air.Celsius, "nobody wrote it down")
	odd := read(t, "Day,Mould,Casting,Temperature (K),Weather\n2026-03-04,FL-1,good,295,rain\n")
	assert.Zero(t, odd.Lines[0].Air.Celsius)
	assert.Equal(t, []string{"Not read: Weather.", "The column Temperature (K) is not read: its unit is not known."}, odd.Says)
}

// What is pasted out of a spreadsheet is parted by tabs, and its commas may be decimal.
func TestPastedCellsWithDecimalCommas(t *testing.T) {
	got := read(t, "Day\tMould\tA\tB\tCasting\n4.3.2026\tFL-1\t44,5\t39\tgood\n4.3.2026\tFL-1\t1,125\t44,25\tgood\n")
	assert.InDelta(t, 44.5, got.Lines[0].A, 1e-9)
	assert.InDelta(t, 1.125, got.Lines[1].A, 1e-9)
	assert.Contains(t, got.Says, "Commas are decimal.")
	unsure := read(t, "Day\tMould\tA\tCasting\n2026-03-04\tFL-1\t1,125\tgood\n")
	assert.Contains(t, unsure.Lines[0].Wrong, "two ways", "a thousand, or one and an eighth")
	both := read(t, "Day\tMould\tA\tB\tCasting\n2026-03-04\tFL-1\t44,5\t39.5\tgood\n")
	assert.Contains(t, both.Lines[0].Wrong, "two ways")
}

func TestSumsAreText(t *testing.T) {
	got := read(t, "Day,Mould,Casting,Notes\n2026-03-04,M,good,'=1+1\n2026-03-04,M,good,=HYPERLINK(0)\n")
	assert.Equal(t, "=1+1", got.Lines[0].Notes)
	assert.Equal(t, "=HYPERLINK(0)", got.Lines[1].Notes)
}

func TestWhatCannotBeReadIsSaidLineByLine(t *testing.T) {
	got := read(
		t,
		strings.Join(
			[]string{"Day,Mould,A,Cavity,Casting,Defect", "2026-02-30,M,,1,good,", "31/13/2026,M,,1,good,", "2026-03-04,,,1,good,",
				"2026-03-04,M,-3,1,good,", "2026-03-04,M,\"1,234\",1,good,", "2026-03-04,M,,0,good,", "2026-03-04,M,,1,perhaps,",
				"2026-03-04,M,,1,scrap,"},
			"\n",
		),
	)
	for i, says := range []string{"no day", "no day", "Which mould", "no weight", "two ways", "no cavity", "neither good, second nor scrap",
		"What was wrong"} {
		assert.Contains(t, got.Lines[i].Wrong, says, "line %d", i+2)
		assert.Equal(t, i+2, got.Lines[i].Number)
	}
	for text, want := range map[string]error{"": logbook.ErrEmpty, " \n": logbook.ErrEmpty, "a,b,c\n1,2,3": logbook.ErrHeader,
		"Day,Mould\n": logbook.ErrHeader} {
		_, err := logbook.File([]byte(text), true)
		assert.ErrorIs(t, err, want, "%q", text)
	}
}

func TestDaysOfThreeKinds(t *testing.T) {
	for _, c := range []struct {
		text     string
		dayFirst bool
		want     string
	}{{"3/4/2026", true, "2026-04-03"}, {"3/4/2026", false, "2026-03-04"}, {"13/4/2026", false, "2026-04-13"},
		{"4/13/2026", true, "2026-04-13"},
		{"2026-12-31T23:59", true, "2026-12-31"}, {"29.2.2028", true, "2028-02-29"}} {
		got, err := logbook.ParseDate(c.text, c.dayFirst)
		require.NoError(t, err, c.text)
		assert.Equal(t, c.want, got.String(), c.text)
	}
	for _, wrong := range []string{"", "yesterday", "29.2.2026", "2026-13-01", "1/1/26", "0.1.2026"} {
		_, err := logbook.ParseDate(wrong, true)
		assert.Error(t, err, wrong)
	}
}

// What a casting weighed, where its defect is, and when it was poured.
func TestACastingInFull(t *testing.T) {
	got := read(t, "Day,Mould,Casting,Defect,\"Weight, oz\",X,Y,Z,Time,Out after,Colour,Matched,Finishing\n"+
		"2026-03-04,M,second,swirls,2,1.5,-2,30,9:05,25,grey,yes,4\n2026-03-04,M,scrap,void,,1,,3,,,,,\n2026-03-04,M,good,,,,,,25:00,,,,\n")
	l := got.Lines[0]
	assert.Empty(t, l.Wrong)
	assert.True(t, l.Second)
	assert.InDelta(t, 2*28.349523125, l.Weight, 1e-9)
	assert.Equal(t, &[3]float64{1.5, -2, 30}, l.Place)
	yes := true
	assert.Equal(t, logbook.Air{Poured: "09:05", Out: 25, Colour: "grey", Matched: &yes, Finishing: 4}, l.Air)
	assert.Contains(t, got.Lines[1].Wrong, "x, y and z")
	assert.Contains(t, got.Lines[2].Wrong, "no time of day")
	for text, want := range map[string]string{"14:05": "14:05", "9:05:30": "09:05", "2:05 pm": "14:05",
		"12:30 AM": "00:30", "12:01pm": "12:01"} {
		assert.Equal(t, want, read(t, "Day,Mould,Casting,Time\n2026-03-04,M,good,"+text+"\n").Lines[0].Air.Poured, text)
	}
}

// Castings of one pull belong together; the same file again gives the same keys,
// and two pulls of a day that came out alike are two.
func TestLinesBecomePulls(t *testing.T) {
	day := "2026-03-04,M,1,good\n2026-03-04,M,2,good\n"
	text := "Day,Mould,Cavity,Casting\n" + day + day + "2026-03-05,M,1,good\n"
	a, b := logbook.Pulls(read(t, text).Lines), logbook.Pulls(read(t, text).Lines)
	require.Len(t, a, 3)
	assert.Len(t, a[0].Lines, 2)
	keys := map[string]bool{}
	for i := range a {
		assert.Equal(t, a[i].Key, b[i].Key)
		keys[a[i].Key] = true
	}
	assert.Len(t, keys, 3)
	marked := logbook.Pulls(
		read(
			t,
			"Pull,Day,Mould,Cavity,Casting\nx,2026-03-04,M,1,good\ny,2026-03-04,M,1,good\nx,2026-03-04,M,2,good\ny,2026-03-04,M,1,good\n",
		).Lines,
	)
	require.Len(t, marked, 2)
	assert.Len(t, marked[0].Lines, 2)
	assert.Contains(t, marked[1].Wrong, "given twice")
}

func FuzzFile(f *testing.F) {
	f.Add([]byte("Day,Mould,Casting\n2026-03-04,M,good\n"), true)
	f.Add([]byte("\xff\xfeD\x00"), false)
	f.Add([]byte("Day;Mould;Casting;A\n\"4.3.2026;M;good;4,4\n"), true)
	f.Fuzz(func(t *testing.T, data []byte, dayFirst bool) {
		got, err := logbook.File(data, dayFirst)
		if err != nil {
			return
		}
		n := 0
		for _, p := range logbook.Pulls(got.Lines) {
			n += len(p.Lines)
			assert.NotEmpty(t, p.Key)
		}
		assert.Equal(t, len(got.Lines), n, "no line is lost")
	})
}
