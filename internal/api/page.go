package api

import (
	"crypto/sha256"
	"encoding/hex"
	"io/fs"
	"net/http"
	"strings"

	"github.com/labstack/echo/v5"
)

// pageHeader names the page that the server hands out, so that one that was
// loaded before an upgrade knows that it is old.
const pageHeader = "Bathyform-Page"

// pageVersion is a name for a built page.
func pageVersion(page fs.FS) string {
	index, err := fs.ReadFile(page, "index.html")
	if err != nil {
		return ""
	}
	sum := sha256.Sum256(index)
	return hex.EncodeToString(sum[:8])
}

// tellPage names the page in every answer.
func tellPage(version string) echo.MiddlewareFunc {
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			c.Response().Header().Set(pageHeader, version)
			return next(c)
		}
	}
}

// pageHandler serves the built page; addresses inside it that are no files
// get the page itself, which knows its own ways.
func pageHandler(page fs.FS) http.Handler {
	files := http.FileServerFS(page)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		name := strings.Trim(r.URL.Path, "/")
		if strings.HasPrefix(name, "assets/") {
			w.Header().Set("Cache-Control", "public, max-age=31536000, immutable") // names carry a hash
			if _, err := fs.Stat(page, name+".gz"); err == nil && strings.Contains(r.Header.Get("Accept-Encoding"), "gzip") {
				w.Header().Set("Content-Encoding", "gzip")
				w.Header().Set("Vary", "Accept-Encoding")
				if strings.HasSuffix(name, ".js") {
					w.Header().Set("Content-Type", "text/javascript; charset=utf-8")
				} else if strings.HasSuffix(name, ".css") {
					w.Header().Set("Content-Type", "text/css; charset=utf-8")
				}
				http.ServeFileFS(w, r, page, name+".gz")
				return
			}
		} else {
			w.Header().Set("Cache-Control", "no-cache")
			if info, err := fs.Stat(page, name); name == "" || err != nil || info.IsDir() {
				if _, err := fs.Stat(page, "index.html"); err != nil {
					http.Error(w, "The page was not built: run `make build`.", http.StatusServiceUnavailable)
					return
				}
				http.ServeFileFS(w, r, page, "index.html")
				return
			}
		}
		files.ServeHTTP(w, r)
	})
}
