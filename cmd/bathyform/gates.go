package main

import (
	"errors"
	"fmt"
	"io"
	"math"
	"strconv"

	"bathyform/core/bench"
	"bathyform/core/practice"
	"bathyform/core/quantity"

	"github.com/spf13/cobra"
	"gonum.org/v1/gonum/spatial/r3"
)

// gated is what `gates --json` prints.
type gated struct {
	Box       [3]float64    `json:"box_mm"`
	Cavities  []placeJSON   `json:"cavities"`
	Channels  []bodyJSON    `json:"channels"`
	AirLeft   float64       `json:"air_left_mm3"`
	Pockets   []airJSON     `json:"pockets"`
	Cavity    float64       `json:"cavity_mm3"` // of all cavities
	Channel   float64       `json:"channels_mm3"`
	Shot      float64       `json:"shot_mm3"`
	Overlap   float64       `json:"overlap_mm3"`
	Clearance float64       `json:"clearance_mm"`
	Scar      float64       `json:"scar_mm2"`
	Round     bool          `json:"round,omitempty"`
	Runners   string        `json:"runners"`
	Axes      [3][3]float64 `json:"axes"` // of the box, in those of the mesh
	Lost      int           `json:"vents_without_a_way,omitempty"`
}

type placeJSON struct {
	X    float64 `json:"x_mm"`
	Y    float64 `json:"y_mm"`
	Z    float64 `json:"z_mm"`
	Turn float64 `json:"turn_deg"`
}

type bodyJSON struct {
	Kind   string       `json:"kind"`
	Cavity int          `json:"cavity"` // from 0; -1 for one that all share
	Bore   float64      `json:"bore_mm"`
	Rim    float64      `json:"rim_mm"`
	Path   [][3]float64 `json:"path_mm"`
	Volume float64      `json:"volume_mm3"`
}

type airJSON struct {
	pocketJSON
	Cavity int `json:"cavity"`
}

func gatesCommand() *cobra.Command {
	var unit, up, feed, vents, floor, quality, runners string
	var a bench.Block
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "gates FILE",
		Short: "Lay out sprue, runners, gates and vents for one cavity or a gang, and the air that they leave",
		Long: "Lay out sprue, runners, gates and vents for one cavity or a gang, and the air that they leave.\n\n" +
			"Places are in mm over the block's lower corner, as it stands for the resin: x and y across, z up.\n" +
			"A point of the mesh, taken along the three axes that are printed (those of the mesh for --up 0,0,1),\n" +
			"lies in a cavity where turning it about z by turn_deg and then moving it by x, y and z brings it.\n" +
			"A channel is round along its path, bore_mm wide at the first point and rim_mm, where that is not the\n" +
			"same, at the last. What two hold at their joint counts once. cavity_mm3 is of all cavities, and with\n" +
			"channels_mm3 it makes shot_mm3: what stays in the cup is not in it. scar_mm2 is cut off all castings.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) (err error) {
			if a.Up, err = parsePoint("--up", up); err != nil {
				return err
			}
			if cmd.Flags().Changed("count") && a.Count < 1 {
				return fmt.Errorf("--count must be 1 or more, not %d", a.Count)
			}
			if cmd.Flags().Changed("pot") && !(a.Pot > 0 && !math.IsInf(a.Pot, 0)) {
				return fmt.Errorf("--pot must be more than 0, not %g mm", a.Pot)
			}
			if floor != "" {
				if a.Pot > 0 {
					return errors.New("give --pot or --floor, not both")
				}
				if a.Wide, a.Deep, err = parseFloor(floor); err != nil {
					return err
				}
			}
			a.Feed = practice.Feed(feed)
			if a.Vents, err = parseVents(vents); err != nil {
				return err
			}
			if a.System, err = bench.SystemOf(runners); err != nil {
				return fmt.Errorf("--runners: %w", err)
			}
			switch quality {
			case "precision", "good", "decorative":
				a.Fault = bench.FaultOf(quality)
			default:
				return fmt.Errorf("--quality must be precision, good or decorative, not %q", quality)
			}
			m, r, err := loadFile(args[0], unit)
			if err != nil {
				return err
			}
			if r.Flat() {
				return fmt.Errorf("%s: the mesh encloses no volume, so there is nothing to cast", args[0])
			}
			l, err := bench.LayBlock(cmd.Context(), m, r, a)
			if err != nil {
				return err
			}
			if asJSON {
				err = printJSON(cmd.OutOrStdout(), gatedOf(l))
			} else {
				err = listChannels(cmd.OutOrStdout(), l)
			}
			if err == nil && l.Short {
				err = fmt.Errorf("there is room for %d cavities with their channels, not for %d", len(l.Stand.Places), a.Count)
			}
			return err
		},
	}
	f := cmd.Flags()
	f.StringVar(&up, "up", "0,0,1", "way up for the resin as x,y,z")
	f.StringVar(&unit, "unit", "mm", "unit the mesh is drawn in: mm, cm, m or in; lengths here are in mm")
	f.StringVar(&feed, "feed", "low", "low: resin rises from below; top: through one opening at the top of each part")
	f.IntVar(&a.Count, "count", 0, "how many cavities (1, or as many as the pot or floor has room for)")
	f.StringVar(&vents, "vents", "all", "all that matter, few (what spoils a casting), or how many a cavity")
	f.Float64Var(&a.Pot, "pot", 0, "inner diameter of the pot in mm")
	f.StringVar(&floor, "floor", "", "floor of the box in mm, as WIDTHxDEPTH")
	f.Float64Var(&a.Clear, "clearance", 5, "rubber between a channel and a part in mm")
	f.StringVar(&runners, "runners", "", "how a gang is fed: each, ring, comb or tree (what takes the least resin and rubber)")
	f.StringVar(&quality, "quality", "good", "what the order bears: precision, good or decorative")
	f.BoolVar(&asJSON, "json", false, "print JSON for scripts")
	return cmd
}

func parseVents(text string) (int, error) {
	switch text {
	case "all":
		return bench.AllVents, nil
	case "few":
		return bench.FewVents, nil
	}
	n, err := strconv.Atoi(text)
	if err != nil || n < 0 {
		return 0, fmt.Errorf("--vents wants all, few, or how many a cavity, not %q", text)
	}
	return n, nil
}

func gatedOf(l bench.LaidBlock) gated {
	out := gated{
		Box: triple(l.Size), AirLeft: l.Left, Cavity: l.Cavity, Channel: l.Sums.Channels, Shot: l.Shot, Overlap: l.Overlap,
		Clearance: l.Clearance, Scar: l.Scar, Round: l.Round, Runners: string(l.System), Lost: l.Lost,
		Cavities: []placeJSON{}, Channels: []bodyJSON{},
		Pockets: []airJSON{},
	}
	for i, axis := range l.Stand.Axes() {
		out.Axes[i] = triple(axis)
	}
	for _, p := range l.Stand.Places {
		out.Cavities = append(out.Cavities, placeJSON{p.At.X, p.At.Y, p.At.Z, p.Turn})
	}
	for i, b := range l.Bodies {
		c := bodyJSON{Kind: string(b.Kind), Cavity: b.Cavity, Bore: b.Bore, Rim: b.Rim, Volume: l.Volumes[i]}
		if c.Rim == 0 {
			c.Rim = b.Bore
		}
		for _, p := range b.Path {
			c.Path = append(c.Path, triple(p))
		}
		out.Channels = append(out.Channels, c)
	}
	for _, p := range l.Air {
		out.Pockets = append(out.Pockets, airJSON{pocketJSON{p.Volume, triple(p.Apex), p.SealHeight, p.Isolated}, p.Cavity})
	}
	return out
}

func listChannels(w io.Writer, l bench.LaidBlock) error {
	if _, err := fmt.Fprintf(w, "%s in %.4g x %.4g x %.4g mm; %.4g mL in the cavities, %.4g mL in the channels, %.3g mL of air left\n",
		quantity.Plural(len(l.Stand.Places), "cavity", "cavities"), l.Size.X, l.Size.Y, l.Size.Z, l.Cavity/1000,
		l.Sums.Channels/1000, l.Left/1000); err != nil {
		return err
	}
	for i, b := range l.Bodies {
		from, to := b.Path[0], b.Path[len(b.Path)-1]
		_, err := fmt.Fprintf(w, "%-7s %5.3g mm  %s to %s  %8.4g mL\n", b.Kind, b.Bore, at(from), at(to), l.Volumes[i]/1000)
		if err != nil {
			return err
		}
	}
	return nil
}

func at(p r3.Vec) string { return fmt.Sprintf("%6.1f,%6.1f,%6.1f", p.X, p.Y, p.Z) }
