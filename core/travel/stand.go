package travel

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// The steps of a function on its stand, in their order.
const (
	Ready     = "ready"     // charged, trims at 0, ends at 100
	Arm       = "arm"       // put on square, power off
	Direction = "direction" // it moves the right way
	Centre    = "centre"
	Low       = "low" // the end to −
	High      = "high"
	Straight  = "straight"
	Teaching  = "learned" // what it moves has learned what is sent
	Stored    = "loss"    // its position for a lost signal was stored, and read back
)

// How something was found.
const (
	Measured = "measured"
	Linked   = "linkage"
	Learned  = "learned"
	Guessed  = "guessed"
	AtLink   = "link" // of what runs straight: at the link, and not by the centre
)

// mild is how far from the centre the end of a travel lies that is not known (common practice, no source:
// 40 to 50).
const mild = 45

// Step is one thing to do on the stand.
type Step struct {
	Key   string  `json:"key"`
	Title string  `json:"title"` // in few words
	Does  string  `json:"does"`  // what to do, as a sentence
	Note  string  `json:"note"`  // what follows from it, or how; empty for nothing
	Value float64 `json:"value"` // of a centre or an end, percent
	Moves bool    `json:"moves"` // its value is moved while watching
	Done  bool    `json:"done"`
	Found string  `json:"found"` // how it was found, and when; empty while it was not
	Stale string  `json:"stale"` // why it is to be done again; empty where it is not
}

// Standing is a function with the steps of its stand.
type Standing struct {
	Output string     `json:"output"`
	Label  string     `json:"label"`
	Device string     `json:"device"` // what it moves, in words
	Steps  []Step     `json:"steps"`
	Found  string     `json:"found"` // how far it is, or how it was found, in few words
	Low    float64    `json:"low"`   // percent, as it is now
	Centre float64    `json:"centre"`
	High   float64    `json:"high"`
	Back   float64    `json:"back_off"` // an end that was measured is set back by so much
	Mild   [2]float64 `json:"mild"`     // the ends with which a travel begins that is not known
	Even   string     `json:"even"`     // how unequal both ends are; empty where they are equal
	// what is to be done again, in words; empty for nothing
	Again string `json:"again"`
}

// Stand lists the functions that move a servo or a motor, in the order of the document. What else there is,
// a lamp or a step box, has nothing to find on the stand.
func Stand(s *setup.Setup) []Standing {
	list := []Standing{}
	for i := range s.Outputs {
		if device := moved(s, i); device >= 0 {
			list = append(list, standing(s, i, device))
		}
	}
	return list
}

// moved gives the servo or the controller that an output moves, the first of several; -1 for none.
func moved(s *setup.Setup, output int) int {
	for _, i := range s.Drives(output) {
		switch s.Devices[i].Spec.(type) {
		case *setup.Servo, *setup.Esc:
			return i
		}
	}
	return -1
}

func standing(s *setup.Setup, i, device int) Standing {
	o := &s.Outputs[i]
	of := Standing{Output: string(o.ID), Label: s.OutputLabel(i), Device: s.DeviceLabel(device), Low: o.Low,
		Centre: o.Centre, High: o.High, Back: backOff(s), Mild: mildEnds(o)}
	keys := []string{Ready, Arm, Direction, Centre, Low, High}
	_, servo := s.Devices[device].Spec.(*setup.Servo)
	if !servo {
		keys = []string{Ready, Direction} // its ends are what it has learned
	}
	if steers(s, i, device) {
		keys = append(keys, Straight)
	}
	if hasLearned(s, i) {
		keys = append(keys, Teaching)
	}
	var again []string
	for _, key := range keys {
		step := stepOf(s, i, device, key)
		if step.Stale != "" {
			again = append(again, step.Title)
		}
		of.Steps = append(of.Steps, step)
	}
	if len(again) > 0 {
		of.Again = fmt.Sprintf("Do %s again: %s.", words.Count(len(again), "step", "steps"), words.And(again))
	}
	of.Found = foundAt(of.Steps, len(again))
	if low, high := o.Centre-o.Low, o.High-o.Centre; servo && math.Abs(low-high) > 1e-9 {
		of.Even = fmt.Sprintf("The ends are %s and %s from the centre; equal, both would be %s.", words.Short(low),
			words.Short(high), words.Short(min(low, high)))
	}
	return of
}

// towards says a way of the hand in a sentence, and in few words: stick towards port, port.
func towards(way string) (said, short string) {
	for _, noun := range []string{"stick ", "control "} {
		if to, ok := strings.CutPrefix(way, noun); ok {
			return noun + "towards " + to, to
		}
	}
	return way, strings.TrimSuffix(way, " end")
}

// ServoWays says which way the hand goes for the servo to go to + and to −.
func ServoWays(s *setup.Setup, i int) (plus, minus string) {
	plus, minus = StickWays(s, i)
	if s.Outputs[i].Reverse {
		return minus, plus
	}
	return plus, minus
}

func stepOf(s *setup.Setup, i, device int, key string) Step {
	o, label := &s.Outputs[i], s.OutputLabel(i)
	plus, minus := ServoWays(s, i)
	step := Step{Key: key}
	switch key {
	case Ready:
		step.Title = "ready"
		step.Does = "Charge the batteries. At the transmitter, put the trims of " + label +
			" to 0 and its ends to 100."
		step.Note = "A flat battery imitates many faults, and a trim that is not at 0 moves every end. What is " +
			"written here stays until it is measured."
	case Arm:
		step.Title = "arm"
		step.Does = "Switch the receiver off, put the arm on as square as its splines allow, and tighten its screw."
		step.Note = splines(s, i, device)
	case Direction:
		step.Title = "direction"
		forward, _ := StickWays(s, i)
		hand, _ := towards(forward)
		step.Does = fmt.Sprintf("Hold the %s. Does %s go the right way?", hand, label)
		if hand == forward {
			step.Does = fmt.Sprintf("Bring it to its %s. Does %s go the right way?", hand, label)
		}
		step.Note = "The direction is " + words.Reversed(o.Reverse) + " now."
	case Centre:
		step.Title, step.Value, step.Moves = "centre", o.Centre, true
		step.Does = "Let go, and move the centre until " + label + " stands in its middle."
		step.Note = "Many set the last of it at the link instead, and leave this at 0. What drives straight is " +
			"found rolling on the ground."
	case Low, High:
		side, position := minus, o.Low
		if key == High {
			side, position = plus, o.High
		}
		hand, short := towards(side)
		stop, works := "the linkage", worksAt(o, key)
		if works != "" {
			short, stop = works, "the "+works
		}
		step.Title, step.Value, step.Moves = short+" end", position, true
		step.Does = "Hold the " + hand + ", and open this end until " + stop + " just reaches its stop."
		if hand == side {
			step.Does = "Bring it to its " + side + ", and open this end until " + stop + " just reaches its stop."
		}
		step.Note = keyed(s, i, key)
		if strings.Contains(strings.ToLower(works), "brake") {
			step.Note += " Set it lower where the arm or the rod of the brake flexes: what bends holds no better."
		}
	case Straight:
		step.Title, step.Value, step.Moves = "straight", o.Centre, true
		step.Does = "Let it roll straight with hands off, on the ground, and move the centre until " +
			"it keeps its line."
		if s.Craft.Kind == "boat" || s.Craft.Kind == "submarine" {
			step.Does = "Let it run straight with hands off, on calm water, and move the centre " +
				"until it keeps its line."
		}
		step.Note = "Two schools: the last of it by the trim, which moves the centre, or at the " +
			"link, which leaves the centre where it is."
	case Teaching:
		step.Title = "learned"
		step.Does = "Let what has its own idea of the travel of " + label + " learn what is sent " +
			"now, or set what is sent to what it has learned."
		step.Note = "Both are told step by step beside this. When ends, centres or rates change, it " +
			"has to be done again."
	}
	if f := find(s, o.ID, key); f != nil {
		step.Found = foundWords(f)
		step.Stale = stale(s, f, device, step)
		step.Done = step.Stale == ""
	}
	return step
}

// keyed says what is keyed in for an end as it is now, as this transmitter counts it.
func keyed(s *setup.Setup, i int, key string) string {
	written := WrittenEnds(s, i)
	for k, end := range KeyedEnds(s, i) {
		if end.Field == key {
			return fmt.Sprintf("On this transmitter, now: %s, %s.", end.Side, written[k])
		}
	}
	return ""
}

// splines tells how far off square an arm may have to stand.
func splines(s *setup.Setup, i, device int) string {
	servo, _ := s.Devices[device].Spec.(*setup.Servo)
	if servo == nil || servo.Splines == 0 {
		return "How many splines its shaft has is not known: count them, and say so in Kit."
	}
	half := 180 / float64(servo.Splines)
	throw := 45.0 // common practice, no source
	if l := s.Outputs[i].Linkage; l != nil {
		throw = l.ThrowDeg
	}
	return fmt.Sprintf("With %d splines it is off by %s° at most, half a spline: a centre of %s takes that out.",
		servo.Splines, words.Short(math.Round(half*10)/10), words.Short(math.Round(half/throw*100)))
}

func backOff(s *setup.Setup) float64 {
	if s.Stand == nil {
		return 2
	}
	return s.Stand.BackOff
}

// find gives what was found of an output; nil for nothing.
func find(s *setup.Setup, output setup.ID, what string) *setup.Found {
	if s.Stand == nil {
		return nil
	}
	is := func(f setup.Found) bool { return f.Output == output && f.What == what }
	at := slices.IndexFunc(s.Stand.Found, is)
	if at < 0 {
		return nil
	}
	return &s.Stand.Found[at]
}

// foundAt says how far a function is on the stand: what is to be done again, how much was done, or, where all
// of it was, how its last step was found. Being ready does not count.
func foundAt(steps []Step, again int) string {
	done := 0
	for _, step := range steps[1:] {
		if step.Found != "" {
			done++
		}
	}
	switch {
	case again > 0:
		return fmt.Sprintf("%d to be done again", again)
	case done == 0:
		return "nothing measured yet"
	case done < len(steps)-1:
		return fmt.Sprintf("%d of %d done", done, len(steps)-1)
	}
	return steps[len(steps)-1].Found
}

// foundWords says how something was found.
func foundWords(f *setup.Found) string {
	said := map[string]string{Measured: "measured", Linked: "worked out from the linkage",
		Learned: "learned by what it drives", Guessed: "guessed", AtLink: "put in at the link"}[f.How]
	if (f.What == Ready || f.What == Arm || f.What == Direction) && f.How == Measured {
		said = "done"
	}
	if f.On != "" {
		said += ", " + f.On
	}
	return said
}

// stale says why something is to be done again: it was found with another device, that one was built in
// anew since, or the figure was changed by hand. Being made ready is not of a device.
func stale(s *setup.Setup, f *setup.Found, device int, now Step) string {
	if f.What == Ready {
		return ""
	}
	switch d := &s.Devices[device]; {
	case f.With == nil || *f.With != d.ID:
		return s.DeviceLabel(device) + " moves it now, and did not when this was found"
	case f.Fitted != d.Fitted:
		return s.DeviceLabel(device) + " was exchanged since"
	case f.What == Teaching:
		return learnsAgain(s, s.Item(f.Output).Index)
	case now.Moves && math.Abs(f.Value-now.Value) > 1e-9:
		return "it was " + words.SignedShort(f.Value) + " when this was found, and was changed since"
	}
	return ""
}

// learnsAgain says what gets other pulses of an output than it has learned; empty for nothing.
func learnsAgain(s *setup.Setup, output int) string {
	p, err := signal.Compile(s)
	if err != nil {
		return ""
	}
	list, err := Learners(p, output)
	if err != nil {
		return ""
	}
	for _, of := range list {
		if !of.Agrees && of.Kind != "module" {
			return of.Name + " gets other pulses now than it has learned"
		}
	}
	return ""
}

// steers tells whether what a device moves steers the model: its linkage says so, or the picture does.
func steers(s *setup.Setup, output, device int) bool {
	if l := s.Outputs[output].Linkage; l != nil && l.Steers != nil {
		return true
	}
	return s.Stage != nil && slices.ContainsFunc(s.Stage.Parts, func(part setup.StagePart) bool {
		moves := part.Part == "rudder" || part.Part == "axle"
		return moves && part.Device != nil && *part.Device == s.Devices[device].ID
	})
}

// worksAt says what a servo works at one of its ends; empty where it is the same at both.
func worksAt(o *setup.Output, end string) string {
	switch {
	case o.Works == nil:
		return ""
	case end == High:
		return o.Works.High
	}
	return o.Works.Low
}
