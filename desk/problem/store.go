package problem

import (
	"errors"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"

	"uvent/core/record/record"
)

// OrNotFound is a NotFound problem where a row is not there.
func OrNotFound(err error, detail string) error {
	if errors.Is(err, pgx.ErrNoRows) {
		return &Problem{Kind: NotFound, Detail: detail}
	}
	return err
}

// uniques are the facts that must differ, by the index that keeps them apart.
var uniques = map[string]record.Problem{
	"client_name":         {Path: "name", Message: "another client has this name already"},
	"location_label":      {Path: "label", Message: "another location of this client is called that already"},
	"account_email":       {Path: "email", Message: "it is in the list for this directory already"},
	"region_name":         {Path: "name", Message: "another region has this name already"},
	"person_email":        {Path: "email", Message: "somebody signs in with it already"},
	"location_store_code": {Path: "store_code", Message: "another location of this client has this store code already"},
}

// Taken is a problem in words where something must differ and does not.
func Taken(err error) error {
	var pg *pgconn.PgError
	if errors.As(err, &pg) {
		if p, ok := uniques[pg.ConstraintName]; ok {
			return Fields([]record.Problem{p})
		}
	}
	return err
}

// Stale is a problem where somebody else saved in between.
func Stale(err error) error {
	if errors.Is(err, pgx.ErrNoRows) {
		return Conflictf("Somebody saved this while you were editing. Load it again; what you typed is kept here until you do.")
	}
	return err
}

// IgnoreNoRows is nil where a row is not there.
func IgnoreNoRows(err error) error {
	if errors.Is(err, pgx.ErrNoRows) {
		return nil
	}
	return err
}
