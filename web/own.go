package web

import (
	"encoding/base64"
	"fmt"
	"html/template"
	"math"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/piece"
	"lampfern/draw"
	"lampfern/studio"
)

// spareShafts are shown empty in a draft, so that an end can be put there.
const spareShafts = 1

type draftBody struct {
	*studio.ClothView
	Picture *draw.Scene
	Problem string
	Float   int  // floats over more threads are marked, 0 for none
	Back    bool // the other side is shown
}

// draftStage shows the threads and the draft of a cloth.
func draftStage(c *gin.Context, p *page) error {
	b := draftBody{}
	p.Sub = "The threads in order and the weave that lifts them; a square of the draft is marked by clicking on it"
	v, err := p.Plan.Cloth()
	if b.Problem, err = problem(err); err != nil || b.Problem != "" {
		p.Body = b
		return err
	}
	b.ClothView = v
	if n, err := strconv.Atoi(c.Query("float")); err == nil && n >= 0 && n <= 100 {
		b.Float = n
	}
	b.Back = c.Query("side") == "back"
	if q := c.Request.URL.Query(); len(q) > 0 {
		p.Path += "?" + q.Encode()
	}
	warp := v.WarpColours[:min(len(v.WarpColours), draw.MostDraft)]
	weft := v.WeftColours[:min(len(v.WeftColours), max(len(v.Draft.Treadling), draw.MostDraft*2/3), draw.MostDraft)]
	scene, err := draw.Draft(p.View.Light, v.Draft, warp, weft, spareShafts, b.Float, b.Back)
	b.Picture = &scene
	p.Body = b
	return err
}

// problem is a refusal in words, for showing in place of a page's body.
func problem(err error) (string, error) {
	if refused, is := err.(studio.Refusal); is {
		return string(refused), nil
	}
	return "", err
}

type stitchesBody struct {
	*studio.ChartView
	Picture template.URL // one repeat, a pixel a stitch
	Text    string
	Problem string
}

// stitchesStage shows a chart to be edited stitch by stitch.
func stitchesStage(p *page) error {
	b := stitchesBody{}
	p.Sub = "Choose a yarn, then paint stitches by dragging, or move with the arrow keys and press space"
	v, err := p.Plan.Stranded()
	if b.Problem, err = problem(err); err != nil || b.Problem != "" {
		p.Body = b
		return err
	}
	b.ChartView = v
	labs := make([]*colour.Lab, len(v.Fill))
	for i, at := range v.Fill {
		labs[i] = &studio.LooseThread
		if at >= 0 {
			labs[i] = &p.Plan.Tray[at].Colour
		}
	}
	data, err := draw.ChartPicture(p.View.Light, v.Piece.Cells, labs)
	b.Picture = template.URL("data:image/png;base64," + base64.StdEncoding.EncodeToString(data))
	b.Text = strings.Join(v.Chart, "\n")
	p.Body = b
	return err
}

type drawingBody struct {
	*studio.DrawingView
	Unders   []underRow
	Seen     []seenPart // what is seen of each part
	Outlines []outlineRow
	Problem  string
}

// underRow is a photo under the drawing as the page shows it.
type underRow struct {
	piece.Under
	At      int
	Address string
}

// Percent is a share as a slider shows it.
func (underRow) Percent(v float64) float64 { return math.Round(1000*v) / 10 }

// seenPart is what is seen of a part of a drawing, as an SVG path in mm.
type seenPart struct {
	Path  string
	Paint template.CSS
}

// outlineRow is one outline of a drawing as the page shows it.
type outlineRow struct {
	piece.Outline
	At     int
	Name   string
	Points string // as SVG has them, in mm
	Seen   bool
	Top    bool
	Bottom bool
}

// drawingStage shows the maker's drawing, to be drawn in.
func drawingStage(p *page) error {
	b := drawingBody{}
	p.Sub = "Click once for each corner and on the first again to close; later outlines lie over earlier ones"
	v, err := p.Plan.Drawn()
	if b.Problem, err = problem(err); err != nil || b.Problem != "" {
		p.Body = b
		return err
	}
	b.DrawingView = v
	for i, u := range underPictures(p, p.Plan.Piece.Piece) {
		b.Unders = append(b.Unders, underRow{At: i, Under: v.Drawing.Unders[i], Address: u.Template})
	}
	if len(b.Unders) > 0 {
		p.Sub = "Make the photo ready, then draw the parts over it: click corners, or let a part grow to its edges"
	}
	for i, o := range v.Drawing.Outlines {
		row := outlineRow{Outline: o, At: i, Name: v.Parts[o.Part].Name, Seen: v.Seen[o.Part], Bottom: i == 0, Top: i == len(v.Drawing.Outlines)-1}
		var pts []string
		for _, q := range o.Corners {
			pts = append(pts, fmt.Sprintf("%.6g,%.6g", q.X, q.Y))
		}
		row.Points = strings.Join(pts, " ")
		b.Outlines = append(b.Outlines, row)
	}
	one := v.Drawing
	one.Across, one.Down = 1, 1
	made, err := piece.Build("drawn", nil, piece.Own{Drawing: &one})
	if err != nil {
		return err
	}
	for i, contours := range made.Contours() {
		seen := seenPart{Paint: "fill:none"}
		if lab := v.Labs[i]; lab != nil {
			rgb, _ := p.View.Show(*lab)
			seen.Paint = template.CSS("fill:" + rgb.Hex())
		}
		var d strings.Builder
		for _, c := range contours {
			for k, q := range c {
				fmt.Fprintf(&d, "%s%.6g %.6g", map[bool]string{true: "M", false: "L"}[k == 0], q.X, q.Y)
			}
			d.WriteString("z")
		}
		seen.Path = d.String()
		b.Seen = append(b.Seen, seen)
	}
	p.Body = b
	return nil
}

type secondBody struct {
	*studio.SecondView
	Problem string
}

// secondStage shows what could go with a first thread.
func secondStage(c *gin.Context, p *page) error {
	b := secondBody{}
	p.Sub = "Three schools of choosing a second thread, each with the face that the two make together"
	first, err := strconv.Atoi(c.Query("first"))
	if err != nil {
		first = 0
	}
	v, err := p.Plan.Seconds(first, c.Query("structure"))
	if b.Problem, err = problem(err); err != nil {
		return err
	}
	b.SecondView = v
	if q := c.Request.URL.Query(); len(q) > 0 {
		p.Path += "?" + q.Encode()
	}
	p.Body = b
	return nil
}

// ownEdit makes the edits of parts and of what makers put into a piece; nil for
// any other.
func (f *form) ownEdit(do string) studio.Edit {
	post := f.c.PostForm
	switch do {
	case "fill-at":
		return studio.FillAt(f.number("across", 0), f.number("down", 0), f.int("key"))
	case "group":
		return studio.Group(f.c.PostFormArray("part"))
	case "ungroup":
		return studio.Ungroup(post("part"))
	case "orders":
		return studio.SetOrders(post("warp"), post("weft"))
	case "turn-warp", "turn-weft":
		return studio.TurnOrder(do == "turn-weft")
	case "as-warped":
		return studio.WeaveAsWarped()
	case "draft":
		return studio.SetDraft(post("threading"), post("tieup"), post("treadling"))
	case "draft-mark":
		return studio.MarkDraft(studio.DraftGrid(post("grid")), f.int("across"), f.int("down"))
	case "chart-paint":
		return studio.PaintChart(f.pairs("cells"), f.int("yarn"))
	case "chart-size":
		return studio.SizeChart(f.int("across"), f.int("down"))
	case "chart-text":
		return studio.WriteChart(post("text"))
	case "chart-mirror":
		return studio.MirrorChart(post("upright") != "")
	case "body-name":
		return studio.NameBody(f.int("body"), post("part"))
	case "rows":
		return studio.SetRows(post("rows"))
	case "pours":
		return studio.SetPours(post("pours"))
	case "drawing-size":
		return studio.SizeDrawing(f.number("width", 0), f.number("height", 0), f.int("across"), f.int("down"))
	case "outline":
		corners := f.corners("corners")
		if post("radius") != "" && len(corners) == 1 {
			corners = piece.Disc(corners[0], f.number("radius", 0))
		}
		return studio.AddOutline(post("part"), corners)
	case "outline-move":
		return studio.MoveOutline(f.int("at"), f.number("dx", 0), f.number("dy", 0))
	case "split":
		if at := f.corners("line"); len(at) == 2 {
			return studio.SplitOutline(f.int("at"), at[0], at[1], post("part"))
		}
	case "under-away":
		return studio.TakeUnder(f.int("at"))
	case "reference-away":
		return studio.DropReference(post("photo"))
	case "outline-copy":
		return studio.CopyOutline(f.int("at"))
	case "outline-away":
		return studio.DropOutline(f.int("at"))
	case "outline-raise", "outline-lower":
		return studio.RaiseOutline(f.int("at"), do == "outline-lower")
	case "outline-name":
		return studio.NameOutline(f.int("at"), post("part"))
	}
	return nil
}

// pairs reads places written "x.y x.y".
func (f *form) pairs(field string) [][2]int {
	var out [][2]int
	for _, w := range strings.Fields(f.c.PostForm(field)) {
		x, y, _ := strings.Cut(w, ".")
		a, errA := strconv.Atoi(x)
		b, errB := strconv.Atoi(y)
		if (errA != nil || errB != nil) && f.bad == nil {
			f.bad = studio.Refusal("Those stitches are not known here. Load the page again.")
		}
		out = append(out, [2]int{a, b})
	}
	return out
}

// corners reads corners in mm, written "x,y x,y".
func (f *form) corners(field string) []piece.Point {
	var out []piece.Point
	for _, w := range strings.Fields(f.c.PostForm(field)) {
		x, y, _ := strings.Cut(w, ",")
		a, errA := strconv.ParseFloat(x, 64)
		b, errB := strconv.ParseFloat(y, 64)
		if (errA != nil || errB != nil) && f.bad == nil {
			f.bad = studio.Refusal(fmt.Sprintf("%q is no corner: write each as two numbers in mm with a comma between, such as 0,0 100,0 100,50.", w))
		}
		out = append(out, piece.Point{X: a, Y: b})
	}
	return out
}

// mend is what a note offers to do: a change, or a page to look at.
type mend struct {
	Label, Do, Page string
}

// Mend is what a note on the piece offers beside setting aside and swapping; nil
// for nothing.
func (p *page) Mend(n balance.Note) *mend {
	if p.Plan == nil || p.Stage != "proportion" {
		return nil
	}
	m := p.Plan.Mend(n)
	if m == nil {
		return nil
	}
	out := &mend{Label: m.Label}
	switch {
	case m.Find != nil:
		out.Page = fmt.Sprintf("/plans/%d/gather?%s", p.Plan.ID, queryOf(*m.Find).Encode())
	case m.Material != 0:
		out.Do = fmt.Sprintf("do=replace&key=%d&material=%d", m.Card, m.Material)
	case m.Far > 0:
		out.Page = fmt.Sprintf("/plans/%d/proportion?far=%g", p.Plan.ID, m.Far)
	case m.Own:
		out.Page = fmt.Sprintf("/plans/%d/%s", p.Plan.ID, ownPages[p.Plan.Template].Key)
	default:
		out.Page = fmt.Sprintf("/plans/%d/ways", p.Plan.ID)
	}
	return out
}
