package plan

// Level is how much a term weighs: one of a lower level is never spent to save one of a higher.
type Level int

// The levels, the weightiest first.
const (
	LeftOut Level = iota // functions that get no place
	Loss                 // what must do something on a lost signal, and cannot there
	Channel              // what must be quick, fine, or of one rate, and is not
	Work                 // what it costs the person, weighed
	Order                // the usual order
	levels
)

// levelNames say the levels in words.
var levelNames = [levels]string{"functions left out", "what must happen on a lost signal",
	"what must be quick or fine", "work", "usual order"}

// unit is what one point of a level costs: more than all of the levels below it can come to.
var unit = [levels]int64{1 << 49, 1 << 41, 1 << 33, 1 << 20, 1}

// Term is one reason for which a choice costs something.
type Term struct {
	Key    string
	Level  Level
	Points int    // each time
	Says   string // what it is, for the list of what is weighed
}

// The terms of the cost: docs/plan.md, section 4.
var (
	leftOut   = Term{"left_out", LeftOut, 1, "a function gets no control, no channel or no pin"}
	lossTerm  = Term{"loss", Loss, 1, "a lead is on a pin that cannot do what it must on a lost signal"}
	lateTerm  = Term{"late", Channel, 1, "a function answers later than it must"}
	coarse    = Term{"coarse", Channel, 1, "a function is told more coarsely than it must be"}
	twoRates  = Term{"two_rates", Channel, 1, "two functions of one shared limit answer at different times"}
	overMixes = Term{"over_mixes", Channel, 1, "a mix more than there are"}
	mixTerm   = Term{"mix", Work, 6, "a mix, to bring a control to a channel that is not its own"}
	wrongHand = Term{"wrong_hand", Work, 4, "a function is under the other hand than asked for"}
	oneHand   = Term{"one_hand", Work, 4, "what drives and what works meanwhile are under one hand"}
	moved     = Term{"moved", Work, 3, "a function is on another control than before"}
	lead      = Term{"lead", Work, 2, "a lead goes to another pin than before"}
	yLead     = Term{"y_lead", Work, 2, "two leads share a pin by a Y lead"}
	reach     = Term{"reach", Work, 2, "what is to lie under a thumb is a reach away, for each step"}
	along     = Term{"along", Work, 2, "a control moves across the way it did before"}
	stick     = Term{"stick", Work, 2, "what is set once takes a stick"}
	split     = Term{"split", Work, 2, "two functions of one shared limit are on two receivers"}
	figure    = Term{"figure", Work, 1, "a channel is keyed in anew"}
	entry     = Term{"entry", Work, 1, "the order of the channels is set anew at one place"}
	slow      = Term{"slow", Work, 1, "what had better be quick is not on the quickest channels"}
	order     = Term{"order", Order, 1, "a place away from the usual order, squared"}
	spare     = Term{"spare", Order, 1, "a pin that keeps a position serves one that needs none"}
)

// Terms are what is weighed, the weightiest level first.
var Terms = []Term{leftOut, lossTerm, lateTerm, coarse, twoRates, overMixes, mixTerm, wrongHand, oneHand,
	moved, lead, yLead, reach, along, stick, split, figure, entry, slow, order, spare}

// tally adds terms up. The zero tally is empty.
type tally struct {
	cost int64
	list []counted // only while kept
	keep bool
}

type counted struct {
	Term
	times int
}

// add counts a term so many times.
func (t *tally) add(term Term, times int) {
	if times == 0 {
		return
	}
	t.cost += unit[term.Level] * int64(term.Points*times)
	if t.keep {
		t.list = append(t.list, counted{term, times})
	}
}
