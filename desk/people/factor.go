package people

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base32"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/pquerna/otp/totp"

	"uvent/core/record/record"
	"uvent/desk/problem"
	"uvent/store/db"
)

// A second factor is an app that shows codes (RFC 6238), or a passkey. Where somebody has one, their password alone does
// not sign them in.
const (
	factorStep  = 30 * time.Second
	factorBegun = 15 * time.Minute // how long a new one waits to be confirmed
	recoveries  = 10               // codes, each for one time
)

var errCode = problem.Fields([]record.Problem{{Path: "code", Message: "it is not the code that the app shows now, or it was used already"}})

// checkFactor reports by its error whether a code is one of somebody's second factor; nil where they have none.
func (d *Desk) checkFactor(ctx context.Context, p Person, code string) error {
	denied := func(detail string) error {
		return &problem.Problem{
			Kind: problem.Denied, Detail: detail,
			Fields: []record.Problem{{Path: "code", Message: "the six digits that your app shows now, or a recovery code"}},
		}
	}
	if !p.SecondFactor {
		return nil
	}
	if strings.TrimSpace(code) == "" {
		return denied("Give the code of your second factor too, or sign in with your passkey.")
	}
	used, err := d.useCode(ctx, p.ID, code)
	if err == nil && !used {
		err = denied("That is not the code that your app shows now, or it was used already.")
	}
	return err
}

// useCode uses a code of somebody's app, or a recovery code of theirs; each signs in once.
func (d *Desk) useCode(ctx context.Context, id uuid.UUID, code string) (used bool, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		row, err := q.LockPerson(ctx, id)
		if err != nil {
			return err
		}
		secret, err := d.key.Open(forFactor, id.String(), row.Factor)
		if err != nil {
			return problem.Conflictf("Your second factor was set under another key of this server and cannot be read. Use a recovery code.")
		}
		if step := stepOf(string(secret), code, row.FactorStep); step > 0 {
			used = true
			return q.UseFactorStep(ctx, db.UseFactorStepParams{ID: id, FactorStep: step})
		}
		now := time.Now()
		n, err := q.UseRecoveryCode(ctx, db.UseRecoveryCodeParams{PersonID: id, Hash: HashOf(plainRecovery(code)), UsedAt: &now})
		used = n > 0
		return err
	})
	return used, err
}

const forFactor = "second factor"

// stepOf is the step of time that a code is of, now or just before or after, and later than the last one that was used;
// 0 where it is none.
func stepOf(secret, code string, last int64) int64 {
	code = strings.ReplaceAll(strings.TrimSpace(code), " ", "")
	if secret == "" {
		return 0
	}
	for _, off := range []time.Duration{0, -factorStep, factorStep} {
		at := time.Now().Add(off)
		want, err := totp.GenerateCode(secret, at)
		if step := at.Unix() / int64(factorStep.Seconds()); err == nil && step > last && subtle.ConstantTimeCompare([]byte(want), []byte(code)) == 1 {
			return step
		}
	}
	return 0
}

// secure confirms that somebody who is signed in may change how they sign in: by their password, and by a code where they
// have a second factor.
func (d *Desk) secure(ctx context.Context, who Person, password, code string) error {
	if err := d.Confirm(ctx, who, password); err != nil || !who.SecondFactor {
		return err
	}
	t := tryOf("second factor", who)
	if err := d.reserve(ctx, t); err != nil {
		return err
	}
	used, err := d.useCode(ctx, who.ID, code)
	if err != nil {
		return err
	}
	if !used {
		return errCode
	}
	return d.succeeded(ctx, t)
}

// BeginFactor begins an app's codes and tells their secret, as an otpauth address. They count once a code was given back.
// Those that are there already work until then.
func (d *Desk) BeginFactor(ctx context.Context, who Person, password, code string) (secret, address string, err error) {
	if err := d.secure(ctx, who, password, code); err != nil {
		return "", "", err
	}
	key, err := totp.Generate(totp.GenerateOpts{Issuer: "Uvent", AccountName: who.Email})
	if err != nil {
		return "", "", err
	}
	now := time.Now()
	return key.Secret(), key.URL(), d.store.BeginFactor(ctx, db.BeginFactorParams{
		ID: who.ID, FactorBegun: d.key.Seal(forFactor, who.ID.String(), []byte(key.Secret())), FactorBegunAt: &now,
	})
}

// KeepFactor keeps the app's codes that were begun, once one of them shows that they are at hand, and tells the recovery
// codes this once.
func (d *Desk) KeepFactor(ctx context.Context, who Person, code string) (recovery []string, err error) {
	t := tryOf("second factor", who)
	if err := d.reserve(ctx, t); err != nil {
		return nil, err
	}
	err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		row, err := q.LockPerson(ctx, who.ID)
		if err != nil {
			return err
		}
		if row.FactorBegunAt == nil || time.Since(*row.FactorBegunAt) > factorBegun {
			return problem.Conflictf("Begin it again: it was not confirmed within %d minutes.", int(factorBegun.Minutes()))
		}
		secret, err := d.key.Open(forFactor, who.ID.String(), row.FactorBegun)
		if err != nil {
			return err
		}
		step := stepOf(string(secret), code, 0)
		if step == 0 {
			return errCode
		}
		if err := q.SetFactor(ctx, db.SetFactorParams{ID: who.ID, Factor: row.FactorBegun, FactorStep: step}); err != nil {
			return err
		}
		if recovery, err = d.newRecovery(ctx, q, who.ID); err != nil {
			return err
		}
		return d.secured(ctx, q, tx, who, "second_factor_set", "the codes of an app were set up for signing in", map[string]string{})
	})
	if err != nil {
		return nil, err
	}
	return recovery, d.succeeded(ctx, t)
}

// DropFactor takes the app's codes off.
func (d *Desk) DropFactor(ctx context.Context, who Person, password, code string) error {
	if err := d.secure(ctx, who, password, code); err != nil {
		return err
	}
	return d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		row, err := q.LockPerson(ctx, who.ID)
		if err != nil {
			return err
		}
		if err := q.SetFactor(ctx, db.SetFactorParams{ID: who.ID}); err != nil {
			return err
		}
		return d.lessFactors(ctx, q, tx, who, row.Passkeys, "second_factor_dropped", "the codes of an app were taken off")
	})
}

// lessFactors notes that a factor was taken off, where that may be: not the last one that a role asks for.
func (d *Desk) lessFactors(ctx context.Context, q *db.Queries, tx pgx.Tx, who Person, left int32, kind, says string) error {
	if left == 0 {
		must, err := q.RoleTakesFactor(ctx, string(who.Role))
		if err != nil {
			return err
		}
		if must {
			return problem.Conflictf("Your role asks for a second factor. Replace it, or add a passkey first.")
		}
		if err := q.DropRecoveryCodes(ctx, who.ID); err != nil {
			return err
		}
	}
	return d.secured(ctx, q, tx, who, kind, says, map[string]string{})
}

// NewRecovery makes new recovery codes in place of those that are left.
func (d *Desk) NewRecovery(ctx context.Context, who Person, password, code string) (recovery []string, err error) {
	if !who.SecondFactor {
		return nil, problem.Conflictf("Recovery codes stand in for a second factor; set one up first.")
	}
	if err := d.secure(ctx, who, password, code); err != nil {
		return nil, err
	}
	err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		if recovery, err = d.newRecovery(ctx, q, who.ID); err != nil {
			return err
		}
		return d.secured(ctx, q, tx, who, "recovery_codes_made", "new recovery codes were made", map[string]string{})
	})
	return recovery, err
}

// newRecovery makes recovery codes: 50 random bits each, in two groups of five letters and digits.
func (d *Desk) newRecovery(ctx context.Context, q *db.Queries, id uuid.UUID) (codes []string, err error) {
	var hashes [][]byte
	for range recoveries {
		b := make([]byte, 7)
		rand.Read(b)
		plain := strings.ToLower(base32.StdEncoding.EncodeToString(b))[:10]
		codes, hashes = append(codes, plain[:5]+"-"+plain[5:]), append(hashes, HashOf(plain))
	}
	if err := q.DropRecoveryCodes(ctx, id); err != nil {
		return nil, err
	}
	return codes, q.AddRecoveryCodes(ctx, db.AddRecoveryCodesParams{PersonID: id, Hashes: hashes})
}

func plainRecovery(code string) string {
	return strings.NewReplacer("-", "", " ", "").Replace(strings.ToLower(strings.TrimSpace(code)))
}

// SealOld seals second factors that are kept in clear, as they were once.
func (d *Desk) SealOld(ctx context.Context) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		rows, err := q.ClearFactors(ctx)
		for _, row := range rows {
			if err := q.SealFactor(ctx, db.SealFactorParams{ID: row.ID, Factor: d.key.Seal(forFactor, row.ID.String(), []byte(row.SecondFactor))}); err != nil {
				return err
			}
		}
		return err
	})
}

// RolesWithFactor are the roles that ask for a second factor.
func (d *Desk) RolesWithFactor(ctx context.Context) (out []Role, err error) {
	rows, err := d.store.RoleRules(ctx)
	for _, r := range rows {
		if r.SecondFactor {
			out = append(out, Role(r.Role))
		}
	}
	return out, err
}

// AskForFactor says of which roles a second factor is asked. Whoever has none can do nothing else before they have set one.
func (d *Desk) AskForFactor(ctx context.Context, who Actor, of map[Role]bool) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		data := map[string]string{}
		for _, r := range Roles {
			if err := q.SetRoleRule(ctx, db.SetRoleRuleParams{Role: string(r), SecondFactor: of[r]}); err != nil {
				return err
			}
			if of[r] {
				data[string(r)] = "second factor"
			}
		}
		return d.ledger.NoteAbout(ctx, q, who, "roles_secured", data)
	})
}
