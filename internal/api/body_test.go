package api_test

import (
	"bufio"
	"fmt"
	"io"
	"net"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whoever stops in the middle of a sentence, or drips a byte now and then, is
// told and let go; files of others are taken in meanwhile.
func TestSlowSendersHoldNobodyUp(t *testing.T) {
	t.Parallel()
	s := open(t)
	j := s.newJob()
	begin := func(path, kind string) net.Conn {
		c, err := net.Dial("tcp", strings.TrimPrefix(s.base, "http://"))
		require.NoError(t, err)
		t.Cleanup(func() { _ = c.Close() })
		_, err = fmt.Fprintf(
			c,
			"POST %s HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: %s\r\nIf-Match: \"%d\"\r\nContent-Length: 100000\r\n\r\n{",
			path,
			kind,
			j.Version,
		)
		require.NoError(t, err)
		return c
	}
	mesh := s.path(j, "/master/mesh?filename=a.stl")
	stopped := begin("/api/jobs", "application/json")
	drips := []net.Conn{begin(mesh, "application/octet-stream"), begin(mesh, "application/octet-stream"),
		begin("/api/scans?dpi=300", "application/octet-stream")}
	for _, c := range drips {
		go func() {
			for {
				time.Sleep(2 * time.Second)
				if _, err := c.Write([]byte{'.'}); err != nil {
					return
				}
			}
		}()
	}
	s.upload(j, cleat()).into(&j)
	require.NotNil(t, j.Master, "another's file is taken in meanwhile")
	for _, c := range append(drips, stopped) {
		require.NoError(t, c.SetReadDeadline(time.Now().Add(30*time.Second)))
		r := bufio.NewReader(c)
		resp, err := http.ReadResponse(r, nil)
		require.NoError(t, err)
		text, err := io.ReadAll(resp.Body)
		require.NoError(t, err)
		assert.Equal(t, http.StatusRequestTimeout, resp.StatusCode, string(text))
		assert.Contains(t, string(text), "too slowly")
		_, err = r.ReadByte()
		assert.ErrorIs(t, err, io.EOF, "and the connection is closed")
	}
}
