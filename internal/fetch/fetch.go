// Package fetch reads files from where whoever runs the server lets it: folders that are named, and addresses over https on a list. No
// file outside a folder is read, whatever links there are in it; where an address leads is looked at after its name was resolved, at
// every redirect.
package fetch

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"os"
	"path"
	"slices"
	"strings"
	"time"

	"copperlark/app"
	"copperlark/internal/courier"
)

// mostRedirects how many are followed; mostFiles how many of
// a folder are listed.
const (
	mostRedirects = 5
	mostFiles     = 1000
)

// Fetcher reads files.
type Fetcher struct {
	folders   map[string]string // by the names that people see
	addresses []string          // https://data.example/ and what stands below
	inside    []string          // hosts, as host or host:port, that may be asked by plain HTTP
	client    *http.Client
}

// New makes a fetcher of folders, by name, and of addresses that files may come from. Hosts that are named inside may be in the network
// of the server, and be asked by plain HTTP.
func New(folders map[string]string, addresses, inside []string) *Fetcher {
	f := &Fetcher{folders: folders, addresses: addresses, inside: inside}
	f.client = &http.Client{
		Timeout:   app.FetchPatience,
		Transport: &http.Transport{DisableKeepAlives: true, DialContext: courier.New(inside).Dial, ResponseHeaderTimeout: time.Minute},
		CheckRedirect: func(r *http.Request, via []*http.Request) error {
			if len(via) > mostRedirects {
				return errors.New("it leads on and on")
			}
			if err := f.allowed(r.URL); err != nil {
				return fmt.Errorf("it leads elsewhere: %w", err)
			}
			if r.URL.Host != via[0].URL.Host {
				r.Header.Del("Authorization") // what is told to one host is told to no other
			}
			return nil
		},
	}
	return f
}

// folderPlace begins the name of a file in a folder: folder:harvest/2031/scales.csv.
const folderPlace = "folder:"

// Folders are the names of the folders, in order, with the files in each, those in its own folders as well.
func (f *Fetcher) Folders() (map[string][]string, error) {
	all := map[string][]string{}
	for name, at := range f.folders {
		files := []string{}
		root, err := os.OpenRoot(at)
		if err != nil {
			return nil, fmt.Errorf("the folder %s cannot be opened", name)
		}
		err = walk(root, ".", &files)
		_ = root.Close()
		if err != nil {
			return nil, fmt.Errorf("the folder %s cannot be read", name)
		}
		slices.Sort(files)
		all[name] = files
	}
	return all, nil
}

func walk(root *os.Root, at string, files *[]string) error {
	folder, err := root.Open(at)
	if err != nil {
		return err
	}
	defer func() { _ = folder.Close() }()
	entries, err := folder.ReadDir(-1)
	if err != nil {
		return err
	}
	for _, e := range entries {
		name := path.Join(at, e.Name())
		switch {
		case len(*files) >= mostFiles || strings.HasPrefix(e.Name(), "."):
		case e.IsDir() && strings.Count(name, "/") < 4:
			if err := walk(root, name, files); err != nil {
				return err
			}
		case e.Type().IsRegular():
			*files = append(*files, name)
		}
	}
	return nil
}

// Addresses are what files may come from over https.
func (f *Fetcher) Addresses() []string { return f.addresses }

// Fits reports why a place is not asked.
func (f *Fetcher) Fits(place string) error {
	if name, is := strings.CutPrefix(place, folderPlace); is {
		folder, file, _ := strings.Cut(name, "/")
		if f.folders[folder] == "" || file == "" {
			return errors.New("there is no such folder here")
		}
		return nil
	}
	at, err := url.Parse(place)
	if err != nil {
		return errors.New("this is no address")
	}
	return f.allowed(at)
}

// allowed is whether an address stands below one of the list.
func (f *Fetcher) allowed(at *url.URL) error {
	if at.User != nil || at.Host == "" || at.Fragment != "" || strings.Contains(at.Path, "..") {
		return errors.New("this is no address of a file")
	}
	if at.Scheme != "https" && !slices.Contains(f.inside, at.Host) && !slices.Contains(f.inside, at.Hostname()) {
		return errors.New("files come over https alone")
	}
	for _, one := range f.addresses {
		below, err := url.Parse(one)
		if err == nil && at.Scheme == below.Scheme && at.Host == below.Host &&
			strings.HasPrefix(strings.TrimSuffix(at.EscapedPath(), "/")+"/", strings.TrimSuffix(below.EscapedPath(), "/")+"/") {
			return nil
		}
	}
	return errors.New("whoever runs this server did not name this address")
}

// Ask asks for the file at a place. authorization is told to the host of an address; empty: nothing is.
func (f *Fetcher) Ask(ctx context.Context, place string, known app.FileState, authorization string) (app.FetchedFile, error) {
	if err := f.Fits(place); err != nil {
		return app.FetchedFile{}, err
	}
	if name, is := strings.CutPrefix(place, folderPlace); is {
		folder, file, _ := strings.Cut(name, "/")
		return f.inFolder(f.folders[folder], file, known)
	}
	request, err := http.NewRequestWithContext(ctx, http.MethodGet, place, nil)
	if err != nil {
		return app.FetchedFile{}, err
	}
	if authorization != "" {
		request.Header.Set("Authorization", authorization)
	}
	if known.ETag != "" {
		request.Header.Set("If-None-Match", known.ETag)
	}
	if known.LastModified != "" {
		request.Header.Set("If-Modified-Since", known.LastModified)
	}
	answer, err := f.client.Do(request)
	if err != nil {
		var failed *url.Error
		if errors.As(err, &failed) {
			err = failed.Err // without the address, which can hold a secret
		}
		return app.FetchedFile{}, err
	}
	switch answer.StatusCode {
	case http.StatusOK:
		return app.FetchedFile{Name: path.Base(answer.Request.URL.Path), Content: answer.Body, Size: answer.ContentLength,
			State: app.FileState{ETag: answer.Header.Get("ETag"), LastModified: answer.Header.Get("Last-Modified")}}, nil
	case http.StatusNotModified:
		_ = answer.Body.Close()
		return app.FetchedFile{Unchanged: true, State: known}, nil
	}
	_ = answer.Body.Close()
	return app.FetchedFile{}, fmt.Errorf("the server there answers %s", answer.Status)
}

// inFolder opens a file of a folder; it is known by its size and when it was written last.
func (f *Fetcher) inFolder(folder, file string, known app.FileState) (app.FetchedFile, error) {
	root, err := os.OpenRoot(folder)
	if err != nil {
		return app.FetchedFile{}, errors.New("the folder cannot be opened")
	}
	defer func() { _ = root.Close() }()
	content, err := root.Open(file)
	if err != nil {
		return app.FetchedFile{}, errors.New("there is no such file in the folder")
	}
	about, err := content.Stat()
	if err != nil || !about.Mode().IsRegular() {
		_ = content.Close()
		return app.FetchedFile{}, errors.New("it is no file")
	}
	now := app.FileState{ETag: fmt.Sprintf("%d %d", about.Size(), about.ModTime().UnixNano())}
	if now == known {
		_ = content.Close()
		return app.FetchedFile{Unchanged: true, State: known}, nil
	}
	return app.FetchedFile{Name: path.Base(file), Content: content, Size: about.Size(), State: now}, nil
}
