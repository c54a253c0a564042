package stage

import (
	"fmt"
	"math"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// motor is a motor of which the picture shows only what it moves: a tank, a winch, a
// jack. It turns, and pushes, also where that stands at its end.
type motor struct {
	part part // what it is called, for the words of a drill
	spin signal.Slot
	at   signal.Slot // 0..100, what it moves
}

// travels lists the motors of which no part shows the turning.
func (g *Stage) travels() []motor {
	var list []motor
	s := g.p.Setup()
	for i, d := range s.Devices {
		esc, ok := d.Spec.(*setup.Esc)
		if !ok || esc.Travel == nil || g.shows(g.p.Devices[i].Value) {
			continue
		}
		list = append(list, motor{part{label: words.Capital(s.DeviceLabel(i)), moves: turns}, g.p.Devices[i].Value,
			g.p.Devices[i].At})
	}
	return list
}

// shows tells whether a part turns as a motor does.
func (g *Stage) shows(spin signal.Slot) bool {
	for i := range g.parts {
		if p := &g.parts[i]; p.moves == turns && p.source.slot == spin || p.motor.slot == spin {
			return true
		}
	}
	return false
}

// pose is what a motor does: its turning, and whether it pushes at the end of what it
// moves.
func (m *motor) pose(on *signal.State) pose {
	now := pose{turn: on.At(m.spin)}
	now.at = now.turn
	if at := on.At(m.at); now.turn > 0 && at >= 100 || now.turn < 0 && at <= 0 {
		now.flags |= Pushes
	}
	return now
}

// words says what a motor does now; empty where it stands.
func (m *motor) words(on *signal.State) string {
	now := m.pose(on)
	if math.Abs(now.turn) < 0.5 {
		return ""
	}
	return fmt.Sprintf("%s turns at %.0f", m.part.label, math.Abs(now.turn))
}
