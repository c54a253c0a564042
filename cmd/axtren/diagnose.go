package main

import (
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"os"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"axtren/core/diagnose"
	"axtren/core/edit"
	"axtren/core/setup"
	"axtren/core/words"
)

func diagnoseCommand() *cobra.Command {
	seen, most, asJSON := "", diagnose.Most, false
	cmd := &cobra.Command{
		Use:   "diagnose SETUP --seen O.json",
		Short: "Name every smallest set of faults that explains what was seen of a model",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return runDiagnose(cmd.OutOrStdout(), args[0], seen, most, asJSON)
		},
	}
	cmd.Flags().StringVar(&seen, "seen", "", "what was tried and seen, as JSON")
	cmd.Flags().IntVar(&most, "most", diagnose.Most, "how many faults at once are thought of")
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON")
	if err := cmd.MarkFlagRequired("seen"); err != nil {
		panic(err) // it is one of the flags
	}
	return cmd
}

func runDiagnose(out io.Writer, path, seen string, most int, asJSON bool) error {
	if most < 0 || most > 4 {
		return fmt.Errorf("--most %d: use 0 to 4", most)
	}
	doc, err := readSetup(path)
	if err != nil {
		return err
	}
	p, err := edit.Playable(doc)
	if err != nil {
		return err
	}
	file, err := os.Open(seen)
	if err != nil {
		return fmt.Errorf("--seen: %w", err)
	}
	defer file.Close()
	looks, err := diagnose.ReadLooks(file)
	if err == nil {
		var answer *diagnose.Answer
		if answer, err = diagnose.Diagnose(p, looks, most); err == nil {
			return writeDiagnosis(out, doc.Setup, answer, asJSON)
		}
	}
	return fmt.Errorf("%s cannot be used:\n%w", seen, err)
}

func writeDiagnosis(out io.Writer, s *setup.Setup, a *diagnose.Answer, asJSON bool) error {
	if asJSON {
		text, err := json.MarshalIndent(a, "", "  ")
		if err != nil {
			return err
		}
		fmt.Fprintf(out, "%s\n", text)
	} else {
		writeCauses(out, s, a)
	}
	if len(a.Causes) == 0 {
		return errFound
	}
	return nil
}

func writeCauses(out io.Writer, s *setup.Setup, a *diagnose.Answer) {
	switch {
	case len(a.Causes) == 0:
		fmt.Fprintf(out, "Nothing explains it, with %s at most.\n", words.Count(a.Most, "fault", "faults"))
	case len(a.Causes[0]) == 0:
		fmt.Fprintln(out, "Nothing is wrong: what was seen is what this setup does.")
	}
	for _, set := range a.Causes {
		var wrong, mends []string
		for i := range set {
			says, mend := set[i].Says(s)
			wrong, mends = append(wrong, says), append(mends, mend)
		}
		if len(set) > 0 {
			fmt.Fprintf(out, "%s. To mend it, %s.\n", words.Capital(words.And(wrong)), words.And(mends))
		}
	}
	if a.Next != nil {
		var hands []string
		for _, id := range slices.Sorted(maps.Keys(a.Next.Hands)) {
			hands = append(hands, fmt.Sprintf("%s to %v", s.Named(setup.ID(id)), a.Next.Hands[id]))
		}
		fmt.Fprintf(out, "To tell these apart, put %s, and look: %s left at most.\n", strings.Join(hands, " and "),
			words.Count(a.Next.LeavesAtMost, "is", "are"))
	}
	if !a.Complete {
		fmt.Fprintln(out, "There may be more: not every set was played.")
	}
}
