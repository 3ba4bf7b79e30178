package exchange

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"math"
	"os"
	"runtime"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
)

// corner is a picture with its top left quarter red and the rest blue.
func corner(w, h int) *image.NRGBA {
	img := image.NewNRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := color.NRGBA{20, 20, 200, 255}
			if x < w/2 && y < h/2 {
				c = color.NRGBA{200, 20, 20, 255}
			}
			img.SetNRGBA(x, y, c)
		}
	}
	return img
}

func asJPEG(t testing.TB, img image.Image) []byte {
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, img, &jpeg.Options{Quality: 95}))
	return b.Bytes()
}

// withOrientation puts an EXIF block with an orientation into a JPEG.
func withOrientation(data []byte, o uint16) []byte {
	tiff := []byte("Exif\x00\x00MM\x00\x2a\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01\x00\x00\x00\x00\x00\x00\x00\x00")
	binary.BigEndian.PutUint16(tiff[24:], o)
	seg := append([]byte{0xff, 0xe1, 0, byte(len(tiff) + 2)}, tiff...)
	return append(append([]byte{0xff, 0xd8}, seg...), data[2:]...)
}

func TestPhotosAreTurnedUpright(t *testing.T) {
	data := asJPEG(t, corner(80, 40))
	red := map[int]image.Point{1: {10, 10}, 2: {70, 10}, 3: {70, 30}, 4: {10, 30}, 5: {10, 10}, 6: {30, 10}, 7: {30, 70}, 8: {10, 70}}
	for o := 1; o <= 8; o++ {
		p, err := ReadPhoto(t.Context(), withOrientation(data, uint16(o)))
		require.NoError(t, err)
		if o >= 5 {
			assert.Equal(t, []int{40, 80}, []int{p.Width, p.Height})
		} else {
			assert.Equal(t, []int{80, 40}, []int{p.Width, p.Height})
		}
		c := p.Image.RGBAAt(red[o].X, red[o].Y)
		assert.Greater(t, c.R, c.B, "orientation %d", o)
	}
	p, err := ReadPhoto(t.Context(), withOrientation(data, 99))
	require.NoError(t, err)
	assert.Equal(t, 80, p.Width, "nonsense is left alone")
}

func TestPhotoKindsAndSize(t *testing.T) {
	var b bytes.Buffer
	img := image.NewNRGBA(image.Rect(0, 0, 3200, 1600)) // wholly transparent
	require.NoError(t, png.Encode(&b, img))
	p, err := ReadPhoto(t.Context(), b.Bytes())
	require.NoError(t, err)
	assert.Equal(t, "png 3200 1600", p.Kind+" 3200 1600")
	assert.Equal(t, image.Rect(0, 0, 1400, 700), p.Image.Bounds())
	assert.Equal(t, color.RGBA{255, 255, 255, 255}, p.Image.RGBAAt(5, 5), "transparent places are paper")
}

// bomb is a PNG that claims to be of a huge size.
func bomb(t *testing.T, w, h uint32) []byte {
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, corner(10, 10)))
	data := b.Bytes()
	binary.BigEndian.PutUint32(data[16:], w)
	binary.BigEndian.PutUint32(data[20:], h)
	binary.BigEndian.PutUint32(data[29:], crc32.ChecksumIEEE(data[12:29]))
	return data
}

func TestPhotosRefused(t *testing.T) {
	whole := asJPEG(t, corner(600, 400))
	for want, data := range map[string][]byte{
		"save it as JPEG, PNG or WebP": []byte("II\x2a\x00 a TIFF with another name"),
		"is cut short":                 whole[:len(whole)/2],
		"more than can be read":        bomb(t, 60000, 60000),
		"damaged at its start":         []byte("\xff\xd8\xff\xe0nothing"),
		"few pixels":                   asJPEG(t, corner(4, 4)),
		"larger than 40 MB":            append(whole[:len(whole):len(whole)], make([]byte, 41<<20)...),
	} {
		_, err := ReadPhoto(t.Context(), data)
		assert.ErrorContains(t, err, want)
	}
	_, err := ReadPhoto(t.Context(), nil)
	assert.Error(t, err)
	assert.False(t, progressive(whole))
}

func TestMemoryWhileALargePhotoIsRead(t *testing.T) {
	if testing.Short() {
		t.Skip("a 40-megapixel photo takes some seconds")
	}
	data := asJPEG(t, image.NewGray(image.Rect(0, 0, 7680, 5200)))
	var before, after runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&before)
	p, err := ReadPhoto(t.Context(), data)
	require.NoError(t, err)
	runtime.ReadMemStats(&after)
	assert.Less(t, after.TotalAlloc-before.TotalAlloc, uint64(200<<20), "everything reading it ever took")
	assert.Equal(t, WorkingSide, p.Image.Bounds().Dx())
}

func FuzzReadPhoto(f *testing.F) {
	f.Add(asJPEG(f, corner(16, 16)))
	f.Add(withOrientation(asJPEG(f, corner(16, 16)), 6))
	f.Add([]byte("RIFF\x00\x00\x00\x00WEBPVP8 "))
	f.Fuzz(func(t *testing.T, data []byte) {
		p, err := ReadPhoto(t.Context(), data)
		if err == nil {
			assert.LessOrEqual(t, p.Image.Bounds().Dx(), WorkingSide)
		}
	})
}

// readAt is the colour of a photo at a place.
func readAt(p Photo, x, y int) colour.Lab {
	c := p.Image.RGBAAt(x, y)
	return colour.RGB{R: float64(c.R) / 255, G: float64(c.G) / 255, B: float64(c.B) / 255}.Lab()
}

// A browser's lossy WebP of four fields, which video's narrow range would wash out.
func TestALossyWebPIsNotWashedOut(t *testing.T) {
	data, err := os.ReadFile("testdata/patches.webp")
	require.NoError(t, err)
	p, err := ReadPhoto(t.Context(), data)
	require.NoError(t, err)
	for i, hex := range []string{"#4b2346", "#e0a52e", "#2f5f8f", "#d9cbb0"} {
		c, err := colour.ParseHex(hex)
		require.NoError(t, err)
		assert.Less(t, colour.DeltaE2000(c.Lab(), readAt(p, 24+48*(i%2), 24+48*(i/2))), 1.0, hex)
	}
}

// wideProfile is a profile of three primaries, relative to D50, and a gamma (ICC.1:2022, of
// version 2: a matrix and three curves).
func wideProfile(primaries [3][3]float64, gamma float64) []byte {
	var tags, body []byte
	word := func(v uint32) []byte { return binary.BigEndian.AppendUint32(nil, v) }
	fixed := func(v float64) []byte { return word(uint32(int32(math.Round(v * 65536)))) }
	add := func(name string, data []byte) {
		for len(data)%4 != 0 {
			data = append(data, 0)
		}
		tags = append(append(append(tags, name...), word(uint32(128+4+12*8+len(body)))...), word(uint32(len(data)))...)
		body = append(body, data...)
	}
	xyz := func(v [3]float64) []byte {
		out := append([]byte("XYZ "), 0, 0, 0, 0)
		for _, x := range v {
			out = append(out, fixed(x)...)
		}
		return out
	}
	text := "wide test"
	desc := append(append([]byte("desc\x00\x00\x00\x00"), word(uint32(len(text)+1))...), text...)
	add("desc", append(desc, make([]byte, 1+4+4+2+1+67)...))
	add("wtpt", xyz([3]float64{.9642, 1, .8249}))
	for i, name := range []string{"rXYZ", "gXYZ", "bXYZ"} {
		add(name, xyz(primaries[i]))
	}
	curve := append(append([]byte("curv\x00\x00\x00\x00"), word(1)...), 0, 0)
	binary.BigEndian.PutUint16(curve[12:], uint16(math.Round(gamma*256)))
	for _, name := range []string{"rTRC", "gTRC", "bTRC"} {
		add(name, curve)
	}
	head := make([]byte, 128)
	binary.BigEndian.PutUint32(head, uint32(128+4+len(tags)+len(body)))
	copy(head[8:], []byte{2, 0x40, 0, 0})
	copy(head[12:], "mntrRGB XYZ ")
	copy(head[36:], "acsp")
	copy(head[68:], append(append(fixed(.9642), fixed(1)...), fixed(.8249)...))
	return append(append(append(head, word(8)...), tags...), body...)
}

// withProfile puts a profile into a JPEG or PNG.
func withProfile(data, profile []byte) []byte {
	if bytes.HasPrefix(data, []byte("\x89PNG")) {
		var z bytes.Buffer
		w := zlib.NewWriter(&z)
		_, _ = w.Write(profile)
		_ = w.Close()
		body := append([]byte("iCCPwide\x00\x00"), z.Bytes()...)
		chunk := append(binary.BigEndian.AppendUint32(nil, uint32(len(body)-4)), body...)
		chunk = binary.BigEndian.AppendUint32(chunk, crc32.ChecksumIEEE(body))
		const afterHead = 33
		return append(append(append([]byte{}, data[:afterHead]...), chunk...), data[afterHead:]...)
	}
	body := append([]byte("ICC_PROFILE\x00\x01\x01"), profile...)
	seg := append([]byte{0xff, 0xe2, byte((len(body) + 2) >> 8), byte(len(body) + 2)}, body...)
	return append(append([]byte{0xff, 0xd8}, seg...), data[2:]...)
}

// A picture stored by wide primaries shows the colour that was photographed, once the
// profile is honoured.
func TestAColourProfileIsHonoured(t *testing.T) {
	primaries := [3][3]float64{{.51512, .2412, -.00105}, {.29198, .69225, .04189}, {.1571, .06657, .78407}}
	const gamma = 563. / 256 // as near to 2.2 as the profile tells it
	for _, hex := range []string{"#b5302a", "#2f5f8f", "#d9cbb0", "#4b7d3a"} {
		c, err := colour.ParseHex(hex)
		require.NoError(t, err)
		want := c.Lab()
		xyz := colour.Adapt(want.XYZ(), colour.WhiteD65, colour.WhiteD50)
		var m [3][3]float64
		for i := range 3 {
			for k := range 3 {
				m[k][i] = primaries[i][k]
			}
		}
		r, g, b := solve3(m, xyz.X, xyz.Y, xyz.Z)
		code := func(v float64) uint8 { return uint8(math.Round(255 * math.Pow(math.Max(0, v), 1/gamma))) }
		img := image.NewNRGBA(image.Rect(0, 0, 40, 40))
		for i := range 40 * 40 {
			img.SetNRGBA(i%40, i/40, color.NRGBA{code(r), code(g), code(b), 255})
		}
		var asPNG bytes.Buffer
		require.NoError(t, png.Encode(&asPNG, img))
		for kind, data := range map[string][]byte{"jpeg": asJPEG(t, img), "png": asPNG.Bytes()} {
			plain, err := ReadPhoto(t.Context(), data)
			require.NoError(t, err)
			p, err := ReadPhoto(t.Context(), withProfile(data, wideProfile(primaries, gamma)))
			require.NoError(t, err)
			assert.Equal(t, "wide test", p.Profile, kind)
			assert.Empty(t, p.Trouble)
			assert.Less(t, colour.DeltaE2000(want, readAt(p, 20, 20)), 1.0, "%s as %s", hex, kind)
			if hex == "#b5302a" {
				assert.Greater(t, colour.DeltaE2000(want, readAt(plain, 20, 20)), 2.0, "left aside, it is off")
			}
		}
	}
	for name, bad := range map[string][]byte{"noise": bytes.Repeat([]byte("no profile"), 40), "cut short": wideProfile(primaries, 2.2)[:200],
		"empty tags": wideProfile(primaries, 2.2)[:132]} {
		p, err := ReadPhoto(t.Context(), withProfile(asJPEG(t, corner(40, 40)), bad))
		require.NoError(t, err, name)
		assert.Contains(t, p.Trouble, "colour profile cannot be read", name)
		assert.Equal(t, 40, p.Image.Bounds().Dx(), "and the photo is there all the same")
	}
	inks := wideProfile(primaries, 2.2)
	copy(inks[16:], "CMYK")
	p, err := ReadPhoto(t.Context(), withProfile(asJPEG(t, corner(40, 40)), inks))
	require.NoError(t, err)
	assert.Contains(t, p.Trouble, "for inks")
}

// solve3 solves three equations by Cramer's rule.
func solve3(m [3][3]float64, x, y, z float64) (a, b, c float64) {
	det := func(m [3][3]float64) float64 {
		return m[0][0]*(m[1][1]*m[2][2]-m[1][2]*m[2][1]) - m[0][1]*(m[1][0]*m[2][2]-m[1][2]*m[2][0]) + m[0][2]*(m[1][0]*m[2][1]-m[1][1]*m[2][0])
	}
	var out [3]float64
	for k := range 3 {
		n := m
		n[0][k], n[1][k], n[2][k] = x, y, z
		out[k] = det(n) / det(m)
	}
	return out[0], out[1], out[2]
}

// Whatever a profile holds, the photo is read, or said why not, in no time.
func FuzzAColourProfile(f *testing.F) {
	f.Add(wideProfile([3][3]float64{{.5, .2, 0}, {.3, .7, .04}, {.15, .07, .8}}, 2.2))
	f.Fuzz(func(t *testing.T, profile []byte) {
		if len(profile) > 60000 {
			return
		}
		start := time.Now()
		_, err := ReadPhoto(t.Context(), withProfile(asJPEG(t, corner(40, 40)), profile))
		require.NoError(t, err)
		require.Less(t, time.Since(start), 5*time.Second)
	})
}
