package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"runtime/debug"
	"syscall"

	"bathyform/core/mesh"

	"github.com/spf13/cobra"
	"gonum.org/v1/gonum/spatial/r3"
)

// inspection is what `inspect --json` prints.
type inspection struct {
	Format      string   `json:"format"`
	Triangles   int      `json:"triangles"`
	Volume      float64  `json:"volume_mm3"`
	VolumeError float64  `json:"volume_error_mm3"`
	Area        float64  `json:"area_mm2"`
	Bounds      boxJSON  `json:"bbox_mm"`
	Closed      bool     `json:"closed"`
	Open        int      `json:"open_edges"`
	NonManifold int      `json:"nonmanifold_edges"`
	Misoriented int      `json:"misoriented_edges"`
	Bodies      int      `json:"bodies"`
	Voids       int      `json:"voids"`
	Hollows     int      `json:"hollows"`
	Hollow      float64  `json:"hollow_mm3"`
	Overlap     float64  `json:"overlap_mm3"`
	Cast        float64  `json:"cast_mm3"`
	Warnings    []string `json:"warnings"`
}

type boxJSON struct {
	Min [3]float64 `json:"min"`
	Max [3]float64 `json:"max"`
}

func triple(v r3.Vec) [3]float64 { return [3]float64{v.X, v.Y, v.Z} }

func inspectCommand() *cobra.Command {
	var unit string
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "inspect FILE",
		Short: "Measure a mesh: volume, surface, size, and how well it closes",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			_, r, err := loadFile(args[0], unit)
			if err != nil {
				return err
			}
			if asJSON {
				return printJSON(cmd.OutOrStdout(), inspection{
					Format: string(
						r.Format,
					), Triangles: r.Triangles, Volume: r.Volume, VolumeError: r.VolumeError + r.OverlapErr, Area: r.Area,
					Bounds: boxJSON{triple(r.Bounds.Min), triple(r.Bounds.Max)}, Closed: r.Edges.Closed(),
					Open: r.Edges.Open, NonManifold: r.Edges.NonManifold, Misoriented: r.Edges.Misoriented,
					Bodies: r.Bodies, Voids: r.Voids, Hollows: r.Voids, Hollow: r.Hollow, Overlap: r.Overlap, Cast: r.Cast,
					Warnings: append([]string{}, r.Warnings...),
				})
			}
			return describe(cmd.OutOrStdout(), r)
		},
	}
	cmd.Flags().StringVar(&unit, "unit", "mm", "unit the mesh is drawn in: mm, cm, m or in")
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON for scripts")
	return cmd
}

func describe(w io.Writer, r mesh.Report) error {
	size := r3.Sub(r.Bounds.Max, r.Bounds.Min)
	closed := "closed"
	if !r.Edges.Closed() {
		closed = fmt.Sprintf(
			"not closed: %d open, %d non-manifold, %d misoriented edges",
			r.Edges.Open,
			r.Edges.NonManifold,
			r.Edges.Misoriented,
		)
	}
	_, err := fmt.Fprintf(w, "%s, %d triangles, %d bodies, %s\nvolume  %.6g mL\nsurface %.6g cm²\nsize    %.6g x %.6g x %.6g mm\n",
		r.Format, r.Triangles, r.Bodies, closed, r.Volume/1000, r.Area/100, size.X, size.Y, size.Z)
	for _, warning := range r.Warnings {
		if _, err := fmt.Fprintln(w, "note:   "+warning); err != nil {
			return err
		}
	}
	return err
}

// loadFile reads and examines a mesh, with an error that names the file.
func loadFile(path, unit string) (*mesh.Mesh, mesh.Report, error) {
	factor, err := mesh.Unit(unit).Millimetres()
	if err != nil {
		return nil, mesh.Report{}, err
	}
	debug.SetGCPercent(-1) // one mesh and out: collecting only costs time until memory runs short
	debug.SetMemoryLimit(400 << 20)
	data, err := readFile(path)
	if err != nil {
		var pathErr *fs.PathError
		if errors.As(err, &pathErr) {
			err = pathErr.Err
		}
		return nil, mesh.Report{}, fmt.Errorf("%s: %w", path, err)
	}
	m, r, err := mesh.Load(data, factor)
	if err != nil {
		return nil, r, fmt.Errorf("%s: %w", path, err)
	}
	return m, r, nil
}

// readFile maps a large file into memory instead of copying it, which is a
// good part of the time for a large mesh. The mapping lives as long as the
// command does.
func readFile(path string) ([]byte, error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	info, err := f.Stat()
	if err != nil || !info.Mode().IsRegular() || info.Size() < 1<<20 {
		return os.ReadFile(path) // small, or a pipe whose size is not known
	}
	data, err := syscall.Mmap(int(f.Fd()), 0, int(info.Size()), syscall.PROT_READ, syscall.MAP_PRIVATE)
	if err != nil {
		return os.ReadFile(path)
	}
	return data, nil
}

func printJSON(w io.Writer, v any) error {
	enc := json.NewEncoder(w)
	enc.SetIndent("", "  ")
	return enc.Encode(v)
}
