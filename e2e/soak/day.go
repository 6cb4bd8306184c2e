package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"math/rand/v2"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"text/tabwriter"
	"time"

	"github.com/google/uuid"
)

// day is a day's work of all people together.
type day struct {
	base string
	ends time.Time
	jobs []string

	mu           sync.Mutex
	took         map[string][]time.Duration // answers, by what was asked
	away         int                        // questions that a kill left without an answer
	wrong        []string                   // answers that nobody should get
	acknowledged map[string]string          // the mould of each pull that the server said is logged
	backAfter    map[string][]time.Duration // by what was killed
}

func (d *day) open() error {
	d.acknowledged, d.backAfter = make(map[string]string), make(map[string][]time.Duration)
	var jobs []struct {
		ID string `json:"id"`
	}
	if !d.ask(&http.Client{}, "jobs", "GET", "/api/jobs", nil, "", &jobs) {
		return fmt.Errorf("the jobs cannot be listed: %v", d.wrong)
	}
	for _, j := range jobs {
		d.jobs = append(d.jobs, j.ID)
	}
	return nil
}

// walk is one person going from job to job.
func (d *day) walk(person int) {
	random := rand.New(rand.NewPCG(uint64(person), 1))
	client := &http.Client{Timeout: 20 * time.Second, Transport: &http.Transport{}}
	for time.Now().Before(d.ends) {
		job := d.jobs[random.IntN(len(d.jobs))]
		d.ask(client, "jobs", "GET", "/api/jobs", nil, "", nil)
		d.ask(client, "job", "GET", "/api/jobs/"+job, nil, "", nil)
		var moulds []struct {
			ID      string  `json:"id"`
			Retired *string `json:"retired"`
		}
		d.ask(client, "moulds of a job", "GET", "/api/moulds?job="+job, nil, "", &moulds)
		d.ask(client, "log of a job", "GET", "/api/pulls?job="+job, nil, "", nil)
		if random.IntN(4) == 0 {
			d.ask(client, "rack", "GET", "/api/moulds", nil, "", nil)
		}
		for _, m := range moulds {
			if m.Retired == nil {
				d.log(client, m.ID)
				break
			}
		}
		time.Sleep(time.Duration(random.IntN(400)) * time.Millisecond)
	}
}

// log logs a pull, as the page does: under one key until there is an answer.
func (d *day) log(client *http.Client, mould string) {
	key := uuid.NewString()
	pull := map[string]any{"pulled": time.Now().Format(time.DateOnly), "results": []any{map[string]any{"cavity": 1, "good": true}}}
	for range 200 {
		if d.ask(client, "log a pull", "POST", "/api/moulds/"+mould+"/pulls", pull, key, nil) {
			d.mu.Lock()
			d.acknowledged[key] = mould
			d.mu.Unlock()
			return
		}
		time.Sleep(50 * time.Millisecond)
	}
}

// ask puts one question; it is not ok where no answer came. A 503 is an
// answer that says to come back.
func (d *day) ask(client *http.Client, what, method, path string, body any, key string, into any) (ok bool) {
	data, _ := json.Marshal(body)
	req, err := http.NewRequest(method, d.base+path, bytes.NewReader(data))
	if err != nil {
		panic(err)
	}
	if body != nil {
		req.Header.Set("Content-Type", "application/json")
	}
	if key != "" {
		req.Header.Set("Idempotency-Key", key)
	}
	from := time.Now()
	resp, err := client.Do(req)
	var text []byte
	if err == nil {
		text, err = io.ReadAll(resp.Body)
		_ = resp.Body.Close()
	}
	took := time.Since(from)
	d.mu.Lock()
	defer d.mu.Unlock()
	switch {
	case err != nil, resp.StatusCode == http.StatusServiceUnavailable:
		d.away++
		return false
	case resp.StatusCode >= 400:
		if len(d.wrong) < 20 {
			d.wrong = append(d.wrong, fmt.Sprintf("%s: %d %s", what, resp.StatusCode, text))
		}
		return false
	}
	d.took[what] = append(d.took[what], took)
	return into == nil || json.Unmarshal(text, into) == nil
}

// makeTrouble kills the server and the database in turn.
func (d *day) makeTrouble(s *server, data string, every time.Duration, stop <-chan struct{}) {
	for n := 0; ; n++ {
		select {
		case <-stop:
			return
		case <-time.After(every):
		}
		what, from := "server", time.Now()
		if n%2 == 0 {
			if err := s.kill(); err != nil {
				d.fail(err.Error())
			}
		} else {
			what = "database"
			note, _ := os.ReadFile(filepath.Join(data, "postmaster.pid"))
			line, _, _ := strings.Cut(string(note), "\n")
			pid, err := strconv.Atoi(line)
			if err != nil {
				d.fail("no database to kill")
				continue
			}
			_ = syscall.Kill(pid, syscall.SIGKILL)
			if _, err := back(d.base, 20*time.Second); err != nil {
				d.fail(err.Error())
			}
		}
		d.mu.Lock()
		d.backAfter[what] = append(d.backAfter[what], time.Since(from))
		d.mu.Unlock()
	}
}

func (d *day) fail(what string) {
	d.mu.Lock()
	defer d.mu.Unlock()
	d.wrong = append(d.wrong, what)
}

// quantile of durations that are in order.
func quantile(all []time.Duration, q float64) time.Duration {
	if len(all) == 0 {
		return 0
	}
	return all[min(len(all)-1, int(q*float64(len(all))))]
}

func (d *day) print(to io.Writer, k kept, mib int) {
	w := tabwriter.NewWriter(to, 2, 0, 2, ' ', tabwriter.AlignRight)
	fmt.Fprintln(w, "asked\tanswers\tmedian ms\t95 % ms\tslowest ms\t")
	for _, what := range slices.Sorted(maps.Keys(d.took)) {
		all := d.took[what]
		slices.Sort(all)
		fmt.Fprintf(w, "%s\t%d\t%d\t%d\t%d\t\n", what, len(all), quantile(all, 0.5).Milliseconds(), quantile(all, 0.95).Milliseconds(),
			all[len(all)-1].Milliseconds())
	}
	for _, what := range slices.Sorted(maps.Keys(d.backAfter)) {
		all := d.backAfter[what]
		slices.Sort(all)
		fmt.Fprintf(w, "%s killed, serves again\t%d\t%d\t%d\t%d\t\n", what, len(all), quantile(all, 0.5).Milliseconds(),
			quantile(all, 0.95).Milliseconds(), all[len(all)-1].Milliseconds())
	}
	_ = w.Flush()
	fmt.Fprintf(to, "%d pulls acknowledged: %d there once, %d lost; %d moulds miscounted; %d questions without an answer; %d MiB at most\n",
		len(d.acknowledged), k.pulls, k.lost, k.miscast, d.away, mib)
}

// broken are the promises that were not kept.
func (d *day) broken(k kept, mib int) (out []string) {
	for what, all := range d.took {
		if q := quantile(all, 0.95); q > promised {
			out = append(out, fmt.Sprintf("%s: 95 of 100 within %v", what, q))
		}
	}
	for what, all := range d.backAfter {
		if worst := all[len(all)-1]; worst > promisedBack {
			out = append(out, fmt.Sprintf("%s: back after %v", what, worst))
		}
	}
	if k.lost > 0 || k.miscast > 0 {
		out = append(out, fmt.Sprintf("%d pulls lost, %d moulds miscounted", k.lost, k.miscast))
	}
	if mib > promisedSize {
		out = append(out, fmt.Sprintf("%d MiB of memory", mib))
	}
	return append(out, d.wrong...)
}
