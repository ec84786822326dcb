// Package conformance tells whether a connector keeps the protocol of docs/connector.md, by asking it.
package conformance

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"net/http"
	"net/url"
	"slices"
	"time"

	"github.com/google/uuid"

	"uvent/reach"
)

// Case is something that the protocol asks for.
type Case struct {
	Asks  string // in words
	Falls string // how the connector falls short of it; empty: it does not
}

// Options of a run.
type Options struct {
	Connector     string         // address
	Authorization string         // with which it is entered; empty for nothing
	Facts         map[string]any // of a business that may be listed there for a while, as the connector takes them
}

// entered enters a connector with one thing.
type entered struct{ authorization string }

// Enter tells it.
func (e entered) Enter(context.Context, string) (reach.Entry, error) {
	return reach.Entry{Authorization: e.authorization}, nil
}

// Left does nothing.
func (entered) Left(context.Context, reach.Entry, time.Duration, error) {}

// run is one under way.
type run struct {
	ctx   context.Context
	o     Options
	reach *reach.Reach
	cases []Case
}

// Run asks a connector all that the protocol asks for. It lists a business there, and withdraws it when it is done.
func Run(ctx context.Context, r *reach.Reach, o Options) []Case {
	c := &run{ctx: ctx, o: o, reach: r.WithDoor(entered{o.Authorization})}
	c.strangers(r)
	c.unknown()
	if ref, key := c.creates(); ref != "" {
		c.again(ref, key)
		c.told(ref)
		c.found(ref)
		c.changed(ref)
		c.verifies(ref)
		c.withdrawn(ref)
	}
	return c.cases
}

// keeps takes in whether a case is kept, and how it falls short else.
func (c *run) keeps(asks string, falls error) bool {
	k := Case{Asks: asks}
	if falls != nil {
		k.Falls = reach.Plain(falls.Error())
	}
	c.cases = append(c.cases, k)
	return falls == nil
}

func (c *run) ask(method, path, key string, body, into any) error {
	return c.reach.Ask(c.ctx, method, c.o.Connector+path, key, body, into)
}

// refuses says how an answer falls short of a refusal of some status, with a code where one is wanted.
func refuses(err error, code string, statuses ...int) error {
	var no *reach.Refusal
	var nothing *reach.Unanswered
	switch {
	case err == nil:
		return errors.New("it is done, where it should be refused")
	case errors.As(err, &nothing):
		if slices.Contains(statuses, nothing.Status) {
			return nil
		}
		return nothing.Why
	case errors.As(err, &no):
		if !slices.Contains(statuses, no.Status) {
			return fmt.Errorf("it is refused with %d, and should be with %v", no.Status, statuses)
		}
		if no.Code == "" || code != "" && no.Code != code {
			return fmt.Errorf("the refusal has the code %q, and should have %q", no.Code, code)
		}
	}
	return nil
}

type listing struct {
	Ref, Page, Holder string
	Withdrawn         bool
	Facts             map[string]any
}

func (c *run) strangers(r *reach.Reach) {
	if c.o.Authorization == "" {
		return
	}
	stranger := r.WithDoor(entered{"Bearer " + uuid.NewString()})
	err := stranger.Ask(c.ctx, http.MethodPost, c.o.Connector+"/search", "", map[string]string{"name": "Nobody"}, &struct{}{})
	c.keeps("whoever is not known is answered 401", refuses(err, "", http.StatusUnauthorized))
}

func (c *run) unknown() {
	var found struct{ Listings []listing }
	c.keeps("a search for what is not there finds nothing", c.ask(http.MethodPost, "/search", "", map[string]string{"name": "Nobody " + uuid.NewString()}, &found))
	if len(found.Listings) > 20 {
		c.keeps("a search tells what is like it, and not all that there is", fmt.Errorf("%d are found by a name that nobody has", len(found.Listings)))
	}
	c.keeps("a listing that is not there is refused: 404, no_listing",
		refuses(c.ask(http.MethodGet, "/listings/"+uuid.NewString(), "", nil, &listing{}), "no_listing", http.StatusNotFound))
	c.keeps("a listing without facts is refused, with a code",
		refuses(c.ask(http.MethodPost, "/listings", uuid.NewString(), map[string]any{}, &listing{}), "", http.StatusBadRequest, http.StatusUnprocessableEntity))
}

func (c *run) creates() (ref, key string) {
	key = uuid.NewString()
	var made listing
	err := c.ask(http.MethodPost, "/listings", key, c.o.Facts, &made)
	if err == nil && made.Ref == "" {
		err = errors.New("it has no ref")
	}
	if err == nil && made.Holder != "you" {
		err = fmt.Errorf("whoever made it does not hold it: holder is %q", made.Holder)
	}
	if !c.keeps("a listing is made from facts, and held by whoever made it", err) {
		return "", ""
	}
	return made.Ref, key
}

func (c *run) again(ref, key string) {
	var same listing
	err := c.ask(http.MethodPost, "/listings", key, c.o.Facts, &same)
	if err == nil && same.Ref != ref {
		err = fmt.Errorf("it was %s, and is %s: it was made twice", ref, same.Ref)
	}
	c.keeps("asked again with the same Idempotency-Key it is not made twice", err)
	other := maps.Clone(c.o.Facts)
	other["name"] = "Another"
	c.keeps("the same Idempotency-Key with another body is refused: 422, key_reused",
		refuses(c.ask(http.MethodPost, "/listings", key, other, &same), "key_reused", http.StatusUnprocessableEntity))
}

func (c *run) told(ref string) {
	var l listing
	err := c.ask(http.MethodGet, "/listings/"+url.PathEscape(ref), "", nil, &l)
	for _, fact := range []string{"name", "street", "locality", "phone"} {
		if given, there := c.o.Facts[fact]; there && err == nil && fmt.Sprint(l.Facts[fact]) != fmt.Sprint(given) {
			err = fmt.Errorf("its %s is %v, and was given as %v", fact, l.Facts[fact], given)
		}
	}
	c.keeps("a listing is told as it was given", err)
}

func (c *run) found(ref string) {
	query := map[string]any{}
	for _, fact := range []string{"name", "phone", "street", "locality"} {
		query[fact] = c.o.Facts[fact]
	}
	var found struct{ Listings []listing }
	err := c.ask(http.MethodPost, "/search", "", query, &found)
	if err == nil && !slices.ContainsFunc(found.Listings, func(l listing) bool { return l.Ref == ref }) {
		err = fmt.Errorf("of %d that are found it is none", len(found.Listings))
	}
	c.keeps("a listing is found by its name, phone and address", err)
}

func (c *run) changed(ref string) {
	const hours = "Mo-Fr 10:00-16:00"
	path := "/listings/" + url.PathEscape(ref)
	var met struct {
		Taken, Reviewed []string
		Refused         map[string]string
	}
	err := c.ask(http.MethodPut, path, uuid.NewString(), map[string]any{"hours": hours}, &met)
	_, refused := met.Refused["hours"]
	if err == nil && !slices.Contains(met.Taken, "hours") && !slices.Contains(met.Reviewed, "hours") && !refused {
		err = errors.New("it is not said how the change of hours was met")
	}
	if c.keeps("each fact that is changed is taken, reviewed or refused", err) && slices.Contains(met.Taken, "hours") {
		var l listing
		err := c.ask(http.MethodGet, path, "", nil, &l)
		if err == nil && (l.Facts["hours"] != hours || fmt.Sprint(l.Facts["name"]) != fmt.Sprint(c.o.Facts["name"])) {
			err = fmt.Errorf("its hours are %v, and its name is %v", l.Facts["hours"], l.Facts["name"])
		}
		c.keeps("what was taken shows, and what was not named stays", err)
	}
}

func (c *run) verifies(ref string) {
	path := "/listings/" + url.PathEscape(ref)
	var offers struct{ Methods []string }
	c.keeps("the ways to verify are told", c.ask(http.MethodGet, path+"/offers", "", nil, &offers))
	c.keeps("a way that is not offered is refused, with a code",
		refuses(c.ask(http.MethodPost, path+"/verifications", uuid.NewString(), map[string]string{"method": "by pigeon"}, &struct{}{}), "",
			http.StatusBadRequest, http.StatusForbidden, http.StatusNotFound, http.StatusConflict, http.StatusUnprocessableEntity))
}

func (c *run) withdrawn(ref string) {
	path := "/listings/" + url.PathEscape(ref)
	err := c.ask(http.MethodPost, path+"/visibility", uuid.NewString(), map[string]bool{"withdrawn": true}, &struct{}{})
	var l listing
	if err == nil {
		err = c.ask(http.MethodGet, path, "", nil, &l)
	}
	if err == nil && !l.Withdrawn {
		err = errors.New("it is not told as withdrawn")
	}
	c.keeps("a listing can be withdrawn from public view", err)
}
