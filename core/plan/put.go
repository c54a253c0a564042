package plan

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/allot"
	"axtren/core/setup"
)

// Put gives the document in which a person has put a function somewhere: an output (outputs/horn) on
// a pin (rx.5), or what a control moves (controls/helm) on another control (controls/slider). What is
// there goes where the function was. The plan leaves the function there from then on. The error is
// setup.Problems.
func Put(doc *setup.Document, of, to string) (*setup.Node, error) {
	p := pose(read(doc.Setup))
	c := &carrier{deal: &deal{p, slices.Clone(p.Start)}, tree: doc.Tree}
	list, id, _ := strings.Cut(of, "/")
	item := doc.Setup.Item(setup.ID(id))
	switch {
	case list == "outputs" && item.Kind == setup.IsOutput:
		return c.putOutput(item.Index, to)
	case list == "controls" && item.Kind == setup.IsControl:
		return c.putHand(item.Index, strings.TrimPrefix(to, "controls/"))
	}
	return nil, setup.Refused("part", "", fmt.Sprintf("there is no function %q", of), "name one of the plan")
}

// putOutput puts an output on a pin.
func (c *carrier) putOutput(i int, to string) (*setup.Node, error) {
	name := c.s.OutputLabel(i)
	ref, known := c.s.PinRef(to)
	if !known {
		return nil, setup.Refused("to", "", fmt.Sprintf("there is no pin %q", to), "choose one of the list")
	}
	if len(c.wires[i].leads) != 1 {
		return nil, setup.Refused("part", "", name+" has not one lead but "+fmt.Sprint(len(c.wires[i].leads)),
			"plug its leads by hand, in Kit")
	}
	_, pin := c.s.Pin(ref)
	variable, column := c.slot[i], pin.Channel-1
	switch {
	case c.setsPins:
		variable, column = c.leadVars[i][0], slices.Index(c.pins, ref)
	case !c.setsOrder:
		column = c.s.Link.Sent(pin.Channel) - 1
	}
	if err := c.exchange(variable, column, name, c.s.PinLabel(ref)); err != nil {
		return nil, err
	}
	c.moveLeads()
	if c.setsOrder {
		c.setOrder()
	}
	at := fmt.Sprintf("/outputs/%d/needs", i)
	if c.tree.At(setup.PointerParts(at)...) == nil {
		c.set(at, &setup.Node{Kind: setup.Map})
	}
	c.set(at+"/stays", &setup.Node{Kind: setup.List, Items: []*setup.Node{setup.TextNode("channel"),
		setup.TextNode("pin")}})
	return c.tree, nil
}

// putHand puts what a control moves on another one.
func (c *carrier) putHand(control int, to string) (*setup.Node, error) {
	name, target := c.s.ControlLabel(control), c.s.Item(setup.ID(to))
	if target.Kind != setup.IsControl {
		return nil, setup.Refused("to", "", fmt.Sprintf("there is no control %q", to), "choose one of the list")
	}
	hand := slices.IndexFunc(c.hands, func(h hand) bool { return h.control == control })
	if hand < 0 {
		return nil, setup.Refused("part", "", name+" moves nothing", "choose one that does")
	}
	if c.hands[hand].held {
		return nil, setup.Refused("part", "", "rules, the start or what must hold speak of "+name,
			"let another control act instead, in the function or in the rule")
	}
	err := c.exchange(c.handVars[hand], target.Index, "what "+name+" moves", c.s.Label(target))
	if err != nil {
		return nil, err
	}
	c.moveHands()
	c.holdOn(c.s.Transmitter.Controls[target.Index].ID)
	return c.tree, nil
}

// exchange gives a variable a column, and the one that has it what the variable had.
func (c *carrier) exchange(variable, column int, name, place string) error {
	v := &c.Vars[variable]
	no := func(why string) error {
		return setup.Refused("to", "", name+" cannot be on "+place+": "+why,
			"choose another place, or take the wish back")
	}
	if column < 0 || column >= len(v.Cost) || v.Cost[column] >= allot.Never {
		return no("it is not of its kind, or it has to stay where it is")
	}
	was := c.columns[variable]
	for other := range c.Vars {
		if other == variable || c.Vars[other].Side != v.Side || c.columns[other] != column {
			continue
		}
		if was == allot.None || c.Vars[other].Cost[was] >= allot.Never {
			return no("what is there cannot be where it is now")
		}
		c.columns[other] = was
	}
	c.columns[variable] = column
	return nil
}

// holdOn writes that what a control moves stays on it.
func (c *carrier) holdOn(control setup.ID) {
	yes := &setup.Node{Kind: setup.Bool, Text: "true"}
	if list := c.tree.At("plan", "hands"); list != nil {
		for i, entry := range list.Items {
			if entry.Get("control").Text == string(control) {
				c.set(fmt.Sprintf("/plan/hands/%d/stays", i), yes)
				return
			}
		}
	}
	c.addHand(&setup.Node{Kind: setup.Map, Keys: []string{"control", "stays"},
		Items: []*setup.Node{setup.TextNode(string(control)), yes}})
}

// Places are where a function could be put by hand.
type Places struct {
	Pins     []Choice `json:"pins"`     // of outputs
	Controls []Choice `json:"controls"` // of what controls move
}

// Choice is a place that can be chosen: its key, and what it is called.
type Choice struct {
	Key   string `json:"key"`
	Label string `json:"label"`
}

// places lists the pins and the controls that there are.
func (d *deal) places() Places {
	p := Places{[]Choice{}, []Choice{}}
	for i := range d.pins {
		p.Pins = append(p.Pins, Choice{d.pinName(i), d.s.PinLabel(d.pins[i])})
	}
	for i := range d.s.Transmitter.Controls {
		if !d.heldBy(i) {
			p.Controls = append(p.Controls, Choice{"controls/" + string(d.s.Transmitter.Controls[i].ID),
				d.s.ControlLabel(i)})
		}
	}
	return p
}
