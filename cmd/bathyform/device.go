package main

import (
	"fmt"
	"net"
	"strings"

	"bathyform/internal/device"
	"bathyform/internal/device/standin"

	"github.com/spf13/cobra"
)

// deviceCommand speaks for an instrument that is not there.
func deviceCommand() *cobra.Command {
	var on string
	var kinds []string
	for _, k := range device.Kinds {
		kinds = append(kinds, string(k))
	}
	cmd := &cobra.Command{
		Use:   "device " + strings.Join(kinds, "|"),
		Short: "Stand in for an instrument of the bench: it says a line for every reading over TCP, and takes commands",
		Long: "Stand in for an instrument of the bench. It says ten lines a second to whoever connects, and takes plain commands, " +
			"one a line; " +
			"an unknown one is answered with all that there are. See docs/devices.md.",
		Args:      cobra.MatchAll(cobra.ExactArgs(1), cobra.OnlyValidArgs),
		ValidArgs: kinds,
		RunE: func(cmd *cobra.Command, args []string) error {
			is, err := standin.New(device.Kind(args[0]))
			if err != nil {
				return err
			}
			l, err := (&net.ListenConfig{}).Listen(cmd.Context(), "tcp", on)
			if err != nil {
				return fmt.Errorf("it cannot speak at %s: %w", on, err)
			}
			defer l.Close()
			fmt.Fprintf(cmd.OutOrStdout(), "A stand-in for the %s speaks at %s\n", args[0], l.Addr())
			return standin.Serve(cmd.Context(), l, is)
		},
	}
	cmd.Flags().StringVar(&on, "on", "127.0.0.1:0", "where it speaks, as HOST:PORT; port 0 for a free one")
	return cmd
}
