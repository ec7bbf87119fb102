package quantity

import "strings"

// The forms of numbers are read by hand: a regular expression here would be the only one on a device, and bring a twelfth
// of what the page at the joint loads.

func digit(c byte) bool { return c >= '0' && c <= '9' }

// digits is where a run of digits of s from i on ends.
func digits(s string, i int) int {
	for i < len(s) && digit(s[i]) {
		i++
	}
	return i
}

func sign(c byte) bool { return c == '+' || c == '-' }

// head is what of s can belong to a number: a sign, then digits, points, commas, slashes, blanks and hyphens, up to the
// last digit, point or comma of them; "" when it begins otherwise.
func head(s string) string {
	i := 0
	if i < len(s) && sign(s[i]) {
		i++
	}
	end := i
	for i < len(s) && strings.IndexByte("0123456789.,/ -", s[i]) >= 0 {
		if i++; digit(s[i-1]) || s[i-1] == '.' || s[i-1] == ',' {
			end = i
		}
	}
	if end == 0 || end == 1 && sign(s[0]) {
		return ""
	}
	return s[:end]
}

// plain reports whether s is a number in figures as a program writes it: a sign, figures with a point, an exponent.
func plain(s string) bool {
	i := 0
	if i < len(s) && sign(s[i]) {
		i++
	}
	whole := digits(s, i)
	end, some := whole, whole > i
	if end < len(s) && s[end] == '.' {
		part := digits(s, end+1)
		some = some || part > end+1
		end = part
	}
	if !some {
		return false
	}
	if end < len(s) && (s[end] == 'e' || s[end] == 'E') {
		i = end + 1
		if i < len(s) && sign(s[i]) {
			i++
		}
		if end = digits(s, i); end == i {
			return false
		}
	}
	return end == len(s)
}

// fraction takes a fraction apart, with a whole number before it or not: 1 1/8, 1-1/8, 3/4.
func fraction(s string) (whole, num, den string, ok bool) {
	i := digits(s, 0)
	num = s[:i]
	k := i
	for k < len(s) && (s[k] == ' ' || s[k] == '-') {
		k++
	}
	if k > i {
		i = digits(s, k)
		whole, num = num, s[k:i]
		if whole == "" {
			return "", "", "", false
		}
	}
	if num == "" || i == len(s) || s[i] != '/' {
		return "", "", "", false
	}
	den = s[i+1:]
	return whole, num, den, den != "" && digits(den, 0) == len(den)
}

// grouped reports whether s is a number in groups of three with blanks between them: 12 500,5.
func grouped(s string) bool {
	i := digits(s, 0)
	if i < 1 || i > 3 || i == len(s) || s[i] != ' ' {
		return false
	}
	for i < len(s) && s[i] == ' ' {
		end := digits(s, i+1)
		if end != i+4 {
			return false
		}
		i = end
	}
	if i < len(s) && (s[i] == '.' || s[i] == ',') {
		end := digits(s, i+1)
		return end > i+1 && end == len(s)
	}
	return i == len(s)
}

// spanned reports whether two numbers stand in s with what means "to" between them.
func spanned(s string) bool {
	for i := range len(s) {
		if !digit(s[i]) {
			continue
		}
		rest := strings.TrimLeft(s[i+1:], " \t\n\f\r")
		for _, to := range []string{"-", "...", "..", "…", "to"} {
			if after, ok := strings.CutPrefix(rest, to); ok {
				if after = strings.TrimLeft(after, " \t\n\f\r"); after != "" && digit(after[0]) {
					return true
				}
			}
		}
	}
	return false
}
