package setup_test

import (
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/words"
	"axtren/internal/golden"
)

// walk calls look with the steps to every value below a node.
func walk(n *setup.Node, steps []string, look func(steps []string, n *setup.Node)) {
	for i, item := range n.Items {
		step := fmt.Sprint(i)
		if n.Kind == setup.Map {
			step = n.Keys[i]
		}
		below := append(slices.Clone(steps), step)
		look(below, item)
		walk(item, below, look)
	}
}

// instead is what is put into the place of a value, by its kind.
var instead = map[setup.Kind]string{
	setup.Number: "[-300.5, -150, -100.5, 0, 0.5, 1, 2, 49, 151, 20001, text, lift, [1], null]",
	setup.Text:   `["", nobody, "a b", "rx.99", "level", "not gear.low", lift, boom.asked, unfold.leg, rung.top, 5, 400, [lift]]`,
	setup.Bool:   "[false, true, text, 1]",
	setup.List:   `[[], [2, 1], [-200, 200], ["gear.low", nobody], [[0, 0], [1, 200]], [[2, 0], [1, 5]], text]`,
	setup.Map: "[{}, text, {else: percent, channels: {x: us}}, {else: percent, channels: {3: us}}, " +
		"{bits: 3}, {bits: 40}, {step: 0}]",
}

var (
	places  = regexp.MustCompile(`\[\d+\]`)
	indices = regexp.MustCompile(`\b\d+\b`)
)

// TestEveryMistakeIsSaid puts values of every kind into each place of a document
// that uses everything, one at a time, and takes each place out: what is said of it,
// once for each kind of place.
func TestEveryMistakeIsSaid(t *testing.T) {
	tree := golden.Models(t)[0].Doc.Tree
	said := map[string]string{}
	var order []string
	note := func(place, what string, changed *setup.Node) {
		answer := "is good"
		if _, err := setup.FromTree(changed); err != nil {
			var problems setup.Problems
			require.True(t, errors.As(err, &problems), "%s %s: %v", place, what, err)
			p := problems[0]
			require.NotEmpty(t, p.Remedy)
			answer = fmt.Sprintf("%s: %s; %s", places.ReplaceAllString(p.Path, "[]"),
				places.ReplaceAllString(p.Message, "[]"), p.Remedy)
			if len(problems) > 1 {
				answer += fmt.Sprintf(" (and %d more)", len(problems)-1)
			}
		}
		key := place + "\n    " + answer
		if _, known := said[key]; !known {
			order = append(order, key)
		}
		if !strings.Contains(said[key]+", ", " "+what+", ") {
			said[key] += ", " + what
		}
	}
	values := map[setup.Kind][]*setup.Node{}
	for kind, text := range instead {
		list, problems := setup.ParseYAML([]byte(text))
		require.Empty(t, problems)
		values[kind] = list.Items
	}
	seen := map[string]int{}
	walk(tree, nil, func(steps []string, n *setup.Node) {
		place := indices.ReplaceAllString(strings.Join(steps, "."), "*")
		// a place of another kind of block, device or control is another
		if kind := tree.At(steps[:min(2, len(steps))]...); len(steps) > 2 {
			for _, key := range []string{"block", "kind"} {
				if of := kind.Get(key); of != nil {
					place += " of " + of.Text
				}
			}
		}
		if seen[place]++; seen[place] > 1 {
			return
		}
		for _, value := range values[n.Kind] {
			same := *value
			changed, err := tree.With(steps, func(parent *setup.Node, last string) error {
				if parent.Kind == setup.Map {
					return parent.Put(last, &same)
				}
				return errors.Join(parent.Remove(last), parent.Put(last, &same))
			})
			require.NoError(t, err)
			text := strings.ReplaceAll(string(same.JSON()), "\n", "")
			note(place, strings.Join(strings.Fields(text), ""), changed)
		}
		gone, err := tree.With(steps, func(parent *setup.Node,
			last string) error {
			return parent.Remove(last)
		})
		require.NoError(t, err)
		note(place, "taken out", gone)
		if _, isIndex := fmt.Sscan(steps[len(steps)-1], new(int)); isIndex == nil {
			twice, err := tree.With(steps, func(parent *setup.Node,
				last string) error {
				return parent.Put("-", n)
			})
			require.NoError(t, err)
			note(place, "twice", twice)
		}
		if n.Kind == setup.Map {
			more, err := tree.With(append(slices.Clone(steps), "unheard_of"),
				func(parent *setup.Node, last string) error {
					return parent.Put(last,
						values[setup.Bool][0])
				})
			require.NoError(t, err)
			note(place, "unheard_of", more)
		}
	})
	var b strings.Builder
	last := ""
	slices.SortStableFunc(order, func(a, c string) int {
		return strings.Compare(strings.SplitN(a, "\n", 2)[0], strings.SplitN(c, "\n", 2)[0])
	})
	for _, key := range order {
		place, answer, _ := strings.Cut(key, "\n")
		if place != last {
			fmt.Fprintln(&b, place)
			last = place
		}
		fmt.Fprintf(&b, "%s <- %s\n", answer, said[key][2:])
	}
	text := b.String()
	for name, kinds := range map[string]setup.PartKinds{"kinds of device": setup.Devices,
		"kinds of block": setup.Blocks, "kinds of control": setup.Controls} {
		require.Contains(t, text, strings.Join(kinds.Keys(), ", "))
		text = strings.ReplaceAll(text, strings.Join(kinds.Keys(), ", "), "("+name+")")
	}
	golden.Equal(t, "mistakes", text)
}

// TestWhatLiesBehindEachLine, through whatever lies between.
func TestWhatLiesBehindEachLine(t *testing.T) {
	var b strings.Builder
	for _, m := range golden.Models(t) {
		s := m.Doc.Setup
		names := func(items []setup.Item) string {
			var list []string
			for _, item := range items {
				list = append(list, item.Path())
			}
			slices.Sort(list)
			return strings.Join(list, " ")
		}
		behind := func(v setup.Value) []setup.Item {
			src, err := s.Source(v)
			require.NoError(t, err)
			if src.Kind == setup.SourceNumber {
				return nil
			}
			return s.Graph().Behind(src.Item())
		}
		for i, o := range s.Outputs {
			fmt.Fprintf(&b, "%s: %s\n  pins %v\n", o.ID, names(s.Graph().Behind(setup.IsOutput.At(i))),
				s.Carriers(i))
		}
		for _, v := range s.Mixes {
			fmt.Fprintf(&b, "%s %q: %s\n", v.From, words.Source(s, v.From), names(behind(v.From)))
			if v.When != nil {
				fmt.Fprintf(&b, "  while %s: %q\n", *v.When, words.Truth(s, *v.When))
			}
		}
		for k := range 20 {
			fmt.Fprintf(&b, "channel %d carries %d, output %d\n", k, s.Link.Sent(k), s.OutputOn(k))
		}
		for _, r := range s.Graph().References {
			fmt.Fprintf(&b, "%s %d %s sub %d not %v: %s %q %s\n", r.From.Path(), r.Role, r.To.Path(), r.Sub,
				r.Not, r.Pointer, r.Text, r.ID)
		}
	}
	golden.Equal(t, "behind", b.String())
}

// TestPrinted: the text of a document, as JSON and as YAML, and its schema.
func TestPrinted(t *testing.T) {
	for _, m := range golden.Models(t) {
		golden.Equal(t, m.Name+"_yaml", string(m.Doc.Tree.YAML()))
		back, err := setup.ReadJSON(m.Doc.Tree.JSON())
		require.NoError(t, err)
		require.True(t, back.Tree.Equal(m.Doc.Tree))
		again, err := setup.ReadYAML(m.Doc.Tree.YAML())
		require.NoError(t, err)
		require.True(t, again.Tree.Equal(m.Doc.Tree))
	}
}

// TestNodes: what a tree is made of, set, taken out, compared.
func TestNodes(t *testing.T) {
	read := func(text string) *setup.Node {
		n, problems := setup.ParseYAML([]byte(text))
		require.Empty(t, problems)
		return n
	}
	one := &setup.Node{Kind: setup.Number, Text: "1"}
	for _, c := range []struct{ of, step, want, fault string }{
		{"{a: 2, b: 3}", "a", "{a: 1, b: 3}", ""}, {"{a: 2}", "b", "{a: 2, b: 1}", ""},
		{"[5, 6]", "0", "[1, 5, 6]", ""}, {"[5, 6]", "2", "[5, 6, 1]", ""}, {"[5, 6]", "-", "[5, 6, 1]", ""},
		{"[5, 6]", "3", "", "no place 3 in a list of 2"}, {"[5]", "x", "", "no place x"},
		{"[5]", "-1", "", "no place -1"},
	} {
		n := read(c.of)
		if err := n.Put(c.step, one); c.fault != "" {
			require.ErrorContains(t, err, c.fault)
			continue
		}
		require.Equal(t, string(read(c.want).JSON()), string(n.JSON()), "%v", c)
	}
	for _, c := range []struct{ of, step, want string }{
		{"{a: 2, b: 3, c: 4}", "b", "{a: 2, c: 4}"}, {"{a: 2}", "x", ""}, {"[5, 6, 7]", "1", "[5, 7]"},
		{"[5, 6]", "2", ""}, {"[5, 6]", "-", ""}, {"text", "0", ""},
	} {
		n := read(c.of)
		if err := n.Remove(c.step); c.want == "" {
			require.ErrorContains(t, err, "to remove", c.of)
			continue
		}
		require.Equal(t, string(read(c.want).JSON()), string(n.JSON()), "%v", c)
	}
	same := []string{"1", "1.0", "2", "true", "false", `"1"`, "null", "[]", "[1]", "[1, 2]", "[2, 1]", "{}",
		"{a: 1}", "{a: 1, b: 2}", "{b: 2.0, a: 1}", "{a: 1, b: 3}", "{a: 1, c: 2}", "[[1], {a: [2]}]",
		"[[1], {a: [3]}]"}
	groups := map[string]string{"1.0": "1", "{b: 2.0, a: 1}": "{a: 1, b: 2}"}
	name := func(text string) string {
		if as, ok := groups[text]; ok {
			return as
		}
		return text
	}
	for _, a := range same {
		for _, b := range same {
			require.Equal(t, name(a) == name(b), read(a).Equal(read(b)), "%s and %s", a, b)
		}
	}
}

// TestTheNearestName is proposed where it is near enough: up to two letters off.
func TestTheNearestName(t *testing.T) {
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\noutputs: [{id: blade_lift, " +
		"channel: 1}, {id: blade_left, channel: 2}, {id: horn, channel: 3}, {id: pump, channel: 4}]"))
	require.NoError(t, err)
	for asked, want := range map[string]string{"blade_lft": "did you mean blade_left?",
		"blade_lifts": "did you mean blade_lift?", "horm": "did you mean horn?", "born": "did you mean horn?",
		"orhn": "did you mean horn?", "hornxx": "did you mean horn?",
		"hornxxx": "add it, or name another", "ho": "did you mean horn?", "h": "add it, or name another",
		"xxrn": "did you mean horn?", "xxxn": "add it, or name another", "pmup": "did you mean pump?",
		"plump": "did you mean pump?", "": "add it, or name another"} {
		_, err := doc.Setup.Source(setup.Value{Ref: asked + ".asked"})
		require.ErrorContains(t, err, want, asked)
	}
}
