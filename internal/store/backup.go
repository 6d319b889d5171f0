package store

import (
	"archive/zip"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"

	"gorm.io/gorm"
)

// scratchName begins the name of a folder in which a backup is made.
const scratchName = ".backup-"

// Backup writes the database and every file that it names into one ZIP, while
// people work, and reads it again to check it. It returns how many files went in.
func (s *Store) Backup(ctx context.Context, target string) (files int, err error) {
	folder := filepath.Dir(target)
	if err := os.MkdirAll(folder, permission); err != nil {
		return 0, err
	}
	if err := sweepBackups(folder); err != nil {
		return 0, err
	}
	scratch, err := os.MkdirTemp(folder, scratchName+"*")
	if err != nil {
		return 0, err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(scratch)) }()
	snapshot := filepath.Join(scratch, database)
	if err := s.writer.WithContext(ctx).Exec("VACUUM INTO ?", snapshot).Error; err != nil {
		return 0, fmt.Errorf("copy the database: %w", err)
	}
	digests, err := digestsIn(snapshot)
	if err != nil {
		return 0, err
	}
	draft := filepath.Join(scratch, "backup.zip")
	if err := s.pack(draft, snapshot, digests); err != nil {
		return 0, err
	}
	proof := filepath.Join(scratch, "proof")
	if err := unpack(draft, proof); err != nil {
		return 0, fmt.Errorf("the backup can't be read again: %w", err)
	}
	if err := proven(proof, digests); err != nil {
		return 0, fmt.Errorf("the backup was not written: %w", err)
	}
	return len(digests), errors.Join(os.Rename(draft, target), syncFolder(folder))
}

// proven compares what was unpacked of a backup with what it should hold: the database,
// and every file that it names, by its digest.
func proven(folder string, digests []string) error {
	named, err := digestsIn(filepath.Join(folder, database))
	if err != nil {
		return err
	}
	if len(named) != len(digests) {
		return fmt.Errorf("it names %d files, of %d", len(named), len(digests))
	}
	unpacked := &Store{folder: folder}
	for _, digest := range digests {
		if _, err := unpacked.Content(digest); err != nil {
			return err
		}
	}
	return nil
}

// digestsIn lists the files that a copied database names, once it is proven whole.
func digestsIn(path string) (digests []string, err error) {
	db, err := connect("file:"+path+"?mode=ro", 1, "")
	if err != nil {
		return nil, err
	}
	pool, err := db.DB()
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, pool.Close()) }()
	problems, err := integrity(db)
	if err == nil && len(problems) > 0 {
		err = fmt.Errorf("the database is damaged: %s", problems[0])
	}
	if err != nil {
		return nil, err
	}
	err = db.Raw("SELECT digest FROM files").Scan(&digests).Error
	return digests, err
}

// integrity lists what is wrong with the pages of a database.
func integrity(db *gorm.DB) (problems []string, err error) {
	err = db.Raw("PRAGMA integrity_check").Scan(&problems).Error
	if len(problems) == 1 && problems[0] == "ok" {
		problems = nil
	}
	return problems, err
}

func (s *Store) pack(target, snapshot string, digests []string) error {
	out, err := os.OpenFile(target, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	archive := zip.NewWriter(out)
	err = addFile(archive, database, snapshot)
	for _, digest := range digests {
		if err == nil {
			err = addFile(archive, "files/"+digest[:2]+"/"+digest, s.pathOf(digest))
		}
	}
	return errors.Join(err, archive.Close(), out.Sync(), out.Close())
}

func addFile(archive *zip.Writer, name, path string) error {
	in, err := os.Open(path)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := archive.Create(name)
	if err != nil {
		return err
	}
	_, err = io.Copy(out, in)
	return err
}

// Restore unpacks a backup into a folder that is empty or does not exist, and
// opens it.
func Restore(ctx context.Context, backup, folder string) (*Store, error) {
	if present, err := os.ReadDir(folder); err == nil && len(present) > 0 {
		return nil, fmt.Errorf("%s is not empty: restore into a new folder, so that nothing is overwritten", folder)
	}
	if err := unpack(backup, folder); err != nil {
		return nil, fmt.Errorf("unpack %s: %w", backup, err)
	}
	return Open(ctx, folder)
}

func unpack(archive, folder string) error {
	in, err := zip.OpenReader(archive)
	if err != nil {
		return err
	}
	defer in.Close()
	for _, file := range in.File {
		if !filepath.IsLocal(file.Name) || strings.HasSuffix(file.Name, "/") {
			return fmt.Errorf("%q has no place in a backup", file.Name)
		}
		if err := unpackFile(file, filepath.Join(folder, file.Name)); err != nil {
			return err
		}
	}
	return nil
}

func unpackFile(file *zip.File, path string) error {
	if err := os.MkdirAll(filepath.Dir(path), permission); err != nil {
		return err
	}
	in, err := file.Open()
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := os.OpenFile(path, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	_, err = io.Copy(out, in)
	return errors.Join(err, out.Sync(), out.Close())
}
