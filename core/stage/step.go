package stage

import (
	"math"
	"slices"

	"axtren/core/signal"
)

// What a part's flags say.
const (
	Lost      = 1 << iota // no live signal reaches its device
	Pushes                // against a stop
	AtStop                // stands at a stop
	MovesFree             // moves although no hand is on anything
	Moves                 // moves or is on
	Unknown               // its device has no value yet
	Clashes               // is where another part is
	Brakes                // of an axle: its wheels are held
)

// State is one moment of a picture: where the model is and what keeps its own
// place. The zero heading is up the page.
type State struct {
	X, Y    float64 // mm from where it was put: up the page, to the right
	Heading float64 // degrees, clockwise
	V, W    float64 // mm/s ahead, degrees/s clockwise
	Side    float64 // mm/s to starboard
	shares  []float64
	phases  []float64 // of turning, 0..1
	now     []pose
	basis   []basis
	free    bool // no hand is on a sprung control
	asked   motion
	fed     []float64 // of each pump, the sum of the openings that it feeds
	steps   int64
}

// pose is what one part does.
type pose struct {
	at, extra, asked float64
	turn             float64 // of a motor that turns it: of an axle its wheels
	flags            int
}

// basis is all that the pose of a part which has settled depends on.
type basis struct {
	v   float64
	ok  bool
	aim [3]float64
}

// motion is a velocity of the model: mm/s ahead and to starboard, degrees/s
// clockwise.
type motion struct{ v, side, w float64 }

// Start gives the picture before the first frame, the model where it was put.
func (g *Stage) Start() *State {
	st := &State{shares: make([]float64, len(g.parts)), phases: make([]float64, len(g.parts)),
		now: make([]pose, len(g.parts)), basis: make([]basis, len(g.parts)),
		fed: make([]float64, len(g.parts))}
	for i := range g.parts {
		st.shares[i] = g.parts[i].start
		st.basis[i].v = math.NaN()
	}
	return st
}

// Copy gives a state of its own that goes on from this one.
func (st *State) Copy() *State {
	c := *st
	c.shares, c.phases, c.now, c.basis, c.fed = slices.Clone(st.shares), slices.Clone(
		st.phases), slices.Clone(st.now), slices.Clone(st.basis), slices.Clone(st.fed)
	return &c
}

// PutBack puts the model where it was at first, at rest.
func (st *State) PutBack() {
	st.X, st.Y, st.Heading, st.V, st.W, st.Side = 0, 0, 0, 0, 0, 0
}

// Carry goes on from a state of the picture of an edited setup: where the model
// is, and what keeps its own place in a part of the same kind and device.
func (g *Stage) Carry(old *Stage, was *State) *State {
	st := g.Start()
	st.X, st.Y, st.Heading, st.V, st.W, st.Side = was.X, was.Y, was.Heading, was.V, was.W, was.Side
	for i := range g.parts {
		for j := range old.parts {
			a, b := &g.parts[i].spec, &old.parts[j].spec
			if a.Part == b.Part && a.Name == b.Name && (a.Device == nil) == (b.Device == nil) &&
				(a.Device == nil || *a.Device == *b.Device) {
				st.shares[i], st.phases[i] = was.shares[j], was.phases[j]
			}
		}
	}
	return st
}

// Step goes one frame on with what the devices do in it.
func (g *Stage) Step(st *State, on *signal.State) {
	st.free = true
	for _, h := range g.hands {
		st.free = st.free && on.V[h.slot] == h.rest
	}
	g.feed(st, on)
	for i := range g.parts {
		g.part(i, st, on)
	}
	g.hang(st)
	g.clash(st)
	got, asked := g.body.motion(g, st, on)
	st.asked = asked
	lag := g.lag
	if brake := g.body.brake(g, on); brake > 0 {
		lag = max(lag, min(g.frame/brakeS*brake/100, 1))
		got.v *= 1 - brake/100
	}
	st.V += lag * (got.v - st.V)
	st.Side += lag * (got.side - st.Side)
	st.W += lag * (got.w - st.W)
	st.steps++
	if st.V == 0 && st.W == 0 && st.Side == 0 {
		return
	}
	g.advance(st)
}

// brakeS is how long a brake that is pulled to 100 needs for two thirds of the
// speed: a figure of ours, so that a brake is seen.
const brakeS = 0.25

// brakeSeen is how hard a brake has to be pulled to be shown, percent.
const brakeSeen = 5

// braked gives how hard the wheels of an axle are held, 0..100.
func (p *part) braked(on *signal.State) float64 {
	v, ok := p.brake.read(on)
	if !ok {
		return 0
	}
	if p.brake.aims { // a servo pulls from one end of its way to the other
		v = 100 * p.brake.share(v)
	}
	return min(max(v, 0), 100)
}

// advance moves the model along the circle that its velocity is the tangent of:
// exact for a velocity that stays as it is for the frame.
func (g *Stage) advance(st *State) {
	turn := st.W * g.frame * math.Pi / 180
	ahead, side := st.V*g.frame, st.Side*g.frame
	if math.Abs(turn) > 1e-9 {
		sin, cos := math.Sincos(turn)
		ahead, side = (ahead*sin-side*(1-cos))/turn, (ahead*(1-cos)+side*sin)/turn
	}
	sin, cos := math.Sincos(st.Heading * math.Pi / 180)
	st.X += ahead*cos - side*sin
	st.Y += ahead*sin + side*cos
	st.Heading += st.W * g.frame
	switch {
	case st.Heading > 180:
		st.Heading -= 360
	case st.Heading <= -180:
		st.Heading += 360
	}
}

// hang lets hooks hang straight down from what swings: their other figure is the
// angle that undoes it.
func (g *Stage) hang(st *State) {
	for i := range g.parts {
		if g.parts[i].spec.Part != "hook" {
			continue
		}
		for up := g.parts[i].on; up >= 0; up = g.parts[up].on {
			if g.parts[up].moves == swings {
				st.now[i].extra -= st.now[up].at
			}
		}
	}
}

// feed adds up what each pump has to feed.
func (g *Stage) feed(st *State, on *signal.State) {
	clear(st.fed)
	for i := range g.parts {
		p := &g.parts[i]
		if p.pump < 0 {
			continue
		}
		if v, ok := p.source.read(on); ok {
			st.fed[p.pump] += math.Abs(v)
		}
	}
}

// supply is what part of a full flow a valve gets: all of it without a pump; with
// one, what the pump gives, shared by all that is open once that is more than one
// valve's full opening.
func (g *Stage) supply(p *part, st *State, on *signal.State) float64 {
	if p.pump < 0 {
		return 1
	}
	v, ok := g.parts[p.pump].source.read(on)
	if !ok {
		return 0
	}
	flow := math.Abs(v) / 100
	if open := st.fed[p.pump]; open > 100 {
		flow *= 100 / open
	}
	return flow
}

// part finds the pose of one part.
func (g *Stage) part(i int, st *State, on *signal.State) {
	p, was := &g.parts[i], st.now[i].at
	now := pose{}
	v, ok := p.source.read(on)
	if p.source.device >= 0 && p.settles {
		basis := basis{v, ok, p.source.aim.Basis(on)}
		if basis == st.basis[i] && (v == 0 || p.moves != turns) {
			if p.moves != shines {
				st.now[i].flags &^= Moves | MovesFree
			}
			return
		}
		st.basis[i] = basis
	}
	if p.source.device >= 0 {
		if !p.source.aim.Reached(on) {
			now.flags |= Lost
		}
		if !ok {
			now.flags |= Unknown
		}
	}
	asked := p.source.asked(on, v)
	switch p.moves {
	case turns:
		now.at, now.asked, now.turn = v, asked, v
		st.phases[i] += v / 100 * g.frame * 2
		st.phases[i] -= math.Floor(st.phases[i])
		now.extra = st.phases[i]
		if v != 0 {
			now.flags |= Moves
		}
	case swings, slides, dials:
		g.swing(p, i, v, asked, ok, st, on, &now)
		if st.steps > 0 && math.Abs(now.at-was) > 1e-9 {
			now.flags |= Moves
		}
	case steps:
		now.at, now.asked = v, v
	case shines:
		now.at = 0
		if lit := p.spec.Lit; ok && (lit == nil && v > 0 || lit != nil && v >= lit[0] && v <= lit[1]) {
			now.at = 1
			now.flags |= Moves
		}
		now.asked = now.at
	}
	if p.motor.device >= 0 {
		if now.turn, _ = p.motor.read(on); now.turn != 0 {
			now.flags |= Moves
		}
	}
	if p.brake.device >= 0 && p.braked(on) > brakeSeen {
		now.flags |= Brakes
	}
	if st.free && now.flags&Moves != 0 && p.moves != shines {
		now.flags |= MovesFree
	}
	st.now[i] = now
}

// swing finds the pose of what has a way between two ends.
func (g *Stage) swing(p *part, i int, v, asked float64, ok bool, st *State, on *signal.State, now *pose) {
	share, want := p.source.share(v), p.source.share(asked)
	if p.rate > 0 {
		by := v * p.rate * g.supply(p, st, on)
		next := st.shares[i] + by
		st.shares[i] = min(max(next, 0), 1)
		if next != st.shares[i] && by != 0 {
			now.flags |= Pushes
		}
		share, want = st.shares[i], st.shares[i]
	} else if !ok {
		share, want = p.start, p.start
		if p.from <= 0 && p.to >= 0 || p.to <= 0 && p.from >= 0 {
			share = -p.from / (p.to - p.from)
			want = share
		}
	}
	free := p.pose(share)
	now.at = min(max(free, p.stops[0]), p.stops[1])
	now.asked = min(max(p.pose(want), p.stops[0]), p.stops[1])
	switch {
	case math.Abs(now.at-free) > 1e-6:
		now.flags |= Pushes
	case now.at == p.stops[0] || now.at == p.stops[1]:
		now.flags |= AtStop
	}
	if p.spec.Part == "axle" {
		now.at, now.extra = g.body.wheels(now.at)
	}
}
