package main

import (
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"

	"bathyform/core/axis"
	"bathyform/core/bench"
	"bathyform/core/build"
	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/gang"
	"bathyform/core/kinds"
	"bathyform/core/mix"
	"bathyform/core/part"
	"bathyform/core/practice"

	"github.com/spf13/cobra"
	"gonum.org/v1/gonum/spatial/r3"
)

// planned is what `mould --json` prints.
type planned struct {
	Kind     string        `json:"kind"`
	Box      [3]float64    `json:"box_mm"`
	Cavities int           `json:"cavities"`
	Pours    []pourJSON    `json:"pours"`
	Rubber   float64       `json:"rubber_mm3"`
	Part     float64       `json:"part_mm3"` // of one casting
	Channels float64       `json:"channels_mm3"`
	Shot     shotJSON      `json:"shot"`
	Steps    []stepJSON    `json:"steps"`
	First    float64       `json:"hours_to_first_pull"`
	Life     float64       `json:"life_pulls"`
	Findings []findingJSON `json:"findings"`
}

type pourJSON struct {
	Name   string  `json:"name"`
	Up     string  `json:"up"`
	Volume float64 `json:"volume_mm3"`
	To     float64 `json:"pour_to_mm"` // over the floor; 0 where there is no box
}

type shotJSON struct {
	Cavity   float64 `json:"cavity_mm3"` // of all cavities
	Channels float64 `json:"channels_mm3"`
	Margin   float64 `json:"margin_mm3"`
	Total    float64 `json:"total_mm3"`
}

type stepJSON struct {
	Text    string  `json:"text"`
	Minutes float64 `json:"minutes"`
	Wait    bool    `json:"wait"`
	Casting bool    `json:"casting"` // belongs to the first casting
}

type findingJSON struct {
	Severity string `json:"severity"`
	Code     string `json:"code"`
	Text     string `json:"text"`
}

// asked gathers the flags that say which mould is meant.
type asked struct {
	unit, draw, up, size, form, quality string
	volume, clearance, shore            float64
	elongation                          float64
	count, quantity                     int
}

func (a *asked) flags(cmd *cobra.Command) {
	f := cmd.Flags()
	f.StringVar(&a.unit, "unit", "mm", "unit the mesh is drawn in: mm, cm, m or in; lengths here are in mm")
	f.StringVar(&a.draw, "draw", "", "direction that half A comes off, as x,y,z (where the rubber is locked least)")
	f.StringVar(&a.up, "up", "", "way up for the resin, as x,y,z along an axis of the mesh (+z as it stands, or along the draw)")
	f.Float64Var(&a.clearance, "clearance", 0, "rubber all round the part in mm (beside 12, below 13, above 20)")
	f.StringVar(&a.size, "size", "", "size of a master that is known by measure, as LENGTHxWIDTHxHEIGHT in mm, in place of FILE")
	f.Float64Var(&a.volume, "volume", 0, "volume of that master in mL")
	f.StringVar(&a.form, "form", "", "form of the box: rectangle, sleeve, contour or round")
	f.IntVar(&a.count, "count", 1, "cavities in the mould")
	f.IntVar(&a.quantity, "quantity", 1, "castings wanted")
	f.StringVar(&a.quality, "quality", "", "quality of the castings: decorative, good or precision")
	f.Float64Var(&a.shore, "shore", 0, "hardness of the rubber, Shore A (a usual rubber)")
	f.Float64Var(&a.elongation, "elongation", 0, "elongation of the rubber at break in per cent (a usual rubber)")
}

// take takes the master in hand and proposes a design for it, changed by what
// was asked for.
func (a *asked) take(cmd *cobra.Command, args []string) (*bench.Master, bench.Question, error) {
	q := bench.Question{House: practice.Usual(), Wanted: a.quantity, Brief: design.Brief{Quality: a.quality}}
	fail := func(err error) (*bench.Master, bench.Question, error) { return nil, q, err }
	if a.quantity < 1 || a.count < 1 {
		return fail(errors.New("--quantity and --count must be 1 or more"))
	}
	if a.quality != "" && a.quality != "decorative" && a.quality != "good" && a.quality != "precision" {
		return fail(fmt.Errorf("--quality wants decorative, good or precision, not %q", a.quality))
	}
	if cmd.Flags().Changed("shore") || cmd.Flags().Changed("elongation") {
		rubber, err := a.rubber(cmd)
		if err != nil {
			return fail(err)
		}
		q.Rubber = &rubber
	}
	if cmd.Flags().Changed("clearance") {
		q.House.Clearance = practice.Clearance{Beside: a.clearance, Below: a.clearance, Above: a.clearance}
	}
	master, err := a.master(args)
	if err != nil {
		return fail(err)
	}
	b, d, err := a.stood(cmd, master, q.House)
	if err != nil {
		return fail(err)
	}
	d.Box.Form = a.form
	if err := d.Check(); err != nil {
		return fail(err)
	}
	q.Design = d
	if a.count > 1 {
		g, err := b.Gang(cmd.Context(), q, gang.Ask{Count: a.count, Gap: cavityGap, Edge: d.Clearance.Beside})
		if err != nil {
			return fail(err)
		}
		if g.Short {
			return fail(fmt.Errorf("only %d of %d cavities go into a box", len(g.Poses), a.count))
		}
		q.Design.Gap = cavityGap
		for _, p := range g.Poses {
			q.Design.Gang = append(q.Design.Gang, design.Pose{p.X, p.Y, p.Turn})
		}
	}
	return b, q, nil
}

// cavityGap is the rubber between two cavities, mm, as the page proposes it.
const cavityGap = 8

func (a *asked) rubber(cmd *cobra.Command) (mix.Material, error) {
	m := mix.Material{Name: "the rubber", Ratio: mix.Ratio{A: 10, B: 1}, Density: 1.1, Traits: mix.UsualRubber}
	if cmd.Flags().Changed("shore") {
		m.Traits.Shore = a.shore
	}
	if cmd.Flags().Changed("elongation") {
		m.Traits.Elongation = a.elongation
	}
	if !(m.Traits.Shore > 0 && m.Traits.Shore <= 100) || !(m.Traits.Elongation > 0 && m.Traits.Elongation <= 2000) {
		return m, errors.New("--shore wants a hardness up to 100 A, --elongation per cent up to 2000")
	}
	return m, nil
}

func (a *asked) master(args []string) (part.Master, error) {
	if a.size == "" {
		if len(args) != 1 {
			return part.Master{}, errors.New("name the file of the mesh, or give --size and --volume")
		}
		m, r, err := loadFile(args[0], a.unit)
		if err == nil && r.Flat() {
			err = fmt.Errorf("%s: the mesh encloses no volume, so there is nothing to cast", args[0])
		}
		return part.Master{Mesh: m.Filled(r.Hollows), Report: r}, err
	}
	if len(args) != 0 {
		return part.Master{}, errors.New("a master is known by its mesh or by --size, not by both")
	}
	sides := strings.Split(strings.ToLower(a.size), "x")
	m := part.Measured{Volume: a.volume, How: "measured"}
	if len(sides) != 3 {
		return part.Master{}, fmt.Errorf("--size wants a length, a width and a height in mm, as in 60x40x20, not %q", a.size)
	}
	for i, side := range []*float64{&m.Length, &m.Width, &m.Height} {
		var err error
		if *side, err = strconv.ParseFloat(strings.TrimSpace(sides[i]), 64); err != nil {
			return part.Master{}, fmt.Errorf("--size wants a length, a width and a height in mm, as in 60x40x20, not %q", a.size)
		}
	}
	return part.Master{Measured: &m}, m.Check()
}

// stood is the design with its draw and the way up for the resin. A mesh is
// turned for a draw that is none of its axes.
func (a *asked) stood(cmd *cobra.Command, m part.Master, h practice.House) (*bench.Master, design.Design, error) {
	b := bench.Take(m)
	d, err := b.Start(cmd.Context(), h)
	if err != nil {
		return nil, d, err
	}
	var up *r3.Vec
	if a.up != "" {
		v, err := parsePoint("--up", a.up)
		if err != nil {
			return nil, d, err
		}
		up = &v
	}
	if a.draw != "" {
		dir, err := parsePoint("--draw", a.draw)
		if err != nil {
			return nil, d, err
		}
		if along, ok := axisOf(dir); ok {
			d.Draw, d.RubberUpA, d.RubberUpB = along, along, along.Opposite()
		} else if m.Mesh == nil {
			return nil, d, errors.New("--draw runs along an axis for a master that is known by measure")
		} else {
			turn, err := part.Turn{}.Upright(dir)
			if err != nil {
				return nil, d, err
			}
			m.Mesh = m.Mesh.Turned(turn.Rotation())
			m.Report.Bounds = m.Mesh.Bounds()
			b = bench.Take(m)
			if d, err = b.Start(cmd.Context(), h); err != nil {
				return nil, d, err
			}
			d.Draw, d.RubberUpA, d.RubberUpB = axis.PlusZ, axis.PlusZ, axis.MinusZ
			if up != nil {
				v := turn.Rotation().Rotate(*up)
				up = &v
			}
		}
	}
	if up != nil {
		along, ok := axisOf(*up)
		if !ok {
			return nil, d, errors.New("--up must run along an axis of the mesh; with a slanting --draw, along it or against it")
		}
		d.ResinUp = along
	}
	d.Vents, err = b.ProposeVents(cmd.Context(), bench.Question{Design: d, House: h})
	return b, d, err
}

// axisOf is the axis that a direction runs along, if it does.
func axisOf(v r3.Vec) (axis.Axis, bool) {
	n := r3.Norm(v)
	for _, a := range axis.All {
		if n > 0 && r3.Dot(v, a.Dir()) >= n*(1-1e-9) {
			return a, true
		}
	}
	return 0, false
}

// kindNamed finds a kind by its key, its name or what only one is called.
func kindNamed(text string) (design.Kind, error) {
	plain := strings.NewReplacer(" ", "-", "_", "-", ",", "").Replace(strings.ToLower(strings.TrimSpace(text)))
	var keys []string
	var like []design.Kind
	for _, k := range kinds.All {
		name := strings.NewReplacer(" ", "-", ",", "").Replace(strings.ToLower(k.Name))
		if plain == string(k.Key) || plain == name {
			return k.Key, nil
		}
		if plain != "" && (strings.Contains(string(k.Key), plain) || strings.Contains(name, plain)) {
			like = append(like, k.Key)
		}
		keys = append(keys, string(k.Key))
	}
	if len(like) == 1 {
		return like[0], nil
	}
	return "", fmt.Errorf("--kind wants one of %s, not %q", strings.Join(keys, ", "), text)
}

func mouldCommand() *cobra.Command {
	var a asked
	var kind string
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "mould [FILE]",
		Short: "Plan a mould of one kind: its box, its rubber, its shot and the steps at the bench",
		Args:  cobra.MaximumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			key, err := kindNamed(kind)
			if err != nil {
				return err
			}
			m, q, err := a.take(cmd, args)
			if err != nil {
				return err
			}
			q.Kind = key
			b, err := m.Build(cmd.Context(), q, nil)
			if err != nil {
				return err
			}
			out := plannedOf(b)
			if asJSON {
				return printJSON(cmd.OutOrStdout(), out)
			}
			return out.describe(cmd.OutOrStdout())
		},
	}
	a.flags(cmd)
	cmd.Flags().StringVar(&kind, "kind", string(kinds.Usual.Key), "kind of mould")
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON for scripts")
	return cmd
}

// cubic is a volume in mm³.
func cubic(n derive.Number) float64 { return 1000 * n.Value }

func plannedOf(b bench.Built) planned {
	p, s := b.Plan, b.Study.Shot
	out := planned{
		Kind:     string(p.Kind.Key),
		Box:      triple(r3.Sub(p.Box.Bounds.Max, p.Box.Bounds.Min)),
		Cavities: p.Design.Cavities(),
		Pours:    []pourJSON{},
		Rubber:   cubic(p.Rubber),
		Part:     cubic(p.Part),
		Channels: cubic(s.Channels),
		Steps:    []stepJSON{},
		Shot:     shotJSON{cubic(s.Cavity), cubic(s.Channels), cubic(s.Margin), cubic(s.Total)},
		First:    b.First.Value,
		Life:     p.Life.Value,
		Findings: []findingJSON{},
	}
	for _, q := range p.Pours {
		out.Pours = append(out.Pours, pourJSON{q.Name, q.Up.String(), cubic(q.Volume), q.Level})
	}
	for _, st := range b.Steps {
		out.Steps = append(out.Steps, stepJSON{st.Do, st.Minutes, st.Wait, st.Casting})
	}
	for _, f := range b.Findings {
		out.Findings = append(out.Findings, findingJSON{string(f.Severity), f.Code, f.What})
	}
	return out
}

func (p planned) describe(w io.Writer) error {
	lines := []string{
		fmt.Sprintf(
			"%s, %d cavities, in a box of %.4g x %.4g x %.4g mm: %.4g mL of rubber",
			p.Kind,
			p.Cavities,
			p.Box[0],
			p.Box[1],
			p.Box[2],
			p.Rubber/1000,
		),
	}
	for _, q := range p.Pours {
		lines = append(lines, fmt.Sprintf("  %-8s %8.4g mL, %s up, poured to %.4g mm", q.Name, q.Volume/1000, q.Up, q.To))
	}
	lines = append(
		lines,
		fmt.Sprintf(
			"a shot of %.4g mL: %.4g of cavity, %.4g of channels, %.4g of margin",
			p.Shot.Total/1000,
			p.Shot.Cavity/1000,
			p.Shot.Channels/1000,
			p.Shot.Margin/1000,
		),
		fmt.Sprintf("first casting after %.3g hours, about %.0f pulls a mould", p.First, p.Life),
	)
	for i, st := range p.Steps {
		lines = append(lines, fmt.Sprintf("%3d  %5.0f min  %s", i+1, st.Minutes, st.Text))
	}
	for _, f := range p.Findings {
		lines = append(lines, fmt.Sprintf("%s: %s", f.Severity, f.Text))
	}
	_, err := fmt.Fprintln(w, strings.Join(lines, "\n"))
	return err
}

// rankedJSON is one row of what `kinds --json` prints; figures are null for a
// kind that cannot be built.
type rankedJSON struct {
	Kind    string   `json:"kind"`
	Fits    bool     `json:"fits"`
	Why     []string `json:"why"`
	Rubber  *float64 `json:"rubber_mm3"`
	Moulds  *int     `json:"moulds"`
	First   *float64 `json:"hours_to_first_pull"`
	Minutes *float64 `json:"minutes_a_casting"`
	Score   *float64 `json:"score"`
}

func kindsCommand() *cobra.Command {
	var a asked
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "kinds [FILE]",
		Short: "Build a mould as every kind, and put the kinds in order",
		Args:  cobra.MaximumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			m, q, err := a.take(cmd, args)
			if err != nil {
				return err
			}
			rows, err := m.Rank(cmd.Context(), q, func(string, *build.Row) {})
			if err != nil {
				return err
			}
			out := []rankedJSON{}
			for _, row := range rows {
				out = append(out, rankedOf(row))
			}
			if asJSON {
				return printJSON(cmd.OutOrStdout(), out)
			}
			return describeRanks(cmd.OutOrStdout(), out)
		},
	}
	a.flags(cmd)
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON for scripts")
	return cmd
}

func rankedOf(row build.Row) rankedJSON {
	out := rankedJSON{Kind: string(row.Kind.Key), Fits: row.Fits, Why: append([]string{}, row.Why...)}
	if b := row.Build; b != nil {
		rubber, moulds := cubic(b.Plan.Rubber), int(b.Moulds.Value)
		out.Rubber, out.Moulds, out.First, out.Minutes, out.Score = &rubber, &moulds, &b.First.Value, &b.Finish.Value, &b.Score.Value
	}
	return out
}

func describeRanks(w io.Writer, rows []rankedJSON) error {
	for _, r := range rows {
		fits, figures := "fits", "not built"
		if !r.Fits {
			fits = "no"
		}
		if r.Rubber != nil {
			figures = fmt.Sprintf(
				"%7.4g mL %2d moulds, first after %5.1f h, %4.1f min each, score %.1f",
				*r.Rubber/1000,
				*r.Moulds,
				*r.First,
				*r.Minutes,
				*r.Score,
			)
		}
		why := ""
		if len(r.Why) > 0 {
			why = "  " + r.Why[0]
		}
		if _, err := fmt.Fprintf(w, "%-13s %-4s  %s%s\n", r.Kind, fits, figures, why); err != nil {
			return err
		}
	}
	return nil
}
