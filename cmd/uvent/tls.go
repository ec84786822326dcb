package main

import (
	"crypto/tls"
	"errors"
	"log/slog"
	"os"
	"sync"
	"time"
)

// certificate is one in files, read anew when they change, as they do every few weeks.
type certificate struct {
	cert, key string
	log       *slog.Logger

	mu     sync.Mutex
	looked time.Time
	of     time.Time // when the files that were read last had changed
	now    *tls.Certificate
}

// How often it is looked whether the files have changed.
const certificateLooked = 10 * time.Second

// serverTLS is how TLS is served with a certificate in files; nil where none is named.
func serverTLS(cert, key string, log *slog.Logger) (*tls.Config, error) {
	if cert == "" && key == "" {
		return nil, nil
	}
	if cert == "" || key == "" {
		return nil, errors.New("--tls-cert and --tls-key go together")
	}
	c := &certificate{cert: cert, key: key, log: log}
	if err := c.read(); err != nil {
		return nil, err
	}
	return &tls.Config{MinVersion: tls.VersionTLS12, GetCertificate: c.get}, nil
}

// get is the one to show. Files that cannot be read leave the last in place.
func (c *certificate) get(*tls.ClientHelloInfo) (*tls.Certificate, error) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if time.Since(c.looked) > certificateLooked {
		if err := c.read(); err != nil {
			c.log.Error("the certificate cannot be read anew; the last is shown", "error", err)
		}
	}
	return c.now, nil
}

func (c *certificate) read() error {
	c.looked = time.Now()
	changed, err := lastChange(c.cert, c.key)
	if err != nil || changed.Equal(c.of) {
		return err
	}
	pair, err := tls.LoadX509KeyPair(c.cert, c.key)
	if err != nil {
		return err
	}
	c.now, c.of = &pair, changed
	return nil
}

func lastChange(files ...string) (last time.Time, err error) {
	for _, file := range files {
		info, err := os.Stat(file)
		if err != nil {
			return last, err
		}
		if info.ModTime().After(last) {
			last = info.ModTime()
		}
	}
	return last, nil
}
