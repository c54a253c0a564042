package parts

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// The ways in which a person lets a control act on a function, after moving it.
const (
	Follows = "follows" // the function follows the control
	Toggle  = "toggle"  // each press switches it on, or off
	Steps   = "steps"   // one press steps it up, another one down, through three places
	Cut     = "cut"     // while the control stands there, its parts do nothing; a servo goes where it rests
)

// MovedBy lets what a person moved act on the function output, an id, in one of the ways.
// Each of moved is an axis by its id, or a switch with the position to which it was moved:
// button.press. What else there is of the function stays. It gives the document that is to
// be, and in words what was done; the error is setup.Problems.
func MovedBy(doc *setup.Document, p *signal.Program, output, way string,
	moved []string) (tree *setup.Node, said string, err error) {
	w := &mover{adder: adder{s: doc.Setup}, p: p, tree: doc.Tree.Copied()}
	item := doc.Setup.Item(setup.ID(output))
	if item.Kind != setup.IsOutput {
		return nil, "", problem("part", fmt.Sprintf("there is no function %q", output),
			"name one such as outputs/port_track")
	}
	w.out = item.Index
	need := 1
	if way == Steps {
		need = 2
	}
	if len(moved) != need {
		return nil, "", problem("moved", fmt.Sprintf("%d movements for what takes %d", len(moved), need),
			"move one control for each thing that is asked")
	}
	said, err = w.write(way, moved)
	return w.tree, said, err
}

// mover writes one way into a copy of the document.
type mover struct {
	adder
	p    *signal.Program
	out  int
	tree *setup.Node
}

func (w *mover) write(way string, moved []string) (said string, err error) {
	name := w.s.OutputLabel(w.out)
	if way == Follows {
		id, _, _ := strings.Cut(moved[0], ".")
		control, err := control(w.s, id)
		if err != nil {
			return "", err
		}
		w.follow(control)
		return w.s.ControlLabel(control) + " moves " + name, nil
	}
	for _, m := range moved {
		if _, _, err := pressed(w.s, m); err != nil {
			return "", err
		}
	}
	said = words.Truth(w.s, setup.Truth(moved[0]))
	off, on := w.ends()
	switch way {
	case Toggle:
		block := w.put("logic", "block", setup.GroupNode("block", "toggle", "label", ending(name, " on"),
			"in", moved[0]))
		if len(w.p.Routes[w.out].Terms) > 0 { // while it is off all is as it was
			w.mix(on, "when", block, "combine", "instead")
		} else {
			w.mix(block, "gain", (on-off)/2, "bias", (on+off)/2)
		}
		return fmt.Sprintf("%s switches %s on, and off again", said, name), nil
	case Steps:
		steps := []any{}
		for _, step := range threeSteps {
			steps = append(steps, setup.GroupNode("name", step.name, "value", step.value))
		}
		w.mix(w.put("steppers", "stepper", setup.GroupNode("label", ending(name, " place"), "up",
			moved[0], "down", moved[1],
			"steps", steps, "start", w.startStep())))
		return fmt.Sprintf("%s steps %s up, %s steps it down", said, name,
			words.Truth(w.s, setup.Truth(moved[1]))), nil
	case Cut:
		if !w.switched() {
			off = w.atRest()
		}
		w.mix(off, "when", moved[0], "combine", "instead")
		return fmt.Sprintf("%s is cut while %s", name, said), nil
	}
	return "", problem("kind", fmt.Sprintf("%q is no way to move a function", way),
		"use follows, toggle, steps or cut")
}

// follow lets the function follow a control. Where nothing moved it yet, and a motor or a lamp of it
// would run with the control at its low end at rest, that end is where it is off.
func (w *mover) follow(control int) {
	c := &w.s.Transmitter.Controls[control]
	var rest float64
	if c.Axis != nil {
		rest = c.Axis.Rest()
	} else {
		rest = -100 + 200*float64(c.Switch.Rest())/float64(len(c.Switch.Positions)-1)
	}
	if rest != -100 || len(w.p.Routes[w.out].Terms) > 0 || !w.switched() || w.still(rest, false) {
		w.mix(string(c.ID))
		return
	}
	off, on := w.ends()
	w.mix(string(c.ID), "gain", (on-off)/2, "bias", (on+off)/2)
}

// ending calls something as the function, with a word at its end.
func ending(name, word string) string {
	letters := []rune(name)
	return string(letters[:min(len(letters), words.LongestName-len(word))]) + word
}

// threeSteps are the places of a new set of steps.
var threeSteps = []struct {
	name  string
	value float64
}{{"low", -100}, {"middle", 0}, {"high", 100}}

// startStep is where new steps begin: where the function does nothing that it does not do
// already.
func (w *mover) startStep() string {
	off, _ := w.ends()
	if len(w.p.Routes[w.out].Terms) > 0 || !w.switched() {
		off = 0
	}
	for _, step := range threeSteps {
		if step.value == off {
			return step.name
		}
	}
	return threeSteps[1].name
}

// put adds a part with a free id, which it gives.
func (w *mover) put(list, stem string, n *setup.Node) (id string) {
	id = w.free(stem)
	appendTo(w.tree, list, id, n)
	return id
}

// mix adds a mix to the function; what is as usual is left out.
func (w *mover) mix(from any, more ...any) {
	n := setup.GroupNode("to", string(w.s.Outputs[w.out].ID), "from", from)
	for i := 0; i < len(more); i += 2 {
		key := more[i].(string)
		if key == "gain" && more[i+1] == 100.0 || key == "bias" && more[i+1] == 0.0 {
			continue
		}
		put(n, key, setup.NodeOf(more[i+1]))
	}
	w.put("mixes", "mix", n)
}

// atRest gives what is asked of the function with nobody's hands on it, percent.
func (w *mover) atRest() float64 {
	st := w.p.PowerOn()
	for range 2 { // a start check may hold the first frame back
		w.p.Step(st, w.p.Rest())
	}
	return st.At(w.p.Routes[w.out].Asked)
}

// switched tells whether the function has a part that is on or off, or a motor.
func (w *mover) switched() bool {
	for _, d := range w.driven() {
		if kind := w.s.Devices[d].PartKind(); kind.Motor || kind.OnOff {
			return true
		}
	}
	return false
}

// driven lists the devices on the pins of the function.
func (w *mover) driven() []int {
	var list []int
	for _, pin := range w.p.Routes[w.out].Pins {
		list = append(list, w.s.OnPin(pin.PinRef)...)
	}
	return list
}

// Ends gives what is asked of an output for its parts to be off, and on, percent.
func Ends(s *setup.Setup, p *signal.Program, output int) (off, on float64) {
	w := &mover{adder: adder{s: s}, p: p, out: output}
	return w.ends()
}

// ends gives what is asked of the function for its parts to be off, and on, percent: a
// motor stands at its neutral, a lamp that turns on below is off above. Of what is neither
// off nor on, such as a servo, they are its two ends.
func (w *mover) ends() (off, on float64) {
	off, on = -100, 100
	if !w.switched() {
		return off, on
	}
	for _, asked := range []float64{0, -100, 100} {
		if w.still(asked, true) {
			off = asked
			break
		}
	}
	for _, asked := range []float64{100, -100} {
		if asked != off && !w.still(asked, false) {
			return off, asked
		}
	}
	return off, on
}

// still tells whether every part that is on or off, or a motor, does nothing while so much
// is asked. Surely: a lamp in the middle of the travel is too near to its threshold.
func (w *mover) still(asked float64, surely bool) bool {
	us := w.p.PulseOf(w.p.PositionOf(w.out, asked))
	for _, d := range w.driven() {
		kind := w.s.Devices[d].PartKind()
		if !kind.Motor && !kind.OnOff {
			continue
		}
		if surely && kind.OnOff && asked == 0 {
			return false
		}
		_, pin := w.s.Pin(w.s.DevicePin(d))
		if v, ok := w.p.Does(d, w.p.Arriving(pin.Channel, us)); !ok || v != 0 {
			return false
		}
	}
	return true
}

// control gives the number of a control.
func control(s *setup.Setup, id string) (int, error) {
	item := s.Item(setup.ID(id))
	if item.Kind != setup.IsControl {
		return 0, problem("moved", fmt.Sprintf("there is no control %q", id),
			"move one of the transmitter's own controls")
	}
	return item.Index, nil
}

// pressed gives the control and the position of a switch that was moved.
func pressed(s *setup.Setup, moved string) (item, position int, err error) {
	id, at, _ := strings.Cut(moved, ".")
	item, err = control(s, id)
	if err != nil {
		return 0, 0, err
	}
	c := &s.Transmitter.Controls[item]
	if c.Switch == nil {
		return 0, 0, problem("moved", s.ControlLabel(item)+" has no positions", "move a switch or a button")
	}
	position = slices.Index(c.Switch.Positions, setup.Name(at))
	if position < 0 {
		return 0, 0, problem("moved", fmt.Sprintf("%s has no position %q", s.ControlLabel(item), at),
			"name one of its positions")
	}
	return item, position, nil
}
