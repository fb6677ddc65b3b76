package files

import (
	"context"
	"strings"
	"testing"

	"copperlark/core/reader"
)

// TestTheOneTableOfAZipFileIsRead holds what counts as one, and that packing is no way
// around limits and formats.
func TestTheOneTableOfAZipFileIsRead(t *testing.T) {
	csv := "hive,kg\nA,1.5\nB,2\n"
	for name, test := range map[string]struct {
		held map[string]string
		want string
	}{
		"one table": {map[string]string{"folder/hives.csv": csv}, "hive|category||A~B\nkg|number||1.5~2"},
		"and a system's own": {map[string]string{"hives.csv": csv, "__MACOSX/._hives.csv": "x", ".hidden": "y"},
			"hive|category||A~B\nkg|number||1.5~2"},
		"none":             {map[string]string{}, "the zip file holds 0 files"},
		"an empty one":     {map[string]string{"a.csv": " "}, "the file is empty"},
		"too large":        {map[string]string{"a.csv": csv + strings.Repeat("C,1\n", 5000)}, "larger than"},
		"a picture":        {map[string]string{"a.csv": "\x89PNG\r\n"}, "picture"},
		"called otherwise": {map[string]string{"a.parquet": csv}, "the name ends in .parquet"},
		"a zip file in a zip": {map[string]string{"b.zip": string(workbookOf(t, map[string]string{"a.csv": csv}))},
			"hive|category||A~B\nkg|number||1.5~2"},
		"gzip in a zip file": {map[string]string{"a.csv.gz": layered(csv, 1)}, "hive|category||A~B\nkg|number||1.5~2"},
		"many layers":        {map[string]string{"a.csv.gz": layered(csv, 3)}, "packed more than 3 times"},
		"damaged gzip":       {map[string]string{"a.csv.gz": "\x1f\x8b\x08\x00abcdef"}, "the gzip file is damaged"},
	} {
		got, _, err := Read(context.Background(), "any.zip", workbookOf(t, test.held), reader.Options{MaxBytes: 10_000})
		have := ""
		if err != nil {
			have = err.Error()
		} else {
			have = shown(got)
		}
		if have != test.want && (err == nil || !strings.Contains(have, test.want)) {
			t.Errorf("%s: %s, want %s", name, have, test.want)
		}
	}
}

// TestFilesOfStatisticsPackagesAreNamed holds that what cannot be read says what it is, and
// what to do.
func TestFilesOfStatisticsPackagesAreNamed(t *testing.T) {
	for begins, want := range map[string]string{
		"RDX3\nX\n": ".rds", strings.Repeat("\x00", 12) + "\xc2\xea\x81\x60\xb3": ".sas7bdat"} {
		_, _, err := Read(context.Background(), "", []byte(begins), reader.Options{})
		refused, is := err.(*reader.Error)
		if !is || !strings.Contains(refused.Problem, want) || !strings.Contains(refused.Advice, "CSV") {
			t.Errorf("%q: %v, want %s", begins, err, want)
		}
	}
}

// layered packs a text so many times.
func layered(text string, times int) string {
	for range times {
		text = string(zipped([]byte(text)))
	}
	return text
}

// TestUnpackedBytesAreCountedAtEveryLayer reads files of a few kilobytes that unpack to gigabytes: none takes
// more memory than is free of the rule.
func TestUnpackedBytesAreCountedAtEveryLayer(t *testing.T) {
	row := strings.Repeat("1,2,3\n", 1<<20)
	once := layered(strings.Repeat(row, 40), 1) // 240 MB in less than a megabyte
	for name, raw := range map[string]string{"once": once, "twice": layered(once, 1),
		"in a zip file": string(workbookOf(t, map[string]string{"a.csv.gz": once}))} {
		_, _, err := Read(t.Context(), "a.csv.gz", []byte(raw), reader.Options{})
		if err == nil || !strings.Contains(err.Error(), "unpacks to more than 200 times its size") {
			t.Errorf("%s: %d bytes: %v", name, len(raw), err)
		}
	}
	if _, _, err := Read(t.Context(), "a.csv.gz", []byte(layered("a,b,c\n"+row, 2)), reader.Options{}); err != nil {
		t.Errorf("what unpacks to 6 MB is refused: %v", err)
	}
}
