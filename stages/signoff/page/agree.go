package page

import (
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"lampfern/core/words"
	"lampfern/door"
	"lampfern/exchange"
	stage "lampfern/stages/signoff"
	"lampfern/web"
)

// agreePage is the client's page: one sheet and nothing else.
type agreePage struct {
	*stage.Frozen
	Token, Sub, Size, Trust string
	Ways                    []agreeWay
	Drawn                   template.URL // the maker's sketch; empty for none
	Cards                   []agreeCard
	Lamps, Eyes             []web.Choice // Key is the address
	Once                    string
	Problem                 string
	Thanks                  string
	Reply                   stage.Reply // as it was sent, where it was refused
	Last                    string      // the answer that counts so far
	Until                   string

	File          bool // it stands alone, as one file
	Style, Script any
	Key           string // binds the answer of a file to its sheet
	Number        int
}

type agreeWay struct {
	Name    string
	Picture string        // its address
	Inline  template.HTML // or itself, in a file
	On      bool
}

type agreeCard struct {
	stage.Card
	Words, Hex, Remark string
	Share              string // of the face, in the first way; empty for a palette
	Picture            template.URL
	At                 int
}

// policy of the client's page: nothing from elsewhere, no script, no style within.
const agreePolicy = "default-src 'none'; img-src 'self' data:; style-src 'self'; font-src 'self'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"

// mostReply bounds what a client may send, in bytes.
const mostReply = 64 << 10

// open is the sheet of a link. It answers the request itself where the link does not
// open, with one sentence that tells nothing of what there is.
func (s pages) open(c *gin.Context) (stage.Sheet, *stage.Frozen, bool) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", agreePolicy)
	h.Set("Referrer-Policy", "no-referrer")
	h.Set("X-Robots-Tag", "noindex")
	from := s.From(c.Request)
	sheet, f, err := stage.LinkedBy(c.Request.Context(), s.Desk, c.Param("token"))
	if errors.Is(err, stage.ErrNoSheet) {
		if wait := s.guesses.Try(from); wait > 0 { // a link that is known is never slowed
			h.Set("Retry-After", fmt.Sprint(int(wait.Seconds())+1))
			s.shut(c, http.StatusTooManyRequests, door.Waits{For: wait}.Error())
			return sheet, nil, false
		}
		s.shut(c, http.StatusNotFound, "This link does not open. Check that it is complete, or ask whoever sent it.")
		return sheet, nil, false
	}
	if s.Trouble(c, err, "") {
		return sheet, nil, false
	}
	if err := stage.Open(sheet, time.Now()); err != nil {
		s.shut(c, http.StatusGone, err.Error())
		return sheet, nil, false
	}
	return sheet, f, true
}

// shut says one sentence to a client.
func (s pages) shut(c *gin.Context, status int, sentence string) {
	s.send(c, status, agreePage{Frozen: &stage.Frozen{}, Problem: sentence, Token: "-"})
}

func (s pages) send(c *gin.Context, status int, p agreePage) {
	data, err := s.Write("agree", "agree", p)
	if s.Trouble(c, err, "") {
		return
	}
	c.Data(status, "text/html; charset=utf-8", data)
}

// look is how a client looks at the colours, by the address.
func look(q url.Values) web.View { return web.ViewOf(q.Get("lamp"), q.Get("eye")) }

// fill makes the page of a sheet.
func fill(sheet stage.Sheet, f *stage.Frozen, v web.View, q url.Values) agreePage {
	p := agreePage{Frozen: f, Token: sheet.Token, Sub: subOf(sheet, f), Size: sizeOf(f), Trust: trust + ".", Once: door.Token(),
		Number: sheet.Number, Key: stage.FileKey(sheet),
		Until: words.Date(sheet.EndsAt.Local())}
	if f.Sketch != nil {
		p.Drawn = template.URL(jpegURL(f.Sketch))
	}
	for i, w := range f.Ways {
		one := url.Values{"way": {fmt.Sprint(i)}, "lamp": {q.Get("lamp")}, "eye": {q.Get("eye")}}
		p.Ways = append(p.Ways, agreeWay{Name: w.Name, Picture: "/agree/" + sheet.Token + "/piece.svg?" + one.Encode(), On: i == 0})
	}
	for i, card := range f.Cards {
		rgb, _ := v.Show(card.Colour)
		one := agreeCard{Card: card, Words: cardWords(f, f.Ways[0], i), Hex: rgb.Hex(), At: i}
		if !f.Palette {
			one.Share = words.PerCent(f.Ways[0].Shares[i])
		}
		if card.Print != nil && v.PlainDaylight() {
			one.Picture = template.URL(inline(card.Print))
		}
		p.Cards = append(p.Cards, one)
	}
	p.Lamps, p.Eyes = web.Lights(v, "/agree/"+sheet.Token)
	return p
}

// agree shows the client's page.
func (s pages) agree(c *gin.Context) {
	sheet, f, found := s.open(c)
	if !found {
		return
	}
	if c.Query("own") == "" { // which the maker's page asks with
		if err := stage.Seen(c.Request.Context(), s.Desk, sheet); s.Trouble(c, err, "") {
			return
		}
	}
	p := fill(sheet, f, look(c.Request.URL.Query()), c.Request.URL.Query())
	if c.Query("thanks") != "" {
		p.Thanks = "Thank you. Your reply is saved. You can reply again while this link is open; the last reply counts."
	}
	var err error
	if p.Last, err = stage.SaidSoFar(c.Request.Context(), s.Desk, sheet); s.Trouble(c, err, "") {
		return
	}
	s.send(c, http.StatusOK, p)
}

// answer takes what a client says.
func (s pages) answer(c *gin.Context) {
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, mostReply)
	err := c.Request.ParseForm()
	sheet, f, found := s.open(c)
	if !found {
		return
	}
	p := fill(sheet, f, web.ViewOf("", ""), url.Values{})
	if err != nil {
		p.Problem = "That is too long. Please shorten it."
		s.send(c, http.StatusRequestEntityTooLarge, p)
		return
	}
	form := c.Request.PostForm
	r := stage.Reply{Agreed: form.Get("verdict") == "agree", Name: form.Get("name"), Way: form.Get("way"), Remark: form.Get("remark"),
		Once: form.Get("once"), Remarks: map[string]string{}}
	for i, card := range f.Cards {
		r.Remarks[card.Name] = form.Get(fmt.Sprintf("card%d", i))
	}
	switch {
	case form.Get("website") != "": // which nobody sees, and robots fill
		err = words.Refuse("Part of this form is missing. Open the page again.")
	case form.Get("verdict") != "agree" && form.Get("verdict") != "change":
		err = words.Refuse("Choose I agree or Request changes.")
	default:
		err = stage.Answer(c.Request.Context(), s.Desk, sheet, r, stage.ByLink)
	}
	var refused words.Refusal
	if errors.As(err, &refused) {
		p.Problem, p.Reply, p.Once = string(refused), r, r.Once
		for i := range p.Cards {
			p.Cards[i].Remark = r.Remarks[p.Cards[i].Name]
		}
		for i := range p.Ways {
			p.Ways[i].On = p.Ways[i].Name == r.Way
		}
		s.send(c, http.StatusUnprocessableEntity, p)
		return
	}
	if s.Trouble(c, err, "") {
		return
	}
	c.Redirect(http.StatusSeeOther, "/agree/"+sheet.Token+"?thanks=1")
}

// agreePiece sends the piece in one of the ways, as the address says it is looked at.
func (s pages) agreePiece(c *gin.Context) {
	_, f, found := s.open(c)
	if !found {
		return
	}
	way, err := strconv.Atoi(c.DefaultQuery("way", "0"))
	if err != nil || way < 0 || way >= len(f.Ways) {
		c.Status(http.StatusNotFound)
		return
	}
	svg, err := pieceOf(look(c.Request.URL.Query()), f, way, "piece")
	if s.Trouble(c, err, "") {
		return
	}
	c.Header("Content-Security-Policy", "default-src 'none'; img-src data:; style-src 'unsafe-inline'")
	c.Header("Cache-Control", "private, max-age=3600")
	c.Data(http.StatusOK, "image/svg+xml", []byte(svg))
}

// agreeStyle sends the sheet of the client's page.
func (s pages) agreeStyle(c *gin.Context) {
	data, err := files.ReadFile("agree.style")
	if s.Trouble(c, err, "") {
		return
	}
	c.Header("Cache-Control", "private, max-age=3600")
	font := fmt.Sprintf("@font-face { font-family: Commissioner; src: url(%s) format('woff2'); font-weight: 100 900; font-display: swap; }\n",
		s.Static("font/commissioner-latin-wght-normal.woff2"))
	c.Data(http.StatusOK, "text/css; charset=utf-8", append([]byte(font), data...))
}

// file sends a sheet as one file.
func (s pages) file(c *gin.Context) {
	sheet, f, found := s.sheet(c)
	if !found {
		return
	}
	data, err := s.oneFile(sheet, f)
	if s.Trouble(c, err, "") {
		return
	}
	web.Download(c, fileName(sheet, f), "text/html; charset=utf-8", data)
}

func fileName(sheet stage.Sheet, f *stage.Frozen) string {
	return fmt.Sprintf("%s sheet %d.html", f.Plan, sheet.Number)
}

// oneFile is a sheet as one file that opens anywhere without a network, and makes an
// answer text to send back.
func (s pages) oneFile(sheet stage.Sheet, f *stage.Frozen) ([]byte, error) {
	v := web.ViewOf("", "")
	p := fill(sheet, f, v, url.Values{})
	p.File, p.Token, p.Lamps, p.Eyes = true, "", nil, nil
	for i := range f.Ways {
		svg, err := pieceOf(v, f, i, fmt.Sprintf("way%d", i))
		if err != nil {
			return nil, err
		}
		p.Ways[i].Inline, p.Ways[i].Picture = svg, ""
	}
	style, err := files.ReadFile("agree.style")
	if err != nil {
		return nil, err
	}
	script, err := files.ReadFile("answer.script")
	if err != nil {
		return nil, err
	}
	p.Style, p.Script = template.CSS(style), template.JS(script)
	return s.Write("agree", "agree", p)
}

// mail sends the sheet by the maker's own mail server, when it is pressed.
func (s pages) mail(c *gin.Context) {
	to, said := strings.TrimSpace(c.PostForm("to")), strings.TrimSpace(c.PostForm("words"))
	back := fmt.Sprintf("/plans/%d/signoff?", web.PathID(c)) + url.Values{"sheet": {c.PostForm("sheet")}}.Encode()
	kept := back + "&" + url.Values{"to": {to}, "words": {said}}.Encode() // what was typed stays, where it was not sent
	c.Request.URL.RawQuery = url.Values{"number": {c.PostForm("sheet")}}.Encode()
	sheet, f, found := s.sheet(c)
	if !found {
		return
	}
	if err := stage.Open(sheet, time.Now()); err != nil {
		web.GoTo(c, kept, "Not sent. "+err.Error())
		return
	}
	if len([]rune(said)) > mostLetter {
		web.GoTo(c, back, fmt.Sprintf("Not sent: a message has at most %d characters.", mostLetter))
		return
	}
	data, err := s.oneFile(sheet, f)
	if s.Trouble(c, err, "") {
		return
	}
	text := said + "\n\n"
	if s.Reached != "" {
		text += fmt.Sprintf("The sheet, open until %s: %s\n\n", words.Date(sheet.EndsAt.Local()), s.Reached+"/agree/"+sheet.Token)
	}
	text += "It is also in the attached file, which opens anywhere and makes a reply to send back.\n"
	err = s.Desk.Mail.Send(c.Request.Context(), exchange.Letter{To: to, Subject: fmt.Sprintf("%s, sheet %d", f.Plan, sheet.Number), Text: text,
		FileName: fileName(sheet, f), File: data})
	if err != nil {
		web.GoTo(c, kept, words.Capital(err.Error())+".")
		return
	}
	if err := stage.WasSent(c.Request.Context(), s.Desk, sheet); s.Trouble(c, err, "") {
		return
	}
	web.GoTo(c, back, fmt.Sprintf("Sheet %d is sent to %s.", sheet.Number, to))
}

// mostLetter bounds what a maker writes, in characters.
const mostLetter = 4000
