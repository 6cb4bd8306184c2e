// Command soak is a bad day in a large workshop: people walk through jobs and
// log pulls while the server and its database are killed in turn. Afterwards
// every pull that was acknowledged is there, once, and what a hand drags is
// answered while many search. It prints one table, and
// ends with status 1 where a promise was broken.
package main

import (
	"context"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"sync"
	"time"

	"bathyform/demo/crowd"
	"bathyform/demo/seed"
	"bathyform/internal/pg"
	"bathyform/internal/store"
)

// What is promised, of lists and writes.
const (
	promised     = 500 * time.Millisecond // 95 of 100 answers while people work
	promisedBack = 3 * time.Second        // until a killed server or database serves again
	promisedSize = 600                    // MiB
)

func main() {
	long := flag.Duration("for", 2*time.Minute, "how long people work")
	people := flag.Int("people", 20, "how many work at once")
	moulds := flag.Int("moulds", 2000, "moulds on the rack")
	pulls := flag.Int("pulls", 50_000, "pulls in the log")
	kill := flag.Duration("kill", 15*time.Second, "a server or a database is killed so often; 0 for never")
	bin := flag.String("bin", "bin/bathyform", "the program")
	flag.Parse()
	broken, err := soak(*bin, *long, *kill, *people, *moulds, *pulls)
	if err != nil {
		fmt.Fprintln(os.Stderr, "soak:", err)
		os.Exit(2)
	}
	for _, b := range broken {
		fmt.Println("BROKEN:", b)
	}
	if len(broken) > 0 {
		os.Exit(1)
	}
}

func soak(bin string, long, kill time.Duration, people, moulds, pulls int) (broken []string, err error) {
	ctx := context.Background()
	top, err := os.MkdirTemp("", "bathyform-soak")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(top) //nolint:errcheck // a temporary folder
	if err := os.Chmod(top, 0o755); err != nil {
		return nil, err
	}
	data := filepath.Join(top, "postgres")
	cluster, err := pg.Start(ctx, data, nil)
	if err != nil {
		return nil, err
	}
	defer cluster.Stop() //nolint:errcheck // the folder goes anyway
	if err := cluster.MakeDatabase(ctx, "shop", func(url string) error {
		s, err := store.Open(ctx, url)
		if err != nil {
			return err
		}
		defer s.Close()
		if err := seed.IfEmpty(ctx, s, time.Now()); err != nil {
			return err
		}
		return crowd.Fill(ctx, url, moulds, pulls)
	}); err != nil {
		return nil, err
	}

	server := &server{bin: bin, database: cluster.URL("shop")}
	if err := server.start(); err != nil {
		return nil, err
	}
	defer server.end()
	day := &day{base: server.base, ends: time.Now().Add(long), took: make(map[string][]time.Duration)}
	if err := day.open(); err != nil {
		return nil, err
	}
	var work, trouble sync.WaitGroup
	for n := range people {
		work.Go(func() { day.walk(n) })
	}
	stop := make(chan struct{})
	if kill > 0 {
		trouble.Go(func() { day.makeTrouble(server, data, kill, stop) })
	}
	work.Wait()
	close(stop)
	trouble.Wait()
	peak := server.peak() // of lists and writes; searches may take more
	if err := day.rush(); err != nil {
		return nil, err
	}

	kept, err := inLog(ctx, cluster.URL("shop"), day.acknowledged)
	if err != nil {
		return nil, err
	}
	day.print(os.Stdout, kept, peak)
	return day.broken(kept, peak), nil
}
