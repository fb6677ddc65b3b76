package reader

import (
	"bytes"
	"context"
	"encoding/binary"
	"io"
	"strings"
	"unicode/utf16"
	"unicode/utf8"
)

// decode gives a text as UTF-8 without a byte order mark, with the name of the
// encoding it found, or of the one that was said.
func decode(raw []byte, options Options) (text []byte, encoding string, err error) {
	if said := options.Encoding; said != "" && !strings.EqualFold(said, "UTF-8") && !strings.EqualFold(said, "UTF-16") {
		entry := encodingNamed(said)
		if entry == nil {
			return nil, "", &Error{
				Problem: "no encoding is called " + clip(said),
				Advice:  "choose one of " + strings.Join(EncodingNames(), ", "),
			}
		}
		text, err = entry.coding.NewDecoder().Bytes(raw)
		encoding = entry.name
	} else {
		text, encoding = toUTF8(raw)
	}
	if err != nil {
		return nil, "", &Error{
			Problem: "the file cannot be read as " + encoding,
			Advice:  "choose another encoding, or leave it to be found out",
		}
	}
	if bytes.IndexByte(text, 0) >= 0 {
		return nil, "", &Error{Problem: "this is not a text table: it holds zero bytes", Advice: "export the table as CSV and upload that"}
	}
	return text, encoding, nil
}

func readLimited(ctx context.Context, r io.Reader, limit int64) ([]byte, error) {
	var whole bytes.Buffer
	if sized, ok := r.(interface{ Len() int }); ok { // no growing by doubling
		whole.Grow(int(min(int64(sized.Len()), limit)) + bytes.MinRead)
	}
	for {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		n, err := io.CopyN(&whole, r, min(1<<20, limit-int64(whole.Len())+1))
		if int64(whole.Len()) > limit {
			return nil, TooLarge(limit)
		}
		if err == io.EOF || (err == nil && n == 0) {
			return whole.Bytes(), nil
		}
		if err != nil {
			return nil, err
		}
	}
}

func toUTF8(raw []byte) ([]byte, string) {
	switch {
	case bytes.HasPrefix(raw, []byte{0xEF, 0xBB, 0xBF}):
		return raw[3:], "UTF-8"
	case bytes.HasPrefix(raw, []byte{0xFF, 0xFE}):
		return fromUTF16(raw[2:], binary.LittleEndian), "UTF-16"
	case bytes.HasPrefix(raw, []byte{0xFE, 0xFF}):
		return fromUTF16(raw[2:], binary.BigEndian), "UTF-16"
	case looksUTF16(raw, 1):
		return fromUTF16(raw, binary.LittleEndian), "UTF-16"
	case looksUTF16(raw, 0):
		return fromUTF16(raw, binary.BigEndian), "UTF-16"
	case utf8.Valid(raw):
		return raw, "UTF-8"
	}
	entry := guessEncoding(raw)
	text, err := entry.coding.NewDecoder().Bytes(raw)
	if err != nil {
		entry = &encodings[0]
		text, _ = entry.coding.NewDecoder().Bytes(raw) // every byte is a letter there
	}
	return text, entry.name
}

// looksUTF16 reports whether nearly every second byte, from the given offset,
// is zero, as in UTF-16 text of a Western language without a byte order mark.
func looksUTF16(raw []byte, offset int) bool {
	sample := raw[:min(len(raw), 2000)]
	if len(sample) < 8 {
		return false
	}
	zeros := 0
	for i := offset; i < len(sample); i += 2 {
		if sample[i] == 0 {
			zeros++
		}
	}
	return zeros*2 > len(sample)*8/10
}

func fromUTF16(raw []byte, order binary.ByteOrder) []byte {
	units := make([]uint16, len(raw)/2)
	for i := range units {
		units[i] = order.Uint16(raw[2*i:])
	}
	out := make([]byte, 0, len(raw))
	for _, r := range utf16.Decode(units) {
		out = utf8.AppendRune(out, r)
	}
	return out
}

// Letters finds how the texts of a file that mixes them with numbers are to be read: the name
// of the encoding, and what turns the bytes of one text into letters. all is every text of the
// file, one after the other; said is the encoding that the file or a person names, or empty.
func Letters(all []byte, said string) (name string, letters func(raw string) string, err error) {
	var entry *encodingEntry
	switch {
	case said != "" && !strings.EqualFold(said, "UTF-8"):
		if entry = encodingNamed(said); entry == nil {
			return "", nil, &Error{
				Problem: "no encoding is called " + clip(said),
				Advice:  "choose one of " + strings.Join(EncodingNames(), ", "),
			}
		}
	case said == "" && !utf8.Valid(all):
		entry = guessEncoding(all)
	}
	if entry == nil {
		return "UTF-8", func(raw string) string { return strings.ToValidUTF8(raw, "\uFFFD") }, nil
	}
	return entry.name, func(raw string) string {
		text, err := entry.coding.NewDecoder().String(raw)
		if err != nil {
			return strings.ToValidUTF8(raw, "\uFFFD")
		}
		return text
	}, nil
}
