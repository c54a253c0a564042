package signal

import "slices"

// DependsOn gives what decides, besides power and the count of frames, what slots are in a
// frame: the slots that are carried into it from the frame before, and the hands, both
// rising. The slots are those of one state of the program.
func (p *Program) DependsOn(slots ...Slot) (kept []Slot, hands []int) {
	wanted := make([]bool, len(p.initial))
	carried := make([]bool, p.kept)
	want := func(list []Slot) {
		for _, slot := range list {
			if slot != None {
				wanted[slot] = true
			}
		}
	}
	carry := func(list []Slot) {
		for _, slot := range list {
			if slot != None && int(slot) < p.kept {
				carried[slot] = true
			}
		}
	}
	want(slots)
	computed := make([]bool, len(p.initial))
	for i := len(p.code) - 1; i >= 0; i-- {
		in := &p.code[i]
		needed := false
		for _, slot := range p.gives(in) {
			needed = needed || slot != None && wanted[slot]
			if slot != None {
				computed[slot] = true
			}
		}
		if !needed {
			continue
		}
		switch in.op {
		case opReceiver: // each of its pins is apart from the others
			r := &p.receivers[in.at]
			want([]Slot{r.on, r.up})
			carry([]Slot{r.heard, r.lost})
			for _, pin := range r.pins {
				if wanted[pin.us] {
					want([]Slot{pin.arrival})
					carry([]Slot{pin.us})
				}
			}
		case opBefore, opBeforeKept: // they read what is carried alone
			carry(p.keeps(in))
		default:
			carry(p.keeps(in))
			want(p.operands(in))
		}
	}
	for slot, is := range carried {
		if is || wanted[slot] && !computed[slot] {
			kept = append(kept, Slot(slot))
		}
	}
	for slot := p.hands; slot < p.handsEnd; slot++ {
		if wanted[slot] {
			hands = append(hands, int(slot-p.hands))
		}
	}
	return kept, hands
}

// Follows tells whether a number goes along with one of some hands, at once or after a while, and not only by
// way of what is true or false, or a step, or plays in time.
func (p *Program) Follows(slot Slot, hands []int) bool {
	wanted := make([]bool, len(p.initial))
	wanted[slot] = true
	for again := true; again; { // what is carried over is reached by way of the frame before
		again = false
		for i := len(p.code) - 1; i >= 0; i-- {
			in := &p.code[i]
			if _, leaf := p.leaf(in); leaf || !slices.ContainsFunc(p.gives(in), func(gives Slot) bool {
				return gives != None && wanted[gives]
			}) {
				continue
			}
			operands := p.operands(in)
			if in.op == opReceiver { // each of its pins is apart from the others
				operands = nil
				for _, pin := range p.receivers[in.at].pins {
					if wanted[pin.us] {
						operands = append(operands, pin.arrival)
					}
				}
			}
			for _, reads := range operands {
				if reads != None && !wanted[reads] {
					wanted[reads], again = true, true
				}
			}
		}
	}
	return slices.ContainsFunc(hands, func(hand int) bool { return wanted[p.HandSlot(hand)] })
}
