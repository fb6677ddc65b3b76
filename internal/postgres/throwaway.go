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

// fast are settings for a cluster that nobody will miss.
var fast = []string{"fsync=off", "full_page_writes=off", "synchronous_commit=off", "max_connections=200"}

// TestFolder names, in the environment, the folder of a throw-away PostgreSQL that runs
// already, for all packages: scripts/test.sh starts it. Without it a package starts one.
const TestFolder = "LARK_TEST_POSTGRES"

const testSecret = "throw-away"

// StartThrowaway starts a cluster for tests in an empty folder.
func StartThrowaway(folder string) (*Cluster, error) {
	c, err := at(folder, testSecret)
	if err != nil {
		return nil, err
	}
	c.throwaway, c.settings = true, fast
	if err := c.begin(); err != nil {
		return nil, err
	}
	return c, c.Prepare("ready")
}

// Main runs a package's tests and stops the throw-away PostgreSQL that they
// started: func TestMain(m *testing.M) { postgres.Main(m) }.
func Main(m *testing.M) {
	code := m.Run()
	if shared != nil && os.Getenv(TestFolder) == "" {
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
		if folder := os.Getenv(TestFolder); folder != "" {
			if shared = Attach(folder, testSecret); shared == nil {
				startErr = fmt.Errorf("no PostgreSQL runs in %s", folder)
			}
			return
		}
		folder, err := os.MkdirTemp("", "lark-test-*")
		if err != nil {
			startErr = err
			return
		}
		_ = os.Chmod(folder, 0o755) // the user postgres must get in
		shared, startErr = StartThrowaway(folder + "/postgres")
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
