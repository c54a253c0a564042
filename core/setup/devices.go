package setup

import "fmt"

// DeviceHead is what every device has.
type DeviceHead struct {
	ID    ID     `json:"id" jsonschema:"required"`
	On    string `json:"on" jsonschema:"required"` // receiver.pin, or a leveller
	Kind  string `json:"kind" jsonschema:"required"`
	Label string `json:"label"`
	From  *From  `json:"from"` // nil: a copy of no piece
	Notes string `json:"notes"`
	// what it takes from its lead
	DrawsA *Draw  `json:"draws_a"`
	Fitted string `json:"fitted"`
	// it is switched on by itself, and may wake later than the rest
	OwnSwitch bool `json:"own_switch"`
}

// Draw is a current: at rest, at work, and at most, as while it is stalled; rest <= most.
type Draw struct {
	Rest float64 `json:"rest" jsonschema:"minimum=0,maximum=1000" unit:"A"`
	Most float64 `json:"most" jsonschema:"required,minimum=0,maximum=1000" unit:"A"`
	Work float64 `json:"work" jsonschema:"minimum=0,maximum=1000" unit:"A"` // 0: not said
	// at which most was measured; 0: not said
	AtV float64 `json:"at_v" jsonschema:"minimum=0,maximum=100" unit:"V"`
}

func (Draw) describe() docs {
	return docs{"rest": "while nothing moves, amperes", "most": "at most, as while it is stalled, amperes",
		"work": "while it works as it usually does, amperes; 0 is not said",
		"at_v": "the volts at which the most was measured; 0 is not said"}
}

func (DeviceHead) describe() docs {
	return docs{
		"id":         "the name that the rest of the document calls it by",
		"on":         "the pin that its lead is plugged into, receiver.pin; of a servo also a leveller",
		"kind":       "what kind of device it is",
		"label":      "what you call it",
		"from":       fromDoc,
		"notes":      "whatever you want to remember about it",
		"draws_a":    "the current that it takes from its lead",
		"fitted":     "when it was built in, in words: 3 Nov",
		"own_switch": "whether it has a power switch of its own, so that it may wake later than the rest",
	}
}

// Device is what hangs on a pin. Spec is what Devices says of its kind.
type Device struct {
	*DeviceHead
	Spec any
}

// Servo stands at a position; SpeedS is seconds from -100 to +100, 0 at once.
type Servo struct {
	DeviceHead
	SpeedS float64 `json:"speed_s" jsonschema:"minimum=0"`
	LeftAt *LeftAt `json:"left_at" unit:"%"`
	// of its shaft, newton metres; 0: not said
	TorqueNM float64 `json:"torque_nm" jsonschema:"minimum=0,maximum=1000" unit:"N·m"`
	Splines  int     `json:"splines" jsonschema:"minimum=0,maximum=100"` // of its shaft; 0: not said
	Volts    *Volts  `json:"volts"`
}

func (Servo) describe() docs {
	return docs{
		"speed_s": "how long it takes from −100 to +100, seconds; 0 is at once",
		"left_at": "where it stood when the power went, percent, or unknown; left out, it wakes where its " +
			"pulse is",
		"torque_nm": "the turning force of its shaft, newton metres; 0 is not said",
		"splines":   "the teeth of its shaft; 0 is not said",
		"volts":     "the least and the most volts that it may get",
	}
}

func (*Servo) columns() []deviceColumn { return []deviceColumn{{DeviceAt, "_at"}} }

// OnOff is a relay, lamp, pump, valve or sound trigger.
type OnOff struct {
	DeviceHead
	TurnsOn string  `json:"turns_on" jsonschema:"enum=above,enum=below,default=above"`
	AtUS    float64 `json:"at_us" jsonschema:"minimum=1,maximum=20000,default=1500"`
	NoPulse string  `json:"no_pulse" jsonschema:"enum=off,enum=on,enum=stay,default=off"`
}

func (OnOff) describe() docs {
	return docs{
		"turns_on": "whether it is on above the pulse at which it switches, or below",
		"at_us":    "the pulse at which it switches, microseconds",
		"no_pulse": "what it does while no pulses come",
	}
}

func (*OnOff) columns() []deviceColumn { return []deviceColumn{{DeviceOn, "_on"}} }

// Relay is on or off, and may be what kills an ignition.
type Relay struct {
	OnOff
	Kills string `json:"kills" jsonschema:"enum=on,enum=off"` // empty: it kills nothing
	Shows *bool  `json:"shows"`                               // nil: not said
}

func (Relay) describe() docs {
	return docs{
		"kills": "where it kills an ignition: whether the engine dies while it is on, or while it is off",
		"shows": "whether the lamp of its button shows that it kills",
	}
}

// SoundTrigger sets off a sound of a card.
type SoundTrigger struct {
	OnOff
	Wants string  `json:"wants" jsonschema:"enum=ground,enum=pulse,enum=position"` // empty: not said
	HoldS float64 `json:"hold_s" jsonschema:"minimum=0,maximum=60"`                // 0: not said
}

func (SoundTrigger) describe() docs {
	return docs{
		"wants":  "what sets it off: its input drawn to 0 V, a pulse that comes and goes, or a position",
		"hold_s": "how long it has to last until the card takes it, seconds; 0 is not said",
	}
}

// Base gives what a device does, whatever else is known of its kind: an OnOff of all that are on
// or off, else its Spec.
func (v *Device) Base() any {
	if on := v.OnOff(); on != nil {
		return on
	}
	return v.Spec
}

// OnOff gives what a device that is on or off does; nil where it is another one.
func (v *Device) OnOff() *OnOff {
	switch spec := v.Spec.(type) {
	case *OnOff:
		return spec
	case *Relay:
		return &spec.OnOff
	case *SoundTrigger:
		return &spec.OnOff
	}
	return nil
}

// Leveller hangs between a pin and a servo.
type Leveller struct{ DeviceHead }

// StepBox turns a spring-centred three-way channel into held positions.
type StepBox struct {
	DeviceHead
	Steps int     `json:"steps" jsonschema:"required,minimum=2,maximum=8"`
	Start int     `json:"start" jsonschema:"minimum=1,maximum=8,default=1"`
	Loss  *int    `json:"loss" jsonschema:"minimum=1,maximum=8"`
	At    float64 `json:"at" jsonschema:"minimum=0,maximum=150,default=50" unit:"%"`
	// nil: it is not set by its button and counted flashes, or that is not said
	Chart *BoxChart `json:"chart"`
}

func (StepBox) describe() docs {
	return docs{
		"steps": "how many positions it has",
		"start": "the step in which it wakes, counted from 1",
		"loss":  "the step to which it goes when its pulses stop; left out, it stays",
		"at":    "how far the pulse has to go from the middle, either way, to step, percent",
		"chart": "how it is set by its button and counted flashes",
	}
}

func (*StepBox) columns() []deviceColumn { return []deviceColumn{{DeviceStep, "_step"}} }

func (b *StepBox) check(c *checker, path string) {
	b.checkChart(c, path)
	if b.Start > b.Steps {
		c.wrong(path+".start", fmt.Sprintf("is above its %d steps", b.Steps), "use a step that it has")
	}
	if b.Loss != nil && *b.Loss > b.Steps {
		c.wrong(path+".loss", fmt.Sprintf("is above its %d steps", b.Steps), "use a step that it has")
	}
}

// Esc is a speed controller.
type Esc struct {
	DeviceHead
	LearnedUS    EscRange   `json:"learned_us"`
	DeadUS       float64    `json:"dead_us" jsonschema:"minimum=0,maximum=20000,default=20"`
	NeedsNeutral bool       `json:"needs_neutral"`
	Reverse      string     `json:"reverse" jsonschema:"default=direct" choices:"reverse"`
	Teach        *Teach     `json:"teach"` // nil: not known
	SwapOn       *string    `json:"swap_on"`
	Travel       *EscTravel `json:"travel"`
	FeedsA       float64    `json:"feeds_a" jsonschema:"minimum=0,maximum=1000" unit:"A"` // 0: nothing
	RedLifted    bool       `json:"red_lifted"`
}

func (Esc) describe() docs {
	return docs{
		"learned_us":    "the range of pulses that it has learned",
		"dead_us":       "how far the pulse may be from neutral without moving anything, microseconds",
		"needs_neutral": "whether it waits for a pulse at neutral after it gets power",
		"reverse":       "what it makes of a pulse below neutral",
		"teach":         "how it is taught the pulses that are sent to it",
		"swap_on": "the pin of its second lead, which turns the motor round while its pulse is above " +
			"the middle",
		"travel":     "what the motor moves, where that has ends",
		"feeds_a":    "the current that it can feed back through its lead, amperes; 0 is none",
		"red_lifted": "whether the red wire of its lead is lifted, so that it feeds nothing",
	}
}

func (e *Esc) columns() []deviceColumn {
	list := []deviceColumn{{DeviceMotor, "_motor"}}
	if e.Reverse == "brake_first" {
		list = append(list, deviceColumn{DeviceBrake, "_brake"})
	}
	if e.Travel != nil {
		list = append(list, deviceColumn{DeviceAt, "_at"})
	}
	return list
}

func (e *Esc) check(c *checker, path string) {
	u := e.LearnedUS
	if u.Neutral >= u.High-e.DeadUS {
		c.wrong(path+".learned_us.high", "must lie more than dead_us above neutral", "raise it")
	}
	if e.Reverse != "none" && u.Low+e.DeadUS >= u.Neutral {
		c.wrong(path+".learned_us.low", "must lie more than dead_us below neutral", "lower it")
	}
	c.teach(path+".teach", e.Teach)
	if e.SwapOn == nil {
		return
	}
	ref, known := c.s.PinRef(*e.SwapOn)
	if !known {
		c.wrong(path+".swap_on", "there is no such pin", "name a receiver and one of its pins, such as rx.5")
		return
	}
	if _, pin := c.s.Pin(ref); pin.Switch != nil {
		c.wrong(path+".swap_on", "the pin is on or off and carries no pulses", "name another pin")
	}
}

// EscRange is what a speed controller has learned.
type EscRange struct {
	Low     float64 `json:"low" jsonschema:"minimum=1,maximum=20000,default=1000" unit:"µs"`
	Neutral float64 `json:"neutral" jsonschema:"minimum=1,maximum=20000,default=1500" unit:"µs"`
	High    float64 `json:"high" jsonschema:"minimum=1,maximum=20000,default=2000" unit:"µs"`
}

func (EscRange) describe() docs {
	return docs{
		"low":     "the pulse for full speed back, microseconds",
		"neutral": "the pulse at which it stands, microseconds",
		"high":    "the pulse for full speed ahead, microseconds",
	}
}

// EscTravel is what the motor moves; FullS is seconds from 0 to 100.
type EscTravel struct {
	FullS float64 `json:"full_s" jsonschema:"required,exclusiveMinimum=0"`
	Start float64 `json:"start" jsonschema:"minimum=0,maximum=100" unit:"%"`
}

func (EscTravel) describe() docs {
	return docs{
		"full_s": "how long the motor takes at full speed from one end to the other, seconds",
		"start":  "where what it moves stands at first, percent of the way",
	}
}

var onOff = func() any { return new(OnOff) }

// Devices are the kinds of device.
var Devices = PartKinds{
	{Key: "servo", Name: "servo", Many: "servos",
		Begins: "{}", Spec: func() any { return new(Servo) }, Unit: "%", Group: "Servos", Shown: "dial"},
	{Key: "esc", Name: "speed controller", Many: "speed controllers",
		Does:   "a speed controller: what it has learned, and how it reverses",
		Labels: map[string]string{"reverse": "going back"},
		Begins: "{}", Spec: func() any { return new(Esc) }, Unit: "%", Group: "Motors", Shown: "wheel",
		Motor: true},
	{Key: "relay", Name: "relay", Many: "relays",
		Begins: "{}", Spec: func() any { return new(Relay) },
		Unit: "on", Group: onOffGroup, Shown: "lamp", OnOff: true},
	{Key: "lamp", Name: "lamp", Many: "lamps",
		Begins: "{}", Spec: onOff, Unit: "on", Group: onOffGroup, Shown: "lamp", OnOff: true},
	{Key: "pump", Name: "pump", Many: "pumps",
		Begins: "{}", Spec: onOff, Unit: "on", Group: onOffGroup, Shown: "pump", OnOff: true},
	{Key: "valve", Name: "valve", Many: "valves",
		Begins: "{}", Spec: onOff, Unit: "on", Group: onOffGroup, Shown: "lamp", OnOff: true},
	{Key: "sound_trigger", Name: "sound", Many: "sounds",
		Begins: "{}", Spec: func() any { return new(SoundTrigger) },
		Unit: "on", Group: onOffGroup, Shown: "horn", OnOff: true},
	{Key: "step_box", Name: "step box", Many: "step boxes",
		Does:   "steps when the pulse passes a level and comes back",
		Begins: "{steps: 3}", Spec: func() any { return new(StepBox) }, Unit: "step", Group: "Step boxes",
		Shown: "dial"},
	{Key: "leveller", Name: "leveller", Many: "levellers",
		Does:   "adds what the attitude asks to the pulse of its pin",
		Begins: "{}", Spec: func() any { return new(Leveller) }, Unit: "%", Group: "Servos", Passes: true},
}

const onOffGroup = "Lamps, sounds and relays"

// PartKind gives what is the same for all devices of this kind.
func (v *Device) PartKind() *PartKind { return Devices.Find(v.Kind) }

// deviceColumn is a column of a trace that a device has: what it holds, and what its name
// ends in.
type deviceColumn struct {
	kind   ColumnKind
	ending string
}
