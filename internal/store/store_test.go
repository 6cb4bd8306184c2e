package store_test

import (
	"context"
	"os"
	"os/exec"
	"strings"
	"sync"
	"testing"
	"time"

	"bathyform/core/mesh"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/core/prep"
	"bathyform/core/study"
	"bathyform/demo/seed"
	"bathyform/internal/store"
	"bathyform/internal/testkit"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func TestMain(m *testing.M) {
	if url := os.Getenv("BATHYFORM_TEST_WRITER"); url != "" {
		writeForEver(url)
	}
	testkit.Main(m)
}

func newJob(t *testing.T, s *store.Store) uuid.UUID {
	t.Helper()
	require.NoError(t, s.SetUpShop(t.Context(), "Test shop", practice.Usual()))
	id := uuid.New()
	require.NoError(t, s.AddJob(t.Context(), id, store.Order{Name: "Cleat", Quantity: 10}))
	return id
}

func TestDemoShopIsSetUpOnceAndKeptAfterARestart(t *testing.T) {
	url := testkit.DatabaseURL(t)
	today := time.Date(2026, 11, 23, 0, 0, 0, 0, time.UTC)
	open := func() *store.Store {
		s, err := store.Open(t.Context(), url)
		require.NoError(t, err)
		return s
	}
	s := open()
	require.NoError(t, seed.IfEmpty(t.Context(), s, today))
	jobs, err := s.Jobs(t.Context())
	require.NoError(t, err)
	require.Len(t, jobs, 3)
	assert.Equal(t, "Deck cleat", jobs[0].Order.Name, "the most urgent first")
	assert.Equal(t, 240, jobs[0].Order.Quantity)
	assert.Equal(t, 88, jobs[0].Good)
	assert.Equal(t, 12, jobs[1].Order.Quantity)
	require.NoError(t, s.DeleteJob(t.Context(), jobs[1].ID))
	s.Close()

	s = open()
	defer s.Close()
	require.NoError(t, seed.IfEmpty(t.Context(), s, today))
	jobs, err = s.Jobs(t.Context())
	require.NoError(t, err)
	assert.Len(t, jobs, 2, "a second start brings nothing back")
	assert.Equal(t, 88, jobs[0].Good)
	require.NotNil(t, jobs[0].Design)
	assert.NotEmpty(t, jobs[0].Design.Gates.Vents)
}

func TestTheSecondOfTwoTabsIsTold(t *testing.T) {
	s := testkit.Store(t)
	id := newJob(t, s)
	first := store.Design{Design: study.Design{ShotOver: 1}}
	second := store.Design{Design: study.Design{ShotOver: 2}}
	require.NoError(t, s.WriteDesign(t.Context(), id, first, 0))
	assert.ErrorIs(t, s.WriteDesign(t.Context(), id, second, 0), store.ErrChanged)
	j, err := s.Job(t.Context(), id)
	require.NoError(t, err)
	assert.Equal(t, 1.0, j.Design.ShotOver)
	assert.Equal(t, 1, j.DesignVersion)

	assert.NoError(t, s.WriteOrder(t.Context(), id, store.Order{Name: "A", Quantity: 1}, 1))
	assert.ErrorIs(t, s.WriteOrder(t.Context(), id, store.Order{Name: "B", Quantity: 2}, 1), store.ErrChanged)
}

func TestOfManyWritersAtOnceOneWins(t *testing.T) {
	s := testkit.Store(t)
	id := newJob(t, s)
	var wg sync.WaitGroup
	var mu sync.Mutex
	won := 0
	for i := range 12 {
		wg.Go(func() {
			if s.WriteDesign(context.Background(), id, store.Design{Design: study.Design{ShotOver: float64(i)}}, 0) == nil {
				mu.Lock()
				won++
				mu.Unlock()
			}
		})
	}
	wg.Wait()
	assert.Equal(t, 1, won)
}

func TestMouldNumbersAreUsedOnce(t *testing.T) {
	s := testkit.Store(t)
	id := newJob(t, s)
	m := store.Mould{ID: uuid.New(), JobID: id, Number: "7", Rubber: "tin", Poured: time.Now(), Cavities: 2}
	require.NoError(t, s.AddMould(t.Context(), m))
	again := m
	again.ID = uuid.New()
	assert.ErrorIs(t, s.AddMould(t.Context(), again), store.ErrTaken)
}

func TestAPullIsKeptWholeOrNotAtAll(t *testing.T) {
	s := testkit.Store(t)
	id := newJob(t, s)
	m := store.Mould{ID: uuid.New(), JobID: id, Number: "7", Rubber: "tin", Poured: time.Now(), Cavities: 2}
	require.NoError(t, s.AddMould(t.Context(), m))
	pull := store.Pull{ID: uuid.New(), MouldID: m.ID, Pulled: time.Now(),
		Results: []store.Result{{Cavity: 1, Good: true}, {Cavity: 3, Good: true}}}
	assert.ErrorIs(t, s.LogPull(t.Context(), pull), store.ErrNoSuchCavity)
	pulls, err := s.Pulls(t.Context(), id)
	require.NoError(t, err)
	assert.Empty(t, pulls)

	pull.Results[1] = store.Result{Cavity: 2, Defect: "void"}
	require.NoError(t, s.LogPull(t.Context(), pull))
	j, err := s.Job(t.Context(), id)
	require.NoError(t, err)
	assert.Equal(t, 1, j.Good)
	assert.Equal(t, 1, j.Scrap)
	moulds, err := s.Moulds(t.Context())
	require.NoError(t, err)
	assert.Equal(t, 1, moulds[0].Pulls)

	worn := time.Now()
	require.NoError(t, s.RetireMould(t.Context(), m.ID, &worn, true))
	pull.ID = uuid.New()
	assert.ErrorIs(t, s.LogPull(t.Context(), pull), store.ErrRetired)
	require.NoError(t, s.RetireMould(t.Context(), m.ID, nil, false))
	require.NoError(t, s.LogPull(t.Context(), pull))
	require.NoError(t, s.DeletePull(t.Context(), pull.ID))
	assert.ErrorIs(t, s.DeletePull(t.Context(), pull.ID), store.ErrNotFound)
}

func TestMeshIsKeptOnceAndANewShapeDropsTheDesign(t *testing.T) {
	s := testkit.Store(t)
	id := newJob(t, s)
	require.NoError(t, s.WriteDesign(t.Context(), id, store.Design{Design: study.Design{ShotOver: 1}}, 0))
	file := &store.Mesh{SHA: "abc", Gzip: []byte{1, 2, 3}, Size: 9}
	m := store.Master{Name: "x", Unit: mesh.Millimetre, Report: &mesh.Report{Volume: 5}}
	require.NoError(t, s.WriteMaster(t.Context(), id, m, file, "abc", false, 1))
	j, err := s.Job(t.Context(), id)
	require.NoError(t, err)
	assert.Nil(t, j.Design)
	assert.Equal(t, 2, j.DesignVersion, "a tab that still shows the old design is told")
	assert.ErrorIs(t, s.WriteDesign(t.Context(), id, store.Design{}, 1), store.ErrChanged)
	data, err := s.MeshFile(t.Context(), "abc")
	require.NoError(t, err)
	assert.Equal(t, []byte{1, 2, 3}, data)
	_, err = s.MeshFile(t.Context(), "def")
	assert.ErrorIs(t, err, store.ErrNotFound)
	assert.ErrorIs(t, s.WriteMaster(t.Context(), id, m, nil, "abc", true, 1), store.ErrChanged)
}

// writeForEver is the process that the next test kills while it saves.
func writeForEver(url string) {
	s, err := store.Open(context.Background(), url)
	if err != nil {
		panic(err)
	}
	jobs, err := s.Jobs(context.Background())
	if err != nil {
		panic(err)
	}
	j := jobs[0]
	for n := 1; ; n++ {
		d := store.Design{Design: study.Design{ShotOver: float64(n), RubberOver: float64(n)}}
		d.Gates.SprueBore, d.Gates.WellDepth = float64(n), float64(n)
		if err := s.WriteDesign(context.Background(), j.ID, d, j.DesignVersion+n-1); err != nil {
			panic(err)
		}
		if n == 1 {
			_, _ = os.Stdout.WriteString("saving\n")
		}
	}
}

func TestServerKilledWhileSavingLeavesAWholeDesign(t *testing.T) {
	url := testkit.DatabaseURL(t)
	s, err := store.Open(t.Context(), url)
	require.NoError(t, err)
	defer s.Close()
	id := newJob(t, s)
	for range 5 {
		cmd := exec.Command(os.Args[0])
		cmd.Env = append(os.Environ(), "BATHYFORM_TEST_WRITER="+url)
		out, err := cmd.StdoutPipe()
		require.NoError(t, err)
		require.NoError(t, cmd.Start())
		word := make([]byte, 7)
		_, err = out.Read(word)
		require.NoError(t, err)
		require.True(t, strings.HasPrefix(string(word), "saving"))
		time.Sleep(30 * time.Millisecond)
		require.NoError(t, cmd.Process.Kill())
		_ = cmd.Wait()
		var j store.Job
		require.Eventually(t, func() bool { // the database may still be carrying out the last thing it was told
			before := j.DesignVersion
			j, err = s.Job(t.Context(), id)
			return err == nil && j.DesignVersion == before
		}, 5*time.Second, 50*time.Millisecond)
		require.NotNil(t, j.Design)
		d := j.Design
		for _, v := range []float64{d.RubberOver, d.Gates.SprueBore, d.Gates.WellDepth} {
			assert.Equal(t, d.ShotOver, v, "one design, not parts of two")
		}
		require.NoError(t, s.WriteDesign(t.Context(), id, *d, j.DesignVersion), "the next save goes on from there")
	}
}

func TestASetIsKeptWithItsOrder(t *testing.T) {
	s := testkit.Store(t)
	require.NoError(t, s.SetUpShop(t.Context(), "Test shop", practice.Usual()))
	id := uuid.New()
	require.NoError(t, s.AddJob(t.Context(), id, store.Order{Name: "Guard", Quantity: 30, Set: "Kit", PerSet: 3}))
	j, err := s.Job(t.Context(), id)
	require.NoError(t, err)
	assert.Equal(t, "Kit", j.Order.Set)
	assert.Equal(t, 3, j.Order.PerSet)
	require.NoError(t, s.WriteOrder(t.Context(), id, store.Order{Name: "Guard", Quantity: 30}, j.Version))
	j, err = s.Job(t.Context(), id)
	require.NoError(t, err)
	assert.Empty(t, j.Order.Set, "on its own again")
	assert.Equal(t, 1, j.Order.PerSet, "never none")
}

func TestAnotherShapeForgetsWhatWasSaidOfTheOldOne(t *testing.T) {
	s := testkit.Store(t)
	id := newJob(t, s)
	at := r3.Vec{X: 3}
	said := study.Brief{Quality: "good", Kind: "cut", Done: []string{"wipe"}, Check: &part.Check{Kind: "length", Value: 20},
		Inserts: []study.Insert{{Insert: prep.Insert{Kind: prep.Thread, Note: "M4"}, At: &at}}}
	j, err := s.Job(t.Context(), id)
	require.NoError(t, err)
	require.NoError(t, s.WriteBrief(t.Context(), id, said, j.Version))
	m := store.Master{Name: "by hand", Measured: &part.Measured{Length: 10, Width: 10, Height: 10, Volume: 0.5}}
	require.NoError(t, s.WriteMaster(t.Context(), id, m, nil, "", true, j.Version+1))
	kept, err := s.Job(t.Context(), id)
	require.NoError(t, err)
	assert.Equal(t, said, kept.Brief, "the same shape under another name keeps it")

	require.NoError(t, s.WriteMaster(t.Context(), id, m, nil, "", false, j.Version+2))
	kept, err = s.Job(t.Context(), id)
	require.NoError(t, err)
	assert.Equal(t, "good", kept.Brief.Quality, "how good it must be has nothing to do with the shape")
	require.Len(t, kept.Brief.Inserts, 1)
	assert.Nil(t, kept.Brief.Inserts[0].At)
	assert.Nil(t, kept.Brief.Check)
	assert.Empty(t, kept.Brief.Done)
	assert.Empty(t, kept.Brief.Kind)
}
