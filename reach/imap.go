package reach

import (
	"cmp"
	"context"
	"crypto/tls"
	"crypto/x509"
	"fmt"
	"net"
	"slices"
	"sync"
	"time"

	"github.com/emersion/go-imap/v2"
	"github.com/emersion/go-imap/v2/imapclient"
)

// MailBox is one whose INBOX is read over IMAP (RFC 9051), and over TLS alone: on port 993 at once, else by STARTTLS. It is
// only read; nothing in it is marked or moved.
type MailBox struct {
	Address  string // host:port; empty: there is none
	User     string
	Password string
	Roots    *x509.CertPool // whose certificates are believed; nil: the system's
}

// WithMailBox is a client that reads what comes in a mailbox.
func (r *Reach) WithMailBox(b MailBox) *Reach {
	if b.Address == "" {
		return r
	}
	out := *r
	out.box = &mailBox{MailBox: b}
	return &out
}

type mailBox struct {
	MailBox
	mu     sync.Mutex
	looked time.Time
}

// How often a mailbox is looked into, how many messages are read at once, how much of each, and of all of them, in bytes.
const (
	boxLooked  = 30 * time.Second
	mostRead   = 100
	mostLetter = 24 << 20
	mostAtOnce = 48 << 20
	imaps      = "993"
)

// read gives the messages after a number, of which the upper half tells one state of the mailbox from another (UIDVALIDITY)
// and the lower one message from another (UID); none where it was looked into just now.
func (b *mailBox) read(ctx context.Context, after int64) ([]Letter, error) {
	b.mu.Lock()
	defer b.mu.Unlock()
	if time.Since(b.looked) < boxLooked {
		return nil, nil
	}
	letters, err := b.fetch(ctx, after)
	if err != nil {
		b.looked = time.Now()
		return nil, &Unanswered{Why: fmt.Errorf("the mailbox at %s: %w", b.Address, err)}
	}
	if len(letters) < mostRead {
		b.looked = time.Now()
	}
	return letters, nil
}

func (b *mailBox) dial(ctx context.Context) (*imapclient.Client, error) {
	host, port, err := net.SplitHostPort(b.Address)
	if err != nil {
		return nil, err
	}
	with := &tls.Config{ServerName: host, MinVersion: tls.VersionTLS12, RootCAs: b.Roots}
	line, err := (&net.Dialer{Timeout: linkPatience}).DialContext(ctx, "tcp", b.Address)
	if err != nil {
		return nil, err
	}
	if err := line.SetDeadline(time.Now().Add(2 * patience)); err != nil {
		return nil, err
	}
	if port == imaps {
		return imapclient.New(tls.Client(line, with), nil), nil
	}
	return imapclient.NewStartTLS(line, &imapclient.Options{TLSConfig: with})
}

func (b *mailBox) fetch(ctx context.Context, after int64) ([]Letter, error) {
	c, err := b.dial(ctx)
	if err != nil {
		return nil, err
	}
	defer func() { _ = c.Close() }() // all that is wanted was read, or that failed
	if err := c.Login(b.User, b.Password).Wait(); err != nil {
		return nil, err
	}
	box, err := c.Select("INBOX", &imap.SelectOptions{ReadOnly: true}).Wait()
	if err != nil {
		return nil, err
	}
	state := int64(box.UIDValidity & 0x7fffffff)
	from := imap.UID(1)
	if after>>32 == state {
		from = imap.UID(after&0xffffffff) + 1
	}
	var all imap.UIDSet
	all.AddRange(from, 0)
	found, err := c.UIDSearch(&imap.SearchCriteria{UID: []imap.UIDSet{all}}, nil).Wait()
	if err != nil {
		return nil, err
	}
	var these imap.UIDSet
	n := 0
	for _, uid := range found.AllUIDs() {
		if uid >= from && n < mostRead { // the last is told for any range beyond it
			these.AddNum(uid)
			n++
		}
	}
	if n == 0 {
		return nil, nil
	}
	if these, err = b.fitting(c, these); err != nil {
		return nil, err
	}
	body := &imap.FetchItemBodySection{Peek: true, Partial: &imap.SectionPartial{Size: mostLetter}}
	messages, err := c.Fetch(these, &imap.FetchOptions{UID: true, BodySection: []*imap.FetchItemBodySection{body}}).Collect()
	if err != nil {
		return nil, err
	}
	out := make([]Letter, len(messages))
	for i, m := range messages {
		out[i] = numbered(state<<32|int64(m.UID), string(m.FindBodySection(body)))
	}
	return out, c.Logout().Wait()
}

// fitting are the first of some messages that are read at once without taking too much; the others are read the next time.
func (b *mailBox) fitting(c *imapclient.Client, these imap.UIDSet) (out imap.UIDSet, err error) {
	sizes, err := c.Fetch(these, &imap.FetchOptions{UID: true, RFC822Size: true}).Collect()
	if err != nil {
		return nil, err
	}
	slices.SortFunc(sizes, func(x, y *imapclient.FetchMessageBuffer) int { return cmp.Compare(x.UID, y.UID) })
	total := int64(0)
	for i, m := range sizes {
		if total += min(m.RFC822Size, mostLetter); i > 0 && total > mostAtOnce {
			break
		}
		out.AddNum(m.UID)
	}
	return out, nil
}
