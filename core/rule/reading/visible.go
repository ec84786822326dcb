package reading

import (
	"slices"
	"strings"

	"golang.org/x/net/html"
)

// unread are elements whose contents nobody reads as the page's own words.
var unread = []string{"script", "style", "template", "noscript", "head", "svg", "nav", "footer", "aside", "iframe", "select", "option", "textarea", "dialog"}

// blocks are elements that begin a line of their own.
var blocks = []string{
	"address", "article", "blockquote", "body", "br", "dd", "details", "div", "dl", "dt", "fieldset", "figcaption", "figure", "form", "h1", "h2", "h3",
	"h4", "h5", "h6", "header", "hr", "li", "main", "ol", "p", "pre", "section", "summary", "table", "tbody", "thead", "tr", "ul",
}

var headings = []string{"h1", "h2", "h3", "h4", "h5", "h6"}

// hidden reports whether an element and what stands in it are not part of what a visitor reads about the place.
func hidden(n *html.Node) bool {
	if n.Type == html.CommentNode {
		return true
	}
	if n.Type != html.ElementNode {
		return false
	}
	style := strings.ReplaceAll(attribute(n, "style"), " ", "")
	role := attribute(n, "role")
	return slices.Contains(unread, n.Data) || has(n, "hidden") || strings.Contains(style, "display:none") ||
		slices.Contains([]string{"navigation", "contentinfo", "search", "complementary"}, role) || bannerOnly(n)
}

// bannerOnly reports whether an element is the head of the whole site, which does not name the place.
func bannerOnly(n *html.Node) bool {
	if !element(n, "header") && attribute(n, "role") != "banner" || n.Parent == nil || !element(n.Parent, "body", "div") {
		return false
	}
	for c := range n.Descendants() {
		if element(c, "h1") {
			return false
		}
	}
	return true
}

// shown goes through what a visitor reads of a part of a page, in its order, until it is told to stop.
func shown(n *html.Node, each func(*html.Node) bool) bool {
	if hidden(n) {
		return true
	}
	if !each(n) {
		return false
	}
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		if !shown(c, each) {
			return false
		}
	}
	return true
}

// textOf is what people read in a part of a page; what begins a line of its own is one, and cells of a table
// are parted by tabs.
func textOf(n *html.Node) string {
	var b strings.Builder
	var write func(*html.Node)
	write = func(n *html.Node) {
		switch {
		case n.Type == html.TextNode:
			b.WriteString(strings.Map(func(r rune) rune {
				if r == '\n' || r == '\t' || r == '\r' {
					return ' '
				}
				return r
			}, n.Data))
			return
		case hidden(n):
			return
		}
		line := element(n, blocks...)
		if line {
			b.WriteByte('\n')
		}
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			write(c)
		}
		switch {
		case line:
			b.WriteByte('\n')
		case element(n, "td", "th"):
			b.WriteByte('\t')
		}
	}
	write(n)
	var lines []string
	for _, line := range strings.Split(b.String(), "\n") {
		var cells []string
		for _, cell := range strings.Split(line, "\t") {
			if cell = strings.Join(strings.Fields(cell), " "); cell != "" {
				cells = append(cells, cell)
			}
		}
		if cells != nil {
			lines = append(lines, strings.Join(cells, "\t"))
		}
	}
	return strings.Join(lines, "\n")
}

// oneLine is a text without line breaks.
func oneLine(s string) string { return strings.Join(strings.Fields(s), " ") }

// pair is something that a page says under a label.
type pair struct {
	label string
	text  string       // what stands beside or under it
	nodes []*html.Node // in which
}

// pairs are what a page says under labels: in lists of terms, in tables, behind a colon, under a heading.
func pairs(root *html.Node) (out []pair) {
	add := func(label string, nodes ...*html.Node) {
		var texts []string
		for _, n := range nodes {
			if t := textOf(n); t != "" {
				texts = append(texts, t)
			}
		}
		if label = strings.TrimRight(oneLine(label), " :："); label != "" && len(label) <= 60 && texts != nil {
			out = append(out, pair{label, strings.Join(texts, "\n"), nodes})
		}
	}
	shown(root, func(n *html.Node) bool {
		switch {
		case element(n, "dt"):
			var values []*html.Node
			for s := n.NextSibling; s != nil && !element(s, "dt"); s = s.NextSibling {
				if element(s, "dd") {
					values = append(values, s)
				}
			}
			add(textOf(n), values...)
		case element(n, "tr") && small(n):
			if cells := children(n, "th", "td"); len(cells) > 1 {
				add(textOf(cells[0]), cells[1:]...)
			}
		case element(n, headings...):
			add(textOf(n), under(n)...)
		case element(n, "li", "p", "div", "span", "dd") && small(n) && !anyBlock(n):
			text := textOf(n)
			if label, rest, ok := strings.Cut(text, ":"); ok && strings.TrimSpace(rest) != "" && len(label) <= 40 {
				out = append(out, pair{oneLine(label), strings.TrimSpace(rest), []*html.Node{n}})
			} else if label := children(n, "b", "strong", "span"); len(label) > 0 && first(n) == label[0] {
				own := textOf(label[0])
				if rest := strings.TrimSpace(strings.TrimPrefix(text, own)); rest != "" && rest != text && len(own) <= 40 {
					out = append(out, pair{oneLine(own), rest, []*html.Node{n}})
				}
			}
		}
		return true
	})
	return out
}

// first is the first of an element's children that is not blank.
func first(n *html.Node) *html.Node {
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		if c.Type == html.ElementNode || c.Type == html.TextNode && strings.TrimSpace(c.Data) != "" {
			return c
		}
	}
	return nil
}

func children(n *html.Node, names ...string) (out []*html.Node) {
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		if element(c, names...) {
			out = append(out, c)
		}
	}
	return out
}

// mostSmall is how many parts an element may have of which a page says one thing.
const mostSmall = 200

// small reports whether an element has few parts: what is large says many things, and is not read as one.
func small(n *html.Node) bool {
	parts := 0
	for range n.Descendants() {
		if parts++; parts > mostSmall {
			return false
		}
	}
	return true
}

// anyBlock reports whether something in an element begins a line of its own, breaks aside.
func anyBlock(n *html.Node) bool {
	for c := range n.Descendants() {
		if element(c, blocks...) && c.Data != "br" {
			return true
		}
	}
	return false
}

// under is what stands below a heading, up to the next that is not below it or heads another fact; where the heading stands by itself in a
// box, what is beside the box.
func under(h *html.Node) (out []*html.Node) {
	at := h
	for at.NextSibling == nil && at.Parent != nil && element(at.Parent, "div", "header") {
		at = at.Parent
	}
	for s := at.NextSibling; s != nil; s = s.NextSibling {
		if element(s, headings...) && (s.Data <= h.Data || meant(textOf(s)) != "") {
			break
		}
		if s.Type == html.ElementNode {
			out = append(out, s)
		}
	}
	return out
}
