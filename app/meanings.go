package app

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"net/url"
	"slices"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/colour"
	"copperlark/core/reader"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// Meaning is what people know of a column. What is empty is taken from the file.
type Meaning struct {
	Column  string            `json:"column" doc:"its name in the file"`
	Label   string            `json:"label,omitempty" maxLength:"200" doc:"as people say it"`
	Unit    string            `json:"unit,omitempty" maxLength:"60"`
	Meaning string            `json:"meaning,omitempty" maxLength:"2000"`
	Form    string            `json:"form,omitempty" maxLength:"40" doc:"how its numbers are written in every chart: 120k, percent, plain, currency and its sign, decimals and how many"`
	Codes   map[string]string `json:"codes,omitempty" doc:"what each value of a column of groups stands for"`
	Colours map[string]string `json:"colours,omitempty" doc:"the colour that each value of a column of groups has in all charts: # and six digits"`
	Hard    []string          `json:"hard,omitempty" doc:"what is hard to see or to tell apart among these colours; told, not set"`
	Values  []string          `json:"values,omitempty" doc:"the values that a column of groups has, at most 200; told, not set"`
}

// mostNamedValues is how many values of a column can be named one by one.
const mostNamedValues = 200

// Meanings is the dictionary of a dataset, by column.
type Meanings map[string]Meaning

// on gives a table with labels, units and meanings of the dictionary; values stay.
func (m Meanings) on(t *table.Table) *table.Table { return m.dressed(t, Meaning.on) }

// spelled is on, and codes are written as what they stand for: for charts, keys and
// cards.
func (m Meanings) spelled(t *table.Table) *table.Table { return m.dressed(t, Meaning.spelled) }

func (m Meanings) dressed(t *table.Table, dress func(Meaning, *table.Column) *table.Column) *table.Table {
	if len(m) == 0 {
		return t
	}
	columns := slices.Clone(t.Columns())
	for i, c := range columns {
		if said, known := m[c.Name]; known {
			columns[i] = dress(said, c)
		}
	}
	out, err := table.New(columns...)
	if err != nil { // the names are those of a table
		return t
	}
	return out
}

func (m Meaning) on(c *table.Column) *table.Column {
	column := *c
	column.Label, column.Unit, column.Meaning = cmp.Or(m.Label, c.Label), cmp.Or(m.Unit, c.Unit), cmp.Or(m.Meaning, c.Meaning)
	column.Form = m.Form
	return &column
}

// spelled leaves a code as it is where another value has its name already.
func (m Meaning) spelled(c *table.Column) *table.Column {
	column := m.on(c)
	if !c.Kind.Coded() {
		return column
	}
	column.Colours = m.Colours
	if len(m.Codes) == 0 {
		return column
	}
	column.Levels = slices.Clone(c.Levels)
	for i, level := range c.Levels {
		if name := m.Codes[level]; name != "" && !slices.Contains(column.Levels, name) {
			column.Levels[i] = name
		}
	}
	if len(m.Colours) > 0 { // of values as they are called now
		column.Colours = map[string]string{}
		for i, level := range c.Levels {
			if own := m.Colours[level]; own != "" {
				column.Colours[column.Levels[i]] = own
			}
		}
	}
	return column
}

// newest gives the table of a dataset's newest version.
func (a *App) newest(ctx context.Context, spaceID, datasetID int64) (*table.Table, error) {
	dataset, err := a.store.Dataset(ctx, spaceID, datasetID)
	if err != nil {
		return nil, err
	}
	t, _, err := a.Table(ctx, spaceID, dataset.VersionID)
	return t, err
}

// Meanings gives the dictionary of a dataset: every column of its newest version,
// with what was said of it.
func (a *App) Meanings(ctx context.Context, spaceID, datasetID int64) ([]Meaning, error) {
	t, err := a.newest(ctx, spaceID, datasetID)
	if err != nil {
		return nil, err
	}
	all, err := a.store.Meanings(ctx, datasetID)
	list := []Meaning{}
	for _, c := range t.Columns() {
		meaning := all[c.Name]
		meaning.Column, meaning.Hard = c.Name, hard(meaning.Colours)
		if c.Kind.Groups() {
			meaning.Values = c.Levels[:min(len(c.Levels), mostNamedValues)]
		}
		list = append(list, meaning)
	}
	return list, err
}

// SetMeaning says what a column means; an empty meaning takes back what was said.
func (a *App) SetMeaning(ctx context.Context, spaceID, datasetID int64, meaning Meaning) error {
	t, err := a.newest(ctx, spaceID, datasetID)
	if err != nil {
		return err
	}
	if t.Column(meaning.Column) == nil {
		return &Invalid{Message: fmt.Sprintf("no column is called %s", meaning.Column), Advice: "name a column as it stands in the file"}
	}
	if meaning.Form = strings.TrimSpace(meaning.Form); scale.CheckForm(meaning.Form) != nil {
		return &Invalid{Message: scale.CheckForm(meaning.Form).Error(), Advice: "say 120k, percent, plain, currency £, or decimals 3"}
	}
	for value, hex := range meaning.Colours {
		if hex == "" {
			delete(meaning.Colours, value)
		} else if !chart.ColourWritten(hex) {
			return &Invalid{Message: fmt.Sprintf("%q is no colour", hex), Advice: "write it as # and six digits: #1f7a6d"}
		}
	}
	named := map[string]string{}
	for _, code := range slices.Sorted(maps.Keys(meaning.Codes)) {
		name := strings.TrimSpace(meaning.Codes[code])
		if name == "" {
			delete(meaning.Codes, code)
			continue
		}
		if other, twice := named[name]; twice {
			return &Invalid{
				Message: fmt.Sprintf("%s and %s would both be called %s", other, code, name),
				Advice: fmt.Sprintf(
					"give them different names, or make them one group with read %s with '%s' as '%s'",
					meaning.Column,
					code,
					name,
				),
			}
		}
		named[name], meaning.Codes[code] = code, name
	}
	return a.store.SetMeanings(ctx, datasetID, []Meaning{meaning})
}

// hard says what is hard to see on paper, or to tell apart by anybody, among own colours.
func hard(colours map[string]string) []string {
	values := slices.Sorted(maps.Keys(colours))
	hexes := make([]string, len(values))
	for i, value := range values {
		hexes[i] = colours[value]
	}
	return colour.Hard(values, hexes)
}

// ImportedMeanings says what a file of meanings did.
type ImportedMeanings struct {
	Taken   []string `json:"taken" doc:"columns that were given a meaning"`
	Unknown []string `json:"unknown" doc:"names in the file that are no column"`
}

// ImportMeanings reads a table of two columns or more: the name of a column and what
// it means; a title row may name more of them (unit, label).
func (a *App) ImportMeanings(ctx context.Context, spaceID, datasetID int64, content io.Reader) (*ImportedMeanings, error) {
	t, err := a.newest(ctx, spaceID, datasetID)
	if err != nil {
		return nil, err
	}
	dictionary, _, err := reader.Read(ctx, content, reader.Options{TitleRow: -1, MaxBytes: 4 << 20})
	var refused *reader.Error
	if errors.As(err, &refused) {
		return nil, &Invalid{Message: refused.Error(), Advice: refused.Advice}
	}
	if err != nil {
		return nil, err
	}
	if len(dictionary.Columns()) < 2 {
		return nil, &Invalid{
			Message: "the file has one column",
			Advice:  "write the name of a column, a separator, and what it means: honey_kg;Honey taken per hive",
		}
	}
	known, err := a.store.Meanings(ctx, datasetID)
	if err != nil {
		return nil, err
	}
	meanings, out := meaningsFrom(dictionary, t, known)
	if len(meanings) == 0 {
		return nil, &Invalid{
			Message: "no name in the file is a column of this dataset",
			Advice: "the first column of the file must hold the names as they stand in the dataset: " + strings.Join(
				t.Names()[:min(4, len(t.Names()))],
				", ",
			),
		}
	}
	return out, a.store.SetMeanings(ctx, datasetID, meanings)
}

// meaningTitles are the words that a title row of a dictionary may have.
var meaningTitles = map[string]string{
	"column": "column", "variable": "column", "field": "column", "name": "column", "code": "column",
	"meaning": "meaning", "description": "meaning", "definition": "meaning",
	"unit": "unit", "units": "unit", "label": "label", "title": "label", "called": "label",
}

// meaningsFrom reads the rows of a dictionary, the first as titles when it names
// what the columns hold.
func meaningsFrom(dictionary, t *table.Table, known Meanings) ([]Meaning, *ImportedMeanings) {
	roles := []string{"column", "meaning", "unit", "label"}
	first := 0
	var titles []string
	for _, c := range dictionary.Columns() {
		titles = append(titles, meaningTitles[strings.ToLower(strings.TrimSpace(c.Value(0)))])
	}
	if slices.Contains(titles, "column") && slices.Contains(titles, "meaning") {
		roles, first = titles, 1
	}
	out := &ImportedMeanings{Taken: []string{}, Unknown: []string{}}
	var meanings []Meaning
	for row := first; row < dictionary.Rows(); row++ {
		said := map[string]string{}
		for i, c := range dictionary.Columns() {
			if i < len(roles) && roles[i] != "" && said[roles[i]] == "" {
				said[roles[i]] = strings.TrimSpace(c.Value(row))
			}
		}
		if said["column"] == "" {
			continue
		}
		column := t.Said(said["column"])
		if column == nil {
			out.Unknown = append(out.Unknown, said["column"])
			continue
		}
		meaning := known[column.Name]
		meaning.Column = column.Name
		for role, to := range map[string]*string{"meaning": &meaning.Meaning, "unit": &meaning.Unit, "label": &meaning.Label} {
			if said[role] != "" {
				*to = said[role]
			}
		}
		out.Taken = append(out.Taken, column.Name)
		meanings = append(meanings, meaning)
	}
	return meanings, out
}

// Describe changes what is said of a dataset. The origin is a web address, or words.
func (a *App) Describe(ctx context.Context, spaceID, id int64, said Description) error {
	name, origin := said.Name, said.Origin
	if name != nil && strings.TrimSpace(*name) == "" {
		return &Invalid{Message: "a dataset needs a name", Advice: "say what its rows are"}
	}
	if origin != nil {
		if link, err := url.Parse(strings.TrimSpace(*origin)); err == nil && link.Scheme != "" && link.Scheme != "http" &&
			link.Scheme != "https" {
			return &Invalid{
				Message: fmt.Sprintf("an origin does not begin with %s:", link.Scheme),
				Advice:  "give an address that begins with https://, or say in words where the table is from",
			}
		}
	}
	for _, words := range []*string{name, said.About, origin, said.OneRow} {
		if words != nil {
			*words = strings.TrimSpace(*words)
		}
	}
	return a.store.DescribeDataset(ctx, spaceID, id, said)
}

// Make begins a dataset with a table that is made from nothing, by a preparation that
// begins with make.
func (a *App) Make(ctx context.Context, person Person, name, typed string) (Dataset, error) {
	if name = strings.TrimSpace(name); name == "" {
		name = "Made table"
	}
	nothing, err := table.New()
	if err != nil {
		return Dataset{}, err
	}
	dataset, err := a.AddTable(
		ctx,
		NewDataset{
			SpaceID:  person.SpaceID,
			PersonID: person.ID,
			Name:     name,
			FileName: "",
			Table:    nothing,
			Report:   &reader.Report{Format: "made", Notes: []reader.Remark{}},
		},
	)
	if err != nil {
		return Dataset{}, err
	}
	if _, err := a.KeepPreparation(ctx, person, dataset.VersionID, typed); err != nil {
		return Dataset{}, errors.Join(err, a.store.DropDataset(context.WithoutCancel(ctx), person.SpaceID, dataset.ID))
	}
	return a.store.Dataset(ctx, person.SpaceID, dataset.ID)
}

// Meant is a short sum of what people say of a dataset's columns: what is drawn of it changes with that.
func (a *App) Meant(ctx context.Context, datasetID int64) (string, error) {
	meanings, err := a.store.Meanings(ctx, datasetID)
	if err != nil {
		return "", err
	}
	written, err := json.Marshal(meanings) // its keys are in order
	sum := sha256.Sum256(written)
	return hex.EncodeToString(sum[:4]), err
}
