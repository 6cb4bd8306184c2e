package api

import (
	"bytes"
	"compress/gzip"
	"context"
	"fmt"
	"io"
	"sync"

	"bathyform/core/mesh"
	"bathyform/core/part"
	"bathyform/core/study"
	"bathyform/internal/store"
)

// inHand keeps the masters that are being worked on ready, so that a dragged
// vent does not begin at the file. It is a cache: any server process can make
// its entries anew from the database.
type inHand struct {
	store *store.Store
	mu    sync.Mutex
	kept  map[string]*held
	order []string // least recently used first
}

type held struct {
	once     sync.Once
	prepared *study.Prepared
	err      error
}

// mostHeld is how many masters are kept ready.
const mostHeld = 6

func newInHand(s *store.Store) *inHand { return &inHand{store: s, kept: make(map[string]*held)} }

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
func (h *inHand) take(ctx context.Context, j store.Job) (*study.Prepared, error) {
	if j.Master == nil {
		return nil, part.ErrNoMaster
	}
	k := shapeKey(j)
	h.mu.Lock()
	entry, ok := h.kept[k]
	if !ok {
		entry = &held{}
		h.kept[k] = entry
	}
	h.touch(k)
	h.mu.Unlock()
	entry.once.Do(func() { entry.prepared, entry.err = h.load(ctx, j) })
	if entry.err != nil { // do not remember a lost connection
		h.mu.Lock()
		if h.kept[k] == entry {
			delete(h.kept, k)
		}
		h.mu.Unlock()
	}
	return entry.prepared, entry.err
}

func (h *inHand) touch(k string) {
	for i, other := range h.order {
		if other == k {
			h.order = append(h.order[:i], h.order[i+1:]...)
			break
		}
	}
	h.order = append(h.order, k)
	if len(h.order) > mostHeld {
		delete(h.kept, h.order[0])
		h.order = h.order[1:]
	}
}

func (h *inHand) load(ctx context.Context, j store.Job) (*study.Prepared, error) {
	m := part.Master{Name: j.Master.Name, Measured: j.Master.Measured}
	if j.MeshSHA == "" {
		return study.Prepare(m), nil
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
	if m.Mesh, m.Report, err = mesh.Load(data, factor); err != nil {
		return nil, err
	}
	if t := j.Master.Turn; t != nil {
		m.Mesh = m.Mesh.Turned(rotation(*t))
		m.Report.Bounds = m.Mesh.Bounds()
	}
	return study.Prepare(m), nil
}
