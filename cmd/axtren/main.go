// Command axtren plans, computes and plays what a transmitter does to a model.
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/signal"
	"syscall"

	"github.com/spf13/cobra"
)

// Exit codes of docs/format.md, section 11.
const (
	exitClean     = 0
	exitFound     = 1
	exitUnusable  = 2
	exitUndecided = 3
)

func main() { os.Exit(run()) }

func run() int {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	root := &cobra.Command{
		Use:           "axtren",
		Short:         "Axtren computes what every output of a model does, and says why",
		SilenceUsage:  true,
		SilenceErrors: true,
	}
	root.AddCommand(demoCommand(), serveCommand(), checkCommand(), diagnoseCommand(), fitCommand(),
		lossCommand(), planCommand(), reachCommand(), sameCommand(), startCommand(),
		simulateCommand(), whyCommand(), sheetCommand(), schemaCommand(), translateCommand(), walkCommand())
	if err := root.ExecuteContext(ctx); err != nil {
		if errors.Is(err, errFound) {
			return exitFound
		}
		if errors.Is(err, errUndecided) {
			return exitUndecided
		}
		if !errors.Is(err, context.Canceled) {
			fmt.Fprintln(os.Stderr, "axtren: "+err.Error())
		}
		return exitUnusable
	}
	return exitClean
}
