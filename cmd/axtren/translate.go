package main

import (
	"context"
	"fmt"
	"io"
	"maps"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/translate"
)

// translateReport is the logic of a setup in the entries of its transmitter.
type translateReport struct {
	Same      bool              `json:"same"`
	Undecided any               `json:"undecided"` // false, or how far it got
	RestsOn   []string          `json:"rests_on"`
	Entries   []translate.Entry `json:"entries"`
	StandsFor map[setup.ID]int  `json:"stands_for"`
	Fewest    bool              `json:"fewest"`
	Script    string            `json:"script"` // empty where they are the same
}

func translateCommand() *cobra.Command {
	var wish checkWish
	var entries int
	cmd := &cobra.Command{
		Use:   "translate SETUP",
		Short: "Bring its logic into the entries of its transmitter, and prove that they do the same",
		Long: "Translate writes the rules of a setup as numbered entries, as transmitter.can.logic " +
			"says that they\n" +
			"are run, and proves that each equals the rule that it stands for, or shows where it does not.\n\n" +
			"Exit codes: 0 they do the same, 1 they do not, or it is undecided, 2 the setup cannot be used.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return runTranslate(cmd.Context(), cmd.OutOrStdout(), args[0], entries, wish)
		},
	}
	cmd.Flags().IntVar(&entries, "entries", -1, "how many entries there are; left out: as the setup says")
	wish.flags(cmd)
	return cmd
}

func runTranslate(ctx context.Context, out io.Writer, path string, entries int, wish checkWish) error {
	if err := wish.bad(); err != nil {
		return err
	}
	if entries < -1 || entries > mostEntries {
		return fmt.Errorf("--entries %d: use 0 to %d", entries, mostEntries)
	}
	doc, err := readSetup(path)
	if err != nil {
		return err
	}
	ctx, cancel := context.WithTimeout(ctx, wish.time())
	defer cancel()
	budget := translate.Budget{Budget: wish.budget(), Tried: translate.Usual.Tried}
	answer, err := translate.Translate(ctx, doc.Setup, translate.SetOf(doc.Setup, entries), budget)
	if err != nil {
		return fmt.Errorf("%s cannot be played: %w", path, err)
	}
	if wish.json {
		report := translateReport{answer.Same, undecided(answer.Undecided), answer.RestsOn,
			answer.Entries, answer.StandsFor,
			answer.Fewest,
			answer.Script()}
		err = writeJSON(out, report)
	} else {
		writeTranslation(out, doc.Setup, answer)
	}
	if err == nil && !answer.Same {
		return errFound
	}
	return err
}

// mostEntries is more than any transmitter has.
const mostEntries = 1024

func writeTranslation(out io.Writer, s *setup.Setup, a *translate.Answer) {
	for i := range a.Entries {
		fmt.Fprintln(out, a.Entries[i].Says(s))
	}
	for _, id := range slices.Sorted(maps.Keys(a.StandsFor)) {
		fmt.Fprintf(out, "%s is entry %d.\n", s.Named(id), a.StandsFor[id])
	}
	for _, left := range a.Left {
		fmt.Fprintln(out, left+".")
	}
	switch {
	case a.Undecided != "":
		fmt.Fprintln(out, "It is not proved that they do the same: "+a.Undecided+".")
		return
	case !a.Same:
		fmt.Fprintln(out, "They do not do the same. To see it:")
		for _, line := range proof.Moves(s, a.Rows) {
			fmt.Fprintln(out, line)
		}
		fmt.Fprintf(out, "%g s after power-on they differ.\n", proof.Seconds(a.Frame, s))
		return
	}
	said := "They do the same, whatever hands do"
	if a.Fewest {
		said += "; none does it with fewer"
	}
	fmt.Fprintln(out, said+".")
	if len(a.RestsOn) > 0 {
		fmt.Fprintln(out, "That rests on what is not known of the transmitter: "+strings.Join(a.RestsOn, ", ")+".")
	}
	if plain := a.Tell(s).Plain; len(plain) > 0 {
		fmt.Fprintln(out, "Keyed in one by one as they stand, they would not do the same:")
		for _, line := range plain {
			fmt.Fprintln(out, line)
		}
	}
}
