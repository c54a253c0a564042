package lines

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
	"axtren/internal/golden"
)

// TestWholeViews: everything that is drawn of a model, in its order.
func TestWholeViews(t *testing.T) {
	for _, m := range golden.Models(t) {
		v := Build(m.Doc, m.Program)
		require.Equal(t, groups(), v.Groups)
		v.Groups = nil // the same of every model: TestWhatCanBeAdded
		golden.Equal(t, m.Name, golden.Text(t, v)+fmt.Sprintf("missing: %q, undriven: %d\n",
			Missing(m.Program), Undriven(m.Program)))
		for _, slot := range v.Slots {
			require.GreaterOrEqual(t, int(slot), 0)
		}
	}
}

// TestWhatCanBeAdded: each list with the kinds of its part, in the order in which they are
// shown; functions are added in the register.
func TestWhatCanBeAdded(t *testing.T) {
	var lists []string
	for _, g := range groups() {
		lists = append(lists, g.List+"/"+g.Title)
		var want []GroupKind
		for _, kind := range words.Kinds(g.List) {
			want = append(want, GroupKind{kind.Key, kind.Name})
		}
		switch {
		case g.List == "claims":
			require.Len(t, g.Kinds, len(words.Claims))
		case g.List == "receivers":
			require.Len(t, g.Kinds, 9)
			require.Equal(t, GroupKind{"plain", "plain, six pins"}, g.Kinds[0])
			require.Equal(t, GroupKind{"", "something else"}, g.Kinds[8])
		case want == nil:
			require.Len(t, g.Kinds, 1, g.List)
			require.Empty(t, g.Kinds[0].Key)
			require.NotEmpty(t, g.Kinds[0].Name)
		default:
			require.Equal(t, want, g.Kinds)
		}
	}
	require.Equal(t, []string{"controls/Controls", "receivers/Receivers", "devices/Devices", "demands/Feels",
		"logic/Rules", "steppers/Steps", "sequences/Sequences",
		"patterns/Patterns", "mixes/Mixes", "shares/Shared limits", "announcements/Announcements",
		"claims/What must hold"}, lists)
}

// TestWholeForms: the form of each part, with what its fields may hold.
func TestWholeForms(t *testing.T) {
	for _, m := range golden.Models(t) {
		var b strings.Builder
		seen := map[string]bool{}
		var list []string
		for _, one := range Build(m.Doc, m.Program).Behind {
			kind := one.Word
			// else one of each will do
			if !seen[kind] || m.Name == "everything" && (kind == "rule" || kind == "device" ||
				kind == "control") {
				list = append(list, one.Part)
			}
			seen[kind] = true
		}
		for _, o := range m.Program.Setup().Outputs {
			list = append(list, "outputs/"+string(o.ID))
		}
		for _, part := range list {
			f, err := Form(m.Doc, m.Program, part)
			require.NoError(t, err)
			for i := range f.Fields { // the same references stand in each list
				if len(f.Fields[i].Choices) > 4 {
					f.Fields[i].Choices = f.Fields[i].Choices[:2]
				}
			}
			fmt.Fprintf(&b, "%s\n%s", part, golden.Text(t, f))
		}
		golden.Equal(t, m.Name+"_forms", b.String())
		_, err := Form(m.Doc, m.Program, "logic/nobody")
		require.Error(t, err)
	}
}

// TestWholePlots: what an output does over the travel of a control.
func TestWholePlots(t *testing.T) {
	for _, m := range golden.Models(t) {
		p := m.Program
		st := p.PowerOn()
		p.Step(st, p.Rest())
		var b strings.Builder
		for _, o := range p.Setup().Outputs {
			for _, c := range p.Setup().Transmitter.Controls {
				points := Plot(p, st, string(c.ID), string(o.ID))
				moves := false
				for _, at := range points {
					moves = moves || at[1] != points[0][1]
				}
				if !moves {
					continue
				}
				fmt.Fprintf(&b, "%s over %s, %d points:", o.ID, c.ID, len(points))
				for i := 0; i < len(points); i += max(1, len(points)/12) {
					fmt.Fprintf(&b, " %.4g→%.5g", points[i][0], points[i][1])
				}
				b.WriteString("\n")
			}
		}
		golden.Equal(t, m.Name+"_plots", b.String())
	}
}

// TestWholeFormsOfTheModel: what belongs to no list, where the document says it and
// where it does not.
func TestWholeFormsOfTheModel(t *testing.T) {
	models := golden.Models(t)
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n"))
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	models = append(models, golden.Model{Name: "empty", Doc: doc, Program: p})
	for _, m := range models {
		var b strings.Builder
		for _, part := range []string{"craft", "transmitter", "link"} {
			f, err := Form(m.Doc, m.Program, part)
			require.NoError(t, err)
			for i := range f.Fields {
				if f.Fields[i].Name != "can.logic.blocks" || f.Fields[i].Kind != Rows {
					continue
				}
				var kinds []Choice
				for _, kind := range words.Kinds("logic") {
					kinds = append(kinds, Choice{Value: kind.Key, Label: kind.Name})
				}
				require.Equal(t, kinds, f.Fields[i].Columns[0].Choices[1:]) // the first is none
				f.Fields[i].Columns[0].Choices = nil
			}
			fmt.Fprintf(&b, "%s\n%s", part, golden.Text(t, f))
		}
		golden.Equal(t, m.Name+"_model", b.String())
	}
}

// TestWhatExplainsNothing: a key has to name a joint of its kind.
func TestWhatExplainsNothing(t *testing.T) {
	p := golden.Models(t)[0].Program
	st := p.PowerOn()
	p.Step(st, p.Rest())
	for key, value := range map[string]float64{"control/dial": 30, "demand/drive": 3,
		"device/arm_servo": -44.4, "out/arm/turn": -40, "out/port/pin": 1516, "term/pump/6": -90,
		"term/pump/7": 0} {
		r, ok := Explain(p, st, key)
		require.True(t, ok, key)
		require.InDelta(t, value, r.Value, 1, key)
	}
	for _, key := range []string{"", "control", "control/drive", "control/port", "demand/dial", "device/port",
		"device/level", "out/dial/turn", "out/port/nothing", "term/pump/5", "term/pump/", "term/pump/x",
		"term/dial/6", "other/port/turn", "out/nobody/pin", "control/nobody"} {
		_, ok := Explain(p, st, key)
		require.False(t, ok, key)
	}
}

// TestWhatNothingMovesYet, as a part is made, and what somebody has chosen something for.
func TestWhatNothingMovesYet(t *testing.T) {
	for text, want := range map[string]bool{
		"{id: d, from: 0}":                         true,
		"{id: d, from: 20}":                        false,
		"{id: d, from: a}":                         false,
		"{id: b, in: power_on}":                    true,
		"{id: b, in: [power_on, not power_on]}":    true,
		"{id: b, in: [power_on, s.up]}":            false,
		"{id: b, of: 0, from: -20, to: 20}":        true,
		"{id: b, of: a, from: -20, to: 20}":        false,
		"{id: b, of: 0, from: a, to: 20}":          false,
		"{id: b, set: power_on, reset: power_on}":  true,
		"{id: b, set: power_on, reset: s.up}":      false,
		"{id: b, set: b, reset: b}":                true,
		"{id: b, set: c, reset: b}":                false,
		"{id: p, when: power_on, steps: [[0, 1]]}": true,
		"{set: b, reset: b}":                       false,
		"{id: o, channel: 1}":                      false,
	} {
		part, problems := setup.ParseYAML([]byte(text))
		require.Empty(t, problems)
		require.Equal(t, want, idle(part), text)
	}
	require.Equal(t, "boat · memory 1", About(&setup.Setup{Craft: setup.Craft{Kind: "boat", Memory: 1}}))
	require.Equal(t, "tug", About(&setup.Setup{Craft: setup.Craft{Kind: "boat", Type: "tug"}}))
}

// TestHowFarARuleReaches: to 120 %, and to 150 where an end lies beyond.
func TestHowFarARuleReaches(t *testing.T) {
	for ends, want := range map[string]float64{"": 120, ", low: -120, high: 120": 120, ", high: 121": 150,
		", low: -120.5": 150} {
		doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\noutputs: [{id: o, channel: 1" +
			ends + "}]\n"))
		require.NoError(t, err)
		p, err := signal.Compile(doc.Setup)
		require.NoError(t, err)
		rule := Build(doc, p).Lines[0].Rule
		require.Equal(t, []float64{-want, want}, []float64{rule.From, rule.To}, ends)
	}
}

// TestTheLastWordOfASide: what it is a side of is said once.
func TestTheLastWordOfASide(t *testing.T) {
	for side, want := range map[string]string{"stick forward": "forward", "stick up": "up", "control +": "+",
		"servo −": "−", "left": "left"} {
		require.Equal(t, want, lastWord(side))
	}
}
