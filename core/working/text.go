package working

import "strings"

// Facts fill the wording of a finding.
type Facts map[string]string

// FactsOf makes facts of names and values in turn.
func FactsOf(pairs ...string) Facts {
	x := make(Facts, len(pairs)/2)
	for i := 0; i+1 < len(pairs); i += 2 {
		x[pairs[i]] = pairs[i+1]
	}
	return x
}

// Text is wording with {facts} in it.
type Text string

// With is the wording with its facts put in.
func (t Text) With(x Facts) string {
	if !strings.Contains(string(t), "{") {
		return string(t)
	}
	pairs := make([]string, 0, 2*len(x))
	for k, v := range x {
		pairs = append(pairs, "{"+k+"}", v)
	}
	return strings.TrimSpace(strings.NewReplacer(pairs...).Replace(string(t)))
}
