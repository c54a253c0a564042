package cluster

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"syscall"
	"time"
)

const logName = "postgres.log"

// folder is the data folder of a cluster. All that is read and written in it by us goes
// through root, which follows no link out of it: where we are root, somebody else may
// have planted one.
type folder struct {
	dir  string
	root *os.Root
	who  *syscall.Credential // whose it is; nil: ours
}

// ours are the names that a data folder has in it.
var ours = []string{"data", "data.new", "lock", "password", logName}

// openFolder opens the data folder, making it if it is missing. An empty folder is
// taken, and one of ours; any other is left alone.
func openFolder(dir string, who *syscall.Credential) (*folder, error) {
	if !filepath.IsAbs(dir) {
		return nil, fmt.Errorf("the data folder %s must be a full path", dir)
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("the data folder cannot be made: %w; name another with --data", err)
	}
	f := &folder{dir: dir, who: who}
	info, err := os.Lstat(dir)
	if err != nil {
		return nil, fmt.Errorf("the data folder cannot be looked at: %w", err)
	}
	if !info.IsDir() {
		return nil, fmt.Errorf("the data folder %s is no folder but a link or a file; name the folder "+
			"itself with --data", dir)
	}
	if f.root, err = os.OpenRoot(dir); err != nil {
		return nil, fmt.Errorf("the data folder cannot be opened: %w", err)
	}
	if err := f.take(info); err != nil {
		f.root.Close()
		return nil, err
	}
	return f, nil
}

// take makes sure that the folder may be used, and gives it to who runs PostgreSQL.
func (f *folder) take(seen os.FileInfo) error {
	info, err := f.root.Stat(".")
	if err != nil || !os.SameFile(info, seen) {
		return fmt.Errorf("the data folder %s was exchanged while it was opened; try again", f.dir)
	}
	if err := f.mayUse(info); err != nil || f.who == nil {
		return err
	}
	if err := f.root.Chown(".", int(f.who.Uid), int(f.who.Gid)); err != nil {
		return fmt.Errorf("the data folder cannot be given to user postgres: %w", err)
	}
	probe := exec.Command("/bin/sh", "-c", `test -w "$0"`, f.dir)
	probe.SysProcAttr = &syscall.SysProcAttr{Credential: f.who}
	if probe.Run() != nil {
		return fmt.Errorf("user postgres cannot reach %s; name a data folder outside a private home with "+
			"--data", f.dir)
	}
	return nil
}

// mayUse refuses a folder that is neither empty nor ours.
func (f *folder) mayUse(info os.FileInfo) error {
	foreign := func(why string) error {
		return fmt.Errorf("the data folder %s is not Axtren's: %s; name an empty folder with --data", f.dir,
			why)
	}
	if !f.isOurs(info) {
		return foreign("it belongs to another user")
	}
	dir, err := f.root.Open(".")
	if err != nil {
		return fmt.Errorf("the data folder cannot be read: %w", err)
	}
	defer dir.Close()
	for {
		entries, err := dir.ReadDir(64)
		for _, e := range entries {
			inside, err := f.root.Lstat(e.Name())
			switch {
			case err != nil:
				return fmt.Errorf("the data folder cannot be read: %w", err)
			case !slices.Contains(ours, e.Name()):
				return foreign("there is " + strconv.Quote(e.Name()) + " in it")
			case !inside.IsDir() && !inside.Mode().IsRegular():
				return foreign(strconv.Quote(e.Name()) + " in it is a link")
			case !f.isOurs(inside):
				return foreign(strconv.Quote(e.Name()) + " in it belongs to another user")
			}
		}
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return fmt.Errorf("the data folder cannot be read: %w", err)
		}
	}
}

// isOurs tells whether something belongs to us, or to who runs PostgreSQL.
func (f *folder) isOurs(info os.FileInfo) bool {
	owner, ok := info.Sys().(*syscall.Stat_t)
	return ok && (int(owner.Uid) == os.Geteuid() || f.who != nil && owner.Uid == f.who.Uid)
}

func (f *folder) lock() (*os.File, error) {
	lock, err := f.root.OpenFile("lock", os.O_CREATE|os.O_RDWR|syscall.O_NOFOLLOW, 0o600)
	if err != nil {
		return nil, fmt.Errorf("the data folder cannot be locked: %w", err)
	}
	if err := syscall.Flock(int(lock.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		lock.Close()
		return nil, fmt.Errorf("another Axtren is running on %s; stop it, or name another data folder with "+
			"--data", f.dir)
	}
	return lock, nil
}

// anew makes a file in the place of whatever has its name, and gives it to who runs
// PostgreSQL.
func (f *folder) anew(name string) (*os.File, error) {
	if err := f.root.Remove(name); err != nil && !errors.Is(err, os.ErrNotExist) {
		return nil, err
	}
	file, err := f.root.OpenFile(name, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil || f.who == nil {
		return file, err
	}
	if err := file.Chown(int(f.who.Uid), int(f.who.Gid)); err != nil {
		file.Close()
		return nil, err
	}
	return file, nil
}

// password reads the database's password.
func (f *folder) password() (string, error) {
	text, err := f.root.ReadFile("password")
	if err != nil {
		return "", fmt.Errorf("the database's password cannot be read: %w; bring the folder %s back from a "+
			"copy, or move it away to begin anew", err, f.dir)
	}
	password := strings.TrimSpace(string(text))
	if _, err := hex.DecodeString(password); err != nil || password == "" {
		return "", fmt.Errorf("the file %s holds no password; bring it back from a copy, or move the "+
			"folder away to begin anew", filepath.Join(f.dir, "password"))
	}
	return password, nil
}

// initialise makes the cluster beside its place and renames it, so that a killed
// first start leaves nothing half made.
func (f *folder) initialise(ctx context.Context, bin string, who *syscall.Credential) error {
	if err := f.root.RemoveAll("data.new"); err != nil {
		return fmt.Errorf("what is left of a first start cannot be removed: %w", err)
	}
	if _, err := f.root.Lstat("data"); err == nil {
		return fmt.Errorf("the database in %s is damaged: it has no PG_VERSION; bring it back from a copy, "+
			"or move the folder away to begin anew", filepath.Join(f.dir, "data"))
	}
	random := make([]byte, 24)
	if _, err := rand.Read(random); err != nil {
		return fmt.Errorf("no random password: %w", err)
	}
	file, err := f.anew("password")
	if err == nil {
		_, err = file.WriteString(hex.EncodeToString(random) + "\n")
		err = errors.Join(err, file.Close())
	}
	if err != nil {
		return fmt.Errorf("the password cannot be written: %w", err)
	}
	cmd := exec.CommandContext(ctx, filepath.Join(bin, "initdb"), "-D", filepath.Join(f.dir, "data.new"),
		"-U", "axtren", "--pwfile", filepath.Join(f.dir, "password"),
		"--auth", "scram-sha-256", "--encoding", "UTF8", "--locale", "C.UTF-8", "--data-checksums")
	dropTo(cmd, f.dir, who)
	if out, err := cmd.CombinedOutput(); err != nil {
		return fmt.Errorf("the database cannot be made: %w\n%s", err, out)
	}
	if err := f.root.Rename("data.new", "data"); err != nil {
		return fmt.Errorf("the database cannot be put in its place: %w", err)
	}
	return nil
}

func (f *folder) newLog() (*os.File, error) {
	log, err := f.anew(logName)
	if err != nil {
		return nil, fmt.Errorf("its log cannot be opened: %w", err)
	}
	return log, nil
}

// lastWords gives the last line in which PostgreSQL says what is wrong; empty for none.
func (f *folder) lastWords() string {
	file, err := f.root.Open(logName)
	if err != nil {
		return ""
	}
	defer file.Close()
	text, _ := io.ReadAll(io.LimitReader(file, 64<<10))
	last := ""
	for line := range strings.Lines(string(text)) {
		if _, words, ok := strings.Cut(line, "FATAL:"); ok {
			last = strings.TrimSpace(words)
		} else if _, words, ok := strings.Cut(line, "PANIC:"); ok {
			last = strings.TrimSpace(words)
		}
	}
	return last
}

// endOrphan ends a server that an Axtren which is no more has left on this folder. We
// hold the lock, so nobody else's is there; that it is the one of postmaster.pid is
// verified by its program, its folder and its start.
func (f *folder) endOrphan(bin string, say func(string)) error {
	pid, ok := f.orphan(bin)
	if !ok {
		return nil
	}
	say("ending a database that an earlier Axtren has left running")
	for _, how := range ends {
		if err := syscall.Kill(pid, how.signal); err != nil {
			break
		}
		for waited := time.Duration(0); waited < how.within; waited += 50 * time.Millisecond {
			if now, ok := f.orphan(bin); !ok || now != pid {
				return nil
			}
			time.Sleep(50 * time.Millisecond)
		}
	}
	if _, ok := f.orphan(bin); ok {
		return fmt.Errorf("a database that an earlier Axtren has left on %s (process %d) does not end; end "+
			"it, or start the computer anew", f.dir, pid)
	}
	return nil
}

// orphan finds a server that runs on this folder.
func (f *folder) orphan(bin string) (pid int, ok bool) {
	text, err := f.root.ReadFile("data/postmaster.pid")
	if err != nil {
		return 0, false
	}
	lines := strings.Split(string(text), "\n")
	if len(lines) < 3 || lines[1] != filepath.Join(f.dir, "data") {
		return 0, false
	}
	pid, err = strconv.Atoi(strings.TrimSpace(lines[0]))
	if err != nil || pid <= 1 {
		return 0, false
	}
	began, err := strconv.ParseInt(strings.TrimSpace(lines[2]), 10, 64)
	if err != nil {
		return 0, false
	}
	program, err := os.Readlink(fmt.Sprintf("/proc/%d/exe", pid))
	if err != nil || program != filepath.Join(bin, "postgres") && filepath.Base(program) != "postgres" {
		return 0, false
	}
	words, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid))
	if err != nil || !strings.Contains(string(words), "\x00-D\x00"+filepath.Join(f.dir, "data")+"\x00") {
		return 0, false
	}
	started, err := startOf(pid)
	return pid, err == nil && started.Sub(time.Unix(began, 0)).Abs() < 10*time.Second
}

// startOf gives when a process was started, from /proc.
func startOf(pid int) (time.Time, error) {
	info, err := os.Stat(fmt.Sprintf("/proc/%d", pid))
	if err != nil {
		return time.Time{}, err
	}
	stat, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", pid))
	if err != nil {
		return time.Time{}, err
	}
	uptime, err := os.ReadFile("/proc/uptime")
	if err != nil {
		return info.ModTime(), nil
	}
	// what follows the name in brackets is counted from the third field; the start is the 22nd, in ticks
	fields := strings.Fields(string(stat[strings.LastIndexByte(string(stat), ')')+1:]))
	if len(fields) < 20 {
		return info.ModTime(), nil
	}
	ticks, err := strconv.ParseFloat(fields[19], 64)
	if err != nil {
		return info.ModTime(), nil
	}
	up, err := strconv.ParseFloat(strings.Fields(string(uptime))[0], 64)
	if err != nil {
		return info.ModTime(), nil
	}
	const ticksPerSecond = 100 // of every Linux that Go runs on
	return time.Now().Add(-time.Duration((up - ticks/ticksPerSecond) * float64(time.Second))), nil
}
