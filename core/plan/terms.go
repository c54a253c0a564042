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
	One    string // one of it, in short
	Many   string // more of them
}

// The terms of the cost: docs/plan.md, section 4.
var (
	leftOut = Term{"left_out", LeftOut, 1, "a function gets no control, no channel or no pin",
		"a function left out", "functions left out"}
	lossTerm = Term{"loss", Loss, 1, "a lead is on a pin that cannot do what it must on a lost signal",
		"a lead that cannot do what it must on a lost signal",
		"leads that cannot do what they must on a lost signal"}
	lateTerm = Term{"late", Channel, 1, "a function answers later than it must",
		"a function that answers too late", "functions that answer too late"}
	coarse = Term{"coarse", Channel, 1, "a function is told more coarsely than it must be",
		"a function told too coarsely", "functions told too coarsely"}
	twoRates = Term{"two_rates", Channel, 1, "two functions of one shared limit answer at different times",
		"a pair that answers at two times", "pairs that answer at two times"}
	overMixes = Term{"over_mixes", Channel, 1, "a mix more than there are",
		"a mix more than there are", "mixes more than there are"}
	mixTerm = Term{"mix", Work, 6, "a mix, to bring a control to a channel that is not its own",
		"a mix", "mixes"}
	wrongHand = Term{"wrong_hand", Work, 4, "a function is under the other hand than asked for",
		"a function under the other hand", "functions under the other hand"}
	oneHand = Term{"one_hand", Work, 4, "what drives and what works meanwhile are under one hand",
		"one hand for driving and for working", "times one hand for driving and for working"}
	moved = Term{"moved", Work, 3, "a function is on another control than before",
		"a function on another lever", "functions on other levers"}
	lead = Term{"lead", Work, 2, "a lead goes to another pin than before",
		"a lead moved", "leads moved"}
	yLead = Term{"y_lead", Work, 2, "two leads share a pin by a Y lead",
		"a Y lead", "Y leads"}
	reach = Term{"reach", Work, 2, "what is to lie under a thumb is a reach away, for each step",
		"a reach for the thumb", "reaches for the thumb"}
	along = Term{"along", Work, 2, "a control moves across the way it did before",
		"a lever that moves across", "levers that move across"}
	stick = Term{"stick", Work, 2, "what is set once takes a stick",
		"a stick for what is set once", "sticks for what is set once"}
	split = Term{"split", Work, 2, "two functions of one shared limit are on two receivers",
		"a pair on two receivers", "pairs on two receivers"}
	figure = Term{"figure", Work, 1, "a channel is keyed in anew",
		"a channel keyed in anew", "channels keyed in anew"}
	entry = Term{"entry", Work, 1, "the order of the channels is set anew at one place",
		"a place of the order set anew", "places of the order set anew"}
	slow = Term{"slow", Work, 1, "what had better be quick is not on the quickest channels",
		"a function that had better be quicker", "functions that had better be quicker"}
	order = Term{"order", Order, 1, "a place away from the usual order, squared",
		"a place off the usual order", "places off the usual order"}
	spare = Term{"spare", Order, 1, "a pin that keeps a position serves one that needs none",
		"a kept position for nothing", "kept positions for nothing"}
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
