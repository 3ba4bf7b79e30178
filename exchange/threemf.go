package exchange

import (
	"archive/zip"
	"bufio"
	"bytes"
	"context"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"path"
	"slices"
	"strconv"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/mesh"
)

// Limits of a 3MF package.
const (
	most3MFEntries  = 400
	most3MFUnpacked = 400 << 20
	most3MFRels     = 1 << 20
	most3MFDeep     = 16 // components within one another
	most3MFObjects  = 2000
	most3MFModels   = 200     // files of a package that hold parts
	most3MFWelded   = 400_000 // triangles of a body whose corners are looked at for what lies a hair apart
)

// Relations and media of a 3MF package (3MF Core Specification 1.3).
const (
	modelRelation = "http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"
	coreSpace     = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02"
)

// millimetres of the units a 3MF can be in.
var unit3MF = map[string]float64{"": 1, "millimeter": 1, "micron": .001, "centimeter": 10, "inch": 25.4, "foot": 304.8, "meter": 1000}

// The parts of a 3MF model that are read.
type (
	model3MF struct {
		unit    string
		objects []object3MF
		items   []use3MF
		at      map[string]int // where each object stands, by its id
	}
	object3MF struct {
		id, name   string
		support    bool      // it only holds others up while they are printed
		body       mesh.Body // its vertices and triangles, as written
		components []use3MF
	}
	use3MF struct{ object, transform, file string } // file is empty for the model it stands in
)

// package3MFs is a package with those of its models that were read, and how much they hold.
type package3MFs struct {
	ctx                          context.Context // of who waits for it
	z                            *zip.Reader
	models                       map[string]*model3MF
	objects, vertices, triangles int
}

// Read3MF reads a 3MF package: every object that is built, with its components and
// transforms, in mm, also where its parts lie in several files (3MF Production Extension
// 1.1). Each use of a mesh is a body; supports are left out and counted. The error is a
// sentence without its full stop. With supports they are bodies too.
func Read3MF(ctx context.Context, data []byte, supports bool) (mesh.Mesh, error) {
	if len(data) > MaxMeshBytes {
		return mesh.Mesh{}, fmt.Errorf("the package is larger than %d MB: export it with fewer triangles", MaxMeshBytes>>20)
	}
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return mesh.Mesh{}, errors.New("it is not a 3MF package: export it again")
	}
	if len(z.File) > most3MFEntries {
		return mesh.Mesh{}, fmt.Errorf("the package holds %d files, and at most %d can be read", len(z.File), most3MFEntries)
	}
	var unpacked uint64
	for _, f := range z.File {
		if unpacked += f.UncompressedSize64; unpacked > most3MFUnpacked || f.UncompressedSize64 > most3MFUnpacked {
			return mesh.Mesh{}, fmt.Errorf("the package unpacks to more than %d MB: export it coarser", most3MFUnpacked>>20)
		}
	}
	p := package3MFs{ctx: ctx, z: z, models: map[string]*model3MF{}}
	file, err := modelOf(z)
	if err != nil {
		return mesh.Mesh{}, err
	}
	return p.built(file, supports)
}

// plainName is a file of the package as it is named within it.
func plainName(name string) string {
	return strings.ToLower(strings.TrimPrefix(path.Clean("/"+name), "/"))
}

// model reads a model of the package, once.
func (p *package3MFs) model(file string) (*model3MF, error) {
	if m, known := p.models[plainName(file)]; known {
		return m, nil
	}
	if len(p.models) >= most3MFModels {
		return nil, fmt.Errorf("the parts are in more than %d files: join what belongs together", most3MFModels)
	}
	text, err := entry(p.z, plainName(file))
	if err != nil {
		return nil, fmt.Errorf("the package names the model %q but does not contain it: export it again", shorten(file))
	}
	defer text.Close()
	m, err := p.read(tight(io.LimitReader(within(p.ctx, text), most3MFUnpacked)))
	if err != nil {
		return nil, err
	}
	p.models[plainName(file)] = &m
	return &m, nil
}

// Bounds of a model while it is read.
const (
	most3MFTag  = 64 << 10 // bytes from one < or > to the next
	most3MFNest = 64       // elements within one another
)

var errModel = errors.New("the model in the package is damaged: export it again")

// tightReader makes one space of many, which XML takes for the same between elements, and
// ends with an error at a tag that never ends: a file may unpack to far more than it holds.
type tightReader struct {
	r     *bufio.Reader
	space bool
	since int // bytes since the last angle bracket
}

func tight(r io.Reader) io.Reader { return &tightReader{r: bufio.NewReaderSize(r, 64<<10)} }

// Read implements io.Reader.
func (t *tightReader) Read(p []byte) (int, error) {
	for {
		n, err := t.r.Read(p)
		kept := p[:0]
		for _, c := range p[:n] {
			blank := c == ' ' || c == '\t' || c == '\n' || c == '\r'
			if blank && t.space {
				continue
			}
			t.space = blank
			if t.since++; c == '<' || c == '>' {
				t.since = 0
			}
			kept = append(kept, c)
		}
		if t.since > most3MFTag {
			return len(kept), errModel
		}
		if len(kept) > 0 || err != nil {
			return len(kept), err
		}
	}
}

// read reads a model element by element.
func (p *package3MFs) read(r io.Reader) (m model3MF, err error) {
	d := xml.NewDecoder(r)
	deep := 0
	var o *object3MF
	for {
		t, err := d.Token()
		if err == io.EOF {
			break
		}
		if err != nil {
			return m, errModel
		}
		if _, ends := t.(xml.EndElement); ends {
			deep--
			continue
		}
		e, begins := t.(xml.StartElement)
		if !begins {
			continue
		}
		if deep++; deep > most3MFNest {
			return m, errModel
		}
		switch e.Name.Local {
		case "model":
			m.unit = attr(e, "unit")
		case "object":
			if p.objects++; p.objects > most3MFObjects {
				return m, fmt.Errorf("the model has more than %d objects, too many to read", most3MFObjects)
			}
			m.objects = append(m.objects, object3MF{id: attr(e, "id"), name: attr(e, "name"),
				support: strings.HasSuffix(attr(e, "type"), "support")})
			o = &m.objects[len(m.objects)-1]
		case "item":
			if len(m.items) >= most3MFObjects {
				return m, fmt.Errorf("the model places more than %d objects: join what belongs together", most3MFObjects)
			}
			m.items = append(m.items, use3MF{attr(e, "objectid"), attr(e, "transform"), attr(e, "path")})
		case "component", "vertex", "triangle":
			if o == nil {
				return m, errModel
			}
			switch e.Name.Local {
			case "component":
				if len(o.components) >= most3MFObjects {
					return m, fmt.Errorf("the model places more than %d objects: join what belongs together", most3MFObjects)
				}
				o.components = append(o.components, use3MF{attr(e, "objectid"), attr(e, "transform"), attr(e, "path")})
			case "vertex":
				if p.vertices++; p.vertices > 3*mesh.MostTriangles/2 {
					return m, fmt.Errorf("the model has more than %d corners: export it with fewer", 3*mesh.MostTriangles/2)
				}
				var at [3]float64
				for i, name := range []string{"x", "y", "z"} {
					if at[i], err = strconv.ParseFloat(attr(e, name), 64); err != nil {
						return m, errModel
					}
				}
				o.body.Vertices = append(o.body.Vertices, mesh.Vec{X: at[0], Y: at[1], Z: at[2]})
			case "triangle":
				if p.triangles++; p.triangles > mesh.MostTriangles {
					return m, fmt.Errorf("it has more than %d triangles: export it with fewer", mesh.MostTriangles)
				}
				var of [3]int32
				for i, name := range []string{"v1", "v2", "v3"} {
					v, err := strconv.ParseInt(attr(e, name), 10, 32)
					if err != nil {
						return m, errModel
					}
					of[i] = int32(v)
				}
				o.body.Triangles = append(o.body.Triangles, of)
			}
		}
	}
	m.at = map[string]int{}
	for i := range m.objects {
		m.at[m.objects[i].id] = i
		m.objects[i].body.DropUnused()
		if b := &m.objects[i].body; len(b.Triangles) <= most3MFWelded && !b.Closed() {
			b.Weld()
		}
	}
	return m, nil
}

// built is what the model in a file builds.
func (p *package3MFs) built(file string, supports bool) (mesh.Mesh, error) {
	root, err := p.model(file)
	if err != nil {
		return mesh.Mesh{}, err
	}
	var out mesh.Mesh
	placed, triangles := 0, 0
	var place func(u use3MF, m *model3MF, by transform3MF, deep int) error
	place = func(u use3MF, m *model3MF, by transform3MF, deep int) error {
		if placed++; placed > most3MFObjects { // objects that use one another over and over
			return fmt.Errorf("the model places more than %d objects: join what belongs together", most3MFObjects)
		}
		if deep > most3MFDeep {
			return errors.New("the components of the model contain one another without end: export it again")
		}
		if u.file != "" {
			if m, err = p.model(u.file); err != nil {
				return err
			}
		}
		k, known := unit3MF[m.unit]
		if !known {
			return fmt.Errorf("the model is measured in %q, which is not a 3MF unit", shorten(m.unit))
		}
		i, known := m.at[u.object]
		if !known {
			return fmt.Errorf("the model uses the object %q, which it does not have", shorten(u.object))
		}
		own, err := transformOf(u.transform)
		if err != nil {
			return err
		}
		by = own.then(by)
		o := m.objects[i]
		if o.support && !supports {
			out.Supports++
			return nil
		}
		if n := len(o.body.Triangles); n > 0 {
			if len(out.Bodies) >= mesh.MostBodies {
				return fmt.Errorf("the model has more than %d bodies: join those that take one colour", mesh.MostBodies)
			}
			if triangles += n; triangles > mesh.MostTriangles {
				return fmt.Errorf("it has more than %d triangles: export it with fewer", mesh.MostTriangles)
			}
			b := mesh.Body{Name: o.name, Vertices: make([]mesh.Vec, 0, len(o.body.Vertices)), Triangles: make([][3]int32, 0, n)}
			if b.Name == "" {
				b.Name = fmt.Sprintf("body %d", len(out.Bodies)+1)
			}
			for _, v := range o.body.Vertices {
				b.Vertices = append(b.Vertices, by.on(v, k))
			}
			for _, tri := range o.body.Triangles {
				if by.mirrors() {
					tri[1], tri[2] = tri[2], tri[1]
				}
				b.Triangles = append(b.Triangles, tri)
			}
			out.Bodies = append(out.Bodies, b)
		}
		for _, c := range o.components {
			if err := place(c, m, by, deep+1); err != nil {
				return err
			}
		}
		return nil
	}
	items := root.items
	if len(items) == 0 { // nothing is built: all that is there
		for _, o := range root.objects {
			items = append(items, use3MF{object: o.id})
		}
	}
	for _, item := range items {
		if err := place(item, root, transform3MF{1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0}, 0); err != nil {
			return mesh.Mesh{}, err
		}
	}
	if len(out.Bodies) == 0 && out.Supports > 0 {
		return mesh.Mesh{}, errors.New("the package holds only supports: export the part itself")
	}
	return out, out.Check()
}

// modelOf finds the file of the model by the package's relations.
func modelOf(z *zip.Reader) (string, error) {
	rels, err := entry(z, "_rels/.rels")
	if err != nil {
		return "", errors.New("the package has no relations (_rels/.rels), so its model cannot be found: export it again")
	}
	var r struct {
		All []struct {
			Type   string `xml:"Type,attr"`
			Target string `xml:"Target,attr"`
		} `xml:"Relationship"`
	}
	defer rels.Close()
	if err := xml.NewDecoder(tight(io.LimitReader(rels, most3MFRels))).Decode(&r); err != nil {
		return "", errors.New("the relations of the package are damaged: export it again")
	}
	for _, rel := range r.All {
		if rel.Type == modelRelation {
			return rel.Target, nil
		}
	}
	return "", errors.New("the relations of the package name no model: export it again")
}

func entry(z *zip.Reader, name string) (io.ReadCloser, error) {
	for _, f := range z.File {
		if strings.EqualFold(strings.TrimPrefix(f.Name, "/"), name) {
			return f.Open()
		}
	}
	return nil, errors.New("not there")
}

// transform3MF is a row-major 4 × 3 matrix that rows are multiplied with.
type transform3MF [12]float64

func transformOf(text string) (transform3MF, error) {
	t := transform3MF{1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0}
	words := strings.Fields(text)
	if len(words) == 0 {
		return t, nil
	}
	if len(words) != len(t) {
		return t, fmt.Errorf("a transform of the model has %d numbers in place of 12: export it again", len(words))
	}
	for i, w := range words {
		v, err := strconv.ParseFloat(w, 64)
		if err != nil {
			return t, fmt.Errorf("a transform of the model has %q for a number: export it again", shorten(w))
		}
		t[i] = v
	}
	return t, nil
}

// then is the transform t followed by u.
func (t transform3MF) then(u transform3MF) transform3MF {
	var out transform3MF
	for r := range 4 {
		for c := range 3 {
			for k := range 3 {
				out[3*r+c] += t[3*r+k] * u[3*k+c]
			}
			if r == 3 {
				out[3*r+c] += u[9+c]
			}
		}
	}
	return out
}

func (t transform3MF) on(v mesh.Vec, k float64) mesh.Vec {
	at := func(c int) float64 { return k * (v.X*t[c] + v.Y*t[3+c] + v.Z*t[6+c] + t[9+c]) }
	return mesh.Vec{X: at(0), Y: at(1), Z: at(2)}
}

func (t transform3MF) mirrors() bool {
	return t[0]*(t[4]*t[8]-t[5]*t[7])-t[1]*(t[3]*t[8]-t[5]*t[6])+t[2]*(t[3]*t[7]-t[4]*t[6]) < 0
}

// Painted is the material of a body in a 3MF package: the name of its card, and its colour.
type Painted struct {
	Name   string
	Colour colour.RGB
}

// Write3MF writes bodies with a material each (nil for none) as a 3MF package that other
// programs open with the colours in place; bodies of one card share its material.
// face, where it is given, is the material of a triangle that has one of its own, nil for that of its
// body.
func Write3MF(w io.Writer, title string, m mesh.Mesh, of []*Painted, face func(body, triangle int) *Painted) error {
	z := zip.NewWriter(w)
	put := func(name, text string) error {
		f, err := z.Create(name)
		if err == nil {
			_, err = io.WriteString(f, text)
		}
		return err
	}
	if err := put("[Content_Types].xml", xml.Header+
		`<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>`); err != nil {
		return err
	}
	if err := put("_rels/.rels", xml.Header+
		`<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="rel0" Type="`+modelRelation+`"/></Relationships>`); err != nil {
		return err
	}
	escaped := func(s string) string {
		var b strings.Builder
		_ = xml.EscapeText(&b, []byte(s))
		return b.String()
	}
	num := func(v float64) string { return strconv.FormatFloat(v, 'g', -1, 64) }
	var b strings.Builder
	b.WriteString(xml.Header + `<model unit="millimeter" xml:lang="en-GB" xmlns="` + coreSpace + `"><metadata name="Title">` + escaped(title) +
		`</metadata><resources><basematerials id="1">`)
	base := make([]int, len(m.Bodies))
	var known []Painted
	material := func(p *Painted) int {
		if p == nil {
			return -1
		}
		at := slices.Index(known, *p)
		if at < 0 {
			at = len(known)
			known = append(known, *p)
			fmt.Fprintf(&b, `<base name="%s" displaycolor="%s"/>`, escaped(p.Name), strings.ToUpper(p.Colour.Hex()))
		}
		return at
	}
	faces := make([]map[int]int, len(m.Bodies)) // triangle to material
	for i, body := range m.Bodies {
		base[i] = -1
		if i < len(of) {
			base[i] = material(of[i])
		}
		if face == nil {
			continue
		}
		faces[i] = map[int]int{}
		for t := range body.Triangles {
			if at := material(face(i, t)); at >= 0 {
				faces[i][t] = at
			}
		}
	}
	if len(known) == 0 {
		b.WriteString(`<base name="plain" displaycolor="#B0B0B0"/>`)
	}
	b.WriteString(`</basematerials>`)
	for i, body := range m.Bodies {
		fmt.Fprintf(&b, `<object id="%d" type="model" name="%s"`, i+2, escaped(body.Name))
		if base[i] >= 0 {
			fmt.Fprintf(&b, ` pid="1" pindex="%d"`, base[i])
		}
		b.WriteString(`><mesh><vertices>`)
		for _, v := range body.Vertices {
			b.WriteString(`<vertex x="` + num(v.X) + `" y="` + num(v.Y) + `" z="` + num(v.Z) + `"/>`)
		}
		b.WriteString(`</vertices><triangles>`)
		for n, t := range body.Triangles {
			if at, own := faces[i][n]; own {
				fmt.Fprintf(&b, `<triangle v1="%d" v2="%d" v3="%d" pid="1" p1="%d"/>`, t[0], t[1], t[2], at)
				continue
			}
			fmt.Fprintf(&b, `<triangle v1="%d" v2="%d" v3="%d"/>`, t[0], t[1], t[2])
		}
		b.WriteString(`</triangles></mesh></object>`)
	}
	b.WriteString(`</resources><build>`)
	for i := range m.Bodies {
		fmt.Fprintf(&b, `<item objectid="%d"/>`, i+2)
	}
	b.WriteString(`</build></model>`)
	if err := put("3D/3dmodel.model", b.String()); err != nil {
		return err
	}
	return z.Close()
}
