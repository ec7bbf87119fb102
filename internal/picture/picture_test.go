package picture_test

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/internal/picture"
)

func drawn(t *testing.T, w, h int) []byte {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b,
		image.NewPaletted(image.Rect(0, 0, w, h), color.Palette{color.White, color.Black})))
	return b.Bytes()
}

// claims makes the header of a small PNG say another size.
func claims(t *testing.T, w, h uint32) []byte {
	t.Helper()
	data := bytes.Clone(drawn(t, 8, 8))
	binary.BigEndian.PutUint32(data[16:], w)
	binary.BigEndian.PutUint32(data[20:], h)
	binary.BigEndian.PutUint32(data[29:], crc32.ChecksumIEEE(data[12:29]))
	return data
}

// A small file that says it is a hundred thousand pixels wide is refused before room is made for it.
func TestPictureIsBoundedBeforeItIsUnpacked(t *testing.T) {
	for _, size := range [][2]uint32{{100_000, 100_000}, {10_001, 8}, {8, 10_001}, {4_001, 4_000}} {
		_, err := picture.Anew(claims(t, size[0], size[1]))
		require.ErrorIs(t, err, picture.ErrLarge, size)
	}
	_, err := picture.Check(claims(t, 4_000, 4_000))
	require.NoError(t, err)
	_, err = picture.Check(append(drawn(t, 8, 8), make([]byte, picture.MostBytes)...))
	require.ErrorIs(t, err, picture.ErrLarge)
	for _, bad := range []string{"", "no picture", "GIF89a", "\x89PNG\r\n\x1a\n", "<svg/>"} {
		_, err := picture.Anew([]byte(bad))
		require.ErrorIs(t, err, picture.ErrNone, bad)
	}
	_, err = picture.Anew(drawn(t, 300, 300)[:60])
	require.ErrorIs(t, err, picture.ErrNone, "cut short")
}

// What is shown is drawn anew: nothing that was hidden in the file comes along.
func TestPictureIsDrawnAnew(t *testing.T) {
	data := append(drawn(t, 40, 30), []byte("<script>alert(1)</script>")...)
	out, err := picture.Anew(data)
	require.NoError(t, err)
	require.NotContains(t, string(out), "script")
	p, err := jpeg.Decode(bytes.NewReader(out))
	require.NoError(t, err)
	require.Equal(t, 40, p.Bounds().Dx())
}
