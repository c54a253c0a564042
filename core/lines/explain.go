package lines

import (
	"strconv"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
)

// Explain gives the arithmetic behind the value of a joint; ok is false where
// the key names no joint with a value.
func Explain(p *signal.Program, st *signal.State, key string) (r signal.Reason, ok bool) {
	kind, rest, _ := strings.Cut(key, "/")
	id, joint, _ := strings.Cut(rest, "/")
	s := p.Setup()
	item := s.Item(setup.ID(id))
	switch {
	case kind == "control" && item.Kind == setup.IsControl:
		return p.WhyControl(st, item.Index), true
	case kind == "demand" && item.Kind == setup.IsDemand:
		return p.WhyDemand(st, item.Index), true
	case kind == "device" && item.Kind == setup.IsDevice && p.Devices[item.Index].Value != signal.None:
		return p.WhyDevice(st, item.Index), true
	case kind == "out" && item.Kind == setup.IsOutput && joint == "pin":
		if pins := p.Routes[item.Index].Pins; len(pins) > 0 {
			return p.WhyPin(st, pins[0].PinRef), true
		}
	case kind == "out" && item.Kind == setup.IsOutput:
		return p.WhyJoint(st, item.Index, joint)
	case kind == "term" && item.Kind == setup.IsOutput:
		mix, err := strconv.Atoi(joint)
		for k, t := range p.Routes[item.Index].Terms {
			if err == nil && t.Mix == mix {
				return p.WhyTerm(st, item.Index, k), true
			}
		}
	}
	return signal.Reason{}, false
}
