package loss

import (
	"context"
	"encoding/json"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/core/edit"
	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/travel"
	"axtren/demo"
)

// patched applies what a page would send.
func patched(t *testing.T, doc *setup.Document, patch json.RawMessage) *setup.Document {
	t.Helper()
	after, err := edit.Apply(doc, patch)
	require.NoError(t, err)
	return after.Doc
}

func model(t *testing.T, name string) *setup.Document {
	t.Helper()
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		if m.Doc.Setup.Name == name {
			return m.Doc
		}
	}
	t.Fatal(name)
	return nil
}

func askedOf(t *testing.T, doc *setup.Document, output string) Asked {
	t.Helper()
	for _, one := range Ask(compiledDoc(t, doc)) {
		if one.Output == output {
			return one
		}
	}
	t.Fatal(output)
	return Asked{}
}

func ways(one Asked) (list []string) {
	for _, w := range one.Ways {
		says := w.Says
		if w.Now {
			says += "*"
		}
		if w.Odd {
			says += "!"
		}
		list = append(list, says)
	}
	return list
}

// TestWhatIsAsked: each function is asked about what it drives, the usual first; what it does is marked
// with a star, what is another school with a mark.
func TestWhatIsAsked(t *testing.T) {
	quill, marram := model(t, "Quill"), model(t, "Marram")
	for _, c := range []struct {
		doc              *setup.Document
		output, question string
		ways             []string
	}{
		{quill, "fore_planes", "Which way is rise?", []string{"all the way with the stick up",
			"all the way with the stick down", "level"}},
		{quill, "ballast", "Which way empties the tank?", []string{"all the way with the control empty*",
			"all the way with the control fill"}},
		{quill, "screw", "It is to stop.", []string{"stop*", "stop, its pulses end"}},
		{quill, "rudder", "Straight on, or as it was?", []string{"centre*", "as it was"}},
		{quill, "lamps", "Is it to stay as it is", []string{"as it was", "middle"}},
		{marram, "port_screw", "a low power that brings it home?", []string{"stop*", "stop, its pulses end",
			"low power home!"}},
		{marram, "winch", "It is to stop.", []string{"stop", "stop, its pulses end"}},
		{marram, "monitor_pump", "It is to be off.", []string{"off*", "no pulses"}},
	} {
		one := askedOf(t, c.doc, c.output)
		require.Contains(t, one.Question, c.question, c.output)
		require.Equal(t, c.ways, ways(one), c.output)
		for i, w := range one.Ways {
			after := askedOf(t, patched(t, c.doc, w.Patch), c.output)
			require.True(t, after.Ways[i].Now, "%s: %s", c.output, w.Says)
			require.NotEmpty(t, w.Why)
		}
		require.NotEmpty(t, one.Can)
		require.NotEmpty(t, one.Kept)
	}
	require.Equal(t,
		[]string{"Pin 3 of Ten-pin receiver can hold the last pulse or go to a position. It will go to a " +
			"position."}, askedOf(t, quill, "fore_planes").Can)
	require.Equal(t, "Stored and read back as +50 on 6 Nov 2026.", askedOf(t, quill, "fore_planes").Stored)
	require.Equal(t, "The receiver keeps it.", askedOf(t, quill, "screw").Kept)
	require.Equal(t, "Ten-pin receiver keeps it; it is typed in.", askedOf(t, marram, "winch").Kept)
}

// TestScalesBothWays: every pair of usual scales (common practice, no source: 1000 to 2000 us is -100 to +100
// with 1500 as centre, 0 to 100 has it at 50).
func TestScalesBothWays(t *testing.T) {
	s := model(t, "Quill").Setup
	for _, c := range []struct {
		percent, span, us string
		at                float64
	}{{"0", "50", "1500", 0}, {"+50", "75", "1750", 50}, {"−70", "15", "1150", -70}, {"−100", "0", "1000", -100},
		{"+100", "100", "2000", 100}, {"−4", "48", "1480", -4}} {
		var texts []string
		for _, f := range InScales(s, setup.Scale{Word: "span"}, c.at) {
			texts = append(texts, f.Text)
			require.Equal(t, f.Key == "span", f.Own)
		}
		require.Equal(t, []string{c.percent, c.span, c.us}, texts)
		for _, from := range []setup.Scale{{Word: "percent"}, {Word: "span"}, {Word: "us"}, {Bits: 10},
			{Step: 2.5}} {
			pulse := &s.Transmitter.Pulse
			require.InDelta(t, c.at, travel.Percent(from, travel.Figure(from, c.at, pulse), pulse), 1e-9)
		}
	}
	own := InScales(s, setup.Scale{Bits: 10}, 50)
	require.Len(t, own, 4)
	require.Equal(t, "own", own[3].Key)
	require.True(t, own[3].Own)
}

// TestWhatIsToldOfADrill: the sentences of the tug, played out to the mole and back.
func TestWhatIsToldOfADrill(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		if m.Doc.Setup.Name != "Marram" {
			continue
		}
		p := compiledDoc(t, m.Doc)
		_, script, _ := strings.Cut(m.Recordings[0].Script, "\n")
		list := rows(t, p, script)
		wish := Wish{Rows: list, ForS: -1, AfterS: 1, BackS: 1}
		told := every(t, p, wish).Tell(p)
		says := map[string]string{}
		plays, worstOf := map[string]string{}, map[string]string{}
		for _, one := range told.Stands {
			says[one.Output] = strings.Join(one.Says, " ")
			plays[one.Output], worstOf[one.Output] = one.Plays, one.Worst
		}
		require.Equal(t, "Rudder servo stands at +2.", says["rudder"])
		require.Equal(t, "Port controller stands still.", says["port_screw"])
		require.Equal(t, "Winch controller goes on turning, at +47.9.", says["winch"])
		require.Equal(t, "Monitor turn servo stays where it was, at −64 to +64.", says["monitor_turn"])
		require.Equal(t, "Blue lamp relay stays as it was, on or off.", says["blue_lamp"])
		require.Equal(t, "", worstOf["rudder"], "it is the same whatever was before")
		require.Equal(t, "lost/rudder", plays["rudder"])
		require.Regexp(t, `^cut at [0-9.]+ s$`, worstOf["monitor_turn"])
		require.Equal(t, "lost/monitor_turn", plays["monitor_turn"])
		require.Contains(t, told.Back, "When the signal comes back pump controller, port controller")
		require.Equal(t, "back/monitor_pump", told.Returns[0].Plays, "the strongest first")
		worst(t, p, list, &wish, &told)
	}
}

// worst plays the worst moment of the fire monitor: one second after the loss it stands at an end of its
// spread.
func worst(t *testing.T, p *signal.Program, list []signal.Row, wish *Wish, told *Told) {
	t.Helper()
	for _, one := range told.Stands {
		if one.Output != "monitor_turn" {
			continue
		}
		_, film, _ := strings.Cut(Film(p, list, wish, one.At, false), "\n")
		require.Equal(t, 1, strings.Count(film, ",link,down\n")-strings.Count(film, ",link,up\n")-1,
			"it is cut once, and once more to end the film")
		columns := trace(t, p, film, -1)
		row := 0
		for p.Time(int64(row)) < one.At+0.6+1-1e-9 {
			row++
		}
		at := cell(t, "turn_servo_at", columns["turn_servo_at"][row])
		require.True(t, at == *one.Least || at == *one.Most, "%g", at)
		require.LessOrEqual(t, p.Time(one.Seek), one.At)
		back := Film(p, list, wish, one.At, true)
		require.Equal(t, 2, strings.Count(back, ",link,up\n"))
	}
}

// TestHazardsAreTold: the sentence in two parts, and what mends it.
func TestHazardsAreTold(t *testing.T) {
	doc := model(t, "Marram")
	list := TellHazards(compiledDoc(t, doc))
	require.Len(t, list, 1)
	require.Equal(t, "Winch controller turns when the signal is lost, at 48.", list[0].Says)
	require.True(t, strings.HasPrefix(list[0].Since, "Its loss position is 50 on a scale"), list[0].Since)
	require.Equal(t, "winch", list[0].Output)
	require.Empty(t, TellHazards(compiledDoc(t, patched(t, doc, *list[0].Patch))))
	list = TellHazards(compiledDoc(t, model(t, "Quill")))
	require.Len(t, list, 1)
	require.Nil(t, list[0].Patch, "a press does not store it again")
}

const button = `
format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: dive, kind: axis, label: Left stick, plus: up, minus: down, stick: left, along: y}
    - {id: fill, kind: switch, label: Tank, positions: [blow, fill], start: fill}
mixes:
  - {to: planes, from: dive}
  - {to: tank, from: fill}
outputs:
  - {id: planes, channel: 1, loss: {mode: preset, value: 100}}
  - {id: tank, channel: 2, loss: {mode: preset, value: -100}}
  - {id: lamp, channel: 3}
receivers:
  - {id: rx, label: Old receiver, stores: button, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}
`

// TestHowSticksAreHeld: a receiver that stores what they show gets the exact way to hold them all.
func TestHowSticksAreHeld(t *testing.T) {
	ctx, cancel := context.WithTimeout(context.Background(), 20*time.Second)
	defer cancel()
	hold := func(text string) (string, bool) {
		doc, err := setup.ReadYAML([]byte(text))
		require.NoError(t, err)
		lines, ok := Hold(ctx, doc.Setup, 0, proof.Budget{Bytes: 64 << 20})
		return strings.Join(lines, "\n"), ok
	}
	said, ok := hold(button)
	require.True(t, ok, said)
	require.Equal(t, "Left stick held all the way towards up.\nTank at blow.\nHold all of it so, wait until "+
		"nothing moves any more, and press the button of Old receiver. Then read back what it does: switch the "+
		"transmitter off.", said)
	said, ok = hold(strings.Replace(button, "{to: tank, from: fill}", "{to: tank, from: dive}", 1))
	require.False(t, ok, said)
	require.Contains(t, said, "No way of holding sticks and switches shows all of these at once")
	// what takes time is waited for: a lever that only passes by its position is no way
	said, ok = hold(strings.Replace(button, "channel: 1, loss: {mode: preset, value: 100}",
		"channel: 1, slew_s: 4, loss: {mode: preset, value: 60}", 1))
	require.True(t, ok, said)
	require.Contains(t, said, "Left stick held to +60, towards up.\n")
	require.Contains(t, said, "wait until nothing moves any more")

	// a latch has to be set, and its button is let go of
	latched := strings.Replace(button, "{to: tank, from: fill}", "{to: tank, from: -100, when: open}", 1) +
		"logic: [{id: on, block: toggle, in: fill.blow}, {id: open, block: and, in: [on, fill.fill]}]\n"
	sprung := func(text string) string {
		return strings.Replace(text, "start: fill}", "spring_to: fill}", 1)
	}
	said, ok = hold(sprung(latched))
	require.True(t, ok, said)
	require.Equal(t, "Press Tank and push Left stick all the way towards up.\nThen let go of Tank.\n"+
		"Left stick held all the way towards up.\n"+
		"Hold all of it so, wait until nothing moves any more, and press the button of Old receiver. Then read "+
		"back what it does: switch the transmitter off.", said)

	// what stands there for a while only: the button is pressed just then
	said, ok = hold(sprung(strings.Replace(latched, "block: toggle, in: fill.blow}, {id: open, block: and, "+
		"in: [on, fill.fill]}", "block: tp, in: fill.blow, for_s: 2}, {id: open, block: and, in: [on]}", 1)))
	require.True(t, ok, said)
	require.Contains(t, said, "All of it is shown only for a while: from 0.0 to 2.0 s after the last movement. "+
		"Just then press the button of Old receiver.")
	said, ok = hold(strings.ReplaceAll(button, "loss: {mode: preset", "loss: {mode: hold}, start: {within: 150"))
	require.True(t, ok, said)
	require.Contains(t, said, "nothing to store")
}

// TestStartIsSaid: in each of its cases.
func TestStartIsSaid(t *testing.T) {
	s := model(t, "Quill").Setup
	found := proof.LeastStart(context.Background(), s, proof.Budget{Bytes: 64 << 20})
	require.Equal(t, []string{"Wait for Ballast slider at −100 to −95.",
		"That is the least that makes power-on safe, which is proved.",
		"Left unchecked on purpose: Mast switch and Lamp switch. What must rest at power-on rests " +
			"wherever that was left, " +
			"and a warning that always comes is soon ignored."}, SaysStart(s, &found))
	require.False(t, WaitsFor(s, found.Entries), "it waits for a stick that springs back too")
	after := patched(t, model(t, "Quill"), StartPatch(s, found.Entries))
	require.True(t, WaitsFor(after.Setup, found.Entries))
	require.JSONEq(t, `[{"op": "remove", "path": "/start_check"}]`, string(StartPatch(after.Setup, nil)))
	none := patched(t, after, StartPatch(after.Setup, nil))
	require.Empty(t, none.Setup.StartCheck)
	require.Contains(t, SaysStart(s, &proof.Start{Fewest: true})[0], "No check makes power-on safe")
	require.Contains(t, SaysStart(s, &proof.Start{Why: "it was stopped"})[0], "Not found out: it was stopped.")
	require.Contains(t, SaysStart(s, &proof.Start{Possible: true, Fewest: true})[0],
		"Nothing has to be waited for")
	require.Contains(t, SaysStart(model(t, "Stoat").Setup, &proof.Start{})[0],
		"Nothing is said of what must rest")
}

// TestBatteriesAreSaid: each with its threshold, or what is usual.
func TestBatteriesAreSaid(t *testing.T) {
	require.Equal(t, []string{"The transmitter warns at 4.6 V: then come home.",
		"Port controller, 7.2 V: come home at 6.2 V."}, Batteries(model(t, "Marram").Setup))
	list := Batteries(model(t, "Gannet").Setup)
	require.Equal(t, "Nobody has said at how many volts the transmitter warns: say it in Kit.", list[0])
	require.Contains(t, list[1], "3.5 V a cell")
}

// TestWhatIsUsualOfAPlainFunction: of what can hurt nobody all places that it has are offered, each once.
func TestWhatIsUsualOfAPlainFunction(t *testing.T) {
	ways := func(of string) (list []string) {
		doc, err := setup.ReadYAML([]byte(strings.Replace(`
format: axtren-setup
version: 1
transmitter: {controls: [{id: a, kind: axis}]}
mixes: [{to: o, from: a}]
outputs: [{id: o, channel: 1, OF}]
receivers: [{id: rx, failsafe: {can: [hold, preset]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: d, on: rx.1, kind: servo}]
`, "OF", of, 1)))
		require.NoError(t, err)
		for _, way := range askedOf(t, doc, "o").Ways {
			list = append(list, way.Says)
		}
		return list
	}
	require.Equal(t, []string{"as it was", "middle"}, ways("centre: 10"))
	require.Equal(t, []string{"as it was", "middle", "as it starts"}, ways("start: {value: 40}"))
}

// TestHowADeviceStands: one sentence a device, by whether it stands the same after every cut.
func TestHowADeviceStands(t *testing.T) {
	const devices = `
format: axtren-setup
version: 1
transmitter: {controls: [{id: a, kind: axis}]}
mixes: [{to: one, from: a}, {to: two, from: a}, {to: three, from: a}, {to: four, from: a}, {to: five, from: a}]
outputs: [{id: one, channel: 1}, {id: two, channel: 2}, {id: three, channel: 3},
  {id: four, channel: 4, loss: {mode: preset, value: 20}}, {id: five, channel: 5, loss: {mode: preset, value: 20}}]
receivers: [{id: rx, failsafe: {can: [hold, preset], otherwise: hold},
  pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}, {pin: 4, channel: 4}, {pin: 5, channel: 5}]}]
devices: [{id: motor, label: motor, on: rx.1, kind: esc}, {id: lamp, label: lamp, on: rx.2, kind: lamp},
  {id: box, label: gear, on: rx.3, kind: step_box, steps: 3},
  {id: slow, label: slow arm, on: rx.4, kind: servo, speed_s: 1}, {id: quick, label: arm, on: rx.5, kind: servo}]
`
	doc, err := setup.ReadYAML([]byte(devices))
	require.NoError(t, err)
	p := compiledDoc(t, doc)
	at := func(least, most float64) *Spread { return &Spread{Known: true, Least: least, Most: most} }
	for i, want := range [][3]string{
		{"Motor stands still.", "Motor goes on turning, at +2.", "Motor may go on turning, at 0 to +2."},
		{"Lamp is off.", "Lamp is on.", "Lamp stays as it was, on or off."},
		{"Gear stands at step 0.", "Gear stands at step 2.", "Gear stays at its step, 0 to 2."},
		{"Slow arm stands at 0.", "Slow arm stands at +2.",
			"Slow arm is still on its way, at 0 to +2: it takes its time."},
		{"Arm stands at 0.", "Arm stands at +2.", "Arm stays where it was, at 0 to +2."},
	} {
		d := DrivenIn(doc.Setup)[i]
		require.Equal(t, want, [3]string{d.stands(p, at(0, 0)), d.stands(p, at(2, 2)), d.stands(p, at(0, 2))})
		require.Contains(t, d.stands(p, &Spread{}), "never gets a pulse in this run")
	}
	s := Spread{Least: -60, LeastS: 1, Most: 70, MostS: 2}
	require.Equal(t, []float64{2, 1}, []float64{s.farthest(0), s.farthest(20)})
}
