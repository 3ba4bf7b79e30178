package quantity

import (
	"fmt"
	"math"
)

// PatternPart is a part of a pattern: its area and its box along and across the grain.
type PatternPart struct {
	Name   string   `json:"name" in:"name of the part"`
	Area   float64  `json:"area_cm2" in:"area; over 0 to 100000; unit cm²"`
	Length float64  `json:"length_cm" in:"length along the grain; over 0 to 1000; unit cm"`
	Width  float64  `json:"width_cm" in:"width across the grain; over 0 to 400; unit cm"`
	Count  *float64 `json:"count" in:"number of parts; 0 to 1000; whole; or 1"`
}

// ClothByPartsIn is a garment by the areas of its pattern parts, and its cloth.
type ClothByPartsIn struct {
	Parts         []PatternPart `json:"parts" in:"list of pattern parts"`
	FabricWidth   float64       `json:"fabric_width_cm" in:"full width of the fabric; 20 to 400; unit cm; usual 90 160"`
	Selvedge      *float64      `json:"selvedge_cm" in:"selvedge; 0 to 10; unit cm; or 1.5"`
	EfficiencyPct *float64      `json:"efficiency_pct" in:"part of the cloth that becomes pattern parts; 30 to 100; unit %; usual 65 90; or 75"`
	Nap           bool          `json:"nap" in:"nap"`
	NapPct        *float64      `json:"nap_pct" in:"extra for nap; 0 to 50; unit %; usual 10 25; or 15"`
	Repeat        float64       `json:"repeat_cm" in:"pattern repeat; 0 to 200; unit cm; or 0"`
	MatchPieces   float64       `json:"match_pieces" in:"number of parts that must match; 0 to 100; whole; or 0"`
	ShrinkPct     *float64      `json:"shrink_pct" in:"shrinkage; 0 to 30; unit %; usual 0 10; or 5"`
	SoldIn        string        `json:"sold_in" in:"purchase step; one m yd; or m"`
}

// ClothByPartsOut is a length of cloth before and after it is washed, and as it is bought.
type ClothByPartsOut struct {
	Exact struct {
		Area        float64 `json:"area_cm2"`
		Length      float64 `json:"length_cm"`
		LengthToBuy float64 `json:"length_to_buy_cm"`
	} `json:"unrounded"`
	Rounded struct {
		Buy     float64 `json:"buy"`
		BuyUnit string  `json:"buy_unit"`
	} `json:"rounded"`
	Notes
}

// Lengths that cloth is sold by, in cm.
const (
	tenth  = 10.0  // of a metre
	eighth = 11.43 // of a yard
)

// garmentBuy is a length in cm as it is bought, and its unit.
func (n *Notes) garmentBuy(length float64, soldIn string) (buy float64, unit string) {
	if buy, unit = upInt(length/tenth)*.1, "m"; soldIn == "yd" {
		buy, unit = upInt(length/eighth)*.125, "yd"
	}
	n.sold("%s %s", buy, unit)
	return buy, unit
}

// shrunk is the length to buy of a length before it is washed.
func (n *Notes) shrunk(length, percent float64) float64 {
	buy := length / (1 - percent/100)
	n.say("/ (1 − %s/100) = %s cm", percent, buy)
	return buy
}

// usableWidth is the width between the selvedges.
func usableWidth(full, selvedge float64) (float64, error) {
	u := full - 2*selvedge
	if u <= fit {
		return 0, fault("contradiction", "selvedge_cm", "The selvedges are as wide as the cloth.")
	}
	return u, nil
}

// ClothByParts works the length of a garment's cloth out by the areas of its parts.
func ClothByParts(in ClothByPartsIn) (out ClothByPartsOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	u, err := usableWidth(in.FabricWidth, *in.Selvedge)
	if err != nil {
		return out, err
	}
	area, longest := 0.0, 0.0
	for i, p := range in.Parts {
		switch {
		case p.Area > p.Length*p.Width+fit:
			return out, fault("contradiction", fmt.Sprintf("parts[%d].area_cm2", i), "%s: the area is larger than length × width.", p.Name)
		case *p.Count == 0:
			continue
		case p.Width > u+fit:
			return out, fault("does_not_fit", fmt.Sprintf("parts[%d].width_cm", i),
				"%s is %s cm across and the cloth has %s cm; it cannot be turned because of the grain.", p.Name, p.Width, u)
		}
		area += p.Area * *p.Count
		longest = math.Max(longest, p.Length)
	}
	length := area / (u * *in.EfficiencyPct / 100)
	out.say("area %s cm²; usable width %s cm; %s / (%s × %s%%) = %s cm", area, u, area, u, in.EfficiencyPct, length)
	if in.Nap {
		length *= 1 + *in.NapPct/100
		out.say("nap, %s%% more = %s cm", in.NapPct, length)
	}
	if length < longest-fit {
		length = longest
		out.warn(LongestPartRules)
		out.say("the longest part needs %s cm", longest)
	}
	if area > 0 && in.MatchPieces*in.Repeat > 0 {
		length += in.MatchPieces * in.Repeat
		out.say("matching %s × %s more = %s cm", in.MatchPieces, in.Repeat, length)
	}
	out.Exact.Area, out.Exact.Length = area, length
	out.Exact.LengthToBuy = out.shrunk(length, *in.ShrinkPct)
	out.Rounded.Buy, out.Rounded.BuyUnit = out.garmentBuy(out.Exact.LengthToBuy, in.SoldIn)
	return out, nil
}

// ClothByTableIn is a garment by the table on its pattern's envelope, and its cloth.
type ClothByTableIn struct {
	Table       []EnvelopeRow `json:"table" in:"table of the envelope"`
	Size        string        `json:"size" in:"size"`
	FabricWidth float64       `json:"fabric_width_cm" in:"full width of the fabric; 20 to 400; unit cm; usual 90 160"`
	Nap         bool          `json:"nap" in:"nap"`
	TableHasNap bool          `json:"table_has_nap" in:"nap of the table"`
	NapPct      *float64      `json:"nap_pct" in:"extra for nap; 0 to 50; unit %; usual 10 25; or 15"`
	ShrinkPct   *float64      `json:"shrink_pct" in:"shrinkage; 0 to 30; unit %; usual 0 10; or 5"`
	SoldIn      string        `json:"sold_in" in:"purchase step; one m yd; or m"`
}

// EnvelopeRow is the lengths of the sizes for one width of cloth.
type EnvelopeRow struct {
	Width   float64 `json:"width_cm" in:"fabric width; 20 to 400; unit cm"`
	Lengths Amounts `json:"lengths_m" in:"length; over 0 to 50; unit m"`
}

// ClothByTableOut is a length of cloth before and after it is washed, as it is bought, and the row
// it was taken from.
type ClothByTableOut struct {
	Exact struct {
		Length      float64 `json:"length_cm"`
		LengthToBuy float64 `json:"length_to_buy_cm"`
	} `json:"unrounded"`
	Rounded struct {
		RowWidth float64 `json:"row_width_cm"`
		Buy      float64 `json:"buy"`
		BuyUnit  string  `json:"buy_unit"`
	} `json:"rounded"`
	Notes
}

// ClothByTable takes the length of a garment's cloth from the widest row that the cloth is as wide
// as.
func ClothByTable(in ClothByTableIn) (out ClothByTableOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	var row EnvelopeRow
	for _, r := range in.Table {
		if r.Width <= in.FabricWidth+fit && r.Width > row.Width {
			row = r
		}
	}
	if row.Width == 0 {
		return out, fault("does_not_fit", "fabric_width_cm", "The pattern gives no length for cloth as narrow as %s cm.", in.FabricWidth)
	}
	metres, there := row.Lengths.of(in.Size)
	if !there {
		return out, fault("unknown_choice", "size", "%s is not one of the sizes in the row for %s cm.", in.Size, row.Width)
	}
	length := 100 * metres
	out.say("row %s cm, size %s: %s cm", row.Width, in.Size, length)
	if in.Nap && !in.TableHasNap {
		length *= 1 + *in.NapPct/100
		out.say("nap, %s%% more = %s cm", in.NapPct, length)
	}
	if row.Width < in.FabricWidth-fit {
		out.warn("narrower_row_used")
	}
	out.Exact.Length, out.Rounded.RowWidth = length, row.Width
	out.Exact.LengthToBuy = out.shrunk(length, *in.ShrinkPct)
	out.Rounded.Buy, out.Rounded.BuyUnit = out.garmentBuy(out.Exact.LengthToBuy, in.SoldIn)
	return out, nil
}

// BiasIn is a length of bias binding, and the cloth it is cut from.
type BiasIn struct {
	Length      float64  `json:"length_cm" in:"length of binding; 0 to 100000; unit cm"`
	Strip       *float64 `json:"strip_cm" in:"cut width of the strip; 1 to 30; unit cm; usual 2.5 6; or 4"`
	WastePct    *float64 `json:"waste_pct" in:"joins and trimming; 0 to 50; unit %; usual 5 20; or 10"`
	FabricWidth float64  `json:"fabric_width_cm" in:"full width of the fabric; 20 to 400; unit cm; usual 90 160"`
	Selvedge    *float64 `json:"selvedge_cm" in:"selvedge; 0 to 10; unit cm; or 1.5"`
	SoldIn      string   `json:"sold_in" in:"purchase step; one m yd; or m"`
}

// BiasOut is the squares that the strips are cut from, and the cloth that these take.
type BiasOut struct {
	Exact struct {
		Area float64 `json:"area_cm2"`
		Side float64 `json:"side_cm"`
	} `json:"unrounded"`
	Rounded struct {
		Squares float64 `json:"squares"`
		Square  float64 `json:"square_cm"`
		Length  float64 `json:"length_cm"`
		Buy     float64 `json:"buy"`
		BuyUnit string  `json:"buy_unit"`
	} `json:"rounded"`
	Notes
}

// mostSquares bounds the squares that bias binding is cut from.
const mostSquares = 10000

// Bias works out the squares of cloth that a continuous bias strip is cut from.
func Bias(in BiasIn) (out BiasOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	u, err := usableWidth(in.FabricWidth, *in.Selvedge)
	if err != nil {
		return out, err
	}
	strip := *in.Strip
	area := in.Length * strip * (1 + *in.WastePct/100)
	out.Exact.Area = area
	if area == 0 {
		out.Rounded.Buy, out.Rounded.BuyUnit = out.garmentBuy(0, in.SoldIn)
		return out, nil
	}
	narrow := fault("does_not_fit", "fabric_width_cm", "The cloth is too narrow for a square with strips of %s cm.", strip)
	squares := 1.0
	for up(math.Sqrt(area/squares), 1) > u+fit {
		if squares++; squares > mostSquares {
			return out, narrow
		}
	}
	exact := math.Sqrt(area / squares)
	side := math.Max(up(exact, 1), up(strip*math.Sqrt2, 1))
	if side > u+fit {
		return out, narrow
	}
	across := downInt(u / side)
	length := upInt(squares/across) * side
	out.Exact.Side = exact
	r := &out.Rounded
	r.Squares, r.Square, r.Length = squares, side, length
	out.say("area %s × %s with %s%% more = %s cm²; %s of side %s, cut %s cm; %s across: %s cm",
		in.Length, strip, in.WastePct, area, many(squares, "square"), exact, side, across, length)
	r.Buy, r.BuyUnit = out.garmentBuy(length, in.SoldIn)
	return out, nil
}

// ThreadIn is what is sewn, in metres of seam.
type ThreadIn struct {
	Seams    []Seam   `json:"seams" in:"list of seams"`
	WastePct *float64 `json:"waste_pct" in:"tails, bobbins, test rows; 0 to 100; unit %; usual 10 25; or 15"`
	Reel     *float64 `json:"reel_m" in:"thread on one reel; 1 to 20000; unit m; or 100"`
}

// Seam is a length of seam in one stitch.
type Seam struct {
	Length float64  `json:"length_m" in:"seam length; 0 to 10000; unit m"`
	Stitch string   `json:"stitch" in:"stitch; one lockstitch zigzag chainstitch overlock3 overlock4 coverstitch"`
	Rows   *float64 `json:"rows" in:"rows of stitching; 1 to 20; whole; or 1"`
}

// ThreadOut is metres of thread without and with what is lost, and reels.
type ThreadOut struct {
	Exact struct {
		Thread    float64 `json:"thread_m"`
		WithWaste float64 `json:"thread_with_waste_m"`
	} `json:"unrounded"`
	Rounded struct {
		Thread float64 `json:"thread_m"`
		Reels  float64 `json:"reels"`
	} `json:"rounded"`
	Notes
}

// threadRatios are metres of all threads together to a metre of seam.
var threadRatios = map[string]float64{"lockstitch": 2.5, "zigzag": 7, "chainstitch": 5.5, "overlock3": 14, "overlock4": 18,
	"coverstitch": 18}

// Thread works out the thread of seams.
func Thread(in ThreadIn) (out ThreadOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	sum := 0.0
	for _, s := range in.Seams {
		ratio := threadRatios[s.Stitch]
		m := s.Length * *s.Rows * ratio
		sum += m
		out.say("%s m × %s × %s (%s) = %s m", s.Length, s.Rows, ratio, s.Stitch, m)
	}
	with := sum * (1 + *in.WastePct/100)
	out.Exact.Thread, out.Exact.WithWaste = sum, with
	out.Rounded.Thread, out.Rounded.Reels = upInt(with), upInt(with / *in.Reel)
	out.say("%s with %s%% more = %s m", sum, in.WastePct, with)
	out.sold("%s of %s m", many(out.Rounded.Reels, "reel"), in.Reel)
	return out, nil
}
