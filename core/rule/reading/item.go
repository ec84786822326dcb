package reading

import (
	"encoding/json"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"golang.org/x/net/html"
)

// item is a thing that a page describes in marked-up words: its types, and what it says by schema.org's
// properties (https://schema.org/docs/datamodel.html). A value is a string or an *item.
type item struct {
	types []string // without where they are defined: LocalBusiness
	props map[string][]any
	node  *html.Node // where it stands; nil in JSON-LD
}

// mostDepth is how deep items may stand in each other, and mostItems how many are read.
const (
	mostDepth = 20
	mostItems = 2000
)

// short is a type or a property without where it is defined.
func short(name string) string {
	name = strings.TrimSpace(name)
	for _, mark := range []string{"/", "#", ":"} {
		if i := strings.LastIndex(name, mark); i >= 0 {
			name = name[i+1:]
		}
	}
	return name
}

// is reports whether it is of one of some types.
func (i *item) is(types ...string) bool {
	return slices.ContainsFunc(i.types, func(t string) bool { return slices.Contains(types, t) })
}

// text is the first thing that is said of some properties, as a text: of an item its name, or where it is.
func (i *item) text(names ...string) string {
	for _, name := range names {
		for _, v := range i.props[name] {
			if t := textValue(v); t != "" {
				return t
			}
		}
	}
	return ""
}

// texts are all that is said of a property, as texts.
func (i *item) texts(name string) (out []string) {
	for _, v := range i.props[name] {
		if t := textValue(v); t != "" && !slices.Contains(out, t) {
			out = append(out, t)
		}
	}
	return out
}

func textValue(v any) string {
	switch v := v.(type) {
	case string:
		return strings.TrimSpace(v)
	case *item:
		return v.text("@value", "name", "url", "contentUrl", "urlTemplate", "@id")
	}
	return ""
}

// items are those that are said of some properties.
func (i *item) items(names ...string) (out []*item) {
	for _, name := range names {
		for _, v := range i.props[name] {
			if one, ok := v.(*item); ok {
				out = append(out, one)
			}
		}
	}
	return out
}

// marked are the items of a page, in JSON-LD (https://www.w3.org/TR/json-ld11/), microdata
// (https://html.spec.whatwg.org/multipage/microdata.html) or RDFa Lite (https://www.w3.org/TR/rdfa-lite/), in
// this order, those in others too.
func marked(root *html.Node) (out []*item) {
	r := reader{byID: map[string]*item{}}
	for n := range root.Descendants() {
		if element(n, "script") && strings.EqualFold(strings.TrimSpace(strings.SplitN(attribute(n, "type"), ";", 2)[0]), "application/ld+json") &&
			n.FirstChild != nil {
			r.jsonLD(n.FirstChild.Data)
		}
	}
	r.link()
	for _, syntax := range syntaxes {
		for n := range root.Descendants() {
			if n.Type == html.ElementNode && syntax.begins(n) && !syntax.within(n) {
				r.element(n, syntax, 0)
			}
		}
	}
	return r.all
}

// reader gathers items.
type reader struct {
	all  []*item
	byID map[string]*item
}

func (r *reader) add(i *item) bool {
	if len(r.all) >= mostItems {
		return false
	}
	r.all = append(r.all, i)
	return true
}

func (r *reader) jsonLD(text string) {
	text = strings.TrimSpace(text)
	for _, wrap := range [][2]string{{"<!--", "-->"}, {"//<![CDATA[", "//]]>"}, {"<![CDATA[", "]]>"}} {
		text = strings.TrimSpace(strings.TrimSuffix(strings.TrimPrefix(text, wrap[0]), wrap[1]))
	}
	text = strings.TrimSuffix(text, ";")
	d := json.NewDecoder(strings.NewReader(text))
	d.UseNumber()
	var v any
	if d.Decode(&v) == nil {
		r.value(v, 0)
	}
}

// value reads what JSON says: a string, an item, several.
func (r *reader) value(v any, depth int) (out []any) {
	if depth > mostDepth {
		return nil
	}
	switch v := v.(type) {
	case string:
		return []any{html.UnescapeString(v)} // which many write into JSON too
	case json.Number:
		return []any{v.String()}
	case bool:
		return []any{strconv.FormatBool(v)}
	case []any:
		for _, one := range v {
			out = append(out, r.value(one, depth+1)...)
		}
	case map[string]any:
		i := &item{props: map[string][]any{}}
		if !r.add(i) {
			return nil
		}
		for _, key := range sortedKeys(v) {
			values := r.value(v[key], depth+1)
			switch key = short(key); key {
			case "@type":
				for _, t := range values {
					if t, ok := t.(string); ok {
						i.types = append(i.types, short(t))
					}
				}
			case "@graph":
			default:
				i.props[key] = append(i.props[key], values...)
			}
		}
		if id := i.text("@id"); id != "" && len(i.props) > 1 {
			r.byID[id] = i
		}
		return []any{i}
	}
	return out
}

func sortedKeys(m map[string]any) []string {
	keys := make([]string, 0, len(m))
	for k := range m {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	return keys
}

// link puts what is only named by its id in its place.
func (r *reader) link() {
	for _, i := range r.all {
		for _, values := range i.props {
			for n, v := range values {
				if one, ok := v.(*item); ok && len(one.props) == 1 && one.props["@id"] != nil {
					if named := r.byID[one.text("@id")]; named != nil && named != i {
						values[n] = named
					}
				}
			}
		}
	}
}

// syntax is how items are marked up in a page's elements.
type syntax struct {
	scope, kind, property string // attributes
	scopeIsKind           bool   // the attribute that begins an item tells its types
}

var syntaxes = []syntax{
	{scope: "itemscope", kind: "itemtype", property: "itemprop"},
	{scope: "typeof", kind: "typeof", property: "property", scopeIsKind: true},
}

func (s syntax) begins(n *html.Node) bool { return has(n, s.scope) }

// within reports whether an element that begins an item is said of another.
func (s syntax) within(n *html.Node) bool {
	if !has(n, s.property) {
		return false
	}
	for p := n.Parent; p != nil; p = p.Parent {
		if p.Type == html.ElementNode && s.begins(p) {
			return true
		}
	}
	return false
}

func (r *reader) element(n *html.Node, s syntax, depth int) *item {
	i := &item{props: map[string][]any{}, node: n}
	for _, t := range strings.Fields(attribute(n, s.kind)) {
		i.types = append(i.types, short(t))
	}
	if r.add(i) && depth < mostDepth {
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			r.properties(i, c, s, depth)
		}
	}
	return i
}

func (r *reader) properties(i *item, n *html.Node, s syntax, depth int) {
	if n.Type != html.ElementNode || depth > mostDepth*5 {
		return
	}
	names := strings.Fields(attribute(n, s.property))
	begins := s.begins(n)
	if len(names) > 0 {
		var v any = propertyText(n)
		if begins {
			v = r.element(n, s, depth+1)
		}
		for _, name := range names {
			i.props[short(name)] = append(i.props[short(name)], v)
		}
	}
	if begins { // what stands in it is said of it; without a property it is a thing of its own
		return
	}
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		r.properties(i, c, s, depth+1)
	}
}

// propertyText is the value of a property on an element, as the microdata standard has it.
func propertyText(n *html.Node) string {
	if v := attribute(n, "content"); v != "" {
		return v
	}
	for _, of := range []struct {
		elements  []string
		attribute string
	}{
		{[]string{"a", "area", "link"}, "href"}, {[]string{"img", "audio", "embed", "iframe", "source", "track", "video"}, "src"},
		{[]string{"object"}, "data"}, {[]string{"data", "meter"}, "value"}, {[]string{"time"}, "datetime"},
	} {
		if slices.Contains(of.elements, n.Data) && has(n, of.attribute) {
			return attribute(n, of.attribute)
		}
	}
	return textOf(n)
}

func attribute(n *html.Node, key string) string {
	for _, a := range n.Attr {
		if a.Key == key {
			return a.Val
		}
	}
	return ""
}

func has(n *html.Node, key string) bool {
	return slices.ContainsFunc(n.Attr, func(a html.Attribute) bool { return a.Key == key })
}

func element(n *html.Node, names ...string) bool {
	return n.Type == html.ElementNode && slices.Contains(names, n.Data)
}

// resolve is where a link on a page leads; empty where it leads nowhere on the web.
func resolve(base *url.URL, to string) string {
	u, err := url.Parse(strings.TrimSpace(to))
	if err != nil || to == "" || strings.HasPrefix(to, "#") {
		return ""
	}
	if base != nil {
		u = base.ResolveReference(u)
	}
	if u.Scheme != "http" && u.Scheme != "https" || u.Host == "" {
		return ""
	}
	return u.String()
}
