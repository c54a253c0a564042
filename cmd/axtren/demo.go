package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"os"
	"runtime/debug"
	"strconv"
	"time"

	"github.com/google/uuid"
	"github.com/spf13/cobra"
	"golang.org/x/sync/errgroup"

	"axtren/app/cluster"
	"axtren/app/live"
	"axtren/app/pairing"
	"axtren/app/store"
	"axtren/app/web"
	"axtren/demo"
)

// defaultPort is where the application is served unless told otherwise.
const defaultPort = 8437

// place is where the application is served and where its data are.
type place struct {
	port     int
	data     string
	database string // URL of a PostgreSQL that is there already; empty: our own
	listen   string // address of the person's own network on which phones are let in; empty: none
	demo     bool
}

func demoCommand() *cobra.Command {
	return serving(place{demo: true}, "demo",
		"Start a private database and the application with the demo models, on loopback")
}

func serveCommand() *cobra.Command {
	return serving(place{}, "serve",
		"Start the application without the demo models, on a private database or on one of your own")
}

func serving(p place, use, short string) *cobra.Command {
	p.port, p.data, p.database, p.listen = defaultPort, os.Getenv("AXTREN_DATA"), os.Getenv(
		"AXTREN_DATABASE"), os.Getenv("AXTREN_LISTEN")
	cmd := &cobra.Command{
		Use: use, Short: short, Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if text := os.Getenv("AXTREN_PORT"); text != "" && !cmd.Flags().Changed("port") {
				port, err := strconv.Atoi(text)
				if err != nil {
					return fmt.Errorf("AXTREN_PORT %q is not a port; use a number such as %d", text,
						defaultPort)
				}
				p.port = port
			}
			if p.port < 0 || p.port > 65535 {
				return fmt.Errorf("--port %d: must be 0 (any free one) to 65535", p.port)
			}
			return p.serve(cmd.Context())
		},
	}
	cmd.Flags().IntVar(&p.port, "port", p.port, "port on 127.0.0.1 (also AXTREN_PORT); 0 takes a free one")
	cmd.Flags().StringVar(&p.data, "data", p.data,
		"folder of the private database (also AXTREN_DATA; default: /var/lib/axtren as root, else your "+
			"data folder)")
	cmd.Flags().StringVar(&p.database, "database", p.database,
		"URL of a PostgreSQL to use instead, postgres://... (also AXTREN_DATABASE); several servers may "+
			"share it")
	cmd.Flags().StringVar(&p.listen, "listen", p.listen,
		"address of your own, trusted network, such as 192.168.1.20, on which phones that give a code are "+
			"let in (also AXTREN_LISTEN); off by default")
	return cmd
}

// serve serves until ctx ends, then stops the application and its own database.
func (p *place) serve(ctx context.Context) error {
	start := time.Now()
	say := func(format string, args ...any) {
		fmt.Printf("axtren: %5.1f s  %s\n", time.Since(start).Seconds(), fmt.Sprintf(format, args...))
	}
	listener, hosts, err := web.Listen(p.port)
	if err != nil {
		return err
	}
	defer listener.Close()
	var afar net.Listener
	var afarHost string
	if p.listen != "" {
		if afar, afarHost, err = web.ListenAfar(p.listen, listener.Addr().(*net.TCPAddr).Port); err != nil {
			return err
		}
		defer afar.Close()
	}
	url, stop, err := p.openDatabase(ctx, say)
	if err != nil {
		return err
	}
	defer func() {
		stop()
		say("stopped")
	}()
	say("bringing its tables up to date")
	s, err := store.Open(ctx, url)
	if err != nil {
		return err
	}
	defer s.Close()
	if p.demo {
		if err := loadYard(ctx, s, say); err != nil {
			return err
		}
	}
	ctx, cancel := context.WithCancel(ctx)
	packed := make(chan struct{})
	go func() { // of an older program's histories; it ends with the application
		defer close(packed)
		if err := s.Pack(ctx); err != nil && ctx.Err() == nil {
			slog.Error("histories were not made smaller", "error", err)
		}
	}()
	defer func() {
		cancel()
		<-packed
	}()
	return serve(ctx, s, doors{listener, hosts, afar, afarHost}, say)
}

// doors are where the application is asked.
type doors struct {
	here     net.Listener // on loopback
	hosts    []string
	afar     net.Listener // on the person's own network; nil: closed
	afarHost string
}

func (p *place) openDatabase(ctx context.Context, say func(string, ...any)) (url string, stop func(),
	err error) {
	if p.database != "" {
		say("using the database at its URL")
		return p.database, func() {}, nil
	}
	if p.data == "" {
		if p.data, err = cluster.DefaultDir(); err != nil {
			return "", nil, err
		}
	}
	say("starting the database in %s", p.data)
	db, err := cluster.Start(ctx, cluster.Config{Dir: p.data, Say: func(what string) { say("%s", what) }})
	if err != nil {
		return "", nil, err
	}
	return db.URL, db.Stop, nil
}

// loadYard brings each model of the demo in once per database: one that was
// taken out stays out.
func loadYard(ctx context.Context, s *store.Store, say func(string, ...any)) error {
	if err := loadShelf(ctx, s, say); err != nil {
		return err
	}
	yard, err := demo.Yard()
	if err != nil {
		return err
	}
	for _, m := range yard {
		recordings := []store.Recording{}
		for _, r := range m.Recordings {
			recordings = append(recordings, store.Recording{Name: r.Name, Exact: true, Script: r.Script})
		}
		events := []store.Event{}
		for _, n := range m.Notes {
			events = append(events, store.Event{Kind: n.Kind, Part: n.Part, Label: n.Label, What: n.What, Was: n.Was,
				Becomes: n.Becomes, Says: n.Says, Battery: n.Battery, Minutes: n.Minutes})
		}
		loaded, err := s.LoadOnce(ctx, "demo model "+m.Doc.Setup.Name,
			store.New{Doc: m.Doc, Words: "imported", Recordings: recordings, Events: events})
		if err != nil {
			return fmt.Errorf("the demo models cannot be loaded: %w", err)
		}
		if loaded {
			say("imported %s of the demo", m.Doc.Setup.Name)
		}
	}
	return nil
}

// loadShelf puts each piece of the demo on the shelf once per database.
func loadShelf(ctx context.Context, s *store.Store, say func(string, ...any)) error {
	pieces, err := demo.Shelf()
	if err != nil {
		return err
	}
	for _, p := range pieces {
		name := "demo piece " + p.Key.String()
		loaded, err := s.LoadOnce(ctx, name, store.New{Doc: p.Doc, Words: "put on the shelf", Key: p.Key})
		if errors.Is(err, store.ErrKnown) {
			continue // it came with an archive
		}
		if err == nil && loaded && p.Later != nil {
			_, err = s.Edit(ctx, p.Key, 1, store.Origin{Page: name, Edit: "later"}, p.Later)
		}
		if err != nil {
			return fmt.Errorf("the demo shelf cannot be loaded: %w", err)
		}
	}
	say("the demo shelf has %d pieces", len(pieces))
	return nil
}

// usualMemory is how much memory, in bytes, is let grow before what is let go of is looked for
// more often: as much as 400 live benches need. GOMEMLIMIT says otherwise.
const usualMemory = 512 << 20

func serve(ctx context.Context, s *store.Store, d doors, say func(string, ...any)) error {
	if os.Getenv("GOMEMLIMIT") == "" {
		debug.SetMemoryLimit(usualMemory)
	}
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(400) // memory is small; a bench must not wait for its collection
	}
	hub := live.NewHub(ctx)
	of := web.Config{Store: s, Hub: hub, Hosts: d.hosts}
	if d.afar != nil {
		of.Desk = pairing.NewDesk("http://"+d.afarHost+"/", s, time.Now)
	}
	here, err := web.New(of)
	if err != nil {
		return err
	}
	go follow(ctx, s, hub, of.Desk)
	group, ctx := errgroup.WithContext(ctx)
	group.Go(func() error { // waited for, since it works with the database until it is told to stop
		web.Prepare(ctx, s)
		return nil
	})
	group.Go(func() error { return web.Serve(ctx, d.here, here) })
	if d.afar != nil {
		of.Hosts, of.Afar = []string{d.afarHost}, true
		afar, err := web.New(of)
		if err != nil {
			return err
		}
		group.Go(func() error { return web.Serve(ctx, d.afar, afar) })
		say("phones that give a code are let in at http://%s/; nothing is encrypted, so only in a network "+
			"that you trust", d.afarHost)
	}
	say("ready: open http://%s/  (Ctrl+C stops)", d.hosts[0])
	err = group.Wait()
	say("stopping")
	return err
}

// follow tells the benches what any server on the database changed, and ends those of
// phones that were sent away.
func follow(ctx context.Context, s *store.Store, hub *live.Hub, desk *pairing.Desk) {
	changed := func(id uuid.UUID) {
		if !hub.Open(id) {
			return
		}
		head, err := s.Head(ctx, id)
		switch {
		case err == nil:
			hub.Changed(head)
		case errors.Is(err, store.ErrNotFound):
			hub.Removed(id)
		case ctx.Err() == nil:
			slog.Warn("a changed model cannot be read", "model", id, "error", err)
		}
	}
	s.Listen(ctx, store.Heard{
		Model: changed,
		Kept:  hub.Kept,
		SentAway: func(id uuid.UUID) {
			if desk != nil {
				desk.SentAway(id)
			}
		},
		Missed: func() {
			for _, id := range hub.All() {
				changed(id)
				hub.Kept(id)
			}
			if desk == nil {
				return
			}
			if err := desk.Recheck(ctx); err != nil && ctx.Err() == nil {
				slog.Warn("the phones cannot be looked at", "error", err)
			}
		},
	})
}
