package design

import (
	"encoding/json"
	"fmt"

	"bathyform/core/inhibit"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/core/prep"
	"bathyform/core/suit"
)

// Brief is what the caster says of the master and of what the casting must
// be; the zero Brief says nothing.
type Brief struct {
	Quality    string          `json:"quality"` // decorative, good or precision
	Surface    inhibit.Surface `json:"surface"`
	Generation int             `json:"generation"` // 2 for a master that is itself a casting
	Inserts    []Insert        `json:"inserts"`
	Check      *part.Check     `json:"check,omitempty"`
	Kind       Kind            `json:"kind,omitempty"`  // of mould, as chosen on the master
	Wants      []suit.Want     `json:"wants"`           // of the casting
	Shore      float64         `json:"shore,omitempty"` // A, of a flexible casting; 0 for any
	Day        *prep.Day       `json:"day,omitempty"`   // the weather in the shop when it is primed
	Done       []string        `json:"done"`            // keys of the prep steps that are ticked
}

// Insert is an insert or a core at its place on the part.
type Insert struct {
	Kind   prep.InsertKind `json:"kind"`
	Note   string          `json:"note,omitempty"`
	Volume float64         `json:"volume,omitempty"` // mL of resin that it takes the place of; 0 where not known
	At     *Place          `json:"at,omitempty"`     // nil where nobody has said
}

// Named is how casters speak of an insert.
func (in Insert) Named() string {
	name := map[prep.InsertKind]string{prep.Thread: "threaded insert", prep.Hole: "through hole", prep.Core: "metal core",
		prep.Magnet: "magnet"}[in.Kind]
	if in.Note != "" {
		name += " (" + in.Note + ")"
	}
	return name
}

// Prep is the insert as the prep list takes it.
func (in Insert) Prep() prep.Insert {
	return prep.Insert{Kind: in.Kind, Note: in.Note, Volume: in.Volume * 1000}
}

// Of the surface, unknown where nothing was said.
func (b Brief) On() inhibit.Surface {
	if b.Surface == "" {
		return inhibit.Unknown
	}
	return b.Surface
}

// Bounds of what a brief may hold.
const (
	mostInserts = 40
	mostTicks   = 80
)

// Check refuses what cannot be.
func (b Brief) Validate() error {
	switch b.Quality {
	case "", "decorative", "good", "precision":
	default:
		return fmt.Errorf("the quality is decorative, good or precision, not %q", b.Quality)
	}
	if len(b.Inserts) > mostInserts || len(b.Done) > mostTicks {
		return fmt.Errorf("a brief holds %d inserts and %d ticks at most", mostInserts, mostTicks)
	}
	if b.Day != nil {
		if err := b.Day.Check(); err != nil {
			return err
		}
	}
	if err := practice.Within("hardness (Shore A)", b.Shore, 0, 100); err != nil {
		return err
	}
	if b.Check != nil {
		_, err := b.Check.Verify(1, 1)
		return err
	}
	return nil
}

// OtherShape is the brief without what was said of a shape that is gone.
func (b Brief) OtherShape() Brief {
	b.Check, b.Done, b.Kind = nil, nil, ""
	inserts := make([]Insert, len(b.Inserts))
	for i, in := range b.Inserts {
		in.At = nil
		inserts[i] = in
	}
	b.Inserts = inserts
	return b
}

// MarshalJSON writes the brief; what is not there is an empty list, and the
// first generation is 1.
func (b Brief) MarshalJSON() ([]byte, error) {
	type plain Brief
	b.Generation = max(1, b.Generation)
	b.Inserts, b.Wants, b.Done = some(b.Inserts), some(b.Wants), some(b.Done)
	return json.Marshal(plain(b))
}

func some[T any](list []T) []T {
	if list == nil {
		return []T{}
	}
	return list
}
