package mixing

import (
	"math"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/stage"
)

// Side is how many points a field has along each side of the square.
const Side = 101

// Field is what the two of a pair are asked for, at each point of the square, row
// by row from the top (the control along y at +100) and from the left (x at -100).
type Field struct {
	Rule   string `json:"rule"`
	First  []byte `json:"first"` // percent + 100
	Second []byte `json:"second"`
	Cut    []byte `json:"cut"` // 1: the first asks for more than there is; 2: the second
}

// Fields runs the program of a setup over the square of a pair, with all else as it
// stands in a state, once for each rule. Every point is a frame on a copy of the
// state. It is nil where the pair has no square, or the set does not send.
func Fields(p *signal.Program, st *signal.State, pair *Pair) []Field {
	if pair.Across == "" || pair.Along == "" || pair.Across == pair.Along || !p.Sending(st) {
		return nil
	}
	var fields []Field
	for _, one := range Rules() {
		rule := one.Rule
		q, err := ruled(p.Setup(), pair, rule)
		if err != nil {
			return nil // it compiled with its own rule
		}
		fields = append(fields, field(q, q.Carry(p, st, p.HandsOf(st)), pair, rule))
	}
	return fields
}

// ruled compiles the setup with another rule for the pair.
func ruled(s *setup.Setup, pair *Pair, rule string) (*signal.Program, error) {
	now := *s
	now.Shares = nil
	both := map[setup.ID]bool{setup.ID(pair.First): true, setup.ID(pair.Second): true}
	for _, sh := range s.Shares {
		touches := false
		for _, id := range sh.Outputs {
			touches = touches || both[id]
		}
		if !touches {
			now.Shares = append(now.Shares, sh)
		}
	}
	now.Shares = append(now.Shares, setup.Share{Outputs: []setup.ID{setup.ID(pair.First),
		setup.ID(pair.Second)}, Rule: rule})
	now.Relink()
	return signal.Compile(&now)
}

func field(p *signal.Program, st *signal.State, pair *Pair, rule string) Field {
	f := Field{Rule: rule, First: make([]byte, Side*Side), Second: make([]byte, Side*Side),
		Cut: make([]byte, Side*Side)}
	x, _ := p.Hand(pair.Across)
	y, _ := p.Hand(pair.Along)
	lanes, hands := p.Lanes(Side), make([]signal.Hands, Side)
	for col := range hands {
		hands[col] = p.HandsOf(st)
		hands[col][x] = float64(col)*200/(Side-1) - 100
	}
	a, b := p.Routes[p.Setup().Item(setup.ID(pair.First)).Index], p.Routes[p.Setup().Item(setup.ID(
		pair.Second)).Index]
	for row := range Side {
		for col := range hands {
			hands[col][y] = 100 - float64(row)*200/(Side-1)
		}
		lanes.Begin(st)
		lanes.Ask(hands)
		for col := range Side {
			k := row*Side + col
			f.First[k], f.Second[k] = level(lanes.At(col, a.Asked)), level(lanes.At(col, b.Asked))
			if math.Abs(lanes.At(col, a.Sum)) > 100+1e-9 {
				f.Cut[k] |= 1
			}
			if math.Abs(lanes.At(col, b.Sum)) > 100+1e-9 {
				f.Cut[k] |= 2
			}
		}
	}
	return f
}

func level(v float64) byte { return byte(math.Round(v) + 100) }

// Path is the way that the model takes at one point of the square: where, percent,
// and its arc, in lengths of the model.
type Path struct {
	X      float64 `json:"x"`
	Y      float64 `json:"y"`
	Ahead  float64 `json:"ahead"`
	Side   float64 `json:"side"`
	Radius float64 `json:"radius"` // + to starboard; 0: straight
}

// Paths gives the way of the model at 9 x 9 points of the square under a rule, as
// two tracks or screws a model's width apart would take it, or a car that drives on.
func Paths(f *Field, kind string) []Path {
	paths := []Path{}
	if kind == Lines {
		return paths
	}
	const each = (Side - 1) / 8
	for row := 0; row < Side; row += each {
		for col := 0; col < Side; col += each {
			k := row*Side + col
			first, second := float64(f.First[k])/100-1, float64(f.Second[k])/100-1
			p := Path{X: float64(col)*200/(Side-1) - 100, Y: 100 - float64(row)*200/(Side-1)}
			p.Ahead, p.Side, p.Radius = stage.Way(kind == Axles, kind == Screws, first, second)
			paths = append(paths, p)
		}
	}
	return paths
}
