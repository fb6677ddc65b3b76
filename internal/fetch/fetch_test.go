package fetch

import (
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"copperlark/app"
)

// TestNothingOutsideAFolderIsRead by paths, links, folders in place of files, or a folder that nobody named.
func TestNothingOutsideAFolderIsRead(t *testing.T) {
	secret, folder := t.TempDir(), t.TempDir()
	for path, content := range map[string]string{secret + "/secret.csv": "zzsecret", folder + "/a.csv": "a", folder + "/2031/b.csv": "b",
		folder + "/.hidden": "h"} {
		if err := os.MkdirAll(filepath.Dir(path), 0o700); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(path, []byte(content), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	for name, to := range map[string]string{"link.csv": secret + "/secret.csv", "out": secret} {
		if err := os.Symlink(to, filepath.Join(folder, name)); err != nil {
			t.Fatal(err)
		}
	}
	f := New(map[string]string{"harvest": folder}, nil, nil)
	if files, err := f.Folders(); err != nil || fmt.Sprint(files) != "map[harvest:[2031/b.csv a.csv]]" {
		t.Errorf("the folders: %v, %v", files, err)
	}
	for place, want := range map[string]string{"folder:harvest/a.csv": "a", "folder:harvest/2031/b.csv": "b", "folder:harvest/link.csv": "",
		"folder:harvest/out/secret.csv": "", "folder:harvest/../" + filepath.Base(secret) + "/secret.csv": "", "folder:harvest/2031": "",
		"folder:harvest/": "", "folder:other/a.csv": "", "folder:harvest/" + secret + "/secret.csv": "", secret + "/secret.csv": "",
		"file://" + secret + "/secret.csv": ""} {
		found, err := f.Ask(t.Context(), place, app.FileState{}, "")
		got := ""
		if err == nil {
			content, _ := io.ReadAll(found.Content)
			got = string(content)
			_ = found.Content.Close()
			if again, err := f.Ask(t.Context(), place, found.State, ""); err != nil || !again.Unchanged {
				t.Errorf("%s, as it was known: %+v, %v", place, again, err)
			}
		}
		if got != want {
			t.Errorf("%s gives %q, want %q (%v)", place, got, want, err)
		}
	}
}

// TestAddressesAreThoseOfTheList also where they are led to, and what is told to one host is told to no other.
func TestAddressesAreThoseOfTheList(t *testing.T) {
	var told []string
	other := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		told = append(told, r.Header.Get("Authorization"))
		_, _ = io.WriteString(w, "moved")
	}))
	defer other.Close()
	var here *httptest.Server
	here = httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		switch r.URL.Path {
		case "/data/same.csv":
			w.Header().Set("ETag", `"7"`)
			if r.Header.Get("If-None-Match") == `"7"` {
				w.WriteHeader(http.StatusNotModified)
				return
			}
			_, _ = io.WriteString(w, r.Header.Get("Authorization"))
		case "/data/elsewhere.csv":
			http.Redirect(w, r, other.URL+"/files/x.csv", http.StatusFound)
		case "/data/up.csv":
			http.Redirect(w, r, here.URL+"/private/x.csv", http.StatusFound)
		case "/data/round.csv":
			http.Redirect(w, r, "/data/round.csv", http.StatusFound)
		case "/data/inside.csv":
			http.Redirect(w, r, "http://169.254.169.254/latest", http.StatusFound)
		default:
			http.NotFound(w, r)
		}
	}))
	defer here.Close()
	named := func(s *httptest.Server) string { at, _ := url.Parse(s.URL); return at.Host }
	f := New(nil, []string{here.URL + "/data", other.URL + "/files/"}, []string{named(here), named(other)})
	found, err := f.Ask(t.Context(), here.URL+"/data/same.csv", app.FileState{}, "Bearer zz")
	if err != nil || found.Name != "same.csv" || found.State.ETag != `"7"` {
		t.Fatalf("%+v, %v", found, err)
	}
	if content, _ := io.ReadAll(found.Content); string(content) != "Bearer zz" {
		t.Errorf("the server was told %q", content)
	}
	if again, err := f.Ask(t.Context(), here.URL+"/data/same.csv", found.State, ""); err != nil || !again.Unchanged {
		t.Errorf("known already: %+v, %v", again, err)
	}
	if moved, err := f.Ask(t.Context(), here.URL+"/data/elsewhere.csv", app.FileState{}, "Bearer zz"); err != nil || moved.Name != "x.csv" {
		t.Errorf("led to another of the list: %+v, %v", moved, err)
	}
	if len(told) != 1 || told[0] != "" {
		t.Errorf("the other host was told %q", told)
	}
	for _, refused := range []string{here.URL + "/data/up.csv", here.URL + "/data/round.csv", here.URL + "/data/inside.csv",
		here.URL + "/data/nothing.csv", here.URL + "/private/x.csv", here.URL + "/database/x.csv", here.URL + "/data/../private/x.csv",
		"http://user:password@" + named(here) + "/data/same.csv", "http://169.254.169.254/data", "gopher://x", ""} {
		if found, err := f.Ask(t.Context(), refused, app.FileState{}, "Bearer zz"); err == nil || strings.Contains(err.Error(), "password") {
			t.Errorf("%s gives %+v, %v", refused, found, err)
		}
	}
	// A host of the list that nobody named inside leads nowhere inside.
	strict := New(nil, []string{here.URL + "/data"}, nil)
	if _, err := strict.Ask(t.Context(), here.URL+"/data/same.csv", app.FileState{}, ""); err == nil {
		t.Error("an address inside the network was asked")
	}
}
