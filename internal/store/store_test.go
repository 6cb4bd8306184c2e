package store_test

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"os/exec"
	"strings"
	"sync"
	"testing"
	"time"

	"bathyform/core/design"
	"bathyform/core/mesh"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/core/prep"
	"bathyform/core/suit"
	"bathyform/demo/seed"
	"bathyform/internal/store"
	"bathyform/internal/testkit"

	"github.com/google/uuid"
	"github.com/pressly/goose/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
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

// designed is a design that can be told from another.
func designed(over float64) design.Design {
	h := practice.Usual()
	return design.Design{
		Clearance:  h.Clearance,
		Feed:       h.Feed,
		RubberOver: over,
		ShotOver:   over,
		SprueBore:  8,
		VentBore:   2,
		WellWidth:  16,
		WellDepth:  10,
	}
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
	require.Len(t, jobs, 4)
	assert.Equal(t, "Deck cleat", jobs[0].Order.Name, "the most urgent first")
	assert.Equal(t, 240, jobs[0].Order.Quantity)
	assert.Equal(t, 88, jobs[0].Good)
	assert.Equal(t, 12, jobs[2].Order.Quantity)
	require.NoError(t, s.BinJob(t.Context(), jobs[1].ID))
	s.Close()

	s = open()
	defer s.Close()
	require.NoError(t, seed.IfEmpty(t.Context(), s, today))
	jobs, err = s.Jobs(t.Context())
	require.NoError(t, err)
	assert.Len(t, jobs, 3, "a second start brings nothing back")
	assert.Equal(t, 88, jobs[0].Good)
	require.NotNil(t, jobs[0].Design)
	assert.NotEmpty(t, jobs[0].Design.Vents)
}

func TestTheSecondOfTwoTabsIsTold(t *testing.T) {
	s := testkit.Store(t)
	id := newJob(t, s)
	first := designed(1)
	second := designed(2)
	require.NoError(t, s.WriteDesign(t.Context(), id, first, since(0)))
	assert.ErrorIs(t, s.WriteDesign(t.Context(), id, second, since(0)), store.ErrChanged)
	j, err := s.Job(t.Context(), id)
	require.NoError(t, err)
	assert.Equal(t, 1.0, j.Design.ShotOver)
	assert.Equal(t, 1, j.DesignVersion)

	assert.NoError(t, s.WriteOrder(t.Context(), id, store.Order{Name: "A", Quantity: 1}, since(1)))
	assert.ErrorIs(t, s.WriteOrder(t.Context(), id, store.Order{Name: "B", Quantity: 2}, since(1)), store.ErrChanged)
}

func TestOfManyWritersAtOnceOneWins(t *testing.T) {
	s := testkit.Store(t)
	id := newJob(t, s)
	var wg sync.WaitGroup
	var mu sync.Mutex
	won := 0
	for i := range 12 {
		wg.Go(func() {
			if s.WriteDesign(context.Background(), id, designed(float64(i)), since(0)) == nil {
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
	pulls, _, err := s.Pulls(t.Context(), id, 100, 0)
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
	require.NoError(t, s.RetireMould(t.Context(), m.ID, &worn, store.Worn))
	pull.ID = uuid.New()
	assert.ErrorIs(t, s.LogPull(t.Context(), pull), store.ErrRetired)
	require.NoError(t, s.RetireMould(t.Context(), m.ID, nil, ""))
	require.NoError(t, s.LogPull(t.Context(), pull))
	early := pull
	early.ID, early.Pulled = uuid.New(), time.Now().AddDate(0, 0, -2)
	assert.ErrorIs(t, s.LogPull(t.Context(), early), store.ErrNotPoured)
}

// A database that is not there, goes away, or does not answer is told from
// one that refuses.
func TestADatabaseThatIsAway(t *testing.T) {
	_, err := store.Open(t.Context(), "postgres://nobody@127.0.0.1:1/shop")
	assert.True(t, store.Away(err), "%v", err)
	url := testkit.DatabaseURL(t)
	s, err := store.Open(t.Context(), url)
	require.NoError(t, err)
	defer s.Close()
	db, err := sql.Open("pgx", url)
	require.NoError(t, err)
	defer db.Close()
	asleep := make(chan error)
	go func() {
		_, err := db.ExecContext(context.Background(), "SELECT pg_sleep(20)")
		asleep <- err
	}()
	assert.Eventually(t, func() bool {
		var ended bool
		err := db.QueryRowContext(t.Context(), `SELECT coalesce((SELECT pg_terminate_backend(pid) FROM pg_stat_activity
			WHERE query LIKE 'SELECT pg_sleep%' AND datname = current_database()), false)`).Scan(&ended)
		return err == nil && ended
	}, 5*time.Second, 20*time.Millisecond)
	err = <-asleep
	assert.True(t, store.Away(err), "%v", err)
	for _, other := range []error{nil, store.ErrTaken, store.ErrNotFound, context.Canceled} {
		assert.False(t, store.Away(other), "%v", other)
	}
}

// Whatever is logged and struck, by whoever at once: a mould has done what its log says.
func TestCountsAgreeWithTheLog(t *testing.T) {
	s := testkit.Store(t)
	id := newJob(t, s)
	m := store.Mould{ID: uuid.New(), JobID: id, Number: "7", Rubber: "tin", Poured: time.Now(), Cavities: 2}
	require.NoError(t, s.AddMould(t.Context(), m))
	var wg sync.WaitGroup
	for worker := range 4 {
		wg.Go(func() {
			for n := range 12 {
				p := store.Pull{ID: uuid.New(), MouldID: m.ID, Pulled: time.Now(),
					Results: []store.Result{{Cavity: 1, Good: n%3 != 0}, {Cavity: 2, Good: worker%2 == 0}}}
				assert.NoError(t, s.LogPull(t.Context(), p))
				assert.NoError(t, s.LogPull(t.Context(), p), "sent twice, kept once")
				if n%4 == 1 {
					assert.NoError(t, s.StrikePull(t.Context(), p.ID))
				}
			}
		})
	}
	wg.Wait()
	pulls, total, err := s.Pulls(t.Context(), id, 500, 0)
	require.NoError(t, err)
	assert.Len(t, pulls, 4*12, "what is struck can still be read")
	assert.Equal(t, 4*12, total)
	count, good, scrap := 0, 0, 0
	for _, p := range pulls {
		if p.Struck {
			continue
		}
		count++
		for _, r := range p.Results {
			if r.Good {
				good++
			} else {
				scrap++
			}
		}
	}
	got, err := s.Mould(t.Context(), m.ID)
	require.NoError(t, err)
	assert.Equal(t, [3]int{count, good, scrap}, [3]int{got.Pulls, got.Good, got.Scrap})

	older, _, err := s.Pulls(t.Context(), id, 5, 30)
	require.NoError(t, err)
	assert.Equal(t, pulls[30:35], older)
}

// An ID that was given along adds its thing once, and names nothing else.
func TestWhatIsAddedTwiceIsThereOnce(t *testing.T) {
	s := testkit.Store(t)
	id := newJob(t, s)
	m := store.Mould{ID: uuid.New(), JobID: id, Number: "7", Rubber: "tin", Poured: time.Now(), Cavities: 2}
	require.NoError(t, s.AddMould(t.Context(), m))
	require.NoError(t, s.AddMould(t.Context(), m))
	other := m
	other.Number = "8"
	assert.ErrorIs(t, s.AddMould(t.Context(), other), store.ErrReused)
	moulds, err := s.Moulds(t.Context())
	require.NoError(t, err)
	assert.Len(t, moulds, 1)

	order := store.Order{Name: "A", Quantity: 5}
	job := uuid.New()
	require.NoError(t, s.AddJob(t.Context(), job, order))
	require.NoError(t, s.AddJob(t.Context(), job, order))
	assert.ErrorIs(t, s.AddJob(t.Context(), job, store.Order{Name: "B", Quantity: 5}), store.ErrReused)

	sheet := store.Material{ID: uuid.New(), Kind: "rubber", Name: "Soft", PartsA: 1, PartsB: 1, Density: 1.1}
	require.NoError(t, s.AddMaterial(t.Context(), sheet))
	require.NoError(t, s.AddMaterial(t.Context(), sheet))
	sheet.ID = uuid.New()
	assert.ErrorIs(t, s.AddMaterial(t.Context(), sheet), store.ErrTaken)
}

func TestMeshIsKeptOnceAndANewShapeDropsTheDesign(t *testing.T) {
	s := testkit.Store(t)
	id := newJob(t, s)
	require.NoError(t, s.WriteDesign(t.Context(), id, designed(1), since(0)))
	file := &store.Mesh{SHA: "abc", Gzip: []byte{1, 2, 3}, Size: 9}
	m := store.Master{Name: "x", Unit: mesh.Millimetre, Report: &mesh.Report{Volume: 5}}
	require.NoError(t, s.WriteMaster(t.Context(), id, m, file, "abc", false, since(1)))
	j, err := s.Job(t.Context(), id)
	require.NoError(t, err)
	assert.Nil(t, j.Design)
	assert.Equal(t, 2, j.DesignVersion, "a tab that still shows the old design is told")
	assert.ErrorIs(t, s.WriteDesign(t.Context(), id, designed(3), since(1)), store.ErrChanged)
	data, err := s.MeshFile(t.Context(), "abc")
	require.NoError(t, err)
	assert.Equal(t, []byte{1, 2, 3}, data)
	_, err = s.MeshFile(t.Context(), "def")
	assert.ErrorIs(t, err, store.ErrNotFound)
	assert.ErrorIs(t, s.WriteMaster(t.Context(), id, m, nil, "abc", true, since(1)), store.ErrChanged)
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
		d := designed(float64(n % 100))
		if err := s.WriteDesign(context.Background(), j.ID, d, since(j.DesignVersion+n-1)); err != nil {
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
	saved := 0
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
		require.EventuallyWithT(t, func(c *assert.CollectT) { // the database may still be carrying out the last thing it was told
			before := j.DesignVersion
			var err error
			j, err = s.Job(t.Context(), id)
			require.NoError(c, err)
			assert.Equal(c, before, j.DesignVersion)
		}, 5*time.Second, 50*time.Millisecond)
		require.NotNil(t, j.Design)
		d := j.Design
		assert.Equal(t, designed(d.ShotOver).RubberOver, d.RubberOver, "one design, not parts of two")
		assert.Equal(t, float64((j.DesignVersion-saved)%100), d.ShotOver, "the one that its version names")
		require.NoError(t, s.WriteDesign(t.Context(), id, *d, since(j.DesignVersion)), "the next save goes on from there")
		saved = j.DesignVersion + 1
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
	require.NoError(t, s.WriteOrder(t.Context(), id, store.Order{Name: "Guard", Quantity: 30}, since(j.Version)))
	j, err = s.Job(t.Context(), id)
	require.NoError(t, err)
	assert.Empty(t, j.Order.Set, "on its own again")
	assert.Equal(t, 1, j.Order.PerSet, "never none")
}

func TestAnotherShapeForgetsWhatWasSaidOfTheOldOne(t *testing.T) {
	s := testkit.Store(t)
	id := newJob(t, s)
	at := design.Place{3, 0, 0}
	said := design.Brief{
		Quality:    "good",
		Generation: 1,
		Kind:       design.Cut,
		Wants:      []suit.Want{},
		Done:       []string{"wipe"},
		Check:      &part.Check{Kind: "length", Value: 20},
		Inserts:    []design.Insert{{Kind: prep.Thread, Note: "M4", At: &at}},
	}
	j, err := s.Job(t.Context(), id)
	require.NoError(t, err)
	require.NoError(t, s.WriteBrief(t.Context(), id, said, since(j.Version)))
	m := store.Master{Name: "by hand", Measured: &part.Measured{Length: 10, Width: 10, Height: 10, Volume: 0.5}}
	require.NoError(t, s.WriteMaster(t.Context(), id, m, nil, "", true, since(j.Version+1)))
	kept, err := s.Job(t.Context(), id)
	require.NoError(t, err)
	assert.Equal(t, said, kept.Brief, "the same shape under another name keeps it")

	require.NoError(t, s.WriteMaster(t.Context(), id, m, nil, "", false, since(j.Version+2)))
	kept, err = s.Job(t.Context(), id)
	require.NoError(t, err)
	assert.Equal(t, "good", kept.Brief.Quality, "how good it must be has nothing to do with the shape")
	require.Len(t, kept.Brief.Inserts, 1)
	assert.Nil(t, kept.Brief.Inserts[0].At)
	assert.Nil(t, kept.Brief.Check)
	assert.Empty(t, kept.Brief.Done)
	assert.Empty(t, kept.Brief.Kind)
}

// What a database of the first versions held: the program's own names of its
// fields, and no version.
func TestDesignsOfTheFirstVersionsAreBroughtUpToDate(t *testing.T) {
	url := testkit.EmptyDatabaseURL(t)
	db, err := sql.Open("pgx", url)
	require.NoError(t, err)
	defer db.Close()
	old, err := goose.NewProvider(goose.DialectPostgres, db, os.DirFS("migrations"))
	require.NoError(t, err)
	_, err = old.UpTo(t.Context(), 3)
	require.NoError(t, err)
	document := func(name string) []byte {
		data, err := os.ReadFile("../../core/design/testdata/" + name)
		require.NoError(t, err)
		return data
	}
	_, err = db.ExecContext(t.Context(), `INSERT INTO shop (id, name, practice) VALUES ($1, 'Old shop', '{}')`, store.DemoShop)
	require.NoError(t, err)
	id, mould := uuid.New(), uuid.New()
	_, err = db.ExecContext(
		t.Context(),
		`INSERT INTO job (id, shop_id, name, quantity, design, brief) VALUES ($1, $2, 'Cleat', 10, $3, $4)`,
		id,
		store.DemoShop,
		document("design-v0-full.json"),
		document("brief-v0.json"),
	)
	require.NoError(t, err)
	_, err = db.ExecContext(
		t.Context(),
		`INSERT INTO mould (id, shop_id, job_id, number, rubber, poured, cavities, design) VALUES ($1, $2, $3, '7', 'tin', now(), 1, $4)`,
		mould,
		store.DemoShop,
		id,
		document("design-v0-plain.json"),
	)
	require.NoError(t, err)

	for range 2 { // the second time there is nothing left to do
		s, err := store.Open(t.Context(), url)
		require.NoError(t, err)
		j, err := s.Job(t.Context(), id)
		require.NoError(t, err)
		now, err := design.Decode(document("design-v1-full.json"))
		require.NoError(t, err)
		assert.Equal(t, now.Design, *j.Design)
		brief, err := design.DecodeBrief(document("brief-v1.json"))
		require.NoError(t, err)
		assert.Equal(t, brief, j.Brief)
		s.Close()
	}
	var kept []byte
	require.NoError(t, db.QueryRowContext(t.Context(), `SELECT design FROM mould WHERE id = $1`, mould).Scan(&kept))
	assert.JSONEq(t, string(document("design-v1-plain.json")), string(kept), "the database and the file hold the same document")
}

// A design that nobody has kept yet has a version as well: whoever shows the
// proposal for the old master must not keep it for the new one.
func TestReplacingTheMasterTellsWhoeverShowsTheOldProposal(t *testing.T) {
	s := testkit.Store(t)
	id := newJob(t, s)
	m := store.Master{Name: "x", Unit: mesh.Millimetre, Report: &mesh.Report{Volume: 5}}
	require.NoError(t, s.WriteMaster(t.Context(), id, m, &store.Mesh{SHA: "one", Gzip: []byte{1}, Size: 1}, "one", false, since(1)))
	j, err := s.Job(t.Context(), id)
	require.NoError(t, err)
	shown := j.DesignVersion
	require.NoError(t, s.WriteMaster(t.Context(), id, m, &store.Mesh{SHA: "two", Gzip: []byte{2}, Size: 1}, "two", false, since(j.Version)))
	assert.ErrorIs(t, s.WriteDesign(t.Context(), id, designed(1), since(shown)), store.ErrChanged)
	j, err = s.Job(t.Context(), id)
	require.NoError(t, err)
	assert.Nil(t, j.Design)
	require.NoError(t, s.WriteDesign(t.Context(), id, designed(1), since(j.DesignVersion)))
}

func TestATurnMissesNeitherAChangedJobNorAChangedDesign(t *testing.T) {
	s := testkit.Store(t)
	id := newJob(t, s)
	m := store.Master{Name: "by hand", Measured: &part.Measured{Length: 10, Width: 10, Height: 10, Volume: 0.5}}
	require.NoError(t, s.WriteMaster(t.Context(), id, m, nil, "", false, since(1)))
	j, err := s.Job(t.Context(), id)
	require.NoError(t, err)
	now, shown := since(j.Version), j.DesignVersion
	for name, stale := range map[string][2]int{"the job": {now.Version - 1, shown}, "the design": {now.Version, shown - 1}} {
		err := s.WriteTurn(t.Context(), id, m, designed(9), j.Brief, since(stale[0]), stale[1])
		assert.ErrorIs(t, err, store.ErrChanged, "%s was changed", name)
	}
	same, err := s.Job(t.Context(), id)
	require.NoError(t, err)
	assert.Equal(t, j, same, "nothing of a refused turn is kept")
	require.NoError(t, s.WriteTurn(t.Context(), id, m, designed(9), j.Brief, now, shown))
	assert.ErrorIs(t, s.WriteTurn(t.Context(), id, m, designed(9), j.Brief, now, shown), store.ErrChanged)
}

func TestMeshesThatNobodyRefersToAreRemoved(t *testing.T) {
	s := testkit.Store(t)
	mine := newJob(t, s)
	other := uuid.New()
	require.NoError(t, s.AddJob(t.Context(), other, store.Order{Name: "Hub", Quantity: 1}))
	m := store.Master{Name: "x", Unit: mesh.Millimetre, Report: &mesh.Report{Volume: 5}}
	give := func(job uuid.UUID, sha string) {
		j, err := s.Job(t.Context(), job)
		require.NoError(t, err)
		require.NoError(
			t,
			s.WriteMaster(t.Context(), job, m, &store.Mesh{SHA: sha, Gzip: []byte(sha), Size: 3}, sha, false, since(j.Version)),
		)
	}
	kept := func(sha string) bool {
		_, err := s.MeshFile(t.Context(), sha)
		return err == nil
	}
	give(mine, "shared")
	give(other, "shared")
	give(mine, "second")
	assert.True(t, kept("shared"), "the other job still has it")
	give(other, "third")
	assert.True(t, kept("shared"), "it can be gone back to")
	for n := range 21 { // and after so many others it can not
		give(mine, fmt.Sprint("new ", n))
		give(other, fmt.Sprint("new ", n))
	}
	assert.False(t, kept("shared"))
	assert.True(t, kept("new 1"))
}
