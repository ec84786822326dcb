package outside_test

import (
	"context"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"
	"uvent/core/rule/reading"

	"github.com/wneessen/go-mail"

	"uvent/outside/visit"
	"uvent/reach"
	"uvent/store/storetest"
)

func TestARequestSentAgainIsAnsweredAsBefore(t *testing.T) {
	w := start(t)
	_, first := w.ask("POST", "/listings", "key-1", shop)
	_, again := w.ask("POST", "/listings", "key-1", shop)
	if first.Ref == "" || first.Ref != again.Ref {
		t.Errorf("the same key made %q and %q", first.Ref, again.Ref)
	}
	_, another := w.ask("POST", "/listings", "key-2", shop)
	if another.Ref == first.Ref {
		t.Error("another key made nothing new")
	}
	if status, a := w.ask("POST", "/listings", "key-1", visit.Facts{"name": "Another"}); status != http.StatusUnprocessableEntity || a.Code != "key_reused" {
		t.Errorf("a key used for another request answers %d, %+v", status, a)
	}
	var both sync.WaitGroup
	refs := make([]string, 8)
	for i := range refs {
		both.Go(func() { _, a := w.ask("POST", "/listings", "key-3", shop); refs[i] = a.Ref })
	}
	both.Wait()
	for _, ref := range refs {
		if ref != refs[0] {
			t.Errorf("at once the same key made %v", refs)
		}
	}
	if listings, _, err := w.Count(t.Context()); err != nil || listings != 3 {
		t.Errorf("%d listings, %v", listings, err)
	}
}

func TestWhoMayDoWhat(t *testing.T) {
	w := start(t)
	ref := w.created()
	w.account = "others@agency.example"
	if status, a := w.ask("POST", "/listings/"+ref+"/claim", "", nil); status != http.StatusConflict ||
		a.HeldBy != "us…@agency.example" && a.HeldBy != "us@agency.example" {
		t.Errorf("claiming what is held answers %d, %+v", status, a)
	}
	for _, path := range []string{"/listings/" + ref + "/verifications"} {
		if status, a := w.ask("POST", path, "", map[string]string{"method": "postcard", "to": "x"}); status != http.StatusForbidden || a.Code != "not_yours" {
			t.Errorf("%s answers %d, %+v", path, status, a)
		}
	}
	if status, a := w.ask("GET", "/listings/"+ref+"/offers", "", nil); status != http.StatusForbidden {
		t.Errorf("offers answer %d, %+v", status, a)
	}
	if status, a := w.ask("POST", "/listings/none/claim", "", nil); status != http.StatusNotFound || a.Code != "no_listing" {
		t.Errorf("no listing answers %d, %+v", status, a)
	}
	w.account = ""
	if status, a := w.ask("GET", "/listings/"+ref, "", nil); status != http.StatusUnauthorized || a.Code != "no_account" {
		t.Errorf("no account answers %d, %+v", status, a)
	}
	if status, a := w.ask("POST", "/search", "", map[string]string{"name": "x"}); status != http.StatusUnauthorized {
		t.Errorf("no account answers %d, %+v", status, a)
	}
}

func TestSearching(t *testing.T) {
	w := start(t)
	ref := w.created()
	free, err := w.Place(
		t.Context(),
		"fernlook",
		"",
		visit.Facts{"name": "Gull and Spoke Bicycles", "street": "12 Breakwater Street", "locality": "Port Sable", "phone": "+13605550173"},
	)
	must(t, err)
	for _, c := range []struct {
		query map[string]string
		want  string
	}{
		{map[string]string{"name": "spokeshave", "locality": "minnow bay"}, ref},
		{map[string]string{"name": "Spokeshave", "locality": "Quillcote"}, ""},
		{map[string]string{"phone": "+13605550173"}, free},
		{map[string]string{"street": "18 TERN STREET", "locality": "Minnow Bay"}, ref},
		{map[string]string{"name": "and"}, ""},
	} {
		_, a := w.ask("POST", "/search", "", c.query)
		found := ""
		for _, l := range a.Listings {
			found += l.Ref
		}
		if found != c.want {
			t.Errorf("%v finds %q, want %q", c.query, found, c.want)
		}
	}
	if status, _ := w.ask("POST", "/search", "", map[string]string{}); status != http.StatusBadRequest {
		t.Errorf("searching for nothing answers %d", status)
	}
	if status, a := w.ask("POST", "/listings", "", visit.Facts{"name": "x"}); status != http.StatusUnprocessableEntity || a.Code != "missing" {
		t.Errorf("creating of a name alone answers %d, %+v", status, a)
	}
	if _, err := w.Place(t.Context(), "nowhere", "", shop); err == nil {
		t.Error("a listing was put into no directory")
	}
}

func TestCodesAndTheirAnswers(t *testing.T) {
	w := start(t)
	ref := w.created()
	id, code := w.sent(ref, "text", "+13605550142")
	wrong := "000000"
	if code == wrong {
		wrong = "000001"
	}
	enter := func(id, code string) (int, answer) {
		return w.ask("POST", "/verifications/"+id+"/code", "", map[string]string{"code": code})
	}
	if status, a := enter(id, wrong); status != http.StatusConflict || a.Code != "wrong_code" || *a.TriesLeft != 2 {
		t.Errorf("a wrong code answers %d, %+v", status, a)
	}
	if status, a := enter("none", code); status != http.StatusNotFound || a.Code != "no_verification" {
		t.Errorf("no verification answers %d, %+v", status, a)
	}
	if status, a := enter(id, ""); status != http.StatusBadRequest {
		t.Errorf("no code answers %d, %+v", status, a)
	}
	newer, second := w.sent(ref, "text", "+13605550142")
	if status, a := enter(id, code); status != http.StatusConflict || a.Code != "replaced" {
		t.Errorf("a replaced code answers %d, %+v", status, a)
	}
	w.move(w.now().Add(31 * time.Minute))
	if status, a := enter(newer, second); status != http.StatusConflict || a.Code != "expired" {
		t.Errorf("an expired code answers %d, %+v", status, a)
	}
	last, third := w.sent(ref, "text", "+13605550142")
	for range 2 {
		enter(last, wrong)
	}
	if status, a := enter(last, third); status != http.StatusOK {
		t.Errorf("the right code at the last try answers %d, %+v", status, a)
	}
	if status, a := enter(last, third); status != http.StatusConflict || a.Code != "already_verified" {
		t.Errorf("a second time it answers %d, %+v", status, a)
	}
	if status, a := w.ask("POST", "/listings/"+ref+"/verifications", "", map[string]string{"method": "text", "to": "x"}); status != http.StatusConflict ||
		a.Code != "already_verified" {
		t.Errorf("asking again answers %d, %+v", status, a)
	}
}

func TestPublishedWithinTheWindowAndNotBefore(t *testing.T) {
	w := start(t)
	ref := w.created()
	id, code := w.sent(ref, "text", "+13605550142")
	w.ask("POST", "/verifications/"+id+"/code", "", map[string]string{"code": code})
	_, l := w.ask("GET", "/listings/"+ref, "", nil)
	if status, page := w.page(l.Page); status != http.StatusNotFound || !strings.Contains(page, "Nothing here") {
		t.Errorf("verified is public at once: %d", status)
	}
	w.move(time.Date(2026, 12, 1, 8, 0, 0, 0, time.UTC)) // the window ends on Mon 30 Nov
	status, page := w.page(l.Page)
	if status != http.StatusOK || !strings.Contains(page, "18 Tern Street") {
		t.Fatalf("after the window it answers %d:\n%s", status, page)
	}
	seen := reading.Read([]byte(page), reading.In{}).Sighting
	if seen.Name != shop["name"] || seen.Address.Street != "18 Tern Street" || seen.Hours != "Tu-Fr 09:00-12:00,13:00-18:00; Sa 20:00-02:00; 2026 Nov 26 off" {
		t.Errorf("the page says %+v", seen)
	}
	if _, home := w.page("/"); !strings.Contains(home, l.Page) {
		t.Error("the outside's own page does not lead to it")
	}
}

func TestAStreetThatIsHidden(t *testing.T) {
	w := start(t)
	hidden := visit.Facts{"hide_street": true}
	for k, v := range shop {
		hidden[k] = v
	}
	_, l := w.ask("POST", "/listings", "", hidden)
	id, code := w.sent(l.Ref, "text", "+13605550142")
	w.ask("POST", "/verifications/"+id+"/code", "", map[string]string{"code": code})
	w.move(time.Date(2026, 12, 1, 8, 0, 0, 0, time.UTC))
	if _, page := w.page(l.Page); strings.Contains(page, "Tern Street") || strings.Contains(page, "98990") || !strings.Contains(page, "Minnow Bay") {
		t.Errorf("the page shows the street:\n%s", page)
	}
}

func TestPhones(t *testing.T) {
	w, ctx := start(t), t.Context()
	ref := w.created()
	must(t, w.Phone(ctx, "+13605550142", true, "Tu 13:00-18:00", "America/Los_Angeles"))
	for _, how := range []string{"text", "call"} {
		w.ask("POST", "/listings/"+ref+"/verifications", "", map[string]string{"method": how, "to": "+13605550142"})
		if code, err := w.Code(ctx, "+13605550142"); err == nil {
			t.Errorf("by %s a landline in the lunch break got %s", how, code)
		}
	}
	list, err := w.Arrivals(ctx, "+13605550142")
	if err != nil || len(list) != 2 || list[0].Kind != "missed_call" || list[1].Kind != "lost_text" {
		t.Errorf("%+v, %v", list, err)
	}
	w.move(begins.Add(5 * time.Hour))
	if _, code := w.sent(ref, "call", "+13605550142"); len(code) != 6 {
		t.Errorf("the call says %q", code)
	}
}

func TestThePostTakesItsTime(t *testing.T) {
	w, ctx := start(t), t.Context()
	ref := w.created()
	_, a := w.ask(
		"POST",
		"/listings/"+ref+"/verifications",
		"",
		map[string]string{"method": "postcard", "to": "18 Tern Street, Minnow Bay", "contact": "Dov Marsh"},
	)
	if a.Digits != 6 || a.Tries != 3 || a.Expires.Sub(begins) < 29*24*time.Hour {
		t.Errorf("the terms are %+v", a)
	}
	w.move(time.Date(2026, 12, 3, 8, 0, 0, 0, time.UTC)) // the day before the earliest, Pacific
	if list, _ := w.Arrivals(ctx, "Tern Street"); len(list) != 0 {
		t.Errorf("it came early: %+v", list)
	}
	w.move(time.Date(2026, 12, 12, 8, 0, 0, 0, time.UTC)) // the latest is Fri 11 Dec
	list, err := w.Arrivals(ctx, "tern street")
	if err != nil || len(list) != 1 || list[0].Kind != "letter" || !strings.HasPrefix(list[0].Body, "For Dov Marsh. ") || visit.CodeIn(list[0].Body) == "" {
		t.Errorf("%+v, %v", list, err)
	}
	if _, page := w.page("/?at=tern"); !strings.Contains(page, "For Dov Marsh") {
		t.Error("the page does not show the card")
	}
	if _, page := w.page("/?at=nobody"); strings.Contains(page, "For Dov Marsh") {
		t.Error("the page shows everybody's post")
	}
}

func TestMailComesBySMTP(t *testing.T) {
	w, ctx := start(t), t.Context()
	ref := w.created()
	w.ask("POST", "/listings/"+ref+"/verifications", "", map[string]string{"method": "email", "to": "shop@spokeshave.example"})
	w.move(begins.Add(time.Minute))
	if code, err := w.Code(ctx, "shop@spokeshave.example"); err != nil || len(code) != 8 {
		t.Errorf("the email says %q, %v", code, err)
	}
	host, port, _ := strings.Cut(w.MailAddr(), ":")
	n := 0
	for _, c := range port {
		n = n*10 + int(c-'0')
	}
	m := mail.NewMsg()
	must(t, m.From("ines@agency.example"))
	must(t, m.To("Dov@Spokeshave.example", "shop@spokeshave.example"))
	m.Subject("Grüße – ein Code")
	m.SetBodyString(mail.TypeTextPlain, strings.Repeat("Ein langer Satz mit Umlauten: äöü. ", 12))
	c, err := mail.NewClient(host, mail.WithPort(n), mail.WithTLSPolicy(mail.NoTLS))
	must(t, err)
	must(t, c.DialAndSend(m))
	list, err := w.Arrivals(ctx, "dov@spokeshave.example")
	if err != nil || len(list) != 1 || list[0].Title != "Grüße – ein Code" || list[0].Sender != "ines@agency.example" ||
		!strings.Contains(list[0].Body, "Umlauten: äöü.") {
		t.Errorf("%+v, %v", list, err)
	}
}

func TestTheClockOfADemoStandsStillWhileTheOutsideIsDown(t *testing.T) {
	url := storetest.URL(t)
	began := time.Now()
	first := open(t, url)
	ctx, cancel := context.WithTimeout(t.Context(), 1300*time.Millisecond)
	defer cancel()
	first.Run(ctx)
	first.Close()
	ran := time.Since(began)
	time.Sleep(3 * time.Second)
	again := time.Now()
	second := open(t, url)
	defer second.Close()
	// It goes on from where it stood, give or take what is noted, and has run for as long as it was up.
	const noted = 2 * time.Second
	now, err := second.Now(t.Context())
	if up := ran + time.Since(again); err != nil || now.Before(begins.Add(time.Second)) || now.After(begins.Add(up+noted)) {
		t.Errorf("it is %v, %v, after %v", now, err, up)
	}
	w := start(t)
	before := w.now()
	w.move(begins.Add(-time.Hour))
	if w.now().Before(before) {
		t.Error("the clock goes back")
	}
}

func TestFaults(t *testing.T) {
	w, ctx := start(t), t.Context()
	must(t, w.Misbehave(ctx, visit.Faults{FailPercent: 100}))
	if status, a := w.ask("POST", "/listings", "k", shop); status != http.StatusServiceUnavailable || a.Code != "fault" {
		t.Errorf("a fault answers %d, %+v", status, a)
	}
	must(t, w.Misbehave(ctx, visit.Faults{LosePercent: 100}))
	r := reach.New(w.Base, w.account)
	if _, err := r.Claim(ctx, "outside:/fernlook/api", "k2", w.mustPlace(ctx), nil); err == nil {
		t.Error("the answer was not lost")
	}
	must(t, w.Misbehave(ctx, visit.Faults{SlowMS: 200}))
	began := time.Now()
	if _, a := w.ask("POST", "/search", "", map[string]string{"name": "spokeshave"}); len(a.Listings) != 1 || a.Listings[0].Holder != "you" {
		t.Errorf("what was lost was not done: %+v", a)
	}
	if took := time.Since(began); took < 200*time.Millisecond {
		t.Errorf("slow is %v", took)
	}
}

func (w *world) mustPlace(ctx context.Context) string {
	ref, err := w.Place(ctx, "fernlook", "", shop)
	must(w.t, err)
	return ref
}
