package verification

import (
	"net/url"
	"strings"
	"time"

	"uvent/core/fact/prose"
	"uvent/core/rule/rulebook"
)

// StaffSays is what a letter of a directory's staff means for what they were written to.
type StaffSays string

// What they say. Anything else is for a person to read.
const (
	TheyTookIt  StaffSays = "taken_in"
	TheyRefused StaffSays = "refused"
)

// AnswerIn reads a letter of a directory's staff by the words that its rulebook knows: what it means, empty where that is not
// plain, and the page of the listing that it names, empty for none. Only what they have written themselves is read, not what
// they quote, and a letter that says both says neither.
func AnswerIn(book rulebook.Rulebook, body string) (says StaffSays, page string) {
	newest := prose.Newest(body)
	text := strings.ToLower(newest)
	has := func(words string) bool { return words != "" && strings.Contains(text, strings.ToLower(words)) }
	took, refused := has(book.Notices.TakenIn), has(book.Notices.Refused)
	switch {
	case took == refused:
		return "", ""
	case refused:
		return TheyRefused, ""
	}
	for _, word := range strings.Fields(newest) {
		if word = strings.Trim(word, ".,;:!?()<>“”\"'"); isPageOf(book, word) {
			return TheyTookIt, word
		}
	}
	return TheyTookIt, ""
}

// inAddress are the characters of an address as RFC 3986 has them, but for brackets, quotes and the like.
const inAddress = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-._~/%?=&+#:@"

// isPageOf reports whether a word is the address of a page that a directory's staff may name: on the site of its own pages or
// of their email, or without a site. Anybody can write a letter in their name.
func isPageOf(book rulebook.Rulebook, word string) bool {
	u, err := url.Parse(word)
	if err != nil || len(u.Path) < 2 || strings.Trim(word, inAddress) != "" {
		return false
	}
	if u.Host == "" {
		return u.Scheme == "" && strings.HasPrefix(word, "/") && !strings.HasPrefix(word, "//")
	}
	_, domain, _ := strings.Cut(strings.ToLower(book.Staff), "@")
	host := strings.ToLower(u.Hostname())
	within := func(domain string) bool {
		return domain != "" && (host == domain || strings.HasSuffix(host, "."+domain))
	}
	if home, err := url.Parse(book.Page); err == nil && within(strings.ToLower(home.Hostname())) {
		return u.Scheme == "https" || u.Scheme == "http"
	}
	return within(domain) && (u.Scheme == "https" || u.Scheme == "http")
}

// FromStaff is what a directory's staff have written to what they were asked, and no program can read.
type FromStaff struct {
	Says string    `json:"says"`
	At   time.Time `json:"at"`
}

// StaffRead is that somebody has read it, and it is no answer yet.
type StaffRead struct{ passing }

var _ = family(of[StaffRead])

// Kind names it.
func (StaffRead) Kind() Kind { return "staff_read" }

// Tell says it in words.
func (StaffRead) Tell(rulebook.Rulebook) string {
	return "Has read what they wrote. It is no answer yet."
}

func (StaffRead) happen(s *State, _ circumstances) { s.FromStaff = nil }
