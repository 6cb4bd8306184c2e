package main

import (
	"fmt"

	"bathyform/core/mesh"
	"bathyform/core/thick"

	"github.com/spf13/cobra"
	"gonum.org/v1/gonum/spatial/r3"
)

// wallsOut is what `walls --json` prints.
type wallsOut struct {
	Thinnest   float64    `json:"thinnest_mm"`
	ThinnestAt [3]float64 `json:"thinnest_at_mm"`
	Thickest   float64    `json:"thickest_mm"`
	ThickestAt [3]float64 `json:"thickest_at_mm"`
	Median     float64    `json:"median_mm"`
	At         []wallAt   `json:"at"`
}

type wallAt struct {
	Thickness float64    `json:"thickness_mm"`
	Place     [3]float64 `json:"place_mm"`
}

func wallsCommand() *cobra.Command {
	var unit string
	var at []string
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "walls FILE",
		Short: "Measure how thick a part is: its thinnest and thickest place, and any that are asked for",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			places := make([]r3.Vec, len(at))
			for i, s := range at {
				p, err := parsePoint("--at", s)
				if err != nil {
					return err
				}
				places[i] = p
			}
			m, r, err := loadFile(args[0], unit)
			if err != nil {
				return err
			}
			if r.Flat() {
				return fmt.Errorf("%s: the mesh encloses no volume, so it has no thickness", args[0])
			}
			return printWalls(cmd, m, r, places, asJSON)
		},
	}
	f := cmd.Flags()
	f.StringArrayVar(&at, "at", nil, "a place as x,y,z in mm: the thickness at the surface nearest to it; may be given again")
	f.StringVar(&unit, "unit", "mm", "unit the mesh is drawn in: mm, cm, m or in; lengths here are in mm")
	f.BoolVar(&asJSON, "json", false, "print JSON for scripts")
	return cmd
}

func printWalls(cmd *cobra.Command, m *mesh.Mesh, r mesh.Report, places []r3.Vec, asJSON bool) error {
	if r.VolumeError > 0 {
		m, _ = m.Capped()
	}
	t, err := thick.Of(cmd.Context(), m)
	if err != nil {
		return err
	}
	out := wallsOut{
		Thinnest: t.Thinnest.Thickness, ThinnestAt: triple(t.Thinnest.At),
		Thickest: t.Thickest.Thickness, ThickestAt: triple(t.Thickest.At),
		Median: t.Median, At: []wallAt{},
	}
	if len(places) > 0 {
		s := thick.Sound(m, t)
		for _, p := range places {
			w := s.At(p)
			out.At = append(out.At, wallAt{w.Thickness, triple(w.At)})
		}
	}
	if asJSON {
		return printJSON(cmd.OutOrStdout(), out)
	}
	w := cmd.OutOrStdout()
	say := func(name string, h float64, at [3]float64) error {
		_, err := fmt.Fprintf(w, "%-9s %8.4g mm at %.4g, %.4g, %.4g\n", name, h, at[0], at[1], at[2])
		return err
	}
	if err := say("thinnest", out.Thinnest, out.ThinnestAt); err != nil {
		return err
	}
	if err := say("thickest", out.Thickest, out.ThickestAt); err != nil {
		return err
	}
	for _, a := range out.At {
		if err := say("there", a.Thickness, a.Place); err != nil {
			return err
		}
	}
	return nil
}
