// Package store keeps everything in SQLite, through GORM, and is the only place
// that knows tables. One connection writes, many read; a write transaction is
// immediate and synced, so that what was answered survives a power cut.
package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"dorvet/core/refusal"

	"github.com/mattn/go-sqlite3"
	"github.com/pressly/goose/v3"
	"gorm.io/gorm"
)

// Store is an open folder of data: the database and the files beside it.
type Store struct {
	folder string
	writer *gorm.DB
	reader *gorm.DB
	lock   *os.File // of whoever serves the data
	damage atomic.Pointer[string]

	turn        chan struct{} // of whoever writes
	smallOnes   []*small      // acts that wait for it together
	smallLock   sync.Mutex
	changes     atomic.Int64    // how often something was written since the start
	changed     chan struct{}   // closed by the next change
	changedBy   map[int64]int64 // how often each person wrote
	changedLock sync.Mutex
	unsynced    string // how connections of somebody limited wait for the disk
	limited     map[string]*pools
	limitedLock sync.Mutex
	watch       func(table, column string) // is told what is read; nil: nobody is ([Store.Watch])
	watching    string                     // how connections that are watched are opened
}

// ErrBeyondScope says that somebody who is limited to issuing entities would change what
// belongs to others.
var ErrBeyondScope error = &refusal.Refusal{Kind: refusal.Forbidden,
	Sentence: "You are limited to some issuing entities, and this belongs to another one or to all of them: ask an administrator " +
		"who is not limited."}

// ErrStale says that a row was changed by somebody else since it was read.
var ErrStale error = &refusal.Refusal{Kind: refusal.Conflict,
	Sentence: "Somebody else has changed this since you opened it: load it again, then make your change."}

// ErrNotFound says that there is no row of that number.
var ErrNotFound = gorm.ErrRecordNotFound

// IsStillNamed reports whether an error says that other rows name one that was to go.
func IsStillNamed(err error) bool { return errors.Is(err, gorm.ErrForeignKeyViolated) }

const (
	pragmas    = "?_journal_mode=WAL&_busy_timeout=5000&_foreign_keys=on&_synchronous=FULL&_stmt_cache_size=300"
	immediate  = pragmas + "&_txlock=immediate"
	reading    = pragmas + "&mode=ro"
	readers    = 8
	roomy      = "&_cache_size=-16384" // kilobytes of pages that a connection keeps: those that everybody shares
	database   = "dorvet.db"
	permission = 0o700
	// limitedIdle is how long connections of somebody limited wait for their next request.
	limitedIdle = time.Minute
)

// Open opens the data in a folder, which it makes if there is none, and brings
// the database to the newest version. Before it changes an existing database it
// makes a backup. A database newer than this program is refused.
func Open(ctx context.Context, folder string) (*Store, error) {
	if err := os.MkdirAll(filepath.Join(folder, "files"), permission); err != nil {
		return nil, fmt.Errorf("make the folder of the data: %w", err)
	}
	path := filepath.Join(folder, database)
	if err := beganBefore(folder, path); err != nil {
		return nil, err
	}
	writer, err := connect("file:"+path+immediate+roomy, 1, "")
	if err != nil {
		return nil, fmt.Errorf("open %s: %w", path, err)
	}
	s := &Store{folder: folder, writer: writer, turn: make(chan struct{}, 1), changed: make(chan struct{}),
		changedBy: map[int64]int64{}}
	if err := s.migrate(ctx); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	// What is written is counted from here on: the tables are there.
	if err := closePool(writer); err != nil {
		return nil, fmt.Errorf("close %s after the migration: %w", path, err)
	}
	if s.writer, err = connect("file:"+path+immediate+roomy, 1, counting()); err != nil {
		return nil, fmt.Errorf("open %s: %w", path, err)
	}
	s.reader, err = connect("file:"+path+reading+roomy, readers, onlyReads)
	if err != nil {
		return nil, errors.Join(fmt.Errorf("open %s for reading: %w", path, err), s.Close())
	}
	return s, nil
}

// beganBefore refuses a folder that had a database and has none now, or an empty one:
// beginning anew would hide what is lost.
func beganBefore(folder, path string) error {
	info, err := os.Stat(path)
	if err == nil && info.Size() > 0 {
		return nil
	}
	if err != nil && !errors.Is(err, os.ErrNotExist) {
		return fmt.Errorf("look for the database %s: %w", path, err)
	}
	for _, pattern := range []string{ownerLock, "files/*/*", "backups/*.zip"} {
		left, err := filepath.Glob(filepath.Join(folder, pattern))
		if err != nil {
			return err
		}
		if len(left) > 0 {
			return fmt.Errorf("the database %s is empty or gone, and there was one: restore the newest backup into a new folder "+
				"with dorvet restore, or name another folder to begin in", path)
		}
	}
	return nil
}

// Unsynced stops waiting for the disk until the data is closed. It is for data
// that is made in one go and worth nothing before its end, such as a demo.
func (s *Store) Unsynced(ctx context.Context) error {
	s.unsynced = unsynced
	return s.writer.WithContext(ctx).Exec(unsynced).Error
}

// Close closes the database; open transactions are rolled back.
func (s *Store) Close() error {
	open := []*gorm.DB{s.reader, s.writer}
	for _, p := range s.limited {
		open = append(open, p.reader, p.writer)
	}
	var problems []error
	for _, db := range open {
		problems = append(problems, closePool(db))
	}
	if s.lock != nil {
		problems = append(problems, s.lock.Close())
	}
	return errors.Join(problems...)
}

func (s *Store) path() string { return "file:" + filepath.Join(s.folder, database) }

// Folder is where the data is.
func (s *Store) Folder() string { return s.folder }

// Pools are the connections that write and read, for a library that keeps a table of its
// own (sessions).
func (s *Store) Pools() (writer, reader *sql.DB, err error) {
	if writer, err = s.writer.DB(); err == nil {
		reader, err = s.reader.DB()
	}
	return writer, reader, err
}

// Read is a view of the data, as a scope shows it, that can't change it.
func (s *Store) Read(ctx context.Context, scope AccessScope) *DB {
	open, err := s.of(scope)
	if err != nil {
		failed := s.reader.WithContext(ctx)
		_ = failed.AddError(err)
		return &DB{failed, scope}
	}
	return &DB{open.reader.WithContext(ctx), scope}
}

// Write runs one transaction in a scope; an error, or a panic, leaves nothing of it.
// What it would change beyond the scope is refused with [ErrBeyondScope].
func (s *Store) Write(ctx context.Context, scope AccessScope, act func(tx *DB) error) error {
	err := s.Aside(ctx, scope, act)
	if err == nil {
		s.countChange(scope.PersonID)
	}
	return err
}

func (s *Store) countChange(personID int64) {
	s.changes.Add(1)
	s.changedLock.Lock()
	defer s.changedLock.Unlock()
	s.changedBy[personID]++
	close(s.changed)
	s.changed = make(chan struct{})
}

// ChangesBy counts what a person has written since the start.
func (s *Store) ChangesBy(personID int64) int64 {
	s.changedLock.Lock()
	defer s.changedLock.Unlock()
	return s.changedBy[personID]
}

// NextChange is closed when something is written after now.
func (s *Store) NextChange() <-chan struct{} {
	s.changedLock.Lock()
	defer s.changedLock.Unlock()
	return s.changed
}

// Changes counts what was written since the start: as long as it is the same, everything that
// is read is.
func (s *Store) Changes() int64 { return s.changes.Load() }

// Aside writes what no reading shows, as [Store.Write] does.
func (s *Store) Aside(ctx context.Context, scope AccessScope, act func(tx *DB) error) error {
	open, err := s.of(scope)
	if err != nil {
		return err
	}
	select {
	case s.turn <- struct{}{}:
		defer func() { <-s.turn }()
	case <-ctx.Done():
		return ctx.Err()
	}
	err = open.writer.WithContext(ctx).Transaction(func(tx *gorm.DB) error { return act(&DB{tx, scope}) })
	if refused := (sqlite3.Error{}); errors.As(err, &refused) && refused.ExtendedCode == sqlite3.ErrConstraintTrigger &&
		strings.Contains(refused.Error(), beyondScope) {
		return ErrBeyondScope
	}
	return err
}

func (s *Store) migrate(ctx context.Context) error {
	pool, err := s.writer.DB()
	if err != nil {
		return err
	}
	goose.SetLogger(goose.NopLogger())
	provider, err := goose.NewProvider(goose.DialectSQLite3, pool, migrations())
	if err != nil {
		return fmt.Errorf("read the migrations: %w", err)
	}
	have, err := provider.GetDBVersion(ctx)
	if err != nil {
		return fmt.Errorf("read the version of the database: %w", err)
	}
	sources := provider.ListSources()
	newest := sources[len(sources)-1].Version
	switch {
	case have > newest:
		return fmt.Errorf("the data in %s was written by a newer Dorvet (version %d, this one knows %d): start the newer one", s.folder,
			have,
			newest)
	case have == newest:
		return nil
	case have > 0:
		if _, err := s.Backup(ctx, filepath.Join(s.folder, "backups", fmt.Sprintf("before-version-%d.zip", newest))); err != nil {
			return fmt.Errorf("back up before the migration: %w", err)
		}
	}
	if _, err := provider.Up(ctx); err != nil {
		return fmt.Errorf("bring the database to version %d: %w", newest, err)
	}
	return s.Optimize(ctx)
}
