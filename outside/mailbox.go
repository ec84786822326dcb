package outside

import (
	"fmt"
	"mime"
	"net/http"
	"net/mail"
	"strconv"
	"strings"
	"time"
)

// letter is a message in a mailbox.
type letter struct {
	Number  int64  `json:"number"`  // grows from one message to the next
	Message string `json:"message"` // as RFC 5322 has it
}

// mostLetters are told at once.
const mostLetters = 200

// mailbox tells what came for an address after a message.
func (o *Outside) mailbox(w http.ResponseWriter, r *http.Request) {
	after, err := strconv.ParseInt(r.URL.Query().Get("after"), 10, 64)
	if err != nil {
		refuse(w, http.StatusBadRequest, "bad_request", "Say after which message, as a number.")
		return
	}
	rows, err := o.pool.Query(
		r.Context(),
		"select number, id, at, sender, title, body, raw from arrival where kind = 'mail' and place = $1 and number > $2 order by number limit $3",
		strings.ToLower(r.PathValue("address")),
		after,
		mostLetters,
	)
	if err != nil {
		refuse(w, http.StatusInternalServerError, "fault", err.Error())
		return
	}
	defer rows.Close()
	out := []letter{}
	for rows.Next() {
		var n int64
		var id, sender, title, body, raw string
		var at time.Time
		if err := rows.Scan(&n, &id, &at, &sender, &title, &body, &raw); err != nil {
			refuse(w, http.StatusInternalServerError, "fault", err.Error())
			return
		}
		if raw != "" {
			out = append(out, letter{n, raw})
			continue
		}
		if sender == daemon {
			out = append(out, letter{n, report(r.PathValue("address"), id, body, at)})
			continue
		}
		out = append(out, letter{n, message(r.PathValue("address"), id, sender, title, body, at)})
	}
	write(w, http.StatusOK, out)
}

// daemon writes where a letter does not arrive.
const daemon = "mailer-daemon@post.example"

// report is what it writes, as RFC 3464 and RFC 6522 have it: body is the id of the letter and whom it did not reach.
func report(to, id, body string, at time.Time) string {
	letter, whom, _ := strings.Cut(body, "\n")
	part := func(kind string, lines ...string) string {
		return "--part\r\nContent-Type: " + kind + "\r\n\r\n" + strings.Join(lines, "\r\n") + "\r\n"
	}
	return strings.Join([]string{
		"From: " + daemon,
		"To: " + to,
		"Date: " + at.Format(time.RFC1123Z),
		"Message-ID: <" + strings.NewReplacer(" ", ".", "<", "", ">", "").Replace(id) + "@post.example>",
		"Subject: A letter could not be delivered",
		"MIME-Version: 1.0",
		`Content-Type: multipart/report; report-type=delivery-status; boundary="part"`,
		"",
		part("text/plain", "Your letter to "+whom+" could not be delivered."),
		part("message/delivery-status", "Reporting-MTA: dns; post.example", "", "Final-Recipient: rfc822; "+whom, "Action: failed", "Status: 5.1.1",
			"Diagnostic-Code: smtp; 550 5.1.1 nobody reads there any more"),
		part("text/rfc822-headers", "Message-ID: "+letter, "To: "+whom, ""),
		"--part--",
		"",
	}, "\r\n")
}

// message is one as RFC 5322 and RFC 2047 have it.
func message(to, id, from, subject, body string, at time.Time) string {
	head := []string{
		"From: " + (&mail.Address{Address: from}).String(), "To: " + (&mail.Address{Address: to}).String(), "Date: " + at.Format(time.RFC1123Z),
		"Message-ID: <" + strings.NewReplacer(" ", ".", "<", "", ">", "").Replace(id) + "@post.example>", "Subject: " + mime.QEncoding.Encode("utf-8", subject),
		"MIME-Version: 1.0", "Content-Type: text/plain; charset=UTF-8", "Content-Transfer-Encoding: 8bit",
	}
	return fmt.Sprintf("%s\r\n\r\n%s\r\n", strings.Join(head, "\r\n"), strings.ReplaceAll(body, "\n", "\r\n"))
}
