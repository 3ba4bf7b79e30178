package page

import (
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"strings"

	"lampfern/core/piece"
	"lampfern/web"
)

// looseHex is the colour of a body whose part has no card yet.
const looseHex = "#b9b9b9"

// solidShown is an assembly as the page's own canvas takes it.
type solidShown struct {
	Address        string // of its corners and triangles
	Parts, Colours string // by part, with spaces between
}

// solidOf is the plan's assembly for the canvas; nil when its piece is none.
func solidOf(p *web.Page, fill []int) *solidShown {
	in, is := p.Plan.Put().(piece.Meshed)
	if !is || in.Model().File == "" {
		return nil
	}
	made, err := json.Marshal(in)
	if err != nil {
		return nil
	}
	out := &solidShown{Address: fmt.Sprintf("/plans/%d/solid.bin?of=%x", p.Plan.ID, sha256.Sum256(made))[:64]}
	var keys, colours []string
	for i, part := range p.Plan.Piece.Parts {
		hex := looseHex
		if at := fill[i]; at >= 0 {
			rgb, _ := p.View.Show(p.Plan.Tray[at].Colour)
			hex = rgb.Hex()
		}
		keys, colours = append(keys, part.Key), append(colours, hex)
	}
	out.Parts, out.Colours = strings.Join(keys, " "), strings.Join(colours, " ")
	return out
}
