package api

import (
	"bytes"
	"compress/gzip"
	"context"
	"fmt"
	"io"

	"bathyform/core/bench"
	"bathyform/core/memo"
	"bathyform/core/mesh"
	"bathyform/core/part"
	"bathyform/core/sketch"
	"bathyform/internal/store"
)

// inHand keeps the masters that are being worked on ready, so that a dragged
// vent does not begin at the file. It is a cache: any server process can make
// its entries anew from the database.
type inHand struct {
	store    *store.Store
	masters  memo.Memo[string, *bench.Master]
	drawings memo.Memo[string, []byte]
}

// How many masters are kept ready, and how large they may be together: a
// triangle and all that is worked out about it come to some 600 bytes.
const (
	mostHeld      = 6
	mostHeldBytes = 500 << 20
	perTriangle   = 600
	mostDrawings  = 64 << 20
)

func newInHand(s *store.Store) *inHand {
	h := &inHand{store: s}
	h.masters.Most, h.masters.Budget = mostHeld, mostHeldBytes
	h.masters.Weigh = func(m *bench.Master) int64 { return perTriangle * int64(len(m.Solid.Triangles)) }
	h.drawings.Most, h.drawings.Budget = 2*mostHeld, mostDrawings
	h.drawings.Weigh = func(b []byte) int64 { return int64(len(b)) }
	return h
}

// shapeKey names a master's geometry: it changes whenever the geometry does.
func shapeKey(j store.Job) string {
	if j.MeshSHA != "" {
		k := fmt.Sprintf("%.16s-%s", j.MeshSHA, j.Master.Unit)
		if t := j.Master.Turn; t != nil {
			k += fmt.Sprintf("-%.9f,%.9f,%.9f,%.9f", t.W, t.X, t.Y, t.Z)
		}
		return k
	}
	return fmt.Sprintf("measured-%+v", *j.Master.Measured)
}

// take returns a job's master ready for work.
func (h *inHand) take(ctx context.Context, j store.Job) (*bench.Master, error) {
	if j.Master == nil {
		return nil, part.ErrNoMaster
	}
	return h.masters.Get(ctx, shapeKey(j), func(ctx context.Context) (*bench.Master, error) { return h.load(ctx, j) })
}

// drawing returns a job's master as a browser draws it.
func (h *inHand) drawing(ctx context.Context, j store.Job, near sketch.Near) ([]byte, error) {
	master, err := h.take(ctx, j)
	if err != nil {
		return nil, err
	}
	return h.drawings.Get(ctx, fmt.Sprint(shapeKey(j), near), func(context.Context) ([]byte, error) {
		m := master.Solid // what is known of it may be the block that it goes into
		if master.Known() {
			m = master.Fine()
		}
		return packMesh(m, near, sharpEdge), nil
	})
}

// keep has a master ready that was read from its file just now, in mm, and its
// drawing, which is asked for first of all.
func (h *inHand) keep(ctx context.Context, j store.Job, read *mesh.Mesh, report mesh.Report) {
	_, err := h.masters.Get(ctx, shapeKey(j), func(context.Context) (*bench.Master, error) {
		return ready(j, read, report), nil
	})
	if err == nil {
		_, _ = h.drawing(ctx, j, sketch.Near{})
	}
}

func (h *inHand) load(ctx context.Context, j store.Job) (*bench.Master, error) {
	if j.MeshSHA == "" {
		return bench.Take(part.Master{Name: j.Master.Name, Measured: j.Master.Measured}), nil
	}
	packed, err := h.store.MeshFile(context.WithoutCancel(ctx), j.MeshSHA)
	if err != nil {
		return nil, err
	}
	zr, err := gzip.NewReader(bytes.NewReader(packed))
	if err != nil {
		return nil, err
	}
	data, err := io.ReadAll(zr)
	if err != nil {
		return nil, err
	}
	factor, err := j.Master.Unit.Millimetres()
	if err != nil {
		return nil, err
	}
	read, report, err := mesh.Load(data, factor)
	if err != nil {
		return nil, err
	}
	return ready(j, read, report), nil
}

// ready makes a master of a mesh in mm as it was read.
func ready(j store.Job, read *mesh.Mesh, report mesh.Report) *bench.Master {
	m := part.Master{Name: j.Master.Name, Measured: j.Master.Measured, Mesh: read.Filled(report.Hollows), Report: report}
	if t := j.Master.Turn; t != nil {
		m.Mesh = m.Mesh.Turned(t.Rotation())
		m.Report.Bounds = m.Mesh.Bounds()
	}
	return bench.Take(m)
}
