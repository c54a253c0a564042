package mixing

import (
	"fmt"

	"axtren/core/setup"
	"axtren/core/words"
)

// Way is a way to drive a pair in words, with the fields of a Choice that it has.
type Way struct {
	Way     string        `json:"way"`
	Words   string        `json:"words"`
	More    string        `json:"more"` // what comes of it
	Sources []SourceField `json:"sources"`
	Gains   []GainField   `json:"gains"`
}

// SourceField is a field of a Choice that names a source: drive, turn, left or right.
type SourceField struct {
	Key   string `json:"key"`
	Words string `json:"words"`
}

// GainField is a field of a Choice that is a number, percent, from Least to Most.
type GainField struct {
	Key   string  `json:"key"`
	Words string  `json:"words"`
	Least float64 `json:"least"`
	Most  float64 `json:"most"`
	Usual float64 `json:"usual"`
	Deep  bool    `json:"deep"` // few need it
}

// Rule is a rule for more than there is, in words.
type Rule struct {
	Rule  string `json:"rule"`
	Words string `json:"words"`
	More  string `json:"more"` // what comes of it
}

// Rules are the rules for more than there is, in the order in which they are shown.
func Rules() []Rule {
	list := make([]Rule, len(words.Rules))
	for i, w := range words.Rules {
		list[i] = Rule{w.Key, words.Capital(w.Name), w.Does}
	}
	return list
}

// ways are those that a pair can be driven in.
func ways(p *Pair) []Way {
	gain := func(key, words string) GainField { return GainField{key, words, -300, 300, 100, false} }
	expo := func(key, words string) GainField { return GainField{key, words, -100, 100, 0, true} }
	drive := gain("drive_gain", "Drive at")
	drive.Deep = true
	levers := []SourceField{{"left", "Lever of " + p.Names[0]}, {"right", "Lever of " + p.Names[1]}}
	lever := gain("lever_gain", "Levers at")
	if p.Kind == Axles {
		stick := []SourceField{{"turn", "Steering"}}
		rear, soft := gain("turn_gain", "Rear wheels at (below 0: against the front)"), expo("turn_soft",
			"Expo of the steering")
		return []Way{
			{OneStick, "One stick for both", "the rear wheels follow the front ones", stick,
				[]GainField{rear, soft}},
			{Levers, "A lever for each", "nothing is mixed", levers, []GainField{lever}},
			{Both, "Both at once", "one stick, and the levers are added", append(stick, levers[1]),
				[]GainField{rear, lever, soft}},
		}
	}
	stick := []SourceField{{"drive", "Drive"}, {"turn", "Turn"}}
	gains := []GainField{drive, gain("turn_gain", "Turn at")}
	soft := []GainField{expo("drive_soft", "Expo of the drive"), expo("turn_soft", "Expo of the turn")}
	return []Way{
		{OneStick, "One stick for both", "drive moves both, turn moves them apart", stick,
			append(gains[:2:2], soft...)},
		{Levers, "A lever for each", "nothing is mixed", levers, []GainField{lever}},
		{Both, "Both at once", "one stick, and the levers are added", append(stick[:2:2], levers...),
			append(append(gains[:2:2], lever), soft...)},
	}
}

// square says which control lies along which side of the square.
func square(s *setup.Setup, p *Pair) string {
	if p.Across == "" || p.Along == "" {
		return ""
	}
	label := func(id string) string { return s.Label(s.Item(setup.ID(id))) }
	return fmt.Sprintf("%s to the side, %s upwards.", label(p.Across), label(p.Along))
}

// replaces says what a first choice takes the place of.
func replaces(p *Pair) string {
	switch {
	case p.Choice.Way != Own || p.Mixes == 0:
		return ""
	case p.Mixes == 1:
		return "A choice takes the place of the mix that there is now; it can be undone."
	}
	return fmt.Sprintf("A choice takes the place of the %d mixes that there are now; it can be undone.",
		p.Mixes)
}

// WhyNone says why there is no pair, or no map of one: sends tells whether the set does.
func WhyNone(p *Pair, fields []Field, sends bool) string {
	switch {
	case p == nil:
		return "No two functions of this model belong together yet. Two functions are a pair when they " +
			"share, when " +
			"the stage shows them as tracks, screws or steered axles, or when the same two controls drive " +
			"both."
	case fields != nil:
		return ""
	case !sends && p.Across != "" && p.Along != "":
		return "There is no map while the transmitter does not send: turn it on, and meet what it waits for."
	}
	return "One control drives both, so there is no square to draw."
}
