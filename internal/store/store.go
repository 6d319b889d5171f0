// Package store keeps everything in SQLite, through GORM, and is the only place
// that knows tables. One connection writes, many read; a write transaction is
// immediate and synced, so that what was answered survives a power cut.
package store

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"sync/atomic"

	"dorvet/core/refusal"

	"github.com/pressly/goose/v3"
	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// Store is an open folder of data: the database and the files beside it.
type Store struct {
	folder string
	writer *gorm.DB
	reader *gorm.DB
	lock   *os.File // of whoever serves the data
	damage atomic.Pointer[string]
}

// ErrStale says that a row was changed by somebody else since it was read.
var ErrStale error = &refusal.Refusal{Kind: refusal.Conflict, Sentence: "Somebody else has changed this since you opened it: load it again, then make your change."}

// ErrNotFound says that there is no row of that number.
var ErrNotFound = gorm.ErrRecordNotFound

// IsStillNamed reports whether an error says that other rows name one that was to go.
func IsStillNamed(err error) bool { return errors.Is(err, gorm.ErrForeignKeyViolated) }

const (
	pragmas    = "_journal_mode=WAL&_busy_timeout=5000&_foreign_keys=on&_synchronous=FULL&_stmt_cache_size=300"
	readers    = 8
	database   = "dorvet.db"
	permission = 0o700
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
	writer, err := connect("file:"+path+"?"+pragmas+"&_txlock=immediate", 1)
	if err != nil {
		return nil, fmt.Errorf("open %s: %w", path, err)
	}
	s := &Store{folder: folder, writer: writer}
	if err := s.migrate(ctx); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	s.reader, err = connect("file:"+path+"?"+pragmas+"&mode=ro&_query_only=on", readers)
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

func connect(dsn string, connections int) (*gorm.DB, error) {
	// The driver keeps the prepared statements of a connection: those that GORM would
	// keep belong to a transaction and are prepared anew in the next one.
	db, err := gorm.Open(sqlite.Open(dsn), &gorm.Config{
		SkipDefaultTransaction: true, Logger: logger.Discard, TranslateError: true,
	})
	if err != nil {
		return nil, err
	}
	pool, err := db.DB()
	if err != nil {
		return nil, err
	}
	pool.SetMaxOpenConns(connections)
	pool.SetMaxIdleConns(connections)
	return db, nil
}

// Unsynced stops waiting for the disk until the data is closed. It is for data
// that is made in one go and worth nothing before its end, such as a demo.
func (s *Store) Unsynced(ctx context.Context) error {
	return s.writer.WithContext(ctx).Exec("PRAGMA synchronous = OFF").Error
}

// Close closes the database; open transactions are rolled back.
func (s *Store) Close() error {
	var problems []error
	for _, db := range []*gorm.DB{s.reader, s.writer} {
		if db == nil {
			continue
		}
		pool, err := db.DB()
		if err == nil {
			err = pool.Close()
		}
		problems = append(problems, err)
	}
	if s.lock != nil {
		problems = append(problems, s.lock.Close())
	}
	return errors.Join(problems...)
}

// Folder is where the data is.
func (s *Store) Folder() string { return s.folder }

// Writer is the one connection that writes, for libraries that keep a table of
// their own (sessions).
func (s *Store) Writer() *gorm.DB { return s.writer }

// Read is a view of the data that can't change it.
func (s *Store) Read(ctx context.Context) *gorm.DB { return s.reader.WithContext(ctx) }

// Write runs one transaction; an error, or a panic, leaves nothing of it.
func (s *Store) Write(ctx context.Context, act func(tx *gorm.DB) error) error {
	return s.writer.WithContext(ctx).Transaction(act)
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
		return fmt.Errorf("the data in %s was written by a newer Dorvet (version %d, this one knows %d): start the newer one", s.folder, have, newest)
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
	return nil
}
