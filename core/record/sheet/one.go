package sheet

import (
	"bytes"
	"errors"

	"uvent/core/record/record"
	"uvent/core/record/table"
)

// WriteOne writes one location as CSV, and what of its record a CSV has no place
// for, in words.
func WriteOne(r record.Record) (data []byte, lost []string, err error) {
	var b bytes.Buffer
	if err := Write(&b, []Line{{Record: r}}); err != nil {
		return nil, nil, err
	}
	for _, f := range []struct {
		said bool
		what string
	}{
		{len(r.Area.Towns) > 0, "where the towns served lie and how far it is"}, {r.Tags != record.Tags{}, "the campaign tags"}, {len(r.Licences) > 0,
			"the licences"},
		{len(r.Team) > 0, "the team"}, {len(r.Offerings) > 0, "the offerings"}, {len(r.Own) > 0, "which facts are the location’s own"},
	} {
		if f.said {
			lost = append(lost, f.what)
		}
	}
	return b.Bytes(), lost, nil
}

// ErrNotOne means that a file holds no location, or more than one.
var ErrNotOne = errors.New("the file holds more than one row; bring it in under the client instead")

// ReadOne lays the one row of a CSV over a record. The error is of type *table.Error, or
// ErrNotOne.
func ReadOne(data []byte, over record.Record) (record.Record, error) {
	t, err := table.Read(data, table.Options{Known: Known})
	if err != nil {
		return over, err
	}
	if len(t.Rows) != 1 {
		return over, ErrNotOne
	}
	a := NewReader(t.Header, Match(t)).Apply(t.Rows[0], over)
	if p := a.Problems; len(p) > 0 {
		return over, &table.Error{Line: p[0].Line, Message: p[0].Column + ": " + p[0].Reason}
	}
	return a.Record, nil
}
