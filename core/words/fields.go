package words

import "strings"

// fields are the fields of the document as people say them; a field that is not here is
// said as it is written. One that means something else in a group stands with that before
// it: pulse.centre_us. What a kind calls its fields by itself is said with the kind.
var fields = map[string]string{
	"from": "comes from", "to": "goes to", "when": "only while", "shape": "taken",
	"combine": "combined with the others", "fade_s": "fades in and out over",
	"bias": "shifted by", "gain": "gain", "pos": "gain above 0", "neg": "gain below 0", "expo": "expo",
	"deadband": "dead band", "rate": "rate", "rates": "other rates while", "curve": "curve",
	"smooth": "round the curve", "trim": "trim", "low": "low end", "high": "high end", "centre": "centre",
	"reverse": "reversed", "slew_s": "time from end to end",
	"channel": "channel", "start.value": "stands at the start at", "start.within": "give or take",
	"start": "at the start", "notes": "notes", "label": "name",
	"spring": "springs back to", "spring_to": "springs back to", "positions": "positions",
	"lies": "lies at the", "form": "looks like",
	"stick": "on the stick", "along": "moves", "plus": "+ is", "minus": "− is",
	"of": "looks at", "level": "goes on at", "hysteresis": "lets go again further back by",
	"in": "is on while", "set": "goes on when", "reset": "goes off when",
	"for_s": "for", "up": "steps up on", "down": "steps down on", "home": "goes home on", "steps": "steps",
	"wrap": "goes round", "repeat_s": "repeats while held every",
	"go": "runs while", "tracks": "what moves when", "interrupt": "when stopped half way",
	"loop": "over and over", "rest": "rests at", "outputs": "functions", "rule": "when they ask for too much",
	"say": "says", "at_start": "also at the start", "on": "plugged into", "speed_s": "end to end in",
	"left_at": "was left at", "turns_on": "on when the pulse is", "at_us": "switches at",
	"no_pulse": "without pulses", "at": "steps beyond", "loss": "step after a loss",
	"learned_us": "has learned another pulse range", "dead_us": "dead band",
	"works": "works two things", "works.high": "to +", "works.low": "to −",
	"needs_neutral": "waits for neutral after power-on",
	"teach":         "how it is taught is known", "teach.by": "is taught by",
	"teach.order": "asks for, in this order",
	"teach.tells": "when it has taken one", "learned": "has learned the ends of",
	"swap_on": "second lead plugged into", "travel": "moves something with ends",
	"travel.full_s": "from end to end in", "travel.start": "stands at the start at",
	"loss_after_s": "counts as lost after", "failsafe": "what it can do on loss", "failsafe.can": "can",
	"failsafe.preset_pins": "presets on pins", "failsafe.otherwise": "else it does",
	"pins": "pins", "pin": "pin", "switch": "is a switch", "channels": "channels",
	"order": "order of the channels", "one_bit": "channels of one bit", "half_rate": "channels at half rate",
	"kind": "kind", "type": "in your words", "memory": "memory", "frame_ms": "frame",
	"pulse": "another pulse range", "pulse.centre_us": "centre", "pulse.half_span_us": "for 100 %",
	"pulse.min_us": "never below",
	"pulse.max_us": "never above", "pulse.step_us": "in steps of", "name": "name", "value": "value",
	"can":          "what it can do is known",
	"can.channels": "channels", "can.mixes": "mixes", "can.curve_points": "points of a curve",
	"can.rates": "rates", "can.slew": "can slow a channel", "can.endpoint_max": "largest end",
	"can.endpoint_follows": "an end is a side of", "can.endpoint_from": "ends count from",
	"can.failsafe": "loss is set in", "can.start_check": "checks at the start", "can.logic": "has logic",
	"logic.count": "rules that it has", "logic.blocks": "kinds of rule that it has",
	"logic.inputs": "inputs of a rule", "logic.negated": "an input may be reversed",
	"logic.order": "runs its rules", "logic.both_true": "when on and off are both asked",
	"logic.set_on": "a latch goes on", "logic.thrown_at_power_on": "a switch that is thrown at power-on",
	"logic.remembers": "remembers latches when it is off", "can.steppers": "sets of steps",
	"at_start.output": "function", "at_start.value": "stands at", "at_start.within": "give or take",
	"on_loss.output": "function", "on_loss.value": "goes to", "on_loss.within": "give or take",
	"on_loss.cut": "gets no pulses", "only_when.changes": "what changes", "only_when.while": "only while",
	"leads_to.when": "when", "leads_to.then": "then", "leads_to.within_s": "within",
	"can.sequences": "sequences", "can.click_on": "its buttons can click on and off",
	"can.saves":          "saves a change how",
	"can.menu_cuts_link": "a menu cuts the link", "can.scales": "scales of its menus",
	"scales.endpoint": "ends in", "scales.failsafe": "loss positions in", "scales.trim": "centres and trims in",
	"scales.gain": "gains in", "scales.display": "its display in",
	"can.discards": "throws a change away how", "can.memories": "models that it keeps",
	"can.brings": "a new model brings, to be cleared", "can.programmed": "is set from",
	"can.binds": "binding is known", "can.range_m": "reaches, as its maker says",
	"binds.first": "switched on first", "binds.by": "begins with", "binds.lamp": "its lamp",
	"binds.registers": "a receiver is registered before", "binds.phrase": "both are told a phrase",
	"binds.each_memory": "once for each memory",
	"site":              "the size of its site is known", "site.length_m": "its length",
	"site.width_m": "its width", "power": "radio power", "own": "its own settings",
	"reached": "is reached", "bits": "steps of a channel in bits", "delay_ms": "arrives late by",
	"stores": "loss positions are stored", "telemetry": "tells something back", "volts": "volts are known",
	"volts.least": "volts, at least", "volts.most": "volts, at most", "supply_v": "gets",
	"mhz": "band of the radio", "water": "dives in", "conductivity_s_m": "it was measured how it conducts",
	"conductivity_s_m.least": "siemens a metre, at least", "conductivity_s_m.most": "and at most",
	"temperature_c": "temperature", "away_m": "away from the hand, at most",
	"aerial_mm":  "aerial above the deck",
	"sinks_mm_s": "it is known how fast it goes down", "sinks_mm_s.least": "mm/s, at least",
	"sinks_mm_s.most": "and at most", "mass_kg": "its mass", "blown_ml": "its tank gives out",
	"light_ml": "lighter than water by", "blow_s": "it is known how long the tank takes",
	"blow_s.least": "seconds, at least", "blow_s.most": "and at most",
	"coast_s":  "goes on after its motor stops",
	"area_cm2": "its area from above", "drag": "its drag is known", "drag.least": "coefficient, at least",
	"drag.most": "and at most",
	"draws_a":   "its current is known", "draws_a.rest": "current at rest", "draws_a.most": "current at most",
	"fitted": "built in", "bound": "bound last", "own_switch": "has a power switch of its own",
	"reversed": "was reversed", "torque_nm": "turning force", "splines": "teeth of its shaft",
	"feeds_a": "feeds back", "red_lifted": "its red wire is lifted",
	"delays": "some channels arrive late by", "delays.ms": "milliseconds", "ms": "milliseconds",
	"trades": "or it can be set to", "needs": "what it asks of its place is known",
	"needs.within_ms": "answers within", "needs.bits": "told in bits, at least", "within_ms": "answers within",
	"kills": "kills an ignition while it is", "shows": "the lamp of its button shows it",
	"own_channel": "sent without a mix on channel", "sets_order": "the order of the channels can be set",
	"sets_pins": "its pins can be told their channel",
	"quick":     "had better be quick", "stays": "stays where it is", "by": "asks for a control",
	"does": "its hand", "thumb": "lies under a thumb", "side": "is moved by the hand at the",
	"needs.quick": "had better be quick", "needs.stays": "the plan leaves alone its",
	"needs.by": "asks for a control",
	"by.kind":  "which is", "by.positions": "positions", "by.rest": "let go, it goes to",
	"by.does": "its hand", "by.thumb": "lies under a thumb", "by.side": "is moved by the hand at the",
	"linkage":             "its linkage is known",
	"linkage.kind":        "the part is moved by",
	"linkage.arm_mm":      "arm of the servo",
	"linkage.arm_deg":     "off square",
	"linkage.throw_deg":   "turned at 100 percent",
	"linkage.along_mm":    "from shaft to hinge, along",
	"linkage.aside_mm":    "and aside",
	"linkage.horn_mm":     "horn of the part",
	"linkage.horn_deg":    "off square, straight",
	"linkage.opposite":    "horn on the other side",
	"linkage.rod_mm":      "rod, hole to hole",
	"linkage.stop_low":    "its own stop to −",
	"linkage.stop_high":   "its own stop to +",
	"linkage.wish":        "wanted either way",
	"linkage.needs_nm":    "torque that the part needs",
	"linkage.needs_n":     "force that it needs",
	"linkage.overlap_mm":  "overlap of the spool",
	"linkage.open_mm":     "fully open after",
	"linkage.steers":      "it steers a pair of wheels",
	"steers":              "it steers a pair of wheels",
	"steers.wheelbase_mm": "wheelbase",
	"steers.track_mm":     "track",
	"steers.arm_mm":       "arms of the wheels",
	"steers.inward_deg":   "they point inward by",
	"plan":                "what is asked of the plan is known", "plan.hands": "asked of controls",
	"plan.mixes": "mixes that may be spent", "hands": "asked of controls", "control": "control",
	"feeds": "what feeds", "leads": "known of leads", "into": "feeds", "device": "by way of", "gives_v": "gives",
	"feeds.volts":  "battery",
	"leads.device": "device", "regulator": "regulator", "continuous_a": "for long", "peak_a": "for a moment",
	"ah": "battery holds", "low_v": "low battery at", "switched": "behind a switch", "length_mm": "length",
	"awg": "gauge, AWG", "checked": "polarity measured", "draws_a.work": "current at work",
	"draws_a.at_v": "the most was measured at",
	"also":         "by a Y lead also", "leg_mm": "first leg", "other_leg_mm": "other leg",
	"legs_awg": "gauge of the legs, AWG",
	"leg_a":    "one leg takes", "senses": "what tells the volts of a battery", "senses.into": "told to",
	"senses.volts": "when full", "most_v": "its input takes", "feeds.joint": "through the turning joint",
	"leads.joint": "through the turning joint", "joint": "its turning joint is known",
	"joint.ways": "wires that it carries through", "joint.power_ways": "of them for power, and as many " +
		"for ground",
	"joint.most_a": "one way takes", "crossed": "red and black exchanged", "lamp_v": "its lamp has",
	"lamp_ma": "its lamp draws", "ohm": "resistor", "feeds.ohm": "battery resists",
	"switch.volts": "volts while it is high", "switch.most_ma": "the pin gives at most",
	"switch.ohm": "its own resistor",
	"position":   "its knob for this model", "wants": "is set off by", "hold_s": "that has to last",
}

// Field says a field in words. in is the group that it stands in, with its dot: pulse.
func Field(name string, in ...string) string {
	for _, in := range append(in, "") {
		if l, ok := fields[in+name]; ok {
			return l
		}
	}
	return strings.ReplaceAll(name, "_", " ")
}

// choices are the choices of a field as people say them; those of combine, shape and rule
// are ways.
var choices = map[string]string{
	"water.clear": "clear fresh water", "water.hard": "hard fresh water",
	"water.chlorinated": "a chlorinated pool",
	"water.brackish":    "brackish water", "water.salt": "salt water",
	"spring.centre": "the middle", "spring.low": "the low end", "spring.none": "stays where it is put",
	"along.x": "left and right", "along.y": "up and down",
	"lies.left": "left", "lies.right": "right", "form.wheel": "a wheel", "form.trigger": "a trigger",
	"kind.rod": "a rod", "kind.pull_pull": "two wires that pull", "kind.slide": "a crank that moves what slides",
	"kind.spool":          "a crank on the spool of a valve",
	"interrupt.turn_back": "turns back", "interrupt.finish": "finishes first",
	"reverse.direct": "reverses at once", "reverse.none": "does not reverse",
	"reverse.brake_first": "brakes before it reverses",
	"turns_on.above":      "above", "turns_on.below": "below", "on.above": "on above", "on.below": "on below",
	"no_pulse.off": "off", "no_pulse.on": "on", "no_pulse.stay": "stays as it was",
	"otherwise.hold": "holds", "otherwise.cut": "sends no pulses", "can.hold": "hold",
	"can.cut": "send no pulses", "can.preset": "go to a position",
	"endpoint_follows.stick": "the stick", "endpoint_follows.servo": "the servo",
	"endpoint_from.zero": "zero", "endpoint_from.centre": "the centre",
	"start_check.axis_low": "a lever at its low end", "start_check.axis_centre": "a lever in its middle",
	"start_check.switches": "switches",
	"order.by_place":       "in the order of their places", "order.by_use": "each after what it looks at",
	"both_true.set": "goes on", "both_true.reset": "goes off",
	"set_on.level": "while held", "set_on.edge": "at the press",
	"thrown_at_power_on.fires": "counts as pressed", "thrown_at_power_on.nothing": "does nothing",
	"failsafe.transmitter": "the transmitter", "failsafe.receiver": "the receiver",
	"failsafe.none": "nowhere", "programmed.menus": "its own menus", "programmed.computer": "a computer",
	"programmed.both":   "its menus or a computer",
	"first.transmitter": "the transmitter", "first.receiver": "the receiver",
	"by.held_full":  "full ahead held as it is switched on",
	"by.each_start": "itself, each time it is switched on",
	"by.fixed":      "nothing: its pulses are fixed", "order.neutral": "neutral", "order.high": "full ahead",
	"order.low": "full back",
	"by.button": "a button", "by.plug": "a bind plug", "by.menu": "a menu",
	"power.low": "low, for the bench", "power.full": "full",
	"reached.holding": "without letting go of a stick", "reached.letting_go": "only by letting go",
	"stores.button": "as the sticks stand, by its button", "stores.typed": "typed in",
	"wants.ground": "0 V at its input", "wants.pulse": "a pulse that comes and goes",
	"wants.position":    "a position",
	"kind.proportional": "one that stands anywhere", "kind.two_state": "one that is on or off",
	"kind.steps": "one that is held in positions", "rest.centre": "the middle", "rest.low": "the low end",
	"rest.stays": "nowhere: it stays", "does.drives": "drives the model",
	"does.works": "works while the model is driven", "does.once": "sets it once and leaves it",
	"regulator.linear": "linear", "regulator.switching": "switching",
	"joint.lead": "its lead", "joint.leg": "the other leg of its Y", "joint.motor": "the two wires of its motor",
	"side.left": "left", "side.right": "right", "stays.channel": "channel", "stays.pin": "pins",
}

// Choice says a choice of a field in words.
func Choice(field, choice string) string {
	for name, ways := range map[string][]Way{"combine": Combines, "shape": Shapes, "rule": Rules} {
		if field == name {
			return WayOf(ways, choice).Name
		}
	}
	if field == "blocks" {
		return Of(choice).Name
	}
	if l, ok := choices[field+"."+choice]; ok {
		return l
	}
	return strings.ReplaceAll(choice, "_", " ")
}

// Reversed says whether a line is reversed.
func Reversed(yes bool) string {
	if yes {
		return "reversed"
	}
	return "normal"
}
