package records

import (
	"context"
	"sync"

	"uvent/core/record/link"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/desk/problem"
	"uvent/reach"
)

// mostLinks bounds what is checked at once.
const mostLinks = 50

// CheckLinks asks web addresses whether they answer, in their order.
func (d *Desk) CheckLinks(ctx context.Context, addresses []string) ([]reach.LinkAnswer, error) {
	if len(addresses) > mostLinks {
		return nil, &problem.Problem{Kind: problem.Invalid, Detail: "That is too many links to check at once."}
	}
	out := make([]reach.LinkAnswer, len(addresses))
	var wg sync.WaitGroup
	room := make(chan struct{}, 6) // polite to a site that all of them are on
	for i, a := range addresses {
		wg.Go(func() {
			room <- struct{}{}
			defer func() { <-room }()
			out[i] = d.reach.CheckLink(ctx, a)
		})
	}
	wg.Wait()
	return out, nil
}

// TaggedLink is a web address as a directory is given it.
type TaggedLink struct {
	Book    rulebook.Rulebook
	Address string
}

// TaggedLinks writes a web address for each directory.
func (d *Desk) TaggedLinks(address string, tags record.Tags) []TaggedLink {
	out := make([]TaggedLink, len(d.shelf.Books()))
	for i, b := range d.shelf.Books() {
		out[i] = TaggedLink{b, link.Tagged(address, b.ID, tags)}
	}
	return out
}
