package report

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/makiuchi-d/gozxing"
	"github.com/makiuchi-d/gozxing/qrcode"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/draw"
	"golang.org/x/image/math/f64"

	"dynacor/core/coretest"
)

// printed is a sheet as a printer makes it, at so many dots to the inch.
func printed(t *testing.T, pdf []byte, dpi string) image.Image {
	t.Helper()
	dir := t.TempDir()
	file := filepath.Join(dir, "tag.pdf")
	require.NoError(t, os.WriteFile(file, pdf, 0o600))
	out, err := exec.Command("pdftoppm", "-png", "-r", dpi, "-singlefile", file, filepath.Join(dir, "tag")).CombinedOutput()
	require.NoError(t, err, string(out))
	b, err := os.ReadFile(filepath.Join(dir, "tag.png"))
	require.NoError(t, err)
	img, err := png.Decode(bytes.NewReader(b))
	require.NoError(t, err)
	return img
}

// aimed is what a camera held over the code sees of the sheet: a square of it, mm.
func aimed(sheet image.Image, x, y, side float64) image.Image {
	k := float64(sheet.Bounds().Dx()) / 210
	out := image.NewGray(image.Rect(0, 0, int(side*k), int(side*k)))
	draw.Draw(out, out.Bounds(), sheet, image.Pt(int(x*k), int(y*k)), draw.Src)
	return out
}

// seen is a picture of it as a camera in the hand takes it: turned, smaller, in poor light, out of focus.
func seen(of image.Image, turn, scale float64) image.Image {
	w, h := float64(of.Bounds().Dx())*scale, float64(of.Bounds().Dy())*scale
	sin, cos := math.Sincos(turn * math.Pi / 180)
	size := int(math.Hypot(w, h)) + 2
	mid := float64(size) / 2
	out := image.NewGray(image.Rect(0, 0, size, size))
	draw.Draw(out, out.Bounds(), image.NewUniform(color.Gray{90}), image.Point{}, draw.Src)
	draw.BiLinear.Transform(out, f64.Aff3{scale * cos, -scale * sin, mid - (w*cos-h*sin)/2, scale * sin, scale * cos,
		mid - (w*sin+h*cos)/2}, of, of.Bounds(), draw.Over, nil)
	blurred := image.NewGray(out.Bounds())
	for y := 1; y < size-1; y++ {
		for x := 1; x < size-1; x++ {
			sum := 0
			for dy := -1; dy <= 1; dy++ {
				for dx := -1; dx <= 1; dx++ {
					sum += int(out.GrayAt(x+dx, y+dy).Y)
				}
			}
			blurred.SetGray(x, y, color.Gray{uint8(60 + sum/9*120/255)}) // half the contrast of day
		}
	}
	return blurred
}

func read(t *testing.T, img image.Image) string {
	t.Helper()
	bits, err := gozxing.NewBinaryBitmapFromImage(img)
	require.NoError(t, err)
	r, err := qrcode.NewQRCodeReader().Decode(bits, map[gozxing.DecodeHintType]any{
		gozxing.DecodeHintType_TRY_HARDER: true})
	require.NoError(t, err)
	return r.GetText()
}

// The code on a printed tag is read by a camera in the hand and opens the joint where the site says Dynacor is found.
func TestCameraReadsTheCodeOfATag(t *testing.T) {
	v := view(t, (*coretest.Script).Finish)
	v.Address = "https://dynacor.tarn-skerry.example"
	var b bytes.Buffer
	require.NoError(t, Tag(&b, v))
	const want = "https://dynacor.tarn-skerry.example/joints/SW-111?record=TS-2026-00001"
	tag := aimed(printed(t, b.Bytes(), "300"), 96, 46, 39)
	require.Equal(t, want, read(t, tag))
	for _, turn := range []float64{3, 30, 90, 187} {
		require.Equal(t, want, read(t, seen(tag, turn, 0.6)), "%g°", turn)
	}
	v.Address = ""
	b.Reset()
	require.NoError(t, Tag(&b, v))
	require.Contains(t, read(t, aimed(printed(t, b.Bytes(), "300"), 96, 46, 39)), "DYNACOR TS-2026-00001 ")
}
