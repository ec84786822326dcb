// Package sealing keeps secrets that a database holds from whoever reads the database, or a copy of it: they are sealed with
// a key that lies in a file beside it. Secrets that are told to people by letter are derived from the same key, so that they
// are kept nowhere.
package sealing

import (
	"crypto/aes"
	"crypto/cipher"
	"crypto/ed25519"
	"crypto/hkdf"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
)

// Key is what seals; all servers on one database have the same.
type Key struct{ secret []byte }

const keyBytes = 32

// ErrSealed is that something was sealed with another key, for another purpose, or was changed.
var ErrSealed = errors.New("it was sealed with another key, or was changed since")

// New makes a key that is kept nowhere.
func New() Key {
	k := Key{make([]byte, keyBytes)}
	rand.Read(k.secret)
	return k
}

// Load reads the key of a file, as 64 hexadecimal digits. Where there is none yet it makes one, which its owner alone may
// read; one that others may read is refused.
func Load(path string) (Key, error) {
	info, err := os.Stat(path)
	if errors.Is(err, fs.ErrNotExist) {
		return begin(path)
	}
	if err != nil {
		return Key{}, err
	}
	if info.Mode().Perm()&0o077 != 0 {
		return Key{}, fmt.Errorf("%s can be read by others (%v): make it readable by its owner alone (chmod 600)", path, info.Mode().Perm())
	}
	text, err := os.ReadFile(path)
	if err != nil {
		return Key{}, err
	}
	secret, err := hex.DecodeString(strings.TrimSpace(string(text)))
	if err != nil || len(secret) != keyBytes {
		return Key{}, fmt.Errorf("%s is no key: it has to hold %d hexadecimal digits", path, 2*keyBytes)
	}
	return Key{secret}, nil
}

// begin makes a key and its file. Of two that do so at once the second reads what the first made.
func begin(path string) (Key, error) {
	k := New()
	if err := os.MkdirAll(filepath.Dir(path), 0o700); err != nil {
		return Key{}, err
	}
	whole, err := os.CreateTemp(filepath.Dir(path), ".key-*") // which its owner alone may read
	if err != nil {
		return Key{}, err
	}
	defer os.Remove(whole.Name())
	_, err = whole.WriteString(hex.EncodeToString(k.secret) + "\n")
	if err = errors.Join(err, whole.Sync(), whole.Close()); err != nil {
		return Key{}, err
	}
	if err := os.Link(whole.Name(), path); errors.Is(err, fs.ErrExist) {
		return Load(path)
	} else if err != nil {
		return Key{}, err
	}
	return k, nil
}

// of is the key for one purpose (HKDF, RFC 5869).
func (k Key) of(purpose string) []byte {
	out, err := hkdf.Key(sha256.New, k.secret, nil, "uvent "+purpose, keyBytes)
	if err != nil {
		panic(err) // 32 bytes can always be had
	}
	return out
}

func (k Key) gcm(purpose string) cipher.AEAD {
	block, err := aes.NewCipher(k.of(purpose))
	if err != nil {
		panic(err) // 32 bytes are a key of AES-256
	}
	gcm, err := cipher.NewGCMWithRandomNonce(block)
	if err != nil {
		panic(err)
	}
	return gcm
}

// Seal seals something for one purpose and whoever it is about (AES-256-GCM, NIST SP 800-38D). What is empty stays so.
func (k Key) Seal(purpose, about string, plain []byte) []byte {
	if len(plain) == 0 {
		return nil
	}
	return k.gcm(purpose).Seal(nil, nil, plain, []byte(about))
}

// Open tells what was sealed; ErrSealed where it cannot.
func (k Key) Open(purpose, about string, sealed []byte) ([]byte, error) {
	if len(sealed) == 0 {
		return nil, nil
	}
	plain, err := k.gcm(purpose).Open(nil, nil, sealed, []byte(about))
	if err != nil {
		return nil, ErrSealed
	}
	return plain, nil
}

// Token is the secret of something that has an id: 128 bits, the same whenever it is asked for.
func (k Key) Token(purpose, id string) string {
	mac := hmac.New(sha256.New, k.of(purpose))
	mac.Write([]byte(id))
	return base64.RawURLEncoding.EncodeToString(mac.Sum(nil)[:16])
}

// Signer signs for one purpose (Ed25519, RFC 8032).
func (k Key) Signer(purpose string) ed25519.PrivateKey {
	return ed25519.NewKeyFromSeed(k.of(purpose))
}
