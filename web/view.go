package web

import (
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/balance"
	"lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/core/wheel"
	"lampfern/draw"
	"lampfern/studio"
)

// view is how the maker looks at colours just now; it lives in a cookie and
// changes nothing that is saved.
type view struct {
	draw.Light
	Surround string
}

const viewCookie = "lampfern_view"

// lampBar are the lamps offered on every stage, by key.
var lampBar = []string{"daylight", "warm", "tube"}

// surrounds are the grounds colours are judged on.
var surrounds = []string{"bench", "white", "dark"}

func lamp(key string) colour.Lamp {
	for _, l := range colour.Lamps() {
		if l.Key == key {
			return l
		}
	}
	return colour.Lamps()[0]
}

// eyes are the ways of seeing offered, by key; "full" is full colour vision.
var eyes = []string{"full", "protan", "deutan", "tritan"}

func eye(key string) *colour.Deficiency {
	for i, d := range colour.Deficiencies() {
		if eyes[i+1] == key {
			return &d
		}
	}
	return nil
}

// readView takes the view from the request's cookie, "lamp.surround.values.eye".
func readView(r *http.Request) view {
	v := view{Light: draw.Light{Lamp: colour.Lamps()[0]}, Surround: surrounds[0]}
	c, err := r.Cookie(viewCookie)
	if err != nil {
		return v
	}
	parts := strings.Split(c.Value, ".")
	if len(parts) != 4 {
		return v
	}
	v.Eye = eye(parts[3])
	v.Lamp = lamp(parts[0])
	for _, s := range surrounds {
		if s == parts[1] {
			v.Surround = s
		}
	}
	v.ValuesOnly = parts[2] == "1"
	return v
}

func (v view) eyeKey() string {
	if v.Eye == nil {
		return eyes[0]
	}
	return eyes[1+int(*v.Eye)]
}

func (v view) cookie() string {
	on := "0"
	if v.ValuesOnly {
		on = "1"
	}
	return v.Lamp.Key + "." + v.Surround + "." + on + "." + v.eyeKey()
}

// setView changes the view and goes back to the page it was asked on.
func (s *Server) setView(c *gin.Context) {
	v := readView(c.Request)
	if l := c.Query("lamp"); l != "" {
		v.Lamp = lamp(l)
	}
	if sr := c.Query("surround"); sr != "" {
		v.Surround = sr
	}
	if e := c.Query("eye"); e != "" {
		v.Eye = eye(e)
	}
	if on := c.Query("values"); on != "" {
		v.ValuesOnly = on == "1"
	}
	const year = 365 * 24 * 3600
	http.SetCookie(c.Writer, &http.Cookie{Name: viewCookie, Value: v.cookie(), Path: "/", MaxAge: year, SameSite: http.SameSiteLaxMode})
	back := c.Query("back")
	if u, err := url.Parse(back); err != nil || u.IsAbs() || u.Host != "" || !strings.HasPrefix(back, "/") || strings.HasPrefix(back, "//") {
		back = "/"
	}
	c.Redirect(http.StatusSeeOther, back)
}

// Paint is the style that fills an element with a material's colour as seen.
func (v view) Paint(c colour.Lab) template.CSS {
	rgb, _ := v.Show(c)
	return template.CSS("background:" + rgb.Hex())
}

// Coat is the style that shows a whole material: its picture in plain daylight
// where it has one, else its colours side by side.
func (v view) Coat(c *studio.Card) template.CSS {
	if p := c.Picture; p != nil && v.plainDaylight() {
		rgb, _ := v.Show(c.Colour)
		return template.CSS(fmt.Sprintf("background:%s url(/photos/%s/piece.jpg?box=%.4f,%.4f,%.4f,%.4f) center/cover", rgb.Hex(), p.Photo, p.X, p.Y, p.W, p.H))
	}
	bands := c.Face()
	if len(bands) == 1 {
		return v.Paint(bands[0].Colour)
	}
	from, stops := 0.0, []string{}
	for _, b := range bands {
		rgb, _ := v.Show(b.Colour)
		stops = append(stops, fmt.Sprintf("%s %.2f%% %.2f%%", rgb.Hex(), 100*from, 100*(from+b.Share)))
		from += b.Share
	}
	return template.CSS("background:linear-gradient(100deg," + strings.Join(stops, ",") + ")")
}

// plainDaylight reports whether colours are shown as they are.
func (v view) plainDaylight() bool {
	return v.Lamp.White == colour.D65 && !v.ValuesOnly && v.Eye == nil
}

// choice is one button of the lamp bar or one entry of a list.
type choice struct {
	Key, Name, Words string
	On               bool
	Count            int
}

// Lamps are the buttons of the lamp bar.
func (v view) Lamps() []choice {
	var out []choice
	for _, key := range lampBar {
		l := lamp(key)
		out = append(out, choice{Key: key, Name: l.Name, On: v.Lamp.Key == key})
	}
	return out
}

// MoreLamps are the lamps behind the bar's last button.
func (v view) MoreLamps() []choice {
	var out []choice
	for _, l := range colour.Lamps() {
		if !slices.Contains(lampBar, l.Key) {
			out = append(out, choice{Key: l.Key, Name: l.Name, On: v.Lamp.Key == l.Key})
		}
	}
	return out
}

// More names what is on behind the bar's last button, empty when nothing is.
func (v view) More() string {
	if !slices.Contains(lampBar, v.Lamp.Key) {
		return v.Lamp.Name
	}
	if v.Eye != nil {
		return v.Eye.String() + " eye"
	}
	return ""
}

// Eyes are the ways of seeing.
func (v view) Eyes() []choice {
	var out []choice
	for _, key := range eyes {
		ch := choice{Key: key, Name: "full colour vision", On: v.eyeKey() == key}
		if d := eye(key); d != nil {
			ch.Name = d.String()
		}
		out = append(out, ch)
	}
	return out
}

// cast says what hue a lamp leaves on a white cloth.
func cast(l colour.Lamp) string {
	white := l.See(colour.Lab{L: 90}, colour.LampAdaptation)
	strength := "slightly "
	if white.Chroma() > castStrong {
		strength = ""
	}
	return strength + wheel.Pigment.Describe(wheel.Pigment.Place(white.OKLCh()))
}

// castStrong is the C*ab from which a cast needs no "slightly".
const castStrong = 10.0

// Surrounds are the grounds of the lamp bar.
func (v view) Surrounds() []choice {
	var out []choice
	for _, s := range surrounds {
		out = append(out, choice{Key: s, Name: s, On: v.Surround == s})
	}
	return out
}

// Unusual says which lamp is on when it is not daylight, and that only values
// are shown; empty otherwise.
func (v view) Unusual() string {
	var parts []string
	if v.Lamp.White != colour.D65 {
		parts = append(parts, fmt.Sprintf("Seen under the %s, which turns white %s. It is reckoned from one colour and not a spectrum: two cloths that match here may part under that lamp, so look at the card there.", v.Lamp.Name, cast(v.Lamp)))
	}
	if v.Eye != nil {
		parts = append(parts, fmt.Sprintf("As a %s eye sees it.", v.Eye))
	}
	if v.ValuesOnly {
		parts = append(parts, "Values only: every colour is shown as the grey of its own value.")
	}
	return strings.Join(parts, " ")
}

// page is what every template is given.
type page struct {
	Template string // the page's template by name
	Title    string
	Heading  string
	Sub      string
	View     view
	Path     string // of the page itself, to come back to
	Rail     []leaf
	Plan     *studio.Plan // nil outside plans
	Stage    string
	Flash    string // one sentence on what just happened
	Notes    []balance.Note
	Hidden   []studio.HiddenNote // that the maker hid
	Undo     string
	Redo     string
	Body     any
}

// leaf is one leaflet of the rail.
type leaf struct {
	Key, Name, Letter, Address string
	Here, Filled               bool
}

// page starts a page outside plans.
func (s *Server) page(c *gin.Context, template, heading string) *page {
	p := &page{Template: template, Heading: heading, View: readView(c.Request), Path: c.Request.URL.RequestURI(), Flash: takeFlash(c)}
	if c.Request.Method != http.MethodGet {
		p.Path = "/"
	}
	for _, l := range []leaf{
		{Key: "home", Name: "Workroom", Letter: "h", Address: "/"},
		{Key: "shelf", Name: "Shelf", Letter: "f", Address: "/shelf"},
		{Key: "new", Name: "Add a material", Letter: "a", Address: "/shelf/new"},
		{Key: "import", Name: "Bring in a list", Letter: "i", Address: "/shelf/import"},
		{Key: "photos", Name: "Photos", Letter: "o", Address: "/photos"},
		{Key: "reader", Name: "Reader", Letter: "r", Address: "/reader"},
		{Key: "plans", Name: "Plans", Letter: "t", Address: "/plans"},
	} {
		l.Here = l.Key == template || l.Key == within[template]
		l.Filled = true
		p.Rail = append(p.Rail, l)
	}
	return p
}

// within says under which leaflet of the workroom a page without its own lies.
var within = map[string]string{"material": "shelf", "beside": "shelf", "preview": "import", "photo": "photos", "print": "photos", "chart": "shelf"}

// stages are the leaflets of a plan, in the order makers work.
var stages = []leaf{
	{Key: "brief", Name: "Brief", Letter: "b"},
	{Key: "gather", Name: "Gather", Letter: "g"},
	{Key: "wheel", Name: "Wheel", Letter: "w"},
	{Key: "values", Name: "Values", Letter: "v"},
	{Key: "cards", Name: "Cards", Letter: "c"},
	{Key: "proportion", Name: "Proportion", Letter: "p"},
	{Key: "mix", Name: "Mix", Letter: "m"},
	{Key: "signoff", Name: "Sign-off", Letter: "s"},
	{Key: "buy", Name: "Buy", Letter: "y"},
	{Key: "log", Name: "Log", Letter: "l"},
}

// pagesOf are pages of a stage that are no stages of their own: the stage's key
// and the page's name.
var pagesOf = map[string]leaf{
	"scraps":       {Key: "gather", Name: "Scrap page"},
	"nudge":        {Key: "wheel", Name: "Nudge"},
	"combinations": {Key: "wheel", Name: "Combinations tried"},
	"ramp":         {Key: "values", Name: "Ramps"},
	"squint":       {Key: "values", Name: "Squint"},
	"pieces":       {Key: "proportion", Name: "Pieces"},
	"ways":         {Key: "proportion", Name: "Ways and colourways"},
	"draft":        {Key: "proportion", Name: "Threads and draft"},
	"stitches":     {Key: "proportion", Name: "Chart"},
	"drawing":      {Key: "proportion", Name: "Drawing"},
	"solid":        {Key: "proportion", Name: "Bodies"},
	"worktable":    {Key: "proportion", Name: "At the worktable"},
	"second":       {Key: "proportion", Name: "Second thread"},
}

// planPage starts a page of a plan's stage.
func (s *Server) planPage(c *gin.Context, p *studio.Plan, stage string) *page {
	out := &page{Template: stage, View: readView(c.Request), Path: fmt.Sprintf("/plans/%d/%s", p.ID, stage), Plan: p, Stage: stage,
		Undo: p.Undo, Redo: p.Redo, Flash: takeFlash(c)}
	placed := false
	for _, t := range p.Tray {
		placed = placed || t.Share > 0
	}
	filled := map[string]bool{
		"gather": len(p.Tray) > 0, "wheel": p.Scheme != "", "values": len(p.Tray) > 1, "cards": len(p.Tray) > 0,
		"proportion": placed, "brief": p.Purpose != "" || p.Brief != (brief.Brief{}),
	}
	of, isPage := pagesOf[stage]
	if isPage {
		out.Heading, out.Title = of.Name, of.Name+" · "+p.Name
	}
	for _, l := range stages {
		l.Address = fmt.Sprintf("/plans/%d/%s", p.ID, l.Key)
		l.Here, l.Filled = l.Key == stage || l.Key == of.Key, filled[l.Key]
		if l.Key == stage {
			out.Heading, out.Title = l.Name, l.Name+" · "+p.Name
		}
		out.Rail = append(out.Rail, l)
	}
	return out
}

// flashCookie carries one sentence over a redirect.
const flashCookie = "lampfern_said"

func takeFlash(c *gin.Context) string {
	k, err := c.Request.Cookie(flashCookie)
	if err != nil {
		return ""
	}
	http.SetCookie(c.Writer, &http.Cookie{Name: flashCookie, Path: "/", MaxAge: -1})
	words, err := url.QueryUnescape(k.Value)
	if err != nil {
		return ""
	}
	return words
}

// goTo redirects after a write, with a sentence to show there.
func goTo(c *gin.Context, address, flash string) {
	if flash != "" {
		http.SetCookie(c.Writer, &http.Cookie{Name: flashCookie, Value: url.QueryEscape(flash), Path: "/", MaxAge: 60, HttpOnly: true, SameSite: http.SameSiteLaxMode})
	}
	c.Redirect(http.StatusSeeOther, address)
}

func funcs(static string) template.FuncMap {
	return template.FuncMap{
		"static":  func(name string) string { return static + "/" + name },
		"percent": func(v float64) string { return percent(v) },
		"cap":     capital,
		"svg":     func(s draw.Scene) template.HTML { return template.HTML(s.SVG()) },
		"add":     func(a, b int) int { return a + b },
		"div":     func(a, b float64) float64 { return a / b },
		"yarnOf":  func(letters string) int { return int(letters[0] - 'A') },
		"reverse": func(all []outlineRow) []outlineRow {
			out := slices.Clone(all)
			slices.Reverse(out)
			return out
		},
		"mul100":    func(v float64) float64 { return 100 * v },
		"plural":    plural,
		"pull":      pullCard,
		"field":     fieldOf,
		"choose":    chooseOf,
		"familyOf":  func(c colour.Lab) colour.FamilyName { return colour.Family(c) },
		"pullNear":  pullNear,
		"scrapCrop": scrapCrop,
		"placeOf":   placeOf,
		"replaceBy": replaceBy,
		"leaves":    freeLeaves,
		"rampSide":  rampSide,
		"tryCard":   tryCard,
		"lab":       func(l, a, b float64) colour.Lab { return colour.Lab{L: l, A: a, B: b} },
		"pair":      func(a, b *studio.Card) []*studio.Card { return []*studio.Card{a, b} },
	}
}

// placed is a lit place with the page it stands on.
type placed struct {
	litPlace
	Page *page
}

func placeOf(p *page, l litPlace) placed { return placed{l, p} }

// nudgeStep is how far one press moves a place, in degrees of the wheel.
const nudgeStep = 5.0

// Back and On are where the place would be moved to.
func (l litPlace) Back() float64 { return l.Nudge - nudgeStep }

// On is where the place would be moved on to.
func (l litPlace) On() float64 { return l.Nudge + nudgeStep }

func scrapCrop(v studio.ScrapView) template.CSS {
	return crop(*v.Photo, studio.Box{X: v.X, Y: v.Y, W: v.W, H: v.H})
}

// formField is one field of the material form with its problem, if any.
type formField struct {
	Name, Label, Class, Value, Problem string
	Choices                            []choice
}

func fieldOf(f materialForm, name, label, class string) formField {
	return formField{Name: name, Label: label, Class: class, Value: f.Values[name], Problem: f.Problems[name]}
}

func chooseOf(f materialForm, name, label string, choices []choice) formField {
	return formField{Name: name, Label: label, Problem: f.Problems[name], Choices: choices}
}

// percent writes a share; a share that is there never reads as nothing.
func percent(v float64) string {
	if v > 0 && v < 0.01 {
		return "under 1%"
	}
	return fmt.Sprintf("%.0f%%", 100*v)
}

func capital(s string) string {
	if s == "" {
		return s
	}
	r := []rune(s)
	return strings.ToUpper(string(r[:1])) + string(r[1:])
}

func plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}
