package loss

import (
	"encoding/json"
	"slices"

	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/words"
)

// SaysStart says which controls the transmitter has to wait for, whether fewer would do, and which are left
// unchecked on purpose.
func SaysStart(s *setup.Setup, found *proof.Start) []string {
	claimed := slices.ContainsFunc(s.Claims, func(c setup.Claim) bool { return c.AtStart != nil })
	switch {
	case !claimed:
		return []string{"Nothing is said of what must rest at power-on, so there is nothing to wait for. " +
			"Say it in Rules, under what must always hold."}
	case found.Why != "":
		return []string{"Not found out: " + found.Why + "."}
	case !found.Possible:
		return []string{"No check makes power-on safe: whatever is waited for, something that must rest at " +
			"power-on does not. That has to be mended first."}
	case len(found.Entries) == 0:
		return []string{"Nothing has to be waited for: wherever the controls were left, what must rest at " +
			"power-on rests. That is proved."}
	}
	var waits []string
	for i := range found.Entries {
		e := &found.Entries[i]
		waits = append(waits, s.ControlLabel(s.Item(e.Control).Index)+" at "+words.StartsAt(e))
	}
	least := "Fewer might do: that was not proved."
	if found.Fewest {
		least = "That is the least that makes power-on safe, which is proved."
	}
	lines := []string{"Wait for " + words.And(waits) + ".", least}
	if left := Unchecked(s, found.Entries); len(left) > 0 {
		lines = append(lines, "Left unchecked on purpose: "+words.And(left)+
			". What must rest at power-on rests wherever that was left, and a warning that always comes is soon "+
			"ignored.")
	}
	return lines
}

// Unchecked names the controls that stay where they are left and that no entry waits for.
func Unchecked(s *setup.Setup, entries []setup.StartEntry) []string {
	left := []string{}
	for i := range s.Transmitter.Controls {
		c := &s.Transmitter.Controls[i]
		if !c.Springs() && !slices.ContainsFunc(entries,
			func(e setup.StartEntry) bool { return e.Control == c.ID }) {
			left = append(left, s.ControlLabel(i))
		}
	}
	return left
}

// WaitsFor tells whether a setup waits for entries already, and for nothing else.
func WaitsFor(s *setup.Setup, entries []setup.StartEntry) bool {
	return len(entries) == len(s.StartCheck) && !slices.ContainsFunc(entries, func(e setup.StartEntry) bool {
		return !slices.Contains(s.StartCheck, e)
	})
}

// StartPatch is a JSON Patch by which the transmitter waits for entries, and for nothing else.
func StartPatch(s *setup.Setup, entries []setup.StartEntry) json.RawMessage {
	list := []map[string]any{}
	for _, e := range entries {
		list = append(list, map[string]any{"control": e.Control, "is": e.Is.Written()})
	}
	op := map[string]any{"op": "add", "path": "/start_check", "value": list}
	if len(list) == 0 && len(s.StartCheck) > 0 {
		op = map[string]any{"op": "remove", "path": "/start_check"}
	}
	text, err := json.Marshal([]any{op})
	if err != nil {
		panic(err) // it is made of texts and figures
	}
	return text
}

// Batteries says at how many volts each battery counts as low.
func Batteries(s *setup.Setup) []string {
	list := []string{"Nobody has said at how many volts the transmitter warns: say it in Kit."}
	if s.Transmitter.LowV > 0 {
		list[0] = "The transmitter warns at " + words.Short(s.Transmitter.LowV) + " V: then come home."
	}
	if s.Wiring == nil {
		return list
	}
	for i := range s.Wiring.Feeds {
		f := &s.Wiring.Feeds[i]
		name := f.Label
		if name == "" {
			name = "the battery"
		}
		name = words.Capital(name) + ", " + words.Short(f.Volts) + " V: "
		if f.LowV > 0 {
			list = append(list, name+"come home at "+words.Short(f.LowV)+" V.")
			continue
		}
		list = append(list,
			name+"nobody has said when to come home. Usual is 3.5 V a cell of lithium polymer at rest, "+
				"1.1 V of nickel, 2 V of lead (common practice): say it in Plan.")
	}
	return list
}
