package exchange

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/material"
)

// Design tokens, the community group's format of JSON: groups of tokens, each
// with $value and $type; a group's $type holds for what is in it; "{a.b}"
// stands for another token's value.

// Limits of a file of tokens.
const (
	maxTokenDepth = 32
	maxAliases    = 16
)

// tokenKey names our own record among a token's extensions.
const tokenKey = "lampfern"

// tokenScan walks a file of tokens.
type tokenScan struct {
	root   map[string]json.RawMessage
	opened map[string]map[string]json.RawMessage // groups that references led through, by path
	list   *collector
	count  int
}

// readJSONList tells a list of tokens from our own files and from other JSON.
func readJSONList(ctx context.Context, data []byte) (List, error) {
	var head struct {
		Format string `json:"format"`
	}
	_ = json.Unmarshal(data, &head) // a file of tokens may have a group of that name
	switch head.Format {
	case PlanFormat:
		return List{}, errors.New("this is a Lamp Fern plan, not a list: import it under Plans")
	case ShelfFormat:
		s, err := readShelfRecord(data)
		s.list.Photos = s.Photos
		return s.list, err
	}
	return ReadTokens(ctx, data)
}

// ReadTokens reads every colour among design tokens. Tokens of other types are
// named among the bad lines; Line counts tokens from 1. The error is a
// sentence about the whole file.
func ReadTokens(ctx context.Context, data []byte) (List, error) {
	s := tokenScan{list: newCollector(), opened: map[string]map[string]json.RawMessage{}}
	if err := json.Unmarshal(data, &s.root); err != nil {
		return List{}, errors.New("the JSON file is incomplete: export the tokens again")
	}
	if err := s.group(ctx, s.root, nil, "", 0); err != nil {
		return List{}, err
	}
	return s.list.done("there are no design tokens in the file: each needs a $value", nil)
}

func (s *tokenScan) group(ctx context.Context, group map[string]json.RawMessage, path []string, kind string, depth int) error {
	if err := ctx.Err(); err != nil {
		return err
	}
	if depth > maxTokenDepth {
		return fmt.Errorf("the groups of tokens are nested more than %d deep: flatten them", maxTokenDepth)
	}
	if raw, ok := group["$type"]; ok {
		_ = json.Unmarshal(raw, &kind) // anything else leaves the group's
	}
	if value, ok := group["$value"]; ok {
		s.count++
		if s.count > MaxListLines {
			return fmt.Errorf("the file has more than %d tokens: split it into smaller files", MaxListLines)
		}
		s.token(group, value, path, kind)
		return nil
	}
	names := make([]string, 0, len(group))
	for n := range group {
		names = append(names, n)
	}
	slices.Sort(names)
	for _, n := range names {
		var inner map[string]json.RawMessage
		if strings.HasPrefix(n, "$") || json.Unmarshal(group[n], &inner) != nil {
			continue
		}
		if err := s.group(ctx, inner, append(slices.Clone(path), n), kind, depth+1); err != nil {
			return err
		}
	}
	return nil
}

// token takes one token.
func (s *tokenScan) token(token map[string]json.RawMessage, value json.RawMessage, path []string, kind string) {
	name := strings.Join(path, " ")
	value, kind, err := s.follow(value, kind)
	switch {
	case err != nil:
	case kind == "":
		err = errors.New("it does not say its type: colours need the $type color")
	case kind != "color":
		err = fmt.Errorf("it is a token of the type %q: only colours can be added to the shelf", shorten(kind))
	}
	if err != nil {
		s.list.refuse(s.count, name, err.Error())
		return
	}
	c, err := tokenColour(value)
	if err != nil {
		s.list.refuse(s.count, name, err.Error())
		return
	}
	m := material.Material{Colour: c}
	if len(path) > 0 {
		m.Name = path[len(path)-1]
	}
	_ = json.Unmarshal(token["$description"], &m.Remark)
	var more map[string]json.RawMessage
	var own record
	if json.Unmarshal(token["$extensions"], &more) == nil && json.Unmarshal(more[tokenKey], &own) == nil && own.Name != "" {
		exact, err := own.material()
		shown, _ := exact.Colour.RGB()
		switch {
		case err != nil:
		case colour.DeltaE2000(shown.Lab(), c) < sameAsWritten:
			m = exact
		default: // the colour was changed since; the rest holds
			exact.Colour, exact.Source, exact.Uncertainty = c, "", 0
			m = exact
		}
	}
	s.list.take(s.count, m, material.Given{Colour: true})
}

// sameAsWritten is the ΔE00 a colour written as sRGB may be off for rounding.
const sameAsWritten = 0.5

// follow resolves a reference to another token, through several if need be.
func (s *tokenScan) follow(value json.RawMessage, kind string) (json.RawMessage, string, error) {
	for range maxAliases {
		var text string
		if json.Unmarshal(value, &text) != nil || !strings.HasPrefix(text, "{") || !strings.HasSuffix(text, "}") {
			return value, kind, nil
		}
		at, of, path := s.root, "", ""
		parts := strings.Split(text[1:len(text)-1], ".")
		if len(parts) > maxTokenDepth {
			return nil, "", fmt.Errorf("it refers to %s, which is more than %d groups deep", shorten(text), maxTokenDepth)
		}
		for _, part := range parts {
			raw, ok := at[part]
			path += part + "."
			known := false
			if at, known = s.opened[path]; !known && ok {
				_ = json.Unmarshal(raw, &at) // what is no group stays nil
				s.opened[path] = at
			}
			if at == nil {
				return nil, "", fmt.Errorf("it refers to %s, which is not in the file", shorten(text))
			}
			if t, ok := at["$type"]; ok {
				_ = json.Unmarshal(t, &of)
			}
		}
		if at["$value"] == nil {
			return nil, "", fmt.Errorf("it refers to %s, which has no $value", shorten(text))
		}
		value = at["$value"]
		if kind == "" {
			kind = of
		}
	}
	return nil, "", errors.New("it refers to another token in a loop that never reaches a colour")
}

// tokenColour reads the value of a colour token: a hex, or a colour space with
// its components.
func tokenColour(value json.RawMessage) (colour.Lab, error) {
	var hex string
	if json.Unmarshal(value, &hex) == nil {
		if len(hex) == 9 && hex[0] == '#' {
			hex = hex[:7] // opacity is no property of a material
		}
		c, err := colour.ParseHex(hex)
		return c.Lab(), err
	}
	var v struct {
		Space      string            `json:"colorSpace"`
		Components []json.RawMessage `json:"components"`
		Hex        string            `json:"hex"`
	}
	if json.Unmarshal(value, &v) != nil || len(v.Components) != 3 {
		return colour.Lab{}, errors.New("its value is not a colour: it needs a hex, or a colorSpace and three components")
	}
	var c [3]float64
	for i, raw := range v.Components {
		if string(raw) == `"none"` {
			continue
		}
		if json.Unmarshal(raw, &c[i]) != nil {
			return colour.Lab{}, errors.New("its components are not three numbers")
		}
	}
	return fromSpace(v.Space, c)
}

// fromSpace turns the components of a colour space of CSS Color 4 into CIELAB,
// D65.
func fromSpace(space string, c [3]float64) (colour.Lab, error) {
	polar := func() (float64, float64) {
		s, k := math.Sincos(c[2] * math.Pi / 180)
		return c[1] * k, c[1] * s
	}
	switch space {
	case "srgb":
		return colour.RGB{R: c[0], G: c[1], B: c[2]}.Lab(), nil
	case "srgb-linear":
		return colour.LinearXYZ(c[0], c[1], c[2]).Lab(colour.WhiteD65), nil
	case "display-p3":
		r, g, b := colour.RGB{R: c[0], G: c[1], B: c[2]}.Linear()
		// Linear display P3 to XYZ, D65 (CSS Color 4).
		return colour.XYZ{X: 0.4865709486482162*r + 0.26566769316909306*g + 0.1982172852343625*b,
			Y: 0.2289745640697488*r + 0.6917385218365064*g + 0.079286914093745*b,
			Z: 0.04511338185890264*g + 1.043944368900976*b}.Lab(colour.WhiteD65), nil
	case "hsl":
		return fromHSL(c[0], c[1]/100, c[2]/100).Lab(), nil
	case "lab":
		return colour.FromD50(colour.Lab{L: c[0], A: c[1], B: c[2]}), nil
	case "lch":
		a, b := polar()
		return colour.FromD50(colour.Lab{L: c[0], A: a, B: b}), nil
	case "oklab":
		return colour.OKLab{L: c[0], A: c[1], B: c[2]}.LCh().Lab(), nil
	case "oklch":
		return colour.OKLCh{L: c[0], C: c[1], H: c[2]}.Lab(), nil
	case "xyz-d65", "xyz":
		return colour.XYZ{X: c[0], Y: c[1], Z: c[2]}.Lab(colour.WhiteD65), nil
	case "xyz-d50":
		return colour.Adapt(colour.XYZ{X: c[0], Y: c[1], Z: c[2]}, colour.WhiteD50, colour.WhiteD65).Lab(colour.WhiteD65), nil
	}
	return colour.Lab{}, fmt.Errorf("the colour space %q is not read here: write it as srgb, oklch or lab", shorten(space))
}

// fromHSL is the sRGB colour of hue in degrees, saturation and lightness 0–1
// (CSS Color 4).
func fromHSL(h, s, l float64) colour.RGB {
	channel := func(n float64) float64 {
		k := math.Mod(math.Mod(n+h/30, 12)+12, 12)
		return l - s*min(l, 1-l)*max(-1, min(k-3, 9-k, 1))
	}
	return colour.RGB{R: channel(0), G: channel(8), B: channel(4)}
}

// tokenName replaces what a token's name may not hold.
var tokenName = strings.NewReplacer("{", "(", "}", ")", ".", "·")

// WriteTokens writes materials as design tokens, grouped by kind. The value is
// sRGB with its hex; the exact record stands among the extensions, so that
// ReadTokens reads back the same.
func WriteTokens(w io.Writer, all []material.Material) error {
	groups := map[string]map[string]any{}
	for _, m := range all {
		if groups[m.Kind] == nil {
			groups[m.Kind] = map[string]any{"$type": "color"}
		}
		rgb, _ := m.Colour.RGB()
		round := func(v float64) float64 { return math.Round(v*1e5) / 1e5 }
		token := map[string]any{
			"$value":      map[string]any{"colorSpace": "srgb", "components": []float64{round(rgb.R), round(rgb.G), round(rgb.B)}, "hex": rgb.Hex()},
			"$extensions": map[string]any{tokenKey: recordOf(m)},
		}
		if m.Remark != "" {
			token["$description"] = m.Remark
		}
		name := tokenName.Replace(strings.TrimLeft(m.Name, "$"))
		for n := 2; groups[m.Kind][name] != nil || name == ""; n++ {
			name = fmt.Sprintf("%s %d", tokenName.Replace(strings.TrimLeft(m.Name, "$")), n)
		}
		groups[m.Kind][name] = token
	}
	return writeJSON(w, groups, "design tokens")
}
