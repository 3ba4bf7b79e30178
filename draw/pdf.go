package draw

import (
	"bytes"
	"crypto/sha256"
	"errors"
	"fmt"
	"math"

	"codeberg.org/go-pdf/fpdf"

	"lampfern/core/colour"
)

// pointsPerMillimetre converts to the unit fonts are sized in.
const pointsPerMillimetre = 72 / 25.4

// PDF writes scenes in millimetres as the pages of one document, with the
// fonts inside and nothing scaled.
func PDF(title string, pages []Scene) ([]byte, error) {
	if len(pages) == 0 {
		return nil, errors.New("a PDF needs at least one page")
	}
	pdf := fpdf.NewCustom(&fpdf.InitType{UnitStr: "mm", OrientationStr: orientation(pages[0]), Size: size(pages[0])})
	pdf.SetTitle(title, true)
	pdf.SetLang("en-GB")
	pdf.SetCreator("Lamp Fern", true)
	pdf.SetAutoPageBreak(false, 0)
	pdf.SetMargins(0, 0, 0)
	pdf.AddUTF8FontFromBytes("commissioner", "", regularTTF)
	pdf.AddUTF8FontFromBytes("commissioner", "B", boldTTF)
	for _, s := range pages {
		pdf.AddPageFormat(orientation(s), size(s))
		for _, n := range s.Nodes {
			pdfNode(pdf, n)
		}
	}
	var b bytes.Buffer
	if err := pdf.Output(&b); err != nil {
		return nil, fmt.Errorf("writing the PDF: %w", err)
	}
	return b.Bytes(), nil
}

// size and orientation belong together: the library takes sizes upright and
// turns them.
func size(s Scene) fpdf.SizeType {
	return fpdf.SizeType{Wd: math.Min(s.Width, s.Height), Ht: math.Max(s.Width, s.Height)}
}

func orientation(s Scene) string {
	if s.Width > s.Height {
		return "L"
	}
	return "P"
}

func pdfNode(pdf *fpdf.Fpdf, n Node) {
	switch n := n.(type) {
	case Group:
		for _, c := range n.Nodes {
			pdfNode(pdf, c)
		}
	case Shape:
		how, through := "", 0.0 // how much is seen of what lightens
		if n.Style.Fill.onPaper() {
			through = math.Abs(n.Style.Fill.light)
			pdf.SetFillColor(channels(n.Style.Fill))
			how += "F"
		}
		if n.Style.Stroke.onPaper() {
			through = math.Max(through, math.Abs(n.Style.Stroke.light))
			pdf.SetDrawColor(channels(n.Style.Stroke))
			pdf.SetLineWidth(n.Style.Width)
			pdf.SetDashPattern(n.Style.Dash, 0)
			how += "D"
		}
		if how == "" {
			return
		}
		for _, s := range n.Path.segments {
			switch s.op {
			case 'M':
				pdf.MoveTo(s.p[0].X, s.p[0].Y)
			case 'L':
				pdf.LineTo(s.p[0].X, s.p[0].Y)
			case 'C':
				pdf.CurveBezierCubicTo(s.p[0].X, s.p[0].Y, s.p[1].X, s.p[1].Y, s.p[2].X, s.p[2].Y)
			case 'Z':
				pdf.ClosePath()
			}
		}
		if through > 0 {
			pdf.SetAlpha(through, "Normal")
			defer pdf.SetAlpha(1, "Normal")
		}
		pdf.DrawPath(how)
	case Bitmap:
		if len(n.PNG) == 0 {
			return
		}
		name := fmt.Sprintf("%x", sha256.Sum256(n.PNG))
		pdf.RegisterImageOptionsReader(name, fpdf.ImageOptions{ImageType: "PNG"}, bytes.NewReader(n.PNG))
		pdf.ImageOptions(name, n.X, n.Y, n.Width, n.Height, false, fpdf.ImageOptions{ImageType: "PNG"}, 0, "")
	case Text:
		style := ""
		if n.Bold {
			style = "B"
		}
		pdf.SetFont("commissioner", style, n.Size*pointsPerMillimetre)
		pdf.SetTextColor(channels(n.Paint))
		words := printable(n.Words)
		x := n.At.X
		switch n.Anchor {
		case Middle:
			x -= pdf.GetStringWidth(words) / 2
		case End:
			x -= pdf.GetStringWidth(words)
		}
		pdf.Text(x, n.At.Y, words)
	}
}

// onPaper reports whether paper shows a paint.
func (p Paint) onPaper() bool {
	return p.kind == paintSolid || p.kind == paintInk || p.kind == paintLight
}

// channels are the paint's colour in 0–255; ink on paper is black.
func channels(p Paint) (r, g, b int) {
	c := colour.RGB{}
	switch {
	case p.kind == paintSolid:
		c = p.rgb
	case p.light > 0:
		c = colour.RGB{R: 1, G: 1, B: 1}
	}
	n := func(v float64) int { return int(math.Round(255 * v)) }
	return n(c.R), n(c.G), n(c.B)
}
