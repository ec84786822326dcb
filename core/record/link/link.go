// Package link marks web addresses with campaign tags.
package link

import (
	"net/url"
	"regexp"
	"strings"

	"uvent/core/record/record"
)

// Tagged is an address with campaign tags for a directory, by which a site's
// analytics can tell its visitors apart: utm_source is the directory, utm_medium
// and utm_campaign are the record's. Tags that the address carries already are
// kept as they are, never doubled; so is everything else in it. An address that
// cannot be read comes back as it was.
func Tagged(address, directory string, tags record.Tags) string {
	if !tags.On || address == "" {
		return address
	}
	before, fragment, hasFragment := strings.Cut(address, "#")
	path, query, _ := strings.Cut(before, "?")
	have, err := url.ParseQuery(query)
	if err != nil {
		return address
	}
	for _, tag := range [][2]string{{"utm_source", directory}, {"utm_medium", tags.Medium}, {"utm_campaign", tags.Campaign}} {
		if tag[1] == "" || have.Has(tag[0]) {
			continue
		}
		if query != "" {
			query += "&"
		}
		query += tag[0] + "=" + url.QueryEscape(tag[1])
	}
	if query != "" {
		path += "?" + query
	}
	if hasFragment {
		path += "#" + fragment
	}
	return path
}

var notPlain = regexp.MustCompile(`[^a-z0-9]+`)

// Bare is an address as people read it: without its scheme, campaign tags, and closing slash. What is no address
// stays as it is.
func Bare(address string) string {
	u, err := url.Parse(address)
	if err != nil || u.Host == "" {
		return address
	}
	q := u.Query()
	for key := range q {
		if strings.HasPrefix(key, "utm_") {
			q.Del(key)
		}
	}
	out := u.Host + strings.TrimSuffix(u.EscapedPath(), "/")
	if rest := q.Encode(); rest != "" {
		out += "?" + rest
	}
	return out
}

// Slug is a name made from a text for addresses and files: lower-case letters, digits
// and hyphens.
func Slug(text string) string {
	return strings.Trim(notPlain.ReplaceAllString(strings.ToLower(text), "-"), "-")
}
