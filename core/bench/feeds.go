package bench

import (
	"context"
	"errors"

	"bathyform/core/channel"
	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/finish"
	"bathyform/core/quantity"
)

// FeedCase is one way to feed the cavities of a design.
type FeedCase struct {
	System   channel.System
	Why      string        // it cannot be; the rest is empty then
	Channels derive.Number // mL a casting
	Rubber   derive.Number // mL
	Full     *derive.Number
	Spread   *derive.Number // of the times in which cavities fill, the last over the first
	FitsPot  bool
	Cut      derive.Number // min to cut the channels off the castings of a pull and dress what is left
	Stops    int           // findings that stop it
}

// CompareFeeds feeds a design's cavities in every way of the trade, telling of
// each as it is done.
func (m *Master) CompareFeeds(ctx context.Context, q Question, told func(FeedCase)) error {
	q.Design.Shaft = nil // where it stands is each way's own
	for _, system := range channel.Systems {
		if err := ctx.Err(); err != nil {
			return err
		}
		q.Design.Runners = design.Runners(system)
		s, err := m.poured(ctx, q)
		if err != nil {
			return err
		}
		told(s.fed(system, q))
	}
	return nil
}

// fed is what a study says of the way in which its cavities are fed.
func (s Study) fed(system channel.System, q Question) FeedCase {
	out := FeedCase{System: system}
	for _, t := range s.Gates.Faults {
		if t.Err != nil && !errors.Is(t.Err, channel.ErrNoBlind) && !errors.Is(t.Err, channel.ErrNoSump) {
			out.Why = t.Err.Error()
			if errors.Is(t.Err, channel.ErrSystem) {
				out.Why = "not for cavities that lie like this"
			}
			return out
		}
	}
	n := derive.From("cavities", quantity.Number, float64(len(s.Plan.Cavities.Poses)), "this design")
	out.Channels = derive.Of(
		quantity.Volume,
		s.Shot.Channels.Value/n.Value,
		"all channels / cavities",
		s.Shot.Channels.As("all channels"),
		n,
	)
	out.Rubber, out.FitsPot, out.Cut = s.Plan.Rubber, s.FitsPot(q.House), s.Dress
	if s.Run != nil {
		out.Full, out.Spread = s.Run.Full, s.Run.Spread
	}
	for _, f := range s.Findings {
		if f.Severity == finding.Stop {
			out.Stops++
		}
	}
	return out
}

// dress is the minutes to cut the channels off the castings of a pull and to
// dress their scars, min.
func (s Study) dress(q Question) derive.Number {
	_, scars := rods(s.Gates)
	n := derive.From("cavities", quantity.Number, float64(len(s.Plan.Cavities.Poses)), "this design")
	one := finish.Casting{Scars: scars, Quality: q.quality(), Pace: q.House.FinishPace}.Minutes()
	return derive.Of(quantity.Number, one.Value*n.Value, "a casting × cavities, minutes", one.As("a casting"), n)
}
