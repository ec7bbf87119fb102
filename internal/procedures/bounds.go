package procedures

import (
	"fmt"

	"github.com/goccy/go-yaml/lexer"
	"github.com/goccy/go-yaml/token"

	"dynacor/core/procedure"
)

// Bounds of a procedure's text, looked at word by word before anything is built from it. None of what is refused has a
// use in a procedure: words that stand for other places grow without end, nesting without end exhausts whoever follows
// it.
const (
	mostWords   = 50_000
	mostNested  = 24 // brackets inside brackets
	mostIndent  = 80 // columns
	mostEntries = 4  // dashes at the beginning of one line
)

// bounds finds what goes past them; nil: nothing does.
func bounds(text []byte) *procedure.Fault {
	fault := func(t *token.Token, remedy, what string, args ...any) *procedure.Fault {
		return &procedure.Fault{What: fmt.Sprintf(what, args...), Remedy: remedy, Line: t.Position.Line}
	}
	words := lexer.Tokenize(string(text))
	nested, line, entries, values, begun := 0, 0, 0, 0, 0
	for i, t := range words {
		if i >= mostWords {
			return fault(t, "Take out what does not belong to a procedure.", "the text has more than %d words",
				mostWords)
		}
		if t.Position.Line != line {
			line, entries, values = t.Position.Line, 0, 0
			if nested == 0 && t.Position.Column > mostIndent {
				return fault(t, "Take out what does not belong to a procedure.",
					"the line is indented by more than %d columns", mostIndent)
			}
		}
		switch t.Type {
		case token.AnchorType, token.AliasType, token.MergeKeyType:
			return fault(t, "Write it out there, or take over a common check by its code.",
				"a text that stands for another place (%s) is not taken", t.Value)
		case token.TagType, token.DirectiveType, token.MappingKeyType:
			return fault(t, "Leave it out.", "%s has no meaning in a procedure", t.Value)
		case token.DocumentHeaderType, token.DocumentEndType:
			if begun++; begun > 1 {
				return fault(t, "Keep one procedure in one text.", "a second text begins")
			}
		case token.SequenceStartType, token.MappingStartType:
			if nested++; nested > mostNested {
				return fault(t, "Look at the brackets.", "brackets are nested deeper than %d levels", mostNested)
			}
		case token.SequenceEndType, token.MappingEndType:
			nested--
		case token.SequenceEntryType:
			if entries++; entries > mostEntries {
				return fault(t, "Look at the dashes.", "a line begins with more than %d dashes", mostEntries)
			}
		case token.MappingValueType:
			if values++; nested == 0 && values > 2 {
				return fault(t, "Put a text with colons in quotes.", "a line has more than two colons")
			}
		}
	}
	return nil
}
