package main

import (
	"context"
	"fmt"
	"io"
	"os"
	"time"

	"github.com/spf13/cobra"

	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
)

// reachReport is how a condition is brought about.
type reachReport struct {
	Reachable bool   `json:"reachable"`
	Undecided any    `json:"undecided"` // false, or how far it got
	Script    string `json:"script"`    // empty where it is not reachable
	At        any    `json:"at_s"`      // when it is so, s from power-on; null where it is not reachable
}

func reachCommand() *cobra.Command {
	var after string
	var wish checkWish
	cmd := &cobra.Command{
		Use:   "reach SETUP CONDITION",
		Short: "Find the fewest movements that bring a condition about",
		Long: "Reach looks for the fewest movements after which a condition is true: a truth, such " +
			"as \"pump\" or\n" +
			"\"not gear.up\", or an output or a device above or below a figure, such as \"motor > 20\".\n\n" +
			"Exit codes: 0 it can be reached, 1 it cannot, or it is undecided, 2 something cannot be used.",
		Args: cobra.ExactArgs(2),
		RunE: func(cmd *cobra.Command, args []string) error {
			return runReach(cmd.Context(), cmd.OutOrStdout(), args[0], args[1], after, wish)
		},
	}
	cmd.Flags().StringVar(&after, "after", "", "begin after this script, where its last row acts")
	wish.flags(cmd)
	return cmd
}

func runReach(ctx context.Context, out io.Writer, path, text, after string, wish checkWish) error {
	if err := wish.bad(); err != nil {
		return err
	}
	p, err := load(path)
	if err != nil {
		return err
	}
	s := p.Setup()
	c, err := proof.ReadCondition(s, text)
	if err != nil {
		return err
	}
	var rows []proof.Row
	if after != "" {
		file, err := os.Open(after)
		if err != nil {
			return fmt.Errorf("--after: %w", err)
		}
		defer file.Close()
		if rows, err = proof.ReadRows(p, file); err != nil {
			return fmt.Errorf("%s cannot be used:\n%w", after, err)
		}
	}
	ctx, cancel := context.WithTimeout(ctx, wish.time())
	defer cancel()
	v := proof.Reach(ctx, s, c, rows, wish.budget())
	if err := writeReached(out, s, c, &v, wish.json); err != nil {
		return err
	}
	if v.Verdict != proof.Holds {
		return errFound
	}
	return nil
}

func writeReached(out io.Writer, s *setup.Setup, c setup.Condition, v *proof.Verdict, asJSON bool) error {
	if !asJSON {
		for _, line := range proof.Says(s, &setup.Claim{Reachable: &c}, v) {
			fmt.Fprintln(out, line)
		}
		return nil
	}
	report := reachReport{Reachable: v.Verdict == proof.Holds, Undecided: undecided(v.Why)}
	if report.Reachable {
		report.Script, report.At = proof.Script(v.Rows), proof.Seconds(v.Frame, s)
	}
	return writeJSON(out, report)
}

// undecided is how far a search got that is not done, or false.
func undecided(why string) any {
	if why == "" {
		return false
	}
	return why
}

// flags adds the flags that every search has.
func (w *checkWish) flags(cmd *cobra.Command) {
	cmd.Flags().BoolVar(&w.json, "json", false, "print JSON")
	cmd.Flags().Float64Var(&w.seconds, "seconds", 60, "how long is searched at most")
	cmd.Flags().IntVar(&w.memory, "memory", 256, "how much memory a search takes at most, MiB")
}

// bad says what of the flags cannot be.
func (w *checkWish) bad() error {
	if w.seconds < 0 || w.seconds > 1e6 || w.memory < 1 || w.memory > 1<<16 {
		return fmt.Errorf("--seconds %g, --memory %d: use 0 to 1000000 seconds and 1 to 65536 MiB", w.seconds,
			w.memory)
	}
	return nil
}

// begin reads a setup for a wish that can be, and begins its time. The errors are those of either.
func (w *checkWish) begin(ctx context.Context, path string) (p *signal.Program, within context.Context,
	done func(), err error) {
	if err = w.bad(); err != nil {
		return nil, nil, nil, err
	}
	if p, err = load(path); err != nil {
		return nil, nil, nil, err
	}
	within, done = context.WithTimeout(ctx, w.time())
	return p, within, done, nil
}

func (w *checkWish) time() time.Duration { return time.Duration(w.seconds * float64(time.Second)) }

func (w *checkWish) budget() proof.Budget { return proof.Budget{Bytes: w.memory << 20} }
