package main

import (
	"context"
	"fmt"
	"io"

	"github.com/spf13/cobra"

	"axtren/core/loss"
	"axtren/core/proof"
	"axtren/core/setup"
)

// startReport is the start check with the fewest entries.
type startReport struct {
	Possible  bool        `json:"possible"`
	Entries   []startedAt `json:"entries"`
	Fewest    bool        `json:"fewest"`
	Undecided any         `json:"undecided"` // false, or how far it got
}

// startedAt is an entry of a start check, as a document has it.
type startedAt struct {
	Control setup.ID `json:"control"`
	Is      any      `json:"is"` // the name of a position, or from and to
}

func startCommand() *cobra.Command {
	var wish checkWish
	cmd := &cobra.Command{
		Use:   "start SETUP",
		Short: "Find the fewest controls that the transmitter has to wait for, so that power-on is safe",
		Long: "Start looks for the fewest entries of a start check under which every claim about " +
			"power-on holds,\n" +
			"whatever was left over; the entries that the setup has do not count.\n\n" +
			"Exit codes: 0 there is such a check, 1 there is none, or it is undecided, 2 the setup cannot be used.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return runStart(cmd.Context(), cmd.OutOrStdout(), args[0], wish)
		},
	}
	wish.flags(cmd)
	return cmd
}

func runStart(ctx context.Context, out io.Writer, path string, wish checkWish) error {
	p, ctx, done, err := wish.begin(ctx, path)
	if err != nil {
		return err
	}
	defer done()
	found := proof.LeastStart(ctx, p.Setup(), wish.budget())
	if wish.json {
		report := startReport{found.Possible, []startedAt{}, found.Fewest, undecided(found.Why)}
		for _, e := range found.Entries {
			report.Entries = append(report.Entries, startedAt{e.Control, e.Is.Written()})
		}
		err = writeJSON(out, report)
	} else {
		for _, line := range loss.SaysStart(p.Setup(), &found) {
			fmt.Fprintln(out, line)
		}
	}
	if err == nil && !found.Possible {
		return errFound
	}
	return err
}
