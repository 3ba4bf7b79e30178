package reader

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/web"
)

// readingsAsked is how many readings are taken when nothing else is asked.
const readingsAsked = 5

type readerBody struct {
	Name      string // of the reader; empty when none answers
	Simulated bool
	Trouble   string // why none answers
	Offered   bool   // a simulated one can be started
	For       *shelf.Card
	Plan      *plan.Plan // whose finished thing is measured; nil for none
	Readings  int
	Under     string // what is said to lie under a simulated reader
	Measured  *shelf.Measured
	Words     []string // of what was measured
	Near      []shelf.Near
	Kinds     []string
	Lots      []string
}

// renderReader shows the reader's page; m is what was just measured.
func (s pages) renderReader(c *gin.Context, status int, flash string, m *shelf.Measured) {
	ctx := c.Request.Context()
	sh, err := s.Desk.Shelf(ctx)
	if s.Trouble(c, err, "") {
		return
	}
	b := readerBody{Readings: readingsAsked, Measured: m, Kinds: material.Kinds(), Under: c.PostForm("under")}
	if n, err := strconv.Atoi(c.PostForm("readings")); err == nil && n > 0 {
		b.Readings = n
	}
	id, made := c.Query("for"), c.Query("plan")
	if c.Request.Method == http.MethodPost {
		id, made = c.PostForm("for"), c.PostForm("plan")
	}
	if n, err := strconv.ParseUint(made, 10, 32); err == nil && n > 0 {
		if b.Plan, err = s.Desk.Open(ctx, uint(n)); s.Trouble(c, err, web.NoSuchPlan) {
			return
		}
	}
	if n, err := strconv.ParseUint(id, 10, 32); err == nil && n > 0 {
		if b.For, err = sh.Card(uint(n)); s.Trouble(c, err, web.NoSuchMaterial) {
			return
		}
		for _, l := range b.For.Lots {
			if l.Name != "" {
				b.Lots = append(b.Lots, l.Name)
			}
		}
		if b.Under == "" {
			b.Under = b.For.Name
		}
	}
	var refused words.Refusal
	b.Name, b.Simulated, err = s.Desk.ReaderState(ctx)
	if errors.As(err, &refused) {
		b.Trouble, b.Offered = string(refused), s.Desk.Reader() == "" && s.Desk.StartReader != nil
	} else if s.Trouble(c, err, "") {
		return
	}
	p := s.Page(c, "reader", "Add materials")
	p.Title = "Measure with a colour reader"
	p.Path = "/reader"
	p.Sub = "Place the reader on the cloth, yarn or chip. Several readings make one accurate colour"
	if b.For != nil {
		p.Path = fmt.Sprintf("/reader?for=%d", b.For.ID)
		p.Heading = "Measure " + b.For.Name
	}
	if b.Plan != nil {
		p.Path = fmt.Sprintf("/reader?plan=%d", b.Plan.ID)
		p.Heading = "Measure the finished " + b.Plan.Name
	}
	if m != nil {
		lab := m.Mean
		b.Words = append(b.Words, fmt.Sprintf("Value %.1f, %s.", lab.Value(), colour.Family(lab)))
		if b.For != nil {
			b.Words = append(b.Words, "Compared with the saved colour: "+colour.Beside(lab, b.For.Colour).Words())
		}
		b.Near = sh.Nearest(lab, 3, 0)
	}
	p.Body, p.Flash = b, flash
	s.Render(c, status, p)
}

func (s pages) reader(c *gin.Context) { s.renderReader(c, http.StatusOK, "", nil) }

// readerAct calibrates the reader or takes readings.
func (s pages) readerAct(c *gin.Context) {
	ctx := c.Request.Context()
	say := func(err error) bool {
		var refused words.Refusal
		switch {
		case err == nil:
			return false
		case errors.As(err, &refused):
			s.renderReader(c, http.StatusUnprocessableEntity, string(refused), nil)
		default:
			s.Trouble(c, err, "")
		}
		return true
	}
	if c.PostForm("do") == "simulate" {
		if !say(s.Desk.Simulate()) {
			s.renderReader(c, http.StatusOK,
				"Simulated reader connected. Choose what to measure, calibrate, then measure.", nil)
		}
		return
	}
	if c.PostForm("do") == "calibrate" {
		if !say(s.Desk.Calibrate(ctx)) {
			s.renderReader(c, http.StatusOK, "Calibrated. Now place the reader on the material.", nil)
		}
		return
	}
	n, err := strconv.Atoi(strings.TrimSpace(c.PostForm("readings")))
	if err != nil {
		n = 0
	}
	under, err := s.underReader(c)
	if say(err) {
		return
	}
	m, err := s.Desk.Measure(ctx, n, under)
	if !say(err) {
		s.renderReader(c, http.StatusOK, "", &m)
	}
}

// underReader is what the maker says lies under a simulated reader: a material
// of the shelf by name, or a hex; nil for what lies there already.
func (s pages) underReader(c *gin.Context) (*colour.Lab, error) {
	text := strings.TrimSpace(c.PostForm("under"))
	if text == "" {
		return nil, nil
	}
	sh, err := s.Desk.Shelf(c.Request.Context())
	if err != nil {
		return nil, err
	}
	if card := sh.Named(text); card != nil {
		return &card.Colour, nil
	}
	rgb, err := colour.ParseHex(text)
	if err != nil {
		return nil, words.Refusal(fmt.Sprintf("No material is called %q. Give a material’s name, or a code such as #4b2346.", text))
	}
	lab := rgb.Lab()
	return &lab, nil
}

// keepMeasured keeps what was measured.
func (s pages) keepMeasured(c *gin.Context) {
	var m shelf.Measured
	for _, text := range c.PostFormArray("lab") {
		var lab colour.Lab
		if _, err := fmt.Sscanf(text, "%g,%g,%g", &lab.L, &lab.A, &lab.B); err != nil || lab.Check() != nil {
			s.renderReader(c, http.StatusUnprocessableEntity, "Some readings are missing. Measure again.", nil)
			return
		}
		m.Readings = append(m.Readings, lab)
	}
	if len(m.Readings) == 0 || len(m.Readings) > shelf.MaxReadings {
		s.renderReader(c, http.StatusUnprocessableEntity, "Nothing to save yet. Measure first.", nil)
		return
	}
	m.Mean, m.Spread = colour.Mean(m.Readings)
	id, _ := strconv.ParseUint(c.PostForm("for"), 10, 32)
	lot, whole := strings.CutPrefix(c.PostForm("to"), "lot ")
	if !whole {
		lot = ""
	}
	before := ""
	if sh, err := s.Desk.Shelf(c.Request.Context()); err == nil {
		if k, err := sh.Card(uint(id)); err == nil && lot == "" {
			before = " Compared with before, it is " + colour.Beside(m.Mean, k.Colour).Words()
		}
	}
	kept, err := s.Desk.KeepMeasured(c.Request.Context(), m, uint(id), lot, c.PostForm("name"), c.PostForm("kind"))
	var problems material.Problems
	var refused words.Refusal
	switch {
	case errors.As(err, &problems):
		s.renderReader(c, http.StatusUnprocessableEntity, problems.Error(), &m)
	case errors.As(err, &refused):
		s.renderReader(c, http.StatusUnprocessableEntity, string(refused), &m)
	case s.Trouble(c, err, web.NoSuchMaterial):
	default:
		web.GoTo(c, fmt.Sprintf("/shelf/material/%d", kept), fmt.Sprintf("Saved: the mean of %s.",
			words.Plural(len(m.Readings), "reading", "readings"))+before)
	}
}
