package shelf

import (
	"fmt"
	"net/url"
	"strconv"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/surface"
)

// BoxOf reads x,y,w,h in shares of a photo.
func BoxOf(text string) (Box, bool) {
	var v [4]float64
	parts := strings.Split(text, ",")
	if len(parts) != 4 {
		return Box{}, false
	}
	for i, p := range parts {
		n, err := strconv.ParseFloat(p, 64)
		if err != nil || !(n >= -1 && n <= 2) {
			return Box{}, false
		}
		v[i] = n
	}
	return Box{X: v[0], Y: v[1], W: v[2], H: v[3]}, true
}

// LookOf reads how a photo is to be read from the address: white=x,y,w,h in
// shares, wl its lightness, crop=x,y,w,h what is a print, own=1 that its white is its own, and any number of box=x,y,w,h.
func LookOf(q url.Values) Look {
	l := Look{Known: colour.Lab{L: surface.WhitePaper}}
	if b, ok := BoxOf(q.Get("white")); ok {
		l.White = &b
	}
	if k, ok := KnownOf(q.Get("wl")); ok {
		l.Known = k
	}
	for _, text := range q["box"] {
		if b, ok := BoxOf(text); ok {
			l.Boxes = append(l.Boxes, b)
		}
	}
	if text := q.Get("crop"); text != "" {
		b, _ := BoxOf(text)
		l.Crop = &b
	}
	l.Own = q.Get("own") != ""
	return l
}

// String writes a box as BoxOf reads it.
func (b Box) String() string { return fmt.Sprintf("%.4f,%.4f,%.4f,%.4f", b.X, b.Y, b.W, b.H) }

// KnownOf reads a known colour: the L* of a neutral, or L*, a* and b* of a card.
func KnownOf(text string) (k colour.Lab, ok bool) {
	v := strings.Fields(strings.ReplaceAll(text, ",", "."))
	into := []*float64{&k.L, &k.A, &k.B}
	if len(v) != 1 && len(v) != len(into) {
		return k, false
	}
	for i, t := range v {
		n, err := strconv.ParseFloat(t, 64)
		if err != nil {
			return k, false
		}
		*into[i] = n
	}
	return k, k.Check() == nil
}
