package photos

import (
	"errors"
	"fmt"
	"html/template"
	"maps"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/surface"
	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/web"
)

type photosBody struct {
	Photos  []shelf.PhotoRecord
	Problem string
	Plan    string // the plan that scraps go to, carried along
	MaxMB   int
	There   func(hash string) bool // whether its file is there
}

func (s pages) renderPhotos(c *gin.Context, status int, problem string) {
	all, err := s.Desk.Photos(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	p := s.Page(c, "photos", "Add materials")
	p.Title = "Add materials from a photo"
	p.Path = "/photos"
	p.Sub = "Photograph your fabric or yarn with a sheet of white paper, then pick the colours from it"
	p.Body = photosBody{all, problem, c.Query("plan"), exchange.MaxPhotoBytes >> 20, s.Desk.HasPhotoFile}
	s.Render(c, status, p)
}

func (s pages) photos(c *gin.Context) { s.renderPhotos(c, http.StatusOK, "") }

func (s pages) addPhoto(c *gin.Context) {
	name, data, err := web.Uploaded(c)
	var big *http.MaxBytesError
	switch {
	case errors.As(err, &big):
		s.renderPhotos(c, http.StatusRequestEntityTooLarge, fmt.Sprintf("Not added: the photo is larger than %d MB. Save it smaller.",
			exchange.MaxPhotoBytes>>20))
		return
	case err != nil:
		s.renderPhotos(c, http.StatusUnprocessableEntity, "Choose a photo first.")
		return
	}
	hash, err := s.Desk.AddPhoto(c.Request.Context(), name, data)
	var refused words.Refusal
	if errors.As(err, &refused) {
		s.renderPhotos(c, http.StatusUnprocessableEntity, string(refused))
		return
	}
	if s.Trouble(c, err, "") {
		return
	}
	address := "/photos/" + hash
	if plan := c.PostForm("plan"); plan != "" {
		address += "?plan=" + url.QueryEscape(plan)
	}
	web.GoTo(c, address, "")
}

// propose boxes what lies on a photo, in place of the boxes that are there.
func (s pages) propose(c *gin.Context) {
	photo, err := s.Desk.Photo(c.Request.Context(), c.Param("hash"))
	if s.Trouble(c, err, web.NoSuchPhoto) {
		return
	}
	q := keptQuery(c)
	boxes, err := photo.Propose(shelf.LookOf(q))
	said, err := web.Problem(err)
	if s.Trouble(c, err, web.NoSuchPhoto) {
		return
	}
	if len(boxes) > 0 {
		q.Del("box")
		said = fmt.Sprintf("%s found. Remove boxes you do not want, or draw more.", words.Capital(words.Plural(len(boxes), "material", "materials")))
	} else if said == "" {
		said = "No materials found. Draw a box on each one."
	}
	for _, b := range boxes {
		q.Add("box", b.String())
	}
	web.GoTo(c, "/photos/"+photo.Hash+"?"+q.Encode(), said)
}

func (s pages) photoView(c *gin.Context) {
	p, err := s.Desk.Photo(c.Request.Context(), c.Param("hash"))
	if s.Trouble(c, err, web.NoSuchPhoto) {
		return
	}
	data, err := p.View()
	if s.Trouble(c, err, "") {
		return
	}
	c.Header("Cache-Control", "private, max-age=31536000, immutable") // named by its content
	c.Data(http.StatusOK, "image/jpeg", data)
}

// photoPiece sends a part of a photo for a card, named by box=x,y,w,h.
func (s pages) photoPiece(c *gin.Context) {
	p, err := s.Desk.Photo(c.Request.Context(), c.Param("hash"))
	if s.Trouble(c, err, web.NoSuchPhoto) {
		return
	}
	b, ok := shelf.BoxOf(c.Query("box"))
	if !ok {
		s.Fail(c, http.StatusNotFound, web.NoSuchPhoto)
		return
	}
	data, err := p.Piece(b)
	if s.Trouble(c, err, web.NoSuchPhoto) {
		return
	}
	c.Header("Cache-Control", "private, max-age=31536000, immutable")
	c.Data(http.StatusOK, "image/jpeg", data)
}

// knownKey writes a known colour as known reads it.
func knownKey(k colour.Lab) string {
	if k.Chroma() == 0 {
		return web.Figure(k.L)
	}
	return fmt.Sprintf("%.2f %.2f %.2f", k.L, k.A, k.B)
}

// keptQuery is what a photo's address carries from page to page.
func keptQuery(c *gin.Context) url.Values {
	out := url.Values{}
	for _, k := range []string{"white", "wl", "box", "plan", "mm", "cut", "crop", "own", "start", "thing", "kind", "for"} {
		for _, v := range c.Request.URL.Query()[k] {
			out.Add(k, v)
		}
	}
	return out
}

// takenView is one colour taken from a photo, as the page shows it.
type takenView struct {
	shelf.Taken
	Number int
	Name   string // as it was typed, else by its colour
	Amount string
	Doubt  string
	Drop   string // address without this box
	Frame  template.CSS
	Crop   template.CSS
}

type photoBody struct {
	Hash      string
	Name      string
	Look      shelf.Look
	Palette   []surface.Swatch
	Taken     []takenView
	White     template.CSS // frame of the white, empty when none
	Crop      template.CSS // frame of the print, empty for all of the photo
	NoCrop    string       // address without it
	Profile   string       // what became of the photo's colour profile, in words
	NoWhite   string       // address without the white
	Print     string       // address of the photo read as a print
	Kinds     []string
	Kind      string // of the thing that is begun, else that which was added last
	Start     bool   // a plan is begun with the colours
	Problem   string
	Plan      *plan.Plan
	Query     string
	Lightness []web.Choice
	Camera    shelf.Camera // how the maker's camera errs, where that was learned
}

// Made is the query of the page of what was made, for the shares within a box.
func (b photoBody) Made(whole shelf.Box) template.URL {
	q, err := url.ParseQuery(b.Query)
	if err != nil {
		return ""
	}
	q.Del("box")
	q.Set("photo", b.Hash)
	q.Set("whole", whole.String())
	return template.URL(q.Encode())
}

// Address is its query as part of an address.
func (b photoBody) Address() template.URL { return template.URL(b.Query) }

// Much is how much there is of one of its kind, for an example.
func (b photoBody) Much() string {
	if pack := material.StockOf(b.Kind).Pack; pack != "" {
		return "1 " + pack
	}
	return "2 " + material.StockOf(b.Kind).Units[0].Name
}

// FieldLayers are the numbers of layers that a field of a photographed chart may be of.
func (b photoBody) FieldLayers() []int {
	var out []int
	for n := 2; n <= shelf.MostLayers; n++ {
		out = append(out, n)
	}
	return out
}

// whites are the things offered as known white or grey.
var whites = []struct {
	name string
	l    float64
}{{"white paper", surface.WhitePaper}, {"grey card", surface.GreyCard}, {"pale grey wall", 80}}

func frame(b shelf.Box) template.CSS {
	return template.CSS(fmt.Sprintf("left:%.3f%%;top:%.3f%%;width:%.3f%%;height:%.3f%%", 100*b.X, 100*b.Y, 100*b.W, 100*b.H))
}

func (s pages) photo(c *gin.Context) { s.showPhoto(c, http.StatusOK, keptQuery(c), "") }

// kindOf is the kind that a photo's materials have until it is said.
func kindOf(sh *shelf.Shelf, q url.Values) string {
	if of := plan.KindOf(q.Get("kind"), q.Get("thing")); of != "" {
		return of
	}
	last := &shelf.Card{}
	for _, card := range sh.Cards {
		if card.ID > last.ID {
			last = card
		}
	}
	return last.Kind
}

func (s pages) showPhoto(c *gin.Context, status int, q url.Values, problem string) {
	photo, err := s.Desk.Photo(c.Request.Context(), c.Param("hash"))
	if s.Trouble(c, err, web.NoSuchPhoto) {
		return
	}
	sh, err := s.Desk.Shelf(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	l := shelf.LookOf(q)
	if l.Camera, err = s.Desk.Camera(c.Request.Context()); s.Trouble(c, err, "") {
		return
	}
	r, err := photo.Read(sh, l)
	if s.Trouble(c, err, web.NoSuchPhoto) {
		return
	}
	p := s.Page(c, "photo", photo.Name)
	p.Path = "/photos/" + photo.Hash + "?" + q.Encode()
	b := photoBody{Hash: photo.Hash, Name: photo.Name, Look: l, Palette: photo.Palette(r), Kinds: material.Kinds(), Kind: kindOf(sh, q),
		Start: q.Get("start") != "", Problem: problem, Query: q.Encode(), Camera: l.Camera}
	if kind := c.PostForm("kind"); kind != "" {
		b.Kind = kind
	}
	typed, amounts := c.PostFormArray("name"), c.PostFormArray("amount")
	names := map[string]bool{}
	switch {
	case r.Corrected:
		p.Sub = "White-balanced. Now draw a box on each material"
	case l.White == nil:
		p.Sub = "First mark something white or grey. Then draw a box on each material"
	default:
		p.Sub = "Not corrected yet"
		p.Flash = words.Capital(r.WhiteTrouble) + "."
	}
	for i, t := range r.Taken {
		rest := url.Values{}
		for k, v := range q {
			rest[k] = v
		}
		rest["box"] = slices.Delete(slices.Clone(q["box"]), i, i+1)
		name := shelf.FreeName(colour.PlainName(t.Colour), "another", func(n string) bool { return names[n] || sh.Named(n) != nil })
		if i < len(typed) {
			name = typed[i]
		}
		names[name] = true
		amount := ""
		if i < len(amounts) {
			amount = amounts[i]
		}
		b.Taken = append(b.Taken, takenView{Taken: t, Number: i + 1, Name: name, Amount: amount, Drop: "/photos/" + photo.Hash + "?" + rest.Encode(), Frame: frame(t.Box),
			Crop:  web.Crop(photo.Hash, t.Box),
			Doubt: photo.Doubt(t, r, l)})
	}
	without := func(key string) string {
		rest := url.Values{}
		for k, v := range q {
			if k != key {
				rest[k] = v
			}
		}
		return "/photos/" + photo.Hash + "?" + rest.Encode()
	}
	if l.White != nil {
		b.White, b.NoWhite = frame(*l.White), without("white")
	}
	if l.Crop != nil {
		b.Crop, b.NoCrop = frame(*l.Crop), without("crop")
	}
	switch {
	case photo.Trouble != "":
		b.Profile = words.Capital(photo.Trouble) + "."
	case photo.Profile != "":
		b.Profile = fmt.Sprintf("Uses the photo’s colour profile (%s).", photo.Profile)
	}
	b.Print = "/photos/" + photo.Hash + "/print?" + q.Encode()
	for _, w := range whites {
		b.Lightness = append(b.Lightness, web.Choice{Key: web.Figure(w.l), Name: w.name, On: w.l == l.Known.L && l.Known.Chroma() == 0})
	}
	if n, err := strconv.ParseUint(q.Get("plan"), 10, 32); err == nil {
		if b.Plan, err = s.Desk.Open(c.Request.Context(), uint(n)); s.Trouble(c, err, web.NoSuchPlan) {
			return
		}
		for _, t := range b.Plan.Tray { // a card that one owns lies beside it
			if t.ID != 0 {
				b.Lightness = append(b.Lightness, web.Choice{Key: knownKey(t.Colour), Name: "the card " + t.Name,
					On: knownKey(t.Colour) == knownKey(l.Known)})
			}
		}
	}
	p.Body = b
	s.Render(c, status, p)
}

// asked is the photo of an address, and how the form says that it was looked at. It
// answers the request itself when there is no such photo.
func (s pages) asked(c *gin.Context) (photo *shelf.Photo, q url.Values, found bool) {
	photo, err := s.Desk.Photo(c.Request.Context(), c.Param("hash"))
	if s.Trouble(c, err, web.NoSuchPhoto) {
		return nil, nil, false
	}
	if q, err = url.ParseQuery(c.PostForm("query")); err != nil {
		q = url.Values{}
	}
	return photo, q, true
}

// keepTaken keeps the colours of a photo: all as materials, and into a new plan where one is begun; or one of them,
// as a material or as a scrap of the plan that the address carries.
func (s pages) keepTaken(c *gin.Context) {
	ctx := c.Request.Context()
	photo, q, found := s.asked(c)
	if !found {
		return
	}
	back := "/photos/" + photo.Hash + "?" + q.Encode()
	sh, err := s.Desk.Shelf(ctx)
	if s.Trouble(c, err, "") {
		return
	}
	l := shelf.LookOf(q)
	if l.Camera, err = s.Desk.Camera(ctx); s.Trouble(c, err, "") {
		return
	}
	r, err := photo.Read(sh, l)
	if s.Trouble(c, err, web.NoSuchPhoto) {
		return
	}
	to, number, _ := strings.Cut(c.PostForm("to"), " ")
	switch to {
	case "palette":
		s.tear(c, q, back, "The colours of the photo are on the scrap page of %s.", plan.TearPalette{Photo: photo, Colour: photo.Palette(r)})
		return
	case "all":
		s.keepAll(c, photo, q, r)
		return
	}
	n, err := strconv.Atoi(number)
	names, layers := c.PostFormArray("name"), c.PostFormArray("layer")
	if err != nil || n < 1 || n > len(r.Taken) || n > len(names) {
		web.GoTo(c, back, "That box is gone. Draw it again.")
		return
	}
	taken, name, layer := r.Taken[n-1], names[n-1], 0
	if n <= len(layers) {
		layer, _ = strconv.Atoi(layers[n-1])
	}
	k := sh.Named(name)
	var refused words.Refusal
	var said string
	switch {
	case to == "scrap":
		s.tear(c, q, back, name+" is on the scrap page of %s.", plan.TearScrap{Photo: photo, Taken: taken, Name: name})
		return
	case to == "given":
		s.tear(c, q, back, name+" is a fixed colour of %s.", plan.SetBeside{Name: name, Colour: taken.Colour})
		return
	case k == nil && layer > 0:
		err = words.Refuse("No material is called %q, so it has no layers. Write its name as on the shelf, or save a new material.", name)
	case k != nil && layer < 1:
		err = words.Refuse("%s is already on the shelf. Choose whether to replace its colour, say how many layers it is, or give another name.", k.Name)
	case k != nil: // a painted card, or a field of a chart, came back
		said, err = s.Desk.Repaint(ctx, k.ID, taken.Colour, "photo", taken.Uncertainty, min(layer, shelf.MostLayers))
	default:
		said = name + " is on the shelf."
		_, err = s.Desk.SaveMaterial(ctx, 0, 0, materialOf(c, photo, taken, n-1))
	}
	var problems material.Problems
	switch {
	case errors.As(err, &problems):
		s.showPhoto(c, http.StatusUnprocessableEntity, q, problems.Error())
	case errors.As(err, &refused):
		s.showPhoto(c, http.StatusUnprocessableEntity, q, string(refused))
	case s.Trouble(c, err, web.NoSuchMaterial):
	default:
		web.GoTo(c, back, said)
	}
}

// materialOf is a taken colour with what was typed beside it.
func materialOf(c *gin.Context, photo *shelf.Photo, t shelf.Taken, i int) material.Material {
	names, amounts := c.PostFormArray("name"), c.PostFormArray("amount")
	m := photo.Material(t, "", c.PostForm("kind"))
	if i < len(names) {
		m.Name = strings.TrimSpace(names[i])
	}
	if i < len(amounts) {
		if n, unit, ok := colour.Count(amounts[i]); ok {
			plan.OnHand(&m, n, unit)
		} else if rest := strings.TrimSpace(amounts[i]); rest != "" {
			m.Remark += " On hand: " + rest + "."
		}
	}
	return m
}

// keepAll puts all that is boxed onto the shelf, and begins a plan where one is asked for.
func (s pages) keepAll(c *gin.Context, photo *shelf.Photo, q url.Values, r shelf.PhotoReading) {
	ctx := c.Request.Context()
	b := plan.Beginning{Kind: q.Get("kind"), Thing: q.Get("thing"), For: q.Get("for")}
	for i, t := range r.Taken {
		b.Taken = append(b.Taken, materialOf(c, photo, t, i))
	}
	if id, err := strconv.ParseUint(q.Get("plan"), 10, 32); err == nil {
		err := s.Desk.TakeInto(ctx, uint(id), b.Taken)
		if problem, err := web.Problem(err); problem != "" || s.Trouble(c, err, web.NoSuchPlan) {
			if problem != "" {
				s.showPhoto(c, http.StatusUnprocessableEntity, q, problem)
			}
			return
		}
		s.GoToBegun(c, uint(id), true)
		return
	}
	if q.Get("start") == "" {
		added, err := s.Desk.AddTaken(ctx, b.Taken)
		if problem, err := web.Problem(err); problem != "" || s.Trouble(c, err, "") {
			if problem != "" {
				s.showPhoto(c, http.StatusUnprocessableEntity, q, problem)
			}
			return
		}
		web.GoTo(c, "/shelf", words.Capital(words.Plural(added, "material is", "materials are"))+" added to the shelf.")
		return
	}
	if b.Kind = c.PostForm("kind"); plan.KindOf("", b.Thing) == b.Kind {
		b.Kind = "" // as the thing is usually made
	}
	id, err := s.Desk.Begin(ctx, b)
	if problem, err := web.Problem(err); problem != "" || s.Trouble(c, err, "") {
		if problem != "" {
			s.showPhoto(c, http.StatusUnprocessableEntity, q, problem)
		}
		return
	}
	s.GoToBegun(c, id, b.Thing != "")
}

// tear makes a change of the plan that an address carries, and goes back; said names that plan.
func (s pages) tear(c *gin.Context, q url.Values, back, said string, e plan.Edit) {
	id, _ := strconv.ParseUint(q.Get("plan"), 10, 32)
	p, err := s.Desk.Open(c.Request.Context(), uint(id))
	if s.Trouble(c, err, web.NoSuchPlan) {
		return
	}
	_, err = s.Desk.Change(c.Request.Context(), p.ID, p.Revision, e)
	var refused words.Refusal
	if errors.As(err, &refused) {
		web.GoTo(c, back, string(refused))
		return
	}
	if s.Trouble(c, err, web.NoSuchPlan) {
		return
	}
	web.GoTo(c, back, strings.Replace(said, "%s", p.Name, 1))
}

type printBody struct {
	Hash    string
	Name    string
	Back    string
	Keep    [][2]string
	Query   string
	Kinds   []string
	Print   surface.Print
	Width   string
	Size    string
	Problem string
	Paper   float64      // share of white paper beside it, not counted
	Own     bool         // white is counted as the print's own
	Whose   string       // the address of this page with white counted the other way
	Crop    template.CSS // of the print, empty for all of the photo
	Cutting *surface.Cutting
	Shown   []pieceView
	Away    []awayView
	Words   string
}

type pieceView struct {
	Crop   template.CSS
	Colour colour.Lab
	Holds  bool
}

type awayView struct {
	Family colour.FamilyName
	Share  float64
}

// piecesShown is how many of the sample pieces the page draws.
const piecesShown = 42

// length reads a length in millimetres; "2.5 in" and "6 cm" are understood.
func length(text string) (float64, error) {
	const mmPerInch, mmPerCentimetre = 25.4, 10
	t, unit := strings.ToLower(strings.Replace(strings.TrimSpace(text), ",", ".", 1)), 1.0
	for suffix, mm := range map[string]float64{"mm": 1, "cm": mmPerCentimetre, "in": mmPerInch, "inch": mmPerInch, "inches": mmPerInch,
		`"`: mmPerInch, "″": mmPerInch} {
		if rest, ok := strings.CutSuffix(t, suffix); ok {
			t, unit = strings.TrimSpace(rest), mm
			break
		}
	}
	v, err := strconv.ParseFloat(t, 64)
	if err != nil {
		return 0, fmt.Errorf("%q is not a length: write 64, 6.4 cm or 2.5 in", text)
	}
	return v * unit, nil
}

// print reads a photo as a print: what it reads as near and across the room,
// and whether it holds its colour when cut.
func (s pages) print(c *gin.Context) {
	photo, err := s.Desk.Photo(c.Request.Context(), c.Param("hash"))
	if s.Trouble(c, err, web.NoSuchPhoto) {
		return
	}
	q := keptQuery(c)
	l := shelf.LookOf(q)
	b := printBody{Hash: photo.Hash, Name: photo.Name, Back: "/photos/" + photo.Hash + "?" + q.Encode(), Width: q.Get("mm"),
		Size: q.Get("cut"), Query: q.Encode(), Kinds: material.Kinds(), Own: l.Own}
	for k, all := range q {
		for _, v := range all {
			if k != "mm" && k != "cut" {
				b.Keep = append(b.Keep, [2]string{k, v})
			}
		}
	}
	other := maps.Clone(q)
	if other.Set("own", "1"); l.Own {
		other.Del("own")
	}
	b.Whose = "/photos/" + photo.Hash + "/print?" + other.Encode()
	b.Print, b.Paper, err = photo.Print(l)
	if b.Problem, err = web.Problem(err); s.Trouble(c, err, web.NoSuchPhoto) {
		return
	}
	if l.Crop != nil && b.Problem == "" {
		b.Crop = web.Crop(photo.Hash, *l.Crop)
	}
	if b.Problem == "" && (b.Width != "" || b.Size != "") {
		if b.Problem = s.cut(photo, l, &b); b.Problem != "" {
			b.Cutting = nil
		}
	}
	p := s.Page(c, "print", photo.Name)
	p.Sub = "How the print reads close up, across a room and cut small"
	p.Body = b
	s.Render(c, http.StatusOK, p)
}

// keepPrint puts the print onto the shelf, or into the material of that name.
func (s pages) keepPrint(c *gin.Context) {
	ctx := c.Request.Context()
	photo, q, found := s.asked(c)
	if !found {
		return
	}
	back, name, width := "/photos/"+photo.Hash+"/print?"+q.Encode(), c.PostForm("name"), 0.0
	if q.Get("mm") != "" {
		var err error
		if width, err = length(q.Get("mm")); err != nil {
			web.GoTo(c, back, words.Capital(err.Error())+".")
			return
		}
	}
	id, updated, err := s.Desk.KeepPrint(ctx, photo, shelf.LookOf(q), name, c.PostForm("kind"), width)
	var problems material.Problems
	words := " is on the shelf with its print colours."
	if updated {
		words = " now has the print colours of this photo."
	}
	switch {
	case errors.As(err, &problems):
		web.GoTo(c, back, problems.Error())
	case s.Trouble(c, err, web.NoSuchPhoto):
	default:
		web.GoTo(c, fmt.Sprintf("/shelf/material/%d", id), name+words)
	}
}

// cut fills in how the print fares; the answer is why it could not.
func (s pages) cut(photo *shelf.Photo, l shelf.Look, b *printBody) (problem string) {
	width, err := length(b.Width)
	if err != nil {
		return words.Capital(err.Error()) + "."
	}
	size, err := length(b.Size)
	if err != nil {
		return words.Capital(err.Error()) + "."
	}
	cutting, err := photo.Cut(l, width, size)
	if err != nil {
		return words.Capital(err.Error())
	}
	b.Cutting = &cutting
	for _, piece := range cutting.Pieces[:piecesShown] {
		b.Shown = append(b.Shown, pieceView{web.Crop(photo.Hash, photo.Share(piece.Box)), piece.Colour, piece.Apart < surface.HoldsUnder})
	}
	for f, share := range cutting.Away {
		b.Away = append(b.Away, awayView{f, share})
	}
	slices.SortFunc(b.Away, func(x, y awayView) int {
		if x.Share != y.Share {
			return int(1000 * (y.Share - x.Share))
		}
		return strings.Compare(string(x.Family), string(y.Family))
	})
	b.Words = "It reads as one colour at any size."
	switch {
	case cutting.Holds < 0.5:
		b.Words = "Cut this small, pieces will look like several different fabrics. Choose them one by one, or cut larger."
	case cutting.Holds < 0.9:
		b.Words = "Most pieces read as one colour. Watch for the odd ones."
	}
	return ""
}
