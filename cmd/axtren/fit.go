package main

import (
	"fmt"
	"io"
	"slices"

	"github.com/spf13/cobra"

	"axtren/core/edit"
	"axtren/core/kit"
	"axtren/core/words"
)

func fitCommand() *cobra.Command {
	asJSON := false
	cmd := &cobra.Command{
		Use:   "fit SETUP",
		Short: "List what the transmitter of a setup cannot do, with the nearest way that it can",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return runFit(cmd.OutOrStdout(), args[0], asJSON)
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON")
	return cmd
}

func runFit(out io.Writer, path string, asJSON bool) error {
	doc, err := readSetup(path)
	if err != nil {
		return err
	}
	p, err := edit.Playable(doc)
	if err != nil {
		return err
	}
	list := slices.AppendSeq([]kit.Unfit{}, kit.Fit(doc, p))
	if asJSON {
		if err := writeJSON(out, struct {
			Fits  bool        `json:"fits"`
			Known bool        `json:"known"`
			List  []kit.Unfit `json:"cannot"`
		}{len(list) == 0, doc.Setup.Transmitter.Can != nil, list}); err != nil {
			return err
		}
	} else {
		writeFit(out, list, doc.Setup.Transmitter.Can != nil)
	}
	if len(list) > 0 {
		return errFound
	}
	return nil
}

func writeFit(out io.Writer, list []kit.Unfit, known bool) {
	switch {
	case !known:
		fmt.Fprintln(out, "Nothing is known of what this transmitter can do.")
	case len(list) == 0:
		fmt.Fprintln(out, "This transmitter can do all of it, as far as is known.")
	}
	for i := range list {
		one := &list[i]
		fmt.Fprintf(out, "%s: %s.\n", one.Where, words.Capital(one.Says))
		for k := range one.Ways {
			fmt.Fprintf(out, "    %s.\n", one.Ways[k].Text())
		}
		switch {
		case !one.Sought:
			fmt.Fprintf(out, "    Ways are sought once there is less before it. To do: %s.\n", one.Remedy)
		case len(one.Ways) == 0:
			fmt.Fprintf(out, "    No way was found that does without. To do: %s.\n", one.Remedy)
		}
	}
}
