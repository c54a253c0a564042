package plan

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"

	"axtren/core/edit"
	"axtren/core/setup"
	"axtren/core/words"
)

// Asked is something that a function asks for.
type Asked struct {
	Says  string `json:"says"`  // a sentence without its subject and without a stop: stays on its channel
	Usual bool   `json:"usual"` // nobody said so: it is usual for what hangs there
}

// asks lists what an output asks of its place.
func (w *wire) asks(o *setup.Output) []Asked {
	list := []Asked{}
	add := func(yes bool, usual bool, format string, args ...any) {
		if yes {
			list = append(list, Asked{fmt.Sprintf(format, args...), usual})
		}
	}
	add(w.mode == "hold" || w.mode == "cut", false, "%s", lossWords[w.mode])
	if w.mode == "preset" {
		add(true, false, "goes to %s on a lost signal", words.SignedShort(*o.Loss.Value))
	}
	add(w.within > 0, false, "answers within %s ms", words.Short(w.within))
	add(w.bits > 0, false, "is told in %s at least", words.Count(w.bits, "bit", "bits"))
	add(w.quick, o.Needs == nil || o.Needs.Quick == nil, "had better be quick")
	add(!w.quick && o.Needs != nil && o.Needs.Quick != nil, false, "may be slow")
	add(w.keepsChannel, false, "stays on its channel")
	add(w.keepsPin, false, "keeps its pins")
	return list
}

// wishes lists what a hand function asks of its control.
func (r *reading) wishes(h *hand) []Asked {
	var said setup.HandAsks
	if h.control < 0 {
		said = r.s.Outputs[h.output].Needs.By.HandAsks
	} else if wish := r.wishOf(h.control); wish != nil {
		said = wish.HandAsks
	}
	list := []Asked{{"moved by " + h.kind.says(), h.control >= 0}}
	add := func(yes, usual bool, says string) {
		if yes {
			list = append(list, Asked{says, usual})
		}
	}
	add(h.asks.Does == "drives", said.Does == "", "drives the model")
	add(h.asks.Does == "works", said.Does == "", "works while the model is driven")
	add(h.asks.Does == "once", false, "is set once and left")
	add(h.thumb, said.Thumb == nil, "lies under a thumb")
	add(h.asks.Side != "", false, "is for the "+h.asks.Side+" hand")
	add(h.stays, false, "stays on its control")
	return list
}

func (r *reading) wishOf(control int) *setup.HandWish {
	if r.s.Plan == nil {
		return nil
	}
	at := slices.IndexFunc(r.s.Plan.Hands, func(h setup.HandWish) bool {
		return r.s.Item(h.Control).Index == control
	})
	if at < 0 {
		return nil
	}
	return &r.s.Plan.Hands[at]
}

// Proposal is a wish that nobody wrote down and that what hangs on an output calls for.
type Proposal struct {
	Of   string `json:"of"`
	Says string `json:"says"` // a sentence without a stop
	Why  string `json:"why"`  // a sentence without a stop
	// what the output is to do on a lost signal
	Mode  string  `json:"mode"`
	Value float64 `json:"value"` // of preset, percent, a position of the servo
	// what it changes in the document
	Patch []edit.Op `json:"patch"`
}

// proposals lists what is to be asked for on a lost signal: what turns stops, what kills an ignition
// does, what pumps or opens does not; then by the kind of craft. It is judged by what the device does,
// not by its number.
func (r *reading) proposals() []Proposal {
	list := []Proposal{}
	for i := range r.wires {
		w := &r.wires[i]
		if w.mode != "" {
			continue
		}
		judged := false
		for _, d := range r.s.Drives(i) {
			safe, says, why, dangerous := r.safe(&r.s.Devices[d])
			if !dangerous {
				continue
			}
			mode := "preset"
			if !r.canPreset() && r.stopsWithoutPulses(w) {
				mode, safe = "cut", 0
			}
			list = append(list, r.proposal(i, mode, safe, r.s.OutputLabel(i)+" "+says+" on a lost signal", why))
			judged = true
			break
		}
		if !judged && r.canPreset() {
			list = append(list, r.byCraft(i)...)
		}
	}
	return list
}

// proposal gives what an output is to be asked for, with what that changes in the document.
func (r *reading) proposal(output int, mode string, value float64, says, why string) Proposal {
	loss := map[string]any{"mode": mode}
	if mode == "preset" {
		loss["value"] = value
	}
	at := fmt.Sprintf("/outputs/%d/", output)
	return Proposal{r.s.PartName(setup.IsOutput.At(output)), says, why, mode, value,
		[]edit.Op{op("test", at+"id", r.s.Outputs[output].ID), op("add", at+"loss", loss)}}
}

func op(op, path string, value any) edit.Op {
	text, err := json.Marshal(value)
	if err != nil {
		panic(err) // an id, or words and a finite number
	}
	raw := json.RawMessage(text)
	return edit.Op{Op: op, Path: path, Value: &raw}
}

// safe gives the position at which a device is safe, what it does there, and why that is to be asked
// for; dangerous is false where nothing is.
func (r *reading) safe(d *setup.Device) (at float64, says, why string, dangerous bool) {
	pulse := &r.s.Transmitter.Pulse
	position := func(us float64) float64 {
		return max(-150, min(150, math.Round(10*pulse.Percent(us))/10))
	}
	if esc, ok := d.Spec.(*setup.Esc); ok {
		return position(esc.LearnedUS.Neutral), "stops",
			"a motor that holds goes on turning, with nobody in command", true
	}
	on := d.OnOff()
	if on == nil {
		return 0, "", "", false
	}
	off := -100.0
	if on.TurnsOn == "below" {
		off = 100
	}
	relay, _ := d.Spec.(*setup.Relay)
	switch {
	case relay != nil && relay.Kills == "on":
		return -off, "kills the ignition", "an engine that holds goes on running, with nobody in command", true
	case relay != nil && relay.Kills == "off":
		return off, "kills the ignition", "an engine that holds goes on running, with nobody in command", true
	case d.Kind == "pump":
		return off, "stops", "a pump that holds goes on pumping, with nobody in command", true
	}
	return 0, "", "", false
}

// canPreset tells whether any pin of the receivers keeps a position.
func (r *reading) canPreset() bool {
	return slices.ContainsFunc(r.pins, func(ref setup.PinRef) bool {
		rx, pin := r.s.Pin(ref)
		return rx.CanOnLoss("preset", pin.Pin)
	})
}

// stopsWithoutPulses tells whether all that hangs on an output stops when no pulses come.
func (r *reading) stopsWithoutPulses(w *wire) bool {
	for _, d := range r.s.Drives(w.output) {
		if on := r.s.Devices[d].OnOff(); on != nil && on.NoPulse != "off" {
			return false
		}
	}
	return true
}
