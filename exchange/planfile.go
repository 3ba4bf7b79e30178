package exchange

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"time"

	"lampfern/core/colour"
	"lampfern/core/material"
)

// A plan is a zip of plan.json, which holds its sections and the materials they
// refer to, and the photos and meshes it uses. Version 1 was one JSON file
// without photos and meshes; ReadPlanFile reads it still.

// PlanFileVersion stands in every plan.json of a zip.
const PlanFileVersion = 2

// Limits of a plan's zip.
const (
	MaxPlanFileBytes = 300 << 20
	maxPlanFiles     = 500
	maxPlanRecord    = 32 << 20
	planRecord       = "plan.json"
)

// PlanFile is a plan as it goes elsewhere. Materials are referred to in its
// sections by their number in the file; photos and meshes by their hash.
type PlanFile struct {
	Name      string                 `json:"name"`
	Craft     string                 `json:"craft,omitempty"`
	Kinds     []string               `json:"kinds,omitempty"`
	PutAway   bool                   `json:"put_away,omitempty"`
	Sections  map[string]PlanSection `json:"sections"`
	Materials []PlanMaterial         `json:"-"`
	Sheets    []PlanSheet            `json:"sheets,omitempty"` // of the sign-off, where the maker wished
	Diary     []PlanEntry            `json:"diary,omitempty"`
	Photos    []ShelfPhoto           `json:"-"`
	Meshes    []ShelfPhoto           `json:"-"`
	Elsewhere []PlanMaterial         `json:"-"` // of version 1: name and colour of what did not come along, and may be on the shelf

	files map[string]*zip.File
}

// PlanEntry is an entry of a plan's diary; its photos are named by their hashes.
type PlanEntry struct {
	At      time.Time `json:"at"`
	Step    string    `json:"step,omitempty"`
	Title   string    `json:"title,omitempty"`
	Words   string    `json:"words,omitempty"`
	Changed string    `json:"changed,omitempty"`
	Why     string    `json:"why,omitempty"`
	Part    string    `json:"part,omitempty"`
	Card    string    `json:"card,omitempty"`
	Minutes int       `json:"minutes,omitempty"`
	Photos  []string  `json:"photos,omitempty"`
}

// PlanSheet is a sheet that a client was asked to agree to, without its link.
type PlanSheet struct {
	Number  int          `json:"number"`
	MadeAt  time.Time    `json:"made_at"`
	EndsAt  time.Time    `json:"ends_at"`
	SentAt  *time.Time   `json:"sent_at,omitempty"`
	SeenAt  *time.Time   `json:"seen_at,omitempty"`
	Doc     []byte       `json:"doc"` // JSON, gzipped
	Answers []PlanAnswer `json:"answers,omitempty"`
}

// PlanAnswer is what a client said to a sheet.
type PlanAnswer struct {
	AnsweredAt time.Time         `json:"answered_at"`
	Once       string            `json:"once"`
	Agreed     bool              `json:"agreed"`
	Name       string            `json:"name"`
	Way        string            `json:"way,omitempty"`
	Remark     string            `json:"remark,omitempty"`
	Remarks    map[string]string `json:"remarks,omitempty"`
	By         string            `json:"by"`
}

// PlanSection is one section of a plan: a JSON document and the number of its
// form.
type PlanSection struct {
	Version int             `json:"version"`
	Doc     json.RawMessage `json:"doc"`
}

// PlanMaterial is a material of a plan file and its number there.
type PlanMaterial struct {
	Number uint
	material.Material
}

type numbered struct {
	Number uint `json:"number"`
	record
}

type planZip struct {
	Format    string       `json:"format"`
	Version   int          `json:"version"`
	Plan      PlanFile     `json:"plan"`
	Materials []numbered   `json:"materials"`
	Photos    []ShelfPhoto `json:"photos,omitempty"`
	Meshes    []ShelfPhoto `json:"meshes,omitempty"`
}

// WritePlanFile writes the zip of a plan; content returns the bytes of each
// photo and mesh in turn.
func WritePlanFile(w io.Writer, p PlanFile, content func(f ShelfPhoto, isMesh bool) ([]byte, error)) error {
	out := planZip{Format: PlanFormat, Version: PlanFileVersion, Plan: p, Photos: p.Photos, Meshes: p.Meshes, Materials: []numbered{}}
	for _, m := range p.Materials {
		m.Lots = nil // what is on hand here means nothing elsewhere
		out.Materials = append(out.Materials, numbered{m.Number, recordOf(m.Material)})
	}
	z := zip.NewWriter(w)
	err := func() error {
		f, err := z.Create(planRecord)
		if err != nil {
			return err
		}
		if err := writeJSON(f, out, "plan"); err != nil {
			return err
		}
		for i, all := range [][]ShelfPhoto{p.Photos, p.Meshes} {
			for _, one := range all {
				data, err := content(one, i == 1)
				if err != nil {
					return err
				}
				method := zip.Store // photos are packed already
				if i == 1 {
					method = zip.Deflate
				}
				f, err := z.CreateHeader(&zip.FileHeader{Name: one.File, Method: method})
				if err != nil {
					return err
				}
				if _, err := f.Write(data); err != nil {
					return err
				}
			}
		}
		return z.Close()
	}()
	if err != nil {
		return fmt.Errorf("writing the zip of the plan: %w", err)
	}
	return nil
}

// IsPlanFile reports whether data are a plan, as a zip or as version 1's JSON.
func IsPlanFile(data []byte) bool {
	if !bytes.HasPrefix(data, []byte("PK")) {
		return IsPlan(data)
	}
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil && !errors.Is(err, zip.ErrInsecurePath) {
		return false
	}
	for _, f := range z.File {
		if f.Name == planRecord {
			return true
		}
	}
	return false
}

// ReadPlanFile reads a plan of either version and checks that its materials are
// sound; its sections are for whoever keeps them to check. The error is a
// sentence.
func ReadPlanFile(ctx context.Context, data []byte) (PlanFile, error) {
	if len(data) > MaxPlanFileBytes {
		return PlanFile{}, fmt.Errorf("the plan file is larger than %d MB: it is not a Lamp Fern plan", MaxPlanFileBytes>>20)
	}
	if !bytes.HasPrefix(data, []byte("PK")) {
		p, err := ReadPlan(ctx, bytes.NewReader(data))
		if err != nil {
			return PlanFile{}, err
		}
		return p.file()
	}
	files, err := openZip(bytes.NewReader(data), int64(len(data)), maxPlanFiles, "plan")
	if err != nil {
		return PlanFile{}, err
	}
	if files[planRecord] == nil {
		return PlanFile{}, fmt.Errorf("the zip has no %s: it is not a Lamp Fern plan", planRecord)
	}
	text, err := unpack(ctx, files[planRecord], maxPlanRecord)
	if err != nil {
		return PlanFile{}, fmt.Errorf("the %s in the zip is damaged or larger than %d MB", planRecord, maxPlanRecord>>20)
	}
	p, err := readPlanRecord(text)
	p.files = files
	return p, err
}

func readPlanRecord(text []byte) (PlanFile, error) {
	var f planZip
	switch err := json.Unmarshal(text, &f); {
	case err != nil:
		return PlanFile{}, errors.New("the plan in the file is incomplete: save it again")
	case f.Format != PlanFormat:
		return PlanFile{}, fmt.Errorf("the file is not a Lamp Fern plan: it does not begin with the format %q", PlanFormat)
	case f.Version != PlanFileVersion:
		return PlanFile{}, fmt.Errorf("the plan file is version %d, and this program reads versions 1 and %d", f.Version, PlanFileVersion)
	case f.Plan.Name == "":
		return PlanFile{}, errors.New("the plan in the file has no name: give it one and try again")
	case len(f.Materials) > maxTried:
		return PlanFile{}, fmt.Errorf("the plan in the file has more than %d materials", maxTried)
	}
	p := f.Plan
	p.Photos, p.Meshes = f.Photos, f.Meshes
	numbers, names := map[uint]bool{}, map[string]bool{}
	for _, r := range f.Materials {
		m, err := r.material()
		if err != nil {
			return PlanFile{}, fmt.Errorf("the material %q in the file is incomplete: %w", shorten(r.Name), err)
		}
		if numbers[r.Number] || names[m.Name] || r.Number == 0 {
			return PlanFile{}, fmt.Errorf("the material %q is in the file twice, or without a number", m.Name)
		}
		m.Lots = nil
		numbers[r.Number], names[m.Name] = true, true
		p.Materials = append(p.Materials, PlanMaterial{r.Number, m})
	}
	return p, nil
}

// Content returns the bytes of a photo or a mesh of the file, at most so many.
// ok is false when the file does not hold it.
func (p PlanFile) Content(ctx context.Context, f ShelfPhoto, most int64) (data []byte, ok bool) {
	z := p.files[f.File]
	if z == nil {
		return nil, false
	}
	data, err := unpack(ctx, z, most)
	return data, err == nil
}

// file is what version 1 said, as version 2 says it.
func (p Plan) file() (PlanFile, error) {
	out := PlanFile{Name: p.Name, Craft: p.Craft, Sections: map[string]PlanSection{}}
	number := map[string]uint{}
	for i, m := range p.Materials {
		number[m.Name] = uint(i + 1)
		out.Materials = append(out.Materials, PlanMaterial{uint(i + 1), m})
	}
	of := func(name string) any {
		if n, known := number[name]; known {
			return n
		}
		return nil
	}
	// A colour is one of the file's materials when the name is; or it may be one of
	// the shelf's.
	named := func(c PlanColour) uint {
		if n, known := number[c.Name]; known {
			return n
		}
		n := uint(len(number) + 1)
		number[c.Name] = n
		out.Elsewhere = append(out.Elsewhere, PlanMaterial{n, material.Material{Name: c.Name, Colour: colour.Lab{L: c.L, A: c.A, B: c.B}}})
		return n
	}
	type doc = map[string]any
	var entries, fills, scraps, combinations, aside, ramps []doc
	for _, c := range p.Palette {
		e := doc{"key": c.Key, "material_id": of(c.Material)}
		if c.Free != nil {
			e["material_id"], e["name"], e["l"], e["a"], e["b"] = nil, c.Free.Name, c.Free.L, c.Free.A, c.Free.B
		}
		entries = append(entries, e)
	}
	for part, key := range p.Fills {
		fills = append(fills, doc{"part": part, "entry_key": key})
	}
	for i, s := range p.Scraps {
		scraps = append(scraps, doc{"key": i + 1, "name": s.Name, "l": s.L, "a": s.A, "b": s.B, "uncertainty": s.Uncertainty})
	}
	colours := func(all []PlanColour) (list []doc) {
		for i, c := range all {
			list = append(list, doc{"key": i + 1, "name": c.Name, "l": c.L, "a": c.A, "b": c.B})
		}
		return list
	}
	for i, t := range p.Combinations {
		var cards []doc
		for _, c := range t.Cards {
			cards = append(cards, doc{"material_id": named(c), "name": c.Name, "l": c.L, "a": c.A, "b": c.B})
		}
		combinations = append(combinations, doc{"key": i + 1, "scheme": t.Scheme, "remark": t.Remark, "cards": cards})
	}
	run := doc{}
	if r := p.Run; r != nil {
		for _, a := range r.Aside {
			token := a.Token
			if token == "" { // a material
				token = fmt.Sprintf("m%d", named(a.PlanColour))
			}
			aside = append(aside, doc{"token": token, "name": a.Name, "reason": a.Reason, "l": a.L, "a": a.A, "b": a.B})
		}
		run = doc{"source": r.Source, "family": r.Family, "kind": r.Kind, "text": r.Text, "steps": r.Steps, "start": r.Start, "seen": r.Seen,
			"aside": aside}
	}
	for i, r := range p.Ramps {
		ramps = append(ramps, doc{"key": i + 1, "name": r.Name, "middle": doc{"name": r.Middle.Name, "l": r.Middle.L, "a": r.Middle.A,
			"b": r.Middle.B},
			"recipe": r.Recipe, "band": r.Band, "shift": r.Shift, "balance": r.Balance})
	}
	var colourways []doc
	for i, c := range p.Colourways {
		colourways = append(colourways, doc{"key": i + 1, "name": c.Name, "remark": c.Remark, "favourite": c.Favourite, "fills": c.Fills})
	}
	docs := map[string]any{
		"tray":       doc{"entries": entries, "lead_id": of(p.Lead), "lead_key": p.LeadCard},
		"piece":      doc{"template": p.Piece, "settings": p.Settings, "fills": fills, "pinned": p.Pinned, "last": p.Last, "groups": p.Groups},
		"colourways": doc{"colourways": colourways},
		"notes":      doc{"dismissed": p.Dismissed, "remarks": p.Remarks},
		"wanted":     doc{"wishes": colours(p.Wishes), "targets": colours(p.Targets)},
		"scraps":     doc{"scraps": scraps},
		"wheel": doc{"scheme": p.Scheme, "neighbours": p.Neighbours, "one_sided": p.OneSided, "centred": p.Centred, "wide": p.Wide,
			"turn":  p.Turn,
			"wheel": p.Wheel, "school": p.School, "clear_pairs": p.ClearPairs, "from_boldest": p.FromBoldest, "nearest": p.Nearest, "adjusted": p.Adjusted,
			"combinations": combinations},
		"values": doc{"run": run, "ramps": ramps},
		"brief":  doc{"purpose": p.Purpose},
	}
	if p.Brief != nil {
		docs["brief"] = doc{"purpose": p.Purpose, "brief": p.Brief}
	}
	if p.Own != nil {
		docs["input"] = p.Own
	}
	for name, d := range docs {
		text, err := json.Marshal(d)
		if err != nil {
			return PlanFile{}, fmt.Errorf("the section %s of the plan in the file: %w", name, err)
		}
		out.Sections[name] = PlanSection{1, text}
	}
	return out, nil
}
