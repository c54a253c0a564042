package fill_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/fill"
	"axtren/core/setup"
)

// TestValues: what fills a place is read as it was written; what is not there is empty, and 0.
func TestValues(t *testing.T) {
	v := fill.Values{"one": {"a", "b"}, "none": {}, "figure": {"-12.5"}, "word": {"high"}}
	require.Equal(t, "a", v.One("one"))
	require.Empty(t, v.One("none"))
	require.Empty(t, v.One("not there"))
	require.InDelta(t, -12.5, v.Number("figure"), 0)
	require.Zero(t, v.Number("word"))
	require.Zero(t, v.Number("not there"))
}

// TestFigures are written with three decimals at most, and read only where they are finite.
func TestFigures(t *testing.T) {
	for v, want := range map[float64]string{0: "0", 12: "12", -1.5: "-1.5", 1.0004: "1", 1.0006: "1.001",
		-0.125: "-0.125", 123456.789: "123456.789", 1.001: "1.001"} {
		require.Equal(t, want, fill.Figure(v))
		back, ok := fill.ReadFigure(want)
		require.True(t, ok)
		require.InDelta(t, v, back, 0.0005)
	}
	long, ok := fill.ReadFigure("0.12345678901234567")
	require.True(t, ok)
	require.InDelta(t, 0.12345678901234567, long, 1e-17)
	for _, text := range []string{"", "high", "NaN", "Inf", "-Inf", "1,5", "1e999"} {
		_, ok := fill.ReadFigure(text)
		require.False(t, ok, text)
	}
}

// TestPositionsOf: the positions of a switch in words, in their order; of all else none.
func TestPositionsOf(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(`format: axtren-setup
version: 1
name: One
transmitter:
  controls:
    - {id: stick, kind: axis}
    - {id: gear, kind: switch, positions: [up, half_way, down]}
outputs: [{id: leg, channel: 1}]
`))
	require.NoError(t, err)
	require.Equal(t, []string{"up", "half way", "down"}, fill.PositionsOf(doc.Setup, "gear"))
	for _, id := range []string{"stick", "leg", "nothing", ""} {
		require.Equal(t, []string{}, fill.PositionsOf(doc.Setup, id), id)
	}
}

// checked gives what is said against what fills a place; empty where nothing is.
func checked(p fill.Place, names int, values ...string) string {
	p.Key, p.Label = "it", "Which one"
	if err := p.Check("rule", fill.Values{"it": values}, names); err != nil {
		return err.Error()
	}
	return ""
}

// TestCheck: every kind of place takes what it is for, up to its bounds, and says by name what it does
// not take.
func TestCheck(t *testing.T) {
	choices := []fill.Choice{{Value: "a"}, {Value: "b"}}
	one := fill.Place{Kind: fill.One, Choices: choices}
	many := fill.Place{Kind: fill.Many, Choices: choices}
	number := fill.Place{Kind: fill.Number, Least: -10, Most: 20}
	text := fill.Place{Kind: fill.Text}
	truth, truths := fill.Place{Kind: fill.Truth}, fill.Place{Kind: fill.Truths}
	rows := fill.Place{Kind: fill.Rows, Names: []string{"Step", "Value"}}
	places := fill.Place{Kind: fill.Positions, Choices: choices}
	figures := fill.Place{Kind: fill.Positions, Least: -10, Most: 20}
	long := strings.Repeat("ä", 120)
	full := make([]string, fill.MostValues)
	for i := range full {
		full[i] = "a"
	}
	missing := "rule.it: is not chosen yet: which one; choose it"
	for _, c := range []struct {
		place  fill.Place
		names  int
		values []string
		says   string
	}{
		{one, 0, []string{"b"}, ""},
		{one, 0, []string{"c"}, "rule.it: cannot be chosen for which one (it is c); choose one from the list"},
		{one, 0, []string{"a", "b"}, missing},
		{one, 0, []string{""}, missing},
		{one, 0, nil, missing},
		{many, 0, []string{"a", "b"}, ""},
		{many, 0, []string{"a", "c"}, "cannot be chosen for which one (it is c)"},
		{many, 0, nil, missing},
		{many, 0, []string{""}, "cannot be chosen"},
		{many, 0, full, ""},
		{many, 0, append(full, "a"), "are too many: which one (it is 65); use 64 at most"},
		{number, 0, []string{"-10"}, ""},
		{number, 0, []string{"20"}, ""},
		{number, 0, []string{"-10.1"}, "is out of range: which one (it is -10.1); use -10 to 20"},
		{number, 0, []string{"20.1"}, "(it is 20.1)"},
		{number, 0, []string{"high"}, "(it is high)"},
		{number, 0, []string{"1", "2"}, missing},
		{text, 0, []string{long}, ""},
		{text, 0, []string{long + "x"}, "; use 120 letters at most"},
		{truth, 0, []string{"anything"}, ""},
		{truth, 0, []string{""}, missing},
		{truths, 0, []string{"x", "not y"}, ""},
		{truths, 0, []string{"x", ""}, "move what it is, or choose it from the list"},
		{rows, 0, []string{"a", "1", "b", "2"}, ""},
		{rows, 0, []string{"a", "1", "b"}, "are not whole rows: which one (it is 3); give 2 values for each"},
		{places, 2, []string{"a", "b"}, ""},
		{places, 2, []string{"a"}, "are not the positions of the switch (it is 1); choose 2, one for each"},
		{places, 2, []string{"a", "c"}, "cannot be chosen for which one (it is c)"},
		{figures, 3, []string{"1", "-10", "20"}, ""},
		{figures, 3, []string{"1", "-10", "21"}, "(it is 21)"},
	} {
		says := checked(c.place, c.names, c.values...)
		says = strings.ReplaceAll(says, "−", "-")
		if c.says == "" {
			require.Empty(t, says, "%s %v", c.place.Kind, c.values)
		} else {
			require.Contains(t, says, c.says, "%s %v", c.place.Kind, c.values)
		}
		c.place.Optional = true
		empty := len(c.values) == 0 || len(c.values) == 1 && c.values[0] == "" && c.place.Kind != fill.Many
		require.Equal(t, empty || c.says == "", checked(c.place, c.names, c.values...) == "",
			fmt.Sprint("optional ", c.place.Kind, c.values))
	}
}
