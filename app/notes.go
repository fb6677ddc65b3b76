package app

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"copperlark/core/table"
)

// The most of notes: letters of one, rows that one is on, answers to one, notes of one chart, dataset or page.
const (
	MostNoteText    = 4_000
	MostNoteRows    = 2_000
	MostAnswers     = 300
	MostNotesOfOne  = 2_000
	mostListedNotes = 200
)

// NoteSpot is what of a chart, a dataset or a page a note is on, by its kind: the whole of it; a step; rows, which are followed through
// versions by the values that tell them apart; a mark, or a place, of which x and y are values of columns; a column; a block.
type NoteSpot struct {
	Kind    string `json:"kind" enum:"whole,step,rows,mark,place,column,paragraph"`
	Step    int64  `json:"step,omitempty"`
	Version int64  `json:"version_id,omitempty" doc:"of rows: whose they are"`
	Rows    []int  `json:"rows,omitempty" maxItems:"2000" doc:"from 1 on"`

	X      *NoteAt `json:"x,omitempty" doc:"of a mark or a place"`
	Y      *NoteAt `json:"y,omitempty"`
	Panel  string  `json:"panel,omitempty" maxLength:"2000" doc:"of a mark or a place in a chart of panels: what the panel is called"`
	Mark   string  `json:"mark,omitempty" maxLength:"2000" doc:"what the mark is called, as its card says it"`
	Column string  `json:"column,omitempty" maxLength:"20000"`
	Block  string  `json:"block,omitempty" maxLength:"40"`

	// Key are the columns that tell the rows apart, and Keys what these hold in each of them.
	Key  []string   `json:"key,omitempty" readOnly:"true"`
	Keys [][]string `json:"keys,omitempty" readOnly:"true"`
}

// NoteAt is a value along an axis: of a column, a number (of a date, seconds since 1970) or a group.
type NoteAt struct {
	Column string   `json:"column" maxLength:"20000"`
	Number *float64 `json:"number,omitempty"`
	Group  *string  `json:"group,omitempty" maxLength:"20000"`
}

// noteKinds is every kind of spot, what notes of it are on, and what it lacks; empty: nothing.
var noteKinds = []struct {
	kind, of string
	lacks    func(s *NoteSpot) string
}{
	{"whole", "chart dataset page", func(*NoteSpot) string { return "" }},
	{"step", "chart", func(s *NoteSpot) string { return unless(s.Step > 0, "a step") }},
	{"rows", "chart dataset", func(s *NoteSpot) string {
		return unless(len(s.Rows) > 0 && len(s.Rows) <= MostNoteRows && s.Version > 0, fmt.Sprintf("1 to %d rows of a version", MostNoteRows))
	}},
	{"mark", "chart", func(s *NoteSpot) string { return unless(s.X.is() && s.Y.is() && s.Mark != "", "a mark with its place") }},
	{"place", "chart", func(s *NoteSpot) string { return unless(s.X.is() && s.Y.is(), "a place along both axes") }},
	{"column", "dataset", func(s *NoteSpot) string { return unless(s.Column != "", "a column") }},
	{"paragraph", "page", func(s *NoteSpot) string { return unless(s.Block != "", "a block") }},
}

func unless(is bool, lacks string) string {
	if is {
		return ""
	}
	return lacks
}

func (at *NoteAt) is() bool { return at != nil && (at.Number == nil) != (at.Group == nil) }

// Note is what somebody said.
type Note struct {
	ID int64 `json:"id"`
	Subject
	Spot       NoteSpot     `json:"spot"`
	Text       string       `json:"text"`
	PersonID   int64        `json:"person_id,omitempty" doc:"who wrote it"`
	By         string       `json:"by"`
	CreatedAt  time.Time    `json:"created_at"`
	ResolvedBy string       `json:"resolved_by,omitempty"`
	ResolvedAt *time.Time   `json:"resolved_at,omitempty"`
	Answers    []NoteAnswer `json:"answers" nullable:"false" doc:"the first one first"`
	Name       string       `json:"name" doc:"of the chart, the dataset or the page that it is on"`
	OfDataset  int64        `json:"of_dataset,omitempty" doc:"of a chart: its dataset"`
	Fresh      bool         `json:"fresh" doc:"it concerns whoever asks, and they have not seen it"`
	Named      bool         `json:"named" doc:"whoever asks is named in it"`

	Now  []int    `json:"now,omitempty" doc:"of rows: where they stand in the version that is asked for, from 1 on"`
	Gone []string `json:"gone,omitempty" doc:"of rows: those that this version does not have, by what tells them apart"`
	Lost string   `json:"lost,omitempty" doc:"of rows: why they cannot be followed to this version"`
}

// NoteAnswer is an answer to a note.
type NoteAnswer struct {
	ID        int64     `json:"id"`
	Text      string    `json:"text"`
	PersonID  int64     `json:"person_id,omitempty"`
	By        string    `json:"by"`
	CreatedAt time.Time `json:"created_at"`
}

// NewNote is a note to be kept.
type NewNote struct {
	Subject
	Spot NoteSpot `json:"spot"`
	Text string   `json:"text" minLength:"1" maxLength:"16000" doc:"plain words; @ before a name names somebody of the space"`
}

// NotesWanted says which notes are asked for; what is 0 or empty is not looked at.
type NotesWanted struct {
	Subject
	ID    int64
	Find  string // every word of it must stand in a note, its answers, or the name of what it is on
	Fresh bool   // that concern whoever asks, and were not seen
	Open  bool   // that are not resolved
}

// NoteStorage is what the program keeps of notes. A call that takes a space finds only what belongs to it.
type NoteStorage interface {
	// AddNote keeps a note, and that it concerns who is named in it and who made what it is on.
	AddNote(ctx context.Context, spaceID, personID int64, note NewNote, named []int64) (int64, error)
	Notes(ctx context.Context, spaceID, personID int64, wanted NotesWanted, most int) ([]Note, error)
	CountNotes(ctx context.Context, spaceID int64, on Subject) (int, error)
	// AnswerNote keeps an answer, which concerns all that the note did, its author, and who is named.
	AnswerNote(ctx context.Context, spaceID, personID, noteID int64, text string, named []int64) error
	ResolveNote(ctx context.Context, spaceID, personID, noteID int64, resolved bool) error
	RewriteNote(ctx context.Context, spaceID, personID, noteID int64, text string, named []int64) error // one's own
	DropNote(ctx context.Context, spaceID, noteID, writtenBy int64) error                               // writtenBy 0: anybody's
	DropNoteAnswer(ctx context.Context, spaceID, noteID, answerID, writtenBy int64) error
	SeeNote(ctx context.Context, personID, noteID int64) error
	// NewsToPost takes, of one person whose last letter is older than a while, what concerns them and was neither seen nor posted;
	// nobody else takes it. ErrNotFound: there is nobody.
	NewsToPost(ctx context.Context, after time.Duration) (email string, news []PostedNote, err error)
}

// checkText refuses what is no text of a note.
func checkText(text string) (string, error) {
	text = strings.TrimSpace(text)
	switch {
	case text == "":
		return "", &Invalid{Message: "the note says nothing", Advice: "write something"}
	case utf8.RuneCountInString(text) > MostNoteText:
		return "", &Invalid{Message: fmt.Sprintf("a note has at most %d letters", MostNoteText), Advice: "write the rest on a page"}
	}
	return text, nil
}

// AddNote keeps a note on a chart, a dataset or a page.
func (a *App) AddNote(ctx context.Context, person Person, note NewNote) (Note, error) {
	var err error
	if note.Text, err = checkText(note.Text); err != nil {
		return Note{}, err
	}
	if err := note.check(); err != nil {
		return Note{}, err
	}
	if err := a.roomFor(ctx, person.SpaceID, 0, 0); err != nil {
		return Note{}, err
	}
	if note.Spot.Kind == "step" { // a step of another chart is none
		if _, _, err := a.store.Step(ctx, person.SpaceID, note.ChartID, note.Spot.Step); err != nil {
			return Note{}, err
		}
	}
	count, err := a.store.CountNotes(ctx, person.SpaceID, note.Subject)
	if err != nil {
		return Note{}, err
	}
	if count >= MostNotesOfOne {
		return Note{}, &Full{"it has as many notes as it may", "delete some that are resolved"}
	}
	note.Spot.Key, note.Spot.Keys = nil, nil
	if note.Spot.Kind == "rows" {
		if err := a.tellRowsApart(ctx, person.SpaceID, note.Subject, &note.Spot); err != nil {
			return Note{}, err
		}
	}
	named, err := a.named(ctx, person.SpaceID, note.Text)
	if err != nil {
		return Note{}, err
	}
	id, err := a.store.AddNote(ctx, person.SpaceID, person.ID, note, named)
	if err != nil {
		return Note{}, err
	}
	return a.Note(ctx, person, id)
}

// check says what is wrong with what a note is on.
func (n *NewNote) check() error {
	of := n.Name()
	if of == "" {
		return &Invalid{Message: "a note is on one thing", Advice: "name a chart, a dataset or a page"}
	}
	for _, kind := range noteKinds {
		if kind.kind != n.Spot.Kind {
			continue
		}
		if !strings.Contains(kind.of, of) {
			return &Invalid{Message: fmt.Sprintf("a note on a %s is not on a %s", n.Spot.Kind, of), Advice: "it can be on a " + kind.of}
		}
		if lacks := kind.lacks(&n.Spot); lacks != "" {
			return &Invalid{Message: "the note does not say where it is", Advice: "name " + lacks}
		}
		return nil
	}
	return &Invalid{Message: fmt.Sprintf("%q is nothing that a note can be on", n.Spot.Kind), Advice: "see the description of the routes"}
}

// Note gives one.
func (a *App) Note(ctx context.Context, person Person, id int64) (Note, error) {
	list, err := a.store.Notes(ctx, person.SpaceID, person.ID, NotesWanted{ID: id}, 1)
	if err == nil && len(list) == 0 {
		err = ErrNotFound
	}
	if err != nil {
		return Note{}, err
	}
	return list[0], nil
}

// Notes lists notes, the first of a thing first, of a whole space the last first. Rows are told as they stand in a version of their
// dataset, where one is asked for.
func (a *App) Notes(ctx context.Context, person Person, wanted NotesWanted, versionID int64) ([]Note, error) {
	most := MostNotesOfOne
	if wanted.Subject == (Subject{}) {
		most = mostListedNotes
	}
	list, err := a.store.Notes(ctx, person.SpaceID, person.ID, wanted, most)
	if err != nil || versionID == 0 {
		return list, err
	}
	return list, a.followRows(ctx, person.SpaceID, list, versionID)
}

// AnswerNote keeps an answer to a note.
func (a *App) AnswerNote(ctx context.Context, person Person, id int64, text string) (Note, error) {
	text, err := checkText(text)
	if err != nil {
		return Note{}, err
	}
	note, err := a.Note(ctx, person, id)
	if err != nil {
		return Note{}, err
	}
	if len(note.Answers) >= MostAnswers {
		return Note{}, &Full{"the note has as many answers as it may", "write another note"}
	}
	named, err := a.named(ctx, person.SpaceID, text)
	if err != nil {
		return Note{}, err
	}
	if err := a.store.AnswerNote(ctx, person.SpaceID, person.ID, id, text, named); err != nil {
		return Note{}, err
	}
	return a.Note(ctx, person, id)
}

// ChangeNote says a note of one's own otherwise, or resolves one, or opens it again; nil stays as it is.
func (a *App) ChangeNote(ctx context.Context, person Person, id int64, text *string, resolved *bool) (Note, error) {
	if text != nil {
		said, err := checkText(*text)
		if err != nil {
			return Note{}, err
		}
		named, err := a.named(ctx, person.SpaceID, said)
		if err != nil {
			return Note{}, err
		}
		if err := a.store.RewriteNote(ctx, person.SpaceID, person.ID, id, said, named); err != nil {
			return Note{}, err
		}
	}
	if resolved != nil {
		if err := a.store.ResolveNote(ctx, person.SpaceID, person.ID, id, *resolved); err != nil {
			return Note{}, err
		}
	}
	return a.Note(ctx, person, id)
}

// DropNote deletes a note of one's own with its answers, an owner anybody's; DropNoteAnswer an answer.
func (a *App) DropNote(ctx context.Context, person Person, id int64) error {
	return a.store.DropNote(ctx, person.SpaceID, id, writer(person))
}

// DropNoteAnswer deletes an answer of one's own, an owner anybody's.
func (a *App) DropNoteAnswer(ctx context.Context, person Person, noteID, id int64) error {
	return a.store.DropNoteAnswer(ctx, person.SpaceID, noteID, id, writer(person))
}

// writer is whose notes somebody may delete; 0: anybody's.
func writer(person Person) int64 {
	if person.Role == Owner {
		return 0
	}
	return person.ID
}

// SeeNote keeps that somebody has seen a note that concerns them.
func (a *App) SeeNote(ctx context.Context, person Person, id int64) error {
	return a.store.SeeNote(ctx, person.ID, id)
}

// named are the people of a space whose names stand in a text behind an @; of names that begin alike the longest.
func (a *App) named(ctx context.Context, spaceID int64, text string) ([]int64, error) {
	if !strings.Contains(text, "@") {
		return nil, nil
	}
	members, err := a.store.Members(ctx, spaceID, 0)
	if err != nil {
		return nil, err
	}
	slices.SortStableFunc(members, func(a, b Member) int { return len(b.Name) - len(a.Name) })
	var ids []int64
	for _, after := range strings.Split(text, "@")[1:] {
		longest := ""
		for _, m := range members {
			begins := len(after) >= len(m.Name) && m.Name != "" && strings.EqualFold(after[:len(m.Name)], m.Name)
			if begins && (longest == "" || strings.EqualFold(longest, m.Name)) && !slices.Contains(ids, m.ID) {
				longest, ids = m.Name, append(ids, m.ID)
			}
		}
	}
	return ids, nil
}

type rowKeyKey struct{ version int64 }

// tellRowsApart keeps what tells the rows of a spot apart from all others of their version; nothing, where nothing does.
func (a *App) tellRowsApart(ctx context.Context, spaceID int64, on Subject, spot *NoteSpot) error {
	of := on.DatasetID
	if on.ChartID != 0 {
		kept, err := a.store.ChartHead(ctx, spaceID, on.ChartID)
		if err != nil {
			return err
		}
		of = kept.DatasetID
	}
	return a.on(ctx, spaceID, spot.Version, "what tells rows apart", 1, func(ctx context.Context, l *loaded, d Dataset) error {
		if d.ID != of {
			return &Invalid{Message: "the rows are of another dataset", Advice: "name a version of the dataset that the note is on"}
		}
		for _, row := range spot.Rows {
			if row < 1 || row > l.table.Rows() {
				return &Invalid{Message: fmt.Sprintf("there is no row %d", row), Advice: fmt.Sprintf("rows are 1 to %d", l.table.Rows())}
			}
		}
		key, held := a.held.Get(rowKeyKey{spot.Version})
		if !held {
			columns, err := table.TellApart(ctx, l.table)
			if err != nil {
				return err
			}
			names := []string{}
			for _, c := range columns {
				names = append(names, c.Name)
			}
			key = names
			a.held.Put(rowKeyKey{spot.Version}, names, 64)
		}
		spot.Key = key.([]string)
		columns := make([]*table.Column, len(spot.Key))
		for i, name := range spot.Key {
			columns[i] = l.table.Column(name)
		}
		if len(columns) > 0 {
			for _, row := range spot.Rows {
				spot.Keys = append(spot.Keys, table.KeyOf(columns, row-1))
			}
		}
		return nil
	})
}

// followRows tells where the rows of notes stand in a version.
func (a *App) followRows(ctx context.Context, spaceID int64, list []Note, versionID int64) error {
	away := false
	for i := range list {
		if spot := &list[i].Spot; spot.Kind == "rows" && spot.Version == versionID {
			list[i].Now = spot.Rows
		} else if spot.Kind == "rows" {
			away = true
		}
	}
	if !away {
		return nil
	}
	return a.on(ctx, spaceID, versionID, "where rows are now", 0, func(_ context.Context, l *loaded, _ Dataset) error {
		for i := range list {
			if spot := &list[i].Spot; spot.Kind == "rows" && spot.Version != versionID {
				list[i].follow(l.table)
			}
		}
		return nil
	})
}

// follow tells where the rows of a note stand in a table.
func (n *Note) follow(t *table.Table) {
	if len(n.Spot.Key) == 0 {
		n.Lost = "nothing told its rows apart in the version that it was written on"
		return
	}
	columns := make([]*table.Column, len(n.Spot.Key))
	for i, name := range n.Spot.Key {
		if columns[i] = t.Column(name); columns[i] == nil {
			n.Lost = name + ", by which its rows were told apart, is not in this version"
			return
		}
	}
	for i, row := range table.RowsOfKeys(columns, n.Spot.Keys) {
		if row < 0 {
			n.Gone = append(n.Gone, strings.Join(n.Spot.Keys[i], ", "))
		} else {
			n.Now = append(n.Now, row+1)
		}
	}
}
