package sealing

import (
	"bytes"
	"crypto/ed25519"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"testing/quick"
)

func TestWhatIsSealedIsToldToItsKeyAlone(t *testing.T) {
	k, other := New(), New()
	law := func(plain []byte, about string) bool {
		sealed := k.Seal("second factor", about, plain)
		if len(plain) == 0 {
			return sealed == nil
		}
		got, err := k.Open("second factor", about, sealed)
		if err != nil || !bytes.Equal(got, plain) || len(plain) > 8 && bytes.Contains(sealed, plain) || bytes.Equal(sealed, k.Seal("second factor", about, plain)) {
			return false
		}
		for _, wrong := range []func() ([]byte, error){
			func() ([]byte, error) { return other.Open("second factor", about, sealed) },
			func() ([]byte, error) { return k.Open("something else", about, sealed) },
			func() ([]byte, error) { return k.Open("second factor", about+"x", sealed) },
			func() ([]byte, error) { return k.Open("second factor", about, sealed[:len(sealed)-1]) },
			func() ([]byte, error) { return k.Open("second factor", about, []byte("short")) },
		} {
			if _, err := wrong(); !errors.Is(err, ErrSealed) {
				return false
			}
		}
		return true
	}
	if err := quick.Check(law, nil); err != nil {
		t.Error(err)
	}
}

func TestTokensAndSignatures(t *testing.T) {
	k, other := New(), New()
	one := k.Token("invitation", "1")
	if len(one) != 22 || one != k.Token("invitation", "1") {
		t.Errorf("%q, and then %q", one, k.Token("invitation", "1"))
	}
	for _, else1 := range []string{k.Token("invitation", "2"), k.Token("reset", "1"), other.Token("invitation", "1")} {
		if else1 == one {
			t.Errorf("two have the token %q", one)
		}
	}
	signed := ed25519.Sign(k.Signer("log"), []byte("head"))
	if !ed25519.Verify(k.Signer("log").Public().(ed25519.PublicKey), []byte("head"), signed) ||
		ed25519.Verify(k.Signer("x").Public().(ed25519.PublicKey), []byte("head"), signed) {
		t.Error("a signature is not its key's")
	}
}

func TestTheFileOfAKey(t *testing.T) {
	path := filepath.Join(t.TempDir(), "new", "key")
	var all sync.WaitGroup
	tokens := make([]string, 8)
	for i := range tokens {
		all.Go(func() {
			k, err := Load(path)
			if err != nil {
				t.Error(err)
				return
			}
			tokens[i] = k.Token("", "")
		})
	}
	all.Wait()
	for _, token := range tokens[1:] {
		if token != tokens[0] {
			t.Fatalf("two servers have two keys: %q", tokens)
		}
	}
	left, err := os.ReadDir(filepath.Dir(path))
	if err != nil || len(left) != 1 {
		t.Errorf("%v beside the key, %v", left, err)
	}
	for _, c := range []struct {
		text string
		mode os.FileMode
		says string
	}{{"", 0o600, "64 hexadecimal digits"}, {strings.Repeat("ab", 31), 0o600, "64 hexadecimal digits"}, {strings.Repeat("ab", 32), 0o640, "can be read by others"}} {
		bad := filepath.Join(t.TempDir(), "key")
		if err := os.WriteFile(bad, []byte(c.text), c.mode); err != nil {
			t.Fatal(err)
		}
		if _, err := Load(bad); err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%q, %v: %v", c.text, c.mode, err)
		}
	}
}
