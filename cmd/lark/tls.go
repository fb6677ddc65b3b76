package main

import (
	"crypto/tls"
	"fmt"
	"net"
	"os"
	"sync"
	"time"
)

// certificates gives the certificate of two files, and reads them again when one has changed: a new one needs no new start.
type certificates struct {
	certificate, key string
	mutex            sync.Mutex
	held             *tls.Certificate
	changed, looked  time.Time
}

// lookAgain is how often it is looked whether the files have changed.
const lookAgain = time.Minute

func (c *certificates) get(*tls.ClientHelloInfo) (*tls.Certificate, error) {
	c.mutex.Lock()
	defer c.mutex.Unlock()
	if c.held != nil && time.Since(c.looked) < lookAgain {
		return c.held, nil
	}
	c.looked = time.Now()
	about, err := os.Stat(c.certificate)
	if err == nil && (c.held == nil || !about.ModTime().Equal(c.changed)) {
		var read tls.Certificate
		if read, err = tls.LoadX509KeyPair(c.certificate, c.key); err == nil {
			c.held, c.changed = &read, about.ModTime()
		}
	}
	if c.held != nil {
		return c.held, nil // the old one is better than none, while the new one is written
	}
	return nil, err
}

// withTLS speaks TLS on a listener, 1.2 and newer.
func withTLS(listener net.Listener, certificate, key string) (net.Listener, error) {
	c := &certificates{certificate: certificate, key: key}
	if _, err := c.get(nil); err != nil {
		return nil, fmt.Errorf("LARK_CERTIFICATE and LARK_CERTIFICATE_KEY: %w", err)
	}
	return tls.NewListener(listener, &tls.Config{MinVersion: tls.VersionTLS12, GetCertificate: c.get, NextProtos: []string{"http/1.1"}}), nil
}
