package signal

import (
	"fmt"
	"math"

	"axtren/core/setup"
	"axtren/core/words"
)

// What a mix takes: controls, feels, and what remembers.

func (w why) source(v setup.Value, slot Slot) Reason {
	s := w.p.setup
	src, _ := s.Source(v)
	switch src.Kind {
	case setup.SourceDemand:
		return w.demand(src.Index)
	case setup.SourceAsked:
		asked := w.asked(src.Index)
		return Reason{Name: "what " + s.OutputLabel(src.Index) + " is asked for",
			Sum: words.Figure(asked.Value), Value: asked.Value, Unit: "%",
			Path: fmt.Sprintf("outputs[%d]", src.Index), From: []Reason{asked}}
	case setup.SourceControl:
		return w.control(src.Index, slot)
	}
	return w.remembered(src, slot)
}

// remembered explains a block, stepper, sequence or pattern as a value, or a
// constant.
func (w why) remembered(src setup.Source, slot Slot) Reason {
	s, r := w.p.setup, Reason{Value: w.at(slot), Unit: "%"}
	if src.Kind != setup.SourceNumber {
		r.Name = s.Label(src.Item())
	}
	switch src.Kind {
	case setup.SourceBlock:
		r.Path = fmt.Sprintf("logic[%d]", src.Index)
		r.Sum, r.From = words.OnOff(r.Value > 0), w.inputs(src.Index)
	case setup.SourceStepper:
		st := &s.Steppers[src.Index]
		r.Path = fmt.Sprintf("steppers[%d]", src.Index)
		r.Sum = "at step " + st.Steps[int(w.at(w.p.nodeValue[setup.IsStepper][src.Index]))].Name.Words()
	case setup.SourceTrack:
		r.Name += ", " + s.Sequences[src.Index].Tracks[src.Sub].Name.Words()
		r.Path = fmt.Sprintf("sequences[%d]", src.Index)
		r.Sum = "at " + words.Figure(w.at(w.p.nodeValue[setup.IsSequence][src.Index])) + " s"
	case setup.SourcePattern:
		r.Path, r.Sum = fmt.Sprintf("patterns[%d]", src.Index), "at rest"
		if n := w.at(w.p.patterns[w.p.patternAt[src.Index]].frames); n >= 0 {
			r.Sum = words.Figure(float64(n*s.Transmitter.FrameS())) + " s into its play"
		}
	default:
		r.Name = "always " + words.Short(src.Number)
	}
	return r
}

func yesOrNo(so bool) string {
	if so {
		return "yes"
	}
	return "no"
}

// inputs are the truths that block i read in this frame; a value that it read stands in its
// own place.
func (w why) inputs(i int) []Reason {
	_, truths := w.p.setup.Logic[i].Reads()
	slots := w.p.operands(&w.p.code[w.p.blockAt[i]])
	from := make([]Reason, 0, len(truths))
	for k, t := range truths {
		held := w.at(slots[k])
		from = append(from, Reason{Name: words.Truth(w.p.setup, t), Sum: yesOrNo(held != 0), Value: held})
	}
	return from
}

func (w why) control(i int, slot Slot) Reason {
	ctl := w.p.setup.Transmitter.Controls[i]
	r := Reason{Name: w.p.setup.ControlLabel(i), Value: w.at(slot), Unit: "%",
		Path: fmt.Sprintf("transmitter.controls[%d]", i)}
	if ctl.Switch != nil {
		at := int(w.at(w.p.controls[i]))
		r.Sum = fmt.Sprintf("at %s, %d of %d", ctl.Switch.Positions[at].Words(), at+1, len(ctl.Switch.Positions))
		if slot == w.p.controls[i] {
			r.Unit = "" // nothing reads it as a number: it is its position
		}
	}
	return r
}

func (w why) demand(i int) Reason {
	d, sh := &w.p.setup.Demands[i], &w.p.Demands[i]
	path := fmt.Sprintf("demands[%d].", i)
	r := w.source(d.From, sh.In)
	step := func(slot Slot, name, sum, field string) {
		if slot != None {
			r = Reason{Name: name, Sum: sum, Value: w.at(slot), Unit: "%", Path: path + field,
				From: []Reason{r}}
		}
	}
	sum := "0, within " + words.Short(d.Deadband)
	if math.Abs(r.Value) > d.Deadband {
		sum = fmt.Sprintf("(%s − %s) × 100 / %s", words.Figure(math.Abs(r.Value)), words.Short(d.Deadband),
			words.Short(100-d.Deadband))
		if r.Value < 0 {
			sum = "−" + sum
		}
	}
	step(sh.Deadband, "nothing within "+words.Short(d.Deadband), sum, "deadband")
	step(sh.Expo, words.Expo(d.Expo), fmt.Sprintf("%s × %s + %s × %s³ / 10000", words.Figure(1-d.Expo/100),
		inner(r.Value), inner(d.Expo/100), inner(r.Value)), "expo")
	rate, field := d.Rate, "rate"
	if sh.Rate != None {
		rate, field = w.at(sh.Rate), "rates"
	}
	step(sh.Rated, "rate "+words.Short(rate), fmt.Sprintf("%s × %s / 100", words.Figure(r.Value),
		words.Short(rate)), field)
	step(sh.Curve, fmt.Sprintf("curve of %d points", len(d.Curve)), curveSum(d, r.Value), "curve")
	out := w.at(sh.Out)
	switch {
	case d.Trim != 0:
		step(sh.Out, "trim "+words.SignedShort(d.Trim), combineSum("add", r.Value, d.Trim), "trim")
	case out != r.Value:
		step(sh.Out, "limited to 150", "cut from "+words.Figure(r.Value), "rate")
	}
	return r
}

// curveSum says where on the curve x lies.
func curveSum(d *setup.Demand, x float64) string {
	points := d.Curve
	last := len(points) - 1
	switch {
	case last < 0:
		return ""
	case x <= points[0][0]:
		return fmt.Sprintf("flat up to %s", words.Short(points[0][0]))
	case x >= points[last][0]:
		return fmt.Sprintf("flat from %s", words.Short(points[last][0]))
	}
	i := 1
	for points[i][0] < x {
		i++
	}
	a, b := points[i-1], points[i]
	if d.Smooth {
		return fmt.Sprintf("at %s, smooth from (%s, %s) to (%s, %s)", words.Figure(x), words.Short(a[0]),
			words.Short(a[1]), words.Short(b[0]), words.Short(b[1]))
	}
	return fmt.Sprintf("%s + %s × (%s − %s) / %s", words.Short(a[1]), inner(b[1]-a[1]), words.Figure(x),
		innerShort(a[0]), words.Short(b[0]-a[0]))
}
