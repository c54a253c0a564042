package diagnose

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/travel"
	"axtren/core/words"
)

// afterS is how long after the hands have moved a person looks, seconds.
const afterS = 3

// enough is the value from which on a device counts as moving one way, percent.
const enough = 5

// What a device is seen to do.
const (
	plus  = "plus"
	minus = "minus"
	still = "still"
)

// Look is one thing that was tried: where the hands were put from rest, and what was seen 3 s later. What
// is left out was not looked at.
type Look struct {
	Hands   map[string]any     `json:"hands"`   // of an axis percent, of a switch its position
	Display map[string]float64 `json:"display"` // by transmitter channel, percent
	Seen    map[string]string  `json:"seen"`    // by device: plus, minus, still, on, off, step 2
}

// Looks are limited: more than these nobody writes down.
const (
	mostLooks = 200
	mostBytes = 1 << 20
)

// ReadLooks reads looks from JSON. The error is setup.Problems.
func ReadLooks(r io.Reader) ([]Look, error) {
	text, err := io.ReadAll(io.LimitReader(r, mostBytes+1))
	if err != nil {
		return nil, err
	}
	if len(text) > mostBytes {
		return nil, setup.Refused("", "", "is more than 1 MiB", "write down the looks of one model alone")
	}
	d := json.NewDecoder(bytes.NewReader(text))
	d.DisallowUnknownFields()
	looks := []Look{}
	if err := d.Decode(&looks); err != nil {
		return nil, setup.Refused("", "", "is no list of looks: "+err.Error(),
			"write [{\"hands\": {\"stick\": 100}, "+
				"\"display\": {\"1\": 94}, \"seen\": {\"port\": \"plus\"}}]")
	}
	if _, err := d.Token(); err != io.EOF {
		return nil, setup.Refused("", "", "goes on after the list", "write one list of looks")
	}
	return looks, nil
}

// seen is one thing that was looked at: the display of a channel, or a device.
type seen struct {
	look            int
	channel, device int // of the two one; the other 0 and -1
	want            string
}

// trial is a look as it is played.
type trial struct {
	hands signal.Hands
	seen  []seen
	first int // the place of its first among all that was seen
}

// trials reads looks against a setup. The error is setup.Problems: all of them.
func trials(p *signal.Program, looks []Look) ([]trial, error) {
	if len(looks) > mostLooks {
		return nil, setup.Refused("", fmt.Sprint(len(looks)), "is more looks than are taken", fmt.Sprintf("give "+
			"%d at most", mostLooks))
	}
	var problems setup.Problems
	s := p.Setup()
	list := make([]trial, len(looks))
	for n, look := range looks {
		list[n].hands = p.Rest()
		at := fmt.Sprintf("[%d]", n)
		fail := func(path, value, message, remedy string) {
			problems = append(problems, setup.Problem{Path: at + path, Value: value, Message: message, Remedy: remedy})
		}
		for _, id := range slices.Sorted(maps.Keys(look.Hands)) {
			text := handText(look.Hands[id])
			hand, known := p.Hand(id)
			v, err := 0.0, error(nil)
			if known {
				v, err = p.HandValue(id, text)
			}
			switch {
			case !known:
				fail(".hands."+id, text, "there is no such control", "use the id of a control of the setup")
			case err != nil:
				fail(".hands."+id, text, err.Error(), "write -100 to 100 for an axis, a position's name for a switch")
			default:
				list[n].hands[hand] = v
			}
		}
		for _, channel := range slices.Sorted(maps.Keys(look.Display)) {
			c, err := strconv.Atoi(channel)
			if err != nil || s.OutputOn(c) < 0 {
				fail(".display."+channel, "", "no function is on such a channel", "use the number of one "+
					"that an output is on")
				continue
			}
			list[n].seen = append(list[n].seen, seen{n, c, -1, whole(look.Display[channel])})
		}
		for _, id := range slices.Sorted(maps.Keys(look.Seen)) {
			item := s.Item(setup.ID(id))
			if item.Kind != setup.IsDevice {
				fail(".seen."+id, look.Seen[id], "there is no such device", "use the id of a device of the setup")
				continue
			}
			if says := sayings(&s.Devices[item.Index]); !slices.Contains(says, look.Seen[id]) {
				fail(".seen."+id, look.Seen[id], "is nothing that this device does", "use "+strings.Join(says, ", "))
				continue
			}
			list[n].seen = append(list[n].seen, seen{n, 0, item.Index, look.Seen[id]})
		}
	}
	if problems != nil {
		return nil, problems
	}
	return list, nil
}

// handText writes a hand of a look as scripts have it.
func handText(v any) string {
	if v, ok := v.(float64); ok {
		return strconv.FormatFloat(v, 'g', -1, 64)
	}
	return fmt.Sprint(v)
}

// sayings lists what a device can be seen to do.
func sayings(d *setup.Device) []string {
	if d.OnOff() != nil {
		return []string{"on", "off"}
	}
	if box, ok := d.Spec.(*setup.StepBox); ok {
		var list []string
		for step := 1; step <= box.Steps; step++ {
			list = append(list, fmt.Sprintf("step %d", step))
		}
		return list
	}
	return []string{plus, minus, still}
}

// Nearest gives a position as a display counts it, to the nearest whole, half away from zero.
func Nearest(v float64) float64 {
	near := math.Floor(math.Abs(v) + 0.5 + 1e-9)
	if v < 0 && near > 0 {
		near = -near
	}
	return near
}

// whole writes a position as a display does.
func whole(v float64) string { return words.Short(Nearest(v)) }

// Held gives the moment in which a person looks at what hands do that were put somewhere, from power-on.
func Held(p *signal.Program, hands signal.Hands) *signal.State { return played(p, hands) }

// played plays the hands of a trial from power-on to the moment in which a person looks: in the first
// frame all is at rest, in the second the hands are where they were put, and it is so long after that.
func played(p *signal.Program, hands signal.Hands) *signal.State {
	st := p.PowerOn()
	p.Step(st, p.Rest())
	frame := float64(p.Setup().Transmitter.FrameMS)
	for range 1 + int(math.Ceil(afterS*1000/frame-1e-9)) {
		p.Step(st, hands)
	}
	return st
}

// displayScale is that of the transmitter's own display.
func displayScale(s *setup.Setup, channel int) setup.Scale {
	return travel.ScaleIn(s, func(of *setup.Scales) *setup.Menu { return of.Display }, channel, "percent")
}

// figure writes a position as a display does: in percent, or as this transmitter's own display counts.
func (w *world) figure(channel int, percent float64) string {
	if w.scaled {
		percent = travel.Figure(displayScale(w.s, channel), percent, &w.s.Transmitter.Pulse)
	}
	return whole(percent)
}

// ReadingOff is how far a figure that a person reads on a display may be from what is sent, in what the
// display counts in (our choice: it may cut where we round).
const ReadingOff = 1

// fits tells whether what is seen in a world is what was seen.
func fits(w *world, st *signal.State, of *seen) bool {
	is := shows(w, st, of.channel, of.device)
	if of.device >= 0 || !w.scaled {
		return is == of.want
	}
	a, _ := words.Number(is)
	b, _ := words.Number(of.want)
	return math.Abs(a-b) <= ReadingOff
}

// shows tells what the display of a channel shows in a world, or, where there is one, what a device does.
func shows(w *world, st *signal.State, channel, device int) string {
	if device < 0 {
		if i := w.s.OutputOn(channel); i >= 0 {
			return w.figure(channel, st.V[w.p.Routes[i].P])
		}
		return w.figure(channel, 0) // nothing is keyed in there
	}
	route := &w.p.Devices[device]
	value, known := 0.0, route.Value != signal.None && (route.Known == signal.None || st.V[route.Known] != 0)
	if known {
		value = st.V[route.Value]
	}
	if w.turn[device] {
		value = -value
	}
	return says(&w.s.Devices[device], value)
}

func says(d *setup.Device, value float64) string {
	switch {
	case d.OnOff() != nil && value > 0:
		return "on"
	case d.OnOff() != nil:
		return "off"
	}
	if _, box := d.Spec.(*setup.StepBox); box {
		return fmt.Sprintf("step %d", int(value))
	}
	switch {
	case value > enough:
		return plus
	case value < -enough:
		return minus
	}
	return still
}
