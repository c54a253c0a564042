package web

import (
	"context"
	_ "embed" // the page
	"errors"
	"fmt"
	"html"
	"net"
	"net/http"
	"net/netip"
	"net/url"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"axtren/app/contract"
	"axtren/app/pairing"
	"axtren/app/store"
)

// phoneCookie holds the token of a phone that was let in.
const phoneCookie = "axtren_phone"

// pairPath is where a phone gives its code.
const pairPath = "/pair"

//go:embed pair.html
var pairPage string

// ListenAfar opens a port on an address of this machine's own network, and names
// the host that leads to it. Addresses that anybody may reach are refused.
func ListenAfar(address string, port int) (net.Listener, string, error) {
	ip := net.ParseIP(address)
	if ip == nil || ip.IsUnspecified() || !ip.IsPrivate() && !ip.IsLoopback() && !ip.IsLinkLocalUnicast() {
		return nil, "",
			fmt.Errorf("--listen %q is no address of a network of your own; use one of this machine: %s",
				address, orNoAddress(ownAddresses()))
	}
	l, err := net.Listen("tcp", net.JoinHostPort(address, fmt.Sprint(port)))
	if err != nil {
		return nil, "", fmt.Errorf("--listen %s cannot be used: %w; this machine has %s", address, err,
			orNoAddress(ownAddresses()))
	}
	return l, net.JoinHostPort(address, fmt.Sprint(l.Addr().(*net.TCPAddr).Port)), nil
}

// ownAddresses lists the addresses of this machine in networks of its own.
func ownAddresses() []string {
	list := []string{}
	all, _ := net.InterfaceAddrs()
	for _, a := range all {
		if n, ok := a.(*net.IPNet); ok && n.IP.IsPrivate() {
			list = append(list, n.IP.String())
		}
	}
	return list
}

// orNoAddress names addresses, or says that there is none.
func orNoAddress(addresses []string) string {
	if len(addresses) == 0 {
		return "none that is private"
	}
	return strings.Join(addresses, ", ")
}

// paired lets in only what a phone asks that was let in: others are led to where
// a code is given.
func paired(desk *pairing.Desk) echo.MiddlewareFunc {
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			r := c.Request()
			if r.URL.Path == pairPath {
				return next(c)
			}
			if strings.HasPrefix(r.URL.Path, "/api/phones") {
				return refuse(http.StatusForbidden, "This is done on the laptop",
					"open Models there, and Phones")
			}
			var phone *store.Phone
			err := store.ErrNoPhone
			if cookie, none := r.Cookie(phoneCookie); none == nil {
				phone, err = desk.Known(r.Context(), cookie.Value)
			}
			switch {
			case errors.Is(err, store.ErrNoPhone) && strings.HasPrefix(r.URL.Path, "/api/"):
				return refuse(http.StatusUnauthorized, "This phone is not let in",
					"open "+desk.URL+" and give the code that the laptop shows")
			case errors.Is(err, store.ErrNoPhone):
				return c.Redirect(http.StatusSeeOther, pairPath)
			case err != nil:
				return err
			}
			ctx, done := desk.During(r.Context(), phone.ID)
			defer done()
			c.SetRequest(r.WithContext(ctx))
			return next(c)
		}
	}
}

// pair answers the page on which a phone gives its code.
func pair(desk *pairing.Desk) func(c *echo.Context) error {
	answer := func(c *echo.Context, status int, code, words string) error {
		h := c.Response().Header()
		h.Set("Content-Security-Policy",
			"default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; frame-ancestors 'none'; "+
				"base-uri 'none'")
		h.Set("Referrer-Policy", "same-origin") // without one a form has no origin
		h.Set("Cache-Control", "no-store")
		said := ""
		if words != "" {
			said = `<p role="alert"><strong>` + html.EscapeString(strings.ToUpper(words[:1])+words[1:]) +
				".</strong></p>"
		}
		return c.HTML(status, strings.NewReplacer("{{code}}", html.EscapeString(code), "{{said}}",
			said).Replace(pairPage))
	}
	return func(c *echo.Context) error {
		r := c.Request()
		if r.Method != http.MethodPost {
			return answer(c, http.StatusOK, r.URL.Query().Get("code"), "")
		}
		r.Body = http.MaxBytesReader(c.Response(), r.Body, 4096)
		code := r.PostFormValue("code")
		token, err := desk.Give(r.Context(), addressOf(r), code, phoneName(r.UserAgent()))
		var refused *pairing.Refused
		if errors.As(err, &refused) {
			if refused.Wait > 0 {
				c.Response().Header().Set("Retry-After", fmt.Sprintf("%.0f", refused.Wait.Seconds()))
			}
			return answer(c, http.StatusForbidden, "", refused.Error())
		}
		if err != nil {
			return err
		}
		c.SetCookie(&http.Cookie{Name: phoneCookie, Value: token, Path: "/",
			MaxAge: int((90 * 24 * time.Hour).Seconds()), HttpOnly: true, SameSite: http.SameSiteStrictMode})
		return c.Redirect(http.StatusSeeOther, "/")
	}
}

// addressOf is where a request came from.
func addressOf(r *http.Request) netip.Addr {
	at, err := netip.ParseAddrPort(r.RemoteAddr)
	if err != nil {
		return netip.Addr{}
	}
	return at.Addr()
}

// phoneName says in a word or two what a browser says of itself.
func phoneName(agent string) string {
	kind := "a browser"
	switch {
	case strings.Contains(agent, "Tablet"):
		kind = "a tablet"
	case strings.Contains(agent, "Mobile"):
		kind = "a phone"
	}
	return kind
}

// ListPhones says where phones are let in, and which are.
func (m *models) ListPhones(ctx context.Context,
	_ contract.ListPhonesRequestObject) (contract.ListPhonesResponseObject, error) {
	answer := contract.ListPhones200JSONResponse{Own: ownAddresses(), Phones: []contract.Phone{}}
	if m.desk == nil {
		return answer, nil
	}
	list, err := m.desk.Phones(ctx)
	if err != nil {
		return nil, err
	}
	answer.Url = &m.desk.URL
	for _, p := range list {
		answer.Phones = append(answer.Phones, contract.Phone{Id: p.ID, Name: p.Name, MadeAt: p.MadeAt,
			SeenAt: p.SeenAt})
	}
	return answer, nil
}

// NewPhoneCode makes a code for one phone.
func (m *models) NewPhoneCode(context.Context,
	contract.NewPhoneCodeRequestObject) (contract.NewPhoneCodeResponseObject, error) {
	if m.desk == nil {
		return nil, refuse(http.StatusConflict, "No phone can be let in",
			"start Axtren with --listen and an address of your own network")
	}
	code, until := m.desk.Code()
	at := m.desk.URL + strings.TrimPrefix(pairPath, "/") + "?code=" + url.QueryEscape(code)
	return contract.NewPhoneCode201JSONResponse{Code: code, Until: until, Url: at}, nil
}

// TakePhoneBack ends what a phone may do.
func (m *models) TakePhoneBack(ctx context.Context,
	r contract.TakePhoneBackRequestObject) (contract.TakePhoneBackResponseObject, error) {
	if m.desk == nil {
		return nil, store.ErrNoPhone
	}
	return contract.TakePhoneBack204Response{}, m.desk.TakeBack(ctx, r.Phone)
}
