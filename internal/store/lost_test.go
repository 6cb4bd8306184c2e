package store_test

import (
	"testing"
	"time"

	"bathyform/core/mesh"
	"bathyform/internal/store"
	"bathyform/internal/testkit"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// since is a change that starts from a version, and is sent once.
func since(version int) store.From { return store.From{Version: version} }

// An answer that is lost is asked for again; the change was made.
func TestAChangeSentTwiceIsMadeOnce(t *testing.T) {
	s := testkit.Store(t)
	id := newJob(t, s)
	first := store.From{Version: 0, Key: uuid.New()}
	require.NoError(t, s.WriteDesign(t.Context(), id, designed(1), first))
	require.NoError(t, s.WriteDesign(t.Context(), id, designed(2), since(1)))
	require.NoError(t, s.WriteDesign(t.Context(), id, designed(1), first), "it was made, and is not made again")
	j, err := s.Job(t.Context(), id)
	require.NoError(t, err)
	assert.Equal(t, 2.0, j.Design.ShotOver)

	stale := store.From{Version: 0, Key: uuid.New()}
	assert.ErrorIs(t, s.WriteDesign(t.Context(), id, designed(3), stale), store.ErrChanged)
	stale.Version = j.DesignVersion
	assert.NoError(t, s.WriteDesign(t.Context(), id, designed(3), stale), "what was refused was not made")
}

func TestAJobComesOutOfTheBin(t *testing.T) {
	s := testkit.Store(t)
	id := newJob(t, s)
	require.NoError(t, s.BinJob(t.Context(), id))
	assert.ErrorIs(t, s.BinJob(t.Context(), id), store.ErrNotFound)
	_, err := s.Job(t.Context(), id)
	assert.ErrorIs(t, err, store.ErrNotFound)
	bin, err := s.Bin(t.Context())
	require.NoError(t, err)
	require.Len(t, bin, 1)
	assert.Equal(t, id, bin[0].ID)
	require.NoError(t, s.UnbinJob(t.Context(), id))
	assert.ErrorIs(t, s.UnbinJob(t.Context(), id), store.ErrNotFound)
	_, err = s.Job(t.Context(), id)
	assert.NoError(t, err)
}

// poured is a mould of two cavities with one pull, one of them good.
func poured(t *testing.T, s *store.Store) (store.Mould, store.Pull) {
	t.Helper()
	m := store.Mould{ID: uuid.New(), JobID: newJob(t, s), Number: "7", Rubber: "tin",
		Poured: time.Date(2026, 3, 1, 0, 0, 0, 0, time.UTC), Cavities: 2}
	require.NoError(t, s.AddMould(t.Context(), m))
	grams := 12.5
	p := store.Pull{ID: uuid.New(), MouldID: m.ID, Pulled: m.Poured.AddDate(0, 0, 3), MassA: &grams,
		Results: []store.Result{{Cavity: 1, Good: true}, {Cavity: 2, Defect: "void"}}}
	require.NoError(t, s.LogPull(t.Context(), p))
	return m, p
}

func counted(t *testing.T, s *store.Store, id uuid.UUID) [3]int {
	t.Helper()
	m, err := s.Mould(t.Context(), id)
	require.NoError(t, err)
	return [3]int{m.Pulls, m.Good, m.Scrap}
}

func TestWhatIsStruckCanBeUnstruck(t *testing.T) {
	s := testkit.Store(t)
	m, p := poured(t, s)
	require.NoError(t, s.StrikePull(t.Context(), p.ID))
	require.NoError(t, s.StrikePull(t.Context(), p.ID), "struck is struck")
	assert.Equal(t, [3]int{}, counted(t, s, m.ID))
	require.NoError(t, s.UnstrikePull(t.Context(), p.ID))
	require.NoError(t, s.UnstrikePull(t.Context(), p.ID))
	assert.Equal(t, [3]int{1, 1, 1}, counted(t, s, m.ID))
	assert.ErrorIs(t, s.StrikePull(t.Context(), uuid.New()), store.ErrNotFound)
}

func TestACorrectedPullKeepsWhatItWas(t *testing.T) {
	s := testkit.Store(t)
	m, p := poured(t, s)
	right := p
	right.Notes = "the other cup"
	right.Results = []store.Result{{Cavity: 1, Good: true}, {Cavity: 2, Good: true}}
	require.NoError(t, s.CorrectPull(t.Context(), right, since(1)))
	assert.Equal(t, [3]int{1, 2, 0}, counted(t, s, m.ID))
	was, err := s.PullWas(t.Context(), p.ID)
	require.NoError(t, err)
	require.Len(t, was, 1)
	assert.Equal(t, "void", was[0].Was.Results[1].Defect)
	assert.Equal(t, 12.5, *was[0].Was.MassA)

	assert.ErrorIs(t, s.CorrectPull(t.Context(), p, since(1)), store.ErrChanged, "another tab was faster")
	right.Results[1].Cavity = 3
	assert.ErrorIs(t, s.CorrectPull(t.Context(), right, since(2)), store.ErrNoSuchCavity)
	right.Results[1].Cavity, right.Pulled = 2, m.Poured.AddDate(0, 0, -1)
	assert.ErrorIs(t, s.CorrectPull(t.Context(), right, since(2)), store.ErrNotPoured)
	assert.Equal(t, [3]int{1, 2, 0}, counted(t, s, m.ID), "nothing of what is refused is counted")
}

func TestACorrectedMouldFitsItsPulls(t *testing.T) {
	s := testkit.Store(t)
	m, p := poured(t, s)
	facts := store.MouldFacts{Number: "8", Rubber: "platinum", Poured: p.Pulled.AddDate(0, 0, 1), Cavities: 2}
	assert.ErrorIs(t, s.CorrectMould(t.Context(), m.ID, facts, since(1)), store.ErrNotPoured)
	facts.Poured, facts.Cavities = m.Poured, 1
	assert.ErrorIs(t, s.CorrectMould(t.Context(), m.ID, facts, since(1)), store.ErrNoSuchCavity)
	facts.Cavities = 4
	require.NoError(t, s.CorrectMould(t.Context(), m.ID, facts, since(1)))
	assert.ErrorIs(t, s.CorrectMould(t.Context(), m.ID, facts, since(1)), store.ErrChanged)
	got, err := s.Mould(t.Context(), m.ID)
	require.NoError(t, err)
	assert.Equal(t, "8", got.Number)
	was, err := s.MouldWas(t.Context(), m.ID)
	require.NoError(t, err)
	require.Len(t, was, 1)
	assert.Equal(t, "7", was[0].Was.Number)
	assert.Equal(t, 2, was[0].Was.Cavities)
}

func TestAnotherMasterSetsTheDesignAside(t *testing.T) {
	s := testkit.Store(t)
	id := newJob(t, s)
	take := func(name string) {
		j, err := s.Job(t.Context(), id)
		require.NoError(t, err)
		m := store.Master{Name: name, Unit: mesh.Millimetre, Report: &mesh.Report{Volume: 5}}
		file := &store.Mesh{SHA: name, Gzip: []byte(name), Size: 3}
		require.NoError(t, s.WriteMaster(t.Context(), id, m, file, name, false, since(j.Version)))
	}
	take("first")
	j, err := s.Job(t.Context(), id)
	require.NoError(t, err)
	require.NoError(t, s.WriteDesign(t.Context(), id, designed(7), since(j.DesignVersion)))
	take("second")
	all, err := s.Earlier(t.Context(), id)
	require.NoError(t, err)
	require.Len(t, all, 1)
	assert.Equal(t, "first", all[0].Master.Name)
	assert.True(t, all[0].Designed)

	assert.ErrorIs(t, s.TakeEarlier(t.Context(), id, all[0].ID, since(1)), store.ErrChanged)
	j, err = s.Job(t.Context(), id)
	require.NoError(t, err)
	assert.ErrorIs(t, s.TakeEarlier(t.Context(), id, uuid.New(), since(j.Version)), store.ErrNotFound)
	require.NoError(t, s.TakeEarlier(t.Context(), id, all[0].ID, since(j.Version)))
	j, err = s.Job(t.Context(), id)
	require.NoError(t, err)
	assert.Equal(t, "first", j.Master.Name)
	assert.Equal(t, 7.0, j.Design.ShotOver)
	all, err = s.Earlier(t.Context(), id)
	require.NoError(t, err)
	require.Len(t, all, 1)
	assert.Equal(t, "second", all[0].Master.Name, "and the other can be gone back to")
}
