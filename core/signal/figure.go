package signal

import (
	"math"
	"slices"
)

// Figure is how a number of one frame comes from where the axes are: the instructions between, and the
// leaves, which are what else decides it. A search asks it where along an axis a comparison turns.
type Figure struct {
	Axes   []Slot // of the controls that are axes
	Leaves []Leaf

	p         *Program
	slot      Slot
	code      []int
	low, high []float64 // by slot: the bounds of what is worked out
}

// Leaf is a slot that has one of some values.
type Leaf struct {
	Slot   Slot
	Values []float64
}

// Figure gives how a slot comes about. ok is false where a number that the axes move takes time to get there,
// or a leaf has too many values.
func (p *Program) Figure(slot Slot) (f *Figure, ok bool) { return p.figure(slot, false) }

// FigureNow is Figure with what fades as a leaf too, whose values are not listed: for who reads them in a
// state.
func (p *Program) FigureNow(slot Slot) (f *Figure, ok bool) { return p.figure(slot, true) }

func (p *Program) figure(slot Slot, fades bool) (f *Figure, ok bool) {
	f = &Figure{p: p, slot: slot, low: slices.Clone(p.initial), high: slices.Clone(p.initial)}
	wanted := map[Slot]bool{slot: true}
	for i := len(p.code) - 1; i >= 0; i-- {
		in := &p.code[i]
		var own []Slot
		for _, gives := range p.gives(in) {
			if gives != None && wanted[gives] && !slices.Contains(own, gives) {
				own = append(own, gives)
			}
		}
		if own == nil {
			continue
		}
		if values, leaf := p.leaf(in); leaf {
			if values == nil || len(own) > 1 || own[0] != in.dst {
				return f, false
			}
			f.Leaves = append(f.Leaves, Leaf{own[0], values})
			delete(wanted, own[0])
			continue
		}
		reads, passes := p.passes(in, own)
		if in.op == opSum && fades {
			reads, passes = f.faded(p.terms[in.at:in.to]), true
		}
		if !passes {
			return f, false
		}
		f.code = append(f.code, i)
		for _, slot := range reads {
			if slot != None {
				wanted[slot] = true
			}
		}
		for _, slot := range own {
			delete(wanted, slot)
		}
	}
	slices.Reverse(f.code)
	return f, f.hands(wanted)
}

// faded takes what fades among the leaves, and gives what else a sum reads.
func (f *Figure) faded(terms []term) (reads []Slot) {
	for _, t := range terms {
		reads = append(reads, t.In)
		if t.fade > 0 {
			f.Leaves = append(f.Leaves, Leaf{Slot: t.Weight})
		} else {
			reads = append(reads, t.Weight)
		}
	}
	return reads
}

// hands takes the controls among what is wanted; what is carried from the frame before is no figure of
// this one.
func (f *Figure) hands(wanted map[Slot]bool) bool {
	for i, c := range f.p.setup.Transmitter.Controls {
		switch slot := f.p.controls[i]; {
		case !wanted[slot]:
		case c.Axis != nil:
			f.Axes = append(f.Axes, slot)
		default:
			f.Leaves = append(f.Leaves, Leaf{slot, upTo(len(c.Switch.Positions) - 1)})
		}
	}
	for slot := range wanted {
		if int(slot) < f.p.kept {
			return false
		}
	}
	return true
}

// passes gives what an instruction makes its slots of, where it does so in the same frame; own are those that
// are looked at.
func (p *Program) passes(in *inst, own []Slot) (reads []Slot, ok bool) {
	switch in.op {
	case opCopy, opSpread, opLookUp, opCurve, opDemand, opShareScale, opShareTurn, opLearn, opOneBit:
		return p.operands(in), true
	case opHalfRate: // what it repeats arrived by the same figure
		return []Slot{in.a}, true
	case opSum:
		for _, t := range p.terms[in.at:in.to] {
			if t.fade > 0 {
				return nil, false
			}
		}
		return p.operands(in), true
	case opOutput:
		o := &p.outputs[in.at]
		return []Slot{o.shared}, !o.slewed || !slices.Contains(own, o.p) && !slices.Contains(own, o.us)
	}
	return nil, false
}

// leaf gives the values of what an instruction makes that is no number of the axes; nil where they are
// not known.
func (p *Program) leaf(in *inst) (values []float64, ok bool) {
	switch in.op {
	case opIs, opNot, opInside, opAnd, opOr, opXor, opAbove, opBelow, opBetween, opRise, opFall, opSetWins,
		opResetWins, opToggle, opOnDelay, opOffDelay, opPulseFor:
		return []float64{0, 1}, true
	case opStepper:
		return upTo(int(p.steppers[in.at].last)), true
	case opSequence:
		return nil, true // a place in time, with the rounding of how it came there
	case opPattern:
		return append(slices.Clone(p.patterns[in.at].steps), p.patterns[in.at].rest), true
	case opBefore, opBeforeKept:
		for i := range p.code {
			if of := &p.code[i]; of.dst == in.a && of.op != opBefore && of.op != opBeforeKept {
				if values, ok := p.leaf(of); ok {
					return values, true
				}
			}
		}
		return nil, true
	}
	return nil, false
}

func upTo(last int) []float64 {
	var values []float64
	for k := range last + 1 {
		values = append(values, float64(k))
	}
	return values
}

// Slewed bounds where output i stands a frame after it stood within a span, while it makes for another.
func (p *Program) Slewed(i int, from, target Span) Span {
	o := &p.outputs[p.Routes[i].stage]
	if !o.slewed {
		return target
	}
	return Span{slew(from.Low, target.Low, o.up, o.down, false), slew(from.High, target.High, o.up,
		o.down, false)}
}

// Read puts every leaf where it is in a state.
func (f *Figure) Read(st *State) {
	for _, leaf := range f.Leaves {
		v := st.V[leaf.Slot]
		f.Put(leaf.Slot, Span{v, v})
	}
}

// Put says where an axis or a leaf is: anywhere within a span.
func (f *Figure) Put(slot Slot, within Span) { f.low[slot], f.high[slot] = within.Low, within.High }

// Span bounds the figure. Where every axis and leaf is at one value, it is what a frame computes.
func (f *Figure) Span() Span {
	for _, i := range f.code {
		f.run(&f.p.code[i])
	}
	return Span{f.low[f.slot], f.high[f.slot]}
}

func (f *Figure) at(slot Slot) Span { return Span{f.low[slot], f.high[slot]} }

// run bounds what one instruction makes.
func (f *Figure) run(in *inst) {
	p := f.p
	a := f.at(in.a)
	switch in.op {
	case opCopy, opHalfRate:
		f.Put(in.dst, a)
	case opSpread:
		f.Put(in.dst, a.at(func(v float64) float64 { return spread(v, in.x) }))
	case opLookUp:
		at := func(v float64) float64 { return p.tables[int(in.at)+int(v)] }
		out := a.at(at)
		for v := a.Low; v < a.High; v++ {
			out = out.With(Span{at(v), at(v)})
		}
		f.Put(in.dst, out)
	case opCurve:
		f.Put(in.dst, a.turning(p.curves[in.at].at, p.curves[in.at].x...))
	case opLearn:
		f.Put(in.dst, a.at(func(us float64) float64 { return p.learn(us, in) }))
	case opOneBit:
		f.Put(in.dst, a.at(p.oneBit))
	case opDemand:
		p.demands[in.at].bound(f)
	case opSum:
		f.sum(p.terms[in.at:in.to])
	case opShareScale, opShareTurn:
		p.shares[in.at].bound(f, in.op == opShareScale)
	case opOutput:
		p.outputs[in.at].bound(f, &p.pulse)
	}
}

// rates bounds the rate: that of the first arm that holds, or the own; of an arm of which it is open, either.
func (d *demand) rates(f *Figure) Span {
	var list []float64
	sure := false
	for _, arm := range d.arms {
		if !sure && f.high[arm.when] != 0 {
			list, sure = append(list, arm.rate), f.low[arm.when] != 0
		}
	}
	if !sure {
		list = append(list, d.rate)
	}
	return Span{slices.Min(list), slices.Max(list)}
}

// bound does for spans what step does: the same steps, at the rate that holds.
func (d *demand) bound(f *Figure) {
	rates := Span{}
	if d.arms != nil {
		rates = d.rates(f)
		f.Put(d.Rate, rates)
	}
	x := f.at(d.In)
	put := func(slot Slot, s Span) Span {
		if slot != None {
			f.Put(slot, s)
		}
		return s
	}
	if d.Deadband != None {
		x = put(d.Deadband, x.at(func(v float64) float64 { return deadband(v, d.dead) }))
	}
	if d.Expo != None {
		x = put(d.Expo, x.turning(func(v float64) float64 { return expo(v, d.straight, d.cubed) },
			expoTurns(d.straight, d.cubed)...))
	}
	if d.Rated != None {
		rated := func(rate float64) Span { return x.at(func(v float64) float64 { return v * rate / 100 }) }
		if d.arms != nil {
			x = put(d.Rated, rated(rates.Low).With(rated(rates.High)))
		} else {
			x = put(d.Rated, x.at(func(v float64) float64 { return v * d.scale }))
		}
	}
	if d.Curve != None {
		x = put(d.Curve, x.turning(d.curve.at, d.curve.x...))
	}
	if d.limits {
		put(d.Out, x.at(func(v float64) float64 { return clamp(v+d.trim, -150, 150) }))
	}
}

// sum does for spans what sum does.
func (f *Figure) sum(terms []term) {
	acc := Span{}
	for i := range terms {
		t := &terms[i]
		x := f.at(t.In)
		if t.shape != shapePlain {
			x = x.turning(func(v float64) float64 { return shaped(v, t.shape) }, 0)
			f.Put(t.Shaped, x)
		}
		if t.gains {
			x = x.turning(func(v float64) float64 { return gain(v, t.pos, t.neg, t.bias) }, 0)
			f.Put(t.V, x)
		}
		c := combinedSpan(t.combine, acc, x)
		switch {
		case t.Weight == None || f.low[t.Weight] == 1:
			acc = c
		case f.low[t.Weight] != f.high[t.Weight]:
			acc = acc.With(c)
		case f.low[t.Weight] != 0:
			acc = Span{blend(acc.Low, c.Low, f.low[t.Weight]), blend(acc.High, c.High, f.low[t.Weight])}
		}
		if t.store {
			f.Put(t.Acc, acc)
		}
	}
}

// bound does for spans what scale and keepTurn do.
func (s *share) bound(f *Figure, scales bool) {
	least, most := 0.0, 0.0
	for _, slot := range s.in {
		in := f.at(slot)
		size := in.turning(math.Abs, 0)
		least, most = max(least, size.Low), max(most, size.High)
	}
	f.Put(s.most, Span{least, most})
	shift := Span{}
	if !scales && most > 100 {
		shift = s.shift(f, least)
	}
	for i, slot := range s.in {
		in := f.at(slot)
		out := Span{in.Low + shift.Low, in.High + shift.High}
		if scales && most > 100 {
			out = in.at(func(v float64) float64 { return float64(v*100) / most })
			if least <= 100 {
				out = out.With(in)
			} else {
				out = out.With(in.at(func(v float64) float64 { return float64(v*100) / least }))
			}
			out = Span{max(out.Low, -100), min(out.High, 100)}
		}
		f.Put(s.out[i], out)
	}
}

// shift bounds by how much keepTurn moves both.
func (s *share) shift(f *Figure, least float64) Span {
	out := Span{math.Inf(1), math.Inf(-1)}
	for _, slot := range s.in {
		in := f.at(slot)
		size := in.turning(math.Abs, 0)
		if size.High < least {
			continue // it is never the largest
		}
		moves := Span{max(size.Low, least, 100) - 100, max(size.High, 100) - 100}
		if in.High > 0 {
			out = out.With(Span{-moves.High, -moves.Low})
		}
		if in.Low < 0 {
			out = out.With(moves)
		}
	}
	if least <= 100 {
		out = out.With(Span{})
	}
	return out
}

// bound does for spans what step does, without the slew.
func (o *output) bound(f *Figure, pulse *scale) {
	asked := f.at(o.shared).at(func(v float64) float64 { return clamp(v, -100, 100) })
	f.Put(o.asked, asked)
	if o.reverse {
		asked = Span{-asked.High, -asked.Low}
		f.Put(o.turned, asked)
	}
	target := asked.at(o.at)
	f.Put(o.target, target)
	if !o.slewed {
		f.Put(o.us, target.at(pulse.us))
	}
}

// Cut is a place of a number at which a comparison turns: at or above At is another side than below it, or,
// where Over is set, above it another than at or below it.
type Cut struct {
	Of   Slot
	At   float64
	Over bool
}

// Beyond tells on which side of the cut a number is.
func (c Cut) Beyond(v float64) bool { return v > c.At || v == c.At && !c.Over }

// Cuts lists the comparisons of a program that turn a number into a truth.
func (p *Program) Cuts() []Cut {
	var cuts []Cut
	for i := range p.code {
		in := &p.code[i]
		at := func(v float64, over bool) { cuts = append(cuts, Cut{in.a, v, over}) }
		switch in.op {
		case opAbove:
			at(in.x, false)
			at(in.y, false)
		case opBelow:
			at(in.x, true)
			at(in.y, true)
		case opBetween:
			at(in.x, false)
			at(in.y, true)
			at(in.x-in.z, false)
			at(in.y+in.z, true)
		case opSwitchPin:
			at(in.x, in.y == 0)
		case opDevice:
			cuts = append(cuts, p.devices[in.at].cuts(p)...)
		}
	}
	return cuts
}

// cuts lists where the pulse of a device turns what it remembers or does.
func (d *device) cuts(p *Program) []Cut {
	var cuts []Cut
	at := func(us float64, over bool) { cuts = append(cuts, Cut{d.us, us, over}) }
	switch d.kind {
	case kindOnOff:
		at(d.x[0], !d.flags[0])
	case kindStepBox:
		for _, side := range []float64{-d.x[1], d.x[1]} {
			us := p.pulse.CentreUS + side*p.pulse.HalfSpanUS/100
			for _, near := range []float64{math.Nextafter(us, 0), us, math.Nextafter(us, math.Inf(1))} {
				at(near, false)
				at(near, true)
			}
		}
	case kindEsc:
		at(d.x[0]+d.x[1], true)
		at(d.x[0]-d.x[1], false)
	}
	if d.swap != None {
		cuts = append(cuts, Cut{d.swap, d.x[5], true})
	}
	return cuts
}

// Wait is a count of frames that stands still before it begins and once it is over.
type Wait struct {
	Count Slot
	Need  float64 // frames; it runs from 0 until it is as much
	Block int     // the block whose it is; -1: a receiver's
}

// Waits lists the counts of a program: timers, and receivers that wait for a lost signal.
func (p *Program) Waits() []Wait {
	var list []Wait
	for i := range p.code {
		switch in := &p.code[i]; in.op {
		case opOnDelay, opOffDelay, opPulseFor:
			list = append(list, Wait{in.c, in.x, slices.Index(p.blockAt, int32(i))})
		case opReceiver:
			list = append(list, Wait{p.receivers[in.at].lost, p.receivers[in.at].need, -1})
		}
	}
	return list
}

// Fold brings counts that grow without end back to an equal one: the same follows from them.
func (p *Program) Fold(st *State) {
	v := st.V
	for i := range p.patterns {
		c := &p.patterns[i]
		total := c.ends[len(c.ends)-1]
		switch n := v[c.frames]; {
		case n <= 0:
		case c.loop:
			if round := wholeFrames(total, c.frame); n >= round {
				v[c.frames] = math.Mod(n, round)
			}
		default:
			v[c.frames] = lesser(n, math.Ceil(total/c.frame)+1)
		}
	}
	for i := range p.steppers {
		s := &p.steppers[i]
		if s.repeatS == 0 {
			continue
		}
		round := wholeFrames(s.repeatS, s.frame)
		for _, held := range []Slot{s.upFor, s.downFor} {
			if held != slotFirst && v[held] >= round {
				v[held] = math.Mod(v[held], round)
			}
		}
	}
}

// wholeFrames gives the fewest frames that last a whole number of times as long as s seconds, to the
// microsecond.
func wholeFrames(s, frame float64) float64 {
	whole := int64(math.Round(s * 1e6))
	a, b := whole, int64(math.Round(frame*1e6))
	for b != 0 {
		a, b = b, a%b
	}
	return float64(whole / a)
}
