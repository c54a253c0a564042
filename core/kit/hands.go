package kit

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// follow is a control that hands put where something of the setup before stood, so that the two can
// be played beside each other: the switch in the place of presses.
type follow struct {
	control setup.ID  // of the setup after, a switch
	of      setup.ID  // a block or a stepper of the setup before
	places  []float64 // the position of the switch for each state: off and on, or the steps
}

// followed is a follow as it is played.
type followed struct {
	hand   int         // of the setup after
	slot   signal.Slot // of the setup before
	places []float64
}

// follows resolves which hands of the setup after stand where something of the one before does.
func (c *comparison) follows(list []follow) {
	s := c.before.Setup()
	for _, f := range list {
		hand, there := c.after.Hand(string(f.control))
		item := s.Item(f.of)
		if !there || item.Kind == 0 {
			continue
		}
		slot := c.before.StepperSlot
		if item.Kind == setup.IsBlock {
			slot = c.before.BlockSlot
		}
		c.led = append(c.led, followed{hand, slot(item.Index), f.places})
		// while whole ways are looked at it is where it wakes, and what moved it before is at rest
		c.asks[1].from[hand] = -1
		for _, i := range setup.Only(setup.IsControl, s.Graph().Behind(item)) {
			at, _ := c.before.Hand(string(s.Transmitter.Controls[i].ID))
			c.kept = append(c.kept, at)
		}
	}
}

// place puts what follows where it stands in a lane.
func (c *comparison) place(before *signal.Lanes, lane int, hands signal.Hands) {
	for _, f := range c.led {
		hands[f.hand] = f.places[int(before.At(lane, f.slot))]
	}
}

// clickOn lets a button click on and off by itself where a rule did that.
func (f *finder) clickOn(b *setup.Block) {
	toggle, ok := b.Spec.(*setup.Toggle)
	if !ok || f.can.ClickOn == nil || !*f.can.ClickOn || toggle.Reset != nil || toggle.Start == "kept" {
		return
	}
	fact, err := f.s.Fact(toggle.In)
	if err != nil || fact.Not || fact.Kind != setup.FactPosition {
		return
	}
	button := fact.Item()
	control := &f.s.Transmitter.Controls[button.Index]
	sw := control.Switch
	if sw.SpringTo == nil || len(sw.Positions) != 2 || fact.Sub != 1 || *sw.SpringTo != sw.Positions[0] ||
		f.uses(button) != 1 {
		return
	}
	c := f.change().take(button, "spring_to")
	if toggle.Start == "true" {
		c.set(button, "start", string(sw.Positions[1]))
	}
	on := string(control.ID) + "." + string(sw.Positions[1])
	f.instead(c, b.ID, func(r *setup.Reference) string {
		if r.Role == setup.ReadsTruth {
			return r.Renamed(setup.ID(on))
		}
		return r.Renamed(control.ID)
	})
	c.remove(f.of.Part)
	f.offer("let "+f.s.ControlLabel(button.Index)+" click on and off by itself, by the transmitter's own option",
		"", c, follow{control.ID, b.ID, []float64{0, 1}})
}

// uses counts what refers to a part.
func (f *finder) uses(part setup.Item) int {
	n := 0
	for range f.s.Graph().To(part) {
		n++
	}
	return n
}

// instead lets all that refers to a part refer to something else.
func (f *finder) instead(c *change, id setup.ID, to func(*setup.Reference) string) {
	for r := range f.s.Graph().Naming(id) {
		c.op("replace", c.at(r.From)+"/"+strings.TrimPrefix(r.Pointer, pointer(r.From)+"/"), to(r))
	}
}

// byHand tells whether all of some truths are positions of controls: what no hand does, no hand can
// do with another control instead.
func (f *finder) byHand(truths ...*setup.Truth) bool {
	for _, t := range truths {
		if t == nil {
			continue
		}
		if fact, err := f.s.Fact(*t); err != nil || fact.Kind != setup.FactPosition {
			return false
		}
	}
	return true
}

// switchForLatch lets a switch of two positions stand where a latch was set and reset by hand.
func (f *finder) switchForLatch(b *setup.Block) {
	start, hands := setup.StateAt("false"), false
	switch latch := b.Spec.(type) {
	case *setup.Latch:
		start = latch.Start
		hands = f.byHand(&latch.Set, &latch.Reset)
	case *setup.Toggle:
		start = latch.Start
		hands = f.byHand(&latch.In, latch.Reset)
	}
	if start == "kept" || !hands {
		return
	}
	label, id := f.s.Label(f.of.Part), f.s.FreeID(string(b.ID)+"_switch")
	added := fields{"id": id, "kind": "switch", "label": label + " switch", "positions": []string{"off", "on"}}
	if start == "true" {
		added["start"] = "on"
	}
	c := f.change()
	c.op("add", "/transmitter/controls/-", added)
	f.instead(c, b.ID, func(r *setup.Reference) string {
		if r.Role == setup.ReadsTruth {
			return r.Renamed(setup.ID(id + ".on"))
		}
		return r.Renamed(setup.ID(id))
	})
	c.remove(f.of.Part)
	f.offer("let a switch of 2 positions stand for "+label, lostPresses, c,
		follow{setup.ID(id), b.ID, []float64{0, 1}})
}

// lostPresses is what is lost where a switch stands for what presses did.
const lostPresses = "the presses, and a switch of the transmitter that is free for it"

// switchForSteps lets a switch with as many positions stand where steps were gone through by hand.
func (f *finder) switchForSteps() {
	for i := range f.s.Steppers {
		st := &f.s.Steppers[i]
		if len(st.Steps) <= 6 && f.byHand(st.Up, st.Down, st.Home) { // as many as a switch has at most
			f.oneSwitch(setup.IsStepper.At(i), st)
		}
	}
}

func (f *finder) oneSwitch(part setup.Item, st *setup.Stepper) {
	label := f.s.Label(part)
	id := f.s.FreeID(string(st.ID) + "_switch")
	positions, start := []string{}, ""
	if st.Start != nil {
		start = string(*st.Start)
	}
	places := make([]float64, len(st.Steps))
	curve := make([][2]float64, len(st.Steps))
	for k, step := range st.Steps {
		positions, places[k] = append(positions, string(step.Name)), float64(k)
		curve[k] = [2]float64{-100 + 200*float64(k)/float64(len(st.Steps)-1), step.Value}
	}
	added := fields{"id": id, "kind": "switch", "label": label + " switch", "positions": positions}
	if start != "" {
		added["start"] = start
	}
	c := f.change()
	c.op("add", "/transmitter/controls/-", added)
	read, valued := f.s.FreeID(string(st.ID)+"_way"), false
	f.instead(c, st.ID, func(r *setup.Reference) string {
		if r.Role == setup.ReadsTruth {
			return r.Renamed(setup.ID(id))
		}
		valued = true
		return read
	})
	if valued {
		if !slices.Contains(f.doc.Tree.Keys, "demands") {
			c.op("add", "/demands", []any{})
		}
		c.op("add", "/demands/-", fields{"id": read, "label": label, "from": id, "curve": curve})
	}
	c.remove(part)
	f.offer(fmt.Sprintf("let a switch of %s stand for %s", words.Count(len(positions), "position", "positions"),
		label), lostPresses, c,
		follow{setup.ID(id), st.ID, places})
}
