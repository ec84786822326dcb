package rulebook

import (
	"fmt"

	"github.com/goccy/go-yaml/lexer"
	"github.com/goccy/go-yaml/token"
)

// What a rulebook's text may be, before its meaning is looked at: what stands for more than is written (aliases), and what
// is nested without end, can take a machine for minutes.
const (
	MostBytes  = 256 << 10
	mostDepth  = 24  // of lists and objects in brackets
	mostColumn = 120 // at which an entry of a list still begins: they nest on one line
)

// hostile says why a text is not read at all; nil where it is.
func hostile(file string, data []byte) []Problem {
	if len(data) > MostBytes {
		return []Problem{{file, 1, "", fmt.Sprintf("a rulebook has at most %d kB", MostBytes>>10)}}
	}
	depth := 0
	for _, t := range lexer.Tokenize(string(data)) {
		line := 1
		if t.Position != nil {
			line = t.Position.Line
		}
		switch t.Type {
		case token.AnchorType, token.AliasType, token.MergeKeyType:
			return []Problem{{file, line, "", "anchors (&), aliases (*) and merges (<<) are not read in a rulebook; write out what is meant"}}
		case token.MappingStartType, token.SequenceStartType:
			depth++
		case token.MappingEndType, token.SequenceEndType:
			depth--
		case token.SequenceEntryType, token.MappingKeyType:
			if t.Position != nil && t.Position.Column > mostColumn {
				depth = mostDepth + 1
			}
		}
		if depth > mostDepth {
			return []Problem{{file, line, "", "it is nested too deep"}}
		}
	}
	return nil
}
