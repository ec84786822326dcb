package people

import (
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"strings"

	"golang.org/x/crypto/argon2"
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
