package translate

import (
	"math/bits"
	"slices"
	"strings"

	"axtren/core/setup"
)

// mostVars is of how many conditions gates are made anew, and mostPrimes of how many products every choice is
// looked at.
const (
	mostVars   = 6
	mostPrimes = 12
)

// cone is what gates make of some conditions, as a table.
type cone struct {
	vars []input // none of them turned
	is   uint64  // by row, a bit for each condition, whether it is true
	free uint64  // rows that cannot be
}

// least gives gates in two levels that do the same as some gates, where these are fewer: else the same ones.
func (n *net) least(in input) input {
	c := n.cone(in)
	if c == nil {
		return in
	}
	best, most := in, n.gates(in)
	for _, sums := range []bool{false, true} {
		made, err := n.twoLevels(c, sums)
		if err != nil {
			continue // the set cannot turn an input round
		}
		if gates := n.gates(made); gates < most {
			best, most = made, gates
		}
	}
	return best
}

// isGate tells whether an input is made by a gate in this frame.
func (n *net) isGate(in input) bool {
	return in.ref == "" && !in.late && slices.Contains([]string{"and", "or", "xor"}, n.nodes[in.node].kind)
}

// gates counts the gates that an input is made of.
func (n *net) gates(in input) int {
	seen := map[int]bool{}
	var visit func(in input)
	visit = func(in input) {
		if !n.isGate(in) || seen[in.node] {
			return
		}
		seen[in.node] = true
		for _, of := range n.nodes[in.node].in {
			visit(of)
		}
	}
	visit(in)
	return len(seen)
}

// cone works out what gates make; nil where they look at too much, or it is always the same.
func (n *net) cone(in input) *cone {
	c := &cone{}
	n.gather(c, in)
	if len(c.vars) > mostVars {
		return nil
	}
	rows := 1 << len(c.vars)
	for row := range rows {
		if n.value(c, in, row) {
			c.is |= 1 << row
		}
		if n.cannotBe(c, row) {
			c.free |= 1 << row
		}
	}
	if c.is&^c.free == 0 || c.is|c.free == all(rows) {
		return nil
	}
	return c
}

func all(rows int) uint64 { return ^uint64(0) >> (64 - rows) }

// gather lists the conditions that gates look at.
func (n *net) gather(c *cone, in input) {
	if n.isGate(in) {
		for _, of := range n.nodes[in.node].in {
			n.gather(c, of)
		}
		return
	}
	in.not = false
	if !slices.Contains(c.vars, in) {
		c.vars = append(c.vars, in)
	}
}

// value is what an input is in a row.
func (n *net) value(c *cone, in input, row int) bool {
	if !n.isGate(in) {
		plain := in
		plain.not = false
		return (row>>slices.Index(c.vars, plain)&1 == 1) != in.not
	}
	one := &n.nodes[in.node]
	on := 0
	for _, of := range one.in {
		if n.value(c, of, row) {
			on++
		}
	}
	is := on%2 == 1
	switch one.kind {
	case "and":
		is = on == len(one.in)
	case "or":
		is = on > 0
	}
	return is != in.not
}

// cannotBe tells whether a row puts a switch in two positions, or in none.
func (n *net) cannotBe(c *cone, row int) bool {
	on, seen := map[string]int{}, map[string]int{}
	for k, in := range c.vars {
		if in.ref == "" {
			continue
		}
		control, _, _ := strings.Cut(in.ref, ".")
		seen[control]++
		on[control] += row >> k & 1
	}
	for control, positions := range seen {
		whole := len(n.s.Transmitter.Controls[n.s.Item(setup.ID(control)).Index].Switch.Positions)
		if on[control] > 1 || on[control] == 0 && positions == whole {
			return true
		}
	}
	return false
}

// product is some conditions at once: of each with a bit in care, that it is as value has it.
type product struct{ care, value int }

// rows are those in which a product is true.
func (p product) rows(n int) (rows uint64) {
	for row := range 1 << n {
		if row&p.care == p.value {
			rows |= 1 << row
		}
	}
	return rows
}

// twoLevels makes gates in two levels: a sum of products, or a product of sums.
func (n *net) twoLevels(c *cone, sums bool) (input, error) {
	is, outer, inner := c.is&^c.free, "or", "and"
	if sums {
		is, outer, inner = all(1<<len(c.vars))&^c.is&^c.free, "and", "or"
	}
	var meet []input
	for _, p := range n.cover(is, c.free, len(c.vars)) {
		var in []input
		for k, one := range c.vars {
			if p.care>>k&1 == 0 {
				continue
			}
			if p.value>>k&1 == 1 == sums {
				var err error
				if one, err = n.not(one); err != nil {
					return input{}, err
				}
			}
			in = append(in, one)
		}
		one, err := n.gate(inner, in...)
		if err != nil {
			return input{}, err
		}
		meet = append(meet, one)
	}
	return n.gate(outer, meet...)
}

// cover chooses products that are true in all rows that are asked for, and in others only where it does not
// matter: those that take the fewest gates, and of these the fewest inputs.
func (n *net) cover(is, free uint64, vars int) []product {
	var primes []product
	for care := range 1 << vars {
		for value := range 1 << vars {
			p := product{care, value}
			if value&^care == 0 && p.rows(vars)&is != 0 && p.rows(vars)&^(is|free) == 0 && prime(p, is|free, vars) {
				primes = append(primes, p)
			}
		}
	}
	if len(primes) > mostPrimes {
		return greedy(primes, is, vars)
	}
	var best []product
	least := [2]int{}
	for some := 1; some < 1<<len(primes); some++ {
		var list []product
		covers, cost := uint64(0), [2]int{}
		for i, p := range primes {
			if some>>i&1 == 0 {
				continue
			}
			list = append(list, p)
			covers |= p.rows(vars)
			inputs := bits.OnesCount(uint(p.care))
			cost[0] += n.entries(inputs)
			cost[1] += inputs
		}
		cost[0] += n.entries(len(list))
		if is&^covers == 0 && (best == nil || slices.Compare(cost[:], least[:]) < 0) {
			best, least = list, cost
		}
	}
	return best
}

// entries is how many gates it takes to put so many inputs together.
func (n *net) entries(inputs int) int {
	count := 0
	for ; inputs > 1; count++ {
		inputs -= min(inputs, n.set.Inputs) - 1
		if n.set.Inputs < 2 {
			return count + 1
		}
	}
	return count
}

// prime tells whether no condition of a product can be left out.
func prime(p product, may uint64, vars int) bool {
	for k := range vars {
		if bit := 1 << k; p.care&bit != 0 && (product{p.care &^ bit, p.value &^ bit}).rows(vars)&^may == 0 {
			return false
		}
	}
	return true
}

// greedy chooses products, each time the one that is true in most of the rows that are left.
func greedy(primes []product, is uint64, vars int) (list []product) {
	for is != 0 {
		best, most := product{}, -1
		for _, p := range primes {
			if covers := 16*bits.OnesCount64(p.rows(vars)&is) - bits.OnesCount(uint(p.care)); covers > most {
				best, most = p, covers
			}
		}
		list = append(list, best)
		is &^= best.rows(vars)
	}
	return list
}
