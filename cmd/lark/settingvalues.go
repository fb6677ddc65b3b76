package main

import (
	"errors"
	"fmt"
	"net/url"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"time"

	"copperlark/app"
	"copperlark/source"
)

// How the values of settings are written: each of these reads one form, and says what is wrong with what is none.

// asFolders reads names with their folders.
func asFolders(into *map[string]string, v string) error {
	*into = map[string]string{}
	for _, one := range strings.Split(v, ",") {
		name, at, is := strings.Cut(strings.TrimSpace(one), "=")
		if !is || name == "" || strings.ContainsAny(name, "/: ") || !filepath.IsAbs(at) {
			return errors.New("name folders as harvest=/srv/harvest, with commas")
		}
		(*into)[name] = at
	}
	return nil
}

// asOrigins reads addresses; plain HTTP is for hosts that LARK_ORIGIN_HOSTS names.
func asOrigins(into *[]string, v string) error {
	for _, one := range strings.FieldsFunc(v, func(r rune) bool { return r == ',' || r == ' ' }) {
		at, err := url.Parse(one)
		if err != nil || at.Host == "" || at.User != nil || at.Scheme != "https" && at.Scheme != "http" {
			return errors.New("name addresses as https://data.example/open, with commas")
		}
		*into = append(*into, one)
	}
	return nil
}

// asSources reads the file that names databases; it may hold passwords, and what is wrong with it is said without them.
func asSources(into *[]source.Named, path string) error {
	raw, err := os.ReadFile(path)
	if err != nil {
		return fmt.Errorf("the file of sources cannot be opened: %w", err)
	}
	*into, err = source.ReadNamed(raw)
	return err
}

func asRole(value string) (app.Role, error) {
	role := app.Role(strings.TrimSpace(value))
	if !role.May(app.Reader) {
		return role, errors.New("must be reader, maker or owner")
	}
	return role, nil
}

func asFlag(into *bool, value string) (err error) {
	*into, err = strconv.ParseBool(value)
	return err
}

func asCount(into *int64, value string) error {
	n, err := strconv.ParseInt(strings.ReplaceAll(value, ",", ""), 10, 64)
	if err == nil && (n <= 0 || n > 1<<50) {
		err = errors.New("must be a whole number above 0")
	}
	*into = n
	return err
}

// asDays reads whole days, at most a hundred years of them.
func asDays(into *time.Duration, value string) error {
	var days int64
	err := asCount(&days, value)
	*into = time.Duration(min(days, 36500)) * 24 * time.Hour
	return err
}

func asMegabytes(into *int64, value string) error {
	err := asCount(into, value)
	if err == nil && *into > 1<<30 {
		err = errors.New("is more megabytes than there are")
	}
	*into <<= 20
	return err
}

func asSeconds(into *time.Duration, value string) error {
	var n int64
	err := asCount(&n, value)
	if err == nil && n > 1<<20 {
		err = errors.New("is too long")
	}
	*into = time.Duration(n) * time.Second
	return err
}
