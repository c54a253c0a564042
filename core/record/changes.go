// Package record keeps what happened on a bench: when each control, rule and function changed, ten
// minutes back, in
// little room. It tells why something changed, walking back through causes to a hand, and why it did not;
// and it
// leaves as a table or a value change dump.
package record

import (
	"encoding/binary"
	"iter"
	"math"
)

// Change is what one thing, by its number, became in one frame since power-on.
type Change struct {
	Value float64
	Frame int64
	Of    int
}

// Changes are changes, the oldest first, in as little room as they need: about four bytes each.
// They are added at one end and forgotten at the other.
type Changes struct {
	text        []byte // those from head on are kept
	head, n     int
	first, last int64 // the frame before the first that is kept; that of the last
}

// spare is how many bytes may lie forgotten before those that are kept are moved together.
const spare = 16 << 10

// Add puts a change at the end; its frame is none before the last one's. A value in halves, as
// levers and switches have it, takes one or two bytes, any other eight.
func (m *Changes) Add(one Change) {
	if m.n == 0 {
		m.first, m.last = one.Frame, one.Frame
	}
	m.text = binary.AppendUvarint(m.text, uint64(one.Frame-m.last))
	m.last = one.Frame
	halves := 2 * one.Value
	if whole := int64(halves); float64(whole) == halves && whole < 1<<20 && whole > -1<<20 &&
		!(whole == 0 && math.Signbit(halves)) {
		m.text = binary.AppendUvarint(m.text, uint64(one.Of)<<1)
		m.text = binary.AppendVarint(m.text, whole)
	} else {
		m.text = binary.AppendUvarint(m.text, uint64(one.Of)<<1|1)
		m.text = binary.LittleEndian.AppendUint64(m.text, math.Float64bits(one.Value))
	}
	m.n++
}

// at reads the change that begins at a place, after one of a frame, and gives where it ends.
func (m *Changes) at(place int, before int64) (one Change, end int) {
	later, n := binary.Uvarint(m.text[place:])
	place += n
	one.Frame = before + int64(later)
	hand, n := binary.Uvarint(m.text[place:])
	place += n
	one.Of = int(hand >> 1)
	if hand&1 == 1 {
		one.Value = math.Float64frombits(binary.LittleEndian.Uint64(m.text[place:]))
		return one, place + 8
	}
	halves, n := binary.Varint(m.text[place:])
	one.Value = float64(halves) / 2
	return one, place + n
}

// Oldest gives the first that is kept.
func (m *Changes) Oldest() Change {
	one, _ := m.at(m.head, m.first)
	return one
}

// Forget takes the first away. O(1), over many.
func (m *Changes) Forget() {
	one, end := m.at(m.head, m.first)
	m.first, m.head = one.Frame, end
	m.n--
	if m.head > spare+len(m.text)/4 {
		m.text = append(m.text[:0], m.text[m.head:]...)
		m.head = 0
	}
}

// All gives those that are kept, the oldest first.
func (m *Changes) All() iter.Seq[Change] {
	return func(yield func(Change) bool) {
		for place, before := m.head, m.first; place < len(m.text); {
			one, end := m.at(place, before)
			if !yield(one) {
				return
			}
			place, before = end, one.Frame
		}
	}
}

// Len is how many are kept.
func (m *Changes) Len() int { return m.n }

// Bytes is how much room they take.
func (m *Changes) Bytes() int { return cap(m.text) }
