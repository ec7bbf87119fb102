package report

import (
	"bytes"
	"fmt"
	"image"
	"slices"
	"testing"

	"github.com/makiuchi-d/gozxing"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/draw"

	"dynacor/core/quantity"
)

func toolLabel(n int) Label {
	return Label{Head: fmt.Sprintf("W-%d", 100+n), Name: "click wrench, 40 to 200 N·m, 1/2 in drive", Code: fmt.Sprintf("W-%d", 100+n)}
}

const mm = 25.4 / 72 // of a point

// On every stock, what stands on a label stays inside it and beside its code, however long a name is.
func TestTextOfALabelStaysInside(t *testing.T) {
	for _, st := range Stocks {
		for name, l := range map[string]Label{"tool": toolLabel(1), "long": {Head: "TSK-UNIT-07-DRAFT-TUBE-MANHOLE-COVER-A",
			Name: "manhole cover of the draft tube, lower row, seen from the gallery on the landward side", Big: "Accepted",
			Lines: []string{"300 N·m", "28 November 2026", "Tightened M. Tolley, proved I. Quaye", "TS-2026-00001 0F0F-0F0F"},
			Code:  "https://dynacor.tarn-skerry.example/joints/TSK-UNIT-07-DRAFT-TUBE-MANHOLE-COVER-A?record=TS-2026-00001"}} {
			var b bytes.Buffer
			require.NoError(t, Labels(&b, "Labels", "Tarn Skerry Tidal Station", st, 1, []Label{l}))
			words, _ := wordsAt(t, b.Bytes())
			require.NotEmpty(t, words)
			text := ""
			for _, w := range words {
				text += w.text + " "
				where := fmt.Sprintf("%s of %s on %s", w.text, name, st.Code)
				require.GreaterOrEqual(t, w.left*mm, st.Left, where)
				require.LessOrEqual(t, w.right*mm, st.Left+st.W+.01, where)
				require.GreaterOrEqual(t, w.top*mm, st.Top-.6, where)
				require.LessOrEqual(t, w.foot*mm, st.Top+st.H+.6, where)
			}
			for _, want := range []string{l.Big, "Skerry"} {
				require.Contains(t, text, want, "%s on %s", name, st.Code)
			}
		}
	}
}

// No label of a stock lies on another or beyond the sheet.
func TestLabelsOfAStockLieBesideEachOther(t *testing.T) {
	for _, st := range Stocks {
		require.GreaterOrEqual(t, st.StepX, st.W, st.Code)
		require.GreaterOrEqual(t, st.StepY, st.H, st.Code)
		require.LessOrEqual(t, st.Left+float64(st.Across-1)*st.StepX+st.W, st.PageW, st.Code)
		require.LessOrEqual(t, st.Top+float64(st.Down-1)*st.StepY+st.H, st.PageH, st.Code)
	}
}

// A sheet of which some labels are gone is used from the first that is left; what does not fit goes on on the next.
func TestLabelsBeginWhereASheetIsLeft(t *testing.T) {
	st, err := StockOf("a4-24")
	require.NoError(t, err)
	var list []Label
	for i := range 24 {
		list = append(list, toolLabel(i))
	}
	var b bytes.Buffer
	require.NoError(t, Labels(&b, "Labels", "Tarn Skerry", st, 5, list))
	words, pages := wordsAt(t, b.Bytes())
	require.Equal(t, 2, pages)
	find := func(text string) placed {
		i := slices.IndexFunc(words, func(w placed) bool { return w.text == text })
		require.GreaterOrEqual(t, i, 0, text)
		return words[i]
	}
	first, fifth := find("W-100"), find("W-120")
	require.InDelta(t, st.StepX, first.left*mm, 5, "the fifth label is the second of the second row")
	require.InDelta(t, st.StepY, first.top*mm, 5)
	require.InDelta(t, 0, fifth.left*mm, 5, "the next sheet begins at its first")
	require.InDelta(t, 0, fifth.top*mm, 5)
	for _, from := range []int{0, 25} {
		r, ok := quantity.RefusalIn(Labels(&b, "Labels", "", st, from, list))
		require.True(t, ok)
		require.Equal(t, "from", r.Field)
	}
	_, err = StockOf("a4-25")
	require.ErrorContains(t, err, "no labels")
}

// The smallest label's code is read off its print, with the longest that a tin carries.
func TestCodeOfTheSmallestLabelIsRead(t *testing.T) {
	st, err := StockOf("a4-65")
	require.NoError(t, err)
	code := "https://dynacor.tarn-skerry.example/scan?batch=B-2231%2F07&lubricant=moly-1000&useBy=2027-06-30"
	var b bytes.Buffer
	require.NoError(t, Labels(&b, "Labels", "Tarn Skerry", st, 1, []Label{{Head: "B-2231/07", Name: "Moly paste", Code: code}}))
	sheet := printed(t, b.Bytes(), "300")
	k := float64(sheet.Bounds().Dx()) / st.PageW
	one := image.NewGray(image.Rect(0, 0, int(st.W*k), int(st.H*k)))
	draw.Draw(one, one.Bounds(), sheet, image.Pt(int(st.Left*k), int(st.Top*k)), draw.Src)
	_, err = gozxing.NewBinaryBitmapFromImage(one)
	require.NoError(t, err)
	require.Equal(t, code, read(t, one))
}
