package main

import (
	"errors"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"
)

// server is the program as its own process, on one address however often it is killed.
type server struct {
	bin, database string
	addr, base    string

	mu   sync.Mutex
	cmd  *exec.Cmd
	most int // MiB, of all its lives
}

func (s *server) start() error {
	if s.addr == "" {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			return err
		}
		s.addr = l.Addr().String()
		s.base = "http://" + s.addr
		if err := l.Close(); err != nil {
			return err
		}
	}
	cmd := exec.Command(s.bin, "serve")
	cmd.Env = append(os.Environ(), "BATHYFORM_ADDR="+s.addr, "BATHYFORM_DATABASE_URL="+s.database)
	if err := cmd.Start(); err != nil {
		return err
	}
	s.mu.Lock()
	s.cmd = cmd
	s.mu.Unlock()
	_, err := back(s.base, 20*time.Second)
	return err
}

// kill ends the server as a power cut does, and starts it again.
func (s *server) kill() error {
	s.end()
	return s.start()
}

func (s *server) end() {
	s.peak()
	s.mu.Lock()
	defer s.mu.Unlock()
	_ = s.cmd.Process.Signal(syscall.SIGKILL)
	_ = s.cmd.Wait()
}

// peak is the most memory that the server has taken in any of its lives, MiB.
func (s *server) peak() int {
	s.mu.Lock()
	defer s.mu.Unlock()
	text, _ := os.ReadFile(fmt.Sprintf("/proc/%d/status", s.cmd.Process.Pid))
	for line := range strings.Lines(string(text)) {
		if kb, ok := strings.CutPrefix(line, "VmHWM:"); ok {
			n, _ := strconv.Atoi(strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(kb), "kB")))
			s.most = max(s.most, n>>10)
		}
	}
	return s.most
}

// back waits until the records can be read again, and tells how long that took.
func back(base string, most time.Duration) (time.Duration, error) {
	from := time.Now()
	client := &http.Client{Timeout: 2 * time.Second}
	for time.Since(from) < most {
		resp, err := client.Get(base + "/api/shop")
		if err == nil {
			_ = resp.Body.Close()
			if resp.StatusCode == http.StatusOK {
				return time.Since(from), nil
			}
		}
		time.Sleep(10 * time.Millisecond)
	}
	return most, errors.New("the server does not come back")
}
