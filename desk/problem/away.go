package problem

import (
	"errors"
	"io"
	"net"
	"strings"

	"github.com/jackc/pgx/v5/pgconn"
)

// Away reports whether an error is one of the database server rather than of what it was asked: it does not answer, it is
// ending or starting, it has no room or no connection left. Asked again later it may do the same.
func Away(err error) bool {
	var said *pgconn.PgError
	if errors.As(err, &said) {
		// Classes 08, 53 and 58 and what an operator does (https://www.postgresql.org/docs/current/errcodes-appendix.html).
		// 40001 is what a standby says when it breaks off a read that is in the way of what it has to take over.
		for _, class := range []string{"08", "53", "57P", "58", "40001"} {
			if strings.HasPrefix(said.Code, class) {
				return true
			}
		}
		return false
	}
	var connecting *pgconn.ConnectError
	var network net.Error
	return errors.As(err, &connecting) || errors.As(err, &network) || pgconn.SafeToRetry(err) ||
		errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF)
}

// Full reports whether an error is that the database has no room left on its disk.
func Full(err error) bool {
	var said *pgconn.PgError
	return errors.As(err, &said) && said.Code == "53100"
}
