package sheet

import (
	"slices"
	"strings"

	"axtren/core/setup"
)

// deferTo stands once in a sheet.
const deferTo = "The person on the bench decides. Local rules and licensed practice come first: for radio " +
	"power and bands, for pressure, petrol and lithium cells, and for the water."

// A caution stands at the step before which it applies, once. All are common
// practice, no source.
type caution struct {
	step    string // key of the section
	applies func(*model) bool
	words   string
}

// model is what a caution looks at.
type model struct {
	kind  string
	parts map[string]bool // of the stage
	kinds map[string]bool // of devices
	words string          // labels, lower case
	fluid bool            // a valve is fed by a pump
}

var cautions = []caution{
	{"memory", func(m *model) bool { return m.kinds["esc"] },
		"Lithium cells: charge them watched and apart, and unplug them when you leave the bench."},
	{"direction", func(m *model) bool { return m.kinds["esc"] && (m.parts["track"] || m.kind == "tracked") },
		"Stand the model on a block, tracks clear of the ground, before power: a track that runs the wrong " +
			"way walks off the bench."},
	{"direction", func(m *model) bool {
		return m.kinds["esc"] && !m.parts["track"] &&
			(m.parts["axle"] || slices.Contains([]string{"car", "truck", "amphibian"}, m.kind))
	}, "Stand the model on a block, wheels clear of the ground, before power."},
	{"direction", func(m *model) bool {
		return m.kinds["esc"] && (m.parts["screw"] ||
			slices.Contains([]string{"boat", "submarine", "amphibian"}, m.kind))
	}, "Take the propellers off, or keep hands and leads clear of them, before power."},
	{"direction", func(m *model) bool {
		return m.kinds["esc"] &&
			(m.kind == "construction" || m.kind == "other")
	},
		"Make sure that nothing can lift, swing or bite before power, and that no load hangs."},
	{"centre", func(m *model) bool { return m.kinds["servo"] },
		"Fingers out of the linkage: a servo jumps when its pulse comes. Power off while an arm is screwed " +
			"on."},
	{"ends", func(m *model) bool { return m.fluid || m.kinds["valve"] || m.kinds["pump"] },
		"Let the pressure out of hydraulics and pumps before anything is taken off, and before an end is " +
			"opened further."},
	{lossKey, func(m *model) bool {
		return strings.Contains(m.words, "ignition") || strings.Contains(m.words, "petrol")
	},
		"A petrol engine needs a kill that works with the radio off: try it first."},
	{lossKey, func(m *model) bool { return m.kinds["esc"] },
		"Tie the model down before the signal is cut for the first time: what it does then is what is to " +
			"be found out."},
}

// Cautions gives those that apply before the signal is cut, or power comes on, for the first time.
func Cautions(s *setup.Setup) []string {
	m, list := modelOf(s), []string{}
	for _, c := range cautions {
		if slices.Contains([]string{"direction", "ends", lossKey}, c.step) && c.applies(m) {
			list = append(list, c.words)
		}
	}
	if slices.Contains([]string{"boat", "submarine", "amphibian"}, s.Craft.Kind) {
		list = append(list, "Look for people in the water first, and keep to the rules of the site.")
	}
	list = append(list,
		"What a menu calls its normal is not to be believed, but tried: switch the transmitter off, and "+
			"look at every part.")
	if m.kinds["esc"] {
		list = append(list, "Lithium cells: unplug them when you leave the model.")
	}
	return append(list, deferTo)
}

// modelOf gathers what cautions look at.
func modelOf(s *setup.Setup) *model {
	m := &model{kind: s.Craft.Kind, parts: map[string]bool{}, kinds: map[string]bool{}}
	for _, d := range s.Devices {
		m.kinds[d.Kind] = true
		m.words += strings.ToLower(d.Label) + " "
	}
	for i := range s.Outputs {
		m.words += strings.ToLower(s.OutputLabel(i)) + " "
	}
	if s.Stage != nil {
		for _, p := range s.Stage.Parts {
			m.parts[p.Part] = true
			m.fluid = m.fluid || p.Pump != nil
		}
	}
	return m
}

// caution puts each caution before its step: where a sheet lacks that step, before
// the next it has.
func (b *builder) caution(sh *Sheet) {
	m := modelOf(b.s)
	order := []string{"memory", "radio", "channels", "direction", "centre", "ends", "feel", "logic", "steps",
		"mixes", "shares", "speed", lossKey, "start", shownKey}
	for _, c := range cautions {
		if !c.applies(m) {
			continue
		}
		for i := range sh.Sections {
			sec := &sh.Sections[i]
			if slices.Index(order, sec.Key) >= slices.Index(order, c.step) {
				sec.Caution = strings.TrimSpace(sec.Caution + " " + c.words)
				break
			}
		}
	}
}
