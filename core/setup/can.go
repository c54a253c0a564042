package setup

// Can is what a transmitter can do. Whatever is nil or empty is not known.
type Can struct {
	Channels        *int      `json:"channels" jsonschema:"minimum=1,maximum=48"`
	Mixes           *int      `json:"mixes" jsonschema:"minimum=0"`
	CurvePoints     *[]int    `json:"curve_points"`
	Rates           *int      `json:"rates" jsonschema:"minimum=0"`
	Slew            *bool     `json:"slew"`
	EndpointMax     *float64  `json:"endpoint_max" jsonschema:"minimum=0,maximum=150" unit:"%"`
	EndpointFollows string    `json:"endpoint_follows" jsonschema:"enum=stick,enum=servo"`
	EndpointFrom    string    `json:"endpoint_from" jsonschema:"enum=zero,enum=centre"`
	Failsafe        string    `json:"failsafe" jsonschema:"enum=transmitter,enum=receiver,enum=none"`
	StartCheck      *[]string `json:"start_check" jsonschema:"enum=axis_low,enum=axis_centre,enum=switches"`
	Logic           *CanLogic `json:"logic"`
	ClickOn         *bool     `json:"click_on"` // its buttons can be set to click on and off
	Steppers        *int      `json:"steppers" jsonschema:"minimum=0"`
	Sequences       *int      `json:"sequences" jsonschema:"minimum=0"`
	Saves           string    `json:"saves"`
	Discards        string    `json:"discards"`
	MenuCutsLink    *bool     `json:"menu_cuts_link"`
	Scales          *Scales   `json:"scales"`
	Memories        *int      `json:"memories" jsonschema:"minimum=1,maximum=1000"`
	Brings          string    `json:"brings"`
	Programmed      string    `json:"programmed" jsonschema:"enum=menus,enum=computer,enum=both"`
	Binds           *Binds    `json:"binds"`
	RangeM          *float64  `json:"range_m" jsonschema:"minimum=0,maximum=100000" unit:"m"`
}

// Binds is how a receiver is bound to the set.
type Binds struct {
	First      string `json:"first" jsonschema:"enum=transmitter,enum=receiver"` // to be switched on
	By         string `json:"by" jsonschema:"enum=button,enum=plug,enum=menu"`
	Lamp       string `json:"lamp"`        // what its blinks mean
	Registers  *bool  `json:"registers"`   // a receiver has to be registered before it is bound
	Phrase     *bool  `json:"phrase"`      // both have to be told the same phrase
	EachMemory *bool  `json:"each_memory"` // once for each memory
}

// CanLogic is how the set runs its blocks.
type CanLogic struct {
	Count  *int         `json:"count" jsonschema:"minimum=0"`
	Blocks *[]BlockKind `json:"blocks"`
	Inputs *int         `json:"inputs" jsonschema:"minimum=1,maximum=256"` // that one block may have
	// whether an input may be a not
	Negated         *bool  `json:"negated"`
	Order           string `json:"order" jsonschema:"enum=by_place,enum=by_use"`
	BothTrue        string `json:"both_true" jsonschema:"enum=set,enum=reset"`
	SetOn           string `json:"set_on" jsonschema:"enum=level,enum=edge"`
	ThrownAtPowerOn string `json:"thrown_at_power_on" jsonschema:"enum=fires,enum=nothing"`
	// whether latches wake as they were when it was turned off
	Remembers *bool `json:"remembers"`
}

// Scales are the scales of the set's menus.
type Scales struct {
	Endpoint *Menu `json:"endpoint"`
	Failsafe *Menu `json:"failsafe"`
	Trim     *Menu `json:"trim"`
	Gain     *Menu `json:"gain"`
	Display  *Menu `json:"display"`
}

// Menu is the scale of a menu: one for all channels, or Else with exceptions.
type Menu struct {
	Else     Scale
	Channels []ChannelScale // in the order of the document
}

// ChannelScale is the scale of one channel's menu.
type ChannelScale struct {
	Channel int
	Scale   Scale
}

// Scale is a way to write a travel: one of Word, Step, Bits is not zero.
type Scale struct {
	Word string  // percent, span, magnitude, us
	Step float64 // percent a step
	Bits int     // 0..2^bits-1 over -100..100
}
