package store

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"time"

	"golang.org/x/sys/unix"
)

// least is how much room a disk must have for work to go on.
const least = 64 << 20

// ownerLock is the file that whoever serves the data holds; it stays when they are gone.
const ownerLock = "owner.lock"

// Own makes this program the one that serves the data, until it is closed: another is
// refused. What a program before it left half done is swept.
func (s *Store) Own() error {
	lock, err := os.OpenFile(filepath.Join(s.folder, ownerLock), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return fmt.Errorf("lock the data in %s: %w", s.folder, err)
	}
	if err := syscall.Flock(int(lock.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		lock.Close()
		if errors.Is(err, syscall.EWOULDBLOCK) {
			return fmt.Errorf("another Dorvet serves the data in %s: stop it first, or serve another folder", s.folder)
		}
		return fmt.Errorf("lock the data in %s: %w", s.folder, err)
	}
	s.lock = lock
	return s.sweep()
}

// sweep takes away what a program that was killed left in the folder of the data.
func (s *Store) sweep() error {
	left, err := s.leftovers()
	for _, path := range left {
		err = errors.Join(err, os.RemoveAll(path))
	}
	return err
}

// leftovers are the half-made backups and half-written files in the folder of the data.
func (s *Store) leftovers() ([]string, error) {
	left := []string{}
	for _, pattern := range []string{"backups/" + scratchName + "*", scratchName + "*", "files/*/" + draftName + "*"} {
		found, err := filepath.Glob(filepath.Join(s.folder, pattern))
		if err != nil {
			return nil, err
		}
		left = append(left, found...)
	}
	return left, nil
}

// Health is what is wrong with the disk or the data as they are now, in a sentence with
// what to do; nothing where all is well.
func (s *Store) Health(ctx context.Context) string {
	if _, err := Count(s.Read(ctx, Everything), "SELECT 1"); err != nil {
		if trouble := Trouble(err); trouble != "" {
			return trouble
		}
		return "The data can't be read: look into the log."
	}
	if unix.Access(s.folder, unix.W_OK) != nil || unix.Access(filepath.Join(s.folder, database), unix.W_OK) != nil {
		return cantWrite
	}
	var disk unix.Statfs_t
	if err := unix.Statfs(s.folder, &disk); err == nil && disk.Bavail*uint64(disk.Bsize) < least {
		return diskFull
	}
	if problem := s.damage.Load(); problem != nil {
		return *problem
	}
	return ""
}

// Look proves the database whole, page by page; what is wrong is told by Health from
// then on. It takes its time: it is for the background.
func (s *Store) Look(ctx context.Context) error {
	problems, err := integrity(s.reader.WithContext(ctx))
	if err == nil && len(problems) > 0 {
		err = fmt.Errorf("%s", strings.Join(problems, "; "))
	}
	if err != nil && ctx.Err() == nil {
		words := damaged
		s.damage.Store(&words)
	}
	return err
}

// Optimize lets SQLite look at its tables, all of them and each at some of its rows, so that it finds
// the short way through them: without, one reading takes a hundred times as long at a million rows.
func (s *Store) Optimize(ctx context.Context) error {
	return s.writer.WithContext(ctx).Exec("PRAGMA optimize = 0x10012").Error
}

// stale is how old a half-made backup must be before another one takes it away.
const stale = time.Hour

// sweepBackups takes away what killed backups left in a folder.
func sweepBackups(folder string) error {
	found, err := filepath.Glob(filepath.Join(folder, scratchName+"*"))
	for _, path := range found {
		if info, problem := os.Stat(path); problem == nil && time.Since(info.ModTime()) > stale {
			err = errors.Join(err, os.RemoveAll(path))
		}
	}
	return err
}
