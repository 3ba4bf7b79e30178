package page

import (
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"lampfern/core/card"
	"lampfern/core/surface"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/plan"
	"lampfern/shelf"
	stage "lampfern/stages/mix"
	"lampfern/web"
)

type chartsBody struct {
	*stage.ChartView
	Query  string // of the chart that is shown, for its sheets
	Papers []card.Paper
	Asked  int  // fields
	Enter  bool // what came out is written down
	Photo  *chartPhoto
	Photos []web.Choice
	Today  string
	Reader bool // a colour reader is set up
}

// chartPhoto is a photo of a painted chart, and how it is read.
type chartPhoto struct {
	Hash     string
	Wide     float64 // of its picture, in units of the overlay
	High     float64
	Paper    string
	Sheet    int
	Sheets   []web.Choice
	Corners  [4]cornerField
	Outlines []string // of the fields, for the overlay
	Trouble  string
	Doubts   []string // of single fields
	results  map[int]string
}

// cornerField is a corner in hundredths of the photo.
type cornerField struct {
	Name, Key string
	X, Y      float64
}

// Result is what a field was read as from the photo, empty without one.
func (b chartsBody) Result(number int) string {
	if b.Photo == nil {
		return ""
	}
	return b.Photo.results[number]
}

// asked is the chart that an address asks for.
func (s pages) asked(c *gin.Context, p *plan.Plan) (*stage.ChartView, error) {
	number := func(field string) uint {
		n, err := strconv.ParseUint(c.Query(field), 10, 32)
		if err != nil {
			return 0
		}
		return uint(n)
	}
	return stage.Charted(c.Request.Context(), s.Desk, p, c.Query("kind"), number("a"), number("b"))
}

func (s pages) chartsStage(c *gin.Context, p *web.Page) error {
	v, err := s.asked(c, p.Plan)
	if err != nil {
		return err
	}
	p.Sub = v.Kind.Words
	q := url.Values{"kind": {v.Kind.Key}}
	if v.Kind.One && v.A != nil {
		q.Set("a", fmt.Sprint(v.A.ID))
	}
	if v.Kind.Two && v.B != nil {
		q.Set("b", fmt.Sprint(v.B.ID))
	}
	b := chartsBody{ChartView: v, Query: q.Encode(), Papers: card.Papers()}
	for _, r := range v.Rows {
		b.Asked += len(r.Fields)
	}
	asked := c.Request.URL.Query()
	if len(asked) > 0 {
		p.Path += "?" + asked.Encode()
	}
	b.Reader = s.Desk.Reader() != ""
	b.Today = time.Now().Format("2006-01-02")
	b.Enter = asked.Get("enter") != "" || asked.Get("photo") != ""
	if b.Enter {
		rows, err := s.Desk.Photos(c.Request.Context())
		if err != nil {
			return err
		}
		for _, r := range rows {
			b.Photos = append(b.Photos, web.Choice{Key: r.Hash, Name: r.Name, On: r.Hash == asked.Get("photo")})
		}
		if hash := asked.Get("photo"); hash != "" && len(v.Rows) > 0 {
			if b.Photo, err = s.chartPhoto(c, v, hash, asked); err != nil {
				return err
			}
		}
	}
	p.Body = b
	return nil
}

// inset is what is left out of a field at each edge, as a share, so that a corner placed
// a little off does no harm.
const inset = 0.18

// corners of the block of fields, in turn, and where they stand until they are placed.
var corners = []cornerField{{"top left", "c0", 6, 6}, {"top right", "c1", 94, 6}, {"bottom right", "c2", 94, 94},
	{"bottom left", "c3", 6, 94}}

// chartPhoto reads a photo of one sheet of a chart.
func (s pages) chartPhoto(c *gin.Context, v *stage.ChartView, hash string, asked url.Values) (*chartPhoto, error) {
	photo, err := s.Desk.Photo(c.Request.Context(), hash)
	if errors.Is(err, shelf.ErrNotFound) {
		return &chartPhoto{Trouble: "That photo was deleted. Choose another."}, nil
	}
	if err != nil {
		return nil, err
	}
	out := &chartPhoto{Hash: hash, Wide: 1000, High: 1000 * photo.Aspect(), results: map[int]string{}, Sheet: 1}
	paper, err := card.FindPaper(asked.Get("paper"))
	if err != nil {
		paper = card.Papers()[0]
	}
	out.Paper = paper.Key
	size, err := card.Custom(fieldWide, fieldHigh)
	if err != nil {
		return nil, err
	}
	l, err := card.Lay(paper, size)
	if err != nil {
		return nil, err
	}
	var all []stage.Field
	for _, r := range v.Rows {
		all = append(all, r.Fields...)
	}
	if n, err := strconv.Atoi(asked.Get("sheet")); err == nil && n >= 1 && n <= l.Sheets(len(all)) {
		out.Sheet = n
	}
	for n := 1; n <= l.Sheets(len(all)); n++ {
		out.Sheets = append(out.Sheets, web.Choice{Key: fmt.Sprint(n), Name: fmt.Sprint(n), On: n == out.Sheet})
	}
	var at [4]surface.Spot
	for i, k := range corners {
		if text := strings.Split(asked.Get(k.Key), ","); len(text) == 2 {
			x, errX := strconv.ParseFloat(strings.TrimSpace(text[0]), 64)
			y, errY := strconv.ParseFloat(strings.TrimSpace(text[1]), 64)
			if errX != nil || errY != nil || !(x >= -50 && x <= 150 && y >= -50 && y <= 150) {
				out.Trouble = "A corner is two numbers in hundredths of the photo, such as 6, 94. Write it again, or click the corner."
			} else {
				k.X, k.Y = x, y
			}
		}
		out.Corners[i], at[i] = k, surface.Spot{X: k.X / 100, Y: k.Y / 100}
	}
	from, wide, high := l.Block()
	field := card.FieldOf(size)
	share := func(x, y, w, h float64) shelf.Box {
		return shelf.Box{X: x / wide, Y: y / high, W: w / wide, H: h / high}
	}
	first := (out.Sheet - 1) * l.PerSheet()
	sheet := all[first:min(len(all), first+l.PerSheet())]
	var fields []shelf.SheetField
	for i := range sheet {
		x, y := l.At(i).X-from.X, l.At(i).Y-from.Y
		// What is painted is read above the grey patch, which lies at its foot.
		tall := field.Grey.Y - field.Top
		fields = append(fields, shelf.SheetField{
			Painted: share(x+inset*size.Width, y+field.Top+inset*tall, (1-2*inset)*size.Width, (1-2*inset)*tall),
			Grey:    share(x+field.Grey.X+inset*field.Side, y+field.Grey.Y+inset*field.Side, (1-2*inset)*field.Side, (1-2*inset)*field.Side)})
	}
	var quad surface.Corners
	for i, k := range at {
		quad[i] = surface.Spot{X: k.X * out.Wide, Y: k.Y * out.High}
	}
	read, err := photo.ReadSheet(at, fields, card.GreyPatch)
	if refused := (words.Refusal("")); errors.As(err, &refused) {
		out.Trouble = string(refused)
		return out, nil
	}
	if err != nil {
		return nil, err
	}
	var left, uneven []string
	for i, r := range read {
		for _, b := range []shelf.Box{fields[i].Painted, fields[i].Grey} {
			line := ""
			for n, k := range [][2]float64{{b.X, b.Y}, {b.X + b.W, b.Y}, {b.X + b.W, b.Y + b.H}, {b.X, b.Y + b.H}} {
				to := quad.At(k[0], k[1])
				line += fmt.Sprintf("%s%.1f %.1f", map[bool]string{true: "M", false: "L"}[n == 0], to.X, to.Y)
			}
			out.Outlines = append(out.Outlines, line+"Z")
		}
		number := sheet[i].Number
		switch {
		case r.Trouble != "":
			left = append(left, fmt.Sprint(number))
			continue
		case r.Spread > unevenField:
			uneven = append(uneven, fmt.Sprint(number))
		}
		out.results[number] = fmt.Sprintf("%.1f %.1f %.1f", r.Colour.L, r.Colour.A, r.Colour.B)
	}
	if len(left) > 0 {
		out.Doubts = append(out.Doubts,
			fmt.Sprintf("%s skipped: no plain grey where the patch should be. Check the corners, and that the patch is not in shadow or overexposed.",
				fieldsWords(left)))
	}
	if len(uneven) > 0 {
		out.Doubts = append(out.Doubts,
			fmt.Sprintf("%s uneven or of more than one colour. Check the corners, or measure them another way.", fieldsWords(uneven)))
	}
	return out, nil
}

// fieldsWords names fields as the beginning of a sentence.
func fieldsWords(numbers []string) string {
	if len(numbers) == 1 {
		return "Square " + numbers[0] + " is"
	}
	return "Squares " + words.All(numbers) + " are"
}

// unevenField is the spread, in ΔE00, from which a field is told to be uneven.
const unevenField = 8.0

// Size of a field to be painted, in mm.
const fieldWide, fieldHigh = 44.0, 54.0

// chartSheets sends a chart as blanks to be painted, each with its number, its recipe
// and a grey patch to photograph it by.
func (s pages) chartSheets(format string) gin.HandlerFunc {
	return func(c *gin.Context) {
		p, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
		if s.Trouble(c, err, web.NoSuchPlan) {
			return
		}
		v, err := s.asked(c, p)
		if s.Trouble(c, err, "") {
			return
		}
		paper, err := card.FindPaper(c.Query("paper"))
		if err != nil {
			s.Fail(c, http.StatusUnprocessableEntity, words.Capital(err.Error())+".")
			return
		}
		var fields []draw.SheetCard
		for _, r := range v.Rows {
			for _, f := range r.Fields {
				fields = append(fields, draw.SheetCard{Lines: f.Of, Number: f.Number, Colour: f.Colour})
			}
		}
		if len(fields) == 0 {
			s.Fail(c, http.StatusUnprocessableEntity, v.Problem)
			return
		}
		size, err := card.Custom(fieldWide, fieldHigh)
		if s.Trouble(c, err, "") {
			return
		}
		l, err := card.Lay(paper, size)
		if s.Trouble(c, err, "") {
			return
		}
		s.SendPages(c, p.Name+" "+v.Kind.Name, draw.Sheets(l, p.Name+": "+v.Kind.Name, fields, draw.Blanks, false), format)
	}
}
