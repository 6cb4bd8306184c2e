// Package finding holds what the design stages have to say about a job:
// never a bare verdict, always what, where, how much against which limit, why
// and what can be done.
package finding

import (
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Severity orders findings by what they cost when ignored.
type Severity string

// A stop spoils castings or moulds; a watch may; a note is good to know.
const (
	Stop  Severity = "stop"
	Watch Severity = "watch"
	Note  Severity = "note"
)

// Stage is the step of the job that a finding belongs to.
type Stage string

// The stages of a job in working order.
const (
	Order  Stage = "order"
	Master Stage = "master"
	Mould  Stage = "mould"
	Gates  Stage = "gates"
	Rubber Stage = "rubber"
	Shot   Stage = "shot"
	Pulls  Stage = "pulls"
)

// CommonPractice is the source of rules that are handed on in the trade.
const CommonPractice = "common practice, no source"

// Finding is one thing that the caster should know.
type Finding struct {
	Code     string // what it is, the same whatever the figures: "air-trapped"
	Severity Severity
	Stage    Stage
	What     string   // in one sentence
	Where    *r3.Vec  // mesh coordinates in mm, nil when it has no place
	Height   *float64 // mm over the mould floor as the resin is poured
	Figure   *Figure  // how much
	Limit    *Figure  // against what
	Why      string
	Source   string // of the rule
	Remedies []Remedy
}

// Figure is a measured or a limiting value.
type Figure struct {
	Value float64
	Kind  quantity.Kind
}

// Of makes a figure.
func Of(kind quantity.Kind, value float64) *Figure { return &Figure{value, kind} }

// Action names what a remedy does to the design.
type Action string

// Remedies that the page can carry out at a press.
const (
	AddVent       Action = "add-vent"       // a vent at At
	RemoveVent    Action = "remove-vent"    // the vent with the index Value
	ProposeVents  Action = "propose-vents"  // a vent at every high spot
	SetParting    Action = "set-parting"    // the parting at height Value
	ClearSupports Action = "clear-supports" // back to the proposal
	SetBelow      Action = "set-below"      // clearance below of Value
	SetHeadroom   Action = "set-headroom"   // clearance above of Value
	SetBeside     Action = "set-beside"     // clearance beside of Value
	SetWell       Action = "set-well"       // a well of rim Value
	SetSprue      Action = "set-sprue"      // a sprue of bore Value
	FeedTop       Action = "feed-top"       // resin in through an opening of bore Value at the top
	SetRunners    Action = "set-runners"    // as proposed
	ResetSprue    Action = "reset-sprue"    // its foot and its shaft as proposed
	OpenMaster    Action = "open-master"    // go to the master stage
	OpenStock     Action = "open-stock"     // go to the shelf of materials
	OpenPractice  Action = "open-practice"  // go to House practice
	SetKind       Action = "set-kind"       // build it as the kind Text
)

// Remedy is one way out, offered as a button.
type Remedy struct {
	Label  string
	Action Action
	At     *r3.Vec
	Value  float64
	Text   string
}
