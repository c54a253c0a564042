package main

import (
	"context"
	"fmt"
	"net"
	"os"
	"strconv"
	"time"

	"github.com/spf13/cobra"

	"axtren/app/cluster"
	"axtren/app/live"
	"axtren/app/store"
	"axtren/app/web"
	"axtren/demo"
)

// defaultPort is where the application is served unless told otherwise.
const defaultPort = 8437

func demoCommand() *cobra.Command {
	port, data := defaultPort, os.Getenv("AXTREN_DATA")
	cmd := &cobra.Command{
		Use:   "demo",
		Short: "Start a private database and the application with the demo yard, on loopback",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if text := os.Getenv("AXTREN_PORT"); text != "" && !cmd.Flags().Changed("port") {
				p, err := strconv.Atoi(text)
				if err != nil {
					return fmt.Errorf("AXTREN_PORT %q is not a port; use a number such as %d", text, defaultPort)
				}
				port = p
			}
			if port < 0 || port > 65535 {
				return fmt.Errorf("--port %d: must be 0 (any free one) to 65535", port)
			}
			return runDemo(cmd.Context(), port, data)
		},
	}
	cmd.Flags().IntVar(&port, "port", port, "port on 127.0.0.1 (also AXTREN_PORT); 0 takes a free one")
	cmd.Flags().StringVar(&data, "data", data, "folder of the database (also AXTREN_DATA; default: /var/lib/axtren as root, else your data folder)")
	return cmd
}

// runDemo serves until ctx ends, then stops the application and its database.
func runDemo(ctx context.Context, port int, data string) error {
	start := time.Now()
	say := func(format string, args ...any) {
		fmt.Printf("axtren: %5.1f s  %s\n", time.Since(start).Seconds(), fmt.Sprintf(format, args...))
	}
	listener, hosts, err := web.Listen(port)
	if err != nil {
		return err
	}
	defer listener.Close()
	if data == "" {
		if data, err = cluster.DefaultDir(); err != nil {
			return err
		}
	}
	say("starting the database in %s", data)
	db, err := cluster.Start(ctx, cluster.Config{Dir: data, Say: func(what string) { say("%s", what) }})
	if err != nil {
		return err
	}
	defer func() {
		db.Stop()
		say("stopped")
	}()
	say("bringing its tables up to date")
	s, err := store.Open(ctx, db.URL)
	if err != nil {
		return err
	}
	defer s.Close()
	if err := loadYard(ctx, s, say); err != nil {
		return err
	}
	return serve(ctx, s, listener, hosts, say)
}

func loadYard(ctx context.Context, s *store.Store, say func(string, ...any)) error {
	docs, err := demo.Documents()
	if err != nil {
		return err
	}
	loaded, err := s.LoadOnce(ctx, "demo yard", docs)
	if err != nil {
		return fmt.Errorf("the demo yard cannot be loaded: %w", err)
	}
	if loaded {
		say("brought in the demo yard: %d model(s)", len(docs))
	}
	return nil
}

func serve(ctx context.Context, s *store.Store, listener net.Listener, hosts []string, say func(string, ...any)) error {
	handler, err := web.New(s, live.NewHub(ctx), hosts)
	if err != nil {
		return err
	}
	say("ready: open http://%s/  (Ctrl+C stops)", hosts[0])
	err = web.Serve(ctx, listener, handler)
	say("stopping")
	return err
}
