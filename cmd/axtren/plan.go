package main

import (
	"fmt"
	"io"
	"os"

	"github.com/spf13/cobra"

	"axtren/core/plan"
	"axtren/core/setup"
	"axtren/core/wiring"
	"axtren/core/words"
)

func planCommand() *cobra.Command {
	asJSON, svg, dot := false, "", ""
	cmd := &cobra.Command{
		Use:   "plan SETUP",
		Short: "Say which function goes on which control, channel and pin, proved best",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return runPlan(cmd.OutOrStdout(), args[0], asJSON, map[string]drawing{svg: wiring.SVG, dot: wiring.DOT})
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON")
	cmd.Flags().StringVar(&svg, "svg", "", "also draw the leads into this file, as SVG")
	cmd.Flags().StringVar(&dot, "dot", "", "also write the leads into this file, as a graph in DOT")
	return cmd
}

// drawing is a way to write the leads of a setup.
type drawing func(s *setup.Setup) string

func runPlan(out io.Writer, path string, asJSON bool, files map[string]drawing) error {
	doc, err := readSetup(path)
	if err != nil {
		return err
	}
	for name, draw := range files {
		if name == "" {
			continue
		}
		if err := os.WriteFile(name, []byte(draw(doc.Setup)), 0o644); err != nil {
			return err
		}
	}
	made, err := plan.Make(doc.Setup, nil)
	if err != nil {
		return err
	}
	next, err := plan.Next(doc.Setup, nil)
	if err != nil {
		return err
	}
	if asJSON {
		if err := writeJSON(out, struct {
			*plan.Plan
			Levels []string    `json:"levels"`
			Next   *plan.Other `json:"next"`
		}{made, plan.Levels(), next}); err != nil {
			return err
		}
	} else {
		writePlan(out, made, next)
	}
	if !made.Met || !made.Proved {
		return errFound
	}
	return nil
}

func writePlan(out io.Writer, p *plan.Plan, next *plan.Other) {
	for i := range p.Functions {
		f := &p.Functions[i]
		fmt.Fprintf(out, "%s: channel %d", f.Label, f.Channel)
		for _, l := range f.Leads {
			fmt.Fprintf(out, ", %s", l.Label)
		}
		fmt.Fprintf(out, ". %s\n", sentences(f.Why))
	}
	for i := range p.Hands {
		h := &p.Hands[i]
		fmt.Fprintf(out, "%s moves %s. %s\n", h.Label, words.And(h.Moves), sentences(h.Why))
	}
	for _, c := range p.Cost {
		if c.Level != plan.Levels()[plan.Order] {
			fmt.Fprintf(out, "It costs %s of %s: %s.\n", words.Count(c.Points, "point", "points"), c.Level, c.Says)
		}
	}
	for _, a := range p.Conflict {
		fmt.Fprintf(out, "Not together: %s. To free it: %s.\n", a.Says, a.Free)
	}
	for _, c := range p.Changes {
		fmt.Fprintf(out, "To do: %s.\n", c.Says)
	}
	if next != nil {
		fmt.Fprintf(out, "The next best: %s.\n", next.Says)
	}
}

// sentences joins sentences that have no stop yet.
func sentences(list []string) string {
	said := ""
	for _, one := range list {
		said += words.Capital(one) + ". "
	}
	return said
}
