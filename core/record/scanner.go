package record

import (
	"bytes"
	"errors"
	"fmt"
	"strings"
	"unicode/utf8"
)

// text reads a string, writes its canonical form and gives what it says; the bytes may be those of the file.
func (s *scanner) text() ([]byte, error) {
	if !s.take('"') {
		return nil, s.bad()
	}
	from, plain := s.at, true
	for ; ; s.at++ {
		if s.at >= len(s.in) {
			return nil, s.bad()
		}
		c := s.in[s.at]
		if c == '"' {
			break
		}
		switch {
		case c < 0x20:
			return nil, fmt.Errorf("a text has a control character at byte %d", s.at+1)
		case c == '\\':
			plain = false
			s.at++
		// U+2028, U+2029
		case c == 0xe2 && bytes.HasPrefix(s.in[s.at+1:], []byte{0x80}) && s.at+2 < len(s.in) && s.in[s.at+2]&^1 == 0xa8:
			plain = false
		}
	}
	raw := s.in[from:s.at]
	s.at++
	if plain {
		s.out = append(s.out, '"')
		s.out = append(s.out, raw...)
		s.out = append(s.out, '"')
		return raw, nil
	}
	said, err := unescape(raw)
	if err != nil {
		return nil, err
	}
	s.out = appendText(s.out, said)
	return []byte(said), nil
}

func unescape(raw []byte) (string, error) {
	var b strings.Builder
	for i := 0; i < len(raw); i++ {
		if raw[i] != '\\' {
			b.WriteByte(raw[i])
			continue
		}
		i++
		if i >= len(raw) {
			return "", errors.New("a text ends in the middle of an escape")
		}
		switch c := raw[i]; c {
		case '"', '\\', '/':
			b.WriteByte(c)
		case 'b':
			b.WriteByte('\b')
		case 'f':
			b.WriteByte('\f')
		case 'n':
			b.WriteByte('\n')
		case 'r':
			b.WriteByte('\r')
		case 't':
			b.WriteByte('\t')
		case 'u':
			r, ok := hex4(raw[i+1:])
			if !ok {
				return "", errors.New("a text has an escape that is none")
			}
			i += 4
			switch {
			case r >= 0xd800 && r < 0xdc00:
				low, ok := rune(0), false
				if len(raw) > i+2 && raw[i+1] == '\\' && raw[i+2] == 'u' {
					low, ok = hex4(raw[i+3:])
				}
				if !ok || low < 0xdc00 || low > 0xdfff {
					return "", errors.New("a text has half a character")
				}
				i += 6
				r = 0x10000 + (r-0xd800)<<10 + (low - 0xdc00)
			case r >= 0xdc00 && r <= 0xdfff:
				return "", errors.New("a text has half a character")
			}
			b.WriteRune(r)
		default:
			return "", errors.New("a text has an escape that is none")
		}
	}
	return b.String(), nil
}

func hex4(b []byte) (rune, bool) {
	if len(b) < 4 {
		return 0, false
	}
	var r rune
	for _, c := range b[:4] {
		switch {
		case c >= '0' && c <= '9':
			r = r<<4 | rune(c-'0')
		case c >= 'a' && c <= 'f':
			r = r<<4 | rune(c-'a'+10)
		case c >= 'A' && c <= 'F':
			r = r<<4 | rune(c-'A'+10)
		default:
			return 0, false
		}
	}
	return r, true
}

// appendText writes a string as Canonical does.
func appendText(out []byte, s string) []byte {
	const hex = "0123456789abcdef"
	out = append(out, '"')
	for _, r := range s {
		switch {
		case r == '"' || r == '\\':
			out = append(out, '\\', byte(r))
		case r == '\b':
			out = append(out, '\\', 'b')
		case r == '\f':
			out = append(out, '\\', 'f')
		case r == '\n':
			out = append(out, '\\', 'n')
		case r == '\r':
			out = append(out, '\\', 'r')
		case r == '\t':
			out = append(out, '\\', 't')
		case r < 0x20:
			out = append(out, '\\', 'u', '0', '0', hex[r>>4], hex[r&15])
		case r == 0x2028 || r == 0x2029:
			out = append(out, '\\', 'u', '2', '0', '2', hex[r&15])
		default:
			out = utf8.AppendRune(out, r)
		}
	}
	return append(out, '"')
}
