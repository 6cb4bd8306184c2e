package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"

	"bathyform/core/flow"
	"bathyform/core/mix"

	"github.com/spf13/cobra"
)

// networkJSON is what `flow` reads.
type networkJSON struct {
	Viscosity float64       `json:"viscosity_pas"`
	Density   *float64      `json:"density_gml"`
	Pressure  *float64      `json:"pressure_pa"`
	Head      *float64      `json:"head_mm"`
	Nodes     []nodeJSON    `json:"nodes"`
	Channels  []channelJSON `json:"channels"`
	Cavities  []cavityJSON  `json:"cavities"`
	Doubling  float64       `json:"doubling_s"`
}

type channelJSON struct {
	From   nodeJSON `json:"from"`
	To     nodeJSON `json:"to"`
	Bore   float64  `json:"bore_mm"`
	Rim    float64  `json:"rim_mm"`
	Width  float64  `json:"width_mm"`
	Height float64  `json:"height_mm"`
	Length float64  `json:"length_mm"`
}

type cavityJSON struct {
	Node   nodeJSON `json:"node"`
	Volume float64  `json:"volume_ml"`
	Height float64  `json:"height_mm"`
}

// nodeJSON is a node's name: a text, a number, or an object that has one.
type nodeJSON string

func (n *nodeJSON) UnmarshalJSON(data []byte) error {
	var v any
	if err := json.Unmarshal(data, &v); err != nil {
		return err
	}
	if named, ok := v.(map[string]any); ok {
		if v = named["name"]; v == nil {
			v = named["id"]
		}
	}
	switch name := v.(type) {
	case string:
		*n = nodeJSON(name)
	case float64:
		*n = nodeJSON(strconv.FormatFloat(name, 'f', -1, 64))
	default:
		return fmt.Errorf("a node is a name or a number, not %s", data)
	}
	return nil
}

// flowing is what `flow --json` prints.
type flowing struct {
	Channels []runJSON    `json:"channels"`
	Cavities []filledJSON `json:"cavities"`
}

type runJSON struct {
	Resistance float64 `json:"resistance_pas_m3"`
	Flow       float64 `json:"flow_mls"`
	Reynolds   float64 `json:"reynolds"`
	Share      float64 `json:"share"`
}

type filledJSON struct {
	At    *float64 `json:"fills_at_s,omitempty"`
	Never bool     `json:"never,omitempty"`
	Why   string   `json:"why,omitempty"`
}

// usualDensity of a casting resin in g/mL, where none is given.
const usualDensity = 1.1

func flowCommand() *cobra.Command {
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "flow < NETWORK.json",
		Short: "Work out what each channel of a mould carries, and when each cavity is full",
		Long: "Work out what each channel of a mould carries, and when each cavity is full.\n" +
			"Reads viscosity_pas, density_gml (1.1), pressure_pa or head_mm at the well, nodes, channels with bore_mm (and rim_mm at\n" +
			"the other end of a taper) or width_mm and height_mm, cavities with volume_ml and height_mm, and doubling_s, in which\n" +
			"the resin grows twice as thick. The well is the node called \"well\", else the first that no channel leads to.\n" +
			"A cavity's height counts from the level that the head is counted from: what stands in it presses back.",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			n, err := readNetwork(cmd.InOrStdin())
			if err != nil {
				return err
			}
			s, err := n.Solve()
			if err != nil {
				return err
			}
			if asJSON {
				return printJSON(cmd.OutOrStdout(), flowed(s))
			}
			return listFlow(cmd.OutOrStdout(), n, s)
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON for scripts")
	return cmd
}

// mostRead is how large a network may be on its way in, bytes.
const mostRead = 16 << 20

func readNetwork(r io.Reader) (flow.Network, error) {
	var in networkJSON
	if err := json.NewDecoder(io.LimitReader(r, mostRead)).Decode(&in); err != nil {
		return flow.Network{}, fmt.Errorf("the network cannot be read: %w", err)
	}
	n := flow.Network{Viscosity: in.Viscosity, Density: usualDensity * 1000}
	if in.Density != nil {
		n.Density = *in.Density * 1000
	}
	switch {
	case (in.Pressure == nil) == (in.Head == nil):
		return n, errors.New("give either pressure_pa or head_mm")
	case in.Pressure != nil:
		n.Pressure = *in.Pressure
	default:
		n.Pressure = flow.Head(n.Density, *in.Head/1000)
	}
	if in.Doubling < 0 {
		return n, fmt.Errorf("doubling_s must be more than 0, or left out where the resin stays as thin, not %g", in.Doubling)
	}
	if in.Doubling > 0 {
		n.Growth = mix.Growth{PotLife: in.Doubling, Times: 2}
	}
	for _, node := range in.Nodes {
		n.Nodes = append(n.Nodes, string(node))
	}
	for _, c := range in.Channels {
		n.Channels = append(n.Channels, flow.Channel{From: called(n.Nodes, c.From), To: called(n.Nodes, c.To),
			Bore: c.Bore / 1000, Rim: c.Rim / 1000, Width: c.Width / 1000, Height: c.Height / 1000, Length: c.Length / 1000})
	}
	for _, c := range in.Cavities {
		n.Cavities = append(n.Cavities, flow.Cavity{Node: called(n.Nodes, c.Node), Volume: c.Volume * 1e-6, Height: c.Height / 1000})
	}
	if len(in.Nodes) == 0 { // the channels name them all
		for _, c := range n.Channels {
			for _, end := range []string{c.From, c.To} {
				if !slices.Contains(n.Nodes, end) {
					n.Nodes = append(n.Nodes, end)
				}
			}
		}
	}
	wellFirst(n.Nodes, n.Channels)
	return n, nil
}

// called is a node by its name, or by its place in the list.
func called(nodes []string, n nodeJSON) string {
	if i, err := strconv.Atoi(string(n)); err == nil && !slices.Contains(nodes, string(n)) && i >= 0 && i < len(nodes) {
		return nodes[i]
	}
	return string(n)
}

// wellFirst puts the node that resin is poured in at before the others.
func wellFirst(nodes []string, channels []flow.Channel) {
	well := slices.Index(nodes, "well")
	if well < 0 {
		well = slices.IndexFunc(nodes, func(node string) bool {
			return !slices.ContainsFunc(channels, func(c flow.Channel) bool { return c.To == node })
		})
	}
	if well > 0 {
		name := nodes[well]
		copy(nodes[1:well+1], nodes[:well])
		nodes[0] = name
	}
}

func flowed(s flow.Solution) flowing {
	out := flowing{Channels: []runJSON{}, Cavities: []filledJSON{}}
	for _, r := range s.Runs {
		out.Channels = append(out.Channels, runJSON{r.Resistance, r.Flow * 1e6, r.Reynolds, r.Share})
	}
	for _, c := range s.Cavities {
		if c.Never != "" || math.IsInf(c.At, 1) {
			out.Cavities = append(out.Cavities, filledJSON{Never: true, Why: c.Never})
			continue
		}
		out.Cavities = append(out.Cavities, filledJSON{At: &c.At})
	}
	return out
}

func listFlow(w io.Writer, n flow.Network, s flow.Solution) error {
	var err error
	say := func(format string, args ...any) {
		if err == nil {
			_, err = fmt.Fprintf(w, format+"\n", args...)
		}
	}
	for i, r := range s.Runs {
		c := n.Channels[i]
		say("%s to %s: %.4g mL/s, %.3g %% of the pour, Reynolds %.2g", c.From, c.To, r.Flow*1e6, 100*r.Share, r.Reynolds)
	}
	for i, c := range s.Cavities {
		if c.Never != "" {
			say("cavity at %s never fills: %s", n.Cavities[i].Node, c.Never)
			continue
		}
		say("cavity at %s is full after %.4g s", n.Cavities[i].Node, c.At)
	}
	return err
}
