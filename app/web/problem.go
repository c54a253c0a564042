package web

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"io"
	"log/slog"
	"net"
	"net/http"
	"strings"
	"syscall"

	"github.com/jackc/pgx/v5/pgconn"
	"github.com/labstack/echo/v5"

	"axtren/app/contract"
	"axtren/app/live"
	"axtren/app/store"
	"axtren/core/setup"
)

// refusal is an error with its own answer.
type refusal struct{ contract.Problem }

func (r *refusal) Error() string { return r.Title }

// StatusCode gives Echo the status.
func (r *refusal) StatusCode() int { return r.Status }

func refuse(status int, title, detail string) error {
	return &refusal{contract.Problem{Type: "about:blank", Title: title, Status: status, Detail: &detail}}
}

// problemOf turns any error into a problem document (RFC 9457).
func problemOf(err error) contract.Problem {
	var own *refusal
	var faults setup.Problems
	var stale *store.StaleError
	var touched *store.TouchedError
	var large *http.MaxBytesError
	var broken *store.BrokenError
	answer := func(status int, title, detail string) contract.Problem {
		return contract.Problem{Type: "about:blank", Title: title, Status: status, Detail: &detail}
	}
	switch {
	case errors.As(err, &own):
		return own.Problem
	case errors.As(err, &faults):
		p := answer(http.StatusUnprocessableEntity, "This does not fit the format", faults[0].Error())
		list := []contract.Fault(faults)
		p.Errors = &list
		return p
	case errors.As(err, &stale):
		p := answer(http.StatusPreconditionFailed, "The model was changed meanwhile", stale.Error())
		since := revisionsOf(stale.Since)
		p.Since = &since
		return p
	case errors.As(err, &large):
		return answer(http.StatusRequestEntityTooLarge, "This is too large", "send at most 1 MiB")
	case errors.Is(err, store.ErrNotFound):
		return answer(http.StatusNotFound, "There is no such model", "go back to the models")
	case errors.As(err, &touched):
		p := answer(http.StatusConflict, "A later edit touched the same place", touched.Error())
		p.Type = "urn:axtren:touched"
		since := revisionsOf(touched.Later)
		p.Since = &since
		return p
	case errors.Is(err, store.ErrNoRecording):
		return answer(http.StatusNotFound, "There is no such recording",
			"it may have been replaced; look again")
	case errors.Is(err, store.ErrNoWalk):
		return answer(http.StatusNotFound, "There is no such walk", "it may have been thrown away; look again")
	case errors.Is(err, store.ErrSigned):
		return answer(http.StatusConflict, "This walk was signed", "nothing changes it any more; begin another")
	case errors.Is(err, store.ErrManyPhotos):
		return answer(http.StatusConflict, "There are as many photographs as are kept of a walk, or of a model",
			"take another one in place of one that is there")
	case errors.Is(err, store.ErrNoEvent):
		return answer(http.StatusNotFound, "There is no such note", "it may have been taken back; look again")
	case errors.Is(err, store.ErrManyEvents):
		return answer(http.StatusConflict, "So much has been noted or signed of this model that no more is kept",
			"export the log, and take back what is not needed, or go on with a copy of the model")
	case errors.Is(err, store.ErrNoPhone):
		return answer(http.StatusNotFound, "There is no such phone",
			"it may have been taken back; look again")
	case errors.Is(err, live.ErrFull):
		return answer(http.StatusServiceUnavailable, "The bench is full",
			"too many pages are open on this server; close one and try again")
	case errors.Is(err, store.ErrKnown):
		return answer(http.StatusConflict, "The shelf has this piece already", "look again")
	case errors.Is(err, store.ErrNothingToDo):
		return answer(http.StatusConflict, "There is nothing to take back", "")
	case errors.As(err, &broken):
		return answer(http.StatusUnprocessableEntity, "This model cannot be read",
			broken.Error()+"; take it out as a file, mend it, and bring it in again")
	case unreachable(err):
		return answer(http.StatusServiceUnavailable, "The database does not answer",
			"whether the change was made is not known; the same one sent again in a moment is made once")
	}
	status := echo.StatusCode(err)
	switch status {
	case http.StatusNotFound:
		return answer(status, "There is nothing here", "go back to the models")
	case 0, http.StatusInternalServerError:
		slog.Error("a request failed", "error", err)
		return answer(http.StatusInternalServerError, "Something went wrong here",
			"the server's own words are in its log")
	}
	return answer(status, http.StatusText(status), err.Error())
}

// unreachable tells a database that does not answer from one that refuses.
func unreachable(err error) bool {
	var network net.Error
	var connect *pgconn.ConnectError
	var server *pgconn.PgError
	if errors.As(err, &server) {
		return server.Code[:2] == "57" || server.Code[:2] == "08" // operator intervention, connection
	}
	for _, ended := range []error{io.EOF, io.ErrUnexpectedEOF, net.ErrClosed, driver.ErrBadConn,
		sql.ErrConnDone, syscall.ECONNRESET, syscall.EPIPE, syscall.ECONNREFUSED} {
		if errors.Is(err, ended) {
			return true
		}
	}
	// the driver says so in words alone where a connection ends under a query
	for _, words := range []string{"unexpected EOF", "conn closed", "closed pool", "connection reset",
		"broken pipe"} {
		if strings.Contains(err.Error(), words) {
			return true
		}
	}
	return errors.As(err, &connect) || errors.As(err, &network) || pgconn.SafeToRetry(err) &&
		!errors.Is(err, context.Canceled)
}

// answerError is the one place that answers an error.
func answerError(c *echo.Context, err error) {
	if r, _ := echo.UnwrapResponse(c.Response()); r != nil && r.Committed {
		return
	}
	if errors.Is(err, context.Canceled) && c.Request().Context().Err() != nil {
		return // who asked has gone
	}
	p := problemOf(err)
	c.Response().Header().Set("Content-Type", "application/problem+json")
	if err := c.JSON(p.Status, p); err != nil {
		slog.Debug("an answer was not written", "error", err)
	}
}
