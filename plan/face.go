package plan

import (
	"fmt"
	"slices"
	"strings"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/core/words"
)

// faceWords are what parts that lie next to a face are called, where the pattern does not say which they are.
var faceWords = []string{"neckline", "neckband", "collar", "neck", "lapels", "scarf", "hood", "hat", "brim", "yoke", "bodice", "top"}

// AtFace is the part of the piece that touches a face, by index; −1 where none is known to.
func (p *Plan) AtFace() int {
	if p.Piece == nil {
		return -1
	}
	seen := func(at int) bool { return at >= 0 && !p.Piece.Covered(at) }
	if t, err := craft.Pattern(p.Pattern); err == nil {
		for _, key := range t.Face {
			if at := p.Piece.Part(key); seen(at) {
				return at
			}
		}
	}
	for _, w := range faceWords {
		for i, part := range p.Piece.Parts {
			if seen(i) && slices.Contains(strings.Fields(strings.ToLower(part.Name)), w) {
				return i
			}
		}
	}
	return -1
}

// FaceRead is what a part does to one feature of a face.
type FaceRead struct {
	Of     TrayCard
	Effect balance.Effect
	Words  string // from the effect on: "sets off the skin, 4.1 value steps darker"
}

// Bad reports whether a maker would rather know before cutting.
func (r FaceRead) Bad() bool { return r.Effect == balance.Drains || r.Effect == balance.TakesOver }

// AgainstFace tells what a colour does to the skin, hair and eyes that are there already.
func (p *Plan) AgainstFace(c colour.Lab) (out []FaceRead) {
	for _, t := range p.Tray {
		f := balance.FeatureOf(t.Name)
		if !t.Given || f == "" {
			continue
		}
		effect, why := p.Eye().Beside(f, t.Colour, c)
		out = append(out, FaceRead{t, effect, fmt.Sprintf("%s %s (%s)", effect, t.Name, why)})
	}
	return out
}

// StandOut says beside which hair of several the part at the face stands out most, and beside which least, as
// the end of a sentence; empty where there are not two.
func (p *Plan) StandOut(part string, c colour.Lab) string {
	var hair []TrayCard
	for _, t := range p.Tray {
		if t.Given && balance.FeatureOf(t.Name) == balance.Hair {
			hair = append(hair, t)
		}
	}
	if len(hair) < 2 {
		return ""
	}
	slices.SortStableFunc(hair, func(a, b TrayCard) int {
		return int(1000 * (colour.DeltaE2000(b.Colour, c) - colour.DeltaE2000(a.Colour, c)))
	})
	most, least := hair[0], hair[len(hair)-1]
	how := colour.Beside(c, most.Colour)
	return fmt.Sprintf("%s most beside %s (%s) and least beside %s.", words.Agree(part, "stands out", "stand out"), most.Name, how.Short(),
		least.Name)
}
