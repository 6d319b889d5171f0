package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"fmt"

	"github.com/mattn/go-sqlite3"
	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// connect opens a pool of connections, each made ready by statements.
func connect(dsn string, connections int, ready string) (*gorm.DB, error) {
	return connectBy(connector{dsn: dsn, ready: ready}, connections)
}

func connectBy(c connector, connections int) (*gorm.DB, error) {
	pool := sql.OpenDB(c)
	pool.SetMaxOpenConns(connections)
	pool.SetMaxIdleConns(connections)
	// The driver keeps the prepared statements of a connection: those that GORM would
	// keep belong to a transaction and are prepared anew in the next one.
	db, err := gorm.Open(sqlite.New(sqlite.Config{Conn: pool}), &gorm.Config{
		SkipDefaultTransaction: true, Logger: logger.Discard, TranslateError: true,
	})
	if err != nil {
		return nil, errors.Join(err, pool.Close())
	}
	// What is written is the table, never a view that hides it from who is limited.
	ofMain := func(db *gorm.DB) {
		if db.Statement.Table != "" {
			db.Statement.Table = "main." + db.Statement.Table
		}
	}
	return db, errors.Join(db.Callback().Create().Before("gorm:create").Register("dorvet:main", ofMain),
		db.Callback().Update().Before("gorm:update").Register("dorvet:main", ofMain),
		db.Callback().Delete().Before("gorm:delete").Register("dorvet:main", ofMain))
}

// connector opens connections and makes them ready.
type connector struct {
	dsn, ready string
	reads      func(table, column string) // is told what each statement reads; nil: nobody is
}

// Connect implements driver.Connector.
func (c connector) Connect(context.Context) (driver.Conn, error) {
	made := sqlite3.SQLiteDriver{ConnectHook: func(conn *sqlite3.SQLiteConn) error {
		if c.reads != nil {
			conn.RegisterAuthorizer(func(act int, table, column, _ string) int {
				if act == sqlite3.SQLITE_READ {
					c.reads(table, column)
				}
				return sqlite3.SQLITE_OK
			})
		}
		_, err := conn.Exec(c.ready, nil)
		return err
	}}
	return made.Open(c.dsn)
}

// Driver implements driver.Connector.
func (c connector) Driver() driver.Driver { return &sqlite3.SQLiteDriver{} }

// pools are the connections of a scope: one that writes, some that read.
type pools struct{ writer, reader *gorm.DB }

const (
	onlyReads = "PRAGMA query_only = ON;"
	unsynced  = "PRAGMA synchronous = OFF;"
)

// of are the connections of whoever has a scope: everybody who is not limited to issuing
// entities shares the same.
func (s *Store) of(scope AccessScope) (*pools, error) {
	if scope.Entities == nil {
		return &pools{s.writer, s.reader}, nil
	}
	s.limitedLock.Lock()
	defer s.limitedLock.Unlock()
	key := fmt.Sprint(scope.PersonID, scope.Entities)
	if known := s.limited[key]; known != nil {
		return known, nil
	}
	writer, err := connect(s.path()+immediate, 1, s.unsynced+counting()+limits(scope))
	if err != nil {
		return nil, fmt.Errorf("open the data as somebody limited sees it: %w", err)
	}
	reader, err := connectBy(connector{s.path() + reading + s.watching, limits(scope) + onlyReads, s.watch}, readers)
	if err != nil {
		return nil, errors.Join(fmt.Errorf("open the data as somebody limited sees it: %w", err), closePool(writer))
	}
	for _, db := range []*gorm.DB{writer, reader} {
		if pool, err := db.DB(); err == nil {
			pool.SetConnMaxIdleTime(limitedIdle)
		}
	}
	if s.limited == nil {
		s.limited = map[string]*pools{}
	}
	s.limited[key] = &pools{writer, reader}
	return s.limited[key], nil
}

// connection does something with a connection itself.
func connection(ctx context.Context, db *gorm.DB, do func(*sqlite3.SQLiteConn) error) error {
	return db.WithContext(ctx).Connection(func(tx *gorm.DB) error {
		conn, is := tx.Statement.ConnPool.(*sql.Conn)
		if !is {
			return fmt.Errorf("%T is no connection", tx.Statement.ConnPool)
		}
		return conn.Raw(func(driver any) error { return do(driver.(*sqlite3.SQLiteConn)) })
	})
}

func closePool(db *gorm.DB) error {
	if db == nil {
		return nil
	}
	pool, err := db.DB()
	if err != nil {
		return err
	}
	return pool.Close()
}
