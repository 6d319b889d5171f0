package store

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"time"

	"gorm.io/gorm/clause"
)

// Keep writes a file under the digest of its bytes and syncs it, then names it
// in the transaction: a committed row always has its file.
func (s *Store) Keep(tx *DB, content []byte, mediaType string, at time.Time) (digest string, err error) {
	sum := sha256.Sum256(content)
	digest = hex.EncodeToString(sum[:])
	if err := writeSynced(s.pathOf(digest), content); err != nil {
		return "", fmt.Errorf("keep a file: %w", err)
	}
	row := File{Digest: digest, Bytes: int64(len(content)), MediaType: mediaType, At: at}
	return digest, tx.gorm.Clauses(clause.OnConflict{DoNothing: true}).Create(&row).Error
}

// UploadedSince is how many files a person has uploaded since an instant, and their
// bytes.
func UploadedSince(tx *DB, personID int64, since time.Time) (number int, bytes int64, err error) {
	row := struct {
		Number int
		Bytes  int64
	}{}
	err = tx.gorm.Raw("SELECT COUNT(*) AS number, COALESCE(SUM(bytes), 0) AS bytes FROM files WHERE uploaded_by = ? AND at >= ?", personID,
		since).Scan(&row).Error
	return row.Number, row.Bytes, err
}

// NoteUploader notes who uploaded a file, and when last; what the program made itself
// stays its own.
func NoteUploader(tx *DB, digest string, personID int64, at time.Time) error {
	return tx.gorm.Exec("UPDATE main.files SET uploaded_by = ?, at = ? WHERE digest = ? AND (uploaded_by <> 0 OR at = ?)", personID, at,
		digest, at).Error
}

// unnamed are the uploads before an instant that nothing names.
const unnamed = `SELECT digest FROM files f WHERE uploaded_by <> 0 AND at < ?
	AND NOT EXISTS (SELECT 1 FROM source_files s WHERE s.digest = f.digest) AND NOT EXISTS (SELECT 1 FROM invoice_revisions r
		WHERE r.digest = f.digest)
	AND NOT EXISTS (SELECT 1 FROM client_steps k WHERE k.file = f.digest)
	AND NOT EXISTS (SELECT 1 FROM firm x WHERE x.logo = f.digest) AND NOT EXISTS (SELECT 1 FROM mail_files m WHERE m.digest = f.digest)
	AND NOT EXISTS (SELECT 1 FROM proposal_drafts d WHERE instr(d.content, f.digest) > 0) AND NOT EXISTS (SELECT 1 FROM proposal_answers a
		WHERE a.document = f.digest OR a.evidence_file = f.digest OR instr(a.content, f.digest) > 0)
	AND NOT EXISTS (SELECT 1 FROM acts a WHERE a.at > f.at AND (instr(a.after, f.digest) > 0 OR instr(a.before, f.digest) > 0))`

// SweepUploads forgets the uploads before an instant that nothing came to name, and
// gives how many there were. The rows go first: a file without a row is no loss.
func (s *Store) SweepUploads(ctx context.Context, before time.Time) (int, error) {
	digests := []string{}
	err := s.Write(ctx, Everything, func(tx *DB) error {
		if err := tx.gorm.Raw(unnamed, before).Scan(&digests).Error; err != nil || len(digests) == 0 {
			return err
		}
		return tx.gorm.Exec("DELETE FROM main.files WHERE digest IN ?", digests).Error
	})
	if err != nil || len(digests) == 0 {
		return 0, err
	}
	// Files are kept by whoever writes: while this writes, none of them comes back.
	return len(digests), s.Write(ctx, Everything, func(tx *DB) error {
		back := []string{}
		err := tx.gorm.Raw("SELECT digest FROM files WHERE digest IN ?", digests).Scan(&back).Error
		for _, digest := range digests {
			if err == nil && !slices.Contains(back, digest) {
				err = os.Remove(s.pathOf(digest))
			}
		}
		return err
	})
}

// IsUploadOf reports whether a kept file was uploaded by a person.
func IsUploadOf(tx *DB, digest string, personID int64) (bool, error) {
	n, err := Count(tx, "SELECT COUNT(*) FROM files WHERE digest = ? AND uploaded_by = ?", digest, personID)
	return n > 0, err
}

// FileOf finds a kept file by its digest.
func FileOf(tx *DB, digest string) (*File, error) {
	file := new(File)
	err := tx.gorm.First(file, "digest = ?", digest).Error
	return file, err
}

// Content reads a kept file and proves that it is still what was written.
func (s *Store) Content(digest string) ([]byte, error) {
	content, err := os.ReadFile(s.pathOf(digest))
	if err != nil {
		return nil, fmt.Errorf("read the file %s: %w", digest, err)
	}
	if sum := sha256.Sum256(content); hex.EncodeToString(sum[:]) != digest {
		return nil, fmt.Errorf("the file %s is not what was written: restore it from a backup", digest)
	}
	return content, nil
}

func (s *Store) pathOf(digest string) string {
	return filepath.Join(s.folder, "files", digest[:2], digest)
}

// draftName begins the name of a file that is being written.
const draftName = ".writing-"

// writeSynced writes beside the path, syncs, and renames, so that the path
// holds all of the content or does not exist.
func writeSynced(path string, content []byte) (err error) {
	if err := os.MkdirAll(filepath.Dir(path), permission); err != nil {
		return err
	}
	draft, err := os.CreateTemp(filepath.Dir(path), draftName+"*")
	if err != nil {
		return err
	}
	_, err = draft.Write(content)
	err = errors.Join(err, draft.Sync(), draft.Close())
	if err == nil {
		err = os.Rename(draft.Name(), path)
	}
	if err != nil {
		return errors.Join(err, os.Remove(draft.Name()))
	}
	return syncFolder(filepath.Dir(path))
}

func syncFolder(path string) error {
	folder, err := os.Open(path)
	if err != nil {
		return err
	}
	return errors.Join(folder.Sync(), folder.Close())
}
