package diagnose

import (
	"fmt"
	"maps"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
)

// tank has all kinds of fault: two tracks mixed and cut together, ends and centres that are not as a fresh
// memory has them, a lamp on an on/off pin, a servo behind a leveller and a controller with a second lead.
const tank = `format: axtren-setup
version: 1
name: Tank
transmitter:
  controls:
    - {id: drive, kind: axis}
    - {id: turn, kind: axis}
    - {id: key, kind: switch, positions: [off, on]}
demands: [{id: soft, from: turn, rate: 60}]
outputs:
  - {id: left, channel: 1, low: -90, high: 80}
  - {id: right, channel: 2, reverse: true, centre: 4}
  - {id: lamp, channel: 3}
  - {id: arm, channel: 4, low: -60, high: 70, slew_s: 2}
mixes:
  - {id: l1, to: left, from: drive}
  - {id: l2, to: left, from: soft}
  - {id: r1, to: right, from: drive}
  - {id: r2, to: right, from: soft, gain: -100}
  - {id: on, to: lamp, from: key, bias: 10}
  - {id: up, to: arm, from: left.asked, gain: {pos: 80, neg: 50}}
shares: [{id: tracks, outputs: [left, right], rule: keep_turn}]
link: {order: [1, 2, 4, 3]}
receivers:
  - {id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 4, switch: {on: above, at_us: 1500}}, {pin: 4, channel: 3}]}
devices:
  - {id: port, on: rx.1, kind: esc, needs_neutral: true}
  - {id: starboard, on: rx.2, kind: esc, swap_on: rx.4}
  - {id: glow, on: rx.3, kind: lamp}
  - {id: level, on: rx.4, kind: leveller}
  - {id: boom, on: level, kind: servo, speed_s: 1}
  - {id: box, on: rx.4, kind: step_box, steps: 3}
`

func document(t testing.TB, text string) *setup.Document {
	t.Helper()
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	return doc
}

func compiled(t testing.TB, s *setup.Setup) *signal.Program {
	t.Helper()
	p, err := signal.Compile(s)
	require.NoError(t, err)
	return p
}

// edited changes the text of a document as a fault does, by what the table of faults says and without
// the program's own hands; nil where the document is then wrong.
func edited(t testing.TB, doc *setup.Document, faults []Fault) *setup.Setup {
	t.Helper()
	tree := doc.Tree
	get := func(pointer string) *setup.Node { return tree.At(setup.PointerParts(pointer)...) }
	set := func(pointer string, v *setup.Node) {
		next, err := tree.Set(pointer, v)
		require.NoError(t, err, pointer)
		tree = next
	}
	number := func(n *setup.Node, or float64) float64 {
		if n == nil {
			return or
		}
		return n.Float()
	}
	dropped := map[string]bool{}
	pins := 0
	for _, f := range faults {
		at := f.Where[0]
		switch f.Kind {
		case "reversed":
			now := get(at + "/reverse")
			set(at+"/reverse", &setup.Node{Kind: setup.Bool, Text: fmt.Sprint(now == nil || now.Text != "true")})
		case "ends_not_keyed":
			set(at+"/low", setup.NumberNode(-100))
			set(at+"/high", setup.NumberNode(100))
		case "centre_not_keyed":
			set(at+"/centre", setup.NumberNode(0))
		case "sign":
			set(at+"/bias", setup.NumberNode(-number(get(at+"/bias"), 0)))
			if g := get(at + "/gain"); g != nil && g.Kind == setup.Map {
				pos, neg := g.Get("pos").Float(), g.Get("neg").Float()
				set(at+"/gain/pos", setup.NumberNode(-pos))
				set(at+"/gain/neg", setup.NumberNode(-neg))
			} else {
				set(at+"/gain", setup.NumberNode(-number(g, 100)))
			}
		case "dead":
			dropped[at] = true
		case "channels_exchanged", "leads_exchanged":
			field := map[string]string{"channels_exchanged": "/channel", "leads_exchanged": "/on"}[f.Kind]
			a, b := get(at+field), get(f.Where[1]+field)
			set(at+field, b)
			set(f.Where[1]+field, a)
		case "unplugged":
			on := get(at + "/on").Text
			for i := range doc.Setup.Devices {
				if string(doc.Setup.Devices[i].ID) == on {
					on = get(fmt.Sprintf("/devices/%d/on", i)).Text
				}
			}
			id, pin, _ := strings.Cut(on, ".")
			for r := range doc.Setup.Receivers {
				if string(doc.Setup.Receivers[r].ID) != id {
					continue
				}
				list := get(fmt.Sprintf("/receivers/%d/pins", r))
				made := &setup.Node{Kind: setup.Map, Keys: []string{"pin", "channel"},
					Items: []*setup.Node{setup.NumberNode(float64(200 + pins)), setup.NumberNode(47)}}
				for _, one := range list.Items {
					if sw := one.Get("switch"); sw != nil && one.Get("pin").Text == pin {
						made.Keys, made.Items = append(made.Keys, "switch"), append(made.Items, sw)
					}
				}
				set(fmt.Sprintf("/receivers/%d/pins", r), &setup.Node{Kind: setup.List,
					Items: append(slices.Clone(list.Items), made)})
				set(at+"/on", setup.TextNode(fmt.Sprintf("%s.%d", id, 200+pins)))
				pins++
			}
		}
	}
	if len(dropped) > 0 {
		list := get("/mixes")
		left := &setup.Node{Kind: setup.List, Items: []*setup.Node{}}
		for i, one := range list.Items {
			if !dropped[fmt.Sprintf("/mixes/%d", i)] {
				left.Items = append(left.Items, one)
			}
		}
		set("/mixes", left)
	}
	after, err := setup.FromTree(tree)
	if err != nil {
		return nil
	}
	return after.Setup
}

// watched is what a person sees, read from a trace of the run by its columns.
func watched(t testing.TB, s *setup.Setup, faults []Fault, hands map[string]any) Look {
	t.Helper()
	p := compiled(t, s)
	frame := float64(s.Transmitter.FrameMS) / 1000
	var script strings.Builder
	script.WriteString("t_s,control,value\n")
	for _, id := range slices.Sorted(maps.Keys(hands)) {
		fmt.Fprintf(&script, "%g,%s,%v\n", frame, id, hands[id])
	}
	look := Look{Hands: hands, Display: map[string]float64{}, Seen: map[string]string{}}
	values, known := map[string]float64{}, map[string]bool{}
	end := frame + 3
	require.NoError(t, p.Run(signal.NewScript(strings.NewReader(script.String()), p),
		math.Ceil(end/frame-1e-9)*frame,
		func(_ float64, st *signal.State) error {
			for _, cell := range p.Cells() {
				values[cell.Name], known[cell.Name] = p.Read(&cell, st)
			}
			return nil
		}))
	for i := range s.Outputs {
		o := &s.Outputs[i]
		v := values[string(o.ID)+"_pct"]
		look.Display[fmt.Sprint(o.Channel)] = math.Copysign(math.Floor(math.Abs(v)+0.5+1e-9), v)
	}
	for i := range s.Devices {
		d, sign := &s.Devices[i], 1.0
		for _, f := range faults {
			if f.Kind == "crossed" && f.Where[0] == fmt.Sprintf("/devices/%d", i) {
				sign = -sign
			}
		}
		id := string(d.ID)
		switch d.Spec.(type) {
		case *setup.Esc:
			look.Seen[id] = moves(sign * values[id+"_motor"])
		case *setup.Servo:
			look.Seen[id] = "still"
			if known[id+"_at"] {
				look.Seen[id] = moves(sign * values[id+"_at"])
			}
		case *setup.StepBox:
			look.Seen[id] = fmt.Sprintf("step %g", values[id+"_step"])
		case *setup.Leveller:
			look.Seen[id] = "still"
		default:
			look.Seen[id] = map[bool]string{true: "on", false: "off"}[values[id+"_on"] > 0]
		}
	}
	return look
}

func moves(v float64) string {
	switch {
	case v > 5:
		return "plus"
	case v < -5:
		return "minus"
	}
	return "still"
}

// looksOf are a few looks of a document with faults.
func looksOf(t testing.TB, s *setup.Setup, faults []Fault, n int, r *rand.Rand) (list []Look) {
	for range n {
		hands := map[string]any{}
		for _, c := range s.Transmitter.Controls {
			if r.IntN(2) == 0 {
				continue
			}
			if c.Axis != nil {
				hands[string(c.ID)] = []float64{-100, 100, 40}[r.IntN(3)]
			} else {
				hands[string(c.ID)] = string(c.Switch.Positions[r.IntN(len(c.Switch.Positions))])
			}
		}
		list = append(list, watched(t, s, faults, hands))
	}
	return list
}

func named(sets [][]Fault) (list []string) {
	for _, set := range sets {
		var names []string
		for _, f := range set {
			names = append(names, f.Kind+" "+strings.Join(f.Where, " "))
		}
		list = append(list, strings.Join(names, ", "))
	}
	slices.Sort(list)
	return list
}

// TestCandidates: each is a change that the document may have, and every other single change of the
// table is one that it may not have, or none.
func TestCandidates(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	docs := []*setup.Document{document(t, tank)}
	for _, m := range yard {
		docs = append(docs, m.Doc)
	}
	for _, doc := range docs {
		count := map[string]int{}
		for _, f := range candidates(doc.Setup, false) {
			require.NotNil(t, edited(t, doc, []Fault{f}), "%s %v", doc.Setup.Name, f)
			count[f.Kind]++
		}
		all, n := candidates(doc.Setup, false), len(doc.Setup.Outputs)
		require.Equal(t, n, count["reversed"])
		require.Equal(t, n*(n-1)/2, count["channels_exchanged"])
		require.Equal(t, len(doc.Setup.Devices), count["unplugged"])
		require.Equal(t, len(doc.Setup.Mixes), count["dead"])
		for i := range doc.Setup.Devices {
			for j := i + 1; j < len(doc.Setup.Devices); j++ {
				f := Fault{Kind: "leads_exchanged", Where: []string{fmt.Sprintf("/devices/%d", i),
					fmt.Sprintf("/devices/%d", j)}}
				a, b := doc.Setup.Devices[i].On, doc.Setup.Devices[j].On
				may := strings.Contains(a, ".") && strings.Contains(b, ".") && a != b && strings.Split(a, ".")[0] ==
					strings.Split(b, ".")[0] && edited(t, doc, []Fault{f}) != nil
				is := slices.ContainsFunc(all, func(one Fault) bool {
					return one.Kind == f.Kind && slices.Equal(one.Where, f.Where)
				})
				require.Equal(t, may, is, "%s: %s and %s", doc.Setup.Name, a, b)
			}
		}
	}
	require.Equal(t, []string{"ends_not_keyed /outputs/0", "ends_not_keyed /outputs/3"},
		named(only(candidates(docs[0].Setup, false),
			"ends_not_keyed")))
	require.Equal(t, []string{"crossed /devices/0", "crossed /devices/1", "crossed /devices/4"},
		named(only(candidates(docs[0].Setup, false), "crossed")))
}

func only(list []Fault, kind string) (sets [][]Fault) {
	for _, f := range list {
		if f.Kind == kind {
			sets = append(sets, []Fault{f})
		}
	}
	return sets
}

// plain tries every set of one size by editing the document and running it: the first size that has any.
func plain(t testing.TB, doc *setup.Document, looks []Look, most int) (sets [][]Fault) {
	var all [][]Fault
	for _, f := range candidates(doc.Setup, false) {
		all = append(all, []Fault{f})
	}
	for size := 0; size <= most && len(sets) == 0; size++ {
		sets = plainOf(t, doc, all, looks, size)
	}
	return sets
}

// plainOf tries every set of so many of some faults.
func plainOf(t testing.TB, doc *setup.Document, all [][]Fault, looks []Look, size int) (sets [][]Fault) {
	explains := func(faults []Fault) bool {
		s := edited(t, doc, faults)
		if s == nil {
			return false
		}
		for _, look := range looks {
			is := watched(t, s, faults, look.Hands)
			for channel, v := range look.Display {
				if is.Display[channel] != v {
					return false
				}
			}
			for id, v := range look.Seen {
				if is.Seen[id] != v {
					return false
				}
			}
		}
		return true
	}
	var grow func(set []Fault, from, more int)
	grow = func(set []Fault, from, more int) {
		if more == 0 {
			if explains(set) {
				sets = append(sets, slices.Clone(set))
			}
			return
		}
		for i := from; i < len(all); i++ {
			grow(append(set, all[i][0]), i+1, more-1)
		}
	}
	grow(nil, 0, size)
	return sets
}

// TestAgainstEverySet: planted sets of one and two faults, against every set of one and of two by plain
// trying with edited documents.
func TestAgainstEverySet(t *testing.T) {
	doc := document(t, tank)
	r := rand.New(rand.NewPCG(3, 4))
	all := candidates(doc.Setup, false)
	p := compiled(t, doc.Setup)
	tried := 0
	for tried < 12 {
		planted := []Fault{all[r.IntN(len(all))]}
		if tried%2 == 1 {
			planted = append(planted, all[r.IntN(len(all))])
			slices.SortFunc(planted, before)
			if planted[0].kind == planted[1].kind && planted[0].a == planted[1].a && planted[0].b == planted[1].b {
				continue
			}
		}
		s := edited(t, doc, planted)
		if s == nil {
			continue
		}
		tried++
		looks := looksOf(t, s, planted, 2, r)
		if tried%3 == 0 { // one look, and not at all of it
			looks = looks[:1]
			looks[0].Display = nil
			for id := range looks[0].Seen {
				if r.IntN(2) == 0 {
					delete(looks[0].Seen, id)
				}
			}
		}
		a, err := Diagnose(p, looks, Wish{Most: 2})
		require.NoError(t, err)
		require.True(t, a.Complete)
		want := plain(t, doc, looks, 2)
		require.Equal(t, named(want), named(a.Causes), "planted %v", named([][]Fault{planted}))
		require.Equal(t, len(a.Causes) > 1, a.Next != nil)
	}
}

// TestExchangesOfExchanges: two that are exchanged with a third, of channels and of leads, where what acts
// first moves what acts after it: all sets of two, as plain trying has them.
func TestExchangesOfExchanges(t *testing.T) {
	doc := document(t, tank)
	all := candidates(doc.Setup, false)
	p := compiled(t, doc.Setup)
	r := rand.New(rand.NewPCG(11, 12))
	for _, kind := range []string{"channels_exchanged", "leads_exchanged"} {
		pairs := only(all, kind)
		for i := range pairs {
			for _, other := range pairs[i+1:] {
				faults := []Fault{pairs[i][0], other[0]}
				if faults[0].a != faults[1].a && faults[0].b != faults[1].a && faults[0].b != faults[1].b {
					continue
				}
				s := edited(t, doc, faults)
				if s == nil {
					continue
				}
				looks := looksOf(t, s, faults, 2, r)
				a, err := Diagnose(p, looks, Wish{Most: 2})
				require.NoError(t, err)
				require.Subset(t, named(a.Causes), named(plainOf(t, doc, pairs, looks, len(a.Causes[0]))))
				if len(a.Causes[0]) == 2 {
					require.Contains(t, named(a.Causes), named([][]Fault{faults})[0])
				}
			}
		}
	}
}

// TestTheNextLook: one look alone leaves several causes, all of them those of plain trying; the next look
// leaves as many in the worst case as it says, and fewer than there are.
func TestTheNextLook(t *testing.T) {
	doc := document(t, tank)
	looks := []Look{{Hands: map[string]any{"drive": 100.0}, Seen: map[string]string{"port": "minus"}}}
	a, err := Diagnose(compiled(t, doc.Setup), looks, Wish{Most: 1})
	require.NoError(t, err)
	require.Equal(t, named(plain(t, doc, looks, 1)), named(a.Causes))
	require.Contains(t, named(a.Causes), "reversed /outputs/0")
	require.Contains(t, named(a.Causes), "crossed /devices/0")
	require.Equal(t, worst(t, doc, a), a.Next.LeavesAtMost)
	require.Less(t, a.Next.LeavesAtMost, len(a.Causes))
}

// worst counts how many of the sets are left in the worst case by the next look, by edited documents.
func worst(t *testing.T, doc *setup.Document, a *Answer) int {
	groups := map[string]int{}
	most := 0
	for _, set := range a.Causes {
		look := watched(t, edited(t, doc, set), set, a.Next.Hands)
		sees := fmt.Sprint(look.Display, look.Seen)
		groups[sees]++
		most = max(most, groups[sees])
	}
	return most
}

// TestPlantedInTheYard: in every demo model three faults at once are found, or fewer that explain as
// well, and what they cost in time is printed.
func TestPlantedInTheYard(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	r := rand.New(rand.NewPCG(5, 6))
	var times []time.Duration
	for _, m := range yard {
		all := candidates(m.Doc.Setup, false)
		p := compiled(t, m.Doc.Setup)
		for range 2 {
			var planted []Fault
			var s *setup.Setup
			for s == nil {
				planted = nil
				for _, i := range r.Perm(len(all))[:3] {
					planted = append(planted, all[i])
				}
				slices.SortFunc(planted, before)
				s = edited(t, m.Doc, planted)
			}
			looks := looksOf(t, s, planted, 4, r)
			start := time.Now()
			a, err := Diagnose(p, looks, Wish{Most: 3})
			times = append(times, time.Since(start))
			require.NoError(t, err)
			require.NotEmpty(t, a.Causes, "%s: %s", m.Doc.Setup.Name, named([][]Fault{planted}))
			if len(a.Causes[0]) == 3 {
				require.Contains(t, named(a.Causes), named([][]Fault{planted})[0], m.Doc.Setup.Name)
			}
			for _, set := range a.Causes {
				after := edited(t, m.Doc, set)
				for _, look := range looks {
					require.Equal(t, look, watched(t, after, set, look.Hands), m.Doc.Setup.Name)
				}
			}
		}
	}
	slices.Sort(times)
	t.Logf("three faults, four looks: median %v, the slowest %v", times[len(times)/2], times[len(times)-1])
}

// TestNothingIsWrongAndNothingExplains.
func TestNothingIsWrongAndNothingExplains(t *testing.T) {
	doc := document(t, tank)
	p := compiled(t, doc.Setup)
	r := rand.New(rand.NewPCG(1, 1))
	a, err := Diagnose(p, looksOf(t, doc.Setup, nil, 3, r), Wish{Most: Most})
	require.NoError(t, err)
	require.Equal(t, [][]Fault{{}}, a.Causes)
	require.Nil(t, a.Next)
	a, err = Diagnose(p, nil, Wish{Most: Most})
	require.NoError(t, err)
	require.Equal(t, [][]Fault{{}}, a.Causes, "nothing was seen")
	a, err = Diagnose(p, []Look{{Display: map[string]float64{"1": 37}}}, Wish{Most: Most})
	require.NoError(t, err)
	require.Equal(t, [][]Fault{}, a.Causes)
	require.True(t, a.Complete)
}

func TestBadLooks(t *testing.T) {
	p := compiled(t, document(t, tank).Setup)
	for text, want := range map[string]string{
		"{":                                      "is no list of looks",
		`[{"hand": {}}]`:                         "unknown field",
		`[] []`:                                  "goes on after the list",
		`[{"hands": {"stick": 1}}]`:              "[0].hands.stick: there is no such control",
		`[{"hands": {"drive": 101}}]`:            "[0].hands.drive: ",
		`[{"hands": {"key": "half"}}]`:           "[0].hands.key: ",
		`[{}, {"display": {"9": 1}}]`:            "[1].display.9: no function is on such a channel",
		`[{"seen": {"horn": "on"}}]`:             "[0].seen.horn: there is no such device",
		`[{"seen": {"glow": "plus"}}]`:           "[0].seen.glow: is nothing that this device does",
		`[{"seen": {"box": "step 4"}}]`:          "use step 1, step 2, step 3",
		"[" + strings.Repeat("{},", 200) + "{}]": "is more looks than are taken",
	} {
		looks, err := ReadLooks(strings.NewReader(text))
		if err == nil {
			_, err = Diagnose(p, looks, Wish{Most: 1})
		}
		require.ErrorContains(t, err, want, text)
	}
	_, err := ReadLooks(strings.NewReader("[" + strings.Repeat(" ", mostBytes) + "]"))
	require.ErrorContains(t, err, "more than 1 MiB")
}
