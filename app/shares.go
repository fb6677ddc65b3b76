package app

import (
	"bytes"
	"context"
	"crypto/rand"
	"encoding/base64"
	"encoding/binary"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"copperlark/core/chart"
	"copperlark/core/figure"
	"copperlark/core/page"
	"copperlark/core/render"
	"copperlark/core/table"
)

// Share is a chart or a page under an address of its own, for readers.
type Share struct {
	ID          int64      `json:"id"`
	Key         string     `json:"key"`
	ChartID     int64      `json:"chart_id,omitempty"`
	PageID      int64      `json:"page_id,omitempty"`
	Title       string     `json:"title"`
	Body        string     `json:"body"`
	Source      string     `json:"source"`
	Typed       string     `json:"typed"`
	Made        string     `json:"made,omitempty" doc:"the clauses that prepared its rows, one a line, with the rows that each left"`
	Checked     string     `json:"checked,omitempty" doc:"what else was looked at as an explanation, a line each; of columns that are not shared, how many"`
	By          string     `json:"by,omitempty" doc:"who shared it"`
	CreatedAt   time.Time  `json:"created_at"`
	WithdrawnAt *time.Time `json:"withdrawn_at,omitempty"`
	Live        bool       `json:"live,omitempty" doc:"it follows what is kept; else it stays as it is"`
	ChangedAt   *time.Time `json:"changed_at,omitempty" doc:"of a live one: when it last followed"`
	Trouble     string     `json:"trouble,omitempty" doc:"of a live one: why it does not follow"`
	PeopleOnly  bool       `json:"people_only,omitempty" doc:"only people of the space open it"`
	Locked      bool       `json:"locked,omitempty" doc:"it has a password"`
	Until       *time.Time `json:"until,omitempty"`
	GivesRows   bool       `json:"gives_rows" doc:"readers take its rows as a file"`
	TellsMade   bool       `json:"tells_made" doc:"readers are told how it was made"`
	Opened      int64      `json:"opened" doc:"how often its page was opened"`

	SpaceName    string         `json:"-"`
	SpaceID      int64          `json:"-"`
	VersionID    int64          `json:"-"`
	PersonID     int64          `json:"-"`
	ParentID     int64          `json:"-"` // of a chart of a page: the page; of what it was earlier: what it is
	RootID       int64          `json:"-"` // whose address is asked; 0: its own
	Earlier      bool           `json:"-"`
	Position     int            `json:"-"`
	Block        string         `json:"-"` // of the page
	Contents     *page.Contents `json:"-"` // of a page
	Columns      []string       `json:"-"` // that were ticked; nil: those that the sentence names
	PasswordHash string         `json:"-"`
	MadeOf       string         `json:"-"` // of a live one
	Rows         int            `json:"-"` // of the table that it publishes; -1: shared before tables were kept
	Previewed    bool           `json:"-"` // it has a picture for previews
	Linked       bool           `json:"-"` // its rows have names in all charts of the page

	Figure  []byte       `json:"-"` // encoded; these only when it is added
	Exact   []byte       `json:"-"`
	Phone   []byte       `json:"-"`
	Preview []byte       `json:"-"`
	Links   []byte       `json:"-"`
	Table   *table.Table `json:"-"`
}

// Root is the share whose address is asked.
func (s Share) Root() int64 {
	if s.RootID != 0 {
		return s.RootID
	}
	return s.ID
}

// DayOpened is how often something was opened on a day.
type DayOpened struct {
	Day    string `json:"day" doc:"2032-03-12"`
	Opened int64  `json:"opened"`
}

// ShareStorage is what the program keeps of what is shared.
type ShareStorage interface {
	AddShare(ctx context.Context, share Share, parts []Share) (Share, error)
	FollowShare(ctx context.Context, root, fresh Share, parts []Share, earlierKey string) error
	TroubleShare(ctx context.Context, id int64, trouble string) error
	Publish(ctx context.Context, shareID int64, published *table.Table) error
	PublishedTable(ctx context.Context, shareID int64, rows int) (*table.Table, error)
	SharedFigure(ctx context.Context, shareID int64, which FigureOf) ([]byte, error)
	ShareLinks(ctx context.Context, shareID int64) ([]byte, error)
	SharePreview(ctx context.Context, shareID int64) ([]byte, error)
	Shares(ctx context.Context, spaceID int64) ([]Share, error)
	ShareParts(ctx context.Context, shareID int64) ([]Share, error)
	EarlierShare(ctx context.Context, shareID int64) (Share, error)
	WithdrawShare(ctx context.Context, spaceID, id int64) error
	ShareByKey(ctx context.Context, key string) (Share, error)
	ShareByID(ctx context.Context, spaceID, id int64) (Share, error)
	CountOpen(ctx context.Context, shareID int64) error
	ShareOpens(ctx context.Context, shareID int64, most int) ([]DayOpened, error)
	ChartNow(ctx context.Context, spaceID, chartID int64) (stepID, newestVersionID int64, err error)
}

// Access is who may open a share, and what they get.
type Access struct {
	Live       bool       `json:"live,omitempty" doc:"it follows what is kept; else it stays as it is"`
	PeopleOnly bool       `json:"people_only,omitempty" doc:"only people of the space open it"`
	Password   string     `json:"password,omitempty" maxLength:"200" doc:"that is asked of readers; empty: none"`
	Until      *time.Time `json:"until,omitempty" doc:"when it ends; missing: never"`
	KeepRows   bool       `json:"keep_rows,omitempty" doc:"readers cannot take the rows as a file"`
	KeepMade   bool       `json:"keep_made,omitempty" doc:"readers are not told how it was made"`
}

// leastPassword is how many characters the password of a share has at least.
const leastPassword = 6

// on makes a share be opened by whom the access says.
func (w Access) on(a *App, share *Share) error {
	if w.Until != nil && !w.Until.After(a.now()) {
		return &Invalid{Message: "the share would have ended already", Advice: "name a day to come, or none"}
	}
	if w.Password != "" {
		if utf8.RuneCountInString(w.Password) < leastPassword {
			return &Invalid{Message: fmt.Sprintf("the password has fewer than %d characters", leastPassword), Advice: "take a longer one, or none"}
		}
		share.PasswordHash = HashPassword(w.Password)
	}
	share.Live, share.PeopleOnly, share.Until, share.GivesRows, share.TellsMade = w.Live, w.PeopleOnly, w.Until, !w.KeepRows, !w.KeepMade
	share.Locked = share.PasswordHash != ""
	return nil
}

// NewShare is what somebody says when sharing a chart.
type NewShare struct {
	ChartID   int64
	VersionID int64
	Document  *chart.Document
	Title     string
	Body      string
	Columns   []string // that go out, of goesOut; nil: those that the sentence names
	Access
}

// How many characters the title and the text of a shared chart have at most.
const longestTitle, longestBody = 500, 10_000

func newKey() string {
	raw := make([]byte, 16)
	_, _ = rand.Read(raw)
	return base64.RawURLEncoding.EncodeToString(raw)
}

// Share shares a chart under an unguessable address.
func (a *App) Share(ctx context.Context, person Person, wanted NewShare) (Share, error) {
	share, err := a.copiedShare(ctx, person, wanted)
	if err != nil {
		return Share{}, err
	}
	if err := wanted.on(a, &share); err != nil {
		return Share{}, err
	}
	if share.Live {
		if wanted.ChartID == 0 {
			return Share{}, &Invalid{Message: "a chart that is not kept cannot be followed", Advice: "keep the chart first, or share a fixed copy"}
		}
		if share.MadeOf, _, err = a.chartTag(ctx, person.SpaceID, page.ShownChart{ID: wanted.ChartID}); err != nil {
			return Share{}, err
		}
	}
	share, err = a.store.AddShare(ctx, share, nil)
	if err == nil {
		a.did(ctx, person, didShare, "the chart “"+share.Title+"”")
	}
	return share, err
}

// copiedShare is a share of a chart as it would be kept.
func (a *App) copiedShare(ctx context.Context, person Person, wanted NewShare) (Share, error) {
	title, body := strings.TrimSpace(wanted.Title), strings.TrimSpace(wanted.Body)
	switch {
	case title == "":
		return Share{}, &Invalid{Message: "the shared chart has no title", Advice: "say in a few words what it shows"}
	case utf8.RuneCountInString(title) > longestTitle || utf8.RuneCountInString(body) > longestBody:
		return Share{}, &Invalid{
			Message: "the title or the text is too long",
			Advice:  "keep the title under 500 characters and the text under 10,000",
		}
	}
	if wanted.Document == nil {
		return Share{}, &Invalid{Message: "the chart says nothing to plot", Advice: "say which column to plot against which"}
	}
	if err := a.roomFor(ctx, person.SpaceID, 0, 0); err != nil {
		return Share{}, err
	}
	document := wanted.Document.Clone()
	document.Title = "" // the page has it as its heading
	if strings.Contains(body, strings.TrimSpace(page.Words(document.Note))) {
		document.Note = "" // the page has it in its text
	}
	answer, err := a.answerOf(ctx, person.SpaceID, wanted.ChartID, document)
	if err != nil {
		return Share{}, err
	}
	if answer != "" {
		body = strings.TrimSpace(body + "\n\n" + answer)
	}
	share, _, err := a.copied(ctx, person.SpaceID, toCopy{versionID: wanted.VersionID, document: document, columns: wanted.Columns,
		preview: title})
	share.Key, share.ChartID, share.Title, share.Body = newKey(), wanted.ChartID, title, body
	share.SpaceID, share.SpaceName, share.PersonID, share.Columns = person.SpaceID, person.SpaceName, person.ID, wanted.Columns
	share.CreatedAt, share.GivesRows, share.TellsMade = a.now(), true, true
	return share, err
}

// toCopy is a chart that is to be copied for a share.
type toCopy struct {
	versionID     int64
	document      *chart.Document
	columns       []string
	width, height float64
	preview       string // the heading of its picture for previews; empty: it has none
}

// copied is what a share keeps of a chart, and the copy that it is made of.
func (a *App) copied(ctx context.Context, spaceID int64, c toCopy) (share Share, copied *FixedCopy, err error) {
	err = a.onSpelled(ctx, spaceID, c.versionID, "a shared chart", 4*weightOf(c.document, "")+weighExplain,
		func(ctx context.Context, t *shown, d Dataset) error {
			options := figure.Options{Width: c.width, Height: c.height, Metrics: a.metrics, Dataset: a.others(spaceID),
				Elsewhere: a.wholeOf(ctx, spaceID, t, d)}
			if copied, err = NewFixedCopy(ctx, t.Table, c.document, c.columns, options); err != nil {
				return err
			}
			m, err := a.madeOf(ctx, spaceID, d)
			if err != nil {
				return err
			}
			first := t.Table
			if m.first.ID != d.VersionID && m.first.ID != 0 {
				if first, _, err = a.Table(ctx, spaceID, m.first.ID); err != nil {
					return err
				}
			}
			hidden := m.hidden(copied.Table, t.Table, first.Names())
			if speaksOf(d.OneRow, hidden) {
				d.OneRow = "" // what one row is names a column that stays at home
			}
			if speaksOf(d.Drawn, hidden) {
				d.Drawn = hiddenSample // a table may be called as a column is
			}
			looked, err := a.store.RelationsLooked(ctx, spaceID, d.ID)
			if err != nil {
				return err
			}
			share = Share{VersionID: c.versionID, Source: copied.sourceLine(d, m, looked), Typed: copied.Picture.Typed,
				Made:   strings.Join(m.lines(copied.Table, t.Table, first.Names()), "\n"),
				Figure: copied.Figure, Exact: copied.Exact, Phone: copied.Phone, Table: copied.Table}
			bound, err := t.suits(c.document)
			if err != nil {
				return err
			}
			checked, err := checkedLines(ctx, bound, a.wholeOf(ctx, spaceID, t, d), copied.Table, hidden)
			if err != nil {
				return err
			}
			share.Checked = strings.Join(checked, "\n")
			if c.preview != "" {
				share.Preview, err = a.preview(ctx, spaceID, t.Table, copied, c)
			}
			return err
		})
	return share, copied, err
}

// The picture for previews of a link: half of its pixels, so that its words can be read in a small one.
const previewWidth, previewHeight, previewScale = 600, 315, 2

// preview draws a chart, from what is published alone, for previews of its link.
func (a *App) preview(ctx context.Context, spaceID int64, t *table.Table, copied *FixedCopy, c toCopy) ([]byte, error) {
	document := copied.Picture.Document.Clone()
	document.Title, document.Note, document.Paper = c.preview, "", nil
	document.Key = chart.KeyOff // in a small picture it would take the room of what it explains
	bound, err := publish(document, t, c.columns)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	problems, err := render.Chart(ctx, bound, render.FormatNamed("png"), render.Options{Width: previewWidth, Height: previewHeight,
		Scale: previewScale, Metrics: a.metrics, Clock: a.now().UTC(), Dataset: a.others(spaceID)}, &out)
	if problems != nil {
		return nil, refused(problems)
	}
	return out.Bytes(), err
}

// answerOf is what rows that were set aside said of the relation that a chart is shared with;
// empty where they were not asked, or about another one. A chart of another space is none.
func (a *App) answerOf(ctx context.Context, spaceID, chartID int64, document *chart.Document) (string, error) {
	if chartID == 0 {
		return "", nil
	}
	kept, err := a.store.Chart(ctx, spaceID, chartID)
	if err != nil || kept.Answer == nil || !kept.Answer.IsOf(document) {
		return "", err
	}
	return kept.Answer.Words, nil
}

// LookAtShare is a share of a chart as it would be, which is not kept; its parts hold what they show.
func (a *App) LookAtShare(ctx context.Context, person Person, wanted NewShare) (Share, []Share, error) {
	share, err := a.copiedShare(ctx, person, wanted)
	if err == nil {
		wanted.Password = "" // hashing one takes its time
		err = wanted.on(a, &share)
	}
	return share, []Share{share}, err
}

// LookAtPage is the share of a page as it would be, which is not kept.
func (a *App) LookAtPage(ctx context.Context, person Person, id int64, wanted PageShare) (Share, []Share, error) {
	kept, err := a.store.Page(ctx, person.SpaceID, id)
	if err != nil {
		return Share{}, nil, err
	}
	share, parts, err := a.copiedPage(ctx, person, kept, wanted.Columns)
	if err == nil {
		wanted.Password = ""
		err = wanted.on(a, &share)
	}
	for i := range parts {
		parts[i].GivesRows, parts[i].TellsMade = share.GivesRows, share.TellsMade
	}
	return share, parts, err
}

// PageShare is what somebody says when sharing a page.
type PageShare struct {
	Columns map[string][]string // of charts, by their blocks: the columns that go out; missing: those that the sentence names
	Access
}

// SharePage shares a page with its charts.
func (a *App) SharePage(ctx context.Context, person Person, id int64, wanted PageShare) (Share, error) {
	kept, err := a.store.Page(ctx, person.SpaceID, id)
	if err != nil {
		return Share{}, err
	}
	share, parts, err := a.copiedPage(ctx, person, kept, wanted.Columns)
	if err != nil {
		return Share{}, err
	}
	if err := wanted.on(a, &share); err != nil {
		return Share{}, err
	}
	share, err = a.store.AddShare(ctx, share, parts)
	if err == nil {
		a.did(ctx, person, didShare, "the page “"+share.Title+"”")
	}
	return share, err
}

// The sizes that charts of a page are laid out for, by where they stand.
var partSizes = map[string][2]float64{"": {640, 300}, "right": {640, 300}, "left": {640, 300}, "below": {1000, 440}, "above": {1000, 440}}

// copiedPage is the share of a page as it would be kept. Its tied words are what the readings of the copies say, which know no
// column that stays at home.
func (a *App) copiedPage(ctx context.Context, person Person, kept Page, columns map[string][]string) (Share, []Share, error) {
	if err := a.roomFor(ctx, person.SpaceID, 0, 0); err != nil {
		return Share{}, nil, err
	}
	contents := kept.Contents.Clone()
	if strings.TrimSpace(contents.Title) == "" {
		return Share{}, nil, &Invalid{Message: "the page has no title", Advice: "say in a few words what it tells"}
	}
	share := Share{Key: newKey(), PageID: kept.ID, Title: strings.TrimSpace(contents.Title), Body: contents.Lead, SpaceID: person.SpaceID,
		SpaceName: person.SpaceName, PersonID: person.ID, CreatedAt: a.now(), GivesRows: true, TellsMade: true, Contents: contents}
	tag, versionIDs, err := a.pageTag(ctx, person.SpaceID, kept)
	if err != nil {
		return share, nil, err
	}
	share.MadeOf = tag
	together, err := a.together(ctx, person.SpaceID, contents)
	if err != nil {
		return share, nil, err
	}
	var parts []Share
	var copies []*FixedCopy
	for i := range contents.Blocks {
		b := &contents.Blocks[i]
		if b.Chart == nil {
			b.Text = page.Untied(b.Text)
			continue
		}
		shown, err := a.chartAt(ctx, person.SpaceID, *b.Chart)
		if err != nil {
			return share, nil, err
		}
		document, err := a.sharing(ctx, person.SpaceID, Side{ShownChart: *b.Chart}, shown.Document, together)
		if err != nil {
			return share, nil, named(err, b)
		}
		size := partSizes[b.Place]
		c := toCopy{versionID: versionIDs[i], document: document, columns: columns[b.ID], width: size[0], height: size[1]}
		if len(parts) == 0 {
			c.preview = share.Title
		}
		part, copied, err := a.copied(ctx, person.SpaceID, c)
		if err != nil {
			return share, nil, named(err, b)
		}
		part.Key, part.ChartID, part.Block, part.Title, part.Columns = newKey(), b.Chart.ID, b.ID, titleOf(b, share.Title), columns[b.ID]
		part.CreatedAt = share.CreatedAt
		b.Text, _ = page.Follow(b.Text, copied.Picture.Reading.Said())
		if c.preview != "" {
			share.Preview, part.Preview = part.Preview, nil
		}
		parts, copies = append(parts, part), append(copies, copied)
	}
	link(parts, copies)
	return share, parts, nil
}

// titleOf is what a chart of a page is called: the first line of its text, or the page.
func titleOf(b *page.Block, title string) string {
	if first, _, _ := strings.Cut(page.Plain(b.Text), "\n"); first != "" {
		return short(first, 200)
	}
	return title
}

// named says of which block something is wrong.
func named(err error, b *page.Block) error {
	if unfit, is := err.(*Invalid); is {
		first, _, _ := strings.Cut(page.Plain(b.Text), "\n")
		return &Invalid{Message: fmt.Sprintf("the chart of “%s”: %s", short(first, 60), unfit.Message), Advice: unfit.Advice,
			Problems: unfit.Problems}
	}
	return err
}

// link gives the rows of charts of one version the same names: their places among all rows of it that the page shows.
func link(parts []Share, copies []*FixedCopy) {
	shown := map[int64]map[int]uint32{}
	for i, part := range parts {
		if shown[part.VersionID] == nil {
			shown[part.VersionID] = map[int]uint32{}
		}
		for _, row := range copies[i].Rows {
			shown[part.VersionID][row] = 0
		}
	}
	for _, rows := range shown {
		for place, row := range slices.Sorted(maps.Keys(rows)) {
			rows[row] = uint32(place)
		}
	}
	for i := range parts {
		inOrder := true
		for place, row := range copies[i].Rows {
			name := shown[parts[i].VersionID][row]
			inOrder = inOrder && int(name) == place
			parts[i].Links = binary.LittleEndian.AppendUint32(parts[i].Links, name)
		}
		if inOrder {
			parts[i].Links = nil // they are called by their places
		}
	}
}

// Shares lists what a space shares, withdrawn ones too.
func (a *App) Shares(ctx context.Context, spaceID int64) ([]Share, error) {
	return a.store.Shares(ctx, spaceID)
}

// daysOpened is for how many days it is told how often a share was opened.
const daysOpened = 60

// ShareOpens is how often a share was opened, by day.
func (a *App) ShareOpens(ctx context.Context, spaceID, id int64) ([]DayOpened, error) {
	if _, err := a.store.ShareByID(ctx, spaceID, id); err != nil {
		return nil, err
	}
	return a.store.ShareOpens(ctx, id, daysOpened)
}

// Withdraw takes a share back; its address answers with a page that says so from then on.
func (a *App) Withdraw(ctx context.Context, person Person, id int64) error {
	if err := a.store.WithdrawShare(ctx, person.SpaceID, id); err != nil {
		return err
	}
	a.did(ctx, person, didWithdraw, fmt.Sprintf("the share %d", id))
	return nil
}
