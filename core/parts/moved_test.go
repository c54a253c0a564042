package parts

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
)

// bench is a document that is played by hand.
type bench struct {
	*testing.T
	p     *signal.Program
	st    *signal.State
	hands signal.Hands
}

func newBench(t *testing.T, tree *setup.Node) *bench {
	doc, err := setup.FromTree(tree)
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	b := &bench{t, p, p.PowerOn(), p.Rest()}
	b.step()
	return b
}

func (b *bench) step() { b.p.Step(b.st, b.hands) }

// put moves a control and gives a frame for it.
func (b *bench) put(control, at string) {
	hand, ok := b.p.Hand(control)
	require.True(b, ok)
	v, err := b.p.HandValue(control, at)
	require.NoError(b, err)
	b.hands[hand] = v
	b.step()
}

func (b *bench) press(control string) { b.put(control, "press"); b.put(control, "off") }

func (b *bench) asked(output string) float64 {
	return b.st.At(b.p.Routes[b.p.Setup().Item(setup.ID(output)).Index].Asked)
}

// does is what a device does now: a motor's turning, 100 of a lamp that is lit.
func (b *bench) does(device string) float64 {
	return b.st.At(b.p.Devices[b.p.Setup().Item(setup.ID(device)).Index].Value)
}

// plain is a transmitter with functions of every sort, of which nothing moves any yet but
// the motor.
const plain = `
format: axtren-setup
version: 1
name: Plain
transmitter:
  controls:
    - {id: stick, kind: axis, label: Stick}
    - {id: button, kind: switch, label: Button, positions: ["off", press], spring_to: "off"}
    - {id: other, kind: switch, label: Other, positions: ["off", press], spring_to: "off"}
    - {id: three, kind: switch, label: Three, positions: [left, middle, right], start: middle}
    - {id: stay, kind: switch, label: Stay, positions: [back, front]}
mixes:
  - {id: drive, to: motor, from: stick}
outputs:
  - {id: lamp, label: Lamp, channel: 1}
  - {id: below, label: Below, channel: 2, reverse: true}
  - {id: motor, label: Motor, channel: 3}
  - {id: winch, label: Winch, channel: 4}
  - {id: pump, label: Pump, channel: 5}
  - {id: flap, label: Flap, channel: 6}
receivers:
  - {id: rx, label: Receiver, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3},
      {pin: 4, channel: 4}, {pin: 5, channel: 5}, {pin: 6, channel: 6}]}
devices:
  - {id: bulb, on: rx.1, kind: lamp}
  - {id: relay, on: rx.2, kind: relay, turns_on: below}
  - {id: screw, on: rx.3, kind: esc}
  - {id: drum, on: rx.4, kind: esc}
  - {id: sucker, on: rx.5, kind: esc, reverse: none, learned_us: {low: 900, neutral: 1000, high: 2000}}
  - {id: arm, on: rx.6, kind: servo}
`

// let has what was moved act on a function, and plays that.
func let(t *testing.T, text, output, way string, moved ...string) (*bench, string) {
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	tree, said, err := MovedBy(doc, p, output, way, moved)
	require.NoError(t, err)
	return newBench(t, tree), said
}

// TestAButtonSwitches what there is to be switched, and what it does then is what the part
// does, whichever way its function runs.
func TestAButtonSwitches(t *testing.T) {
	for device, output := range map[string]string{"bulb": "lamp", "relay": "below", "drum": "winch",
		"sucker": "pump"} {
		b, said := let(t, plain, output, Toggle, "button.press")
		for range 2 {
			require.Zero(t, b.does(device), "%s is off until it is pressed", device)
			b.press("button")
			require.Equal(t, 100.0, b.does(device), "%s is on once it was", device)
			b.press("button")
		}
		require.Zero(t, b.does(device))
		require.Contains(t, said, "Button at press switches ")
		require.Contains(t, said, " on, and off again")
	}
	b, _ := let(t, plain, "flap", Toggle, "button.press")
	require.Equal(t, -100.0, b.does("arm"))
	b.press("button")
	require.Equal(t, 100.0, b.does("arm"))

	// what has a hand already keeps it while the button has switched nothing
	b, _ = let(t, plain, "motor", Toggle, "button.press")
	b.put("stick", "40")
	require.InDelta(t, 37.5, b.does("screw"), 0.1)
	b.press("button")
	require.Equal(t, 100.0, b.does("screw"))
	b.press("button")
	require.InDelta(t, 37.5, b.does("screw"), 0.1)
}

// TestTwoPressesStep through three places, and no further.
func TestTwoPressesStep(t *testing.T) {
	b, said := let(t, plain, "flap", Steps, "button.press", "other.press")
	require.Equal(t, "Button at press steps Flap up, Other at press steps it down", said)
	require.Zero(t, b.does("arm"), "it stands where it stood")
	for _, to := range []float64{100, 100} {
		b.press("button")
		require.Equal(t, to, b.does("arm"))
	}
	for _, to := range []float64{0, -100, -100} {
		b.press("other")
		require.Equal(t, to, b.does("arm"))
	}
	for device, output := range map[string]string{"bulb": "lamp", "relay": "below", "screw": "motor",
		"drum": "winch", "sucker": "pump"} {
		b, _ := let(t, plain, output, Steps, "button.press", "other.press")
		require.Zero(t, b.does(device), "%s does nothing until it is pressed", device)
	}
}

// TestASwitchCuts: whatever else is asked, the part does nothing.
func TestASwitchCuts(t *testing.T) {
	b, said := let(t, plain, "motor", Cut, "three.left")
	require.Equal(t, "Motor is cut while Three at left", said)
	b.put("stick", "100")
	require.Equal(t, 100.0, b.does("screw"))
	b.put("three", "left")
	require.Zero(t, b.does("screw"))
	b.put("three", "right")
	require.Equal(t, 100.0, b.does("screw"))

	// a servo goes where it is with nobody's hands on it
	text := strings.Replace(plain, "from: stick}\n",
		"from: stick}\n  - {id: lift, to: flap, from: stick, bias: 20}\n", 1)
	b, _ = let(t, text, "flap", Cut, "three.left")
	b.put("stick", "60")
	require.Equal(t, 80.0, b.does("arm"))
	b.put("three", "left")
	require.Equal(t, 20.0, b.does("arm"))

	for device, output := range map[string]string{"bulb": "lamp", "relay": "below", "sucker": "pump"} {
		doc, err := setup.ReadYAML([]byte(plain))
		require.NoError(t, err)
		p, err := signal.Compile(doc.Setup)
		require.NoError(t, err)
		tree, _, err := MovedBy(doc, p, output, Toggle, []string{"button.press"})
		require.NoError(t, err)
		lit, err := setup.FromTree(tree)
		require.NoError(t, err)
		p, err = signal.Compile(lit.Setup)
		require.NoError(t, err)
		tree, _, err = MovedBy(lit, p, output, Cut, []string{"stay.front"})
		require.NoError(t, err)
		b := newBench(t, tree)
		b.press("button")
		require.Equal(t, 100.0, b.does(device), device)
		b.put("stay", "front")
		require.Zero(t, b.does(device), "%s is off while it is cut", device)
		b.put("stay", "back")
		require.Equal(t, 100.0, b.does(device), "the cut forgets nothing")
	}
}

// TestAFunctionFollows what was moved, a switch as well as a stick.
func TestAFunctionFollows(t *testing.T) {
	b, said := let(t, plain, "flap", Follows, "stick")
	require.Equal(t, "Stick moves Flap", said)
	b.put("stick", "-35")
	require.Equal(t, -35.0, b.asked("flap"))
	b, _ = let(t, plain, "flap", Follows, "three.left")
	b.put("three", "right")
	require.Equal(t, 100.0, b.asked("flap"))
}

// TestNothingMovesBeforeAPress: on every function of every model, a toggle and steps leave
// every pulse as it was while nobody presses, where something moves the function already.
func TestNothingMovesBeforeAPress(t *testing.T) {
	tried := 0
	for path, doc := range documents(t) {
		before, err := signal.Compile(doc.Setup)
		if err != nil {
			continue
		}
		var button string
		for _, c := range doc.Setup.Transmitter.Controls {
			if c.Switch != nil {
				button = fmt.Sprintf("%s.%s", c.ID, c.Switch.Positions[(c.Switch.Rest()+1)%len(c.Switch.Positions)])
			}
		}
		for i, o := range doc.Setup.Outputs {
			if button == "" || len(before.Routes[i].Terms) == 0 {
				continue
			}
			for way, moved := range map[string][]string{Toggle: {button}, Steps: {button, button},
				Cut: {button}} {
				tree, _, err := MovedBy(doc, before, string(o.ID), way, moved)
				require.NoError(t, err, "%s %s %s", path, o.ID, way)
				after, err := setup.FromTree(tree)
				require.NoError(t, err)
				p, err := signal.Compile(after.Setup)
				if err != nil {
					continue // what it asks of another function would run in a ring
				}
				tried++
				a, b := before.PowerOn(), p.PowerOn()
				for range 5 {
					before.Step(a, before.Rest())
					p.Step(b, p.Rest())
					for k := range before.Routes {
						require.Equal(t, a.At(before.Routes[k].US), b.At(p.Routes[k].US), "%s: %s on %s moves %s",
							path, way, o.ID, doc.Setup.OutputLabel(k))
					}
				}
			}
		}
	}
	require.Greater(t, tried, 100)
}

// TestALongNameIsNoHindrance: what is made for a function is called by as much of its name as
// there is room for.
func TestALongNameIsNoHindrance(t *testing.T) {
	long := strings.Repeat("Ö", 120)
	b, _ := let(t, strings.Replace(plain, "label: Lamp,", "label: "+long+",", 1), "lamp", Toggle, "button.press")
	require.Equal(t, strings.Repeat("Ö", 117)+" on", b.p.Setup().Logic[0].Label)
}

func TestWhatWasMovedIsLookedAt(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(plain))
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	for _, one := range []struct {
		output, way string
		moved       []string
		says        string
	}{
		{"nobody", Toggle, []string{"button.press"}, `there is no function "nobody"`},
		{"lamp", Toggle, nil, "0 movements for what takes 1"},
		{"lamp", Steps, []string{"button.press"}, "1 movements for what takes 2"},
		{"lamp", Toggle, []string{"stick"}, "Stick has no positions; move a switch or a button"},
		{"lamp", Cut, []string{"three.up"}, `Three has no position "up"`},
		{"lamp", Follows, []string{"lamp"}, `there is no control "lamp"`},
		{"lamp", "blink", []string{"button.press"}, `"blink" is no way to move a function`},
	} {
		_, _, err := MovedBy(doc, p, one.output, one.way, one.moved)
		require.ErrorContains(t, err, one.says)
		var ps setup.Problems
		require.ErrorAs(t, err, &ps)
		require.NotEmpty(t, ps[0].Remedy)
	}
}

// exchange puts what was moved in the place of a control.
func exchange(t *testing.T, text, output, old, moved string) (*bench, string, error) {
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	tree, said, err := Instead(doc, output, old, moved)
	if err != nil {
		return nil, "", err
	}
	return newBench(t, tree), said, nil
}

// otherInstead is the document in which the other button acts on a function.
func otherInstead(t *testing.T, text, output string) *setup.Node {
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	tree, _, err := Instead(doc, output, "button", "other.press")
	require.NoError(t, err)
	return tree
}

const switched = plain + `
logic:
  - {id: lit, block: toggle, in: button.press}
  - {id: quiet, block: and, in: [not three.left, not stay.front]}
claims:
  - {id: dark, never: [button.press]}
`

// TestAnotherControlDoesTheSame, for the function for which it was exchanged and what it
// counts on, and for nothing else.
func TestAnotherControlDoesTheSame(t *testing.T) {
	text := switched + "mixes:\n  - {id: a, to: lamp, from: lit}\n  - {id: b, to: pump, from: stick}\n" +
		"  - {id: c, to: flap, from: stick}\n  - {id: d, to: winch, from: quiet}\n"
	text = strings.Replace(text, "mixes:\n  - {id: drive, to: motor, from: stick}\n", "", 1)

	b, said, err := exchange(t, text, "lamp", "button", "other.press")
	require.NoError(t, err)
	require.Equal(t, "Other in the place of Button: for Lamp", said)
	b.press("button")
	require.Zero(t, b.does("bulb"))
	b.press("other")
	require.Equal(t, 100.0, b.does("bulb"))
	require.Equal(t, "button.press", otherInstead(t, text, "lamp").At("claims", "0", "never", "0").Text,
		"what must hold goes on to speak of the button")

	// the position to which it was moved stands for the one that acts
	b, _, err = exchange(t, text, "lamp", "button", "three.right")
	require.NoError(t, err)
	b.put("three", "left")
	require.Zero(t, b.does("bulb"))
	b.put("three", "right")
	require.Equal(t, 100.0, b.does("bulb"))

	// opposites stay so
	b, _, err = exchange(t, text, "winch", "stay", "button.press")
	require.NoError(t, err)
	require.Equal(t, 100.0, b.asked("winch"))
	b.put("button", "press")
	require.Equal(t, -100.0, b.asked("winch"))

	// a stick for one function stays the stick of the other
	b, said, err = exchange(t, text, "flap", "stick", "three.left")
	require.NoError(t, err)
	require.Equal(t, "Three in the place of Stick: for Flap", said)
	b.put("stick", "50")
	require.Equal(t, []float64{50, 0}, []float64{b.asked("pump"), b.asked("flap")})

	for _, one := range []struct{ output, old, moved, says string }{
		{"lamp", "button", "button.press", "that is Button itself"},
		{"lamp", "button", "stick", "Stick has no positions"},
		{"lamp", "stick", "three.left", "Stick does not act on this function"},
		{"lamp", "nobody", "three.left", `there is no control "nobody"`},
		{"nobody", "button", "three.left", `there is no function "nobody"`},
	} {
		_, _, err := exchange(t, text, one.output, one.old, one.moved)
		require.ErrorContains(t, err, one.says)
	}
}

// TestAnExchangedLeverPlaysTheSame: on every model, what the old lever did the new one does.
func TestAnExchangedLeverPlaysTheSame(t *testing.T) {
	tried := 0
	for path, doc := range documents(t) {
		before, err := signal.Compile(doc.Setup)
		if err != nil || len(doc.Setup.StartCheck) > 0 {
			continue // it may be the old lever that the start waits for
		}
		controls := doc.Setup.Transmitter.Controls
		for i, o := range doc.Setup.Outputs {
			behind := setup.Only(setup.IsControl, doc.Setup.Graph().Behind(setup.IsOutput.At(i)))
			for old := range controls {
				for other := range controls {
					if !slices.Contains(behind, old) || slices.Contains(behind, other) ||
						controls[old].Axis == nil || controls[other].Axis == nil {
						continue
					}
					tree, _, err := Instead(doc, string(o.ID), string(controls[old].ID), string(controls[other].ID))
					require.NoError(t, err)
					after := newBench(t, tree)
					a, hands := before.PowerOn(), before.Rest()
					after.st, after.hands = after.p.PowerOn(), after.p.Rest()
					from, _ := before.Hand(string(controls[old].ID))
					to, _ := after.p.Hand(string(controls[other].ID))
					for frame := range 60 {
						v := float64(frame*37%200 - 100)
						hands[from], after.hands[to] = v, v
						before.Step(a, hands)
						after.step()
						if before.Sending(a) && after.p.Sending(after.st) {
							require.Equal(t, a.At(before.Routes[i].US), after.st.At(after.p.Routes[i].US), "%s %s %s %s",
								path, o.ID, controls[old].ID, controls[other].ID)
							tried++
						}
					}
				}
			}
		}
	}
	require.Greater(t, tried, 1000)
}
