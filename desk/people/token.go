package people

import (
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
)

// NewToken is a secret that opens something, and what is kept of it.
func NewToken() (secret string, hash []byte) {
	b := make([]byte, 16)
	rand.Read(b)
	secret = base64.RawURLEncoding.EncodeToString(b)
	return secret, HashOf(secret)
}

// HashOf is what is kept of a secret.
func HashOf(secret string) []byte {
	h := sha256.Sum256([]byte(secret))
	return h[:]
}

// Secret names a secret that is told by letter: what it is for, and the id of that. The secret itself is derived when the
// letter is sent, so that it waits nowhere to be read.
type Secret struct {
	For, ID string
}

// Here is where in a letter its secret stands.
const Here = "{secret}"

// SecretOf is the secret itself.
func (d *Desk) SecretOf(s Secret) string { return d.key.Token(s.For, s.ID) }
