package proof

import (
	"math"
	"slices"

	"axtren/core/signal"
)

// table keeps states, each once, in little room: of each slot that is carried the number of the value that it
// has, in 16 bits.
type table struct {
	slots  []signal.Slot
	width  int // of a state: its slots, what the monitor remembers, and where the hands are, in 16 bits each
	keys   []uint16
	index  []int32 // by hash, 1 + the place of a state; 0: none
	n      int
	values []values // of each slot
	row    []uint16
}

// values are the values that a slot has had.
type values struct {
	list  []float64
	of    map[int64]uint16
	whole []uint16 // of whole numbers from -1 on, 1 + the number of the value; 0: it has none yet
}

// mostWhole is how many whole numbers, which most values are, are found without a search.
const mostWhole = 1 << 10

// fine is how near two numbers are that count as one: what is carried on gathers rounding.
const fine = 1e9

func newTable(slots []signal.Slot, more int) *table {
	t := &table{slots: slots, width: len(slots) + more, index: make([]int32, 1<<12)}
	t.row = make([]uint16, t.width)
	t.values = make([]values, len(slots))
	for i := range t.values {
		t.values[i].of = map[int64]uint16{}
	}
	return t
}

// add adds a state; fresh is false where it was there, ok where a slot has too many values.
func (t *table) add(st *signal.State, more ...uint16) (at int, fresh, ok bool) {
	for i, slot := range t.slots {
		n, known := t.values[i].number(st.At(slot))
		if !known {
			return 0, false, false
		}
		t.row[i] = n
	}
	copy(t.row[len(t.slots):], more)
	h := hash(t.row)
	for at := h & uint64(len(t.index)-1); ; at = (at + 1) & uint64(len(t.index)-1) {
		is := t.index[at]
		if is == 0 {
			t.index[at] = int32(t.n + 1)
			break
		}
		if slices.Equal(t.keyOf(int(is-1)), t.row) {
			return int(is - 1), false, true
		}
	}
	t.keys = append(t.keys, t.row...)
	t.n++
	if 4*t.n > 3*len(t.index) {
		t.grow()
	}
	return t.n - 1, true, true
}

func (t *table) keyOf(i int) []uint16 { return t.keys[i*t.width : (i+1)*t.width] }

func hash(row []uint16) uint64 {
	h := uint64(14695981039346656037)
	for _, n := range row {
		h = (h ^ uint64(n)) * 1099511628211
	}
	h ^= h >> 29
	return h * 0x9e3779b97f4a7c15 >> 16
}

func (t *table) grow() {
	t.index = make([]int32, 2*len(t.index))
	for i := range t.n {
		at := hash(t.keyOf(i)) & uint64(len(t.index)-1)
		for t.index[at] != 0 {
			at = (at + 1) & uint64(len(t.index)-1)
		}
		t.index[at] = int32(i + 1)
	}
}

// bytes is how much room the states take, and would take at their next growth.
func (t *table) bytes() int { return 2*2*len(t.keys) + 3*4*len(t.index) }

// number gives the number of a value; ok is false where there are too many.
func (v *values) number(x float64) (n uint16, ok bool) {
	at := int(x) + 1
	whole := x >= -1 && at < mostWhole && x == float64(at-1)
	if whole && at < len(v.whole) && v.whole[at] != 0 {
		return v.whole[at] - 1, true
	}
	key := int64(math.Round(x * fine))
	if n, known := v.of[key]; known {
		return n, true
	}
	if len(v.list) == math.MaxUint16 {
		return 0, false
	}
	n = uint16(len(v.list))
	v.list = append(v.list, x)
	v.of[key] = n
	if whole && n < math.MaxUint16 {
		for len(v.whole) <= at {
			v.whole = append(v.whole, 0)
		}
		v.whole[at] = n + 1
	}
	return n, true
}

// take makes a moment of a state: what is carried is as it was, all else is worked out in the next frame.
func (t *table) take(p *signal.Program, i int, room signal.Snapshot, st *signal.State) (more []uint16) {
	key := t.keyOf(i)
	for k, slot := range t.slots {
		room[slot] = t.values[k].list[key[k]]
	}
	p.Restore(st, room)
	return key[len(t.slots):]
}
