package httpapi

import (
	"context"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"uvent/desk/ledger"
	"uvent/desk/people"
)

// about is how a request names what it is about, for whoever sees only a part of it.
type about int

const (
	ofUs     about = iota // about what all share: nothing for those who see only a part
	ofAll                 // about nothing that is anybody's
	named                 // about what its path or its body names: clients, locations, photos, papers and what hangs on them
	ofScope               // about the client or the location in its query; without one, about all that one sees
	filtered              // about all; the answer leaves out what is not one's own
)

// rule is what a request takes.
type rule struct {
	need  people.Need
	about about
	too   bool // those of a client may, too
}

// rules are what each operation of the contract takes, by its operationId. One without a
// rule is refused to everybody.
var rules = func() map[string]rule {
	out := map[string]rule{}
	for _, g := range []struct {
		rule
		operations string
	}{
		{rule{people.Oneself, ofAll, true}, `getSession signOut getSessions endSession endSessions beginSecondFactor keepSecondFactor dropSecondFactor
			makeRecoveryCodes getPasskeys beginPasskey addPasskey dropPasskey changePassword getKeys makeKey endKey getFeeds makeFeed endFeed setDigest`},
		{rule{people.See, ofAll, true}, "getChanges getFacts getMap getDirectories getContract"},
		{rule{people.See, filtered, true}, "getClients"},
		{rule{people.See, named, true}, "getClient getLocation getRecordHistory getPhotoFile getListing getCase"},
		{rule{people.See, ofScope, true}, `getListings getToday getFolds getFolded getCoverage getDirectoryCounts getForecast getSpecialDates getDifferences
			getPhotos getCases getTodayRest`},
		{rule{people.Confirm, named, true}, "confirmRecord"},

		{rule{people.See, ofAll, false}, "getDraft getRegions getVersions getRulebookProblems readHours checkProse readPhone tagLinks reckonArea readArea"},
		{rule{people.See, filtered, false}, "getPeople"},
		{rule{people.See, named, false}, `getCopies getIntake mergeRecord getPlans getRemarks getPhotosZip getPaperFile getWorth getOwnValues tryOwnValue getPreview
			getSpoken getRisks getMatters countPeople getFit getWorksheet getClientLeaving getLocationLeaving readCopy getRound layOutCourse`},
		{rule{people.See, ofScope, false}, `exportLocations exportSpreadsheet getPapers getHandInFile exportOwnValues proposeRound getCourse
			getUndecided getAway getLetters`},
		{rule{people.See, ofUs, false}, `getImports getImport getImportRows getImportAlike getImportRest getImportRestSpreadsheet getAccounts getLooseNotices
			getConnections getWaiting`},

		{rule{people.Edit, ofAll, false}, "checkRulebook saveDraft dropDraft checkLinks"},
		{rule{people.Edit, named, false}, `acceptDifferences takeUpDifferences tellSighting
			saveClient addLocation saveLocation takeBack planChange dropPlan seeRecord leaveRecord putLocationAway bringLocationBack
			putClientAway bringClientBack removeLocation removeClient setOwnValue dropOwnValue holdOwnValue dropRemark decideDates undoChange
			savePhoto removePhoto restorePhoto savePaper removePaper restorePaper addVideo mendByPaper choose tickValues
			codeArrived seeFromOwner readFromStaff found answered openCase writeIntakeLetter lookAgain putOff takeUp
			noteMatters handMatters decideMatters reopenMatter putOffMatters takeUpMatters`},
		{rule{people.Edit, filtered, false}, "importOwnValues"},
		{rule{people.Edit, ofScope, false}, "addPhoto orderPhotos addPaper"},
		{rule{people.Edit, ofUs, false}, "addClient startImport editImport undoImportEdit applyImport takeImportBack sortNotice"},

		{rule{people.SendOut, named, false}, `askOwner searchDirectory claimListing createListing askCode enterCode askStatus stopAsking startRound stopRound
			sendDates
			setCourse unsetCourse tellDirectory settlePlace getHandover
			handBack keepYet endOwnerPages makeOwnerLink askOwners withdrawOwnerLink sendChanges reportDuplicate askAccess escalateAccess say
			setRole suggest withdrawListing withdrawMany bringListingBack dropCase appeal give givePhotos copyListing`},
		{rule{people.SendOut, ofScope, false}, "handedIn"},
		{rule{people.SendOut, ofUs, false}, `addAccount saveAccount dropAccount addDirectory saveDirectory addRegion addExtract dropRegion moveClock tryConnection
			sendLetterAgain putLetterAside`},
		{rule{people.Administer, ofUs, false}, `saveRole takeOver invite uninvite getLog exportLog getSecurity saveSecurity getAccess endAccess
			setCredential dropCredential`},
	} {
		for _, id := range strings.Fields(g.operations) {
			out[id] = g.rule
		}
	}
	return out
}()

// allowed decides whether somebody may ask for what a request asks for, as far as its path and its query tell; what its
// body names is looked at by reached. These are where that is decided.
func (s *Server) allowed(c *gin.Context, p people.Person) bool {
	r, known := s.ruleOf(c)
	switch {
	case c.FullPath() == "":
		return true // there is nothing there, which is told to everybody
	case !known:
		writeProblem(c, http.StatusForbidden, "Nobody may do this.", nil)
		return false
	case !p.May(r.need) || p.Client != nil && !r.too:
		s.Log.Warn("refused", "person", p.ID, "role", p.Role, "operation", s.contract.of(c).id)
		writeProblem(c, http.StatusForbidden, refusal(p, r.need), nil)
		return false
	case p.MustFactor && r.need != people.Oneself:
		writeProblem(c, http.StatusForbidden, "Set up a second factor first: your role asks for one.", nil)
		return false
	case !p.Limited() || r.about == ofAll || r.about == filtered:
		return true
	case r.about == ofUs:
		writeProblem(c, http.StatusForbidden, "You work for some clients; this is about all of them. Ask a colleague who sees all.", nil)
		return false
	}
	var o objects
	o.ofPath(c)
	if r.about == ofScope {
		for _, name := range []string{"client", "location"} {
			for _, value := range c.QueryArray(name) {
				o.take(name, value)
			}
		}
	}
	return s.reaches(c, p, o, r.about == named && s.contract.of(c).body == nil)
}

func (s *Server) ruleOf(c *gin.Context) (r rule, known bool) {
	if op := s.contract.of(c); op != nil {
		r, known = rules[op.id]
	}
	return r, known
}

// reached decides whether somebody who sees only a part reaches what the body of a request names, wherever in it that
// stands: clients, locations, photos, papers and matters are called so in every body.
func (s *Server) reached(c *gin.Context) {
	p, signedIn := c.Request.Context().Value(personKey{}).(people.Person)
	if !signedIn || !p.Limited() {
		return
	}
	r, _ := s.ruleOf(c)
	body, read := c.Get(bodyKey)
	if !read {
		return
	}
	var inPath, inBody objects
	inPath.ofPath(c)
	inBody.takeAll("", body)
	if !s.reaches(c, p, inBody, r.about == named && !inPath.names()) {
		c.Abort()
	}
}

// reaches answers whether somebody reaches objects, of which there has to be one where something has to be named. Who does
// not is told that there is no such thing.
func (s *Server) reaches(c *gin.Context, p people.Person, o objects, some bool) bool {
	ok := !o.wrong && (o.names() || !some)
	if ok {
		var err error
		if ok, err = s.Desk.People.Reaches(c.Request.Context(), p, o.clients, o.things); err != nil {
			s.fail(c, err)
			return false
		}
	}
	if !ok {
		writeProblem(c, http.StatusNotFound, "There is no such thing, or it is not yours.", nil)
	}
	return ok
}

// objects are what a request names, by their ids.
type objects struct {
	clients, things []uuid.UUID
	wrong           bool // one cannot be an id
}

func (o objects) names() bool { return len(o.clients)+len(o.things) > 0 }

// ofPath takes in what a path names; what else stands in one hangs on a location, or is one's own.
func (o *objects) ofPath(c *gin.Context) {
	for _, at := range c.Params {
		switch at.Key {
		case "client", "location", "photo", "paper", "link", "round", "batch", "change", "matter":
			o.take(at.Key, at.Value)
		}
	}
}

func (o *objects) take(name, value string) {
	switch id, err := uuid.Parse(value); {
	case err != nil:
		o.wrong = true
	case name == "client":
		o.clients = append(o.clients, id)
	default:
		o.things = append(o.things, id)
	}
}

// takeAll takes in what a value of a body names that stands under a key.
func (o *objects) takeAll(key string, value any) {
	switch v := value.(type) {
	case map[string]any:
		for k, one := range v {
			o.takeAll(k, one)
		}
	case []any:
		for _, one := range v {
			o.takeAll(key, one)
		}
	case string:
		for _, name := range []string{"client", "location", "photo", "paper", "matter"} {
			if _, err := uuid.Parse(v); err == nil && (strings.EqualFold(key, name) || strings.EqualFold(key, name+"s")) { // as Go reads keys
				o.take(name, v)
			}
		}
	}
}

// within is the scope that a request asks for, which is no wider than what whoever asks sees.
func within(ctx context.Context, client, location *uuid.UUID) ledger.Scope {
	s := ledger.Scope{Clients: person(ctx).Clients, Location: location}
	if client != nil {
		s.Clients = []uuid.UUID{*client}
	}
	return s
}

func refusal(p people.Person, n people.Need) string {
	who := map[people.Role]string{people.OfClient: "A client", people.Helper: "A helper", people.Specialist: "A specialist"}[p.Role]
	if p.Key != "" {
		who = "This key"
	}
	return who + " may not do this. " + map[people.Need]string{people.See: "It is for those who work here.", people.Edit: "It takes somebody who may edit.",
		people.SendOut: "It takes a specialist.", people.Administer: "It takes an administrator.", people.Oneself: "Sign in yourself."}[n]
}
