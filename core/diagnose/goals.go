package diagnose

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
)

// Of what moves to and fro, it can also be asked that it goes as far as the ends let it.
const (
	fully    = "_end"
	nearlyTo = 1 // percent from there
)

// Goals lists what each device can be asked to be got to do: what it can be seen to do, and, of what moves to
// and fro, to do that all the way.
func Goals(p *signal.Program) []DeviceSight {
	s := p.Setup()
	list := SightsOf(p).Devices
	for k := range list {
		one := &list[k]
		i := s.Item(setup.ID(one.ID)).Index
		for _, said := range slices.Clone(one.Says) {
			if _, ok := Goal(p, i, said.Key+fully); ok {
				one.Says = append(one.Says, Saying{said.Key + fully, said.Words + ", all the way"})
			}
		}
	}
	return list
}

// Goal gives the condition that device i does something by its key; ok is false where it never does, so far
// as its kind and its ends tell.
func Goal(p *signal.Program, i int, key string) (c setup.Condition, ok bool) {
	d := &p.Setup().Devices[i]
	c.Device = &d.ID
	way, all := strings.CutSuffix(key, fully)
	if !slices.Contains(sayings(d), way) {
		return c, false
	}
	off, least, most := 0.0, float64(enough), -float64(enough)
	var step float64
	switch {
	case all:
		least, most, ok = ends(p, i)
		return beyond(c, way, least-nearlyTo, most+nearlyTo), ok && (way == plus && least > enough+nearlyTo ||
			way == minus && most < -enough-nearlyTo)
	case way == plus, way == minus:
		return beyond(c, way, least, most), true
	case way == still:
		c.Within = &setup.Point{most, least}
	case way == "on":
		c.Above = &off
	case way == "off":
		c.Within = &setup.Point{-1000, off}
	default:
		_, _ = fmt.Sscanf(way, "step %f", &step) // it is among the sayings
		c.Within = &setup.Point{step, step}
	}
	return c, true
}

// beyond is above the one figure, or below the other, by the way that is asked for.
func beyond(c setup.Condition, way string, least, most float64) setup.Condition {
	if way == plus {
		c.Above = &least
	} else {
		c.Below = &most
	}
	return c
}

// ends gives the most and the least that device i does between the ends of its function.
func ends(p *signal.Program, i int) (most, least float64, ok bool) {
	out := p.Setup().DrivenBy(i)
	if out < 0 {
		return 0, 0, false
	}
	o := &p.Setup().Outputs[out]
	a, first := p.Does(i, p.PulseOf(o.Low))
	b, second := p.Does(i, p.PulseOf(o.High))
	return max(a, b), min(a, b), first && second
}

// Wanted is something that a device is to do, as it is said of it then.
type Wanted struct {
	Says string // Port screw turns ahead
	Goal setup.Condition
}

// Does gives what a device does by its key, by its id; empty where it never does.
func Does(p *signal.Program, device setup.ID, key string) []Wanted {
	s := p.Setup()
	item := s.Item(device)
	if item.Kind != setup.IsDevice {
		return nil
	}
	c, ok := Goal(p, item.Index, key)
	if !ok {
		return nil
	}
	for _, one := range Goals(p) {
		if one.ID == string(device) {
			return []Wanted{{doesSay(&one, key), c}}
		}
	}
	return nil
}

// Stirs lists what would show that an output does something: all that its devices do not do at a moment, or,
// where nothing is plugged in, that its signal moves.
func Stirs(p *signal.Program, st *signal.State, output int) []Wanted {
	s := p.Setup()
	w := &world{s: s, p: p}
	list := []Wanted{}
	for _, one := range SightsOf(p).Devices {
		i := s.Item(setup.ID(one.ID)).Index
		if s.DrivenBy(i) != output {
			continue
		}
		for _, said := range one.Says {
			if goal, ok := Goal(p, i, said.Key); ok && said.Key != shows(w, st, 0, i) {
				list = append(list, Wanted{doesSay(&one, said.Key), goal})
			}
		}
	}
	if len(list) > 0 || len(s.Drives(output)) > 0 {
		return list
	}
	o, at := &s.Outputs[output], st.At(p.Routes[output].P)
	above, below := at+enough, at-enough
	says := "the signal of " + s.OutputLabel(output) + " moves"
	return append(list, Wanted{says, setup.Condition{Output: &o.ID, Above: &above}},
		Wanted{says, setup.Condition{Output: &o.ID, Below: &below}})
}

// doesSay says that a device does something by its key: Port screw turns ahead; Horn is on; Mast lights is at
// step 2.
func doesSay(of *DeviceSight, key string) string {
	at := slices.IndexFunc(of.Says, func(one Saying) bool { return one.Key == key })
	if at < 0 {
		return of.Label
	}
	says := of.Says[at].Words
	switch {
	case key == "on", key == "off":
		says = "is " + says
	case strings.HasPrefix(key, "step "):
		says = "is at " + says
	}
	return of.Label + " " + says
}
