package quantity

import (
	"math/rand/v2"
	"regexp"
	"testing"

	"github.com/stretchr/testify/require"
)

// The forms as regular expressions, which say the same in a line.
var (
	headForm     = regexp.MustCompile(`^[+-]?[\d.,/ \-]*[\d.,]`)
	plainForm    = regexp.MustCompile(`^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$`)
	fractionForm = regexp.MustCompile(`^(?:(\d+)[ -]+)?(\d+)/(\d+)$`)
	groupForm    = regexp.MustCompile(`^\d{1,3}( \d{3})+([.,]\d+)?$`)
	rangeForm    = regexp.MustCompile(`\d\s*(-|\.\.\.?|…|to)\s*\d`)
)

// What is read by hand is what the forms say, for texts of all that can stand in a number and what can not.
func TestFormsOfNumbers(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 11))
	bits := []string{"0", "1", "5", "12", "125", "000", ".", ",", "/", " ", "-", "+", "e", "E",
		"…", "to", "..", "x", "\t", "½", " 125", " 000"}
	hits := [5]int{}
	for range 200_000 {
		s := ""
		for range rng.IntN(9) {
			s += bits[rng.IntN(len(bits))]
			if rng.IntN(3) == 0 {
				s += string(rune('0' + rng.IntN(10)))
			}
		}
		require.Equal(t, headForm.FindString(s), head(s), "%q", s)
		require.Equal(t, plainForm.MatchString(s), plain(s), "%q", s)
		require.Equal(t, groupForm.MatchString(s), grouped(s), "%q", s)
		require.Equal(t, rangeForm.MatchString(s), spanned(s), "%q", s)
		whole, num, den, ok := fraction(s)
		m := fractionForm.FindStringSubmatch(s)
		require.Equal(t, m != nil, ok, "%q", s)
		if ok {
			require.Equal(t, m[1:], []string{whole, num, den}, "%q", s)
		}
		for i, hit := range []bool{head(s) != "", plain(s), ok, grouped(s), spanned(s)} {
			if hit {
				hits[i]++
			}
		}
	}
	for i, n := range hits {
		require.Greater(t, n, 200, "form %d is hardly met", i)
	}
}
