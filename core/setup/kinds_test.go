package setup

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"
)

// eachKind gives every kind of part with its list.
func eachKind(see func(list string, kind *PartKind)) {
	for _, list := range []string{"controls", "logic", "devices"} {
		for i, kinds := 0, KindsOf(list); i < len(kinds); i++ {
			see(list, &kinds[i])
		}
	}
}

// TestKindsSpeakOfTheirFields: what a kind says of its fields, it says of fields that it
// has, and what a new one begins with is all that it needs.
func TestKindsSpeakOfTheirFields(t *testing.T) {
	require.Empty(t, KindsOf("mixes"))
	eachKind(func(list string, kind *PartKind) {
		fields := map[string]Field{}
		for _, f := range Fields(kind.Spec()) {
			fields[f.Name] = f
		}
		begins := kind.Begin("own")
		for _, name := range begins.Keys {
			require.Contains(t, fields, name, kind.Key)
		}
		for name, f := range fields {
			if f.Required && name != "id" && name != "on" && name != KindField(list) {
				require.NotNil(t, begins.Get(name), "%s begins without %s", kind.Key, name)
			}
		}
		for _, clause := range kind.Says {
			require.Contains(t, fields, clause.Field, kind.Key)
			require.Contains(t, clause.Text, "%", kind.Key)
		}
		for name := range kind.Labels {
			require.Contains(t, fields, name, kind.Key)
		}
		if list == "logic" {
			require.NotEmpty(t, kind.Says, kind.Key)
		}
		if list == "devices" {
			require.NotEmpty(t, kind.Unit+kind.Group, kind.Key)
			require.NotEqual(t, kind.Passes, kind.Shown != "", "%s is drawn, or passes on a pulse", kind.Key)
		}
	})
	require.Equal(t, "own", Blocks.Find("sr").Begin("own").Get("set").Text)
}

// TestClausesLeaveOutWhatIsUsual: a field that is as it is where it is left out says nothing.
func TestClausesLeaveOutWhatIsUsual(t *testing.T) {
	said := func(text string) (fields []string) {
		doc, err := ReadYAML([]byte(head + "logic: [" + text + "]"))
		require.NoError(t, err)
		b := &doc.Setup.Logic[0]
		for _, clause := range b.PartKind().Clauses(b.Spec) {
			fields = append(fields, clause.Field)
		}
		return fields
	}
	require.Equal(t, []string{"of", "level"}, said("{id: b, block: above, of: 3, level: 0, hysteresis: 0}"))
	require.Equal(t, []string{"of", "level", "hysteresis"},
		said("{id: b, block: below, of: 3, level: 0, hysteresis: 2}"))
	require.Equal(t, []string{"in"}, said("{id: b, block: toggle, in: power_on, start: false}"))
	require.Equal(t, []string{"in", "reset", "start"},
		said("{id: b, block: toggle, in: power_on, reset: power_on, start: kept}"))
}

// TestWhatABlockDoesInTime: which remember, which start as something, and how late they are.
func TestWhatABlockDoesInTime(t *testing.T) {
	doc, err := ReadYAML([]byte(head + `logic:
  - {id: a, block: or, in: [power_on]}
  - {id: b, block: sr, set: power_on, reset: a, start: kept}
  - {id: c, block: tof, in: power_on, for_s: 1.5}
  - {id: d, block: f_trig, in: a}`))
	require.NoError(t, err)
	logic := doc.Setup.Logic
	require.False(t, logic[0].Remembers())
	for _, b := range logic[1:] {
		require.True(t, b.Remembers(), b.ID)
	}
	_, ok := logic[0].StartsAs()
	require.False(t, ok)
	at, ok := logic[1].StartsAs()
	require.True(t, ok)
	require.Equal(t, StateAt("kept"), at)
	require.Equal(t, []float64{0, 0, 1.5, 0}, []float64{logic[0].DelayS(), logic[1].DelayS(),
		logic[2].DelayS(), logic[3].DelayS()})
}

// TestSchemaSaysWhatEveryFieldIs: a person who writes a document in an editor that knows the
// schema is told of each field what it is.
func TestSchemaSaysWhatEveryFieldIs(t *testing.T) {
	var schema any
	require.NoError(t, json.Unmarshal(Schema(), &schema))
	seen := 0
	var walk func(at any, path string)
	walk = func(at any, path string) {
		switch at := at.(type) {
		case []any:
			for _, one := range at {
				walk(one, path)
			}
		case map[string]any:
			if fields, ok := at["properties"].(map[string]any); ok {
				for name, one := range fields {
					if field, ok := one.(map[string]any); ok && field["title"] == nil {
						require.NotEmpty(t, field["description"], "%s/%s", path, name)
						seen++
					}
				}
			}
			for name, one := range at {
				walk(one, path+"/"+name)
			}
		}
	}
	walk(schema, "")
	require.Greater(t, seen, 190)
}

// TestUnitsOfFields: by the ending of the name, or said with the field.
func TestUnitsOfFields(t *testing.T) {
	units := map[string]string{}
	for _, of := range []any{Output{}, Timer{}, Transmitter{}, Pulse{}, EscRange{}, Stage{}, Stepper{},
		StepBox{}} {
		for _, f := range Fields(of) {
			units[f.Name] = f.Unit
		}
	}
	for name, unit := range map[string]string{"centre": "%", "for_s": "s", "slew_s": "s", "frame_ms": "ms",
		"centre_us": "µs", "neutral": "µs",
		"top_mm_s": "mm/s", "track_mm": "mm", "channel": "", "steps": "", "wrap": ""} {
		require.Equal(t, unit, units[name], name)
	}
}
