package quantity

import (
	"fmt"
	"math"
)

// CardLayersIn is a card of layers, each smaller by the border left showing, in mm.
type CardLayersIn struct {
	CardW    float64  `json:"card_w_mm" in:"front width of the card; 10 to 2000; unit mm"`
	CardH    float64  `json:"card_h_mm" in:"front height of the card; 10 to 2000; unit mm"`
	Count    float64  `json:"count" in:"number of cards; 0 to 1000000; whole"`
	Layers   []string `json:"layers" in:"colours of the layers"`
	RevealMM *float64 `json:"reveal_mm" in:"border left showing; 0 to 100; unit mm; usual 1.5 8; or 3"`
	Folded   *bool    `json:"folded" in:"fold of the base; or yes"`
}

// CardLayersOut is the pieces of each layer.
type CardLayersOut struct {
	Exact   struct{} `json:"unrounded"`
	Rounded struct {
		Pieces         []CardPiece `json:"pieces"`
		PiecesByColour ByColour    `json:"pieces_by_colour"`
	} `json:"rounded"`
	Notes
}

// CardPiece is one layer's piece in mm, and how many of it.
type CardPiece struct {
	Colour string  `json:"colour"`
	W      float64 `json:"w_mm"`
	H      float64 `json:"h_mm"`
	Count  float64 `json:"count"`
}

// CardLayers sizes the layers of a card; a folded base is twice as wide.
func CardLayers(in CardLayersIn) (out CardLayersOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	by := ByColour{}
	for k, name := range in.Layers {
		less := 2 * float64(k) * *in.RevealMM
		w, h := in.CardW-less, in.CardH-less
		if math.Min(w, h) <= fit {
			return out, fault("does_not_fit", fmt.Sprintf("layers[%d]", k),
				"Layer %s would have no size left. Use fewer layers or a smaller border.", float64(k+1))
		}
		if k == 0 && *in.Folded {
			w *= 2
		}
		out.Rounded.Pieces = append(out.Rounded.Pieces, CardPiece{name, w, h, in.Count})
		by[name] += in.Count
		out.say("layer %s %s: %s × %s mm, %s pieces", float64(k), name, w, h, in.Count)
	}
	out.Rounded.PiecesByColour = by
	return out, nil
}

// SheetsIn is what is cut of sheets, in mm.
type SheetsIn struct {
	SheetW     *float64     `json:"sheet_w_mm" in:"sheet width; 10 to 3000; unit mm; or 210"`
	SheetH     *float64     `json:"sheet_h_mm" in:"sheet height; 10 to 3000; unit mm; or 297"`
	Margin     float64      `json:"margin_mm" in:"margin; 0 to 100; unit mm; or 0"`
	Gutter     float64      `json:"gutter_mm" in:"gap between pieces; 0 to 50; unit mm; or 0"`
	GrainFixed bool         `json:"grain_fixed" in:"grain of the pieces"`
	SpoilPct   *float64     `json:"spoil_pct" in:"spoilage; 0 to 100; unit %; usual 2 10; or 5"`
	Pieces     []SheetPiece `json:"pieces" in:"list of pieces"`
	PackSheets *float64     `json:"pack_sheets" in:"number of sheets in a pack; 1 to 10000; whole; or 1"`
}

// SheetPiece is a size that is cut so often.
type SheetPiece struct {
	W     float64 `json:"w_mm" in:"width; over 0 to 3000; unit mm"`
	H     float64 `json:"h_mm" in:"height; over 0 to 3000; unit mm"`
	Count float64 `json:"count" in:"number of pieces; 0 to 1000000; whole"`
}

// SheetsOut is the sheets of each size and of all.
type SheetsOut struct {
	Exact   struct{} `json:"unrounded"`
	Rounded struct {
		Lines  []SheetLine `json:"lines"`
		Sheets float64     `json:"sheets"`
		Packs  float64     `json:"packs"`
	} `json:"rounded"`
	Notes
}

// SheetLine is how one size is cut.
type SheetLine struct {
	PerSheet float64 `json:"per_sheet"`
	Cut      float64 `json:"cut"`
	Sheets   float64 `json:"sheets"`
}

// Sheets counts the sheets that pieces are cut of, each size from sheets of its own.
func Sheets(in SheetsIn) (out SheetsOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	w, h, gap := *in.SheetW-2*in.Margin, *in.SheetH-2*in.Margin, in.Gutter
	if math.Min(w, h) <= fit {
		return out, fault("contradiction", "margin_mm", "The margins use up the sheet.")
	}
	total := 0.0
	for i, p := range in.Pieces {
		x, y := p.W, p.H
		per := downInt((w+gap)/(x+gap)) * downInt((h+gap)/(y+gap))
		if !in.GrainFixed {
			per = math.Max(per, downInt((w+gap)/(y+gap))*downInt((h+gap)/(x+gap)))
		}
		if per == 0 {
			return out, fault("does_not_fit", fmt.Sprintf("pieces[%d].w_mm", i), "A piece %s × %s mm is larger than the printable sheet.", x, y)
		}
		cut := upInt(p.Count * (1 + *in.SpoilPct/100))
		sheets := upInt(cut / per)
		total += sheets
		out.Rounded.Lines = append(out.Rounded.Lines, SheetLine{per, cut, sheets})
		out.say("%s × %s: %s per sheet; %s, with spoilt ones %s; %s", x, y, per, p.Count, cut, many(sheets, "sheet"))
	}
	out.Rounded.Sheets, out.Rounded.Packs = total, upInt(total / *in.PackSheets)
	out.sold("%s: %s of %s", many(total, "sheet"), many(out.Rounded.Packs, "pack"), in.PackSheets)
	return out, nil
}

// MarkersIn is what is coloured in, in cm².
type MarkersIn struct {
	Area     float64  `json:"area_cm2" in:"area; 0 to 10000000; unit cm²"`
	Coats    *float64 `json:"coats" in:"number of coats; 0 to 20; whole; or 1"`
	Coverage *float64 `json:"coverage_cm2" in:"area one marker covers; 1 to 10000000; unit cm²; or 5000"`
	WastePct *float64 `json:"waste_pct" in:"allowance; 0 to 100; unit %; usual 5 25; or 10"`
}

// MarkersOut is how many markers are used up.
type MarkersOut struct {
	Exact struct {
		Markers float64 `json:"markers"`
	} `json:"unrounded"`
	Rounded struct {
		Markers float64 `json:"markers"`
	} `json:"rounded"`
	Notes
}

// Markers works out the markers that an area takes.
func Markers(in MarkersIn) (out MarkersOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	markers := in.Area * *in.Coats * (1 + *in.WastePct/100) / *in.Coverage
	out.Exact.Markers, out.Rounded.Markers = markers, upInt(markers)
	out.say("%s × %s with %s%% more / %s = %s of one", in.Area, in.Coats, in.WastePct, in.Coverage, markers)
	out.sold("%s", many(upInt(markers), "marker"))
	return out, nil
}
