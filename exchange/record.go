package exchange

import (
	"encoding/json"
	"fmt"
	"io"

	"lampfern/core/colour"
	"lampfern/core/material"
)

// record is a material as JSON. Colour is there for the eye; L, A and B count.
type record struct {
	Name         string          `json:"name"`
	Kind         string          `json:"kind"`
	Colour       string          `json:"colour"`
	L            float64         `json:"L"`
	A            float64         `json:"a"`
	B            float64         `json:"b"`
	Source       string          `json:"source"`
	Uncertainty  float64         `json:"uncertainty"`
	Finish       string          `json:"finish"`
	Reference    string          `json:"reference,omitempty"`
	Supplier     string          `json:"supplier,omitempty"`
	Lot          string          `json:"lot,omitempty"`
	Discontinued bool            `json:"discontinued,omitempty"`
	Remark       string          `json:"remark,omitempty"`
	Size         string          `json:"size,omitempty"`
	Pack         float64         `json:"pack,omitempty"`
	Repeat       float64         `json:"repeat,omitempty"`
	Further      []recordFurther `json:"further,omitempty"`
	Lots         []recordLot     `json:"lots,omitempty"`
	Picture      *recordPicture  `json:"picture,omitempty"`
	Spectrum     []float64       `json:"spectrum,omitempty"` // from 380 to 730 nm every 10 nm
	Dose         *material.Dose  `json:"dose,omitempty"`
}

type recordFurther struct {
	Role     string  `json:"role"`
	Colour   string  `json:"colour"`
	L        float64 `json:"L"`
	A        float64 `json:"a"`
	B        float64 `json:"b"`
	Coverage float64 `json:"coverage,omitempty"`
}

type recordLot struct {
	Name   string      `json:"name"`
	OnHand float64     `json:"on_hand"`
	Unit   string      `json:"unit"`
	Price  float64     `json:"price,omitempty"`
	Place  string      `json:"place,omitempty"`
	State  string      `json:"state"`
	Lab    *[3]float64 `json:"lab,omitempty"`
}

type recordPicture struct {
	Photo string     `json:"photo"`
	Box   [4]float64 `json:"box"`
	Wide  float64    `json:"wide,omitempty"`
}

func recordOf(m material.Material) record {
	r := record{Name: m.Name, Kind: m.Kind, Colour: m.Colour.Hex(), L: m.Colour.L, A: m.Colour.A, B: m.Colour.B, Source: m.Source,
		Uncertainty: m.Uncertainty,
		Finish:      m.Finish, Reference: m.Reference, Supplier: m.Supplier, Lot: m.Lot, Discontinued: m.Discontinued, Remark: m.Remark,
		Size: m.Size, Pack: m.Pack, Repeat: m.Repeat}
	for _, f := range m.Further {
		r.Further = append(r.Further, recordFurther{f.Role, f.Colour.Hex(), f.Colour.L, f.Colour.A, f.Colour.B, f.Coverage})
	}
	for _, l := range m.Lots {
		out := recordLot{Name: l.Name, OnHand: l.OnHand, Unit: l.Unit, Price: l.Price, Place: l.Place, State: l.State}
		if c := l.Colour; c != nil {
			out.Lab = &[3]float64{c.L, c.A, c.B}
		}
		r.Lots = append(r.Lots, out)
	}
	if m.Spectrum != (colour.Spectrum{}) {
		r.Spectrum = m.Spectrum[:]
	}
	if m.Dose != (material.Dose{}) {
		r.Dose = &m.Dose
	}
	if p := m.Picture; p != nil {
		r.Picture = &recordPicture{p.Photo, [4]float64{p.X, p.Y, p.W, p.H}, p.Wide}
	}
	return r
}

// material is the material of a record, sound, or what is wrong with it.
func (r record) material() (material.Material, error) {
	m := material.Material{Name: r.Name, Kind: r.Kind, Reference: r.Reference, Supplier: r.Supplier, Lot: r.Lot, Finish: r.Finish,
		Colour: colour.Lab{L: r.L, A: r.A, B: r.B}, Source: r.Source, Uncertainty: r.Uncertainty, Discontinued: r.Discontinued, Remark: r.Remark,
		Size: r.Size, Pack: r.Pack, Repeat: r.Repeat}
	for _, f := range r.Further {
		m.Further = append(m.Further, material.Further{Role: f.Role, Colour: colour.Lab{L: f.L, A: f.A, B: f.B}, Coverage: f.Coverage})
	}
	for _, l := range r.Lots {
		out := material.Lot{Name: l.Name, OnHand: l.OnHand, Unit: l.Unit, Price: l.Price, Place: l.Place, State: l.State}
		if l.Lab != nil {
			out.Colour = &colour.Lab{L: l.Lab[0], A: l.Lab[1], B: l.Lab[2]}
		}
		m.Lots = append(m.Lots, out)
	}
	if p := r.Picture; p != nil {
		m.Picture = &material.Picture{Photo: p.Photo, X: p.Box[0], Y: p.Box[1], W: p.Box[2], H: p.Box[3], Wide: p.Wide}
	}
	if r.Dose != nil {
		m.Dose = *r.Dose
	}
	if len(r.Spectrum) > 0 {
		var err error
		if m.Spectrum, err = colour.OfBands(r.Spectrum); err != nil {
			return m, err
		}
	}
	if p := m.Tidy(); p != nil {
		return m, p
	}
	return m, nil
}

func writeJSON(w io.Writer, v any, what string) error {
	enc := json.NewEncoder(w)
	enc.SetIndent("", "  ")
	enc.SetEscapeHTML(false)
	if err := enc.Encode(v); err != nil {
		return fmt.Errorf("writing the %s: %w", what, err)
	}
	return nil
}
