package web

import (
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/shelf"
)

// View is how the maker looks at colours just now; it lives in a cookie and
// changes nothing that is saved.
type View struct {
	draw.Light
	Surround string
	Others   bool // materials of kinds that a plan is not made of are offered too
}

const ViewCookie = "lampfern_view"

// lampBar are the lamps offered on every stage, by key.
var lampBar = []string{"daylight", "warm", "tube"}

// surroundWords say what each ground is.
var surroundWords = map[string]string{"bench": "a grey of value 6.4, a little lighter than mid-grey so that text can be read",
	"white": "white paper", "dark": "nearly black, value 1.7"}

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

// ReadView takes the view from the request's cookie, "lamp.surround.values.eye" and, where
// other kinds are offered too, ".1".
func ReadView(r *http.Request) View {
	v := View{Light: draw.Light{Lamp: colour.Lamps()[0]}, Surround: surrounds[0]}
	c, err := r.Cookie(ViewCookie)
	if err != nil {
		return v
	}
	parts := strings.Split(c.Value, ".")
	if len(parts) != 4 && len(parts) != 5 {
		return v
	}
	v.Others = len(parts) == 5 && parts[4] == "1"
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

// ViewOn is the view of a request on what lies on a shelf: under a lamp, materials that were
// measured with a spectrum are seen by it.
func ViewOn(r *http.Request, sh *shelf.Shelf) View {
	v := ReadView(r)
	if v.Lamp.White != colour.WhiteD65 {
		v.Spectra = sh.Spectra()
	}
	return v
}

// ViewOf is a view by the keys of a lamp and of a way of seeing; empty for the usual ones.
func ViewOf(lampKey, eyeKey string) View {
	return View{Light: draw.Light{Lamp: lamp(lampKey), Eye: eye(eyeKey)}, Surround: surrounds[0]}
}

// Lights are the lamps and the ways of seeing as links of a page that keeps no cookie.
func Lights(v View, path string) (lamps, seen []Choice) {
	at := func(lamp, eye string) string {
		q := url.Values{}
		if lamp != colour.Lamps()[0].Key {
			q.Set("lamp", lamp)
		}
		if eye != eyes[0] {
			q.Set("eye", eye)
		}
		if len(q) == 0 {
			return path
		}
		return path + "?" + q.Encode()
	}
	for _, l := range colour.Lamps() {
		if slices.Contains(lampBar, l.Key) {
			lamps = append(lamps, Choice{Key: at(l.Key, v.eyeKey()), Name: l.Name, On: l.Key == v.Lamp.Key})
		}
	}
	for _, e := range v.Eyes() {
		seen = append(seen, Choice{Key: at(v.Lamp.Key, e.Key), Name: e.Name, On: e.On})
	}
	return lamps, seen
}

func (v View) eyeKey() string {
	if v.Eye == nil {
		return eyes[0]
	}
	return eyes[1+int(*v.Eye)]
}

// Cookie is the view as it is kept between requests.
func (v View) Cookie() string {
	on := "0"
	if v.ValuesOnly {
		on = "1"
	}
	out := v.Lamp.Key + "." + v.Surround + "." + on + "." + v.eyeKey()
	if v.Others {
		out += ".1"
	}
	return out
}

// setView changes the view and goes back to the page it was asked on.
func (s *Server) setView(c *gin.Context) {
	v := ReadView(c.Request)
	if from := c.GetHeader("Sec-Fetch-Site"); from != "" && from != "same-origin" && from != "none" {
		c.Redirect(http.StatusSeeOther, "/") // another site's link changes nothing here
		return
	}
	if l := c.Query("lamp"); l != "" {
		v.Lamp = lamp(l)
	}
	if sr := c.Query("surround"); slices.Contains(surrounds, sr) {
		v.Surround = sr
	}
	if e := c.Query("eye"); e != "" {
		v.Eye = eye(e)
	}
	if on := c.Query("values"); on != "" {
		v.ValuesOnly = on == "1"
	}
	if on := c.Query("others"); on != "" {
		v.Others = on == "1"
	}
	const year = 365 * 24 * 3600
	http.SetCookie(c.Writer, &http.Cookie{Name: ViewCookie, Value: v.Cookie(), Path: "/", MaxAge: year, SameSite: http.SameSiteLaxMode})
	back := c.Query("back")
	if !here(back) {
		back = "/"
	}
	c.Redirect(http.StatusSeeOther, back)
}

// here reports whether an address is one of this site. Browsers read a backslash
// as a slash, so that "/\\host/" would lead away.
func here(address string) bool {
	u, err := url.Parse(address)
	return err == nil && !u.IsAbs() && u.Host == "" && strings.HasPrefix(address, "/") && !strings.HasPrefix(address, "//") &&
		!strings.ContainsFunc(address, func(r rune) bool { return r == '\\' || r < ' ' })
}

// Paint is the style that fills an element with a material's colour as seen.
func (v View) Paint(c colour.Lab) template.CSS {
	rgb, _ := v.Show(c)
	style := "background:" + rgb.Hex()
	for _, ground := range grounds[v.Surround] {
		if colour.DeltaE2000(rgb.Lab(), ground) < likeTheGround {
			return template.CSS(style + ";box-shadow:inset 0 0 0 1px #5a5a5a")
		}
	}
	return template.CSS(style)
}

// likeTheGround is how near to what it lies on a colour has a hairline round it, in ΔE00.
const likeTheGround = 4.0

// grounds are what colours lie on by surround: the bench and the tray, as the sheet has them.
var grounds = map[string][]colour.Lab{"bench": {grey(0x9b), grey(0x85)}, "white": {grey(0xff)}, "dark": {grey(0x2b)}}

func grey(v float64) colour.Lab { return colour.RGB{R: v / 255, G: v / 255, B: v / 255}.Lab() }

// Coat is the style that shows a whole material: its picture in plain daylight
// where it has one, else its colours side by side.
func (v View) Coat(c *shelf.Card) template.CSS {
	if p := c.Picture; p != nil && v.PlainDaylight() {
		rgb, _ := v.Show(c.Colour)
		return template.CSS(fmt.Sprintf("background:%s url(%s) center/cover", rgb.Hex(), PictureAt(p)))
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

// Laid is the style that shows a material large: as Coat, with its finish over its colour.
func (v View) Laid(c *shelf.Card) template.CSS {
	coat, layer := v.Coat(c), draw.FinishLayer(c.Finish)
	if layer == "" || c.Picture != nil {
		return coat
	}
	return template.CSS("background:" + layer + "," + strings.TrimPrefix(string(coat), "background:"))
}

// PlainDaylight reports whether colours are shown as they are.
func (v View) PlainDaylight() bool {
	return v.Lamp.White == colour.WhiteD65 && !v.ValuesOnly && v.Eye == nil
}

// Choice is one button of the lamp bar or one entry of a list.
type Choice struct {
	Key, Name, Words string
	On               bool
	Count            int
}

// Lamps are the buttons of the lamp bar.
func (v View) Lamps() []Choice {
	var out []Choice
	for _, key := range lampBar {
		l := lamp(key)
		out = append(out, Choice{Key: key, Name: l.Name, On: v.Lamp.Key == key})
	}
	return out
}

// MoreLamps are the lamps behind the bar's last button.
func (v View) MoreLamps() []Choice {
	var out []Choice
	for _, l := range colour.Lamps() {
		if !slices.Contains(lampBar, l.Key) {
			out = append(out, Choice{Key: l.Key, Name: l.Name, On: v.Lamp.Key == l.Key})
		}
	}
	return out
}

// More names what is on behind the bar's last button, empty when nothing is.
func (v View) More() string {
	if !slices.Contains(lampBar, v.Lamp.Key) {
		return v.Lamp.Name
	}
	if v.Eye != nil {
		return v.Eye.String() + " eye"
	}
	return ""
}

// Eyes are the ways of seeing.
func (v View) Eyes() []Choice {
	var out []Choice
	for _, key := range eyes {
		ch := Choice{Key: key, Name: "full colour vision", On: v.eyeKey() == key}
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
func (v View) Surrounds() []Choice {
	var out []Choice
	for _, s := range surrounds {
		out = append(out, Choice{Key: s, Name: s, Words: surroundWords[s], On: v.Surround == s})
	}
	return out
}

// Unusual says which lamp is on when it is not daylight, and that only values
// are shown; empty otherwise.
func (v View) Unusual() string {
	var parts []string
	if v.Lamp.White != colour.WhiteD65 {
		parts = append(parts,
			fmt.Sprintf("Seen under the %s, which turns white %s. This is calculated from one colour, not a spectrum. Two fabrics that match here may differ under that lamp, so check the real cards there.", v.Lamp.Name, cast(v.Lamp)))
		if n := len(v.Spectra); n > 0 {
			parts = append(parts, fmt.Sprintf("Only materials measured with a spectrum (%s) are calculated from it.",
				words.Plural(n, "material", "materials")))
		}
	}
	if v.Eye != nil {
		parts = append(parts, fmt.Sprintf("As seen by a %s eye.", v.Eye))
	}
	if v.ValuesOnly {
		parts = append(parts, "Values only: every colour is shown as a grey of the same value.")
	}
	return strings.Join(parts, " ")
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

// GoTo redirects after a write, with a sentence to show there.
func GoTo(c *gin.Context, address, flash string) {
	if flash != "" {
		http.SetCookie(c.Writer, &http.Cookie{Name: flashCookie, Value: url.QueryEscape(flash), Path: "/", MaxAge: 60, HttpOnly: true,
			SameSite: http.SameSiteLaxMode})
	}
	c.Redirect(http.StatusSeeOther, address)
}
