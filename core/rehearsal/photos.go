package rehearsal

import (
	"bytes"
	"image"
	"image/png"

	"dynacor/core/run"
)

// Picture is the photo that a script takes: a plain grey card, as PNG.
func Picture() []byte {
	card := image.NewGray(image.Rect(0, 0, 64, 48))
	for i := range card.Pix {
		card.Pix[i] = 0xb4
	}
	var b bytes.Buffer
	_ = png.Encode(&b, card) // into memory
	return b.Bytes()
}

// Photos gives each photo that events name an identifier of its own, made by fresh; what it gives must be sent after
// them.
func Photos(events []run.Event, fresh func() string) (ids []string) {
	for i := range events {
		if events[i].Photo != "" {
			events[i].Photo = fresh()
			ids = append(ids, events[i].Photo)
		}
	}
	return ids
}
