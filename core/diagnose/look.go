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
		return nil, wrong("", "is more than 1 MiB", "write down the looks of one model alone")
	}
	d := json.NewDecoder(bytes.NewReader(text))
	d.DisallowUnknownFields()
	looks := []Look{}
	if err := d.Decode(&looks); err != nil {
		return nil, wrong("", "is no list of looks: "+err.Error(), "write [{\"hands\": {\"stick\": 100}, "+
			"\"display\": {\"1\": 94}, \"seen\": {\"port\": \"plus\"}}]")
	}
	if _, err := d.Token(); err != io.EOF {
		return nil, wrong("", "goes on after the list", "write one list of looks")
	}
	if len(looks) > mostLooks {
		return nil, wrong(fmt.Sprint(len(looks)), "is more looks than are taken", fmt.Sprintf("give "+
			"%d at most", mostLooks))
	}
	return looks, nil
}

func wrong(value, message, remedy string) error {
	return setup.Problems{{Value: value, Message: message, Remedy: remedy}}
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
}

// trials reads looks against a setup. The error is setup.Problems: all of them.
func trials(p *signal.Program, looks []Look) ([]trial, error) {
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
			text := fmt.Sprint(look.Hands[id])
			if v, ok := look.Hands[id].(float64); ok {
				text = strconv.FormatFloat(v, 'g', -1, 64)
			}
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

// whole writes a position as a display does, to the nearest whole, half away from zero.
func whole(v float64) string {
	near := math.Floor(math.Abs(v) + 0.5 + 1e-9)
	if v < 0 && near > 0 {
		near = -near
	}
	return words.Short(near)
}

// view is a moment in which a person looks: what every display and every device shows.
type view struct {
	channels map[int]string
	devices  []string
}

// shows tells what was looked at shows.
func (v *view) shows(of *seen) string {
	if of.device >= 0 {
		return v.devices[of.device]
	}
	return v.channels[of.channel]
}

// played plays the hands of a trial from power-on: in the first frame all is at rest, in the second the
// hands are where they were put, and so long after that a person looks.
func played(p *signal.Program, hands signal.Hands, crossedOver map[int]bool) view {
	s := p.Setup()
	st := p.PowerOn()
	p.Step(st, p.Rest())
	frame := float64(s.Transmitter.FrameMS)
	for range 1 + int(math.Ceil(afterS*1000/frame-1e-9)) {
		p.Step(st, hands)
	}
	v := view{channels: make(map[int]string, len(s.Outputs)), devices: make([]string, len(s.Devices))}
	for i := range s.Outputs {
		v.channels[s.Outputs[i].Channel] = whole(st.V[p.Routes[i].P])
	}
	for i := range s.Devices {
		route := &p.Devices[i]
		value, known := 0.0, route.Value != signal.None && (route.Known == signal.None || st.V[route.Known] != 0)
		if known {
			value = st.V[route.Value]
		}
		if crossedOver[i] {
			value = -value
		}
		v.devices[i] = says(&s.Devices[i], value)
	}
	return v
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
