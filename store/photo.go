package store

import (
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

// Folders that hold photos and meshes inside a data folder.
const (
	photoFolder = "photos"
	modelFolder = "models"
)

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

func (s *Store) putFile(folder, hash string, data []byte) error {
	dir := filepath.Join(s.dir, folder)
	if err := os.MkdirAll(dir, 0o755); err != nil {
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
		err = os.Rename(f.Name(), filepath.Join(dir, hash))
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

// PutPhoto writes a photo's record; one that is known stays as it is.
func (t Tx) PutPhoto(p Photo) error {
	return plain(t.db.Clauses(clause.OnConflict{DoNothing: true}).Create(&p).Error)
}

// Photo returns a photo's record.
func (t Tx) Photo(hash string) (Photo, error) {
	var p Photo
	return p, found(t.db.Where("hash = ?", hash).Take(&p).Error)
}

// Photos returns every photo's record, newest first.
func (t Tx) Photos() ([]Photo, error) {
	var all []Photo
	return all, plain(t.db.Order("created_at DESC").Find(&all).Error)
}
