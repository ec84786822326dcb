package vcard

import (
	"bytes"
	"strings"
	"unicode/utf8"
)

// card is a vCard as it is written: content lines (RFC 6350, section 3.3).
type card struct{ bytes.Buffer }

var escapes = strings.NewReplacer(`\`, `\\`, "\n", `\n`, ",", `\,`)

// text adds a property with a text value; an empty one is left out. A semicolon
// stays as it is (section 3.4: it may).
func (c *card) text(name, value string) {
	if value != "" {
		c.line(name + ":" + escapes.Replace(value))
	}
}

// parts adds a property whose value has components, parted by semicolons.
func (c *card) parts(name string, components ...string) {
	for i, s := range components {
		components[i] = strings.ReplaceAll(escapes.Replace(s), ";", `\;`)
	}
	c.line(name + ":" + strings.Join(components, ";"))
}

// line adds a line, folded so that none has more than 75 octets and no character
// is torn (section 3.2).
func (c *card) line(s string) {
	const most = 75
	for first := true; ; first = false {
		room := most
		if !first {
			c.WriteString(" ")
			room--
		}
		if len(s) <= room {
			c.WriteString(s + "\r\n")
			return
		}
		for !utf8.RuneStart(s[room]) {
			room--
		}
		c.WriteString(s[:room] + "\r\n")
		s = s[room:]
	}
}

// components parts a value that parts wrote, as the decoder hands it on: with
// everything unescaped but its semicolons.
func components(value string) []string {
	out := strings.Split(strings.ReplaceAll(value, `\;`, "\x00"), ";")
	for i := range out {
		out[i] = strings.ReplaceAll(out[i], "\x00", ";")
	}
	return out
}
