package plan

import (
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/core/allot"
	"axtren/core/setup"
	"axtren/demo"
)

func readText(t *testing.T, text string) *setup.Setup {
	t.Helper()
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + text))
	require.NoError(t, err)
	return doc.Setup
}

func made(t *testing.T, s *setup.Setup) *Plan {
	t.Helper()
	p, err := Make(s, nil)
	require.NoError(t, err)
	require.True(t, p.Proved)
	return p
}

// TestHowFast prints how long kits of 32 functions take; with -v, and 1 000 of them in the long test.
// The figures are in docs/plan.md. What is held is that each is proved by few looks.
func TestHowFast(t *testing.T) {
	kits := uint64(200)
	if os.Getenv("AXTREN_LONG") != "" {
		kits = 1000
	} else if testing.Short() {
		kits = 20
	}
	var all []time.Duration
	for seed := range kits {
		s := drawn(t, seed, large).Setup
		began := time.Now()
		p := made(t, s)
		all = append(all, time.Since(began))
		require.Less(t, p.Search.Nodes, 3000, "seed %d", seed)
	}
	slices.Sort(all)
	t.Logf("%d kits: median %v, 95th of 100 %v, the slowest %v", kits, all[kits/2], all[kits*95/100],
		all[kits-1])
}

// One receiver keeps a position on pin 3 only: what must stop goes there, and nothing else moves
// that need not. Common practice, no source.
const onlyPinThree = `
transmitter: {can: {channels: 4}, controls: [{id: gas, kind: axis, stick: right}, {id: wheel, kind: axis, spring: low, form: wheel}, {id: lamp, kind: switch, positions: ["off", "on"]}]}
receivers:
  - {id: rx, failsafe: {can: [hold, preset], preset_pins: [3], otherwise: hold}, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}, {pin: 4, channel: 4}]}
outputs:
  - {id: steer, label: Steering, channel: 1}
  - {id: motor, label: Motor, channel: 2, loss: {mode: preset, value: 0}}
  - {id: light, label: Light, channel: 3}
mixes: [{to: steer, from: wheel}, {to: motor, from: gas}, {to: light, from: lamp}]
devices:
  - {id: servo, label: steering servo, on: rx.1, kind: servo}
  - {id: esc, label: controller, on: rx.2, kind: esc}
  - {id: relay, label: light relay, on: rx.3, kind: relay}
`

func TestWhatMustStopGoesWhereItIsKept(t *testing.T) {
	p := made(t, readText(t, onlyPinThree))
	require.True(t, p.Met)
	require.Empty(t, p.Conflict)
	var at []string
	for _, f := range p.Functions {
		at = append(at, f.Label+" "+f.Leads[0].Pin)
	}
	require.Equal(t, []string{"Steering rx.1", "Motor rx.3", "Light rx.2"}, at)
	require.Equal(t, []string{
		"it goes to a position on a lost signal: only pin 3 can do that",
		"it makes room for Light"}, p.Functions[1].Why)
	require.Equal(t, []string{"it makes room for Motor"}, p.Functions[2].Why)
	require.Equal(t, []string{"where it was: nothing is gained by moving it"}, p.Functions[0].Why)
	var says []string
	for _, c := range p.Changes {
		says = append(says, c.Says)
	}
	require.Equal(t, []string{
		"Motor is on channel 3, and was on 2: key it in anew",
		"the lead of controller goes from pin 2 to pin 3",
		"store what Motor does on a lost signal again: pin 3 is not pin 2",
		"Light is on channel 2, and was on 3: key it in anew",
		"the lead of light relay goes from pin 3 to pin 2"}, says)
	require.Equal(t, "Motor from channel 2 to channel 3, Motor from pin 2 to pin 3, Light from channel 3 to "+
		"channel 2 and Light from pin 3 to pin 2", Summary(p.Changes))
	require.Equal(t, Unused{[]int{4}, []string{"rx.4"}, []setup.ID{},
		"Set to nothing, on purpose: channel 4 and pin 4."}, p.Unused)
	require.Equal(t, [5]int{0, 0, 0, 6, 4}, p.Points)
}

func TestTheSmallestConflictIsSaid(t *testing.T) {
	p := made(t, readText(t, strings.Replace(onlyPinThree, "label: Light, channel: 3",
		"label: Light, channel: 3, loss: {mode: preset, value: 0}", 1)))
	require.False(t, p.Met)
	require.Equal(t, 1, p.Points[Loss])
	require.Equal(t, []Ask{
		{"outputs/motor", "place", "Motor has a place", "leave Motor out, or take a receiver with more pins"},
		{"outputs/motor", "loss", "Motor goes to a position on a lost signal",
			"let Motor do something else on a lost signal, or take a receiver that can do that on more pins"},
		{"outputs/light", "place", "Light has a place", "leave Light out, or take a receiver with more pins"},
		{"outputs/light", "loss", "Light goes to a position on a lost signal",
			"let Light do something else on a lost signal, or take a receiver that can do that on more pins"},
	}, p.Conflict)
}

// A new function gets a control only because it asks for one, of the kind that it asks for.
func TestWhatNothingMovesAsksForAControl(t *testing.T) {
	more := strings.Replace(onlyPinThree, "positions: [\"off\", \"on\"]}]", `positions: ["off", "on"]},
  {id: low, kind: axis, spring: low}, {id: slider, kind: axis, spring: none}, {id: spare, kind: axis}]`, 1)
	more = strings.Replace(more, "mixes:", "  - {id: horn, label: Horn, channel: 4}\nmixes:", 1)
	require.Len(t, made(t, readText(t, more)).Hands, 3)
	asks := strings.Replace(more, "label: Horn,",
		"label: Horn, needs: {by: {kind: proportional, rest: stays}},", 1)
	p := made(t, readText(t, asks))
	require.Equal(t, setup.ID("slider"), p.Hands[3].Control)
	require.Equal(t, "outputs/horn", p.Hands[3].Of)
	require.Equal(t, []Lever{{"slider", "Lever 2"}}, p.Functions[3].Levers)
	require.Equal(t, []setup.ID{"low", "spare"}, p.Unused.Controls)
	none := made(t, readText(t, strings.Replace(asks, "{kind: proportional, rest: stays}",
		"{kind: steps, positions: 4}", 1)))
	require.Equal(t, setup.ID(""), none.Hands[3].Control)
	require.Equal(t, []Ask{{"outputs/horn", "control", "Horn is moved by a switch of 4 positions or more",
		"leave Horn to a rule, or take a transmitter with one more of that kind"}}, none.Conflict)
}

// What a rule, a claim or the start check looks at stays on its control, and nothing takes that.
func TestWhatRulesLookAtStays(t *testing.T) {
	for _, of := range []string{"start_check: [{control: gas, is: {from: -5, to: 5}}]",
		"logic: [{id: fast, block: above, of: gas, level: 50}]"} {
		text := strings.Replace(onlyPinThree, "{id: wheel, kind: axis, spring: low, form: wheel}",
			"{id: wheel, kind: axis, spring: low, form: wheel}, {id: left, kind: axis, stick: left}", 1) +
			of + "\nplan: {hands: [{control: gas, side: left, thumb: true}, {control: wheel, side: left}]}\n"
		p := made(t, readText(t, text))
		require.Equal(t, setup.ID("gas"), p.Hands[0].Control)
		require.True(t, p.Hands[0].Held)
		require.Equal(t, setup.ID("wheel"), p.Hands[1].Control, "it has no side, so nothing is gained")
	}
	free := strings.Replace(onlyPinThree, "{id: wheel, kind: axis, spring: low, form: wheel}",
		"{id: wheel, kind: axis, spring: low, form: wheel}, {id: left, kind: axis, stick: left}", 1) +
		"plan: {hands: [{control: gas, side: left, thumb: true}]}\n"
	require.Equal(t, setup.ID("left"), made(t, readText(t, free)).Hands[0].Control)
}

// A control of its own channel costs a mix elsewhere, unless the order can be set.
func TestAControlOnItsOwnChannel(t *testing.T) {
	own := strings.Replace(onlyPinThree, "kind: axis, stick: right",
		"kind: axis, stick: right, own_channel: 2", 1)
	p := made(t, readText(t, own))
	require.Contains(t, p.Cost, Cost{"mix", "work", 6, "outputs/motor",
		"Motor: a mix, to bring a control to a channel that is not its own"})
	p = made(t, readText(t, own+"link: {sets_order: true}\n"))
	require.Equal(t, 2, p.Functions[1].Channel)
	require.Equal(t, 3, p.Functions[1].Link)
	require.Equal(t, "rx.3", p.Functions[1].Leads[0].Pin)
	require.NotContains(t, fmt.Sprint(p.Cost), "a mix,")
	// no mix is left, and it has to be on channel 3: the limit is one of what cannot be met
	limited := made(t, readText(t, own+"plan: {mixes: 0, hands: [{control: gas, stays: true}]}\n"))
	require.False(t, limited.Met)
	require.Equal(t, "mixes", limited.Conflict[0].Ask)
	require.Equal(t, "there are no mixes to spend", limited.Conflict[0].Says)
	require.Len(t, limited.Conflict, 4, "no other lever is of its kind, so that it stays does not count")
}

// Dropping a wish never makes the best plan cost more.
func TestADroppedWishNeverCosts(t *testing.T) {
	for seed := range uint64(40) {
		doc := drawn(t, seed, small)
		whole := made(t, doc.Setup)
		for i := range doc.Setup.Outputs {
			s := *doc.Setup
			s.Outputs = slices.Clone(s.Outputs)
			if s.Outputs[i].Needs = nil; doc.Setup.Outputs[i].Needs != nil && doc.Setup.Outputs[i].Needs.By != nil {
				continue // its control is a function of its own
			}
			require.LessOrEqual(t, made(t, &s).Search.Cost, whole.Search.Cost, "seed %d, output %d", seed, i)
		}
		s := *doc.Setup
		s.Plan = nil
		if doc.Setup.Plan != nil {
			for _, h := range doc.Setup.Plan.Hands {
				if h.Does != "" || h.Thumb != nil {
					s.Plan = doc.Setup.Plan // what is usual takes its place
				}
			}
		}
		require.LessOrEqual(t, made(t, &s).Search.Cost, whole.Search.Cost, "seed %d", seed)
	}
}

// The next best is what another choice costs at least, and no choice is cheaper.
func TestTheNextBest(t *testing.T) {
	s := readText(t, onlyPinThree)
	next, err := Next(s, nil)
	require.NoError(t, err)
	require.Equal(t, "outputs/light place", next.Of+" "+next.What)
	require.Equal(t, [5]int{}, next.Points, "channel 4 and its pin would do as well")
	require.Empty(t, next.More)
	motor, err := Another(s, "outputs/motor", "place", nil)
	require.NoError(t, err)
	require.True(t, motor.Possible)
	require.Equal(t, 1, motor.Points[Loss])
	require.Contains(t, motor.More, "Motor: a lead is on a pin that cannot do what it must on a lost signal")
	_, err = Another(s, "outputs/nothing", "place", nil)
	require.ErrorContains(t, err, "there is no choice of a place")
	wheel, err := Another(s, "controls/wheel", "control", nil)
	require.NoError(t, err)
	require.False(t, wheel.Possible, "no other axis springs back to its low end")
}

// A plan that is stopped says what it has, and that it is not proved.
func TestAStoppedPlan(t *testing.T) {
	looked := 0
	p, err := Make(drawn(t, 34, large).Setup, func(of allot.Progress) bool {
		looked++
		require.LessOrEqual(t, of.Bound, of.Best)
		return false
	})
	require.NoError(t, err)
	require.Equal(t, 1, looked)
	require.False(t, p.Proved)
	require.Less(t, p.Search.Bound, p.Search.Cost)
	require.Len(t, p.Functions, 32)
}

// Every demo model is planned as it stands, and nothing of it would be gained by another plan.
func TestTheDemoIsPlanned(t *testing.T) {
	models, err := demo.Yard()
	require.NoError(t, err)
	for i := range models {
		p := made(t, models[i].Doc.Setup)
		require.True(t, p.Met, models[i].Doc.Setup.Name)
		require.NotEmpty(t, p.Functions)
		for _, f := range p.Functions {
			require.NotEmpty(t, f.Why)
		}
	}
}

// What is not there is no fault of the plan: nothing at all, no receiver, pins without channels.
func TestLittleOrNothing(t *testing.T) {
	p := made(t, readText(t, ""))
	require.True(t, p.Met)
	require.Equal(t, []Function{}, p.Functions)
	require.Equal(t, []Hand{}, p.Hands)
	p = made(t, readText(t, "receivers: [{id: rx}]\noutputs: [{id: lamp, channel: 9}]"))
	require.Equal(t, 9, p.Functions[0].Channel)
	require.Empty(t, p.Functions[0].Leads)
	p = made(t, readText(t, "transmitter: {can: {channels: 1}}\n"+
		"outputs: [{id: a, channel: 1}, {id: b, channel: 2}]"))
	require.False(t, p.Met)
	require.Len(t, p.Conflict, 2)
}
