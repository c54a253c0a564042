package allot

// polish makes an answer better by single moves to free columns and by exchanges of two, as long
// as that helps, and gives what it costs then.
func (s *search) polish(columns []int) int64 {
	for side := range s.p.Columns {
		for c := range s.holder[side] {
			s.holder[side][c] = None
		}
		for _, v := range s.vars[side] {
			if c := columns[v]; c != None {
				s.holder[side][c] = v
			}
		}
	}
	for better := true; better; {
		better = false
		for v := range columns {
			for c := range s.holder[s.p.Vars[v].Side] {
				better = s.move(columns, v, c) || better
			}
		}
	}
	return s.p.Cost(columns)
}

// move gives a variable a column, and the one that has it what the variable had, where that costs
// less; otherwise nothing changes.
func (s *search) move(columns []int, v, c int) bool {
	holder, was := s.holder[s.p.Vars[v].Side], columns[v]
	other := holder[c]
	if c == was || s.p.Vars[v].Cost[c] >= Never || other != None && was != None &&
		s.p.Vars[other].Cost[was] >= Never {
		return false
	}
	put := func(mine, others int) {
		columns[v] = mine
		if other != None {
			columns[other] = others
		}
	}
	before := s.around(columns, v, other)
	put(c, was)
	if s.around(columns, v, other) >= before {
		put(was, c)
		return false
	}
	holder[c] = v
	if was != None {
		holder[was] = other
	}
	return true
}

// around is what two variables cost, with every term of theirs and what is over the quota; other
// may be None.
func (s *search) around(columns []int, v, other int) int64 {
	sum, count := int64(0), 0
	add := func(i, but int) {
		if c := columns[i]; c == None {
			sum = plus(sum, s.p.Left)
		} else {
			sum = plus(sum, s.p.Vars[i].Cost[c])
		}
		for _, t := range s.terms[i] {
			if term := &s.p.Terms[t]; but == None || term.A != but && term.B != but {
				sum = plus(sum, term.at(columns[term.A], columns[term.B]))
			}
		}
	}
	add(v, None)
	if other != None {
		add(other, v)
	}
	for _, t := range s.counted {
		if term := &s.p.Terms[t]; term.at(columns[term.A], columns[term.B]) > 0 {
			count++
		}
	}
	return plus(sum, s.p.Quota.of(count))
}
