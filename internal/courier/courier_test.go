package courier

import (
	"context"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
)

// TestNobodyInsideIsCalled holds which addresses are refused: by what they say, and by where they lead.
func TestNobodyInsideIsCalled(t *testing.T) {
	c := New(nil)
	for _, address := range []string{"http://other.example/told", "https://localhost/", "https://127.0.0.1/", "https://10.0.0.1/",
		"https://[::1]/",
		"https://169.254.169.254/latest", "https://192.168.1.1/", "https://[fd00::1]/", "https://[::ffff:10.0.0.1]/", "https://0.0.0.0/",
		"https://100.64.0.1/", "https://224.0.0.1/", "https://intranet/", "ftp://other.example/",
		"https://[64:ff9b::a00:1]/", "https://198.18.0.1/"} {
		if err := c.Fits(address); err == nil {
			t.Errorf("%s is called", address)
		}
	}
	for _, address := range []string{"https://other.example/told", "https://9.9.9.9/told", "https://other.example:8443/"} {
		if err := c.Fits(address); err != nil {
			t.Errorf("%s is not called: %v", address, err)
		}
	}
	// A name that leads inside is found out at the connection.
	for _, at := range []string{"127.0.0.1:443", "10.1.2.3:443", "[::1]:443", "[fe80::1]:443"} {
		if isOutside(at) == nil {
			t.Errorf("%s is outside", at)
		}
	}
}

// TestCallsThatFail holds that a redirect, a refusal and a silent host are failures in words, and that what is sent arrives.
func TestCallsThatFail(t *testing.T) {
	var got http.Header
	other := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		switch r.URL.Path {
		case "/moved":
			http.Redirect(w, r, "/told", http.StatusFound)
		case "/no":
			http.Error(w, "not\x00now", http.StatusTeapot)
		default:
			got = r.Header
		}
	}))
	defer other.Close()
	host := strings.TrimPrefix(other.URL, "http://")
	c := New([]string{host})
	if err := c.Send(context.Background(), other.URL+"/told", []byte("{}"), map[string]string{"Lark-Event": "one"}); err != nil ||
		got.Get("Lark-Event") != "one" {
		t.Errorf("a call: %v, %v", err, got)
	}
	for path, says := range map[string]string{"/moved": "302", "/no": "418"} {
		if err := c.Send(context.Background(), other.URL+path, nil, nil); err == nil || !strings.Contains(err.Error(), says) ||
			strings.ContainsAny(err.Error(), "\x00\n") {
			t.Errorf("%s: %v", path, err)
		}
	}
	other.Close()
	if err := c.Send(context.Background(), other.URL+"/told?secret=x", nil, nil); err == nil || strings.Contains(err.Error(), "secret") {
		t.Errorf("a host that is away: %v", err)
	}
}
