package trouble

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
)

func read(t *testing.T, path string) *setup.Document {
	text, err := os.ReadFile(path)
	require.NoError(t, err)
	doc, err := setup.ReadYAML(text)
	require.NoError(t, err)
	return doc
}

func compile(t *testing.T, tree *setup.Node) *signal.Program {
	doc, err := setup.FromTree(tree)
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	return p
}

// with gives a copy of a tree in which one place holds another value.
func with(n *setup.Node, value *setup.Node, steps ...string) *setup.Node {
	if len(steps) == 0 {
		return value
	}
	c := *n
	c.Keys, c.Items = append([]string{}, n.Keys...), append([]*setup.Node{}, n.Items...)
	for i := range c.Items {
		if n.Kind == setup.Map && c.Keys[i] == steps[0] || n.Kind == setup.List && fmt.Sprint(i) == steps[0] {
			c.Items[i] = with(c.Items[i], value, steps[1:]...)
			return &c
		}
	}
	empty := &setup.Node{Kind: setup.Map}
	c.Keys, c.Items = append(c.Keys, steps[0]), append(c.Items, with(empty, value, steps[1:]...))
	return &c
}

func number(v float64) *setup.Node { return &setup.Node{Kind: setup.Number, Text: fmt.Sprint(v)} }

// fault is one thing put wrong, and the joint or part that sets it.
type fault struct {
	name  string
	tree  *setup.Node
	joint string
	part  string
}

// faults are every single fault of the kinds that are common on a bench.
func faults(doc *setup.Document) []fault {
	var list []fault
	at := func(i int) string { return fmt.Sprint(i) }
	for i, o := range doc.Setup.Outputs {
		list = append(list,
			fault{"reversed " + string(o.ID), with(doc.Tree,
				&setup.Node{Kind: setup.Bool,
					Text: fmt.Sprint(!o.Reverse)}, "outputs", at(i), "reverse"), "out/" + string(o.ID) +
				"/turn", ""},
			fault{"high end of " + string(o.ID) + " at its centre",
				with(doc.Tree, number(o.Centre+0.5), "outputs", at(i), "high"),
				"out/" + string(o.ID) + "/ends", ""})
	}
	for k, m := range doc.Setup.Mixes {
		list = append(list, fault{"dead mix " + string(*m.ID),
			with(doc.Tree, number(0), "mixes", at(k), "gain"), "", "mixes/" + string(*m.ID)})
	}
	for r, rx := range doc.Setup.Receivers {
		for j := 0; j+1 < len(rx.Pins); j++ {
			tree := with(doc.Tree, number(float64(rx.Pins[j+1].Channel)), "receivers", at(r), "pins", at(j),
				"channel")
			tree = with(tree, number(float64(rx.Pins[j].Channel)), "receivers", at(r), "pins", at(j+1),
				"channel")
			list = append(list, fault{fmt.Sprintf("exchanged pins %s.%d and %d", rx.ID, rx.Pins[j].Pin,
				rx.Pins[j+1].Pin), tree, "", "receivers/" + string(rx.ID)})
		}
	}
	for k, d := range doc.Setup.Devices {
		if esc, ok := d.Spec.(*setup.Esc); ok {
			list = append(list, fault{"neutral learned off by " + string(d.ID),
				with(doc.Tree, number(esc.LearnedUS.Neutral+60), "devices", at(k), "learned_us", "neutral"),
				"device/" + string(d.ID), ""})
		}
	}
	return list
}

// played gives what every device did in every frame of a script, and the program.
func played(t *testing.T, p *signal.Program, script []byte) [][]float64 {
	all := make([][]float64, len(p.Devices))
	require.NoError(t, p.Run(signal.NewScript(bytes.NewReader(script), p), -1,
		func(_ float64, st *signal.State) error {
			for k, d := range p.Devices {
				if d.Value != signal.None {
					all[k] = append(all[k], st.At(d.Value))
				}
			}
			return nil
		}))
	return all
}

// sees says what a person who knows how the model should move complains of.
func sees(should, does []float64, motor bool) string {
	low, high, lowNow, highNow, together := 0.0, 0.0, 0.0, 0.0, 0.0
	for k := range should {
		low, high = min(low, should[k]-should[0]), max(high, should[k]-should[0])
		lowNow, highNow = min(lowNow, does[k]-does[0]), max(highNow, does[k]-does[0])
		together += (should[k] - should[0]) * (does[k] - does[0])
	}
	switch way, now := high-low, highNow-lowNow; {
	case motor && should[0] == 0 && does[0] != 0:
		return "hums"
	case way < 1:
		return ""
	case now < 1 && does[0] > should[0]+50 && !motor:
		return "stays"
	case now < 1:
		return "nothing"
	case together < 0:
		return "wrong_way"
	case now < 0.9*way:
		return "short"
	}
	return ""
}

// TestEveryFaultIsAmongItsCauses puts every single fault into the demo models,
// plays the recorded hands, and looks each complaint up that a person would have.
func TestEveryFaultIsAmongItsCauses(t *testing.T) {
	paths, err := filepath.Glob("../../demo/*.yaml")
	require.NoError(t, err)
	require.NotEmpty(t, paths)
	complaints, most := map[string]int{}, 0
	for _, path := range paths {
		doc := read(t, path)
		scripts, err := filepath.Glob(strings.TrimSuffix(path, ".yaml") + "/*.csv")
		require.NoError(t, err)
		script, err := os.ReadFile(scripts[0])
		require.NoError(t, err)
		good := played(t, compile(t, doc.Tree), script)
		for _, f := range faults(doc) {
			p := compile(t, f.tree)
			st := p.PowerOn()
			p.Step(st, p.Rest())
			for k, does := range played(t, p, script) {
				if does == nil {
					continue
				}
				_, motor := p.Setup().Devices[k].Spec.(*setup.Esc)
				complaint := sees(good[k], does, motor)
				output := outputOf(p, k)
				if complaint == "" || output == "" {
					continue
				}
				complaints[complaint]++
				causes := Causes(p, st, complaint, output)
				most = max(most, len(causes))
				named := false
				for _, c := range causes {
					named = named || f.joint != "" && c.Joint == f.joint || f.part != "" && c.Part == f.part
				}
				if !named && f.joint+f.part != "" && !touches(p, f, output) {
					continue // the fault shows on a line that follows the faulty one
				}
				require.True(t, named, "%s, %s: %q of %s does not lead to it: %+v", filepath.Base(path),
					f.name, complaint, output, causes)
			}
		}
	}
	t.Logf("complaints looked up: %v; the longest list has %d entries", complaints, most)
	for _, c := range []string{"nothing", "wrong_way", "short", "hums"} {
		require.Positive(t, complaints[c], c)
	}
}

// outputOf gives the output whose channel the device's pin carries.
func outputOf(p *signal.Program, device int) string {
	pin := p.Setup().DevicePin(device)
	for i, r := range p.Routes {
		for _, ref := range r.Pins {
			if ref.PinRef == pin {
				return string(p.Setup().Outputs[i].ID)
			}
		}
	}
	return ""
}

// touches tells whether a fault lies on the line of an output itself.
func touches(p *signal.Program, f fault, output string) bool {
	if strings.HasPrefix(f.joint, "out/") {
		return strings.HasPrefix(f.joint, "out/"+output+"/")
	}
	if id, ok := strings.CutPrefix(f.part, "mixes/"); ok {
		item := p.Setup().Item(setup.ID(id))
		return string(p.Setup().Mixes[item.Index].To) == output
	}
	return true
}

func TestCausesSayWhatIsSoNow(t *testing.T) {
	doc := read(t, "../../demo/alder.yaml")
	p := compile(t, doc.Tree)
	st := p.PowerOn()
	p.Step(st, p.Rest())
	first := Causes(p, st, "nothing", "front_diff")
	require.NotEmpty(t, first)
	hands := p.Rest()
	link, _ := p.Hand("link")
	hands[link] = 0
	for range 3 {
		p.Step(st, hands)
	}
	cut := Causes(p, st, "nothing", "front_diff")
	require.True(t, cut[0].Now)
	require.Equal(t, "The signal is cut.", cut[0].What)
	require.Empty(t, Causes(p, st, "hums", "horn"), "nothing in the setup can make a horn hum")
	require.Empty(t, Causes(p, st, "same", "horn"))
	require.Nil(t, Causes(p, st, "nothing", "nobody"))
	for _, c := range Complaints() {
		for _, cause := range Causes(p, st, c.Key, "motor") {
			require.NotEmpty(t, cause.Look)
			require.NotEmpty(t, cause.What)
			require.False(t, strings.Contains(cause.What, "%!"), cause.What)
		}
	}
}

// TestNothingBeginsWithTheHands: what a person has to do comes first, tried in the engine, and
// doing it does move the function.
func TestNothingBeginsWithTheHands(t *testing.T) {
	first := func(model, output string, woken bool, hands map[string]float64) Cause {
		t.Helper()
		doc := read(t, "../../demo/"+model+".yaml")
		p, err := signal.Compile(doc.Setup)
		require.NoError(t, err)
		st, at := p.PowerOn(), p.Rest()
		for range 20 {
			if woken {
				p.Step(st, at)
			}
		}
		for id, v := range hands {
			hand, ok := p.Hand(id)
			require.True(t, ok, id)
			at[hand] = v
		}
		for range 20 {
			p.Step(st, at)
		}
		causes := Causes(p, st, "nothing", output)
		require.NotEmpty(t, causes)
		return causes[0]
	}
	locked := first("marram", "monitor_pump", true, nil)
	require.Equal(t, "Monitor pump is still, and no single control moves it: Water wanted and Pump primed "+
		"are off.", locked.What)
	require.Equal(t, "Press Left button, with Water lock at free.", locked.Look)
	free := first("marram", "monitor_pump", true, map[string]float64{"arm": 1})
	require.Equal(t, "To move Monitor pump now, press Left button.", free.What)
	require.Contains(t, free.Look, "watch the pulse of channel 6")
	require.Equal(t, "To move Left track now, push Right stick, forward either way, or push Right stick, right "+
		"either way.", first("stoat", "port_track", true, nil).What)
	held := first("marram", "port_screw", false, map[string]float64{"ahead": 60})
	require.Equal(t, "The transmitter sends nothing yet: it waits until Right stick, ahead is at −5 to +5.",
		held.What, "what keeps all of it from moving comes before")
	require.True(t, held.Now)
}

// TestLossesLeadToTheirPlace: what a function does on a lost signal lives with the losses, and
// everything else does not.
func TestLossesLeadToTheirPlace(t *testing.T) {
	p, err := signal.Compile(read(t, "../../demo/marram.yaml").Setup)
	require.NoError(t, err)
	there := 0
	for _, c := range Causes(p, p.PowerOn(), "stays", "monitor_pump") {
		require.Equal(t, strings.Contains(c.What, "signal is lost"), c.Place == "loss", c.What)
		if c.Place == "loss" {
			there++
			require.Equal(t, "outputs/monitor_pump", c.Part)
		}
	}
	require.Equal(t, 1, there)
}

// TestTryingHandsIsBounded: also with more controls than anybody holds, of which all have to
// stand right.
func TestTryingHandsIsBounded(t *testing.T) {
	var b strings.Builder
	b.WriteString("format: axtren-setup\nversion: 1\ntransmitter:\n  controls:\n")
	for i := range 60 {
		fmt.Fprintf(&b, "    - {id: s%d, kind: switch, positions: [a, b, c, d, e, f]}\n", i)
	}
	b.WriteString("logic:\n  - {id: all, label: all, block: and, in: [")
	for i := range 60 {
		fmt.Fprintf(&b, "s%d.f, ", i)
	}
	b.WriteString("]}\nmixes: [{id: m, to: o, from: all}]\noutputs: [{id: o, label: Lock, channel: 1}]\n")
	doc, err := setup.ReadYAML([]byte(b.String()))
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	st := p.PowerOn()
	p.Step(st, p.Rest())
	began := time.Now()
	causes := Causes(p, st, "nothing", "o")
	require.Less(t, time.Since(began), 5*time.Second)
	require.Equal(t, "Lock is still, and no one or two controls move it from how they stand: all is off.",
		causes[0].What)
}
