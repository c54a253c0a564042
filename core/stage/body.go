package stage

import (
	"math"

	"axtren/core/linkage"

	"axtren/core/signal"
	"axtren/core/words"
)

// body is how the parts that push carry the model: tracks, axles or screws, or
// several of them.
type body struct {
	tracks []push
	screws []push
	axles  []axle
	rudder []push  // at is its place
	gauge  float64 // mm between tracks, or the wheels of an axle
	base   float64 // mm between the axles
	length float64 // of the hull, mm
	driven int     // axles with a motor
	rear   float64 // where the axle stands that the model turns about: mm ahead
	turned bool    // any axle steers
}

// push is a track or a screw at mm ahead and to starboard.
type push struct {
	part      int
	ahead, by float64
}

// axle is an axle at mm ahead.
type axle struct {
	part   int
	ahead  float64
	steers bool
}

// astern is what part of its thrust a screw has backwards. Common practice, no source.
const astern = 0.6

// body collects what pushes and says what of its sizes is wrong.
func (r *reader) body() body {
	b := body{length: 300}
	for i := range r.doc.Parts {
		p := &r.g.parts[i]
		if p.spec.Part == "hull" {
			b.length = p.spec.SizeMM[0]
		}
		if p.spec.AtMM == nil || p.on >= 0 {
			continue
		}
		at := push{i, p.spec.AtMM[0], p.spec.AtMM[1]}
		switch p.spec.Part {
		case "track":
			b.tracks = append(b.tracks, at)
		case "screw":
			b.screws = append(b.screws, at)
		case "rudder":
			b.rudder = append(b.rudder, at)
		case "axle":
			b.axles = append(b.axles, axle{i, at.ahead, p.source.device >= 0})
			if p.motor.device >= 0 {
				b.driven++
			}
		}
	}
	b.gauge = r.size("track_mm", r.doc.TrackMM, b.width(r))
	b.base = r.size("wheelbase_mm", r.doc.WheelbaseMM, b.wheelbase())
	if r.doc.TopMMS < 0 {
		r.fault("stage.top_mm_s", "write the speed over the ground in mm/s, above 0",
			"a speed of %s mm/s cannot be driven", words.Figure(r.doc.TopMMS))
		r.g.top = 0
	}
	for _, a := range b.axles {
		b.turned = b.turned || a.steers
	}
	return b
}

// size takes a size that is given, unless nothing can be that large.
func (r *reader) size(field string, given *float64, lies float64) float64 {
	if given == nil {
		return lies
	}
	if *given <= 0 {
		r.fault("stage."+field, "measure it, and write millimetres above 0",
			"%s is %s mm, so nothing can turn about it", field, words.Figure(*given))
		return lies
	}
	return *given
}

// width is how far the tracks lie apart, or the wheels of the widest axle.
func (b *body) width(r *reader) float64 {
	wide := 0.0
	for _, a := range b.axles {
		wide = max(wide, r.g.parts[a.part].spec.SizeMM[1])
	}
	for _, t := range b.tracks {
		for _, other := range b.tracks {
			wide = max(wide, math.Abs(t.by-other.by))
		}
	}
	return wide
}

// wheelbase finds the two axles that the model steers with, and how far they lie apart.
func (b *body) wheelbase() float64 {
	if len(b.axles) == 0 {
		return 0
	}
	front, rear, fixed := math.Inf(-1), 0.0, 0
	for _, a := range b.axles {
		front = max(front, a.ahead)
		if !a.steers {
			rear, fixed = rear+a.ahead, fixed+1
		}
	}
	b.rear = math.Inf(1)
	for _, a := range b.axles {
		b.rear = min(b.rear, a.ahead)
	}
	if fixed > 0 && fixed < len(b.axles) {
		b.rear = rear / float64(fixed)
		for _, a := range b.axles {
			if a.steers {
				front = a.ahead
				break
			}
		}
	}
	return math.Abs(front - b.rear)
}

// motion gives the velocity that the devices drive at, and the one asked for.
func (b *body) motion(g *Stage, st *State, on *signal.State) (got, asked motion) {
	if g.top == 0 {
		return got, asked
	}
	if len(b.tracks) > 0 && b.gauge > 0 {
		got, asked = b.onTracks(g, st)
	}
	if b.driven > 0 && b.base > 0 {
		b.onWheels(g, st, on, &got, &asked)
	}
	if len(b.screws) > 0 {
		b.onScrews(g, st, &got, &asked)
	}
	return got, asked
}

// onTracks is a unicycle: v is the mean of both sides, w their difference over
// the gauge. A side without a track stands.
func (b *body) onTracks(g *Stage, st *State) (got, asked motion) {
	var sides, wants, n [2]float64 // port, starboard
	for _, t := range b.tracks {
		side := 0
		if t.by > 0 {
			side = 1
		}
		n[side]++
		sides[side] += st.now[t.part].at
		wants[side] += st.now[t.part].asked
	}
	twist := func(v [2]float64) motion {
		port, starboard := v[0]/max(n[0], 1)*g.top/100, v[1]/max(n[1], 1)*g.top/100
		return motion{v: (port + starboard) / 2, w: (port - starboard) / b.gauge * 180 / math.Pi}
	}
	return twist(sides), twist(wants)
}

// onWheels is the bicycle: w = v (tan front - tan rear) / wheelbase, taken at the
// rear axle, and told for the middle of the model.
func (b *body) onWheels(g *Stage, st *State, on *signal.State, got, asked *motion) {
	var v, want float64
	front, rear, frontAsked := 0.0, 0.0, 0.0
	for _, a := range b.axles {
		p, now := &g.parts[a.part], &st.now[a.part]
		if m, ok := p.motor.read(on); ok {
			v += m
			want += p.motor.asked(on, m)
		}
		if !a.steers {
			continue
		}
		if a.ahead > b.rear {
			front, frontAsked = math.Tan(linkage.Between(now.at, now.extra)), math.Tan(now.asked*math.Pi/180)
		} else {
			rear = math.Tan(linkage.Between(now.at, now.extra))
		}
	}
	scale := g.top / 100 / float64(b.driven)
	drive := func(v, front float64) motion {
		v *= scale
		w := v * (front - rear) / b.base
		return motion{v: v, side: v*rear - w*b.rear, w: w * 180 / math.Pi}
	}
	one, other := drive(v, front), drive(want, frontAsked)
	got.v, got.side, got.w = got.v+one.v, got.side+one.side, got.w+one.w
	asked.v, asked.side, asked.w = asked.v+other.v, asked.side+other.side, asked.w+other.w
}

// wheels gives the angles of the left and right wheel of an axle that steers by an angle in its middle.
func (b *body) wheels(angle float64) (left, right float64) {
	if b.base <= 0 {
		return angle, angle
	}
	return linkage.Beside(angle, -b.gauge/2, b.base), linkage.Beside(angle, b.gauge/2, b.base)
}

// onScrews is a plain boat: screws push, weaker astern; each turns the boat by its
// lever over the hull; a rudder turns it in the water that passes, the screws' wash
// on it included, as a wheel at the stern would.
func (b *body) onScrews(g *Stage, st *State, got, asked *motion) {
	push := func(of func(*pose) float64) motion {
		var m motion
		wash, n := 0.0, float64(len(b.screws))
		for _, s := range b.screws {
			v := of(&st.now[s.part]) * g.top / 100
			if v < 0 {
				v *= astern
			}
			m.v += v / n
			wash += max(v, 0) / n
			m.w -= v * s.by / n * 9 / (b.length * b.length)
		}
		for _, r := range b.rudder {
			flow := (st.V + wash) / 2
			m.w += flow * math.Tan(of(&st.now[r.part])*math.Pi/180) / b.length / float64(len(b.rudder))
		}
		m.w *= 180 / math.Pi
		return m
	}
	one := push(func(p *pose) float64 { return p.at })
	other := push(func(p *pose) float64 { return p.asked })
	got.v, got.w = got.v+one.v, got.w+one.w
	asked.v, asked.w = asked.v+other.v, asked.w+other.w
}

// brake gives how hard the model is braked, 0..100.
func (b *body) brake(g *Stage, on *signal.State) float64 {
	hard := 0.0
	for _, a := range b.axles {
		p := &g.parts[a.part]
		if p.brake.device < 0 {
			continue
		}
		hard += p.braked(on) / float64(len(b.axles))
	}
	return hard
}

// longest is how far an arc goes round, radians: less than half a circle, so that
// its two ends and its radius say which way it goes.
const longest = 3

// arc is the way of a velocity for a time, as a page draws it: where it ends,
// seen from the model, and the radius of its circle, 0 for a straight line.
func (m motion) arc(seconds float64) (ahead, side, radius float64) {
	turn := m.w * math.Pi / 180 * seconds
	ahead, side = m.v*seconds, m.side*seconds
	if math.Abs(turn) < 1e-3 {
		return ahead, side, 0
	}
	if math.Abs(turn) > longest {
		seconds *= longest / math.Abs(turn)
		turn = math.Copysign(longest, turn)
		ahead, side = m.v*seconds, m.side*seconds
	}
	way := math.Hypot(ahead, side)
	sin, cos := math.Sincos(turn)
	return (ahead*sin - side*(1-cos)) / turn, (ahead*(1-cos) + side*sin) / turn, way / math.Abs(turn)
}

// pivot gives the point that the model turns about, seen from it; ok is false
// where it goes straight, or stands.
func (m motion) pivot() (ahead, side float64, ok bool) {
	w := m.w * math.Pi / 180
	if math.Abs(w) < 0.02 || math.Abs(m.v) > 20000*math.Abs(w) {
		return 0, 0, false
	}
	return -m.side / w, m.v / w, true
}

// Way gives the way, for a second, of a model that is one long and wide and goes
// its own length in it: of a pair of tracks or screws at -1..1 (screws weaker
// astern), or of a car whose axles are steered by -1..1 of 30 degrees. Where it
// ends, ahead and to starboard, and the radius of its circle, + to starboard, 0 for
// a straight line.
func Way(axles, screws bool, first, second float64) (ahead, side, radius float64) {
	var m motion
	if axles {
		front, rear := math.Tan(first*math.Pi/6), math.Tan(second*math.Pi/6)
		m = motion{v: 1, side: (front + rear) / 2, w: (front - rear) * 180 / math.Pi}
	} else {
		if screws {
			weaker := func(v float64) float64 {
				if v < 0 {
					return v * astern
				}
				return v
			}
			first, second = weaker(first), weaker(second)
		}
		m = motion{v: (first + second) / 2, w: (first - second) * 180 / math.Pi}
	}
	ahead, side, radius = m.arc(1)
	return ahead, side, math.Copysign(radius, m.w)
}
