// Command pagebench prints how long the page takes, in headless Chromium with
// the 3D view drawn in software: ten interactions, loads with an empty and a
// full cache, and a master of a million triangles.
package main

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"os/signal"
	"path/filepath"
	"syscall"
	"time"

	"bathyform/e2e/browser"
)

func main() {
	bin := flag.String("bin", "bin/bathyform", "the program")
	only := flag.String("only", "", "take only: hands, loads, million")
	flag.Parse()
	if err := bench(*bin, *only); err != nil {
		fmt.Fprintln(os.Stderr, "pagebench:", err)
		os.Exit(1)
	}
}

func bench(bin, only string) error {
	data, err := os.MkdirTemp("", "bathyform-pagebench")
	if err != nil {
		return err
	}
	defer os.RemoveAll(data) //nolint:errcheck // a temporary folder
	if err := os.Chmod(data, 0o755); err != nil {
		return err
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return err
	}
	addr := l.Addr().String()
	if err := l.Close(); err != nil {
		return err
	}
	ctx, stop := signal.NotifyContext(context.Background(), syscall.SIGINT, syscall.SIGTERM)
	defer stop()
	server := exec.CommandContext(ctx, bin, "demo")
	server.Cancel = func() error { return server.Process.Signal(syscall.SIGINT) }
	server.Env = append(os.Environ(), "BATHYFORM_ADDR="+addr, "BATHYFORM_DATA="+filepath.Join(data, "demo"))
	var said bytes.Buffer
	server.Stdout, server.Stderr = &said, &said
	if err := server.Start(); err != nil {
		return err
	}
	defer func() {
		stop()
		_ = server.Process.Signal(syscall.SIGINT)
		_ = server.Wait()
	}()
	b := &runner{base: "http://" + addr}
	if b.chromium, err = browser.Start(); err != nil {
		return err
	}
	defer b.chromium.Close()
	if err := b.find(20 * time.Second); err != nil {
		return fmt.Errorf("%w; the server said: %s", err, said.String())
	}
	for _, part := range []struct {
		name string
		run  func() error
	}{{"hands", b.hands}, {"loads", b.loads}, {"million", b.million}} {
		if only != "" && only != part.name {
			continue
		}
		if err := part.run(); err != nil {
			return fmt.Errorf("%s: %w", part.name, err)
		}
	}
	return nil
}

// runner holds the demo's jobs and opens pages that watch themselves.
type runner struct {
	base     string
	cleat    string // the address of the deck cleat's job
	chromium *browser.Browser
}

// find waits for the server and looks up the demo's jobs.
func (b *runner) find(most time.Duration) error {
	deadline := time.Now().Add(most)
	for {
		jobs, err := b.jobs()
		for _, j := range jobs {
			if j.Order.Name == "Deck cleat" {
				b.cleat = "/jobs/" + j.ID
				return nil
			}
		}
		if time.Now().After(deadline) {
			return fmt.Errorf("the demo does not come up: %w", err)
		}
		time.Sleep(100 * time.Millisecond)
	}
}

type job struct {
	ID    string
	Order struct{ Name string }
}

func (b *runner) jobs() (jobs []job, err error) {
	resp, err := http.Get(b.base + "/api/jobs")
	if err != nil {
		return nil, err
	}
	defer resp.Body.Close() //nolint:errcheck // read to its end
	return jobs, json.NewDecoder(resp.Body).Decode(&jobs)
}

// vent is where the highest vent's foot stands in the page.
func (b *runner) vent(p *browser.Page) (x, y float64, err error) {
	at, err := browser.Eval[[]float64](p, `(() => {
		const c = document.querySelector('canvas'), r = c.getBoundingClientRect()
		return [r.x + r.width * c.dataset.footX, r.y + r.height * c.dataset.footY]
	})()`)
	if err != nil {
		return 0, 0, err
	}
	return at[0], at[1], nil
}
