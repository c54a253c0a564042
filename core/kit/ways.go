package kit

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/travel"
	"axtren/core/words"
)

// find offers the ways around a misfit. What is offered is tried: a way that brings another
// misfit, or that the document cannot take, falls away.
func (f *finder) find() {
	switch f.of.Rule {
	case TooManyMixes:
		f.fewerMixes()
	case NoSuchCurve:
		f.otherCurve()
	case TooManyRates:
		f.fewerRates()
	case NoSuchChannel:
		f.otherChannel()
	case NoSlew:
		f.slewElsewhere()
	case TooManySteppers:
		f.switchForSteps()
	case TooSlow, TooCoarse:
		f.otherTrade()
		f.otherLead()
	case EndTooFar:
		f.nearerEnd()
	case NoSuchFigure:
		f.otherFigure()
	case NoLossPosition:
		f.offer("let "+f.output()+" do on a lost signal what its receiver does by itself",
			"the position that it was to go to", f.change().take(f.of.Part, "loss"))
	case CannotLook:
		f.offer("leave this out of the start check", "the transmitter sends whatever stands there",
			f.change().remove(f.of.Part))
	default:
		f.otherBlocks()
	}
}

func (f *finder) output() string { return f.s.OutputLabel(f.of.Part.Index) }

// fewerMixes joins mixes of one source, and makes the gain of a mix that is alone the ends of
// its function; where that is not enough, it leaves out what moves least.
func (f *finder) fewerMixes() {
	c, said, gone := f.change(), []string{}, map[int]bool{}
	need := len(CountedMixes(f.s)) - *f.can.Mixes
	for i := range f.s.Outputs {
		mixes := f.s.MixesTo(i)
		for k, first := range mixes {
			joined := []int{first}
			for _, second := range mixes[k+1:] {
				if len(gone) < need && !gone[first] && !gone[second] && f.joins(first, second) {
					joined, gone[second] = append(joined, second), true
				}
			}
			if len(joined) > 1 {
				f.join(c, joined)
				said = append(said, fmt.Sprintf("join the %d mixes of %s into %s", len(joined),
					words.Source(f.s, f.s.Mixes[first].From), f.s.OutputLabel(i)))
			}
		}
		if len(mixes) == 1 && len(gone) < need && f.toEnds(c, i, mixes[0]) {
			gone[mixes[0]] = true
			said = append(said, "take "+f.s.OutputLabel(i)+" straight from "+
				words.Source(f.s, f.s.Mixes[mixes[0]].From)+", with its gain in the ends")
		}
	}
	if len(gone) >= need {
		f.offer(words.And(said), "", c)
		return
	}
	f.leaveOut(c, said, gone, need-len(gone))
}

// joins tells whether two mixes of one output can be one: the same source always, added up.
func (f *finder) joins(first, second int) bool {
	a, b := &f.s.Mixes[first], &f.s.Mixes[second]
	for _, i := range f.s.MixesTo(f.s.Item(a.To).Index) {
		if i > first && i <= second && f.s.Mixes[i].Combine != "add" {
			return false
		}
	}
	return a.From.String() == b.From.String() && isPlain(a) && isPlain(b) && a.Combine == "add"
}

// join makes mixes one, the first of them.
func (f *finder) join(c *change, mixes []int) {
	pos, neg := 0.0, 0.0
	for k, i := range mixes {
		pos, neg = pos+f.s.Mixes[i].Gain.Pos, neg+f.s.Mixes[i].Gain.Neg
		if k > 0 {
			c.remove(setup.IsMix.At(i))
		}
	}
	c.set(setup.IsMix.At(mixes[0]), "gain", gainOf(pos, neg))
}

// gainOf writes a gain as a document has it.
func gainOf(pos, neg float64) any {
	if pos == neg {
		return pos
	}
	return map[string]float64{"pos": pos, "neg": neg}
}

// toEnds puts the gain of the only mix of an output into its ends: what was half the way of
// a whole stick is the whole way to an end half as far.
func (f *finder) toEnds(c *change, output, mix int) bool {
	m, o := &f.s.Mixes[mix], &f.s.Outputs[output]
	plus, minus := m.Gain.Pos/100, m.Gain.Neg/100
	if !isPlain(m) || plus*minus <= 0 || math.Abs(plus) > 1 || math.Abs(minus) > 1 ||
		plus == 1 && minus == 1 || f.s.ShareOf(output) >= 0 {
		return false
	}
	turned := plus < 0
	if turned {
		plus, minus = -plus, -minus
	}
	reverse := o.Reverse != turned
	high, low := plus, minus // which side of the servo the gain of which side of the stick moves
	if reverse {
		high, low = minus, plus
	}
	part := setup.IsOutput.At(output)
	c.set(setup.IsMix.At(mix), "gain", 100)
	c.set(part, "reverse", reverse)
	c.set(part, "high", o.Centre+(o.High-o.Centre)*high)
	c.set(part, "low", o.Centre-(o.Centre-o.Low)*low)
	return true
}

// mostTried is how many mixes are tried to be left out where one must be, mostOut how many may
// have to be, so that what is left is still the model.
const (
	mostTried = 4
	mostOut   = 2
)

// leaveOut leaves out as many mixes as are too many, those that bring least.
func (f *finder) leaveOut(c *change, spared []string, gone map[int]bool, n int) {
	var list []int
	for _, i := range CountedMixes(f.s) {
		if !gone[i] {
			list = append(list, i)
		}
	}
	slices.SortStableFunc(list, func(a, b int) int { return cmp.Compare(f.brings(a), f.brings(b)) })
	if n > min(mostOut, len(list)) {
		return
	}
	tried := [][]int{list[:n]}
	if n == 1 {
		tried = nil
		for _, i := range list[:min(mostTried, len(list))] {
			tried = append(tried, []int{i})
		}
	}
	for _, out := range tried {
		without, said := &change{f.s, slices.Clone(c.ops), slices.Clone(c.out)}, slices.Clone(spared)
		for _, i := range out {
			without.remove(setup.IsMix.At(i))
			said = append(said, "leave out the mix of "+words.Source(f.s, f.s.Mixes[i].From)+" into "+
				f.s.OutputLabel(f.s.Item(f.s.Mixes[i].To).Index))
		}
		f.offer(words.And(said), "", without)
	}
}

// brings is how much a mix brings at most, percent.
func (f *finder) brings(i int) float64 {
	below, above := signal.Slopes(&f.s.Mixes[i])
	return 100 * max(math.Abs(below), math.Abs(above))
}

// mostSets is how many choices of points of a curve are looked at.
const mostSets = 20_000

// otherCurve makes the curve of a number of points that there is: fewer of its own, those
// that leave least of it out, or more, on it.
func (f *finder) otherCurve() {
	d := &f.s.Demands[f.of.Part.Index]
	if len(*f.can.CurvePoints) == 0 { // it has none
		f.offer("leave the curve out", "", f.change().take(f.of.Part, "curve"))
	}
	for _, n := range *f.can.CurvePoints {
		points, said := kept(d.Curve, d.Smooth, n), "keep"
		if n > len(d.Curve) {
			points, said = more(d.Curve, d.Smooth, n), "give it"
		}
		if points == nil {
			continue
		}
		var at []string
		for _, p := range points {
			at = append(at, words.SignedShort(p[0]))
		}
		f.offer(fmt.Sprintf("%s %d points of the curve, at %s", said, n, words.And(at)), "",
			f.change().set(f.of.Part, "curve", points))
	}
}

// kept gives the n points of a curve that leave least of it out, its ends among them.
func kept(points []setup.Point, smooth bool, n int) []setup.Point {
	if n < 2 || n >= len(points) || binomial(len(points)-2, n-2) > mostSets {
		return nil
	}
	whole := signal.CurveOf(points, smooth)
	var best []setup.Point
	least := math.Inf(1)
	var choose func(chosen []setup.Point, from int)
	choose = func(chosen []setup.Point, from int) {
		if len(chosen) == n-1 {
			chosen = append(chosen, points[len(points)-1])
			if apart := curvesApart(whole, signal.CurveOf(chosen, smooth)); apart < least {
				best, least = slices.Clone(chosen), apart
			}
			return
		}
		for i := from; i < len(points)-1; i++ {
			choose(append(slices.Clone(chosen), points[i]), i+1)
		}
	}
	choose(points[:1:1], 1)
	return best
}

// more gives a curve n points, the further ones on it, each in the middle of the widest gap.
func more(points []setup.Point, smooth bool, n int) []setup.Point {
	whole, all := signal.CurveOf(points, smooth), slices.Clone(points)
	for len(all) < n {
		widest := 1
		for i := 2; i < len(all); i++ {
			if all[i][0]-all[i-1][0] > all[widest][0]-all[widest-1][0] {
				widest = i
			}
		}
		x := (all[widest-1][0] + all[widest][0]) / 2
		all = slices.Insert(all, widest, setup.Point{x, whole(x)})
	}
	return all
}

// curvesApart is how far two curves are apart at most, on a grid of half percents.
func curvesApart(a, b func(float64) float64) float64 {
	most := 0.0
	for x := -100.0; x <= 100; x += 0.5 {
		most = max(most, math.Abs(a(x)-b(x)))
	}
	return most
}

// binomial is how many choices of k out of n there are, or very many.
func binomial(n, k int) int {
	choices := 1
	for i := range k {
		if choices = choices * (n - i) / (i + 1); choices > mostSets {
			return choices
		}
	}
	return choices
}

// fewerRates leaves out as many of the rates as are too many: each one, or the last ones.
func (f *finder) fewerRates() {
	d, part := &f.s.Demands[f.of.Part.Index], f.of.Part
	over := len(d.Rates) + 1 - *f.can.Rates
	without := func(from, to int) {
		rates, said := []any{}, []string{}
		for i, r := range d.Rates {
			if i >= from && i < to {
				said = append(said, fmt.Sprintf("%s (%s)", words.Short(r.Rate), words.Truth(f.s, r.When)))
				continue
			}
			rates = append(rates, map[string]any{"when": string(r.When), "rate": r.Rate})
		}
		f.offer("leave out the rate of "+words.And(said), "", f.change().set(part, "rates", rates))
	}
	if over == 1 {
		for i := range d.Rates {
			without(i, i+1)
		}
		return
	}
	without(len(d.Rates)-min(over, len(d.Rates)), len(d.Rates))
}

// otherChannel exchanges a channel that the transmitter does not have for a free one, and the
// pins with it.
func (f *finder) otherChannel() {
	old := f.s.Outputs[f.of.Part.Index].Channel
	used := map[int]bool{}
	for i := range f.s.Outputs {
		used[f.s.Outputs[i].Channel] = true
	}
	for k := 1; k <= *f.can.Channels; k++ {
		if used[k] {
			continue
		}
		c := f.change().set(f.of.Part, "channel", k)
		exchange := map[int]int{f.arrives(old): f.arrives(k), f.arrives(k): f.arrives(old)}
		for r := range f.s.Receivers {
			for j, pin := range f.s.Receivers[r].Pins {
				if to, moved := exchange[pin.Channel]; moved && pin.Channel != 0 && to != 0 {
					c.set(setup.IsReceiver.At(r), fmt.Sprintf("pins/%d/channel", j), to)
				}
			}
		}
		f.offer(fmt.Sprintf("put %s on channel %d, which is free, and its pin with it", f.output(), k), "", c)
		return
	}
}

// otherTrade lets the radio send at another rate, with the steps that it has then.
func (f *finder) otherTrade() {
	for i, t := range f.s.Link.Trades {
		c := f.change()
		c.op("add", "/transmitter/frame_ms", t.FrameMS)
		c.op("add", "/link/bits", t.Bits)
		c.op("add", fmt.Sprintf("/link/trades/%d/frame_ms", i), f.s.Transmitter.FrameMS)
		if f.s.Link.Bits > 0 {
			c.op("add", fmt.Sprintf("/link/trades/%d/bits", i), f.s.Link.Bits)
		}
		f.offer(fmt.Sprintf("let the radio send every %d ms, each channel in %d steps", t.FrameMS, 1<<t.Bits),
			"", c)
	}
}

// otherLead exchanges the channel of a function, and what is plugged into its pin, with those of
// another one that asks for less; at most two are tried that would do.
func (f *finder) otherLead() {
	i, found := f.of.Part.Index, 0
	own := f.s.Carriers(i)
	if len(own) != 1 {
		return // what goes to several pins is wired anew by hand
	}
	for j := range f.s.Outputs {
		other := f.s.Carriers(j)
		if j == i || len(other) != 1 || found == 2 {
			continue
		}
		c := f.change().set(f.of.Part, "channel", f.s.Outputs[j].Channel).
			set(setup.IsOutput.At(j), "channel", f.s.Outputs[i].Channel)
		f.plug(c, own[0], other[0])
		f.plug(c, other[0], own[0])
		before := len(f.ways)
		f.offer(fmt.Sprintf("exchange the channels of %s and %s, and their leads at the receiver", f.output(),
			f.s.OutputLabel(j)), "", c)
		found += len(f.ways) - before
	}
}

// plug moves what hangs on a pin to another one.
func (f *finder) plug(c *change, from, to setup.PinRef) {
	rx, pin := f.s.Pin(to)
	for _, k := range f.s.Leads(from) {
		c.set(setup.IsDevice.At(k), "on", fmt.Sprintf("%s.%d", rx.ID, pin.Pin))
	}
}

// arrives gives the channel of the receiver on which one of the transmitter arrives; 0: none.
func (f *finder) arrives(sent int) int {
	for k := 1; k <= f.s.Link.Channels; k++ {
		if f.s.Link.Sent(k) == sent {
			return k
		}
	}
	return 0
}

// slewElsewhere lets slow servos do what a slow channel did, or lets it be quick.
func (f *finder) slewElsewhere() {
	i := f.of.Part.Index
	o, devices := &f.s.Outputs[i], f.s.Drives(i)
	c := f.change().take(f.of.Part, "slew_s")
	f.offer("let "+f.output()+" go as fast as its servo does", "its slow way: look first what that breaks", c)
	if len(devices) == 0 || o.Slew.Up != o.Slew.Down {
		return
	}
	slow := f.change().take(f.of.Part, "slew_s")
	for _, k := range devices {
		servo, ok := f.s.Devices[k].Spec.(*setup.Servo)
		if !ok {
			return
		}
		slow.set(setup.IsDevice.At(k), "speed_s", max(servo.SpeedS, o.Slew.Up))
	}
	f.offer(fmt.Sprintf("fit a servo that takes %s s for its whole way, or a box that slows it in the lead",
		words.Short(o.Slew.Up)), "another part to buy", slow)
}

// nearerEnd brings an end in to as far as the transmitter goes.
func (f *finder) nearerEnd() {
	field, i := f.field(), f.of.Part.Index
	typed := math.Copysign(*f.can.EndpointMax, keyed(f.s, i, field))
	if menu := menuOf(f.can, func(sc *setup.Scales) *setup.Menu { return sc.Endpoint }); menu != nil {
		scale := travel.ScaleOf(menu, f.s.Outputs[i].Channel, "percent")
		typed, _ = travel.Less(scale, typed, &f.s.Transmitter.Pulse)
	}
	f.setEnd(field, typed)
}

// field is the field of the part that a misfit is about.
func (f *finder) field() string { return strings.TrimPrefix(f.of.Where, f.of.Part.Path()+".") }

// setEnd offers another end, given as the set counts it.
func (f *finder) setEnd(field string, typed float64) {
	i := f.of.Part.Index
	o := &f.s.Outputs[i]
	from := 0.0
	if f.can.EndpointFrom == "centre" {
		from = o.Centre
	}
	at := from + typed
	if field == "low" {
		at = from - typed
	}
	f.offer(fmt.Sprintf("let %s go to %s", f.output(), words.Short(math.Abs(typed))), "",
		f.change().set(f.of.Part, field, at))
}

// otherFigure takes the next figure that a menu has: of an end the one that goes less far.
func (f *finder) otherFigure() {
	field, part, pulse := f.field(), f.of.Part, &f.s.Transmitter.Pulse
	nearest := func(v float64, menu *setup.Menu, channel int) float64 {
		at, _ := travel.Nearest(travel.ScaleOf(menu, channel, "percent"), v, pulse)
		return at
	}
	scales := f.can.Scales
	say := func(v float64) string { return "use " + words.SignedShort(v) }
	switch part.Kind {
	case setup.IsDemand:
		at := nearest(f.s.Demands[part.Index].Trim, scales.Trim, 0)
		f.offer(say(at), "", f.change().set(part, "trim", at))
	case setup.IsMix:
		m := &f.s.Mixes[part.Index]
		channel := f.s.Outputs[f.s.Item(m.To).Index].Channel
		pos, neg := nearest(m.Gain.Pos, scales.Gain, channel), nearest(m.Gain.Neg, scales.Gain, channel)
		if field == "gain.neg" {
			f.offer(say(neg), "", f.change().set(part, "gain", gainOf(m.Gain.Pos, neg)))
			return
		}
		if !m.Gain.Split {
			neg = pos
		} else {
			neg = m.Gain.Neg
		}
		f.offer(say(pos), "", f.change().set(part, "gain", gainOf(pos, neg)))
	case setup.IsOutput:
		o := &f.s.Outputs[part.Index]
		switch field {
		case "centre":
			at := nearest(o.Centre, scales.Trim, o.Channel)
			f.offer(say(at), "", f.change().set(part, "centre", at))
		case "loss.value":
			at := nearest(*o.Loss.Value, scales.Failsafe, o.Channel)
			f.offer(say(at), "", f.change().set(part, "loss/value", at))
		default:
			typed, _ := travel.Less(travel.ScaleOf(scales.Endpoint, o.Channel, "percent"),
				keyed(f.s, part.Index, field), pulse)
			f.setEnd(field, typed)
		}
	}
}
