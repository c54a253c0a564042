package bench_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/bench"
	"axtren/core/diagnose"
	"axtren/core/edit"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
)

// pastOf is a walk that was just gone of a model of the demo.
func pastOf(t testing.TB, name string) *bench.Past {
	t.Helper()
	models, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range models {
		if m.Doc.Setup.Name == name {
			p := stepped(t, m.Doc.Setup, false)
			return &bench.Past{Doc: m.Doc, Script: p.Script(), Steps: p.Steps}
		}
	}
	t.Fatal(name)
	return nil
}

// stale is what of one walk has to be tried again.
func stale(past *bench.Past, now *setup.Document, exchanged ...bench.Exchanged) ([]bench.Again, error) {
	of := *past
	of.Exchanged = exchanged
	return bench.Stale([]*bench.Past{&of}, now)
}

// patched gives a document that was edited; into the parts of a list it steps by their ids.
func patched(t testing.TB, doc *setup.Document, patch string) *setup.Document {
	t.Helper()
	var ops, all []edit.Op
	require.NoError(t, json.Unmarshal([]byte(patch), &ops))
	for _, op := range ops {
		steps := setup.PointerParts(op.Path)
		for end := 2; end <= len(steps); end++ {
			if id := doc.Tree.At(steps[:end]...).Get("id"); id != nil {
				value, err := json.Marshal(id.Text)
				require.NoError(t, err)
				all = append(all, edit.Op{Op: "test", Path: "/" + strings.Join(steps[:end], "/") + "/id",
					Value: (*json.RawMessage)(&value)})
			}
		}
		all = append(all, op)
	}
	after, err := edit.ApplyOps(doc, all)
	require.NoError(t, err)
	return after.Doc
}

// parts lists what has to be tried again, each once, in order.
func parts(list []bench.Again) []string {
	var all []string
	for _, one := range list {
		if !slices.Contains(all, one.Of) {
			all = append(all, one.Of)
		}
	}
	return all
}

// TestWhatAChangeMakesStale: each with what was changed, and nothing else.
func TestWhatAChangeMakesStale(t *testing.T) {
	past := pastOf(t, "Marram")
	list, err := stale(past, past.Doc)
	require.NoError(t, err)
	require.Equal(t, []bench.Again{}, list, "nothing was changed")

	// a name changes nothing that could be tried
	list, err = stale(past, patched(t, past.Doc, `[{"op": "replace", "path": "/name", "value": "Tug"},
		{"op": "replace", "path": "/outputs/0/label", "value": "Helm"}]`))
	require.NoError(t, err)
	require.Empty(t, list)

	// an end of the rudder: only where the rudder goes to that side
	end := patched(t, past.Doc, `[{"op": "replace", "path": "/outputs/0/high", "value": 60}]`)
	list, err = stale(past, end)
	require.NoError(t, err)
	require.Equal(t, []string{"devices/rudder_servo"}, parts(list))
	for _, one := range list {
		require.Equal(t, []string{"Rudder: “high end” changed from 74 to 60"}, one.Why)
		part := past.Steps[one.Step].Parts[0]
		require.Contains(t, part.Should, "goes to starboard", "step %d", one.Step)
	}
	right := 0
	for _, step := range past.Steps {
		if len(step.Parts) > 0 && step.Parts[0].Of == "devices/rudder_servo" &&
			strings.Contains(step.Parts[0].Should, "to starboard") {
			right++
		}
	}
	require.Len(t, list, right)
	require.Equal(t, []bench.Cause{{Says: "Rudder: “high end” changed from 74 to 60.", Parts: []string{"Rudder"},
		Steps: right}}, bench.Causes(list, []*bench.Past{past}, end.Setup))

	// a part that was exchanged: all of its steps, and not one of another's
	list, err = stale(past, past.Doc, bench.Exchanged{Part: "rudder_servo", Says: "Rudder servo exchanged"})
	require.NoError(t, err)
	require.Equal(t, []string{"devices/rudder_servo", "rest"}, parts(list))
	for _, one := range list {
		require.Equal(t, []string{"Rudder servo exchanged"}, one.Why)
	}
	steps := map[int]bool{}
	for _, one := range list {
		steps[one.Step] = true
	}
	require.Len(t, steps, len(past.Steps))

	// the receiver, or the memory: everything
	for _, part := range []setup.ID{past.Doc.Setup.Receivers[0].ID, ""} {
		list, err = stale(past, past.Doc, bench.Exchanged{Part: part, Says: "Another one"})
		require.NoError(t, err)
		all := parts(list)
		for i := range past.Doc.Setup.Devices {
			if bench.Lists(past.Doc.Setup, i) {
				require.Contains(t, all, "devices/"+string(past.Doc.Setup.Devices[i].ID))
			}
		}
	}

	// a control that is gone: from where it was moved on
	gone := patched(t, past.Doc, `[{"op": "remove", "path": "/mixes/15"}, {"op": "remove", "path": "/transmitter/controls/8"}]`)
	require.Zero(t, gone.Setup.Item("whistle_key").Kind)
	list, err = stale(past, gone)
	require.NoError(t, err)
	first := slices.IndexFunc(past.Steps,
		func(s bench.Step) bool { return strings.Contains(s.Does[len(s.Does)-1], "Rear button") })
	require.Positive(t, first)
	for n := first; n < len(past.Steps); n++ {
		require.True(t, slices.ContainsFunc(list, func(a bench.Again) bool { return a.Step == n }), "step %d", n+1)
	}
	require.Contains(t, fmt.Sprint(list), "there is nothing of this name to move")
}

// TestADeviceThatIsNew was in no step.
func TestADeviceThatIsNew(t *testing.T) {
	past := pastOf(t, "Pipit")
	device, err := json.Marshal(map[string]any{"id": "fan", "label": "fan", "on": "rx.3", "kind": "lamp"})
	require.NoError(t, err)
	now := patched(t, past.Doc, `[{"op": "add", "path": "/devices/-", "value": `+string(device)+`}]`)
	list, err := stale(past, now)
	require.NoError(t, err)
	require.Equal(t, []bench.Again{{Step: -1, Of: "devices/fan", Devices: []setup.ID{"fan"},
		Why: []string{"It was never tried"}}}, list)
}

// TestStaleIsWhatIsOtherwise: over random edits of the demo, against plain runs of both documents: a part
// that is seen to do something else, or whose display reads otherwise, or hangs elsewhere, is stale, and
// one that does and reads just the same is not.
func TestStaleIsWhatIsOtherwise(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 8))
	n := 40
	if testing.Short() {
		n = 8
	}
	var pasts []*bench.Past
	for _, name := range []string{"Marram", "Pipit", "Stoat"} {
		pasts = append(pasts, pastOf(t, name))
	}
	others, stands := 0, 0
	for range n {
		past := pasts[r.IntN(len(pasts))]
		s := past.Doc.Setup
		o, m := r.IntN(len(s.Outputs)), r.IntN(len(s.Mixes))
		edits := []string{
			fmt.Sprintf(`{"op": "add", "path": "/outputs/%d/reverse", "value": %v}`, o, !s.Outputs[o].Reverse),
			fmt.Sprintf(`{"op": "add", "path": "/outputs/%d/high", "value": %d}`, o, 50+r.IntN(60)),
			fmt.Sprintf(`{"op": "add", "path": "/mixes/%d/gain", "value": %d}`, m, r.IntN(200)-100),
			fmt.Sprintf(`{"op": "add", "path": "/mixes/%d/bias", "value": %d}`, m, r.IntN(9)),
			fmt.Sprintf(`{"op": "add", "path": "/receivers/0/loss_after_s", "value": %v}`, 0.2+r.Float64()/2),
		}
		now := patched(t, past.Doc, "["+edits[r.IntN(len(edits))]+"]")
		list, err := stale(past, now)
		require.NoError(t, err)
		then, later := seenAt(t, past, past.Doc.Setup), seenAt(t, past, now.Setup)
		for k, step := range past.Steps {
			for _, part := range step.Parts {
				id, isDevice := strings.CutPrefix(part.Of, "devices/")
				if !isDevice || part.Display == "to and fro" { // it flashes, whenever
					continue
				}
				again := slices.ContainsFunc(list, func(a bench.Again) bool { return a.Step == k && a.Of == part.Of })
				a, b := then[k][id], later[k][id]
				if a == b {
					stands++
					require.False(t, again, "%s, step %d, %s: %+v", s.Name, k+1, id, list)
				}
				if a.says != b.says || step.When == "there" && a.display != b.display {
					others++
					require.True(t, again, "%s, step %d, %s: %+v, %+v", s.Name, k+1, id, a, b)
				}
			}
		}
	}
	t.Log(others, stands)
	require.Greater(t, stands, 100)
	if !testing.Short() {
		require.Greater(t, others, 40)
	}
}

// saw is what is seen of a device at a look.
type saw struct {
	says           string
	value, display float64
}

// seenAt plays the script of a walk on a setup, and gives what is seen of each device at each step, from a
// second before it, so that what flashes is seen too.
func seenAt(t testing.TB, past *bench.Past, s *setup.Setup) []map[string]saw {
	t.Helper()
	p, err := signal.Compile(s)
	require.NoError(t, err)
	seer := diagnose.NewSeer(p)
	list := make([]map[string]saw, len(past.Steps))
	n := 0
	err = p.Run(signal.NewScript(strings.NewReader(past.Script), p), past.Steps[len(past.Steps)-1].AtS,
		func(at float64, st *signal.State) error {
			if n == len(past.Steps) || at != past.Steps[n].AtS {
				return nil
			}
			list[n] = map[string]saw{}
			for d := range s.Devices {
				one := saw{says: seer.Device(st, d)}
				if slot := p.Devices[d].Value; slot != signal.None {
					one.value = st.At(slot)
				}
				_, pin := s.Pin(s.DevicePin(d))
				if o := s.OutputOn(s.Link.Sent(pin.Channel)); o >= 0 {
					one.display = diagnose.Nearest(st.At(p.Routes[o].P))
				}
				list[n][string(s.Devices[d].ID)] = one
			}
			n++
			return nil
		})
	require.NoError(t, err)
	require.Equal(t, len(past.Steps), n)
	return list
}

// BenchmarkStale: what a change of one of forty functions makes stale.
func BenchmarkStale(b *testing.B) {
	doc := wide(b, 40)
	p := stepped(b, doc.Setup, false)
	past := &bench.Past{Doc: doc, Script: p.Script(), Steps: p.Steps}
	now := patched(b, doc, `[{"op": "add", "path": "/outputs/7/low", "value": -60}]`)
	for b.Loop() {
		list, err := stale(past, now)
		require.NoError(b, err)
		require.NotEmpty(b, list)
	}
}
