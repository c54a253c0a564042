package wiring

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// Drawing is the leads as they are drawn: boxes and the lines between them, in points, 384 wide. Who
// feeds is at the left, the receivers in the middle, what hangs on them at the right.
type Drawing struct {
	Width  float64 `json:"width"`
	Height float64 `json:"height"`
	Boxes  []Box   `json:"boxes"`
	Lines  []Line  `json:"lines"`
}

// Box is a battery, a receiver or a device.
type Box struct {
	Kind  string     `json:"kind"` // feed, sense, receiver, device
	Part  string     `json:"part"` // receivers/rx, devices/horn; empty: of the wiring
	At    [4]float64 `json:"at"`   // x, y, width, height
	Lines []string   `json:"lines"`
}

// Line is a lead. What it carries is said in words too, never by its colour alone.
type Line struct {
	Kind string `json:"kind"` // power, lead; back: a lead that feeds power back; sense: one that only tells
	// its bends, x and y of each
	At  []float64 `json:"at"`
	Pin int       `json:"pin"` // at its left end; 0: none
	// the red wire of it is lifted: it carries a signal and no power
	Lifted bool   `json:"lifted"`
	Joint  bool   `json:"joint"` // it passes through the turning joint
	Says   string `json:"says"`  // in words: pin 3 to rudder servo: signal, power and ground

	from, to int // of the boxes
}

const (
	width    = 384.0
	rowHigh  = 46.0
	boxHigh  = 38.0
	lineHigh = 15.0 // of text
	feedWide = 90.0
	between  = 44.0 // a receiver and what hangs on it
	apart    = 22.0 // what feeds a receiver and that
	gap      = 22.0 // two receivers, one below the other
	letter   = 6.6  // the width of one, on average
)

// drawer lays the leads of a setup out.
type drawer struct {
	Drawing
	s              *setup.Setup
	rxLeft, rxWide float64     // where the receivers begin, and how wide they are
	rxBox          []int       // the box of each receiver
	feedBox        map[int]int // the box of a feed of the wiring
	wires          map[int]*setup.Wire
}

// Draw lays the leads of a setup out.
func Draw(s *setup.Setup) Drawing {
	d := &drawer{Drawing: Drawing{Width: width, Boxes: []Box{}, Lines: []Line{}}, s: s, rxLeft: 2, rxWide: 128,
		feedBox: map[int]int{}, wires: map[int]*setup.Wire{}}
	if s.Wiring != nil {
		for i := range s.Wiring.Leads {
			d.wires[s.Item(s.Wiring.Leads[i].Device).Index] = &s.Wiring.Leads[i]
		}
	}
	for r := range s.Receivers {
		if len(d.own(r)) > 0 {
			d.rxLeft, d.rxWide = 2+feedWide+apart, 72
		}
	}
	y := 4.0
	for r := range s.Receivers {
		y = d.receiver(r, y) + gap
	}
	d.Height = max(y-gap+4, 4)
	return d.Drawing
}

// neighbour is what is drawn at the left of a receiver, and the lead from there.
type neighbour struct {
	kind  string // feed, sense
	at    int    // of the wiring; of a sense -1
	lines []string
	says  string
	joint bool
}

// own lists what is drawn at the left of a receiver: what feeds it and is no controller on one of
// its pins, and what tells it the volts of a battery.
func (d *drawer) own(r int) (list []neighbour) {
	rx := d.s.ReceiverLabel(&d.s.Receivers[r])
	for _, f := range Feeds(d.s, r) {
		if f.Device >= 0 && d.s.DevicePin(f.Device).Receiver == r {
			continue
		}
		one := neighbour{kind: "feed", at: f.At, lines: wrapped(f.Label, feedWide), says: f.Label + " feeds " + rx}
		if f.OpenV > 0 {
			one.lines = append(one.lines, strings.TrimSpace(words.Short(cmp.Or(f.spec.Volts, f.OpenV))+" V "+
				ahWords(f.spec.AH)))
		}
		if f.legs != nil {
			one.says += " by one leg of a Y lead"
			if len(f.legs) == 2 {
				one.says = f.Label + " feeds " + rx + " by both legs of a Y lead"
			}
		}
		if f.spec.Switched {
			one.says += ", behind a switch"
			one.lines = append(one.lines, "switched")
		}
		one.joint = f.spec.Joint == "lead" || f.spec.Joint == "leg" && slices.ContainsFunc(f.legs,
			func(l leg) bool { return l.other })
		if one.joint {
			one.says += ", through the turning joint"
		}
		list = append(list, one)
	}
	if d.s.Wiring == nil {
		return list
	}
	for _, sense := range d.s.Wiring.Senses {
		if d.s.Item(sense.Into).Index == r {
			name := cmp.Or(sense.Label, "a battery")
			list = append(list, neighbour{"sense", -1, append(wrapped(name, feedWide), "tells volts"),
				name + " tells " + rx + " its volts; it feeds nothing", false})
		}
	}
	return list
}

// wrapped breaks a text into lines that fit into a box of a width.
func wrapped(text string, wide float64) (lines []string) {
	for _, word := range strings.Fields(text) {
		last := len(lines) - 1
		if last >= 0 && float64(len([]rune(lines[last]+" "+word)))*letter <= wide-12 {
			lines[last] += " " + word
			continue
		}
		lines = append(lines, word)
	}
	return lines
}

// clipped cuts a text to what fits into a box of a width.
func clipped(text string, wide float64) string {
	letters, most := []rune(text), int((wide-12)/letter)
	if len(letters) <= most {
		return text
	}
	return string(letters[:most-1]) + "…"
}

// receiver draws one receiver from y down, and gives where it ends.
func (d *drawer) receiver(r int, y float64) float64 {
	rx := &d.s.Receivers[r]
	box := len(d.Boxes)
	d.rxBox = append(d.rxBox, box)
	label := wrapped(d.s.ReceiverLabel(rx), d.rxWide)
	d.Boxes = append(d.Boxes, Box{"receiver", "receivers/" + string(rx.ID), [4]float64{d.rxLeft, y, d.rxWide, 0},
		label})
	top := y + 5 + lineHigh*float64(len(label))
	at := top
	for p := range rx.Pins {
		ref := setup.PinRef{Receiver: r, Pin: p}
		for _, dev := range d.s.Leads(ref) {
			d.device(dev, &rx.Pins[p], box, at)
			at += rowHigh
		}
		for _, dev := range d.s.Swapped(ref) {
			d.swap(dev, &rx.Pins[p], box, at)
			at += rowHigh
		}
	}
	end, at := at, top
	for _, one := range d.own(r) {
		if from, drawn := d.feedBox[one.at]; drawn && one.kind == "feed" {
			d.forked(from, box, y, one)
			continue
		}
		from := len(d.Boxes)
		if one.kind == "feed" {
			d.feedBox[one.at] = from
		}
		d.Boxes = append(d.Boxes, Box{one.kind, "", [4]float64{2, at, feedWide, max(boxHigh,
			8+lineHigh*float64(len(one.lines)))}, one.lines})
		kind := map[string]string{"feed": "power", "sense": "sense"}[one.kind]
		mid := at + boxHigh/2
		d.Lines = append(d.Lines, Line{Kind: kind, At: []float64{2 + feedWide, mid, d.rxLeft, mid},
			Joint: one.joint, Says: one.says, from: from, to: box})
		at += d.Boxes[from].At[3] + rowHigh - boxHigh
	}
	high := max(end, at, top+rowHigh) - y
	d.Boxes[box].At[3] = high
	return y + high
}

// forked draws the other leg of a lead that is a Y, from its feed to another receiver below.
func (d *drawer) forked(from, to int, y float64, one neighbour) {
	of := d.Boxes[from].At
	x, mid := d.rxLeft-apart/2, of[1]+of[3]-lineHigh/2
	d.Lines = append(d.Lines, Line{Kind: "power", At: []float64{of[0] + of[2], mid, x, mid, x, y + 10,
		d.rxLeft, y + 10},
		Joint: one.joint, Says: one.says, from: from, to: to})
}

func ahWords(ah float64) string {
	if ah == 0 {
		return ""
	}
	return words.Short(ah) + " Ah"
}

// lead starts the line from a pin to what hangs on it, and gives where that box stands.
func (d *drawer) lead(pin *setup.Pin, from int, y float64) (Line, [4]float64) {
	left := d.rxLeft + d.rxWide
	return Line{Kind: "lead", At: []float64{left, y + boxHigh/2, left + between, y + boxHigh/2}, Pin: pin.Pin,
		from: from, to: len(d.Boxes)}, [4]float64{left + between, y, width - left - between - 2, boxHigh}
}

// device draws what hangs on a pin, with its lead.
func (d *drawer) device(dev int, pin *setup.Pin, from int, y float64) {
	v := &d.s.Devices[dev]
	name := d.s.DeviceLabel(dev)
	says := []string{name}
	line, at := d.lead(pin, from, y)
	line.Says = fmt.Sprintf("pin %d to %s: signal, power and ground", pin.Pin, name)
	esc, motor := v.Spec.(*setup.Esc)
	switch {
	case motor && esc.RedLifted:
		line.Lifted = true
		line.Says = fmt.Sprintf("pin %d to %s: signal and ground, its red wire is lifted", pin.Pin, name)
		says = append(says, "red lifted")
	case motor && esc.FeedsA > 0:
		line.Kind = "back"
		line.Says = fmt.Sprintf("pin %d to %s: signal, and it feeds power back", pin.Pin, name)
		says = append(says, "feeds "+words.Short(esc.FeedsA)+" A")
	case pin.Switch != nil:
		short, long := levelWords(pin.Switch)
		line.Says = fmt.Sprintf("pin %d to %s: on or off, %s", pin.Pin, name, long)
		says = append(says, short)
	case v.DrawsA != nil && v.DrawsA.Rest > 0:
		says = append(says, words.Short(v.DrawsA.Rest)+" to "+words.Short(v.DrawsA.Most)+" A")
	case v.DrawsA != nil:
		says = append(says, words.Short(v.DrawsA.Most)+" A at most")
	}
	if wire := d.wires[dev]; wire != nil {
		if wire.Joint != "" {
			line.Joint = true
			line.Says += map[string]string{"lead": ", through the turning joint",
				"motor": "; the wires of its motor pass through the turning joint"}[wire.Joint]
		}
		if wire.Crossed {
			line.Says += "; red and black are exchanged in it: do not plug it in"
			says = append(says[:1], "red and black exchanged")
		}
	}
	d.Boxes = append(d.Boxes, Box{"device", "devices/" + string(v.ID), at, says})
	d.Lines = append(d.Lines, line)
}

// levelWords says what an on/off pin puts out, short and in full: what it lights lies between it and
// ground where it is high while it is on, else between power and it.
func levelWords(sw *setup.SwitchPin) (short, long string) {
	if sw.Level == "low" {
		return "0 V while on", "0 V while it is on: what it switches lies between power and the pin"
	}
	volts := "high"
	if sw.Volts > 0 {
		volts = words.Short(sw.Volts) + " V"
	}
	return volts + " while on", volts + " while it is on: what it switches lies between the pin and ground"
}

// swap draws the second lead of a controller, which turns its motor the other way.
func (d *drawer) swap(dev int, pin *setup.Pin, from int, y float64) {
	v := &d.s.Devices[dev]
	line, at := d.lead(pin, from, y)
	line.Says = fmt.Sprintf("pin %d to the second lead of %s: a signal only, it turns the motor the other "+
		"way; move it "+
		"only near rest, and count on less thrust", pin.Pin, d.s.DeviceLabel(dev))
	d.Boxes = append(d.Boxes, Box{"device", "devices/" + string(v.ID), at,
		[]string{d.s.DeviceLabel(dev), "the other way: near rest"}})
	d.Lines = append(d.Lines, line)
}

// DOT gives the leads as a graph in the language of that name, for any program that lays graphs out.
func DOT(s *setup.Setup) string {
	var b strings.Builder
	b.WriteString("digraph leads {\n  rankdir=LR;\n  node [shape=box];\n")
	d := Draw(s)
	for i, box := range d.Boxes {
		fmt.Fprintf(&b, "  n%d [label=%q];\n", i, strings.Join(box.Lines, "\n"))
	}
	for _, line := range d.Lines {
		style := map[string]string{"power": ", penwidth=3", "back": ", penwidth=3",
			"sense": ", style=dashed"}[line.Kind]
		fmt.Fprintf(&b, "  n%d -> n%d [label=%q%s];\n", line.from, line.to, line.Says, style)
	}
	b.WriteString("}\n")
	return b.String()
}

// SVG gives the leads as a picture in a file of its own, in black on white.
func SVG(s *setup.Setup) string {
	d := Draw(s)
	var b strings.Builder
	fmt.Fprintf(&b, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %g %g" font-family="sans-serif" `+
		`font-size="13" stroke="black" fill="none">`+"\n", d.Width, d.Height)
	text := func(x, y float64, anchor, says string) {
		fmt.Fprintf(&b, `<text x="%g" y="%g" text-anchor="%s" stroke="none" fill="black">%s</text>`+"\n", x, y,
			anchor, escaped(says))
	}
	for _, box := range d.Boxes {
		fmt.Fprintf(&b, `<rect x="%g" y="%g" width="%g" height="%g" rx="3"/>`+"\n", box.At[0], box.At[1], box.At[2],
			box.At[3])
		for n, says := range box.Lines {
			text(box.At[0]+7, box.At[1]+lineHigh*float64(n+1), "start", clipped(says, box.At[2]))
		}
	}
	for _, line := range d.Lines {
		points := strings.Trim(fmt.Sprint(line.At), "[]")
		fmt.Fprintf(&b, `<polyline points="%s" %s><title>%s</title></polyline>`+"\n", points, strokes[line.Kind],
			escaped(line.Says))
		if line.Pin > 0 {
			text(line.At[0]-7, line.At[1]+4, "end", fmt.Sprint(line.Pin))
		}
		if line.Joint {
			fmt.Fprintf(&b, `<circle cx="%g" cy="%g" r="5" fill="white" stroke-width="1.5"/>`+"\n",
				line.At[0]+10, line.At[1])
		}
		if line.Lifted {
			fmt.Fprintf(&b, `<path d="M %g %g l 12 12 m 0 -12 l -12 12" stroke-width="2.5"/>`+"\n",
				(line.At[0]+line.At[2])/2-6, line.At[1]-6)
		}
	}
	b.WriteString("</svg>\n")
	return b.String()
}

// strokes are how leads are drawn: what brings power is thick, what only tells something is broken.
var strokes = map[string]string{"lead": `stroke-width="1.5"`, "power": `stroke-width="4"`,
	"back": `stroke-width="4"`, "sense": `stroke-width="1.5" stroke-dasharray="5 4"`}

// escaped writes a text as XML has it.
func escaped(text string) string {
	return strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;", `"`, "&quot;").Replace(text)
}
