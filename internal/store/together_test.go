package store

import (
	"errors"
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"

	"dorvet/core/refusal"
)

// offices are the names of all offices.
func offices(t *testing.T, tx *DB) string {
	t.Helper()
	names := []string{}
	if err := tx.gorm.Raw("SELECT name FROM offices ORDER BY name").Scan(&names).Error; err != nil {
		t.Fatal(err)
	}
	return strings.Join(names, " ")
}

func open(tx *DB, name string) error {
	return tx.gorm.Exec("INSERT INTO main.offices (name, address, active) VALUES (?, '', TRUE)", name).Error
}

// Acts that wait at the same time share one transaction: nobody sees anything before all of it is there; each is refused
// alone; one that fails or panics takes nothing of the others along.
func TestSmallActsShareATransactionAndNothingElse(t *testing.T) {
	s, err := Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	reads := s.Read(t.Context(), Everything)
	for _, fails := range []string{"", "fails", "panics"} {
		together, seen := 0, 0
		acts := map[string]func(tx *DB) error{}
		for n := range 8 {
			name := fmt.Sprintf("%s%d", fails, n)
			acts[name] = func(tx *DB) error {
				if before := offices(t, tx); strings.Contains(before, fails) && before != "" {
					together++
				}
				if strings.Contains(offices(t, reads), name[:len(name)-1]+"0") {
					seen++
				}
				return open(tx, name)
			}
		}
		acts["refused"] = func(tx *DB) error {
			return errors.Join(open(tx, "refused"), &refusal.Refusal{Kind: refusal.Conflict, Sentence: "No."})
		}
		if fails != "" {
			acts[fails] = func(tx *DB) error {
				if err := open(tx, "half of "+fails); err != nil {
					return err
				}
				if fails == "panics" {
					panic("of its own")
				}
				return errors.New("of the disk")
			}
		}
		answers := allAtOnce(t, s, acts)
		for name, answer := range answers {
			want := map[string]string{"refused": "No.", "fails": "of the disk", "panics": "of its own"}[name]
			if answer == "" && want != "" || !strings.Contains(answer, want) {
				t.Errorf("%q is answered %q", name, answer)
			}
		}
		now := offices(t, reads)
		for n := range 8 {
			if !strings.Contains(now, fmt.Sprintf("%s%d", fails, n)) {
				t.Errorf("%s%d is lost: %s", fails, n, now)
			}
		}
		if strings.Contains(now, "refused") || strings.Contains(now, "half") {
			t.Errorf("something is left of what was not done: %s", now)
		}
		if fails == "" && (together < 6 || seen > 0) {
			t.Errorf("%d were together, %d were seen before the end", together, seen)
		}
	}
}

// allAtOnce runs acts that all wait while something else is written, and gives their answers.
func allAtOnce(t *testing.T, s *Store, acts map[string]func(*DB) error) map[string]string {
	t.Helper()
	answers, lock, wait := map[string]string{}, sync.Mutex{}, sync.WaitGroup{}
	err := s.Write(t.Context(), Everything, func(*DB) error {
		for name, act := range acts {
			wait.Go(func() {
				answer := ""
				defer func() {
					if met := recover(); met != nil {
						answer = fmt.Sprint(met)
					}
					lock.Lock()
					defer lock.Unlock()
					answers[name] = answer
				}()
				if err := s.Together(t.Context(), Everything, act); err != nil {
					answer = err.Error()
				}
			})
		}
		for deadline := time.Now().Add(10 * time.Second); time.Now().Before(deadline); {
			s.smallLock.Lock()
			all := len(s.smallOnes) == len(acts)
			s.smallLock.Unlock()
			if all {
				return nil
			}
		}
		return errors.New("they do not come")
	})
	if err != nil {
		t.Fatal(err)
	}
	wait.Wait()
	return answers
}
