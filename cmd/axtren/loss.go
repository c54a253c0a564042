package main

import (
	"context"
	"fmt"
	"io"
	"os"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"axtren/core/loss"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// lossReport is where the devices stand after a lost signal, over every moment of a run.
type lossReport struct {
	Cuts    int                   `json:"cuts"`
	Devices map[string]lossSpread `json:"devices"`
}

// lossSpread is between which values a device stands, and after which cuts.
type lossSpread struct {
	Least     float64 `json:"least"`
	LeastCutS float64 `json:"least_cut_s"`
	Most      float64 `json:"most"`
	MostCutS  float64 `json:"most_cut_s"`
}

// lossWish is what a drill is asked for.
type lossWish struct {
	script  string
	seconds float64 // negative: 2 s beyond the last row
	after   float64
	json    bool
}

func lossCommand() *cobra.Command {
	wish := lossWish{seconds: -1}
	cmd := &cobra.Command{
		Use:   "loss SETUP --script S.csv",
		Short: "Cut the signal in every frame of a run, and tell where each device then stands",
		Long: "Loss plays a script once for every frame from its second to its last, with the link down from\n" +
			"that frame on, and looks at each device a while after its receiver has done what it does then.\n\n" +
			"Exit codes: 0 done, 2 something cannot be used.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if err := badLength(cmd, wish.seconds); err != nil {
				return err
			}
			if !(wish.after >= 0 && wish.after <= loss.MostAfterS) {
				return fmt.Errorf("--after %g: must be 0 to %g seconds", wish.after, loss.MostAfterS)
			}
			return runLoss(cmd.Context(), cmd.OutOrStdout(), args[0], wish)
		},
	}
	cmd.Flags().StringVar(&wish.script, "script", "", "script with the columns t_s,control,value; "+
		"its rows of the link are left out")
	cmd.Flags().Float64Var(&wish.seconds, "for", wish.seconds,
		"how many seconds to play (default: 2 s beyond the last row)")
	cmd.Flags().Float64Var(&wish.after, "after", 1,
		"how many seconds after the loss is acted on to look")
	cmd.Flags().BoolVar(&wish.json, "json", false, "print JSON")
	return cmd
}

func runLoss(ctx context.Context, out io.Writer, path string, wish lossWish) error {
	p, err := load(path)
	if err != nil {
		return err
	}
	script, closeScript, err := openScript(wish.script, p)
	if err != nil {
		return err
	}
	defer closeScript()
	rows, err := script.Rows()
	if err != nil {
		return fmt.Errorf("%s: %w", wish.script, err)
	}
	next := time.Now().Add(time.Second)
	d, err := loss.Every(ctx, p, loss.Wish{Rows: rows, ForS: wish.seconds, AfterS: wish.after,
		Seen: func(cuts, of int) {
			if now := time.Now(); now.After(next) {
				next = now.Add(time.Second)
				fmt.Fprintf(os.Stderr, "axtren: %d of %d cuts played\n", cuts, of)
			}
		}})
	if err != nil {
		return fmt.Errorf("stopped: %w", err)
	}
	if wish.json {
		return writeJSON(out, lossOf(p, d))
	}
	writeLoss(out, p.Setup(), d)
	return nil
}

func lossOf(p *signal.Program, d *loss.Drill) lossReport {
	report := lossReport{d.Cuts, map[string]lossSpread{}}
	for i, one := range d.Devices {
		if one.Known {
			report.Devices[string(p.Setup().Devices[i].ID)] = lossSpread{one.Least, one.LeastS, one.Most, one.MostS}
		}
	}
	return report
}

// writeLoss says a drill, a line a device.
func writeLoss(out io.Writer, s *setup.Setup, d *loss.Drill) {
	fmt.Fprintf(out, "The signal was cut in %s.\n", words.Count(d.Cuts, "frame", "frames"))
	width := 0
	for i := range s.Devices {
		width = max(width, len([]rune(s.DeviceLabel(i))))
	}
	for i, one := range d.Devices {
		if !one.Known {
			continue
		}
		name := s.DeviceLabel(i)
		fmt.Fprintf(out, "%s%s  %s\n", name, strings.Repeat(" ", width-len([]rune(name))), spreadWords(&one))
	}
}

// spreadWords says between which values something stands.
func spreadWords(one *loss.Spread) string {
	if one.Least == one.Most {
		return "always " + words.SignedShort(one.Least)
	}
	return fmt.Sprintf("%s (cut at %g s) to %s (cut at %g s)", words.SignedShort(one.Least), one.LeastS,
		words.SignedShort(one.Most), one.MostS)
}
