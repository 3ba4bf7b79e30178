package exchange

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"runtime"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
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
		p, err := ReadPhoto(withOrientation(data, uint16(o)))
		require.NoError(t, err)
		if o >= 5 {
			assert.Equal(t, []int{40, 80}, []int{p.Width, p.Height})
		} else {
			assert.Equal(t, []int{80, 40}, []int{p.Width, p.Height})
		}
		c := p.Image.RGBAAt(red[o].X, red[o].Y)
		assert.Greater(t, c.R, c.B, "orientation %d", o)
	}
	p, err := ReadPhoto(withOrientation(data, 99))
	require.NoError(t, err)
	assert.Equal(t, 80, p.Width, "nonsense is left alone")
}

func TestPhotoKindsAndSize(t *testing.T) {
	var b bytes.Buffer
	img := image.NewNRGBA(image.Rect(0, 0, 3200, 1600)) // wholly transparent
	require.NoError(t, png.Encode(&b, img))
	p, err := ReadPhoto(b.Bytes())
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
		"damaged at its beginning":     []byte("\xff\xd8\xff\xe0nothing"),
		"few pixels":                   asJPEG(t, corner(4, 4)),
		"larger than 40 MB":            append(whole[:len(whole):len(whole)], make([]byte, 41<<20)...),
	} {
		_, err := ReadPhoto(data)
		assert.ErrorContains(t, err, want)
	}
	_, err := ReadPhoto(nil)
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
	p, err := ReadPhoto(data)
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
		p, err := ReadPhoto(data)
		if err == nil {
			assert.LessOrEqual(t, p.Image.Bounds().Dx(), WorkingSide)
		}
	})
}
