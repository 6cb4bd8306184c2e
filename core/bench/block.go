package bench

import (
	"context"
	"fmt"
	"slices"

	"bathyform/core/channel"
	"bathyform/core/gate"
	"bathyform/core/mesh"
	"bathyform/core/practice"
)

// Block asks for a block of rubber with its cavities and channels.
type Block = gate.Block

// LaidBlock is a block as it is proposed, and what it sums up to.
type LaidBlock struct {
	gate.Laid
	gate.Sums
}

// How many vents a block has, other than by number.
const (
	AllVents = gate.AllVents
	FewVents = gate.FewVents
)

// FaultOf is the smallest fault that an order of a quality does not bear.
func FaultOf(quality string) gate.Fault { return gate.FaultOf(quality) }

// SystemOf is a way to feed a gang by its name; none for the proposal.
func SystemOf(name string) (channel.System, error) {
	if s := channel.System(name); name == "" || slices.Contains(channel.Systems, s) {
		return s, nil
	}
	return "", fmt.Errorf("a gang is fed each, or by a ring, comb, tree or ladder, not by %q", name)
}

// LayBlock lays a block for a part by its mesh alone, by the usual practice
// where no other is given.
func LayBlock(ctx context.Context, m *mesh.Mesh, r mesh.Report, a Block) (LaidBlock, error) {
	if a.House.SprueBore == 0 {
		a.House = practice.Usual()
	}
	l, err := gate.LayBlock(ctx, m.Filled(r.Hollows), r.Sound, r.Cast, a)
	if err != nil {
		return LaidBlock{}, err
	}
	return LaidBlock{l, l.Sums()}, nil
}
