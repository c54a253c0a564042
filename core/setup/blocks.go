package setup

// BlockHead is what every logic block has.
type BlockHead struct {
	ID    ID     `json:"id" jsonschema:"required"`
	Block string `json:"block" jsonschema:"required"`
	Label string `json:"label"`
}

// Block is one logic block. Spec is a *Gate, *Level, *Between, *Edge, *Latch,
// *Toggle or *Timer. Block names follow IEC 61131-3.
type Block struct {
	*BlockHead
	Spec any
}

// Gate is and, or, xor.
type Gate struct {
	BlockHead
	In []Truth `json:"in" jsonschema:"required,minItems=1"`
}

// Level is above, below.
type Level struct {
	BlockHead
	Of         Value   `json:"of" jsonschema:"required"`
	Level      float64 `json:"level" jsonschema:"required"`
	Hysteresis float64 `json:"hysteresis" jsonschema:"minimum=0"`
}

// Between is true inside From..To.
type Between struct {
	BlockHead
	Of         Value   `json:"of" jsonschema:"required"`
	From       float64 `json:"from" jsonschema:"required"`
	To         float64 `json:"to" jsonschema:"required"`
	Hysteresis float64 `json:"hysteresis" jsonschema:"minimum=0"`
}

// Edge is r_trig, f_trig.
type Edge struct {
	BlockHead
	In Truth `json:"in" jsonschema:"required"`
}

// Latch is sr, rs.
type Latch struct {
	BlockHead
	Set   Truth   `json:"set" jsonschema:"required"`
	Reset Truth   `json:"reset" jsonschema:"required"`
	Start StateAt `json:"start"`
}

// Toggle flips on each rise of In.
type Toggle struct {
	BlockHead
	In    Truth   `json:"in" jsonschema:"required"`
	Reset *Truth  `json:"reset"`
	Start StateAt `json:"start"`
}

// Timer is ton, tof, tp.
type Timer struct {
	BlockHead
	In   Truth   `json:"in" jsonschema:"required"`
	ForS float64 `json:"for_s" jsonschema:"required,minimum=0"`
}

// blockSpecs says which spec a block name has.
var blockSpecs = variants{
	{"and", func() any { return new(Gate) }}, {"or", func() any { return new(Gate) }}, {"xor", func() any { return new(Gate) }},
	{"above", func() any { return new(Level) }}, {"below", func() any { return new(Level) }},
	{"between", func() any { return new(Between) }},
	{"r_trig", func() any { return new(Edge) }}, {"f_trig", func() any { return new(Edge) }},
	{"sr", func() any { return new(Latch) }}, {"rs", func() any { return new(Latch) }},
	{"toggle", func() any { return new(Toggle) }},
	{"ton", func() any { return new(Timer) }}, {"tof", func() any { return new(Timer) }}, {"tp", func() any { return new(Timer) }},
}

var deviceSpecs = variants{
	{"servo", func() any { return new(Servo) }}, {"esc", func() any { return new(Esc) }},
	{"relay", func() any { return new(OnOff) }}, {"lamp", func() any { return new(OnOff) }}, {"pump", func() any { return new(OnOff) }},
	{"valve", func() any { return new(OnOff) }}, {"sound_trigger", func() any { return new(OnOff) }},
	{"step_box", func() any { return new(StepBox) }}, {"leveller", func() any { return new(Leveller) }},
}

var controlSpecs = variants{
	{"axis", func() any { return new(Axis) }}, {"switch", func() any { return new(Switch) }},
}

// BlockKinds lists the kinds of block.
func BlockKinds() []string { return blockSpecs.names() }

// DeviceKinds lists the kinds of device.
func DeviceKinds() []string { return deviceSpecs.names() }

// Reads lists what a block refers to.
func (b *Block) Reads() (values []Value, truths []Truth) {
	switch spec := b.Spec.(type) {
	case *Gate:
		return nil, spec.In
	case *Level:
		return []Value{spec.Of}, nil
	case *Between:
		return []Value{spec.Of}, nil
	case *Edge:
		return nil, []Truth{spec.In}
	case *Latch:
		return nil, []Truth{spec.Set, spec.Reset}
	case *Toggle:
		if spec.Reset != nil {
			return nil, []Truth{spec.In, *spec.Reset}
		}
		return nil, []Truth{spec.In}
	case *Timer:
		return nil, []Truth{spec.In}
	}
	return nil, nil
}

// Remembers tells whether feedback may go through a block.
func (b *Block) Remembers() bool {
	switch b.Spec.(type) {
	case *Edge, *Latch, *Toggle, *Timer:
		return true
	}
	return false
}
