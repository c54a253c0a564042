package lines

import "strings"

// labels are fields of the document as people say them; a field that is not
// here is said as it is written.
var labels = map[string]string{
	"from": "comes from", "to": "goes to", "when": "only while", "shape": "taken", "combine": "meets the others by", "fade_s": "fades in and out over",
	"bias": "shifted by", "gain": "gain", "expo": "softened", "deadband": "dead band", "rate": "rate", "rates": "other rates while", "curve": "curve", "smooth": "round the curve",
	"trim": "trim", "low": "low stop", "high": "high stop", "centre": "centre", "reverse": "turned round", "slew_s": "time from end to end",
	"channel": "channel", "start.value": "stands at the start at", "start.within": "give or take", "start": "at the start", "notes": "notes", "label": "name",
	"spring": "springs back to", "spring_to": "springs back to", "positions": "positions", "stick": "on the stick", "along": "moves", "plus": "+ is", "minus": "− is",
	"of": "looks at", "level": "goes on at", "hysteresis": "lets go again further back by", "in": "is on while", "set": "goes on when", "reset": "goes off when",
	"for_s": "for", "up": "steps up on", "down": "steps down on", "home": "goes home on", "steps": "steps", "wrap": "goes round", "repeat_s": "repeats while held every",
	"go": "runs while", "tracks": "what moves when", "interrupt": "when stopped half way", "loop": "over and over", "rest": "rests at", "outputs": "lines", "rule": "when more than 100 is asked",
	"say": "says", "at_start": "also at the start", "on": "hangs on", "speed_s": "end to end in", "left_at": "was left at", "turns_on": "on when the pulse is", "at_us": "switches at",
	"no_pulse": "without pulses", "at": "steps beyond", "loss": "step after a loss", "learned_us": "has learned other pulses", "dead_us": "still within", "needs_neutral": "waits for neutral after power-on",
	"swap_on": "second lead on", "travel": "moves something with ends", "travel.full_s": "from end to end in", "travel.start": "stands at the start at",
	"loss_after_s": "counts as lost after", "failsafe": "what it can do on loss", "failsafe.can": "can", "failsafe.preset_pins": "presets on pins", "failsafe.otherwise": "else it does",
	"pins": "pins", "pin": "pin", "switch": "is a switch", "channels": "channels", "order": "order of the channels", "one_bit": "channels of one bit", "half_rate": "channels at half rate",
	"kind": "kind", "type": "in your words", "memory": "memory", "frame_ms": "frame", "pulse": "other pulses", "pulse.centre_us": "centre", "pulse.half_span_us": "for 100 %", "pulse.min_us": "never below",
	"pulse.max_us": "never above", "pulse.step_us": "in steps of", "name": "name", "value": "value", "can": "what it can do is known",
	"can.channels": "channels", "can.mixes": "mixes", "can.curve_points": "points of a curve", "can.rates": "rates", "can.slew": "can slow a channel", "can.endpoint_max": "largest stop",
	"can.endpoint_follows": "a stop is a side of", "can.endpoint_from": "stops count from", "can.failsafe": "loss is set in", "can.start_check": "checks at the start", "can.logic": "has logic",
	"can.steppers": "steppers", "can.sequences": "sequences", "can.saves": "keeps a change how", "can.menu_cuts_link": "a menu cuts the link", "can.scales": "scales of its menus",
	// blocks say the same field in their own way
	"toggle:in": "changes over at each", "ton:in": "counts while", "tof:in": "on while", "tp:in": "starts at each", "r_trig:in": "looks at", "f_trig:in": "looks at",
	"between:from": "from", "between:to": "to", "ton:for_s": "goes on after", "tof:for_s": "and for",
}

// fieldLabel says a field in words; prefix is the group that it stands in.
func fieldLabel(prefix, name string) string {
	if l, ok := labels[prefix+name]; ok {
		return l
	}
	if l, ok := labels[name]; ok {
		return l
	}
	return strings.ReplaceAll(name, "_", " ")
}

// choiceLabels are choices of the document as people say them.
var choiceLabels = map[string]string{
	"shape.plain": "as it is", "shape.abs": "the same both ways", "shape.up": "above 0 only", "shape.down": "below 0 only",
	"combine.add": "adding", "combine.times": "times", "combine.instead": "taking their place", "combine.greatest": "the greatest wins", "combine.least": "the least wins",
	"rule.clip": "each is cut alone", "rule.scale": "bring all down together", "rule.keep_turn": "keep the turn",
	"spring.centre": "the middle", "spring.low": "the low end", "spring.none": "stays where it is put", "along.x": "left and right", "along.y": "up and down",
	"interrupt.turn_back": "turns back", "interrupt.finish": "finishes first", "reverse.direct": "reverses at once", "reverse.none": "does not reverse", "reverse.brake_first": "brakes before it reverses",
	"turns_on.above": "above", "turns_on.below": "below", "on.above": "on above", "on.below": "on below", "no_pulse.off": "off", "no_pulse.on": "on", "no_pulse.stay": "stays as it was",
	"otherwise.hold": "holds", "otherwise.cut": "sends no pulses", "can.hold": "hold", "can.cut": "send no pulses", "can.preset": "go to a position",
	"endpoint_follows.stick": "the stick", "endpoint_follows.servo": "the servo", "endpoint_from.zero": "zero", "endpoint_from.centre": "the centre",
	"failsafe.transmitter": "the set", "failsafe.receiver": "the receiver", "failsafe.none": "nowhere",
}

func choiceLabel(field, choice string) string {
	if l, ok := choiceLabels[field+"."+choice]; ok {
		return l
	}
	return strings.ReplaceAll(choice, "_", " ")
}

// notes explain a kind of part where its form opens.
var notes = map[string]string{
	"and": "on while all of these are", "or": "on while any of these is", "xor": "on while an odd number of these is",
	"above": "on above a level", "below": "on below a level", "between": "on inside a range",
	"r_trig": "on for one moment when it becomes true", "f_trig": "on for one moment when it becomes false",
	"sr": "stays on once it was set, until it is reset; set wins", "rs": "stays on once it was set, until it is reset; reset wins",
	"toggle": "on at one press, off at the next", "ton": "on when it has been true so long", "tof": "off only when it has been false so long", "tp": "on for so long from each press",
	"steppers": "goes from step to step on presses, and holds where it stands", "sequences": "moves several things together along time",
	"patterns": "plays its steps over and over while it may", "announcements": "what the set says when something becomes true",
	"shares": "what happens when these lines together ask for more than there is", "mixes": "brings one source to one line",
	"receivers": "what it can do when the signal is lost, and what its pins carry", "leveller": "adds what the attitude asks to the pulse of its pin",
	"step_box": "steps when the pulse passes a level and comes back", "esc": "a speed controller: what it has learned, and how it reverses",
	"link":        "the order of the channels and what an add-on module makes of them; leave it alone where the set and the receiver are one make",
	"transmitter": "what the set can do shapes the sheet; leave open what you do not know",
}
