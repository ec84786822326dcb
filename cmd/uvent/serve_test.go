package main

import (
	"bytes"
	"context"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/json"
	"encoding/pem"
	"io"
	"math/big"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"uvent/httpapi/api"
	"uvent/store/storetest"
)

// heardFrom is what a server writes while it runs.
type heardFrom struct {
	mu   sync.Mutex
	text bytes.Buffer
}

func (s *heardFrom) Write(p []byte) (int, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.text.Write(p)
}

func (s *heardFrom) String() string {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.text.String()
}

// awaits is what a pattern finds in it, once it does.
func (s *heardFrom) awaits(t *testing.T, pattern string) []string {
	t.Helper()
	for end := time.Now().Add(time.Minute); time.Now().Before(end); time.Sleep(20 * time.Millisecond) {
		if found := regexp.MustCompile(pattern).FindStringSubmatch(s.String()); found != nil {
			return found
		}
	}
	t.Fatalf("%q is not said:\n%s", pattern, s)
	return nil
}

// certified writes a certificate for 127.0.0.1 of a number, and tells who believes it.
func certified(t *testing.T, dir string, number int64) *x509.CertPool {
	t.Helper()
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		t.Fatal(err)
	}
	c := x509.Certificate{
		SerialNumber: big.NewInt(number), Subject: pkix.Name{CommonName: "uvent"}, NotBefore: time.Now().Add(-time.Hour), NotAfter: time.Now().Add(time.Hour),
		IPAddresses: []net.IP{net.IPv4(127, 0, 0, 1)}, IsCA: true, BasicConstraintsValid: true, KeyUsage: x509.KeyUsageDigitalSignature | x509.KeyUsageCertSign,
	}
	der, err := x509.CreateCertificate(rand.Reader, &c, &c, key.Public(), key)
	if err != nil {
		t.Fatal(err)
	}
	secret, err := x509.MarshalPKCS8PrivateKey(key)
	if err != nil {
		t.Fatal(err)
	}
	for file, block := range map[string]*pem.Block{"cert.pem": {Type: "CERTIFICATE", Bytes: der}, "key.pem": {Type: "PRIVATE KEY", Bytes: secret}} {
		if err := os.WriteFile(filepath.Join(dir, file), pem.EncodeToMemory(block), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	made, err := x509.ParseCertificate(der)
	if err != nil {
		t.Fatal(err)
	}
	pool := x509.NewCertPool()
	pool.AddCert(made)
	return pool
}

// A server on an empty database, over TLS: the first administrator comes in by the address that it says, and each request
// stands in its log under the name that its answer bears.
func TestAServerFromNothing(t *testing.T) {
	dir := t.TempDir()
	roots := certified(t, dir, 1)
	out, log := &heardFrom{}, &heardFrom{}
	o := serving{
		data:   database{url: storetest.URL(t), dir: dir},
		listen: "127.0.0.1:0", cert: filepath.Join(dir, "cert.pem"), certKey: filepath.Join(dir, "key.pem"), log: "json", requests: true,
		account: "listings@agency.example",
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
	base := out.awaits(t, `Uvent is at (https://\S+)`)[1]
	secret := out.awaits(t, `The first administrator comes in at https://\S+/invitation/(\S+) within a day`)[1]

	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	line := &http.Transport{TLSClientConfig: &tls.Config{RootCAs: roots}}
	defer line.CloseIdleConnections()
	client := &http.Client{Jar: jar, Transport: line}
	ask := func(method, path string, body any) (*http.Response, string) {
		t.Helper()
		data, err := json.Marshal(body)
		if err != nil {
			t.Fatal(err)
		}
		req, err := http.NewRequest(method, base+path, bytes.NewReader(data))
		if err != nil {
			t.Fatal(err)
		}
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set("X-Forwarded-For", "203.0.113.9") // nobody's proxy says so
		resp, err := client.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		defer resp.Body.Close()
		told, err := io.ReadAll(resp.Body)
		if err != nil {
			t.Fatal(err)
		}
		return resp, string(told)
	}
	first := func(email string) map[string]string {
		return map[string]string{"email": email, "name": "Ines Ravell", "password": "harbour-lantern-thimble", "zone": "America/Los_Angeles"}
	}
	join := "/api/joining/" + secret
	for _, step := range []struct {
		method, path string
		body         any
		status       int
		says         string
	}{
		{http.MethodGet, join, nil, 200, `"role":"administrator"`},
		{http.MethodPost, join, first(""), 422, `"path":"email"`},
		{http.MethodPost, join, first("ines@agency.example"), 200, `"role":"administrator"`},
		{http.MethodPost, join, first("other@agency.example"), 404, "cannot be used any more"},
		{http.MethodGet, "/api/clients", nil, 200, "[]"},
		{http.MethodGet, "/api/directories", nil, 200, "[]"}, // the made-up ones are the demo's
	} {
		if resp, told := ask(step.method, step.path, step.body); resp.StatusCode != step.status || !strings.Contains(told, step.says) {
			t.Errorf("%s %s: %d %s, want %d %q", step.method, strings.Replace(step.path, secret, "…", 1), resp.StatusCode, told, step.status, step.says)
		}
	}
	spec, err := api.GetSpec()
	if err != nil {
		t.Fatal(err)
	}
	for path, item := range spec.Paths.Map() { // nothing minds that there is nothing
		if item.Get == nil || strings.Contains(path, "{") || strings.HasSuffix(path, "/changes") {
			continue
		}
		if resp, told := ask(http.MethodGet, path, nil); resp.StatusCode >= 500 {
			t.Errorf("%s: %d %s", path, resp.StatusCode, told)
		}
	}
	if t.Failed() {
		t.Log(log)
	}

	resp, _ := ask(http.MethodGet, "/api/people", nil)
	name := resp.Header.Get("X-Request-Id")
	var entry struct {
		Level, Request, Method, Route, From, Person string
		Status                                      int
	}
	for _, line := range strings.Split(log.String(), "\n") {
		if strings.Contains(line, name) {
			if err := json.Unmarshal([]byte(line), &entry); err != nil {
				t.Error(err)
			}
		}
	}
	if name == "" || entry.Request != name || entry.Route != "/api/people" || entry.Status != 200 || entry.From != "127.0.0.1" || entry.Person == "" {
		t.Errorf("the request %q stands in the log as %+v", name, entry)
	}
	if strings.Contains(log.String(), secret) || strings.Contains(log.String(), "harbour-lantern") {
		t.Error("a secret stands in the log")
	}

	// Another certificate is taken up by those who come next.
	c := &certificate{cert: o.cert, key: o.certKey}
	for _, number := range []int64{1, 2} {
		if number == 2 {
			certified(t, dir, number)
			later := time.Now().Add(time.Second)
			if err := os.Chtimes(o.cert, later, later); err != nil {
				t.Fatal(err)
			}
			c.looked = time.Time{}
		}
		shown, err := c.get(nil)
		if err != nil {
			t.Fatal(err)
		}
		leaf, err := x509.ParseCertificate(shown.Certificate[0])
		if err != nil || leaf.SerialNumber.Int64() != number {
			t.Errorf("the certificate %v is shown, want %d: %v", leaf.SerialNumber, number, err)
		}
	}
}
