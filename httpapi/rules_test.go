package httpapi_test

import (
	"io"
	"maps"
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/google/uuid"

	"uvent/core/fact/photo"
	"uvent/core/record/record"
	"uvent/demo/paint"
	"uvent/desk/boards"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/e2e/rig"
	"uvent/httpapi/api"
)

// What those of a client may ask for, and what takes a specialist or an administrator;
// written out, so that a rule that is changed is noticed.
var (
	forClients = strings.Fields(
		`endSessions makeRecoveryCodes getPasskeys beginPasskey addPasskey dropPasskey changePassword getSession signOut getSessions endSession beginSecondFactor keepSecondFactor dropSecondFactor getKeys makeKey endKey getFeeds makeFeed endFeed setDigest getTodayRest getChanges getFacts getMap getDirectories
		getContract getClients getClient getLocation getRecordHistory getPhotoFile getListing getCase getListings getToday getFolds getFolded getCoverage getDirectoryCounts getForecast getSpecialDates getDifferences getPhotos getCases confirmRecord`,
	)
	forSpecialists = strings.Fields(
		`askOwner searchDirectory claimListing createListing askCode enterCode askStatus stopAsking startRound stopRound sendDates setCourse unsetCourse tellDirectory settlePlace getHandover handBack keepYet endOwnerPages makeOwnerLink askOwners withdrawOwnerLink sendChanges reportDuplicate
		askAccess escalateAccess say setRole suggest withdrawListing withdrawMany bringListingBack dropCase appeal give givePhotos copyListing handedIn addAccount saveAccount dropAccount addDirectory saveDirectory addRegion addExtract dropRegion moveClock tryConnection sendLetterAgain putLetterAside`,
	)
	// What is about all clients: refused to whoever works for some.
	forAllClients = strings.Fields(
		`getImports getImport getImportRows getImportAlike getImportRest getImportRestSpreadsheet startImport editImport undoImportEdit applyImport takeImportBack
		getAccounts addAccount saveAccount dropAccount getLooseNotices sortNotice addClient addDirectory saveDirectory addRegion addExtract dropRegion moveClock
		getConnections getWaiting tryConnection sendLetterAgain putLetterAside`,
	)
	forAdministrators = strings.Fields(
		"saveRole takeOver invite uninvite getLog exportLog getSecurity saveSecurity getAccess endAccess setCredential dropCredential",
	)
)

// Every operation of the contract, asked for by each role, about what is theirs and what is
// another's: each answer is as the lists above say, and tells those of a client nothing of
// another.
func TestWhoMayDoWhat(t *testing.T) {
	r := rig.Start(t)
	ctx, who := t.Context(), r.Who.Actor()
	const secret, kept = "Quillfeather", "Hushwood Holdings" // what a directory shows to whoever searches there for their work, and what none does
	mine, theirs := r.Add(t, rig.Shop("Minnow Bay")), r.Add(t, func() record.Record { s := rig.Shop("Fennick"); s.Name, s.LegalName = secret, kept; return s }())
	r.Held(t, theirs)
	front, err := photo.Encode(paint.Front(600, 600, secret, "18", paint.Bicycles, 1), photo.JPEG)
	rig.Must(t, err)
	ids := map[string]string{}
	clients := map[ledger.Place]uuid.UUID{}
	for name, at := range map[string]ledger.Place{"mine": mine, "theirs": theirs} {
		l, err := r.Desk.Ledger.Location(ctx, at.Location)
		rig.Must(t, err)
		scope := ledger.Scope{Location: &at.Location}
		logo, err := r.Desk.Files.AddPhoto(ctx, who, scope, files.PhotoFacts{Group: "logo"}, "logo.jpg", front)
		rig.Must(t, err)
		paper, err := r.Desk.Files.AddPaper(ctx, who, scope, map[string]string{"mine": "bill", "theirs": kept}[name]+".pdf", paint.Letter("Bill", name))
		rig.Must(t, err)
		clients[at] = l.ClientID
		ids[name+" client"], ids[name+" location"], ids[name+" photo"], ids[name+" paper"] = l.ClientID.String(), at.Location.String(), logo.ID.String(), paper.ID.String()
	}
	base := r.Serve(t)
	spec := newClient(t, base).spec
	of := clients[mine]
	third := r.Add(t, rig.Shop("Port Sable"))
	l, err := r.Desk.Ledger.Location(ctx, third.Location)
	rig.Must(t, err)
	for _, role := range []people.Person{
		{Name: "Ada", Role: people.Administrator},
		{Name: "Sol", Role: people.Specialist},
		{Name: "Hob", Role: people.Helper},
		{Name: "Oda", Role: people.OfClient, Client: &of},
		{Name: "Lim", Role: people.Specialist, Clients: []uuid.UUID{of, l.ClientID}},
		{Name: "Hal", Role: people.Helper, Clients: []uuid.UUID{of}},
	} {
		limited := role.Client != nil || role.Clients != nil
		role.Email, role.Zone = strings.ToLower(role.Name)+"@agency.example", "America/Los_Angeles"
		_, err := r.Desk.People.AddPerson(ctx, role, rig.Password)
		rig.Must(t, err)
		c := newClient(t, base)
		c.want(http.StatusOK, http.MethodPost, "/api/session", map[string]string{"email": role.Email, "password": rig.Password}, nil)
		ask := func(method, path string) (int, string) {
			req, err := http.NewRequest(method, base+path, strings.NewReader("{}"))
			rig.Must(t, err)
			req.Header.Set("Content-Type", "application/json")
			resp, err := c.http.Do(req)
			rig.Must(t, err)
			defer resp.Body.Close()
			if strings.HasPrefix(resp.Header.Get("Content-Type"), "text/event-stream") {
				return resp.StatusCode, ""
			}
			body, err := io.ReadAll(resp.Body)
			rig.Must(t, err)
			return resp.StatusCode, string(body)
		}
		for path, item := range spec.Paths.Map() {
			for method, op := range item.Operations() {
				id := strings.ToLower(op.OperationID[:1]) + op.OperationID[1:]
				if op.Security != nil && len(*op.Security) == 0 || id == "signOut" || id == "endSessions" {
					continue
				}
				allowed := map[people.Role]bool{
					people.Administrator: true,
					people.Specialist:    !slices.Contains(forAdministrators, id),
					people.Helper:        !slices.Contains(forAdministrators, id) && !slices.Contains(forSpecialists, id),
					people.OfClient:      slices.Contains(forClients, id),
				}[role.Role] && (role.Clients == nil || !slices.Contains(forAllClients, id))
				for _, whose := range []string{"mine", "theirs"} {
					if whose == "theirs" && !limited {
						continue // nothing is another's to them, and they could put it away
					}
					filled := strings.NewReplacer(
						"{client}",
						ids[whose+" client"],
						"{location}",
						ids[whose+" location"],
						"{photo}",
						ids[whose+" photo"],
						"{paper}",
						ids[whose+" paper"],
						"{directory}",
						"fernlook",
						"{copy}",
						"small",
						"{case}",
						"1",
						"{person}",
						uuid.NewString(),
						"{invitation}",
						uuid.NewString(),
						"{passkey}",
						uuid.NewString(),
						"{key}",
						uuid.NewString(),
						"{session}",
						"none",
						"{notice}",
						"none",
						"{round}",
						uuid.NewString(),
						"{batch}",
						uuid.NewString(),
						"{link}",
						uuid.NewString(),
						"{import}",
						uuid.NewString(),
						"{remark}",
						uuid.NewString(),
						"{change}",
						uuid.NewString(),
						"{attempt}",
						"none",
						"{saved}",
						"1",
						"{region}",
						uuid.NewString(),
						"{plan}",
						uuid.NewString(),
						"{window}",
						uuid.NewString(),
						"{subject}",
						"new%20client",
						"{format}",
						"jsonld",
						"{account}",
						uuid.NewString(),
						"{feed}",
						uuid.NewString(),
						"{matter}",
						uuid.NewString(),
					).Replace(path)
					paths := []string{filled}
					if op.Parameters.GetByInAndName("query", "client") != nil || item.Parameters.GetByInAndName("query", "client") != nil {
						paths = append(paths, filled+"?client="+ids[whose+" client"], filled+"?location="+ids[whose+" location"])
					}
					for _, p := range paths {
						status, body := ask(method, p)
						switch foreign := whose == "theirs" && p != path; {
						case !allowed && status != http.StatusForbidden:
							t.Errorf("%s: %s %s answers %d", role.Role, method, p, status)
						case allowed && (status == http.StatusForbidden || status == http.StatusUnauthorized):
							t.Errorf("%s: %s %s is refused: %s", role.Role, method, p, body)
						case limited && allowed && foreign && namesOne(p, ids, "theirs") && status != http.StatusNotFound:
							t.Errorf("%s, of another client: %s %s answers %d", role.Name, method, p, status)
						}
						if limited &&
							(role.Client != nil && strings.Contains(body, secret) || strings.Contains(body, kept) || strings.Contains(body, ids["theirs location"]) || strings.Contains(body, ids["theirs client"])) {
							t.Errorf("%s, of another client: %s %s tells of it: %.300s", role.Name, method, p, body)
						}
					}
				}
			}
		}
	}
}

// namesOne reports whether a path names something of whom it says.
func namesOne(path string, ids map[string]string, whose string) bool {
	for name, id := range ids {
		if strings.HasPrefix(name, whose) && strings.Contains(path, id) {
			return true
		}
	}
	return false
}

// Whoever works for some clients cannot name what is another's in a body either, however its keys are written.
func TestWhatABodyNamesIsReached(t *testing.T) {
	r := rig.Start(t)
	ctx := t.Context()
	mine, theirs := r.Add(t, rig.Shop("Minnow Bay")), r.Add(t, rig.Shop("Fennick"))
	l, err := r.Desk.Ledger.Location(ctx, mine.Location)
	rig.Must(t, err)
	_, err = r.Desk.People.AddPerson(
		ctx,
		people.Person{Name: "Lim", Email: "lim@agency.example", Zone: "America/Los_Angeles", Role: people.Specialist, Clients: []uuid.UUID{l.ClientID}},
		rig.Password,
	)
	rig.Must(t, err)
	paper, err := r.Desk.Files.AddPaper(ctx, r.Who.Actor(), ledger.Scope{Location: &theirs.Location}, "bill.pdf", paint.Letter("Bill", "7"))
	rig.Must(t, err)
	c := newClient(t, r.Serve(t))
	c.want(http.StatusOK, http.MethodPost, "/api/session", map[string]string{"email": "lim@agency.example", "password": rig.Password}, nil)

	today, err := rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{}))
	rig.Must(t, err)
	ours, another := today[0].Matter.ID.String(), today[1].Matter.ID.String()
	if today[0].Location.ID != mine.Location {
		ours, another = another, ours
	}
	m, o, day := mine.Location.String(), theirs.Location.String(), map[string]string{"from": "2031-03-04", "to": "2031-03-04"}
	dates := func(more map[string]any) map[string]any {
		body := map[string]any{"locations": []string{m}, "dates": []any{day}, "usual": false, "sittings": []any{}}
		maps.Copy(body, more)
		return body
	}
	turn := func(ids ...string) map[string]any {
		return map[string]any{"locations": ids, "state": map[string]string{"kind": "closed_for_a_time", "until": "2031-03-04"}}
	}
	chosen := func(id string) map[string]any {
		return map[string]any{"location": id, "directory": "fernlook", "wanted": true}
	}
	mending := map[string]any{"paper": paper.ID.String(), "fact": "unit"}
	for _, one := range []struct {
		path  string
		body  map[string]any
		wants int
	}{
		{"/api/special-dates", dates(nil), http.StatusOK},
		{"/api/special-dates", dates(map[string]any{"locations": []string{m, o}}), http.StatusNotFound},
		{"/api/special-dates", dates(map[string]any{"LOCATIONS": []string{o}}), http.StatusNotFound},
		{"/api/special-dates", dates(map[string]any{"locationſ": []string{strings.ToUpper(o)}}), http.StatusNotFound}, // as Go folds it
		{"/api/special-dates", dates(map[string]any{"locations": []string{}}), http.StatusNotFound},
		{"/api/choices", map[string]any{"choices": []any{chosen(m)}}, http.StatusOK},
		{"/api/choices", map[string]any{"choices": []any{chosen(m), chosen(o)}}, http.StatusNotFound},
		{"/api/course-layouts", turn(m), http.StatusOK},
		{"/api/course-layouts", turn(m, o), http.StatusNotFound},
		{"/api/courses", turn(o), http.StatusNotFound},
		{"/api/rounds", map[string]any{"what": "search", "items": []any{map[string]string{"location": o, "directory": "fernlook", "method": ""}}}, http.StatusNotFound},
		{"/api/locations/" + m + "/mendings", mending, http.StatusNotFound},
		{"/api/matters/notes", map[string]any{"matters": []string{ours}, "says": "So."}, http.StatusNoContent},
		{"/api/matters/notes", map[string]any{"matters": []string{ours, another}, "says": "So."}, http.StatusNotFound},
		{"/api/rulebook-checks", map[string]any{"text": "id: new", "location": m}, http.StatusOK},
		{"/api/rulebook-checks", map[string]any{"text": "id: new", "location": o}, http.StatusNotFound},
		{"/api/clients/" + l.ClientID.String() + "/locations", map[string]any{}, http.StatusUnprocessableEntity},
	} {
		c.want(one.wants, http.MethodPost, one.path, one.body, nil)
	}
	saved, err := r.Desk.Ledger.Location(ctx, theirs.Location)
	if err != nil || saved.Version != 1 {
		t.Errorf("it was changed: %+v, %v", saved, err)
	}
}

// Whatever a body names by an id it names as the gate looks for it; but for what is about people, windows and what a handler
// holds against its own scope.
func TestBodiesNameThingsAsTheGateLooksForThem(t *testing.T) {
	spec, err := api.GetSpec()
	rig.Must(t, err)
	var ids func(s *openapi3.SchemaRef, name string, deep int) []string
	ids = func(s *openapi3.SchemaRef, name string, deep int) (out []string) {
		if s == nil || deep > 8 {
			return nil
		}
		if s.Value.Format == "uuid" {
			out = append(out, name)
		}
		for k, p := range s.Value.Properties {
			out = append(out, ids(p, k, deep+1)...)
		}
		for _, all := range s.Value.AllOf {
			out = append(out, ids(all, name, deep+1)...)
		}
		return append(out, ids(s.Value.Items, name, deep+1)...)
	}
	known := strings.Fields("client clients location locations photo photos paper papers matter matters")
	held := strings.Fields("TakeOver.to HandMatters.to AddAccount.person SaveAccount.person TickValues.window OrderPhotos.")
	for _, item := range spec.Paths.Map() {
		for _, op := range item.Operations() {
			if op.RequestBody == nil {
				continue
			}
			for _, media := range op.RequestBody.Value.Content {
				for _, name := range ids(media.Schema, "", 0) {
					if !slices.Contains(known, name) && !slices.Contains(held, op.OperationID+"."+name) {
						t.Errorf("the gate does not look at %q of %s", name, op.OperationID)
					}
				}
			}
		}
	}
}
