// Package web serves the pages, the API of api/openapi.yaml and the socket of
// the live bench.
package web

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net"
	"net/http"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"

	"axtren/app/archive"
	"axtren/app/contract"
	"axtren/app/live"
	"axtren/app/pairing"
	"axtren/app/store"
	"axtren/core/setup"
)

// Config is what a server serves, and to whom.
type Config struct {
	Store *store.Store
	Hub   *live.Hub
	Hosts []string      // the only Host headers that it answers, the first the one to name to people
	Desk  *pairing.Desk // where phones are let in; nil: nowhere
	Afar  bool          // it is asked over a network: only by phones that were let in
}

// New makes a server.
func New(of Config) (http.Handler, error) {
	e := echo.New()
	e.HTTPErrorHandler = answerError
	e.Binder = rawBinder{}
	e.Use(secure, guard(of.Hosts), middleware.Recover(),
		// gzip breaks the upgrade, and assets were compressed when they were built
		middleware.GzipWithConfig(middleware.GzipConfig{Skipper: isPacked, MinLength: 1000}))
	if of.Afar {
		e.Use(paired(of.Desk))
		e.GET(pairPath, pair(of.Desk))
		e.POST(pairPath, pair(of.Desk))
	}
	check, err := validate()
	if err != nil {
		return nil, err
	}
	m := &models{of.Store, of.Hub, of.Desk, make(chan struct{}, 1)}
	e.Use(onAPI(limitBody), onAPI(check))
	contract.RegisterHandlers(e, contract.NewStrictHandler(m, nil))
	e.GET("/api/models/:id/live", m.live)
	return e, pages(e)
}

// isPacked tells what is compressed already, or must not be.
func isPacked(c *echo.Context) bool {
	path := c.Request().URL.Path
	return isSocket(c) || strings.HasPrefix(path, "/assets/") || strings.HasSuffix(path, "/archive") ||
		strings.HasSuffix(path, ".pdf")
}

// isSocket tells the path of the bench: the generated server leaves it to us.
func isSocket(c *echo.Context) bool { return strings.HasSuffix(c.Request().URL.Path, "/live") }

// onAPI makes a middleware act on the API alone.
func onAPI(m echo.MiddlewareFunc) echo.MiddlewareFunc {
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		guarded := m(next)
		return func(c *echo.Context) error {
			if strings.HasPrefix(c.Request().URL.Path, "/api/") && !isSocket(c) {
				return guarded(c)
			}
			return next(c)
		}
	}
}

// live answers the socket of the bench.
func (m *models) live(c *echo.Context) error {
	id, err := uuid.Parse(c.Param("id"))
	if err != nil {
		return store.ErrNotFound
	}
	return m.hub.Serve(c.Response(), c.Request(), id, m.store)
}

// limitBody bounds every body at the size of a document; those of an archive and
// a recording at theirs.
func limitBody(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r, limit := c.Request(), int64(setup.MaxBytes)
		switch {
		case r.URL.Path == "/api/archive":
			limit = archive.MaxBytes
		case strings.HasSuffix(r.URL.Path, "/photo"):
			limit = maxPhoto
		case strings.HasSuffix(r.URL.Path, "/recordings"):
			limit = maxScript
		}
		r.Body = http.MaxBytesReader(c.Response(), r.Body, limit)
		return next(c)
	}
}

// rawBinder gives a handler its body as it was sent: patches keep their numbers
// and the order of their keys.
type rawBinder struct{}

// Bind reads the body into a patch as it is, or into what its type asks for.
func (rawBinder) Bind(c *echo.Context, target any) error {
	text, err := io.ReadAll(c.Request().Body)
	if err != nil {
		return err
	}
	switch target := target.(type) {
	case *contract.Patch:
		*target = text
		return nil
	case *contract.Act, *contract.Mapping, *contract.NewPiece, *contract.PieceNote, *contract.ShelfAct,
		*contract.Seen, *contract.Filmed, *contract.Filled, *contract.Ticking, *contract.Signing,
		*contract.Noting:
		d := json.NewDecoder(bytes.NewReader(text))
		d.DisallowUnknownFields()
		if err := d.Decode(target); err != nil {
			return refuse(http.StatusUnprocessableEntity, "This is not what the contract asks for",
				err.Error())
		}
		return nil
	}
	return fmt.Errorf("no way to read a body into %T", target)
}

// maxScript bounds a recording: ten minutes of hands that never rest are 2 MB.
const maxScript = 8 << 20

// Listen opens a loopback port, and names the hosts that lead to it.
func Listen(port int) (net.Listener, []string, error) {
	l, err := net.Listen("tcp4", fmt.Sprintf("127.0.0.1:%d", port))
	if err != nil {
		return nil, nil, fmt.Errorf("port %d cannot be used: %w; name another with --port or AXTREN_PORT",
			port, err)
	}
	at := l.Addr().(*net.TCPAddr).Port
	return l, []string{fmt.Sprintf("127.0.0.1:%d", at), fmt.Sprintf("localhost:%d", at)}, nil
}

// Serve serves until ctx ends, then lets what runs finish for a moment.
func Serve(ctx context.Context, l net.Listener, h http.Handler) error {
	sc := echo.StartConfig{HideBanner: true, HidePort: true, Listener: l, GracefulTimeout: 3 * time.Second,
		BeforeServeFunc: func(s *http.Server) error {
			s.ReadHeaderTimeout = 10 * time.Second
			s.MaxHeaderBytes = 64 << 10
			return nil
		}}
	if err := sc.Start(ctx, h); err != nil && ctx.Err() == nil {
		return fmt.Errorf("serving: %w", err)
	}
	return nil
}
