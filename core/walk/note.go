package walk

import (
	"strings"
	"unicode/utf8"

	"dynacor/core/quantity"
)

// Bounds of a note, letters.
const (
	leastNoted = 8
	mostNoted  = 1000
	mostTag    = 60
)

// CheckNote refuses, by field, a note of something that is at no joint of the register: one that says nothing, and a tag
// that no plate holds. A note needs no tag.
func CheckNote(tag, words string) error {
	if n := utf8.RuneCountInString(strings.TrimSpace(words)); n < leastNoted || n > mostNoted {
		return quantity.Refuse("note", "Say in a sentence what you saw, and where.", "has %d letters", n)
	}
	if n := utf8.RuneCountInString(tag); n > mostTag {
		return quantity.Refuse("tag", "Write it as it stands on the plate.", "has %d letters", n)
	}
	return nil
}
