// Package testkit gives tests a real PostgreSQL: one private cluster a test
// binary, one database a test.
package testkit

import (
	"context"
	"fmt"
	"os"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"bathyform/demo/seed"
	"bathyform/internal/pg"
	"bathyform/internal/store"

	"github.com/stretchr/testify/require"
)

var (
	once    sync.Once
	cluster *pg.Cluster
	failed  error
	dir     string
	count   atomic.Int64
)

// Main runs a package's tests and stops the cluster that they started, if any.
func Main(m *testing.M) {
	code := m.Run()
	if cluster != nil {
		if err := cluster.Stop(); err != nil {
			fmt.Fprintln(os.Stderr, err)
			code = 1
		}
	}
	if dir != "" {
		_ = os.RemoveAll(dir)
	}
	os.Exit(code)
}

const template = "migrated"

// thrownAway is how a server is run of which nothing outlasts the machine: it still loses
// nothing when it is killed.
var thrownAway = []string{"fsync=off", "synchronous_commit=off", "full_page_writes=off"}

// start makes the cluster and one migrated database to copy from.
func start() {
	ctx := context.Background()
	if dir, failed = os.MkdirTemp("", "bathyform-test"); failed != nil {
		return
	}
	if failed = os.Chmod(dir, 0o755); failed != nil { // the unprivileged server must get through
		return
	}
	if cluster, failed = pg.Start(ctx, dir+"/postgres", nil, thrownAway...); failed != nil {
		return
	}
	if failed = cluster.CreateDatabase(ctx, template, ""); failed != nil {
		return
	}
	var s *store.Store
	if s, failed = store.Open(ctx, cluster.URL(template)); failed == nil {
		s.Close()
	}
}

// DatabaseURL returns the address of a fresh, migrated database.
func DatabaseURL(t testing.TB) string {
	t.Helper()
	once.Do(start)
	require.NoError(t, failed)
	name := fmt.Sprintf("test%d", count.Add(1))
	require.NoError(t, cluster.CreateDatabase(t.Context(), name, template))
	return cluster.URL(name)
}

// EmptyDatabaseURL returns the address of a database without any tables.
func EmptyDatabaseURL(t testing.TB) string {
	t.Helper()
	once.Do(start)
	require.NoError(t, failed)
	name := fmt.Sprintf("empty%d", count.Add(1))
	require.NoError(t, cluster.CreateDatabase(t.Context(), name, ""))
	return cluster.URL(name)
}

const demoTemplate = "demo"

var (
	demoOnce   sync.Once
	demoFailed error
)

// DemoURL returns the address of a database with the demo shop set up.
func DemoURL(t testing.TB) string {
	t.Helper()
	once.Do(start)
	require.NoError(t, failed)
	demoOnce.Do(func() {
		ctx := context.Background()
		if demoFailed = cluster.CreateDatabase(ctx, demoTemplate, template); demoFailed != nil {
			return
		}
		var s *store.Store
		if s, demoFailed = store.Open(ctx, cluster.URL(demoTemplate)); demoFailed == nil {
			demoFailed = seed.IfEmpty(ctx, s, time.Now())
			s.Close()
		}
	})
	require.NoError(t, demoFailed)
	name := fmt.Sprintf("demo%d", count.Add(1))
	require.NoError(t, cluster.CreateDatabase(t.Context(), name, demoTemplate))
	return cluster.URL(name)
}

// DemoStore returns a store on a database with the demo shop set up.
func DemoStore(t testing.TB) *store.Store {
	t.Helper()
	s, err := store.Open(t.Context(), DemoURL(t))
	require.NoError(t, err)
	t.Cleanup(s.Close)
	return s
}

// Store returns a store on a fresh database.
func Store(t testing.TB) *store.Store {
	t.Helper()
	s, err := store.Open(t.Context(), DatabaseURL(t))
	require.NoError(t, err)
	t.Cleanup(s.Close)
	return s
}
