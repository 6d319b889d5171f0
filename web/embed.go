// Package web holds the built web pages.
package web

import (
	"embed"
	"io/fs"
)

// all: takes the placeholder too, so that the program compiles before the
// pages were built.
//
//go:embed all:dist
var dist embed.FS

// Pages are the files to serve.
func Pages() fs.FS {
	pages, err := fs.Sub(dist, "dist")
	if err != nil {
		panic(err) // the folder is embedded above
	}
	return pages
}
