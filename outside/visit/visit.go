// Package visit acts on the outside as a person there would: reads what reached
// a letter box, a phone or an inbox, and pulls the levers that shape the world.
// It speaks the outside's plain HTTP and nothing else.
package visit

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"time"
)

// World is an outside at an address.
type World struct{ Base string }

// Facts are a listing's facts as the directories of the world write them:
// name, street, locality, region, postal_code, country, phone (E.164),
// website, category (the directory's), hours (opening_hours).
type Facts map[string]any

// Place puts a listing there that nobody asked for, held by an account or, with
// none, by nobody. It returns the directory's key of it.
func (w World) Place(ctx context.Context, directory, holder string, facts Facts) (ref string, err error) {
	var out struct{ Ref string }
	err = w.send(ctx, http.MethodPost, "/listings", map[string]any{"directory": directory, "holder": holder, "facts": facts}, &out)
	return out.Ref, err
}

// Late makes a directory publish a listing some days after its window.
func (w World) Late(ctx context.Context, ref string, days int) error {
	return w.send(ctx, http.MethodPut, "/listings/"+ref+"/late", map[string]int{"days": days}, nil)
}

// Phone says what a number is like: a landline takes no texts, and outside its
// hours (opening_hours; empty for always) nobody picks up.
func (w World) Phone(ctx context.Context, number string, landline bool, hours, zone string) error {
	return w.send(ctx, http.MethodPut, "/phones", map[string]any{"number": number, "landline": landline, "hours": hours, "zone": zone}, nil)
}

// Nowhere makes an email address one to which nothing can be brought: what is sent there
// comes back to the sender.
func (w World) Nowhere(ctx context.Context, address string) error {
	return w.send(ctx, http.MethodPut, "/nowhere", map[string]string{"address": address}, nil)
}

// Town is where people live.
type Town struct {
	Town      string  `json:"town"`
	Latitude  float64 `json:"latitude"`
	Longitude float64 `json:"longitude"`
	People    int     `json:"people"`
}

// People says where people live.
func (w World) People(ctx context.Context, towns []Town) error {
	return w.send(ctx, http.MethodPut, "/people", towns, nil)
}

// Opinion has a visitor write about a listing.
func (w World) Opinion(ctx context.Context, ref, by string, stars int, text string, at time.Time) error {
	return w.send(ctx, http.MethodPost, "/listings/"+ref+"/reviews", map[string]any{"by": by, "stars": stars, "text": text, "at": at}, nil)
}

// Suspend has a directory suspend a listing for one of its causes, at a time to come or,
// where that is past, now. One that is final is not lifted by any appeal.
func (w World) Suspend(ctx context.Context, ref, cause string, final bool, at time.Time) error {
	return w.send(ctx, http.MethodPut, "/listings/"+ref+"/suspended", map[string]any{"cause": cause, "final": final, "at": at}, nil)
}

// Site makes a page of the world's websites answer with a status, or lead
// somewhere else; all others answer as they should. address is host and path.
func (w World) Site(ctx context.Context, address string, status int, leads string) error {
	return w.send(ctx, http.MethodPut, "/sites", map[string]any{"address": address, "status": status, "leads": leads}, nil)
}

// Faults make the directories' interfaces misbehave: each share is of a hundred requests.
type Faults struct {
	Only           string `json:"only"` // the slug of the one that does; empty: all
	SlowMS         int    `json:"slow_ms"`
	FailPercent    int    `json:"fail_percent"`    // do nothing and answer 503
	BusyPercent    int    `json:"busy_percent"`    // do nothing and answer 429
	BusySeconds    int    `json:"busy_seconds"`    // with that as Retry-After
	ExpiredPercent int    `json:"expired_percent"` // do nothing and answer 401
	PagePercent    int    `json:"page_percent"`    // do nothing and answer 200 with a page
	GarbagePercent int    `json:"garbage_percent"` // are done, and answer what is no answer
	CutPercent     int    `json:"cut_percent"`     // are done, and the answer breaks off
	LosePercent    int    `json:"lose_percent"`    // are done, and the answer is lost
	RepeatPercent  int    `json:"repeat_percent"`  // come twice
	LostPost       int    `json:"lost_post"`       // of a hundred postcards, that never arrive
}

// Misbehave sets the faults.
func (w World) Misbehave(ctx context.Context, f Faults) error {
	return w.send(ctx, http.MethodPut, "/faults", f, nil)
}

// Arrival is what reached a letter box, a phone or an inbox.
type Arrival struct {
	At                               time.Time
	Kind, Place, Sender, Title, Body string
}

// Arrivals lists what reached the places that hold a text, newest first.
func (w World) Arrivals(ctx context.Context, at string) (list []Arrival, err error) {
	err = w.send(ctx, http.MethodGet, "/arrivals?at="+url.QueryEscape(at), nil, &list)
	return list, err
}

var codePattern = regexp.MustCompile(`\b\d{3}\x{a0}\d{1,3}(\x{a0}\d{2})?\b`)

// CodeIn is the code that a message tells; empty for none.
func CodeIn(message string) string {
	return strings.ReplaceAll(codePattern.FindString(message), "\u00a0", "")
}

// Code is the newest one that reached any of the places.
func (w World) Code(ctx context.Context, places ...string) (string, error) {
	var newest Arrival
	for _, place := range places {
		if place == "" {
			continue
		}
		list, err := w.Arrivals(ctx, place)
		if err != nil {
			return "", err
		}
		for _, a := range list {
			if CodeIn(a.Body) != "" && a.At.After(newest.At) {
				newest = a
			}
		}
	}
	if code := CodeIn(newest.Body); code != "" {
		return code, nil
	}
	return "", fmt.Errorf("no code has reached %s", strings.Join(places, " or "))
}

// Count tells how many listings and codes a directory has made so far.
func (w World) Count(ctx context.Context) (listings, codes int, err error) {
	var out struct{ Listings, Codes int }
	err = w.send(ctx, http.MethodGet, "/count", nil, &out)
	return out.Listings, out.Codes, err
}

func (w World) send(ctx context.Context, method, path string, body, into any) error {
	b, err := json.Marshal(body)
	if err != nil {
		return err
	}
	req, err := http.NewRequestWithContext(ctx, method, w.Base+path, bytes.NewReader(b))
	if err != nil {
		return err
	}
	resp, err := http.DefaultClient.Do(req)
	if err != nil {
		return err
	}
	defer resp.Body.Close()
	data, err := io.ReadAll(resp.Body)
	if err != nil {
		return err
	}
	if resp.StatusCode >= 300 {
		return fmt.Errorf("the outside answers %s to %s: %s", resp.Status, path, data)
	}
	if into == nil {
		return nil
	}
	return json.Unmarshal(data, into)
}

// Form is what a person types into a directory's own form, by field.
type Form map[string]string

// Fill adds a business on a directory's own pages, as a person would. It returns where
// its public page will be.
func (w World) Fill(ctx context.Context, directory string, f Form) (page string, err error) {
	values := url.Values{}
	for k, v := range f {
		values.Set(k, v)
	}
	body, at, err := w.post(ctx, "/"+directory+"/add", values)
	if err != nil {
		return "", err
	}
	if page = pagePattern.FindString(body); page == "" || !strings.Contains(at, "/mine/") {
		return "", fmt.Errorf("%s did not take the form: %s", directory, wrongPattern.FindString(body))
	}
	return page, nil
}

var (
	pagePattern  = regexp.MustCompile(`/[a-z-]+/place/[\w-]+`)
	minePattern  = regexp.MustCompile(`/[a-z-]+/mine/\w+`)
	wrongPattern = regexp.MustCompile(`role="alert">[^<]*`)
)

// mine finds the page on which the listing with a public page is worked on.
func (w World) mine(ctx context.Context, page string) (string, error) {
	directory := strings.Split(page, "/")[1]
	words := strings.Split(page[strings.LastIndexByte(page, '/')+1:], "-")
	list, err := w.get(ctx, "/"+directory+"/?q="+url.QueryEscape(words[0]))
	if err != nil {
		return "", err
	}
	for _, mine := range minePattern.FindAllString(list, -1) {
		body, err := w.get(ctx, mine)
		if err != nil {
			return "", err
		}
		if m := pagePattern.FindString(body); m == page {
			return mine, nil
		}
	}
	return "", fmt.Errorf("%s has no listing at %s", directory, page)
}

func (w World) get(ctx context.Context, path string) (string, error) {
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, w.Base+path, nil)
	if err != nil {
		return "", err
	}
	resp, err := http.DefaultClient.Do(req)
	if err != nil {
		return "", err
	}
	defer resp.Body.Close()
	data, err := io.ReadAll(resp.Body)
	return string(data), err
}

// Show brings the listing with a public page into public view, on the directory's own
// pages.
func (w World) Show(ctx context.Context, page string) error {
	mine, err := w.mine(ctx, page)
	if err == nil {
		_, _, err = w.post(ctx, mine+"/show", nil)
	}
	return err
}

// HandIn uploads a file of locations on a directory's own pages.
func (w World) HandIn(ctx context.Context, directory string, csv []byte) error {
	var b bytes.Buffer
	form := multipart.NewWriter(&b)
	part, err := form.CreateFormFile("file", "locations.csv")
	if err == nil {
		_, err = part.Write(csv)
	}
	if err = errors.Join(err, form.Close()); err != nil {
		return err
	}
	req, err := http.NewRequestWithContext(ctx, http.MethodPost, w.Base+"/"+directory+"/file", &b)
	if err != nil {
		return err
	}
	req.Header.Set("Content-Type", form.FormDataContentType())
	resp, err := http.DefaultClient.Do(req)
	if err != nil {
		return err
	}
	defer resp.Body.Close()
	page, err := io.ReadAll(resp.Body)
	if err == nil && !strings.Contains(string(page), "were taken in") {
		err = fmt.Errorf("%s did not take the file: %s", directory, wrongPattern.FindString(string(page)))
	}
	return err
}

// SendPaper sends what stands on a paper to a directory, on its own pages.
func (w World) SendPaper(ctx context.Context, page, text string) error {
	mine, err := w.mine(ctx, page)
	if err == nil {
		_, _, err = w.post(ctx, mine+"/ask", url.Values{"method": {"papers"}, "paper": {text}})
	}
	return err
}

// Prove has a directory send a code for the listing with a public page, and enters it on
// the directory's own pages. places are where the code may come to, an email last.
func (w World) Prove(ctx context.Context, page, method string, places ...string) error {
	mine, err := w.mine(ctx, page)
	if err != nil {
		return err
	}
	before, _ := w.Code(ctx, places...) // none is as good as an old one
	if _, _, err := w.post(ctx, mine+"/ask", url.Values{"method": {method}, "email": {places[len(places)-1]}}); err != nil {
		return err
	}
	// A message takes a moment to arrive.
	code, err := w.Code(ctx, places...)
	for range 50 {
		if err == nil && code != before {
			break
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(100 * time.Millisecond):
		}
		code, err = w.Code(ctx, places...)
	}
	if err != nil {
		return err
	}
	body, _, err := w.post(ctx, mine+"/code", url.Values{"code": {code}})
	if err == nil && !strings.Contains(body, "Verified") {
		err = fmt.Errorf("%s did not take the code: %s", page, wrongPattern.FindString(body))
	}
	return err
}

// post sends a form and follows where it leads.
func (w World) post(ctx context.Context, path string, values url.Values) (body, at string, err error) {
	req, err := http.NewRequestWithContext(ctx, http.MethodPost, w.Base+path, strings.NewReader(values.Encode()))
	if err != nil {
		return "", "", err
	}
	req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	resp, err := http.DefaultClient.Do(req)
	if err != nil {
		return "", "", err
	}
	defer resp.Body.Close()
	data, err := io.ReadAll(resp.Body)
	return string(data), resp.Request.URL.Path, err
}
