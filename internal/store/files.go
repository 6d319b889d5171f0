package store

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Keep writes a file under the digest of its bytes and syncs it, then names it
// in the transaction: a committed row always has its file.
func (s *Store) Keep(tx *gorm.DB, content []byte, mediaType string, at time.Time) (digest string, err error) {
	sum := sha256.Sum256(content)
	digest = hex.EncodeToString(sum[:])
	if err := writeSynced(s.pathOf(digest), content); err != nil {
		return "", fmt.Errorf("keep a file: %w", err)
	}
	row := File{Digest: digest, Bytes: int64(len(content)), MediaType: mediaType, At: at}
	return digest, tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&row).Error
}

// FileOf finds a kept file by its digest.
func FileOf(tx *gorm.DB, digest string) (*File, error) {
	file := new(File)
	err := tx.First(file, "digest = ?", digest).Error
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

// writeSynced writes beside the path, syncs, and renames, so that the path
// holds all of the content or does not exist.
func writeSynced(path string, content []byte) (err error) {
	if err := os.MkdirAll(filepath.Dir(path), permission); err != nil {
		return err
	}
	draft, err := os.CreateTemp(filepath.Dir(path), ".writing-*")
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
