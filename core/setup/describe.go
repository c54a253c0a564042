package setup

import "reflect"

// docs says of each field of a struct, by its name in the document, what it is: for the
// schema, and for whoever fills it in. Every field has one: a test holds that.
type docs map[string]string

// descriptionOf gives what a field of a struct is; empty where nothing is said.
func descriptionOf(t reflect.Type, field string) string {
	if own, ok := reflect.New(t).Interface().(interface{ describe() docs }); ok {
		return own.describe()[field]
	}
	return ""
}

const (
	idDoc    = "the name that the rest of the document calls it by"
	labelDoc = "what you call it"
	notesDoc = "whatever you want to remember about it"
	fromDoc  = "the piece of your shelf of which it is a copy"
)

func (Setup) describe() docs {
	return docs{
		"format":        "says that this is a setup",
		"version":       "of the format",
		"name":          "of the model",
		"piece":         "says that this is a piece of a shelf, and no model",
		"craft":         "what the model is",
		"transmitter":   "the transmitter in the hand",
		"link":          "what lies between the transmitter's channels and the receiver's",
		"receivers":     "what is in the model, with the pins that carry the channels",
		"devices":       "what is plugged into the pins",
		"demands":       "sources with a feel of their own, before they are mixed",
		"logic":         "blocks that are true or false",
		"steppers":      "what goes from step to step on presses",
		"sequences":     "what moves together along time",
		"patterns":      "what plays over and over while it may",
		"mixes":         "what each output is made of, in the order in which it is combined",
		"shares":        "outputs that together may ask for more than there is",
		"outputs":       "the channels of the transmitter",
		"announcements": "what the transmitter says",
		"claims":        "what must always be true",
		"start_check":   "what the transmitter waits for before it sends",
		"stage":         "the picture of the model; it changes nothing of what is computed",
		"plan":          "what the plan is made from beside what functions ask for",
		"stand":         "what was found with the model on its stand",
		"wiring":        "what feeds the receivers, and what is known of the leads",
		"under": "what is known of a model that goes under water; it changes nothing of " +
			"what is computed of outputs",
	}
}

func (Under) describe() docs {
	return docs{
		"water":            "what it dives in",
		"conductivity_s_m": "how well that conducts at 25 °C, where it was measured, siemens a metre",
		"temperature_c":    "how warm the water is, degrees Celsius",
		"away_m":           "how far from the hand it is at most, metres",
		"aerial_mm":        "how far the tip of the aerial stands above the deck, millimetres",
		"sinks_mm_s":       "how fast it goes down as it goes under, millimetres a second",
		"mass_kg":          "the mass of the boat as it floats, kilograms",
		"blown_ml":         "the water that its tank gives out when it is blown, millilitres",
		"light_ml":         "how much lighter than water it is while it dives, millilitres of water",
		"blow_s":           "how long its tank takes for that, seconds",
		"coast_s":          "how long it goes on after its motor stops, seconds",
		"area_cm2":         "its area seen from above, square centimetres",
		"drag":             "its drag coefficient going up and down, of that area",
	}
}

func (Guess) describe() docs { return docs{"least": "at least", "most": "at most"} }

func (Craft) describe() docs {
	return docs{
		"kind":   "what sort of model it is",
		"memory": "the number of its memory in the transmitter; 0 is not said",
		"type":   "what it is in your own words: snow groomer",
		"site":   "how large the place is where it runs",
		"notes":  notesDoc,
	}
}

func (Transmitter) describe() docs {
	return docs{
		"name":     "what you call it",
		"from":     fromDoc,
		"frame_ms": "how long a frame lasts, whole milliseconds",
		"pulse":    "how percent become microseconds",
		"controls": "the sticks, levers, switches and buttons that are used",
		"can":      "what is known of what it can do; what is left out is not known",
		"power":    "the radio power that it is set to: low for the bench, or full",
		"low_v":    "the volts of its battery at which it warns; 0 is not said",
		"own":      "what is set of the transmitter itself: names shown, read-outs, volume, timers",
		"notes":    notesDoc,
	}
}

func (Site) describe() docs {
	return docs{"length_m": "how long it is, metres", "width_m": "how wide it is, metres"}
}

func (OwnSetting) describe() docs {
	return docs{"name": "what it is: volume", "value": "what it is set to: 3"}
}

func (Volts) describe() docs {
	return docs{"least": "no less, volts; 0 is not said", "most": "no more, volts"}
}

func (Binds) describe() docs {
	return docs{
		"first":       "which end is switched on first",
		"by":          "what is pressed or plugged for it",
		"lamp":        "what the blinks of the lamp mean, in words",
		"registers":   "whether a receiver has to be registered with it before",
		"phrase":      "whether both have to be told the same phrase",
		"each_memory": "whether it has to be done for each memory",
	}
}

func (Pulse) describe() docs {
	return docs{
		"centre_us":    "the pulse of 0 percent, microseconds",
		"half_span_us": "how much longer the pulse is at 100 percent, microseconds",
		"min_us":       "no pulse is shorter, microseconds",
		"max_us":       "no pulse is longer, microseconds",
		"step_us":      "pulses are whole steps of this from the centre, microseconds",
	}
}

func (ControlHead) describe() docs {
	return docs{
		"id":          idDoc,
		"kind":        "an axis is a stick, lever or slider; a switch has positions, a button too",
		"label":       labelDoc,
		"stick":       "two axes of one stick share its pad",
		"along":       "which way it moves: to the side, or away from you",
		"lies":        "left or right of the middle of the transmitter; left out, between the sticks",
		"reached":     "whether it is reached with both thumbs on the sticks; left out, not known",
		"plus":        "the way of +, in words: forward",
		"minus":       "the way of −, in words: back",
		"own_channel": "the channel on which this transmitter sends it without a mix; 0 is any, as far as is known",
	}
}

func (Axis) describe() docs {
	return docs{
		"form":   "what it looks like, where it is a wheel or a trigger",
		"spring": "where it goes when it is let go",
		"start":  "where one without a spring wakes, percent; left out, 0",
	}
}

func (Switch) describe() docs {
	return docs{
		"positions": "what its positions are called, 2 to 6, in order",
		"spring_to": "the position it goes back to when it is let go; left out, it stays",
		"start":     "the position in which one without a spring wakes; left out, the first",
	}
}

func (Demand) describe() docs {
	return docs{
		"id":       idDoc,
		"label":    labelDoc,
		"from":     "the source that it shapes",
		"deadband": "how far from 0 the source does nothing, percent",
		"expo":     "above 0 it is soft about the middle, below 0 sharp, percent",
		"rate":     "how much of the travel is left, percent",
		"rates":    "other rates, the first whose condition holds",
		"curve":    "points [in, out] in percent, joined by lines, flat beyond the ends",
		"smooth":   "whether the curve is rounded at its points, without overshooting",
		"trim":     "added at the end, percent",
	}
}

func (Rate) describe() docs {
	return docs{"when": "the condition under which this rate holds",
		"rate": "how much of the travel is left, percent"}
}

func (Stepper) describe() docs {
	return docs{
		"id":       idDoc,
		"label":    labelDoc,
		"up":       "the condition that moves it one step on, each time it becomes true",
		"down":     "the condition that moves it one step back",
		"steps":    "its steps, 2 to 16, in order",
		"start":    "the step in which it wakes; left out, the first",
		"wrap":     "whether it goes on from the last step to the first",
		"home":     "while this holds it stands at its start",
		"repeat_s": "a button that is held steps again each time so long is over, seconds; 0: it does not",
	}
}

func (Step) describe() docs {
	return docs{"name": "what the step is called", "value": "where it stands in this step, percent"}
}

func (Sequence) describe() docs {
	return docs{
		"id":        idDoc,
		"label":     labelDoc,
		"go":        "while this holds it runs to its end, else back to its beginning",
		"tracks":    "what moves when: by name, keyframes [seconds, percent] joined by lines",
		"interrupt": "what it does when it is sent back half way: turn at once, or finish first",
	}
}

func (Pattern) describe() docs {
	return docs{
		"id":    idDoc,
		"label": labelDoc,
		"when":  "it plays while this holds",
		"steps": "what it plays: [percent, seconds], one after the other",
		"loop":  "whether it begins again at its end; else the last value is held",
		"rest":  "where it stands while it does not play, percent",
	}
}

func (Mix) describe() docs {
	return docs{
		"id":      idDoc,
		"label":   labelDoc,
		"to":      "the output that it is for",
		"from":    "the source that it brings",
		"shape":   "what of the source counts: all of it, its size, or one side of 0",
		"gain":    "how much of the source, percent; one number, or one for each side of 0",
		"bias":    "added to it, percent",
		"when":    "it counts only while this holds; left out, always",
		"combine": "what is done with it and with what the mixes before it made",
		"fade_s":  "how long it takes to come in and to go out, seconds; 0 is at once",
	}
}

func (Share) describe() docs {
	return docs{
		"id":      idDoc,
		"label":   labelDoc,
		"outputs": "the outputs that together may ask for more than there is",
		"rule":    "what happens then",
	}
}

func (Output) describe() docs {
	return docs{
		"id":      idDoc,
		"label":   labelDoc,
		"channel": "the channel of the transmitter",
		"reverse": "whether it goes the other way round",
		"centre":  "where the servo stands at 0, percent",
		"low":     "the low end, a position of the servo, percent",
		"high":    "the high end, a position of the servo, percent",
		"slew_s":  "how long it takes from −100 to +100 at least, seconds; one number, or up and down",
		"start":   "where it must stand in the first frame",
		"loss":    "what it must do when the signal is lost; left out, what the receiver does",
		"needs":   "what it asks of its channel, its pins and its control",
		"works":   "what the servo works to each side, where that is not the same",
		"linkage": "what lies between its servo and the part: arm, rod, horn; it changes nothing of what is " +
			"computed",
		"notes": notesDoc,
	}
}

func (StartAt) describe() docs {
	return docs{"value": "the position of the servo, percent", "within": "how far off it may be, percent"}
}

func (Loss) describe() docs {
	return docs{
		"mode":  "hold the last pulse, send no pulses, or go to a position",
		"value": "the position of the servo that it goes to, percent; belongs to preset alone",
	}
}

func (Link) describe() docs {
	return docs{
		"channels":   "how many channels arrive",
		"order":      "the transmitter channel that arrives on each receiver channel, from the first on",
		"learned_us": "the pulses that an add-on module takes for the ends and the middle",
		"one_bit":    "channels that arrive as full one way or full the other",
		"half_rate":  "channels that arrive in every second frame",
		"bits":       "how finely a channel is told, bits: 10 is 1024 steps; 0 is not said",
		"mhz":        "the band of the radio, megahertz; 0 is not said",
		"delay_ms":   "how long a movement takes to arrive, milliseconds; 0 is not said",
		"delays":     "how late some channels arrive, instead",
		"trades":     "what else the radio can be set to: a frame, and how finely a channel is told at that",
		"module":     "a radio that is added to the transmitter",
		"sets_order": "whether the receiver or the module can be told the order of the channels",
		"notes":      notesDoc,
	}
}

func (ChannelDelay) describe() docs {
	return docs{"channel": "of the receiver", "ms": "how late it arrives, milliseconds"}
}

func (Trade) describe() docs {
	return docs{"frame_ms": "how long a frame lasts then, whole milliseconds",
		"bits": "in how many bits a channel is told then"}
}

func (Needs) describe() docs {
	return docs{
		"within_ms": "how soon at the latest it has to get what a hand does, milliseconds; 0 is any time",
		"bits":      "in how many bits at least its channel has to be told; 0 is any",
		"quick":     "whether it had better be quick; left out, as is usual for what it moves",
		"stays":     "which of its places the plan leaves alone: its channel, its pins",
		"by":        "the control that it asks for, as long as nothing moves it",
	}
}

func (Stand) describe() docs {
	return docs{
		"back_off": "how far an end is set back from where the linkage binds, percent",
		"found":    "what was done and measured of each function",
	}
}

func (Works) describe() docs {
	return docs{"high": "what it works on its way to +, in a word: throttle",
		"low": "and on its way to −: brake"}
}

func (Found) describe() docs {
	return docs{
		"output": "the function",
		"what": "what was done: made ready, its arm put on, its direction, its centre, one of its " +
			"ends, taught to what it drives, that it runs straight, or its position for a lost signal stored",
		"how": "how it was found: measured, from the linkage, learned by what is driven, " +
			"guessed, or put in at the link",
		"value":    "what was set, a position of the servo in percent",
		"on":       "the day",
		"with":     "the device that it was found with",
		"fitted":   "when that had been built in, as it says of itself",
		"channel":  "of a position that was stored, the channel on which the function was; 0 is not said",
		"reversed": "of a position that was stored, whether the function was reversed",
		"bound":    "of a position that was stored, when the receiver had been bound, as it says of itself",
	}
}

func (Linkage) describe() docs {
	return docs{
		"kind": "a rod to a horn, two wires that pull, a crank that moves what slides, or a crank that moves the " +
			"spool of a valve",
		"arm_mm": "from the shaft of the servo to the hole in its arm",
		"arm_deg": "how far the arm is off square while the servo stands in the middle; + is the way that + " +
			"turns it",
		"throw_deg":  "how far the shaft turns from the middle to 100 percent",
		"horn_mm":    "from the hinge of the part to the hole in its horn",
		"horn_deg":   "how far the horn is off square while the part is straight; + is away from the servo",
		"opposite":   "whether the horn is on the other side than the arm, so that the part turns the other way",
		"along_mm":   "from the shaft to the hinge, along",
		"aside_mm":   "how much further to the side of the arm the hinge is, or the line along which it slides",
		"rod_mm":     "from hole to hole; left out, as long as it has to be for the middle",
		"stop_low":   "where the part stops by itself towards −, from straight: degrees, or millimetres, below 0",
		"stop_high":  "where the part stops by itself towards +, from straight: degrees, or millimetres",
		"wish":       "how far the part is to go either way: degrees, or millimetres; 0 is not said",
		"needs_nm":   "the torque that the part needs at full deflection, newton metres; 0 is not said",
		"needs_n":    "the force that what slides needs, newtons; 0 is not said",
		"overlap_mm": "how far the spool goes either way before anything flows",
		"open_mm":    "how far the spool goes until the valve is fully open; 0 is not said",
		"steers":     "the pair of wheels that it steers",
	}
}

func (Steers) describe() docs {
	return docs{
		"wheelbase_mm": "from the steered axle to the one behind",
		"track_mm":     "from one steering pin to the other",
		"arm_mm":       "from the steering pin to the joint of the rod between the wheels",
		"inward_deg":   "how far the arms point inward, straight ahead",
	}
}

func (By) describe() docs {
	return docs{
		"kind": "a control that can stand anywhere between two ends, one that is on or off, or one that is " +
			"held in one of several positions",
		"positions": "how many positions, where it is held in them",
		"rest":      "where the control goes when it is let go: the middle, the low end, or it stays",
	}
}

func (HandAsks) describe() docs {
	return docs{
		"does":  "whether its hand drives the model, works while it is driven, or sets it once and leaves it",
		"thumb": "whether it is to lie under a thumb, on a stick; left out, as is usual for what it moves",
		"side":  "whether the left hand is to move it, or the right one",
	}
}

func (Plan) describe() docs {
	return docs{
		"hands": "what is asked of the controls that move something",
		"mixes": "how many mixes the plan may spend; left out, as many as the transmitter has left",
	}
}

func (Wiring) describe() docs {
	return docs{"feeds": "what feeds the receivers", "leads": "what is known of the leads of devices",
		"senses": "leads that tell a receiver the volts of a battery", "joint": "the joint that turns without end"}
}

func (Feed) describe() docs {
	return docs{
		"into":         "the receiver that it feeds",
		"label":        labelDoc,
		"device":       "the speed controller that feeds back through its lead; left out, none",
		"volts":        "of the battery behind it",
		"gives_v":      "the volts after the regulator; 0 is none: the battery feeds by itself",
		"regulator":    "a linear one makes heat of what is over, a switching one does not",
		"continuous_a": "the current that it gives for as long as you like, amperes; 0 is not said",
		"peak_a":       "the current that it gives for a moment, amperes; 0 is not said",
		"ah":           "what the battery holds, ampere hours; 0 is not said",
		"low_v":        "the volts of the battery at which the model is to come home; 0 is not said",
		"ohm":          "the resistance inside the battery, ohms; 0 is not said",
		"switched":     "whether it sits behind a switch, one of its own too",
		"joint": "whether it passes through the turning joint: the whole lead, or the other leg of " +
			"a Y; left out, neither",
	}
}

func (Fork) describe() docs {
	return docs{
		"also": "by a Y lead: the receiver of its other leg, or the same one by a second pin; left out, " +
			"the lead does not fork",
		"leg_mm":       "how long the first leg is, millimetres; 0 is not said",
		"other_leg_mm": "how long the other leg is, millimetres; 0 is not said",
		"legs_awg":     "the gauge of both legs, AWG; 0 is not said",
		"leg_a":        "the current that one leg and its plug take, amperes; 0 is not said",
	}
}

func (Sense) describe() docs {
	return docs{
		"into":   "the receiver that is told",
		"label":  "what you call the battery",
		"volts":  "of the battery when it is full",
		"most_v": "the volts that this input takes; 0 is not said",
	}
}

func (Joint) describe() docs {
	return docs{
		"label":      labelDoc,
		"ways":       "how many wires it carries through",
		"power_ways": "how many of them carry power, and as many ground, side by side",
		"most_a":     "the current that one way takes, amperes; 0 is not said",
	}
}

func (Wire) describe() docs {
	return docs{
		"device":  "the device whose lead it is",
		"checked": "whether its polarity was measured before it was plugged in first",
		"crossed": "whether red and black are exchanged in it, as the meter says",
		"joint": "whether it passes through the turning joint: its lead, or the two wires of its motor; " +
			"left out, neither",
		"lamp_v":  "the volts over the lamp at its end while it shines; 0 is not said",
		"lamp_ma": "the current of the lamp at its end, milliamperes; 0 is not said",
		"ohm":     "the resistor that is in it, ohms; 0 is none",
	}
}

func (Copper) describe() docs {
	return docs{
		"length_mm": "how long the lead is, one way, millimetres; 0 is not said",
		"awg":       "its gauge, AWG; 0 is not said",
	}
}

func (HandWish) describe() docs {
	return docs{
		"control": "the control, by what it moves now",
		"stays":   "whether what it moves stays on it",
	}
}

func (Module) describe() docs {
	return docs{
		"label":          labelDoc,
		"from":           fromDoc,
		"position":       "where its knob stands for this model",
		"plugs_into":     "where its signal is taken from, in words",
		"least_channels": "the fewest channels that it sends; 0 is not said",
		"most_channels":  "the most channels that it sends; 0 is not said",
	}
}

func (Learned) describe() docs {
	return docs{
		"low":    "the pulse for the low end, microseconds",
		"centre": "the pulse for the middle, microseconds",
		"high":   "the pulse for the high end, microseconds",
	}
}

func (Receiver) describe() docs {
	return docs{
		"id":           idDoc,
		"label":        labelDoc,
		"from":         fromDoc,
		"loss_after_s": "how long the signal has to be away until it counts as lost, seconds",
		"failsafe":     "what it can do when the signal is lost",
		"pins":         "its pins, with the channel of each",
		"stores":       "how loss positions get into it: as the sticks stand at a press of its button, or typed",
		"telemetry":    "whether it tells something back",
		"bound":        "when it was bound last, in words: 3 Nov",
		"sets_pins":    "whether each of its pins can be told which channel it carries",
		"volts":        "the least and the most volts that it may get",
		"supply_v":     "the volts that it gets in this model",
		"chart":        "how its pins are set by counted flashes, level by level",
		"codes":        "what was counted into its pins",
		"learned":      "what it, or the car that it is built into, has learned of the ends of its channels",
		"teach":        "how it is taught the pulses that are sent to it",
		"notes":        notesDoc,
	}
}

func (LearnedEnds) describe() docs {
	return docs{
		"channel": "the channel of the receiver",
		"low":     "the pulse that it takes for the end to −, microseconds",
		"centre":  "the pulse that it takes for the middle, microseconds",
		"high":    "the pulse that it takes for the end to +, microseconds",
	}
}

func (Teach) describe() docs {
	return docs{
		"by":    "what makes it learn",
		"order": "what it asks for, in this order",
		"tells": "what it does when it has taken one: one beep",
	}
}

func (Failsafe) describe() docs {
	return docs{
		"can":         "what it can do on a lost signal",
		"preset_pins": "the pins that can go to a position",
		"otherwise":   "what it does where it cannot do what is asked",
	}
}

func (Pin) describe() docs {
	return docs{
		"pin":     "its number, as it is printed beside it",
		"channel": "the channel of the receiver that comes out here",
		"label":   labelDoc,
		"switch":  "it is on or off, and carries no pulses",
	}
}

func (SwitchPin) describe() docs {
	return docs{
		"on":      "whether it is on above the pulse at which it switches, or below",
		"at_us":   "the pulse at which it switches, microseconds",
		"level":   "what it puts out while it is on: pulled low, or high",
		"volts":   "between the pin and ground while it is high; 0 is not said",
		"most_ma": "the current that the pin gives or takes, milliamperes; 0 is not said",
		"ohm":     "the resistor that the pin has of its own, ohms; 0 is none",
	}
}

func (Announcement) describe() docs {
	return docs{
		"id":       idDoc,
		"when":     "it is said when this becomes true",
		"say":      "the words",
		"at_start": "whether it is said at power-on too",
	}
}

func (Claim) describe() docs {
	return docs{
		"id":        idDoc,
		"label":     labelDoc,
		"never":     "conditions that are never all true at once",
		"at_start":  "where an output stands in the first frame",
		"on_loss":   "what the pins of an output do when the signal is lost",
		"only_when": "something changes only while a condition holds",
		"leads_to":  "one condition is followed by another",
		"reachable": "a condition that can be brought about",
	}
}

func (Standing) describe() docs {
	return docs{
		"output": "the output",
		"value":  "the position of the servo, percent",
		"within": "how far off it may be, percent",
	}
}

func (LossClaim) describe() docs {
	return docs{
		"output": "the output",
		"value":  "the position of the servo, percent",
		"within": "how far off it may be, percent",
		"cut":    "no pulses come",
	}
}

func (OnlyWhen) describe() docs {
	return docs{"changes": "what changes", "while": "the condition under which it may"}
}

func (LeadsTo) describe() docs {
	return docs{
		"when":     "what comes first",
		"then":     "what follows",
		"within_s": "after how long at most, seconds",
	}
}

func (Condition) describe() docs {
	return docs{
		"output": "the output that is spoken of",
		"device": "the device that is spoken of",
		"above":  "it is above this, percent",
		"below":  "it is below this, percent",
		"within": "it is between these two, both included, percent",
	}
}

func (StartEntry) describe() docs {
	return docs{"control": "the control that is looked at",
		"is": "where it has to be: a position, or a range"}
}

func (Is) describe() docs {
	return docs{"from": "the lower end of the range, percent", "to": "the upper end of the range, percent"}
}

func (Can) describe() docs {
	return docs{
		"channels":     "channels that it has",
		"mixes":        "mixes that it has; one plain control on a channel takes none",
		"curve_points": "numbers of points that a curve may have",
		"rates":        "rates of one feel, its own among them",
		"slew":         "whether it can slow a channel",
		"endpoint_max": "the largest end, percent, from what ends are counted from",
		"endpoint_follows": "the side an end is counted on: that the stick was pushed to, or that the " +
			"servo moves to",
		"endpoint_from":  "what an end is counted from once the centre was moved",
		"failsafe":       "where loss positions are kept",
		"start_check":    "what it can look at before it sends",
		"logic":          "how it runs logic blocks",
		"steppers":       "sets of steps that it has",
		"sequences":      "sequences that it has",
		"saves":          "how a change is saved, in words",
		"discards":       "how a change is thrown away, in words",
		"memories":       "how many models it keeps",
		"brings":         "what a ready-made kind of model brings along and has to be cleared, in words",
		"programmed":     "whether it is set from its own menus, from a computer, or both",
		"binds":          "how a receiver is bound to it",
		"range_m":        "how far it reaches, as its maker says, metres",
		"click_on":       "whether its buttons can be set to click on and click off by themselves",
		"menu_cuts_link": "whether an open menu stops the signal",
		"scales":         "how its menus and its display write a travel",
	}
}

func (CanLogic) describe() docs {
	return docs{
		"count":   "blocks that it has",
		"blocks":  "the kinds of block that it has",
		"inputs":  "inputs that one block may have",
		"negated": "whether an input may be reversed",
		"order":   "whether blocks run in the order of their places, or each after what it reads",
		"both_true": "which wins in a latch of which both are true; to find out, hold what turns it on and " +
			"what turns it off together, and look whether it is on",
		"set_on": "whether a latch acts as long as its condition holds, or on the press alone; to find out, " +
			"hold what turns it on, press what turns it off and let that go: does it come on again by itself?",
		"thrown_at_power_on": "whether a switch that is thrown at power-on counts as pressed; to find out, " +
			"throw the one that turns a lamp on, turn the transmitter off and on: does the lamp come on?",
		"remembers": "whether latches wake as they were when it was turned off; to find out, press one on, " +
			"turn the transmitter off and on: is it still on?",
	}
}

func (Scales) describe() docs {
	return docs{
		"endpoint": "of the menu of ends",
		"failsafe": "of the menu of loss positions",
		"trim":     "of the menu of centres and trims",
		"gain":     "of the menu of mixes",
		"display":  "of the display that shows where channels stand",
	}
}

func (Stage) describe() docs {
	return docs{
		"view": "how the model is seen; left out, as its kind of craft usually is",
		"top_mm_s": "how fast it goes with its motors at 100, millimetres a second; 0: it stays in its " +
			"place",
		"coast_s":      "the time constant of coming to a speed, seconds",
		"wheelbase_mm": "between the axles, millimetres; left out, as they lie",
		"track_mm":     "between the tracks or wheels, millimetres; left out, as they lie",
		"waterline_mm": "seen from the side, up from the middle, millimetres",
		"parts":        "what is drawn",
	}
}

func (StagePart) describe() docs {
	return docs{
		"name":  "what parts that are on it call it by",
		"part":  "what it is",
		"label": labelDoc,
		"on":    "the name of the part that it is on",
		"at_mm": "its place, millimetres: ahead and to starboard seen from above, ahead and up seen from " +
			"the side",
		"size_mm": "its length and width, millimetres",
		"device":  "the device that moves it",
		"gives":   "what of the device moves it; left out, what it travels, else its value",
		"from":    "degrees or millimetres at the low end of its device",
		"to":      "degrees or millimetres at the high end of its device",
		"stops":   "the ends of the linkage, degrees or millimetres",
		"turned":  "whether the motor is mounted the other way round",
		"motor":   "of an axle: the device that drives its wheels",
		"brake":   "of an axle: the device that brakes its wheels",
		"full_s":  "a valve or a motor moves it: from end to end at 100, seconds; 0: it follows its device",
		"pump":    "the device that feeds its valve",
		"arc":     "of a lamp: the degrees, clockwise from ahead, in which it is seen",
		"lit":     "of a lamp: lit while its device is between these, percent",
		"shape":   "how a hull is drawn; left out, as the craft is",
		"word":    "what it is heard as",
	}
}
