package web

import (
	"embed"
	"io/fs"
	"net/http"
	"path"
	"strings"

	"github.com/labstack/echo/v5"

	"axtren/app/sheet"
)

// dist holds the built pages; in a fresh checkout only a placeholder, so that
// everything builds and is tested without them.
//
//go:embed all:dist
var dist embed.FS

// pages serves the built pages. A path without a file is a place of the page
// itself, so it gets the page; a missing asset is missing.
func pages(e *echo.Echo) error {
	files, err := fs.Sub(dist, "dist")
	if err != nil {
		return err
	}
	e.GET("/licences.txt", func(c *echo.Context) error {
		return c.String(http.StatusOK,
			sheet.FontLicences())
	})
	e.GET("/*", func(c *echo.Context) error {
		name := strings.TrimPrefix(path.Clean(c.Request().URL.Path), "/")
		info, err := fs.Stat(files, name)
		switch {
		case err == nil && !info.IsDir() && strings.HasPrefix(name, "assets/"):
			c.Response().Header().Set("Cache-Control", "public, max-age=31536000, immutable")
		case err == nil && !info.IsDir():
			c.Response().Header().Set("Cache-Control", "no-cache")
		case strings.HasPrefix(name, "assets/"):
			return echo.ErrNotFound
		default:
			name = "index.html"
			c.Response().Header().Set("Cache-Control", "no-cache")
		}
		if _, err := fs.Stat(files, name); err != nil {
			return refuse(http.StatusServiceUnavailable, "The pages are not built",
				"run ./axtren-up, or npm run build in ui/")
		}
		return c.FileFS(name, files)
	})
	return nil
}
