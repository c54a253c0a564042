package bench_test

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/core/bench"
	"axtren/core/diagnose"
	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
	"axtren/internal/golden"
)

// walked works out a walk.
func walked(t testing.TB, s *setup.Setup) *bench.Walk {
	t.Helper()
	ctx, cancel := context.WithTimeout(context.Background(), time.Minute)
	defer cancel()
	walk, err := bench.Find(ctx, s, proof.Budget{Bytes: 64 << 20})
	require.NoError(t, err)
	require.NoError(t, ctx.Err())
	return walk
}

// yard are the setups of the demo by their names.
func yard(t testing.TB) map[string]*setup.Setup {
	t.Helper()
	models, err := demo.Yard()
	require.NoError(t, err)
	list := map[string]*setup.Setup{}
	for _, m := range models {
		list[m.Doc.Setup.Name] = m.Doc.Setup
	}
	return list
}

// sights plays the script of a walk on a setup, and writes down all that is listed at each look.
func sights(t testing.TB, right, with *setup.Setup, walk *bench.Walk, faults ...diagnose.Fault) []string {
	t.Helper()
	p, err := signal.Compile(with)
	require.NoError(t, err)
	seer := diagnose.NewSeer(p, faults...)
	var looks []string
	script := signal.NewScript(strings.NewReader(proof.Script(walk.Rows)), p)
	last := proof.Seconds(walk.Looks[len(walk.Looks)-1].Frame, right)
	err = p.Run(script, last, func(at float64, st *signal.State) error {
		n := len(looks)
		if n == len(walk.Looks) || at != proof.Seconds(walk.Looks[n].Frame, right) {
			return nil
		}
		var b strings.Builder
		for o := range right.Outputs {
			fmt.Fprintf(&b, "%d: %s|", right.Outputs[o].Channel, seer.Display(st, right.Outputs[o].Channel))
		}
		for d := range right.Devices {
			if bench.Lists(right, d) {
				fmt.Fprintf(&b, "%s: %s|", right.Devices[d].ID, seer.Device(st, d))
			}
		}
		looks = append(looks, b.String())
		return nil
	})
	require.NoError(t, err)
	require.Len(t, looks, len(walk.Looks))
	return looks
}

// byForce plays the walk with every single fault, one after the other, and gives the looks at which each is
// seen.
func byForce(t testing.TB, s *setup.Setup, walk *bench.Walk) [][]int {
	t.Helper()
	right := sights(t, s, s, walk)
	var seen [][]int
	for _, f := range diagnose.Singles(s) {
		at := []int{}
		for n, look := range sights(t, s, diagnose.With(s, f), walk, f) {
			if look != right[n] {
				at = append(at, n)
			}
		}
		seen = append(seen, at)
	}
	return seen
}

// keeps plays the walk and tells of what must hold that is broken in it: while the signal is there, and while
// it is lost, or as all stands at power-on.
func keeps(t testing.TB, s *setup.Setup, walk *bench.Walk) (there, lost []int) {
	t.Helper()
	guard, err := proof.NewGuard(s)
	require.NoError(t, err)
	p := guard.Program()
	link, _ := p.Hand("link")
	err = p.Run(signal.NewScript(strings.NewReader(proof.Script(walk.Rows)), p),
		proof.Seconds(walk.Looks[len(walk.Looks)-1].Frame, s), func(_ float64, st *signal.State) error {
			switch claim := guard.Step(st); {
			case claim < 0:
			case st.At(p.HandSlot(link)) == 0, st.Frame == 1:
				lost = append(lost, claim)
			default:
				there = append(there, claim)
			}
			return nil
		})
	require.NoError(t, err)
	return there, lost
}

// count is how many faults a walk shows.
func count(walk *bench.Walk) (seen int) {
	for _, at := range walk.Seen {
		if at >= 0 {
			seen++
		}
	}
	return seen
}

// holds are what every walk has to have.
func holds(t testing.TB, name string, s *setup.Setup, walk *bench.Walk) {
	t.Helper()
	for f, looks := range byForce(t, s, walk) {
		if len(looks) == 0 {
			require.Equal(t, -1, walk.Seen[f], "%s %v", name, walk.Faults[f])
		} else {
			require.Contains(t, looks, walk.Seen[f], "%s %v", name, walk.Faults[f])
		}
	}
	there, lost := keeps(t, s, walk)
	require.Empty(t, there, name)
	require.Equal(t, len(lost) > 0, walk.Broken >= 0, name)
	var when []bench.When
	for n, look := range walk.Looks {
		when = append(when, look.When)
		if n > 0 {
			require.Greater(t, look.Frame, walk.Looks[n-1].Frame)
		}
	}
	n := len(when)
	require.Equal(t, []bench.When{bench.Lost, bench.Back}, when[n-2:], "the signal is lost and comes back")
	require.NotContains(t, when[:n-2], bench.Lost)
	for f := range walk.Seen {
		require.Equal(t, walk.Seen[f] < 0, walk.Why[f] != "", "%s %v", name, walk.Faults[f])
	}
	require.LessOrEqual(t, walk.Least, n)
}

// gone works out a walk of a setup that is written here, and holds it against every fault played by itself.
func gone(t testing.TB, name, text string) (*setup.Setup, *bench.Walk) {
	t.Helper()
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	walk := walked(t, doc.Setup)
	holds(t, name, doc.Setup, walk)
	return doc.Setup, walk
}

// TestEveryFaultIsSeenByForce: what a walk says it shows it shows, at that look, and what it does not show is
// not to be seen at any. Of the demo nothing is left over that could be seen.
func TestEveryFaultIsSeenByForce(t *testing.T) {
	left := map[string]int{"Alder": 1, "Gannet": 4, "Pipit": 2, "Quill": 1}
	for name, s := range yard(t) {
		began := time.Now()
		walk := walked(t, s)
		t.Logf("%s: %d of %d at %d looks in %v", name, count(walk), len(walk.Seen), len(walk.Looks),
			time.Since(began))
		holds(t, name, s, walk)
		require.Equal(t, left[name], len(walk.Seen)-count(walk), name)
		require.Equal(t, walk, walked(t, s), "the same once more")
	}
	all := map[string]int{} // of models that use everything
	for _, m := range golden.Models(t) {
		walk := walked(t, m.Doc.Setup)
		holds(t, m.Name, m.Doc.Setup, walk)
		all[m.Name] = len(walk.Seen) - count(walk)
	}
	require.Equal(t, map[string]int{"everything": 0, "wrong": 27}, all)
}

// TestOfOtherModels: models of the demo that somebody has changed in two places, without what must hold and
// with it.
func TestOfOtherModels(t *testing.T) {
	n := 12
	if testing.Short() {
		n = 4
	}
	all := yard(t)
	names := []string{}
	for name := range all {
		names = append(names, name)
	}
	slices.Sort(names)
	r := rand.New(rand.NewPCG(21, 1))
	for done := 0; done < n; {
		name := names[r.IntN(len(names))]
		s := all[name]
		list := diagnose.Singles(s)
		a, b := list[r.IntN(len(list))], list[r.IntN(len(list))]
		other := diagnose.With(s, a, b)
		if other == nil || a.Kind == b.Kind {
			continue
		}
		if done++; done%3 == 0 {
			other.Claims = nil
			other.Relink()
		}
		if _, err := signal.Compile(other); err == nil {
			holds(t, fmt.Sprint(name, a, b), other, walked(t, other))
		}
	}
}

// greedy is a plain cover: of all stances with one control put somewhere, from power-on, always the one that
// shows most of what none before it has shown. It gives how many it takes, and how much they show.
func greedy(t testing.TB, s *setup.Setup) (looks, seen int) {
	t.Helper()
	p, err := signal.Compile(s)
	require.NoError(t, err)
	list := diagnose.Singles(s)
	var worlds []*diagnose.Seer
	var programs []*signal.Program
	for _, f := range list {
		with, err := signal.Compile(diagnose.With(s, f))
		require.NoError(t, err)
		programs, worlds = append(programs, with), append(worlds, diagnose.NewSeer(with, f))
	}
	look := func(p *signal.Program, seer *diagnose.Seer, hands signal.Hands) string {
		st := p.PowerOn()
		p.Step(st, p.Rest())
		for range 150 {
			p.Step(st, hands)
		}
		var b strings.Builder
		for o := range s.Outputs {
			b.WriteString(seer.Display(st, s.Outputs[o].Channel) + "|")
		}
		for d := range s.Devices {
			b.WriteString(seer.Device(st, d) + "|")
		}
		return b.String()
	}
	var shows [][]int
	for _, try := range diagnose.Tries(p) {
		hand, _ := p.Hand(try.Control)
		v, err := p.HandValue(try.Control, fmt.Sprint(try.At))
		require.NoError(t, err)
		hands := p.Rest()
		hands[hand] = v
		right := look(p, diagnose.NewSeer(p), hands)
		var shown []int
		for f := range list {
			if look(programs[f], worlds[f], hands) != right {
				shown = append(shown, f)
			}
		}
		shows = append(shows, shown)
	}
	left := map[int]bool{}
	for f := range list {
		left[f] = true
	}
	for {
		most, best := 0, 0
		for i := range shows {
			n := 0
			for _, f := range shows[i] {
				if left[f] {
					n++
				}
			}
			if n > most {
				most, best = n, i
			}
		}
		if most == 0 {
			return looks, len(list) - len(left)
		}
		looks++
		for _, f := range shows[best] {
			delete(left, f)
		}
	}
}

// TestAgainstAPlainCover: a walk shows at least as much as a plain cover with one control at a time does, at
// fewer looks, of which two are the lost signal and its return.
func TestAgainstAPlainCover(t *testing.T) {
	for _, name := range []string{"Stoat", "Quill", "Marram"} {
		s := yard(t)[name]
		looks, seen := greedy(t, s)
		walk := walked(t, s)
		t.Logf("%s: %d at %d looks, a plain cover %d at %d", name, count(walk), len(walk.Looks), seen, looks)
		require.GreaterOrEqual(t, count(walk), seen)
		require.LessOrEqual(t, len(walk.Looks), looks)
	}
}

// TestAWalkByHand: a lever and a lamp. One look with the lever away from rest shows all that the signal there
// can show, so the looks at the lost signal and at its return are enough, and no walk has fewer.
func TestAWalkByHand(t *testing.T) {
	s, walk := gone(t, "by hand", `
format: axtren-setup
version: 1
transmitter: {controls: [{id: gas, kind: axis}, {id: lit, kind: switch, positions: ["off", "on"]}]}
mixes: [{to: motor, from: gas}, {to: lamp, from: lit}]
outputs: [{id: motor, channel: 1, low: -80, loss: {mode: preset, value: 0}}, {id: lamp, channel: 2}]
receivers: [{id: rx, loss_after_s: 0.5, failsafe: {can: [hold, preset], otherwise: hold},
  pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices: [{id: esc, on: rx.1, kind: esc}, {id: bulb, on: rx.2, kind: lamp}]
`)
	require.Len(t, walk.Looks, 2)
	require.Equal(t, 2, walk.Least)
	require.Equal(t, len(walk.Faults), count(walk), "%v", walk.Why)
	lost, back := walk.Looks[0], walk.Looks[1]
	require.Equal(t, "still", lost.Devices[0], "its loss position is its stop")
	require.NotEqual(t, "still", back.Devices[0])
	require.NotZero(t, back.Display[0])
	frame := s.Transmitter.FrameS()
	var cut int
	for _, row := range walk.Rows {
		if row.Control == "link" && row.Value == "down" {
			cut = row.Frame
		}
	}
	require.Greater(t, float64(lost.Frame-cut)*frame, 0.5, "after the receiver has noticed")
}

// TestWhyNothingShowsIt: where the setup alone tells that a fault shows nothing, that is said, and of nothing
// else; and so the whole of what is said of a walk.
func TestWhyNothingShowsIt(t *testing.T) {
	s, walk := gone(t, "why", `
format: axtren-setup
version: 1
transmitter: {controls: [{id: gas, kind: axis}]}
mixes: [{to: left, from: gas}, {to: right, from: gas}, {to: left, from: 0}, {to: right, from: 0},
  {to: third, from: 0, bias: 20}]
outputs: [{id: left, channel: 1, label: Left motor}, {id: right, channel: 2, label: Right motor},
  {id: third, channel: 3, label: Lamp}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3},
  {pin: 4, channel: 1}]}]
devices: [{id: port, on: rx.1, kind: esc}, {id: starboard, on: rx.2, kind: esc}, {id: lamp, on: rx.3, kind: servo},
  {id: level, on: rx.4, kind: leveller}]
`)
	why := map[string]string{}
	for f := range walk.Faults {
		if walk.Seen[f] < 0 {
			why[walk.Faults[f].Kind+strings.Join(walk.Faults[f].Where, " ")] = walk.Why[f]
		}
	}
	const zero, same = "what this mix gives is 0, with either sign", "both leads always carry the same"
	require.Equal(t, map[string]string{"sign/mixes/2": zero, "sign/mixes/3": zero,
		"dead/mixes/2": "nothing that was tried shows it", "dead/mixes/3": "nothing that was tried shows it",
		"channels_exchanged/outputs/0 /outputs/1": "both functions always send the same",
		"leads_exchanged/devices/0 /devices/1":    same,
		"leads_exchanged/devices/0 /devices/3":    "both leads carry the same channel",
		"leads_exchanged/devices/1 /devices/3":    same,
		"unplugged/devices/3":                     "nothing hangs behind it that is looked at"}, why)
	said := walk.Says(s)
	require.Equal(t, fmt.Sprintf("%d of %d single faults of this setup would be seen.",
		len(walk.Faults)-len(why), len(walk.Faults)), said[0])
	require.Len(t, said, 2+len(why))
	require.Equal(t, "These 2 steps are the fewest: the signal lost and back.", said[len(said)-1])
}

// TestTheSameIsTreatedOtherwise: two functions that are made alike are not the same where the signal is lost,
// nor are two leads with one channel where a receiver or the link makes something else of it.
func TestTheSameIsTreatedOtherwise(t *testing.T) {
	_, walk := gone(t, "otherwise", `
format: axtren-setup
version: 1
transmitter: {controls: [{id: gas, kind: axis}]}
link: {one_bit: [3], half_rate: [4]}
mixes: [{to: a, from: gas}, {to: b, from: gas}, {to: c, from: gas}, {to: d, from: gas}, {to: e, from: gas}]
outputs: [{id: a, channel: 1, loss: {mode: preset, value: 40}}, {id: b, channel: 2},
  {id: c, channel: 3, loss: {mode: preset, value: 40}}, {id: d, channel: 4, loss: {mode: preset, value: 40}},
  {id: e, channel: 5, loss: {mode: preset, value: 40}}]
receivers: [{id: rx, failsafe: {can: [hold, preset], preset_pins: [1, 3, 4, 5]}, pins: [{pin: 1, channel: 1},
  {pin: 2, channel: 1}, {pin: 3, channel: 3}, {pin: 4, channel: 4}, {pin: 5, channel: 5},
  {pin: 6, channel: 2, switch: {on: above, at_us: 1500, level: low}}, {pin: 7, channel: 2}]}]
devices: [{id: first, on: rx.1, kind: servo}, {id: second, on: rx.2, kind: servo},
  {id: third, on: rx.3, kind: servo},
  {id: fourth, on: rx.4, kind: servo}, {id: fifth, on: rx.5, kind: servo},
  {id: relay, on: rx.6, kind: relay, turns_on: below}, {id: lamp, on: rx.7, kind: lamp, turns_on: below}]
`)
	same := map[string]string{}
	for f, why := range walk.Why {
		if strings.HasPrefix(why, "both") {
			same[walk.Faults[f].Kind+strings.Join(walk.Faults[f].Where, " ")] = why
		}
	}
	const both, leads = "both functions always send the same", "both leads always carry the same"
	require.Equal(t, map[string]string{
		"channels_exchanged/outputs/0 /outputs/2": both, "channels_exchanged/outputs/0 /outputs/3": both,
		"channels_exchanged/outputs/0 /outputs/4": both, "channels_exchanged/outputs/2 /outputs/3": both,
		"channels_exchanged/outputs/2 /outputs/4": both, "channels_exchanged/outputs/3 /outputs/4": both,
		"leads_exchanged/devices/0 /devices/4": leads}, same)
	for _, kind := range []string{"channels_exchanged/outputs/0 /outputs/1",
		"leads_exchanged/devices/0 /devices/1", "leads_exchanged/devices/0 /devices/2",
		"leads_exchanged/devices/5 /devices/6"} {
		f := slices.IndexFunc(walk.Faults, func(f diagnose.Fault) bool {
			return f.Kind+strings.Join(f.Where, " ") == kind
		})
		require.GreaterOrEqual(t, walk.Seen[f], 0, kind)
	}
}

// TestBehindALeveller: what hangs behind one shows what became of its lead, and what it is exchanged with.
func TestBehindALeveller(t *testing.T) {
	_, walk := gone(t, "behind", `
format: axtren-setup
version: 1
transmitter: {controls: [{id: x, kind: axis}, {id: y, kind: axis}]}
mixes: [{to: bow, from: x}, {to: stern, from: y}]
outputs: [{id: bow, channel: 1}, {id: stern, channel: 2}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices: [{id: first, on: rx.1, kind: leveller}, {id: second, on: rx.2, kind: leveller},
  {id: planes, on: first, kind: servo}, {id: rudder, on: second, kind: servo}]
`)
	require.Equal(t, len(walk.Faults), count(walk), "%v", walk.Why)
	var kinds []string
	for f := range walk.Faults {
		if walk.Faults[f].Part().Kind == setup.IsDevice {
			kinds = append(kinds, walk.Faults[f].Kind+strings.Join(walk.Faults[f].Where, " "))
		}
	}
	require.Equal(t, []string{"leads_exchanged/devices/0 /devices/1", "crossed/devices/2", "crossed/devices/3",
		"unplugged/devices/0", "unplugged/devices/1", "unplugged/devices/2", "unplugged/devices/3"}, kinds)
}

// TestWhatTakesSeveralPresses: what waits for the third press of a button, with another one held, is brought
// about, a press at a time.
func TestWhatTakesSeveralPresses(t *testing.T) {
	_, walk := gone(t, "presses", `
format: axtren-setup
version: 1
transmitter: {controls: [{id: key, kind: switch, positions: ["off", "on"], spring_to: "off"},
  {id: guard, kind: switch, positions: ["shut", "open"], spring_to: "shut"}]}
logic: [{id: step, block: and, in: [key.on, guard.open]}]
steppers: [{id: count, up: step, steps: [{name: none, value: 0}, {name: one, value: 0}, {name: two, value: 0},
  {name: three, value: 0}]}]
mixes: [{to: lamp, from: 60, when: count.three}]
outputs: [{id: lamp, channel: 1}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}]}]
devices: [{id: bulb, on: rx.1, kind: lamp}]
`)
	require.Equal(t, len(walk.Faults), count(walk), "%v", walk.Why)
	presses := 0
	for _, row := range walk.Rows {
		if row.Control == "key" && row.Value == "on" {
			presses++
		}
	}
	require.GreaterOrEqual(t, presses, 3)
}

// TestWhatShowsOnTheWayBack: that one of two mixes is dead that are each enough shows only while a third
// fades out again, after a switch was thrown, left there and thrown back.
func TestWhatShowsOnTheWayBack(t *testing.T) {
	_, walk := gone(t, "back", `
format: axtren-setup
version: 1
transmitter: {controls: [{id: key, kind: switch, positions: ["off", "on"]}]}
logic: [{id: thrown, block: and, in: [key.on]}]
mixes: [{to: flag, from: thrown, when: thrown, fade_s: 1}, {to: flag, from: 100}, {to: flag, from: 100}]
outputs: [{id: flag, channel: 1}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}]}]
devices: [{id: arm, on: rx.1, kind: servo}]
`)
	for f := range walk.Faults { // what fades only ever adds to what is more than enough
		require.Equal(t, slices.Equal(walk.Faults[f].Where, []string{"/mixes/0"}), walk.Seen[f] < 0,
			"%v", walk.Faults[f])
	}
	thrown := []string{}
	for _, row := range walk.Rows {
		if row.Control == "key" {
			thrown = append(thrown, row.Value)
		}
	}
	require.Equal(t, []string{"on", "off"}, thrown)
}

// TestWhatShowsAfterPowerOn: what lasts only so long after power has come is brought about by switching off
// and on, of the transmitter or of the model, also where a switch has to be thrown before; a person does not
// look sooner than 0.3 s after it.
func TestWhatShowsAfterPowerOn(t *testing.T) {
	s, walk := gone(t, "power", `
format: axtren-setup
version: 1
transmitter: {controls: [{id: gas, kind: axis}, {id: key, kind: switch, positions: ["off", "on"]}]}
logic: [{id: long, block: tof, in: power_on, for_s: 1}, {id: short, block: tof, in: power_on, for_s: 0.1},
  {id: thrown, block: and, in: [key.on, long]}]
mixes: [{to: motor, from: gas}, {to: flag, from: 60, when: thrown}, {to: horn, from: 60, when: short}]
outputs: [{id: motor, channel: 1}, {id: flag, channel: 2}, {id: horn, channel: 3}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}]}]
devices: [{id: esc, on: rx.1, kind: esc}, {id: arm, on: rx.2, kind: servo}, {id: hooter, on: rx.3, kind: servo}]
`)
	require.Equal(t, len(walk.Faults), count(walk), "%v", walk.Why)
	p := stepped(t, s, false)
	unseen := []string{}
	for f, at := range p.Walk.Seen {
		if at < 0 {
			unseen = append(unseen, p.Walk.Faults[f].Kind+strings.Join(p.Walk.Faults[f].Where, " "))
		}
	}
	require.Equal(t, []string{"reversed/outputs/2", "sign/mixes/2", "dead/mixes/2", "crossed/devices/2",
		"unplugged/devices/2"}, unseen)
	at := slices.IndexFunc(p.Steps, func(one bench.Step) bool {
		return slices.ContainsFunc(one.Parts, func(part bench.Part) bool {
			return part.Of == "devices/arm" && part.Display == "+60"
		})
	})
	require.GreaterOrEqual(t, at, 0)
	does := strings.Join(p.Steps[at].Does, " ")
	require.Regexp(t, `Switch the transmitter off\. .*Switch the transmitter on\. Look after 0\.\d s, while it `+
		`moves\.$`, does)
}

// TestAControllerIsShownItsNeutral: one that waits for its neutral gets it before it is asked for anything,
// where that is not the middle of a lever too.
func TestAControllerIsShownItsNeutral(t *testing.T) {
	for _, learned := range []string{"{low: 1000, neutral: 1500, high: 2000}",
		"{low: 1100, neutral: 1570, high: 1900}"} {
		_, walk := gone(t, learned, `
format: axtren-setup
version: 1
transmitter: {controls: [{id: gas, kind: axis, spring: none, start: 100}]}
mixes: [{to: motor, from: gas}]
outputs: [{id: motor, channel: 1}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}]}]
devices: [{id: esc, on: rx.1, kind: esc, needs_neutral: true, learned_us: `+learned+`}]
`)
		require.Equal(t, len(walk.Faults), count(walk), "%s %v", learned, walk.Why)
	}
}

// TestASlowPartIsWaitedFor: a person looks when all is still.
func TestASlowPartIsWaitedFor(t *testing.T) {
	s, walk := gone(t, "slow", `
format: axtren-setup
version: 1
transmitter: {controls: [{id: x, kind: axis}]}
mixes: [{to: hatch, from: x}]
outputs: [{id: hatch, channel: 1, loss: {mode: preset, value: -50}}]
receivers: [{id: rx, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: arm, on: rx.1, kind: servo, speed_s: 6}]
`)
	p, err := signal.Compile(s)
	require.NoError(t, err)
	var at []float64
	last := walk.Looks[len(walk.Looks)-1].Frame
	require.NoError(t, proof.Play(p, walk.Rows, last+50, func(_ int, st *signal.State) bool {
		at = append(at, st.At(p.Devices[0].Value))
		return true
	}))
	for _, look := range walk.Looks {
		require.Equal(t, at[look.Frame], at[look.Frame-10], "it still moves in frame %d", look.Frame)
	}
	require.Equal(t, at[last], at[last+50])
}

// TestWhatMustHoldIsKept: the screw is never above 50, so what shows only beyond that is not shown, and it is
// said why.
func TestWhatMustHoldIsKept(t *testing.T) {
	text := `
format: axtren-setup
version: 1
transmitter: {controls: [{id: gas, kind: axis}, {id: boost, kind: switch, positions: ["off", "on"]}]}
mixes: [{to: motor, from: gas, gain: 50}, {to: motor, from: 30, when: boost.on}]
outputs: [{id: motor, channel: 1}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}]}]
devices: [{id: esc, on: rx.1, kind: esc}]
claims: [{id: tame, never: [boost.on]}]
`
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	walk := walked(t, doc.Setup)
	holds(t, "kept", doc.Setup, walk)
	why := map[string]string{}
	for f := range walk.Faults {
		if walk.Seen[f] < 0 {
			why[walk.Faults[f].Kind+walk.Faults[f].Where[0]] = walk.Why[f]
		}
	}
	const must = "it shows only where something is broken that must hold"
	require.Equal(t, map[string]string{"sign/mixes/1": must, "dead/mixes/1": must}, why)
	free, err := setup.ReadYAML([]byte(text[:strings.Index(text, "claims:")]))
	require.NoError(t, err)
	require.Equal(t, len(walk.Faults), count(walked(t, free.Setup)))
}

// TestTimeIsOver: what was found by then is given, and a cancelled search gives an error.
func TestTimeIsOver(t *testing.T) {
	s := yard(t)["Marram"]
	ctx, cancel := context.WithDeadline(context.Background(), time.Now().Add(-time.Second))
	defer cancel()
	walk, err := bench.Find(ctx, s, proof.Budget{Bytes: 1 << 20})
	require.NoError(t, err)
	holds(t, "no time", s, walk)
	require.Contains(t, strings.Join(walk.Why, " "), "the time was over")
	gone, cancelled := context.WithCancel(context.Background())
	cancelled()
	_, err = bench.Find(gone, s, proof.Budget{Bytes: 1 << 20})
	require.ErrorIs(t, err, context.Canceled)
}

// wide is a model of n functions, of which each has a mix of its own.
func wide(t testing.TB, n int) *setup.Document {
	t.Helper()
	var outputs, mixes, pins, devices []string
	for i := range n {
		outputs = append(outputs, fmt.Sprintf("{id: o%d, channel: %d}", i, i+1))
		mixes = append(mixes, fmt.Sprintf("{to: o%d, from: %s, gain: %d}", i, []string{"x", "y", "z"}[i%3], 100-i))
		pins = append(pins, fmt.Sprintf("{pin: %d, channel: %d}", i+1, i+1))
		devices = append(devices, fmt.Sprintf("{id: d%d, on: rx.%d, kind: servo}", i, i+1))
	}
	list := func(of []string) string { return "[" + strings.Join(of, ", ") + "]" }
	doc,
		err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\ntransmitter: {controls: " +
		"[{id: x, kind: axis}, " +
		"{id: y, kind: axis}, {id: z, kind: axis}]}\noutputs: " + list(outputs) + "\nmixes: " + list(mixes) +
		"\nreceivers: [{id: rx, pins: " + list(pins) + "}]\ndevices: " + list(devices) + "\n"))
	require.NoError(t, err)
	return doc
}

// BenchmarkFortyFunctions: a walk is to be there in less than 200 ms.
func BenchmarkFortyFunctions(b *testing.B) {
	s := wide(b, 40).Setup
	for b.Loop() {
		walked(b, s)
	}
}
