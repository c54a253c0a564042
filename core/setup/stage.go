package setup

// Stage is the picture of the model: docs/format.md, section 13. It changes
// nothing of what is computed. Lengths are millimetres, angles degrees. What it
// says wrongly is no mistake of the document but a finding: the picture shows
// what is left.
type Stage struct {
	// empty: as the kind of craft is usually seen
	View string `json:"view" jsonschema:"enum=above,enum=side,enum=row"`
	// over the ground with its motors at 100; 0: stays in its place
	TopMMS float64 `json:"top_mm_s" jsonschema:"minimum=-100000,maximum=100000"`
	// time constant of coming to a speed; 0: at once
	CoastS float64 `json:"coast_s" jsonschema:"minimum=0"`
	// nil: as the axles lie
	WheelbaseMM *float64 `json:"wheelbase_mm" jsonschema:"minimum=-100000,maximum=100000"`
	// nil: as the tracks or wheels lie
	TrackMM *float64 `json:"track_mm" jsonschema:"minimum=-100000,maximum=100000"`
	// seen from the side, up from the middle
	WaterlineMM *float64    `json:"waterline_mm" jsonschema:"minimum=-100000,maximum=100000"`
	Parts       []StagePart `json:"parts"`
}

// StagePart is one part of the picture. AtMM is its place, ahead and to
// starboard seen from above, ahead and up seen from the side, from the middle of
// the model or from the part that it is on; nil puts it into the row below. What
// From and To mean depends on the part: the degrees or millimetres at the low and
// the high end of its device.
type StagePart struct {
	Name   Name   `json:"name"`
	Part   string `json:"part" jsonschema:"required" choices:"part"`
	Label  string `json:"label"`
	Shape  string `json:"shape" choices:"shape"` // of a hull; empty: the first is as the craft, others plain
	On     Name   `json:"on"`
	AtMM   *Point `json:"at_mm"`
	SizeMM *Point `json:"size_mm"`
	Device *ID    `json:"device"`
	// what of the device moves it; empty: what it travels, else its value
	Gives  string   `json:"gives" jsonschema:"enum=value,enum=brake,enum=at"`
	From   *float64 `json:"from" jsonschema:"minimum=-100000,maximum=100000"`
	To     *float64 `json:"to" jsonschema:"minimum=-100000,maximum=100000"`
	Stops  *Point   `json:"stops"`  // of the linkage, in the unit of From
	Turned bool     `json:"turned"` // the motor is mounted the other way round
	Motor  *ID      `json:"motor"`  // of an axle: what drives its wheels
	Brake  *ID      `json:"brake"`  // of an axle: what brakes its wheels
	// a valve or motor moves it: seconds from From to To at 100; 0: it follows its device
	FullS float64 `json:"full_s" jsonschema:"minimum=0"`
	Pump  *ID     `json:"pump"` // what feeds the valve
	// of a lamp: the degrees, clockwise from ahead, in which it is seen
	Arc *Point `json:"arc"`
	// of a lamp: lit while its device is between these, percent
	Lit  *Point `json:"lit"`
	Word string `json:"word"` // of what sounds
}
