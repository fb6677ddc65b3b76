package files

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"path"
	"strings"

	"copperlark/core/reader"
)

// unpacked gives the one file that is packed in a zip file, with its name. A workbook, which
// is packed in the same way, and everything else come back as they are.
func unpacked(raw []byte, name string, limit int64) (content []byte, called string, err error) {
	if !bytes.HasPrefix(raw, []byte("PK")) {
		return raw, name, nil
	}
	archive, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
	if err != nil {
		return raw, name, nil // the reader of workbooks says what is wrong
	}
	var held []*zip.File
	for _, f := range archive.File {
		if f.Name == "[Content_Types].xml" || f.Name == "mimetype" || strings.HasPrefix(f.Name, "xl/") {
			return raw, name, nil
		}
		if !f.FileInfo().IsDir() && !strings.HasPrefix(f.Name, "__MACOSX/") && !strings.HasPrefix(path.Base(f.Name), ".") {
			held = append(held, f)
		}
	}
	if len(held) != 1 {
		names := []string{}
		for _, f := range held[:min(len(held), 5)] {
			names = append(names, path.Base(f.Name))
		}
		return nil, "", &reader.Error{Problem: fmt.Sprintf("the zip file holds %d files %s", len(held), strings.Join(names, ", ")), Advice: "unpack it, and bring the files one by one"}
	}
	stream, err := held[0].Open()
	if err != nil {
		return nil, "", damaged("zip file", err)
	}
	defer func() { _ = stream.Close() }()
	content, err = io.ReadAll(io.LimitReader(stream, limit+1))
	if err != nil {
		return nil, "", damaged("zip file", err)
	}
	if int64(len(content)) > limit {
		return nil, "", reader.TooLarge(limit)
	}
	return content, path.Base(held[0].Name), nil
}
