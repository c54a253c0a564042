package plan

import (
	"slices"

	"axtren/core/allot"
	"axtren/core/setup"
)

// problem is a reading as an allot.Problem: which variable stands for what.
type problem struct {
	*reading
	allot.Problem
	// the variable of each hand function: its columns are the controls
	handVars []int
	// of each wire function: the channels of the transmitter, or, where their order can be set, of the link
	slot []int
	// of each wire function: the channels of the transmitter; the same as slot but for that
	channel []int
	// of each wire function and lead, where pins can be told their channel: the pins
	leadVars [][]int
	// of each wire function and column of its slot, what it costs there
	placings [][]placing
}

// noVar stands for a variable that there is none of.
const noVar = -1

// pose makes the problem of a reading.
func pose(r *reading) *problem {
	p := &problem{reading: r, Problem: allot.Problem{Left: unit[LeftOut], Quota: r.mixes}}
	p.addHands()
	p.addSlots()
	if r.setsOrder {
		p.addChannels()
	} else {
		p.channel = p.slot
	}
	if r.setsPins {
		p.addLeads()
	}
	p.addTerms()
	p.Start = p.asItIs()
	return p
}

// asItIs gives what every variable has now, so that nothing moves that gains nothing.
func (p *problem) asItIs() []int {
	columns := slices.Repeat([]int{allot.None}, len(p.Vars))
	has := func(v, column int) {
		if v != noVar && column >= 0 && column < len(p.Vars[v].Cost) && p.Vars[v].Cost[column] < allot.Never {
			columns[v] = column
		}
	}
	for i := range p.hands {
		has(p.handVars[i], p.hands[i].control)
	}
	for i := range p.wires {
		w := &p.wires[i]
		has(p.channel[i], p.s.Outputs[i].Channel-1)
		if p.setsOrder && len(w.leads) > 0 {
			_, pin := p.s.Pin(p.pins[w.leads[0].pin])
			has(p.slot[i], pin.Channel-1)
		}
		if p.setsPins {
			for l := range w.leads {
				has(p.leadVars[i][l], w.leads[l].pin)
			}
		}
	}
	return columns
}

// side adds a side of so many columns.
func (p *problem) side(columns int) int {
	p.Columns = append(p.Columns, columns)
	return len(p.Columns) - 1
}

// variable adds a variable of a side, with what each column costs.
func (p *problem) variable(side int, cost func(column int, t *tally) bool) int {
	v := allot.Var{Side: side, Cost: make([]int64, p.Columns[side])}
	for c := range v.Cost {
		t := tally{}
		if v.Cost[c] = allot.Never; cost(c, &t) {
			v.Cost[c] = t.cost
		}
	}
	p.Vars = append(p.Vars, v)
	return len(p.Vars) - 1
}

func (p *problem) addHands() {
	side := p.side(len(p.s.Transmitter.Controls))
	for i := range p.hands {
		h := &p.hands[i]
		p.handVars = append(p.handVars, p.variable(side, func(c int, t *tally) bool { return p.handCost(h, c, t) }))
	}
}

// linksOf gives the channels of the link that a column of a slot stands for.
func (p *problem) linksOf(column int) []int {
	if p.setsOrder {
		return []int{column + 1}
	}
	return p.arrives(column + 1)
}

func (p *problem) addSlots() {
	columns := p.channels
	if p.setsOrder {
		columns = p.arriving()
	}
	side := p.side(columns)
	p.placings = make([][]placing, len(p.wires))
	for i := range p.wires {
		w := &p.wires[i]
		if p.setsOrder && len(w.leads) == 0 {
			p.slot = append(p.slot, noVar)
			continue
		}
		p.placings[i] = make([]placing, columns)
		p.slot = append(p.slot, p.variable(side, func(c int, t *tally) bool {
			one := p.onLink(w, p.linksOf(c))
			p.placings[i][c] = one
			t.cost += one.cost
			return one.ok && (p.setsOrder || p.channelCost(w, c+1, t))
		}))
	}
}

// onLink places an output on some channels of the link: with its leads, or, where pins can be told
// their channel, without them.
func (p *problem) onLink(w *wire, links []int) placing {
	if len(links) == 0 && len(w.leads) == 0 {
		return placing{ok: true} // it is sent, and nothing hangs on it
	}
	if p.setsPins {
		return p.place(&wire{output: w.output, within: w.within, bits: w.bits, quick: w.quick, oneBit: w.oneBit},
			links)
	}
	return p.place(w, links)
}

// addChannels adds the channels of the transmitter where their order can be set. An output then
// keeps its channel, unless it is one that a control is sent on by itself, or unless such a control
// moves the output: any other exchange is set in the order at the same price.
func (p *problem) addChannels() {
	side := p.side(p.channels)
	own := map[int]bool{}
	for i := range p.s.Transmitter.Controls {
		own[p.s.Transmitter.Controls[i].OwnChannel] = true
	}
	for i := range p.wires {
		w := &p.wires[i]
		has := p.s.Outputs[i].Channel
		p.channel = append(p.channel, p.variable(side, func(c int, t *tally) bool {
			goes := own[has] || has > p.channels || w.direct >= 0 && own[c+1]
			return (c+1 == has || goes) && p.channelCost(w, c+1, t)
		}))
	}
}

// addLeads adds a variable for each lead. After the pins come columns that stand for a Y lead: the
// pin of the first lead of the same output.
func (p *problem) addLeads() {
	shared := 0
	for _, w := range p.wires {
		shared += max(0, len(w.leads)-1)
	}
	side, y := p.side(len(p.pins)+shared), len(p.pins)
	for i := range p.wires {
		w := &p.wires[i]
		var vars []int
		for l := range w.leads {
			own := -1
			if l > 0 {
				own, y = y, y+1
			}
			vars = append(vars, p.variable(side, func(c int, t *tally) bool {
				return c == own || c < len(p.pins) && p.pinCost(w, l, c, t)
			}))
			if l == 0 {
				continue
			}
			p.Terms = append(p.Terms, allot.Term{A: vars[0], B: vars[l], Cost: table(p.Columns[side],
				p.Columns[side], func(a, b int, t *tally) bool {
					if b != own || a >= len(p.pins) {
						return true
					}
					t.add(yLead, 1)
					return p.pinCost(w, l, a, t)
				})})
		}
		p.leadVars = append(p.leadVars, vars)
	}
}

// addTerms adds what two functions cost together.
func (p *problem) addTerms() {
	controls := len(p.s.Transmitter.Controls)
	for i := range p.wires {
		if h := p.wires[i].direct; h >= 0 && p.anyOwnChannel() {
			p.Terms = append(p.Terms, allot.Term{A: p.handVars[h], B: p.channel[i], Counted: true,
				Cost: table(controls, p.channels, func(a, b int, t *tally) bool {
					p.onOwnChannel(a, b+1, t)
					return true
				})})
		}
	}
	for a := range p.hands {
		for b := range p.hands[:a] {
			one, other := p.hands[a].asks.Does, p.hands[b].asks.Does
			if one == "drives" && other == "works" || one == "works" && other == "drives" {
				p.Terms = append(p.Terms, allot.Term{A: p.handVars[a], B: p.handVars[b],
					Cost: table(controls, controls, func(ca, cb int, t *tally) bool {
						p.together(a, b, ca, cb, t)
						return true
					})})
			}
		}
	}
	p.eachShared(p.addShared)
	if p.setsOrder {
		for i := range p.wires {
			if p.slot[i] != noVar {
				p.Terms = append(p.Terms, allot.Term{A: p.slot[i], B: p.channel[i],
					Cost: table(p.arriving(), p.channels, func(k, c int, t *tally) bool {
						t.add(entry, times(p.s.Link.Sent(k+1) != c+1))
						return true
					})})
			}
		}
	}
}

// mostTogether is to how many outputs of its shared limit an output is held.
const mostTogether = 3

// eachShared gives each two outputs of one shared limit that have leads.
func (p *problem) eachShared(yield func(a, b int)) {
	for i := range p.s.Shares {
		list := p.s.Shares[i].Outputs
		for k := range list {
			for _, other := range list[:min(k, mostTogether)] {
				a, b := p.s.Item(list[k]).Index, p.s.Item(other).Index
				if len(p.wires[a].leads) > 0 && len(p.wires[b].leads) > 0 {
					yield(a, b)
				}
			}
		}
	}
}

func (p *problem) anyOwnChannel() bool {
	return slices.ContainsFunc(p.s.Transmitter.Controls, func(c setup.Control) bool { return c.OwnChannel != 0 })
}

// addShared adds what two outputs of one shared limit cost together.
func (p *problem) addShared(a, b int) {
	columns := len(p.placings[a])
	if p.setsPins {
		p.Terms = append(p.Terms, allot.Term{A: p.slot[a], B: p.slot[b],
			Cost: table(columns, columns, func(ca, cb int, t *tally) bool {
				p.rates(p.linkOf(a, ca), p.linkOf(b, cb), t)
				return true
			})}, allot.Term{A: p.leadVars[a][0], B: p.leadVars[b][0],
			Cost: table(p.Columns[len(p.Columns)-1], p.Columns[len(p.Columns)-1], func(pa, pb int, t *tally) bool {
				p.receivers(pa, pb, t)
				return true
			})})
		return
	}
	p.Terms = append(p.Terms, allot.Term{A: p.slot[a], B: p.slot[b],
		Cost: table(columns, columns, func(ca, cb int, t *tally) bool {
			one, other := p.placings[a][ca], p.placings[b][cb]
			if one.ok && other.ok {
				p.rates(p.linkOf(a, ca), p.linkOf(b, cb), t)
				p.receivers(one.pins[0], other.pins[0], t)
			}
			return true
		})})
}

// linkOf gives the channel of the link on which an output arrives at its first lead, for a column
// of its slot; 0: nowhere.
func (p *problem) linkOf(wire, column int) int {
	one := p.placings[wire][column]
	if len(one.pins) > 0 {
		_, pin := p.s.Pin(p.pins[one.pins[0]])
		return pin.Channel
	}
	// of those that carry it, the one that costs least: as place has it
	best, link := tally{}, 0
	for _, k := range p.linksOf(column) {
		t := tally{}
		if p.linkCost(&p.wires[wire], k, &t) && (link == 0 || t.cost < best.cost) {
			best, link = t, k
		}
	}
	return link
}

// rates tallies that two outputs of one shared limit answer at different times.
func (r *reading) rates(ka, kb int, t *tally) {
	t.add(twoRates, times(ka != 0 && kb != 0 && r.s.LateMS(ka) != r.s.LateMS(kb)))
}

// receivers tallies that two outputs of one shared limit are on two receivers.
func (r *reading) receivers(a, b int, t *tally) {
	t.add(split, times(a < len(r.pins) && b < len(r.pins) && r.pins[a].Receiver != r.pins[b].Receiver))
}
