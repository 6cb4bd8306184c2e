package main

import (
	"context"
	"io"
	"os"
	"os/exec"
	"runtime"
	"sync"
	"syscall"

	"bathyform/core/practice"
)

// standIn starts a process of its own for each instrument, which ends with this
// one; where one cannot speak, as while another demo runs, the others do.
func standIn(ctx context.Context, all []practice.Instrument, said io.Writer) (wait func()) {
	var running sync.WaitGroup
	self, err := os.Executable()
	if err != nil {
		return running.Wait
	}
	for _, in := range all {
		running.Go(func() {
			runtime.LockOSThread()                                                       // Pdeathsig watches the thread that started it
			cmd := exec.CommandContext(ctx, self, "device", in.Kind, "--on", in.Address) //nolint:gosec // it is this program
			cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGTERM}
			cmd.Cancel = func() error { return cmd.Process.Signal(syscall.SIGTERM) }
			cmd.Stderr = said
			_ = cmd.Run() // what it says against it, it has said
		})
	}
	return running.Wait
}
