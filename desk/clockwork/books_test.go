package clockwork_test

import (
	"strings"
	"testing"

	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/e2e/rig"
)

// Where a directory's own interface is, which is sent records and our secret there, an administrator says, and it is noted.
func TestConnectorsAreAnAdministratorsToMove(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	sol, err := r.Desk.People.AddPerson(
		ctx,
		people.Person{Name: "Sol Tern", Email: "sol@agency.example", Zone: "Europe/London", Role: people.Specialist},
		rig.Password,
	)
	rig.Must(t, err)
	book, err := r.Desk.Shelf.Book("fernlook")
	rig.Must(t, err)
	moved := strings.Replace(book.Source, "outside:/fernlook/api", "https://elsewhere.example/api", 1)
	_, err = r.Desk.SaveRulebook(ctx, sol, "fernlook", moved)
	rig.Refused(t, err, problem.Forbidden, "only an administrator says")
	_, err = r.Desk.SaveRulebook(ctx, sol, "", strings.Replace(moved, "id: fernlook", "id: otherlook", 1))
	rig.Refused(t, err, problem.Forbidden, "only an administrator says")
	if now, err := r.Desk.Shelf.Book("fernlook"); err != nil || now.Connector.URL != book.Connector.URL {
		t.Errorf("it was moved: %s, %v", now.Connector.URL, err)
	}
	_, err = r.Desk.SaveRulebook(ctx, sol, "fernlook", strings.Replace(book.Source, "weight: 100", "weight: 99", 1))
	rig.Must(t, err)
	_, err = r.Desk.SaveRulebook(ctx, r.Who, "fernlook", moved)
	rig.Must(t, err)
	var noted int
	rig.Must(t, r.Store.Pool.QueryRow(ctx, "select count(*) from event where kind = 'connector_changed' and data::text like '%elsewhere.example%'").Scan(&noted))
	if noted != 1 {
		t.Errorf("noted %d times", noted)
	}
}
