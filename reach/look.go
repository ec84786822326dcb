package reach

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"

	"uvent/core/record/sighting"
	"uvent/core/rule/reading"
)

// ErrNoPage means that a page answers, and is none that shows a listing.
var ErrNoPage = errors.New("it shows something else just now, not a listing")

// ErrHalf means that a page breaks off: what it lacks may stand in the rest.
var ErrHalf = errors.New("it broke off before its end")

// Look reads a listing's public page. The sighting is nil when the directory shows no such page; a page that is served
// half, or shows something else, is one that did not answer.
func (r *Reach) Look(ctx context.Context, connector, page string, in reading.In) (*sighting.Sighting, error) {
	in.Address = r.PageURL(connector, page)
	data, status, err := r.public(ctx, connector, in.Address)
	switch {
	case err != nil:
		return nil, err
	case status == http.StatusNotFound || status == http.StatusGone:
		return nil, nil
	case status != http.StatusOK:
		return nil, &Unanswered{Why: fmt.Errorf("the page answers %d %s", status, http.StatusText(status))}
	}
	read := reading.Read(data, in)
	switch {
	case read.Half:
		return nil, &Unanswered{Why: ErrHalf}
	case read.Reads == reading.Gone:
		return nil, nil
	case read.Reads != reading.Listing:
		return nil, &Unanswered{Why: ErrNoPage}
	}
	return &read.Sighting, nil
}

// public fetches something that anybody may see at a directory.
func (r *Reach) public(ctx context.Context, connector, address string) (data []byte, status int, err error) {
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, address, nil)
	if err != nil {
		return nil, 0, err
	}
	// The page's address may have been given by a person: the stand-ins are asked only where they are the directory.
	if base, err := url.Parse(r.resolve(connector)); r.isOutside(req.URL) && (err != nil || base.Host != req.URL.Host) {
		return nil, 0, &Unanswered{Why: errPrivate}
	}
	resp, err := r.http.Do(req)
	if err != nil {
		return nil, 0, &Unanswered{Why: err}
	}
	defer resp.Body.Close()
	if data, err = io.ReadAll(io.LimitReader(resp.Body, mostBytes+1)); err != nil {
		return nil, 0, &Unanswered{Why: err}
	}
	if len(data) > mostBytes {
		return nil, 0, &Unanswered{Why: fmt.Errorf("it is larger than %d MB", mostBytes>>20)}
	}
	return data, resp.StatusCode, nil
}
