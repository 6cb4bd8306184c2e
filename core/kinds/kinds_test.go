package kinds

import (
	"fmt"
	"math"
	"regexp"
	"testing"

	"bathyform/core/axis"
	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/mix"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/strip"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// lump is a thick part of 60 mm that draws; the rubber is a usual one.
func lump() Case {
	return Case{Known: true, Wanted: 40, Long: 60, Height: 30, Median: 12, Back: 0.1}
}

func locked(answers ...strip.Answer) []strip.Lock {
	var out []strip.Lock
	for _, a := range answers {
		l := strip.Lock{Volume: 1000, Answer: a}
		if a == strip.Plug {
			l.Volume = strip.Small // a larger one holds the halves
		}
		out = append(out, l)
	}
	return out
}

func rubber(shore float64) *mix.Material {
	return &mix.Material{Name: "r", Ratio: mix.Ratio{A: 10, B: 1}, Density: 1.1, Traits: mix.Traits{Shore: shore, Elongation: 400}}
}

// severity is how a code is judged; empty where nothing says so.
func severity(s Suit, code string) finding.Severity {
	for _, f := range s.Against {
		if f.Code == code {
			return f.Severity
		}
	}
	return ""
}

// Every rule speaks on one side of its limit and keeps silent on the other.
func TestEachKindIsHeldAgainstThePart(t *testing.T) {
	for _, c := range []struct {
		kind   *Kind
		code   string
		judged finding.Severity
		speaks func(*Case)
		silent func(*Case)
	}{
		{Stretch, "too-long-to-peel", finding.Stop, func(c *Case) { c.Long = 80.1 }, func(c *Case) { c.Long = 80 }},
		{Stretch, "rubber-too-stiff-to-peel", finding.Stop, func(c *Case) { c.Rubber = rubber(15.5) },
			func(c *Case) { c.Rubber = rubber(15) }},
		{Stretch, "rubber-too-stiff-to-peel", finding.Stop, func(c *Case) { c.Rubber = nil }, func(c *Case) { c.Rubber = rubber(5) }},
		{Stretch, "rubber-softness-unknown", finding.Watch, func(c *Case) { c.Rubber = rubber(0) }, func(c *Case) { c.Rubber = rubber(5) }},
		{OpenFace, "no-flat-back", finding.Stop, func(c *Case) { c.Back = 0.34 }, func(c *Case) { c.Back = 0.36 }},
		{OpenFace, "held-from-open-face", finding.Stop, func(c *Case) { c.Overhang = locked(strip.SidePiece) },
			func(c *Case) { c.Overhang = locked(strip.Strips) }},
		{OpenFace, "held-from-open-face", finding.Stop, func(c *Case) { c.Overhang = locked(strip.Slit) },
			func(c *Case) { c.Overhang = nil }},
		{OpenFace, "back-uncontrolled", finding.Watch, func(c *Case) {}, nil},
		{OpenFace, "back-uncontrolled", finding.Note, func(c *Case) { c.Rough = true }, nil},
		{Squeeze, "thick-enough-for-a-sprue", finding.Stop, func(c *Case) { c.Median = 4.1 }, func(c *Case) { c.Median = 4 }},
		{Squeeze, "flash-all-round", finding.Note, func(c *Case) {}, nil},
		{Clay, "thin-and-wide", finding.Watch, func(c *Case) { c.Median, c.Height = 4, 14 }, func(c *Case) { c.Median, c.Height = 4, 15 }},
		{Cut, "thin-and-wide", finding.Watch, func(c *Case) { c.Median, c.Height = 4, 14 }, func(c *Case) { c.Median, c.Height = 4.1, 14 }},
		{Board, "parting-not-level", finding.Stop, func(c *Case) { c.Off = 0.95 }, func(c *Case) { c.Off = 0.89 }},
		{Board, "parting-not-level", finding.Stop, func(c *Case) { c.Off, c.Height = 0.6, 4 }, func(c *Case) { c.Off, c.Height = 0.5, 4 }},
		{Shell, "too-few-for-a-shell", finding.Watch, func(c *Case) { c.Wanted = 99 }, func(c *Case) { c.Wanted = 100 }},
		{Shell, "undercuts-unknown", finding.Stop, func(c *Case) { *c = Case{Wanted: 200} }, func(c *Case) { c.Wanted = 200 }},
		{Pieces, "undercuts-unknown", finding.Stop, func(c *Case) { *c = Case{} }, func(c *Case) {}},
		{Tape, "undercuts-unknown", finding.Stop, func(c *Case) { *c = Case{} }, func(c *Case) {}},
		{Cut, "undercuts-unknown", finding.Watch, func(c *Case) { *c = Case{} }, func(c *Case) {}},
		{Pieces, "side-pieces-idle", finding.Watch, func(c *Case) {}, func(c *Case) { c.Locked = locked(strip.SidePiece) }},
		{Pieces, "side-pieces-unneeded", finding.Note, func(c *Case) { c.Locked = locked(strip.Strips) },
			func(c *Case) { c.Locked = locked(strip.Strips, strip.SidePiece) }},
		{Tape, "fins-unseen", finding.Watch, func(c *Case) { c.Rubber = rubber(30) },
			func(c *Case) { c.Rubber = rubber(30); c.Rubber.Traits.Clear = true }},
		{Clay, "undercut-locks", finding.Stop, func(c *Case) { c.Locked = locked(strip.SidePiece) },
			func(c *Case) { c.Locked = locked(strip.Strips) }},
		{Cut, "undercut-locks", finding.Stop, func(c *Case) { c.Locked = locked(strip.SidePiece) },
			func(c *Case) { c.Locked = locked(strip.Plug, strip.Slit) }},
		{Cut, "undercut-locks", finding.Stop, func(c *Case) {
			c.Cut, c.Locked = true, []strip.Lock{{Volume: 900, Mode: strip.Threaded, Answer: strip.SidePiece}}
		},
			func(c *Case) {
				c.Cut, c.Locked = true, []strip.Lock{{Volume: 900, Mode: strip.Core, Answer: strip.SidePiece}}
			}},
		{Cut, "undercut-wants-a-slit", finding.Watch, func(c *Case) {
			c.Cut, c.Locked = true, []strip.Lock{{Volume: 900, Mode: strip.Collar, Answer: strip.SidePiece}}
		}, nil},
		{Cut, "undercut-locks", finding.Stop, func(c *Case) { c.Locked = []strip.Lock{{Volume: 61, Answer: strip.Plug}} },
			func(c *Case) { c.Locked = locked(strip.Plug, strip.Slit) }},
		{Cut, "undercut-locks", finding.Stop, func(c *Case) {
			c.Locked = []strip.Lock{{Volume: 900, Mode: strip.Threaded, Answer: strip.SidePiece, Said: true}}
		},
			func(c *Case) {
				c.Locked = []strip.Lock{{Volume: 900, Mode: strip.Lip, Answer: strip.SidePiece, Said: true}}
			}},
		{Squeeze, "undercut-locks", finding.Stop, func(c *Case) { c.Locked = locked(strip.SidePiece) }, nil},
		{Shell, "undercut-wants-a-slit", finding.Watch, func(c *Case) { c.Locked = locked(strip.Slit) },
			func(c *Case) { c.Locked = locked(strip.Plug) }},
		{Shell, "undercut-wants-filling", finding.Watch, func(c *Case) { c.Locked = locked(strip.Plug) },
			func(c *Case) { c.Locked = locked(strip.Slit) }},
	} {
		t.Run(fmt.Sprintf("%s/%s", c.kind.Key, c.code), func(t *testing.T) {
			part := lump()
			c.speaks(&part)
			s := c.kind.Suits(part)
			assert.Equal(t, c.judged, severity(s, c.code))
			if c.judged == finding.Stop {
				assert.False(t, s.Fits())
			}
			if c.silent == nil {
				return
			}
			part = lump()
			c.silent(&part)
			assert.Empty(t, severity(c.kind.Suits(part), c.code))
		})
	}
}

// A limb, a neck and a pocket of a cut block are freed by slits inside its
// halves; what is threaded never is, and what strips needs none.
func TestReliefSlitsOfACutBlock(t *testing.T) {
	c := Case{Cut: true, Locked: []strip.Lock{
		{Mode: strip.Lip, Answer: strip.SidePiece, Volume: 900, Deep: 12},
		{Mode: strip.Core, Answer: strip.Slit, Volume: 300, Deep: 7},
		{Mode: strip.Lip, Answer: strip.Strips, Volume: 300, Deep: 1},
		{Mode: strip.Threaded, Answer: strip.SidePiece, Volume: 900, Deep: 20},
		{Mode: strip.Lip, Answer: strip.Plug, Volume: 20, Deep: 2},
	}}
	reliefs := c.Reliefs()
	assert.Len(t, reliefs, 2)
	b := &Bench{Kind: Cut, Reliefs: reliefs, Cavities: 2, House: practice.Usual()}
	b.reliefs()
	assert.Contains(t, b.steps[0].Do, "Cut 2 relief slits inside the halves, up to 12 mm deep")
	assert.NotEmpty(t, b.steps[0].Caution, "a blade")
	c.Cut = false
	assert.Empty(t, c.Reliefs(), "two halves that were poured apart are not cut into")
}

// What closes a mould follows from what the resin pushes it open by, and from
// its length: 45 N ask for seven halves of a safe band.
func TestTheClosingFollowsThePush(t *testing.T) {
	b := &Bench{Kind: Clay, House: practice.Usual(), Long: 120, Push: derive.Of(quantity.Number, 45, "given")}
	closing := func(way string, push, long float64) float64 {
		b.House.Schools = map[string]string{practice.Closing: way}
		b.Push, b.Long = derive.Of(quantity.Number, push, "given"), long
		_, n := b.Closing()
		return n.Value
	}
	assert.Equal(t, 4.0, closing(practice.Bands, 45, 120), "1.5 × 45 / 20")
	assert.Equal(t, 8.0, closing(practice.Bands, 45, 320), "one every 40 mm")
	assert.Equal(t, 2.0, closing(practice.Bands, 0.4, 60))
	assert.Equal(t, 4.0, closing(practice.Plates, 1, 60), "a plate has four corners")
	assert.Equal(t, 8.0, closing(practice.Plates, 200, 60))
	assert.Equal(t, 5.0, closing(practice.Tape, 1, 120))
	assert.Equal(t, 1.0, closing(practice.OneBand, 1, 120))
	assert.Empty(t, b.ClosingFindings())
	assert.Equal(t, 1.0, closing(practice.OneBand, 45, 120))
	assert.Equal(t, "one-band-too-few", b.ClosingFindings()[0].Code)
	do, _ := b.closed()
	assert.Contains(t, do, "one band")
}

func TestWhatTheCasterSaidOfAnUndercutHolds(t *testing.T) {
	c := lump()
	c.Locked = locked(strip.SidePiece)
	c.Locked[0].Said = true // he strips it all the same
	s := Clay.Suits(c)
	assert.True(t, s.Fits())
	assert.Equal(t, finding.Watch, severity(s, "undercut-wants-a-slit"))
}

// Soft rubber, short part: nothing that is undercut rules a stretch block out,
// while two parts are held.
func TestAStretchBlockGivesUndercutsFree(t *testing.T) {
	c := lump()
	c.Rubber, c.Locked = rubber(10), locked(strip.SidePiece, strip.SidePiece)
	assert.True(t, Stretch.Suits(c).Fits())
	assert.False(t, Clay.Suits(c).Fits())
	assert.Contains(t, Clay.Suits(c).Why()[0], "2 undercuts are there")
}

func TestASheetPressedMouldIsBuiltElsewhere(t *testing.T) {
	assert.False(t, Hot.Suits(lump()).Fits())
	assert.NotEmpty(t, Hot.Elsewhere)
	assert.NotContains(t, Built, Hot)
	assert.Len(t, Built, 9)
}

func TestEveryKindIsFoundByItsKey(t *testing.T) {
	seen := map[design.Kind]bool{}
	for _, k := range All {
		if found, err := Of(k.Key); k.Elsewhere == "" {
			require.NoError(t, err)
			assert.Same(t, k, found)
		} else {
			assert.ErrorContains(t, err, k.Elsewhere)
		}
		assert.NotEmpty(t, k.What)
		assert.Positive(t, k.Wear)
		assert.False(t, seen[k.Key])
		seen[k.Key] = true
		for _, s := range append(append([]Sheet{}, k.Sheets...), k.Bodies...) {
			assert.NotEmpty(t, s.Label, "%s of %s", s.Key, k.Name)
		}
	}
	_, err := Of("injection")
	assert.ErrorContains(t, err, `no kind of mould "injection"`)
}

// volume is a figure in mL.
func volume(v float64) derive.Number {
	return derive.Of(quantity.Volume, v, "given", derive.From("v", quantity.Volume, v, "the test"))
}

// What is poured, in what order and how much of it, for every kind.
func TestRubberIsSharedOutAsItIsPoured(t *testing.T) {
	halves := []Piece{{"Half A", volume(55)}, {"Half B", volume(45)}}
	sided := append([]Piece{{"Side 1", volume(6)}, {"Side 2", volume(4)}}, Piece{"Half A", volume(50)}, Piece{"Half B", volume(40)})
	skin := volume(30)
	of := func(pieces []Piece, skin *derive.Number) Rubber {
		return Rubber{UpA: axis.PlusZ, UpB: axis.MinusZ, Whole: volume(100), Skin: skin, Pieces: pieces,
			Depth: func(axis.Axis) float64 { return 53 }, Bed: func(up axis.Axis) float64 {
				if up == axis.PlusZ {
					return 23
				}
				return 30
			}}
	}
	for _, k := range Built {
		t.Run(string(k.Key), func(t *testing.T) {
			pieces := halves
			if k.Sided {
				pieces = sided
			}
			var s *derive.Number
			if k.Shelled {
				s = &skin
			}
			want := map[bool]float64{true: 30, false: 100}[k.Shelled]
			sum := 0.0
			pours := k.Share(of(pieces, s))
			for _, p := range pours {
				assert.True(t, p.Known)
				assert.NotEmpty(t, p.Spot)
				sum += p.Volume.Value
			}
			assert.InDelta(t, want, sum, 1e-9, "the pours are the rubber")
			switch {
			case k.Sided:
				require.Len(t, pours, 3)
				assert.Equal(t, []string{"Side 1", "Side 2"}, pours[0].Pieces)
				assert.InDelta(t, 10, pours[0].Volume.Value, 1e-12)
				assert.Zero(t, pours[0].Level, "side pieces are poured into walls of their own")
			case k.Halves:
				require.Len(t, pours, 2)
				assert.Equal(t, [2]float64{23, 53}, [2]float64{pours[0].Bed, pours[0].Level})
				assert.Equal(t, [2]float64{30, 53}, [2]float64{pours[1].Bed, pours[1].Level})
				assert.Equal(t, axis.MinusZ, pours[1].Up)
			default:
				require.Len(t, pours, 1)
			}
			undivided := k.Share(of(nil, nil))
			for _, p := range undivided {
				assert.Equal(t, !k.Halves && !k.Shelled, p.Known, "halves are known once the rubber is divided, one pour at once")
			}
		})
	}
}

func TestShellPaysWhereBlocksCostMore(t *testing.T) {
	// 20 + 70 for every 40 castings against 160 + 25: 230 to 235 at 120, 300 to 260 at 121
	assert.Equal(t, 121, Even(20, 70, 160, 25, 40))
	assert.Zero(t, Even(20, 70, 160, 70, 40), "no cheaper mould, no paying back")
	assert.Zero(t, Even(20, 25, 160, 70, 40))
	assert.Equal(t, 1, Even(20, 70, 20, 25, 40), "at once")
	for q := 1; q < 400; q++ { // against the staircase itself
		n := float64((q + 39) / 40)
		assert.Equal(t, q >= 121, 160+25*n <= 20+70*n, "at %d", q)
	}
}

// An opening on top hangs the part, one below stands it, one at the side holds
// it through the wall.
func TestAPartStandsByItsSprue(t *testing.T) {
	for _, c := range []struct {
		rubber, resin axis.Axis
		want          Stands
	}{
		{axis.PlusZ, axis.PlusZ, Hung}, {axis.PlusZ, axis.MinusZ, OnSprue}, {axis.PlusY, axis.PlusZ, Sideways},
		{axis.MinusX, axis.PlusY, Sideways}, {axis.MinusX, axis.MinusX, Hung},
	} {
		assert.Equal(t, c.want, StandsBy(c.rubber, c.resin), "rubber %s, resin %s up", c.rubber, c.resin)
	}
}

func TestABlindChannelIsATenthOfTheCavity(t *testing.T) {
	b := Blind(volume(42))
	assert.InDelta(t, 4.2, b.Value, 1e-12)
	assert.NotEmpty(t, b.Inputs)
}

func TestNamesBeginSmallInASentence(t *testing.T) {
	assert.Equal(t, "half A", Small("Half A"))
	assert.Equal(t, "6 side pieces", Small("6 side pieces"))
	assert.Empty(t, Small(""))
	assert.Equal(t, "6 side pieces cure.", Pour{Name: "6 side pieces", Pieces: []string{"a", "b"}}.cures())
	assert.Equal(t, "Half A cures.", Pour{Name: "Half A", Pieces: []string{"Half A"}}.cures())
}

// Law: a shelf of figures of any size says the same of a kind, and says it in
// a word that can be looked up.
func TestEveryJudgementHasACodeAndAReason(t *testing.T) {
	code := regexp.MustCompile(`^[a-z]+(-[a-z]+)*$`)
	for _, median := range []float64{0, 1, 4, 9} {
		for _, off := range []float64{0, 2} {
			for _, locks := range [][]strip.Lock{nil, locked(strip.Strips), locked(strip.Slit, strip.Plug, strip.SidePiece)} {
				for _, r := range []*mix.Material{nil, rubber(8), rubber(0)} {
					c := Case{
						Known:    true,
						Long:     90,
						Height:   12,
						Median:   median,
						Off:      off,
						Locked:   locks,
						Overhang: locks,
						Rubber:   r,
						Wanted:   3,
					}
					for _, k := range All {
						for _, f := range k.Suits(c).Against {
							assert.Regexp(t, code, f.Code, f.What)
							assert.NotEmpty(t, f.Why, f.Code)
							assert.NotEmpty(t, f.Source, f.Code)
							if f.Figure != nil && f.Limit != nil {
								assert.False(t, math.IsNaN(f.Figure.Value))
							}
						}
					}
				}
			}
		}
	}
}
