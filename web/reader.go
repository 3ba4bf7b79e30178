package web

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/studio"
)

// readingsAsked is how many readings are taken when nothing else is asked.
const readingsAsked = 5

type readerBody struct {
	Name      string // of the reader; empty when none answers
	Simulated bool
	Trouble   string // why none answers
	For       *studio.Card
	Readings  int
	Under     string // what is said to lie under a simulated reader
	Measured  *studio.Measured
	Words     []string // of what was measured
	Near      []studio.Near
	Kinds     []string
	Lots      []string
}

// renderReader shows the reader's page; m is what was just measured.
func (s *Server) renderReader(c *gin.Context, status int, flash string, m *studio.Measured) {
	ctx := c.Request.Context()
	sh, err := s.studio.Shelf(ctx)
	if s.trouble(c, err, "") {
		return
	}
	b := readerBody{Readings: readingsAsked, Measured: m, Kinds: material.Kinds(), Under: c.PostForm("under")}
	if n, err := strconv.Atoi(c.PostForm("readings")); err == nil && n > 0 {
		b.Readings = n
	}
	id := c.Query("for")
	if c.Request.Method == http.MethodPost {
		id = c.PostForm("for")
	}
	if n, err := strconv.ParseUint(id, 10, 32); err == nil && n > 0 {
		if b.For, err = sh.Card(uint(n)); s.trouble(c, err, noSuchMaterial) {
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
	var refused studio.Refusal
	b.Name, b.Simulated, err = s.studio.ReaderState(ctx)
	if errors.As(err, &refused) {
		b.Trouble = string(refused)
	} else if s.trouble(c, err, "") {
		return
	}
	p := s.page(c, "reader", "Colour reader")
	p.Path = "/reader"
	p.Sub = "Put the reader on the cloth, yarn or chip; several readings make one colour that can be trusted"
	if b.For != nil {
		p.Path = fmt.Sprintf("/reader?for=%d", b.For.ID)
		p.Heading = "Measure " + b.For.Name
	}
	if m != nil {
		lab := m.Mean
		b.Words = append(b.Words, fmt.Sprintf("Value %.1f, %s.", lab.Value(), colour.Family(lab)))
		if b.For != nil {
			b.Words = append(b.Words, "Beside what was kept: "+colour.Beside(lab, b.For.Colour).Words())
		}
		b.Near = sh.Nearest(lab, 3, 0)
	}
	p.Body, p.Flash = b, flash
	s.render(c, status, p)
}

func (s *Server) reader(c *gin.Context) { s.renderReader(c, http.StatusOK, "", nil) }

// readerAct calibrates the reader or takes readings.
func (s *Server) readerAct(c *gin.Context) {
	ctx := c.Request.Context()
	say := func(err error) bool {
		var refused studio.Refusal
		switch {
		case err == nil:
			return false
		case errors.As(err, &refused):
			s.renderReader(c, http.StatusUnprocessableEntity, string(refused), nil)
		default:
			s.trouble(c, err, "")
		}
		return true
	}
	if c.PostForm("do") == "calibrate" {
		if !say(s.studio.Calibrate(ctx)) {
			s.renderReader(c, http.StatusOK, "Calibrated on the white tile. Now put the reader on the material.", nil)
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
	m, err := s.studio.Measure(ctx, n, under)
	if !say(err) {
		s.renderReader(c, http.StatusOK, "", &m)
	}
}

// underReader is what the maker says lies under a simulated reader: a material
// of the shelf by name, or a hex; nil for what lies there already.
func (s *Server) underReader(c *gin.Context) (*colour.Lab, error) {
	text := strings.TrimSpace(c.PostForm("under"))
	if text == "" {
		return nil, nil
	}
	sh, err := s.studio.Shelf(c.Request.Context())
	if err != nil {
		return nil, err
	}
	if card := sh.Named(text); card != nil {
		return &card.Colour, nil
	}
	rgb, err := colour.ParseHex(text)
	if err != nil {
		return nil, studio.Refusal(fmt.Sprintf("Nothing on the shelf is called %q: give a material's name, or a hex such as #4b2346.", text))
	}
	lab := rgb.Lab()
	return &lab, nil
}

// keepMeasured keeps what was measured.
func (s *Server) keepMeasured(c *gin.Context) {
	var m studio.Measured
	for _, text := range c.PostFormArray("lab") {
		var lab colour.Lab
		if _, err := fmt.Sscanf(text, "%g,%g,%g", &lab.L, &lab.A, &lab.B); err != nil || lab.Check() != nil {
			s.renderReader(c, http.StatusUnprocessableEntity, "The readings did not come through whole. Measure again.", nil)
			return
		}
		m.Readings = append(m.Readings, lab)
	}
	if len(m.Readings) == 0 || len(m.Readings) > studio.MaxReadings {
		s.renderReader(c, http.StatusUnprocessableEntity, "There is nothing to keep yet. Measure first.", nil)
		return
	}
	m.Mean, m.Spread = colour.Mean(m.Readings)
	id, _ := strconv.ParseUint(c.PostForm("for"), 10, 32)
	lot, whole := strings.CutPrefix(c.PostForm("to"), "lot ")
	if !whole {
		lot = ""
	}
	before := ""
	if sh, err := s.studio.Shelf(c.Request.Context()); err == nil {
		if k, err := sh.Card(uint(id)); err == nil && lot == "" {
			before = " Beside what it was before, it is " + colour.Beside(m.Mean, k.Colour).Words()
		}
	}
	kept, err := s.studio.KeepMeasured(c.Request.Context(), m, uint(id), lot, c.PostForm("name"), c.PostForm("kind"))
	var problems material.Problems
	var refused studio.Refusal
	switch {
	case errors.As(err, &problems):
		s.renderReader(c, http.StatusUnprocessableEntity, problems.Error(), &m)
	case errors.As(err, &refused):
		s.renderReader(c, http.StatusUnprocessableEntity, string(refused), &m)
	case s.trouble(c, err, noSuchMaterial):
	default:
		goTo(c, fmt.Sprintf("/shelf/material/%d", kept), fmt.Sprintf("Kept as measured: the mean of %s.", plural(len(m.Readings), "reading", "readings"))+before)
	}
}
