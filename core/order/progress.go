// Package order tells how far an order has come: the stages of a job, what
// comes next, and the sets that several parts are sold in.
package order

import (
	"fmt"

	"bathyform/core/finding"
)

// Facts are what is known of a job without studying its design.
type Facts struct {
	Ordered, Good, Scrap int
	HasMaster            bool
	UnitConfirmed        bool // or no unit to confirm
	DesignKept           bool
	Vented               bool // it has vents, or its kind of mould needs none
	HasRubber, HasResin  bool
	MouldsInUse          int
}

// State is how far a stage of a job has come.
type State string

// A stage is empty before anything is known, draft while it rests on
// proposals, ready when the caster has decided. Stops come from a study.
const (
	Empty State = "empty"
	Draft State = "draft"
	Ready State = "ready"
)

// StageState is the state of one stage with a word on it.
type StageState struct {
	Stage finding.Stage
	State State
	Note  string
}

// Next is what has to be done next for a job, and where.
type Next struct {
	Stage finding.Stage
	What  string
}

// Progress tells the state of every stage and what comes next.
func Progress(f Facts) ([]StageState, Next) {
	order := StageState{finding.Order, Ready, fmt.Sprintf("%d wanted", f.Ordered)}
	master := StageState{finding.Master, Empty, "no master yet"}
	switch {
	case f.HasMaster && f.UnitConfirmed:
		master = StageState{finding.Master, Ready, "ready"}
	case f.HasMaster:
		master = StageState{finding.Master, Draft, "confirm the unit"}
	}
	design := func(stage finding.Stage, complete bool, missing string) StageState {
		switch {
		case !f.HasMaster:
			return StageState{stage, Empty, "not begun"}
		case !f.DesignKept:
			return StageState{stage, Draft, "proposal"}
		case !complete:
			return StageState{stage, Draft, missing}
		default:
			return StageState{stage, Ready, "ready"}
		}
	}
	pulls := StageState{finding.Pulls, Empty, "none yet"}
	switch {
	case f.Good+f.Scrap > 0 && f.Good >= f.Ordered:
		pulls = StageState{finding.Pulls, Ready, fmt.Sprintf("%d good, done", f.Good)}
	case f.Good+f.Scrap > 0:
		pulls = StageState{finding.Pulls, Draft, fmt.Sprintf("%d good", f.Good)}
	case f.MouldsInUse > 0:
		pulls = StageState{finding.Pulls, Draft, "mould waiting"}
	}
	stages := []StageState{
		order, master,
		design(finding.Mould, true, ""),
		design(finding.Gates, f.Vented, "no vents"),
		design(finding.Rubber, f.HasRubber, "choose a rubber"),
		design(finding.Shot, f.HasResin, "choose a resin"),
		pulls,
	}
	return stages, next(f)
}

func next(f Facts) Next {
	switch {
	case f.Good >= f.Ordered:
		return Next{finding.Pulls, "All castings are made"}
	case !f.HasMaster:
		return Next{finding.Master, "Add the master"}
	case !f.UnitConfirmed:
		return Next{finding.Master, "Confirm the unit of the mesh"}
	case f.MouldsInUse > 0:
		return Next{finding.Pulls, fmt.Sprintf("Pull: %d to go", f.Ordered-f.Good)}
	case !f.DesignKept:
		return Next{finding.Mould, "Settle the mould"}
	case !f.HasRubber:
		return Next{finding.Rubber, "Choose a rubber"}
	case !f.HasResin:
		return Next{finding.Shot, "Choose a resin"}
	default:
		return Next{finding.Rubber, "Pour the mould"}
	}
}
