package parts_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/parts"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
	"axtren/internal/golden"
)

// element is one part of a document as JSON.
type element struct{ name, text string }

// elements lists the parts of a document in its order; what has no id is named by its place.
func elements(tree *setup.Node) []element {
	var all []element
	line := func(n *setup.Node) string {
		return strings.Join(strings.Fields(string(n.JSON())), " ")
	}
	add := func(name string, list *setup.Node) {
		if list == nil || list.Kind != setup.List {
			return
		}
		for i, n := range list.Items {
			id := fmt.Sprint(i)
			if of := n.Get("id"); of != nil {
				id = of.Text
			}
			all = append(all, element{name + "/" + id, line(n)})
		}
	}
	for i, key := range tree.Keys {
		add(key, tree.Items[i])
	}
	add("controls", tree.At("transmitter", "controls"))
	add("stage", tree.At("stage", "parts"))
	return all
}

// differs says what an edit made of the parts of a document.
func differs(before, after *setup.Node) string {
	was, is := map[string]string{}, map[string]string{}
	for _, e := range elements(before) {
		was[e.name] = e.text
	}
	for _, e := range elements(after) {
		is[e.name] = e.text
	}
	var b strings.Builder
	for _, e := range elements(before) {
		if _, stays := is[e.name]; !stays {
			fmt.Fprintf(&b, "  gone: %s\n", e.name)
		}
	}
	for _, e := range elements(after) {
		if e.text != was[e.name] {
			fmt.Fprintf(&b, "  now: %s %s\n", e.name, e.text)
		}
	}
	return b.String()
}

var kinds = map[string][]string{"controls": {"axis", "switch"},
	"devices": {"", "esc", "step_box", "leveller"},
	"receivers": {"", "plain", "one_position", "hold_only", "by_button", "pair", "switched", "slow", "telemetry",
		"unheard_of"},
	"logic": {"and", "or", "xor", "above", "below", "between", "r_trig", "f_trig", "sr", "rs", "toggle",
		"ton", "tof", "tp"}}

// TestWholeAdditions: what each new part is, in a model that has everything, in an empty
// one, and in one with a line and a pin.
func TestWholeAdditions(t *testing.T) {
	var b strings.Builder
	for _, name := range []string{"everything", "empty", "two lines", "three lines"} {
		doc := docs(t)[name]
		for _, l := range words.Parts {
			of := kinds[l.Key]
			if of == nil {
				of = []string{""}
			}
			for _, kind := range of {
				fmt.Fprintf(&b, "%s: %s %s\n", name, l.Key, kind)
				tree, part, err := parts.Add(doc, l.Key, kind, "")
				if err != nil {
					fmt.Fprintf(&b, "  %v\n", err)
					continue
				}
				fmt.Fprintf(&b, "  %s\n%s", part, differs(doc.Tree, tree))
			}
		}
	}
	tree, part, err := parts.Add(docs(t)["everything"], "mixes", "", "lamp")
	require.NoError(t, err)
	fmt.Fprintf(&b, "to a line: %s\n%s", part, differs(docs(t)["everything"].Tree, tree))
	tree, part, err = parts.Add(docs(t)["everything"], "devices", "servo", "rx.3")
	require.NoError(t, err)
	fmt.Fprintf(&b, "on a pin: %s\n%s", part, differs(docs(t)["everything"].Tree, tree))
	golden.Equal(t, "added", b.String())
}

func docs(t *testing.T) map[string]*setup.Document {
	read := func(text string) *setup.Document {
		doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + text))
		require.NoError(t, err)
		return doc
	}
	return map[string]*setup.Document{
		"everything": golden.Models(t)[0].Doc,
		"empty":      read(""),
		"two lines": read("outputs: [{id: a, channel: 1}, {id: b, channel: 2}]\nreceivers: [{id: r, pins: " +
			"[{pin: 4, channel: 1}, {pin: 2, channel: 2}]}]\ndevices: [{id: d, on: r.4, kind: servo}]"),
		"three lines": read("outputs: [{id: a, channel: 1}, {id: b, channel: 3}, {id: c, channel: 4}, {id: " +
			"e, channel: 5}]\nshares: [{id: line_1, outputs: [a, b], rule: scale}]\n" +
			"receivers: [{id: r, pins: [{pin: 1, channel: 2}]}]\nlink: {channels: 5}"),
	}
}

// TestWholeRemovals: what goes along with each part, and what of the others changes.
func TestWholeRemovals(t *testing.T) {
	var b strings.Builder
	doc := golden.Models(t)[0].Doc
	for _, l := range words.Parts {
		list := doc.Tree.Get(l.Key)
		if l.Key == "controls" {
			list = doc.Tree.At("transmitter", "controls")
		}
		for _, n := range list.Items {
			part := l.Key + "/" + n.Get("id").Text
			tree, err := parts.Remove(doc, part, true)
			require.NoError(t, err)
			fmt.Fprintf(&b, "%s\n%s", part, differs(doc.Tree, tree))
			if _, err := parts.Remove(doc, part, false); err != nil {
				fmt.Fprintf(&b, "  %s\n", strings.ReplaceAll(err.Error(), "\n", "\n  "))
			}
		}
	}
	golden.Equal(t, "removed", b.String())
}

// TestWholeRenamings: each place that names a part names it anew.
func TestWholeRenamings(t *testing.T) {
	var b strings.Builder
	doc := golden.Models(t)[0].Doc
	for _, part := range []string{"controls/gear", "controls/ahead", "demands/drive", "logic/kept",
		"steppers/rung", "sequences/unfold", "patterns/blink", "outputs/boom", "receivers/aft",
		"devices/level", "devices/pump_esc", "mixes/stir"} {
		tree, err := parts.Rename(doc, part, "another")
		require.NoError(t, err)
		fmt.Fprintf(&b, "%s\n%s", part, differs(doc.Tree, tree))
	}
	golden.Equal(t, "renamed", b.String())
}

func TestMovesStopAtTheEnds(t *testing.T) {
	doc := docs(t)["three lines"]
	for _, c := range []struct {
		part, want string
		by         int
	}{
		{"outputs/a", "b a c e", 1}, {"outputs/a", "b c a e", 2}, {"outputs/a", "b c e a", 3},
		{"outputs/a", "b c e a", 4}, {"outputs/a", "a b c e", -1}, {"outputs/e", "a b e c", -1},
		{"outputs/e", "e a b c", -3}, {"outputs/e", "e a b c", -4},
		{"outputs/c", "a c b e", -1}, {"outputs/c", "a b c e", 0}, {"outputs/e", "a b c e", 1},
	} {
		tree, err := parts.Move(doc, c.part, c.by)
		require.NoError(t, err)
		var ids []string
		for _, n := range tree.Get("outputs").Items {
			ids = append(ids, n.Get("id").Text)
		}
		require.Equal(t, c.want, strings.Join(ids, " "), "%s by %d", c.part, c.by)
	}
}

// TestKindsOfReceiver: what each kind brings, on its own channels, and that a model which has
// a receiver already is otherwise as it was.
func TestKindsOfReceiver(t *testing.T) {
	said := map[string]string{}
	for _, kind := range parts.ReceiverKinds() {
		empty, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n"))
		require.NoError(t, err)
		tree, part, err := parts.Add(empty, "receivers", kind.Key, "")
		require.NoError(t, err)
		doc, err := setup.FromTree(tree)
		require.NoError(t, err, kind.Key)
		var b strings.Builder
		for i, rx := range doc.Setup.Receivers {
			require.True(t, i > 0 || part == "receivers/"+string(rx.ID))
			require.Contains(t, rx.Notes, "guess")
			require.Equal(t, 1.0, rx.LossAfterS)
			presets := 0
			for _, p := range rx.Pins {
				require.Equal(t, p.Pin+i*len(rx.Pins), p.Channel)
				if rx.CanOnLoss("preset", p.Pin) {
					presets++
				}
				if p.Switch != nil {
					fmt.Fprintf(&b, "pin %d on above %g; ", p.Pin, p.Switch.AtUS)
				}
			}
			fmt.Fprintf(&b, "%d pins, %d go to a position, else %s, %s; ", len(rx.Pins), presets,
				rx.Failsafe.Otherwise, rx.Stores)
			if rx.Telemetry != nil {
				fmt.Fprintf(&b, "telemetry %t; ", *rx.Telemetry)
			}
		}
		fmt.Fprintf(&b, "slow %v", doc.Setup.Link.HalfRate)
		said[kind.Key] = b.String()

		full := golden.Models(t)[0].Doc
		tree, _, err = parts.Add(full, "receivers", kind.Key, "")
		require.NoError(t, err)
		tree.Get("receivers").Items = tree.Get("receivers").Items[:len(full.Setup.Receivers)]
		require.True(t, tree.Equal(full.Tree), "%s changes what is there", kind.Key)
	}
	require.Equal(t, map[string]string{
		"plain":        "6 pins, 6 go to a position, else hold, typed; slow []",
		"one_position": "6 pins, 1 go to a position, else hold, typed; slow []",
		"hold_only":    "4 pins, 0 go to a position, else hold, ; slow []",
		"by_button":    "8 pins, 8 go to a position, else hold, button; slow []",
		"pair": "6 pins, 6 go to a position, else cut, typed; telemetry true; 6 pins, 6 go to a position, else " +
			"cut, typed; telemetry false; slow []",
		"switched":  "pin 7 on above 1500; pin 8 on above 1500; 8 pins, 0 go to a position, else cut, ; slow []",
		"slow":      "8 pins, 8 go to a position, else hold, typed; slow [5 6 7 8]",
		"telemetry": "10 pins, 10 go to a position, else cut, typed; telemetry true; slow []",
		"":          "1 pins, 0 go to a position, else hold, ; slow []",
	}, said)
}

// TestATransmitterLikeOne: each kind can be read and played, brings its controls to a model that
// has none, under ids that are free, and leaves the controls of one that has some.
func TestATransmitterLikeOne(t *testing.T) {
	said := map[string]string{}
	for _, kind := range parts.TransmitterKinds() {
		empty, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" +
			"outputs: [{id: left_up, channel: 1}, {id: wheel, channel: 2}]\n"))
		require.NoError(t, err)
		tree, name, err := parts.Like(empty, kind.Key)
		require.NoError(t, err)
		require.Equal(t, kind.Name, name)
		doc, err := setup.FromTree(tree)
		require.NoError(t, err, kind.Key)
		_, err = signal.Compile(doc.Setup)
		require.NoError(t, err)
		ids := []string{}
		for _, c := range doc.Setup.Transmitter.Controls {
			require.NotEmpty(t, c.Reached)
			ids = append(ids, string(c.ID))
		}
		said[kind.Key] = fmt.Sprintf("%s: %d channels, %s", doc.Setup.Transmitter.Name,
			*doc.Setup.Transmitter.Can.Channels, strings.Join(ids, " "))

		full := golden.Models(t)[0].Doc
		tree, _, err = parts.Like(full, kind.Key)
		require.NoError(t, err)
		after, err := setup.FromTree(tree)
		require.NoError(t, err)
		require.Equal(t, full.Setup.Transmitter.Controls, after.Setup.Transmitter.Controls)
		require.Equal(t, full.Setup.Transmitter.Own, after.Setup.Transmitter.Own)
		require.Equal(t, doc.Setup.Transmitter.Can, after.Setup.Transmitter.Can)
		require.Equal(t, full.Setup.Outputs, after.Setup.Outputs)
	}
	sticks := "left_side right_up right_side"
	require.Equal(t, map[string]string{
		"wheel":     "Three-channel wheel set: 3 channels, wheel_1 trigger third",
		"hand_five": "Five-channel hand set: 5 channels, left_up_1 " + sticks + " fifth",
		"hand_twelve": "Twelve-channel hand set: 12 channels, left_up_1 " + sticks + " left_front right_front " +
			"left_button right_button slider",
		"tray": "Fourteen-channel tray set: 14 channels, left_up_1 " + sticks + " left_rocker right_rocker " +
			"left_switch right_switch left_button right_button left_slider right_slider",
		"low_band": "Old low-band set: 6 channels, left_up_1 " + sticks + " gear knob",
		"pocket":   "Two-channel pocket set: 2 channels, left_up_1 right_side",
	}, said)
	_, _, err := parts.Like(golden.Models(t)[0].Doc, "unheard_of")
	require.ErrorContains(t, err, "is no kind of transmitter")
}
