// Package web holds the built page. On a fresh clone in which it was never
// built the folder is empty, and the server says so.
package web

import (
	"embed"
	"io/fs"
)

//go:embed all:dist
var dist embed.FS

// Page returns the files of the built page.
func Page() (fs.FS, error) { return fs.Sub(dist, "dist") }
