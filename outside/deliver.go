package outside

import (
	"crypto/sha256"
	"fmt"
	"time"

	"github.com/jackc/pgx/v5"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
)

// deliver sends a code on its way: a postcard takes days, the rest arrives now,
// if somebody is there to take it.
func deliver(r request, d *directory, l listing, m method, how, to, contact, id, code string) error {
	ctx := r.Context()
	a := arrival{Place: to, Sender: d.name}
	switch how {
	case "postcard":
		a.Kind, a.Title = "letter", "A postcard from "+d.name
		attention := ""
		if contact != "" {
			attention = "For " + contact + ". "
		}
		a.Body = fmt.Sprintf("%sYour code for %s, %s: %s", attention, l.Facts.Name, l.Facts.Locality, spaced(code))
		var faults Faults
		if err := r.tx.QueryRow(ctx, "select value from setting").Scan(&faults); err != nil {
			return err
		}
		var before int
		if err := r.tx.QueryRow(ctx, "select count(*) from verification where ref = $1", l.Ref).Scan(&before); err != nil {
			return err
		}
		if int(sha256.Sum256(fmt.Append(nil, l.Ref, before))[0])*100/256 < faults.LostPost {
			return nil // nobody will ever know where it is
		}
		day := somewhereIn(d.place.Window(m.window, r.now), d, l.Ref)
		return schedule(ctx, r.tx, id, day.At(11*60, d.place.Zone), "arrive", a)
	case "email":
		back, err := r.tx.Exec(
			ctx,
			"update verification set ended = 'bounced', says = 'The email came back: there is no such mailbox.' where id = $1 and exists (select from nowhere where "+
				"address = lower($2))",
			id,
			to,
		)
		if err != nil || back.RowsAffected() > 0 {
			return err
		}
		a.Sender, a.Title = "codes@"+d.slug+".example", "Your "+d.name+" code"
		a.Body = fmt.Sprintf("The code for %s, %s is %s.\nIf you did not ask for it, do nothing.", l.Facts.Name, l.Facts.Locality, spaced(code))
		return schedule(ctx, r.tx, id, r.now, "mail", a)
	}
	p, err := phoneAt(r, to)
	if err != nil {
		return err
	}
	switch {
	case how == "text" && p.landline:
		a.Kind, a.Title, a.Body = "lost_text", "A text from "+d.name, "This phone takes no texts; it was lost."
	case how == "text":
		a.Kind, a.Title, a.Body = "text", "A text from "+d.name, fmt.Sprintf("%s is your %s code.", spaced(code), d.name)
	case !p.answered(r.now):
		a.Kind, a.Title, a.Body = "missed_call", "A call from "+d.name, "Nobody picked up."
	default:
		a.Kind, a.Title, a.Body = "call", "A call from "+d.name, fmt.Sprintf("A voice says: your code for %s is %s.", l.Facts.Name, spaced(code))
	}
	return a.keep(ctx, r.tx, id, r.now)
}

// spaced writes a code in groups of three, as it is read out, with spaces that
// no line is broken at.
func spaced(code string) string {
	out := ""
	for i, c := range code {
		if i > 0 && i%3 == 0 {
			out += "\u00a0"
		}
		out += string(c)
	}
	return out
}

type phone struct {
	landline bool
	hours    string
	zone     string
}

// phoneAt looks a number up; one that the world does not know takes
// everything at all times.
func phoneAt(r request, number string) (p phone, err error) {
	err = r.tx.QueryRow(r.Context(), "select landline, hours, zone from phone where number = $1", number).Scan(&p.landline, &p.hours, &p.zone)
	if err == pgx.ErrNoRows {
		return phone{}, nil
	}
	return p, err
}

func (p phone) answered(now time.Time) bool {
	if p.hours == "" {
		return true
	}
	s, _, err := hours.Parse(p.hours)
	zone, zoneErr := time.LoadLocation(p.zone)
	return err == nil && zoneErr == nil && s.In(zone, calendar.Holidays{}).Open(now)
}
