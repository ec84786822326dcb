package people

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"runtime/debug"
	"strings"
	"time"
	"unicode"

	"github.com/ccojocar/zxcvbn-go"
	"golang.org/x/crypto/argon2"

	"uvent/desk/problem"
)

// Cost is what guessing a password costs, as argon2id counts it.
type Cost struct {
	Time    uint32 // passes
	Memory  uint32 // KiB
	Threads uint8
}

// Dear is the cost that RFC 9106, section 4, recommends where memory is scarce.
var Dear = Cost{Time: 3, Memory: 64 << 10, Threads: 2}

const hashBytes = 32

// What a password is at least, and what of an email or a password is looked at.
const (
	leastPassword = 12
	leastScore    = 3   // as zxcvbn has it: 0 to 4, 3 withstands ten thousand million guesses
	mostPassword  = 256 // bytes
	mostScored    = 64  // letters; what stands behind them only makes it better
	mostEmail     = 254 // RFC 5321, section 4.5.3.1.3
)

// weakness says why a password will not do; empty where it will. about are words that whoever guesses knows: the person's
// name and email, and whose they are.
func weakness(password string, about ...string) string {
	letters := []rune(password)
	switch {
	case len(letters) < leastPassword:
		return fmt.Sprintf("a password has at least %d characters", leastPassword)
	case len(password) > mostPassword:
		return fmt.Sprintf("a password has at most %d bytes", mostPassword)
	}
	known := []string{"uvent", "listings", "directory"}
	for _, a := range about {
		known = append(known, strings.FieldsFunc(strings.ToLower(a), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })...)
	}
	if zxcvbn.PasswordStrength(string(letters[:min(len(letters), mostScored)]), known).Score < leastScore {
		return "it is easy to guess: it is made of common passwords, names, dates or the same again; take some words that do not belong together"
	}
	return ""
}

// mostHashing is how many passwords are hashed at once: each takes a core, and the memory that its cost says.
const mostHashing = 2

// worthGiving is the memory of a hash, in KiB, from which on giving it back is worth looking through all of ours.
const worthGiving = 16 << 10

// hashingPatience is how long somebody waits for their turn.
const hashingPatience = 3 * time.Second

// turn waits until a password may be hashed, and tells how to end that. The problem is Busy where too many wait.
func (d *Desk) turn(ctx context.Context) (end func(), err error) {
	patience := time.NewTimer(hashingPatience)
	defer patience.Stop()
	select {
	case d.hashing <- struct{}{}:
		return func() {
			if d.cost.Memory >= worthGiving {
				debug.FreeOSMemory() // what a hash took is given back before the next one takes as much
			}
			<-d.hashing
		}, nil
	case <-ctx.Done():
		return nil, ctx.Err()
	case <-patience.C:
		return nil, &problem.Problem{Kind: problem.Busy, After: 5 * time.Second, Detail: "Too many sign in at this moment. Try again in a few seconds."}
	}
}

// hash derives what is kept of a password, when it is its turn.
func (d *Desk) hash(ctx context.Context, password string) (string, error) {
	end, err := d.turn(ctx)
	if err != nil {
		return "", err
	}
	defer end()
	return d.cost.hash(password), nil
}

// matches reports whether a password has a hash, when it is its turn.
func (d *Desk) matches(ctx context.Context, password, hashed string) (bool, error) {
	end, err := d.turn(ctx)
	if err != nil {
		return false, err
	}
	defer end()
	return d.cost.matches(password, hashed), nil
}

// hash derives what is kept of a password, in the PHC string format.
func (c Cost) hash(password string) string {
	salt := make([]byte, 16)
	rand.Read(salt)
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, c.Memory, c.Time, c.Threads,
		base64.RawStdEncoding.EncodeToString(salt), base64.RawStdEncoding.EncodeToString(c.derive(password, salt)))
}

func (c Cost) derive(password string, salt []byte) []byte {
	return argon2.IDKey([]byte(password), salt, c.Time, c.Memory, c.Threads, hashBytes)
}

// matches reports whether a password has a hash, by the cost that the hash was made with. It
// takes as long when the hash cannot be read, so that time tells nobody which emails exist.
func (c Cost) matches(password, hashed string) bool {
	parts := strings.Split(hashed, "$")
	var salt, want []byte
	if len(parts) == 6 {
		made := Cost{}
		if n, err := fmt.Sscanf(parts[3], "m=%d,t=%d,p=%d", &made.Memory, &made.Time, &made.Threads); n == 3 && err == nil && made.Time > 0 && made.Threads > 0 {
			c = made
		}
		salt, _ = base64.RawStdEncoding.DecodeString(parts[4])
		want, _ = base64.RawStdEncoding.DecodeString(parts[5])
	}
	got := c.derive(password, salt)
	return len(want) == hashBytes && subtle.ConstantTimeCompare(got, want) == 1
}
