//go:build proofs

package e2e

import (
	"maps"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"uvent/e2e/proof"
	"uvent/e2e/rig"
)

// left is what each story leaves, once it has settled: of a kind of event, or of what a query counts, so many, by operations
// of the contract.
type left struct {
	what string
	each int
	by   string
}

// What a story leaves, whoever is killed meanwhile. An event of a kind that is not here is one too many.
var leaves = []left{
	{"client_added", 2, "AddClient"},
	{"client_saved", 1, "SaveClient"},
	{"client_put_away", 1, "PutClientAway"},
	{"client_brought_back", 1, "BringClientBack"},
	{"client_removed", 1, "RemoveClient"},
	{"location_added", 3, "AddLocation ApplyImport"},
	{"location_put_away", 1, "PutLocationAway"},
	{"location_brought_back", 1, "BringLocationBack"},
	{"location_removed", 2, "RemoveLocation TakeImportBack"},
	{"record_saved", 11, "SaveLocation DecideDates UndoChange TakeBack MendByPaper SetCourse"},
	{"record_confirmed", 1, "ConfirmRecord"},
	{"change_planned", 4, "PlanChange SetCourse"},
	{"plan_dropped", 1, "DropPlan"},
	{"select count(*) from plan", 1, "DropPlan UnsetCourse"},
	{"select count(*) from draft", 1, "SaveDraft DropDraft"},
	{"select count(*) from presence", 0, "SeeRecord LeaveRecord"},
	{"chosen", 1, "Choose"},
	{"snoozed", 2, "PutOff PutOffMatters"},
	{"taken_up", 2, "TakeUp TakeUpMatters"},
	{"matter_noted", 1, "NoteMatters"},
	{"matter_handed", 1, "HandMatters"},
	{"decided_on", 1, "DecideMatters"},
	{"reopened_on", 1, "ReopenMatter"},
	{"select count(*) from snooze", 0, "TakeUp TakeUpMatters"},
	{"region_added", 2, "AddRegion AddExtract"},
	{"region_dropped", 2, "DropRegion"},
	{"intake_asked", 1, "AskOwner"},
	{"photo_added", 3, "AddPhoto"},
	{"photos_ordered", 1, "OrderPhotos"},
	{"photo_saved", 1, "SavePhoto"},
	{"photo_removed", 1, "RemovePhoto"},
	{"photo_restored", 1, "RestorePhoto"},
	{"paper_added", 5, "AddPaper AddVideo SendOwnerPaper SendOwnerVideo"},
	{"paper_saved", 1, "SavePaper"},
	{"paper_removed", 1, "RemovePaper"},
	{"paper_restored", 1, "RestorePaper"},

	{"invited", 5, "Invite"},
	{"uninvited", 1, "Uninvite"},
	{"joined", 2, "Join"},
	{"select count(*) from person where digest_minute = 450", 1, "SetDigest"},
	{"select count(*) - 1 from sessions", 0, "SignIn SignOut EndSession EndSessions"},
	{"key_made", 1, "MakeKey"},
	{"key_ended", 1, "EndKey"},
	{"feed_made", 1, "MakeFeed"},
	{"feed_ended", 1, "EndFeed"},
	{"second_factor_set", 1, "BeginSecondFactor KeepSecondFactor"},
	{"recovery_codes_made", 1, "MakeRecoveryCodes"},
	{"second_factor_dropped", 1, "DropSecondFactor"},
	{"password_changed", 1, "ChangePassword"},
	{"reset_asked", 1, "AskReset"},
	{"password_reset", 1, "Reset"},
	{"role_changed", 1, "SaveRole"},
	{"roles_secured", 1, "SaveSecurity"},
	{"taken_over", 1, "TakeOver"},
	{"access_ended", 1, "EndAccess"},
	{"select count(*) from account", 0, "AddAccount SaveAccount DropAccount"},

	{"select count(*) from import where state = 'ready' and applied_at is null", 1, "StartImport ApplyImport TakeImportBack"},
	{"select coalesce(sum(jsonb_array_length(edits)), 0) from import", 0, "EditImport UndoImportEdit"},
	{"select count(*) from remark", 0, "DropRemark"},

	{"select count(*) from rulebook", 2, "AddDirectory SaveDirectory"},
	{"connector_changed", 1, "AddDirectory"},
	{"credential_set", 1, "SetCredential"},
	{"credential_dropped", 1, "DropCredential"},
	{"select count(*) from call where given_up <> ''", 1, "SearchDirectory StopAsking TryConnection"},
	{"call_given_up", 1, "StopAsking"},
	{"select count(*) from event where kind = 'search_asked' and directory_id <> 'guildbench'", 8, "SearchDirectory"},
	{"select count(*) from event where kind = 'searched' and directory_id <> 'guildbench'", 10, "SearchDirectory Found"},
	{"select count(*) from round where stopped_at is not null", 1, "StartRound StopRound"},
	{"create_asked", 4, "CreateListing"},
	{"created", 4, "CreateListing"},
	{"claim_asked", 2, "ClaimListing"},
	{"claim_granted", 1, "ClaimListing"},
	{"claim_refused", 1, "ClaimListing"},
	{"access_asked", 1, "AskAccess"},
	{"access_begun", 1, "AskAccess"},
	{"copy_asked", 1, "CopyListing"},
	{"copied", 1, "CopyListing"},
	{"duplicate_asked", 1, "ReportDuplicate"},
	{"duplicate_begun", 1, "ReportDuplicate"},
	{"code_asked", 3, "AskCode"},
	{"code_sent", 3, "AskCode"},
	{"review_asked", 2, "AskCode PayAsOwner"},
	{"review_begun", 1, "AskCode"},
	{"still_in_review", 1, "AskStatus"},
	{"code_arrived", 1, "CodeArrived"},
	{"code_entered", 4, "EnterCode TypeOwnerCode"},
	{"code_refused", 1, "EnterCode"},
	{"code_accepted", 3, "EnterCode TypeOwnerCode"},
	{"send_asked", 1, "SendChanges"},
	{"photos_asked", 1, "GivePhotos"},
	{"photos_given", 1, "GivePhotos"},
	{"withdraw_asked", 3, "WithdrawListing SetCourse"},
	{"withdrawn_there", 3, "WithdrawListing SetCourse"},
	{"mark_asked", 3, "SetCourse"},
	{"marked_there", 3, "SetCourse"},
	{"back_asked", 1, "BringListingBack"},
	{"back_there", 1, "BringListingBack"},
	{"say_asked", 1, "Say"},
	{"said_there", 1, "Say"},
	{"suggest_asked", 1, "Suggest"},
	{"role_asked", 1, "SetRole"},
	{"role_given", 1, "SetRole"},
	{"suspended_there", 2, "OpenCase"},
	{"case_dropped", 1, "DropCase"},
	{"appeal_asked", 1, "Appeal"},
	{"appeal_begun", 1, "Appeal"},
	{"own_set", 3, "SetOwnValue HoldOwnValue ImportOwnValues"},
	{"own_dropped", 1, "DropOwnValue"},
	{"given", 3, "Give HandedIn"},
	{"seen_public", 1, "Answered"},
	{"told_there", 1, "TellDirectory"},
	{"handed_back", 1, "HandBack"},
	{"kept_yet", 1, "KeepYet"},
	{"same_place", 1, "SettlePlace"},
	{"select count(*) from worksheet", 1, "TickValues"},

	{"review_passed", 1, "PayAsOwner"},
	{"link_made", 6, "MakeOwnerLink AskOwners PayAsOwner"},
	{"link_withdrawn", 2, "WithdrawOwnerLink EndOwnerPages"},
	{"owner_sent", 3, "SendOwnerPaper SendOwnerVideo"},
	{"owner_said", 1, "SayAsOwner"},
	{"owner_seen", 1, "SeeFromOwner"},
	{"call_chosen", 1, "ChooseOwnerTime"},
	{"letter_again", 1, "SendLetterAgain"},
	{"letter_refused", 2, "Invite"},
	{"select count(*) from letter where aside", 2, "SendLetterAgain PutLetterAside"},
	{"select count(*) from notice where put_aside", 1, "SortNotice"},

	// What is outside, as it is there.
	{"select count(*) from outside.verification", 5, "AskCode"},
	{"select count(*) from outside.listing", 8, "CreateListing CopyListing"},
	{"select count(*) from outside.request", 4, "AskAccess Appeal Suggest ReportDuplicate"},
	{"select count(*) from outside.said", 1, "Say"},
	{"select count(*) from outside.role", 1, "SetRole"},
	{"select count(*) from outside.photo", 2, "GivePhotos"},
	{"select count(*) from letter where state = 'taken'", 19, "Invite AskOwner MakeOwnerLink AskOwners AskReset"},
}

// changeNothing but answer.
const changeNothing = `ReckonArea ReadArea ReadHours ReadPhone CheckProse CheckLinks TagLinks CheckRulebook LayOutCourse WriteIntakeLetter ReadCopy MergeRecord
	TryOwnValue LookAgain ReadFromStaff BeginPasskey BeginPasskeySignIn`

// Operations that no story gives, and why.
var spared = map[string]string{
	"AddPasskey":        "takes a device that signs; in a browser it has one",
	"SignInWithPasskey": "takes a device that signs",
	"DropPasskey":       "there is none to be dropped",
	"MoveClock":         "moves the clock of all stories; it is moved once they have ended",
	"WithdrawMany":      "is WithdrawListing for each of several, and is not waited for",
	"EscalateAccess":    "takes days; it is given once they have gone by",
	"AcceptDifferences": "takes a page that differs; those of the stories show what they were given",
	"SendDates":         "takes a page that shows other hours than hold; it is a round, as StartRound begins",
	"TakeUpDifferences": "takes a difference that was accepted",
	"TellSighting":      "lies over what looks see, which come as it happens",
}

// Kinds of event that come as often as it happens: what a page was seen to be, who opened one, and what was not answered.
var asItHappens = strings.Fields("not_seen link_opened call_unanswered search_asked searched sent")

// number is what a query counts.
func (b *battered) number(query string) int {
	n, err := strconv.Atoi(b.one("select (" + query + ")::text"))
	rig.Must(b.t, err)
	return n
}

// settled waits until nothing is under way, and holds what there is against what the stories leave.
func (b *battered) settled(stories []*story) {
	b.t.Helper()
	const under = `select (select count(*) from letter where state = 'queued') + (select count(*) from call where done_at is null and given_up = '')
		+ (select count(*) from river_job where state in ('available', 'running', 'retryable') and kind <> 'tick')`
	for end := time.Now().Add(3 * time.Minute); b.number(under) != 0 && time.Now().Before(end); {
		time.Sleep(200 * time.Millisecond)
	}
	kinds := map[string]int{}
	for _, row := range b.all("select kind || ' ' || count(*) from event group by kind") {
		kind, n, _ := strings.Cut(row, " ")
		kinds[kind], _ = strconv.Atoi(n)
	}
	b.post.mu.Lock()
	if came, taken := len(b.post.taken), b.number("select count(*) from letter where state = 'taken'"); came != taken {
		b.t.Errorf("%d letters came, and %d are said to be taken", came, taken)
	}
	b.post.mu.Unlock()
	by := map[string]bool{}
	for _, l := range leaves {
		got := kinds[l.what]
		if strings.Contains(l.what, " ") {
			got = b.number(l.what)
		}
		if want := l.each * len(stories); got != want {
			b.t.Errorf("%s: %d of %d stories, and there should be %d", l.what, got, len(stories), want)
		}
		delete(kinds, l.what)
		for _, op := range strings.Fields(l.by) {
			by[op] = true
		}
	}
	for _, kind := range slices.Sorted(maps.Keys(kinds)) {
		if !slices.Contains(asItHappens, kind) {
			b.t.Errorf("nobody should have left %q, and it is there %d times", kind, kinds[kind])
		}
	}
	for _, v := range b.verbs {
		_, out := spared[v.id]
		known := by[v.id] || slices.Contains(strings.Fields(changeNothing), v.id)
		switch n := b.done[v.id]; {
		case !v.changes:
		case out && (known || n > 0):
			b.t.Errorf("%s is given, and need not be spared", v.id)
		case !out && !known:
			b.t.Errorf("nobody says what %s leaves", v.id)
		case !out && (n < len(stories)):
			b.t.Errorf("%s was given %d times by %d stories", v.id, n, len(stories))
		}
	}
}

// later is what is done days after the stories.
func (b *battered) later(stories []*story) {
	const days = 12
	was := time.Now().Add(time.Duration(b.number("select ahead from outside.clock")) * time.Microsecond)
	for day := range days { // to a day: one that is killed in the middle of a move leaves the clock between two
		b.ines.posts("/api/clock/moves", said{"to": was.AddDate(0, 0, day+1)})
	}
	asked := 0
	for _, s := range stories {
		var l struct {
			Access *struct {
				Step string
				May  bool `json:"can_escalate"`
			}
		}
		if s.does(http.MethodGet, s.at("candourbox"), nil, &l); l.Access != nil && l.Access.May {
			s.asks(http.MethodPost, s.at("candourbox"), "/escalation", nil)
			asked++
		}
	}
	for _, kind := range []string{"escalate_asked", "escalate_begun"} {
		if n := b.number("select count(*) from event where kind = '" + kind + "'"); n != asked {
			b.t.Errorf("%s: %d, and it was asked for %d times", kind, n, asked)
		}
	}
	proof.Count(b.t, "%d of %d listings were put before the directory's people, after %d days", asked, len(stories), days)
	if told := b.commanded("log", "replay", "--check"); !strings.Contains(told, "nothing differs") {
		b.t.Errorf("replaying the log says %q", told)
	}
	b.commanded("log", "verify")
}
