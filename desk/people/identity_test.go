package people_test

import (
	"errors"
	"fmt"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"

	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/e2e/rig"
)

// kind is the kind of problem that an error is; -1 for none.
func kind(err error) problem.Kind {
	var p *problem.Problem
	if errors.As(err, &p) {
		return p.Kind
	}
	return -1
}

func TestSigningIn(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	from := func(email, password, address, browser string) (people.Person, string, error) {
		return r.Desk.People.SignIn(ctx, people.Credentials{Email: email, Password: password, Address: address, Browser: browser})
	}
	p, known, err := from(" INES@agency.example", rig.Password, "192.0.2.1", "")
	if err != nil || p.ID != r.Who.ID || p.Initials != "IR" || known == "" {
		t.Fatalf("%+v, %v", p, err)
	}
	for range 4 {
		_, _, err = from("ines@agency.example", "wrong", "192.0.2.7", "")
		rig.Refused(t, err, problem.Denied, "do not belong together")
	}
	_, _, err = from("ines@agency.example", rig.Password, "192.0.2.7", "")
	rig.Refused(t, err, problem.TooMany, "Wait 1 second,")
	// Nobody else is kept out by that: neither who is elsewhere, nor somebody else from there, nor whose browser is known.
	for _, c := range [][3]string{{"ines@agency.example", "192.0.2.9", ""}, {"ines@agency.example", "192.0.2.7", known}} {
		if _, _, err = from(c[0], rig.Password, c[1], c[2]); err != nil {
			t.Errorf("from %s: %v", c[1], err)
		}
	}
	if _, _, err = from("ines@agency.example", rig.Password, "192.0.2.7", "another"); kind(err) != problem.TooMany {
		t.Errorf("a browser that nobody knows: %v", err)
	}
	// The waits grow: after the fifth it is two seconds, of which a slow machine may have let some pass.
	time.Sleep(1100 * time.Millisecond)
	began := time.Now()
	_, _, err = from("ines@agency.example", "wrong", "192.0.2.7", "")
	rig.Refused(t, err, problem.Denied, "do not belong together")
	_, _, err = from("ines@agency.example", rig.Password, "192.0.2.7", "")
	if took := time.Since(began); took < 900*time.Millisecond {
		rig.Refused(t, err, problem.TooMany, "Wait 2 seconds")
	} else if took < 2*time.Second {
		rig.Refused(t, err, problem.TooMany, "Wait ")
	}
	for i := range 60 {
		_, _, err = from(strings.Repeat("x", i+1)+"@agency.example", "wrong", "192.0.2.3", "")
	}
	rig.Refused(t, err, problem.TooMany, "tried too often")
	if _, _, err = from("ines@agency.example", rig.Password, "192.0.2.1", ""); err != nil {
		t.Error(err)
	}
	for _, long := range [][2]string{{strings.Repeat("x", 300), "x"}, {"ines@agency.example", strings.Repeat("x", 300)}} {
		_, _, err = from(long[0], long[1], "192.0.2.5", "")
		rig.Refused(t, err, problem.Denied, "do not belong together")
	}
}

// Of many tries at once no more are made than of many one after the other.
func TestTriesAtOnceAreCountedBeforeTheyAreMade(t *testing.T) {
	r := rig.Start(t)
	var all sync.WaitGroup
	var mu sync.Mutex
	count := map[problem.Kind]int{}
	for range 40 {
		all.Go(func() {
			_, _, err := r.Desk.People.SignIn(t.Context(), people.Credentials{Email: r.Who.Email, Password: "wrong", Address: "192.0.2.1"})
			mu.Lock()
			defer mu.Unlock()
			count[kind(err)]++
		})
	}
	all.Wait()
	if count[problem.Denied] > 5 || count[problem.Denied]+count[problem.TooMany] != 40 {
		t.Errorf("%v", count)
	}
}

func TestPasswordsThatWillNotDo(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	add := func(password string) error {
		_, err := r.Desk.People.AddPerson(ctx, people.Person{Email: "oda.kettering@spokeshave.example", Name: "Oda Kettering", Zone: "Europe/London"}, password)
		return err
	}
	for password, says := range map[string]string{
		"short": "at least 12", "aaaaaaaaaaaa": "easy to guess", "password1234": "easy to guess", "qwertyuiopasdf": "easy to guess",
		"kettering2026": "easy to guess", "spokeshave12": "easy to guess", "uventuvent12": "easy to guess", strings.Repeat("é", 200): "at most 256 bytes",
	} {
		rig.Refused(t, add(password), problem.Invalid, says)
	}
	for _, name := range []string{"Oda\nKettering", "Oda \u202eKettering", strings.Repeat("x", 101)} {
		_, err := r.Desk.People.AddPerson(ctx, people.Person{Email: "b@agency.example", Name: name, Zone: "Europe/London"}, rig.Password)
		rig.Refused(t, err, problem.Invalid, "name: a name is one line")
	}
	rig.Must(t, add("tern-barrow-sextant"))
	var kept string
	rig.Must(t, r.Store.Pool.QueryRow(ctx, "select password_hash from person where name = 'Oda Kettering'").Scan(&kept))
	if !strings.HasPrefix(kept, "$argon2id$v=19$") || strings.Contains(kept, "sextant") {
		t.Errorf("kept as %s", kept)
	}
	_, err := r.Desk.People.AddPerson(ctx, people.Person{Email: "x", Name: "Ada", Zone: "Nowhere"}, rig.Password)
	rig.Refused(t, err, problem.Invalid, "no time zone")
}

var resetPattern = regexp.MustCompile(`/reset/(\S+)`)

func TestAnotherPassword(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	r.Desk.People.ServeAt("https://uvent.example")
	signs := func(password string) error {
		_, _, err := r.Desk.People.SignIn(ctx, people.Credentials{Email: r.Who.Email, Password: password, Address: "192.0.2.1"})
		return err
	}
	rig.Refused(t, r.Desk.People.ChangePassword(ctx, r.Who, "wrong", "tern-barrow-sextant"), problem.Invalid, "password: it is not your password")
	rig.Refused(t, r.Desk.People.ChangePassword(ctx, r.Who, rig.Password, "password1234"), problem.Invalid, "new_password: it is easy to guess")
	rig.Must(t, r.Desk.People.ChangePassword(ctx, r.Who, rig.Password, "tern-barrow-sextant"))
	if signs(rig.Password) == nil || signs("tern-barrow-sextant") != nil {
		t.Error("the password is not the new one")
	}

	// By letter, which tells nobody whether there is such a person.
	rig.Must(t, r.Desk.People.AskReset(ctx, "nobody@agency.example", "192.0.2.1"))
	rig.Must(t, r.Desk.People.AskReset(ctx, " INES@agency.example", "192.0.2.1"))
	var secret string
	r.Eventually(t, func() bool {
		list, err := r.World.Arrivals(ctx, r.Who.Email)
		told := false
		for _, a := range list {
			told = told || a.Title == "Your sign-in to Uvent was changed" && strings.Contains(a.Body, "your password was changed")
			if found := resetPattern.FindStringSubmatch(a.Body); found != nil {
				secret = found[1]
			}
		}
		return err == nil && told && secret != ""
	})
	var waits int
	rig.Must(t, r.Store.Pool.QueryRow(ctx, "select count(*) from river_job where args::text like '%' || $1 || '%'", secret).Scan(&waits))
	if waits > 0 {
		t.Error("the secret waits in a job")
	}
	if email, err := r.Desk.People.ResetOf(ctx, secret); err != nil || email != r.Who.Email {
		t.Errorf("%q, %v", email, err)
	}
	_, err := r.Desk.People.Reset(ctx, "guessed", "winch-lichen-parsley")
	rig.Refused(t, err, problem.NotFound, "cannot be used any more")
	_, err = r.Desk.People.Reset(ctx, secret, "short")
	rig.Refused(t, err, problem.Invalid, "at least 12")
	_, err = r.Desk.People.Reset(ctx, secret, "winch-lichen-parsley")
	rig.Must(t, err)
	if signs("winch-lichen-parsley") != nil {
		t.Error("the password is not the one that was chosen")
	}
	_, err = r.Desk.People.Reset(ctx, secret, "winch-lichen-parsley")
	rig.Refused(t, err, problem.NotFound, "cannot be used any more")
	rig.Must(t, r.Desk.People.AskReset(ctx, r.Who.Email, "192.0.2.1"))
	rig.Refused(t, r.Desk.People.AskReset(ctx, r.Who.Email, "192.0.2.1"), problem.TooMany, "tried too often")
	_, err = r.Desk.People.ResetHere(ctx, r.Who.Email, "gorse-tiller-omelette", true)
	rig.Must(t, err)
	if signs("gorse-tiller-omelette") != nil {
		t.Error("the password is not the one from the shell")
	}
}

func TestKeysForPrograms(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	_, _, err := r.Desk.People.MakeKey(ctx, r.Who, rig.Password, " ", "all", 0)
	rig.Refused(t, err, problem.Invalid, "name: say what it is for")
	_, _, err = r.Desk.People.MakeKey(ctx, r.Who, rig.Password, "Nightly export", "see", 1000)
	rig.Refused(t, err, problem.Invalid, "days: a key works for")
	_, _, err = r.Desk.People.MakeKey(ctx, r.Who, "wrong", "Nightly export", "see", 0)
	rig.Refused(t, err, problem.Invalid, "password: it is not your password")
	k, secret, err := r.Desk.People.MakeKey(ctx, r.Who, rig.Password, "Nightly export", "see", 10)
	rig.Must(t, err)
	p, err := r.Desk.People.WithKey(ctx, secret)
	if err != nil || p.ID != r.Who.ID || !p.May(people.See) || p.May(people.Edit) || p.May(people.Administer) || p.May(people.Oneself) {
		t.Errorf("%+v, %v", p, err)
	}
	if list, err := r.Desk.People.Keys(ctx, r.Who.ID); err != nil || len(list) != 1 || list[0].UsedAt == nil {
		t.Errorf("%+v, %v", list, err)
	}
	rig.Must(t, r.Desk.People.EndKey(ctx, r.Who, k.ID))
	_, err = r.Desk.People.WithKey(ctx, secret)
	rig.Refused(t, err, problem.Denied, "not known, or has ended")
	_, secret, err = r.Desk.People.MakeKey(ctx, r.Who, rig.Password, "Nightly export", "see", 10)
	rig.Must(t, err)
	r.Move(t, 9*24*time.Hour)
	if _, err = r.Desk.People.WithKey(ctx, secret); err != nil {
		t.Errorf("within its time: %v", err)
	}
	r.Move(t, 2*24*time.Hour)
	_, err = r.Desk.People.WithKey(ctx, secret)
	rig.Refused(t, err, problem.Denied, "not known, or has ended")
	_, secret, err = r.Desk.People.MakeKey(ctx, r.Who, rig.Password, "Nightly export", "see", 0)
	rig.Must(t, err)
	rig.Must(t, r.Desk.People.EndKeys(ctx, r.Who, r.Who.ID))
	_, err = r.Desk.People.WithKey(ctx, secret)
	rig.Refused(t, err, problem.Denied, "not known, or has ended")
}

func TestASecondFactor(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	d := r.Desk.People
	me := func() people.Person {
		p, err := d.Person(ctx, r.Who.ID)
		rig.Must(t, err)
		return p
	}
	signs := func(password, code string) error {
		_, _, err := d.SignIn(ctx, people.Credentials{Email: r.Who.Email, Password: password, Code: code, Address: "192.0.2.1"})
		return err
	}
	forget := func() { // the waits after wrong ones
		_, err := r.Store.Pool.Exec(ctx, "delete from try")
		rig.Must(t, err)
	}
	later := func() { // a code that was used is not used again
		_, err := r.Store.Pool.Exec(ctx, "update person set factor_step = 0")
		rig.Must(t, err)
	}
	codeOf := func(secret string) string {
		code, err := totp.GenerateCode(secret, time.Now())
		rig.Must(t, err)
		return code
	}
	_, err := d.KeepFactor(ctx, me(), "000000")
	rig.Refused(t, err, problem.Conflict, "Begin it again")
	_, _, err = d.BeginFactor(ctx, me(), "wrong", "")
	rig.Refused(t, err, problem.Invalid, "password: it is not your password")
	secret, address, err := d.BeginFactor(ctx, me(), rig.Password, "")
	if err != nil || !strings.HasPrefix(address, "otpauth://totp/Uvent:") {
		t.Fatalf("%q, %v", address, err)
	}
	if me().SecondFactor {
		t.Error("it counts before a code shows that it is at hand")
	}
	_, err = d.KeepFactor(ctx, me(), "")
	rig.Refused(t, err, problem.Invalid, "code: it is not the code")
	kept := codeOf(secret) // by whatever its half minute: another may have begun before it is tried again
	codes, err := d.KeepFactor(ctx, me(), kept)
	if err != nil || len(codes) != 10 || !me().SecondFactor {
		t.Fatalf("%q, %v", codes, err)
	}
	var clear int
	rig.Must(
		t,
		r.Store.Pool.QueryRow(
			ctx,
			"select count(*) from person p, recovery_code c where p::text || encode(p.factor, 'escape') like '%' || $1 || '%' or encode(c.hash, 'escape') like '%' || $2 || '%'",
			secret,
			strings.ReplaceAll(codes[0], "-", ""),
		).Scan(
			&clear,
		),
	)
	if clear > 0 {
		t.Error("a secret is kept in clear")
	}

	rig.Refused(t, signs(rig.Password, ""), problem.Denied, "code of your second factor")
	rig.Refused(t, signs(rig.Password, kept), problem.Denied, "was used already") // it was, to keep it
	later()
	used := codeOf(secret)
	rig.Must(t, signs(rig.Password, " "+used))
	rig.Refused(t, signs(rig.Password, used), problem.Denied, "was used already")
	rig.Refused(t, signs(rig.Password, "12345"), problem.Denied, "not the code that your app shows")
	later()
	rig.Refused(t, signs("wrong-password", codeOf(secret)), problem.Denied, "do not belong together")
	forget()
	rig.Must(t, signs(rig.Password, strings.ToUpper(codes[3])))
	rig.Refused(t, signs(rig.Password, codes[3]), problem.Denied, "was used already")

	// It is replaced, and taken off, by nobody who does not have it.
	forget()
	_, _, err = d.BeginFactor(ctx, me(), rig.Password, "")
	rig.Refused(t, err, problem.Invalid, "code: it is not the code")
	rig.Refused(t, d.DropFactor(ctx, me(), rig.Password, "000000"), problem.Invalid, "code: it is not the code")
	rig.Refused(t, d.DropFactor(ctx, me(), "wrong", codeOf(secret)), problem.Invalid, "password: it is not your password")
	other, _, err := d.BeginFactor(ctx, me(), rig.Password, codes[0])
	rig.Must(t, err)
	later()
	rig.Must(t, signs(rig.Password, codeOf(secret))) // the old one works until the new one is kept
	codes, err = d.KeepFactor(ctx, me(), codeOf(other))
	rig.Must(t, err)
	later()
	rig.Refused(t, signs(rig.Password, codeOf(secret)), problem.Denied, "not the code")
	forget()
	again, err := d.NewRecovery(ctx, me(), rig.Password, codes[1])
	if err != nil || len(again) != 10 {
		t.Errorf("%q, %v", again, err)
	}
	rig.Refused(t, signs(rig.Password, codes[2]), problem.Denied, "not the code")

	// A role that asks for it keeps it.
	rig.Must(t, d.AskForFactor(ctx, r.Who.Actor(), map[people.Role]bool{people.Administrator: true}))
	rig.Refused(t, d.DropFactor(ctx, me(), rig.Password, again[0]), problem.Conflict, "Your role asks for a second factor")
	p, err := d.AddPerson(ctx, people.Person{Name: "Ada Tern", Email: "ada@agency.example", Zone: "Europe/London"}, rig.Password)
	rig.Must(t, err)
	if p, err = d.Person(ctx, p.ID); err != nil || !p.MustFactor || me().MustFactor {
		t.Errorf("%+v, %v", p, err)
	}
	rig.Must(t, d.AskForFactor(ctx, r.Who.Actor(), nil))
	if roles, err := d.RolesWithFactor(ctx); err != nil || len(roles) != 0 {
		t.Errorf("%v, %v", roles, err)
	}
	forget()
	for range 4 {
		rig.Refused(t, d.DropFactor(ctx, me(), rig.Password, "000000"), problem.Invalid, "code: it is not the code")
	}
	rig.Refused(t, d.DropFactor(ctx, me(), rig.Password, again[1]), problem.TooMany, "tried too often")
	forget()
	rig.Must(t, d.DropFactor(ctx, me(), rig.Password, again[1]))
	rig.Must(t, signs(rig.Password, ""))
}

// Second factors that were kept in clear once are sealed when the server starts, and work on.
func TestSecondFactorsOfBeforeAreSealed(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	const secret = "JBSWY3DPEHPK3PXPJBSWY3DPEHPK3PXP"
	_, err := r.Store.Pool.Exec(ctx, "update person set second_factor = $1", secret)
	rig.Must(t, err)
	rig.Must(t, r.Desk.People.SealOld(ctx))
	code, err := totp.GenerateCode(secret, time.Now())
	rig.Must(t, err)
	if _, _, err = r.Desk.People.SignIn(ctx, people.Credentials{Email: r.Who.Email, Password: rig.Password, Code: code, Address: "192.0.2.1"}); err != nil {
		t.Error(err)
	}
	var text string
	rig.Must(t, r.Store.Pool.QueryRow(ctx, "select p::text || encode(factor, 'escape') from person p").Scan(&text))
	if strings.Contains(text, secret) {
		t.Error(fmt.Sprint("it is still kept in clear: ", text))
	}
}
