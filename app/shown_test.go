package app

import (
	"context"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"copperlark/core/chart"
	"copperlark/core/table"
)

// TestAChartIsBoundOnceAPress holds that drawing a chart, its small picture and keeping it as a step share what was bound,
// also where the document comes back as the answer said it in full; that the words of the change are made once; and that a
// dictionary that says something else binds anew.
func TestAChartIsBoundOnceAPress(t *testing.T) {
	data, err := table.New(table.NewNumbers("kg", []float64{1, 2, 3, 4}), table.NewCategory("district",
		[]string{"Tarn", "Wick", "Tarn", "Elm"}))
	if err != nil {
		t.Fatal(err)
	}
	held := &loaded{table: data}
	seen, _ := held.spelled(Meanings{"kg": {Column: "kg", Label: "Yield"}})
	was, err := seen.stated(nil, "plot kg against district\nas strips")
	if err != nil {
		t.Fatal(err)
	}
	drawn, err := seen.stated(&chart.Document{Y: chart.Variable{Column: "kg"}, X: chart.Variable{Column: "district"}}, "")
	if err != nil || len(drawn.Document.Marks()) == 0 {
		t.Fatalf("%v, drawn as %v", err, drawn.Document.Marks())
	}
	words := seen.change(was, drawn)
	again, _ := held.spelled(Meanings{"kg": {Column: "kg", Label: "Yield"}})
	kept, err := again.suits(drawn.Document.Clone())
	if err != nil || kept != drawn {
		t.Errorf("keeping what was drawn binds it again (%v)", err)
	}
	before, _ := again.bind(was.Document.Clone())
	if got, made := again.lately.Get(changeKey{before, kept}); !made || got != words {
		t.Errorf("the words of the change are made again: %v, not %q", got, words)
	}
	other, _ := held.spelled(Meanings{"kg": {Column: "kg", Label: "Honey"}})
	if anew, _ := other.suits(drawn.Document); anew == drawn || anew.Y.Name() != "Honey" {
		t.Error("another dictionary shows what was bound before it")
	}
}

// reads is storage that counts how often a table is read, and gives it when it is told to.
type reads struct {
	Storage
	data    *table.Table
	began   chan context.Context
	release chan error
	times   atomic.Int32
}

func (r *reads) Table(ctx context.Context, _ int64, _ int) (*table.Table, error) {
	r.times.Add(1)
	r.began <- ctx
	select {
	case err := <-r.release:
		return r.data, err
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}

// TestATableIsReadOnceForAll holds that many who ask for a table at once have it read once, that one who leaves takes
// nothing from the others, and that a failure reaches all of them and is not kept.
func TestATableIsReadOnceForAll(t *testing.T) {
	data, _ := table.New(table.NewNumbers("kg", []float64{1}))
	storage := &reads{data: data, began: make(chan context.Context, 8), release: make(chan error)}
	a := New(storage, Limits{MemoryBytes: 1 << 30}, time.Now, nil)
	first, leave := context.WithCancel(t.Context())
	var all sync.WaitGroup
	ask := func(ctx context.Context, want error) {
		all.Go(func() {
			if l, err := a.load(ctx, Dataset{VersionID: 7, Rows: 1}); err != want || err == nil && l.table != data {
				t.Errorf("%v, wanted %v", err, want)
			}
		})
	}
	ask(first, context.Canceled)
	reader := <-storage.began
	for range 20 {
		ask(t.Context(), nil)
	}
	leave()
	<-reader.Done()
	<-storage.began // one of the others reads
	storage.release <- nil
	all.Wait()
	ask(t.Context(), nil)
	all.Wait()
	if n := storage.times.Load(); n != 2 {
		t.Errorf("the table is read %d times; once, and once more because the first reader left", n)
	}
	a.held.Drop(func(any) bool { return true })
	ask(t.Context(), ErrNotFound)
	<-storage.began
	storage.release <- ErrNotFound
	all.Wait()
	ask(t.Context(), nil)
	<-storage.began
	storage.release <- nil
	all.Wait()
}
