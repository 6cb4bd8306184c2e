package pg

import (
	"bytes"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"time"
)

// hold takes the data in dir for this process alone. The hold ends with the
// process however that dies.
func hold(dir string) (*os.File, error) {
	f, err := os.OpenFile(dir+".lock", os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, fmt.Errorf("take the records in %s in hand: %w", dir, err)
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		_ = f.Close()
		return nil, fmt.Errorf("a database is already running on %s: Bathyform is open in another terminal; stop it there with Ctrl-C", dir)
	}
	return f, nil
}

// awaitLast waits for a server that outlived its Bathyform and is closing the
// data, and clears the note that one which was killed left behind.
func awaitLast(ctx context.Context, dir string, say func(string)) error {
	note := filepath.Join(dir, "postmaster.pid")
	for told, deadline := false, time.Now().Add(20*time.Second); ; {
		data, err := os.ReadFile(note)
		if errors.Is(err, os.ErrNotExist) {
			return nil
		}
		if err != nil {
			return fmt.Errorf("look whether a database runs on %s: %w", dir, err)
		}
		line, _, _ := bytes.Cut(data, []byte("\n"))
		pid, err := strconv.Atoi(string(bytes.TrimSpace(line)))
		if err != nil || !serves(pid, dir) { // empty, stale, or the number went to another program
			if err := os.Remove(note); err != nil && !errors.Is(err, os.ErrNotExist) {
				return fmt.Errorf("clear what a killed database left in %s: %w", dir, err)
			}
			return nil
		}
		if !told {
			say("Waiting for the last database to close ...")
			told = true
		}
		if time.Now().After(deadline) {
			return fmt.Errorf("a database is already running on %s (process %d) and does not close: end it, then start again", dir, pid)
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(50 * time.Millisecond):
		}
	}
}

// serves tells whether a process is a server on the data in dir.
func serves(pid int, dir string) bool {
	if pid <= 0 {
		return false
	}
	command, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid))
	if err != nil {
		return false
	}
	words := strings.Split(string(command), "\x00")
	for i := 1; i < len(words); i++ {
		if words[i-1] == "-D" && words[i] == dir {
			return true
		}
	}
	return false
}

// whole tells data that was made to its end: the last that is made is the
// database postgres.
func whole(dir string) bool {
	if _, err := os.Stat(filepath.Join(dir, secretFile)); err == nil {
		return true
	}
	for _, last := range []string{"PG_VERSION", "global/pg_control", "base/1/PG_VERSION", "base/5/PG_VERSION"} {
		if _, err := os.Stat(filepath.Join(dir, last)); err != nil {
			return false
		}
	}
	return true
}

// secretFile is read by who started the server alone; passwords are made of it.
const secretFile = "bathyform.secret"

func password(secret, role string) string {
	sum := sha256.Sum256([]byte(role + " " + secret))
	return hex.EncodeToString(sum[:])
}

// access lets in who knows a password, and nobody else.
const access = "host all all 127.0.0.1/32 scram-sha-256\n"

// initialise makes the data if there is none, in a folder of its own that gets
// its name when it is whole.
func (c *Cluster) initialise(ctx context.Context, say func(string)) error {
	making := c.dir + ".making"
	if err := os.RemoveAll(making); err != nil {
		return fmt.Errorf("clear what an interrupted start left behind: %w", err)
	}
	if whole(c.dir) {
		return c.secure()
	}
	if _, err := os.Stat(filepath.Join(c.dir, "PG_VERSION")); err == nil { // an interrupted start of an earlier Bathyform
		if err := os.RemoveAll(c.dir); err != nil {
			return fmt.Errorf("clear what an interrupted start left behind: %w", err)
		}
	}
	if inside, err := os.ReadDir(c.dir); err == nil && len(inside) > 0 {
		return fmt.Errorf("%s holds something else than Bathyform's records: choose another folder in BATHYFORM_DATA", c.dir)
	}
	say("Making the workshop's records ...")
	if err := os.Mkdir(making, 0o700); err != nil {
		return fmt.Errorf("make the database folder: %w", err)
	}
	secret := rand.Text()
	word := making + ".word"
	defer os.Remove(word) //nolint:errcheck // it is gone already after a failure
	if err := os.WriteFile(word, []byte(password(secret, superuser)), 0o600); err != nil {
		return fmt.Errorf("make the database folder: %w", err)
	}
	if c.owner != nil {
		for _, path := range []string{making, word} {
			if err := os.Chown(path, int(c.owner.Uid), int(c.owner.Gid)); err != nil {
				return fmt.Errorf("hand the database folder over: %w", err)
			}
		}
	}
	cmd := exec.CommandContext(ctx, filepath.Join(c.bin, "initdb"), "-D", making, "-U", superuser, "-A", "scram-sha-256",
		"--pwfile", word, "-E", "UTF8", "--locale=C.UTF-8", "--no-sync")
	cmd.Dir = "/"
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: c.owner, Pdeathsig: syscall.SIGKILL}
	if out, err := cmd.CombinedOutput(); err != nil {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		return inWords("make the database: "+err.Error(), c.dir, string(out))
	}
	if err := c.keep(making, secret); err != nil {
		return err
	}
	return os.Rename(making, c.dir)
}

// keep writes down who is let in, and the secret last: data that has it is whole.
func (c *Cluster) keep(dir, secret string) error {
	hba, written := filepath.Join(dir, "pg_hba.conf"), filepath.Join(dir, secretFile)
	err := os.WriteFile(hba, []byte(access), 0o600)
	if err == nil && c.owner != nil {
		err = os.Chown(hba, int(c.owner.Uid), int(c.owner.Gid))
	}
	if err == nil {
		err = os.WriteFile(written+".new", []byte(secret), 0o600)
	}
	if err == nil {
		err = os.Rename(written+".new", written)
	}
	if err != nil {
		return fmt.Errorf("secure the records in %s: %w", dir, err)
	}
	c.secret = secret
	return nil
}

// secure reads the secret of data that is there. Data of an earlier Bathyform,
// which let everybody in, is given one.
func (c *Cluster) secure() error {
	text, err := os.ReadFile(filepath.Join(c.dir, secretFile))
	if err == nil {
		c.secret = string(text)
		return nil
	}
	if !errors.Is(err, os.ErrNotExist) {
		return fmt.Errorf("read the secret of the records in %s: %w", c.dir, err)
	}
	secret := rand.Text()
	cmd := exec.Command(filepath.Join(c.bin, "postgres"), "--single", "-D", c.dir, "postgres")
	cmd.Dir = "/"
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: c.owner}
	cmd.Stdin = strings.NewReader(fmt.Sprintf("ALTER ROLE %s PASSWORD '%s'\n", superuser, password(secret, superuser)))
	if out, err := cmd.CombinedOutput(); err != nil {
		return inWords("secure the database: "+err.Error(), c.dir, string(out))
	}
	return c.keep(c.dir, secret)
}
