// Package stage turns what the devices of a model do into what a person would
// see: the pose of each part, and where the model goes. It looks at the states of
// devices alone, never at the levers, so a reversed channel or a lead in the wrong
// pin looks as wrong here as on the bench.
//
// Build reads the picture that a setup describes (docs/format.md, section 13);
// what it says wrongly is a Fault, and the picture is of what is left. Step goes a
// frame on beside signal.Program.Step, without an allocation; Numbers is what a
// page needs to draw it.
//
// Seen from above, places are ahead and to starboard, angles clockwise; from the
// side, ahead and up, angles upwards. Millimetres, degrees, seconds; a turning is
// -100..100.
package stage

import (
	"fmt"
	"math"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// moves is how a part moves.
type moves uint8

const (
	still  moves = iota
	turns        // -100..100
	swings       // degrees
	slides       // mm
	shines       // 0 or 1: a lamp, a horn, a magnet
	dials        // percent
	steps        // step from 1
)

var moveWords = [...]string{"still", "turns", "swings", "slides", "shines", "dials", "steps"}

var partMoves = map[string]moves{"hull": still, "track": turns, "wheel": turns, "screw": turns, "drum": turns,
	"pump": turns,
	"axle": swings, "rudder": swings, "plane": swings, "door": swings, "ramp": swings, "boom": swings,
	"bucket": swings, "blade": swings, "monitor": swings, "turret": swings,
	"mast": slides, "leg": slides, "hook": slides, "trolley": slides, "lamp": shines, "horn": shines,
	"magnet": shines, "dial": dials}

// A Stage is the picture of one compiled setup. It does not change.
type Stage struct {
	p      *signal.Program
	view   string
	frame  float64 // seconds
	top    float64 // mm/s at 100
	lag    float64 // the part of a speed that is still missing, which a frame makes up for
	body   body
	parts  []part
	faults []Fault
	hands  []handAt // the sprung controls, and where they rest
	motors []motor  // of which the picture shows only what they move
}

type handAt struct {
	slot signal.Slot
	rest float64
}

// part is one part of the picture, its names resolved.
type part struct {
	spec     setup.StagePart
	label    string
	moves    moves
	from, to float64
	stops    [2]float64
	source   source
	motor    source // of an axle
	brake    source
	pump     int // place in parts' pumps; -1: none
	rate     float64
	on       int // place of the part that it is on; -1: the model
	lost     *float64
	left     *float64 // where its servo was left, if that is known
	start    float64  // of what is moved by a rate, 0..1
	settles  bool     // its pose depends on nothing but its device
}

// source is what moves a part: a slot of a device, as 0..1 between its ends.
type source struct {
	device int // -1: nothing
	slot   signal.Slot
	known  signal.Slot
	low    float64 // what is 0
	span   float64 // up to what is 1
	sign   float64
	aim    signal.Aim
	aims   bool // what it holds is what the aim is of
}

var nothing = source{device: -1, slot: signal.None, known: signal.None, sign: 1, span: 1}

// read gives what the device holds; ok is false before there is anything.
func (s *source) read(on *signal.State) (v float64, ok bool) {
	if s.slot == signal.None || s.known != signal.None && on.V[s.known] == 0 {
		return 0, false
	}
	return s.sign * on.V[s.slot], true
}

// asked gives what is asked of the device, v where that is not known.
func (s *source) asked(on *signal.State, v float64) float64 {
	if !s.aims {
		return v
	}
	if asked, ok := s.aim.Now(on); ok {
		return s.sign * asked
	}
	return v
}

// share gives a value as 0..1 between the ends of its device; beyond them too.
func (s *source) share(v float64) float64 { return (v - s.low) / s.span }

// Build reads the picture of a compiled setup. Without one, and for the devices
// that it leaves out, the devices stand in a row.
func Build(p *signal.Program) *Stage {
	s := p.Setup()
	g := &Stage{p: p, frame: s.Transmitter.FrameS(), lag: 1}
	doc := s.Stage
	if doc == nil {
		doc = &setup.Stage{View: "row"}
	}
	g.view = doc.View
	if g.view == "" {
		g.view = map[string]string{"construction": "side", "amphibian": "side", "submarine": "side",
			"other": "row"}[s.Craft.Kind]
	}
	if g.view == "" {
		g.view = "above"
	}
	g.top = doc.TopMMS
	if doc.CoastS > 0 {
		g.lag = 1 - math.Exp(-g.frame/doc.CoastS)
	}
	r := &reader{g: g, s: s, doc: doc, taken: map[string]string{}}
	r.all()
	g.motors = g.travels()
	for i, c := range s.Transmitter.Controls {
		hand, _ := p.Hand(string(c.ID))
		switch {
		case c.Axis != nil && c.Axis.Spring != "none":
			g.hands = append(g.hands, handAt{p.HandSlot(hand), c.Axis.Rest()})
		case c.Switch != nil && c.Switch.SpringTo != nil:
			g.hands = append(g.hands, handAt{p.HandSlot(hand),
				float64(s.Transmitter.Controls[i].Switch.Rest())})
		}
	}
	return g
}

// Faults lists what the picture says wrongly.
func (g *Stage) Faults() []Fault { return g.faults }

// Fault is a mistake in the picture: the part is drawn without what is wrong.
type Fault struct {
	Path    string `json:"path"`
	Message string `json:"message"`
	Remedy  string `json:"remedy"`
}

// reader resolves the names of a picture.
type reader struct {
	g     *Stage
	s     *setup.Setup
	doc   *setup.Stage
	taken map[string]string // what a device already moves, by device and what it gives
}

func (r *reader) fault(path, remedy, format string, args ...any) {
	r.g.faults = append(r.g.faults, Fault{path, fmt.Sprintf(format, args...), remedy})
}

func (r *reader) all() {
	names := map[setup.Name]int{}
	for i, spec := range r.doc.Parts {
		at := fmt.Sprintf("stage.parts[%d]", i)
		one := r.part(at, spec)
		if other, twice := names[spec.Name]; twice && spec.Name != "" {
			r.fault(at+".name", "give one of them another name", "%q is the name of stage.parts[%d] too",
				spec.Name, other)
		} else if spec.Name != "" {
			names[spec.Name] = i
		}
		r.g.parts = append(r.g.parts, one)
	}
	r.hang(names)
	r.row()
	r.pumps()
	r.g.body = r.body()
}

// hang resolves what stands on what; a ring, or a name that nothing has, puts
// the part on the model itself.
func (r *reader) hang(names map[setup.Name]int) {
	for i := range r.doc.Parts {
		own := &r.g.parts[i]
		own.on = -1
		if own.spec.On == "" {
			continue
		}
		at := fmt.Sprintf("stage.parts[%d].on", i)
		other, known := names[own.spec.On]
		if !known {
			r.fault(at, "name a part that has this name, or leave it out", "there is no part %q to be on",
				own.spec.On)
			continue
		}
		own.on = other
		for up, n := other, 0; up >= 0 && r.g.parts[up].spec.On != ""; n++ {
			next, known := names[r.g.parts[up].spec.On]
			if next == i || n > len(r.doc.Parts) {
				r.fault(at, "let one of them be on the model", "%q is on a part that is on it", own.label)
				own.on = -1
				break
			}
			if up = next; !known {
				break
			}
		}
	}
}

// part resolves one part.
func (r *reader) part(at string, spec setup.StagePart) part {
	one := part{spec: spec, moves: partMoves[spec.Part], source: nothing, motor: nothing, brake: nothing,
		pump: -1, on: -1,
		stops: [2]float64{math.Inf(-1), math.Inf(1)}}
	one.label = spec.Label
	gives := spec.Gives
	if gives == "" && one.moves == turns {
		gives = "value" // it turns as its motor does, wherever what that moves has got to
	}
	one.source = r.source(at+".device", spec.Device, gives, spec.Turned, one.moves != shines)
	one.motor = r.source(at+".motor", spec.Motor, "value", spec.Turned, false)
	one.brake = r.brake(at+".brake", spec.Brake)
	if one.label == "" && one.source.device >= 0 {
		one.label = r.s.DeviceLabel(one.source.device)
	}
	if one.label == "" {
		one.label = string(spec.Name)
	}
	if one.label == "" {
		one.label = spec.Part
	}
	if one.source.device >= 0 {
		if box, ok := r.s.Devices[one.source.device].Spec.(*setup.StepBox); ok && one.moves != swings &&
			one.moves != slides {
			one.moves, one.spec.Stops = steps, nil
			one.to = float64(box.Steps)
		}
	}
	r.ends(at, &one)
	one.settles = one.rate == 0 && one.motor.device < 0 && spec.Part != "hook"
	if arc := spec.Arc; arc != nil && (arc[0] >= arc[1] || arc[1]-arc[0] > 360) {
		r.fault(at+".arc", "write the degrees from left to right, such as [-112.5, 112.5]",
			"the light of %s is seen nowhere", one.label)
	}
	if spec.SizeMM != nil && (spec.SizeMM[0] <= 0 || spec.SizeMM[1] <= 0) {
		r.fault(at+".size_mm", "write a length and a width above 0", "a size of %s by %s mm cannot be drawn",
			words.Figure(spec.SizeMM[0]), words.Figure(spec.SizeMM[1]))
		one.spec.SizeMM = nil
	}
	if one.spec.SizeMM == nil {
		one.spec.SizeMM = usualSize[spec.Part]
	}
	if one.source.device >= 0 {
		if servo, ok := r.s.Devices[one.source.device].Spec.(*setup.Servo); ok && servo.SpeedS > 0 &&
			servo.LeftAt != nil && servo.LeftAt.At != nil {
			v := one.pose(one.source.share(one.source.sign * *servo.LeftAt.At))
			one.left = &v
		}
	}
	if lost, ok := one.source.aim.Loss(); ok && one.source.aims &&
		(one.moves == swings || one.moves == slides) && one.rate == 0 {
		v := one.pose(one.source.share(one.source.sign * lost))
		one.lost = &v
	}
	return one
}

// ends resolves from, to and the stops.
func (r *reader) ends(at string, one *part) {
	usual := map[moves][2]float64{swings: {-30, 30}, slides: {0, 100}}[one.moves]
	if one.moves == steps {
		usual = [2]float64{1, one.to}
	}
	if one.moves == dials {
		usual = [2]float64{-100, 100}
		if one.source.device >= 0 && one.source.low == 0 {
			usual[0] = 0
		}
	}
	one.from, one.to = usual[0], usual[1]
	if one.spec.From != nil {
		one.from = *one.spec.From
	}
	if one.spec.To != nil {
		one.to = *one.spec.To
	}
	if one.from == one.to && one.moves != still && one.moves != turns && one.moves != shines {
		r.fault(at+".to", "write another end", "%s goes from %s to the same", one.label,
			words.Figure(one.from))
		one.from, one.to = usual[0], usual[1]
	}
	if stops := one.spec.Stops; stops != nil {
		if stops[0] < stops[1] {
			one.stops = [2]float64(*stops)
		} else {
			r.fault(at+".stops", "write the lower stop first", "the stops of %s leave no way between them",
				one.label)
		}
	}
	if one.spec.FullS > 0 {
		one.rate = r.g.frame / one.spec.FullS / 100
		one.start = min(max(-one.from/(one.to-one.from), 0), 1)
	}
}

// source resolves a device that moves something; alone tells whether it moves no
// other part: lamps may share one, and axles a motor.
func (r *reader) source(at string, id *setup.ID, gives string, turned, alone bool) source {
	if id == nil {
		return nothing
	}
	item := r.s.Item(*id)
	if item.Kind != setup.IsDevice {
		r.fault(at, "name a device of this model, or leave it out", "there is no device %q", string(*id))
		return nothing
	}
	i := item.Index
	route := r.g.p.Devices[i]
	from := source{device: i, slot: route.Value, known: route.Known, sign: 1, span: 100, aim: r.g.p.Aim(i),
		aims: true}
	what := "value"
	switch spec := r.s.Devices[i].Spec.(type) {
	case *setup.Servo:
		from.low, from.span = -100, 200
	case *setup.StepBox:
		from.low, from.span = 1, float64(spec.Steps-1)
	case *setup.Esc:
		switch {
		case gives == "at" && spec.Travel == nil, gives == "brake" && route.Brake == signal.None:
			r.fault(at, "leave gives out, or describe it at the device", "%s has no %q to give",
				r.s.DeviceLabel(i), gives)
		case gives == "brake":
			from.slot, from.aims, what = route.Brake, false, "brake"
		case gives == "at" || gives == "" && spec.Travel != nil:
			from.slot, from.aims, what = route.At, false, "at"
		}
	}
	if turned {
		from.sign = -1
	}
	key := string(*id) + "." + what
	if other := r.taken[key]; other != "" && alone {
		r.fault(at, "let each device move one part", "%s moves %s too", r.s.DeviceLabel(i), other)
	}
	if alone || r.taken[key] == "" {
		r.taken[key] = map[bool]string{true: at}[alone]
	}
	return from
}

// brake resolves what brakes an axle: a controller that brakes, or a servo, which
// pulls from the low end of its output to the high one.
func (r *reader) brake(at string, id *setup.ID) source {
	if id == nil || r.s.Item(*id).Kind != setup.IsDevice {
		return r.source(at, id, "", false, false)
	}
	i := r.s.Item(*id).Index
	switch r.s.Devices[i].Spec.(type) {
	case *setup.Esc:
		return r.source(at, id, "brake", false, false)
	case *setup.Servo:
		from := r.source(at, id, "", false, false)
		if out := r.s.DrivenBy(i); out >= 0 {
			from.low, from.span = r.s.Outputs[out].Low, r.s.Outputs[out].High-r.s.Outputs[out].Low
		}
		return from
	}
	return r.source(at, id, "", false, false)
}

// row puts the devices that no part names into the row.
func (r *reader) row() {
	for i, d := range r.s.Devices {
		if d.PartKind().Passes {
			continue
		}
		used := false
		for _, gives := range []string{"value", "brake", "at"} {
			_, one := r.taken[string(d.ID)+"."+gives]
			used = used || one
		}
		if used {
			continue
		}
		id := d.ID
		kind := d.PartKind().Shown
		if esc, ok := d.Spec.(*setup.Esc); ok && esc.Travel != nil {
			kind = "dial" // how far what it moves has got
		}
		one := r.part(fmt.Sprintf("devices[%d]", i), setup.StagePart{Part: kind, Device: &id,
			Label: r.s.DeviceLabel(i)})
		r.g.parts = append(r.g.parts, one)
	}
}

// pumps resolves what feeds the valves.
func (r *reader) pumps() {
	for i := range r.g.parts {
		one := &r.g.parts[i]
		if one.spec.Pump == nil {
			continue
		}
		at := fmt.Sprintf("stage.parts[%d].pump", i)
		item := r.s.Item(*one.spec.Pump)
		if item.Kind != setup.IsDevice {
			r.fault(at, "name the pump's device, or leave it out", "there is no device %q",
				string(*one.spec.Pump))
			continue
		}
		for j := range r.g.parts {
			if r.g.parts[j].source.device == item.Index {
				one.pump = j
			}
		}
		if one.pump < 0 {
			r.fault(at, "add a part of the pump", "no part of the picture shows %s",
				r.s.DeviceLabel(item.Index))
		}
	}
}

// pose turns 0..1 into degrees or millimetres.
func (p *part) pose(share float64) float64 { return p.from + share*(p.to-p.from) }

// usualSize is the length and width of a part of which nothing is said, mm.
var usualSize = map[string]*setup.Point{"hull": {300, 160}, "track": {260, 50}, "wheel": {80, 30},
	"axle": {60, 160}, "screw": {20, 60}, "rudder": {60, 14},
	"plane": {60, 14}, "mast": {200, 16}, "door": {80, 12}, "leg": {80, 20}, "ramp": {120, 14},
	"boom": {240, 30}, "bucket": {70, 60}, "blade": {24, 220}, "drum": {50, 40},
	"pump": {50, 50}, "lamp": {18, 18}, "horn": {30, 20}, "magnet": {40, 20}, "hook": {20, 20},
	"trolley": {50, 20}, "monitor": {60, 14}, "turret": {60, 60}, "dial": {40, 40}}
