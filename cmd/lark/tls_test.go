package main

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"io"
	"math/big"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"testing"
	"time"
)

// certificateOf writes a certificate of its own of a number into two files.
func certificateOf(t *testing.T, number int64, certificate, key string) {
	t.Helper()
	private, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		t.Fatal(err)
	}
	about := &x509.Certificate{
		SerialNumber: big.NewInt(number),
		Subject:      pkix.Name{CommonName: "lark.example"},
		DNSNames:     []string{"lark.example"},
		NotBefore:    time.Now().Add(-time.Hour),
		NotAfter:     time.Now().Add(time.Hour),
	}
	signed, err := x509.CreateCertificate(rand.Reader, about, about, &private.PublicKey, private)
	if err != nil {
		t.Fatal(err)
	}
	written, err := x509.MarshalPKCS8PrivateKey(private)
	if err != nil {
		t.Fatal(err)
	}
	for name, block := range map[string]*pem.Block{certificate: {Type: "CERTIFICATE", Bytes: signed}, key: {Type: "PRIVATE KEY", Bytes: written}} {
		if err := os.WriteFile(name, pem.EncodeToMemory(block), 0o600); err != nil {
			t.Fatal(err)
		}
	}
}

// TestTheProgramSpeaksTLS holds that a certificate is used, a newer one taken without a new start, a broken one not, and old
// TLS refused.
func TestTheProgramSpeaksTLS(t *testing.T) {
	certificate, key := filepath.Join(t.TempDir(), "c.pem"), filepath.Join(t.TempDir(), "k.pem")
	plain, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := withTLS(plain, certificate, key); err == nil {
		t.Error("a certificate that is not there is taken")
	}
	certificateOf(t, 1, certificate, key)
	c := &certificates{certificate: certificate, key: key}
	serial := func() int64 {
		c.looked = time.Time{} // a minute later
		got, err := c.get(nil)
		if err != nil {
			t.Fatal(err)
		}
		return got.Leaf.SerialNumber.Int64()
	}
	later := func(seconds time.Duration) {
		at := time.Now().Add(seconds * time.Second)
		if err := os.Chtimes(certificate, at, at); err != nil {
			t.Fatal(err)
		}
	}
	first := serial()
	certificateOf(t, 2, certificate, key)
	later(5)
	second := serial()
	if err := os.WriteFile(certificate, []byte("half"), 0o600); err != nil {
		t.Fatal(err)
	}
	later(10)
	if third := serial(); first != 1 || second != 2 || third != 2 {
		t.Errorf("the certificates are %d, %d, %d", first, second, third)
	}
	certificateOf(t, 3, certificate, key)
	listener, err := withTLS(plain, certificate, key)
	if err != nil {
		t.Fatal(err)
	}
	go func() {
		_ = http.Serve(listener, http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { _, _ = io.WriteString(w, "well") }))
	}()
	defer func() { _ = listener.Close() }()
	client := func(most uint16) *http.Client {
		return &http.Client{Transport: &http.Transport{TLSClientConfig: &tls.Config{InsecureSkipVerify: true, MaxVersion: most}}}
	}
	answer, err := client(0).Get("https://" + plain.Addr().String())
	if err != nil || answer.TLS.PeerCertificates[0].SerialNumber.Int64() != 3 {
		t.Errorf("over TLS: %v", err)
	}
	if _, err := client(tls.VersionTLS11).Get("https://" + plain.Addr().String()); err == nil {
		t.Error("TLS 1.1 is spoken")
	}
}
