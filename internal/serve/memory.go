package serve

import (
	"os"
	"runtime/debug"
	"syscall"
)

// The memory that the server keeps to, by collecting sooner when it comes
// near: a share of the machine's, and no more than is ever of use.
const (
	shareOfMachine = 0.5
	mostOfUse      = 1200 << 20 // bytes
)

// keepToMemory sets the server's budget, unless GOMEMLIMIT says another.
func keepToMemory() {
	var machine syscall.Sysinfo_t
	if os.Getenv("GOMEMLIMIT") != "" || syscall.Sysinfo(&machine) != nil {
		return
	}
	share := int64(shareOfMachine * float64(uint64(machine.Totalram)*uint64(machine.Unit)))
	debug.SetMemoryLimit(min(share, mostOfUse))
}
