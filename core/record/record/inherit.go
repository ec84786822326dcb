package record

import (
	"reflect"
	"slices"
	"strings"
)

// inheritable are the facts that a client says once for all its locations.
var inheritable = []struct {
	path string
	at   func(*Record) any // a pointer to the fact
}{
	{
		"name",
		func(r *Record) any { return &r.Name },
	},
	{"legal_name", func(r *Record) any { return &r.LegalName }},
	{"former_names", func(r *Record) any { return &r.FormerNames }},
	{"email", func(r *Record) any { return &r.Email }},
	{"website", func(r *Record) any { return &r.Website }},
	{
		"category",
		func(r *Record) any { return &r.Category },
	},
	{"other_categories", func(r *Record) any { return &r.Others }},
	{"attributes", func(r *Record) any { return &r.Attributes }},
	{
		"words.tagline",
		func(r *Record) any { return &r.Words.Tagline },
	},
	{"words.short", func(r *Record) any { return &r.Words.Short }},
	{"words.medium", func(r *Record) any { return &r.Words.Medium }},
	{"words.long", func(r *Record) any { return &r.Words.Long }},
	{"words.story", func(r *Record) any { return &r.Words.Story }},
	{"words.keywords", func(r *Record) any { return &r.Words.Keywords }},
	{"words.specialities", func(r *Record) any { return &r.Words.Specialities }},
	{
		"links.booking",
		func(r *Record) any { return &r.Links.Booking },
	},
	{"links.ordering", func(r *Record) any { return &r.Links.Ordering }},
	{"links.quote", func(r *Record) any { return &r.Links.Quote }},
	{
		"links.menu",
		func(r *Record) any { return &r.Links.Menu },
	},
	{"links.gift_card", func(r *Record) any { return &r.Links.GiftCard }},
	{"links.app", func(r *Record) any { return &r.Links.App }},
	{
		"socials",
		func(r *Record) any { return &r.Socials },
	},
	{"videos", func(r *Record) any { return &r.Videos }},
	{"tags", func(r *Record) any { return &r.Tags }},
	{"payments", func(r *Record) any { return &r.Payments }},
	{"licences", func(r *Record) any { return &r.Licences }},
	{"offerings", func(r *Record) any { return &r.Offerings }},
	{
		"company.registration",
		func(r *Record) any { return &r.Company.Registration },
	},
	{"company.size", func(r *Record) any { return &r.Company.Size }},
	{"company.kind", func(r *Record) any { return &r.Company.Kind }},
	{
		"company.industry",
		func(r *Record) any { return &r.Company.Industry },
	},
	{"company.founded", func(r *Record) any { return &r.Company.Founded }},
	{"company.domains", func(r *Record) any { return &r.Company.Domains }},
}

// Inheritable lists the paths of the facts that a client may say once for all
// its locations.
func Inheritable() []string {
	out := make([]string, len(inheritable))
	for i, f := range inheritable {
		out[i] = f.path
	}
	return out
}

func value(pointer any) reflect.Value { return reflect.ValueOf(pointer).Elem() }

// unsaid reports whether nothing is said; an empty list says nothing.
func unsaid(v reflect.Value) bool {
	switch v.Kind() {
	case reflect.Slice, reflect.Map:
		return v.Len() == 0
	}
	return v.IsZero()
}

func same(a, b reflect.Value) bool {
	return unsaid(a) && unsaid(b) || reflect.DeepEqual(a.Interface(), b.Interface())
}

// own keeps the paths that are known, in their order, each once.
func own(in []string) []string {
	out := []string{}
	for _, f := range inheritable {
		if slices.Contains(in, f.path) {
			out = append(out, f.path)
		}
	}
	return out
}

// NormalShared tidies and checks what a client says for all its locations. What
// only a location can say is left out.
func NormalShared(r Record) (Record, []Problem) {
	var in Record
	for _, f := range inheritable {
		value(f.at(&in)).Set(value(f.at(&r)))
	}
	in.Kind = Premises
	tidy, wrong := Normal(in)
	out, _ := Normal(Record{Kind: Premises}) // no list in it is nil
	for _, f := range inheritable {
		value(f.at(&out)).Set(value(f.at(&tidy)))
	}
	var problems []Problem
	for _, p := range wrong {
		for _, f := range inheritable {
			if p.Path == f.path || strings.HasPrefix(p.Path, f.path+".") {
				problems = append(problems, p)
			}
		}
	}
	return out, problems
}

// Settle holds a location's record, as it was just said, against what its client
// says for all: a fact on which the record is silent is the client's; one that
// differs becomes the location's own; the rest of its own facts stay as they are.
func Settle(r, shared Record) Record {
	keep := []string{}
	for _, f := range inheritable {
		mine, theirs := value(f.at(&r)), value(f.at(&shared))
		switch {
		case unsaid(theirs):
		case slices.Contains(r.Own, f.path), !unsaid(mine) && !same(mine, theirs):
			keep = append(keep, f.path)
		default:
			mine.Set(theirs)
		}
	}
	r.Own = keep
	return r
}

// Follow takes a change of what a client says for all over into a location's
// record, except into the facts that the location says for itself.
func Follow(r, before, after Record) Record {
	for _, f := range inheritable {
		mine, was, is := value(f.at(&r)), value(f.at(&before)), value(f.at(&after))
		if !slices.Contains(r.Own, f.path) && same(mine, was) && !same(was, is) {
			mine.Set(is)
		}
	}
	return Settle(r, after)
}
