package rig

import (
	"bytes"
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"

	"uvent/desk"
)

// Refused checks that an error is a problem of a kind that says something.
func Refused(t testing.TB, err error, kind desk.ProblemKind, says string) {
	t.Helper()
	var p *desk.Problem
	if !errors.As(err, &p) || p.Kind != kind {
		t.Fatalf("got %v, want a problem of kind %d that says %q", err, kind, says)
	}
	all := p.Detail
	for _, f := range p.Fields {
		all += " " + f.Path + ": " + f.Message
	}
	if !strings.Contains(all, says) {
		t.Fatalf("it says %q, want %q", all, says)
	}
}

// Eventually waits for what is done in the background.
func Eventually(t testing.TB, so func() bool) {
	t.Helper()
	for end := time.Now().Add(60 * time.Second); !so(); time.Sleep(10 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatal("it never came to be so")
		}
	}
}

// Tasks are the rows of Today.
func Tasks(t desk.Today, err error) ([]desk.Cell, error) { return t.Rows, err }

// On is the same location on another directory.
func On(p desk.Place, directory string) desk.Place {
	p.Directory = directory
	return p
}

// ManyRows is a file of n locations, fifty to a client.
func ManyRows(n int) []byte {
	var b bytes.Buffer
	b.WriteString("Client,Location,Name,Street,Town,State,Zip,Country,Phone,Category,Hours\n")
	for i := range n {
		fmt.Fprintf(&b, "Client %d,Shop %d,Spokeshave Cycle Works,%d Tern Street,Minnow Bay,WA,98990,US,(360) 555-01%02d,Bicycle repair,\"Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-%02d:00\"\n", i/50, i, i+1, i%100, 13+i%6)
	}
	return b.Bytes()
}
