package main

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"net"
	"os"
	"path/filepath"
	"time"

	"bathyform/core/practice"
	"bathyform/demo/seed"
	"bathyform/internal/pg"
	"bathyform/internal/serve"
	"bathyform/internal/store"

	"github.com/spf13/cobra"
)

// usualAddress is where the page is found unless BATHYFORM_ADDR says otherwise.
const usualAddress = "127.0.0.1:8440"

func address() string { return cmp.Or(os.Getenv("BATHYFORM_ADDR"), usualAddress) }

func serveCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "serve",
		Short: "Serve the application on the database at BATHYFORM_DATABASE_URL",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			url := os.Getenv("BATHYFORM_DATABASE_URL")
			if url == "" {
				return errors.New("BATHYFORM_DATABASE_URL is not set; for a try-out with a database of its own use `bathyform demo`")
			}
			l, err := serve.Listen(address())
			if err != nil {
				return err
			}
			defer l.Close()
			return serveOn(cmd, l, url, nil)
		},
	}
}

func demoCommand() *cobra.Command {
	var afresh bool
	cmd := &cobra.Command{
		Use:   "demo",
		Short: "Serve the demo workshop on a private database in BATHYFORM_DATA (.local/demo)",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) (err error) {
			l, err := serve.Listen(address())
			if err != nil {
				return err
			}
			defer l.Close()
			dir := cmp.Or(os.Getenv("BATHYFORM_DATA"), filepath.Join(".local", "demo"))
			data := filepath.Join(dir, "postgres")
			if afresh {
				if err := pg.Remove(cmd.Context(), data); err != nil {
					return err
				}
			}
			say := func(what string) { fmt.Fprintln(cmd.OutOrStdout(), what) }
			cluster, err := pg.Start(cmd.Context(), data, say)
			if err != nil {
				return stopped(cmd, err)
			}
			defer func() {
				err = errors.Join(stopped(cmd, err), cluster.Stop())
				say("Bathyform has stopped; everything is kept.")
			}()
			if err := cluster.MakeDatabase(cmd.Context(), "bathyform", func(url string) error {
				say("Setting up the demo workshop ...")
				s, err := store.Open(cmd.Context(), url)
				if err != nil {
					return err
				}
				defer s.Close()
				return seed.IfEmpty(cmd.Context(), s, time.Now())
			}); err != nil {
				return fmt.Errorf("set up the workshop: %w", err)
			}
			ctx, ends := context.WithCancel(cmd.Context())
			wait := standIn(ctx, seed.Instruments(), cmd.ErrOrStderr())
			defer wait()
			defer ends()
			return serveOn(cmd, l, cluster.URL("bathyform"), seed.IfEmpty)
		},
	}
	cmd.Flags().BoolVar(&afresh, "afresh", false, "throw the demo's data away first")
	return cmd
}

// stopped is no error where the caster asked for it.
func stopped(cmd *cobra.Command, err error) error {
	if cmd.Context().Err() != nil && errors.Is(err, context.Canceled) {
		return nil
	}
	return err
}

// serveOn serves a database, after it was set up by those who ask for that: a
// shop of its own begins empty.
func serveOn(cmd *cobra.Command, l net.Listener, url string, setUp func(context.Context, *store.Store, time.Time) error) error {
	s, err := store.Open(cmd.Context(), url)
	if err != nil {
		return err
	}
	defer s.Close()
	if setUp == nil {
		setUp = func(ctx context.Context, s *store.Store, _ time.Time) error {
			return s.SetUpShop(ctx, "Workshop", practice.Usual())
		}
	}
	if err := setUp(cmd.Context(), s, time.Now()); err != nil {
		return fmt.Errorf("set up the workshop: %w", err)
	}
	fmt.Fprintf(cmd.OutOrStdout(), "Bathyform is open at http://%s\nCtrl-C closes it.\n", l.Addr())
	return serve.Run(cmd.Context(), l, s)
}
