package exchange

import (
	"archive/zip"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"path"
	"strings"

	"lampfern/core/material"
)

// A whole shelf is a zip of shelf.json, which holds every material's record,
// and the photos under photos/.

// ShelfFormat and ShelfVersion stand at the head of every shelf.json.
const (
	ShelfFormat  = "lampfern-shelf"
	ShelfVersion = 1
)

// Limits of a shelf.
const (
	MaxShelfBytes  = 500 << 20 // of the zip
	maxShelfPhotos = 2000
	maxShelfFiles  = 2 * maxShelfPhotos
	shelfRecord    = "shelf.json"
)

// ShelfPhoto is a photo of a shelf. File is its name inside the zip.
type ShelfPhoto struct {
	Hash string `json:"hash"`
	Name string `json:"name"`
	File string `json:"file"`
}

// Shelf is a whole shelf that was read.
type Shelf struct {
	Photos []ShelfPhoto
	list   List
	record []byte
	files  map[string]*zip.File
}

// Record is the shelf.json as it stands in the zip; ReadList reads it.
func (s Shelf) Record() []byte { return s.record }

// Photo returns the bytes of a photo, at most MaxPhotoBytes.
func (s Shelf) Photo(ctx context.Context, p ShelfPhoto) ([]byte, error) {
	data, err := unpack(ctx, s.files[p.File], MaxPhotoBytes)
	if err != nil {
		return nil, fmt.Errorf("the photo %s in the zip cannot be read: save the shelf again", shorten(p.Name))
	}
	return data, nil
}

type shelfFile struct {
	Format    string       `json:"format"`
	Version   int          `json:"version"`
	Materials []record     `json:"materials"`
	Photos    []ShelfPhoto `json:"photos"`
	Mixes     []MixRecord  `json:"mixes,omitempty"`
}

// ReadShelf reads the zip of a whole shelf. Files that do not belong to it are
// left alone; one that would leave its folder makes the whole zip unwelcome.
// The error is a sentence.
func ReadShelf(ctx context.Context, r io.ReaderAt, size int64) (Shelf, error) {
	if size > MaxShelfBytes {
		return Shelf{}, fmt.Errorf("the zip is larger than %d MB: save the shelf with fewer photos", MaxShelfBytes>>20)
	}
	files, err := openZip(r, size, maxShelfFiles, "shelf")
	if err != nil {
		return Shelf{}, err
	}
	if files[shelfRecord] == nil {
		return Shelf{}, fmt.Errorf("the zip has no %s: it is not a Lamp Fern shelf", shelfRecord)
	}
	data, err := unpack(ctx, files[shelfRecord], MaxListBytes)
	if err != nil {
		return Shelf{}, fmt.Errorf("the %s in the zip is damaged or larger than %d MB", shelfRecord, MaxListBytes>>20)
	}
	s, err := readShelfRecord(data)
	if err != nil {
		return Shelf{}, err
	}
	for _, p := range s.Photos {
		if files[p.File] == nil {
			return Shelf{}, fmt.Errorf("the photo %s is missing from the zip: save the shelf again", shorten(p.Name))
		}
	}
	s.files = files
	return s, nil
}

// openZip lists the files of a zip by name; what names the kind of thing it should
// hold. A file that would leave its folder makes the whole zip unwelcome. The error
// is a sentence.
func openZip(r io.ReaderAt, size int64, most int, what string) (map[string]*zip.File, error) {
	z, err := zip.NewReader(r, size)
	if err != nil && !errors.Is(err, zip.ErrInsecurePath) {
		return nil, errors.New("the zip is incomplete: copy it again")
	}
	if len(z.File) > most {
		return nil, fmt.Errorf("the zip holds more than %d files: it is not a Lamp Fern %s", most, what)
	}
	files := map[string]*zip.File{}
	for _, f := range z.File {
		if strings.Contains(f.Name, `\`) || path.IsAbs(f.Name) || path.Clean("/"+f.Name) != "/"+strings.TrimSuffix(f.Name, "/") {
			return nil, fmt.Errorf("the zip holds a file that would leave its folder (%s), so it was not opened", shorten(f.Name))
		}
		files[f.Name] = f
	}
	return files, nil
}

// unpack reads a file of a zip, an error when it is larger than most, whatever
// its head says.
func unpack(ctx context.Context, f *zip.File, most int64) ([]byte, error) {
	r, err := f.Open()
	if err != nil {
		return nil, err
	}
	defer r.Close()
	data, err := io.ReadAll(io.LimitReader(within(ctx, r), most+1))
	if err == nil && int64(len(data)) > most {
		err = errors.New("too large")
	}
	return data, err
}

// readShelfRecord reads a shelf.json.
func readShelfRecord(data []byte) (Shelf, error) {
	var f shelfFile
	switch err := json.Unmarshal(data, &f); {
	case err != nil:
		return Shelf{}, errors.New("the shelf in the file is incomplete: save it again")
	case f.Format != ShelfFormat:
		return Shelf{}, fmt.Errorf("the file is not a Lamp Fern shelf: it does not begin with the format %q", ShelfFormat)
	case f.Version != ShelfVersion:
		return Shelf{}, fmt.Errorf("the shelf is version %d, and this program reads version %d", f.Version, ShelfVersion)
	case len(f.Materials) > MaxListLines || len(f.Photos) > maxShelfPhotos || len(f.Mixes) > maxMixes:
		return Shelf{}, fmt.Errorf("the shelf has more than %d materials, %d photos or %d records of mixes", MaxListLines, maxShelfPhotos,
			maxMixes)
	}
	list := newCollector()
	for i, r := range f.Materials {
		m, err := r.material()
		if err != nil {
			list.refuse(i+1, r.Name, err.Error())
			continue
		}
		list.take(i+1, m, material.Given{Colour: true, Lot: len(m.Lots) > 0, OnHand: true, Unit: true, Price: true, Place: true})
	}
	var mixes []MixRecord
	for i, m := range f.Mixes {
		if err := m.check(); err != nil {
			list.refuse(i+1, "the mix "+m.Name, err.Error())
			continue
		}
		mixes = append(mixes, m)
	}
	done, err := list.done("the shelf in the file is empty", nil)
	done.Mixes = mixes
	return Shelf{Photos: f.Photos, list: done, record: data}, err
}

// WriteShelf writes the zip of a whole shelf; photo returns the bytes of each
// photo in turn.
func WriteShelf(w io.Writer, all []material.Material, mixes []MixRecord, photos []ShelfPhoto,
	photo func(ShelfPhoto) ([]byte, error)) error {
	z := zip.NewWriter(w)
	f := shelfFile{Format: ShelfFormat, Version: ShelfVersion, Materials: []record{}, Photos: photos, Mixes: mixes}
	for _, m := range all {
		f.Materials = append(f.Materials, recordOf(m))
	}
	out, err := z.Create(shelfRecord)
	if err == nil {
		err = writeJSON(out, f, "shelf")
	}
	for _, p := range photos {
		if err != nil {
			break
		}
		var data []byte
		if data, err = photo(p); err == nil {
			// Photos are packed already.
			if out, err = z.CreateHeader(&zip.FileHeader{Name: p.File, Method: zip.Store}); err == nil {
				_, err = out.Write(data)
			}
		}
	}
	if err == nil {
		err = z.Close()
	}
	if err != nil {
		return fmt.Errorf("writing the zip of the shelf: %w", err)
	}
	return nil
}
