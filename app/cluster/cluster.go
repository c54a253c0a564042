// Package cluster runs a private PostgreSQL: its own data folder, a free port
// on loopback, a password of its own. It is the person's own file cabinet, not
// a service of the machine.
//
// PostgreSQL refuses to run as root. Where we are root it runs as the user
// postgres that Debian's package makes.
package cluster

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"
	"net"
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
	URL  string // of the database axtren, password included
	lock *os.File

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
	if err := prepare(cfg.Dir, who); err != nil {
		return nil, err
	}
	lock, err := lockDir(cfg.Dir)
	if err != nil {
		return nil, err
	}
	c := &Cluster{lock: lock, stopped: make(chan struct{}), over: make(chan struct{})}
	if err := c.start(ctx, cfg.Dir, bin, who, say); err != nil {
		c.Stop()
		return nil, err
	}
	return c, nil
}

func (c *Cluster) start(ctx context.Context, dir, bin string, who *syscall.Credential, say func(string)) error {
	data := filepath.Join(dir, "data")
	if _, err := os.Stat(filepath.Join(data, "PG_VERSION")); errors.Is(err, os.ErrNotExist) {
		say("making a private database in " + dir)
		if err := initialise(ctx, dir, bin, who); err != nil {
			return err
		}
	}
	password, err := os.ReadFile(filepath.Join(dir, "password"))
	if err != nil {
		return fmt.Errorf("the database's password cannot be read: %w", err)
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
		c.URL = fmt.Sprintf("postgres://axtren:%s@127.0.0.1:%d/axtren", strings.TrimSpace(string(password)), port)
		if last = c.launch(ctx, dir, bin, port, who); last == nil {
			go c.watch(func() error { return c.launch(context.WithoutCancel(ctx), dir, bin, port, who) }, say)
			return CreateDatabase(ctx, c.URL)
		}
		if ctx.Err() != nil {
			return ctx.Err()
		}
	}
	return fmt.Errorf("PostgreSQL does not start: %w; its own words are in %s", last, filepath.Join(dir, "postgres.log"))
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
			return "", fmt.Errorf("PostgreSQL %d is too old; install %d or newer (Debian's package postgresql)", version(dir), oldest)
		}
		return dir, nil
	}
	return "", errors.New("PostgreSQL is not installed; install Debian's package postgresql, or start with ./axtren-up, which does")
}

// owner gives who PostgreSQL must run as: nil for us.
func owner() (*syscall.Credential, error) {
	if os.Geteuid() != 0 {
		return nil, nil
	}
	u, err := user.Lookup("postgres")
	if err != nil {
		return nil, fmt.Errorf("PostgreSQL does not run as root and there is no user postgres: %w; install Debian's package postgresql", err)
	}
	uid, _ := strconv.ParseUint(u.Uid, 10, 32)
	gid, _ := strconv.ParseUint(u.Gid, 10, 32)
	return &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}, nil
}

// prepare makes the folder and gives it to the owner.
func prepare(dir string, who *syscall.Credential) error {
	if !filepath.IsAbs(dir) {
		return fmt.Errorf("the data folder %s must be a full path", dir)
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return fmt.Errorf("the data folder cannot be made: %w; name another with --data", err)
	}
	if who == nil {
		return nil
	}
	if err := os.Chown(dir, int(who.Uid), int(who.Gid)); err != nil {
		return fmt.Errorf("the data folder cannot be given to user postgres: %w", err)
	}
	probe := exec.Command("/bin/sh", "-c", `test -w "$0"`, dir)
	probe.SysProcAttr = &syscall.SysProcAttr{Credential: who}
	if probe.Run() != nil {
		return fmt.Errorf("user postgres cannot reach %s; name a data folder outside a private home with --data", dir)
	}
	return nil
}

func lockDir(dir string) (*os.File, error) {
	f, err := os.OpenFile(filepath.Join(dir, "lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, fmt.Errorf("the data folder cannot be locked: %w", err)
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		f.Close()
		return nil, fmt.Errorf("another Axtren is running on %s; stop it, or name another data folder with --data", dir)
	}
	return f, nil
}

// initialise makes the cluster beside its place and renames it, so that a
// killed first start leaves nothing half made.
func initialise(ctx context.Context, dir, bin string, who *syscall.Credential) error {
	fresh := filepath.Join(dir, "data.new")
	if err := os.RemoveAll(fresh); err != nil {
		return fmt.Errorf("what is left of a first start cannot be removed: %w", err)
	}
	random := make([]byte, 24)
	if _, err := rand.Read(random); err != nil {
		return fmt.Errorf("no random password: %w", err)
	}
	passwordFile := filepath.Join(dir, "password")
	if err := os.WriteFile(passwordFile, []byte(hex.EncodeToString(random)+"\n"), 0o600); err != nil {
		return fmt.Errorf("the password cannot be written: %w", err)
	}
	if who != nil {
		if err := os.Chown(passwordFile, int(who.Uid), int(who.Gid)); err != nil {
			return fmt.Errorf("the password cannot be given to user postgres: %w", err)
		}
	}
	cmd := exec.CommandContext(ctx, filepath.Join(bin, "initdb"), "-D", fresh, "-U", "axtren", "--pwfile", passwordFile,
		"--auth", "scram-sha-256", "--encoding", "UTF8", "--locale", "C.UTF-8", "--data-checksums")
	dropTo(cmd, dir, who)
	if out, err := cmd.CombinedOutput(); err != nil {
		return fmt.Errorf("the database cannot be made: %w\n%s", err, out)
	}
	if err := os.Rename(fresh, filepath.Join(dir, "data")); err != nil {
		return fmt.Errorf("the database cannot be put in its place: %w", err)
	}
	return nil
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

func (c *Cluster) launch(ctx context.Context, dir, bin string, port int, who *syscall.Credential) error {
	log, err := os.OpenFile(filepath.Join(dir, "postgres.log"), os.O_CREATE|os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return fmt.Errorf("its log cannot be opened: %w", err)
	}
	defer log.Close()
	settings := []string{"-D", filepath.Join(dir, "data"), "-p", strconv.Itoa(port)}
	for _, set := range []string{"listen_addresses=127.0.0.1", "unix_socket_directories=", "max_connections=50", "fsync=on", "shared_buffers=64MB"} {
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
		cmd.Process.Signal(syscall.SIGINT)
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
		case <-done:
		}
		say("the database has ended; starting it again")
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
		conn, err := pgx.Connect(ctx, strings.TrimSuffix(c.URL, "axtren")+"postgres")
		if err == nil {
			return conn.Close(ctx)
		}
		select {
		case end := <-done:
			return fmt.Errorf("it ended: %v", end)
		case <-ctx.Done():
			return fmt.Errorf("it does not answer: %w", err)
		case <-time.After(30 * time.Millisecond):
		}
	}
}

// CreateDatabase makes the database that a URL names, where it is missing.
func CreateDatabase(ctx context.Context, url string) error {
	cut := strings.LastIndexByte(url, '/')
	name := url[cut+1:]
	conn, err := pgx.Connect(ctx, url[:cut+1]+"postgres")
	if err != nil {
		return fmt.Errorf("the database does not answer: %w", err)
	}
	defer conn.Close(ctx)
	var there bool
	if err := conn.QueryRow(ctx, "select exists (select from pg_database where datname = $1)", name).Scan(&there); err != nil || there {
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
		c.cmd.Process.Signal(syscall.SIGINT)
		select {
		case <-c.done:
		case <-time.After(20 * time.Second):
			c.cmd.Process.Kill()
		}
	}
	c.lock.Close()
}
