package people

import (
	"context"
	"slices"

	"github.com/google/uuid"
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

// Limited reports whether a person works for some clients alone, or is of one.
func (p Person) Limited() bool { return p.Clients != nil }

// Sees reports whether a person sees what is of a client.
func (p Person) Sees(client uuid.UUID) bool {
	return !p.Limited() || slices.Contains(p.Clients, client)
}

// Reaches reports whether somebody may see clients, and things of clients, by their ids: whoever is limited those of their
// own clients alone, and everybody else all. What there is not is reached by nobody who is limited.
func (d *Desk) Reaches(ctx context.Context, p Person, clients, things []uuid.UUID) (bool, error) {
	if !p.Limited() {
		return true, nil
	}
	if len(things) > 0 {
		owners, err := d.store.Owners(ctx, things)
		if err != nil {
			return false, err
		}
		owned := map[uuid.UUID]bool{}
		for _, o := range owners {
			owned[o.ID] = true
			clients = append(clients, o.ClientID)
		}
		if slices.ContainsFunc(things, func(id uuid.UUID) bool { return !owned[id] }) {
			return false, nil
		}
	}
	return !slices.ContainsFunc(clients, func(id uuid.UUID) bool { return !p.Sees(id) }), nil
}
