package main

import (
	"fmt"
	"strings"

	"github.com/spf13/cobra"

	"axtren/core/setup"
	"axtren/core/signal"
)

func whyCommand() *cobra.Command {
	var script string
	at := 0.0
	cmd := &cobra.Command{
		Use:   "why SETUP OUTPUT",
		Short: "Print how an output came to its value, joint by joint, from the hand to the pin",
		Args:  cobra.ExactArgs(2),
		RunE: func(cmd *cobra.Command, args []string) error {
			if !(at >= 0 && at <= 1e7) {
				return fmt.Errorf("--at %g: must be 0 to 10000000 seconds", at)
			}
			text, err := why(args[0], args[1], script, at)
			fmt.Fprint(cmd.OutOrStdout(), text)
			return err
		},
	}
	cmd.Flags().StringVar(&script, "script", "", "script with the columns t_s,control,value")
	cmd.Flags().Float64Var(&at, "at", 0, "the frame to explain, in seconds")
	return cmd
}

func why(setupPath, output, scriptPath string, at float64) (string, error) {
	p, err := load(setupPath)
	if err != nil {
		return "", err
	}
	item := p.Setup().Item(setup.ID(output))
	if item.Kind != setup.IsOutput {
		var ids []string
		for _, o := range p.Setup().Outputs {
			ids = append(ids, string(o.ID))
		}
		return "", fmt.Errorf("there is no output %q; use one of %s", output, strings.Join(ids, ", "))
	}
	script, closeScript, err := openScript(scriptPath, p)
	if err != nil {
		return "", err
	}
	defer closeScript()
	var last *signal.State
	if err := p.Run(script, at,
		func(_ float64, st *signal.State) error { last = st; return nil }); err != nil {
		return "", fmt.Errorf("%s: %w", scriptPath, err)
	}
	return explain(p, last, item.Index), nil
}

// explain goes from the hand to every device at the end of output i; to the pins
// where nothing hangs on them, or to the pulse where no pin carries it.
func explain(p *signal.Program, st *signal.State, i int) string {
	if !p.Sending(st) {
		return "the transmitter does not send in this frame\n"
	}
	var text strings.Builder
	for _, pin := range p.Routes[i].Pins {
		hung := false
		for _, k := range p.Setup().OnPin(pin.PinRef) {
			if p.Devices[k].Value != signal.None {
				text.WriteString(p.WhyDevice(st, k).Text())
				hung = true
			}
		}
		if !hung {
			text.WriteString(p.WhyPin(st, pin.PinRef).Text())
		}
	}
	if text.Len() == 0 {
		return p.Why(st, i).Text()
	}
	return text.String()
}
