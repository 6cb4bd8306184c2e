package part

import (
	"fmt"

	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// Longest is the longest side in mm that is taken for a part at all.
const Longest = 20_000

// In is a report made in one unit, read as of another: the same mesh, drawn
// larger or smaller. From is 1 for a report in file units.
func In(r mesh.Report, from float64, unit mesh.Unit) (mesh.Report, error) {
	to, err := unit.Millimetres()
	if err != nil {
		return r, err
	}
	f := to / from
	r.Volume *= f * f * f
	for _, v := range []*float64{&r.VolumeError, &r.Hollow, &r.Overlap, &r.OverlapErr, &r.Cast} {
		*v *= f * f * f
	}
	r.Area *= f * f
	r.Bounds = r3.Box{Min: r3.Scale(f, r.Bounds.Min), Max: r3.Scale(f, r.Bounds.Max)}
	if size := r3.Sub(r.Bounds.Max, r.Bounds.Min); max(size.X, size.Y, size.Z) > Longest {
		return r, fmt.Errorf("in %s the part would be %.0f m long", unit, max(size.X, size.Y, size.Z)/1000)
	}
	return r, nil
}
