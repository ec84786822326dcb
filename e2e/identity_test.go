package e2e

import (
	"context"
	"regexp"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"

	"uvent/desk/people"
	"uvent/e2e/browser"
	"uvent/e2e/rig"
)

// elsewhere is another browser, in which nobody has signed in.
func (s *screen) elsewhere() *screen {
	tab, stop, err := browser.Start(context.Background())
	s.do(err)
	s.t.Cleanup(stop)
	return &screen{tab, s.t, s.rig, s.base}
}

// Codes of an app are set up and asked for; one of their recovery codes signs in; they are asked of a role, and whoever has
// none sets them up before anything else.
func TestASecondFactorOnTheScreen(t *testing.T) {
	s := open(t)
	s.do(
		s.Open(s.at("/you")),
		s.Press("Set them up"),
		s.Type("Your password", "wrong"),
		s.Press("Go on"),
		s.See("it is not your password"),
	)
	setUp := func(s *screen) string {
		s.do(
			s.Type("Your password", rig.Password),
			s.Press("Go on"),
			s.Until(`!!document.querySelector("img[alt='QR code of the secret']")`),
		)
		code, err := totp.GenerateCode(now[string](s, `document.querySelector("p.mono.text-break").innerText`), time.Now())
		s.do(err, s.Type("Code", code), s.Press("Keep it"), s.See("The second factor is set."))
		return code
	}
	used := setUp(s)
	recovery := now[string](s, `document.querySelector(".codes li").innerText`)
	other := s.elsewhere()
	s.do(
		other.Open(other.at("/today")),
		other.Type("Email", s.rig.Who.Email),
		other.Type("Password", rig.Password),
		other.Press("Sign in"),
		other.See("Give the code of your second factor too"),
		other.Type("Code of your second factor", used),
		other.Press("Sign in"),
		other.See("it was used already"),
		other.Type("Code of your second factor", recovery),
		other.Press("Sign in"),
		other.See("No locations yet"),
	)

	s.do(s.Open(s.at("/people")), s.Tick("specialist"), s.See("A second factor is asked of: specialist."))
	const email = "sol@agency.example"
	_, err := s.rig.Desk.People.AddPerson(t.Context(), people.Person{Name: "Sol Tern", Email: email, Zone: "Europe/London", Role: people.Specialist}, rig.Password)
	s.do(err)
	sol := s.elsewhere()
	s.do(sol.Enter(s.base, email, rig.Password), sol.Open(sol.at("/today")), sol.See("A second factor first"), sol.Press("Set them up"))
	setUp(sol)
	s.do(sol.Until(`document.querySelector("nav") !== null`))

	// Whoever administers sees where somebody is signed in, and ends it.
	s.do(
		s.Open(s.at("/people")),
		s.See("Sol Tern"),
		s.Press("Sessions"),
		s.See("is signed in with 1 browser"),
		s.Press("End all of them"),
		s.See("Sol Tern has to sign in again"),
	)
	s.do(sol.See("Sign in"))
}

// A passkey is made, signs in by itself, and is taken off.
func TestAPasskeyOnTheScreen(t *testing.T) {
	s := open(t)
	s.do(
		s.Authenticator(),
		s.Open(s.at("/you")),
		s.Press("Add a passkey"),
		s.Type("Where it is", "the laptop"),
		s.Type("Your password", rig.Password),
		s.Press("Add it"),
		s.See("The passkey “the laptop” is set."),
		s.See("Keep these now; they are told once."),
		s.Press("Sign out everywhere"),
		s.Press("Sign in with a passkey"),
		s.See("No locations yet"),
	)
	// The password alone signs in no more.
	other := s.elsewhere()
	s.do(
		other.Open(other.at("/today")),
		other.Type("Email", s.rig.Who.Email),
		other.Type("Password", rig.Password),
		other.Press("Sign in"),
		other.See("or sign in with your passkey"),
	)
	s.do(
		s.Open(s.at("/you")),
		s.See("last used"),
		s.Press("Remove"),
		s.Type("Your password", rig.Password),
		s.Press("Remove “the laptop”"),
		s.See("The passkey “the laptop” is removed."),
	)
	s.do(other.Press("Sign in"), other.See("No locations yet"))
}

var letterAddress = regexp.MustCompile(`http://\S+/reset/\S+`)

// A forgotten password is chosen anew by letter, and changed again; whoever is signed in elsewhere signs in again.
func TestAnotherPasswordOnTheScreen(t *testing.T) {
	s := open(t)
	other := s.elsewhere()
	s.do(
		s.Open(s.at("/today")),
		s.See("No locations yet"),
		other.Open(other.at("/today")),
		other.Press("Password forgotten?"),
		other.See("A letter goes there"), // the page before has a field of that name too
		other.Type("Email", s.rig.Who.Email),
		other.Press("Send the letter"),
		other.See("a letter is on its way there"),
	)
	var address string
	s.do(s.eventually(func() bool {
		list, err := s.rig.World.Arrivals(t.Context(), s.rig.Who.Email)
		for _, a := range list {
			address += letterAddress.FindString(a.Body)
		}
		return err == nil && address != ""
	}))
	s.do(
		other.Open(address),
		other.Type("New password", "aaaaaaaaaaaa"),
		other.Press("Take it"),
		other.See("it is easy to guess"),
		other.Type("New password", "winch-lichen-parsley"),
		other.Press("Take it"),
		other.Type("Email", s.rig.Who.Email),
		other.Type("Password", "winch-lichen-parsley"),
		other.Press("Sign in"),
		other.See("No locations yet"),
		s.See("Sign in"), // it was told at once
	)
	s.do(
		other.Open(other.at("/you")),
		other.Press("Change it"),
		other.Type("The password until now", "winch-lichen-parsley"),
		other.Type("New password", "gorse-tiller-omelette"),
		other.Press("Change it"),
		other.See("The password is changed."),
	)
}
