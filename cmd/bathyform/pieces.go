package main

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"bathyform/core/draw"
	"bathyform/core/pieces"
	"bathyform/core/practice"

	"github.com/spf13/cobra"
)

// inPieces is what `pieces --json` prints.
type inPieces struct {
	Box    float64     `json:"box_mm3"`
	Round  float64     `json:"box_diameter_mm,omitempty"` // of a round one
	Part   float64     `json:"part_mm3"`
	Cell   float64     `json:"cell_mm"`
	Opens  bool        `json:"opens"`
	Pieces []pieceJSON `json:"pieces"`
	Locks  []lockJSON  `json:"locks"`
}

type pieceJSON struct {
	Name     string     `json:"name"`
	File     string     `json:"file"`
	Draw     [3]float64 `json:"draw"`
	Order    int        `json:"order"`
	Volume   float64    `json:"volume_mm3"`
	Catches  float64    `json:"catches_mm3"`
	Stripped float64    `json:"stripped_mm3"`
	Like     string     `json:"like,omitempty"` // the piece that this one is, turned
}

func piecesCommand() *cobra.Command {
	var unit, dir, out string
	var clearance, parting float64
	var halvesOnly, asJSON bool
	var rubber rubberFlags
	cmd := &cobra.Command{
		Use:   "pieces FILE",
		Short: "Divide the rubber round a part into pieces that come away, and write each as STL",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			along, err := parsePoint("--draw", dir)
			if err != nil {
				return err
			}
			stands, pulls, err := rubber.strength()
			if err != nil {
				return err
			}
			m, r, err := loadFile(args[0], unit)
			if err != nil {
				return err
			}
			if r.Flat() {
				return fmt.Errorf("%s: %w", args[0], pieces.ErrPlan)
			}
			if r.VolumeError > 0 {
				m, _ = m.Capped()
			}
			m = m.Filled(r.Hollows)
			c := pieces.Choices{
				Draw:       along,
				Part:       r.Cast,
				Clearance:  practice.Usual().Clearance,
				HalvesOnly: halvesOnly,
				Rubber:     stands,
				Wanted:     pulls,
			}
			if cmd.Flags().Changed("clearance") {
				c.Clearance = practice.Clearance{Beside: clearance, Below: clearance, Above: clearance}
			}
			if cmd.Flags().Changed("parting") {
				c.Parting = &parting
			}
			p, err := pieces.Make(cmd.Context(), m, c, nil)
			if err != nil {
				return err
			}
			if err := p.Handed(); err != nil {
				return fmt.Errorf("%s: %w", args[0], err)
			}
			locks := pieceLocks(p)
			if !p.Opens() {
				a, err := draw.Analyse(cmd.Context(), m, along, draw.Options{})
				if err != nil {
					return err
				}
				if err := another(cmd.Context(), m, a, stands, pulls, true, locks); err != nil {
					return err
				}
			}
			return writePieces(cmd, p, locks, out, asJSON)
		},
	}
	f := cmd.Flags()
	f.StringVar(&dir, "draw", "0,0,1", "direction that half A comes off, as x,y,z")
	f.StringVar(&unit, "unit", "mm", "unit the mesh is drawn in: mm, cm, m or in; lengths here are in mm")
	f.Float64Var(&clearance, "clearance", 0, "rubber all round the part in mm (beside 12, below 13, above 20)")
	f.Float64Var(&parting, "parting", 0, "height of the parting along the draw in mm (where the outline is)")
	f.BoolVar(&halvesOnly, "halves-only", false, "no side pieces: what is undercut is stripped")
	f.StringVar(&out, "out", ".", "folder for the pieces")
	f.BoolVar(&asJSON, "json", false, "print JSON for scripts")
	rubber.add(f)
	return cmd
}

func writePieces(cmd *cobra.Command, p pieces.Plan, locks []lockJSON, dir string, asJSON bool) error {
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return err
	}
	out := inPieces{Box: p.Volume, Round: p.Round, Part: p.Part, Cell: p.Cell, Opens: p.Opens(), Locks: locks, Pieces: []pieceJSON{}}
	for _, q := range p.Pieces {
		file := filepath.Join(dir, strings.ToLower(strings.ReplaceAll(q.Name, " ", "-"))+".stl")
		if err := os.WriteFile(file, q.Mesh.WriteSTL(), 0o644); err != nil {
			return err
		}
		out.Pieces = append(out.Pieces, pieceJSON{q.Name, file, triple(q.Draw), q.Order, q.Volume, q.Catches, q.Stripped, q.Like})
	}
	if asJSON {
		return printJSON(cmd.OutOrStdout(), out)
	}
	w := cmd.OutOrStdout()
	if _, err := fmt.Fprintf(w, "a box of %.4g mL in %d pieces, in the order they are opened\n", p.Volume/1000, len(p.Pieces)); err != nil {
		return err
	}
	for _, q := range out.Pieces {
		note := ""
		if q.Stripped > 1 {
			note = fmt.Sprintf(", %.3g mL of it stripped", q.Stripped/1000)
		}
		if q.Catches > 1 {
			note += fmt.Sprintf(", %.3g mL of it CATCHES", q.Catches/1000)
		}
		if _, err := fmt.Fprintf(w, "%d  %-8s %8.4g mL  %s%s\n", q.Order, q.Name, q.Volume/1000, q.File, note); err != nil {
			return err
		}
	}
	for _, l := range locks {
		if _, err := fmt.Fprintf(w, "   %.3g mL locked in %s: %s\n", l.Volume/1000, l.Piece, l); err != nil {
			return err
		}
	}
	if !out.Opens {
		_, err := fmt.Fprintln(w, "THE MOULD DOES NOT OPEN as it is: see what is locked")
		return err
	}
	return nil
}
