package proof

import (
	"axtren/core/setup"
	"axtren/core/signal"
)

// Guard looks at a run of a setup, frame by frame, for claims that are broken in it. What a claim says can be
// reached no run breaks.
type Guard struct {
	p       *signal.Program // of the setup, with a block for each condition of its claims
	claims  []int           // of each watch, the index of its claim
	watches []*monitor
	was     []uint16
}

// NewGuard makes one for a run that begins. The error is that of a claim about something that is not there
// any more, or of the program.
func NewGuard(s *setup.Setup) (*Guard, error) {
	g := &Guard{}
	var list []*claimed
	all := s
	for i := range s.Claims {
		if s.Claims[i].Reachable != nil {
			continue
		}
		y := &system{}
		y.claim(all, &s.Claims[i])
		if _, err := y.parts(); err != nil {
			return nil, err
		}
		all = y.all
		g.claims, list = append(g.claims, i), append(list, y.claimed)
	}
	p, err := signal.Compile(all)
	if err != nil {
		return nil, err
	}
	g.p = p
	for _, c := range list {
		g.watches = append(g.watches, c.on(p, all))
	}
	g.was = make([]uint16, len(list))
	g.Begin()
	return g, nil
}

// Program is the one whose states are looked at: the outputs, devices and hands of the setup are at the same
// places in it.
func (g *Guard) Program() *signal.Program { return g.p }

// Begin forgets what was looked at.
func (g *Guard) Begin() {
	for i := range g.was {
		g.was[i] = nothing
	}
}

// Step looks at a frame, and gives the index of the first claim that is broken in it; -1 for none.
func (g *Guard) Step(st *signal.State) int {
	broken := -1
	for i, m := range g.watches {
		now, bad := m.step(g.was[i], st)
		if g.was[i] = now; bad && broken < 0 {
			broken = g.claims[i]
		}
	}
	return broken
}

// Memory is what a guard remembers of the frames before.
type Memory []uint16

// Memory copies what a guard remembers.
func (g *Guard) Memory() Memory { return append(Memory(nil), g.was...) }

// Remember makes a guard remember what it did.
func (g *Guard) Remember(m Memory) { copy(g.was, m) }
