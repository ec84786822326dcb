package reach

import (
	"context"
	"net/http"
	"net/url"
	"time"
	"uvent/core/record/sighting"

	"uvent/core/fact/address"
)

// facts are a business as the connector's interface writes it.
type facts struct {
	Name       string  `json:"name"`
	Street     string  `json:"street"`
	Locality   string  `json:"locality"`
	Region     string  `json:"region"`
	PostalCode string  `json:"postal_code"`
	Country    string  `json:"country"`
	HideStreet bool    `json:"hide_street"`
	Phone      string  `json:"phone"`
	Website    string  `json:"website"`
	Category   string  `json:"category"`
	Hours      string  `json:"hours"`
	Latitude   float64 `json:"latitude"`
	Longitude  float64 `json:"longitude"`
}

func (f facts) sighting() sighting.Sighting {
	return sighting.Sighting{
		Name: f.Name, Phone: f.Phone, Website: f.Website, Category: f.Category, Hours: f.Hours,
		Address: address.Address{Street: f.Street, Locality: f.Locality, Region: f.Region, PostalCode: f.PostalCode, Country: f.Country},
	}
}

// Listing is a listing as its directory tells it.
type Listing struct {
	Ref    string
	Page   string
	Holder string // "you", "another", or empty
	Shown  sighting.Sighting
}

type listingJSON struct {
	Ref    string `json:"ref"`
	Page   string `json:"page"`
	Holder string `json:"holder"`
	Facts  facts  `json:"facts"`
}

func (l listingJSON) listing() Listing { return Listing{l.Ref, l.Page, l.Holder, l.Facts.sighting()} }

// Query is what to look for.
type Query struct {
	Name     string `json:"name"`
	Phone    string `json:"phone"` // E.164
	Street   string `json:"street"`
	Locality string `json:"locality"`
}

// Search looks for listings. connector is the rulebook's address.
func (r *Reach) Search(ctx context.Context, connector string, q Query) ([]Listing, error) {
	var out struct{ Listings []listingJSON }
	if err := r.Ask(ctx, http.MethodPost, r.resolve(connector)+"/search", "", q, &out); err != nil {
		return nil, err
	}
	list := make([]Listing, len(out.Listings))
	for i, l := range out.Listings {
		list[i] = l.listing()
	}
	return list, nil
}

// Create makes a listing from composed values, as fit.Values.Facts writes them.
func (r *Reach) Create(ctx context.Context, connector, key string, values map[string]any) (Listing, error) {
	var out listingJSON
	err := r.Ask(ctx, http.MethodPost, r.resolve(connector)+"/listings", key, values, &out)
	return out.listing(), err
}

// Changed is how a directory met changed facts.
type Changed struct {
	Taken       []string          `json:"taken"`
	Reviewed    []string          `json:"reviewed"`
	Refused     map[string]string `json:"refused"`
	ID          string            `json:"id"` // of the review; empty for none
	AnswerBy    time.Time         `json:"answer_by"`
	VerifyAgain bool              `json:"verify_again"`
}

// Change gives facts in place of those that a listing has.
func (r *Reach) Change(ctx context.Context, connector, key, ref string, values map[string]any) (Changed, error) {
	var out Changed
	err := r.Ask(ctx, http.MethodPut, r.listingURL(connector, ref, ""), key, values, &out)
	return out, err
}

// Told is how a listing stands, as its directory tells whoever holds it.
type Told struct {
	Suspended string `json:"suspended"` // what it says of the suspension; empty while there is none
	Withdrawn bool   `json:"withdrawn"`
	Holder    string `json:"holder"`
}

// Told asks a directory how a listing stands.
func (r *Reach) Told(ctx context.Context, connector, ref string) (out Told, err error) {
	err = r.Ask(ctx, http.MethodGet, r.listingURL(connector, ref, ""), "", nil, &out)
	return out, err
}

// Appeal argues against a suspension, with papers.
func (r *Reach) Appeal(ctx context.Context, connector, key, ref, text string, papers []Evidence) (out Review, err error) {
	err = r.Ask(ctx, http.MethodPost, r.listingURL(connector, ref, "/appeals"), key, map[string]any{"text": text, "papers": papers}, &out)
	return out, err
}

// Mark says on a listing that its location is closed for a time, closed for good, moved or
// open, as record.StateKind names them.
func (r *Reach) Mark(ctx context.Context, connector, key, ref, state string) error {
	var out struct{}
	return r.Ask(ctx, http.MethodPost, r.listingURL(connector, ref, "/state"), key, map[string]string{"state": state}, &out)
}

// Withdraw takes a listing out of public view, or brings it back.
func (r *Reach) Withdraw(ctx context.Context, connector, key, ref string, withdrawn bool) error {
	var out struct{}
	return r.Ask(ctx, http.MethodPost, r.listingURL(connector, ref, "/visibility"), key, map[string]bool{"withdrawn": withdrawn}, &out)
}

// Claim asks for control of a listing. values are what the directory wants to know
// first; they may be empty.
func (r *Reach) Claim(ctx context.Context, connector, key, ref string, values map[string]any) (Listing, error) {
	var out listingJSON
	err := r.Ask(ctx, http.MethodPost, r.listingURL(connector, ref, "/claim"), key, values, &out)
	return out.listing(), err
}

// Copy makes a listing out of ours on another directory, by that one's id and the
// listing's page there.
func (r *Reach) Copy(ctx context.Context, connector, key, from, page string, values map[string]any) (Listing, error) {
	var out listingJSON
	err := r.Ask(ctx, http.MethodPost, r.resolve(connector)+"/copies", key, map[string]any{"from": from, "page": page, "facts": values}, &out)
	return out.listing(), err
}

// Offers lists the methods of verification that the directory offers a listing today.
func (r *Reach) Offers(ctx context.Context, connector, ref string) ([]string, error) {
	var out struct{ Methods []string }
	err := r.Ask(ctx, http.MethodGet, r.listingURL(connector, ref, "/offers"), "", nil, &out)
	return out.Methods, err
}

// Sent is a code that was sent, and its terms.
type Sent struct {
	ID      string    `json:"id"`
	Digits  int       `json:"digits"`
	Tries   int       `json:"tries"`
	Expires time.Time `json:"expires"`
}

// AskCode asks for a code by a method. to is an E.164 number, an email, or an
// address on one line.
func (r *Reach) AskCode(ctx context.Context, connector, key, ref, method, to, contact string) (Sent, error) {
	var out Sent
	err := r.Ask(ctx, http.MethodPost, r.listingURL(connector, ref, "/verifications"), key,
		map[string]string{"method": method, "to": to, "contact": contact}, &out)
	return out, err
}

// Review is a verification that somebody at the directory decides on.
type Review struct {
	ID         string     `json:"id"`
	InReview   bool       `json:"in_review"`
	AnswerBy   time.Time  `json:"answer_by"`
	VerifiedAt *time.Time `json:"verified_at"` // decided already
}

// Evidence is a paper that proves something.
type Evidence struct {
	Kind string `json:"kind"`
	Name string `json:"name"` // of its file
	Text string `json:"text"` // that was read in it

	LegalName string `json:"legal_name"` // the business's name by law, which the paper may bear
}

// Video is a film that proves where a business is.
type Video struct {
	Name  string   `json:"name"`
	Data  []byte   `json:"data"`  // in base64 on the wire
	Shows []string `json:"shows"` // ids of a rulebook's film parts
}

// AskReview asks a directory to decide by a method that sends no code, with a paper or a
// video where it wants one.
func (r *Reach) AskReview(ctx context.Context, connector, key, ref, method string, with *Evidence, film *Video) (Review, error) {
	var out Review
	err := r.Ask(ctx, http.MethodPost, r.listingURL(connector, ref, "/verifications"), key, map[string]any{"method": method, "paper": with, "video": film}, &out)
	return out, err
}

// Standing is how a review stands.
type Standing struct {
	State string `json:"state"` // in_review, accepted, refused or silent
	Says  string `json:"says"`
	Final bool   `json:"final"` // of a refused appeal: no other is heard
}

// Status tells how a review stands.
func (r *Reach) Status(ctx context.Context, connector, id string) (Standing, error) {
	var out Standing
	err := r.Ask(ctx, http.MethodGet, r.resolve(connector)+"/verifications/"+url.PathEscape(id), "", nil, &out)
	return out, err
}

// AskAccess asks whoever holds a listing to hand it over.
func (r *Reach) AskAccess(ctx context.Context, connector, key, ref string) (Review, error) {
	var out Review
	err := r.Ask(ctx, http.MethodPost, r.listingURL(connector, ref, "/access"), key, struct{}{}, &out)
	return out, err
}

// Duplicate reports that another listing is a second one of ours.
func (r *Reach) Duplicate(ctx context.Context, connector, key, ref, other string) (Review, error) {
	var out Review
	err := r.Ask(ctx, http.MethodPost, r.listingURL(connector, ref, "/duplicates"), key, map[string]string{"other": other}, &out)
	return out, err
}

// Escalate puts a request for access that was not granted before the directory's people.
func (r *Reach) Escalate(ctx context.Context, connector, key, request string, with *Evidence) (Review, error) {
	var out Review
	err := r.Ask(ctx, http.MethodPost, r.resolve(connector)+"/requests/"+url.PathEscape(request)+"/escalate", key, map[string]any{"paper": with}, &out)
	return out, err
}

// Request tells how something that was asked stands: in_review, accepted, refused, or
// silent where a holder did not answer.
func (r *Reach) Request(ctx context.Context, connector, id string) (Standing, error) {
	var out Standing
	err := r.Ask(ctx, http.MethodGet, r.resolve(connector)+"/requests/"+url.PathEscape(id), "", nil, &out)
	return out, err
}

// EnterCode gives a code back. The directory may look into it all the same: the review
// is then under way.
func (r *Reach) EnterCode(ctx context.Context, connector, key, id, code string) (Review, error) {
	var out Review
	err := r.Ask(ctx, http.MethodPost, r.resolve(connector)+"/verifications/"+url.PathEscape(id)+"/code", key, map[string]string{"code": code}, &out)
	return out, err
}

// Photo is one that a directory is given for a listing.
type Photo struct {
	Place       string `json:"place"` // which of the directory's places it fills, by the first group of the rulebook's photos
	ID          string `json:"id"`    // ours
	Caption     string `json:"caption"`
	Alternative string `json:"alternative"`
	Tag         string `json:"tag"`  // what it is marked as
	Data        []byte `json:"data"` // JPEG, in base64 on the wire
}

// GivePhoto gives a photo to a listing; one with the same id takes the place of the one
// before.
func (r *Reach) GivePhoto(ctx context.Context, connector, key, ref string, p Photo) error {
	var out struct{}
	return r.Ask(ctx, http.MethodPost, r.listingURL(connector, ref, "/photos"), key, p, &out)
}
