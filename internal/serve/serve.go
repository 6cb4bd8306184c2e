// Package serve runs the web server until it is told to stop.
package serve

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"net/netip"
	"syscall"
	"time"

	"bathyform/internal/api"
	"bathyform/internal/store"
	"bathyform/web"
)

// Listen takes an address of this machine, with a message that helps when it
// is occupied. Others are refused: whoever reaches the server may do anything.
func Listen(addr string) (net.Listener, error) {
	host, _, err := net.SplitHostPort(addr)
	if err != nil {
		return nil, fmt.Errorf("%q is no address (BATHYFORM_ADDR): write it like 127.0.0.1:8440", addr)
	}
	if ip, err := netip.ParseAddr(host); host != "localhost" && (err != nil || !ip.IsLoopback()) {
		return nil, fmt.Errorf(
			"%s can be reached from other machines, and Bathyform has no accounts yet: choose an address of this one, like 127.0.0.1:8440 "+
				"(BATHYFORM_ADDR)",
			addr,
		)
	}
	l, err := net.Listen("tcp", addr)
	if errors.Is(err, syscall.EADDRINUSE) {
		return nil, fmt.Errorf(
			"%s is in use by another program: stop that, or choose another address, as in BATHYFORM_ADDR=127.0.0.1:8455",
			addr,
		)
	}
	if err != nil {
		return nil, fmt.Errorf("cannot listen on %s (BATHYFORM_ADDR): %w", addr, err)
	}
	return l, nil
}

// leave is how long requests under way have to finish when the server stops.
const leave = 700 * time.Millisecond

// Run answers requests until the context ends, then lets those under way
// finish; what takes longer, such as a search, is called off.
func Run(ctx context.Context, l net.Listener, s *store.Store) error {
	keepToMemory()
	page, err := web.Page()
	if err != nil {
		return err
	}
	handler, err := api.NewHandler(s, page)
	if err != nil {
		return err
	}
	working, callOff := context.WithCancel(context.Background())
	defer callOff()
	server := &http.Server{
		Handler:           handler,
		ReadHeaderTimeout: 10 * time.Second,
		IdleTimeout:       time.Minute,
		BaseContext:       func(net.Listener) context.Context { return working },
	}
	failed := make(chan error, 1)
	go func() { failed <- server.Serve(l) }()
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	grace, cancel := context.WithTimeout(context.Background(), leave)
	defer cancel()
	if server.Shutdown(grace) == nil {
		return nil
	}
	callOff()
	grace, cancel = context.WithTimeout(context.Background(), leave/2)
	defer cancel()
	if server.Shutdown(grace) != nil {
		_ = server.Close() // an upload that still comes
	}
	return nil
}
