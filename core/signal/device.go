package signal

import (
	"math"

	"axtren/core/setup"
)

// DeviceRoute is where one device stands; None where it has no such joint.
type DeviceRoute struct {
	Value Slot // servo: position, percent; on or off: 0 or 100; step box: step from 1; controller: motor
	Known Slot // 1 once there is a value; None where there always is
	Brake Slot // of a controller that brakes before it reverses
	At    Slot // of what a motor moves, 0..100
	On    Slot // of a relay, lamp and the like: 0 or 1

	target Slot // of a servo: where its pulse wants it
}

// device is one device with its constants. It is stepped by kind.
type device struct {
	kind    deviceKind
	us      Slot // the pulse on its pin
	on      Slot // of a switch pin, None else
	swap    Slot // the pulse of the second lead, None else
	route   DeviceRoute
	own     [3]Slot // what the kind remembers
	seen    Slot    // the pulse that the slots of the route are for; -1: none
	settles bool    // whether the same pulse, once seen, changes nothing more
	x       [6]float64
	flags   [3]bool
}

type deviceKind uint8

const (
	kindServo deviceKind = iota
	kindOnOff
	kindStepBox
	kindEsc
)

// devices compiles the devices in document order. A servo behind a leveller
// gets the leveller's pulse.
func (c *compiler) devices() {
	for i := range c.s.Devices {
		d := &c.s.Devices[i]
		keep := func(what string, start float64) Slot { return c.keepAt(setup.IsDevice.At(i), what, start) }
		none := DeviceRoute{None, None, None, None, None, None}
		dev := device{us: None, on: None, swap: None, route: none, own: [3]Slot{None, None, None}}
		switch spec := d.Base().(type) {
		case *setup.Leveller:
			c.p.Devices = append(c.p.Devices, none)
			continue
		case *setup.Servo:
			c.servo(&dev, i, spec, keep)
		case *setup.OnOff:
			c.onOff(&dev, spec, keep)
		case *setup.StepBox:
			c.stepBox(&dev, spec, keep)
		case *setup.Esc:
			c.esc(&dev, i, spec, keep)
		}
		pin := c.p.pinRoute(c.s.DevicePin(i))
		dev.us, dev.on = pin.US, pin.On
		dev.seen = c.slot()
		c.p.initial[dev.seen] = -1
		c.p.seen = append(c.p.seen, dev.seen)
		dev.settles = dev.kind == kindServo || dev.kind == kindEsc && dev.swap == None && dev.route.At == None
		c.p.Devices = append(c.p.Devices, dev.route)
		c.p.devices = append(c.p.devices, dev)
		c.add(inst{op: opDevice, at: int32(len(c.p.devices) - 1)})
	}
}

// pinRoute gives where a pin of the setup stands.
func (p *Program) pinRoute(ref setup.PinRef) PinRoute { return p.Pins[ref.Receiver][ref.Pin] }

func (c *compiler) servo(dev *device, i int, s *setup.Servo, keep func(string, float64) Slot) {
	dev.kind = kindServo
	dev.route.Value, dev.route.Known, dev.route.target = keep("position", 0), keep("known", 0), c.slot()
	dev.own[0] = c.p.chosen[i]
	dev.x[0] = math.Inf(1)
	if s.SpeedS > 0 {
		dev.x[0] = float64(200*c.s.Transmitter.FrameS()) / s.SpeedS
		if dev.own[0] == None {
			left := NotChosen
			if s.LeftAt != nil && s.LeftAt.At != nil {
				left = *s.LeftAt.At
			}
			dev.own[0] = c.constant(left)
		}
	} else {
		dev.own[0] = c.constant(NotChosen)
	}
}

// servo moves towards the position of its pulse; from where it was left, in its
// first frame with a pulse already. Without pulses it stays.
func (d *device) servo(v []float64, p *Program) {
	us := v[d.us]
	if us == 0 {
		return
	}
	target := p.pulse.Percent(us)
	v[d.route.target] = target
	if v[d.route.Known] == 0 {
		v[d.route.Known] = 1
		v[d.route.Value] = target
		if left := v[d.own[0]]; left != NotChosen {
			v[d.route.Value] = left
		}
	}
	at := v[d.route.Value]
	at = slew(at, target, d.x[0], d.x[0], false)
	v[d.route.Value], v[d.seen] = at, -1
	if at == target {
		v[d.seen] = us // there: the same pulse moves it no more
	}
}

func (c *compiler) onOff(dev *device, s *setup.OnOff, keep func(string, float64) Slot) {
	dev.kind = kindOnOff
	dev.route.On = keep("on", 0)
	dev.route.Value = c.slot()
	dev.x = [6]float64{s.AtUS}
	dev.flags = [3]bool{s.TurnsOn == "below", s.NoPulse == "on", s.NoPulse == "stay"}
}

func (d *device) onOff(v []float64) {
	below, onWithout, stays := d.flags[0], d.flags[1], d.flags[2]
	us, on := v[d.us], v[d.route.On]
	switch {
	case d.on != None:
		on = v[d.on]
	case us == 0 && stays:
	case us == 0:
		on = truth(onWithout)
	default:
		on = beyond(us, d.x[0], below)
	}
	v[d.route.On], v[d.route.Value] = on, 100*on
}

func (c *compiler) stepBox(dev *device, s *setup.StepBox, keep func(string, float64) Slot) {
	dev.kind = kindStepBox
	dev.route.Value = keep("step", float64(s.Start))
	dev.own = [3]Slot{keep("pulse before", 0), None, None}
	dev.x = [6]float64{float64(s.Steps), s.At}
	if s.Loss != nil {
		dev.x[2] = float64(*s.Loss)
	}
}

// stepBox steps where the pulse passes +at or -at from within. The first pulse
// ever, and after a stop, only sets what the next is compared with.
func (d *device) stepBox(v []float64, p *Program) {
	steps, at, loss := d.x[0], d.x[1], d.x[2]
	us, before := v[d.us], v[d.own[0]]
	v[d.own[0]] = us
	if us == 0 || before == 0 {
		if us == 0 && before != 0 && loss != 0 {
			v[d.route.Value] = loss
		}
		return
	}
	was, now := p.pulse.Percent(before), p.pulse.Percent(us)
	switch {
	case was <= at && now > at:
		v[d.route.Value] = lesser(v[d.route.Value]+1, steps)
	case was >= -at && now < -at:
		v[d.route.Value] = greater(v[d.route.Value]-1, 1)
	}
}

func (c *compiler) esc(dev *device, i int, s *setup.Esc, keep func(string, float64) Slot) {
	dev.kind = kindEsc
	dev.route.Value = c.slot()
	dev.own = [3]Slot{keep("neutral seen", 0), keep("brake", 0), None}
	u := s.LearnedUS
	dev.x = [6]float64{u.Neutral, s.DeadUS, u.High - u.Neutral - s.DeadUS, u.Neutral - u.Low - s.DeadUS, 0,
		c.p.pulse.CentreUS}
	dev.flags = [3]bool{s.NeedsNeutral, s.Reverse == "none", s.Reverse == "brake_first"}
	if dev.flags[2] {
		dev.route.Brake = c.slot()
	}
	if ref, ok := c.s.SwapPin(i); ok {
		dev.swap = c.p.pinRoute(ref).US
	}
	if s.Travel != nil {
		dev.route.At = keep("travel", s.Travel.Start)
		dev.x[4] = c.s.Transmitter.FrameS() / s.Travel.FullS
	}
}

// What a controller that brakes before it reverses remembers.
const (
	asksForBrake = 0 // the next negative drive brakes
	braked       = 1 // it has braked, and waits for the drive to be 0
	mayReverse   = 2
)

func (d *device) esc(v []float64) {
	us := v[d.us]
	if us == v[d.seen] && d.swap == None {
		d.move(v, v[d.route.Value])
		return // what a pulse does, it does in its first frame
	}
	v[d.seen] = us
	motor, brake := 0.0, 0.0
	if us == 0 {
		v[d.own[0]], v[d.own[1]] = 0, asksForBrake
	} else {
		motor, brake = d.driven(v, d.drive(us))
	}
	if d.swap != None && v[d.swap] > d.x[5] {
		motor = -motor
	}
	v[d.route.Value] = motor
	if d.route.Brake != None {
		v[d.route.Brake] = brake
	}
	d.move(v, motor)
}

// move moves what the motor moves, within its ends.
func (d *device) move(v []float64, motor float64) {
	if d.route.At != None {
		v[d.route.At] = clamp(v[d.route.At]+float64(motor*d.x[4]), 0, 100)
	}
}

// drive turns a pulse into -100..100: 0 within the dead band.
func (d *device) drive(us float64) float64 {
	neutral, dead, up, down := d.x[0], d.x[1], d.x[2], d.x[3]
	x := us - neutral
	switch {
	case x > dead:
		return lesser(float64(100*(x-dead))/up, 100)
	case x < -dead && !d.flags[1]:
		return greater(float64(-100*(-x-dead))/down, -100)
	}
	return 0
}

// driven is what motor and brake do at a drive.
func (d *device) driven(v []float64, drive float64) (motor, brake float64) {
	needsNeutral, brakesFirst := d.flags[0], d.flags[2]
	neutral, mode := &v[d.own[0]], &v[d.own[1]]
	if drive == 0 {
		*neutral = 1
	}
	if needsNeutral && *neutral == 0 {
		return 0, 0
	}
	if !brakesFirst {
		return drive, 0
	}
	switch {
	case drive > 0:
		*mode = asksForBrake
	case drive < 0 && *mode != mayReverse:
		*mode = braked
		return 0, -drive
	case drive == 0 && *mode == braked:
		*mode = mayReverse
	}
	return drive, 0
}

// step runs the device for a frame. What is settled on its pulse stays as it is.
func (d *device) step(v []float64, p *Program) {
	if d.settles && v[d.us] == v[d.seen] {
		return
	}
	switch d.kind {
	case kindServo:
		d.servo(v, p)
	case kindOnOff:
		d.onOff(v)
	case kindStepBox:
		d.stepBox(v, p)
	case kindEsc:
		d.esc(v)
	}
}
