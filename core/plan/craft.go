package plan

import (
	"fmt"
	"slices"

	"axtren/core/setup"
	"axtren/core/words"
)

// steers and works are the parts of a picture that steer a craft of a kind, and those that do its work
// while it is driven: common practice, no source.
var (
	steers = map[string][]string{"boat": {"rudder"}, "submarine": {"rudder", "plane"},
		"amphibian": {"rudder", "axle"},
		"car":       {"axle"}, "truck": {"axle"}}
	works = map[string][]string{"boat": {"monitor", "turret"}, "tracked": {"blade", "boom", "bucket"},
		"truck": {"boom", "bucket", "turret"}, "construction": {"boom", "bucket", "turret", "trolley", "hook"}}
)

// shown tells whether the picture shows one of some parts on what hangs on an output.
func (r *reading) shown(output int, parts []string) bool {
	return slices.ContainsFunc(r.s.Drives(output), func(d int) bool {
		return r.partOf(d, func(p *setup.StagePart) bool { return slices.Contains(parts, p.Part) }) != nil
	})
}

// partOf gives the first part of the picture that shows a device and is as it is asked for; nil for none.
func (r *reading) partOf(device int, is func(*setup.StagePart) bool) *setup.StagePart {
	if r.s.Stage == nil {
		return nil
	}
	for i := range r.s.Stage.Parts {
		p := &r.s.Stage.Parts[i]
		if p.Device != nil && *p.Device == r.s.Devices[device].ID && is(p) {
			return p
		}
	}
	return nil
}

// usualHand is what is usual for a function that a lever moves which goes back by itself, and that
// moves some outputs: it works where the picture shows that, else it drives where a motor or what
// steers hangs there; empty for neither.
func (r *reading) usualHand(outputs []int) string {
	kind := r.s.Craft.Kind
	is := func(what func(output int) bool) bool { return slices.ContainsFunc(outputs, what) }
	switch {
	case is(func(o int) bool { return r.shown(o, works[kind]) }):
		return "works"
	case is(func(o int) bool { return r.hasMotor(o) || r.shown(o, steers[kind]) }):
		return "drives"
	}
	return ""
}

// byCraft lists what is to be asked for on a lost signal by what the picture shows a servo move: a
// valve closes; the rudder of a submarine goes to its middle and its planes rise, at whichever end they
// do that. Common practice, no source.
func (r *reading) byCraft(output int) (list []Proposal) {
	o := &r.s.Outputs[output]
	name := r.s.OutputLabel(output)
	add := func(value float64, says, why string) {
		list = append(list, r.proposal(output, "preset", value, name+" "+says+" on a lost signal", why))
	}
	for _, d := range r.s.Drives(output) {
		if _, servo := r.s.Devices[d].Spec.(*setup.Servo); !servo {
			continue
		}
		part := r.partOf(d, func(*setup.StagePart) bool { return true })
		switch {
		case part == nil:
		case part.Pump != nil:
			add(o.Centre, "closes its valve", "a valve that holds lets its cylinder go on, up to its end")
		case r.s.Craft.Kind != "submarine":
		case part.Part == "rudder":
			add(o.Centre, "goes to its middle", "a boat under water that holds its rudder goes round in circles")
		case part.Part == "plane":
			for _, end := range []float64{o.High, o.Low} {
				add(end, "goes to "+words.SignedShort(end), fmt.Sprintf("take this one where it rises at "+
					"%s: what dips its "+
					"aerial loses the signal, and has to come up by itself", words.SignedShort(end)))
			}
		}
		if list != nil {
			return list
		}
	}
	return nil
}
