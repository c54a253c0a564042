package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"axtren/core/signal"
)

func simulateCommand() *cobra.Command {
	var script, out string
	seconds := -1.0
	cmd := &cobra.Command{
		Use:   "simulate SETUP --script S.csv --out T.csv",
		Short: "Play a script of hand movements and write what every output did, a row a frame",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if err := badLength(cmd, seconds); err != nil {
				return err
			}
			return simulate(cmd.Context(), args[0], script, out, seconds)
		},
	}
	cmd.Flags().StringVar(&script, "script", "", "script with the columns t_s,control,value")
	cmd.Flags().Float64Var(&seconds, "for", seconds,
		"how many seconds to play (default: 2 s beyond the last row)")
	cmd.Flags().StringVar(&out, "out", "", "file to write, T.csv or T.vcd (default: CSV on standard output)")
	return cmd
}

// badLength says what of --for cannot be.
func badLength(cmd *cobra.Command, seconds float64) error {
	if cmd.Flags().Changed("for") && !(seconds >= 0 && seconds <= 1e7) {
		return fmt.Errorf("--for %g: must be 0 to 10000000 seconds", seconds)
	}
	return nil
}

// simulate leaves whole rows behind, also when it is stopped half way.
func simulate(ctx context.Context, setupPath, scriptPath, outPath string, seconds float64) error {
	p, err := load(setupPath)
	if err != nil {
		return err
	}
	script, closeScript, err := openScript(scriptPath, p)
	if err != nil {
		return err
	}
	defer closeScript()
	out := os.Stdout
	if outPath != "" {
		if out, err = os.Create(outPath); err != nil {
			return fmt.Errorf("the trace cannot be written: %w", err)
		}
		defer out.Close()
	}
	trace, err := signal.NewRecorder(out, p, strings.HasSuffix(outPath, ".vcd"))
	if err != nil {
		return fmt.Errorf("the trace cannot be written: %w", err)
	}
	at, next := 0.0, time.Now().Add(time.Second)
	runErr := p.Run(script, seconds, func(t float64, st *signal.State) error {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		at = t
		if now := time.Now(); now.After(next) {
			next = now.Add(time.Second)
			fmt.Fprintf(os.Stderr, "axtren: %s played\n", progress(t, seconds))
		}
		return trace.Frame(t, st)
	})
	if err := trace.Close(); err != nil {
		return fmt.Errorf("the trace cannot be written: %w", err)
	}
	switch {
	case errors.Is(runErr, context.Canceled):
		return fmt.Errorf("stopped; what was played to %.3f s is written", at)
	case runErr != nil:
		return fmt.Errorf("%s: %w", scriptPath, runErr)
	}
	return nil
}

func progress(t, seconds float64) string {
	if seconds < 0 {
		return fmt.Sprintf("%.0f s", t)
	}
	return fmt.Sprintf("%.0f of %.0f s", t, seconds)
}
