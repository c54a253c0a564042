package mixing

import (
	"fmt"
	"math"

	"axtren/core/setup"
	"axtren/core/words"
)

// Recipe says how a set with other means has the same keyed in.
type Recipe struct {
	Title string   `json:"title"`
	Steps []string `json:"steps"`
}

// recipes says the same result three ways: with a ready mode, with two linear
// mixes, with two levers.
func recipes(s *setup.Setup, p *Pair, a, b int) []Recipe {
	c := &p.Choice
	if c.Way == Own {
		return []Recipe{}
	}
	first, second := s.Outputs[a].Channel, s.Outputs[b].Channel
	percent := func(v float64) string { return words.SignedShort(v) + " percent" }
	turned := func(on bool) string {
		if on {
			return words.Reversed(true)
		}
		return words.Reversed(false)
	}
	if p.Kind == Axles {
		return axleRecipes(s, p, first, second)
	}
	if c.Way == Levers {
		return []Recipe{
			{"With a ready mode", []string{"Leave it off: the mode would take both channels to one stick."}},
			{"With two linear mixes", []string{"None is needed: both mixes stay off."}},
			{"With two levers", []string{
				fmt.Sprintf("Channel %d on %s, rate %s.", first, name(s, c.Left), percent(c.LeverGain)),
				fmt.Sprintf("Channel %d on %s, rate %s.", second, name(s, c.Right), percent(c.LeverGain)),
			}},
		}
	}
	// the levers are added to what each channel carries: one that carries its sum turned
	// round gets its lever turned round too
	levers := func(ofSecond float64) string {
		if c.Way != Both {
			return ""
		}
		return fmt.Sprintf(" Then two more mixes: %s to channel %d, %s; %s to channel %d, %s.",
			onChannel(s, c.Left), first, percent(c.LeverGain), onChannel(s, c.Right), second, percent(ofSecond))
	}
	return []Recipe{
		{"With a ready mode", []string{
			fmt.Sprintf("Switch on the mode that drives two channels from one stick, for channels %d and "+
				"%d, drive on %s, turn on %s.", first, second, name(s, c.Drive), name(s, c.Turn)),
			fmt.Sprintf("Drive %s, turn %s.%s", percent(c.DriveGain), percent(c.TurnGain),
				levers(c.LeverGain)),
			"What the mode does with more than there is, is its own affair: push both ways at once and see " +
				"which of the three pictures it is.",
			fmt.Sprintf("Where it turns the wrong way, the mode feeds the opposite leads: give it turn %s. Where it "+
				"takes no figure below 0, exchange the plugs of channels %d and %d, and with them what is keyed in of "+
				"both, direction and ends.", percent(-c.TurnGain), first, second),
		}},
		{"With two linear mixes", []string{
			fmt.Sprintf("Channel %d on %s, rate %s. Channel %d on %s, rate %s.", first, name(s, c.Drive),
				percent(c.DriveGain), second, name(s, c.Turn), percent(c.TurnGain)),
			fmt.Sprintf("Mix channel %d to channel %d, %s of the stick; mix channel %d to channel %d, %s "+
				"of the stick.%s", second, first, percent(c.TurnGain), first, second, percent(-c.DriveGain),
				levers(-c.LeverGain)),
			fmt.Sprintf("Channel %d %s: it carries turn less drive.", second, turned(!s.Outputs[b].Reverse)),
			"Where this transmitter feeds the second mix from what the first has mixed already, one side " +
				"never " +
				"turns with the stick: push turn alone and see. Then take the mixes from the sticks instead.",
		}},
		{"With two levers", []string{
			fmt.Sprintf("Channel %d on the left lever, channel %d on the right one, both mixes off.", first,
				second),
			fmt.Sprintf("The hand mixes: left lever at %s, right lever at %s.", leverSum(c, c.TurnGain),
				leverSum(c, -c.TurnGain)),
			fmt.Sprintf("Channel %d %s, channel %d %s, as in this document.", first,
				turned(s.Outputs[a].Reverse), second, turned(s.Outputs[b].Reverse)),
		}},
	}
}

// onChannel names a source, with the channel that its control is on by itself.
func onChannel(s *setup.Setup, ref string) string {
	if i := s.ControlBehind(setup.Value{Ref: ref}); i >= 0 && s.Transmitter.Controls[i].OwnChannel > 0 {
		return fmt.Sprintf("%s (channel %d)", name(s, ref), s.Transmitter.Controls[i].OwnChannel)
	}
	return name(s, ref)
}

func leverSum(c *Choice, turn float64) string {
	sign := "+"
	if turn < 0 {
		sign = "−"
	}
	return fmt.Sprintf("%s drive %s %s turn", words.Figure(c.DriveGain/100), sign,
		words.Figure(math.Abs(turn)/100))
}

func axleRecipes(s *setup.Setup, p *Pair, first, second int) []Recipe {
	c := &p.Choice
	percent := func(v float64) string { return words.SignedShort(v) + " percent" }
	if c.Way == Levers {
		return []Recipe{
			{"With a ready mode", []string{"Leave four-wheel steering off."}},
			{"With two levers", []string{fmt.Sprintf("Channel %d on %s, channel %d on %s.", first,
				name(s, c.Left), second, name(s, c.Right))}},
		}
	}
	with := "with the front ones"
	if c.TurnGain < 0 {
		with = "against the front ones"
	}
	more := ""
	if c.Way == Both {
		more = fmt.Sprintf(" and one from %s, %s", name(s, c.Right), percent(c.LeverGain))
	}
	return []Recipe{
		{"With a ready mode",
			[]string{fmt.Sprintf("Switch on four-wheel steering, rear wheels %s, rear rate %s.", with,
				percent(math.Abs(c.TurnGain)))}},
		{"With linear mixes", []string{fmt.Sprintf("Channel %d on %s; a mix from it to channel %d, %s%s.",
			first, name(s, c.Turn), second, percent(c.TurnGain), more)}},
		{"With two levers",
			[]string{fmt.Sprintf("Channel %d on one lever, channel %d on another; the hand moves both.",
				first, second)}},
	}
}
