package main

import (
	"errors"
	"fmt"
	"strconv"
	"strings"

	"bathyform/core/gang"
	"bathyform/core/practice"
	"bathyform/core/quantity"

	"github.com/spf13/cobra"
)

// ganged is what `gang --json` prints.
type ganged struct {
	Placed   int        `json:"placed"`
	Sets     int        `json:"sets,omitempty"`
	Layout   string     `json:"layout"`
	Width    float64    `json:"width_mm"`
	Depth    float64    `json:"depth_mm"`
	Diameter float64    `json:"diameter_mm"`
	Rubber   float64    `json:"rubber_mm3"`
	Poses    []poseJSON `json:"poses"`
}

type poseJSON struct {
	X    float64 `json:"x_mm"`
	Y    float64 `json:"y_mm"`
	Turn float64 `json:"turn_deg"`
	Part int     `json:"part"` // which of the files, from 0
}

func gangCommand() *cobra.Command {
	var unit, up, floor, ratio string
	var count int
	var pot, gap, edge float64
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "gang FILE [FILE ...]",
		Short: "Lay several cavities of a part into a box, onto a floor or into the pressure pot",
		Long: "Lay several cavities of a part into a box, onto a floor or into the pressure pot.\n" +
			"Poses are those of the middle of the smallest circle round the part seen from above.",
		Args: cobra.MinimumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			dir, err := parsePoint("--up", up)
			if err != nil {
				return err
			}
			ask := gang.Ask{Count: count, Pot: pot, Gap: gap, Edge: edge}
			if cmd.Flags().Changed("count") && count < 1 {
				return fmt.Errorf("--count must be 1 or more, not %d", count)
			}
			if cmd.Flags().Changed("pot") && !(pot > 0) {
				return fmt.Errorf("--pot must be more than 0, not %g mm", pot)
			}
			if floor != "" {
				if ask.Wide, ask.Deep, err = parseFloor(floor); err != nil {
					return err
				}
			}
			var shapes []gang.Shape
			var volumes []float64
			height := 0.0
			for _, file := range args {
				m, r, err := loadFile(file, unit)
				if err != nil {
					return err
				}
				if r.Flat() {
					return fmt.Errorf("%s: the mesh encloses no volume, so there is nothing to cast", file)
				}
				s, err := gang.Seen(m.Filled(r.Hollows), dir)
				if err != nil {
					return fmt.Errorf("%s: %w", file, err)
				}
				shapes, volumes, height = append(shapes, s), append(volumes, r.Cast), max(height, s.Height)
			}
			c := practice.Usual().Clearance
			if len(args) > 1 || ratio != "" {
				return gangSet(cmd, shapes, volumes, height+c.Below+c.Above, ratio, ask, asJSON)
			}
			s := shapes[0]
			l, err := gang.Lay(s, ask)
			if err != nil && !errors.Is(err, gang.ErrFewer) {
				return err
			}
			out := ganged{Placed: len(l.Poses), Layout: l.Kind, Width: l.Wide, Depth: l.Deep, Diameter: l.Diameter, Poses: []poseJSON{},
				Rubber: l.Rubber(height+c.Below+c.Above, volumes[0])}
			for _, p := range l.Poses {
				out.Poses = append(out.Poses, poseJSON{p.X, p.Y, p.Turn, 0})
			}
			if asJSON {
				if printed := printJSON(cmd.OutOrStdout(), out); printed != nil {
					return printed
				}
				return err // fewer than were asked for
			}
			if _, printed := fmt.Fprintf(cmd.OutOrStdout(), "%d cavities, %s, in %.4g x %.4g mm; %.4g mL of rubber\n",
				out.Placed, out.Layout, out.Width, out.Depth, out.Rubber/1000); printed != nil {
				return printed
			}
			return err
		},
	}
	f := cmd.Flags()
	f.StringVar(&up, "up", "0,0,1", "way up of the part in the box, as x,y,z")
	f.StringVar(&unit, "unit", "mm", "unit the mesh is drawn in: mm, cm, m or in; lengths here are in mm")
	f.IntVar(&count, "count", 0, "how many cavities, or sets (as many as there is room for)")
	f.StringVar(&ratio, "ratio", "", "of several files: how many of each make a set, as in 2:1:1 (one of each)")
	f.Float64Var(&pot, "pot", 0, "inner diameter of the pot in mm")
	f.StringVar(&floor, "floor", "", "floor of the box in mm, as WIDTHxDEPTH")
	f.Float64Var(&gap, "gap", 8, "rubber between two cavities in mm")
	f.Float64Var(&edge, "edge", 12, "rubber between a cavity and the wall in mm")
	f.BoolVar(&asJSON, "json", false, "print JSON for scripts")
	return cmd
}

// gangSet lays several parts of one set.
func gangSet(cmd *cobra.Command, shapes []gang.Shape, volumes []float64, height float64, ratio string, ask gang.Ask, asJSON bool) error {
	of := make([]int, len(shapes))
	for i := range of {
		of[i] = 1
	}
	if ratio != "" {
		parts := strings.Split(ratio, ":")
		if len(parts) != len(shapes) {
			return fmt.Errorf("--ratio wants a number for each of the %d files, as in 2:1:1, not %q", len(shapes), ratio)
		}
		for i, p := range parts {
			n, err := strconv.Atoi(strings.TrimSpace(p))
			if err != nil || n < 1 {
				return fmt.Errorf("--ratio wants whole numbers of 1 and more, as in 2:1:1, not %q", ratio)
			}
			of[i] = n
		}
	}
	l, err := gang.LaySet(shapes, of, ask)
	if err != nil && !errors.Is(err, gang.ErrFewer) {
		return err
	}
	out := ganged{Placed: len(l.Poses), Sets: l.Sets, Layout: "by outline", Width: l.Wide, Depth: l.Deep, Diameter: l.Diameter,
		Rubber: l.Rubber(height, volumes), Poses: []poseJSON{}}
	for _, p := range l.Poses {
		out.Poses = append(out.Poses, poseJSON{p.X, p.Y, p.Turn, p.Shape})
	}
	if asJSON {
		return errors.Join(printJSON(cmd.OutOrStdout(), out), err)
	}
	_, printed := fmt.Fprintf(cmd.OutOrStdout(), "%s, %s, in %.4g x %.4g mm; %.4g mL of rubber\n", quantity.Plural(out.Sets, "set", "sets"),
		quantity.Plural(out.Placed, "cavity", "cavities"), out.Width, out.Depth, out.Rubber/1000)
	return errors.Join(printed, err)
}

func parseFloor(s string) (wide, deep float64, err error) {
	a, b, ok := strings.Cut(strings.ToLower(s), "x")
	if ok {
		wide, err = strconv.ParseFloat(strings.TrimSpace(a), 64)
		if err == nil {
			deep, err = strconv.ParseFloat(strings.TrimSpace(b), 64)
		}
	}
	if !ok || err != nil || !(wide > 0) || !(deep > 0) {
		return 0, 0, fmt.Errorf("--floor wants a width and a depth in mm, as in 200x150, not %q", s)
	}
	return wide, deep, nil
}
