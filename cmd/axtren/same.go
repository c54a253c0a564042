package main

import (
	"context"
	"fmt"
	"io"

	"github.com/spf13/cobra"

	"axtren/core/same"
	"axtren/core/setup"
)

// sameReport is whether two setups send the same.
type sameReport struct {
	Same      bool   `json:"same"`
	Undecided any    `json:"undecided"` // false, or how far it got
	Script    string `json:"script"`    // empty where they are the same
}

func sameCommand() *cobra.Command {
	var wish checkWish
	cmd := &cobra.Command{
		Use:   "same A B",
		Short: "Tell whether two setups send the same, whatever hands do",
		Long: "Same searches all runs of two setups side by side: on every channel the same pulse in every\n" +
			"frame, or the fewest movements after which they differ. Both need the same controls.\n\n" +
			"Exit codes: 0 they are the same, 1 they differ, or it is undecided, 2 they cannot be compared.",
		Args: cobra.ExactArgs(2),
		RunE: func(cmd *cobra.Command, args []string) error {
			return runSame(cmd.Context(), cmd.OutOrStdout(), args, wish)
		},
	}
	wish.flags(cmd)
	return cmd
}

func runSame(ctx context.Context, out io.Writer, paths []string, wish checkWish) error {
	if err := wish.bad(); err != nil {
		return err
	}
	var docs [2]*setup.Document
	for i, path := range paths {
		doc, err := readSetup(path)
		if err != nil {
			return err
		}
		docs[i] = doc
	}
	ctx, cancel := context.WithTimeout(ctx, wish.time())
	defer cancel()
	answer, err := same.Compare(ctx, docs[0], docs[1], wish.budget())
	if err != nil {
		return fmt.Errorf("%s and %s cannot be compared: %w", paths[0], paths[1], err)
	}
	if wish.json {
		err = writeJSON(out, sameReport{answer.Same, undecided(answer.Undecided), answer.Script()})
	} else {
		for _, line := range answer.Says([2]*setup.Setup{docs[0].Setup, docs[1].Setup},
			[2]string{paths[0], paths[1]}) {
			fmt.Fprintln(out, line)
		}
	}
	if err == nil && !answer.Same {
		return errFound
	}
	return err
}
