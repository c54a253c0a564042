// Package rig starts the real application and a real browser for tests, for
// the pictures in the docs and for measuring.
package rig

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"runtime"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"time"
)

// Binary builds the application from this tree, the pages in it, and gives its
// path; remove the folder it lies in when done.
func Binary() (string, error) {
	dir, err := os.MkdirTemp("/tmp", "axtren-rig-")
	if err != nil {
		return "", err
	}
	if err := os.Chmod(dir, 0o711); err != nil { // user postgres must pass through
		return "", err
	}
	_, here, _, _ := runtime.Caller(0)
	root := filepath.Join(filepath.Dir(here), "..", "..")
	if _, err := os.Stat(filepath.Join(root, "app/web/dist/index.html")); err != nil {
		return "", errors.New("the pages are not built: run ./axtren-test, or npm run build in ui/")
	}
	bin := filepath.Join(dir, "axtren")
	cmd := exec.Command("go", "build", "-o", bin, "./cmd/axtren")
	cmd.Dir = root
	if out, err := cmd.CombinedOutput(); err != nil {
		return "", fmt.Errorf("the application does not build: %w\n%s", err, out)
	}
	return bin, nil
}

// App is a running application with its own database.
type App struct {
	URL      string
	Data     string
	Database string // URL of a database that is not its own; empty: its own
	Listen   string // address on which phones are let in; empty: none
	bin      string
	port     string
	cmd      *exec.Cmd
	log      logBuffer
	sent     atomic.Int64 // requests of Send
}

type logBuffer struct {
	mu sync.Mutex
	b  strings.Builder
}

func (l *logBuffer) Write(p []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.b.Write(p)
}

// Log gives what the application has said.
func (a *App) Log() string {
	a.log.mu.Lock()
	defer a.log.mu.Unlock()
	return a.log.b.String()
}

var ready = regexp.MustCompile(`open (http://\S+)/`)

// Start starts the application on the data folder beside its binary, empty at
// first, on a free port; after a Kill on the same port again.
func Start(bin, name string) (*App, error) {
	a := &App{bin: bin, Data: filepath.Join(filepath.Dir(bin), name), port: "0"}
	return a, a.Again()
}

// StartListening starts one that lets phones in on an address.
func StartListening(bin, name, address string) (*App, error) {
	a := &App{bin: bin, Data: filepath.Join(filepath.Dir(bin), name), port: "0", Listen: address}
	return a, a.Again()
}

// Afar is where phones ask.
func (a *App) Afar() string { return "http://" + a.Listen + ":" + a.port }

// StartOn starts one more server on a database that is there.
func StartOn(bin, database string) (*App, error) {
	a := &App{bin: bin, Database: database, port: "0"}
	return a, a.Again()
}

// PostgreSQL gives the process of the application's own database.
func (a *App) PostgreSQL() (*os.Process, error) {
	text, err := os.ReadFile(filepath.Join(a.Data, "data", "postmaster.pid"))
	if err != nil {
		return nil, err
	}
	first, _, _ := strings.Cut(string(text), "\n")
	pid, err := strconv.Atoi(first)
	if err != nil {
		return nil, err
	}
	return os.FindProcess(pid)
}

// DatabaseURL gives the URL of the application's own database.
func (a *App) DatabaseURL() (string, error) {
	password, err := os.ReadFile(filepath.Join(a.Data, "password"))
	if err != nil {
		return "", err
	}
	pid, err := os.ReadFile(filepath.Join(a.Data, "data", "postmaster.pid"))
	if err != nil {
		return "", err
	}
	lines := strings.Split(string(pid), "\n") // the fourth is the port
	return fmt.Sprintf("postgres://axtren:%s@127.0.0.1:%s/axtren", strings.TrimSpace(string(password)),
		strings.TrimSpace(lines[3])), nil
}

// Again starts it once more on what is there.
func (a *App) Again() error {
	args := []string{"demo", "--port", a.port, "--data", a.Data}
	if a.Database != "" {
		args = []string{"serve", "--port", a.port, "--database", a.Database}
	}
	if a.Listen != "" {
		args = append(args, "--listen", a.Listen)
	}
	a.cmd = exec.Command(a.bin, args...)
	out, err := a.cmd.StdoutPipe()
	if err != nil {
		return err
	}
	a.cmd.Stderr = &a.log
	if err := a.cmd.Start(); err != nil {
		return err
	}
	found := make(chan string, 1)
	go func() {
		lines := bufio.NewScanner(io.TeeReader(out, &a.log))
		for lines.Scan() {
			if m := ready.FindStringSubmatch(lines.Text()); m != nil {
				found <- m[1]
			}
		}
		close(found)
	}()
	select {
	case url, ok := <-found:
		if !ok {
			return fmt.Errorf("the application ended:\n%s", a.Log())
		}
		a.URL = url
		a.port = url[strings.LastIndexByte(url, ':')+1:]
		return nil
	case <-time.After(60 * time.Second):
		return fmt.Errorf("the application is not ready after a minute:\n%s", a.Log())
	}
}

// Memory gives how many bytes of memory the application has.
func (a *App) Memory() (int64, error) {
	text, err := os.ReadFile(fmt.Sprintf("/proc/%d/statm", a.cmd.Process.Pid))
	if err != nil {
		return 0, err
	}
	pages, err := strconv.ParseInt(strings.Fields(string(text))[1], 10, 64)
	return pages * int64(os.Getpagesize()), err
}

// Kill ends the application as a power cut would.
func (a *App) Kill() {
	a.cmd.Process.Signal(syscall.SIGKILL)
	a.cmd.Wait()
}

// Stop ends it as Ctrl+C does; the error says how it ended.
func (a *App) Stop() error {
	a.cmd.Process.Signal(syscall.SIGINT)
	ctx, cancel := context.WithTimeout(context.Background(), 30*time.Second)
	defer cancel()
	done := make(chan error, 1)
	go func() { done <- a.cmd.Wait() }()
	select {
	case err := <-done:
		return err
	case <-ctx.Done():
		a.cmd.Process.Kill()
		return errors.New("the application does not stop")
	}
}

// OpenApp starts the application on an empty database, for a command that needs
// it. stop ends it and removes what it left.
func OpenApp() (app *App, stop func(), err error) {
	bin, err := Binary()
	if err != nil {
		return nil, nil, err
	}
	remove := func() { os.RemoveAll(filepath.Dir(bin)) }
	if app, err = Start(bin, "data"); err != nil {
		remove()
		return nil, nil, err
	}
	return app, func() { app.Stop(); remove() }, nil
}

// Open starts the application on an empty database and a browser, for a
// command that needs both. stop ends both and removes what they left.
func Open() (app *App, browser *Browser, stop func(), err error) {
	app, end, err := OpenApp()
	if err != nil {
		return nil, nil, nil, err
	}
	if browser, err = OpenBrowser(); err != nil {
		end()
		return nil, nil, nil, err
	}
	stop = func() { browser.Close(); end() }
	return app, browser, stop, nil
}

// Freeze stops the application where it is, without ending it; Thaw lets it go on.
func (a *App) Freeze() { a.cmd.Process.Signal(syscall.SIGSTOP) }

// Thaw lets a frozen application go on.
func (a *App) Thaw() { a.cmd.Process.Signal(syscall.SIGCONT) }
