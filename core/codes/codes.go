// Package codes turns what the pins of a receiver are to send into the flashes that are counted into
// it, level by level, by the chart of the receiver.
package codes

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// Walk is how the pins of one receiver are set.
type Walk struct {
	Part     string   `json:"part"`     // receivers/rx
	Receiver string   `json:"receiver"` // its label
	Chart    string   `json:"chart"`    // what it is called; empty: it has none
	Text     string   `json:"text"`     // the chart as a document of its own; empty: it has none
	OnOff    bool     `json:"on_off"`   // one of its pins is on or off
	Before   []string `json:"before"`   // what is done first, sentences
	After    []string `json:"after"`    // what is done once all is counted
	Holes    []string `json:"holes"`    // what the chart does not tell, sentences
	Pins     []Pin    `json:"pins"`
	Open     int      `json:"open"` // pins that are still to be set
}

// Pin is one pin, what it is to send, and its levels.
type Pin struct {
	Pin     int      `json:"pin"`
	Hangs   string   `json:"hangs"`   // what is plugged in; empty: nothing
	Wish    string   `json:"wish"`    // by the key of a choice
	Says    string   `json:"says"`    // in words
	Choices []Choice `json:"choices"` // in a few words
	Refused string   `json:"refused"` // that the chart has it not, and what it has; empty: it has
	Levels  []Level  `json:"levels"`  // that concern it; none where the chart has it not
	Open    bool     `json:"open"`    // it is to be set
	Test    string   `json:"test"`    // how its lamp test goes; empty: it sends pulses
	Steady  string   `json:"steady"`  // yes, no; empty: not tried
	Flicker string   `json:"flicker"` // what a lamp that flickers tells
}

// Choice is what a pin can be told to send.
type Choice struct {
	Key  string `json:"key"`
	Says string `json:"says"`
}

// Level is one level for one pin.
type Level struct {
	Level   int    `json:"level"` // of the chart, from 1
	At      int    `json:"at"`    // among those that concern the pin, from 0
	Says    string `json:"says"`  // what is chosen
	Want    int    `json:"want"`  // flashes
	Means   string `json:"means"`
	Written int    `json:"written"` // 0: not on record
	From    []From `json:"from"`    // what to do, by what is there
}

// From is what to do where so many flashes are there.
type From struct {
	Code int    `json:"code"`
	Says string `json:"says"`
	Do   string `json:"do"`
}

// wish is what a pin is to send: nil is servo pulses.
type wish = *setup.SwitchPin

// meets tells whether a value asks for nothing else than is wished for a pin.
func meets(v *setup.Counted, pin int, w wish) bool {
	if v.Pin > 0 && v.Pin != pin || v.Sends != "" && (v.Sends == "switch") != (w != nil) {
		return false
	}
	if w == nil {
		return true // the rest is of no account while it sends pulses
	}
	return (v.On == "" || v.On == w.On) && (v.Level == "" || v.Level == w.Level) &&
		(v.AtUS == 0 || v.AtUS == w.AtUS)
}

// concerns lists the levels of a chart that concern a pin.
func concerns(c *setup.Chart, pin int) (list []int) {
	for i, level := range c.Levels {
		if level.Pin == 0 || level.Pin == pin {
			list = append(list, i)
		}
	}
	return list
}

// find gives the code of a level for a wish: that which is written where it does, else the least; 0
// where the level has none.
func find(level *setup.Rank, pin int, w wish, written int) int {
	found := 0
	for i := range level.Values {
		v := &level.Values[i]
		if meets(v, pin, w) && (found == 0 || v.Code == written || v.Code < found && found != written) {
			found = v.Code
		}
	}
	return found
}

// sets tells whether the levels that concern a pin choose between pulses and on or off at all.
func sets(c *setup.Chart, at []int) bool {
	return slices.ContainsFunc(at, func(i int) bool {
		return slices.ContainsFunc(c.Levels[i].Values, func(v setup.Counted) bool { return v.Sends != "" })
	})
}

// codesOf gives the codes of a wish, one for each level that concerns the pin; missing is the first
// level that has none, -1 for none, and len(at) where the chart does not set the pin at all.
func codesOf(c *setup.Chart, pin int, w wish, written []int) (at, codes []int, missing int) {
	at = concerns(c, pin)
	if !sets(c, at) {
		return at, nil, len(at)
	}
	for k, i := range at {
		was := 0
		if k < len(written) {
			was = written[k]
		}
		code := find(&c.Levels[i], pin, w, was)
		if code == 0 {
			return at, nil, k
		}
		codes = append(codes, code)
	}
	return at, codes, -1
}

// refuses tells whether a chart has nothing for a wish. A pin that it does not set sends pulses anyway.
func refuses(w wish, at []int, missing int) bool {
	return missing >= 0 && (w != nil || missing < len(at))
}

// Of gives how the pins of every receiver are set.
func Of(doc *setup.Document) []Walk {
	list, room := []Walk{}, mostWays
	for r := range doc.Setup.Receivers {
		list = append(list, walk(doc, r, &room))
	}
	return list
}

// mostWays bounds how many ways from what is there to what is wanted are told for one setup; beyond it
// only what is wanted is.
const mostWays = 20_000

func walk(doc *setup.Document, r int, room *int) Walk {
	s := doc.Setup
	rx := &s.Receivers[r]
	w := Walk{OnOff: slices.ContainsFunc(rx.Pins, func(p setup.Pin) bool { return p.Switch != nil }),
		Part: "receivers/" + string(rx.ID), Receiver: s.ReceiverLabel(rx), Before: []string{}, After: []string{},
		Holes: []string{}, Pins: []Pin{}}
	c := rx.Chart
	if c == nil {
		return w
	}
	w.Chart = cmp.Or(c.Label, "a chart of your own")
	w.Text = string(doc.Tree.At("receivers", strconv.Itoa(r), "chart").YAML())
	w.Holes = append(w.Holes, holes(c)...)
	for p := range rx.Pins {
		pin := pinOf(s, setup.PinRef{Receiver: r, Pin: p}, room)
		if pin.Open {
			w.Open++
		}
		w.Pins = append(w.Pins, pin)
	}
	w.Before = append(w.Before, "Pull every plug out of "+w.Receiver+" but that of what feeds it, until all "+
		"pins are set: a pin that is not set yet sends what it sent before to whatever hangs there.")
	if c.Enters != "" {
		w.Before = append(w.Before, sentence("To begin, "+c.Enters))
	}
	w.Before = append(w.Before, "Count the flashes up to the pause; count them twice.")
	if c.Next != "" {
		w.Before = append(w.Before, sentence("To go on to the next level, "+c.Next))
	}
	if c.Keeps != "" {
		w.After = append(w.After, sentence("To keep it, "+c.Keeps))
	} else {
		w.After = append(w.After, "Switch off only after the last press: it is what keeps what was counted.")
	}
	w.After = append(w.After, "Then plug a lamp into each pin that is on or off, before its load: switched by "+
		"hand, it has to be fully on, or fully off.")
	return w
}

func sentence(text string) string { return strings.TrimRight(strings.TrimSpace(text), ".") + "." }

// judged is how one pin of a receiver that has a chart stands.
type judged struct {
	rx      *setup.Receiver
	spec    *setup.Pin
	note    *setup.PinCode
	at      []int // the levels that concern it
	codes   []int // of each; nil where the chart has it not
	refused bool
	missing int // the first level without a code
}

func judge(s *setup.Setup, ref setup.PinRef) judged {
	rx, spec := s.Pin(ref)
	j := judged{rx: rx, spec: spec, note: noteOf(rx, spec.Pin)}
	j.at, j.codes, j.missing = codesOf(rx.Chart, spec.Pin, spec.Switch, j.note.Written)
	j.refused = refuses(spec.Switch, j.at, j.missing)
	return j
}

// open tells whether the pin is to be set. One that nobody has set sends pulses, as it came.
func (j *judged) open() bool {
	for k, code := range j.codes {
		if j.written(k) != code && (j.spec.Switch != nil || len(j.note.Written) > 0) {
			return true
		}
	}
	return false
}

func (j *judged) written(k int) int {
	if k < len(j.note.Written) {
		return j.note.Written[k]
	}
	return 0
}

// pinOf gives one pin of a receiver that has a chart; room is how many ways from what is there may still
// be told.
func pinOf(s *setup.Setup, ref setup.PinRef, room *int) Pin {
	j := judge(s, ref)
	c := j.rx.Chart
	p := Pin{Pin: j.spec.Pin, Wish: key(j.spec.Switch), Says: Says(s, ref, j.spec.Switch),
		Levels: []Level{}, Open: j.open()}
	var names []string
	for _, d := range s.Leads(ref) {
		names = append(names, s.DeviceLabel(d))
	}
	p.Hangs = words.And(names)
	if j.refused {
		p.Refused = refusal(s, ref, c, j.at, j.missing)
	}
	for k, code := range j.codes {
		level := &c.Levels[j.at[k]]
		one := Level{Level: j.at[k] + 1, At: k, Says: level.Says, Want: code, Means: meaning(level, code),
			Written: j.written(k), From: []From{}}
		for i := range level.Values {
			if *room--; *room >= 0 {
				v := &level.Values[i]
				one.From = append(one.From, From{v.Code, valueWords(v), do(c, level, v.Code, code)})
			}
		}
		p.Levels = append(p.Levels, one)
	}
	p.Choices = choices(s, ref)
	p.test(s, j.spec, j.note)
	return p
}

// choices lists what a pin can be told to send by its chart, and what is asked for now.
func choices(s *setup.Setup, ref setup.PinRef) []Choice {
	rx, spec := s.Pin(ref)
	list := []Choice{}
	for _, w := range wishes(rx.Chart, spec) {
		if _, _, missing := codesOf(rx.Chart, spec.Pin, w, nil); missing < 0 || key(w) == key(spec.Switch) {
			list = append(list, Choice{key(w), brief(w)})
		}
	}
	return list
}

// test says how a pin that is on or off is tried with a lamp.
func (p *Pin) test(s *setup.Setup, spec *setup.Pin, note *setup.PinCode) {
	if spec.Switch == nil {
		return
	}
	on := "it has to shine while the pin is on, and be dark else"
	if spec.Switch.Level == "low" {
		on = "put between power and the pin, it has to shine while the pin is on, and be dark else"
	}
	p.Test = "A lamp on pin " + fmt.Sprint(p.Pin) + ": " + on + "."
	p.Flicker = "Dim and flickering, it gets servo pulses: the pin is not set."
	if v := spec.Switch.Volts; v > 0 {
		frame := float64(s.Transmitter.FrameMS)
		p.Flicker = fmt.Sprintf("Dim and flickering, it gets servo pulses: %s V for 1.5 of %s ms are %s V "+
			"on average. The pin "+
			"is not set.", words.Short(v), words.Short(frame), words.Short(float64(int(v*1.5/frame*100+0.5))/100))
	}
	if note.Steady != nil {
		p.Steady = map[bool]string{true: "yes", false: "no"}[*note.Steady]
	}
}

// noteOf gives what was counted into a pin; nothing where it is not on record.
func noteOf(rx *setup.Receiver, pin int) *setup.PinCode {
	for i := range rx.Codes {
		if rx.Codes[i].Pin == pin {
			return &rx.Codes[i]
		}
	}
	return &setup.PinCode{Pin: pin}
}

// mostPulses bounds the pulses to switch at that a pin is offered.
const mostPulses = 16

// wishes lists what a pin could be asked to send: pulses, and on or off in every way that the chart
// speaks of, and in that which is asked for now.
func wishes(c *setup.Chart, spec *setup.Pin) []wish {
	list, at := []wish{nil}, []float64{}
	usual := setup.SwitchPin{AtUS: 1500}
	if spec.Switch != nil {
		usual = *spec.Switch
	}
	add := func(v float64) {
		if v > 0 && len(at) < mostPulses && !slices.Contains(at, v) {
			at = append(at, v)
		}
	}
	if spec.Switch != nil {
		add(usual.AtUS)
	}
	for _, i := range concerns(c, spec.Pin) {
		for _, v := range c.Levels[i].Values {
			add(v.AtUS)
		}
	}
	if len(at) == 0 {
		add(usual.AtUS)
	}
	slices.Sort(at)
	for _, us := range at {
		for _, on := range []string{"above", "below"} {
			for _, level := range []string{"high", "low"} {
				w := usual
				w.On, w.Level, w.AtUS = on, level, us
				list = append(list, &w)
			}
		}
	}
	return list
}

// key names a wish: pulses, or above 1500 high.
func key(w wish) string {
	if w == nil {
		return "pulses"
	}
	return fmt.Sprintf("%s %s %s", w.On, words.Short(w.AtUS), w.Level)
}

// puts says what a pin puts out while it is off, and while it is on.
func puts(w wish) (off, on string) {
	high := "high"
	if w.Volts > 0 {
		high = words.Short(w.Volts) + " V"
	}
	if w.Level == "low" {
		return high, "0 V"
	}
	return "0 V", high
}

// brief tells in a few words what a pin sends.
func brief(w wish) string {
	if w == nil {
		return "servo pulses"
	}
	off, on := puts(w)
	return fmt.Sprintf("%s, %s %s %s µs", off, on, w.On, words.Short(w.AtUS))
}

// Says tells in words what a pin sends.
func Says(s *setup.Setup, ref setup.PinRef, w wish) string {
	if w == nil {
		return "servo pulses"
	}
	off, on := puts(w)
	what := "its channel"
	if o := s.Carried(ref); o >= 0 {
		what = s.OutputLabel(o)
	}
	return fmt.Sprintf("on or off: %s until %s is %s %s µs, then %s", off, what, w.On, words.Short(w.AtUS), on)
}

// valueWords says what a value means.
func valueWords(v *setup.Counted) string {
	if v.Label != "" {
		return v.Label
	}
	var said []string
	add := func(when bool, text string) {
		if when {
			said = append(said, text)
		}
	}
	add(v.Pin > 0, fmt.Sprintf("pin %d", v.Pin))
	add(v.Sends == "pulses", "servo pulses")
	add(v.Sends == "switch", "on or off")
	add(v.On != "" && v.AtUS > 0, fmt.Sprintf("on %s %s µs", v.On, words.Short(v.AtUS)))
	add(v.On != "" && v.AtUS == 0, "on "+v.On+" the pulse at which it switches")
	add(v.On == "" && v.AtUS > 0, "switches at "+words.Short(v.AtUS)+" µs")
	add(v.Level == "high", "high while on")
	add(v.Level == "low", "0 V while on")
	if said == nil {
		return "of which the chart says nothing"
	}
	return strings.Join(said, ", ")
}

func meaning(level *setup.Rank, code int) string {
	for i := range level.Values {
		if level.Values[i].Code == code {
			return valueWords(&level.Values[i])
		}
	}
	return ""
}

// refusal says that the chart has nothing for a wish, and what it has there.
func refusal(s *setup.Setup, ref setup.PinRef, c *setup.Chart, at []int, missing int) string {
	rx, spec := s.Pin(ref)
	wants := fmt.Sprintf("Pin %d of %s is to be %s", spec.Pin, s.ReceiverLabel(rx), Says(s, ref, spec.Switch))
	if missing == len(at) {
		return wants + "; its chart has no level that chooses between servo pulses and on or off for this pin"
	}
	level := &c.Levels[at[missing]]
	var has []string
	for i := range level.Values {
		has = append(has, fmt.Sprintf("%d: %s", level.Values[i].Code, valueWords(&level.Values[i])))
	}
	return fmt.Sprintf("%s; level %d of its chart has nothing for that. It has %s", wants, at[missing]+1,
		strings.Join(has, "; "))
}
