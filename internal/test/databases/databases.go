// Package databases gives tests databases of their own in a throw-away PostgreSQL.
package databases

import (
	"fmt"
	"os"
	"sync"
	"sync/atomic"
	"testing"

	"copperlark/internal/postgres"
)

var (
	once      sync.Once
	shared    *postgres.Cluster
	startErr  error
	folder    string
	databases atomic.Int64

	prepareOnce sync.Once
	prepareErr  error
	template    string // what Prepared copies
)

// TestFolder names, in the environment, the folder of a throw-away PostgreSQL that runs
// already, for all packages: scripts/test.sh starts it. Without it a package starts one.
const TestFolder = "LARK_TEST_POSTGRES"

// Main runs a package's tests and stops the throw-away PostgreSQL that they
// started: func TestMain(m *testing.M) { databases.Main(m) }.
func Main(m *testing.M) {
	code := m.Run()
	if shared != nil && os.Getenv(TestFolder) == "" {
		_ = shared.Stop()
		_ = os.RemoveAll(folder)
	}
	os.Exit(code)
}

// Throwaway gives a test an empty database of its own in a PostgreSQL that lives
// as long as the package's tests. The package must call Main.
func Throwaway(t testing.TB) string {
	t.Helper()
	ready(t)
	return shared.URL(made(t, shared.CreateDatabase))
}

// Prepared is the same, as a copy of one that prepare made ready: once for all tests of a package, which give the same prepare.
func Prepared(t testing.TB, prepare func(url string) error) string {
	t.Helper()
	ready(t)
	prepareOnce.Do(func() {
		template = next()
		if prepareErr = shared.CreateDatabase(template); prepareErr == nil {
			prepareErr = prepare(shared.URL(template))
		}
	})
	if prepareErr != nil {
		t.Fatal(prepareErr)
	}
	return shared.URL(made(t, func(name string) error { return shared.CopyDatabase(name, template) }))
}

// Owned is the same, as the owner of the cluster: for tests of roles, of extensions, and of several servers.
func Owned(t testing.TB) string {
	t.Helper()
	ready(t)
	return shared.OwnerURL(made(t, shared.CreateDatabase))
}

// made makes a database and gives its name.
func made(t testing.TB, create func(name string) error) string {
	t.Helper()
	name := next()
	if err := create(name); err != nil {
		t.Fatal(err)
	}
	return name
}

func next() string { return fmt.Sprintf("test_%d_%d", os.Getpid(), databases.Add(1)) }

// ready starts the PostgreSQL, or finds the one that runs.
func ready(t testing.TB) {
	t.Helper()
	once.Do(func() {
		if running := os.Getenv(TestFolder); running != "" {
			if shared = postgres.AttachThrowaway(running); shared == nil {
				startErr = fmt.Errorf("no PostgreSQL runs in %s", running)
			}
			return
		}
		if folder, startErr = os.MkdirTemp("", "lark-test-*"); startErr != nil {
			return
		}
		_ = os.Chmod(folder, 0o755) // the user postgres must get in
		shared, startErr = postgres.StartThrowaway(folder + "/postgres")
	})
	if startErr != nil {
		t.Fatal(startErr)
	}
}
