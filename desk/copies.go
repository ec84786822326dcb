package desk

import (
	"context"
	"errors"

	"github.com/google/uuid"

	"uvent/core/jsonld"
	"uvent/core/record"
)

// JSONLD writes a location's record as JSON-LD. lost says what the format has
// no place for.
func (d *Desk) JSONLD(ctx context.Context, location uuid.UUID) (text string, lost []string, err error) {
	l, err := d.Location(ctx, location)
	if err != nil {
		return "", nil, err
	}
	data, lost, err := jsonld.Write(l.Record)
	return string(data), lost, err
}

// ReadJSONLD tells what a location's record would be with a JSON-LD document
// laid over it. Nothing is saved, so that a person can look at it first.
func (d *Desk) ReadJSONLD(ctx context.Context, location uuid.UUID, text string) (record.Record, error) {
	l, err := d.Location(ctx, location)
	if err != nil {
		return record.Record{}, err
	}
	r, err := jsonld.Read([]byte(text), l.Record)
	switch {
	case errors.Is(err, jsonld.ErrNoBusiness):
		return r, &Problem{Kind: Invalid, Detail: "The document describes no business: it has no name.", Fields: []record.Problem{{Path: "text", Message: err.Error()}}}
	case err != nil:
		return r, &Problem{Kind: Invalid, Detail: "The document cannot be read as JSON-LD. Give one business as a JSON object.", Fields: []record.Problem{{Path: "text", Message: err.Error()}}}
	}
	r, _ = record.Normal(r) // what is wrong with it is told when it is saved
	return r, nil
}
