// Package dorvet is the root of the project; its tests hold the layout. The
// program is in cmd/dorvet.
package dorvet
