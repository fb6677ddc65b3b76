package main

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"time"
)

// remote is a server that a command speaks with, and the key that it speaks with.
type remote struct {
	Address string `json:"address"`
	Key     string `json:"key"`
}

// refusal is a server's no, as RFC 9457 writes it.
type refusal struct {
	Status   int    `json:"status"`
	Message  string `json:"message"`
	Advice   string `json:"advice"`
	Mistakes []struct {
		Line, Column    int
		Message, Advice string
	} `json:"mistakes"`
	Problems []struct{ Clause, Message, Advice string } `json:"problems"`
}

func (r *refusal) Error() string {
	lines := []string{r.Message}
	if r.Advice != "" {
		lines[0] += ": " + r.Advice
	}
	for _, m := range r.Mistakes {
		lines = append(lines, fmt.Sprintf("%d:%d: %s; %s", m.Line, m.Column, m.Message, m.Advice))
	}
	for _, p := range r.Problems {
		lines = append(lines, fmt.Sprintf("%s: %s; %s", p.Clause, p.Message, p.Advice))
	}
	return strings.Join(lines, "\n")
}

// away is a fault of a server or a database, not of what was asked.
type away struct{ error }

func (a away) Unwrap() error { return a.error }

// remotePatience is how long a server has to begin its answer.
const remotePatience = 5 * time.Minute

var remoteClient = &http.Client{Transport: &http.Transport{Proxy: http.ProxyFromEnvironment, ResponseHeaderTimeout: remotePatience}}

// savedLogin is where lark login keeps the server and the key.
func savedLogin() (string, error) {
	folder, err := os.UserConfigDir()
	if err != nil {
		return "", fmt.Errorf("there is no folder for settings (%w): set LARK_SERVER and LARK_KEY", err)
	}
	return filepath.Join(folder, "copper-lark", "login"), nil
}

// theServer is the server that LARK_SERVER and LARK_KEY name, or the one that lark login kept. A key is never sent to a server
// that it was not kept for.
func theServer() (*remote, error) {
	r := &remote{Address: os.Getenv("LARK_SERVER"), Key: os.Getenv("LARK_KEY")}
	if r.Address != "" && r.Key != "" {
		return r, r.tidy()
	}
	if r.Address != "" || r.Key != "" {
		return nil, errors.New("set both LARK_SERVER and LARK_KEY, or say lark login")
	}
	file, err := savedLogin()
	if err != nil {
		return nil, err
	}
	text, err := os.ReadFile(file)
	if errors.Is(err, os.ErrNotExist) {
		return nil, errors.New("no server is known: say lark login ADDRESS, or set LARK_SERVER and LARK_KEY")
	}
	if err != nil {
		return nil, err
	}
	if err := json.Unmarshal(text, r); err != nil {
		return nil, fmt.Errorf("%s: %w: say lark login again", file, err)
	}
	return r, r.tidy()
}

func (r *remote) tidy() error {
	at, err := url.Parse(r.Address)
	if err != nil || at.Host == "" || at.Scheme != "http" && at.Scheme != "https" {
		return fmt.Errorf("%q is no address of a server: write it as https://lark.example", r.Address)
	}
	r.Address = strings.TrimSuffix(at.Scheme+"://"+at.Host+at.Path, "/")
	return nil
}

// ask sends a request and gives its answer; whatever is no answer is a refusal, or a server that is away.
func (r *remote) ask(ctx context.Context, method, path, kind string, body io.Reader) (*http.Response, error) {
	request, err := http.NewRequestWithContext(ctx, method, r.Address+"/api/v1"+path, body)
	if err != nil {
		return nil, err
	}
	request.Header.Set("Authorization", "Bearer "+r.Key)
	if kind != "" {
		request.Header.Set("Content-Type", kind)
	}
	answer, err := remoteClient.Do(request)
	if err != nil {
		return nil, away{err}
	}
	if answer.StatusCode < 300 {
		return answer, nil
	}
	defer func() { _ = answer.Body.Close() }()
	said := &refusal{Status: answer.StatusCode}
	content, _ := io.ReadAll(io.LimitReader(answer.Body, 1<<20))
	if json.Unmarshal(content, said) != nil || said.Message == "" {
		said.Message = fmt.Sprintf("%s answers %s, and not as Copper Lark does", r.Address, answer.Status)
	}
	if answer.StatusCode >= 500 || answer.StatusCode == http.StatusTooManyRequests {
		return nil, away{said}
	}
	return nil, said
}

// get asks for JSON; raw is the same as it came.
func (r *remote) get(ctx context.Context, path string, into any) (raw []byte, err error) {
	return r.send(ctx, http.MethodGet, path, nil, into)
}

// send sends JSON and reads it.
func (r *remote) send(ctx context.Context, method, path string, body, into any) (raw []byte, err error) {
	var content io.Reader
	kind := ""
	if body != nil {
		text, err := json.Marshal(body)
		if err != nil {
			return nil, err
		}
		content, kind = bytes.NewReader(text), "application/json"
	}
	answer, err := r.ask(ctx, method, path, kind, content)
	if err != nil {
		return nil, err
	}
	return read(answer, into)
}

func read(answer *http.Response, into any) ([]byte, error) {
	defer func() { _ = answer.Body.Close() }()
	raw, err := io.ReadAll(answer.Body)
	if err != nil {
		return nil, away{err}
	}
	if into != nil {
		if err := json.Unmarshal(raw, into); err != nil {
			return raw, away{fmt.Errorf("the answer cannot be read: %w", err)}
		}
	}
	return raw, nil
}

// named is something of a list that can be called by its number or its name.
type named struct {
	ID        int64  `json:"id"`
	Name      string `json:"name"`
	VersionID int64  `json:"version_id"`
	DatasetID int64  `json:"dataset_id"`
	Address   string `json:"address"`
	Title     string `json:"title"` // of what is shared
	Rows      int    `json:"rows"`
	Version   int    `json:"version"`
}

// called is what it is called.
func (n named) called() string { return cmp.Or(n.Name, n.Title) }

// all walks a list by its parts.
func (r *remote) all(ctx context.Context, path string) (list []named, err error) {
	for after := int64(0); ; {
		var part struct {
			Items []named `json:"items"`
			Next  int64   `json:"next"`
		}
		if _, err := r.get(ctx, fmt.Sprintf("%s?limit=500&after=%d", path, after), &part); err != nil {
			return nil, err
		}
		list = append(list, part.Items...)
		if after = part.Next; after == 0 {
			return list, nil
		}
	}
}

// oneOf gives the server that is known, and a dataset or chart of it.
func oneOf(ctx context.Context, kind, called string) (*remote, named, error) {
	r, err := theServer()
	if err != nil {
		return nil, named{}, err
	}
	one, err := r.find(ctx, kind, called)
	return r, one, err
}

// find gives the dataset or chart of a number or a whole name; of several with the name none is chosen.
func (r *remote) find(ctx context.Context, kind, called string) (named, error) {
	list, err := r.all(ctx, "/"+kind+"s")
	if err != nil {
		return named{}, err
	}
	var found []named
	id, isNumber := strconv.ParseInt(called, 10, 64)
	for _, one := range list {
		if one.called() == called || isNumber == nil && one.ID == id {
			found = append(found, one)
		}
	}
	switch len(found) {
	case 1:
		return found[0], nil
	case 0:
		return named{}, fmt.Errorf("there is no %s %q: lark list %ss tells which there are", kind, called, kind)
	}
	return named{}, fmt.Errorf("%d %ss are called %q: say one by its number, which lark list %ss tells", len(found), kind, called, kind)
}
