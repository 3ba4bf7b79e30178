package piece

import (
	"fmt"
	"math"
)

// Craft is the kind of making a template belongs to, as the maker reads it.
type Craft string

// The crafts, in the order they are offered.
const (
	Quilt    Craft = "quilt"
	Yarn     Craft = "knitting or crochet"
	Weaving  Craft = "weaving"
	Garment  Craft = "garment"
	Soap     Craft = "soap"
	Model    Craft = "painted models"
	Building Craft = "building parts"
	Print    Craft = "printed parts"
	Card     Craft = "cards"
	Other    Craft = "other"
)

// Setting is one number a template can be built with. With Choices the number
// is the index of the one chosen.
type Setting struct {
	Key, Name, Unit   string
	Min, Max, Default float64
	Whole             bool // only whole numbers
	Choices           []string
}

// Template builds a piece from settings.
type Template struct {
	Key, Name string
	Craft     Craft
	Words     string
	Settings  []Setting
	build     func(v map[string]float64, own Own) (Piece, error)
}

// Templates lists the pieces that can be built, in the order they are offered:
// craft by craft.
func Templates() []Template {
	return []Template{
		curtainTemplate, stripsTemplate, ninePatchTemplate, trianglesTemplate, geeseTemplate, logCabinTemplate, starTemplate,
		rowsTemplate, strandedTemplate, grannyTemplate,
		clothTemplate,
		dressTemplate, jacketTemplate, waistcoatTemplate,
		soapTemplate, pouredTemplate,
		boatTemplate, figureTemplate, vanTemplate, houseTemplate, potTemplate, solidTemplate, sceneTemplate,
		drawnTemplate,
	}
}

// Find is the template with that key.
func Find(key string) (Template, error) {
	for _, t := range Templates() {
		if t.Key == key {
			return t, nil
		}
	}
	return Template{}, fmt.Errorf("there is no piece called %q", key)
}

// Values are all settings of the template, those left out at their usual value;
// one out of range is an error in plain words.
func (t Template) Values(settings map[string]float64) (map[string]float64, error) {
	v := map[string]float64{}
	for _, s := range t.Settings {
		x, given := settings[s.Key]
		if !given {
			x = s.Default
		}
		if !(x >= s.Min && x <= s.Max) || s.Whole && x != math.Trunc(x) {
			kind := "a number"
			if s.Whole {
				kind = "a whole number"
			}
			return nil, fmt.Errorf("%s: choose %s from %g to %g, not %g", s.Name, kind, s.Min, s.Max, x)
		}
		v[s.Key] = x
	}
	return v, nil
}

// Build makes the piece of a template. Settings left out take their defaults;
// one out of range, an unknown template, or an own part that cannot be used is
// an error in plain words.
func Build(template string, settings map[string]float64, own Own) (Piece, error) {
	t, err := Find(template)
	if err != nil {
		return Piece{}, err
	}
	v, err := t.Values(settings)
	if err != nil {
		return Piece{}, err
	}
	p, err := t.build(v, own)
	if err != nil {
		return Piece{}, err
	}
	p.Template, p.Name = t.Key, t.Name
	return p, nil
}

// plain is a template's build that numbers alone decide.
func plain(build func(v map[string]float64) Piece) func(map[string]float64, Own) (Piece, error) {
	return func(v map[string]float64, _ Own) (Piece, error) { return build(v), nil }
}

func whole(key, name string, from, to, usual float64) Setting {
	return Setting{Key: key, Name: name, Min: from, Max: to, Default: usual, Whole: true}
}

func mm(key, name string, from, to, usual float64) Setting {
	return Setting{Key: key, Name: name, Unit: "mm", Min: from, Max: to, Default: usual}
}

func choice(key, name string, choices ...string) Setting {
	return Setting{Key: key, Name: name, Max: float64(len(choices) - 1), Whole: true, Choices: choices}
}

func rect(part int, x, y, w, h float64) Region {
	return Region{part, []Point{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}}}
}

func (p *Piece) rect(part int, x, y, w, h float64) {
	p.Regions = append(p.Regions, rect(part, x, y, w, h))
}

func (p *Piece) shape(part int, outline ...Point) {
	p.Regions = append(p.Regions, Region{part, outline})
}

// frame adds the four sides of a frame of the given width, its outside at x, y.
func (p *Piece) frame(part int, x, y, w, h, wide float64) {
	p.rect(part, x, y, w, wide)
	p.rect(part, x, y+h-wide, w, wide)
	p.rect(part, x, y+wide, wide, h-2*wide)
	p.rect(part, x+w-wide, y+wide, wide, h-2*wide)
}

// edges adds a border of the given width and a binding outside it, which
// together end the piece.
func (p *Piece) edges(border, binding int, wide, bound float64) {
	p.frame(border, bound, bound, p.Width-2*bound, p.Height-2*bound, wide)
	p.frame(binding, 0, 0, p.Width, p.Height, bound)
}

// discSides is the number of corners a disc is drawn with: its area is
// 12·r²·sin 15°, 1.1 % under the circle's.
const discSides = 24

// Disc is the outline of a disc of radius r, in mm, with 24 corners.
func Disc(centre Point, r float64) []Point {
	var out []Point
	for i := range discSides {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / discSides)
		out = append(out, Point{centre.X + r*cos, centre.Y + r*sin})
	}
	return out
}

// disc adds a disc and the rectangle around it, which is led round the disc
// along a slit so that it stays one outline.
func (p *Piece) disc(disc, around int, x, y, w, h float64, centre Point, r float64) {
	out := Disc(centre, r)
	p.shape(disc, out...)
	slit := []Point{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}, {x, y}, out[0]}
	for i := discSides - 1; i >= 0; i-- {
		slit = append(slit, out[i])
	}
	p.shape(around, slit...)
}
