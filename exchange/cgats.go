package exchange

import (
	"bufio"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"regexp"
	"strconv"
	"strings"
	"unicode/utf8"

	"lampfern/core/colour"
	"lampfern/core/material"
)

// Measured data as text, CGATS.17 and ISO 28178: keywords, a line of fields
// between BEGIN_DATA_FORMAT and END_DATA_FORMAT, sets between BEGIN_DATA and
// END_DATA. Lab and XYZ are relative to D50, 2° (ISO 13655).

// mostReflectance is the highest reflectance that can be meant as a share, as
// of fluorescent things; a file with more gives per cent.
const mostReflectance = 2

// Columns of our own, declared with KEYWORD as the standard asks.
var cgatsOwn = []string{"KIND", "FINISH", "SOURCE", "UNCERTAINTY", "REFERENCE", "SUPPLIER", "LOT"}

var (
	cgatsFirst    = regexp.MustCompile(`^(CGATS|ISO28178|IT8)`)
	cgatsSpectral = regexp.MustCompile(`^(?:SPECTRAL_|SPECTRAL_NM_?|SPECTRAL_R|SPEC_|NM_?|R_?)(\d{3})(?:\.0*)?$`)
	cgatsLight    = regexp.MustCompile(`\b(D50|D55|D65|D75|A|C|E|FL?\d{1,2}|LED-[A-Z]+\d?)\b`)
	cgatsObserver = regexp.MustCompile(`\b(10|2)\b`)
)

// brightest is the L* that whitened paper and cloth can be measured at; above
// 100 they are kept as white.
const brightest = 110

// cgatsLike tells measured data from other text by its first line, or by the
// line that must stand before the data.
func cgatsLike(data []byte) bool {
	return cgatsFirst.Match(data) || bytes.Contains(data, []byte("BEGIN_DATA_FORMAT"))
}

// cgatsFile is what the keywords and tables of a file hold.
type cgatsFile struct {
	light, observer string // as stated, empty when not
	percent         bool   // spectral bands are stated to be per cent
	fields          []string
	sets            [][]string
	lines           []int // the line each set stands on
	promised        int   // sets stated, −1 when not
}

// ReadCGATS reads the first table of a file of measured data. Spectral bands,
// where there are any, count before Lab and XYZ. The error is a sentence about
// the whole file.
func ReadCGATS(ctx context.Context, data []byte) (List, error) {
	if !utf8.Valid(data) || bytes.IndexByte(data, 0) >= 0 {
		return List{}, errors.New("the measured data are not plain text: export them again as CGATS text")
	}
	f, err := scanCGATS(ctx, data)
	if err != nil {
		return List{}, err
	}
	c, err := f.columns()
	if err != nil {
		return List{}, err
	}
	list := newCollector()
	for i, set := range f.sets {
		if len(set) != len(f.fields) {
			list.refuse(f.lines[i], strings.Join(set, " "), fmt.Sprintf("it has %d values where the format names %d", len(set), len(f.fields)))
			continue
		}
		m, err := c.material(set)
		if err != nil {
			list.refuse(f.lines[i], m.Name, err.Error())
			continue
		}
		list.take(f.lines[i], m, material.Given{Colour: true})
	}
	list.list.Note = c.light(f.light)
	return list.done("the file of measured data holds no samples: measure some and export it again", c.unused)
}

func scanCGATS(ctx context.Context, data []byte) (cgatsFile, error) {
	f := cgatsFile{promised: -1}
	in := bufio.NewScanner(within(ctx, bytes.NewReader(data)))
	in.Buffer(nil, MaxListBytes)
	const header, format, body = 0, 1, 2
	where := header
	for line := 1; in.Scan(); line++ {
		words := cgatsWords(in.Text())
		if len(words) == 0 {
			continue
		}
		key := strings.ToUpper(words[0])
		switch {
		case key == "BEGIN_DATA_FORMAT":
			where, f.fields = format, nil
		case key == "END_DATA_FORMAT" || key == "END_DATA" && where != body:
			where = header
		case key == "BEGIN_DATA":
			where = body
		case key == "END_DATA":
			if f.promised >= 0 && f.promised != len(f.sets) {
				return f, fmt.Errorf("the file should hold %d samples and holds %d: it was cut short or changed, so export it again", f.promised,
					len(f.sets))
			}
			return f, nil
		case where == format:
			for _, w := range words {
				f.fields = append(f.fields, strings.ToUpper(w))
			}
		case where == body:
			if len(f.sets) >= MaxListLines {
				return f, fmt.Errorf("the file has more than %d samples: split it into smaller files", MaxListLines)
			}
			f.sets, f.lines = append(f.sets, words), append(f.lines, line)
		default:
			f.keyword(key, strings.ToUpper(strings.Join(words[1:], " ")))
		}
	}
	if in.Err() != nil || where == body {
		return f, errors.New("the file of measured data is cut short: its END_DATA is missing, so export it again")
	}
	return f, errors.New("the file has no BEGIN_DATA: the file of measured data is incomplete, so export it again")
}

// keyword takes in one line of the header.
func (f *cgatsFile) keyword(key, value string) {
	switch {
	case key == "NUMBER_OF_SETS":
		if n, err := strconv.Atoi(value); err == nil {
			f.promised = n
		}
	case key == "SPECTRAL_NORM":
		v, err := strconv.ParseFloat(value, 64)
		f.percent = err == nil && v > 1
	case strings.HasPrefix(key, "OBSERVER"):
		f.observer = cgatsObserver.FindString(value)
	case strings.HasPrefix(key, "ILLUMIN"):
		f.light = cgatsLight.FindString(value)
	case key == "WEIGHTING_FUNCTION" && strings.Contains(value, "ILLUMINANT"):
		f.light = cgatsLight.FindString(value)
	case key == "WEIGHTING_FUNCTION" && strings.Contains(value, "OBSERVER"):
		f.observer = cgatsObserver.FindString(value)
	case key == "MEASUREMENT_SOURCE":
		if _, after, ok := strings.Cut(value, "ILLUMINATION="); ok {
			f.light = cgatsLight.FindString(after)
		}
		if _, after, ok := strings.Cut(value, "OBSERVERANGLE="); ok {
			f.observer = cgatsObserver.FindString(after)
		}
	}
}

// cgatsWords splits a line at blanks, keeping what stands in quotation marks
// together; a doubled mark is one mark. A # begins a remark.
func cgatsWords(line string) (words []string) {
	for rest := strings.TrimSpace(line); rest != ""; rest = strings.TrimSpace(rest) {
		if rest[0] == '#' {
			return words
		}
		if rest[0] != '"' {
			end := strings.IndexAny(rest, " \t")
			if end < 0 {
				end = len(rest)
			}
			words, rest = append(words, rest[:end]), rest[end:]
			continue
		}
		var word strings.Builder
		for rest = rest[1:]; ; {
			before, after, found := strings.Cut(rest, `"`)
			word.WriteString(before)
			rest = after
			if !found || !strings.HasPrefix(rest, `"`) {
				break
			}
			word.WriteByte('"')
			rest = rest[1:]
		}
		words = append(words, word.String())
	}
	return words
}

// cgatsColumns says which field of a set holds what.
type cgatsColumns struct {
	at       map[string]int
	lab, xyz bool
	d65      bool // the colours were worked out for D65; else for D50
	nm       []float64
	band     []int // field of each wavelength of nm
	scale    float64
	unused   []string
}

func (f cgatsFile) columns() (c cgatsColumns, err error) {
	c = cgatsColumns{at: map[string]int{}, scale: 1, d65: f.light == "D65"}
	if len(f.fields) == 0 {
		return c, errors.New("the file names no fields between BEGIN_DATA_FORMAT and END_DATA_FORMAT: export it again")
	}
	known := map[string]bool{"SAMPLE_ID": true, "SAMPLE_NAME": true, "SAMPLEID": true, "LAB_L": true, "LAB_A": true, "LAB_B": true,
		"XYZ_X": true, "XYZ_Y": true, "XYZ_Z": true}
	for _, o := range cgatsOwn {
		known[o] = true
	}
	most := 0.0
	for i, name := range f.fields {
		if m := cgatsSpectral.FindStringSubmatch(name); m != nil {
			nm, _ := strconv.ParseFloat(m[1], 64)
			c.nm, c.band = append(c.nm, nm), append(c.band, i)
			for _, s := range f.sets {
				if i < len(s) {
					v, _ := strconv.ParseFloat(s[i], 64)
					most = max(most, v)
				}
			}
			continue
		}
		if !known[name] {
			c.unused = append(c.unused, name)
		}
		c.at[name] = i
	}
	if f.percent || most > mostReflectance {
		c.scale = 0.01
	}
	missing := func(names ...string) (out []string) {
		for _, n := range names {
			if _, ok := c.at[n]; !ok {
				out = append(out, n)
			}
		}
		return out
	}
	lab, xyz := missing("LAB_L", "LAB_A", "LAB_B"), missing("XYZ_X", "XYZ_Y", "XYZ_Z")
	c.lab, c.xyz = len(lab) == 0, len(xyz) == 0
	switch {
	case len(c.nm) > 0:
		return c, nil
	case !c.lab && !c.xyz && len(lab) < 3:
		return c, fmt.Errorf("the file has no field %s: export it again with LAB_L, LAB_A and LAB_B", strings.Join(lab, " and "))
	case !c.lab && !c.xyz && len(xyz) < 3:
		return c, fmt.Errorf("the file has no field %s: export it again with LAB_L, LAB_A and LAB_B", strings.Join(xyz, " and "))
	case !c.lab && !c.xyz:
		return c, errors.New("the file has no colours: export it again with LAB_L, LAB_A and LAB_B, or with spectral bands")
	case f.light != "" && f.light != "D50" && f.light != "D65":
		return c, fmt.Errorf("the colours in the file are for the light %s: export it again for D50 or D65, or with spectral bands",
			f.light)
	case f.observer == "10":
		return c, errors.New("the colours in the file are for the 10° observer: export it again for 2°, or with spectral bands")
	}
	return c, nil
}

// light says for which light the colours stand.
func (c cgatsColumns) light(said string) string {
	switch {
	case len(c.nm) > 0:
		return "Colours are calculated from the spectral bands, for D65."
	case c.d65:
		return "The colours in the file are for D65 and are used as they are."
	case said == "":
		return "The file does not say which light its colours are for. The usual D50 was assumed, and they are converted to D65."
	}
	return "The colours in the file are for D50 and are converted to D65."
}

// material makes a material of one set of values.
func (c cgatsColumns) material(set []string) (material.Material, error) {
	text := func(names ...string) string {
		for _, n := range names {
			if i, ok := c.at[n]; ok && strings.TrimSpace(set[i]) != "" {
				return set[i]
			}
		}
		return ""
	}
	m := material.Material{Name: text("SAMPLE_NAME", "SAMPLE_ID", "SAMPLEID"), Kind: text("KIND"), Finish: text("FINISH"),
		Source: text("SOURCE"), Reference: text("REFERENCE"), Supplier: text("SUPPLIER"), Lot: text("LOT")}
	if m.Source == "" {
		m.Source = "measured"
	}
	var bad error
	number := func(i int) float64 {
		v, err := strconv.ParseFloat(set[i], 64)
		if err != nil && bad == nil {
			bad = fmt.Errorf("%q should be a number", shorten(set[i]))
		}
		return v
	}
	if i, ok := c.at["UNCERTAINTY"]; ok && set[i] != "" {
		m.Uncertainty = number(i)
	}
	switch {
	case len(c.nm) > 0:
		r := make([]float64, len(c.nm))
		for k, i := range c.band {
			r[k] = c.scale * number(i)
		}
		if bad == nil {
			m.Spectrum, bad = colour.Measured(c.nm, r)
			m.Colour = m.Spectrum.Lab()
		}
	case c.lab:
		m.Colour = colour.Lab{L: number(c.at["LAB_L"]), A: number(c.at["LAB_A"]), B: number(c.at["LAB_B"])}
		if !c.d65 {
			m.Colour = colour.FromD50(m.Colour)
		}
	default:
		x := colour.XYZ{X: number(c.at["XYZ_X"]) / 100, Y: number(c.at["XYZ_Y"]) / 100, Z: number(c.at["XYZ_Z"]) / 100}
		if c.d65 {
			m.Colour = x.Lab(colour.WhiteD65)
			break
		}
		m.Colour = colour.Adapt(x, colour.WhiteD50, colour.WhiteD65).Lab(colour.WhiteD65)
	}
	if m.Colour.L > 100 && m.Colour.L <= brightest {
		m.Colour.L = 100
	}
	return m, bad
}

// WriteCGATS writes measured data that ReadCGATS reads back to a
// ten-thousandth: Lab relative to D50, 2°, with our own fields declared.
func WriteCGATS(w io.Writer, all []material.Material) error {
	out := bufio.NewWriter(w)
	fmt.Fprint(out, "CGATS.17\nORIGINATOR \"Lamp Fern\"\nILLUMINATION_NAME \"D50\"\nOBSERVER_ANGLE \"2\"\n")
	for _, k := range cgatsOwn {
		fmt.Fprintf(out, "KEYWORD \"%s\"\n", k)
	}
	fields := append([]string{"SAMPLE_ID", "SAMPLE_NAME", "LAB_L", "LAB_A", "LAB_B"}, cgatsOwn...)
	fmt.Fprintf(out, "NUMBER_OF_FIELDS %d\nBEGIN_DATA_FORMAT\n%s\nEND_DATA_FORMAT\nNUMBER_OF_SETS %d\nBEGIN_DATA\n", len(fields),
		strings.Join(fields, " "), len(all))
	quote := func(s string) string { return `"` + strings.ReplaceAll(s, `"`, `""`) + `"` }
	for i, m := range all {
		c := m.Colour.D50()
		fmt.Fprintf(out, "%d %s %.6f %.6f %.6f %s %s %s %g %s %s %s\n", i+1, quote(m.Name), c.L, c.A, c.B,
			quote(m.Kind), quote(m.Finish), quote(m.Source), m.Uncertainty, quote(m.Reference), quote(m.Supplier), quote(m.Lot))
	}
	fmt.Fprint(out, "END_DATA\n")
	if err := out.Flush(); err != nil {
		return fmt.Errorf("writing the measured data: %w", err)
	}
	return nil
}
