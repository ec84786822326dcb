package main

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"uvent/desk/people"
)

// The disk of the database is full: what is asked is answered 503 and not done; and when there is room again it goes on by
// itself, and does what it is asked again once.
func TestADiskThatIsFull(t *testing.T) {
	t.Parallel()
	const megabytes = 160
	dir, err := os.MkdirTemp("", "uvent-full-") // which whoever runs PostgreSQL may enter
	if err != nil {
		t.Fatal(err)
	}
	defer os.RemoveAll(dir)
	if err := os.Chmod(dir, 0o755); err != nil {
		t.Fatal(err)
	}
	disk := filepath.Join(dir, "disk")
	if err := os.Mkdir(disk, 0o755); err != nil {
		t.Fatal(err)
	}
	if err := syscall.Mount("tmpfs", disk, "tmpfs", 0, fmt.Sprintf("size=%dm", megabytes)); errors.Is(err, syscall.EPERM) {
		t.Skip("only root may make a small disk")
	} else if err != nil {
		t.Fatal(err)
	}
	defer func() {
		if err := syscall.Unmount(disk, syscall.MNT_DETACH); err != nil {
			t.Error(err)
		}
	}()
	out, log := &heardFrom{}, &heardFrom{}
	o := serving{data: database{dir: disk}, listen: "127.0.0.1:0", log: "text", account: "listings@agency.example"}
	const email, password = "ines@agency.example", "harbour-lantern-thimble"
	if err := o.data.with(t.Context(), func(a *app) error {
		_, err := a.desk.People.AddPerson(t.Context(), people.Person{Email: email, Name: "Ines Roake", Zone: "America/Los_Angeles"}, password)
		return err
	}); err != nil {
		t.Fatal(err)
	}
	ctx, end := context.WithCancel(t.Context())
	ended := make(chan error, 1)
	go func() { ended <- o.run(ctx, out, log) }()
	defer func() {
		end()
		if err := <-ended; err != nil {
			t.Error(err)
		}
	}()
	base := out.awaits(t, `Uvent is at (http://\S+)`)[1]
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	browser := &http.Client{Jar: jar}
	ask := func(method, path, key, body string) (int, string) {
		t.Helper()
		req, err := http.NewRequest(method, base+path, strings.NewReader(body))
		if err != nil {
			t.Fatal(err)
		}
		req.Header.Set("Content-Type", "application/json")
		if key != "" {
			req.Header.Set("Idempotency-Key", key)
		}
		resp, err := browser.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		defer resp.Body.Close()
		said, err := io.ReadAll(resp.Body)
		if err != nil {
			t.Fatal(err)
		}
		return resp.StatusCode, string(said)
	}
	if status, said := ask(http.MethodPost, "/api/session", "", fmt.Sprintf(`{"email": %q, "password": %q}`, email, password)); status != http.StatusOK {
		t.Fatalf("%d %s", status, said)
	}
	client := func(n int) string { // with as much as a client may say
		return fmt.Sprintf(`{"name": "Client %d", "legal_name": "Client %d LLC", "owner_name": "Oda", "owner_email": "oda@client.example"}`, n, n)
	}
	if status, said := ask(http.MethodPost, "/api/clients", "first", client(0)); status != http.StatusCreated {
		t.Fatalf("%d %s", status, said)
	}

	filler := filepath.Join(disk, "filler")
	fill := func() {
		f, err := os.OpenFile(filler, os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
		if err != nil {
			t.Fatal(err)
		}
		defer f.Close()
		for _, part := range []int{1 << 20, 4 << 10, 1} {
			for err = nil; err == nil; _, err = f.Write(bytes.Repeat([]byte{1}, part)) {
			}
		}
	}
	draft := strings.Repeat("harbour lantern thimble ", 1000)
	refused, last := 0, ""
	for n, until := 1, time.Now().Add(time.Minute); refused == 0 && time.Now().Before(until); n++ {
		fill()
		status, said := ask(http.MethodPost, "/api/clients", fmt.Sprint("key-", n), client(n))
		if status == http.StatusCreated { // there was room left in what the database had taken
			status, said = ask(http.MethodPut, "/api/drafts/new%20client", "", fmt.Sprintf(`{"body": %q}`, fmt.Sprint(n, draft)))
		}
		switch {
		case status == http.StatusServiceUnavailable:
			refused, last = n, said
		case status >= 500:
			t.Fatalf("with a full disk it answers %d %s\n%s", status, said, log)
		}
	}
	if refused == 0 || !strings.Contains(last, "urn:uvent:") || !strings.Contains(last, "disk of Uvent") && !strings.Contains(last, "does not answer") {
		t.Fatalf("a full disk is not noticed: %s", last)
	}
	if err := os.Remove(filler); err != nil {
		t.Fatal(err)
	}
	key := "after"
	for until := time.Now().Add(time.Minute); ; time.Sleep(100 * time.Millisecond) {
		status, said := ask(http.MethodPost, "/api/clients", key, client(100_000))
		if status == http.StatusCreated {
			break
		}
		if time.Now().After(until) {
			t.Fatalf("with room again it answers %d %s\n%s", status, said, log)
		}
	}
	if _, said := ask(http.MethodGet, "/api/clients", "", ""); strings.Count(said, `"Client 100000"`) != 1 || !strings.Contains(said, `"Client 0"`) {
		t.Errorf("there are %s", said)
	}
}
