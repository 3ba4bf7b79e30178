package exchange

import (
	"archive/zip"
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"path"
	"strconv"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/mesh"
)

// Limits of a 3MF package.
const (
	most3MFEntries  = 400
	most3MFUnpacked = 400 << 20
	most3MFDeep     = 16 // components within one another
	most3MFObjects  = 2000
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
		Unit    string `xml:"unit,attr"`
		Objects []struct {
			ID       string `xml:"id,attr"`
			Name     string `xml:"name,attr"`
			Vertices []struct {
				X float64 `xml:"x,attr"`
				Y float64 `xml:"y,attr"`
				Z float64 `xml:"z,attr"`
			} `xml:"mesh>vertices>vertex"`
			Triangles []struct {
				A int32 `xml:"v1,attr"`
				B int32 `xml:"v2,attr"`
				C int32 `xml:"v3,attr"`
			} `xml:"mesh>triangles>triangle"`
			Components []use3MF `xml:"components>component"`
		} `xml:"resources>object"`
		Items []use3MF `xml:"build>item"`
	}
	use3MF struct {
		Object    string `xml:"objectid,attr"`
		Transform string `xml:"transform,attr"`
	}
)

// Read3MF reads a 3MF package: every object that is built, with its components and
// transforms, in mm. Each use of a mesh is a body. The error is a sentence without
// its full stop.
func Read3MF(data []byte) (mesh.Mesh, error) {
	if len(data) > MaxMeshBytes {
		return mesh.Mesh{}, fmt.Errorf("the package is larger than %d MB: export it coarser", MaxMeshBytes>>20)
	}
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return mesh.Mesh{}, errors.New("it is no 3MF package: export it again")
	}
	if len(z.File) > most3MFEntries {
		return mesh.Mesh{}, fmt.Errorf("the package holds %d files and at most %d are taken", len(z.File), most3MFEntries)
	}
	var unpacked uint64
	for _, f := range z.File {
		if unpacked += f.UncompressedSize64; unpacked > most3MFUnpacked || f.UncompressedSize64 > most3MFUnpacked {
			return mesh.Mesh{}, fmt.Errorf("the package unpacks to more than %d MB: export it coarser", most3MFUnpacked>>20)
		}
	}
	text, err := modelOf(z)
	if err != nil {
		return mesh.Mesh{}, err
	}
	return built(text)
}

// built is what a model builds, by its text.
func built(text []byte) (mesh.Mesh, error) {
	var m model3MF
	if err := xml.NewDecoder(bytes.NewReader(text)).Decode(&m); err != nil {
		return mesh.Mesh{}, errors.New("the model in the package is damaged: export it again")
	}
	k, known := unit3MF[m.Unit]
	if !known {
		return mesh.Mesh{}, fmt.Errorf("the model is measured in %q, which is no unit of 3MF", shorten(m.Unit))
	}
	if len(m.Objects) > most3MFObjects {
		return mesh.Mesh{}, fmt.Errorf("the model has %d objects and at most %d are taken", len(m.Objects), most3MFObjects)
	}
	at := map[string]int{}
	for i, o := range m.Objects {
		at[o.ID] = i
	}
	var out mesh.Mesh
	placed := 0
	var place func(u use3MF, by transform3MF, deep int) error
	place = func(u use3MF, by transform3MF, deep int) error {
		if placed++; placed > most3MFObjects { // objects that use one another over and over
			return fmt.Errorf("the model places more than %d objects: join what belongs together", most3MFObjects)
		}
		if deep > most3MFDeep {
			return errors.New("the components of the model lie in one another without end: export it again")
		}
		i, known := at[u.Object]
		if !known {
			return fmt.Errorf("the model builds the object %q, which it does not have", shorten(u.Object))
		}
		own, err := transformOf(u.Transform)
		if err != nil {
			return err
		}
		by = own.then(by)
		o := m.Objects[i]
		if len(o.Triangles) > 0 {
			if len(out.Bodies) >= mesh.MostBodies {
				return fmt.Errorf("the model has more than %d bodies: join those that take one colour", mesh.MostBodies)
			}
			b := mesh.Body{Name: o.Name}
			if b.Name == "" {
				b.Name = fmt.Sprintf("body %d", len(out.Bodies)+1)
			}
			for _, v := range o.Vertices {
				b.Vertices = append(b.Vertices, by.on(mesh.Vec{X: v.X, Y: v.Y, Z: v.Z}, k))
			}
			for _, t := range o.Triangles {
				tri := [3]int32{t.A, t.B, t.C}
				if by.mirrors() {
					tri[1], tri[2] = tri[2], tri[1]
				}
				b.Triangles = append(b.Triangles, tri)
			}
			out.Bodies = append(out.Bodies, b)
		}
		for _, c := range o.Components {
			if err := place(c, by, deep+1); err != nil {
				return err
			}
		}
		return nil
	}
	items := m.Items
	if len(items) == 0 { // nothing is built: all that is there
		for _, o := range m.Objects {
			items = append(items, use3MF{Object: o.ID})
		}
	}
	for _, item := range items {
		if err := place(item, transform3MF{1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0}, 0); err != nil {
			return mesh.Mesh{}, err
		}
	}
	return out, out.Check()
}

// modelOf finds the model part by the package's relations.
func modelOf(z *zip.Reader) ([]byte, error) {
	rels, err := entry(z, "_rels/.rels")
	if err != nil {
		return nil, errors.New("the package has no relations (_rels/.rels), so its model cannot be found: export it again")
	}
	var r struct {
		All []struct {
			Type   string `xml:"Type,attr"`
			Target string `xml:"Target,attr"`
		} `xml:"Relationship"`
	}
	if err := xml.Unmarshal(rels, &r); err != nil {
		return nil, errors.New("the relations of the package are damaged: export it again")
	}
	for _, rel := range r.All {
		if rel.Type != modelRelation {
			continue
		}
		text, err := entry(z, strings.TrimPrefix(path.Clean("/"+rel.Target), "/"))
		if err != nil {
			return nil, fmt.Errorf("the package names the model %q and does not hold it: export it again", shorten(rel.Target))
		}
		return text, nil
	}
	return nil, errors.New("the relations of the package name no model: export it again")
}

func entry(z *zip.Reader, name string) ([]byte, error) {
	for _, f := range z.File {
		if strings.EqualFold(strings.TrimPrefix(f.Name, "/"), name) {
			r, err := f.Open()
			if err != nil {
				return nil, err
			}
			defer r.Close()
			// The size in the directory may lie: no more is read than may be.
			data, err := io.ReadAll(io.LimitReader(r, most3MFUnpacked+1))
			if err == nil && len(data) > most3MFUnpacked {
				err = errors.New("too large")
			}
			return data, err
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

// Write3MF writes bodies with a colour each (nil for none) as a 3MF package that
// other programs open with the colours in place.
func Write3MF(w io.Writer, title string, m mesh.Mesh, colours []*colour.RGB) error {
	z := zip.NewWriter(w)
	put := func(name, text string) error {
		f, err := z.Create(name)
		if err == nil {
			_, err = io.WriteString(f, text)
		}
		return err
	}
	if err := put("[Content_Types].xml", xml.Header+`<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>`); err != nil {
		return err
	}
	if err := put("_rels/.rels", xml.Header+`<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="rel0" Type="`+modelRelation+`"/></Relationships>`); err != nil {
		return err
	}
	escaped := func(s string) string {
		var b strings.Builder
		_ = xml.EscapeText(&b, []byte(s))
		return b.String()
	}
	num := func(v float64) string { return strconv.FormatFloat(v, 'g', -1, 64) }
	var b strings.Builder
	b.WriteString(xml.Header + `<model unit="millimeter" xml:lang="en-GB" xmlns="` + coreSpace + `"><metadata name="Title">` + escaped(title) + `</metadata><resources><basematerials id="1">`)
	base := make([]int, len(m.Bodies))
	n := 0
	for i := range m.Bodies {
		base[i] = -1
		if i < len(colours) && colours[i] != nil {
			base[i] = n
			n++
			fmt.Fprintf(&b, `<base name="%s" displaycolor="%s"/>`, escaped(m.Bodies[i].Name), strings.ToUpper(colours[i].Hex()))
		}
	}
	if n == 0 {
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
		for _, t := range body.Triangles {
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
