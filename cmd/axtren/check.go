package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"

	"github.com/spf13/cobra"

	"axtren/core/check"
	"axtren/core/edit"
	"axtren/core/setup"
)

// errFound ends a check that has something to say: exit code 1.
var errFound = errors.New("there is something to look at")

func checkCommand() *cobra.Command {
	asJSON := false
	cmd := &cobra.Command{
		Use:   "check SETUP",
		Short: "List what is wrong, or worth a second look, in a setup",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return runCheck(cmd.OutOrStdout(), args[0], asJSON)
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON")
	return cmd
}

func runCheck(out io.Writer, path string, asJSON bool) error {
	report, unusable := checked(path)
	if report == nil {
		return unusable
	}
	if asJSON {
		text, err := json.MarshalIndent(report, "", "  ")
		if err != nil {
			return err
		}
		fmt.Fprintf(out, "%s\n", text)
	} else {
		writeReport(out, report)
	}
	if unusable != nil {
		return unusable
	}
	if !report.Clean() {
		return errFound
	}
	return nil
}

// checked gives the report, and an error where the document cannot be used; no
// report where it cannot even be opened.
func checked(path string) (*check.Report, error) {
	doc, err := readSetup(path)
	if err == nil {
		program, playErr := edit.Playable(doc)
		if playErr == nil {
			return check.Check(program), nil
		}
		err = playErr
	}
	var problems setup.Problems
	if !errors.As(err, &problems) {
		return nil, err
	}
	return check.Problems(problems), fmt.Errorf("%s cannot be used", path)
}

func writeReport(out io.Writer, r *check.Report) {
	for _, f := range r.Findings {
		fmt.Fprintf(out, "%-8s %s: %s [%s]\n         %s\n", f.Severity, f.Where, f.Message, f.Rule, f.Remedy)
	}
	for _, c := range r.Claims {
		fmt.Fprintf(out, "claim    %s: %s, it is not searched yet\n", c.ID, c.Verdict)
	}
	if r.Clean() {
		fmt.Fprintln(out, "nothing to look at")
	}
}
