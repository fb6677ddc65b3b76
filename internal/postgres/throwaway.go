package postgres

import (
	"fmt"
	"os"
	"sync"
	"sync/atomic"
	"testing"
)

var (
	once      sync.Once
	shared    *Cluster
	startErr  error
	databases atomic.Int64
)

// Main runs a package's tests and stops the throw-away PostgreSQL that they
// started: func TestMain(m *testing.M) { postgres.Main(m) }.
func Main(m *testing.M) {
	code := m.Run()
	if shared != nil {
		_ = shared.Stop()
		_ = os.RemoveAll(shared.folder)
	}
	os.Exit(code)
}

// Throwaway gives a test an empty database of its own in a PostgreSQL that lives
// as long as the package's tests. The package must call Main.
func Throwaway(t testing.TB) string {
	t.Helper()
	once.Do(func() {
		folder, err := os.MkdirTemp("", "lark-test-*")
		if err != nil {
			startErr = err
			return
		}
		shared, startErr = Start(folder, "throw-away", "fsync=off", "full_page_writes=off", "synchronous_commit=off")
	})
	if startErr != nil {
		t.Fatal(startErr)
	}
	name := fmt.Sprintf("test_%d_%d", os.Getpid(), databases.Add(1))
	if err := shared.CreateDatabase(name); err != nil {
		t.Fatal(err)
	}
	return shared.URL(name)
}
