package exchange

import (
	"bufio"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"unicode/utf16"
	"unicode/utf8"

	"lampfern/core/colour"
	"lampfern/core/weave"
)

// MaxWIFBytes is the largest weaving file read.
const MaxWIFBytes = 8 << 20

// mostWIFThreads bounds warp and weft of a file.
const mostWIFThreads = 20_000

// Weaving is a weaving draft as the Weaving Information File format (version 1.1)
// holds it: the whole threading and treadling, and the yarn of every thread.
type Weaving struct {
	Title         string
	Draft         weave.Draft
	Warp, Weft    []int        // yarn of each end and pick, from 0
	Yarns         []colour.RGB // colours of the yarns
	EndsPer10mm   float64      // 0 when the file does not say
	PicksPer10mm  float64
	SinkingMended bool // the file's shed sinks; the tie-up was turned over
	EmptyEnds     int  // places in the reed without a shaft, which were left out
	EmptyPicks    int  // picks that lift nothing, which were left out
}

// wif is a file's sections by name, in small letters, each with its keys.
type wif map[string]map[string]string

// ReadWIF reads a weaving draft. The error is a sentence without its full stop.
func ReadWIF(ctx context.Context, r io.Reader) (Weaving, error) {
	data, err := io.ReadAll(io.LimitReader(r, MaxWIFBytes+1))
	if err != nil {
		return Weaving{}, fmt.Errorf("the weaving file could not be read to its end: %w", err)
	}
	if len(data) > MaxWIFBytes {
		return Weaving{}, fmt.Errorf("the weaving file is larger than %d MB: it cannot be a draft", MaxWIFBytes>>20)
	}
	f, err := parseWIF(decodeText(data))
	if err != nil {
		return Weaving{}, err
	}
	if err := ctx.Err(); err != nil {
		return Weaving{}, err
	}
	w := Weaving{Title: f["text"]["title"]}
	warp, err := f.count("warp", "threads")
	if err != nil {
		return Weaving{}, err
	}
	weft, err := f.count("weft", "threads")
	if err != nil {
		return Weaving{}, err
	}
	w.EndsPer10mm, w.PicksPer10mm = f.sett("warp"), f.sett("weft")
	shafts, treadles := f.number("weaving", "shafts"), f.number("weaving", "treadles")
	if shafts > weave.MostShafts {
		return Weaving{}, fmt.Errorf("the file says %d shafts: a draft has at most %d", shafts, weave.MostShafts)
	}
	if w.Draft.Threading, err = f.threads("threading", warp, "end", "shaft", shafts); err != nil {
		return Weaving{}, err
	}
	if f["liftplan"] != nil {
		err = f.liftPlan(&w.Draft, weft, shafts)
	} else {
		err = f.treadled(&w.Draft, weft, shafts, treadles)
	}
	if err != nil {
		return Weaving{}, err
	}
	if err := f.colours(&w, warp, weft); err != nil {
		return Weaving{}, err
	}
	w.EmptyEnds, w.EmptyPicks = dropEmpty(&w.Draft.Threading, &w.Warp), dropEmpty(&w.Draft.Treadling, &w.Weft)
	switch {
	case len(w.Draft.Threading) == 0:
		return Weaving{}, errors.New("no end has a shaft in the file: the section [THREADING] is incomplete")
	case len(w.Draft.Treadling) == 0:
		return Weaving{}, errors.New("no pick lifts anything in the file: it is incomplete")
	}
	if rising := strings.ToLower(f["weaving"]["rising shed"]); rising == "false" || rising == "no" || rising == "off" || rising == "0" {
		most := max(w.Draft.Shafts(), shafts)
		for i, t := range w.Draft.TieUp {
			var up []int
			for s := 1; s <= most; s++ {
				if !slices.Contains(t, s) {
					up = append(up, s)
				}
			}
			w.Draft.TieUp[i] = up
		}
		w.SinkingMended = true
	}
	if err := w.Draft.Check(); err != nil {
		return Weaving{}, fmt.Errorf("the draft in the file cannot be woven: %w", err)
	}
	w.usedYarns()
	return w, nil
}

// dropEmpty leaves out the threads that are on nothing, with their yarns, and counts them.
func dropEmpty(on, yarns *[]int) (left int) {
	var kept, of []int
	for i, at := range *on {
		if at == 0 {
			left++
			continue
		}
		kept, of = append(kept, at), append(of, (*yarns)[i])
	}
	*on, *yarns = kept, of
	return left
}

// usedYarns keeps only the yarns that a thread is of.
func (w *Weaving) usedYarns() {
	to, kept := map[int]int{}, []colour.RGB{}
	for _, threads := range [][]int{w.Warp, w.Weft} {
		for i, y := range threads {
			at, known := to[y]
			if !known {
				at = len(kept)
				to[y], kept = at, append(kept, w.Yarns[y])
			}
			threads[i] = at
		}
	}
	w.Yarns = kept
}

// decodeText reads UTF-8, UTF-16 with its mark, or else Latin-1.
func decodeText(data []byte) string {
	switch {
	case bytes.HasPrefix(data, []byte{0xef, 0xbb, 0xbf}):
		data = data[3:]
	case bytes.HasPrefix(data, []byte{0xff, 0xfe}), bytes.HasPrefix(data, []byte{0xfe, 0xff}):
		big := data[0] == 0xfe
		var units []uint16
		for i := 2; i+1 < len(data); i += 2 {
			if big {
				units = append(units, uint16(data[i])<<8|uint16(data[i+1]))
			} else {
				units = append(units, uint16(data[i+1])<<8|uint16(data[i]))
			}
		}
		return string(utf16.Decode(units))
	}
	if utf8.Valid(data) {
		return string(data)
	}
	runes := make([]rune, len(data))
	for i, b := range data {
		runes[i] = rune(b)
	}
	return string(runes)
}

func parseWIF(text string) (wif, error) {
	f := wif{}
	var at map[string]string
	lines := bufio.NewScanner(strings.NewReader(text))
	lines.Buffer(nil, MaxWIFBytes+1)
	for n := 1; lines.Scan(); n++ {
		line, _, _ := strings.Cut(lines.Text(), ";")
		line = strings.TrimSpace(line)
		switch {
		case line == "":
		case line[0] == '[':
			name := strings.ToLower(strings.TrimSpace(strings.Trim(line, "[]")))
			if f[name] == nil {
				f[name] = map[string]string{}
			}
			at = f[name]
		case at == nil:
			return nil, errors.New("the file is not a weaving draft (WIF): it does not begin with a section such as [WIF]")
		default:
			key, value, found := strings.Cut(line, "=")
			if !found {
				return nil, fmt.Errorf("line %d of the weaving file is damaged: it has no =", n)
			}
			at[strings.ToLower(strings.TrimSpace(key))] = strings.TrimSpace(value)
		}
	}
	if err := lines.Err(); err != nil {
		return nil, fmt.Errorf("the weaving file could not be read: %w", err)
	}
	if f["wif"] == nil {
		return nil, errors.New("the file is not a weaving draft (WIF): it has no section [WIF]")
	}
	for _, section := range []string{"weaving", "warp", "weft", "threading"} {
		if f[section] == nil {
			return nil, fmt.Errorf("the weaving file has no section [%s]: export the whole draft again", strings.ToUpper(section))
		}
	}
	if f["liftplan"] == nil && (f["tieup"] == nil || f["treadling"] == nil) {
		return nil, errors.New("the weaving file has neither a [LIFTPLAN] nor both [TIEUP] and [TREADLING]: export the whole draft again")
	}
	return f, nil
}

// number is a whole number, 0 when there is none.
func (f wif) number(section, key string) int {
	n, err := strconv.Atoi(f[section][key])
	if err != nil {
		return 0
	}
	return n
}

func (f wif) count(section, key string) (int, error) {
	n := f.number(section, key)
	if n < 1 || n > mostWIFThreads {
		return 0, fmt.Errorf("the section [%s] says %q threads: a draft has from 1 to %d", strings.ToUpper(section), f[section][key],
			mostWIFThreads)
	}
	return n, nil
}

// sett is the threads in 10 mm by the spacing of a section.
func (f wif) sett(section string) float64 {
	spacing, err := strconv.ParseFloat(strings.Replace(f[section]["spacing"], ",", ".", 1), 64)
	if err != nil || !(spacing > 0) {
		return 0
	}
	switch strings.ToLower(f[section]["units"]) {
	case "inches":
		spacing *= 2.54
	case "decipoints": // a tenth of a point of 1/72 inch
		spacing *= 2.54 / 720
	}
	return 1 / spacing
}

// list reads whole numbers with commas between; zeros mean none.
func list(text string) ([]int, error) {
	var out []int
	for _, w := range strings.Split(text, ",") {
		w = strings.TrimSpace(w)
		if w == "" || w == "0" {
			continue
		}
		n, err := strconv.Atoi(w)
		if err != nil || n < 0 {
			return nil, fmt.Errorf("%q is not a number", w)
		}
		out = append(out, n)
	}
	return out, nil
}

// threads reads one number a thread, 0 for one that has none.
func (f wif) threads(section string, n int, thread, takes string, most int) ([]int, error) {
	out := make([]int, n)
	for key, value := range f[section] {
		at, err := strconv.Atoi(key)
		if err != nil || at < 1 || at > n {
			return nil, fmt.Errorf("the section [%s] has %s %q, and there are only %d: the counts do not agree", strings.ToUpper(section), thread,
				key, n)
		}
		all, err := list(value)
		switch {
		case err != nil:
			return nil, fmt.Errorf("%s %d has %q for its %s: it must be a number", thread, at, value, takes)
		case len(all) > 1:
			return nil, fmt.Errorf("%s %d is on %d %ss at once: give it only one", thread, at, len(all), takes)
		case len(all) == 1 && most > 0 && all[0] > most:
			return nil, fmt.Errorf("%s %d is on %s %d and the file has %d", thread, at, takes, all[0], most)
		case len(all) == 1:
			out[at-1] = all[0]
		}
	}
	return out, nil
}

func (f wif) treadled(d *weave.Draft, weft, shafts, treadles int) (err error) {
	for key := range f["tieup"] {
		n, err := strconv.Atoi(key)
		if err != nil || n < 1 || n > weave.MostTreadles {
			return fmt.Errorf("the tie-up has treadle %q: treadles are numbered from 1 to %d", key, weave.MostTreadles)
		}
		treadles = max(treadles, n)
	}
	if treadles < 1 || treadles > weave.MostTreadles {
		return fmt.Errorf("the file says %d treadles: a draft has from 1 to %d", treadles, weave.MostTreadles)
	}
	d.TieUp = make([][]int, treadles)
	for t := range d.TieUp {
		if d.TieUp[t], err = list(f["tieup"][strconv.Itoa(t+1)]); err != nil {
			return fmt.Errorf("treadle %d lifts %q: write shafts as numbers with commas", t+1, f["tieup"][strconv.Itoa(t+1)])
		}
		for _, s := range d.TieUp[t] {
			if shafts > 0 && s > shafts {
				return fmt.Errorf("treadle %d lifts shaft %d and the file has %d shafts", t+1, s, shafts)
			}
		}
	}
	// A pick may press several treadles; each such set becomes one more treadle.
	sets := map[string]int{}
	d.Treadling = make([]int, weft)
	for key, value := range f["treadling"] {
		at, err := strconv.Atoi(key)
		if err != nil || at < 1 || at > weft {
			return fmt.Errorf("the treadling has pick %q, and there are only %d: the counts do not agree", key, weft)
		}
		pressed, err := list(value)
		if err != nil {
			return fmt.Errorf("pick %d has %q for its treadle: it must be a number", at, value)
		}
		for _, t := range pressed {
			if t > treadles {
				return fmt.Errorf("pick %d is on treadle %d and the file has %d", at, t, treadles)
			}
		}
		switch len(pressed) {
		case 0:
		case 1:
			d.Treadling[at-1] = pressed[0]
		default:
			var lifts []int
			for _, t := range pressed {
				lifts = append(lifts, d.TieUp[t-1]...)
			}
			if d.Treadling[at-1], err = treadleFor(d, sets, lifts); err != nil {
				return err
			}
		}
	}
	return nil
}

// treadleFor is the treadle that lifts a set of shafts, made where there is none.
func treadleFor(d *weave.Draft, sets map[string]int, lifts []int) (int, error) {
	slices.Sort(lifts)
	lifts = slices.Compact(lifts)
	key := fmt.Sprint(lifts)
	if t, known := sets[key]; known {
		return t, nil
	}
	if len(d.TieUp) >= weave.MostTreadles {
		return 0, fmt.Errorf("the draft lifts more than %d different sets of shafts, which is too many", weave.MostTreadles)
	}
	d.TieUp = append(d.TieUp, lifts)
	sets[key] = len(d.TieUp)
	return len(d.TieUp), nil
}

func (f wif) liftPlan(d *weave.Draft, weft, shafts int) error {
	sets := map[string]int{}
	d.Treadling = make([]int, weft)
	for p := range weft {
		value := f["liftplan"][strconv.Itoa(p+1)]
		lifts, err := list(value)
		if err != nil {
			return fmt.Errorf("pick %d lifts %q: write shafts as numbers with commas", p+1, value)
		}
		for _, s := range lifts {
			if shafts > 0 && s > shafts {
				return fmt.Errorf("pick %d lifts shaft %d and the file has %d shafts", p+1, s, shafts)
			}
		}
		if len(lifts) == 0 {
			continue
		}
		if d.Treadling[p], err = treadleFor(d, sets, lifts); err != nil {
			return err
		}
	}
	for key := range f["liftplan"] {
		if n, err := strconv.Atoi(key); err != nil || n < 1 || n > weft {
			return fmt.Errorf("the lift plan has pick %q, and there are only %d: the counts do not agree", key, weft)
		}
	}
	return nil
}

// colours reads the colour of every thread; without any, warp and weft are a
// dark and a light yarn.
func (f wif) colours(w *Weaving, warp, weft int) error {
	low, high := 0.0, 255.0
	if from, to, ok := strings.Cut(f["color palette"]["range"], ","); ok {
		a, errA := strconv.ParseFloat(strings.TrimSpace(from), 64)
		b, errB := strconv.ParseFloat(strings.TrimSpace(to), 64)
		if errA == nil && errB == nil && b > a {
			low, high = a, b
		}
	}
	table := map[int]colour.RGB{}
	for key, value := range f["color table"] {
		n, err := strconv.Atoi(key)
		parts := strings.Split(value, ",")
		if err != nil || len(parts) != 3 {
			return fmt.Errorf("colour %q of the file is %q: it must be three numbers", key, value)
		}
		var v [3]float64
		for i, p := range parts {
			x, err := strconv.ParseFloat(strings.TrimSpace(p), 64)
			if err != nil || !(x >= low && x <= high) {
				return fmt.Errorf("colour %d of the file has %q in it: its numbers go from %g to %g", n, p, low, high)
			}
			v[i] = (x - low) / (high - low)
		}
		table[n] = colour.RGB{R: v[0], G: v[1], B: v[2]}
	}
	yarns := map[colour.RGB]int{}
	of := func(section, thread string, n int, usual colour.RGB) ([]int, error) {
		fall := usual
		if all, err := list(f[section]["color"]); err == nil && len(all) > 0 {
			if c, known := table[all[0]]; known {
				fall = c
			}
		}
		out := make([]int, n)
		for i := range out {
			c := fall
			if value, given := f[section+" colors"][strconv.Itoa(i+1)]; given {
				all, err := list(value)
				if err != nil || len(all) != 1 {
					return nil, fmt.Errorf("%s %d has %q for its colour: it must be a number of the colour table", thread, i+1, value)
				}
				found, known := table[all[0]]
				if !known {
					return nil, fmt.Errorf("%s %d takes colour %d, which the file does not have", thread, i+1, all[0])
				}
				c = found
			}
			y, known := yarns[c]
			if !known {
				if y = len(yarns); y >= weave.MostYarns {
					return nil, fmt.Errorf("the draft has more than %d colours: merge similar ones first", weave.MostYarns)
				}
				yarns[c] = y
				w.Yarns = append(w.Yarns, c)
			}
			out[i] = y
		}
		return out, nil
	}
	var err error
	if w.Warp, err = of("warp", "end", warp, colour.RGB{R: .15, G: .15, B: .2}); err != nil {
		return err
	}
	w.Weft, err = of("weft", "pick", weft, colour.RGB{R: .93, G: .92, B: .88})
	return err
}

// Stripes are threads of like yarn beside one another, counted.
func Stripes(threads []int) []weave.Stripe {
	var out []weave.Stripe
	for _, y := range threads {
		if n := len(out); n > 0 && out[n-1].Yarn == y {
			out[n-1].Threads++
		} else {
			out = append(out, weave.Stripe{Yarn: y, Threads: 1})
		}
	}
	return out
}

// WriteWIF writes a draft that ReadWIF reads back the same.
func WriteWIF(out io.Writer, w Weaving) error {
	var b strings.Builder
	section := func(name string) { fmt.Fprintf(&b, "[%s]\r\n", name) }
	set := func(key string, value any) { fmt.Fprintf(&b, "%v=%v\r\n", key, value) }
	joined := func(all []int) string {
		words := make([]string, len(all))
		for i, n := range all {
			words[i] = strconv.Itoa(n)
		}
		return strings.Join(words, ",")
	}
	section("WIF")
	set("Version", "1.1")
	set("Date", "April 20, 1997") // of the format's version, as its text asks
	set("Source Program", "Lamp Fern")
	section("CONTENTS")
	for _, s := range []string{"TEXT", "WEAVING", "WARP", "WEFT", "THREADING", "TIEUP", "TREADLING", "COLOR PALETTE", "COLOR TABLE",
		"WARP COLORS", "WEFT COLORS"} {
		set(s, "true")
	}
	section("TEXT")
	set("Title", strings.NewReplacer("\r", " ", "\n", " ", ";", ",").Replace(w.Title))
	section("WEAVING")
	set("Shafts", w.Draft.Shafts())
	set("Treadles", len(w.Draft.TieUp))
	set("Rising Shed", "true")
	for _, s := range []struct {
		name    string
		threads []int
		sett    float64
	}{{"WARP", w.Warp, w.EndsPer10mm}, {"WEFT", w.Weft, w.PicksPer10mm}} {
		section(s.name)
		set("Threads", len(s.threads))
		if s.sett > 0 {
			set("Units", "Centimeters")
			set("Spacing", strconv.FormatFloat(1/s.sett, 'g', 8, 64))
		}
	}
	section("THREADING")
	for e := range w.Warp {
		set(strconv.Itoa(e+1), w.Draft.Threading[e%len(w.Draft.Threading)])
	}
	section("TIEUP")
	for t, shafts := range w.Draft.TieUp {
		set(strconv.Itoa(t+1), joined(shafts))
	}
	section("TREADLING")
	for p := range w.Weft {
		set(strconv.Itoa(p+1), w.Draft.Treadling[p%len(w.Draft.Treadling)])
	}
	section("COLOR PALETTE")
	set("Entries", len(w.Yarns))
	set("Form", "RGB")
	set("Range", "0,255")
	section("COLOR TABLE")
	for i, c := range w.Yarns {
		n := func(v float64) int { return int(255*v + .5) }
		set(strconv.Itoa(i+1), fmt.Sprintf("%d,%d,%d", n(c.R), n(c.G), n(c.B)))
	}
	for _, s := range []struct {
		name    string
		threads []int
	}{{"WARP COLORS", w.Warp}, {"WEFT COLORS", w.Weft}} {
		section(s.name)
		for i, y := range s.threads {
			set(strconv.Itoa(i+1), y+1)
		}
	}
	_, err := io.WriteString(out, b.String())
	return err
}
