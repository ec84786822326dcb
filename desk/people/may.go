package people

import (
	"context"

	"github.com/google/uuid"

	"uvent/desk/problem"
)

// Role is what somebody is here.
type Role string

const (
	Administrator Role = "administrator"
	Specialist    Role = "specialist"
	Helper        Role = "helper" // edits, and sends nothing
	OfClient      Role = "client" // sees its own locations, and confirms
)

// Roles are all of them, the one that may do most first.
var Roles = []Role{Administrator, Specialist, Helper, OfClient}

// Need is what something that is asked for takes.
type Need string

const (
	Oneself    Need = "oneself"    // what is about whoever asks
	See        Need = "see"        //
	Confirm    Need = "confirm"    // say that facts are right
	Edit       Need = "edit"       // change what is held here
	SendOut    Need = "send"       // what reaches directories, owners or colleagues
	Administer Need = "administer" // people, and what all of them share
)

// may is the one place that says which role may do what.
var may = map[Role]map[Need]bool{
	Administrator: {Oneself: true, See: true, Confirm: true, Edit: true, SendOut: true, Administer: true},
	Specialist:    {Oneself: true, See: true, Confirm: true, Edit: true, SendOut: true},
	Helper:        {Oneself: true, See: true, Confirm: true, Edit: true},
	OfClient:      {Oneself: true, See: true, Confirm: true},
}

// scopes are what a program's key may do at most.
var scopes = map[string]map[Need]bool{
	"see":  {See: true},
	"edit": {See: true, Confirm: true, Edit: true},
	"send": {See: true, Confirm: true, Edit: true, SendOut: true},
}

// May reports whether the person may do what takes such a need, with the key that asks if
// one does.
func (p Person) May(n Need) bool {
	return may[p.Role][n] && (p.Key == "" || scopes[p.Key][n])
}

// Object is what is asked for or about, by its id; what is not named is nil.
type Object struct {
	Client, Location, Photo, Paper *uuid.UUID
}

// Reaches reports whether somebody may see an object: whoever is of a client that client's
// own alone, and everybody else all. What there is not is reached by nobody of a client.
func (d *Desk) Reaches(ctx context.Context, p Person, o Object) (bool, error) {
	if p.Client == nil {
		return true, nil
	}
	for _, one := range []struct {
		Id    *uuid.UUID
		Owner func(context.Context, uuid.UUID) (uuid.UUID, error)
	}{
		{o.Client, func(_ context.Context, id uuid.UUID) (uuid.UUID, error) { return id, nil }},
		{o.Location, func(ctx context.Context, id uuid.UUID) (uuid.UUID, error) {
			l, err := d.store.Location(ctx, id)
			return l.ClientID, err
		}},
		{o.Photo, d.store.ClientOfPhoto}, {o.Paper, d.store.ClientOfPaper},
	} {
		if one.Id == nil {
			continue
		}
		owner, err := one.Owner(ctx, *one.Id)
		if err != nil || owner != *p.Client {
			return false, problem.IgnoreNoRows(err)
		}
	}
	return true, nil
}
