package files

import (
	"archive/zip"
	"bytes"
	"compress/gzip"
	"context"
	"errors"
	"fmt"
	"io"
	"math"
	"path"
	"strings"

	"copperlark/core/reader"
	"copperlark/core/table"
)

// packing is a way in which one file is packed in another.
type packing struct {
	name string
	is   func(raw []byte) bool
	open func(raw []byte, name string) (content io.Reader, called string, err error)
}

// packings lists those that are opened. A zip file of several files that are no workbook is refused.
var packings = []packing{
	{"gzip file", IsGzip, func(raw []byte, name string) (io.Reader, string, error) {
		stream, err := gzip.NewReader(bytes.NewReader(raw))
		return stream, strings.TrimSuffix(name, ".gz"), err
	}},
	{"zip file", isZip, openZip},
}

// The bounds of what is packed: files within files, and how many bytes all layers together may unpack to, as
// times the size of the file, and in any case.
const (
	mostLayers    = 3
	unpackedTimes = 200
	unpackedFree  = 64 << 20
)

// IsGzip reports whether a file is packed with gzip.
func IsGzip(raw []byte) bool { return bytes.HasPrefix(raw, []byte{0x1f, 0x8b}) }

// IsPacked reports whether the beginning of a file is that of one whose content is packed already, so that
// packing it once more makes it hardly smaller.
func IsPacked(begin []byte) bool {
	return IsGzip(begin) || bytes.HasPrefix(begin, []byte("PK")) || bytes.HasPrefix(begin, []byte("PAR1"))
}

// Allowance is how many bytes a file of a size may unpack to, all layers of packing together.
func Allowance(packed, limit int64) int64 {
	return min(limit, max(unpackedFree, unpackedTimes*min(packed, math.MaxInt64/unpackedTimes)))
}

// inAllowance reads with no more than a file of a size may unpack to: few bytes of some formats stand for many rows.
func inAllowance(
	packed int64, options reader.Options, read func(reader.Options) (*table.Table, *reader.Report, error),
) (*table.Table, *reader.Report, error) {
	limit := options.MaxBytes
	options.MaxBytes = Allowance(packed, limit)
	t, report, err := read(options)
	if err != nil && err.Error() == reader.TooLarge(options.MaxBytes).Error() {
		err = TooPacked(packed, limit)
	}
	return t, report, err
}

// TooPacked is the error of a file that unpacks to more than its allowance.
func TooPacked(packed, limit int64) error {
	if Allowance(packed, limit) == limit {
		return reader.TooLarge(limit)
	}
	return &reader.Error{
		Problem: fmt.Sprintf("the file unpacks to more than %d times its size", unpackedTimes),
		Advice:  "unpack it, and bring what is in it",
	}
}

// unpacked opens what is packed, layer by layer, and gives the one file that is in it, with its name. A
// workbook, which is packed in the same way, and everything else come back as they are.
func unpacked(ctx context.Context, raw []byte, name string, limit int64) (content []byte, called string, err error) {
	packed := int64(len(raw))
	left := Allowance(packed, limit)
	for layer := 0; ; layer++ {
		var p *packing
		for i := range packings {
			if packings[i].is(raw) {
				p = &packings[i]
			}
		}
		if p == nil {
			return raw, name, nil
		}
		if layer == mostLayers {
			return nil, "", &reader.Error{
				Problem: fmt.Sprintf("the file is packed more than %d times", mostLayers),
				Advice:  "unpack it, and bring what is in it",
			}
		}
		stream, inner, err := p.open(raw, name)
		if err != nil {
			return nil, "", damaged(p.name, err)
		}
		if raw, err = readAll(ctx, stream, left); err != nil {
			if errors.Is(err, errTooMuch) {
				err = TooPacked(packed, limit)
			} else if ctx.Err() == nil {
				err = damaged(p.name, err)
			}
			return nil, "", err
		}
		name, left = inner, left-int64(len(raw))
	}
}

var errTooMuch = errors.New("more than is allowed")

// readAll reads a stream of at most so many bytes.
func readAll(ctx context.Context, stream io.Reader, most int64) ([]byte, error) {
	var whole bytes.Buffer
	for {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		n, err := io.CopyN(&whole, stream, min(1<<20, most-int64(whole.Len())+1))
		switch {
		case int64(whole.Len()) > most:
			return nil, errTooMuch
		case errors.Is(err, io.EOF) || err == nil && n == 0:
			return whole.Bytes(), nil
		case err != nil:
			return nil, err
		}
	}
}

// held lists the files of a zip file; nil where it is a workbook, or none that can be read.
func held(raw []byte) (list []*zip.File) {
	archive, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
	if err != nil {
		return nil // the reader of workbooks says what is wrong
	}
	list = []*zip.File{}
	for _, f := range archive.File {
		if f.Name == "[Content_Types].xml" || f.Name == "mimetype" || f.Name == "content.xml" || strings.HasPrefix(f.Name, "xl/") {
			return nil
		}
		if !f.FileInfo().IsDir() && !strings.HasPrefix(f.Name, "__MACOSX/") && !strings.HasPrefix(path.Base(f.Name), ".") {
			list = append(list, f)
		}
	}
	return list
}

func isZip(raw []byte) bool { return bytes.HasPrefix(raw, []byte("PK")) && held(raw) != nil }

func openZip(raw []byte, _ string) (io.Reader, string, error) {
	list := held(raw)
	if len(list) != 1 {
		names := []string{}
		for _, f := range list[:min(len(list), 5)] {
			names = append(names, path.Base(f.Name))
		}
		return nil, "", &reader.Error{
			Problem: fmt.Sprintf("the zip file holds %d files %s", len(list), strings.Join(names, ", ")),
			Advice:  "unpack it, and bring the files one by one",
		}
	}
	stream, err := list[0].Open()
	return stream, path.Base(list[0].Name), err
}
