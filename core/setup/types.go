package setup

import "slices"

// A Setup is what a document means, every default filled in. Travel is in
// percent, pulses in microseconds, times in seconds unless a name says ms.
// docs/format.md is the page to read; the tags below hold its ranges and
// defaults, and both the decoder and the JSON Schema are made from them.
type Setup struct {
	Format        string         `json:"format" jsonschema:"required,enum=axtren-setup"`
	Version       int            `json:"version" jsonschema:"required,enum=1"`
	Name          string         `json:"name"`
	Piece         *Piece         `json:"piece"` // nil: it is a model
	Craft         Craft          `json:"craft"`
	Transmitter   Transmitter    `json:"transmitter"`
	Link          Link           `json:"link"`
	Receivers     []Receiver     `json:"receivers"`
	Devices       []Device       `json:"devices"`
	Demands       []Demand       `json:"demands"`
	Logic         []Block        `json:"logic"`
	Steppers      []Stepper      `json:"steppers" jsonschema:"maxItems=64"`
	Sequences     []Sequence     `json:"sequences" jsonschema:"maxItems=64"`
	Patterns      []Pattern      `json:"patterns" jsonschema:"maxItems=64"`
	Mixes         []Mix          `json:"mixes"`
	Shares        []Share        `json:"shares"`
	Outputs       []Output       `json:"outputs"`
	Announcements []Announcement `json:"announcements"`
	Claims        []Claim        `json:"claims"`
	StartCheck    []StartEntry   `json:"start_check"`
	Stage         *Stage         `json:"stage"`
	Plan          *Plan          `json:"plan"`
	Stand         *Stand         `json:"stand"`
	Wiring        *Wiring        `json:"wiring"`
	Under         *Under         `json:"under"` // nil: it does not go under

	names  map[string]Item
	graph  *Graph
	labels *labels
}

// Craft says what the model is.
type Craft struct {
	Kind   string `json:"kind" jsonschema:"default=other" choices:"craft"`
	Memory int    `json:"memory" jsonschema:"minimum=0"` // memory of the transmitter; 0 is not said
	Type   string `json:"type"`                          // in the builder's words: snow groomer
	Site   *Site  `json:"site"`                          // nil: not said
	Notes  string `json:"notes"`
}

// What says what the model is: in the builder's words, else its kind.
func (c *Craft) What() string {
	if c.Type != "" {
		return c.Type
	}
	return c.Kind
}

// Site is the place where a model runs.
type Site struct {
	LengthM float64 `json:"length_m" jsonschema:"required,minimum=0,maximum=100000" unit:"m"`
	WidthM  float64 `json:"width_m" jsonschema:"required,minimum=0,maximum=100000" unit:"m"`
}

// Under is what is known of a model that goes under water: how far its radio reaches there, and what
// brings it
// back. It changes nothing of what is computed of outputs. Ranges of 0 are not said.
type Under struct {
	Water string `json:"water" jsonschema:"default=clear" choices:"water"`
	// measured, siemens a metre at 25 °C; nil: what is usual for such water
	ConductivitySM *Guess  `json:"conductivity_s_m"`
	TemperatureC   float64 `json:"temperature_c" jsonschema:"minimum=0,maximum=40,default=15" unit:"°C"`
	// from the hand to the model, at most
	AwayM float64 `json:"away_m" jsonschema:"minimum=1,maximum=2000,default=20" unit:"m"`
	// how far the tip of the aerial stands above the deck
	AerialMM float64 `json:"aerial_mm" jsonschema:"minimum=0,maximum=2000" unit:"mm"`
	// how fast it goes down as it goes under
	SinksMMS *Guess  `json:"sinks_mm_s"`
	MassKG   float64 `json:"mass_kg" jsonschema:"minimum=0,maximum=10000" unit:"kg"`
	// the water that the tank gives out, or takes in, in all
	BlownML float64 `json:"blown_ml" jsonschema:"minimum=0,maximum=1000000" unit:"ml"`
	// how much lighter than water it is as it dives
	LightML float64 `json:"light_ml" jsonschema:"minimum=0,maximum=1000000" unit:"ml"`
	// how long the tank takes to give it out
	BlowS *Guess `json:"blow_s"`
	// how long it goes on after its motor stops
	CoastS float64 `json:"coast_s" jsonschema:"minimum=0,maximum=600,default=2" unit:"s"`
	// seen from above
	AreaCM2 float64 `json:"area_cm2" jsonschema:"minimum=0,maximum=1000000" unit:"cm²"`
	Drag    *Guess  `json:"drag"` // its coefficient, of that area
}

// Guess is a range that somebody has said; least <= most.
type Guess struct {
	Least float64 `json:"least" jsonschema:"required,minimum=0,maximum=100000"`
	Most  float64 `json:"most" jsonschema:"required,minimum=0,maximum=100000"`
}

// Transmitter is the set in the hand.
type Transmitter struct {
	Name     string    `json:"name"`
	From     *From     `json:"from"` // nil: a copy of no piece
	FrameMS  int       `json:"frame_ms" jsonschema:"minimum=2,maximum=50,default=20"`
	Pulse    Pulse     `json:"pulse"`
	Controls []Control `json:"controls" jsonschema:"maxItems=64"`
	Can      *Can      `json:"can"` // nil: nothing is known
	// the radio power that it is set to; empty: not said
	Power string `json:"power" jsonschema:"enum=low,enum=full"`
	// of its battery, at which it warns; 0: not said
	LowV  float64      `json:"low_v" jsonschema:"minimum=0,maximum=100" unit:"V"`
	Own   []OwnSetting `json:"own"`
	Notes string       `json:"notes"`
}

// OwnSetting is something of the set itself that is set: what its display is to show, how loud
// it speaks, a timer.
type OwnSetting struct {
	Name  string `json:"name" jsonschema:"required"`
	Value string `json:"value" jsonschema:"required"`
}

// FrameS is the length of a frame in seconds.
func (t *Transmitter) FrameS() float64 { return float64(t.FrameMS) / 1000 }

// Pulse is the scale from percent to microseconds; min < centre < max.
type Pulse struct {
	CentreUS   float64 `json:"centre_us" jsonschema:"minimum=1,maximum=20000,default=1500"`
	HalfSpanUS float64 `json:"half_span_us" jsonschema:"minimum=1,maximum=20000,default=500"`
	MinUS      float64 `json:"min_us" jsonschema:"minimum=1,maximum=20000,default=800"`
	MaxUS      float64 `json:"max_us" jsonschema:"minimum=1,maximum=20000,default=2200"`
	StepUS     float64 `json:"step_us" jsonschema:"minimum=0.001,maximum=1000,default=0.5"`
}

// AtOnce gives a copy of a setup in which mixes and outputs take no time: all is at once where it makes for.
func (s *Setup) AtOnce() *Setup {
	at := *s
	at.Mixes, at.Outputs = slices.Clone(s.Mixes), slices.Clone(s.Outputs)
	for i := range at.Mixes {
		at.Mixes[i].FadeS = 0
	}
	for i := range at.Outputs {
		at.Outputs[i].Slew = Slew{}
	}
	return &at
}

// Percent gives the position of a pulse of us microseconds, percent.
func (p *Pulse) Percent(us float64) float64 { return float64(100*(us-p.CentreUS)) / p.HalfSpanUS }

// ControlHead is what an axis and a switch share. Stick, Along, Lies, Plus and Minus
// say where the control lies and which way it goes, for the deck and for words.
type ControlHead struct {
	ID    ID     `json:"id" jsonschema:"required"`
	Kind  string `json:"kind" jsonschema:"required"`
	Label string `json:"label"`
	Stick Name   `json:"stick"`                                  // two axes of one stick share its pad
	Along string `json:"along" jsonschema:"enum=x,enum=y"`       // x: + is to the right; y: + is away from you
	Lies  string `json:"lies" jsonschema:"enum=left,enum=right"` // of the middle; empty: between the sticks
	// whether it is reached with both hands on the sticks; empty: not said
	Reached string `json:"reached" jsonschema:"enum=holding,enum=letting_go"`
	Plus    string `json:"plus"` // the way of +, in words: forward
	Minus   string `json:"minus"`
	// the channel that it is on without a mix; 0: any, as far as is known
	OwnChannel int `json:"own_channel" jsonschema:"minimum=0,maximum=48"`
}

// Axis is a control with a travel of -100..100.
type Axis struct {
	ControlHead
	Form   string `json:"form" jsonschema:"enum=wheel,enum=trigger"` // empty: a stick, a lever or a slider
	Spring string `json:"spring" jsonschema:"enum=centre,enum=low,enum=none,default=centre"`
	// where an unsprung one wakes; nil is 0
	Start *float64 `json:"start" jsonschema:"minimum=-100,maximum=100" unit:"%"`
}

// Switch is a control with named positions.
type Switch struct {
	ControlHead
	Positions []Name `json:"positions" jsonschema:"required,minItems=2,maxItems=6"`
	SpringTo  *Name  `json:"spring_to"` // nil: stays where it is put
	Start     *Name  `json:"start"`     // nil: the first
}

// Control is one Axis or Switch: the other is nil.
type Control struct {
	*ControlHead
	Axis   *Axis
	Switch *Switch
}

// Demand shapes one source.
type Demand struct {
	ID       ID      `json:"id" jsonschema:"required"`
	Label    string  `json:"label"`
	From     Value   `json:"from" jsonschema:"required"`
	Deadband float64 `json:"deadband" jsonschema:"minimum=0,maximum=50" unit:"%"`
	Expo     float64 `json:"expo" jsonschema:"minimum=-100,maximum=100" unit:"%"`
	Rate     float64 `json:"rate" jsonschema:"minimum=0,maximum=150,default=100" unit:"%"`
	Rates    []Rate  `json:"rates"`
	Curve    []Point `json:"curve" jsonschema:"minItems=2,maxItems=33"`
	Smooth   bool    `json:"smooth"`
	Trim     float64 `json:"trim" jsonschema:"minimum=-50,maximum=50" unit:"%"`
}

// Rate is a rate that holds while When is true.
type Rate struct {
	When Truth   `json:"when" jsonschema:"required"`
	Rate float64 `json:"rate" jsonschema:"required,minimum=0,maximum=150" unit:"%"`
}

// Stepper goes from step to step on the rises of Up and Down.
type Stepper struct {
	ID      ID      `json:"id" jsonschema:"required"`
	Label   string  `json:"label"`
	Up      *Truth  `json:"up"`
	Down    *Truth  `json:"down"`
	Steps   []Step  `json:"steps" jsonschema:"required,minItems=2,maxItems=16"`
	Start   *Name   `json:"start"` // nil: the first
	Wrap    bool    `json:"wrap"`
	Home    *Truth  `json:"home"`
	RepeatS float64 `json:"repeat_s" jsonschema:"minimum=0"`
}

// Step is one step of a Stepper.
type Step struct {
	Name  Name    `json:"name" jsonschema:"required"`
	Value float64 `json:"value" jsonschema:"required,minimum=-150,maximum=150" unit:"%"`
}

// Sequence moves its tracks together along time.
type Sequence struct {
	ID        ID     `json:"id" jsonschema:"required"`
	Label     string `json:"label"`
	Go        Truth  `json:"go" jsonschema:"required"`
	Tracks    Tracks `json:"tracks" jsonschema:"required"`
	Interrupt string `json:"interrupt" jsonschema:"enum=turn_back,enum=finish,default=turn_back"`
}

// LastS gives how long a sequence runs from end to end, seconds: the last time of any of its tracks.
func (sq *Sequence) LastS() float64 {
	last := 0.0
	for _, track := range sq.Tracks {
		last = max(last, track.Keys[len(track.Keys)-1][0])
	}
	return last
}

// Track is a named list of keyframes [seconds, percent], in order of time.
type Track struct {
	Name Name
	Keys []Point
}

// Tracks are the tracks of a sequence in the order of the document.
type Tracks []Track

// Pattern plays its steps [percent, seconds] while When is true.
type Pattern struct {
	ID    ID      `json:"id" jsonschema:"required"`
	Label string  `json:"label"`
	When  Truth   `json:"when" jsonschema:"required"`
	Steps []Point `json:"steps" jsonschema:"required,minItems=1"`
	Loop  bool    `json:"loop" jsonschema:"default=true"`
	Rest  float64 `json:"rest" jsonschema:"minimum=-150,maximum=150,default=-100" unit:"%"`
}

// Mix brings one source to one output.
type Mix struct {
	ID      *ID     `json:"id"`
	Label   string  `json:"label"`
	To      ID      `json:"to" jsonschema:"required"`
	From    Value   `json:"from" jsonschema:"required"`
	Shape   string  `json:"shape" jsonschema:"enum=plain,enum=abs,enum=up,enum=down,default=plain"`
	Gain    Gain    `json:"gain" unit:"%"`
	Bias    float64 `json:"bias" jsonschema:"minimum=-150,maximum=150" unit:"%"`
	When    *Truth  `json:"when"`
	Combine string  `json:"combine" jsonschema:"default=add" choices:"combine"`
	FadeS   float64 `json:"fade_s" jsonschema:"minimum=0"`
}

// Share says what happens when its outputs ask for more than there is.
type Share struct {
	ID      *ID    `json:"id"`
	Label   string `json:"label"`
	Outputs []ID   `json:"outputs" jsonschema:"required,minItems=1"`
	Rule    string `json:"rule" jsonschema:"required,enum=clip,enum=scale,enum=keep_turn"`
}

// Output is one channel of the transmitter. Low, Centre and High are positions
// of the servo; -150 <= low < centre < high <= 150.
type Output struct {
	ID      ID       `json:"id" jsonschema:"required"`
	Label   string   `json:"label"`
	Channel int      `json:"channel" jsonschema:"required,minimum=1,maximum=48"`
	Reverse bool     `json:"reverse"`
	Centre  float64  `json:"centre" jsonschema:"minimum=-150,maximum=150" unit:"%"`
	Low     float64  `json:"low" jsonschema:"minimum=-150,maximum=150,default=-100" unit:"%"`
	High    float64  `json:"high" jsonschema:"minimum=-150,maximum=150,default=100" unit:"%"`
	Slew    Slew     `json:"slew_s"`
	Start   *StartAt `json:"start"`
	Loss    *Loss    `json:"loss"`
	Needs   *Needs   `json:"needs"`   // nil: nothing
	Linkage *Linkage `json:"linkage"` // nil: not measured out
	Works   *Works   `json:"works"`   // nil: one thing, both ways
	Notes   string   `json:"notes"`
}

// Works is what a servo works to each of its sides, where that is not the same: a throttle and a brake.
type Works struct {
	High string `json:"high" jsonschema:"required"`
	Low  string `json:"low" jsonschema:"required"`
}

// Linkage is what lies between the shaft of a servo and the part that it moves. Lengths are in mm, angles
// in degrees; square is at right angles to the line along which AlongMM is measured.
type Linkage struct {
	Kind     string  `json:"kind" jsonschema:"default=rod,enum=rod,enum=pull_pull,enum=slide,enum=spool"`
	ArmMM    float64 `json:"arm_mm" jsonschema:"exclusiveMinimum=0,maximum=1000,default=15" unit:"mm"`
	ArmDeg   float64 `json:"arm_deg" jsonschema:"minimum=-90,maximum=90" unit:"°"` // off square at position 0
	ThrowDeg float64 `json:"throw_deg" jsonschema:"exclusiveMinimum=0,maximum=180,default=45" unit:"°"`
	HornMM   float64 `json:"horn_mm" jsonschema:"minimum=0,maximum=1000,default=15" unit:"mm"`
	// off square, the part straight
	HornDeg float64 `json:"horn_deg" jsonschema:"minimum=-90,maximum=90" unit:"°"`
	// the other way up than the arm: then it turns the other way
	Opposite bool `json:"opposite"`
	// from shaft to hinge
	AlongMM float64 `json:"along_mm" jsonschema:"minimum=-10000,maximum=10000,default=60" unit:"mm"`
	AsideMM float64 `json:"aside_mm" jsonschema:"minimum=-10000,maximum=10000" unit:"mm"`
	// nil: as long as it has to be
	RodMM *float64 `json:"rod_mm" jsonschema:"exclusiveMinimum=0,maximum=10000" unit:"mm"`
	// of the part from where it is straight, degrees, or millimetres; nil: it has none
	StopLow   *float64 `json:"stop_low" jsonschema:"minimum=-1000,maximum=1000"`
	StopHigh  *float64 `json:"stop_high" jsonschema:"minimum=-1000,maximum=1000"`
	Wish      float64  `json:"wish" jsonschema:"minimum=0,maximum=1000"`
	NeedsNM   float64  `json:"needs_nm" jsonschema:"minimum=0,maximum=1000" unit:"N·m"` // at the hinge
	NeedsN    float64  `json:"needs_n" jsonschema:"minimum=0,maximum=100000" unit:"N"`  // of what slides
	OverlapMM float64  `json:"overlap_mm" jsonschema:"minimum=0,maximum=1000" unit:"mm"`
	OpenMM    float64  `json:"open_mm" jsonschema:"minimum=0,maximum=1000" unit:"mm"`
	Steers    *Steers  `json:"steers"` // nil: it steers no pair of wheels
}

// Steers is a pair of steered wheels, of which the linkage turns the left one, and a rod between their
// arms the right one. The arms point backward and, straight ahead, inward by InwardDeg.
type Steers struct {
	WheelbaseMM float64 `json:"wheelbase_mm" jsonschema:"required,exclusiveMinimum=0,maximum=10000" unit:"mm"`
	TrackMM     float64 `json:"track_mm" jsonschema:"required,exclusiveMinimum=0,maximum=10000" unit:"mm"`
	ArmMM       float64 `json:"arm_mm" jsonschema:"required,exclusiveMinimum=0,maximum=1000" unit:"mm"`
	InwardDeg   float64 `json:"inward_deg" jsonschema:"minimum=-60,maximum=60" unit:"°"`
}

// StartAt is where an output must stand in the first frame.
type StartAt struct {
	Value  float64 `json:"value" jsonschema:"required,minimum=-150,maximum=150" unit:"%"`
	Within float64 `json:"within" jsonschema:"minimum=0,default=2" unit:"%"`
}

// Loss is what an output must do when the signal is lost. Value is a position
// of the servo and belongs to preset alone.
type Loss struct {
	Mode  string   `json:"mode" jsonschema:"required,enum=hold,enum=cut,enum=preset"`
	Value *float64 `json:"value" jsonschema:"minimum=-150,maximum=150" unit:"%"`
}

// Link is what lies between the transmitter's channels and the receiver's.
type Link struct {
	Channels  int      `json:"channels" jsonschema:"minimum=1,maximum=48,default=48"`
	Order     []int    `json:"order" jsonschema:"maxItems=48"`
	LearnedUS *Learned `json:"learned_us"`
	OneBit    []int    `json:"one_bit" jsonschema:"maxItems=48"`
	HalfRate  []int    `json:"half_rate" jsonschema:"maxItems=48"`
	Bits      int      `json:"bits" jsonschema:"minimum=0,maximum=16"` // of a channel; 0: not said
	DelayMS   float64  `json:"delay_ms" jsonschema:"minimum=0,maximum=1000"`
	// the band of the radio; 0: not said
	MHz float64 `json:"mhz" jsonschema:"minimum=0,maximum=6000" unit:"MHz"`
	// of some channels, instead of DelayMS
	Delays []ChannelDelay `json:"delays" jsonschema:"maxItems=48"`
	// what else the radio can be set to, instead of the frame and the bits that it has
	Trades []Trade `json:"trades" jsonschema:"maxItems=8"`
	Module *Module `json:"module"` // nil: the transmitter sends by itself
	// whether the receiver or the module can be told the order of the channels; nil: not known
	SetsOrder *bool  `json:"sets_order"`
	Notes     string `json:"notes"`
}

// ChannelDelay is how late one channel of the receiver arrives.
type ChannelDelay struct {
	Channel int     `json:"channel" jsonschema:"required,minimum=1,maximum=48"`
	MS      float64 `json:"ms" jsonschema:"required,minimum=0,maximum=1000" unit:"ms"`
}

// Trade is a rate of the radio, with how finely a channel is told at that.
type Trade struct {
	FrameMS int `json:"frame_ms" jsonschema:"required,minimum=2,maximum=50"`
	Bits    int `json:"bits" jsonschema:"required,minimum=1,maximum=16"`
}

// Needs is what a function asks of its channel, of the pins of its leads, and, as long as nothing
// moves it, of a control.
type Needs struct {
	WithinMS float64 `json:"within_ms" jsonschema:"minimum=0,maximum=10000"` // 0: it may be slow
	Bits     int     `json:"bits" jsonschema:"minimum=0,maximum=16"`         // 0: it may be coarse
	// nil: as is usual for what it moves
	Quick *bool `json:"quick"`
	// which of its places the plan leaves alone
	Stays []string `json:"stays" jsonschema:"enum=channel,enum=pin"`
	By    *By      `json:"by"`
}

// By is the control that a function asks for which nothing moves yet.
type By struct {
	Kind      string `json:"kind" jsonschema:"required,enum=proportional,enum=two_state,enum=steps"`
	Positions int    `json:"positions" jsonschema:"minimum=2,maximum=6,default=3"` // of steps
	Rest      string `json:"rest" jsonschema:"enum=centre,enum=low,enum=stays"`    // empty: any
	HandAsks
}

// HandAsks is what a function asks of the hand that is to move it.
type HandAsks struct {
	Does  string `json:"does" jsonschema:"enum=drives,enum=works,enum=once"` // empty: none of these
	Thumb *bool  `json:"thumb"`                                              // nil: as is usual
	Side  string `json:"side" jsonschema:"enum=left,enum=right"`             // empty: either
}

// Plan is what the plan of the model is made from beside what functions ask for.
type Plan struct {
	Hands []HandWish `json:"hands" jsonschema:"maxItems=64"`
	// nil: as many as the transmitter has left
	Mixes *int `json:"mixes" jsonschema:"minimum=0,maximum=256"`
}

// Wiring is what feeds the receivers, and what is known of the leads. It changes nothing of what
// is computed.
type Wiring struct {
	Feeds  []Feed  `json:"feeds" jsonschema:"maxItems=32"`
	Leads  []Wire  `json:"leads" jsonschema:"maxItems=256"`
	Senses []Sense `json:"senses" jsonschema:"maxItems=32"`
	Joint  *Joint  `json:"joint"` // nil: nothing turns endlessly
}

// Feed is what feeds a receiver: a battery, or a battery and what makes of its volts those that
// the receiver gets.
type Feed struct {
	Into   ID     `json:"into" jsonschema:"required"` // a receiver
	Label  string `json:"label"`
	Device *ID    `json:"device"` // the controller that feeds back; nil: none
	// of the battery
	Volts float64 `json:"volts" jsonschema:"required,minimum=0,maximum=100" unit:"V"`
	// after the regulator; 0: the battery feeds by itself
	GivesV    float64 `json:"gives_v" jsonschema:"minimum=0,maximum=100" unit:"V"`
	Regulator string  `json:"regulator" jsonschema:"enum=linear,enum=switching"` // empty: not said
	// of the four that follow 0 is not said
	ContinuousA float64 `json:"continuous_a" jsonschema:"minimum=0,maximum=1000" unit:"A"`
	PeakA       float64 `json:"peak_a" jsonschema:"minimum=0,maximum=1000" unit:"A"`
	AH          float64 `json:"ah" jsonschema:"minimum=0,maximum=10000" unit:"Ah"`
	// of the battery, as it is to come home
	LowV     float64 `json:"low_v" jsonschema:"minimum=0,maximum=100" unit:"V"`
	Ohm      float64 `json:"ohm" jsonschema:"minimum=0,maximum=1000" unit:"Ω"` // inside the battery
	Switched bool    `json:"switched"`                                         // it sits behind a switch
	Copper           // of the lead, as far as its fork where it has one
	Fork
	Joint string `json:"joint" jsonschema:"enum=lead,enum=leg"` // empty: it does not pass through
}

// Fork is where a lead becomes a Y: one leg goes into the receiver that it feeds, the other leg into
// a second one, or into the same by a second pin.
type Fork struct {
	Also       *ID     `json:"also"` // the receiver of the other leg; nil: the lead does not fork
	LegMM      float64 `json:"leg_mm" jsonschema:"minimum=0,maximum=100000" unit:"mm"`
	OtherLegMM float64 `json:"other_leg_mm" jsonschema:"minimum=0,maximum=100000" unit:"mm"`
	LegsAWG    float64 `json:"legs_awg" jsonschema:"minimum=0,maximum=40"` // of the four 0 is not said
	LegA       float64 `json:"leg_a" jsonschema:"minimum=0,maximum=1000" unit:"A"`
}

// Wire is what is known of the lead of a device.
type Wire struct {
	Device ID `json:"device" jsonschema:"required"`
	Copper
	// its polarity was measured before the first plug; nil: not said
	Checked *bool   `json:"checked"`
	Crossed bool    `json:"crossed"`                                 // red and black are exchanged in it
	Joint   string  `json:"joint" jsonschema:"enum=lead,enum=motor"` // empty: it does not pass through
	LampV   float64 `json:"lamp_v" jsonschema:"minimum=0,maximum=100" unit:"V"`
	LampMA  float64 `json:"lamp_ma" jsonschema:"minimum=0,maximum=100000" unit:"mA"`
	Ohm     float64 `json:"ohm" jsonschema:"minimum=0,maximum=10000000" unit:"Ω"` // of the resistor in it
}

// Sense is a lead that tells a receiver the volts of a battery, and feeds nothing.
type Sense struct {
	Into  ID      `json:"into" jsonschema:"required"` // a receiver
	Label string  `json:"label"`
	Volts float64 `json:"volts" jsonschema:"required,minimum=0,maximum=1000" unit:"V"` // of the full battery
	// that the input takes; 0: not said
	MostV float64 `json:"most_v" jsonschema:"minimum=0,maximum=1000" unit:"V"`
}

// Joint is one that turns without end, with so many ways for wires.
type Joint struct {
	Label     string  `json:"label"`
	Ways      int     `json:"ways" jsonschema:"required,minimum=1,maximum=256"`
	PowerWays int     `json:"power_ways" jsonschema:"minimum=1,maximum=64,default=1"` // side by side
	MostA     float64 `json:"most_a" jsonschema:"minimum=0,maximum=1000" unit:"A"`    // of one way; 0: not said
}

// Copper is a length of lead of a gauge; 0: not said.
type Copper struct {
	LengthMM float64 `json:"length_mm" jsonschema:"minimum=0,maximum=100000" unit:"mm"`
	AWG      float64 `json:"awg" jsonschema:"minimum=0,maximum=40"`
}

// Stand is what was found of the functions with the model on its stand.
type Stand struct {
	BackOff float64 `json:"back_off" jsonschema:"minimum=0,maximum=20,default=2" unit:"%"`
	Found   []Found `json:"found" jsonschema:"maxItems=1024"`
}

// Found is one thing of an output that was done or measured: by whom and when, with which device.
type Found struct {
	Output ID     `json:"output" jsonschema:"required"`
	What   string `json:"what" jsonschema:"required" choices:"found"`
	How    string `json:"how" jsonschema:"default=measured" choices:"found_how"`
	// of a centre or an end, as it was set
	Value  float64 `json:"value" jsonschema:"minimum=-150,maximum=150" unit:"%"`
	On     string  `json:"on"`     // the day, in words
	With   *ID     `json:"with"`   // the device; nil: none was there
	Fitted string  `json:"fitted"` // when that had been built in
	// of a position that was stored for a lost signal: what it rests on, as it was then
	Channel  int    `json:"channel" jsonschema:"minimum=0,maximum=48"` // 0: not said
	Reversed *bool  `json:"reversed"`                                  // nil: not said
	Bound    string `json:"bound"`                                     // when its receiver had been bound
}

// HandWish is what is asked of the control of a function that a hand moves.
type HandWish struct {
	Control ID `json:"control" jsonschema:"required"`
	HandAsks
	Stays bool `json:"stays"` // the function stays on it
}

// LateMS gives how long it takes at most, ms, until what a hand does arrives on a channel of a
// receiver: the frame that has just begun, one more where only every second one carries it, and how
// late the link is.
func (s *Setup) LateMS(channel int) float64 {
	late := float64(s.Transmitter.FrameMS)
	if slices.Contains(s.Link.HalfRate, channel) {
		late *= 2
	}
	for _, own := range s.Link.Delays {
		if own.Channel == channel {
			return late + own.MS
		}
	}
	return late + s.Link.DelayMS
}

// BitsOn gives how finely a channel of a receiver is told; 0 where that is not known.
func (s *Setup) BitsOn(channel int) int {
	if slices.Contains(s.Link.OneBit, channel) {
		return 1
	}
	return s.Link.Bits
}

// Module is a radio that is added to the transmitter. It changes nothing of what
// arrives: LearnedUS does.
type Module struct {
	Label string `json:"label"`
	From  *From  `json:"from"` // nil: a copy of no piece
	// where its signal is taken from, in words
	PlugsInto string `json:"plugs_into"`
	// of its knob, for this model; empty: not said
	Position string `json:"position"`
	// that it sends; 0 is not said
	LeastChannels int `json:"least_channels" jsonschema:"minimum=0,maximum=48"`
	MostChannels  int `json:"most_channels" jsonschema:"minimum=0,maximum=48"`
}

// Learned is the range an add-on module was told; low < centre < high.
type Learned struct {
	Low    float64 `json:"low" jsonschema:"required,minimum=1,maximum=20000" unit:"µs"`
	Centre float64 `json:"centre" jsonschema:"required,minimum=1,maximum=20000" unit:"µs"`
	High   float64 `json:"high" jsonschema:"required,minimum=1,maximum=20000" unit:"µs"`
}

// Receiver is one receiver of the model.
type Receiver struct {
	ID         ID       `json:"id" jsonschema:"required"`
	Label      string   `json:"label"`
	From       *From    `json:"from"` // nil: a copy of no piece
	LossAfterS float64  `json:"loss_after_s" jsonschema:"minimum=0"`
	Failsafe   Failsafe `json:"failsafe"`
	Pins       []Pin    `json:"pins"`
	Stores     string   `json:"stores" jsonschema:"enum=button,enum=typed"` // empty: not said
	Telemetry  *bool    `json:"telemetry"`
	Bound      string   `json:"bound"`     // when it was bound last, in words
	SetsPins   *bool    `json:"sets_pins"` // whether each pin can be told its channel; nil: not known
	Volts      *Volts   `json:"volts"`
	SupplyV    *float64 `json:"supply_v" jsonschema:"minimum=0,maximum=100" unit:"V"`
	Chart      *Chart   `json:"chart"` // nil: its pins are not set by counted flashes
	// what was counted into its pins, for this model
	Codes []PinCode `json:"codes" jsonschema:"maxItems=256"`
	// what it has learned of its channels, or the car has that it is built into
	Learned []LearnedEnds `json:"learned" jsonschema:"maxItems=48"`
	Teach   *Teach        `json:"teach"` // nil: not known
	Notes   string        `json:"notes"`
}

// LearnedEnds is what a receiver has learned of one of its channels; low < centre < high. It changes
// nothing of what comes out of its pins.
type LearnedEnds struct {
	Channel int     `json:"channel" jsonschema:"required,minimum=1,maximum=48"`
	Low     float64 `json:"low" jsonschema:"required,minimum=1,maximum=20000" unit:"µs"`
	Centre  float64 `json:"centre" jsonschema:"required,minimum=1,maximum=20000" unit:"µs"`
	High    float64 `json:"high" jsonschema:"required,minimum=1,maximum=20000" unit:"µs"`
}

// Teach is how something is taught the pulses that are sent to it.
type Teach struct {
	By string `json:"by" jsonschema:"required" choices:"taught_by"`
	// as it asks for them; left out: neutral, high, low
	Order []string `json:"order" jsonschema:"maxItems=3,enum=neutral,enum=high,enum=low"`
	Tells string   `json:"tells"` // what it does when it has taken one
}

// Volts are the least and the most that something may get; least <= most.
type Volts struct {
	Least float64 `json:"least" jsonschema:"minimum=0,maximum=100" unit:"V"`
	Most  float64 `json:"most" jsonschema:"required,minimum=0,maximum=100" unit:"V"`
}

// Failsafe is what a receiver can do when the signal is lost.
type Failsafe struct {
	Can        []string `json:"can" jsonschema:"enum=hold,enum=cut,enum=preset,default=hold"`
	PresetPins Pins     `json:"preset_pins"`
	Otherwise  string   `json:"otherwise" jsonschema:"enum=hold,enum=cut,default=hold"`
}

// Pin carries one channel of the link.
type Pin struct {
	Pin     int        `json:"pin" jsonschema:"required,minimum=1,maximum=256"`
	Channel int        `json:"channel" jsonschema:"required,minimum=1,maximum=48"`
	Label   string     `json:"label"`
	Switch  *SwitchPin `json:"switch"`
}

// SwitchPin makes a pin on or off instead of pulses.
type SwitchPin struct {
	On    string  `json:"on" jsonschema:"enum=above,enum=below,default=above"`
	AtUS  float64 `json:"at_us" jsonschema:"required,minimum=1,maximum=20000"`
	Level string  `json:"level" jsonschema:"enum=low,enum=high,default=high"`
	// what it gives and what it has of its own; 0: not said
	Volts  float64 `json:"volts" jsonschema:"minimum=0,maximum=100" unit:"V"`
	MostMA float64 `json:"most_ma" jsonschema:"minimum=0,maximum=100000" unit:"mA"`
	Ohm    float64 `json:"ohm" jsonschema:"minimum=0,maximum=10000000" unit:"Ω"`
}

// Announcement is spoken by the transmitter.
type Announcement struct {
	ID      ID     `json:"id" jsonschema:"required"`
	When    Truth  `json:"when" jsonschema:"required"`
	Say     string `json:"say" jsonschema:"required"`
	AtStart bool   `json:"at_start"`
}

// Claim says what must always be true: one of its fields is not nil.
type Claim struct {
	ID        ID           `json:"id" jsonschema:"required"`
	Label     string       `json:"label"`
	Never     *[]Condition `json:"never" jsonschema:"minItems=1"`
	AtStart   *Standing    `json:"at_start"`
	OnLoss    *LossClaim   `json:"on_loss"`
	OnlyWhen  *OnlyWhen    `json:"only_when"`
	LeadsTo   *LeadsTo     `json:"leads_to"`
	Reachable *Condition   `json:"reachable"`
}

// Standing is where an output stands.
type Standing struct {
	Output ID      `json:"output" jsonschema:"required"`
	Value  float64 `json:"value" jsonschema:"required,minimum=-150,maximum=150" unit:"%"`
	Within float64 `json:"within" jsonschema:"minimum=0" unit:"%"`
}

// LossClaim is where the pins of an output end up; Value or Cut.
type LossClaim struct {
	Output ID       `json:"output" jsonschema:"required"`
	Value  *float64 `json:"value" jsonschema:"minimum=-150,maximum=150" unit:"%"`
	Within *float64 `json:"within" jsonschema:"minimum=0" unit:"%"`
	Cut    *bool    `json:"cut" jsonschema:"enum=true"`
}

// OnlyWhen allows Changes to differ only while While is true.
type OnlyWhen struct {
	Changes Truth     `json:"changes" jsonschema:"required"`
	While   Condition `json:"while" jsonschema:"required"`
}

// LeadsTo asks for Then within WithinS of every When.
type LeadsTo struct {
	When    Condition `json:"when" jsonschema:"required"`
	Then    Condition `json:"then" jsonschema:"required"`
	WithinS float64   `json:"within_s" jsonschema:"required,minimum=0"`
}

// Condition is a truth, or says something of an output or a device: then
// Truth is empty and one of Above, Below, Within is not nil.
type Condition struct {
	Truth  Truth
	Output *ID      `json:"output"`
	Device *ID      `json:"device"`
	Above  *float64 `json:"above" unit:"%"`
	Below  *float64 `json:"below" unit:"%"`
	Within *Point   `json:"within"`
}

// StartEntry is one thing that the transmitter waits for.
type StartEntry struct {
	Control ID `json:"control" jsonschema:"required"`
	Is      Is `json:"is" jsonschema:"required"`
}

// Written is an entry as a document has it: the name of a position, or from and to.
func (is Is) Written() any {
	if is.Position != "" {
		return is.Position
	}
	return map[string]float64{"from": is.From, "to": is.To}
}

// Is is a position of a switch, or a range of an axis, the ends included.
type Is struct {
	Position Name
	From     float64 `json:"from" jsonschema:"required,minimum=-100,maximum=100" unit:"%"`
	To       float64 `json:"to" jsonschema:"required,minimum=-100,maximum=100" unit:"%"`
}
