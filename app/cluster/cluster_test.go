package cluster

import (
	"context"
	"os"
	"path/filepath"
	"syscall"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"
)

// reachable gives a folder that user postgres can reach too.
func reachable(t *testing.T) string {
	dir, err := os.MkdirTemp("/tmp", "axtren-cluster-")
	require.NoError(t, err)
	require.NoError(t, os.Chmod(dir, 0o711))
	t.Cleanup(func() { os.RemoveAll(dir) })
	return filepath.Join(dir, "db")
}

func TestKilledClusterLosesNothingAcknowledged(t *testing.T) {
	ctx := context.Background()
	dir := reachable(t)
	first, err := Start(ctx, Config{Dir: dir})
	require.NoError(t, err)
	conn, err := pgx.Connect(ctx, first.URL)
	require.NoError(t, err)
	_, err = conn.Exec(ctx, "create table kept (n int); insert into kept values (42)")
	require.NoError(t, err)

	_, err = Start(ctx, Config{Dir: dir})
	require.ErrorContains(t, err, "another Axtren is running")

	close(first.stopped) // as if the whole program were gone
	<-first.over
	require.NoError(t, first.cmd.Process.Signal(syscall.SIGKILL))
	<-first.done
	first.lock.Close()
	require.NoError(t, os.MkdirAll(filepath.Join(dir, "data.new", "rubbish"), 0o700))

	start := time.Now()
	second, err := Start(ctx, Config{Dir: dir})
	require.NoError(t, err)
	defer second.Stop()
	t.Logf("started again after a kill in %v", time.Since(start))
	conn, err = pgx.Connect(ctx, second.URL)
	require.NoError(t, err)
	var n int
	require.NoError(t, conn.QueryRow(ctx, "select n from kept").Scan(&n))
	require.Equal(t, 42, n)
}

// TestAServerThatEndsIsStartedAgain: at the same URL, with what was kept.
func TestAServerThatEndsIsStartedAgain(t *testing.T) {
	ctx := context.Background()
	c, err := Start(ctx, Config{Dir: reachable(t)})
	require.NoError(t, err)
	defer c.Stop()
	for range 2 {
		c.mu.Lock()
		pid := c.cmd.Process.Pid
		c.mu.Unlock()
		require.NoError(t, syscall.Kill(pid, syscall.SIGINT))
		require.Eventually(t, func() bool {
			c.mu.Lock()
			defer c.mu.Unlock()
			return c.cmd.Process.Pid != pid
		}, 20*time.Second, 50*time.Millisecond)
		conn, err := pgx.Connect(ctx, c.URL)
		require.NoError(t, err)
		require.NoError(t, conn.Close(ctx))
	}
}

func TestFolderMustBeUsable(t *testing.T) {
	_, err := Start(context.Background(), Config{Dir: "relative"})
	require.ErrorContains(t, err, "full path")
	private := filepath.Join(reachable(t), "private")
	require.NoError(t, os.MkdirAll(private, 0o700))
	if os.Geteuid() == 0 {
		_, err = Start(context.Background(), Config{Dir: filepath.Join(private, "db")})
		require.ErrorContains(t, err, "user postgres cannot reach")
	}
}
