package main

import (
	"errors"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"

	"bathyform/core/fill"

	"github.com/spf13/cobra"
	"gonum.org/v1/gonum/spatial/r3"
)

// trapping is what `trap --json` prints.
type trapping struct {
	Cell    float64      `json:"cell_mm"`
	Exact   bool         `json:"exact"`
	Ignored float64      `json:"ignored_below_mm3"`
	Trapped float64      `json:"trapped_mm3"`
	Pockets []pocketJSON `json:"pockets"`
}

type pocketJSON struct {
	Volume   float64    `json:"volume_mm3"`
	Apex     [3]float64 `json:"apex_mm"`
	Seal     float64    `json:"seal_height_mm"`
	Isolated bool       `json:"isolated"`
}

// ventBore is the bore in mm of a vent that is given without one.
const ventBore = 2

func trapCommand() *cobra.Command {
	var unit, up string
	var vents []string
	var cell, clearance float64
	var around, asJSON bool
	cmd := &cobra.Command{
		Use:   "trap FILE",
		Short: "Find the air that resin in the cavity, or rubber round the part, shuts in",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			dir, err := parsePoint("--up", up)
			if err != nil {
				return err
			}
			var openings []fill.Opening
			for _, text := range vents {
				o, err := parseVent(text)
				if err != nil {
					return err
				}
				openings = append(openings, o)
			}
			if cmd.Flags().Changed("cell") && !(cell > 0) {
				return fmt.Errorf("--cell must be more than 0, not %g mm", cell)
			}
			if cmd.Flags().Changed("clearance") && !around {
				return errors.New("--clearance goes with --around")
			}
			m, r, err := loadFile(args[0], unit)
			if err != nil {
				return err
			}
			if r.Flat() {
				return fmt.Errorf("%s: the mesh encloses no volume, so there is nothing to fill", args[0])
			}
			opt := fill.Options{Cell: cell, Around: around, Headroom: clearance, Sound: r.Sound}
			space, err := fill.Prepare(m.Filled(r.Hollows), dir, opt)
			if err != nil {
				return err
			}
			found, err := space.Trap(openings)
			if err != nil {
				return err
			}
			if asJSON {
				out := trapping{
					Cell:    space.Cell(),
					Exact:   space.Exact(),
					Ignored: found.Ignored,
					Trapped: found.Volume,
					Pockets: []pocketJSON{},
				}
				for _, p := range found.Pockets {
					out.Pockets = append(out.Pockets, pocketJSON{p.Volume, triple(p.Apex), p.SealHeight, p.Isolated})
				}
				return printJSON(cmd.OutOrStdout(), out)
			}
			return listPockets(cmd.OutOrStdout(), found)
		},
	}
	f := cmd.Flags()
	f.StringVar(&up, "up", "0,0,1", "way up as x,y,z")
	f.StringVar(&unit, "unit", "mm", "unit the mesh is drawn in: mm, cm, m or in; points and lengths here are in mm")
	f.Float64Var(&cell, "cell", 0, "side of a column in mm (a 128th of the longest side)")
	f.StringArrayVar(&vents, "vent", nil, "a vent on the surface as x,y,z or x,y,z,bore; may be repeated")
	f.BoolVar(&around, "around", false, "rubber rising round the part in an open-topped box, instead of resin in the cavity")
	f.Float64Var(&clearance, "clearance", 10, "clearance over the part in mm, with --around")
	f.BoolVar(&asJSON, "json", false, "print JSON for scripts")
	return cmd
}

func listPockets(w io.Writer, found fill.Trapped) error {
	if len(found.Pockets) == 0 {
		_, err := fmt.Fprintf(w, "no air is shut in (pockets under %.2g mm³ are not counted)\n", found.Ignored)
		return err
	}
	if _, err := fmt.Fprintf(w, "%.4g mL of air is shut in, in %d places\n", found.Volume/1000, len(found.Pockets)); err != nil {
		return err
	}
	for _, p := range found.Pockets {
		how := fmt.Sprintf("shut in at %.4g mm", p.SealHeight)
		if p.Isolated {
			how = "no way out at all"
		}
		if _, err := fmt.Fprintf(w, "%10.4g mL under %.4g, %.4g, %.4g, %s\n", p.Volume/1000, p.Apex.X, p.Apex.Y, p.Apex.Z,
			how); err != nil {
			return err
		}
	}
	return nil
}

func numbers(text string) ([]float64, error) {
	var out []float64
	for _, field := range strings.Split(text, ",") {
		x, err := strconv.ParseFloat(strings.TrimSpace(field), 64)
		if err != nil || math.IsNaN(x) || math.IsInf(x, 0) {
			return nil, fmt.Errorf("%q is not a number", field)
		}
		out = append(out, x)
	}
	return out, nil
}

func parsePoint(flag, text string) (r3.Vec, error) {
	n, err := numbers(text)
	if err != nil || len(n) != 3 {
		return r3.Vec{}, fmt.Errorf("%s needs three numbers as x,y,z, not %q", flag, text)
	}
	return r3.Vec{X: n[0], Y: n[1], Z: n[2]}, nil
}

func parseVent(text string) (fill.Opening, error) {
	n, err := numbers(text)
	if err != nil || len(n) < 3 || len(n) > 4 {
		return fill.Opening{}, fmt.Errorf("--vent needs x,y,z or x,y,z,bore, not %q", text)
	}
	o := fill.Opening{At: r3.Vec{X: n[0], Y: n[1], Z: n[2]}, Bore: ventBore}
	if len(n) == 4 {
		o.Bore = n[3]
	}
	return o, nil
}
