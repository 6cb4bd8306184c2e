package pg

import (
	"database/sql"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestClusterKeepsItsDataAndGuardsItsFolder(t *testing.T) {
	top, err := os.MkdirTemp("", "bathyform-pg")
	require.NoError(t, err)
	defer os.RemoveAll(top)
	require.NoError(t, os.Chmod(top, 0o755)) // the unprivileged server must get through
	dir := filepath.Join(top, "deep", "postgres")

	c, err := Start(t.Context(), dir, nil)
	require.NoError(t, err)
	require.NoError(t, c.CreateDatabase(t.Context(), "shop", ""))
	require.NoError(t, c.CreateDatabase(t.Context(), "shop", ""), "a second time is no harm")
	db, err := sql.Open("pgx", c.URL("shop"))
	require.NoError(t, err)
	_, err = db.ExecContext(t.Context(), "CREATE TABLE kept AS SELECT 42 AS n")
	require.NoError(t, err)
	require.NoError(t, db.Close())

	_, err = Start(t.Context(), dir, nil)
	assert.ErrorContains(t, err, "already running")
	assert.ErrorContains(t, Remove(t.Context(), dir), "already running")
	require.NoError(t, c.Stop())

	// a lock left by a server that was killed is no hindrance
	require.NoError(t, os.WriteFile(filepath.Join(dir, "postmaster.pid"), []byte("999999\n"+dir+"\n"), 0o600))
	if owner, err := unprivileged(); err == nil && owner != nil {
		require.NoError(t, os.Chown(filepath.Join(dir, "postmaster.pid"), int(owner.Uid), int(owner.Gid)))
	}
	c, err = Start(t.Context(), dir, nil)
	require.NoError(t, err)
	db, err = sql.Open("pgx", c.URL("shop"))
	require.NoError(t, err)
	var n int
	require.NoError(t, db.QueryRowContext(t.Context(), "SELECT n FROM kept").Scan(&n))
	assert.Equal(t, 42, n)
	require.NoError(t, db.Close())
	require.NoError(t, c.Stop())
	require.NoError(t, Remove(t.Context(), dir))
	assert.NoDirExists(t, dir)
}
