// Package clustertest gives tests a real PostgreSQL: one cluster for the tests
// of a package, and an empty database for each test.
package clustertest

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"sync/atomic"
	"testing"

	"axtren/app/cluster"
)

var (
	running *cluster.Cluster
	made    atomic.Int64
)

// Main runs the tests of a package with a cluster beside them; call it from
// TestMain.
func Main(m *testing.M) {
	os.Exit(run(m))
}

func run(m *testing.M) int {
	dir, err := os.MkdirTemp("/tmp", "axtren-test-")
	if err == nil {
		defer os.RemoveAll(dir)
		err = os.Chmod(dir, 0o711) // user postgres must pass through
	}
	if err == nil {
		running, err = cluster.Start(context.Background(), cluster.Config{Dir: filepath.Join(dir, "db")})
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, "the tests need a PostgreSQL:", err)
		return 1
	}
	defer running.Stop()
	return m.Run()
}

// URL makes an empty database and gives its URL.
func URL(t testing.TB) string {
	t.Helper()
	url := cluster.WithDatabase(running.URL, fmt.Sprintf("test_%d", made.Add(1)))
	if err := cluster.CreateDatabase(t.Context(), url); err != nil {
		t.Fatal(err)
	}
	return url
}
