package plan

import (
	"fmt"
	"slices"
	"strconv"

	"axtren/core/edit"
	"axtren/core/parts"
	"axtren/core/setup"
)

// Carry gives the document in which the plan of a document is carried out: functions on their
// controls, channels and pins, with what was asked of each control gone along with it; and what changes,
// in words. The error is setup.Problems where something has no place: then nothing is to be changed. It
// takes as long as Make.
func Carry(doc *setup.Document) (tree *setup.Node, said string, err error) {
	p, err := solved(doc.Setup, nil)
	if err != nil {
		return nil, "", err
	}
	d := &deal{p.problem, p.answer.Columns}
	if out := d.without(); out != "" {
		return nil, "", setup.Problems{{Path: "plan", Message: out + " has no place in this plan",
			Remedy: "give up one of the wishes that cannot be met together, and plan again"}}
	}
	c := &carrier{deal: d, tree: doc.Tree}
	c.moveHands()
	c.moveLeads()
	if d.setsOrder {
		c.setOrder()
	}
	tree, err = c.newHands()
	return tree, Summary(d.changes()), err
}

// without names what has no place, or had a control and has none now; empty where all have one.
func (d *deal) without() string {
	for i := range d.hands {
		if d.control(i) < 0 && d.hands[i].control >= 0 {
			return d.s.ControlLabel(d.hands[i].control)
		}
	}
	for i := range d.wires {
		if d.channelOf(i) == 0 || slices.Contains(d.pinsOf(i), -1) {
			return d.s.OutputLabel(i)
		}
	}
	return ""
}

// carrier writes a deal into a document.
type carrier struct {
	*deal
	tree *setup.Node
}

// set puts a value at a JSON Pointer of the document.
func (c *carrier) set(pointer string, value *setup.Node) {
	if tree, err := c.tree.Set(pointer, value); err == nil { // what a part stands at is there
		c.tree = tree
	}
}

// moveHands lets everything that refers to a control refer to the one that takes its place.
func (c *carrier) moveHands() {
	for i := range c.hands {
		from, to := c.hands[i].control, c.control(i)
		if from < 0 || to == from {
			continue
		}
		id := c.s.Transmitter.Controls[to].ID
		for e := range c.s.Graph().To(setup.IsControl.At(from)) {
			c.set(e.Pointer, setup.TextNode(e.Renamed(id)))
		}
	}
}

// moveLeads puts every output on its channel, and every plug on its pin.
func (c *carrier) moveLeads() {
	carried := map[int]bool{} // channels of the link
	for i := range c.wires {
		if channel := c.channelOf(i); channel != c.s.Outputs[i].Channel {
			c.set(fmt.Sprintf("/outputs/%d/channel", i), setup.NumberNode(float64(channel)))
		}
		carried[c.link(i)] = true
		for l, pin := range c.pinsOf(i) {
			if pin != c.wires[i].leads[l].pin {
				for _, part := range c.wires[i].leads[l].parts {
					c.set(fmt.Sprintf("/devices/%d/%s", part.device, part.field), setup.TextNode(c.pinName(pin)))
				}
			}
		}
	}
	if c.setsPins {
		c.tellPins(carried)
	}
}

// tellPins tells every pin its channel: that of the lead in it, else one that carries nothing, where
// there is one.
func (c *carrier) tellPins(carried map[int]bool) {
	of, nothing := map[int]int{}, 0
	for k := c.arriving(); k > 0; k-- {
		if !carried[k] && !c.sends(k) {
			nothing = k
		}
	}
	for i := range c.wires {
		for _, pin := range c.pinsOf(i) {
			of[pin] = c.link(i)
		}
	}
	for i, ref := range c.pins {
		_, pin := c.s.Pin(ref)
		k, plugged := of[i]
		if !plugged {
			if k = nothing; nothing == 0 || !carried[pin.Channel] && !c.sends(pin.Channel) {
				continue
			}
		}
		if k != pin.Channel {
			c.set(fmt.Sprintf("/receivers/%d/pins/%d/channel", ref.Receiver, ref.Pin), setup.NumberNode(float64(k)))
		}
	}
}

// sends tells whether the plan sends anything on a channel of the link.
func (c *carrier) sends(k int) bool {
	for i := range c.wires {
		if c.channelOf(i) == c.s.Link.Sent(k) {
			return true
		}
	}
	return false
}

// setOrder sets the order of the channels: each that carries an output gets the channel of that, and
// one that would carry it a second time gets a channel on which nothing is sent, where there is one.
func (c *carrier) setOrder() {
	used, sent := map[int]int{}, map[int]bool{}
	for i := range c.wires {
		sent[c.channelOf(i)] = true
		if len(c.wires[i].leads) > 0 {
			used[c.link(i)] = c.channelOf(i)
		}
	}
	nothing := 0
	for channel := min(48, max(c.mostChannels(), c.arriving())); channel > 0; channel-- {
		if !sent[channel] {
			nothing = channel
		}
	}
	var list []*setup.Node
	last := 0
	for k := 1; k <= c.arriving(); k++ {
		channel, carries := used[k]
		if !carries {
			channel = c.s.Link.Sent(k)
			if twice := c.anywhere(used, channel); twice && nothing > 0 {
				channel = nothing
			}
		}
		list = append(list, setup.NumberNode(float64(channel)))
		if channel != k {
			last = k
		}
	}
	last = max(last, len(c.s.Link.Order))
	if order := (&setup.Node{Kind: setup.List, Items: list[:last]}); last > 0 &&
		!slices.Equal(numbersOf(order), c.s.Link.Order) {
		c.set("/link/order", order)
	}
}

func (c *carrier) anywhere(used map[int]int, channel int) bool {
	for _, has := range used {
		if has == channel {
			return true
		}
	}
	return false
}

func numbersOf(list *setup.Node) []int {
	numbers := make([]int, len(list.Items))
	for i, n := range list.Items {
		numbers[i] = int(n.Float())
	}
	return numbers
}

// newHands lets each control that the plan found for an output that nothing moved move it, one
// after the other, and writes what was asked of that control to the control.
func (c *carrier) newHands() (*setup.Node, error) {
	for i := range c.hands {
		h, to := &c.hands[i], c.control(i)
		if h.control >= 0 || to < 0 {
			continue
		}
		doc, err := setup.FromTree(c.tree)
		if err != nil {
			return nil, err
		}
		p, err := edit.Playable(doc)
		if err != nil {
			return nil, err
		}
		o := &doc.Setup.Outputs[h.output]
		moves := string(c.s.Transmitter.Controls[to].ID)
		c.tree, _, err = parts.MovedBy(doc, p, string(o.ID), parts.Follows, []string{moves})
		if err != nil {
			return nil, err
		}
		c.move(h, moves)
	}
	return c.tree, nil
}

// move takes what an output asked of a control to the control.
func (c *carrier) move(h *hand, control string) {
	needs := c.tree.At("outputs", strconv.Itoa(h.output), "needs")
	less := &setup.Node{Kind: setup.Map}
	for i, key := range needs.Keys {
		if key != "by" {
			less.Keys, less.Items = append(less.Keys, key), append(less.Items, needs.Items[i])
		}
	}
	at := fmt.Sprintf("/outputs/%d", h.output)
	if c.set(at+"/needs", less); len(less.Keys) == 0 {
		c.tree, _ = c.tree.With(setup.PointerParts(at+"/needs"),
			func(parent *setup.Node, last string) error { return parent.Remove(last) })
	}
	wish := &setup.Node{Kind: setup.Map, Keys: []string{"control"},
		Items: []*setup.Node{setup.TextNode(control)}}
	for _, one := range []struct{ key, value string }{{"does", h.asks.Does}, {"side", h.asks.Side}} {
		if one.value != "" {
			wish.Keys, wish.Items = append(wish.Keys, one.key), append(wish.Items, setup.TextNode(one.value))
		}
	}
	if by := c.s.Outputs[h.output].Needs.By; h.thumb || by.Thumb != nil {
		wish.Keys = append(wish.Keys, "thumb")
		wish.Items = append(wish.Items, &setup.Node{Kind: setup.Bool, Text: strconv.FormatBool(h.thumb)})
	}
	if len(wish.Keys) == 1 {
		return
	}
	c.addHand(wish)
}

// addHand adds what is asked of a control to the list of the plan.
func (c *carrier) addHand(wish *setup.Node) {
	hands := &setup.Node{Kind: setup.List}
	if list := c.tree.At("plan", "hands"); list != nil {
		hands.Items = slices.Clone(list.Items)
	}
	hands.Items = append(hands.Items, wish)
	if c.tree.Get("plan") == nil {
		c.set("/plan", &setup.Node{Kind: setup.Map})
	}
	c.set("/plan/hands", hands)
}
