package stage

import (
	"fmt"
	"math"
	"strings"

	"axtren/core/linkage"
	"axtren/core/signal"
	"axtren/core/words"
)

// Words says what a picture shows.
type Words struct {
	Head string   `json:"head"` // Ahead, bearing to port.
	More []string `json:"more"`
	Row  []string `json:"row"` // what each part in the row does, in the order of the parts
}

// sides are what back, left and right are called.
func (g *Stage) sides() (back, left, right string) {
	if kind := g.p.Setup().Craft.Kind; kind == "boat" || kind == "submarine" {
		return "Astern", "port", "starboard"
	}
	return "Back", "the left", "the right"
}

// Words says in words what a picture shows: where the model goes, what turns and
// how fast, what pushes at a stop, what the link has lost, what nothing drives.
func (g *Stage) Words(st *State, on *signal.State) Words {
	w := Words{Head: g.going(st), More: []string{}, Row: g.rowWords(st)}
	var turning, moving, braked, pushing, clashing, lit, lost []string
	for i := range g.parts {
		p, now := &g.parts[i], st.now[i]
		if turned := g.turning(p, now); turned != "" {
			turning = append(turning, turned)
		}
		if p.spec.Part == "pump" && st.fed[i] > 100 && math.Abs(now.turn) >= 0.5 {
			w.More = append(w.More, fmt.Sprintf("%s is shared: each valve gets %.0f of 100 of its way.",
				p.label, math.Abs(now.turn)*100/st.fed[i]))
		}
		if now.flags&Brakes != 0 {
			braked = append(braked, p.label)
		}
		if p.rate > 0 && now.flags&Moves != 0 {
			moving = append(moving, p.label)
		}
		if p.moves == shines && now.at != 0 {
			lit = append(lit, p.label)
		}
		if now.flags&Pushes != 0 {
			pushing = append(pushing, p.label)
		}
		if now.flags&Clashes != 0 {
			clashing = append(clashing, p.label)
		}
		if now.flags&Lost != 0 {
			lost = append(lost, p.label)
		}
	}
	for i := range g.motors {
		m := &g.motors[i]
		if turned := m.words(on); turned != "" {
			turning = append(turning, turned)
		}
		if m.pose(on).flags&Pushes != 0 {
			pushing = append(pushing, m.part.label)
		}
	}
	w.add("%s.", turning)
	w.add("Moving: %s.", moving)
	w.add("Braked: %s.", braked)
	w.add("On: %s.", lit)
	w.add("Pushes at its stop: %s.", pushing)
	w.add("In each other's way: %s.", clashing)
	if len(lost) > 0 && len(lost) == g.bound() {
		w.More = append(w.More, "No signal reaches the model.")
	} else {
		w.add("No signal reaches %s.", lost)
	}
	if st.free {
		if drift := g.drift(st); drift != "" {
			w.More = append(w.More, drift)
		}
	}
	for i := range g.parts {
		if p := &g.parts[i]; !p.driven() {
			w.More = append(w.More, p.label+": nothing moves it yet, drawn in outline.")
		}
	}
	return w
}

func (w *Words) add(format string, names []string) {
	if len(names) > 0 {
		w.More = append(w.More, words.Capital(fmt.Sprintf(format, strings.Join(names, ", "))))
	}
}

// bound counts the parts that have a device.
func (g *Stage) bound() int {
	n := 0
	for i := range g.parts {
		if g.parts[i].source.device >= 0 {
			n++
		}
	}
	return n
}

// turning says how fast a part turns; empty where it stands or does not turn.
func (g *Stage) turning(p *part, now pose) string {
	if math.Abs(now.turn) < 0.5 {
		return ""
	}
	ahead, back := "ahead", "back"
	switch p.spec.Part {
	case "drum":
		ahead, back = "in", "out"
	case "pump":
		return fmt.Sprintf("%s runs at %.0f", p.label, math.Abs(now.turn))
	case "screw":
		back = "astern"
	}
	if now.turn < 0 {
		ahead = back
	}
	return fmt.Sprintf("%s %s %.0f", p.label, ahead, math.Abs(now.turn))
}

// going says where the model goes.
func (g *Stage) going(st *State) string {
	if g.top == 0 || g.view != "above" {
		for _, now := range st.now {
			if now.flags&Moves != 0 {
				return "At work."
			}
		}
		return "Stands still."
	}
	back, left, right := g.sides()
	slow := math.Abs(st.V) < 3
	turn := ""
	switch {
	case st.W < -0.7:
		turn = left
	case st.W > 0.7:
		turn = right
	}
	way := "Ahead"
	if st.V < 0 {
		way = back
	}
	switch {
	case slow && turn == "":
		return "Stands still."
	case slow:
		return "Turns on the spot to " + turn + "."
	case turn == "":
		return way + ", straight."
	}
	return way + ", bearing to " + turn + "."
}

// driftOver is the way over which a drift is told, mm.
const driftOver = 5000

// drift says how far a model with steered wheels goes aside with hands off.
func (g *Stage) drift(st *State) string {
	if g.body.driven == 0 || !g.body.turned || g.body.base <= 0 {
		return ""
	}
	for _, a := range g.body.axles {
		if !a.steers || a.ahead <= g.body.rear {
			continue
		}
		angle := linkage.Between(st.now[a.part].at, st.now[a.part].extra)
		if math.Abs(angle) < 1e-4 {
			return "Hands off, the wheels stand straight."
		}
		_, left, right := g.sides()
		side := right
		if angle < 0 {
			side = left
		}
		radius := g.body.base / math.Abs(math.Tan(angle))
		aside := "more than it is long"
		if driftOver < radius {
			aside = fmt.Sprintf("%.0f cm aside", radius*(1-math.Cos(driftOver/radius))/10)
		}
		return fmt.Sprintf("Hands off, the wheels stand %.1f degrees to %s: after 5 m it is %s.",
			math.Abs(angle)*180/math.Pi, side, aside)
	}
	return ""
}
