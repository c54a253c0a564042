package wiring

import (
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

	rxLeft, rxWide float64 // where the receivers begin, and how wide they are
}

// Box is a battery, a receiver or a device.
type Box struct {
	Kind  string     `json:"kind"` // feed, receiver, device
	Part  string     `json:"part"` // receivers/rx, devices/horn; empty: of the wiring
	At    [4]float64 `json:"at"`   // x, y, width, height
	Lines []string   `json:"lines"`
}

// Line is a lead. What it carries is said in words too, never by its colour alone.
type Line struct {
	Kind string     `json:"kind"` // power, lead; back: a lead that feeds power back
	At   [4]float64 `json:"at"`   // from x, y to x, y
	Pin  int        `json:"pin"`  // at its left end; 0: none
	// the red wire of it is lifted: it carries a signal and no power
	Lifted bool   `json:"lifted"`
	Says   string `json:"says"` // in words: pin 3 to rudder servo: signal, power and ground
}

const (
	width    = 384.0
	rowHigh  = 46.0
	boxHigh  = 38.0
	feedWide = 98.0
	between  = 48.0 // a receiver and what hangs on it
	apart    = 26.0 // what feeds a receiver and that
	gap      = 22.0 // two receivers, one below the other
)

// Draw lays the leads of a setup out.
func Draw(s *setup.Setup) Drawing {
	d := Drawing{Width: width, Boxes: []Box{}, Lines: []Line{}, rxLeft: 2, rxWide: 128}
	for r := range s.Receivers {
		if slices.ContainsFunc(Feeds(s, r), func(f Feed) bool { return f.Device < 0 }) {
			d.rxLeft, d.rxWide = 2+feedWide+apart, 84
		}
	}
	y := 4.0
	for r := range s.Receivers {
		y = d.receiver(s, r, y) + gap
	}
	d.Height = max(y-gap+4, 4)
	return d
}

// receiver draws one receiver from y down, and gives where it ends.
func (d *Drawing) receiver(s *setup.Setup, r int, y float64) float64 {
	rx := &s.Receivers[r]
	rows := 0
	for p := range rx.Pins {
		leads := s.Leads(setup.PinRef{Receiver: r, Pin: p})
		rows += len(leads)
	}
	feeds := Feeds(s, r)
	own := 0
	for _, f := range feeds {
		if f.Device < 0 {
			own++
		}
	}
	high := rowHigh*float64(max(rows, own, 1)) + 20
	d.Boxes = append(d.Boxes, Box{"receiver", "receivers/" + string(rx.ID),
		[4]float64{d.rxLeft, y, d.rxWide, high}, []string{s.ReceiverLabel(rx)}})
	at := y + 20
	for p := range rx.Pins {
		for _, dev := range s.Leads(setup.PinRef{Receiver: r, Pin: p}) {
			d.device(s, dev, rx.Pins[p].Pin, at)
			at += rowHigh
		}
	}
	at = y + 20
	for _, f := range feeds {
		if f.Device >= 0 {
			continue
		}
		says := []string{f.Label}
		if f.OpenV > 0 {
			says = append(says, words.Short(f.spec.Volts)+" V "+ahWords(f.spec.AH))
		}
		d.Boxes = append(d.Boxes, Box{"feed", "", [4]float64{2, at, feedWide, boxHigh}, says})
		d.Lines = append(d.Lines, Line{Kind: "power", At: [4]float64{2 + feedWide, at + boxHigh/2, d.rxLeft,
			at + boxHigh/2}, Says: f.Label + " feeds " + s.ReceiverLabel(rx)})
		at += rowHigh
	}
	return y + high
}

func ahWords(ah float64) string {
	if ah == 0 {
		return ""
	}
	return words.Short(ah) + " Ah"
}

// device draws what hangs on a pin, with its lead.
func (d *Drawing) device(s *setup.Setup, dev, pin int, y float64) {
	v := &s.Devices[dev]
	says := []string{s.DeviceLabel(dev)}
	left := d.rxLeft + d.rxWide
	line := Line{Kind: "lead", At: [4]float64{left, y + boxHigh/2, left + between, y + boxHigh/2}, Pin: pin,
		Says: fmt.Sprintf("pin %d to %s: signal, power and ground", pin, s.DeviceLabel(dev))}
	esc, motor := v.Spec.(*setup.Esc)
	switch {
	case motor && esc.RedLifted:
		line.Lifted = true
		line.Says = fmt.Sprintf("pin %d to %s: signal and ground, its red wire is lifted", pin, s.DeviceLabel(dev))
		says = append(says, "red lifted")
	case motor && esc.FeedsA > 0:
		line.Kind = "back"
		line.Says = fmt.Sprintf("pin %d to %s: signal, and it feeds power back", pin, s.DeviceLabel(dev))
		says = append(says, "feeds "+words.Short(esc.FeedsA)+" A")
	case v.DrawsA != nil && v.DrawsA.Rest > 0:
		says = append(says, words.Short(v.DrawsA.Rest)+" to "+words.Short(v.DrawsA.Most)+" A")
	case v.DrawsA != nil:
		says = append(says, words.Short(v.DrawsA.Most)+" A at most")
	}
	d.Boxes = append(d.Boxes, Box{"device", "devices/" + string(v.ID), [4]float64{left + between, y,
		width - left - between - 2, boxHigh}, says})
	d.Lines = append(d.Lines, line)
}

// DOT gives the leads as a graph in the language of that name, for any program that lays graphs out.
func DOT(s *setup.Setup) string {
	var b strings.Builder
	b.WriteString("digraph leads {\n  rankdir=LR;\n  node [shape=box];\n")
	d := Draw(s)
	names := map[string]string{}
	for i, box := range d.Boxes {
		names[box.Part] = fmt.Sprintf("n%d", i)
		fmt.Fprintf(&b, "  n%d [label=%q];\n", i, strings.Join(box.Lines, "\n"))
	}
	at, receiver := 0, ""
	for i, box := range d.Boxes {
		switch box.Kind {
		case "receiver":
			receiver = fmt.Sprintf("n%d", i)
		case "device":
			for ; at < len(d.Lines) && d.Lines[at].Kind == "power"; at++ {
				continue
			}
			fmt.Fprintf(&b, "  %s -> n%d [label=%q];\n", receiver, i, d.Lines[at].Says)
			at++
		case "feed":
			fmt.Fprintf(&b, "  n%d -> %s [label=\"power\", penwidth=3];\n", i, receiver)
		}
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
			text(box.At[0]+7, box.At[1]+15+15*float64(n), "start", says)
		}
	}
	for _, line := range d.Lines {
		wide := 1.5
		if line.Kind != "lead" {
			wide = 4
		}
		fmt.Fprintf(&b, `<line x1="%g" y1="%g" x2="%g" y2="%g" stroke-width="%g"><title>%s</title></line>`+"\n",
			line.At[0], line.At[1], line.At[2], line.At[3], wide, escaped(line.Says))
		if line.Pin > 0 {
			text(line.At[0]-7, line.At[1]+4, "end", fmt.Sprint(line.Pin))
		}
		if line.Lifted {
			fmt.Fprintf(&b, `<path d="M %g %g l 12 12 m 0 -12 l -12 12" stroke-width="2.5"/>`+"\n",
				(line.At[0]+line.At[2])/2-6, line.At[1]-6)
		}
	}
	b.WriteString("</svg>\n")
	return b.String()
}

// escaped writes a text as XML has it.
func escaped(text string) string {
	return strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;", `"`, "&quot;").Replace(text)
}
