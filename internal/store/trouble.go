package store

import (
	"errors"
	"syscall"

	"github.com/mattn/go-sqlite3"
)

// Trouble is what is wrong with the disk or the data, in a sentence with what to do;
// nothing where an error says neither.
func Trouble(err error) string {
	var broken sqlite3.Error
	if errors.As(err, &broken) {
		switch broken.Code {
		case sqlite3.ErrFull:
			return diskFull
		case sqlite3.ErrReadonly, sqlite3.ErrCantOpen, sqlite3.ErrPerm:
			return cantWrite
		case sqlite3.ErrCorrupt, sqlite3.ErrNotADB:
			return damaged
		case sqlite3.ErrIoErr:
			return diskFails
		}
	}
	switch {
	case errors.Is(err, syscall.ENOSPC), errors.Is(err, syscall.EDQUOT):
		return diskFull
	case errors.Is(err, syscall.EROFS), errors.Is(err, syscall.EACCES), errors.Is(err, syscall.EPERM):
		return cantWrite
	case errors.Is(err, syscall.EIO):
		return diskFails
	}
	return ""
}

const (
	diskFull  = "The disk of the data is full: make room on it, then go on."
	cantWrite = "The data can't be written: give the program the right to write in its folder, or mount its disk for writing."
	damaged   = "The database is damaged: stop Dorvet, keep a copy of its folder, and restore the newest backup with dorvet restore."
	diskFails = "The disk of the data does not read or write as it should: look at it before anything else, and have a backup at hand."
)
