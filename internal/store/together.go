package store

import (
	"context"
	"errors"
	"fmt"
	"runtime/debug"

	"dorvet/core/refusal"

	"gorm.io/gorm"
)

// Waiting for the disk takes longer than a small act: when many people save at once, those who wait for their turn
// share one transaction, which is synced once. Each has its own savepoint: its refusal leaves nothing of it, and
// everything of the others. Nobody is answered before the disk has all of it.

// small is an act that waits to be written with others.
type small struct {
	scope AccessScope
	act   func(tx *DB) error
	done  chan struct{}
	err   error
	alone bool   // it has to be written by itself: another one failed, and took the transaction along
	panic string // what it panicked with, and where
}

// mostTogether is how many acts share a transaction: whoever came first waits for all of them.
const mostTogether = 32

// Together runs a small act as [Store.Write] does, in one transaction with others that wait at the same time. The act may
// be run again, after nothing was left of it.
func (s *Store) Together(ctx context.Context, scope AccessScope, act func(tx *DB) error) error {
	if scope.Entities != nil { // on a connection of their own
		return s.Write(ctx, scope, act)
	}
	own := &small{scope: scope, act: act, done: make(chan struct{})}
	s.smallLock.Lock()
	s.smallOnes = append(s.smallOnes, own)
	s.smallLock.Unlock()
	for {
		select {
		case <-own.done:
			if own.panic != "" {
				panic(own.panic)
			}
			if own.alone {
				return s.Write(ctx, scope, act)
			}
			return own.err
		case s.turn <- struct{}{}:
			s.writeTogether(s.nextSmall())
			<-s.turn
		}
	}
}

// nextSmall are the acts whose turn it is.
func (s *Store) nextSmall() []*small {
	s.smallLock.Lock()
	defer s.smallLock.Unlock()
	next := s.smallOnes[:min(len(s.smallOnes), mostTogether)]
	s.smallOnes = s.smallOnes[len(next):]
	return next
}

var errTogether = errors.New("an act of several that share a transaction failed")

// writeTogether runs acts one after the other in one transaction, which nobody who stops waiting can stop.
func (s *Store) writeTogether(acts []*small) {
	if len(acts) == 0 {
		return
	}
	err := s.writer.WithContext(context.Background()).Transaction(func(tx *gorm.DB) error {
		for _, own := range acts {
			own.err = tx.Transaction(func(tx *gorm.DB) error { return own.run(&DB{tx, own.scope}) })
			// A refusal was taken back to its savepoint. After a failure SQLite may have given up all of it.
			if own.err != nil && !refusal.Is(own.err) {
				return errTogether
			}
		}
		return nil
	})
	for _, own := range acts {
		switch {
		case errors.Is(err, errTogether):
			own.alone = own.panic == ""
		case err != nil:
			own.err = fmt.Errorf("write what was saved together: %w", err)
		case own.err == nil:
			s.countChange(own.scope.PersonID)
		}
		close(own.done)
	}
}

// run runs an act; a panic is its own, and told to who asked for it.
func (own *small) run(tx *DB) (err error) {
	defer func() {
		if met := recover(); met != nil {
			own.panic = fmt.Sprintf("%v\n%s", met, debug.Stack())
			err = errors.New("panic")
		}
	}()
	return own.act(tx)
}
