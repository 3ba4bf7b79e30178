package shelf

import (
	"bytes"
	"context"
	"image"
	"image/jpeg"
	"image/png"

	"lampfern/core/piece"
	"lampfern/core/surface"
	"lampfern/core/words"
)

// bareKey names a relief by its photo and how it is made.
type bareKey struct {
	photo string
	bare  surface.Bare
}

// Relief is the photo that lies under a drawing, ready to be coloured.
func (s *Keeper) Relief(ctx context.Context, u piece.Under) (*image.Gray, error) {
	key := bareKey{u.Photo, u.Bare}
	if g, known := s.reliefs.Get(key); known {
		return g, nil
	}
	photo, err := s.Photo(ctx, u.Photo)
	if err != nil {
		return nil, err
	}
	g, err := surface.Relief(photo.image, u.Bare)
	if err != nil {
		return nil, words.Refuse("The photo cannot be coloured: %s.", err)
	}
	s.reliefs.Add(key, g)
	return g, nil
}

// ReliefPicture is a relief as a JPEG, and where it catches the light as a
// PNG that is clear elsewhere.
func (s *Keeper) ReliefPicture(ctx context.Context, u piece.Under, lights bool) ([]byte, error) {
	g, err := s.Relief(ctx, u)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if !lights {
		err = jpeg.Encode(&b, g, &jpeg.Options{Quality: viewQuality})
		return b.Bytes(), err
	}
	a := surface.Highlights(g)
	out := image.NewNRGBA(a.Rect)
	for i, v := range a.Pix {
		copy(out.Pix[i*4:], []uint8{255, 255, 255, v})
	}
	err = (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, out)
	return b.Bytes(), err
}
