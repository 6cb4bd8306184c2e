package main

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"bathyform/internal/pg"
	"bathyform/internal/season"
	"bathyform/internal/store"

	"github.com/spf13/cobra"
)

func logCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "log",
		Short: "Take the shop's log out to a file, or read one in",
		Long: "Take the shop's log out to a file, or read one in: CSV for a spreadsheet, JSON for all of it.\n" +
			"The log is that of the database at BATHYFORM_DATABASE_URL, or else of the demo's own in BATHYFORM_DATA (.local/demo)\n" +
			"while the demo does not run.",
	}
	cmd.AddCommand(logExportCommand(), logImportCommand())
	return cmd
}

func logExportCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "export FILE.csv|FILE.json",
		Short: "Write the whole log to a file",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			write := season.CSV
			switch ext := strings.ToLower(filepath.Ext(args[0])); ext {
			case ".csv":
			case ".json":
				write = season.JSON
			default:
				return fmt.Errorf("the file's name must end in .csv or .json, not %q", ext)
			}
			return withStore(cmd.Context(), func(s *store.Store) error {
				data, err := write(cmd.Context(), s)
				if err != nil {
					return err
				}
				return os.WriteFile(args[0], data, 0o600)
			})
		},
	}
}

func logImportCommand() *cobra.Command {
	var look, dayFirst bool
	cmd := &cobra.Command{
		Use:   "import FILE.csv|FILE.json",
		Short: "Read pulls from a file into the log, each of them once",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			data, err := os.ReadFile(args[0])
			if err != nil {
				return err
			}
			return withStore(cmd.Context(), func(s *store.Store) error {
				plan, err := season.Look(cmd.Context(), s, data, dayFirst, time.Now())
				if err != nil {
					return fmt.Errorf("%s: %w", args[0], err)
				}
				w := cmd.OutOrStdout()
				for _, says := range plan.Says {
					fmt.Fprintln(w, says)
				}
				for _, st := range plan.Steps {
					if st.Does == season.Refused {
						fmt.Fprintf(w, "line %d, %s of %s: %s\n", st.Line, st.Mould, st.Day, st.Why)
					}
				}
				if !look {
					if _, err := plan.Take(cmd.Context(), s, func(int) {}); err != nil {
						return err
					}
				}
				fmt.Fprintf(w, "%d pulls %s, %d known already, %d refused\n", plan.Adds,
					map[bool]string{true: "to be added", false: "added"}[look], plan.Known, plan.Refused)
				return nil
			})
		},
	}
	cmd.Flags().BoolVar(&look, "look", false, "say what would become of every line, and do nothing")
	cmd.Flags().BoolVar(&dayFirst, "day-first", true, "3/4/2026 is the third of April")
	return cmd
}

// withStore uses the shop's records: of the database that is named, or of the demo.
func withStore(ctx context.Context, use func(*store.Store) error) (err error) {
	url := os.Getenv("BATHYFORM_DATABASE_URL")
	if url == "" {
		dir := filepath.Join(cmp.Or(os.Getenv("BATHYFORM_DATA"), filepath.Join(".local", "demo")), "postgres")
		if _, err := os.Stat(dir); err != nil {
			return errors.New("BATHYFORM_DATABASE_URL is not set, and there is no demo here: name the database, or run `bathyform demo` once")
		}
		cluster, err := pg.Start(ctx, dir, nil)
		if err != nil {
			return fmt.Errorf("open the demo's records (stop the demo first, or use the page): %w", err)
		}
		defer func() { err = errors.Join(err, cluster.Stop()) }()
		url = cluster.URL("bathyform")
	}
	s, err := store.Open(ctx, url)
	if err != nil {
		return err
	}
	defer s.Close()
	return use(s)
}
