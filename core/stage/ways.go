package stage

// Ways says what a part is seen to do while its device stands above the middle, and below it: ahead and
// astern, to the right and to the left, up and down; turned, where above is astern, left or down. All are
// empty where no part of the picture shows it.
func (g *Stage) Ways(device int) (plus, minus string, turned bool) {
	for i := range g.parts {
		p := &g.parts[i]
		upright := p.source.sign > 0
		switch {
		case p.motor.device == device: // of an axle: its wheels are turned
			plus, minus, upright = "turns forward", "turns backward", p.motor.sign > 0
		case p.source.device != device:
			continue
		case p.moves == turns:
			plus, minus = g.turnings(p.spec.Part)
		case p.moves == swings || p.moves == slides:
			plus, minus = g.swings(p.spec.Part)
			upright = upright == (p.to > p.from)
		default:
			continue
		}
		if !upright {
			plus, minus = minus, plus
		}
		return plus, minus, !upright
	}
	return "", "", false
}

// turnings are the words for a part that turns.
func (g *Stage) turnings(part string) (plus, minus string) {
	switch part {
	case "screw":
		return "turns ahead", "turns astern"
	case "drum":
		return "turns in", "turns out"
	case "pump":
		return "runs", "runs the other way"
	}
	return "turns forward", "turns backward"
}

// swings are the words for a part that swings or slides: seen from above to the right is clockwise.
func (g *Stage) swings(part string) (plus, minus string) {
	_, left, right := g.sides()
	switch part {
	case "rudder", "axle", "monitor", "turret":
		return "goes to " + right, "goes to " + left
	case "leg", "hook", "trolley":
		return "goes out", "goes in"
	}
	if g.view == "above" && partMoves[part] == swings {
		return "goes to " + right, "goes to " + left
	}
	return "goes up", "goes down"
}
