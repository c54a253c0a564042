package main

import (
	"context"
	"fmt"
	"io"
	"strconv"

	"github.com/spf13/cobra"

	"axtren/core/bench"
	"axtren/core/proof"
	"axtren/core/setup"
)

// walkReport is a walk as a script with moments to look.
type walkReport struct {
	Script string       `json:"script"`
	Looks  []lookReport `json:"looks"`
	Faults faultsReport `json:"faults"`
	Fewest any          `json:"fewest"` // a number, or "at least n"
}

// lookReport is a moment in which a person looks.
type lookReport struct {
	T       float64             `json:"t_s"`
	Display map[string]float64  `json:"display"` // of each channel, whole percent
	Devices map[setup.ID]string `json:"devices"` // what each is seen to do
}

// faultsReport tells how many single faults are seen.
type faultsReport struct {
	Of      int           `json:"of"`
	Seen    int           `json:"seen"`
	NotSeen []hiddenFault `json:"not_seen"`
}

// hiddenFault is a fault that no look shows.
type hiddenFault struct {
	Kind  string   `json:"kind"`
	Where []string `json:"where"`
	Why   string   `json:"why"`
}

func walkCommand() *cobra.Command {
	var wish checkWish
	whole := false
	cmd := &cobra.Command{
		Use:   "walk SETUP",
		Short: "Find the fewest looks on the bench at which every single fault would be seen",
		Long: "Walk puts sticks and switches so that every single fault of a setup would be seen, on a display " +
			"or\non the model, at as few looks as it finds, with the signal lost and back among them, and never " +
			"where\nwhat must hold is broken. For a person it says one step after the other, with the power " +
			"switched\noff and on; with --json it is a script with its looks.\n\n" +
			"Exit codes: 0 there is a walk, 2 the setup cannot be used.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return runWalk(cmd.Context(), cmd.OutOrStdout(), args[0], wish, whole)
		},
	}
	wish.flags(cmd)
	cmd.Flags().BoolVar(&whole, "whole", false, "for a person: every control alone to each of its ends too")
	return cmd
}

func runWalk(ctx context.Context, out io.Writer, path string, wish checkWish, whole bool) error {
	p, ctx, done, err := wish.begin(ctx, path)
	if err != nil {
		return err
	}
	defer done()
	s := p.Setup()
	if wish.json {
		walk, err := bench.Find(ctx, s, wish.budget())
		if err != nil {
			return err
		}
		return writeJSON(out, reportOf(s, walk))
	}
	steps, err := bench.Steps(ctx, s, bench.Wish{Whole: whole}, wish.budget())
	if err != nil {
		return err
	}
	writeSteps(out, s, steps)
	return nil
}

// reportOf writes a walk as another program plays it.
func reportOf(s *setup.Setup, walk *bench.Walk) walkReport {
	r := walkReport{Script: proof.Script(walk.Rows), Looks: []lookReport{},
		Faults: faultsReport{Of: len(walk.Faults), NotSeen: []hiddenFault{}},
		Fewest: fmt.Sprintf("at least %d", walk.Least)}
	if len(walk.Looks) == walk.Least {
		r.Fewest = walk.Least
	}
	for i := range walk.Looks {
		look := &walk.Looks[i]
		one := lookReport{proof.Seconds(look.Frame, s), map[string]float64{}, map[setup.ID]string{}}
		for o := range s.Outputs {
			one.Display[strconv.Itoa(s.Outputs[o].Channel)] = look.Display[o]
		}
		for d := range s.Devices {
			if bench.Lists(s, d) {
				one.Devices[s.Devices[d].ID] = look.Devices[d]
			}
		}
		r.Looks = append(r.Looks, one)
	}
	for f := range walk.Faults {
		if walk.Seen[f] >= 0 {
			r.Faults.Seen++
			continue
		}
		r.Faults.NotSeen = append(r.Faults.NotSeen, hiddenFault{walk.Faults[f].Kind, walk.Faults[f].Where,
			walk.Why[f]})
	}
	return r
}

// writeSteps says the steps to a person.
func writeSteps(out io.Writer, s *setup.Setup, p *bench.Procedure) {
	for _, line := range p.Safe {
		fmt.Fprintln(out, line)
	}
	for _, line := range p.Taught {
		fmt.Fprintln(out, line)
	}
	for n := range p.Steps {
		step := &p.Steps[n]
		fmt.Fprintf(out, "\n%d.", n+1)
		for _, line := range step.Does {
			fmt.Fprint(out, " ", line)
		}
		fmt.Fprintln(out)
		for _, part := range step.Parts {
			fmt.Fprintf(out, "   %s: %s", part.Label, part.Should)
			if part.Channel > 0 {
				fmt.Fprintf(out, "; channel %d reads %s", part.Channel, part.Display)
			}
			fmt.Fprintln(out, ".")
		}
		if step.Rest != "" {
			fmt.Fprintln(out, "  ", step.Rest)
		}
	}
	fmt.Fprintln(out)
	for _, line := range p.Walk.Says(s) {
		fmt.Fprintln(out, line)
	}
}
