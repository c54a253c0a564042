package plan

import (
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/edit"
	"axtren/core/setup"
	"axtren/core/signal"
)

func carried(t *testing.T, doc *setup.Document) *setup.Document {
	t.Helper()
	tree, _, err := Carry(doc)
	require.NoError(t, err)
	ops := edit.Diff(doc.Tree, tree)
	if len(ops) == 0 {
		return doc
	}
	result, err := edit.ApplyOps(doc, ops)
	require.NoError(t, err)
	return result.Doc
}

// TestACarriedPlanDoesTheSame plays a model before and after its plan is carried out, the hands of
// the second where the plan put them: every device does what it did, and there is nothing more to
// plan.
func TestACarriedPlanDoesTheSame(t *testing.T) {
	played, moved := 0, map[string]int{}
	for seed := range uint64(240) {
		of := small
		if seed%6 == 0 {
			of = sizes{functions: 14, controls: 24, channels: 16, pins: 16, receivers: 2}
		}
		doc := drawn(t, seed, of)
		p := made(t, doc.Setup)
		if p.Points[LeftOut] > 0 {
			continue
		}
		after := carried(t, doc)
		again := made(t, after.Setup)
		require.Empty(t, again.Changes, "seed %d", seed)
		require.Equal(t, p.Points[:Work], again.Points[:Work], "seed %d", seed)
		for _, c := range p.Changes {
			moved[c.What]++
		}
		playBoth(t, seed, p, doc.Setup, after.Setup)
		played++
	}
	require.Greater(t, played, 60)
	for _, what := range []string{"control", "channel", "lead", "loss"} {
		require.Greater(t, moved[what], 5, what)
	}
}

func playBoth(t *testing.T, seed uint64, p *Plan, was, is *setup.Setup) {
	t.Helper()
	before, err := signal.Compile(was)
	require.NoError(t, err)
	after, err := signal.Compile(is)
	require.NoError(t, err)
	r := rand.New(rand.NewPCG(seed, 11))
	st, other := before.PowerOn(), after.PowerOn()
	hands := before.Rest()
	for range 12 {
		theirs := after.Rest()
		for _, h := range p.Hands {
			if h.Was == "" {
				continue
			}
			from, _ := before.Hand(string(h.Was))
			to, _ := after.Hand(string(h.Control))
			c := &was.Transmitter.Controls[was.Item(h.Was).Index]
			if c.Axis != nil {
				hands[from] = float64(r.IntN(201) - 100)
			} else {
				hands[from] = float64(r.IntN(len(c.Switch.Positions)))
			}
			theirs[to] = hands[from]
		}
		for range 4 { // until channels at half the rate have it too
			before.Step(st, hands)
			after.Step(other, theirs)
		}
		for i, o := range was.Outputs {
			if o.Needs != nil && o.Needs.By != nil && len(was.MixesTo(i)) == 0 {
				continue // nothing moved it
			}
			require.Equal(t, st.At(before.Routes[i].Asked), other.At(after.Routes[i].Asked), "seed %d: %s", seed, o.ID)
			for _, d := range was.Drives(i) {
				_, pin := was.Pin(was.DevicePin(d))
				if was.BitsOn(pin.Channel) == 1 {
					continue // it had a channel that told it only its ends
				}
				require.Equal(t, st.At(before.Devices[d].Value), other.At(after.Devices[d].Value),
					"seed %d: what hangs on %s", seed, o.ID)
			}
		}
	}
}

// What was asked of a control goes with what it moves; of one that nothing moved yet, to the control
// that it gets; and a motor on a lever that rests at its low end stands there.
func TestWishesGoAlong(t *testing.T) {
	text := `format: axtren-setup
version: 1
transmitter: {controls: [{id: far, kind: axis, lies: right}, {id: near, kind: axis, stick: left}, {id: low, kind: axis, spring: low}]}
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
outputs:
  - {id: rudder, channel: 1}
  - {id: motor, channel: 2, needs: {within_ms: 90, by: {kind: proportional, rest: low, side: right, thumb: false}}}
mixes: [{to: rudder, from: far}]
devices: [{id: servo, on: rx.1, kind: servo}, {id: esc, on: rx.2, kind: esc}]
plan: {hands: [{control: far, side: left, thumb: true}]}
`
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	after := carried(t, doc).Setup
	require.Equal(t, "near", after.Mixes[0].From.Ref)
	require.Equal(t, setup.ID("near"), after.Plan.Hands[0].Control)
	require.Equal(t, setup.ID("low"), after.Plan.Hands[1].Control)
	require.Equal(t, "right", after.Plan.Hands[1].Side)
	require.Nil(t, after.Outputs[1].Needs.By)
	require.InDelta(t, 90, after.Outputs[1].Needs.WithinMS, 0)
	p, err := signal.Compile(after)
	require.NoError(t, err)
	st := p.PowerOn()
	p.Step(st, p.Rest())
	require.InDelta(t, 0, st.At(p.Devices[1].Value), 0, "the motor stands with nobody's hand on it")
	hands := p.Rest()
	low, _ := p.Hand("low")
	hands[low] = 100
	p.Step(st, hands)
	require.InDelta(t, 100, st.At(p.Devices[1].Value), 0)
}

// The order of the channels is set at the receiver where it can be, and the pins told their channel.
func TestOrderAndPinsAreTold(t *testing.T) {
	for _, c := range []struct{ link, pins, want string }{
		{"link: {channels: 4, sets_order: true}", "", "order [1 3 2 4]"},
		{"", "sets_pins: true, ", "pins [1 3 2 4]"},
	} {
		text := strings.Replace(onlyPinThree, "- {id: rx, ", "- {id: rx, "+c.pins, 1) + c.link + "\n" +
			"plan: {mixes: 0}\n"
		doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + text))
		require.NoError(t, err)
		after := carried(t, doc).Setup
		var channels []int
		for _, pin := range after.Receivers[0].Pins {
			channels = append(channels, pin.Channel)
		}
		p := made(t, doc.Setup)
		told := p.Changes[len(p.Changes)-2]
		if strings.HasPrefix(c.want, "order") {
			require.Equal(t, Change{"link", "Order of the channels", "order",
				"channel 3 of the receiver carries channel 2, and carried 3: set the order there anew", "3 carries 3",
				"3 carries 2"}, told)
			require.Contains(t, p.Functions[1].Why,
				"the receiver gets it on channel 3: the order is set there, without a mix")
		} else {
			require.Equal(t, "pin 3 carries channel 2, and carried 3: tell it anew", told.Says)
		}
		for i, o := range after.Outputs {
			require.Equal(t, doc.Setup.Outputs[i].Channel, o.Channel, c.want)
		}
		require.Equal(t, "rx.3", after.Devices[1].On)
		if strings.HasPrefix(c.want, "order") {
			require.Equal(t, []int{1, 3, 2}, after.Link.Order)
			require.Equal(t, []int{1, 2, 3, 4}, channels)
		} else {
			require.Equal(t, []int{1, 3, 2, 4}, channels)
		}
	}
}

func TestWhatHasNoPlaceIsNotCarriedOut(t *testing.T) {
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\ntransmitter: {can: {channels: 1}}\n" +
		"outputs: [{id: a, label: Horn, channel: 1}, {id: b, label: Lamp, channel: 2}]\n"))
	require.NoError(t, err)
	_, _, err = Carry(doc)
	require.ErrorContains(t, err, "Lamp has no place in this plan")
}

// What a person puts somewhere exchanges its place with what is there, and stays.
func TestWhatIsPutSomewhereStays(t *testing.T) {
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + onlyPinThree))
	require.NoError(t, err)
	put := func(doc *setup.Document, of, to string) (*setup.Document, error) {
		tree, err := Put(doc, of, to)
		if err != nil {
			return nil, err
		}
		result, err := edit.ApplyOps(doc, edit.Diff(doc.Tree, tree))
		require.NoError(t, err)
		return result.Doc, nil
	}
	after, err := put(doc, "outputs/steer", "rx.3")
	require.NoError(t, err)
	require.Equal(t, []string{"rx.3", "rx.2", "rx.1"}, []string{after.Setup.Devices[0].On,
		after.Setup.Devices[1].On, after.Setup.Devices[2].On})
	require.Equal(t, []int{3, 2, 1}, []int{after.Setup.Outputs[0].Channel, after.Setup.Outputs[1].Channel,
		after.Setup.Outputs[2].Channel})
	p := made(t, after.Setup)
	require.True(t, p.Functions[0].Kept)
	require.Equal(t, "you fixed its channel and its pin", p.Functions[0].Why[0])
	require.False(t, p.Met, "the motor cannot have the only pin that keeps a position")
	require.Contains(t, p.Conflict, Ask{"outputs/steer", "channel", "Steering stays on channel 3",
		"let Steering go to another channel"})
	_, err = put(after, "outputs/motor", "rx.3")
	require.ErrorContains(t, err, "Motor cannot be on pin 3: what is there cannot be where it is now")
	_, err = put(doc, "outputs/motor", "rx.9")
	require.ErrorContains(t, err, `there is no pin "rx.9"`)
	_, err = put(doc, "controls/wheel", "controls/gas")
	require.ErrorContains(t, err, "it is not of its kind")
	_, err = put(doc, "controls/nobody", "controls/gas")
	require.ErrorContains(t, err, "there is no function")

	two := strings.Replace(onlyPinThree, "{id: gas, kind: axis, stick: right}",
		"{id: gas, kind: axis, stick: right}, {id: spare, kind: axis}", 1)
	doc, err = setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + two))
	require.NoError(t, err)
	after, err = put(doc, "controls/gas", "controls/spare")
	require.NoError(t, err)
	require.Equal(t, "spare", after.Setup.Mixes[1].From.Ref)
	require.Equal(t, []setup.HandWish{{Control: "spare", Stays: true}}, after.Setup.Plan.Hands)
	require.Equal(t, []string{"you fixed it"}, made(t, after.Setup).Hands[0].Why)
}

func TestWhatIsUsuallyAskedOnALostSignal(t *testing.T) {
	text := strings.Replace(onlyPinThree, ", loss: {mode: preset, value: 0}", "", 1)
	text = strings.Replace(text, "kind: esc}",
		"kind: esc, reverse: none, learned_us: {neutral: 1100, high: 1900}}", 1)
	text = strings.Replace(text, "on: rx.3, kind: relay}", "on: rx.3, kind: relay, kills: \"off\"}", 1)
	p := made(t, readText(t, text))
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + text))
	require.NoError(t, err)
	for i := range p.Proposals {
		result, err := edit.ApplyOps(doc, p.Proposals[i].Patch)
		require.NoError(t, err)
		out := result.Doc.Setup.Item(setup.ID(strings.TrimPrefix(p.Proposals[i].Of, "outputs/"))).Index
		require.InDelta(t, p.Proposals[i].Value, *result.Doc.Setup.Outputs[out].Loss.Value, 0)
		p.Proposals[i].Patch = nil
	}
	require.Equal(t, []Proposal{
		{"outputs/motor", "Motor stops on a lost signal",
			"a motor that holds goes on turning, with nobody in command", "preset", -80, nil},
		{"outputs/light", "Light kills the ignition on a lost signal",
			"an engine that holds goes on running, with nobody in command", "preset", -100, nil}}, p.Proposals)
	require.Equal(t, []Asked{{"had better be quick", true}}, p.Functions[0].Asks)
	require.Equal(t, []Asked{}, p.Functions[2].Asks)
	cuts := strings.Replace(text, "can: [hold, preset], preset_pins: [3]", "can: [hold, cut]", 1)
	require.Equal(t, "cut", made(t, readText(t, cuts)).Proposals[0].Mode, "no pin keeps a position")
	require.Empty(t, made(t, readText(t, onlyPinThree)).Proposals, "it is asked for, and a light is no danger")
}

// Both ends of two receivers on an order of their own.
func TestBothEnds(t *testing.T) {
	p := made(t, readText(t, `
transmitter: {controls: [{id: helm, kind: axis, label: Helm}, {id: key, kind: switch, label: Key, positions: [a, b]}]}
link: {order: [2, 1], module: {label: Long module, position: "4"}}
receivers:
  - {id: bow, label: Bow receiver, telemetry: true, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}]}
  - {id: aft, label: Aft receiver, telemetry: true, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 2}]}
logic: [{id: on, block: toggle, in: key.b}]
outputs:
  - {id: lamp, label: Lamp, channel: 2, loss: {mode: hold}}
  - {id: rudder, label: Rudder, channel: 1, loss: {mode: preset, value: -12.5}}
mixes: [{to: rudder, from: helm}, {to: lamp, from: on}]
devices: [{id: a, on: aft.1, kind: servo}, {id: b, on: bow.1, kind: lamp}]
`))
	require.Equal(t, []End{
		{"rudder", "Rudder", "Helm", 1, 2, "Aft receiver", 1, "goes to −12.5"},
		{"lamp", "Lamp", "A rule", 2, 1, "Bow receiver", 1, "holds"}}, p.Ends)
	require.Equal(t, []Keyed{{"Long module", []string{"turn its knob to 4"}},
		{"Aft receiver", []string{"turn its telemetry off: of two receivers one tells something back, no more",
			"store for pin 1, Rudder: on a lost signal it goes to −12.5"}}}, p.Keyed)
}

func TestWhatIsSaidUnderThePlan(t *testing.T) {
	require.Equal(t, "nothing to plan yet", State(readText(t, "")))
	require.Equal(t, "better with 5 changes", State(readText(t, onlyPinThree)))
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + onlyPinThree))
	require.NoError(t, err)
	require.Equal(t, "proved best", State(carried(t, doc).Setup))
	require.Equal(t, "1 wish not met", State(readText(t, strings.Replace(onlyPinThree,
		"label: Light, channel: 3", "label: Light, channel: 3, loss: {mode: preset, value: 0}", 1))))
}

// TestWhatIsUsuallyAskedByTheKindOfCraft: a valve closes, the rudder of a submarine goes to its middle and
// its planes to one end or the other; of a boat neither. What is asked for already is not asked again.
func TestWhatIsUsuallyAskedByTheKindOfCraft(t *testing.T) {
	const boat = `
craft: {kind: submarine}
transmitter: {controls: [{id: x, kind: axis}, {id: y, kind: axis}, {id: z, kind: axis}]}
outputs: [{id: rudder, label: Rudder, channel: 1, centre: 5}, {id: planes, label: Planes, channel: 2, low: -60, high: 70}, {id: arm, label: Arm, channel: 3, centre: -2}]
mixes: [{to: rudder, from: x}, {to: planes, from: y}, {to: arm, from: z}]
receivers: [{id: rx, failsafe: {can: [preset], preset_pins: all}, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}]}]
devices: [{id: r, on: rx.1, kind: servo}, {id: p, on: rx.2, kind: servo}, {id: v, on: rx.3, kind: servo}, {id: o, on: rx.3, kind: pump}]
stage: {parts: [{part: rudder, device: r}, {part: plane, device: p}, {part: boom, device: v, pump: o, full_s: 2}]}
`
	says := func(text string) (list []string) {
		for _, one := range made(t, readText(t, text)).Proposals {
			list = append(list, one.Says)
			require.Equal(t, "preset", one.Mode)
		}
		return list
	}
	valve := strings.Replace(boat, ", {id: o, on: rx.3, kind: pump}", "", 1)
	valve = strings.Replace(valve, "pump: o", "pump: r", 1)
	require.Equal(t, []string{"Rudder goes to its middle on a lost signal", "Planes goes to +70 on a lost " +
		"signal",
		"Planes goes to −60 on a lost signal", "Arm closes its valve on a lost signal"}, says(valve))
	require.Equal(t, []string{"Arm closes its valve on a lost signal"}, says(strings.Replace(valve,
		"kind: submarine",
		"kind: boat", 1)))
	require.Equal(t, "Arm stops on a lost signal", says(boat)[3], "a pump goes before")
	p := made(t, readText(t, valve)).Proposals
	require.Equal(t, []float64{5, 70, -60, -2}, []float64{p[0].Value, p[1].Value, p[2].Value, p[3].Value})
	require.NotContains(t, says(strings.Replace(valve, "centre: 5}", "centre: 5, loss: {mode: hold}}", 1)),
		"Rudder goes to its middle on a lost signal")
	require.Empty(t, says(strings.Replace(valve, "can: [preset], preset_pins: all", "can: [hold]", 1)),
		"no pin keeps a position")
	usual := map[string]string{}
	for _, h := range made(t, readText(t, valve)).Hands {
		for _, a := range h.Asks {
			if a.Usual && strings.Contains(a.Says, "drive") {
				usual[h.Of] = a.Says
			}
		}
	}
	require.Equal(t, map[string]string{"controls/x": "drives the model", "controls/y": "drives the model"},
		usual)
}
