package httpapi

import (
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"uvent/desk/people"
)

// about is how a request names what it is about, for whoever sees only a part of it.
type about int

const (
	ofUs     about = iota // about all: nothing for those of a client
	ofAll                 // about nothing that is anybody's
	ofPath                // about a client, a location, a photo or a paper in its path
	ofScope               // about the client or the location in its query; without one, about one's own client
	filtered              // about all; the answer leaves out what is not one's own
)

// rule is what a request takes.
type rule struct {
	need  people.Need
	about about
}

// rules are what each operation of the contract takes, by its operationId. One without a
// rule is refused to everybody.
var rules = func() map[string]rule {
	out := map[string]rule{}
	for _, g := range []struct {
		rule
		operations string
	}{
		{rule{people.Oneself, ofAll}, "getSession signOut getSessions endSession endSessions beginSecondFactor keepSecondFactor dropSecondFactor makeRecoveryCodes " +
			"getPasskeys beginPasskey addPasskey dropPasskey changePassword getKeys makeKey endKey " +
			"getFeeds makeFeed endFeed setDigest"},
		{rule{people.See, ofAll}, "getChanges getFacts getMap getDirectories getContract"},
		{rule{people.See, filtered}, "getClients"},
		{rule{people.See, ofPath}, "getClient getLocation getRecordHistory getPhotoFile getListing getCase"},
		{rule{people.See, ofScope}, "getListings getToday getCoverage getDirectoryCounts getForecast getSpecialDates getPhotos getCases getTodayRest"},
		{rule{people.Confirm, ofPath}, "confirmRecord"},
		{rule{people.See, ofUs}, `getCopies getIntake mergeRecord getPlans exportLocations exportSpreadsheet getImports getImport getImportRows getImportAlike
			getImportRest
			getImportRestSpreadsheet getRemarks getDraft getPhotosZip getPapers
			getPaperFile getRegions getVersions getHandInFile getRulebookProblems getWorth getAccounts getUndecided
			exportOwnValues getOwnValues tryOwnValue getPreview
			proposeRound getRound getCourse layOutCourse getSpoken getRisks getLooseNotices countPeople getFit getWorksheet
			getPeople getAway getClientLeaving getLocationLeaving readHours checkProse readPhone tagLinks reckonArea readArea readCopy`},
		{rule{people.Edit, ofUs}, `checkRulebook addClient saveClient addLocation saveLocation takeBack planChange dropPlan seeRecord leaveRecord saveDraft
			dropDraft putLocationAway bringLocationBack putClientAway bringClientBack
			removeLocation removeClient startImport editImport undoImportEdit applyImport takeImportBack
			setOwnValue dropOwnValue holdOwnValue importOwnValues dropRemark decideDates undoChange addPhoto orderPhotos savePhoto removePhoto
			restorePhoto addPaper savePaper removePaper restorePaper checkLinks addVideo mendByPaper choose tickValues
			codeArrived found answered sortNotice openCase writeIntakeLetter lookAgain putOff takeUp`},
		{rule{people.SendOut, ofUs}, `askOwner searchDirectory claimListing createListing askCode enterCode askStatus startRound stopRound setCourse
			unsetCourse tellDirectory makeOwnerLink withdrawOwnerLink sendChanges reportDuplicate askAccess escalateAccess say
			setRole suggest withdrawListing bringListingBack dropCase appeal give givePhotos copyListing handedIn addAccount
			saveAccount dropAccount addDirectory saveDirectory addRegion addExtract dropRegion moveClock`},
		{rule{people.Administer, ofUs}, "saveRole takeOver invite uninvite getLog exportLog getSecurity saveSecurity getAccess endAccess"},
	} {
		for _, id := range strings.Fields(g.operations) {
			out[id] = g.rule
		}
	}
	return out
}()

// allowed decides whether somebody may ask for what a request asks for. It is the one
// place where that is decided. A request about nothing is narrowed to one's own client.
func (s *Server) allowed(c *gin.Context, p people.Person) bool {
	var r rule
	known := false
	if op := s.contract.of(c); op != nil {
		r, known = rules[op.id]
	}
	switch {
	case c.FullPath() == "":
		return true // there is nothing there, which is told to everybody
	case !known:
		writeProblem(c, http.StatusForbidden, "Nobody may do this.", nil)
		return false
	case !p.May(r.need):
		writeProblem(c, http.StatusForbidden, refusal(p, r.need), nil)
		return false
	case p.MustFactor && r.need != people.Oneself:
		writeProblem(c, http.StatusForbidden, "Set up a second factor first: your role asks for one.", nil)
		return false
	case p.Client == nil || r.about == ofAll || r.about == filtered:
		return true
	case r.about == ofUs:
		writeProblem(c, http.StatusForbidden, refusal(p, r.need), nil)
		return false
	}
	object, ok := objectOf(c, r.about)
	if ok && object == (people.Object{}) {
		if ok = r.about == ofScope; ok {
			q := c.Request.URL.Query()
			q.Set("client", p.Client.String())
			c.Request.URL.RawQuery = q.Encode()
		}
	}
	if ok {
		reaches, err := s.Desk.People.Reaches(c.Request.Context(), p, object)
		if err != nil {
			s.fail(c, err)
			return false
		}
		ok = reaches
	}
	if !ok {
		writeProblem(c, http.StatusNotFound, "There is no such thing, or it is not yours.", nil)
	}
	return ok
}

func refusal(p people.Person, n people.Need) string {
	who := map[people.Role]string{people.OfClient: "A client", people.Helper: "A helper", people.Specialist: "A specialist"}[p.Role]
	if p.Key != "" {
		who = "This key"
	}
	return who + " may not do this. " + map[people.Need]string{people.See: "It is for those who work here.", people.Edit: "It takes somebody who may edit.",
		people.SendOut: "It takes a specialist.", people.Administer: "It takes an administrator.", people.Oneself: "Sign in yourself."}[n]
}

// objectOf reads what a request is about; false where an id cannot be one.
func objectOf(c *gin.Context, where about) (o people.Object, ok bool) {
	for name, into := range map[string]**uuid.UUID{"client": &o.Client, "location": &o.Location, "photo": &o.Photo, "paper": &o.Paper} {
		text := c.Param(name)
		if where == ofScope {
			text = c.Query(name)
		}
		if text == "" {
			continue
		}
		id, err := uuid.Parse(text)
		if err != nil {
			return o, false
		}
		*into = &id
	}
	return o, true
}
