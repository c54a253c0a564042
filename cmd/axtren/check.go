package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"axtren/core/check"
	"axtren/core/edit"
	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/words"
)

// errFound ends a check that has something to say: exit code 1.
var errFound = errors.New("there is something to look at")

// errUndecided ends a check of one claim that could not be decided: exit code 3.
var errUndecided = errors.New("it could not be decided")

// claimReport is what a check says of a document.
type claimReport struct {
	Findings []check.Finding `json:"findings"`
	Claims   []proof.Verdict `json:"claims"`
}

// checkWish is what a search is asked for.
type checkWish struct {
	json    bool
	claim   string  // only this one; empty: findings and all claims
	seconds float64 // for all claims together
	memory  int     // MiB
}

func checkCommand() *cobra.Command {
	var wish checkWish
	cmd := &cobra.Command{
		Use:   "check SETUP",
		Short: "List what is wrong, or worth a second look, in a setup, and prove its claims",
		Long: "Check lists findings and decides every claim: it holds, which is proved for " +
			"everything that hands and\n" +
			"signal can do, or it fails, and the fewest movements that show it are listed.\n\n" +
			"Exit codes: 0 nothing to look at, 1 findings, or claims that fail or are undecided, 2 " +
			"the setup cannot\n" +
			"be used. With --claim only that claim counts: 0 it holds, 1 it fails, 3 it is undecided.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return runCheck(cmd.Context(), cmd.OutOrStdout(), args[0], wish)
		},
	}
	cmd.Flags().StringVar(&wish.claim, "claim", "", "decide this claim alone, by its id")
	wish.flags(cmd)
	return cmd
}

func runCheck(ctx context.Context, out io.Writer, path string, wish checkWish) error {
	if err := wish.bad(); err != nil {
		return err
	}
	report, s, unusable := checked(path)
	if report == nil {
		return unusable
	}
	if unusable == nil {
		if err := prove(ctx, report, s, wish); err != nil {
			return err
		}
	}
	if wish.json {
		if err := writeJSON(out, report); err != nil {
			return err
		}
	} else {
		writeReport(out, report, s)
	}
	switch {
	case unusable != nil:
		return unusable
	case wish.claim != "" && report.Claims[0].Verdict == proof.Undecided:
		return errUndecided
	case !report.clean():
		return errFound
	}
	return nil
}

// prove decides the claims that are asked for. Each gets an even share of the time that is left.
func prove(ctx context.Context, report *claimReport, s *setup.Setup, wish checkWish) error {
	var claims []int
	for i := range s.Claims {
		if wish.claim == "" || string(s.Claims[i].ID) == wish.claim {
			claims = append(claims, i)
		}
	}
	if wish.claim != "" {
		if len(claims) == 0 {
			return fmt.Errorf("--claim %s: there is no claim of that id; use one of %s", wish.claim, claimIDs(s))
		}
		report.Findings = []check.Finding{}
	}
	end := time.Now().Add(wish.time())
	for n, i := range claims {
		share := time.Until(end) / time.Duration(len(claims)-n)
		one, cancel := context.WithTimeout(ctx, share)
		report.Claims = append(report.Claims, proof.Decide(one, s, i, wish.budget()))
		cancel()
	}
	return nil // stopped by hand, what is left is undecided
}

func claimIDs(s *setup.Setup) string {
	var ids []string
	for i := range s.Claims {
		ids = append(ids, string(s.Claims[i].ID))
	}
	return strings.Join(ids, ", ")
}

func (r *claimReport) clean() bool {
	for _, v := range r.Claims {
		if v.Verdict != proof.Holds {
			return false
		}
	}
	return len(r.Findings) == 0
}

// checked gives the report without its claims, and an error where the document cannot be used; no report
// where it cannot even be opened.
func checked(path string) (*claimReport, *setup.Setup, error) {
	report := &claimReport{Claims: []proof.Verdict{}}
	doc, err := readSetup(path)
	if err == nil {
		program, playErr := edit.Playable(doc)
		if playErr == nil {
			report.Findings = check.Check(program).Findings
			return report, doc.Setup, nil
		}
		err = playErr
	}
	var problems setup.Problems
	if !errors.As(err, &problems) {
		return nil, nil, err
	}
	report.Findings = check.Problems(problems).Findings
	return report, nil, fmt.Errorf("%s cannot be used", path)
}

func writeReport(out io.Writer, r *claimReport, s *setup.Setup) {
	for _, f := range r.Findings {
		fmt.Fprintf(out, "%-8s %s: %s [%s]\n         %s\n", f.Severity, f.Where, f.Message, f.Rule, f.Remedy)
	}
	for i := range r.Claims {
		writeVerdict(out, s, &r.Claims[i])
	}
	if r.clean() {
		fmt.Fprintln(out, "nothing to look at")
	}
}

// writeVerdict says what was found out about a claim.
func writeVerdict(out io.Writer, s *setup.Setup, v *proof.Verdict) {
	claim := &s.Claims[s.Item(v.Claim).Index]
	fmt.Fprintf(out, "%-9s %s: %s\n", v.Verdict, s.Label(s.Item(v.Claim)), words.Claim(s, claim))
	for _, line := range proof.Says(s, claim, v) {
		fmt.Fprintf(out, "          %s\n", line)
	}
}
