package people

import (
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
)

// NewToken is a secret that opens a page, and what is kept of it.
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
