package main

import (
	"context"
	"fmt"

	"bathyform/core/draw"
	"bathyform/core/mesh"
	"bathyform/core/mix"
	"bathyform/core/pieces"
	"bathyform/core/strip"
	"bathyform/core/survey"

	"github.com/spf13/pflag"
)

// lockJSON is a place where the part holds the rubber; strains are shares of one.
type lockJSON struct {
	Mode    strip.Mode   `json:"mode"`
	Volume  float64      `json:"volume_mm3"`
	Strain  float64      `json:"strain"`
	Allowed float64      `json:"allowed"`
	Answer  strip.Answer `json:"answer"`
	Piece   string       `json:"piece"`
	Centre  [3]float64   `json:"centre_mm"`
}

func (l lockJSON) String() string {
	if l.Mode == strip.Threaded {
		return fmt.Sprintf("threaded, no stretching frees it: %s", l.Answer)
	}
	return fmt.Sprintf("%s, strained by %.3g %% of %.3g %%: %s", l.Mode, 100*l.Strain, 100*l.Allowed, l.Answer)
}

func lockOf(v strip.Verdict, volume float64, centre [3]float64) lockJSON {
	return lockJSON{v.Mode, volume, v.Strain.Value / 100, v.Allowed.Value / 100, v.Answer, v.Half.String(), centre}
}

// drawLocks are the locks of a draw whose parting is not laid yet.
func drawLocks(a draw.Analysis, r strip.Rubber, pulls int) []lockJSON {
	out := []lockJSON{}
	for _, j := range survey.JudgeBy(a, r, pulls) {
		out = append(out, lockOf(j.Verdict, j.Volume, triple(j.Centre)))
	}
	return out
}

// pieceLocks are the locks of a mould that was divided.
func pieceLocks(p pieces.Plan) []lockJSON {
	out := []lockJSON{}
	for _, u := range p.Locked {
		l := lockOf(u.Verdict, u.Volume, triple(u.At))
		l.Answer, l.Piece = u.Answer, u.By
		out = append(out, l)
	}
	return out
}

// another answers locks that nothing else opens with another draw, where
// there is one along which all that is locked strips. Side pieces that were
// made are left.
func another(ctx context.Context, m *mesh.Mesh, a draw.Analysis, r strip.Rubber, pulls int, made bool, locks []lockJSON) error {
	hard := false
	for _, l := range locks {
		hard = hard || l.Mode == strip.Threaded || l.Answer == strip.Plug && l.Volume > strip.Small
	}
	if !hard || a.OneSided {
		return nil
	}
	_, found, err := survey.Elsewhere(ctx, m, a.Dir, r, pulls)
	if err != nil || !found {
		return err
	}
	for i := range locks {
		if locks[i].Answer != strip.Strips && (!made || locks[i].Answer != strip.SidePiece) {
			locks[i].Answer = strip.Another
		}
	}
	return nil
}

// rubberFlags say what the rubber stands.
type rubberFlags struct {
	elongation, shore float64
	pulls             int
}

func (f *rubberFlags) add(to *pflag.FlagSet) {
	to.Float64Var(&f.elongation, "elongation", mix.UsualRubber.Elongation, "elongation of the rubber at break in per cent")
	to.Float64Var(&f.shore, "shore", mix.UsualRubber.Shore, "hardness of the rubber, Shore A")
	to.IntVar(&f.pulls, "pulls", 40, "castings wanted from the mould")
}

func (f *rubberFlags) strength() (strip.Rubber, int, error) {
	switch {
	case !(f.elongation > 0) || f.elongation > 2000:
		return strip.Rubber{}, 0, fmt.Errorf("--elongation must lie between 0 and 2000 %%, not %g", f.elongation)
	case !(f.shore > 0) || f.shore > 100:
		return strip.Rubber{}, 0, fmt.Errorf("--shore must lie between 0 and 100, not %g", f.shore)
	case f.pulls < 1:
		return strip.Rubber{}, 0, fmt.Errorf("--pulls must be 1 or more, not %d", f.pulls)
	}
	return strip.Rubber{Shore: f.shore, Elongation: f.elongation, Source: "given"}, f.pulls, nil
}
