package setup

// BlockHead is what every logic block has.
type BlockHead struct {
	ID    ID     `json:"id" jsonschema:"required"`
	Block string `json:"block" jsonschema:"required"`
	Label string `json:"label"`
}

func (BlockHead) describe() docs {
	return docs{
		"id":    "the name that the rest of the document calls it by",
		"block": "what kind of rule it is; the names are those of IEC 61131-3",
		"label": "what you call it",
	}
}

// Block is one logic block. Spec is what Blocks says of its kind. Block names follow IEC
// 61131-3.
type Block struct {
	*BlockHead
	Spec any
}

// Gate is and, or, xor.
type Gate struct {
	BlockHead
	In []Truth `json:"in" jsonschema:"required,minItems=1"`
}

func (Gate) describe() docs { return docs{"in": "the conditions that it puts together, one or more"} }

// Level is above, below.
type Level struct {
	BlockHead
	Of         Value   `json:"of" jsonschema:"required"`
	Level      float64 `json:"level" jsonschema:"required" unit:"%"`
	Hysteresis float64 `json:"hysteresis" jsonschema:"minimum=0" unit:"%"`
}

func (Level) describe() docs {
	return docs{
		"of":         "the value that it looks at",
		"level":      "the value from which on it is true, percent",
		"hysteresis": "how far the value has to come back before it lets go, percent; 0 lets go at the level",
	}
}

// Between is true inside From..To.
type Between struct {
	BlockHead
	Of         Value   `json:"of" jsonschema:"required"`
	From       float64 `json:"from" jsonschema:"required" unit:"%"`
	To         float64 `json:"to" jsonschema:"required" unit:"%"`
	Hysteresis float64 `json:"hysteresis" jsonschema:"minimum=0" unit:"%"`
}

func (Between) describe() docs {
	return docs{
		"of":         "the value that it looks at",
		"from":       "the lower end of the range, percent, itself included",
		"to":         "the upper end of the range, percent, itself included",
		"hysteresis": "how far the value has to leave the range before it lets go, percent",
	}
}

func (b *Between) check(c *checker, path string) {
	if b.From > b.To {
		c.wrong(path+".from", "must not be above to", "exchange them")
	}
}

// Edge is r_trig, f_trig.
type Edge struct {
	BlockHead
	In Truth `json:"in" jsonschema:"required"`
}

func (Edge) describe() docs {
	return docs{"in": "the condition whose change makes it true for one frame; no change is seen in the " +
		"first frame"}
}

// Latch is sr, rs.
type Latch struct {
	BlockHead
	Set   Truth   `json:"set" jsonschema:"required"`
	Reset Truth   `json:"reset" jsonschema:"required"`
	Start StateAt `json:"start"`
}

func (Latch) describe() docs {
	return docs{
		"set":   "the condition that makes it true",
		"reset": "the condition that makes it false",
		"start": startDoc,
	}
}

func (l *Latch) startsAs() StateAt { return l.Start }

const startDoc = "what it is when the transmitter is turned on; kept: what it was when it was turned off"

// Toggle flips on each rise of In.
type Toggle struct {
	BlockHead
	In    Truth   `json:"in" jsonschema:"required"`
	Reset *Truth  `json:"reset"`
	Start StateAt `json:"start"`
}

func (Toggle) describe() docs {
	return docs{
		"in":    "the condition; each time it becomes true, this changes over",
		"reset": "a condition that makes it false, and keeps it so as long as it holds",
		"start": startDoc,
	}
}

func (t *Toggle) startsAs() StateAt { return t.Start }

// Timer is ton, tof, tp.
type Timer struct {
	BlockHead
	In   Truth   `json:"in" jsonschema:"required"`
	ForS float64 `json:"for_s" jsonschema:"required,minimum=0"`
}

func (Timer) describe() docs {
	return docs{
		"in":    "the condition that starts the time",
		"for_s": "the time, seconds; it is over at the first frame that is not before it",
	}
}

func (t *Timer) delayS() float64 { return t.ForS }

var (
	gateSays  = []Clause{{"in", "%"}}
	levelSays = []Clause{{"of", "%"}, {"level", " at %"}, {"hysteresis", ", lets go % further back"}}
	latchSays = []Clause{{"set", "set by %"}, {"reset", "; reset by %"}, {"start", "%"}}
	timerSays = []Clause{{"in", "%"}, {"for_s", ", %"}}

	latchUnstick = "see what sets and what resets it"

	newGate  = func() any { return new(Gate) }
	newLevel = func() any { return new(Level) }
	newEdge  = func() any { return new(Edge) }
	newLatch = func() any { return new(Latch) }
	newTimer = func() any { return new(Timer) }
)

// Blocks are the kinds of block. What is new does nothing until the person has chosen what
// moves it: a value comes from 0, and a condition is power_on, which no button can bring
// about.
var Blocks = PartKinds{
	{Key: "and", Name: "all of these", Does: "on while all of these are",
		Says: gateSays, Begins: "{in: [power_on]}", Spec: newGate},
	{Key: "or", Name: "any of these", Does: "on while any of these is",
		Says: gateSays, Begins: "{in: [power_on]}", Spec: newGate},
	{Key: "xor", Name: "an odd number of these", Does: "on while an odd number of these is",
		Says: gateSays, Begins: "{in: [power_on]}", Spec: newGate},
	{Key: "above", Name: "above a level", Does: "on above a level",
		Says: levelSays, Begins: "{of: 0, level: 0}", Spec: newLevel},
	{Key: "below", Name: "below a level", Does: "on below a level",
		Says: levelSays, Begins: "{of: 0, level: 0}", Spec: newLevel},
	{Key: "between", Name: "inside a range", Does: "on inside a range",
		Says: []Clause{{"of", "%"}, {"from", " from %"}, {"to", " to %"},
			{"hysteresis", ", lets go % further back"}},
		Labels: map[string]string{"from": "from", "to": "to"},
		Begins: "{of: 0, from: -10, to: 10}", Spec: func() any { return new(Between) }},
	{Key: "r_trig", Name: "moment it becomes true", Does: "on for one moment when it becomes true",
		Says: gateSays, Labels: map[string]string{"in": "looks at"},
		Begins: "{in: power_on}", Spec: newEdge, Remembers: true},
	{Key: "f_trig", Name: "moment it becomes false", Does: "on for one moment when it becomes false",
		Says: gateSays, Labels: map[string]string{"in": "looks at"},
		Begins: "{in: not power_on}", Spec: newEdge, Remembers: true}, // it falls with power alone
	{Key: "sr", Name: "latch, set wins", Does: "stays on once it was set, until it is reset; set wins",
		// set by itself, it never begins
		Says: latchSays, Begins: "{set: $id, reset: power_on}", Spec: newLatch,
		Remembers: true, Unstick: latchUnstick},
	{Key: "rs", Name: "latch, reset wins", Does: "stays on once it was set, until it is reset; reset wins",
		Says: latchSays, Begins: "{set: power_on, reset: power_on}", Spec: newLatch,
		Remembers: true, Unstick: latchUnstick},
	{Key: "toggle", Name: "press on, press off", Does: "on at one press, off at the next",
		Says:   []Clause{{"in", "%"}, {"reset", "; off while %"}, {"start", "%"}},
		Labels: map[string]string{"in": "changes over at each"},
		Begins: "{in: power_on}", Spec: func() any { return new(Toggle) },
		Remembers: true, Unstick: "press once more, or give it something that resets it"},
	{Key: "ton", Name: "on after a while", Does: "on when it has been true so long",
		Says: timerSays, Labels: map[string]string{"in": "counts while", "for_s": "goes on after"},
		Begins: "{in: power_on, for_s: 1}", Spec: newTimer, Remembers: true},
	{Key: "tof", Name: "off after a while", Does: "off only when it has been false so long",
		Says: timerSays, Labels: map[string]string{"in": "on while", "for_s": "and for"},
		Begins: "{in: power_on, for_s: 1}", Spec: newTimer, Remembers: true,
		Unstick: "wait, or shorten its time"},
	{Key: "tp", Name: "on for a while", Does: "on for so long from each press",
		Says: timerSays, Labels: map[string]string{"in": "starts at each"},
		Begins: "{in: power_on, for_s: 1}", Spec: newTimer, Remembers: true},
}

// Reads lists what a block refers to.
func (b *Block) Reads() (values []Value, truths []Truth) {
	eachReference(b.Spec, func(_ string, v Value) { values = append(values, v) },
		func(_ string, t Truth) { truths = append(truths, t) })
	return values, truths
}

// Remembers tells whether feedback may go through a block.
func (b *Block) Remembers() bool { return b.PartKind().Remembers }

// PartKind gives what is the same for all blocks of this kind.
func (b *Block) PartKind() *PartKind { return Blocks.Find(b.Block) }

// StartsAs gives what a block is at power-on; ok is false where only what it reads decides.
func (b *Block) StartsAs() (at StateAt, ok bool) {
	if starts, ok := b.Spec.(interface{ startsAs() StateAt }); ok {
		return starts.startsAs(), true
	}
	return "", false
}

// Keeps tells whether any latch is kept while the transmitter is off.
func (s *Setup) Keeps() bool {
	for i := range s.Logic {
		if at, _ := s.Logic[i].StartsAs(); at == "kept" {
			return true
		}
	}
	return false
}

// DelayS gives after how many seconds a block may still change by itself; 0 where it
// answers in the frame in which what it reads changes.
func (b *Block) DelayS() float64 {
	if late, ok := b.Spec.(interface{ delayS() float64 }); ok {
		return late.delayS()
	}
	return 0
}
