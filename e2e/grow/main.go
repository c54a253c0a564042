// Command grow measures what a list of many models and a long history cost: on the server, and
// in a real page.
package main

import (
	"context"
	"flag"
	"fmt"
	"os"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"

	"axtren/demo"
	"axtren/e2e/rig"
)

func main() {
	models := flag.Int("models", 1000, "how many models there are")
	edits := flag.Int("edits", 2000, "how many edits one of them has")
	flag.Parse()
	if err := run(*models, *edits); err != nil {
		fmt.Fprintln(os.Stderr, "grow:", err)
		os.Exit(1)
	}
}

func run(models, edits int) error {
	app, browser, stop, err := rig.Open()
	if err != nil {
		return err
	}
	defer stop()
	g := &grown{app: app}
	if err := g.fill(models); err != nil {
		return err
	}
	for _, what := range []string{"list, the first time", "list", "list again"} {
		if err := g.gets(what, "/api/models"); err != nil {
			return err
		}
	}
	if err := g.gets("archive", "/api/archive"); err != nil {
		return err
	}
	if err := g.page(browser); err != nil {
		return err
	}
	return g.history(edits)
}

type grown struct {
	app *rig.App
}

// fill makes copies of a model of the demo.
func (g *grown) fill(models int) error {
	yard, err := demo.Yard()
	if err != nil {
		return err
	}
	text := string(yard[len(yard)-1].Doc.Tree.YAML())
	began := time.Now()
	for i := range models {
		named := strings.Replace(text, "name: ", fmt.Sprintf("name: No%d ", i), 1)
		if _, err := g.app.Make(named); err != nil {
			return err
		}
	}
	fmt.Printf("%d models of %d bytes made in %.1f s\n", models, len(text), time.Since(began).Seconds())
	return nil
}

func (g *grown) gets(what, path string) error {
	began := time.Now()
	text, err := g.app.Send("GET", path, "")
	if err == nil {
		fmt.Printf("%-26s %8.0f ms  %9d bytes\n", what, time.Since(began).Seconds()*1000, len(text))
	}
	return err
}

// page opens the list in a browser.
func (g *grown) page(browser *rig.Browser) error {
	page, err := browser.NewPage(1280, 800)
	if err != nil {
		return err
	}
	defer page.Close()
	if err := page.Go(g.app.URL); err != nil {
		return err
	}
	if err := page.Wait("document.querySelector('main li h2')"); err != nil {
		return err
	}
	took, err := rig.Eval[[]float64](page, `new Promise(done => requestAnimationFrame(() => setTimeout(() => done([
		performance.now(), document.querySelectorAll('*').length]))))`)
	if err == nil {
		fmt.Printf("%-26s %8.0f ms  %9.0f nodes\n", "page of the list usable", took[0], took[1])
	}
	return err
}

// history edits one model many times, and asks for what was.
func (g *grown) history(edits int) error {
	text, err := g.app.Send("POST", "/api/kinds/boat", "")
	if err != nil {
		return err
	}
	_, rest, _ := strings.Cut(string(text), `"id":"`)
	id, _, _ := strings.Cut(rest, `"`)
	began := time.Now()
	for i := range edits {
		patch := fmt.Sprintf(`[{"op":"test","path":"/outputs/0/id","value":"rudder"},`+
			`{"op":"add","path":"/outputs/0/low","value":%d}]`, -50-i%40)
		if _, err := g.app.Send("PATCH", "/api/models/"+id, patch, "If-Match", fmt.Sprintf(`"%d"`, i+1),
			"Content-Type", "application/json-patch+json"); err != nil {
			return err
		}
	}
	fmt.Printf("%d edits made, %.2f ms each\n", edits, time.Since(began).Seconds()*1000/float64(max(edits, 1)))
	if err := g.kept(edits); err != nil {
		return err
	}
	for what, path := range map[string]string{"list of revisions": "/revisions",
		"an old revision": fmt.Sprintf("/export?format=json&revision=%d", edits/2)} {
		if err := g.gets(what, "/api/models/"+id+path); err != nil {
			return err
		}
	}
	return nil
}

// kept says how large the history is in the database.
func (g *grown) kept(edits int) error {
	url, err := g.app.DatabaseURL()
	if err != nil {
		return err
	}
	db, err := pgx.Connect(context.Background(), url)
	if err != nil {
		return err
	}
	defer db.Close(context.Background())
	var bytes int
	err = db.QueryRow(context.Background(), "select pg_total_relation_size('revisions')").Scan(&bytes)
	if err == nil {
		fmt.Printf("the history is %.1f MB, %d bytes an edit\n", float64(bytes)/(1<<20), bytes/max(edits, 1))
	}
	return err
}
