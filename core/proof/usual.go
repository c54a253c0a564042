package proof

import (
	"math"
	"slices"

	"axtren/core/setup"
	"axtren/core/signal"
)

// Proposal is something that is usually wanted of a model like this one. It is proposed, and not imposed.
type Proposal struct {
	Label string      `json:"label"`
	Claim *setup.Node `json:"-"` // as it would be written
}

// What is usually asked of what turns or pumps.
const (
	mostProposed = 8
	restWithin   = 2.0 // percent
)

// Propose lists what is usual for what turns or pumps in a model and is not claimed yet: that it rests at
// power-on whatever was left over, and when the signal is lost. What rest is, the device says.
func Propose(p *signal.Program) []Proposal {
	list := []Proposal{}
	s := p.Setup()
	rest := p.PowerOn()
	p.Step(rest, p.Ready())
	for i := range s.Outputs {
		device := turns(s, i)
		if device < 0 || len(list) >= mostProposed {
			continue
		}
		at := math.Round(10*rest.At(p.Routes[i].P)) / 10
		if off, ok := p.Does(device, p.PulseOf(at)); !ok || off != 0 {
			continue // where it is off nobody can tell
		}
		o := &s.Outputs[i]
		if !slices.ContainsFunc(s.Claims,
			func(c setup.Claim) bool { return c.AtStart != nil && c.AtStart.Output == o.ID }) {
			list = append(list, proposal(s, s.OutputLabel(i)+" rests at power-on, whatever was left over",
				string(o.ID)+"_starts", "at_start", "output", string(o.ID), "value", at, "within", restWithin))
		}
		if slices.ContainsFunc(s.Claims,
			func(c setup.Claim) bool { return c.OnLoss != nil && c.OnLoss.Output == o.ID }) {
			continue
		}
		label, id := s.OutputLabel(i)+" rests when the signal is lost", string(o.ID)+"_lost"
		if o.Loss != nil && o.Loss.Mode == "cut" {
			list = append(list, proposal(s, label, id, "on_loss", "output", string(o.ID), "cut", true))
		} else {
			list = append(list, proposal(s, label, id, "on_loss", "output", string(o.ID), "value", at, "within",
				restWithin))
		}
	}
	return list
}

// turns gives the controller or pump that an output moves; -1 for none.
func turns(s *setup.Setup, output int) int {
	for _, i := range s.Drives(output) {
		if kind := s.Devices[i].Kind; kind == "esc" || kind == "pump" {
			return i
		}
	}
	return -1
}

func proposal(s *setup.Setup, label, id, what string, fields ...any) Proposal {
	return Proposal{label, setup.GroupNode("id", s.FreeID(id), "label", label, what,
		setup.GroupNode(fields...))}
}
