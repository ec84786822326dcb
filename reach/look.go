package reach

import (
	"context"
	"fmt"
	"io"
	"net/http"
	"net/url"

	"uvent/core/rule/compare"
)

// Look reads a listing's public page. The sighting is nil when the directory
// shows no such page.
func (r *Reach) Look(ctx context.Context, connector, page string) (*compare.Sighting, error) {
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, r.PageURL(connector, page), nil)
	if err != nil {
		return nil, err
	}
	// The page's address may have been given by a person: the stand-ins are asked only where they are the directory.
	if base, err := url.Parse(r.resolve(connector)); r.isOutside(req.URL) && (err != nil || base.Host != req.URL.Host) {
		return nil, &Unanswered{Why: errPrivate}
	}
	resp, err := r.http.Do(req)
	if err != nil {
		return nil, &Unanswered{Why: err}
	}
	defer resp.Body.Close()
	switch {
	case resp.StatusCode == http.StatusNotFound || resp.StatusCode == http.StatusGone:
		return nil, nil
	case resp.StatusCode != http.StatusOK:
		return nil, &Unanswered{Why: fmt.Errorf("the page answers %s", resp.Status)}
	}
	data, err := io.ReadAll(io.LimitReader(resp.Body, mostBytes))
	if err != nil {
		return nil, &Unanswered{Why: err}
	}
	s, err := ReadPage(data)
	return &s, err
}
