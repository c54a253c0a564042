package plan

import (
	"fmt"

	"axtren/core/allot"
	"axtren/core/setup"
	"axtren/core/words"
)

// costs says what a deal costs, term by term, the weightiest first, and the points of each level.
func (d *deal) costs() (list []Cost, points [5]int) {
	list = []Cost{}
	byLevel := [levels][]Cost{}
	note := func(t *tally, of, name string) {
		for _, c := range t.list {
			points[c.Level] += c.Points * c.times
			byLevel[c.Level] = append(byLevel[c.Level], Cost{c.Key, levelNames[c.Level], c.Points * c.times, of,
				name + ": " + c.Says})
		}
	}
	keep := func() *tally { return &tally{keep: true} }
	for i := range d.hands {
		t := keep()
		if c := d.control(i); c >= 0 {
			d.handCost(&d.hands[i], c, t)
		} else {
			t.add(leftOut, 1)
		}
		note(t, d.handName(i), words.And(d.hands[i].moves))
	}
	for i := range d.wires {
		t := keep()
		d.wireCosts(i, t)
		note(t, d.s.PartName(setup.IsOutput.At(i)), d.s.OutputLabel(i))
	}
	mixes := 0
	for i := range d.wires {
		h := d.wires[i].direct
		if h < 0 || d.control(h) < 0 || d.channelOf(i) == 0 {
			continue
		}
		t := keep()
		d.onOwnChannel(d.control(h), d.channelOf(i), t)
		mixes += len(t.list)
		note(t, d.s.PartName(setup.IsOutput.At(i)), d.s.OutputLabel(i))
	}
	if d.mixes.Limited && mixes > d.mixes.Most {
		t := keep()
		t.add(overMixes, mixes-d.mixes.Most)
		note(t, "", fmt.Sprintf("%s, and %d are left", words.Count(mixes, "mix", "mixes"), d.mixes.Most))
	}
	for a := range d.hands {
		for b := range d.hands[:a] {
			if d.control(a) >= 0 && d.control(b) >= 0 {
				t := keep()
				d.together(a, b, d.control(a), d.control(b), t)
				note(t, d.handName(a)+"+"+d.handName(b),
					words.And(d.hands[a].moves)+", with "+words.And(d.hands[b].moves))
			}
		}
	}
	d.eachShared(func(a, b int) {
		t := keep()
		d.rates(d.link(a), d.link(b), t)
		if pa, pb := d.pinsOf(a), d.pinsOf(b); pa[0] >= 0 && pb[0] >= 0 {
			d.receivers(pa[0], pb[0], t)
		}
		note(t, d.s.PartName(setup.IsOutput.At(a))+"+"+d.s.PartName(setup.IsOutput.At(b)),
			d.s.OutputLabel(a)+" and "+d.s.OutputLabel(b))
	})
	for _, of := range byLevel {
		list = append(list, of...)
	}
	return list, points
}

// wireCosts tallies what an output costs by itself where the deal has it.
func (d *deal) wireCosts(i int, t *tally) {
	w := &d.wires[i]
	channel, pins := d.channelOf(i), d.pinsOf(i)
	if channel == 0 {
		t.add(leftOut, 1)
	} else {
		d.channelCost(w, channel, t)
	}
	v := d.slot[i]
	if d.setsOrder && v != noVar {
		if d.columns[v] == allot.None {
			t.add(leftOut, 1)
			return
		}
		if channel != 0 {
			t.add(entry, times(d.s.Link.Sent(d.columns[v]+1) != channel))
		}
	}
	switch {
	case v == noVar || d.columns[v] == allot.None:
	case !d.setsPins && len(pins) > 0:
		d.placed(w, pins, t)
	default:
		if k := d.link(i); k != 0 {
			d.linkCost(w, k, t)
		}
	}
	if !d.setsPins {
		return
	}
	for l := range pins {
		own := d.columns[d.leadVars[i][l]]
		switch {
		case own == allot.None:
			t.add(leftOut, 1)
		case own < len(d.pins):
			d.pinCost(w, l, own, t)
		case pins[l] >= 0:
			t.add(yLead, 1)
			d.pinCost(w, l, pins[l], t)
		}
	}
}
