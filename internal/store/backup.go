package store

import (
	"archive/zip"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"

	"github.com/klauspost/compress/zstd"
	"github.com/mattn/go-sqlite3"
	"gorm.io/gorm"
)

// scratchName begins the name of a folder in which a backup is made.
const scratchName = ".backup-"

// Backup writes the database and every file that it names into one ZIP, while
// people work, and reads it again to check it. It returns how many files went in.
// Nobody who writes waits for it: the copy is what a reader sees.
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
	if err := s.copyInto(ctx, snapshot); err != nil {
		return 0, fmt.Errorf("copy the database: %w", err)
	}
	digests, err := digestsIn(snapshot)
	if err != nil {
		return 0, err
	}
	draft := filepath.Join(scratch, "backup.zip")
	written, err := s.pack(ctx, draft, snapshot, digests)
	if err != nil {
		return 0, err
	}
	if err := proven(draft, written, digests); err != nil {
		return 0, fmt.Errorf("the backup was not written: %w", err)
	}
	return len(digests), errors.Join(os.Rename(draft, target), syncFolder(folder))
}

// atOnce is how many pages are copied before it is asked whether somebody has given up.
const atOnce = 10_000

// copyInto copies the database as it is now, page by page.
func (s *Store) copyInto(ctx context.Context, path string) (err error) {
	from, err := connect(s.path()+reading, 1, "")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, closePool(from)) }()
	into, err := connect("file:"+path, 1, unsynced)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, closePool(into)) }()
	err = connection(ctx, from, func(source *sqlite3.SQLiteConn) error {
		return connection(ctx, into, func(target *sqlite3.SQLiteConn) error { return copyPages(ctx, target, source) })
	})
	if err != nil {
		return err
	}
	return into.WithContext(ctx).Exec("PRAGMA journal_mode = DELETE").Error // one file, that needs none beside it
}

// copyPages copies within one transaction: what is written meanwhile is not seen, and does not
// begin it anew.
func copyPages(ctx context.Context, target, source *sqlite3.SQLiteConn) error {
	if _, err := source.Exec("BEGIN; SELECT 1 FROM files LIMIT 1;", nil); err != nil {
		return err
	}
	copying, err := target.Backup("main", source, "main")
	if err != nil {
		return err
	}
	for done := false; !done && err == nil; {
		if done, err = copying.Step(atOnce); err == nil {
			err = ctx.Err()
		}
	}
	return errors.Join(err, copying.Finish())
}

// proven reads a backup again, and compares it with what was to go in: the database as it
// was copied, and every file by its digest.
func proven(path, copied string, digests []string) error {
	in, err := zip.OpenReader(path)
	if err != nil {
		return fmt.Errorf("it can't be read again: %w", err)
	}
	defer in.Close()
	expected := map[string]string{database: copied}
	for _, digest := range digests {
		expected[nameOf(digest)] = digest
	}
	for _, file := range in.File {
		found, err := digestOf(file)
		if err != nil {
			return fmt.Errorf("%s can't be read again: %w", file.Name, err)
		}
		if found != expected[file.Name] {
			return fmt.Errorf("%s is not what was written", file.Name)
		}
		delete(expected, file.Name)
	}
	if len(expected) > 0 {
		return fmt.Errorf("it lacks %d files, of %d", len(expected), len(digests)+1)
	}
	return nil
}

func digestOf(file *zip.File) (string, error) {
	in, err := file.Open()
	if err != nil {
		return "", err
	}
	defer in.Close()
	sum := sha256.New()
	_, err = io.Copy(sum, in)
	return hex.EncodeToString(sum.Sum(nil)), err
}

// nameOf is under which name a file is in a backup.
func nameOf(digest string) string { return "files/" + digest[:2] + "/" + digest }

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

// fast is how the database is packed: at the speed of the disk. Files are documents and pictures, packed already.
const fast = zstd.ZipMethodWinZip

func init() {
	zip.RegisterCompressor(fast, zstd.ZipCompressor(zstd.WithEncoderLevel(zstd.SpeedFastest)))
	zip.RegisterDecompressor(fast, zstd.ZipDecompressor())
}

// pack writes a backup, and gives the digest of the database in it.
func (s *Store) pack(ctx context.Context, target, snapshot string, digests []string) (string, error) {
	out, err := os.OpenFile(target, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return "", err
	}
	archive, sum := zip.NewWriter(out), sha256.New()
	err = addFile(archive, fast, database, snapshot, sum)
	for _, digest := range digests {
		if err == nil {
			err = ctx.Err()
		}
		if err == nil {
			err = addFile(archive, zip.Store, nameOf(digest), s.pathOf(digest), io.Discard)
		}
	}
	return hex.EncodeToString(sum.Sum(nil)), errors.Join(err, archive.Close(), out.Sync(), out.Close())
}

// addFile adds a file to an archive; what goes in is told to a listener, too.
func addFile(archive *zip.Writer, method uint16, name, path string, listener io.Writer) error {
	in, err := os.Open(path)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := archive.CreateHeader(&zip.FileHeader{Name: name, Method: method})
	if err != nil {
		return err
	}
	_, err = io.Copy(io.MultiWriter(out, listener), in)
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
