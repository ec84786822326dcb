package problem_test

import (
	"context"
	"errors"
	"fmt"
	"io"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"

	"uvent/desk/problem"
)

func TestWhatIsAnOutage(t *testing.T) {
	_, refused := pgx.Connect(context.Background(), "postgres://127.0.0.1:1/none")
	for _, c := range []struct {
		err  error
		away bool
	}{
		{nil, false},
		{refused, true},
		{fmt.Errorf("reading: %w", &pgconn.PgError{Code: "57P01"}), true}, // it ends
		{&pgconn.PgError{Code: "57P03"}, true},                            // it begins
		{&pgconn.PgError{Code: "53100"}, true},                            // its disk is full
		{&pgconn.PgError{Code: "57014"}, false},                           // whoever asked has gone
		{&pgconn.PgError{Code: "23505"}, false},                           // there is one already
		{io.ErrUnexpectedEOF, true},
		{pgx.ErrNoRows, false},
		{errors.New("anything else"), false},
	} {
		if got := problem.Away(c.err); got != c.away {
			t.Errorf("%v: %v", c.err, got)
		}
	}
}
