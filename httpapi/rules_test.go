package httpapi_test

import (
	"io"
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"

	"uvent/core/fact/photo"
	"uvent/core/record/record"
	"uvent/demo/paint"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/e2e/rig"
)

// What those of a client may ask for, and what takes a specialist or an administrator;
// written out, so that a rule that is changed is noticed.
var (
	forClients = strings.Fields(
		`endSessions makeRecoveryCodes getPasskeys beginPasskey addPasskey dropPasskey changePassword getSession signOut getSessions endSession beginSecondFactor keepSecondFactor dropSecondFactor getKeys makeKey endKey getFeeds makeFeed endFeed setDigest getTodayRest getChanges getFacts getMap getDirectories
		getContract getClients getClient getLocation getRecordHistory getPhotoFile getListing getCase getListings getToday getCoverage getDirectoryCounts getForecast getSpecialDates getPhotos getCases confirmRecord`,
	)
	forSpecialists = strings.Fields(
		`askOwner searchDirectory claimListing createListing askCode enterCode askStatus startRound stopRound setCourse unsetCourse tellDirectory makeOwnerLink withdrawOwnerLink sendChanges reportDuplicate
		askAccess escalateAccess say setRole suggest withdrawListing bringListingBack dropCase appeal give givePhotos copyListing handedIn addAccount saveAccount dropAccount addDirectory saveDirectory addRegion addExtract dropRegion moveClock`,
	)
	forAdministrators = strings.Fields("saveRole takeOver invite uninvite getLog exportLog getSecurity saveSecurity getAccess endAccess")
)

// Every operation of the contract, asked for by each role, about what is theirs and what is
// another's: each answer is as the lists above say, and tells those of a client nothing of
// another.
func TestWhoMayDoWhat(t *testing.T) {
	r := rig.Start(t)
	ctx, who := t.Context(), r.Who.Actor()
	const secret = "Quillfeather"
	mine, theirs := r.Add(t, rig.Shop("Minnow Bay")), r.Add(t, func() record.Record { s := rig.Shop("Fennick"); s.Name = secret; return s }())
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
		paper, err := r.Desk.Files.AddPaper(ctx, who, scope, map[string]string{"mine": "bill", "theirs": secret}[name]+".pdf", paint.Letter("Bill", name))
		rig.Must(t, err)
		clients[at] = l.ClientID
		ids[name+" client"], ids[name+" location"], ids[name+" photo"], ids[name+" paper"] = l.ClientID.String(), at.Location.String(), logo.ID.String(), paper.ID.String()
	}
	base := r.Serve(t)
	spec := newClient(t, base).spec
	of := clients[mine]
	for _, role := range []people.Person{{Name: "Ada", Role: people.Administrator}, {Name: "Sol", Role: people.Specialist}, {Name: "Hob", Role: people.Helper}, {Name: "Oda", Role: people.OfClient, Client: &of}} {
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
				}[role.Role]
				for _, whose := range []string{"mine", "theirs"} {
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
						case role.Role == people.OfClient && allowed && foreign && strings.Contains(p, ids["theirs location"][:8]) && status != http.StatusNotFound:
							t.Errorf("of another client: %s %s answers %d", method, p, status)
						}
						if role.Role == people.OfClient &&
							(strings.Contains(body, secret) || strings.Contains(body, ids["theirs location"]) || strings.Contains(body, ids["theirs client"])) {
							t.Errorf("of another client: %s %s tells of it: %.200s", method, p, body)
						}
					}
				}
			}
		}
	}
}
