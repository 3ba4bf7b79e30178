package quantity

import (
	"cmp"
	"math"
	"slices"
	"strconv"
	"strings"
)

// quiltUnit is sizes of quilting, in inches or in centimetres.
type quiltUnit struct {
	seam, step, wof, fatWide, fatHigh, strip, mitre, allowance, overhang, backing, thin float64
}

var quiltUnits = map[string]quiltUnit{
	"in": {.25, .125, 42, 21, 18, 2.5, 4, 10, 4, .5, .5},
	"cm": {.75, .1, 106, 53, 50, 6.5, 10, 25, 10, 1.25, 1.25},
}

// shapeNames are what quilters call the shapes that are cut.
var shapeNames = map[string]string{"square": "squares", "rectangle": "rectangles", "hst": "half-square triangles",
	"hst8": "half-square triangles, eight at a time",
	"qst":  "quarter-square triangles", "goose": "flying geese", "sky": "sky triangles", "goose_flip": "flying geese, flipped",
	"sky_flip":     "sky squares, flipped",
	"setting_side": "side setting triangles", "setting_corner": "corner setting triangles"}

// called is what so many of the shape are called.
func (s QuiltShape) called() string {
	name := shapeNames[s.Shape]
	if s.Count != 1 {
		return name
	}
	first, rest, _ := strings.Cut(name, ",")
	first = strings.TrimSuffix(strings.Replace(first, "geese", "goose", 1), "s")
	if rest != "" {
		first += "," + rest
	}
	return first
}

// cloth is a length of fabric as it is bought, and its unit.
func cloth(length float64, unit string) (buy float64, sold string) {
	if unit == "cm" {
		return upInt(length/10) * .1, "m"
	}
	return upInt(length/4.5) * .125, "yd"
}

// Bought is a length of fabric as it is bought.
type Bought struct {
	Buy     float64 `json:"buy"`
	BuyUnit string  `json:"buy_unit"`
}

// buyCloth is a length with its allowance as it is bought.
func (n *Notes) buyCloth(length, with float64, unit string) Bought {
	buy, sold := cloth(with, unit)
	n.say("%s %s; with the allowance %s", length, unit, with)
	n.sold("%s %s", buy, sold)
	return Bought{buy, sold}
}

// QuiltShape is a shape of a finished size that is cut so often; sizes are in the unit of the call.
type QuiltShape struct {
	Shape     string   `json:"shape" in:"shape; one square rectangle hst hst8 qst goose sky goose_flip sky_flip setting_side setting_corner"`
	FinishedW float64  `json:"finished_w" in:"finished width; over 0 to 200; length"`
	FinishedH *float64 `json:"finished_h" in:"finished height; over 0 to 200; length"`
	Count     float64  `json:"count" in:"number of finished units; 0 to 100000; whole"`
}

// cutPiece is how one shape is cut.
type cutPiece struct {
	exactW, exactH float64
	w, h           float64 // on the ruler
	pieces         float64
	offRuler       bool
}

// cut is how a shape of a finished size is cut (the sizes follow from a seam at the sides of the
// triangles; two, four or eight are sewn at a time).
func (s QuiltShape) cut(at string, u quiltUnit) (cutPiece, error) {
	w, n, a := s.FinishedW, s.Count, u.seam
	h := w
	switch s.Shape {
	case "rectangle":
		if s.FinishedH == nil {
			return cutPiece{}, fault("missing", at+"finished_h", "Please give the finished height.")
		}
		h = *s.FinishedH
	case "goose", "sky", "goose_flip", "sky_flip":
		if h = w / 2; s.FinishedH != nil && math.Abs(*s.FinishedH-h) > 1e-6 {
			return cutPiece{}, fault("contradiction", at+"finished_h", "A flying goose is twice as wide as high: leave the height empty or give %s.",
				h)
		}
	default:
		if s.FinishedH != nil && math.Abs(*s.FinishedH-w) > 1e-6 {
			return cutPiece{}, fault("contradiction", at+"finished_h", "This shape is square: leave the height empty.")
		}
	}
	half, quarter := up(a*(2+math.Sqrt2), u.step), up(a*(2+2*math.Sqrt2), u.step)
	var p cutPiece
	square := func(side, pieces float64) { p.exactW, p.exactH, p.pieces = side, side, pieces }
	switch s.Shape {
	case "square":
		square(w+2*a, n)
	case "rectangle", "goose_flip":
		p.exactW, p.exactH, p.pieces = w+2*a, h+2*a, n
	case "hst":
		square(w+half, upInt(n/2))
	case "hst8":
		square(2*(w+half), upInt(n/8))
	case "qst", "goose":
		square(w+quarter, upInt(n/4))
	case "sky":
		square(h+half, 4*upInt(n/4))
	case "sky_flip":
		square(h+2*a, 2*n)
	case "setting_side":
		square(w*math.Sqrt2+quarter, upInt(n/4))
	case "setting_corner":
		square(w/math.Sqrt2+half, upInt(n/2))
	}
	p.w, p.h = up(p.exactW, u.step), up(p.exactH, u.step)
	p.offRuler = s.Shape != "setting_side" && s.Shape != "setting_corner" && (p.w-p.exactW > 1e-6 || p.h-p.exactH > 1e-6)
	return p, nil
}

// CutIn is one shape.
type CutIn struct {
	Unit      string   `json:"unit" in:"unit; one in cm; or in"`
	Shape     string   `json:"shape" in:"shape; one square rectangle hst hst8 qst goose sky goose_flip sky_flip setting_side setting_corner"`
	FinishedW float64  `json:"finished_w" in:"finished width; over 0 to 200; length"`
	FinishedH *float64 `json:"finished_h" in:"finished height; over 0 to 200; length"`
	Count     *float64 `json:"count" in:"number of finished units; 0 to 100000; whole; or 1"`
	Seam      *float64 `json:"seam" in:"seam allowance; over 0 to 1; length; usual .2 .4"`
}

// CutOut is how it is cut.
type CutOut struct {
	Exact struct {
		W float64 `json:"cut_w"`
		H float64 `json:"cut_h"`
	} `json:"unrounded"`
	Rounded struct {
		W      float64 `json:"cut_w"`
		H      float64 `json:"cut_h"`
		Pieces float64 `json:"cut_pieces"`
	} `json:"rounded"`
	Notes
}

// Cut works out the size that one shape is cut in.
func Cut(in CutIn) (out CutOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	u := quiltUnits[in.Unit]
	use(&u.seam, in.Seam)
	p, err := QuiltShape{in.Shape, in.FinishedW, in.FinishedH, *in.Count}.cut("", u)
	if err != nil {
		return out, err
	}
	out.Exact.W, out.Exact.H = p.exactW, p.exactH
	out.Rounded.W, out.Rounded.H, out.Rounded.Pieces = p.w, p.h, p.pieces
	if p.offRuler {
		out.warn("not_on_ruler")
	}
	out.say("%s of finished %s: cut %s × %s %s, %s cut pieces", shapeNames[in.Shape], in.FinishedW, p.w, p.h, in.Unit, p.pieces)
	return out, nil
}

// StripsIn is shapes that are cut of strips across the cloth.
type StripsIn struct {
	Unit           string       `json:"unit" in:"unit; one in cm; or in"`
	Seam           *float64     `json:"seam" in:"seam allowance; over 0 to 1; length; usual .2 .4"`
	WOF            *float64     `json:"wof" in:"usable width of the fabric; 4 to 130; length; usual 38 110"`
	WastePct       *float64     `json:"waste_pct" in:"allowance added to the length; 0 to 100; unit %; usual 5 20; or 10"`
	Directional    bool         `json:"directional" in:"right way up of the print"`
	DirectionalPct *float64     `json:"directional_pct" in:"extra allowance when directional; 0 to 50; unit %; usual 10 25; or 10"`
	RepeatLen      float64      `json:"repeat_len" in:"print repeat along the length; 0 to 60; length; or 0"`
	RepeatWidth    float64      `json:"repeat_width" in:"print repeat across the width; 0 to 60; length; or 0"`
	Lines          []QuiltShape `json:"lines" in:"list of pieces"`
}

// StripsOut is the length of cloth, and how the strips of each line lie.
type StripsOut struct {
	Exact struct {
		Length    float64 `json:"length"`
		WithWaste float64 `json:"length_with_waste"`
	} `json:"unrounded"`
	Rounded struct {
		Lines  []StripLine `json:"lines"`
		Strips float64     `json:"strips"`
		Bought
	} `json:"rounded"`
	Notes
}

// StripLine is how the strips of one line of pieces lie.
type StripLine struct {
	Pieces   float64 `json:"cut_pieces"`
	PerStrip float64 `json:"per_strip"`
	Strips   float64 `json:"strips"`
	High     float64 `json:"strip_height"`
	Along    float64 `json:"along"`
}

func (l StripLine) length() float64 { return l.Strips * l.High }

// strip is the way to lay cut pieces on strips that takes the least length; false where none fits.
func (in StripsIn) strip(p cutPiece, wof float64) (best StripLine, fits bool) {
	ways := [][2]float64{{p.w, p.h}}
	if !in.Directional && in.RepeatLen == 0 && in.RepeatWidth == 0 && p.w != p.h {
		ways = append(ways, [2]float64{p.h, p.w})
	}
	for _, way := range ways {
		x, y := way[0], way[1]
		if x > wof+fit {
			continue
		}
		px, py := x, y
		if in.RepeatLen > 0 {
			py = up(y, in.RepeatLen)
		}
		if in.RepeatWidth > 0 {
			px = up(x, in.RepeatWidth)
		}
		l := StripLine{Pieces: p.pieces, PerStrip: downInt((wof-x)/px) + 1, High: py, Along: x}
		l.Strips = upInt(p.pieces / l.PerStrip)
		if !fits || l.length() < best.length()-fit || math.Abs(l.length()-best.length()) <= fit && l.High < best.High-fit {
			best, fits = l, true
		}
	}
	return best, fits
}

// Strips works out the cloth of shapes that are cut of strips across its width.
func Strips(in StripsIn) (out StripsOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	u := quiltUnits[in.Unit]
	use(&u.seam, in.Seam)
	use(&u.wof, in.WOF)
	total := 0.0
	for i, v := range in.Lines {
		at := "lines[" + strconv.Itoa(i) + "]."
		p, err := v.cut(at, u)
		if err != nil {
			return out, err
		}
		if p.offRuler {
			out.warn("not_on_ruler")
		}
		best, fits := in.strip(p, u.wof)
		if !fits {
			return out, fault("does_not_fit", at+"finished_w",
				"A piece cut %s × %s is wider than the cloth (%s). Join it from two or use wider cloth.", p.w, p.h, u.wof)
		}
		total += best.length()
		out.Rounded.Strips += best.Strips
		out.Rounded.Lines = append(out.Rounded.Lines, best)
		out.say("%s %s: cut %s × %s %s, %s; %s per strip (%s along the strip in %s); %s of %s = %s", v.Count, v.called(), p.w, p.h,
			in.Unit,
			many(best.Pieces, "cut piece"), best.PerStrip, best.Along, u.wof, many(best.Strips, "strip"), best.High, best.length())
	}
	if total > 0 && in.RepeatLen > 0 {
		total += in.RepeatLen
		out.say("and one repeat of %s, for the cut never starts at the right place of the print", in.RepeatLen)
	}
	much := *in.WastePct
	if in.Directional {
		much += *in.DirectionalPct
	}
	out.Exact.Length, out.Exact.WithWaste = total, total*(1+much/100)
	out.Rounded.Bought = out.buyCloth(total, out.Exact.WithWaste, in.Unit)
	return out, nil
}

// FatQuartersIn is shapes that are cut of fat quarters.
type FatQuartersIn struct {
	Unit        string       `json:"unit" in:"unit; one in cm; or in"`
	Seam        *float64     `json:"seam" in:"seam allowance; over 0 to 1; length; usual .2 .4"`
	W           *float64     `json:"fq_w" in:"usable width of a fat quarter; 4 to 30; length; usual 20 22"`
	H           *float64     `json:"fq_h" in:"usable height of a fat quarter; 4 to 30; length; usual 17 20"`
	Method      string       `json:"method" in:"method; one grid shelf; or grid"`
	Directional bool         `json:"directional" in:"right way up of the print"`
	SparePct    float64      `json:"spare_pct" in:"spare cut pieces; 0 to 50; unit %; or 0"`
	Lines       []QuiltShape `json:"lines" in:"list of pieces"`
}

// FatQuartersOut is the fat quarters, and those of each line alone.
type FatQuartersOut struct {
	Exact   struct{} `json:"unrounded"`
	Rounded struct {
		Lines       []FatQuarterLine `json:"lines"`
		FatQuarters float64          `json:"fat_quarters"`
	} `json:"rounded"`
	Notes
}

// FatQuarterLine is how one line of pieces is cut by itself.
type FatQuarterLine struct {
	Pieces float64 `json:"cut_pieces"`
	Per    float64 `json:"per_fq"`
	Alone  float64 `json:"fqs_alone"`
}

// rowsOf are the heights of the rows in which pieces take the least height of fat quarters.
func rowsOf(p cutPiece, n float64, turned bool, u quiltUnit) (rows []float64) {
	ways := [][2]float64{{p.w, p.h}}
	if turned && p.w != p.h {
		ways = append(ways, [2]float64{p.h, p.w})
	}
	least, high, many := math.Inf(1), 0.0, 0.0
	for _, way := range ways {
		if x, y := way[0], way[1]; x <= u.fatWide+fit && y <= u.fatHigh+fit {
			r := upInt(n / downInt(u.fatWide/x))
			if r*y < least-fit || math.Abs(r*y-least) <= fit && y < high-fit {
				least, high, many = r*y, y, r
			}
		}
	}
	return slices.Repeat([]float64{high}, int(many))
}

// shared is how many fat quarters rows share, the highest first, each in the first that has room.
func shared(rows []float64, high float64) float64 {
	slices.SortStableFunc(rows, func(a, b float64) int { return cmp.Compare(b, a) })
	var filled []float64
	for _, row := range rows {
		at := slices.IndexFunc(filled, func(f float64) bool { return f+row <= high+fit })
		if at < 0 {
			filled, at = append(filled, 0), len(filled)
		}
		filled[at] += row
	}
	return float64(len(filled))
}

// FatQuarters counts the fat quarters of shapes.
func FatQuarters(in FatQuartersIn) (out FatQuartersOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	u := quiltUnits[in.Unit]
	use(&u.seam, in.Seam)
	use(&u.fatWide, in.W)
	use(&u.fatHigh, in.H)
	var rows []float64
	grid := 0.0
	for i, v := range in.Lines {
		at := "lines[" + strconv.Itoa(i) + "]."
		p, err := v.cut(at, u)
		if err != nil {
			return out, err
		}
		if p.offRuler {
			out.warn("not_on_ruler")
		}
		n := upInt(p.pieces * (1 + in.SparePct/100))
		per := downInt(u.fatWide/p.w) * downInt(u.fatHigh/p.h)
		if !in.Directional {
			per = math.Max(per, downInt(u.fatWide/p.h)*downInt(u.fatHigh/p.w))
		}
		if per == 0 {
			return out, fault("does_not_fit", at+"finished_w",
				"A piece cut %s × %s is larger than a fat quarter (%s × %s). Buy it by length instead.", p.w, p.h, u.fatWide, u.fatHigh)
		}
		alone := upInt(n / per)
		grid += alone
		out.Rounded.Lines = append(out.Rounded.Lines, FatQuarterLine{n, per, alone})
		out.say("%s %s: cut %s × %s %s, %s cut pieces; at best %s per fat quarter; %s alone",
			v.Count, v.called(), p.w, p.h, in.Unit, n, per, many(alone, "fat quarter"))
		rows = append(rows, rowsOf(p, n, !in.Directional, u)...)
	}
	total := grid
	if in.Method == "shelf" {
		opened := shared(rows, u.fatHigh)
		total = math.Min(grid, opened)
		out.say("rows share fat quarters: %s opened; alone they would take %s", opened, grid)
	}
	out.Rounded.FatQuarters = total
	out.say("%s in all", many(total, "fat quarter"))
	return out, nil
}

// BorderIn is a border round a finished centre.
type BorderIn struct {
	Unit       string   `json:"unit" in:"unit; one in cm; or in"`
	Seam       *float64 `json:"seam" in:"seam allowance; over 0 to 1; length; usual .2 .4"`
	WOF        *float64 `json:"wof" in:"usable width of the fabric; 4 to 130; length; usual 38 110"`
	CentreW    float64  `json:"centre_w" in:"finished width of what the border goes round; over 0 to 300; length"`
	CentreH    float64  `json:"centre_h" in:"finished height of what the border goes round; over 0 to 300; length"`
	Border     float64  `json:"border" in:"finished border width; 0 to 40; length"`
	Style      string   `json:"style" in:"corner style; one butted mitred corner_squares; or butted"`
	Cut        string   `json:"cut" in:"cut; one crosswise lengthwise; or crosswise"`
	Join       string   `json:"join" in:"join; one straight diagonal; or straight"`
	MitreExtra *float64 `json:"mitre_extra" in:"extra length of a mitred strip; 0 to 20; length"`
	WastePct   *float64 `json:"waste_pct" in:"allowance added to the length; 0 to 100; unit %; usual 0 15; or 5"`
}

// BorderOut is the cloth of a border and the strips it is cut in.
type BorderOut struct {
	Exact struct {
		Length    float64 `json:"length"`
		WithWaste float64 `json:"length_with_waste"`
	} `json:"unrounded"`
	Rounded struct {
		OuterW    float64 `json:"outer_w"`
		OuterH    float64 `json:"outer_h"`
		CornerCut float64 `json:"corner_cut,omitzero"`
		Strips    float64 `json:"strips"`
		StripCut  float64 `json:"strip_cut,omitzero"`
		Bought
	} `json:"rounded"`
	Notes
}

// narrowCloth tells that joins use up the width of the cloth.
func narrowCloth(wof, join float64) error {
	if wof <= join+fit {
		return fault("does_not_fit", "wof", "The cloth is so narrow that joins would use all of it.")
	}
	return nil
}

// Border works out the cloth of a border.
func Border(in BorderIn) (out BorderOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	u := quiltUnits[in.Unit]
	use(&u.seam, in.Seam)
	use(&u.wof, in.WOF)
	use(&u.mitre, in.MitreExtra)
	w, h, border := in.CentreW, in.CentreH, in.Border
	r := &out.Rounded
	r.OuterW, r.OuterH = w+2*border, h+2*border
	if border == 0 {
		r.Bought = out.buyCloth(0, 0, in.Unit)
		return out, nil
	}
	a := u.seam
	cut := border + 2*a
	side, top := h+2*a, w+2*border+2*a
	switch in.Style {
	case "mitred":
		side, top = h+2*border+u.mitre, w+2*border+u.mitre
	case "corner_squares":
		side, top = h+2*a, w+2*a
		r.CornerCut = cut
	}
	var length float64
	if in.Cut == "lengthwise" {
		per := downInt(u.wof / cut)
		if per == 0 {
			return out, fault("does_not_fit", "border", "A border strip %s wide is wider than the cloth.", cut)
		}
		length, r.Strips = upInt(4/per)*math.Max(side, top), 4
		out.say("4 strips of %s lengthwise, %s beside one another: %s long", cut, per, length)
	} else {
		join := 2 * a
		if in.Join == "diagonal" {
			join = cut
		}
		if err := narrowCloth(u.wof, join); err != nil {
			return out, err
		}
		chain := 2*side + 2*top
		r.Strips = math.Max(1, upInt((chain-join)/(u.wof-join)))
		length = r.Strips * cut
		out.say("sides %s, top and foot %s: %s in one chain; %s strips of %s = %s", side, top, chain, r.Strips, cut, length)
	}
	r.StripCut = cut
	out.Exact.Length, out.Exact.WithWaste = length, length*(1+*in.WastePct/100)
	r.Bought = out.buyCloth(length, out.Exact.WithWaste, in.Unit)
	return out, nil
}

// BindingIn is the edges of a quilt that are bound.
type BindingIn struct {
	Unit      string   `json:"unit" in:"unit; one in cm; or in"`
	Seam      *float64 `json:"seam" in:"seam allowance; over 0 to 1; length; usual .2 .4"`
	WOF       *float64 `json:"wof" in:"usable width of the fabric; 4 to 130; length; usual 38 110"`
	QuiltW    float64  `json:"quilt_w" in:"finished quilt width; over 0 to 300; length"`
	QuiltH    float64  `json:"quilt_h" in:"finished quilt height; over 0 to 300; length"`
	Strip     *float64 `json:"strip" in:"cut width of the binding strip; .5 to 6; length; usual 2 3"`
	Allowance *float64 `json:"allowance" in:"extra length for corners and the join; 0 to 60; length; usual 8 20"`
	Along     *float64 `json:"along" in:"length of the sides it binds, where not all round; over 0 to 1200; length"`
	Join      string   `json:"join" in:"join; one diagonal straight; or diagonal"`
	WastePct  *float64 `json:"waste_pct" in:"allowance added to the length; 0 to 100; unit %; usual 0 15; or 5"`
}

// BindingOut is the cloth of a binding.
type BindingOut struct {
	Exact struct {
		BindingLength float64 `json:"binding_length"`
		Length        float64 `json:"length"`
		WithWaste     float64 `json:"length_with_waste"`
	} `json:"unrounded"`
	Rounded struct {
		Strips float64 `json:"strips"`
		Bought
	} `json:"rounded"`
	Notes
}

// Binding works out the cloth of a binding that is cut in strips across the cloth.
func Binding(in BindingIn) (out BindingOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	u := quiltUnits[in.Unit]
	use(&u.seam, in.Seam)
	use(&u.wof, in.WOF)
	use(&u.strip, in.Strip)
	use(&u.allowance, in.Allowance)
	long := 2*(in.QuiltW+in.QuiltH) + u.allowance
	if in.Along != nil {
		long = *in.Along + u.allowance
	}
	join := u.strip
	if in.Join == "straight" {
		join = 2 * u.seam
	}
	if err := narrowCloth(u.wof, join); err != nil {
		return out, err
	}
	strips := math.Max(1, upInt((long-join)/(u.wof-join)))
	length := strips * u.strip
	if in.Along == nil {
		out.say("length = 2 × (%s + %s) + %s = %s %s", in.QuiltW, in.QuiltH, u.allowance, long, in.Unit)
	} else {
		out.say("length = %s along the sides it binds + %s = %s %s", in.Along, u.allowance, long, in.Unit)
	}
	out.say("strips = (%s − %s) / (%s − %s), up to %s; %s × %s = %s", long, join, u.wof, join, strips, strips, u.strip, length)
	x := &out.Exact
	x.BindingLength, x.Length, x.WithWaste = long, length, length*(1+*in.WastePct/100)
	out.Rounded.Strips, out.Rounded.Bought = strips, out.buyCloth(length, x.WithWaste, in.Unit)
	return out, nil
}

// BackingIn is a quilt that is backed.
type BackingIn struct {
	Unit        string   `json:"unit" in:"unit; one in cm; or in"`
	QuiltW      float64  `json:"quilt_w" in:"quilt width; over 0 to 300; length"`
	QuiltH      float64  `json:"quilt_h" in:"quilt height; over 0 to 300; length"`
	Overhang    *float64 `json:"overhang" in:"extra on every side; 0 to 12; length; usual 2 6"`
	BackingSeam *float64 `json:"backing_seam" in:"seam allowance of the panel join; 0 to 2; length"`
	WOF         *float64 `json:"wof" in:"usable width of the fabric; 4 to 130; length; usual 38 110"`
	Directional bool     `json:"directional" in:"right way up of the print"`
	RepeatLen   float64  `json:"repeat_len" in:"print repeat; 0 to 60; length; or 0"`
	WastePct    float64  `json:"waste_pct" in:"allowance added to the length; 0 to 100; unit %; usual 0 10; or 0"`
}

// BackingOut is the cloth of a backing, and how its panels run.
type BackingOut struct {
	Exact struct {
		Length    float64 `json:"length"`
		WithWaste float64 `json:"length_with_waste"`
	} `json:"unrounded"`
	Rounded struct {
		Panels    float64 `json:"panels"`
		PanelsRun string  `json:"panels_run"`
		Bought
	} `json:"rounded"`
	Notes
}

// usualPanels is how many panels a backing has before wide cloth may be cheaper.
const usualPanels = 3

// Backing works out the panels of a backing.
func Backing(in BackingIn) (out BackingOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	u := quiltUnits[in.Unit]
	use(&u.wof, in.WOF)
	use(&u.overhang, in.Overhang)
	use(&u.backing, in.BackingSeam)
	w, h, seams := in.QuiltW+2*u.overhang, in.QuiltH+2*u.overhang, 2*u.backing
	if err := narrowCloth(u.wof, seams); err != nil {
		return out, err
	}
	run := func(across, along float64) (panels, length float64) {
		panels = math.Max(1, upInt((across-seams)/(u.wof-seams)))
		if in.RepeatLen > 0 && panels > 1 {
			along = up(along, in.RepeatLen)
		}
		return panels, panels * along
	}
	panels, length := run(w, h)
	way := "up"
	if !in.Directional {
		if k, l := run(h, w); l < length-fit {
			panels, length, way = k, l, "across"
		}
	}
	if panels > usualPanels {
		out.warn("many_panels")
	}
	out.say("%s × %s with the overhang; %s running %s", w, h, many(panels, "panel"), way)
	out.Exact.Length, out.Exact.WithWaste = length, length*(1+in.WastePct/100)
	out.Rounded.Panels, out.Rounded.PanelsRun, out.Rounded.Bought = panels, way, out.buyCloth(length, out.Exact.WithWaste, in.Unit)
	return out, nil
}

// GradientIn is a quilt of rungs that grow.
type GradientIn struct {
	Unit     string   `json:"unit" in:"unit; one in cm; or in"`
	Seam     *float64 `json:"seam" in:"seam allowance; over 0 to 1; length; usual .2 .4"`
	WOF      *float64 `json:"wof" in:"usable width of the fabric; 4 to 130; length; usual 38 110"`
	QuiltW   float64  `json:"quilt_w" in:"finished length of every rung; over 0 to 300; length"`
	QuiltH   float64  `json:"quilt_h" in:"finished size across all rungs; over 0 to 300; length"`
	Rungs    float64  `json:"rungs" in:"number of rungs; 1 to 200; whole"`
	Mode     string   `json:"mode" in:"mode; one equal arithmetic geometric; or equal"`
	FirstW   *float64 `json:"first_w" in:"width of the first rung; over 0 to 100; length"`
	LastW    *float64 `json:"last_w" in:"width of the last rung; over 0 to 100; length"`
	Repeats  *float64 `json:"repeats" in:"number of repeats; 1 to 50; whole; or 1"`
	Colours  []string `json:"colours" in:"colours of the rungs; or"`
	WastePct *float64 `json:"waste_pct" in:"allowance added to the length; 0 to 100; unit %; usual 5 20; or 10"`
}

// GradientOut is the widths of the rungs, and the cloth of each colour.
type GradientOut struct {
	Exact struct {
		FinishedWidths []float64 `json:"finished_widths"`
		WithWaste      ByColour  `json:"length_with_waste"`
	} `json:"unrounded"`
	Rounded struct {
		FinishedWidths []float64 `json:"finished_widths"`
		CutWidths      []float64 `json:"cut_widths"`
		StripsPerRung  float64   `json:"strips_per_rung"`
		Buy            ByColour  `json:"buy"`
		BuyUnit        string    `json:"buy_unit"`
	} `json:"rounded"`
	Notes
}

// weights are how wide rungs are beside one another, and their sum.
func (in GradientIn) weights(n int) (weights []float64, sum float64, err error) {
	if in.Mode != "equal" {
		switch {
		case in.FirstW == nil:
			return nil, 0, fault("missing", "first_w", "Please give the width of the first rung.")
		case in.LastW == nil:
			return nil, 0, fault("missing", "last_w", "Please give the width of the last rung.")
		}
	}
	weights = slices.Repeat([]float64{1}, n)
	for i := range weights {
		if at := float64(i) / math.Max(1, float64(n-1)); n > 1 && in.Mode != "equal" {
			first, last := *in.FirstW, *in.LastW
			weights[i] = first + (last-first)*at
			if in.Mode == "geometric" {
				weights[i] = first * math.Pow(last/first, at)
			}
		}
		sum += weights[i]
	}
	return weights, sum, nil
}

// Gradient works out the rungs of a quilt, in widths that a ruler has, and their cloth.
func Gradient(in GradientIn) (out GradientOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	u := quiltUnits[in.Unit]
	use(&u.seam, in.Seam)
	use(&u.wof, in.WOF)
	n := int(in.Rungs)
	weights, sum, err := in.weights(n)
	if err != nil {
		return out, err
	}
	colours := in.Colours
	if colours == nil {
		for i := range n {
			colours = append(colours, strconv.Itoa(i+1))
		}
	}
	if len(colours) != n {
		return out, fault("contradiction", "colours", "There are %s rungs but %s colours.", float64(n), float64(len(colours)))
	}
	repeats := *in.Repeats
	ladder := in.QuiltH / repeats
	steps := ladder / u.step
	if math.Abs(steps-math.Round(steps)) > 1e-6 {
		return out, fault("contradiction", "quilt_h", "%s / %s is not a multiple of %s: choose a height that can be cut with a ruler.", in.QuiltH,
			repeats, u.step)
	}
	exact, onRuler := make([]float64, n), make([]float64, n)
	for i := range exact {
		exact[i] = weights[i] * ladder / sum
		onRuler[i] = exact[i] / u.step
	}
	onRuler = largestRemainder(onRuler, math.Round(steps))
	cut := make([]float64, n)
	for i := range onRuler {
		onRuler[i] *= u.step
		if onRuler[i] < fit {
			return out, fault("does_not_fit", "rungs", "With %s rungs at least one would be thinner than %s.", float64(n), u.step)
		}
		if onRuler[i] < u.thin-fit {
			out.warn("thin_rung")
		}
		cut[i] = onRuler[i] + 2*u.seam
	}
	if err := narrowCloth(u.wof, 2*u.seam); err != nil {
		return out, err
	}
	per := math.Max(1, upInt(in.QuiltW/(u.wof-2*u.seam)))
	lengths := newNamed()
	for i, name := range colours {
		lengths.add(name, per*repeats*cut[i])
	}
	out.say("each rung is %s %s long: %s strips of fabric a rung, %s times", in.QuiltW+2*u.seam, in.Unit, per, repeats)
	x, r := &out.Exact, &out.Rounded
	x.FinishedWidths, x.WithWaste = exact, ByColour{}
	r.FinishedWidths, r.CutWidths, r.StripsPerRung, r.Buy = onRuler, cut, per*repeats, ByColour{}
	for _, name := range lengths.names {
		with := lengths.of[name] * (1 + *in.WastePct/100)
		x.WithWaste[name] = with
		r.Buy[name], r.BuyUnit = cloth(with, in.Unit)
		out.sayOf(name, "%s, with the allowance %s %s", lengths.of[name], with, in.Unit)
		out.sold("%s: %s %s", name, r.Buy[name], r.BuyUnit)
	}
	return out, nil
}
