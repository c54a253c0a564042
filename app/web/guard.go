package web

import (
	"net/http"
	"net/url"
	"slices"
	"strings"

	"github.com/labstack/echo/v5"
)

// guard lets in only requests that were meant for us: the Host must be one of
// hosts, so that a foreign name that was pointed at loopback gets nothing, and
// a page's Origin must be ours, so that no other page uses the API or the
// socket behind the person's back.
func guard(hosts []string) echo.MiddlewareFunc {
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			r := c.Request()
			if !slices.Contains(hosts, strings.ToLower(r.Host)) {
				return refuse(http.StatusMisdirectedRequest, "This address is not served here",
					"open http://"+hosts[0]+"/")
			}
			if origin := r.Header.Get("Origin"); origin != "" {
				u, err := url.Parse(origin)
				if err != nil || u.Scheme != "http" || !slices.Contains(hosts, strings.ToLower(u.Host)) {
					return refuse(http.StatusForbidden, "Another site's page may not ask this server",
						"open http://"+hosts[0]+"/")
				}
			}
			if site := r.Header.Get("Sec-Fetch-Site"); site == "cross-site" &&
				r.Header.Get("Sec-Fetch-Mode") != "navigate" {
				return refuse(http.StatusForbidden, "Another site's page may not ask this server",
					"open http://"+hosts[0]+"/")
			}
			return next(c)
		}
	}
}

// secure says to the browser what the pages may do.
func secure(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		h := c.Response().Header()
		h.Set("Content-Security-Policy",
			"default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; connect-src "+
				"'self'; frame-ancestors 'none'; base-uri 'none'; form-action 'none'")
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "no-referrer")
		h.Set("Cross-Origin-Resource-Policy", "same-origin")
		return next(c)
	}
}
