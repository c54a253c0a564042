package diagnose

import (
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/words"
	"axtren/demo"
)

// planted draws so many single faults at once, of those that the document may have together.
func planted(t testing.TB, doc *setup.Document, r *rand.Rand, n int) ([]Fault, *setup.Setup) {
	all := candidates(doc.Setup, false)
	for {
		var faults []Fault
		for _, i := range r.Perm(len(all))[:n] {
			faults = append(faults, all[i])
		}
		slices.SortFunc(faults, before)
		if s := edited(t, doc, faults); s != nil {
			return faults, s
		}
	}
}

// TestHowManyTests: three faults planted in each demo model, and the looks that are asked for made until
// one set is left, or no look tells the rest apart: with a display on the transmitter, and without one.
// How many that takes is printed.
func TestHowManyTests(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	r := rand.New(rand.NewPCG(7, 8))
	for _, display := range []bool{true, false} {
		tests, runs, one := 0, 0, 0
		for _, m := range yard {
			p := compiled(t, m.Doc.Setup)
			for range 2 {
				faults, after := planted(t, m.Doc, r, 3)
				looks := []Look{}
				a, err := Diagnose(p, looks, Wish{Most: 3, Ask: true})
				require.NoError(t, err)
				require.NotNil(t, a.Next, "nothing was looked at yet")
				for a.Next != nil && a.Next.LeavesAtMost != len(a.Causes) && len(looks) < 20 {
					if slices.ContainsFunc(looks, func(l Look) bool { return reflect.DeepEqual(l.Hands, a.Next.Hands) }) {
						break // only what was not looked at tells them apart
					}
					look := watched(t, after, faults, a.Next.Hands)
					if !display {
						look.Display = nil
					}
					looks = append(looks, look)
					a, err = Diagnose(p, looks, Wish{Most: 3, Ask: true})
					require.NoError(t, err)
					require.NotEmpty(t, a.Causes)
				}
				require.Less(t, len(looks), 20, m.Doc.Setup.Name)
				require.LessOrEqual(t, len(a.Causes[0]), 3)
				if len(a.Causes[0]) == 3 {
					require.Contains(t, named(a.Causes), named([][]Fault{faults})[0])
				}
				tests += len(looks)
				runs++
				if len(a.Causes) == 1 {
					one++
				}
			}
		}
		mean := float64(tests) / float64(runs)
		t.Logf("display %v: %d times three faults: %.2f tests in the mean, one set left in %d", display, runs,
			mean, one)
		require.LessOrEqual(t, mean, 3.5)
	}
}

// TestOneSightIsWrong: of what is seen one thing is said wrongly, so that nothing explains it all. It is
// among those that would make sense if they were otherwise, with what there really was, and each of those
// named does make sense of the others when it is left out.
func TestOneSightIsWrong(t *testing.T) {
	doc := document(t, tank)
	p := compiled(t, doc.Setup)
	r := rand.New(rand.NewPCG(9, 9))
	for range 6 {
		faults, after := planted(t, doc, r, 1)
		looks := looksOf(t, after, faults, 2, r)
		is := looks[1].Seen["glow"]
		looks[1].Seen["glow"] = map[string]string{"on": "off", "off": "on"}[is]
		a, err := Diagnose(p, looks, Wish{Most: 1, Ask: true})
		require.NoError(t, err)
		if len(a.Causes) > 0 { // the lamp's own fault
			continue
		}
		found := false
		for _, d := range a.Doubts {
			if d.Look == 1 && d.Device >= 0 && doc.Setup.Devices[d.Device].ID == "glow" {
				found = true
				require.Contains(t, d.Would, is)
			}
			without := slices.Clone(looks)
			if d.Device < 0 {
				continue
			}
			id := string(doc.Setup.Devices[d.Device].ID)
			seen := map[string]string{}
			for k, v := range looks[d.Look].Seen {
				if k != id {
					seen[k] = v
				}
			}
			require.NotContains(t, d.Would, d.Saw)
			without[d.Look].Seen = seen
			again, err := Diagnose(p, without, Wish{Most: 1})
			require.NoError(t, err)
			require.NotEmpty(t, again.Causes)
			for _, would := range d.Would {
				seen[id] = would
				again, err = Diagnose(p, without, Wish{Most: 1})
				require.NoError(t, err)
				require.NotEmpty(t, again.Causes, "%s %s", id, would)
			}
		}
		require.True(t, found, "planted %v", named([][]Fault{faults}))
	}
}

// wider has what the wider kinds are of: feels, a share, a leader, controllers and a free channel.
const wider = `format: axtren-setup
version: 1
name: Wider
transmitter:
  controls: [{id: drive, kind: axis}, {id: turn, kind: axis}]
demands: [{id: soft, from: turn, rate: 60, expo: 30}, {id: plain, from: drive}]
outputs: [{id: left, channel: 1}, {id: right, channel: 2}, {id: winch, channel: 3}]
mixes:
  - {to: left, from: plain}
  - {to: left, from: soft}
  - {to: right, from: plain}
  - {to: right, from: soft, gain: -100}
  - {to: winch, from: left.asked, gain: -50}
shares: [{outputs: [left, right], rule: scale}]
link: {channels: 6}
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices: [{id: port, on: rx.1, kind: esc}, {id: starboard, on: rx.2, kind: esc, learned_us: {low: 1100, neutral: 1520, high: 1900}}]
`

// TestWiderFaults: each is seen in a few looks, and named among what explains them only where it is asked
// for; a share that clips, a feel that does nothing and a mix of a stick have none of their own.
func TestWiderFaults(t *testing.T) {
	doc := document(t, wider)
	p := compiled(t, doc.Setup)
	var kindsOf []string
	for _, f := range candidates(doc.Setup, true)[len(candidates(doc.Setup, false)):] {
		kindsOf = append(kindsOf, named([][]Fault{{f}})[0])
		var looks []Look
		w := &world{turn: map[int]bool{}}
		w.s = applied(doc.Setup, []Fault{f})
		w.p = compiled(t, w.s)
		for _, hands := range []map[string]any{{}, {"drive": 100.0, "turn": 50.0}, {"turn": -50.0}} {
			look := Look{Hands: hands, Display: map[string]float64{}, Seen: map[string]string{}}
			at := w.p.Rest()
			for id, v := range hands {
				hand, _ := w.p.Hand(id)
				at[hand] = v.(float64)
			}
			st := played(w.p, at)
			for i, d := range doc.Setup.Devices {
				look.Seen[string(d.ID)] = shows(w, st, 0, i)
			}
			for _, channel := range []string{"1", "2", "3"} {
				v, ok := words.Number(shows(w, st, int(channel[0]-'0'), -1))
				require.True(t, ok)
				look.Display[channel] = v
			}
			looks = append(looks, look)
		}
		a, err := Diagnose(p, looks, Wish{Most: 1, Wide: true})
		require.NoError(t, err)
		require.Contains(t, named(a.Causes), named([][]Fault{{f}})[0], "%v", looks)
		narrow, err := Diagnose(p, looks, Wish{Most: 1})
		require.NoError(t, err)
		require.NotContains(t, named(narrow.Causes), named([][]Fault{{f}})[0])
		wrong, mend := f.Says(doc.Setup)
		require.NotEmpty(t, mend)
		require.NotContains(t, wrong, "/")
	}
	require.Equal(t, []string{"wrong_channel /outputs/0", "wrong_channel /outputs/1", "wrong_channel /outputs/2",
		"masters_exchanged /mixes/4",
		"feel_not_keyed /demands/0", "share_not_keyed /shares/0", "neutral_high /devices/0", "neutral_high " +
			"/devices/1",
		"neutral_low /devices/0", "neutral_low /devices/1"}, kindsOf)
}

// TestLikeliestFirst: a reversed channel before exchanged leads, these before crossed wires, two before
// three; of equals the order stays.
func TestLikeliestFirst(t *testing.T) {
	of := func(kinds ...kind) (set []Fault) {
		for _, k := range kinds {
			set = append(set, Fault{kind: k})
		}
		return set
	}
	list := [][]Fault{of(crossed), of(shareNotKeyed), of(leadsExchanged), of(unplugged), of(reversed)}
	require.Equal(t, [][]Fault{list[4], list[2], list[3], list[0], list[1]}, Likeliest(list))
	require.Equal(t, of(crossed), list[0], "the list itself stays")
}

// TestWhatCanBeLookedAt: in the harbour tug a screw turns ahead or astern, ahead first also where it is
// turned round, a rudder goes to a side, a servo that no part shows goes as with what moves it, a
// lamp on a controller is on or off, and a figure is of a channel in what the display counts.
func TestWhatCanBeLookedAt(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	of := func(name string) Sights {
		i := slices.IndexFunc(yard, func(m demo.Model) bool { return m.Doc.Setup.Name == name })
		return SightsOf(compiled(t, yard[i].Doc.Setup))
	}
	list := of("Marram")
	says := func(id string) (all []string) {
		for _, one := range list.Devices {
			if one.ID == id {
				for _, said := range one.Says {
					all = append(all, said.Key+" "+said.Words)
				}
			}
		}
		return all
	}
	require.Equal(t, []string{"plus turns ahead", "minus turns astern", "still stays still"},
		says("port_controller"))
	require.Equal(t, []string{"minus turns ahead", "plus turns astern", "still stays still"},
		says("starboard_controller"))
	require.Equal(t, []string{"plus goes to starboard", "minus goes to port", "still stays still"},
		says("rudder_servo"))
	require.Equal(t, []string{"on on", "off off"}, says("blue_relay"))
	require.Equal(t, DisplaySight{2, "Port screw", "−100 to +100"}, list.Displays[1])

	list = of("Stoat")
	require.Equal(t, []string{"plus on", "minus on, the other way round", "still off"}, says("flood_dimmer"))

	list = SightsOf(compiled(t, document(t, tank).Setup))
	require.Equal(t, []string{"plus goes as it should with Lever 1 held all the way towards +100",
		"minus goes as it should with Lever 1 held all the way towards −100", "still stays still"}, says("boom"))
	require.Equal(t, []string{"step 1 step 1", "step 2 step 2", "step 3 step 3"}, says("box"))
	require.Nil(t, says("level"), "a leveller is not looked at")
}

// TestADisplayThatCountsOtherwise: a transmitter that counts from 0 to 100 shows 100 for what is 100
// percent, and 0 for −100.
func TestADisplayThatCountsOtherwise(t *testing.T) {
	doc := document(t, strings.Replace(tank, "  controls:\n", "  can: {scales: {display: span}}\n  controls:\n",
		1))
	p := compiled(t, doc.Setup)
	looks := []Look{{Hands: map[string]any{"drive": 100.0}, Display: map[string]float64{"1": 91, "2": 0}}}
	a, err := Diagnose(p, looks, Wish{Most: 1, Own: true})
	require.NoError(t, err)
	require.Equal(t, [][]Fault{{}}, a.Causes, "80 percent is 90, read one off; reversed 100 is 0")
	looks[0].Display["1"] = 92
	a, err = Diagnose(p, looks, Wish{Most: 0, Own: true})
	require.NoError(t, err)
	require.Empty(t, a.Causes, "two off is something else")
	a, err = Diagnose(p, looks, Wish{Most: 1})
	require.NoError(t, err)
	require.Empty(t, a.Causes)
}

// TestAFilmOfAFault: while the hands go ahead both tracks turn ahead as they should; with crossed wires
// one goes back, and what its motor moves goes the other way from where it stood. The model stays put.
func TestAFilmOfAFault(t *testing.T) {
	doc := document(t, strings.Replace(tank, "kind: esc, needs_neutral: true}",
		"kind: esc, travel: {full_s: 10, start: 50}}",
		1)+"craft: {kind: tracked}\nstage: {top_mm_s: 100, parts: [{part: hull, at_mm: [0, 0]}, "+
		"{part: track, device: port, at_mm: [0, -50]}, {part: dial, device: port, at_mm: [0, 0], gives: at}]}\n")
	p := compiled(t, doc.Setup)
	hands := map[string]any{"drive": 100.0}
	turning := func(faults ...Fault) (track, dial []float64) {
		film, err := Play(p, faults, hands)
		require.NoError(t, err)
		where := film.Picture.Where
		for _, frame := range film.Frames {
			require.Zero(t, frame[where.X])
			require.Len(t, frame, where.First+where.Each*len(film.Picture.Parts))
			track, dial = append(track, frame[where.First+where.Each]), append(dial, frame[where.First+2*where.Each])
		}
		require.InDelta(t, 3000, film.EveryMS*float64(len(film.Frames)), 200)
		return track, dial
	}
	track, dial := turning()
	require.Zero(t, track[0], "all at rest")
	require.Greater(t, slices.Min(track[1:]), 50.0)
	crossedWires, err := FaultsAt(doc.Setup, []Fault{{Kind: "crossed", Where: []string{"/devices/0"}}})
	require.NoError(t, err)
	back, other := turning(crossedWires...)
	for i := range track {
		require.InDelta(t, -track[i], back[i], 1e-9)
		require.InDelta(t, 100-dial[i], other[i], 0.1)
	}
	require.Greater(t, dial[len(dial)-1], 70.0)
	_, err = FaultsAt(doc.Setup, []Fault{{Kind: "crossed", Where: []string{"/devices/2"}}})
	require.ErrorContains(t, err, "faults[0]")
	_, err = Play(p, nil, map[string]any{"nobody": 1.0})
	require.ErrorContains(t, err, "there is no such control")
}
