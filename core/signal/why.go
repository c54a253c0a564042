package signal

import (
	"fmt"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// Reason is one step of the arithmetic behind a value: Sum, worked out from the
// values of From, gives Value. Every value is read from the state; nothing is
// computed here.
type Reason struct {
	Name  string   `json:"name"`           // ends −96 … +94
	Sum   string   `json:"sum,omitempty"`  // −72.3 / 100 × 96; empty where the value comes from outside
	Value float64  `json:"value"`          // in Unit
	Unit  string   `json:"unit"`           // % or µs
	Path  string   `json:"path,omitempty"` // place in the document that says so
	From  []Reason `json:"from,omitempty"`
}

// inner puts a figure in brackets where it is negative, for the middle of a sum.
func inner(v float64) string { return bracket(words.Figure(v)) }

// innerShort is inner for settings.
func innerShort(v float64) string { return bracket(words.Short(v)) }

func bracket(figure string) string {
	if strings.HasPrefix(figure, "−") {
		return "(" + figure + ")"
	}
	return figure
}

// Why explains the pulse of output i in state st: the tree of its arithmetic
// from the pulse back to the hands.
func (p *Program) Why(st *State, i int) Reason { return why{p, st}.pulse(i) }

// WhyPin explains what stands on a pin.
func (p *Program) WhyPin(st *State, ref setup.PinRef) Reason { return why{p, st}.pin(ref) }

// Joints that WhyJoint explains, in the order of the route.
const (
	JointSum   = "sum"
	JointShare = "share"
	JointAsked = "asked"
	JointTurn  = "turn"
	JointEnds  = "ends"
	JointSlew  = "slew"
	JointPulse = "pulse"
)

// WhyJoint explains the value of output i at a joint; ok is false where it has
// no such joint.
func (p *Program) WhyJoint(st *State, i int, joint string) (r Reason, ok bool) {
	w := why{p, st}
	switch joint {
	case JointSum:
		return w.sum(i), true
	case JointShare:
		return w.share(i), true
	case JointAsked:
		return w.asked(i), true
	case JointTurn:
		return w.turned(i), true
	case JointEnds:
		return w.target(i), true
	case JointSlew:
		return w.position(i), true
	case JointPulse:
		return w.pulse(i), true
	}
	return Reason{}, false
}

// WhyDemand explains what comes out of demand i.
func (p *Program) WhyDemand(st *State, i int) Reason { return why{p, st}.demand(i) }

// WhyControl explains where control i stands.
func (p *Program) WhyControl(st *State, i int) Reason { return why{p, st}.control(i, p.numbers[i]) }

// WhyTerm explains what the k-th term of output i brings, after gain and bias.
func (p *Program) WhyTerm(st *State, i, k int) Reason {
	return why{p, st}.term(&p.Routes[i].Terms[k])
}

type why struct {
	p  *Program
	st *State
}

func (w why) at(slot Slot) float64 { return w.st.V[slot] }

// Text prints the tree, one step a line, causes first and indented.
func (r Reason) Text() string {
	var b strings.Builder
	r.write(&b, 0)
	return b.String()
}

func (r Reason) write(b *strings.Builder, depth int) {
	for _, from := range r.From {
		from.write(b, depth+1)
	}
	left := strings.Repeat("  ", depth) + r.Name
	value := words.Signed(r.Value)
	if r.Unit == "µs" {
		value = words.Figure(r.Value)
	}
	fmt.Fprintf(b, "%-40s %-34s = %s %s\n", left, r.Sum, value, r.Unit)
}
