package signal

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// cProgram writes a program as straight-line C: every constant and every slot
// in its place, nothing looked up and nothing left out. It is the yardstick of
// how fast the same arithmetic can be, and a second opinion on it.
func cProgram(p *Program) string {
	g := &cWriter{p: p}
	g.line("#include <math.h>\n#include <string.h>")
	g.line("static double v[%d];", len(p.initial))
	g.line("static const double initial[%d] = {%s};", len(p.initial), cList(p.initial))
	g.line("#define T(x) ((x) ? 1.0 : 0.0)")
	g.line("static inline double clampd(double x, double lo, double hi) { return x < lo ? lo : x > hi ? hi " +
		": x; }")
	g.line("static inline double pulse(double p) { double s = p * %s; double w = (double)(long long)(s + "+
		"copysign(0.5 + 1e-9, s)); return clampd(%s + w * %s, %s, %s); }",
		cNum(p.pulse.steps), cNum(p.pulse.CentreUS), cNum(p.pulse.StepUS), cNum(p.pulse.MinUS),
		cNum(p.pulse.MaxUS))
	g.line("static inline double position(double us) { return 100 * (us - %s) / %s; }",
		cNum(p.pulse.CentreUS), cNum(p.pulse.HalfSpanUS))
	g.line("static inline double rise(double in, double *was, double first) { double r = T(in != 0 && *was " +
		"== 0 && first == 0); *was = in; return r; }")
	g.line("void reset(void) { memcpy(v, initial, sizeof v); }")
	g.line("double *state(void) { return v; }")
	g.line("void frame(const double *h) {")
	g.line("memcpy(v + %d, h, %d * sizeof(double));", p.hands, p.handsEnd-p.hands)
	waits := "0"
	for _, s := range p.starts {
		waits += fmt.Sprintf(" || v[%d] < %s || v[%d] > %s", s.control, cNum(s.from), s.control, cNum(s.to))
	}
	g.line("double sent = v[1]; v[0] = v[1] = 0;")
	g.line("if (v[%d] != 0 && (sent != 0 || !(%s))) { v[1] = 1; v[0] = T(sent == 0); v[2] = sent != 0 ? 1 "+
		"- v[2] : 0;", p.transmitter, waits)
	g.code(p.code[:p.sent])
	g.line("}")
	g.line("v[%d] = v[%d] * v[1];", p.up, p.link)
	g.code(p.code[p.sent:])
	g.line("}")
	return g.b.String()
}

type cWriter struct {
	p *Program
	b strings.Builder
}

func (g *cWriter) line(format string, args ...any) { fmt.Fprintf(&g.b, format+"\n", args...) }

func cNum(x float64) string {
	if math.IsInf(x, 0) {
		return "INFINITY"
	}
	return strconv.FormatFloat(x, 'x', -1, 64)
}

func cList(xs []float64) string {
	texts := make([]string, len(xs))
	for i, x := range xs {
		texts[i] = cNum(x)
	}
	return strings.Join(texts, ", ")
}

func (g *cWriter) gate(in *inst, empty, test string) {
	var parts []string
	for _, s := range g.p.lists[in.at:in.to] {
		parts = append(parts, fmt.Sprintf("v[%d] != 0", s))
	}
	g.line("v[%d] = T(%s%s);", in.dst, strings.Join(parts, test), empty)
}

func (g *cWriter) code(code []inst) {
	for i := range code {
		in := &code[i]
		a, b, c, d := in.a, in.b, in.c, in.dst
		x, y, z := cNum(in.x), cNum(in.y), cNum(in.z)
		was := fmt.Sprintf("(v[0] != 0 && %s == 0 ? %s : v[%d])", y, x, d)
		switch in.op {
		case opCopy, opBeforeKept:
			g.line("v[%d] = v[%d];", d, a)
		case opBefore:
			g.line("v[%d] = v[0] != 0 ? %s : v[%d];", d, x, a)
		case opSpread:
			g.line("v[%d] = -100 + 200 * v[%d] / %s;", d, a, x)
		case opIs:
			g.line("v[%d] = T(v[%d] == %s);", d, a, x)
		case opNot:
			g.line("v[%d] = 1 - v[%d];", d, a)
		case opInside:
			g.line("v[%d] = T(v[%d] > %s && v[%d] < %s);", d, a, x, a, y)
		case opLookUp:
			g.line("{ static const double t[] = {%s}; v[%d] = t[(int)v[%d]]; }", cList(g.p.tables[in.at:]), d,
				a)
		case opCurve:
			g.line("{ double x = v[%d]; v[%d] = %s; }", a, d, g.curve(&g.p.curves[in.at]))
		case opDemand:
			g.demand(&g.p.demands[in.at])
		case opAnd:
			g.gate(in, "", " && ")
		case opOr:
			g.gate(in, "", " || ")
		case opXor:
			var parts []string
			for _, s := range g.p.lists[in.at:in.to] {
				parts = append(parts, fmt.Sprintf("(v[%d] != 0)", s))
			}
			g.line("v[%d] = T(%s);", d, strings.Join(parts, " ^ "))
		case opAbove:
			g.line("v[%d] = v[%d] >= %s ? 1 : v[%d] < %s || v[0] != 0 ? 0 : v[%d];", d, a, x, a, y, d)
		case opBelow:
			g.line("v[%d] = v[%d] <= %s ? 1 : v[%d] > %s || v[0] != 0 ? 0 : v[%d];", d, a, x, a, y, d)
		case opBetween:
			g.line("v[%d] = v[%d] >= %s && v[%d] <= %s ? 1 : v[%d] < %s - %s || v[%d] > %s + %s || v[0] != "+
				"0 ? 0 : v[%d];", d, a, x, a, y, a, x, z, a, y, z, d)
		case opRise:
			g.line("v[%d] = rise(v[%d], &v[%d], v[0]);", d, a, c)
		case opFall:
			g.line("v[%d] = T(v[%d] == 0 && v[%d] != 0 && v[0] == 0); v[%d] = v[%d];", d, a, c, c, a)
		case opSetWins:
			g.line("v[%d] = T(v[%d] != 0 || %s != 0 && v[%d] == 0);", d, a, was, b)
		case opResetWins:
			g.line("v[%d] = T((v[%d] != 0 || %s != 0) && v[%d] == 0);", d, a, was, b)
		case opToggle:
			g.line("{ double r = %s; if (rise(v[%d], &v[%d], v[0]) != 0) r = 1 - r; v[%d] = r * (1 - "+
				"v[%d]); }", was, a, c, d, b)
		case opOnDelay:
			g.line("v[%d] = v[%d] == 0 ? -1 : v[0] != 0 || v[%d] < 0 ? 0 : fmin(v[%d] + 1, %s); v[%d] = "+
				"T(v[%d] != 0 && v[%d] >= %s);", c, a, c, c, x, d, a, c, x)
		case opOffDelay:
			g.line("v[%d] = v[%d] != 0 ? -1 : v[0] != 0 ? %s : fmin(v[%d] + 1, %s); v[%d] = T(v[%d] < %s);",
				c, a, x, c, x, d, c, x)
		case opPulseFor:
			g.line("{ double up = rise(v[%d], &v[%d], v[0]); v[%d] = v[0] != 0 ? %s : fmin(v[%d] + 1, %s); "+
				"if (up != 0 && v[%d] >= %s) v[%d] = 0; v[%d] = T(v[%d] < %s); }", a, b, c, x, c, x, c, x, c,
				d, c, x)
		case opStepper:
			g.stepper(&g.p.steppers[in.at])
		case opSequence:
			s := &g.p.sequences[in.at]
			g.line("if (v[0] != 0) { v[%d] = v[%d] * %s; v[%d] = v[%d]; } else { double at = v[%d];", s.at,
				s.run, cNum(s.end), s.ahead, s.run, s.at)
			g.line("if (%s || at == 0 || at == %s) v[%d] = v[%d]; at += v[%d] != 0 ? %s : -%s;",
				cNum(1-truth(s.finish)), cNum(s.end), s.ahead, s.run, s.ahead, cNum(s.frame), cNum(s.frame))
			g.line("v[%d] = at >= %s ? %s : at <= 1e-9 ? 0 : at; }", s.at, cNum(s.end-timeSlack), cNum(s.end))
		case opPattern:
			g.pattern(&g.p.patterns[in.at])
		case opSum:
			g.sum(g.p.terms[in.at:in.to])
		case opShareScale, opShareTurn:
			g.share(&g.p.shares[in.at], in.op == opShareTurn)
		case opOutput:
			g.output(&g.p.outputs[in.at])
		case opSay:
			g.line("v[%d] = v[0] != 0 ? T(v[%d] != 0 && %s != 0) : T(v[%d] != 0 && v[%d] == 0); v[%d] = "+
				"v[%d];", d, a, x, a, c, c, a)
		case opLearn:
			g.line("v[%d] = pulse(clampd(v[%d] < %s ? 100 * (v[%d] - %s) / (%s - %s) : 100 * (v[%d] - %s) "+
				"/ (%s - %s), -150, 150));", d, a, y, a, y, y, x, a, y, z, y)
		case opOneBit:
			u := &g.p.pulse
			g.line("v[%d] = clampd(%s + (v[%d] < %s ? -%s : %s), %s, %s);", d, cNum(u.CentreUS), a,
				cNum(u.CentreUS), cNum(u.HalfSpanUS), cNum(u.HalfSpanUS), cNum(u.MinUS), cNum(u.MaxUS))
		case opHalfRate:
			g.line("v[%d] = v[%d] == 0 ? 0 : v[2] != 0 && v[%d] != 0 ? v[%d] : v[%d];", d, b, d, d, a)
		case opReceiver:
			g.receiver(&g.p.receivers[in.at])
		case opSwitchPin:
			g.line("v[%d] = v[%d] == 0 ? 0 : %s != 0 ? T(v[%d] < %s) : T(v[%d] > %s);", d, a, y, a, x, a, x)
		case opDevice:
			g.device(&g.p.devices[in.at])
		}
	}
}

// curve is the value of a curve at x.
func (g *cWriter) curve(cv *curve) string {
	last := len(cv.x) - 1
	text := cNum(cv.y[last])
	for i := last - 1; i >= 0; i-- {
		s := fmt.Sprintf("(x - %s)", cNum(cv.x[i]))
		text = fmt.Sprintf("x < %s ? %s + %s * (%s + %s * (%s + %s * %s)) : %s", cNum(cv.x[i+1]),
			cNum(cv.y[i]), s, cNum(cv.b[i]), s, cNum(cv.c[i]), s, cNum(cv.d[i]), text)
	}
	return fmt.Sprintf("x <= %s ? %s : %s", cNum(cv.x[0]), cNum(cv.y[0]), text)
}

func (g *cWriter) demand(d *demand) {
	g.line("{ double x = v[%d];", d.In)
	if d.Deadband != None {
		g.line("x = fabs(x) <= %s ? 0 : copysign((fabs(x) - %s) * 100 / (100 - %s), x); v[%d] = x;",
			cNum(d.dead), cNum(d.dead), cNum(d.dead), d.Deadband)
	}
	if d.Expo != None {
		g.line("x = %s * x + %s * (x * x * x); v[%d] = x;", cNum(d.straight), cNum(d.cubed), d.Expo)
	}
	if d.Rate != None {
		text := cNum(d.rate)
		for k := len(d.arms) - 1; k >= 0; k-- {
			text = fmt.Sprintf("(v[%d] != 0 ? %s : %s)", d.arms[k].when, cNum(d.arms[k].rate), text)
		}
		g.line("v[%d] = %s; x = x * v[%d] / 100; v[%d] = x;", d.Rate, text, d.Rate, d.Rated)
	} else if d.Rated != None {
		g.line("x = x * %s; v[%d] = x;", cNum(d.scale), d.Rated)
	}
	if d.Curve != None {
		g.line("x = %s; v[%d] = x;", g.curve(d.curve), d.Curve)
	}
	if d.limits {
		g.line("v[%d] = clampd(x + %s, -150, 150);", d.Out, cNum(d.trim))
	}
	g.line("}")
}

func (g *cWriter) sum(terms []term) {
	shapes := map[mixWord]string{shapeAbs: "fabs(x)", shapeUp: "x > 0 ? x : 0", shapeDown: "x < 0 ? x : 0"}
	combines := map[mixWord]string{combineAdd: "acc + x", combineTimes: "acc * x / 100", combineInstead: "x",
		combineGreatest: "acc > x ? acc : x", combineLeast: "acc < x ? acc : x"}
	g.line("{ double acc = 0, x, c;")
	for i := range terms {
		t := &terms[i]
		g.line("x = v[%d];", t.In)
		if shape, ok := shapes[t.shape]; ok {
			g.line("x = %s; v[%d] = x;", shape, t.Shaped)
		}
		if t.gains {
			g.line("x = x * (x >= 0 ? %s : %s) + %s; v[%d] = x;", cNum(t.pos), cNum(t.neg), cNum(t.bias), t.V)
		}
		g.line("c = %s;", combines[t.combine])
		w := t.Weight
		if t.fade > 0 {
			g.line("v[%d] = v[0] != 0 ? v[%d] : v[%d] < v[%d] ? fmin(v[%d] + %s, v[%d]) : fmax(v[%d] - %s, "+
				"v[%d]);", w, t.holds, w, t.holds, w, cNum(t.fade), t.holds, w, cNum(t.fade), t.holds)
		}
		if w == None {
			g.line("acc = c;")
		} else {
			g.line("acc = v[%d] == 1 ? c : acc + v[%d] * (c - acc);", w, w)
		}
		if t.store {
			g.line("v[%d] = acc;", t.Acc)
		}
	}
	g.line("}")
}

func (g *cWriter) stepper(s *stepper) {
	home := "0"
	if s.home != None {
		home = fmt.Sprintf("v[%d] != 0", s.home)
	}
	g.line("{ if (v[0] != 0) v[%d] = %s; int home = %s; double by = 0;", s.at, cNum(s.start), home)
	for _, button := range []struct {
		in, was, held Slot
		by            int
	}{{s.up, s.upWas, s.upFor, 1}, {s.down, s.downWas, s.downFor, -1}} {
		if button.in == None {
			continue
		}
		again := "0"
		if s.repeatS > 0 {
			again = fmt.Sprintf("(v[%d]++, floor((v[%d] * %s + 1e-9) / %s) > floor(((v[%d] - 1) * %s + "+
				"1e-9) / %s))",
				button.held, button.held, cNum(s.frame), cNum(s.repeatS), button.held, cNum(s.frame),
				cNum(s.repeatS))
		}
		g.line("{ double up = rise(v[%d], &v[%d], v[0]); if (v[0] != 0 || home || v[%d] == 0) v[%d] = -1; "+
			"else if (up != 0) { v[%d] = 0; by += %d; } else if (v[%d] >= 0 && %s) by += %d; }",
			button.in, button.was, button.in, button.held, button.held, button.by, button.held, again,
			button.by)
	}
	wrap := ""
	if s.wrap {
		wrap = fmt.Sprintf("else v[%d] = fmod(at + %s, %s);", s.at, cNum(s.last+1), cNum(s.last+1))
	}
	g.line("double at = v[%d] + by; if (home) v[%d] = %s; else if (at >= 0 && at <= %s) v[%d] = at; %s }",
		s.at, s.at, cNum(s.start), cNum(s.last), s.at, wrap)
}

func (g *cWriter) pattern(p *pattern) {
	last := len(p.ends) - 1
	g.line("if (v[%d] == 0) { v[%d] = -1; v[%d] = %s; } else { if (v[0] != 0) v[%d] = -1; v[%d]++; double "+
		"t = v[%d] * %s;", p.when, p.frames, p.value, cNum(p.rest), p.frames, p.frames, p.frames,
		cNum(p.frame))
	if p.loop {
		g.line("t -= floor((t + 1e-9) / %s) * %s;", cNum(p.ends[last]), cNum(p.ends[last]))
	}
	text := cNum(p.steps[last])
	for i := last - 1; i >= 0; i-- {
		text = fmt.Sprintf("t < %s ? %s : %s", cNum(p.ends[i]-timeSlack), cNum(p.steps[i]), text)
	}
	g.line("v[%d] = %s; }", p.value, text)
}

func (g *cWriter) share(s *share, turn bool) {
	g.line("{ double most = 0, at = 0;")
	for _, in := range s.in {
		g.line("if (fabs(v[%d]) > most) { most = fabs(v[%d]); at = v[%d]; }", in, in, in)
	}
	if turn {
		g.line("double shift = most > 100 ? -copysign(most - 100, at) : 0;")
	}
	for i := range s.in {
		if turn {
			g.line("v[%d] = v[%d] + shift;", s.out[i], s.in[i])
		} else {
			g.line("v[%d] = most > 100 ? v[%d] * 100 / most : v[%d];", s.out[i], s.in[i], s.in[i])
		}
	}
	g.line("}")
}

func (g *cWriter) output(o *output) {
	g.line("{ double a = clampd(v[%d], -100, 100); v[%d] = a;", o.shared, o.asked)
	if o.reverse {
		g.line("a = -a; v[%d] = a;", o.turned)
	}
	g.line("double p = clampd(%s + a * (signbit(a) ? %s : %s), %s, %s); v[%d] = p;", cNum(o.centre),
		cNum(o.each[1]), cNum(o.each[0]), cNum(o.low), cNum(o.high), o.target)
	if o.slewed {
		g.line("p = v[0] != 0 ? p : v[%d] < p ? fmin(v[%d] + %s, p) : fmax(v[%d] - %s, p); v[%d] = p;", o.p,
			o.p, cNum(o.up), o.p, cNum(o.down), o.p)
	}
	g.line("v[%d] = pulse(p); }", o.us)
}

func (g *cWriter) receiver(r *receiver) {
	g.line("if (v[%d] == 0) v[%d] = 0; else if (v[%d] != 0) { v[%d] = 1; v[%d] = -1; } else v[%d] = "+
		"fmin(v[%d] + 1, %s);", r.on, r.heard, r.up, r.heard, r.lost, r.lost, r.lost, cNum(r.need))
	for _, p := range r.pins {
		lost := fmt.Sprintf("v[%d]", p.us)
		switch p.loss {
		case lossCut:
			lost = "0"
		case lossPreset:
			lost = cNum(p.preset)
		}
		g.line("v[%d] = v[%d] == 0 ? 0 : v[%d] != 0 ? v[%d] : v[%d] < %s ? v[%d] : %s;", p.us, r.heard, r.up,
			p.arrival, r.lost, cNum(r.need), p.us, lost)
	}
}

func (g *cWriter) device(d *device) {
	val := d.route.Value
	switch d.kind {
	case kindServo:
		g.line("if (v[%d] != 0) { double t = position(v[%d]); if (v[%d] == 0) { v[%d] = 1; v[%d] = v[%d] "+
			"!= 1e6 ? v[%d] : t; }", d.us, d.us, d.route.Known, d.route.Known, val, d.own[0], d.own[0])
		g.line("v[%d] = v[%d] < t ? fmin(v[%d] + %s, t) : fmax(v[%d] - %s, t); }", val, val, val,
			cNum(d.x[0]), val, cNum(d.x[0]))
	case kindOnOff:
		on := fmt.Sprintf("v[%d] > %s", d.us, cNum(d.x[0]))
		if d.flags[0] {
			on = fmt.Sprintf("v[%d] < %s", d.us, cNum(d.x[0]))
		}
		without := fmt.Sprint(int(truth(d.flags[1])))
		if d.flags[2] {
			without = fmt.Sprintf("v[%d]", d.route.On)
		}
		text := fmt.Sprintf("v[%d] == 0 ? %s : T(%s)", d.us, without, on)
		if d.on != None {
			text = fmt.Sprintf("v[%d]", d.on)
		}
		g.line("v[%d] = %s; v[%d] = 100 * v[%d];", d.route.On, text, val, d.route.On)
	case kindStepBox:
		at, own := cNum(d.x[1]), d.own[0]
		g.line("{ double us = v[%d], before = v[%d]; v[%d] = us; if (us == 0 || before == 0) { if (us == 0 "+
			"&& before != 0 && %s != 0) v[%d] = %s; }", d.us, own, own, cNum(d.x[2]), val, cNum(d.x[2]))
		g.line("else { double w = position(before), n = position(us); if (w <= %s && n > %s) v[%d] = "+
			"fmin(v[%d] + 1, %s); else if (w >= -%s && n < -%s) v[%d] = fmax(v[%d] - 1, 1); } }", at, at, val,
			val, cNum(d.x[0]), at, at, val, val)
	case kindEsc:
		g.esc(d)
	}
}

func (g *cWriter) esc(d *device) {
	seen, mode := d.own[0], d.own[1]
	down := "0"
	if !d.flags[1] {
		down = fmt.Sprintf("x < -%s ? fmax(-100 * (-x - %s) / %s, -100) : 0", cNum(d.x[1]), cNum(d.x[1]),
			cNum(d.x[3]))
	}
	g.line("{ double us = v[%d], m = 0, br = 0; if (us == 0) { v[%d] = 0; v[%d] = 0; } else { double x = "+
		"us - %s;", d.us, seen, mode, cNum(d.x[0]))
	g.line("double dr = x > %s ? fmin(100 * (x - %s) / %s, 100) : %s; if (dr == 0) v[%d] = 1;", cNum(d.x[1]),
		cNum(d.x[1]), cNum(d.x[2]), down, seen)
	if d.flags[0] {
		g.line("if (v[%d] != 0) {", seen)
	}
	if d.flags[2] {
		g.line("if (dr > 0) { v[%d] = 0; m = dr; } else if (dr < 0 && v[%d] != 2) { v[%d] = 1; br = -dr; } "+
			"else { if (dr == 0 && v[%d] == 1) v[%d] = 2; m = dr; }", mode, mode, mode, mode, mode)
	} else {
		g.line("m = dr;")
	}
	if d.flags[0] {
		g.line("}")
	}
	g.line("}")
	if d.swap != None {
		g.line("if (v[%d] > %s) m = -m;", d.swap, cNum(d.x[5]))
	}
	g.line("v[%d] = m;", d.route.Value)
	if d.route.Brake != None {
		g.line("v[%d] = br;", d.route.Brake)
	}
	if d.route.At != None {
		g.line("v[%d] = clampd(v[%d] + m * %s, 0, 100);", d.route.At, d.route.At, cNum(d.x[4]))
	}
	g.line("}")
}

const cMain = `
#include <stdio.h>
#include <stdlib.h>
#include <time.h>
void reset(void); double *state(void); void frame(const double *h);
int main(int argc, char **argv) {
	int n = atoi(argv[1]), width = atoi(argv[2]), kept = atoi(argv[3]);
	double *h = malloc(sizeof(double) * n * width);
	if (fread(h, sizeof(double), (size_t)n * width, stdin) != (size_t)n * width) return 1;
	reset();
	for (int k = 0; k < n; k++) { frame(h + k * width); fwrite(state(), sizeof(double), kept, stdout); }
	double best = 1e9;
	for (int round = 0; round < 7; round++) {
		struct timespec a, b;
		clock_gettime(CLOCK_MONOTONIC, &a);
		for (int rep = 0; rep < 40; rep++) for (int k = 0; k < n; k++) frame(h + k * width);
		clock_gettime(CLOCK_MONOTONIC, &b);
		double ns = ((b.tv_sec - a.tv_sec) * 1e9 + (b.tv_nsec - a.tv_nsec)) / (40.0 * n);
		if (ns < best) best = ns;
	}
	fprintf(stderr, "%f", best);
	return 0;
}
`

// runC compiles a program as C with gcc and runs it over hands: what it kept
// after each frame, and the nanoseconds that a frame took.
func runC(t testing.TB, p *Program, hands []Hands) (kept [][]float64, ns float64) {
	dir := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(dir, "frame.c"), []byte(cProgram(p)), 0o600))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "main.c"), []byte(cMain), 0o600))
	exe := filepath.Join(dir, "frame")
	out, err := exec.Command("gcc", "-O2", "-ffp-contract=off", "-o", exe, filepath.Join(dir, "frame.c"),
		filepath.Join(dir, "main.c"), "-lm").CombinedOutput()
	require.NoError(t, err, "%.2000s", out)
	var in, got, said bytes.Buffer
	for _, h := range hands {
		require.NoError(t, binary.Write(&in, binary.LittleEndian, []float64(h)))
	}
	cmd := exec.Command(exe, fmt.Sprint(len(hands)), fmt.Sprint(len(hands[0])), fmt.Sprint(p.Kept()))
	cmd.Stdin, cmd.Stdout, cmd.Stderr = &in, &got, &said
	require.NoError(t, cmd.Run())
	for range hands {
		row := make([]float64, p.Kept())
		require.NoError(t, binary.Read(&got, binary.LittleEndian, row))
		kept = append(kept, row)
	}
	ns, err = strconv.ParseFloat(said.String(), 64)
	require.NoError(t, err)
	return kept, ns
}

// TestAgainstC holds every kept number of every frame against the same program
// in C, and says how much slower we are.
func TestAgainstC(t *testing.T) {
	if _, err := exec.LookPath("gcc"); err != nil {
		t.Skip("gcc is not here; it compiles the second opinion")
	}
	p := reference(t)
	for _, by := range played(p) {
		t.Run(by.name, func(t *testing.T) { againstC(t, p, by.hands) })
	}
}

func againstC(t *testing.T, p *Program, hands []Hands) {
	for k := range hands {
		hands[k][len(p.controls)+1] = truth(k%300 < 250) // the link
		hands[k][len(p.controls)] = truth(k%400 < 380)   // the transmitter
	}
	kept, ns := runC(t, p, hands)
	st := p.PowerOn()
	for k := range hands {
		p.Step(st, hands[k])
		for i, want := range kept[k] {
			require.Equal(t, want, st.V[i], "frame %d, %s", k, p.keptKeys[i])
		}
	}
	ours := math.Inf(1)
	for range 7 { // as cMain does
		start := time.Now()
		for range 40 {
			for k := range hands {
				p.Step(st, hands[k])
			}
		}
		ours = min(ours, float64(time.Since(start).Nanoseconds())/float64(40*len(hands)))
	}
	beside := laneTime(p, hands)
	t.Logf("%s: a frame of the reference %.0f ns, of 32 side by side %.0f ns each, the same arithmetic in C "+
		"%.0f ns: ratios %.2f and %.2f", t.Name(), ours, beside, ns, ours/ns, beside/ns)
}
