package plan

import (
	"fmt"
	"slices"

	"axtren/core/allot"
	"axtren/core/setup"
	"axtren/core/words"
)

// Plan is what goes where.
type Plan struct {
	// no other plan costs less; false only where the search was stopped
	Proved bool `json:"proved"`
	// every function has its place, and there all that it asks for
	Met       bool       `json:"met"`
	Functions []Function `json:"functions"`
	Hands     []Hand     `json:"hands"`
	Cost      []Cost     `json:"cost"`   // what it costs, the weightiest first
	Points    [5]int     `json:"points"` // the sum of each level, in the order of Levels
	Unused    Unused     `json:"unused"`
	// a smallest set of asks that cannot be met together; empty where all is met
	Conflict  []Ask      `json:"conflict"`
	Changes   []Change   `json:"changes"` // from now to then
	Proposals []Proposal `json:"proposals"`
	Ends      []End      `json:"ends"`  // what has to be so from the lever to the pin
	Keyed     []Keyed    `json:"keyed"` // and what has to be told each end for that
	Places    Places     `json:"places"`
	Search    Search     `json:"search"`
}

// Function is an output with where the plan puts it.
type Function struct {
	Of      setup.ID `json:"of"`
	Label   string   `json:"label"`
	Channel int      `json:"channel"`     // of the transmitter; 0: none
	Was     int      `json:"was_channel"` // before the plan
	Link    int      `json:"link"`        // the channel of the receiver that carries it; 0: none
	Leads   []Lead   `json:"leads"`
	Levers  []Lever  `json:"levers"` // whose values it is made of, as the plan has them
	Rule    bool     `json:"rule"`   // rules have a part in it
	Lever   string   `json:"lever"`  // what moves it, in words
	Kept    bool     `json:"kept"`   // the person fixed its channel or its pins
	Why     []string `json:"why"`    // sentences without a stop
	Asks    []Asked  `json:"asks"`
}

// Lead is what is plugged into a pin.
type Lead struct {
	Pin      string     `json:"pin"` // rx.3; empty: none
	Was      string     `json:"was_pin"`
	Label    string     `json:"label"`    // of the pin
	Number   int        `json:"number"`   // of the pin; 0: none
	Receiver string     `json:"receiver"` // empty where there is but one
	Y        bool       `json:"y"`        // it shares its pin by a Y lead
	Parts    []setup.ID `json:"parts"`    // the devices
}

// Lever is a control.
type Lever struct {
	Control setup.ID `json:"control"`
	Label   string   `json:"label"`
}

// Hand is what a hand moves, with the control that the plan gives it.
type Hand struct {
	// the control that moves it now, or the output that nothing moves yet: controls/helm, outputs/horn
	Of      string   `json:"of"`
	Moves   []string `json:"moves"`   // the labels of the outputs
	Control setup.ID `json:"control"` // empty: none
	Label   string   `json:"label"`   // of the control
	Was     setup.ID `json:"was"`     // empty: nothing moved it
	Kept    bool     `json:"kept"`    // the person fixed it
	Held    bool     `json:"held"`    // rules speak of the control, so it stays
	Why     []string `json:"why"`
	Asks    []Asked  `json:"asks"`
}

// Cost is a term that a choice costs.
type Cost struct {
	Term   string `json:"term"`
	Level  string `json:"level"`
	Points int    `json:"points"`
	Of     string `json:"of"`   // what costs it: outputs/horn, controls/helm; two joined by a +
	Says   string `json:"says"` // a sentence without a stop
}

// Unused is what the plan gives to nothing: set to nothing, on purpose.
type Unused struct {
	Channels []int      `json:"channels"`
	Pins     []string   `json:"pins"`
	Controls []setup.ID `json:"controls"`
	Says     string     `json:"says"` // a sentence; empty where everything is used
}

// Search is what was looked at for a plan.
type Search struct {
	Nodes int `json:"nodes"`
	// that no plan can be below, and what the plan costs, as one number: docs/plan.md, section 4
	Bound int64 `json:"bound"`
	Cost  int64 `json:"cost"`
	// how far it is, a sentence without a stop; empty once it is proved
	Says string `json:"says"`
}

// Levels say the levels of the cost, the weightiest first.
func Levels() []string { return levelNames[:] }

// Make plans a setup. see is told now and then where the search stands, and stops it by false; nil
// lets it run to its end.
func Make(s *setup.Setup, see func(allot.Progress) bool) (*Plan, error) {
	p, err := solved(s, see)
	if err != nil {
		return nil, err
	}
	return p.plan(), nil
}

// plan reads an answer back.
func (p *planned) plan() *Plan {
	a := &p.answer
	plan := &Plan{Proved: a.Proved, Search: Search{a.Nodes, a.Bound, a.Best, ""}, Conflict: []Ask{}}
	if !a.Proved {
		plan.Search.Says = couldBe(a.Best - a.Bound)
	}
	d := &deal{p.problem, a.Columns}
	plan.Cost, plan.Points = d.costs()
	plan.Met = plan.Points[LeftOut]+plan.Points[Loss]+plan.Points[Channel] == 0
	for i := range p.hands {
		plan.Hands = append(plan.Hands, d.hand(i))
	}
	for i := range p.wires {
		plan.Functions = append(plan.Functions, d.function(i))
	}
	plan.Hands, plan.Functions = orEmpty(plan.Hands), orEmpty(plan.Functions)
	plan.Unused = d.unused()
	plan.Changes = d.changes()
	plan.Proposals, plan.Ends, plan.Keyed = d.proposals(), d.ends(plan.Functions), d.keyed()
	plan.Places = d.places()
	if !plan.Met {
		plan.Conflict = p.conflict()
	}
	return plan
}

// couldBe says how much better a plan could still be that is not proved.
func couldBe(gap int64) string {
	for level := range levels {
		if n := gap / unit[level]; n > 0 && level < Order {
			return fmt.Sprintf("the best so far; one could still be better by up to %s of: %s",
				words.Count(int(n)+1, "point", "points"), levelNames[level])
		}
	}
	return "the best so far; another one could only be nearer to the usual order"
}

func orEmpty[T any](list []T) []T { return append([]T{}, list...) }

// deal is an answer to a problem.
type deal struct {
	*problem
	columns []int
}

// control gives the control that a hand function has; -1: none.
func (d *deal) control(hand int) int { return d.columns[d.handVars[hand]] }

// channelOf gives the channel of the transmitter that an output has; 0: none.
func (d *deal) channelOf(wire int) int { return d.columns[d.channel[wire]] + 1 }

// link gives the channel of the link that carries an output; 0: none.
func (d *deal) link(wire int) int {
	if v := d.slot[wire]; v != noVar && d.columns[v] != allot.None {
		if d.setsOrder {
			return d.columns[v] + 1
		}
		return d.linkOf(wire, d.columns[v])
	}
	if d.setsOrder && d.channelOf(wire) != 0 {
		if list := d.arrives(d.channelOf(wire)); len(list) > 0 {
			return list[0]
		}
	}
	return 0
}

// pinsOf gives the pin of each lead of an output, of reading.pins; -1: none.
func (d *deal) pinsOf(wire int) []int {
	leads := d.wires[wire].leads
	pins := slices.Repeat([]int{-1}, len(leads))
	if v := d.slot[wire]; !d.setsPins {
		if v != noVar && d.columns[v] != allot.None {
			copy(pins, d.placings[wire][d.columns[v]].pins)
		}
		return pins
	}
	for l := range leads {
		pins[l] = d.columns[d.leadVars[wire][l]]
		if pins[l] >= len(d.pins) {
			pins[l] = pins[0]
		}
	}
	return pins
}

func (d *deal) pinName(pin int) string {
	if pin < 0 {
		return ""
	}
	rx, p := d.s.Pin(d.pins[pin])
	return fmt.Sprintf("%s.%d", rx.ID, p.Pin)
}

// pinWords gives the receiver of a pin, where there is more than one, and its number.
func (d *deal) pinWords(pin int) (receiver string, number int) {
	rx, p := d.s.Pin(d.pins[pin])
	if len(d.s.Receivers) > 1 {
		receiver = d.s.ReceiverLabel(rx)
	}
	return receiver, p.Pin
}

func (d *deal) function(i int) Function {
	w, o := &d.wires[i], &d.s.Outputs[i]
	f := Function{Of: o.ID, Label: d.s.OutputLabel(i), Channel: d.channelOf(i), Was: o.Channel, Link: d.link(i),
		Leads: []Lead{}, Levers: []Lever{}, Kept: w.keepsChannel || w.keepsPin, Why: d.whyThere(i),
		Asks: w.asks(o)}
	pins := d.pinsOf(i)
	for l := range w.leads {
		lead := Lead{Pin: d.pinName(pins[l]), Was: d.pinName(w.leads[l].pin),
			Y: pins[l] >= 0 && slices.Contains(pins[:l], pins[l])}
		if pins[l] >= 0 {
			lead.Label = d.s.PinLabel(d.pins[pins[l]])
			lead.Receiver, lead.Number = d.pinWords(pins[l])
		}
		for _, part := range w.leads[l].parts {
			lead.Parts = append(lead.Parts, d.s.Devices[part.device].ID)
		}
		f.Leads = append(f.Leads, lead)
	}
	for h := range d.hands {
		c := d.control(h)
		if c >= 0 && (slices.Contains(w.levers, d.hands[h].control) ||
			d.hands[h].control < 0 && d.hands[h].output == i) {
			f.Levers = append(f.Levers, Lever{d.s.Transmitter.Controls[c].ID, d.s.ControlLabel(c)})
		}
	}
	for _, part := range d.s.Graph().Behind(setup.IsOutput.At(i)) {
		switch part.Kind {
		case setup.IsBlock, setup.IsStepper, setup.IsPattern, setup.IsSequence:
			f.Rule = true
		}
	}
	f.Lever = f.leverWords(d.s)
	return f
}

// handName names a hand function.
func (d *deal) handName(i int) string {
	if h := &d.hands[i]; h.control < 0 {
		return d.s.PartName(setup.IsOutput.At(h.output))
	}
	return d.s.PartName(setup.IsControl.At(d.hands[i].control))
}

func (d *deal) hand(i int) Hand {
	h := &d.hands[i]
	hand := Hand{Of: d.handName(i), Moves: orEmpty(h.moves), Kept: h.stays, Held: h.held, Why: d.whyOn(i),
		Asks: d.wishes(h)}
	if h.control >= 0 {
		hand.Was = d.s.Transmitter.Controls[h.control].ID
	}
	if c := d.control(i); c >= 0 {
		hand.Control, hand.Label = d.s.Transmitter.Controls[c].ID, d.s.ControlLabel(c)
	}
	return hand
}

func (d *deal) unused() Unused {
	u := Unused{[]int{}, []string{}, []setup.ID{}, ""}
	var pins, controls []string
	used := map[int]bool{}
	for i := range d.wires {
		used[d.channelOf(i)] = true
	}
	for c := 1; c <= d.channels; c++ {
		if !used[c] {
			u.Channels = append(u.Channels, c)
		}
	}
	plugged := map[int]bool{}
	for i := range d.wires {
		for _, pin := range d.pinsOf(i) {
			plugged[pin] = true
		}
	}
	for i := range d.pins {
		if !plugged[i] {
			u.Pins = append(u.Pins, d.pinName(i))
			pins = append(pins, d.s.PinLabel(d.pins[i]))
		}
	}
	taken := map[int]bool{}
	for i := range d.hands {
		taken[d.control(i)] = true
	}
	for i := range d.s.Transmitter.Controls {
		if !taken[i] {
			u.Controls = append(u.Controls, d.s.Transmitter.Controls[i].ID)
			controls = append(controls, words.Small(d.s.ControlLabel(i)))
		}
	}
	u.Says = saysUnused(u.Channels, pins, controls)
	return u
}

// saysUnused says what is given to nothing, in a sentence; of long lists only how many.
func saysUnused(channels []int, pins, controls []string) string {
	var said []string
	add := func(names []string, one, many string) {
		if len(names) > 4 {
			names = []string{words.Count(len(names), one, many)}
		}
		said = append(said, names...)
	}
	if len(channels) > 0 {
		one := "channel " + ranges(channels)
		if len(channels) > 1 {
			one = "channels " + ranges(channels)
		}
		said = append(said, one)
	}
	add(pins, "pin", "pins")
	add(controls, "control", "controls")
	if said == nil {
		return ""
	}
	return "Set to nothing, on purpose: " + words.And(said) + "."
}
