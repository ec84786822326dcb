package people

import (
	"context"
	"encoding/json"
	"errors"
	"net/url"
	"strings"
	"time"

	"github.com/go-webauthn/webauthn/protocol"
	"github.com/go-webauthn/webauthn/webauthn"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/record/record"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Passkey signs somebody in by what their device holds (Web Authentication, https://www.w3.org/TR/webauthn-3/). The
// device makes sure that it is they, so that neither password nor code is asked for.
type Passkey struct {
	ID     uuid.UUID
	Name   string
	At     time.Time
	UsedAt *time.Time
}

func passkeyOf(row db.Passkey) Passkey {
	return Passkey{ID: row.ID, Name: row.Name, At: row.At, UsedAt: row.UsedAt}
}

// Challenge is what a browser is asked to sign.
type Challenge struct {
	Options any    // for the browser, as the standard has it
	Kept    []byte // to be kept until its answer, where whoever answers cannot change it
}

// party is who passkeys are for: this server at its address. An address of digits cannot be one.
func (d *Desk) party() (*webauthn.WebAuthn, error) {
	at, err := url.Parse(d.Address())
	if err != nil {
		return nil, err
	}
	w, err := webauthn.New(&webauthn.Config{RPID: at.Hostname(), RPDisplayName: "Uvent", RPOrigins: []string{strings.TrimSuffix(d.Address(), "/")}})
	if err != nil {
		return nil, problem.Conflictf("Passkeys do not work at %s: a server needs a name for them. Open it by its name, such as localhost.", d.Address())
	}
	return w, nil
}

// PasskeysWork reports whether this server's address can be a party to them.
func (d *Desk) PasskeysWork() bool {
	_, err := d.party()
	return err == nil
}

// holder is a person as the library asks for one.
type holder struct {
	Person
	credentials []webauthn.Credential
}

// WebAuthnID is the person's id.
func (h holder) WebAuthnID() []byte { return h.ID[:] }

// WebAuthnName is what they sign in as.
func (h holder) WebAuthnName() string { return h.Email }

// WebAuthnDisplayName is what they are called.
func (h holder) WebAuthnDisplayName() string { return h.Name }

// WebAuthnCredentials are their passkeys.
func (h holder) WebAuthnCredentials() []webauthn.Credential { return h.credentials }

func (d *Desk) holder(ctx context.Context, p Person) (h holder, err error) {
	h.Person = p
	rows, err := d.store.Passkeys(ctx, p.ID)
	for _, row := range rows {
		var c webauthn.Credential
		if err := json.Unmarshal(row.Data, &c); err != nil {
			return h, err
		}
		h.credentials = append(h.credentials, c)
	}
	return h, err
}

// Passkeys are somebody's, the oldest first.
func (d *Desk) Passkeys(ctx context.Context, who Person) ([]Passkey, error) {
	return store.Each(passkeyOf)(d.store.Passkeys(ctx, who.ID))
}

// BeginPasskey asks a browser to make a passkey.
func (d *Desk) BeginPasskey(ctx context.Context, who Person, password, code string) (c Challenge, err error) {
	w, err := d.party()
	if err != nil {
		return c, err
	}
	if err := d.secure(ctx, who, password, code); err != nil {
		return c, err
	}
	h, err := d.holder(ctx, who)
	if err != nil {
		return c, err
	}
	options, kept, err := w.BeginRegistration(h,
		webauthn.WithExclusions(webauthn.Credentials(h.credentials).CredentialDescriptors()),
		webauthn.WithAuthenticatorSelection(protocol.AuthenticatorSelection{
			ResidentKey: protocol.ResidentKeyRequirementRequired, UserVerification: protocol.VerificationRequired,
		}))
	if err != nil {
		return c, err
	}
	c.Options = options
	c.Kept, err = json.Marshal(kept)
	return c, err
}

// AddPasskey keeps the passkey that a browser has made. It tells recovery codes where it is the first second factor.
func (d *Desk) AddPasskey(ctx context.Context, who Person, kept []byte, name string, answer []byte) (k Passkey, recovery []string, err error) {
	if name = strings.TrimSpace(name); name == "" || len([]rune(name)) > mostName || strings.ContainsFunc(name, unwritten) {
		return k, nil, problem.Fields([]record.Problem{{Path: "name", Message: "say in a few words where it is, such as the laptop"}})
	}
	w, err := d.party()
	if err != nil {
		return k, nil, err
	}
	session, err := challengeOf(kept)
	if err != nil {
		return k, nil, err
	}
	h, err := d.holder(ctx, who)
	if err != nil {
		return k, nil, err
	}
	parsed, err := protocol.ParseCredentialCreationResponseBytes(answer)
	if err != nil {
		return k, nil, errPasskey
	}
	made, err := w.CreateCredential(h, session, parsed)
	if err != nil {
		return k, nil, errPasskey
	}
	data, err := json.Marshal(made)
	if err != nil {
		return k, nil, err
	}
	err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		if k, err = store.One(passkeyOf)(q.AddPasskey(ctx, db.AddPasskeyParams{
			ID: uuid.New(), PersonID: who.ID, Name: name, Credential: made.ID, Data: data, At: d.clock.Now(),
		})); err != nil {
			return err
		}
		if !who.SecondFactor {
			if recovery, err = d.newRecovery(ctx, q, who.ID); err != nil {
				return err
			}
		}
		return d.secured(ctx, q, tx, who, "passkey_added", "a passkey was added, “"+name+"”", map[string]string{"name": name})
	})
	return k, recovery, err
}

// DropPasskey takes a passkey off.
func (d *Desk) DropPasskey(ctx context.Context, who Person, id uuid.UUID, password string) error {
	if err := d.Confirm(ctx, who, password); err != nil {
		return err
	}
	return d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		row, err := q.LockPerson(ctx, who.ID)
		if err != nil {
			return err
		}
		n, err := q.DropPasskey(ctx, db.DropPasskeyParams{ID: id, PersonID: who.ID})
		if err == nil && n == 0 {
			err = &problem.Problem{Kind: problem.NotFound, Detail: "There is no such passkey of yours."}
		}
		if err != nil {
			return err
		}
		left := row.Passkeys - 1
		if row.Factor != nil {
			left++
		}
		return d.lessFactors(ctx, q, tx, who, left, "passkey_dropped", "a passkey was taken off")
	})
}

// BeginPasskeySignIn asks a browser for a passkey of whoever sits before it.
func (d *Desk) BeginPasskeySignIn() (c Challenge, err error) {
	w, err := d.party()
	if err != nil {
		return c, err
	}
	options, kept, err := w.BeginDiscoverableLogin(webauthn.WithUserVerification(protocol.VerificationRequired))
	if err != nil {
		return c, err
	}
	c.Options = options
	c.Kept, err = json.Marshal(kept)
	return c, err
}

// SignInWithPasskey finds the person whose passkey has signed a challenge. known is the secret by which their browser is
// known from then on.
func (d *Desk) SignInWithPasskey(ctx context.Context, kept, answer []byte, address string) (p Person, known string, err error) {
	from := tryFrom(address)
	if err := d.reserve(ctx, from); err != nil {
		return p, "", err
	}
	w, err := d.party()
	if err != nil {
		return p, "", err
	}
	session, err := challengeOf(kept)
	if err != nil {
		return p, "", err
	}
	parsed, err := protocol.ParseCredentialRequestResponseBytes(answer)
	if err != nil {
		return p, "", errPasskey
	}
	_, used, err := w.ValidatePasskeyLogin(func(_, id []byte) (webauthn.User, error) {
		of, err := uuid.FromBytes(id)
		if err != nil {
			return nil, err
		}
		if p, err = d.Person(ctx, of); err != nil {
			return nil, err
		}
		return d.holder(ctx, p)
	}, session, parsed)
	switch {
	case err != nil:
		return Person{}, "", errPasskey
	case used.Authenticator.CloneWarning: // it has signed less often than before: there are two of it (WebAuthn, section 6.1.1)
		return Person{}, "", &problem.Problem{
			Kind:   problem.Denied,
			Detail: "This passkey seems to have been copied, and is not taken. Sign in by password, and remove it.",
		}
	}
	data, err := json.Marshal(used)
	if err != nil {
		return Person{}, "", err
	}
	now := d.clock.Now()
	if err := errors.Join(d.store.UsePasskey(ctx, db.UsePasskeyParams{Credential: used.ID, Data: data, UsedAt: &now}), d.takeBack(ctx, from)); err != nil {
		return Person{}, "", err
	}
	known, err = d.Known(ctx, p)
	return p, known, err
}

var errPasskey = &problem.Problem{
	Kind:   problem.Denied,
	Detail: "This passkey is not one that is known here, or took too long. Try again, or sign in by password.",
}

// challengeOf reads what was kept of a challenge.
func challengeOf(kept []byte) (s webauthn.SessionData, err error) {
	if json.Unmarshal(kept, &s) != nil {
		err = errPasskey
	}
	return s, err
}
