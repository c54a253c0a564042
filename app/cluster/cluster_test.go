package cluster

import (
	"context"
	"fmt"
	"net"
	"os"
	"path/filepath"
	"slices"
	"strings"
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

// left starts a cluster, and leaves its server behind as an application that is no
// more does: the lock is free, the server runs on.
func left(t *testing.T, dir string) *Cluster {
	t.Helper()
	c, err := Start(context.Background(), Config{Dir: dir})
	require.NoError(t, err)
	close(c.stopped)
	<-c.over
	c.lock.Close()
	return c
}

// TestAnOrphanIsEnded, however deaf it is, and only if it is ours.
func TestAnOrphanIsEnded(t *testing.T) {
	before := ends
	defer func() { ends = before }()
	ends = slices.Clone(ends)
	ends[0].within, ends[1].within = time.Second, time.Second
	for name, deafen := range map[string]func(pid int){
		"running": func(int) {},
		"stopped": func(pid int) { require.NoError(t, syscall.Kill(pid, syscall.SIGSTOP)) },
	} {
		dir := reachable(t)
		first := left(t, dir)
		deafen(first.cmd.Process.Pid)
		start := time.Now()
		second, err := Start(context.Background(), Config{Dir: dir})
		require.NoError(t, err, name)
		t.Logf("%s: started in %v", name, time.Since(start))
		require.Less(t, time.Since(start), 12*time.Second)
		<-first.done
		second.Stop()
	}
}

// TestNoOtherProcessIsEnded: a pid that now is another program, or another folder's
// server, is let live.
func TestNoOtherProcessIsEnded(t *testing.T) {
	bin, err := findBinaries()
	require.NoError(t, err)
	dir := reachable(t)
	c, err := Start(context.Background(), Config{Dir: dir})
	require.NoError(t, err)
	defer c.Stop()
	pid, ok := c.folder.orphan(bin)
	require.True(t, ok, "it knows its own")
	require.Equal(t, c.cmd.Process.Pid, pid)
	text, err := c.folder.root.ReadFile("data/postmaster.pid")
	require.NoError(t, err)
	lines := strings.SplitN(string(text), "\n", 4)
	other := reachable(t)
	f, err := openFolder(other, nil)
	require.NoError(t, err)
	defer f.root.Close()
	require.NoError(t, f.root.MkdirAll("data", 0o700))
	for _, pidfile := range [][]string{
		{lines[0], lines[1], lines[2]},                                    // of another folder
		{lines[0], filepath.Join(other, "data"), lines[2]},                // its server runs elsewhere
		{fmt.Sprint(os.Getpid()), filepath.Join(other, "data"), lines[2]}, // another program
		{"1", filepath.Join(other, "data"), lines[2]},
		{"none"},
	} {
		require.NoError(t, f.root.WriteFile("data/postmaster.pid", []byte(strings.Join(pidfile, "\n")+"\n"),
			0o600))
		_, ok := f.orphan(bin)
		require.False(t, ok, pidfile)
	}
	require.NoError(t, c.folder.root.WriteFile("data/postmaster.pid",
		[]byte(strings.Join([]string{lines[0], lines[1], "1000000", lines[3]}, "\n")), 0o600))
	_, ok = c.folder.orphan(bin)
	require.False(t, ok, "another start")
	require.NoError(t, c.folder.root.WriteFile("data/postmaster.pid", text, 0o600))
}

// TestOnlyOurFoldersAreTaken: what is somebody else's stays as it is, and no link is
// followed.
func TestOnlyOurFoldersAreTaken(t *testing.T) {
	ctx := context.Background()
	secret := filepath.Join(reachable(t), "secret")
	require.NoError(t, os.MkdirAll(filepath.Dir(secret), 0o755))
	require.NoError(t, os.WriteFile(secret, []byte("of root"), 0o600))
	untouched := func() {
		text, err := os.ReadFile(secret)
		require.NoError(t, err)
		require.Equal(t, "of root", string(text))
		info, err := os.Stat(secret)
		require.NoError(t, err)
		require.EqualValues(t, os.Geteuid(), info.Sys().(*syscall.Stat_t).Uid)
	}
	made := func(prepare func(dir string)) string {
		dir := reachable(t)
		require.NoError(t, os.MkdirAll(dir, 0o755))
		prepare(dir)
		return dir
	}
	for name, c := range map[string]struct{ dir, says string }{
		"a folder with other things": {made(func(dir string) {
			require.NoError(t,
				os.WriteFile(filepath.Join(dir, "notes.txt"), nil, 0o600))
		}), `there is "notes.txt" in it`},
		"a planted password": {made(func(dir string) {
			require.NoError(t,
				os.Symlink(secret, filepath.Join(dir, "password")))
		}), `"password" in it is a link`},
		"a planted log": {made(func(dir string) {
			require.NoError(t,
				os.Symlink(secret, filepath.Join(dir, logName)))
		}), `"postgres.log" in it is a link`},
		"a planted lock": {made(func(dir string) {
			require.NoError(t,
				os.Symlink(secret, filepath.Join(dir, "lock")))
		}), `"lock" in it is a link`},
		"a planted cluster": {made(func(dir string) {
			require.NoError(t,
				os.Symlink(filepath.Dir(secret), filepath.Join(dir, "data.new")))
		}), `"data.new" in it is a link`},
		"a link": {func() string {
			dir := made(func(string) {})
			link := dir + "-link"
			require.NoError(t, os.Symlink(dir, link))
			return link
		}(), "is no folder but a link"},
		"a file": {func() string {
			dir := made(func(string) {})
			file := filepath.Join(dir, "file")
			require.NoError(t, os.WriteFile(file, nil, 0o600))
			return file
		}(), ""},
	} {
		_, err := Start(ctx, Config{Dir: c.dir})
		require.ErrorContains(t, err, c.says, name)
		untouched()
	}
	if os.Geteuid() == 0 {
		dir := made(func(dir string) { require.NoError(t, os.Chown(dir, 65534, 65534)) })
		_, err := Start(ctx, Config{Dir: dir})
		require.ErrorContains(t, err, "belongs to another user")
		info, err := os.Stat(dir)
		require.NoError(t, err)
		require.EqualValues(t, 65534, info.Sys().(*syscall.Stat_t).Uid)
	}
	empty := made(func(string) {})
	c, err := Start(ctx, Config{Dir: empty})
	require.NoError(t, err)
	c.Stop()
}

// TestADamagedFolderIsSaidSoon, in one line.
func TestADamagedFolderIsSaidSoon(t *testing.T) {
	ctx := context.Background()
	dir := reachable(t)
	c, err := Start(ctx, Config{Dir: dir})
	require.NoError(t, err)
	c.Stop()
	password, err := os.ReadFile(filepath.Join(dir, "password"))
	require.NoError(t, err)
	fails := func(says string) {
		t.Helper()
		start := time.Now()
		_, err := Start(ctx, Config{Dir: dir})
		require.ErrorContains(t, err, says)
		require.NotContains(t, err.Error(), "\n")
		require.Less(t, time.Since(start), 5*time.Second)
	}
	require.NoError(t, os.WriteFile(filepath.Join(dir, "password"), nil, 0o600))
	fails("holds no password")
	require.NoError(t, os.WriteFile(filepath.Join(dir, "password"), password, 0o600))
	control := filepath.Join(dir, "data", "global", "pg_control")
	text, err := os.ReadFile(control)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(control, make([]byte, len(text)), 0o600))
	fails("PostgreSQL does not start on")
	require.NoError(t, os.WriteFile(control, text, 0o600))
	version := filepath.Join(dir, "data", "PG_VERSION")
	require.NoError(t, os.Remove(version))
	fails("is damaged: it has no PG_VERSION")
}

// TestNoPasswordIsGivenInClear to whoever holds the port and asks for it.
func TestNoPasswordIsGivenInClear(t *testing.T) {
	ctx := context.Background()
	c, err := Start(ctx, Config{Dir: reachable(t)})
	require.NoError(t, err)
	defer c.Stop()
	cfg, err := pgx.ParseConfig(c.URL)
	require.NoError(t, err)
	thief, err := net.Listen("tcp4", "127.0.0.1:0")
	require.NoError(t, err)
	defer thief.Close()
	got := make(chan []byte, 1)
	go func() {
		conn, err := thief.Accept()
		if err != nil {
			return
		}
		defer conn.Close()
		conn.SetDeadline(time.Now().Add(3 * time.Second))
		buffer := make([]byte, 4096)
		n, _ := conn.Read(buffer)
		conn.Write([]byte{'R', 0, 0, 0, 8, 0, 0, 0, 3}) // the password in clear, please
		m, _ := conn.Read(buffer[n:])
		got <- buffer[:n+m]
	}()
	at := strings.Replace(c.URL, fmt.Sprint(cfg.Port), fmt.Sprint(thief.Addr().(*net.TCPAddr).Port), 1)
	_, err = pgx.Connect(ctx, at)
	require.Error(t, err)
	require.NotContains(t, string(<-got), cfg.Password)
}
