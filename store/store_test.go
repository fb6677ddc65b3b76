package store_test

import (
	"context"
	"math"
	"math/rand/v2"
	"reflect"
	"sync"
	"testing"
	"time"

	"copperlark/app"
	"copperlark/core/chart"
	"copperlark/core/reader"
	"copperlark/core/table"
	"copperlark/internal/test/databases"
	"copperlark/store"
)

func TestMain(m *testing.M) { databases.Main(m) }

// migrated makes a database ready, once for all tests.
func migrated(url string) error {
	kept, err := store.Open(context.Background(), url)
	if err == nil {
		kept.Close()
	}
	return err
}

func open(t *testing.T) (*store.Store, app.Person) {
	t.Helper()
	s, err := store.Open(context.Background(), databases.Prepared(t, migrated))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(s.Close)
	p, err := s.AddPerson(context.Background(), "a@b.example", "A", "", "Space")
	if err != nil {
		t.Fatal(err)
	}
	return s, p
}

func keep(t *testing.T, s *store.Store, p app.Person, columns ...*table.Column) app.Dataset {
	t.Helper()
	data, err := table.New(columns...)
	if err != nil {
		t.Fatal(err)
	}
	d, err := s.AddDataset(context.Background(), app.NewDataset{SpaceID: p.SpaceID, PersonID: p.ID, Name: "D", FileName: "d.csv", Table: data,
		Report: &reader.Report{}})
	if err != nil {
		t.Fatal(err)
	}
	return d
}

// TestATableComesBackAsItWas holds every kind of column, odd values included.
func TestATableComesBackAsItWas(t *testing.T) {
	s, p := open(t)
	source := rand.New(rand.NewPCG(1, 1))
	long := make([]float64, 70_001)
	for i := range long {
		long[i] = source.NormFloat64()
	}
	long[5], long[6], long[7] = math.Inf(1), math.Copysign(0, -1), 5e-324
	codes := make([]int32, len(long))
	for i := range codes {
		codes[i] = int32(source.IntN(4)) - 1
	}
	columns := []*table.Column{
		{Name: "n", Label: "Näme", Unit: "kg", Meaning: "it's \"odd\"", Kind: table.Number, Decimals: 2, Numbers: long},
		{Name: "c", Kind: table.Ordered, Codes: codes, Levels: []string{"", "<b>", "日本\x01"}},
		{Name: "d", Kind: table.Date, Grain: table.Second, Numbers: long},
	}
	d := keep(t, s, p, columns...)
	dataset, err := s.Version(context.Background(), p.SpaceID, d.VersionID)
	if err != nil || dataset.Rows != len(long) {
		t.Fatalf("%v, %d rows", err, dataset.Rows)
	}
	back, err := s.Table(context.Background(), d.VersionID, dataset.Rows)
	if err != nil {
		t.Fatal(err)
	}
	for i, c := range back.Columns() {
		if !reflect.DeepEqual(c, columns[i]) {
			t.Errorf("column %s came back otherwise", c.Name)
		}
	}
	if _, err := s.Version(context.Background(), p.SpaceID+1, d.VersionID); err != app.ErrNotFound {
		t.Errorf("another space sees the table: %v", err)
	}
}

func TestALinkSignsInOnce(t *testing.T) {
	s, p := open(t)
	ctx := context.Background()
	if err := s.AddSignInLink(ctx, []byte("hash"), p.ID, time.Now().Add(time.Hour), false); err != nil {
		t.Fatal(err)
	}
	used := make(chan int64, 8)
	var wait sync.WaitGroup
	for range 8 {
		wait.Add(1)
		go func() {
			defer wait.Done()
			if id, err := s.UseSignInLink(ctx, []byte("hash"), false); err == nil {
				used <- id
			}
		}()
	}
	wait.Wait()
	if len(used) != 1 {
		t.Errorf("eight at once used the link %d times", len(used))
	}
	_ = s.AddSignInLink(ctx, []byte("old"), p.ID, time.Now().Add(-time.Hour), false)
	if _, err := s.UseSignInLink(ctx, []byte("old"), false); err != app.ErrNotFound {
		t.Errorf("an old link: %v", err)
	}
}

func TestTheTrailBranches(t *testing.T) {
	s, p := open(t)
	ctx := context.Background()
	d := keep(t, s, p, table.NewNumbers("a", []float64{1}), table.NewNumbers("b", []float64{1}))
	first := &chart.Document{Version: chart.Version, Y: chart.Variable{Column: "a"}, X: chart.Variable{Column: "b"}}
	c, err := s.AddChart(ctx, p.SpaceID, d.VersionID, p.ID, "C", true, first, "first look")
	if err != nil {
		t.Fatal(err)
	}
	root := c.HeadStepID
	for _, words := range []string{"one", "two"} {
		document := first.Clone()
		document.Title = words
		if _, err := s.AddStep(ctx, p.SpaceID, c.ID, root, p.ID, document, words, "N", 3); err != nil {
			t.Fatal(err)
		}
	}
	c, err = s.Chart(ctx, p.SpaceID, c.ID)
	if err != nil || len(c.Steps) != 3 || c.Steps[1].ParentID != root || c.Steps[2].ParentID != root || c.Document.Title != "two" {
		t.Fatalf("%v %+v", err, c)
	}
	if _, err := s.AddStep(ctx, p.SpaceID, c.ID, root, p.ID, first, "one too many", "N", 3); err != app.ErrTooManySteps { // the first step counts
		t.Errorf("a fourth step within a day: %v", err)
	}
	if err := s.ChangeChart(ctx, p.SpaceID, c.ID, app.ChartChange{StepID: c.Steps[1].ID}); err != nil {
		t.Fatal(err)
	}
	if c, _ = s.Chart(ctx, p.SpaceID, c.ID); c.Document.Title != "one" {
		t.Errorf("the chart stands at %q", c.Document.Title)
	}
	if err := s.ChangeChart(ctx, p.SpaceID, c.ID, app.ChartChange{Name: "Renamed", StepID: 999999}); err != app.ErrNotFound {
		t.Errorf("moving to a step that is not there: %v", err)
	}
	if c, _ = s.Chart(ctx, p.SpaceID, c.ID); c.Name != "C" {
		t.Errorf("a change that could not be made whole named the chart %q", c.Name)
	}
}

// TestMeaningsAndDescriptionsBelongToTheirDataset holds that they are written over,
// forgotten when empty, gone with the dataset, and out of reach of other spaces.
func TestMeaningsAndDescriptionsBelongToTheirDataset(t *testing.T) {
	ctx := context.Background()
	s, p := open(t)
	d := keep(t, s, p, table.NewNumbers("kg", []float64{1}), table.NewNumbers("ha", []float64{2}))
	other := keep(t, s, p, table.NewNumbers("kg", []float64{1}))
	said := app.Meaning{Column: "kg", Label: "Hönig <b>", Unit: "kg'", Meaning: "it's \"weighed\"", Form: "currency £",
		Codes: map[string]string{"0": "none", "": "odd"}, Colours: map[string]string{"0": "#004488"}}
	if err := s.SetMeanings(ctx, d.ID, []app.Meaning{said, {Column: "ha", Unit: "ha"}}); err != nil {
		t.Fatal(err)
	}
	back, err := s.Meanings(ctx, d.ID)
	if err != nil || len(back) != 2 || !reflect.DeepEqual(back["kg"], said) {
		t.Errorf("%v: %+v", err, back)
	}
	if theirs, err := s.Meanings(ctx, other.ID); err != nil || len(theirs) != 0 {
		t.Errorf("another dataset has %+v, %v", theirs, err)
	}
	if err := s.SetMeanings(ctx, d.ID, []app.Meaning{{Column: "kg", Unit: "t"}, {Column: "ha"}}); err != nil {
		t.Fatal(err)
	}
	if back, _ = s.Meanings(ctx, d.ID); len(back) != 1 || back["kg"].Unit != "t" || back["kg"].Label != "" {
		t.Errorf("written over it is %+v", back)
	}
	name, origin, row := "New name", "https://thornwick.example/", "a hive in one season"
	if err := s.DescribeDataset(ctx, p.SpaceID, d.ID, app.Description{Name: &name, Origin: &origin, OneRow: &row}); err != nil {
		t.Fatal(err)
	}
	if err := s.DescribeDataset(ctx, p.SpaceID+1, d.ID, app.Description{Name: &name}); err != app.ErrNotFound {
		t.Errorf("another space describes it: %v", err)
	}
	described, err := s.Dataset(ctx, p.SpaceID, d.ID)
	if err != nil || described.Name != name || described.Origin != origin || described.OneRow != row || described.About != "" {
		t.Errorf("%v: %+v", err, described)
	}
	if err := s.DropDataset(ctx, p.SpaceID, d.ID); err != nil {
		t.Fatal(err)
	}
	if gone, err := s.Meanings(ctx, d.ID); err != nil || len(gone) != 0 {
		t.Errorf("after the dataset went: %+v, %v", gone, err)
	}
}

// A table without rows and columns is where a made table begins.
func TestAnEmptyTableIsKept(t *testing.T) {
	s, p := open(t)
	d := keep(t, s, p)
	dataset, err := s.Version(context.Background(), p.SpaceID, d.VersionID)
	if err != nil {
		t.Fatal(err)
	}
	back, err := s.Table(context.Background(), d.VersionID, 0)
	if err != nil || back.Rows() != 0 || len(back.Columns()) != 0 || dataset.Columns != 0 {
		t.Errorf("%v: %+v", err, dataset)
	}
}
