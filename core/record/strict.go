package record

import (
	"bytes"
	"errors"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"
)

// Bounds of a text that is read: past them it is refused before anything is built from it.
const (
	MostBytes = 16 << 20 // of a file
	mostDepth = 48       // of objects and arrays inside one another
	mostKeys  = 200_000  // of one object or array, and of all members down to the parts of a record
)

// partDepth is how deep members are kept track of: file, record, events, an entry, and what stands in it.
const partDepth = 4

// node is a value in the canonical text, with its members down to partDepth.
type node struct {
	key        string // of a member of an object
	start, end int    // in the canonical text
	object     bool
	list       bool
	kids       []node
}

// get finds a member by its exact name.
func (n node) get(key string) (node, bool) {
	if i := slices.IndexFunc(n.kids, func(k node) bool { return k.key == key }); i >= 0 {
		return n.kids[i], true
	}
	return node{}, false
}

// only refuses members outside the list; one that differs from a listed one by case alone is named as such.
func (n node) only(what string, keys ...string) error {
	if !n.object {
		return fmt.Errorf("%s is not an object", what)
	}
	for _, k := range n.kids {
		if slices.Contains(keys, k.key) {
			continue
		}
		for _, have := range keys {
			if strings.EqualFold(have, k.key) {
				return fmt.Errorf("%s has a key %q beside %q: names are compared letter by letter", what, clip(k.key),
					have)
			}
		}
		return fmt.Errorf("%s has a key %q that does not belong there", what, clip(k.key))
	}
	return nil
}

func clip(s string) string {
	if r := []rune(s); len(r) > 40 {
		return string(r[:39]) + "…"
	}
	return s
}

// strict reads JSON (RFC 8259) without mercy and gives its canonical text: keys sorted by their bytes, no blanks,
// numbers as they stand, strings escaped as Canonical does. Refused: a key twice in an object, text after the value, a
// text that is not UTF-8, half a surrogate pair, and whatever is deeper, longer or of more members than the bounds.
func strict(data []byte) ([]byte, node, error) {
	if len(data) > MostBytes {
		return nil, node{}, fmt.Errorf("the file is larger than %d MB", MostBytes>>20)
	}
	if !utf8.Valid(data) {
		return nil, node{}, errors.New("the file is not UTF-8 text")
	}
	s := &scanner{in: data, out: make([]byte, 0, len(data))}
	s.blank()
	n, err := s.value(0)
	if err != nil {
		return nil, node{}, err
	}
	s.blank()
	if s.at != len(data) {
		return nil, node{}, fmt.Errorf("text follows the end of the file's value, at byte %d", s.at+1)
	}
	return s.out, n, nil
}

type scanner struct {
	in   []byte
	at   int
	out  []byte
	open []member // of the objects that are being read, the outermost first
	kept int      // nodes kept
}

func (s *scanner) blank() {
	for s.at < len(s.in) && (s.in[s.at] == ' ' || s.in[s.at] == '\n' || s.in[s.at] == '\r' || s.in[s.at] == '\t') {
		s.at++
	}
}

func (s *scanner) bad() error {
	if s.at >= len(s.in) {
		return errors.New("the file was cut short")
	}
	return fmt.Errorf("the file is not JSON at byte %d", s.at+1)
}

// take consumes one byte when it is the next one.
func (s *scanner) take(c byte) bool {
	if s.at < len(s.in) && s.in[s.at] == c {
		s.at++
		return true
	}
	return false
}

func (s *scanner) value(depth int) (node, error) {
	if s.at >= len(s.in) {
		return node{}, s.bad()
	}
	if c := s.in[s.at]; depth >= mostDepth && (c == '{' || c == '[') {
		return node{}, fmt.Errorf("the file is nested deeper than %d levels", mostDepth)
	}
	n := node{start: len(s.out)}
	var err error
	switch c := s.in[s.at]; {
	case c == '{':
		n, err = s.members(depth)
	case c == '[':
		n, err = s.elements(depth)
	case c == '"':
		_, err = s.text()
	case c == '-' || c >= '0' && c <= '9':
		err = s.number()
	default:
		err = s.word()
	}
	n.end = len(s.out)
	return n, err
}

func (s *scanner) word() error {
	for _, w := range []string{"true", "false", "null"} {
		if bytes.HasPrefix(s.in[s.at:], []byte(w)) {
			s.at += len(w)
			s.out = append(s.out, w...)
			return nil
		}
	}
	return s.bad()
}

func (s *scanner) digits() bool {
	from := s.at
	for s.at < len(s.in) && s.in[s.at] >= '0' && s.in[s.at] <= '9' {
		s.at++
	}
	return s.at > from
}

func (s *scanner) number() error {
	from := s.at
	s.take('-')
	if !s.take('0') && !s.digits() {
		return s.bad()
	}
	if s.take('.') && !s.digits() {
		return s.bad()
	}
	if s.take('e') || s.take('E') {
		if !s.take('+') {
			s.take('-')
		}
		if !s.digits() {
			return s.bad()
		}
	}
	s.out = append(s.out, s.in[from:s.at]...)
	return nil
}

// member is a member of the object being read: where its key and value stand in the canonical text.
type member struct {
	key        []byte
	start, end int // of key, colon and value
	value      node
}

func (s *scanner) members(depth int) (node, error) {
	n := node{start: len(s.out), object: true}
	s.at++
	s.out = append(s.out, '{')
	base := len(s.open)
	defer func() { s.open = s.open[:base] }()
	sorted := true
	s.blank()
	for first := true; !s.take('}'); first = false {
		if !first {
			if !s.take(',') {
				return n, s.bad()
			}
			s.out = append(s.out, ',')
		}
		s.blank()
		m := member{start: len(s.out)}
		var err error
		if m.key, err = s.text(); err != nil {
			return n, err
		}
		s.blank()
		if !s.take(':') {
			return n, s.bad()
		}
		s.out = append(s.out, ':')
		s.blank()
		if m.value, err = s.value(depth + 1); err != nil {
			return n, err
		}
		m.end = len(s.out)
		if len(s.open) > base && bytes.Compare(s.open[len(s.open)-1].key, m.key) >= 0 {
			sorted = false
		}
		if s.open = append(s.open, m); len(s.open)-base > mostKeys {
			return n, fmt.Errorf("an object has more than %d keys", mostKeys)
		}
		s.blank()
	}
	list := s.open[base:]
	if !sorted {
		if err := s.sort(list); err != nil {
			return n, err
		}
	}
	s.out = append(s.out, '}')
	if depth >= partDepth {
		return n, nil
	}
	n.kids = make([]node, len(list))
	for i, m := range list {
		n.kids[i] = m.value
		n.kids[i].key = string(m.key)
	}
	return n, s.keep(len(list))
}

// keep counts the nodes that are kept.
func (s *scanner) keep(n int) error {
	if s.kept += n; s.kept > mostKeys {
		return fmt.Errorf("the file has more than %d parts", mostKeys)
	}
	return nil
}

// sort lays the members of an object out anew by their keys; a key twice is refused.
func (s *scanner) sort(list []member) error {
	slices.SortStableFunc(list, func(a, b member) int { return bytes.Compare(a.key, b.key) })
	first := list[0].start
	for _, m := range list {
		first = min(first, m.start)
	}
	text := make([]byte, 0, len(s.out)-first)
	for i := range list {
		m := &list[i]
		if i > 0 {
			if bytes.Equal(list[i-1].key, m.key) {
				return fmt.Errorf("the key %q stands twice in one object", clip(string(m.key)))
			}
			text = append(text, ',')
		}
		by := first + len(text) - m.start
		text = append(text, s.out[m.start:m.end]...)
		m.start, m.end = m.start+by, m.end+by
		m.value.move(by)
	}
	s.out = append(s.out[:first], text...)
	return nil
}

// move shifts a node and all in it.
func (n *node) move(by int) {
	n.start, n.end = n.start+by, n.end+by
	for i := range n.kids {
		n.kids[i].move(by)
	}
}

func (s *scanner) elements(depth int) (node, error) {
	n := node{start: len(s.out), list: true}
	s.at++
	s.out = append(s.out, '[')
	s.blank()
	for first := true; !s.take(']'); first = false {
		if !first {
			if !s.take(',') {
				return n, s.bad()
			}
			s.out = append(s.out, ',')
		}
		s.blank()
		v, err := s.value(depth + 1)
		if err != nil {
			return n, err
		}
		if depth < partDepth {
			if err := s.keep(1); err != nil {
				return n, err
			}
			n.kids = append(n.kids, v)
		}
		s.blank()
	}
	s.out = append(s.out, ']')
	return n, nil
}
