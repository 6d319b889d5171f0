package store_test

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"dorvet/internal/store"

	"github.com/mattn/go-sqlite3"
)

func TestOneServerOwnsTheData(t *testing.T) {
	s := billed(t)
	left := filepath.Join(s.Folder(), "backups", ".backup-123")
	if err := os.MkdirAll(left, 0o700); err != nil {
		t.Fatal(err)
	}
	breaches, err := s.Check(s.Read(t.Context(), store.Everything))
	if err != nil || len(breaches) != 1 || !strings.Contains(breaches[0], ".backup-123") {
		t.Errorf("what a killed backup left is not told: %v, %v", breaches, err)
	}
	if err := s.Own(); err != nil {
		t.Fatal(err)
	}
	if _, err := os.Stat(left); !os.IsNotExist(err) {
		t.Errorf("what a killed backup left is still there: %v", err)
	}
	second, err := store.Open(t.Context(), s.Folder()) // as a backup does, beside the server
	if err != nil {
		t.Fatal(err)
	}
	defer second.Close()
	if err := second.Own(); err == nil || !strings.Contains(err.Error(), "another Dorvet serves the data") {
		t.Errorf("a second server: %v", err)
	}
	if trouble := s.Health(t.Context()); trouble != "" {
		t.Error(trouble)
	}
}

// A file that is not what was written makes no backup, and says which one it is.
func TestABackupIsComparedWithWhatItShouldHold(t *testing.T) {
	s := billed(t)
	files, err := store.All[store.File](s.Read(t.Context(), store.Everything), "digest")
	if err != nil || len(files) == 0 {
		t.Fatal(err)
	}
	path := filepath.Join(s.Folder(), "files", files[0].Digest[:2], files[0].Digest)
	if err := os.WriteFile(path, []byte("something else"), 0o600); err != nil {
		t.Fatal(err)
	}
	target := filepath.Join(t.TempDir(), "backup.zip")
	if _, err := s.Backup(t.Context(), target); err == nil || !strings.Contains(err.Error(), "is not what was written") {
		t.Errorf("a backup of a file that was overwritten: %v", err)
	}
	if _, err := os.Stat(target); !os.IsNotExist(err) {
		t.Errorf("it is there: %v", err)
	}
	if breaches, err := s.Check(s.Read(t.Context(), store.Everything)); err != nil || len(breaches) != 1 {
		t.Errorf("%v, %v", breaches, err)
	}
}

// A damaged page is found by the check and told by the health of the server.
func TestADamagedPageIsFound(t *testing.T) {
	s := billed(t)
	folder := s.Folder()
	s.Close()
	path := filepath.Join(folder, "dorvet.db")
	content, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	at := len(content) / 2 / 4096 * 4096
	copy(content[at:at+4096], make([]byte, 4096))
	if err := os.WriteFile(path, content, 0o600); err != nil {
		t.Fatal(err)
	}
	if s, err = store.Open(t.Context(), folder); err != nil {
		return // it does not even open
	}
	defer s.Close()
	if err := s.Look(t.Context()); err == nil {
		t.Error("a page of zeroes is taken for whole")
	}
	if trouble := s.Health(t.Context()); !strings.Contains(trouble, "restore") {
		t.Errorf("%q says nothing of a backup", trouble)
	}
	if breaches, err := s.Check(s.Read(t.Context(), store.Everything)); err == nil && len(breaches) == 0 {
		t.Error("the check finds nothing")
	}
}

func TestTroubleSaysWhatToDo(t *testing.T) {
	for _, c := range []struct {
		err  error
		says string
	}{
		{sqlite3.Error{Code: sqlite3.ErrFull}, "make room"}, {sqlite3.Error{Code: sqlite3.ErrReadonly}, "right to write"},
		{sqlite3.Error{Code: sqlite3.ErrCorrupt}, "restore"},
		{sqlite3.Error{Code: sqlite3.ErrNotADB}, "restore"}, {sqlite3.Error{Code: sqlite3.ErrIoErr}, "disk"},
		{sqlite3.Error{Code: sqlite3.ErrConstraint}, ""},
		{&os.PathError{Op: "write", Err: syscall.ENOSPC}, "make room"}, {&os.PathError{Op: "write", Err: syscall.EROFS}, "right to write"},
		{syscall.EIO, "disk"}, {os.ErrNotExist, ""},
	} {
		got := store.Trouble(fmt.Errorf("issue invoice N7: %w", c.err))
		if (c.says == "") != (got == "") || !strings.Contains(got, c.says) || strings.Contains(got, "try again") {
			t.Errorf("%v: %q", c.err, got)
		}
	}
}

// What nothing came to name is swept a day later; what something names stays.
func TestUploadsThatNothingNamesAreSwept(t *testing.T) {
	s := billed(t)
	then := time.Date(2026, 12, 1, 9, 0, 0, 0, time.UTC)
	keep := func(text string) string {
		t.Helper()
		digest := ""
		err := s.Write(t.Context(), store.Everything, func(tx *store.DB) (err error) {
			if digest, err = s.Keep(tx, []byte(text), "application/pdf", then); err != nil {
				return err
			}
			return store.NoteUploader(tx, digest, 1, then)
		})
		if err != nil {
			t.Fatal(err)
		}
		return digest
	}
	forgotten, named := keep("forgotten"), keep("named")
	if err := run(t, s, "INSERT INTO source_files (source, source_id, position, digest, name) VALUES ('purchase', 1, 1, '"+
		named+"', 'x')"); err != nil {
		t.Fatal(err)
	}
	if number, bytes, err := store.UploadedSince(s.Read(t.Context(), store.Everything), 1, then.Add(-time.Hour)); err != nil ||
		number != 2 ||
		bytes != int64(len("forgotten")+len("named")) {
		t.Errorf("%d uploads of %d bytes, %v", number, bytes, err)
	}
	if n, err := s.SweepUploads(t.Context(), then); err != nil || n != 0 {
		t.Errorf("%d were swept on their day, %v", n, err)
	}
	if n, err := s.SweepUploads(t.Context(), then.Add(time.Minute)); err != nil || n != 1 {
		t.Errorf("%d were swept, %v", n, err)
	}
	if _, err := s.Content(forgotten); err == nil {
		t.Error("what nothing names is still there")
	}
	if _, err := s.Content(named); err != nil {
		t.Error(err)
	}
}

// A folder that had a database and has none, or an empty one, is not begun anew.
func TestALostDatabaseIsNotBegunAnew(t *testing.T) {
	for name, lose := range map[string]func(string) error{"gone": os.Remove,
		"empty": func(path string) error { return os.Truncate(path, 0) }} {
		s := billed(t)
		folder := s.Folder()
		if err := s.Own(); err != nil {
			t.Fatal(err)
		}
		s.Close()
		for _, beside := range []string{"dorvet.db-wal", "dorvet.db-shm"} {
			os.Remove(filepath.Join(folder, beside))
		}
		if err := lose(filepath.Join(folder, "dorvet.db")); err != nil {
			t.Fatal(err)
		}
		if again, err := store.Open(t.Context(), folder); err == nil || !strings.Contains(err.Error(), "restore the newest backup") {
			t.Errorf("%s: %v", name, err)
			if err == nil {
				again.Close()
			}
		}
	}
}
