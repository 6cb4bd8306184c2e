package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"sync"
	"time"
)

// rush asks for what takes long, from many at once, and looks how long what a
// hand drags is answered meanwhile.
func (d *day) rush() error {
	client := &http.Client{Timeout: 5 * time.Minute, Transport: &http.Transport{MaxConnsPerHost: 100}}
	type kept struct {
		Design map[string]any `json:"design"`
	}
	designs := make(map[string]kept) // of the jobs that have a master
	var dragged string
	for _, job := range d.jobs {
		var k kept
		if text, err := fetch(client, http.MethodGet, d.base+"/api/jobs/"+job+"/design", nil); err == nil &&
			json.Unmarshal(text, &k) == nil {
			designs[job], dragged = k, job
		}
	}
	if dragged == "" {
		return fmt.Errorf("no job has a master")
	}
	studies := func(what string) {
		for n := range 30 {
			design := designs[dragged].Design
			design["shotOver"] = 5 + 0.01*float64(n)
			d.ask(client, what, http.MethodPost, "/api/jobs/"+dragged+"/study", design, "", nil)
			time.Sleep(100 * time.Millisecond)
		}
	}
	studies("a study, warming up")
	delete(d.took, "a study, warming up")
	studies("a study, alone")
	var others sync.WaitGroup
	for range 40 {
		others.Go(func() { d.search(client, "/api/jobs/"+dragged+"/searches/kinds") })
	}
	studies("a study, among 40 equal searches")
	others.Wait()
	for job := range designs {
		for _, search := range []string{"kinds", "partings", "attitudes"} {
			others.Go(func() { d.search(client, "/api/jobs/"+job+"/searches/"+search) })
		}
		for n := range 8 {
			others.Go(func() {
				if _, err := fetch(client, http.MethodPost, d.base+"/api/jobs/"+job+"/gang",
					map[string]any{"pot": 240 + n, "gap": 8, "edge": 12}); err != nil {
					d.fail(err.Error())
				}
			})
		}
	}
	studies("a study, among all searches and gangs")
	others.Wait()
	return nil
}

// search asks for a search and waits for its end.
func (d *day) search(client *http.Client, path string) {
	text, err := fetch(client, http.MethodGet, d.base+path, nil)
	if err != nil || bytes.Contains(text, []byte("event: problem")) {
		d.fail(fmt.Sprintf("%s: %v %.200s", path, err, text[max(0, len(text)-200):]))
	}
}

// fetch is an answer of 200.
func fetch(client *http.Client, method, url string, body any) ([]byte, error) {
	data, err := json.Marshal(body)
	if err != nil {
		return nil, err
	}
	req, err := http.NewRequest(method, url, bytes.NewReader(data))
	if err != nil {
		return nil, err
	}
	if body != nil {
		req.Header.Set("Content-Type", "application/json")
	}
	resp, err := client.Do(req)
	if err != nil {
		return nil, err
	}
	defer resp.Body.Close()
	text, err := io.ReadAll(resp.Body)
	if err == nil && resp.StatusCode != http.StatusOK {
		err = fmt.Errorf("%s %s: %d %.200s", method, url, resp.StatusCode, text)
	}
	return text, err
}
