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
	"log/slog"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	_ "github.com/jackc/pgx/v5/stdlib" // the "pgx" driver
)

// Cluster is a running server. It is started again when it ends unbidden.
type Cluster struct {
	dir    string
	bin    string
	owner  *syscall.Credential
	port   int
	secret string
	lock   *os.File // held for as long as this process works on the data

	settings []string // of the server, beside its own

	mu       sync.Mutex
	cmd      *exec.Cmd
	ended    chan struct{} // closed when the server that runs now ends
	stopping bool
	output   *tail
}

// The superuser makes databases; the application works as an ordinary role,
// which reaches its own database and nothing else of the machine.
const (
	superuser   = "bathyform"
	application = "bathyform_app"
)

// Start runs a server on the data in dir, making it first if need be, and
// says what it is doing meanwhile. When run as root the server drops to an
// unprivileged user, as PostgreSQL demands. It may be interrupted at any
// moment: data that was half made is made anew. Settings are the server's own, such as
// fsync=off for what is thrown away.
func Start(ctx context.Context, dir string, say func(string), settings ...string) (_ *Cluster, err error) {
	if say == nil {
		say = func(string) {}
	}
	c := &Cluster{output: &tail{}, settings: settings}
	if c.owner, err = unprivileged(); err != nil {
		return nil, err
	}
	if c.dir, err = filepath.Abs(dir); err != nil {
		return nil, err
	}
	// The folders above must let the unprivileged user through.
	if err := os.MkdirAll(filepath.Dir(c.dir), 0o755); err != nil {
		return nil, fmt.Errorf("make the database folder: %w", err)
	}
	if c.lock, err = hold(c.dir); err != nil {
		return nil, err
	}
	defer func() {
		if err != nil {
			_ = c.lock.Close()
		}
	}()
	if c.bin, err = binaries(c.dir); err != nil {
		return nil, err
	}
	if err := awaitLast(ctx, c.dir, say); err != nil {
		return nil, err
	}
	if err := c.initialise(ctx, say); err != nil {
		return nil, err
	}
	say("Opening the workshop's records ...")
	var last error
	for range 3 { // another program may take the free port before the server does
		if c.port, err = freePort(); err != nil {
			return nil, err
		}
		if last = c.run(ctx); last == nil {
			go c.watch()
			return c, nil
		}
	}
	return nil, last
}

// Remove throws a cluster's data away, unless a server is working on it.
func Remove(ctx context.Context, dir string) error {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return err
	}
	if _, err := os.Stat(filepath.Dir(dir)); errors.Is(err, os.ErrNotExist) {
		return nil
	}
	lock, err := hold(dir)
	if err != nil {
		return err
	}
	defer lock.Close() //nolint:errcheck // nothing was written
	if err := awaitLast(ctx, dir, func(string) {}); err != nil {
		return err
	}
	return os.RemoveAll(dir)
}

// URL returns the address of a database in the cluster, for the application.
func (c *Cluster) URL(database string) string { return c.url(application, database) }

func (c *Cluster) url(role, database string) string {
	return fmt.Sprintf("postgres://%s:%s@127.0.0.1:%d/%s?sslmode=disable", role, password(c.secret, role), c.port, database)
}

// Stop shuts the server down cleanly.
func (c *Cluster) Stop() error {
	defer c.lock.Close() //nolint:errcheck // nothing was written
	c.mu.Lock()
	c.stopping = true
	cmd, ended := c.cmd, c.ended
	c.mu.Unlock()
	_ = cmd.Process.Signal(syscall.SIGINT) // a fast, clean shutdown
	select {
	case <-ended:
		return nil
	case <-time.After(20 * time.Second):
		_ = cmd.Process.Kill()
		return errors.New("the database did not stop within 20 s and was ended")
	}
}

// watch starts the server again, on its port, whenever it ends unbidden.
func (c *Cluster) watch() {
	for {
		c.mu.Lock()
		ended, stopping := c.ended, c.stopping
		c.mu.Unlock()
		if stopping {
			return
		}
		<-ended
		for {
			c.mu.Lock()
			stopping = c.stopping
			c.mu.Unlock()
			if stopping {
				return
			}
			slog.Warn("the database has ended and is opened again", "last words", c.output.String())
			_ = os.Remove(filepath.Join(c.dir, "postmaster.pid")) // of the one that was seen to end
			if err := c.run(context.Background()); err == nil {
				break
			}
			time.Sleep(200 * time.Millisecond)
		}
	}
}

// run starts the server and waits until it answers.
func (c *Cluster) run(ctx context.Context) error {
	args := []string{"-D", c.dir}
	for _, s := range slices.Concat([]string{"listen_addresses=127.0.0.1", "port=" + strconv.Itoa(c.port), "unix_socket_directories=",
		"max_connections=80", "shared_buffers=64MB"}, c.settings) {
		args = append(args, "-c", s)
	}
	cmd := exec.Command(filepath.Join(c.bin, "postgres"), args...)
	cmd.Dir = "/"
	cmd.Stdout, cmd.Stderr = c.output, c.output
	// The server ends with this process however that dies. Setpgid keeps the
	// terminal's Ctrl-C from it, so that the application can say goodbye first.
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: c.owner, Pdeathsig: syscall.SIGINT, Setpgid: true}
	started, ended := make(chan error), make(chan struct{})
	go func() {
		runtime.LockOSThread() // Pdeathsig watches the thread that started the server
		err := cmd.Start()
		started <- err
		if err == nil {
			_ = cmd.Wait()
			close(ended)
		}
	}()
	if err := <-started; err != nil {
		return fmt.Errorf("start PostgreSQL: %w", err)
	}
	c.mu.Lock()
	c.cmd, c.ended = cmd, ended
	stopping := c.stopping
	c.mu.Unlock()
	end := func() {
		_ = cmd.Process.Signal(syscall.SIGINT)
		<-ended
	}
	if stopping { // told so while it started again
		end()
		return errors.New("stopped")
	}
	db, err := sql.Open("pgx", c.url(superuser, "postgres"))
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
		case <-ended:
			return inWords("PostgreSQL ended at once", c.dir, c.output.String())
		case <-ctx.Done():
			end()
			return ctx.Err()
		case <-time.After(40 * time.Millisecond):
		}
		if time.Now().After(deadline) {
			end()
			return fmt.Errorf("PostgreSQL did not answer within a minute: %w", err)
		}
	}
}

// inWords tells what stands behind the server's own words, where that is known.
func inWords(what, dir, words string) error {
	switch {
	case strings.Contains(words, "No space left"):
		return fmt.Errorf("the disk is full: make room where %s lies, then start again", dir)
	case strings.Contains(words, "ermission denied"):
		return fmt.Errorf(
			"%s: the unprivileged user cannot reach %s: put the checkout somewhere it can, or set BATHYFORM_DATA (%s)",
			what,
			dir,
			words,
		)
	case strings.Contains(words, "ead-only file system"):
		return fmt.Errorf("%s cannot be written: set BATHYFORM_DATA to a folder that can", dir)
	}
	return fmt.Errorf("%s on %s: %s", what, dir, words)
}

// binaries finds the server for the data in dir: the version that made it, or
// for new data the newest that Debian's packages installed, or the one on the
// PATH.
func binaries(dir string) (string, error) {
	found, _ := filepath.Glob("/usr/lib/postgresql/*/bin/postgres")
	version := func(path string) int {
		n, _ := strconv.Atoi(filepath.Base(filepath.Dir(filepath.Dir(path))))
		return n
	}
	if text, err := os.ReadFile(filepath.Join(dir, "PG_VERSION")); err == nil && whole(dir) {
		made := strings.TrimSpace(string(text))
		at := slices.IndexFunc(found, func(path string) bool { return strconv.Itoa(version(path)) == made })
		if at < 0 && len(found) > 0 {
			return "", fmt.Errorf(
				"the records in %s were made by PostgreSQL %s, which is not installed: run `apt-get install postgresql-%s`, or move that "+
					"folder away to start afresh",
				dir,
				made,
				made,
			)
		}
		if at >= 0 {
			return filepath.Dir(found[at]), nil
		}
	}
	if len(found) > 0 {
		return filepath.Dir(slices.MaxFunc(found, func(a, b string) int { return version(a) - version(b) })), nil
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

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

// tail keeps the last lines of the server's log for an error message.
type tail struct {
	mu    sync.Mutex
	lines []string
}

func (t *tail) Write(p []byte) (int, error) {
	t.mu.Lock()
	defer t.mu.Unlock()
	s := bufio.NewScanner(bytes.NewReader(p))
	for s.Scan() {
		t.lines = append(t.lines, s.Text())
	}
	if n := len(t.lines); n > 20 {
		t.lines = slices.Clone(t.lines[n-20:])
	}
	return len(p), nil
}

func (t *tail) String() string {
	t.mu.Lock()
	defer t.mu.Unlock()
	return strings.Join(t.lines, "; ")
}
