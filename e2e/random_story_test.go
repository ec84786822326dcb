//go:build proofs

package e2e

import (
	"context"
	"fmt"
	"maps"
	"math/rand/v2"
	"net/http"
	"net/smtp"
	"net/url"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/pquerna/otp/totp"

	"uvent/core/record/record"
	"uvent/demo/paint"
	"uvent/e2e/rig"
	"uvent/outside/visit"
	"uvent/rulebooks"
)

// said is a body in JSON.
type said = map[string]any

// towns are a region, and an area.
const towns = `{"type":"FeatureCollection","features":[
	{"type":"Feature","properties":{"name":"Quay","population":21000},"geometry":{"type":"Point","coordinates":[-124.95,48.61]}}]}`

// filmed is what is said of a film.
var filmed = map[string]string{"street": "3", "sign": "15", "inside": "40", "private": "yes"}

// story is all that is done for one client.
type story struct {
	*worker
	n                int
	name             string // of the client
	client, location string
	rec              record.Record
}

// story tells one, in an order of its own.
func (b *battered) story(n int) *story {
	s := &story{worker: b.ines, n: n, name: fmt.Sprint("Client ", n)}
	s.records()
	s.files()
	s.places()
	parts := []func(){s.people, s.imports, s.directory, s.letters, func() { s.proves(); s.works(); s.suggests(); s.owner() }}
	rand.Shuffle(len(parts), func(i, j int) { parts[i], parts[j] = parts[j], parts[i] })
	for _, part := range parts {
		part()
	}
	s.byHand()
	return s
}

// email is an address of the story's own.
func (s *story) email(who string) string { return fmt.Sprintf("%s%d@client.example", who, s.n) }

// at is the address of the location's listing.
func (s *story) at(directory string) string { return "/api/listings/" + s.location + "/" + directory }

// shop is a record that no other story has.
func (s *story) shop(label string, more int) record.Record {
	rec := rig.Workshop(label)
	rec.Name, rec.LegalName = fmt.Sprintf("Cycles %s %d", label, s.n), fmt.Sprintf("Cycles %d LLC", s.n)
	rec.Phones[0].E164 = fmt.Sprintf("+1360%d%04d", 555+more, s.n)
	rec.Address.Street, rec.Address.Locality, rec.StoreCode = fmt.Sprintf("%d %s Street", s.n, label), label, fmt.Sprintf("%s-%d", label[:2], s.n)
	rec.Email, rec.Website = fmt.Sprintf("%s%d@spokeshave.example", strings.ToLower(label), s.n), fmt.Sprintf("https://spokeshave.example/%s%d", label, s.n)
	return rec
}

// adds makes a location of the story's client, and tells its id.
func (s *story) adds(client string, rec record.Record) string {
	s.posts("/api/clients/"+client+"/locations", rec)
	return s.one("select id::text from location where client_id = $1 and label = $2", client, rec.Label)
}

// records is what is done with clients, locations and their records.
func (s *story) records() {
	facts := said{"name": s.name, "legal_name": s.name + " LLC", "owner_name": "Oda", "owner_email": s.email("oda")}
	s.posts("/api/clients", facts)
	s.client = s.one("select id::text from client where name = $1", s.name)
	facts["legal_name"] = s.name + " Inc."
	s.puts("/api/clients/"+s.client+"?version=1", facts)
	s.rec = s.shop("Quay", 0)
	s.location = s.adds(s.client, s.rec)
	at := "/api/locations/" + s.location
	was := s.rec
	s.rec.Hours = "Mo-Fr 10:00-16:00"
	s.puts(at+"?version=1", s.rec)
	s.posts(at+"/merge", said{"base": was, "record": s.rec})
	later := s.rec
	later.LegalName = "Later LLC"
	s.posts(at+"/plans", said{"on": "2027-03-04", "edit": said{"base": s.rec, "record": later}})
	s.drops(at + "/plans/" + s.one("select id::text from plan where location_id = $1", s.location))
	s.posts(
		"/api/special-dates",
		said{"locations": []string{s.location}, "dates": []said{{"from": "2027-03-04", "to": "2027-03-04"}}, "usual": false, "sittings": []any{}},
	)
	s.posts(
		"/api/record-changes/"+s.one(
			"select data->>'batch' from event where location_id = $1 and data->>'batch' is not null order by id desc limit 1",
			s.location,
		)+"/undo",
		nil,
	)
	s.puts(at+"?version="+s.version(), later)
	s.posts(at+"/history/"+s.one("select max(id)::text from event where location_id = $1 and kind = 'record_saved'", s.location)+"/undo", nil)
	var v int
	_, _ = fmt.Sscan(s.version(), &v)
	s.posts(at+"/confirmation", said{"version": v})

	window := at + "/presence/" + uuid.NewString()
	s.puts(window, said{"editing": true})
	s.drops(window)
	draft := "/api/drafts/" + url.PathEscape("location "+s.location)
	s.puts(draft, said{"body": s.name})
	s.drops(draft)
	s.puts("/api/drafts/"+url.PathEscape("new "+s.client), said{"body": s.name})

	second := s.adds(s.client, s.shop("Kiln", 1))
	s.posts("/api/locations/"+second+"/put-away", nil)
	s.posts("/api/locations/"+second+"/bring-back", nil)
	s.drops("/api/locations/" + second)
	other := s.name + ", the other"
	s.posts("/api/clients", said{"name": other, "legal_name": "", "owner_name": "", "owner_email": ""})
	o := s.one("select id::text from client where name = $1", other)
	s.posts("/api/clients/"+o+"/put-away", nil)
	s.posts("/api/clients/"+o+"/bring-back", nil)
	s.drops("/api/clients/" + o)
	s.questions()
}

func (s *story) version() string {
	return s.one("select version::text from location where id = $1", s.location)
}

// questions are answered, and change nothing.
func (s *story) questions() {
	s.posts("/api/prose", said{"text": "We mend bicycles."})
	s.posts("/api/phones", said{"phone": "(360) 555-0142", "country": "US"})
	s.posts("/api/hours", said{"text": "Mo 9-17", "country": "US", "region": "WA", "zone": "America/Los_Angeles"})
	s.posts("/api/link-checks", []string{"https://spokeshave.example"})
	s.posts("/api/tagged-links", said{"address": "https://spokeshave.example/", "tags": said{"on": true, "medium": "listing", "campaign": "bay"}})
	s.posts("/api/area", said{"town": "", "minutes": 20, "with": []string{}, "without": []string{}})
	s.posts("/api/area/read", said{"text": towns})
	var copies []struct{ Format, Text string }
	copy := "/api/locations/" + s.location + "/copies"
	if s.does(http.MethodGet, copy+"?whole=true", nil, &copies); len(copies) > 0 {
		s.posts(copy+"/"+copies[0].Format, said{"text": copies[0].Text})
	}
	intake := "/api/locations/" + s.location + "/intake"
	s.posts(intake+"/letter", said{"wants": []string{"logo"}})
	s.posts(intake+"/ask", said{"wants": []string{"logo"}})
	s.posts("/api/course-layouts", s.closing("2027-03-04"))
}

// closing is a turn by which the location closes for a time, from a day on.
func (s *story) closing(on string) said {
	return said{"locations": []string{s.location}, "state": said{"kind": "closed_for_a_time", "until": "2027-06-01"}, "on": on}
}

// bill is a paper that shows the location.
func (s *story) bill(title string) []byte {
	return paint.Letter(title, "Utility bill, October 2026", s.rec.Name, s.rec.Address.Street)
}

// files is what is done with photos, papers and films.
func (s *story) files() {
	of := "?location=" + s.location
	for i, group := range []string{"logo", "exterior", "interior"} {
		s.posts("/api/photos"+of, form{group + ".jpg", rig.Boxes(s.t, 1400, 1400, uint64(3*s.n+i)), map[string]string{"group": group}})
	}
	photo := func(group string) string {
		return s.one("select id::text from photo where location_id = $1 and file_name = $2", s.location, group+".jpg")
	}
	first := photo("logo")
	s.puts("/api/photos/order"+of, []string{photo("interior"), photo("exterior"), first})
	s.puts("/api/photos/"+first, said{"group": "logo", "caption": "Ours", "alternative": "A wheel", "focus": said{"x": 0, "y": 0, "w": 1, "h": 1}})
	s.drops("/api/photos/" + first)
	s.posts("/api/photos/"+first+"/restore", nil)

	s.posts("/api/papers"+of, form{"bill.pdf", s.bill("Sound County Electric"), nil})
	paper := s.one("select id::text from paper where location_id = $1 and file_name = 'bill.pdf'", s.location)
	s.puts("/api/papers/"+paper, said{"kind": "utility_bill", "issued": "2026-10-01", "until": ""})
	s.drops("/api/papers/" + paper)
	s.posts("/api/papers/"+paper+"/restore", nil)
	s.posts(
		"/api/locations/"+s.location+"/videos",
		form{"take.mp4", rig.Take(s.t, 60), filmed},
	)
}

// people is what a colleague does from the invitation to the end.
func (s *story) people() {
	hob, gone := s.email("hob"), s.email("gone")
	s.posts("/api/invitations", said{"email": gone, "role": "helper"})
	s.drops("/api/invitations/" + s.one("select id::text from invitation where email = $1", gone))
	const first, second, third = rig.Password, "gannet-orchard-pewter", "curlew-orchard-pewter"
	joins := func(email string) (w *worker, id string) {
		w = s.newcomer()
		s.posts("/api/invitations", said{"email": email, "role": "helper"})
		w.posts("/api/joining/"+s.secret(email, "/invitation/"), said{"name": fmt.Sprint("Hob ", s.n), "password": first, "zone": "America/Los_Angeles"})
		return w, s.one("select id::text from person where email = $1", email)
	}
	_, short := joins(s.email("short"))
	s.drops("/api/people/" + short + "/access")
	_, id := joins(hob)
	s.puts("/api/people/"+id, said{"role": "specialist"})
	signsIn := func(password string) *worker {
		w := s.newcomer()
		w.posts("/api/session", said{"email": hob, "password": password})
		return w
	}
	here := signsIn(first)
	here.posts("/api/session/passkey/challenge", nil)
	here.posts("/api/passkeys/challenge", said{"password": first})
	here = signsIn(first)
	var sessions []struct {
		ID   string
		This bool
	}
	for here.does(http.MethodGet, "/api/sessions", nil, &sessions); len(sessions) > 0; sessions = sessions[1:] {
		if !sessions[0].This {
			here.drops("/api/sessions/" + sessions[0].ID)
			break
		}
	}
	here.puts("/api/digest", said{"minute": 450})
	here.posts("/api/keys", said{"name": "Export", "scope": "see", "password": first})
	here.drops("/api/keys/" + s.one("select id::text from api_token where person_id = $1", id))
	here.posts("/api/feeds", said{"location": s.location})
	here.drops("/api/feeds/" + s.one("select id::text from feed where person_id = $1", id))
	here.factor(first)
	here.puts("/api/password", said{"password": first, "new_password": second})
	here = s.newcomer()
	here.posts("/api/password-resets", said{"email": hob})
	here.posts("/api/password-resets/"+s.secret(hob, "/reset/"), said{"new_password": third})
	signsIn(third).drops("/api/session")
	signsIn(third).drops("/api/sessions")
	s.puts("/api/security", said{"second_factor": []string{}})
	s.posts("/api/accounts", said{
		"directory": "waywren",
		"email":     s.email("agency"),
		"holder":    "Hob",
		"person":    id,
		"class":     "",
		"confirmed": true,
		"personal":  false,
		"note":      "",
		"gone":      false,
	})
	account := s.one("select id::text from account where email = $1", s.email("agency"))
	s.puts("/api/accounts/"+account, said{
		"directory": "waywren",
		"email":     s.email("agency"),
		"holder":    "Hob",
		"person":    id,
		"class":     "",
		"confirmed": true,
		"personal":  false,
		"note":      "Ours.",
		"gone":      false,
	})
	s.posts("/api/people/"+id+"/takeover", said{"to": s.one("select id::text from person where email = 'ines@agency.example'")})
	s.drops("/api/accounts/" + account)
}

// factor sets a second factor, and drops it again.
func (w *worker) factor(password string) {
	var made struct{ Secret string }
	for made.Secret == "" { // it may be lost on its way
		if !w.does(http.MethodPost, "/api/second-factor", said{"password": password}, &made) {
			return
		}
	}
	code := func() string {
		code, err := totp.GenerateCode(made.Secret, time.Now())
		rig.Must(w.t, err)
		return code
	}
	var left struct{ Codes []string }
	next := func() string { // each counts once
		if len(left.Codes) > 0 {
			return left.Codes[0]
		}
		was := code() // the answer that told the others is lost
		for code() == was {
			time.Sleep(time.Second)
		}
		return code()
	}
	w.does(http.MethodPut, "/api/second-factor", said{"code": code()}, &left)
	more := said{"password": password, "code": next()}
	left.Codes = nil
	w.does(http.MethodPost, "/api/second-factor/recovery-codes", more, &left)
	w.posts("/api/second-factor/removal", said{"password": password, "code": next()})
}

// places is what is done with regions and choices, and with what is put off.
func (s *story) places() {
	region := fmt.Sprint("Region ", s.n)
	s.posts("/api/regions", said{"name": region, "text": towns})
	s.drops("/api/regions/" + s.one("select id::text from region where name = $1", region))
	s.posts("/api/region-extracts", form{"reach.osm.pbf", s.extract, map[string]string{"name": region + ", cut"}})
	s.drops("/api/regions/" + s.one("select id::text from region where name = $1", region+", cut"))
	choice := said{"location": s.location, "directory": "old-wharf-merchants", "wanted": false}
	s.posts("/api/choices", said{"choices": []any{choice}})
	later := said{"act": "search", "until": "2027-01-04T09:00:00Z", "reason": "Later."}
	s.puts(s.at("fernlook")+"/snooze", later)
	s.drops(s.at("fernlook") + "/snooze")
}

// imports is what is done with a file that somebody else made.
func (s *story) imports() {
	file := fmt.Sprintf("Location;Name;Street;Town;State;Country;Phone\nOld Wharf %d;Nettlewick Yarns %d;%d Old Wharf;Port Sable;WA;US;12\n", s.n, s.n, s.n)
	name := fmt.Sprintf("locations-%d.csv", s.n)
	s.posts("/api/imports", form{name, []byte(file), map[string]string{"client": s.client}})
	at := "/api/imports/" + s.one("select id::text from import where file_name = $1", name)
	until := func(state string) {
		var in struct{ State string }
		for end := time.Now().Add(3 * time.Minute); in.State != state && time.Now().Before(end); time.Sleep(50 * time.Millisecond) {
			s.does(http.MethodGet, at, nil, &in)
		}
		if in.State != state {
			s.breaks("%s is %s, and never %s", at, in.State, state)
		}
	}
	until("ready")
	s.posts(at+"/edits", said{"kind": "cell", "lines": []int{2}, "key": "name", "to": "Nettlewick"})
	s.drops(at + "/edits/last")
	s.posts(at+"/apply", nil)
	until("in")
	of := s.one("select location_id::text from import_check where import_id = $1", at[len("/api/imports/"):])
	s.drops("/api/locations/" + of + "/remarks/" + s.one("select id::text from remark where location_id = $1", of))
	s.posts(at+"/take-back", nil)
	until("ready")
}

// directory is what is done with one that is added, and that never answers.
func (s *story) directory() {
	book, err := rulebooks.Read("fernlook")
	rig.Must(s.t, err)
	id := fmt.Sprint("pierbook-", s.n)
	text := strings.NewReplacer(
		"id: fernlook", "id: "+id, "name: Fernlook", fmt.Sprint("name: Pierbook ", s.n), book.Connector.URL, s.outside+"/"+id+"/api", "weight: 100", "weight: 1",
	).Replace(book.Source)
	s.posts("/api/rulebook-checks", said{"text": text, "location": s.location})
	s.posts("/api/directories", said{"text": text})
	s.puts("/api/directories/"+id, said{"text": strings.Replace(text, "weight: 1\n", "weight: 2\n", 1)})
	s.puts("/api/connections/"+id+"/credential", said{"manner": "bearer", "token": "curlew-token"})
	s.posts(s.at(id)+"/search", nil)
	s.posts("/api/connections/"+id+"/tries", nil)
	s.drops(s.at(id) + "/asking")
	s.drops("/api/connections/" + id + "/credential")
}

// world is the outside as people there see it.
func (s *story) world() visit.World { return visit.World{Base: s.outside} }

// code is the last that a directory has made for the location, which may still be on its way.
func (s *story) code(directory string) string {
	return s.one(`select v.code from outside.verification v join outside.listing l using (ref)
		where l.directory = $1 and l.facts->>'street' = $2 order by v.asked_at desc limit 1`, directory, s.rec.Address.Street)
}

// held searches and creates the listing.
func (s *story) held(directory string) (at string) {
	at = s.at(directory)
	s.asks(http.MethodPost, at, "/search", nil)
	if l := s.asks(http.MethodPost, at, "/create", nil); l.Row.Strand.Control != "held" {
		s.breaks("%s is %q", at, l.Row.Strand.Control)
	}
	return at
}

// live is the attempt that lives.
func (s *story) live(at string) string {
	var l standing
	s.does(http.MethodGet, at, nil, &l)
	for _, a := range l.Attempts {
		if a.Live {
			return a.ID
		}
	}
	s.breaks("no attempt lives at %s", at)
	return ""
}

// proves is the way from nothing to a verified listing.
func (s *story) proves() {
	old, err := s.world().Place(context.Background(), "fernlook", "", visit.Facts{
		"name": s.rec.Name, "street": s.rec.Address.Street, "locality": "Quay", "region": "WA", "phone": s.rec.MainPhone(),
	})
	rig.Must(s.t, err)
	at := s.held("fernlook")
	s.newcomer().posts(s.page(at, "video")+"/video", form{"take.mp4", rig.Take(s.t, 60), filmed})
	s.asks(http.MethodPost, at, "/duplicates", said{"ref": old})
	s.asks(http.MethodPost, at, "/codes", said{"method": "postcard"})
	code := s.code("fernlook")
	attempt := "/codes/" + s.live(at)
	s.posts(at+attempt+"/arrived", nil)
	wrong := []byte(code)
	wrong[0] = '0' + (wrong[0]-'0'+1)%10
	s.asks(http.MethodPut, at, attempt, said{"code": string(wrong)})
	if l := s.asks(http.MethodPut, at, attempt, said{"code": code}); l.Row.Strand.Verification != "verified" {
		s.breaks("%s is %q", at, l.Row.Strand.Verification)
	}
	s.posts(at+"/looks", nil)
}

// works is what is done with listings that are ours.
func (s *story) works() {
	at := s.at("fernlook")
	s.rec.Hours = "Mo-Fr 10:00-17:00"
	s.puts("/api/locations/"+s.location+"?version="+s.version(), s.rec)
	s.asks(http.MethodPost, at, "/send", said{})
	s.asks(http.MethodPost, at, "/photos", nil)
	s.asks(http.MethodPut, at, "/withdrawal", said{"why": "The shop is rebuilt."})
	s.asks(http.MethodDelete, at, "/withdrawal", nil)
	rig.Must(
		s.t,
		s.world().Suspend(
			context.Background(),
			s.one("select state->>'ref' from listing where location_id = $1 and directory_id = 'fernlook'", s.location),
			"unsaid",
			false,
			time.Time{},
		),
	)
	for s.one("select visibility from listing where location_id = $1 and directory_id = 'fernlook'", s.location) != "suspended" {
		time.Sleep(100 * time.Millisecond)
	}
	s.asks(http.MethodPost, at, "/appeals", said{"text": "Please look again.", "papers": []string{}})

	skerry := s.at("skerry")
	s.asks(http.MethodPost, skerry, "/search", nil)
	s.asks(http.MethodPost, skerry, "/copy", said{"from": "fernlook"})
	own := skerry + "/own-values"
	s.posts(own+"/try", said{"key": "name", "text": "Wheels"})
	s.puts(own+"/name", said{"text": "Wheels", "why": "The sign there is narrow"})
	s.rec.Name += " House"
	s.puts("/api/locations/"+s.location+"?version="+s.version(), s.rec)
	s.posts(own+"/name/holds", nil)
	s.drops(own + "/name")
	file := fmt.Sprintf("client,location,directory,field,value,reason\n%s,%s,skerry,name,Wheels %d,narrow\n", s.name, s.rec.Label, s.n)
	s.posts("/api/own-values", form{"own.csv", []byte(file), nil})

	hall := s.held("murmurhall")
	s.asks(http.MethodPost, hall, "/posts", said{"kind": "post", "title": fmt.Sprint("Lights ", s.n), "radius_kilometres": 20})
	s.posts(hall+"/cases", said{"says": "It does not follow our rules for names."})
	s.drops(hall + "/cases/1?why=A+mistake")
	s.matters()

	rec := s.rec
	held, err := s.world().Place(context.Background(), "candourbox", "maps@northlightmedia.example", visit.Facts{
		"name":        rec.Name,
		"street":      rec.Address.Street,
		"locality":    "Quay",
		"region":      "WA",
		"phone":       rec.MainPhone(),
		"postal_code": rec.Address.PostalCode,
		"country":     "US",
	})
	rig.Must(s.t, err)
	candour := s.at("candourbox")
	s.asks(http.MethodPost, candour, "/search", nil)
	s.asks(http.MethodPost, candour, "/claim", said{"ref": held})
	s.asks(http.MethodPost, candour, "/access", nil)

	s.posts("/api/rounds", said{"what": "search", "items": []said{{"location": s.location, "directory": "guildbench", "method": ""}}})
	s.drops("/api/rounds/" + s.one("select round_id::text from round_item where location_id = $1 and directory_id = 'guildbench'", s.location))
	s.asks(http.MethodGet, s.at("guildbench"), "", nil)
}

// matters is what people say of what wants them, and what they decide.
func (s *story) matters() {
	s.does(http.MethodGet, "/api/today?location="+s.location, nil, nil)
	stays := s.one("select id::text from matter where location_id = $1 and kind = 'suspended_yet' and ended_at is null", s.location)
	these := said{"matters": []string{stays}}
	with := func(more said) said {
		maps.Copy(more, these)
		return more
	}
	s.posts("/api/matters/notes", with(said{"says": "Rang them."}))
	s.posts("/api/matters/handovers", with(said{"to": s.one("select id::text from person where email = 'ines@agency.example'")}))
	s.posts("/api/matters/snoozes", with(said{"until": "2027-01-04T09:00:00Z"}))
	s.does(http.MethodDelete, "/api/matters/snoozes", these, nil)
	s.posts("/api/matters/decisions", with(said{"why": "A new listing in spring."}))
	s.drops("/api/matters/" + stays + "/decision")
}

// suggests changes what a panel of facts shows, which nobody may do but by a page that shows it.
func (s *story) suggests() {
	_, err := s.world().Place(context.Background(), "fernlook-facts", "", visit.Facts{
		"name": s.rec.Name, "street": s.rec.Address.Street, "locality": "Quay", "region": "WA", "postal_code": s.rec.Address.PostalCode, "country": "US",
		"phone": "+13605550199", "website": s.rec.Website,
	})
	rig.Must(s.t, err)
	at := s.at("fernlook-facts")
	s.asks(http.MethodPost, at, "/search", nil)
	var l struct{ Candidates []struct{ Ref string } }
	if s.does(http.MethodGet, at, nil, &l); len(l.Candidates) == 0 {
		s.breaks("nothing is found at %s", at)
		return
	}
	s.asks(http.MethodPost, at, "/claim", said{"ref": l.Candidates[0].Ref})
	s.asks(http.MethodPost, at, "/codes", said{"method": "email"})
	s.asks(http.MethodPut, at, "/codes/"+s.live(at), said{"code": s.code("fernlook-facts")})
	s.asks(http.MethodPost, at, "/suggestions", said{"fact": "phone", "evidence": s.rec.Website})
}

// page is a thing on the page that a letter leads an owner to.
func (s *story) page(at, task string) string {
	s.posts(at+"/owner-links", said{"task": task, "mail": true})
	return s.thing(at, task)
}

// thing is what the owner was asked for last at a listing, as it stands on their page.
func (s *story) thing(at, task string) string {
	parts := strings.Split(at, "/") // /api/listings/{location}/{directory}
	id := s.one(
		"select id::text from owner_link where location_id = $1 and directory_id = $2 and kind = $3 order by made_at desc limit 1",
		parts[3],
		parts[4],
		task,
	)
	for end := time.Now().Add(3 * time.Minute); s.one("select reminded::text from owner_link where id = $1::uuid", id) == "0"; time.Sleep(100 * time.Millisecond) {
		if time.Now().After(end) {
			s.breaks("nobody is written to about %s", id) // what is asked for next is told in a letter of its own
		}
	}
	return "/api/owner/" + s.secret(s.email("oda"), "/o/") + "/things/" + id
}

// owner is what an owner does, by pages that letters lead to.
func (s *story) owner() {
	oda, owner := s.email("oda"), s.newcomer()
	waywren := s.held("waywren")
	moved := s.rec
	moved.Address.Locality = "Quillcote"
	s.puts("/api/locations/"+s.location+"?version="+s.version(), moved)
	s.asks(http.MethodPut, waywren, "/place", said{"is": "same"})
	s.puts("/api/locations/"+s.location+"?version="+s.version(), s.rec)
	paper := s.page(waywren, "paper")
	another := paint.Letter("Quay Electric", "Utility bill, October 2026", s.rec.Name, s.rec.Address.Street+", Suite B")
	owner.posts(paper+"/paper", form{"another.pdf", another, nil})
	owner.posts(paper+"/says", said{"what": "We are in Suite B"})
	owner.posts(paper+"/paper", form{"bill.pdf", s.bill("Quay Electric"), nil})
	s.drops(waywren + "/from-owner")
	s.asks(http.MethodPost, waywren, "/codes", said{"method": "papers", "despite": true})
	s.posts(waywren+"/status", nil)
	s.asks(http.MethodPost, waywren, "/roles", said{"account": oda, "role": "editor"})
	s.posts("/api/locations/"+s.location+"/mendings", said{
		"paper": s.one("select id::text from paper where location_id = $1 and file_name = 'bill.pdf' order by added_at limit 1", s.location), "fact": "name",
	})

	skerry := s.at("skerry")
	s.asks(http.MethodPost, skerry, "/codes", said{"method": "postcard"})
	s.posts("/api/owner-asks", said{"items": []said{{"location": s.location, "directory": "skerry", "task": "code"}}})
	s.thing(skerry, "code")
	s.drops("/api/owner-links/" + s.one("select id::text from owner_link where location_id = $1 and kind = 'code'", s.location))
	owner.posts(s.page(skerry, "code")+"/code", said{"code": s.code("skerry")})

	call := s.page(s.held("hithermap"), "call")
	var shown struct {
		Things []struct {
			ID    string
			Times []time.Time
		}
	}
	page, id, _ := strings.Cut(call, "/things/")
	owner.does(http.MethodGet, page, nil, &shown)
	var times []time.Time
	for _, t := range shown.Things {
		if t.ID == id {
			times = t.Times
		}
	}
	if len(times) == 0 {
		s.breaks("nobody can be called: %s", call)
	}
	owner.posts(call+"/time", said{"at": times[len(times)-1]})
	owner.posts(s.page(s.at("hithermap"), "card")+"/payment", nil)
}

// byHand is what is done where a directory has no interface.
func (s *story) byHand() {
	chamber, wire := s.at("sound-chamber"), s.at("brasswire")
	s.posts(chamber+"/found", said{"what": "nothing"})
	s.ticks(chamber)
	s.posts(chamber+"/given", said{"page": fmt.Sprint("sound.example/shop", s.n)})
	s.posts(chamber+"/answers", said{"what": "public"})
	s.posts(s.at("lanefolk")+"/found", said{"what": "nothing"})
	s.ticks(s.at("lanefolk"))
	s.posts(wire+"/found", said{"what": "nothing"})
	s.posts(wire+"/given", said{"letter": "Please list " + s.rec.Name})
	s.drops(wire + "/from-staff")
	s.posts("/api/directories/plotline/handed-in?client="+s.client, nil)
	s.posts("/api/courses", s.closing("2027-03-04"))
	s.drops("/api/courses/" + s.one("select batch::text from plan where location_id = $1 and batch is not null limit 1", s.location))
	now := s.closing("2027-03-04")
	delete(now, "on")
	s.posts("/api/courses", now)
	s.posts(chamber+"/told", nil)
	s.posts("/api/clients/"+s.client+"/handover", said{"items": []said{{"location": s.location, "directory": "sound-chamber"}}})
	s.drops(chamber + "/handover")
	s.drops("/api/clients/" + s.client + "/owner-links")
}

// ticks ticks the first value of a worksheet.
func (s *story) ticks(at string) {
	var w struct{ Lines []struct{ Key, Text string } }
	s.does(http.MethodGet, at+"/worksheet", nil, &w)
	tick := said{"key": w.Lines[0].Key, "text": w.Lines[0].Text, "given": true}
	s.posts(at+"/worksheet/ticks", said{"window": uuid.New(), "number": 1, "values": []any{tick}})
}

// letters is what is done with those that do not arrive, and with those that come in.
func (s *story) letters() {
	for i := range 2 {
		nobody := s.email(fmt.Sprint("nobody-", i, "-"))
		s.posts("/api/invitations", said{"email": nobody, "role": "helper"})
		id := ""
		for end := time.Now().Add(time.Minute); id == "" && time.Now().Before(end); time.Sleep(100 * time.Millisecond) {
			id = s.one("select coalesce((select id from letter where state = 'refused' and recipient = $1), '')", nobody)
		}
		letter := "/api/letters/" + url.PathEscape(id)
		if i == 0 {
			s.posts(letter+"/again", said{"to": s.email("somebody")})
		} else {
			s.puts(letter+"/aside", said{"aside": true})
		}
	}
	subject := fmt.Sprint("A listing of yours, ", s.n)
	rig.Must(s.t, smtp.SendMail(s.mailbox, nil, "notices@fernlook.example", []string{rig.Account}, []byte(
		"From: Fernlook <notices@fernlook.example>\r\nTo: "+rig.Account+fmt.Sprintf(
			"\r\nMessage-ID: <%d@fernlook.example>",
			s.n,
		)+"\r\nSubject: "+subject+"\r\n\r\nIt is suspended.\r\n",
	)))
	id := ""
	for end := time.Now().Add(time.Minute); id == "" && time.Now().Before(end); time.Sleep(200 * time.Millisecond) {
		id = s.one("select coalesce((select id from notice where subject = $1), '')", subject)
	}
	s.puts("/api/notices/"+url.PathEscape(id), said{"put_aside": true})
}
