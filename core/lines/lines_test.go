package lines

import (
	"encoding/json"
	"os"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
)

func stoat(t *testing.T) (*setup.Document, *signal.Program) {
	text, err := os.ReadFile("../../demo/stoat.yaml")
	require.NoError(t, err)
	doc, err := setup.ReadYAML(text)
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	return doc, p
}

func TestStoatReadsAsLines(t *testing.T) {
	doc, p := stoat(t)
	v := Build(doc, p)
	require.Equal(t, "snow groomer · memory 3", v.About)
	require.Len(t, v.Lines, 10)
	port, pump := v.Lines[0], v.Lines[4]
	require.Equal(t, "Right stick, both ways", port.Phrase)
	require.Equal(t, "pin 1 · left controller", port.Ends)
	require.Equal(t, []string{"drive", "turn", "ground"}, port.Controls)
	require.Equal(t, []string{"blade_up", "blade_side"}, pump.Controls, "through what its valves are asked")
	require.Equal(t, -100.0, pump.Rule.Wakes)
	require.Equal(t, "as Blade angle and Blade lift ask", pump.Phrase)

	pair := v.Blocks[port.Block]
	require.Equal(t, v.Lines[1].Block, port.Block, "the pair is one block")
	require.Equal(t, "Left and right track", pair.Title)
	require.Equal(t, "one stick for both", pair.Note)
	require.True(t, pair.Crosses)
	require.Equal(t, []string{"Right stick, forward", "expo 20, rate 100"}, captions(pair.Chains[0]),
		"a gain of 100 does nothing and is not drawn")
	feel := pair.Chains[0][1]
	require.Equal(t, []string{"term/port_track/0"}, feel.Has, "but it has a place")
	require.Equal(t, "gain", feel.Editor.Fields[len(feel.Editor.Fields)-1].Name)
	require.Equal(t, []string{"Right stick, right", "gain 80"}, captions(pair.Chains[1]))
	require.Equal(t, []string{"drive + sideways", "ends −96 … +94", "pulse", "channel 1", "left controller"},
		captions(pair.Rows[0].Joints))
	require.Equal(t, []string{"drive − sideways", "reversed", "ends −96 … +94", "pulse", "channel 2",
		"right controller"}, captions(pair.Rows[1].Joints))
	require.Equal(t, []string{"out/port_track/turn"}, pair.Rows[0].Joints[1].Has)
	require.Empty(t, pair.Rows[1].Joints[2].Has, "what turns it round is drawn, and has its own place")
	require.Equal(t, "on this transmitter: stick forward 96, back 94", pair.Rows[1].Joints[2].Editor.Note)
	gain := pair.Chains[1][1].Editor.Fields[0]
	require.Equal(t, []float64{1, -1}, []float64{gain.Targets[0].Sign, gain.Targets[1].Sign})
	require.Equal(t, "/mixes/3/gain", gain.Targets[1].Pointer)
}

func captions(joints []Joint) []string {
	var texts []string
	for _, j := range joints {
		texts = append(texts, j.Caption)
	}
	return texts
}

// TestEveryJointExplainsItsValue: the figure at a joint and the root of its
// arithmetic are one and the same number.
func TestEveryJointExplainsItsValue(t *testing.T) {
	doc, p := stoat(t)
	v := Build(doc, p)
	st := p.PowerOn()
	p.Step(st, p.Rest())
	hands := p.Rest()
	for i, c := range p.Setup().Transmitter.Controls {
		if c.Axis != nil {
			hands[i] = float64(90 - 10*i)
		}
	}
	p.Step(st, hands)
	checked := 0
	for _, b := range v.Blocks {
		var joints []Joint
		for _, chain := range b.Chains {
			joints = append(joints, chain...)
		}
		for _, row := range b.Rows {
			joints = append(joints, row.Joints...)
		}
		for _, j := range joints {
			if j.Value < 0 {
				continue
			}
			r, ok := Explain(p, st, j.Key)
			require.True(t, ok, j.Key)
			require.Equal(t, st.At(v.Slots[j.Value]), r.Value, j.Key)
			checked++
		}
	}
	require.Greater(t, checked, 40)
	_, ok := Explain(p, st, "out/nobody/ends")
	require.False(t, ok)
}

// TestEveryFieldLeadsToItsPlace: what an editor sets is what it shows.
func TestEveryFieldLeadsToItsPlace(t *testing.T) {
	doc, p := stoat(t)
	fields := 0
	for _, b := range Build(doc, p).Blocks {
		var joints []Joint
		for _, chain := range b.Chains {
			joints = append(joints, chain...)
		}
		for _, row := range b.Rows {
			joints = append(joints, row.Joints...)
		}
		for _, j := range joints {
			if j.Editor == nil {
				continue
			}
			for _, f := range j.Editor.Fields {
				for _, target := range f.Targets {
					n := doc.Tree.At(setup.PointerParts(target.Pointer)...)
					require.Equal(t, n != nil, target.Present, target.Pointer)
					require.Equal(t, target.ListID, doc.Tree.At(setup.PointerParts(target.IDAt)...).Text)
					if n != nil && f.Kind == Number {
						require.Equal(t, f.Value*target.Sign, n.Float(), target.Pointer)
					}
					fields++
				}
			}
		}
	}
	require.Greater(t, fields, 30)
	_, err := json.Marshal(Build(doc, p))
	require.NoError(t, err)
}

func TestLinesAnswerThroughWhatLiesBetween(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(`
format: axtren-setup
version: 1
transmitter: {controls: [{id: b, kind: switch, positions: [up, down], spring_to: up}, {id: a, kind: axis},
    {id: other, kind: axis}]}
logic: [{id: lit, block: toggle, in: b.down}, {id: far, block: above, of: a, level: 50},
    {id: both, label: Both, block: and, in: [lit, far]}]
mixes: [{to: o, from: both}]
outputs: [{id: o, channel: 1}, {id: idle, channel: 2}]`))
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	v := Build(doc, p)
	require.Equal(t, []string{"b", "a"}, v.Lines[0].Controls)
	require.Equal(t, "Both", v.Lines[0].Phrase)
	require.Contains(t, v.Lines[1].Phrase, "nothing moves it yet")
	require.Equal(t, "on no pin", v.Lines[1].Ends)
	require.Equal(t, []string{"transmitter", "link"}, []string{v.Power[0].ID, v.Power[1].ID})
}

func TestAServoBehindALevellerBelongsToItsLine(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(`
format: axtren-setup
version: 1
mixes: [{to: o, from: 20}]
outputs: [{id: o, channel: 1}]
receivers: [{id: r, pins: [{pin: 1, channel: 1}]}]
devices: [{id: level, on: r.1, kind: leveller}, {id: plane, on: level, kind: servo}]`))
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	v := Build(doc, p)
	require.Equal(t, "pin 1 · Leveller on pin 1 and Servo behind Leveller on pin 1", v.Lines[0].Ends)
	joints := v.Blocks[0].Rows[0].Joints
	require.Equal(t, "device/plane", joints[len(joints)-1].Key)
	st := p.PowerOn()
	p.Step(st, p.Rest())
	r, ok := Explain(p, st, "device/plane")
	require.True(t, ok)
	require.Equal(t, 20.0, r.Value)
}

// TestWhatMovesAFunctionInOnePhrase holds the phrases of a boat: the hand with what is made
// of it, the numbers that switches choose between, and never the ends, which are drawn.
func TestWhatMovesAFunctionInOnePhrase(t *testing.T) {
	text, err := os.ReadFile("../../demo/marram.yaml")
	require.NoError(t, err)
	doc, err := setup.ReadYAML(text)
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	phrases := map[string]string{}
	for _, l := range Build(doc, p).Lines {
		phrases[l.ID] = l.Phrase + ", " + l.Pin
		require.NotContains(t, l.Phrase, "ends")
	}
	require.Equal(t, "Right stick, helm · expo 20, pin 1", phrases["rudder"])
	require.Equal(t, "Right stick, both ways · reversed, pin 3", phrases["starboard_screw"])
	require.Equal(t, "Left slider · 1.8 s end to end, pin 5", phrases["monitor_lift"])
	require.Equal(t, "−100, +60 while Water wanted is on, +100 while Pump primed is on, pin 6",
		phrases["monitor_pump"])
}

// TestWhatIsNotDrawnHasAPlace: no field is lost with a joint that does nothing, none is there
// twice, and a joint that is not drawn gives on what it gets.
func TestWhatIsNotDrawnHasAPlace(t *testing.T) {
	joint := func(key string, idle bool, fields ...string) Joint {
		e := &Editor{}
		for _, name := range fields {
			e.Fields = append(e.Fields, Field{At: key, Name: name})
		}
		return Joint{Key: key, idle: idle, Editor: e}
	}
	names := func(j Joint) (all []string) {
		for _, f := range j.Editor.Fields {
			all = append(all, f.At+"."+f.Name)
		}
		return all
	}
	run := func() []Joint {
		return []Joint{joint("a", false, "x"), joint("b", true, "x", "y"), joint("c", true, "z"),
			joint("d", false, "w")}
	}
	before := drawn(run(), -1)
	require.Len(t, before, 2)
	require.Equal(t, []string{"a.x", "b.x", "b.y", "c.z"}, names(before[0]))
	require.Equal(t, []string{"b", "c"}, before[0].Has)
	require.Equal(t, []string{"d.w"}, names(before[1]))
	after := drawn(run(), 1)
	require.Equal(t, []string{"d.w", "c.z", "b.x", "b.y"}, names(after[1]))
	alone := drawn([]Joint{joint("b", true, "y")}, 1)
	require.Equal(t, []string{"b.y"}, names(alone[0]), "where there is no other, it is drawn")
}

// TestASumSaysItsAxesInAWord, where a word tells them apart.
func TestASumSaysItsAxesInAWord(t *testing.T) {
	for mixes, caption := range map[string]string{
		"{to: o, from: ry}, {to: o, from: lx}":            "right stick + left stick",
		"{to: o, from: ry}, {to: o, from: rx, gain: -50}": "up and down − sideways",
		"{to: o, from: soft}, {to: o, from: rx}":          "drive + sideways",
		"{to: o, from: rx}, {to: o, from: lx}":            "right stick + left stick",
		"{to: o, from: rx}, {to: o, from: lx}, {to: o, from: ry}": "right stick, sideways + left stick + up " +
			"and down",
		"{to: o, from: slider}, {to: o, from: ry}": "slider + right stick",
	} {
		doc, err := setup.ReadYAML([]byte(`
format: axtren-setup
version: 1
transmitter: {controls: [{id: rx, kind: axis, label: "Right stick, sideways", stick: right, along: x},
    {id: ry, kind: axis, stick: right, along: y}, {id: lx, kind: axis, stick: left, along: x},
    {id: slider, kind: axis, label: Slider}]}
demands: [{id: soft, label: drive, from: ry}]
mixes: [` + mixes + `]
outputs: [{id: o, channel: 1}]`))
		require.NoError(t, err)
		p, err := signal.Compile(doc.Setup)
		require.NoError(t, err)
		require.Equal(t, caption, Build(doc, p).Blocks[0].Rows[0].Joints[0].Caption)
	}
}
