package main

import (
	"fmt"
	"io"
	"os"
	"strings"

	"github.com/spf13/cobra"

	"axtren/core/diagnose"
	"axtren/core/signal"
	"axtren/core/words"
)

func diagnoseCommand() *cobra.Command {
	seen, wish, asJSON := "", diagnose.Wish{Most: diagnose.Most}, false
	cmd := &cobra.Command{
		Use:   "diagnose SETUP --seen O.json",
		Short: "Name every smallest set of faults that explains what was seen of a model",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return runDiagnose(cmd.OutOrStdout(), args[0], seen, wish, asJSON)
		},
	}
	cmd.Flags().StringVar(&seen, "seen", "", "what was tried and seen, as JSON")
	cmd.Flags().IntVar(&wish.Most, "most", diagnose.Most, "how many faults at once are thought of")
	cmd.Flags().BoolVar(&wish.Wide, "wide", false, "think of more: a feel or what is shared not keyed in, a "+
		"channel that nothing is on, a mix the wrong way round, a neutral learned off")
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON")
	if err := cmd.MarkFlagRequired("seen"); err != nil {
		panic(err) // it is one of the flags
	}
	return cmd
}

func runDiagnose(out io.Writer, path, seen string, wish diagnose.Wish, asJSON bool) error {
	if wish.Most < 0 || wish.Most > 4 {
		return fmt.Errorf("--most %d: use 0 to 4", wish.Most)
	}
	p, err := load(path)
	if err != nil {
		return err
	}
	file, err := os.Open(seen)
	if err != nil {
		return fmt.Errorf("--seen: %w", err)
	}
	defer file.Close()
	wish.Ask = !asJSON
	looks, err := diagnose.ReadLooks(file)
	if err == nil {
		var answer *diagnose.Answer
		if answer, err = diagnose.Diagnose(p, looks, wish); err == nil {
			return writeDiagnosis(out, p, answer, asJSON)
		}
	}
	return fmt.Errorf("%s cannot be used:\n%w", seen, err)
}

func writeDiagnosis(out io.Writer, p *signal.Program, a *diagnose.Answer, asJSON bool) error {
	if asJSON {
		if err := writeJSON(out, a); err != nil {
			return err
		}
	} else {
		writeCauses(out, p, a)
	}
	if len(a.Causes) == 0 {
		return errFound
	}
	return nil
}

func writeCauses(out io.Writer, p *signal.Program, a *diagnose.Answer) {
	s := p.Setup()
	switch {
	case len(a.Causes) == 0:
		fmt.Fprintf(out, "Nothing explains it, with %s at most.\n", words.Count(a.Most, "fault", "faults"))
	case len(a.Causes[0]) == 0:
		fmt.Fprintln(out, "Nothing is wrong: what was seen is what this setup does.")
	}
	for _, set := range diagnose.Likeliest(a.Causes) {
		var wrong, mends []string
		for i := range set {
			says, mend := set[i].Says(s)
			wrong, mends = append(wrong, says), append(mends, mend)
		}
		if len(set) > 0 {
			fmt.Fprintf(out, "%s. To mend it, %s.\n", words.Capital(words.And(wrong)), words.And(mends))
		}
	}
	sights := diagnose.SightsOf(p)
	for _, d := range a.Doubts {
		label, saw, would := sights.Doubt(s, &d)
		fmt.Fprintf(out, "It would make sense if in look %d %s were seen otherwise: %s, and not %s. Look again.\n",
			d.Look+1, label, strings.Join(would, ", or "), saw)
	}
	if a.Next != nil {
		does, _ := diagnose.HandsSay(p, a.Next.Hands)
		if len(a.Causes) == 1 {
			fmt.Fprintf(out, "To see most of what may still be hidden, %s, and look.\n", words.And(does))
		} else {
			fmt.Fprintf(out, "To tell these apart, %s, and look: %s left at most.\n", words.And(does),
				words.Count(a.Next.LeavesAtMost, "is", "are"))
		}
	}
	if !a.Complete {
		fmt.Fprintln(out, "There may be more: not every set was played.")
	}
}
