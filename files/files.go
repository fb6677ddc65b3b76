// Package files reads files of every format that the program knows, by what they
// hold and not by what they are called, and writes the formats that need a library:
// Parquet. Formats that need none are read by core/reader.
//
// Files are hostile until read: all unpacking stays within the limit of the options,
// a damaged file is an error with advice and never a panic, and nothing is written
// to disk.
package files

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"path/filepath"
	"strings"

	"copperlark/core/reader"
	"copperlark/core/table"
)

// format is a kind of file, told by its first bytes.
type format struct {
	name       string
	begins     []string // any of these
	extensions []string // whose files are expected to be of this format
	read       func(ctx context.Context, raw []byte, options reader.Options) (*table.Table, *reader.Report, error)
	advice     string // for what cannot be read
}

var formats = []format{
	{
		name:       "workbook",
		begins:     []string{"PK\x03\x04", "PK\x05\x06"},
		extensions: []string{".xlsx", ".xlsm", ".ods"},
		read:       reader.ReadWorkbook,
	},
	{name: "Parquet file", begins: []string{"PAR1"}, extensions: []string{".parquet"}, read: readParquet},
	{name: "Arrow file", begins: []string{"ARROW1"}, extensions: []string{".arrow", ".feather", ".ipc"}, read: readArrowFile},
	{name: "Arrow stream", begins: []string{"\xff\xff\xff\xff"}, extensions: []string{".arrows"}, read: readArrowStream},
	{
		name:       "workbook of the old binary format (.xls), or one with a password",
		begins:     []string{"\xd0\xcf\x11\xe0"},
		extensions: []string{".xls"},
		advice:     "save it as .xlsx without a password, or as CSV",
	},
	{
		name:       "PDF",
		begins:     []string{"%PDF"},
		extensions: []string{".pdf"},
		advice:     "copy the table out of it, and paste it on the front page",
	},
	{
		name:       "picture",
		begins:     []string{"\x89PNG", "\xff\xd8\xff", "GIF8"},
		extensions: []string{".png", ".jpg", ".jpeg", ".gif"},
		advice:     "bring the table itself",
	},
	{
		name:       "page of the web",
		begins:     []string{"<!doctype html", "<!DOCTYPE html", "<!DOCTYPE HTML", "<html", "<HTML"},
		extensions: []string{".html", ".htm"},
		advice:     "this is often a sign-in page that was saved in place of the file: download the file again",
	},
	{
		name:       ".sav file",
		begins:     []string{"$FL2", "$FL3"},
		extensions: []string{".sav", ".zsav"},
		read:       readSav,
	},
	{
		name:       ".dta file",
		begins:     []string{"\x3cstata_dta\x3e", "\x71\x01", "\x71\x02", "\x72\x01", "\x72\x02", "\x73\x01", "\x73\x02"},
		extensions: []string{".dta"},
		read:       readDta,
	},
	{
		name:       "file of a statistics package (.sas7bdat)",
		begins:     []string{strings.Repeat("\x00", 12) + "\xc2\xea\x81\x60"},
		extensions: []string{".sas7bdat"},
		advice:     otherPackage,
	},
	{
		name:       "transport file",
		begins:     []string{transportHeading},
		extensions: []string{".xpt", ".xport"},
		read:       readTransport,
	},
	{
		name:       "SQLite file",
		begins:     []string{"SQLite format 3\x00"},
		extensions: []string{".sqlite", ".sqlite3", ".db"},
		read:       readSQLite,
	},
	{name: "Avro file", begins: []string{avroBegins}, extensions: []string{".avro"}, read: readAvro},
	{
		name:       "ORC file",
		begins:     []string{"ORC"},
		extensions: []string{".orc"},
		advice:     "write it as Parquet or as Avro: no well-kept library reads it here",
	},
	{
		name:       "saved workspace of a statistics package (.rds, .rdata)",
		begins:     []string{"RDX2\n", "RDX3\n", "RDA2\n", "RDA3\n", "X\n\x00\x00\x00"},
		extensions: []string{".rds", ".rdata", ".rda"},
		advice:     otherPackage,
	},
	{
		name:       "archive of several files",
		begins:     []string{"7z\xbc\xaf", "Rar!", "BZh", "\xfd7zXZ", "\x28\xb5\x2f\xfd"},
		extensions: []string{".7z", ".rar", ".bz2", ".xz", ".zst"},
		advice:     "unpack it, or pack it with gzip",
	},
}

const otherPackage = "open it there and export the table as CSV, with a title row and the labels of coded values, or as Parquet"

// text is what is none of them.
var text = format{
	name:       "text",
	extensions: []string{".csv", ".tsv", ".tab", ".txt", ".json", ".jsonl", ".ndjson", ".las"},
	read:       reader.ReadBytes,
}

func formatOf(raw []byte) format {
	for _, f := range formats {
		for _, begin := range f.begins {
			if bytes.HasPrefix(raw, []byte(begin)) {
				return f
			}
		}
	}
	return text
}

// IsText reports whether a file is read as text, by readers that copy what they keep.
func IsText(raw []byte) bool { return formatOf(raw).name == text.name }

// Read reads a table from a file's content; gzip, and a zip file of one file, are opened. name is what the file is
// called: where its ending promises another format than it holds, the file is
// refused. Errors from the content are of type *reader.Error.
func Read(ctx context.Context, name string, raw []byte, options reader.Options) (t *table.Table, report *reader.Report, err error) {
	options = options.WithDefaults()
	if raw, name, err = unpacked(ctx, raw, name, options.MaxBytes); err != nil {
		return nil, nil, err
	}
	held := formatOf(raw)
	if err := promised(name, held); err != nil {
		return nil, nil, err
	}
	if held.read == nil {
		return nil, nil, &reader.Error{Problem: "this is a " + held.name, Advice: held.advice}
	}
	defer func() { // libraries meet damaged files with panics
		if fault := recover(); fault != nil {
			t, report = nil, nil
			err = damaged(held.name, fault)
		}
	}()
	return held.read(ctx, raw, options)
}

func damaged(what string, fault any) error {
	if err, ok := fault.(error); ok {
		var refused *reader.Error
		if errors.As(err, &refused) {
			return refused
		}
	}
	words := []rune(fmt.Sprint(fault))
	return &reader.Error{
		Problem: fmt.Sprintf("the %s is damaged: %s", what, string(words[:min(len(words), 200)])),
		Advice:  "write it again and bring the new file",
	}
}

// promised refuses a file whose ending belongs to another format than it holds.
func promised(name string, held format) error {
	ending := strings.ToLower(filepath.Ext(name))
	for _, f := range append([]format{text}, formats...) {
		for _, extension := range f.extensions {
			if ending != extension || f.name == held.name {
				continue
			}
			arrows := strings.HasPrefix(f.name, "Arrow") && strings.HasPrefix(held.name, "Arrow")
			if arrows || f.read == nil && held.read == nil {
				continue
			}
			advice := "give the file the ending of what it is, or bring the right file"
			if held.read == nil {
				advice = held.advice
			}
			return &reader.Error{Problem: fmt.Sprintf("the name ends in %s, and the file is a %s", ending, held.name), Advice: advice}
		}
	}
	return nil
}
