package main

import (
	"fmt"
	"io"
	"slices"

	"bathyform/core/draw"
	"bathyform/core/strip"

	"github.com/spf13/cobra"
	"gonum.org/v1/gonum/spatial/r3"
)

// drawing is what `draw --json` prints.
type drawing struct {
	Cell     float64     `json:"cell_mm"`
	Undercut bool        `json:"undercut"`
	Volume   float64     `json:"undercut_mm3"`
	Area     float64     `json:"undercut_area_mm2"`
	Sealed   float64     `json:"sealed_mm3"`
	Spaces   []spaceJSON `json:"spaces"`
	Opens    bool        `json:"opens"`
	Locks    []lockJSON  `json:"locks"`
}

type spaceJSON struct {
	Volume  float64    `json:"volume_mm3"`
	Depth   float64    `json:"depth_mm"`
	Opening float64    `json:"opening_mm2"`
	Height  float64    `json:"height_mm"`
	Centre  [3]float64 `json:"centre_mm"`
	Out     [3]float64 `json:"out"`
}

func drawCommand() *cobra.Command {
	var unit, dir string
	var cell float64
	var oneSided, asJSON bool
	var rubber rubberFlags
	cmd := &cobra.Command{
		Use:   "draw FILE",
		Short: "Find the rubber that is locked when the part and its mould are drawn apart",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			along, err := parsePoint("--dir", dir)
			if err != nil {
				return err
			}
			if cmd.Flags().Changed("cell") && !(cell > 0) {
				return fmt.Errorf("--cell must be more than 0, not %g mm", cell)
			}
			m, r, err := loadFile(args[0], unit)
			if err != nil {
				return err
			}
			if r.Flat() {
				return fmt.Errorf("%s: the mesh encloses no volume, so there is nothing to draw", args[0])
			}
			stands, pulls, err := rubber.strength()
			if err != nil {
				return err
			}
			a, err := draw.Analyse(cmd.Context(), m, along, draw.Options{Cell: cell, OneSided: oneSided})
			if err != nil {
				return err
			}
			locks := drawLocks(a, stands, pulls)
			if err := another(cmd.Context(), m, a, stands, pulls, false, locks); err != nil {
				return err
			}
			if !asJSON {
				return listSpaces(cmd.OutOrStdout(), a, locks)
			}
			out := drawing{
				Cell:     a.Cell,
				Undercut: a.Undercut(),
				Volume:   a.Volume,
				Area:     a.Faces.Locked,
				Sealed:   a.Sealed,
				Spaces:   []spaceJSON{},
				Locks:    locks,
				Opens:    !slices.ContainsFunc(locks, func(l lockJSON) bool { return l.Answer != strip.Strips }),
			}
			if !out.Undercut {
				out.Area = 0 // specks of facets that lock no rubber
			}
			for _, s := range a.Spaces {
				out.Spaces = append(out.Spaces, spaceJSON{s.Volume, s.Depth, s.Opening, s.Height, triple(s.Centre), triple(s.Out)})
			}
			return printJSON(cmd.OutOrStdout(), out)
		},
	}
	f := cmd.Flags()
	f.StringVar(&dir, "dir", "0,0,1", "draw direction as x,y,z; with --one-sided the way the part leaves its mould")
	f.StringVar(&unit, "unit", "mm", "unit the mesh is drawn in: mm, cm, m or in; lengths here are in mm")
	f.Float64Var(&cell, "cell", 0, "side of a column in mm (a 128th of the longest side)")
	f.BoolVar(&oneSided, "one-sided", false, "a mould of one piece, which the part leaves one way only")
	f.BoolVar(&asJSON, "json", false, "print JSON for scripts")
	rubber.add(f)
	return cmd
}

func listSpaces(w io.Writer, a draw.Analysis, locks []lockJSON) error {
	if !a.Undercut() {
		_, err := fmt.Fprintln(w, "nothing is locked: the part draws")
		return err
	}
	if _, err := fmt.Fprintf(w, "%.4g mL of rubber is locked, in %d places\n", a.Volume/1000, len(a.Spaces)); err != nil {
		return err
	}
	for i, s := range a.Spaces {
		at := func(v r3.Vec) string { return fmt.Sprintf("%.4g, %.4g, %.4g", v.X, v.Y, v.Z) }
		if _, err := fmt.Fprintf(w, "%10.4g mL at %s, %.3g mm deep: %s\n", s.Volume/1000, at(s.Centre), s.Depth, locks[i]); err != nil {
			return err
		}
	}
	return nil
}
