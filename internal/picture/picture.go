// Package picture reads the pictures people bring, within bounds, and draws them anew as plain JPEG: what is shown and
// printed then holds nothing but the picture. It must never keep anything.
package picture

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	_ "image/png" // read as they come
	"net/http"

	_ "golang.org/x/image/webp" // read as they come
)

// Bounds of a picture: of its bytes, of its sides and of its area, looked at before it is unpacked.
const (
	MostBytes  = 4 << 20
	mostSide   = 10_000
	mostPixels = 16_000_000
)

// What is refused.
var (
	ErrNone  = errors.New("this is not a picture: take a JPEG, PNG or WebP")
	ErrLarge = fmt.Errorf("the picture is larger than %d MB or %d megapixels: take it at a lower resolution",
		MostBytes>>20, mostPixels/1_000_000)
)

// Check refuses what is no picture, and one past the bounds, without unpacking it. It gives the media type.
func Check(data []byte) (media string, err error) {
	if len(data) > MostBytes {
		return "", ErrLarge
	}
	media = http.DetectContentType(data)
	if media != "image/jpeg" && media != "image/png" && media != "image/webp" {
		return "", ErrNone
	}
	c, _, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || c.Width < 1 || c.Height < 1 {
		return "", ErrNone
	}
	if c.Width > mostSide || c.Height > mostSide || c.Width*c.Height > mostPixels {
		return "", ErrLarge
	}
	return media, nil
}

// Anew draws a picture anew as JPEG, on white where it lets through. Refused: what Check refuses, and a picture that
// cannot be unpacked.
func Anew(data []byte) (out []byte, err error) {
	if _, err := Check(data); err != nil {
		return nil, err
	}
	defer func() {
		if v := recover(); v != nil { // a decoder gave up
			out, err = nil, ErrNone
		}
	}()
	p, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, ErrNone
	}
	on := image.NewRGBA(image.Rect(0, 0, p.Bounds().Dx(), p.Bounds().Dy()))
	draw.Draw(on, on.Bounds(), image.NewUniform(color.White), image.Point{}, draw.Src)
	draw.Draw(on, on.Bounds(), p, p.Bounds().Min, draw.Over)
	var b bytes.Buffer
	if err := jpeg.Encode(&b, on, &jpeg.Options{Quality: 88}); err != nil {
		return nil, fmt.Errorf("picture: %w", err)
	}
	return b.Bytes(), nil
}
