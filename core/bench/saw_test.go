package bench_test

import (
	"context"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/bench"
	"axtren/core/diagnose"
	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
)

// allSeen is what somebody saw who saw everything as it should be.
func allSeen(steps []bench.Step) map[bench.Spot]bench.Saw {
	saw := map[bench.Spot]bench.Saw{}
	for n := range steps {
		for _, of := range steps[n].Looked() {
			saw[bench.Spot{Step: n, Of: of}] = bench.Saw{Seen: bench.AsShould}
		}
	}
	return saw
}

// TestWhatWasSeenCounts: what was otherwise, or was not tried, has to be tried again, and nothing else.
func TestWhatWasSeenCounts(t *testing.T) {
	past := pastOf(t, "Marram")
	past.Saw = allSeen(past.Steps)
	list, err := stale(past, past.Doc)
	require.NoError(t, err)
	require.Empty(t, list)
	port := bench.Spot{Step: 1, Of: "devices/port_controller"}
	require.Contains(t, past.Saw, port)
	past.Saw[port] = bench.Saw{Seen: bench.Other}
	delete(past.Saw, bench.Spot{Step: 0, Of: "devices/rudder_servo"})
	list, err = stale(past, past.Doc)
	require.NoError(t, err)
	require.Equal(t, []bench.Again{
		{Step: 0, Of: "devices/rudder_servo", Devices: []setup.ID{"rudder_servo"},
			Why: []string{"It was not tried"}},
		{Step: 1, Of: "devices/port_controller", Devices: []setup.ID{"port_controller"},
			Why: []string{"It did otherwise when it was tried"}}}, list)
	delete(past.Saw, bench.Spot{Step: 2, Of: bench.OfRest})
	list, err = stale(past, past.Doc)
	require.NoError(t, err)
	require.Len(t, list, 3)
	for _, id := range list[2].Devices {
		require.False(t, slices.ContainsFunc(past.Steps[2].Parts,
			func(p bench.Part) bool { return p.Of == "devices/"+string(id) }))
	}
	require.NotEmpty(t, list[2].Devices)
}

// TestADisplayWithoutADevice that read otherwise has to be tried again, though nothing hangs there.
func TestADisplayWithoutADevice(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(`format: axtren-setup
version: 1
transmitter: {controls: [{id: s, kind: axis, label: Stick}]}
outputs: [{id: boom, label: Boom, channel: 1}, {id: bare, label: Bare, channel: 2}]
mixes: [{to: boom, from: s}, {to: bare, from: s}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices: [{id: servo, on: rx.1, kind: servo}]
`))
	require.NoError(t, err)
	p := stepped(t, doc.Setup, false)
	past := &bench.Past{Doc: doc, Script: p.Script(), Steps: p.Steps, Saw: allSeen(p.Steps)}
	n := slices.IndexFunc(p.Steps, func(step bench.Step) bool {
		return slices.Contains(step.Looked(), "outputs/bare")
	})
	require.GreaterOrEqual(t, n, 0)
	list, err := stale(past, doc)
	require.NoError(t, err)
	require.Empty(t, list)
	past.Saw[bench.Spot{Step: n, Of: "outputs/bare"}] = bench.Saw{Seen: bench.Other}
	list, err = stale(past, doc)
	require.NoError(t, err)
	require.Equal(t, []bench.Again{{Step: n, Of: "outputs/bare", Devices: []setup.ID{},
		Why: []string{"It did otherwise when it was tried"}}}, list)
	require.Equal(t, "Bare", bench.Causes(list, []*bench.Past{past}, doc.Setup)[0].Parts[0])
}

// someOf is a walk of some devices of a document, of which all was as it should be.
func someOf(t *testing.T, doc *setup.Document, only ...setup.ID) *bench.Past {
	t.Helper()
	p, err := bench.Steps(context.Background(), doc.Setup, bench.Wish{Only: only}, proof.Budget{Bytes: 64 << 20})
	require.NoError(t, err)
	return &bench.Past{Doc: doc, Script: p.Script(), Steps: p.Steps, Only: only, Saw: allSeen(p.Steps)}
}

// TestTheNewestWalkOfADeviceCounts: after a walk of what was out of date nothing is, and a change of it
// counts
// from there.
func TestTheNewestWalkOfADeviceCounts(t *testing.T) {
	whole := pastOf(t, "Marram")
	whole.Exchanged = []bench.Exchanged{{Part: "rudder_servo", Says: "Rudder servo was exchanged"}}
	list, err := bench.Stale([]*bench.Past{whole}, whole.Doc)
	require.NoError(t, err)
	require.Equal(t, []setup.ID{"rudder_servo"}, bench.DevicesOf(list, whole.Doc.Setup))
	some := someOf(t, whole.Doc, bench.DevicesOf(list, whole.Doc.Setup)...)
	list, err = bench.Stale([]*bench.Past{some, whole}, whole.Doc)
	require.NoError(t, err)
	require.Empty(t, list)
	now := patched(t, whole.Doc, `[{"op": "replace", "path": "/outputs/0/high", "value": 60},
		{"op": "add", "path": "/outputs/1/reverse", "value": true}]`)
	list, err = bench.Stale([]*bench.Past{some, whole}, now)
	require.NoError(t, err)
	for _, one := range list {
		if slices.Contains(one.Devices, "rudder_servo") {
			require.Zero(t, one.Walk)
		} else {
			require.Equal(t, 1, one.Walk)
		}
	}
	causes := bench.Causes(list, []*bench.Past{some, whole}, now.Setup)
	require.Len(t, causes, 2)
	require.Equal(t, "Rudder: “high end” changed from 74 to 60.", causes[0].Says)
	require.Equal(t, []string{"Rudder"}, causes[0].Parts)

	// a day on which something was built in: another day is another part, and one that is said first is not
	dated := patched(t, whole.Doc, `[{"op": "add", "path": "/devices/0/fitted", "value": "3 Nov"}]`)
	list, err = stale(pastOf(t, "Marram"), dated)
	require.NoError(t, err)
	require.Empty(t, list)
	past := *whole
	past.Doc, past.Exchanged = dated, nil
	list, err = stale(&past, patched(t, dated, `[{"op": "replace", "path": "/devices/0/fitted", "value": "27 Nov"}]`))
	require.NoError(t, err)
	require.Equal(t, []setup.ID{dated.Setup.Devices[0].ID}, bench.DevicesOf(list, dated.Setup))
	require.Contains(t, list[0].Why[0], " was exchanged")
}

// TestAWalkOfSomeDevices names them alone, at every step, and shows every single fault that a walk of all
// shows at them, against each fault played by itself.
func TestAWalkOfSomeDevices(t *testing.T) {
	models, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range models {
		s := m.Doc.Setup
		full := stepped(t, s, false)
		d := slices.IndexFunc(s.Devices, func(one setup.Device) bool {
			return one.Kind == "servo" ||
				one.Kind == "esc"
		})
		id := s.Devices[d].ID
		p, err := bench.Steps(context.Background(), s, bench.Wish{Only: []setup.ID{id}},
			proof.Budget{Bytes: 64 << 20})
		require.NoError(t, err)
		require.LessOrEqual(t, len(p.Steps), len(full.Steps), s.Name)
		for _, step := range p.Steps {
			for _, part := range step.Parts {
				require.Equal(t, "devices/"+string(id), part.Of, s.Name)
			}
			require.Equal(t, step.When != bench.Off, len(step.Parts) == 1, "%s: %+v", s.Name, step)
			require.Equal(t, step.When == bench.Off, step.Rest != "")
		}
		require.Less(t, len(p.Walk.Faults), len(full.Walk.Faults))
		require.NotEmpty(t, p.Walk.Faults)
		seen := 0
		for f := range p.Walk.Faults {
			fault := &p.Walk.Faults[f]
			at := slices.IndexFunc(full.Walk.Faults, func(one diagnose.Fault) bool {
				return one.Kind == fault.Kind && slices.Equal(one.Where, fault.Where)
			})
			require.GreaterOrEqual(t, at, 0)
			if p.Walk.Seen[f] >= 0 {
				seen++
			} else {
				require.Negative(t, full.Walk.Seen[at], "%s: %v", s.Name, fault)
			}
		}
		require.Positive(t, seen)
		require.Contains(t, p.Walk.Says(s)[0], "of these parts")
	}
}

// TestTheFaultsOfSomeDevices: a walk of one part looks for every single fault by which it is seen to do
// or read otherwise at any step of a walk of all, and for no channels that are exchanged behind other parts.
func TestTheFaultsOfSomeDevices(t *testing.T) {
	past := pastOf(t, "Marram")
	s := past.Doc.Setup
	const id = "port_controller"
	p, err := bench.Steps(context.Background(), s, bench.Wish{Only: []setup.ID{id}},
		proof.Budget{Bytes: 64 << 20})
	require.NoError(t, err)
	looked := map[string]bool{}
	key := func(f *diagnose.Fault) string { return f.Kind + strings.Join(f.Where, " ") }
	for f := range p.Walk.Faults {
		looked[key(&p.Walk.Faults[f])] = true
	}
	own, _ := s.Pin(s.DevicePin(s.Item(id).Index))
	require.NotNil(t, own)
	then, otherwise, mixed := seenAt(t, past, s), 0, 0
	for _, f := range diagnose.Singles(s) {
		now := seenAt(t, past, diagnose.With(s, f))
		differs := false
		for n := range past.Steps {
			was, is := then[n][id], now[n][id]
			differs = differs || was.says != is.says || was.display != is.display
		}
		if differs {
			otherwise++
			require.True(t, looked[key(&f)], "%s", key(&f))
		} else if f.Kind == diagnose.ChannelsExchanged && !slices.Contains(f.Where, "/outputs/1") {
			mixed++
			require.False(t, looked[key(&f)], "%s", key(&f))
		}
	}
	require.Greater(t, otherwise, 15)
	require.Greater(t, mixed, 20)
}

// TestFromAWalkToADiagnosis: a tug whose port screw turns the wrong way is walked; what was seen, taken to a
// diagnosis, names the cause first, and none that it does not explain.
func TestFromAWalkToADiagnosis(t *testing.T) {
	past := pastOf(t, "Marram")
	s := past.Doc.Setup
	right, err := signal.Compile(s)
	require.NoError(t, err)
	singles := diagnose.Singles(s)
	at := slices.IndexFunc(singles, func(f diagnose.Fault) bool {
		return f.Kind == "reversed" && s.Label(f.Part()) == "Port screw"
	})
	require.GreaterOrEqual(t, at, 0)
	faults := singles[at : at+1]
	then, wrong := seenAt(t, past, s), seenAt(t, past, diagnose.With(s, faults...))
	past.Saw = map[bench.Spot]bench.Saw{}
	others := 0
	for n, step := range past.Steps {
		for _, part := range step.Parts {
			id := strings.TrimPrefix(part.Of, "devices/")
			saw := bench.Saw{Seen: bench.AsShould}
			if wrong[n][id].says != then[n][id].says {
				saw = bench.Saw{Seen: bench.Other, Does: wrong[n][id].says}
				others++
			}
			past.Saw[bench.Spot{Step: n, Of: part.Of}] = saw
		}
	}
	require.Positive(t, others)
	looks, left, err := bench.Known(past)
	require.NoError(t, err)
	require.Zero(t, left)
	require.NotEmpty(t, looks)
	a, err := diagnose.Diagnose(right, looks, diagnose.Wish{Most: 1, Own: true})
	require.NoError(t, err)
	found := diagnose.Likeliest(a.Causes)
	require.NotEmpty(t, found)
	require.True(t, slices.ContainsFunc(found, func(set []diagnose.Fault) bool {
		return len(set) == 1 && set[0].Kind == faults[0].Kind && slices.Equal(set[0].Where, faults[0].Where)
	}), "%v", found)

	// with all as it should be, it says that all is right; a step that needs what was done before is left out
	past.Saw = allSeen(past.Steps)
	looks, left, err = bench.Known(past)
	require.NoError(t, err)
	require.Zero(t, left)
	a, err = diagnose.Diagnose(right, looks, diagnose.Wish{Most: 1, Own: true})
	require.NoError(t, err)
	require.Empty(t, a.Causes[0])
	rudder := past.Steps[0].Parts[0]
	require.Equal(t, 1, rudder.Channel)
	past.Saw[bench.Spot{Step: 0, Of: rudder.Of}] = bench.Saw{Seen: bench.AsShould, Reads: rudder.Display}
	looks, _, err = bench.Known(past)
	require.NoError(t, err)
	require.Equal(t, map[string]float64{"1": 74}, looks[0].Display)
	past.Saw[bench.Spot{Step: len(past.Steps) - 1, Of: past.Steps[len(past.Steps)-1].Parts[0].Of}] = bench.Saw{
		Seen: bench.Nothing}
	_, left, err = bench.Known(past)
	require.NoError(t, err)
	require.Equal(t, 1, left, "the model was switched on: no try from rest tells that")
}

// TestWhatADisplayReads: as figures, one to either side.
func TestWhatADisplayReads(t *testing.T) {
	for _, c := range []struct {
		must, read string
		same, ok   bool
	}{{"+74", "74", true, true}, {"+74", "+73", true, true}, {"+74", "72", false, true}, {"−88", "-88", true,
		true},
		{"1880", "1 880", true, true}, {"+74", "seventy", false, false}, {"to and fro", "12", true, true}, {"−5",
			"5", false, true}} {
		same, ok := bench.ReadsAs(c.must, c.read)
		require.Equal(t, c.ok, ok, c)
		require.Equal(t, c.same, same, c)
	}
}

// TestWhatToSetAgain: what was found with a part that is another one by now.
func TestWhatToSetAgain(t *testing.T) {
	past := pastOf(t, "Marram")
	p, err := signal.Compile(past.Doc.Setup)
	require.NoError(t, err)
	says := func(part string) (list []string) {
		for _, one := range bench.RedoOf(p, past.Doc.Setup.Item(setup.ID(part))) {
			list = append(list, one.Place+": "+one.Says)
		}
		return list
	}
	for _, part := range []string{"rudder_servo", "port_controller", string(past.Doc.Setup.Receivers[0].ID),
		""} {
		t.Logf("%q: %q", part, says(part))
		require.NotEmpty(t, says(part), part)
	}
	require.Contains(t, says("")[0], "sheet: Key the whole sheet in again")
	require.Empty(t, says(string(past.Doc.Setup.Devices[slices.IndexFunc(past.Doc.Setup.Devices,
		func(d setup.Device) bool { return d.Kind == "lamp" })].ID)), "a lamp has nothing to set")
}
