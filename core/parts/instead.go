package parts

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// Instead puts another control in the place of one, wherever a function counts on it:
// moved is an axis by its id, or a switch with the position to which it was moved. Where
// positions are looked at, the one to which it was moved stands for the one that acted,
// and how the one wakes for how the other does. It gives the document that is to be, and
// in words what was done; the error is setup.Problems.
func Instead(doc *setup.Document, output, old, moved string) (tree *setup.Node, said string, err error) {
	s := doc.Setup
	item := s.Item(setup.ID(output))
	if item.Kind != setup.IsOutput {
		return nil, "", problem("of", fmt.Sprintf("there is no function %q", output),
			"name the one for which the control is exchanged")
	}
	id, _, _ := strings.Cut(moved, ".")
	was, err := control(s, old)
	if err != nil {
		return nil, "", err
	}
	now, err := control(s, id)
	if err != nil {
		return nil, "", err
	}
	if was == now {
		return nil, "", problem("moved", "that is "+s.ControlLabel(now)+" itself", "move another control")
	}
	places, err := exchanged(s, s.Graph().Behind(item), was, moved)
	if err != nil {
		return nil, "", err
	}
	tree = doc.Tree.Copied()
	touched := map[setup.Item]bool{}
	for r, to := range places {
		tree.At(setup.PointerParts(r.Pointer)...).Text = to
		touched[r.From] = true
	}
	return tree, fmt.Sprintf("%s in the place of %s: for %s", s.ControlLabel(now), s.ControlLabel(was),
		actingOn(s, touched)), nil
}

// exchanged gives what stands in the place of each reference to the control was that one of
// the parts makes.
func exchanged(s *setup.Setup, parts []setup.Item, was int, moved string) (map[*setup.Reference]string,
	error) {
	old := &s.Transmitter.Controls[was]
	positions := map[setup.Name]bool{}
	var found []*setup.Reference
	for r := range s.Graph().To(setup.IsControl.At(was)) {
		if !slices.Contains(parts, r.From) {
			continue
		}
		found = append(found, r)
		if r.Role == setup.ReadsTruth {
			positions[old.Switch.Positions[r.Sub]] = true
		}
	}
	if found == nil {
		return nil, problem("part", s.ControlLabel(was)+" does not act on this function", "look again")
	}
	id, _, _ := strings.Cut(moved, ".")
	var to map[setup.Name]setup.Name
	if len(positions) > 0 {
		var err error
		if to, err = standsFor(s, old.Switch, positions, moved); err != nil {
			return nil, err
		}
	}
	places := map[*setup.Reference]string{}
	for _, r := range found {
		places[r] = id
		if r.Role == setup.ReadsTruth {
			places[r] = id + "." + string(to[old.Switch.Positions[r.Sub]])
			if r.Not {
				places[r] = "not " + places[r]
			}
		}
	}
	return places, nil
}

// standsFor says which position of the switch that was moved stands for which of the old
// one, of those that are looked at.
func standsFor(s *setup.Setup, old *setup.Switch, used map[setup.Name]bool,
	moved string) (map[setup.Name]setup.Name, error) {
	item, at, err := pressed(s, moved)
	if err != nil {
		return nil, err
	}
	other := s.Transmitter.Controls[item].Switch
	to := map[setup.Name]setup.Name{old.Positions[old.Rest()]: other.Positions[other.Rest()]}
	var acts []setup.Name
	for _, name := range old.Positions {
		if used[name] && to[name] == "" {
			acts = append(acts, name)
		}
	}
	if len(acts) == 1 && at != other.Rest() {
		to[acts[0]] = other.Positions[at]
		return to, nil
	}
	left := slices.Delete(slices.Clone(other.Positions), other.Rest(), other.Rest()+1)
	if len(acts) > len(left) {
		return nil, problem("moved", fmt.Sprintf("%s has %d positions, and %d are looked at",
			s.ControlLabel(item), len(other.Positions), len(acts)+1), "move a switch with as many positions")
	}
	for i, name := range acts {
		to[name] = left[i]
	}
	return to, nil
}

// actingOn names the functions on which any of some parts acts.
func actingOn(s *setup.Setup, parts map[setup.Item]bool) string {
	var names []string
	for i := range s.Outputs {
		if slices.ContainsFunc(s.Graph().Behind(setup.IsOutput.At(i)),
			func(part setup.Item) bool { return parts[part] }) {
			names = append(names, s.OutputLabel(i))
		}
	}
	return words.And(names)
}
