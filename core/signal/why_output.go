package signal

import (
	"fmt"
	"math"

	"axtren/core/words"
)

// From the pulse that an output sends back to what its mixes bring.

func (w why) pulse(i int) Reason {
	r, pulse := &w.p.Routes[i], &w.p.pulse
	p := w.at(r.P)
	half := pulse.HalfSpanUS / 100
	sign := "+"
	if p < 0 {
		sign = "−"
	}
	sum := fmt.Sprintf("%s %s %s × %s", words.Short(pulse.CentreUS), sign, words.Figure(math.Abs(p)),
		words.Short(half))
	exact, us := pulse.CentreUS+float64(p*half), w.at(r.US)
	switch {
	case us == pulse.MinUS && exact < us || us == pulse.MaxUS && exact > us:
		sum += ", no further than " + words.Short(us)
	case math.Abs(exact-us) > 0.005:
		sum += ", in steps of " + words.Short(pulse.StepUS)
	}
	return Reason{Name: "pulse", Sum: sum, Value: us, Unit: "µs", Path: "transmitter.pulse",
		From: []Reason{w.position(i)}}
}

func (w why) position(i int) Reason {
	r := &w.p.Routes[i]
	target := w.target(i)
	if r.P == r.Target {
		return target
	}
	sum := words.Figure(target.Value) + ", reached"
	if w.at(r.P) != target.Value {
		step := "on the way to " + words.Figure(target.Value)
		stage := &w.p.outputs[r.stage]
		if w.at(r.P) < target.Value {
			sum = step + ", " + words.Figure(stage.up) + " a frame"
		} else {
			sum = step + ", " + words.Figure(stage.down) + " a frame"
		}
	}
	return Reason{Name: "slowed", Sum: sum, Value: w.at(r.P), Unit: "%", Path: outputPath(i, "slew_s"),
		From: []Reason{target}}
}

func outputPath(i int, field string) string { return fmt.Sprintf("outputs[%d].%s", i, field) }

func (w why) target(i int) Reason {
	r, o := &w.p.Routes[i], &w.p.setup.Outputs[i]
	v := w.at(r.Turned)
	way, end, field := v/100, o.High, "high"
	if v < 0 {
		way, end, field = -v/100, o.Low, "low"
	}
	sum := fmt.Sprintf("%s / 100 × %s", words.Figure(v), words.Short(math.Abs(end-o.Centre)))
	if o.Centre != 0 {
		sum = fmt.Sprintf("%s + %s / 100 × %s", words.Short(o.Centre), words.Figure(100*way),
			innerShort(end-o.Centre))
	}
	return Reason{Name: fmt.Sprintf("ends %s … %s", words.SignedShort(o.Low), words.SignedShort(o.High)),
		Sum: sum, Value: w.at(r.Target), Unit: "%",
		Path: outputPath(i, field), From: []Reason{w.turned(i)}}
}

func (w why) turned(i int) Reason {
	r := &w.p.Routes[i]
	asked := w.asked(i)
	if r.Turned == r.Asked {
		return asked
	}
	return Reason{Name: words.Reversed(true), Sum: "0 − " + inner(asked.Value), Value: w.at(r.Turned),
		Unit: "%",
		Path: outputPath(i, "reverse"), From: []Reason{asked}}
}

func (w why) asked(i int) Reason {
	r := &w.p.Routes[i]
	shared := w.share(i)
	if w.at(r.Asked) == shared.Value {
		return shared
	}
	return Reason{Name: "limited to 100", Sum: "cut from " + words.Figure(shared.Value), Value: w.at(r.Asked),
		Unit: "%",
		Path: fmt.Sprintf("outputs[%d]", i), From: []Reason{shared}}
}

func (w why) share(i int) Reason {
	r := &w.p.Routes[i]
	own := w.sum(i)
	before, after := w.at(r.Sum), w.at(r.Shared)
	if r.Share < 0 || before == after {
		return own
	}
	sh := w.p.setup.Shares[r.Share]
	most, from := w.at(r.most), []Reason{own}
	for _, id := range sh.Outputs {
		if other := w.p.setup.Item(id).Index; other != i {
			from = append(from, w.sum(other))
		}
	}
	name, sum := words.WayOf(words.Rules, sh.Rule).Name, fmt.Sprintf("%s × 100 / %s", words.Figure(before),
		words.Figure(most))
	if sh.Rule == "keep_turn" {
		sum = fmt.Sprintf("%s + %s", words.Figure(before), inner(after-before))
		if after < before {
			sum = fmt.Sprintf("%s − %s", words.Figure(before), words.Figure(before-after))
		}
	}
	return Reason{Name: name, Sum: sum, Value: after, Unit: "%", Path: fmt.Sprintf("shares[%d]", r.Share),
		From: from}
}

func (w why) sum(i int) Reason {
	r := &w.p.Routes[i]
	acc := Reason{Name: "nothing is asked", Value: 0, Unit: "%", Path: fmt.Sprintf("outputs[%d]", i)}
	for k := range r.Terms {
		t := &r.Terms[k]
		m := &w.p.setup.Mixes[t.Mix]
		term := w.term(t)
		if k == 0 && m.Combine == "add" && t.Weight == None {
			acc = term
			continue
		}
		acc = Reason{Name: words.WayOf(words.Combines, m.Combine).Name,
			Sum: combineSum(m.Combine, acc.Value, term.Value), Value: w.at(t.Acc), Unit: "%",
			Path: fmt.Sprintf("mixes[%d].combine", t.Mix), From: []Reason{acc, term}}
		if t.Weight == None {
			continue
		}
		switch f := w.at(t.Weight); {
		case f == 0:
			acc.Name = "left as it is: " + words.Truth(w.p.setup, m.When.Opposite())
			acc.Sum = words.Figure(acc.Value)
		case f < 1:
			acc.Name, acc.Sum = acc.Name+", fading", fmt.Sprintf("%s of the way to %s", words.Figure(f),
				acc.Sum)
		}
	}
	return acc
}

func combineSum(combine string, acc, v float64) string {
	switch combine {
	case "times":
		return fmt.Sprintf("%s × %s / 100", words.Figure(acc), inner(v))
	case "instead":
		return words.Figure(v)
	case "greatest":
		return fmt.Sprintf("the greater of %s and %s", words.Figure(acc), words.Figure(v))
	case "least":
		return fmt.Sprintf("the smaller of %s and %s", words.Figure(acc), words.Figure(v))
	}
	if v < 0 {
		return fmt.Sprintf("%s − %s", words.Figure(acc), words.Figure(-v))
	}
	return fmt.Sprintf("%s + %s", words.Figure(acc), words.Figure(v))
}

func (w why) term(t *Term) Reason {
	m := &w.p.setup.Mixes[t.Mix]
	path := fmt.Sprintf("mixes[%d]", t.Mix)
	src := w.source(m.From, t.In)
	if t.Shaped != t.In {
		src = Reason{Name: words.WayOf(words.Shapes, m.Shape).Name,
			Sum: m.Shape + " of " + words.Figure(src.Value), Value: w.at(t.Shaped), Unit: "%",
			Path: path + ".shape", From: []Reason{src}}
	}
	g := m.Gain.Pos
	if src.Value < 0 {
		g = m.Gain.Neg
	}
	if g == 100 && m.Bias == 0 {
		return src
	}
	sum := fmt.Sprintf("%s × %s / 100", words.Figure(src.Value), innerShort(g))
	if m.Bias != 0 {
		sum += " + " + innerShort(m.Bias)
	}
	return Reason{Name: "gain " + words.Short(g), Sum: sum, Value: w.at(t.V), Unit: "%", Path: path + ".gain",
		From: []Reason{src}}
}
