package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"

	"bathyform/core/enough"
	"bathyform/core/life"
	"bathyform/core/watch"

	"github.com/spf13/cobra"
)

// priorJSON is what is believed of such moulds before any log.
type priorJSON struct {
	Median float64 `json:"median"`
	Low    float64 `json:"low"`
	High   float64 `json:"high"`
}

func (p *priorJSON) prior() (life.Prior, error) {
	if p == nil {
		return life.TradePrior, nil
	}
	out := life.Prior{Typical: p.Median, Low: p.Low, High: p.High}
	if !(out.Low > 0 && out.Low < out.Typical && out.Typical < out.High && out.High < 1e6) {
		return out, fmt.Errorf("the prior wants 0 < low < median < high, not %g, %g, %g", p.Low, p.Median, p.High)
	}
	return out, nil
}

// mouldsJSON is what `life` reads.
type mouldsJSON struct {
	Prior     *priorJSON `json:"prior"`
	Retired   []int      `json:"retired"`
	Living    []int      `json:"living"`
	Accidents int        `json:"accidents"`
}

type lifeJSON struct {
	LnMedian  float64        `json:"e_ln_m"`
	Beta      float64        `json:"e_beta"`
	New       bandJSON       `json:"new"`
	Living    []livingJSON   `json:"living"`
	Survival  []survivedJSON `json:"survival"`
	Accidents float64        `json:"accidents_per_pull"`
}

type bandJSON struct {
	P10 int `json:"p10"`
	P50 int `json:"p50"`
	P90 int `json:"p90"`
}

type livingJSON struct {
	Pulls int `json:"pulls"`
	bandJSON
	MoreThanTen float64 `json:"p_more_than_10"`
}

type survivedJSON struct {
	N      int     `json:"n"`
	S      float64 `json:"s"`
	Low    float64 `json:"low"`
	High   float64 `json:"high"`
	AtRisk int     `json:"at_risk"`
}

// mostMoulds bounds what is read of moulds.
const mostMoulds = 100_000

// records are moulds that wore out, and those that live or went otherwise.
func records(retired, living []int) ([]life.Record, int, error) {
	if len(retired)+len(living) > mostMoulds {
		return nil, 0, fmt.Errorf("more than %d moulds", mostMoulds)
	}
	var out []life.Record
	pulls := 0
	for k, all := range [][]int{retired, living} {
		for _, n := range all {
			if n < 0 || n > 1e6 || k == 0 && n == 0 {
				return nil, 0, fmt.Errorf("a mould cannot have given %d pulls%s", n, map[bool]string{true: " and be worn out"}[k == 0])
			}
			out = append(out, life.Record{Pulls: n, WornOut: k == 0})
			pulls += n
		}
	}
	return out, pulls, nil
}

func band(r life.Remaining) bandJSON { return bandJSON{r.Low, r.Middle, r.High} }

func lifeCommand() *cobra.Command {
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "life < MOULDS.json",
		Short: "Forecast the pulls that moulds still give, from those that wore out and those that live",
		Long: "Forecast the pulls that moulds still give, from those that wore out and those that live.\n" +
			"Reads prior (median, low and high of the typical life: 10 to 90 per cent; 40, 20 to 80 where there is none), retired\n" +
			"(pulls of those that wore out), living (pulls of those that are in use, or went for another reason) and accidents.",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			var in mouldsJSON
			if err := readJSON(cmd.InOrStdin(), &in); err != nil {
				return err
			}
			prior, err := in.Prior.prior()
			if err != nil {
				return err
			}
			all, pulls, err := records(in.Retired, in.Living)
			if err != nil {
				return err
			}
			if in.Accidents < 0 || in.Accidents > mostMoulds {
				return fmt.Errorf("there cannot have been %d accidents", in.Accidents)
			}
			f := life.Learn(prior, all)
			out := lifeJSON{New: band(f.Remaining(0)), Living: []livingJSON{}, Survival: []survivedJSON{},
				Accidents: life.Accidents(in.Accidents, pulls)}
			out.LnMedian, out.Beta = f.Belief()
			for _, n := range in.Living {
				out.Living = append(out.Living, livingJSON{n, band(f.Remaining(n)), f.Outlasts(n, 10)})
			}
			for _, s := range life.Survival(all) {
				out.Survival = append(out.Survival, survivedJSON{s.Pulls, s.Share, s.Low, s.High, s.AtRisk})
			}
			if asJSON {
				return printJSON(cmd.OutOrStdout(), out)
			}
			w := cmd.OutOrStdout()
			fmt.Fprintf(w, "a new mould: %d to %d pulls, %d in the middle\n", out.New.P10, out.New.P90, out.New.P50)
			for _, l := range out.Living {
				fmt.Fprintf(w, "after %d pulls: %d to %d more, %d in the middle\n", l.Pulls, l.P10, l.P90, l.P50)
			}
			return nil
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON for scripts")
	return cmd
}

// readJSON reads what a command is asked on its standard input.
func readJSON(r io.Reader, into any) error {
	if err := json.NewDecoder(io.LimitReader(r, mostRead)).Decode(into); err != nil {
		return fmt.Errorf("what was asked cannot be read: %w", err)
	}
	return nil
}

// orderJSON is what `enough` reads.
type orderJSON struct {
	Wanted  int      `json:"wanted"`
	Yield   *float64 `json:"yield"`
	History *struct {
		Good int `json:"good"`
		Bad  int `json:"bad"`
	} `json:"history"`
	Cavities int  `json:"cavities"`
	Together bool `json:"together"`
	Moulds   []struct {
		Pulls int `json:"pulls"`
	} `json:"moulds"`
	Prior     *priorJSON `json:"prior"`
	Retired   []int      `json:"retired"`
	Accidents int        `json:"accidents"`
}

type enoughJSON struct {
	Pulls    int      `json:"pulls_needed"`
	Castings int      `json:"castings_needed"`
	Finish   float64  `json:"p_finish"`
	Moulds   *int     `json:"moulds_needed"` // besides those on the rack; null where not even [mostNew] are enough
	With     []chance `json:"with_new_moulds"`
}

type chance struct {
	Moulds int     `json:"moulds"`
	Finish float64 `json:"p_finish"`
}

// mostNew is how many new moulds are tried.
const mostNew = 40

func (in orderJSON) order() (enough.Order, error) {
	o := enough.Order{Wanted: in.Wanted, Cavities: max(1, in.Cavities), Together: in.Together}
	if in.Cavities < 0 {
		return o, enough.ErrGang
	}
	switch {
	case (in.Yield == nil) == (in.History == nil):
		return o, errors.New("give either yield, or history with good and bad")
	case in.Yield != nil:
		o.Yield.Share = *in.Yield
	default:
		o.Yield = enough.Yield{Good: in.History.Good, Bad: in.History.Bad, Counted: true}
	}
	prior, err := in.Prior.prior()
	if err != nil {
		return o, err
	}
	for _, m := range in.Moulds {
		o.Moulds = append(o.Moulds, m.Pulls)
	}
	all, pulls, err := records(in.Retired, o.Moulds)
	if err != nil {
		return o, err
	}
	if in.Accidents < 0 || in.Accidents > mostMoulds {
		return o, fmt.Errorf("there cannot have been %d accidents", in.Accidents)
	}
	if in.Accidents > 0 {
		o.Accidents = life.Accidents(in.Accidents, pulls)
	}
	o.Forecast = life.Learn(prior, all)
	return o, nil
}

func enoughCommand() *cobra.Command {
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "enough < ORDER.json",
		Short: "Whether the moulds on the rack finish an order, how many pulls to plan, how many moulds to pour",
		Long: "Whether the moulds on the rack finish an order, how many pulls to plan, how many moulds to pour.\n" +
			"Reads wanted, yield (the share that comes out good) or history (good and bad so far), cavities of a mould, together\n" +
			"(true where what spoils one casting of a pull spoils them all), moulds (pulls that each has given), and as `life`\n" +
			"prior, retired and accidents. moulds_needed are new ones besides those on the rack, for 95 per cent.",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			var in orderJSON
			if err := readJSON(cmd.InOrStdin(), &in); err != nil {
				return err
			}
			o, err := in.order()
			if err != nil {
				return err
			}
			out := enoughJSON{With: []chance{}}
			if out.Pulls, err = o.Pulls(); err != nil {
				return err
			}
			if out.Castings, err = o.Yield.Castings(o.Wanted, enough.Sure); err != nil {
				return err
			}
			all, err := o.Chances(mostNew)
			if err != nil {
				return err
			}
			out.Finish = all[0]
			for k, p := range all {
				out.With = append(out.With, chance{k, p})
			}
			if last := len(all) - 1; all[last] >= enough.Sure {
				out.Moulds = &last
			}
			if asJSON {
				return printJSON(cmd.OutOrStdout(), out)
			}
			w := cmd.OutOrStdout()
			fmt.Fprintf(w, "plan %d pulls; the rack finishes the order with a chance of %.0f %%\n", out.Pulls, 100*out.Finish)
			if out.Moulds != nil && *out.Moulds > 0 {
				fmt.Fprintf(w, "pour %d more for 95 %%\n", *out.Moulds)
			}
			return nil
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON for scripts")
	return cmd
}

// watchedJSON is what `watch --json` prints.
type watchedJSON struct {
	Charts []chartJSON `json:"charts"`
	All    []int       `json:"all_cavities_at_pull"` // the mix was bad then
}

type chartJSON struct {
	Cavity     int     `json:"cavity"`
	Pulls      int     `json:"pulls"`
	Bad        int     `json:"bad"`
	Alarms     []int   `json:"alarms"` // pulls, from 1
	Scrap      float64 `json:"scrap"`
	Adds       int     `json:"adds"`
	Height     int     `json:"height"`
	FalseAlarm float64 `json:"false_alarm_in_40"`
	RunLength  float64 `json:"pulls_to_a_false_alarm"`
}

func watchCommand() *cobra.Command {
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "watch < RESULTS.json",
		Short: "Watch the scrap of each cavity, and say at which pull its chart alarms",
		Long: "Watch the scrap of each cavity, and say at which pull its chart alarms.\n" +
			"Reads rows of 0 for good and 1 for bad: the longer way is the pulls, the shorter the cavities; rows of different length\n" +
			"are cavities, and so are {\"cavities\": [[...]]}, as {\"pulls\": [[...]]} are pulls. Four cavities and " +
			"more get the higher chart.",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			var raw json.RawMessage
			if err := readJSON(cmd.InOrStdin(), &raw); err != nil {
				return err
			}
			cavities, err := results(raw)
			if err != nil {
				return err
			}
			c := watch.For(len(cavities))
			out := watchedJSON{Charts: []chartJSON{}, All: []int{}}
			for i, bad := range cavities {
				w := c.Run(bad)
				chart := chartJSON{Cavity: i + 1, Pulls: w.Pulls, Bad: w.Bad, Alarms: []int{}, Scrap: w.Scrap(), Adds: c.Adds,
					Height: c.Height, FalseAlarm: c.FalseAlarm(40), RunLength: c.RunLength(c.Usual)}
				chart.Alarms = append(chart.Alarms, w.Alarms...)
				out.Charts = append(out.Charts, chart)
			}
			out.All = append(out.All, watch.Together(cavities)...)
			if asJSON {
				return printJSON(cmd.OutOrStdout(), out)
			}
			for _, c := range out.Charts {
				fmt.Fprintf(cmd.OutOrStdout(), "cavity %d: %d of %d bad, alarms at %v\n", c.Cavity, c.Bad, c.Pulls, c.Alarms)
			}
			return nil
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON for scripts")
	return cmd
}

// results reads castings, cavity by cavity.
func results(raw json.RawMessage) ([][]bool, error) {
	var rows [][]float64
	byPull := false
	var named struct {
		Cavities [][]float64 `json:"cavities"`
		Pulls    [][]float64 `json:"pulls"`
	}
	var flat []float64
	switch {
	case json.Unmarshal(raw, &rows) == nil:
		byPull = turned(rows)
	case json.Unmarshal(raw, &flat) == nil:
		rows = [][]float64{flat}
	case json.Unmarshal(raw, &named) == nil && len(named.Cavities) > 0:
		rows = named.Cavities
	case len(named.Pulls) > 0:
		rows, byPull = named.Pulls, true
	default:
		return nil, errors.New("results are rows of 0 and 1, or an object with cavities or pulls")
	}
	var out [][]bool
	put := func(cavity int, v float64) error {
		if v != 0 && v != 1 || math.IsNaN(v) {
			return fmt.Errorf("a casting is 0 for good or 1 for bad, not %g", v)
		}
		for len(out) <= cavity {
			out = append(out, nil)
		}
		out[cavity] = append(out[cavity], v == 1)
		return nil
	}
	for i, row := range rows {
		if len(row) > 0 && !byPull {
			out = append(out, make([][]bool, max(0, i+1-len(out)))...)
		}
		for k, v := range row {
			cavity := i
			if byPull {
				cavity = k
			}
			if err := put(cavity, v); err != nil {
				return nil, err
			}
		}
	}
	return out, nil
}

// turned is whether rows are pulls: all as long, and more of them than that.
func turned(rows [][]float64) bool {
	for _, r := range rows {
		if len(r) != len(rows[0]) {
			return false
		}
	}
	return len(rows) > 0 && len(rows) > len(rows[0])
}
