package store

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"time"

	"gorm.io/gorm/clause"
)

// Photo is a photo kept in the data folder under the hash of its content.
// Width and Height are those of the original, upright.
type Photo struct {
	Hash      string `gorm:"primaryKey"`
	Name      string
	Kind      string
	Width     int
	Height    int
	CreatedAt time.Time
}

// Folders inside a data folder: photos, meshes, and photos that wait until what they came with
// is confirmed.
const (
	photoFolder  = "photos"
	modelFolder  = "models"
	stagedFolder = "staged"
)

// hashBytes is how much of the SHA-256 of a file names it.
const hashBytes = 16

// HashOf names a photo or mesh by its content.
func HashOf(data []byte) string {
	sum := sha256.Sum256(data)
	return hex.EncodeToString(sum[:hashBytes])
}

var photoName = regexp.MustCompile(`^[0-9a-f]{4,64}$`)

// PutPhotoFile keeps the bytes of a photo; it is wholly on disk, or not there,
// when this returns.
func (s *Store) PutPhotoFile(hash string, data []byte) error {
	return s.putFile(photoFolder, hash, data)
}

// PutModelFile keeps the bytes of a mesh as PutPhotoFile keeps those of a photo.
func (s *Store) PutModelFile(hash string, data []byte) error {
	return s.putFile(modelFolder, hash, data)
}

// StagePhotoFile keeps the bytes of a photo apart until TakeStaged, or until the program starts
// again, when what was never taken goes.
func (s *Store) StagePhotoFile(hash string, data []byte) error {
	return s.putFile(stagedFolder, hash, data)
}

// StagedFile returns the bytes of a photo that waits.
func (s *Store) StagedFile(hash string) ([]byte, error) { return s.file(stagedFolder, hash) }

// TakeStaged moves a photo that waits among the others; one that does not wait is ErrNotFound.
func (s *Store) TakeStaged(hash string) error {
	if !photoName.MatchString(hash) {
		return ErrNotFound
	}
	to := filepath.Join(s.dir, photoFolder)
	if err := os.MkdirAll(to, ownerOnly); err != nil {
		return plain(fmt.Errorf("making the folder of photos: %w", err))
	}
	err := os.Rename(filepath.Join(s.dir, stagedFolder, hash), filepath.Join(to, hash))
	if errors.Is(err, os.ErrNotExist) {
		return ErrNotFound
	}
	return plain(errors.Join(err, syncFolder(to)))
}

// HasModelFile reports whether a mesh is kept.
func (s *Store) HasModelFile(hash string) bool {
	_, err := os.Stat(filepath.Join(s.dir, modelFolder, hash))
	return photoName.MatchString(hash) && err == nil
}

// HasPhotoFile reports whether the file of a photo is there.
func (s *Store) HasPhotoFile(hash string) bool {
	_, err := os.Stat(filepath.Join(s.dir, photoFolder, hash))
	return photoName.MatchString(hash) && err == nil
}

// DropModelFile lets go of a mesh that nothing came to use.
func (s *Store) DropModelFile(hash string) error {
	if !photoName.MatchString(hash) {
		return ErrNotFound
	}
	return plain(os.Remove(filepath.Join(s.dir, modelFolder, hash)))
}

// syncFolder makes a renamed file's name safe on disk. Where folders cannot be synced it is
// left to the system.
func syncFolder(dir string) error {
	f, err := os.Open(dir)
	if err != nil {
		return err
	}
	defer f.Close()
	if err := f.Sync(); err != nil && !errors.Is(err, os.ErrInvalid) && !errors.Is(err, errors.ErrUnsupported) {
		return err
	}
	return nil
}

func (s *Store) putFile(folder, hash string, data []byte) error {
	dir := filepath.Join(s.dir, folder)
	if err := os.MkdirAll(dir, ownerOnly); err != nil {
		return plain(fmt.Errorf("making the folder of %s: %w", folder, err))
	}
	f, err := os.CreateTemp(dir, ".new-*")
	if err != nil {
		return plain(fmt.Errorf("keeping a file: %w", err))
	}
	defer os.Remove(f.Name())
	_, err = f.Write(data)
	err = errors.Join(err, f.Sync(), f.Close())
	if err == nil {
		err = errors.Join(os.Rename(f.Name(), filepath.Join(dir, hash)), syncFolder(dir))
	}
	if err != nil {
		return plain(fmt.Errorf("keeping a file: %w", err))
	}
	return nil
}

// PhotoFile returns the bytes of a photo.
func (s *Store) PhotoFile(hash string) ([]byte, error) { return s.file(photoFolder, hash) }

// ModelFile returns the bytes of a mesh.
func (s *Store) ModelFile(hash string) ([]byte, error) { return s.file(modelFolder, hash) }

func (s *Store) file(folder, hash string) ([]byte, error) {
	if !photoName.MatchString(hash) {
		return nil, ErrNotFound
	}
	data, err := os.ReadFile(filepath.Join(s.dir, folder, hash))
	if errors.Is(err, os.ErrNotExist) {
		return nil, ErrNotFound
	}
	return data, plain(err)
}

// PutPhoto writes a photo's record; one that is known stays as it is, and is not let go any more.
func (t Tx) PutPhoto(p Photo) error {
	if err := t.db.Where("hash = ?", p.Hash).Delete(&letGo{}).Error; err != nil {
		return plain(err)
	}
	return plain(t.db.Clauses(clause.OnConflict{DoNothing: true}).Create(&p).Error)
}

// Photo returns a photo's record.
func (t Tx) Photo(hash string) (Photo, error) {
	var p Photo
	return p, found(t.db.Where("hash = ?", hash).Take(&p).Error)
}

// Photos returns the record of every photo that was not let go, newest first.
func (t Tx) Photos() ([]Photo, error) {
	var all []Photo
	return all, plain(t.db.Where("hash NOT IN (SELECT hash FROM let_go)").Order("created_at DESC").Find(&all).Error)
}
