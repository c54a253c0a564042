package allot

import (
	"math/bits"
	"slices"
)

// Wanting is a variable with what it asks for, as far as any of it may be left out. Ask 0 is to
// have a column at all: without it nothing else counts.
type Wanting struct {
	Asks   int                              // at most MostAsks
	Allows func(asks uint, column int) bool // whether a column meets a set of asks, bit n for ask n
}

// MostAsks is how many asks a variable may have.
const MostAsks = 8

// Asked is one variable with those of its asks that take part in a conflict.
type Asked struct {
	Var  int
	Asks uint
}

// Conflict finds a smallest set of asks that the columns of one side cannot meet together, counted
// in asks; nil where all can be met.
//
// Asks cannot be met exactly where some variables have fewer columns between them than they are
// (P. Hall, J. London Math. Soc. 10 (1935) 26). So a smallest conflict is a set of columns with one
// variable more than it, each held inside it by as few of its asks as can be. Such a set is a union
// of sets that variables are held in, each of which meets those before it: otherwise a part of it
// would be a smaller conflict. All such unions are looked at that could still be smaller than the
// best: one of n columns takes at least n + 1 asks.
func Conflict(columns int, wants []Wanting) []Asked {
	c := &conflict{columns: columns, seen: map[string]bool{}}
	distinct := map[string]bool{}
	for v := range wants {
		var of []held
		for asks := uint(1); asks < 1<<wants[v].Asks; asks += 2 {
			h := held{asks: asks, columns: newSet(columns)}
			for column := range columns {
				if wants[v].Allows(asks, column) {
					h.columns.add(column)
				}
			}
			of = append(of, h)
			if key := h.columns.key(); !distinct[key] {
				distinct[key] = true
				c.sets = append(c.sets, h.columns)
			}
		}
		// fewest asks first, so the first that fits is the cheapest
		slices.SortStableFunc(of, func(a, b held) int { return bits.OnesCount(a.asks) - bits.OnesCount(b.asks) })
		c.held = append(c.held, of)
	}
	short := c.shortage()
	if short == nil {
		return nil // all that is asked for can be met
	}
	c.look(short) // so that nothing larger is looked at
	slices.SortStableFunc(c.sets, func(a, b set) int { return a.count() - b.count() })
	for _, s := range c.sets {
		c.grow(s)
	}
	return c.best
}

// shortage gives columns in which more variables are held, all asks counted, than there are of them;
// nil where there are none (augmenting paths: what one that fails has seen is such a set).
func (c *conflict) shortage() set {
	holder := make([]int, c.columns)
	for i := range holder {
		holder[i] = None
	}
	for v := range c.held {
		seen := newSet(c.columns)
		var find func(v int) bool
		find = func(v int) bool {
			all := c.held[v][len(c.held[v])-1].columns
			for column := range c.columns {
				if !all.has(column) || seen.has(column) {
					continue
				}
				seen.add(column)
				if holder[column] == None || find(holder[column]) {
					holder[column] = v
					return true
				}
			}
			return false
		}
		if !find(v) {
			return seen
		}
	}
	return nil
}

// held is a set of asks with the columns that meet them.
type held struct {
	asks    uint
	columns set
}

type conflict struct {
	columns int
	held    [][]held // of each variable, the fewest asks first
	sets    []set    // all that variables are held in, each once
	seen    map[string]bool
	best    []Asked
	size    int // of best, in asks
}

// grow looks at a set of columns, and at what it makes with each set that meets it.
func (c *conflict) grow(s set) {
	key := s.key()
	if c.seen[key] || c.best != nil && s.count()+1 >= c.size {
		return
	}
	c.seen[key] = true
	c.look(s)
	for _, other := range c.sets {
		if other.meets(s) && !other.within(s) {
			c.grow(s.with(other))
		}
	}
}

// look keeps what a set of columns shows, where that is the smallest conflict so far.
func (c *conflict) look(s set) {
	var inside []Asked
	for v, of := range c.held {
		for _, h := range of {
			if h.columns.within(s) {
				inside = append(inside, Asked{v, h.asks})
				break
			}
		}
	}
	need := s.count() + 1
	if len(inside) < need {
		return
	}
	slices.SortStableFunc(inside, func(a, b Asked) int {
		return bits.OnesCount(a.Asks) - bits.OnesCount(b.Asks)
	})
	size := 0
	for _, a := range inside[:need] {
		size += bits.OnesCount(a.Asks)
	}
	if c.best == nil || size < c.size {
		c.best, c.size = slices.Clone(inside[:need]), size
		slices.SortFunc(c.best, func(a, b Asked) int { return a.Var - b.Var })
	}
}

// set is a set of columns, a bit each.
type set []uint64

func newSet(columns int) set { return make(set, (columns+63)/64) }

func (s set) add(column int) { s[column/64] |= 1 << (column % 64) }

func (s set) has(column int) bool { return s[column/64]>>(column%64)&1 == 1 }

func (s set) count() int {
	n := 0
	for _, word := range s {
		n += bits.OnesCount64(word)
	}
	return n
}

func (s set) meets(other set) bool {
	for i, word := range s {
		if word&other[i] != 0 {
			return true
		}
	}
	return false
}

func (s set) within(other set) bool {
	for i, word := range s {
		if word&^other[i] != 0 {
			return false
		}
	}
	return true
}

func (s set) with(other set) set {
	union := slices.Clone(s)
	for i, word := range other {
		union[i] |= word
	}
	return union
}

func (s set) key() string {
	key := make([]byte, 0, 8*len(s))
	for _, word := range s {
		for shift := 0; shift < 64; shift += 8 {
			key = append(key, byte(word>>shift))
		}
	}
	return string(key)
}
