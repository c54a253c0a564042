package parts

import (
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// documents are the demo and the worked examples.
func documents(t *testing.T) map[string]*setup.Document {
	docs := map[string]*setup.Document{}
	for _, pattern := range []string{"../../demo/*.yaml", "../signal/testdata/cases/*/setup.json"} {
		paths, err := filepath.Glob(pattern)
		require.NoError(t, err)
		require.NotEmpty(t, paths)
		for _, path := range paths {
			text, err := os.ReadFile(path)
			require.NoError(t, err)
			docs[path], err = setup.ReadYAML(text)
			require.NoError(t, err)
		}
	}
	return docs
}

func allParts(doc *setup.Document) []string {
	var names []string
	for _, l := range words.Parts {
		if list := doc.Tree.At(setup.PointerParts(base(l.Key))...); list != nil {
			for _, n := range list.Items {
				if id := n.Get("id"); id != nil {
					names = append(names, l.Key+"/"+id.Text)
				}
			}
		}
	}
	return names
}

// TestWhatWasFoundWithADevice: a servo that is taken out leaves what was found, without it; a function takes
// what was found of it along.
func TestWhatWasFoundWithADevice(t *testing.T) {
	doc := documents(t)["../../demo/marram.yaml"]
	tree, err := Remove(doc, "devices/rudder_servo", true)
	require.NoError(t, err)
	require.Len(t, tree.At("stand", "found").Items, len(doc.Setup.Stand.Found))
	require.Nil(t, tree.At("stand", "found", "0", "with"))
	tree, err = Remove(doc, "outputs/rudder", true)
	require.NoError(t, err)
	for _, entry := range tree.At("stand", "found").Items {
		require.NotEqual(t, "rudder", entry.Get("output").Text)
	}
	require.Len(t, tree.At("stand", "found").Items, 2)
}

// TestEveryPartCanBeTakenOut: what is left is a document that names it nowhere,
// and what goes along is told before.
func TestEveryPartCanBeTakenOut(t *testing.T) {
	for path, doc := range documents(t) {
		for _, part := range allParts(doc) {
			tree, err := Remove(doc, part, true)
			require.NoError(t, err)
			after, err := setup.FromTree(tree)
			require.NoError(t, err, "%s without %s", path, part)
			_, err = signal.Compile(after.Setup)
			require.NoError(t, err)
			_, id, _ := strings.Cut(part, "/")
			for _, r := range after.Setup.Graph().References {
				require.NotEqual(t, id, string(r.ID), "%s %s", path, part)
			}
			used := false
			for _, r := range doc.Setup.Graph().References {
				// the picture, the plan, the wiring and the stand just let go of it
				used = used || string(r.ID) == id &&
					!slices.Contains([]string{"stage", "plan", "wiring", "stand"}, strings.Split(r.Pointer, "/")[1])
			}
			_, err = Remove(doc, part, false)
			if !used {
				require.NoError(t, err)
				continue
			}
			var ps setup.Problems
			require.ErrorAs(t, err, &ps, "%s %s", path, part)
			require.NotEmpty(t, ps[0].Path)
		}
	}
}

func TestARemovalSaysWhatItWouldTouch(t *testing.T) {
	doc := documents(t)["../../demo/alder.yaml"]
	_, err := Remove(doc, "controls/wink", false)
	var ps setup.Problems
	require.ErrorAs(t, err, &ps)
	require.Len(t, ps, 2)
	require.Equal(t,
		"logic[1]: rule Left indicator uses control Indicator lever; take it along, or let it use "+
			"something else first", ps[0].Error())
	tree, err := Remove(doc, "controls/wink", true)
	require.NoError(t, err)
	require.Len(t, tree.At("logic", "1", "in").Items, 1, "the other condition stays")

	_, err = Remove(doc, "steppers/axle", false)
	require.ErrorAs(t, err, &ps)
	require.Len(t, ps, 2)
	require.Contains(t, err.Error(), "rule Legs allowed uses steps Lift axle")
	require.Contains(t, err.Error(), "mix Lift axle to Lift axle uses steps Lift axle")
}

// TestOneLegOfAYIsLeft: without the receiver of the other leg the feed still feeds the first; without
// the first there is no feed.
func TestOneLegOfAYIsLeft(t *testing.T) {
	doc := documents(t)["../../demo/gannet.yaml"]
	require.Equal(t, setup.ID("gantry"), *doc.Setup.Wiring.Feeds[0].Also)
	tree, err := Remove(doc, "receivers/gantry", true)
	require.NoError(t, err)
	feeds := tree.At("wiring", "feeds").Items
	require.Len(t, feeds, 1)
	require.Equal(t, "mast", feeds[0].Get("into").Text)
	require.Nil(t, feeds[0].Get("also"))
	tree, err = Remove(doc, "receivers/mast", true)
	require.NoError(t, err)
	require.Nil(t, tree.At("wiring", "feeds", "0"))
}

// TestARenamedPartDoesTheSame plays the document before and after.
func TestARenamedPartDoesTheSame(t *testing.T) {
	for path, doc := range documents(t) {
		before, err := signal.Compile(doc.Setup)
		require.NoError(t, err)
		for i, part := range allParts(doc) {
			if i%4 != 0 && !strings.HasPrefix(part, "logic") {
				continue
			}
			tree, err := Rename(doc, part, "another_name")
			require.NoError(t, err)
			after, err := setup.FromTree(tree)
			require.NoError(t, err, "%s %s", path, part)
			p, err := signal.Compile(after.Setup)
			require.NoError(t, err)
			a, b := before.PowerOn(), p.PowerOn()
			hands := before.Rest()
			for frame := range 60 {
				for k, c := range doc.Setup.Transmitter.Controls {
					if c.Switch != nil {
						hands[k] = float64(frame / (5 + k) % len(c.Switch.Positions))
					} else {
						hands[k] = float64((frame*(k+3))%200 - 100)
					}
				}
				before.Step(a, hands)
				p.Step(b, hands)
				for o := range before.Routes {
					require.Equal(t, a.At(before.Routes[o].US), b.At(p.Routes[o].US), "%s %s", path, part)
				}
			}
		}
		_, err = Rename(doc, "outputs/nobody", "x")
		require.ErrorContains(t, err, "no such part")
	}
}

func TestWhatIsAddedIsPlain(t *testing.T) {
	empty, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\nname: New"))
	require.NoError(t, err)
	docs := documents(t)
	docs["empty"] = empty
	kinds := map[string][]string{"controls": {"axis", "switch"},
		"devices": {"servo", "esc", "relay", "lamp", "pump", "valve", "sound_trigger", "step_box",
			"leveller"},
		"logic": {"and", "or", "xor", "above", "below", "between", "r_trig", "f_trig", "sr", "rs", "toggle",
			"ton", "tof", "tp"}}
	for path, doc := range docs {
		for _, l := range words.Parts {
			for _, kind := range append(kinds[l.Key], "")[:max(len(kinds[l.Key]), 1)] {
				tree, part, err := Add(doc, l.Key, kind, "")
				if err != nil {
					var ps setup.Problems
					require.ErrorAs(t, err, &ps)
					require.NotEmpty(t, ps[0].Remedy, "%s %s", path, l.Key)
					continue
				}
				after, err := setup.FromTree(tree)
				require.NoError(t, err, "%s %s %s", path, l.Key, kind)
				_, _, err = Find(after.Tree, part)
				require.NoError(t, err)
				_, err = signal.Compile(after.Setup)
				require.NoError(t, err)
			}
		}
	}
	tree, part, err := Add(docs["../../demo/stoat.yaml"], "outputs", "", "")
	require.NoError(t, err)
	require.Equal(t, "outputs/line_1", part)
	require.Equal(t, "11", tree.At("receivers", "0", "pins", "10", "channel").Text,
		"the new channel has a pin")
}

// TestWhereAPartIsAdded: a device of a function on a pin that carries it, a free one where there is one,
// called as the function; a mix to what it is for, or to the first; what must be there first is said.
func TestWhereAPartIsAdded(t *testing.T) {
	read := func(text string) *setup.Document {
		doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + text))
		require.NoError(t, err)
		return doc
	}
	doc := read(`outputs: [{id: lamp, label: Lamp, channel: 1}, {id: horn, label: Horn, channel: 2},
  {id: idle, channel: 3}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 1}, {pin: 3, channel: 2}]}]
devices: [{id: one, on: rx.1, kind: relay}, {id: two, on: rx.3, kind: relay}]
`)
	added := func(doc *setup.Document, list, kind, of string, fields ...string) []string {
		tree, part, err := Add(doc, list, kind, of)
		require.NoError(t, err)
		found, _, err := Find(tree, part)
		require.NoError(t, err)
		values := []string{}
		for _, field := range fields {
			values = append(values, tree.At(append(setup.PointerParts(found), field)...).Text)
		}
		return values
	}
	require.Equal(t, []string{"rx.2", "Lamp", "servo"},
		added(doc, "devices", "", "outputs/lamp", "on", "label", "kind"))
	require.Equal(t, []string{"rx.3", "Horn"}, added(doc, "devices", "lamp", "outputs/horn", "on", "label"))
	require.Equal(t, []string{"rx.2", "New part"}, added(doc, "devices", "servo", "", "on", "label"))
	require.Equal(t, []string{"lamp"}, added(doc, "mixes", "", "", "to"))
	require.Equal(t, []string{"horn"}, added(doc, "mixes", "", "horn", "to"))
	require.Equal(t, []string{"axis", "New lever"}, added(doc, "controls", "", "", "kind", "label"))
	require.Equal(t, []string{"switch", "New switch"}, added(doc, "controls", "switch", "", "kind", "label"))
	tree, _, err := Add(doc, "claims", "on_loss", "")
	require.NoError(t, err)
	require.Equal(t, "lamp", tree.At("claims", "0", "on_loss", "output").Text)
	bare := read("outputs: [{id: lamp, channel: 1}]\n")
	tree, _, err = Add(bare, "claims", "at_start", "")
	require.NoError(t, err)
	require.Equal(t, "lamp", tree.At("claims", "0", "at_start", "output").Text)

	for _, c := range []struct {
		doc            *setup.Document
		list, kind, of string
		remedy         string
	}{
		{doc, "devices", "servo", "outputs/idle", "let a pin of a receiver carry channel 3 first"},
		{doc, "devices", "servo", "outputs/nobody", "name a function that is there"},
		{doc, "devices", "servo", "outputs/one", "name a function that is there"},
		{doc, "logic", "maybe", "", "name a kind: and, or"},
		{doc, "claims", "perhaps", "", "say what kind it is"},
		{bare, "claims", "on_loss", "", "add a function first, and plug it into a pin"},
		{bare, "devices", "servo", "", "add a receiver with a pin first"},
		{bare, "shares", "", "", "add two functions that have no shared limit yet"},
		{read(""), "mixes", "", "", "add a function first"},
		{read(""), "claims", "at_start", "", "add a function first, and plug it into a pin"},
	} {
		_, _, err := Add(c.doc, c.list, c.kind, c.of)
		require.ErrorContains(t, err, c.remedy, "%s %s %s", c.list, c.kind, c.of)
	}
}

// TestWhatIsNewDoesNothing until somebody has chosen what moves it: no output of any
// model stands elsewhere for it, and no rule that is new is on.
func TestWhatIsNewDoesNothing(t *testing.T) {
	kinds := map[string][]string{"controls": {"axis", "switch"},
		"logic": {"and", "or", "xor", "above", "below", "between", "r_trig", "f_trig", "sr", "rs", "toggle",
			"ton", "tof", "tp"}}
	added := 0
	for path, doc := range documents(t) {
		before, err := signal.Compile(doc.Setup)
		if err != nil {
			continue
		}
		for _, l := range words.Parts {
			for _, kind := range append(kinds[l.Key], "")[:max(len(kinds[l.Key]), 1)] {
				tree, part, err := Add(doc, l.Key, kind, "")
				if err != nil {
					continue // there is nothing that it could belong to
				}
				after, err := setup.FromTree(tree)
				require.NoError(t, err)
				p, err := signal.Compile(after.Setup)
				if err != nil {
					require.Equal(t, "shares", l.Key, "only what ties two lines together can be refused: %v",
						err)
					continue
				}
				added++
				a, b := before.PowerOn(), p.PowerOn()
				sent := 0
				for frame := range 80 {
					hands, now := before.Rest(), p.Rest()
					for k, c := range doc.Setup.Transmitter.Controls {
						v := float64((frame*(k+3)*7)%200 - 100)
						if c.Switch != nil {
							v = float64(frame / (3 + k) % len(c.Switch.Positions))
						}
						at, ok := p.Hand(string(c.ID))
						require.True(t, ok)
						hands[k], now[at] = v, v
					}
					before.Step(a, hands)
					p.Step(b, now)
					for o := range before.Routes {
						require.Equal(t, a.At(before.Routes[o].US), b.At(p.Routes[o].US),
							"%s: %s %s moves %s", path, part, kind, doc.Setup.OutputLabel(o))
					}
					if p.Sending(b) {
						sent++
					}
					if l.Key == "logic" && sent > 1 && !slices.Contains([]string{"tof", "above", "below",
						"between"}, kind) {
						require.Zero(t, b.At(p.BlockSlot(len(after.Setup.Logic)-1)), "%s: a new %s is on",
							path, kind)
					}
				}
			}
		}
	}
	require.Greater(t, added, 100)
}

func TestMoveAndExchange(t *testing.T) {
	doc := documents(t)["../../demo/stoat.yaml"]
	tree, err := Move(doc, "outputs/winch", -2)
	require.NoError(t, err)
	require.Equal(t, "winch", tree.At("outputs", "6", "id").Text)
	tree, err = Move(doc, "outputs/winch", -99)
	require.NoError(t, err)
	require.Equal(t, "winch", tree.At("outputs", "0", "id").Text)
	require.Equal(t, "port_track", doc.Tree.At("outputs", "0", "id").Text, "the document is as it was")
	tree, err = Exchange(doc, "outputs/winch", "outputs/port_track")
	require.NoError(t, err)
	require.Equal(t, "9", tree.At("outputs", "0", "channel").Text)
	require.Equal(t, "1", tree.At("outputs", "8", "channel").Text)
	_, err = Exchange(doc, "outputs/winch", "mixes/till")
	require.ErrorContains(t, err, "no channel")
}

// TestAControlIsAddedByItsPlace: at each place what lies there, in a model with nothing and in every
// other; a second switch has a name of its own, a stick that is whole is not added again.
func TestAControlIsAddedByItsPlace(t *testing.T) {
	docs := documents(t)
	bare, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n"))
	require.NoError(t, err)
	docs["bare"] = bare
	for path, doc := range docs {
		for _, place := range ControlPlaces() {
			tree, part, err := Add(doc, "controls", place.Key, "")
			if err != nil {
				require.ErrorContains(t, err, place.Name+" is there already", path)
				require.Contains(t, []string{"left_stick", "right_stick"}, place.Key)
				continue
			}
			after, err := setup.FromTree(tree)
			require.NoError(t, err, "%s: %s", path, place.Key)
			_, _, err = Find(after.Tree, part)
			require.NoError(t, err)
			require.Equal(t, len(doc.Setup.Outputs), len(after.Setup.Outputs))
			seen := map[string]bool{}
			for _, c := range after.Setup.Transmitter.Controls[len(doc.Setup.Transmitter.Controls):] {
				require.NotEmpty(t, c.Label)
				require.False(t, seen[c.Label])
				seen[c.Label] = true
				for _, old := range doc.Setup.Transmitter.Controls {
					require.NotEqual(t, old.Label, c.Label, "%s: %s", path, place.Key)
				}
			}
			require.NotEmpty(t, seen)
		}
	}
	three := bare
	for _, label := range []string{"Right switch", "Right switch 2", "Right switch 3"} {
		tree, part, err := Add(three, "controls", "right_switch", "")
		require.NoError(t, err)
		three, err = setup.FromTree(tree)
		require.NoError(t, err)
		item := three.Setup.Item(setup.ID(strings.TrimPrefix(part, "controls/")))
		require.Equal(t, label, three.Setup.Label(item))
	}
	two := bare
	for range 2 {
		tree, _, err := Add(two, "controls", "left_stick", "")
		if len(two.Setup.Transmitter.Controls) > 0 {
			require.ErrorContains(t, err, "the left stick is there already")
			break
		}
		require.NoError(t, err)
		two, err = setup.FromTree(tree)
		require.NoError(t, err)
		require.Len(t, two.Setup.Transmitter.Controls, 2)
	}
}
