package api_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What a browser sends for a page of Bathyform's own is answered; what another
// site makes it send is not, nor what comes under another name.
func TestOnlyItsOwnPageMaySpeakToTheServer(t *testing.T) {
	s := open(t)
	for _, c := range []struct {
		what, method, path, host, from string
		want                           int
	}{
		{"the page", "GET", "/", "", "none", 200},
		{"the page's own question", "GET", "/api/jobs", "", "same-origin", 200},
		{"a script on this machine", "GET", "/api/jobs", "", "", 200},
		{"this machine by name", "GET", "/api/jobs", "localhost:8440", "", 200},
		{"this machine in the new numbers", "GET", "/api/jobs", "[::1]:8440", "", 200},
		{"a name that leads here", "GET", "/api/jobs", "rebound.example", "same-origin", 421},
		{"a name that leads here, the page", "GET", "/", "rebound.example:8440", "none", 421},
		{"another machine's number", "GET", "/api/jobs", "192.0.2.7:8440", "", 421},
		{"a link on another site", "GET", "/", "", "cross-site", 200},
		{"another site's question", "GET", "/api/jobs", "", "cross-site", 403},
		{"another port of this machine", "GET", "/api/jobs", "", "same-site", 403},
		{"another site's write", "POST", "/api/jobs", "", "cross-site", 403},
	} {
		t.Run(c.what, func(t *testing.T) {
			req, err := http.NewRequestWithContext(t.Context(), c.method, s.base+c.path, nil)
			require.NoError(t, err)
			if c.host != "" {
				req.Host = c.host
			}
			if c.from != "" {
				req.Header.Set("Sec-Fetch-Site", c.from)
			}
			resp, err := http.DefaultClient.Do(req)
			require.NoError(t, err)
			defer resp.Body.Close()
			assert.Equal(t, c.want, resp.StatusCode)
			csp := resp.Header.Get("Content-Security-Policy")
			for _, rule := range []string{"default-src 'self'", "base-uri 'none'", "form-action 'self'", "frame-ancestors 'none'"} {
				assert.Contains(t, csp, rule)
			}
			if c.path != "/" {
				assert.Equal(t, "no-store", resp.Header.Get("Cache-Control"))
			}
		})
	}
}
