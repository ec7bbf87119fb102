package walk

import (
	"slices"
	"time"

	"dynacor/core/quantity"
)

// longestUnsigned is how old a look may be when it is signed. Source: own rule; what somebody saw longer ago than a turn
// of shifts they do not stand up for from memory.
const longestUnsigned = 7 * 24 * time.Hour

// LookedAt is when somebody looked, of a look that was kept without network and is signed now: at and clock are the
// device's time then and now, sealed is when the record was sealed that it stands behind. A device whose clock is off by
// more than slack is put right. nil: at the time of signing. Refused, by the field "at": a time to come, one before the
// seal, and one more than a week ago.
func LookedAt(at, clock, now, sealed time.Time, slack time.Duration) (*time.Time, error) {
	if off := clock.Sub(now); off.Abs() > slack {
		at = at.Add(-off)
	}
	const remedy = "Set the clock of this device right, and look again."
	switch {
	case at.After(now.Add(slack)):
		return nil, quantity.Refuse("at", remedy, "is to come")
	case at.Before(sealed.Add(-slack)):
		return nil, quantity.Refuse("at", remedy, "is before the record was sealed")
	case now.Sub(at) > longestUnsigned:
		return nil, quantity.Refuse("at", "Look again: it is too long ago to sign.", "is more than %d days ago",
			longestUnsigned/(24*time.Hour))
	case now.Sub(at) <= slack:
		return nil, nil
	case at.Before(sealed):
		at = sealed
	}
	at = at.UTC().Truncate(time.Millisecond)
	return &at, nil
}

const (
	mostMeant     = 3  // tags that are asked about
	longestTyped  = 20 // letters of a tag that is guessed at
	lettersOfTags = "0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ-"
	dash          = '-'
)

// Misread gives the tags of which one may be meant by a tag that is not there, the likeliest first: two neighbours
// swapped, a dash left out, one letter wrong, one too many, one missing. None of a tag that is longer than people read wrongly.
func Misread(tag string) []string {
	letters := []rune(tag)
	if len(letters) > longestTyped {
		return nil
	}
	with := func(from, to int, put ...rune) string { // put in the place of some letters
		return string(letters[:from]) + string(put) + string(letters[to:])
	}
	var swapped, dashed, wrong, many, missing []string
	for i := range len(letters) + 1 {
		if i > 1 {
			swapped = append(swapped, with(i-2, i, letters[i-1], letters[i-2]))
		}
		if i > 0 {
			many = append(many, with(i-1, i))
		}
		dashed = append(dashed, with(i, i, dash))
		for _, l := range lettersOfTags {
			missing = append(missing, with(i, i, l))
			if i > 0 {
				wrong = append(wrong, with(i-1, i, l))
			}
		}
	}
	var out []string
	known := map[string]bool{tag: true, "": true}
	for _, guess := range slices.Concat(swapped, dashed, wrong, many, missing) {
		if !known[guess] {
			known[guess] = true
			out = append(out, guess)
		}
	}
	return out
}

// Like gives those of some tags that may be meant by one that is not among them, the likeliest first, three at most.
func Like(tag string, tags []string) []string {
	there := map[string]bool{}
	for _, t := range tags {
		there[t] = true
	}
	if there[tag] {
		return nil
	}
	var out []string
	for _, guess := range Misread(tag) {
		if there[guess] && len(out) < mostMeant {
			out = append(out, guess)
		}
	}
	return out
}
