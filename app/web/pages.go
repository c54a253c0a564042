package web

import (
	"bytes"
	"embed"
	"fmt"
	"hash/crc32"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"
	"time"

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
	modules, err := readManifest(files)
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
			return thePage(c, files, modules)
		}
		return file(c, files, name)
	})
	return nil
}

// thePage serves the page itself, which begins to fetch what is at its address.
func thePage(c *echo.Context, files fs.FS, modules manifest) error {
	text, err := fs.ReadFile(files, entry)
	if err != nil {
		return refuse(http.StatusServiceUnavailable, "The pages are not built",
			"run ./axtren-up, or npm run build in ui/")
	}
	links := modules.links(path.Clean(c.Request().URL.Path))
	text = bytes.Replace(text, []byte("</head>"), []byte(links+"</head>"), 1)
	c.Response().Header().Set("Cache-Control", "no-cache")
	return send(c, entry, text)
}

// file serves a file, compressed where it was built so and the browser takes it. It has a tag by
// its content, so that what a browser has already is not sent again.
func file(c *echo.Context, files fs.FS, name string) error {
	header := c.Response().Header()
	text, err := fs.ReadFile(files, name+".gz")
	if err == nil {
		header.Set("Vary", "Accept-Encoding")
	}
	if err == nil && strings.Contains(c.Request().Header.Get("Accept-Encoding"), "gzip") {
		header.Set("Content-Encoding", "gzip")
	} else if text, err = fs.ReadFile(files, name); err != nil {
		return err
	}
	return send(c, name, text)
}

// send answers with a text, or with that it has not changed.
func send(c *echo.Context, name string, text []byte) error {
	header := c.Response().Header()
	header.Set("Content-Type", mime.TypeByExtension(path.Ext(name)))
	header.Set("ETag", fmt.Sprintf(`"%08x-%d"`, crc32.ChecksumIEEE(text), len(text)))
	http.ServeContent(c.Response(), c.Request(), name, time.Time{}, bytes.NewReader(text))
	return nil
}
