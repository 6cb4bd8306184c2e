package pg

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"os/exec"
	"os/signal"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// startIn names the data that a helper process starts a server on.
const startIn = "BATHYFORM_TEST_START_IN"

func TestMain(m *testing.M) {
	if dir := os.Getenv(startIn); dir != "" {
		ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt)
		defer stop()
		if c, err := Start(ctx, dir, nil); err == nil {
			<-ctx.Done()
			_ = c.Stop()
		}
		os.Exit(0)
	}
	os.Exit(m.Run())
}

// folder is one that the unprivileged user gets through to.
func folder(t *testing.T) string {
	t.Helper()
	top, err := os.MkdirTemp("", "bathyform-pg")
	require.NoError(t, err)
	t.Cleanup(func() { _ = os.RemoveAll(top) })
	require.NoError(t, os.Chmod(top, 0o755))
	return filepath.Join(top, "postgres")
}

func started(t *testing.T, dir string) *Cluster {
	t.Helper()
	c, err := Start(t.Context(), dir, nil)
	require.NoError(t, err)
	t.Cleanup(func() { _ = c.Stop() })
	return c
}

func ask(ctx context.Context, url, question string) (answer string, err error) {
	db, err := sql.Open("pgx", url)
	if err != nil {
		return "", err
	}
	defer db.Close()
	err = db.QueryRowContext(ctx, question).Scan(&answer)
	return answer, err
}

// A first start is broken off at twenty moments, by Ctrl-C or by a kill; the
// next one makes up for it.
func TestAStartMayBeBrokenOffAtAnyMoment(t *testing.T) {
	dir := folder(t)
	for n := range 20 {
		if n%7 == 0 { // from nothing, again and again
			require.NoError(t, Remove(t.Context(), dir))
		}
		cmd := exec.Command(os.Args[0])
		cmd.Env = append(os.Environ(), startIn+"="+dir)
		require.NoError(t, cmd.Start())
		time.Sleep(time.Duration(n*n) * 3 * time.Millisecond)
		if n%2 == 0 {
			require.NoError(t, cmd.Process.Signal(os.Interrupt))
		} else {
			require.NoError(t, cmd.Process.Kill())
		}
		_ = cmd.Wait()
	}
	c := started(t, dir)
	require.NoError(t, c.CreateDatabase(t.Context(), "shop", ""))
	answer, err := ask(t.Context(), c.URL("shop"), "SELECT 'open'")
	require.NoError(t, err)
	assert.Equal(t, "open", answer)
}

func TestAKilledDatabaseIsOpenedAgain(t *testing.T) {
	c := started(t, folder(t))
	require.NoError(t, c.CreateDatabase(t.Context(), "shop", ""))
	db, err := sql.Open("pgx", c.URL("shop"))
	require.NoError(t, err)
	defer db.Close()
	_, err = db.ExecContext(t.Context(), "CREATE TABLE kept AS SELECT 42 AS n")
	require.NoError(t, err)
	for range 2 {
		c.mu.Lock()
		pid := c.cmd.Process.Pid
		c.mu.Unlock()
		require.NoError(t, syscall.Kill(pid, syscall.SIGKILL))
		assert.Eventually(t, func() bool {
			answer, err := ask(t.Context(), c.URL("shop"), "SELECT n::text FROM kept")
			return err == nil && answer == "42"
		}, 3*time.Second, 20*time.Millisecond)
	}
}

func TestNobodyGetsInWithoutThePassword(t *testing.T) {
	dir := folder(t)
	c := started(t, dir)
	require.NoError(t, c.CreateDatabase(t.Context(), "shop", ""))
	for _, role := range []string{superuser, application} {
		_, err := ask(t.Context(), fmt.Sprintf("postgres://%s@127.0.0.1:%d/shop?sslmode=disable", role, c.port), "SELECT 'in'")
		assert.Error(t, err, role)
	}
	super, err := ask(t.Context(), c.URL("shop"), "SELECT rolsuper::text FROM pg_roles WHERE rolname = current_user")
	require.NoError(t, err)
	assert.Equal(t, "false", super, "the application is no superuser")
	_, err = ask(t.Context(), c.URL("shop"), "SELECT pg_read_file('/etc/passwd')")
	assert.ErrorContains(t, err, "permission denied")
	info, err := os.Stat(filepath.Join(dir, secretFile))
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm())
}

// Data of an earlier Bathyform let everybody in and belonged to the superuser.
func TestOlderDataIsSecured(t *testing.T) {
	dir := folder(t)
	owner, err := unprivileged()
	require.NoError(t, err)
	bin, err := binaries(dir)
	require.NoError(t, err)
	require.NoError(t, os.Mkdir(dir, 0o700))
	if owner != nil {
		require.NoError(t, os.Chown(dir, int(owner.Uid), int(owner.Gid)))
	}
	initdb := exec.Command(filepath.Join(bin, "initdb"), "-D", dir, "-U", superuser, "-A", "trust", "--locale=C.UTF-8", "--no-sync")
	initdb.Dir, initdb.SysProcAttr = "/", &syscall.SysProcAttr{Credential: owner}
	out, err := initdb.CombinedOutput()
	require.NoError(t, err, string(out))
	single := exec.Command(filepath.Join(bin, "postgres"), "--single", "-D", dir, "postgres")
	single.Dir, single.SysProcAttr = "/", &syscall.SysProcAttr{Credential: owner}
	single.Stdin = strings.NewReader("CREATE DATABASE shop\n")
	out, err = single.CombinedOutput()
	require.NoError(t, err, string(out))
	single = exec.Command(filepath.Join(bin, "postgres"), "--single", "-D", dir, "shop")
	single.Dir, single.SysProcAttr = "/", &syscall.SysProcAttr{Credential: owner}
	single.Stdin = strings.NewReader("CREATE TABLE kept AS SELECT 42 AS n\n")
	out, err = single.CombinedOutput()
	require.NoError(t, err, string(out))

	c := started(t, dir)
	require.NoError(t, c.MakeDatabase(t.Context(), "shop", func(string) error { return fmt.Errorf("it is there") }))
	answer, err := ask(t.Context(), c.URL("shop"), "SELECT n::text FROM kept")
	require.NoError(t, err)
	assert.Equal(t, "42", answer)
	_, err = ask(t.Context(), c.URL("shop"), "UPDATE kept SET n = 43 RETURNING n::text")
	assert.NoError(t, err, "and belongs to the application")
	_, err = ask(t.Context(), fmt.Sprintf("postgres://%s@127.0.0.1:%d/shop?sslmode=disable", superuser, c.port), "SELECT 'in'")
	assert.Error(t, err)
}

func TestADatabaseIsFilledWholeOrNotAtAll(t *testing.T) {
	c := started(t, folder(t))
	fill := func(then error) func(string) error {
		return func(url string) error {
			db, err := sql.Open("pgx", url)
			require.NoError(t, err)
			defer db.Close()
			_, err = db.ExecContext(t.Context(), "CREATE TABLE kept AS SELECT 42 AS n")
			require.NoError(t, err)
			return then
		}
	}
	assert.ErrorIs(t, c.MakeDatabase(t.Context(), "shop", fill(context.Canceled)), context.Canceled)
	_, err := ask(t.Context(), c.URL("shop"), "SELECT 'there'")
	assert.ErrorContains(t, err, "does not exist")
	require.NoError(t, c.MakeDatabase(t.Context(), "shop", fill(nil)))
	answer, err := ask(t.Context(), c.URL("shop"), "SELECT n::text FROM kept")
	require.NoError(t, err)
	assert.Equal(t, "42", answer)
}

// What may lie in the folder on a bad day, each told or mended.
func TestWhatIsFoundInTheFolder(t *testing.T) {
	dir := folder(t)
	c := started(t, dir)
	require.NoError(t, c.Stop())
	note := filepath.Join(dir, "postmaster.pid")
	for name, text := range map[string]string{
		"an empty note":                 "",
		"a note without a number":       "nobody\n",
		"a number that runs no more":    "4194303\n" + dir + "\n",
		"a number of another program":   strconv.Itoa(os.Getpid()) + "\n" + dir + "\n",
		"a number that can be no other": "-1\n",
	} {
		t.Run(name, func(t *testing.T) {
			require.NoError(t, os.WriteFile(note, []byte(text), 0o600))
			c, err := Start(t.Context(), dir, nil)
			require.NoError(t, err)
			require.NoError(t, c.Stop())
		})
	}
	t.Run("another server's version", func(t *testing.T) {
		version := filepath.Join(dir, "PG_VERSION")
		kept, err := os.ReadFile(version)
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(version, []byte("9\n"), 0o600))
		_, err = Start(t.Context(), dir, nil)
		assert.ErrorContains(t, err, "made by PostgreSQL 9")
		assert.ErrorContains(t, err, "apt-get install postgresql-9")
		require.NoError(t, os.WriteFile(version, kept, 0o600))
	})
	t.Run("something else", func(t *testing.T) {
		other := folder(t)
		require.NoError(t, os.Mkdir(other, 0o755))
		require.NoError(t, os.WriteFile(filepath.Join(other, "holiday.jpg"), []byte("sun"), 0o600))
		_, err := Start(t.Context(), other, nil)
		assert.ErrorContains(t, err, "BATHYFORM_DATA")
		assert.FileExists(t, filepath.Join(other, "holiday.jpg"))
	})
}
