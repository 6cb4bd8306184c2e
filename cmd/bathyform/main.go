// Command bathyform serves the application and answers single questions about
// meshes on the command line.
package main

import (
	"context"
	"fmt"
	"os"
	"os/signal"
	"strings"
	"syscall"

	"github.com/spf13/cobra"
)

// unusable is the exit status for input that cannot be worked with.
const unusable = 2

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	go func() {
		<-ctx.Done()
		stop() // a second Ctrl-C ends it at once
	}()
	root := &cobra.Command{
		Use:           "bathyform",
		Short:         "Plans, pours and keeps count of rubber moulds and their castings",
		SilenceUsage:  true,
		SilenceErrors: true,
	}
	root.AddCommand(
		demoCommand(),
		serveCommand(),
		inspectCommand(), wallsCommand(),
		trapCommand(),
		drawCommand(),
		piecesCommand(),
		gangCommand(),
		gatesCommand(), deviceCommand(),
		flowCommand(), logCommand(), lifeCommand(), enoughCommand(), watchCommand(),
		mouldCommand(),
		kindsCommand(),
		schemaCommand(),
	)
	if err := root.ExecuteContext(ctx); err != nil {
		fmt.Fprintln(os.Stderr, "bathyform: "+oneLine(err.Error()))
		os.Exit(unusable)
	}
}

// oneLine keeps a message to a single line, for scripts that read it.
func oneLine(s string) string { return strings.Join(strings.Fields(s), " ") }
