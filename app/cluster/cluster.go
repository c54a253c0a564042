// Package cluster runs a private PostgreSQL: its own data folder, a free port
// on loopback, a password of its own. It is the person's own file cabinet, not
// a service of the machine.
//
// PostgreSQL refuses to run as root. Where we are root it runs as the user
// postgres that Debian's package makes.
package cluster

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/url"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	"github.com/jackc/pgx/v5"
)

// oldest is the oldest PostgreSQL that this was tried with.
const oldest = 15

// Config says where a cluster lives.
type Config struct {
	Dir string       // data folder, a full path; made if missing
	Say func(string) // told what is being done; nil: nobody
}

// Cluster is a running PostgreSQL.
type Cluster struct {
	URL    string // of the database axtren, password included
	lock   *os.File
	folder *folder

	mu      sync.Mutex // over what follows
	cmd     *exec.Cmd
	done    chan error
	stopped chan struct{} // closed when the cluster is to end
	over    chan struct{} // closed when nothing watches it any more
}

// DefaultDir is where the data lies unless told otherwise: /var/lib/axtren as
// root, else the user's own data folder.
func DefaultDir() (string, error) {
	if os.Geteuid() == 0 {
		return "/var/lib/axtren", nil
	}
	if dir := os.Getenv("XDG_DATA_HOME"); filepath.IsAbs(dir) {
		return filepath.Join(dir, "axtren"), nil
	}
	home, err := os.UserHomeDir()
	if err != nil {
		return "", fmt.Errorf("no folder for the data: %w; name one with --data", err)
	}
	return filepath.Join(home, ".local", "share", "axtren"), nil
}

// Start starts the cluster in cfg.Dir, making it first if need be. It ends with
// Stop, and with this process however that ends.
func Start(ctx context.Context, cfg Config) (*Cluster, error) {
	say := cfg.Say
	if say == nil {
		say = func(string) {}
	}
	bin, err := findBinaries()
	if err != nil {
		return nil, err
	}
	who, err := owner()
	if err != nil {
		return nil, err
	}
	f, err := openFolder(cfg.Dir, who)
	if err != nil {
		return nil, err
	}
	lock, err := f.lock()
	if err != nil {
		f.root.Close()
		return nil, err
	}
	c := &Cluster{lock: lock, folder: f, stopped: make(chan struct{}), over: make(chan struct{})}
	if err := c.start(ctx, bin, who, say); err != nil {
		c.Stop()
		return nil, err
	}
	return c, nil
}

func (c *Cluster) start(ctx context.Context, bin string, who *syscall.Credential, say func(string)) error {
	dir := c.folder.dir
	if _, err := c.folder.root.Stat("data/PG_VERSION"); errors.Is(err, os.ErrNotExist) {
		say("making a private database in " + dir)
		if err := c.folder.initialise(ctx, bin, who); err != nil {
			return err
		}
	}
	password, err := c.folder.password()
	if err != nil {
		return err
	}
	if err := c.folder.endOrphan(bin, say); err != nil {
		return err
	}
	var last error
	for try := range 5 { // postmaster.pid of a killed server can be held for some 2 s
		if try > 0 {
			say("the database is not ready yet, trying again")
			time.Sleep(time.Second)
		}
		port, err := freePort()
		if err != nil {
			return err
		}
		// whoever holds the port while the server is away gets no password: only the challenge is answered
		c.URL = fmt.Sprintf("postgres://axtren:%s@127.0.0.1:%d/axtren?sslmode=disable&require_auth=scram-sha-256",
			password, port)
		if last = c.launch(ctx, bin, port, who); last == nil {
			go c.watch(func() error { return c.launch(context.WithoutCancel(ctx), bin, port, who) }, say)
			return CreateDatabase(ctx, c.URL)
		}
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if words := c.folder.lastWords(); !passing(words) {
			return fmt.Errorf("PostgreSQL does not start on %s: %s; all its words are in %s", dir, words,
				filepath.Join(dir, logName))
		}
	}
	return fmt.Errorf("PostgreSQL does not start: %w; its own words are in %s", last,
		filepath.Join(dir, logName))
}

// passing tells a reason that goes away by itself: what is left of a server that was
// killed a moment ago.
func passing(words string) bool {
	return words == "" || strings.Contains(words, "postmaster.pid") ||
		strings.Contains(words, "shared memory") || strings.Contains(words, "could not bind") ||
		strings.Contains(words, "could not create any TCP/IP sockets")
}

// findBinaries gives the folder of the newest PostgreSQL server programs.
func findBinaries() (string, error) {
	folders, _ := filepath.Glob("/usr/lib/postgresql/*/bin")
	version := func(dir string) int {
		v, _ := strconv.Atoi(filepath.Base(filepath.Dir(dir)))
		return v
	}
	slices.SortFunc(folders, func(a, b string) int { return version(b) - version(a) })
	for _, dir := range folders {
		if _, err := os.Stat(filepath.Join(dir, "initdb")); err != nil {
			continue
		}
		if version(dir) < oldest {
			return "", fmt.Errorf("PostgreSQL %d is too old; install %d or newer (Debian's package "+
				"postgresql)", version(dir), oldest)
		}
		return dir, nil
	}
	return "", errors.New("PostgreSQL is not installed; install Debian's package postgresql, or start with " +
		"./axtren-up, which does")
}

// owner gives who PostgreSQL must run as: nil for us.
func owner() (*syscall.Credential, error) {
	if os.Geteuid() != 0 {
		return nil, nil
	}
	u, err := user.Lookup("postgres")
	if err != nil {
		return nil, fmt.Errorf("PostgreSQL does not run as root and there is no user postgres: %w; install "+
			"Debian's package postgresql", err)
	}
	uid, _ := strconv.ParseUint(u.Uid, 10, 32)
	gid, _ := strconv.ParseUint(u.Gid, 10, 32)
	return &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}, nil
}

// dropTo makes a command run as who, in a process group of its own, so that
// Ctrl+C reaches us first.
func dropTo(cmd *exec.Cmd, dir string, who *syscall.Credential) {
	cmd.Dir = dir
	cmd.Env = []string{"PATH=/usr/bin:/bin", "LC_ALL=C.UTF-8", "HOME=" + dir}
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true, Credential: who}
}

func freePort() (int, error) {
	l, err := net.Listen("tcp4", "127.0.0.1:0")
	if err != nil {
		return 0, fmt.Errorf("no free port for the database: %w", err)
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

func (c *Cluster) launch(ctx context.Context, bin string, port int, who *syscall.Credential) error {
	dir := c.folder.dir
	log, err := c.folder.newLog()
	if err != nil {
		return err
	}
	defer log.Close()
	settings := []string{"-D", filepath.Join(dir, "data"), "-p", strconv.Itoa(port)}
	for _, set := range []string{"listen_addresses=127.0.0.1", "unix_socket_directories=",
		"max_connections=50", "fsync=on", "shared_buffers=64MB"} {
		settings = append(settings, "-c", set)
	}
	cmd := exec.Command(filepath.Join(bin, "postgres"), settings...)
	dropTo(cmd, dir, who)
	cmd.SysProcAttr.Pdeathsig = syscall.SIGINT
	cmd.Stdout, cmd.Stderr = log, log
	done, started := make(chan error, 1), make(chan error, 1)
	go func() {
		runtime.LockOSThread() // Pdeathsig is of the thread that forked
		started <- cmd.Start()
		if cmd.Process != nil {
			done <- cmd.Wait()
		}
	}()
	if err := <-started; err != nil {
		return err
	}
	if err := c.ready(ctx, done); err != nil {
		end(cmd.Process, done)
		return err
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	c.cmd, c.done = cmd, done
	return nil
}

// watch starts the server again, on the same port, whenever it ends by itself.
func (c *Cluster) watch(again func() error, say func(string)) {
	defer close(c.over)
	for {
		c.mu.Lock()
		done := c.done
		c.mu.Unlock()
		select {
		case <-c.stopped:
			return
		case why := <-done:
			say(fmt.Sprintf("the database has ended (%v); starting it again", why))
		}
		for {
			select {
			case <-c.stopped:
				return
			case <-time.After(time.Second):
			}
			if err := again(); err == nil {
				say("the database is there again")
				break
			}
		}
	}
}

// ready waits until the server answers; at most 30 s.
func (c *Cluster) ready(ctx context.Context, done chan error) error {
	ctx, cancel := context.WithTimeout(ctx, 30*time.Second)
	defer cancel()
	for {
		conn, err := pgx.Connect(ctx, WithDatabase(c.URL, "postgres"))
		if err == nil {
			return conn.Close(ctx)
		}
		select {
		case end := <-done:
			done <- end // for whoever waits for its end
			return fmt.Errorf("it ended: %w", end)
		case <-ctx.Done():
			return fmt.Errorf("it does not answer: %w", err)
		case <-time.After(30 * time.Millisecond):
		}
	}
}

// WithDatabase gives a URL with another database in it.
func WithDatabase(of, name string) string {
	u, err := url.Parse(of)
	if err != nil {
		return of
	}
	u.Path = "/" + name
	return u.String()
}

// CreateDatabase makes the database that a URL names, where it is missing.
func CreateDatabase(ctx context.Context, at string) error {
	cfg, err := pgx.ParseConfig(at)
	if err != nil {
		return fmt.Errorf("the database's URL cannot be read: %w", err)
	}
	name := cfg.Database
	conn, err := pgx.Connect(ctx, WithDatabase(at, "postgres"))
	if err != nil {
		return fmt.Errorf("the database does not answer: %w", err)
	}
	defer conn.Close(ctx)
	var there bool
	if err := conn.QueryRow(ctx, "select exists (select from pg_database where datname = $1)",
		name).Scan(&there); err != nil || there {
		return err
	}
	_, err = conn.Exec(ctx, "create database "+pgx.Identifier{name}.Sanitize())
	return err
}

// Stop ends PostgreSQL, at once but cleanly, and waits for it.
func (c *Cluster) Stop() {
	close(c.stopped)
	if c.cmd != nil {
		<-c.over
		end(c.cmd.Process, c.done)
	}
	c.lock.Close()
	c.folder.root.Close()
}

// How a server is ended, ever less kindly: a fast stop, an immediate one, and none.
var ends = []struct {
	signal syscall.Signal
	within time.Duration
}{{syscall.SIGINT, 10 * time.Second}, {syscall.SIGQUIT, 5 * time.Second}, {syscall.SIGKILL, 5 * time.Second}}

// end ends a server of ours and waits for it.
func end(server *os.Process, done chan error) {
	for _, how := range ends {
		_ = server.Signal(how.signal) // one that has ended already is waited for below
		select {
		case err := <-done:
			done <- err
			return
		case <-time.After(how.within):
		}
	}
}
