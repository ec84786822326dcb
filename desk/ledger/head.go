package ledger

import (
	"bytes"
	"context"
	"crypto/ed25519"
	"encoding/base64"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"uvent/desk/problem"
)

// Head is what the log's chain of seals ended with at some time. Kept elsewhere, it shows whether the log, chain and all,
// was written anew since by somebody who owns the database.
type Head struct {
	At       time.Time `json:"at"`
	Position int64     `json:"position"`
	Hash     string    `json:"hash"` // hexadecimal
	By       string    `json:"by"`   // the public key that it is signed with, in base64 (Ed25519, RFC 8032)
}

// signed is a head as it goes out: its text, to the byte, and the signature of that.
type signed struct {
	Head      json.RawMessage `json:"head"`
	Signature string          `json:"signature"` // base64
}

// Head signs what the log ends with now, as one line of JSON; empty where nothing is sealed yet.
func (d *Desk) Head(ctx context.Context, key ed25519.PrivateKey, at time.Time) (line string, position int64, err error) {
	last, err := d.store.LastSeal(ctx)
	if err != nil {
		return "", 0, problem.IgnoreNoRows(err)
	}
	head, err := json.Marshal(
		Head{at.UTC().Truncate(time.Second), last.Position, hex.EncodeToString(last.Hash), base64.StdEncoding.EncodeToString(key.Public().(ed25519.PublicKey))},
	)
	if err != nil {
		return "", 0, err
	}
	out, err := json.Marshal(signed{head, base64.StdEncoding.EncodeToString(ed25519.Sign(key, head))})
	return string(out), last.Position, err
}

// ReadHead reads a line that Head has made. The error says why it is none: it is no such line, or was changed, or was signed
// by another key than the one that is wanted; nil wants none in particular.
func ReadHead(line string, by ed25519.PublicKey) (h Head, err error) {
	var s signed
	if err := json.Unmarshal([]byte(line), &s); err != nil {
		return h, fmt.Errorf("it is no head of a log: %w", err)
	}
	if err := json.Unmarshal(s.Head, &h); err != nil {
		return h, fmt.Errorf("it is no head of a log: %w", err)
	}
	key, err := base64.StdEncoding.DecodeString(h.By)
	if err != nil || len(key) != ed25519.PublicKeySize {
		return h, errors.New("it is no head of a log: it names no key")
	}
	signature, err := base64.StdEncoding.DecodeString(s.Signature)
	switch {
	case err != nil || !ed25519.Verify(key, s.Head, signature):
		return h, errors.New("it was changed since it was signed")
	case by != nil && !bytes.Equal(key, by):
		return h, errors.New("it was signed by another key than this server's")
	}
	return h, nil
}

// VerifyHeads holds the log against heads that went out, a line each, and tells how many agree and what does not.
func (d *Desk) VerifyHeads(ctx context.Context, text string, by ed25519.PublicKey) (agree int, faults []string, err error) {
	for i, line := range strings.Split(text, "\n") {
		if strings.TrimSpace(line) == "" {
			continue
		}
		h, wrong := ReadHead(line, by)
		if wrong != nil {
			faults = append(faults, fmt.Sprintf("line %d: %v", i+1, wrong))
			continue
		}
		hash, err := d.store.SealAt(ctx, h.Position)
		if problem.IgnoreNoRows(err) != nil {
			return agree, faults, err
		}
		switch {
		case err != nil:
			faults = append(faults, fmt.Sprintf("line %d: on %s the log had %d events; it is shorter now", i+1, h.At.Format("2006-01-02"), h.Position))
		case hex.EncodeToString(hash) != h.Hash:
			faults = append(faults, fmt.Sprintf("line %d: of the first %d events, as they were on %s, some were changed", i+1, h.Position, h.At.Format("2006-01-02")))
		default:
			agree++
		}
	}
	return agree, faults, nil
}
