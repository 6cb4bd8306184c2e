// Package pg runs a private PostgreSQL on loopback for the demo and the
// tests, so that nobody has to set one up. Production points
// BATHYFORM_DATABASE_URL at a server of its own instead.
package pg

import (
	"bufio"
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"syscall"
	"time"

	_ "github.com/jackc/pgx/v5/stdlib" // the "pgx" driver
)

// Cluster is a running server.
type Cluster struct {
	port   int
	cmd    *exec.Cmd
	ended  chan struct{}
	output *tail
}

// superuser owns the cluster's databases.
const superuser = "bathyform"

// Start runs a server on the data in dir, making it first if need be. When
// run as root the server drops to an unprivileged user, as PostgreSQL demands.
func Start(ctx context.Context, dir string) (*Cluster, error) {
	bin, err := binaries()
	if err != nil {
		return nil, err
	}
	owner, err := unprivileged()
	if err != nil {
		return nil, err
	}
	dir, err = filepath.Abs(dir)
	if err != nil {
		return nil, err
	}
	if err := refuseRunning(dir); err != nil {
		return nil, err
	}
	if err := initialise(ctx, bin, dir, owner); err != nil {
		return nil, err
	}
	var last error
	for range 3 { // another program may take the free port before the server does
		port, err := freePort()
		if err != nil {
			return nil, err
		}
		c := &Cluster{port: port, ended: make(chan struct{}), output: &tail{}}
		if last = c.run(ctx, bin, dir, owner); last == nil {
			return c, nil
		}
	}
	return nil, last
}

// Remove throws a cluster's data away, unless a server is working on it.
func Remove(dir string) error {
	if err := refuseRunning(dir); err != nil {
		return err
	}
	return os.RemoveAll(dir)
}

// URL returns the address of a database in the cluster.
func (c *Cluster) URL(database string) string {
	return fmt.Sprintf("postgres://%s@127.0.0.1:%d/%s?sslmode=disable", superuser, c.port, database)
}

// CreateDatabase makes a database, as a copy of template unless that is empty.
func (c *Cluster) CreateDatabase(ctx context.Context, name, template string) error {
	db, err := sql.Open("pgx", c.URL("postgres"))
	if err != nil {
		return err
	}
	defer db.Close()
	var exists bool
	if err := db.QueryRowContext(ctx, "SELECT EXISTS (SELECT FROM pg_database WHERE datname = $1)", name).Scan(&exists); err != nil ||
		exists {
		return err
	}
	statement := fmt.Sprintf("CREATE DATABASE %q", name)
	if template != "" {
		statement += fmt.Sprintf(" TEMPLATE %q", template)
	}
	_, err = db.ExecContext(ctx, statement)
	return err
}

// Stop shuts the server down cleanly.
func (c *Cluster) Stop() error {
	_ = c.cmd.Process.Signal(syscall.SIGINT) // a fast, clean shutdown
	select {
	case <-c.ended:
		return nil
	case <-time.After(20 * time.Second):
		_ = c.cmd.Process.Kill()
		return errors.New("the database did not stop within 20 s and was ended")
	}
}

func (c *Cluster) run(ctx context.Context, bin, dir string, owner *syscall.Credential) error {
	c.cmd = exec.Command(filepath.Join(bin, "postgres"), "-D", dir,
		"-c", "listen_addresses=127.0.0.1", "-c", "port="+strconv.Itoa(c.port), "-c", "unix_socket_directories=",
		"-c", "max_connections=80", "-c", "shared_buffers=64MB")
	c.cmd.Dir = "/"
	c.cmd.Stdout, c.cmd.Stderr = c.output, c.output
	// The server ends with this process however that dies. Setpgid keeps the
	// terminal's Ctrl-C from it, so that the application can say goodbye first.
	c.cmd.SysProcAttr = &syscall.SysProcAttr{Credential: owner, Pdeathsig: syscall.SIGINT, Setpgid: true}
	started := make(chan error)
	go func() {
		runtime.LockOSThread() // Pdeathsig watches the thread that started the server
		err := c.cmd.Start()
		started <- err
		if err == nil {
			_ = c.cmd.Wait()
			close(c.ended)
		}
	}()
	if err := <-started; err != nil {
		return fmt.Errorf("start PostgreSQL: %w", err)
	}
	db, err := sql.Open("pgx", c.URL("postgres"))
	if err != nil {
		return err
	}
	defer db.Close()
	deadline := time.Now().Add(60 * time.Second)
	for {
		if err = db.PingContext(ctx); err == nil {
			return nil
		}
		select {
		case <-c.ended:
			return fmt.Errorf("PostgreSQL ended at once: %s", c.output.String())
		case <-ctx.Done():
			_ = c.Stop()
			return ctx.Err()
		case <-time.After(40 * time.Millisecond):
		}
		if time.Now().After(deadline) {
			_ = c.Stop()
			return fmt.Errorf("PostgreSQL did not answer within a minute: %w", err)
		}
	}
}

// binaries finds the newest server that Debian's packages installed, or the
// one on the PATH.
func binaries() (string, error) {
	found, _ := filepath.Glob("/usr/lib/postgresql/*/bin/postgres")
	if len(found) > 0 {
		version := func(path string) int {
			n, _ := strconv.Atoi(filepath.Base(filepath.Dir(filepath.Dir(path))))
			return n
		}
		newest := slices.MaxFunc(found, func(a, b string) int { return version(a) - version(b) })
		return filepath.Dir(newest), nil
	}
	if path, err := exec.LookPath("postgres"); err == nil {
		return filepath.Dir(path), nil
	}
	return "", errors.New("PostgreSQL is not installed: run `apt-get install postgresql`, or `make setup`")
}

// unprivileged returns the user to drop to, nil when not run as root.
func unprivileged() (*syscall.Credential, error) {
	if os.Geteuid() != 0 {
		return nil, nil
	}
	for _, name := range []string{"postgres", "nobody"} {
		u, err := user.Lookup(name)
		if err != nil {
			continue
		}
		uid, err1 := strconv.ParseUint(u.Uid, 10, 32)
		gid, err2 := strconv.ParseUint(u.Gid, 10, 32)
		if err1 == nil && err2 == nil {
			return &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}, nil
		}
	}
	return nil, errors.New("PostgreSQL will not run as root, and there is neither a user postgres nor nobody to run it")
}

// refuseRunning says so when another server works on the same data. A lock
// left by one that was killed is no hindrance.
func refuseRunning(dir string) error {
	data, err := os.ReadFile(filepath.Join(dir, "postmaster.pid"))
	if err != nil {
		return nil
	}
	line, _, _ := bytes.Cut(data, []byte("\n"))
	pid, err := strconv.Atoi(string(bytes.TrimSpace(line)))
	if err != nil || pid <= 0 {
		return nil
	}
	command, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid))
	if err != nil || !strings.Contains(string(command), "postgres") {
		return nil
	}
	return fmt.Errorf(
		"a database is already running on %s (process %d): Bathyform is open in another terminal; stop it there with Ctrl-C",
		dir,
		pid,
	)
}

func initialise(ctx context.Context, bin, dir string, owner *syscall.Credential) error {
	if _, err := os.Stat(filepath.Join(dir, "PG_VERSION")); err == nil {
		return nil
	}
	// The folders above must let the unprivileged user through.
	if err := errors.Join(os.MkdirAll(filepath.Dir(dir), 0o755), os.MkdirAll(dir, 0o700)); err != nil {
		return fmt.Errorf("make the database folder: %w", err)
	}
	if owner != nil {
		if err := os.Chown(dir, int(owner.Uid), int(owner.Gid)); err != nil {
			return fmt.Errorf("hand the database folder over: %w", err)
		}
	}
	cmd := exec.CommandContext(ctx, filepath.Join(bin, "initdb"), "-D", dir, "-U", superuser, "-A", "trust",
		"-E", "UTF8", "--locale=C.UTF-8", "--no-sync")
	cmd.Dir = "/"
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: owner}
	if out, err := cmd.CombinedOutput(); err != nil {
		hint := ""
		if strings.Contains(string(out), "ermission denied") {
			hint = "; the unprivileged user cannot reach that folder: put the checkout somewhere it can, or set BATHYFORM_DATA"
		}
		return fmt.Errorf("make the database in %s: %w%s\n%s", dir, err, hint, out)
	}
	return nil
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

// tail keeps the last lines of the server's log for an error message.
type tail struct{ lines []string }

func (t *tail) Write(p []byte) (int, error) {
	s := bufio.NewScanner(bytes.NewReader(p))
	for s.Scan() {
		t.lines = append(t.lines, s.Text())
	}
	if n := len(t.lines); n > 20 {
		t.lines = slices.Clone(t.lines[n-20:])
	}
	return len(p), nil
}

func (t *tail) String() string { return strings.Join(t.lines, "; ") }
