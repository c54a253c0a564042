package session

import (
	"encoding/binary"
	"iter"
	"math"
)

// movement is one hand in one frame since power-on.
type movement struct {
	value float64
	frame int64
	hand  int
}

// moves are movements, the oldest first, in as little room as they need: about four bytes each.
// They are added at one end and forgotten at the other.
type moves struct {
	text        []byte // those from head on are kept
	head, n     int
	first, last int64 // the frame before the first that is kept; that of the last
}

// spare is how many bytes may lie forgotten before those that are kept are moved together.
const spare = 16 << 10

// add puts a movement at the end; its frame is none before the last one's. A value in halves, as
// levers and switches have it, takes one or two bytes, any other eight.
func (m *moves) add(one movement) {
	if m.n == 0 {
		m.first, m.last = one.frame, one.frame
	}
	m.text = binary.AppendUvarint(m.text, uint64(one.frame-m.last))
	m.last = one.frame
	halves := 2 * one.value
	if whole := int64(halves); float64(whole) == halves && whole < 1<<20 && whole > -1<<20 &&
		!(whole == 0 && math.Signbit(halves)) {
		m.text = binary.AppendUvarint(m.text, uint64(one.hand)<<1)
		m.text = binary.AppendVarint(m.text, whole)
	} else {
		m.text = binary.AppendUvarint(m.text, uint64(one.hand)<<1|1)
		m.text = binary.LittleEndian.AppendUint64(m.text, math.Float64bits(one.value))
	}
	m.n++
}

// at reads the movement that begins at a place, after one of a frame, and gives where it ends.
func (m *moves) at(place int, before int64) (one movement, end int) {
	later, n := binary.Uvarint(m.text[place:])
	place += n
	one.frame = before + int64(later)
	hand, n := binary.Uvarint(m.text[place:])
	place += n
	one.hand = int(hand >> 1)
	if hand&1 == 1 {
		one.value = math.Float64frombits(binary.LittleEndian.Uint64(m.text[place:]))
		return one, place + 8
	}
	halves, n := binary.Varint(m.text[place:])
	one.value = float64(halves) / 2
	return one, place + n
}

// oldest gives the first that is kept.
func (m *moves) oldest() movement {
	one, _ := m.at(m.head, m.first)
	return one
}

// forget takes the first away. O(1), over many.
func (m *moves) forget() {
	one, end := m.at(m.head, m.first)
	m.first, m.head = one.frame, end
	m.n--
	if m.head > spare+len(m.text)/4 {
		m.text = append(m.text[:0], m.text[m.head:]...)
		m.head = 0
	}
}

// all gives those that are kept, the oldest first.
func (m *moves) all() iter.Seq[movement] {
	return func(yield func(movement) bool) {
		for place, before := m.head, m.first; place < len(m.text); {
			one, end := m.at(place, before)
			if !yield(one) {
				return
			}
			place, before = end, one.frame
		}
	}
}
